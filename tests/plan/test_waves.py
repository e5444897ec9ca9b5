"""Waves: nothing before what it needs, nothing lost, few edges cut, and the same plan every time."""

from datetime import date
from itertools import combinations

import msgspec
import pytest
from hypothesis import given
from hypothesis import strategies as st

from hullsound import steps
from hullsound.catalog.judgements import Actual
from hullsound.plan.document import Plan
from hullsound.plan.make import make_plan
from hullsound.plan.work import PlanSource
from hullsound.settings import Settings
from hullsound.survey.files import ScriptFile
from tests.plan.made import demo_source, ident, source_of

START = date(2027, 2, 1)
NAMES = [f"p{number}" for number in range(14)]


def planned(source: PlanSource, actuals: tuple[Actual, ...] = (), **rules: object) -> Plan:
    return make_plan([source], Settings().with_given("plan", **({"start": START, "wave_weeks": 0.2} | rules)), actuals)


def waves_of(plan: Plan) -> dict[str, int]:
    return {item.id: wave.number for wave in plan.waves for item in wave.objects}


@st.composite
def graphs(draw: st.DrawFn) -> dict[str, list[str]]:
    """Draw needs of any shape, cycles among them."""
    pairs = st.tuples(st.sampled_from(NAMES), st.sampled_from(NAMES))
    needs: dict[str, list[str]] = {name: [] for name in NAMES[: draw(st.integers(1, len(NAMES)))]}
    for user, used in draw(st.lists(pairs, max_size=30)):
        if user in needs and used in needs and user != used and used not in needs[user]:
            needs[user].append(used)
    return needs


@given(graphs(), st.integers(1, 4), st.sets(st.sampled_from(NAMES), max_size=3))
def test_nothing_comes_before_what_it_needs_unless_it_is_bridged(
    needs: dict[str, list[str]], team: int, blocked: set[str]
) -> None:
    plan = planned(source_of(needs, blocked=blocked), team=team)
    wave_of = waves_of(plan)
    assert set(wave_of) == {ident(name) for name in needs}, "each object is in one wave"
    bridged = {(bridge.used, user) for wave in plan.waves for bridge in wave.bridges for user in bridge.users}
    for user, those in needs.items():
        for used in those:
            assert wave_of[ident(used)] <= wave_of[ident(user)]
            is_cut = wave_of[ident(used)] != wave_of[ident(user)]
            assert is_cut == ((ident(used), ident(user)) in bridged)


@given(graphs(), st.lists(st.floats(1, 600), min_size=len(NAMES), max_size=len(NAMES)))
def test_parts_add_up_and_the_same_input_gives_the_same_plan(needs: dict[str, list[str]], likely: list[float]) -> None:
    source = source_of(needs, dict(zip(NAMES, likely, strict=True)))
    plan = planned(source)
    assert sum(wave.hours.p50 for wave in plan.waves) == pytest.approx(
        plan.hours.p50, abs=0.01 * len(plan.waves) + 0.01
    )
    for wave in plan.waves:
        assert sum(item.hours for item in wave.objects) == pytest.approx(wave.hours.p50, abs=0.02)
        assert wave.begins <= wave.ends_p50 <= wave.ends_p80
    assert msgspec.json.encode(plan) == msgspec.json.encode(planned(source))
    assert plan.hours.p50 == pytest.approx(source.assessment.effort.percentiles()[0], abs=0.06)


@given(graphs(), st.lists(st.floats(1, 600), min_size=len(NAMES), max_size=len(NAMES)))
def test_more_people_or_hours_never_make_it_later(needs: dict[str, list[str]], likely: list[float]) -> None:
    source = source_of(needs, dict(zip(NAMES, likely, strict=True)))
    ends = [planned(source, team=team).ends_p80 for team in (1, 2, 3, 5)]
    assert ends == sorted(ends, reverse=True)
    ends = [planned(source, hours=hours).ends_p50 for hours in (10.0, 20.0, 40.0)]
    assert ends == sorted(ends, reverse=True)


def test_cycles_move_together() -> None:
    wave_of = waves_of(planned(source_of({"a": ["b"], "b": ["c"], "c": ["a"], "d": ["a"], **{n: [] for n in NAMES}})))
    assert len({wave_of[ident(name)] for name in "abc"}) == 1


