"""Simple routines for other targets: on MariaDB they are called, for SQL Server and Oracle their text is read."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import psycopg
import pytest

from hullsound import steps
from hullsound.draft.files import prepare_text
from hullsound.draft.model import Draft
from hullsound.survey.files import ScriptFile
from hullsound.trial.mariadb import root_connection

TSQL = """
CREATE TABLE dbo.Tug (TugID int NOT NULL PRIMARY KEY, TugName varchar(60) NOT NULL, Pull decimal(8,2) NULL,
  Jobs int NOT NULL DEFAULT 0)
GO
CREATE FUNCTION dbo.fnHours (@m int) RETURNS decimal(9,2) AS
BEGIN
  -- negative spans are nothing
  DECLARE @h decimal(9,2)
  IF @m < 0 RETURN NULL
  SET @h = CAST(@m AS decimal(9,2)) / 60
  RETURN @h
END
GO
CREATE FUNCTION dbo.fnLoops (@n int) RETURNS int AS
BEGIN
  DECLARE @i int = 0, @s int = 0
  WHILE @i < @n
  BEGIN
    SET @i += 1
    IF @i = 2 CONTINUE
    IF @i > 5 BREAK
    SET @s += @i
  END
  RETURN @s
END
GO
CREATE FUNCTION dbo.fnBare (@a int) RETURNS int AS
BEGIN
  DECLARE @x int, @y int
  SET @x = 1 IF @a > 0 SET @y = 2 ELSE SET @y = 3
  SET @x = @x + 10
  RETURN @x * 100 + @y
END
GO
CREATE FUNCTION dbo.fnDays (@a date, @b date) RETURNS int AS
BEGIN
  RETURN DATEDIFF(month, @a, @b) * 100 + DATEDIFF(day, @a, DATEADD(week, 1, @a))
END
GO
CREATE PROCEDURE dbo.uspRename @TugID int, @Name varchar(60), @Count int OUTPUT AS
BEGIN
  SET NOCOUNT ON;
  DECLARE @old varchar(60);
  SELECT @old = TugName FROM dbo.Tug WHERE TugID = @TugID;
  IF @old IS NULL
  BEGIN
    RAISERROR('no such tug', 16, 1);
    RETURN;
  END
  UPDATE dbo.Tug SET TugName = @old + ' / ' + @Name, Jobs = Jobs + 1 WHERE TugID = @TugID;
  SELECT @Count = COUNT(*) FROM dbo.Tug WHERE TugName LIKE '%' + @Name + '%';
  SELECT TugName, Jobs FROM dbo.Tug WHERE TugID = @TugID;
END
GO
CREATE PROCEDURE dbo.uspTwice @Count int OUTPUT AS
BEGIN
  EXEC dbo.uspRename 1, 'A', @Count OUTPUT
  PRINT 'done'
END
GO
"""

PLSQL = """
CREATE TABLE piers (pier_id NUMBER(6) PRIMARY KEY, name VARCHAR2(40), depth NUMBER(6,2));
CREATE FUNCTION depth_of(p_id piers.pier_id%TYPE) RETURN NUMBER IS
  l_depth NUMBER(6,2);
BEGIN
  SELECT depth INTO l_depth FROM piers WHERE pier_id = p_id;
  RETURN l_depth;
EXCEPTION WHEN NO_DATA_FOUND THEN RETURN -1;
END;
/
CREATE FUNCTION strict_depth(p_id NUMBER) RETURN NUMBER IS
  l_depth NUMBER(6,2);
BEGIN
  SELECT depth INTO l_depth FROM piers WHERE pier_id = p_id;
  RETURN l_depth;
END;
/
CREATE PROCEDURE deepen(p_by IN NUMBER, p_rows OUT NUMBER, p_names OUT VARCHAR2) IS
BEGIN
  p_names := 'of';
  FOR r IN (SELECT name FROM piers ORDER BY pier_id) LOOP
    p_names := p_names || ' ' || r.name;
  END LOOP;
  FOR i IN REVERSE 1 .. 3 LOOP
    UPDATE piers SET depth = depth + p_by WHERE pier_id = i;
  END LOOP;
  UPDATE piers SET depth = depth + 0.5;
  p_rows := SQL%ROWCOUNT;
  IF p_rows > 9 THEN raise_application_error(-20001, 'too many: ' || p_rows); END IF;
END;
/
"""

PLPGSQL = """
CREATE TABLE crane (id integer PRIMARY KEY, label varchar(40), lift numeric(8,2));
CREATE FUNCTION label_of(p_id integer) RETURNS varchar LANGUAGE plpgsql AS $$
DECLARE v_label varchar(40) := 'none';
BEGIN
  SELECT label INTO v_label FROM crane WHERE id = p_id;
  IF v_label IS NULL THEN RETURN 'missing'; ELSIF v_label = 'x' THEN RAISE EXCEPTION 'crane % is %', p_id, v_label; END IF;
  RETURN v_label;
