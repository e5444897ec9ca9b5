"""PL/pgSQL: bodies of functions, procedures and DO blocks."""

from collections.abc import Callable
from typing import Final

from hullsound.sql.levels import COMPARE
from hullsound.sql.lexer import BIND, END, FENCE, QUOTED, WORD
from hullsound.sql.parser.blocks import BlockParser
from hullsound.sql.parser.core import Unreadable
from hullsound.sql.parser.plpgsql_errors import PlpgsqlErrorParser
from hullsound.sql.tree import (
    Assign,
    Block,
    CursorDeclaration,
    Execute,
    ExecuteImmediate,
    Fetch,
    Handler,
    Label,
    Loop,
    Node,
    OpenCursor,
    Parameter,
    QueryStatement,
    Return,
    TypeName,
    Variable,
)

_BLOCK_STOPS: Final = frozenset(("END", "EXCEPTION"))
_HANDLER_STOPS: Final = frozenset(("END", "WHEN"))
_DECLARATION_STOPS: Final = frozenset(("BEGIN", "DECLARE"))
_LOOP_STOPS: Final = frozenset(("END",))


class PlpgsqlParser(PlpgsqlErrorParser):
    """Reads every statement of a PostgreSQL script, and the statements of PL/pgSQL inside its functions."""

    def plpgsql_body(self) -> Node:
        """Read the inside of a function whose text is between fences."""
        first = self.pos
        while self.words[self.pos][:1] == "#":
            self.pos += 3
        label = self._label() if self.at("<<") else None
        declarations = self._all_declarations() if self.at("DECLARE") else []
        node = self._block_body(first, declarations)
        if label is not None:
            node.first = first
        self.accept(";")
        return node

    def _all_declarations(self) -> list[Node]:
        items: list[Node] = []
        while self.accept("DECLARE"):
            items += self.declarations()
        return items

    def block(self) -> Block:
        first = self.pos
        declarations = self._all_declarations() if self.at("DECLARE") else []
        return self._block_body(first, declarations)

    def _handler(self) -> Handler:
        first = self.expect("WHEN")
        names = [self._condition()]
        while self.accept("OR"):
            names.append(self._condition())
        self.expect("THEN")
        node = Handler(first, self.pos, names, self.statements(_HANDLER_STOPS))
        node.last = self.pos
        self.nodes.append(node)
        return node

    def statements(self, stops: frozenset[str]) -> list[Node]:
        """Read statements up to one of `stops` or the end of the body."""
        items: list[Node] = []
        words, kinds = self.words, self.kinds
        while True:
            first = self.pos
            word = words[first]
            if word in stops or kinds[first] in (END, FENCE):
                return items
            if word == ";":
                self.pos += 1
                continue
            depth = self.depth
            try:
                items.append(self._procedural_statement(word))
                if items[-1].__class__ is not Label:
                    if words[self.pos] != ";":
                        self.fail("';'")
                    self.pos += 1
            except Unreadable as error:
                self.depth = depth
                items.append(self._recover(first, error))

    def declarations(self) -> list[Node]:
        """Read declarations up to BEGIN, a further DECLARE or the end of the body."""
        return self.declaration_list(_DECLARATION_STOPS)

    def _declaration(self) -> Node:
        first = self.pos
        if self.at("<<"):
            return self._label()
        name = self.any_word()
        if self.accept("ALIAS", "FOR"):
            parameter = self.positional_parameter(self.words[self.pos].removeprefix("$"))
            value = self.operand()
            kind = parameter.type if parameter is not None else TypeName(first, self.pos, "")
            node: Node = Variable(first, self.pos, name, kind, False, value if parameter is not None else None)
        elif self.words[self.pos] == "CURSOR" or (self.words[self.pos] in ("NO", "SCROLL") and self._is_cursor()):
            self.accept("NO")
            self.accept("SCROLL")
            self.pos += 1
            parameters = self._cursor_parameters() if self.at("(") else []
            is_at = self.pos
            if not self.accept_any(("FOR", "IS")):
                self.fail("FOR")
            node = CursorDeclaration(first, self.pos, name, parameters, self.query(), is_at)
            node.last = self.pos
        else:
            constant = self.accept("CONSTANT")
            kind = self.type_name()
            if self.accept("COLLATE"):
                self.qualified_name()
            self.accept("NOT", "NULL")
            default = self.expression() if self.accept_any((":=", "=", "DEFAULT")) else None
            node = Variable(first, self.pos, name, kind, constant, default)
        self.nodes.append(node)
        return node

    def _is_cursor(self) -> bool:
        return "CURSOR" in self.words[self.pos : self.pos + 3]

    def _cursor_parameters(self) -> list[Parameter]:
        self.expect("(")
        parameters: list[Parameter] = []
        while not self.accept(")"):
            first = self.pos
            name = self.any_word()
            parameters.append(Parameter(first, self.pos, name, "in", self.type_name(), None, False))
            self.nodes.append(parameters[-1])
            self.accept(",")
        return parameters

    def _procedural_statement(self, word: str) -> Node:
        following = self.words[self.pos + 1]
        reader = self.procedural.get(word)
        if reader is not None and following not in (":=", "=", ".", "["):
            return reader(self)
        if following in (":=", "=", ".", "[") or self.kinds[self.pos] == BIND:
            return self._assignment()
        first = self.pos
        statement = self.statement()
        if statement is None:
            self.pos = first
            self.fail("a statement")
        if isinstance(statement, QueryStatement) and self.accept("INTO"):
            self.accept("STRICT")
            self.expressions()
        return statement

    def _assignment(self) -> Node:
        first = self.pos
        target = self._assigned()
        if not self.accept_any((":=", "=")):
            self.fail("':='")
        value = self._query_or_expression()
        node = Assign(first, self.pos, target, value)
        self.nodes.append(node)
        return node

    def _query_or_expression(self) -> Node:
        """Read an expression, which may go on as a query does: x FROM t WHERE ..."""
        start = self.pos
        value = self.expression()
        if self.words[self.pos] in (";", "LOOP", "THEN", ")", "..", "") or self.kinds[self.pos] in (END, FENCE):
            return value
        select = self._bare_select(start, [], [])
        while self.accept(","):
            self._select_item()
        self._select_clauses(select)
        if self.words[self.pos] == "ORDER":
            self.order_items()
        self._query_tail([])
        select.last = self.pos
        return value

    def _perform(self) -> Node:
        first = self.expect("PERFORM")
        select = self._bare_select(first, [], [])
        self._select_modifiers()
        select.items.append(self._select_item())
        while self.accept(","):
            select.items.append(self._select_item())
        self._select_clauses(select)
        if self.words[self.pos] == "ORDER":
            self.order_items()
        self._query_tail([])
        select.last = self.pos
        return self._plain(first, "perform", select)

    def _execute(self) -> Node:
        first = self.expect("EXECUTE")
        text = self.expression()
        into: list[Node] = []
        using: list[Node] = []
        while self.words[self.pos] in ("INTO", "USING"):
            if self.accept("INTO"):
                self.accept("STRICT")
                into = self.expressions()
            else:
                self.pos += 1
                using = self.expressions()
        node = ExecuteImmediate(first, self.pos, text, into, False, using)
        self.nodes.append(node)
        return node

    def _return(self) -> Node:
        first = self.expect("RETURN")
        value: Node | None = None
        if self.accept("NEXT"):
            value = None if self.at(";") else self.expression()
            self.clause("return-next", first)
        elif self.accept("QUERY"):
            self.clause("return-query", first)
            value = self._execute() if self.at("EXECUTE") else self._returned_query()
        elif not self.at(";"):
            value = self._query_or_expression()
        node = Return(first, self.pos, value)
        self.nodes.append(node)
        return node

    def _returned_query(self) -> Node:
        node = self.change_statement()
        if node is None:
            self.fail("a query")
        return node

    def _loop(self) -> Node:
        first = self.pos
        self.deepen()
        node = Loop(first, first, "basic", "", False, [], [], first)
        if self.accept("WHILE"):
            node.form = "while"
            node.bounds = [self._query_or_expression()]
        elif self.accept("FOR"):
            self._for_header(node)
        elif self.accept("FOREACH"):
            node.form = "array"
            node.variable = self._loop_variable()
            if self.accept("SLICE"):
                self._step()
            self.expect("IN", "ARRAY")
            node.bounds = [self.expression()]
        node.loop_at = self.expect("LOOP")
        node.body = self.statements(_LOOP_STOPS)
        self.expect("END", "LOOP")
        if self.kinds[self.pos] in (WORD, QUOTED):
            self.any_word()
        node.last = self.pos
        self.nodes.append(node)
        self.depth -= 1
        return node

    def _loop_variable(self) -> str:
        name = self.any_word()
        while self.accept(".") or self.accept(","):
            self.any_word()
        return name

    def _for_header(self, node: Loop) -> None:
        node.variable = self._loop_variable()
        self.expect("IN")
        node.reverse = self.accept("REVERSE")
        word = self.words[self.pos]
        if word == "EXECUTE":
            node.form = "query"
            node.bounds = [self._execute()]
        elif word in ("SELECT", "WITH", "INSERT", "UPDATE", "DELETE", "VALUES", "MERGE") or (
            word == "(" and self.opens_query()
        ):
            node.form = "query"
            rows = self._returned_query()
            node.bounds = [rows.query if isinstance(rows, QueryStatement) else rows]
        else:
            low = self.expression()
            if self.accept(".."):
                node.form = "range"
                high = self.expression()
                # What is counted down begins with the higher number here.
                node.bounds = [high, low] if node.reverse else [low, high]
                if self.accept("BY"):
                    node.bounds.append(self.expression())
            else:
                node.form = "cursor"
                node.bounds = [low]

    def _open(self) -> Node:
        first = self.expect("OPEN")
        cursor = self.operand()
        query: Node | None = None
        using: list[Node] = []
        self.accept("NO")
        self.accept("SCROLL")
        if self.accept("FOR"):
            query = self._execute() if self.at("EXECUTE") else self.query()
        node = OpenCursor(first, self.pos, cursor, [], query, using)
        self.nodes.append(node)
        return node

    def _fetch(self) -> Node:
        first = self.pos
        self.pos += 1
        while self.words[self.pos] in _DIRECTIONS and self.words[self.pos + 1] not in ("INTO", ";"):
            self.pos += 1
            is_counted = self.words[self.pos - 1] in _COUNTED and self.words[self.pos] not in ("ALL", "FROM", "IN")
            if is_counted and self.words[self.pos + 1] not in ("INTO", ";"):  # behind which the cursor alone may stand
                self.expression(COMPARE)
        cursor = self.operand()
        into: list[Node] = []
        if self.accept("INTO"):
            self.accept("STRICT")
            into = self.expressions()
        node = Fetch(first, self.pos, cursor, into, False, None)
        self.nodes.append(node)
        return node

    def _call_procedure(self) -> Node:
        first = self.expect("CALL")
        call = self.operand()
        node = Execute(first, self.pos, getattr(call, "parts", ()), [], None)
        self.nodes.append(node)
        return node

    def _transaction(self) -> Node:
        first = self.pos
        words = self.words[first].lower()
        while self.words[self.pos] not in (";", "") and self.kinds[self.pos] != FENCE:
            self.pos += 1
        return self._plain(first, words)


