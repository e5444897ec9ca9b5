"""CONNECT BY of Oracle as a recursive common table: the walk carries its level, its place, its paths and its roots as columns.

The place is an array in PostgreSQL and a text elsewhere, built of the keys that siblings are ordered by.
"""

from dataclasses import dataclass, field
from functools import partial
from typing import Final

from hullsound.catalog.model import Column
from hullsound.draft.conversions.values import target_type
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.statements.number_rows import MOST_LEVELS
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Clause, CreateView, DerivedTable, Name, Node, Operation, Query, Select, TableRef

_MOST_DIGITS: Final = 18
"""Digits of a whole number that a sum in 64 bits holds."""
_TREE: Final = "hs_tree"
_LEVEL: Final = "hs_level"
_PLACE: Final = "hs_place"
_ABOVE: Final = "hs_above"
"""Alias of the rows of the level above, which PRIOR means."""
_BELOW: Final = "hs_below"
"""Alias of the rows of the level below, which a leaf does not have."""


@dataclass
class Walk:
    """One hierarchical query block, and what its rows carry from level to level."""

    query: Query
    select: Select
    alias: str
    prior: str = _ABOVE
    """Alias that PRIOR means in what is being rendered."""
    own: str = ""
    """Alias that other names mean in what is being rendered; '' leaves them as they are."""
    carried: dict[Node, str] = field(default_factory=dict)
    """Columns for roots, paths and values of the level above, by the node that asks for them."""


def prepare_hierarchies(rewriter: Rewriter, construct: str) -> None:
    """Add the points of each hierarchical query block."""
    for query in rewriter.subject.all(Query):
        for block in query.blocks:
            if isinstance(block, Select) and block.connect_by is not None:
                _add_walk(query, block, rewriter, construct)


def _add_walk(query: Query, block: Select, rewriter: Rewriter, construct: str) -> None:
    generator = _generator_limit(block, rewriter)
    source = block.sources[0] if len(block.sources) == 1 else None
    alias = ""
    if isinstance(source, TableRef | DerivedTable):
        title = source.alias or (source.parts[-1] if isinstance(source, TableRef) else "")
        alias = rewriter.names.write(title) if title else "hs_rows"
    walk = Walk(query, block, alias)
    inside = [n for n in rewriter.subject.all(Name) if query.first <= n.first < query.last]
    inner = [
        q for q in rewriter.subject.all(Query) if q is not query and query.first <= q.first and q.last <= query.last
    ]
    inside = [n for n in inside if not any(q.first <= n.first < q.last for q in inner)]
    for name in inside:
        if name.parts == ("LEVEL",):
            rewriter.add(Point(name.first, name.last, partial(_level, walk), construct))
        elif name.parts == ("CONNECT_BY_ISLEAF",):
            rewriter.add(Point(name.first, name.last, partial(_leaf, walk), construct))
        elif name.parts == ("CONNECT_BY_ISCYCLE",):
            rewriter.add(Point(name.first, name.last, _refuse_cycle, construct))
        else:
            rewriter.wrap(name, partial(_name, walk, name), rank=5)
    _carry(walk, rewriter, construct)
    end = max(block.last, query.last if len(query.blocks) == 1 else block.last)
    render = partial(_generated, walk, generator) if generator is not None else partial(_recursive, walk)
    rewriter.add(Point(block.first, end, render, construct, rank=7))


def _refuse_cycle(rewriter: Rewriter) -> str:
    raise CannotDraft("CONNECT_BY_ISCYCLE")


def _carry(walk: Walk, rewriter: Rewriter, construct: str) -> None:
    """Add the points of what the walk carries along."""
    block = walk.select
    assert block.connect_by is not None
    asked: list[Node] = [c for c in rewriter.subject.all(Call) if c.parts[-1] == "SYS_CONNECT_BY_PATH"]
    for operation in rewriter.subject.all(Operation):
        in_walk = block.connect_by.first <= operation.first < block.connect_by.last
        if operation.operators == ["CONNECT_BY_ROOT"] or (operation.operators == ["PRIOR"] and not in_walk):
            asked.append(operation)
        elif operation.operators == ["PRIOR"]:
            rewriter.add(Point(operation.first, operation.last, partial(_prior, walk, operation), construct, rank=6))
    known: dict[str, str] = {}
    for node in asked:
        if walk.query.first <= node.first < walk.query.last:
            text = " ".join(rewriter.words[node.first : node.last])
            walk.carried[node] = known.setdefault(text, f"hs_carried{len(known) + 1}")
            rewriter.add(Point(node.first, node.last, partial(_carried, walk, node), construct, rank=6))


def _level(walk: Walk, rewriter: Rewriter) -> str:
    return f"{walk.prior}.{_LEVEL} + 1" if walk.own else _LEVEL


