"""Columns of tables that were not surveyed, and the families of types that their uses in a statement allow."""

import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Final

from hullsound.analyze.choices import compared_choices, listed
from hullsound.sql.dialect import Grammar, load_dialect
from hullsound.sql.tree import (
    Bind,
    Call,
    Case,
    Cast,
    Comparison,
    CreateTrigger,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Parts,
    SelectItem,
    Update,
)

from .infer import Types
from .local_tables import local_columns
from .signatures import choices_of, signature_of
from .types import MOMENTS, NUMBERS, Family

Families = frozenset[Family]
Unseen = dict[Parts, dict[str, Families]]
"""Columns that were not surveyed, with the families that may be theirs, by table."""

PLAIN: Final[Families] = NUMBERS | MOMENTS | {Family.TEXT, Family.BOOLEAN}
"""What a column may be of which no use tells anything."""
_TRUTHS: Final[Families] = frozenset((Family.BOOLEAN, Family.INTEGER))
_TEXTS: Final[Families] = frozenset((Family.TEXT,))
_ROWS: Final = ("NEW", "OLD", "INSERTED", "DELETED")
"""Names of the rows that fire a trigger."""
_JOINING: Final = frozenset(("AND", "OR", "NOT", "XOR", "&&", "!"))
_EQUATING: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">=", "<=>", "!<", "!>", "^="))
_DATE: Final = re.compile(r"'\d{4}-?\d\d-?\d\d\b.*'")


def unseen_columns(types: Types, is_supplied: Callable[[Parts], bool]) -> Unseen:
    """Return, by table that the catalogue does not hold, its columns with the families that may be theirs.

    `is_supplied` says of which tables the engine itself knows the columns.
    """
    subject, scope, tree = types.subject, types.subject.scope, types.subject.tree
    made = local_columns(subject)

    aliases = {each.alias for each in scope.tables if each.alias}

    def is_unseen(table: Parts) -> bool:
        names = scope.locals, made, scope.declared, aliases, _ROWS
        is_own = any(table[-1] in known for known in names)
        return not is_own and types.columns.table(table) is None and not is_supplied(table)

    tables = {each.alias or each.parts[-1]: each.parts for each in scope.tables if is_unseen(each.parts)}
    if isinstance(tree, CreateTrigger) and tree.table and is_unseen(tree.table):
        tables |= dict.fromkeys((*_ROWS, *tree.referencing), tree.table)
    variables: dict[str, tuple[Parts, str]] = {}
    for name, kind in scope.declared.items():
        if kind is not None and kind.borrowed == "ROWTYPE" and is_unseen(kind.reference):
            tables[name] = kind.reference
        elif (
            kind is not None and kind.borrowed == "TYPE" and len(kind.reference) > 1 and is_unseen(kind.reference[:-1])
        ):
            variables[name] = kind.reference[:-1], kind.reference[-1]
    return _Uses(types, tables, variables).found if tables or variables else {}


