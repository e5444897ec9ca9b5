"""Predicates on how names and literals are written: quotes, other databases, catalogues."""

from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, detector
from hullsound.sql.lexer import QUOTED
from hullsound.sql.tree import Call, CreateSynonym, CreateTable, Execute, Literal, Name, Statement, TableRef

_CATALOGUE_SCHEMAS: Final = {
    "sqlserver": ("SYS", "INFORMATION_SCHEMA"),
    "mysql": ("MYSQL", "INFORMATION_SCHEMA", "PERFORMANCE_SCHEMA", "SYS"),
    "db2": ("SYSCAT", "SYSIBM", "SYSIBMADM", "SYSPROC", "SYSSTAT"),
    "teradata": ("DBC", "SYS_CALENDAR", "SYSLIB"),
}
_SYSTEM_DATABASES: Final = frozenset(("MASTER", "MSDB", "MODEL"))
_PLAIN_DATABASES: Final = _SYSTEM_DATABASES | {"TEMPDB", "SYS"}
"""Databases of the server itself, which other constructs speak of."""


def _first_quoted(subject: Subject, opening: str) -> Iterator[Found]:
    """Yield the first name of a statement in quotes of one kind: one place tells it for the whole statement."""
    kinds, words = subject.tokens.kinds, subject.words
    read = subject.read
    for at in range(read.first, read.last):
        if kinds[at] == QUOTED and words[at][0] in opening:
            yield Found(subject.tree, at, at + 1)
            return


@detector("bracketed-name", Statement, texts=("[",))
def see_bracketed_name(node: Statement, subject: Subject) -> Iterable[Found]:
    return _first_quoted(subject, "[")


@detector("backquoted-name", Statement, texts=("`",))
def see_backquoted_name(node: Statement, subject: Subject) -> Iterable[Found]:
    return _first_quoted(subject, "`")


@detector("foreign-quotes", Statement, texts=("`", "["))
def see_foreign_quotes(node: Statement, subject: Subject) -> Iterable[Found]:
    return _first_quoted(subject, "`[")


@detector("quoted-name-as-text", Name, texts=('"',))
def see_quoted_name_as_text(node: Name, subject: Subject) -> Iterable[Found]:
    """A name in double quotes that cannot be a column's: it holds a blank, or the statement has no table."""
    word = subject.words[node.first]
    if subject.tokens.kinds[node.first] == QUOTED and word[0] == '"' and len(node.parts) == 1 and " " in word:
        yield Found(node, node.first, node.last)


@detector("double-quoted-text", Literal, texts=('"',))
def see_double_quoted_text(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and subject.words[node.first][0] == '"':
        yield Found(node, node.first, node.last)


@detector("backslash-escape", Literal, texts=("\\",))
def see_backslash_escape(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and "\\" in subject.words[node.first]:
        yield Found(node, node.first, node.last)


@detector("dollar-quoted-text", Literal, texts=("$",))
def see_dollar_quoted_text(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and subject.words[node.first][0] == "$":
        yield Found(node, node.first, node.last)


@detector("escape-text", Literal, texts=("E'",))
def see_escape_text(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and subject.words[node.first].startswith("E'"):
        yield Found(node, node.first, node.last)


@detector("cross-database-name", TableRef, Call, Execute, CreateSynonym, texts=(".",))
def see_cross_database_name(node: TableRef | Call | Execute | CreateSynonym, subject: Subject) -> Iterable[Found]:
    match node:
        case Execute():
            parts = node.routine
        case CreateSynonym():
            parts = node.target
        case _:
            parts = node.parts
    if isinstance(node, Call) and (len(parts) != 3 or parts[0] in subject.scope.aliases or _is_method(node, subject)):
        return
    if len(parts) == 3 and parts[0] and parts[0] not in _PLAIN_DATABASES and parts[0] not in subject.scope.aliases:
        yield Found(node, node.first, node.last)


@detector("system-database-name", TableRef, CreateSynonym, texts=("MASTER", "MSDB", "MODEL"))
def see_system_database_name(node: TableRef | CreateSynonym, subject: Subject) -> Iterable[Found]:
    parts = node.target if isinstance(node, CreateSynonym) else node.parts
    if len(parts) == 3 and parts[0] in _SYSTEM_DATABASES:
        yield Found(node, node.first, node.last)


XML_METHODS: Final = frozenset(("VALUE", "QUERY", "EXIST", "NODES", "MODIFY"))
"""Methods of values of type xml of SQL Server."""


def _is_method(call: Call, subject: Subject) -> bool:
    """Whether a call with a constant path is a method of a value of type xml."""
    return (
        call.parts[-1] in XML_METHODS
        and bool(call.arguments)
        and subject.words[call.arguments[0].first][:1] in ("'", "N")
    )


@detector("four-part-name", TableRef, texts=(".",))
def see_four_part_name(node: TableRef, subject: Subject) -> Iterable[Found]:
    if len(node.parts) == 4 and node.parts[0]:
        yield Found(node, node.first, node.last)


def _of_catalogue(node: TableRef, engine: str) -> Iterator[Found]:
    if len(node.parts) > 1 and node.parts[-2] in _CATALOGUE_SCHEMAS[engine]:
        yield Found(node, node.first, node.last)


@detector("sys-view", TableRef, texts=("SYS.", "INFORMATION_SCHEMA"))
def see_sys_view(node: TableRef, subject: Subject) -> Iterable[Found]:
    return _of_catalogue(node, "sqlserver")


@detector("mysql-system-table", TableRef, texts=("MYSQL", "_SCHEMA", "SYS"))
def see_mysql_system_table(node: TableRef, subject: Subject) -> Iterable[Found]:
    return _of_catalogue(node, "mysql")


@detector("db2-catalogue", TableRef, texts=("SYS",))
def see_db2_catalogue(node: TableRef, subject: Subject) -> Iterable[Found]:
    return () if node.parts[-1] == "SYSDUMMY1" else _of_catalogue(node, "db2")


@detector("dbc-view", TableRef, texts=("DBC", "SYS"))
def see_dbc_view(node: TableRef, subject: Subject) -> Iterable[Found]:
    return _of_catalogue(node, "teradata")


def _is_dump_setting(subject: Subject) -> bool:
    """Whether a statement is one of those by which dumps keep settings and bring them back."""
    words = subject.words[subject.read.first : subject.read.last]
    return words[:1] == ["SET"] and any(word.startswith(("@OLD_", "@SAVED_")) for word in words)


@detector("system-variable", Name, texts=("@@",))
def see_system_variable(node: Name, subject: Subject) -> Iterable[Found]:
    if node.parts[0].startswith("@@") and not _is_dump_setting(subject):
        yield Found(node, node.first, node.last)


@detector("user-variable", Name, texts=("@",))
def see_user_variable(node: Name, subject: Subject) -> Iterable[Found]:
    if node.parts[0].startswith("@") and not node.parts[0].startswith("@@") and not _is_dump_setting(subject):
        yield Found(node, node.first, node.last)


@detector("temporary-table", CreateTable)
def see_any_temporary_table(node: CreateTable, subject: Subject) -> Iterable[Found]:
    if node.temporary or node.name[-1].startswith("#"):
        yield Found(node, node.first, min(node.first + 4, node.last))
