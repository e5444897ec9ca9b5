"""What the readers of all clients share: cutting tokens into statements, and reading each so that damage stays in it."""

from bisect import bisect_right
from functools import cache
from importlib import import_module
from typing import Final

from hullsound.sql.dialect import Dialect, Grammar
from hullsound.sql.lexer import END, WORD, Tokens
from hullsound.sql.parser.core import Core, UnitEnds, Unreadable
from hullsound.sql.statements import ReadStatement, Script
from hullsound.sql.tree import OtherStatement, Statement, Unread

MAX_STATEMENT_TOKENS: Final = 1_000_000
"""Longest statement that is read; a longer one is marked as unread, so that memory stays bounded."""
FAULT: Final = "the reader failed here"
"""How the reason of an unread statement begins where the fault is Hull Sound's own."""
LOOK_AHEAD: Final = 12
"""More tokens than any grammar looks at beyond the end of a statement."""
CREATE_WORDS: Final = frozenset(
    ("OR", "REPLACE", "EDITIONABLE", "NONEDITIONABLE", "AND", "RESOLVE", "COMPILE", "FORCE", "ALTER", "AGGREGATE", "CONSTRAINT",
     "TEMP", "SPECIFIC")
)  # fmt: skip
_SNIFFED: Final = CREATE_WORDS | {
    "UNIQUE", "BITMAP", "GLOBAL", "TEMPORARY", "PUBLIC", "PRIVATE", "NO", "MULTISET", "SET", "VOLATILE", "CLUSTERED",
    "NONCLUSTERED", "FULLTEXT", "SPATIAL", "MATERIALIZED", "UNLOGGED", "FOREIGN", "EXTERNAL", "LOCAL", "RECURSIVE", "JOIN", "HASH",
    "COLUMNSTORE", "PRIMARY", "XML", "VIRTUAL", "IF", "NOT", "EXISTS",
}  # fmt: skip
_OPENERS: Final = {"create": "create", "alter": "alter", "drop": "drop", "replace": "create"}
STATEMENT_WORDS: Final = frozenset(
    """CREATE ALTER DROP GRANT REVOKE COMMENT DECLARE BEGIN SELECT INSERT UPDATE DELETE MERGE WITH COMMIT ROLLBACK SET REPLACE
    CALL USE ANALYZE ANALYSE EXEC EXECUTE REORG RUNSTATS CONNECT COLLECT LOCK SHOW DO TRUNCATE VACUUM PRAGMA START SAVEPOINT
    RELEASE DATABASE HELP SEL INS UPD DEL ABORT BT ET END""".split()
)

_PARSERS: Final = {
    Grammar.PLSQL: ("plsql", "PlsqlParser"),
    Grammar.TSQL: ("tsql_flow", "TsqlFlowParser"),
    Grammar.MYSQL: ("mysql", "MysqlParser"),
    Grammar.MARIADB_ORACLE: ("mariadb_oracle", "MariadbOracleParser"),
    Grammar.POSTGRESQL: ("plpgsql", "PlpgsqlParser"),
    Grammar.DB2: ("db2", "Db2Parser"),
    Grammar.TERADATA: ("teradata", "TeradataParser"),
    Grammar.SQLITE: ("sqlite", "SqliteParser"),
}


@cache
def load_parser(grammar: Grammar) -> type[Core]:
    """Return the parser of a procedural grammar; only those that a script needs are imported."""
    module, name = _PARSERS[grammar]
    parser: type[Core] = getattr(import_module(f"hullsound.sql.parser.{module}"), name)
    return parser


