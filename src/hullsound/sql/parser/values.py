"""Values with a form of their own: typed literals, intervals, arrays, registers of the session."""

from typing import Final

from hullsound.sql.levels import COMPARE, NOT, PREFIX
from hullsound.sql.lexer import END, QUOTED, STRING, WORD
from hullsound.sql.parser.types import TypeParser
from hullsound.sql.tree import (
    Bind,
    Literal,
    Name,
    Node,
    Operation,
    OrderItem,
    Query,
    Row,
    SequenceValue,
    Subquery,
    TypedLiteral,
)

_FIELDS: Final = frozenset(("YEAR", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND"))
_REGISTERS: Final = frozenset(
    """DATE TIME TIMESTAMP SCHEMA USER SERVER TIMEZONE PATH ISOLATION SQLID DEGREE MEMBER CLIENT_USERID CLIENT_APPLNAME
    CLIENT_ACCTNG CLIENT_WRKSTNNAME PACKAGE EXPLAIN LOCK LOCALE DEFAULT TEMPORAL QUERY REFRESH DBPARTITIONNUM ROLE
    FUNCTION LC_CTYPE MDC OPTIMIZATION SQL_CCFLAGS IMPLICIT DECFLOAT""".split()
)
_REGISTER_WORDS: Final = frozenset(
    """ZONE TRANSFORM GROUP TIMEOUT LC_MESSAGES LC_TIME PATH OPTIMIZATION AGE MODE SNAPSHOT SYSTEM_TIME BUSINESS_TIME PROFILE
    MAINTAINED ROLLOUT ROUNDING XMLPARSE WITH TIMEZONE""".split()
)


class ValueParser(TypeParser):
    """Reads values that a word opens."""

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
        operand = self.expression(floor) if floor < PREFIX else self._deep_operand()
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

    def _typed_literal(self) -> Node | None:
        first = self.pos
        at = first + 1
        if self.words[at] == "(" and self.words[at + 2] == ")":
            at += 3
        if self.words[at] in ("WITH", "WITHOUT") and self.words[at + 1 : at + 3] == ["TIME", "ZONE"]:
            at += 3
        if self.kinds[at] != STRING:
            return None
        self.pos = at + 1
        return self._note(TypedLiteral(first, self.pos, self.words[first]))

    def _interval(self) -> Node | None:
        first = self.pos
        if self.kinds[first + 1] != STRING:
            return None
        self.pos += 2
        if self.words[self.pos] in _FIELDS:
            self._interval_fields()
        return self._note(TypedLiteral(first, self.pos, "INTERVAL"))

    def _value_interval(self) -> Node | None:
        """Read INTERVAL value unit, whose value may be any expression."""
        first = self.pos
        start = len(self.nodes)
        self.pos += 1
        if self.words[self.pos] in (",", ")", ".") or self.kinds[self.pos] == END:
            self.pos = first
            return None
        value = self.expression(COMPARE)
        if self.kinds[self.pos] != WORD or self.words[self.pos] in self.reserved:
            # INTERVAL(n, ...) is a function, and an interval in one text has no unit.
            if not isinstance(value, Literal):
                del self.nodes[start:]
                self.pos = first
                return None
        else:
            self.pos += 1
        return self._note(Operation(first, self.pos, ["INTERVAL"], [value]))

    def _array(self) -> Node | None:
        """Read ARRAY[...] and ARRAY(query)."""
        first = self.pos
        if self.words[first + 1] == "(":
            self.pos += 2
            query = self.query()
            self.expect(")")
            return self._note(Subquery(first, self.pos, query, "ARRAY"))
        if self.words[first + 1] != "[":
            return None
        self.pos += 1
        return self.array_items(first)

    def array_items(self, first: int) -> Node:
        """Read [item, ...], whose items may be such lists again."""
        self.deepen()
        start = self.expect("[")
        items: list[Node] = []
        while not self.accept("]"):
            items.append(self.array_items(self.pos) if self.at("[") else self.expression())
            if not self.accept(",") and not self.at("]"):
                self.fail("']'")
        self.depth -= 1
        return self._note(Row(min(first, start), self.pos, items))

    def _binary(self) -> Node | None:
        """Read the prefix BINARY."""
        first = self.pos
        if self.words[first + 1] in (",", ")", ".", "", ";", "="):
            return None
        self.pos += 1
        return self._prefix(first, "BINARY", PREFIX)

    def _next_value(self) -> Node | None:
        """Read NEXT VALUE FOR sequence and PREVIOUS VALUE FOR sequence."""
        first = self.pos
        if self.words[first + 1] not in ("VALUE", "VALUES") or self.words[first + 2] != "FOR":
            return None
        self.pos += 3
        start = self.pos
        parts = self.qualified_name()
        word = "NEXTVAL" if self.words[first] == "NEXT" else "CURRVAL"
        self.clause("next-value-for", first)
        node = Name(start, self.pos, (*parts, word))
        self._note(node)
        if self.words[self.pos] == "OVER":
            self.pos += 1
            self.skip_parenthesized()
        return self._note(SequenceValue(first, self.pos, node))

    def _special_register(self) -> Node | None:
        """Read CURRENT DATE, CURRENT SCHEMA and their like, written as two or three words."""
        first = self.pos
        if self.words[first + 1] not in _REGISTERS:
            return None
        self.pos += 2
        while self.words[self.pos] in _REGISTER_WORDS and self.kinds[self.pos] == WORD:
            self.pos += 1
        if self.at("("):
            self.skip_parenthesized()
        return self._note(Name(first, self.pos, (" ".join(self.words[first : self.pos]),)))

    def _row_change(self) -> Node | None:
        """Read ROW CHANGE TIMESTAMP FOR table; a row constructor is a call."""
        first = self.pos
        if self.words[first + 1] != "CHANGE":
            return None
        self.pos += 3
        self.expect("FOR")
        self.qualified_name()
        return self._note(Name(first, self.pos, ("ROW CHANGE",)))

    def fenced_text(self) -> Node:
        """Read a fenced text as a literal."""
        first = self.pos
        self.skip_fence()
        return self._note(Literal(first, self.pos, "string"))

    def positional(self) -> Node:
        """Read a parameter that stands for a value by its place."""
        self.pos += 1
        return self._note(Bind(self.pos - 1, self.pos, (self.words[self.pos - 1],)))

    def _not(self) -> Node | None:
        first = self.pos
        self.pos += 1
        return self._prefix(first, "NOT", NOT)

    def _prior(self) -> Node | None:
        first = self.pos
        self.pos += 1
        return self._prefix(first, self.words[first], PREFIX)

    def _new(self) -> Node | None:
        first = self.pos
        if self.kinds[first + 1] not in (WORD, QUOTED) or self.words[first + 1] in self.reserved:
            return None
        self.pos += 1
        return self._prefix(first, "NEW", PREFIX)

    def _constant(self) -> Node | None:
        first = self.pos
        self.pos += 1
        return self._note(Literal(first, self.pos, self.words[first].lower()))
