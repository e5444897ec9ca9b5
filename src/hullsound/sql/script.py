"""Cuts a script into statements and client directives, the way the engine's own client does."""

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from functools import cache
from typing import Final, TypeVar, cast

from .dialect import Client, Dialect, load_dialect
from .lexer import END, Tokens, lex_into
from .parser.core import Unreadable
from .parser.plsql import PlsqlParser
from .tree import Node, OtherStatement, Statement, Unread

_CODE_KINDS: Final = frozenset(("PROCEDURE", "FUNCTION", "PACKAGE", "TRIGGER", "TYPE", "LIBRARY", "JAVA"))
_N = TypeVar("_N", bound=Node)
MAX_STATEMENT_TOKENS: Final = 1_000_000
"""Longest statement that is read; a longer one is marked as unread, so that memory stays bounded."""
_LOOK_AHEAD: Final = 12
"""More tokens than any grammar looks at beyond the end of a statement."""
_CREATE_WORDS: Final = frozenset(
    ("OR", "REPLACE", "EDITIONABLE", "NONEDITIONABLE", "AND", "RESOLVE", "COMPILE", "FORCE")
)


@dataclass(slots=True)
class Directive:
    """A line for the client: its word (upper case), the rest of the line, and its offset in the text."""

    word: str
    rest: str
    start: int
    end: int


@dataclass(slots=True)
class ReadStatement:
    """One statement with its tokens [first, last), its tree and all nodes of that tree."""

    tokens: Tokens
    first: int
    last: int
    tree: Statement
    nodes: list[Node]
    is_complete: bool
    """Whether the grammar covered the statement as a whole; unread parts inside are among the nodes."""
    _by_kind: dict[type[Node], list[Node]] = field(default_factory=dict)

    @property
    def start(self) -> int:
        return self.tokens.starts[self.first]

    @property
    def end(self) -> int:
        return self.tokens.ends[self.last - 1]

    @property
    def text(self) -> str:
        return self.tokens.text[self.start : self.end]

    @property
    def by_kind(self) -> dict[type[Node], list[Node]]:
        """All nodes by their kind, sorted out once, when all of them are there."""
        if not self._by_kind:
            for node in self.nodes:
                self._by_kind.setdefault(node.__class__, []).append(node)
        return self._by_kind

    def all(self, kind: type[_N]) -> list[_N]:
        """Return the nodes of one kind, in the order in which the parser made them."""
        return cast("list[_N]", self.by_kind.get(kind, []))

    def unread(self) -> list[Unread]:
        return self.all(Unread)


@dataclass(slots=True)
class Script:
    """What a text holds, in order."""

    tokens: Tokens
    items: list[ReadStatement | Directive] = field(default_factory=list)

    def statements(self) -> Iterator[ReadStatement]:
        return (item for item in self.items if isinstance(item, ReadStatement))


@cache
def _boundaries(engine: str) -> re.Pattern[str]:
    """Lines that may be for the client: a lone terminator, or a directive's word at the start of a line."""
    words = sorted((w for w in load_dialect(engine).directives if w.isalpha()), key=len, reverse=True)
    return re.compile(
        rf"^[ \t]*(?:/[ \t\r]*$|(?P<word>@@?|[!$](?=\s|\w)|(?:{'|'.join(words)})\b)(?P<rest>(?:[^\n]*-[ \t\r]*\n)*[^\n]*))",
        re.MULTILINE,
    )


def read_script(text: str, dialect: Dialect, variables: dict[str, str] | None = None) -> Script:
    """Read a whole script. Never raises: what cannot be read is marked in its statement.

    `variables` are client substitution variables by upper-cased name; definitions met on the way are added to it.
    """
    assert dialect.client is Client.SQLPLUS
    return _SqlplusReader(text, dialect, variables if variables is not None else {}).read()


