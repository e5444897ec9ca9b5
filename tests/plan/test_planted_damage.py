"""Checks find what a move has lost: 12 kinds of planted damage on a real pair of engines, and nothing on a faithful copy."""

import json
import shutil
from collections.abc import Iterator
from pathlib import Path
from xml.etree import ElementTree

import pytest
from typer.testing import CliRunner

from hullsound.cli.app import app
from hullsound.knowledge.targets import parse_target
from hullsound.plan.checks.model import Level
from hullsound.plan.checks.queries import make_checks
from hullsound.plan.checks.run import CheckRun, Verdict, run_checks
from hullsound.project import Project
from hullsound.survey.live.model import parse_address
from hullsound.survey.live.open import open_session
from tests.plan.moved import Moved, moved_yard

pytestmark = pytest.mark.server

DAMAGE = {
    "lost row": ("quick", "customer", "DELETE FROM customer WHERE customer_id = 7"),
    "doubled row": ("quick", "tide_note", "INSERT INTO tide_note SELECT * FROM tide_note WHERE tide = 3"),
    "cut text": ("standard", "customer", "UPDATE customer SET name = left(name, 5) WHERE customer_id = 9"),
    "shifted time zone": ("standard", "customer", "UPDATE customer SET created_at = created_at - interval '2 hours'"),
    "rounded number": ("standard", "boat", "UPDATE boat SET length_m = round(length_m) WHERE length_m <> round(length_m)"),
    "swapped columns": ("standard", "customer", "UPDATE customer SET town = phone, phone = town"),
    "wrong encoding": ("standard", "customer", "UPDATE customer SET name = 'Gr\u00c3\u00b8n & Co' WHERE name = 'Grøn & Co'"),
    "blank trimmed": ("standard", "customer", "UPDATE customer SET name = rtrim(name) WHERE name = 'Hale '"),
    "NULL for empty": ("standard", "customer", "UPDATE customer SET remark = NULL WHERE remark = ''"),
    "lost negative sign": ("standard", "tide_note", "UPDATE tide_note SET height = abs(height)"),
    "duplicated key in a table without key": ("full", "tide_note", "UPDATE tide_note SET word = CASE tide WHEN 1 THEN 'high'"
                                              " ELSE 'low' END WHERE tide < 3"),
    "stale sequence": ("quick", "customer", "SELECT setval(pg_get_serial_sequence('yard.customer', 'customer_id'), 5)"),
}  # fmt: skip
"""Kind of damage: the level that must find it first, the table, and the statement on the target."""


@pytest.fixture(scope="module")
def moved(tmp_path_factory: pytest.TempPathFactory, server_url: str) -> Iterator[Moved]:
    if shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    with moved_yard(tmp_path_factory.mktemp("moved"), server_url) as both:
        yield both


def compared(moved: Moved, level: Level, *, samples: bool = False, kept: Path | None = None) -> CheckRun:
    checks = make_checks(moved.catalog, parse_target("postgresql:18"), Project())
    with open_session(parse_address(moved.source_url)) as one, open_session(parse_address(moved.target_url)) as other:
        return run_checks(checks, one, other, level, samples=samples, kept=kept, is_resumed=kept is not None)


def wrong(run: CheckRun) -> list[tuple[str, str]]:
    return [(each.level, each.table) for each in run.results if each.verdict is not Verdict.EQUAL]


def test_a_faithful_copy_has_no_difference(moved: Moved) -> None:
    run = compared(moved, Level.FULL, samples=True)
    assert wrong(run) == []
    assert {each.level for each in run.results} == {"quick", "standard", "full", "sample"}
    tables = {item.id for item in moved.catalog.objects.values() if item.type.value == "table"}
    assert {each.table for each in run.results if each.level == "full"} == tables


