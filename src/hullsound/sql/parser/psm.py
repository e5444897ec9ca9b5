"""The SQL/PSM family: compound statements as MySQL, MariaDB, Db2 and Teradata write them."""

from collections.abc import Callable, Mapping
from types import MappingProxyType
from typing import ClassVar, Final

from hullsound.sql.lexer import NUMBER, QUOTED, STRING, WORD
from hullsound.sql.parser.psm_flow import PsmFlowParser
from hullsound.sql.tree import (
    AnonymousBlock,
    Block,
    CloseCursor,
    ConditionHandler,
    CursorDeclaration,
    Execute,
    ExecuteImmediate,
    Fetch,
    Label,
    Node,
    OpenCursor,
    Parameter,
    Prepare,
    Query,
    Routine,
    Row,
    Statement,
    TypeName,
    ValuesInto,
    Variable,
)

_END_STOPS: Final = frozenset(("END",))
_NO_ROW: Final = frozenset(("NOT FOUND", "02000", "1329"))
"""Conditions of a statement that finds no row."""
_FETCH_WORDS: Final = frozenset(("NEXT", "FIRST", "FROM", "PRIOR", "LAST"))


class PsmParser(PsmFlowParser):
    """Reads compound statements; the parsers of the engines add their definitions and their own statements."""

    own_statements: ClassVar[Mapping[str, Callable[..., Node]]] = MappingProxyType({})
    """Statements of one engine by their first word."""

    def one_statement(self) -> Node:
        """Read one statement without its `;`."""
        first = self.pos
        word = self.words[first]
        if self.words[first + 1] == ":" and self.kinds[first] in (WORD, QUOTED):
            self.pos += 2
            self.nodes.append(Label(first, self.pos, self.words[first]))
            if self.words[self.pos] in (";", ""):
                return self.nodes[-1]
            self.deepen()
            labelled = self.one_statement()
            self.depth -= 1
            return labelled
        reader = self.own_statements.get(word) or _STATEMENTS.get(word)
        if reader is not None:
            return reader(self)
        node = self.change_statement()
        if node is None:
            self.fail("a statement")
        return node

    def block(self) -> Node:
        first = self.expect("BEGIN")
        if self.words[self.pos] in (";", "WORK", "TRANSACTION", ""):
            self.accept_any(("WORK", "TRANSACTION"))
            return self.plain(first, "begin")
        self.deepen()
        self.accept("NOT")
        self.accept_any(("ATOMIC", "REQUEST"))
        items = self.statements(_END_STOPS)
        declarations: list[Node] = [
            item for item in items if isinstance(item, Variable | CursorDeclaration | ConditionHandler)
        ]
        body = [item for item in items if item not in declarations]
        end_at = self.expect("END")
        self._end_label()
        node = Block(first, self.pos, declarations, body, [], first, -1, end_at)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def declare(self) -> Node:
        first = self.expect("DECLARE")
        word, following = self.words[self.pos], self.words[self.pos + 1]
        if word in ("CONTINUE", "EXIT", "UNDO") and following == "HANDLER":
            return self._condition_handler(first)
        if word == "GLOBAL" and following == "TEMPORARY":
            self.pos += 1
            return self.create_table(first, {"TEMPORARY", self._temporary()})
        if following == "CONDITION":
            self.pos += 2
            if self.accept("FOR"):
                self._condition()
            return self.plain(first, "declare condition")
        if following in ("CURSOR", "INSENSITIVE", "ASENSITIVE", "SENSITIVE", "SCROLL", "NO") and word not in (
            "CURSOR",
        ):
            return self._cursor_declaration(first)
        if following == "STATEMENT" and self.words[self.pos + 2] == ";":
            self.pos += 2
            return self.plain(first, "declare statement")
        if word == "TYPE":
            return self.whole_statement(first, "declare type")
        return self._variables(first)

    def _temporary(self) -> str:
        self.pos += 1
        return "TEMPORARY"

    def _variables(self, first: int) -> Node:
        names = [self.any_word()]
        while self.accept(","):
            names.append(self.any_word())
        self.accept("CONSTANT")
        kind = self.routine_type()
        default = None
        self.accept("NOT", "NULL")
        if self.accept_any(("DEFAULT", ":=", "=", "CONSTANT")):
            default = self.expression()
        node = Variable(first, self.pos, names[0], kind, False, default)
        for name in names[1:]:
            self.nodes.append(Variable(first, self.pos, name, kind, False, default))
        self.nodes.append(node)
        return node

    def routine_type(self) -> TypeName:
        """Read the type of a variable or parameter; an engine may know more than the types of columns."""
        first = self.pos
        if self.accept("ANCHOR"):
            self.accept("DATA")
            self.accept("TYPE")
            self.accept("TO")
            self.accept("ROW", "OF") or self.accept("ROW")
            node = TypeName(first, self.pos, "", reference=self.qualified_name(), borrowed="TYPE")
            node.last = self.pos
            self.nodes.append(node)
            return node
        if self.accept("TYPE", "OF"):
            node = TypeName(first, self.pos, "", reference=self.qualified_name(), borrowed="TYPE")
            node.last = self.pos
            self.nodes.append(node)
            return node
        if self.accept("ROW"):
            if self.accept("TYPE", "OF"):
                self.qualified_name()
            elif self.at("("):
                self.skip_parenthesized()
            node = TypeName(first, self.pos, "ROW")
            self.nodes.append(node)
            return node
        kind = self.type_name()
        if self.accept("COLLATE"):
            self.qualified_name()
            kind.last = self.pos
        return kind

    def _condition(self) -> str:
        """Read one condition of a handler: SQLSTATE '...', a number, a word or a name."""
        if self.accept("SQLSTATE"):
            self.accept("VALUE")
            self._step()
            return self.words[self.pos - 1].strip("'\"")
        if self.kinds[self.pos] == NUMBER:
            self.pos += 1
            return self.words[self.pos - 1]
        if self.accept("NOT"):
            self.expect("FOUND")
            return "NOT FOUND"
        return self.any_word()

    def _condition_handler(self, first: int) -> Node:
        action = self.words[self.pos].lower()
        self.pos += 2
        self.expect("FOR")
        conditions = [self._condition()]
        while self.accept(","):
            conditions.append(self._condition())
        body = self.one_statement()
        node = ConditionHandler(first, self.pos, action, conditions, body)
        self.nodes.append(node)
        is_of_rows = all(each in _NO_ROW for each in conditions) and action != "undo"
        self.clause("missing-row-handler" if is_of_rows else f"{action}-handler", first)
        return node

    def _cursor_declaration(self, first: int) -> Node:
        name = self.any_word()
        while self.words[self.pos] in ("INSENSITIVE", "ASENSITIVE", "SENSITIVE", "SCROLL", "NO"):
            self.pos += 2 if self.words[self.pos] == "NO" else 1
        is_at = self.expect("CURSOR")
        parameters: list[Parameter] = []
        if self.at("("):
            self.skip_parenthesized()
        while self.words[self.pos] in ("WITH", "WITHOUT"):
            self.pos += 1
            while self.words[self.pos] in ("HOLD", "RETURN", "TO", "CALLER", "CLIENT", "ONLY"):
                if self.words[self.pos] == "RETURN":
                    self.clause("cursor-with-return", self.pos)
                self.pos += 1
        query: Query | None = None
        self.expect("FOR")
        if self.words[self.pos] in ("SELECT", "WITH", "SEL", "VALUES", "(", "LOCKING", "LOCK"):
            self.locking_modifiers()
            query = self.query()
        else:
            self.any_word()
        node = CursorDeclaration(first, self.pos, name, parameters, query, is_at)
        self.nodes.append(node)
        return node

    def open_cursor(self) -> Node:
        first = self.expect("OPEN")
        cursor = self.operand()
        query: Node | None = None
        using: list[Node] = []
        if self.accept("FOR"):
            query = self.query() if self.words[self.pos] in ("SELECT", "WITH") else self.expression()
        if self.accept("USING"):
            using = self.expressions()
        node = OpenCursor(first, self.pos, cursor, [], query, using)
        self.nodes.append(node)
        return node

    def fetch(self) -> Node:
        first = self.expect("FETCH")
        if self.accept("GROUP", "NEXT", "ROW"):
            return self.plain(first, "fetch group")
        while self.words[self.pos] in _FETCH_WORDS and self.words[self.pos + 1] not in ("INTO", ";"):
            self.pos += 1
        cursor = self.operand()
        into = self.expressions() if self.accept("INTO") else []
        node = Fetch(first, self.pos, cursor, into, False, None)
        self.nodes.append(node)
        return node

    def values_statement(self) -> Node:
        """Read VALUES value, ... INTO target, ..., or a query that begins with VALUES."""
        first = self.pos
        depth, at = 0, first + 1
        while self.words[at] not in (";", "") and not (depth == 0 and self.words[at] == "INTO"):
            depth += (self.words[at] == "(") - (self.words[at] == ")")
            at += 1
        if self.words[at] != "INTO":
            return self.query_statement()
        self.pos += 1
        values = self.expressions()
        if len(values) == 1 and isinstance(values[0], Row):
            values = values[0].items
        self.expect("INTO")
        node = ValuesInto(first, self.pos, values, self.expressions())
        node.last = self.pos
        self.nodes.append(node)
        return node

    def close(self) -> Node:
        first = self.expect("CLOSE")
        node = CloseCursor(first, first, self.operand())
        self.accept("WITH", "RELEASE")
        node.last = self.pos
        self.nodes.append(node)
        return node

    def prepare(self) -> Node:
        first = self.expect("PREPARE")
        name = self.any_word()
        while self.words[self.pos] in ("INTO", "OUTPUT"):
            self.pos += 2
        self.expect("FROM")
        node = Prepare(first, first, name, self.expression())
        node.last = self.pos
        self.nodes.append(node)
        return node

    def execute(self) -> Node:
        first = self.expect("EXECUTE")
        if self.accept("IMMEDIATE"):
            text = self.expression()
        else:
            text = self.operand()
        into: list[Node] = self.expressions() if self.accept("INTO") else []
        using = self.expressions() if self.accept("USING") else []
        if self.accept("INTO"):
            into = self.expressions()
        node = ExecuteImmediate(first, self.pos, text, into, False, using)
        if self.words[first + 1] != "IMMEDIATE":
            call = Execute(first, self.pos, (), using, text)
            self.nodes.append(call)
            return call
        self.nodes.append(node)
        return node

    def parameters(self) -> list[Parameter]:
        """Read ([IN|OUT|INOUT] name type [DEFAULT value], ...)."""
        self.expect("(")
        parameters: list[Parameter] = []
        while not self.accept(")"):
            parameters.append(self._parameter())
            if not self.accept(",") and not self.at(")"):
                self.fail("')'")
        return parameters

    def _parameter(self) -> Parameter:
        first = self.pos
        mode = "in"
        if self.words[first] in ("IN", "OUT", "INOUT") and self.words[first + 1] not in (",", ")"):
            self.pos += 1
            mode = {"OUT": "out", "INOUT": "in out"}.get(self.words[first], "in")
            if mode == "in" and self.accept("OUT"):
                mode = "in out"
        if self.words[self.pos + 1] in (",", ")"):
            kind = self.routine_type()
            name = ""
        else:
            name = self.any_word()
            if self.words[self.pos] in ("IN", "OUT", "INOUT"):
                self.pos += 1
            kind = self.routine_type()
        if self.accept("AS"):
            self.accept("LOCATOR")
        default = self.expression() if self.accept_any(("DEFAULT", ":=")) else None
        while self.kinds[self.pos] in (WORD, STRING) and self.words[self.pos] not in (",", ")"):
            self.pos += 1  # attributes of one engine, such as CHARACTER SET or FORMAT
        node = Parameter(first, self.pos, name, mode, kind, default, False)
        self.nodes.append(node)
        return node

    def routine_head(self, form: str) -> Routine:
        """Read the name and the parameters of a routine."""
        first = self.pos
        self.pos += 1
        self.accept("IF", "NOT", "EXISTS")
        start = self.pos
        name = self.qualified_name()
        name_span = (start, self.pos)
        start = self.pos
        parameters = self.parameters() if self.at("(") else []
        span = (start, self.pos) if self.pos > start else None
        return Routine(first, first, form, name, parameters, span, None, -1, [], -1, None, name_span, False)

    def routine_body(self, node: Routine) -> None:
        """Read the one statement that is the body of a routine."""
        node.is_at = self.pos
        first = self.pos
        statement = self.one_statement()
        if isinstance(statement, Block):
            node.block = statement
        else:
            node.block = Block(first, self.pos, [], [statement], [], first, -1, self.pos)
            self.nodes.append(node.block)
        node.last = self.pos
        self.nodes.append(node)

    def anonymous_block(self) -> Statement:
        first = self.pos
        node = self.one_statement()
        if not isinstance(node, Block):
            return node if isinstance(node, Statement) else self.other_statement(first, self.words[first])
        block = AnonymousBlock(first, self.pos, node)
        self.nodes.append(block)
        return block


