"""The cursor all grammars share: moving over tokens, names, errors that stay inside their container."""

import re
from typing import Final, NoReturn

from hullsound.sql.dialect import Dialect
from hullsound.sql.lexer import END, QUOTED, STRING, WORD, Tokens
from hullsound.sql.tree import Clause, Node, Parts, Unread

MAX_DEPTH: Final = 90
"""Deepest nesting that is read; deeper code becomes an unread span instead of exhausting the stack."""

_SUBSTITUTION: Final = re.compile(r"&{1,2}(\w+)\.?")


class Unreadable(Exception):  # noqa: N818 - never leaves the parser, so it is a signal rather than an error
    """The token at `at` does not fit the grammar."""

    def __init__(self, at: int, reason: str) -> None:
        super().__init__(reason)
        self.at = at
        self.reason = reason


class Core:
    """A position in the tokens of one statement, and the flat list of nodes made so far."""

    def __init__(self, tokens: Tokens, dialect: Dialect, pos: int, variables: dict[str, str] | None = None) -> None:
        self.tokens = tokens
        self.dialect = dialect
        self.words = tokens.words
        self.kinds = tokens.kinds
        self.pos = pos
        self.depth = 0
        self.nodes: list[Node] = []
        self.reserved = dialect.reserved
        self.variables = variables or {}
        """Client substitution variables with their values, by upper-cased name."""

    # --- errors ---

    def fail(self, expected: str) -> NoReturn:
        at = self.pos
        found = "the end of the statement" if self.kinds[at] == END else repr(self.tokens.source(at, at + 1)[:40])
        raise Unreadable(at, f"expected {expected}, found {found}")

    def deepen(self) -> None:
        self.depth += 1
        if self.depth > MAX_DEPTH:
            raise Unreadable(self.pos, f"nested deeper than {MAX_DEPTH} levels")

    def unread(self, first: int, last: int, reason: str) -> Unread:
        node = Unread(first, max(last, first), reason)
        self.nodes.append(node)
        return node

    # --- moving ---

    def at(self, *words: str) -> bool:
        """Whether the next tokens are these words."""
        pos = self.pos
        return tuple(self.words[pos : pos + len(words)]) == words

    def accept(self, *words: str) -> bool:
        """Step over these words if they are next."""
        pos = self.pos
        if self.words[pos] != words[0]:
            return False
        if len(words) > 1 and tuple(self.words[pos : pos + len(words)]) != words:
            return False
        self.pos = pos + len(words)
        return True

    def expect(self, *words: str) -> int:
        """Step over these words, which must be next; return the index of the first."""
        pos = self.pos
        for word in words:
            if self.words[self.pos] != word:
                self.fail(word)
            self.pos += 1
        return pos

    def accept_any(self, words: "frozenset[str] | tuple[str, ...]") -> str:
        """Step over the next token if it is one of `words`; return it, else ''."""
        word = self.words[self.pos]
        if word in words and word:
            self.pos += 1
            return word
        return ""

    def skip_parenthesized(self) -> None:
        """Step over a balanced (...) that is next."""
        words = self.words
        self.expect("(")
        depth = 1
        pos = self.pos
        while depth:
            word = words[pos]
            if word == "(":
                depth += 1
            elif word == ")":
                depth -= 1
            elif word == "":
                self.pos = pos
                self.fail("')'")
            pos += 1
        self.pos = pos

    # --- names ---

    def is_name(self) -> bool:
        """Whether the next token can be an identifier."""
        kind = self.kinds[self.pos]
        return (kind == WORD and self.words[self.pos] not in self.reserved) or kind == QUOTED

    def is_string(self) -> bool:
        """Whether the next token is a text literal."""
        return self.kinds[self.pos] == STRING

    def identifier(self) -> str:
        """Read one identifier and return it as the engine stores it."""
        pos = self.pos
        kind = self.kinds[pos]
        if kind == WORD:
            word = self.words[pos]
            if word in self.reserved:
                self.fail("a name")
            self.pos = pos + 1
            return self.substitute(word) if "&" in word else word
        if kind == QUOTED:
            self.pos = pos + 1
            return self.tokens.text[self.tokens.starts[pos] + 1 : self.tokens.ends[pos] - 1].replace('""', '"')
        self.fail("a name")

    def any_word(self) -> str:
        """Read one word, reserved or not, or a quoted name."""
        if self.kinds[self.pos] == WORD:
            self.pos += 1
            return self.words[self.pos - 1]
        return self.identifier()

    def substitute(self, word: str) -> str:
        """Fill in client substitution variables whose value the script defines."""
        return _SUBSTITUTION.sub(lambda match: self.variables.get(match[1], match[0].rstrip(".")).upper(), word)

    def qualified_name(self) -> Parts:
        """Read a name with its qualifiers."""
        parts = [self.identifier()]
        while self.words[self.pos] == ".":
            self.pos += 1
            parts.append(self.any_word())
        return tuple(parts)

    def name_list(self) -> list[str]:
        """Read (name, name ...)."""
        self.expect("(")
        names = [self.identifier()]
        while self.accept(","):
            names.append(self.identifier())
        self.expect(")")
        return names

    def clause(self, name: str, first: int) -> str:
        """Record that the clause `name` stands from token `first` to here."""
        self.nodes.append(Clause(first, self.pos, name))
        return name
