"""Row triggers on other targets: the source and MariaDB leave the same rows; for SQL Server and Oracle the text is read."""

import sqlite3
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

import pytest

from hullsound import steps
from hullsound.draft.model import Draft
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.survey.files import ScriptFile
from hullsound.trial.mariadb import root_connection
from hullsound.trial.postgresql import scratch_database

POSTGRESQL = """
CREATE TABLE tug (id integer PRIMARY KEY, name varchar(40) NOT NULL, upper_name varchar(40), tons numeric(8,2));
CREATE TABLE journal (what varchar(20), tug_id integer, was varchar(40), now_is varchar(40));
CREATE FUNCTION keep_journal() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  IF TG_OP = 'INSERT' THEN
    INSERT INTO journal VALUES (TG_OP, NEW.id, NULL, NEW.name);
  ELSIF TG_OP IN ('UPDATE') AND NEW.name <> OLD.name THEN
    INSERT INTO journal VALUES ('renamed', NEW.id, OLD.name, NEW.name);
  ELSIF TG_OP = 'DELETE' THEN
    INSERT INTO journal VALUES (TG_TABLE_NAME, OLD.id, OLD.name, NULL);
    RETURN OLD;
  END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER tug_journal AFTER INSERT OR UPDATE OR DELETE ON tug FOR EACH ROW EXECUTE FUNCTION keep_journal();
CREATE FUNCTION fill_tug() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN
  NEW.upper_name := upper(NEW.name);
  IF NEW.tons < 0 THEN RAISE EXCEPTION 'tug % weighs less than nothing', NEW.id; END IF;
  RETURN NEW;
END $$;
CREATE TRIGGER tug_fill BEFORE INSERT OR UPDATE ON tug FOR EACH ROW WHEN (NEW.id > 1) EXECUTE FUNCTION fill_tug();
"""
SQLITE = """
CREATE TABLE tug (id INTEGER PRIMARY KEY, name TEXT NOT NULL, tons REAL);
CREATE TABLE journal (what TEXT, tug_id INTEGER, was TEXT, now_is TEXT);
CREATE TRIGGER tug_new AFTER INSERT ON tug BEGIN
  INSERT INTO journal VALUES ('INSERT', NEW.id, NULL, NEW.name);
END;
CREATE TRIGGER tug_named AFTER UPDATE OF name ON tug WHEN NEW.name <> OLD.name BEGIN
  INSERT INTO journal VALUES ('renamed', NEW.id, OLD.name, NEW.name);
  SELECT RAISE(ABORT, 'no name') WHERE NEW.name = 'none';
END;
CREATE TRIGGER tug_gone AFTER DELETE ON tug BEGIN INSERT INTO journal VALUES ('gone', OLD.id, OLD.name, NULL); END;
CREATE TRIGGER tug_light BEFORE INSERT ON tug WHEN NEW.tons < 0 BEGIN SELECT RAISE(ABORT, 'too light'); END;
"""
CHANGES = (
    "INSERT INTO tug (id, name, tons) VALUES (1, 'Auk', 5), (2, 'Bee', 6)",
    "INSERT INTO tug (id, name, tons) VALUES (3, 'Cod', -1)",
    "UPDATE tug SET tons = tons + 1",
    "UPDATE tug SET name = 'Bat' WHERE id = 2",
    "UPDATE tug SET name = 'none' WHERE id = 1",
    "DELETE FROM tug WHERE id = 1",
)

Run = Callable[[str], list[tuple[Any, ...]]]


def drafts_of(text: str, engine: str, target: str) -> list[Draft]:
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], engine), target)
    drafts = steps.draft_case(case).drafts
    left = [(d.object.id, d.outcome.value, d.skipped) for d in drafts if not d.is_promised or d.skipped]
    assert not left
    return drafts


def text_of(text: str, engine: str, target: str, name: str) -> str:
    return next(d.text for d in drafts_of(text, engine, target) if d.object.name.lower().endswith(name))


