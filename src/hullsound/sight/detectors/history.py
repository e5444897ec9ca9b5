"""Predicates for what later versions of the same engine have taken out, reserved or changed."""

from collections.abc import Iterable
from functools import cache
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.knowledge.load import load_engine
from hullsound.sight.detector import Found, detector, found
from hullsound.sql.tree import (
    Call,
    Case,
    Clause,
    ColumnDefinition,
    Comparison,
    CreateTable,
    CreateView,
    Delete,
    Grant,
    Literal,
    Name,
    Node,
    OtherStatement,
    Parameter,
    Select,
    SelectItem,
    Statement,
    TableRef,
    TypeName,
    Update,
    Variable,
)

from .queries import see_hint

_FLOATS: Final = frozenset(("FLOAT", "DOUBLE", "DOUBLE PRECISION", "REAL"))
_OF_ROWS: Final = frozenset(
    """GENERATE_SERIES UNNEST REGEXP_MATCHES REGEXP_SPLIT_TO_TABLE JSON_ARRAY_ELEMENTS JSONB_ARRAY_ELEMENTS JSON_EACH JSONB_EACH
    GENERATE_SUBSCRIPTS JSON_OBJECT_KEYS JSONB_OBJECT_KEYS""".split()
)
_DIVIDED_BY_ITSELF: Final = ("INNODB", "NDB", "NDBCLUSTER")
"""Storage engines with partitions of their own."""


@cache
def _later_words(engine: str) -> frozenset[str]:
    return load_engine(engine).later_word_names


@detector(
    "newly-reserved-name", Name, TableRef, SelectItem, ColumnDefinition, CreateTable, CreateView, Parameter, Variable
)
def see_newly_reserved_name(node: Node, subject: Subject) -> Iterable[Found]:
    words, later = subject.words, _later_words(subject.engine)
    at = node.first
    if isinstance(node, SelectItem):
        at = node.last - 1
        if not node.alias or words[at] != node.alias.upper() or at == node.value.last - 1:
            return
    elif isinstance(node, CreateTable | CreateView):
        at = next(
            (i for i in range(node.first, min(node.first + 9, node.last)) if words[i] == node.name[-1].upper()), -1
        )
    is_call = words[at + 1 : at + 2] == ["("] and not isinstance(node, CreateTable)
    if at >= 0 and words[at] in later and words[at - 1] != "." and not is_call:
        yield Found(node, at, at + 1, words[at])


@detector("grant-identified", Grant, texts=("IDENTIFIED",))
def see_grant_identified(node: Grant, subject: Subject) -> Iterable[Found]:
    at = next((i for i in range(node.first, node.last) if subject.words[i] == "IDENTIFIED"), -1)
    if at >= 0 and not node.revoke:
        yield Found(node, at, node.last)


@detector("old-word-boundary", Comparison, Call, texts=("[[:<:]]", "[[:>:]]"))
def see_old_word_boundary(node: Comparison | Call, subject: Subject) -> Iterable[Found]:
    if isinstance(node, Comparison):
        values = node.operands if node.operator in ("REGEXP", "RLIKE") else []
    else:
        values = node.arguments if node.parts[-1].startswith("REGEXP_") else []
    for value in values:
        text = subject.source(value) if isinstance(value, Literal) else ""
        if "[[:<:]]" in text or "[[:>:]]" in text:
            yield found(value)


