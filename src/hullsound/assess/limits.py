"""What a target takes only so much of: columns, keys, rows, parameters, cascades; and NULLs in keys, generated columns."""

import re
from collections.abc import Iterator
from typing import NamedTuple

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object, ObjectType
from hullsound.knowledge.engine_model import Target, TargetLimits
from hullsound.knowledge.model import Way
from hullsound.knowledge.targets import load_target
from hullsound.knowledge.types import choose_column_type
from hullsound.project import Project

from .cascades import repeated_cascades
from .widths import LARGE, is_fixed, width_of

_KEYS = ("primary key", "unique")
_MANY_NULLS = frozenset(("oracle", "mysql", "mariadb", "postgresql", "sqlite"))
"""Sources in whose unique keys NULLs differ from each other."""
_LEAVES_NULLS = "exclude-null-keys"
"""The clause by which an index of Db2 holds no key of which every part is NULL."""
_DISTINCT_NULLS = _MANY_NULLS - {"oracle"}
"""Those of them that never compare a row in which part of the key is NULL."""
_ORDERING = frozenset(("", "btree", "hash", "bitmap", "clustered", "nonclustered"))
"""Methods of indexes over whole values."""
_PREFIXED = frozenset(("mysql", "mariadb"))
"""Sources whose keys over large objects hold a prefix alone, which a construct of its own tells of."""
_ROUTINES = (ObjectType.FUNCTION, ObjectType.PROCEDURE)
_AS_LARGE = re.compile(r"\s*(?:lower|upper|trim|ltrim|rtrim)\s*\(\s*(\w+)\s*\)\s*", re.IGNORECASE)
"""Expressions that give a large object for one."""


class Excess(NamedTuple):
    """What goes beyond a limit: the remark's key, the object it belongs to, what is said, its line, and how it crosses."""

    key: str
    object: str
    detail: str
    line: int = 0
    way: Way | None = None


