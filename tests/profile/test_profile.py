"""Profiles of running sources: what happens, what cannot, samples and budgets, and that no text is kept."""

import sqlite3
from collections.abc import Iterator
from pathlib import Path

import pytest
from typer.testing import CliRunner

from hullsound import steps
from hullsound.assess.judge import assess
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.hullfile import read_hull
from hullsound.catalog.model import Measure
from hullsound.cli.app import app
from hullsound.knowledge.targets import parse_target
from hullsound.profile import run as profile_run
from hullsound.project import Project, TypeOverride
from hullsound.report.types import map_types
from hullsound.report.values import list_values
from hullsound.steps.live_demo import live_demo
from hullsound.survey.files import ScriptFile
from tests.servers import postgresql_with

QUAY = """
CREATE TABLE quay (quay_no numeric PRIMARY KEY, name varchar(20) UNIQUE, depth numeric, seen date, share double precision);
CREATE TABLE bollard (bollard_no numeric PRIMARY KEY, quay_no numeric REFERENCES quay (quay_no), load numeric);
ALTER TABLE bollard ADD COLUMN place numeric;
INSERT INTO quay VALUES (1, 'North', 12.5, '2024-01-01', 1.5), (2, 'north', 7, 'infinity', 'NaN');
INSERT INTO bollard VALUES (1, 1, 200, 3), (2, 1, 300, 4);
"""


@pytest.fixture(scope="module")
def quay(server_url: str) -> Iterator[str]:
    with postgresql_with(server_url, QUAY) as (address, _):
        yield address


def answers(catalog: Catalog) -> dict[tuple[str, str, str], int]:
    return {(m.object.rpartition(".")[2], m.column.lower(), m.question): m.count or m.value for m in catalog.measures}


@pytest.mark.server
def test_the_values_of_postgresql_are_asked(quay: str) -> None:
    catalog = steps.survey_live(quay, profile_seconds=30)
    told = answers(catalog)
    assert told["quay", "name", "equal-but-for-case"] == 1
    assert told["quay", "depth", "decimal-places"] == 1
    assert told["bollard", "load", "whole-digits"] == 3
    assert told["quay", "seen", "date-out-of-range"] == 1
    assert told["quay", "share", "not-a-number"] == 1
    assert all(m.is_whole and m.seen == 2 for m in catalog.measures)
    findings = {f.construct for each in assess(catalog, parse_target("mysql:8.4")).objects for f in each.findings}
    assert {"data.equal-but-for-case", "data.date-out-of-range", "data.not-a-number"} <= findings


@pytest.mark.server
def test_numbers_without_bounds_take_the_type_that_their_values_ask_for(quay: str) -> None:
    catalog = steps.survey_live(quay, profile_seconds=30)
    target = parse_target("sqlserver:2022")
    chosen = {(use.example, use.target): use.chosen_by for use in map_types(catalog, str(target))}
    by_values = {example for (example, text), by in chosen.items() if by == "its values" and text == "bigint"}
    assert by_values  # the keys and what refers to them together, and the load
    columns = {
        finding.message.split(": ")[1].split(" ")[0]
        for each in assess(catalog, target).objects
        for finding in each.findings
        if finding.construct == "data.type-from-data"
    }
    assert columns == {"quay_no", "bollard_no", "load", "place"}
    own = Project(types=(TypeOverride("decimal(9,0)", column="load"),))
    again = {f.message for each in assess(catalog, target, project=own).objects for f in each.findings
             if f.construct == "data.type-from-data"}  # fmt: skip
    assert not any(" load " in message for message in again)


def test_columns_that_refer_to_each_other_keep_one_type() -> None:
    text = "CREATE TABLE a (n NUMBER PRIMARY KEY); CREATE TABLE b (n NUMBER REFERENCES a (n));"
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "oracle")
    a, b = "table.a", "table.b"
    catalog.measures = [
        Measure(a, "N", "whole-digits", 0, 5, 10, 10), Measure(a, "N", "decimal-places", 0, 0, 10, 10),
        Measure(b, "N", "whole-digits", 0, 5, 10, 10), Measure(b, "N", "decimal-places", 0, 2, 10, 10),
    ]  # fmt: skip
    assert {use.target for use in map_types(catalog, "postgresql")} == {"numeric"}
    catalog.measures[3] = Measure(b, "N", "decimal-places", 0, 0, 10, 10)
    assert {use.target for use in map_types(catalog, "postgresql")} == {"bigint"}


def test_what_no_row_holds_becomes_a_note_and_a_sample_settles_nothing() -> None:
    text = "CREATE TABLE t (id INT PRIMARY KEY,\n d DATE,\n n BIGINT UNSIGNED,\n s TIME);"
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "mysql")
    target = parse_target("postgresql:18")

    def ways() -> dict[str, tuple[str, str]]:
        found = {}
        for finding in assess(catalog, target).objects[0].findings:
            for name in ("unsigned-bigint", "time-type", "type-changed"):
                if finding.construct.endswith(name):
                    found[f"{name} {finding.line}"] = (finding.way.value, finding.message)
        return found

    assert ways()["unsigned-bigint 3"][0] == "draft"  # the warning stands once under the database
    catalog.measures = [
        Measure("table.t", "N", "beyond-signed", 0, 0, 50, 50),
        Measure("table.t", "S", "span-of-time", 0, 0, 40, 50),
    ]
    way, message = ways()["unsigned-bigint 3"]
    assert way == "draft"
    assert "It cannot happen here: none of all 50 rows." in message
    way, message = ways()["time-type 4"]
    assert way == "confirm"
    assert "Not seen so far: none of 40 rows looked at, out of about 50." in message
    catalog.measures = [Measure("table.t", "S", "span-of-time", 1, 0, 50, 50)]
    assert ("TIME", "interval", "its values") in {
        (u.source, u.target, u.chosen_by) for u in map_types(catalog, str(target))
    }
    assert ("TIME", "time", "") in {
        (u.source, u.target.split("(")[0], u.chosen_by) for u in map_types(catalog, "sqlserver")
    }
    catalog.measures = [Measure("table.t", "N", "beyond-signed", 3, 0, 50, 50)]
    assert "It happens: 3 of 50 rows." in ways()["unsigned-bigint 3"][1]


