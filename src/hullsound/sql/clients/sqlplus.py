"""Scripts for SQL*Plus: statements end at `;`, code units at a line with `/`, directives at the end of their line."""

import re
from functools import cache
from typing import Final

from hullsound.sql.clients.reader import CREATE_WORDS, ScriptReader
from hullsound.sql.dialect import load_dialect
from hullsound.sql.lexer import lex_into
from hullsound.sql.statements import Directive, Script

_CODE_KINDS: Final = frozenset(("PROCEDURE", "FUNCTION", "PACKAGE", "TRIGGER", "TYPE", "LIBRARY", "JAVA"))
_RUNNING: Final = frozenset(("EXEC", "EXECUTE"))
"""Directives that run a call or an assignment as a block of code."""
_CONTINUED: Final = re.compile(r"-[ \t\r]*\n")


@cache
def _boundaries(engine: str) -> re.Pattern[str]:
    """Lines that may be for the client: a lone terminator, or a directive's word at the start of a line."""
    words = sorted((w for w in load_dialect(engine).directives if w.isalpha()), key=len, reverse=True)
    return re.compile(
        rf"^[ \t]*(?:/[ \t\r]*$|(?P<word>@@?|\#|[!$](?=\s|\w)|(?:{'|'.join(words)})\b)(?P<rest>(?:[^\n]*-[ \t\r]*\n)*[^\n]*))",
        re.MULTILINE,
    )


class SqlplusReader(ScriptReader):
    """Reads a script as SQL*Plus takes it."""

    def read(self) -> Script:
        tokens = self.tokens
        text, upper = tokens.text, tokens.upper
        position = 0
        for match in _boundaries(self.dialect.engine).finditer(upper):
            start = match.start()
            if start < position:
                continue
            position = lex_into(tokens, self.dialect, position, start)
            if position > start:
                continue
            self.finish_statements()
            word = match["word"]
            if word is None:
                self.close_statements(start)
                position = match.end()
            elif self.open == len(tokens.words) and word in _RUNNING:
                self._run(match)
                position = match.end()
            elif self.open == len(tokens.words) and not self._is_sql(word, match["rest"]):
                rest = text[match.start("rest") : match.end()]
                self._directive(Directive(word, rest.strip(), start, match.end()))
                position = match.end()
        lex_into(tokens, self.dialect, position, len(text))
        self.finish_statements()
        self.close_statements(len(text))
        return self.script

    def _run(self, match: re.Match[str]) -> None:
        """Read EXECUTE with the call or assignment behind it, which ends with its line unless a hyphen goes on with it."""
        position = match.start("word")
        for line in _CONTINUED.finditer(self.tokens.upper, position, match.end()):
            lex_into(self.tokens, self.dialect, position, line.start())
            position = line.end()
        lex_into(self.tokens, self.dialect, position, match.end())
        self.close_statements(match.end())

    def _is_sql(self, word: str, rest: str) -> bool:
        following = self.dialect.directives.get(word, ())
        return bool(following) and rest.split(None, 1)[:1] != [] and rest.split(maxsplit=1)[0].rstrip(";") in following

    def _directive(self, directive: Directive) -> None:
        self.script.items.append(directive)
        if directive.word in ("DEFINE", "DEF"):
            name, separator, value = directive.rest.rstrip(";").partition("=")
            if separator:
                self.variables[name.strip().upper()] = value.strip().strip("'\"")

    def opens_code(self, at: int) -> bool:
        """Whether the statement at token `at` holds code and so ends at a line with `/`."""
        words = self.tokens.words
        word = words[at]
        if word in ("DECLARE", "BEGIN", "<<"):
            return True
        count = len(words)
        if word == "WITH":
            return at + 1 < count and words[at + 1] in ("FUNCTION", "PROCEDURE")
        if word != "CREATE":
            return False
        at += 1
        while at < count and words[at] in CREATE_WORDS:
            at += 1
        return at < count and words[at] in _CODE_KINDS
