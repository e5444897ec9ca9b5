"""Fixers for numbers read and written as texts, rests of divisions, and NULL beside values, for targets other than PostgreSQL.

Sources: Transact-SQL reference, "STR", "TRY_CAST"; Oracle Database 19c SQL Language Reference, "MOD", "DECODE"; MySQL 8.4 Reference
Manual, "Comparison Functions and Operators"; PostgreSQL 18, "Comparison Functions and Operators".
"""

from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.conversions.truth import conditions_of, connectives
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.masks.pieces import NumberForm
from hullsound.draft.masks.writing import write_number
from hullsound.sight.detector import Found
from hullsound.sql.tree import Cast, Comparison, Node, Operation, Paren

from . import call_of, fixer
from .for_mysql import pattern_test

_MYSQL: Final = ("mysql", "mariadb")
_PLAIN_LENGTH: Final = "10"
"""Characters that STR fills up to."""
_MOST_DECIMALS: Final = 16
_DISTINCT_SINCE: Final = 2022
"""Version of SQL Server that knows IS DISTINCT FROM."""
_WHOLE: Final = "^ *[-+]?[0-9]+ *$"
_DECIMAL: Final = "^ *[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+) *$"


@fixer("number_padded")
def fix_number_padded(place: Found, rewriter: Rewriter) -> str:
    """STR(number, length, decimals): blanks in front, and stars where the number does not fit."""
    value, *sizes = call_of(place).arguments
    length, decimals = (*(rewriter.subject.source(each) for each in sizes), *(_PLAIN_LENGTH, "0")[len(sizes) :])
    if not length.isdigit() or not decimals.isdigit() or int(decimals) > _MOST_DECIMALS:
        raise CannotDraft("a number as text whose length is no constant")
    text = write_number(value, NumberForm(0, 1, int(decimals), int(decimals)), rewriter)
    count = f"{'CHAR_LENGTH' if rewriter.target.engine in _MYSQL else 'LENGTH'}({text})"
    filled = f"LPAD({text}, {length}, ' ')"
    return f"(CASE WHEN {count} > {length} THEN '{'*' * int(length)}' ELSE {filled} END)"


@fixer("number_or_null")
def fix_number_or_null(place: Found, rewriter: Rewriter) -> str:
    """TRY_CAST and TRY_CONVERT of texts to numbers: NULL for a text that is none."""
    node = place.node
    if not isinstance(node, Cast) or (node.last - 1 > node.value.last and rewriter.words[node.value.last] == ","):
        raise CannotDraft("a conversion that gives NULL where it fails, with a style or in a form that is not known")
    family = rewriter.types.family(node)
    if family not in NUMBERS or rewriter.types.family(node.value) is not Family.TEXT:
        raise CannotDraft("a conversion that gives NULL where it fails, to something else than a number of a text")
    text, kind = rewriter.node(node.value), rewriter.node(node.type)
    if "DOUBLE" in kind.upper() or "FLOAT" in kind.upper():
        raise CannotDraft("a conversion to a floating-point number that gives NULL where it fails")
    pattern = _WHOLE if family is Family.INTEGER else _DECIMAL
    if rewriter.target.engine == "oracle":
        return f"(CASE WHEN REGEXP_LIKE({text}, '{pattern}') THEN CAST(TRIM({text}) AS {kind}) END)"
    empty = f"WHEN TRIM({text}) = '' THEN 0 " if family is Family.INTEGER else ""
    return f"(CASE {empty}WHEN {text} REGEXP '{pattern}' THEN CAST({text} AS {kind}) END)"


@fixer("rest_of_division")
def fix_rest_of_division(place: Found, rewriter: Rewriter) -> str:
    """MOD(a, b), for SQL Server; of a division by zero Oracle gives the first number, MySQL NULL."""
    value, divisor = call_of(place).arguments
    a, b = rewriter.node(value), rewriter.node(divisor)
    a, b = (f"({text})" if isinstance(each, Operation) else text for each, text in ((value, a), (divisor, b)))
    if rewriter.subject.source(divisor).strip("0.").isdigit():
        return f"({a} % {b})"
    if rewriter.catalog.engine == "oracle":
        return f"(CASE WHEN {b} = 0 THEN {a} ELSE {a} % NULLIF({b}, 0) END)"
    return f"({a} % NULLIF({b}, 0))" if rewriter.catalog.engine in _MYSQL else f"({a} % {b})"


@fixer("nulls_counted")
def fix_nulls_counted(place: Found, rewriter: Rewriter) -> str:
    """NUM_NULLS(a, b ...) of PostgreSQL."""
    values = [rewriter.node(each) for each in call_of(place).arguments]
    if rewriter.target.engine in _MYSQL:
        return f"({' + '.join(f'({value} IS NULL)' for value in values)})"
    return f"({' + '.join(f'CASE WHEN {value} IS NULL THEN 1 ELSE 0 END' for value in values)})"


