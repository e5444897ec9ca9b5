"""Texts that are known in part, temporary tables, and triggers of whole statements on a real MariaDB do what they did.

What they do comes from the references of Db2, Oracle and SQL Server, which do not run here; PostgreSQL was asked.
"""

import shutil
from collections.abc import Iterator
from decimal import Decimal

import pytest

from hullsound import steps
from hullsound.survey.files import ScriptFile

from .office import DATA
from .test_routines_on_mariadb import Server, drafted

needs_mariadb = pytest.mark.skipif(shutil.which("mariadbd") is None, reason="MariaDB is not installed")


@pytest.fixture
def jetties(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("stages.sql", "db2", mariadb_socket, "hs_jetties"):
        server.rows("INSERT INTO jetties VALUES (1, 'East', 8.5), (2, 'West', 12.25), (3, NULL, 20)")
        yield server


@pytest.fixture
def stores(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("stores.sql", "oracle", mariadb_socket, "hs_stores"):
        server.rows("INSERT INTO ropes VALUES (1, 'a'), (2, 'b'), (3, 'c')")
        yield server


@pytest.fixture
def lockers(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("lockers.sql", "sqlserver", mariadb_socket, "hs_lockers"):
        server.rows("INSERT INTO lockers VALUES (1, 'Able', 'l'), (2, 'Baker', NULL), (3, 'a_c', 'r')")
        yield server


@pytest.fixture
def slips(mariadb_socket: str) -> Iterator[Server]:
    for server in drafted("widths.sql", "postgresql", mariadb_socket, "hs_slips"):
        server.rows("INSERT INTO slips VALUES (1, 4.5), (2, 9.5), (3, 2)")
        yield server


@needs_mariadb
def test_changed_rows_are_kept_as_documents(mariadb_socket: str) -> None:
    """The rows are those that "Use RAW mode with FOR XML" of the Transact-SQL reference tells."""
    for server in drafted("audited.sql", "sqlserver", mariadb_socket, "hs_audited"):
        server.rows("""INSERT INTO docks VALUES (1, 'A & "B" <c>', '2024-05-06 07:08:09.250', 4.5, 1, 'x'),
            (2, NULL, '2024-05-06 07:08:09', NULL, 0, 'y')""")
        server.rows("UPDATE docks SET depth = 10 WHERE dockid = 2")
        server.rows("DELETE FROM docks WHERE dockid = 1")
        first = (
            'DockId="1" FullName="A &amp; &quot;B&quot; &lt;c&gt;" Made="2024-05-06T07:08:09.25" Depth="4.50" IsOpen="1"'
            ' Kind="x"/>'
        )
        second, rest = 'DockId="2" Made="2024-05-06T07:08:09"', 'IsOpen="0" Kind="y"/>'
        assert server.rows("SELECT what, old, new FROM changelog ORDER BY id") == [
            ("I", None, f"<dock {first}"),
            ("I", None, f"<dock {second} {rest}"),
            ("U", f"<row {second} {rest}", f'<dock {second} Depth="10.00" {rest}'),
            ("D", f"<row {first}", None),
        ]


@needs_mariadb
def test_triggers_of_whole_statements_tell_of_each_changed_row(jetties: Server) -> None:
    jetties.rows("UPDATE jetties SET name = CONCAT(COALESCE(name, 'None'), '!') WHERE id < 4")
    assert jetties.rows("SELECT * FROM journal ORDER BY id") == [(1, "East is East!"), (2, "West is West!")]
    jetties.rows("DELETE FROM jetties WHERE id IN (1, 3)")
    assert jetties.rows("SELECT id FROM journal WHERE what = 'gone'") == [(3,)]


@needs_mariadb
def test_functions_of_one_query_give_their_rows_and_values(jetties: Server) -> None:
    assert jetties.rows("SELECT * FROM long_jetties ORDER BY 1") == [(None,), ("West",)]
    assert jetties.value("SELECT total_length()") == Decimal("40.75")


@needs_mariadb
def test_temporary_tables_are_made_anew_at_each_call(jetties: Server) -> None:
    jetties.rows("CALL lengthen(1)")
    jetties.rows("CALL lengthen(0.5)")
    assert jetties.rows("SELECT length FROM jetties ORDER BY id") == [(10,), (Decimal("12.25"),), (20,)]


@needs_mariadb
def test_texts_of_db2_name_their_table_when_they_run(jetties: Server) -> None:
    jetties.rows("CALL clear('jetties', 1)")
    assert jetties.rows("SELECT id FROM jetties") == [(1,)]


@needs_mariadb
def test_texts_of_oracle_take_values_in_their_order(stores: Server) -> None:
    stores.rows("CALL drop_above('ropes', 2)")
    stores.rows("CALL rename_one('ropes', 2, NULL)")
    stores.rows("CALL rename_one('ropes', 1, 'z')")
    assert stores.rows("SELECT * FROM ropes ORDER BY id") == [(1, "z"), (2, "none")]
    stores.rows("CALL count_of('ropes', @k)")
    assert stores.value("SELECT @k") == 2


@needs_mariadb
def test_texts_of_sql_server_take_values_by_name(lockers: Server) -> None:
    lockers.rows("CALL hs_lockers.rename_one('lockers', 2, NULL)")
    assert lockers.rows("SELECT name, side FROM lockers WHERE id = 2") == [("none", "x")]
    assert lockers.rows("CALL hs_lockers.named_like('lockers', 'A%%')") == [(1, "l"), (3, "r")]
    lockers.rows("CALL hs_lockers.drop_above('lockers', 9)")
    lockers.rows("CALL hs_lockers.count_of('lockers', @k)")
    assert lockers.value("SELECT @k") == 2


@needs_mariadb
def test_sets_of_postgresql_are_kept(slips: Server) -> None:
    assert slips.rows("SELECT * FROM notes ORDER BY id") == [(1, "new INSERT"), (2, "new INSERT")]
    assert slips.rows("SELECT id FROM chosen ORDER BY id") == [(1,), (2,)]
    slips.rows("CALL widen(1)")
    slips.rows("CALL widen(1)")
    assert slips.rows("SELECT width FROM slips ORDER BY id") == [(Decimal("5.5"),), (Decimal("9.5"),), (4,)]


@pytest.mark.parametrize(
    ("file", "engine", "target", "wanted"),
    [
        ("stages.sql", "db2", "sqlserver", "FROM inserted AS n JOIN deleted AS o ON o.id = n.id"),
        ("stages.sql", "db2", "sqlserver", "INSERT INTO [#short] SELECT id, length FROM jetties"),
        ("stages.sql", "db2", "oracle", "CREATE GLOBAL TEMPORARY TABLE short_lengthen (id number(10) NOT NULL"),
        ("stages.sql", "db2", "oracle", "INTO hs_answer FROM dual;"),
        ("stores.sql", "oracle", "sqlserver", "EXEC sp_executesql @hs_text, N'@hs_1 nvarchar(max), @hs_2 float(53)'"),
        ("stores.sql", "oracle", "mysql", "EXECUTE hs_text USING @hs_text_1, @hs_text_2;"),
        ("stores.sql", "oracle", "sqlserver", "SELECT TOP (2) WITH TIES id, name FROM ropes ORDER BY"),
        ("lockers.sql", "sqlserver", "oracle", "EXECUTE IMMEDIATE v_s INTO p_k;"),
        ("widths.sql", "postgresql", "sqlserver", "SELECT id, width INTO [#narrow] FROM (SELECT id, width FROM slips"),
        (
            "moves.sql",
            "mysql",
            "sqlserver",
            "WHERE made < '2020-01-01' ORDER BY made DESC) UPDATE hs_rows SET gone = gone + 1",
        ),
        (
            "moves.sql",
            "mysql",
            "oracle",
            "WHERE ROWID IN (SELECT ROWID FROM moves WHERE id > 3 ORDER BY id FETCH FIRST n ROWS",
        ),
        ("moves.sql", "mysql", "sqlserver", "FROM moves a CROSS JOIN moves b JOIN moves c ON c.id = b.id WHERE"),
        ("moves.sql", "mysql", "oracle", "FROM moves a CROSS JOIN moves b JOIN moves c ON c.id = b.id WHERE"),
        ("widths.sql", "postgresql", "sqlserver", "WHERE ((id = 1 AND width = 4.5) OR (id = 2 AND width = 9.5))"),
    ],
)
def test_other_targets_have_words_for_them(file: str, engine: str, target: str, wanted: str) -> None:
    text = (DATA / file).read_text(encoding="utf-8")
    case = steps.assess_catalog(steps.survey_texts([ScriptFile(file, text, "")], engine), target)
    assert any(wanted in draft.text for draft in steps.draft_case(case).drafts if draft.text)


@pytest.mark.parametrize(
    ("target", "wanted"),
    [
        ("mariadb:11.8", "'UPDATE `', p_t, '` SET name"),
        ("oracle:19", "'UPDATE ' || p_t || ' SET name = NVL(name, ''x'')"),
    ],
)
def test_quotes_around_a_name_that_only_running_code_knows(target: str, wanted: str) -> None:
    code = "CREATE PROCEDURE q @t sysname AS EXEC('UPDATE [' + @t + '] SET name = ISNULL(name, ''x'')')"
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("p.sql", code, "")], "sqlserver"), target)
    assert [wanted in each.text for each in case.drafts.drafts] == [True]


def test_a_text_with_a_place_in_one_branch_alone_is_not_promised() -> None:
    code = """CREATE PROCEDURE p @w nvarchar(400) AS
BEGIN
  DECLARE @s nvarchar(400) = N'SELECT id FROM t WHERE 1 = 1';
  IF @w IS NOT NULL SET @s = @s + N' AND name LIKE @p';
  EXEC sp_executesql @s, N'@p nvarchar(400)', @w;
END"""
    case = steps.assess_catalog(steps.survey_texts([ScriptFile("p.sql", code, "")], "sqlserver"), "mariadb:11.8")
    assert [each.outcome.value for each in case.drafts.drafts] == ["rewrite"]
