"""Indexes of other kinds than sorted ones, and what only storage and statistics need, as PostgreSQL has them."""

import re
from typing import Final

from hullsound.catalog.model import Object
from hullsound.draft.constructs.full_text import words_expression
from hullsound.draft.edits.comments import remark
from hullsound.draft.edits.names import Names
from hullsound.draft.edits.rewrite import CannotDraft

_FULL_TEXT: Final = re.compile(r"(?i)\bON\s+[\w.\[\]\"`]+\s*\(([^)]*)\)")
_STATISTICS: Final = re.compile(r"(?i)\bSTATISTICS\s+[\w\[\]\"]+\s+ON\s+([\w.\[\]\"]+)\s*\(([^)]*)\)")
_NEEDLESS: Final = {
    "create partition function": "the bounds of parts stand with each table",
    "create partition scheme": "the places of parts stand with each table",
    "create fulltext catalog": "an index over words needs no place of its own",
}
"""Statements of SQL Server that nothing takes the place of, and why nothing is missing."""


def special_index(item: Object, table: str, name: str, keys: list[str], names: Names) -> str | None:
    """Return the statement for an index of a kind of its own; None for an ordinary one.

    `keys` are the source's columns by their stored names.
    """
    match item.index.method if item.index is not None else "":
        case "xml":
            return remark(
                f"{item.name}: XML has no index here. Index what queries look for: ((xpath(path, column))[1]::text)."
            )
        case "columnstore" if not keys:
            return remark(f"{item.name}: rows are stored by rows here; a BRIN index over a date may serve large scans.")
        case "columnstore":
            return f"CREATE INDEX {name} ON {table} USING brin ({', '.join(map(names.write, keys))});"
        case "fulltext":
            columns = keys or _columns(item.text)
            return f"CREATE INDEX {name} ON {table} USING gin ({words_expression(columns, names)});"
    return None


def _columns(text: str) -> list[str]:
    """Return the columns of CREATE FULLTEXT INDEX ON table (column LANGUAGE n, ...)."""
    found = _FULL_TEXT.search(text)
    names = [piece.split()[0].strip('[]"`') for piece in found[1].split(",") if piece.split()] if found else []
    if not names or not all(re.fullmatch(r"\w+", name) for name in names):
        raise CannotDraft("an index over words whose columns are not known")
    return [name.upper() for name in names]


def storage_statement(item: Object, names: Names) -> str:
    """Write statistics, or say why nothing is needed. Raises CannotDraft for any other statement."""
    words = item.details.get("statement", "")
    if words in _NEEDLESS:
        return remark(f"{item.name}: {_NEEDLESS[words]}.")
    found = _STATISTICS.search(item.text) if words == "create statistics" else None
    if found is None:
        raise CannotDraft(f"the statement {words}" if words else "a statement of a kind that is not drafted")
    columns = [piece.split()[0].strip('[]"') for piece in found[2].split(",")]
    table = [part.strip('[]"') for part in found[1].split(".")]
    if len(columns) < 2:
        return remark(f"{item.name}: statistics of single columns are kept by themselves.")
    written = ", ".join(names.write(column.upper()) for column in columns)
    source = names.qualified(*(part.upper() for part in table))
    return f"CREATE STATISTICS {names.write(item.name)} ON {written} FROM {source};"
