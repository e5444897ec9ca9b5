"""Reads a running source as script files, one for each object."""

from collections.abc import Iterator
from contextlib import AbstractContextManager
from dataclasses import dataclass
from typing import Final

from hullsound.survey.files import ScriptFile

from .model import Address, Choice, Session, Statement
from .mysql import MysqlSession, mysql_session
from .postgresql import postgresql_session
from .sqlite import sqlite_session

_END: Final = "//hullsound-end"


@dataclass(frozen=True)
class LiveSource:
    """What a server holds: engine, version, name, and the statements of its objects as files."""

    engine: str
    version: str
    name: str
    files: list[ScriptFile]


def read_live(address: Address, choice: Choice | None = None) -> LiveSource:
    """Read the catalogue of a running source. Raises SourceError where the server cannot be reached or read."""
    choice = choice or Choice()
    with _session(address) as session:
        wanted = [statement for statement in session.statements() if choice.takes(statement)]
        engine = address.engine
        if isinstance(session, MysqlSession):
            engine = "mariadb" if session.is_mariadb else "mysql"
        name = address.database.rsplit("/", 1)[-1].removesuffix(".db") or address.host
        return LiveSource(engine, session.version, name, list(_files(engine, wanted)))


def _session(address: Address) -> AbstractContextManager[Session]:
    if address.engine == "postgresql":
        return postgresql_session(address)
    return sqlite_session(address) if address.engine == "sqlite" else mysql_session(address)


def _files(engine: str, statements: list[Statement]) -> Iterator[ScriptFile]:
    """Put the statements of one object into one file; files come in the order of the first of them."""
    texts: dict[str, str] = {}
    for statement in statements:
        label = "/".join(part for part in (statement.schema, statement.type, statement.name) if part)
        texts[label] = texts.get(label, "") + _script(engine, statement)
    for label, text in texts.items():
        yield ScriptFile(label, text, "")


def _script(engine: str, statement: Statement) -> str:
    text = statement.text.rstrip().rstrip(";")
    if engine not in ("mysql", "mariadb"):
        return f"{text};\n"
    end = _END
    while end in text:  # bodies hold semicolons, and whatever else they like
        end += "-"
    return f"USE `{statement.schema.replace('`', '``')}`;\nDELIMITER {end}\n{text}\n{end}\nDELIMITER ;\n"
