"""Queries, values and conditions inside a routine, as the target's routine needs them."""

from abc import ABC, abstractmethod
from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.inserted import inserted_row
from hullsound.analyze.raised import RaisingQuery, raising_query
from hullsound.analyze.types import Family
from hullsound.catalog.model import Object
from hullsound.draft.conversions.conditions import predicate_as_number
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.limits import take_first_row
from hullsound.draft.statements.queries import assigns
from hullsound.sql.tree import (
    Call,
    Comparison,
    Insert,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Query,
    QueryStatement,
    Select,
    Subquery,
    TableRef,
)

from .calls import Calls
from .completion import Completion
from .constant_texts import ConstantTexts
from .current_rows import CurrentRows
from .cursor_results import CursorResults
from .cursors import Cursors
from .error_tests import ErrorTests
from .errors import own_errors
from .gotos import Gotos
from .identities import drop_returning
from .last_rows import LastRows
from .limits import LimitVariables
from .missing_rows import MissingRows
from .returned_values import ReturnedValues
from .row_counts import RowCounts
from .row_variables import RowVariables
from .rows import row_column
from .speech import Caught, Declared, Lines, LoopAround, OwnError, Speech, Unit
from .temporary import TemporaryTables
from .tsql import TsqlSpeech
from .types import type_text
from .variables import add_names, refuse_unknown

_AGGREGATES: Final = frozenset(("COUNT", "SUM", "MIN", "MAX", "AVG", "COUNT_BIG"))
_FILLING: Final = frozenset(("COALESCE", "NVL", "IFNULL", "ISNULL"))
_TRUTHS: Final = frozenset(("AND", "OR", "NOT"))
_COMPARING: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">=", "<=>", "IS", "LIKE", "IN", "BETWEEN"))
_PSM: Final = frozenset(("mysql", "mariadb", "db2", "teradata"))
_TRUTH_VALUES: Final = frozenset((Family.INTEGER, Family.NUMBER, Family.BOOLEAN))
_UNTYPED: Final = frozenset(("sqlserver", "oracle"))
"""Targets where a truth value is neither a number nor a value."""
_WITHOUT_TRUTH: Final = ("sqlserver", "ase")
"""Sources whose functions give no truth values, so that one that stands for a condition is a predicate."""


