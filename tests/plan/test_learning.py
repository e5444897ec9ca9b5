"""Effort adds up, learns from what work took, and its bands hold what happens."""

import math
from pathlib import Path

import numpy as np
import pytest
from typer.testing import CliRunner

from hullsound import steps
from hullsound.assess.hours import Total, spread_of
from hullsound.catalog.judgements import Actual, read_actuals
from hullsound.cli.app import app
from hullsound.demo import copy_planning, copy_scripts
from hullsound.errors import SourceError, UsageError
from hullsound.plan.actuals import read_hours, report_actuals
from hullsound.plan.learning import Finished, Learned
from hullsound.project import read_project
from hullsound.ranges import mean
from hullsound.settings import EffortRules, Settings
from tests.plan.made import ident, source_of

RULES = EffortRules()
PROJECTS = 500


def project(rng: np.random.Generator, scale: float) -> tuple[Total, list[dict[str, float]], list[float]]:
    """Return a simulated project: the estimate, its objects by construct, and the hours that they really take."""
    minutes = {f"c{number}": tuple(sorted(rng.uniform(5, 120, 3))) for number in range(12)}
    total, objects = Total(), []
    for _ in range(60):
        own = {}
        for construct in rng.choice(list(minutes), rng.integers(1, 4), replace=False):
            weight = rng.uniform(0.5, 3)
            total.add(construct, minutes[construct], weight)
            own[str(construct)] = mean(minutes[construct]) * weight
        objects.append(own)

    def factor(spread: float) -> float:
        return math.exp(scale * spread * rng.standard_normal() - spread**2 / 2)

    team = mean(RULES.team) * factor(spread_of(RULES.team))
    constructs = {name: factor(spread_of(value)) for name, value in minutes.items()}
    hours = [team * sum(m * constructs[c] for c, m in own.items()) * factor(RULES.spread) / 60 for own in objects]
    return total, objects, hours


@pytest.mark.parametrize("scale", [1.0, 1.6], ids=["as assumed", "wider than assumed"])
def test_after_20_objects_the_band_holds_the_truth_in_8_of_10_projects(scale: float) -> None:
    held = 0
    for seed in range(PROJECTS):
        total, objects, hours = project(np.random.default_rng(seed), scale)
        finished = [Finished(str(n), objects[n], hours[n]) for n in range(20)]
        low, high = np.percentile(Learned(total, finished, RULES).draw([objects[20:]], 800)[0], [10, 90])
        held += low <= sum(hours[20:]) <= high
    assert 0.75 <= held / PROJECTS <= 0.85


def test_learning_moves_towards_what_happened_and_widens_where_it_was_wild() -> None:
    total, objects, hours = project(np.random.default_rng(3), 1.0)
    before = np.median(Learned(total, [], RULES).draw([objects[20:]])[0])

    def after(factor: float) -> float:
        estimated = [sum(own.values()) * mean(RULES.team) / 60 for own in objects]
        finished = [Finished(str(n), objects[n], estimated[n] * factor) for n in range(20)]
        return float(np.median(Learned(total, finished, RULES).draw([objects[20:]])[0]))

    assert after(0.6) < before < after(1.6)
    calm = Learned(total, [Finished(str(n), objects[n], hours[n]) for n in range(20)], RULES)
    wild = Learned(total, [Finished(str(n), objects[n], hours[n] * (9 if n % 2 else 1 / 9)) for n in range(20)], RULES)
    assert wild.spread_factor > 2 * calm.spread_factor


def test_a_construct_that_was_wrong_is_named() -> None:
    names = [f"p{number}" for number in range(20)]
    constructs = {name: ("oracle.slow",) if number < 8 else ("oracle.fair",) for number, name in enumerate(names)}
    source = source_of({name: [] for name in names}, constructs=constructs)
    hours = [Actual(ident(name), 6.0 if number < 8 else 1.7, True) for number, name in enumerate(names[:16])]
    found = report_actuals([source], hours, Settings())
    assert [each.construct for each in found.misjudged] == ["oracle.slow"]
    assert found.misjudged[0].factor > 1.5
    assert found.remaining_after.p50 > 0


def test_hours_of_objects_add_up_to_the_headline(demo_scripts: Path) -> None:
    case = steps.assess_catalog(steps.survey_scripts(demo_scripts, "oracle"), "postgresql:18")
    summary = case.document.summary
    column = sum(entry.hours for entry in case.document.objects)
    assert column + summary.general_hours == pytest.approx(summary.effort_hours.p50, abs=0.2)
    assert sum(part.hours for part in summary.effort_parts) == pytest.approx(summary.effort_hours.p50, abs=0.05)


