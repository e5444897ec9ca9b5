"""Drafts on PostgreSQL: in creation order, each in a savepoint of one transaction that is never committed."""

import re
import time
from typing import TYPE_CHECKING, Any, Final

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType
from hullsound.draft.edits.names import names_of
from hullsound.draft.files import roles_of, search_path
from hullsound.draft.model import Draft, DraftSet
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script

from .bodies import check_bodies
from .checker import can_check, check_created, load_checker
from .failure import server_failed
from .model import NOT_RUN, Progress, Trial, TrialResult, line_at, not_finished, null_for_variables, with_tables
from .postgresql import is_own_failure, make_schemas, private_server, scratch_database

if TYPE_CHECKING:
    import psycopg

_OUTSIDE_TRANSACTIONS: Final = re.compile(
    r"(?im)^\s*(?:CREATE\s+(?:UNIQUE\s+)?INDEX\s+CONCURRENTLY|CREATE\s+DATABASE|CREATE\s+TABLESPACE|VACUUM|ALTER\s+SYSTEM|"
    r"REINDEX\s+\w+\s+CONCURRENTLY)\b"
)
_LACKING: Final = re.compile(
    r'extension "[^"]*" is not available|could not open extension control file|language "[^"]*" does not exist|'
    r'could not access file "|ICU is not supported in this build|unsupported XML feature|could not load library'
)
"""What PostgreSQL 18 says where an extension, a language or a library is not installed."""
_ASKING: Final = re.compile(r"(?i)\(\s*SELECT\b")
_BODY_LINE: Final = re.compile(r"near line (\d+)|at line (\d+)|line (\d+) at")


def try_on_postgresql(
    catalog: Catalog, drafts: DraftSet, target: str, url: str = "", progress: Progress | None = None
) -> Trial:
    """Try all drafts on a scratch database, on a private server or on the one at `url`. Raises TargetError."""
    if url:
        return _run(catalog, drafts, target, url, progress)
    with private_server() as own:
        return _run(catalog, drafts, target, own, progress)


def _run(catalog: Catalog, drafts: DraftSet, target: str, url: str, progress: Progress | None) -> Trial:
    with scratch_database(url) as connection:
        engine = f"PostgreSQL {connection.info.parameter_status('server_version') or ''}".split(" (")[0].strip()
        _prepare(connection, catalog, drafts)
        results = []
        for done, draft in enumerate(drafts.drafts):
            if progress is not None:
                progress(draft.object.id, done, len(drafts.drafts))
            results.append(try_draft(connection, draft))
        # Bodies may use what is created after them, so that they are looked into at the end.
        has_checker = load_checker(connection)
        results = [
            check_draft(connection, *pair, has_checker=has_checker) for pair in zip(drafts.drafts, results, strict=True)
        ]
        return Trial(target, engine, with_tables(drafts, results))


def _prepare(connection: "psycopg.Connection[Any]", catalog: Catalog, drafts: DraftSet) -> None:
    """Create the schemas and, in the same transaction that is rolled back, the roles that grants name."""
    from psycopg import Error, sql

    names = names_of("postgresql")
    make_schemas(connection, drafts)
    path = ", ".join(names.quote(schema) for schema in search_path(drafts, "postgresql"))
    connection.execute("SELECT set_config('search_path', %s, true)", [path])
    for grantee in roles_of(catalog):
        try:
            with connection.transaction():
                connection.execute(sql.SQL("CREATE ROLE {}").format(sql.Identifier(names.folded(grantee))))
        except Error:
            continue  # the role exists, or the user may not create roles; the grant itself will tell


def try_draft(connection: "psycopg.Connection[Any]", draft: Draft) -> TrialResult:
    """Try one draft in a savepoint of the connection's transaction; what was accepted stays until that ends.

    Raises TargetError where the server itself fails.
    """
    from psycopg import Error

    item = draft.object
    promised = draft.is_promised
    if not draft.text:
        return not_finished(draft)
    if draft.is_finished and _OUTSIDE_TRANSACTIONS.search(draft.text):
        reason = "it cannot run inside of a transaction, as the trial does"
        return TrialResult(item.id, promised, False, reason, item.line, 0.0, reason)
    started = time.perf_counter()
    message, line, not_tried = "", 0, ""
    try:
        # Rows would stand in the way of constraints whose other rows the survey has passed over.
        with connection.transaction(force_rollback=item.type is ObjectType.DATA):
            for statement in _statements(draft):
                connection.execute(statement.encode(), prepare=False)
    except Error as error:
        if is_own_failure(connection, error):
            raise server_failed(error, item.id) from error
        message = str(error.diag.message_primary or error).strip()
        line = _source_line(draft, error)
        if _LACKING.search(message):
            not_tried = f"this server lacks what it needs: {message}"
    if not draft.is_finished and promised and not message:
        message, line = draft.skipped[0][2] if draft.skipped else "not drafted", item.line
    spent = round((time.perf_counter() - started) * 1000, 1)
    return TrialResult(item.id, promised, not message, message, line, spent, not_tried)


def check_draft(
    connection: "psycopg.Connection[Any]", draft: Draft, result: TrialResult, *, has_checker: bool = False
) -> TrialResult:
    """Look into the bodies of a draft that was accepted; return the result with what is wrong there."""
    if not (result.accepted and _has_body(draft)):
        return result
    started = time.perf_counter()
    if has_checker and can_check(draft.text):
        fault = check_created(connection, draft.text)
    else:
        fault = check_bodies(connection, draft.text)
    spent = result.milliseconds + round((time.perf_counter() - started) * 1000, 1)
    if fault is None:
        return msgspec.structs.replace(result, milliseconds=spent)
    line = line_at(draft, fault.offset)
    return msgspec.structs.replace(result, accepted=False, message=fault.message, line=line, milliseconds=spent)


def _has_body(draft: Draft) -> bool:
    # Our own; what PostgreSQL itself has run needs no look.
    return draft.is_finished and "LANGUAGE plpgsql" in draft.text and draft.text != draft.object.text


def _statements(draft: Draft) -> list[str]:
    """Return what is sent: the draft itself, or for rows and blocks a statement that checks it without running it."""
    if draft.object.type is ObjectType.DATA and _ASKING.search(draft.text):
        # The rows that they ask for are not there, since those of other drafts do not stay.
        reads = read_script(f"{draft.text}\n", load_dialect("postgresql")).statements()
        return [f"EXPLAIN {read.text}" for read in reads]
    if draft.object.type not in NOT_RUN or not draft.is_finished:
        return [draft.text]
    if draft.object.type is ObjectType.BLOCK:
        body = draft.text.removeprefix("DO ").rstrip().removesuffix(";")
        return [f"CREATE FUNCTION pg_temp.hullsound_block() RETURNS void LANGUAGE plpgsql AS {body}",
                "DROP FUNCTION pg_temp.hullsound_block()"]  # fmt: skip
    return [f"EXPLAIN {null_for_variables(draft.text)}"]


def _source_line(draft: Draft, error: "psycopg.Error") -> int:
    """Map the place an error points at, in the draft, to a line of the source file."""
    item = draft.object
    offset: int | None = None
    if error.diag.statement_position:
        offset = int(error.diag.statement_position) - 1
        if draft.object.type in NOT_RUN and draft.object.type is not ObjectType.BLOCK:
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
    return item.line if offset is None else line_at(draft, offset)
