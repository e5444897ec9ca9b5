"""Makes one object of each kind ten times as large and asks for at most twelve times the time.

Run: python bench/growth.py [--size 60] [--only TEXT]
Each line says what survey, assessment and drafts take of both sizes, in CPU seconds, and how many times more the larger takes.
The chain of references is told apart: counting who depends on whom through a chain of n grows by itself with n squared.
"""

import argparse
import sys
import time
from collections.abc import Callable

from hullsound.steps.assess import assess_catalog
from hullsound.steps.scripts import survey_texts
from hullsound.survey.files import ScriptFile

MOST = 12.0
NOISE = 0.02
"""Seconds that count for nothing in the smaller of the two."""


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
    "rows": ("mysql", repeated("CREATE TABLE t (a INT, b VARCHAR(9));\n", lambda i: f"INSERT INTO t VALUES ({i}, 'x');\n")),
    "changes of one table": ("mysql", repeated(
        "CREATE TABLE t (a INT);\n",
        lambda i: f"ALTER TABLE t ADD c{i} DATE;\nALTER TABLE t CHANGE c{i} d{i} INT;\nALTER TABLE t DROP COLUMN d{i};\n")),
    "renamed tables": ("mysql", repeated("", lambda i: f"CREATE TABLE t{i} (a INT);\nRENAME TABLE t{i} TO u{i};\n")),
    "synonyms and grants": ("oracle", repeated("", lambda i: (
        f"CREATE TABLE t{i} (a NUMBER);\nCREATE SYNONYM s{i} FOR t{i};\nGRANT SELECT ON t{i} TO clerk;\n"))),
}  # fmt: skip


def cost(engine: str, text: str) -> float:
    """Return the CPU seconds of survey, assessment and drafts."""
    begun = time.process_time()
    catalog = survey_texts([ScriptFile("a.sql", text, "")], engine)
    assert assess_catalog(catalog, "postgresql:18").drafts
    return time.process_time() - begun


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--size", type=int, default=60)
    parser.add_argument("--only", default="")
    arguments = parser.parse_args()
    worst = 0.0
    for name, (engine, make) in CASES.items():
        if arguments.only.lower() not in name.lower():
            continue
        cost(engine, make(12))  # what is loaded once is loaded now
        small, large = (
            min(cost(engine, make(size)) for _ in range(3)) for size in (arguments.size, 10 * arguments.size)
        )
        times = large / max(small, NOISE)
        worst = max(worst, times)
        print(
            f"{name:30} {small:7.3f} s {large:7.3f} s  {times:5.1f} times{'  too much' if times > MOST else ''}",
            flush=True,
        )
    return 1 if worst > MOST else 0


if __name__ == "__main__":
    sys.exit(main())
