"""Puts a plan together: work, waves, hours, dates, decisions and bridges."""

from collections import defaultdict
from collections.abc import Iterable, Iterator, Sequence
from datetime import date, timedelta
from typing import Final

import networkx as nx

from hullsound.catalog.judgements import Actual
from hullsound.draft.objects.stages import LOAD, STAGES, creation_stages, load_levels
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.ranges import percentiles
from hullsound.settings import PlanRules, Settings, assumptions
from hullsound.timing import step

from .bundles import Bundles, bundle
from .calendar import Calendar, Finish, finishes
from .document import (
    SCHEMA_NAME,
    Bridge,
    CreationStage,
    Decision,
    Hours,
    Plan,
    PlannedObject,
    Progress,
    Wave,
    wave_name,
)
from .edges import KINDS, needs_graph
from .learning import Finished, Learned
from .pilot import choose_pilot
from .waves import fill_waves
from .work import PlanSource, Unit, Work, gather_work

_FULL_TURN: Final = 7


@step("plan")
def make_plan(
    sources: Sequence[PlanSource], settings: Settings, actuals: Iterable[Actual] = (), today: date | None = None
) -> Plan:
    """Plan the move of one or several judged sources.

    `actuals` name objects with the prefix of their source where there are several. The same input gives the same plan.
    """
    recorded = list(actuals)
    work = gather_work(sources, settings.effort, {row.object for row in recorded if row.done})
    learned = Learned(work.total, finished_of(work, recorded), settings.effort)
    graph = needs_graph(work, settings.plan)
    open_units = {unit for unit in graph if work.units[unit].parts}
    bundles = bundle(work, _without(graph, open_units))
    return _Planner(work, learned, bundles, graph, settings, today or date.today()).plan(recorded)


def finished_of(work: Work, recorded: Iterable[Actual]) -> list[Finished]:
    """Return the finished objects with their estimates; those that took or were estimated at nothing teach nothing."""
    return [
        Finished(row.object, work.minutes[row.object], row.hours)
        for row in recorded
        if row.done and row.hours > 0 and sum(work.minutes.get(row.object, {}).values()) > 0
    ]


def _without(graph: "nx.DiGraph[str]", kept: set[str]) -> "nx.DiGraph[str]":
    """Return the graph of units that are left; what was between two of them and is finished needs no order any more."""
    return graph.subgraph(kept)


def next_monday(today: date) -> date:
    """Return the first Monday behind a day: when work begins, where nothing else is said."""
    return today + timedelta(days=_FULL_TURN - today.weekday())


def _creation(sources: Sequence[PlanSource]) -> list[CreationStage]:
    """Return the stages of all sources together, in the order in which a target is created."""
    counts: dict[str, int] = dict.fromkeys(STAGES, 0)
    present: set[str] = set()
    levels = 0
    for source in sources:
        for stage in creation_stages(source.catalog):
            counts[stage.name] += len(stage.objects)
            present.add(stage.name)
        levels = max(levels, len(load_levels(source.catalog)))
    return [
        CreationStage(name, count, levels if name == LOAD else 0) for name, count in counts.items() if name in present
    ]


