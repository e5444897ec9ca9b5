"""Names that only the source knows: a draft that still says them is not promised, wherever the target is."""

import pytest

from hullsound import steps
from hullsound.assess.model import PROMISED
from hullsound.survey.files import ScriptFile
from tests.statements import end_statement

TABLE = "CREATE TABLE bay (id INT, note VARCHAR(40))"


def reason(source: str, target: str, statement: str, table: str = TABLE) -> str:
    """Return why the last object of a script is not promised; '' where it is."""
    script = "\n".join(end_statement(each, source) for each in (table, statement))
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], source), target)
    (item,) = (o for o in case.document.objects if o.type not in ("table", "constraint"))
    messages = [f.message for f in case.document.findings if f.object == item.id and f.construct == "draft.skipped"]
    return "" if item.outcome in PROMISED else " ".join(messages)


@pytest.mark.parametrize("target", ["postgresql:18", "mariadb:11.8", "mysql:8.4"])
@pytest.mark.parametrize(
    ("query", "left"),
    [
        ("SELECT ERROR_NUMBER() AS n FROM bay", "error_number"),
        ("SELECT @@FETCH_STATUS AS s FROM bay", "fetch_status"),
    ],
)
def test_functions_and_variables_of_sql_server(target: str, query: str, left: str) -> None:
    assert left in reason("sqlserver", target, query)


@pytest.mark.parametrize("target", ["mariadb:11.8", "mysql:8.4", "sqlserver:2022"])
def test_packages_that_oracle_supplies(target: str) -> None:
    code = "CREATE PROCEDURE p IS c NUMBER; BEGIN c := DBMS_SQL.OPEN_CURSOR; END;"
    assert "dbms_sql" in reason("oracle", target, code, "CREATE TABLE bay (id NUMBER(9))")


def test_user_variables_are_no_operators() -> None:
    assert "operator" in reason("mysql", "postgresql:18", "SELECT @n AS n FROM bay")


@pytest.mark.parametrize("target", ["mariadb:11.8", "mysql:8.4"])
def test_code_that_the_target_cannot_read(target: str) -> None:
    code = "CREATE PROCEDURE p (a VARCHAR2, c OUT SYS_REFCURSOR) IS BEGIN OPEN c FOR 'SELECT id FROM ' || a; END;"
    assert reason("oracle", target, code, "CREATE TABLE bay (id NUMBER(9))")


def test_a_name_that_no_table_of_the_statement_has() -> None:
    query = "CREATE VIEW v AS SELECT b.id FROM bay b JOIN bay c ON c.id = b.id WHERE lost = 1"
    assert "the name lost" in reason("mysql", "postgresql:18", query)


@pytest.mark.parametrize(
    ("source", "target", "query"),
    [
        ("mysql", "postgresql:18", "SELECT id AS no FROM bay ORDER BY no"),
        ("postgresql", "mariadb:11.8", "WITH w (k) AS (SELECT id FROM bay) SELECT k FROM w"),
        ("oracle", "postgresql:18", "CREATE PROCEDURE p IS k NUMBER; BEGIN SELECT id INTO k FROM bay; END;"),
        ("sqlserver", "postgresql:18", "CREATE PROCEDURE p @n INT AS UPDATE bay SET note = 'x' WHERE id = @n AND @@ROWCOUNT >= 0"),
    ],
)  # fmt: skip
def test_names_that_a_statement_makes_itself_are_known(source: str, target: str, query: str) -> None:
    assert not reason(source, target, query)


@pytest.mark.parametrize(
    ("source", "target", "test", "written"),
    [
        ("oracle", "postgresql:18", "note IS JSON STRICT", "note IS JSON"),
        ("oracle", "mysql:8.4", "note IS NOT JSON", "NOT JSON_VALID(note)"),
        ("oracle", "sqlserver:2022", "note IS NOT JSON", "ISJSON(note) = 0"),
        ("postgresql", "sqlserver:2022", "note IS JSON ARRAY", "ISJSON(note, ARRAY) = 1"),
        (
            "postgresql",
            "oracle:23",
            "note IS JSON OBJECT WITH UNIQUE KEYS",
            "note IS JSON OBJECT STRICT WITH UNIQUE KEYS",
        ),
        ("postgresql", "oracle:19", "note IS JSON OBJECT", ""),
        ("postgresql", "sqlserver:2019", "note IS JSON", ""),
        ("postgresql", "mariadb:11.8", "note IS JSON ARRAY", ""),
    ],
)
def test_is_json_is_written_as_each_target_tests_it(source: str, target: str, test: str, written: str) -> None:
    script = "\n".join(
        end_statement(each, source) for each in (TABLE, f"CREATE VIEW v AS SELECT id FROM bay WHERE {test}")
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], source), target)
    view = next(d for d in case.drafts.drafts if d.object.type == "view")
    assert view.is_promised == bool(written)
    assert not written or view.text.rstrip(";").endswith(f"WHERE {written}")
