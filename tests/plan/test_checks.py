"""Checks: forms that both sides can write, queries that every engine reads, and pairs of real engines that agree."""

import shutil
import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import ObjectType
from hullsound.demo import SYSTEMS, scripts_of
from hullsound.draft.files import prepare_text
from hullsound.draft.write import draft_all
from hullsound.errors import UsageError
from hullsound.knowledge.targets import parse_target
from hullsound.knowledge.types import LogicalType
from hullsound.plan.checks.forms import form_of
from hullsound.plan.checks.model import CheckSet, Level
from hullsound.plan.checks.queries import make_checks
from hullsound.plan.checks.run import CheckRun, Verdict, is_same, run_checks
from hullsound.project import Project
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.survey.files import ScriptFile
from hullsound.survey.live.model import parse_address
from hullsound.survey.live.open import open_session
from tests.servers import postgresql_with

TARGETS = ("postgresql:18", "mariadb:10.11", "oracle:23", "sqlserver:2022")
CHECKED = [engine for engine in SYSTEMS if engine not in ("teradata", "ase")]


def checks_of(engine: str, target: str) -> CheckSet:
    catalog = steps.survey_scripts(Path(scripts_of(engine)), engine, name="demo")
    return make_checks(catalog, parse_target(target), Project())


@pytest.mark.parametrize("engine", CHECKED)
@pytest.mark.parametrize("target", TARGETS)
def test_every_query_is_read_in_full_by_the_reader_of_its_engine(engine: str, target: str) -> None:
    checks = checks_of(engine, target)
    sides = ((engine, "source"), (target.partition(":")[0], "target"))
    for side, name in sides:
        dialect = load_dialect(side)
        for each in [*checks.checks, *checks.samples]:
            query = getattr(each, name)
            reads = read_script(f"{query};\n", dialect).statements() if query else []
            assert not [span for read in reads for span in read.unread()], f"{side}: {query}"
            assert query.count("'") % 2 == 0


@pytest.mark.parametrize("engine", CHECKED)
def test_every_table_has_checks_of_each_level(engine: str) -> None:
    catalog = steps.survey_scripts(Path(scripts_of(engine)), engine, name="demo")
    checks = make_checks(catalog, parse_target("postgresql:18"), Project())
    tables = {
        item.id
        for item in catalog.objects.values()
        if item.type is ObjectType.TABLE and item.columns and not item.details.get("temporary")
        and "external-table" not in item.details.get("clauses", "")
    }  # fmt: skip
    for level in Level:
        told = {each.table for each in checks.checks if each.level is level} | {
            e.table for e in checks.left_out if not e.column
        }
        assert told == tables
    columns = {
        (each.table, field.column) for each in checks.checks if each.level is Level.STANDARD for field in each.fields
    }
    for table in tables:
        assert {(table, column.name.lower()) for column in catalog.objects[table].columns} <= columns


def test_engines_without_checks_are_named() -> None:
    catalog = steps.survey_scripts(Path(scripts_of("teradata")), "teradata")
    with pytest.raises(UsageError, match="not written for teradata"):
        make_checks(catalog, parse_target("postgresql:18"), Project())


@pytest.mark.parametrize(
    ("source", "target", "name", "digits", "remark"),
    [
        (LogicalType("integer", bits=32), LogicalType("integer", bits=64), "integer", 0, ""),
        (LogicalType("decimal", precision=9, scale=2), LogicalType("decimal", precision=9, scale=2), "decimal", 2, ""),
        (
            LogicalType("decimal", precision=9, scale=4),
            LogicalType("decimal", precision=9, scale=2),
            "decimal",
            2,
            "2 of 4",
        ),
        (LogicalType("integer", bits=8), LogicalType("boolean"), "boolean", 0, ""),
        (LogicalType("float", bits=64), LogicalType("float", bits=64), "decimal", 6, "6 decimals"),
        (LogicalType("fixed-text", length=4), LogicalType("text", length=4), "fixed", 0, "trailing spaces"),
        (LogicalType("date-time"), LogicalType("timestamp", precision=6), "timestamp", 0, ""),
        (LogicalType("timestamp", precision=6), LogicalType("timestamp", precision=3), "timestamp", 3, "3 digits"),
        (LogicalType("date-time"), LogicalType("date"), "date", 0, "only the days"),
        (LogicalType("timestamp", precision=6), LogicalType("timestamp-local", precision=6), "timestamp", 6, "UTC"),
        (LogicalType("uuid"), LogicalType("fixed-text", length=36), "uuid", 0, ""),
        (LogicalType("json"), LogicalType("json"), "none", 0, "json"),
        (LogicalType("text"), LogicalType("integer", bits=32), "none", 0, "no common text"),
    ],
)
def test_forms(source: LogicalType, target: LogicalType, name: str, digits: int, remark: str) -> None:
    form = form_of(source, target, 6)
    assert (form.name, form.digits) == (name, digits)
    assert remark in form.remark
    assert bool(remark) == bool(form.remark)


@given(st.decimals(allow_nan=False, allow_infinity=False, places=3))
def test_numbers_are_the_same_however_they_are_written(value: Any) -> None:
    assert is_same(f"{value:f}", f"{value:f}000")
    assert not is_same(f"{value:f}", f"{value + 1:f}")
    assert not is_same(None, str(value))
    assert is_same(None, None)


