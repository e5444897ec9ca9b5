"""What is said once for the database, and what only sets the scene for a script."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile


def told(text: str, engine: str, target: str = "postgresql:18") -> list[tuple[str, str, str]]:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), target)
    return [
        (f.object, f.construct, f.severity.value)
        for f in case.document.findings
        if not f.construct.startswith("improve.")
    ]


def test_a_clock_in_defaults_is_said_once() -> None:
    tables = "".join(f"CREATE TABLE t{n} (id int PRIMARY KEY, d datetime DEFAULT GETDATE())\nGO\n" for n in range(3))
    found = told(tables, "sqlserver")
    clocks = [(item, severity) for item, construct, severity in found if construct == "sqlserver.getdate"]
    assert clocks == [("database", "warning"), *((f"dbo.table.t{n}", "note") for n in range(3))]


def test_the_message_counts_the_places() -> None:
    tables = "".join(f"CREATE TABLE t{n} (id int PRIMARY KEY, d datetime DEFAULT GETDATE())\nGO\n" for n in range(3))
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", tables, "")], "sqlserver"), "postgresql:18")
    (finding,) = [f for f in case.document.findings if f.construct == "sqlserver.getdate" and f.object == "database"]
    assert "3 places" in finding.message
    assert {o.outcome for o in case.document.objects if o.type == "table"} == {"drafted"}


def test_a_clock_in_code_stays_a_warning_of_the_code() -> None:
    code = "CREATE PROCEDURE p AS BEGIN DECLARE @d datetime = GETDATE(); PRINT @d; END\nGO\n"
    assert ("dbo.procedure.p", "sqlserver.getdate", "warning") in told(code, "sqlserver")


@pytest.mark.parametrize(
    ("engine", "statement"),
    [
        ("mysql", "SET NAMES utf8mb4"),
        ("mysql", "LOCK TABLES t WRITE"),
        ("mysql", "SET FOREIGN_KEY_CHECKS = 0"),
        ("sqlserver", "USE harbour"),
        ("oracle", "ALTER SESSION SET NLS_DATE_FORMAT = 'YYYY'"),
        ("sqlite", "PRAGMA foreign_keys = ON"),
    ],
)
def test_plumbing_of_a_script_is_a_note(engine: str, statement: str) -> None:
    end = "\nGO\n" if engine == "sqlserver" else ";\n"
    found = told(f"{statement}{end}", engine)
    assert {severity for _, _, severity in found} == {"note"}


def test_plumbing_within_code_is_no_plumbing() -> None:
    code = "DELIMITER //\nCREATE PROCEDURE p() BEGIN SET SESSION sort_buffer_size = 1; SELECT 1; END//\n"
    assert ("procedure.p", "mysql.session-setting", "warning") in told(code, "mysql")
