"""Rows and cases made up from what the catalogue knows: column types, keys, lists of values and parameters.

They are the same on every run. Rows keep to what the source's own engine takes, so that cases start from a sound state.
"""

import re
from collections.abc import Container, Iterator, Sequence
from typing import Any, Final

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object, ObjectType, Parameter
from hullsound.draft.edits.text import quote_name
from hullsound.draft.objects.order import creation_order
from hullsound.knowledge.types import logical_type, parse_type

from .behaviour import BehaviourCase, CaseFile, CaseResult, Row, Rows, Source, Target

_ROWS: Final = 4
_TRIES: Final = 3
"""Sets of values that are tried for a row before the table goes without it."""
_CALLS: Final = 3
_WORDS: Final = ("amber", "birch", "cedar", "dune", "ember", "fern", "gorse")
_NUMBERS: Final = (3, 10, 1, 25, 7, 2, 40)
_FRACTIONS: Final = ("2.5", "10.25", "0.75", "31.4", "7", "1.01", "40.5")
_DAYS: Final = ("2024-02-29", "2024-05-06", "2023-12-31", "2024-07-15", "2024-01-01", "2024-10-10", "2022-06-30")
_TIMES: Final = ("08:30:00", "00:00:00", "23:59:59", "12:00:00", "06:15:30", "17:45:00", "09:00:00")
_NOT_THERE: Final = {"number": 9999, "text": "nowhere", "day": "1999-12-31"}
_LIST: Final = re.compile(r"(?i)[`\"\[]?(\w+)[`\"\]]?\s+IN\s*\(([^()]*)\)")
_LIMIT: Final = re.compile(r"(?i)[`\"\[]?(\w+)[`\"\]]?\s*(?:BETWEEN\s+|>=?\s*)(-?\d+)")
_CONSTANT: Final = re.compile(r"'((?:[^']|'')*)'|(-?\d+(?:\.\d+)?)")
_EVENT: Final = re.compile(
    r"(?i)\b(?:BEFORE|AFTER|INSTEAD\s+OF)\s+(INSERT|UPDATE|DELETE)\b|\b(INSERT|UPDATE|DELETE)\s+(?:OF\b.*?\s)?ON\b"
)
_PREFIX: Final = re.compile(r"^(?:@|p_|in_|i_|v_|a_|par_|the_)+|(?:_in|_p)$")


def make_cases(catalog: Catalog, source: Source, unwritten: Container[str] = ()) -> CaseFile:
    """Make rows that the source takes, and cases for its views, triggers and routines.

    What the source's engine did not make, and whatever uses something `unwritten`, is left out: it tells nothing.
    """
    maker = _RowMaker(catalog, source)
    rows = maker.rows()
    calls = _CaseMaker(catalog, maker, rows)
    made = (*calls.of_views(), *calls.of_triggers(), *calls.of_routines())
    return CaseFile(tuple(case for case in made if calls.can_run(case, source.refused, unwritten)), rows)


def settle_rows(catalog: Catalog, cases: CaseFile, target: Target) -> tuple[CaseFile, list[CaseResult]]:
    """Leave out rows that the target refuses, and tell for each table with rows whether it takes them all."""
    tables = {item.name.lower(): item.id for item in catalog.objects.values() if item.type is ObjectType.TABLE}
    kept: Rows = {}
    told = []
    for table, rows in cases.rows.items():
        refusals = [target.refusal(table, row) for row in rows]
        kept[table] = [row for row, refusal in zip(rows, refusals, strict=True) if not refusal]
        said = next(filter(None, refusals), "")
        difference = f"the target refuses a row that the source takes: {said}" if said else ""
        told.append(CaseResult(f"{len(rows)} rows of {table}", tables[table], not said, difference))
    return msgspec.structs.replace(cases, rows=kept), told


