"""Routines as shops write them, called on a real MariaDB and, as drafts, on a real PostgreSQL: both must do the same."""

from collections.abc import Iterator
from contextlib import ExitStack
from pathlib import Path
from typing import Any

import pytest

from hullsound import steps
from hullsound.draft.write import draft_all
from hullsound.errors import TargetError
from hullsound.knowledge.targets import parse_target
from hullsound.survey.files import ScriptFile
from hullsound.trial.behaviour import BehaviourCase, CaseFile, CaseResult, compare_cases
from hullsound.trial.mariadb import connected
from hullsound.trial.postgresql import scratch_database
from hullsound.trial.sides import MariadbSide, PostgresqlSide

pytestmark = pytest.mark.server

DATA = Path(__file__).parents[1] / "data" / "behaviour"
ROWS: dict[str, list[dict[str, Any]]] = {
    "berth": [
        {"berth_id": 1, "name": "A1", "length_m": "12.50", "zone": "north", "price": 40, "opened_on": "2020-02-29"},
        {"berth_id": 2, "name": "A2", "length_m": "8.00", "zone": "north", "price": None},
        {"berth_id": 3, "name": "Q1", "length_m": "30.25", "zone": "quay", "price": 90, "has_power": 0},
    ],
    "boat": [
        {
            "boat_id": 1,
            "boat_name": "Tern",
            "berth_id": 1,
            "owner": "Moe",
            "weight_t": "12.40",
            "built_on": "1999-05-01",
        },
        {
            "boat_id": 2,
            "boat_name": "Otter",
            "berth_id": 3,
            "owner": "Ida",
            "weight_t": "3.10",
            "built_on": "2020-12-31",
        },
        {"boat_id": 3, "boat_name": "Lark", "berth_id": None, "owner": "Dag", "weight_t": "7.75"},
    ],
    "stay": [
        {"stay_id": 1, "boat_id": 1, "nights": 3, "came_on": "2024-05-01", "paid": 1},
        {"stay_id": 2, "boat_id": 1, "nights": 10, "came_on": "2024-06-01", "paid": 0},
        {"stay_id": 3, "boat_id": 2, "nights": 2, "came_on": "2024-07-15", "paid": 0},
        {"stay_id": 4, "boat_id": 2, "nights": 4, "came_on": "2024-08-01", "paid": 0},
    ],
    "tally": [{"tally_key": "there", "tally_count": 5}],
}
CALLS: dict[str, list[tuple[Any, ...]]] = {
    "f_add": [(1, 2), (None, 2)], "f_divide": [(1, 8), (7, 2), (1, 0)], "f_div": [(7, 2), (-7, 2), (1, 0)],
    "f_mod": [(7, 3), (-7, 3)], "f_percent": [(9, 4)], "f_greet": [("Moe",), ("O'Dag",)], "f_concat_null": [("x",), (None,)],
    "f_concat_ws": [("a", "b"), ("a", None)], "f_ifnull": [(None,), (4,)], "f_if": [(5,), (1,), (None,)],
    "f_if_number": [(0,), (3,), (None,)], "f_truth": [(1, 1), (1, 2), (None, 1)], "f_truth_and": [(2, 2), (1, 2)],
    "f_not": [(0,), (5,), (None,)], "f_bang": [(0,), (1,)], "f_amp": [(1, 1), (1, 0), (0, 0)],
    "f_xor": [(1, 0), (1, 1), (0, 0)], "f_null_safe": [(None, None), (1, None), (1, 1)], "f_isnull": [(None,), (1,)],
    "f_case": [(1,), (2,), (9,)], "f_case_when": [(-1,), (1,), (0,)], "f_upper": [("  ab ",)],
    "f_left": [("harbour", 3)], "f_right": [("harbour", 3)], "f_substring": [("harbour", 2, 3)],
    "f_substr_end": [("harbour",)], "f_mid": [("harbour",)], "f_locate": [("b", "harbour"), ("z", "harbour")],
    "f_locate_from": [("r", "harbour", 4), ("h", "harbour", 3)], "f_instr": [("harbour", "bo")],
    "f_replace": [("banana",)], "f_repeat": [(3,), (0,)], "f_space": [(2,)], "f_reverse": [("tern",)],
    "f_lpad": [(42,)], "f_length": [("tärn",)], "f_field": [("y",), ("q",)], "f_find_in_set": [("b",), ("q",)],
    "f_substring_index": [("moe@kestrel.bay",), ("none",)], "f_substring_last": [("a.b.c",)], "f_escape": [()],
    "f_double": [()], "f_round": [("2.345",), ("-2.345",)], "f_truncate": [("2.99",), ("-2.99",)], "f_ceil": [("2.1",)],
    "f_tenths": [("1.26",), ("1.24",), ("-0.05",)], "f_tenths_kept": [("1.26",), ("1.24",)],
    "p_without_scale": [("2.5", "1.4"), ("2.4", "1.6"), ("-0.5", "3")],
    "p_tenths": [("1.2678",), ("1.24",), ("3.0",)],
    "f_cast": [("41",)], "f_convert": [(12,)], "f_cast_decimal": [("1.25",)], "f_greatest": [(3, 8)], "f_power": [(3,)],
    "f_day_after": [("2024-02-28", 1), ("2024-02-28", -1)], "f_month_before": [("2024-03-31",)],
    "f_plus_interval": [("2024-12-25",)], "f_hours_on": [("2024-01-01 20:00:00", 5)], "f_quarter_on": [("2024-11-30",)],
    "f_adddate": [("2024-02-25",)], "f_datediff": [("2024-03-01", "2024-02-01")],
    "f_months": [("2024-01-31", "2024-03-01"), ("2024-03-01", "2024-01-31")],
    "f_minutes": [("2024-01-01 00:00:00", "2024-01-01 02:30:59")], "f_years": [("1999-05-02", "2024-05-01")],
    "f_parts": [("2024-05-06 07:08:09",)], "f_quarter": [("2024-05-06",)], "f_weekday": [("2024-05-05",), ("2024-05-06",)],
    "f_dayname": [("2024-05-06",)], "f_last_day": [("2024-02-10",)], "f_date_format": [("2024-05-06 07:08:09",)],
    "f_date_words": [("2024-05-06",)], "f_str_to_date": [("06/05/2024",)], "f_date": [("2024-05-06 07:08:09",)],
    "f_yearweek": [("2024-12-30",), ("2021-01-03",), ("2020-12-31",), ("2024-01-01",)],
    "f_periods": [(202602, 3), (201911, -11), (202012, 1), (202001, -1)],
    "f_addtime": [("2024-12-31 23:00:00",), ("2024-02-28 22:30:15",)], "f_clock": [()],
    "f_format": [("1234567.891",), ("0.5",)], "f_regexp": [("abc",), ("abd",)], "f_like": [("axxbz",), ("b",)],
    "f_in": [(3,), (4,)], "f_between": [(3,), (9,)], "f_hex": [(255,)], "f_md5": [("tern",)],
    "f_while": [(4,), (0,)], "f_repeat_until": [(5,), (-1,)], "f_loop": [(6,)], "f_nested": [(3,), (6,)],
    "f_case_statement": [(1,), (7,)], "f_case_searched": [(5,), (15,), (50,)], "f_bool": [(1,), (3,)],
    "f_recursive_call": [(4,)], "f_boat_name": [(1,), (99,)], "f_kept_when_missing": [(2,), (99,)],
    "f_two_values": [(1,), (99,)], "f_count": [()], "f_subquery": [(1,), (99,)], "f_exists": [(1,), (3,)],
    "f_sum_if": [()], "f_group_concat": [()], "f_group_distinct": [()], "f_not_found": [(1,), (99,)], "f_cursor": [()],
    "f_two_cursors": [()],
    "p_out": [(3, 10)], "p_select": [("north",), ("south",)], "p_two_selects": [()], "p_either": [(1,), (2,)],
    "p_insert": [("B1", "10.00"), ("A1", "10.00")], "p_insert_set": [("first",)], "p_upsert": [("there", 3), ("new", 3)],
    "p_ignore": [("there",), ("new",)], "p_replace": [("there",), ("new",)], "p_update_join": [()], "p_update_left": [()],
    "p_update_limit": [()], "p_delete_join": [()], "p_delete_limit": [(1,)], "p_row_count": [()],
    "p_signal": [(-1,), (5,)], "p_exit_handler": [("A1",), ("C1",)], "p_continue_handler": [()], "p_resignal": [(0,), (1,)],
    "p_message": [()], "p_named_condition": [()], "p_session": [(1,)], "p_leave": [(0,), (1,)], "p_calls": [(2,)],
    "p_temp": [()], "p_limit": [(1,)], "p_null_order": [()], "p_rollup": [()], "p_having": [()], "p_union": [()],
    "p_dates": [("2024-01-01",)], "p_loop_rows": [()], "p_do": [(1,)], "p_fire_insert": [()], "p_fire_update": [()],
    "p_fire_delete": [(1,), (2,)], "p_cursor_ends": [()], "p_block_ends": [(1,), (99,)], "p_row_again": [()],
    "p_cursor_inside": [()], "p_fetch_fails": [(1,), (3,)], "p_errors_and_ends": [()],
}  # fmt: skip
QUERIES = (
    "SELECT boat_name, place, class FROM v_boat ORDER BY boat_name",
    "SELECT zone, COUNT(*) n, AVG(price) mean FROM berth GROUP BY zone",
    "SELECT b.boat_name, CASE WHEN b.weight_t / 2 > 5 THEN 'x' END FROM boat b WHERE b.built_on > '2000-01-01'",
    "SELECT DISTINCT nights DIV 3 FROM stay WHERE NOT paid",
    "SELECT boat_name FROM boat WHERE boat_id IN (SELECT boat_id FROM stay GROUP BY boat_id HAVING SUM(nights) > 6)",
    "SELECT IFNULL(owner, 'none'), LENGTH(boat_name) FROM boat WHERE boat_name LIKE '%r%'",
    "WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < 5) SELECT SUM(i) FROM n",
    'SELECT `boat_name` AS `the boat`, "text" FROM `boat` WHERE `boat_id` = 1',
    "SELECT COALESCE(MAX(came_on), CURDATE()) FROM stay WHERE came_on < 20240701",
    "SELECT ROW_NUMBER() OVER (ORDER BY nights DESC, stay_id) r, stay_id FROM stay",
)
WATCHED = ("berth", "boat", "stay", "log_entry", "tally")


