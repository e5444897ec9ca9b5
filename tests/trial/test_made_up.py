"""Rows and cases that are made up: sound rows for the source, the same on every run, and evidence in every report."""

import json
import shutil
from pathlib import Path
from typing import Any

import pytest
from typer.testing import CliRunner

from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.cli.app import app
from hullsound.demo import scripts_of
from hullsound.survey.files import ScriptFile
from hullsound.trial.behaviour import BehaviourCase, CaseFile, Observed, Row, Rows, find_difference, plain
from hullsound.trial.made_up import made_value, make_cases, settle_rows
from hullsound.trial.sides import SqliteSide

QUAY = """
CREATE TABLE zone (code VARCHAR(4) PRIMARY KEY, title TEXT NOT NULL, side TEXT CHECK (side IN ('port', 'starboard')));
CREATE TABLE berth (
  berth_id INTEGER PRIMARY KEY, zone VARCHAR(4) NOT NULL REFERENCES zone (code), metres NUMERIC NOT NULL CHECK (metres >= 5),
  taken INTEGER DEFAULT 0, noted TEXT
);
CREATE TABLE log (what TEXT, berth_id INTEGER);
CREATE VIEW v_long AS SELECT zone, COUNT(*) AS berths, MAX(metres) AS longest FROM berth GROUP BY zone;
CREATE TRIGGER berth_log AFTER UPDATE ON berth BEGIN INSERT INTO log VALUES ('moved', NEW.berth_id); END;
"""


def quay(text: str = QUAY) -> Catalog:
    return steps.survey_texts([ScriptFile("quay.sql", text, "")], "sqlite")


def test_rows_keep_to_keys_references_and_checks() -> None:
    catalog = quay()
    cases = make_cases(catalog, SqliteSide(catalog))
    zones, berths = cases.rows["zone"], cases.rows["berth"]
    assert len(zones) == len(berths) == 4
    assert len({zone["code"] for zone in zones}) == 4
    assert {zone["side"] for zone in zones} <= {"port", "starboard", None}
    assert {berth["zone"] for berth in berths} <= {zone["code"] for zone in zones}
    assert all(float(berth["metres"]) >= 5 for berth in berths)


def test_cases_are_the_same_on_every_run() -> None:
    catalog = quay()
    assert make_cases(catalog, SqliteSide(catalog)) == make_cases(catalog, SqliteSide(catalog))


def test_views_and_triggers_get_cases_with_what_they_write_watched() -> None:
    catalog = quay()
    cases = {case.object: case for case in make_cases(catalog, SqliteSide(catalog)).case}
    assert cases["view.v_long"].query == 'SELECT * FROM "v_long"'
    assert cases["trigger.berth_log"].query.startswith('UPDATE "berth" SET ')
    assert set(cases["trigger.berth_log"].watch) == {"berth", "log"}


def test_what_is_not_written_gets_no_case() -> None:
    catalog = quay()
    cases = make_cases(catalog, SqliteSide(catalog), {"view.v_long"})
    assert [case.object for case in cases.case] == ["trigger.berth_log"]


@pytest.mark.parametrize(
    ("kind", "value"),
    [("DECIMAL(6,2)", ("number", "2.5")), ("DECIMAL(2,2)", ("number", "0.1")), ("CHAR(3)", ("text", "amb")),
     ("ENUM('a','b')", ("text", "a")), ("DATETIME", ("day", "2024-02-29 08:30:00")), ("POINT", ("", None)),
     ("VARCHAR(9) CHARACTER SET latin1", ("text", "amber")), ("TINYINT(1)", ("number", 0))],
)  # fmt: skip
def test_values_fit_their_types(kind: str, value: tuple[str, Any]) -> None:
    assert made_value("mysql", kind, 0, None) == value


class Refuser:
    """A target that takes no row of one table."""

    def observe(self, case: BehaviourCase, item: object, rows: Rows) -> Observed:
        raise NotImplementedError

    def refusal(self, table: str, row: Row) -> str:
        return "too long" if table == "zone" and row["code"] == "b" else ""


def test_rows_that_the_target_refuses_are_told_and_left_out() -> None:
    made = CaseFile((), {"zone": [{"code": "a"}, {"code": "b"}], "log": [{"what": "x"}]})
    cases, told = settle_rows(quay(), made, Refuser())
    assert cases.rows == {"zone": [{"code": "a"}], "log": [{"what": "x"}]}
    assert [(each.object, each.is_equal) for each in told] == [("table.zone", False), ("table.log", True)]
    assert told[0].difference.endswith("too long")


def test_what_engines_write_otherwise_is_compared_by_what_it_means() -> None:
    assert plain('{"b": 1, "a": [2, 1]}') == plain({"a": [2, 1], "b": 1.0})
    assert plain("[1, 2]") != plain("[2, 1]")
    assert plain("0000-00-00") is None
    assert plain("{not json}") == "{not json}"
    one = Observed(tables={"log": [(1, "a"), (2, "b")]})
    other = Observed(tables={"log": [(7, "b"), (8, "a")]})
    assert find_difference(one, other)
    assert not find_difference(one, other, {"log": {0}})


