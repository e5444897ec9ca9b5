"""Types through their neutral logical kind: what a source type means, and how a target writes it."""

from functools import lru_cache

import msgspec

from hullsound.catalog.model import DataType

from .load import load_source_types, load_target_types
from .model import Target


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


_CLASSES = {
    "text": "text", "fixed-text": "text", "large-text": "text",
    "integer": "number", "decimal": "number", "decimal-free": "number", "float": "number",
    "date-time": "date", "timestamp": "timestamp", "timestamp-zone": "timestamp", "timestamp-local": "timestamp",
}  # fmt: skip


def logical_type(engine: str, source: DataType) -> LogicalType | None:
    """Return the logical type of a source type; None if the engine has no such built-in type."""
    row = load_source_types(engine).get(source.name)
    if row is None:
        return None
    numbers = [int(a) if a.lstrip("-").isdigit() else 0 for a in source.arguments]

    def argument(index: int) -> int:
        return numbers[index] if 0 <= index < len(numbers) else 0

    if row.logical == "number":
        return _number(source.arguments, numbers)
    length = argument(row.length) or row.default_length
    precision = argument(row.precision) if row.precision >= 0 else 0
    if row.precision >= 0 and not source.arguments:
        precision = -1
    return LogicalType(row.logical, length=length, precision=precision, bits=row.bits)


def _number(arguments: tuple[str, ...], numbers: list[int]) -> LogicalType:
    """Split NUMBER by its arguments: whole numbers that fit 64 bits, exact decimals, and numbers of any scale."""
    if not arguments or (arguments[0] == "*" and len(arguments) == 1):
        return LogicalType("decimal-free")
    precision = 38 if arguments[0] == "*" else numbers[0]
    scale = numbers[1] if len(numbers) > 1 else 0
    if scale == 0 and precision <= 18:
        return LogicalType("integer", precision=precision, bits=16 if precision <= 4 else 32 if precision <= 9 else 64)
    if scale < 0:
        return LogicalType("decimal", precision=precision - scale, scale=0)
    return LogicalType("decimal", precision=max(precision, scale), scale=scale)


def value_class(engine: str, name: str) -> str:
    """Return text, number, date, timestamp or '' for a type name of the source."""
    row = load_source_types(engine).get(name)
    if row is None:
        return ""
    return "number" if row.logical == "number" else _CLASSES.get(row.logical, "")


@lru_cache(maxsize=4096)
def choose_type(engine: str, source: DataType, target: Target) -> TypeChoice | None:
    """Return what a source type becomes on a target; None if it is no built-in type of the source."""
    logical = logical_type(engine, source)
    if logical is None:
        return None
    key = f"{logical.kind}-{logical.bits}" if logical.kind in ("integer", "float") else logical.kind
    row = load_target_types(target.engine).get(key)
    if row is None:
        return TypeChoice(str(source), logical, "", "the target has no such type")
    if logical.length and row.limit and logical.length > row.limit:
        return TypeChoice(str(source), logical, row.plain, row.loses or f"longer than {row.limit}")
    needs_plain = ("{length}" in row.render and not logical.length) or (
        "{precision}" in row.render and logical.precision < 0
    )
    text = row.plain if needs_plain and row.plain else row.render
    text = text.format(length=logical.length, precision=max(logical.precision, 0), scale=logical.scale)
    return TypeChoice(str(source), logical, text, row.loses)