END $$;
"""


def drafted(text: str, engine: str, target: str) -> tuple[list[Draft], str]:
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], engine)
    case = steps.assess_catalog(catalog, target)
    drafts = steps.draft_case(case)
    left = [(d.object.id, d.outcome.value, d.skipped) for d in drafts.drafts if not d.is_promised or d.skipped]
    assert not left
    return drafts.drafts, prepare_text(drafts, target.partition(":")[0])


@contextmanager
def on_mariadb(socket: Path, text: str, engine: str, rows: str, schema: str) -> Iterator[Any]:
    drafts, before = drafted(text, engine, "mariadb:10.11")
    with root_connection(socket) as connection, connection.cursor() as cursor:
        cursor.execute(f"DROP DATABASE IF EXISTS {schema}")
        cursor.execute(before or f"CREATE DATABASE {schema}")
        cursor.execute(f"USE {schema}")
        for draft in drafts:
            if not draft.text.startswith("-- The table"):
                cursor.execute(draft.text)
        cursor.execute(rows)
        try:
            yield cursor
        finally:
            cursor.execute(f"DROP DATABASE {schema}")


def value(cursor: Any, text: str) -> Any:
    cursor.execute(text)
    return cursor.fetchone()[0]


@pytest.mark.server
def test_transact_sql_on_mariadb(mariadb_socket: Path) -> None:
    rows = "INSERT INTO tug VALUES (1, 'Mole', 10, 0), (2, 'Vole', 5, 3)"
    with on_mariadb(mariadb_socket, TSQL, "sqlserver", rows, "dbo") as cursor:
        assert value(cursor, "SELECT fnhours(90)") == 1.5
        assert value(cursor, "SELECT fnhours(-1)") is None
        assert [value(cursor, f"SELECT fnloops({n})") for n in (1, 4, 9)] == [1, 8, 13]
        assert [value(cursor, f"SELECT fnbare({n})") for n in (1, 0)] == [1102, 1103]
        assert value(cursor, "SELECT fndays('2025-01-31', '2025-03-01')") == 207
        cursor.execute("CALL usprename(2, 'Otter', @n)")
        assert cursor.fetchall() == (("Vole / Otter", 4),)
        cursor.nextset()
        assert value(cursor, "SELECT @n") == 1
        with pytest.raises(Exception, match="no such tug"):
            cursor.execute("CALL usprename(7, 'x', @n)")


@pytest.mark.server
def test_pl_sql_on_mariadb(mariadb_socket: Path) -> None:
    rows = "INSERT INTO piers VALUES (1, 'North', 4), (2, 'South', 6)"
    with on_mariadb(mariadb_socket, PLSQL, "oracle", rows, "piers_office") as cursor:
        assert value(cursor, "SELECT depth_of(2)") == 6
        assert value(cursor, "SELECT depth_of(9)") == -1
        with pytest.raises(Exception, match="no data found"):
            cursor.execute("SELECT strict_depth(9)")
        cursor.execute("CALL deepen(2, @rows, @names)")
        cursor.execute("SELECT @rows, @names, (SELECT SUM(depth) FROM piers)")
        assert cursor.fetchone() == (2, "of North South", 15)


@pytest.mark.server
def test_pl_pgsql_on_mariadb(mariadb_socket: Path) -> None:
    rows = "INSERT INTO crane VALUES (1, 'big', 4), (2, 'x', 6)"
    with on_mariadb(mariadb_socket, PLPGSQL, "postgresql", rows, "public") as cursor:
        assert value(cursor, "SELECT label_of(1)") == "big"
        assert value(cursor, "SELECT label_of(5)") == "missing"
        with pytest.raises(Exception, match="crane 2 is x"):
            cursor.execute("SELECT label_of(2)")


MYSQL = """
CREATE TABLE lift (lift_no INT PRIMARY KEY, tons DECIMAL(8,2), note VARCHAR(40));
DELIMITER //
CREATE FUNCTION price(p_tons DECIMAL(8,2)) RETURNS DECIMAL(10,2) DETERMINISTIC
BEGIN
  DECLARE v_base DECIMAL(10,2) DEFAULT 50;
  CASE WHEN p_tons > 10 THEN SET v_base = 75; ELSE SET v_base = v_base + p_tons; END CASE;
  RETURN v_base;
END//
CREATE FUNCTION both_set(p INT) RETURNS INT DETERMINISTIC
BEGIN
  DECLARE a, b INT DEFAULT 7;
  IF p > 0 THEN SET a = 1, b = a + 2; ELSE SET a = 4, b = 5; END IF;
  RETURN a * 10 + b;
END//
CREATE PROCEDURE add_lift(IN p_no INT, IN p_tons DECIMAL(8,2), OUT p_count INT)
BEGIN
  DECLARE v_i INT DEFAULT 0;
  IF p_tons < 0 THEN SIGNAL SQLSTATE '45000' SET MESSAGE_TEXT = 'negative'; END IF;
  INSERT INTO lift (lift_no, tons) VALUES (p_no, p_tons);
  REPEAT SET v_i = v_i + 1; UNTIL v_i >= 3 END REPEAT;
  SELECT COUNT(*) INTO p_count FROM lift;
  SELECT lift_no, tons FROM lift WHERE tons > v_i;
