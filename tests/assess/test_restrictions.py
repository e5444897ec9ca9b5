"""What a target refuses though most engines take it: found for that target, and silent for the others."""

import shutil

import psycopg
import pymysql
import pytest

from hullsound import steps
from hullsound.assess.widths import LARGE, width_of
from hullsound.knowledge.load import load_constructs
from hullsound.steps import Case
from hullsound.survey.files import ScriptFile

COMMON = ("queries.toml", "joins-and-rows.toml", "extensions.toml")
"""Files of constructs/common."""
NUMBER = {"oracle": "NUMBER(9)"}
TEXT = {"oracle": "CLOB", "sqlserver": "varchar(max)"}


def case_of(engine: str, target: str, statement: str) -> Case:
    number, text = NUMBER.get(engine, "int"), TEXT.get(engine, "text")
    end = "\nGO\n" if engine == "sqlserver" else "\n//\n" if engine == "mysql" else ";\n"
    head = "DELIMITER //\n" if engine == "mysql" else ""
    tables = (
        f"CREATE TABLE a (id {number} PRIMARY KEY, b {number}, c varchar(20), t {text}, parent {number})",
        f"CREATE TABLE d (id {number} PRIMARY KEY, b {number})",
    )
    script = head + "".join(f"{each}{end}" for each in (*tables, statement))
    return steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target)


def ways(case: Case) -> dict[str, str]:
    return {f.construct.partition(".")[2]: f.way for f in case.document.findings}


@pytest.mark.parametrize(
    ("construct", "engine", "target", "way", "silent", "statement"),
    [
        ("join-using", "mysql", "sqlserver", "confirm", "postgresql", "CREATE VIEW v AS SELECT a.c FROM a JOIN d USING (id)"),
        ("natural-join", "postgresql", "sqlserver", "confirm", "oracle", "CREATE VIEW v AS SELECT a.c FROM a NATURAL JOIN d"),
        ("row-in", "oracle", "sqlserver", "confirm", "postgresql",
         "CREATE VIEW v AS SELECT c FROM a WHERE (id, b) IN (SELECT id, b FROM d)"),
        ("row-equal", "mysql", "oracle", "rewrite", "postgresql", "CREATE VIEW v AS SELECT c FROM a WHERE (id, b) = (1, 2)"),
        ("row-ordered", "postgresql", "oracle", "rewrite", "mysql", "CREATE VIEW v AS SELECT c FROM a WHERE (id, b) < (1, 2)"),
        ("predicate-as-value", "postgresql", "oracle", "draft", "mysql", "CREATE VIEW v AS SELECT id, b > 1 AS big FROM a"),
        ("predicate-as-value", "mysql", "sqlserver", "draft", "oracle:23", "CREATE VIEW v AS SELECT id, b > 1 AS big FROM a"),
        ("distinct-in-window", "oracle", "postgresql", "rewrite", "",
         "CREATE VIEW v AS SELECT COUNT(DISTINCT b) OVER (PARTITION BY c) AS n FROM a"),
        ("own-table-in-update", "postgresql", "mysql", "rewrite", "mariadb",
         "UPDATE a SET b = 1 WHERE id IN (SELECT parent FROM a)"),
        ("own-table-in-delete", "oracle", "mariadb:10.11", "rewrite", "mariadb:11.4",
         "DELETE FROM a WHERE id IN (SELECT parent FROM a)"),
        ("order-in-view", "mysql", "sqlserver", "confirm", "postgresql", "CREATE VIEW v AS SELECT b FROM a ORDER BY id"),
        ("group-by-place", "mysql", "sqlserver", "draft", "postgresql",
         "CREATE VIEW v AS SELECT c, COUNT(*) AS n FROM a GROUP BY 1"),
        ("limit-in-subquery", "oracle", "mysql", "draft", "postgresql",
         "CREATE VIEW v AS SELECT b FROM a WHERE id IN (SELECT id FROM d FETCH FIRST 5 ROWS ONLY)"),
        ("rows-of-values", "mysql", "oracle:19", "draft", "oracle:23", "INSERT INTO d VALUES (1, 2), (3, 4)"),
        ("select-without-from", "postgresql", "oracle:19", "draft", "oracle:23", "CREATE VIEW v AS SELECT 1 AS x"),
        ("large-object-compared", "mysql", "oracle", "rewrite", "postgresql", "CREATE VIEW v AS SELECT id FROM a WHERE t = 'x'"),
        ("large-object-compared", "sqlserver", "oracle", "rewrite", "mysql", "CREATE VIEW v AS SELECT DISTINCT t FROM a"),
        ("function-changes-rows", "mysql", "sqlserver", "rewrite", "postgresql",
         "CREATE FUNCTION f() RETURNS int BEGIN INSERT INTO d VALUES (1, 1); RETURN 1; END"),
        ("trigger-reads-own-table", "mysql", "oracle", "rewrite", "postgresql",
         "CREATE TRIGGER tr BEFORE INSERT ON a FOR EACH ROW SET NEW.b = (SELECT MAX(b) FROM a)"),
        ("trigger-changes-own-table", "sqlserver", "mysql", "rewrite", "postgresql",
         "CREATE TRIGGER tr ON a AFTER INSERT AS UPDATE a SET b = 1 WHERE id = 3"),
        ("date-against-text", "oracle", "postgresql", "confirm", "",
         "CREATE TABLE s (d DATE)\n;\nCREATE VIEW v AS SELECT d FROM s WHERE d > '01-JAN-24'"),
        ("padded-text", "oracle", "mysql", "confirm", "sqlserver",
         "CREATE TABLE s (d CHAR(9))\n;\nCREATE VIEW v AS SELECT LENGTH(d) AS n FROM s"),
        ("unique-text-index", "mysql", "postgresql", "confirm", "mariadb", "CREATE UNIQUE INDEX ux ON a (c)"),
        ("greatest", "postgresql", "mysql", "confirm", "", "CREATE VIEW v AS SELECT GREATEST(b, parent) AS g FROM a"),
        ("text-tells-case", "postgresql", "mysql", "confirm", "oracle", "CREATE VIEW v AS SELECT id FROM a WHERE c = 'X'"),
        ("text-tells-case", "oracle", "sqlserver", "confirm", "postgresql", "CREATE TABLE u (code VARCHAR2(9) UNIQUE)"),
        ("whole-average", "sqlserver", "postgresql", "draft", "", "CREATE VIEW v AS SELECT AVG(b) AS m FROM a"),
    ],
)  # fmt: skip
def test_restriction(construct: str, engine: str, target: str, way: str, silent: str, statement: str) -> None:
    assert ways(case_of(engine, target, statement)).get(construct) == way
    assert not silent or construct not in ways(case_of(engine, silent, statement))


