"""Makes one object of each kind larger and larger, and many objects of each kind, and fits how time and memory grow.

Run: python bench/growth.py [--size 60] [--only TEXT] [--no-memory]
Survey, assessment and drafts of three sizes, each 3.16 times the one before, give the exponent by which CPU seconds and peak memory
grow: 1 is in proportion. Above 1.15 it fails. The chain of references is told apart: counting who depends on whom through a
chain of n grows by itself with n squared.
"""

import argparse
import math
import sys
import time
import tracemalloc
from collections.abc import Callable
from statistics import linear_regression

from hullsound.steps.assess import assess_catalog
from hullsound.steps.scripts import survey_texts
from hullsound.survey.files import ScriptFile

MOST = 1.15
"""The greatest exponent that passes."""
STEP = math.sqrt(10)
NOISE = 0.01
"""Seconds that every run takes, whatever its size."""


def repeated(head: str, piece: Callable[[int], str], tail: str = "") -> Callable[[int], str]:
    return lambda count: head + "".join(map(piece, range(count))) + tail


CASES: dict[str, tuple[str, Callable[[int], str]]] = {
    "Oracle procedure, ROWNUM": ("oracle", repeated(
        "CREATE TABLE t (a NUMBER);\nCREATE PROCEDURE p IS x NUMBER; BEGIN\n",
        lambda i: f"SELECT a INTO x FROM t WHERE a = {i} AND ROWNUM = 1;\n", "END;\n/\n")),
    "Oracle procedure, functions": ("oracle", repeated(
        "CREATE TABLE t (a NUMBER, d DATE);\nCREATE PROCEDURE p IS x NUMBER; BEGIN\n",
        lambda i: f"UPDATE t SET a = NVL(a, {i}), d = SYSDATE - 1 WHERE DECODE(a, 1, 2) = 3;\n", "END;\n/\n")),
    "Oracle view, columns": ("oracle", lambda n: "CREATE TABLE t (a NUMBER);\nCREATE VIEW v AS SELECT " + ", ".join(
        f"DECODE(a, {i}, 'x', 'y') c{i}" for i in range(n)) + " FROM t;\n"),
    "Oracle view, nested": ("oracle", lambda n: "CREATE TABLE t (d DATE);\nCREATE VIEW v AS SELECT "
        + "ADD_MONTHS(" * (n // 12) + "d" + ", 1)" * (n // 12) + " x FROM t;\n"),
    "Oracle table": ("oracle", lambda n: "CREATE TABLE t (" + ", ".join(
        f"c{i} VARCHAR2(30) DEFAULT 'x' CHECK (c{i} <> 'y')" for i in range(n)) + ");\n"),
    "Oracle package": ("oracle", repeated(
        "CREATE PACKAGE BODY p IS\n",
        lambda i: f"PROCEDURE q{i}(a NUMBER) IS b NUMBER; BEGIN b := a + {i}; IF b > 3 THEN q0(b); END IF; END;\n",
        "END;\n/\n")),
    "SQL Server procedure": ("sqlserver", repeated(
        "CREATE TABLE t (a INT, d DATETIME);\nGO\nCREATE PROCEDURE p AS\nDECLARE @x INT\n",
        lambda i: f"SELECT @x = ISNULL(a, {i}) FROM t WHERE a = @x\nIF @x > 3 UPDATE t SET a = @x + 1, d = GETDATE()\n",
        "GO\n")),
    "SQL Server batch": ("sqlserver", repeated("DECLARE @x INT\n", lambda i: f"SELECT @x = {i}\nPRINT @x\n", "GO\n")),
    "MySQL procedure": ("mysql", repeated(
        "CREATE TABLE t (a INT, d DATETIME);\nDELIMITER ;;\nCREATE PROCEDURE p()\nBEGIN\nDECLARE x INT;\n",
        lambda i: f"SELECT IFNULL(a, {i}) INTO x FROM t WHERE a = x LIMIT 1;\nIF x > 3 THEN UPDATE t SET a = x + 1; END IF;\n",
        "END;;\n")),
    "MySQL table with keys": ("mysql", lambda n: "CREATE TABLE t (" + ", ".join(
        f"c{i} INT NOT NULL DEFAULT 1, KEY k{i} (c{i})" for i in range(n)) + ");\n"),
    "Db2 procedure": ("db2", repeated(
        "CREATE TABLE t (a INT, d DATE)@\nCREATE PROCEDURE p() LANGUAGE SQL BEGIN DECLARE x INT;\n",
        lambda i: f"SELECT COALESCE(a, {i}) INTO x FROM t WHERE a = x FETCH FIRST 1 ROW ONLY;\n", "END@\n")),
    "tables": ("oracle", repeated("CREATE TABLE t (a NUMBER(9) PRIMARY KEY);\n", lambda i: (
        f"CREATE TABLE t{i} (a NUMBER(9) PRIMARY KEY, b NUMBER(9) REFERENCES t (a));\nCREATE INDEX i{i} ON t{i} (b);\n"))),
    "tables with columns of one name": ("mysql", repeated("", lambda i: (
        f"CREATE TABLE t{i} (id INT PRIMARY KEY, name VARCHAR(40) COLLATE utf8mb4_bin DEFAULT 'x', n DECIMAL(9,2), d DATETIME);\n"
        f"CREATE VIEW v{i} AS SELECT id, n / 2 AS h FROM t{i} WHERE name = 'Open' AND n > 5 AND d > '2024-01-01';\n"))),
    "texts compared": ("sqlserver", repeated(
        "CREATE TABLE t (a VARCHAR(30), b VARCHAR(30));\nGO\nCREATE PROCEDURE p AS\n",
        lambda i: f"UPDATE t SET b = 'x' WHERE a = 'Open{i}x' AND b LIKE 'A%' OR CHARINDEX('a', b) > 0\n", "GO\n")),
    "empty texts": ("oracle", repeated(
        "CREATE TABLE t (a VARCHAR2(30));\nCREATE PROCEDURE p IS x VARCHAR2(30); BEGIN\n",
        lambda i: "SELECT UPPER(TRIM(a)) INTO x FROM t WHERE TRIM(a) = 'x' GROUP BY TRIM(a);\nx := SUBSTR(x, 2) || LTRIM(x);\n",
        "END;\n/\n")),
    "wide tables": ("oracle", repeated("", lambda i: (
        f"CREATE TABLE w{i} (" + ", ".join(f"c{k} NUMBER({1 + k % 30},{k % 3}) DEFAULT {k}" for k in range(54)) + ");\n"))),
    "a long IN list": ("sqlserver", lambda n: "CREATE TABLE t (a INT);\nGO\nCREATE VIEW v AS SELECT a FROM t WHERE a IN ("
        + ", ".join(str(i) for i in range(20 * n)) + ")\nGO\n"),
    "nested parentheses": ("mysql", lambda n: "CREATE TABLE t (a INT);\nCREATE VIEW v AS SELECT "
        + "(" * (n // 12) + "a" + " + 1)" * (n // 12) + " AS x FROM t;\n"),
    "nested CASE": ("oracle", lambda n: "CREATE TABLE t (a NUMBER);\nCREATE VIEW v AS SELECT "
        + "CASE WHEN a > 1 THEN NVL(a, 2) ELSE " * (n // 12) + "a" + " END" * (n // 12) + " x FROM t;\n"),
    "a long UNION": ("oracle", lambda n: "CREATE TABLE t (a NUMBER);\nCREATE VIEW v AS "
        + " UNION ALL ".join(f"SELECT NVL(a, {i}) x FROM t" for i in range(n)) + ";\n"),
    "many joins": ("sqlserver", lambda n: "CREATE TABLE t (a INT);\nGO\nCREATE VIEW v AS SELECT ISNULL(t0.a, 1) AS x FROM t t0 "
        + " ".join(f"JOIN t t{i} ON t{i}.a = t{i - 1}.a" for i in range(1, n)) + "\nGO\n"),
    "long AND chain": ("mysql", lambda n: "CREATE TABLE t (a INT);\nCREATE VIEW v AS SELECT a FROM t WHERE "
        + " AND ".join(f"IFNULL(a, {i}) <> {i}" for i in range(n)) + ";\n"),
    "procedures": ("sqlserver", repeated("CREATE TABLE t (a INT, d DATETIME);\nGO\n", lambda i: (
        f"CREATE PROCEDURE p{i} @x INT AS BEGIN DECLARE @y INT; SELECT @y = ISNULL(MAX(a), 0) FROM t WHERE a = @x; "
        f"IF @y > {i} UPDATE t SET d = GETDATE() WHERE a = @y; END\nGO\n"))),
    "procedures that call one another": ("oracle", repeated("", lambda i: (
        f"CREATE PROCEDURE p{i} (a NUMBER) IS BEGIN IF a > {i} THEN p{i // 2}(NVL(a, 1)); END IF; END;\n/\n"))),
    "triggers of one table": ("oracle", repeated("CREATE TABLE t (a NUMBER, d DATE);\n", lambda i: (
        f"CREATE TRIGGER g{i} BEFORE INSERT ON t FOR EACH ROW BEGIN :NEW.d := NVL(:NEW.d, SYSDATE); END;\n/\n"))),
    "indexes of one table": ("oracle", repeated("CREATE TABLE t (a NUMBER, b VARCHAR2(9));\n", lambda i: (
        f"CREATE INDEX x{i} ON t (UPPER(b), a);\n"))),
    "views of one table": ("mysql", repeated("CREATE TABLE t (a INT, b VARCHAR(9));\n", lambda i: (
        f"CREATE VIEW v{i} AS SELECT IFNULL(b, 'x') AS b, a / 2 AS h FROM t WHERE a = {i};\n"))),
    "functions of PostgreSQL": ("postgresql", repeated("CREATE TABLE t (a integer);\n", lambda i: (
        f"CREATE FUNCTION f{i}(x integer) RETURNS integer LANGUAGE plpgsql AS $$ DECLARE y integer; BEGIN "
        f"SELECT count(*) INTO y FROM t WHERE a = x; IF NOT FOUND THEN RETURN {i}; END IF; RETURN y; END $$;\n"))),
    "sightings of one construct": ("teradata", repeated("CREATE TABLE t (a INTEGER, d DATE);\n", lambda i: (
        f"CREATE VIEW v{i} AS SEL a, ZEROIFNULL(a) AS z FROM t QUALIFY ROW_NUMBER() OVER (ORDER BY a) = {i};\n"))),
    "text that cannot be read": ("oracle", repeated("", lambda i: f"CREATE WHATEVER w{i} ON (((; \n")),
    "rows": ("mysql", repeated("CREATE TABLE t (a INT, b VARCHAR(9));\n", lambda i: f"INSERT INTO t VALUES ({i}, 'x');\n")),
    "changes of one table": ("mysql", repeated(
        "CREATE TABLE t (a INT);\n",
        lambda i: f"ALTER TABLE t ADD c{i} DATE;\nALTER TABLE t CHANGE c{i} d{i} INT;\nALTER TABLE t DROP COLUMN d{i};\n")),
    "renamed tables": ("mysql", repeated("", lambda i: f"CREATE TABLE t{i} (a INT);\nRENAME TABLE t{i} TO u{i};\n")),
    "synonyms and grants": ("oracle", repeated("", lambda i: (
        f"CREATE TABLE t{i} (a NUMBER);\nCREATE SYNONYM s{i} FOR t{i};\nGRANT SELECT ON t{i} TO clerk;\n"))),
}  # fmt: skip


def run(engine: str, text: str) -> None:
    """Survey, judge and draft a script."""
    case = assess_catalog(survey_texts([ScriptFile("a.sql", text, "")], engine), "postgresql:18")
    assert case.drafts.drafts or "WHATEVER" in text


def seconds(engine: str, text: str) -> float:
    """Return the CPU seconds of a run, the least of three."""
    found = []
    for _ in range(3):
        begun = time.process_time()
        run(engine, text)
        found.append(time.process_time() - begun)
    return min(found)


def megabytes(engine: str, text: str) -> float:
    """Return the most memory that a run holds beyond what is loaded once."""
    tracemalloc.start()
    try:
        run(engine, text)
        return tracemalloc.get_traced_memory()[1] / 1e6
    finally:
        tracemalloc.stop()


def exponent(sizes: list[int], costs: list[float], least: float) -> float:
    """Return the slope of the costs over the sizes, both as logarithms; what every run costs is taken off before."""
    slope, _ = linear_regression([math.log(size) for size in sizes], [math.log(max(cost, least)) for cost in costs])
    return slope


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--size", type=int, default=60)
    parser.add_argument("--only", default="")
    parser.add_argument("--no-memory", action="store_true")
    arguments = parser.parse_args()
    sizes = [round(arguments.size * STEP**step) for step in range(3)]
    worst = 0.0
    print(f"{'':34} {'seconds':>22}  exponent {'megabytes':>20}  exponent")
    for name, (engine, make) in CASES.items():
        if arguments.only.lower() not in name.lower():
            continue
        texts = [make(size) for size in sizes]
        run(engine, make(12))  # what is loaded once is loaded now
        times = [seconds(engine, text) for text in texts]
        in_time = exponent(sizes, times, NOISE)
        line = f"{name:34} {' '.join(f'{each:7.3f}' for each in times)} {in_time:9.2f}"
        in_memory = 0.0
        if not arguments.no_memory:
            held = [megabytes(engine, text) for text in texts]
            in_memory = exponent(sizes, held, 0.1)
            line += f" {' '.join(f'{each:6.1f}' for each in held)} {in_memory:9.2f}"
        worst = max(worst, in_time, in_memory)
        print(line + ("  too much" if max(in_time, in_memory) > MOST else ""), flush=True)
    return 1 if worst > MOST else 0


if __name__ == "__main__":
    sys.exit(main())
