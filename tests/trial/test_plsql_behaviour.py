"""PL/SQL routines as shops write them: the drafts give on PostgreSQL what Oracle gives, stated by hand.

The expected values come from Oracle's documentation; no Oracle runs here.
"""

from collections.abc import Iterator
from typing import Any

import pytest

from hullsound.trial.behaviour import plain

from .office import Office, Rows, open_office

pytestmark = pytest.mark.server

ROWS: Rows = {
    "pilots": [
        {"pilot_id": 1, "name": "Moe", "grade": "A", "rate": "40", "hired": "2001-05-06 00:00:00"},
        {"pilot_id": 2, "name": "Ida", "grade": "B", "rate": "55.5", "boss": 1},
        {"pilot_id": 3, "name": "Dag", "grade": "B", "rate": None, "boss": 1},
    ],
    "orders": [
        {
            "order_id": 10,
            "pilot_id": 1,
            "ship": "Tern",
            "hours": "2.5",
            "fee": None,
            "ordered_at": "2024-05-01 06:00:00",
        },
        {
            "order_id": 11,
            "pilot_id": 1,
            "ship": "Otter",
            "hours": "1",
            "fee": "40",
            "ordered_at": "2024-05-02 00:00:00",
        },
        {
            "order_id": 12,
            "pilot_id": 2,
            "ship": "Lark",
            "hours": "4",
            "fee": "222",
            "ordered_at": "2024-05-03 12:00:00",
        },
    ],
}
NONE: tuple[Any, ...] = ()
VALUES: list[tuple[str, tuple[Any, ...], Any]] = [
    ("f_add", (1, 2), 3), ("f_add", (None, 2), None), ("f_divide", (1, 8), "0.125"), ("f_divide", (7, 2), "3.5"),
    ("f_join", ("a", None), "a-"), ("f_join", ("a", "b"), "a-b"), ("f_nvl", (None,), "none"), ("f_nvl2", (None,), "no"),
    ("f_decode", (2,), "two"), ("f_decode", (None,), "null"), ("f_decode", (7,), "many"), ("f_substr", ("harbour",), "arbur"),
    ("f_instr", ("harbour",), 3), ("f_text", (" ab ",), "AB007x..oboTwo Words"), ("f_length", (None,), None),
    ("f_length", ("ab ",), 3), ("f_numbers", ("2.56",), "20.16"), ("f_to_number", ("21.5",), 43),
    ("f_to_char", ("12.5",), "12.50"), ("f_days", ("2024-02-28 06:00:00", 2), "2024-03-01 06:00:00"),
    ("f_days", ("2024-02-28 06:00:00", "0.5"), "2024-02-28 18:00:00"),
    ("f_between", ("2024-03-01 12:00:00", "2024-02-28 00:00:00"), "2.5"), ("f_months", ("2024-01-31",), "2024-02-29"),
    ("f_trunc", ("2024-05-17 10:00:00",), "2024-05-02"), ("f_mask", ("2024-05-06 07:08:00",), "06.05.2024 07:08"),
    ("f_to_date", ("06/05/2024",), "2024-05-06"), ("f_last_day", ("2024-02-03",), "2024-02-29"),
    ("f_extract", ("2024-05-06",), 202405), ("f_greatest", (3, 8), 5), ("f_if", (-1,), "minus"), ("f_if", (None,), "plus"),
    ("f_case", (2,), "two"), ("f_case", (5,), "many"), ("f_loop", (6,), 9), ("f_for", (3,), "123<2<1"), ("f_while", (10,), "0.625"),
    ("f_name", (2,), "Ida"), ("f_name", (99,), "nobody"), ("f_row", (1,), "Moe/A"), ("f_too_many", NONE, "several"),
    ("f_cursor", NONE, "Ida=55.5;"), ("f_for_query", NONE, 362), ("f_count", NONE, 1), ("f_count", ("B",), 2),
    ("f_nested", (1,), "start fine"), ("f_nested", (2,), "start own"), ("f_zero", (0,), -1), ("f_calls", (6,), 10),
    ("f_rownum", NONE, "Moe"), ("f_listagg", NONE, "Dag, Ida, Moe"), ("f_exists", (1,), 1), ("f_exists", (3,), 0),
    ("f_dynamic", (3,), "Dag"), ("is_dear", (50,), 1), ("is_dear", (40,), 0),
]  # fmt: skip
CALLED: list[tuple[str, tuple[Any, ...], list[Any]]] = [
    ("p_out", (3, "z"), [6, "z!"]), ("p_insert", ("Shag",), [500]), ("p_update", (1,), [2]), ("p_update", (9,), [0]),
    ("p_duplicate", NONE, ["there already"]), ("p_calls", NONE, [12]),
]  # fmt: skip
EVENTS: list[tuple[str, tuple[Any, ...], list[tuple[Any, ...]]]] = [
    ("p_update", (1,), [("fee of 10", 100)]), ("p_update", (9,), [("nothing", None)]), ("p_delete", NONE, [("left", 2)]),
    ("p_raise", (4,), [("fine", 4)]), ("p_init", NONE, [("no pilot", None)]),
    ("p_package", NONE, [("dear", 1), ("plain", 0)]),
]  # fmt: skip


@pytest.fixture(scope="module")
def office(server_url: str) -> Iterator[Office]:
    with open_office("pilots.sql", "oracle", server_url, ROWS) as opened:
        yield opened


@pytest.mark.parametrize(("name", "arguments", "value"), VALUES, ids=lambda v: str(v))
def test_function_gives(name: str, arguments: tuple[Any, ...], value: Any, office: Office) -> None:
    given = office.function(name, arguments)
    number = isinstance(value, int) or (
        isinstance(value, str) and value.replace(".", "", 1).isdigit() and name != "f_to_char"
    )
    assert plain(given) == plain(float(value) if number else value)


@pytest.mark.parametrize(("name", "arguments", "values"), CALLED, ids=lambda v: str(v))
def test_procedure_gives_back(name: str, arguments: tuple[Any, ...], values: list[Any], office: Office) -> None:
    seen = office.call(name, arguments)
    assert not seen.failed, seen.error
    assert plain(seen.values) == plain(values)


@pytest.mark.parametrize(("name", "arguments", "rows"), EVENTS, ids=lambda v: str(v))
def test_procedure_leaves_events(
    name: str, arguments: tuple[Any, ...], rows: list[tuple[Any, ...]], office: Office
) -> None:
    seen = office.call(name, arguments, "SELECT what, amount FROM events")
    assert not seen.failed, seen.error
    assert plain(seen.tables["found"]) == plain(rows)


def test_merge_changes_and_adds(office: Office) -> None:
    seen = office.call("p_merge", NONE, "SELECT pilot_id, rate FROM pilots WHERE pilot_id IN (1, 9)")
    assert plain(seen.tables["found"]) == plain([(1, 99), (9, 10)])


def test_own_errors_and_views(office: Office) -> None:
    assert "below zero: -1" in office.call("p_raise", (-1,)).error
    with office.side.connection.transaction(force_rollback=True):
        office.side.fill(ROWS)
        assert plain(office.side.ask("SELECT name, fees, n FROM v_pay")) == plain(
            [("Moe", 40, 2), ("Ida", 222, 1), ("Dag", 0, 0)]
        )