@fixer("null_safe")
def fix_null_safe(place: Found, rewriter: Rewriter) -> str:
    """`<=>` of MySQL and IS [NOT] DISTINCT FROM, which take NULL for equal to NULL."""
    node = place.node
    if isinstance(node, Comparison) and len(node.operands) == 2:
        is_equal = "NOT DISTINCT" in node.operator
    elif isinstance(node, Operation) and node.operators == ["<=>"]:
        is_equal = True
    else:
        raise CannotDraft("a comparison of several values")
    a, b = (rewriter.node(each) for each in node.operands)
    if rewriter.target.engine in _MYSQL:
        return f"({a} <=> {b})" if is_equal else f"(NOT ({a} <=> {b}))"
    if rewriter.target.engine == "oracle":
        return f"DECODE({a}, {b}, 1, 0) = {1 if is_equal else 0}"
    if rewriter.target.version >= _DISTINCT_SINCE:
        return f"{a} IS {'NOT ' if is_equal else ''}DISTINCT FROM {b}"
    return f"{'' if is_equal else 'NOT '}EXISTS (SELECT {a} INTERSECT SELECT {b})"


@fixer("without_case")
def fix_without_case(place: Found, rewriter: Rewriter) -> str:
    """ILIKE of PostgreSQL."""
    node = place.node
    if not isinstance(node, Comparison) or len(node.operands) > 2:
        raise CannotDraft("ILIKE with a sign of its own that escapes")
    value, pattern = (f"LOWER({rewriter.node(each)})" for each in node.operands)
    return f"{value} {'NOT ' if node.negated else ''}LIKE {pattern}"


def is_condition(node: Node, rewriter: Rewriter) -> bool:
    """Whether a condition is asked for where a node stands."""
    while isinstance(parent := rewriter.subject.read.parent(node), Paren):
        node = parent
    if isinstance(parent, Operation) and set(parent.operators) <= connectives(rewriter):
        return is_condition(parent, rewriter)
    return any(each is node for each in conditions_of(rewriter))


@fixer("fitting_pattern")
def fix_fitting_pattern(place: Found, rewriter: Rewriter) -> str:
    """`~`, `~*`, `!~` and `!~*` of PostgreSQL, and REGEXP of MySQL for Oracle, where a condition is asked for."""
    node = place.node
    if isinstance(node, Operation) and len(node.operators) == 1 and node.operators[0].strip("!") in ("~", "~*"):
        sign = node.operators[0]
        is_negated, flag = sign.startswith("!"), "i" if sign.endswith("*") else "c"
    elif isinstance(node, Comparison) and node.operator in ("REGEXP", "RLIKE"):
        is_negated, flag = node.negated, "i"
    else:
        raise CannotDraft("a pattern in a form that is not known")
    value, pattern = node.operands
    if rewriter.target.engine == "oracle":
        if not is_condition(node, rewriter):
            raise CannotDraft("whether a pattern fits, as a value")
        text = f"REGEXP_LIKE({rewriter.nodes([value, pattern])}, '{flag}')"
    else:
        text = pattern_test(value, pattern, flag, rewriter)
    return f"{'NOT ' if is_negated else ''}{text}"


@fixer("hex_of_bytes")
def fix_hex_of_bytes(place: Found, rewriter: Rewriter) -> str:
    """RAWTOHEX and HEXTORAW of Oracle, HEX and UNHEX of MySQL for whole numbers and bytes."""
    call = call_of(place)
    (value,) = call.arguments
    text, family, engine = rewriter.node(value), rewriter.types.family(value), rewriter.target.engine
    if call.parts[-1] in ("HEXTORAW", "UNHEX"):
        if family is not Family.TEXT:
            raise CannotDraft("bytes of something that is no text of digits")
        return {"sqlserver": f"CONVERT(varbinary(max), {text}, 2)", "oracle": f"HEXTORAW({text})"}.get(
            engine, f"UNHEX({text})"
        )
    if family is Family.INTEGER and call.parts[-1] == "HEX":
        return {"sqlserver": f"FORMAT({text}, 'X')", "oracle": f"TO_CHAR({text}, 'FMXXXXXXXXXXXXXXXX')"}.get(
            engine, f"HEX({text})"
        )
    if family is not Family.BYTES:
        raise CannotDraft("hexadecimal digits of something that is neither bytes nor a whole number")
    return {"sqlserver": f"CONVERT(varchar(max), {text}, 2)", "oracle": f"RAWTOHEX({text})"}.get(engine, f"HEX({text})")