class _Limits:
    def __init__(self, catalog: Catalog, target: Target, project: Project) -> None:
        self.catalog = catalog
        self.target = target
        self.project = project
        self.row = load_target(target.engine)
        self.limits: TargetLimits = self.row.limits

    def find(self) -> Iterator[Excess]:
        for item in self.catalog.objects.values():
            if item.type is ObjectType.TABLE and item.columns:
                yield from self._of_table(item)
            elif item.constraint is not None and item.constraint.form in _KEYS:
                yield from self._of_key(item, item.constraint.columns, is_unique=True)
            elif item.index is not None and item.index.keys:
                is_unique = item.index.unique and not item.index.where
                yield from self._of_key(item, item.index.columns(), is_unique=is_unique)
            elif item.type in _ROUTINES and item.routines and self.limits.parameters:
                count = len(item.routines[0].parameters)
                if count > self.limits.parameters:
                    yield Excess("limit.parameters", item.id, f"{count}, where {self.limits.parameters} are taken")
        if self.row.cascades_once:
            for item, reason in repeated_cascades(self.catalog):
                yield Excess("limit.cascades", item.id, reason)

    def _of_table(self, item: Object) -> Iterator[Excess]:
        limits = self.limits
        if limits.columns and len(item.columns) > limits.columns:
            yield Excess("limit.columns", item.id, f"{len(item.columns):,}, where {limits.columns:,} are taken")
        if limits.row_bytes:
            size = sum(self._fixed_width(item, column) for column in item.columns)
            if size > limits.row_bytes:
                yield Excess("limit.row-bytes", item.id, f"{size:,} bytes, where {limits.row_bytes:,} are taken")
        if not self.row.generated_of_generated:
            generated = {column.name for column in item.columns if column.generated}
            for column in item.columns if len(generated) > 1 else ():
                used = _words(column.generated) & (generated - {column.name})
                if column.generated and used:
                    detail = f"{column.name.lower()} reads {', '.join(sorted(used)).lower()}"
                    yield Excess("limit.generated-of-generated", item.id, detail, column.line)

    def _of_key(self, item: Object, names: list[str], *, is_unique: bool) -> Iterator[Excess]:
        limits, table = self.limits, self.catalog.objects.get(item.table)
        if table is None:
            return
        if limits.key_columns and len(names) > limits.key_columns:
            yield Excess("limit.key-columns", item.id, f"{len(names)}, where {limits.key_columns} are taken")
        by_name = {column.name.upper(): column for column in table.columns}
        columns = [by_name[name.upper()] for name in names if name.upper() in by_name]
        widths = [self._width(table, column) for column in columns] if limits.key_bytes else []
        large = [column.name.lower() for column, width in zip(columns, widths, strict=False) if width == LARGE]
        # Such an expression is as large as its column; others take no index on an expression at all.
        for name in names if self.target.engine == "oracle" else ():
            same = by_name.get(match[1].upper()) if (match := _AS_LARGE.fullmatch(name)) else None
            if same is not None and limits.key_bytes and self._width(table, same) == LARGE:
                yield Excess("limit.large-key", item.id, name.lower())
        is_whole = len(columns) == len(names) and self.catalog.engine not in _PREFIXED
        if large and is_whole and _orders_values(item):
            yield Excess("limit.large-key", item.id, ", ".join(large))
        size = sum(width for width in widths if width != LARGE)
        # A prefix or an expression of a column is shorter than the column.
        if size > limits.key_bytes and len(columns) == len(names):
            detail = f"up to {size:,} bytes, where {limits.key_bytes:,} are taken"
            yield Excess("limit.key-bytes", item.id, detail, way=limits.key_way)
        is_key = item.constraint is not None and item.constraint.form == "primary key"
        takes_many = self.catalog.engine in _MANY_NULLS or (
            item.index is not None and _LEAVES_NULLS in item.index.clauses
        )
        if self.row.one_null_in_unique and is_unique and not is_key and takes_many:
            open_ones = [column.name.lower() for column in columns if column.nullable]
            if open_ones:
                yield Excess("limit.one-null", item.id, ", ".join(open_ones))
        if self.row.null_in_part_of_unique and is_unique and not is_key and self.catalog.engine in _DISTINCT_NULLS:
            open_ones = [column.name.lower() for column in columns if column.nullable]
            if open_ones and len(names) > 1:
                yield Excess("limit.null-in-part", item.id, ", ".join(open_ones))

    def _kind(self, table: Object, column: Column) -> str:
        choice = choose_column_type(
            self.catalog.engine, self.target, self.project, table.schema, table.name, column.name, column.type
        )
        return choice.text if choice is not None else ""

    def _width(self, table: Object, column: Column) -> int:
        width = width_of(self._kind(table, column), self.limits.character_bytes)
        return min(width, self.limits.text_bytes) if self.limits.text_bytes else width

    def _fixed_width(self, table: Object, column: Column) -> int:
        """Return what a column adds to every row: MySQL counts the greatest length of every text that stands in the row."""
        kind = self._kind(table, column)
        width = width_of(kind, self.limits.character_bytes)
        counts = is_fixed(kind) or self.target.engine in ("mysql", "mariadb")
        return width if counts and width != LARGE else 0


def _orders_values(item: Object) -> bool:
    """Whether a key or index keeps whole values in order, unlike one over words or shapes."""
    return item.index is None or item.index.method.lower() in _ORDERING


def _words(text: str) -> set[str]:
    return {word.upper() for word in re.findall(r"\w+", text)}


def iter_loose_references(catalog: Catalog, target: Target) -> Iterator[Excess]:
    """Yield references to columns that are no key, where a later version of the same engine refuses them (MySQL 8.4)."""
    since = load_target(target.engine).unique_parents_since
    if not since or target.version < since:
        return
    for item in catalog.objects.values():
        key = item.constraint
        parent = catalog.table(key.references, item.default_schema) if key is not None and key.references else None
        if key is None or key.form != "foreign key" or parent is None or not key.reference_columns:
            continue
        keys = (other.constraint for other in catalog.belonging(parent.id))
        unique = [sorted(other.columns) for other in keys if other is not None and other.form in _KEYS]
        if sorted(key.reference_columns) not in unique:
            detail = f"{', '.join(key.reference_columns).lower()} of {parent.name.lower()}"
            yield Excess("limit.loose-reference", item.id, detail)


def iter_excesses(catalog: Catalog, target: Target, project: Project) -> Iterator[Excess]:
    """Yield everything of a catalogue that goes beyond what a target takes."""
    yield from _Limits(catalog, target, project).find()
