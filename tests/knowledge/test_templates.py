"""Every template that a topic gives for PostgreSQL or MariaDB is taken by the real engine."""

import re
from collections.abc import Callable, Iterator
from typing import Any

import pytest

from hullsound.catalog.references import Scope
from hullsound.knowledge.load import load_constructs
from hullsound.knowledge.model import Construct
from hullsound.knowledge.stances import load_stances
from hullsound.knowledge.targets import parse_target
from hullsound.sight.see import load_seer
from hullsound.sql.dialect import ENGINES, load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import Call, Cast, Node, Operation
from tests.statements import end_statement

_TEXTS = "label note name nick"
_NUMBERS = "pull weight pay a b"
_WHOLE = "n id bay lane"
_TIMES = "built sold opened closed hired seen at eta"


def columns(text: str, number: str, time: str, json: str, binary: str) -> str:
    """Return the columns that the examples of all engines speak of."""
    kinds = (
        (_TEXTS, text),
        (_NUMBERS, number),
        (_WHOLE, "int"),
        (_TIMES, time),
        ("d", "date"),
        ("doc", json),
        ("body", binary),
    )
    return ", ".join(f"{name} {kind}" for names, kind in kinds for name in names.split())


def filled(construct: Construct, template: str) -> str:
    """Put the arguments of the construct's example into a template."""
    engine = construct.id.partition(".")[0]
    for read in read_script(end_statement(construct.example, engine), load_dialect(engine), {}).statements():
        for hit in load_seer(engine).see(read, Scope(read)):
            if hit.construct == construct.id:
                arguments = [read.tokens.source(a.first, a.last) for a in arguments_of(hit.found.node)]
                template = template.replace("{*}", ", ".join(arguments))
                return re.sub(r"\{(\d+)\}", lambda match: arguments[int(match[1])], template)  # noqa: B023 - used at once
    raise AssertionError(construct.example)


def arguments_of(node: Node) -> list[Node]:
    match node:
        case Call():
            return node.arguments
        case Operation():
            return node.operands
        case Cast():
            return [node.value]
    return []


def templates(target: str, engines: tuple[str, ...]) -> Iterator[Any]:
    for engine in engines:
        for key, stance in load_stances(engine, parse_target(target)).items():
            if stance.template:
                yield pytest.param(load_constructs(engine)[key], stance.template, id=key)


@pytest.fixture(scope="module")
def postgresql(server_url: str) -> Iterator[Any]:
    from hullsound.trial.postgresql import scratch_database

    with scratch_database(server_url) as connection:
        connection.execute(
            "CREATE TABLE everything (" + columns("text", "numeric", "timestamp", "jsonb", "bytea") + ")"
        )
        connection.execute("CREATE SEQUENCE ticket_no; CREATE SEQUENCE job_no; CREATE SEQUENCE s")
        yield connection


@pytest.mark.server
@pytest.mark.parametrize(
    ("construct", "template"), list(templates("postgresql:18", tuple(e for e in ENGINES if e != "oracle")))
)
def test_postgresql_takes_the_template(construct: Construct, template: str, postgresql: Any) -> None:
    if construct.topic == "next-value":
        template = template.replace("{0}", "ticket_no")
    with postgresql.transaction(force_rollback=True):
        postgresql.execute(f"SELECT {filled(construct, template)} AS x FROM everything")


@pytest.mark.server
@pytest.mark.parametrize(
    ("construct", "template"), list(templates("mariadb:11.8", tuple(e for e in ENGINES if e != "mariadb")))
)
def test_mariadb_takes_the_template(construct: Construct, template: str, mariadb: Callable[..., str]) -> None:
    kinds = columns("text", "decimal(12,2)", "datetime", "json", "blob")
    table = f"CREATE DATABASE IF NOT EXISTS harbour\x01USE harbour\x01CREATE OR REPLACE TABLE everything ({kinds})\x01"
    text = filled(construct, template).replace("||", "AND")
    assert not mariadb(f"{table}SELECT {text} AS x FROM everything")
