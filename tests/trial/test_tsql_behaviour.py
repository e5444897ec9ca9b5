"""Transact-SQL routines as shops write them: the drafts give on PostgreSQL what SQL Server gives, stated by hand.

The expected values come from the Transact-SQL reference; no SQL Server runs here.
"""

from collections.abc import Iterator
from typing import Any

import pytest

from hullsound.trial.behaviour import plain

from .office import Office, open_office

pytestmark = pytest.mark.server

ROWS: dict[str, list[dict[str, Any]]] = {
    "vessel": [
        {
            "vesselid": 1,
            "vesselname": "Tern",
            "places": 30,
            "isactive": True,
            "tonnage": "80.50",
            "builton": "2001-05-06",
        },
        {"vesselid": 2, "vesselname": "Otter", "places": 12, "isactive": True, "tonnage": None},
        {"vesselid": 3, "vesselname": "Lark", "places": 8, "isactive": False, "tonnage": "20.00"},
    ],
    "booking": [
        {"bookingid": 100, "vesselid": 1, "passenger": "Moe", "fare": 10, "paid": True},
        {"bookingid": 101, "vesselid": 1, "passenger": "Ida", "fare": 25, "paid": False},
        {"bookingid": 102, "vesselid": 3, "passenger": "Dag", "fare": 40, "paid": True},
    ],
    "tally": [{"tallykey": "there", "n": 5}],
}
NONE: tuple[Any, ...] = ()
VALUES: list[tuple[str, tuple[Any, ...], Any]] = [
    ("f_add", (1, 2), 3), ("f_add", (None, 2), None), ("f_divide", (7, 2), 3), ("f_divide", (-7, 2), -3),
    ("f_percent", (1, 3), "33.33"), ("f_text", ("a", "b"), "a-b"), ("f_text", ("a", None), None),
    ("f_isnull", (None,), "none"), ("f_number", (7,), "No. 7"), ("f_cut", ("2.9",), 2), ("f_cut", ("-2.9",), -2),
    ("f_convert", ("41",), 42), ("f_iif", (5,), "big"), ("f_iif", (None,), "small"), ("f_case", (2,), "two"),
    ("f_len", ("ab  ",), 2), ("f_charindex", ("b", "abc"), 2), ("f_charindex", ("z", "abc"), 0),
    ("f_charindexfrom", ("a", "abca", 2), 4), ("f_substring", ("harbour", 2), "arb"), ("f_stuff", ("harbour",), "hXYour"),
    ("f_trim", ("  ab ",), "AB"), ("f_replicate", (2,), "abab ."), ("f_pad", (42,), "000042"),
    ("f_reverse", ("banana",), "ononob"), ("f_adddays", ("2024-02-28", 2), "2024-03-01"),
    ("f_addmonths", ("2024-01-31",), "2024-02-29"), ("f_addhours", ("2024-01-01 20:00:00", 5), "2024-01-02 01:00:00"),
    ("f_diffdays", ("2024-02-01", "2024-03-01"), 29), ("f_diffmonths", ("2024-01-31", "2024-02-01"), 1),
    ("f_diffyears", ("2023-12-31", "2024-01-01"), 1), ("f_diffhours", ("2024-01-01 00:59:00", "2024-01-01 02:01:00"), 2),
    ("f_diffweeks", ("2024-05-04", "2024-05-05"), 1), ("f_parts", ("2024-05-05 13:00:00",), 202419),
    ("f_datename", ("2024-05-06",), "Monday May"), ("f_style112", ("2024-05-06 07:08:09",), "20240506"),
    ("f_style120", ("2024-05-06 07:08:09",), "2024-05-06 07:08"), ("f_style104", ("06.05.2024",), "2024-05-06"),
    ("f_endofmonth", ("2024-02-03",), "2024-02-29"), ("f_firstofmonth", ("2024-02-03",), "2024-02-01"),
    ("f_round", ("2.345",), "2.35"), ("f_maths", (4,), 26), ("f_bits", (12,), 5), ("f_like", ("ax",), True),
    ("f_like", ("dx",), False), ("f_like", ("a7",), False), ("f_bit", (3,), True), ("f_bit", (1,), False),
    ("f_while", (9,), 12), ("f_elseif", (-1,), "minus"), ("f_elseif", (0,), "zero"), ("f_elseif", (500,), "huge"),
    ("f_elseif", (5,), "plus"), ("f_nested", (1, 1), "both"), ("f_nested", (1, 2), "a only"), ("f_nested", (2, 1), "none"),
    ("f_name", (1,), "Tern"), ("f_name", (99,), "unknown"), ("f_last", NONE, "Dag 40.00"), ("f_sum", (1,), 35),
    ("f_sum", (99,), 0), ("f_subquery", (1,), 1), ("f_cursor", NONE, "Tern;Otter;Lark;"),
]  # fmt: skip
"""(function, arguments, value)"""
CALLED: list[tuple[str, tuple[Any, ...], list[Any], list[list[tuple[Any, ...]]]]] = [
    ("p_select", (True,), [], [[("Otter", 12), ("Tern", 30)]]),
    ("p_tworesults", NONE, [], [[(3,)], [("Dag", 40), ("Ida", 25)]]),
    ("p_either", (1,), [], [[("one",)]]), ("p_either", (2,), [], [[("other",)]]),
    ("p_out", (1, 2, "z"), [3, "z!"], []), ("p_calls", NONE, [-85], []), ("p_insert", ("Shag",), [4], []),
    ("p_rowcount", NONE, [1], []), ("p_temp", NONE, [1], []), ("p_trycatch", (0,), ["fine", 0], []),
    ("p_trycatch", (1,), ["bad day of 1", 50000], []), ("p_trycatch", (2,), ["thrown", 50007], []),
    ("p_trycatch", (3,), ["duplicate", 2627], []),
    ("p_apply", NONE, [], [[("Lark", "Dag"), ("Otter", None), ("Tern", "Ida")]]),
    ("p_nullorder", NONE, [], [[("Otter",), ("Lark",), ("Tern",)]]), ("p_page", (1, 1), [], [[("Ida",)]]),
    ("p_alias", NONE, [], [[("Moe", 10, 1)]]),
]  # fmt: skip
"""(procedure, arguments, values of OUTPUT parameters, result sets)"""
LEFT: list[tuple[str, tuple[Any, ...], str, list[tuple[Any, ...]]]] = [
    ("p_next_ticket", NONE, "SELECT n FROM tally WHERE tallykey = 'ticket'", [(1,)]),
    ("p_native", ("new",), "SELECT n FROM tally WHERE tallykey = 'new'", [(4,)]),
    ("p_kept_message", (0,), "SELECT vesselid, bookings, fares FROM v_kept_rows ORDER BY vesselid", [(1, 2, 35), (3, 1, 40)]),
    ("p_status", (1,), "SELECT what FROM eventlog", [("fine",)]), ("p_status", (-1,), "SELECT what FROM eventlog", []),
    ("p_updatefrom", NONE, "SELECT fare, paid FROM booking", [(40, True), (55, True), (40, True)]),
    ("p_updateleft", NONE, "SELECT vesselname FROM vessel WHERE places = -1", [("Otter",)]),
    ("p_deletejoin", NONE, "SELECT bookingid FROM booking", [(100,), (101,)]),
    ("p_output", NONE, "SELECT what, amount FROM eventlog WHERE what IN ('Moe', 'Dag')", [("Moe", 100), ("Dag", 102)]),
    ("p_rowcount", NONE, "SELECT what FROM eventlog", []),
    ("p_cte", NONE, "SELECT amount FROM eventlog", [(1,), (2,), (3,), (4,)]),
    ("p_bits", NONE, "SELECT vesselname, isactive FROM vessel WHERE vesselid > 3", [("from Moe", False), ("from Dag", True)]),
    ("p_fireinsert", NONE, "SELECT what, amount FROM eventlog", [("new", 1), ("new", 1), ("new", 1)]),
    ("p_fireupdate", NONE, "SELECT what, amount FROM eventlog", [("changed", 1), ("changed", 1)]),
    ("p_trycatch", (3,), "SELECT tallykey FROM tally", [("there",)]),
    ("p_throw", (1,), "SELECT 1", [(1,)]),
]  # fmt: skip
"""(procedure, arguments, query, rows that it finds behind the call)"""
FAILING = [
    ("p_kept_message", (1,), "Sailing 1 is full: 5 asked."),
    ("p_kept_message", (2,), "A voucher's overdrawn."),
    ("p_throw", (-1,), "below zero"),
    ("p_rethrow", NONE, "duplicate key"),
    ("p_firefull", NONE, "too many places"),
]


