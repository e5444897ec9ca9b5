"""Special forms of expressions: CASE, CAST, EXISTS, literals with a type, and argument lists with words in them."""

from typing import Final

from hullsound.sql.lexer import QUOTED, STRING, WORD
from hullsound.sql.parser.types import TypeParser
from hullsound.sql.tree import (
    Call,
    Case,
    Cast,
    Literal,
    Node,
    Operation,
    OrderItem,
    Query,
    Subquery,
    TypedLiteral,
)

_NOT: Final = 3
_PREFIX: Final = 8
_FIELDS: Final = frozenset(("YEAR", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND"))
_LOOSE_WORDS: Final = frozenset(
    """KEY VALUE IS FORMAT JSON ABSENT NULL ON RETURNING STRICT WITH WITHOUT UNIQUE KEYS NAME EVALNAME CONTENT DOCUMENT
    PASSING BY REF WRAPPER CONDITIONAL UNCONDITIONAL ARRAY ERROR EMPTY ENTITYESCAPING NOENTITYESCAPING
    WELLFORMED VERSION NO STANDALONE YES ENCODING INDENT SIZE HIDE SHOW DEFAULTS VARCHAR2 CLOB TRUE FALSE LAX PRETTY ASCII
    DEFAULT EXISTS MISMATCH""".split()
)


class SpecialFormParser(TypeParser):
    """Reads what a word opens; every reader returns None where its word is only a name."""

    def query(self) -> Query:
        """Read a query; the parser of queries does it."""
        raise NotImplementedError

    def expression(self, floor: int = 0) -> Node:
        """Read an expression; the parser of expressions does it."""
        raise NotImplementedError

    def operand(self) -> Node:
        """Read one operand; the parser of expressions does it."""
        raise NotImplementedError

    def order_items(self) -> list[OrderItem]:
        """Read ORDER BY; the parser of expressions does it."""
        raise NotImplementedError

    def _prefix(self, first: int, word: str, floor: int) -> Node:
        operand = self.expression(floor) if floor < _PREFIX else self._deep_operand()
        node = Operation(first, self.pos, [word], [operand])
        self.nodes.append(node)
        return node

    def _deep_operand(self) -> Node:
        self.deepen()
        node = self.operand()
        self.depth -= 1
        return node

    def _note(self, node: Node) -> Node:
        self.nodes.append(node)
        return node

    def opens_query(self) -> bool:
        """Whether the next tokens begin a query, also behind further opening parentheses."""
        words = self.words
        pos = self.pos
        while words[pos] == "(":
            pos += 1
        return words[pos] == "SELECT" or (words[pos] == "WITH" and pos == self.pos)

    def _case(self) -> Node | None:
        first = self.pos
        self.deepen()
        self.pos += 1
        subject = None if self.at("WHEN") else self.expression()
        branches: list[tuple[Node, Node]] = []
        while self.accept("WHEN"):
            condition = self.expression()
            self.expect("THEN")
            branches.append((condition, self.expression()))
        otherwise = self.expression() if self.accept("ELSE") else None
        self.expect("END")
        self.depth -= 1
        return self._note(Case(first, self.pos, subject, branches, otherwise))

    def _cast(self) -> Node | None:
        first = self.pos
        if self.words[first + 1] != "(":
            return None
        self.pos += 2
        if self.accept("MULTISET"):
            self.expect("(")
            query = self.query()
            self.expect(")")
            value: Node = self._note(Subquery(first + 2, self.pos, query, "MULTISET"))
        else:
            value = self.expression()
        self.expect("AS")
        kind = self.type_name()
        while self.words[self.pos] not in (")", ""):
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            else:
                self.pos += 1
        self.expect(")")
        return self._note(Cast(first, self.pos, value, kind))

    def _extract(self) -> Node | None:
        first = self.pos
        if self.words[first + 1] != "(" or self.words[first + 3] != "FROM":
            return None
        self.pos += 4
        value = self.expression()
        closing = self.expect(")")
        return self._note(Call(first, self.pos, ("EXTRACT",), [value], first + 1, closing, modified=True))

    def _typed_literal(self) -> Node | None:
        first = self.pos
        if self.kinds[first + 1] != STRING:
            return None
        self.pos += 2
        return self._note(TypedLiteral(first, self.pos, self.words[first]))

    def _interval(self) -> Node | None:
        first = self.pos
        if self.kinds[first + 1] != STRING:
            return None
        self.pos += 2
        if self.words[self.pos] in _FIELDS:
            self._interval_fields()
        return self._note(TypedLiteral(first, self.pos, "INTERVAL"))

    def _exists(self) -> Node | None:
        first = self.pos
        if self.words[first + 1] != "(":
            return None
        self.pos += 1
        if self.words[self.pos + 1] not in ("SELECT", "WITH", "("):
            self.pos = first
            return None
        self.pos += 1
        query = self.query()
        self.expect(")")
        return self._note(Subquery(first, self.pos, query, self.words[first]))

    def _not(self) -> Node | None:
        first = self.pos
        self.pos += 1
        return self._prefix(first, "NOT", _NOT)

    def _prior(self) -> Node | None:
        first = self.pos
        self.pos += 1
        return self._prefix(first, self.words[first], _PREFIX)

    def _new(self) -> Node | None:
        first = self.pos
        if self.kinds[first + 1] not in (WORD, QUOTED) or self.words[first + 1] in self.reserved:
            return None
        self.pos += 1
        return self._prefix(first, "NEW", _PREFIX)

    def _constant(self) -> Node | None:
        first = self.pos
        self.pos += 1
        return self._note(Literal(first, self.pos, self.words[first].lower()))

    def _trim_arguments(self, arguments: list[Node]) -> bool:
        modified = bool(self.accept_any(("LEADING", "TRAILING", "BOTH")))
        if not self.at("FROM"):
            arguments.append(self.expression())
        if self.accept("FROM"):
            modified = True
            arguments.append(self.expression())
        return modified

    def _loose_arguments(self, arguments: list[Node]) -> bool:
        """Read arguments between words that only the function knows (XML and JSON constructors)."""
        words = self.words
        while words[self.pos] not in (")", ""):
            word = words[self.pos]
            if word in _LOOSE_WORDS or word in ("*", ",", ".", ":", "=", "@", "AS"):
                if word == "AS" and self.kinds[self.pos + 1] in (WORD, QUOTED):
                    self.pos += 1
                self.pos += 1
            elif word == "ORDER":
                self.order_items()
            elif word == "COLUMNS":
                while words[self.pos] not in (")", ""):
                    if words[self.pos] == "(":
                        self.skip_parenthesized()
                    else:
                        self.pos += 1
            elif self.opens_query():
                query = self.query()
                arguments.append(self._note(Subquery(query.first, self.pos, query)))
            else:
                start = self.pos
                arguments.append(self.expression())
                if self.pos == start:
                    self.fail("an argument")
        return True
