"""Types through their neutral logical kind: what a source type means, and how a target writes it."""

from functools import lru_cache
from typing import Final

import msgspec

from hullsound.catalog.model import DataType
from hullsound.knowledge.engine_model import SourceTypeRow, Target
from hullsound.knowledge.model import Way
from hullsound.project import Project

from .load import load_source_types
from .targets import load_target_types


class LogicalType(msgspec.Struct, frozen=True):
    """A type free of any engine. `kind` is a key of the targets' type tables."""

    kind: str
    length: int = 0
    """In characters for text, in bytes for binary; 0 for none."""
    precision: int = 0
    scale: int = 0
    bits: int = 0


class TypeChoice(msgspec.Struct, frozen=True):
    """What a source type becomes on a target; `text` is '' where the target has nothing for it."""

    source: str
    logical: LogicalType
    text: str
    loses: str
    way: Way | None = None
    """How the column crosses, where the loss deserves a finding."""
    minutes: tuple[float, float, float] = (0.0, 0.0, 0.0)


_CLASSES: Final = {
    "text": "text", "fixed-text": "text", "large-text": "text", "enum": "text",
    "integer": "number", "unsigned": "number", "serial": "number", "decimal": "number", "decimal-free": "number",
    "decimal-whole": "number", "float": "number", "money": "number", "small-money": "number", "decimal-float": "number",
    "date-time": "date", "date": "date", "date-zero": "date",
    "date-time-thirds": "timestamp", "date-time-minutes": "timestamp", "timestamp": "timestamp",
    "timestamp-zone": "timestamp", "timestamp-local": "timestamp",
}  # fmt: skip
_SIZED: Final = frozenset(("integer", "unsigned", "float", "serial"))
"""Kinds whose bits are part of the key in the targets' tables."""
_ALIASES: Final = (
    ("CHARACTER VARYING", "VARCHAR"), ("CHAR VARYING", "VARCHAR"), ("CHARACTER", "CHAR"), ("INTEGER", "INT"),
    ("NUMERIC", "DECIMAL"), ("DEC(", "DECIMAL("), ("DOUBLE PRECISION", "DOUBLE"), ("BOOLEAN", "BOOL"),
    ("TIMESTAMP WITH TIME ZONE", "TIMESTAMPTZ"), ("TIMESTAMP WITHOUT TIME ZONE", "TIMESTAMP"), (" ", ""),
)  # fmt: skip
"""Spellings of standard SQL that every engine takes for each other."""


def is_same_type(one: str, other: str) -> bool:
    """Whether two types are written alike, spellings of standard SQL aside."""
    return _plain_spelling(one) == _plain_spelling(other)


@lru_cache(maxsize=4096)
def _plain_spelling(text: str) -> str:
    text = text.upper()
    for alias, plain in _ALIASES:
        text = text.replace(alias, plain)
    return text


@lru_cache(maxsize=4096)
def logical_type(engine: str, source: DataType) -> LogicalType | None:
    """Return the logical type of a source type; None if the engine has no such built-in type."""
    name = source.name.removesuffix(" ZEROFILL")
    if name.endswith("[]"):
        return LogicalType("array")
    row = load_source_types(engine).get(name) or _by_affinity(engine, name, bool(source.arguments))
    if row is None:
        return None
    numbers = [int(a) if a.lstrip("-").isdigit() else 0 for a in source.arguments]

    def argument(index: int) -> int:
        return numbers[index] if 0 <= index < len(numbers) else 0

    if row.logical == "number":
        if not numbers and row.default_precision > 0:
            return LogicalType("decimal", precision=row.default_precision)
        return _number(engine, source.arguments, numbers)
    is_greatest = row.length >= 0 and source.arguments[:1] == ("MAX",)
    if is_greatest:
        return LogicalType("large-binary" if "binary" in row.logical else "large-text")
    length = argument(row.length) or row.default_length
    precision = argument(row.precision) if row.precision >= 0 and numbers else row.default_precision
    bits = row.bits
    if row.logical == "float" and row.precision >= 0 and 0 < argument(row.precision) <= 24:
        bits = 32
    return LogicalType(row.logical, length=length, precision=precision, bits=bits)