ROWS = """
(1, 0, 12.50, -0.001, 'plain', 'ab', '2024-02-29', '2024-02-29 23:59:59.123456', NULL),
(2, 1, -12.50, 1e10, 'Grøn & Co ''x'' | ~', 'a ', '1970-01-01', '1999-12-31 00:00:00', 'x'),
(3, NULL, 0, NULL, '', NULL, NULL, NULL, '~'),
(-2147483648, 1, 99999.99, 0.1, '3:abc', 'q', '2999-12-31', '1970-01-01 00:00:00.5', '')
"""
TABLE = """CREATE TABLE {name} (n integer NOT NULL PRIMARY KEY, flag {flag}, price decimal(9,2), ratio double precision,
  words varchar(40), code char(2), day date, at {stamp}, {odd} varchar(9))"""


@contextmanager
def on(engine: str, server_url: str, folder: Path) -> "Iterator[tuple[str, Any, str]]":
    """Yield an address, a function that runs a statement there, and the schema of a new database."""
    if engine == "sqlite":
        path = folder / "source.db"
        connection = sqlite3.connect(path)
        yield f"sqlite:///{path}", lambda text: (connection.execute(text), connection.commit()), ""
        connection.close()
    elif engine == "postgresql":
        with postgresql_with(server_url) as (url, opened):
            yield url, lambda text: (opened.execute(text.encode()), opened.commit()), "public"
    else:
        if shutil.which("mariadbd") is None:
            pytest.skip("no MariaDB is installed")
        from hullsound.trial.mariadb import private_mariadb, root_connection

        with private_mariadb() as socket, root_connection(socket) as maria, maria.cursor() as cursor:
            cursor.execute("CREATE DATABASE IF NOT EXISTS port CHARACTER SET utf8mb4")
            cursor.execute("USE port")
            yield f"mariadb://root@localhost/port?unix_socket={socket}", cursor.execute, "port"


def compared(catalog: Catalog, target: str, source_url: str, target_url: str) -> CheckRun:
    spelled = None
    with open_session(parse_address(source_url)) as one, open_session(parse_address(target_url)) as other:
        from hullsound.steps.checks import _spelled

        spelled = _spelled(catalog, one)
        return run_checks(make_checks(catalog, parse_target(target), Project(), (), spelled), one, other, Level.FULL)


@pytest.mark.server
@pytest.mark.parametrize(
    ("engine", "target"),
    [
        ("sqlite", "postgresql:18"), ("postgresql", "mariadb:10.11"), ("mariadb", "postgresql:18"), ("postgresql", "postgresql:18"),
        ("mariadb", "mariadb:10.11"),
    ],
)  # fmt: skip
def test_pairs_of_engines_agree_on_the_same_rows_and_tell_others(
    engine: str, target: str, server_url: str, tmp_path: Path
) -> None:
    flag = "boolean" if engine != "mariadb" else "tinyint(1)"
    stamp = "timestamp(6)" if engine != "mariadb" else "datetime(6)"
    odd = '"odd ""name; x"' if engine != "mariadb" else '`odd "name; x`'
    rows = ROWS if engine != "postgresql" else ROWS.replace(", 0, 12", ", false, 12").replace(", 1, ", ", true, ")
    goal = target.partition(":")[0]
    with (
        on(engine, server_url, tmp_path) as (url, run, schema),
        on(goal, server_url, tmp_path) as (goal_url, run_goal, _),
    ):
        name = f"{schema}.berth" if schema else "berth"
        statement = TABLE.format(name=name, flag=flag, stamp=stamp, odd=odd)
        run(statement)
        run(f"INSERT INTO {name} VALUES {rows}")
        catalog = steps.survey_texts([ScriptFile("t.sql", f"{statement};\n", "")], engine, name="port")
        case = steps.assess_catalog(catalog, target)
        drafts = draft_all(catalog, case.assessment)
        (table,) = [draft for draft in drafts.drafts if draft.object.type is ObjectType.TABLE]
        assert table.is_finished, table.skipped
        for text in prepare_text(drafts, goal).split(";\n") if goal != engine else ():
            if text.strip():
                run_goal(text)
        if goal == "postgresql" and not schema:
            run_goal("SET search_path = public")
        run_goal(table.text)
        is_there = "boolean" in table.text
        values = ROWS.replace(", 0, 12", ", false, 12").replace(", 1, ", ", true, ") if is_there else ROWS
        place = table.text.split("(", 1)[0].split("TABLE")[1].strip()
        run_goal(f"INSERT INTO {place} VALUES {values}")
        if "IDENTITY" in table.text:
            run_goal(f"SELECT setval(pg_get_serial_sequence('{place}', 'n'), 100)")
        same = compared(catalog, target, url, goal_url)
        assert [each for each in same.results if each.verdict is not Verdict.EQUAL] == []
        assert {each.level for each in same.results} == {"quick", "standard", "full", "sample"}
        run_goal(f"UPDATE {place} SET words = 'other' WHERE n = 3")
        other = compared(catalog, target, url, goal_url)
        assert {each.level for each in other.results if each.verdict is Verdict.DIFFERENT} == {
            "standard",
            "full",
            "sample",
        }


@pytest.mark.server
def test_a_side_that_refuses_is_a_failure_and_never_equal(server_url: str) -> None:
    catalog = steps.survey_texts(
        [ScriptFile("t.sql", "CREATE TABLE nowhere (n integer PRIMARY KEY);", "")], "postgresql"
    )
    checks = make_checks(catalog, parse_target("postgresql:18"), Project())
    with (
        postgresql_with(server_url) as (url, _),
        open_session(parse_address(url)) as one,
        open_session(parse_address(url)) as other,
    ):
        run = run_checks(checks, one, other, Level.FULL)
    assert {each.verdict for each in run.results} == {Verdict.FAILED}
    assert not run.is_equal
    assert all("the target says" in each.said for each in run.results)
