"""Replays all statements of a survey in their order, so that the catalogue holds the state after the last of them."""

from bisect import bisect_right
from collections.abc import Iterator
from typing import Final

from hullsound.catalog.model import Change, Object, ObjectType, object_id, shown
from hullsound.catalog.replay_parts import KEYS, PartReplay

from .kept_sightings import kept_sightings, with_owner
from .parts_of_tables import column_of

_TABLES: Final = (ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW)
_NAMED_LOOSELY: Final = frozenset(("index", "trigger", "function", "procedure"))
"""Types that some engines name by their table, or that have parameters in their id."""
_GONE_KINDS: Final = frozenset(("drop", "rename", "move"))


class Replay(PartReplay):
    """The state of the catalogue while its statements go by."""

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
        if item is None and change.of in ("table", "column", *KEYS) and change.kind not in _GONE_KINDS:
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
        if change.of in ("table", "column", *KEYS) or (
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

    # --- rename ---

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

    # --- columns ---

    # --- states, options, comments ---

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


_PARTS: Final = ("column", "constraint", *KEYS)
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
