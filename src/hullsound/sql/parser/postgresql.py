"""Statements of PostgreSQL, apart from the bodies of its functions."""

from collections.abc import Callable
from typing import ClassVar, Final

from hullsound.sql.lexer import END, WORD
from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.parser.postgresql_routines import PostgresqlRoutineParser
from hullsound.sql.parser.special import SpecialFormParser
from hullsound.sql.tree import (
    Execute,
    OtherStatement,
    Parts,
    Statement,
)


class PostgresqlParser(PostgresqlRoutineParser):
    """Reads the statements of a script; the parser built on this one reads PL/pgSQL."""

    openers: ClassVar = {
        **ExpressionParser.openers,
        **dict.fromkeys(("TIME", "TIMESTAMP", "DATE"), SpecialFormParser._typed_literal),
        "ARRAY": SpecialFormParser._array,
        **dict.fromkeys(("ANY", "SOME", "ALL"), SpecialFormParser._quantified),
    }
    code_kinds: ClassVar = frozenset(("PROCEDURE", "FUNCTION", "TRIGGER"))

    def statement(self) -> Statement | None:
        """Read the statement that is next; None if no known word opens it."""
        reader = _STATEMENTS.get(self.words[self.pos])
        if reader is not None:
            return reader(self)
        node = self.change_statement()
        return node if isinstance(node, Statement) else None

    # --- code ---

    # --- other definitions ---

    def create(self) -> Statement:
        first = self.pos
        for offset in (1, 3):
            word = self.words[first + offset]
            reader = _CREATES.get(word)
            if reader is not None and (offset == 1 or self.words[first + 1] == "OR"):
                self.pos += offset + 1
                return reader(self, first)
        return super().create()

    def _domain(self, first: int) -> OtherStatement:
        name = self.qualified_name()
        self.accept("AS")
        self.type_name()
        while self.kinds[self.pos] != END and not self.at(";"):
            if self.accept("COLLATE"):
                self.qualified_name()
            elif self.accept("DEFAULT"):
                self.expression()
            elif self.accept("CONSTRAINT"):
                self.identifier()
            elif self.accept("CHECK"):
                self.expect("(")
                self.expression()
                self.expect(")")
            elif not self.accept("NOT", "NULL") and not self.accept("NULL"):
                self.fail("a constraint")
        return self.other_statement(first, "create domain", name)

    def _rule(self, first: int) -> OtherStatement:
        name = self.identifier()
        self.expect("AS", "ON")
        self.any_word()
        self.expect("TO")
        table = self.qualified_name()
        if self.accept("WHERE"):
            self.expression()
        self.expect("DO")
        self.accept_any(("ALSO", "INSTEAD"))
        if self.at("(") and not self.opens_query():
            self.pos += 1
            while not self.accept(")"):
                if self.accept("NOTIFY"):
                    self.any_word()
                else:
                    self.statement()
                if not self.accept(";") and not self.at(")"):
                    self.fail("';'")
        elif not self.accept("NOTHING") and not self.accept("NOTIFY"):
            self.statement()
        elif self.words[self.pos - 1] == "NOTIFY":
            self.skip_rest()
        return self.other_statement(first, "create rule", (*table[:-1], f"{table[-1]}.{name}"))

    def _policy(self, first: int) -> OtherStatement:
        name = self.identifier()
        self.expect("ON")
        table = self.qualified_name()
        while self.kinds[self.pos] != END and not self.at(";"):
            if self.words[self.pos] in ("USING", "CHECK") and self.words[self.pos + 1] == "(":
                self.pos += 2
                self.expression()
                self.expect(")")
            else:
                self._step()
        return self.other_statement(first, "create policy", (*table[:-1], f"{table[-1]}.{name}"))

    def _statistics(self, first: int) -> OtherStatement:
        self.accept("IF", "NOT", "EXISTS")
        name: Parts = self.qualified_name() if self.is_name() and not self.at("ON") else ()
        if self.at("("):
            self.skip_parenthesized()
        self.expect("ON")
        self.expressions()
        self.expect("FROM")
        self.sources()
        return self.other_statement(first, "create statistics", name)

    def _operator(self, first: int) -> OtherStatement:
        """Read an operator, whose name is made of signs; classes and families have plain names."""
        words = "create operator"
        if self.words[self.pos] in ("CLASS", "FAMILY"):
            words += f" {self.any_word().lower()}"
            return self.whole_statement(first, words, self.qualified_name())
        start = self.pos
        while not self.at("("):
            if self.kinds[self.pos] == END:
                self.fail("'('")
            self.pos += 1
        name = (self.tokens.source(start, self.pos).rpartition(".")[2].strip(),)
        return self.whole_statement(first, words, name)

    def _text_name(self, first: int) -> OtherStatement:
        """Read the definition of an operator, cast, aggregate or language, whose names are no plain names."""
        words = f"create {self.words[self.pos - 1].lower()}"
        name: Parts = ()
        if self.is_name():
            name = self.qualified_name()
        return self.whole_statement(first, words, name)

    # --- other statements ---

    def copy_statement(self) -> Statement:
        first = self.expect("COPY")
        name: Parts = ()
        self.accept("BINARY")
        if self.at("("):
            self.pos += 1
            if self.change_statement() is None:
                self.fail("a query")
            self.expect(")")
        else:
            table = self._insert_table()
            self.nodes.append(table)
            name = table.parts
            if self.at("("):
                self._column_names()
        return self.whole_statement(first, "copy", name)

    def explain(self) -> Statement:
        first = self.expect("EXPLAIN")
        if self.at("(") and not self.opens_query():
            self.skip_parenthesized()
        while self.accept_any(("ANALYZE", "VERBOSE")):
            pass
        inner = self.statement()
        if inner is None:
            self.fail("a statement")
        return self.other_statement(first, "explain")

    def prepare(self) -> Statement:
        first = self.expect("PREPARE")
        if self.at("TRANSACTION"):
            return self.whole_statement(first, "prepare transaction")
        self.identifier()
        if self.at("("):
            self.skip_parenthesized()
        self.expect("AS")
        if self.statement() is None:
            self.fail("a statement")
        return self.other_statement(first, "prepare")

    def declare_cursor(self) -> Statement:
        first = self.expect("DECLARE")
        self.identifier()
        while not self.at("FOR"):
            if self.kinds[self.pos] != WORD:
                self.fail("FOR")
            self.pos += 1
        self.expect("FOR")
        self.query()
        return self.other_statement(first, "declare cursor")

    def call_procedure(self) -> Statement:
        first = self.expect("CALL")
        call = self.operand()
        routine = getattr(call, "parts", ())
        self.nodes.append(Execute(first, self.pos, routine, [], None))
        return self.other_statement(first, "call", routine)

    def set_statement(self) -> Statement:
        first = self.pos
        self.pos += 1
        self.accept_any(("SESSION", "LOCAL"))
        name = self.words[self.pos].lower()
        return self.whole_statement(first, f"set {name}")

    def plain(self) -> Statement:
        """Read a statement known by its first words only."""
        first = self.pos
        self.pos += 1
        words = self.words[first]
        if words in _TWO_WORDS and self.kinds[self.pos] == WORD:
            words += f" {self.words[self.pos]}"
            self.pos += 1
        if words in ("TRUNCATE TABLE", "TRUNCATE", "LOCK TABLE", "REFRESH MATERIALIZED"):
            self.accept("VIEW")
            self.accept("ONLY")
            self.accept("CONCURRENTLY")
            name = self.qualified_name()
            return self.whole_statement(first, words, name)
        return self.whole_statement(first, words)


