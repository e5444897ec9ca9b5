"""Fixers for rows that are joined to one text: LISTAGG, STRING_AGG and GROUP_CONCAT, read alike and written for each target.

Sources: Oracle Database 19c, "LISTAGG"; Transact-SQL reference, "STRING_AGG"; MySQL 8.4 Reference Manual, "GROUP_CONCAT";
PostgreSQL
18, "Aggregate Functions".
"""

from typing import Final, NamedTuple

from hullsound.analyze.types import Family
from hullsound.draft.conversions.casts import check_texts, text_operand
from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.mysql import quoted
from hullsound.draft.masks.writing import whole_text
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Node

from . import call_of, fixer

_MYSQL: Final = ("mysql", "mariadb")
_BY_ITSELF: Final = ","
"""What GROUP_CONCAT of MySQL and SQLite puts between values unless it is told otherwise."""


class JoinedRows(NamedTuple):
    """The texts of a group as one text."""

    value: Node
    separator: str
    order: str
    """ORDER BY with its items, as the target writes them; empty where any order will do."""
    is_distinct: bool


def read_joined_rows(call: Call, rewriter: Rewriter) -> JoinedRows:
    """Read a call that joins rows. Raises CannotDraft for a separator that is no constant, a window, a filter or an overflow."""
    words, separator, order, at = rewriter.words, "", "", call.closing + 1
    value, *more = call.arguments
    if call.over is not None or len(more) > 1:
        raise CannotDraft("rows joined over a window, or of several values")
    if more:
        known = text_value(more[0], rewriter)
        if known is None:
            raise CannotDraft("rows joined by a separator that is not a constant")
        separator = known
    elif call.parts[-1] == "GROUP_CONCAT":
        separator = _BY_ITSELF
    inside = more[-1].last if more else value.last
    if words[inside] == "ORDER":
        end = next((place for place in range(inside, call.closing) if words[place] == "SEPARATOR"), call.closing)
        order, inside = rewriter.text(inside, end).strip(), end
    if words[inside] == "SEPARATOR":
        separator = _constant_at(inside + 1, rewriter)
        inside += 2
    if inside != call.closing:
        raise CannotDraft("rows joined with words that tell of what is too long")
    if at < call.last and words[at] == "WITHIN":
        close = closing_of(rewriter, at + 2)
        order, at = rewriter.text(at + 3, close).strip(), close + 1
    if at < call.last:
        raise CannotDraft("rows joined over a window or by a filter")
    return JoinedRows(value, separator, order, call.quantifier in ("DISTINCT", "UNIQUE"))


def _constant_at(place: int, rewriter: Rewriter) -> str:
    source = rewriter.tokens.source(place, place + 1)
    if source[:1] not in ("'", '"') or "\\" in source:
        raise CannotDraft("rows joined by a separator that is not a constant")
    return source[1:-1].replace(source[0] * 2, source[0])


@fixer("rows_joined")
def fix_rows_joined(place: Found, rewriter: Rewriter) -> str:
    """LISTAGG, STRING_AGG and GROUP_CONCAT; the order stands where each target has it."""
    rows = read_joined_rows(call_of(place), rewriter)
    engine = rewriter.target.engine
    quantifier = "DISTINCT " if rows.is_distinct else ""
    order = f" {rows.order}" if rows.order else ""
    if engine in _MYSQL:
        return f"GROUP_CONCAT({quantifier}{rewriter.node(rows.value)}{order} SEPARATOR {quoted(rows.separator)})"
    if rewriter.types.family(rows.value) is Family.INTEGER:
        value = whole_text(rows.value, rewriter)
    else:
        check_texts([rows.value], rewriter)
        value = text_operand(rows.value, rewriter)
    separator = rewriter.names.text(rows.separator)
    if engine == "oracle":
        behind = f" WITHIN GROUP ({rows.order})" if rows.order else ""
        return f"LISTAGG({quantifier}{value}, {separator}){behind}"
    if rows.is_distinct:
        raise CannotDraft("distinct values that are joined, which the target does not do by one function")
    behind = f" WITHIN GROUP ({rows.order})" if rows.order else ""
    return f"STRING_AGG(CAST({value} AS nvarchar(max)), {separator}){behind}"
