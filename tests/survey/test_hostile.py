"""Names and texts that try to be SQL stay names and texts: in live surveys, profiles, records and kits."""

import sqlite3
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from hullsound import steps
from hullsound.profile.speech import quoted
from hullsound.standin.dictionary import Dictionary
from hullsound.survey.catalogues.model import Capture, load_queries
from hullsound.survey.catalogues.record import read_record, write_record
from hullsound.survey.kit import _split
from hullsound.survey.live.model import parse_address
from hullsound.survey.live.oracle import OracleSession
from hullsound.survey.live.read import as_source, capture_live
from tests.servers import postgresql_with

NAMES = ['we"ird', "x; DROP TABLE victim; --", "a'b", "tab`le", "]br[acket", "new\nline", "../up", "$$d$$", "{c}"]
PLAIN = st.one_of(
    st.none(), st.booleans(), st.integers(-(2**53), 2**53), st.text(st.characters(codec="utf-8"), max_size=30)
)

ROWS = st.lists(st.lists(PLAIN, min_size=1, max_size=4), max_size=5)
VALUES = ["a", "f(b, c)", "'x, (y'", "g(h(1, 2), ')')", "CASE WHEN a THEN 'b, c' ELSE d END"]


def make_hostile(connection: Any, engine: str, run: Any) -> None:
    run("CREATE TABLE victim (id INTEGER PRIMARY KEY)")
    run("INSERT INTO victim VALUES (1)")
    for name in NAMES:
        kind = "VARCHAR(30)"
        run(f"CREATE TABLE {quoted(engine, name)} ({quoted(engine, name)} {kind} UNIQUE, n INTEGER)")
        run(f"INSERT INTO {quoted(engine, name)} VALUES ('quay ', 1)")


def check(address: str, victims: Any) -> None:
    catalog = steps.survey_live(address, profile_seconds=60)
    assert not catalog.unread
    assert not [s for s in catalog.sightings if s.construct == "data.unfinished"]
    told = {m.column.lower() for m in catalog.measures if m.question == "trailing-blank" and m.count == 1}
    assert told == {name.lower() for name in NAMES}
    assert victims() == 1


def test_sqlite_keeps_its_tables(tmp_path: Path) -> None:
    path = tmp_path / "hostile.db"
    connection = sqlite3.connect(path)
    make_hostile(connection, "sqlite", connection.execute)
    connection.commit()
    check(f"sqlite:///{path}", lambda: connection.execute("SELECT count(*) FROM victim").fetchone()[0])
    connection.close()


@pytest.mark.server
def test_postgresql_keeps_its_tables(server_url: str) -> None:
    with postgresql_with(server_url) as (address, connection):
        make_hostile(connection, "postgresql", lambda text: connection.execute(text.encode()))
        connection.commit()
        check(address, lambda: connection.execute("SELECT count(*) FROM victim").fetchone()[0])


@pytest.fixture
def mariadb() -> Iterator[tuple[str, Any]]:
    import shutil

    if shutil.which("mariadbd") is None:
        pytest.skip("no MariaDB is installed")
    from hullsound.trial.mariadb import private_mariadb, root_connection

    with private_mariadb() as path, root_connection(path) as connection, connection.cursor() as cursor:
        cursor.execute("CREATE DATABASE yard CHARACTER SET utf8mb4")
        cursor.execute("USE yard")
        yield f"mariadb://root@localhost/yard?unix_socket={path}", cursor


@pytest.mark.server
def test_mariadb_keeps_its_tables(mariadb: tuple[str, Any]) -> None:
    address, cursor = mariadb
    make_hostile(cursor, "mariadb", cursor.execute)

    def victims() -> int:
        cursor.execute("SELECT count(*) FROM victim")
        return int(cursor.fetchone()[0])

    check(address, victims)


@settings(max_examples=150)
@given(
    st.dictionaries(
        st.sampled_from(["tables", "columns", "code"]), st.lists(st.lists(PLAIN, min_size=1, max_size=4), max_size=5)
    )
)
def test_a_record_gives_back_what_was_written(
    tmp_path_factory: pytest.TempPathFactory, found: dict[str, list[list[Any]]]
) -> None:
    capture = Capture("oracle", "19", "port", {name: [tuple(row) for row in rows] for name, rows in found.items()})
    path = tmp_path_factory.mktemp("record") / "out.txt"
    path.write_text("".join(write_record(capture)), encoding="utf-8", newline="")
    record = read_record(path)
    assert record.is_whole
    assert not record.noise
    assert record.capture.found | {name: [] for name in found if not found[name]} == capture.found | {"": []}


@settings(max_examples=200)
@given(st.lists(st.sampled_from(VALUES), min_size=1, max_size=6))
def test_a_list_of_values_is_split_at_its_outer_commas(values: list[str]) -> None:
    assert _split(" " + ", ".join(values)) == values


@settings(max_examples=100)
@given(st.binary(max_size=400))
def test_no_bytes_make_the_reader_of_records_fall(tmp_path_factory: pytest.TempPathFactory, data: bytes) -> None:
    path = tmp_path_factory.mktemp("bytes") / "out.txt"
    path.write_bytes(b'{"hullsound": "catalogue/1", "engine": "oracle", "version": "19", "name": "x"}\n' + data)
    record = read_record(path)
    assert record.capture.engine == "oracle"


def test_a_part_of_oracles_dictionary_is_said_to_be_one(tmp_path: Path) -> None:
    views = {
        "all_users": "username oracle_maintained",
        "all_tables": "owner table_name temporary duration iot_type tablespace_name nested secondary dropped num_rows",
        "all_mviews": "owner mview_name refresh_mode refresh_method build_mode rewrite_enabled query",
        "product_component_version": "product version",
    }
    made = Dictionary(views)
    made.fill("all_users", [("QUAY", "N")])
    berth = {
        "owner": "QUAY",
        "table_name": "BERTH",
        "temporary": "N",
        "nested": "NO",
        "secondary": "N",
        "dropped": "NO",
    }
    made.fill("all_tables", [berth])
    session = OracleSession(made.connection, parse_address("oracle://anna@host/PORT"), made.errors)
    capture = capture_live(session, tmp_path / "kept", steps.no_progress)
    assert [row[:2] for row in capture.found["tables"]] == [("QUAY", "BERTH")]
    assert "ALL_" in capture.refused["what the user may not use"]
    told = {remark.construct for remark in as_source(capture).remarks}
    assert told == {"survey.unread-catalogue"}
    assert set(capture.refused) < {*load_queries("oracle"), "what the user may not use"} | set(capture.refused)


@pytest.mark.parametrize("engine", ["postgresql", "mysql", "sqlserver", "sqlite"])
def test_quoted_names_end_where_they_should(engine: str) -> None:
    closing = {"mysql": "`", "sqlserver": "]"}.get(engine, '"')
    for name in NAMES:
        text = quoted(engine, name)
        assert text[1:-1].replace(closing * 2, "").count(closing) == 0
