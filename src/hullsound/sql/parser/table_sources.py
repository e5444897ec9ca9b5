"""Tables in FROM, with alias, hints, samples and periods."""

from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import QUOTED, STRING, WORD
from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.tree import (
    Node,
    TableRef,
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


class TableSourceParser(ExpressionParser):
    """Reads one named table."""

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
            return "" if self._is_label() else self.identifier()
        return ""

    def _is_label(self) -> bool:
        """Whether a word is a label of T-SQL, with which the next statement begins."""
        return self.dialect.engine in ("sqlserver", "ase") and self.words[self.pos + 1] == ":"

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
            self.clause("only-table", first)
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
