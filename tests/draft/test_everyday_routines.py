"""Everyday forms of routines for targets that run nowhere here: what each becomes, and what is left to a person.

What is right comes from the manuals of Oracle 19c, SQL Server 2022 and MySQL 8.4; the modules under test name the chapters.
"""

# ruff: noqa: E501 - a case to a line reads best

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TSQL = """
CREATE TABLE dbo.quay (id int IDENTITY(1,1) PRIMARY KEY, name varchar(40) NULL, uses int NOT NULL DEFAULT 0, label AS (name + '!'));
GO
CREATE TABLE dbo.fee (id int PRIMARY KEY, amount decimal(9,2) NOT NULL, since datetime NOT NULL);
GO
CREATE SEQUENCE dbo.fee_no AS int START WITH 1;
GO
"""
ORACLE = """
CREATE TABLE quay (id NUMBER(9) PRIMARY KEY, name VARCHAR2(40) NOT NULL, uses NUMBER(6) DEFAULT 0 NOT NULL, tons NUMBER);
"""
POSTGRESQL = "CREATE TABLE quay (id int PRIMARY KEY, name varchar(40) NOT NULL, uses int);\n"


def drafted(engine: str, body: str, target: str) -> tuple[str, bool]:
    """Return the draft of a routine or view called `p` on one line, and whether it is promised."""
    scripts = {
        "sqlserver": TSQL,
        "oracle": ORACLE,
        "postgresql": POSTGRESQL,
        "mysql": POSTGRESQL,
    }
    ending = {"sqlserver": "\nGO\n", "oracle": "\n/\n"}.get(engine, "\n")
    text = f"{scripts[engine]}{body}{ending}"
    if engine == "mysql":
        text = f"{scripts[engine]}DELIMITER //\n{body} //\nDELIMITER ;\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), target)
    draft = next(
        each
        for each in case.drafts.drafts
        if each.object.name.lower().endswith("p") and each.object.name.lower()[:2] == "p"
    )
    return " ".join(draft.text.split()), draft.is_promised and draft.is_finished


def tsql(statements: str, declared: str = "") -> str:
    return f"CREATE PROCEDURE dbo.p {declared} AS BEGIN {statements} END"


def psm(statements: str, declared: str = "") -> str:
    return f"CREATE PROCEDURE p({declared}) BEGIN {statements} END"


def plpgsql(statements: str) -> str:
    return (
        "CREATE FUNCTION p(n int) RETURNS varchar LANGUAGE plpgsql AS "
        f"$$ DECLARE v varchar(40); BEGIN {statements} END $$;"
    )


