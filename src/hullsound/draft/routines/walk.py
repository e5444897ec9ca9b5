"""Goes through the statements of a source's routine and has each written by the target's speech."""

import re
from collections.abc import Sequence
from typing import Final

from hullsound.analyze.transactions import rollback_guard
from hullsound.analyze.types import Family
from hullsound.catalog.model import Object
from hullsound.draft.conversions.assigned import shortened
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.statements.named_conditions import named_conditions
from hullsound.draft.statements.session_settings import ENCODING_STATEMENTS, check_standard, is_idle_setting
from hullsound.draft.statements.set_at_once import READS_SET, reads_what_is_set
from hullsound.sql.tree import (
    Assign,
    Block,
    Call,
    CallStatement,
    CaseStatement,
    CloseCursor,
    CreateTable,
    CursorDeclaration,
    Delete,
    ExceptionDeclaration,
    Execute,
    ExecuteImmediate,
    Fetch,
    If,
    Insert,
    Jump,
    Label,
    Loop,
    Merge,
    Name,
    Node,
    OpenCursor,
    Operation,
    OtherStatement,
    PlainStatement,
    QueryStatement,
    Raise,
    Return,
    Row,
    Select,
    TryCatch,
    Update,
    Variable,
)

from .calls import head_of, returns_nothing
from .errors import (
    CHANGING,
    going_on,
    handlers_of,
    is_exit_handler,
    raised_kind,
    raised_message,
    raised_state,
    told_message,
)
from .identities import number_given
from .missing_rows import check_cursors
from .rows import settled
from .savepoints import savepoint
from .speech import Caught, Declared, Lines, LoopAround, OwnError
from .temporary import is_table_variable
from .types import type_text
from .walked_changes import ChangeWalk

_PSM: Final = frozenset(("mysql", "mariadb"))
_COMMENT: Final = re.compile(r"--[^\n]*|/\*.*?\*/", re.DOTALL)
_SPAN: Final = re.compile(r"N?'(\d{1,2}):(\d{2})(?::(\d{2})(\.\d+)?)?'")
_LONGEST_TRUNCATE: Final = 3
"""Words of TRUNCATE TABLE with a name without a schema."""
_TOLD: Final = frozenset(("NOTICE", "INFO", "WARNING", "LOG", "DEBUG"))
"""Levels of RAISE that end nothing."""
_OPENERS: Final = frozenset(("BEGIN", "THEN", "ELSE", "LOOP", "DO", "REPEAT", "TRY", "CATCH", ";", "AS", "IS"))
"""What stands before the first statement of a list."""