@pytest.mark.parametrize("kind", DAMAGE)
def test_damage_is_found_at_its_level(moved: Moved, kind: str) -> None:
    level, table, statement = DAMAGE[kind]
    target = moved.target
    target.execute(b"SET search_path = yard")
    # What is compared must be committed, so that the session of the checks sees it; it is put back at the end.
    target.execute(f"CREATE TABLE kept AS TABLE {table}".encode())
    target.execute(statement.encode())
    target.commit()
    try:
        order = list(Level)
        before = order.index(Level(level))
        if before:
            assert wrong(compared(moved, order[before - 1])) == [], "found at a level before the one stated"
        found = wrong(compared(moved, Level(level)))
        assert (level, f"yard.table.{table}") in found
        assert {each for _, each in found} == {f"yard.table.{table}"}
    finally:
        target.execute(f"TRUNCATE {table}".encode())
        target.execute(f"INSERT INTO {table} OVERRIDING SYSTEM VALUE SELECT * FROM kept".encode())
        target.execute(b"DROP TABLE kept")
        target.execute(b"SELECT setval(pg_get_serial_sequence('yard.customer', 'customer_id'), 100000)")
        target.commit()


def test_a_sample_names_the_row_that_changed(moved: Moved) -> None:
    target = moved.target
    number, name = target.execute(b"SELECT boat_id, boat_name FROM yard.boat ORDER BY 1 LIMIT 1").fetchall()[0]
    rename = "UPDATE yard.boat SET boat_name = %s WHERE boat_id = %s"
    target.execute(rename, ["Changed", number])
    target.commit()
    try:
        run = compared(moved, Level.QUICK, samples=True)
        told = {each for result in run.results if result.level == "sample" for each in result.differences}
        assert told
        assert {(each.measure, each.column) for each in told} == {("row", str(number))}
        assert {each.target for each in told} <= {"changed", "missing"}, "it may have left a sample of its kind"
    finally:
        target.execute(rename, [name, number])
        target.commit()


def test_a_run_goes_on_where_it_was_stopped(moved: Moved, tmp_path: Path) -> None:
    kept = tmp_path / "results.jsonl"
    first = compared(moved, Level.QUICK, kept=kept)
    lines = kept.read_text().splitlines()
    kept.write_text("\n".join([*lines[:3], lines[3][:20]]))
    again = compared(moved, Level.QUICK, kept=kept)
    assert [each.verdict for each in again.results] == [each.verdict for each in first.results]
    assert [each.seconds for each in again.results[:3]] == [each.seconds for each in first.results[:3]]


def test_the_command_runs_both_sides_and_tells_by_its_status(moved: Moved, tmp_path: Path) -> None:
    arguments = ["checks", str(moved.hull), "--to", "postgresql:18", "-o", str(tmp_path), "--run", "--level", "full",
                 "--source", moved.source_url, "--target", moved.target_url]  # fmt: skip
    fine = CliRunner().invoke(app, arguments)
    assert fine.exit_code == 0, fine.output
    assert "0 different, 0 failed" in fine.stdout
    moved.target.execute(b"DELETE FROM yard.tide_note WHERE tide = 3")
    moved.target.commit()
    try:
        bad = CliRunner().invoke(app, [*arguments, "--format", "json"])
        assert bad.exit_code == 1
        differences = [each for result in json.loads(bad.stdout)["results"] for each in result["differences"]]
        assert {"measure": "rows", "column": "", "source": "5", "target": "4"} in differences
        suite = ElementTree.parse(tmp_path / "results.xml").getroot()
        assert int(suite.attrib["failures"]) == len([1 for case in suite if case.find("failure") is not None]) > 0
        half = CliRunner().invoke(app, [*arguments[:6], "--run", "--source", moved.source_url])
        assert half.exit_code != 0
        other = CliRunner().invoke(app, [*arguments[:-1], moved.source_url])
        assert other.exit_code != 0
    finally:
        moved.target.execute(b"INSERT INTO yard.tide_note VALUES (3, NULL, -0.75)")
        moved.target.commit()
