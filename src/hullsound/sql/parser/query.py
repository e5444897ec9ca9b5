"""Queries: SELECT with all its clauses."""

from typing import Final

from hullsound.sql.lexer import QUOTED, WORD
from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.tree import (
    CommonTable,
    DerivedTable,
    Join,
    Name,
    Node,
    Query,
    QueryStatement,
    Select,
    SelectItem,
    Subquery,
    TableFunction,
    TableRef,
)

_SET_OPERATORS: Final = frozenset(("UNION", "MINUS", "INTERSECT", "EXCEPT"))
_JOIN_WORDS: Final = frozenset(("JOIN", "INNER", "LEFT", "RIGHT", "FULL", "CROSS", "NATURAL", "OUTER"))


class QueryParser(ExpressionParser):
    """Reads queries."""

    def query(self) -> Query:
        self.deepen()
        first = self.pos
        common = self._common_tables() if self.words[first] == "WITH" else []
        blocks = [self._query_block()]
        operators: list[tuple[str, int]] = []
        while self.words[self.pos] in _SET_OPERATORS:
            at = self.pos
            operator = self.words[at]
            self.pos += 1
            if self.accept_any(("ALL", "DISTINCT")) == "ALL":
                operator += " ALL"
            operators.append((operator, at))
            blocks.append(self._query_block())
        order = self.order_items() if self.words[self.pos] == "ORDER" else []
        self._query_tail()
        node = Query(first, self.pos, common, blocks, operators, order)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _query_tail(self) -> None:
        """Read OFFSET, FETCH and FOR UPDATE, in any order."""
        while True:
            first = self.pos
            word = self.words[first]
            if word == "OFFSET":
                self.pos += 1
                self.expression()
                self.accept_any(("ROW", "ROWS"))
                self.clause("offset", first)
            elif word == "FETCH" and self.words[first + 1] in ("FIRST", "NEXT"):
                self._fetch_first(first)
            elif word == "FOR" and self.words[first + 1] == "UPDATE":
                self._for_update(first)
            else:
                return

    def _fetch_first(self, first: int) -> None:
        self.pos += 2
        if self.words[self.pos] not in ("ROW", "ROWS"):
            self.expression()
        name = "fetch-first"
        if self.accept("PERCENT"):
            name = "fetch-first-percent"
        if not self.accept_any(("ROW", "ROWS")):
            self.fail("ROWS")
        if self.accept("WITH", "TIES"):
            name = "fetch-first-ties" if name == "fetch-first" else name
        else:
            self.expect("ONLY")
        self.clause(name, first)

    def _for_update(self, first: int) -> None:
        self.pos += 2
        name = "for-update"
        if self.accept("OF"):
            self.qualified_name()
            while self.accept(","):
                self.qualified_name()
            name = "for-update-of"
        if self.accept("SKIP", "LOCKED"):
            self.clause("skip-locked", self.pos - 2)
        elif self.accept("WAIT"):
            self.expression()
            self.clause("for-update-wait", first)
        else:
            self.accept("NOWAIT")
        self.clause(name, first)

    def _common_tables(self) -> list[CommonTable]:
        first = self.expect("WITH")
        if self.words[self.pos] in ("FUNCTION", "PROCEDURE"):
            self.with_routines()
            self.clause("with-function", first)
            if self.words[self.pos] in ("SELECT", "("):
                return []
        self.accept("RECURSIVE")
        tables = [self._common_table()]
        while self.accept(","):
            tables.append(self._common_table())
        return tables

    def with_routines(self) -> None:
        self.fail("a query name")

    def _common_table(self) -> CommonTable:
        first = self.pos
        name = self.identifier()
        columns = self.name_list() if self.at("(") else []
        self.expect("AS")
        self.expect("(")
        query = self.query()
        self.expect(")")
        if self.at("SEARCH"):
            start = self.pos
            self.pos += 2
            self.expect("FIRST", "BY")
            self.order_item()
            while self.accept(","):
                self.order_item()
            self.expect("SET")
            self.identifier()
            self.clause("with-search", start)
        if self.at("CYCLE"):
            start = self.pos
            self.pos += 1
            self.expressions()
            self.expect("SET")
            self.identifier()
            self.expect("TO")
            self.expression()
            self.expect("DEFAULT")
            self.expression()
            self.clause("with-cycle", start)
        node = CommonTable(first, self.pos, name, columns, query)
        self.nodes.append(node)
        return node

    def _query_block(self) -> Node:
        first = self.pos
        if self.accept("("):
            query = self.query()
            self.expect(")")
            node = Subquery(first, self.pos, query)
            self.nodes.append(node)
            return node
        self.expect("SELECT")
        words = self.words
        if self.accept_any(("DISTINCT", "UNIQUE", "ALL")) == "UNIQUE":
            self.clause("select-unique", self.pos - 1)
        items = [self._select_item()]
        while words[self.pos] == ",":
            self.pos += 1
            items.append(self._select_item())
        into: list[Node] = []
        into_span = None
        bulk = False
        if words[self.pos] in ("INTO", "BULK"):
            start = self.pos
            bulk = self.accept("BULK", "COLLECT")
            self.expect("INTO")
            into = self.expressions()
            into_span = (start, self.pos)
        sources: list[Node] = []
        from_at = -1
        if words[self.pos] == "FROM":
            from_at = self.pos
            self.pos += 1
            sources = self.sources()
        where_at = -1
        where = None
        if words[self.pos] == "WHERE":
            where_at = self.pos
            self.pos += 1
            where = self._where()
        start_with, connect_by = self._hierarchy()
        group: list[Node] = []
        having = None
        if words[self.pos] == "GROUP":
            self.pos += 1
            self.expect("BY")
            group = self._group_items()
        if self.accept("HAVING"):
            having = self.expression()
            if words[self.pos] == "GROUP" and not group:
                self.pos += 1
                self.expect("BY")
                group = self._group_items()
        if words[self.pos] == "MODEL":
            self._model()
        if words[self.pos] == "WINDOW":
            self._named_windows()
        select = Select(
            first, self.pos, items, into, into_span, bulk, sources, where, where_at,
            start_with, connect_by, group, having, from_at,
        )  # fmt: skip
        self.nodes.append(select)
        return select

    def _named_windows(self) -> None:
        self.pos += 1
        while True:
            self.identifier()
            self.expect("AS")
            self._window()
            if not self.accept(","):
                return

    def _where(self) -> Node:
        if self.at("CURRENT", "OF"):
            first = self.pos
            self.pos += 2
            node = Name(self.pos, self.pos + 1, self.qualified_name())
            self.nodes.append(node)
            self.clause("where-current-of", first)
            return node
        return self.expression()

    def _hierarchy(self) -> tuple[Node | None, Node | None]:
        start_with = connect_by = None
        for _ in range(2):
            if self.accept("START", "WITH"):
                start_with = self.expression()
            elif self.at("CONNECT", "BY"):
                first = self.pos
                self.pos += 2
                nocycle = self.accept("NOCYCLE")
                connect_by = self.expression()
                if nocycle:
                    self.clause("connect-by-nocycle", first)
        return start_with, connect_by

    def _group_items(self) -> list[Node]:
        items: list[Node] = []
        while True:
            first = self.pos
            if self.accept("GROUPING", "SETS"):
                self.skip_parenthesized()
                self.clause("grouping-sets", first)
            elif self.words[first] in ("ROLLUP", "CUBE") and self.words[first + 1] == "(":
                items.append(self.expression())
                self.clause(self.words[first].lower(), first)
            else:
                items.append(self.expression())
            if not self.accept(","):
                return items

    def _model(self) -> None:
        """Step over MODEL with its balanced parentheses."""
        first = self.pos
        while self.words[self.pos] not in ("", ")", "ORDER", "UNION", "MINUS", "INTERSECT"):
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            else:
                self.pos += 1
        self.clause("model", first)

    def _select_item(self) -> SelectItem:
        first = self.pos
        value = self.expression()
        alias = self._alias(expression=True)
        node = SelectItem(first, self.pos, value, alias)
        self.nodes.append(node)
        return node

    def _alias(self, *, expression: bool = False) -> str:
        """Read [AS] alias; '' if there is none."""
        word = self.words[self.pos]
        kind = self.kinds[self.pos]
        if word == "AS":
            self.pos += 1
            return self.any_word() if expression else self.identifier()
        if kind == QUOTED:
            return self.identifier()
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
            kind = []
            while self.words[self.pos] in _JOIN_WORDS or self.words[self.pos] == "APPLY":
                kind.append(self.words[self.pos])
                self.pos += 1
                if kind[-1] in ("JOIN", "APPLY"):
                    break
            if kind[-1] == "APPLY":
                self.clause("apply", self.pos - len(kind))
            elif kind[-1] != "JOIN":
                self.fail("JOIN")
            right = self._source()
            condition: Node | None = None
            if self.words[self.pos] == "PARTITION":
                start = self.pos
                self.pos += 2
                self.skip_parenthesized()
                self.clause("partitioned-outer-join", start)
            if self.accept("ON"):
                condition = self.expression()
            elif self.accept("USING"):
                self.name_list()
            left = Join(first, self.pos, " ".join(kind), left, right, condition)
            self.nodes.append(left)

    def _source(self) -> Node:
        first = self.pos
        words = self.words
        node: Node
        if words[first] == "(":
            if self.opens_query() and self._closes_as_query():
                self.pos += 1
                query = self.query()
                self.accept("WITH", "READ", "ONLY") or self.accept("WITH", "CHECK", "OPTION")
                self.expect(")")
                self._pivots()
                node = DerivedTable(first, self.pos, query, "")
                node.alias = self._alias()
                node.last = self.pos
            else:
                self.pos += 1
                self.deepen()
                node = self._joined()
                self.depth -= 1
                self.expect(")")
                self._alias()
                return node
        elif words[first] in ("LATERAL", "ONLY") and words[first + 1] == "(":
            self.pos += 2
            if words[first] == "LATERAL":
                query = self.query()
                self.expect(")")
                node = DerivedTable(first, self.pos, query, "", lateral=True)
                node.alias = self._alias()
                node.last = self.pos
            else:
                node = self._table_ref()
                self.expect(")")
                node.alias = self._alias()
        elif words[first] == "TABLE" and words[first + 1] == "(":
            self.pos += 2
            call = self.argument()
            self.expect(")")
            if words[self.pos][:1] == "(" and len(words[self.pos]) > 1:
                self.pos += 1
            node = TableFunction(first, self.pos, call, self._alias())
            node.last = self.pos
            self.clause("table-collection", first)
        else:
            node = self._named_source(first)
        self.nodes.append(node)
        return node

    def _closes_as_query(self) -> bool:
        """Whether the ( here holds a query rather than a join whose first table is a query."""
        words = self.words
        if words[self.pos + 1] != "(":
            return True
        depth, pos = 0, self.pos + 1
        while words[pos]:
            if words[pos] == "(":
                depth += 1
            elif words[pos] == ")":
                depth -= 1
                if depth == 0:
                    return words[pos + 1] in _SET_OPERATORS or words[pos + 1] in (")", "ORDER")
            pos += 1
        return True

    def _named_source(self, first: int) -> Node:
        words = self.words
        pos = first
        while words[pos + 1] == ".":
            pos += 2
        if words[pos + 1] == "(" and self.kinds[pos] == WORD:
            call = self.expression(4)
            node: Node = TableFunction(first, self.pos, call, self._alias())
            node.last = self.pos
            return node
        ref = self._table_ref()
        self._pivots()
        if not ref.alias:
            ref.alias = self._alias()
        ref.last = self.pos
        return ref

    def _table_ref(self) -> TableRef:
        first = self.pos
        parts = self.qualified_name()
        link = self.database_link() if self.words[self.pos] == "@" else ""
        node = TableRef(first, self.pos, parts, "", link)
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
                self.expression(4)
                self.clause("flashback-query", start)
            elif self.at("VERSIONS"):
                self.pos += 1
                self.accept_any(("BETWEEN", "PERIOD"))
                self.accept_any(("SCN", "TIMESTAMP"))
                self.expression(4)
                self.expect("AND")
                self.expression(4)
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

    def query_statement(self) -> QueryStatement:
        first = self.pos
        query = self.query()
        node = QueryStatement(first, self.pos, query)
        self.nodes.append(node)
        return node
