"""Runs drafts in creation order, each in a savepoint of one transaction that is never committed."""

import re
import time
from collections.abc import Callable
from typing import TYPE_CHECKING, Any, Final

import msgspec

from hullsound.assess.pair import Pair
from hullsound.catalog.model import Catalog, ObjectType
from hullsound.draft.names import names_of
from hullsound.draft.write import Draft, DraftSet, prepare_text
from hullsound.errors import TargetError
from hullsound.knowledge.targets import parse_target
from hullsound.sql.edit import source_offset
from hullsound.sql.positions import Positions

from .bodies import check_bodies
from .postgresql import private_server, scratch_database

if TYPE_CHECKING:
    import psycopg

_BODY_LINE: Final = re.compile(r"near line (\d+)|at line (\d+)|line (\d+) at")
_HOST_VARIABLE: Final = re.compile(r"'[^']*(?:''[^']*)*'|(?<!:):[A-Za-z0-9_]+")
_NOT_RUN: Final = frozenset((ObjectType.QUERY, ObjectType.CHANGE, ObjectType.BLOCK))
"""Types that the trial checks without running them: they would read or change rows."""


class TrialResult(msgspec.Struct, frozen=True):
    """What the engine said to one draft."""

    id: str
    promised: bool
    accepted: bool
    message: str
    """The engine's own words; '' where it accepted."""
    line: int
    """The source line that the message points at; 0 for none."""
    milliseconds: float


class Trial(msgspec.Struct, frozen=True):
    """What a real engine said to all drafts."""

    target: str
    engine: str
    """Name and version, as the server gives them."""
    results: list[TrialResult]

    def refused(self) -> list[TrialResult]:
        """Return the promised drafts that were not accepted."""
        return [result for result in self.results if result.promised and not result.accepted]

    def accepted(self) -> set[str]:
        return {result.id for result in self.results if result.promised and result.accepted}


def run_trial(
    catalog: Catalog,
    drafts: DraftSet,
    target: str,
    url: str = "",
    progress: Callable[[str, int, int], None] | None = None,
) -> Trial:
    """Try all drafts on a scratch database, on a private server or on the one at `url`. Raises TargetError."""
    engine = parse_target(target).engine
    if engine != "postgresql":
        raise TargetError(
            f"no trial is possible on {engine} yet", where="trial", hint="Drafts are tried on PostgreSQL."
        )
    if not Pair(catalog.engine, parse_target(target)).has_drafts:
        raise TargetError(
            f"nothing is drafted from {catalog.engine} to {engine} yet, so there is nothing to try", where="trial"
        )
    if url:
        return _run(catalog, drafts, target, url, progress)
    with private_server() as own:
        return _run(catalog, drafts, target, own, progress)


def _run(
    catalog: Catalog, drafts: DraftSet, target: str, url: str, progress: Callable[[str, int, int], None] | None
) -> Trial:
    with scratch_database(url) as connection:
        engine = f"PostgreSQL {connection.info.parameter_status('server_version') or ''}".split(" (")[0].strip()
        _prepare(connection, catalog, drafts)
        results = []
        for done, draft in enumerate(drafts.drafts):
            if progress is not None:
                progress(draft.object.id, done, len(drafts.drafts))
            results.append(try_draft(connection, draft))
        # Bodies may use what is created after them, so that they are looked into at the end.
        results = [check_draft(connection, *pair) for pair in zip(drafts.drafts, results, strict=True)]
        return Trial(target, engine, results)


def _prepare(connection: "psycopg.Connection[Any]", catalog: Catalog, drafts: DraftSet) -> None:
    """Create the schemas and, in the same transaction that is rolled back, the roles that grants name."""
    from psycopg import Error, sql

    names = names_of("postgresql")
    connection.execute(prepare_text(drafts, "postgresql").encode())
    schemas = [*(names.folded(schema) for schema in drafts.schemas), "public"]
    connection.execute("SELECT set_config('search_path', %s, true)", [", ".join(names.quote(s) for s in schemas)])
    grantees = {
        grantee
        for item in catalog.objects.values()
        if item.type is ObjectType.GRANT
        for entry in item.details["entries"].split("\n")
        for grantee in entry.split("\t")[2].split(",")
    } - {"PUBLIC"}
    for grantee in sorted(grantees):
        try:
            with connection.transaction():
                connection.execute(sql.SQL("CREATE ROLE {}").format(sql.Identifier(names.folded(grantee))))
        except Error:
            continue  # the role exists, or the user may not create roles; the grant itself will tell


