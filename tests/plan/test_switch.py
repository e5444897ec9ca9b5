"""The day of the switch: stages, load order, references validated later, positions of sequences, runbook and files."""

import json
import re
from datetime import date
from pathlib import Path

import pytest
from icalendar import Calendar
from typer.testing import CliRunner

from hullsound import steps
from hullsound.catalog.judgements import Actual
from hullsound.catalog.model import ObjectType
from hullsound.cli.app import app
from hullsound.demo import SYSTEMS, copy_planning, copy_scripts, scripts_of
from hullsound.draft.cutover import cutover_files
from hullsound.draft.files import prepare_text, session_text
from hullsound.draft.objects.stages import STAGES, creation_stages, load_levels
from hullsound.plan.make import make_plan
from hullsound.plan.planning import PlanningInput, make_planning
from hullsound.plan.work import PlanSource
from hullsound.project import Project
from hullsound.report.html.page import render_page
from hullsound.report.planning.calendar_file import plan_calendar
from hullsound.report.planning.files import write_plan
from hullsound.report.planning.runbook import render_runbook
from hullsound.settings import Settings
from hullsound.survey.files import ScriptFile
from tests.plan.made import demo_source, source_of
from tests.servers import postgresql_with

_UNDER_REFERENCES = frozenset((ObjectType.TYPE, ObjectType.SEQUENCE, ObjectType.TABLE, ObjectType.CONSTRAINT))


@pytest.mark.parametrize("engine", SYSTEMS)
def test_every_object_has_one_stage_and_stages_are_in_order(engine: str) -> None:
    catalog = steps.survey_scripts(Path(scripts_of(engine)), engine)
    stages = creation_stages(catalog)
    listed = [item for stage in stages for item in stage.objects]
    assert sorted(listed) == sorted(catalog.objects)
    assert [stage.name for stage in stages] == [name for name in STAGES if name in {stage.name for stage in stages}]


@pytest.mark.parametrize("engine", SYSTEMS)
def test_tables_are_loaded_behind_those_that_they_refer_to(engine: str) -> None:
    catalog = steps.survey_scripts(Path(scripts_of(engine)), engine)
    levels = load_levels(catalog)
    level_of = {table: number for number, level in enumerate(levels) for table in level.tables}
    together = [set(cycle) for level in levels for cycle in level.cycles]
    for item in catalog.objects.values():
        if item.constraint is None or item.constraint.form != "foreign key":
            continue
        parent = catalog.table(item.constraint.references, item.schema)
        if parent is None or parent.id not in level_of or item.table not in level_of or parent.id == item.table:
            continue
        is_cycle = any({parent.id, item.table} <= cycle for cycle in together)
        assert is_cycle or level_of[parent.id] < level_of[item.table]


@pytest.mark.server
def test_references_are_added_unvalidated_and_validated_on_a_real_server(server_url: str) -> None:
    case = steps.assess_catalog(steps.survey_scripts(Path(scripts_of("oracle")), "oracle"), "postgresql:18")
    files = cutover_files(case.drafts, case.catalog, case.assessment)
    foreign = [
        d
        for d in case.drafts.drafts
        if d.object.constraint and d.object.constraint.form == "foreign key" and d.is_finished
    ]
    with postgresql_with(server_url) as (_, connection):
        connection.execute(
            (prepare_text(case.drafts, "postgresql") + session_text(case.drafts, case.catalog, "postgresql")).encode()
        )
        for draft in case.drafts.drafts:
            is_needed = draft.object.type in _UNDER_REFERENCES and draft not in foreign
            if draft.text and is_needed:
                with connection.transaction():
                    connection.execute(draft.text.encode())
        count = "SELECT count(*) FROM pg_constraint WHERE contype = 'f' AND {} AND conparentid = 0"
        connection.execute(files["cutover/references-unvalidated.sql"].encode())
        waiting = files["cutover/references-unvalidated.sql"].count("NOT VALID;")
        assert 0 < waiting <= len(foreign)
        assert connection.execute(count.format("NOT convalidated").encode()).fetchone() == (waiting,)
        connection.execute(files["cutover/references-validate.sql"].encode())
        validated = files["cutover/references-validate.sql"].count("VALIDATE CONSTRAINT")
        kept = sum("NOT VALID" in draft.text for draft in foreign)  # as on the source, which never checked them
        assert validated == len(foreign) - kept
        assert connection.execute(count.format("convalidated").encode()).fetchone() == (validated,)
        columns = [line for line in files["cutover/sequences.sql"].splitlines() if "pg_get_serial_sequence" in line]
        assert columns
        for line in columns:
            connection.execute(line.encode())
        connection.commit()
        connection.autocommit = True
        connection.execute(files["cutover/statistics.sql"].encode())


def test_what_cannot_wait_stands_as_it_is(tmp_path: Path) -> None:
    script = tmp_path / "s.sql"
    script.write_text(
        'CREATE TABLE a (n INTEGER PRIMARY KEY);\nCREATE TABLE "Odd b" (n INTEGER, CONSTRAINT "Odd; name" '
        "FOREIGN KEY (n) REFERENCES a (n));\n"
    )
    case = steps.assess_catalog(steps.survey_scripts(script, "oracle"), "postgresql:18")
    files = cutover_files(case.drafts, case.catalog, case.assessment)
    assert files["cutover/references-unvalidated.sql"].count("FOREIGN KEY") == 1