class _RowMaker:
    """Makes a few rows for each table, parents first."""

    def __init__(self, catalog: Catalog, source: Source) -> None:
        self.catalog = catalog
        self.source = source
        self.tables = [
            item for item, _ in creation_order(catalog)
            if item.type is ObjectType.TABLE and item.columns and not item.details.get("temporary")
        ]  # fmt: skip
        self._rules: dict[str, list[Object]] = {}
        for item in catalog.objects.values():
            if item.table and (item.constraint is not None or (item.index is not None and item.index.unique)):
                self._rules.setdefault(item.table, []).append(item)
        self._rows: Rows = {}

    def rows(self) -> Rows:
        self.source.empty()
        waiting = sorted(self.tables, key=lambda table: len(self._parents(table)))
        done: set[str] = set()
        while waiting:
            ready = [table for table in waiting if self._parents(table) <= done] or waiting[:1]
            for table in ready:
                self._rows[table.name.lower()] = list(self._kept(table))
                done.add(table.id)
            waiting = [table for table in waiting if table.id not in done]
        self.source.empty()
        return {table: rows for table, rows in self._rows.items() if rows}

    def row(self, table: Object, number: int, variant: int = 0) -> Row:
        """Return the values of one row; what the engine computes is left out."""
        row: Row = {}
        rules = [each.constraint for each in self._rules.get(table.id, []) if each.constraint is not None]
        unique = {name for each in self.catalog.keys_of(table) for name in each}
        chosen: Row = {}
        for rule in rules:
            if rule.form == "foreign key":
                chosen |= self._referenced(table, rule.columns, rule.references, rule.reference_columns, number)
        for column in table.columns:
            if column.generated or self._is_versioned(column):
                continue
            name = column.name.lower()
            if column.name in chosen:
                row[name] = chosen[column.name]
            elif number == _ROWS - 1 and column.nullable and column.name not in unique and not column.default:
                row[name] = None
            else:
                value = self._value(table, column, number + variant, number, column.name in unique)
                if value is not None or column.nullable:
                    row[name] = value
        return row

    def unique_columns(self, table: Object) -> set[str]:
        return {name.lower() for each in self.catalog.keys_of(table) for name in each}

    def bound_columns(self, table: Object) -> set[str]:
        """Return the columns of keys and foreign keys, in lower case."""
        rules = [each.constraint for each in self._rules.get(table.id, []) if each.constraint is not None]
        return {name.lower() for rule in rules if rule.form != "check" for name in rule.columns} | self.unique_columns(
            table
        )

    @staticmethod
    def _is_versioned(column: Column) -> bool:
        return column.type.name in ("ROWVERSION",)

    def _parents(self, table: Object) -> set[str]:
        found = set()
        for each in self._rules.get(table.id, []):
            if each.constraint is not None and each.constraint.form == "foreign key":
                parent = self._parent(table, each.constraint.references)
                if parent is not None and parent.id != table.id:
                    found.add(parent.id)
        return found

    def _parent(self, table: Object, name: Sequence[str]) -> Object | None:
        schema = name[-2] if len(name) > 1 else table.schema
        found = [item for item in self.catalog.named(schema, name[-1]) if item.type is ObjectType.TABLE]
        return found[0] if found else None

    def _referenced(
        self, table: Object, columns: list[str], parent: Sequence[str], parent_columns: list[str], number: int
    ) -> Row:
        item = self._parent(table, parent)
        if item is None:
            return {}
        rows = self._rows.get(item.name.lower(), [])
        if not rows:
            # A table that refers to itself begins with rows that refer to nothing.
            return {name: None for name in columns if any(c.name == name and c.nullable for c in table.columns)}
        names = parent_columns or next(iter(self.catalog.keys_of(item)), columns)
        row = rows[number % len(rows)]
        return {mine: row.get(theirs.lower()) for mine, theirs in zip(columns, names, strict=False)}

    def _kept(self, table: Object) -> Iterator[Row]:
        kept = self._rows.setdefault(table.name.lower(), [])
        for number in range(_ROWS):
            for variant in range(_TRIES):
                row = self.row(table, number, variant * _ROWS)
                if self.source.takes(table.name.lower(), row):
                    kept.append(row)
                    break
        yield from kept

    def _value(self, table: Object, column: Column, place: int, number: int, is_key: bool) -> Any:
        listed, least = self._asked(table, column)
        if listed:
            return listed[place % len(listed)]
        kind, value = made_value(self.catalog.engine, str(column.type), place, number if is_key else None)
        if kind == "number" and least is not None and float(value) < least:
            return least + place
        return value

    def _asked(self, table: Object, column: Column) -> tuple[list[Any], int | None]:
        """Return the values that checks list for a column, and the least that they take."""
        texts = [each.constraint.expression for each in self._rules.get(table.id, [])
                 if each.constraint is not None and each.constraint.form == "check"]  # fmt: skip
        for text in texts:
            for match in _LIST.finditer(text):
                if match[1].upper() == column.name.upper():
                    found = [_constant(each) for each in _CONSTANT.finditer(match[2])]
                    if found:
                        return found, None
        for text in texts:
            for match in _LIMIT.finditer(text):
                if match[1].upper() == column.name.upper():
                    return [], int(match[2])
        return [], None


