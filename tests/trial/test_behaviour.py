"""What drafts do once they run: a small shop's scripts, loaded into a real PostgreSQL and put to use."""

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from hullsound import steps
from hullsound.draft.files import prepare_text
from hullsound.draft.model import DraftSet
from hullsound.draft.write import draft_all
from hullsound.trial.run import run_trial

pytestmark = pytest.mark.server

SHOPS = Path(__file__).parents[1] / "data" / "shops"
RUN_BY_HAND = {"query", "change", "anonymous block", "data"}


@pytest.fixture(scope="module")
def drafts(tmp_path_factory: pytest.TempPathFactory) -> DraftSet:
    return drafts_of("staff.sql", tmp_path_factory.mktemp("staff"))


@pytest.fixture(scope="module")
def staff(drafts: DraftSet, server_url: str) -> Iterator[Any]:
    """A scratch database with every draft of the staff scripts that the server takes, and a few rows."""
    import psycopg

    from hullsound.trial.postgresql import scratch_database

    with scratch_database(server_url) as connection:
        connection.execute(prepare_text(drafts, "postgresql").encode() or b"SELECT 1")
        for draft in drafts.drafts:
            if draft.text and draft.object.type.value not in RUN_BY_HAND:
                try:
                    with connection.transaction():
                        connection.execute(draft.text.encode())
                except psycopg.Error:
                    assert not draft.is_promised, draft.object.id
        connection.execute("INSERT INTO dept VALUES (10, 'Ops', 'X', 100), (20, 'Crew', 'Y', NULL)")
        connection.execute("INSERT INTO emp (name, dept_id, sal) VALUES ('ann', 10, 500), (' bob', 20, 5000)")
        yield connection


def drafts_of(name: str, folder: Path) -> DraftSet:
    for script in (name, "helpers.sql"):
        (folder / script).write_text((SHOPS / script).read_text(encoding="utf-8"), encoding="utf-8")
    case = steps.assess_catalog(steps.survey_scripts(folder, "oracle", "19"), "postgresql:18")
    return draft_all(case.catalog, case.assessment)


def rows(connection: Any, sql: str) -> list[tuple[Any, ...]]:
    with connection.transaction():
        return list(connection.execute(sql).fetchall())


@pytest.mark.parametrize(
    ("name", "unread", "blocked"),
    [("export.sql", 0, 0), ("shop.sql", 0, 0), ("staff.sql", 0, 0), ("odd.sql", 1, 1)],
)
def test_scripts_written_in_many_hands_keep_their_promises(
    name: str, unread: int, blocked: int, tmp_path: Path, server_url: str
) -> None:
    for script in (name, "helpers.sql"):
        (tmp_path / script).write_text((SHOPS / script).read_text(encoding="utf-8"), encoding="utf-8")
    case = steps.assess_catalog(steps.survey_scripts(tmp_path, "oracle", "19"), "postgresql:18")
    drafts = draft_all(case.catalog, case.assessment)
    trial = run_trial(case.catalog, drafts, "postgresql:18", server_url)
    assert not [(r.id, r.line, r.message) for r in trial.refused()]
    assert not drafts.skipped()
    assert len(case.catalog.unread) == unread
    assert sum(each.outcome.value == "blocked" for each in case.assessment.objects) == blocked


def test_a_trigger_fills_changes_and_stamps_the_row(staff: Any) -> None:
    found = rows(staff, "SELECT id, name, email, active, ts IS NOT NULL FROM emp WHERE id <= 2 ORDER BY id")
    assert found == [(1, "ANN", "ann@kb.invalid", 1, True), (2, "BOB", "bob@kb.invalid", 1, True)]


