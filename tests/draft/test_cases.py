"""Data cases: a file is Oracle source, a divider, and the draft for PostgreSQL. `HULLSOUND_UPDATE=1` rewrites them.

Each file also buys: the real engine accepts the draft, and drafting twice gives the same.
"""

import os
from pathlib import Path
from typing import Any

import pytest

from hullsound import steps
from hullsound.draft.model import DraftSet
from hullsound.draft.write import draft_all
from hullsound.survey.files import ScriptFile

CASES = sorted((Path(__file__).parents[1] / "data" / "drafts").glob("*.sql"))
DIVIDER = "-- becomes ----------------------------------------------------------\n"


def draft(schema: ScriptFile, source: str) -> tuple[steps.Case, DraftSet]:
    case = steps.assess_catalog(
        steps.survey_texts([schema, ScriptFile("case.sql", source, "")], "oracle"), "postgresql:18"
    )
    return case, draft_all(case.catalog, case.assessment)


def rendered(drafts: DraftSet) -> str:
    texts = []
    for each in drafts.drafts:
        if each.object.file == "case.sql":
            skipped = "".join(f"-- line {line}: {reason}\n" for _, line, reason in each.skipped)
            texts.append(f"-- {each.object.id}: {each.outcome.value}\n{skipped}{each.text.strip()}\n")
    return "\n".join(texts)


@pytest.mark.parametrize("path", CASES, ids=lambda p: p.stem)
def test_case(path: Path, example_schema: ScriptFile) -> None:
    source, _, expected = path.read_text(encoding="utf-8").partition(DIVIDER)
    result = rendered(draft(example_schema, source)[1])
    if os.environ.get("HULLSOUND_UPDATE"):
        path.write_text(source + DIVIDER + result, encoding="utf-8")
    else:
        assert result == expected
    assert rendered(draft(example_schema, source)[1]) == result


@pytest.mark.server
@pytest.mark.parametrize("path", CASES, ids=lambda p: p.stem)
def test_case_is_accepted(path: Path, example_schema: ScriptFile, server_url: str) -> None:
    from hullsound.trial.run import run_trial

    case, drafts = draft(example_schema, path.read_text(encoding="utf-8").partition(DIVIDER)[0])
    refused = run_trial(case.catalog, drafts, "postgresql:18", server_url).refused()
    assert not [(r.id, r.message) for r in refused]


BEHAVIOUR: list[tuple[str, str, Any]] = [
    ("nvl and decode", "SELECT NVL(NULL, 'x') || DECODE(NULL, NULL, 'same', 'other') AS r FROM dual", "xsame"),
    ("null concatenation", "SELECT 'a' || NULL || name AS r FROM vessels WHERE vessel_id = 1", "aKittiwake"),
    ("exact division", "SELECT 1/8 AS r FROM dual", "0.125"),
    ("days between", "SELECT departed_at - arrived_at AS r FROM port_calls WHERE call_id = 1", "2.5"),
    (
        "days added",
        "SELECT TO_CHAR(eta + 1.5, 'YYYY-MM-DD HH24') AS r FROM port_calls WHERE call_id = 1",
        "2024-03-02 12",
    ),
    (
        "mixed dates",
        "SELECT TO_CHAR(TRUNC(eta) + 1 + 3/24, 'DD HH24:MI') AS r FROM port_calls WHERE call_id = 1",
        "02 03:00",
    ),
    ("month cut", "SELECT TO_CHAR(TRUNC(eta, 'Q'), 'MM-DD') AS r FROM port_calls WHERE call_id = 1", "01-01"),
    ("last day", "SELECT TO_CHAR(LAST_DAY(eta), 'DD') AS r FROM port_calls WHERE call_id = 1", "31"),
    ("from the end", "SELECT SUBSTR(name, -4, 2) AS r FROM vessels WHERE vessel_id = 1", "wa"),
    ("all matches", "SELECT REGEXP_REPLACE('a1b22', '[0-9]+', '#') AS r FROM dual", "a#b#"),
    (
        "outer join",
        "SELECT COUNT(c.call_id) || '/' || COUNT(*) AS r FROM vessels v, port_calls c "
        "WHERE v.vessel_id = c.vessel_id(+)",
        "1/2",
    ),
    ("row limit", "SELECT COUNT(*) AS r FROM (SELECT name FROM vessels WHERE ROWNUM < 2)", "1"),
    (
        "row limit at the end",
        "SELECT COUNT(*) || 'x' AS r FROM vessels WHERE vessel_id IN (SELECT vessel_id FROM vessels WHERE ROWNUM <= 1)",
        "1x",
    ),
    (
        "empty text is null",
        "SELECT COUNT(*) AS r FROM vessels WHERE NVL(note, '') IS NULL AND REPLACE(name, 'e', '') IS NOT NULL",
        "2",
    ),
    ("minus", "SELECT vessel_id AS r FROM vessels MINUS SELECT vessel_id FROM port_calls", "2"),
    (
        "joined names",
        "SELECT LISTAGG(name, ', ') WITHIN GROUP (ORDER BY name DESC) AS r FROM vessels",
        "Petrel, Kittiwake",
    ),
    ("bits and hex", "SELECT BITAND(12, 10) || RAWTOHEX(HEXTORAW('0aff')) AS r FROM dual", "80AFF"),
    ("padded number", "SELECT LPAD(vessel_id, 4, '0') AS r FROM vessels WHERE vessel_id = 2", "0002"),
    (
        "recursive",
        "WITH d (n) AS (SELECT 1 FROM dual UNION ALL SELECT n + 1 FROM d WHERE n < 4) SELECT SUM(n) AS r FROM d",
        "10",
    ),
]


