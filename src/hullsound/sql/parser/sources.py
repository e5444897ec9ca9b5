"""What stands behind FROM: tables, joins, derived tables, table functions."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import WORD
from hullsound.sql.parser.table_sources import TableSourceParser
from hullsound.sql.tree import (
    DerivedTable,
    Join,
    Name,
    Node,
    Row,
    TableFunction,
    TableRef,
)

_JOIN_WORDS: Final = frozenset(("JOIN", "INNER", "LEFT", "RIGHT", "FULL", "CROSS", "NATURAL", "OUTER", "STRAIGHT_JOIN"))
_JOIN_HINTS: Final = frozenset(("HASH", "LOOP", "MERGE", "REMOTE", "APPLY"))
_BEHIND_FROM: Final = frozenset(
    ("WHERE", "GROUP", "HAVING", "ORDER", "UNION", "MINUS", "EXCEPT", "INTERSECT", ";", ",", "SELECT", "SET", "LIMIT")
)
_LOOSE_SOURCES: Final = frozenset(("OPENROWSET", "CHANGETABLE", "OPENDATASOURCE"))
"""Table functions whose arguments have words of their own between them."""


_CHANGE_VERBS: Final = frozenset(("INSERT", "UPDATE", "DELETE", "MERGE"))


class SourceParser(TableSourceParser):
    """Reads sources of rows; queries in them come from the parser of queries built on this one."""

    def sources(self) -> list[Node]:
        items = [self._joined()]
        while self.words[self.pos] == ",":
            self.pos += 1
            items.append(self._joined())
        return items

    cross_takes_condition = False
    """Whether CROSS JOIN means what JOIN means, so that ON may follow it."""

    def _joined(self) -> Node:
        first = self.pos
        left = self._source()
        while True:
            word = self.words[self.pos]
            if word == "PARTITION" and self.words[self.pos + 1] == "BY":
                start = self.pos
                self.pos += 2
                self.skip_parenthesized()
                self.clause("partitioned-outer-join", start)
                word = self.words[self.pos]
            if word not in _JOIN_WORDS:
                return left
            if word == "OUTER" and self.words[self.pos + 1] != "APPLY" and self.words[self.pos + 1] != "JOIN":
                return left
            left = self._join(first, left)

    def _join(self, first: int, left: Node) -> Join:
        kind = []
        start = self.pos
        while self.words[self.pos] in _JOIN_WORDS or self.words[self.pos] in _JOIN_HINTS:
            kind.append(self.words[self.pos])
            self.pos += 1
            if kind[-1] in ("JOIN", "APPLY", "STRAIGHT_JOIN"):
                break
        if kind[-1] == "APPLY":
            self.clause("apply", start)
        elif kind[-1] == "STRAIGHT_JOIN":
            self.clause("straight-join", start)
        elif kind[-1] != "JOIN":
            self.fail("JOIN")
        if any(word in _JOIN_HINTS and word != "APPLY" for word in kind):
            self.clause("join-hint", start)
        right = self._source()
        condition: Node | None = None
        if self.words[self.pos] == "PARTITION":
            start = self.pos
            self.pos += 2
            self.skip_parenthesized()
            self.clause("partitioned-outer-join", start)
        if kind[-1] == "JOIN" and self.words[self.pos] in _JOIN_WORDS and kind[0] not in ("CROSS", "NATURAL"):
            # a JOIN b JOIN c ON ... ON ...: the condition of the outer join stands behind the inner one.
            inner = self.pos
            if self._has_nested_join():
                right = self._join(inner, right)
        if (kind[0] != "CROSS" or self.cross_takes_condition) and self.accept("ON"):
            condition = self.expression()
        elif self.accept("USING"):
            self.name_list()
            if self.accept("AS"):
                self.identifier()
        node = Join(first, self.pos, " ".join(kind), left, right, condition)
        self.nodes.append(node)
        return node

    def _has_nested_join(self) -> bool:
        """Whether one more ON or USING than joins follows, so that the join that is next stands inside this one."""
        words = self.words
        depth, pos, joins, conditions = 0, self.pos, 0, 0
        while words[pos]:
            word = words[pos]
            if word == "(":
                depth += 1
            elif word == ")":
                depth -= 1
                if depth < 0:
                    break
            elif depth == 0:
                if word == "JOIN" or word == "STRAIGHT_JOIN":
                    is_bare = words[pos - 1] == "NATURAL" or (
                        words[pos - 1] == "CROSS" and not self.cross_takes_condition
                    )
                    joins += not is_bare
                elif word in ("ON", "USING"):
                    conditions += 1
                elif word in _BEHIND_FROM:
                    break
            pos += 1
        return conditions > joins

    def _source(self) -> Node:
        first = self.pos
        words = self.words
        node: Node
        word = words[first]
        if word == "(" and words[first + 1] in _CHANGE_VERBS and self.dialect.client is Client.BATCH:
            self.pos += 1
            self.common_query()
            self.expect(")")
            self.clause("select-from-change", first)
            node = TableFunction(first, self.pos, Row(first, self.pos, []), self._source_alias())
        elif word == "(":
            if self.opens_query() and self.closes_as_query(self.pos):
                self.pos += 1
                node = self._derived(first)
            else:
                self.pos += 1
                self.deepen()
                node = self._joined()
                while self.accept(","):
                    self._joined()
                self.depth -= 1
                self.expect(")")
                self._alias()
                self._pivots()
                return node
        elif word == "{":
            self.pos += 2
            node = self._joined()
            self.expect("}")
            self.clause("escape-clause", first)
            return node
        elif word == "LATERAL" or (word == "ONLY" and words[first + 1] == "("):
            node = self._lateral(first) if word == "LATERAL" else self._only(first)
        elif word == "TABLE" and words[first + 1] == "(":
            node = self._table_function(first)
        elif word in ("FINAL", "NEW", "OLD") and words[first + 1] == "TABLE":
            self.pos += 2
            self.expect("(")
            self.common_query()
            self.expect(")")
            self.clause("select-from-change", first)
            node = TableFunction(first, self.pos, Row(first, self.pos, []), self._source_alias())
        elif word == "ROWS" and words[first + 1] == "FROM":
            self.pos += 2
            self.skip_parenthesized()
            self.clause("rows-from", first)
            self.accept("WITH", "ORDINALITY")
            node = TableFunction(first, self.pos, Row(first, self.pos, []), self._source_alias())
        else:
            node = self._named_source(first)
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _derived(self, first: int) -> DerivedTable:
        query = self.query()
        self.accept("WITH", "READ", "ONLY") or self.accept("WITH", "CHECK", "OPTION")
        self.expect(")")
        self._pivots()
        node = DerivedTable(first, self.pos, query, "")
        node.alias = self._source_alias()
        self._pivots()
        if not node.alias:
            node.alias = self._source_alias()
        return node

    def _lateral(self, first: int) -> Node:
        self.pos += 1
        if self.at("("):
            self.pos += 1
            node = self._derived(first)
            node.lateral = True
            return node
        inner = self._source()
        self.nodes.pop()
        return inner

    def _only(self, first: int) -> TableRef:
        self.pos += 2
        node = self._table_ref()
        self.expect(")")
        node.alias = self._source_alias()
        self.clause("only-table", first)
        return node

    def _table_function(self, first: int) -> Node:
        self.pos += 2
        if self.opens_query():
            node = self._derived(first)
            node.lateral = True
            return node
        call = self.argument()
        self.expect(")")
        if self.words[self.pos][:1] == "(" and len(self.words[self.pos]) > 1:
            self.pos += 1
        self.clause("table-collection", first)
        return TableFunction(first, self.pos, call, self._source_alias())

    def _named_source(self, first: int) -> Node:
        words = self.words
        pos = first
        while words[pos + 1] == ".":
            pos += 1 if words[pos + 2] == "." else 2
        if words[pos] == ".":
            pos += 1
        if words[pos + 1] == "(" and (self.kinds[pos] == WORD or self.dialect.client is not Client.SQLPLUS):
            self.pos = pos + 1
            is_hint = self._is_old_hint()
            self.pos = first
            if not is_hint:
                return self._function_source(first)
        ref = self._table_ref()
        self._pivots()
        if not ref.alias:
            ref.alias = self._source_alias()
            self._table_tail(ref)
            self._pivots()
        return ref

    def _function_source(self, first: int) -> TableFunction:
        if self.words[first] in _LOOSE_SOURCES:
            self.pos += 1
            self.skip_parenthesized()
            call: Node = Name(first, first + 1, (self.words[first],))
            self.clause(self.words[first].lower(), first)
        else:
            call = self.expression(COMPARE)
        if self.accept("WITH", "ORDINALITY"):
            self.clause("with-ordinality", self.pos - 2)
        if self.at("WITH", "("):
            self.pos += 1
            self.skip_parenthesized()
        node = TableFunction(first, self.pos, call, self._source_alias())
        if self.at("WITH", "("):
            self._table_tail(None)
        return node
