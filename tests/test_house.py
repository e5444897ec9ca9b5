"""Rules of the house: size, start-up, generated pages, and the same bytes under any hash seed."""

import ast
import os
import subprocess
import sys
from importlib.util import module_from_spec, spec_from_file_location
from pathlib import Path

import pytest

ROOT = Path(__file__).parents[1]
SOURCES = sorted((ROOT / "src" / "hullsound").rglob("*.py"))
HEAVY = (
    "rich.console",
    "numpy",
    "networkx",
    "jinja2",
    "msgspec",
    "psycopg",
    "sqlite3",
    "hullsound.sql",
    "hullsound.knowledge",
)


@pytest.mark.parametrize("path", SOURCES, ids=lambda p: str(p.relative_to(ROOT / "src")))
def test_modules_open_with_their_duty_and_keep_to_a_size(path: Path) -> None:
    text = path.read_text(encoding="utf-8")
    tree = ast.parse(text)
    assert ast.get_docstring(tree)
    assert text.count("\n") <= (700 if path.name == "tree.py" else 600)
    for node in ast.walk(tree):
        if isinstance(node, ast.FunctionDef):
            assert node.end_lineno is not None
            assert node.end_lineno - node.lineno < 75, node.name


def test_help_loads_nothing_heavy() -> None:
    code = "import sys; import hullsound.cli.app; print('\\n'.join(sys.modules))"
    loaded = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True).stdout.split()
    assert not [name for name in loaded if name in HEAVY]


def test_generated_pages_are_current() -> None:
    """Run `make docs` and commit what it writes."""
    spec = spec_from_file_location("docs_make", ROOT / "docs" / "make.py")
    assert spec
    assert spec.loader
    module = module_from_spec(spec)
    spec.loader.exec_module(module)
    for name, text in module.pages().items():
        assert (ROOT / "docs" / name).read_text(encoding="utf-8") == text, f"docs/{name} differs: run make docs"


def test_every_command_stands_in_the_manual() -> None:
    from typer.main import get_command

    from hullsound.cli.app import app

    manual = (ROOT / "docs" / "commands.md").read_text(encoding="utf-8")
    for name, command in get_command(app).commands.items():  # type: ignore[attr-defined]
        assert command.help
        assert f"## hullsound {name}\n" in manual


def test_the_same_bytes_under_two_hash_seeds(demo_scripts: Path, tmp_path: Path) -> None:
    def document(seed: str) -> str:
        folder = tmp_path / seed
        command = [
            sys.executable,
            "-m",
            "hullsound",
            "scan",
            str(demo_scripts),
            "--from",
            "oracle",
            "--to",
            "postgresql:18",
        ]
        environment = {**os.environ, "PYTHONHASHSEED": seed}
        subprocess.run(
            [*command, "-o", str(folder), "--no-trial", "-q"], env=environment, check=True, capture_output=True
        )
        texts = [
            p.read_text(encoding="utf-8")
            for p in sorted(folder.rglob("*"))
            if p.suffix in (".json", ".sql", ".md", ".csv")
        ]
        return "\n".join(line for text in texts for line in text.splitlines() if "surveyed" not in line)

    assert document("1") == document("2")


def test_what_is_kept_depends_on_every_folder_that_it_is_made_by() -> None:
    """A survey or draft that is kept holds only as long as nothing has changed that it was made by."""
    import grimp

    from hullsound.steps.common import DRAFTING, READING

    graph = grimp.build_graph("hullsound")
    for folders in (READING, DRAFTING):
        used = {
            m.split(".")[1] for f in folders for m in graph.find_upstream_modules(f"hullsound.{f}", as_package=True)
        }
        assert {each for each in used if (ROOT / "src" / "hullsound" / each).is_dir()} <= set(folders)


def test_no_modules_import_each_other_in_a_circle() -> None:
    import grimp
    import networkx as nx

    graph = grimp.build_graph("hullsound", exclude_type_checking_imports=True)
    modules = nx.DiGraph(
        (one, other) for one in graph.modules for other in graph.find_modules_directly_imported_by(one)
    )
    assert [sorted(circle) for circle in nx.strongly_connected_components(modules) if len(circle) > 1] == []
