"""Goes through the statements of a source's routine and has each written by the target's speech."""

import re
from typing import Final

from hullsound.analyze.transactions import rollback_guard
from hullsound.draft.conversions.conditions import predicate_as_number
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.queries import assigns
from hullsound.sql.tree import (
    Assign,
    Block,
    Call,
    CallStatement,
    CaseStatement,
    CloseCursor,
    Comparison,
    ConditionHandler,
    CreateTable,
    CursorDeclaration,
    Delete,
    Execute,
    Fetch,
    If,
    Insert,
    Jump,
    Label,
    Literal,
    Loop,
    Name,
    Node,
    OpenCursor,
    Operation,
    OtherStatement,
    Paren,
    PlainStatement,
    Query,
    QueryStatement,
    Raise,
    Return,
    Select,
    Subquery,
    TableRef,
    TryCatch,
    Update,
    Variable,
)

from .calls import Calls
from .cursors import Cursors
from .errors import handlers_of, is_exit_handler, raised_message
from .rows import row_column, settled
from .speech import Caught, Declared, Lines, Speech, Unit
from .temporary import TemporaryTables, is_table_variable
from .tsql import TsqlSpeech
from .types import type_text

_COMMENT: Final = re.compile(r"--[^\n]*|/\*.*?\*/", re.DOTALL)
_AGGREGATES: Final = frozenset(("COUNT", "SUM", "MIN", "MAX", "AVG", "COUNT_BIG"))
_OPENERS: Final = frozenset(("BEGIN", "THEN", "ELSE", "LOOP", "DO", "REPEAT", "TRY", "CATCH", ";", "AS", "IS"))
"""What stands before the first statement of a list."""
_TRUTHS: Final = frozenset(("AND", "OR", "NOT"))
_COMPARING: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">=", "<=>", "IS", "LIKE", "IN", "BETWEEN"))
_PSM: Final = frozenset(("mysql", "mariadb"))
_UNTYPED: Final = frozenset(("sqlserver", "oracle"))
"""Targets where a truth value is neither a number nor a value."""


