"""Reads a running source as script files, one for each object."""

from collections.abc import Callable, Iterable, Iterator, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Final

from hullsound.catalog.model import Sighting, object_id
from hullsound.errors import SourceError
from hullsound.survey.catalogues.assemble import assemble, hidden_texts
from hullsound.survey.catalogues.model import Capture, Rows, Size, Statement, load_queries
from hullsound.survey.catalogues.record import Recorder, read_record
from hullsound.survey.catalogues.rights import hidden_parts
from hullsound.survey.choice import Choice
from hullsound.survey.files import ScriptFile

from .session import QueryRefusedError, Session

_END: Final = "//hullsound-end"

Asked = Callable[[str, int, int], None]
"""Called with the name of a query, how many are done, and how many there are."""


@dataclass(frozen=True)
class LiveSource:
    """What a server holds: engine, version, name, and the statements of its objects as files."""

    engine: str
    version: str
    name: str
    files: list[ScriptFile]
    sizes: list[Size] = field(default_factory=list)
    settings: dict[str, str] = field(default_factory=dict)
    remarks: list[Sighting] = field(default_factory=list)
    """What of the catalogue could not be read, and why."""


def capture_live(session: Session, kept: Path, asked: Asked, *, is_resumed: bool = False) -> Capture:
    """Ask a running source all that its engine's file asks, one query after the other.

    What comes in is written to the file `kept` at once, which the caller removes when all is in; with `is_resumed`, queries
    that ended there before are not asked again. Raises SourceError where the server goes away.
    """
    capture = Capture(session.engine, session.version, session.name)
    before = _before(kept, capture) if is_resumed else {}
    queries = load_queries(session.engine, session.version)
    with kept.open("w", encoding="utf-8") as file:
        recorder = Recorder(file)
        recorder.begin(capture)
        for name, rows in before.items():
            recorder.add(name, rows)
        for done, query in enumerate(queries.values()):
            asked(query.name, done, len(queries))
            try:
                rows = before[query.name] if query.name in before else session.ask(query.text)
            except QueryRefusedError as error:
                capture.refused[query.name] = error.said
                continue
            capture.found[query.name] = rows
            if query.name not in before:
                recorder.add(query.name, rows)
        session.more(capture.found, capture.refused)
        ask_rights(session, capture)
    return capture


def ask_rights(session: Session, capture: Capture) -> None:
    """Ask what the session may see; where even that is refused, nothing is known of it."""
    for query in load_queries(session.engine, session.version, "rights").values():
        with suppress(QueryRefusedError):
            capture.found[query.name] = session.ask(query.text)


def _before(kept: Path, capture: Capture) -> dict[str, Rows]:
    """Return what an earlier survey left: the queries whose rows are all there. Raises SourceError for another source's."""
    if not kept.is_file():
        return {}
    record = read_record(kept)
    left = record.capture
    if (left.engine, left.name) != (capture.engine, capture.name):
        raise SourceError(
            f"what was kept is of {left.engine} {left.name}, not of {capture.engine} {capture.name}",
            where=str(kept), hint="Survey without --resume.",
        )  # fmt: skip
    return {name: rows for name, rows in left.found.items() if name in record.ended}


def as_source(capture: Capture, choice: Choice | None = None, *, where: str = "") -> LiveSource:
    """Turn a captured catalogue into script files. `where` is shown with what could not be read."""
    choice = choice or Choice()
    wanted = [statement for statement in assemble(capture) if choice.takes(statement.schema, statement.name)]
    remarks = [
        Sighting(
            "survey.unread-catalogue",
            "database",
            where or name,
            1,
            1,
            1,
            1,
            f"{name}: {reason}"[:160],
            f"{name} ({reason})",
        )
        for name, reason in capture.refused.items()
    ]
    remarks += [
        Sighting("survey.hidden-text", "database", where or what, 1, 1, 1, 1, what, what)
        for what in hidden_texts(capture)
    ]
    tables = {statement.name: statement for statement in wanted if statement.type == "table"}
    for part in hidden_parts(capture):
        right = part.right.format(user="the user", database=capture.name)
        table = tables.get(part.table)
        owner = object_id(table.schema.upper(), "table", table.name.upper()) if table is not None else "database"
        place = (where or part.what, 1, 1, 1, 1)
        remarks.append(Sighting("survey.not-shown", owner, *place, part.what, f"{part.what} ({right})"))
    files = list(_files(capture.engine, wanted))
    return LiveSource(
        capture.engine, capture.version, capture.name, files, list(capture.sizes()), capture.settings(), remarks
    )


def merge_sources(sources: Sequence[LiveSource]) -> LiveSource:
    """Put the databases of one server together; a setting in which one differs is named with that database."""
    first, *others = sources
    if not others:
        return first
    settings = dict(first.settings)
    for other in others:
        for name, value in other.settings.items():
            if settings.setdefault(name, value) != value:
                settings[f"{name} of {other.name}"] = value
    return LiveSource(
        first.engine, first.version, first.name,
        [file for source in sources for file in source.files],
        [size for source in sources for size in source.sizes],
        settings,
        [remark for source in sources for remark in source.remarks],
    )  # fmt: skip


def _files(engine: str, statements: Iterable[Statement]) -> Iterator[ScriptFile]:
    """Put the statements of one object into one file; files come in the order of the first of them."""
    texts: dict[str, list[str]] = {}
    for statement in statements:
        label = "/".join(part for part in (statement.schema, statement.type, statement.name) if part)
        texts.setdefault(label, []).append(_script(engine, statement))
    for label, pieces in texts.items():
        yield ScriptFile(label, "".join(pieces), "")


def _script(engine: str, statement: Statement) -> str:
    text = statement.text.rstrip()
    if engine == "oracle":
        return f"{text}\n/\n"
    if engine == "sqlserver":
        return f"{text}\nGO\n"
    if engine == "db2":
        return f"--#SET TERMINATOR @\n{text}\n@\n"
    text = text.rstrip(";")
    if engine not in ("mysql", "mariadb"):
        return f"{text};\n"
    end = _END
    while end in text:  # bodies hold semicolons, and whatever else they like
        end += "-"
    return f"USE `{statement.schema.replace('`', '``')}`;\nDELIMITER {end}\n{text}\n{end}\nDELIMITER ;\n"
