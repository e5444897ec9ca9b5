"""Tables, their columns, constraints and indexes, from the statements that define and change them."""

from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import (
    Change,
    Column,
    Constraint,
    Index,
    IndexKey,
    Object,
    ObjectType,
    object_id,
)
from hullsound.sql.literals import string_content
from hullsound.sql.positions import Positions
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AlterTable,
    ColumnDefinition,
    ConstraintDefinition,
    CreateIndex,
    CreateTable,
    Node,
    Parts,
    SchemaChange,
)

from .definitions import data_type, serial_identity, system_default
from .kinds import EMPTY_DETAILS

_QUOTES: Final = str.maketrans("", "", "`\"[]()'")


def plain_name(text: str) -> str:
    """Return a name without quotes, or the words of an expression run together."""
    return "_".join(text.translate(_QUOTES).upper().split())[:40]


_CONSTRAINT_SUFFIX: Final = {"primary key": "PK", "unique": "UK", "foreign key": "FK", "check": "CK"}


class TableBuilder:
    """Puts tables and what belongs to them into a catalogue."""

    def __init__(self, catalog: Catalog, file: str, schema: str = "") -> None:
        self.catalog = catalog
        self.file = file
        self.schema = schema
        self.positions = Positions("")
        self._counts: dict[str, int] = {}
        self._data: Object | None = None

    def open_text(self, text: str) -> None:
        self.positions = Positions(text)

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

    def _source(self, read: ReadStatement, node: Node | None) -> str:
        return read.tokens.source(node.first, node.last) if node is not None else ""

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
            names = "_".join(plain_name(self._source(read, key.value)) for key in node.keys)
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

    def _is_never_null(self, node: ColumnDefinition) -> bool:
        """Whether a column has an alias type that takes no NULL (Transact-SQL reference, "CREATE TYPE")."""
        found = self.catalog.with_name(node.type.name.rpartition(".")[2]) if node.type is not None else []
        return any(each.details.get("not null") and each.type is ObjectType.TYPE for each in found)

    def _column(self, read: ReadStatement, node: ColumnDefinition) -> Column:
        return Column(
            name=node.name,
            type=data_type(node.type),
            nullable=node.nullable and (node.states_null or not self._is_never_null(node)),
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

    def _add_index(self, read: ReadStatement, tree: CreateIndex) -> str:
        schema, name = self._split(tree.table)
        names = "_".join(plain_name(self._source(read, key.value)) for key in tree.keys)
        index = tree.name[-1] if tree.name else f"{name}_{names or 'INDEX'}"
        # An index lives where its table does; only some engines let it be said, and in some it is unique by table only.
        if self.catalog.names_of_indexes_by_table:
            index = f"{name}.{index}"
        item = self._object(read, ObjectType.INDEX, tree.name[-2] if len(tree.name) > 1 else schema, index)
        item.table = object_id(schema, ObjectType.TABLE, name)
        item.index = self._index(read, tree)
        return self._put(item)