class _CaseMaker:
    """Makes cases over the rows that were made."""

    def __init__(self, catalog: Catalog, maker: _RowMaker, rows: Rows) -> None:
        self.catalog = catalog
        self.maker = maker
        self.rows = rows
        self.used: dict[str, list[str]] = {}
        for reference in catalog.references:
            if reference.target and reference.target != reference.object:
                self.used.setdefault(reference.object, []).append(reference.target)
        self.triggers: dict[str, list[Object]] = {}
        for item in catalog.objects.values():
            if item.type is ObjectType.TRIGGER and item.table in catalog.objects:
                self.triggers.setdefault(item.table, []).append(item)

    def can_run(self, case: BehaviourCase, *missing: Container[str]) -> bool:
        """Whether nothing that a case reaches is missing."""
        return not any(each in ids for each in self._reached([case.routine or case.object]) for ids in missing)

    def of_views(self) -> Iterator[BehaviourCase]:
        for item in self.catalog.objects.values():
            if item.type is ObjectType.VIEW:
                name = quote_name(item.name.lower() if item.name.isupper() else item.name, self.catalog.engine)
                yield BehaviourCase(f"rows of {item.name.lower()}", query=f"SELECT * FROM {name}", object=item.id)

    def of_triggers(self) -> Iterator[BehaviourCase]:
        for table_id, triggers in self.triggers.items():
            table = self.catalog.objects[table_id]
            for trigger in triggers:
                match = _EVENT.search(trigger.text)
                change = self._change((match[1] or match[2]).upper(), table) if match else ""
                if change:
                    yield BehaviourCase(
                        f"{trigger.name.lower()} on {change.split()[0].lower()}", query=change, object=trigger.id,
                        watch=self._watched([table_id, trigger.id]),
                    )  # fmt: skip

    def of_routines(self) -> Iterator[BehaviourCase]:
        for item in self.catalog.objects.values():
            if item.type not in (ObjectType.FUNCTION, ObjectType.PROCEDURE) or not item.routines:
                continue
            asked = [each for each in item.routines[0].parameters if each.mode != "out"]
            pools = [self._pool(item, each, place) for place, each in enumerate(asked)]
            calls = [tuple(pool[turn % len(pool)] for pool in pools) for turn in range(_CALLS)] + [(None,) * len(pools)]
            watch = self._watched([item.id])
            for values in dict.fromkeys(calls):
                told = ", ".join("NULL" if v is None else repr(v) for v in values)
                yield BehaviourCase(f"{item.name.lower()}({told})", routine=item.id, arguments=values, watch=watch)

    def _pool(self, item: Object, parameter: Parameter, place: int) -> list[Any]:
        """Return values for a parameter: those of a column with its name and one that is not there, else by its type.

        Values by type differ from parameter to parameter, so that spans of time and the like are not empty.
        """
        name = _PREFIX.sub("", parameter.name.lower())
        used = [self.catalog.objects[each] for each in self._reached([item.id]) if each in self.catalog.objects]
        tables = [each for each in used if each.columns] + self.maker.tables
        kind, _ = made_value(self.catalog.engine, parameter.type, 0, None)
        for table in tables:
            for column in table.columns:
                if column.name.lower() in (name, f"{name}_id") or (
                    name == "id" and column.name.lower() == f"{table.name.lower()}_id"
                ):
                    values = [row.get(column.name.lower()) for row in self.rows.get(table.name.lower(), [])]
                    there = [value for value in dict.fromkeys(values) if value is not None][: _CALLS - 1]
                    if there:
                        return [*there, _NOT_THERE.get(kind, there[0])]
        return [made_value(self.catalog.engine, parameter.type, turn + place, None)[1] for turn in range(_CALLS)]

    def _change(self, event: str, table: Object) -> str:
        """Write a statement that fires triggers of an event; '' where no row allows it."""
        rows = self.rows.get(table.name.lower(), [])
        name = self._written(table.name)
        if event == "INSERT":
            row = self.maker.row(table, _ROWS, 0)
            columns = ", ".join(map(self._written, row))
            return f"INSERT INTO {name} ({columns}) VALUES ({', '.join(map(_literal, row.values()))})"
        key = sorted(self.maker.unique_columns(table))
        if not rows or not key:
            return ""
        old, new = rows[0], rows[1 % len(rows)]
        where = " AND ".join(f"{self._written(c)} = {_literal(old[c])}" for c in key if old.get(c) is not None)
        if event == "DELETE":
            return f"DELETE FROM {name} WHERE {where}"
        bound = self.maker.bound_columns(table)
        changed = [c for c in new if c not in bound and new[c] is not None and new[c] != old.get(c)]
        if not changed:
            return ""
        return (
            f"UPDATE {name} SET {', '.join(f'{self._written(c)} = {_literal(new[c])}' for c in changed)} WHERE {where}"
        )

    def _written(self, name: str) -> str:
        return quote_name(name.lower() if name.isupper() else name, self.catalog.engine)

    def _reached(self, starts: list[str]) -> list[str]:
        """Return what objects use, directly, through others or through the triggers of tables."""
        seen = dict.fromkeys(starts)
        waiting = list(starts)
        while waiting:
            each = waiting.pop()
            item = self.catalog.objects.get(each)
            if item is None or (item.type is ObjectType.TABLE and each not in starts and each not in self.triggers):
                continue
            onward = [trigger.id for trigger in self.triggers.get(each, [])]
            onward += self.used.get(each, []) if item.type is not ObjectType.TABLE else []
            for target in onward:
                if target not in seen:
                    seen[target] = None
                    waiting.append(target)
        return list(seen)

    def _watched(self, starts: list[str]) -> tuple[str, ...]:
        tables = {table.id: table.name.lower() for table in self.maker.tables}
        return tuple(tables[each] for each in self._reached(starts) if each in tables)