@pytest.mark.parametrize(
    ("engine", "target", "statement", "written"),
    [
        ("mysql", "sqlserver", "CREATE VIEW v AS SELECT c, COUNT(*) AS n FROM a GROUP BY 1", "GROUP BY c"),
        ("mysql", "oracle:19", "CREATE VIEW v AS SELECT 1 AS x", "SELECT 1 AS x FROM DUAL"),
        ("mysql", "oracle:19", "INSERT INTO d VALUES (1, 2), (3, 4)", "VALUES (1, 2);\nINSERT INTO d VALUES (3, 4)"),
        ("oracle", "mysql", "CREATE VIEW v AS SELECT b FROM a WHERE id IN (SELECT id FROM d FETCH FIRST 5 ROWS ONLY)",
         "IN (SELECT * FROM (SELECT id FROM d  LIMIT 5) AS hs_limited)"),
        ("sqlserver", "postgresql", "CREATE VIEW v AS SELECT AVG(b) AS m FROM a", "CAST(trunc(AVG(b)) AS bigint)"),
        ("sqlserver", "mysql", "CREATE VIEW v AS SELECT AVG(b) AS m FROM a", "TRUNCATE(AVG(b), 0)"),
        ("oracle", "sqlserver", "CREATE VIEW v AS SELECT AVG(b) AS m FROM a", "AVG(CAST(b AS decimal(38, 10)))"),
        ("postgresql", "sqlserver", "CREATE VIEW v AS SELECT AVG(DISTINCT b) AS m FROM a",
         "AVG(DISTINCT CAST(b AS decimal(38, 10)))"),
        ("postgresql", "mysql", "CREATE VIEW v AS SELECT b ^ 2 AS m FROM a", "POWER(b, 2)"),
        ("postgresql", "oracle", "CREATE VIEW v AS SELECT b % 2 AS m FROM a", "MOD(b, 2)"),
        ("postgresql", "mysql", "CREATE VIEW v AS SELECT length(c) AS m FROM a", "CHAR_LENGTH(c)"),
        ("postgresql", "oracle", r"CREATE VIEW v AS SELECT b FROM a WHERE c LIKE 'a\_b'", r"LIKE 'a\_b' ESCAPE '\'"),
        ("mysql", "sqlserver", "CREATE VIEW v AS SELECT b FROM a WHERE c LIKE 'a[b]'", "LIKE 'a[[]b]'"),
        ("mysql", "postgresql", "CREATE VIEW v AS SELECT b--1 AS m FROM a", "b- -1"),
    ],
)  # fmt: skip
def test_draft_goes_round_a_restriction(engine: str, target: str, statement: str, written: str) -> None:
    case = case_of(engine, target, statement)
    text = next(d.text for d in case.drafts.drafts if d.object.type in ("view", "change", "data"))
    assert "rewrite" not in {o.outcome for o in case.document.objects}
    assert " ".join(written.split()) in " ".join(text.split())


