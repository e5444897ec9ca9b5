"""The private MariaDB: alone in its folder, and plain about what went wrong."""

import shutil
from pathlib import Path

import pytest

from hullsound.errors import TargetError
from hullsound.trial import mariadb
from hullsound.trial.mariadb import private_mariadb, root_connection


@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
def test_a_second_server_leaves_the_temporary_tables_of_the_first() -> None:
    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:
        cursor.execute("CREATE DATABASE tide; CREATE TEMPORARY TABLE tide.mark (height INT) ENGINE = Aria")
        while cursor.nextset():
            pass
        cursor.execute("INSERT INTO tide.mark VALUES (3)")
        with private_mariadb() as other, root_connection(other):
            cursor.execute("ALTER TABLE tide.mark ADD COLUMN hour INT DEFAULT 6")
            cursor.execute("SELECT height, hour, @@tmpdir FROM tide.mark")
            assert cursor.fetchall() == ((3, 6, str(socket.parent)),)
    assert not socket.parent.exists()


def test_an_installer_that_fails_says_why(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    installer = tmp_path / "mariadb-install-db"
    installer.write_text("#!/bin/sh\necho Installing\necho 'ERROR: no room' >&2\nexit 1\n", encoding="utf-8")
    installer.chmod(0o755)
    monkeypatch.setattr(mariadb.shutil, "which", lambda _name: str(installer))
    with pytest.raises(TargetError, match="did not start: ERROR: no room"), private_mariadb():
        pytest.fail("a server that is not there")


def test_no_mariadb_at_all_says_what_to_install(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(mariadb.shutil, "which", lambda _name: None)
    with pytest.raises(TargetError, match="mariadbd and mariadb-install-db not found"), private_mariadb():
        pytest.fail("a server that is not there")
