"""Control of flow of the SQL/PSM family: branches, loops, assignments, signals."""

from typing import Final

from hullsound.sql.lexer import END, FENCE, QUOTED, WORD
from hullsound.sql.parser.core import Unreadable
from hullsound.sql.parser.definitions import DefinitionParser
from hullsound.sql.tree import (
    Assign,
    CaseStatement,
    Execute,
    If,
    Jump,
    Label,
    Loop,
    Name,
    Node,
    Parts,
    PlainStatement,
    Raise,
    Return,
    Row,
)

_IF_STOPS: Final = frozenset(("END", "ELSEIF", "ELSE"))
_CASE_STOPS: Final = frozenset(("END", "WHEN", "ELSE"))
_END_STOPS: Final = frozenset(("END",))
_UNTIL_STOPS: Final = frozenset(("UNTIL",))
_LONGEST_ASKING: Final = 60
"""Tokens of a GET DIAGNOSTICS that are looked at for what it fills."""
_OPENING_WORDS: Final = frozenset(("IF", "LOOP", "CASE", "BEGIN", "WHILE", "REPEAT"))


class PsmFlowParser(DefinitionParser):
    """Reads lists of statements and what steers them; the parser built on this one knows every statement."""

    def one_statement(self) -> Node:
        """Read one statement without its `;`; the parser built on this one does it."""
        raise NotImplementedError

    def statements(self, stops: frozenset[str]) -> list[Node]:
        """Read statements up to one of `stops`; what cannot be read stays an Unread among them."""
        items: list[Node] = []
        words = self.words
        while True:
            first = self.pos
            word = words[first]
            ends_transaction = word == "END" and words[first + 1] == "TRANSACTION"
            if (word in stops and not ends_transaction) or self.kinds[first] == END:
                return items
            self.guard_unit()
            depth = self.depth
            try:
                items.append(self.one_statement())
                if items[-1].__class__ is not Label and not self.accept(";"):
                    self.fail("';'")
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
            if (
                word in _OPENING_WORDS
                and words[pos - 1] != "END"
                and words[pos + 1] != "("
                and words[pos + 1] != "EXISTS"
            ):
                depth += 1
            elif word == "END":
                if depth == 0 and pos > first:
                    break
                depth -= 1
                if words[pos + 1] in _OPENING_WORDS:
                    pos += 1
            elif word == ";" and depth <= 0:
                pos += 1
                break
            pos += 1
        self.pos = max(pos, first + 1) if words[first] else first
        return self.unread(first, self.pos, error.reason)

    def plain(self, first: int, words: str, value: Node | None = None) -> Node:
        node = PlainStatement(first, max(self.pos, first + 1), words, value)
        self.nodes.append(node)
        return node

    def rest(self) -> Node:
        """Read a statement known by its first word only."""
        first = self.pos
        self.pos += 1
        return self.whole_statement(first, self.words[first])

    # --- blocks ---

    def _end_label(self) -> None:
        if self.kinds[self.pos] in (WORD, QUOTED) and self.words[self.pos] not in self.reserved:
            self.pos += 1

    def _if(self) -> Node:
        first = self.pos
        self.deepen()
        branches: list[tuple[Node, list[Node]]] = []
        while self.accept_any(("IF", "ELSEIF")):
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
            self.expect("THEN")
            branches.append((condition, self.statements(_CASE_STOPS)))
        otherwise = self.statements(_CASE_STOPS) if self.accept("ELSE") else []
        self.expect("END", "CASE")
        node = CaseStatement(first, self.pos, subject, branches, otherwise)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _loop(self) -> Node:
        first = self.pos
        self.deepen()
        form = self.words[first].lower()
        self.pos += 1
        bounds: list[Node] = []
        if form == "while":
            bounds = [self.expression()]
            self.expect("DO")
        at = self.pos
        body = self.statements(_UNTIL_STOPS if form == "repeat" else _END_STOPS)
        if form == "repeat":
            self.expect("UNTIL")
            bounds = [self.expression()]
        self.expect("END", form.upper())
        self._end_label()
        node = Loop(first, self.pos, "basic" if form == "loop" else form, "", False, bounds, body, at)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _for_loop(self) -> Node:
        """Read FOR name AS [cursor CURSOR FOR] query DO and FOR name IN low .. high DO."""
        first = self.expect("FOR")
        self.deepen()
        variable = self.any_word()
        form = "query"
        if self.accept("IN"):
            self.accept("REVERSE")
            if self.at("("):
                bounds: list[Node] = [self.operand()]
            else:
                bounds = [self.expression()]
                if self.accept(".."):
                    form = "range"
                    bounds.append(self.expression())
        else:
            self.accept("AS")
            if self.kinds[self.pos] in (WORD, QUOTED) and self.words[self.pos] not in (
                "SELECT",
                "WITH",
                "SEL",
                "VALUES",
            ):
                self.identifier()
                while self.words[self.pos] in ("INSENSITIVE", "ASENSITIVE", "SENSITIVE", "NO", "SCROLL"):
                    self.pos += 2 if self.words[self.pos] == "NO" else 1
                self.expect("CURSOR")
                while self.words[self.pos] in ("WITH", "WITHOUT", "HOLD"):
                    self.pos += 1
                self.expect("FOR")
            self.locking_modifiers()
            bounds = [self.query()]
        at = self.expect("DO")
        body = self.statements(_END_STOPS)
        self.expect("END", "FOR")
        self._end_label()
        self.clause("for-loop", first)
        node = Loop(first, self.pos, form, variable, False, bounds, body, at)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _jump(self) -> Node:
        first = self.pos
        form = {"LEAVE": "exit", "ITERATE": "continue"}.get(self.words[first], "goto")
        self.pos += 1
        label = self.any_word() if self.kinds[self.pos] in (WORD, QUOTED) else ""
        node = Jump(first, self.pos, form, label, None)
        self.nodes.append(node)
        return node

    def _return(self) -> Node:
        first = self.expect("RETURN")
        value: Node | None = None
        if self.words[self.pos] in ("SELECT", "WITH", "VALUES", "SEL") and self.words[self.pos + 1] != "(":
            value = self.query()
        elif self.words[self.pos] not in (";", ""):
            value = self.expression()
        node = Return(first, self.pos, value)
        self.nodes.append(node)
        return node

    def set_statement(self) -> Node:
        """Read SET target = value, ... and SET (targets) = (values); each assignment begins at SET, the last holds them all."""
        first = self.expect("SET")
        while True:
            node = self._assignment(first)
            if not self.accept(","):
                return node

    def _assignment(self, first: int) -> Node:
        if self.at("("):
            opening = self.pos
            self.pos += 1
            self.expressions()
            self.expect(")")
            target: Node = Row(opening, self.pos, [])
            self.nodes.append(target)
        else:
            target = self._assigned()
        if not self.accept_any(("=", ":=")):
            self.fail("'='")
        value: Node
        if self.words[self.pos] in ("SELECT", "VALUES"):
            value = self.query()
        elif self.words[self.pos] == "DEFAULT":
            value = self._value()
        else:
            value = self.expression()
        node = Assign(first, self.pos, target, value)
        self.nodes.append(node)
        return node

    def call_statement(self) -> Node:
        first = self.expect("CALL")
        routine = self.qualified_name()
        arguments: list[Node] = []
        if self.accept("("):
            while not self.accept(")"):
                arguments.append(self._value() if self.at("DEFAULT") else self.argument())
                if not self.accept(",") and not self.at(")"):
                    self.fail("')'")
        node = Execute(first, self.pos, routine, arguments, None)
        self.nodes.append(node)
        return node

    def signal(self) -> Node:
        first = self.pos
        self.pos += 1
        name: Parts = ()
        if self.accept("SQLSTATE"):
            self.accept("VALUE")
            self._step()
        elif self.kinds[self.pos] in (WORD, QUOTED) and not self.at("SET"):
            name = (self.any_word(),)
        if self.accept("SET"):
            while True:
                self.any_word()
                self.expect("=")
                self.expression()
                if not self.accept(","):
                    break
        elif self.at("("):
            self.skip_parenthesized()
        node = Raise(first, self.pos, name)
        self.nodes.append(node)
        return node

    def diagnostics(self) -> Node:
        first = self.pos
        self.clause("get-diagnostics", first)
        for at in range(first, self.pos + _LONGEST_ASKING):
            if self.words[at] in (";", ""):
                break
            if self.words[at + 1] == "=" and self.kinds[at] == WORD and not self.words[at].startswith("@"):
                self.nodes.append(Name(at, at + 1, (self.words[at],)))
        return self.whole_statement(first, "get diagnostics")

    def transaction(self) -> Node:
        first = self.pos
        words = self.words[first].lower()
        while self.words[self.pos] not in (";", "") and self.kinds[self.pos] != FENCE:
            self.pos += 1
        if words == "rollback" and "TO" in self.words[first : self.pos]:
            words = "rollback to"
        return self.plain(first, words)

    # --- routines ---

    def step_to(self, stops: frozenset[str]) -> None:
        """Step over values and words up to one of `stops`."""
        while self.words[self.pos] not in stops and self.kinds[self.pos] != END:
            self.skip_parenthesized() if self.at("(") else self._step()
