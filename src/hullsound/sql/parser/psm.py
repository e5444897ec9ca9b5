"""The SQL/PSM family: compound statements as MySQL, MariaDB, Db2 and Teradata write them."""

from collections.abc import Callable
from typing import ClassVar, Final

from hullsound.sql.lexer import END, FENCE, NUMBER, QUOTED, STRING, WORD
from hullsound.sql.parser.core import Unreadable
from hullsound.sql.parser.definitions import DefinitionParser
from hullsound.sql.tree import (
    AnonymousBlock,
    Assign,
    Block,
    CaseStatement,
    CloseCursor,
    ConditionHandler,
    CursorDeclaration,
    Execute,
    ExecuteImmediate,
    Fetch,
    If,
    Jump,
    Label,
    Loop,
    Node,
    OpenCursor,
    Parameter,
    Parts,
    PlainStatement,
    Prepare,
    Query,
    Raise,
    Return,
    Routine,
    Row,
    Statement,
    TypeName,
    Variable,
)

_IF_STOPS: Final = frozenset(("END", "ELSEIF", "ELSE"))
_CASE_STOPS: Final = frozenset(("END", "WHEN", "ELSE"))
_END_STOPS: Final = frozenset(("END",))
_UNTIL_STOPS: Final = frozenset(("UNTIL",))
_OPENING_WORDS: Final = frozenset(("IF", "LOOP", "CASE", "BEGIN", "WHILE", "REPEAT"))
_FETCH_WORDS: Final = frozenset(("NEXT", "FIRST", "FROM", "PRIOR", "LAST"))


