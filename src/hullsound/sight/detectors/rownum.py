"""ROWNUM conditions that only limit the rows of a query block."""

from dataclasses import dataclass

from hullsound.analyze.subject import Subject
from hullsound.sql.tree import Call, Clause, Delete, Name, Node, Operation, Query, Select, Star, Update

from .conditions import conjuncts


@dataclass(frozen=True, slots=True)
class RownumLimit:
    """A condition ROWNUM <= n, < n or = 1 that can become a row limit of `query`."""

    query: Query
    select: Select
    condition: Operation
    limit: Node
    is_strict: bool
    """Whether the limit is one less than the value (ROWNUM < n)."""
    is_counted: bool = False
    """Whether the query only counts the rows that are left: COUNT(*)."""


def is_rownum(node: Node, subject: Subject) -> bool:
    """Whether a node is the pseudo-column, rather than a quoted name or a variable."""
    return isinstance(node, Name) and node.parts == ("ROWNUM",) and subject.words[node.first] == "ROWNUM"


def rownum_limits(subject: Subject) -> dict[Name, RownumLimit]:
    """Return the ROWNUM names of a statement that are plain limits."""
    known = subject.memory.get("rownum limits")
    if isinstance(known, dict):
        return known
    limits: dict[Name, RownumLimit] = {}
    if "ROWNUM" in subject.words[subject.read.first : subject.read.last]:
        for query in subject.all(Query):
            block = query.blocks[0]
            if len(query.blocks) == 1 and isinstance(block, Select) and _is_plain(query, block, subject):
                for condition in conjuncts(block.where):
                    limit = _limit(query, block, condition, subject)
                    if limit is not None:
                        limits[limit[0]] = limit[1]
    subject.memory["rownum limits"] = limits
    return limits


@dataclass(frozen=True, slots=True)
class ChangeLimit:
    """A condition ROWNUM <= n, < n or = 1 at the top of the WHERE of a change, which then changes any so many rows."""

    change: Update | Delete
    condition: Operation
    limit: Node
    is_strict: bool


def change_limits(subject: Subject) -> dict[Name, ChangeLimit]:
    """Return the ROWNUM names of a statement that limit an UPDATE or DELETE."""
    known = subject.memory.get("rownum change limits")
    if isinstance(known, dict):
        return known
    limits: dict[Name, ChangeLimit] = {}
    if "ROWNUM" in subject.words[subject.read.first : subject.read.last]:
        changes: list[Update | Delete] = [*subject.all(Update), *subject.all(Delete)]
        for change in changes:
            names = [n for n in subject.read.inside(Name, change.first, change.last) if is_rownum(n, subject)]
            for condition in conjuncts(change.where) if change.where is not None and len(names) == 1 else ():
                compared = _compared(condition, subject)
                if compared is not None:
                    name, limit, is_strict = compared
                    assert isinstance(condition, Operation)
                    limits[name] = ChangeLimit(change, condition, limit, is_strict)
    subject.memory["rownum change limits"] = limits
    return limits


def rownum_numbers(subject: Subject) -> set[Name]:
    """Return the ROWNUM names of a statement that number the rows of a block, in an item of its list."""
    numbers: set[Name] | None = subject.memory.get("rownum numbers")  # type: ignore[assignment]
    if numbers is None:
        numbers = set()
        if "ROWNUM" in subject.words[subject.read.first : subject.read.last]:
            numbers.update(name for name in subject.all(Name) if is_rownum(name, subject) and _numbers(name, subject))
        subject.memory["rownum numbers"] = numbers
    return numbers


def _numbers(name: Name, subject: Subject) -> bool:
    """Whether ROWNUM stands in an item of a block whose rows are those that it counts."""
    select = subject.read.innermost(Select, name)
    if select is None or not any(_holds(item, name) for item in select.items):
        return False
    is_grouped = (
        select.group
        or select.having
        or select.connect_by
        or any(_is_aggregate(item.value) for item in select.items)
        or any(
            _holds(call, name)
            for call in subject.read.inside(Call, select.first, select.last)
            if call.over is not None or _is_aggregate(call)
        )
    )
    return not is_grouped and subject.words[select.first + 1] not in ("DISTINCT", "UNIQUE")


def _holds(node: Node, inner: Node) -> bool:
    return node.first <= inner.first and inner.last <= node.last


def _is_plain(query: Query, select: Select, subject: Subject) -> bool:
    """Whether limiting the block's rows is all that ROWNUM can do in it."""
    if (
        query.order
        or select.group
        or select.having
        or select.connect_by
        or subject.words[select.first + 1] == "DISTINCT"
    ):
        return False
    if any(clause.name in ("offset", "fetch-first") for clause in subject.read.inside(Clause, query.first, query.last)):
        return False
    if any(_is_aggregate(item.value) for item in select.items) and not _counts_rows(select):
        return False
    numbers = rownum_numbers(subject)
    names = [n for n in subject.read.inside(Name, select.first, select.last) if is_rownum(n, subject)]
    return sum(name not in numbers for name in names) == 1


def _is_aggregate(node: Node) -> bool:
    return (
        isinstance(node, Call)
        and node.parts[-1] in ("COUNT", "SUM", "MIN", "MAX", "AVG", "LISTAGG")
        and node.over is None
    )


def _counts_rows(select: Select) -> bool:
    """Whether a block gives nothing but COUNT(*), as code asks that wants to know whether there is a row."""
    value = select.items[0].value if len(select.items) == 1 else None
    is_count = isinstance(value, Call) and value.parts == ("COUNT",) and value.over is None
    return is_count and isinstance(value, Call) and all(isinstance(each, Star) for each in value.arguments)


def _limit(query: Query, select: Select, condition: Node, subject: Subject) -> tuple[Name, RownumLimit] | None:
    compared = _compared(condition, subject)
    if compared is None:
        return None
    name, limit, is_strict = compared
    assert isinstance(condition, Operation)
    return name, RownumLimit(query, select, condition, limit, is_strict, _counts_rows(select))


def _compared(condition: Node, subject: Subject) -> tuple[Name, Node, bool] | None:
    """Return ROWNUM, the value that it is limited by, and whether it stays below it; None for another condition."""
    if not isinstance(condition, Operation) or len(condition.operands) != 2:
        return None
    left, right = condition.operands
    operator = condition.operators[0]
    if isinstance(right, Name) and is_rownum(right, subject):
        left, right, operator = right, left, {">=": "<=", ">": "<"}.get(operator, "")
    if not (isinstance(left, Name) and is_rownum(left, subject)) or _reads_columns(right, subject):
        return None
    is_first = operator == "=" and subject.source(right) == "1"
    return (left, right, operator == "<") if operator in ("<=", "<") or is_first else None


def _reads_columns(node: Node, subject: Subject) -> bool:
    """Whether a value differs from row to row, so that it is no limit."""
    scope = subject.scope
    names = subject.read.inside(Name, node.first, node.last)
    return any(
        name.parts[0] in scope.aliases or (len(name.parts) == 1 and name.parts[0] not in scope.declared)
        for name in names
    )
