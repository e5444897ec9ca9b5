"""Cursors of the T-SQL family: declared, opened, fetched, closed."""

from typing import Final

from hullsound.sql.parser.tsql import TsqlParser
from hullsound.sql.tree import (
    CloseCursor,
    CursorDeclaration,
    Fetch,
    Node,
    OpenCursor,
    PlainStatement,
)

_CURSOR_WORDS: Final = frozenset(
    """LOCAL GLOBAL FORWARD_ONLY SCROLL STATIC KEYSET DYNAMIC FAST_FORWARD READ_ONLY SCROLL_LOCKS OPTIMISTIC TYPE_WARNING
    INSENSITIVE""".split()
)
_FETCH_WORDS: Final = frozenset(("NEXT", "PRIOR", "FIRST", "LAST", "ABSOLUTE", "RELATIVE"))


class TsqlCursorParser(TsqlParser):
    """Reads what T-SQL says of cursors."""

    def _declare_cursor(self, first: int) -> Node:
        name = self.identifier()
        while self.words[self.pos] in ("INSENSITIVE", "SCROLL"):
            self.pos += 1
        is_at = self.expect("CURSOR")
        return self._cursor_body(first, name, is_at)

    def _cursor_body(self, first: int, name: str, is_at: int) -> CursorDeclaration:
        while self.words[self.pos] in _CURSOR_WORDS:
            if self.words[self.pos] in ("SCROLL", "KEYSET", "DYNAMIC", "STATIC", "GLOBAL"):
                self.clause(f"cursor-{self.words[self.pos].lower()}", self.pos)
            self.pos += 1
        self.expect("FOR")
        query = self.query()
        if self.accept("FOR"):
            if self.accept("READ"):
                self.expect("ONLY")
            else:
                self.expect("UPDATE")
                if self.accept("OF"):
                    self.expressions()
        node = CursorDeclaration(first, self.pos, name, [], query, is_at)
        self.nodes.append(node)
        return node

    def _open(self) -> Node:
        first = self.pos
        if self.words[first + 1] in ("SYMMETRIC", "MASTER"):
            return self.named_statement("OPEN", self.words[first + 1], "KEY")
        self.pos += 1
        self.accept("GLOBAL")
        node = OpenCursor(first, first, self.operand(), [], None, [])
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _fetch_cursor(self) -> Node:
        first = self.pos
        self.pos += 1
        if self.words[self.pos] in _FETCH_WORDS and self.words[self.pos + 1] not in ("INTO", ";"):
            if self.words[self.pos] != "NEXT":
                self.clause(f"cursor-fetch-{self.words[self.pos].lower()}", first)
            self.pos += 1
            if self.words[self.pos] not in ("FROM",) and self.words[self.pos - 1] in ("ABSOLUTE", "RELATIVE"):
                self.expression()
        self.accept("FROM")
        self.accept("GLOBAL")
        cursor = self.operand()
        into = self.expressions() if self.accept("INTO") else []
        node = Fetch(first, self.pos, cursor, into, False, None)
        self.nodes.append(node)
        return node

    def _close(self) -> Node:
        first = self.pos
        if self.words[first + 1] in ("SYMMETRIC", "MASTER", "ALL"):
            return self.named_statement("CLOSE", self.words[first + 1])
        self.pos += 1
        self.accept_any(("GLOBAL", "CURSOR"))
        node = CloseCursor(first, first, self.operand())
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _plain(self, first: int, words: str, value: Node | None = None) -> Node:
        node = PlainStatement(first, max(self.pos, first + 1), words, value)
        self.nodes.append(node)
        return node
