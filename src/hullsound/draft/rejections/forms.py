"""Forms that a target refuses although our readers take them; each rule says what it found, '' where nothing.

Sources: Oracle Database 19c, "SQL Language Reference"; Transact-SQL reference of SQL Server 2022.
"""

import re
from collections.abc import Callable
from typing import Final

from hullsound.catalog.model import Object, ObjectType
from hullsound.knowledge.engine_model import Target
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    AnonymousBlock,
    Call,
    Case,
    Cast,
    Comparison,
    CreatePackage,
    CreateRoutine,
    CreateTrigger,
    Delete,
    If,
    Insert,
    Join,
    Literal,
    Loop,
    Merge,
    Name,
    Node,
    Operation,
    Paren,
    Select,
    SelectItem,
    Update,
    Window,
)

from . import query_forms
from .calls import refused_call, unknown_word
from .recursive_forms import recursion

_QUERIES: Final = (ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.QUERY, ObjectType.CHANGE)
_TRUTH_SINCE: Final = {"oracle": 23, "sqlserver": 9999}
"""First version whose SQL has truth values."""
_WIDER_TRIM_SINCE: Final = 2022
_SHORT_SUBSTRING_SINCE: Final = 2025
_CONDITIONS: Final = frozenset(("AND", "OR", "NOT", "=", "<>", "!=", "<", ">", "<=", ">="))
_COMPARED: Final = _CONDITIONS - {"AND", "OR", "NOT"}
_CURRENT_DATE_SINCE: Final = 2025
_SHIFTS_SINCE: Final = {"sqlserver": 2022}
_ONE_QUOTED: Final = 3
_COLLATIONS: Final = {
    "sqlserver": re.compile(r"^((?!UTF|UCS)\w+_\w+_(BIN2?(_UTF8)?|C[IS]_A[IS]\w*)|DATABASE_DEFAULT|CATALOG_DEFAULT)$"),
    "oracle": re.compile(r"^(BINARY(_C[IS]|_A[IS])?|USING_NLS_\w+|\w+_[CA]I)$"),
}
"""Names of collations: Transact-SQL reference, "COLLATE"; Oracle Database Globalization Support Guide, "Linguistic Sorting"."""
_FRAMES_SINCE: Final = {"oracle": 21, "sqlserver": 9999, "mysql": 9999, "mariadb": 9999}
"""First version with frames of GROUPS and with EXCLUDE."""
_NULLS_PASSED_SINCE: Final = {"sqlserver": 2022, "mysql": 9999, "mariadb": 9999}
_LONG_CONCAT_SINCE: Final = 23
_IN_SQL_ALONE: Final = frozenset(
    """NVL2 DECODE DUMP LNNVL BIN_TO_NUM WIDTH_BUCKET SYS_CONNECT_BY_PATH SYS_TYPEID CUBE_TABLE STANDARD_HASH ORA_HASH
    VALIDATE_CONVERSION LISTAGG XMLAGG XMLELEMENT XMLFOREST COUNT SUM MIN MAX AVG""".split()
)
"""Functions that are no part of PL/SQL expressions (Oracle Database 19c PL/SQL Language Reference, "SQL Functions in PL/SQL
Expressions"), and the digests and VALIDATE_CONVERSION, of which it does not say that they are."""


def refused_form(read: ReadStatement, item: Object, target: Target, source: str) -> str:
    """Return the first form in a draft that the target refuses, as words; '' where there is none. `source` is an engine."""
    rules = _RULES.get(target.engine, ())
    # PL/SQL has truth values of its own, Transact-SQL has none.
    if (item.type in _QUERIES or target.engine == "sqlserver") and target.version < _TRUTH_SINCE.get(target.engine, 0):
        rules = (*rules, _truth_value, _compared_condition)
        if source not in ("sqlserver", "ase"):  # which write an alias by a sign of equality
            rules = (*rules, _shown_condition)
    return next(filter(None, (rule(read, target) for rule in rules)), "")


def _returning(read: ReadStatement, target: Target) -> str:
    """RETURNING, which MariaDB has without INTO, and others do not have."""
    words = read.tokens.words
    changes: list[Insert | Update | Delete] = [*read.all(Insert), *read.all(Update), *read.all(Delete)]
    for change in changes:
        own = words[change.first : change.last]
        if "RETURNING" in own and (target.engine != "mariadb" or "INTO" in own[own.index("RETURNING") :]):
            return "RETURNING of a change"
    return ""