def changed(run: Run) -> list[Any]:
    """Make the changes; return which of them are refused, and the rows that stand there at the end."""
    refused = []
    for at, change in enumerate(CHANGES):
        try:
            run(change)
        except Exception:  # the drivers' own
            refused.append(at)
    tugs, journal = run("SELECT * FROM tug"), run("SELECT * FROM journal")
    return [refused, *[sorted(tuple(map(str, row)) for row in rows) for rows in (tugs, journal)]]


@contextmanager
def on_mariadb(socket: Path, text: str, engine: str, schema: str) -> Iterator[Any]:
    """Yield a cursor on a new database that holds the drafts."""
    with root_connection(socket) as connection, connection.cursor() as cursor:
        cursor.execute(f"CREATE OR REPLACE DATABASE {schema}")
        cursor.execute(f"USE {schema}")
        for draft in drafts_of(text, engine, "mariadb:10.11"):
            for piece in draft.text.split("\n\n"):
                if piece.strip() and not piece.startswith("-- "):
                    cursor.execute(piece)
        yield cursor
        cursor.execute(f"DROP DATABASE {schema}")


def changed_on_mariadb(socket: Path, text: str, engine: str, schema: str) -> list[Any]:
    with on_mariadb(socket, text, engine, schema) as cursor:

        def run(statement: str) -> list[tuple[Any, ...]]:
            cursor.execute(statement)
            return list(cursor.fetchall())

        return changed(run)


@pytest.mark.server
def test_trigger_functions_of_postgresql_do_the_same_on_mariadb(server_url: str, mariadb_socket: Path) -> None:
    with scratch_database(server_url) as connection:
        connection.autocommit = True
        connection.execute(POSTGRESQL.encode())

        def run(statement: str) -> list[tuple[Any, ...]]:
            cursor = connection.execute(statement.encode())
            return cursor.fetchall() if cursor.description else []

        source = changed(run)
    assert source[0] == [1]
    assert changed_on_mariadb(mariadb_socket, POSTGRESQL, "postgresql", "public") == source


@pytest.mark.server
def test_triggers_of_sqlite_do_the_same_on_mariadb(mariadb_socket: Path) -> None:
    memory = sqlite3.connect(":memory:", isolation_level=None)
    memory.executescript(SQLITE)
    source = changed(lambda statement: memory.execute(statement).fetchall())
    assert source[0] == [1, 4]
    assert changed_on_mariadb(mariadb_socket, SQLITE, "sqlite", "harbour") == source


def test_inserts_alone_become_queries_over_the_changed_rows() -> None:
    assert text_of(SQLITE, "sqlite", "sqlserver:2022", "tug_new") == (
        "CREATE TRIGGER tug_new ON tug AFTER INSERT\nAS\nBEGIN\n  SET NOCOUNT ON;\n  INSERT INTO journal\n"
        "  SELECT 'INSERT', hs_new.id, NULL, hs_new.name\n  FROM inserted AS hs_new;\nEND;"
    )


def test_other_bodies_go_through_the_rows_by_a_cursor() -> None:
    text = text_of(SQLITE, "sqlite", "sqlserver:2022", "tug_named")
    assert "  IF NOT (UPDATE(name))\n    RETURN;\n" in text
    assert "FROM inserted AS hs_new JOIN deleted AS hs_old ON hs_old.id = hs_new.id;" in text
    assert "IF @hs_new_name <> @hs_old_name" in text and "THROW 50000, @hs_message, 1;" in text


def test_a_row_that_is_set_before_the_change_is_written_behind_it() -> None:
    text = text_of(POSTGRESQL, "postgresql", "sqlserver:2022", "tug_fill")
    assert "UPDATE [public].tug SET upper_name = @hs_new_upper_name WHERE id = @hs_new_id;" in text
    assert text.count("CREATE TRIGGER") == 2


def test_oracle_keeps_columns_of_updates_in_the_head() -> None:
    assert "AFTER UPDATE OF name ON tug FOR EACH ROW" in text_of(SQLITE, "sqlite", "oracle:19", "tug_named")
    assert ":NEW.upper_name := upper(:NEW.name);" in text_of(POSTGRESQL, "postgresql", "oracle:19", "tug_fill")


