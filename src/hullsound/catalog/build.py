"""Turns the statements of scripts into objects of a catalogue."""

import re
from collections.abc import Callable
from typing import Final

from hullsound.catalog.build_tables import TableBuilder, plain_name
from hullsound.catalog.model import (
    Column,
    Object,
    ObjectType,
    UnreadSpan,
    object_id,
    shown,
)
from hullsound.sql.literals import string_content
from hullsound.sql.positions import excerpt
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AlterTable,
    AnonymousBlock,
    CommentOn,
    CreateIndex,
    CreatePackage,
    CreateRoutine,
    CreateSequence,
    CreateSynonym,
    CreateTable,
    CreateTrigger,
    CreateType,
    CreateView,
    Delete,
    Grant,
    Insert,
    Merge,
    OtherStatement,
    QueryStatement,
    Select,
    Statement,
    TableRef,
    TypeDeclaration,
    Update,
    Variable,
)

from .calls import effects_of_call
from .definitions import data_type, declared_name, exception_numbers
from .kinds import OTHER_TYPES, SERVER_CALLS, SERVER_WORDS, SESSION_WORDS, UNREAD_TYPES
from .measure import measure_routines

DATABASE: Final = "database"
"""Object id of what belongs to the database as a whole."""
SERVER: Final = "server"
"""Object id of what belongs to the server."""
_BATCH_END: Final = re.compile(r"^[ \t]*GO\b", re.IGNORECASE | re.MULTILINE)
_ROUTINE_TYPES: Final = {"function": ObjectType.FUNCTION, "macro": ObjectType.MACRO}


