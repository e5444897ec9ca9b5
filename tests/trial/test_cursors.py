"""Cursors and loops over rows in drafts for other targets: MariaDB runs them, Oracle and SQL Server are read back."""

from typing import Any

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile

ORACLE = """
CREATE TABLE trip (trip_id NUMBER(10) PRIMARY KEY, ship VARCHAR2(30) NOT NULL, fee NUMBER(10,2));
CREATE TABLE tally (name VARCHAR2(30), total NUMBER(12,2));
CREATE OR REPLACE PROCEDURE sums (p_least NUMBER) IS
  CURSOR c IS SELECT ship, fee FROM trip WHERE fee >= p_least ORDER BY trip_id;
  v_ship VARCHAR2(30); v_fee NUMBER(12,2);
BEGIN
  OPEN c;
  LOOP
    FETCH c INTO v_ship, v_fee;
    EXIT WHEN c%NOTFOUND;
    SELECT MAX(ship) INTO v_ship FROM trip WHERE ship = v_ship;
    INSERT INTO tally VALUES (v_ship, v_fee);
  END LOOP;
  CLOSE c;
  OPEN c;
  FETCH c INTO v_ship, v_fee;
  IF c%FOUND THEN INSERT INTO tally VALUES ('first ' || v_ship, v_fee); END IF;
  CLOSE c;
END;
/
CREATE OR REPLACE PROCEDURE loops IS
  CURSOR c IS SELECT ship, fee FROM trip ORDER BY trip_id;
BEGIN
  FOR r IN c LOOP
    FOR q IN (SELECT trip_id AS n FROM trip WHERE ship = r.ship ORDER BY trip_id) LOOP
      IF q.n > 2 THEN INSERT INTO tally VALUES (r.ship, q.n); END IF;
    END LOOP;
  END LOOP;
END;
/
"""
SQLSERVER = """
CREATE TABLE trip (trip_id int NOT NULL PRIMARY KEY, ship varchar(30), fee decimal(10,2))
GO
CREATE TABLE tally (name varchar(30), total decimal(12,2))
GO
CREATE PROCEDURE sums @least decimal(10,2) AS
BEGIN
  DECLARE @ship varchar(30), @fee decimal(10,2), @n int = 0;
  DECLARE c CURSOR LOCAL FAST_FORWARD FOR SELECT ship, fee FROM trip WHERE fee >= @least ORDER BY trip_id;
  OPEN c;
  FETCH NEXT FROM c INTO @ship, @fee;
  WHILE @@FETCH_STATUS = 0
  BEGIN
    SET @n = @n + 1;
    INSERT INTO tally VALUES (@ship, @fee * @n);
    FETCH NEXT FROM c INTO @ship, @fee;
  END
  CLOSE c;
  DEALLOCATE c;
END
GO
"""
MYSQL = """
CREATE TABLE trip (trip_id INT NOT NULL PRIMARY KEY, ship VARCHAR(30), fee DECIMAL(10,2));
CREATE TABLE tally (name VARCHAR(30), total DECIMAL(12,2));
DELIMITER //
CREATE PROCEDURE sums(IN p_least DECIMAL(10,2))
BEGIN
  DECLARE v_done INT DEFAULT 0;
  DECLARE v_ship VARCHAR(30);
  DECLARE c CURSOR FOR SELECT ship FROM trip WHERE fee >= p_least ORDER BY trip_id;
  DECLARE CONTINUE HANDLER FOR NOT FOUND SET v_done = 1;
  OPEN c;
  read_loop: LOOP
    FETCH c INTO v_ship;
    IF v_done = 1 THEN LEAVE read_loop; END IF;
    INSERT INTO tally VALUES (v_ship, 1);
  END LOOP;
  CLOSE c;
END//
"""
ROWS = "INSERT INTO trip VALUES (1, 'Tern', 10.5), (2, 'Otter', 3), (3, 'Tern', 20), (4, 'Lark', NULL)"


