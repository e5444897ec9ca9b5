"""Predicates over tables, sequences, synonyms, types and session statements."""

from collections.abc import Iterable
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.knowledge.load import load_engine
from hullsound.sight.detector import Found, detector, found
from hullsound.sql.tree import (
    Call,
    ColumnDefinition,
    ConstraintDefinition,
    CreateIndex,
    CreateSequence,
    CreateSynonym,
    CreateTable,
    CreateType,
    OtherStatement,
    Statement,
    TypeName,
)

_MAX_BIGINT: Final = 2**63 - 1
_HEAD: Final = 6


@detector("global-temporary-table", CreateTable)
def see_temporary_table(node: CreateTable, subject: Subject) -> Iterable[Found]:
    if node.temporary and "private-table" not in node.clauses:
        yield Found(node, node.first, min(node.first + 4, node.last), node.temporary)


_UNSTEADY: Final = frozenset(("TO_CHAR", "TO_DATE", "TO_TIMESTAMP"))


@detector("unsteady-expression", CreateIndex, ColumnDefinition, texts=_UNSTEADY)
def see_unsteady_expression(node: CreateIndex | ColumnDefinition, subject: Subject) -> Iterable[Found]:
    """Calls by a format in index keys and computed columns."""
    parts = (
        [key.value for key in node.keys]
        if isinstance(node, CreateIndex)
        else [node.generated]
        if node.generated
        else []
    )
    for part in parts:
        for call in subject.all(Call):
            if part.first <= call.first < part.last and call.parts[-1] in _UNSTEADY:
                yield found(call)


@detector("identity-column", ColumnDefinition, texts=("IDENTITY",))
def see_identity(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    if node.identity:
        yield found(node, node.name)


@detector("sequence-limit", CreateSequence)
def see_sequence_limit(node: CreateSequence, subject: Subject) -> Iterable[Found]:
    values = (node.options.get("maxvalue", ""), node.options.get("minvalue", ""))
    if any(value.lstrip("-").isdigit() and abs(int(value)) > _MAX_BIGINT for value in values):
        yield found(node)


@detector("deferrable-check", ConstraintDefinition, texts=("DEFERRABLE",))
def see_deferrable_check(node: ConstraintDefinition, subject: Subject) -> Iterable[Found]:
    if node.form == "check" and node.deferrable:
        yield found(node)


@detector("table-synonym", CreateSynonym)
def see_table_synonym(node: CreateSynonym, subject: Subject) -> Iterable[Found]:
    if not node.link:
        yield found(node, needs=(("", ".".join(node.target), "relation"),))


@detector("code-synonym", CreateSynonym)
def see_code_synonym(node: CreateSynonym, subject: Subject) -> Iterable[Found]:
    if not node.link:
        yield found(node, needs=(("", ".".join(node.target), "no relation"),))


@detector("remote-synonym", CreateSynonym)
def see_remote_synonym(node: CreateSynonym, subject: Subject) -> Iterable[Found]:
    if node.link:
        yield found(node, node.link)


@detector("object-type", CreateType)
def see_object_type(node: CreateType, subject: Subject) -> Iterable[Found]:
    if node.form in ("object", "subtype", "opaque"):
        yield Found(node, node.first, min(node.first + _HEAD, node.last))


@detector("collection-type", CreateType)
def see_collection_type(node: CreateType, subject: Subject) -> Iterable[Found]:
    if node.form in ("table", "varray"):
        yield Found(node, node.first, min(node.first + _HEAD, node.last))


@detector("session-setting", OtherStatement)
def see_session_setting(node: OtherStatement, subject: Subject) -> Iterable[Found]:
    if node.words == "alter session" and "CURRENT_SCHEMA" not in subject.words[node.first : node.last]:
        yield found(node)


@detector("called-routine", OtherStatement)
def see_called_routine(node: OtherStatement, subject: Subject) -> Iterable[Found]:
    """See a routine that a statement runs, other than the engine's own procedures, which are judged by what they do."""
    is_supplied = node.name[-1:] and node.name[-1].startswith(("SP_", "XP_"))
    prefixes = load_engine(subject.engine).package_prefixes
    is_supplied = is_supplied or (len(node.name) > 1 and bool(prefixes) and node.name[-2].startswith(prefixes))
    if node.words in ("call", "exec", "execute") and node.name and not is_supplied:
        yield found(node)


@detector("java-code", Statement, texts=("JAVA",))
def see_java(node: Statement, subject: Subject) -> Iterable[Found]:
    if "JAVA" in subject.words[node.first : node.first + _HEAD] and subject.words[node.first] == "CREATE":
        yield Found(node, node.first, min(node.first + _HEAD, subject.read.last))


@detector("wrapped-code", Statement, texts=("WRAPPED",))
def see_wrapped(node: Statement, subject: Subject) -> Iterable[Found]:
    head = subject.words[subject.read.first : subject.read.first + 10]
    if head[:1] == ["CREATE"] and "WRAPPED" in head:
        at = subject.read.first + head.index("WRAPPED")
        yield Found(node, at, at + 1)


@detector("number-without-precision", ColumnDefinition, texts=("NUMBER",))
def see_plain_number(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    if (
        node.type is not None
        and node.type.name == "NUMBER"
        and node.type.arguments in ((), ("*",))
        and not node.identity
    ):
        yield found(node.type, node.name)


@detector("byte-length", TypeName, texts=("BYTE",))
def see_byte_length(node: TypeName, subject: Subject) -> Iterable[Found]:
    if node.unit == "BYTE":
        yield found(node)


@detector("timestamp-nanoseconds", TypeName, texts=("TIMESTAMP",))
def see_nanoseconds(node: TypeName, subject: Subject) -> Iterable[Found]:
    if node.name.startswith("TIMESTAMP") and node.arguments and node.arguments[0] in ("7", "8", "9"):
        yield found(node)


@detector("integer-column", ColumnDefinition, texts=("INT",))
def see_integer(node: ColumnDefinition, subject: Subject) -> Iterable[Found]:
    if node.type is not None and node.type.name in ("INTEGER", "INT", "SMALLINT"):
        yield found(node.type, node.name)
