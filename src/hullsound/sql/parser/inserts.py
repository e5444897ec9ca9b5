"""INSERT: its target, its rows or query, what it does with rows that are there, what it gives back; and lists of assignments."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.lexer import END, QUOTED, WORD
from hullsound.sql.parser.query import QueryParser
from hullsound.sql.tree import (
    Call,
    Insert,
    Member,
    Name,
    Node,
    Query,
    Row,
    TableRef,
)

_HINT_WORDS: Final = frozenset(("LOW_PRIORITY", "HIGH_PRIORITY", "DELAYED", "IGNORE", "QUICK"))
_HINTED: Final = frozenset(("mysql", "mariadb"))
"""Engines that know hints behind the verb."""
_ASSIGNING: Final = frozenset(("=", "+=", "-=", "*=", "/=", "%=", "&=", "|=", "^=", ":="))
_QUERY_WORDS: Final = frozenset(("SELECT", "SEL", "WITH", "(", "TABLE"))


class InsertParser(QueryParser):
    """Reads INSERT, and the parts that it shares with other changes."""

    def insert(self) -> Insert:
        first = self.pos
        is_replace = self.words[first] == "REPLACE"
        self.pos += 1
        if self.words[self.pos] in ("ALL", "FIRST") and self.dialect.links:
            return self._insert_all(first)
        if is_replace:
            self.clause("replace-into", first)
        self._change_modifiers()
        self.accept_any(("INTO", "OVERWRITE"))
        table, columns = self._insert_target()
        if self.accept("OVERRIDING"):
            self.accept_any(("SYSTEM", "USER"))
            self.expect("VALUE")
            self.clause("overriding-value", self.pos - 3)
        self._output()
        query = self._insert_source()
        self._on_conflict()
        returning, into = self._returning()
        self._error_log()
        self._change_tail()
        node = Insert(first, self.pos, table, columns, query, returning, into)
        self.nodes.append(node)
        return node

    def _change_modifiers(self) -> None:
        """Read TOP, OR action and the priority words behind the verb."""
        while True:
            first = self.pos
            word = self.words[first]
            if word in _HINT_WORDS and self.kinds[first + 1] in (WORD, QUOTED) and self.dialect.engine in _HINTED:
                self.pos += 1
                self.clause(f"change-{word.lower().replace('_', '-')}", first)
            elif word == "OR":
                self.pos += 2
                self.clause("or-action", first)
            elif word == "TOP":
                self.pos += 1
                self.operand()
                self.accept("PERCENT")
                self.clause("top", first)
            else:
                return

    def _insert_source(self) -> Query | None:
        """Read what is inserted; return the query, or None for values."""
        word = self.words[self.pos]
        if word == "VALUES" or word == "VALUE":
            self.pos += 1
            self._values()
            if self.words[self.pos] == "AS" and self.dialect.client is Client.MYSQL:
                self.pos += 1
                self.identifier()
                if self.at("("):
                    self.name_list()
                self.clause("insert-row-alias", self.pos - 1)
        elif word in _QUERY_WORDS:
            return self.query()
        elif self.accept("DEFAULT", "VALUES"):
            self.clause("default-values", self.pos - 2)
        elif word in ("EXEC", "EXECUTE"):
            self.execute_source()
        elif self.accept("SET"):
            self._assignments()
            self.clause("insert-set", self.pos)
        elif self.words[self.pos - 1] != ")" or self.dialect.client is not Client.BTEQ:
            self.fail("VALUES or a query")
        return None

    def execute_source(self) -> None:
        """Read EXEC as the source of rows; the parser of its family does it."""
        self.fail("VALUES or a query")

    def _values(self) -> None:
        if self.kinds[self.pos] == END:
            self.clause("rows-passed-over", self.pos - 1)
        elif self.at("(") or self.at("ROW", "("):
            self.value_rows()
        else:
            first = self.pos
            self.expression()
            if self.dialect.links:
                self.clause("insert-record", first)
            while self.accept(","):
                self.expression()

    def row_value(self) -> Node:
        return self._value()

    def _value(self) -> Node:
        if self.words[self.pos] == "DEFAULT" and self.words[self.pos + 1] != "(":
            self.pos += 1
            node = Name(self.pos - 1, self.pos, ("DEFAULT",))
            self.nodes.append(node)
            return node
        return self.expression()

    def _insert_target(self) -> tuple[TableRef | None, list[Name]]:
        table: TableRef | None = None
        if (
            self.at("(")
            or self.at("TABLE", "(")
            or self.words[self.pos] in ("OPENQUERY", "OPENROWSET", "OPENDATASOURCE")
        ):
            first = self.pos
            self._source()
            if self.words[first] == "(":
                self.clause("insert-into-query", first)
        else:
            table = self._insert_table()
            self.nodes.append(table)
        columns: list[Name] = []
        if self.words[self.pos] == "(" and not self.opens_query():
            if self.dialect.client is Client.BTEQ and not self._lists_names():
                self.value_rows()
            elif self.words[self.pos + 1] == ")":
                self.pos += 2
            else:
                columns = self._column_names()
        return table, columns

    def _insert_table(self) -> TableRef:
        """Read the table that takes the rows, whose columns may follow without a blank."""
        first = self.pos
        if self.dialect.links:
            table = self._table_ref()
            table.alias = self._alias()
            return table
        table = TableRef(first, first, self.qualified_name())
        table.last = self.pos
        if self.at("PARTITION", "("):
            self.pos += 1
            self.skip_parenthesized()
        if self.at("WITH", "("):
            self._table_tail(table)
        if self.words[self.pos] == "AS" and self.words[self.pos + 1] not in ("SELECT", "WITH"):
            table.alias = self._alias()
        return table

    def _lists_names(self) -> bool:
        """Whether the parenthesis that is next holds names only, and rows follow."""
        pos = self.pos + 1
        while self.kinds[pos] in (WORD, QUOTED) and self.words[pos + 1] == ",":
            pos += 2
        return (
            self.kinds[pos] in (WORD, QUOTED)
            and self.words[pos + 1] == ")"
            and self.words[pos + 2] in ("VALUES", "SELECT", "SEL", "WITH", "(", "VALUE")
        )

    def _column_names(self) -> list[Name]:
        self.expect("(")
        columns: list[Name] = []
        while True:
            first = self.pos
            name = Name(first, first, self._column_target())
            name.last = self.pos
            while self.at("["):
                self._subscript(first, name)
            self.nodes.append(name)
            columns.append(name)
            if not self.accept(","):
                break
        self.expect(")")
        return columns

    def _column_target(self) -> tuple[str, ...]:
        return (self.any_word(),) if self.words[self.pos + 1] != "." else self.qualified_name()

    def _insert_all(self, first: int) -> Insert:
        self.pos += 1
        while self.words[self.pos] in ("INTO", "WHEN", "ELSE"):
            if self.accept("WHEN"):
                self.expression()
                self.expect("THEN")
            else:
                self.accept("ELSE")
            while self.accept("INTO"):
                self._insert_target()
                if self.accept("VALUES"):
                    self._values()
                self._error_log()
        query = self.query()
        self.clause("insert-all", first)
        node = Insert(first, self.pos, None, [], query, [], [])
        self.nodes.append(node)
        return node

    def _on_conflict(self) -> None:
        """Read ON CONFLICT and ON DUPLICATE KEY UPDATE."""
        while self.words[self.pos] == "ON" and self.words[self.pos + 1] in ("CONFLICT", "DUPLICATE"):
            first = self.pos
            self.pos += 2
            if self.words[first + 1] == "DUPLICATE":
                self.expect("KEY", "UPDATE")
                self._assignments()
                self.clause("on-duplicate-key", first)
                continue
            if self.accept("ON", "CONSTRAINT"):
                self.identifier()
            elif self.at("("):
                self.pos += 1
                self.order_item()
                self._operator_class()
                while self.accept(","):
                    self.order_item()
                    self._operator_class()
                self.expect(")")
                if self.accept("WHERE"):
                    self.expression()
            self.expect("DO")
            if not self.accept("NOTHING"):
                self.expect("UPDATE", "SET")
                self._assignments()
                if self.accept("WHERE"):
                    self.expression()
            self.clause("on-conflict", first)

    def _operator_class(self) -> None:
        if self.is_name() and self.words[self.pos] not in ("ASC", "DESC", "NULLS"):
            self.qualified_name()
        self.accept_any(("ASC", "DESC"))
        if self.accept("NULLS"):
            self.accept_any(("FIRST", "LAST"))

    def _output(self) -> None:
        """Read OUTPUT columns [INTO table [(columns)]], as often as it stands there."""
        while self.words[self.pos] == "OUTPUT":
            first = self.pos
            self.pos += 1
            self._select_item()
            while self.accept(","):
                self._select_item()
            if self.accept("INTO"):
                table = TableRef(self.pos, self.pos, self.qualified_name())
                table.last = self.pos
                self.nodes.append(table)
                if self.at("(") and not self.opens_query():
                    self._column_names()
            self.clause("output", first)

    def _returning(self) -> tuple[list[Node], list[Node]]:
        word = self.words[self.pos]
        if word != "RETURNING" and (word != "RETURN" or not self.dialect.links):
            return [], []
        self.pos += 1
        if self.at("WITH", "("):
            self.pos += 1
            self.skip_parenthesized()
        values: list[Node] = [self._select_item()]
        while self.accept(","):
            values.append(self._select_item())
        if self.accept("BULK", "COLLECT"):
            self.clause("returning-bulk-collect", self.pos - 2)
        if self.accept("INTO"):
            self.accept("STRICT")
            return values, self.expressions()
        return values, []

    def _error_log(self) -> None:
        first = self.pos
        if not self.accept("LOG", "ERRORS"):
            if self.accept("LOGGING"):
                self.accept("ALL")
                self.expect("ERRORS")
                self.accept("WITH", "NO", "LIMIT")
                self.clause("log-errors", first)
            return
        if self.accept("INTO"):
            self.qualified_name()
        if self.at("("):
            self.skip_parenthesized()
        if self.accept("REJECT", "LIMIT"):
            self.any_word() if self.kinds[self.pos] == WORD else self.expression()
        self.clause("log-errors", first)

    def _change_tail(self, *, is_behind_returning: bool = False) -> None:
        """Read ORDER BY, LIMIT and the options behind a change."""
        if self.words[self.pos] == "ORDER":
            self.order_items()
        if self.words[self.pos] == "LIMIT":
            first = self.pos
            self._limit(first)
            if is_behind_returning:
                self.clause("limit-behind-returning", first)
        if self.words[self.pos] in ("OPTION", "PLAN"):
            self._query_option(self.pos)
        if self.words[self.pos] in ("WITH", "AT"):
            self._isolation(self.pos)

    def _assignments(self) -> list[tuple[Node, Node]]:
        assignments: list[tuple[Node, Node]] = []
        while True:
            first = self.pos
            if self.at("ROW", "=") and self.dialect.links:
                self.pos += 2
                target: Node = Name(first, first + 1, ("ROW",))
                self.clause("update-record", first)
            else:
                target = Row(first, first, []) if self.at("(") else self._assigned()
                if isinstance(target, Row):
                    target.items = list(self._column_names())
                    target.last = self.pos
                    self.nodes.append(target)
                if isinstance(target, Call | Member) and self.words[self.pos] not in _ASSIGNING:
                    # column.WRITE(...) and the methods of XML columns change a column without an equals sign.
                    assignments.append((target, target))
                    if self.accept(","):
                        continue
                    return assignments
                if not self.accept_any(_ASSIGNING):
                    self.fail("'='")
            assignments.append((target, self._value()))
            if not self.accept(","):
                return assignments

    def _assigned(self) -> Node:
        """Read the column that takes a value; a reserved word may name it behind a table."""
        first = self.pos
        node = self.operand()
        while self.at("["):
            node = self._subscript(first, node)
        return node
