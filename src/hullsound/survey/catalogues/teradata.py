"""Teradata: the texts that SHOW gave for each object."""

from collections.abc import Iterator
from typing import Final

from .model import Capture, Row, Statement, literal

KINDS: Final = {
    "T": "table", "O": "table", "I": "join index", "V": "view", "M": "macro", "P": "procedure", "F": "function", "G": "trigger",
}  # fmt: skip
"""Kinds of objects in DBC.TablesV, in the order in which they can be made."""
_WORDS: Final = {"F": "SPECIFIC FUNCTION", "O": "TABLE"}
_ORDER: Final = tuple(KINDS)


def show(row: Row) -> str:
    """Return the statement that asks for an object's text."""
    schema, kind, name = (str(part).strip() for part in row[:3])
    return f"SHOW {_WORDS.get(kind, KINDS[kind].upper())} {_quoted(schema)}.{_quoted(name)}"


def assemble(capture: Capture) -> Iterator[Statement]:
    """Give the texts in an order in which they can be made, with the comments."""
    texts = {row[:3]: row[3] for row in capture.rows("texts")}
    for row in sorted(capture.rows("objects"), key=lambda row: _ORDER.index(str(row[1]).strip())):
        schema, kind, name, comment = row
        kind = str(kind).strip()
        if texts.get(row[:3]):
            yield Statement(schema, KINDS[kind], name, str(texts[row[:3]]).strip())
        if comment and kind in "TOV":
            where = f"{_quoted(schema)}.{_quoted(name)}"
            word = "VIEW" if kind == "V" else "TABLE"
            yield Statement(schema, "comment", name, f"COMMENT ON {word} {where} IS {literal(comment)}")


def _quoted(name: str) -> str:
    return '"' + name.replace('"', '""') + '"'