def test_large_tables_are_sampled_and_time_is_kept(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(profile_run, "WHOLE_ROWS", 1000)
    monkeypatch.setattr(profile_run, "SAMPLE_ROWS", 200)
    path = tmp_path / "big.db"
    connection = sqlite3.connect(path)
    connection.execute("CREATE TABLE big (id INTEGER PRIMARY KEY, name VARCHAR(20))")
    connection.executemany("INSERT INTO big (name) VALUES (?)", ((f"n{i} ",) for i in range(50_000)))
    connection.commit()
    connection.close()
    whole = steps.survey_live(f"sqlite:///{path}", profile_seconds=30)
    assert {(m.seen, m.total) for m in whole.measures} == {(50_000, 50_000)}
    original = profile_run.Profiler._ask

    def too_late(self, plan, table, source, total):  # type: ignore[no-untyped-def]
        if total is None:
            raise profile_run.QueryRefusedError("interrupted", is_late=True)
        return original(self, plan, table, source, total)

    monkeypatch.setattr(profile_run.Profiler, "_ask", too_late)
    sampled = steps.survey_live(f"sqlite:///{path}", profile_seconds=30)
    seen = {(m.seen, m.total) for m in sampled.measures}
    assert len(seen) == 1
    assert 100 <= next(iter(seen))[0] <= 1000
    assert next(iter(seen))[1] == 50_000
    none = steps.survey_live(f"sqlite:///{path}", profile_seconds=0.01)
    assert not none.measures
    assert any(s.construct == "data.unfinished" and s.detail == "the time was over" for s in none.sightings)


def test_no_text_of_a_row_is_kept(tmp_path: Path) -> None:
    path, hull = tmp_path / "secret.db", tmp_path / "secret.hull"
    connection = sqlite3.connect(path)
    connection.execute('CREATE TABLE crew (id INTEGER PRIMARY KEY, "the name" TEXT UNIQUE, n INT)')
    connection.execute("INSERT INTO crew VALUES (1, 'Zebedee Quill ', 'Zebedee'), (2, 'zebedee quill', 3)")
    connection.commit()
    connection.close()
    done = CliRunner().invoke(app, ["survey", f"sqlite:///{path}", "-o", str(hull), "-q", "--profile"])
    assert done.exit_code == 0, done.output
    assert b"zebedee" not in hull.read_bytes().lower()
    facts = {(f.column, f.question): f.rows for f in list_values(read_hull(hull))}
    assert facts["the name", "trailing-blank"] == 1
    assert facts["n", "other-class"] == 1
    shown = CliRunner().invoke(app, ["values", str(hull)])
    assert "Blanks at the end of texts" in shown.output
    rows = CliRunner().invoke(app, ["values", str(hull), "--format", "csv", "--all"]).output
    assert rows.startswith("object,column,says,rows,number,seen,of")


@pytest.mark.server
def test_the_running_demo_shows_each_kind_of_trouble(tmp_path: Path) -> None:
    with live_demo(tmp_path) as demo:
        catalog = steps.survey_live(demo.address, profile_seconds=60)
    said = {f.question for f in list_values(catalog, only_yes=True) if f.rows}
    if demo.engine == "sqlite":
        assert {"trailing-blank", "empty-text", "other-class", "orphans", "nul-character"} <= said
    else:
        assert {"zero-date", "beyond-signed", "not-boolean", "wrong-member", "span-of-time", "empty-text", "trailing-blank",
                "nul-character", "utf8-kept-as-latin1", "orphans", "time-in-date"} <= said  # fmt: skip
    assert demo.refused <= 3
    assert not catalog.unread


def test_one_question_that_is_refused_leaves_the_others(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from hullsound.survey.live.session import ConnectionLostError, QueryRefusedError
    from hullsound.survey.live.sqlite import SqliteSession

    path = tmp_path / "odd.db"
    connection = sqlite3.connect(path)
    connection.execute("CREATE TABLE crew (name TEXT)")
    connection.execute("CREATE TABLE ship (name TEXT)")
    connection.execute("INSERT INTO crew VALUES ('a ')")
    connection.commit()
    connection.close()
    original = SqliteSession.ask

    def odd(self: SqliteSession, query: str) -> list[tuple[object, ...]]:
        if "LIKE '% '" in query:
            raise QueryRefusedError("no such operator")
        return original(self, query)

    monkeypatch.setattr(SqliteSession, "ask", odd)
    catalog = steps.survey_live(f"sqlite:///{path}", profile_seconds=30)
    told = {s.detail for s in catalog.sightings if s.construct == "data.unfinished"}
    assert told == {"trailing-blank of name: no such operator"}
    assert {m.question for m in catalog.measures} >= {"empty-text", "longest-text", "nul-character"}

    def lost(self: SqliteSession, query: str) -> list[tuple[object, ...]]:
        if "char(0)" in query:
            raise ConnectionLostError("the connection was lost")
        return original(self, query)

    monkeypatch.setattr(SqliteSession, "ask", lost)
    catalog = steps.survey_live(f"sqlite:///{path}", profile_seconds=30)
    assert "table.crew" in catalog.objects
    assert [s.detail for s in catalog.sightings if s.construct == "data.unfinished"] == ["the connection was lost"]
