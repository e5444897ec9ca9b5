"""FOR UPDATE of other engines: hints on SQL Server, and OF where the target has it."""

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

TABLES = """
CREATE TABLE boats (id NUMBER(9) PRIMARY KEY, name VARCHAR2(20), fuel NUMBER(8,2));
CREATE TABLE tugs (id NUMBER(9) PRIMARY KEY, pull NUMBER(8,2));
"""


def _draft(query: str, target: str, engine: str = "oracle") -> str:
    """Return the draft of a routine of one query as one line; '' where it is not finished."""
    if engine == "oracle":
        code = f"CREATE OR REPLACE PROCEDURE p (v OUT NUMBER) IS BEGIN {query}; END;\n/\n"
        text = TABLES + code
    else:
        variables = "DECLARE r record;" if "r IN" in query else ""
        code = f"CREATE PROCEDURE p(INOUT v numeric) LANGUAGE plpgsql AS $$ {variables} BEGIN {query}; END $$;"
        text = TABLES.replace("NUMBER", "numeric").replace("VARCHAR2", "varchar") + code
    catalog = steps.survey_texts([ScriptFile("l.sql", text, "")], engine)
    drafts = steps.assess_catalog(catalog, target).drafts.drafts
    draft = next(each for each in drafts if each.object.type.value == "procedure")
    return " ".join(draft.text.split()) if draft.is_finished else ""


@pytest.mark.parametrize(
    ("query", "drafted"),
    [
        ("SELECT fuel INTO v FROM boats WHERE id = 1 FOR UPDATE", "FROM boats WITH (UPDLOCK, ROWLOCK) WHERE id = 1;"),
        ("SELECT fuel INTO v FROM boats b WHERE id = 1 FOR UPDATE NOWAIT", "FROM boats b WITH (UPDLOCK, ROWLOCK, NOWAIT) WHERE"),
        ("SELECT fuel INTO v FROM boats WHERE id = 1 FOR UPDATE SKIP LOCKED", "WITH (UPDLOCK, ROWLOCK, READPAST) WHERE"),
        ("SELECT fuel INTO v FROM boats WHERE id = 1 FOR UPDATE OF fuel", "FROM boats WITH (UPDLOCK, ROWLOCK) WHERE"),
        (
            "SELECT b.fuel INTO v FROM boats b JOIN tugs t ON t.id = b.id WHERE b.id = 1 FOR UPDATE OF t.pull",
            "FROM boats b JOIN tugs t WITH (UPDLOCK, ROWLOCK) ON t.id = b.id",
        ),
        (
            "SELECT b.fuel INTO v FROM boats b, tugs t WHERE t.id = b.id AND b.id = (SELECT MAX(id) FROM tugs) FOR UPDATE",
            "FROM boats b WITH (UPDLOCK, ROWLOCK), tugs t WITH (UPDLOCK, ROWLOCK) WHERE t.id = b.id AND b.id = (SELECT MAX(",
        ),
    ],
)  # fmt: skip
def test_locks_become_hints_on_sql_server(query: str, drafted: str) -> None:
    assert drafted in _draft(query, "sqlserver:2022")


@pytest.mark.parametrize(
    "query",
    [
        "SELECT fuel INTO v FROM boats WHERE id = 1 FOR UPDATE WAIT 5",
        "SELECT b.fuel INTO v FROM (SELECT id, fuel FROM boats) b WHERE b.id = 1 FOR UPDATE",
        "SELECT b.fuel INTO v FROM boats b JOIN tugs t ON t.id = b.id FOR UPDATE OF pull",
    ],
)
def test_locks_that_are_not_drafted(query: str) -> None:
    assert not _draft(query, "sqlserver:2022")