def _name(walk: Walk, name: Name, rewriter: Rewriter) -> str:
    text = rewriter.node(name)
    return f"{walk.own}.{rewriter.names.write(name.parts[-1])}" if walk.own and len(name.parts) < 3 else text


def _prior(walk: Walk, node: Operation, rewriter: Rewriter) -> str:
    own, walk.own = walk.own, walk.prior
    try:
        return rewriter.node(node.operands[0])
    finally:
        walk.own = own


def _carried(walk: Walk, node: Node, rewriter: Rewriter) -> str:
    return walk.carried[node]


def _leaf(walk: Walk, rewriter: Rewriter) -> str:
    """A leaf is a row below which no other one stands."""
    condition = _condition(walk, prior=walk.alias, own=_BELOW, rewriter=rewriter)
    return (
        f"(CASE WHEN EXISTS (SELECT 1 FROM {_source(walk, rewriter)} AS {_BELOW} WHERE {condition}) THEN 0 ELSE 1 END)"
    )


def _condition(walk: Walk, prior: str, own: str, rewriter: Rewriter) -> str:
    assert walk.select.connect_by is not None
    before = walk.prior, walk.own
    walk.prior, walk.own = prior, own
    try:
        return rewriter.elsewhere(walk.select.connect_by)
    finally:
        walk.prior, walk.own = before


def _source(walk: Walk, rewriter: Rewriter) -> str:
    """Return the rows that are walked over, without their alias."""
    source = walk.select.sources[0]
    if isinstance(source, TableRef):
        return rewriter.text_elsewhere(source.first, source.first + 2 * len(source.parts) - 1)
    assert isinstance(source, DerivedTable)
    return f"({rewriter.elsewhere(source.query)})"


def _recursive(walk: Walk, rewriter: Rewriter) -> str:
    block, query = walk.select, walk.query
    if len(block.sources) != 1 or not walk.alias or query.common:
        raise CannotDraft("CONNECT BY over several tables, or behind WITH")
    if len(query.blocks) > 1:
        raise CannotDraft("CONNECT BY in one block of several")
    source, alias = f"{_source(walk, rewriter)} AS {walk.alias}", walk.alias
    first, later = [f"{alias}.*", f"1 AS {_LEVEL}"], [f"{alias}.*", f"{_ABOVE}.{_LEVEL} + 1"]
    siblings = _has_clause("order-siblings", walk, rewriter) and _takes_order(query, rewriter)
    if rewriter.target.engine == "postgresql":
        order = f"ORDER BY {', '.join(_of_walk(walk, item, rewriter) for item in query.order)}" if siblings else ""
        place = f"row_number() OVER ({order})"
        first.append(f"ARRAY[{place}] AS {_PLACE}")
        later.append(f"{_ABOVE}.{_PLACE} || {place}")
    elif siblings:
        place = _place_among(walk, rewriter)
        first.append(f"{_as_path(place, rewriter)} AS {_PLACE}")
        later.append(_as_path(_together([f"{_ABOVE}.{_PLACE}", place], rewriter), rewriter))
    condition = _condition(walk, prior=_ABOVE, own=alias, rewriter=rewriter)
    if _has_clause("connect-by-nocycle", walk, rewriter):
        if not isinstance(block.sources[0], TableRef) or rewriter.target.engine != "postgresql":
            raise CannotDraft("NOCYCLE over rows without an address")
        first.append(f"ARRAY[{alias}.ctid] AS hs_seen")
        later.append(f"{_ABOVE}.hs_seen || {alias}.ctid")
        condition = f"({condition}) AND {alias}.ctid <> ALL ({_ABOVE}.hs_seen)"
    for column, node in {column: node for node, column in walk.carried.items()}.items():
        start, step = _carry_columns(walk, node, column, rewriter)
        first.append(f"{start} AS {column}")
        later.append(step)
    start_with = f"\n   WHERE {rewriter.elsewhere(block.start_with)}" if block.start_with is not None else ""
    return (
        f"{_with(rewriter)} {_TREE} AS (\n  SELECT {', '.join(first)}\n    FROM {source}{start_with}\n"
        f"  UNION ALL\n  SELECT {', '.join(later)}\n    FROM {source}\n    JOIN {_TREE} AS {_ABOVE} ON {condition}\n"
        f")\n{_outside(walk, siblings, rewriter)}"
    )


def _has_clause(name: str, walk: Walk, rewriter: Rewriter) -> bool:
    clauses = rewriter.subject.all(Clause)
    return any(each.name == name and walk.query.first <= each.first < walk.query.last for each in clauses)


def _with(rewriter: Rewriter) -> str:
    return "WITH" if rewriter.target.engine == "sqlserver" else "WITH RECURSIVE"


