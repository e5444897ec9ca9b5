"""Expressions: one loop over precedence levels, and a table of words that open a special form."""

from typing import Final

from hullsound.sql.lexer import BIND, NUMBER, QUOTED, STRING, WORD
from hullsound.sql.parser.special import SpecialFormParser
from hullsound.sql.tree import (
    Bind,
    Call,
    Comparison,
    CursorAttribute,
    Literal,
    Member,
    Name,
    NamedArgument,
    Node,
    Operation,
    OrderItem,
    OuterMark,
    Paren,
    Row,
    Star,
    Subquery,
    TypeName,
    Window,
)

_OR: Final = 1
_AND: Final = 2
_COMPARE: Final = 4
_ADD: Final = 5
_MULTIPLY: Final = 6
_POWER: Final = 7
_PREFIX: Final = 8
LEVELS: Final[dict[str, int]] = {
    "OR": _OR,
    "AND": _AND,
    **dict.fromkeys(("=", "<>", "!=", "^=", "~=", "<", ">", "<=", ">="), _COMPARE),
    **dict.fromkeys(
        ("IS", "LIKE", "LIKEC", "LIKE2", "LIKE4", "BETWEEN", "IN", "NOT", "MEMBER", "SUBMULTISET", "MULTISET"), _COMPARE
    ),
    **dict.fromkeys(("+", "-", "||"), _ADD),
    **dict.fromkeys(("*", "/", "MOD"), _MULTIPLY),
    "**": _POWER,
    "AT": _POWER,
    "COLLATE": _POWER,
    "DAY": _POWER,
    "YEAR": _POWER,
}
_SIGNS: Final = frozenset(("=", "<>", "!=", "^=", "~=", "<", ">", "<=", ">="))
_ATTRIBUTES: Final = frozenset(("FOUND", "NOTFOUND", "ROWCOUNT", "ISOPEN", "BULK_ROWCOUNT", "BULK_EXCEPTIONS"))
_SECOND_LEVEL: Final = frozenset(("ALL", "ANY", "SOME"))
_CALL_TAILS: Final = frozenset(("WITHIN", "KEEP", "FILTER", "IGNORE", "RESPECT", "FROM", "OVER"))
_MODIFIERS: Final = frozenset(
    ("IGNORE", "RESPECT", "ORDER", "USING", "ON", "DEFAULT", "FORMAT", "RETURNING", "PASSING", "AS", "SEPARATOR", "FROM",
     "WITH", "WITHOUT", "ABSENT", "NULL", "STRICT", "COLUMNS", "PARTITION", "FOR")
)  # fmt: skip