class Walk(ChangeWalk):
    """One routine on its way from tree to text."""

    going_on: Sequence[tuple[list[Caught | OwnError], list[Node]]] = ()
    """Handlers behind which the statement after the failing one follows, with what they catch."""

    # --- statements ---

    def body(self, statements: list[Node]) -> Lines:
        """Write statements, each with the comments before it."""
        pieces: list[Lines] = []
        label = ""
        start = self._opening(statements[0].first) if statements else 0
        written: Node | None = None
        for place, node in enumerate(statements):
            lines = self._comments(start, node.first)
            given = number_given(node, statements[place + 1 :], self.rewriter) if isinstance(node, Insert) else None
            if node is written:
                pass
            elif isinstance(node, Label):
                label = node.name
            elif isinstance(node, Insert) and given is not None:
                lines += [*self.numbered(node, given), *self.row_counts.after(node)]
                if given.asking is not None:
                    self.answered.add(given.asking)
                written = given.asking if isinstance(given.asking, QueryStatement) else None
                label = ""
            else:
                done = [*self._statement(node, start, label), *self.row_counts.after(node)]
                done = self._guarded(node, [*done, *self.misses.changed(node, self.caught())])
                lines += self.error_tests.around(node, done)
                label = ""
            pieces.append(lines)
            start = node.last
        return self.gotos.joined(statements, pieces)

    def _guarded(self, node: Node, lines: Lines) -> Lines:
        """Write the handlers around a statement behind which the routine goes on, whatever error it met."""
        handlers = self.going_on
        if not handlers or not isinstance(node, CHANGING):
            return lines
        self.going_on = ()
        written = [(kinds, self.body(handler)) for kinds, handler in handlers]
        self.going_on = handlers
        return self.speech.protect(lines, written)

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
        match node:
            case Assign():
                return self._assignments(node)
            case If() if rollback_guard(node) is not None or self.temporary.guards(node):
                return self.body(node.branches[0][1])
            case If():
                return self._if(node, start, label)
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
            case Insert() | Update() | Delete() | Merge():
                return self.change(node)
            case ExecuteImmediate():
                return self.constant_texts.write(node)
            case Execute() if node in self.constant_texts.sites:
                return self.constant_texts.write(node)
            case Execute():
                return self.calls.write(node.routine, node.arguments, node)
            case CallStatement():
                return self._call_statement(node)
            case Raise():
                return self._raise(node)
            case TryCatch():
                return self._protected(node.body, [([Caught.ANY], node.handler)])
            case CursorDeclaration() if self.source in ("sqlserver", "ase"):
                return []  # it is declared where it is opened, or in the head of the routine
            case OpenCursor() if self.results.opens(node):
                self.unit.reads = True
                return self.results.result(node)
            case OpenCursor():
                return self.cursors.open(node)
            case Fetch():
                missed = self.misses.fetched(node, self.missing, self.caught())
                return self.cursors.fetch(node, self.targets(node.into), missed, self.completion.met())
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

    def _if(self, node: If, start: int, label: str) -> Lines:
        before, first = self._tested(node.branches[0][0])
        if any(self._asks(condition) for condition, _ in node.branches[1:]):
            rest = self._statement(If(node.first, node.last, node.branches[1:], node.otherwise), start, label)
            return before + self.speech.branch([(first, self.body(node.branches[0][1]))], rest)
        branches = [
            (self.condition(condition) if place else first, self.body(body))
            for place, (condition, body) in enumerate(node.branches)
        ]
        if self.unit.form == "trigger":
            return before + settled(branches, self.body(node.otherwise), self.speech)
        return before + self.speech.branch(branches, self.body(node.otherwise))

    def _raise(self, node: Raise) -> Lines:
        if self.source == "postgresql" and self.rewriter.words[node.first + 1] in _TOLD:
            return self.speech.say(told_message(node, self.rewriter))
        if node.last == node.first + 1 and not node.name:
            return self.speech.fail_again()
        if not node.name or node.name[-1] in named_conditions(self.rewriter):
            return self.speech.fail(self._message(node), raised_state(node, self.rewriter))
        kind = raised_kind(node.name[-1], self.own_errors)
        return self.speech.fail_own(kind) if isinstance(kind, OwnError) else self.speech.fail_as(kind)

    def _assignments(self, last: Assign) -> Lines:
        """Write SET a = 1, b = 2, of which the tree's body holds the last only."""
        lines: Lines = []
        if reads_what_is_set(last, self.rewriter):
            raise CannotDraft(READS_SET)
        for node in sorted(self.rewriter.subject.all(Assign), key=lambda each: each.value.first):
            if is_idle_setting(node.target, self.rewriter) or node in self.answered:
                continue
            if node is last or (node.first == last.first and node.last < last.last):
                whole, given = self.row_variables.of(node.target), self.row_variables.of(node.value)
                if whole is not None and given is not None and len(whole.written) == len(given.written):
                    for one, other in zip(whole.written, given.written, strict=True):
                        lines += self.speech.assign(one.name, other.name)
                    continue
                target, value = self._target(node.target), node.value
                if isinstance(value, Operation) and value.first <= node.target.first:
                    # @n += 1, of which the tree makes @n + 1
                    written = self._compound(target, node.target, value)
                else:
                    written = self.value(value) if not self._asks(value) else self.rewriter.elsewhere(value)
                if self._asks(value):
                    lines += self.speech.assign_query(target, written)
                else:
                    lines += self.speech.assign(target, written)
        return lines

    def _compound(self, target: str, variable: Node, value: Operation) -> str:
        """Write what @v += x gives. Raises CannotDraft where the target would add, divide or round otherwise."""
        sign, other = self.rewriter.words[variable.last][0], value.operands[1]
        kept, added = self.rewriter.types.family(variable), self.rewriter.types.family(other)
        text = self.value(other)
        if kept is Family.TEXT and sign == "+" and added in (Family.TEXT, Family.UNKNOWN):
            joined = f"{target} + {text}"
            if self.target == "oracle":
                self.rewriter.rendered.append(("convert.null-joined", value.first))
                joined = f"{target} || {text}"
            elif self.target in _PSM:
                joined = f"CONCAT({target}, {text})"
            kind = self.rewriter.types.source_type(variable)
            return shortened(joined, kind.arguments[0], self.target) if kind is not None and kind.arguments else joined
        is_whole = kept is Family.INTEGER and added is Family.INTEGER and sign in "+-*"
        is_number = kept is Family.NUMBER and added in (Family.INTEGER, Family.NUMBER) and sign in "+-*"
        if not (is_whole or is_number):
            raise CannotDraft("an assignment that also calculates, other than of numbers or texts that are joined")
        return f"{target} {sign} ({text})"

    def _tested(self, node: Node) -> tuple[Lines, str]:
        """Return a condition, and what comes before it where a query has to find out whether it holds."""
        if not self._asks(node):
            return [], self.condition(node)
        test = Declared(self.speech.variable("hs_test"), self.speech.integer)
        if test not in self.unit.variables:
            self.unit.variables.append(test)
        asked = f"CASE WHEN {self.rewriter.elsewhere(node)} THEN 1 ELSE 0 END"
        return self.speech.assign_query(test.name, asked), f"{test.name} = 1"

    def _case(self, node: CaseStatement) -> Lines:
        branches = []
        for test, body in node.branches:
            if node.subject is not None:
                tested = (
                    f"IN ({self.rewriter.node(test)})" if isinstance(test, Row) else f"= {self.rewriter.node(test)}"
                )
                condition = f"{self.rewriter.elsewhere(node.subject)} {tested}"
            else:
                condition = self.condition(test)
            branches.append((condition, self.body(body)))
        otherwise = self.body(node.otherwise)
        if not node.otherwise and self.source not in ("sqlserver", "ase"):
            otherwise = self.speech.fail(literal("case not found"))
        return self.speech.branch(branches, otherwise)

    def _loop(self, node: Loop, label: str) -> Lines:
        speech = self.speech
        self.count += 1
        number, name = self.count, f"hs_loop{self.count}"
        self.loops.append(LoopAround(label or self._label_of(node), name, node.form == "range"))
        body = self.body(node.body)
        self.loops.pop()
        if node.form == "while" and self._asks(node.bounds[0]):
            before, test = self._tested(node.bounds[0])
            ends = speech.branch([(test.replace(" = 1", " = 0"), speech.leave(name))], [])
            return speech.repeat_while(speech.always, [*before, *ends, *body], name)
        if node.form == "while":
            return speech.repeat_while(self.condition(node.bounds[0]), body, name)
        if node.form == "basic":
            return speech.repeat_while(speech.always, body, name)
        if node.form == "repeat":
            before, test = self._tested(node.bounds[0])
            end = speech.branch([(test, speech.leave(name))], [])
            return speech.repeat_while(speech.always, [*body, *before, *end], name)  # ITERATE does not test
        if node.form == "range" and len(node.bounds) > 1:
            return self._range(node, body, name, number)
        if node.form not in ("query", "cursor"):
            raise CannotDraft("a loop of a kind that is not drafted")
        return self.cursors.loop(node, body, name, number)

    def _label_of(self, node: Node) -> str:
        """Return the label right before a statement, which the tree of SQL/PSM does not list among the statements."""
        return next((each.name for each in self.rewriter.subject.all(Label) if each.last == node.first), "")

    def _range(self, node: Loop, body: Lines, name: str, number: int) -> Lines:
        """Count a variable up or down; the bounds are taken once, before the loop."""
        step = self.rewriter.subject.source(node.bounds[2]) if len(node.bounds) > 2 else "1"
        if not step.isdecimal() or not int(step):
            raise CannotDraft("a loop whose step is no constant above 0")
        write = self.speech.variable
        variable, bound = self.variables[node.variable], write(f"hs_end{number}")
        self.unit.variables.append(Declared(bound, self.speech.integer))
        low, high = (self.value(each) for each in node.bounds[:2])
        first, last, sign, way = (high, low, ">=", "-") if node.reverse else (low, high, "<=", "+")
        lines = [*self.speech.assign(variable, first), *self.speech.assign(bound, last)]
        count = self.speech.assign(variable, f"{variable} {way} {step}")
        return [*lines, *self.speech.repeat_while(f"{variable} {sign} {bound}", body, name, count)]

    def _jump(self, node: Jump) -> Lines:
        if node.form == "goto":
            return self.gotos.jump(node)
        loop = next((each for each in reversed(self.loops) if node.label in ("", each.source_label)), None)
        if node.form not in ("exit", "continue", "leave", "iterate", "break"):
            raise CannotDraft("GOTO")
        if loop is None:
            blocks = self.rewriter.subject.all(Block)
            outermost = min(blocks, key=lambda each: each.first, default=None)
            ends = outermost is not None and node.label and node.label == self._label_of(outermost)
            if ends and node.form in ("exit", "leave") and self.unit.form != "function":
                return self.speech.give_back("")
            raise CannotDraft("a jump to a label that no loop has")
        is_inner = loop is self.loops[-1]
        if node.form in ("exit", "leave", "break"):
            lines = self.speech.leave(loop.label) if is_inner else self.speech.leave_outer(loop.label)
        elif loop.has_end:
            lines = self.speech.end_round(loop.label)
        else:
            lines = self.speech.go_on(loop.label) if is_inner else self.speech.go_on_outer(loop.label)
        return self.speech.branch([(self.condition(node.condition), lines)], []) if node.condition else lines

    def _return(self, node: Return) -> Lines:
        if self.unit.form == "trigger":
            return self.speech.give_back("")
        if self.results.is_returned:
            if not isinstance(node.value, Name) or node.value.parts[0] not in self.results.names:
                raise CannotDraft("a cursor that comes from somewhere else")
            return self.speech.give_back("")
        if self.unit.form == "function":
            if node.value is None:
                raise CannotDraft("RETURN of a function without a value")
            return self.given(node.value)
        if self.unit.status and node.value is not None:
            return [*self.speech.assign(self.unit.status, self.value(node.value)), *self.speech.give_back("")]
        return self.speech.give_back("")

    def _block(self, node: Block) -> Lines:
        if any(
            not isinstance(each, Variable | ExceptionDeclaration | CursorDeclaration)
            and not is_exit_handler(each)
            and not self.misses.goes_on(each)
            for each in node.declarations
        ) or going_on(node, self.rewriter):
            raise CannotDraft("a block with declarations of its own")
        check_cursors(node, self.rewriter)
        lines: Lines = []
        for each in node.declarations:
            if isinstance(each, Variable):
                value = self.value(each.default) if each.default is not None else "NULL"
                lines += self.speech.assign(self.variables[each.name], value)
        handlers = handlers_of(node, self.rewriter, self.own_errors)
        if not handlers:
            return lines + self.body(node.body)
        if self.target == "sqlserver" and self._looks_for_one_row(node, handlers):
            return lines + self._met_or(node.body, self.body(handlers[0][1]))
        return lines + self._protected(node.body, handlers)

    def _protected(self, statements: list[Node], handlers: list[tuple[list[Caught | OwnError], list[Node]]]) -> Lines:
        """Write statements whose errors are caught."""
        self.catching.append([kind for kinds, _ in handlers for kind in kinds])
        body = self.body(statements)
        self.catching.pop()
        return self.speech.protect(body, [(kinds, self.body(handler)) for kinds, handler in handlers])

    def _looks_for_one_row(self, node: Block, handlers: list[tuple[list[Caught | OwnError], list[Node]]]) -> bool:
        """Whether a block is a query into variables and what to do without a row."""
        return [kinds for kinds, _ in handlers] == [[Caught.NO_ROW]] and [type(each) for each in node.body] == [
            QueryStatement
        ]

    def _met_or(self, statements: list[Node], missing: Lines) -> Lines:
        before, self.missing = self.missing, missing
        lines = self.body(statements)
        self.missing = before
        return lines

    def _caught_text(self, node: PlainStatement | OtherStatement) -> Lines:
        """Write GET DIAGNOSTICS CONDITION 1 variable = MESSAGE_TEXT; nothing for what else it asks."""
        words = self.rewriter.words[node.first : node.last]
        asked = next((word for word in ("CONDITION", "EXCEPTION") if word in words), "")
        at = words.index(asked) + 2 if asked else 0
        is_text = at and words[at - 1] == "1" and words[at + 1 :] == ["=", "MESSAGE_TEXT"]
        target = self.variables.get(words[at]) if is_text else None
        return self.speech.assign(target, self.speech.caught_text) if target and self.speech.caught_text else []

    def _plain(self, node: PlainStatement | OtherStatement) -> Lines:
        words = node.words.split(" ")
        if node.words == "null":
            return self.speech.nothing()
        if node.words == "declare":
            return self._declared_here(node)
        if node.words == "get diagnostics":
            return self._caught_text(node) or self.row_counts.asked(node)
        if (
            words[0] == "truncate"
            and node.last - node.first <= _LONGEST_TRUNCATE
            and self.source in ("mysql", "mariadb")
        ):
            return self.speech.truncate(self.rewriter.text(node.last - 1, node.last).strip())
        if node.words == "declare condition":
            return []
        if node.words in ENCODING_STATEMENTS and self.source in ("mysql", "mariadb"):
            return []
        if words[0] == "set" and self.source in ("sqlserver", "ase"):
            check_standard(self.rewriter.words[node.first : node.last])
            return []  # settings of the session, each of which has a finding of its own where it matters
        if self.unit.form == "procedure" and (saved := savepoint(node, self.rewriter)) is not None:
            return saved
        if node.words in ("commit", "rollback") and self.unit.form == "procedure":
            return self.speech.end_transaction(node.words.upper())
        if words[0] in ("begin", "start") and words[-1] in ("transaction", "tran", "start", "begin"):
            return self.speech.begin_transaction()
        if words[0] == "waitfor":
            return self.speech.wait(self._seconds(node))
        if words[0] == "print" and isinstance(node, PlainStatement) and node.value is not None:
            return self.speech.say(self.value(node.value))
        if node.words == "perform" and isinstance(node, PlainStatement) and isinstance(node.value, Select):
            return self._performed(node.value)
        raise CannotDraft(f"the statement {node.words}")

    def _performed(self, select: Select) -> Lines:
        """Write PERFORM of a function, or of a query whose rows only FOUND tells of."""
        call = select.items[0].value if len(select.items) == 1 else None
        own = [each for each in self.rewriter.subject.read.inside(Call, select.first, select.last) if self._own(each)]
        if select.from_at >= 0:
            if own:
                raise CannotDraft("PERFORM of functions over the rows of a query")
            self.unit.reads = True
            return self.row_counts.met(select) or self.speech.nothing()
        item = self._own(call) if isinstance(call, Call) else None
        if item is None or not isinstance(call, Call) or len(own) > 1 or self.row_counts.kept:
            raise CannotDraft("PERFORM of something else than one function of the source, or where FOUND is asked for")
        routine = head_of(item.text, self.source)
        if returns_nothing(routine):
            return self.calls.write(call.parts, call.arguments, call)
        if routine.returns is None:
            raise CannotDraft("PERFORM of a function that gives several values")
        unused = Declared(
            self.speech.variable(f"hs_given{len(self.unit.variables) + 1}"), type_text(routine.returns, self.rewriter)
        )
        self.unit.variables.append(unused)
        return self.speech.assign(unused.name, self.value(call))

    def _own(self, call: Call) -> Object | None:
        item = self.rewriter.catalog.resolve(call.parts, self.rewriter.default_schema)
        return item if item is not None and item.routines else None

    def _seconds(self, node: Node) -> str:
        """Return the seconds of WAITFOR DELAY 'hh:mm:ss'. Raises CannotDraft for a time of day, and for a variable."""
        words, tokens = self.rewriter.words, self.rewriter.tokens
        at = node.first + 2
        span = _SPAN.fullmatch(tokens.source(at, at + 1)) if words[node.first + 1] == "DELAY" else None
        if span is None:
            raise CannotDraft("waiting for a time of day, or for a while that a variable tells")
        whole = int(span[1]) * 3600 + int(span[2]) * 60 + int(span[3] or 0)
        return f"{whole}{span[4] or ''}"

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


def _as_lines(comment: str) -> Lines:
    """Return a comment as comments of one line each, which every language reads."""
    inside = comment[2:-2] if comment.startswith("/*") else comment[2:]
    return [f"-- {line.strip()}" for line in inside.splitlines() if line.strip()]
