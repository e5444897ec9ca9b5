"""What reaches beyond one database: rights over the whole server, programs that jobs run, tables that sessions share."""

from collections.abc import Iterable
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, detector, found
from hullsound.sql.tree import (
    Call,
    CreateTable,
    Grant,
    Literal,
    OtherStatement,
    TableRef,
)

_MYSQL_RIGHTS: Final = frozenset(
    """ALL FILE PROCESS RELOAD SHUTDOWN SUPER BINLOG_ADMIN CONNECTION_ADMIN ENCRYPTION_KEY_ADMIN GROUP_REPLICATION_ADMIN
    PERSIST_RO_VARIABLES_ADMIN SERVICE_CONNECTION_ADMIN SYSTEM_USER SYSTEM_VARIABLES_ADMIN""".split()
)
"""First words of rights that reach the server's processes, files and settings: MySQL 8.4 Reference Manual, "Privileges
Provided by MySQL"."""
_POSTGRESQL_RIGHTS: Final = frozenset(
    """PG_READ_SERVER_FILES PG_WRITE_SERVER_FILES PG_EXECUTE_SERVER_PROGRAM SUPERUSER REPLICATION BYPASSRLS""".split()
)
"""PostgreSQL 18: "Predefined Roles" and "CREATE ROLE"."""
_ORACLE_RIGHTS: Final = frozenset(("SYSDBA", "SYSOPER", "SYSBACKUP", "SYSDG", "SYSKM", "SYSRAC", "SYSASM"))
"""Oracle 19c, Database Administrator's Guide, "Administrative Privileges"."""
_SQLSERVER_RIGHTS: Final = ("SERVER", "LOGIN", "BULK OPERATIONS", "ENDPOINT", "LINKED SERVER", "AVAILABILITY GROUP")
"""Words of permissions on the server: SQL Server 2022, "GRANT Server Permissions"."""
_ROLE_STATEMENTS: Final = ("create role", "create user", "alter role", "alter user")
_PROGRAMS: Final = frozenset(("'EXECUTABLE'", "'EXTERNAL_SCRIPT'"))
"""Types of jobs that run on the server's operating system: Oracle 19c, DBMS_SCHEDULER, "CREATE_JOB Procedure"."""


@detector("server-right", Grant, OtherStatement)
def see_server_right(node: Grant | OtherStatement, subject: Subject) -> Iterable[Found]:
    """A right over the whole server, given and not taken."""
    words = subject.words[node.first : node.last]
    if isinstance(node, Grant):
        if not node.revoke and _is_server_right(node, words, subject.engine):
            yield Found(node, node.first, min(node.first + 6, node.last))
    elif node.words == "alter server role" or (
        subject.engine == "postgresql" and node.words in _ROLE_STATEMENTS and not _POSTGRESQL_RIGHTS.isdisjoint(words)
    ):
        yield found(node)


def _is_server_right(node: Grant, words: list[str], engine: str) -> bool:
    rights = node.privileges
    match engine:
        case "mysql" | "mariadb":
            place = words.index("ON") if "ON" in words else len(words)
            return words[place + 1 : place + 4] == ["*", ".", "*"] and any(
                right.split()[0] in _MYSQL_RIGHTS for right in rights
            )
        case "postgresql":
            return not _POSTGRESQL_RIGHTS.isdisjoint(rights)
        case "oracle":
            return not _ORACLE_RIGHTS.isdisjoint(rights) or (len(node.object) > 1 and node.object[0] == "SYS")
        case "sqlserver":
            return not node.object and any(word in right for right in rights for word in _SQLSERVER_RIGHTS)
        case _:
            return False


@detector("program-in-job", Call, names=("CREATE_JOB", "CREATE_PROGRAM"))
def see_program_in_job(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts[-2:-1] == ("DBMS_SCHEDULER",):
        inside = (each for each in subject.all(Literal) if node.opening < each.first < node.closing)
        if any(subject.words[each.first].upper() in _PROGRAMS for each in inside):
            yield found(node)


@detector("shared-temporary-table", CreateTable, TableRef, texts=("##",))
def see_shared_temporary_table(node: CreateTable | TableRef, subject: Subject) -> Iterable[Found]:
    parts = node.name if isinstance(node, CreateTable) else node.parts
    if parts and parts[-1].startswith("##"):
        yield Found(node, node.first, min(node.first + 3, node.last))
