"""What MySQL and MariaDB write otherwise than PostgreSQL in tables and what belongs to them."""

import re
from contextlib import suppress
from typing import Final

from hullsound.assess.widths import width_of
from hullsound.catalog.model import Column, Constraint, Object
from hullsound.draft.constructs.sequences import counter_name
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.knowledge.collations import exact_collation
from hullsound.knowledge.engine_model import TargetLimits
from hullsound.knowledge.targets import load_target
from hullsound.knowledge.types import value_class

from .counters import counter_text
from .keys import comment_text
from .postgresql import ObjectWriter
from .shared import table_grant, underlying_type, without_type

_LONG_TEXT: Final = re.compile(r"\bvarchar\(\d{4,}\)")
"""Types that make a row too long at first."""
_WITHOUT_LITERAL: Final = re.compile(r"(tiny|medium|long)?(text|blob)\b|json\b|geometry\b|point\b")
"""Types whose default MySQL takes in brackets alone, as an expression (8.4 Reference Manual, "Data Type Default Values")."""
_BYTES: Final = re.compile(r"(?:var)?binary\b|(?:tiny|medium|long)?blob\b")
_HEX: Final = re.compile(r"'\\x((?:[0-9a-fA-F]{2})*)'(?:::bytea)?")


class MysqlWriter(ObjectWriter):
    """MySQL and MariaDB: what counts by itself must be a key at once, comments stand inside."""

    has_enumerations = True
    greatest = 2**63 - 2
    fallback_type = "varchar(255)"

    @property
    def limits(self) -> TargetLimits:
        return load_target(self.target.engine).limits

    def must_agree(self, own: str, referenced: str) -> bool:
        return own != referenced

    def computed(self, text: str, column: Column, value: str) -> str:
        # Oracle keeps no such value, and what depends on CHAR must not be kept here.
        kept = "VIRTUAL" if self.catalog.engine == "oracle" else "STORED"
        return f"{text} GENERATED ALWAYS AS ({value}) {kept}"

    def _row_bytes(self, item: Object) -> int:
        total = 0
        for column in item.columns:
            with suppress(CannotDraft):  # of types that the target has not, the table itself will tell
                total += max(width_of(self.column_type(item, column), self.limits.character_bytes), 0)
        return total

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
        exact = exact_collation(self.catalog.engine, self.target.engine)
        has_texts = any(value_class(self.catalog.engine, c.type.name) == "text" for c in item.columns)
        collation = f" COLLATE = {exact}" if exact and has_texts else ""
        counted = f" AUTO_INCREMENT = {start}" if start not in ("1", "0") and start.isdigit() else ""
        return counted + collation + (f" COMMENT = {self.names.text(item.comment)}" if item.comment else "")

    def table_from_query(self, item: Object, columns: str, query: str) -> str:
        if columns:
            raise CannotDraft("a table from a query that renames its columns")
        return f"CREATE TABLE {self.name(item)} AS\nSELECT * FROM (\n{query}\n) AS made WHERE 1 = 0;"

    def _identity(self, identity: str, table: Object) -> str:
        return " NOT NULL AUTO_INCREMENT"

    def column_tail(self, column: Column) -> str:
        return f" COMMENT {self.names.text(column.comment)}" if column.comment else ""

    def _default(self, table: Object, column: Column) -> str:
        kind = self.column_type(table, column)
        digits = _HEX.fullmatch(column.default) if self.catalog.engine == "postgresql" and _BYTES.match(kind) else None
        text = f"X'{digits[1]}'" if digits is not None else super()._default(table, column)
        if self.target.engine == "mysql" and _WITHOUT_LITERAL.match(kind):
            return text if text.startswith("(") and text.count("(") == 1 else f"({text})"
        is_plain = text.startswith(("'", "X'", "CURRENT_TIMESTAMP")) or text.lstrip("-").replace(".", "").isdigit()
        if text.upper() in ("NOW()", "CURRENT_TIMESTAMP"):
            precision = kind[kind.index("(") :] if kind.startswith(("datetime(", "timestamp(")) else ""
            return f"CURRENT_TIMESTAMP{precision}" if kind.startswith(("datetime", "timestamp")) else f"({text})"
        return text if is_plain or text.upper() in ("TRUE", "FALSE") else f"({text})"

    def _stand_in_rest(self, item: Object, column: Column) -> str:
        return self._identity(column.identity, item) if column.identity else ""

    def stand_in_table(self, item: Object) -> str:
        lines = "".join(f",\n  {line}" for line in self.table_lines(item))
        text = super().stand_in_table(item).removesuffix("\n);") + lines + "\n);"
        return text if self._row_bytes(item) <= self.limits.row_bytes else _LONG_TEXT.sub("longtext", text)

    def _comments(self, item: Object, kind: str) -> str:
        return ""

    def companions(self, item: Object) -> str:
        return ""

    def _check_keys(self, table: Object, names: list[str]) -> None:
        """Raise CannotDraft for keys of large text or bytes, which need a length."""
        for column in table.columns:
            kind = self.column_type(table, column) if column.name in names else ""
            if kind.startswith(("longtext", "longblob", "json")):
                raise CannotDraft(f"a key of the large column {column.name.lower()}, which needs a length")

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
        if table is not None and item.index is not None:
            self._check_keys(table, [name.upper() for name in item.index.columns()])
        return super().index(item)

    def grant(self, item: Object) -> str:
        return table_grant(self, item, super().grant)

    def key_expression(self, text: str) -> str:
        if self.target.engine == "mariadb":
            raise CannotDraft("an index on an expression")
        return f"(({text}))"

    def sequence(self, item: Object) -> str:
        if self.target.engine == "mysql":
            return counter_text(self.name(item), counter_name(item.schema, item.name, self.names), item.details)
        return super().sequence(item)

    def named_type(self, item: Object) -> str:
        return underlying_type(self, item)

    def object_type(self, item: Object) -> str:
        return without_type(item)

    def schema(self, item: Object) -> str:
        return f"CREATE DATABASE IF NOT EXISTS {self.names.write(item.name)};"
