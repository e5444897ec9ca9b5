"""Fixers for queries: joins, limits, set operators, names, date arithmetic."""

from functools import partial
from typing import Final

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.statements.recursion import add_recursion
from hullsound.sight.detector import Found
from hullsound.sight.detectors.conditions import conjuncts
from hullsound.sight.detectors.outer_joins import STAR_SIGNS, outer_joins, source_alias, star_joins
from hullsound.sight.detectors.rownum import RownumLimit, rownum_limits
from hullsound.sight.values import Value, combine, known_value, value_of
from hullsound.sql.tree import (
    Call,
    DerivedTable,
    Literal,
    Name,
    Node,
    Operation,
    OuterMark,
    Paren,
    Query,
    Select,
    TypedLiteral,
)

from . import fixer
from .functions import prepare_first_last
from .hierarchies import prepare_hierarchies
from .json import prepare_json
from .pivots import prepare_pivots
from .xml import prepare_xml


@fixer("minus")
def fix_minus(place: Found, rewriter: Rewriter) -> str:
    return "EXCEPT"


@fixer("select_unique")
def fix_select_unique(place: Found, rewriter: Rewriter) -> str:
    return "DISTINCT"


@fixer("unequal_signs")
def fix_unequal_signs(place: Found, rewriter: Rewriter) -> str:
    return "<>"


@fixer("delete_from")
def fix_delete(place: Found, rewriter: Rewriter) -> str:
    return "DELETE FROM"


@fixer("folded_quoted_name")
def fix_folded_name(place: Found, rewriter: Rewriter) -> str:
    name = rewriter.tokens.source(place.first, place.first + 1)[1:-1]
    return rewriter.names.write(name)


@fixer("update_alias")
def fix_update_alias(place: Found, rewriter: Rewriter) -> str:
    assert isinstance(place.node, Name)
    return rewriter.names.write(place.node.parts[-1])


@fixer("sequence_value")
def fix_sequence_value(place: Found, rewriter: Rewriter) -> str:
    assert isinstance(place.node, Name)
    *parts, word = place.node.parts
    owner = rewriter.catalog.objects.get(rewriter.owner)
    item = rewriter.catalog.resolve(tuple(parts), owner.default_schema if owner else "")
    name = rewriter.names.qualified(item.schema, item.name) if item else rewriter.names.qualified(*parts)
    return f"{word.lower()}({literal(name)})"


@fixer("row_address")
def fix_row_address(place: Found, rewriter: Rewriter) -> str:
    node = place.node
    if not isinstance(node, Name):
        raise CannotDraft("the address of a row in a form that is not known")
    return ".".join([*(rewriter.names.write(part) for part in node.parts[:-1]), "ctid"])


@fixer("derived_alias")
def fix_derived_alias(place: Found, rewriter: Rewriter) -> str:
    return f"{rewriter.text(place.first, place.last)} AS derived_{place.first}"


@fixer("for_update_of")
def fix_for_update_of(place: Found, rewriter: Rewriter) -> str:
    """Turn the list of columns into the aliases of their tables."""
    words = rewriter.words
    at = place.first + 3
    aliases: list[str] = []
    while at < place.last and words[at] not in ("NOWAIT", "SKIP", "WAIT"):
        if words[at + 1] == "." and words[at] not in aliases:
            aliases.append(words[at])
        at += 1
    of = f" OF {', '.join(rewriter.names.write(alias) for alias in aliases)}" if aliases else ""
    rest = rewriter.text(at, place.last)
    return f"FOR UPDATE{of}" + (f" {rest}" if rest else "")


@fixer("alternative_quoting")
def fix_alternative_quoting(place: Found, rewriter: Rewriter) -> str:
    source = rewriter.tokens.source(place.first, place.first + 1)
    return literal(source[source.index("'") + 2 : -2])


@fixer("empty_string")
def fix_empty_string(place: Found, rewriter: Rewriter) -> str:
    """Write NULL; where texts are joined or replaced by nothing the empty text stays, which NULL would turn into NULL."""
    parent = rewriter.subject.read.parent(place.node)
    joins = isinstance(parent, Operation) and "||" in parent.operators
    return "''" if joins or (isinstance(parent, Call) and parent.parts[-1] in _REPLACING) else "NULL"


@fixer("null_concatenation")
def fix_null_concatenation(place: Found, rewriter: Rewriter) -> str:
    assert isinstance(place.node, Operation)
    if any(operator != "||" for operator in place.node.operators):
        raise CannotDraft("|| mixes with + or - without parentheses")
    return f"concat({rewriter.nodes(place.node.operands)})"


_REPLACING: Final = frozenset(("REPLACE", "TRANSLATE", "REGEXP_REPLACE", "LISTAGG", "CONCAT"))

# --- date arithmetic ---


@fixer("date_plus_number")
def fix_date_plus_number(place: Found, rewriter: Rewriter) -> str:
    return _date_arithmetic(place, rewriter)


@fixer("date_minus_date")
def fix_date_minus_date(place: Found, rewriter: Rewriter) -> str:
    return _date_arithmetic(place, rewriter)