@pytest.mark.server
def test_evidence_reaches_show_assessment_and_reports(tmp_path: Path, server_url: str) -> None:
    """The whole way through the built command."""
    (tmp_path / "quay.sql").write_text(QUAY, encoding="utf-8")
    hull = str(tmp_path / "quay.hull")
    run = CliRunner().invoke
    assert run(app, ["survey", str(tmp_path), "--from", "sqlite", "-o", hull, "-q"]).exit_code == 0
    said = run(app, ["trial", hull, "--to", "postgresql:18", "--make-cases", "--on", server_url, "--format", "json"])
    results = {result["object"]: result for result in json.loads(said.stdout)}
    assert results["view.v_long"]["is_equal"]
    assert results["trigger.berth_log"]["is_equal"]
    shown = run(app, ["show", hull, "view.v_long", "--to", "postgresql:18"]).stdout
    assert "1 of 1 case behaves alike" in shown
    document = json.loads(run(app, ["assess", hull, "--to", "postgresql:18", "--format", "json"]).stdout)
    assert document["trial"]["cases"] == len(results)
    assert document["trial"]["alike"] == sum(result["is_equal"] for result in results.values())
    entries = {entry["id"]: entry for entry in document["objects"]}
    assert (entries["view.v_long"]["cases"], entries["view.v_long"]["alike"]) == (1, 1)
    assert said.exit_code == 0
    out = tmp_path / "out"
    assert run(app, ["report", hull, "--to", "postgresql:18", "-o", str(out)]).exit_code == 0
    assert "cases alike on both engines" in (out / "report.md").read_text(encoding="utf-8")


@pytest.mark.server
@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
def test_mysql_routines_are_called_with_values_of_the_columns_they_mean(tmp_path: Path, server_url: str) -> None:
    (tmp_path / "a.sql").write_text(
        "CREATE TABLE fee (fee_id INT PRIMARY KEY AUTO_INCREMENT, amount DECIMAL(8,2) NOT NULL, paid BIT(1) NOT NULL,\n"
        "  tag CHAR(4));\n"
        "CREATE TABLE trace (said JSON, who VARCHAR(60), at DATETIME);\nDELIMITER //\n"
        "CREATE FUNCTION fee_of(p_fee_id INT) RETURNS DECIMAL(8,2) READS SQL DATA\n"
        "  RETURN (SELECT amount * 1.155 FROM fee WHERE fee_id = p_fee_id)//\n"
        "CREATE PROCEDURE pay(IN p_fee_id INT, INOUT p_total DECIMAL(8,2))\nBEGIN\n  SET p_total = p_total * 1.155;\n"
        "  UPDATE fee SET paid = 1 WHERE fee_id = p_fee_id;\n"
        "  INSERT INTO trace SELECT JSON_OBJECT('tag', tag, 'amount', amount), CURRENT_USER(), NOW() FROM fee\n"
        "  WHERE fee_id = p_fee_id;\n"
        "  CREATE TEMPORARY TABLE open_fees (fee_id INT);\n  INSERT INTO open_fees SELECT fee_id FROM fee WHERE paid = b'0';\n"
        "  SELECT fee_id FROM open_fees ORDER BY fee_id;\n  DROP TEMPORARY TABLE open_fees;\nEND//\nDELIMITER ;\n",
        encoding="utf-8",
    )
    case = steps.assess_catalog(steps.survey_scripts(tmp_path, "mysql", "8.0"), "postgresql:18")
    results = steps.compare_behaviour(case, steps.draft_case(case), url=server_url)
    assert not [(each.name, each.difference) for each in results if not each.is_equal]
    names = [each.name for each in results]
    assert "fee_of(1)" in names
    assert "fee_of(9999)" in names
    assert any(name.startswith("pay(") and not name.startswith("pay(NULL") for name in names)
    assert not any(each.both_failed for each in results if "NULL" not in each.name)


@pytest.mark.server
@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
@pytest.mark.parametrize(("file", "least"), [("cranes.sql", 50), ("orders.sql", 10), ("", 110)])
def test_offices_and_the_demo_behave_alike(file: str, least: int, server_url: str) -> None:
    path = Path(__file__).parents[1] / "data" / "behaviour" / file if file else scripts_of("mysql")
    case = steps.assess_catalog(steps.survey_scripts(path, "mysql", "8.0"), "postgresql:18")
    results = steps.compare_behaviour(case, steps.draft_case(case), url=server_url)
    assert not [(each.name, each.difference) for each in results if not each.is_equal]
    assert len(results) >= least


@pytest.mark.server
@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
def test_a_database_that_is_there_is_never_touched() -> None:
    from hullsound.errors import TargetError
    from hullsound.trial.mariadb import connected
    from hullsound.trial.sides import MariadbSide

    text = "CREATE DATABASE yard; USE yard; CREATE TABLE boat (boat_id INT PRIMARY KEY);\n"
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "mariadb")
    with connected("") as connection, connection.cursor() as cursor:
        side = MariadbSide(connection, catalog)
        assert side.takes("boat", {"boat_id": 1})
        side.close()
        cursor.execute("SHOW DATABASES LIKE 'yard'")
        assert not cursor.fetchall()
        for statement in (
            "CREATE DATABASE yard",
            "CREATE TABLE yard.boat (boat_id INT)",
            "INSERT INTO yard.boat VALUES (7)",
        ):
            cursor.execute(statement)
        with pytest.raises(TargetError, match="a database yard already"):
            MariadbSide(connection, catalog)
        cursor.execute("SELECT boat_id FROM yard.boat")
        assert cursor.fetchall() == ((7,),)