class _Uses:
    """Gathers what each use of a column leaves open."""

    def __init__(self, types: Types, tables: dict[str, Parts], variables: dict[str, tuple[Parts, str]]) -> None:
        self.types = types
        self.subject = types.subject
        self.tables = tables
        """By the names that stand before their columns: aliases, rows of a trigger, record variables."""
        self.variables = variables
        """Columns whose types variables take, by variable."""
        self.first = next((each.parts for each in self.subject.scope.tables if each.parts in tables.values()), None)
        self.aliases = {item.alias for item in self.subject.all(SelectItem) if item.alias}
        self.plus_joins = load_dialect(types.engine).grammar is Grammar.TSQL
        self.found: Unseen = {}
        named: list[Name] = [*self.subject.all(Name), *self.subject.all(Bind)]
        for name in named:
            self._note(name, PLAIN)
        for node, families in self._uses():
            self._note(node, families)

    def _note(self, node: Node, families: Families) -> None:
        while isinstance(node, Paren):
            node = node.inner
        place = self._column_of(node.parts, node) if isinstance(node, Name) and node.parts else None
        if place is not None:
            table, column = place
            columns = self.found.setdefault(table, {})
            before = columns.get(column, PLAIN)
            columns[column] = before & families or before  # of uses that contradict, the first one counts

    def _column_of(self, parts: Parts, name: Node) -> tuple[Parts, str] | None:
        """Return the table that was not surveyed and the column that a name is or has the type of; None for other names."""
        table = self.tables.get(parts[-2]) if len(parts) > 1 else None
        if table is not None or len(parts) > 1 or isinstance(name, Bind):
            return (table, parts[-1]) if table is not None else None
        if parts[0] in self.variables:
            return self.variables[parts[0]]
        is_other = parts[0] in self.subject.scope.declared or parts[0] in self.aliases
        if is_other or self.first is None or self.types.source_type(name) is not None or self.types.family(name):
            return None
        return self.first, parts[0]

    def _uses(self) -> Iterator[tuple[Node, Families]]:
        for operation in self.subject.all(Operation):
            yield from self._in_operation(operation)
        for comparison in self.subject.all(Comparison):
            if comparison.operator == "LIKE":
                yield comparison.operands[0], _TEXTS
            elif comparison.operator != "IS":
                yield from self._beside_each_other(_flat(comparison.operands))
        for call in self.subject.all(Call):
            yield from self._in_call(call)
        for _, subject, tests in compared_choices(self.subject.read):
            yield from self._beside_each_other([subject, *tests])
        for case in self.subject.all(Case):
            yield from self._beside_each_other(choices_of(case, self.types.engine))
        for cast in self.subject.all(Cast):
            given = self.types.family(cast)
            if given in NUMBERS | MOMENTS:
                yield cast.value, _TEXTS | (NUMBERS if given in NUMBERS else MOMENTS)
        for update in self.subject.all(Update):
            for place, value in update.assignments:
                yield from self._beside_each_other([place, value])

    def _in_operation(self, node: Operation) -> Iterator[tuple[Node, Families]]:
        operators = set(node.operators)
        if operators & _EQUATING:
            yield from self._beside_each_other(node.operands)
        elif operators <= _JOINING:
            yield from ((operand, _TRUTHS) for operand in node.operands)
        elif operators == {"||"}:
            yield from ((operand, _TEXTS) for operand in node.operands)
        elif operators <= {"+", "-"} and len(node.operands) > 1:
            others = {self.types.family(operand) for operand in node.operands}
            families = NUMBERS | MOMENTS
            if self.plus_joins and operators == {"+"}:
                families = _TEXTS if Family.TEXT in others else families if others & NUMBERS else families | _TEXTS
            yield from ((operand, families) for operand in node.operands)
        elif "COLLATE" in operators:
            yield node.operands[0], _TEXTS
        elif "INTERVAL" not in operators:
            yield from ((operand, NUMBERS) for operand in node.operands)

    def _in_call(self, call: Call) -> Iterator[tuple[Node, Families]]:
        signature = signature_of(call, self.types.engine)
        if signature is None:
            return
        for argument, names in zip(call.arguments, signature.expects or signature.takes, strict=False):
            families = frozenset(map(Family, names.split("|"))) - {Family.UNKNOWN}
            if families:
                yield argument, families | NUMBERS if families & NUMBERS else families
        if signature.choices:
            yield from self._beside_each_other(choices_of(call, self.types.engine))

    def _beside_each_other(self, nodes: Sequence[Node]) -> Iterator[tuple[Node, Families]]:
        """Give for each value what it may be, beside those whose family is known."""
        known = [node for node in nodes if self._is_known(node)]
        if known and len(known) < len(nodes):
            families = frozenset.intersection(*map(self._beside, known))
            yield from ((node, families) for node in nodes if not self._is_known(node))

    def _is_known(self, node: Node) -> bool:
        """Whether the family of a value does not hang on a column that was not surveyed."""
        if isinstance(node, Operation) and set(node.operators) <= {"+", "-"}:
            return all(map(self._is_known, node.operands))
        return bool(self.types.family(node))

    def _beside(self, node: Node) -> Families:
        """Return what stands beside a value without a conversion, or beside a constant that says it for another type."""
        family = self.types.family(node)
        if family in NUMBERS:
            is_truth = isinstance(node, Literal) and self.subject.source(node) in ("0", "1")
            return NUMBERS | {Family.BOOLEAN} if is_truth else NUMBERS
        if family is Family.TEXT and isinstance(node, Literal) and _DATE.fullmatch(self.subject.source(node)):
            return _TEXTS | MOMENTS
        if family in MOMENTS:
            return MOMENTS
        return _TRUTHS if family is Family.BOOLEAN else frozenset((family,))


def _flat(nodes: Iterable[Node]) -> list[Node]:
    """Return values with those of lists among them."""
    return [inner for node in nodes for inner in listed(node)]