def _date_arithmetic(place: Found, rewriter: Rewriter) -> str:
    """Render a + b - c step by step: numbers beside dates become days, a difference of dates a number of days."""
    node = place.node
    assert isinstance(node, Operation)

    def known(operand: Node) -> Value:
        return known_value(value_of(operand, rewriter.subject), rewriter.catalog)

    running = known(node.operands[0])
    text = rewriter.node(node.operands[0])
    if isinstance(node.operands[0], TypedLiteral) and node.operands[0].form == "DATE":
        text = f"CAST({text} AS timestamp)"  # a difference of two dates would be a whole number
    for operator, operand in zip(node.operators, node.operands[1:], strict=True):
        right, piece = known(operand), rewriter.node(operand)
        dates = (running.kind in ("date", "timestamp"), right.kind in ("date", "timestamp"))
        if operator == "-" and running.kind == right.kind == "date":
            text = f"(extract(epoch FROM ({text} - {piece})) / 86400)"
        elif dates[0] and right.kind in ("number", ""):
            text = f"{text} {operator} {_days(operand, piece)}"
        elif dates[1] and operator == "+" and running.kind in ("number", ""):
            text = f"{_days(node.operands[0], text)} + {piece}"
        else:
            text = f"{text} {operator} {piece}"
        running = combine(running, operator, right)
    return text


def _days(node: Node, text: str) -> str:
    if isinstance(node, Literal):
        return f"interval '{text} day'" if text.isdigit() else f"{text} * interval '1 day'"
    simple = isinstance(node, Name | Paren)
    return f"{text} * interval '1 day'" if simple else f"({text}) * interval '1 day'"


# --- whole query blocks ---

PREPARED: Final = frozenset(("outer_join", "rownum_limit", "drop_dual", "with_recursive", "pivot", "rows_as_xml", "rows_as_json",
                               "connect_by", "keep_first_last", "star_join"))  # fmt: skip
"""Fixers that change several places of a query at once, so that they work on queries rather than on sightings."""


def prepare_queries(rewriter: Rewriter, wanted: dict[str, str]) -> None:
    """Add the points of constructs that change several places of a query at once; `wanted` are fixers in force and why."""
    if "pivot" in wanted:
        prepare_pivots(rewriter, wanted["pivot"])
    if "keep_first_last" in wanted:
        prepare_first_last(rewriter, wanted["keep_first_last"])
    if "connect_by" in wanted:
        prepare_hierarchies(rewriter, wanted["connect_by"])
    if "rows_as_xml" in wanted:
        prepare_xml(rewriter, wanted["rows_as_xml"])
    if "rows_as_json" in wanted:
        prepare_json(rewriter, wanted["rows_as_json"])
    if "outer_join" in wanted:
        _prepare_outer_joins(rewriter)
    if "star_join" in wanted:
        _prepare_star_joins(rewriter, wanted["star_join"])
    if "rownum_limit" in wanted:
        _prepare_rownum_limits(rewriter)
    if "drop_dual" in wanted:
        _prepare_dual(rewriter)
    if "with_recursive" in wanted:
        add_recursion(rewriter, "oracle.with-recursive")


def _prepare_dual(rewriter: Rewriter) -> None:
    for select in rewriter.subject.all(Select):
        words = rewriter.words
        at = select.from_at
        if at >= 0 and words[at + 1] == "DUAL" and len(select.sources) == 1:
            last = select.sources[0].last
            rewriter.replace(at, last, "", "oracle.dual")


def _prepare_rownum_limits(rewriter: Rewriter) -> None:
    is_top = rewriter.target.engine == "sqlserver"
    for limit in rownum_limits(rewriter.subject).values():
        select = limit.select
        assert select.where is not None
        others = [c for c in conjuncts(select.where) if c is not limit.condition]
        if select not in outer_joins(rewriter.subject):
            rewriter.add(Point(select.where_at, select.where.last, partial(_where, others), "oracle.rownum-limit"))
        elif is_top:
            raise CannotDraft("ROWNUM beside outer joins that are marked by (+)")
        query = _limited(limit, others, rewriter)
        if is_top:
            _put_top(limit, query, rewriter)
            continue
        if limit.is_counted:
            rewriter.insert(select.from_at, "FROM (SELECT 1 ", "oracle.rownum-limit")
        rewriter.add(Point(query.last, query.last, partial(_limit, limit), "oracle.rownum-limit", behind=query.first))


def _limited(limit: RownumLimit, others: list[Node], rewriter: Rewriter) -> Query:
    """Return the query that the limit belongs to: one in FROM that sorts its rows, where the order there is lost.

    Raises CannotDraft for one whose rows are chosen again after they were sorted.
    """
    source = limit.select.sources[0] if len(limit.select.sources) == 1 else None
    if rewriter.target.engine == "postgresql" or not isinstance(source, DerivedTable) or not source.query.order:
        return limit.query
    if others or limit.is_counted:
        raise CannotDraft("ROWNUM over rows that were sorted, beside other conditions")
    return source.query


