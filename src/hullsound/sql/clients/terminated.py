"""Scripts whose statements end at a terminator that the script may change: Db2, Teradata and SQLite, and what MySQL shares."""

import re
from functools import cache
from typing import Final

from hullsound.sql.clients.reader import CREATE_WORDS, ScriptReader
from hullsound.sql.lexer import WORD, lex_into
from hullsound.sql.statements import Directive, Script

_CODE_KINDS: Final = frozenset(("PROCEDURE", "FUNCTION", "TRIGGER", "EVENT", "MODULE", "MACRO"))


class TerminatedReader(ScriptReader):
    """Reads statements up to their terminator; the lines of directives stand between them."""

    directive_line = r"(?!)"
    """Regular expression, against upper-cased text, of a line for the client; groups `word` and `rest`."""
    code_kinds = _CODE_KINDS
    code_openers = frozenset(("BEGIN",))
    terminator = ";"

    def read(self) -> Script:
        tokens = self.tokens
        text, upper = tokens.text, tokens.upper
        position = search = 0
        while True:
            match = _boundary(self.directive_line, self.terminator).search(upper, search)
            start = match.start() if match else len(text)
            stop = lex_into(tokens, self.dialect, position, start) if start > position else position
            if match is None:
                break
            if stop > start:
                position = search = stop
                continue
            position, search = start, match.end()
            found = self.boundary(match)
            if found >= 0:
                position = search = found
        self.finish_statements()
        self.close_statements(len(text))
        return self.script

    def boundary(self, match: re.Match[str]) -> int:
        """Act on a boundary; return where the text goes on, or -1 if it is none."""
        if match["terminator"]:
            self.close_statements(match.start())
            return match.end()
        self.finish_statements()
        if self.open < len(self.tokens.words) and not self.ends_before_directive(match["word"]):
            return -1
        self.close_statements(match.start())
        rest = self.tokens.text[match.start("rest") : match.end("rest")].strip()
        directive = Directive(match["word"].strip(), rest, match.start(), match.end())
        self.script.items.append(directive)
        self.obey(directive)
        return match.end()

    def ends_before_directive(self, word: str) -> bool:
        """Whether a directive may follow a statement that no terminator has ended."""
        return True

    def obey(self, directive: Directive) -> None:
        """Act on a directive that changes how the script goes on."""

    def finish_statements(self) -> None:
        if self.terminator == ";":
            super().finish_statements()

    def opens_code(self, at: int) -> bool:
        if self.terminator != ";":
            return True
        words, kinds = self.tokens.words, self.tokens.kinds
        word = words[at]
        count = len(words)
        if word in self.code_openers:
            return at + 1 < count and words[at + 1] not in (
                ";",
                "TRANSACTION",
                "WORK",
                "IMMEDIATE",
                "DEFERRED",
                "EXCLUSIVE",
                "",
            )
        if at + 1 < count and words[at + 1] == ":" and kinds[at] == WORD:
            return True
        if word not in ("CREATE", "REPLACE", "ALTER"):
            return False
        at += 1
        while at < count and (words[at] in CREATE_WORDS or words[at] == "TEMPORARY"):
            at += 1
        if at < count and words[at] in ("DEFINER", "SQL"):
            while at < count and words[at] not in self.code_kinds and words[at] not in ("VIEW", ";"):
                at += 1
        return at < count and words[at] in self.code_kinds


@cache
def _boundary(directive_line: str, terminator: str) -> re.Pattern[str]:
    ends = re.escape(terminator.upper()) if terminator != ";" else "(?!)"
    return re.compile(rf"(?:{directive_line})|(?P<terminator>{ends})", re.MULTILINE)


class SqliteReader(TerminatedReader):
    """Reads scripts of the sqlite3 shell: dot commands, lines of comment that begin with #, triggers with statements inside."""

    directive_line = r"^(?P<word>\.[A-Z]+|#)(?P<rest>[^\n]*)"
    code_kinds = frozenset(("TRIGGER",))
    code_openers = frozenset()

    def ends_before_directive(self, word: str) -> bool:
        return word != "#"


class BteqReader(TerminatedReader):
    """Reads scripts of BTEQ: dot commands, and statements that end at `;`."""

    directive_line = r"^[ \t]*(?P<word>\.[ \t]*[A-Z]+)(?P<rest>[^\n]*)"
    code_kinds = frozenset(("PROCEDURE", "MACRO", "TRIGGER", "FUNCTION"))
    code_openers = frozenset(("BEGIN",))

    def opens_code(self, at: int) -> bool:
        words = self.tokens.words
        if words[at : at + 2] == ["BEGIN", "TRANSACTION"] or words[at : at + 1] == ["BT"]:
            return False
        return super().opens_code(at)


class Db2Reader(TerminatedReader):
    """Reads scripts of the Db2 command line processor, whose terminator may be any character."""

    directive_line = r"^--#SET[ \t]+(?P<word>TERMINATOR|DELIMITER)(?P<rest>[^\n]*)"
    code_kinds = frozenset(("PROCEDURE", "FUNCTION", "TRIGGER", "MODULE"))

    def read(self) -> Script:
        self.terminator = guess_terminator(self.tokens.text)
        return super().read()

    def obey(self, directive: Directive) -> None:
        self.terminator = directive.rest[:1] or ";"


_TERMINATED: Final = re.compile(
    r"(?:\bEND(?:[ \t]+\w+)?|\)|;)[ \t]*\n?[ \t]*([@!%#/])[ \t\r]*$", re.MULTILINE | re.IGNORECASE
)


_COMMENT: Final = re.compile(r"--[^\n]*|/\*.*?\*/", re.DOTALL)


def guess_terminator(text: str) -> str:
    """Return the character that ends statements of a Db2 script, by the look of the ends of its lines."""
    if "--#SET TERM" in text.upper():
        return ";"
    found = _TERMINATED.search(_COMMENT.sub("", text))
    return found[1] if found else ";"
