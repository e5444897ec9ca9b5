"""Scripts of the mysql client: DELIMITER, dumps with rows, and settings that change how text is read."""

import re
from typing import Final

from hullsound.sql.clients.terminated import TerminatedReader
from hullsound.sql.dialect import load_dialect
from hullsound.sql.lexer import SYMBOL, lex_into
from hullsound.sql.statements import Directive

_ROWS_WORTH_PASSING: Final = 4_000
"""Characters from which the rows of an INSERT are passed over rather than read."""
_ROWS: Final = re.compile(
    r"(?:[^'\";]|'[^'\\]*(?:(?:\\[\s\S]|'')[^'\\]*)*'|\"[^\"\\]*(?:(?:\\[\s\S]|\"\")[^\"\\]*)*\")*+;"
)
_MODES: Final = re.compile(r"SQL_MODE\s*:?=\s*'([^']*)'")


class MysqlReader(TerminatedReader):
    """Reads a script as the mysql client takes it."""

    directive_line = (
        r"^[ \t]*(?P<word>DELIMITER\b|SOURCE\b|\\[.!TRUC#]|SYSTEM\b|TEE\b|NOTEE\b|PROMPT\b|PAGER\b)(?P<rest>[^\n]*)"
        r"|(?P<mode>^[ \t]*(?:/\*M?!\d*[ \t]*)?SET\b[^\n]*\bSQL_MODE\s*:?=[^\n]*$)"
        r"|(?P<rows>^(?:INSERT|REPLACE)(?:[ \t]+IGNORE)?[ \t]+INTO[ \t]+[^\s(]+[ \t]*(?:\([^()']*\)[ \t]*)?VALUES)"
        r"|(?P<go>\\[GP]\b)"
    )

    code_openers = frozenset(("BEGIN", "IF", "LOOP", "WHILE", "REPEAT", "FOR", "CASE"))

    def boundary(self, match: re.Match[str]) -> int:
        if match["mode"] is not None:
            return self._switch_mode(match)
        if match["rows"] is not None:
            return self._pass_rows(match)
        if match["go"] is not None:
            self.close_statements(match.start())
            return match.end()
        return super().boundary(match)

    def ends_before_directive(self, word: str) -> bool:
        return word == "DELIMITER"

    def _switch_mode(self, match: re.Match[str]) -> int:
        """Read the line under the old settings, and what follows under the new."""
        ending = match[0].find(self.terminator) if self.terminator != ";" else -1
        end = match.end() if ending < 0 else match.start() + ending
        stop = lex_into(self.tokens, self.dialect, match.start(), end)
        self.finish_statements()
        if self.terminator == ";" and self.open < len(self.tokens.words) and not self.opens_code(self.open):
            return stop
        found = _MODES.search(match[0])
        if found:
            modes = frozenset(word.strip() for word in found[1].split(",") if word.strip())
            self.dialect = load_dialect(self.dialect.engine, modes)
        elif self.dialect.modes:
            self.dialect = load_dialect(self.dialect.engine)
        return stop

    def _pass_rows(self, match: re.Match[str]) -> int:
        """Pass over the rows of a long INSERT: they are data."""
        self.finish_statements()
        if self.terminator != ";" or self.open < len(self.tokens.words):
            return -1
        rows = _ROWS.match(self.tokens.text, match.end())
        if rows is None or rows.end() - match.end() < _ROWS_WORTH_PASSING:
            return -1
        lex_into(self.tokens, self.dialect, match.start(), match.end(), is_bounded=True)
        self.tokens.add(";", SYMBOL, rows.end() - 1, rows.end())
        self.finish_statements()
        return rows.end()

    def obey(self, directive: Directive) -> None:
        if directive.word == "DELIMITER":
            self.terminator = directive.rest.split()[0].strip("'\"") if directive.rest else ";"
