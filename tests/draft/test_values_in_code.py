"""An expression over the row that fires a trigger, or over variables, is drafted as it is over the columns of a table."""

import re
from pathlib import Path
from typing import Final

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile
from hullsound.trial.postgresql import scratch_database
from tests.draft.test_values import TABLES
from tests.statements import end_statement

VALUES: Final = Path(__file__).parents[1] / "data" / "values"
ROW: Final = {"oracle": ":NEW.", "mysql": "NEW.", "sqlite": "NEW.", "postgresql": "NEW."}
VARIABLE: Final = {"oracle": "w_", "mysql": "w_", "sqlserver": "@", "db2": "w_"}
TRIGGERS: Final = {
    "oracle": "CREATE TRIGGER g{n} AFTER UPDATE ON t FOR EACH ROW\nBEGIN\nIF ({e}) IS NOT NULL THEN INSERT INTO lg (x) VALUES (1); "
    "END IF;\nEND;\n/\n",
    "mysql": "CREATE TRIGGER g{n} AFTER UPDATE ON t FOR EACH ROW BEGIN IF ({e}) IS NOT NULL THEN INSERT INTO lg (x) VALUES (1); "
    "END IF; END$$\n",
    "sqlite": "CREATE TRIGGER g{n} AFTER UPDATE ON t WHEN ({e}) IS NOT NULL BEGIN INSERT INTO lg (x) VALUES (1); END;\n",
    "postgresql": "CREATE FUNCTION f{n}() RETURNS trigger LANGUAGE plpgsql AS $x$ BEGIN IF ({e}) IS NOT NULL THEN "
    "INSERT INTO lg (x) VALUES (1); END IF; RETURN NULL; END $x$;\n"
    "CREATE TRIGGER g{n} AFTER UPDATE ON t FOR EACH ROW EXECUTE FUNCTION f{n}();\n",
}
PROCEDURES: Final = {
    "oracle": "CREATE PROCEDURE g{n} IS {d}; BEGIN IF ({e}) IS NOT NULL THEN INSERT INTO lg (x) VALUES (1); END IF; END;\n/\n",
    "mysql": "CREATE PROCEDURE g{n}() BEGIN {d}; IF ({e}) IS NOT NULL THEN INSERT INTO lg (x) VALUES (1); END IF; END$$\n",
    "sqlserver": "CREATE PROCEDURE g{n} AS BEGIN {d}; SET @id = 1; IF ({e}) IS NOT NULL INSERT INTO lg (x) VALUES (1); END\nGO\n",
    "db2": "CREATE PROCEDURE g{n}() BEGIN {d}; IF ({e}) IS NOT NULL THEN INSERT INTO lg (x) VALUES (1); END IF; END@\n",
}
OWN_FORMS: Final = re.compile(r"LPAD\(a|LENGTH\(a\)")
"""Forms that a query and code write apart."""
OF_ROWS: Final = re.compile(
    r"(?i)SELECT|OVER\s*\(|\b(?:SUM|COUNT|AVG|MIN|MAX|LISTAGG|GROUP_CONCAT|STRING_AGG|STDDEV|VARIANCE|MEDIAN)\s*\("
)


def expressions(engine: str) -> list[str]:
    """Return the expressions over one row whose values are known."""
    lines = [line for file in sorted(VALUES.glob(f"{engine}-*.txt")) for line in file.read_text("utf-8").splitlines()]
    found = dict.fromkeys(line.rpartition("=>")[0].strip() for line in lines if "=>" in line and line[:1] != "#")
    return [each for each in found if not OF_ROWS.search(each) and not OWN_FORMS.search(each)]


def columns(engine: str) -> list[str]:
    return re.split(r", (?=[a-z]+ )", TABLES[engine])


def over(expression: str, prefix: str, engine: str) -> str:
    """Put the row, or the mark of a variable, in front of each column, outside of texts."""
    names = "|".join(each.split()[0] for each in columns(engine))
    pieces = re.split(r"('(?:[^']|'')*')", expression)
    pieces[::2] = [re.sub(rf'(?<![.\w:@"])({names})\b(?!\s*\()', rf"{prefix}\1", each) for each in pieces[::2]]
    return "".join(pieces)


def plain(text: str, engine: str) -> str:
    """Return a draft in one line, without the marks of rows and variables."""
    names = "|".join(each.split()[0] for each in columns(engine))
    bare = re.sub(r"(?i)(?<!\w)(?::?NEW\.|hs_new\.)|@hs_new_|:?NEW_", "", " ".join(text.split())).lower()
    return re.sub(rf"(?<![\w'])(?:@w_|@|v_w_|w_|v_)(?=(?:{names})\b)", "", bare)


def compare(engine: str, code: list[str], target: str) -> None:
    """Assert that what is promised of code has the expressions of the views."""
    known = expressions(engine)
    tables = [f"CREATE TABLE t ({TABLES[engine]}, PRIMARY KEY (id))", "CREATE TABLE lg (x int)"]
    views = [f"CREATE VIEW v{n} AS SELECT id FROM t WHERE ({each}) IS NOT NULL" for n, each in enumerate(known)]
    start = {"mysql": "DELIMITER $$\n", "db2": "--#SET TERMINATOR @\n"}.get(engine, "")
    files = [
        ScriptFile("t.sql", "\n".join(end_statement(each, engine) for each in (*tables, *views)) + "\n", ""),
        ScriptFile("u.sql", start + "".join(code), ""),
    ]
    case = steps.assess_catalog(steps.survey_texts(files, engine), target)
    promised = {
        each.object.name.partition("(")[0].rpartition(".")[2].lower(): plain(each.text, engine)
        for each in case.drafts.drafts
        if each.is_promised and each.is_finished
    }
    seen = 0
    for n, each in enumerate(known):
        written = promised.get(f"g{n}")
        if written is None:
            continue
        view = promised.get(f"v{n}", "")
        assert view, f"promised in code alone: {each}"
        assert view.partition(" where ")[2].rpartition(" is not null")[0] in written, each
        seen += 1
    assert seen > len(known) / 2


