"""Turns the statements of scripts into objects of a catalogue."""

from collections.abc import Callable
from typing import Final

from hullsound.sql.literals import string_content
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
    Grant,
    Insert,
    Merge,
    Node,
    OtherStatement,
    Parts,
    QueryStatement,
    SchemaChange,
    Select,
    Statement,
    TableRef,
    TypeDeclaration,
    Update,
    Variable,
)

from .calls import effects_of_call
from .definitions import data_type, declared_name, exception_numbers, serial_identity, system_default
from .kinds import EMPTY_DETAILS, OTHER_TYPES, SERVER_CALLS, SERVER_WORDS, SESSION_WORDS, UNREAD_TYPES
from .measure import measure_routines
from .model import (
    Catalog,
    Change,
    Column,
    Constraint,
    Index,
    IndexKey,
    Object,
    ObjectType,
    UnreadSpan,
    object_id,
    shown,
)

DATABASE: Final = "database"
"""Object id of what belongs to the database as a whole."""
SERVER: Final = "server"
"""Object id of what belongs to the server."""
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
            details=dict(EMPTY_DETAILS.get(kind, {})),
            default_schema=schema if schema != "PUBLIC" else self.schema,
            step=self.catalog.step,
        )

    def _put(self, item: Object) -> str:
        before = self.catalog.objects.get(item.id)
        if before is not None:
            self.catalog.earlier.append(before)
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
        if "COMMENT" in tree.options:
            item.comment = string_content(tree.options["COMMENT"], self.catalog.engine)
        if tree.options.get("AUTO_INCREMENT", "").isdigit():
            item.details["next identity"] = tree.options["AUTO_INCREMENT"]
        if tree.if_absent:
            item.details["if absent"] = "yes"
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
        taken: dict[str, int] = {}
        for node in nodes:
            names = "_".join(_plain_name(self._source(read, key.value)) for key in node.keys)
            name = f"{table}.{node.name[-1] if node.name else names or 'INDEX'}"
            taken[name] = count = taken.get(name, 0) + 1
            name += f"_{count}" if count > 1 else ""  # as MySQL numbers indexes without names over the same column
            start, end = tokens.starts[node.first], tokens.ends[node.last - 1]
            line = self.positions.line(start)
            item = Object(
                object_id(schema, ObjectType.INDEX, name), ObjectType.INDEX, schema, name, self.file, line,
                tokens.text[start:end], self.positions.line(end) - line + 1,
                table=object_id(schema, ObjectType.TABLE, table), default_schema=schema, step=self.catalog.step,
            )  # fmt: skip
            item.index = self._index(read, node)
            self._put(item)

    def _index(self, read: ReadStatement, node: CreateIndex) -> Index:
        return Index(
            [IndexKey(self._source(read, key.value), key.descending) for key in node.keys],
            node.unique, node.method, sorted(node.clauses), self._source(read, node.where), list(node.include),
            node.nulls_not_distinct, node.ignores_duplicates,
        )  # fmt: skip

    def _column(self, read: ReadStatement, node: ColumnDefinition) -> Column:
        return Column(
            name=node.name,
            type=data_type(node.type),
            nullable=node.nullable,
            default=self._source(read, node.default) or (system_default(node) if node.system_default else ""),
            default_on_null=node.default_on_null,
            identity=node.identity or serial_identity(node.type, self.catalog.engine),
            generated=self._source(read, node.generated),
            comment=string_content(node.comment, self.catalog.engine) if node.comment else "",
            default_name=node.default_name,
            place=node.place,
            line=self.positions.line(read.tokens.starts[node.first]),
        )

    def _add_constraints(self, read: ReadStatement, schema: str, table: str, nodes: list[ConstraintDefinition]) -> None:
        for node in nodes:
            if node.form in ("not null", "primary key"):
                self._change(read, "not null", schema, table, names=node.columns)
            if node.form == "default":
                self._change(
                    read, "set default", schema, table, text=self._source(read, node.expression), names=node.columns,
                    new=(node.name,),
                )  # fmt: skip
            elif node.form not in ("", "not null"):
                self._add_constraint(read, schema, table, node)

    def _change(
        self, read: ReadStatement, kind: str, schema: str, name: str, *, text: str = "",
        columns: list[Column] | None = None, names: list[str] | None = None, of: str = "table", new: Parts = (),
        options: dict[str, str] | None = None,
    ) -> None:  # fmt: skip
        line = self.positions.line(read.start)
        self.catalog.changes.append(
            Change(
                kind, schema, name, self.file, line, text, columns or [], names or [], of, new, options or {},
                self.catalog.step,
            )
        )  # fmt: skip

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
        owner = object_id(schema, ObjectType.TABLE, table)
        known = self.catalog.objects.get(object_id(schema, ObjectType.CONSTRAINT, name))
        # Some engines ask for other names only within one table.
        own = name if known is None or known.table == owner else f"{table}.{name}"
        item = Object(
            id=object_id(schema, ObjectType.CONSTRAINT, own),
            type=ObjectType.CONSTRAINT,
            schema=schema,
            name=name,
            file=self.file,
            line=line,
            text=tokens.text[start:end],
            lines=self.positions.line(end) - line + 1,
            table=owner,
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
                on_update=node.on_update,
                not_validated=node.not_validated,
                not_enforced=node.not_enforced,
                nulls_not_distinct=node.nulls_not_distinct,
                ignores_duplicates=node.ignores_duplicates,
            ),
            default_schema=schema,
            step=self.catalog.step,
        )
        self._put(item)

    def _add_alter_table(self, read: ReadStatement, tree: AlterTable) -> str:
        schema, name = self._split(tree.name)
        self._change(read, "alter", schema, name)
        # In the order of the text: one action may make room for the next.
        actions: list[Node] = [*tree.columns, *tree.constraints, *tree.modified, *tree.changes]
        for action in sorted(actions, key=lambda node: node.first):
            match action:
                case ConstraintDefinition():
                    self._add_constraints(read, schema, name, [action])
                case SchemaChange():
                    self._add_schema_change(read, schema, name, action)
                case ColumnDefinition() if action in tree.modified:
                    self._modify_column(read, schema, name, action)
                case ColumnDefinition():
                    self._change(read, "add", schema, name, columns=[self._later_column(read, action)])
                    self._add_constraints(read, schema, name, action.constraints)
        self._add_inline_indexes(read, schema, name, tree.indexes)
        only_one = len(tree.constraints) == 1 and not (tree.columns or tree.modified or tree.actions)
        if only_one and tree.constraints[0].form not in ("", "default", "not null"):
            return next(reversed(self.catalog.objects))
        return object_id(schema, ObjectType.TABLE, name)

    def _modify_column(self, read: ReadStatement, schema: str, table: str, node: ColumnDefinition) -> None:
        """Note what MODIFY, CHANGE and ALTER COLUMN leave of a column: all is said anew, its type, or a part."""
        engine = self.catalog.engine
        kind = "redefine" if engine in ("mysql", "mariadb") else "retype" if engine == "sqlserver" else "modify"
        if node.renamed_from:
            self._change(read, "rename", schema, table, names=[node.renamed_from], of="column", new=(node.name,))
        names = ["null"] if node.states_null else []
        column = self._later_column(read, node) if kind == "redefine" else self._column(read, node)
        self._change(read, kind, schema, table, columns=[column], names=names)
        self._add_constraints(read, schema, table, node.constraints)

    def _later_column(self, read: ReadStatement, node: ColumnDefinition) -> Column:
        """Return a column with the text that defines it; not where constraints, which are objects, stand inside."""
        column = self._column(read, node)
        column.definition = "" if node.constraints or node.default_name else self._source(read, node)
        return column

    def _add_schema_change(self, read: ReadStatement, schema: str, table: str, node: SchemaChange) -> None:
        """Note what one action of ALTER TABLE does to something that is there."""
        text = self._source(read, node.value)
        if node.form == "comment":
            text = string_content(node.new[0], self.catalog.engine)
        self._change(read, node.form, schema, table, text=text, names=list(node.name), of=node.kind, new=node.new)

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

    def _add_index(self, read: ReadStatement, tree: CreateIndex) -> str:
        schema, name = self._split(tree.table)
        names = "_".join(_plain_name(self._source(read, key.value)) for key in tree.keys)
        index = tree.name[-1] if tree.name else f"{name}_{names or 'INDEX'}"
        # An index lives where its table does; only some engines let it be said, and in some it is unique by table only.
        if self.catalog.names_of_indexes_by_table:
            index = f"{name}.{index}"
        item = self._object(read, ObjectType.INDEX, tree.name[-2] if len(tree.name) > 1 else schema, index)
        item.table = object_id(schema, ObjectType.TABLE, name)
        item.index = self._index(read, tree)
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
        names = [declared_name(node) for node in tree.declarations]
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
            name = _plain_name(words[at])
            if name and name not in ("''", "USER", "DEFAULT", "$USER"):
                self.schema = name


def _plain_name(text: str) -> str:
    """Return a name without quotes, or the words of an expression run together."""
    return "_".join(text.translate(_QUOTES).upper().split())[:40]


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
