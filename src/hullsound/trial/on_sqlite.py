"""Drafts on SQLite: in a database in memory that is gone afterwards, from which no file can be opened."""

import re
import sqlite3
import time
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType
from hullsound.draft.edits.text import quote_name
from hullsound.draft.model import Draft, DraftSet

from .model import NOT_RUN, Progress, Trial, TrialResult, line_at, not_finished, with_tables

_NEAR: Final = re.compile(r'near "([^"]+)"')
_SECONDS: Final = 10
"""What one draft may take."""
_STEPS_BETWEEN_LOOKS: Final = 100_000
_OWN_SCHEMAS: Final = frozenset(("", "MAIN", "TEMP"))
_SAVEPOINT: Final = "hullsound_draft"


def try_on_sqlite(catalog: Catalog, drafts: DraftSet, target: str, progress: Progress | None = None) -> Trial:
    """Try all drafts on the SQLite library of this Python."""
    connection = sqlite3.connect(":memory:", isolation_level=None)
    try:
        trial = _Session(connection, drafts)
        results = []
        for done, draft in enumerate(drafts.drafts):
            if progress is not None:
                progress(draft.object.id, done, len(drafts.drafts))
            results.append(trial.attempt(draft))
        return Trial(target, f"SQLite {sqlite3.sqlite_version}", with_tables(drafts, results))
    finally:
        connection.close()


class _Session:
    """A connection that holds what was accepted so far."""

    def __init__(self, connection: sqlite3.Connection, drafts: DraftSet) -> None:
        self._connection = connection
        self._deadline = 0.0
        for schema in sorted({d.object.schema for d in drafts.drafts} - _OWN_SCHEMAS):
            connection.execute(f"ATTACH ':memory:' AS {quote_name(schema.lower(), 'sqlite')}")
        connection.set_progress_handler(lambda: time.monotonic() > self._deadline, _STEPS_BETWEEN_LOOKS)
        connection.set_authorizer(_authorize)

    def attempt(self, draft: Draft) -> TrialResult:
        if not draft.text:
            return not_finished(draft)
        started = time.perf_counter()
        self._deadline = time.monotonic() + _SECONDS
        message, line = "", 0
        try:
            self._run(draft)
        except (sqlite3.Error, sqlite3.Warning) as error:
            message = str(error)
            line = _source_line(draft, message)
        if not draft.is_finished and draft.is_promised and not message:
            message, line = draft.skipped[0][2] if draft.skipped else "not drafted", draft.object.line
        spent = round((time.perf_counter() - started) * 1000, 1)
        return TrialResult(draft.object.id, draft.is_promised, not message, message, line, spent)

    def _run(self, draft: Draft) -> None:
        """Run a draft in a savepoint; rows, queries and changes leave nothing behind."""
        is_kept = draft.object.type is not ObjectType.DATA and draft.object.type not in NOT_RUN
        self._connection.execute(f"SAVEPOINT {_SAVEPOINT}")
        try:
            for statement in _statements(draft.text):
                if draft.object.type in NOT_RUN:
                    self._explain(statement)
                else:
                    self._connection.execute(statement)
        except (sqlite3.Error, sqlite3.Warning):
            is_kept = False
            raise
        finally:
            if not is_kept:
                self._connection.execute(f"ROLLBACK TO {_SAVEPOINT}")
            self._connection.execute(f"RELEASE {_SAVEPOINT}")

    def _explain(self, statement: str) -> None:
        try:
            self._connection.execute(f"EXPLAIN {statement}")
        except sqlite3.ProgrammingError:
            return  # it was understood: only the values of host variables are missing


def _authorize(action: int, one: str | None, other: str | None, database: str | None, source: str | None) -> int:
    """Keep drafts from other files, from extensions and from the settings of the library."""
    if action in (sqlite3.SQLITE_ATTACH, sqlite3.SQLITE_DETACH):
        return sqlite3.SQLITE_DENY
    if action == sqlite3.SQLITE_PRAGMA and other is not None:
        return sqlite3.SQLITE_IGNORE
    if action == sqlite3.SQLITE_FUNCTION and (other or "").lower() in ("load_extension", "readfile", "writefile"):
        return sqlite3.SQLITE_DENY
    return sqlite3.SQLITE_OK


def _statements(text: str) -> list[str]:
    """Cut a draft into statements, as the library itself tells where one is complete."""
    statements, start = [], 0
    for match in re.finditer(";", text):
        piece = text[start : match.end()]
        if sqlite3.complete_statement(piece):
            statements.append(piece)
            start = match.end()
    rest = text[start:]
    return [each for each in (*statements, rest) if each.strip(" \t\r\n;")]


def _source_line(draft: Draft, message: str) -> int:
    """Return the source line of the word that the message names; that of the draft's first line otherwise."""
    near = _NEAR.search(message)
    offset = draft.text.find(near[1]) if near is not None else -1
    return line_at(draft, offset) if offset >= 0 else draft.object.line