def try_draft(connection: "psycopg.Connection[Any]", draft: Draft) -> TrialResult:
    """Try one draft in a savepoint of the connection's transaction; what was accepted stays until that ends."""
    from psycopg import Error

    item = draft.object
    promised = draft.is_promised
    if not draft.text:
        reason = draft.skipped[0][2] if draft.skipped else "no draft"
        return TrialResult(item.id, promised, False, reason, item.line, 0.0)
    started = time.perf_counter()
    message, line = "", 0
    try:
        # Rows would stand in the way of constraints whose other rows the survey has passed over.
        with connection.transaction(force_rollback=item.type is ObjectType.DATA):
            for statement in _statements(draft):
                connection.execute(statement.encode(), prepare=False)
    except Error as error:
        message = str(error.diag.message_primary or error).strip()
        line = _source_line(draft, error)
    if not draft.is_finished and promised and not message:
        message, line = draft.skipped[0][2] if draft.skipped else "not drafted", item.line
    return TrialResult(item.id, promised, not message, message, line, round((time.perf_counter() - started) * 1000, 1))


def check_draft(connection: "psycopg.Connection[Any]", draft: Draft, result: TrialResult) -> TrialResult:
    """Look into the bodies of a draft that was accepted; return the result with what is wrong there."""
    if not (result.accepted and _has_body(draft)):
        return result
    started = time.perf_counter()
    fault = check_bodies(connection, draft.text)
    spent = result.milliseconds + round((time.perf_counter() - started) * 1000, 1)
    if fault is None:
        return msgspec.structs.replace(result, milliseconds=spent)
    line = _line_at(draft, fault.offset)
    return msgspec.structs.replace(result, accepted=False, message=fault.message, line=line, milliseconds=spent)


def _has_body(draft: Draft) -> bool:
    return draft.is_finished and "LANGUAGE plpgsql" in draft.text


def _statements(draft: Draft) -> list[str]:
    """Return what is sent: the draft itself, or for rows and blocks a statement that checks it without running it."""
    if draft.object.type not in _NOT_RUN or not draft.is_finished:
        return [draft.text]
    if draft.object.type is ObjectType.BLOCK:
        body = draft.text.removeprefix("DO ").rstrip().removesuffix(";")
        return [f"CREATE FUNCTION pg_temp.hullsound_block() RETURNS void LANGUAGE plpgsql AS {body}",
                "DROP FUNCTION pg_temp.hullsound_block()"]  # fmt: skip
    return [f"EXPLAIN {_HOST_VARIABLE.sub(_null_for_variable, draft.text)}"]


def _null_for_variable(match: re.Match[str]) -> str:
    """Put NULL, padded so that offsets stay, for a host variable; literals match too, and stay."""
    return match[0] if match[0].startswith("'") else "NULL".ljust(len(match[0]))


def _source_line(draft: Draft, error: "psycopg.Error") -> int:
    """Map the place an error points at, in the draft, to a line of the source file."""
    item = draft.object
    offset: int | None = None
    if error.diag.statement_position:
        offset = int(error.diag.statement_position) - 1
        if draft.object.type in _NOT_RUN and draft.object.type is not ObjectType.BLOCK:
            offset -= len("EXPLAIN ")
    else:
        match = _BODY_LINE.search(error.diag.context or "")
        if match:
            body = draft.text.find("$hull")
            wanted = int(next(group for group in match.groups() if group)) - 1
            offset = body
            for _ in range(wanted):
                offset = draft.text.find("\n", offset + 1)
                if offset < 0:
                    return item.line
    return item.line if offset is None else _line_at(draft, offset)


def _line_at(draft: Draft, offset: int) -> int:
    """Return the line of the source file that a place in a draft comes from."""
    item = draft.object
    if offset < 0 or not draft.edits:
        return item.line
    return Positions(item.text, item.line).line(min(source_offset(draft.edits, offset), len(item.text)))