@pytest.mark.parametrize(
    ("call", "expected"),
    [
        ("f_tax(2000)", 400),
        ("f_tax(100)", 0),
        ("f_tax(9000, 0.3)", 3600),
        ("f_emp_name(1)", "ANN"),
        ("f_emp_name(99)", None),
        ("f_split('a,b', 2)", "b"),
        ("f_dept_list('X')", "Ops"),
        ("f_dept_list(NULL)", "Crew, Ops"),
        ("f_dept_list('nowhere')", "-"),
        ("pk.ver()", "1.0"),
        ("pk.net(2)", 4000),
    ],
)
def test_functions_answer_as_the_source_does(call: str, expected: object, staff: Any) -> None:
    assert rows(staff, f"SELECT {call}") == [(expected,)]


def test_views_join_number_and_subtract_as_the_source_does(staff: Any) -> None:
    first = "WHERE name IN ('ANN', 'BOB') ORDER BY name"
    assert rows(staff, f"SELECT name, mgr, dept FROM v9 {first}") == [("ANN", None, "Ops"), ("BOB", None, None)]
    assert rows(staff, f"SELECT name, loc FROM v6 {first}") == [("ANN", "X"), ("BOB", "Y")]
    assert rows(staff, "SELECT g, pid, ic FROM v8 ORDER BY pid LIMIT 1") == [(100, "00010", "Ops")]


def test_procedures_raise_what_the_source_raises(staff: Any) -> None:
    import psycopg

    with pytest.raises(psycopg.Error, match="No dept 99") as caught, staff.transaction():
        staff.execute("CALL p_hire('dee', 99, 100, NULL)")
    assert caught.value.sqlstate == "HS001"
    with pytest.raises(psycopg.Error, match="hired is fixed"), staff.transaction():
        staff.execute("UPDATE emp SET hired = hired + interval '1 day' WHERE name = 'ANN'")


def test_procedures_return_log_and_change_rows(staff: Any) -> None:
    with staff.transaction(force_rollback=True):
        (number,) = rows(staff, "CALL p_hire('dee', 10, 100, NULL)")[0]
        assert rows(staff, f"SELECT name FROM emp WHERE id = {number}") == [("DEE",)]
        assert rows(staff, "SELECT msg, lvl FROM log_t ORDER BY id DESC LIMIT 1") == [
            (f"hired dee as {number}", "INFO")
        ]
        staff.execute("DELETE FROM emp WHERE name = 'DEE'")
        ((message,),) = rows(staff, "SELECT msg FROM log_t ORDER BY id DESC LIMIT 1")
        assert message.startswith(f"del {number}:20")
        staff.execute("INSERT INTO acc VALUES (1, 100, 'A', now()), (2, 0, 'A', now())")
        staff.execute("CALL p_transfer(1, 2, 30)")
        assert rows(staff, "SELECT id, bal FROM acc ORDER BY id") == [(1, 70), (2, 30)]
        staff.execute("CALL p_merge()")
        assert rows(staff, "SELECT id, name, budget FROM dept ORDER BY id") == [(10, "X", 101), (20, "Y", 1)]


@pytest.mark.parametrize(
    ("expression", "expected"),
    [
        ("to_timestamp('69', 'YY')::date::text", "2069-01-01"),
        ("to_timestamp('70', 'YY')::date::text", "1970-01-01"),
        ("to_char(date '2026-11-22', 'D')", "1"),
        ("to_char(date '2026-11-22', 'DY MON')", "SUN NOV"),
        ("greatest(1, NULL)", 1),
        ("concat('is ', 70::numeric(8, 2))", "is 70.00"),
        ("concat('is ', .5::numeric(8, 2))", "is 0.50"),
        ("concat('on ', timestamp(0) '2024-01-31')", "on 2024-01-31 00:00:00"),
        ("concat('a', NULL, 'b')", "ab"),
        ("'a' || NULL", None),
        ("5 / 2", 2),
    ],
)
def test_what_remedies_say_of_postgresql_is_so(expression: str, expected: object, staff: Any) -> None:
    assert rows(staff, f"SELECT {expression}") == [(expected,)]
