"""The statements of PL/SQL: blocks, loops, cursors, errors."""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import ClassVar, Final

from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import BIND, END, FENCE, QUOTED, WORD
from hullsound.sql.parser.change import ChangeParser
from hullsound.sql.tree import (
    Assign,
    Block,
    CallStatement,
    CaseStatement,
    CloseCursor,
    ExecuteImmediate,
    Fetch,
    Forall,
    Handler,
    If,
    Jump,
    Label,
    Loop,
    Node,
    OpenCursor,
    PlainStatement,
    Raise,
    Return,
)

from .core import Unreadable

_BLOCK_STOPS: Final = frozenset(("END", "EXCEPTION"))
_IF_STOPS: Final = frozenset(("END", "ELSIF", "ELSEIF", "ELSE"))
_CASE_STOPS: Final = frozenset(("END", "WHEN", "ELSE"))
_HANDLER_STOPS: Final = frozenset(("END", "WHEN"))
_LOOP_STOPS: Final = frozenset(("END",))
_CONDITIONAL_STOPS: Final = frozenset(("$ELSIF", "$ELSE", "$END"))
_OPENING_WORDS: Final = frozenset(("IF", "LOOP", "CASE", "BEGIN"))


class BlockParser(ChangeParser):
    """Reads blocks and what stands in them."""

    procedural: ClassVar[Mapping[str, Callable[..., Node]]] = MappingProxyType({})
    """Statements by their first word."""

    def declarations(self) -> list[Node]:
        """Read declarations; the parser of units does it."""
        raise NotImplementedError

    def _declaration(self) -> Node:
        """Read one declaration without its `;`; the parser of units does it."""
        raise NotImplementedError

    def declaration_list(self, stops: frozenset[str]) -> list[Node]:
        """Read declarations up to one of `stops` or the end; what cannot be read stays an Unread among them."""
        items: list[Node] = []
        while self.words[self.pos] not in stops and self.kinds[self.pos] not in (END, FENCE):
            first, depth = self.pos, self.depth
            try:
                if self.at("$IF"):
                    items.append(self._conditional(self.declaration_list))
                    continue
                items.append(self._declaration())
                self.expect(";")
            except Unreadable as error:
                self.depth = depth
                items.append(self._recover(first, error))
        return items

    def _conditional(self, read_items: Callable[[frozenset[str]], list[Node]]) -> Node:
        """Read $IF condition $THEN items [$ELSIF ...] [$ELSE ...] $END, whose every branch is read."""
        first = self.pos
        self.deepen()
        branches: list[tuple[Node, list[Node]]] = []
        while self.accept_any(("$IF", "$ELSIF")):
            condition = self.expression()
            self.expect("$THEN")
            branches.append((condition, self._conditional_items(read_items)))
        otherwise = self._conditional_items(read_items) if self.accept("$ELSE") else []
        self.expect("$END")
        node = If(first, self.pos, branches, otherwise)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _conditional_items(self, read_items: Callable[[frozenset[str]], list[Node]]) -> list[Node]:
        if not self.at("$ERROR"):
            return read_items(_CONDITIONAL_STOPS)
        self.pos += 1
        value = self.expression()
        self.expect("$END")
        return [value]

    def block(self) -> Block:
        """Read [DECLARE ...] BEGIN ... END [name]."""
        first = self.pos
        declarations = self.declarations() if self.accept("DECLARE") else []
        return self._block_body(first, declarations)

    def _block_body(self, first: int, declarations: list[Node]) -> Block:
        self.deepen()
        begin_at = self.expect("BEGIN")
        body = self.statements(_BLOCK_STOPS)
        handlers: list[Handler] = []
        exception_at = -1
        if self.at("EXCEPTION"):
            exception_at = self.pos
            self.pos += 1
            while self.at("WHEN"):
                handlers.append(self._handler())
        end_at = self.expect("END")
        if self.is_name():
            self.qualified_name()
        node = Block(first, self.pos, declarations, body, handlers, begin_at, exception_at, end_at)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _handler(self) -> Handler:
        first = self.expect("WHEN")
        names = [self.qualified_name()]
        while self.accept("OR"):
            names.append(self.qualified_name())
        self.expect("THEN")
        body = self.statements(_HANDLER_STOPS)
        node = Handler(first, self.pos, names, body)
        self.nodes.append(node)
        return node

    def statements(self, stops: frozenset[str]) -> list[Node]:
        """Read statements up to one of `stops`; what cannot be read stays an Unread among them."""
        items: list[Node] = []
        words = self.words
        while True:
            first = self.pos
            word = words[first]
            if word in stops or word == "":
                return items
            self.guard_unit()
            depth = self.depth
            try:
                if word == "$IF":
                    items.append(self._conditional(self.statements))
                    continue
                items.append(self._procedural_statement(word))
                if items[-1].__class__ is not Label:
                    if words[self.pos] != ";":
                        self.fail("';'")
                    self.pos += 1
            except Unreadable as error:
                self.depth = depth
                items.append(self._recover(first, error))

    def _recover(self, first: int, error: Unreadable) -> Node:
        """Step to behind the `;` that ends the broken statement, over whole nested structures."""
        words = self.words
        depth = 0
        pos = first
        while words[pos]:
            word = words[pos]
            if word in _OPENING_WORDS and words[pos - 1] != "END":
                depth += 1
            elif word == "END":
                if depth == 0 and pos > first:
                    break
                depth -= 1
            elif word == ";" and depth <= 0:
                pos += 1
                break
            pos += 1
        self.pos = max(pos, first + 1) if words[first] else first
        return self.unread(first, self.pos, error.reason)

    def _procedural_statement(self, word: str) -> Node:
        reader = self.procedural.get(word)
        if reader is not None:
            return reader(self)
        if self.kinds[self.pos] in (WORD, QUOTED, BIND):
            return self._assignment_or_call()
        self.fail("a statement")

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

    def _label(self) -> Node:
        first = self.expect("<<")
        name = self.any_word()
        self.expect(">>")
        node = Label(first, self.pos, name)
        self.nodes.append(node)
        return node

    def _if(self) -> Node:
        first = self.pos
        self.deepen()
        branches: list[tuple[Node, list[Node]]] = []
        while self.accept_any(("IF", "ELSIF", "ELSEIF")):
            condition = self.expression()
            self.expect("THEN")
            branches.append((condition, self.statements(_IF_STOPS)))
        otherwise = self.statements(_IF_STOPS) if self.accept("ELSE") else []
        self.expect("END", "IF")
        node = If(first, self.pos, branches, otherwise)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _case_statement(self) -> Node:
        first = self.expect("CASE")
        self.deepen()
        subject = None if self.at("WHEN") else self.expression()
        branches: list[tuple[Node, list[Node]]] = []
        while self.accept("WHEN"):
            condition = self.expression()
            while self.accept(","):
                self.expression()
            self.expect("THEN")
            branches.append((condition, self.statements(_CASE_STOPS)))
        otherwise = self.statements(_CASE_STOPS) if self.accept("ELSE") else []
        self.expect("END", "CASE")
        if self.is_name():
            self.identifier()
        node = CaseStatement(first, self.pos, subject, branches, otherwise)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _loop(self) -> Node:
        first = self.pos
        self.deepen()
        node = Loop(first, first, "basic", "", False, [], [], first)
        if self.accept("WHILE"):
            node.form = "while"
            node.bounds = [self.expression()]
        elif self.accept("FOR"):
            self._for_header(node)
        node.loop_at = self.expect("LOOP")
        node.body = self.statements(_LOOP_STOPS)
        self.expect("END", "LOOP")
        if self.kinds[self.pos] in (WORD, QUOTED):
            self.any_word()
        node.last = self.pos
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _for_header(self, node: Loop) -> None:
        node.variable = self.identifier()
        self.expect("IN")
        node.reverse = self.accept("REVERSE")
        if self.at("(") and self.opens_query():
            node.form = "query"
            node.bounds = [self.operand()]
            return
        low = self.expression()
        if self.accept(".."):
            node.form = "range"
            node.bounds = [low, self.expression()]
        else:
            node.form = "cursor"
            node.bounds = [low]

    def _jump(self) -> Node:
        first = self.pos
        form = self.words[first].lower()
        self.pos += 1
        label = self.any_word() if self.kinds[self.pos] in (WORD, QUOTED) and not self.at("WHEN") else ""
        condition = self.expression() if self.accept("WHEN") else None
        node = Jump(first, self.pos, form, label, condition)
        self.nodes.append(node)
        return node

    def _return(self) -> Node:
        first = self.expect("RETURN")
        value = None if self.at(";") else self.expression()
        node = Return(first, self.pos, value)
        self.nodes.append(node)
        return node

    def _raise(self) -> Node:
        first = self.expect("RAISE")
        name = self.qualified_name() if self.is_name() else ()
        node = Raise(first, self.pos, name)
        self.nodes.append(node)
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


BlockParser.procedural = {
    "IF": BlockParser._if,
    "CASE": BlockParser._case_statement,
    "LOOP": BlockParser._loop,
    "WHILE": BlockParser._loop,
    "FOR": BlockParser._loop,
    "BEGIN": BlockParser.block,
    "DECLARE": BlockParser.block,
    "EXIT": BlockParser._jump,
    "CONTINUE": BlockParser._jump,
    "GOTO": BlockParser._jump,
    "RETURN": BlockParser._return,
    "RAISE": BlockParser._raise,
    "EXECUTE": BlockParser._execute,
    "OPEN": BlockParser._open,
    "FETCH": BlockParser._fetch,
    "CLOSE": BlockParser._close,
    "FORALL": BlockParser._forall,
    "PIPE": BlockParser._pipe,
    "NULL": BlockParser._null,
    "<<": BlockParser._label,
    **dict.fromkeys(("SELECT", "WITH", "INSERT", "UPDATE", "DELETE", "MERGE", "("), BlockParser._sql),
    **dict.fromkeys(("COMMIT", "ROLLBACK", "SAVEPOINT", "SET", "LOCK"), BlockParser._transaction),
}