_AFFINITIES: Final = (
    (("INT",), "INTEGER", "INTEGER"), (("CHAR", "CLOB", "TEXT"), "TEXT", "VARCHAR"), (("BLOB",), "BLOB", "BLOB"),
    (("REAL", "FLOA", "DOUB"), "REAL", "REAL"),
)  # fmt: skip
"""What a type name of SQLite holds -> the type that it means, without and with a length: "Datatypes In SQLite", 3.1. Other names
mean NUMERIC, which says too little of what is kept."""


def _by_affinity(engine: str, name: str, has_length: bool) -> SourceTypeRow | None:
    """Return the type that SQLite takes any name for that it does not know."""
    if engine != "sqlite":
        return None
    for parts, plain, sized in _AFFINITIES:
        if any(part in name for part in parts):
            return load_source_types(engine)[sized if has_length else plain]
    return None


def _number(engine: str, arguments: tuple[str, ...], numbers: list[int]) -> LogicalType:
    """Split a number type by its arguments: whole numbers that fit 64 bits, exact decimals, and numbers of any scale."""
    if not arguments or (arguments[0] == "*" and len(arguments) == 1):
        return LogicalType("decimal-free")
    precision = 38 if arguments[0] == "*" else numbers[0]
    scale = numbers[1] if len(numbers) > 1 else 0
    # Only Oracle writes its whole numbers so; elsewhere a decimal of scale 0 was chosen over an integer.
    if engine == "oracle" and scale == 0 and precision <= 18:
        return LogicalType("integer", precision=precision, bits=16 if precision <= 4 else 32 if precision <= 9 else 64)
    if scale < 0:
        return LogicalType("decimal", precision=precision - scale, scale=0)
    return LogicalType("decimal", precision=max(precision, scale), scale=scale)


def parse_type(text: str) -> DataType:
    """Return the type that a text such as DECIMAL(9, 2) writes."""
    name, _, rest = text.partition("(")
    arguments = tuple(each.strip() for each in rest.rstrip(") ").split(",")) if rest else ()
    return DataType(name.strip().upper(), arguments)


def class_of_kind(kind: str) -> str:
    """Return text, number, date, timestamp or '' for the kind of a logical type."""
    return "number" if kind == "number" else _CLASSES.get(kind, "")


def value_class(engine: str, name: str) -> str:
    """Return text, number, date, timestamp or '' for a type name of the source."""
    row = load_source_types(engine).get(name)
    return class_of_kind(row.logical) if row is not None else ""


def choose_column_type(
    engine: str, target: Target, project: Project, schema: str, table: str, column: str, source: DataType
) -> TypeChoice | None:
    """Return what a column's type becomes, by the project's own choice where it has one."""
    choice = choose_type(engine, source, target)
    has_rules = project.types or project.seen_types
    own = project.type_for(str(source), schema, table, column) if has_rules else ""
    if not own:
        return choice
    logical = choice.logical if choice is not None else LogicalType("own")
    return TypeChoice(str(source), logical, own, "")


@lru_cache(maxsize=4096)
def choose_type(engine: str, source: DataType, target: Target) -> TypeChoice | None:
    """Return what a source type becomes on a target; None if it is no built-in type of the source."""
    logical = logical_type(engine, source)
    if logical is None:
        return None
    key = f"{logical.kind}-{logical.bits}" if logical.kind in _SIZED else logical.kind
    row = load_target_types(target).get(key)
    if row is None:
        return TypeChoice(str(source), logical, "", "the target has no such type", Way.REWRITE)
    if logical.length and row.limit and logical.length > row.limit:
        return TypeChoice(
            str(source), logical, row.plain, row.loses or f"longer than {row.limit}", row.way, row.minutes
        )
    needs_plain = ("{length}" in row.render and not logical.length) or (
        "{precision}" in row.render and logical.precision < 0
    )
    text = row.plain if needs_plain and row.plain else row.render
    precision = max(logical.precision, 0)
    if row.digits:
        precision = min(precision, row.digits)
    text = text.format(
        length=logical.length, precision=precision, scale=logical.scale, members=", ".join(source.arguments)
    )
    is_kept = row.digits and logical.precision <= row.digits and not row.always
    if not row.render:
        return TypeChoice(str(source), logical, "", row.loses or "the target has no such type", row.way, row.minutes)
    return TypeChoice(
        str(source), logical, text, "" if is_kept else row.loses, None if is_kept else row.way, row.minutes
    )