class ExpressionParser(SpecialFormParser):
    """Reads expressions; subqueries come from the query parser built on this one."""

    def expression(self, floor: int = 0) -> Node:
        """Read an expression whose operators bind tighter than `floor`."""
        self.deepen()
        first = self.pos
        left = self.operand()
        words = self.words
        while True:
            word = words[self.pos]
            level = LEVELS.get(word)
            if level is None or level <= floor:
                break
            if level == _COMPARE:
                if word in _SIGNS:
                    left = self._sign_comparison(first, left, word)
                    continue
                compared = self._word_comparison(first, left)
            elif level == _POWER and word != "**":
                compared = self._suffix(first, left, word)
            else:
                left = self._chain(first, left, level)
                continue
            if compared is None:
                break
            left = compared
        self.depth -= 1
        return left

    def _chain(self, first: int, left: Node, level: int) -> Node:
        """Read the rest of `a op b op c` where every operator has this level."""
        words = self.words
        operators: list[str] = []
        operands = [left]
        while LEVELS.get(words[self.pos]) == level and (level != _POWER or words[self.pos] == "**"):
            operators.append(words[self.pos])
            self.pos += 1
            operands.append(self.expression(level))
        node = Operation(first, self.pos, operators, operands)
        self.nodes.append(node)
        return node

    def _sign_comparison(self, first: int, left: Node, word: str) -> Node:
        self.pos += 1
        if self.words[self.pos] in _SECOND_LEVEL and self.words[self.pos + 1] == "(":
            word = f"{word} {self.words[self.pos]}"
            self.pos += 1
        node = Operation(first, self.pos, [word], [left, self.expression(_COMPARE)])
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _word_comparison(self, first: int, left: Node) -> Node | None:
        """Read IS, LIKE, BETWEEN, IN and their negations behind `left`; None if NOT opens none of them."""
        start = self.pos
        words = self.words
        negated = self.accept("NOT")
        word = words[self.pos]
        operands = [left]
        if word == "IS" and not negated:
            self.pos += 1
            negated = self.accept("NOT")
            operator = self._is_operand(operands)
        elif word in ("LIKE", "LIKEC", "LIKE2", "LIKE4"):
            self.pos += 1
            operator = word
            operands.append(self.expression(_COMPARE))
            if self.accept("ESCAPE"):
                operands.append(self.expression(_COMPARE))
        elif word == "BETWEEN":
            self.pos += 1
            operator = word
            operands.append(self.expression(_COMPARE))
            self.expect("AND")
            operands.append(self.expression(_COMPARE))
        elif word == "IN":
            self.pos += 1
            operator = word
            operands.append(self.expression(_COMPARE))
        elif word in ("MEMBER", "SUBMULTISET", "MULTISET") and words[self.pos + 1] in (
            "OF",
            "UNION",
            "EXCEPT",
            "INTERSECT",
        ):
            operator = f"{word} {words[self.pos + 1]}"
            self.pos += 2
            self.accept_any(("ALL", "DISTINCT"))
            operands.append(self.expression(_COMPARE))
        else:
            self.pos = start
            return None
        node = Comparison(first, self.pos, operator, negated, operands)
        self.nodes.append(node)
        return node

    def _is_operand(self, operands: list[Node]) -> str:
        """Read what stands behind IS [NOT]; return the operator's words."""
        word = self.accept_any(("NULL", "NAN", "INFINITE", "DANGLING", "EMPTY", "TRUE", "FALSE", "JSON", "PRESENT"))
        if word:
            while self.accept_any(("STRICT", "LAX", "WITH", "WITHOUT", "UNIQUE", "KEYS")):
                pass
            return f"IS {word}"
        if self.accept("A", "SET"):
            return "IS A SET"
        if self.at("OF"):
            self.pos += 1
            self.accept("TYPE")
            self.skip_parenthesized()
            return "IS OF"
        operands.append(self.expression(_COMPARE))
        return "IS"

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
            self.pos += 1
            operator = word
            self.identifier()
        elif isinstance(left, Paren) and word in ("DAY", "YEAR") and following in ("TO", "("):
            operator = f"INTERVAL {word}"
            self._interval_fields()
        else:
            return None
        node = Operation(first, self.pos, [operator], operands)
        self.nodes.append(node)
        return node

    def operand(self) -> Node:
        """Read one operand with its prefix operators."""
        pos = self.pos
        kind = self.kinds[pos]
        word = self.words[pos]
        node: Node
        if kind == WORD:
            opener = _OPENERS.get(word)
            if opener is not None:
                special = opener(self)
                if special is not None:
                    return special
            if word in self.reserved:
                self.fail("an expression")
            return self._name_or_call()
        if kind in (NUMBER, STRING):
            self.pos = pos + 1
            node = Literal(pos, pos + 1, "number" if kind == NUMBER else "string")
            self.nodes.append(node)
            return node
        if kind == QUOTED:
            return self._name_or_call()
        if kind == BIND:
            return self._bind()
        if word == "(":
            return self._parenthesized()
        if word == "-" or word == "+":
            self.pos = pos + 1
            return self._prefix(pos, word, _PREFIX)
        if word == "*":
            self.pos = pos + 1
            node = Star(pos, pos + 1)
            self.nodes.append(node)
            return node
        if word == "?":
            self.pos = pos + 1
            node = Bind(pos, pos + 1, ("?",))
            self.nodes.append(node)
            return node
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
        node = Bind(first, self.pos, tuple(parts))
        self.nodes.append(node)
        return node

    def _parenthesized(self) -> Node:
        first = self.pos
        self.pos += 1
        if self.opens_query():
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
        if self.words[self.pos] in ("UNION", "MINUS", "INTERSECT", "EXCEPT") and isinstance(inner, Subquery | Paren):
            self.pos = first + 1
            query = self.query()
            self.expect(")")
            return self._note(Subquery(first, self.pos, query))
        self.expect(")")
        return self._tail(self._note(Paren(first, self.pos, inner)))

    def _tail(self, node: Node) -> Node:
        """Read `.member` behind a parenthesis."""
        return self._member(node) if self.words[self.pos] == "." and self.kinds[self.pos + 1] == WORD else node

    def _name_or_call(self) -> Node:
        first = self.pos
        words = self.words
        parts = [self.identifier()]
        while words[self.pos] == ".":
            self.pos += 1
            if words[self.pos] == "*":
                self.pos += 1
                return self._note(Star(first, self.pos, tuple(parts)))
            parts.append(self.any_word())
        link = ""
        word = words[self.pos]
        if word == "@":
            link = self.database_link()
            word = words[self.pos]
        if word == "(":
            return self._call(first, tuple(parts), link)
        if word == "%":
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

    def _call(self, first: int, parts: tuple[str, ...], link: str) -> Node:
        opening = self.pos
        self.pos += 1
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
        return self._member(call) if word == "." or word == "(" else call

    def argument(self) -> Node:
        """Read one argument, perhaps named."""
        first = self.pos
        if self.words[first + 1] == "=>" and self.is_name():
            name = self.identifier()
            self.pos += 1
            value = self.expression()
            return self._note(NamedArgument(first, self.pos, name, value))
        if self.words[first] == "SELECT":
            query = self.query()
            return self._note(Subquery(first, self.pos, query))
        return self.expression()

    def _argument_modifiers(self) -> None:
        """Step over words behind an argument (IGNORE NULLS, ORDER BY, USING, ON OVERFLOW, PASSING ...)."""
        words = self.words
        if words[self.pos] not in _MODIFIERS:
            self.fail("',' or ')'")
        while words[self.pos] not in (")", ""):
            if words[self.pos] == "ORDER" and words[self.pos + 1] == "BY":
                self.order_items()
            elif words[self.pos] == "(":
                self.skip_parenthesized()
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
        if self.is_name() and self.words[self.pos] not in ("PARTITION", "ROWS", "RANGE", "GROUPS"):
            self.identifier()
        if self.accept("PARTITION", "BY"):
            partition = self.expressions()
        if self.at("ORDER"):
            order = self.order_items()
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
            self.expression(_COMPARE)
        if not self.accept_any(("PRECEDING", "FOLLOWING")):
            self.fail("PRECEDING or FOLLOWING")

    def _member(self, owner: Node) -> Node:
        """Read .name, .name(...) and (...) behind a call, as many as there are."""
        words = self.words
        node = owner
        while words[self.pos] == "." or words[self.pos] == "(":
            parts: list[str] = []
            while self.accept("."):
                parts.append(self.any_word())
            arguments: list[Node] = []
            if self.accept("("):
                if words[self.pos] != ")":
                    arguments.append(self.argument())
                    while self.accept(","):
                        arguments.append(self.argument())
                self.expect(")")
            node = self._note(Member(owner.first, self.pos, node, tuple(parts), arguments))
        return node

    def expressions(self) -> list[Node]:
        items = [self.expression()]
        while self.words[self.pos] == ",":
            self.pos += 1
            items.append(self.expression())
        return items

    def order_items(self) -> list[OrderItem]:
        """Read ORDER [SIBLINGS] BY ..."""
        first = self.expect("ORDER")
        if self.accept("SIBLINGS"):
            self.clause("order-siblings", first)
        self.expect("BY")
        items = [self.order_item()]
        while self.accept(","):
            items.append(self.order_item())
        return items

    def order_item(self) -> OrderItem:
        first = self.pos
        value = self.expression()
        descending = self.accept_any(("ASC", "DESC")) == "DESC"
        nulls = self.accept_any(("FIRST", "LAST")) if self.accept("NULLS") else ""
        item = OrderItem(first, self.pos, value, descending, nulls)
        self.nodes.append(item)
        return item


