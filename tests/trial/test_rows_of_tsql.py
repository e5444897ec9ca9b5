"""Queries of T-SQL that fill variables row by row, and changes through queries, do on a real MariaDB what its reference tells.

Sources: Transact-SQL reference, "SELECT @local_variable", "WITH common_table_expression" and "DELETE".
"""

import shutil
from collections.abc import Iterator
from decimal import Decimal

import pytest

from .test_missing_rows import texts
from .test_routines_on_mariadb import Server, drafted

needs_mariadb = pytest.mark.skipif(shutil.which("mariadbd") is None, reason="MariaDB is not installed")


@pytest.fixture
def hauls(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("hauls.sql", "sqlserver", mariadb_socket, "hs_hauls"):
        server.rows("""INSERT INTO hauls (id, name, berth, len) VALUES (1, 'Tern', 1, 4.5), (2, 'Otterly', 1, 9.25),
            (3, NULL, 2, 7), (4, 'Lark', 2, NULL), (5, 'Tern', 3, NULL)""")
        yield server


@needs_mariadb
def test_the_last_row_counts_and_no_row_changes_nothing(hauls: Server) -> None:
    hauls.rows("CALL hs_hauls.last_of(1, @n, @l)")
    assert hauls.rows("SELECT @n, @l") == [("Otte", Decimal("18.5"))]
    hauls.rows("CALL hs_hauls.last_of(9, @n, @l)")
    assert hauls.rows("SELECT @n, @l") == [("Otte", Decimal("18.5"))]
    hauls.rows("CALL hs_hauls.last_of(2, @n, @l)")
    assert hauls.rows("SELECT @n, @l") == [("Lark", None)]


@needs_mariadb
def test_variables_go_on_from_row_to_row(hauls: Server) -> None:
    assert hauls.rows("SELECT hs_hauls.names_at(1), hs_hauls.names_at(2), hs_hauls.names_at(9)") == [
        ("Otterly, Tern", "Lark", None)
    ]
    hauls.rows("CALL hs_hauls.sums_of(1, @t, @k)")
    assert hauls.rows("SELECT @t, @k") == [(Decimal("13.75"), 1)]
    hauls.rows("CALL hs_hauls.sums_of(2, @t, @k)")
    assert hauls.rows("SELECT @t, @k") == [(None, 1)]
    hauls.rows("CALL hs_hauls.list_all(@s)")
    assert hauls.value("SELECT @s") == "3;2;1;"


@needs_mariadb
def test_changes_through_queries_change_the_rows_behind(hauls: Server) -> None:
    hauls.rows("CALL hs_hauls.number_rows()")
    assert hauls.rows("SELECT id, n FROM hauls WHERE n IS NOT NULL ORDER BY id") == [(3, 1), (4, 2), (5, 3)]
    hauls.rows("CALL hs_hauls.mark_last()")
    assert hauls.rows("SELECT name, n FROM hauls ORDER BY id")[2:] == [(None, 1), ("Lark!", 0), ("Tern!", 0)]
    hauls.rows("UPDATE hauls SET name = 'Tern' WHERE id = 4")
    hauls.rows("CALL hs_hauls.drop_doubles()")
    assert hauls.rows("SELECT id FROM hauls ORDER BY id") == [(1,), (2,), (3,), (5,)]
    hauls.rows("CALL hs_hauls.drop_lonely()")
    assert hauls.rows("SELECT id FROM hauls ORDER BY id") == [(1,), (2,)]
    hauls.rows("CALL hs_hauls.drop_first()")
    assert hauls.rows("SELECT id FROM hauls ORDER BY id") == []


@pytest.fixture
def winches(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("winches.sql", "sqlserver", mariadb_socket, "hs_winches"):
        server.rows("INSERT INTO winches VALUES (1, 'a', 5), (2, 'b', 5), (3, 'c', 5), (102, 'd', 5)")
        yield server


@needs_mariadb
def test_code_that_looks_at_each_error_goes_its_own_ways(winches: Server) -> None:
    def status(call: str) -> object:
        winches.rows(f"CALL hs_winches.{call}")
        return winches.value("SELECT @s")

    assert status("move_winch(1, NULL, @s)") == 1
    assert status("move_winch(1, 7, @s)") == 0
    assert status("move_winch(2, 8, @s)") == 2
    assert winches.rows("SELECT id, berth FROM winches ORDER BY id") == [(1, 7), (2, 5), (3, 5), (101, 7), (102, 5)]
    assert status("add_winch(9, @s)") == 2627
    assert winches.rows("SELECT name, berth FROM winches WHERE id = 9") == [("new", 0)]
    assert [status("drop_nth(3, @s)"), status("drop_nth(3, @s)")] == [0, -1]


@needs_mariadb
def test_jumps_lead_where_their_labels_stand(winches: Server) -> None:
    winches.rows("CALL hs_winches.name_winch(2, 'x')")
    winches.rows("CALL hs_winches.name_winch(NULL, 'y')")
    winches.rows("CALL hs_winches.name_winch(101, 'z')")
    assert winches.rows("SELECT name FROM winches ORDER BY id") == [("a",), ("x",), ("c",), ("d",)]


def test_oracle_jumps_itself() -> None:
    text = texts("winches.sql", "sqlserver", "oracle")["procedure.name_winch"]
    assert "GOTO found;" in text and "<<done>>\n  NULL;" in text


@pytest.mark.parametrize(
    ("target", "routine", "wanted"),
    [
        (
            "mysql",
            "procedure.drop_doubles",
            "FROM dbo.hauls AS hs_self JOIN (SELECT *, ROW_NUMBER() OVER",
        ),
        ("mysql", "procedure.drop_first", "LIMIT 18446744073709551615) AS c ON hs_self.id = c.hs_key1"),
        (
            "oracle",
            "procedure.drop_doubles",
            "WHERE ROWID IN (SELECT c.hs_address FROM (SELECT hauls.*,",
        ),
        (
            "oracle",
            "procedure.number_rows",
            "ON (hs_self.ROWID = c.hs_address) WHEN MATCHED THEN UPDATE SET",
        ),
        ("oracle", "function.names_at", "COALESCE(CASE WHEN v_r IS NOT NULL THEN v_r || ', ' END, '') || hs_rows1_1;"),
        ("oracle", "procedure.last_of", "FETCH hs_rows1 INTO p_n, p_len;"),
    ],
)
def test_rows_are_found_as_the_target_finds_them(target: str, routine: str, wanted: str) -> None:
    assert wanted in texts("hauls.sql", "sqlserver", target)[routine]
