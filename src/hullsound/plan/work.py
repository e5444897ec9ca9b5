"""The work of a move in units: a table with its constraints, indexes and triggers is one, a package with its body another."""

from collections.abc import Container, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Final, NamedTuple

from hullsound.assess.effort import estimate_general, estimate_object
from hullsound.assess.hours import Total
from hullsound.assess.model import Assessment, Finding, Judged, Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.knowledge.model import Severity
from hullsound.settings import EffortRules

GENERAL: Final = "server and database"
"""Id of the unit that holds the work on findings outside of objects."""
_ORDER: Final = {outcome: place for place, outcome in enumerate(Outcome)}


class PlanSource(NamedTuple):
    """One judged hull file; `name` stands before its object ids where there are several."""

    name: str
    catalog: Catalog
    assessment: Assessment


@dataclass(slots=True)
class Unit:
    """Objects that move together because one of them is a part of another."""

    id: str
    source: int
    """Place of its hull file."""
    members: list[Judged]
    rank: int = 0
    """Best place of its members in the order to work in."""
    parts: dict[str, Mapping[str, float]] = field(default_factory=dict)
    """By object that is not finished: mean minutes by what they belong to, without the team's factor."""
    blockers: list[Finding] = field(default_factory=list)
    """What stops it and nobody has accepted."""
    constructs: frozenset[str] = frozenset()

    @property
    def outcome(self) -> Outcome:
        return max((each.outcome for each in self.members), key=_ORDER.__getitem__, default=Outcome.AS_IS)

    @property
    def mean_minutes(self) -> float:
        return sum(sum(minutes.values()) for minutes in self.parts.values())


@dataclass
class Work:
    """All units of a move, and the unit of each object."""

    sources: Sequence[PlanSource]
    rules: EffortRules
    units: dict[str, Unit]
    unit_of: dict[str, str]
    total: Total
    """Minutes of the whole, finished or not, by what they belong to."""
    minutes: dict[str, Mapping[str, float]] = field(default_factory=dict)
    """Mean minutes of every object by what they belong to."""


def gather_work(sources: Sequence[PlanSource], rules: EffortRules, finished: Container[str] = ()) -> Work:
    """Put the objects of all sources together as units; those that are `finished` are no work any more."""
    work = Work(sources, rules, {}, {}, Total(rules))
    for number, source in enumerate(sources):
        _add_source(work, number, source, prefix_of(source, sources), finished)
    return work


def prefix_of(source: PlanSource, sources: Sequence[PlanSource]) -> str:
    """Return what stands before the ids of a source's objects: nothing where it is the only one."""
    return f"{source.name}:" if len(sources) > 1 else ""


def _add_source(work: Work, number: int, source: PlanSource, prefix: str, finished: Container[str]) -> None:
    judged = {each.object.id: each for each in source.assessment.objects}
    for each in source.assessment.objects:
        owner = prefix + owner_of(each.object, source.catalog)
        unit = work.units.get(owner)
        if unit is None:
            unit = work.units[owner] = Unit(owner, number, [], rank=each.rank)
        unit.members.append(each)
        unit.rank = min(unit.rank, each.rank)
        item = prefix + each.object.id
        work.unit_of[item] = owner
        work.minutes[item] = _add_minutes(work, estimate_object(each, work.rules))
        if item in finished:
            continue
        unit.parts[item] = work.minutes[item]
        unit.blockers += [f for f in each.findings if f.severity is Severity.BLOCKER and f.accepted is None]
    for unit in work.units.values():
        if unit.source == number:
            unit.members.sort(key=lambda each: each.object.id != unit.id.removeprefix(prefix))
            unit.constructs = frozenset(f.construct for each in unit.members for f in each.findings)
    _add_general(work, number, source, prefix, has_objects=bool(judged))


def _add_minutes(work: Work, own: Total) -> Mapping[str, float]:
    for key, (low, likely, high) in own.groups.items():
        work.total.add(key, (low, likely, high), 1.0)
    return {key: sum(minutes) / 3 for key, minutes in own.groups.items() if minutes[2] > 0}


def _add_general(work: Work, number: int, source: PlanSource, prefix: str, *, has_objects: bool) -> None:
    general = source.assessment.general
    if not general or not has_objects:
        return
    unit = Unit(prefix + GENERAL, number, [])
    unit.parts[unit.id] = work.minutes[unit.id] = _add_minutes(work, estimate_general(general, work.rules))
    work.unit_of[unit.id] = unit.id
    unit.blockers = [f for f in general if f.severity is Severity.BLOCKER and f.accepted is None]
    unit.constructs = frozenset(f.construct for f in general)
    work.units[unit.id] = unit


def owner_of(item: Object, catalog: Catalog) -> str:
    """Return the id of the object that an object is a part of: the table of an index, the package of a body; else its own."""
    objects = catalog.objects
    if item.table and item.table in objects:
        return item.table
    for part, whole in ((ObjectType.PACKAGE_BODY, ".package."), (ObjectType.TYPE_BODY, ".type.")):
        if item.type is part:
            spec = item.id.replace(f".{part.value.replace(' ', '_')}.", whole, 1)
            if spec in objects:
                return spec
    return item.id


def members_of(units: Iterable[Unit]) -> list[Judged]:
    """Return all objects of units."""
    return [each for unit in units for each in unit.members]