@detector("float-auto-increment", ColumnDefinition, texts=("AUTO_INCREMENT",))
def see_float_auto_increment(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    if node.identity and node.type is not None and node.type.name.removesuffix(" UNSIGNED") in _FLOATS:
        yield found(node.type)


@detector("float-digits", TypeName, texts=("FLOAT", "DOUBLE", "REAL"))
def see_float_digits(node: TypeName, subject: Subject) -> Iterable[Found]:
    if node.name.removesuffix(" UNSIGNED") in _FLOATS and len(node.arguments) == 2:
        yield found(node)


@detector("bare-timestamp", ColumnDefinition, texts=("TIMESTAMP",))
def see_bare_timestamp(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    is_timestamp = node.type is not None and node.type.name == "TIMESTAMP"
    if is_timestamp and node.default is None and node.nullable and not node.states_null and node.generated is None:
        yield found(node)


@detector("partitioned-engine", CreateTable, texts=("PARTITION",))
def see_partitioned_engine(node: CreateTable, subject: Subject) -> Iterable[Found]:
    words = subject.words
    for at in range(node.first, node.last - 2):
        if words[at] == "ENGINE" and "PARTITION" in words[at : node.last]:
            name = at + 2 if words[at + 1] == "=" else at + 1
            if words[name] not in _DIVIDED_BY_ITSELF:
                yield Found(node, at, name + 1, words[name])
            return


@detector("oid-column", Name, texts=("OID",))
def see_oid_column(node: Name, subject: Subject) -> Iterable[Found]:
    tables = subject.scope.tables
    if node.parts[-1] == "OID" and tables and not any(each.parts[-1].startswith("PG_") for each in tables):
        yield found(node)


@detector("set-in-condition", Case, Call, texts=("CASE", "COALESCE"))
def see_set_in_condition(node: Case | Call, subject: Subject) -> Iterable[Found]:
    if isinstance(node, Call) and node.parts != ("COALESCE",):
        return
    for call in subject.read.inside(Call, node.first, node.last):
        if call.parts[-1] in _OF_ROWS and call is not node:
            yield found(call)
            return


@detector("sets-side-by-side", Select, texts=("SELECT",))
def see_sets_side_by_side(node: Select, subject: Subject) -> Iterable[Found]:
    """Several functions of rows in one select list, of which other lengths than the same were multiplied before version 10."""
    sets = [item.value for item in node.items if isinstance(item.value, Call) and item.value.parts[-1] in _OF_ROWS]
    if len(sets) > 1:
        yield found(sets[1])


@detector("rule-hint", Statement, texts=("/*+",))
def see_rule_hint(node: Statement, subject: Subject) -> Iterable[Found]:
    for place in see_hint(node, subject):
        if {"RULE", "CHOOSE"} & set(place.detail.upper().split()):
            yield place


@detector("raiserror-number", Clause, texts=("RAISERROR",))
def see_raiserror_number(node: Clause, subject: Subject) -> Iterable[Found]:
    if node.name == "raiserror-old":
        yield found(node)


_HINTS: Final = frozenset(
    """NOLOCK READUNCOMMITTED READCOMMITTED REPEATABLEREAD SERIALIZABLE HOLDLOCK ROWLOCK PAGLOCK TABLOCK TABLOCKX UPDLOCK XLOCK
    READPAST NOWAIT""".split()
)
"""Table hints: Transact-SQL reference, "Table hints"."""


@detector("hint-without-with", TableRef, texts=tuple(_HINTS))
def see_hint_without_with(node: TableRef, subject: Subject) -> Iterable[Found]:
    words = subject.words
    for at in range(node.first + 1, min(node.last + 1, len(words) - 1)):
        if words[at] == "(" and words[at + 1] in _HINTS and words[at - 1] != "WITH":
            yield Found(node, at, at + 2, words[at + 1])
            return


@detector("hint-on-changed-table", Update, Delete, texts=("NOLOCK", "READUNCOMMITTED"))
def see_hint_on_changed_table(node: Update | Delete, subject: Subject) -> Iterable[Found]:
    changed = node.table
    name = changed.parts[-1] if isinstance(changed, TableRef) else ""
    for table in subject.all(TableRef):
        within = node.first <= table.first and table.last <= node.last
        if not within or table is changed or name not in (table.alias, table.parts[-1]):
            continue
        words = subject.words[table.first : table.last + 4]
        if "NOLOCK" in words or "READUNCOMMITTED" in words:
            yield found(table)


@detector("backup-password", Statement, texts=("BACKUP",))
def see_backup_password(node: Statement, subject: Subject) -> Iterable[Found]:
    words = subject.words
    if words[node.first] == "BACKUP":
        for at in range(node.first, node.last):
            if words[at] in ("PASSWORD", "MEDIAPASSWORD"):
                yield Found(node, at, at + 1)


@detector("index-name-by-table", Statement, texts=("DROP",))
def see_index_name_by_table(node: Statement, subject: Subject) -> Iterable[Found]:
    words = subject.words[node.first : node.last]
    if words[:2] == ["DROP", "INDEX"] and "." in words and "ON" not in words:
        yield Found(node, node.first, node.last)


@detector("postfix-operator", OtherStatement, texts=("OPERATOR",))
def see_postfix_operator(node: OtherStatement, subject: Subject) -> Iterable[Found]:
    if node.words == "create operator" and "LEFTARG" in subject.words and "RIGHTARG" not in subject.words:
        yield found(node)


@detector("text-as-title", SelectItem, texts=("'",))
def see_text_as_title(node: SelectItem, subject: Subject) -> Iterable[Found]:
    if subject.words[node.first + 1 : node.first + 2] == ["="] and subject.words[node.first][0] in "'N":
        yield Found(node, node.first, node.first + 2)
