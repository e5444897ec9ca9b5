"""Older versions: each is asked for what it has, live and by a kit, and tells the same as a newer one of what both know."""

import re
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.demo import scripts_of
from hullsound.errors import UsageError
from hullsound.standin.oracle import make_dictionary
from hullsound.survey.catalogues.model import Capture, load_queries
from hullsound.survey.catalogues.record import write_record
from hullsound.survey.kit import is_number, printed_query, write_kit
from hullsound.survey.live.model import parse_address
from hullsound.survey.live.oracle import OracleSession
from hullsound.survey.live.read import capture_live
from hullsound.survey.live.session import Session
from tests.survey.test_live import count_values, shape

NEW_IN_ORACLE_12 = r"oracle_maintained|default_on_null|identity_column|tab_identity_cols"


def oracle_11(catalog: Catalog) -> OracleSession:
    """Return a session on a dictionary that has nothing of what came after 11.2."""
    dictionary = make_dictionary(catalog)
    run = dictionary.connection.execute
    run("UPDATE sys.product_component_version SET version = '11.2.0.4.0'")
    for view, column in (
        ("dba_users", "oracle_maintained"), ("dba_objects", "oracle_maintained"),
        ("dba_tab_cols", "default_on_null"), ("dba_tab_cols", "identity_column"),
    ):  # fmt: skip
        run(f'ALTER TABLE sys.{view} DROP COLUMN "{column}"')
    run("DROP TABLE sys.dba_tab_identity_cols")
    dictionary.connection.executemany(
        "INSERT INTO sys.dba_users VALUES (?)", [("XDB",), ("APEX_040200",), ("APEX_OF_OURS",)]
    )
    return OracleSession(dictionary.connection, parse_address("oracle://old"), dictionary.errors)


def test_oracle_11_is_asked_for_what_it_has(tmp_path: Path) -> None:
    source = steps.survey_scripts(scripts_of("oracle"), "oracle")
    old = capture_live(oracle_11(source), tmp_path / "old", steps.no_progress)
    with steps.open_source(parse_address("oracle://?standin=demo")) as session:
        new = capture_live(session, tmp_path / "new", steps.no_progress)
    assert (old.version, old.refused) == ("11", {})
    assert "identities" not in old.found
    assert set(old.rows("users")) - set(new.rows("users")) == {("APEX_OF_OURS",)}
    for name in set(new.found) - {"users", "identities", "columns", "directories"}:
        assert old.rows(name) == new.rows(name), name
    strip = [(*row[:11], row[12], row[14]) for row in new.rows("columns")]
    assert [(*row[:11], row[12], row[14]) for row in old.rows("columns")] == strip


@pytest.mark.parametrize("name", sorted(load_queries("oracle", "11")))
def test_a_query_for_oracle_11_gives_the_columns_of_the_newest(name: str) -> None:
    query = load_queries("oracle", "11")[name].text
    assert not re.search(NEW_IN_ORACLE_12, query)
    assert count_values(query) == count_values(load_queries("oracle")[name].text)


def as_sqlite(query: str) -> str:
    """Return what a kit of SQL Server before 2016 asks, in SQLite's words for the same."""
    query = re.sub(r"\bN'", "'", query.replace(" + ", " || ")).replace("CHAR(", "char(")
    return re.sub(r"\bAS n?varchar(?:\((?:max|\d+)\))?", "AS text", query)


def print_kit(session: Session, version: str) -> list[str]:
    """Return the lines that a kit of SQL Server before 2016 prints on a stand-in."""
    lines = [
        '{"hullsound": "catalogue/1", "engine": "sqlserver", "version": "@", "name": "ferry"}'.replace("@", version)
    ]
    for name, query in load_queries("sqlserver", version).items():
        rows = session.ask(as_sqlite(printed_query("sqlserver", version, name, query.text)))
        lines += [str(row[0]) for row in rows]
        lines.append(f'{{"end": "{name}"}}')
    return [*lines, '{"end": ""}']


