"""How many bytes a column takes on a target, by the text of its type: what limits of keys and rows count."""

from functools import lru_cache
from typing import Final

from hullsound.knowledge.types import parse_type

LARGE: Final = -1
"""Of columns that are kept beside the row, and are no keys."""
_WHOLE: Final = {
    "tinyint": 1, "smallint": 2, "mediumint": 3, "int": 4, "integer": 4, "bigint": 8, "bit": 1, "boolean": 1, "real": 4, "float": 8,
    "double": 8, "double precision": 8, "date": 4, "time": 5, "datetime": 8, "datetime2": 8, "timestamp": 8, "datetimeoffset": 10,
    "smalldatetime": 4, "money": 8, "uniqueidentifier": 16, "uuid": 16, "year": 1, "number": 21, "rowversion": 8,
}  # fmt: skip
_CHARACTERS: Final = frozenset(("char", "varchar", "nchar", "nvarchar", "varchar2", "nvarchar2", "char varying"))
_BYTES: Final = frozenset(("binary", "varbinary", "raw"))
_LARGE: Final = (
    "text",
    "blob",
    "clob",
    "json",
    "xml",
    "long",
    "image",
    "ntext",
    "tinytext",
    "mediumtext",
    "longtext",
    "longblob",
)


@lru_cache(maxsize=4096)
def width_of(kind: str, character_bytes: int) -> int:
    """Return the most bytes of a value of a target type; LARGE for large objects, 0 where nothing is known."""
    parsed = parse_type(kind.split(" COLLATE ", maxsplit=1)[0].split(" CHARACTER SET ", maxsplit=1)[0])
    name = parsed.name.lower()
    length = parsed.arguments[0].split(" ")[0] if parsed.arguments else ""
    if name.endswith(_LARGE) or length.lower() == "max":
        return LARGE
    if name in _CHARACTERS:
        is_bytes = bool(parsed.arguments) and parsed.arguments[0].upper().endswith("BYTE")
        size = int(length) if length.isdigit() else 1
        return size if is_bytes or (character_bytes == 2 and not name.startswith("n")) else size * character_bytes
    if name in _BYTES:
        return int(length) if length.isdigit() else 1
    if name in ("decimal", "numeric"):
        return 5 + (int(length) if length.isdigit() else 18) // 9 * 4
    return _WHOLE.get(name, 0)


def is_fixed(kind: str) -> bool:
    """Whether every value of a type takes its full width."""
    return not kind.lower().startswith(("var", "nvar", "raw"))
