"""Queries of engines other than Oracle: limits, joins, hints, aliases and the order of NULL, as PostgreSQL writes them."""

from functools import partial
from typing import Final

from hullsound.catalog.model import CODE_TYPES
from hullsound.draft.conversions.case import ignores_case
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import pattern_as_regex, text_value
from hullsound.sql.literals import has_letters
from hullsound.sql.tree import (
    Call,
    Clause,
    Comparison,
    Join,
    Literal,
    Name,
    Node,
    Operation,
    Query,
    QueryStatement,
    Select,
    SelectItem,
    TableRef,
)

from .grouping import add_any_values, add_locked_groups
from .join_words import add_join_words
from .loose_queries import refuse_loose_queries
from .null_orders import add_null_orders
from .numbering import add_counted_rows
from .recursion import add_recursion
from .repeated_aliases import add_having
from .row_locks import end_of_tables

_LOCK_IN_SHARE_MODE: Final = 4
"""Tokens of LOCK IN SHARE MODE."""
_NAMING_TABLES: Final = ("oracle", "postgresql")
"""Engines whose FOR UPDATE OF is a construct with an answer of its own."""
_DROPPED: Final = frozenset(
    ("table-hint", "query-option", "index-hint", "join-hint", "optimize-for", "for-read-only", "for-fetch-only",
     "isolation-clause", "locking-modifier", "procedure-analyse", "cursor-read-only")
)  # fmt: skip
"""Clauses that nothing takes the place of; those that matter have a stance that says so."""
_MODIFIERS: Final = frozenset(
    """SQL_NO_CACHE SQL_CACHE SQL_BIG_RESULT SQL_SMALL_RESULT SQL_BUFFER_RESULT HIGH_PRIORITY STRAIGHT_JOIN
    SQL_CALC_FOUND_ROWS""".split()
)
_APPLYING: Final = frozenset(("CROSS APPLY", "OUTER APPLY"))
_DUMMIES: Final = frozenset(("DUAL", "SYSDUMMY1"))


_ANY_VALUE_SINCE: Final = 16


def add_query_points(rewriter: Rewriter) -> None:
    """Add what queries need in every place: views, cursors, subqueries, changes."""
    subject = rewriter.subject
    for clause in subject.all(Clause):
        add_clause(clause, rewriter)
    for select in subject.all(Select):
        _add_select(select, rewriter)
    for query in subject.all(Query):
        _add_limit(query, rewriter)
    for clause in subject.all(Clause):
        if clause.name == "table-hint":
            _add_lock(clause, rewriter)
    add_applied_joins(rewriter)
    add_join_words(rewriter)
    refuse_loose_queries(rewriter)
    if rewriter.catalog.engine in ("mysql", "mariadb", "sqlite") and rewriter.target.version >= _ANY_VALUE_SINCE:
        add_any_values(rewriter)
    if rewriter.catalog.engine in ("mysql", "mariadb"):
        add_counted_rows(rewriter)
        add_locked_groups(rewriter)
    if rewriter.catalog.engine in ("sqlserver", "ase"):
        for comparison in subject.all(Comparison):
            _add_pattern(comparison, rewriter)
    for call in subject.all(Call):
        if call.parts == ("COUNT",) and len(call.arguments) > 1:
            rewriter.add(Point(call.first, call.last, partial(_count_of_several, call)))
    add_recursion(rewriter)
    add_null_orders(rewriter)


def add_clause(clause: Clause, rewriter: Rewriter) -> None:
    if clause.name in _DROPPED:
        rewriter.replace(clause.first, clause.last, " ")
    elif clause.name == "limit":
        words = rewriter.words
        comma = next((i for i in range(clause.first, clause.last) if words[i] == ","), -1)
        if comma > 0:
            rewriter.add(Point(clause.first, clause.last, partial(_offset_limit, clause, comma)))
    elif rewriter.target.engine == "postgresql":
        _add_locking_clause(clause, rewriter)


def _add_locking_clause(clause: Clause, rewriter: Rewriter) -> None:
    if clause.name == "for-update-of" and rewriter.catalog.engine not in _NAMING_TABLES:
        # Others name the columns that change, which PostgreSQL would take for tables.
        end = end_of_tables(clause, rewriter)
        rewriter.replace(clause.first, end, "FOR UPDATE" if end == clause.last else "FOR UPDATE ")
    elif clause.name == "lock-in-share-mode":
        rewriter.replace(clause.first, clause.first + _LOCK_IN_SHARE_MODE, "FOR SHARE")


def _offset_limit(clause: Clause, comma: int, rewriter: Rewriter) -> str:
    return f"LIMIT {rewriter.text(comma + 1, clause.last)} OFFSET {rewriter.text(clause.first + 1, comma)}"


def _add_select(select: Select, rewriter: Rewriter) -> None:
    add_modifiers(select, rewriter)
    for item in select.items:
        add_item(item, rewriter)
    if len(select.sources) == 1 and select.from_at >= 0:
        source = select.sources[0]
        if isinstance(source, TableRef) and source.parts[-1] in _DUMMIES and not _is_table(source, rewriter):
            rewriter.replace(select.from_at, source.last, "")
    add_rollup(select, rewriter)
    add_having(select, rewriter)


