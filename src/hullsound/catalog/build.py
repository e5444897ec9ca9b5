"""Turns the statements of scripts into objects of a catalogue."""

from collections.abc import Callable
from typing import Final

from hullsound.sql.lexer import Tokens
from hullsound.sql.positions import Positions, excerpt
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AlterTable,
    AnonymousBlock,
    ColumnDefinition,
    CommentOn,
    ConstraintDefinition,
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
    ExceptionDeclaration,
    Grant,
    Insert,
    Merge,
    Node,
    OtherStatement,
    Parts,
    Pragma,
    QueryStatement,
    Select,
    Statement,
    TableRef,
    TypeDeclaration,
    TypeName,
    Update,
    Variable,
)

from .measure import measure_routines
from .model import Catalog, Change, Column, Constraint, DataType, Object, ObjectType, UnreadSpan, object_id, shown

DATABASE: Final = "database"
"""Object id of what belongs to the database as a whole."""
SERVER: Final = "server"
"""Object id of what belongs to the server."""
_SERVER_WORDS: Final = frozenset(
    """alter system|create user|alter user|create role|create profile|audit|noaudit|drop user|create public database link|
    alter profile|drop role|create login|alter login|drop login|create server role|alter server role|create endpoint|
    create credential|create server audit|create resource pool|create workload group|create database|alter database|
    create tablespace|create foreign server|create server|create availability group|alter server|flush|kill|reconfigure|
    shutdown|backup|restore|create event session|create cryptographic provider|create tablespace|create bufferpool|
    create buffer pool|create audit policy|set global|change|reset|purge|install|uninstall|create subscription|
    create publication|create stogroup|create workload|create threshold|create spatial reference|dump database|
    load database|dump transaction""".replace("\n    ", "").split("|")
)
_OTHER_TYPES: Final = {
    "create database link": ObjectType.DATABASE_LINK,
    "create public database link": ObjectType.DATABASE_LINK,
    "create directory": ObjectType.DIRECTORY,
    "create table": ObjectType.TABLE,
    "create view": ObjectType.VIEW,
    "create materialized view": ObjectType.MATERIALIZED_VIEW,
    "create sequence": ObjectType.SEQUENCE,
    "create index": ObjectType.INDEX,
    "create procedure": ObjectType.PROCEDURE,
    "create function": ObjectType.FUNCTION,
    "create package": ObjectType.PACKAGE,
    "create package body": ObjectType.PACKAGE_BODY,
    "create trigger": ObjectType.TRIGGER,
    "create type": ObjectType.TYPE,
    "create type body": ObjectType.TYPE_BODY,
    "create synonym": ObjectType.SYNONYM,
    "create schema": ObjectType.SCHEMA,
    "create event": ObjectType.EVENT,
    "create macro": ObjectType.MACRO,
    "create domain": ObjectType.DOMAIN,
    "create rule": ObjectType.RULE,
    "create policy": ObjectType.POLICY,
    "create extension": ObjectType.EXTENSION,
    "create module": ObjectType.MODULE,
    "create variable": ObjectType.VARIABLE,
    "create join index": ObjectType.JOIN_INDEX,
    "create hash index": ObjectType.JOIN_INDEX,
    "create virtual table": ObjectType.TABLE,
    "create aggregate": ObjectType.FUNCTION,
    "create function soname": ObjectType.FUNCTION,
}
_SESSION_WORDS: Final = frozenset(
    ("alter session", "use", "database", "set schema", "set current", "set search_path", "set current schema")
)
_UNREAD_TYPES: Final = {
    **dict.fromkeys(("select", "with", "("), ObjectType.QUERY),
    **dict.fromkeys(("insert", "update", "delete", "merge", "replace", "ins", "upd", "del"), ObjectType.CHANGE),
    **dict.fromkeys(("if", "while", "exec", "execute", "print"), ObjectType.BLOCK),
    **dict.fromkeys(("declare", "begin"), ObjectType.BLOCK),
}
"""What a statement that cannot be read is, by its first word."""
_ROUTINE_TYPES: Final = {"function": ObjectType.FUNCTION, "macro": ObjectType.MACRO}
_QUOTES: Final = str.maketrans("", "", "`\"[]()'")
_CONSTRAINT_SUFFIX: Final = {"primary key": "PK", "unique": "UK", "foreign key": "FK", "check": "CK"}


