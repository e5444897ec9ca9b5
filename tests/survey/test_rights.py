"""Few rights never look like a clean bill: what a server leaves out in silence is said, with the statement that shows it."""

import shutil
import socket
import threading
import time
from pathlib import Path

import pytest

from hullsound import steps
from hullsound.errors import SourceError, UsageError
from hullsound.preflight.model import Result
from hullsound.preflight.target import create_database_text
from hullsound.survey.catalogues.model import Capture
from hullsound.survey.catalogues.rights import hidden_parts
from hullsound.survey.live.model import parse_address
from tests.survey.test_preflight import by_name, preflight

NEEDS_MARIADB = pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")


def parts(*grants: str, name: str = "yard") -> list[str]:
    capture = Capture("mariadb", "10.11", name, {"granted": [(grant,) for grant in grants]})
    return [part.what for part in hidden_parts(capture)]


def test_rights_of_mysql_and_what_they_show() -> None:
    assert not parts("GRANT ALL PRIVILEGES ON *.* TO `root`@`localhost` WITH GRANT OPTION")
    assert not parts("GRANT ALL PRIVILEGES ON `yard`.* TO `a`@`%`")
    assert parts("GRANT USAGE ON *.* TO `a`@`%`", "GRANT SELECT, SHOW VIEW ON `yard`.* TO `a`@`%`") == [
        "triggers",
        "events",
        "routines",
    ]
    assert "tables and columns" in parts("GRANT ALL PRIVILEGES ON `other`.* TO `a`@`%`")
    assert not parts("GRANT ALL PRIVILEGES ON `ya%`.* TO `a`@`%`")
    assert "tables and columns" in parts("GRANT ALL PRIVILEGES ON `y\\_rd`.* TO `a`@`%`", name="yard")
    assert "columns of boat" in parts("GRANT SELECT (`n`, `m`) ON `yard`.`boat` TO `a`@`%`")


@pytest.mark.server
@NEEDS_MARIADB
def test_a_user_with_few_rights_on_mariadb() -> None:
    from hullsound.trial.mariadb import private_mariadb, root_connection

    with private_mariadb() as path, root_connection(path) as connection, connection.cursor() as cursor:
        for text in (
            "CREATE DATABASE yard", "CREATE TABLE yard.boat (n INT, m INT, secret INT)",
            "CREATE FUNCTION yard.f() RETURNS INT RETURN 1",
            "CREATE TRIGGER yard.tr BEFORE INSERT ON yard.boat FOR EACH ROW SET NEW.n = 1",
            "CREATE USER guest", "GRANT SELECT, SHOW VIEW ON yard.* TO guest", "CREATE USER clerk",
            "GRANT SELECT (n, m) ON yard.boat TO clerk",
        ):  # fmt: skip
            cursor.execute(text)
        guest = steps.survey_live(f"mariadb://guest@localhost/yard?unix_socket={path}")
        told = {s.excerpt for s in guest.sightings if s.construct == "survey.not-shown"}
        assert told == {"triggers", "events", "routines"}
        clerk = steps.survey_live(f"mariadb://clerk@localhost/yard?unix_socket={path}")
        assert len(clerk.objects["yard.table.boat"].columns) == 2
        case = steps.assess_catalog(clerk, "postgresql:18")
        assert next(o for o in case.document.objects if o.id == "yard.table.boat").outcome.value == "rewrite"
        checks = by_name(preflight(f"mariadb://guest@localhost/yard?unix_socket={path}"), "source")
        assert checks["right to see triggers"].result is Result.BAD
        assert checks["right to see triggers"].do == "GRANT TRIGGER ON yard.* TO guest"
        assert checks["rights"].result is Result.LOOK
        root = steps.survey_live(f"mariadb://root@localhost/yard?unix_socket={path}")
        assert not [s for s in root.sightings if s.construct == "survey.not-shown"]


def test_a_port_that_stays_mute_does_not_hold_a_survey_for_long() -> None:
    with socket.create_server(("127.0.0.1", 0)) as server:
        port = server.getsockname()[1]
        taken: list[socket.socket] = []
        threading.Thread(target=lambda: taken.append(server.accept()[0]), daemon=True).start()
        begun = time.monotonic()
        with pytest.raises(SourceError):
            steps.survey_live(f"mysql://anna:x@127.0.0.1:{port}/yard")
        assert time.monotonic() - begun < 30
        for each in taken:
            each.close()


@pytest.mark.parametrize("option", ["ssl=perhaps", "colour=blue"])
def test_options_of_an_address_are_never_ignored(option: str, tmp_path: Path) -> None:
    with pytest.raises(UsageError):
        steps.survey_live(f"mysql://anna:x@127.0.0.1:1/yard?{option}")


def test_the_statement_that_makes_an_absent_database() -> None:
    minding = Capture("oracle")
    assert create_database_text(parse_address("mysql://a@h/quay`s"), minding) == (
        "CREATE DATABASE `quay``s` CHARACTER SET utf8mb4 COLLATE utf8mb4_bin"
    )
    text = create_database_text(parse_address("postgresql://a@h/quay"), minding)
    assert text == "CREATE DATABASE \"quay\" TEMPLATE template0 ENCODING 'UTF8' LOCALE 'C.UTF-8'"


@pytest.mark.server
def test_an_absent_target_is_told_with_its_statement(server_url: str) -> None:
    head, _, tail = server_url.partition("/postgres?")
    address = f"{head}/not_there_yet?{tail}"
    checks = by_name(preflight("oracle://?standin=demo", "postgresql:18", address), "target")
    assert checks["database"].do.startswith('CREATE DATABASE "not_there_yet" TEMPLATE template0')