@pytest.fixture(scope="module")
def office(server_url: str) -> Iterator[Office]:
    with open_office("ferry.sql", "sqlserver", server_url, ROWS) as opened:
        yield opened


@pytest.mark.parametrize(("name", "arguments", "value"), VALUES, ids=lambda v: str(v))
def test_function_gives(name: str, arguments: tuple[Any, ...], value: Any, office: Office) -> None:
    seen = office.call(name, arguments)
    assert not seen.failed, seen.error
    given = plain(seen.values[0])
    assert given == plain(value) or str(given).removesuffix("000") == str(value), given


@pytest.mark.parametrize(("name", "arguments", "values", "results"), CALLED, ids=lambda v: str(v)[:30])
def test_procedure_gives(
    name: str, arguments: tuple[Any, ...], values: list[Any], results: list[list[tuple[Any, ...]]], office: Office
) -> None:
    seen = office.call(name, arguments)
    assert not seen.failed, seen.error
    assert [v for v in seen.values if v is not None][: len(values)] == values
    assert [[plain(row) for row in rows] for rows in seen.results] == [[plain(row) for row in rows] for rows in results]


@pytest.mark.parametrize(("name", "arguments", "query", "rows"), LEFT, ids=lambda v: str(v)[:30])
def test_procedure_leaves(
    name: str, arguments: tuple[Any, ...], query: str, rows: list[tuple[Any, ...]], office: Office
) -> None:
    seen = office.call(name, arguments, query)
    assert not seen.failed, seen.error
    assert plain(seen.tables["found"]) == plain(rows)


@pytest.mark.parametrize(("name", "arguments", "message"), FAILING)
def test_procedure_refuses(name: str, arguments: tuple[Any, ...], message: str, office: Office) -> None:
    seen = office.call(name, arguments)
    assert seen.failed
    assert message in seen.error


def test_table_functions_and_views(office: Office) -> None:
    with office.side.connection.transaction(force_rollback=True):
        office.side.fill(ROWS)
        ask = office.side.ask
        assert ask("SELECT passenger FROM dbo.t_inline(1) ORDER BY bookingid") == [("Moe",), ("Ida",)]
        assert ask("SELECT id, who FROM dbo.t_multi(20) ORDER BY id") == [(101, "Ida"), (102, "DAG")]
        assert ask("SELECT name FROM dbo.v_booking ORDER BY bookingid") == [("Moe on Tern",), ("Ida on Tern",)]