def _truth_value(read: ReadStatement, target: Target) -> str:
    for literal in read.all(Literal):
        if literal.form in ("true", "false"):
            return "a truth value as a constant"
    for name in read.all(Name):
        if name.parts in (("TRUE",), ("FALSE",)):
            return "a truth value as a constant"
    tests: list[Node | None] = [test for select in read.all(Select) for test in (select.where, select.having)]
    tests += [*(update.where for update in read.all(Update)), *(delete.where for delete in read.all(Delete))]
    tests += [join.condition for join in read.all(Join)]
    tests += [test for case in read.all(Case) if case.subject is None for test, _ in case.branches]
    tests += [test for branch in read.all(If) for test, _ in branch.branches]
    tests += [bound for loop in read.all(Loop) if loop.form == "while" for bound in loop.bounds]
    return "a value that stands for a condition" if any(map(_is_bare, tests)) else ""


def _shown_condition(read: ReadStatement, target: Target) -> str:
    """A condition in the place of a value; a variable that a query of SQL Server fills looks like one."""
    for item in read.all(SelectItem):
        if _is_test(item.value) and not read.tokens.words[item.first].startswith("@"):
            return "a condition in the place of a value"
    values = [cast.value for cast in read.all(Cast)]
    if target.engine == "sqlserver":
        values += [each for call in read.all(Call) for each in call.arguments[int(call.parts == ("IIF",)) :]]
    return "a condition in the place of a value" if any(map(_is_test, values)) else ""


def _compared_condition(read: ReadStatement, target: Target) -> str:
    """A condition that is compared as if it were a value: a = b <> 0, or REGEXP_LIKE(a, b) = 1."""
    for operation in read.all(Operation):
        is_comparison = not _COMPARED.isdisjoint(operation.operators)
        if is_comparison and (len(operation.operators) > 1 or any(map(_is_test, operation.operands))):
            return "a condition in the place of a value"
    return ""


def _is_test(node: Node) -> bool:
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Operation):
        return not _CONDITIONS.isdisjoint(node.operators)
    return isinstance(node, Comparison) or (isinstance(node, Call) and node.parts == ("REGEXP_LIKE",))


def _is_bare(test: Node | None) -> bool:
    while isinstance(test, Paren):
        test = test.inner
    if isinstance(test, Operation) and set(test.operators) <= {"AND", "OR", "NOT"}:
        return any(map(_is_bare, test.operands))
    return isinstance(test, Name | Case)


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


def _several_trimmed(read: ReadStatement, target: Target) -> str:
    """Oracle takes one character (ORA-30001); for SQL Server they are a set, which they are not in MySQL."""
    for call in read.all(Call):
        words = read.tokens.words[call.opening + 1 : call.closing] if call.parts == ("TRIM",) else []
        sign = next((word for word in words[:2] if word.startswith("'")), "") if "FROM" in words else ""
        if len(sign) > _ONE_QUOTED and sign != "''''":
            return "TRIM of several characters"
    return ""


def _tested_truth(read: ReadStatement, target: Target) -> str:
    tests = [test.operator for test in read.all(Comparison) if test.operator.startswith("IS ")]
    is_found = any(test.split()[-1] in ("TRUE", "FALSE", "UNKNOWN") for test in tests)
    return "IS TRUE" if is_found and target.version < _TRUTH_SINCE[target.engine] else ""


def _collation(read: ReadStatement, target: Target) -> str:
    words, known = read.tokens.words, _COLLATIONS[target.engine]
    names = (words[at + 1].strip('"[]`') for at in range(read.first, read.last - 1) if words[at] == "COLLATE")
    return next((f"the collation {name.lower()}" for name in names if not known.search(name)), "")


def _shifted_bits(read: ReadStatement, target: Target) -> str:
    is_found = any(not {"<<", ">>"}.isdisjoint(each.operators) for each in read.all(Operation))
    return "<< or >>" if is_found and target.version < _SHIFTS_SINCE.get(target.engine, 9999) else ""


