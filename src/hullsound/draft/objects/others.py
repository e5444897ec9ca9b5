"""What MySQL, MariaDB, SQL Server and Oracle write otherwise than PostgreSQL in tables and what belongs to them."""

import re
from collections.abc import Callable
from contextlib import suppress
from typing import Final

from hullsound.catalog.model import Catalog, Column, Constraint, Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.knowledge.model import Target
from hullsound.knowledge.types import parse_type
from hullsound.project import Project

from .keys import comment_text
from .postgresql import ObjectWriter

_TEXT_LENGTH: Final = re.compile(r"(?:var)?(?:char|binary)\((\d+)\)")
_LONG_TEXT: Final = re.compile(r"\bvarchar\(\d{4,}\)")
"""Types that make a row too long at first."""
_KEY_BYTES: Final = 3072
_ROW_BYTES: Final = 65_535
_BYTES_OF_CHARACTER: Final = 4
"""Most bytes of a key and of a row of InnoDB, and of a character of utf8mb4: MySQL 8.4 Reference Manual, "InnoDB Limits"."""


class MysqlWriter(ObjectWriter):
    """MySQL and MariaDB: what counts by itself must be a key at once, comments stand inside."""

    has_enumerations = True
    greatest = 2**63 - 2
    fallback_type = "varchar(255)"

    def must_agree(self, own: str, referenced: str) -> bool:
        return own != referenced

    def computed(self, text: str, column: Column, value: str) -> str:
        # Oracle keeps no such value, and what depends on CHAR must not be kept here.
        kept = "VIRTUAL" if self.catalog.engine == "oracle" else "STORED"
        return f"{text} GENERATED ALWAYS AS ({value}) {kept}"

    def table(self, item: Object) -> str:
        total = self._row_bytes(item)
        if total > _ROW_BYTES:
            raise CannotDraft(f"a row of {total:,} bytes, where a table takes {_ROW_BYTES:,} beside large texts")
        return super().table(item)

    def _row_bytes(self, item: Object) -> int:
        total = 0
        for column in item.columns:
            with suppress(CannotDraft):  # of types that the target has not, the table itself will tell
                total += self._text_bytes(self.column_type(item, column))
        return total

    @staticmethod
    def _text_bytes(kind: str) -> int:
        """Return the most bytes of a text or of bytes of a bounded length, 0 for other types."""
        length = _TEXT_LENGTH.match(kind)
        return int(length[1]) * (_BYTES_OF_CHARACTER if "char" in kind else 1) if length is not None else 0

    def table_lines(self, item: Object) -> list[str]:
        key = self._early_key(item)
        if key is not None and key.constraint is not None:
            return [f"PRIMARY KEY ({', '.join(map(self.names.write, key.constraint.columns))})"]
        return [f"KEY ({self.names.write(c.name)})" for c in item.columns if c.identity][:1]

    def _early_key(self, item: Object) -> Object | None:
        """Return the primary key that begins with the column that counts by itself."""
        counted = next((c.name for c in item.columns if c.identity), "")
        for each in self.catalog.belonging(item.id):
            constraint = each.constraint
            if constraint is not None and constraint.form == "primary key":
                return each if counted and constraint.columns[:1] == [counted] else None
        return None

    def table_tail(self, item: Object) -> str:
        start = next((self.first_number(c.identity, item)[0] for c in item.columns if c.identity), "1")
        counted = f" AUTO_INCREMENT = {start}" if start not in ("1", "0") and start.isdigit() else ""
        return counted + (f" COMMENT = {self.names.text(item.comment)}" if item.comment else "")

    def table_from_query(self, item: Object, columns: str, query: str) -> str:
        if columns:
            raise CannotDraft("a table from a query that renames its columns")
        return f"CREATE TABLE {self.name(item)} AS\nSELECT * FROM (\n{query}\n) AS made WHERE 1 = 0;"

    def _identity(self, identity: str, table: Object) -> str:
        return " NOT NULL AUTO_INCREMENT"

    def column_tail(self, column: Column) -> str:
        return f" COMMENT {self.names.text(column.comment)}" if column.comment else ""

    def _default(self, table: Object, column: Column) -> str:
        text = super()._default(table, column)
        is_plain = text.startswith(("'", "CURRENT_TIMESTAMP")) or text.lstrip("-").replace(".", "").isdigit()
        if text.upper() in ("NOW()", "CURRENT_TIMESTAMP"):
            kind = self.column_type(table, column)
            digits = kind[kind.index("(") :] if kind.startswith(("datetime(", "timestamp(")) else ""
            return f"CURRENT_TIMESTAMP{digits}" if kind.startswith(("datetime", "timestamp")) else f"({text})"
        return text if is_plain or text.upper() in ("TRUE", "FALSE") else f"({text})"

    def _stand_in_rest(self, item: Object, column: Column) -> str:
        return self._identity(column.identity, item) if column.identity else ""

    def stand_in_table(self, item: Object) -> str:
        lines = "".join(f",\n  {line}" for line in self.table_lines(item))
        text = super().stand_in_table(item).removesuffix("\n);") + lines + "\n);"
        return text if self._row_bytes(item) <= _ROW_BYTES else _LONG_TEXT.sub("longtext", text)

    def _comments(self, item: Object, kind: str) -> str:
        return ""

    def companions(self, item: Object) -> str:
        return ""

    def _check_keys(self, table: Object, names: list[str]) -> None:
        """Raise CannotDraft for keys of large text or bytes, which need a length, and for those that are too long."""
        total = 0
        for column in table.columns:
            if column.name not in names:
                continue
            kind = self.column_type(table, column)
            if kind.startswith(("longtext", "longblob", "json")):
                raise CannotDraft(f"a key of the large column {column.name.lower()}, which needs a length")
            total += self._text_bytes(kind)
        if total > _KEY_BYTES:
            raise CannotDraft(f"a key of {total:,} bytes, where InnoDB takes {_KEY_BYTES:,}")

    def constraint(self, item: Object) -> str:
        table = self.catalog.objects[item.table]
        if item.constraint is not None and item.constraint.form != "check":
            self._check_keys(table, item.constraint.columns)
        if item.constraint is not None and item.constraint.form == "primary key" and self._early_key(table) is item:
            return f"-- The table {comment_text(table.name)} is made with this key: its column counts by itself."
        return super().constraint(item)

    def constraint_tail(self, item: Object) -> str:
        return ""

    def can_inform(self, constraint: Constraint) -> bool:
        return self.target.engine == "mysql" and constraint.form == "check"

    def referential_action(self, event: str, action: str) -> str:
        if action == "set default":
            raise CannotDraft(f"ON {event} SET DEFAULT, which InnoDB rejects")
        return super().referential_action(event, action)

    def index(self, item: Object) -> str:
        table = self.catalog.objects.get(item.table)
        if table is not None:
            keys = [line.partition("\t")[0].strip().strip('"`[]').upper() for line in item.details["keys"].split("\n")]
            self._check_keys(table, keys)
        return super().index(item)

    def grant(self, item: Object) -> str:
        return _table_grant(self, item, super().grant)

    def key_expression(self, text: str) -> str:
        if self.target.engine == "mariadb":
            raise CannotDraft("an index on an expression")
        return f"(({text}))"

    def sequence(self, item: Object) -> str:
        if self.target.engine == "mysql":
            raise CannotDraft("a sequence")
        return super().sequence(item)

    def named_type(self, item: Object) -> str:
        return underlying_type(self, item)

    def object_type(self, item: Object) -> str:
        raise CannotDraft("a type of one's own")

    def schema(self, item: Object) -> str:
        return f"CREATE DATABASE IF NOT EXISTS {self.names.write(item.name)};"


