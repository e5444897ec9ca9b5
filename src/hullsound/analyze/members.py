"""Members of enumerations that MySQL and MariaDB take by their place, from 1, where a number is asked for.

Sources: MySQL 8.4 Reference Manual, "The ENUM Type" (index values, sorting) and "Aggregate Function Descriptions" (MIN and MAX
compare the texts); MariaDB Server documentation, "ENUM".
"""

from collections.abc import Iterator
from typing import TYPE_CHECKING, Final

from hullsound.catalog.model import DataType
from hullsound.sql.tree import Call, Cast, Comparison, Name, Node, Operation, OrderItem, Paren, Query

from .choices import compared_choices, listed
from .signatures import signature_of
from .types import NUMBERS

if TYPE_CHECKING:
    from .infer import Types

ENGINES: Final = ("mysql", "mariadb")
_COUNTING: Final = frozenset(("+", "-", "*", "/", "%", "DIV", "MOD", "&", "|", "^", "<<", ">>", "~"))
_COMPARING: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">=", "<=>"))
_AGGREGATES: Final = frozenset(("SUM", "AVG"))
_OF_NUMBERS: Final = frozenset(("integer", "number"))


def counted_members(types: "Types") -> dict[Node, DataType]:
    """Return the columns of enumerations of which the place counts, with their types."""
    found: dict[Node, DataType] = {}
    for place in _places(types):
        node = _bare(place)
        kind = types.member_type(node) if isinstance(node, Name) else None
        if kind is not None:
            found[node] = kind
    return found


def _bare(node: Node) -> Node:
    while isinstance(node, Paren):
        node = node.inner
    return node


def _places(types: "Types") -> Iterator[Node]:
    """Yield what stands where a member counts by its place."""
    subject = types.subject
    for operation in subject.all(Operation):
        if set(operation.operators) <= _COUNTING:
            yield from operation.operands
        elif len(operation.operands) == 2 and operation.operators[0] in _COMPARING:
            yield from _beside_numbers(operation.operands, types)
    for comparison in subject.all(Comparison):
        if comparison.operator in ("IN", "BETWEEN"):
            yield from _beside_numbers([part for each in comparison.operands for part in listed(each)], types)
    for _, chooser, tests in compared_choices(subject.read):
        yield from _beside_numbers([chooser, *tests], types)
    for cast in subject.all(Cast):
        if types.family(cast) in NUMBERS:
            yield cast.value
    for call in subject.all(Call):
        yield from _arguments(call, types)
    united = {
        order for query in subject.all(Query) if query.operators for order in query.order
    }  # whose columns are texts
    yield from (order.value for order in subject.all(OrderItem) if order not in united)


def _beside_numbers(values: list[Node], types: "Types") -> Iterator[Node]:
    """Yield values of which all others are numbers."""
    kinds = [types.family(value) in NUMBERS for value in values]
    for place, value in enumerate(values):
        if all(kinds[:place] + kinds[place + 1 :]):
            yield value


def _arguments(call: Call, types: "Types") -> Iterator[Node]:
    if call.parts[-1] in _AGGREGATES:
        yield from call.arguments
    signature = signature_of(call, types.engine)
    wanted = (signature.takes or signature.expects) if signature is not None else ()
    yield from (each for each, kind in zip(call.arguments, wanted, strict=False) if kind in _OF_NUMBERS)