@pytest.mark.server
@pytest.mark.parametrize(("name", "query", "expected"), BEHAVIOUR, ids=[b[0] for b in BEHAVIOUR])
def test_query_gives_what_oracle_would(
    name: str, query: str, expected: str, example_schema: ScriptFile, filled: Any
) -> None:
    """The draft's result, by hand from Oracle's documentation, on two vessels and one call."""
    _, drafts = draft(example_schema, query + ";\n")
    text = next(d.text for d in drafts.drafts if d.object.file == "case.sql")
    value = filled.execute(text.encode()).fetchone()[0]
    shown = f"{value:f}".rstrip("0").rstrip(".") if hasattr(value, "as_tuple") and "." in f"{value:f}" else str(value)
    assert shown == expected


@pytest.fixture(scope="module")
def filled(server_url: str, example_schema: ScriptFile) -> Any:
    """The example schema with two vessels and one call."""
    from hullsound.trial.postgresql import scratch_database

    _, drafts = draft(example_schema, "")
    with scratch_database(server_url) as connection:
        for each in drafts.drafts:
            connection.execute(each.text.encode() or b"SELECT 1")
        connection.execute("INSERT INTO vessels (vessel_id, name) VALUES (1, 'Kittiwake'), (2, 'Petrel')")
        connection.execute(
            "INSERT INTO port_calls VALUES (1, 1, NULL, 'OPEN', '2024-03-01', '2024-03-01 06:00', '2024-03-03 18:00')"
        )
        yield connection


CODE = """
CREATE OR REPLACE FUNCTION label_of(p_id IN NUMBER, p_default IN VARCHAR2 DEFAULT 'none') RETURN VARCHAR2 IS
  l_name vessels.name%TYPE;
  e_small EXCEPTION;
BEGIN
  SELECT name INTO l_name FROM vessels WHERE vessel_id = p_id;
  IF LENGTH(l_name) < 7 THEN
    RAISE e_small;
  END IF;
  RETURN l_name || ' #' || p_id;
EXCEPTION
  WHEN NO_DATA_FOUND THEN
    RETURN p_default;
  WHEN e_small THEN
    RETURN 'small ' || l_name;
END label_of;
/
CREATE OR REPLACE FUNCTION count_down(p_from IN NUMBER) RETURN VARCHAR2 IS
  l_text VARCHAR2(100);
BEGIN
  FOR i IN REVERSE 1 .. p_from LOOP
    l_text := l_text || i;
    EXIT WHEN i = 2;
  END LOOP;
  RETURN l_text;
END;
/
CREATE OR REPLACE FUNCTION names_of(p_like IN VARCHAR2) RETURN VARCHAR2 IS
  CURSOR c(cp VARCHAR2) IS SELECT name FROM vessels WHERE name LIKE cp ORDER BY name;
  l_name vessels.name%TYPE;
  l_all VARCHAR2(200);
BEGIN
  OPEN c(p_like);
  LOOP
    FETCH c INTO l_name;
    EXIT WHEN c%NOTFOUND;
    l_all := l_all || l_name || ';';
  END LOOP;
  CLOSE c;
  FOR r IN (SELECT vessel_id FROM vessels ORDER BY vessel_id) LOOP
    l_all := l_all || r.vessel_id;
  END LOOP;
  RETURN l_all;
END;
/
CREATE OR REPLACE PROCEDURE rename_vessel(p_id IN NUMBER, p_name IN VARCHAR2, p_changed OUT NUMBER) IS
BEGIN
  UPDATE vessels v SET v.name = p_name WHERE v.vessel_id = p_id;
  p_changed := SQL%ROWCOUNT;
  IF SQL%ROWCOUNT = 0 THEN
    RAISE_APPLICATION_ERROR(-20042, 'no vessel ' || p_id);
  END IF;
END;
/
CREATE OR REPLACE TRIGGER vessels_biud
BEFORE INSERT OR UPDATE OR DELETE ON vessels
FOR EACH ROW
BEGIN
  IF INSERTING THEN
    :NEW.vessel_id := call_seq.NEXTVAL;
    :NEW.note := 'made';
  ELSIF UPDATING THEN
    :NEW.note := :OLD.name || ' renamed';
  ELSIF DELETING AND :OLD.status = 'KEEP' THEN
    RAISE_APPLICATION_ERROR(-20043, 'kept');
  END IF;
END;
/
CREATE OR REPLACE PACKAGE harbour_kit IS
  FUNCTION twice(p NUMBER) RETURN NUMBER;
  FUNCTION four_times(p NUMBER) RETURN NUMBER;
END;
/
CREATE OR REPLACE PACKAGE BODY harbour_kit IS
  FUNCTION twice(p NUMBER) RETURN NUMBER IS BEGIN RETURN p * 2; END;
  FUNCTION four_times(p NUMBER) RETURN NUMBER IS BEGIN RETURN twice(twice(p)); END;
END;
/
"""


