"""Operands of expressions: values, names, calls, brackets, and what is written behind them."""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import ClassVar, Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import PREFIX
from hullsound.sql.lexer import BIND, FENCE, NUMBER, QUOTED, STRING, SYMBOL, WORD
from hullsound.sql.parser.calls import CallParser
from hullsound.sql.tree import (
    Bind,
    Cast,
    CursorAttribute,
    Literal,
    Member,
    Name,
    Node,
    Operation,
    OuterMark,
    Paren,
    Row,
    Star,
    Subquery,
    TypedLiteral,
    TypeName,
)

_ATTRIBUTES: Final = frozenset(("FOUND", "NOTFOUND", "ROWCOUNT", "ISOPEN", "BULK_ROWCOUNT", "BULK_EXCEPTIONS"))
_ATTRIBUTE_WORDS: Final = _ATTRIBUTES | {"TYPE", "ROWTYPE"}
_INTERVAL_WORDS: Final = frozenset(("DAY", "YEAR", "MONTH", "HOUR", "MINUTE", "SECOND"))
_CALLABLE: Final = frozenset(
    """LEFT RIGHT IF REPLACE INSERT MOD REPEAT VALUES UPDATE USER CHAR TRUNCATE DATABASE SCHEMA INTERVAL ROW ANY CONVERT DEFAULT
    FORMAT MATCH DATE END BEGIN ASCII COLLATE RANGE CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP
    CURRENT_USER SESSION_USER VARCHAR BINARY XOR POSITION EXISTS CONTAINS FREETEXT IDENTITY CAST DISTINCT PERIOD TITLE YEAR
    LINENO KEY GROUPING FUNCTION SOME ALL CHECK""".split()
)
"""Reserved words that name functions where a parenthesis follows."""
_VALUE_WORDS: Final = frozenset(
    """CURRENT_DATE CURRENT_TIME CURRENT_TIMESTAMP LOCALTIME LOCALTIMESTAMP CURRENT_USER SESSION_USER USER SYSTEM_USER
    CURRENT_ROLE CURRENT_CATALOG CURRENT_SCHEMA DEFAULT MAXVALUE MINVALUE""".split()
)
"""Reserved words that are values."""


