"""Queries: SELECT with all its clauses."""

from typing import Final

from hullsound.sql.dialect import Grammar
from hullsound.sql.lexer import BIND, NUMBER, QUOTED, SYMBOL, WORD
from hullsound.sql.parser.query_tails import QueryTailParser
from hullsound.sql.tree import (
    CommonTable,
    Name,
    Node,
    Query,
    QueryStatement,
    Select,
    SelectItem,
    Subquery,
)

_SET_OPERATORS: Final = frozenset(("UNION", "MINUS", "INTERSECT", "EXCEPT"))
_NO_ITEMS: Final = frozenset(("FROM", "WHERE", "INTO", ")", "", ";", "UNION", "EXCEPT", "INTERSECT"))
_SELECT_WORDS: Final = frozenset(
    """HIGH_PRIORITY STRAIGHT_JOIN SQL_SMALL_RESULT SQL_BIG_RESULT SQL_BUFFER_RESULT SQL_CACHE SQL_NO_CACHE
    SQL_CALC_FOUND_ROWS NORMALIZE""".split()
)


class QueryParser(QueryTailParser):
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
            if self.accept("CORRESPONDING") and self.accept("BY"):
                self.name_list()
            operators.append((operator, at))
            blocks.append(self._query_block())
        order = self.order_items() if self.words[self.pos] == "ORDER" else []
        self._query_tail(order)
        node = Query(first, self.pos, common, blocks, operators, order)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _common_tables(self) -> list[CommonTable]:
        first = self.expect("WITH")
        if self.words[self.pos] in ("FUNCTION", "PROCEDURE"):
            self.with_routines()
            self.clause("with-function", first)
            if self.words[self.pos] in ("SELECT", "("):
                return []
        self.accept("RECURSIVE")
        if self.at("XMLNAMESPACES", "("):
            self.pos += 1
            self.skip_parenthesized()
            self.clause("with-xmlnamespaces", first)
            if not self.accept(","):
                return []
        tables = [self._common_table()]
        while self.accept(","):
            tables.append(self._common_table())
        return tables

    def with_routines(self) -> None:
        self.fail("a query name")

    def common_query(self) -> Node:
        """Read what a common table holds; the parser of changes also takes changes that return rows."""
        return self.query()

    def _common_table(self) -> CommonTable:
        first = self.pos
        name = self.identifier()
        columns = self.name_list() if self.at("(") else []
        self.expect("AS")
        self.accept("NOT")
        self.accept("MATERIALIZED")
        self.expect("(")
        query = self.common_query()
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
            if self.accept("SET"):
                self.identifier()
                if self.accept("TO"):
                    self.expression()
                    self.expect("DEFAULT")
                    self.expression()
                if self.accept("USING"):
                    self.identifier()
            elif not self.accept("RESTRICT"):
                self.fail("SET or RESTRICT")
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
        words = self.words
        if words[first] == "VALUES":
            return self._values_block()
        if words[first] == "TABLE" and self.kinds[first + 1] in (WORD, QUOTED):
            self.pos += 1
            ref = self._table_ref()
            self.nodes.append(ref)
            return self._bare_select(first, [ref], [])
        if not self.accept_any(("SELECT", "SEL")):
            self.fail("SELECT")
        self._select_modifiers()
        items: list[SelectItem] = []
        if words[self.pos] not in _NO_ITEMS:
            items.append(self._select_item())
            while words[self.pos] == ",":
                self.pos += 1
                items.append(self._select_item())
        select = self._bare_select(first, [], items)
        self._select_clauses(select)
        select.last = self.pos
        return select

    def _bare_select(self, first: int, sources: list[Node], items: list[SelectItem]) -> Select:
        select = Select(first, self.pos, items, [], None, False, sources, None, -1, None, None, [], None, -1)
        self.nodes.append(select)
        return select

    def _values_block(self) -> Select:
        """Read VALUES (row), (row) as a query."""
        first = self.expect("VALUES")
        self.value_rows()
        self.clause("values-query", first)
        return self._bare_select(first, [], [])

    def value_rows(self) -> None:
        while True:
            self.accept("ROW")
            if self.at("("):
                self.pos += 1
                while not self.accept(")"):
                    self.row_value()
                    if not self.accept(",") and not self.at(")"):
                        self.fail("')'")
            else:
                self.row_value()
            if not self.accept(","):
                return

    def row_value(self) -> Node:
        return self.expression()

    def _select_modifiers(self) -> None:
        """Read DISTINCT, TOP and the hints that stand as words behind SELECT."""
        while True:
            first = self.pos
            word = self.words[first]
            following = self.words[first + 1]
            if word in ("DISTINCT", "UNIQUE", "ALL", "DISTINCTROW") and following not in (".", ","):
                self.pos += 1
                if word == "UNIQUE":
                    self.clause("select-unique", first)
                if self.at("ON", "("):
                    self.pos += 1
                    self.operand()
                    self.clause("distinct-on", first)
            elif word == "TOP" and (
                self.kinds[first + 1] in (NUMBER, BIND) or following == "(" or following[:1] == "@"
            ):
                self.pos += 1
                self.operand()
                self.accept("PERCENT")
                if self.accept("WITH", "TIES"):
                    self.clause("top-ties", first)
                self.clause("top", first)
            elif word in _SELECT_WORDS and following not in (",", ".", "FROM", "", ")", ";", "="):
                self.pos += 1
                self.clause(word.lower().replace("_", "-"), first)
                if word == "NORMALIZE" and self.accept("ON"):
                    while self.words[self.pos] in ("MEETS", "OR", "OVERLAPS"):
                        self.pos += 1
            else:
                return

    def _select_clauses(self, select: Select) -> None:
        """Read INTO, FROM, WHERE, GROUP BY and what else may follow the select list."""
        words = self.words
        while True:
            start = self.pos
            word = words[start]
            if word == "INTO" or (word == "BULK" and words[start + 1] == "COLLECT"):
                if words[start + 1] in ("OUTFILE", "DUMPFILE"):
                    self._late_into(start)
                    continue
                if select.into:
                    return
                self._into(select)
            elif word == "FROM" and select.from_at < 0:
                select.from_at = start
                self.pos += 1
                select.sources = self.sources()
            elif word == "WHERE" and select.where_at < 0:
                select.where_at = start
                self.pos += 1
                select.where = self._where()
            elif word in ("START", "CONNECT") and words[start + 1] in ("WITH", "BY"):
                select.start_with, select.connect_by = self._hierarchy()
            elif word == "GROUP" and not select.group:
                self.pos += 1
                self.expect("BY")
                select.group = self.group_items()
            elif word == "HAVING" and select.having is None:
                self.pos += 1
                select.having = self.expression()
            elif word == "QUALIFY":
                self.pos += 1
                self.expression()
                self.clause("qualify", start)
            elif word == "MODEL":
                self._model()
            elif word == "WINDOW":
                self._named_windows()
            elif word == "EXPAND" and words[start + 1] == "ON":
                self.pos += 2
                self.expression()
                self._alias()
                if self.accept("BY"):
                    self.expression()
                if self.accept("FOR"):
                    self.expression()
                self.clause("expand-on", start)
            else:
                return
            if self.pos == start:
                return

    def _into(self, select: Select) -> None:
        """Read INTO variables, or INTO a new table."""
        start = self.pos
        select.bulk = self.accept("BULK", "COLLECT")
        self.expect("INTO")
        if self.selects_into_table():
            while self.words[self.pos] in ("TEMPORARY", "TEMP", "LOCAL", "GLOBAL", "UNLOGGED", "TABLE"):
                self.pos += 1
            table = self._table_ref()
            self.nodes.append(table)
            select.into = [table]
            self.clause("select-into-table", start)
            if self.accept("ON") or self.accept("IN"):
                self.any_word()
            return
        self.accept("STRICT")
        select.into = self.expressions()
        select.into_span = (start, self.pos)
        if not select.items and self.dialect.grammar is Grammar.POSTGRESQL and not self._ends_items():
            # INTO comes first in PL/pgSQL as well, and the select list behind it.
            select.items.append(self._select_item())
            while self.accept(","):
                select.items.append(self._select_item())

    def _ends_items(self) -> bool:
        return self.words[self.pos] in (*_NO_ITEMS, "GROUP", "ORDER", "LIMIT", "HAVING", "FOR")

    def selects_into_table(self) -> bool:
        """Whether INTO names a new table rather than variables."""
        return self.words[self.pos] in ("TEMPORARY", "TEMP", "UNLOGGED", "TABLE") and self.kinds[self.pos + 1] != SYMBOL

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
            self.accept("GLOBAL")
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

    def _model(self) -> None:
        """Step over MODEL with its balanced parentheses."""
        first = self.pos
        while self.words[self.pos] not in ("", ")", "UNION", "MINUS", "INTERSECT") and not self.at("ORDER", "BY"):
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

    def query_statement(self) -> QueryStatement:
        first = self.pos
        query = self.query()
        node = QueryStatement(first, self.pos, query)
        self.nodes.append(node)
        return node