def table(engine: str, target: str, text: str) -> dict[str, list[str]]:
    end = "\nGO\n" if engine == "sqlserver" else ";\n"
    script = "".join(f"{each}{end}" for each in text.split(";"))
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), target)
    found: dict[str, list[str]] = {}
    for each in case.document.findings:
        if each.construct.startswith("limit."):
            found.setdefault(each.construct, []).append(each.object)
    return found


COLUMNS = ", ".join(f"c{number} int" for number in range(1010))
KEYS = ", ".join(f"c{number}" for number in range(17))
CASCADE = "ON DELETE CASCADE"


@pytest.mark.parametrize(
    ("engine", "target", "text", "found"),
    [
        ("postgresql", "oracle", f"CREATE TABLE w ({COLUMNS})", {"limit.columns": ["public.table.w"]}),
        ("postgresql", "sqlserver", f"CREATE TABLE w ({COLUMNS})", {}),
        ("postgresql", "mysql", f"CREATE TABLE w ({COLUMNS});CREATE INDEX wx ON w ({KEYS})",
         {"limit.key-columns": ["public.index.wx"]}),
        ("postgresql", "mariadb", f"CREATE TABLE w ({COLUMNS});CREATE INDEX wx ON w ({KEYS})", {}),
        ("postgresql", "mysql", "CREATE TABLE w (a varchar(769) PRIMARY KEY)", {"limit.key-bytes": ["public.constraint.w_pk"]}),
        ("postgresql", "mysql", "CREATE TABLE w (a varchar(768) PRIMARY KEY)", {}),
        ("postgresql", "oracle", "CREATE TABLE w (a varchar(3000) PRIMARY KEY)", {}),
        ("postgresql", "oracle", "CREATE TABLE w (a text PRIMARY KEY, b text)", {"limit.large-key": ["public.constraint.w_pk"]}),
        ("postgresql", "sqlserver", "CREATE TABLE w (id int, a text);CREATE INDEX wx ON w (a);CREATE INDEX wy ON w (lower(a))",
         {"limit.large-key": ["public.index.wx"]}),
        ("mysql", "oracle", "CREATE TABLE w (id int PRIMARY KEY, a text, KEY (a(20)))", {}),
        ("postgresql", "oracle", "CREATE TABLE w (a varchar(1000), b varchar(1000), PRIMARY KEY (a, b))",
         {"limit.key-bytes": ["public.constraint.w_pk"]}),
        ("postgresql", "mysql", "CREATE TABLE w (a varchar(9000), b varchar(9000))", {"limit.row-bytes": ["public.table.w"]}),
        ("mysql", "sqlserver", "CREATE TABLE w (a varchar(7000), b varchar(7000))", {}),
        ("mysql", "sqlserver", f"CREATE TABLE w ({', '.join(f'a{n} char(250)' for n in range(20))})",
         {"limit.row-bytes": ["table.w"]}),
        ("oracle", "sqlserver", "CREATE TABLE w (id NUMBER(9) PRIMARY KEY, a VARCHAR2(9) UNIQUE)",
         {"limit.one-null": ["constraint.w_a_uk"]}),
        ("oracle", "sqlserver", "CREATE TABLE w (id NUMBER(9) PRIMARY KEY, a VARCHAR2(9) NOT NULL UNIQUE)", {}),
        ("mysql", "postgresql", "CREATE TABLE w (b int, g int AS (b + 1) STORED, h int AS (g + 1) STORED)",
         {"limit.generated-of-generated": ["table.w"]}),
        ("mysql", "mariadb", "CREATE TABLE w (b int, g int AS (b + 1) STORED, h int AS (g + 1) STORED)", {}),
        ("postgresql", "sqlserver", f"CREATE TABLE p (id int PRIMARY KEY, up int REFERENCES p (id) {CASCADE})",
         {"limit.cascades": ["public.constraint.p_up_fk"]}),
        ("postgresql", "sqlserver",
         f"CREATE TABLE p (id int PRIMARY KEY);CREATE TABLE q (id int PRIMARY KEY, p int REFERENCES p (id) {CASCADE});"
         f"CREATE TABLE r (p int REFERENCES p (id) {CASCADE}, q int REFERENCES q (id) {CASCADE})",
         {"limit.cascades": ["public.constraint.r_q_fk"]}),
        ("postgresql", "sqlserver",
         f"CREATE TABLE p (id int PRIMARY KEY);CREATE TABLE q (id int PRIMARY KEY, p int REFERENCES p (id) {CASCADE});"
         f"CREATE TABLE r (p int REFERENCES p (id), q int REFERENCES q (id) {CASCADE})", {}),
    ],
)  # fmt: skip
def test_limit(engine: str, target: str, text: str, found: dict[str, list[str]]) -> None:
    assert table(engine, target, text) == found