def _together(texts: list[str], rewriter: Rewriter) -> str:
    """Join texts of which NULL is none."""
    head = "CONCAT_WS('', " if rewriter.target.engine in ("mysql", "mariadb") else "concat("
    return f"{head}{', '.join(texts)})"


def _as_path(text: str, rewriter: Rewriter) -> str:
    """Give a path the type that holds it on every level: elsewhere than in PostgreSQL the first level settles it."""
    match rewriter.target.engine:
        case "mysql" | "mariadb":
            return f"CAST({text} AS CHAR(4000))"
        case "sqlserver":
            return f"CAST({text} AS NVARCHAR(4000))"
    return text


def _place_among(walk: Walk, rewriter: Rewriter) -> str:
    """Write the place of a row among its siblings as text that sorts by it.

    Raises CannotDraft for keys that are no columns of texts or whole numbers, and where two siblings may be alike.
    """
    parts, names = [], []
    for item in walk.query.order:
        value = item.value
        column = rewriter.columns.column(value) if isinstance(value, Name) else None
        if column is None or item.descending or item.nulls or column.nullable:
            raise CannotDraft("siblings in an order other than by columns that are never NULL, from low to high")
        names.append(column.name)
        parts.append(_sortable(column, _of_walk(walk, value, rewriter), rewriter))
    if not _tells_rows_apart(names, walk, rewriter):
        raise CannotDraft("siblings in an order in which two may be alike")
    return _together([part for each in parts for part in (_STEP[rewriter.target.engine], each)], rewriter)


def _sortable(column: Column, text: str, rewriter: Rewriter) -> str:
    """Write a key as text that sorts as the key does; drafted tables tell case apart in MySQL, as Oracle does."""
    kind = logical_type(rewriter.catalog.engine, column.type)
    is_mysql = rewriter.target.engine in ("mysql", "mariadb")
    if kind is not None and kind.kind == "text":
        return text if is_mysql else f"{text} COLLATE Latin1_General_100_BIN2"
    digits = column.type.arguments[:1] if kind is not None and kind.kind == "integer" else ()
    if not digits or not digits[0].isdecimal() or int(digits[0]) > _MOST_DIGITS:
        raise CannotDraft("siblings in an order by something other than texts and whole numbers")
    above_zero = f"{text} + 1{'0' * int(digits[0])}"
    if is_mysql:
        return f"LPAD({above_zero}, {_MOST_DIGITS + 1}, '0')"
    return f"RIGHT(REPLICATE('0', {_MOST_DIGITS + 1}) + CAST({above_zero} AS VARCHAR(20)), {_MOST_DIGITS + 1})"


def _tells_rows_apart(names: list[str], walk: Walk, rewriter: Rewriter) -> bool:
    source = walk.select.sources[0]
    table = rewriter.table(source.parts) if isinstance(source, TableRef) else None
    keys = (each.constraint for each in rewriter.catalog.belonging(table.id)) if table is not None else ()
    return any(
        key is not None and key.form in ("primary key", "unique") and set(key.columns) <= set(names) for key in keys
    )


_STEP: Final = {"mysql": "CHAR(1)", "mariadb": "CHAR(1)", "sqlserver": "NCHAR(1)"}
"""What stands between the places of two levels: a character that sorts before all others."""


def _outside(walk: Walk, is_ordered: bool, rewriter: Rewriter) -> str:
    """Return the query over the rows of the walk."""
    block, query = walk.select, walk.query
    text = f"{rewriter.text(block.first, block.from_at)}\nFROM {_TREE} AS {walk.alias}"
    if block.where is not None:
        text += f"\nWHERE {rewriter.node(block.where)}"
    if block.group:
        text += f"\nGROUP BY {rewriter.nodes(block.group)}"
    if block.having is not None:
        text += f"\nHAVING {rewriter.node(block.having)}"
    if not _takes_order(query, rewriter):
        return text
    if query.order and not is_ordered:
        return f"{text}\nORDER BY {rewriter.nodes(query.order)}"
    aggregates = {"COUNT", "SUM", "MAX", "MIN", "AVG", "LISTAGG"}
    calls = {c.parts[-1] for c in rewriter.subject.all(Call) if block.first < c.first < block.from_at}
    is_plain = (
        not block.group and not calls & aggregates and rewriter.words[block.first + 1] not in ("DISTINCT", "UNIQUE")
    )
    is_placed = is_ordered or rewriter.target.engine == "postgresql"
    return f"{text}\nORDER BY {walk.alias}.{_PLACE}" if is_plain and is_placed else text


