"""Reads a data dictionary: a plain table of columns, from any system that can list its fields."""

import csv
import hashlib
import io
import re
from pathlib import Path
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Constraint, DataType, FileFacts, Object, ObjectType, UnreadSpan, object_id
from hullsound.errors import SourceError

from .files import decode

FIELDS: Final[dict[str, tuple[str, ...]]] = {
    "schema": ("schema", "owner", "database", "library", "creator", "table_schema", "schema_name", "db", "catalog"),
    "table": ("table", "table_name", "tablename", "file", "entity", "record", "sheet", "relation", "object"),
    "column": ("column", "column_name", "columnname", "field", "field_name", "fieldname", "attribute", "name"),
    "type": ("type", "data_type", "datatype", "column_type", "field_type", "format"),
    "length": ("length", "size", "char_length", "max_length", "character_maximum_length", "field_size", "bytes_length"),
    "precision": ("precision", "numeric_precision", "digits"),
    "scale": ("scale", "numeric_scale", "decimals", "decimal_places"),
    "nullable": (
        "nullable",
        "null",
        "nulls",
        "is_nullable",
        "allow_null",
        "allow_nulls",
        "required",
        "mandatory",
        "not_null",
    ),
    "key": ("key", "primary_key", "pk", "is_key", "key_position", "index"),
    "default": ("default", "default_value", "column_default"),
    "references": ("references", "foreign_key", "fk", "refers_to"),
    "rows": ("rows", "row_count", "records", "num_rows", "cardinality"),
    "bytes": ("bytes", "size_bytes", "table_bytes", "total_bytes"),
    "comment": ("comment", "description", "remarks", "remark", "note", "notes", "label"),
}
"""Field -> header names that are taken for it, in lower case with _ between words."""
_NEGATED: Final = frozenset(("required", "mandatory", "not_null"))
"""Headers that say the opposite of nullable."""
_NO: Final = frozenset(("", "n", "no", "false", "0", "f", "not null"))
_TYPE: Final = re.compile(r"^\s*([^()]+?)\s*(?:\(\s*([^()]*?)\s*\))?\s*$")
TEMPLATE: Final = (
    "schema,table,column,type,length,precision,scale,nullable,key,default,references,rows,bytes,comment\n"
    "harbour,berth,berth_id,integer,,10,0,no,1,,,120,16384,Number painted on the quay\n"
    "harbour,berth,name,text,40,,,no,,,,120,16384,Name that pilots use\n"
    "harbour,port_call,call_id,integer,,10,0,no,1,,,250000,52428800,\n"
    "harbour,port_call,berth_id,integer,,10,0,yes,,,berth.berth_id,250000,52428800,\n"
    "harbour,port_call,arrived_at,date/time,,,,yes,,,,250000,52428800,Local time\n"
    "harbour,port_call,dues,decimal,,12,2,yes,,0,,250000,52428800,In crowns\n"
)
"""An example of the format, as `survey --template` prints it."""


def read_dictionary(
    path: Path, *, engine: str = "dictionary", version: str = "", name: str = "", encoding: str = ""
) -> Catalog:
    """Read a data dictionary into a catalogue of tables.

    Raises SourceError if the file cannot be read, has no header that names tables and columns, or no row. A row that names
    no table or column is kept as an unread span with its line.
    """
    try:
        data = path.read_bytes()
    except OSError as error:
        raise SourceError(
            f"cannot read the file: {error.strerror}", where=str(path), hint="Check its access rights."
        ) from error
    text = decode(data, str(path), encoding)
    rows = csv.reader(io.StringIO(text, newline=""), _dialect(text))
    try:
        header = next(rows, [])
        places = _places(header, str(path))
        catalog = Catalog(engine, version, name or path.stem)
        count = 0
        for row in rows:
            if any(cell.strip() for cell in row):
                count += 1
                _add_row(catalog, path.name, rows.line_num, row, places)
    except csv.Error as error:
        raise SourceError(f"not a table: {error}", where=f"{path}:{rows.line_num}", hint=_HINT) from error
    if not count:
        raise SourceError("a header and no rows", where=str(path), hint=_HINT)
    for item in catalog.objects.values():
        item.text = _definition(item)
        item.lines = item.text.count("\n") + 1
    catalog.files = [FileFacts(path.name, text.count("\n") + 1, count, 0, hashlib.sha256(data).hexdigest())]
    return catalog


_HINT: Final = "See a template with: hullsound survey --template"


def _dialect(text: str) -> type[csv.Dialect]:
    """Return the separator of the table by its header: comma, semicolon, tab or bar."""
    head = text.split("\n", 1)[0]
    best = max(",;\t|", key=head.count)

    class Table(csv.excel):
        delimiter = best

    return Table


