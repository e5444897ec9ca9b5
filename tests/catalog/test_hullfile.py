"""The hull file: documented, whole or absent, refused when foreign."""

import resource
import sqlite3
import subprocess
import sys
from pathlib import Path

import msgspec
import pytest

from hullsound import steps
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.hull_connection import APPLICATION_ID, SCHEMA_VERSION
from hullsound.catalog.hull_schema import SCHEMA
from hullsound.catalog.hullfile import read_hull
from hullsound.errors import SourceError
from hullsound.survey.files import ScriptFile


@pytest.fixture(scope="module")
def catalog(demo_scripts: Path) -> Catalog:
    return steps.survey_scripts(demo_scripts, "oracle", "19")


def test_what_is_written_is_read_again(catalog: Catalog, tmp_path: Path) -> None:
    path = tmp_path / "a.hull"
    steps.save_hull(path, catalog)
    again = read_hull(path)
    for field in ("engine", "version", "name", "surveyed_at", "references", "unread", "files", "sightings"):
        left, right = getattr(catalog, field), getattr(again, field)
        assert (sorted(left, key=repr) == sorted(right, key=repr)) if isinstance(left, list) else left == right, field
    assert msgspec.to_builtins(list(catalog.objects.values())) == msgspec.to_builtins(list(again.objects.values()))


def test_it_is_sqlite_with_our_mark_and_a_described_table_each(catalog: Catalog, tmp_path: Path) -> None:
    path = tmp_path / "a.hull"
    steps.save_hull(path, catalog)
    with sqlite3.connect(path) as connection:
        assert connection.execute("PRAGMA application_id").fetchone() == (APPLICATION_ID,)
        assert connection.execute("PRAGMA user_version").fetchone() == (SCHEMA_VERSION,)
        assert connection.execute("PRAGMA integrity_check").fetchone() == ("ok",)
    connection.close()
    parts = SCHEMA.split("CREATE TABLE")
    assert all(part.strip().rpartition("\n")[2].startswith("--") for part in parts[:-1])


@pytest.mark.parametrize("content", [b"", b"SQLite format 3\0" + b"junk" * 200, b"hello"])
def test_damaged_files_are_refused(content: bytes, tmp_path: Path) -> None:
    path = tmp_path / "bad.hull"
    path.write_bytes(content)
    with pytest.raises(SourceError, match="hull file"):
        read_hull(path)


def test_a_foreign_database_and_another_version_are_refused(tmp_path: Path) -> None:
    path = tmp_path / "foreign.hull"
    connection = sqlite3.connect(path)
    connection.execute("CREATE TABLE t (a)")
    connection.commit()
    with pytest.raises(SourceError, match="but not a hull file"):
        read_hull(path)
    connection.execute(f"PRAGMA application_id = {APPLICATION_ID}")
    connection.execute("PRAGMA user_version = 99")
    connection.commit()
    connection.close()
    with pytest.raises(SourceError, match="another version"):
        read_hull(path)


def test_a_full_disk_leaves_the_old_file(demo_scripts: Path, tmp_path: Path) -> None:
    path = tmp_path / "a.hull"
    path.write_bytes(b"the old one")

    def limit() -> None:
        resource.setrlimit(resource.RLIMIT_FSIZE, (40_000, 40_000))

    command = [sys.executable, "-m", "hullsound", "survey", str(demo_scripts), "--from", "oracle", "-o", str(path)]
    done = subprocess.run(command, capture_output=True, text=True, preexec_fn=limit, check=False)
    assert done.returncode == 3
    assert "cannot write the hull file" in done.stderr
    assert "Traceback" not in done.stderr
    assert path.read_bytes() == b"the old one"
    assert [p.name for p in tmp_path.iterdir()] == ["a.hull"]


@pytest.mark.parametrize(
    "damage",
    [
        "UPDATE object SET line = 'x'",
        "UPDATE object SET file = x'ff00'",
        "UPDATE object SET type = 'no such type'",
        "UPDATE column_ SET object = 'lost'",
        "UPDATE sighting SET line = 'x', needs = '[1]'",
        "UPDATE object SET details = '[]'",
        "DROP TABLE sighting",
    ],
)
def test_rows_that_no_survey_writes_are_an_error_that_says_so(damage: str, tmp_path: Path) -> None:
    path = tmp_path / "x.hull"
    text = "CREATE TABLE t (a NUMBER);\nCREATE VIEW v AS SELECT NVL(a, 1) b FROM t;\n"
    steps.save_hull(path, steps.survey_texts([ScriptFile("a.sql", text, "")], "oracle"))
    with sqlite3.connect(path) as connection:
        connection.execute(damage)
    connection.close()
    with pytest.raises(SourceError, match="cannot use the hull file"):
        read_hull(path)
