"""Predicates of the T-SQL family: code, hints, and ways of writing that other engines do not know."""

from collections.abc import Iterable
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.analyze.transactions import rollback_guard
from hullsound.sight.detector import Found, detector, found
from hullsound.sight.values import value_of
from hullsound.sql.literals import has_letters
from hullsound.sql.tree import (
    Call,
    Clause,
    CreateIndex,
    CreateRoutine,
    CreateTable,
    CreateTrigger,
    CreateView,
    CursorDeclaration,
    Execute,
    If,
    Insert,
    Member,
    Name,
    Operation,
    OtherStatement,
    Parameter,
    PlainStatement,
    Raise,
    Return,
    SelectItem,
    Statement,
    TableRef,
    TryCatch,
)

from .names import XML_METHODS

_LOCKS: Final = frozenset(("UPDLOCK", "HOLDLOCK", "XLOCK", "TABLOCK", "TABLOCKX", "PAGLOCK", "ROWLOCK", "SERIALIZABLE",
                           "REPEATABLEREAD", "SHARED"))  # fmt: skip
_PSEUDO_TABLES: Final = frozenset((("INSERTED",), ("DELETED",)))


@detector("top-plain", Clause, texts=("TOP",))
def see_top(node: Clause, subject: Subject) -> Iterable[Found]:
    if node.name == "top":
        behind = subject.words[node.last : node.last + 3]
        if (
            "PERCENT" not in subject.words[node.first : node.last]
            and behind[:1] != ["PERCENT"]
            and behind[:2] != ["WITH", "TIES"]
        ):
            yield found(node)


def _keeps_all(node: Clause, subject: Subject) -> bool:
    return [w for w in subject.words[node.first : node.last] if w not in "()"] == ["TOP", "100", "PERCENT"]


@detector("top-percent", Clause, texts=("PERCENT",))
def see_top_percent(node: Clause, subject: Subject) -> Iterable[Found]:
    if node.name == "top" and "PERCENT" in subject.words[node.first : node.last] and not _keeps_all(node, subject):
        yield found(node)


@detector("top-all", Clause, texts=("PERCENT",))
def see_top_all(node: Clause, subject: Subject) -> Iterable[Found]:
    if node.name == "top" and _keeps_all(node, subject):
        yield found(node)


def _hint_words(node: Clause, subject: Subject) -> set[str]:
    return set(subject.words[node.first : node.last]) if node.name == "table-hint" else set()


@detector("reading-hint", Clause)
def see_reading_hint(node: Clause, subject: Subject) -> Iterable[Found]:
    words = _hint_words(node, subject)
    if words and not words & _LOCKS and "READPAST" not in words:
        yield found(node)


@detector("locking-hint", Clause)
def see_locking_hint(node: Clause, subject: Subject) -> Iterable[Found]:
    words = _hint_words(node, subject)
    if words & _LOCKS and "READPAST" not in words:
        yield found(node)


@detector("read-past-hint", Clause, texts=("READPAST",))
def see_read_past(node: Clause, subject: Subject) -> Iterable[Found]:
    if "READPAST" in _hint_words(node, subject):
        yield found(node)


def _is_temporary(node: Clause, subject: Subject) -> bool:
    return any(word.startswith(("#", "TEMPDB")) for word in subject.words[node.first : node.last])


@detector("select-into-permanent", Clause)
def see_select_into(node: Clause, subject: Subject) -> Iterable[Found]:
    if node.name == "select-into-table" and not _is_temporary(node, subject):
        yield found(node)


@detector("select-into-temporary", Clause, texts=("#", "TEMPDB"))
def see_select_into_temporary(node: Clause, subject: Subject) -> Iterable[Found]:
    if node.name == "select-into-table" and _is_temporary(node, subject):
        yield found(node)


@detector("insert-without-into", Insert)
def see_insert_without_into(node: Insert, subject: Subject) -> Iterable[Found]:
    if node.table is None or subject.words[node.first] != "INSERT":
        return
    if "INTO" not in subject.words[node.first : node.table.first]:
        yield Found(node, node.first, node.first + 1)


@detector("insert-exec", Execute)
def see_insert_exec(node: Execute, subject: Subject) -> Iterable[Found]:
    if any(insert.first < node.first < insert.last for insert in subject.all(Insert)):
        yield found(node)


@detector("select-assigns", SelectItem, texts=("@",))
def see_select_assigns(node: SelectItem, subject: Subject) -> Iterable[Found]:
    if (
        subject.words[node.first].startswith("@")
        and subject.words[node.first + 1] in ("=", "+=")
        and node.last > node.first + 2
    ):
        yield found(node)


@detector("alias-by-equals", SelectItem, texts=("=",))
def see_alias_by_equals(node: SelectItem, subject: Subject) -> Iterable[Found]:
    value = node.value
    if isinstance(value, Operation) and value.operators[:1] == ["="] and not subject.words[node.first].startswith("@"):
        yield found(node)


