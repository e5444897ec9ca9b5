"""CREATE TABLE and ALTER TABLE: columns, constraints, identities."""

from typing import Final

from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import END, QUOTED, WORD
from hullsound.sql.parser.oracle_constraints import OracleConstraintParser
from hullsound.sql.parser.properties import STATE_WORDS
from hullsound.sql.tree import (
    AlterTable,
    ColumnDefinition,
    ConstraintDefinition,
    CreateTable,
    Query,
    TypeName,
)

_DROPPED_PARTS: Final = frozenset(("CONSTRAINT", "COLUMN", "PRIMARY", "UNIQUE", "("))
_NOT_A_TYPE: Final = frozenset(
    ("DEFAULT", "GENERATED", "AS", "NOT", "NULL", "PRIMARY", "UNIQUE", "CHECK", "REFERENCES", "CONSTRAINT", "INVISIBLE",
     "VISIBLE", "ENCRYPT", "DECRYPT")
)  # fmt: skip


class TableParser(OracleConstraintParser):
    """Reads tables."""

    def create_table(self, first: int, modifiers: set[str]) -> CreateTable:
        self.pos += 1
        if_absent = self.accept("IF", "NOT", "EXISTS") or "IF NOT EXISTS" in modifiers
        name = self.qualified_name()
        columns: list[ColumnDefinition] = []
        constraints: list[ConstraintDefinition] = []
        clauses: set[str] = set()
        for word in ("PRIVATE", "SHARDED", "DUPLICATED", "IMMUTABLE", "BLOCKCHAIN"):
            if word in modifiers:
                clauses.add(self.clause(f"{word.lower()}-table", first))
        if self.accept("OF"):
            start = self.pos - 1
            self.qualified_name()
            clauses.add(self.clause("object-table", start))
        if self.at("("):
            self.table_elements(columns, constraints)
        temporary = "delete rows" if "TEMPORARY" in modifiers else ""
        partition: tuple[int, int] | None = None
        query: Query | None = None
        while self.kinds[self.pos] != END:
            start = self.pos
            if self.accept("ON", "COMMIT"):
                kept = self.accept_any(("PRESERVE", "DELETE", "DROP"))
                if not self.accept("ROWS"):
                    self.expect("DEFINITION")
                temporary = "preserve rows" if kept == "PRESERVE" else "delete rows"
            elif self.at("PARTITION", "BY"):
                self._partition(clauses)
                partition = (start, self.pos)
            elif self.accept("AS"):
                query = self.query()
                self.clause("create-table-as", start)
            elif not self.table_property(clauses):
                self.fail("a table property")
        node = CreateTable(first, self.pos, name, columns, constraints, temporary, query, clauses, partition)
        node.if_absent = if_absent
        self.nodes.append(node)
        return node

    def table_elements(self, columns: list[ColumnDefinition], constraints: list[ConstraintDefinition]) -> None:
        """Read the list of columns and table constraints."""
        self.expect("(")
        while True:
            word = self.words[self.pos]
            following = self.words[self.pos + 1]
            if word == "CONSTRAINT" or (
                word in ("PRIMARY", "FOREIGN", "UNIQUE", "CHECK") and following in ("KEY", "(")
            ):
                constraints.append(self.table_constraint())
            elif word == "SUPPLEMENTAL" and following == "LOG":
                first = self.pos
                while self.words[self.pos] not in (",", ")", ""):
                    if self.words[self.pos] == "(":
                        self.skip_parenthesized()
                    else:
                        self.pos += 1
                self.clause("supplemental-log", first)
            elif word == "PERIOD" and following == "FOR":
                first = self.pos
                self.pos += 2
                self.identifier()
                if self.at("("):
                    self.skip_parenthesized()
                self.clause("temporal-validity", first)
            else:
                columns.append(self.column_definition())
            if not self.accept(","):
                break
        self.expect(")")

    def column_definition(self) -> ColumnDefinition:
        first = self.pos
        name = self.identifier()
        kind: TypeName | None = None
        if self.kinds[self.pos] in (WORD, QUOTED) and self.words[self.pos] not in _NOT_A_TYPE:
            kind = self.type_name()
        node = ColumnDefinition(first, self.pos, name, kind, True, None, False, "", None, [])
        while self._column_option(node):
            pass
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _column_option(self, node: ColumnDefinition) -> bool:
        """Read one option of a column; False if none is next."""
        first = self.pos
        word = self.words[first]
        if word == "DEFAULT":
            self.pos += 1
            if self.accept("ON", "NULL"):
                self.accept("FOR", "INSERT", "ONLY") or self.accept("FOR", "INSERT", "AND", "UPDATE")
                node.default_on_null = True
                self.clause("default-on-null", first)
            node.default = self.expression(COMPARE)
        elif word == "GENERATED":
            self._generated(node)
        elif word == "AS" and self.words[first + 1] == "(":
            self._computed(node, first)
        elif word in ("VIRTUAL", "VISIBLE", "SORT"):
            self.pos += 1
        elif word == "INVISIBLE":
            self.pos += 1
            self.clause("invisible-column", first)
        elif word in ("NOT", "NULL", "PRIMARY", "UNIQUE", "CHECK", "REFERENCES", "CONSTRAINT"):
            constraint = self._inline_constraint(node.name)
            node.states_null = node.states_null or word == "NULL"
            if constraint.form == "not null":
                node.nullable = False
            elif constraint.form:
                node.constraints.append(constraint)
        elif word == "ENCRYPT":
            self.pos += 1
            self.accept("USING") and self.expression(COMPARE)
            if self.accept("IDENTIFIED", "BY"):
                self.pos += 1
            if self.is_string():
                self.pos += 1
            self.accept("NO", "SALT") or self.accept("SALT")
            self.clause("column-encryption", first)
        elif word == "COLLATE":
            self.pos += 2
            if self.words[self.pos - 1].strip('"') != "USING_NLS_COMP":
                self.clause("column-collation", first)
        elif word == "WITH" and self.words[first + 1] == "ROWID":
            self.pos += 2
        elif word == "ANNOTATIONS" and self.words[first + 1] == "(":
            self.pos += 1
            self.skip_parenthesized()
            self.clause("annotations", first)
        elif word == "SCOPE":
            self.pos += 2
            self.qualified_name()
        elif word in STATE_WORDS:
            self.pos += 1
        else:
            return False
        return True

    def alter_table(self, first: int) -> AlterTable:
        self.pos += 1
        name = self.qualified_name()
        node = AlterTable(first, self.pos, name, [], [], [], [])
        while self.kinds[self.pos] != END:
            start = self.pos
            if self.accept("ADD"):
                self._alter_add(node)
            elif self.at("MODIFY"):
                self._alter_modify(node)
            else:
                self._alter_other(node, start)
            if self.pos == start:
                self.fail("an action")
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _alter_add(self, node: AlterTable) -> None:
        if self.at("("):
            self.table_elements(node.columns, node.constraints)
        elif self.words[self.pos] in ("CONSTRAINT", "PRIMARY", "UNIQUE", "CHECK", "FOREIGN") and (
            self.words[self.pos] == "CONSTRAINT" or self.words[self.pos + 1] in ("KEY", "(")
        ):
            node.constraints.append(self.table_constraint())
        elif self.at("SUPPLEMENTAL") or self.at("PARTITION") or self.at("PERIOD"):
            first = self.pos
            name = {"SUPPLEMENTAL": "supplemental-log", "PARTITION": "add-partition"}.get(
                self.words[first], "temporal-validity"
            )
            self._skip_rest()
            self.clause(name, first)
        else:
            node.columns.append(self.column_definition())

    def _alter_modify(self, node: AlterTable) -> None:
        first = self.pos
        self.pos += 1
        if self.at("("):
            self.table_elements(node.modified, node.constraints)
        elif self.words[self.pos] in ("CONSTRAINT", "PRIMARY", "UNIQUE", "PARTITION", "LOB", "DEFAULT", "NESTED"):
            is_read = self._modify_constraint(node, first)
            self._skip_rest()
            if not is_read:
                self.clause("table-change", first)
            node.actions.append(f"modify {self.words[first + 1].lower()}")
        else:
            node.modified.append(self.column_definition())

    def _modify_constraint(self, node: AlterTable, first: int) -> bool:
        """Read MODIFY CONSTRAINT name state, MODIFY PRIMARY KEY state and MODIFY UNIQUE (columns) state, if one is there."""
        kind = "primary key"
        name: tuple[str, ...] = ()
        if self.accept("CONSTRAINT"):
            kind, name = "constraint", (self.identifier(),)
        elif self.at("UNIQUE", "("):
            self.pos += 1
            kind, name = "unique", tuple(self.name_list())
        elif not self.accept("PRIMARY", "KEY"):
            return False
        state = next((word for word in self.words[self.pos : self.pos + 4] if word in ("ENABLE", "DISABLE")), "")
        if state:
            self._add_change(node, first, state.lower(), kind, name)
        return bool(state)

    def _alter_other(self, node: AlterTable, first: int) -> None:
        """Read RENAME COLUMN and its like; step over an action such as ENABLE ROW MOVEMENT. Keeps the words of both."""
        is_read = self.table_change(node) or (self.accept("SET", "UNUSED") and self._set_unused(node, first))
        while self.kinds[self.pos] != END and not self._opens_action():
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            else:
                self.pos += 1
        words = " ".join(self.words[first : min(first + 4, self.pos)]).lower()
        node.actions.append(words)
        if not is_read:
            self.clause("table-change", first)
        if "row movement" in words:
            self.clause("row-movement", first)
        elif words.startswith("disable constraint"):
            self.clause("disabled-constraint", first)

    def _set_unused(self, node: AlterTable, first: int) -> bool:
        """Read SET UNUSED COLUMN name and SET UNUSED (names), which take columns away like DROP."""
        names = self.name_list() if self.at("(") else [self.identifier()] if self.accept("COLUMN") else []
        for name in names:
            self._add_change(node, first, "drop", "column", (name,))
        return True

    def _opens_action(self) -> bool:
        """Whether a further action of the same ALTER TABLE begins here."""
        word, following = self.words[self.pos], self.words[self.pos + 1]
        return word in ("ADD", "MODIFY", "RENAME") or (word == "DROP" and following in _DROPPED_PARTS)

    def _skip_rest(self) -> None:
        while self.kinds[self.pos] != END:
            self.pos += 1
