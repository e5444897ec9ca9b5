"""Expressions: one loop over precedence levels, and a table of words that open a special form."""

from typing import Final

from hullsound.sql.levels import COMPARE, ON_BITS, OTHER, POWER, SUFFIX
from hullsound.sql.parser.operands import OperandParser
from hullsound.sql.parser.special import SpecialFormParser
from hullsound.sql.tree import (
    Comparison,
    Node,
    Operation,
    OrderItem,
    Paren,
    Row,
    Subquery,
)

_SECOND_LEVEL: Final = frozenset(("ALL", "ANY", "SOME"))


class ExpressionParser(OperandParser):
    """Reads expressions; subqueries come from the query parser built on this one."""

    def expression(self, floor: int = 0) -> Node:
        """Read an expression whose operators bind tighter than `floor`."""
        self.deepen()
        first = self.pos
        left = self.operand()
        words, levels = self.words, self.levels
        while True:
            word = words[self.pos]
            level = levels.get(word)
            if level is None:
                if not self.open_operators or not self._is_open_operator(word):
                    break
                level = OTHER
            if level <= floor:
                break
            if level == COMPARE:
                if not word[0].isalpha():
                    left = self._sign_comparison(first, left, word)
                    continue
                compared = self._word_comparison(first, left)
            elif (level == POWER and word[0].isalpha()) or level == SUFFIX:
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
        words, levels = self.words, self.levels
        operators: list[str] = []
        operands = [left]
        while True:
            word = words[self.pos]
            found = levels.get(word)
            if found is None and self.open_operators and self._is_open_operator(word):
                found = OTHER
            if found != level or (level == POWER and word[0].isalpha()):
                break
            if operators and word != operators[-1] and not ON_BITS.isdisjoint((word, operators[-1])):
                break  # which other engines would bind in another order
            self.pos += 1
            if word == "OPERATOR":
                self.skip_parenthesized()
            operators.append("||" if word == "CONCAT" else word)  # CONCAT between values is another spelling
            self._operand_of(operands, level)
        node = Operation(first, self.pos, operators, operands)
        self.nodes.append(node)
        return node

    def _operand_of(self, operands: list[Node], level: int) -> None:
        if self.words[self.pos] in _SECOND_LEVEL and self.words[self.pos + 1] == "(":
            self.pos += 1
        operands.append(self.expression(level))

    def _sign_comparison(self, first: int, left: Node, word: str) -> Node:
        self.pos += 1
        if self.words[self.pos] in _SECOND_LEVEL and self.words[self.pos + 1] == "(":
            word = f"{word} {self.words[self.pos]}"
            self.pos += 1
        node = Operation(first, self.pos, [word], [left, self.expression(COMPARE)])
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _word_comparison(self, first: int, left: Node) -> Node | None:
        """Read IS, LIKE, BETWEEN, IN and their negations behind `left`; None if NOT opens none of them."""
        start = self.pos
        words = self.words
        negated = self.accept("NOT")
        word = operator = words[self.pos]
        operands = [left]
        if word == "IS" and not negated:
            self.pos += 1
            negated = self.accept("NOT")
            operator = self._is_operand(operands)
        elif word in self.dialect.matching:
            self.pos += 1
            if word == "SIMILAR" and not self.accept("TO"):
                self.pos = start  # SUBSTRING(text SIMILAR pattern ESCAPE character)
                return None
            operands.append(self.expression(COMPARE))
            if self.accept("ESCAPE"):
                operands.append(self.expression(COMPARE))
        elif word == "BETWEEN":
            self.pos += 1
            self.accept_any(("SYMMETRIC", "ASYMMETRIC"))
            operands.append(self.expression(COMPARE))
            self.expect("AND")
            operands.append(self.expression(COMPARE))
        elif word == "IN":
            self.pos += 1
            operands.append(self._listed(self.expression(COMPARE)))
        elif word in ("MEMBER", "SUBMULTISET", "MULTISET", "SOUNDS"):
            if words[self.pos + 1] not in ("OF", "UNION", "EXCEPT", "INTERSECT", "LIKE"):
                self.pos = start
                return None
            operator = f"{word} {words[self.pos + 1]}"
            self.pos += 2
            self.accept_any(("ALL", "DISTINCT"))
            operands.append(self.expression(COMPARE))
        elif word in ("ISNULL", "NOTNULL") or (word == "NULL" and negated):
            self.pos += 1
            operator = "IS NULL"
            negated = negated or word == "NOTNULL"
        elif word in self.levels and word != "NOT" and word != "IS" and (word[0].isalpha() or not negated):
            self.pos += 1
            operands.append(self.expression(COMPARE))
        else:
            self.pos = start
            return None
        node = Comparison(first, self.pos, operator, negated, operands)
        self.nodes.append(node)
        return node

    def _listed(self, node: Node) -> Node:
        """Return what stands behind IN: a list of one value is a list, too."""
        if not isinstance(node, Paren) or isinstance(node.inner, Subquery) or self.nodes[-1] is not node:
            return node
        self.nodes[-1] = Row(node.first, node.last, [node.inner])
        return self.nodes[-1]

    def _is_operand(self, operands: list[Node]) -> str:
        """Read what stands behind IS [NOT]; return the operator's words."""
        word = self.accept_any(
            ("NULL", "NAN", "INFINITE", "DANGLING", "EMPTY", "TRUE", "FALSE", "JSON", "PRESENT", "UNKNOWN", "DOCUMENT",
             "NORMALIZED", "NFC", "NFD", "NFKC", "NFKD", "VALIDATED", "UNTIL_CHANGED")
        )  # fmt: skip
        if word:
            self.accept_any(("OBJECT", "ARRAY", "SCALAR", "VALUE", "NORMALIZED"))
            while self.words[self.pos] in ("STRICT", "LAX", "WITH", "WITHOUT", "UNIQUE", "KEYS") and word == "JSON":
                self.pos += 1
            return f"IS {word}"
        if self.accept("DISTINCT", "FROM"):
            operands.append(self.expression(COMPARE))
            return "IS DISTINCT FROM"
        if self.accept("A", "SET"):
            return "IS A SET"
        if self.at("OF"):
            self.pos += 1
            self.accept("TYPE")
            self.skip_parenthesized()
            return "IS OF"
        operands.append(self.expression(COMPARE))
        return "IS"

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
        if self.accept("USING"):
            self.pos += 1
        descending = self.accept_any(("ASC", "DESC")) == "DESC"
        nulls = self.accept_any(("FIRST", "LAST")) if self.accept("NULLS") else ""
        item = OrderItem(first, self.pos, value, descending, nulls)
        self.nodes.append(item)
        return item


ExpressionParser.openers = {
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
