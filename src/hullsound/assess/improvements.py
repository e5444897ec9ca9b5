"""What would make the result better than a plain copy: told from the catalogue, whatever the target."""

import re
from collections.abc import Iterator
from typing import Final, NamedTuple

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType

_LIST_CHECK: Final = re.compile(
    r"^\s*\(*\s*[\w\"`\[\].]+\s+IN\s*\(\s*N?'[^']*'(?:\s*,\s*N?'[^']*')*\s*\)\s*\)*\s*$", re.IGNORECASE
)
_KEY_FORMS: Final = ("primary key", "unique")


class Improvement(NamedTuple):
    """An idea: the remark's key, the object it belongs to, what it is about and the line (0 for the object's own)."""

    key: str
    object: str
    detail: str
    line: int = 0


def iter_improvements(catalog: Catalog) -> Iterator[Improvement]:
    """Yield every idea for a catalogue."""
    yield from _needless_indexes(catalog)
    yield from _lists_of_values(catalog)
    yield from _keyless_tables(catalog)
    yield from _unindexed_references(catalog)


def _keys(item: Object) -> tuple[str, ...]:
    """Return the columns of an index; none where a key is an expression or descends."""
    index = item.index
    if index is None or index.method or "filtered-index" in index.clauses:
        return ()
    names = tuple(name.upper() for name in index.columns())
    is_plain = all(re.fullmatch(r"\w+", name) for name in names) and not any(key.descending for key in index.keys)
    return names if is_plain else ()


def _by_table(catalog: Catalog, kind: ObjectType) -> dict[str, list[Object]]:
    tables: dict[str, list[Object]] = {}
    for item in catalog.objects.values():
        if item.type is kind and item.table:
            tables.setdefault(item.table, []).append(item)
    return tables


def _needless_indexes(catalog: Catalog) -> Iterator[Improvement]:
    """An index whose columns another index or key of the table begins with."""
    constraints = _by_table(catalog, ObjectType.CONSTRAINT)
    for table, indexes in _by_table(catalog, ObjectType.INDEX).items():
        keys = [(item.id, tuple(item.constraint.columns)) for item in constraints.get(table, ())
                if item.constraint is not None and item.constraint.form in _KEY_FORMS]  # fmt: skip
        plain = [(item, _keys(item)) for item in indexes if _keys(item)]
        indexes_here = {item.id for item, _ in plain}
        beginnings: dict[tuple[str, ...], list[tuple[str, tuple[str, ...]]]] = {}
        for other, theirs in (*keys, *((item.id, columns) for item, columns in plain)):
            for length in range(1, len(theirs) + 1):
                beginnings.setdefault(theirs[:length], []).append((other, theirs))
        for item, columns in plain:
            for other, theirs in beginnings[columns]:
                is_first_of_equals = theirs != columns or other < item.id or other not in indexes_here
                if other != item.id and is_first_of_equals and not (item.index is not None and item.index.unique):
                    yield Improvement("improve.needless-index", item.id, f"{other} begins with the same columns")
                    break


def _lists_of_values(catalog: Catalog) -> Iterator[Improvement]:
    for item in catalog.objects.values():
        if (
            item.constraint is not None
            and item.constraint.form == "check"
            and _LIST_CHECK.match(item.constraint.expression)
        ):
            yield Improvement("improve.list-of-values", item.id, item.constraint.expression[:80])


def _keyless_tables(catalog: Catalog) -> Iterator[Improvement]:
    keyed = {item.table for item in catalog.objects.values()
             if item.constraint is not None and item.constraint.form in _KEY_FORMS}  # fmt: skip
    keyed |= {item.table for item in catalog.objects.values() if item.index is not None and item.index.unique}
    for item in catalog.objects.values():
        is_plain = item.type is ObjectType.TABLE and item.columns and "not created" not in item.details
        if is_plain and item.id not in keyed and not item.details.get("temporary"):
            yield Improvement("improve.table-without-key", item.id, "no primary or unique key")


def _unindexed_references(catalog: Catalog) -> Iterator[Improvement]:
    """A foreign key whose columns no index of its table begins with: deletes of parents read the whole table."""
    indexes = _by_table(catalog, ObjectType.INDEX)
    constraints = _by_table(catalog, ObjectType.CONSTRAINT)
    for table, items in constraints.items():
        leading = {_keys(index)[:1] for index in indexes.get(table, ())}
        leading |= {tuple(each.constraint.columns[:1]) for each in items
                    if each.constraint is not None and each.constraint.form in _KEY_FORMS}  # fmt: skip
        for item in items:
            constraint = item.constraint
            if constraint is None or constraint.form != "foreign key" or tuple(constraint.columns[:1]) in leading:
                continue
            yield Improvement("improve.reference-without-index", item.id, ", ".join(constraint.columns).lower())
