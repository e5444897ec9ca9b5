"""Routines of Oracle and SQL Server on a real MariaDB: rows, cursors, texts that are run, limits and merges do what they did.

What they do comes from the source engines' references; neither runs here.
"""

import shutil
from collections.abc import Iterator
from decimal import Decimal
from typing import Any

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.survey.files import ScriptFile
from hullsound.trial.mariadb import root_connection

from .office import DATA

pytestmark = pytest.mark.skipif(shutil.which("mariadbd") is None, reason="MariaDB is not installed")


class Server:
    """A database of the drafts of one script."""

    def __init__(self, cursor: Any) -> None:
        self.cursor = cursor

    def rows(self, statement: str, *values: object) -> list[tuple[Any, ...]]:
        """Return the rows of a statement's first result."""
        self.cursor.execute(statement, values)
        found = list(self.cursor.fetchall())
        while self.cursor.nextset():
            pass
        return found

    def value(self, statement: str, *values: object) -> Any:
        return self.rows(statement, *values)[0][0]


def drafted(file: str, engine: str, socket: str, database: str) -> Iterator[Server]:
    text = (DATA / file).read_text(encoding="utf-8")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile(file, text, "")], engine), "mariadb:11.8")
    assert [(d.object.id, d.skipped) for d in case.drafts.drafts if d.outcome not in PROMISED] == []
    with root_connection(socket) as connection, connection.cursor() as cursor:
        cursor.execute(f"DROP DATABASE IF EXISTS {database}")
        cursor.execute(f"CREATE DATABASE {database}")
        cursor.execute(f"USE {database}")
        server = Server(cursor)
        for draft in case.drafts.drafts:
            if draft.text and not draft.text.startswith("-- Nothing to create"):
                text = draft.text.replace("dbo.", f"{database}.").replace("public.", f"{database}.")
                server.rows(text.replace("%", "%%"))
        yield server
        cursor.execute(f"DROP DATABASE {database}")