@pytest.mark.parametrize(
    ("engine", "target"),
    [(e, t) for e in ROW for t in ("postgresql:18", "mariadb:10.11", "sqlserver:2022")
     if t.partition(":")[0] != e and (e, t) != ("mysql", "mariadb:10.11")],
)  # fmt: skip
def test_changed_rows_are_values_like_columns(engine: str, target: str) -> None:
    known = enumerate(expressions(engine))
    compare(engine, [TRIGGERS[engine].format(n=n, e=over(each, ROW[engine], engine)) for n, each in known], target)


@pytest.mark.parametrize(
    ("engine", "target"),
    [("oracle", "postgresql:18"), ("oracle", "mariadb:10.11"), ("mysql", "postgresql:18"), ("mysql", "sqlserver:2022"),
     ("sqlserver", "postgresql:18"), ("sqlserver", "mariadb:10.11"), ("db2", "postgresql:18"), ("db2", "mariadb:10.11")],
)  # fmt: skip
def test_variables_are_values_like_columns(engine: str, target: str) -> None:
    mark, kinds = VARIABLE[engine], [each.replace(" NOT NULL", "") for each in columns(engine)]
    joined = {
        "oracle": f"{'; '.join(mark + each for each in kinds)}",
        "sqlserver": f"DECLARE {', '.join(mark + each for each in kinds)}",
    }
    declared = joined.get(engine, "; ".join(f"DECLARE {mark}{each}" for each in kinds))
    known = enumerate(expressions(engine))
    compare(
        engine, [PROCEDURES[engine].format(n=n, d=declared, e=over(each, mark, engine)) for n, each in known], target
    )


PACKAGE: Final = """
CREATE TABLE tariff (code CHAR(6), rate NUMBER(8,3));
CREATE OR REPLACE PACKAGE pk IS
  total NUMBER(10,2) := 2.50;
  code CHAR(6) := 'ab';
  small NUMBER(4) := 300;
  rate tariff.rate%TYPE := 0.250;
  step CONSTANT NUMBER(4) := 200;
  FUNCTION told RETURN VARCHAR2;
  FUNCTION square RETURN NUMBER;
  FUNCTION part RETURN NUMBER;
END;
/
CREATE OR REPLACE PACKAGE BODY pk IS
  FUNCTION told RETURN VARCHAR2 IS BEGIN RETURN code || total || '/' || rate; END;
  FUNCTION square RETURN NUMBER IS BEGIN RETURN small * small + step * step; END;
  FUNCTION part RETURN NUMBER IS BEGIN RETURN ROUND(small / 7, 2); END;
END;
/
CREATE OR REPLACE FUNCTION apart RETURN NUMBER IS BEGIN RETURN ROUND(pk.small / 7, 2); END;
/
"""


def called(server_url: str, script: str, *statements: str) -> list[str]:
    """Return the row that the last statement gives where all drafts of a script of Oracle are promised and created."""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("p.sql", script, "")], "oracle"), "postgresql:18")
    with scratch_database(server_url) as connection:
        for draft in case.drafts.drafts:
            assert draft.is_promised, draft.object.id
            connection.execute(draft.text.encode())
        for statement in statements[:-1]:
            connection.execute(statement.encode())
        row = connection.execute(statements[-1].encode()).fetchone()
    assert row is not None
    return [str(each) for each in row]


@pytest.mark.server
def test_variables_of_packages_are_values_like_columns(server_url: str) -> None:
    assert called(server_url, PACKAGE, "SELECT pk.told(), pk.square(), pk.part(), apart()") == [
        "ab    2.5/.25",
        "130000",
        "42.86",
        "42.86",
    ]


RECORDS: Final = """
CREATE TABLE t (s NUMBER(4), m NUMBER(10,2), k CHAR(6));
CREATE OR REPLACE FUNCTION of_list RETURN NUMBER IS
  TYPE lt IS TABLE OF NUMBER(4) INDEX BY PLS_INTEGER;
  l lt;
BEGIN
  l(1) := 300;
  RETURN ROUND(l(1) / 7, 2);
END;
/
CREATE OR REPLACE FUNCTION of_record RETURN VARCHAR2 IS
  TYPE rt IS RECORD (s NUMBER(4), m NUMBER(10,2), k CHAR(6));
  r rt;
BEGIN
  r.s := 300; r.m := 2.50; r.k := 'ab';
  RETURN r.m || '/' || r.k || '/' || ROUND(r.s / 7, 1) || '/' || (r.s * r.s);
END;
/
CREATE OR REPLACE FUNCTION of_cursor RETURN VARCHAR2 IS
  CURSOR c IS SELECT s, m, k FROM t;
  r c%ROWTYPE;
BEGIN
  OPEN c; FETCH c INTO r; CLOSE c;
  RETURN r.m || '/' || r.k || '/' || ROUND(r.s / 7, 1) || '/' || (r.s * r.s);
END;
/
"""


@pytest.mark.server
def test_fields_and_elements_are_values_like_columns(server_url: str) -> None:
    query = "INSERT INTO t VALUES (300, 2.5, 'ab'); SELECT of_list(), of_record(), of_cursor()"
    assert called(server_url, RECORDS, *query.split("; ")) == [
        "42.86",
        "2.5/ab    /42.9/90000",
        "2.5/ab    /42.9/90000",
    ]
