"""Decimals without a scale on SQL Server, which computes with them as binary floating-point numbers: 0.1 + 0.2 is not 0.3 there.

A float that nobody computed is the decimal that was put in, to 15 digits. One that was computed may lie beside it, which shows
where it is compared, rounded or kept with fewer digits.

Sources: Transact-SQL reference of SQL Server 2022, "float and real" and "Precision, scale, and length"; Oracle Database 19c, "SQL
Language Reference", "NUMBER Data Type"; PostgreSQL 18, "Arbitrary Precision Numbers".
"""

from collections.abc import Callable, Iterator
from typing import Final

from hullsound.analyze.choices import compared_choices
from hullsound.analyze.signatures import choices_of
from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import LogicalType, logical_type
from hullsound.sql.tree import (
    Assign,
    Call,
    CallStatement,
    Case,
    Comparison,
    Delete,
    ExecuteImmediate,
    Fetch,
    Insert,
    Literal,
    Name,
    Node,
    Operation,
    Parameter,
    Paren,
    Update,
    Variable,
)

from .assigned import fetched_values, kept_in_variables, selected_values
from .row_values import kept_in_columns

_CONSTRUCT: Final = "convert.binary-float"
_FREE: Final = frozenset(("decimal-free", "decimal-float"))
_EXACT: Final = frozenset(("decimal", "decimal-whole", "integer", "unsigned", "serial", "money", "small-money"))
_SUMS: Final = frozenset("+-")
_PRODUCTS: Final = frozenset("*/")
_TESTS: Final = frozenset(("=", "<>", "!=", "^=", "<", ">", "<=", ">="))
_ROUNDING: Final = frozenset(("ROUND", "TRUNC", "TRUNCATE", "CEIL", "CEILING", "FLOOR", "MOD"))
_TO_DIGITS: Final = frozenset(("ROUND", "TRUNC", "TRUNCATE"))
_COMPUTING: Final = frozenset(("SUM", "AVG", "POWER", "SQRT", "STDDEV", "VARIANCE"))
_WHOLE_CALLS: Final = frozenset("COUNT LENGTH INSTR FLOOR CEIL CEILING SIGN NEXTVAL ROW_NUMBER RANK DENSE_RANK".split())


def tell_binary_floats(rewriter: Rewriter) -> None:
    """Tell where a number shows that the target computes it in binary, which a person must look at."""
    floats = _Floats(rewriter)
    for node in floats.shown():
        rewriter.rendered.append((_CONSTRUCT, node.first))


