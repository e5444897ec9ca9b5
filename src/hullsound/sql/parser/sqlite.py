"""Statements of SQLite."""

from collections.abc import Callable, Mapping
from typing import ClassVar, Final

from hullsound.sql.lexer import END, QUOTED, STRING, WORD
from hullsound.sql.parser.definitions import DefinitionParser
from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.tree import Block, CreateTable, CreateTrigger, Literal, Node, Parts, Statement, TypeName

_OPTION_WORDS: Final = frozenset(
    """CONSTRAINT PRIMARY NOT NULL UNIQUE CHECK DEFAULT COLLATE REFERENCES GENERATED AS FOREIGN AUTOINCREMENT ON""".split()
)


class SqliteParser(DefinitionParser):
    """Reads one statement of a script."""

    cross_takes_condition = True
    openers: ClassVar[Mapping[str, Callable[..., Node | None]]] = {
        **{word: ExpressionParser.openers[word] for word in ("CASE", "CAST", "EXISTS", "NOT", "NULL", "TRUE", "FALSE")},
    }
    code_kinds: ClassVar = frozenset(("TRIGGER",))

    def statement(self) -> Statement | None:
        """Read the statement that is next; None if no known word opens it."""
        reader = _STATEMENTS.get(self.words[self.pos])
        if reader is not None:
            return reader(self)
        node = self.change_statement()
        return node if isinstance(node, Statement) else None

    def type_name(self) -> TypeName:
        """Read a type, which may be any run of words, perhaps with one or two numbers."""
        first = self.pos
        words: list[str] = []
        while self.kinds[self.pos] in (WORD, QUOTED, STRING) and self.words[self.pos] not in _OPTION_WORDS:
            words.append(self.words[self.pos].strip("\"'`[]"))
            self.pos += 1
            if self.words[self.pos] == "GENERATED":
                break
        if not words:
            self.fail("a type")
        arguments: tuple[str, ...] = ()
        if self.at("("):
            start = self.pos
            self.skip_parenthesized()
            inner = "".join(self.words[start + 1 : self.pos - 1])
            arguments = tuple(inner.split(","))
        name = " ".join(words)
        node = TypeName(first, self.pos, name, arguments)
        self.nodes.append(node)
        return node

    def identifier(self) -> str:
        """Read a name; SQLite also takes a text literal for one."""
        if self.kinds[self.pos] == STRING:
            self.pos += 1
            return self.tokens.source(self.pos - 1, self.pos)[1:-1].upper()
        return super().identifier()

    def qualified_name(self) -> Parts:
        """Read a name; the main database is the one that needs no name."""
        parts = super().qualified_name()
        return parts[1:] if len(parts) > 1 and parts[0] == "MAIN" else parts

    def create_table(self, first: int, modifiers: set[str]) -> CreateTable:
        """Read a table; the one key that is declared INTEGER numbers the rows (SQLite: "ROWIDs and the INTEGER PRIMARY KEY")."""
        node = super().create_table(first, modifiers)
        if "without-rowid" in node.clauses:
            return node
        declared = node.constraints + [each for column in node.columns for each in column.constraints]
        keys = [each.columns for each in declared if each.form == "primary key"]
        for column in node.columns:
            if [column.name] in keys and column.type is not None and column.type.name == "INTEGER":
                column.identity = "by default"
        return node

    def _raise_function(self) -> Node | None:
        if self.words[self.pos + 1] != "(":
            return None
        first = self.pos
        self.pos += 2
        self.any_word()
        if self.accept(","):
            self.expression()
        self.expect(")")
        self.clause("raise-function", first)
        node = Literal(first, self.pos, "null")
        self.nodes.append(node)
        return node

    def create_code(self, first: int, modifiers: set[str]) -> Statement:
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        name = self.qualified_name()
        timing = self.trigger_timing() if self.words[self.pos] in ("BEFORE", "AFTER", "INSTEAD") else "before"
        events, columns = self.trigger_events()
        self.expect("ON")
        table = self.qualified_name()
        node = CreateTrigger(first, first, name, timing, events, columns, table, "row", {}, None, None, 0, False)
        self.accept("FOR", "EACH", "ROW")
        if self.accept("WHEN"):
            node.condition = self.expression()
        node.body_at = self.expect("BEGIN")
        body: list[Node] = []
        while not self.at("END"):
            if self.accept(";"):
                continue
            if self.kinds[self.pos] == END:
                self.fail("END")
            statement = self.change_statement()
            if statement is None:
                self.fail("a statement")
            body.append(statement)
            self.expect(";")
        end_at = self.expect("END")
        node.block = Block(node.body_at, self.pos, [], body, [], node.body_at, -1, end_at)
        self.nodes.append(node.block)
        node.last = self.pos
        self.nodes.append(node)
        return node

    def create(self) -> Statement:
        first = self.pos
        if self.words[first + 1] == "VIRTUAL":
            self.pos += 3
            self.accept("IF", "NOT", "EXISTS")
            name = self.qualified_name()
            self.expect("USING")
            self.any_word()
            if self.at("("):
                self.skip_parenthesized()
            self.clause("virtual-table", first)
            return self.other_statement(first, "create virtual table", name)
        return super().create()

    def pragma(self) -> Statement:
        first = self.expect("PRAGMA")
        name: Parts = self.qualified_name()
        return self.whole_statement(first, f"pragma {name[-1]}")

    def plain(self) -> Statement:
        first = self.pos
        self.pos += 1
        return self.whole_statement(first, self.words[first])

    def explain(self) -> Statement:
        first = self.expect("EXPLAIN")
        self.accept("QUERY", "PLAN")
        if self.statement() is None:
            self.fail("a statement")
        return self.other_statement(first, "explain")


SqliteParser.openers = {**SqliteParser.openers, "RAISE": SqliteParser._raise_function}
_STATEMENTS: Final[dict[str, Callable[[SqliteParser], Statement]]] = {
    "CREATE": SqliteParser.create,
    "ALTER": SqliteParser.alter,
    "DROP": SqliteParser.drop,
    "PRAGMA": SqliteParser.pragma,
    "EXPLAIN": SqliteParser.explain,
    **dict.fromkeys(
        (
            "BEGIN",
            "COMMIT",
            "END",
            "ROLLBACK",
            "SAVEPOINT",
            "RELEASE",
            "ATTACH",
            "DETACH",
            "VACUUM",
            "ANALYZE",
            "REINDEX",
        ),
        SqliteParser.plain,
    ),
}