def made_value(engine: str, type_text: str, place: int, key: int | None) -> tuple[str, Any]:
    """Return a value for a type and what it is: number, text, day or ''.

    `place` chooses among the values; `key` is the number of the row where values must differ from row to row.
    """
    source = parse_type(re.sub(r"(?i)\s+(?:CHARACTER SET|CHARSET|COLLATE)\s+\w+", "", type_text))
    logical = logical_type(engine, source)
    kind = logical.kind if logical is not None else ""
    at = place % len(_WORDS)
    if kind in ("enum", "set"):
        values = [_constant(match) for match in _CONSTANT.finditer(type_text)]
        return "text", values[place % len(values)] if values else None
    if kind in ("integer", "unsigned", "serial", "decimal-whole"):
        is_truth = logical is not None and logical.bits == 8 and source.arguments == ("1",)
        return "number", key + 1 if key is not None else place % 2 if is_truth else _NUMBERS[at]
    if kind in ("decimal", "decimal-free", "float", "money", "small-money", "decimal-float"):
        if key is not None or (logical is not None and kind == "decimal" and logical.scale == 0):
            return "number", key + 1 if key is not None else _NUMBERS[at]
        is_narrow = logical is not None and kind == "decimal" and logical.precision - logical.scale < 2
        return "number", f"0.{place % 9 + 1}" if is_narrow else _FRACTIONS[at]
    if kind == "boolean" or kind == "bit":
        return "number", place % 2
    if kind == "bit-string":
        return "number", place % 2
    if kind == "year":
        return "number", 2020 + at
    if kind in ("date", "date-zero"):
        return "day", _DAYS[at] if key is None else f"2024-03-{key + 1:02}"
    if kind == "time-span" or kind.startswith("time-of-day") or kind == "time":
        return "time", _TIMES[at]
    if kind.startswith(("date-time", "timestamp")):
        return "day", f"{_DAYS[at] if key is None else f'2024-03-{key + 1:02}'} {_TIMES[at]}"
    if kind == "json":
        return "", f'{{"name": "{_WORDS[at]}", "count": {_NUMBERS[at]}}}'
    if kind in ("text", "fixed-text", "large-text", "binary", "fixed-binary", "large-binary"):
        word = f"{_WORDS[at]}{key + 1}" if key is not None else _WORDS[at]
        length = logical.length if logical is not None else 0
        if length and len(word) > length:
            word = (f"{key + 1:0{min(length, 2)}}{word}" if key is not None else word)[:length]
        return "text", word.ljust(length, "0") if kind == "fixed-binary" else word
    return "", None


def _constant(match: re.Match[str]) -> Any:
    if match[1] is not None:
        return match[1].replace("''", "'")
    return float(match[2]) if "." in match[2] else int(match[2])


def _literal(value: Any) -> str:
    if value is None:
        return "NULL"
    return str(value) if isinstance(value, int | float) else "'" + str(value).replace("'", "''") + "'"