_OPENERS: Final = {
    "CASE": SpecialFormParser._case,
    "CAST": SpecialFormParser._cast,
    "EXTRACT": SpecialFormParser._extract,
    "DATE": SpecialFormParser._typed_literal,
    "TIMESTAMP": SpecialFormParser._typed_literal,
    "INTERVAL": SpecialFormParser._interval,
    "EXISTS": SpecialFormParser._exists,
    "CURSOR": SpecialFormParser._exists,
    "MULTISET": SpecialFormParser._exists,
    "NOT": SpecialFormParser._not,
    "PRIOR": SpecialFormParser._prior,
    "CONNECT_BY_ROOT": SpecialFormParser._prior,
    "NEW": SpecialFormParser._new,
    "NULL": SpecialFormParser._constant,
    "TRUE": SpecialFormParser._constant,
    "FALSE": SpecialFormParser._constant,
}

_SPECIAL_ARGUMENTS: Final = {
    "TRIM": SpecialFormParser._trim_arguments,
    **dict.fromkeys(
        ("XMLELEMENT", "XMLFOREST", "XMLATTRIBUTES", "XMLAGG", "XMLROOT", "XMLSERIALIZE", "XMLQUERY", "XMLTABLE",
         "XMLEXISTS", "XMLPARSE", "XMLPI", "XMLCAST", "XMLCOLATTVAL", "JSON_OBJECT", "JSON_ARRAY", "JSON_ARRAYAGG",
         "JSON_OBJECTAGG", "JSON_TABLE", "JSON_QUERY", "JSON_VALUE", "JSON_EXISTS", "JSON_MERGEPATCH", "TREAT"),
        SpecialFormParser._loose_arguments,
    ),
}  # fmt: skip