class _Planner:
    def __init__(
        self,
        work: Work,
        learned: Learned,
        bundles: Bundles,
        graph: "nx.DiGraph[str]",
        settings: Settings,
        today: date,
    ) -> None:
        self.work, self.learned, self.bundles, self.graph, self.settings = work, learned, bundles, graph, settings
        self.rules: PlanRules = settings.plan
        self.calendar = Calendar(self.rules.start or next_monday(today), self.rules)
        self.units_of_waves = self._waves()
        self.wave_of = {unit.id: number for number, units in enumerate(self.units_of_waves) for unit in units}

    def _waves(self) -> list[list[Unit]]:
        """Fill the waves; how many mean minutes fit into one follows from the P80 hours of what is left."""
        left = [minutes for unit in self.work.units.values() for minutes in unit.parts.values()]
        average = sum(sum(minutes.values()) for minutes in left)
        p80 = percentiles(self.learned.draw([left])[0])[1] * 60 / average if average else 1.0
        a_week = self.rules.team * self.rules.hours * 60 / p80
        pilot = choose_pilot(self.bundles, self.rules.pilot_share, a_week * self.rules.pilot_weeks)
        filled = fill_waves(self.bundles, a_week * self.rules.wave_weeks, pilot)
        return [[unit for number in wave for unit in self.bundles.all[number].units] for wave in filled]

    def plan(self, recorded: list[Actual]) -> Plan:
        draws = self.learned.draw([[m for unit in units for m in unit.parts.values()] for units in self.units_of_waves])
        p50, p80 = percentiles(draws.sum(axis=0)) if len(draws) else (0.0, 0.0)
        hours = self._shares(p50)
        largest = [max((hours[i] for unit in units for i in unit.parts), default=0.0) for units in self.units_of_waves]
        ends = finishes(draws, largest, self.calendar)
        decisions = self._decisions([self._begin(number, ends) for number in range(len(ends))])
        bridges, cut, cut_weight = self._bridges()
        waves = list(self._dated(hours, p80 / p50 if p50 else 1.0, ends, decisions, bridges))
        last = waves[-1] if waves else None
        return Plan(
            schema=SCHEMA_NAME,
            sources=[source.name for source in self.work.sources],
            target=str(self.work.sources[0].assessment.target),
            hours=Hours(round(p50, 2), round(p80, 2)),
            progress=self._progress(recorded),
            team=self.rules.team,
            hours_week=self.rules.hours,
            begins=self.calendar.start,
            ends_p50=last.ends_p50 if last else self.calendar.start,
            ends_p80=last.ends_p80 if last else self.calendar.start,
            waves=waves,
            decisions=decisions,
            creation=_creation(self.work.sources),
            cut_weight=round(cut_weight, 1),
            edges=self.graph.number_of_edges(),
            cut_edges=cut,
            assumptions=[*assumptions(self.settings, "plan"), *assumptions(self.settings, "effort")],
        )

    def _shares(self, whole: float) -> dict[str, float]:
        """Return the hours of each object that is left: its share of the whole."""
        expected = {
            item: self.learned.expected(minutes)
            for units in self.units_of_waves
            for unit in units
            for item, minutes in unit.parts.items()
        }
        total = sum(expected.values()) or 1.0
        return {item: whole * share / total for item, share in expected.items()}

    def _dated(
        self,
        hours: dict[str, float],
        ratio: float,
        ends: Sequence[Finish],
        decisions: list[Decision],
        bridges: list[list[Bridge]],
    ) -> Iterator[Wave]:
        """Yield the waves with their dates; `ratio` is that of P80 to P50. A pilot without objects is left out."""
        gone = 0.0
        for number, units in enumerate(self.units_of_waves):
            objects, spent = self._objects(units, hours, gone)
            gone += spent
            if not objects and not number:
                continue
            yield Wave(
                number,
                objects,
                Hours(round(spent, 2), round(spent * ratio, 2)),
                self._begin(number, ends),
                ends[number].p50,
                max(ends[number]),
                self._waits_for(number, decisions),
                bridges[number],
            )

    def _begin(self, number: int, ends: Sequence[Finish]) -> date:
        """Return when a wave begins in half of all cases: when those before it are finished."""
        before = [each for place, each in enumerate(ends[:number]) if self.units_of_waves[place]]
        return before[-1].p50 if before else self.calendar.start

    def _objects(self, units: list[Unit], hours: dict[str, float], gone: float) -> tuple[list[PlannedObject], float]:
        objects = []
        spent = 0.0
        for unit in units:
            known = {each.object.id: each for each in unit.members}
            several = len(self.work.sources) > 1
            for item in unit.parts:
                each = known.get(item.partition(":")[2] if several else item)
                days = (gone + spent) / self.rules.team / self.calendar.hours_a_day
                objects.append(
                    PlannedObject(
                        item,
                        each.object.type.value if each else "findings",
                        each.outcome.value if each else "",
                        round(hours[item], 4),
                        self.calendar.day(days),
                    )
                )
                spent += hours[item]
        return objects, spent

    def _waits_for(self, number: int, decisions: list[Decision]) -> list[str]:
        own = {unit.id for unit in self.units_of_waves[number]}
        waves = sorted({self.wave_of[used] for unit in own for used in self.graph.successors(unit)
                        if self.wave_of.get(used, number) != number})  # fmt: skip
        named = [wave_name(each) for each in waves]
        return [*named, *(f"decision on {each.construct}" for each in decisions if each.wave == number)]

    def _bridges(self) -> tuple[list[list[Bridge]], int, float]:
        """Return what each wave leaves to be bridged, how many edges are cut, and what they weigh together."""
        users: dict[tuple[str, str], list[str]] = defaultdict(list)
        cut_weight = 0.0
        for user, used, data in self.graph.edges(data=True):
            if user in self.wave_of and used in self.wave_of and self.wave_of[user] != self.wave_of[used]:
                users[used, data["kind"]].append(user)
                cut_weight += data["weight"]
        bridges: list[list[Bridge]] = [[] for _ in self.units_of_waves]
        for (used, kind), those in sorted(users.items()):
            until = max(self.wave_of[user] for user in those)
            bridges[self.wave_of[used]].append(Bridge(used, kind, sorted(those), until, KINDS[kind].bridge))
        for each in bridges:
            each.sort(key=lambda bridge: (-KINDS[bridge.kind].weight * len(bridge.users), bridge.used))
        return bridges, sum(len(those) for those in users.values()), cut_weight

    def _decisions(self, begins: list[date]) -> list[Decision]:
        objects: dict[str, list[str]] = defaultdict(list)
        remedies: dict[str, str] = {}
        for unit in self.work.units.values():
            for finding in unit.blockers:
                if unit.id in self.wave_of:
                    objects[finding.construct].append(unit.id)
                    remedies.setdefault(finding.construct, finding.remedy)
        titles = {key: row.title for key, row in load_general().items()}
        for source in self.work.sources:
            titles |= {key: row.title for key, row in load_constructs(source.catalog.engine).items()}
        found = []
        for construct, those in objects.items():
            wave = min(self.wave_of[unit] for unit in those)
            due = self.calendar.weeks_before(begins[wave], self.rules.decision_weeks)
            units = sorted(set(those))
            found.append(Decision(construct, titles.get(construct, construct), remedies[construct], units, wave, due))
        return sorted(found, key=lambda each: (each.due, each.construct))

    def _progress(self, recorded: list[Actual]) -> Progress:
        done = [row for row in recorded if row.done and row.object in self.work.minutes]
        p50 = self.work.total.percentiles()[0]
        average = self.work.total.mean_minutes() or 1.0
        estimated = sum(sum(self.work.minutes[row.object].values()) for row in done) / average * p50
        factor = self.learned.spread_factor if self.learned.finished else 1.0
        return Progress(len(done), round(sum(row.hours for row in done), 2), round(estimated, 2), round(factor, 3))
