"""Attributes of cursors and numbers of errors, in PL/SQL."""

from collections.abc import Iterable
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, detector, found
from hullsound.sql.tree import (
    CreatePackage,
    CursorAttribute,
    ExceptionDeclaration,
    Handler,
    Pragma,
    Raise,
)

MAPPED_EXCEPTIONS: Final = frozenset(
    ("NO_DATA_FOUND", "TOO_MANY_ROWS", "DUP_VAL_ON_INDEX", "ZERO_DIVIDE", "INVALID_NUMBER", "VALUE_ERROR",
     "CURSOR_ALREADY_OPEN", "INVALID_CURSOR", "LOGIN_DENIED", "OTHERS", "CASE_NOT_FOUND", "PROGRAM_ERROR",
     "STORAGE_ERROR", "TIMEOUT_ON_RESOURCE", "ROWTYPE_MISMATCH")
)  # fmt: skip
"""Predefined exceptions that the targets tell apart as well."""


_UNMAPPED_EXCEPTIONS: Final = frozenset(
    ("ACCESS_INTO_NULL", "COLLECTION_IS_NULL", "SELF_IS_NULL", "SUBSCRIPT_BEYOND_COUNT", "SUBSCRIPT_OUTSIDE_LIMIT",
     "SYS_INVALID_ROWID", "NOT_LOGGED_ON", "NO_DATA_NEEDED")
)  # fmt: skip


@detector("unknown-exception-raised", Raise)
def see_unknown_exception(node: Raise, subject: Subject) -> Iterable[Found]:
    name = node.name
    if not name or name[-1] in MAPPED_EXCEPTIONS:
        return
    if len(name) == 1:
        if name[0] not in subject.scope.declared:
            yield found(node, needs=(("", ".".join((*_package_of(subject), name[0])), "unknown exception"),))
    else:
        yield found(node, needs=(("", ".".join(name), "unknown exception"),))


def _package_of(subject: Subject) -> tuple[str, ...]:
    """Return the name of the package whose body this is, whose specification may declare what the body uses."""
    return (subject.tree.name[-1],) if isinstance(subject.tree, CreatePackage) else ("",)


@detector("sql-rowcount", CursorAttribute)
def see_sql_rowcount(node: CursorAttribute, subject: Subject) -> Iterable[Found]:
    if node.cursor == ("SQL",) and node.attribute == "ROWCOUNT":
        yield found(node)


@detector("cursor-found", CursorAttribute)
def see_cursor_found(node: CursorAttribute, subject: Subject) -> Iterable[Found]:
    if node.attribute in ("FOUND", "NOTFOUND"):
        yield found(node)


@detector("cursor-count", CursorAttribute)
def see_cursor_count(node: CursorAttribute, subject: Subject) -> Iterable[Found]:
    if node.attribute == "ISOPEN" or (node.attribute == "ROWCOUNT" and node.cursor != ("SQL",)):
        yield found(node)


@detector("bulk-rowcount", CursorAttribute)
def see_bulk_rowcount(node: CursorAttribute, subject: Subject) -> Iterable[Found]:
    if node.attribute.startswith("BULK_"):
        yield found(node)


@detector("declared-exception", ExceptionDeclaration)
def see_declared_exception(node: ExceptionDeclaration, subject: Subject) -> Iterable[Found]:
    yield found(node, node.name)


@detector("exception-number", Pragma)
def see_exception_number(node: Pragma, subject: Subject) -> Iterable[Found]:
    if node.name == "EXCEPTION_INIT":
        yield found(node)


@detector("unmapped-exception", Handler)
def see_unmapped_exception(node: Handler, subject: Subject) -> Iterable[Found]:
    for name in node.exceptions:
        needs = (("", ".".join(name), "unknown exception"),) if len(name) > 1 else ()
        if name[-1] in _UNMAPPED_EXCEPTIONS or needs:
            yield Found(node, node.first, node.first + 2, ".".join(name).lower(), needs)