def underlying_type(writer: ObjectWriter, item: Object) -> str:
    """Write the type behind an alias. Raises CannotDraft for a type with attributes."""
    if item.details.get("form") != "alias":
        raise CannotDraft(f"the type {item.name.lower()}")
    return writer.type(parse_type(item.details["element"]))


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
        return ""

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
        return _synonym(self, item)

    def named_type(self, item: Object) -> str:
        return underlying_type(self, item)

    def object_type(self, item: Object) -> str:
        raise CannotDraft("a type of one's own")


class OracleWriter(ObjectWriter):
    """Oracle: numbers count as NUMBER, comments and synonyms are its own."""

    counting_type = "number(19)"
    fallback_type = "varchar2(4000)"

    def must_agree(self, own: str, referenced: str) -> bool:
        return False

    def table_from_query(self, item: Object, columns: str, query: str) -> str:
        return f"CREATE TABLE {self.name(item)}{columns} AS\nSELECT * FROM (\n{query}\n) made WHERE 1 = 0;"

    def computed(self, text: str, column: Column, value: str) -> str:
        return f"{text} GENERATED ALWAYS AS ({value}) VIRTUAL"

    def _identity(self, identity: str, table: Object) -> str:
        start, step = self.first_number(identity, table)
        options = "" if (start, step) == ("1", "1") else f" (START WITH {start} INCREMENT BY {step})"
        return f" GENERATED BY DEFAULT AS IDENTITY{options} NOT NULL"

    def _comments(self, item: Object, kind: str) -> str:
        # Oracle says TABLE of views as well.
        return super()._comments(item, "TABLE" if kind == "VIEW" else kind)

    def companions(self, item: Object) -> str:
        return ""

    def constraint_tail(self, item: Object) -> str:
        return super().constraint_tail(item).replace(" NOT VALID", " ENABLE NOVALIDATE")

    def referential_action(self, event: str, action: str) -> str:
        if action == "restrict":
            return ""
        if event == "UPDATE" or action == "set default":
            raise CannotDraft(f"ON {event} {action.upper()}, which Oracle lacks")
        return super().referential_action(event, action)

    def index_name(self, item: Object) -> str:
        return self.names.qualified(item.schema, item.name)

    def key_expression(self, text: str) -> str:
        return text

    def synonym(self, item: Object) -> str:
        return _synonym(self, item)

    def grant(self, item: Object) -> str:
        return _table_grant(self, item, super().grant)

    def named_type(self, item: Object) -> str:
        return underlying_type(self, item)

    def object_type(self, item: Object) -> str:
        raise CannotDraft("a type of one's own")

    def schema(self, item: Object) -> str:
        raise CannotDraft("a schema, which is a user with a password and quota")


