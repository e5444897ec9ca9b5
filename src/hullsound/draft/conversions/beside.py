"""Values that an engine reads as values of another kind, because of what stands beside them: constant texts, and numbers."""

from collections.abc import Callable, Iterator
from typing import Final

from hullsound.analyze.choices import compared_choices, listed
from hullsound.analyze.records import declared_type
from hullsound.analyze.signatures import choices_of, signature_of
from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.catalog.definitions import data_type
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import parse_type
from hullsound.sql.tree import (
    Assign,
    Call,
    Case,
    Cast,
    ColumnDefinition,
    Comparison,
    Insert,
    Literal,
    Node,
    Operation,
    Parameter,
    Paren,
    Update,
    Variable,
)

from .handed_values import handed_values, returned_values
from .row_values import inserted_literals, inserted_types, kept_in_columns

_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">=", "<=>", "==", "!<", "!>"))

_Test = Callable[[Node, Rewriter], bool]
_ALIKE: Final = frozenset(("ISNULL", "NVL", "IFNULL", "NULLIF", "COALESCE"))
"""Functions of values of one kind, whatever they give."""


def constants_beside(families: frozenset[Family], rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    """Yield the constant texts beside, or kept in, values of some families, with the family each is read as."""
    return _beside(families, _is_constant_text, rewriter)


def constants_chosen(families: frozenset[Family], rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    """Yield the constant texts that are chosen among values of some families, with the family each is read as."""
    return _among(_choices(rewriter), families, _is_constant_text, rewriter)


def numbers_beside(families: frozenset[Family], rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    """Yield the numbers beside, or kept in, values of some families, with the family each is read as."""
    return _beside(families, _is_number, rewriter)


def numbers_cast(families: frozenset[Family], rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    """Yield the numbers that casts read as values of some families, with the family each is read as."""
    return _cast(families, _is_number, rewriter)


def numbers_passed(families: frozenset[Family], rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    """Yield the numbers that functions read as values of some families, with the family each is read as."""
    return _passed(families, _is_number, rewriter)


def constants_cast(families: frozenset[Family], rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    """Yield the constant texts that casts read as values of some families, with the family each is read as."""
    return _cast(families, _is_constant_text, rewriter)


def constants_passed(families: frozenset[Family], rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    """Yield the constant texts that functions read as values of some families, with the family each is read as."""
    return _passed(families, _is_constant_text, rewriter)


def _passed(families: frozenset[Family], is_wanted: _Test, rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    for call in rewriter.subject.all(Call):
        signature = signature_of(call, rewriter.catalog.engine)
        wanted = (signature.expects or signature.takes) if signature is not None else ()
        for names, argument in zip(wanted, call.arguments, strict=False):
            read_as = [Family(each) for each in names.split("|") if each]
            if read_as and families.issuperset(read_as) and is_wanted(argument, rewriter):
                yield read_as[-1], argument


def bare(node: Node) -> Node:
    """Return what stands within brackets."""
    while isinstance(node, Paren):
        node = node.inner
    return node


def _beside(families: frozenset[Family], is_wanted: _Test, rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    yield from _among(_compared(rewriter), families, is_wanted, rewriter)
    yield from _among(_choices(rewriter), families, is_wanted, rewriter)
    yield from _kept(families, is_wanted, rewriter)


def _among(
    groups: Iterator[list[Node]], families: frozenset[Family], is_wanted: _Test, rewriter: Rewriter
) -> Iterator[tuple[Family, Node]]:
    """Yield what is wanted of groups of values of which another is of one of the families."""
    for nodes in groups:
        wanted = [node for node in nodes if is_wanted(node, rewriter)]
        family = next(
            (found for found in (_meant(node, rewriter) for node in nodes if wanted) if found in families), None
        )
        if family is not None:
            yield from ((family, node) for node in wanted)


def _cast(families: frozenset[Family], is_wanted: _Test, rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    for cast in rewriter.subject.all(Cast):
        family = rewriter.types.family(cast)
        has_style = rewriter.words[cast.value.last] == ","  # which says how the text is read
        if family in families and not has_style and is_wanted(cast.value, rewriter):
            yield family, cast.value


def _compared(rewriter: Rewriter) -> Iterator[list[Node]]:
    """Yield values that are compared with each other, or kept in each other."""
    subject = rewriter.subject
    for operation in subject.all(Operation):
        if set(operation.operators) <= _COMPARED:
            yield operation.operands
    for test in subject.all(Comparison):
        yield [part for each in test.operands for part in listed(each)]
    for _, chooser, tests in compared_choices(subject.read):
        yield [chooser, *tests]
    for update in subject.all(Update):
        yield from ([column, value] for column, value in update.assignments)
    for assign in subject.all(Assign):
        yield [assign.target, assign.value]


def _choices(rewriter: Rewriter) -> Iterator[list[Node]]:
    """Yield values of which one is chosen."""
    for case in rewriter.subject.all(Case):
        yield choices_of(case, rewriter.catalog.engine)
    for call in rewriter.subject.all(Call):
        yield call.arguments if call.parts[-1] in _ALIKE else choices_of(call, rewriter.catalog.engine)


def _kept(families: frozenset[Family], is_wanted: _Test, rewriter: Rewriter) -> Iterator[tuple[Family, Node]]:
    """Yield what variables, parameters and columns get."""
    subject, types = rewriter.subject, rewriter.types
    for declared in (*subject.all(Variable), *subject.all(Parameter)):
        default, kind = declared.default, declared.type  # type: ignore[attr-defined]
        if default is not None and is_wanted(default, rewriter):
            family = types.family_of(declared_type(kind, rewriter.columns))
            if family in families:
                yield family, default
    for column in subject.all(ColumnDefinition):
        if column.default is not None and column.type is not None and is_wanted(column.default, rewriter):
            family = types.family_of(data_type(column.type))
            if family in families:
                yield family, column.default
    for returned, value in returned_values(rewriter):
        if is_wanted(value, rewriter) and types.family_of(returned) in families:
            yield types.family_of(returned), value
    for _, parameter, value in handed_values(rewriter):
        if is_wanted(value, rewriter):
            family = types.family_of(parse_type(parameter.type))
            if family in families:
                yield family, value
    inserts = subject.all(Insert)
    for insert in inserts:
        kinds = [rewriter.types.family_of(each) for each in inserted_types(insert, rewriter)]
        places = {place for place, family in enumerate(kinds) if family in families}
        if places and insert.query is None:
            found = inserted_literals(insert, places, rewriter)
            yield from ((kinds[place], each) for place, each in found if is_wanted(each, rewriter))
    if any(insert.query is not None for insert in inserts):
        for kind, value in kept_in_columns(rewriter):
            family = rewriter.types.family_of(kind)
            if family in families and is_wanted(value, rewriter):
                yield family, value


def _meant(node: Node, rewriter: Rewriter) -> Family:
    """Return the family of a value; moments as text of SQLite are moments, which targets get as such."""
    family = rewriter.types.family(node)
    if rewriter.catalog.engine == "sqlite" and isinstance(node, Call) and node.parts in (("DATE",), ("DATETIME",)):
        return family if family in MOMENTS else Family.TIMESTAMP
    return family


def _is_constant_text(node: Node, rewriter: Rewriter) -> bool:
    inner = bare(node)
    return isinstance(inner, Literal) and inner.form == "string" and rewriter.types.family(node) is Family.TEXT


def _is_number(node: Node, rewriter: Rewriter) -> bool:
    return rewriter.types.family(node) in NUMBERS
