"""The book: every command that its chapters show runs on the demo, in the order in which a reader takes them."""

import os
import re
import shlex
import subprocess
import sys
from collections.abc import Iterator
from pathlib import Path

import pytest

DOCS = Path(__file__).parents[2] / "docs"
CHAPTERS = ("first-hour.md", "oracle-to-postgresql.md", "sqlserver.md", "tasks.md")
BY_HAND = ("hullsound browse", "hullsound preflight", "hullsound kit oracle:19")
"""Commands that ask for a person or a server, or that a sentence alone names."""

pytestmark = pytest.mark.server


def commands_of(chapter: str) -> list[str]:
    """Return the commands of a chapter: those in blocks of the shell, and of a table of tasks."""
    text = (DOCS / chapter).read_text(encoding="utf-8")
    blocks = re.findall(r"```sh\n(.*?)```", text, re.DOTALL)
    found = [line for block in blocks for line in block.splitlines()]
    found += re.findall(r"^\| .*?`(hullsound [^`]+)` \|", text, re.MULTILINE)
    return [line for line in found if line.startswith("hullsound ") and not line.startswith(BY_HAND)]


def run(folder: Path, command: str) -> subprocess.CompletedProcess[str]:
    environment = {**os.environ, "NO_COLOR": "1", "COLUMNS": "120"}
    arguments = [sys.executable, "-m", *shlex.split(command)]
    return subprocess.run(arguments, cwd=folder, env=environment, capture_output=True, text=True, check=False)


@pytest.fixture(scope="module")
def demo(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Path]:
    folder = tmp_path_factory.mktemp("book")
    assert run(folder, "hullsound demo demo").returncode == 0
    assert run(folder / "demo", "hullsound demo ferry --source sqlserver").returncode == 0
    (folder / "demo" / "more.sql").write_text("SELECT NVL(a, 0) FROM t WHERE ROWNUM <= 5;\n", encoding="utf-8")
    yield folder / "demo"


def test_commands_of_the_book_run(demo: Path) -> None:
    done = set()
    for chapter in CHAPTERS:
        commands = commands_of(chapter)
        assert commands, chapter
        for command in commands:
            if command not in done or command.startswith("hullsound assess"):  # each of which is kept
                result = run(demo, command)
                assert result.returncode == 0, f"{chapter}: {command}\n{result.stdout[-500:]}{result.stderr[-500:]}"
                assert not result.stderr.startswith("Traceback")
                done.add(command)
    assert len(done) > 50


def test_every_task_leads_to_a_page() -> None:
    rows = [line for line in (DOCS / "tasks.md").read_text(encoding="utf-8").splitlines() if line.startswith("| ")][1:]
    assert len(rows) == 40
    pages = [page for row in rows for page in re.findall(r"\(([\w-]+\.md)\)", row)]
    assert all((DOCS / page).is_file() for page in pages)
