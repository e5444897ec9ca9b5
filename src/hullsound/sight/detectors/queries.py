"""Predicates over queries and expressions."""

from bisect import bisect_right
from collections.abc import Iterable, Iterator
from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, Need, detector, found
from hullsound.sight.values import UNKNOWN, Value, combine, value_of
from hullsound.sight.whole import whole_needs
from hullsound.sql.lexer import QUOTED, WORD
from hullsound.sql.tree import (
    Call,
    CommonTable,
    DerivedTable,
    Literal,
    Name,
    Node,
    Operation,
    Query,
    Select,
    Statement,
    Subquery,
    TableRef,
    TypeName,
    Update,
)

from .outer_joins import outer_joins
from .rownum import change_limits, is_rownum, rownum_limits, rownum_numbers

_DICTIONARY: Final = ("ALL_", "USER_", "DBA_", "CDB_", "V$", "GV$", "X$")


@detector("connect-by", Select, texts=("CONNECT",))
def see_connect_by(node: Select, subject: Subject) -> Iterable[Found]:
    if node.connect_by is not None:
        first = (node.start_with or node.connect_by).first - 2
        last = max(node.connect_by.last, node.start_with.last if node.start_with else 0)
        yield Found(node, min(first, node.connect_by.first - 2), last)


@detector("rownum-limit", Name, texts=("ROWNUM",))
def see_rownum_limit(node: Name, subject: Subject) -> Iterable[Found]:
    if is_rownum(node, subject) and node in rownum_limits(subject):
        yield found(node)


@detector("rownum-elsewhere", Name, texts=("ROWNUM",))
def see_rownum(node: Name, subject: Subject) -> Iterable[Found]:
    is_known = node in rownum_limits(subject) or node in rownum_numbers(subject) or node in change_limits(subject)
    if is_rownum(node, subject) and not is_known and "ROWNUM" not in subject.scope.declared:
        yield found(node)


@detector("rownum-change-limit", Name, texts=("ROWNUM",))
def see_rownum_change_limit(node: Name, subject: Subject) -> Iterable[Found]:
    if node in change_limits(subject) and "ROWNUM" not in subject.scope.declared:
        yield found(node)


@detector("rownum-number", Name, texts=("ROWNUM",))
def see_rownum_number(node: Name, subject: Subject) -> Iterable[Found]:
    if node in rownum_numbers(subject) and "ROWNUM" not in subject.scope.declared:
        yield found(node)


@detector("outer-join-mark", Select, texts=("+",))
def see_outer_join(node: Select, subject: Subject) -> Iterable[Found]:
    plan = outer_joins(subject).get(node)
    if plan is not None and not plan.reason:
        yield Found(node, plan.marks[0].first, plan.marks[0].last, "optional: " + ", ".join(plan.joins).lower())


@detector("outer-join-mark-complex", Select, texts=("+",))
def see_complex_outer_join(node: Select, subject: Subject) -> Iterable[Found]:
    plan = outer_joins(subject).get(node)
    if plan is not None and plan.reason:
        yield Found(node, plan.marks[0].first, plan.marks[0].last, plan.reason)


@detector("minus", Query, texts=("MINUS",))
def see_minus(node: Query, subject: Subject) -> Iterable[Found]:
    for operator, at in node.operators:
        if operator.startswith("MINUS"):
            yield Found(node, at, at + 1)


@detector("sequence-value", Name, texts=("NEXTVAL", "CURRVAL"))
def see_sequence_value(node: Name, subject: Subject) -> Iterable[Found]:
    if len(node.parts) > 1 and node.parts[-1] in ("NEXTVAL", "CURRVAL") and not node.link:
        yield found(node)


@detector("with-recursive", CommonTable, texts=("WITH",))
def see_recursive(node: CommonTable, subject: Subject) -> Iterable[Found]:
    for ref in subject.all(TableRef):
        if node.first < ref.first < node.last and ref.parts == (node.name,):
            yield Found(node, node.first, node.first + 1)
            return


