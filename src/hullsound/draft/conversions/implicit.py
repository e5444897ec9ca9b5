"""Texts beside values of other kinds, which the source reads as such by itself and PostgreSQL does not.

In the T-SQL family a text beside a number, a moment or a unique identifier is converted to that type (Transact-SQL
reference, "Data type precedence"); in MySQL a text beside a moment is (Reference Manual, "Type Conversion in Expression
Evaluation"). Constants need nothing: PostgreSQL reads them as what they stand beside.
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.choices import compared_choices, listed
from hullsound.analyze.signatures import choices_of
from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import (
    Call,
    Case,
    Comparison,
    Insert,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Query,
    Select,
    SelectItem,
    Subquery,
    Update,
)

from .row_values import inserted_types
from .value_texts import add_text

COMPARED: Final = frozenset(("=", "==", "<>", "!=", "<", ">", "<=", ">=", "!<", "!>"))
_ARITHMETIC: Final = frozenset(("+", "-", "*", "/"))
_MOMENTS: Final = {Family.DATE: "date", Family.TIMESTAMP: "timestamp", Family.TIME: "time"}
_NUMBERS: Final = dict.fromkeys(NUMBERS, "numeric")
_READ_AS: Final = {
    "sqlserver": {**_NUMBERS, Family.UUID: "uuid", **_MOMENTS},
    "ase": {**_NUMBERS, **_MOMENTS},
    "oracle": _NUMBERS,
    "sqlite": _MOMENTS,
    "mysql": _MOMENTS,
    "mariadb": _MOMENTS,
}
"""Kinds beside which a text is read, and the type that it is read as, by source engine."""


def add_implicit_casts(rewriter: Rewriter) -> None:
    """Add a cast to each text that is compared with, or kept in, something of another kind."""
    read_as = _READ_AS.get(rewriter.catalog.engine)
    if read_as is None:
        return
    # PL/pgSQL and INSERT of Oracle's texts are cared for by their own fixers.
    kept = _kept(rewriter) if rewriter.catalog.engine != "oracle" else ()
    pairs = compared(rewriter) if rewriter.catalog.engine != "sqlite" else ()
    for place, value in (*pairs, *kept):
        if isinstance(value, Literal) or not _is_text(value, rewriter):
            continue
        kind = place if isinstance(place, Family) else rewriter.types.family(place)
        if kind in read_as:
            rewriter.wrap(value, partial(_cast, value, read_as[kind]), rank=5)
    if rewriter.catalog.engine == "oracle":
        _add_constant_sums(rewriter)
    with rewriter.asked_by("convert.value-as-text"):
        if rewriter.catalog.engine in ("mysql", "mariadb"):
            _add_mixed_values(rewriter)
        if rewriter.catalog.engine == "sqlite":
            _add_compared_texts(rewriter)


def _add_constant_sums(rewriter: Rewriter) -> None:
    """Read constant texts as numbers where all that is added or multiplied are such: no operand tells PostgreSQL the type."""
    for node in rewriter.subject.all(Operation):
        constants = [each for each in node.operands if isinstance(each, Literal) and each.form == "string"]
        if set(node.operators) <= _ARITHMETIC and len(constants) == len(node.operands):
            rewriter.wrap(constants[0], partial(_cast, constants[0], "numeric"), rank=5)


def _add_compared_texts(rewriter: Rewriter) -> None:
    """In SQLite, what stands beside a column of texts is compared as a text."""
    for place, value in compared(rewriter):
        kinds = NUMBERS | MOMENTS if isinstance(place, Name) else MOMENTS
        if not isinstance(place, Literal) and _is_text(place, rewriter) and rewriter.types.family(value) in kinds:
            add_text(value, rewriter, rank=5)


def _add_mixed_values(rewriter: Rewriter) -> None:
    """MySQL gives a text where one of several values is a text: the others become texts too.

    A constant that can be read as what it stands beside is read so, unless the value is given out, where its type shows.
    """
    subject = rewriter.subject
    choices: list[Call | Case] = [
        call for call in subject.all(Call) if call.parts in (("IFNULL",), ("COALESCE",), ("IF",))
    ]
    given_out = {item.value for item in subject.all(SelectItem)}
    for node in (*choices, *subject.all(Case)):
        values = choices_of(node, rewriter.catalog.engine)
        texts = [value for value in values if rewriter.types.family(value) is Family.TEXT]
        if not texts or (node not in given_out and all(rewriter.types.is_constant_value(text) for text in texts)):
            continue
        for value in values:
            add_text(value, rewriter, rank=5)


def _is_text(node: Node, rewriter: Rewriter) -> bool:
    kind = rewriter.types.family(node)
    if kind or rewriter.words[node.last - 1] != "VALUE":
        return kind is Family.TEXT
    # The parts of a list that is split are texts.
    return "STRING_SPLIT" in rewriter.words[rewriter.subject.read.first : rewriter.subject.read.last]


def compared(rewriter: Rewriter) -> Iterator[tuple[Node, Node]]:
    """Yield the pairs of values that are compared, each way round."""
    for node in rewriter.subject.all(Operation):
        if len(node.operands) == 2 and node.operators[0] in COMPARED:
            yield from _both(node.operands[0], node.operands[1])
    for comparison in rewriter.subject.all(Comparison):
        if comparison.operator in ("IN", "BETWEEN"):
            first, *others = comparison.operands
            for other in others:
                for value in listed(other):
                    yield from _both(first, value)
    for _, subject, tests in compared_choices(rewriter.subject.read):
        for test in tests:
            yield from _both(subject, test)
    for call in rewriter.subject.all(Call):
        if call.parts == ("NULLIF",) and len(call.arguments) == 2:
            yield call.arguments[0], call.arguments[1]


def _both(one: Node, other: Node) -> Iterator[tuple[Node, Node]]:
    for place, value in ((one, other), (other, one)):
        inner = selected(value)
        yield place, inner if inner is not None else value


def selected(node: Node) -> Node | None:
    """Return the value that a subquery gives; None for what is no subquery of one block."""
    while isinstance(node, Paren):
        node = node.inner
    query = node.query if isinstance(node, Subquery) and not node.form else None
    block = query.blocks[0] if isinstance(query, Query) and len(query.blocks) == 1 else None
    return block.items[0].value if isinstance(block, Select) and len(block.items) == 1 else None


def _kept(rewriter: Rewriter) -> Iterator[tuple[Family | Node, Node]]:
    """Yield the values that changes keep in columns, with the column or its kind."""
    for update in rewriter.subject.all(Update):
        yield from update.assignments
    for insert in rewriter.subject.all(Insert):
        if insert.query is None:
            continue
        kinds = [rewriter.types.family_of(each) for each in inserted_types(insert, rewriter)]
        for block in insert.query.blocks:
            if isinstance(block, Select) and len(block.items) == len(kinds):
                yield from zip(kinds, (item.value for item in block.items), strict=True)


def _cast(node: Node, kind: str, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(node)} AS {kind})"
