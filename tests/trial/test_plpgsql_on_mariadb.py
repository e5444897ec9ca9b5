"""Routines of PL/pgSQL do on a real MariaDB what they do on a real PostgreSQL: FOUND, counts of rows, first rows, types."""

from collections.abc import Iterator
from decimal import Decimal
from pathlib import Path
from typing import Any

import psycopg
import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.survey.files import ScriptFile
from hullsound.trial.mariadb import root_connection
from hullsound.trial.postgresql import scratch_database

from .office import DATA

_ROWS = (
    "INSERT INTO jetties VALUES (1, 'a', 10.25, false), (2, 'b', NULL, true), (3, 'c', 7, true)",
    "INSERT INTO moves VALUES (1, NULL, 'x'), (2, 2, 'y')",
)
_DATABASE = "hs_jetties"


class Both:
    """The script on PostgreSQL, and its drafts on MariaDB."""

    def __init__(self, source: psycopg.Connection[Any], target: Any) -> None:
        self.source, self.target = source, target

    def value(self, query: str) -> Any:
        """Return the value of a query that both give."""
        theirs = self.source.execute(query).fetchall()
        assert [tuple(row) for row in self._rows(query)] == theirs
        return theirs[0][0]

    def call(self, routine: str, arguments: str = "") -> Any:
        """Call a procedure on both; return what its last parameter gives back."""
        separator = ", " if arguments else ""
        given = self.source.execute(f"CALL {routine}({arguments}{separator}NULL)").fetchone()
        self._rows("SET @given = NULL")
        self._rows(f"CALL {routine}({arguments}{separator}@given)")
        assert given is not None
        assert self._rows("SELECT @given") == [given]
        return given[0]

    def _rows(self, statement: str) -> list[tuple[Any, ...]]:
        self.target.execute(statement)
        found = list(self.target.fetchall())
        while self.target.nextset():
            pass
        return found

    def run(self, statement: str) -> None:
        self.source.execute(statement)
        self._rows(statement)


@pytest.fixture
def both(server_url: str, mariadb_socket: Path) -> Iterator[Both]:
    text = (DATA / "jetties.sql").read_text(encoding="utf-8")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("jetties.sql", text, "")], "postgresql"), "mariadb:11.8")
    assert [(d.object.id, d.skipped) for d in case.drafts.drafts if d.outcome not in PROMISED] == []
    with (
        scratch_database(server_url) as source,
        root_connection(mariadb_socket) as connection,
        connection.cursor() as target,
    ):
        source.autocommit = True
        source.execute(text)
        target.execute(f"CREATE OR REPLACE DATABASE {_DATABASE}")
        target.execute(f"USE {_DATABASE}")
        both = Both(source, target)
        for draft in case.drafts.drafts:
            if draft.object.type.value != "schema":
                target.execute(draft.text.replace("public.", f"{_DATABASE}."))
        for statement in _ROWS:
            both.run(statement)
        yield both
        target.execute(f"DROP DATABASE {_DATABASE}")


def test_found_after_a_change(both: Both) -> None:
    both.run("CALL take_jetty(1)")
    assert both.value("SELECT count(*) FROM moves WHERE jetty = 1") == 1
    with pytest.raises(psycopg.errors.RaiseException, match="jetty 2 is taken"):
        both.source.execute("CALL take_jetty(2)")
    with pytest.raises(Exception, match="jetty 2 is taken"):
        both.target.execute("CALL take_jetty(2)")


@pytest.mark.parametrize(("jetty", "name"), [("1", "a"), ("9", "none"), ("NULL", "none")])
def test_found_after_a_query(both: Both, jetty: str, name: str) -> None:
    assert both.value(f"SELECT jetty_name({jetty})") == name


def test_first_of_several_rows(both: Both) -> None:
    assert both.value("SELECT last_taken()") == "c"
    both.run("DELETE FROM jetties WHERE id > 1")
    assert both.value("SELECT last_taken()") == "none"


def test_count_of_rows(both: Both) -> None:
    assert both.call("release_all") == 102
    assert both.call("release_all") == 0
    both.run("INSERT INTO moves VALUES (8, NULL, 'z')")
    assert both.call("release_all") == 50


def test_found_is_false_at_first_and_holds_in_loops(both: Both) -> None:
    both.run("UPDATE jetties SET id = 4, length = 8 WHERE id = 2")
    assert both.call("fill_up", "5") == "1;3;4;"