class ScriptReader:
    """Reads a script; each client's reader finds the boundaries."""

    def __init__(self, text: str, dialect: Dialect, variables: dict[str, str]) -> None:
        self.dialect = dialect
        self.variables = variables
        self.tokens = Tokens(text)
        self.script = Script(self.tokens)
        self.open = 0
        """Index of the first token that belongs to no finished statement."""
        self.fences: list[int] = []
        """Tokens that open the outermost fenced texts, in order."""

    def read(self) -> Script:
        """Read the whole script."""
        raise NotImplementedError

    def opens_code(self, at: int) -> bool:
        """Whether the statement at token `at` holds code, so that its end is not the next `;`."""
        raise NotImplementedError

    # --- ends of statements ---

    def next_terminator(self, first: int, end: int) -> int:
        """Return the index of the `;` that ends the plain statement at `first`, or `end`."""
        words = self.tokens.words
        at = first
        while True:
            try:
                at = words.index(";", at, end)
            except ValueError:
                return end
            place = bisect_right(self.fences, at) - 1
            if place < 0:
                return at
            closing = self.tokens.fences[self.fences[place]]
            if closing < at:
                return at
            at = closing

    def finish_statements(self) -> None:
        """Read every plain statement that its `;` has ended; code stays open."""
        end = len(self.tokens.words)
        while self.open < end:
            if self.opens_code(self.open):
                return
            stop = self.next_terminator(self.open, end)
            if stop == end:
                return
            self.read_plain(self.open, stop)
            self.open = stop + 1

    def close_statements(self, offset: int) -> None:
        """Read what is still open, which ends at `offset`."""
        if self.open < len(self.tokens.words):
            end = len(self.tokens.words)
            self.tokens.add_end(offset)
            while self.open < end:
                self.open = self.read_unit(self.open, end)
            self.open = end + 1

    def read_unit(self, first: int, end: int) -> int:
        """Read one statement of the tokens [first, end); return where the next statement begins."""
        words = self.tokens.words
        if words[first] == ";":
            return first + 1
        if not self.opens_code(first):
            stop = self.next_terminator(first, end)
            self.read_plain(first, stop)
            return stop + 1
        parser, tree, complete = self.parse(first, end)
        parser.pos = min(parser.pos, end)  # a text that breaks off may let a reader run past its end
        if complete and parser.pos < end and words[parser.pos] == ";":
            parser.pos += 1
        stop = parser.pos
        if not complete or (stop < end and words[stop] not in STATEMENT_WORDS and words[stop - 1] != ";"):
            stop = self.next_unit(first, end)
            if complete and parser.pos < stop:
                parser.unread(parser.pos, stop, "text behind the end of the unit")
        self.add(parser, first, stop, tree, complete)
        return stop

    def next_unit(self, first: int, end: int) -> int:
        """Find where the next CREATE begins a line behind a broken unit whose end is not known."""
        tokens = self.tokens
        words = tokens.words
        for i in range(first + 1, end):
            is_unit = words[i] in ("CREATE", "REPLACE") and words[i - 1] == ";"
            if is_unit and (self.opens_code(i) or "\n" in tokens.text[tokens.ends[i - 1] : tokens.starts[i]]):
                return i
        return end

    # --- reading ---

    def make_parser(self, first: int) -> Core:
        return load_parser(self.dialect.grammar)(self.tokens, self.dialect, first, self.variables)

    def parse(self, first: int, end: int) -> tuple[Core, Statement, bool]:
        """Read one statement; END tokens behind it keep every look ahead inside the arrays."""
        words, kinds = self.tokens.words, self.tokens.kinds
        parser = self.make_parser(first)
        if end - first > MAX_STATEMENT_TOKENS:
            return parser, give_up(parser, first, f"longer than {MAX_STATEMENT_TOKENS} words"), False
        missing = max(0, end + LOOK_AHEAD - len(words))
        words += [""] * missing
        kinds += [END] * missing
        tree, complete = _parse(parser, first)
        if missing:
            del words[-missing:], kinds[-missing:]
        return parser, tree, complete

    def read_plain(self, first: int, end: int) -> None:
        """Read the statement of the tokens [first, end); the token at `end` is its terminator or END."""
        if end <= first:
            return
        tokens = self.tokens
        is_inside = end < len(tokens.words)
        if is_inside:
            word, kind = tokens.words[end], tokens.kinds[end]
            tokens.words[end], tokens.kinds[end] = "", END
        parser, tree, complete = self.parse(first, end)
        if complete and parser.pos < end:
            parser.unread(parser.pos, end, f"unexpected {tokens.source(parser.pos, parser.pos + 1)[:40]!r}")
        if not complete:
            for node in parser.nodes:
                if isinstance(node, Unread):
                    node.last = end
        if is_inside:
            tokens.words[end], tokens.kinds[end] = word, kind
        self.add(parser, first, end, tree, complete)

    def add(self, parser: Core, first: int, last: int, tree: Statement, complete: bool) -> None:
        if not complete:
            for node in parser.nodes:
                if isinstance(node, Unread) and node.first == first:
                    node.last = last
        self.script.items.append(
            ReadStatement(self.tokens, first, last, tree, parser.nodes, complete, self.dialect.modes)
        )


def _parse(parser: Core, first: int) -> tuple[Statement, bool]:
    try:
        tree = parser.statement()
        if tree is not None:
            return tree, True
        reason = "no statement begins with this word"
    except Unreadable as error:
        reason = error.reason
    except UnitEnds:
        parser.nodes.clear()
        reason = "another unit begins before this one has ended"
    except Exception as error:  # a fault of the parser costs the statement, and shows
        parser.nodes.clear()
        reason = f"{FAULT}: {type(error).__name__}"
    return give_up(parser, first, reason), False


def give_up(parser: Core, first: int, reason: str) -> OtherStatement:
    """Mark the statement at token `first` as unread, and return what little can be told of it."""
    node = sniff(parser, first)
    parser.unread(first, first + 1, reason)
    parser.nodes.append(node)
    return node


def sniff(parser: Core, first: int) -> OtherStatement:
    """Name what an unreadable statement is about, so that no object vanishes."""
    words = parser.words
    parser.pos = first
    parser.depth = 0
    opener = words[first].lower()
    name: tuple[str, ...] = ()
    kind = opener
    try:
        if opener in _OPENERS and parser.kinds[first + 1] == WORD:
            parser.pos += 1
            while words[parser.pos] in _SNIFFED and parser.kinds[parser.pos + 1] == WORD:
                parser.pos += 1
            kind = f"{_OPENERS[opener]} {words[parser.pos].lower()}"
            parser.pos += 1
            if words[parser.pos] in ("BODY", "VIEW", "LINK"):
                kind += f" {words[parser.pos].lower()}"
                parser.pos += 1
            name = parser.qualified_name()
    except Unreadable:
        pass
    return OtherStatement(
        first, first + 1, kind.replace("create proc", "create procedure") if kind == "create proc" else kind, name
    )