def _put_top(limit: RownumLimit, query: Query, rewriter: Rewriter) -> None:
    block = query.blocks[0]
    if (
        not isinstance(block, Select)
        or len(query.blocks) > 1
        or rewriter.words[block.first + 1] in ("DISTINCT", "UNIQUE")
    ):
        raise CannotDraft("ROWNUM over several queries, or over rows that differ")
    if limit.is_counted:
        at = limit.select.from_at
        rewriter.add(Point(at, at, partial(_counted_top, limit), "oracle.rownum-limit"))
        rewriter.add(Point(query.last, query.last, lambda _: ") AS hs_rows", "oracle.rownum-limit", behind=query.first))
    else:
        at = block.items[0].first
        rewriter.add(Point(at, at, partial(_top, limit), "oracle.rownum-limit"))


def _top(limit: RownumLimit, rewriter: Rewriter) -> str:
    return f"TOP ({_count(limit, rewriter)}) "


def _counted_top(limit: RownumLimit, rewriter: Rewriter) -> str:
    return f"FROM (SELECT TOP ({_count(limit, rewriter)}) 1 AS hs_one "


def _where(conditions: list[Node], rewriter: Rewriter) -> str:
    return "WHERE " + rewriter.nodes(conditions, "\n   AND ") if conditions else ""


def _count(limit: RownumLimit, rewriter: Rewriter) -> str:
    """Write how many rows are kept. Raises CannotDraft for a number of SQL Server that may have a fraction."""
    value = rewriter.text_elsewhere(limit.limit.first, limit.limit.last)
    if rewriter.target.engine == "sqlserver" and not value.isdigit():
        if limit.is_strict:
            raise CannotDraft("ROWNUM below a number that may have a fraction")
        return f"CAST({value} AS bigint)"
    if limit.is_strict:
        return str(int(value) - 1) if value.isdigit() else f"({value}) - 1"
    return value


def _limit(limit: RownumLimit, rewriter: Rewriter) -> str:
    value = _count(limit, rewriter)
    if rewriter.target.engine in ("mysql", "mariadb") and not value.isdigit():
        raise CannotDraft("a limit that is no plain number of rows")
    return f" LIMIT {value}) AS hs_rows" if limit.is_counted else f" LIMIT {value}"


def _prepare_outer_joins(rewriter: Rewriter) -> None:
    limits = {limit.select: limit for limit in rownum_limits(rewriter.subject).values()}
    for select, plan in outer_joins(rewriter.subject).items():
        if plan.reason or select.where is None:
            continue
        aliases = {source_alias(source): source for source in select.sources}
        for mark in plan.marks:
            rewriter.add(Point(mark.first, mark.last, partial(_unmarked, mark), "oracle.outer-join-mark"))
        moved = {condition for conditions in plan.joins.values() for condition in conditions}
        limit = limits.get(select)
        kept = [c for c in conjuncts(select.where) if c not in moved and (limit is None or c is not limit.condition)]
        render = partial(_joins, plan.joins, aliases, kept)
        rewriter.add(Point(select.from_at, select.where.last, render, "oracle.outer-join-mark"))


def _prepare_star_joins(rewriter: Rewriter, construct: str) -> None:
    """Write joins by *= and =* as LEFT JOIN."""
    planned: set[int] = set()
    for select, plan in star_joins(rewriter.subject).items():
        if plan.reason or select.where is None:
            continue
        aliases = {source_alias(source): source for source in select.sources}
        moved = {condition for conditions in plan.joins.values() for condition in conditions}
        for at in (c.operands[0].last for c in moved if isinstance(c, Operation)):
            if rewriter.words[at] in STAR_SIGNS:
                rewriter.replace(at, at + 1, "=", construct)
                planned.add(at)
        kept = [c for c in conjuncts(select.where) if c not in moved]
        rewriter.add(Point(select.from_at, select.where.last, partial(_joins, plan.joins, aliases, kept), construct))
    for node in rewriter.subject.all(Operation):
        if set(node.operators) & STAR_SIGNS.keys() and node.operands[0].last not in planned:
            rewriter.add(Point(node.first, node.last, _refuse_star, construct))


def _refuse_star(rewriter: Rewriter) -> str:
    raise CannotDraft("an outer join by a sign whose tables are not clear")


def _unmarked(mark: OuterMark, rewriter: Rewriter) -> str:
    return rewriter.node(mark.name)


def _joins(joins: dict[str, list[Node]], aliases: dict[str, Node], kept: list[Node], rewriter: Rewriter) -> str:
    plain = [source for alias, source in aliases.items() if alias not in joins]
    text = "FROM " + "\n  CROSS JOIN ".join(rewriter.node(source) for source in plain)
    for alias, conditions in joins.items():
        text += f"\n  LEFT JOIN {rewriter.node(aliases[alias])} ON {rewriter.nodes(conditions, ' AND ')}"
    return f"{text}\n {_where(kept, rewriter)}" if kept else text
