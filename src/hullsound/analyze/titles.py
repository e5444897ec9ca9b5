"""Titles of values that queries within a statement work out."""

from collections.abc import Iterator

from hullsound.sql.tree import CommonTable, DerivedTable, Join, Name, Node, Query, Select, TableRef

from .subject import Subject


def worked_out(name: Name, subject: Subject) -> Node | None:
    """Return the value that a name stands for, where a common table or a derived table of its query gives it; None for others."""
    if name.parts[-1] not in _titles(subject):
        return None
    alias = name.parts[-2] if len(name.parts) > 1 else ""
    around = [each for each in subject.all(Select) if each.first <= name.first and name.last <= each.last]
    for select in sorted(around, key=lambda each: -each.first):
        for source in _sources(select.sources):
            is_inside = source.first <= name.first and name.last <= source.last  # a query does not see its own titles
            if is_inside or (alias and alias not in _names(source)):
                continue
            value = _given(source, name.parts[-1], subject)
            # A common table may be named behind it only, or names could go round in a ring.
            if value is not None and (isinstance(source, DerivedTable) or value.last <= name.first):
                return value
    return None


def _titles(subject: Subject) -> frozenset[str]:
    """Return all titles of values that are no columns, found once for a statement."""
    known = subject.memory.get("titles")
    if not isinstance(known, frozenset):
        queries: list[tuple[list[str], Node]] = [(each.columns, each.query) for each in subject.all(CommonTable)]
        queries += [([], each.query) for each in subject.all(DerivedTable)]
        known = frozenset(title for columns, query in queries for title, _ in _values(columns, query))
        subject.memory["titles"] = known
    return known


def _values(columns: list[str], query: Node | None) -> Iterator[tuple[str, Node]]:
    """Yield the titles and values of a query that are no columns."""
    block = query.blocks[0] if isinstance(query, Query) and query.blocks else None
    items = block.items if isinstance(block, Select) else []
    for title, item in zip(columns or [each.alias for each in items], items, strict=False):
        if title and not isinstance(item.value, Name):
            yield title, item.value


def _sources(nodes: list[Node]) -> Iterator[DerivedTable | TableRef]:
    for node in nodes:
        if isinstance(node, Join):
            yield from _sources([node.left, node.right])
        elif isinstance(node, DerivedTable | TableRef):
            yield node


def _names(source: DerivedTable | TableRef) -> tuple[str, ...]:
    return (source.alias, source.parts[-1]) if isinstance(source, TableRef) else (source.alias,)


def _given(source: DerivedTable | TableRef, title: str, subject: Subject) -> Node | None:
    """Return what a derived table, or the common table that a name means, gives under a title, unless it is a column."""
    columns: list[str] = []
    query: Node | None = None
    if isinstance(source, DerivedTable):
        query = source.query
    elif len(source.parts) == 1:
        common = next((each for each in subject.all(CommonTable) if each.name == source.parts[0]), None)
        if common is not None:
            columns, query = common.columns, common.query
    return next((value for given, value in _values(columns, query) if given == title), None)