@detector("alias-by-literal", SelectItem, texts=("'",))
def see_alias_by_literal(node: SelectItem, subject: Subject) -> Iterable[Found]:
    last = node.last - 1
    if node.alias and last >= node.value.last and subject.words[last][0] in "'":
        yield Found(node, last, node.last)


def _null_equals_null(subject: Subject) -> bool:
    """Whether = holds between NULLs: ANSI_NULLS is on by default in SQL Server, and off in ASE."""
    return "NO_ANSI_NULLS" in subject.read.modes or (subject.engine == "ase" and "ANSI_NULLS" not in subject.read.modes)


@detector("equal-null", Operation, texts=("NULL",))
def see_equal_null(node: Operation, subject: Subject) -> Iterable[Found]:
    if not _null_equals_null(subject):
        yield from _compared_with_null(node, subject)


@detector("null-equal", Operation, texts=("NULL",))
def see_null_equal(node: Operation, subject: Subject) -> Iterable[Found]:
    if _null_equals_null(subject):
        yield from _compared_with_null(node, subject)


def _compared_with_null(node: Operation, subject: Subject) -> Iterable[Found]:
    words = subject.words
    if node.operators[0] in ("=", "<>", "!=") and len(node.operands) == 2 and words[node.operands[1].first] == "NULL":
        is_assignment = any(item.first == node.first for item in subject.all(SelectItem))
        if not is_assignment:
            yield found(node)


@detector("null-variable", Operation, texts=("@",))
def see_null_variable(node: Operation, subject: Subject) -> Iterable[Found]:
    """A column that can be NULL beside a variable by = or <>, which are equal where both are NULL."""
    if not _null_equals_null(subject) or len(node.operands) != 2 or node.operators[0] not in ("=", "<>", "!="):
        return
    for value, other in (node.operands, reversed(node.operands)):
        is_variable = isinstance(other, Name) and other.parts[0].startswith("@") and not other.parts[0].startswith("@@")
        if is_variable and isinstance(value, Name) and not value.parts[0].startswith("@"):
            column = value_of(value, subject).column
            if column is not None:
                yield found(node, needs=[(*column, "nullable")])


@detector("like-class", Statement, texts=("LIKE",))
def see_like_class(node: Statement, subject: Subject) -> Iterable[Found]:
    words = subject.words
    for at in range(subject.read.first, subject.read.last - 1):
        if words[at] == "LIKE" and "[" in words[at + 1] and words[at + 1][:1] in ("'", "N"):
            yield Found(node, at, at + 2)


@detector("return-status", Return)
def see_return_status(node: Return, subject: Subject) -> Iterable[Found]:
    tree = subject.tree
    if node.value is not None and isinstance(tree, CreateRoutine) and tree.routine.form == "procedure":
        yield found(node)


@detector("output-parameter", Parameter)
def see_output_parameter(node: Parameter, subject: Subject) -> Iterable[Found]:
    if "out" in node.mode:
        yield found(node)


@detector("tsql-commit", PlainStatement)
def see_commit(node: PlainStatement, subject: Subject) -> Iterable[Found]:
    is_trigger = isinstance(subject.tree, CreateTrigger)
    is_ending = node.words == "commit" or (node.words == "rollback" and not is_trigger)
    if is_ending and isinstance(subject.tree, CreateRoutine | CreateTrigger):
        yield found(node)


@detector("rollback-in-trigger", PlainStatement)
def see_rollback_in_trigger(node: PlainStatement, subject: Subject) -> Iterable[Found]:
    if node.words == "rollback" and isinstance(subject.tree, CreateTrigger):
        yield found(node)


@detector("transaction-count", Name, texts=("@@TRANCOUNT",))
def see_transaction_count(node: Name, subject: Subject) -> Iterable[Found]:
    if node.parts == ("@@TRANCOUNT",) and not any(rollback_guard(each) is node for each in subject.all(If)):
        yield found(node)


@detector("rollback-guard", If, texts=("ROLLBACK",))
def see_rollback_guard(node: If, subject: Subject) -> Iterable[Found]:
    guard = rollback_guard(node)
    if isinstance(guard, Name):
        yield found(guard)


@detector("try-catch", TryCatch)
def see_try_catch(node: TryCatch, subject: Subject) -> Iterable[Found]:
    yield Found(node, node.first, min(node.first + 2, node.last))
    if "BEGIN" in subject.words[node.first : node.last]:
        for at in range(node.first + 1, node.last - 1):
            if subject.words[at] == "BEGIN" and subject.words[at + 1] == "CATCH":
                yield Found(node, at, at + 2)


@detector("raiserror", Raise, Clause, texts=("RAISERROR",))
def see_raiserror(node: Raise | Clause, subject: Subject) -> Iterable[Found]:
    if subject.words[node.first] == "RAISERROR" and (isinstance(node, Raise) or node.name == "raiserror-old"):
        yield found(node)


