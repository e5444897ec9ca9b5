"""Writes the generated pages of the manual: commands, constructs, the document's schema and the hull file's tables.

Run `make docs` after changing commands, knowledge, the assessment document or the hull file; a test compares.
"""

import json
import re
import sys
from pathlib import Path
from types import ModuleType
from typing import Any, Final

import msgspec
from typer.main import get_command

import hullsound.estate.document as estate_document
import hullsound.plan.checks.model as checks_document
import hullsound.plan.checks.run as run_document
import hullsound.plan.document as plan_document
import hullsound.plan.sizing as size_document
import hullsound.plan.window as window_document
from hullsound import settings
from hullsound.catalog.hull_connection import APPLICATION_ID, SCHEMA_VERSION
from hullsound.catalog.hull_schema import SCHEMA
from hullsound.cli.app import app
from hullsound.errors import HullError
from hullsound.estate.document import Estate
from hullsound.knowledge.engine_model import version_text
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.knowledge.model import Construct, Way
from hullsound.knowledge.stances import load_stances
from hullsound.knowledge.targets import all_targets, takes
from hullsound.plan.checks.model import CheckSet
from hullsound.plan.checks.run import CheckRun
from hullsound.plan.document import Plan
from hullsound.plan.sizing import SizeReport
from hullsound.plan.window import Window
from hullsound.report.document import Document
from hullsound.report.explain import ConstructPage, explain_construct
from hullsound.settings import SECTIONS, every_key
from hullsound.sql.dialect import ENGINES

_COMMON = ("debug", "timing", "version")
DOCS = Path(__file__).parent
STATUSES = (
    (0, "done"),
    (1, "findings at or above `--fail-on`"),
    (2, "wrong usage"),
    (3, "the source or a file cannot be read or written"),
    (4, "the target refused a promised draft, or cannot be reached"),
)


def commands() -> str:
    """Return the arguments and options of every command."""
    lines = ["# Commands", "", "Generated from the program. `hullsound COMMAND --help` says the same.", ""]
    whole = get_command(app)
    lines += ["## Before any command", "", "`hullsound [OPTIONS] COMMAND ...`", "", "| | |", "|---|---|"]
    lines += [_option_row(p) for p in whole.params if p.param_type_name == "option" and p.help and p.name in _COMMON]
    lines.append("")
    for name, command in whole.commands.items():  # type: ignore[attr-defined]
        arguments = [p for p in command.params if p.param_type_name == "argument"]
        shown = " ".join(_argument_name(p) for p in arguments)
        lines += [f"## hullsound {name}", "", f"{command.help}", "", f"`hullsound {name} [OPTIONS] {shown}`", ""]
        lines += ["| | |", "|---|---|"]
        lines += [f"| `{_argument_name(p)}` | {p.help} |" for p in arguments]
        lines += [_option_row(p) for p in command.params if p.param_type_name == "option" and p.name != "help"]
        lines.append("")
    lines += ["## Exit status", "", "| status | meaning |", "|---:|---|"]
    lines += [f"| {status} | {meaning} |" for status, meaning in STATUSES]
    return "\n".join(lines) + "\n"


def _argument_name(parameter: Any) -> str:
    return str(parameter.metavar or parameter.name.upper())


def _option_row(parameter: Any) -> str:
    names = ", ".join(f"`{name}`" for name in parameter.opts)
    value = f" `{parameter.metavar}`".replace("|", "\\|") if parameter.metavar else ""
    default = getattr(parameter.default, "value", parameter.default)
    is_given = default not in (None, "", False) and not callable(default) and not parameter.required
    notes = [" Required."] if parameter.required else [f" Default: `{default}`."] if is_given else []
    return f"| {names}{value} | {parameter.help}{''.join(notes)} |"


