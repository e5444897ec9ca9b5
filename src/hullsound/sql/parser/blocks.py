"""The statements of PL/SQL: blocks, loops, cursors, errors."""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import ClassVar, Final

from hullsound.sql.lexer import BIND, END, FENCE, QUOTED, WORD
from hullsound.sql.parser.cursors import CursorParser
from hullsound.sql.tree import (
    Block,
    CaseStatement,
    Handler,
    If,
    Jump,
    Label,
    Loop,
    Node,
    Raise,
    Return,
    Row,
)

from .core import Unreadable

_BLOCK_STOPS: Final = frozenset(("END", "EXCEPTION"))
_IF_STOPS: Final = frozenset(("END", "ELSIF", "ELSEIF", "ELSE"))
_CASE_STOPS: Final = frozenset(("END", "WHEN", "ELSE"))
_HANDLER_STOPS: Final = frozenset(("END", "WHEN"))
_LOOP_STOPS: Final = frozenset(("END",))
_CONDITIONAL_STOPS: Final = frozenset(("$ELSIF", "$ELSE", "$END"))
_OPENING_WORDS: Final = frozenset(("IF", "LOOP", "CASE", "BEGIN"))


class BlockParser(CursorParser):
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
            condition = self._case_test()
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

    def _case_test(self) -> Node:
        """Read what stands behind WHEN: one expression, or a list of which one must be equal."""
        first, tests = self.pos, [self.expression()]
        while self.accept(","):
            tests.append(self.expression())
        if len(tests) == 1:
            return tests[0]
        row = Row(first, self.pos, tests)
        self.nodes.append(row)
        return row

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
