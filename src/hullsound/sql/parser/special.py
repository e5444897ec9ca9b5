"""Special forms of expressions: CASE, CAST, EXISTS, literals with a type, and argument lists with words in them."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import QUOTED, STRING, WORD
from hullsound.sql.parser.values import ValueParser
from hullsound.sql.tree import (
    Call,
    Case,
    Cast,
    Comparison,
    Node,
    Operation,
    Paren,
    Subquery,
    TypedLiteral,
)

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


class SpecialFormParser(ValueParser):
    """Reads what a word opens; every reader returns None where its word is only a name."""

    values_open_query = True
    """Whether VALUES in parentheses is a query rather than a function."""

    def opens_query(self) -> bool:
        """Whether the next tokens begin a query, also behind further opening parentheses."""
        words = self.words
        pos = self.pos
        while words[pos] == "(":
            pos += 1
        word = words[pos]
        if word == "VALUES" and (pos > self.pos or words[pos + 1] == "("):
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

    def _trim_arguments(self, arguments: list[Node]) -> bool:
        modified = bool(self.accept_any(("LEADING", "TRAILING", "BOTH")))
        if not self.at("FROM"):
            arguments.append(self.expression())
        if self.accept("FROM"):
            modified = True
            arguments.append(self.expression())
        while self.accept(","):  # the signs to take off stand behind the text
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