_COUNTED: Final = frozenset(("ABSOLUTE", "RELATIVE", "FORWARD", "BACKWARD"))
_DIRECTIONS: Final = frozenset(
    ("NEXT", "PRIOR", "FIRST", "LAST", "ABSOLUTE", "RELATIVE", "FORWARD", "BACKWARD", "ALL", "FROM", "IN")
)
_PROCEDURAL: Final[dict[str, Callable[..., Node]]] = {
    "LOOP": PlpgsqlParser._loop,
    "WHILE": PlpgsqlParser._loop,
    "FOR": PlpgsqlParser._loop,
    "FOREACH": PlpgsqlParser._loop,
    "BEGIN": PlpgsqlParser.block,
    "DECLARE": PlpgsqlParser.block,
    "PERFORM": PlpgsqlParser._perform,
    "RAISE": PlpgsqlParser._raise,
    "EXECUTE": PlpgsqlParser._execute,
    "RETURN": PlpgsqlParser._return,
    "OPEN": PlpgsqlParser._open,
    "FETCH": PlpgsqlParser._fetch,
    "MOVE": PlpgsqlParser._fetch,
    "GET": PlpgsqlParser._diagnostics,
    "ASSERT": PlpgsqlParser._assert,
    "CALL": PlpgsqlParser._call_procedure,
    **dict.fromkeys(("COMMIT", "ROLLBACK", "SAVEPOINT"), PlpgsqlParser._transaction),
}
PlpgsqlParser.procedural = {
    **{word: BlockParser.procedural[word] for word in ("IF", "CASE", "EXIT", "CONTINUE", "CLOSE", "NULL", "<<")},
    **_PROCEDURAL,
}
