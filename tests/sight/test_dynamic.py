"""SQL built at run time: constant parts are followed and read, the rest is named with its reason."""

import pytest

from hullsound.catalog.catalog import Catalog
from hullsound.steps import survey_texts
from hullsound.survey.files import ScriptFile


def surveyed(engine: str, text: str) -> Catalog:
    table = {"oracle": "CREATE TABLE pier (a NUMBER);\n", "sqlserver": "CREATE TABLE pier (a int)\nGO\n",
             "postgresql": "CREATE TABLE pier (a int);\n", "mysql": "CREATE TABLE pier (a int);\nDELIMITER $$\n",
             "db2": "--#SET TERMINATOR @\nCREATE TABLE pier (a int)@\n"}[engine]  # fmt: skip
    return survey_texts([ScriptFile("a.sql", table + text, "")], engine)


READ = [
    ("oracle", "CREATE PROCEDURE p IS BEGIN EXECUTE IMMEDIATE 'DELETE FROM pier WHERE a = :1' USING 5; END;\n/\n"),
    (
        "oracle",
        "CREATE PROCEDURE p IS v VARCHAR2(99) := 'DELETE'; BEGIN v := v || ' FROM pier'; EXECUTE IMMEDIATE v; END;\n/\n",
    ),
    ("oracle", "CREATE PROCEDURE p IS c SYS_REFCURSOR; BEGIN OPEN c FOR 'SELECT a FROM ' || 'pier'; END;\n/\n"),
    (
        "sqlserver",
        "CREATE PROC p AS DECLARE @s nvarchar(99) = N'SELECT a'\nSET @s += N' FROM pier'\nEXEC sp_executesql @s\nGO\n",
    ),
    ("sqlserver", "CREATE PROC p AS EXEC ('SELECT a FROM pier')\nGO\n"),
    (
        "mysql",
        "CREATE PROCEDURE p() BEGIN SET @q = CONCAT('SELECT a ', 'FROM pier'); PREPARE s FROM @q; EXECUTE s; END$$\n",
    ),
    (
        "postgresql",
        "CREATE FUNCTION f() RETURNS void LANGUAGE plpgsql AS $$ BEGIN EXECUTE 'DELETE FROM ' || 'pier'; END $$;\n",
    ),
    (
        "db2",
        "CREATE PROCEDURE p() BEGIN DECLARE s VARCHAR(99); SET s = 'DELETE FROM ' CONCAT 'pier'; EXECUTE IMMEDIATE s; END@\n",
    ),
]


@pytest.mark.parametrize(("engine", "text"), READ)
def test_constant_text_is_followed_and_read(engine: str, text: str) -> None:
    catalog = surveyed(engine, text)
    assert not catalog.unread
    assert not [s for s in catalog.sightings if s.construct == "survey.dynamic-unread"]
    assert any(
        r.kind == "table" and r.target.endswith("table.pier") for r in catalog.references if ".pier" not in r.object
    )


UNREAD = [
    (
        "oracle",
        "CREATE PROCEDURE p(t VARCHAR2) IS BEGIN EXECUTE IMMEDIATE 'DELETE FROM ' || t; END;\n/\n",
        "value of t",
    ),
    (
        "sqlserver",
        "CREATE PROC p @t sysname AS EXEC ('DELETE ' + @t + ' WHERE a IN (SELECT a FROM pier)')\nGO\n",
        "value of @t",
    ),
    (
        "postgresql",
        "CREATE FUNCTION f(x text) RETURNS void LANGUAGE plpgsql AS $$ BEGIN EXECUTE x; END $$;\n",
        "value of x",
    ),
]


@pytest.mark.parametrize(("engine", "text", "reason"), UNREAD)
def test_what_only_the_running_code_knows_is_said_with_its_reason(engine: str, text: str, reason: str) -> None:
    (sighting,) = (
        s
        for s in surveyed(engine, text).sightings
        if s.construct in ("survey.dynamic-unread", "survey.dynamic-partly-read")
    )
    assert reason in sighting.detail
    assert sighting.line > 1


def test_known_parts_around_an_unknown_one_are_still_judged() -> None:
    catalog = surveyed("sqlserver", UNREAD[1][1])
    assert any(r.target.endswith("table.pier") for r in catalog.references)


def test_constructs_in_built_text_are_seen_at_the_place_that_runs_it() -> None:
    catalog = surveyed(
        "oracle", "CREATE PROCEDURE p IS BEGIN\n  EXECUTE IMMEDIATE 'SELECT NVL(a, 0) FROM pier';\nEND;\n/\n"
    )
    (sighting,) = (s for s in catalog.sightings if s.construct == "oracle.nvl")
    assert (sighting.line, sighting.detail) == (3, "in SQL built at run time")
