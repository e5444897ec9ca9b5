"""MariaDB in its Oracle mode: the PL/SQL family's code over MySQL's other statements."""

from typing import ClassVar, Final

from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.parser.mysql import MysqlParser
from hullsound.sql.parser.plsql import UnitParser
from hullsound.sql.tree import Node, Routine, Statement

_CODE_KINDS: Final = frozenset(("PROCEDURE", "FUNCTION", "PACKAGE", "TRIGGER"))
_CHARACTERISTICS: Final = frozenset(
    ("COMMENT", "LANGUAGE", "NOT", "DETERMINISTIC", "CONTAINS", "NO", "READS", "MODIFIES", "SQL")
)


class MariadbOracleParser(UnitParser, MysqlParser):
    """Reads one statement of a script in Oracle mode."""

    openers: ClassVar = {
        **MysqlParser.openers,
        **{word: ExpressionParser.openers[word] for word in ("PRIOR", "CURSOR")},
    }
    routine_options: ClassVar = UnitParser.routine_options | _CHARACTERISTICS
    code_kinds: ClassVar = _CODE_KINDS | {"EVENT"}

    def statement(self) -> Statement | None:
        """Read the statement that is next; None if no known word opens it."""
        word = self.words[self.pos]
        if word in ("DECLARE", "BEGIN") and self.words[self.pos + 1] not in (";", "", "WORK"):
            return self.anonymous_block()
        if word == "<<":
            self._label()
            return self.statement()
        return MysqlParser.statement(self)

    def create_code(self, first: int, modifiers: set[str] | None = None) -> Statement:
        if self.words[first] == "ALTER" or self.at("EVENT"):
            return MysqlParser.create_code(self, first, modifiers or set())
        return self.code_unit(first)

    def _routine_option(self) -> str:
        word = self.words[self.pos]
        if word not in _CHARACTERISTICS:
            return super()._routine_option()
        node = Routine(self.pos, self.pos, "", (), [], None, None, -1, [], -1, None, (0, 0), False)
        self._characteristics(node)
        return " ".join(node.options)

    def _procedural_statement(self, word: str) -> Node:
        if word in _SQL_WORDS and self.words[self.pos + 1] not in (":=", ".", "("):
            return MysqlParser.one_statement(self)
        return super()._procedural_statement(word)


_SQL_WORDS: Final = frozenset(
    """CREATE ALTER DROP TRUNCATE SET SHOW CALL REPLACE SIGNAL RESIGNAL GET PREPARE DEALLOCATE DO ANALYZE LOAD VALUES
    START FLUSH KILL HANDLER""".split()
)