def add_modifiers(select: Select, rewriter: Rewriter) -> None:
    """Leave out what MySQL and MariaDB are told behind SELECT about how to find rows."""
    if rewriter.catalog.engine not in ("mysql", "mariadb"):
        return
    words = rewriter.words
    at = select.first + 1
    while at < select.last and words[at] in (*_MODIFIERS, "DISTINCTROW", "DISTINCT", "ALL"):
        if words[at] in _MODIFIERS:
            rewriter.replace(at, at + 1, "")
        elif words[at] == "DISTINCTROW":
            rewriter.replace(at, at + 1, "DISTINCT")
        at += 1


def _is_table(source: TableRef, rewriter: Rewriter) -> bool:
    return bool(rewriter.catalog.tables_named(source.parts[-1]))


def add_rollup(select: Select, rewriter: Rewriter) -> None:
    """Write GROUP BY a, b WITH ROLLUP or CUBE as ROLLUP (a, b), the form of the standard."""
    last = select.group[-1].last if select.group else 0
    words = rewriter.words[last : last + 2]
    if select.group and words[:1] == ["WITH"] and words[1] in ("ROLLUP", "CUBE"):
        rewriter.add(Point(select.group[0].first, last + 2, partial(_together, words[1], select.group)))


def _together(word: str, group: list[Node], rewriter: Rewriter) -> str:
    return f"{word} ({rewriter.nodes(group)})"


def add_item(item: SelectItem, rewriter: Rewriter) -> None:
    """Write alias = value and value 'alias' as value AS alias."""
    value = item.value
    if (
        isinstance(value, Operation)
        and value.operators[:1] == ["="]
        and rewriter.catalog.engine in ("sqlserver", "ase")
    ):
        name = value.operands[0]
        if isinstance(name, Literal) or (isinstance(name, Name) and not name.parts[0].startswith("@")):
            rewriter.add(Point(item.first, item.last, partial(_named_item, value)))
        return
    last = item.last - 1
    if (
        item.alias
        and last >= value.last
        and rewriter.words[last][:1] in ("'", '"')
        and rewriter.tokens.kinds[last] == 3
    ):
        before = "" if rewriter.words[last - 1] == "AS" else "AS "
        rewriter.replace(last, item.last, before + rewriter.names.write(item.alias))


def _named_item(value: Operation, rewriter: Rewriter) -> str:
    name = value.operands[0]
    alias = name.parts[-1] if isinstance(name, Name) else (text_value(name, rewriter) or "").upper()
    if len(value.operands) != 2:
        raise CannotDraft("an alias by = before a comparison")
    return f"{rewriter.node(value.operands[1])} AS {rewriter.names.write(alias)}"


def _add_limit(query: Query, rewriter: Rewriter) -> None:
    """Turn TOP n of a query block into LIMIT n behind the whole query."""
    words = rewriter.words
    for block in query.blocks:
        if not isinstance(block, Select):
            continue
        at = block.first + 1
        while words[at] in ("DISTINCT", "ALL"):
            at += 1
        if words[at] != "TOP":
            continue
        clause = next((c for c in rewriter.subject.all(Clause) if c.name == "top" and c.first == at), None)
        if clause is None:
            continue
        if len(query.blocks) > 1:
            rewriter.add(Point(clause.first, clause.last, _refuse_top))
            continue
        rewriter.replace(clause.first, clause.last, "")
        if keeps_all(clause, words):
            continue
        end = _end(query, rewriter)
        rewriter.add(Point(end, end, partial(limit_of_top, clause), behind=max(query.first, block.from_at)))


def keeps_all(clause: Clause, words: list[str]) -> bool:
    """Whether a limit is TOP 100 PERCENT, which keeps every row."""
    inside = [word for word in words[clause.first : clause.last] if word not in "()"]
    return inside[1:] == ["100", "PERCENT"]


def _end(query: Query, rewriter: Rewriter) -> int:
    """Return the end of a query without the options that are taken off it."""
    end = query.last
    for clause in rewriter.subject.all(Clause):
        if clause.name == "query-option" and clause.last == end:
            end = clause.first
    return end


_LOCKING: Final = frozenset(("UPDLOCK", "XLOCK", "TABLOCKX"))
_ORDERED_SETS: Final = frozenset(("PERCENTILE_CONT", "PERCENTILE_DISC", "MEDIAN"))
_AGGREGATES: Final = frozenset(("COUNT", "SUM", "MAX", "MIN", "AVG", "COUNT_BIG", "STRING_AGG", "ROW_NUMBER", "RANK"))


