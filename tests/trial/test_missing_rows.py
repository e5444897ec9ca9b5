"""Handlers for NOT FOUND answer where they did: on a real MariaDB, and in the texts for targets that do not run here.

What they do comes from "compound SQL (compiled)" of the Db2 SQL Reference and "DECLARE ... HANDLER" of the MySQL manual; drafts of
the latter for PostgreSQL are called in `test_same_behaviour.py`.
"""

import shutil
from collections.abc import Iterator

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

from .office import DATA
from .test_routines_on_mariadb import Server, drafted

needs_mariadb = pytest.mark.skipif(shutil.which("mariadbd") is None, reason="MariaDB is not installed")


@pytest.fixture
def places(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("vacant.sql", "db2", mariadb_socket, "hs_places"):
        server.rows("INSERT INTO places VALUES (1, 'a', 7), (2, 'b', 8)")
        yield server


def texts(file: str, engine: str, target: str) -> dict[str, str]:
    """Return the drafts of a file by the names of their objects."""
    text = (DATA / file).read_text(encoding="utf-8")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile(file, text, "")], engine), target)
    return {draft.object.id.partition(".")[2].partition("(")[0]: draft.text for draft in case.drafts.drafts}


@needs_mariadb
def test_changes_of_no_row_wake_the_handler_of_db2(places: Server) -> None:
    places.rows("CALL rename_all(8)")
    places.rows("CALL rename_all(9)")
    assert places.rows("SELECT msg FROM notes WHERE id = 1") == [("some",), ("none",)]
    for berth in (9, 1, 2):
        places.rows(f"CALL take_away({berth})")
    assert places.rows("SELECT msg FROM notes WHERE id = 2") == [("none",), ("a",), ("none",)]
    assert places.rows("SELECT name FROM places") == [("B!",)]


@needs_mariadb
def test_a_handler_by_its_name_answers_to_each_statement(places: Server) -> None:
    places.rows("INSERT INTO places VALUES (102, 'far', 9)")
    places.rows("CALL first_of(8)")
    places.rows("CALL first_of(7)")
    places.rows("CALL first_of(5)")
    assert places.rows("SELECT * FROM notes") == [(3, "far"), (2, "first"), (-1, "first"), (-1, "first")]


@needs_mariadb
def test_db2_tells_by_variables_how_the_last_statement_ended(places: Server) -> None:
    places.rows("CALL note_all(1)")
    assert places.rows("SELECT * FROM notes") == [(1, "fetched"), (2, "fetched"), (2, "last")]
    places.rows("DELETE FROM notes")
    found = []
    for place in (1, 8, 5):
        places.rows(f"CALL look_for({place}, @rc)")
        found.append(places.value("SELECT @rc"))
    assert found == [100, 0, 100]
    assert places.rows("SELECT * FROM notes") == [(1, "a"), (8, "none"), (5, "none")]


@needs_mariadb
def test_the_number_of_a_new_row_comes_out_of_its_insert(places: Server) -> None:
    places.rows("CALL add_numbered('x', @i)")
    places.rows("CALL add_numbered('y', @i)")
    assert places.value("SELECT @i") == 2
    assert places.rows("SELECT name, berth FROM numbered ORDER BY id") == [("x.", 3), ("y.", 3)]


@pytest.mark.parametrize(
    ("target", "wanted"),
    [
        ("postgresql", "INSERT INTO numbered (name)\nVALUES (nm) RETURNING id INTO new_id;"),
        ("oracle", "INSERT INTO numbered (name) VALUES (nm) RETURNING id INTO new_id;"),
        ("sqlserver", "SET @new_id = SCOPE_IDENTITY();"),
        ("postgresql", "(name, berth) = ("),
        ("oracle", "SET name = nm || '.', berth = 3 WHERE"),
    ],
)
def test_new_rows_give_their_values_in_the_words_of_the_target(target: str, wanted: str) -> None:
    text = texts("vacant.sql", "db2", target)["add_numbered"]
    assert wanted in text, text


@pytest.mark.parametrize(
    ("target", "routine", "wanted"),
    [
        ("sqlserver", "p_cursor_ends", "    THROW 50001, @hs_message, 1;"),
        ("sqlserver", "p_row_again", "INSERT INTO log_entry (what) VALUES ('no more');\n    END\n    INSERT INTO"),
        ("oracle", "p_cursor_ends", "IF c%NOTFOUND THEN\n      RAISE NO_DATA_FOUND;"),
        ("oracle", "p_cursor_inside", "OPEN stays;"),
        ("oracle", "p_errors_and_ends", "WHEN OTHERS THEN\n        done := 1;"),
        ("mysql", "p_cursor_inside", "DECLARE CONTINUE HANDLER FOR NOT FOUND SET at_end = 1;"),
    ],
)
def test_handlers_stand_where_the_row_is_missing(target: str, routine: str, wanted: str) -> None:
    assert wanted in texts("yard.sql", "mariadb" if target == "mysql" else "mysql", target)[routine]


def test_a_cursor_that_a_block_may_leave_open_is_not_drafted() -> None:
    code = """CREATE TABLE t (a INT);
        DELIMITER //
        CREATE PROCEDURE p() BEGIN DECLARE i INT DEFAULT 0;
        WHILE i < 3 DO BEGIN DECLARE v INT; DECLARE c CURSOR FOR SELECT a FROM t;
        DECLARE EXIT HANDLER FOR NOT FOUND SET v = 0; OPEN c; FETCH c INTO v; END; SET i = i + 1; END WHILE; END//
        DELIMITER ;"""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("x.sql", code, "")], "mysql"), "sqlserver")
    messages = [found.message for each in case.assessment.objects for found in each.findings]
    assert any("a block that may leave its cursor open" in each for each in messages)