def test_clusters_stay_together_where_they_fit() -> None:
    """Four clusters of six, each smaller than a wave, loosely tied: no wave cuts one, but for the pilot."""
    needs: dict[str, list[str]] = {}
    for cluster in range(4):
        names = [f"c{cluster}_{number}" for number in range(6)]
        for one, other in combinations(names, 2):
            needs.setdefault(other, []).append(one)
        needs.setdefault(names[0], [f"c{cluster - 1}_5"] if cluster else [])
    plan = planned(source_of(needs), team=1, hours=20.0, wave_weeks=1.5, pilot_share=0.0)
    wave_of = waves_of(plan)
    for cluster in range(4):
        assert len({wave_of[ident(f"c{cluster}_{number}")] for number in range(6)}) == 1
    assert plan.cut_edges <= 3


def test_the_pilot_meets_most_constructs_and_no_blocker() -> None:
    constructs = {name: (f"oracle.kind-{number % 5}",) for number, name in enumerate(NAMES)}
    source = source_of({name: [] for name in NAMES}, constructs=constructs, blocked=["p0", "p5", "p10"])
    plan = planned(source, pilot_share=0.7)
    pilot = next(wave for wave in plan.waves if wave.number == 0)
    met = {constructs[item.id.rpartition(".")[2]][0] for item in pilot.objects}
    assert len(met) >= 3
    assert len(pilot.objects) == len(met), "no object that brings nothing new"
    assert not {item.id for item in pilot.objects} & {ident(name) for name in ("p0", "p5", "p10")}


def test_a_blocker_becomes_a_decision_before_its_wave() -> None:
    plan = planned(source_of({name: [] for name in NAMES}, blocked=["p3"], constructs={"p3": ("oracle.utl-http",)}))
    (decision,) = plan.decisions
    wave = next(each for each in plan.waves if each.number == decision.wave)
    assert decision.objects == [ident("p3")]
    assert decision.due <= wave.begins
    assert "decision on oracle.utl-http" in wave.waits_for


def test_finished_objects_are_no_work_any_more() -> None:
    source = source_of({name: [] for name in NAMES})
    before, after = planned(source), planned(source, (Actual(ident("p1"), 1.0, True), Actual(ident("p2"), 2.0, False)))
    assert ident("p1") not in waves_of(after)
    assert ident("p2") in waves_of(after)
    assert after.progress.objects == 1
    assert after.hours.p50 < before.hours.p50


def test_weekends_and_free_days_are_left_out() -> None:
    plan = planned(source_of({"a": []}, {"a": 60.0 * 30}), team=1, hours=25.0, free_days=[date(2027, 2, 3)])
    assert plan.waves[-1].ends_p80.weekday() < 5
    without = planned(source_of({"a": []}, {"a": 60.0 * 30}), team=1, hours=25.0)
    assert plan.ends_p50 > without.ends_p50
    saturday = planned(source_of({"a": []}), start=date(2027, 2, 6))
    assert saturday.begins == date(2027, 2, 8)


def test_several_sources_are_tied_by_their_names() -> None:
    def judged(name: str, engine: str, text: str) -> PlanSource:
        catalog = steps.survey_texts([ScriptFile("s.sql", text, "")], engine, name=name)
        return PlanSource(name, catalog, steps.assess_catalog(catalog, "postgresql:18").assessment)

    port = judged("port", "sqlserver", "CREATE TABLE dbo.berth (n int PRIMARY KEY);")
    shop = judged("shop", "sqlserver", "CREATE VIEW dbo.v AS SELECT n FROM port.dbo.berth;")
    plan = make_plan([shop, port], Settings().with_given("plan", start=START))
    assert plan.edges == 1
    ids = [item.id for wave in plan.waves for item in wave.objects]
    assert ids.index("port:dbo.table.berth") < ids.index("shop:dbo.view.v")


def test_the_harbour_is_planned_whole() -> None:
    source = demo_source()
    plan = planned(source, wave_weeks=1.0)
    assert set(waves_of(plan)) >= {each.object.id for each in source.assessment.objects}
    assert {"load", "references", "sequence positions"} <= {stage.name for stage in plan.creation}
    assert all(decision.due >= plan.begins for decision in plan.decisions)
    assert {a.origin for a in plan.assumptions} == {"given", "assumed"}
