"""Which object, server or session a statement is about that has no tree of its own, by its first words."""

from typing import Final

from hullsound.sql.tree import OtherStatement, Statement

from .model import ObjectType

SERVER_WORDS: Final = frozenset(
    """alter system|create user|alter user|create role|create profile|audit|noaudit|drop user|create public database link|
    alter profile|drop role|create login|alter login|drop login|create server role|alter server role|create endpoint|
    create credential|create server audit|create resource pool|create workload group|create database|alter database|
    create tablespace|create foreign server|create server|create availability group|alter server|flush|kill|reconfigure|
    shutdown|backup|restore|create event session|create cryptographic provider|create tablespace|create bufferpool|
    create buffer pool|create audit policy|set global|change|reset|purge|install|uninstall|create subscription|
    create publication|create stogroup|create workload|create threshold|create spatial reference|dump database|
    load database|dump transaction""".replace("\n    ", "").split("|")
)
SERVER_CALLS: Final = frozenset(
    """SP_ADDLINKEDSERVER SP_ADDLINKEDSRVLOGIN SP_DROPSERVER SP_SERVEROPTION SP_ADDSERVER SP_ADDLOGIN SP_ADDSRVROLEMEMBER
    SP_CONFIGURE SP_ADDMESSAGE SP_ADDUMPDEVICE SP_ADD_JOB SP_ADD_JOBSTEP SP_ADD_JOBSERVER SP_ADD_JOBSCHEDULE SP_ADD_SCHEDULE
    SP_ATTACH_SCHEDULE SP_UPDATE_JOB SP_ADD_ALERT SP_ADD_OPERATOR SP_ADD_NOTIFICATION""".split()
)
"""Procedures of SQL Server and ASE that change the server rather than the database: "System stored procedures"."""
OTHER_TYPES: Final = {
    "create database link": ObjectType.DATABASE_LINK,
    "create public database link": ObjectType.DATABASE_LINK,
    "create directory": ObjectType.DIRECTORY,
    "create table": ObjectType.TABLE,
    "create view": ObjectType.VIEW,
    "create materialized view": ObjectType.MATERIALIZED_VIEW,
    "create sequence": ObjectType.SEQUENCE,
    "create index": ObjectType.INDEX,
    "create procedure": ObjectType.PROCEDURE,
    "create function": ObjectType.FUNCTION,
    "create package": ObjectType.PACKAGE,
    "create package body": ObjectType.PACKAGE_BODY,
    "create trigger": ObjectType.TRIGGER,
    "create type": ObjectType.TYPE,
    "create type body": ObjectType.TYPE_BODY,
    "create synonym": ObjectType.SYNONYM,
    "create schema": ObjectType.SCHEMA,
    "create event": ObjectType.EVENT,
    "create macro": ObjectType.MACRO,
    "create domain": ObjectType.DOMAIN,
    "create rule": ObjectType.RULE,
    "create policy": ObjectType.POLICY,
    "create extension": ObjectType.EXTENSION,
    "create module": ObjectType.MODULE,
    "create variable": ObjectType.VARIABLE,
    "create join index": ObjectType.JOIN_INDEX,
    "create hash index": ObjectType.JOIN_INDEX,
    "create virtual table": ObjectType.TABLE,
    "create aggregate": ObjectType.FUNCTION,
    "create function soname": ObjectType.FUNCTION,
}
SESSION_WORDS: Final = frozenset(
    ("alter session", "use", "database", "set schema", "set current", "set search_path", "set current schema")
)
UNREAD_TYPES: Final = {
    **dict.fromkeys(("select", "with", "("), ObjectType.QUERY),
    **dict.fromkeys(("insert", "update", "delete", "merge", "replace", "ins", "upd", "del"), ObjectType.CHANGE),
    **dict.fromkeys(("if", "while", "exec", "execute", "print"), ObjectType.BLOCK),
    **dict.fromkeys(("declare", "begin"), ObjectType.BLOCK),
}
"""What a statement that cannot be read is, by its first word."""
EMPTY_DETAILS: Final[dict[ObjectType, dict[str, str]]] = {
    ObjectType.SYNONYM: {"target": "", "link": ""},
    ObjectType.VIEW: {"query": "", "columns": "", "check option": "", "clauses": ""},
    ObjectType.MATERIALIZED_VIEW: {"query": "", "columns": "", "check option": "", "clauses": ""},
}
"""What every object of a type has, where its statement could not be read."""
_PLUMBING: Final = frozenset(
    """commit rollback set use lock unlock begin start savepoint release analyze analyse vacuum optimize runstats reorg show
    describe echo explain help print flush go declare end bt et guard collect checkpoint connect disconnect terminate prompt drop
    deallocate prepare check repair cluster reindex discard listen notify unlisten database comment pragma detach label waitfor
    """.split()
)
"""First words of statements that serve the session, the script or upkeep, and leave nothing behind."""


def is_plumbing(tree: Statement) -> bool:
    """Whether a statement that belongs to no object leaves nothing behind that a move must know of."""
    if not isinstance(tree, OtherStatement):
        return True
    return tree.words.split(" ", 1)[0] in _PLUMBING or tree.words.startswith(("alter session", "create schema"))