@pytest.mark.parametrize(
    ("kind", "bytes_", "width"),
    [("varchar(10)", 4, 40), ("nvarchar(10)", 2, 20), ("varchar(10)", 2, 10), ("nvarchar(max)", 2, LARGE), ("longtext", 4, LARGE),
     ("varchar2(10 BYTE)", 4, 10), ("varchar2(10 CHAR)", 4, 40), ("int", 4, 4), ("decimal(9,2)", 4, 9), ("geometry", 4, 0)],
)  # fmt: skip
def test_width(kind: str, bytes_: int, width: int) -> None:
    assert width_of(kind, bytes_) == width


@pytest.mark.server
def test_postgresql_refuses_what_is_said_and_takes_the_rest(server_url: str) -> None:
    """Where PostgreSQL says nothing to what most engines take, it takes the example; what it is said to refuse it refuses."""
    setup = (
        "CREATE TEMP TABLE vessels (vessel_id int, name text, status text, flag text)",
        "CREATE TEMP TABLE port_calls (vessel_id int, status text)",
        "CREATE TEMP TABLE berths (berth_id int, name text)",
    )
    common = [c for c in load_constructs("postgresql").values() if c.file in COMMON]
    for construct in common:
        with psycopg.connect(server_url) as connection:
            for statement in setup:
                connection.execute(statement)
            text = construct.example.replace("CREATE VIEW", "CREATE TEMP VIEW").replace("note_it", "pg_temp.note_it")
            if construct.id == "postgresql.distinct-in-window":
                with pytest.raises(psycopg.errors.FeatureNotSupported):
                    connection.execute(text)
            else:
                connection.execute(text)
            connection.rollback()
    assert len(common) > 12


REFUSED_BY_MARIADB = [
    ("SELECT COUNT(DISTINCT b) OVER (PARTITION BY c) AS n FROM a", 1235),
    ("SELECT b FROM a WHERE id IN (SELECT id FROM d ORDER BY id LIMIT 5)", 1235),
    ("SELECT b FROM a WHERE id IN (SELECT * FROM (SELECT id FROM d ORDER BY id LIMIT 5) AS hs_limited)", 0),
    ("UPDATE a SET b = 1 WHERE id IN (SELECT parent FROM a)", 0),
    ("INSERT INTO a VALUES (1, 1, 'x', 1)", 1442),
    ("SELECT a.b FROM a JOIN d USING (id)", 0),
    ("SELECT b FROM a WHERE (id, b) < (1, 2)", 0),
    ("SELECT c, COUNT(*) AS n FROM a GROUP BY 1", 0),
    (f"CREATE TABLE w ({', '.join(f'c{n} int' for n in range(1018))})", 1005),
    ("CREATE TABLE w (a varchar(769) CHARACTER SET utf8mb4 PRIMARY KEY)", 1071),
    ("CREATE TABLE w (a varchar(9000), b varchar(9000)) CHARACTER SET utf8mb4", 1118),
]
"""Statements and the number of the error that MariaDB gives, 0 for none."""


@pytest.mark.server
@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
def test_mariadb_refuses_what_is_said() -> None:
    from hullsound.trial.mariadb import private_mariadb, root_connection

    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:
        for each in (
            "CREATE DATABASE restrictions", "USE restrictions", "CREATE TABLE a (id int, b int, c varchar(9), parent int)",
            "CREATE TABLE d (id int)", "CREATE TRIGGER tr AFTER INSERT ON a FOR EACH ROW UPDATE a SET b = 1",
        ):  # fmt: skip
            cursor.execute(each)
        for statement, error in REFUSED_BY_MARIADB:
            try:
                cursor.execute(statement)
                number = 0
            except pymysql.Error as raised:
                number = raised.args[0]
            assert number == error, statement