WRITTEN = [
    ("sqlserver", tsql("SET @s += @t;", "@s varchar(50), @t varchar(9)"), "mysql:8.4", "SET p_s = LEFT(CONCAT(p_s, p_t), 50);"),
    ("sqlserver", tsql("SET @s += 'x';", "@s varchar(50)"), "oracle:19", "v_s := SUBSTR(v_s || 'x', 1, 50);"),
    ("sqlserver", tsql("SET @n += 2;", "@n int"), "oracle:19", "v_n number(10) := p_n; BEGIN v_n := v_n + (2);"),
    ("sqlserver", tsql("INSERT INTO dbo.quay VALUES ('a', 1);"), "oracle:19", "INSERT INTO dbo.quay (name, uses) VALUES ('a', 1);"),
    ("sqlserver", tsql("INSERT INTO dbo.quay VALUES ('a', 1);"), "mysql:8.4", "INSERT INTO dbo.quay (name, uses) VALUES ('a', 1);"),
    ("sqlserver", tsql("DECLARE @d datetime = '2024-01-05'; UPDATE dbo.fee SET since = @d;"), "oracle:19", "v_d := DATE '2024-01-05';"),
    ("sqlserver", tsql("DECLARE @d datetime; SET @d = '2024-01-05 10:30:00'; UPDATE dbo.fee SET since = @d;"), "oracle:19",
     "v_d := TIMESTAMP '2024-01-05 10:30:00';"),
    ("sqlserver", tsql("SET @n = NEXT VALUE FOR dbo.fee_no;", "@n int OUTPUT"), "oracle:19", "p_n := dbo.fee_no.NEXTVAL;"),
    ("sqlserver", tsql("DECLARE @q nvarchar(90) = N'DELETE FROM dbo.fee'; IF @n > 1 SET @q = @q + N' WHERE id = 1'; EXEC (@q);", "@n int"),
     "oracle:19", "v_q := SUBSTR(v_q || ' WHERE id = 1', 1, 90); END IF; EXECUTE IMMEDIATE v_q;"),
    ("sqlserver", tsql("WAITFOR DELAY '00:01:02.5';"), "mysql:8.4", "DO SLEEP(62.5);"),
    ("sqlserver", tsql("DELETE TOP (@n + 1) FROM dbo.fee;", "@n int"), "oracle:19", "DELETE FROM dbo.fee WHERE ROWNUM <= (p_n + 1);"),
    ("sqlserver", tsql("DELETE TOP (@n + 1) FROM dbo.fee;", "@n int"), "mysql:8.4",
     "SET hs_limit1 = (p_n + 1); DELETE FROM dbo.fee LIMIT hs_limit1;"),
    ("sqlserver", tsql("UPDATE dbo.quay SET uses = 1; IF @@ROWCOUNT > 0 PRINT 'x' ELSE INSERT INTO dbo.quay (name, uses) VALUES ('y', @@ROWCOUNT);"),
     "mysql:8.4", "SET hs_rows_changed = ROW_COUNT(); IF hs_rows_changed > 0 THEN"),
    ("sqlserver", tsql("UPDATE dbo.quay SET uses = 1; INSERT INTO dbo.quay (name, uses) VALUES ('y', @@ROWCOUNT);"),
     "oracle:19", "hs_rows_changed := SQL%ROWCOUNT; INSERT INTO dbo.quay (name, uses) VALUES ('y', hs_rows_changed);"),
    ("sqlserver", tsql("SELECT name FROM dbo.quay WHERE name = @s OR name LIKE 'A%';", "@s varchar(9)"), "oracle:19",
     "v_s varchar2(9 char) := SUBSTR(p_s, 1, 9); hs_result SYS_REFCURSOR; BEGIN OPEN hs_result FOR SELECT name FROM dbo.quay "
     "WHERE lower(rtrim(name)) = lower(rtrim(v_s)) OR lower(name) LIKE 'a%'"),
    ("sqlserver", tsql("SET @x = @y;", "@x decimal(5,2) OUTPUT, @y decimal(9,4), @c char(2) OUTPUT"), "oracle:19",
     "v_y number(9,4) := ROUND(p_y, 4); BEGIN p_x := ROUND(p_x, 2); p_c := SUBSTR(p_c, 1, 2); p_x := ROUND(v_y, 2);"),
    ("mysql", "CREATE PROCEDURE p(IN a DECIMAL(5,1), OUT b DECIMAL(5,2)) BEGIN DECLARE v_a INT; SET v_a = 1; SELECT a / 3 INTO b; END",
     "oracle:19", "v_a_given number(5,1) := ROUND(a, 1); v_a number(10); BEGIN"),
    ("sqlserver", tsql("UPDATE dbo.quay SET name = @s;", "@s varchar(9)"), "postgresql:18",
     "BEGIN p_s := CAST(p_s AS varchar(9)); UPDATE dbo.quay SET name = p_s;"),
    ("sqlserver", "CREATE FUNCTION dbo.p (@s char(3)) RETURNS TABLE AS RETURN (SELECT id FROM dbo.quay WHERE name = @s)", "postgresql:18",
     "WHERE lower(rtrim(name)) = lower(rtrim(CAST(p_s AS char(3))))"),
    ("postgresql", "CREATE VIEW p AS SELECT format('%s%% of %s', uses, name) AS t FROM quay;", "mysql:8.4",
     "CONCAT(COALESCE(uses, ''), '% of ', COALESCE(name, '')) AS t"),
    ("postgresql", "CREATE VIEW p AS SELECT format('%s of %s', uses, name) AS t FROM quay;", "oracle:19", "(uses || ' of ' || name) AS t"),
    ("postgresql", "CREATE VIEW p AS SELECT format('%s', name) AS t FROM quay;", "sqlserver:2022", "CONCAT(name, '') AS t"),
    ("sqlserver", tsql("SELECT uses, COUNT(*) AS n FROM dbo.quay GROUP BY uses WITH ROLLUP;"), "oracle:19", "GROUP BY ROLLUP (uses)"),
    ("sqlserver", tsql("SELECT id FROM dbo.quay ORDER BY id OFFSET (@n - 1) * @m ROWS FETCH NEXT @m ROWS ONLY;", "@n int, @m int"),
     "postgresql:18", "OFFSET ((p_n - 1) * p_m) ROWS FETCH NEXT p_m ROWS ONLY"),
    ("sqlserver", "CREATE TABLE dbo.p (n int NOT NULL, price decimal(9,2) NOT NULL, total AS (n * price) PERSISTED);", "mariadb:10.11",
     "total decimal(20,2)"),
    ("sqlserver", "CREATE FUNCTION dbo.p (@n int) RETURNS int AS BEGIN IF @n <= 1 RETURN 1; RETURN @n * dbo.p(@n - 1); END", "oracle:19",
     "RETURN p_n * dbo.p(p_n - 1);"),
    ("sqlserver", tsql("SET @s = 'y';", "@n int, @s varchar(9) = 'x' OUTPUT"), "oracle:19",
     "-- Callers must give what had a default: p_s = 'x' CREATE OR REPLACE PROCEDURE dbo.p(p_n IN number, p_s IN OUT varchar2)"),
    ("oracle", "CREATE FUNCTION p (n NUMBER) RETURN NUMBER IS BEGIN IF n <= 1 THEN RETURN 1; END IF; RETURN n * p(n - 1); END;",
     "sqlserver:2022", "RETURN @n * dbo.p(@n - 1);"),
    ("oracle", "CREATE FUNCTION p (n NUMBER) RETURN VARCHAR2 IS v VARCHAR2(40); BEGIN SELECT DISTINCT name INTO v FROM quay WHERE uses = 1; "
     "RETURN v; END;", "mysql:8.4", "SELECT DISTINCT name INTO v FROM quay"),
    ("oracle", "CREATE FUNCTION p (n NUMBER) RETURN VARCHAR2 IS v VARCHAR2(40); BEGIN SELECT name INTO v FROM quay WHERE ROWNUM = 1; "
     "RETURN v; END;", "sqlserver:2022", "SELECT TOP (1) @v = name FROM quay"),
    ("oracle", "CREATE VIEW p AS SELECT * FROM (SELECT id FROM quay ORDER BY id) WHERE ROWNUM <= 3;", "mysql:8.4",
     "FROM (SELECT id FROM quay ORDER BY id LIMIT 3) AS hs_rows1"),
    ("oracle", "CREATE VIEW p AS SELECT * FROM (SELECT id FROM quay ORDER BY id) WHERE ROWNUM < 4;", "sqlserver:2022",
     "FROM (SELECT TOP (3) id FROM quay ORDER BY id) AS hs_rows1"),
    ("oracle", "CREATE VIEW p AS SELECT COUNT(*) AS n FROM quay WHERE uses = 2 AND ROWNUM <= 9;", "sqlserver:2022",
     "SELECT COUNT(*) AS n FROM (SELECT TOP (9) 1 AS hs_one FROM quay WHERE uses = 2) AS hs_rows"),
    ("oracle", "CREATE VIEW p AS SELECT RPAD(name, 9) AS r FROM quay;", "mysql:8.4", "RPAD(name, 9, ' ')"),
    ("oracle", "CREATE VIEW p AS SELECT LPAD(name, 9, '*') AS r FROM quay;", "sqlserver:2022",
     "CASE WHEN (LEN(name + 'x') - 1) >= 9 THEN LEFT(name, 9) ELSE LEFT(REPLICATE('*', 9), 9 - (LEN(name + 'x') - 1)) + name END"),
    ("postgresql", "CREATE FUNCTION p(n int) RETURNS varchar(40) LANGUAGE plpgsql AS $$ DECLARE v varchar(40); BEGIN "
     "SELECT name INTO v FROM quay ORDER BY id LIMIT 1; RETURN v; END $$;", "oracle:19", "INTO v FROM quay ORDER BY id FETCH NEXT 1 ROWS ONLY;"),
    ("postgresql", plpgsql("SELECT name INTO v FROM quay WHERE uses > n ORDER BY id; IF NOT FOUND THEN RETURN 'none'; END IF; RETURN v;"), "sqlserver:2022",
     "SELECT TOP (1) @v = name FROM quay WHERE uses > @n ORDER BY id; SET @hs_rows_changed = @@ROWCOUNT; "
     "IF NOT @hs_rows_changed > 0 BEGIN RETURN 'none'; END RETURN @v;"),
    ("postgresql", plpgsql("SELECT INTO v name FROM quay WHERE uses = n ORDER BY id LIMIT 1; RETURN v;"), "sqlserver:2022",
     "SELECT TOP (1) @v = name FROM quay"),
    ("postgresql", "CREATE FUNCTION p(n int) RETURNS boolean LANGUAGE plpgsql AS $$ BEGIN DELETE FROM quay WHERE id = n; RETURN FOUND; END $$;",
     "mysql:8.4", "SET hs_rows_changed = ROW_COUNT(); RETURN (hs_rows_changed > 0);"),
    ("postgresql", plpgsql("CASE n WHEN 1, 2 THEN v := 'low'; ELSE v := 'top'; END CASE; RETURN v;"), "sqlserver:2022", "IF @n IN (1, 2)"),
    ("postgresql", plpgsql("CASE n WHEN 1, 2 THEN v := 'low'; ELSE v := 'top'; END CASE; RETURN v;"), "oracle:19", "IF n IN (1, 2) THEN"),
    ("postgresql", plpgsql("FOR i IN 1..n LOOP CONTINUE WHEN i = 2; v := v || 'x'; END LOOP; RETURN v;"), "mysql:8.4",
     "hs_loop1_round: BEGIN IF i = 2 THEN LEAVE hs_loop1_round; END IF; SET v = CONCAT(v, 'x'); END hs_loop1_round; SET i = i + 1;"),
    ("postgresql", plpgsql("FOR i IN 1..n LOOP CONTINUE WHEN i = 2; v := v || 'x'; END LOOP; RETURN v;"), "oracle:19",
     "IF i = 2 THEN GOTO hs_loop1_round; END IF; v := v || 'x'; <<hs_loop1_round>> i := i + 1;"),
    ("postgresql", plpgsql("FOR i IN 1..n LOOP CONTINUE WHEN i = 2; v := v || 'x'; END LOOP; RETURN v;"), "sqlserver:2022",
     "hs_loop1_next: SET @hs_jumped = 1; SET @i = @i + 1;"),
    ("oracle", "CREATE PROCEDURE p (n NUMBER) IS v NUMBER; BEGIN v := 1 / n; EXCEPTION WHEN ZERO_DIVIDE THEN v := 0; END;", "sqlserver:2022",
     "IF ERROR_NUMBER() IN (8134)"),
    ("postgresql", plpgsql("DELETE FROM quay WHERE id = n; IF FOUND AND n > 4 THEN RETURN 'x'; END IF; RETURN v;"), "oracle:19",
     "hs_rows_changed := SQL%ROWCOUNT; IF hs_rows_changed > 0 AND n > 4 THEN"),
    ("postgresql", plpgsql("DELETE FROM quay WHERE id > 4; GET DIAGNOSTICS n = ROW_COUNT; RETURN v;"), "mysql:8.4",
     "SET hs_rows_changed = ROW_COUNT(); SET n = hs_rows_changed;"),
    ("postgresql", plpgsql("SELECT name INTO v FROM quay WHERE id = uses; RETURN v;"), "mysql:8.4", "FROM quay WHERE id = uses LIMIT 1;"),
    ("postgresql", plpgsql("SELECT coalesce(max(name), 'x') INTO v FROM quay WHERE uses = n; RETURN v;"), "mysql:8.4",
     "SELECT coalesce(max(name), 'x') INTO v FROM quay WHERE uses = n;"),
    ("postgresql", plpgsql("SELECT max(name) INTO v FROM quay HAVING max(uses) > n; RETURN v;"), "mysql:8.4", "HAVING max(uses) > n LIMIT 1;"),
    ("postgresql", plpgsql("SELECT n + 1 INTO n; IF NOT FOUND THEN RETURN 'none'; END IF; RETURN v;"), "mysql:8.4",
     "SET n = n + 1; SET hs_rows_changed = 1; IF NOT hs_rows_changed > 0 THEN"),
    ("postgresql", plpgsql("SELECT n + 1 INTO v; RETURN v;"), "oracle:19", "BEGIN v := n + 1; RETURN v; END;"),
    ("postgresql", plpgsql("FOR i IN REVERSE n..1 LOOP v := v || 'x'; END LOOP; RETURN v;"), "sqlserver:2022",
     "SET @i = @n; SET @hs_end1 = 1; WHILE @i >= @hs_end1"),
    ("postgresql", plpgsql("DELETE FROM quay WHERE id = n; RETURN v; EXCEPTION WHEN unique_violation THEN RETURN 'no';"), "oracle:19",
     "EXCEPTION WHEN DUP_VAL_ON_INDEX THEN RETURN 'no';"),
    ("postgresql", "CREATE FUNCTION p(n numeric(6,2)) RETURNS numeric(6,2) LANGUAGE plpgsql AS $$ BEGIN RETURN n * 1.5; END $$;", "mysql:8.4",
     "RETURNS decimal(65,30)"),
    ("mysql", psm("DECLARE EXIT HANDLER FOR 1062 SET n = 1; INSERT INTO quay (id, name) VALUES (1, 'x');", "OUT n int"), "oracle:19",
     "EXCEPTION WHEN DUP_VAL_ON_INDEX THEN n := 1;"),
    ("mysql", psm("DECLARE dup CONDITION FOR 1062; DECLARE EXIT HANDLER FOR dup DELETE FROM quay; INSERT INTO quay (id, name) VALUES (1, 'x');"),
     "sqlserver:2022", "IF ERROR_NUMBER() IN (2601, 2627) BEGIN DELETE FROM quay;"),
    ("mysql", psm("DECLARE CONTINUE HANDLER FOR 1062 SET n = 1; INSERT INTO quay (id, name) VALUES (1, 'x'); DELETE FROM quay;", "OUT n int"),
     "oracle:19", "BEGIN INSERT INTO quay (id, name) VALUES (1, 'x'); EXCEPTION WHEN DUP_VAL_ON_INDEX THEN n := 1; END;"),
    ("mysql", psm("DECLARE m varchar(99); DECLARE EXIT HANDLER FOR SQLEXCEPTION BEGIN GET DIAGNOSTICS CONDITION 1 m = MESSAGE_TEXT; END; DELETE FROM quay;"),
     "sqlserver:2022", "SET @m = ERROR_MESSAGE();"),
    ("mysql", psm("WHILE n < (SELECT COUNT(*) FROM quay) DO SET n = n + 1; END WHILE;", "INOUT n int"), "oracle:19",
     "SELECT CASE WHEN n < (SELECT COUNT(*) FROM quay) THEN 1 ELSE 0 END INTO hs_test FROM dual; IF hs_test = 0 THEN EXIT hs_loop1; END IF;"),
    ("mysql", psm("IF n = 1 THEN DELETE FROM quay; ELSEIF EXISTS (SELECT 1 FROM quay) THEN UPDATE quay SET uses = 1; END IF;", "n int"),
     "oracle:19", "ELSE SELECT CASE WHEN EXISTS (SELECT 1 FROM quay) THEN 1 ELSE 0 END INTO hs_test FROM dual; IF hs_test = 1 THEN"),
    ("mysql", psm("TRUNCATE TABLE quay;"), "oracle:19", "EXECUTE IMMEDIATE 'TRUNCATE TABLE quay';"),
    ("mysql", psm("TRUNCATE TABLE quay;"), "sqlserver:2022", "TRUNCATE TABLE quay;"),
    ("mysql", "CREATE FUNCTION p(a varchar(9), b varchar(9)) RETURNS int DETERMINISTIC RETURN (a = b) + (b = 'x')", "sqlserver:2022",
     "((CASE WHEN @a = @b THEN 1 WHEN NOT (@a = @b) THEN 0 END)) + ((CASE WHEN @b = 'x' THEN 1 WHEN NOT (@b = 'x') THEN 0 END))"),
    ("mysql", "CREATE FUNCTION p(a varchar(9), n int) RETURNS varchar(99) DETERMINISTIC RETURN REPEAT(a, n)", "sqlserver:2022",
     "REPLICATE(@a, CASE WHEN @n < 0 THEN 0 ELSE @n END)"),
    ("mysql", "CREATE FUNCTION p(a varchar(9), b varchar(9)) RETURNS int DETERMINISTIC RETURN LOCATE(a, b)", "sqlserver:2022",
     "CASE WHEN DATALENGTH(@a) = 0 AND @b IS NOT NULL THEN 1 ELSE CHARINDEX(@a, @b) END"),
]  # fmt: skip
LEFT = [
    ("postgresql", "CREATE VIEW p AS SELECT format('%1$s', name) AS t FROM quay;", "mysql:8.4"),
    ("postgresql", "CREATE VIEW p AS SELECT format('%s', uses * 1.5) AS t FROM quay;", "mysql:8.4"),
    ("postgresql", "CREATE VIEW p AS SELECT format('%s', name) AS t FROM quay;", "oracle:19"),
    ("sqlserver", tsql("SET @d += 0.5;", "@d datetime OUTPUT"), "oracle:19"),
    ("sqlserver", tsql("SET @n /= 2;", "@n int OUTPUT"), "mysql:8.4"),
    ("sqlserver", "CREATE FUNCTION dbo.p (@d datetime) RETURNS int AS BEGIN RETURN CAST(@d AS int); END", "oracle:19"),
    ("sqlserver", "CREATE FUNCTION dbo.p (@d datetime) RETURNS int AS BEGIN RETURN CAST(@d AS int); END", "mysql:8.4"),
    ("sqlserver", "CREATE FUNCTION dbo.p (@n int) RETURNS int AS BEGIN IF @n <= 1 RETURN 1; RETURN @n * dbo.p(@n - 1); END", "mysql:8.4"),
    ("sqlserver", tsql("INSERT INTO dbo.quay (name, uses) VALUES (ERROR_MESSAGE(), 1);"), "mysql:8.4"),
    ("oracle", "CREATE VIEW p AS SELECT id FROM (SELECT id, uses FROM quay ORDER BY id) WHERE uses = 1 AND ROWNUM <= 3;", "mysql:8.4"),
    ("postgresql", plpgsql("FOR i IN 1..n LOOP DELETE FROM quay WHERE id = i; END LOOP; IF FOUND THEN RETURN 'x'; END IF; RETURN v;"), "mysql:8.4"),
    ("postgresql", "CREATE FUNCTION p(n int) RETURNS boolean LANGUAGE plpgsql AS $$ BEGIN DELETE FROM quay WHERE id = n; RETURN NOT FOUND; END $$;",
     "mysql:8.4"),
    ("postgresql", plpgsql("SELECT name INTO v FROM quay WHERE uses = n ORDER BY id LIMIT 5; RETURN v;"), "mysql:8.4"),
    ("postgresql", plpgsql("SELECT name INTO v FROM quay WHERE uses = n FOR UPDATE; RETURN v;"), "mysql:8.4"),
    ("postgresql", plpgsql("INSERT INTO quay (id, name) VALUES (n, 'x'); INSERT INTO quay (id, name) VALUES (n + 1, 'y'); RETURN v; "
     "EXCEPTION WHEN OTHERS THEN RETURN 'failed';"), "mysql:8.4"),
    ("postgresql", plpgsql("FOR n IN 1..3 LOOP v := v || 'x'; END LOOP; RETURN v || n;"), "mysql:8.4"),
    ("postgresql", plpgsql("FOR i IN 1..n LOOP FOR i IN 1..2 LOOP v := v || 'x'; END LOOP; END LOOP; RETURN v;"), "mysql:8.4"),
    ("postgresql", plpgsql("SELECT 'x' INTO v WHERE n > 3; RETURN v;"), "sqlserver:2022"),
    ("sqlserver", tsql("SELECT @n = 1 WHERE @n > 3;", "@n int OUTPUT"), "oracle:19"),
    ("postgresql", plpgsql("FOR i IN 1..9 LOOP i := i + 1; END LOOP; RETURN v;"), "mysql:8.4"),
    ("postgresql", plpgsql("FOR i IN 1..9 BY n LOOP v := v || 'x'; END LOOP; RETURN v;"), "mysql:8.4"),
    ("postgresql", plpgsql("FOR r IN SELECT count(*) FROM quay LOOP v := v || r.count; END LOOP; RETURN v;"), "oracle:19"),
    ("postgresql", "CREATE FUNCTION p(c char(4)) RETURNS int LANGUAGE plpgsql AS $$ BEGIN RETURN length(c); END $$;", "mysql:8.4"),
    ("oracle", "CREATE PROCEDURE p IS TYPE t IS TABLE OF NUMBER; l t; BEGIN SELECT id BULK COLLECT INTO l FROM quay; END;", "mysql:8.4"),
]  # fmt: skip


@pytest.mark.parametrize(("engine", "body", "target", "text"), WRITTEN, ids=lambda value: value[:50])
def test_what_is_written(engine: str, body: str, target: str, text: str) -> None:
    written, is_promised = drafted(engine, body, target)
    assert text in written
    assert is_promised


@pytest.mark.parametrize(("engine", "body", "target"), LEFT, ids=lambda value: value[:50])
def test_what_is_left_to_a_person(engine: str, body: str, target: str) -> None:
    assert not drafted(engine, body, target)[1]
