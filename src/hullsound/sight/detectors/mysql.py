"""Predicates of MySQL, MariaDB and SQLite."""

import re
from collections.abc import Iterable
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, detector, found
from hullsound.sql.tree import (
    AnonymousBlock,
    Call,
    Cast,
    Clause,
    ColumnDefinition,
    CommonTable,
    ConditionHandler,
    CreateIndex,
    CreateRoutine,
    CreateTable,
    CreateView,
    Delete,
    Join,
    Literal,
    Name,
    Query,
    Statement,
    Update,
)


@detector("prefix-index", CreateIndex)
def see_prefix_index(node: CreateIndex, subject: Subject) -> Iterable[Found]:
    for key in node.keys:
        if isinstance(key.value, Name) and subject.words[key.value.last] == "(" and key.last > key.value.last:
            yield found(key)


@detector("invoker-routine", CreateRoutine, texts=("INVOKER",))
def see_invoker_routine(node: CreateRoutine, subject: Subject) -> Iterable[Found]:
    return [found(clause) for clause in subject.all(Clause) if clause.name == "invoker-rights"]


@detector("invoker-view", CreateView, texts=("INVOKER",))
def see_invoker_view(node: CreateView, subject: Subject) -> Iterable[Found]:
    return [found(clause) for clause in subject.all(Clause) if clause.name == "invoker-rights"]


@detector("inline-key", CreateTable)
def see_inline_key(node: CreateTable, subject: Subject) -> Iterable[Found]:
    for index in node.indexes:
        if index.method not in ("fulltext", "spatial"):
            yield Found(index, index.first, min(index.first + 2, index.last))


@detector("change-limit", Update, Delete, texts=("LIMIT", "ORDER"))
def see_change_limit(node: Update | Delete, subject: Subject) -> Iterable[Found]:
    """LIMIT behind the condition of a change; one inside a subquery is the query's own."""
    depth = 0
    for at in range(node.first, node.last):
        word = subject.words[at]
        depth += (word == "(") - (word == ")")
        if not depth and (word == "LIMIT" or (word == "ORDER" and subject.words[at + 1] == "BY")):
            yield Found(node, at, at + 2)
            return


@detector("convert-using", Call, names=("CONVERT",))
def see_convert_using(node: Call, subject: Subject) -> Iterable[Found]:
    if "USING" in subject.words[node.opening : node.closing]:
        yield found(node)


_OWN_TYPES: Final = frozenset(
    ("SIGNED", "UNSIGNED", "SIGNED INTEGER", "UNSIGNED INTEGER", "DATETIME", "BINARY", "JSON", "YEAR")
)


@detector("cast-own-type", Cast)
def see_cast_own_type(node: Cast, subject: Subject) -> Iterable[Found]:
    is_open_text = node.type.name in ("CHAR", "NCHAR") and not node.type.arguments
    if node.type.name in _OWN_TYPES or is_open_text:
        yield found(node)


@detector("handler-number", ConditionHandler)
def see_handler_number(node: ConditionHandler, subject: Subject) -> Iterable[Found]:
    if any(condition.isdecimal() for condition in node.conditions):
        yield Found(node, node.first, min(node.first + 5, node.last))


@detector("load-data-server", Clause, Statement, texts=("LOAD",))
def see_load_data(node: Clause | Statement, subject: Subject) -> Iterable[Found]:
    words = subject.words[node.first : min(node.first + 5, node.last)]
    if isinstance(node, Statement) and words[:2] in (["LOAD", "DATA"], ["LOAD", "XML"]) and "LOCAL" not in words:
        yield Found(node, node.first, min(node.first + 4, node.last))