@detector("throw", Raise, texts=("THROW",))
def see_throw(node: Raise, subject: Subject) -> Iterable[Found]:
    if subject.words[node.first] == "THROW":
        yield found(node)


@detector("tsql-cursor", CursorDeclaration)
def see_cursor(node: CursorDeclaration, subject: Subject) -> Iterable[Found]:
    yield Found(node, node.first, min(node.first + 3, node.last))


@detector("exec-text", Execute)
def see_exec_text(node: Execute, subject: Subject) -> Iterable[Found]:
    if node.text is not None or not node.routine:
        yield found(node)


@detector("exec-status", Execute, texts=("@",))
def see_exec_status(node: Execute, subject: Subject) -> Iterable[Found]:
    words = subject.words
    if node.routine and words[node.first + 1].startswith("@") and words[node.first + 2] == "=":
        yield found(node)


@detector("tsql-trigger", CreateTrigger)
def see_trigger(node: CreateTrigger, subject: Subject) -> Iterable[Found]:
    if node.table and not node.timing.lower().startswith("instead"):
        yield Found(node, node.first, min(node.first + 3, node.last))


@detector("update-function", Call, names=("UPDATE",))
def see_update_function(node: Call, subject: Subject) -> Iterable[Found]:
    if isinstance(subject.tree, CreateTrigger):
        yield found(node)


@detector("clustered", Statement, texts=("CLUSTERED",))
def see_clustered(node: Statement, subject: Subject) -> Iterable[Found]:
    if isinstance(node, CreateTable | CreateIndex):
        words = subject.words
        for at in range(node.first, node.last - 1):
            if words[at] == "CLUSTERED" and words[at + 1] != "COLUMNSTORE":
                yield Found(node, at, at + 1)


@detector("xml-method", Call, Member, texts=XML_METHODS)
def see_xml_method(node: Call | Member, subject: Subject) -> Iterable[Found]:
    is_method = node.parts[-1:] and node.parts[-1] in XML_METHODS and (isinstance(node, Member) or len(node.parts) > 1)
    if is_method and node.arguments and subject.words[node.arguments[0].first][:1] in ("'", "N"):
        yield found(node)


@detector("indexed-view", CreateView, texts=("SCHEMABINDING",))
def see_indexed_view(node: CreateView, subject: Subject) -> Iterable[Found]:
    """A bound view that counts with COUNT_BIG, as only a view that is to be indexed must."""
    words = subject.words[node.first : node.last]
    if "SCHEMABINDING" in words and "COUNT_BIG" in words:
        yield Found(node, node.first, min(node.first + 3, node.last))


@detector("silent-nullability", CreateTable)
def see_silent_nullability(node: CreateTable, subject: Subject) -> Iterable[Found]:
    for column in node.columns:
        words = subject.words[column.first : column.last]
        if not column.nullable and not column.identity and {"NULL", "PRIMARY"}.isdisjoint(words):
            yield found(column)
            return


@detector("object-id", Call, names=("OBJECT_ID",))
def see_object_id(node: Call, subject: Subject) -> Iterable[Found]:
    tree = subject.tree
    if not (isinstance(tree, OtherStatement) and tree.words == "guard") and not _names_temporary(node, subject):
        yield found(node)


@detector("temporary-object-id", Call, names=("OBJECT_ID",))
def see_temporary_object_id(node: Call, subject: Subject) -> Iterable[Found]:
    if _names_temporary(node, subject):
        yield found(node)


def _names_temporary(node: Call, subject: Subject) -> bool:
    """Whether OBJECT_ID asks for a temporary table by a constant name."""
    return len(node.arguments) > 0 and "tempdb..#" in subject.source(node.arguments[0]).lower()


@detector("pseudo-table", TableRef, texts=("INSERTED", "DELETED"))
def see_pseudo_table(node: TableRef, subject: Subject) -> Iterable[Found]:
    """The first use in a trigger tells it for all of it."""
    first = next((t for t in subject.all(TableRef) if t.parts in _PSEUDO_TABLES), None)
    if node is first and isinstance(subject.tree, CreateTrigger):
        yield found(node)


@detector("replace-of-letters", Call, names=("REPLACE",))
def see_replace_of_letters(node: Call, subject: Subject) -> Iterable[Found]:
    """A replacement of a text that may hold letters: not of signs and digits alone."""
    if node.parts == ("REPLACE",) and _looks_for_letters(node, subject):
        yield found(node)


@detector("translate-of-letters", Call, names=("TRANSLATE",))
def see_translate_of_letters(node: Call, subject: Subject) -> Iterable[Found]:
    """A translation of signs of which some may be letters."""
    if node.parts == ("TRANSLATE",) and _looks_for_letters(node, subject):
        yield found(node)


def _looks_for_letters(node: Call, subject: Subject) -> bool:
    """Whether the second argument may hold letters."""
    if len(node.arguments) < 2:
        return False
    sought = subject.source(node.arguments[1]).lstrip("Nn")
    return not sought.startswith("'") or has_letters(sought)