@pytest.mark.parametrize("target", ["sqlserver:2022", "oracle:19"])
@pytest.mark.parametrize(("text", "engine"), [(POSTGRESQL, "postgresql"), (SQLITE, "sqlite")])
def test_every_draft_is_read_whole_by_the_reader_of_its_engine(text: str, engine: str, target: str) -> None:
    dialect = load_dialect(target.partition(":")[0])
    for draft in drafts_of(text, engine, target):
        for piece in draft.text.split("\n\n"):
            reads = list(
                read_script(f"{piece}\n{'GO' if target.startswith('sqlserver') else '/'}\n", dialect).statements()
            )
            assert not [span for read in reads for span in read.unread()]


@pytest.mark.parametrize(
    ("body", "reason"),
    [
        ("RETURN NULL;", "gives up"),
        ("PERFORM 1 FROM tug WHERE id = NEW.id; RETURN NEW;", "reads or changes"),
        ("INSERT INTO log VALUES (TG_ARGV[0]); RETURN NEW;", "asks its trigger"),
    ],
)
def test_what_the_target_cannot_do_is_not_promised(body: str, reason: str) -> None:
    text = (
        "CREATE TABLE tug (id integer PRIMARY KEY);\nCREATE TABLE log (t text);\n"
        f"CREATE FUNCTION f() RETURNS trigger LANGUAGE plpgsql AS $$ BEGIN {body} END $$;\n"
        "CREATE TRIGGER tr BEFORE INSERT ON tug FOR EACH ROW EXECUTE FUNCTION f();\n"
    )
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "postgresql"), "sqlserver:2022")
    trigger = next(each for each in case.document.objects if each.type == "trigger")
    assert trigger.outcome in ("rewrite", "blocked")
    assert any(reason in each.message for each in case.document.findings if each.object == trigger.id)


TSQL = """
CREATE TABLE dbo.Booking (BookingID int NOT NULL PRIMARY KEY, Places int NOT NULL, Status char(1) NOT NULL, Touched int NULL)
GO
CREATE TABLE dbo.Journal (What varchar(10), BookingID int, OldPlaces int, NewPlaces int)
GO
CREATE TABLE dbo.Sailing (SailingID int NOT NULL PRIMARY KEY, BookingID int, Taken int NOT NULL)
GO
CREATE TRIGGER dbo.tr_journal ON dbo.Booking AFTER INSERT, UPDATE, DELETE AS
BEGIN
  SET NOCOUNT ON;
  IF @@ROWCOUNT = 0 RETURN;
  INSERT INTO dbo.Journal (What, BookingID, OldPlaces, NewPlaces)
  SELECT 'new', i.BookingID, NULL, i.Places FROM inserted i LEFT JOIN deleted d ON d.BookingID = i.BookingID
  WHERE d.BookingID IS NULL;
  INSERT INTO dbo.Journal (What, BookingID, OldPlaces, NewPlaces)
  SELECT 'changed', i.BookingID, d.Places, i.Places FROM inserted i INNER JOIN deleted d ON i.BookingID = d.BookingID
  WHERE i.Places <> d.Places;
  INSERT INTO dbo.Journal (What, BookingID, OldPlaces) SELECT 'gone', BookingID, Places FROM deleted
  WHERE NOT EXISTS (SELECT 1 FROM inserted);
END
GO
CREATE TRIGGER dbo.tr_touch ON dbo.Booking FOR UPDATE AS
BEGIN
  UPDATE b SET Touched = ISNULL(b.Touched, 0) + 1 FROM dbo.Booking b INNER JOIN inserted i ON b.BookingID = i.BookingID
  WHERE i.Status <> 'X'
END
GO
CREATE TRIGGER dbo.tr_check ON dbo.Booking FOR INSERT, UPDATE AS
IF UPDATE(Places)
BEGIN
  IF EXISTS (SELECT * FROM inserted WHERE Places < 0)
  BEGIN
    RAISERROR('places below zero', 16, 1);
    ROLLBACK TRANSACTION;
    RETURN
  END
  UPDATE s SET Taken = s.Taken + i.Places FROM dbo.Sailing s JOIN inserted i ON s.BookingID = i.BookingID
END
GO
CREATE TRIGGER dbo.tr_drop ON dbo.Booking FOR DELETE AS
BEGIN
  DECLARE @id int
  SELECT @id = BookingID FROM deleted
  DELETE FROM dbo.Sailing WHERE BookingID IN (SELECT BookingID FROM deleted WHERE Status = 'X')
  DELETE FROM dbo.Sailing WHERE BookingID = @id AND Taken = 0
END
GO
CREATE TRIGGER dbo.tr_walk ON dbo.Booking AFTER INSERT AS
BEGIN
  DECLARE @id int
  DECLARE rows_in CURSOR FOR SELECT i.BookingID FROM inserted i ORDER BY i.BookingID
  OPEN rows_in
  FETCH NEXT FROM rows_in INTO @id
  WHILE @@FETCH_STATUS = 0
  BEGIN
    INSERT INTO dbo.Journal (What, BookingID) VALUES ('walked', @id)
    FETCH NEXT FROM rows_in INTO @id
  END
  CLOSE rows_in
  DEALLOCATE rows_in
END
GO
"""