@detector("column-without-type", ColumnDefinition)
def see_column_without_type(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    if (node.type is None or not node.type.name) and node.generated is None:
        yield found(node)


@detector("loose-table", CreateTable)
def see_loose_table(node: CreateTable, subject: Subject) -> Iterable[Found]:
    if node.columns and not node.query and "STRICT" not in subject.words[node.columns[-1].last : node.last]:
        yield Found(node, node.first, min(node.first + 3, node.last))


@detector("rowid-key", CreateTable)
def see_rowid_key(node: CreateTable, subject: Subject) -> Iterable[Found]:
    for column in node.columns:
        if column.identity and "AUTOINCREMENT" not in subject.words[column.first : column.last]:
            yield found(column)


@detector("update-join", Update)
def see_update_join(node: Update, subject: Subject) -> Iterable[Found]:
    """UPDATE of a join, or of several tables with commas between them."""
    end = next((i for i in range(node.first, node.last) if subject.words[i] == "SET"), node.first)
    if isinstance(node.table, Join) or "," in subject.words[node.first : end]:
        yield Found(node, node.first, end)


@detector("charset-introducer", Literal, texts=("_",))
def see_charset_introducer(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and subject.words[node.first].startswith("_"):
        yield found(node)


def _mode_text(node: Statement, subject: Subject) -> str:
    """Return what a statement sets SQL_MODE to, upper case; '' if it does not."""
    words = subject.words
    for at in range(subject.read.first, subject.read.last - 2):
        if words[at] in ("SQL_MODE", "@@SQL_MODE") and words[at + 1] in ("=", ":="):
            return words[at + 2]
    return ""


@detector("loose-mode", Statement, texts=("SQL_MODE",))
def see_loose_mode(node: Statement, subject: Subject) -> Iterable[Found]:
    mode = _mode_text(node, subject)
    if mode.startswith(("'", '"')) and "STRICT" not in mode and "TRADITIONAL" not in mode and "ORACLE" not in mode:
        yield Found(node, node.first, node.last)


_GONE_MODES: Final = frozenset(
    """DB2 MAXDB MSSQL MYSQL323 MYSQL40 ORACLE POSTGRESQL NO_FIELD_OPTIONS NO_KEY_OPTIONS NO_TABLE_OPTIONS
    NO_AUTO_CREATE_USER""".split()
)
"""Modes that MySQL 8.0 took out: release notes of 8.0.11."""


@detector("gone-mode", Statement, texts=("SQL_MODE",))
def see_gone_mode(node: Statement, subject: Subject) -> Iterable[Found]:
    if not _GONE_MODES.isdisjoint(re.findall(r"\w+", _mode_text(node, subject))):
        yield Found(node, node.first, node.last)


@detector("oracle-mode", Statement, texts=("ORACLE",))
def see_oracle_mode(node: Statement, subject: Subject) -> Iterable[Found]:
    if "ORACLE" in _mode_text(node, subject):
        yield Found(node, node.first, node.last)


@detector("truth-literal", Literal, texts=("TRUE", "FALSE"))
def see_truth_literal(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form in ("true", "false"):
        yield found(node)


@detector("anonymous-block", AnonymousBlock)
def see_anonymous_block(node: AnonymousBlock, subject: Subject) -> Iterable[Found]:
    yield Found(node, node.first, node.first + 1)


@detector("generated-not-null", ColumnDefinition, texts=("NOT",))
def see_generated_not_null(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    words = subject.words
    at = next((i for i in range(node.first, node.last - 1) if words[i] == "NOT" and words[i + 1] == "NULL"), -1)
    if node.generated is not None and at > node.generated.last:
        yield Found(node, at, at + 2)


@detector("recursion-limit", CommonTable, texts=("RECURSIVE",))
def see_recursion_limit(node: CommonTable, subject: Subject) -> Iterable[Found]:
    """A limit behind the last block of the query that a common table is."""
    blocks = node.query.blocks if isinstance(node.query, Query) else []
    for clause in subject.all(Clause) if len(blocks) > 1 else ():
        if clause.name == "limit" and blocks[-1].last <= clause.first < node.last:
            yield Found(node, clause.first, clause.last)


@detector("uca-collation", Statement, texts=("UCA1400",))
def see_uca_collation(node: Statement, subject: Subject) -> Iterable[Found]:
    for at in range(node.first, node.last):
        if "UCA1400_" in subject.words[at] and subject.words[at - 1] in ("COLLATE", "="):
            yield Found(node, at, at + 1)


_LARGE: Final = frozenset(
    ("TEXT", "TINYTEXT", "MEDIUMTEXT", "LONGTEXT", "BLOB", "TINYBLOB", "MEDIUMBLOB", "LONGBLOB", "JSON")
)


@detector("large-default", ColumnDefinition, texts=("DEFAULT",))
def see_large_default(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    """A constant other than NULL, without brackets, as default of a large object."""
    default = node.default
    is_large = node.type is not None and node.type.name in _LARGE
    if is_large and isinstance(default, Literal) and default.form != "null" and subject.words[default.first - 1] != "(":
        yield found(default)


@detector("create-or-replace-code", Statement, texts=("REPLACE",))
def see_create_or_replace_code(node: Statement, subject: Subject) -> Iterable[Found]:
    words = subject.words[node.first : node.first + 12]
    if words[:3] == ["CREATE", "OR", "REPLACE"] and not {"VIEW", "TABLE", "SEQUENCE", "PACKAGE"} & set(words[3:10]):
        yield Found(node, node.first, node.first + 3)
