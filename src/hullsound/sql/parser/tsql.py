"""The T-SQL family: statements that need no terminator, in batches."""

from collections.abc import Callable
from typing import ClassVar, Final

from hullsound.sql.lexer import END, QUOTED, STRING, WORD
from hullsound.sql.parser.definitions import DefinitionParser
from hullsound.sql.parser.expression import ExpressionParser
from hullsound.sql.parser.special import SpecialFormParser
from hullsound.sql.tree import (
    Block,
    CreateRoutine,
    CreateTrigger,
    Node,
    Parameter,
    Parts,
    Routine,
    SelectItem,
    Statement,
    TypeName,
)

_ROUTINE_OPTIONS: Final = frozenset(
    ("ENCRYPTION", "RECOMPILE", "SCHEMABINDING", "NATIVE_COMPILATION", "INLINE", "CALLED", "RETURNS", "EXECUTE", "EXEC",
     "VIEW_METADATA")
)  # fmt: skip
_STARTERS: Final = frozenset(
    """ADD ALTER BACKUP BEGIN BREAK BULK CHECKPOINT CLOSE COMMIT CONTINUE CREATE DBCC DEALLOCATE DECLARE DELETE DENY DISABLE
    DROP ELSE ENABLE END EXEC EXECUTE FETCH GET GOTO GRANT IF INSERT KILL MERGE MOVE OPEN PRINT RAISERROR READTEXT RECEIVE
    RECONFIGURE RESTORE RETURN REVERT REVOKE ROLLBACK SAVE SELECT SEND SET SETUSER SHUTDOWN THROW TRUNCATE UPDATE
    UPDATETEXT USE WAITFOR WHILE WRITETEXT DUMP LOAD PREPARE""".split()
)
"""Words that open a statement where they begin a line."""