@pytest.mark.server
def test_triggers_of_statements_do_for_each_row_what_they_did_for_all(mariadb_socket: Path) -> None:
    """The values are those that SQL Server documents for inserted and deleted."""
    with on_mariadb(mariadb_socket, TSQL, "sqlserver", "dbo") as cursor:
        cursor.execute("INSERT INTO sailing VALUES (1, 7, 2), (2, 8, 0)")
        cursor.execute("INSERT INTO booking (BookingID, Places, Status) VALUES (7, 4, 'A'), (8, 0, 'X')")
        cursor.execute("UPDATE booking SET Places = Places + 1")
        with pytest.raises(Exception, match="places below zero"):
            cursor.execute("UPDATE booking SET Places = -1 WHERE BookingID = 7")
        cursor.execute("DELETE FROM booking WHERE BookingID = 8")
        cursor.execute("SELECT What, BookingID, OldPlaces, NewPlaces FROM journal")
        assert sorted(cursor.fetchall(), key=str) == [
            ("changed", 7, 4, 5), ("changed", 8, 0, 1), ("gone", 8, 1, None), ("new", 7, None, 4), ("new", 8, None, 0),
            ("walked", 7, None, None), ("walked", 8, None, None),
        ]  # fmt: skip
        cursor.execute("SELECT * FROM booking")
        assert cursor.fetchall() == ((7, 5, "A", 1),)
        cursor.execute("SELECT * FROM sailing")
        assert cursor.fetchall() == ((1, 7, 11),)


def test_what_is_settled_by_the_kind_of_change_is_left_out() -> None:
    text = text_of(TSQL, "sqlserver", "oracle:19", "tr_journal")
    assert text.count("CREATE OR REPLACE TRIGGER") == 3
    assert "IF :NEW.places <> :OLD.places THEN" in text and "IS NULL" not in text


@pytest.mark.parametrize(
    ("body", "reason"),
    [
        ("INSERT INTO dbo.Journal (What, BookingID) SELECT 'n', COUNT(*) FROM inserted", "counts"),
        ("UPDATE b SET Touched = 1 FROM dbo.Booking b JOIN inserted i ON b.Status = i.Status", "other rows"),
        ("IF (SELECT SUM(Places) FROM inserted) > 4 PRINT 'many'", "counts"),
        (
            "DECLARE c CURSOR FOR SELECT COUNT(*) FROM inserted DECLARE @n int OPEN c FETCH NEXT FROM c INTO @n",
            "counts",
        ),
        ("INSERT INTO dbo.Journal (What) VALUES ('changed')", "once for all rows"),
        (
            "IF EXISTS (SELECT 1 FROM inserted WHERE Places > 4) "
            "INSERT INTO dbo.Journal (What, BookingID) SELECT 'n', BookingID FROM inserted",
            "decides about each",
        ),
        (
            "DECLARE @op char(1) SET @op = CASE WHEN EXISTS (SELECT * FROM inserted) THEN 'I' ELSE 'D' END "
            "INSERT INTO dbo.Journal (What) VALUES (@op)",
            "once for all rows",
        ),
        ("IF (SELECT COUNT(*) FROM dbo.Booking) > 9 PRINT 'full'", "its own table"),
        (
            "UPDATE s SET Taken = s.Taken + (SELECT COUNT(*) FROM dbo.Booking) "
            "FROM dbo.Sailing s JOIN inserted i ON s.BookingID = i.BookingID",
            "its own table",
        ),
    ],
)
def test_what_needs_all_changed_rows_at_once_is_not_promised(body: str, reason: str) -> None:
    tables = TSQL.partition("CREATE TRIGGER")[0]
    text = f"{tables}CREATE TRIGGER dbo.tr ON dbo.Booking AFTER INSERT AS BEGIN {body} END\nGO\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", text, "")], "sqlserver"), "mariadb:10.11")
    trigger = next(each for each in case.document.objects if each.type == "trigger")
    assert trigger.outcome in ("rewrite", "blocked")
    assert any(reason in finding.message for finding in case.document.findings if finding.object == trigger.id)