def case_of(script: str, engine: str, target: str) -> Case:
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target)


def routine(case: Case, name: str) -> str:
    draft = next(each for each in steps.draft_case(case).drafts if each.object.name.lower() == name)
    assert draft.outcome in PROMISED, case.document.findings
    return draft.text


@pytest.mark.server
@pytest.mark.parametrize("target", ["mariadb:10.11", "mysql:8.4"])
@pytest.mark.parametrize(
    ("engine", "script", "call", "rows"),
    [
        ("oracle", ORACLE, "CALL sums(5)", "Tern\t10.50\nTern\t20.00\nfirst Tern\t10.50"),
        ("oracle", ORACLE, "CALL sums(100)", ""),
        ("oracle", ORACLE, "CALL loops()", "Tern\t3.00\nTern\t3.00\nLark\t4.00"),
        ("sqlserver", SQLSERVER, "CALL sums(5)", "Tern\t10.50\nTern\t40.00"),
        ("sqlserver", SQLSERVER, "CALL sums(100)", ""),
    ],
)
def test_rows_are_walked_as_in_the_source(
    engine: str, script: str, call: str, rows: str, target: str, mariadb: Any
) -> None:
    case = case_of(script, engine, target)
    names = [each.name.lower() for each in case.catalog.objects.values() if each.type.value == "procedure"]
    tables = [each.text for each in steps.draft_case(case).drafts if each.object.type.value == "table"]
    start = ["CREATE OR REPLACE DATABASE dbo", "USE dbo", *tables, ROWS, *(routine(case, name) for name in names)]
    assert mariadb.value("\x01".join([*start, call, "SELECT * FROM tally"])) == rows


@pytest.mark.parametrize(
    ("engine", "script", "target", "lines"),
    [
        ("mysql", MYSQL, "oracle:19", ["FETCH c INTO v_ship;", "IF c%NOTFOUND THEN", "v_done := 1;", "EXIT hs_loop1;"]),
        ("mysql", MYSQL, "sqlserver:2022", ["FETCH NEXT FROM c INTO @v_ship;", "IF @@FETCH_STATUS <> 0", "BREAK;"]),
        ("sqlserver", SQLSERVER, "oracle:19", ["FETCH c INTO v_ship, v_fee;", "IF c%FOUND THEN", "WHILE hs_fetch_status = 0 LOOP"]),
        ("oracle", ORACLE, "sqlserver:2022", ["OPEN c;", "SET @hs_c_found = 1;", "IF @hs_c_found = 0", "DEALLOCATE c;"]),
    ],
)  # fmt: skip
def test_rows_are_walked_on_engines_that_do_not_run_here(
    engine: str, script: str, target: str, lines: list[str]
) -> None:
    text = routine(case_of(script, engine, target), "sums")
    at = 0
    for line in lines:
        assert line in text[at:], text
        at = text.index(line, at)


def test_a_loop_keeps_the_order_of_its_rows() -> None:
    text = routine(case_of(ORACLE, "oracle", "sqlserver:2022"), "loops")
    assert text.count("ORDER BY trip_id;") == 2


@pytest.mark.parametrize(
    ("declared", "change"),
    [
        ("CURSOR c IS SELECT fee FROM trip FOR UPDATE", "UPDATE trip SET fee = 1 WHERE CURRENT OF c;"),
        ("CURSOR c (p NUMBER) IS SELECT p FROM trip", ""),
    ],
)
def test_cursors_that_do_more_than_read_are_for_a_person(declared: str, change: str) -> None:
    code = f"BEGIN OPEN c; FETCH c INTO v; {change} CLOSE c; END;"
    script = ORACLE + f"CREATE PROCEDURE odd IS {declared}; v NUMBER;\n{code}\n/\n"
    case = case_of(script, "oracle", "mariadb:10.11")
    odd = next(each for each in case.document.objects if each.name.lower() == "odd")
    assert odd.outcome not in PROMISED