def _current_date(read: ReadStatement, target: Target) -> str:
    is_named = any(name.parts == ("CURRENT_DATE",) for name in read.all(Name)) or any(
        call.parts == ("CURRENT_DATE",) for call in read.all(Call)
    )
    return "CURRENT_DATE" if is_named and target.version < _CURRENT_DATE_SINCE else ""


def _window_frame(read: ReadStatement, target: Target) -> str:
    """MySQL 8.4 takes RESPECT NULLS alone; SQL Server has no RANGE with a distance, and elsewhere it asks for one key."""
    for call in read.all(Call):
        words = read.tokens.words[call.opening : call.last] if call.over is not None or call.modified else []
        if target.version < _FRAMES_SINCE[target.engine] and not {"GROUPS", "EXCLUDE"}.isdisjoint(words):
            return "GROUPS or EXCLUDE in a window"
        if target.version < _NULLS_PASSED_SINCE.get(target.engine, 0) and "IGNORE" in words:
            return "IGNORE NULLS"
        if _has_distance(words):
            keys = len(call.over.order) if isinstance(call.over, Window) else 1
            if target.engine == "sqlserver" or keys > 1 or (target.engine == "mariadb" and "INTERVAL" in words):
                return "RANGE with a distance"
    return ""


def _has_distance(words: list[str]) -> bool:
    at = words.index("RANGE") if "RANGE" in words else len(words)
    ends = (words[place - 1] for place in range(at, len(words)) if words[place] in ("PRECEDING", "FOLLOWING"))
    return any(word != "UNBOUNDED" for word in ends)


def _zone_shift(read: ReadStatement, target: Target) -> str:
    """AT TIME ZONE, which means another thing in each engine, and names zones otherwise in SQL Server."""
    words = read.tokens.words
    is_found = any(words[at : at + 3] == ["AT", "TIME", "ZONE"] for at in range(read.first, read.last - 2))
    return "AT TIME ZONE" if is_found else ""


def _lone_interval(read: ReadStatement, target: Target) -> str:
    """MySQL and MariaDB have no values of spans: INTERVAL stands behind a sign, in a call or in a frame."""
    words = read.tokens.words
    befores = {words[at - 1] for at in range(read.first + 1, read.last - 1)
               if words[at] == "INTERVAL" and words[at + 1] != "("}  # fmt: skip
    return "INTERVAL as a value" if befores - {"+", "-", ",", "BETWEEN", "AND", "RANGE", "EVERY"} else ""


def _outside_of_sql(read: ReadStatement, target: Target) -> str:
    """A function that PL/SQL knows in SQL statements alone."""
    kinds: tuple[type[Node], ...] = (Select, Insert, Update, Delete, Merge)
    if not isinstance(read.tree, CreateRoutine | CreateTrigger | CreatePackage | AnonymousBlock):
        return ""
    for call in read.all(Call):
        if (
            len(call.parts) == 1
            and call.parts[0] in _IN_SQL_ALONE
            and not any(read.innermost(kind, call) for kind in kinds)
        ):
            return f"{call.parts[0]} outside of SQL statements"
    return ""


_OF_ALL: Final = (refused_call, _window_frame, recursion)
_OF_BOTH: Final = (unknown_word, _several_trimmed, _tested_truth, _collation, _shifted_bits, _zone_shift)
_OF_ORACLE: Final[tuple[Callable[[ReadStatement, Target], str], ...]] = (
    *_OF_ALL, *_OF_BOTH, _outside_of_sql, _large_cast, _epoch, _long_round, _long_concat, _tilde, *query_forms.OF_ORACLE,
)  # fmt: skip
_OF_SQLSERVER: Final[tuple[Callable[[ReadStatement, Target], str], ...]] = (
    *_OF_ALL, *_OF_BOTH, _returning, _substring, _trim, _current_date, *query_forms.OF_SQLSERVER,
)  # fmt: skip
_RULES: Final[dict[str, tuple[Callable[[ReadStatement, Target], str], ...]]] = {
    "oracle": _OF_ORACLE, "sqlserver": _OF_SQLSERVER, "mysql": (*_OF_ALL, _returning, _lone_interval, *query_forms.OF_MYSQL),
    "mariadb": (*_OF_ALL, _returning, _lone_interval, *query_forms.OF_MARIADB), "postgresql": (refused_call, recursion),
}  # fmt: skip
