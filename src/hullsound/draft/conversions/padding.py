"""Texts of fixed length, whose blanks at the end count in the source: PostgreSQL drops them wherever a char becomes a text.

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
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation, Paren

_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">="))
_FIXED: Final = frozenset(("CHAR", "NCHAR", "CHARACTER"))
_TRIMMING: Final = frozenset(("TRIM", "RTRIM", "LEN"))
"""Functions that drop blanks at the end themselves."""


def add_padding(rewriter: Rewriter) -> None:
    """Write the blanks of fixed-length columns that are joined, taken apart, measured or compared with other texts."""
    for value in _used(rewriter):
        for name, length in _padded(value, rewriter):
            rewriter.wrap(name, partial(_filled, name, length), rank=8)


def _filled(name: Node, length: int, rewriter: Rewriter) -> str:
    return f"rpad({rewriter.node(name)}, {length})"


def _used(rewriter: Rewriter) -> Iterator[Node]:
    """Yield the values whose blanks at the end matter."""
    is_tsql = rewriter.catalog.engine in ("sqlserver", "ase")
    for node in rewriter.subject.all(Operation):
        operators = set(node.operators)
        if operators == {"||"} or (is_tsql and operators == {"+"}):
            yield from node.operands
        elif rewriter.catalog.engine == "oracle" and operators <= _COMPARED and len(node.operands) == 2:
            yield from _unlike(node.operands, rewriter)
    for call in rewriter.subject.all(Call):
        signature = signature_of(call, rewriter.catalog.engine)
        if signature is None or call.parts[0] in _TRIMMING:
            continue
        for taken, argument in zip(signature.takes, call.arguments, strict=False):
            if taken == "text":
                yield argument


def _unlike(operands: list[Node], rewriter: Rewriter) -> Iterator[Node]:
    """Yield the fixed-length text that Oracle compares with one of another length as it is, blanks included."""
    for value, other in (operands, operands[::-1]):
        is_open = isinstance(other, Literal) or rewriter.types.family(other) is not Family.TEXT
        if not is_open and not _is_fixed(rewriter.types.source_type(other), rewriter):
            yield value


def _is_fixed(source: DataType | None, rewriter: Rewriter) -> bool:
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    return logical is not None and logical.kind == "fixed-text"


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
