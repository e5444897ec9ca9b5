"""Changes of columns, constraints and indexes, applied in the order of a script."""

from typing import Final

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Change, Object, ObjectType, Sighting, object_id, shown

from .given_names import is_given_name
from .parts_of_tables import can_be_off, column_of, disable, mentions, put_at, with_new_name

KEYS: Final = ("primary key", "unique", "foreign key", "check")


class Event(msgspec.Struct):
    """Something that was there and is not any more."""

    schema: str
    name: str
    column: str
    """'' for the whole object."""
    step: int
    file: str
    line: int
    new: tuple[str, ...] = ()
    """Schema and name afterwards; () where it was dropped."""


class PartReplay:
    """Applies what changes the parts of one table."""

    def __init__(self, catalog: Catalog) -> None:
        self.catalog = catalog
        self.state: dict[str, Object] = {}
        self.ids_of_tables: dict[str, list[str]] = {}
        """Ids of the constraints, indexes and triggers of each table, which may be gone."""
        self.ids_by_name: dict[tuple[str, str], list[str]] = {}
        """Ids by type and name of what is found by less than its id, which may be gone."""
        self.waiting: dict[tuple[str, str], list[Change]] = {}
        """Changes of what is created only later, or in a file whose order is not known."""
        self.early_drops: dict[str, Change] = {}
        self.unmet_drops: list[tuple[Object, Change]] = []
        """Drops of parts of a table that were not there."""
        self.skipped_steps: set[int] = set()
        """Statements that define a table which was there already, with all that they bring."""
        self.superseded: list[Object] = []
        self.moved: dict[str, str] = {}
        """Ids before a change of names, with the ids behind it."""
        self.removed: set[str] = set()
        self.gone: list[Event] = []
        self.remarks: list[Sighting] = []

    def _belonging(self, table: Object) -> list[Object]:
        ids = dict.fromkeys(self.ids_of_tables.get(table.id, ()))
        return [self.state[i] for i in ids if i in self.state and self.state[i].table == table.id]

    def _remark(self, construct: str, owner: Object | None, change: Change, detail: str) -> None:
        place = (owner.id if owner is not None else "database", change.file, change.line, 1, change.line, 1, "")
        self.remarks.append(Sighting(construct, *place, detail))

    def _forget(self, item: Object) -> None:
        table = self.state.get(item.table)
        if table is not None and item.text and item.text in table.text:
            table.details["dropped parts"] = "yes"
        self.state.pop(item.id, None)
        self.removed.add(item.id)
        self.superseded.append(item)

    def _note_gone(self, item: Object, column: str, change: Change, new: tuple[str, ...] = ()) -> None:
        self.gone.append(Event(item.schema, item.name, column, change.step, change.file, change.line, new))

    def _part(self, table: Object, kind: str, name: str) -> Object | None:
        """Find a constraint, index or trigger of a table; a unique constraint is an index too."""
        wanted = (name, f"{table.name}.{name}")
        types = {
            "index": (ObjectType.INDEX, ObjectType.CONSTRAINT), "trigger": (ObjectType.TRIGGER,),
        }.get(kind, (ObjectType.CONSTRAINT, ObjectType.INDEX))  # fmt: skip
        parts = self._belonging(table)
        found = [each for each in parts if each.name in wanted and each.type in types]
        if not found and ObjectType.CONSTRAINT in types:
            found = [each for each in parts if is_given_name(name, each, table, parts, self.catalog.engine)]
        return min(found, key=lambda each: types.index(each.type), default=None)

    def _key(self, table: Object, kind: str, columns: list[str]) -> Object | None:
        for each in self._belonging(table):
            if (
                each.constraint is not None
                and each.constraint.form == kind
                and columns in ([], each.constraint.columns)
            ):
                return each
        return None

    def _drop_part(self, table: Object, change: Change) -> None:
        name = change.names[0] if change.names else ""
        part = self._key(table, change.of, change.names) if change.of in KEYS else self._part(table, change.of, name)
        if part is not None:
            self._forget(part)
            return
        for column in table.columns if change.of == "constraint" else ():
            if column.default_name == name:
                column.default, column.default_name = "", ""
                return
        self.unmet_drops.append((table, change))

    def _drop_column(self, table: Object, change: Change) -> None:
        name = change.names[0]
        self._note_gone(table, name, change)
        if not any(column.name == name for column in table.columns):
            return
        table.columns = [column for column in table.columns if column.name != name]
        table.details["dropped columns"] = "\t".join(filter(None, (table.details.get("dropped columns", ""), name)))
        for part in self._belonging(table):
            if part.type is not ObjectType.TRIGGER and mentions(part, name):
                self._forget(part)

    def _rename_column(self, table: Object, change: Change) -> None:
        old, new = change.names[0], change.new[0]
        names = {column.name for column in table.columns}
        if old == new or old not in names:
            return
        pairs = (table.details.get("renamed columns", ""), f"{old}\t{new}")
        table.details["renamed columns"] = "\n".join(filter(None, pairs))
        for column in table.columns:
            if column.name == old:
                column.name = new
                column.definition = ""
            column.generated = with_new_name(column.generated, old, new)
        for part in self._belonging(table):
            if part.index is not None:
                part.index.where = with_new_name(part.index.where, old, new)
                part.index.include = [with_new_name(name, old, new) for name in part.index.include]
                for key in part.index.keys:
                    key.text = with_new_name(key.text, old, new)
            elif part.constraint is not None:
                part.constraint.columns = [new if each == old else each for each in part.constraint.columns]
                part.constraint.expression = with_new_name(part.constraint.expression, old, new)
        for part in self._referring(table):
            assert part.constraint is not None
            renamed = [new if each == old else each for each in part.constraint.reference_columns]
            part.constraint.reference_columns = renamed
        self._note_gone(table, old, change, (new,))

    def _referring(self, table: Object) -> list[Object]:
        """Return the foreign keys that refer to a table."""
        found = []
        for each in self.state.values():
            refers = each.constraint.references if each.constraint is not None else ()
            if refers and refers[-1] == table.name and (refers[:-1] or (each.default_schema,))[-1] == table.schema:
                found.append(each)
        return found

    def _names(self, item: Object, target: Object) -> bool:
        """Whether a grant or synonym is for an object."""
        parts = item.details.get("target", "").split("\t")
        return parts[-1] == target.name and (parts[:-1] or [item.default_schema])[-1] == target.schema

    def _give_id(self, item: Object, schema: str, name: str) -> None:
        old = item.id
        if self.state.get(old) is item:
            del self.state[old]
        item.schema, item.name = schema, name
        item.id = object_id(schema, item.type, name)
        if item.constraint is not None:
            item.constraint.name = name
        if item.table:
            self.ids_of_tables.setdefault(item.table, []).append(item.id)
        replaced = self.state.get(item.id)
        if replaced is not None and replaced is not item:
            self.superseded.append(replaced)
        self.state[item.id] = item
        if old != item.id:
            self.moved[old] = item.id

    def _rename_part(self, table: Object, change: Change) -> None:
        part = self._part(table, change.of, change.names[0])
        if part is not None:
            is_named_by_table = part.name.startswith(f"{table.name}.")
            self._give_id(part, part.schema, f"{table.name}.{change.new[-1]}" if is_named_by_table else change.new[-1])

    def _add_column(self, table: Object, change: Change) -> None:
        known = {column.name for column in table.columns}
        fresh = [column for column in change.columns if column.name not in known]
        table.columns = [*table.columns, *fresh]
        for column in fresh:
            put_at(table, column, column.place)
        for column in change.columns:
            if column.name in known and table.type is ObjectType.TABLE:
                self._remark("survey.column-exists", table, change, shown(column.name))

    def _modify(self, table: Object, change: Change) -> None:
        for new in change.columns:
            column = column_of(table, new.name)
            if column is None:
                continue
            if new.type.name:
                column.type = new.type
            if change.kind == "modify":
                column.nullable = (column.nullable and new.nullable) or "null" in change.names
                column.default = new.default or column.default
                column.identity = new.identity or column.identity
            else:
                column.nullable = new.nullable and not self._is_in_key(table, column.name)
            column.definition = new.definition if change.kind == "redefine" else ""
            if change.kind == "redefine":
                column.default, column.identity, column.generated = new.default, new.identity, new.generated
                column.comment = new.comment
            put_at(table, column, new.place)

    def _is_in_key(self, table: Object, column: str) -> bool:
        key = self._key(table, "primary key", [])
        return key is not None and key.constraint is not None and column in key.constraint.columns

    def _not_null(self, table: Object, change: Change) -> None:
        for column in table.columns:
            if column.name in change.names and column.nullable:
                column.nullable, column.definition = False, ""

    def _null(self, table: Object, change: Change) -> None:
        for column in table.columns:
            if column.name in change.names and not column.nullable:
                column.nullable, column.definition = True, ""

    def _default(self, table: Object, change: Change) -> None:
        column = column_of(table, change.names[0]) if change.names else None
        if column is not None:
            column.default, column.definition = change.text, ""
            column.default_name = change.new[0] if change.new else ""

    def _restart(self, item: Object, change: Change) -> None:
        if change.new and change.new[0]:
            item.details["restart" if item.type is ObjectType.SEQUENCE else "next identity"] = change.new[0]

    def _switch(self, item: Object, change: Change) -> None:
        if change.of == "trigger" and not change.names:
            disable(item, is_off=change.kind == "disable")
            return
        if change.of in KEYS:
            key = self._key(item, change.of, change.names)
            parts = [key] if key is not None else []
        elif change.names == ["ALL"]:
            parts = [
                each for each in self._belonging(item)
                if (each.type is ObjectType.TRIGGER if change.of == "trigger" else can_be_off(each))
            ]  # fmt: skip
        else:
            part = self._part(item, change.of, change.names[0]) if change.names else item
            parts = [part] if part is not None else []
        for each in parts:
            disable(each, is_off=change.kind == "disable")

    def _options(self, item: Object, change: Change) -> None:
        for key, value in change.options.items():
            if key == "restart":
                item.details["restart"] = value or item.details.get("start", "")
            elif not (key.startswith("no") and key.removeprefix("no").strip() in item.details):
                item.details[key] = value
            else:
                item.details.pop(key.removeprefix("no").strip())

    def _last_id(self, old: str) -> str:
        """Follow changes of names to the last; names that go in a circle end where they began."""
        seen = {old}
        new = self.moved[old]
        while new in self.moved and new not in self.state and new not in seen:
            seen.add(new)
            new = self.moved[new]
        return new
