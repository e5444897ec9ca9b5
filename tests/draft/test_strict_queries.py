"""Queries of PL/pgSQL that must meet a row (INTO STRICT), beside others: MariaDB gives what PostgreSQL gives."""

from typing import Any, Final

import pytest

from hullsound import steps
from hullsound.catalog.model import ObjectType
from hullsound.survey.files import ScriptFile

TABLE: Final = "CREATE TABLE t (id int PRIMARY KEY, a int);\n"
ROWS: Final = "INSERT INTO t (id, a) VALUES (1, 10), (2, 20), (3, 20)"
FUNCTIONS: Final = {
    "strict": "SELECT a INTO STRICT v FROM t WHERE id = p; RETURN v; EXCEPTION WHEN no_data_found THEN RETURN -1;",
    "several": "SELECT id INTO STRICT v FROM t WHERE a = p * 10; RETURN v; EXCEPTION WHEN no_data_found THEN RETURN -1; "
               "WHEN too_many_rows THEN RETURN -2;",
    "loose": "SELECT a INTO v FROM t WHERE id = p; RETURN coalesce(v, 0); EXCEPTION WHEN no_data_found THEN RETURN -1;",
    "both": "SELECT a INTO w FROM t WHERE id = p + 1; SELECT a INTO STRICT v FROM t WHERE id = p; RETURN v + coalesce(w, 0); "
            "EXCEPTION WHEN no_data_found THEN RETURN -1;",
    "greatest": "SELECT max(a) INTO STRICT v FROM t WHERE id > p; RETURN coalesce(v, -5);",
}  # fmt: skip


def function(body: str) -> str:
    return f"CREATE FUNCTION f(p int) RETURNS int LANGUAGE plpgsql AS $$ DECLARE v int; w int; BEGIN {body} END $$;\n"


def drafts(body: str, target: str) -> list[str]:
    """Return the drafts of the table and the function; fails where one is not promised."""
    catalog = steps.survey_texts([ScriptFile("a.sql", TABLE + function(body), "")], "postgresql")
    made = steps.assess_catalog(catalog, target).drafts.drafts
    kinds = (ObjectType.TABLE, ObjectType.FUNCTION)
    found = [each for each in made if each.object.type in kinds]
    assert all(each.is_promised and each.is_finished for each in found)
    return [each.text.replace("public.", "") for each in found]


@pytest.mark.parametrize("name", FUNCTIONS)
def test_mariadb_gives_what_postgresql_gives(name: str, mariadb: Any, server_url: str) -> None:
    from hullsound.trial.postgresql import scratch_database

    asked = [1, 2, 3, 9]
    with scratch_database(server_url) as connection:
        connection.execute(f"{TABLE}{function(FUNCTIONS[name])}{ROWS}".encode())
        stated = [connection.execute(f"SELECT f({p})".encode()).fetchall()[0][0] for p in asked]
    script = (
        "CREATE OR REPLACE DATABASE strict_queries\x01USE strict_queries",
        *drafts(FUNCTIONS[name], "mariadb:11.8"),
        ROWS,
    )
    query = f"SELECT {', '.join(f'f({p})' for p in asked)}"
    given = mariadb.value("\x01".join((*script, query))).split("\t")
    assert [int(each) for each in given] == stated


def test_oracle_raises_by_itself() -> None:
    text = " ".join(drafts(FUNCTIONS["both"], "oracle:19")[1].split())
    assert (
        "w := NULL; BEGIN SELECT a INTO w FROM t WHERE id = p + 1; EXCEPTION WHEN NO_DATA_FOUND THEN NULL; END;" in text
    )
    assert "END; SELECT a INTO v FROM t WHERE id = p; RETURN" in text


def test_what_is_told_ends_nothing() -> None:
    body = "RAISE NOTICE 'looked for %', p; RETURN p;"
    assert "DBMS_OUTPUT.PUT_LINE('looked for ' || p);" in drafts(body, "oracle:19")[1]
    assert "PRINT" not in drafts(body, "mariadb:11.8")[1]
