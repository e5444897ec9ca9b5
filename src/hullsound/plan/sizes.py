"""How large each table is: told by the survey or by a table that the user gives, else worked out from rows and types."""

from collections.abc import Mapping
from pathlib import Path
from typing import Final

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object, ObjectType
from hullsound.knowledge.types import logical_type
from hullsound.settings import WindowRules
from hullsound.tables import LINE, amount, read_table, table_error, text
from hullsound.tables import Column as TableColumn

SIZE_COLUMNS: Final = (
    TableColumn("table", text, is_required=True, also=("object", "name", "table name")),
    TableColumn("rows", amount, also=("row count", "num rows", "row estimate")),
    TableColumn("bytes", amount, also=("data bytes", "size bytes", "table bytes")),
    TableColumn("mb", amount, also=("data mb", "size mb")),
    TableColumn("index bytes", amount),
    TableColumn("index mb", amount),
)
_MB: Final = 1_000_000
_WIDTHS: Final[dict[str, int]] = {
    "integer": 8, "unsigned": 8, "serial": 8, "decimal": 10, "decimal-whole": 10, "decimal-free": 10, "float": 8, "money": 8,
    "date": 4, "date-time": 8, "timestamp": 8, "timestamp-zone": 8, "boolean": 1, "uuid": 16, "time": 8, "interval": 16,
    "large-text": 2_000, "large-binary": 8_000, "json": 500, "xml": 1_000, "enum": 4, "bit": 1,
}  # fmt: skip
"""Bytes of a value by the kind of its type, where nothing better is known. An assumption."""
_MOST_TEXT: Final = 60
"""Bytes that a value of a text type takes at most, on average."""
_ROW_HEAD: Final = 24


class TableSize(msgspec.Struct, frozen=True):
    """One table to be copied."""

    id: str
    rows: float
    bytes: float
    """Of the rows alone."""
    index_bytes: float
    indexes: int
    """Keys included."""
    references: int
    """Foreign keys and checks to be validated."""
    has_key: bool
    """Whether a primary key or a unique key without nulls tells its rows apart."""
    can_split: bool
    """Whether its key begins with a number, so that ranges of it are copied side by side."""
    origin: str
    """measured (by the survey), given (by a table of sizes), assumed (from rows and types) or unknown."""


def table_sizes(catalog: Catalog, rules: WindowRules, given: Path | None = None) -> list[TableSize]:
    """Return the size of every table that holds rows, the largest first. Raises SourceError for a table of sizes that is wrong."""
    tables = [item for item in catalog.objects.values() if item.type is ObjectType.TABLE and _holds_rows(item)]
    told = _read_sizes(given, tables) if given is not None else {}
    sizes = [_size(catalog, table, rules, told.get(table.id)) for table in tables]
    return sorted(sizes, key=lambda each: (-each.bytes, each.id))


def _holds_rows(table: Object) -> bool:
    return "external-table" not in table.details.get("clauses", "") and not table.details.get("temporary")


def _read_sizes(path: Path, tables: list[Object]) -> dict[str, Mapping[str, float | None]]:
    by_name: dict[str, list[str]] = {}
    for table in tables:
        names = {table.id, table.name, f"{table.schema}.{table.name}"}
        for name in {name.lower() for name in names}:
            by_name.setdefault(name, []).append(table.id)
    found: dict[str, Mapping[str, float | None]] = {}
    faults = []
    for row in read_table(path, SIZE_COLUMNS, "the table of sizes", others=True):
        matches = by_name.get(row["table"].lower(), [])
        where = f"line {row[LINE]}, column table: {row['table']!r}"
        if len(matches) != 1:
            faults.append(f"{where} {'is no table of the survey' if not matches else 'is not clear'}")
        elif matches[0] in found:
            faults.append(f"{where} is named twice")
        elif all(row.get(name) is None for name in ("rows", "bytes", "mb")):
            faults.append(f"line {row[LINE]}: neither rows nor bytes nor mb of {row['table']!r}")
        else:
            found[matches[0]] = row
    if faults:
        raise table_error(path, faults, "hullsound inventory lists the tables.")
    return found


def _size(catalog: Catalog, table: Object, rules: WindowRules, told: Mapping[str, float | None] | None) -> TableSize:
    belonging = catalog.belonging(table.id)
    indexes = sum(
        item.type is ObjectType.INDEX
        or (item.constraint is not None and item.constraint.form in ("primary key", "unique"))
        for item in belonging
    )
    references = sum(
        item.constraint is not None and item.constraint.form in ("foreign key", "check") for item in belonging
    )
    rows, size, index_size, origin = _measures(catalog, table, rules, told, indexes)
    keys = catalog.keys_of(table)
    first = next((c for c in table.columns if keys and c.name == keys[0][0]), None)
    logical = logical_type(catalog.engine, first.type) if first is not None else None
    is_number = logical is not None and logical.kind in ("integer", "unsigned", "serial", "decimal", "decimal-whole")
    nullable = {column.name for column in table.columns if column.nullable}
    has_primary = any(item.constraint is not None and item.constraint.form == "primary key" for item in belonging)
    has_key = has_primary or any(not nullable.intersection(key) for key in keys)
    return TableSize(table.id, rows, size, index_size, indexes, references, has_key, is_number, origin)


def _measures(
    catalog: Catalog, table: Object, rules: WindowRules, told: Mapping[str, float | None] | None, indexes: int
) -> tuple[float, float, float, str]:
    """Return rows, bytes, bytes of indexes and where they come from."""
    width = row_width(catalog.engine, table.columns) or rules.row_bytes
    if told is not None:
        size = told.get("bytes")
        if size is None and told.get("mb") is not None:
            size = (told["mb"] or 0.0) * _MB
        rows = told.get("rows")
        index_size = told.get("index bytes")
        if index_size is None and told.get("index mb") is not None:
            index_size = (told["index mb"] or 0.0) * _MB
        size = (rows or 0.0) * width if size is None else size
        rows = size / width if rows is None else rows
        return rows, size, size * rules.index_share * indexes if index_size is None else index_size, "given"
    rows_text, bytes_text = table.details.get("rows", ""), table.details.get("bytes", "")
    rows = float(rows_text) if rows_text.isdigit() else 0.0
    if bytes_text.isdigit() and int(bytes_text):
        size = float(bytes_text) / (1 + rules.index_share * indexes)  # the survey's bytes hold the indexes too
        return rows or size / width, size, float(bytes_text) - size, "measured"
    if rows_text.isdigit():
        return rows, rows * width, rows * width * rules.index_share * indexes, "assumed"
    return 0.0, 0.0, 0.0, "unknown"


def row_width(engine: str, columns: list[Column]) -> float:
    """Return the bytes of a row as its types say; 0 without columns."""
    if not columns:
        return 0.0
    return float(_ROW_HEAD + sum(_width(engine, column) for column in columns))


def _width(engine: str, column: Column) -> int:
    logical = logical_type(engine, column.type)
    if logical is None:
        return 16
    if logical.kind == "fixed-text":
        return max(logical.length, 1)
    if logical.kind in ("text", "binary"):
        return min(max(logical.length // 2, 1), _MOST_TEXT) if logical.length else _MOST_TEXT
    return _WIDTHS.get(logical.kind, 16)