def _page(page: ConstructPage) -> list[str]:
    lines = [f"## {page.id}", "", f"**{_plain(page.title)}.** {_plain(page.meaning)}", ""]
    if page.example:
        lines += ["```sql", page.example, "```", ""]
    lines += ["| target | way | severity | minutes | what to do |", "|---|---|---|---|---|"]
    for stance in page.stances:
        minutes = "-".join(f"{value:g}" for value in (stance.minutes[0], stance.minutes[2]))
        remedy = _plain(stance.remedy).replace("|", "\\|") or "nothing"
        lines.append(f"| {stance.target} | {stance.way} | {stance.severity} | {minutes} | {remedy} |")
    for stance in page.stances:
        if stance.becomes:
            lines += ["", f"On {stance.target}:", "", "```sql", stance.becomes, "```"]
    return [*lines, ""]


def _plain(text: str) -> str:
    """Return a text of which Markdown makes no footnote."""
    return text.replace("[^", "\\[^")


def constructs() -> dict[str, str]:
    """Return the pages of constructs, by engine and what they are about, and the index of them all."""
    index = [
        "# Constructs",
        "",
        "What each source uses that a target may lack, by what it is about. Generated from the knowledge files.",
        "",
    ]
    pages = {}
    for engine in ENGINES:
        by_area: dict[str, list[Construct]] = {}
        for construct in sorted(load_constructs(engine).values(), key=lambda c: c.id):
            by_area.setdefault(_AREAS.get(construct.file, "language"), []).append(construct)
        index += [f"## {engine}", "", "| about | constructs |", "|---|---:|"]
        for area, known in sorted(by_area.items()):
            index.append(f"| [{area}](constructs/{engine}/{area}.md) | {len(known)} |")
            lines = [f"# {engine}: {area}", "", f"{len(known)} constructs. Generated from the knowledge files.", ""]
            for construct in known:
                lines += _page(explain_construct(construct.id))
            pages[f"constructs/{engine}/{area}.md"] = "\n".join(lines)
        index.append("")
    index += [
        "## Remarks of Hull Sound's own",
        "",
        "[What does not depend on the source engine](constructs/own.md).",
        "",
    ]
    return {"constructs.md": "\n".join(index), "constructs/own.md": remarks(), **pages}


def by_target(engine: str) -> str:
    """Return the page of what a target has no place for, and what a person rewrites there, by source."""
    newest = max((t for t in all_targets() if t.engine == engine and t.hosting == "own"), key=lambda t: t.version)
    lines = [
        f"# What a move to {engine} meets",
        "",
        f"Said of {newest.engine}:{version_text(newest.version)} on a server of your own. "
        "Generated from the knowledge files.",
        "",
    ]
    for source in ENGINES:
        if not takes(engine, source) or source == engine:
            continue
        known, stances = load_constructs(source), load_stances(source, newest)
        lines += [f"## From {source}", ""]
        for way, title in ((Way.NONE, "Nothing takes its place"), (Way.REWRITE, "A person rewrites it")):
            found = [known[key] for key, stance in sorted(stances.items()) if stance.way is way and key in known]
            names = [
                f"[{c.id}](constructs/{source}/{_AREAS.get(c.file, 'language')}.md#{_anchor(c.id)})" for c in found
            ]
            lines += [f"{title} ({len(names)}): {', '.join(names) or 'none'}.", ""]
    return "\n".join(lines)


_AREAS: Final = {
    **dict.fromkeys(("plsql.toml", "code.toml"), "code"),
    **dict.fromkeys(("queries.toml", "joins-and-rows.toml", "aggregates.toml", "patterns-and-averages.toml", "literals.toml",
                     "moments.toml", "extensions.toml", "backslashes.toml", "narrower.toml", "portable.toml"), "queries"),
    **dict.fromkeys(("tables.toml", "types.toml"), "tables"),
    **dict.fromkeys(("functions.toml", "oracle.toml", "sqlserver.toml", "tsql.toml", "mysql-and-mariadb.toml"), "functions"),
    **dict.fromkeys(("server.toml", "users.toml"), "server"),
    "history.toml": "versions",
}  # fmt: skip
"""What the constructs of a knowledge file are about."""


def _anchor(name: str) -> str:
    """Return the anchor that a heading gets."""
    return name.replace(".", "").lower()


def remarks() -> str:
    """Return the page of Hull Sound's own remarks."""
    lines = ["# Remarks of Hull Sound's own", "", "These do not depend on the source engine or the target.", ""]
    for key in sorted(load_general()):
        lines += _page(explain_construct(key))
    return "\n".join(lines)