@pytest.fixture(scope="module")
def results(server_url: str) -> Iterator[dict[str, CaseResult]]:
    """Run every case once on both engines."""
    text = (DATA / "yard.sql").read_text(encoding="utf-8")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("yard.sql", text, "")], "mysql"), "postgresql:18")
    drafts = draft_all(case.catalog, case.assessment)
    cases = [
        BehaviourCase(f"{name}{arguments}", routine=name, arguments=arguments, watch=WATCHED if name[0] == "p" else ())
        for name, calls in CALLS.items()
        for arguments in calls
    ]
    cases += [BehaviourCase(query, query=query) for query in QUERIES]
    with ExitStack() as stack:
        try:
            source = stack.enter_context(connected(""))
        except TargetError as error:
            pytest.skip(f"no MariaDB: {error}")
        connection = stack.enter_context(scratch_database(server_url))
        connection.autocommit = True
        target = PostgresqlSide(connection, case.catalog, drafts, parse_target("postgresql:18"))
        found = compare_cases(case.catalog, CaseFile(tuple(cases), ROWS), MariadbSide(source, case.catalog), target)
        yield {result.name: result for result in found}


NAMES = [f"{name}{arguments}" for name, calls in CALLS.items() for arguments in calls] + list(QUERIES)


@pytest.mark.parametrize("name", NAMES)
def test_source_and_draft_do_the_same(name: str, results: dict[str, CaseResult]) -> None:
    assert results[name].is_equal, results[name].difference


FAILING = {
    "p_fetch_fails(3,)",
    "f_divide(1, 0)",
    "f_div(1, 0)",
    "p_insert('A1', '10.00')",
    "p_signal(-1,)",
    "p_resignal(1,)",
    "p_fire_delete(1,)",
}
"""Cases whose point is that both engines refuse."""


def test_no_case_passes_by_failing_on_both_sides(results: dict[str, CaseResult]) -> None:
    assert {result.name for result in results.values() if result.both_failed} == FAILING


def test_every_routine_is_promised_and_called() -> None:
    text = (DATA / "yard.sql").read_text(encoding="utf-8")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("yard.sql", text, "")], "mysql"), "postgresql:18")
    routines = {
        o.object.name.lower() for o in case.assessment.objects if o.object.type.value in ("function", "procedure")
    }
    assert routines == set(CALLS)
    assert not [o.object.id for o in case.assessment.objects if o.outcome.value in ("rewrite", "blocked")]