@pytest.fixture(scope="module")
def coded(filled: Any, example_schema: ScriptFile) -> Any:
    _, drafts = draft(example_schema, CODE)
    for each in drafts.drafts:
        if each.object.file == "case.sql":
            assert each.is_finished, each.skipped
            filled.execute(each.text.encode())
    return filled


@pytest.mark.server
@pytest.mark.parametrize(
    ("call", "expected"),
    [
        ("label_of(1)", "Kittiwake #1"),
        ("label_of(2)", "small Petrel"),
        ("label_of(99)", "none"),
        ("label_of(99, 'nobody')", "nobody"),
        ("count_down(4)", "432"),
        ("names_of('%e%')", "Kittiwake;Petrel;12"),
        ("harbour_kit.four_times(3)", "12"),
    ],
)
def test_routine_does_what_it_did(call: str, expected: str, coded: Any) -> None:
    assert str(coded.execute(f"SELECT {call}".encode()).fetchone()[0]) == expected


@pytest.mark.server
def test_procedure_counts_rows_and_raises_its_own_error(coded: Any) -> None:
    import psycopg

    with coded.transaction(force_rollback=True):
        assert coded.execute("CALL rename_vessel(2, 'Shag', NULL)").fetchone()[0] == 1
        assert coded.execute("SELECT note FROM vessels WHERE vessel_id = 2").fetchone()[0] == "Petrel renamed"
    with pytest.raises(psycopg.Error) as caught, coded.transaction():
        coded.execute("CALL rename_vessel(77, 'Shag', NULL)")
    assert caught.value.sqlstate == "HS042"


@pytest.mark.server
def test_trigger_fires_for_each_event(coded: Any) -> None:
    import psycopg

    with coded.transaction(force_rollback=True):
        coded.execute("SELECT setval('call_seq', 100)")
        row = coded.execute(
            "INSERT INTO vessels (name, status) VALUES ('Gannet', 'KEEP') RETURNING vessel_id, note"
        ).fetchone()
        assert row[1] == "made"
        with pytest.raises(psycopg.Error, match="kept"), coded.transaction():
            coded.execute(f"DELETE FROM vessels WHERE vessel_id = {row[0]}".encode())
        assert coded.execute("DELETE FROM vessels WHERE vessel_id = 2").rowcount == 1


@pytest.mark.server
def test_host_variables_of_programs_stay_and_are_tried_without_a_value(
    example_schema: ScriptFile, server_url: str
) -> None:
    from hullsound.trial.run import run_trial

    case, drafts = draft(
        example_schema, "SELECT NVL(name, ':x') AS n FROM vessels WHERE vessel_id = :id AND status = q'[it's]';\n"
    )
    text = next(d.text for d in drafts.drafts if d.object.file == "case.sql")
    assert text == "SELECT COALESCE(name, ':x') AS n FROM vessels WHERE vessel_id = :id AND status = 'it''s';"
    assert not run_trial(case.catalog, drafts, "postgresql:18", server_url).refused()