def test_lengths_of_parameters_and_results_are_thrown_away(both: Both) -> None:
    assert both.value("SELECT share(1.2345, 2)") == Decimal("3.098595")
    assert both.value("SELECT label('north', 12)") == "north-12"


def test_loops_over_rows(both: Both) -> None:
    assert both.value("SELECT all_names()") == "c;a;"
    both.run("CALL note_lengths(7)")
    assert both.value("SELECT count(*) FROM moves WHERE id > 100") == 2
    assert both.value("SELECT note FROM moves WHERE id = 101") == "doubled 20.50"


@pytest.mark.parametrize(("first", "last", "told"), [(7, 2, "7;5;3;"), (1, 1, "1;"), (1, 4, "")])
def test_counting_down(both: Both, first: int, last: int, told: str) -> None:
    assert both.value(f"SELECT countdown({first}, {last})") == told


def test_a_key_that_is_there_already(both: Both) -> None:
    both.run("CALL put_jetty(1, 'new')")
    both.run("CALL put_jetty(9, 'ninth')")
    assert both.value("SELECT name FROM jetties WHERE id = 1") == "new"
    assert both.value("SELECT count(*) FROM jetties") == 4


def test_a_filled_text_counts_null_as_empty(both: Both) -> None:
    assert both.value("SELECT labelled('quay', 7)") == "quay: 7% of a\\b"
    assert both.value("SELECT labelled(NULL, NULL)") == ": % of a\\b"


def test_bodies_in_quotes_and_parameters_by_place(both: Both) -> None:
    assert both.value("SELECT length_of(1)") == Decimal("10.25")
    assert both.value("SELECT length_of(2)") == 0
    assert both.value("SELECT tagged(3, 'x')") == "c:x"
    assert both.value("SELECT tagged(9, 'x')") == "nothing:x"


def test_functions_that_return_nothing_become_procedures(both: Both) -> None:
    both.run("CALL rename_both(1, 3)")
    assert both.value("SELECT name FROM jetties WHERE id = 1") == "one"
    assert both.value("SELECT name FROM jetties WHERE id = 3") == "other"
    both.run("CALL rename_both(9, 9)")
    assert both.value("SELECT count(*) FROM jetties WHERE name IN ('one', 'other')") == 2


def test_functions_whose_rows_are_read(both: Both) -> None:
    assert both.value("SELECT count(*) FROM v_long") == 2
    assert both.value("SELECT max(again) FROM v_long") == "c"
    assert both.value("SELECT longest()") == Decimal("10.25")


def test_values_that_a_change_gives_back(both: Both) -> None:
    assert both.call("lengthen", "1") == Decimal("22.5")  # the length after the change, and the name's
    assert both.call("lengthen", "2") == 1
    assert both.call("lengthen", "9") == 3
    assert both.call("break_up", "3") == "c"
    assert both.call("break_up", "2") is None  # its length is not known
    assert both.value("SELECT count(*) FROM jetties") == 2


@pytest.mark.parametrize(
    "change",
    [
        "UPDATE jetties SET name = 'x' WHERE length > 3 RETURNING name INTO p_name",  # of more rows than one
        "UPDATE jetties SET id = 5 WHERE id = 1 RETURNING id INTO p_name",  # the key that it changes
        "UPDATE jetties SET name = 'x' WHERE id = 1 AND length > 3 RETURNING name INTO p_name",  # which it tests as well
        "DELETE FROM jetties WHERE name = p_name AND id = 1 RETURNING name INTO p_name",  # reads what it fills
        "DELETE FROM jetties WHERE id = length RETURNING name INTO p_name",
        "DELETE FROM jetties WHERE id = 1 AND length > random() RETURNING name INTO p_name",
        "DELETE FROM jetties WHERE id = 1 OR id = 2 RETURNING name INTO p_name",
    ],
)
@pytest.mark.parametrize("target", ["mariadb", "mysql", "sqlserver"])
def test_values_given_back_that_are_not_foreseen(change: str, target: str) -> None:
    table = "CREATE TABLE jetties (id int PRIMARY KEY, name varchar(20), length numeric(8,2));"
    code = f"CREATE PROCEDURE p(INOUT p_name text) LANGUAGE plpgsql AS $$ BEGIN {change}; END $$;"
    catalog = steps.survey_texts([ScriptFile("j.sql", f"{table}\n{code}", "")], "postgresql")
    draft = next(
        each for each in steps.assess_catalog(catalog, target).drafts.drafts if each.object.type.value == "procedure"
    )
    assert not draft.is_finished
