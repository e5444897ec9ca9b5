"""Special forms of expressions: CASE, CAST, EXISTS, literals with a type, and argument lists with words in them."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE, NOT, PREFIX
from hullsound.sql.lexer import END, QUOTED, STRING, WORD
from hullsound.sql.parser.types import TypeParser
from hullsound.sql.tree import (
    Bind,
    Call,
    Case,
    Cast,
    Comparison,
    Literal,
    Name,
    Node,
    Operation,
    OrderItem,
    Paren,
    Query,
    Row,
    SequenceValue,
    Subquery,
    TypedLiteral,
)

_FIELDS: Final = frozenset(("YEAR", "MONTH", "DAY", "HOUR", "MINUTE", "SECOND"))
_NO_COLUMNS: Final = frozenset("BY IS ON NULL AS WITH UNIQUE DEFAULT".split())
"""Words that every engine reserves."""
_BEFORE_VALUE: Final = frozenset(("(", ",", "KEY", "VALUE", ":", "CONTENT", "DOCUMENT", "PASSING"))
_BEHIND_VALUE: Final = frozenset(
    (",", ")", ".", "||", "+", "-", "*", "/", "AS", "VALUE", ":", "NULL", "ABSENT", "RETURNING", "FORMAT")
)
_LOOSE_WORDS: Final = frozenset(
    """KEY VALUE IS FORMAT JSON ABSENT NULL ON RETURNING STRICT WITH WITHOUT UNIQUE KEYS NAME EVALNAME CONTENT DOCUMENT
    PASSING BY REF WRAPPER CONDITIONAL UNCONDITIONAL ARRAY ERROR EMPTY ENTITYESCAPING NOENTITYESCAPING
    WELLFORMED VERSION NO STANDALONE YES ENCODING INDENT SIZE HIDE SHOW DEFAULTS VARCHAR2 CLOB TRUE FALSE LAX PRETTY ASCII
    DEFAULT EXISTS MISMATCH""".split()
)
_BEHIND_QUERY: Final = frozenset((")", "UNION", "MINUS", "INTERSECT", "EXCEPT", "ORDER", "LIMIT", "OFFSET", "FETCH"))
"""What can stand behind a query in parentheses that goes on, or whose parentheses are doubled."""
_REGISTERS: Final = frozenset(
    """DATE TIME TIMESTAMP SCHEMA USER SERVER TIMEZONE PATH ISOLATION SQLID DEGREE MEMBER CLIENT_USERID CLIENT_APPLNAME
    CLIENT_ACCTNG CLIENT_WRKSTNNAME PACKAGE EXPLAIN LOCK LOCALE DEFAULT TEMPORAL QUERY REFRESH DBPARTITIONNUM ROLE
    FUNCTION LC_CTYPE MDC OPTIMIZATION SQL_CCFLAGS IMPLICIT DECFLOAT""".split()
)
_REGISTER_WORDS: Final = frozenset(
    """ZONE TRANSFORM GROUP TIMEOUT LC_MESSAGES LC_TIME PATH OPTIMIZATION AGE MODE SNAPSHOT SYSTEM_TIME BUSINESS_TIME PROFILE
    MAINTAINED ROLLOUT ROUNDING XMLPARSE WITH TIMEZONE""".split()
)


class SpecialFormParser(TypeParser):
    """Reads what a word opens; every reader returns None where its word is only a name."""

    values_open_query = True
    """Whether VALUES in parentheses is a query rather than a function."""

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

    def opens_query(self) -> bool:
        """Whether the next tokens begin a query, also behind further opening parentheses."""
        words = self.words
        pos = self.pos
        while words[pos] == "(":
            pos += 1
        word = words[pos]
        if word == "VALUES" and pos > self.pos:
            return self.values_open_query and words[pos + 1] not in (")", ",")
        return word in ("SELECT", "SEL") or (word in ("WITH", "TABLE") and self.kinds[pos + 1] in (WORD, QUOTED))

    def closes_as_query(self, opening: int) -> bool:
        """Whether a query that stands first behind a ( is all that it holds, rather than the first table or operand."""
        words = self.words
        if words[opening + 1] != "(":
            return True
        depth, pos = 0, opening + 1
        while words[pos]:
            if words[pos] == "(":
                depth += 1
            elif words[pos] == ")":
                depth -= 1
                if depth == 0:
                    return words[pos + 1] in _BEHIND_QUERY
            pos += 1
        return True

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
        if self.at("FORMAT"):  # keeps the type and says how it is shown
            self.pos += 2
            self.expect(")")
            self.clause("cast-format", first)
            return self._note(Paren(first, self.pos, value))
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

    def _convert(self) -> Node | None:
        """Read CONVERT(type, value, style), CONVERT(value, type) and CONVERT(value USING set)."""
        first = self.pos
        if self.words[first + 1] != "(":
            return None
        if self.dialect.client is Client.BATCH:
            self.pos += 2
            kind = self.type_name()
            self.expect(",")
            value = self.expression()
            if self.accept(","):
                self.expression()
        else:
            self.pos += 2
            value = self.expression()
            if self.accept("USING"):
                self.any_word()
                closing = self.expect(")")
                return self._note(
                    Call(first, self.pos, ("CONVERT",), [value], first + 1, closing, modified=True)
                )  # fmt: skip
            if not self.accept(","):
                self.fail("','")
            if self.kinds[self.pos] == STRING:
                self.pos = first
                return None
            kind = self.type_name()
        self.expect(")")
        return self._note(Cast(first, self.pos, value, kind))

    def _binary(self) -> Node | None:
        """Read the prefix BINARY."""
        first = self.pos
        if self.words[first + 1] in (",", ")", ".", "", ";", "="):
            return None
        self.pos += 1
        return self._prefix(first, "BINARY", PREFIX)

    def _full_text(self) -> Node | None:
        """Read MATCH (columns) AGAINST (text mode)."""
        first = self.pos
        if self.words[first + 1] not in ("(",) and self.kinds[first + 1] != WORD:
            return None
        self.pos += 1
        columns = self.operand()
        if not self.accept("AGAINST"):
            self.pos = first
            return None
        self.expect("(")
        text = self.expression(COMPARE)
        while self.kinds[self.pos] == WORD:
            self.pos += 1
        self.expect(")")
        self.clause("full-text-search", first)
        return self._note(Comparison(first, self.pos, "MATCH", False, [columns, text]))

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

    def _quantified(self) -> Node | None:
        """Read ANY, SOME or ALL before a list or query in parentheses."""
        first = self.pos
        if self.words[first + 1] != "(":
            return None
        self.pos += 1
        inner = self.operand()
        return self._note(Operation(first, self.pos, [self.words[first]], [inner]))

    def escape_clause(self) -> Node:
        """Read {d '...'}, {ts '...'}, {fn call} and {oj join}, the clauses of call-level interfaces."""
        first = self.expect("{")
        self.any_word()
        if self.is_string():
            self.pos += 1
            node: Node = TypedLiteral(first, self.pos + 1, self.words[first + 1])
        else:
            node = self.expression()
        self.expect("}")
        self.clause("escape-clause", first)
        node.last = self.pos
        return self._note(node) if isinstance(node, TypedLiteral) else node

    def fenced_text(self) -> Node:
        """Read a fenced text as a literal."""
        first = self.pos
        self.skip_fence()
        return self._note(Literal(first, self.pos, "string"))

    def positional(self) -> Node:
        """Read a parameter that stands for a value by its place."""
        self.pos += 1
        return self._note(Bind(self.pos - 1, self.pos, (self.words[self.pos - 1],)))

    def _exists(self) -> Node | None:
        first = self.pos
        if self.words[first + 1] != "(":
            return None
        self.pos += 1
        if self.words[self.pos + 1] not in ("SELECT", "WITH", "(", "VALUES", "TABLE", "SEL"):
            self.pos = first
            return None
        self.pos += 1
        query = self.query()
        self.expect(")")
        return self._note(Subquery(first, self.pos, query, self.words[first]))

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
            is_value = word == "NULL" and words[self.pos + 1] != "ON" and words[self.pos - 1] != "ON"
            # A column may be called like such a word: then it is all of an argument, or begins one.
            if (
                word not in _NO_COLUMNS
                and words[self.pos - 1] in _BEFORE_VALUE
                and words[self.pos + 1] in _BEHIND_VALUE
            ):
                is_value = True
            if (word in _LOOSE_WORDS and not is_value) or word in ("*", ",", ".", ":", "=", "@", "AS"):
                if word == "AS" and self.kinds[self.pos + 1] in (WORD, QUOTED):
                    self.pos += 1
                self.pos += 1
                if word == "AS" and self.at("("):
                    self.skip_parenthesized()
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