class PsmParser(DefinitionParser):
    """Reads compound statements; the parsers of the engines add their definitions and their own statements."""

    own_statements: "ClassVar[dict[str, Callable[[PsmParser], Node]]]" = {}
    """Statements of one engine by their first word."""

    def statements(self, stops: frozenset[str]) -> list[Node]:
        """Read statements up to one of `stops`; what cannot be read stays an Unread among them."""
        items: list[Node] = []
        words = self.words
        while True:
            first = self.pos
            word = words[first]
            ends_transaction = word == "END" and words[first + 1] == "TRANSACTION"
            if (word in stops and not ends_transaction) or self.kinds[first] == END:
                return items
            depth = self.depth
            try:
                items.append(self.one_statement())
                if items[-1].__class__ is not Label and not self.accept(";"):
                    self.fail("';'")
            except Unreadable as error:
                self.depth = depth
                items.append(self._recover(first, error))

    def _recover(self, first: int, error: Unreadable) -> Node:
        """Step to behind the `;` that ends the broken statement, over whole nested structures."""
        words = self.words
        depth = 0
        pos = first
        while words[pos]:
            word = words[pos]
            if (
                word in _OPENING_WORDS
                and words[pos - 1] != "END"
                and words[pos + 1] != "("
                and words[pos + 1] != "EXISTS"
            ):
                depth += 1
            elif word == "END":
                if depth == 0 and pos > first:
                    break
                depth -= 1
                if words[pos + 1] in _OPENING_WORDS:
                    pos += 1
            elif word == ";" and depth <= 0:
                pos += 1
                break
            pos += 1
        self.pos = max(pos, first + 1) if words[first] else first
        return self.unread(first, self.pos, error.reason)

    def one_statement(self) -> Node:
        """Read one statement without its `;`."""
        first = self.pos
        word = self.words[first]
        if self.words[first + 1] == ":" and self.kinds[first] in (WORD, QUOTED):
            self.pos += 2
            self.nodes.append(Label(first, self.pos, self.words[first]))
            return self.nodes[-1] if self.words[self.pos] in (";", "") else self.one_statement()
        reader = self.own_statements.get(word) or _STATEMENTS.get(word)
        if reader is not None:
            return reader(self)
        node = self.change_statement()
        if node is None:
            self.fail("a statement")
        return node

    def plain(self, first: int, words: str, value: Node | None = None) -> Node:
        node = PlainStatement(first, max(self.pos, first + 1), words, value)
        self.nodes.append(node)
        return node

    def rest(self) -> Node:
        """Read a statement known by its first word only."""
        first = self.pos
        self.pos += 1
        return self.whole_statement(first, self.words[first])

    # --- blocks ---

    def block(self) -> Node:
        first = self.expect("BEGIN")
        if self.words[self.pos] in (";", "WORK", "TRANSACTION", ""):
            self.accept_any(("WORK", "TRANSACTION"))
            return self.plain(first, "begin")
        self.deepen()
        self.accept("NOT")
        self.accept_any(("ATOMIC", "REQUEST"))
        items = self.statements(_END_STOPS)
        declarations = [item for item in items if isinstance(item, Variable | CursorDeclaration | ConditionHandler)]
        body = [item for item in items if item not in declarations]
        end_at = self.expect("END")
        self._end_label()
        node = Block(first, self.pos, declarations, body, [], first, -1, end_at)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _end_label(self) -> None:
        if self.kinds[self.pos] in (WORD, QUOTED) and self.words[self.pos] not in self.reserved:
            self.pos += 1

    def declare(self) -> Node:
        first = self.expect("DECLARE")
        word, following = self.words[self.pos], self.words[self.pos + 1]
        if word in ("CONTINUE", "EXIT", "UNDO") and following == "HANDLER":
            return self._handler(first)
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
            return self._cursor(first)
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

    def _handler(self, first: int) -> Node:
        action = self.words[self.pos].lower()
        self.pos += 2
        self.expect("FOR")
        conditions = [self._condition()]
        while self.accept(","):
            conditions.append(self._condition())
        body = self.one_statement()
        node = ConditionHandler(first, self.pos, action, conditions, body)
        self.nodes.append(node)
        self.clause(f"{action}-handler", first)
        return node

    def _cursor(self, first: int) -> Node:
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

    # --- control ---

    def _if(self) -> Node:
        first = self.pos
        self.deepen()
        branches: list[tuple[Node, list[Node]]] = []
        while self.accept_any(("IF", "ELSEIF")):
            condition = self.expression()
            self.expect("THEN")
            branches.append((condition, self.statements(_IF_STOPS)))
        otherwise = self.statements(_IF_STOPS) if self.accept("ELSE") else []
        self.expect("END", "IF")
        node = If(first, self.pos, branches, otherwise)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _case_statement(self) -> Node:
        first = self.expect("CASE")
        self.deepen()
        subject = None if self.at("WHEN") else self.expression()
        branches: list[tuple[Node, list[Node]]] = []
        while self.accept("WHEN"):
            condition = self.expression()
            self.expect("THEN")
            branches.append((condition, self.statements(_CASE_STOPS)))
        otherwise = self.statements(_CASE_STOPS) if self.accept("ELSE") else []
        self.expect("END", "CASE")
        node = CaseStatement(first, self.pos, subject, branches, otherwise)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _loop(self) -> Node:
        first = self.pos
        self.deepen()
        form = self.words[first].lower()
        self.pos += 1
        bounds: list[Node] = []
        if form == "while":
            bounds = [self.expression()]
            self.expect("DO")
        at = self.pos
        body = self.statements(_UNTIL_STOPS if form == "repeat" else _END_STOPS)
        if form == "repeat":
            self.expect("UNTIL")
            bounds = [self.expression()]
        self.expect("END", form.upper())
        self._end_label()
        node = Loop(first, self.pos, "basic" if form == "loop" else form, "", False, bounds, body, at)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _for_loop(self) -> Node:
        """Read FOR name AS [cursor CURSOR FOR] query DO and FOR name IN low .. high DO."""
        first = self.expect("FOR")
        self.deepen()
        variable = self.any_word()
        form = "query"
        if self.accept("IN"):
            self.accept("REVERSE")
            if self.at("("):
                bounds: list[Node] = [self.operand()]
            else:
                bounds = [self.expression()]
                if self.accept(".."):
                    form = "range"
                    bounds.append(self.expression())
        else:
            self.accept("AS")
            if self.kinds[self.pos] in (WORD, QUOTED) and self.words[self.pos] not in (
                "SELECT",
                "WITH",
                "SEL",
                "VALUES",
            ):
                self.identifier()
                while self.words[self.pos] in ("INSENSITIVE", "ASENSITIVE", "SENSITIVE", "NO", "SCROLL"):
                    self.pos += 2 if self.words[self.pos] == "NO" else 1
                self.expect("CURSOR")
                while self.words[self.pos] in ("WITH", "WITHOUT", "HOLD"):
                    self.pos += 1
                self.expect("FOR")
            self.locking_modifiers()
            bounds = [self.query()]
        at = self.expect("DO")
        body = self.statements(_END_STOPS)
        self.expect("END", "FOR")
        self._end_label()
        node = Loop(first, self.pos, form, variable, False, bounds, body, at)
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _jump(self) -> Node:
        first = self.pos
        form = {"LEAVE": "exit", "ITERATE": "continue"}.get(self.words[first], "goto")
        self.pos += 1
        label = self.any_word() if self.kinds[self.pos] in (WORD, QUOTED) else ""
        node = Jump(first, self.pos, form, label, None)
        self.nodes.append(node)
        return node

    def _return(self) -> Node:
        first = self.expect("RETURN")
        value: Node | None = None
        if self.words[self.pos] in ("SELECT", "WITH", "VALUES", "SEL") and self.words[self.pos + 1] != "(":
            value = self.query()
        elif self.words[self.pos] not in (";", ""):
            value = self.expression()
        node = Return(first, self.pos, value)
        self.nodes.append(node)
        return node

    def set_statement(self) -> Node:
        """Read SET target = value, ... and SET (targets) = (values)."""
        self.expect("SET")
        while True:
            node = self._assignment()
            if not self.accept(","):
                return node

    def _assignment(self) -> Node:
        first = self.pos
        if self.at("("):
            self.pos += 1
            self.expressions()
            self.expect(")")
            target: Node = Row(first, self.pos, [])
            self.nodes.append(target)
        else:
            target = self._assigned()
        if not self.accept_any(("=", ":=")):
            self.fail("'='")
        value: Node
        if self.words[self.pos] in ("SELECT", "VALUES"):
            value = self.query()
        elif self.words[self.pos] == "DEFAULT":
            value = self._value()
        else:
            value = self.expression()
        node = Assign(first, self.pos, target, value)
        self.nodes.append(node)
        return node

    def call_statement(self) -> Node:
        first = self.expect("CALL")
        routine = self.qualified_name()
        arguments: list[Node] = []
        if self.accept("("):
            while not self.accept(")"):
                arguments.append(self._value() if self.at("DEFAULT") else self.argument())
                if not self.accept(",") and not self.at(")"):
                    self.fail("')'")
        node = Execute(first, self.pos, routine, arguments, None)
        self.nodes.append(node)
        return node

    def signal(self) -> Node:
        first = self.pos
        self.pos += 1
        name: Parts = ()
        if self.accept("SQLSTATE"):
            self.accept("VALUE")
            self._step()
        elif self.kinds[self.pos] in (WORD, QUOTED) and not self.at("SET"):
            name = (self.any_word(),)
        if self.accept("SET"):
            while True:
                self.any_word()
                self.expect("=")
                self.expression()
                if not self.accept(","):
                    break
        elif self.at("("):
            self.skip_parenthesized()
        node = Raise(first, self.pos, name)
        self.nodes.append(node)
        return node

    def diagnostics(self) -> Node:
        first = self.pos
        self.clause("get-diagnostics", first)
        return self.whole_statement(first, "get diagnostics")

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
        while self.words[self.pos] in _FETCH_WORDS and self.words[self.pos + 1] not in ("INTO", ";"):
            self.pos += 1
        cursor = self.operand()
        into = self.expressions() if self.accept("INTO") else []
        node = Fetch(first, self.pos, cursor, into, False, None)
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
            call = Execute(first, self.pos, (), using, None)
            self.nodes.append(call)
            return call
        self.nodes.append(node)
        return node

    def transaction(self) -> Node:
        first = self.pos
        words = self.words[first].lower()
        while self.words[self.pos] not in (";", "") and self.kinds[self.pos] != FENCE:
            self.pos += 1
        if words == "rollback" and "TO" in self.words[first : self.pos]:
            words = "rollback to"
        return self.plain(first, words)

    # --- routines ---

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

    def step_to(self, stops: frozenset[str]) -> None:
        """Step over values and words up to one of `stops`."""
        while self.words[self.pos] not in stops and self.kinds[self.pos] != END:
            self.skip_parenthesized() if self.at("(") else self._step()


_STATEMENTS: Final[dict[str, Callable[[PsmParser], Node]]] = {
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