class QueryWalk(ABC):
    """Writes what a routine asks of tables, and its values."""

    def __init__(
        self,
        rewriter: Rewriter,
        speech: Speech,
        unit: Unit,
        variables: dict[str, str],
        cursors: Cursors,
        results: CursorResults | None = None,
    ) -> None:
        self.results = results or CursorResults(rewriter, speech, None)
        self.cursors = cursors
        self.rewriter, self.speech, self.unit, self.variables = rewriter, speech, unit, variables
        self.source, self.target = rewriter.catalog.engine, rewriter.target.engine
        self.temporary = TemporaryTables(rewriter, unit, type_text, cursors.titled)
        self.row_counts = RowCounts(rewriter, speech, unit)
        self.returned = ReturnedValues(rewriter, speech, variables)
        self.constant_texts = ConstantTexts(self)
        self.row_variables = RowVariables(rewriter, speech, cursors)
        self.calls = Calls(rewriter, speech, unit, variables, self.value, self.results.names)
        drop_returning(rewriter)
        self.own_errors = own_errors(rewriter)
        self.loops: list[LoopAround] = []
        """The loops around what is written, the innermost last."""
        self.answered: set[Node] = set()
        """Assignments of a new row's number, which the INSERT before has made."""
        self.limits: dict[Node, Lines] = {}
        """What is done before each query whose limit is an expression."""
        self.count = 0
        self.catching: list[list[Caught | OwnError]] = []
        """What the blocks around catch, the innermost last."""
        self.missing: Lines | None = None
        """What is done where a query meets no row, and nothing catches it."""
        self.gotos, self.error_tests = Gotos(rewriter, speech), ErrorTests(rewriter, speech, unit)
        self.completion = Completion(rewriter, speech, unit)
        self.misses = MissingRows(rewriter, speech, self.completion, self.body)
        rewriter.closing.append(self.__dict__.clear)

    def prepare(self) -> None:
        """Write the names of what the routine declares, before any of its statements is written.

        Raises CannotDraft for a name that means nothing on the target, and for what the target has no words for.
        """
        rewriter = self.rewriter
        add_names(self.variables, self.speech, rewriter)
        self.row_variables.add_names()
        self.row_counts.prepare()
        self.error_tests.prepare()
        self.completion.prepare()
        self.cursors.prepare()
        CurrentRows(rewriter, self.cursors, self.variables, self.row_variables.declared).prepare()
        self.temporary.prepare()
        self.constant_texts.prepare()
        self.limits = LimitVariables(rewriter, self.speech, self.unit).prepare()
        rewriter.edits()  # says what cannot be written at all
        refuse_unknown(
            self.variables,
            (self.cursors.declared, self.row_variables.declared, self.results.names, self.own_errors),
            rewriter,
        )

    def _asks(self, node: Node) -> bool:
        """Whether an expression holds a query where the target takes none outside of SQL (PLS-00405 of Oracle)."""
        if self.target != "oracle":
            return False
        return any(node.first <= each.first and each.last <= node.last for each in self.rewriter.subject.all(Subquery))

    def _target(self, node: Node) -> str:
        fields = self.row_variables.targets(node)
        if fields is not None and len(fields) == 1:
            return fields[0]
        column = row_column(node, self.unit.rows, self.speech, self.rewriter)
        if column:
            return column
        name = ".".join(node.parts) if isinstance(node, Name) else ""  # of its package too
        if name not in self.variables:
            raise CannotDraft("an assignment to something that is no variable of the routine")
        return self.variables[name]

    def targets(self, nodes: list[Node]) -> list[str]:
        """Return the variables that values go into, of a row those for its fields."""
        found: list[str] = []
        for node in nodes:
            found += self.row_variables.targets(node) or [self._target(node)]
        return found

    def given(self, value: Node) -> Lines:
        """Return the value of a function, which a query has to find where the target's expressions take none."""
        if not self._asks(value):
            return self.speech.give_back(self.value(value))
        result = Declared(self.speech.variable("hs_answer"), self.unit.returns)
        if result not in self.unit.variables:
            self.unit.variables.append(result)
        return [
            *self.speech.assign_query(result.name, self.rewriter.elsewhere(value)),
            *self.speech.give_back(result.name),
        ]

    def answer(self, node: Node, kind: str) -> Lines:
        """Return what the last query of a function gives, or the value that the function is; `kind` is the type of the result."""
        if not isinstance(node, QueryStatement):
            return self.given(node)
        block = node.query.blocks[0]
        if not isinstance(block, Select) or len(node.query.blocks) > 1 or len(block.items) != 1 or node.query.common:
            raise CannotDraft("a function whose query gives several columns, or has several parts")
        self.unit.reads = True
        value = block.items[0].value
        if block.from_at < 0:
            return self.given(value)
        if not self._is_one_row(block, [value]) and not self._is_by_key(block):
            raise CannotDraft("a function that gives the first of several rows")
        result = Declared(self.speech.variable("hs_answer"), kind)
        self.unit.variables.append(result)
        rest = self.rewriter.text(block.from_at, node.query.last).strip()
        return [*self.speech.fill([result.name], [self.value(value)], rest), *self.speech.give_back(result.name)]

    def raised_where(self, raising: RaisingQuery) -> Lines:
        """Write what a query raises, the way in which triggers of SQLite raise an error."""
        if any(each.action not in ("ABORT", "") for each in raising.branches) or raising.source != (0, 0):
            raise CannotDraft(
                "RAISE that passes over a row, keeps changes or ends the transaction, or that a table decides about"
            )
        tested, otherwise = [], []
        for each in raising.branches:
            lines = self.speech.fail(self.rewriter.text_elsewhere(*each.message).strip()) if each.action else []
            if each.condition is None:
                otherwise = lines
            else:
                tested.append((self.condition(each.condition), lines))
        raised = self.speech.branch(tested, otherwise) if tested else otherwise
        return (
            self.speech.branch([(self.condition(raising.where), raised)], []) if raising.where is not None else raised
        )

    def _query(self, node: QueryStatement) -> Lines:
        return self.limits.get(node, []) + self._queried(node)

    def _queried(self, node: QueryStatement) -> Lines:
        self.unit.reads = True
        block = node.query.blocks[0]
        if not isinstance(block, Select) or (len(node.query.blocks) > 1 and self._fills(block)):
            raise CannotDraft("a query that fills variables from several queries")
        raising = raising_query(node, self.rewriter.subject.read) if self.source == "sqlite" else None
        if raising is not None:
            return self.raised_where(raising)
        row = inserted_row(node.query, self.rewriter.subject.read)
        if row is not None:
            return self.inserted(row.insert)
        made = self.temporary.fill(node.query, block)
        if made is not None:
            return made
        if not self._fills(block):
            if self.unit.form == "function":
                raise CannotDraft("a function that gives out rows")
            return self.speech.result(self.rewriter.node(node))
        return self._fill(node.query, block)

    @abstractmethod
    def inserted(self, node: Insert) -> Lines:
        """Write an INSERT of one row, and put values of the row into variables."""

    def _fills(self, block: Select) -> bool:
        return bool(block.into) or any(assigns(item) for item in block.items)

    def _fill(self, query: Query, block: Select) -> Lines:
        if block.bulk or query.common:
            raise CannotDraft("a query with common tables, or many rows at once, into variables")
        if block.into:
            return self.fill_into(query, block, self.targets(block.into))
        pairs = [item.value.operands for item in block.items if isinstance(item.value, Operation) and assigns(item)]
        if len(pairs) != len(block.items) or any(len(pair) != 2 for pair in pairs):
            raise CannotDraft("a query that assigns and gives out at once")
        targets, values = [self._target(pair[0]) for pair in pairs], [pair[1] for pair in pairs]
        if block.from_at >= 0 and not self._is_by_key(block) and not self._is_one_row(block, values):
            self.count += 1
            last = LastRows(self.rewriter, self.speech, self.unit, self.variables, self.cursors)
            return last.write(query, block, list(zip(targets, values, strict=True)), self.value, self.count)
        return self._filled(query, block, targets, values)

    def fill_into(self, query: Query, block: Select, targets: list[str]) -> Lines:
        """Write a query whose columns go into variables."""
        return self._filled(query, block, targets, [each.value for each in block.items])

    def _filled(self, query: Query, block: Select, targets: list[str], values: list[Node]) -> Lines:
        if block.from_at < 0 and (block.where is not None or block.having is not None or query.operators):
            raise CannotDraft("a query without tables that may give no row, or several")
        is_strict = self.source == "postgresql" and "STRICT" in self.rewriter.words[block.first : block.last]
        reads = self.source == "postgresql" and block.from_at >= 0 and not is_strict
        if reads and not self._is_one_row(block, values) and not self._is_by_key(block):
            take_first_row(query, block, self.rewriter)
        columns = self.row_variables.columns_of(block)
        written = columns if columns is not None else [self.value(each) for each in values]
        if len(targets) != len(written):
            raise CannotDraft("a query with other columns than the variables that take them")
        rest = self.rewriter.text(block.from_at, query.last).strip() if block.from_at >= 0 else ""
        rest += self.rewriter.behind(query)
        head = self._head(block)
        if head and written[0].startswith(head):
            written[0] = written[0].removeprefix(head)
        if self.rewriter.words[block.first + 1] in ("DISTINCT", "UNIQUE"):
            head = f"DISTINCT {head}"
        if rest.strip().upper() in ("", "FROM DUAL"):
            return [line for pair in zip(targets, written, strict=True) for line in self.speech.assign(*pair)]
        fill = (
            self.speech.fill_strictly
            if is_strict or (self.source in _PSM and self._catches(Caught.NO_ROW))
            else self.speech.fill_if_met
            if self._has_strict()
            else self.speech.fill
        )
        is_one_row = self._is_one_row(block, values)
        handler = self.misses.handler(query) if self.source in _PSM and not is_one_row else None
        if handler is not None or (self.completion.asked and not is_one_row):
            missed = self.misses.handled(handler) if handler is not None else []
            filled = self.speech.fill_or(targets, written, rest, [*self.completion.missed(), *missed])
            filled = [*self.completion.met(), *filled]
        else:
            filled = fill(targets, written, rest)
        lines = [line.replace("SELECT ", f"SELECT {head}", 1) for line in filled]
        if is_one_row or handler is not None or self.completion.asked:
            return [*lines, *(self.completion.met() if is_one_row else [])]
        return self._as_source(query, block, targets, lines)

    @abstractmethod
    def body(self, statements: list[Node]) -> Lines:
        """Write statements."""

    def _has_strict(self) -> bool:
        """Whether a routine of PL/pgSQL answers to missing rows of some of its queries, those with STRICT."""
        read = self.rewriter.subject.read
        words = self.rewriter.words[read.first : read.last]
        return self.source == "postgresql" and not {"STRICT", "NO_DATA_FOUND"}.isdisjoint(words)

    def _head(self, block: Select) -> str:
        """Return what stands before the first column on the target: TOP (n) of SQL Server."""
        return self.rewriter.before(block.items[0].first) if self.target == "sqlserver" else ""

    def _as_source(self, query: Query, block: Select, targets: list[str], lines: Lines) -> Lines:
        """Keep what the source does where a query has no row, or several."""
        is_single = self._is_by_key(block)
        if self.source in _PSM and (self.missing is not None or self._catches(Caught.NO_ROW)):
            return lines + self._woken()
        if self.source == "postgresql":
            if "STRICT" in self.rewriter.words[block.first : block.last]:
                return lines + self._as_oracle(is_single=is_single)
            names = {n.parts[0] for n in self.rewriter.subject.all(Name) if block.from_at <= n.first < query.last}
            if {theirs for theirs, ours in self.variables.items() if ours in targets} & names:
                raise CannotDraft("a query that fills a variable it reads itself")
            return [line for target in targets for line in self.speech.assign(target, "NULL")] + lines
        if self.source == "oracle":
            return lines + self._as_oracle(is_single=is_single)
        return lines

    def _woken(self) -> Lines:
        """Wake the handler of a missing row where the target does not do so by itself."""
        if not isinstance(self.speech, TsqlSpeech):
            return []
        missing = self.missing if self.missing is not None else self.speech.fail_as(Caught.NO_ROW)
        return self.speech.rows_met(missing, [])

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
        return kind in self.caught()

    def caught(self) -> list[Caught]:
        """Return the errors that something catches around what is written."""
        around = (*self.catching, *(kinds for kinds, _ in self.unit.handlers))
        return [kind for kinds in around for kind in kinds if isinstance(kind, Caught)]

    def _is_one_row(self, block: Select, values: list[Node]) -> bool:
        """Whether a query gives one row whatever the tables hold: aggregates without groups."""
        return not block.group and block.having is None and all(map(self._is_aggregate, values))

    def _is_aggregate(self, value: Node) -> bool:
        """Whether a value is an aggregate, or one with a value for a missing one."""
        if not isinstance(value, Call) or value.over is not None:
            return False
        is_filled = value.parts[-1] in _FILLING and bool(value.arguments)
        return value.parts[-1] in _AGGREGATES or (is_filled and self._is_aggregate(value.arguments[0]))

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
            and isinstance(each.operands[0], Name) and not self._is_column(each.operands[1], table)
        }  # fmt: skip
        has_or = "OR" in self.rewriter.words[block.where.first : block.where.last]
        return table is not None and not has_or and any(set(k) <= equal for k in self.rewriter.catalog.keys_of(table))

    def _is_column(self, node: Node, table: Object | None) -> bool:
        """Whether a value may be a column of a table, with which a key is equal in many rows."""
        if not isinstance(node, Name) or (len(node.parts) == 1 and node.parts[0] in self.variables):
            return False
        return table is None or any(column.name == node.parts[-1] for column in table.columns)

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
        bare = node.inner if isinstance(node, Paren) else node
        is_truth = self.rewriter.types.family(bare) in _TRUTH_VALUES
        if self.target in _UNTYPED and is_truth and isinstance(bare, Name) and bare.parts[0] in self.variables:
            return f"{self._target(bare)} <> 0"
        if self.target not in _UNTYPED or self._is_condition(node) or self.rewriter.changes(node):
            return self.rewriter.elsewhere(node)
        loose = [each for each in self._loose(node) if not self.rewriter.rewrites(each, "convert.truth-value")]
        if any(self.rewriter.types.family(each) not in _TRUTH_VALUES for each in loose):
            raise CannotDraft("a value that stands for a condition")
        for each in loose:
            self.rewriter.wrap(each, partial(_is_true, each), rank=9)
        return self.rewriter.elsewhere(node)

    def _loose(self, node: Node) -> Iterator[Node]:
        """Yield the values that stand for conditions in a condition."""
        if isinstance(node, Paren):
            yield from self._loose(node.inner)
        elif isinstance(node, Operation) and set(node.operators) <= _TRUTHS:
            for each in node.operands:
                yield from self._loose(each)
        elif not self._is_condition(node):
            yield node

    def _is_condition(self, node: Node) -> bool:
        if isinstance(node, Paren):
            return self._is_condition(node.inner)
        if isinstance(node, Operation) and set(node.operators) <= _TRUTHS:
            return all(self._is_condition(each) for each in node.operands)
        if isinstance(node, Operation):
            return bool(set(node.operators) & _COMPARING)
        is_predicate = isinstance(node, Call) and self.source in _WITHOUT_TRUTH  # UPDATE(column)
        return is_predicate or node in self.row_counts.tests or not isinstance(node, Name | Call | Literal)


def _is_true(node: Node, rewriter: Rewriter) -> str:
    return f"{rewriter.node(node)} <> 0"