END//
DELIMITER ;
"""


def text_of(name: str, target: str) -> str:
    drafts, _ = drafted(MYSQL, "mysql", target)
    return next(draft.text for draft in drafts if draft.object.name.lower() == name)


def test_mysql_in_transact_sql() -> None:
    assert text_of("price", "sqlserver:2022") == (
        "CREATE FUNCTION price(@p_tons decimal(8,2))\nRETURNS decimal(10,2)\nAS\nBEGIN\n"
        "  DECLARE @v_base decimal(10,2) = 50;\n  IF @p_tons > 10\n  BEGIN\n    SET @v_base = 75;\n  END\n  ELSE\n  BEGIN\n"
        "    SET @v_base = @v_base + @p_tons;\n  END\n  RETURN @v_base;\nEND;"
    )
    text = text_of("add_lift", "sqlserver:2022")
    assert "@p_count int OUTPUT\nAS\nBEGIN\n  SET NOCOUNT ON;" in text
    assert "SET @hs_message = 'negative';\n    THROW 50000, @hs_message, 1;" in text
    assert "WHILE 1 = 1\n  BEGIN\n    SET @v_i = @v_i + 1;\n    IF @v_i >= 3\n    BEGIN\n      BREAK;" in text
    assert "SELECT @p_count = COUNT(*) FROM lift;" in text
    assert "SELECT lift_no, tons FROM lift WHERE tons > @v_i;" in text


def test_comments_stay_where_they_stood() -> None:
    drafts, _ = drafted(TSQL, "sqlserver", "mariadb:10.11")
    text = next(draft.text for draft in drafts if draft.object.name == "FNHOURS")
    assert "  DECLARE v_h decimal(9,2);\n  -- negative spans are nothing\n  IF p_m < 0 THEN" in text
    assert text.count("--") == 1


def test_several_assignments_in_one_statement_keep_their_order() -> None:
    text = text_of("both_set", "oracle:19")
    assert ":= 7;\nBEGIN\n  IF p > 0 THEN\n    a := 1;\n    b := a + 2;\n  ELSE\n" in text
    assert "  ELSE\n    a := 4;\n    b := 5;\n  END IF;" in text


def test_mysql_in_pl_sql() -> None:
    text = text_of("price", "oracle:19")
    assert text.startswith(
        "CREATE OR REPLACE FUNCTION price(p_tons IN number)\nRETURN number\nAS\n"
        "  v_p_tons number(8,2) := ROUND(p_tons, 2);\n  v_base number(10,2) := 50;\nBEGIN"
    )
    assert "  ELSE\n    v_base := v_base + v_p_tons;\n  END IF;\n  RETURN v_base;\nEND;" in text
    text = text_of("add_lift", "oracle:19")
    assert "RAISE_APPLICATION_ERROR(-20000, 'negative');" in text
    assert "<<hs_loop1>>\n  WHILE 1 = 1 LOOP\n    v_i := v_i + 1;\n    IF v_i >= 3 THEN\n      EXIT hs_loop1;" in text
    assert (
        "OPEN hs_result FOR SELECT lift_no, tons FROM lift WHERE tons > v_i;\n  DBMS_SQL.RETURN_RESULT(hs_result);"
        in text
    )


@pytest.mark.parametrize(
    ("engine", "text", "reason"),
    [
        ("sqlserver", "CREATE PROCEDURE p AS BEGIN CREATE TABLE #t (a int) SELECT a FROM #t END", "statement"),
        ("oracle", "CREATE TABLE t (a NUMBER);\nCREATE FUNCTION f RETURN NUMBER IS CURSOR c (a NUMBER) IS SELECT a FROM t; "
         "BEGIN OPEN c (1); RETURN 1; END;", "called like a column"),
        ("oracle", "CREATE PROCEDURE p (c OUT SYS_REFCURSOR) IS n NUMBER; "
         "BEGIN OPEN c FOR SELECT 1 FROM dual; FETCH c INTO n; END;", "reads itself"),
        ("oracle", "CREATE FUNCTION p (t VARCHAR2) RETURN NUMBER IS BEGIN EXECUTE IMMEDIATE 'DELETE FROM ' || t; RETURN 1; END;",
         "run in a function"),
        ("oracle", "CREATE TABLE t (a NUMBER);\nCREATE PROCEDURE p IS r t%ROWTYPE; BEGIN r.a := 1; INSERT INTO t VALUES r; END;",
         "whole row"),
        ("oracle", "CREATE TABLE t (a NUMBER, b NUMBER);\nCREATE FUNCTION f RETURN NUMBER IS a NUMBER; n NUMBER; BEGIN "
         "SELECT b INTO n FROM t WHERE b = a; RETURN n; END;", "column that is read"),
        ("sqlserver", "CREATE TABLE t (a int, b int)\nGO\nCREATE PROCEDURE p AS DECLARE @a int SELECT @a = a FROM t WHERE b > @a",
         "fills a variable it reads itself"),
        ("postgresql", "CREATE TABLE t (a int);\nCREATE PROCEDURE p(INOUT b boolean) LANGUAGE plpgsql AS $$ BEGIN "
         "UPDATE t SET a = 1; b := FOUND OR b; END $$;", "FOUND in an expression"),
        ("oracle", "CREATE FUNCTION g RETURN NUMBER IS BEGIN RETURN 1; END;\n/\n"
         "CREATE FUNCTION f RETURN NUMBER IS n NUMBER; BEGIN n := h; RETURN n; END;", "the name h"),
    ],
)  # fmt: skip
def test_what_is_not_simple_is_not_promised(engine: str, text: str, reason: str) -> None:
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], engine)
    case = steps.assess_catalog(catalog, "mariadb:10.11")
    routine = next(o for o in case.document.objects if o.type in ("procedure", "function") and o.name.lower() != "g")
    assert routine.outcome in ("rewrite", "blocked")
    assert any(reason in f.message for f in case.document.findings if f.construct == "draft.skipped") or any(
        f.way in ("rewrite", "none") for f in case.document.findings if f.object == routine.id
    )


CAUGHT_TSQL = """
CREATE TABLE dbo.Tug (TugID int NOT NULL PRIMARY KEY, TugName varchar(60) NOT NULL)
GO
CREATE TABLE dbo.Log (LogID int IDENTITY PRIMARY KEY, Txt varchar(400))
GO
CREATE PROCEDURE dbo.AddTug @ID int, @Name varchar(60) = 'none' AS
BEGIN
  SET NOCOUNT ON;
  IF EXISTS (SELECT 1 FROM dbo.Tug WHERE TugID = @ID) RETURN 4;
  BEGIN TRY
    BEGIN TRANSACTION;
    INSERT INTO dbo.Tug (TugID, TugName) VALUES (@ID, @Name);
    IF @Name = 'bad' RAISERROR('tug %s has number %d', 16, 1, @Name, @ID);
    COMMIT TRANSACTION;
  END TRY
  BEGIN CATCH
    IF @@TRANCOUNT > 0
      ROLLBACK TRANSACTION;
    DECLARE @msg nvarchar(400) = ERROR_MESSAGE();
    INSERT INTO dbo.Log (Txt) VALUES (@msg);
    ;THROW;
  END CATCH