def _add_lock(hint: Clause, rewriter: Rewriter) -> None:
    """Lock the rows of a table whose hint asks for it, where a query may: one without groups and distinct rows."""
    words = set(rewriter.words[hint.first : hint.last])
    if not words & _LOCKING:
        return
    queries = [q for q in rewriter.subject.all(Query) if q.first < hint.first and hint.last <= q.last]
    query = min(queries, key=lambda q: q.last - q.first, default=None)
    block = query.blocks[0] if query is not None and len(query.blocks) == 1 else None
    tables = [t for t in rewriter.subject.all(TableRef) if t.first < hint.first and hint.last <= t.last]
    if query is None or not isinstance(block, Select) or not tables or tables[0].parts[-1][:1] in "@#":
        return
    calls = {c.parts[-1] for c in rewriter.subject.all(Call) if block.first < c.first < block.last}
    if block.group or block.having is not None or calls & _AGGREGATES or rewriter.words[block.first + 1] == "DISTINCT":
        return
    alias = rewriter.names.write(tables[0].alias or tables[0].parts[-1])
    text = f"\nFOR UPDATE OF {alias}{' SKIP LOCKED' if 'READPAST' in words else ''}"
    end = _end(query, rewriter)
    rewriter.add(Point(end, end, lambda r: text, behind=max(query.first, block.from_at)))


def _count_of_several(call: Call, rewriter: Rewriter) -> str:
    """Count different rows of values, of which none is NULL."""
    values = [rewriter.node(each) for each in call.arguments]
    known = " AND ".join(f"{value} IS NOT NULL" for value in values)
    return f"COUNT(DISTINCT CASE WHEN {known} THEN ({', '.join(values)}) END)"


def add_refusals(rewriter: Rewriter) -> None:
    """Refuse what PostgreSQL has in no form, whatever construct it belongs to."""
    for call in rewriter.subject.all(Call):
        if call.parts[-1] in _ORDERED_SETS and call.over is not None:
            rewriter.add(Point(call.first, call.last, _refuse_ordered_set, rank=9))
        owner = rewriter.catalog.objects.get(rewriter.owner)
        if call.parts == ("ROW_COUNT",) and owner is not None and owner.type not in CODE_TYPES:
            rewriter.add(Point(call.first, call.last, _refuse_row_count, rank=9))


def _refuse_row_count(rewriter: Rewriter) -> str:
    raise CannotDraft("the rows of the last change, which only code can ask for")


def _refuse_ordered_set(rewriter: Rewriter) -> str:
    raise CannotDraft("a percentile over a window, which PostgreSQL has for groups alone")


def _refuse_top(rewriter: Rewriter) -> str:
    raise CannotDraft("TOP in one block of several")


def limit_of_top(clause: Clause, rewriter: Rewriter) -> str:
    """Write what TOP asks for as LIMIT, or FETCH FIRST where rows of the same rank come along."""
    words = rewriter.words
    ties = words[clause.last - 1] == "TIES" or words[clause.last : clause.last + 2] == ["WITH", "TIES"]
    last = clause.last - 2 if words[clause.last - 1] == "TIES" else clause.last
    if words[last - 1] == "PERCENT":
        raise CannotDraft("TOP n PERCENT")
    value = rewriter.text_elsewhere(clause.first + 1, last)
    return f"\nFETCH FIRST {value} ROWS WITH TIES" if ties else f"\nLIMIT {value}"


def add_applied_joins(rewriter: Rewriter) -> None:
    """Write CROSS APPLY and OUTER APPLY as lateral joins."""
    for join in rewriter.subject.all(Join):
        if join.kind in _APPLYING:
            outer = join.kind.startswith("OUTER")
            rewriter.replace(join.left.last, join.right.first, "LEFT JOIN LATERAL " if outer else "CROSS JOIN LATERAL ")
            if outer:
                rewriter.insert_behind(join, " ON TRUE")


def _add_pattern(node: Comparison, rewriter: Rewriter) -> None:
    """Turn a constant pattern of LIKE that holds [classes] into a regular expression."""
    pattern = text_value(node.operands[1], rewriter) if len(node.operands) > 1 else None
    if node.operator != "LIKE" or pattern is None or "[" not in pattern or node.operands[1].last < node.last:
        return
    operator = ("!~" if node.negated else "~") + ("*" if ignores_case(rewriter) and has_letters(pattern) else "")
    expression = literal(f"^{pattern_as_regex(pattern)}$")
    rewriter.add(Point(node.operands[0].last, node.last, lambda r: f"{operator} {expression}"))


def is_single_row(query: Query) -> bool:
    """Whether a query gives exactly one row, whatever the tables hold: aggregates without groups, or no table."""
    block = query.blocks[0] if len(query.blocks) == 1 else None
    if not isinstance(block, Select) or block.group or block.having is not None:
        return False
    return not block.sources and block.where is None


def result_queries(statements: list[Node]) -> list[QueryStatement]:
    """Return the statements among others that give out a result set: queries that keep it nowhere."""
    found = []
    for each in statements:
        if isinstance(each, QueryStatement):
            blocks = [b for b in each.query.blocks if isinstance(b, Select)]
            if not any(block.into or any(map(assigns, block.items)) for block in blocks):
                found.append(each)
    return found


def assigns(item: SelectItem) -> bool:
    """Whether an item of a select list gives a variable a value: @name = value."""
    value = item.value
    target = value.operands[0] if isinstance(value, Operation) and value.operators[:1] == ["="] else None
    return isinstance(target, Name) and target.parts[0].startswith("@")