def test_the_runbook_names_who_what_and_the_way_back() -> None:
    plan = make_plan([demo_source()], Settings().with_given("plan", start=date(2027, 2, 1), wave_weeks=1.0))
    text = render_runbook(plan)
    for part in ("## Decide first", "## Waves", "## Rehearse", "## Switch", "point of no return", "## The way back"):
        assert part in text
    stages = [text.index(f"**{stage.name}**") for stage in plan.creation]
    assert stages == sorted(stages)
    assert all(f"### {'Pilot' if not wave.number else f'Wave {wave.number}'}:" in text for wave in plan.waves)


def test_hostile_names_draw_nothing_in_runbook_and_calendar() -> None:
    source = source_of({"a": []}, blocked=["a"], name="| <b> `x` \x1b[31m\nEND:VEVENT")
    plan = make_plan([source], Settings().with_given("plan", start=date(2027, 2, 1)))
    text = render_runbook(plan)
    assert "<b>" not in text
    calendar = Calendar.from_ical(plan_calendar(plan))
    assert len(calendar.walk("VEVENT")) == len(plan.waves) + len(plan.decisions) + 2


HOSTILE = """CREATE TABLE "<script>alert(1)</script>" (a int PRIMARY KEY, "</svg><b>" varchar(9));
CREATE VIEW "v]]>" AS SELECT * FROM "<script>alert(1)</script>";"""


@pytest.mark.parametrize("script", ["", HOSTILE], ids=["nothing", "hostile names"])
@pytest.mark.parametrize("is_done", [False, True])
def test_a_page_holds_with_nothing_to_plan_and_with_hostile_names(script: str, is_done: bool, tmp_path: Path) -> None:
    catalog = steps.survey_texts([ScriptFile("x.sql", script, "")], "postgresql", name="<i>n</i>")
    for table in catalog.objects.values():
        table.details = table.details | {"rows": "50000000", "bytes": "90000000000"}
    case = steps.assess_catalog(catalog, "oracle:23")
    hours = [Actual(item, 1.0, True) for item in catalog.objects] if is_done else []
    planning = make_planning(PlanSource("<i>n</i>", catalog, case.assessment), Project(), PlanningInput(), hours)
    write_plan(planning.plan, tmp_path, planning.window)
    page = render_page(catalog, case.assessment, case.document, case.drafts, planning)
    assert '<section id="plan">' in page
    assert not any(text in page for text in ("<script>alert", "<i>n", "</svg><b>"))


def test_the_calendar_is_read_by_others_and_keeps_its_identifiers() -> None:
    plan = make_plan([demo_source()], Settings().with_given("plan", start=date(2027, 2, 1), wave_weeks=1.0))
    events = Calendar.from_ical(plan_calendar(plan)).walk("VEVENT")
    assert len({str(event["UID"]) for event in events}) == len(events)
    starts = {str(event["SUMMARY"]): event["DTSTART"].dt for event in events}
    assert starts["demo: pilot, 167 objects"] == date(2027, 2, 1) if "demo: pilot, 167 objects" in starts else True
    later = make_plan([demo_source()], Settings().with_given("plan", start=date(2027, 3, 1), wave_weeks=1.0))
    again = {str(event["UID"]) for event in Calendar.from_ical(plan_calendar(later)).walk("VEVENT")}
    assert again == {str(event["UID"]) for event in events}


def test_plan_writes_all_its_files_and_the_report_holds_all_sections(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.chdir(tmp_path)
    hull = tmp_path / "harbour.hull"
    steps.survey_into(hull, copy_scripts("oracle", tmp_path), "oracle", "19", name="harbour")
    tables = copy_planning(tmp_path)
    planned = CliRunner().invoke(
        app, ["plan", str(hull), "--to", "postgresql:18", "--start", "2027-02-01", "--wave-weeks", "1", "-o", "planned"]
    )
    assert planned.exit_code == 0, planned.output
    names = {path.name for path in (tmp_path / "planned").iterdir()}
    assert names == {
        "runbook.md",
        "plan.csv",
        "bridges.csv",
        "decisions.csv",
        "plan.ics",
        "plan.svg",
        "plan.png",
        "plan.json",
    }
    document = json.loads((tmp_path / "planned" / "plan.json").read_text())
    rows = (tmp_path / "planned" / "plan.csv").read_text().splitlines()
    assert len(rows) - 1 == sum(len(wave["objects"]) for wave in document["waves"])
    reported = CliRunner().invoke(
        app, ["report", str(hull), "--to", "postgresql:18", "-o", "all", "--sizes", str(tables["sizes"]), "--load",
              str(tables["load"]), "--prices", str(tables["prices"])],
    )  # fmt: skip
    assert reported.exit_code == 0, reported.output
    page = (tmp_path / "all" / "index.html").read_text()
    for section in ("plan", "window", "size", "checks"):
        assert f'<section id="{section}">' in page
        assert f'href="#{section}"' in page
    assert page.count("<svg") == 3
    assert not re.search(r"""(?:src|href)=["']?https?:""", page.replace("http://www.w3.org/", "")), "it loads nothing"
    assert {"runbook.md", "plan.csv", "planning.json"} <= {path.name for path in (tmp_path / "all").iterdir()}
    half = CliRunner().invoke(app, ["report", str(hull), "-o", "none", "--load", str(tables["load"])])
    assert half.exit_code != 0


@pytest.mark.parametrize("options", [["--team", "0"], ["--hours", "-3"], ["--start", "soon"], ["--wave-weeks", "0"]])
def test_wrong_options_of_plan_are_usage_errors(options: list[str], tmp_path: Path) -> None:
    hull = tmp_path / "x.hull"
    steps.survey_into(hull, Path(scripts_of("sqlite")), "sqlite", name="tablet")
    done = CliRunner().invoke(app, ["plan", str(hull), "--to", "postgresql:18", *options])
    assert done.exit_code != 0
    assert done.exception is not None
