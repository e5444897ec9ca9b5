"""Replays all statements of a survey in their order, so that the catalogue holds the state after the last of them."""

from bisect import bisect_right
from collections.abc import Iterator
from typing import Final

import msgspec

from .given_names import is_given_name
from .kept_sightings import kept_sightings, with_owner
from .model import Catalog, Change, Object, ObjectType, Sighting, object_id, shown
from .parts_of_tables import can_be_off, column_of, disable, mentions, put_at, with_new_name

_TABLES: Final = (ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW)
_NAMED_LOOSELY: Final = frozenset(("index", "trigger", "function", "procedure"))
"""Types that some engines name by their table, or that have parameters in their id."""
_GONE_KINDS: Final = frozenset(("drop", "rename", "move"))


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


class Replay:
    """The state of the catalogue while its statements go by."""

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

    # --- order ---

    def _is_ordered(self, a: Object | Change, b: Object | Change) -> bool:
        """Whether it is known which of two statements runs first: both in one group of files, or by the names of files."""
        starts = self.catalog.part_starts
        if a.file == b.file or bisect_right(starts, a.step) == bisect_right(starts, b.step):
            return True
        ranks = self.catalog.file_ranks
        return ranks.get(a.file, 0) != ranks.get(b.file, 0)

    # --- running ---

    def run(self) -> None:
        """Replay everything, and leave the state in the catalogue."""
        for event in self._events():
            if event.step in self.skipped_steps and event.step:
                continue
            if isinstance(event, Object):
                self._create(event)
            else:
                self._change(event)
        for changes in list(self.waiting.values()):
            for change in changes:
                self._change_unknown(change)
        self._tell_unmet_drops()
        self._finish()

    def _tell_unmet_drops(self) -> None:
        """Say which parts of tables are dropped that no script makes; scripts that begin with drops make them only later."""
        for table, change in self.unmet_drops:
            name = change.names[0] if change.names else ""
            if name and "not created" not in table.details and self._part(table, change.of, name) is None:
                self._remark("survey.change-unknown", table, change, f"drop of {change.of} {shown(name)}")

    def _events(self) -> Iterator[Object | Change]:
        catalog = self.catalog
        # Of what one statement brings, the table comes before what belongs to it.
        objects = sorted([*catalog.earlier, *catalog.objects.values()], key=lambda each: (each.step, bool(each.table)))
        at = 0
        for change in sorted(catalog.changes, key=lambda each: each.step):
            while at < len(objects) and objects[at].step <= change.step:
                yield objects[at]
                at += 1
            yield change
        yield from objects[at:]

    def _create(self, item: Object) -> None:
        before = self.state.get(item.id)
        early = self.early_drops.get(item.id)
        if early is not None and not self._is_ordered(early, item):
            self._remark("survey.order-unclear", item, early, f"{item.type} {shown(item.name)}")
        if before is not None and item.constraint is not None and before.table != item.table:
            item.id = object_id(item.schema, item.type, f"{item.table.rpartition('.')[2]}.{shown(item.name)}")
            before = self.state.get(item.id)
        if before is not None:
            if item.type is ObjectType.TABLE and before.columns and self._is_ordered(before, item):
                self.skipped_steps.add(item.step)
                self.superseded.append(item)
                if not item.details.get("if absent"):
                    before.details.setdefault("defined again", f"{item.file}:{item.line}")
                return
            item.details.setdefault("defined before", f"{before.file}:{before.line}")
            self._supersede(before)
        self.state[item.id] = item
        if item.type.value in _NAMED_LOOSELY:
            self.ids_by_name.setdefault((item.type.value, item.name.rpartition(".")[2]), []).append(item.id)
        if item.table:
            self.ids_of_tables.setdefault(item.table, []).append(item.id)
        for change in self.waiting.pop((item.schema, item.name), ()):
            if change.kind in _GONE_KINDS and self._is_ordered(change, item):
                self._change_unknown(change)  # it was done to another object of this name, before
            else:
                self._change(change)

    def _supersede(self, before: Object) -> None:
        """Take away what the statement that an object is made anew of had brought with it."""
        self.superseded.append(before)
        for item in self._belonging(before):
            if item.step == before.step:
                del self.state[item.id]

    def _belonging(self, table: Object) -> list[Object]:
        ids = dict.fromkeys(self.ids_of_tables.get(table.id, ()))
        return [self.state[i] for i in ids if i in self.state and self.state[i].table == table.id]

    def _remark(self, construct: str, owner: Object | None, change: Change, detail: str) -> None:
        place = (owner.id if owner is not None else "database", change.file, change.line, 1, change.line, 1, "")
        self.remarks.append(Sighting(construct, *place, detail))

    # --- changes ---

    def _change(self, change: Change) -> None:
        if change.kind == "drop" and change.of not in _PARTS:
            self._drop(change)
            return
        item = self._subject(change)
        if item is None:
            self.waiting.setdefault((change.schema, change.name), []).append(change)
            return
        self._apply(item, change)

    def _change_unknown(self, change: Change) -> None:
        """Apply a change of what no script creates: an object without a definition takes it, or it stays without effect."""
        is_of_whole = change.kind in _GONE_KINDS and change.of not in _PARTS and not change.names
        item = None if is_of_whole else self._subject(change)
        if item is None and change.of in ("table", "column", *_KEYS) and change.kind not in _GONE_KINDS:
            item = Object(
                object_id(change.schema, ObjectType.TABLE, change.name), ObjectType.TABLE, change.schema, change.name,
                change.file, change.line, "", 1, details={"not created": "yes"}, default_schema=change.schema,
                step=change.step,
            )  # fmt: skip
            self.state[item.id] = item
        if item is not None:
            self._apply(item, change)
        elif change.kind not in ("enable", "disable", "restart"):
            name = ".".join(filter(None, (change.schema, change.name, *change.names)))
            self._remark("survey.change-unknown", None, change, f"{change.kind} {change.of} {shown(name)}")

    def _subject(self, change: Change) -> Object | None:
        """Find what a change is done to."""
        if change.of in ("table", "column", *_KEYS) or (
            change.names and change.of in ("constraint", "index", "trigger")
        ):
            return self._table(change.schema, change.name)
        if change.of == "object":
            found = [each for each in self.state.values() if (each.schema, each.name) == (change.schema, change.name)]
            return found[0] if found else None
        return self._whole(change)

    def _table(self, schema: str, name: str) -> Object | None:
        for kind in _TABLES:
            found = self.state.get(object_id(schema, kind, name))
            if found is not None:
                return found
        return None

    def _whole(self, change: Change) -> Object | None:
        found = self.state.get(object_id(change.schema, change.of, change.name))
        if found is not None or change.of not in _NAMED_LOOSELY:
            return found
        alike = [
            self.state[each]
            for each in dict.fromkeys(self.ids_by_name.get((change.of, change.name), ()))
            if each in self.state
        ]
        if change.of in ("function", "procedure"):  # of several with other parameters none is meant for sure
            alike = [each for each in alike if each.schema == change.schema]
            return alike[0] if len(alike) == 1 else None
        return alike[0] if alike else None

    def _apply(self, item: Object, change: Change) -> None:
        if item.type not in _TABLES and change.of == "table":
            return
        handler = _HANDLERS.get((change.kind, change.of)) or _HANDLERS.get((change.kind, ""))
        if handler is not None:
            handler(self, item, change)

    # --- drop ---

    def _drop(self, change: Change) -> None:
        if change.names:  # an index or trigger of a table
            table = self._table(change.schema, change.name)
            item = self._part(table, change.of, change.names[0]) if table is not None else None
        else:
            item = self._table(change.schema, change.name) if change.of == "table" else self._whole(change)
        if item is None:
            if len([i for i in self.ids_by_name.get((change.of, change.name), ()) if i in self.state]) > 1:
                self._remark(
                    "survey.change-unknown", None, change, f"drop of one of several {change.of}s {shown(change.name)}"
                )
            self.early_drops[object_id(change.schema, change.of, change.name)] = change
        elif not self._is_ordered(item, change):
            self._remark("survey.order-unclear", item, change, f"{item.type} {shown(item.name)}")
        else:
            self._remove(item, change)

    def _remove(self, item: Object, change: Change) -> None:
        for part in self._belonging(item):
            self._forget(part)
        self._forget(item)
        self._note_gone(item, "", change)
        if item.type is ObjectType.PACKAGE:
            body = self.state.get(object_id(item.schema, ObjectType.PACKAGE_BODY, item.name))
            if body is not None:
                self._forget(body)
        self._remark("survey.dropped", None, change, f"{item.type} {shown(item.name)}")

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
        part = self._key(table, change.of, change.names) if change.of in _KEYS else self._part(table, change.of, name)
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

    # --- rename ---

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

    def _rename(self, item: Object, change: Change) -> None:
        if change.names:
            self._rename_part(item, change)
            return
        schema = change.new[-2] if len(change.new) > 1 else item.schema
        self._move_to(item, schema, change.new[-1], change)

    def _move(self, item: Object, change: Change) -> None:
        self._move_to(item, change.new[-1], item.name, change)

    def _move_to(self, item: Object, schema: str, name: str, change: Change) -> None:
        referring = self._referring(item) if item.type in _TABLES else []
        parts = self._belonging(item)
        new = (schema, name) if schema else (name,)
        self._note_gone(item, "", change, new)
        old_name = item.name
        for each in self.state.values():
            if each.type in (ObjectType.GRANT, ObjectType.SYNONYM) and self._names(each, item):
                each.details["target"] = "\t".join(new)
        self._give_id(item, schema, name)
        for part in parts:
            part.table = item.id
            self.ids_of_tables.setdefault(item.id, []).append(part.id)
            is_named_by_us = part.name.startswith(f"{old_name}_") and part.name.upper() not in part.text.upper()
            is_named_by_table = part.name.startswith(f"{old_name}.") or is_named_by_us
            self._give_id(part, schema, name + part.name[len(old_name) :] if is_named_by_table else part.name)
        for part in referring:
            assert part.constraint is not None
            part.constraint.references = new
        for waiting in self.waiting.pop((schema, name), ()) if item.type in _TABLES else ():
            self._change(waiting)

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

    # --- columns ---

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

    # --- states, options, comments ---

    def _switch(self, item: Object, change: Change) -> None:
        if change.of == "trigger" and not change.names:
            disable(item, is_off=change.kind == "disable")
            return
        if change.of in _KEYS:
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

    def _comment(self, item: Object, change: Change) -> None:
        if not change.names:
            item.comment = change.text
            return
        column = column_of(item, change.names[0])
        if column is not None:
            column.comment = change.text
        else:
            item.details[f"comment {change.names[0]}"] = change.text

    # --- the end ---

    def _finish(self) -> None:
        catalog = self.catalog
        catalog.objects = {}
        for item in self.state.values():
            catalog.add(item)
        catalog.earlier, catalog.changes = [], []
        # What was said of an object by a name that it no longer has belongs to it all the same.
        moved = self.moved = {old: self._last_id(old) for old in self.moved if old not in self.state}
        dead = {item_id for item_id in self.removed if item_id not in self.state and item_id not in moved}
        spans: dict[tuple[str, str], list[range]] = {}
        for item in self.superseded:
            spans.setdefault((item.id, item.file), []).append(range(item.line, item.line + max(item.lines, 1)))
        catalog.sightings = [*kept_sightings(catalog, moved, dead, spans), *self.remarks]
        catalog.unread = [with_owner(span, moved, dead) for span in catalog.unread]

    def _last_id(self, old: str) -> str:
        """Follow changes of names to the last; names that go in a circle end where they began."""
        seen = {old}
        new = self.moved[old]
        while new in self.moved and new not in self.state and new not in seen:
            seen.add(new)
            new = self.moved[new]
        return new


_KEYS: Final = ("primary key", "unique", "foreign key", "check")
_PARTS: Final = ("column", "constraint", *_KEYS)
_HANDLERS: Final = {
    ("add", ""): Replay._add_column,
    ("modify", ""): Replay._modify,
    ("redefine", ""): Replay._modify,
    ("retype", ""): Replay._modify,
    ("not null", ""): Replay._not_null,
    ("set not null", ""): Replay._not_null,
    ("set null", ""): Replay._null,
    ("set default", ""): Replay._default,
    ("drop default", ""): Replay._default,
    ("restart", ""): Replay._restart,
    ("comment", ""): Replay._comment,
    ("drop", "column"): Replay._drop_column,
    ("drop", ""): Replay._drop_part,
    ("rename", "column"): Replay._rename_column,
    ("rename", ""): Replay._rename,
    ("move", ""): Replay._move,
    ("enable", ""): Replay._switch,
    ("disable", ""): Replay._switch,
    ("alter", "sequence"): Replay._options,
}  # fmt: skip
