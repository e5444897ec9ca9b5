"""Queries of Transact-SQL code: they give out results, make temporary tables, or assign to variables."""

from typing import TYPE_CHECKING

from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.edits.variables import ROW, ROW_COUNT
from hullsound.draft.plpgsql.results import result_name
from hullsound.draft.statements.change_parts import local_table
from hullsound.draft.statements.queries import assigns
from hullsound.sql.tree import Call, Clause, Name, Node, Operation, QueryStatement, Select, SelectItem, Subquery

if TYPE_CHECKING:
    from .statements import TsqlCode

_AGGREGATES = frozenset(("COUNT", "SUM", "MAX", "MIN", "AVG", "COUNT_BIG", "STRING_AGG"))


def query_statement(code: "TsqlCode", node: QueryStatement) -> str:
    block = node.query.blocks[0] if len(node.query.blocks) == 1 else None
    if isinstance(block, Select):
        if block.into:
            return _into_table(code, node)
        if any(assigns(item) for item in block.items):
            return _assigning(code, node, block)
    place = code.results.places.get(node)
    if place is None or code.kind != "procedure":
        raise CannotDraft("a result set that nothing takes")
    return f"OPEN {result_name(place)} FOR {code.rewriter.text(node.first, node.last)}"


def _into_table(code: "TsqlCode", node: QueryStatement) -> str:
    """SELECT ... INTO #table makes a temporary table."""
    rewriter = code.rewriter
    clause = next(c for c in rewriter.subject.all(Clause) if c.name == "select-into-table" and c.first > node.first)
    name = code.words[clause.last - 1]
    if not name.startswith("#"):
        raise CannotDraft("a table that code creates")
    table = rewriter.names.write(local_table(name))
    query = f"{rewriter.text(node.first, clause.first)} {rewriter.text(clause.last, node.last)}"
    made = f"DROP TABLE IF EXISTS pg_temp.{table};\nCREATE TEMP TABLE {table} ON COMMIT DROP AS\n{query}"
    return made + code.counted()


def _assigning(code: "TsqlCode", node: QueryStatement, block: Select) -> str:
    """Write SELECT @a = x, @b = y FROM ...: the last row counts, and none leaves the variables as they are."""
    if not all(assigns(item) for item in block.items):
        raise CannotDraft("a query that assigns some of its columns only")
    rewriter = code.rewriter
    pairs = [assigned_item(item) for item in block.items]
    if not block.sources and block.where is None:
        return "; ".join(f"{code.variables.write(name)} := {rewriter.node(value)}" for name, value in pairs)
    common = rewriter.text(node.query.first, block.first)
    common += "\n" if common else ""
    rest = rewriter.text(block.from_at, node.query.last) if block.from_at >= 0 else ""
    targets = [code.variables.write(name) for name, _ in pairs]
    if not _collects(code, block) and _is_aggregate(code, block):
        plain = ", ".join(rewriter.node(value) for _, value in pairs)
        return f"{common}SELECT {plain} INTO {', '.join(targets)}\n{rest}" + code.counted()
    if _collects(code, block):
        items, sets = _collected(code, pairs)
    else:
        items = ", ".join(f"{rewriter.node(value)} AS c{i}" for i, (_, value) in enumerate(pairs, start=1))
        sets = " ".join(f"{target} := {ROW}.c{i};" for i, target in enumerate(targets, start=1))
    count = f" {ROW_COUNT} := {ROW_COUNT} + 1;" if code.counts_rows else ""
    before = f"{ROW_COUNT} := 0;\n" if code.counts_rows else ""
    return f"{before}FOR {ROW} IN {common}SELECT {items}\n{rest} LOOP {sets}{count} END LOOP"


def _collects(code: "TsqlCode", block: Select) -> bool:
    """Whether a value is made from a variable that the same query assigns: it grows row by row."""
    assigned = {assigned_item(item)[0] for item in block.items}
    read = code.rewriter.subject.read
    return any(
        used.first != item.first and used.parts[0] in assigned
        for item in block.items
        for used in read.inside(Name, item.first, item.last)
    )


def _collected(code: "TsqlCode", pairs: list[tuple[str, Node]]) -> tuple[str, str]:
    """Return the columns to walk over, and the assignments for each row, in which the columns stand for their values."""
    rewriter = code.rewriter
    columns: list[str] = []
    for _, value in pairs:
        if any(value.first <= s.first and s.last <= value.last for s in rewriter.subject.all(Subquery)):
            raise CannotDraft("a variable that collects values with a subquery")
        for name in columns_of(value, code):
            text = rewriter.node(name)
            if text not in columns:
                columns.append(text)
    code.collected = {text: f"{ROW}.c{i}" for i, text in enumerate(columns, start=1)}
    sets = " ".join(f"{code.variables.write(name)} := {rewriter.node(value)};" for name, value in pairs)
    code.collected = {}
    return ", ".join(f"{text} AS c{i}" for i, text in enumerate(columns, start=1)) or "1 AS c1", sets


def columns_of(value: Node, code: "TsqlCode") -> list[Name]:
    """Return the names in an expression that are columns, not variables."""
    parts = [c for c in code.rewriter.subject.all(Call) if value.first <= c.first and c.last <= value.last]
    units = {c.arguments[0].first for c in parts if c.parts[-1] in ("DATEADD", "DATEDIFF", "DATEPART") and c.arguments}
    return [
        name
        for name in code.rewriter.subject.all(Name)
        if value.first <= name.first < value.last and name.parts[0][:1] != "@" and name.first not in units
    ]


def collecting_columns(code: "TsqlCode") -> list[Name]:
    """Return the columns in values that collect row by row, which are named otherwise in the loop."""
    found = []
    for node in code.rewriter.subject.all(QueryStatement):
        block = node.query.blocks[0] if len(node.query.blocks) == 1 else None
        if isinstance(block, Select) and block.items and all(map(assigns, block.items)) and block.sources:
            simple = all(item.value.operators == ["="] for item in block.items if isinstance(item.value, Operation))
            if simple and _collects(code, block):
                found += [name for item in block.items for name in columns_of(assigned_item(item)[1], code)]
    return found


def assigned_item(item: SelectItem) -> tuple[str, Node]:
    """Return variable and value of @variable = value. Raises CannotDraft for another operator."""
    value = item.value
    if isinstance(value, Operation) and value.operators == ["="] and isinstance(value.operands[0], Name):
        return value.operands[0].parts[0], value.operands[1]
    raise CannotDraft("an assignment in a query that is more than @variable = value")


def _is_aggregate(code: "TsqlCode", block: Select) -> bool:
    read = code.rewriter.subject.read
    inside = [
        any(c.parts[-1] in _AGGREGATES and c.over is None for c in read.inside(Call, item.first, item.last))
        for item in block.items
    ]
    return not block.group and all(inside)
