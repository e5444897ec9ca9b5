"""Columns and constraints of tables, in the forms of all engines but Oracle's own."""

from typing import Final

from hullsound.sql.lexer import QUOTED, WORD
from hullsound.sql.parser.column_options import ColumnOptionParser
from hullsound.sql.parser.constraints import KEY_WORDS
from hullsound.sql.tree import ColumnDefinition, ConstraintDefinition, CreateIndex, TypeName

_NOT_A_TYPE: Final = frozenset(
    """DEFAULT GENERATED AS NOT NULL PRIMARY UNIQUE CHECK REFERENCES CONSTRAINT IDENTITY COLLATE COMMENT ON WITH OPTIONS
    CONSTRAINT KEY AUTO_INCREMENT AUTOINCREMENT COMPUTE MATERIALIZED INVISIBLE""".split()
)


class ColumnParser(ColumnOptionParser):
    """Reads the elements between the parentheses of CREATE TABLE."""

    def table_elements(
        self, columns: list[ColumnDefinition], constraints: list[ConstraintDefinition], indexes: list[CreateIndex],
    ) -> None:  # fmt: skip
        """Read (element, element ...)."""
        self.expect("(")
        while not self.at(")"):
            self._table_element(columns, constraints, indexes)
            if not self.accept(",") and not self._is_next_constraint():
                break
        self.expect(")")

    def _is_next_constraint(self) -> bool:
        """Whether a constraint follows without a comma, as some engines allow."""
        return self.words[self.pos] in ("CONSTRAINT", "PRIMARY", "FOREIGN", "UNIQUE", "CHECK")

    def _table_element(
        self, columns: list[ColumnDefinition], constraints: list[ConstraintDefinition], indexes: list[CreateIndex],
    ) -> None:  # fmt: skip
        first = self.pos
        word, following = self.words[first], self.words[first + 1]
        if self.opens_constraint():
            constraints.append(self.table_constraint())
        elif word in KEY_WORDS and self._opens_key():
            indexes.append(self._key())
        elif word == "LIKE":
            self._like_source()
        elif word == "PERIOD" and following in ("FOR", "SYSTEM_TIME", "BUSINESS_TIME"):
            self._period()
        elif word == "EXCLUDE" and following in ("USING", "("):
            self._exclude()
            self.clause("exclusion-constraint", first)
        elif word == "CONNECTION" and following == "(":
            self.pos += 1
            self.skip_parenthesized()
            self.clause("edge-constraint", first)
        else:
            columns.append(self.column_definition())

    def opens_constraint(self) -> bool:
        word, following = self.words[self.pos], self.words[self.pos + 1]
        if word == "CONSTRAINT":
            return True
        if word == "CHECK":
            return following == "(" or following == "NOT"
        if word in ("PRIMARY", "FOREIGN"):
            return following == "KEY"
        if word == "UNIQUE":
            return following in ("(", "KEY", "INDEX", "NULLS", "CLUSTERED", "NONCLUSTERED", "USING") or (
                self.kinds[self.pos + 1] in (WORD, QUOTED) and self.words[self.pos + 2] in ("(", "USING")
            )
        return False

    def _opens_key(self) -> bool:
        """Whether INDEX or KEY opens an index here rather than a column of that name."""
        words, kinds = self.words, self.kinds
        pos = self.pos + 1
        if words[pos] in ("INDEX", "KEY") and words[self.pos] in ("FULLTEXT", "SPATIAL"):
            return True
        if words[pos] == "(" or words[pos] in ("IF", "USING"):
            return True
        if kinds[pos] not in (WORD, QUOTED):
            return False
        return (
            words[pos + 1] in ("(", "USING", "CLUSTERED", "NONCLUSTERED", "UNIQUE") and words[pos] not in _TYPE_WORDS
        ) or words[pos + 1] in ("UNIQUE", "CLUSTERED", "NONCLUSTERED", "HASH")

    def _like_source(self) -> None:
        first = self.expect("LIKE")
        self.qualified_name()
        while self.words[self.pos] in ("INCLUDING", "EXCLUDING"):
            self.pos += 1
            while self.kinds[self.pos] == WORD and self.words[self.pos] not in ("INCLUDING", "EXCLUDING"):
                self.pos += 1
        self.clause("table-like", first)

    def _period(self) -> None:
        first = self.pos
        self.pos += 1
        self.accept("FOR")
        self.identifier()
        self.skip_parenthesized()
        self.clause("period-definition", first)

    # --- columns ---

    def column_definition(self) -> ColumnDefinition:
        first = self.pos
        name = self.any_word() if self._names_column() else self.identifier()
        kind: TypeName | None = None
        if self.kinds[self.pos] in (WORD, QUOTED) and self.words[self.pos] not in _NOT_A_TYPE:
            kind = self.type_name()
        node = ColumnDefinition(first, self.pos, name, kind, True, None, False, "", None, [])
        self.column_options(node)
        if kind is not None and kind.name == "SERIAL" and self.dialect.engine in ("mysql", "mariadb"):
            self._mysql_serial(node, kind)
        if self.dialect.columns_take_no_null and kind is not None and kind.name != "TIMESTAMP" and not node.states_null:
            node.nullable = node.nullable and node.generated is not None
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _mysql_serial(self, node: ColumnDefinition, kind: TypeName) -> None:
        """Write out SERIAL: BIGINT UNSIGNED NOT NULL AUTO_INCREMENT UNIQUE (MySQL 8.4, "Numeric Data Type Syntax")."""
        node.identity, node.nullable = "by default", False
        self.clause("auto-increment", kind.first)
        if not any(each.form in ("unique", "primary key") for each in node.constraints):
            key = ConstraintDefinition(kind.first, kind.last, "", "unique", [node.name], None, (), [], "", "", False)
            self.nodes.append(key)
            node.constraints.append(key)

    def _names_column(self) -> bool:
        """Whether a reserved word stands where a column's name must: some engines allow their own words there."""
        return self.kinds[self.pos] == WORD and self.kinds[self.pos + 1] in (WORD, QUOTED) and self.words[self.pos] not in (
            "CONSTRAINT", "PRIMARY", "FOREIGN", "CHECK", "UNIQUE",
        )  # fmt: skip


_TYPE_WORDS: Final = frozenset(
    """INT INTEGER CHAR VARCHAR TEXT DATE DATETIME DECIMAL NUMERIC BIGINT SMALLINT TINYINT NVARCHAR NCHAR FLOAT BINARY
    VARBINARY BLOB BIT TIME TIMESTAMP DOUBLE""".split()
)