def test_a_query_inside_a_change_finds_the_changed_table_by_its_name() -> None:
    tables = TSQL.partition("CREATE TRIGGER")[0]
    body = (
        "UPDATE s SET Taken = (SELECT COUNT(*) FROM dbo.Booking b WHERE b.BookingID = s.BookingID) "
        "FROM dbo.Sailing s JOIN inserted i ON s.BookingID = i.BookingID"
    )
    text = f"{tables}CREATE TRIGGER dbo.tr ON dbo.Booking AFTER INSERT AS BEGIN {body} END\nGO\n"
    assert "b.BookingID = sailing.bookingid) WHERE bookingid = NEW.bookingid;" in text_of(
        text, "sqlserver", "mariadb:10.11", "tr"
    )


def test_what_asks_nothing_of_the_rows_fires_once_for_a_statement_on_oracle() -> None:
    tables = TSQL.partition("CREATE TRIGGER")[0]
    head = f"{tables}CREATE TRIGGER dbo.tr ON dbo.Booking AFTER INSERT AS BEGIN "
    told = "INSERT INTO dbo.Journal (What) VALUES ('changed')"
    text = text_of(f"{head}IF (SELECT COUNT(*) FROM dbo.Booking) > 9 {told} END\nGO\n", "sqlserver", "oracle:19", "tr")
    assert "AFTER INSERT ON dbo.booking\n" in text and "FOR EACH ROW" not in text
    counted = f"{head}IF @@ROWCOUNT = 0 RETURN; {told} END\nGO\n"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("a.sql", counted, "")], "sqlserver"), "oracle:19")
    assert next(each for each in case.document.objects if each.type == "trigger").outcome == "rewrite"


def test_changes_through_a_join() -> None:
    text = (
        "CREATE TABLE dbo.Tug (ID int PRIMARY KEY, Name varchar(20))\nGO\nCREATE TABLE dbo.Feed (ID int, Name varchar(20))\nGO\n"
        "CREATE PROCEDURE dbo.p AS UPDATE t SET Name = f.Name FROM dbo.Tug t JOIN dbo.Feed f ON f.ID = t.ID "
        "WHERE f.Name <> 'x'\nGO\n"
        "CREATE PROCEDURE dbo.q AS DELETE t FROM dbo.Tug t JOIN dbo.Feed f ON f.ID = t.ID\nGO\n"
    )
    joined = "dbo.tug t JOIN dbo.feed f ON f.ID = t.ID"
    assert f"UPDATE {joined} SET t.name = f.Name WHERE f.Name <> 'x';" in text_of(text, "sqlserver", "mysql:8.4", "p")
    assert f"DELETE t FROM {joined};" in text_of(text, "sqlserver", "mysql:8.4", "q")
    merged = text_of(text, "sqlserver", "oracle:19", "p")
    assert (
        "ON ((f.ID = t.ID) AND (lower(rtrim(f.Name)) <> 'x')) WHEN MATCHED THEN UPDATE SET t.name = f.Name;" in merged
    )
    assert "WHERE EXISTS (SELECT 1 FROM dbo.Feed f WHERE (f.ID = t.ID));" in text_of(
        text, "sqlserver", "oracle:19", "q"
    )