@detector("optimizer-hint", Statement, texts=("/*+",))
def see_hint(node: Statement, subject: Subject) -> Iterable[Found]:
    text = subject.tokens.text
    end = subject.read.end
    at = text.find("/*+", subject.read.start, end)
    while at >= 0:
        token = _token_before(subject, at)
        if subject.tokens.ends[token] <= at:
            yield Found(node, token, token + 1, " ".join(text[at + 3 : text.find("*/", at)].split())[:80])
        at = text.find("/*+", at + 3, end)


def _token_before(subject: Subject, offset: int) -> int:
    return max(
        bisect_right(subject.tokens.starts, offset, subject.read.first, subject.read.last) - 1, subject.read.first
    )


@detector("empty-string", Literal, texts=("''",))
def see_empty_string(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and subject.words[node.first] == "''":
        yield found(node)


@detector("alternative-quoting", Literal, texts=("Q'",))
def see_alternative_quoting(node: Literal, subject: Subject) -> Iterable[Found]:
    if node.form == "string" and subject.words[node.first].startswith(("Q'", "NQ'")):
        yield found(node)


@detector("null-concatenation", Operation, texts=("||",))
def see_null_concatenation(node: Operation, subject: Subject) -> Iterable[Found]:
    if "||" not in node.operators:
        return
    needs: list[Need] = []
    open_operand = False
    for operand in node.operands:
        if isinstance(operand, Literal) and operand.form != "null":
            continue
        is_column = isinstance(operand, Name) and operand.parts[0] not in subject.scope.declared
        column = value_of(operand, subject).column if is_column else None
        if column is None:
            open_operand = not _never_null(operand) or open_operand
        else:
            needs.append((*column, "nullable?"))
    if open_operand or needs:
        yield found(node, needs=() if open_operand else needs)


def _never_null(node: Node) -> bool:
    """Whether an operand cannot be NULL whatever the data: a replacement by a literal, a count, a clock."""
    if isinstance(node, Call):
        if node.parts in (("NVL",), ("COALESCE",)):
            return isinstance(node.arguments[-1], Literal) if node.arguments else False
        if node.parts in (("TO_CHAR",), ("CHR",), ("RPAD",), ("LPAD",)):
            return bool(node.arguments) and (_never_null(node.arguments[0]) or isinstance(node.arguments[0], Literal))
        return node.parts == ("COUNT",)
    return isinstance(node, Name) and node.parts in (
        ("SYSDATE",),
        ("USER",),
        ("SQLERRM",),
        ("SQLCODE",),
        ("SYSTIMESTAMP",),
    )


def _arithmetic(node: Operation, subject: Subject) -> Iterator[tuple[Value, str, Value]]:
    """Give each step of a + b - c: what stands left so far, the operator, and the next operand."""
    if node.operators[0] not in ("+", "-") or len(node.operands) == 1:
        return
    running = value_of(node.operands[0], subject)
    for operator, operand in zip(node.operators, node.operands[1:], strict=True):
        if operator not in ("+", "-"):
            return
        right = value_of(operand, subject)
        yield running, operator, right
        running = combine(running, operator, right)


@detector("date-plus-number", Operation)
def see_date_plus_number(node: Operation, subject: Subject) -> Iterable[Found]:
    for left, operator, right in _arithmetic(node, subject):
        for date, number in ((left, right), (right, left)) if operator == "+" else ((left, right),):
            needs = _moment_needs(date), _needs_of(number, "number?" if date.kind == "date" else "number")
            if number == UNKNOWN and date.kind == "date":
                needs = _needs_of(date, "date"), ()
            if needs[0] is not None and needs[1] is not None:
                yield found(node, needs=(*needs[0], *needs[1]))


@detector("date-minus-date", Operation)
def see_date_minus_date(node: Operation, subject: Subject) -> Iterable[Found]:
    for left, operator, right in _arithmetic(node, subject):
        needs = _needs_of(left, "date"), _needs_of(right, "date")
        if operator == "-" and needs[0] is not None and needs[1] is not None:
            yield found(node, needs=(*needs[0], *needs[1]))


def _needs_of(value: Value, wanted: str) -> tuple[Need, ...] | None:
    """Return what must hold for `value` to be of a class; None if it cannot be."""
    if value.kind:
        return () if value.kind == wanted.rstrip("?") else None
    if value.is_cut and wanted == "date":
        return _moment_needs(value)
    return ((*value.column, wanted),) if value.column else None


def _moment_needs(value: Value) -> tuple[Need, ...] | None:
    """Return what must hold for `value` to be a date or a timestamp; None if it cannot be."""
    if value.kind:
        return () if value.kind in ("date", "timestamp") else None
    return ((*value.column, "date or timestamp"),) if value.column else None


def _written_as_text(node: Operation | Call) -> Iterable[Node]:
    """Give the expressions that || and TO_CHAR without a mask write in the form of the engine's choice."""
    if isinstance(node, Operation):
        return node.operands if "||" in node.operators else ()
    return node.arguments if node.parts == ("TO_CHAR",) and len(node.arguments) == 1 else ()


@detector("date-written-as-text", Operation, Call, texts=("||", "TO_CHAR"))
def see_date_written_as_text(node: Operation | Call, subject: Subject) -> Iterable[Found]:
    for operand in _written_as_text(node):
        value = value_of(operand, subject)
        if value.kind in ("date", "timestamp"):
            yield found(operand, value.kind)
        elif value.column is not None:
            yield found(operand, needs=((*value.column, "date or timestamp"),))


@detector("fraction-written-as-text", Operation, Call, texts=("||", "TO_CHAR"))
def see_fraction_written_as_text(node: Operation | Call, subject: Subject) -> Iterable[Found]:
    for operand in _written_as_text(node):
        value = value_of(operand, subject)
        if isinstance(operand, Name) and value.column is not None:
            yield found(operand, needs=((*value.column, "fraction"),))
        elif isinstance(operand, Name) and operand.parts[0] in subject.scope.declared:
            kind = subject.scope.type_at(operand.parts[0], operand)
            if kind is not None and kind.name == "NUMBER" and len(kind.arguments) > 1 and kind.arguments[1] != "0":
                yield found(operand)


_TEXT_ARGUMENT: Final = frozenset(
    """LPAD RPAD SUBSTR LENGTH UPPER LOWER INITCAP INSTR REPLACE TRIM LTRIM RTRIM TRANSLATE REGEXP_SUBSTR REGEXP_REPLACE
    REGEXP_COUNT REGEXP_INSTR REVERSE TO_DATE TO_TIMESTAMP""".split()
)
_READ_AS_MOMENT: Final = ("TO_DATE", "TO_TIMESTAMP")


@detector("number-as-text", Call, names=_TEXT_ARGUMENT)
def see_number_as_text(node: Call, subject: Subject) -> Iterable[Found]:
    if len(node.parts) != 1 or node.parts[0] not in _TEXT_ARGUMENT or not node.arguments:
        return
    argument = node.arguments[0]
    value = value_of(argument, subject)
    if value.kind == "number" or (value.kind in ("date", "timestamp") and node.parts[0] not in _READ_AS_MOMENT):
        yield found(argument, value.kind)
    elif value.column is not None:
        yield found(argument, needs=((*value.column, "number"),))


_WHOLE_ARGUMENTS: Final = {
    "SUBSTR": (1, 2), "LPAD": (1,), "RPAD": (1,), "ROUND": (1,), "TRUNC": (1,), "CHR": (0,),
    "REGEXP_SUBSTR": (2, 3), "REGEXP_INSTR": (2, 3), "REGEXP_COUNT": (2,),
}  # fmt: skip


@detector("number-as-integer", Call, names=_WHOLE_ARGUMENTS)
def see_number_as_integer(node: Call, subject: Subject) -> Iterable[Found]:
    """Arguments that count characters or digits, unless they are plain whole numbers."""
    for index in _WHOLE_ARGUMENTS.get(node.parts[-1], ()) if len(node.parts) == 1 else ():
        if index < len(node.arguments):
            argument = node.arguments[index]
            bare = argument.operands[0] if isinstance(argument, Operation) and len(argument.operands) == 1 else argument
            if isinstance(bare, Literal) or value_of(argument, subject).kind in ("text", "date"):
                continue
            if isinstance(argument, Call) and argument.parts in (("LENGTH",), ("INSTR",)):
                continue
            yield found(argument)


@detector("integer-division", Operation, texts=("/",))
def see_integer_division(node: Operation, subject: Subject) -> Iterable[Found]:
    """A division whose operands, up to the divisor, are all whole numbers."""
    if "/" not in node.operators:
        return
    needs: list[Need] = []
    for operand in node.operands[: node.operators.index("/") + 2]:
        needed = whole_needs(operand, subject)
        if needed is None:
            return
        needs += needed
    yield found(node.operands[0], needs=needs)


@detector("unequal-signs", Operation, texts=("^=", "~="))
def see_unequal_signs(node: Operation, subject: Subject) -> Iterable[Found]:
    if node.operators[0] in ("^=", "~="):
        at = node.operands[0].last
        yield Found(node, at, at + 1)


@detector("folded-quoted-name", Name, TableRef, Call, texts=('"',))
def see_folded_name(node: Node, subject: Subject) -> Iterable[Found]:
    kinds, words, text = subject.tokens.kinds, subject.words, subject.tokens
    for at in range(node.first, min(node.last, node.first + 5)):
        if kinds[at] == QUOTED:
            source = text.source(at, at + 1)
            inner = source[1:-1]
            if inner == inner.upper() and inner.replace("_", "A").replace("$", "A").replace("#", "A").isalnum():
                yield Found(node, at, at + 1)
        elif kinds[at] != WORD and words[at] != ".":
            return


@detector("update-alias", Update)
def see_update_alias(node: Update, subject: Subject) -> Iterable[Found]:
    alias = node.table.alias if isinstance(node.table, TableRef) else ""
    for target, _ in node.assignments:
        if isinstance(target, Name) and len(target.parts) == 2 and target.parts[0] == alias and alias:
            yield Found(target, target.first, target.last)


@detector("remote-name", TableRef, Name, Call, texts=("@",))
def see_remote_name(node: TableRef | Name | Call, subject: Subject) -> Iterable[Found]:
    if node.link:
        yield found(node, node.link)


@detector("dictionary-view", TableRef, texts=_DICTIONARY)
def see_dictionary_view(node: TableRef, subject: Subject) -> Iterable[Found]:
    name = node.parts[-1]
    owned = len(node.parts) == 1 or node.parts[0] == "SYS"
    if owned and name.startswith(_DICTIONARY) and name not in subject.scope.locals:
        yield found(node, name)


@detector("derived-table-alias", DerivedTable)
def see_derived_table(node: DerivedTable, subject: Subject) -> Iterable[Found]:
    if not node.alias and not node.lateral and subject.words[node.last - 1] == ")":
        yield found(node)


@detector("substitution-variable", Name, TableRef, TypeName, Literal, texts=("&",))
def see_substitution(node: Node, subject: Subject) -> Iterable[Found]:
    for at in range(node.first, min(node.last, node.first + 5)):
        if subject.tokens.kinds[at] == WORD and "&" in subject.words[at]:
            yield Found(node, at, at + 1)
            return


@detector("cursor-expression", Subquery, texts=("CURSOR",))
def see_cursor_expression(node: Subquery, subject: Subject) -> Iterable[Found]:
    if node.form == "CURSOR":
        yield found(node)


def _is_measured(node: Operation, subject: Subject) -> bool:
    """Whether a difference stands in TIMESTAMPDIFF(n, CHAR(a - b)) of Db2, which counts its units."""
    words = subject.words
    return (
        words[node.first - 2 : node.first] == ["CHAR", "("]
        and "TIMESTAMPDIFF" in words[max(node.first - 6, 0) : node.first]
    )


@detector("date-less-date", Operation, texts=("-",))
def see_date_less_date(node: Operation, subject: Subject) -> Iterable[Found]:
    """A date less another one, where both are known to be dates or times."""
    if node.operators == ["-"] and len(node.operands) == 2 and not _is_measured(node, subject):
        needs: list[Need] = []
        for operand in node.operands:
            value = value_of(operand, subject)
            if value.kind not in ("date", "timestamp") and value.column is None:
                return
            needs += [(*value.column, "date or timestamp")] if value.column is not None and not value.kind else []
        yield found(node, needs=tuple(needs))
