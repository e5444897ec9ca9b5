"""Indexes, materialized views and object types of Oracle."""

from typing import Final

from hullsound.sql.lexer import END, WORD
from hullsound.sql.parser.tables import TableParser
from hullsound.sql.tree import (
    CreateIndex,
    CreateType,
    CreateView,
    OrderItem,
)

_CONSTRAINT_WORDS: Final = frozenset(
    ("CONSTRAINT", "PRIMARY", "UNIQUE", "CHECK", "FOREIGN", "REFERENCES", "NOT", "NULL")
)


class OracleObjectParser(TableParser):
    """Reads what Oracle defines with clauses of its own."""

    def create_index(self, first: int, modifiers: set[str]) -> CreateIndex:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        self.expect("ON")
        clauses: set[str] = set()
        if self.accept("CLUSTER"):
            clauses.add(self.clause("table-cluster", first))
            node = CreateIndex(first, self.pos, name, self.qualified_name(), [], False, "", clauses)
            self._skip_rest()
            self.nodes.append(node)
            return node
        table = self.qualified_name()
        if self.is_name():
            self.identifier()
        self.expect("(")
        keys: list[OrderItem] = []
        while True:
            keys.append(self.order_item())
            if not self.accept(","):
                break
        self.expect(")")
        method = "bitmap" if "BITMAP" in modifiers else ""
        start = self.pos
        if self.at("FROM"):
            self._bitmap_join()
            clauses.add(self.clause("bitmap-join-index", start))
        while self.kinds[self.pos] != END:
            start = self.pos
            if self.accept("INDEXTYPE", "IS"):
                self.qualified_name()
                if self.accept("PARAMETERS"):
                    self.skip_parenthesized()
                method = "domain"
                clauses.add(self.clause("domain-index", start))
            elif not self.table_property(clauses):
                self.fail("an index property")
        if method == "bitmap":
            clauses.add(self.clause("bitmap-index", first))
        node = CreateIndex(first, self.pos, name, table, keys, "UNIQUE" in modifiers, method, clauses)
        self.nodes.append(node)
        return node

    def _bitmap_join(self) -> None:
        self.pos += 1
        self.sources()
        self.expect("WHERE")
        self.expression()

    def _view_columns(self) -> list[str]:
        if not self.at("("):
            return []
        self.pos += 1
        columns: list[str] = []
        while True:
            if self.at("CONSTRAINT"):
                self.table_constraint()
            else:
                columns.append(self.identifier())
                while self.words[self.pos] in _CONSTRAINT_WORDS:
                    self._inline_constraint(columns[-1])
            if not self.accept(","):
                break
        self.expect(")")
        return columns

    def create_materialized_view(self, first: int) -> CreateView:
        self.pos += 2
        name = self.qualified_name()
        columns = self._view_columns()
        clauses: set[str] = set()
        while not self.at("AS"):
            start = self.pos
            if self.accept("REFRESH") or self.accept("NEVER"):
                self._refresh(clauses, start)
            elif self.accept("BUILD"):
                self.any_word()
            elif self.accept("ON", "PREBUILT", "TABLE"):
                clauses.add(self.clause("prebuilt-table", start))
                self.accept("WITH") and (self.accept("REDUCED"), self.accept("PRECISION"))
            elif self.at("ENABLE", "QUERY") or self.at("DISABLE", "QUERY"):
                self.pos += 2
                self.expect("REWRITE")
                if self.words[start] == "ENABLE":
                    clauses.add(self.clause("query-rewrite", start))
            elif self.accept("FOR", "UPDATE"):
                clauses.add(self.clause("updatable-materialized-view", start))
            elif self.at("PARTITION", "BY"):
                self._partition(clauses)
            elif self.accept("USING", "INDEX"):
                while self.table_property(set()):
                    pass
            elif self.accept("USING") or self.accept("WITH"):
                self.any_word()
                self.any_word()
            elif not self.table_property(clauses):
                self.fail("a property or AS")
        self.expect("AS")
        query = self.query()
        node = CreateView(first, self.pos, name, columns, query, True, False, False, clauses)
        self.nodes.append(node)
        return node

    def _refresh(self, clauses: set[str], first: int) -> None:
        name = "refresh-on-demand"
        while True:
            start = self.pos
            if self.accept("FAST"):
                clauses.add(self.clause("refresh-fast", start))
            elif self.accept("ON", "COMMIT"):
                clauses.add(self.clause("refresh-on-commit", start))
                name = ""
            elif self.accept("START", "WITH") or self.accept("NEXT"):
                self.expression()
                name = "refresh-scheduled"
            elif self.accept("WITH"):
                self.accept("PRIMARY", "KEY") or self.accept("ROWID")
            elif (
                self.accept("ON", "DEMAND")
                or self.accept("ON", "STATEMENT")
                or self.accept_any(("COMPLETE", "FORCE", "REFRESH"))
            ):
                continue
            elif self.accept("USING"):
                while self.words[self.pos] in (
                    "DEFAULT",
                    "MASTER",
                    "LOCAL",
                    "ROLLBACK",
                    "SEGMENT",
                    "ENFORCED",
                    "TRUSTED",
                    "CONSTRAINTS",
                ):
                    self.pos += 1
            else:
                break
        if name:
            clauses.add(self.clause(name, first))

    def create_type(self, first: int) -> CreateType:
        self.pos += 1
        name = self.qualified_name()
        node = CreateType(first, self.pos, name, "incomplete", [], None)
        self.accept("FORCE")
        if self.accept("OID"):
            self.pos += 1
        if self.accept("AUTHID") and self.any_word() == "CURRENT_USER":
            self.clause("invoker-rights", self.pos - 2)
        if self.accept_any(("IS", "AS")):
            if self.accept("OBJECT"):
                node.form = "object"
                self._object_attributes(node)
            elif self.accept("TABLE", "OF"):
                node.form = "table"
                node.element = self.type_name()
                self.accept("NOT", "NULL")
            elif self.accept("VARRAY") or self.accept("VARYING", "ARRAY"):
                node.form = "varray"
                self.skip_parenthesized()
                self.expect("OF")
                node.element = self.type_name()
                self.accept("NOT", "NULL")
            elif self.accept("OPAQUE"):
                node.form = "opaque"
                self._skip_rest()
            else:
                self.fail("OBJECT, TABLE OF or VARRAY")
        elif self.accept("UNDER"):
            node.form = "subtype"
            self.qualified_name()
            self._object_attributes(node)
        self._type_tail()
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _type_tail(self) -> None:
        while self.words[self.pos] in ("NOT", "FINAL", "INSTANTIABLE", "PERSISTABLE"):
            self.pos += 1

    def _object_attributes(self, node: CreateType) -> None:
        """Read attributes; methods are noted as a clause and their signatures stepped over."""
        self.expect("(")
        while True:
            first = self.pos
            if self.words[first] in ("MEMBER", "STATIC", "CONSTRUCTOR", "MAP", "ORDER", "OVERRIDING", "FINAL", "NOT",
                                     "INSTANTIABLE", "PRAGMA") and self.kinds[first + 1] == WORD:  # fmt: skip
                while self.words[self.pos] not in (",", ")", ""):
                    if self.words[self.pos] == "(":
                        self.skip_parenthesized()
                    else:
                        self.pos += 1
                self.clause("object-method", first)
            else:
                name = self.identifier()
                node.attributes.append((name, self.type_name()))
            if not self.accept(","):
                break
        self.expect(")")
