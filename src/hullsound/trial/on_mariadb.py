"""Drafts on MariaDB or MySQL: in databases of our own that are dropped at the end, as definitions cannot be rolled back."""

import re
import secrets
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from typing import TYPE_CHECKING, Any, Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType
from hullsound.draft.edits.names import names_of
from hullsound.draft.files import roles_of
from hullsound.draft.model import Draft, DraftSet
from hullsound.errors import TargetError

from .failure import server_failed
from .mariadb import connected
from .model import NOT_RUN, Progress, Trial, TrialResult, line_at, not_finished, null_for_variables, with_tables
from .postgresql import SCRATCH_PREFIX

if TYPE_CHECKING:
    import pymysql

_LINE: Final = re.compile(r"at line (\d+)")
_ACCOUNT: Final = re.compile(r"(?:'[^'\\]*'|`[^`]*`)@(?:'[^'\\]*'|`[^`]*`)")
_EMPTY_QUERY: Final = 1065
_OWN_FAILURES: Final = frozenset((1021, 1037, 1041, 1053, 1927, 2006, 2013))
"""Full disk, no memory, shutdown, connection lost or killed: MariaDB 10.11, "MariaDB Error Codes"."""


def try_on_mariadb(
    catalog: Catalog, drafts: DraftSet, target: str, url: str = "", progress: Progress | None = None
) -> Trial:
    """Try all drafts on a private MariaDB, or on the server at `url`. Raises TargetError."""
    with connected(url) as connection, _removed_at_the_end(connection) as made:
        _prepare(connection, catalog, drafts, made)
        results = []
        for done, draft in enumerate(drafts.drafts):
            if progress is not None:
                progress(draft.object.id, done, len(drafts.drafts))
            results.append(_try(connection, draft))
        version = str(_execute(connection, "SELECT VERSION()")[0][0])
        name = "MariaDB" if "maria" in version.lower() else "MySQL"
        return Trial(target, f"{name} {version.split('-', maxsplit=1)[0]}", with_tables(drafts, results))


@contextmanager
def _removed_at_the_end(connection: "pymysql.connections.Connection[Any]") -> Iterator[list[str]]:
    """Yield a list for the statements that undo what is made, and run them at the end, the last first."""
    import pymysql

    made: list[str] = []
    try:
        yield made
    except BaseException:
        with suppress(pymysql.MySQLError):  # a server that has failed says so by the first error
            _undo(connection, made)
        raise
    _undo(connection, made)


def _undo(connection: "pymysql.connections.Connection[Any]", made: list[str]) -> None:
    for statement in reversed(made):
        _execute(connection, statement)


def _prepare(
    connection: "pymysql.connections.Connection[Any]", catalog: Catalog, drafts: DraftSet, made: list[str]
) -> None:
    """Create the databases that drafts name, and the roles that grants name; refuse to touch what is there already."""
    names = names_of("mariadb")
    taken = {row[0].lower() for row in _execute(connection, "SHOW DATABASES")}
    for schema in drafts.schemas:
        if names.folded(schema).lower() in taken:
            raise TargetError(
                f"the server has a database {names.folded(schema)} already", where="trial",
                hint="Give a server that has none of the schemas' names, or leave --on out.",
            )  # fmt: skip
    default = SCRATCH_PREFIX + secrets.token_hex(6)
    # Between kin the text of a table holds its foreign keys, whose tables may come later.
    _execute(connection, "SET foreign_key_checks = 0")
    if "COLLATE" in drafts.database_options:
        _execute(connection, f"SET NAMES utf8mb4 {drafts.database_options[drafts.database_options.index('COLLATE') :]}")
    for name in (default, *drafts.schemas):
        _execute(
            connection, f"CREATE DATABASE {names.write(name)} {drafts.database_options or 'CHARACTER SET utf8mb4'}"
        )
        made.append(f"DROP DATABASE {names.write(name)}")
    _execute(connection, f"USE {names.write(drafts.default_schema or default)}")
    import pymysql

    accounts = {f"ROLE {names.write(grantee)}" for grantee in roles_of(catalog)}
    if catalog.engine in ("mysql", "mariadb"):
        accounts = {f"USER {name}" for item in catalog.objects.values() if item.type is ObjectType.GRANT
                    for name in _ACCOUNT.findall(item.text)}  # fmt: skip
    for account in sorted(accounts):
        try:
            _execute(connection, f"CREATE {account}")
        except pymysql.MySQLError:
            continue  # it exists, or one may not create it; the grant itself will tell
        made.append(f"DROP {account}")


def _execute(connection: "pymysql.connections.Connection[Any]", text: str) -> list[Any]:
    """Run one or more statements; return the rows of the last. Raises the driver's error."""
    with connection.cursor() as cursor:
        cursor.execute(text)
        rows = list(cursor.fetchall())
        while cursor.nextset():
            rows = list(cursor.fetchall())
        return rows


def _try(connection: "pymysql.connections.Connection[Any]", draft: Draft) -> TrialResult:
    import pymysql

    item = draft.object
    if not draft.text:
        return not_finished(draft)
    started = time.perf_counter()
    message, line = "", 0
    checked = draft.is_finished and item.type in NOT_RUN
    text = f"EXPLAIN {null_for_variables(draft.text)}" if checked else draft.text
    try:
        if checked and item.type is ObjectType.BLOCK:
            with connection.cursor() as cursor:
                cursor.execute("PREPARE hullsound_block FROM %s", (draft.text,))
                cursor.execute("DEALLOCATE PREPARE hullsound_block")
        elif item.type is ObjectType.DATA:
            _execute(connection, f"START TRANSACTION;\n{draft.text.rstrip().rstrip(';')};\nROLLBACK;")
        else:
            _execute(connection, text)
    except pymysql.MySQLError as error:
        code = error.args[0] if error.args else 0
        if code in _OWN_FAILURES or not connection.open:
            raise server_failed(error, item.id) from error
        if code != _EMPTY_QUERY:
            message = str(error.args[1] if len(error.args) > 1 else error)
            line = _source_line(draft, message)
        if item.type is ObjectType.DATA:
            _execute(connection, "ROLLBACK")
    if not draft.is_finished and draft.is_promised and not message:
        message, line = draft.skipped[0][2] if draft.skipped else "not drafted", item.line
    spent = round((time.perf_counter() - started) * 1000, 1)
    return TrialResult(item.id, draft.is_promised, not message, message, line, spent)


def _source_line(draft: Draft, message: str) -> int:
    match = _LINE.search(message)
    if match is None:
        return draft.object.line
    offset = 0
    for _ in range(int(match[1]) - 1):
        offset = draft.text.find("\n", offset) + 1
        if offset == 0:
            return draft.object.line
    return line_at(draft, offset)
