"""What stands behind a query: limits, locks, isolation, options of the engine."""

from collections.abc import Callable
from typing import Final

from hullsound.sql.dialect import Client
from hullsound.sql.lexer import END, STRING, WORD
from hullsound.sql.parser.grouping import GroupingParser
from hullsound.sql.tree import (
    OrderItem,
)

_SHAPES: Final = frozenset(
    """AUTO RAW EXPLICIT PATH ELEMENTS XSINIL ABSENT ROOT BINARY BASE64 TYPE XMLSCHEMA XMLDATA INCLUDE_NULL_VALUES
    WITHOUT_ARRAY_WRAPPER , """.split()
)
_FILE_WORDS: Final = frozenset(
    """CHARACTER SET FIELDS COLUMNS LINES TERMINATED OPTIONALLY ENCLOSED ESCAPED BY STARTING UTF8 UTF8MB4 LATIN1
    BINARY CHARSET""".split()
)


class QueryTailParser(GroupingParser):
    """Reads the clauses behind a query."""

    def _query_tail(self, order: list[OrderItem]) -> None:
        """Read what limits, locks or shapes a result, in any order."""
        while True:
            first = self.pos
            word = self.words[first]
            reader = _TAILS.get(word)
            if reader is not None and reader(self, first):
                if self.words[self.pos] == "ORDER" and not order:
                    order += self.order_items()
                continue
            return

    def _offset(self, first: int) -> bool:
        self.pos += 1
        self.expression()
        self.accept_any(("ROW", "ROWS"))
        self.clause("offset", first)
        return True

    def _limit(self, first: int) -> bool:
        self.pos += 1
        if not self.at("ROWS", "EXAMINED"):
            if not self.accept("ALL"):
                self.expression()
            if self.accept(",") or self.accept("OFFSET"):
                self.expression()
                self.accept_any(("ROW", "ROWS"))
            self.clause("limit", first)
        if self.accept("ROWS"):
            self.expect("EXAMINED")
            self.expression()
        return True

    def _fetch_rows(self, first: int) -> bool:
        if self.words[first + 1] not in ("FIRST", "NEXT") or self.words[first + 2] == "FROM":
            return False  # the latter begins a statement on a cursor
        self._fetch_first(first)
        return True

    def _for(self, first: int) -> bool:
        """Read FOR UPDATE, SHARE, READ ONLY, XML, JSON and BROWSE."""
        word, following = self.words[first + 1], self.words[first + 2]
        if word in ("UPDATE", "SHARE") or (word in ("NO", "KEY") and following in ("KEY", "SHARE", "UPDATE")):
            while self.words[self.pos + 1] not in ("UPDATE", "SHARE"):
                self.pos += 1
            self._for_update(first)
        elif word in ("READ", "FETCH") and following == "ONLY":
            self.pos += 3
            self.clause("for-read-only", first)
        elif word in ("XML", "JSON", "BROWSE"):
            self.pos += 2
            while self.words[self.pos] in _SHAPES or (self.at(",") and self.words[self.pos + 1] in _SHAPES):
                self.pos += 1
                if self.at("("):
                    self.skip_parenthesized()
            self.clause(f"for-{word.lower()}", first)
        else:
            return False
        return True

    def _lock_in_share_mode(self, first: int) -> bool:
        if not self.accept("LOCK", "IN", "SHARE", "MODE"):
            return False
        self._waiting(first)
        self.clause("lock-in-share-mode", first)
        return True

    def _query_option(self, first: int) -> bool:
        """Read OPTION (hints) and PLAN '...'."""
        if self.words[first] == "PLAN" and self.kinds[first + 1] == STRING:
            self.pos += 2
        elif self.words[first + 1] == "(" and self.words[first] == "OPTION":
            self.pos += 1
            self.skip_parenthesized()
        else:
            return False
        self.clause("query-option", first)
        return True

    def _isolation(self, first: int) -> bool:
        """Read WITH UR, and AT ISOLATION of the T-SQL family."""
        if self.words[first] == "AT":
            if not self.accept("AT", "ISOLATION"):
                return False
            self.any_word()
            self.accept_any(("UNCOMMITTED", "COMMITTED", "READ"))
        else:
            if self.words[first + 1] not in ("UR", "CS", "RS", "RR"):
                return False
            self.pos += 2
            if self.accept("USE", "AND", "KEEP"):
                self.any_word()
                self.expect("LOCKS")
        self.clause("isolation-clause", first)
        return True

    def _optimize(self, first: int) -> bool:
        if not self.accept("OPTIMIZE", "FOR"):
            return False
        self.expression()
        self.accept_any(("ROW", "ROWS"))
        self.clause("optimize-for", first)
        return True

    def _late_into(self, first: int) -> bool:
        """Read INTO where it stands at the end of a query."""
        if self.words[first + 1] in ("OUTFILE", "DUMPFILE"):
            self.pos += 1
            self.clause(f"into-{self.any_word().lower()}", first)
            self._step()
            while self.words[self.pos] in _FILE_WORDS or self.is_string():
                self.pos += 1
        else:
            self.pos += 1
            self.accept("STRICT")
            self.expressions()
            self.clause("select-into-variables", first)
        return True

    def _sample(self, first: int) -> bool:
        self.pos += 1
        self.accept("WITH", "REPLACEMENT")
        self.accept("RANDOMIZED", "ALLOCATION")
        self.expressions() if not self.at("WHEN") else self._skip_to_end_word()
        self.clause("sample", first)
        return True

    def _skip_to_end_word(self) -> None:
        while self.words[self.pos] != "END":
            if self.kinds[self.pos] == END:
                self.fail("END")
            self.pos += 1
        self.pos += 1

    def _compute(self, first: int) -> bool:
        if self.words[first + 2] != "(":
            return False
        self.pos += 1
        self.expressions()
        if self.accept("BY"):
            self.expressions()
        self.clause("compute", first)
        return True

    def _procedure(self, first: int) -> bool:
        if not self.accept("PROCEDURE"):
            return False
        self.operand()
        self.clause("procedure-analyse", first)
        return True

    def _skip_locked(self, first: int) -> bool:
        if not self.accept("SKIP", "LOCKED", "DATA"):
            return False
        self.clause("skip-locked", first)
        return True

    def _with_rollup_summary(self, first: int) -> bool:
        """Read WITH ... BY, the summary lines of a report."""
        pos = first + 1
        while self.kinds[pos] == WORD and self.words[pos] not in self.reserved:
            pos += 1
        if self.words[first] != "WITH" or self.words[pos] != "(" or self.dialect.client is not Client.BTEQ:
            return self._isolation(first)
        self.pos += 1
        self.expressions()
        if self.accept("BY"):
            self.expressions()
        self.clause("with-by", first)
        return True

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
        if self.words[self.pos - 1] == "SHARE":
            name = "for-share"
        if self.accept("OF"):
            self.qualified_name()
            while self.accept(","):
                self.qualified_name()
            name = name if name == "for-share" else "for-update-of"
        if self.accept("WITH", "RS") or self.accept("WITH", "RR"):
            self.clause("isolation-clause", first)
        else:
            self._waiting(first)
        self.clause(name, first)

    def _waiting(self, first: int) -> None:
        """Read what a lock says of rows that others hold."""
        if self.accept("SKIP", "LOCKED"):
            self.clause("skip-locked", self.pos - 2)
        elif self.accept("WAIT"):
            self.expression()
            self.clause("for-update-wait", first)
        else:
            self.accept("NOWAIT")


_TAILS: Final[dict[str, Callable[[QueryTailParser, int], bool]]] = {
    "OFFSET": QueryTailParser._offset,
    "LIMIT": QueryTailParser._limit,
    "FETCH": QueryTailParser._fetch_rows,
    "FOR": QueryTailParser._for,
    "LOCK": QueryTailParser._lock_in_share_mode,
    "OPTION": QueryTailParser._query_option,
    "PLAN": QueryTailParser._query_option,
    "WITH": QueryTailParser._with_rollup_summary,
    "AT": QueryTailParser._isolation,
    "OPTIMIZE": QueryTailParser._optimize,
    "INTO": QueryTailParser._late_into,
    "SAMPLE": QueryTailParser._sample,
    "COMPUTE": QueryTailParser._compute,
    "PROCEDURE": QueryTailParser._procedure,
    "SKIP": QueryTailParser._skip_locked,
}
