"""Statements of a block that work on cursors, on texts made at run time, and on the transaction."""

from hullsound.sql.levels import COMPARE
from hullsound.sql.parser.change import ChangeParser
from hullsound.sql.tree import (
    Assign,
    CallStatement,
    CloseCursor,
    ExecuteImmediate,
    Fetch,
    Forall,
    Node,
    OpenCursor,
    PlainStatement,
)


class CursorParser(ChangeParser):
    """Reads cursors, dynamic statements and transactions."""

    def _assignment_or_call(self) -> Node:
        first = self.pos
        target = self.operand()
        node: Node
        if self.words[self.pos] == ":=":
            self.pos += 1
            node = Assign(first, self.pos, target, self.expression())
            node.last = self.pos
        else:
            node = CallStatement(first, self.pos, target)
        self.nodes.append(node)
        return node

    def _sql(self) -> Node:
        node = self.change_statement()
        assert node is not None
        return node

    def _execute(self) -> Node:
        first = self.pos
        if self.words[first + 1] != "IMMEDIATE":
            return self._assignment_or_call()
        self.pos += 2
        text = self.expression()
        bulk = self.accept("BULK", "COLLECT")
        into = self.expressions() if self.accept("INTO") else []
        using = self._using()
        if self.accept_any(("RETURNING", "RETURN")):
            bulk = self.accept("BULK", "COLLECT") or bulk
            self.expect("INTO")
            into += self.expressions()
        node = ExecuteImmediate(first, self.pos, text, into, bulk, using)
        self.nodes.append(node)
        return node

    def _using(self) -> list[Node]:
        if not self.accept("USING"):
            return []
        values: list[Node] = []
        while True:
            self.accept("IN")
            self.accept("OUT")
            values.append(self.expression())
            if not self.accept(","):
                return values

    def _open(self) -> Node:
        first = self.expect("OPEN")
        cursor = self.operand()
        query: Node | None = None
        using: list[Node] = []
        if self.accept("FOR"):
            query = self.query() if self.words[self.pos] in ("SELECT", "WITH") else self.expression()
            using = self._using()
        node = OpenCursor(first, self.pos, cursor, [], query, using)
        self.nodes.append(node)
        return node

    def _fetch(self) -> Node:
        first = self.expect("FETCH")
        cursor = self.operand()
        bulk = self.accept("BULK", "COLLECT")
        self.expect("INTO")
        into = self.expressions()
        limit = self.expression() if self.accept("LIMIT") else None
        node = Fetch(first, self.pos, cursor, into, bulk, limit)
        self.nodes.append(node)
        return node

    def _close(self) -> Node:
        first = self.expect("CLOSE")
        node = CloseCursor(first, first, self.operand())
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _forall(self) -> Node:
        first = self.expect("FORALL")
        variable = self.identifier()
        self.expect("IN")
        if self.words[self.pos] in ("INDICES", "VALUES"):
            self.pos += 1
            self.expect("OF")
            self.operand()
            if self.accept("BETWEEN"):
                self.expression(COMPARE)
                self.expect("AND")
                self.expression(COMPARE)
        else:
            self.expression()
            self.expect("..")
            self.expression()
        self.accept("SAVE", "EXCEPTIONS")
        statement = self._execute() if self.at("EXECUTE") else self.change_statement()
        if statement is None:
            self.fail("a statement that changes rows")
        node = Forall(first, self.pos, variable, statement)
        self.nodes.append(node)
        return node

    def _pipe(self) -> Node:
        first = self.pos
        if self.words[first + 1] != "ROW":
            return self._assignment_or_call()
        self.pos += 2
        return self._plain(first, "pipe row", self.operand())

    def _null(self) -> Node:
        self.pos += 1
        return self._plain(self.pos - 1, "null")

    def _transaction(self) -> Node:
        """Read COMMIT, ROLLBACK, SAVEPOINT, SET TRANSACTION and LOCK TABLE to their end."""
        first = self.pos
        if self.words[first + 1] in (":=", ".", "("):
            return self._assignment_or_call()
        while self.words[self.pos] not in (";", ""):
            self.pos += 1
        words = self.words[first].lower()
        if words in ("set", "lock"):
            words += " " + self.words[first + 1].lower()
        elif words == "rollback" and "TO" in self.words[first : self.pos]:
            words = "rollback to"
        return self._plain(first, words)

    def _plain(self, first: int, words: str, value: Node | None = None) -> Node:
        node = PlainStatement(first, self.pos, words, value)
        self.nodes.append(node)
        return node