class _Floats:
    """Which numbers of one object are floats on the target, and which of them were computed there."""

    def __init__(self, rewriter: Rewriter) -> None:
        self.rewriter, self.subject = rewriter, rewriter.subject
        self.given: dict[str, list[Node]] = {}
        for target, value in self._given():
            if isinstance(target, Name):
                self.given.setdefault(target.parts[-1], []).append(value)
        for variable in self.subject.all(Variable):
            if variable.default is not None:
                self.given.setdefault(variable.name, []).append(variable.default)
        self.open = {each.name for each in self.subject.all(Parameter)} | set(self._given_elsewhere())
        self._asked: set[tuple[str, str]] = set()

    def _given(self) -> Iterator[tuple[Node, Node]]:
        yield from ((each.target, each.value) for each in self.subject.all(Assign))
        yield from selected_values(self.rewriter)
        yield from fetched_values(self.rewriter)

    def _given_elsewhere(self) -> Iterator[str]:
        """Yield variables that changes, texts that are run and routines that are called may fill."""
        all_of = self.subject.all
        fillers: list[Insert | Update | Delete | ExecuteImmediate | Fetch] = [
            *all_of(Insert),
            *all_of(Update),
            *all_of(Delete),
        ]
        fillers += [*all_of(ExecuteImmediate), *all_of(Fetch)]
        filled = [target for each in fillers for target in each.into]
        calls = [each.call for each in self.subject.all(CallStatement)]
        filled += [argument for call in calls if isinstance(call, Call) for argument in call.arguments]
        yield from (each.parts[-1] for each in filled if isinstance(each, Name))

    def shown(self) -> Iterator[Node]:
        """Yield the tests, rounded numbers and kept values that may differ from those of the source."""
        tests: list[Operation | Comparison] = [*self.subject.all(Comparison)]
        tests += [each for each in self.subject.all(Operation) if not _TESTS.isdisjoint(each.operators)]
        yield from (each for each in tests if any(map(self.is_computed, each.operands)))
        yield from (each for each, value, _ in compared_choices(self.subject.read) if self.is_computed(value))
        for call in self.subject.all(Call):
            if len(call.parts) != 1 or call.parts[0] not in _ROUNDING or not call.arguments:
                continue
            value, is_digits = call.arguments[0], call.parts[0] in _TO_DIGITS and len(call.arguments) > 1
            if self.is_computed(value) or (is_digits and self.is_float(value) and self.has_fraction(value)):
                yield call
        for kind, value in (*kept_in_variables(self.rewriter), *kept_in_columns(self.rewriter)):
            logical = logical_type(self.rewriter.catalog.engine, kind)
            if logical is not None and logical.kind in _EXACT and self.is_computed(value, _PRODUCTS):
                yield value

    def _kind(self, node: Node) -> LogicalType | None:
        source = self.rewriter.types.source_type(node)
        return logical_type(self.rewriter.catalog.engine, source) if source is not None else None

    def is_float(self, node: Node) -> bool:
        """Whether a number is a float on the target, and a decimal in the source."""
        if isinstance(node, Paren):
            return self.is_float(node.inner)
        if isinstance(node, Operation):
            return set(node.operators) <= _SUMS | _PRODUCTS and any(map(self.is_float, node.operands))
        if isinstance(node, Call | Case) and (values := self._values(node)):
            return any(map(self.is_float, values))
        kind = self._kind(node)
        return kind is not None and kind.kind in _FREE

    def _values(self, node: Call | Case) -> list[Node]:
        if isinstance(node, Call) and node.parts[-1] in _COMPUTING:
            return node.arguments[:1]
        return choices_of(node, self.rewriter.catalog.engine)

    def has_fraction(self, node: Node) -> bool:
        """Whether a number may have digits behind the point."""
        match node:
            case Paren():
                return self.has_fraction(node.inner)
            case Literal():
                return "." in self.subject.source(node).rstrip("0")
            case Operation():
                return "/" in node.operators or any(map(self.has_fraction, node.operands))
            case Call() if node.parts[-1] in _WHOLE_CALLS or (
                node.parts[-1] in _TO_DIGITS and len(node.arguments) == 1
            ):
                return False
            case Call() | Case() if values := self._values(node):
                return any(map(self.has_fraction, values))
            case Name() if node.parts[-1] in _WHOLE_CALLS:
                return False
        kind = self._kind(node)
        if kind is not None and kind.kind in _EXACT:
            return kind.kind in ("money", "small-money") or (kind.kind == "decimal" and kind.scale > 0)
        if isinstance(node, Name) and node.parts[-1] in self.given and node.parts[-1] not in self.open:
            return self._any_given(node, "fraction", self.has_fraction)
        return self.rewriter.types.family(node) is not Family.INTEGER

    def is_computed(self, node: Node, by: frozenset[str] = _SUMS | _PRODUCTS) -> bool:
        """Whether a number is a float that sums (of fractions) or products made."""
        match node:
            case Paren():
                return self.is_computed(node.inner, by)
            case Operation() if self.is_float(node):
                return self._makes_float(node, by) or any(self.is_computed(each, by) for each in node.operands)
            case Call() if node.parts[-1] in _ROUNDING:
                return False  # which is told of itself
            case Call() if node.parts[-1] in _COMPUTING:
                return any(self.is_float(each) and self.has_fraction(each) for each in node.arguments)
            case Call() | Case() if values := self._values(node):
                return any(self.is_computed(each, by) for each in values)
            case Call():
                return self.is_float(node)
            case Name() if node.parts[-1] in self.given and self.is_float(node):
                return self._any_given(node, "computed", lambda value: self.is_computed(value, by))
        return False

    def _makes_float(self, node: Operation, by: frozenset[str]) -> bool:
        if not _PRODUCTS.isdisjoint(node.operators):
            return any(map(self.has_fraction, node.operands)) or "/" in node.operators
        return not by.isdisjoint(node.operators) and sum(map(self.has_fraction, node.operands)) > 1

    def _any_given(self, name: Name, question: str, test: Callable[[Node], bool]) -> bool:
        """Whether a test holds for any value that a variable gets; one that is being asked about adds nothing of its own."""
        own = (name.parts[-1], question)
        if own in self._asked:
            return False
        self._asked.add(own)
        try:
            return any(map(test, self.given[name.parts[-1]]))
        finally:
            self._asked.remove(own)