@pytest.mark.parametrize("version", ["2008", "2012", "2014"])
def test_a_kit_without_for_json_tells_what_a_live_survey_does(version: str, tmp_path: Path) -> None:
    printed, kept = tmp_path / "printed.txt", tmp_path / "kept.txt"
    with steps.open_source(parse_address("mssql://?standin=demo")) as session:
        printed.write_text("\n".join(print_kit(session, version)) + "\n", encoding="utf-8")
        found = {name: session.ask(query.text) for name, query in load_queries("sqlserver", version).items()}
    kept.write_text("".join(write_record(Capture("sqlserver", version, "ferry", found))), encoding="utf-8")
    told, live = steps.survey_source(printed), steps.survey_source(kept)
    assert not [s for s in told.sightings if s.construct.startswith("survey.kit")]
    assert shape(told) == shape(live)
    assert [item.text for item in told.objects.values()] == [item.text for item in live.objects.values()]
    kit = write_kit("sqlserver", version)
    assert "FOR JSON" not in kit.replace("no FOR JSON", "")
    assert f"version {version}" in kit


def test_numbers_of_the_catalogue_of_sql_server_are_known_as_such() -> None:
    assert all(map(is_number, ("0", "t.object_id", "c.is_hidden", "x.key_ordinal", "(SELECT SUM(p.rows) FROM p)")))
    assert not any(map(is_number, ("t.name", "NULL", "CAST(q.increment AS varchar(40))", "d.type", "e.type_name")))


def test_a_kit_is_written_for_versions_that_exist() -> None:
    assert "oracle_maintained" not in write_kit("oracle", "11")
    assert "oracle_maintained" in write_kit("oracle", "12")
    with pytest.raises(UsageError, match="no kit for sqlserver 2005"):
        write_kit("sqlserver", "2005")
    with pytest.raises(UsageError, match="no kit for oracle eleven"):
        write_kit("oracle", "eleven")
    with pytest.raises(UsageError, match="not made by version"):
        write_kit("db2", "11.5")


PRINTED_BY_DDLGEN = """
-----------------------------------------------------------------------------
-- Database Creation
-----------------------------------------------------------------------------
print '<<<<< CREATING Database harbour >>>>>'
go
use master
go
create database harbour on default = '24M'
go
use harbour
go
exec sp_changedbowner 'sa', true
go
-----------------------------------------------------------------------------
-- DDL for Table 'harbour.dbo.berth'
-----------------------------------------------------------------------------
print '<<<<< CREATING Table - "harbour.dbo.berth" >>>>>'
go
setuser 'dbo'
go
create table berth (
	berth_id                        int                              identity  ,
	label                           varchar(40)                      not null  ,
	metres                          numeric(6,2)                     DEFAULT  1.5  not null  ,
 CONSTRAINT berth_pk PRIMARY KEY CLUSTERED ( berth_id )  on 'default'
)
lock allpages
with dml_logging = full
 on 'default'
go
Grant Select on dbo.berth to clerks
go
setuser
go
create nonclustered index ix_label
on harbour.dbo.berth(label)
go
create procedure dbo.free_berths @metres numeric(6,2) as
select berth_id from berth where metres >= @metres
go
"""


def test_what_ddlgen_prints_is_read_in_full(tmp_path: Path) -> None:
    output = tmp_path / "output.sql"
    output.write_text(PRINTED_BY_DDLGEN, encoding="utf-8")
    catalog = steps.survey_scripts(output, "ase")
    assert catalog.unread == []
    kinds = {(item.type.value, item.name) for item in catalog.objects.values()}
    assert {("table", "BERTH"), ("index", "BERTH.IX_LABEL"), ("procedure", "FREE_BERTHS")} <= kinds
    table = next(item for item in catalog.objects.values() if item.type.value == "table")
    assert [column.name for column in table.columns] == ["BERTH_ID", "LABEL", "METRES"]
    assert "ddlgen" in write_kit("ase")
