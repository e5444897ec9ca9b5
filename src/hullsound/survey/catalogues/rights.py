"""What a catalogue leaves out in silence, because it shows each user only what that user has a right to."""

import re
from collections.abc import Iterator
from fnmatch import fnmatchcase
from typing import Final, NamedTuple

from .model import Capture

_NAME: Final = r"\*|`(?:[^`]|``)*`"
_GRANT: Final = re.compile(
    rf"(?i)^GRANT (?P<rights>.+?) ON (?:(?:TABLE|FUNCTION|PROCEDURE) )?(?P<schema>{_NAME})\.(?P<name>{_NAME}) TO "
)
_RIGHT: Final = re.compile(r"([A-Z_ ]+?)\s*(?:\(([^)]*)\))?\s*(?:,|$)")
_SHOWS_TABLES: Final = frozenset(("SELECT", "INSERT", "UPDATE", "REFERENCES"))
_SHOWS_ROUTINES: Final = frozenset(("EXECUTE", "ALTER ROUTINE", "CREATE ROUTINE", "SHOW_ROUTINE"))
_PARTS: Final = (
    ("tables and columns", _SHOWS_TABLES, "GRANT SELECT ON {database}.* TO {user}"),
    ("texts of views", frozenset(("SHOW VIEW",)), "GRANT SHOW VIEW ON {database}.* TO {user}"),
    ("triggers", frozenset(("TRIGGER",)), "GRANT TRIGGER ON {database}.* TO {user}"),
    ("events", frozenset(("EVENT",)), "GRANT EVENT ON {database}.* TO {user}"),
)  # fmt: skip
"""Parts of the catalogue of MySQL and MariaDB, the rights of which one shows them, and the statement that gives it."""


class HiddenPart(NamedTuple):
    """A part of the catalogue that may hold more than this user sees."""

    what: str
    right: str
    """The statement that shows it, with {user} and {database}."""
    table: str = ""
    """The one table of which only some columns are seen."""


def hidden_parts(capture: Capture) -> Iterator[HiddenPart]:
    """Yield what of the source may be there and is not shown, by the rights that the session has."""
    if capture.engine in ("mysql", "mariadb"):
        yield from _of_mysql(capture)
    elif capture.engine == "sqlserver":
        for (may,) in capture.rows("may_view_definitions"):
            if not may:
                yield HiddenPart("objects and texts of others", "GRANT VIEW DEFINITION TO {user}")


def _of_mysql(capture: Capture) -> Iterator[HiddenPart]:
    """Read what SHOW GRANTS says (reference manuals, "SHOW GRANTS Statement")."""
    rows = capture.rows("granted")
    if not rows:
        return
    whole: set[str] = set()
    partial: set[str] = set()
    for (line,) in rows:
        match = _GRANT.match(str(line))
        if match is None or not _fits(match["schema"], capture.name):
            continue
        for right, columns in _RIGHT.findall(match["rights"].upper()):
            if match["name"] == "*":
                whole.add(right.strip())
            elif columns:
                partial.add(match["name"][1:-1].replace("``", "`"))
    if whole & {"ALL PRIVILEGES", "ALL"}:
        return
    for what, shown_by, right in _PARTS:
        if not whole & shown_by:
            yield HiddenPart(what, right)
    reads_texts = any("`mysql`.`proc`" in str(line) or "`mysql`.*" in str(line) for (line,) in rows)
    if not whole & _SHOWS_ROUTINES and not reads_texts:
        right = (
            "GRANT SELECT ON mysql.proc TO {user}"
            if capture.engine == "mariadb"
            else "GRANT SHOW_ROUTINE ON *.* TO {user}"
        )
        yield HiddenPart("routines", right)
    if not whole & _SHOWS_TABLES:
        for table in sorted(partial):
            yield HiddenPart(f"columns of {table}", f"GRANT SELECT ON {{database}}.`{table}` TO {{user}}", table)


def _fits(written: str, database: str) -> bool:
    """Whether a grant is for a database: its name may hold the wildcards of LIKE."""
    if written == "*":
        return True
    pattern = _WILDCARD.sub(lambda m: f"[{m[1]}]" if m[1] else _MEANINGS.get(m[2], f"[{m[2]}]"), written[1:-1])
    return fnmatchcase(database, pattern)


_WILDCARD: Final = re.compile(r"\\([%_])|([%_*?\[])")
_MEANINGS: Final = {"%": "*", "_": "?"}
