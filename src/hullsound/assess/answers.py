"""What a profile of the values decides: what happens, what cannot happen here, and which types would do."""

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Final

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Measure, Object, ObjectType
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.load import load_questions
from hullsound.knowledge.model import QuestionRow
from hullsound.knowledge.targets import load_target_types
from hullsound.knowledge.types import logical_type
from hullsound.project import Project, TypeOverride

_NEARLY: Final = 0.8
"""Share of a type's range from which a counting column comes near its end."""
_MOST_DIGITS: Final = 18
"""Digits that every whole number of 64 bits holds."""


@dataclass(frozen=True)
class Answer:
    """One measure as a target sees it."""

    measure: Measure
    row: QuestionRow
    happens: bool

    @property
    def is_ruled_out(self) -> bool:
        """Whether all rows were looked at, there were some, and none says yes."""
        return not self.happens and self.measure.is_whole and self.measure.seen > 0

    def say(self) -> str:
        """Return the evidence in words."""
        m = self.measure
        rows = f"{m.seen:,} rows" if m.is_whole else f"{m.seen:,} rows looked at, out of about {m.total:,}"
        if not self.row.is_count:
            return f"up to {m.value:,} in {rows}"
        return f"{m.count:,} of {rows}" if m.count else f"none of {'all ' if m.is_whole else ''}{rows}"

    def settle(self) -> str:
        """Return what it says of a finding that asks whether something happens."""
        if self.happens:
            return f"It happens: {self.say()}."
        return f"It cannot happen here: {self.say()}." if self.is_ruled_out else f"Not seen so far: {self.say()}."


class Answers:
    """All answers of a profile by object, for one target."""

    def __init__(self, catalog: Catalog, target: Target) -> None:
        self.catalog = catalog
        self.target = target
        self.by_object: dict[str, list[Answer]] = {}
        rows = load_questions()
        for measure in catalog.measures:
            row = rows.get(measure.question)
            item = catalog.objects.get(measure.object)
            if row is not None and item is not None and row.matters(catalog.engine, target.engine):
                answer = Answer(measure, row, self._happens(measure, row, item))
                self.by_object.setdefault(item.id, []).append(answer)

    def _happens(self, measure: Measure, row: QuestionRow, item: Object) -> bool:
        if row.is_count:
            return measure.count > 0
        if row.is_counting:
            column = next((each for each in item.columns if each.name == measure.column), None)
            logical = logical_type(self.catalog.engine, column.type) if column is not None else None
            if logical is None or not logical.bits:
                return False
            range_bits = logical.bits - (0 if logical.kind == "unsigned" else 1)
            return measure.value > _NEARLY * float(1 << range_bits)
        return self.target.engine in row.above and measure.value > row.above[self.target.engine]

    def about(self, object_id: str) -> list[Answer]:
        return self.by_object.get(object_id, [])

    def of_kind(self, item: Object, column: Column) -> Answer | None:
        """Return the answer that decides whether a column's type loses something."""
        if not self.by_object:
            return None
        logical = logical_type(self.catalog.engine, column.type)
        for answer in self.about(item.id):
            if answer.measure.column == column.name and logical is not None and logical.kind in answer.row.kinds:
                return answer
        return None

    def of_topic(self, item: Object, topic: str, line: int) -> list[Answer]:
        """Return the answers that decide a finding of a topic: of the columns on its line, else of all in the table."""
        answers = [answer for answer in self.about(item.id) if topic and topic in answer.row.topics]
        lines = {column.name: column.line for column in item.columns}
        return [answer for answer in answers if lines.get(answer.measure.column) == line] or answers


def with_seen_types(catalog: Catalog, target: Target, project: Project) -> Project:
    """Return the project with the types that the values ask for."""
    if not catalog.measures:
        return project
    return msgspec.structs.replace(project, seen_types=tuple(_seen_types(catalog, target)))


def _seen_types(catalog: Catalog, target: Target) -> Iterator[TypeOverride]:
    """Choose whole numbers for numbers without bounds that are whole in every row, all columns of a reference alike.

    Other questions name the type that a yes asks for.
    """
    if target.engine == catalog.engine:
        return
    questions = load_questions()
    for m in catalog.measures:
        row = questions.get(m.question)
        if row is not None and m.count and target.engine in row.becomes and m.object in catalog.objects:
            yield _rule(catalog.objects[m.object], m.column, row.becomes[target.engine])
    whole = load_target_types(target).get("integer-64")
    if whole is None or not whole.render:
        return
    fits = {(m.object, m.column) for m in catalog.measures if _is_small(m)}
    fits -= {(m.object, m.column) for m in catalog.measures if not _is_small(m) and m.question in _DECIDING}
    for group in _linked_columns(catalog):
        if not group <= fits:
            fits -= group
    for object_id, column in sorted(fits):
        yield _rule(catalog.objects[object_id], column, whole.render)


def _rule(item: Object, column: str, becomes: str) -> TypeOverride:
    table = f"{item.schema}.{item.name}" if item.schema else item.name
    return TypeOverride(becomes, table=_literal(table), column=_literal(column))


_DECIDING: Final = frozenset(("whole-digits", "decimal-places", "beyond-signed"))


def _is_small(m: Measure) -> bool:
    """Whether a measure speaks for a whole number of 64 bits."""
    if not m.is_whole or not m.seen:
        return False
    if m.question == "whole-digits":
        return 0 < m.value <= _MOST_DIGITS
    if m.question == "decimal-places":
        return m.value == 0
    return m.question == "beyond-signed" and m.count == 0


def _linked_columns(catalog: Catalog) -> list[set[tuple[str, str]]]:
    """Return the groups of columns that foreign keys tie together, which must keep one type."""
    groups: dict[tuple[str, str], set[tuple[str, str]]] = {}
    for item in catalog.objects.values():
        constraint = item.constraint
        if item.type is not ObjectType.CONSTRAINT or constraint is None or constraint.form != "foreign key":
            continue
        target = catalog.table(constraint.references, item.schema)
        if target is None:
            continue
        theirs = constraint.reference_columns or next(iter(catalog.keys_of(target)), [])
        for mine, other in zip(constraint.columns, theirs, strict=False):
            one, two = (item.table, mine), (target.id, other)
            merged = groups.get(one, {one}) | groups.get(two, {two})
            for member in merged:
                groups[member] = merged
    return list({id(group): group for group in groups.values()}.values())


def _literal(name: str) -> str:
    """Write a name as a pattern that fits nothing else."""
    return "".join(f"[{letter}]" if letter in "*?[" else letter for letter in name)
