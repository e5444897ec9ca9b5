"""Checks that both sides share: driver, address, port and login."""

import importlib.util
import socket
import time
from typing import Final

from hullsound.survey.live.model import STAND_IN, Address

from .model import Check, Checks, Result

_DRIVERS: Final = {
    "postgresql": ("psycopg", "postgresql"), "mysql": ("pymysql", "mysql"), "mariadb": ("pymysql", "mysql"),
    "oracle": ("oracledb", "oracle"), "sqlserver": ("pytds", "sqlserver"),
    "db2": ("ibm_db_dbi", "db2"), "teradata": ("teradatasql", "teradata"), "sqlite": ("sqlite3", ""),
}  # fmt: skip
"""By engine: module of the driver, and the extra that brings it."""
_PORTS: Final = {
    "postgresql": 5432,
    "mysql": 3306,
    "mariadb": 3306,
    "oracle": 1521,
    "sqlserver": 1433,
    "db2": 50000,
    "teradata": 1025,
}
_SECONDS: Final = 5.0


def reach(side: str, address: Address) -> Checks:
    """Yield the checks up to the door of a server. The last is bad where nobody answers there."""
    module, extra = _DRIVERS[address.engine]
    is_there = importlib.util.find_spec(module) is not None
    do = "" if is_there else f"pip install 'hull-sound[{extra}]'"
    yield Check(
        side, "driver", Result.GOOD if is_there else Result.BAD, module if is_there else f"{module} is missing", do
    )
    is_local = address.engine == "sqlite" or STAND_IN in address.options or "unix_socket" in address.options
    if is_local or not address.host or address.host.startswith("/") or "host" in address.options:
        return
    try:
        found = socket.getaddrinfo(address.host, None, type=socket.SOCK_STREAM)
    except (OSError, UnicodeError) as error:
        said = getattr(error, "strerror", None) or str(error)
        yield Check(side, "address", Result.BAD, f"{address.host}: {said}", "Is the name of the host spelled right?")
        return
    yield Check(side, "address", Result.GOOD, f"{address.host} is {found[0][4][0]}")
    yield _port(side, address)


def _port(side: str, address: Address) -> Check:
    port = address.port or _PORTS[address.engine]
    begun = time.monotonic()
    try:
        with socket.create_connection((address.host, port), timeout=_SECONDS):
            took = (time.monotonic() - begun) * 1000
            return Check(side, "port", Result.GOOD, f"{port} answers in {took:.0f} ms")
    except TimeoutError:
        return Check(
            side, "port", Result.BAD, f"{port} does not answer in {_SECONDS:.0f} s", "Is a firewall in between?"
        )
    except OSError as error:
        do = "Is the server up, and does it listen on this address and port?"
        return Check(side, "port", Result.BAD, f"{port}: {error.strerror or error}", do)