def test_rates_team_and_minutes_are_set_in_the_project(tmp_path: Path, demo_scripts: Path) -> None:
    catalog = steps.survey_scripts(demo_scripts, "oracle")
    plain = steps.assess_catalog(catalog, "postgresql:18").document.summary.effort_hours.p50
    file = tmp_path / "hullsound.toml"
    file.write_text('[effort]\nteam = [2.0, 2.0, 2.0]\n[effort.minutes]\n"oracle.dbms-aq" = [6000, 6000, 6000]\n'
                    "[effort.review]\nrewrite = [1.0, 1.0, 1.0]\n")  # fmt: skip
    set_ = steps.assess_catalog(catalog, "postgresql:18", project=read_project(file)).document.summary.effort_hours.p50
    assert set_ > 1.7 * plain + 100


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("[effort]\nteam = [2.0, 1.0, 3.0]", "team must be [low, likely, high]"),
        ("[effort]\nteam = [-1.0, 1.0, 3.0]", "team must be [low, likely, high]"),
        ("[plan]\nteam = 0", "`int` >= 1"),
        ("[plan]\nspeed = 3", "unknown field `speed`"),
        ("[window]\nmbit = -5.0", "> 0.0"),
        ("[window]\nrows_s = [0.0, 1.0, 2.0]", "rows_s must be greater than 0"),
        ("[size]\nheadroom = 1.5", "< 1"),
    ],
)
def test_a_wrong_assumption_is_told_with_its_key(tmp_path: Path, text: str, said: str) -> None:
    file = tmp_path / "hullsound.toml"
    file.write_text(text)
    with pytest.raises(UsageError) as error:
        read_project(file)
    assert said in str(error.value)
    assert "hullsound.toml" in str(error.value)


KNOWN = {"harbour.table.berths": "table", "harbour.view.v_calls": "view", "dock.table.berths": "table"}


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("object,hours\nharbour.table.nowhere,2\n", "line 2, column object: 'harbour.table.nowhere' is no object"),
        ("object,hours\nberths,2\n", "is not clear"),
        ("object,hours\nharbour.view.v_calls,-2\n", "line 2, column hours: -2 is below 0"),
        ("object,hours\nharbour.view.v_calls,much\n", "'much' is not a number"),
        ("object,hours\nv_calls,1\nV_CALLS,2\n", "line 3, column object: 'V_CALLS' is named twice"),
        ("object,hours,done\nv_calls,1,perhaps\n", "line 2, column done: 'perhaps' is neither yes nor no"),
        ("object,minutes\nv_calls,1\n", "the column 'minutes' is not known"),
        ("object\nv_calls\n", "no column hours"),
        ("", "is empty"),
        ("object,hours\n", "holds no hours"),
    ],
)
def test_wrong_hours_are_told_with_line_and_column(tmp_path: Path, text: str, said: str) -> None:
    file = tmp_path / "hours.csv"
    file.write_text(text)
    with pytest.raises(SourceError) as error:
        read_hours(file, KNOWN)
    assert said in str(error.value)
    assert str(file) in str(error.value)


def test_the_command_records_all_or_nothing(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.chdir(tmp_path)
    hull = tmp_path / "harbour.hull"
    steps.survey_into(hull, copy_scripts("oracle", tmp_path), "oracle", "19", name="harbour")
    wrong = tmp_path / "wrong.csv"
    wrong.write_text("object,hours\nharbour.table.berths,3\nharbour.table.nowhere,1\n")
    failed = CliRunner().invoke(app, ["actuals", str(hull), str(wrong), "--to", "postgresql:18"])
    assert isinstance(failed.exception, SourceError)
    assert read_actuals(hull) == []
    hours = copy_planning(tmp_path)["hours"]
    done = CliRunner().invoke(app, ["actuals", str(hull), str(hours), "--to", "postgresql:18"])
    assert done.exit_code == 0, done.output
    assert "Hours that are left" in done.stdout
    assert len(read_actuals(hull)) == len(hours.read_text().splitlines()) - 1
    steps.survey_into(hull, tmp_path / "oracle-scripts", "oracle", "19.1", name="harbour")
    assert len(read_actuals(hull)) == len(hours.read_text().splitlines()) - 1, "a new survey keeps them"
    planned = CliRunner().invoke(app, ["plan", str(hull), "--to", "postgresql:18", "--start", "2027-02-01"])
    assert "objects are done" in planned.stdout