class ScriptBuilder(TableBuilder):
    """Adds the statements of one file to a catalogue; `schema` is what unqualified names mean."""

    _view = ("", 0)
    """Id of the view that was read last, and where its text ends; '' for another statement."""

    def add(self, read: ReadStatement) -> str:
        """Add one statement; return the id of the object that its text and sightings belong to."""
        self.catalog.step += 1
        if isinstance(read.tree, OtherStatement | QueryStatement | AnonymousBlock):
            for effect in effects_of_call(read, self.catalog.engine):
                schema, name = self._split(effect.name)
                self._change(
                    read,
                    effect.kind,
                    schema,
                    name,
                    text=effect.text,
                    names=list(effect.names),
                    of=effect.of,
                    new=effect.new,
                )
        adder = _ADDERS.get(type(read.tree))
        if not isinstance(read.tree, Insert):
            self._data = None
        owner = adder(self, read, read.tree) if adder is not None else self._add_other(read, read.tree)
        if read.modes and owner in self.catalog.objects:
            self.catalog.objects[owner].details["modes"] = " ".join(sorted(read.modes))
        holder = self._holder_in_batch(read, owner)
        for span in read.unread():
            self._add_unread(read, holder, span.first, span.last, span.reason, whole=not read.is_complete)
        return owner

    def _holder_in_batch(self, read: ReadStatement, owner: str) -> str:
        """Return whose text an unread statement is: in T-SQL, what follows a view within its batch is part of the view."""
        if self.catalog.engine not in ("sqlserver", "ase"):
            return owner
        if read.is_complete:
            self._view = (owner, read.tokens.ends[read.last - 1]) if isinstance(read.tree, CreateView) else ("", 0)
            return owner
        view, end = self._view
        between = read.tokens.text[end : read.tokens.starts[read.first]]
        return view if view and not _BATCH_END.search(between) else owner

    # --- helpers ---

    def _add_unread(self, read: ReadStatement, owner: str, first: int, last: int, reason: str, *, whole: bool) -> None:
        tokens = read.tokens
        start, end = tokens.starts[first], tokens.ends[max(last - 1, first)]
        line, column = self.positions.at(start)
        end_line, end_column = self.positions.at(end)
        self.catalog.unread.append(
            UnreadSpan(
                owner, self.file, line, column, end_line, end_column, end_line - line + 1, reason,
                excerpt(tokens.text, start, end), whole,
            )
        )  # fmt: skip

    # --- one adder per statement ---

    def _add_object_changes(self, read: ReadStatement) -> None:
        """Note what DROP, RENAME, ALTER, ENABLE and DISABLE do to whole objects, guarded by IF or not."""
        for statement in read.all(OtherStatement):
            for node in statement.changes:
                parts, names = node.name, []
                if node.kind == "index" and len(parts) > 1 and not node.on and self.catalog.names_of_indexes_by_table:
                    node.on, parts = parts[:-1], parts[-1:]
                if node.on:
                    parts, names = node.on, [node.name[-1]]
                schema, name = self._split(parts)
                self._change(
                    read, node.form, schema, name, names=names, of=node.kind, new=node.new, options=node.options
                )

    def _add_view(self, read: ReadStatement, tree: CreateView) -> str:
        kind = ObjectType.MATERIALIZED_VIEW if tree.materialized else ObjectType.VIEW
        item = self._named(read, kind, tree.name)
        item.details = {
            "query": self._source(read, tree.query),
            "columns": "\t".join(tree.columns),
            "check option": "yes" if tree.check_option else "",
            "clauses": " ".join(sorted(tree.clauses)),
        }
        return self._put(item)

    def _add_sequence(self, read: ReadStatement, tree: CreateSequence) -> str:
        item = self._named(read, ObjectType.SEQUENCE, tree.name)
        item.details = dict(tree.options)
        return self._put(item)

    def _add_synonym(self, read: ReadStatement, tree: CreateSynonym) -> str:
        schema, name = ("PUBLIC", tree.name[-1]) if tree.public else self._split(tree.name)
        item = self._object(read, ObjectType.SYNONYM, schema, name)
        item.details = {"target": "\t".join(tree.target), "link": tree.link}
        return self._put(item)

    def _add_type(self, read: ReadStatement, tree: CreateType) -> str:
        item = self._named(read, ObjectType.TYPE, tree.name)
        item.details = {"form": tree.form}
        if tree.element is not None:
            item.details["element"] = str(data_type(tree.element))
        if not tree.nullable:
            item.details["not null"] = "yes"
        item.columns = [Column(name, data_type(kind)) for name, kind in tree.attributes]
        return self._put(item)

    def _add_routine(self, read: ReadStatement, tree: CreateRoutine) -> str:
        kind = _ROUTINE_TYPES.get(tree.routine.form, ObjectType.PROCEDURE)
        item = self._named(read, kind, tree.routine.name)
        if self.catalog.overloads_routines:
            types = ",".join(shown(p.type.name or "any") for p in tree.routine.parameters if p.mode != "out")
            item.id = f"{item.id}({types})"
        item.details = {"options": " ".join(tree.routine.options)} if tree.routine.options else {}
        return self._put_code(read, item)

    def _add_package(self, read: ReadStatement, tree: CreatePackage) -> str:
        kind = ObjectType.PACKAGE_BODY if tree.is_body else ObjectType.PACKAGE
        if tree.is_body and read.tokens.words[read.first : tree.is_at].count("TYPE"):
            kind = ObjectType.TYPE_BODY
        item = self._named(read, kind, tree.name)
        names = [declared_name(node) for node in tree.declarations]
        item.details["declares"] = " ".join(name for name in names if name)
        constants = [node.name for node in tree.declarations if isinstance(node, Variable) and node.constant]
        item.details["constants"] = " ".join(constants)
        variables = [node.name for node in tree.declarations if isinstance(node, Variable) and not node.constant]
        item.details["variables"] = " ".join(variables)
        item.details["types of variables"] = "\n".join(
            f"{node.name}\t{' '.join(read.tokens.source(node.type.first, node.type.last).split())}"
            for node in tree.declarations
            if isinstance(node, Variable)
        )
        if tree.initialization is not None:
            item.details["initialization"] = "yes"
        item.details["cursor types"] = " ".join(
            node.name for node in tree.declarations if isinstance(node, TypeDeclaration) and node.form == "ref cursor"
        )
        item.details["exceptions"] = " ".join(
            f"{name}={number}" for name, number in exception_numbers(read.tokens, tree.declarations).items()
        )
        return self._put_code(read, item)

    def _add_trigger(self, read: ReadStatement, tree: CreateTrigger) -> str:
        item = self._named(read, ObjectType.TRIGGER, tree.name)
        if self.catalog.names_of_triggers_by_table and tree.table:
            schema, name = self._split(tree.table)
            item = self._object(read, ObjectType.TRIGGER, schema, f"{name}.{tree.name[-1]}")
        if tree.table and tree.level in ("row", "statement"):
            schema, name = self._split(tree.table)
            item.table = object_id(schema, ObjectType.VIEW if tree.timing == "instead of" else ObjectType.TABLE, name)
        return self._put_code(read, item)

    def _put_code(self, read: ReadStatement, item: Object) -> str:
        item.routines = measure_routines(read, self.positions)
        return self._put(item)

    def _add_block(self, read: ReadStatement, tree: AnonymousBlock) -> str:
        return self._put_code(read, self._numbered(read, ObjectType.BLOCK))

    def _add_query(self, read: ReadStatement, tree: QueryStatement) -> str:
        made = next((i for s in read.all(Select) for i in s.into if isinstance(i, TableRef)), None)
        if made is not None and made.parts[-1][:1] != "#":  # SELECT ... INTO a new table
            item = self._named(read, ObjectType.TABLE, made.parts)
            item.details = {"query": read.text}
            return self._put(item)
        return self._put(self._numbered(read, ObjectType.QUERY))

    def _add_change(self, read: ReadStatement, tree: Statement) -> str:
        return self._put(self._numbered(read, ObjectType.CHANGE))

    def _add_insert(self, read: ReadStatement, tree: Insert) -> str:
        """Gather a run of INSERT ... VALUES as one object: they are data, not code."""
        if tree.query is not None or tree.table is None:
            self._data = None
            return self._add_change(read, tree)
        if self._data is None:
            self._data = self._numbered(read, ObjectType.DATA)
            self._put(self._data)
            return self._data.id
        run = self._data
        first = self.positions.starts[run.line - 1]
        start = read.tokens.text.find(run.text[:40], first)
        run.text = read.tokens.text[start : read.end]
        run.lines = self.positions.line(read.end - 1) - run.line + 1
        return run.id

    def _add_grant(self, read: ReadStatement, tree: Grant) -> str:
        if not tree.object:
            return SERVER
        schema, name = self._split(tree.object)
        item = self._object(read, ObjectType.GRANT, schema, name)
        known = self.catalog.objects.get(item.id)
        entry = "\t".join((
            "revoke" if tree.revoke else "grant", ",".join(tree.privileges), ",".join(tree.grantees)
        ))  # fmt: skip
        if known is None:
            item.details["target"] = "\t".join(tree.object)
            item.details["entries"] = entry
            return self._put(item)
        known.details["entries"] += "\n" + entry
        known.text += ";\n" + item.text
        known.lines += item.lines
        return known.id

    def _add_comment(self, read: ReadStatement, tree: CommentOn) -> str:
        text = string_content(tree.text, self.catalog.engine)
        parts = tree.name[:-1] if tree.on == "column" else tree.name
        if not parts or tree.on.startswith("other"):
            return DATABASE
        schema, name = self._split(parts)
        self._change(read, "comment", schema, name, text=text, names=[tree.name[-1]] if tree.on == "column" else [])
        return object_id(schema, ObjectType.TABLE, name)

    def _add_other(self, read: ReadStatement, tree: Statement) -> str:
        if not isinstance(tree, OtherStatement):
            return DATABASE
        self._add_object_changes(read)
        if tree.words in SESSION_WORDS:
            self._change_schema(read, tree)
            return DATABASE
        if tree.words in SERVER_WORDS or (tree.name and tree.name[-1] in SERVER_CALLS):
            return SERVER
        if not read.is_complete and tree.words in UNREAD_TYPES:
            return self._put(self._numbered(read, UNREAD_TYPES[tree.words]))
        kind = OTHER_TYPES.get(tree.words)
        if tree.words.startswith(("exec", "call")) and tree.name and not tree.name[-1].startswith(("SP_", "XP_")):
            return self._put(self._numbered(read, ObjectType.BLOCK))
        if kind is None and (not tree.words.startswith("create ") or not tree.name):
            return DATABASE
        if not tree.name:
            return self._put(self._numbered(read, kind or ObjectType.OTHER))
        item = self._named(read, kind or ObjectType.OTHER, tree.name)
        if kind is ObjectType.SCHEMA:
            item = self._object(read, kind, "", tree.name[-1])
        if tree.words.startswith("create public"):
            item = self._object(read, kind or ObjectType.OTHER, "PUBLIC", tree.name[-1])
        item.details["statement"] = tree.words
        return self._put(item)

    def _change_schema(self, read: ReadStatement, tree: OtherStatement) -> None:
        """Follow what a session says unqualified names shall mean."""
        tokens = read.tokens
        words = tokens.words[read.first : read.last]
        at = -1
        if "CURRENT_SCHEMA" in words:
            at = words.index("CURRENT_SCHEMA") + 2
        elif tree.words == "use":
            # A database of the T-SQL family holds schemas; elsewhere it is one.
            is_name = len([word for word in words if word != ";"]) == 2  # and no variable of a template
            at = 1 if self.catalog.databases_are_schemas and is_name else -1
        elif tree.words == "database":
            at = 1
        elif words[0] == "SET" and (words[1:2] in (["SCHEMA"], ["SEARCH_PATH"]) or words[1:3] == ["CURRENT", "SCHEMA"]):
            at = next((i for i, word in enumerate(words) if i > 0 and word not in ("SCHEMA", "CURRENT", "=", "TO", "SEARCH_PATH")),
                      -1)  # fmt: skip
        if 0 <= at < len(words):
            name = plain_name(words[at])
            if name and name not in ("''", "USER", "DEFAULT", "$USER"):
                self.schema = name


_ADDERS: Final[dict[type[Statement], Callable[..., str]]] = {
    CreateTable: ScriptBuilder._add_table,
    AlterTable: ScriptBuilder._add_alter_table,
    CreateIndex: ScriptBuilder._add_index,
    CreateView: ScriptBuilder._add_view,
    CreateSequence: ScriptBuilder._add_sequence,
    CreateSynonym: ScriptBuilder._add_synonym,
    CreateType: ScriptBuilder._add_type,
    CreateRoutine: ScriptBuilder._add_routine,
    CreatePackage: ScriptBuilder._add_package,
    CreateTrigger: ScriptBuilder._add_trigger,
    AnonymousBlock: ScriptBuilder._add_block,
    QueryStatement: ScriptBuilder._add_query,
    Insert: ScriptBuilder._add_insert,
    Update: ScriptBuilder._add_change,
    Delete: ScriptBuilder._add_change,
    Merge: ScriptBuilder._add_change,
    Grant: ScriptBuilder._add_grant,
    CommentOn: ScriptBuilder._add_comment,
}