def test_locks_of_postgresql() -> None:
    shared = "SELECT b.fuel INTO v FROM boats b WHERE b.id = 1 FOR SHARE"
    assert "FROM boats b WITH (REPEATABLEREAD, ROWLOCK) WHERE" in _draft(shared, "sqlserver:2022", "postgresql")
    of = "FOR r IN SELECT b.id FROM boats b JOIN tugs t ON t.id = b.id WHERE b.id > 1 FOR UPDATE OF b LOOP v := r.id; END LOOP"
    assert "FROM boats b WITH (UPDLOCK, ROWLOCK) JOIN tugs t ON" in _draft(of, "sqlserver:2022", "postgresql")
    assert "WHERE b.id > 1 FOR UPDATE OF b" in _draft(of, "mysql:8.4", "postgresql")
    assert not _draft(of, "mariadb", "postgresql")
    alone = "SELECT b.fuel INTO v FROM boats b WHERE b.id = 1 FOR UPDATE OF b NOWAIT"
    assert "WHERE b.id = 1 FOR UPDATE NOWAIT" in _draft(alone, "mariadb", "postgresql")


def test_cursors_that_lock() -> None:
    loop = "FOR r IN (SELECT id FROM boats FOR UPDATE) LOOP UPDATE boats SET fuel = 1 WHERE id = r.id; END LOOP"
    assert "CURSOR LOCAL FORWARD_ONLY STATIC FOR SELECT id FROM boats WITH (UPDLOCK, ROWLOCK)" in _draft(
        loop, "sqlserver:2022"
    )
    assert "SELECT id FROM boats FOR UPDATE" in _draft(loop, "mariadb")


@pytest.mark.parametrize(
    ("target", "drafted"),
    [
        ("mysql:8.4", "ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED;"),
        ("mariadb", "ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED;"),
        ("sqlserver:2022", "SELECT TOP (1) @v = id FROM boats WITH (UPDLOCK, ROWLOCK, READPAST) WHERE"),
        ("oracle:19", ""),
    ],
)
def test_the_next_row_of_a_queue(target: str, drafted: str) -> None:
    query = "SELECT id INTO v FROM boats WHERE fuel > 0 ORDER BY id LIMIT 1 FOR UPDATE SKIP LOCKED"
    draft = _draft(query, target, "postgresql")
    assert drafted in draft
    assert bool(draft) == bool(drafted)


@pytest.mark.parametrize(
    ("target", "update", "share"),
    [
        ("mysql:8.4", "WHERE id = 1 FOR UPDATE;", "WHERE id = 1 FOR SHARE NOWAIT;"),
        ("mariadb", "WHERE id = 1 FOR UPDATE;", "WHERE id = 1 LOCK IN SHARE MODE NOWAIT;"),
        ("oracle:19", "WHERE id = 1 FOR UPDATE;", ""),
        (
            "sqlserver:2022",
            "WITH (UPDLOCK, ROWLOCK) WHERE id = 1;",
            "WITH (REPEATABLEREAD, ROWLOCK, NOWAIT) WHERE id = 1;",
        ),
    ],
)
def test_weaker_locks_of_postgresql(target: str, update: str, share: str) -> None:
    query = "SELECT id INTO v FROM boats WHERE id = 1 FOR"
    assert update in _draft(f"{query} NO KEY UPDATE", target, "postgresql")
    shared = _draft(f"{query} KEY SHARE NOWAIT", target, "postgresql")
    assert share in shared
    assert bool(shared) == bool(share)


@pytest.mark.parametrize(
    ("lock", "drafted"),
    [
        ("FOR UPDATE OF boats SKIP LOCKED", "WHERE id = 1 FOR UPDATE SKIP LOCKED;"),
        ("FOR SHARE NOWAIT", "WHERE id = 1 FOR SHARE NOWAIT;"),
        ("LOCK IN SHARE MODE", "WHERE id = 1 FOR SHARE;"),
    ],
)
def test_locks_of_mysql_on_postgresql(lock: str, drafted: str) -> None:
    code = f"CREATE PROCEDURE p(OUT v int) BEGIN SELECT fuel INTO v FROM boats WHERE id = 1 {lock}; END"
    text = f"CREATE TABLE boats (id int PRIMARY KEY, fuel int);\nDELIMITER //\n{code} //\n"
    catalog = steps.survey_texts([ScriptFile("l.sql", text, "")], "mysql")
    draft = next(
        each for each in steps.assess_catalog(catalog, "postgresql:18").drafts.drafts if each.object.name == "P"
    )
    assert draft.is_promised
    assert drafted in " ".join(draft.text.split())