class ScriptBuilder:
    """Adds the statements of one file to a catalogue; `schema` is what unqualified names mean."""

    def __init__(self, catalog: Catalog, file: str, schema: str = "") -> None:
        self.catalog = catalog
        self.file = file
        self.schema = schema
        self.positions = Positions("")
        self._counts: dict[str, int] = {}
        self._data: Object | None = None

    def open_text(self, text: str) -> None:
        self.positions = Positions(text)

    def add(self, read: ReadStatement) -> str:
        """Add one statement; return the id of the object that its text and sightings belong to."""
        adder = _ADDERS.get(type(read.tree))
        if not isinstance(read.tree, Insert):
            self._data = None
        owner = adder(self, read, read.tree) if adder is not None else self._add_other(read, read.tree)
        for span in read.unread():
            self._add_unread(read, owner, span.first, span.last, span.reason, whole=not read.is_complete)
        return owner

    # --- helpers ---

    def _split(self, parts: Parts) -> tuple[str, str]:
        return (parts[-2], parts[-1]) if len(parts) > 1 else (self.schema, parts[-1])

    def _object(self, read: ReadStatement, kind: ObjectType, schema: str, name: str) -> Object:
        start, end = read.start, read.end
        line = self.positions.line(start)
        return Object(
            id=object_id(schema, kind, name),
            type=kind,
            schema=schema,
            name=name,
            file=self.file,
            line=line,
            text=read.tokens.text[start:end],
            lines=self.positions.line(max(start, end - 1)) - line + 1,
            default_schema=schema if schema != "PUBLIC" else self.schema,
        )

    def _put(self, item: Object) -> str:
        if item.id in self.catalog.objects:
            before = self.catalog.objects[item.id]
            item.details["defined before"] = f"{before.file}:{before.line}"
        self.catalog.add(item)
        return item.id

    def _named(self, read: ReadStatement, kind: ObjectType, parts: Parts) -> Object:
        return self._object(read, kind, *self._split(parts))

    def _numbered(self, read: ReadStatement, kind: ObjectType) -> Object:
        """Name an unnamed statement after its file and place."""
        line = self.positions.line(read.start)
        stem = self.file.rsplit("/", 1)[-1].rsplit(".", 1)[0]
        name = f"{stem}:{line}"
        count = self._counts[name] = self._counts.get(name, 0) + 1
        return self._object(read, kind, self.schema, name if count == 1 else f"{name}:{count}")

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

    def _source(self, read: ReadStatement, node: Node | None) -> str:
        return read.tokens.source(node.first, node.last) if node is not None else ""

    # --- one adder per statement ---

    def _add_table(self, read: ReadStatement, tree: CreateTable) -> str:
        item = self._named(read, ObjectType.TABLE, tree.name)
        item.columns = [self._column(read, column) for column in tree.columns]
        item.details = {"clauses": " ".join(sorted(tree.clauses))}
        if tree.temporary:
            item.details["temporary"] = tree.temporary
        if tree.query is not None:
            item.details["query"] = self._source(read, tree.query)
        if tree.partition is not None:
            item.details["partition"] = read.tokens.source(*tree.partition)
        self._put(item)
        for column in tree.columns:
            self._add_constraints(read, item.schema, item.name, column.constraints)
        self._add_constraints(read, item.schema, item.name, tree.constraints)
        self._add_inline_indexes(read, item.schema, item.name, tree.indexes)
        return item.id

    def _add_inline_indexes(self, read: ReadStatement, schema: str, table: str, nodes: list[CreateIndex]) -> None:
        """Add the indexes that stand among the columns of a table."""
        tokens = read.tokens
        for node in nodes:
            names = "_".join(_plain_name(self._source(read, key.value)) for key in node.keys)
            name = f"{table}.{node.name[-1] if node.name else names or 'INDEX'}"
            start, end = tokens.starts[node.first], tokens.ends[node.last - 1]
            line = self.positions.line(start)
            item = Object(
                object_id(schema, ObjectType.INDEX, name), ObjectType.INDEX, schema, name, self.file, line,
                tokens.text[start:end], self.positions.line(end) - line + 1,
                table=object_id(schema, ObjectType.TABLE, table), default_schema=schema,
            )  # fmt: skip
            item.details = self._index_details(read, node)
            self._put(item)

    def _index_details(self, read: ReadStatement, node: CreateIndex) -> dict[str, str]:
        keys = [f"{self._source(read, key.value)}\t{'DESC' if key.descending else ''}" for key in node.keys]
        return {
            "keys": "\n".join(keys), "unique": "yes" if node.unique else "", "method": node.method,
            "clauses": " ".join(sorted(node.clauses)),
        }  # fmt: skip

    def _column(self, read: ReadStatement, node: ColumnDefinition) -> Column:
        return Column(
            name=node.name,
            type=data_type(node.type),
            nullable=node.nullable,
            default=self._source(read, node.default),
            default_on_null=node.default_on_null,
            identity=node.identity,
            generated=self._source(read, node.generated),
            line=self.positions.line(read.tokens.starts[node.first]),
        )

    def _add_constraints(self, read: ReadStatement, schema: str, table: str, nodes: list[ConstraintDefinition]) -> None:
        for node in nodes:
            if node.form in ("not null", "primary key"):
                self._change(read, "not null", schema, table, names=node.columns)
            if node.form not in ("", "not null"):
                self._add_constraint(read, schema, table, node)

    def _change(
        self, read: ReadStatement, kind: str, schema: str, name: str, *, text: str = "",
        columns: list[Column] | None = None, names: list[str] | None = None,
    ) -> None:  # fmt: skip
        line = self.positions.line(read.start)
        self.catalog.changes.append(Change(kind, schema, name, self.file, line, text, columns or [], names or []))

    def _add_constraint(self, read: ReadStatement, schema: str, table: str, node: ConstraintDefinition) -> None:
        name = node.name
        if not name:
            suffix = _CONSTRAINT_SUFFIX[node.form]
            column = f"_{node.columns[0]}" if node.columns and node.form != "primary key" else ""
            name = base = f"{table}{column}_{suffix}"
            count = 1
            while object_id(schema, ObjectType.CONSTRAINT, name) in self.catalog.objects:
                count += 1
                name = f"{base}{count}"
        tokens = read.tokens
        start, end = tokens.starts[node.first], tokens.ends[node.last - 1]
        line = self.positions.line(start)
        item = Object(
            id=object_id(schema, ObjectType.CONSTRAINT, name),
            type=ObjectType.CONSTRAINT,
            schema=schema,
            name=name,
            file=self.file,
            line=line,
            text=tokens.text[start:end],
            lines=self.positions.line(end) - line + 1,
            table=object_id(schema, ObjectType.TABLE, table),
            constraint=Constraint(
                name=name,
                form=node.form,
                columns=node.columns,
                expression=self._source(read, node.expression),
                references=node.references,
                reference_columns=node.reference_columns,
                on_delete=node.on_delete,
                deferrable=node.deferrable,
                disabled=node.disabled,
            ),
            default_schema=schema,
        )
        self._put(item)

    def _add_alter_table(self, read: ReadStatement, tree: AlterTable) -> str:
        schema, name = self._split(tree.name)
        for column in tree.columns:
            self._change(read, "add", schema, name, columns=[self._column(read, column)])
            self._add_constraints(read, schema, name, column.constraints)
        self._add_constraints(read, schema, name, tree.constraints)
        for change in tree.modified:
            self._change(read, "modify", schema, name, columns=[self._column(read, change)])
        self._change(read, "alter", schema, name)
        self._add_inline_indexes(read, schema, name, tree.indexes)
        only_one = len(tree.constraints) == 1 and not (tree.columns or tree.modified or tree.actions)
        if only_one and tree.constraints[0].form != "not null":
            return next(reversed(self.catalog.objects))
        return object_id(schema, ObjectType.TABLE, name)

    def _add_index(self, read: ReadStatement, tree: CreateIndex) -> str:
        schema, name = self._split(tree.table)
        names = "_".join(_plain_name(self._source(read, key.value)) for key in tree.keys)
        index = tree.name[-1] if tree.name else f"{name}_{names or 'INDEX'}"
        # An index lives where its table does; only some engines let it be said, and in some it is unique by table only.
        if self.catalog.names_of_indexes_by_table:
            index = f"{name}.{index}"
        item = self._object(read, ObjectType.INDEX, tree.name[-2] if len(tree.name) > 1 else schema, index)
        item.table = object_id(schema, ObjectType.TABLE, name)
        item.details = self._index_details(read, tree)
        return self._put(item)

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
        names = [_declared_name(node) for node in tree.declarations]
        item.details["declares"] = " ".join(name for name in names if name)
        constants = [node.name for node in tree.declarations if isinstance(node, Variable) and node.constant]
        item.details["constants"] = " ".join(constants)
        variables = [node.name for node in tree.declarations if isinstance(node, Variable) and not node.constant]
        item.details["variables"] = " ".join(variables)
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
        text = tree.text[tree.text.index("'") + 1 : -1].replace("''", "'")
        parts = tree.name[:-1] if tree.on == "column" else tree.name
        if not parts or tree.on.startswith("other"):
            return DATABASE
        schema, name = self._split(parts)
        self._change(read, "comment", schema, name, text=text, names=[tree.name[-1]] if tree.on == "column" else [])
        return object_id(schema, ObjectType.TABLE, name)

    def _add_other(self, read: ReadStatement, tree: Statement) -> str:
        if not isinstance(tree, OtherStatement):
            return DATABASE
        if tree.words in _SESSION_WORDS:
            self._change_schema(read, tree)
            return DATABASE
        if tree.words in _SERVER_WORDS:
            return SERVER
        if not read.is_complete and tree.words in _UNREAD_TYPES:
            return self._put(self._numbered(read, _UNREAD_TYPES[tree.words]))
        kind = _OTHER_TYPES.get(tree.words)
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
            at = 1 if self.catalog.databases_are_schemas else -1
        elif tree.words == "database":
            at = 1
        elif words[0] == "SET" and words[1:2] in (["SCHEMA"], ["SEARCH_PATH"], ["CURRENT"]):
            at = next((i for i, word in enumerate(words) if i > 0 and word not in ("SCHEMA", "CURRENT", "=", "TO", "SEARCH_PATH")),
                      -1)  # fmt: skip
        if 0 <= at < len(words):
            name = _plain_name(words[at])
            if name and name not in ("''", "USER", "DEFAULT", "$USER"):
                self.schema = name


