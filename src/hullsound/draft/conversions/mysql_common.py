"""What drafts for MySQL and MariaDB write alike for several sources: counts, parts and replacements of texts.

Sources: MySQL 8.4 Reference Manual, "String Functions and Operators"; MariaDB 10.11, the pages of the same functions.
"""

from functools import partial

from hullsound.analyze.signatures import signature_of
from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Node, Operation

from .decimal_digits import gives_known_digits


def is_whole_constant(node: Node, rewriter: Rewriter) -> bool:
    """Whether a whole number above 0 is written there."""
    text = rewriter.subject.source(node)
    return text.isdigit() and int(text) > 0


def is_float(node: Node, rewriter: Rewriter) -> bool:
    """Whether the type of a value is that of floating-point numbers."""
    signature = signature_of(node, rewriter.catalog.engine) if isinstance(node, Call) else None
    if signature is not None and signature.gives == "float":
        return True
    kind = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, kind) if kind is not None else None
    return logical is not None and logical.kind == "float"


def add_exact_quotients(rewriter: Rewriter) -> None:
    """Divide decimals of many digits behind the point: a quotient has four more than what is divided, and no more."""
    for node in rewriter.subject.all(Operation):
        kinds = [rewriter.types.family(each) for each in node.operands] if "/" in node.operators else []
        is_decimal = Family.NUMBER in kinds and set(kinds) <= NUMBERS
        is_cut = rewriter.catalog.engine == "db2" and gives_known_digits(node, rewriter)
        if is_decimal and not is_cut and not any(is_float(each, rewriter) for each in node.operands):
            rewriter.wrap(node.operands[0], partial(_exact, node.operands[0]), rank=4)


def _exact(node: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS DECIMAL(65,20))"


def whole(node: Node, rewriter: Rewriter) -> str:
    """Write a count without its fraction, which the sources cut off and MySQL rounds."""
    text = rewriter.node(node)
    return f"TRUNCATE({text}, 0)" if rewriter.types.family(node) is Family.NUMBER else text


def part(call: Call, rewriter: Rewriter) -> str:
    """A part of a text by its place and length."""
    text, start, length = call.arguments
    return part_of(text, start, length, rewriter)


def part_of(text: Node, start: Node, length: Node, rewriter: Rewriter) -> str:
    """A part from a place below 1 loses as many signs as lie before the text."""
    given, size = rewriter.node(text), whole(length, rewriter)
    if is_whole_constant(start, rewriter):
        return f"SUBSTRING({given}, {rewriter.node(start)}, {size})"
    place = whole(start, rewriter)
    return f"SUBSTRING({given}, GREATEST({place}, 1), GREATEST({size} + LEAST({place}, 1) - 1, 0))"


def replaced_or_null(call: Call, rewriter: Rewriter) -> str:
    """REPLACE by NULL is NULL, in MariaDB only where something is replaced."""
    new = call.arguments[2]
    text = f"REPLACE({rewriter.nodes(call.arguments)})"
    return text if rewriter.types.is_never_null(new) else f"IF({rewriter.node(new)} IS NULL, NULL, {text})"
