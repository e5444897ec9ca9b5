"""The cursor all grammars share: moving over tokens, names, errors that stay inside their container."""

import re
from typing import Final, NoReturn

from hullsound.sql.dialect import Client, Dialect, NameCase
from hullsound.sql.levels import STANDARD
from hullsound.sql.lexer import BIND, END, FENCE, NUMBER, QUOTED, STRING, WORD, Tokens
from hullsound.sql.tree import Clause, Node, Parts, Statement, Unread

MAX_DEPTH: Final = 90
"""Deepest nesting that is read; deeper code becomes an unread span instead of exhausting the stack."""

_SUBSTITUTION: Final = re.compile(r"&{1,2}(\w+)\.?|\$\((\w+)\)")


_LEVELS: Final[dict[tuple[str, frozenset[str]], dict[str, int]]] = {}


def _levels(dialect: Dialect) -> dict[str, int]:
    """Return the level of every operator of a dialect; worked out once."""
    key = (dialect.engine, dialect.modes)
    known = _LEVELS.get(key)
    if known is None:
        known = _LEVELS[key] = {**STANDARD, **dialect.operators}
    return known


class Unreadable(Exception):  # noqa: N818 - never leaves the parser, so it is a signal rather than an error
    """The token at `at` does not fit the grammar."""

    def __init__(self, at: int, reason: str) -> None:
        super().__init__(reason)
        self.at = at
        self.reason = reason


class UnitEnds(Exception):  # noqa: N818 - as above; it passes through all recovery inside a unit
    """Another unit of code begins before this one has ended, so that all behind belongs to that one."""


_UNIT_WORDS: Final = frozenset(("PROCEDURE", "FUNCTION", "TRIGGER", "PACKAGE", "EVENT", "MACRO"))


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
        self.levels = _levels(dialect)
        self.open_operators = dialect.open_operators
        self.fills_names = dialect.client is Client.PSQL
        """Whether variables of the client, such as :schema, stand for names."""
        self.variables = variables or {}
        """Client substitution variables with their values, by upper-cased name."""

    def statement(self) -> Statement | None:
        """Read the statement that is next; None if no known word opens it. The parser of each grammar does it."""
        raise NotImplementedError

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

    def guard_unit(self) -> None:
        """Raise UnitEnds if CREATE and a kind of code unit begin this line, which no body of code can hold."""
        words, pos = self.words, self.pos
        if words[pos] not in ("CREATE", "REPLACE") or not _UNIT_WORDS.intersection(words[pos + 1 : pos + 5]):
            return
        tokens = self.tokens
        if pos and "\n" in tokens.text[tokens.ends[pos - 1] : tokens.starts[pos]]:
            raise UnitEnds

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

    def skip_rest(self) -> None:
        """Step over all that is left of the statement, whose parentheses must match."""
        words, kinds = self.words, self.kinds
        while kinds[self.pos] != END and words[self.pos] != ";":
            word = words[self.pos]
            if word == "(":
                self.skip_parenthesized()
            elif word == ")":
                self.fail("the end of the statement")
            elif kinds[self.pos] == FENCE:
                if self.pos not in self.tokens.fences:
                    return  # the end of the text that this statement stands in
                self.skip_fence()
            else:
                self.pos += 1

    def skip_fence(self) -> None:
        """Step over a fenced text that is next."""
        if self.pos not in self.tokens.fences:
            self.fail("something before the end of the body")
        self.pos = self.tokens.fences[self.pos] + 1

    # --- names ---

    def is_name(self) -> bool:
        """Whether the next token can be an identifier."""
        kind = self.kinds[self.pos]
        if kind == WORD:
            return self.words[self.pos] not in self.reserved
        return kind == QUOTED or (kind == BIND and self.fills_names)

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
            return self.substitute(word) if "&" in word or "$(" in word else word
        if kind == QUOTED:
            self.pos = pos + 1
            return self._quoted_name(pos)
        if kind == BIND and self.fills_names:
            self.pos = pos + 1
            return self.words[pos]
        self.fail("a name")

    def _quoted_name(self, pos: int) -> str:
        """Return a quoted name in the form in which unquoted spellings of the same name are kept."""
        text = self.tokens.source(pos, pos + 1)
        closing = text[-1]
        opening = text.index("[" if closing == "]" else closing)
        name = text[opening + 1 : -1].replace(closing * 2, closing)
        if "$(" in name:
            name = self.substitute(name)
        match self.dialect.name_case:
            case NameCase.UPPER:
                return name
            case NameCase.INSENSITIVE:
                return name.upper()
            case NameCase.LOWER:
                # Stored in lower case where unquoted; upper case is the form in which the tree keeps such names.
                return name.upper() if name == name.lower() else f'"{name}"' if name == name.upper() else name

    def signed_number(self) -> str:
        """Read a number and its sign where one stands here; '' where none does."""
        sign = "-" if self.accept("-") else ""
        if self.kinds[self.pos] != NUMBER:
            return ""
        self.pos += 1
        return sign + self.words[self.pos - 1]

    def any_word(self) -> str:
        """Read one word, reserved or not, or a quoted name."""
        if self.kinds[self.pos] == WORD:
            self.pos += 1
            return self.words[self.pos - 1]
        return self.identifier()

    def substitute(self, word: str) -> str:
        """Fill in client substitution variables whose value the script defines."""
        return _SUBSTITUTION.sub(
            lambda match: self.variables.get(match[1] or match[2], match[0].rstrip(".")).upper(), word
        )

    def qualified_name(self) -> Parts:
        """Read a name with its qualifiers."""
        parts = [self.identifier()]
        while self.words[self.pos] == "." and self.words[self.pos + 1] != "*":
            self.pos += 1
            parts.append("" if self.words[self.pos] == "." else self.any_word())
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
