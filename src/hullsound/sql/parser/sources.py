"""What stands behind FROM: tables, joins, derived tables, table functions."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import QUOTED, STRING, WORD
from hullsound.sql.parser.expression import ExpressionParser
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
_OLD_HINTS: Final = frozenset(
    """NOLOCK HOLDLOCK UPDLOCK TABLOCK TABLOCKX ROWLOCK PAGLOCK READPAST READUNCOMMITTED READCOMMITTED REPEATABLEREAD
    SERIALIZABLE XLOCK NOEXPAND INDEX FORCESEEK FORCESCAN NOWAIT PREFETCH LRU MRU PARALLEL FASTFIRSTROW SNAPSHOT""".split()
)
_TABLE_WORDS: Final = frozenset(("INDEXED", "NOT", "HOLDLOCK", "NOHOLDLOCK", "READPAST", "SHARED"))
_TABLE_TAILS: Final = frozenset(
    ("WITH", "(", "USE", "FORCE", "IGNORE", "PARTITION", "TABLESAMPLE", "FOR", "INDEXED", "NOT", "HOLDLOCK", "NOHOLDLOCK",
     "READPAST", "SHARED")
)  # fmt: skip
_LOOSE_SOURCES: Final = frozenset(("OPENROWSET", "CHANGETABLE", "OPENDATASOURCE"))
"""Table functions whose arguments have words of their own between them."""


_CHANGE_VERBS: Final = frozenset(("INSERT", "UPDATE", "DELETE", "MERGE"))


class SourceParser(ExpressionParser):
    """Reads sources of rows; queries in them come from the parser of queries built on this one."""

    def common_query(self) -> Node:
        """Read what may stand where a query may, or a change that returns rows; the parser of changes does it."""
        raise NotImplementedError

    def _alias(self, *, expression: bool = False) -> str:
        """Read [AS] alias; '' if there is none."""
        word = self.words[self.pos]
        kind = self.kinds[self.pos]
        if word == "AS":
            self.pos += 1
            if self.kinds[self.pos] == STRING:
                self.pos += 1
                return self.tokens.source(self.pos - 1, self.pos)[1:-1]
            return self.any_word() if expression else self.identifier()
        if kind == QUOTED:
            return self.identifier()
        if kind == STRING and expression and not self.dialect.links:
            self.pos += 1
            return self.tokens.source(self.pos - 1, self.pos)[1:-1]
        if kind == WORD and word not in self.reserved and word not in self.dialect.aliases_stop:
            return self.identifier()
        return ""

    def sources(self) -> list[Node]:
        items = [self._joined()]
        while self.words[self.pos] == ",":
            self.pos += 1
            items.append(self._joined())
        return items

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
        if self.accept("ON"):
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
                    joins += 1 if words[pos - 1] not in ("CROSS", "NATURAL") else 0
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

    def _source_alias(self) -> str:
        """Read [AS] alias [(columns with or without types)]; '' if there is none."""
        if self.words[self.pos] == "AS" and self.words[self.pos + 1] == "(":
            self.pos += 1
            self._column_list()
            return ""
        alias = self._alias()
        if self.words[self.pos] == "(" and alias and self.kinds[self.pos + 1] in (WORD, QUOTED) and (
            self.words[self.pos + 2] in (",", ")") or self.kinds[self.pos + 2] == WORD
        ) and not self._is_old_hint():  # fmt: skip
            self._column_list()
        return alias

    def _is_old_hint(self) -> bool:
        """Whether a table hint stands in parentheses without WITH."""
        return self.words[self.pos + 1] in _OLD_HINTS and self.dialect.client is Client.BATCH

    def _column_list(self) -> None:
        self.expect("(")
        while True:
            self.any_word()
            if self.words[self.pos] not in (",", ")"):
                self.type_name()
                if self.accept("COLLATE"):
                    self.qualified_name()
            if not self.accept(","):
                break
        self.expect(")")

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

    def _table_tail(self, ref: TableRef | None) -> None:
        """Read hints, samples, partitions and points in time behind a table and its alias."""
        while True:
            first = self.pos
            word, following = self.words[first], self.words[first + 1]
            if (word == "WITH" and following == "(") or (word == "(" and self._is_old_hint()):
                self.accept("WITH")
                self.skip_parenthesized()
                self.clause("table-hint", first)
            elif word in ("USE", "FORCE", "IGNORE") and following in ("INDEX", "KEY"):
                self.pos += 2
                if self.accept("FOR"):
                    self.accept("JOIN") or (self.any_word(), self.expect("BY"))
                self.skip_parenthesized()
                if self.at(",") and self.words[self.pos + 1] in ("USE", "FORCE", "IGNORE"):
                    self.pos += 1
                self.clause("index-hint", first)
            elif word == "PARTITION" and following == "(":
                self.pos += 1
                self.skip_parenthesized()
                self.clause("from-partition", first)
            elif word == "TABLESAMPLE":
                self.pos += 1
                if not self.at("("):
                    self.any_word()
                self.skip_parenthesized()
                if self.accept("REPEATABLE"):
                    self.skip_parenthesized()
                self.clause("tablesample", first)
            elif word == "FOR" and following in ("SYSTEM_TIME", "BUSINESS_TIME"):
                self._period_of_time(first)
            elif word in _TABLE_WORDS and self.dialect.client in (Client.BATCH, Client.SQLITE):
                self._table_word(first)
            else:
                return
            if ref is not None and not ref.alias:
                ref.alias = self._source_alias()

    def _table_word(self, first: int) -> None:
        if self.accept("NOT"):
            self.expect("INDEXED")
        elif self.accept("INDEXED"):
            self.expect("BY")
            self.identifier()
        else:
            self.pos += 1
        self.clause("table-hint", first)

    def _period_of_time(self, first: int) -> None:
        """Read FOR SYSTEM_TIME AS OF, FROM ... TO, BETWEEN ... AND, CONTAINED IN and ALL."""
        self.pos += 2
        if self.accept("AS", "OF") or self.accept("CONTAINED"):
            self.accept_any(("TIMESTAMP", "IN")) if self.kinds[self.pos + 1] != STRING else None
            self.expression(COMPARE)
        elif not self.accept("ALL"):
            if not self.accept_any(("FROM", "BETWEEN")):
                self.fail("AS OF, FROM, BETWEEN or ALL")
            self.expression(COMPARE)
            if not self.accept_any(("TO", "AND")):
                self.fail("TO or AND")
            self.expression(COMPARE)
        self.clause("system-time", first)

    def _table_ref(self) -> TableRef:
        first = self.pos
        while self.accept("."):
            pass
        if self.words[first] == "ONLY" and self.kinds[first + 1] in (WORD, QUOTED) and not self.dialect.links:
            self.pos += 1
        parts = self.qualified_name()
        link = self.database_link() if self.words[self.pos] == "@" and self.dialect.links else ""
        node = TableRef(first, self.pos, parts, "", link)
        if not self.dialect.links:
            self.accept(".", "*") or self.accept("*")
            node.last = self.pos
            if self.words[self.pos] in _TABLE_TAILS:
                self._table_tail(node)
            return node
        while True:
            start = self.pos
            if self.words[start] in ("PARTITION", "SUBPARTITION") and self.words[start + 1] in ("(", "FOR"):
                self.pos += 1
                self.accept("FOR")
                self.skip_parenthesized()
                self.clause("from-partition", start)
            elif self.words[start] == "SAMPLE" and self.words[start + 1] in ("(", "BLOCK"):
                self.pos += 1
                self.accept("BLOCK")
                self.skip_parenthesized()
                if self.accept("SEED"):
                    self.skip_parenthesized()
                self.clause("sample", start)
            elif self.at("AS", "OF"):
                self.pos += 2
                if not self.accept_any(("SCN", "TIMESTAMP")):
                    self.accept("PERIOD", "FOR") and self.identifier()
                self.expression(COMPARE)
                self.clause("flashback-query", start)
            elif self.at("VERSIONS"):
                self.pos += 1
                self.accept_any(("BETWEEN", "PERIOD"))
                self.accept_any(("SCN", "TIMESTAMP"))
                self.expression(COMPARE)
                self.expect("AND")
                self.expression(COMPARE)
                self.clause("flashback-versions", start)
            else:
                node.last = self.pos
                return node

    def _pivots(self) -> None:
        """Read PIVOT, UNPIVOT and MATCH_RECOGNIZE behind a table."""
        while self.words[self.pos] in ("PIVOT", "UNPIVOT", "MATCH_RECOGNIZE"):
            first = self.pos
            self.pos += 1
            self.accept("XML")
            if self.words[self.pos] in ("INCLUDE", "EXCLUDE"):
                self.pos += 2
            self.skip_parenthesized()
            self.clause(self.words[first].lower().replace("_", "-"), first)
            if not self.dialect.links:
                self._source_alias()
