"""OUTPUT INTO of SQL Server as two statements: on a real MariaDB the rows go where SQL Server puts them."""

from pathlib import Path

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

from .test_routines import on_mariadb, value

TABLES = """
CREATE TABLE parts (id int NOT NULL PRIMARY KEY, item varchar(20) NOT NULL, quantity int NOT NULL);
GO
CREATE TABLE journal (id int NOT NULL, item varchar(20) NOT NULL, was int NULL);
GO
"""
SCRIPT = (
    TABLES
    + """
CREATE PROCEDURE clear_out @least int AS
BEGIN
  DELETE FROM parts OUTPUT deleted.id, deleted.item INTO journal (id, item) WHERE quantity < @least;
END
GO
CREATE PROCEDURE count_up @least int AS
BEGIN
  UPDATE parts SET quantity = quantity + 1 OUTPUT inserted.id, inserted.item, deleted.quantity INTO journal WHERE quantity > @least;
END
GO
CREATE PROCEDURE double_up @id int AS
BEGIN
  DECLARE @doubled TABLE (id int NOT NULL, quantity int NOT NULL);
  UPDATE parts SET quantity = quantity * 2 OUTPUT inserted.id, inserted.quantity INTO @doubled WHERE id >= @id;
  INSERT INTO journal (id, item, was) SELECT id, 'doubled', quantity FROM @doubled;
END
GO
"""
)
ROWS = "INSERT INTO parts VALUES (1, 'bolt', 2), (2, 'nut', 5), (3, 'oil', 9)"


@pytest.mark.server
@pytest.mark.parametrize(
    ("call", "journal", "parts"),
    [
        ("clear_out(5)", "1 bolt -", "2=5,3=9"),
        ("count_up(4)", "2 nut 5,3 oil 9", "1=2,2=6,3=10"),
        ("double_up(2)", "2 doubled 10,3 doubled 18", "1=2,2=10,3=18"),
    ],
)
def test_rows_go_where_the_source_puts_them(call: str, journal: str, parts: str, mariadb_socket: Path) -> None:
    with on_mariadb(mariadb_socket, SCRIPT, "sqlserver", ROWS, "dbo") as cursor:
        cursor.execute(f"CALL {call}")
        assert (
            value(cursor, "SELECT GROUP_CONCAT(CONCAT_WS(' ', id, item, COALESCE(was, '-')) ORDER BY id) FROM journal")
            == journal
        )
        assert value(cursor, "SELECT GROUP_CONCAT(CONCAT(id, '=', quantity) ORDER BY id) FROM parts") == parts


@pytest.mark.parametrize(
    "change",
    [
        "UPDATE parts SET quantity = 1 OUTPUT inserted.id, 'x', inserted.quantity INTO journal WHERE id = 1",
        "UPDATE parts SET quantity = 1 OUTPUT inserted.id, inserted.item, inserted.quantity INTO journal WHERE quantity > 3",
        "UPDATE parts SET quantity = 1, item = 'a' OUTPUT inserted.id, inserted.item, deleted.quantity INTO journal",
        "DELETE TOP (2) FROM parts OUTPUT deleted.* INTO journal",
        "DELETE p OUTPUT deleted.* INTO journal FROM parts p JOIN journal j ON j.id = p.id",
        "DELETE FROM parts OUTPUT deleted.* INTO journal WHERE id NOT IN (SELECT id FROM journal)",
        "DELETE FROM parts OUTPUT deleted.* WHERE id = 1",
        "DELETE FROM parts OUTPUT deleted.* INTO journal WHERE quantity > DATEDIFF(day, '2026-01-01', GETDATE())",
        "DELETE FROM parts OUTPUT deleted.* INTO journal WHERE item < CAST(CURRENT_TIMESTAMP AS date)",
        "DELETE FROM parts OUTPUT deleted.* INTO journal WHERE quantity > dbo.least_of(id)",
        "DELETE FROM parts OUTPUT deleted.* INTO journal; RETURN @@ROWCOUNT",
        "INSERT INTO parts OUTPUT inserted.* INTO journal VALUES (1, 'a', 1)",
    ],
)
@pytest.mark.parametrize("target", ["mariadb", "mysql", "oracle"])
def test_rows_that_are_not_drafted(change: str, target: str) -> None:
    script = f"{TABLES}CREATE PROCEDURE p AS BEGIN {change}; END\nGO\n"
    drafts = steps.assess_catalog(
        steps.survey_texts([ScriptFile("o.sql", script, "")], "sqlserver"), target
    ).drafts.drafts
    assert not next(each for each in drafts if each.object.type.value == "procedure").is_finished