END
GO
CREATE PROCEDURE dbo.AddTwice @Code int OUTPUT AS
BEGIN
  EXEC dbo.AddTug 7
  EXEC @Code = dbo.AddTug @Name = 'x', @ID = 7
END
GO
"""

CAUGHT_PLSQL = """
CREATE TABLE piers (pier_id NUMBER(9) PRIMARY KEY, name VARCHAR2(40), depth NUMBER(9));
CREATE OR REPLACE FUNCTION depth_at(p_id NUMBER) RETURN NUMBER IS d piers.depth%TYPE; depth NUMBER := 2;
BEGIN
  SELECT depth INTO d FROM piers WHERE pier_id = p_id;
  IF d < 0 THEN RAISE_APPLICATION_ERROR(-20001, 'negative'); END IF;
  RETURN d;
EXCEPTION WHEN NO_DATA_FOUND THEN RETURN -1;
END;
/
CREATE OR REPLACE PROCEDURE add_pier(p_id NUMBER, p_name VARCHAR2) IS n NUMBER(9);
BEGIN
  BEGIN
    SELECT pier_id INTO n FROM piers WHERE name = p_name;
  EXCEPTION WHEN NO_DATA_FOUND THEN n := 0;
  END;
  DECLARE
    extra NUMBER(9) := 10;
  BEGIN
    INSERT INTO piers VALUES (p_id, p_name, n + extra);
  EXCEPTION
    WHEN DUP_VAL_ON_INDEX THEN UPDATE piers SET name = p_name WHERE pier_id = p_id;
    WHEN OTHERS THEN RAISE;
  END;