class OperandParser(CallParser):
    """Reads one operand."""

    openers: ClassVar[Mapping[str, Callable[..., Node | None]]] = MappingProxyType({})
    """Words that open a special form of operand."""
    not_collated = -1
    """Where a value begins behind which COLLATE is no part of it."""

    def _suffix(self, first: int, left: Node, word: str) -> Node | None:
        """Read AT TIME ZONE, COLLATE and the fields of an interval expression behind `left`."""
        words = self.words
        following = words[self.pos + 1]
        operands = [left]
        if word == "AT" and following in ("TIME", "LOCAL"):
            self.pos += 1
            if self.accept("LOCAL"):
                operator = "AT LOCAL"
            else:
                self.expect("TIME", "ZONE")
                operator = "AT TIME ZONE"
                operands.append(self.operand())
        elif word == "COLLATE":
            if first == self.not_collated:
                return None
            self.pos += 1
            operator = word
            if self.is_string():
                self.pos += 1
            else:
                self.any_word()
                while self.accept("."):
                    self.any_word()
        elif word == "::":
            self.pos += 1
            cast = Cast(first, self.pos, left, self.type_name())
            cast.last = self.pos
            self.nodes.append(cast)
            return cast
        elif word == "[":
            return self._subscript(first, left)
        elif word in self.dialect.durations:
            self.pos += 1
            operator = word
        elif isinstance(left, Paren) and word in _INTERVAL_WORDS and following in ("TO", "("):
            operator = f"INTERVAL {word}"
            self._interval_fields()
        elif isinstance(left, Paren) and word in _INTERVAL_WORDS and following in (")", ",", "FROM", "AS", "+", "-"):
            self.pos += 1
            operator = f"INTERVAL {word}"
        elif word in ("->", "->>"):
            self.pos += 1
            operator = word
            operands.append(self.operand())
        else:
            return None
        node = Operation(first, self.pos, [operator], operands)
        self.nodes.append(node)
        return node

    def _subscript(self, first: int, left: Node) -> Node:
        """Read [index], [low:high] and .field behind it."""
        self.expect("[")
        arguments: list[Node] = []
        while not self.accept("]"):
            if self.kinds[self.pos] == BIND:
                arguments.append(self._bind())
            elif not self.accept(":"):
                arguments.append(self.expression())
                if self.words[self.pos] not in (":", "]") and self.kinds[self.pos] != BIND:
                    self.fail("']'")
        node = Member(first, self.pos, left, (), arguments)
        self.nodes.append(node)
        return self._tail(node)

    def operand(self) -> Node:
        """Read one operand with its prefix operators."""
        pos = self.pos
        kind = self.kinds[pos]
        word = self.words[pos]
        node: Node
        if kind == WORD:
            opener = self.openers.get(word)
            if opener is not None:
                special = opener(self)
                if special is not None:
                    return self._tail(special)
            is_callable = word in _CALLABLE and self.words[pos + 1] == "("
            if word in self.reserved and word not in _VALUE_WORDS and not is_callable:
                self.fail("an expression")
            return self._name_or_call()
        if kind in (NUMBER, STRING):
            self.pos = pos + 1
            if kind == STRING and self.dialect.adjacent_strings:
                while self.kinds[self.pos] == STRING:
                    self.pos += 1
            node = Literal(pos, self.pos, "number" if kind == NUMBER else "string")
            self.nodes.append(node)
            return node
        if kind == FENCE:
            return self.fenced_text()
        if kind == QUOTED:
            return self._name_or_call()
        if kind == BIND:
            return self._bind()
        if word == "(":
            return self._parenthesized()
        if word == "-" or word == "+" or word == "~" or word == "!":
            self.pos = pos + 1
            return self._prefix(pos, word, PREFIX)
        if word == "*":
            self.pos = pos + 1
            node = Star(pos, pos + 1)
            self.nodes.append(node)
            return node
        if word == "?":
            return self.positional()
        if word == "{":
            return self.escape_clause()
        if self._is_open_operator(word):
            self.pos = pos + 1
            return self._prefix(pos, word, PREFIX)
        if (word[:1] == "$" and len(word) > 1) or word == "$":
            return self._inquiry()
        self.fail("an expression")

    def _inquiry(self) -> Node:
        """Read an inquiry directive of conditional compilation: $$NAME."""
        first = self.pos
        self.pos += 1
        node = Name(first, self.pos, (self.words[first],))
        self.nodes.append(node)
        return node

    def _bind(self) -> Node:
        first = self.pos
        parts = [self.words[first][1:]]
        self.pos += 1
        while self.words[self.pos] == ".":
            self.pos += 1
            parts.append(self.any_word())
        parameter = self.parameter_at(parts[0]) if len(parts) == 1 else ""
        node = Name(first, self.pos, (parameter,)) if parameter else Bind(first, self.pos, tuple(parts))
        self.nodes.append(node)
        return node

    def parameter_at(self, place: str) -> str:
        """Return the name of the parameter of a routine that a marker stands for by its place; '' where it stands for none."""
        return ""

    def _parenthesized(self) -> Node:
        first = self.pos
        self.pos += 1
        if self.opens_query() and self.closes_as_query(first):
            query = self.query()
            self.expect(")")
            return self._tail(self._note(Subquery(first, self.pos, query)))
        if self.accept(")"):
            return self._note(Row(first, self.pos, []))
        inner = self.expression()
        if self.words[self.pos] == ",":
            items = [inner]
            while self.accept(","):
                items.append(self.expression())
            self.expect(")")
            return self._note(Row(first, self.pos, items))
        if self.accept("AS") and self.kinds[self.pos] in (WORD, QUOTED):
            self.type_name()
        self.expect(")")
        return self._tail(self._note(Paren(first, self.pos, inner)))

    def _tail(self, node: Node) -> Node:
        """Read `.member` behind a parenthesis."""
        follows = self.kinds[self.pos + 1] in (WORD, QUOTED) or self.words[self.pos + 1] == "*"
        return self._member(node) if self.words[self.pos] == "." and follows else node

    def _name_or_call(self) -> Node:
        first = self.pos
        words = self.words
        parts = [self.any_word() if self.kinds[first] == WORD else self.identifier()]
        if "&" in parts[0]:
            parts[0] = self.substitute(parts[0])
        while words[self.pos] == ".":
            self.pos += 1
            if words[self.pos] == ".":
                parts.append("")
                continue
            if words[self.pos] == "*":
                self.pos += 1
                return self._note(Star(first, self.pos, tuple(parts)))
            parts.append(self.any_word())
        link = ""
        word = words[self.pos]
        if word == "@" and self.dialect.links:
            link = self.database_link()
            word = words[self.pos]
        if word == "(" and not self.is_attribute():
            return self._call(first, tuple(parts), link)
        opens_text = self.kinds[self.pos] == STRING or (
            self.kinds[self.pos] == FENCE and self.pos in self.tokens.fences
        )
        if self.dialect.open_operators and opens_text:
            self.pos += 1 if self.kinds[self.pos] == STRING else self.tokens.fences[self.pos] + 1 - self.pos
            return self._note(TypedLiteral(first, self.pos, ".".join(parts)))
        if word == "::" and self.dialect.client is Client.BATCH:
            self.pos += 1
            return self._call(first, (*parts, self.any_word()), link) if self.kinds[self.pos] == WORD else self._note(
                Name(first, self.pos, tuple(parts)))  # fmt: skip
        if word == "%" and words[self.pos + 1] in _ATTRIBUTE_WORDS:
            return self._attribute(first, tuple(parts))
        name = Name(first, self.pos, tuple(parts), link)
        self.nodes.append(name)
        if word[:1] == "(" and len(word) > 1:
            self.pos += 1
            return self._note(OuterMark(first, self.pos, name))
        return name

    def _attribute(self, first: int, parts: tuple[str, ...]) -> Node:
        self.expect("%")
        attribute = self.any_word()
        if attribute in ("TYPE", "ROWTYPE"):
            return self._note(TypeName(first, self.pos, "", reference=parts, borrowed=attribute))
        if attribute not in _ATTRIBUTES:
            self.pos -= 1
            self.fail("a cursor attribute")
        node = self._note(CursorAttribute(first, self.pos, parts, attribute))
        if attribute.startswith("BULK_"):
            if self.words[self.pos] == "(":
                return self._member(node)
            return self._tail(node)
        return node

    def _is_open_operator(self, word: str) -> bool:
        """Whether a word is an operator that the engine or its users may have defined."""
        return word != "" and word[0] in self.open_operators and self.kinds[self.pos] == SYMBOL