class Walk:
    """One routine on its way from tree to text."""

    def __init__(
        self, rewriter: Rewriter, speech: Speech, unit: Unit, variables: dict[str, str], cursors: Cursors
    ) -> None:
        self.cursors = cursors
        self.rewriter, self.speech, self.unit, self.variables = rewriter, speech, unit, variables
        self.source, self.target = rewriter.catalog.engine, rewriter.target.engine
        self.temporary = TemporaryTables(rewriter, type_text)
        self.calls = Calls(rewriter, speech, unit, variables, self.value)
        self.labels: list[tuple[str, str]] = []
        """Labels of the loops around, as the source and the target call them."""
        self.count = 0
        self.catching: list[list[Caught]] = []
        """What the blocks around catch, the innermost last."""
        self.missing: Lines | None = None
        """What is done where a query meets no row, and nothing catches it."""

    # --- statements ---

    def body(self, statements: list[Node]) -> Lines:
        """Write statements, each with the comments before it."""
        lines: Lines = []
        label = ""
        start = self._opening(statements[0].first) if statements else 0
        for node in statements:
            lines += self._comments(start, node.first)
            if isinstance(node, Label):
                label = node.name
            else:
                lines += self._statement(node, start, label)
                label = ""
            start = node.last
        return lines

    def _opening(self, at: int) -> int:
        """Return the token from which a list begins: of SET a = 1, b = 2 of MySQL the tree has the last assignment only."""
        while self.source in ("mysql", "mariadb") and at > 0 and self.rewriter.words[at - 1] not in _OPENERS:
            at -= 1
        return at

    def _comments(self, first: int, last: int) -> Lines:
        tokens = self.rewriter.tokens
        if last < first or first == 0:
            return []
        pieces = [tokens.text[tokens.ends[at - 1] : tokens.starts[at]] for at in range(first, last + 1)]
        found = [match for piece in pieces for match in _COMMENT.findall(piece)]
        return [line for match in found for line in _as_lines(match)]

    def _statement(self, node: Node, start: int, label: str) -> Lines:
        speech, write = self.speech, self.rewriter.node
        match node:
            case Assign():
                return self._assignments(node, start)
            case If() if rollback_guard(node) is not None or self.temporary.guards(node):
                return self.body(node.branches[0][1])
            case If():
                before, first = self._tested(node.branches[0][0])
                branches = [
                    (self.condition(c) if place else first, self.body(b)) for place, (c, b) in enumerate(node.branches)
                ]
                if self.unit.form == "trigger":
                    return before + settled(branches, self.body(node.otherwise), speech)
                return before + speech.branch(branches, self.body(node.otherwise))
            case CaseStatement():
                return self._case(node)
            case Loop():
                return self._loop(node, label)
            case Jump():
                return self._jump(node)
            case Return():
                return self._return(node)
            case QueryStatement():
                return self._query(node)
            case Insert() | Update() | Delete():
                self.unit.changes = True
                if getattr(node, "returning", None):
                    raise CannotDraft("values that a change gives back")
                return [f"{write(node)};"]
            case Execute():
                return self.calls.write(node.routine, node.arguments, node)
            case CallStatement():
                return self._call_statement(node)
            case Raise() if node.last == node.first + 1 and not node.name:
                return speech.fail_again()
            case Raise():
                return speech.fail(self._message(node))
            case TryCatch():
                return self._protected(node.body, [([Caught.ANY], node.handler)])
            case CursorDeclaration() if self.source in ("sqlserver", "ase"):
                return []  # it is declared where it is opened, or in the head of the routine
            case OpenCursor():
                return self.cursors.open(node)
            case Fetch():
                handler = self.cursors.handler
                missed = self._handled(handler) if handler is not None else []
                return self.cursors.fetch(node, [self._target(each) for each in node.into], missed)
            case CloseCursor():
                return self.cursors.close(node)
            case Block():
                return self._block(node)
            case CreateTable():
                return self.temporary.create(node)
            case OtherStatement() if (changed := self.temporary.change(node)) is not None:
                return changed
            case PlainStatement() | OtherStatement():
                return self._plain(node)
        raise CannotDraft(f"a statement of the kind {type(node).__name__.lower()}")

    def _handled(self, handler: ConditionHandler) -> Lines:
        """Write what a handler does and goes on."""
        body = handler.body
        statements = body.body if isinstance(body, Block) else [body]
        if any(not isinstance(each, Assign) for each in statements):
            raise CannotDraft("a handler that does more than assign")
        return self.body(statements)

    def _assignments(self, last: Assign, start: int) -> Lines:
        """Write SET a = 1, b = 2, of which the tree's body holds the last only."""
        lines: Lines = []
        several = self.source in ("mysql", "mariadb")
        for node in sorted(self.rewriter.subject.all(Assign), key=lambda each: each.value.first):
            if node is last or (several and start <= node.first and node.value.last <= last.value.first):
                target, value = self._target(node.target), node.value
                operator = self.rewriter.words[node.target.last]
                if isinstance(value, Operation) and value.first <= node.target.first:
                    # @n += 1, of which the tree makes @n + 1
                    written = f"{target} {operator[0]} ({self.value(value.operands[1])})"
                else:
                    written = self.value(value) if not self._asks(value) else self.rewriter.elsewhere(value)
                if self._asks(value):
                    lines += self.speech.assign_query(target, written)
                else:
                    lines += self.speech.assign(target, written)
        return lines

    def _asks(self, node: Node) -> bool:
        """Whether an expression holds a query where the target takes none outside of SQL (PLS-00405 of Oracle)."""
        if self.target != "oracle":
            return False
        return any(node.first <= each.first and each.last <= node.last for each in self.rewriter.subject.all(Subquery))

    def _tested(self, node: Node) -> tuple[Lines, str]:
        """Return a condition, and what comes before it where a query has to find out whether it holds."""
        if not self._asks(node):
            return [], self.condition(node)
        test = Declared(self.speech.variable("hs_test"), self.speech.integer)
        if test not in self.unit.variables:
            self.unit.variables.append(test)
        asked = f"CASE WHEN {self.rewriter.elsewhere(node)} THEN 1 ELSE 0 END"
        return self.speech.assign_query(test.name, asked), f"{test.name} = 1"

    def _target(self, node: Node) -> str:
        column = row_column(node, self.unit.rows, self.speech, self.rewriter)
        if column:
            return column
        if not isinstance(node, Name) or len(node.parts) != 1 or node.parts[0] not in self.variables:
            raise CannotDraft("an assignment to something that is no variable of the routine")
        return self.variables[node.parts[0]]

    def _case(self, node: CaseStatement) -> Lines:
        branches = []
        for test, body in node.branches:
            condition = self.condition(test)
            if node.subject is not None:
                condition = f"{self.rewriter.elsewhere(node.subject)} = {self.rewriter.node(test)}"
            branches.append((condition, self.body(body)))
        otherwise = self.body(node.otherwise)
        if not node.otherwise and self.source != "sqlserver":
            otherwise = self.speech.fail(literal("case not found"))
        return self.speech.branch(branches, otherwise)

    def _loop(self, node: Loop, label: str) -> Lines:
        speech = self.speech
        self.count += 1
        number, name = self.count, f"hs_loop{self.count}"
        self.labels.append((label or self._label_of(node), name))
        body = self.body(node.body)
        self.labels.pop()
        if node.form == "while":
            return speech.repeat_while(self.condition(node.bounds[0]), body, name)
        if node.form == "basic":
            return speech.repeat_while(speech.always, body, name)
        if node.form == "repeat":
            self._refuse_restart(node)
            end = speech.branch([(self.condition(node.bounds[0]), speech.leave(name))], [])
            return speech.repeat_while(speech.always, [*body, *end], name)
        if node.form == "range" and len(node.bounds) == 2:
            return self._range(node, body, name)
        if node.form not in ("query", "cursor"):
            raise CannotDraft("a loop of a kind that is not drafted")
        return self.cursors.loop(node, body, name, number)

    def _label_of(self, node: Node) -> str:
        """Return the label right before a statement, which the tree of SQL/PSM does not list among the statements."""
        return next((each.name for each in self.rewriter.subject.all(Label) if each.last == node.first), "")

    def _range(self, node: Loop, body: Lines, name: str) -> Lines:
        """Count a variable up or down; the bounds are taken once, before the loop."""
        self._refuse_restart(node)
        write = self.speech.variable
        variable, bound = self.variables[node.variable], write(f"hs_end{self.count}")
        self.unit.variables.append(Declared(bound, self.speech.integer))
        low, high = (self.value(each) for each in node.bounds)
        first, last, sign, step = (high, low, ">=", "-") if node.reverse else (low, high, "<=", "+")
        lines = [*self.speech.assign(variable, first), *self.speech.assign(bound, last)]
        count = self.speech.assign(variable, f"{variable} {step} 1")
        return [*lines, *self.speech.repeat_while(f"{variable} {sign} {bound}", [*body, *count], name)]

    def _refuse_restart(self, node: Loop) -> None:
        for jump in self.rewriter.subject.all(Jump):
            if node.first <= jump.first < node.last and jump.form == "continue":
                raise CannotDraft("a loop that counts or tests at its end and is begun anew from inside")

    def _jump(self, node: Jump) -> Lines:
        place = next((ours for theirs, ours in reversed(self.labels) if not node.label or theirs == node.label), "")
        if node.form not in ("exit", "continue", "leave", "iterate", "break"):
            raise CannotDraft("GOTO")
        if not place:
            blocks = self.rewriter.subject.all(Block)
            outermost = min(blocks, key=lambda each: each.first, default=None)
            ends = outermost is not None and node.label and node.label == self._label_of(outermost)
            if ends and node.form in ("exit", "leave") and self.unit.form != "function":
                return self.speech.give_back("")
            raise CannotDraft("a jump to a label that no loop has")
        if self.target == "sqlserver" and place != self.labels[-1][1]:
            raise CannotDraft("a jump out of more than one loop")
        leaves = node.form in ("exit", "leave", "break")
        lines = self.speech.leave(place) if leaves else self.speech.go_on(place)
        return self.speech.branch([(self.condition(node.condition), lines)], []) if node.condition else lines

    def _return(self, node: Return) -> Lines:
        if self.unit.form == "trigger":
            return self.speech.give_back("")
        if self.unit.form == "function":
            if node.value is None:
                raise CannotDraft("RETURN of a function without a value")
            return self.speech.give_back(self.value(node.value))
        if self.unit.status and node.value is not None:
            return [*self.speech.assign(self.unit.status, self.value(node.value)), *self.speech.give_back("")]
        return self.speech.give_back("")

    def _block(self, node: Block) -> Lines:
        if any(not isinstance(each, Variable) and not is_exit_handler(each) for each in node.declarations):
            raise CannotDraft("a block with declarations of its own")
        lines: Lines = []
        for each in node.declarations:
            if isinstance(each, Variable):
                value = self.value(each.default) if each.default is not None else "NULL"
                lines += self.speech.assign(self.variables[each.name], value)
        handlers = handlers_of(node, self.source)
        if not handlers:
            return lines + self.body(node.body)
        if self.target == "sqlserver" and self._looks_for_one_row(node, handlers):
            return lines + self._met_or(node.body, self.body(handlers[0][1]))
        return lines + self._protected(node.body, handlers)

    def _protected(self, statements: list[Node], handlers: list[tuple[list[Caught], list[Node]]]) -> Lines:
        """Write statements whose errors are caught."""
        self.catching.append([kind for kinds, _ in handlers for kind in kinds])
        body = self.body(statements)
        self.catching.pop()
        return self.speech.protect(body, [(kinds, self.body(handler)) for kinds, handler in handlers])

    def _looks_for_one_row(self, node: Block, handlers: list[tuple[list[Caught], list[Node]]]) -> bool:
        """Whether a block is a query into variables and what to do without a row."""
        return [kinds for kinds, _ in handlers] == [[Caught.NO_ROW]] and [type(each) for each in node.body] == [
            QueryStatement
        ]

    def _met_or(self, statements: list[Node], missing: Lines) -> Lines:
        before, self.missing = self.missing, missing
        lines = self.body(statements)
        self.missing = before
        return lines

    def _plain(self, node: PlainStatement | OtherStatement) -> Lines:
        words = node.words.split(" ")
        if node.words == "null":
            return self.speech.nothing()
        if node.words == "declare":
            return self._declared_here(node)
        if words[0] == "set" and self.source in ("sqlserver", "ase"):
            return []  # settings of the session, each of which has a finding of its own where it matters
        if node.words in ("commit", "rollback") and self.unit.form == "procedure":
            return self.speech.end_transaction(node.words.upper())
        if words[0] in ("begin", "start") and words[-1] in ("transaction", "tran", "start", "begin"):
            return self.speech.begin_transaction()
        if words[0] == "print" and isinstance(node, PlainStatement) and node.value is not None:
            return self.speech.say(self.value(node.value))
        raise CannotDraft(f"the statement {node.words}")

    def _declared_here(self, node: Node) -> Lines:
        """Give variables that are declared among the statements their values where they stand."""
        lines: Lines = []
        for variable in self.rewriter.subject.all(Variable):
            if node.first <= variable.first < node.last and is_table_variable(variable):
                lines += self.temporary.declare(variable)
            elif node.first <= variable.first < node.last and variable.default is not None:
                lines += self.speech.assign(self.variables[variable.name], self.value(variable.default))
        return lines

    # --- calls ---

    def _call_statement(self, node: CallStatement) -> Lines:
        call = node.call
        if isinstance(call, Call) and call.parts[-1] == "RAISE_APPLICATION_ERROR" and len(call.arguments) > 1:
            return self.speech.fail(self.value(call.arguments[1]))
        if isinstance(call, Call) and call.parts[-2:] == ("DBMS_OUTPUT", "PUT_LINE"):
            return self.speech.say(self.value(call.arguments[0]))
        if isinstance(call, Call | Name):
            return self.calls.write(call.parts, call.arguments if isinstance(call, Call) else [], call)
        raise CannotDraft("a statement that is no call")

    def _message(self, node: Raise) -> str:
        return raised_message(node, self.rewriter, self.variables)

    # --- queries ---

    def answer(self, node: Node, kind: str) -> Lines:
        """Return what the last query of a function gives, or the value that the function is; `kind` is the type of the result."""
        if not isinstance(node, QueryStatement):
            return self.speech.give_back(self.value(node))
        block = node.query.blocks[0]
        if not isinstance(block, Select) or len(node.query.blocks) > 1 or len(block.items) != 1 or node.query.common:
            raise CannotDraft("a function whose query gives several columns, or has several parts")
        self.unit.reads = True
        value = block.items[0].value
        if block.from_at < 0:
            return self.speech.give_back(self.value(value))
        if not self._is_one_row(block, [value]) and not self._is_by_key(block):
            raise CannotDraft("a function that gives the first of several rows")
        result = Declared(self.speech.variable("hs_answer"), kind)
        self.unit.variables.append(result)
        rest = self.rewriter.text(block.from_at, node.query.last).strip()
        return [*self.speech.fill([result.name], [self.value(value)], rest), *self.speech.give_back(result.name)]

    def raised_where(self, block: Select) -> Lines:
        """Write SELECT RAISE(ABORT, text) WHERE condition, the way in which triggers of SQLite raise an error."""
        words, first = self.rewriter.words, block.items[0].first
        if words[first + 2 : first + 3] != ["ABORT"] or block.from_at >= 0:
            raise CannotDraft("RAISE that passes over a row or ends the transaction")
        raised = self.speech.fail(self.rewriter.text_elsewhere(first + 4, block.items[0].last - 1).strip())
        return self.speech.branch([(self.condition(block.where), raised)], []) if block.where is not None else raised

    def _query(self, node: QueryStatement) -> Lines:
        self.unit.reads = True
        block = node.query.blocks[0]
        if not isinstance(block, Select) or (len(node.query.blocks) > 1 and self._fills(block)):
            raise CannotDraft("a query that fills variables from several queries")
        if self.source == "sqlite" and self.rewriter.words[block.items[0].first] == "RAISE":
            return self.raised_where(block)
        made = self.temporary.fill(node.query, block)
        if made is not None:
            return made
        if not self._fills(block):
            if self.unit.form == "function":
                raise CannotDraft("a function that gives out rows")
            return self.speech.result(self.rewriter.node(node))
        return self._fill(node.query, block)

    def _fills(self, block: Select) -> bool:
        return bool(block.into) or any(assigns(item) for item in block.items)

    def _fill(self, query: Query, block: Select) -> Lines:
        if block.bulk or query.common:
            raise CannotDraft("a query with common tables, or many rows at once, into variables")
        items = block.items
        if block.into:
            targets, values = [self._target(each) for each in block.into], [each.value for each in items]
        else:
            pairs = [item.value.operands for item in items if isinstance(item.value, Operation) and assigns(item)]
            if len(pairs) != len(items) or any(len(pair) != 2 for pair in pairs):
                raise CannotDraft("a query that assigns and gives out at once")
            targets, values = [self._target(pair[0]) for pair in pairs], [pair[1] for pair in pairs]
        if len(targets) != len(values):
            raise CannotDraft("a whole row into variables")
        written = [self.value(each) for each in values]
        rest = self.rewriter.text(block.from_at, query.last).strip() if block.from_at >= 0 else ""
        if not rest or rest.upper() == "FROM DUAL":
            return [line for pair in zip(targets, written, strict=True) for line in self.speech.assign(*pair)]
        lines = self.speech.fill(targets, written, rest)
        if self._is_one_row(block, values):
            return lines
        return self._as_source(query, block, targets, lines)

    def _as_source(self, query: Query, block: Select, targets: list[str], lines: Lines) -> Lines:
        """Keep what the source does where a query has no row, or several."""
        if self.cursors.handler is not None or (self.source in _PSM and self._catches(Caught.NO_ROW)):
            raise CannotDraft("a query whose missing row a handler answers to")
        is_single = self._is_by_key(block)
        if self.source in ("sqlserver", "ase") and not is_single:
            raise CannotDraft("a query of which the last of several rows counts")
        if self.source == "postgresql":
            if "STRICT" in self.rewriter.words[block.first : block.last]:
                raise CannotDraft("SELECT INTO STRICT")
            names = {n.parts[0] for n in self.rewriter.subject.all(Name) if block.from_at <= n.first < query.last}
            if {theirs for theirs, ours in self.variables.items() if ours in targets} & names:
                raise CannotDraft("a query that fills a variable it reads itself")
            return [line for target in targets for line in self.speech.assign(target, "NULL")] + lines
        if self.source == "oracle":
            return lines + self._as_oracle(is_single=is_single)
        return lines

    def _as_oracle(self, *, is_single: bool) -> Lines:
        """Raise or handle what a query of PL/SQL raises where it meets no row, or several."""
        no_row = self.speech.fail(literal("no data found"))
        if isinstance(self.speech, TsqlSpeech):
            missing = self.missing if self.missing is not None else self.speech.fail_as(Caught.NO_ROW)
            return self.speech.rows_met(missing, [] if is_single else self.speech.fail_as(Caught.SEVERAL_ROWS))
        if not self._catches(Caught.NO_ROW):
            self.unit.handlers.append(([Caught.NO_ROW], no_row))
        return []

    def _catches(self, kind: Caught) -> bool:
        return any(kind in kinds for kinds in (*self.catching, *(kinds for kinds, _ in self.unit.handlers)))

    def _is_one_row(self, block: Select, values: list[Node]) -> bool:
        """Whether a query gives one row whatever the tables hold: aggregates without groups."""
        return not block.group and all(isinstance(v, Call) and v.parts[-1] in _AGGREGATES for v in values)

    def _is_by_key(self, block: Select) -> bool:
        """Whether a query asks for one row of one table by a key, or limits itself to one."""
        words = self.rewriter.words[block.first : block.first + 5]
        if "TOP" in words and "1" in words:
            return True
        if len(block.sources) != 1 or not isinstance(block.sources[0], TableRef) or block.where is None:
            return False
        table = self.rewriter.table(block.sources[0].parts)
        equal = {
            each.operands[0].parts[-1]
            for each in self.rewriter.subject.all(Operation)
            if each.operators == ["="] and block.where.first <= each.first < block.where.last
            and isinstance(each.operands[0], Name)
        }  # fmt: skip
        has_or = "OR" in self.rewriter.words[block.where.first : block.where.last]
        return table is not None and not has_or and any(set(k) <= equal for k in self.rewriter.catalog.keys_of(table))

    # --- values and conditions ---

    def value(self, node: Node) -> str:
        """Write an expression. Raises CannotDraft for a truth value where the target has none, and for a query in it."""
        if self._asks(node):
            raise CannotDraft("a query inside an expression of PL/SQL")
        inner = node.inner if isinstance(node, Paren) else node
        is_truth = isinstance(inner, Comparison) or (
            isinstance(inner, Operation) and bool(set(inner.operators) & _TRUTHS)
        )
        is_truth = is_truth or (isinstance(inner, Operation) and bool(set(inner.operators) & _COMPARING))
        if is_truth and self.target in _UNTYPED and not self.rewriter.rewrites(inner, ".predicate-as-value"):
            return predicate_as_number(node, self.rewriter)
        return self.rewriter.elsewhere(node)

    def condition(self, node: Node) -> str:
        """Write a condition; a number or truth value that stands for one is compared where the target asks for it."""
        if self._asks(node):
            raise CannotDraft("a query inside a condition of PL/SQL")
        if self.target not in _UNTYPED or self._is_condition(node) or self.rewriter.changes(node):
            return self.rewriter.elsewhere(node)
        raise CannotDraft("a value that stands for a condition")

    def _is_condition(self, node: Node) -> bool:
        if isinstance(node, Paren):
            return self._is_condition(node.inner)
        if isinstance(node, Operation) and set(node.operators) <= _TRUTHS:
            return all(self._is_condition(each) for each in node.operands)
        if isinstance(node, Operation):
            return bool(set(node.operators) & _COMPARING)
        return not isinstance(node, Name | Call | Literal)


def _as_lines(comment: str) -> Lines:
    """Return a comment as comments of one line each, which every language reads."""
    inside = comment[2:-2] if comment.startswith("/*") else comment[2:]
    return [f"-- {line.strip()}" for line in inside.splitlines() if line.strip()]