def _places(header: list[str], where: str) -> dict[str, tuple[int, str]]:
    """Find each field's column and the header name it goes by. Raises SourceError where table or column is missing."""
    names = ["_".join(re.findall(r"[a-z0-9]+", cell.lower())) for cell in header]
    places: dict[str, tuple[int, str]] = {}
    for field, known in FIELDS.items():
        for name in known:
            if name in names and names.index(name) not in {place for place, _ in places.values()}:
                places[field] = (names.index(name), name)
                break
    missing = [field for field in ("table", "column", "type") if field not in places]
    if missing:
        raise SourceError(f"the header names no {' and no '.join(missing)}", where=where, hint=_HINT)
    return places


def _add_row(catalog: Catalog, file: str, line: int, row: list[str], places: dict[str, tuple[int, str]]) -> None:
    def cell(field: str) -> str:
        place = places.get(field)
        return row[place[0]].strip() if place is not None and place[0] < len(row) else ""

    table, column = cell("table").upper(), cell("column").upper()
    if not table or not column:
        reason = "the row names no table" if not table else "the row names no column"
        span = UnreadSpan("database", file, line, 1, line, 1, 1, reason, ",".join(row)[:160], True)
        catalog.unread.append(span)
        return
    schema = cell("schema").upper()
    key = object_id(schema, ObjectType.TABLE, table)
    item = catalog.objects.get(key)
    if item is None:
        item = Object(
            key, ObjectType.TABLE, schema, table, file, line, "", 1, default_schema=schema, columns=[], details={}
        )
        catalog.add(item)
    for fact in ("rows", "bytes"):
        if cell(fact).replace("_", "").isdigit():
            item.details[fact] = cell(fact).replace("_", "")
    item.columns.append(
        Column(
            column,
            _type(cell),
            _is_nullable(cell("nullable"), places),
            cell("default"),
            comment=cell("comment"),
            line=line,
        )
    )
    if cell("key").lower() not in _NO and cell("key").lower() not in ("-", "fk", "mul", "foreign"):
        item.columns[-1].nullable = False
        _add_to_key(catalog, item, column, line)
    if cell("references"):
        _add_reference(catalog, item, column, cell("references"), line)


def _type(cell) -> DataType:  # type: ignore[no-untyped-def]
    """Build a type from its name, which may hold its length, and from the cells beside it."""
    match = _TYPE.match(cell("type"))
    name = (match[1] if match else cell("type")).upper()
    if match and match[2]:
        return DataType(name, tuple(part.strip() for part in match[2].split(",")))
    if cell("precision"):
        scale = cell("scale")
        return DataType(name, (cell("precision"), scale) if scale and scale != "0" else (cell("precision"),))
    return DataType(name, (cell("length"),)) if cell("length") else DataType(name)


def _is_nullable(value: str, places: dict[str, tuple[int, str]]) -> bool:
    if not value:
        return True
    said = value.lower() not in _NO
    return not said if places["nullable"][1] in _NEGATED else said


def _add_to_key(catalog: Catalog, table: Object, column: str, line: int) -> None:
    name = f"{table.name}_PK"
    key = object_id(table.schema, ObjectType.CONSTRAINT, name)
    item = catalog.objects.get(key)
    if item is None:
        constraint = Constraint(name, "primary key", [])
        item = Object(
            key, ObjectType.CONSTRAINT, table.schema, name, table.file, line, "", 1, table.id, constraint=constraint
        )
        catalog.add(item)
    assert item.constraint is not None
    item.constraint.columns.append(column)


def _add_reference(catalog: Catalog, table: Object, column: str, target: str, line: int) -> None:
    """Add a foreign key written as table.column, schema.table.column or table(column)."""
    parts = [part.upper() for part in re.findall(r"[^.()\s]+", target)]
    name = f"{table.name}_{column}_FK"
    columns = [parts.pop()] if len(parts) > 1 else []
    constraint = Constraint(name, "foreign key", [column], references=tuple(parts), reference_columns=columns)
    key = object_id(table.schema, ObjectType.CONSTRAINT, name)
    catalog.add(
        Object(key, ObjectType.CONSTRAINT, table.schema, name, table.file, line, "", 1, table.id, constraint=constraint,
               default_schema=table.schema)
    )  # fmt: skip


def _definition(item: Object) -> str:
    """Write what a table or constraint of a dictionary amounts to, for people."""
    if item.constraint is not None:
        into = f" references {'.'.join(item.constraint.references)}" if item.constraint.references else ""
        return f"{item.constraint.form} ({', '.join(item.constraint.columns)}){into}".lower()
    lines = [f"    {c.name.lower()} {str(c.type).lower()}{'' if c.nullable else ' not null'}" for c in item.columns]
    return f"{item.name.lower()} (\n" + ",\n".join(lines) + "\n)"