def _plain_name(text: str) -> str:
    """Return a name without quotes, or the words of an expression run together."""
    return "_".join(text.translate(_QUOTES).upper().split())[:40]


def exception_numbers(tokens: Tokens, declarations: list[Node]) -> dict[str, str]:
    """Return the declared exceptions with the error number that a pragma ties them to, or ''."""
    numbers = {node.name: "" for node in declarations if isinstance(node, ExceptionDeclaration)}
    for node in declarations:
        if isinstance(node, Pragma) and node.name == "EXCEPTION_INIT" and len(node.arguments) == 2:
            name, number = (tokens.source(each.first, each.last).upper() for each in node.arguments)
            numbers[name] = "-" + number.replace(" ", "").lstrip("-").lstrip("0")
    return numbers


def _declared_name(node: Node) -> str:
    """Return the name that a declaration of a package gives."""
    name = getattr(node, "name", "")
    return name[-1] if isinstance(name, tuple) else str(name)


def data_type(node: TypeName | None) -> DataType:
    """Return the type a TypeName writes; a borrowed one as NAME%TYPE."""
    if node is None:
        return DataType("")
    if node.borrowed:
        return DataType(f"{'.'.join(map(shown, node.reference))}%{node.borrowed}")
    return DataType(node.name, node.arguments, node.unit)


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
