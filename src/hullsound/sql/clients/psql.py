"""Scripts of psql: backslash commands, COPY with its rows, and dollar quotes whose inside is read as well."""

import re
from typing import Final

from hullsound.sql.clients.terminated import TerminatedReader
from hullsound.sql.lexer import FENCE, SYMBOL, lex_into

_DOLLAR: Final = re.compile(r"(?<![\w$])\$(?:[^\W\d]\w*)?\$")


class PsqlReader(TerminatedReader):
    """Reads a script as psql takes it."""

    directive_line = (
        r"^[ \t]*(?P<word>\\(?:[A-Z]+\+?|[!?.]))(?P<rest>[^\n]*)"
        r"|(?P<copy>^COPY\b[^;]*?\bFROM\s+STDIN\b[^;\n]*;[^\n]*\n)"
        r"|(?P<dollar>(?<![\w$])\$(?:[^\W\d]\w*)?\$)"
    )
    code_kinds = frozenset(("RULE",))
    code_openers = frozenset()

    def boundary(self, match: re.Match[str]) -> int:
        if match["dollar"] is not None:
            return self._fence(match.start(), match.end(), len(self.tokens.text))
        if match["copy"] is not None:
            return self._copy(match)
        return super().boundary(match)

    def ends_before_directive(self, word: str) -> bool:
        return word not in ("\\R",)

    def _copy(self, match: re.Match[str]) -> int:
        """Read COPY ... FROM stdin, and pass over its rows."""
        self.finish_statements()
        if self.open < len(self.tokens.words):
            return -1
        lex_into(self.tokens, self.dialect, match.start(), match.end())
        self.finish_statements()
        text = self.tokens.text
        if text.startswith("\\.", match.end()):
            return match.end() + 2
        end = text.find("\n\\.", match.end() - 1)
        return len(text) if end < 0 else end + 3

    def _fence(self, start: int, inside: int, limit: int) -> int:
        """Add a dollar-quoted text as two fences with the tokens of its inside between them."""
        tokens = self.tokens
        tag = tokens.text[start:inside]
        end = tokens.text.find(tag, inside, limit)
        if end < 0:
            tokens.add(tokens.upper[start:limit], SYMBOL, start, limit)
            return limit
        opening = len(tokens.words)
        if not self.fences or tokens.fences.get(self.fences[-1], opening) < opening:
            self.fences.append(opening)
        tokens.fences[opening] = 2**31
        tokens.add(tag.upper(), FENCE, start, inside)
        self._inside(inside, end)
        tokens.fences[opening] = len(tokens.words)
        tokens.add(tag.upper(), FENCE, end, end + len(tag))
        return end + len(tag)

    def _inside(self, position: int, end: int) -> None:
        """Lex the inside of a dollar quote, which may hold others."""
        tokens = self.tokens
        search = position
        while True:
            match = _DOLLAR.search(tokens.text, search, end)
            start = match.start() if match else end
            stop = (
                lex_into(tokens, self.dialect, position, start, is_bounded=match is None)
                if start > position
                else position
            )
            if match is None:
                return
            if stop > start:
                position = search = min(stop, end)
                continue
            position = search = self._fence(start, match.end(), end)

    def opens_code(self, at: int) -> bool:
        words = self.tokens.words
        if words[at] != "CREATE":
            return False
        if "RULE" in words[at + 1 : at + 4]:
            return True
        # A standard body, BEGIN ATOMIC ... END, has terminators inside.
        end = self.next_terminator(at, len(words))
        return "ATOMIC" in words[at:end] and any(
            words[i] == "BEGIN" and words[i + 1] == "ATOMIC" for i in range(at, end - 1)
        )
