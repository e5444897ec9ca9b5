"""Statements that change rows: INSERT, UPDATE, DELETE and MERGE."""

from hullsound.sql.lexer import WORD
from hullsound.sql.parser.query import QueryParser
from hullsound.sql.tree import (
    Delete,
    Insert,
    Merge,
    Name,
    Node,
    Row,
    TableRef,
    Update,
)


class ChangeParser(QueryParser):
    """Reads statements that change rows."""

    def insert(self) -> Insert:
        first = self.expect("INSERT")
        if self.words[self.pos] in ("ALL", "FIRST"):
            return self._insert_all(first)
        self.expect("INTO")
        table, columns = self._insert_target()
        query = None
        if self.accept("VALUES"):
            self._values()
        elif self.words[self.pos] in ("SELECT", "WITH", "("):
            query = self.query()
        else:
            self.fail("VALUES or a query")
        returning, into = self._returning()
        self._error_log()
        node = Insert(first, self.pos, table, columns, query, returning, into)
        self.nodes.append(node)
        return node

    def _values(self) -> None:
        if self.at("("):
            self.pos += 1
            self._value()
            while self.accept(","):
                self._value()
            self.expect(")")
            while self.accept(","):
                self.skip_parenthesized()
        else:
            first = self.pos
            self.expression()
            self.clause("insert-record", first)

    def _value(self) -> Node:
        if self.words[self.pos] == "DEFAULT":
            self.pos += 1
            node = Name(self.pos - 1, self.pos, ("DEFAULT",))
            self.nodes.append(node)
            return node
        return self.expression()

    def _insert_target(self) -> tuple[TableRef | None, list[Name]]:
        table: TableRef | None = None
        if self.at("(") or self.at("TABLE", "("):
            self._source()
        else:
            table = self._table_ref()
            table.alias = self._alias()
            self.nodes.append(table)
        columns: list[Name] = []
        if self.words[self.pos] == "(" and not self.opens_query():
            columns = self._column_names()
        return table, columns

    def _column_names(self) -> list[Name]:
        self.expect("(")
        columns: list[Name] = []
        while True:
            first = self.pos
            name = Name(first, first, self.qualified_name())
            name.last = self.pos
            self.nodes.append(name)
            columns.append(name)
            if not self.accept(","):
                break
        self.expect(")")
        return columns

    def _insert_all(self, first: int) -> Insert:
        self.pos += 1
        while self.words[self.pos] in ("INTO", "WHEN", "ELSE"):
            if self.accept("WHEN"):
                self.expression()
                self.expect("THEN")
            else:
                self.accept("ELSE")
            while self.accept("INTO"):
                self._insert_target()
                if self.accept("VALUES"):
                    self._values()
                self._error_log()
        query = self.query()
        self.clause("insert-all", first)
        node = Insert(first, self.pos, None, [], query, [], [])
        self.nodes.append(node)
        return node

    def _returning(self) -> tuple[list[Node], list[Node]]:
        if not self.accept_any(("RETURNING", "RETURN")):
            return [], []
        values = self.expressions()
        if self.accept("BULK", "COLLECT"):
            self.clause("returning-bulk-collect", self.pos - 2)
        self.expect("INTO")
        return values, self.expressions()

    def _error_log(self) -> None:
        first = self.pos
        if not self.accept("LOG", "ERRORS"):
            return
        if self.accept("INTO"):
            self.qualified_name()
        if self.at("("):
            self.skip_parenthesized()
        if self.accept("REJECT", "LIMIT"):
            self.any_word() if self.kinds[self.pos] == WORD else self.expression()
        self.clause("log-errors", first)

    def update(self) -> Update:
        first = self.expect("UPDATE")
        table = self._change_target()
        self.expect("SET")
        assignments = self._assignments()
        if self.at("FROM"):
            start = self.pos
            self.pos += 1
            self.sources()
            self.clause("update-from", start)
        where = self._where() if self.accept("WHERE") else None
        returning, into = self._returning()
        self._error_log()
        node = Update(first, self.pos, table, assignments, where, returning, into)
        self.nodes.append(node)
        return node

    def _change_target(self) -> Node:
        if self.at("("):
            self.clause("change-inline-view", self.pos)
            return self._source()
        if self.at("TABLE", "(") or self.at("ONLY", "("):
            return self._source()
        table = self._table_ref()
        if not self.at("SET"):
            table.alias = self._alias()
        table.last = self.pos
        self.nodes.append(table)
        return table

    def _assignments(self) -> list[tuple[Node, Node]]:
        assignments: list[tuple[Node, Node]] = []
        while True:
            first = self.pos
            if self.accept("ROW", "="):
                target: Node = Name(first, first + 1, ("ROW",))
                self.clause("update-record", first)
            else:
                target = Row(first, first, []) if self.at("(") else self.operand()
                if isinstance(target, Row):
                    target.items = list(self._column_names())
                    target.last = self.pos
                    self.nodes.append(target)
                self.expect("=")
            assignments.append((target, self._value()))
            if not self.accept(","):
                return assignments

    def delete(self) -> Delete:
        first = self.expect("DELETE")
        if not self.accept("FROM"):
            self.clause("delete-without-from", first)
        table = self._change_target()
        where = self._where() if self.accept("WHERE") else None
        returning, into = self._returning()
        self._error_log()
        node = Delete(first, self.pos, table, where, returning, into)
        self.nodes.append(node)
        return node

    def merge(self) -> Merge:
        first = self.expect("MERGE")
        self.expect("INTO")
        table = self._table_ref()
        table.alias = self._alias()
        self.nodes.append(table)
        self.expect("USING")
        source = self._source()
        self.expect("ON")
        condition = self.expression()
        assignments: list[tuple[Node, Node]] = []
        columns: list[Name] = []
        while self.accept("WHEN"):
            negated = self.accept("NOT")
            self.expect("MATCHED")
            if self.accept("AND"):
                self.expression()
            self.expect("THEN")
            if negated:
                columns = self._merge_insert()
            else:
                assignments = self._merge_update()
        self._error_log()
        node = Merge(first, self.pos, table, source, condition, assignments, columns)
        self.nodes.append(node)
        return node

    def _merge_update(self) -> list[tuple[Node, Node]]:
        if self.accept("DELETE"):
            return []
        self.expect("UPDATE", "SET")
        assignments = self._assignments()
        start = self.pos
        if self.accept("WHERE"):
            self.expression()
            self.clause("merge-where", start)
        start = self.pos
        if self.accept("DELETE", "WHERE"):
            self.expression()
            self.clause("merge-delete", start)
        return assignments

    def _merge_insert(self) -> list[Name]:
        self.expect("INSERT")
        columns = self._column_names() if self.at("(") else []
        self.expect("VALUES")
        self._values()
        start = self.pos
        if self.accept("WHERE"):
            self.expression()
            self.clause("merge-where", start)
        return columns

    def change_statement(self) -> Node | None:
        """Read SELECT, INSERT, UPDATE, DELETE or MERGE; None if none of them is next."""
        word = self.words[self.pos]
        if word in ("SELECT", "WITH", "("):
            return self.query_statement()
        if word == "INSERT":
            return self.insert()
        if word == "UPDATE":
            return self.update()
        if word == "DELETE":
            return self.delete()
        if word == "MERGE":
            return self.merge()
        return None
