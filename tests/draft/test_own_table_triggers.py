"""Triggers that change their own table: SQL Server, ASE and SQLite do not fire them for that, and their drafts do not either."""

import sqlite3
from collections.abc import Iterator
from typing import Any

import pytest

from hullsound import steps
from hullsound.draft.files import prepare_text
from hullsound.survey.files import ScriptFile
from hullsound.trial.postgresql import scratch_database

SQLITE = """
CREATE TABLE job (id INTEGER PRIMARY KEY, state TEXT NOT NULL, n INTEGER NOT NULL DEFAULT 0, mark TEXT NOT NULL DEFAULT '');
CREATE TABLE log (id INTEGER PRIMARY KEY, what TEXT);
CREATE TRIGGER counted AFTER UPDATE ON job BEGIN
  UPDATE job SET n = n + 1 WHERE id = NEW.id;
END;
CREATE TRIGGER told AFTER UPDATE OF state ON job WHEN NEW.state <> OLD.state BEGIN
  UPDATE job SET mark = mark || 'x' WHERE id = OLD.id;
  INSERT INTO log (what) VALUES (NEW.state);
END;
CREATE TRIGGER gone AFTER DELETE ON job BEGIN
  DELETE FROM job WHERE state = OLD.state;
END;
"""
TSQL = """
CREATE TABLE dbo.job (id int NOT NULL PRIMARY KEY, state varchar(10) NOT NULL, n int NOT NULL DEFAULT 0);
GO
CREATE TRIGGER dbo.counted ON dbo.job AFTER INSERT, UPDATE AS
BEGIN
  UPDATE j SET n = j.n + 1 FROM dbo.job j JOIN inserted i ON i.id = j.id;
END
GO
"""


def drafted(script: str, engine: str, server_url: str) -> Iterator[Any]:
    """Open a scratch database that holds the drafts of a script."""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", script, "")], engine), "postgresql:18")
    drafts = steps.draft_case(case)
    with scratch_database(server_url) as connection:
        connection.autocommit = True
        connection.execute(prepare_text(drafts, "postgresql").encode())
        for draft in drafts.drafts:
            assert draft.is_promised and draft.is_finished
            connection.execute(draft.text.encode())
        yield connection


CHANGES = (
    "INSERT INTO job (id, state) VALUES (1, 'a'), (2, 'b'), (3, 'b')",
    "UPDATE job SET n = 5 WHERE id < 3",
    "UPDATE job SET state = 'z' WHERE id = 1",
    "DELETE FROM job WHERE id = 2",
)
ASKED = ("SELECT id, state, n, mark FROM job ORDER BY id", "SELECT what FROM log ORDER BY id")


@pytest.mark.server
def test_of_sqlite(server_url: str) -> None:
    memory = sqlite3.connect(":memory:")
    memory.executescript(SQLITE)
    for connection in drafted(SQLITE, "sqlite", server_url):
        for change in CHANGES:
            memory.execute(change)
            connection.execute(change.encode())
            for asked in ASKED:
                assert connection.execute(asked.encode()).fetchall() == memory.execute(asked).fetchall(), change
    memory.close()


@pytest.mark.server
def test_of_sql_server(server_url: str) -> None:
    """What SQL Server documents of triggers that do not fire themselves."""
    for connection in drafted(TSQL, "sqlserver", server_url):
        connection.execute(b"INSERT INTO dbo.job (id, state) VALUES (1, 'a'), (2, 'b')")
        connection.execute(b"UPDATE dbo.job SET state = 'c' WHERE id = 2")
        connection.execute(b"UPDATE dbo.job SET state = 'd' WHERE id = 9")
        assert connection.execute(b"SELECT id, n FROM dbo.job ORDER BY id").fetchall() == [(1, 1), (2, 2)]


def test_a_trigger_for_other_columns_needs_no_guard() -> None:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", SQLITE, "")], "sqlite"), "postgresql:18")
    texts = {draft.object.name.lower(): draft.text for draft in case.drafts.drafts}
    assert "hull.in_told" not in texts["told"]
    assert "hull.in_counted" in texts["counted"]
