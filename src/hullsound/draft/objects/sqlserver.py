"""What SQL Server writes otherwise than PostgreSQL in tables and what belongs to them."""

from hullsound.catalog.model import Column, Object
from hullsound.draft.edits.rewrite import CannotDraft

from .postgresql import ObjectWriter
from .shared import create_schema, synonym_of, underlying_type, without_type
from .touch_triggers import touch_of_sqlserver


class SqlServerWriter(ObjectWriter):
    """SQL Server: identities by start and step, comments as extended properties."""

    sequence_type = " AS bigint"
    fallback_type = "nvarchar(4000)"

    def must_agree(self, own: str, referenced: str) -> bool:
        return own != referenced

    def table_from_query(self, item: Object, columns: str, query: str) -> str:
        raise CannotDraft("a table that a query makes")

    def computed(self, text: str, column: Column, value: str) -> str:
        return f"{self.names.write(column.name)} AS ({value}) PERSISTED"

    def _identity(self, identity: str, table: Object) -> str:
        start, step = self.first_number(identity, table)
        return f" IDENTITY({start},{step}) NOT NULL"

    def _comments(self, item: Object, kind: str) -> str:
        schema = self.names.folded(item.schema) or "dbo"
        level = (
            f"@level0type = 'SCHEMA', @level0name = {self.names.text(schema)}, @level1type = {self.names.text(kind)}, "
        )
        level += f"@level1name = {self.names.text(self.names.folded(item.name))}"
        lines = []
        if item.comment:
            lines.append(f"EXEC sp_addextendedproperty 'MS_Description', {self.names.text(item.comment)}, {level};")
        for column in item.columns:
            if column.comment:
                name = self.names.text(self.names.folded(column.name))
                lines.append(
                    f"EXEC sp_addextendedproperty 'MS_Description', {self.names.text(column.comment)}, {level}, "
                    f"@level2type = 'COLUMN', @level2name = {name};"
                )
        return "".join(f"\n{line}" for line in lines)

    def companions(self, item: Object) -> str:
        return touch_of_sqlserver(self, item)

    def constraint_tail(self, item: Object) -> str:
        return ""

    def key_expression(self, text: str) -> str:
        raise CannotDraft("an index on an expression, which needs a computed column")

    def ignore_duplicates(self) -> str:
        return " WITH (IGNORE_DUP_KEY = ON)"

    def referential_action(self, event: str, action: str) -> str:
        if action == "restrict":
            return ""
        return super().referential_action(event, action)

    def synonym(self, item: Object) -> str:
        return synonym_of(self, item)

    def named_type(self, item: Object) -> str:
        return underlying_type(self, item)

    def object_type(self, item: Object) -> str:
        return without_type(item)

    def schema(self, item: Object) -> str:
        return create_schema("sqlserver", item.name, self.names)

    def own_index_name(self, item: Object) -> str:
        # Indexes of different tables may have the same name.
        return item.name.rpartition(".")[2] if item.index is not None else item.name

    def _default(self, table: Object, column: Column) -> str:
        text = super()._default(table, column)
        # The clock without an offset would count as one in UTC.
        is_zoned = self.column_type(table, column).startswith("datetimeoffset")
        return "SYSDATETIMEOFFSET()" if is_zoned and text == "SYSDATETIME()" else text
