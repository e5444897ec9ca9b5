"""Forms that a target refuses although our readers take them; each rule says what it found, '' where nothing.

Sources: Oracle Database 19c, "SQL Language Reference"; Transact-SQL reference of SQL Server 2022.
"""

from collections.abc import Callable
from typing import Final

from hullsound.catalog.model import Object, ObjectType
from hullsound.knowledge.model import Target
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Call,
    Case,
    Cast,
    Literal,
    Name,
    Node,
    Operation,
    Paren,
    Select,
)

from . import query_forms

_QUERIES: Final = (ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.QUERY, ObjectType.CHANGE)
_TRUTH_SINCE: Final = {"oracle": 23, "sqlserver": 9999}
"""First version whose SQL has truth values."""
_WIDER_TRIM_SINCE: Final = 2022
_SHORT_SUBSTRING_SINCE: Final = 2025
_CURRENT_DATE_SINCE: Final = 2025
_LONG_CONCAT_SINCE: Final = 23


def refused_form(read: ReadStatement, item: Object, target: Target) -> str:
    """Return the first form in a draft that the target refuses, as words; '' where there is none."""
    rules = _RULES[target.engine]
    if item.type in _QUERIES and target.version < _TRUTH_SINCE.get(target.engine, 0):
        rules = (*rules, _truth_value)
    return next(filter(None, (rule(read, target) for rule in rules)), "")


def _truth_value(read: ReadStatement, target: Target) -> str:
    for literal in read.all(Literal):
        if literal.form in ("true", "false"):
            return "a truth value as a constant"
    for name in read.all(Name):
        if name.parts in (("TRUE",), ("FALSE",)):
            return "a truth value as a constant"
    tests: list[Node | None] = [select.where for select in read.all(Select)]
    tests += [test for case in read.all(Case) if case.subject is None for test, _ in case.branches]
    return "a value that stands for a condition" if any(map(_is_bare, tests)) else ""


def _is_bare(test: Node | None) -> bool:
    while isinstance(test, Paren):
        test = test.inner
    if isinstance(test, Operation) and set(test.operators) <= {"AND", "OR", "NOT"}:
        return any(map(_is_bare, test.operands))
    return isinstance(test, Name)


def _large_cast(read: ReadStatement, target: Target) -> str:
    is_large = any(cast.type.name in ("CLOB", "NCLOB", "BLOB") for cast in read.all(Cast))
    return "a cast to a large object" if is_large else ""


def _epoch(read: ReadStatement, target: Target) -> str:
    calls = [call for call in read.all(Call) if call.parts == ("EXTRACT",) and call.opening >= 0]
    return "EXTRACT of EPOCH" if any(read.tokens.words[call.opening + 1] == "EPOCH" for call in calls) else ""


def _long_round(read: ReadStatement, target: Target) -> str:
    calls = [call for call in read.all(Call) if call.parts == ("ROUND",)]
    return "ROUND with three arguments" if any(len(call.arguments) > 2 for call in calls) else ""


def _long_concat(read: ReadStatement, target: Target) -> str:
    calls = [call for call in read.all(Call) if call.parts == ("CONCAT",)]
    is_long = target.version < _LONG_CONCAT_SINCE and any(len(call.arguments) != 2 for call in calls)
    return "CONCAT of other than two texts" if is_long else ""


def _tilde(read: ReadStatement, target: Target) -> str:
    return "the operator ~" if any("~" in operation.operators for operation in read.all(Operation)) else ""


def _substring(read: ReadStatement, target: Target) -> str:
    for call in read.all(Call):
        if call.parts == ("SUBSTRING",):
            words = read.tokens.words[call.opening : call.closing]
            if (len(call.arguments) != 3 and target.version < _SHORT_SUBSTRING_SINCE) or "FROM" in words:
                return "SUBSTRING without its three arguments"
    return ""


def _trim(read: ReadStatement, target: Target) -> str:
    if target.version >= _WIDER_TRIM_SINCE:
        return ""
    for call in read.all(Call):
        words = read.tokens.words[call.opening : call.closing] if call.opening >= 0 else []
        if call.parts in (("LTRIM",), ("RTRIM",)) and len(call.arguments) > 1:
            return f"{call.parts[0]} of other characters than blanks, before version 2022"
        if call.parts == ("TRIM",) and not {"BOTH", "LEADING", "TRAILING"}.isdisjoint(words):
            return "TRIM of one side, before version 2022"
    return ""


def _current_date(read: ReadStatement, target: Target) -> str:
    is_named = any(name.parts == ("CURRENT_DATE",) for name in read.all(Name)) or any(
        call.parts == ("CURRENT_DATE",) for call in read.all(Call)
    )
    return "CURRENT_DATE" if is_named and target.version < _CURRENT_DATE_SINCE else ""


_OF_ORACLE: Final[tuple[Callable[[ReadStatement, Target], str], ...]] = (
    _large_cast, _epoch, _long_round, _long_concat, _tilde, *query_forms.OF_ORACLE,
)  # fmt: skip
_OF_SQLSERVER: Final[tuple[Callable[[ReadStatement, Target], str], ...]] = (
    _substring, _trim, _current_date, *query_forms.OF_SQLSERVER,
)  # fmt: skip
_RULES: Final[dict[str, tuple[Callable[[ReadStatement, Target], str], ...]]] = {
    "oracle": _OF_ORACLE, "sqlserver": _OF_SQLSERVER, "mysql": query_forms.OF_MYSQL, "mariadb": query_forms.OF_MARIADB,
}  # fmt: skip
