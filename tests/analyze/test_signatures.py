"""What the knowledge says that functions give, asked of the engines themselves."""

import shutil
import sqlite3
import tomllib
from functools import cache
from importlib.resources import files
from pathlib import Path

import psycopg
import pytest

from hullsound.analyze.types import Family, family_of_logical
from hullsound.knowledge.engine_model import SignatureRow
from hullsound.knowledge.load import load_signatures
from hullsound.knowledge.types import logical_type, parse_type

SIGNATURES = Path(str(files("hullsound.knowledge"))) / "signatures"
ENGINES = ("oracle", "sqlserver", "ase", "mysql", "mariadb", "sqlite", "db2", "teradata", "postgresql")
VALUES = {"text": "'7'::text", "number": "7::numeric", "integer": "7", "timestamp": "now()", "": "7"}
TWO_TEXTS = {"TO_DATE": ", 'DD'", "TO_NUMBER": ", '9'", "TO_CHAR": ", '999'", "STRING_AGG": ", ','"}
"""Functions whose second argument is a mask or separator, of which nothing is said."""
NOT_CALLED = frozenset(
    ("OVERLAY", "EXTRACT", "DATE_PART", "DATE_TRUNC", "TO_TIMESTAMP", "MAKE_TIMESTAMP", "MAKE_TIMESTAMPTZ")
)
"""Written with words between the arguments, with the name of a part, or taking numbers and masks of several kinds."""


def own_rows(engine: str) -> dict[str, SignatureRow]:
    document = tomllib.loads((SIGNATURES / f"{engine}.toml").read_text(encoding="utf-8"))
    names = [name for group in document.values() for name in group["names"].split()]
    return {name: load_signatures(engine)[name] for name in names}


@pytest.mark.parametrize("engine", ENGINES)
def test_signatures_load_and_name_known_families(engine: str) -> None:
    for name, row in load_signatures(engine).items():
        assert name == name.upper()
        assert not row.gives or family_of_logical(row.gives) or row.gives == "interval", name
        for taken in row.takes:
            assert all(Family(each) for each in taken.split("|") if each), name


@cache
def family_of_postgresql(name: str, arguments: str, url: str) -> Family:
    with psycopg.connect(url) as connection:
        row = connection.execute(f"SELECT pg_typeof({name}({arguments}))::text").fetchone()
    assert row is not None
    logical = logical_type("postgresql", parse_type(row[0].upper()))
    assert logical is not None
    return family_of_logical(logical.kind)


@pytest.mark.server
@pytest.mark.parametrize("name", sorted(set(own_rows("postgresql")) - NOT_CALLED))
def test_postgresql_gives_and_takes_what_is_said(name: str, server_url: str) -> None:
    row = load_signatures("postgresql")[name]
    arguments = [VALUES[taken.split("|")[0]] for taken in row.takes]
    one_argument = name in ("SQRT", "EXP", "LN", "LOG")
    text = ", ".join(arguments[:1] if one_argument else arguments) + TWO_TEXTS.get(name, "")
    given = family_of_postgresql(name.lower(), text, server_url)
    wanted = family_of_logical(row.gives) if row.gives else Family(row.takes[row.argument])
    numbers = {Family.INTEGER, Family.NUMBER}
    assert given is wanted or {given, wanted} <= numbers
    for place, taken in enumerate(row.takes[: 1 if one_argument else None]):
        wrong = "now()" if "timestamp" not in taken else "ARRAY[1]"
        with pytest.raises(psycopg.Error, match=r"does not exist|is not unique"):
            wrongly = ", ".join([*arguments[:place], wrong, *arguments[place + 1 :]])
            family_of_postgresql(name.lower(), wrongly + TWO_TEXTS.get(name, ""), server_url)
        assert taken