_STATEMENTS: Final[dict[str, Callable[..., Node]]] = {
    "BEGIN": PsmParser.block,
    "DECLARE": PsmParser.declare,
    "IF": PsmParser._if,
    "CASE": PsmParser._case_statement,
    "LOOP": PsmParser._loop,
    "WHILE": PsmParser._loop,
    "REPEAT": PsmParser._loop,
    "FOR": PsmParser._for_loop,
    "LEAVE": PsmParser._jump,
    "ITERATE": PsmParser._jump,
    "GOTO": PsmParser._jump,
    "RETURN": PsmParser._return,
    "SET": PsmParser.set_statement,
    "CALL": PsmParser.call_statement,
    "SIGNAL": PsmParser.signal,
    "RESIGNAL": PsmParser.signal,
    "GET": PsmParser.diagnostics,
    "OPEN": PsmParser.open_cursor,
    "FETCH": PsmParser.fetch,
    "CLOSE": PsmParser.close,
    "VALUES": PsmParser.values_statement,
    "PREPARE": PsmParser.prepare,
    "EXECUTE": PsmParser.execute,
    # Engines override these.
    "CREATE": lambda parser: parser.create(),
    "ALTER": lambda parser: parser.alter(),
    "DROP": lambda parser: parser.drop(),
    "GRANT": PsmParser.grant,
    "REVOKE": PsmParser.grant,
    "COMMENT": PsmParser.comment,
    **dict.fromkeys(("COMMIT", "ROLLBACK", "SAVEPOINT", "RELEASE", "START"), PsmParser.transaction),
    **dict.fromkeys(("TRUNCATE", "DEALLOCATE", "ALLOCATE", "ASSOCIATE", "ANALYZE"), PsmParser.rest),
}
