"""Texts of fixed length, whose blanks at the end count in the source: PostgreSQL drops them wherever a char becomes a text,
MySQL and MariaDB wherever one is read.

PostgreSQL 18, "Character Types"; Oracle SQL Language Reference, "Data Type Comparison Rules"; Transact-SQL reference, "char and
varchar"; Db2 11.5 SQL Reference, "Character strings".
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.signatures import choices_of, signature_of
from hullsound.analyze.types import Family
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Cast, Comparison, Literal, Name, Node, Operation, Paren

from .implicit import COMPARED, compared

_MYSQL: Final = ("mysql", "mariadb")
_TSQL: Final = ("sqlserver", "ase")
_FIXED: Final = frozenset(("CHAR", "NCHAR", "CHARACTER"))
_TRIMMING: Final = frozenset(("TRIM", "RTRIM", "LEN"))
"""Functions that drop blanks at the end themselves."""


def add_padding(rewriter: Rewriter) -> None:
    """Write the blanks of fixed-length columns that are joined, taken apart, measured or compared with other texts."""
    filled: set[int] = set()
    for value in _used(rewriter):
        for name, length in _padded(value, rewriter):
            if id(name) not in filled:
                filled.add(id(name))
                rewriter.wrap(name, partial(_filled, name, length), rank=8)
    if rewriter.target.engine in _MYSQL:
        _add_bare_constants(rewriter)
    elif rewriter.catalog.engine in _TSQL:
        for value in _searched(rewriter):
            if _ends_bare(value, rewriter) and any(_padded(value, rewriter)):
                rewriter.wrap(value, partial(_bare, value), rank=8)


def _filled(name: Node, length: int, rewriter: Rewriter) -> str:
    if rewriter.target.engine in _MYSQL:
        return f"RPAD({rewriter.node(name)}, {length}, ' ')"
    return f"rpad({rewriter.node(name)}, {length})"


def _add_bare_constants(rewriter: Rewriter) -> None:
    """Take the blanks off the end of constants beside texts of fixed length, which are read without theirs."""
    for value, other in compared(rewriter):
        text = text_value(other, rewriter) if isinstance(other, Literal) else None
        if text is not None and text.endswith(" ") and any(_padded(value, rewriter)):
            rewriter.wrap(other, partial(_stripped, text), rank=8)


def _stripped(text: str, rewriter: Rewriter) -> str:
    return rewriter.names.text(text.rstrip(" "))


def _used(rewriter: Rewriter) -> Iterator[Node]:
    """Yield the values whose blanks at the end matter."""
    is_tsql = rewriter.catalog.engine in _TSQL
    for node in rewriter.subject.all(Operation):
        operators = set(node.operators)
        if operators == {"||"} or (is_tsql and operators == {"+"}):
            yield from node.operands
        elif rewriter.catalog.engine == "oracle" and operators <= COMPARED and len(node.operands) == 2:
            yield from _unlike(node.operands, rewriter)
    if rewriter.target.engine in _MYSQL:
        yield from (value for value in _searched(rewriter) if not is_tsql or not _ends_bare(value, rewriter))
    for call in rewriter.subject.all(Call):
        signature = signature_of(call, rewriter.catalog.engine)
        if signature is None or call.parts[0] in _TRIMMING:
            continue
        for taken, argument in zip(signature.takes, call.arguments, strict=False):
            if taken == "text":
                yield argument


def _searched(rewriter: Rewriter) -> Iterator[Node]:
    return (test.operands[0] for test in rewriter.subject.all(Comparison) if test.operator.endswith("LIKE"))


def _ends_bare(value: Node, rewriter: Rewriter) -> bool:
    """Whether LIKE of T-SQL takes no notice of blanks at the end of a value: of char, not of nchar (reference, "LIKE")."""
    kind = rewriter.types.source_type(value)
    return isinstance(value, Name) and kind is not None and kind.name in ("CHAR", "CHARACTER")


def _bare(name: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(name)} AS text)"


def _unlike(operands: list[Node], rewriter: Rewriter) -> Iterator[Node]:
    """Yield the fixed-length text that Oracle compares with one of another length as it is, blanks included."""
    for value, other in (operands, operands[::-1]):
        is_open = isinstance(other, Literal) or rewriter.types.family(other) is not Family.TEXT
        if not is_open and not _is_fixed(rewriter.types.source_type(other), rewriter):
            yield value


def _is_fixed(source: DataType | None, rewriter: Rewriter) -> bool:
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    return logical is not None and logical.kind == "fixed-text"


def is_fixed_text(node: Node, rewriter: Rewriter) -> bool:
    """Whether a value is, or may be, a text of fixed length."""
    return any(_padded(node, rewriter)) or _is_fixed(rewriter.types.source_type(node), rewriter)


def _padded(node: Node, rewriter: Rewriter) -> Iterator[tuple[Node, int]]:
    """Yield the columns and casts of fixed length beyond 1 that a value may be, each with its length."""
    if isinstance(node, Paren):
        yield from _padded(node.inner, rewriter)
    elif isinstance(node, Cast):
        length = node.type.arguments[0] if node.type.name in _FIXED and node.type.arguments else ""
        if length.isdecimal() and int(length) > 1:
            yield node, int(length)
    elif isinstance(node, Name):
        source = rewriter.types.source_type(node)
        logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
        column = rewriter.columns.column(node) if rewriter.catalog.engine == "ase" else None
        is_varying = column is not None and column.nullable  # ASE keeps these without blanks
        if logical is not None and logical.kind == "fixed-text" and logical.length > 1 and not is_varying:
            yield node, logical.length
    else:
        for each in choices_of(node, rewriter.catalog.engine):
            yield from _padded(each, rewriter)