@pytest.mark.parametrize(
    ("call", "name"),
    [("date('now')", "DATE"), ("time('now')", "TIME"), ("datetime('now')", "DATETIME"), ("strftime('%Y', 'now')", "STRFTIME"),
     ("printf('%d', 1)", "PRINTF"), ("julianday('now')", "JULIANDAY"), ("unixepoch('now')", "UNIXEPOCH"), ("random()", "RANDOM"),
     ("length('abc')", "LENGTH"), ("instr('abc', 'b')", "INSTR"), ("upper('a')", "UPPER"), ("round(2.5)", "ROUND"),
     ("substr('abc', 2)", "SUBSTR"), ("count(*)", "COUNT"), ("hex('a')", "HEX"), ("char(65)", "CHAR"), ("sum(2.5)", "SUM")],
)  # fmt: skip
def test_sqlite_gives_what_is_said(call: str, name: str) -> None:
    storage = sqlite3.connect(":memory:").execute(f"SELECT typeof({call})").fetchone()[0]
    said = family_of_logical(load_signatures("sqlite")[name].gives)
    assert said is {"text": Family.TEXT, "integer": Family.INTEGER, "real": Family.NUMBER}[storage]


MARIADB_CALLS = {
    "LENGTH": "'a'", "CHAR_LENGTH": "'a'", "LOCATE": "'a', 'b'", "INSTR": "'a', 'b'", "YEAR": "now()", "DATEDIFF": "now(), now()",
    "TO_DAYS": "now()", "ASCII": "'a'", "FIELD": "'a', 'b'", "CRC32": "'a'", "SIGN": "2.5", "FLOOR": "2.5", "CEILING": "2.5",
    "AVG": "2", "SUM": "2", "POWER": "2, 2", "SQRT": "4", "EXP": "1", "LN": "2", "PI": "", "RAND": "", "UPPER": "'a'",
    "TRIM": "'a'", "SUBSTRING_INDEX": "'a', 'b', 1", "SUBSTRING": "'a', 1, 1", "LEFT": "'a', 1", "REPEAT": "'a', 2",
    "SPACE": "2", "REPLACE": "'a', 'b', 'c'", "CONCAT": "'a', 1", "DATE_FORMAT": "now(), '%Y'", "HEX": "'a'", "MD5": "'a'",
    "DAYNAME": "now()", "QUOTE": "'a'", "ELT": "1, 'a'", "CURDATE": "", "LAST_DAY": "now()", "MAKEDATE": "2024, 1",
    "NOW": "", "FROM_UNIXTIME": "1", "CURTIME": "", "SEC_TO_TIME": "1", "UTC_TIMESTAMP": "", "COUNT": "*", "FROM_DAYS": "730000",
    "MICROSECOND": "now()", "WEEK": "now()", "PERIOD_DIFF": "202401, 202301", "STRCMP": "'a', 'b'", "BIT_COUNT": "3",
}  # fmt: skip


@pytest.mark.server
@pytest.mark.skipif(shutil.which("mariadbd") is None, reason="no MariaDB is installed")
def test_mariadb_gives_what_is_said() -> None:
    from hullsound.trial.mariadb import private_mariadb, root_connection

    with private_mariadb() as socket, root_connection(socket) as connection, connection.cursor() as cursor:
        cursor.execute("CREATE DATABASE signatures")
        cursor.execute("USE signatures")
        columns = ", ".join(f"{name}({given}) AS `{name}`" for name, given in MARIADB_CALLS.items())
        cursor.execute(f"CREATE VIEW v AS SELECT {columns}")
        cursor.execute("SELECT column_name, data_type FROM information_schema.columns WHERE table_name = 'v'")
        found = dict(cursor.fetchall())
    assert found.keys() == MARIADB_CALLS.keys()
    for name, kind in found.items():
        logical = logical_type("mariadb", parse_type(kind.upper()))
        assert logical is not None
        said = family_of_logical(load_signatures("mariadb")[name].gives)
        given = family_of_logical(logical.kind)
        assert given is said or (name in ("FLOOR", "CEILING", "PERIOD_DIFF") and given is Family.NUMBER), (
            name,
            given,
            said,
        )
