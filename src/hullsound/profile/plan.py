"""Which questions are asked of which columns, and which references are followed."""

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Constraint, Object, ObjectType
from hullsound.knowledge.load import load_questions
from hullsound.knowledge.model import QuestionRow
from hullsound.knowledge.types import LogicalType, logical_type

_TEXTS: Final = frozenset(("text", "large-text", "fixed-text"))
_PLAIN_TEXTS: Final = frozenset(("text", "large-text"))
_TOO_PLAIN: Final = frozenset(("id", "code", "name", "no", "nr", "number", "type", "status"))
"""Names of columns that say too little to guess from them what they refer to."""
_TRUSTING: Final = frozenset(("sqlite", "mysql", "mariadb"))
"""Engines whose enabled references may still lead nowhere: SQLite checks only where a connection asks for it, and a load into the
others goes with foreign_key_checks = 0."""


@dataclass(frozen=True)
class Asked:
    """One question to one column."""

    column: str
    question: str
    row: QuestionRow


@dataclass(frozen=True)
class Followed:
    """A reference that no constraint keeps: its columns, and the table and columns it leads to."""

    columns: tuple[str, ...]
    target: Object
    target_columns: tuple[str, ...]


@dataclass
class TablePlan:
    """All that is asked of one table."""

    table: Object
    asked: list[Asked] = field(default_factory=list)
    followed: list[Followed] = field(default_factory=list)
    key: str = ""
    """A column of whole numbers that is the primary key by itself; '' for none."""


def plan_tables(catalog: Catalog) -> Iterator[TablePlan]:
    """Yield what is asked of each table that holds rows of its own."""
    questions = load_questions()
    keys_by_column = _single_keys(catalog)
    for table in catalog.objects.values():
        if table.type is not ObjectType.TABLE or "external-table" in table.details.get("clauses", ""):
            continue
        plan = TablePlan(table)
        keys = catalog.keys_of(table)
        alone = {names[0] for names in keys if len(names) == 1}
        for column in table.columns:
            logical = logical_type(catalog.engine, column.type)
            if logical is None:
                continue
            if keys and keys[0] == [column.name] and logical.kind in ("integer", "unsigned", "serial"):
                plan.key = column.name
            is_counting = bool(column.identity) or logical.kind == "serial"
            plan.asked += [
                Asked(column.name, name, row)
                for name, row in questions.items()
                if row.sql(catalog.engine) and _is_of(row, logical, column.name in alone, is_counting)
            ]
        plan.followed = [*_unkept(catalog, table), *_guessed(catalog, table, keys_by_column)]
        yield plan


def _is_of(row: QuestionRow, logical: LogicalType, is_key: bool, is_counting: bool) -> bool:
    kinds = {logical.kind}
    if logical.kind in _TEXTS:
        kinds.add("text")
    if logical.kind in _PLAIN_TEXTS:
        kinds.add("plain-text")
    wanted = set(row.of)
    if "text" in wanted and "plain-text" not in wanted:
        wanted |= _TEXTS
    elif "plain-text" in wanted:
        wanted |= _PLAIN_TEXTS
    if not kinds & wanted or (row.bits and logical.bits != row.bits):
        return False
    return (is_key or not row.is_unique) and (is_counting or not row.is_counting)


def _unkept(catalog: Catalog, table: Object) -> Iterator[Followed]:
    """Yield the foreign keys that are switched off or were never checked."""
    for item in catalog.belonging(table.id):
        constraint = item.constraint
        if constraint is None or constraint.form != "foreign key" or not _is_unkept(catalog, item, constraint):
            continue
        target = catalog.table(constraint.references, item.schema)
        if target is not None and target.columns:
            theirs = constraint.reference_columns or next(iter(catalog.keys_of(target)), [])
            if len(theirs) == len(constraint.columns):
                yield Followed(tuple(constraint.columns), target, tuple(theirs))


def _is_unkept(catalog: Catalog, item: Object, constraint: Constraint) -> bool:
    upper = item.text.upper()
    return constraint.disabled or catalog.engine in _TRUSTING or "NOVALIDATE" in upper or "NOT VALID" in upper


def _single_keys(catalog: Catalog) -> dict[str, list[tuple[Object, Column]]]:
    """Return tables by the name of the one column that is their primary key."""
    found: dict[str, list[tuple[Object, Column]]] = {}
    for table in catalog.objects.values():
        if table.type is not ObjectType.TABLE:
            continue
        for item in catalog.belonging(table.id):
            constraint = item.constraint
            if constraint is not None and constraint.form == "primary key" and len(constraint.columns) == 1:
                name = constraint.columns[0]
                column = next((each for each in table.columns if each.name == name), None)
                if column is not None and name.lower() not in _TOO_PLAIN:
                    found.setdefault(name, []).append((table, column))
    return found


def _guessed(catalog: Catalog, table: Object, keys: dict[str, list[tuple[Object, Column]]]) -> Iterator[Followed]:
    """Yield columns that no constraint covers and that are called and typed like the key of exactly one other table."""
    covered = {
        name
        for item in catalog.belonging(table.id)
        if item.constraint is not None and item.constraint.form in ("foreign key", "primary key")
        for name in item.constraint.columns
    }
    for column in table.columns:
        targets = [pair for pair in keys.get(column.name, []) if pair[0] is not table]
        if column.name not in covered and len(targets) == 1 and targets[0][1].type == column.type:
            yield Followed((column.name,), targets[0][0], (column.name,))
