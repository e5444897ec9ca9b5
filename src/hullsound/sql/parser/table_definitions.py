"""CREATE TABLE and ALTER TABLE in the forms of all engines but Oracle's own."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import END, QUOTED, STRING, WORD
from hullsound.sql.parser.columns import ColumnParser
from hullsound.sql.parser.options import TABLE_OPTIONS
from hullsound.sql.tree import (
    AlterTable,
    ColumnDefinition,
    CreateIndex,
    CreateTable,
    OrderItem,
    Query,
)

_TEMPORARY: Final = frozenset(("TEMPORARY", "TEMP", "VOLATILE"))
_QUERY_STARTS: Final = frozenset(("SELECT", "WITH", "SEL", "VALUES", "TABLE", "EXECUTE"))
_ALTER_STARTS: Final = frozenset(("ADD", "MODIFY", "CHANGE", "ALTER", "DROP", "WITH", "RENAME"))


class TableDefinitionParser(ColumnParser):
    """Reads definitions of tables and their changes."""

    def create_table(self, first: int, modifiers: set[str]) -> CreateTable:
        self.pos += 1
        if_absent = self.accept("IF", "NOT", "EXISTS") or "IF NOT EXISTS" in modifiers
        name = self.qualified_name()
        node = CreateTable(first, self.pos, name, [], [], "", None, set(), None)
        node.if_absent = if_absent
        if modifiers & _TEMPORARY or name[-1].startswith("#") or ("GLOBAL" in modifiers and "TRACE" not in modifiers):
            node.temporary = "delete rows" if "GLOBAL" in modifiers else "preserve rows"
        for word in sorted(modifiers & {"UNLOGGED", "FOREIGN", "EXTERNAL", "VIRTUAL", "MULTISET", "SET", "VOLATILE"}):
            node.clauses.add(self.clause(f"{word.lower()}-table", first))
        if self.at(","):
            self._leading_options(node)
        self._table_source(node)
        if self.at("("):
            if self.opens_query():
                node.query = self.query()
            else:
                self.table_elements(node.columns, node.constraints, node.indexes)
        self.option_values = {}
        self._table_tail_options(node)
        node.options = self.option_values
        node.last = self.pos
        for index in node.indexes:
            index.table = name
        self.nodes.append(node)
        return node

    def _leading_options(self, node: CreateTable) -> None:
        """Read options between the name and the columns: , NO FALLBACK, NO BEFORE JOURNAL."""
        first = self.pos
        while self.words[self.pos] not in ("(", "AS", ""):
            self.pos += 1
        node.clauses.add(self.clause("storage", first))

    def _table_source(self, node: CreateTable) -> None:
        """Read what stands for the columns: LIKE table, OF type, PARTITION OF parent, AS FILETABLE."""
        first = self.pos
        if self.accept("PARTITION", "OF"):
            parent = self.qualified_name()
            node.clauses.add(self.clause("partition-of", first))
            if self.at("("):
                self.table_elements(node.columns, node.constraints, node.indexes)
            self._partition_bound()
            node.partition = (first, self.pos)
            node.clauses.add("child-of:" + ".".join(parent))
        elif self.accept("LIKE"):
            self.qualified_name()
            while self.words[self.pos] in ("INCLUDING", "EXCLUDING"):
                self.pos += 2
            node.clauses.add(self.clause("table-like", first))
        elif self.accept("OF"):
            self.qualified_name()
            node.clauses.add(self.clause("typed-table", first))
        elif self._graph_table(node):
            pass
        elif self.words[first] == "AS" and self.words[first + 1] in ("FILETABLE", "CLONE"):
            self.pos += 2
            node.clauses.add(self.clause(f"{self.words[first + 1].lower()}-table", first))

    def _graph_table(self, node: CreateTable) -> bool:
        """Read AS NODE or AS EDGE, of SQL Server."""
        first = self.pos
        if not (self.accept("AS", "NODE") or self.accept("AS", "EDGE")):
            return False
        node.clauses.add(self.clause("graph-table", first))
        return True

    def _partition_bound(self) -> None:
        if self.accept("DEFAULT"):
            return
        self.expect("FOR", "VALUES")
        while self.words[self.pos] in ("FROM", "TO", "IN", "WITH"):
            self.pos += 1
            self.skip_parenthesized()

    def _table_tail_options(self, node: CreateTable) -> None:
        stops = frozenset(("PARTITION", "AS", "SELECT", "SEL", "REPLACE", "IGNORE"))
        while self.kinds[self.pos] != END and self.words[self.pos] not in (";", ")"):
            first = self.pos
            word, following = self.words[first], self.words[first + 1]
            if word == "PARTITION" or (word == "PARTITIONED" and following == "BY"):
                self._partitions(node)
                node.partition = (first, self.pos)
            elif word == "REPLACE" and self.words[first - 1] == "WITH":
                self.pos += 1
            elif self._graph_table(node):
                pass
            elif word in ("AS", "REPLACE", "IGNORE", *_QUERY_STARTS - {"WITH"}) or (word == "(" and self.opens_query()):
                self.accept_any(("REPLACE", "IGNORE"))
                self.accept("AS")
                self._table_query(node, first)
            elif word in ("UNIQUE", "PRIMARY", "INDEX") and self.dialect.client is Client.BTEQ:
                node.indexes.append(self._table_index())
            elif self.accept("LIKE"):
                self.qualified_name()
            elif self.ends_definition():
                return
            else:
                self.options(TABLE_OPTIONS, node.clauses, stops)
                if self.pos == first:
                    self.fail("a table option")

    def _table_query(self, node: CreateTable, first: int) -> None:
        node.clauses.add(self.clause("create-table-as", first))
        if self.accept("EXECUTE"):
            self.skip_rest()
            return
        if self.words[self.pos] not in _QUERY_STARTS and not self.at("("):
            self.qualified_name()  # AS another table WITH [NO] DATA
        else:
            node.query = self._statement_query()
        while self.words[self.pos] in ("WITH", "AND", "NO", "DEFINITION", "DATA", "STATISTICS"):
            self.pos += 1

    def _statement_query(self) -> Query | None:
        if self.at("(") and not self.opens_query():
            self.fail("a query")
        return self.query()

    def _table_index(self) -> CreateIndex:
        """Read [UNIQUE] [PRIMARY] INDEX [name] (columns), which Teradata writes behind the columns."""
        first = self.pos
        unique = self.accept("UNIQUE")
        primary = self.accept("PRIMARY")
        if primary and self.accept("AMP"):
            self.clause("primary-amp-index", first)
        self.expect("INDEX")
        name = (self.identifier(),) if self.is_name() else ()
        keys: list[OrderItem] = self.index_keys() if self.at("(") else []
        clauses: set[str] = set()
        if self.accept("ORDER"):
            self.expect("BY")
            self.accept_any(("VALUES", "HASH"))
            self.skip_parenthesized()
        if self.accept("WITH"):
            self.any_word()
            self.any_word()
        if primary:
            clauses.add(self.clause("primary-index", first))
        node = CreateIndex(first, self.pos, name, (), keys, unique, "primary" if primary else "", clauses)
        self.nodes.append(node)
        self.accept(",")
        return node

    def _partitions(self, node: CreateTable) -> None:
        """Read PARTITION BY method with its parts, in any engine's form."""
        first = self.pos
        self.pos += 1
        self.accept("BY")
        method = ""
        while self.words[self.pos] in ("LINEAR", "RANGE", "LIST", "HASH", "KEY", "SYSTEM_TIME", "COLUMN", "ROUNDROBIN",
                                       "COLUMNS", "ROW", "RANGE_N", "CASE_N"):  # fmt: skip
            method = method or self.words[self.pos]
            self.pos += 1
        method = method or self.words[self.pos + 1]
        node.clauses.add(self.clause(f"partition-by-{method.lower().replace('_', '-')}", first))
        if self.accept("ALGORITHM", "="):
            self.pos += 1
        while True:
            if self.at("("):
                self.skip_parenthesized()
            elif self.words[self.pos] in ("INTERVAL", "STARTS", "LIMIT", "SUBPARTITION"):
                start = self.pos
                self.pos += 1
                if self.words[start] == "SUBPARTITION":
                    node.clauses.add(self.clause("subpartition", start))
                    self.expect("BY")
                    self.accept("LINEAR")
                    self.any_word()
                else:
                    self.expression(COMPARE)
                    if self.kinds[self.pos] == WORD and self.words[self.pos] in (
                        "DAY",
                        "HOUR",
                        "MONTH",
                        "WEEK",
                        "YEAR",
                    ):
                        self.pos += 1
            elif self.words[self.pos] in ("PARTITIONS", "SUBPARTITIONS"):
                self.pos += 2
            elif self.accept("ON"):
                self.any_word()
            elif self.accept("AUTO"):
                pass
            elif self.kinds[self.pos] == STRING:
                self.pos += 1
            else:
                return

    # --- changes ---

    def alter_table(self, first: int) -> AlterTable:
        self.pos += 1
        self.accept("IF", "EXISTS")
        self.accept("ONLY")
        if self.at("ALL", "IN"):
            self.skip_rest()
            node = AlterTable(first, self.pos, ("",), [], [], [], ["all in tablespace"])
            self.nodes.append(node)
            return node
        name = self.qualified_name()
        self.accept("*")
        node = AlterTable(first, self.pos, name, [], [], [], [])
        while self.accept_any(("WAIT", "NOWAIT")):
            self.pos += 1 if self.words[self.pos - 1] == "WAIT" else 0
        while self.kinds[self.pos] != END and not self.at(";"):
            start = self.pos
            self._alter_action(node)
            self.accept(",")
            if self.pos == start:
                self.fail("an action")
            if self.ends_definition():
                break
        node.last = self.pos
        for index in node.indexes:
            index.table = name
        self.nodes.append(node)
        return node

    def _alter_action(self, node: AlterTable) -> None:
        first = self.pos
        word, following = self.words[first], self.words[first + 1]
        is_unchecked = word == "WITH" and following == "NOCHECK"
        if word == "WITH" and following in ("CHECK", "NOCHECK"):
            self.pos += 2
            at = self.pos + (3 if self.words[self.pos + 1] == "CONSTRAINT" else 1)
            if following == "NOCHECK" and self.words[at] not in ("PRIMARY", "UNIQUE", "DEFAULT"):
                self.clause("novalidate-constraint", first)
            if self.words[self.pos] in ("CHECK", "NOCHECK"):
                word = self.words[self.pos]
        if self.accept("ADD"):
            known = len(node.constraints)
            self._alter_add(node)
            for constraint in node.constraints[known:] if is_unchecked else ():
                constraint.not_validated = True
        elif word == "MODIFY" and following not in ("PARTITION", "LOCK", "CONSTRAINT", "PRIMARY"):
            self.pos += 1
            self.accept("COLUMN")
            self._modified(node)
        elif word == "CHANGE" and self.kinds[first + 1] in (WORD, QUOTED):
            self.pos += 1
            self.accept("COLUMN")
            self.accept("IF", "EXISTS")
            old = self.identifier()
            self._modified(node)
            node.modified[-1].renamed_from = old
            node.actions.append("rename column")
        elif word == "ALTER":
            self._alter_column(node)
        elif self.table_change(node):
            if self.words[self.pos] not in _ALTER_STARTS:
                self._balanced_action()
            node.actions.append(" ".join(self.words[first : min(first + 3, self.pos)]).lower())
            self._note_switch(node.actions[-1], first)
        else:
            self._alter_other(node)

    def _note_switch(self, words: str, first: int) -> None:
        """Record what is switched off as a clause."""
        if words.startswith(("nocheck constraint", "disable trigger")):
            self.clause("disabled-constraint" if "nocheck" in words else "disabled-trigger", first)

    def _modified(self, node: AlterTable) -> None:
        self.accept("IF", "EXISTS")
        if self.at("("):
            self.pos += 1
            node.modified.append(self.column_definition())
            while self.accept(","):
                node.modified.append(self.column_definition())
            self.expect(")")
        else:
            node.modified.append(self.column_definition())
            node.modified[-1].place = self._column_place()

    def _column_place(self) -> str:
        if self.accept("FIRST"):
            return "first"
        word = self.accept_any(("AFTER", "BEFORE"))
        return f"{word.lower()} {self.identifier()}" if word else ""

    def _alter_add(self, node: AlterTable) -> None:
        first = self.pos
        word = self.words[first]
        is_column = self.accept("COLUMN")
        self.accept("IF", "NOT", "EXISTS")
        if self.at("("):
            self.table_elements(node.columns, node.constraints, node.indexes)
        elif not is_column and (self.opens_constraint() or self.at("DEFAULT")):
            node.constraints.append(self.table_constraint())
            self._more_elements(node)
        elif not is_column and word in ("INDEX", "KEY", "FULLTEXT", "SPATIAL") and self._opens_key():
            node.indexes.append(self._key())
        elif not is_column and word in ("PARTITION", "PERIOD", "SYSTEM", "VERSIONING", "SUPPLEMENTAL", "RESTRICT", "EXCLUDE",
                                        "SIGNATURE", "CLONE", "SECURITY", "MATERIALIZED"):  # fmt: skip
            self._balanced_action()
            node.actions.append(f"add {word.lower()}")
            self.clause(f"add-{word.lower()}", first)
            self.clause("table-change", first)
        else:
            node.columns.append(self.column_definition())
            node.columns[-1].place = self._column_place()
            self._more_elements(node)

    def _more_elements(self, node: AlterTable) -> None:
        """Read further columns and constraints of one ADD, as the T-SQL family allows."""
        while self.at(",") and self.dialect.client in (Client.BATCH, Client.BTEQ) and self.words[self.pos + 1] not in (
            _ALTER_STARTS
        ):  # fmt: skip
            self.pos += 1
            self._table_element(node.columns, node.constraints, node.indexes)

    def _alter_column(self, node: AlterTable) -> None:
        first = self.pos
        self.pos += 1
        if self.words[self.pos] in ("INDEX", "CONSTRAINT", "CHECK", "PERIOD", "SECURITY", "PARTITION", "SORTKEY"):
            self._balanced_action()
            node.actions.append(f"alter {self.words[first + 1].lower()}")
            self.clause("table-change", first)
            return
        self.accept("COLUMN")
        start = self.pos
        name = self.identifier()
        word = self.words[self.pos]
        column = ColumnDefinition(start, start, name, None, True, None, False, "", None, [])
        if word in ("SET", "DROP", "ADD", "RESET", "RESTART", "TYPE"):
            self._column_change(node, column)
        else:
            self.pos = start
            node.modified.append(self.column_definition())
            return
        column.last = self.pos
        if column.type is not None or column.identity:
            self.nodes.append(column)
            node.modified.append(column)
        node.actions.append(f"alter column {word.lower()}")

    def _column_change(self, node: AlterTable, column: ColumnDefinition) -> None:
        """Read SET/DROP/ADD ... and TYPE of one column."""
        if self.column_change(node, column.name, column.first):
            return
        if self.accept("TYPE") or self.accept("SET", "DATA", "TYPE"):
            column.type = self.type_name()
            if self.accept("COLLATE"):
                self.qualified_name()
            if self.accept("USING"):
                self.expression()
        elif self.at("ADD", "GENERATED"):
            self.pos += 1
            self._generated(column)
        else:
            first = self.pos
            self._balanced_action()
            self.clause("table-change", first)

    def _balanced_action(self) -> None:
        """Step over an action up to the comma that ends it."""
        while self.words[self.pos] not in (",", "", ";"):
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            elif self.ends_definition():
                return
            else:
                self.pos += 1

    def _alter_other(self, node: AlterTable) -> None:
        first = self.pos
        if self.kinds[first] != WORD:
            self.fail("an action")
        self._balanced_action()
        if self.words[self.pos - 1] in ("ADD",):
            self.pos -= 1
        words = " ".join(self.words[first : min(first + 3, self.pos)]).lower()
        node.actions.append(words)
        self.clause("table-change", first)
        if self.words[first] in TABLE_OPTIONS or words.startswith("set "):
            self.clause("table-option-change", first)
