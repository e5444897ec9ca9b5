"""Calls: arguments, what modifies them, windows, and members of what they return."""

from typing import Final

from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import SYMBOL, WORD
from hullsound.sql.parser.special import SpecialFormParser
from hullsound.sql.tree import (
    Call,
    Member,
    NamedArgument,
    Node,
    OrderItem,
    Subquery,
    Window,
)

_CALL_TAILS: Final = frozenset(("WITHIN", "KEEP", "FILTER", "IGNORE", "RESPECT", "FROM", "OVER"))
_MODIFIERS: Final = frozenset(
    ("IGNORE", "RESPECT", "ORDER", "USING", "ON", "DEFAULT", "FORMAT", "RETURNING", "PASSING", "AS", "SEPARATOR", "FROM",
     "WITH", "WITHOUT", "ABSENT", "NULL", "STRICT", "COLUMNS", "PARTITION", "FOR", "PLACING", "SIMILAR", "LIMIT", "IN",
     "CHARACTER", "CHARSET", "SKIP", "REF", "BY", "VALUE", "TRANSLATE", "AT", "KEY", "VARYING", "ENCODING", "CONTENT", "TEMPORARY",
     "CHANGES", "HASH", "ASC", "DESC")
)  # fmt: skip


class CallParser(SpecialFormParser):
    """Reads calls; the parser of expressions built on this one reads the rest."""

    def expressions(self) -> list[Node]:
        """Read expressions between commas; the parser of expressions does it."""
        raise NotImplementedError

    def is_attribute(self) -> bool:
        """Whether the parenthesis that is next holds attributes of the value before it rather than arguments."""
        return False

    def _call(self, first: int, parts: tuple[str, ...], link: str) -> Node:
        opening = self.pos
        self.expect("(")
        words = self.words
        quantifier = ""
        modified = False
        arguments: list[Node] = []
        special = _SPECIAL_ARGUMENTS.get(parts[-1])
        if special is not None:
            modified = special(self, arguments)
        elif words[self.pos] != ")":
            word = words[self.pos]
            if word in ("DISTINCT", "UNIQUE", "ALL") and words[self.pos + 1] not in (",", ")"):
                quantifier = word
                self.pos += 1
            while True:
                arguments.append(self.argument())
                if words[self.pos] == ",":
                    self.pos += 1
                    continue
                if words[self.pos] != ")":
                    self._argument_modifiers()
                    modified = True
                    if self.accept(","):
                        continue
                break
        closing = self.expect(")")
        call = Call(first, self.pos, parts, arguments, opening, closing, quantifier, None, modified, link)
        word = words[self.pos]
        if word in _CALL_TAILS:
            self._call_tail(call)
            word = words[self.pos]
        self.nodes.append(call)
        if word[:1] == "(" and len(word) > 1:
            self.pos += 1
            return call
        is_member = word == "." or (word == "(" and not self.is_attribute())
        return self._member(call) if is_member else call

    def argument(self) -> Node:
        """Read one argument, perhaps named."""
        first = self.pos
        if self.accept("VARIADIC"):
            return self.expression()
        if self.words[first + 1] in ("=>", ":=") and self.is_name() and self.words[first][:1] != "@":
            name = self.any_word()
            self.pos += 1
            value = self.expression()
            return self._note(NamedArgument(first, self.pos, name, value))
        if self.words[first] in ("SELECT", "WITH", "SEL") and self.kinds[first + 1] != SYMBOL:
            query = self.query()
            return self._note(Subquery(first, self.pos, query))
        return self.expression()

    def _argument_modifiers(self) -> None:
        """Step over words behind an argument (IGNORE NULLS, ORDER BY, USING, ON OVERFLOW, PASSING ...)."""
        words = self.words
        if words[self.pos] not in _MODIFIERS:
            self.fail("',' or ')'")
        while words[self.pos] not in (")", ",", ""):
            word = words[self.pos]
            if word == "ORDER" and words[self.pos + 1] == "BY":
                self.order_items()
            elif word == "(":
                self.skip_parenthesized()
            elif word in ("FROM", "FOR", "PLACING", "SEPARATOR", "LIMIT") and words[self.pos + 1] not in (
                ")",
                "FIRST",
                "LAST",
            ):
                self.pos += 1
                self.expression()
            else:
                self.pos += 1

    def _call_tail(self, call: Call) -> None:
        """Read WITHIN GROUP, KEEP, FILTER, IGNORE NULLS and OVER behind a call."""
        words = self.words
        while True:
            if self.accept("WITHIN", "GROUP"):
                self.expect("(")
                self.order_items()
                self.expect(")")
            elif self.at("KEEP", "("):
                self.pos += 1
                self._keep()
            elif self.at("FILTER", "("):
                self.pos += 2
                self.expect("WHERE")
                self.expression()
                self.expect(")")
            elif (
                (words[self.pos] in ("IGNORE", "RESPECT") and words[self.pos + 1] == "NULLS")
                or self.at("FROM", "FIRST")
                or self.at("FROM", "LAST")
            ):
                self.pos += 2
            elif words[self.pos] == "OVER" and (words[self.pos + 1] == "(" or self.kinds[self.pos + 1] == WORD):
                self.pos += 1
                call.over = self._window()
                call.last = self.pos
                return
            else:
                call.last = self.pos
                return
            call.modified = True

    def _keep(self) -> None:
        first = self.pos - 1
        self.expect("(")
        self.expect("DENSE_RANK")
        self.accept_any(("FIRST", "LAST"))
        self.order_items()
        self.expect(")")
        self.clause("keep-first-last", first)

    def _window(self) -> Node:
        first = self.pos
        if not self.accept("("):
            self.identifier()
            return self._note(Window(first, self.pos, [], []))
        partition: list[Node] = []
        order: list[OrderItem] = []
        if self.is_name() and self.words[self.pos] not in ("PARTITION", "ROWS", "RANGE", "GROUPS", "ORDER"):
            self.identifier()
        if self.accept("PARTITION", "BY"):
            partition = self.expressions()
        if self.at("ORDER"):
            order = self.order_items()
        if self.at("RESET", "WHEN"):
            self.clause("window-reset", self.pos)
            self.pos += 2
            self.expression()
        if self.accept_any(("ROWS", "RANGE", "GROUPS")):
            between = self.accept("BETWEEN")
            self._window_bound()
            if between:
                self.expect("AND")
                self._window_bound()
            if self.accept("EXCLUDE"):
                while self.words[self.pos] not in (")", ""):
                    self.pos += 1
        self.expect(")")
        return self._note(Window(first, self.pos, partition, order))

    def _window_bound(self) -> None:
        if self.accept("CURRENT", "ROW"):
            return
        if not self.accept("UNBOUNDED"):
            self.expression(COMPARE)
        if not self.accept_any(("PRECEDING", "FOLLOWING")):
            self.fail("PRECEDING or FOLLOWING")

    def _member(self, owner: Node) -> Node:
        """Read .name, .name(...) and (...) behind a call, as many as there are."""
        words = self.words
        node = owner
        while words[self.pos] == "." or words[self.pos] == "(":
            parts: list[str] = []
            while self.accept("."):
                parts.append("*" if self.accept("*") else self.any_word())
            arguments: list[Node] = []
            if self.accept("("):
                if words[self.pos] != ")":
                    arguments.append(self.argument())
                    while self.accept(","):
                        arguments.append(self.argument())
                self.expect(")")
            node = self._note(Member(owner.first, self.pos, node, tuple(parts), arguments))
        return node


_SPECIAL_ARGUMENTS: Final = {
    "TRIM": SpecialFormParser._trim_arguments,
    **dict.fromkeys(
        ("XMLELEMENT", "XMLFOREST", "XMLATTRIBUTES", "XMLAGG", "XMLROOT", "XMLSERIALIZE", "XMLQUERY", "XMLTABLE",
         "XMLEXISTS", "XMLPARSE", "XMLPI", "XMLCAST", "XMLCOLATTVAL", "JSON_OBJECT", "JSON_ARRAY", "JSON_ARRAYAGG",
         "JSON_OBJECTAGG", "JSON_TABLE", "JSON_QUERY", "JSON_VALUE", "JSON_EXISTS", "JSON_MERGEPATCH", "TREAT"),
        SpecialFormParser._loose_arguments,
    ),
}  # fmt: skip