def field_docs(source: str) -> dict[str, dict[str, str]]:
    """Return the texts under the fields of each class of a module."""
    found: dict[str, dict[str, str]] = {}
    name = ""
    previous = ""
    for line in source.splitlines():
        if match := re.match(r"class (\w+)", line):
            name, previous = match[1], ""
        elif match := re.match(r"    (\w+): ", line):
            previous = match[1]
        elif (match := re.match(r'    """(.+)"""$', line)) and previous:
            found.setdefault(name, {})[previous] = match[1]
            previous = ""
    return found


DOCUMENTS: dict[str, tuple[Any, str]] = {
    "plan": (Plan, "hullsound.plan/1"),
    "window": (Window, "hullsound.window/1"),
    "size": (SizeReport, "hullsound.size/1"),
    "checks": (CheckSet, "hullsound.checks/1"),
    "checks-run": (CheckRun, "hullsound.checks-run/1"),
    "estate": (Estate, "hullsound.estate/1"),
}


def plain_schema(form: Any, title: str) -> str:
    """Return the JSON Schema of a document of the plan, with the texts under its fields."""
    return _described(
        form,
        title,
        (plan_document, window_document, size_document, checks_document, run_document, estate_document, settings),
    )


def schema() -> str:
    """Return the JSON Schema of the assessment document, with the texts under its fields."""
    import hullsound.assess.model as findings
    import hullsound.report.document as document
    import hullsound.report.types as types

    return _described(Document, "hullsound.assessment/1", (findings, document, types))


def _described(form: Any, title: str, modules: tuple[ModuleType, ...]) -> str:
    """Return the JSON Schema of a form, with the texts under the fields of the modules' classes."""
    texts: dict[str, dict[str, str]] = {}
    for module in modules:
        assert module.__file__
        texts |= field_docs(Path(module.__file__).read_text(encoding="utf-8"))
    result = msgspec.json.schema(form)
    for name, definition in result["$defs"].items():
        for field, text in texts.get(name, {}).items():
            if field in definition.get("properties", {}):
                definition["properties"][field]["description"] = text
    result["$schema"] = "https://json-schema.org/draft/2020-12/schema"
    result["title"] = title
    return json.dumps(result, indent=1) + "\n"


def assumptions_page() -> str:
    """Return the page of all assumptions, by table of hullsound.toml."""
    lines = [
        "# Assumptions",
        "",
        "Generated from the program. Each key may be set in `hullsound.toml`; ranges are `[low, likely, high]`.",
        "",
    ]
    for section in SECTIONS:
        lines += [f"## [{section}]", "", "| key | assumed | what it is |", "|---|---|---|"]
        lines += [f"| `{each.key}` | {each.value} | {each.meaning} |" for each in every_key(section)]
        lines.append("")
    return "\n".join(lines)


def hull_file() -> str:
    """Return the page of the hull file's tables."""
    return (
        "# The hull file\n\nA hull file is a SQLite database: everything that a survey has read, and what later steps add. "
        f"Its `application_id` is {APPLICATION_ID:#x}, its `user_version` (the version of these tables) {SCHEMA_VERSION}. "
        "Any SQLite client reads it.\n\n```sql\n" + SCHEMA.strip() + "\n```\n"
    )


def pages() -> dict[str, str]:
    """Return all generated pages by their path below docs/."""
    assert {error.status for error in HullError.__subclasses__()} <= {status for status, _ in STATUSES}
    return {
        "commands.md": commands(),
        **constructs(),
        **{f"to-{engine}.md": by_target(engine) for engine in sorted({t.engine for t in all_targets()} - {"sqlite"})},
        "assessment.schema.json": schema(),
        "assumptions.md": assumptions_page(),
        "hull-file.md": hull_file(),
        **{f"{name}.schema.json": plain_schema(form, title) for name, (form, title) in DOCUMENTS.items()},
    }


if __name__ == "__main__":
    for name, text in pages().items():
        path = DOCS / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(text, encoding="utf-8")
        sys.stdout.write(f"{path.relative_to(DOCS.parent)}\n")