def _takes_order(query: Query, rewriter: Rewriter) -> bool:
    """Whether a query may have an order: in views and within other queries SQL Server refuses it."""
    around = (each for each in rewriter.subject.all(Query) if each is not query)
    is_inner = any(each.first <= query.first and query.last <= each.last for each in around)
    return rewriter.target.engine != "sqlserver" or not (is_inner or isinstance(rewriter.subject.tree, CreateView))


def _carry_columns(walk: Walk, node: Node, column: str, rewriter: Rewriter) -> tuple[str, str]:
    """Return what the first level and each later one hold in a carried column."""
    if isinstance(node, Call):
        if len(node.arguments) != 2:
            raise CannotDraft("SYS_CONNECT_BY_PATH without a separator")
        value, separator = _of_walk(walk, node.arguments[0], rewriter), rewriter.elsewhere(node.arguments[1])
        start, step = [separator, value], [f"{_ABOVE}.{column}", separator, value]
        return _as_path(_together(start, rewriter), rewriter), _as_path(_together(step, rewriter), rewriter)
    assert isinstance(node, Operation)
    value = _of_walk(walk, node.operands[0], rewriter)
    if node.operators == ["CONNECT_BY_ROOT"]:
        return value, f"{_ABOVE}.{column}"
    kind = target_type(node.operands[0], rewriter)
    is_elsewhere = rewriter.target.engine != "postgresql"
    if not kind:
        raise CannotDraft("PRIOR of a value whose type is not known")
    own, walk.own = walk.own, _ABOVE
    try:
        above = rewriter.elsewhere(node.operands[0])
    finally:
        walk.own = own
    # Elsewhere the types of both levels must be alike to the last digit.
    return (f"CASE WHEN 1 = 0 THEN {value} END" if is_elsewhere else f"CAST(NULL AS {kind})"), above


def _of_walk(walk: Walk, node: Node, rewriter: Rewriter) -> str:
    own, walk.own = walk.own, walk.alias
    try:
        return rewriter.elsewhere(node)
    finally:
        walk.own = own


# --- rows from nothing ---


def _generator_limit(block: Select, rewriter: Rewriter) -> Operation | None:
    """Return LEVEL <= n of a query that only counts: FROM dual CONNECT BY LEVEL <= n."""
    source = block.sources[0] if len(block.sources) == 1 else None
    condition = block.connect_by
    if not isinstance(source, TableRef) or source.parts[-1] != "DUAL" or block.start_with is not None:
        return None
    if not isinstance(condition, Operation) or condition.operators not in (["<="], ["<"]):
        return None
    counter = condition.operands[0]
    return condition if isinstance(counter, Name) and counter.parts in (("LEVEL",), ("ROWNUM",)) else None


def _generated(walk: Walk, limit: Operation, rewriter: Rewriter) -> str:
    block = walk.select
    end = rewriter.elsewhere(limit.operands[1])
    if limit.operators == ["<"]:
        end = f"({end}) - 1"
    head = _counter(end, rewriter) if rewriter.target.engine in ("mysql", "mariadb") else ""
    rows = _TREE if head else _numbers(end, rewriter)
    text = f"{head}{rewriter.text(block.first, block.from_at)}\nFROM {rows}"
    if block.where is not None:
        text += f"\nWHERE {rewriter.node(block.where)}"
    if walk.query.order and _takes_order(walk.query, rewriter):
        text += f"\nORDER BY {rewriter.nodes(walk.query.order)}"
    return text


def _numbers(end: str, rewriter: Rewriter) -> str:
    """Write the numbers from 1 to an end, at least one: CONNECT BY looks at its condition from the second row on."""
    if rewriter.target.engine == "sqlserver":
        count = end if end.isdecimal() else f"CASE WHEN {end} > 1 THEN CAST({end} AS bigint) ELSE 1 END"
        numbers = f"SELECT TOP ({count}) ROW_NUMBER() OVER (ORDER BY (SELECT NULL)) AS {_LEVEL}"
        return f"({numbers} FROM sys.all_columns a CROSS JOIN sys.all_columns b) AS {_TREE}"
    count = f"CAST({end} AS integer)"
    return f"generate_series(1, {count if end.isdecimal() else f'greatest({count}, 1)'}) AS {_LEVEL}"


def _counter(end: str, rewriter: Rewriter) -> str:
    """Write a common table that counts up. Raises CannotDraft for more rows than recursion gives there by default."""
    if end.isdecimal() and int(end) > MOST_LEVELS:
        raise CannotDraft(f"more than {MOST_LEVELS} rows counted by recursion")
    return (
        f"{_with(rewriter)} {_TREE} AS (\n  SELECT 1 AS {_LEVEL}\n  UNION ALL\n"
        f"  SELECT {_LEVEL} + 1 FROM {_TREE} WHERE {_LEVEL} < {end}\n)\n"
    )