_TWO_WORDS: Final = frozenset(("TRUNCATE", "LOCK", "REFRESH", "REASSIGN", "SECURITY", "IMPORT", "DISCARD", "REINDEX"))
_CREATES: Final[dict[str, Callable[[PostgresqlParser, int], Statement]]] = {
    "DOMAIN": PostgresqlParser._domain,
    "RULE": PostgresqlParser._rule,
    "POLICY": PostgresqlParser._policy,
    "STATISTICS": PostgresqlParser._statistics,
    "AGGREGATE": PostgresqlParser._text_name,
    "CAST": PostgresqlParser._text_name,
    "OPERATOR": PostgresqlParser._operator,
    "TRANSFORM": PostgresqlParser._text_name,
}
_STATEMENTS: Final[dict[str, Callable[[PostgresqlParser], Statement]]] = {
    "CREATE": PostgresqlParser.create,
    "ALTER": PostgresqlParser.alter,
    "DROP": PostgresqlParser.drop,
    "GRANT": PostgresqlParser.grant,
    "REVOKE": PostgresqlParser.grant,
    "COMMENT": PostgresqlParser.comment,
    "DO": PostgresqlParser.do_block,
    "COPY": PostgresqlParser.copy_statement,
    "EXPLAIN": PostgresqlParser.explain,
    "PREPARE": PostgresqlParser.prepare,
    "DECLARE": PostgresqlParser.declare_cursor,
    "CALL": PostgresqlParser.call_procedure,
    "SET": PostgresqlParser.set_statement,
    "RESET": PostgresqlParser.set_statement,
    **dict.fromkeys(
        ("ABORT", "ANALYZE", "BEGIN", "CHECKPOINT", "CLOSE", "CLUSTER", "COMMIT", "DEALLOCATE", "DISCARD", "END", "EXECUTE",
         "FETCH", "IMPORT", "LISTEN", "LOAD", "LOCK", "MOVE", "NOTIFY", "REASSIGN", "REFRESH", "REINDEX", "RELEASE", "ROLLBACK",
         "SAVEPOINT", "SECURITY", "SHOW", "START", "TRUNCATE", "UNLISTEN", "VACUUM"),
        PostgresqlParser.plain,
    ),
}  # fmt: skip
