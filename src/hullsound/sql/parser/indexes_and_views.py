"""CREATE INDEX and CREATE VIEW, with the options of each engine."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.lexer import END
from hullsound.sql.parser.grants import GrantParser
from hullsound.sql.parser.options import TABLE_OPTIONS
from hullsound.sql.tree import (
    CreateIndex,
    CreateView,
    Parts,
)

_VIEW_OPTIONS: Final = frozenset(("ENCRYPTION", "SCHEMABINDING", "VIEW_METADATA"))


class ViewParser(GrantParser):
    """Reads indexes and views."""

    def create_index(self, first: int, modifiers: set[str]) -> CreateIndex:
        self.pos += 1
        self.accept("CONCURRENTLY")
        self.accept("IF", "NOT", "EXISTS")
        name: Parts = ()
        clauses: set[str] = set()
        method = next((word.lower() for word in ("FULLTEXT", "SPATIAL", "COLUMNSTORE", "XML") if word in modifiers), "")
        if method:
            clauses.add(self.clause(f"{method}-index", first))
        if not self.at("ON") and not self.at("("):
            name = self.qualified_name()
        if self.accept("USING"):
            method = self.any_word().lower()
        keys = []
        if self.at("("):  # keys before the table, as Teradata writes them
            keys = self.index_keys()
            if self.accept("ORDER"):
                self.expect("BY")
                self.accept_any(("VALUES", "HASH"))
                self.skip_parenthesized()
        self.expect("ON")
        self.accept("ONLY")
        table = self.qualified_name()
        if self.accept("USING"):
            method = self.any_word().lower()
        if self.at("("):
            keys = self._fulltext_keys() if method == "fulltext" else self.index_keys()
        node = CreateIndex(first, self.pos, name, table, keys, "UNIQUE" in modifiers, method, clauses)
        self._index_options(node, clauses)
        node.last = self.pos
        self.nodes.append(node)
        return node

    def _fulltext_keys(self) -> list:  # type: ignore[type-arg]
        """Read the keys of a full-text index, which have words of their own."""
        if self.dialect.client is not Client.BATCH:
            return self.index_keys()
        self.skip_parenthesized()
        return []

    def _index_options(self, node: CreateIndex, clauses: set[str]) -> None:
        while self.kinds[self.pos] != END and not self.at(";") and not self.ends_definition():
            first = self.pos
            if self.accept("WHERE"):
                node.where = self.expression()
                clauses.add(self.clause("filtered-index", first))
            elif self.at("INCLUDE", "("):
                self.pos += 1
                node.include = self._name_list()
                clauses.add(self.clause("index-include", first))
            elif self.accept("EXCLUDE", "NULL", "KEYS"):
                clauses.add(self.clause("exclude-null-keys", first))
            elif self.accept("INCLUDE", "NULL", "KEYS"):
                pass
            elif self.at("NULLS"):
                self.pos += 1
                node.nulls_not_distinct = self.accept("NOT")
                self.expect("DISTINCT")
                clauses.add(self.clause("nulls-not-distinct", first))
            elif self.at("USING", "XML"):
                self.pos += 3
                self.any_word()
                if self.accept("FOR"):
                    self.any_word()
            elif self.accept("FOR"):
                self.skip_parenthesized()
            elif self.words[first] in ("USING", "GENERATE", "KEY"):
                self.pos += 1
                self._balanced_action()
            else:
                if self.at("WITH"):
                    self._note_ignored_duplicates(node)
                self.options(
                    TABLE_OPTIONS | {"ALGORITHM", "WAIT", "NOWAIT", "RATIO"}, clauses, frozenset(("WHERE", "INCLUDE"))
                )
                if self.pos == first:
                    self.fail("an index option")

    def create_view(self, first: int, modifiers: set[str]) -> CreateView:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        clauses: set[str] = set()
        columns: list[str] = []
        if self.at("OF"):
            self._skip_to_as()
            clauses.add(self.clause("typed-view", first))
        if self.at("("):
            columns = self._view_columns()
        while not self.at("AS"):
            start = self.pos
            if self.accept("USING") or self.accept("TABLESPACE"):
                self.identifier()
            elif self.accept("WITH"):
                if self.at("("):
                    self.skip_parenthesized()
                    continue
                while self.words[self.pos] in _VIEW_OPTIONS:
                    clauses.add(self.clause(f"view-{self.words[self.pos].lower().replace('_', '-')}", self.pos))
                    self.pos += 1
                    self.accept(",")
            else:
                self.fail("AS")
            if self.pos == start:
                self.fail("AS")
        self.expect("AS")
        self.locking_modifiers()
        query = self._statement_query()
        assert query is not None
        check = False
        while self.words[self.pos] == "WITH":
            start = self.pos
            self.pos += 1
            if self.accept("NO", "ROW", "MOVEMENT") or self.accept("ROW", "MOVEMENT") or self.accept("READ", "ONLY"):
                continue
            if self.accept("DATA") or self.accept("NO", "DATA"):
                continue
            self.accept_any(("CASCADED", "LOCAL"))
            if not self.accept("CHECK", "OPTION"):
                self.pos = start
                break
            check = True
        node = CreateView(first, self.pos, name, columns, query, "MATERIALIZED" in modifiers, check, False, clauses)
        if modifiers & {"TEMPORARY", "TEMP"}:
            clauses.add(self.clause("temporary-view", first))
        if "RECURSIVE" in modifiers:
            clauses.add(self.clause("recursive-view", first))
        self.nodes.append(node)
        return node

    def locking_modifiers(self) -> None:
        """Read LOCKING ... FOR ... before a query, where the engine has it."""

    def _skip_to_as(self) -> None:
        while not self.at("AS"):
            if self.kinds[self.pos] == END:
                self.fail("AS")
            self.skip_parenthesized() if self.at("(") else self._step()

    def _view_columns(self) -> list[str]:
        self.expect("(")
        columns: list[str] = []
        while True:
            columns.append(self.any_word())
            while self.words[self.pos] not in (",", ")", ""):
                self.skip_parenthesized() if self.at("(") else self._step()
            if not self.accept(","):
                break
        self.expect(")")
        return columns
