"""What values of MySQL and MariaDB are in PostgreSQL: texts of fixed length and bits without a sign.

Sources: MySQL 8.4 Reference Manual, "The CHAR and VARCHAR Types" (read without blanks at the end) and "Bit Functions and Operators"
(over 64 bits without a sign); PostgreSQL 18, "Character Types", whose functions of any type take the blanks along.
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation, SelectItem

_OF_ANY_TYPE: Final = frozenset(
    "CONCAT_WS LENGTH OCTET_LENGTH BIT_LENGTH JSON_OBJECT JSON_ARRAY JSON_ARRAYAGG JSON_OBJECTAGG".split()
)
_OF_BITS: Final = ("BIT_OR", "BIT_XOR", "BIT_AND")
_ON_BITS: Final = frozenset(("&", "|", "^", "<<", ">>", "~"))


def add_mysql_values(rewriter: Rewriter) -> None:
    """Take blanks off texts of fixed length, write constants of bits, and note where bits may give another value."""
    for call in rewriter.subject.all(Call):
        name = call.parts[-1] if len(call.parts) == 1 else ""
        for argument in call.arguments if name in _OF_ANY_TYPE else ():
            if _is_fixed(argument, rewriter):
                rewriter.wrap(argument, partial(_bare, argument), rank=8)
        if name in _OF_BITS and any(_may_be_negative(each, rewriter) for each in call.arguments):
            rewriter.rendered.append(("convert.unsigned-bits", call.first))
    for constant in rewriter.subject.all(Literal):
        is_bits = rewriter.subject.source(constant)[:2].upper() == "B'"
        if is_bits and isinstance(rewriter.subject.read.parent(constant), SelectItem):
            rewriter.add(Point(constant.first, constant.last, partial(_bytes, constant)))
    for node in rewriter.subject.all(Operation):
        if set(node.operators) <= _ON_BITS:
            for operand in node.operands:
                if rewriter.types.family(operand) is Family.NUMBER:
                    rewriter.wrap(operand, partial(_rounded, operand), rank=7)
        if "|" in node.operators and any(_may_be_negative(each, rewriter) for each in node.operands):
            rewriter.rendered.append(("convert.unsigned-bits", node.first))
    for cast in rewriter.subject.all(Cast):
        if cast.type.name.startswith("UNSIGNED") and _may_be_negative(cast.value, rewriter):
            rewriter.rendered.append(("convert.unsigned-bits", cast.first))


def _rounded(value: Node, rewriter: Rewriter) -> str:
    return f"CAST(round({rewriter.node(value)}) AS bigint)"


def _bytes(constant: Literal, rewriter: Rewriter) -> str:
    """B'101' is bytes where it is shown (8.4 Reference Manual, "Bit-Value Literals")."""
    bits = rewriter.subject.source(constant)[2:-1]
    count = (len(bits) + 7) // 8
    return f"'\\x{int(bits or '0', 2):0{2 * count}x}'::bytea" if bits else "''::bytea"


def _is_fixed(value: Node, rewriter: Rewriter) -> bool:
    kind = rewriter.types.source_type(value) if isinstance(value, Name) else None
    logical = logical_type(rewriter.catalog.engine, kind) if kind is not None else None
    return logical is not None and logical.kind == "fixed-text"


def _bare(value: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(value)} AS text)"


def _may_be_negative(value: Node, rewriter: Rewriter) -> bool:
    """Whether a value is a column or variable of a whole number with a sign."""
    kind = rewriter.types.source_type(value) if isinstance(value, Name) else None
    logical = logical_type(rewriter.catalog.engine, kind) if kind is not None else None
    return logical is not None and logical.kind == "integer"