class _SqlplusReader:
    """SQL statements end at `;`, code units at a line with `/`, directives at the end of their line."""

    def __init__(self, text: str, dialect: Dialect, variables: dict[str, str]) -> None:
        self.dialect = dialect
        self.variables = variables
        self.tokens = Tokens(text)
        self.script = Script(self.tokens)
        self.open = 0
        """Index of the first token that belongs to no finished statement."""

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
            self._finish_statements()
            word = match["word"]
            if word is None:
                self._close_statement(start)
                position = match.end()
            elif self.open == len(tokens.words) and not self._is_sql(word, match["rest"]):
                rest = text[match.start("rest") : match.end()]
                self._directive(Directive(word, rest.strip(), start, match.end()))
                position = match.end()
        lex_into(tokens, self.dialect, position, len(text))
        self._finish_statements()
        self._close_statement(len(text))
        return self.script

    def _is_sql(self, word: str, rest: str) -> bool:
        following = self.dialect.directives.get(word, ())
        return bool(following) and rest.split(None, 1)[:1] != [] and rest.split(maxsplit=1)[0].rstrip(";") in following

    def _directive(self, directive: Directive) -> None:
        self.script.items.append(directive)
        if directive.word in ("DEFINE", "DEF"):
            name, separator, value = directive.rest.rstrip(";").partition("=")
            if separator:
                self.variables[name.strip().upper()] = value.strip().strip("'\"")

    def _finish_statements(self) -> None:
        """Read every SQL statement that its `;` has ended; a code unit stays open."""
        words = self.tokens.words
        while self.open < len(words):
            if self._opens_code(self.open):
                return
            try:
                end = words.index(";", self.open)
            except ValueError:
                return
            self._read(self.open, end)
            self.open = end + 1

    def _opens_code(self, at: int) -> bool:
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
        while at < count and words[at] in _CREATE_WORDS:
            at += 1
        return at < count and words[at] in _CODE_KINDS

    def _close_statement(self, offset: int) -> None:
        """Read what is still open, which ends at `offset`."""
        if self.open < len(self.tokens.words):
            end = len(self.tokens.words)
            self.tokens.add_end(offset)
            while self.open < end:
                self.open = self._read_unit(self.open, end)
            self.open = end + 1

    def _read_unit(self, first: int, end: int) -> int:
        """Read one code unit of the tokens [first, end); return where the next statement begins."""
        words = self.tokens.words
        if not self._opens_code(first):
            stop = words.index(";", first) if ";" in words[first:end] else end
            self._read(first, stop)
            return stop + 1
        parser, tree, complete = self._parse(first, end)
        if complete and words[parser.pos] == ";":
            parser.pos += 1
        stop = parser.pos
        if not complete or (stop < end and words[stop] not in _STATEMENT_WORDS):
            stop = self._next_unit(first, end)
            if complete:
                parser.unread(parser.pos, stop, "text behind the end of the unit")
        self._add(parser, first, stop, tree, complete)
        return stop

    def _next_unit(self, first: int, end: int) -> int:
        """Find where the next CREATE unit begins behind a broken one that no `/` has ended."""
        words = self.tokens.words
        for i in range(first + 1, end):
            if words[i] == "CREATE" and self._opens_code(i) and words[i - 1] == ";":
                return i
        return end

    def _parse(self, first: int, end: int) -> tuple[PlsqlParser, Statement, bool]:
        """Read one statement; END tokens behind it keep every look ahead inside the arrays."""
        words, kinds = self.tokens.words, self.tokens.kinds
        if end - first > MAX_STATEMENT_TOKENS:
            parser = PlsqlParser(self.tokens, self.dialect, first, self.variables)
            return parser, _give_up(parser, first, f"longer than {MAX_STATEMENT_TOKENS} words"), False
        missing = max(0, end + _LOOK_AHEAD - len(words))
        words += [""] * missing
        kinds += [END] * missing
        parser = PlsqlParser(self.tokens, self.dialect, first, self.variables)
        tree, complete = _parse(parser, first)
        if missing:
            del words[-missing:], kinds[-missing:]
        return parser, tree, complete

    def _read(self, first: int, end: int) -> None:
        """Read the statement of the tokens [first, end); the token at `end` is `;` or END."""
        if end <= first:
            return
        tokens = self.tokens
        word, kind = tokens.words[end], tokens.kinds[end]
        tokens.words[end], tokens.kinds[end] = "", END
        parser, tree, complete = self._parse(first, end)
        if complete and parser.pos < end:
            parser.unread(parser.pos, end, f"unexpected {tokens.source(parser.pos, parser.pos + 1)[:40]!r}")
        if not complete:
            for node in parser.nodes:
                if isinstance(node, Unread):
                    node.last = end
        tokens.words[end], tokens.kinds[end] = word, kind
        self._add(parser, first, end, tree, complete)

    def _add(self, parser: PlsqlParser, first: int, last: int, tree: Statement, complete: bool) -> None:
        if not complete:
            for node in parser.nodes:
                if isinstance(node, Unread) and node.first == first:
                    node.last = last
        self.script.items.append(ReadStatement(self.tokens, first, last, tree, parser.nodes, complete))


_STATEMENT_WORDS: Final = frozenset(
    "CREATE ALTER DROP GRANT REVOKE COMMENT DECLARE BEGIN SELECT INSERT UPDATE DELETE MERGE WITH COMMIT ROLLBACK SET".split()
)


def _parse(parser: PlsqlParser, first: int) -> tuple[Statement, bool]:
    try:
        tree = parser.statement()
        if tree is not None:
            return tree, True
        reason = "no statement begins with this word"
    except Unreadable as error:
        reason = error.reason
    return _give_up(parser, first, reason), False


def _give_up(parser: PlsqlParser, first: int, reason: str) -> OtherStatement:
    """Mark the statement at token `first` as unread, and return what little can be told of it."""
    node = _sniff(parser, first)
    parser.unread(first, first + 1, reason)
    parser.nodes.append(node)
    return node


def _sniff(parser: PlsqlParser, first: int) -> OtherStatement:
    """Name what an unreadable statement is about, so that no object vanishes."""
    words = parser.words
    parser.pos = first
    parser.depth = 0
    opener = words[first].lower()
    name: tuple[str, ...] = ()
    kind = opener
    try:
        if opener in ("create", "alter", "drop"):
            parser.pos += 1
            while words[parser.pos] in _CREATE_WORDS or words[parser.pos] in (
                "UNIQUE", "BITMAP", "GLOBAL", "TEMPORARY", "PUBLIC", "PRIVATE", "NO",
            ):  # fmt: skip
                parser.pos += 1
            kind = f"{opener} {words[parser.pos].lower()}"
            parser.pos += 1
            if words[parser.pos] in ("BODY", "VIEW", "LINK"):
                kind += f" {words[parser.pos].lower()}"
                parser.pos += 1
            name = parser.qualified_name()
    except Unreadable:
        pass
    return OtherStatement(first, first + 1, kind, name)