END;
/
"""


@pytest.mark.server
def test_what_transact_sql_catches_and_returns_on_mariadb(mariadb_socket: Path) -> None:
    with on_mariadb(mariadb_socket, CAUGHT_TSQL, "sqlserver", "INSERT INTO dbo.tug VALUES (1, 'Auk')", "dbo") as cursor:
        cursor.execute("CALL addtug(2, 'Bee', @s)")
        assert value(cursor, "SELECT @s") == 0
        cursor.execute("CALL addtug(1, 'Bee', @s)")
        assert value(cursor, "SELECT @s") == 4
        with pytest.raises(Exception, match="tug bad has number 3"):
            cursor.execute("CALL addtug(3, 'bad', @s)")
        assert value(cursor, "SELECT Txt FROM log") == "tug bad has number 3"
        assert value(cursor, "SELECT COUNT(*) FROM tug") == 2
        cursor.execute("CALL addtwice(@c)")
        cursor.execute("SELECT @c, (SELECT TugName FROM tug WHERE TugID = 7)")
        assert cursor.fetchone() == (4, "none")


@pytest.mark.server
def test_what_pl_sql_catches_on_mariadb(mariadb_socket: Path) -> None:
    text = CAUGHT_PLSQL.replace(" depth NUMBER := 2;", "")
    with on_mariadb(
        mariadb_socket, text, "oracle", "INSERT INTO piers VALUES (1, 'North', 4), (2, 'South', -6)", "piers_office"
    ) as cursor:
        assert value(cursor, "SELECT depth_at(1)") == 4
        assert value(cursor, "SELECT depth_at(9)") == -1
        with pytest.raises(Exception, match="negative"):
            cursor.execute("SELECT depth_at(2)")
        cursor.execute("CALL add_pier(3, 'West')")
        cursor.execute("CALL add_pier(3, 'North')")
        cursor.execute("SELECT name, depth FROM piers WHERE pier_id = 3")
        assert cursor.fetchone() == ("North", 10)


def test_what_transact_sql_catches_in_pl_sql() -> None:
    drafts, _ = drafted(CAUGHT_TSQL, "sqlserver", "oracle:19")
    text = next(draft.text for draft in drafts if draft.object.name == "ADDTUG")
    assert "RAISE_APPLICATION_ERROR(-20000, 'tug ' || v_name || ' has number ' || p_id);" in text
    assert (
        "  EXCEPTION\n    WHEN OTHERS THEN\n      hs_caught := SQLERRM;\n      ROLLBACK;\n      v_msg := SUBSTR(hs_caught, 1, 400);"
        in text
    )
    assert text.endswith("      RAISE;\n  END;\nEND;")
    twice = next(draft.text for draft in drafts if draft.object.name == "ADDTWICE")
    assert "dbo.addtug(7, 'none', hs_status);" in twice and "dbo.addtug(7, 'x', p_code);" in twice


def test_what_pl_sql_catches_in_transact_sql() -> None:
    drafts, _ = drafted(CAUGHT_PLSQL.replace(" depth NUMBER := 2;", ""), "oracle", "sqlserver:2022")
    function = next(draft.text for draft in drafts if draft.object.name == "DEPTH_AT")
    assert "WHERE pier_id = @p_id;\n  IF @@ROWCOUNT = 0\n  BEGIN\n    RETURN -1;" in function
    assert "SET @hs_failed = CAST(@hs_message AS int);" in function
    text = next(draft.text for draft in drafts if draft.object.name == "ADD_PIER")
    assert "IF @hs_rows = 0\n  BEGIN\n    SET @n = 0;\n  END\n  ELSE IF @hs_rows > 1" in text
    assert "IF ERROR_NUMBER() IN (2601, 2627)" in text and "ELSE\n    BEGIN\n      ;THROW;" in text
    assert "SET @extra = 10;\n  BEGIN TRY" in text


def test_a_variable_that_hides_behind_a_column_is_not_promised() -> None:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", CAUGHT_PLSQL, "")], "oracle"), "mariadb:10.11")
    outcome = {each.name.lower(): each.outcome for each in case.document.objects}
    assert outcome["depth_at"] == "rewrite" and outcome["add_pier"] == "confirm"


ANSWERS = """
CREATE TABLE crane (id integer PRIMARY KEY, lift integer);
CREATE FUNCTION cranes_of(p integer) RETURNS bigint LANGUAGE sql STRICT AS $$ SELECT count(*) FROM crane WHERE lift = p $$;
CREATE FUNCTION lift_of(p integer) RETURNS integer LANGUAGE sql AS $$ SELECT lift FROM crane WHERE id = p $$;
CREATE FUNCTION next_of(p integer) RETURNS integer RETURN p + 1;
"""


@pytest.mark.server
def test_functions_in_sql_on_mariadb(mariadb_socket: Path) -> None:
    with on_mariadb(
        mariadb_socket, ANSWERS, "postgresql", "INSERT INTO crane VALUES (1, 4), (2, 4)", "public"
    ) as cursor:
        assert value(cursor, "SELECT cranes_of(4)") == 2
        assert value(cursor, "SELECT cranes_of(NULL)") is None
        assert value(cursor, "SELECT lift_of(9)") is None
        assert value(cursor, "SELECT next_of(lift_of(1))") == 5


TEMPORARY = """
CREATE TABLE dbo.Tug (TugID int IDENTITY PRIMARY KEY, TugName varchar(60) NOT NULL, Pull decimal(8,2))
GO
CREATE PROCEDURE dbo.Heavy @Min decimal(8,2), @New int OUTPUT AS
BEGIN
  IF OBJECT_ID('tempdb..#work') IS NOT NULL DROP TABLE #work
  CREATE TABLE #work (ID int NOT NULL PRIMARY KEY, Name varchar(60), Class int DEFAULT 1)
  DECLARE @list TABLE (N int IDENTITY(1,1), Name varchar(60))
  INSERT INTO #work (ID, Name) SELECT TugID, TugName FROM dbo.Tug WHERE Pull >= @Min
  INSERT INTO @list (Name) SELECT Name FROM #work ORDER BY Name
  SELECT TugID, Pull INTO #copy FROM dbo.Tug WHERE Pull < @Min
  INSERT INTO dbo.Tug (TugName, Pull) VALUES ('extra', 1)
  SET @New = SCOPE_IDENTITY()
  SELECT w.Name, w.Class, l.N, (SELECT COUNT(*) FROM #copy) AS Light FROM #work w JOIN @list l ON l.Name = w.Name
  IF @New > 1 BEGIN DROP TABLE #work END
END
GO
"""


@pytest.mark.server
def test_temporary_tables_on_mariadb(mariadb_socket: Path) -> None:
    rows = "INSERT INTO dbo.tug (TugName, Pull) VALUES ('Auk', 40), ('Bee', 60), ('Cod', 5)"
    with on_mariadb(mariadb_socket, TEMPORARY, "sqlserver", rows, "dbo") as cursor:
        for number in (4, 5):  # the tables of the first call are in the way of none
            cursor.execute("CALL heavy(30, @n)")
            assert sorted(cursor.fetchall()) == [("Auk", 1, 1, number - 3), ("Bee", 1, 2, number - 3)]
            assert value(cursor, "SELECT @n") == number


PACKAGE = """
CREATE TABLE calls (id NUMBER(9) PRIMARY KEY, fee NUMBER(9,2), kind VARCHAR2(4));
CREATE PACKAGE fees IS
  c_base CONSTANT NUMBER := 40;
  c_odd CONSTANT VARCHAR2(10) := 'it''s';
  FUNCTION base(p_kind VARCHAR2 DEFAULT 'A') RETURN NUMBER;
  FUNCTION low RETURN NUMBER;
  PROCEDURE charge(p_id NUMBER, p_fee OUT NUMBER);
END fees;
/
CREATE PACKAGE BODY fees IS
  c_rate CONSTANT NUMBER := 1.5;
  FUNCTION rated(p NUMBER) RETURN NUMBER IS BEGIN RETURN p * c_rate; END rated;
  FUNCTION base(p_kind VARCHAR2 DEFAULT 'A') RETURN NUMBER IS
  BEGIN
    IF p_kind = 'B' THEN RETURN rated(fees.c_base); END IF;
    RETURN c_base;
  END base;
  FUNCTION low RETURN NUMBER IS c_rate NUMBER := 3; BEGIN RETURN c_rate + base; END;
  PROCEDURE note_it(p_id NUMBER) IS BEGIN UPDATE calls SET kind = 'X' WHERE id = p_id; END;
  PROCEDURE charge(p_id NUMBER, p_fee OUT NUMBER) IS
    l_kind calls.kind%TYPE;
  BEGIN
    SELECT kind INTO l_kind FROM calls WHERE id = p_id;
    p_fee := base(l_kind) + base();
    UPDATE calls SET fee = p_fee WHERE id = p_id;
    note_it(p_id);
  END charge;
END fees;
/
CREATE FUNCTION odd RETURN VARCHAR2 IS BEGIN RETURN fees.c_odd || fees.low; END;
/
CREATE PROCEDURE charge_all IS f NUMBER; BEGIN FOR c IN (SELECT id FROM calls) LOOP fees.charge(c.id, f); END LOOP; END;
/
CREATE VIEW v_fees AS SELECT id, fees.base(kind) AS fee FROM calls;
""".replace("c_rate + base;", "c_rate + base('A');")


@pytest.mark.server
def test_packages_on_mariadb(mariadb_socket: Path) -> None:
    rows = "INSERT INTO calls VALUES (1, NULL, 'A'), (2, NULL, 'B')"
    with on_mariadb(mariadb_socket, PACKAGE, "oracle", rows, "package_office") as cursor:
        assert (value(cursor, "SELECT fees_low()"), value(cursor, "SELECT odd()")) == (43, "it's43")
        cursor.execute("SELECT fee FROM v_fees ORDER BY id")
        assert cursor.fetchall() == ((40,), (60,))
        cursor.execute("CALL charge_all")
        cursor.execute("SELECT fee, kind FROM calls ORDER BY id")
        assert cursor.fetchall() == ((80, "X"), (100, "X"))


def test_packages_in_transact_sql() -> None:
    text = PACKAGE.replace("fees.c_odd || fees.low", "fees.c_odd")
    drafts, _ = drafted(text, "oracle", "sqlserver:2022")
    body = next(draft.text for draft in drafts if draft.object.type == "package body")
    assert body.count("\nGO\n\nCREATE ") == 4 and "@p_kind nvarchar(max) = 'A'" in body
    assert "SET @p_fee = dbo.fees_base(@l_kind) + dbo.fees_base(DEFAULT);" in body


@pytest.mark.parametrize(
    ("change", "waiting"),
    [
        (("c_rate CONSTANT NUMBER := 1.5", "c_rate NUMBER(5,2) := 1.5"), {"v_fees", "fees"}),
        (("c_base CONSTANT NUMBER := 40", "c_base CONSTANT NUMBER(3) := 40.66"), {"v_fees", "fees"}),
        (("kind VARCHAR2(4)", "kind VARCHAR2(4), c_rate NUMBER(5)"), {"v_fees", "fees"}),
        (("c_odd CONSTANT VARCHAR2(10) := 'it''s'", "c_odd CONSTANT VARCHAR2(10) := ''"), {"odd"}),
        (("CREATE FUNCTION odd", "CREATE PROCEDURE fees_low IS BEGIN NULL; END;\n/\nCREATE FUNCTION odd"), {"v_fees", "fees"}),
    ],
)  # fmt: skip
def test_what_keeps_a_package_keeps_what_uses_it(change: tuple[str, str], waiting: set[str]) -> None:
    text = PACKAGE.replace(*change)
    assert text != PACKAGE
    catalog = steps.survey_texts([ScriptFile("a.sql", text, "")], "oracle")
    case = steps.assess_catalog(catalog, "mariadb:10.11")
    assert waiting <= {each.name.lower() for each in case.document.objects if each.outcome == "rewrite"}


NUMBERS_AS_TEXTS = """
CREATE FUNCTION half RETURN NUMBER IS BEGIN RETURN 0.50; END;
/
CREATE FUNCTION half_text RETURN VARCHAR2 IS BEGIN RETURN half; END;
/
CREATE FUNCTION joined RETURN VARCHAR2 IS BEGIN RETURN 'x' || half || half(); END;
/
CREATE FUNCTION kept RETURN VARCHAR2 IS n NUMBER := 2.50; s VARCHAR2(20) := n; BEGIN RETURN s || ';' || n; END;
/
CREATE PACKAGE piles IS FUNCTION listed RETURN VARCHAR2; FUNCTION counted RETURN NUMBER; END;
/
CREATE PACKAGE BODY piles IS
  FUNCTION listed RETURN VARCHAR2 IS l VARCHAR2(40); BEGIN l := l || 'a' || counted; RETURN l; END;
  FUNCTION counted RETURN NUMBER IS l NUMBER := 1.50; BEGIN RETURN l; END;
END;
/
"""
AS_TEXTS = {"half_text": ".5", "joined": "x.5.5", "kept": "2.5;2.5", "piles_listed": "a1.5"}


@pytest.mark.server
def test_numbers_that_become_texts_on_mariadb(mariadb_socket: Path) -> None:
    with on_mariadb(mariadb_socket, NUMBERS_AS_TEXTS, "oracle", "SELECT 1", "texts_office") as cursor:
        assert {name: value(cursor, f"SELECT {name}()") for name in AS_TEXTS} == AS_TEXTS


@pytest.mark.server
def test_numbers_that_become_texts_on_postgresql(server_url: str) -> None:
    drafts, before = drafted(NUMBERS_AS_TEXTS, "oracle", "postgresql:18")
    with psycopg.connect(server_url) as connection:
        connection.execute((before + "\n".join(draft.text for draft in drafts)).encode())
        found = {
            name: connection.execute(f"SELECT {name.replace('_listed', '.listed')}()".encode()).fetchone()
            for name in AS_TEXTS
        }
        connection.rollback()
    assert found == {name: (text,) for name, text in AS_TEXTS.items()}


def test_numbers_that_become_texts_for_sql_server() -> None:
    drafts, _ = drafted(NUMBERS_AS_TEXTS, "oracle", "sqlserver:2022")
    texts = {draft.object.name.lower(): draft.text for draft in drafts if draft.is_finished}
    assert {*texts} == {"half", "half_text", "joined", "kept", "piles"}
    form = f"'#.{'#' * 28}', 'en-US'"  # FORMAT writes a float with 15 digits, and without zeros at its ends
    assert f"RETURN CASE WHEN dbo.half() = 0 THEN '0' ELSE FORMAT(dbo.half(), {form}) END;" in texts["half_text"]
    assert texts["joined"].count(f"FORMAT(dbo.half(), {form})") == 2


def test_an_overloaded_function_has_no_type_of_its_own() -> None:
    text = (
        "CREATE PACKAGE p IS FUNCTION f(x NUMBER) RETURN NUMBER; FUNCTION f(x VARCHAR2) RETURN VARCHAR2; END;\n/\n"
        "CREATE PACKAGE BODY p IS FUNCTION f(x NUMBER) RETURN NUMBER IS BEGIN RETURN x; END; "
        "FUNCTION f(x VARCHAR2) RETURN VARCHAR2 IS BEGIN RETURN x; END; END;\n/\n"
        "CREATE TABLE t (b VARCHAR2(9));\nCREATE VIEW v AS SELECT 'x' || p.f(b) AS s FROM t;\n"
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "oracle"), "postgresql:18")
    view = next(draft for draft in steps.draft_case(case).drafts if draft.object.type == "view")
    assert "trim_scale" not in view.text


NUMBERED = """
CREATE TABLE berths (id NUMBER(9) GENERATED BY DEFAULT AS IDENTITY PRIMARY KEY, name VARCHAR2(30), fee NUMBER(8,2) DEFAULT 0);
CREATE TABLE journal (what VARCHAR2(100));
CREATE OR REPLACE PROCEDURE add_berth(p_name IN VARCHAR2, p_id OUT NUMBER) IS
BEGIN
  INSERT INTO berths (name) VALUES (p_name) RETURNING id INTO p_id;
END;
/
CREATE OR REPLACE PROCEDURE judge(p_pct NUMBER) IS
  e_low EXCEPTION;
  e_high EXCEPTION;
BEGIN
  BEGIN
    IF p_pct = 5 THEN RAISE e_low; END IF;
  EXCEPTION WHEN OTHERS THEN INSERT INTO journal (what) VALUES ('any');
  END;
  IF p_pct < 0 THEN RAISE e_low; ELSIF p_pct > 100 THEN RAISE e_high; END IF;
  INSERT INTO journal (what) VALUES ('fine');
EXCEPTION
  WHEN e_low THEN INSERT INTO journal (what) VALUES ('low');
  WHEN NO_DATA_FOUND OR e_high THEN RAISE_APPLICATION_ERROR(-20001, 'too high');
END;
/
"""


@pytest.mark.server
def test_numbers_of_new_rows_and_declared_errors_on_mariadb(mariadb_socket: Path) -> None:
    rows = "INSERT INTO berths (name) VALUES ('North')"
    with on_mariadb(mariadb_socket, NUMBERED, "oracle", rows, "berth_office") as cursor:
        cursor.execute("CALL add_berth('South', @id)")
        assert value(cursor, "SELECT CONCAT(id, name) FROM berths WHERE id = @id") == "2South"
        for pct in (-1, 5, 50):
            cursor.execute(f"CALL judge({pct})")
        assert value(cursor, "SELECT GROUP_CONCAT(what) FROM journal") == "low,any,fine,fine"
        with pytest.raises(Exception, match="too high"):
            cursor.execute("CALL judge(101)")


def draft_of(text: str, engine: str, target: str, name: str) -> str:
    """Return the draft of an object, on one line; '' if it is not promised."""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), target)
    (draft,) = (d for d in case.drafts.drafts if d.object.name.upper() == name.upper() and d.object.routines)
    return " ".join(draft.text.split()) if draft.is_promised and draft.is_finished else ""


def test_numbers_of_new_rows_for_engines_that_run_nowhere_here() -> None:
    assert "INSERT INTO berths (name) VALUES (@p_name); SET @p_id = SCOPE_IDENTITY();" in draft_of(
        NUMBERED, "oracle", "sqlserver:2022", "add_berth"
    )
    tsql = """CREATE TABLE dbo.berths (id int IDENTITY PRIMARY KEY, name varchar(30))
GO
CREATE PROCEDURE dbo.add_berth @name varchar(30), @id int OUTPUT AS
BEGIN INSERT INTO dbo.berths (name) VALUES (@name); SET @id = SCOPE_IDENTITY() END
GO
CREATE PROCEDURE dbo.late @name varchar(30), @id int OUTPUT AS
BEGIN INSERT INTO dbo.berths (name) VALUES (@name); DELETE FROM dbo.berths WHERE id = 1; SET @id = SCOPE_IDENTITY() END
GO
CREATE PROCEDURE dbo.merged AS
MERGE dbo.berths AS b USING (SELECT 1 AS i, 'a' AS n) AS s ON b.id = s.i WHEN MATCHED AND b.name <> s.n THEN UPDATE SET name = s.n
WHEN NOT MATCHED BY TARGET THEN INSERT (name) VALUES (s.n);
GO
"""
    assert "VALUES (v_name) RETURNING id INTO p_id;" in draft_of(tsql, "sqlserver", "oracle:19", "add_berth")
    assert not draft_of(tsql, "sqlserver", "oracle:19", "late")
    merged = draft_of(tsql, "sqlserver", "oracle:19", "merged")
    assert (
        "ON (b.id = s.i) WHEN MATCHED THEN UPDATE SET name = s.n WHERE lower(rtrim(b.name)) <> lower(rtrim(s.n)) "
        "WHEN NOT MATCHED THEN INSERT" in merged
    )
    assert "THROW 51002, @hs_message, 1;" in draft_of(NUMBERED, "oracle", "sqlserver:2022", "judge")


def test_truth_values_of_mysql_are_compared_where_conditions_are_no_values() -> None:
    text = """CREATE TABLE t (id int PRIMARY KEY);
DELIMITER $$
CREATE PROCEDURE q(IN a BOOL, IN b INT) BEGIN
  DECLARE x BOOL DEFAULT TRUE;
  WHILE x DO SET x = FALSE; END WHILE;
  IF NOT (a OR b) THEN DELETE FROM t; END IF;
END$$
DELIMITER ;
"""
    assert "WHILE x <> 0 LOOP" in draft_of(text, "mysql", "oracle:19", "q")
    assert "IF NOT ((@a <> 0) OR (@b <> 0))" in draft_of(text, "mysql", "sqlserver:2022", "q")


def test_db2_cuts_what_it_passes() -> None:
    script = """CREATE FUNCTION tenfold(p DECIMAL(5,2)) RETURNS INTEGER LANGUAGE SQL RETURN p * 10@
CREATE PROCEDURE give (IN p DECIMAL(9,4), OUT d DECIMAL(5,1)) LANGUAGE SQL
BEGIN
  DECLARE c CURSOR FOR SELECT p FROM SYSIBM.SYSDUMMY1;
  OPEN c;
  FETCH c INTO d;
END@
"""
    assert "v_p number(5,2) := TRUNC(p, 2);" in draft_of(script, "db2", "oracle:19", "tenfold")
    assert "p := CAST(trunc(p, 2) AS numeric(5,2));" in draft_of(script, "db2", "postgresql:18", "tenfold")
    assert "SELECT trunc(p, 1)" in draft_of(script, "db2", "postgresql:18", "give")
    assert "SELECT ROUND(@p, 1, 1)" in draft_of(script, "db2", "sqlserver:2022", "give")