@pytest.fixture
def moorings(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("moorings.sql", "oracle", mariadb_socket, "hs_moorings"):
        server.rows("INSERT INTO moorings (id, name, depth) VALUES (1, 'North', 4.50), (2, 'South', NULL)")
        server.rows("INSERT INTO arrivals VALUES (101, 1, 'Gull', 20), (102, 1, 'Tern', 99), (103, 2, 'Gull', 50)")
        yield server


@pytest.fixture
def pontoons(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("pontoons.sql", "sqlserver", mariadb_socket, "hs_pontoons"):
        server.rows("INSERT INTO pontoons VALUES (1, 'a', 9), (2, 'b', 8), (3, 'c', 7), (4, 'd', 6), (5, 'e', 5)")
        server.rows(
            "INSERT INTO repairs (pontoon_id, cost, note) VALUES (1, 5, 'x'), (2, 50, 'y'), (2, 7, 'z'), (8, 60, NULL)"
        )
        yield server


def test_numbers_that_a_row_is_given_come_back(moorings: Server) -> None:
    moorings.rows("CALL add_mooring('east', @id)")
    assert moorings.rows("SELECT id, name FROM moorings WHERE id = @id") == [(50, "EAST")]
    moorings.rows("INSERT INTO moorings (id, name) VALUES (NULL, 'by trigger')")
    assert moorings.value("SELECT id FROM moorings WHERE name = 'by trigger'") == 51
    moorings.rows("CALL add_arrival(2, 'Skua', 12.5, @id)")
    assert moorings.rows("SELECT id, ship FROM arrivals WHERE id = @id") == [(1, "Skua")]


def test_cursors_for_the_caller_are_rows(moorings: Server) -> None:
    rows = [("Gull", Decimal("20.00")), ("Tern", Decimal("99.00"))]
    assert moorings.rows("CALL list_arrivals(1)") == rows
    assert moorings.rows("CALL pass_on()") == rows
    assert moorings.rows("CALL arrivals_of(1)") == [(2,)]


def test_rows_in_variables(moorings: Server) -> None:
    assert moorings.value("SELECT deepened(1, 2)") == Decimal("654.5")
    assert moorings.value("SELECT deepened(9, 2)") == -1
    moorings.rows("CALL note_record()")
    assert moorings.rows("SELECT id, name FROM moorings WHERE id = 7") == [(7, "Buoy")]


def test_cursors_take_values(moorings: Server) -> None:
    moorings.rows("CALL count_heavy(30)")
    assert moorings.rows("SELECT id, visits FROM moorings ORDER BY id") == [(1, 101), (2, 1)]


def test_constant_texts_are_their_statements(moorings: Server) -> None:
    assert moorings.value("SELECT tons_at(1)") == 20
    assert moorings.value("SELECT tons_at(7)") == 0
    moorings.rows("CALL rename_mooring(2, 'Deep')")
    assert moorings.value("SELECT name FROM moorings WHERE id = 2") == "Deep"


def test_merge_changes_what_matches_and_adds_the_rest(moorings: Server) -> None:
    for number, name in ((1, "one"), (2, "two"), (3, "three"), (3, "again")):
        moorings.rows("CALL take_over(%s, %s)", number, name)
    assert moorings.rows("SELECT id, name, depth, visits FROM moorings ORDER BY id") == [
        (1, "one", Decimal("4.50"), 1),
        (2, "South", None, 0),
        (3, "again", Decimal("3.00"), 1),
    ]


@pytest.mark.parametrize(("limit", "total"), [(0, 1), (5, 6), (6, 7), (59, 60), (99, 60)])
def test_jumps_out_of_outer_loops(moorings: Server, limit: int, total: int) -> None:
    assert moorings.value("SELECT first_over(%s)", limit) == total


def test_limits_that_are_expressions(pontoons: Server) -> None:
    assert pontoons.rows("CALL page(2, 2)") == [(3, "c"), (4, "d")]
    assert pontoons.rows("CALL page(3, 2)") == [(5, "e")]
    assert pontoons.rows("CALL dearest(2)") == [(4, Decimal("60.00")), (2, Decimal("50.00"))]
    pontoons.rows("CALL forget_one()")
    assert pontoons.rows("SELECT pontoon_id FROM repairs ORDER BY id") == [(2,), (2,), (8,)]


def test_rows_that_a_cursor_stands_on(moorings: Server) -> None:
    moorings.rows("CALL lighten(1, 5)")  # a cursor whose second parameter has a default
    moorings.rows("CALL lighten(2, 5)")
    assert moorings.rows("SELECT id, tons FROM arrivals ORDER BY id") == [
        (101, Decimal("20.00")),
        (103, Decimal("45.00")),
    ]
    moorings.rows("CALL rename_ships('!')")
    assert moorings.rows("SELECT ship FROM arrivals ORDER BY id") == [("GULL!",), ("GULL!",)]


def test_functions_of_one_query_are_their_query(pontoons: Server) -> None:
    assert pontoons.rows("CALL dear_repairs(2, 10)") == [("b", Decimal("50.00"))]
    assert pontoons.rows("SELECT id FROM second_pontoon") == []  # nothing is at least NULL


def test_texts_of_transact_sql(pontoons: Server) -> None:
    pontoons.rows("CALL clear_notes()")
    assert pontoons.rows("SELECT note FROM repairs ORDER BY id") == [(None,), ("y",), (None,), (None,)]
    assert pontoons.rows("CALL cost_of(2)") == [(Decimal("57.00"),)]


def test_facts_of_a_caught_error(pontoons: Server) -> None:
    pontoons.rows("CALL add_pontoon(1)")
    pontoons.rows("CALL add_pontoon(6)")
    assert pontoons.rows("SELECT number, severity, place FROM mishaps") == [(2627, 16, "add_pontoon")]


def test_merge_of_transact_sql(pontoons: Server) -> None:
    pontoons.rows("CALL refresh_lengths()")
    assert pontoons.rows("SELECT id, length FROM pontoons WHERE id IN (1, 2, 8) ORDER BY id") == [
        (1, Decimal("9.00")),
        (2, Decimal("7.00")),
        (8, Decimal("5.00")),
    ]
