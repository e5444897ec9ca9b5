"""Fixers for what most engines take and some targets refuse: keys by place, orders of views, limits within IN, rows of VALUES."""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.conversions.mysql_common import is_float
from hullsound.draft.conversions.scales import scale_of
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sight.detector import Found
from hullsound.sight.detectors.restricted import rows_of_values
from hullsound.sql.tree import Insert, Operation, Select

from . import call_of, fixer

AVERAGED: Final = {"sqlserver": "decimal(38, 10)", "mysql": "DECIMAL(65, 26)", "mariadb": "DECIMAL(65, 26)"}
"""Decimals whose average has as many digits as the target can give; MySQL and MariaDB add four."""
_NARROW: Final = ("tinyint", "smallint", "int", "integer")
"""Types of SQL Server whose sums an INT holds: Transact-SQL reference, "SUM"."""


@fixer("left_out")
def fix_left_out(place: Found, rewriter: Rewriter) -> str:
    return ""


@fixer("group_by_value")
def fix_group_by_value(place: Found, rewriter: Rewriter) -> str:
    """Write the value that stands at a place of the select list."""
    block = next((each for each in rewriter.subject.all(Select) if place.node in each.group), None)
    number = rewriter.words[place.first]
    if block is None or not number.isdigit() or not 0 < int(number) <= len(block.items):
        raise CannotDraft("GROUP BY a place that the select list does not have")
    return rewriter.elsewhere(block.items[int(number) - 1].value)


@fixer("derived_limit")
def fix_derived_limit(place: Found, rewriter: Rewriter) -> str:
    """Put a limited query into a derived table."""
    return f"SELECT * FROM ({rewriter.text(place.first, place.last)}) AS hs_limited"


@fixer("row_by_row")
def fix_row_by_row(place: Found, rewriter: Rewriter) -> str:
    """Write one INSERT for each row of VALUES."""
    insert = place.node
    if not isinstance(insert, Insert):
        raise CannotDraft("rows of values that no INSERT keeps")
    rows = list(rows_of_values(insert, rewriter.words))
    head = rewriter.text(insert.first, rows[0][0]).rstrip() + " "
    return ";\n".join(f"{head}{rewriter.text(first, last)}" for first, last in rows)


@fixer("decimal_average")
def fix_decimal_average(place: Found, rewriter: Rewriter) -> str:
    """Take an average of decimals, which keeps its fraction."""
    call = call_of(place)
    tail = rewriter.text(call.closing, place.last)
    quantifier = f"{call.quantifier} " if call.quantifier else ""
    return f"AVG({quantifier}CAST({rewriter.node(call.arguments[0])} AS {AVERAGED[rewriter.target.engine]}){tail}"


@fixer("quotient_of_scale")
def fix_quotient_of_scale(place: Found, rewriter: Rewriter) -> str:
    """Round each quotient of decimals to the digits behind the point of its operands, as Teradata does."""
    node = place.node
    if not isinstance(node, Operation) or not set(node.operators) <= {"*", "/"}:
        raise CannotDraft("a quotient among other operators")
    if any(is_float(each, rewriter) for each in node.operands):
        return rewriter.text(place.first, place.last)
    scales = [scale_of(each, rewriter) for each in node.operands]
    text, scale = rewriter.node(node.operands[0]), scales[0]
    for operator, operand, other in zip(node.operators, node.operands[1:], scales[1:], strict=True):
        if operator == "*":
            text, scale = f"{text} * {rewriter.node(operand)}", scale + other
            continue
        scale = max(scale, other)
        if min(scales) < 0 or scale == 0:
            raise CannotDraft("a quotient of numbers whose digits are not known, or of whole ones among others")
        wider = AVERAGED.get(rewriter.target.engine)
        text = f"ROUND({f'CAST({text} AS {wider})' if wider else text} / {rewriter.node(operand)}, {scale})"
    return text


@fixer("wide_sum")
def fix_wide_sum(place: Found, rewriter: Rewriter) -> str:
    """Add up whole numbers in a type that is wider than theirs."""
    call = call_of(place)
    tail = rewriter.text(call.closing, place.last)
    quantifier = f"{call.quantifier} " if call.quantifier else ""
    value = call.arguments[0]
    source = rewriter.types.source_type(value)
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target) if source is not None else None
    is_narrow = choice is not None and choice.text in _NARROW
    wider = "bigint" if is_narrow or rewriter.types.family(call) is Family.INTEGER else "decimal(38, 0)"
    return f"SUM({quantifier}CAST({rewriter.node(value)} AS {wider}){tail}"


@fixer("closed_bracket")
def fix_closed_bracket(place: Found, rewriter: Rewriter) -> str:
    """Write a bracket as the class that holds it alone."""
    return rewriter.text(place.first, place.last).replace("[", "[[]")


@fixer("named_escape")
def fix_named_escape(place: Found, rewriter: Rewriter) -> str:
    """Name the backslash as the sign that escapes."""
    return f"{rewriter.text(place.first, place.last)} ESCAPE '\\'"