def _table_grant(writer: ObjectWriter, item: Object, write: Callable[[Object], str]) -> str:
    """Write rights on tables and views; those on code wait for the code."""
    target = writer.catalog.resolve(tuple(item.details["target"].split("\t")), item.default_schema)
    if target is None or target.type not in (ObjectType.TABLE, ObjectType.VIEW):
        raise CannotDraft("a right on something that is not drafted here")
    if "PUBLIC" in item.details["entries"]:
        raise CannotDraft("a right for everybody")
    return write(item)


def _synonym(writer: ObjectWriter, item: Object) -> str:
    target = writer.catalog.table(tuple(item.details["target"].split("\t")), item.default_schema)
    if target is None or item.details["link"]:
        raise CannotDraft("its object is not in the source")
    return f"CREATE SYNONYM {writer.name(item)} FOR {writer.name(target)};"


_WRITERS: Final[dict[str, type[ObjectWriter]]] = {
    "mysql": MysqlWriter, "mariadb": MysqlWriter, "sqlserver": SqlServerWriter, "oracle": OracleWriter,
}  # fmt: skip


def writer_for(catalog: Catalog, target: Target, project: Project) -> ObjectWriter:
    """Return the writer for a target engine."""
    return _WRITERS.get(target.engine, ObjectWriter)(catalog, target, project)
