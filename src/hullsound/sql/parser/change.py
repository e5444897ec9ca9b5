"""Statements that change rows: INSERT, UPDATE, DELETE and MERGE."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import QUOTED, SYMBOL, WORD
from hullsound.sql.parser.inserts import InsertParser
from hullsound.sql.tree import (
    Delete,
    Merge,
    Name,
    Node,
    Statement,
    TableRef,
    Update,
)

_VERBS: Final = frozenset(("INSERT", "UPDATE", "DELETE", "MERGE", "REPLACE", "INS", "UPD", "DEL"))


class ChangeParser(InsertParser):
    """Reads statements that change rows."""

    def update(self) -> Update:
        first = self.pos
        self.pos += 1
        self._change_modifiers()
        table = self._change_target()
        if self.at("FROM") and self.dialect.client is Client.BTEQ:
            start = self.pos
            self.pos += 1
            self.sources()
            self.clause("update-from", start)
        self.expect("SET")
        assignments = self._assignments()
        self._output()
        start = self.pos
        if self.accept("FROM"):
            self.sources()
            self.clause("update-from", start)
        self.accept("ALL")
        where = self._where() if self.accept("WHERE") else None
        returning, into = self._returning()
        self._error_log()
        self._change_tail(is_behind_returning=bool(returning))
        start = self.pos
        if (
            self.words[start] == "ELSE"
            and self.words[start + 1] in ("INSERT", "INS")
            and self.dialect.client is Client.BTEQ
        ):
            self.pos += 1
            self.insert()
            self.clause("update-else-insert", start)
        node = Update(first, self.pos, table, assignments, where, returning, into)
        self.nodes.append(node)
        return node

    def _change_target(self) -> Node:
        if self.at("(") and self.dialect.links:
            self.clause("change-inline-view", self.pos)
            return self._source()
        if not self.dialect.links:
            sources = self.sources()
            if len(sources) > 1:
                self.clause("change-several-tables", sources[0].first)
            if self.at("FOR", "PORTION"):
                self._portion()
            return sources[0]
        if self.at("TABLE", "(") or self.at("ONLY", "("):
            return self._source()
        table = self._table_ref()
        if not self.at("SET"):
            table.alias = self._alias()
        table.last = self.pos
        self.nodes.append(table)
        return table

    def _portion(self) -> None:
        """Read FOR PORTION OF period FROM a TO b, with the alias that may follow."""
        first = self.pos
        self.pos += 2
        self.expect("OF")
        self.identifier()
        self.expect("FROM")
        self.expression(COMPARE)
        self.expect("TO")
        self.expression(COMPARE)
        self._alias()
        self.clause("portion-of-period", first)

    def delete(self) -> Delete:
        first = self.pos
        self.pos += 1
        self._change_modifiers()
        history = self.accept("HISTORY")
        if not self.accept("FROM"):
            self.clause("delete-without-from", first)
        table = self._change_target()
        if history:
            self.clause("delete-history", first)
            if self.accept("BEFORE", "SYSTEM_TIME"):
                self.expression()
        self._output()
        start = self.pos
        if self.accept("FROM") or self.accept("USING"):
            self.sources()
            self.clause("delete-join", start)
        self.accept("ALL")
        where = self._where() if self.accept("WHERE") else None
        returning, into = self._returning()
        self._error_log()
        self._change_tail(is_behind_returning=bool(returning))
        if not returning:  # MariaDB has it behind the limit, SQLite before
            returning, into = self._returning()
        node = Delete(first, self.pos, table, where, returning, into)
        self.nodes.append(node)
        return node

    def merge(self) -> Merge:
        first = self.expect("MERGE")
        self._change_modifiers()
        self.accept("INTO")
        table = self._merge_target()
        self.expect("USING")
        source = self._source()
        self.expect("ON")
        condition = self.expression()
        assignments: list[tuple[Node, Node]] = []
        columns: list[Name] = []
        while self.accept("WHEN"):
            negated = self.accept("NOT")
            self.expect("MATCHED")
            if self.accept("BY", "SOURCE"):
                self.clause("merge-by-source", self.pos - 2)
            else:
                self.accept("BY", "TARGET")
            if self.accept("AND"):
                self.expression()
            self.expect("THEN")
            word = self.words[self.pos]
            if word in ("INSERT", "INS"):
                columns += self._merge_insert()
            elif word in ("UPDATE", "UPD", "DELETE", "DEL") and not (negated and self.dialect.links):
                assignments += self._merge_update()
            elif word in ("DO", "SIGNAL"):
                self._merge_other()
            else:
                self.fail("INSERT" if negated else "UPDATE or DELETE")
        self.accept("ELSE", "IGNORE")
        self._output()
        self._returning()
        self._error_log()
        self._change_tail()
        node = Merge(first, self.pos, table, source, condition, assignments, columns)
        self.nodes.append(node)
        return node

    def _merge_target(self) -> TableRef:
        if self.at("ONLY", "("):
            table = self._only(self.pos)
        elif self.at("("):
            self._source()
            return TableRef(self.pos, self.pos, ("",))
        else:
            table = self._table_ref()
            table.alias = table.alias or self._source_alias()
        self.nodes.append(table)
        return table

    def _merge_other(self) -> None:
        if self.accept("DO"):
            self.expect("NOTHING")
            return
        self.pos += 1
        while self.words[self.pos] not in ("WHEN", "ELSE", ";", ""):
            self.pos += 1

    def _merge_update(self) -> list[tuple[Node, Node]]:
        if self.accept_any(("DELETE", "DEL")):
            return []
        self.pos += 1
        self.expect("SET")
        assignments = self._assignments()
        start = self.pos
        if self.accept("WHERE"):
            self.expression()
            self.clause("merge-where", start)
        start = self.pos
        if self.accept("DELETE", "WHERE"):
            self.expression()
            self.clause("merge-delete", start)
        return assignments

    def _merge_insert(self) -> list[Name]:
        self.pos += 1
        if self.accept("DEFAULT", "VALUES"):
            return []
        columns = self._column_names() if self.at("(") else []
        if self.accept("OVERRIDING"):
            self.any_word()
            self.expect("VALUE")
        if not self.accept("VALUES") and self.words[self.pos] not in ("(",):
            self.fail("VALUES") if self.words[self.pos - 1] != ")" else None
            return columns
        self._values()
        start = self.pos
        if self.accept("WHERE"):
            self.expression()
            self.clause("merge-where", start)
        return columns

    def common_query(self) -> Node:
        """Read the query of a common table, or a change that returns rows."""
        if self.words[self.pos] in _VERBS and self.kinds[self.pos + 1] != SYMBOL:
            node = self.change_statement()
            assert node is not None
            self.clause("change-in-query", node.first)
            return node
        return self.query()

    def change_statement(self) -> Node | None:
        """Read SELECT, INSERT, UPDATE, DELETE or MERGE; None if none of them is next."""
        word = self.words[self.pos]
        if word == "WITH" and not self.dialect.links:
            return self._with_statement()
        if word in ("SELECT", "WITH", "(", "SEL"):
            return self.query_statement()
        if word in ("INSERT", "INS"):
            return self.insert()
        if word in ("UPDATE", "UPD"):
            return self.update()
        if word in ("DELETE", "DEL"):
            return self.delete()
        if word == "MERGE":
            return self.merge()
        if word == "REPLACE" and self.words[self.pos + 1] != "(":
            return self.insert()
        if word == "VALUES" and (self.values_open_query or self.words[self.pos + 1] in ("(", "ROW")):
            return self.query_statement()
        if word == "TABLE" and self.kinds[self.pos + 1] in (WORD, QUOTED):
            return self.query_statement()
        return None

    def _with_statement(self) -> Node:
        """Read WITH before a query or before a change."""
        first = self.pos
        common = self._common_tables()
        if self.words[self.pos] in _VERBS:
            node = self.change_statement()
            assert isinstance(node, Statement)
            node.first = first
            self.clause("with-before-change", first)
            return node
        statement = self.query_statement()
        statement.first = statement.query.first = first
        statement.query.common = common or statement.query.common
        return statement