class TsqlParser(DefinitionParser):
    """Reads statements of the T-SQL family; control of flow is left to the parser built on this one."""

    openers: ClassVar = {
        **{word: ExpressionParser.openers[word] for word in ("CASE", "CAST", "EXISTS", "NOT", "NULL")},
        "TRY_CAST": SpecialFormParser._cast,
        "PARSE": SpecialFormParser._cast,
        "TRY_PARSE": SpecialFormParser._cast,
        "CONVERT": SpecialFormParser._convert,
        "TRY_CONVERT": SpecialFormParser._convert,
        "NEXT": SpecialFormParser._next_value,
        **dict.fromkeys(("ANY", "SOME", "ALL"), SpecialFormParser._quantified),
    }

    code_kinds: ClassVar = frozenset(("PROCEDURE", "PROC", "FUNCTION", "TRIGGER"))

    def alters_code(self) -> bool:
        return True

    def ends_definition(self) -> bool:
        """Whether a word that opens a statement begins this line."""
        pos = self.pos
        if self.kinds[pos] == END or self.words[pos] == ";":
            return True
        return self.words[pos] in _STARTERS and self._begins_line(pos) and self.words[pos - 1] not in (",", "=", "(")

    def _begins_line(self, pos: int) -> bool:
        tokens = self.tokens
        return pos == 0 or "\n" in tokens.text[tokens.ends[pos - 1] : tokens.starts[pos]]

    def skip_rest(self) -> None:
        """Step to where the next statement begins."""
        while not self.ends_definition():
            if self.words[self.pos] == "(":
                self.skip_parenthesized()
            elif self.words[self.pos] == ")":
                self.fail("the end of the statement")
            else:
                self.pos += 1

    def selects_into_table(self) -> bool:
        return True

    def _update_statistics(self) -> Node:
        if (
            self.words[self.pos + 1] in ("INDEX", "ALL", "TABLE", "PARTITION")
            and self.words[self.pos + 2] == "STATISTICS"
        ):
            return self.named_statement("UPDATE", self.words[self.pos + 1], "STATISTICS")
        if (
            self.words[self.pos + 1] == "STATISTICS"
            and self.kinds[self.pos + 2] in (WORD, QUOTED)
            and self.words[self.pos + 2] not in ("SET", "AS", "WITH")
        ):
            return self.named_statement("UPDATE", "STATISTICS")
        return self.update()

    def _receive(self) -> Node:
        """Read RECEIVE of the message service."""
        first = self.pos
        self.pos += 1
        if self.accept("TOP"):
            self.operand()
        self._select_item()
        while self.accept(","):
            self._select_item()
        self.expect("FROM")
        self.qualified_name()
        if self.accept("INTO"):
            self.identifier()
        if self.accept("WHERE"):
            self.expression()
        return self.other_statement(first, "receive")

    def _select_item(self) -> SelectItem:
        """Read one item of a select list, which may also give a variable a value: @total += price."""
        item = super()._select_item()
        if self.accept_any(("+=", "-=", "*=", "/=", "%=", "&=", "|=", "^=")):
            self.expression()
            item.last = self.pos
        return item

    def execute_source(self) -> None:
        self.execute()

    def execute(self) -> Node:
        """Read EXEC; the parser of control of flow does it."""
        raise NotImplementedError

    def statements(self, stops: frozenset[str]) -> list[Node]:
        """Read statements up to one of `stops`; the parser of control of flow does it."""
        raise NotImplementedError

    # --- code ---

    def create_code(self, first: int, modifiers: set[str]) -> Statement:
        word = self.words[self.pos]
        if word == "TRIGGER":
            return self._trigger(first)
        return self._routine(first)

    def _routine(self, first: int) -> Statement:
        start = self.pos
        form = "function" if self.words[start] == "FUNCTION" else "procedure"
        self.pos += 1
        name_at = self.pos
        name = self.qualified_name()
        name_span = (name_at, self.pos)
        if self.accept(";"):  # a numbered procedure of a group
            self.pos += 1
            self.clause("numbered-procedure", name_at)
        span_at = self.pos
        parameters = self._routine_parameters()
        span = (span_at, self.pos) if self.pos > span_at else None
        node = Routine(start, start, form, name, parameters, span, None, -1, [], -1, None, name_span, False)
        if self.at("RETURNS"):
            self._returns(node)
        self._routine_options(node)
        node.is_at = self.pos
        if not self.accept("AS") and form == "procedure":
            self.fail("AS")
        self._routine_body(node)
        node.last = self.pos
        self.nodes.append(node)
        created = CreateRoutine(first, self.pos, node)
        self.nodes.append(created)
        return created

    def _routine_parameters(self) -> list[Parameter]:
        parameters: list[Parameter] = []
        inside = self.accept("(")
        while self.words[self.pos][:1] == "@":
            parameters.append(self._parameter())
            if not self.accept(","):
                break
        if inside:
            self.expect(")")
        return parameters

    def _parameter(self) -> Parameter:
        first = self.pos
        name = self.identifier()
        self.accept("AS")
        kind = self.type_name()
        self.accept("NOT")
        self.accept("NULL")
        default = self.operand() if self.accept("=") else None
        mode = "in out" if self.accept_any(("OUTPUT", "OUT")) else "in"
        if self.accept("READONLY"):
            self.clause("table-valued-parameter", first)
        node = Parameter(first, self.pos, name, mode, kind, default, False)
        self.nodes.append(node)
        return node

    def _returns(self, node: Routine) -> None:
        node.return_at = self.expect("RETURNS")
        if self.accept("TABLE"):
            node.returns = TypeName(node.return_at, self.pos, "TABLE")
            if self.at("("):
                self.table_elements([], [], [])
        elif self.words[self.pos][:1] == "@":
            start = self.pos
            name = self.identifier()
            node.returns = TypeName(start, self.pos, "TABLE")
            self.expect("TABLE")
            self.table_elements([], [], [])
            parameter = Parameter(start, self.pos, name, "out", node.returns, None, False)
            self.nodes.append(parameter)
            self.clause("multi-statement-table-function", start)
        else:
            node.returns = self.type_name()
            return
        self.nodes.append(node.returns)

    def _routine_options(self, node: Routine) -> None:
        while True:
            first = self.pos
            if self.accept("WITH"):
                while self.words[self.pos] in _ROUTINE_OPTIONS:
                    self._routine_option(node)
                    self.accept(",")
                if self.pos == first + 1:
                    self.fail("an option")
            elif self.accept("FOR", "REPLICATION"):
                node.options.append("FOR REPLICATION")
                self.clause("for-replication", first)
            else:
                return

    def _routine_option(self, node: Routine) -> None:
        first = self.pos
        word = self.words[first]
        self.pos += 1
        node.options.append(word)
        if word in ("EXECUTE", "EXEC"):
            self.expect("AS")
            self.pos += 1
            self.clause("execute-as", first)
        elif word in ("CALLED", "RETURNS"):
            while self.words[self.pos] in ("ON", "NULL", "INPUT"):
                self.pos += 1
        elif word == "INLINE":
            self.expect("=")
            self.pos += 1
        else:
            self.clause(f"routine-{word.lower().replace('_', '-')}", first)

    def _routine_body(self, node: Routine) -> None:
        first = self.pos
        if self.accept("EXTERNAL", "NAME"):
            self.qualified_name()
            self.clause("clr-routine", first)
            return
        if self.at("BEGIN", "ATOMIC"):
            self.pos += 2
            self.expect("WITH")
            self.skip_parenthesized()
            self.clause("native-routine", first)
            opened = self.pos - 1
            inner = self.statements(frozenset(("END",)))
            self.expect("END")
            atomic = Block(first, self.pos, [], inner, [], opened, -1, self.pos - 1)
            self.nodes.append(atomic)
            body: list[Node] = [atomic]
        elif (
            node.form == "function" and node.returns is not None and node.returns.name == "TABLE" and self.at("RETURN")
        ):
            self.pos += 1
            is_open = self.at("(") and not self.opens_query()
            query = self.query() if not is_open else self.expression()
            self.accept(";")
            body = [query]
            self.clause("inline-table-function", first)
        else:
            body = self.statements(frozenset())
        node.block = Block(first, self.pos, [], body, [], first, -1, self.pos)
        self.nodes.append(node.block)

    def _trigger(self, first: int) -> CreateTrigger:
        self.pos += 1
        name = self.qualified_name()
        self.expect("ON")
        level = "statement"
        table: Parts = ()
        if self.accept("ALL", "SERVER"):
            level = "server"
            self.clause("server-trigger", self.pos - 2)
        elif self.at("DATABASE"):
            self.pos += 1
            level = "database"
            self.clause("database-trigger", self.pos - 1)
        else:
            table = self.qualified_name()
        if self.accept("WITH"):
            while self.words[self.pos] in _ROUTINE_OPTIONS:
                self._routine_option(
                    Routine(first, first, "trigger", name, [], None, None, -1, [], -1, None, (0, 0), False)
                )
                self.accept(",")
        timing = "after"
        if self.accept("INSTEAD"):
            self.expect("OF")
            timing = "instead of"
        elif not self.accept_any(("FOR", "AFTER")):
            self.fail("FOR, AFTER or INSTEAD OF")
        events = [self.any_word().lower()]
        while self.accept(","):
            events.append(self.any_word().lower())
        if self.accept("WITH"):
            self.expect("APPEND")
        if self.accept("NOT", "FOR", "REPLICATION"):
            self.clause("not-for-replication", self.pos - 3)
        if self.at("ORDER"):
            self.pos += 2
        self.expect("AS")
        node = CreateTrigger(first, first, name, timing, events, [], table, level, {}, None, None, self.pos, False)
        if self.accept("EXTERNAL", "NAME"):
            self.qualified_name()
            self.clause("clr-routine", node.body_at)
        else:
            body = self.statements(frozenset())
            node.block = Block(node.body_at, self.pos, [], body, [], node.body_at, -1, self.pos)
            self.nodes.append(node.block)
        node.last = self.pos
        self.nodes.append(node)
        return node

    def statement(self) -> Statement | None:
        """Read the definition or change that is next; None if no known word opens it."""
        reader = _DEFINITIONS.get(self.words[self.pos])
        if reader is not None:
            return reader(self)
        node = self.change_statement()
        return node if isinstance(node, Statement) else None

    def named_statement(self, *words: str) -> Statement:
        """Read a statement known by its first words only."""
        first = self.pos
        self.pos += len(words)
        name: Parts = ()
        if self.kinds[self.pos] in (WORD, QUOTED) and self.words[self.pos] not in self.reserved:
            name = self.qualified_name()
        elif self.kinds[self.pos] == STRING:
            self.pos += 1
        return self.whole_statement(first, " ".join(words), name)


_DEFINITIONS: Final[dict[str, Callable[[TsqlParser], Statement]]] = {
    "CREATE": TsqlParser.create,
    "ALTER": TsqlParser.alter,
    "DROP": TsqlParser.drop,
    "GRANT": TsqlParser.grant,
    "REVOKE": TsqlParser.grant,
    "DENY": TsqlParser.grant,
}
