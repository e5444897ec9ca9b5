"""Fixers for numbers read and written as texts, rests of divisions, and NULL beside values, for targets other than PostgreSQL.

Sources: Transact-SQL reference, "STR", "TRY_CAST"; Oracle Database 19c SQL Language Reference, "MOD", "DECODE"; MySQL 8.4 Reference
Manual, "Comparison Functions and Operators"; PostgreSQL 18, "Comparison Functions and Operators".
"""

from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.conversions.dividing import whole_quotient
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import pattern_as_regex, text_value
from hullsound.draft.masks.mysql import quoted
from hullsound.draft.masks.pieces import NumberForm
from hullsound.draft.masks.writing import moment_operand, write_number
from hullsound.knowledge.types import logical_type
from hullsound.sight.detector import Found
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Cast, Comparison, Literal, Node, Operation

from . import call_of, fixer
from .for_mysql import pattern_test

_MYSQL: Final = ("mysql", "mariadb")
_PLAIN_LENGTH: Final = "10"
"""Characters that STR fills up to."""
_MOST_DECIMALS: Final = 4
_DISTINCT_SINCE: Final = 2022
"""Version of SQL Server that knows IS DISTINCT FROM."""
_WHOLE: Final = "^ *[-+]?[0-9]+ *$"
_DECIMAL: Final = "^ *[-+]?([0-9]+[.]?[0-9]*|[.][0-9]+) *$"
_ENCODED: Final = {
    ("ENCODE", "hex"): {"mysql": "LOWER(HEX({0}))", "sqlserver": "LOWER(CONVERT(varchar(max), {0}, 2))",
                        "oracle": "LOWER(RAWTOHEX({0}))"},
    ("DECODE", "hex"): {"mysql": "UNHEX({0})", "sqlserver": "CONVERT(varbinary(max), {0}, 2)", "oracle": "HEXTORAW({0})"},
    ("ENCODE", "base64"): {"mysql": "TO_BASE64({0})"},
    ("DECODE", "base64"): {"mysql": "FROM_BASE64({0})"},
}  # fmt: skip
"""Both PostgreSQL and MySQL break lines of base64 after 76 signs."""


@fixer("number_padded")
def fix_number_padded(place: Found, rewriter: Rewriter) -> str:
    """STR(number, length, decimals): blanks in front, and stars where the number does not fit."""
    value, *sizes = call_of(place).arguments
    length, decimals = (*(rewriter.subject.source(each) for each in sizes), *(_PLAIN_LENGTH, "0")[len(sizes) :])
    if not length.isdigit() or not decimals.isdigit() or int(decimals) > _MOST_DECIMALS:
        raise CannotDraft("a number as text whose length is no constant")
    measure = "CHAR_LENGTH" if rewriter.target.engine in _MYSQL else "LENGTH"
    branches = []
    for kept in range(int(decimals), -1, -1):  # STR gives up decimals before it gives up
        text = write_number(value, NumberForm(0, 1, kept, kept), rewriter)
        branches.append(f"WHEN {measure}({text}) <= {length} THEN LPAD({text}, {length}, ' ')")
    given = rewriter.elsewhere(value)
    return f"(CASE WHEN {given} IS NULL THEN NULL {' '.join(branches)} ELSE '{'*' * int(length)}' END)"


@fixer("number_or_null")
def fix_number_or_null(place: Found, rewriter: Rewriter) -> str:
    """TRY_CAST and TRY_CONVERT of texts to numbers: NULL for a text that is none."""
    node = place.node
    if (
        not isinstance(node, Cast)
        or rewriter.words[node.first] == "TRY_PARSE"
        or (node.last - 1 > node.value.last and rewriter.words[node.value.last] == ",")
    ):
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
    if any(_may_be_float(each, rewriter) for each in (value, divisor)):
        raise CannotDraft("the rest of a division of numbers that may be floating-point ones there")
    a, b = rewriter.node(value), rewriter.node(divisor)
    a, b = (f"({text})" if isinstance(each, Operation) else text for each, text in ((value, a), (divisor, b)))
    if rewriter.subject.source(divisor).strip("0.").isdigit():
        return f"({a} % {b})"
    if rewriter.catalog.engine == "oracle":
        return f"(CASE WHEN {b} = 0 THEN {a} ELSE {a} % NULLIF({b}, 0) END)"
    return f"({a} % NULLIF({b}, 0))" if rewriter.catalog.engine in _MYSQL else f"({a} % {b})"


def _may_be_float(node: Node, rewriter: Rewriter) -> bool:
    """Whether a number may be a float on SQL Server, which has no rest of a division."""
    if isinstance(node, Literal) or rewriter.types.family(node) is Family.INTEGER:
        return False
    source = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    return logical is None or logical.kind in ("float", "decimal-free")


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
        is_equal = node.negated or "NOT DISTINCT" in node.operator
    elif isinstance(node, Operation) and node.operators == ["<=>"]:
        is_equal = True
    else:
        raise CannotDraft("a comparison of several values")
    a, b = (rewriter.node(each) for each in node.operands)
    if rewriter.target.engine in _MYSQL:
        return f"({a} <=> {b})" if is_equal else f"(NOT ({a} <=> {b}))"
    if rewriter.target.engine == "oracle":
        same = f"CASE WHEN {a} = {b} OR ({a} IS NULL AND {b} IS NULL) THEN 1 ELSE 0 END"
        return f"{same if rewriter.is_code else f'DECODE({a}, {b}, 1, 0)'} = {1 if is_equal else 0}"
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


@fixer("fitting_pattern")
def fix_fitting_pattern(place: Found, rewriter: Rewriter) -> str:
    """`~`, `~*`, `!~` and `!~*` of PostgreSQL, and REGEXP of MySQL for Oracle, where a condition is asked for."""
    node = place.node
    if isinstance(node, Operation) and node.operators == ["~"] and len(node.operands) == 1:
        if rewriter.types.family(node.operands[0]) is not Family.INTEGER:
            raise CannotDraft("the bits of something that is no whole number")
        return f"(-({rewriter.node(node.operands[0])}) - 1)"
    if isinstance(node, Operation) and len(node.operands) == 2 and node.operators[0].strip("!") in ("~", "~*"):
        sign = node.operators[0]
        is_negated, flag = sign.startswith("!"), "i" if sign.endswith("*") else "c"
    elif isinstance(node, Comparison) and node.operator in ("REGEXP", "RLIKE"):
        is_negated, flag = node.negated, "i"
    else:
        raise CannotDraft("a pattern in a form that is not known")
    value, pattern = node.operands
    if rewriter.target.engine == "oracle":
        text = f"REGEXP_LIKE({rewriter.nodes([value, pattern])}, '{flag}')"
    else:
        text = pattern_test(value, pattern, flag, rewriter)
    return f"{'NOT ' if is_negated else ''}{text}"


@fixer("beginning_test")
def fix_beginning_test(place: Found, rewriter: Rewriter) -> str:
    """STARTS_WITH(text, beginning) of PostgreSQL."""
    call = call_of(place)
    text, beginning = (rewriter.node(each) for each in call.arguments)
    return {
        "sqlserver": f"LEFT({text}, LEN({beginning} + 'x') - 1) = {beginning}",
        "oracle": f"SUBSTR({text}, 1, LENGTH({beginning})) = {beginning}",
    }.get(rewriter.target.engine, f"(LEFT({text}, CHAR_LENGTH({beginning})) = {beginning})")


@fixer("encoded_bytes")
def fix_encoded_bytes(place: Found, rewriter: Rewriter) -> str:
    """ENCODE(bytes, form) and DECODE(text, form) of PostgreSQL, for hexadecimal digits and, on MySQL and MariaDB, base64."""
    call = call_of(place)
    form = (text_value(call.arguments[-1], rewriter) or "").lower() if len(call.arguments) > 1 else ""
    templates = _ENCODED.get((call.parts[-1], form), {})
    template = templates.get("mysql" if rewriter.target.engine == "mariadb" else rewriter.target.engine)
    if template is None or (
        call.parts[-1] == "ENCODE" and rewriter.types.family(call.arguments[0]) is not Family.BYTES
    ):
        raise CannotDraft("an encoding that the target has no function for, or of something that is no bytes")
    return template.format(rewriter.node(call.arguments[0]))


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
    is_kept = family is Family.TEXT and rewriter.catalog.engine in ("db2", "sqlite") and engine in ("mysql", "mariadb")
    if family is not Family.BYTES and not is_kept:
        raise CannotDraft("hexadecimal digits of something that is neither bytes nor a whole number")
    return {"sqlserver": f"CONVERT(varchar(max), {text}, 2)", "oracle": f"RAWTOHEX({text})"}.get(engine, f"HEX({text})")


@fixer("fitting_classes")
def fix_fitting_classes(place: Found, rewriter: Rewriter) -> str:
    """LIKE with classes of characters of the T-SQL family, whose usual collations do not tell case apart."""
    return (
        f"REGEXP {quoted(f'{_mode(rewriter)}{_fitting(rewriter.tokens.source(place.last - 1, place.last), rewriter)}')}"
    )


def _fitting(constant: str, rewriter: Rewriter) -> str:
    """Return the regular expression for a constant pattern of the T-SQL family."""
    known = string_content(constant, rewriter.catalog.engine)
    return f"^{pattern_as_regex(known)}$".removeprefix("^.*").removesuffix(".*$")


@fixer("place_of_pattern")
def fix_place_of_pattern(place: Found, rewriter: Rewriter) -> str:
    """PATINDEX(pattern, text), whose usual collations do not tell case apart."""
    pattern, value = call_of(place).arguments
    if not text_value(pattern, rewriter):
        raise CannotDraft("a place of a pattern that is not a constant")
    fitting = _fitting(rewriter.subject.source(pattern), rewriter)
    if rewriter.target.engine == "oracle":
        mode = "in" if rewriter.catalog.engine == "sqlserver" else "n"
        return f"REGEXP_INSTR({rewriter.node(value)}, {rewriter.names.text(fitting)}, 1, 1, 0, '{mode}')"
    return f"REGEXP_INSTR({rewriter.node(value)}, {quoted(f'{_mode(rewriter)}{fitting}')})"


@fixer("logarithm")
def fix_logarithm(place: Found, rewriter: Rewriter) -> str:
    """LOG(n), which is natural, and LOG with a base: second in SQL Server, first elsewhere."""
    values = call_of(place).arguments
    texts = [rewriter.node(each) for each in values]
    if len(texts) == 1:
        return f"LN({texts[0]})" if rewriter.target.engine == "oracle" else f"LOG({texts[0]})"
    is_turned = (rewriter.catalog.engine == "sqlserver") != (rewriter.target.engine == "sqlserver")
    return f"LOG({', '.join(texts[::-1] if is_turned else texts)})"


@fixer("rest_of_nearest")
def fix_rest_of_nearest(place: Found, rewriter: Rewriter) -> str:
    """REMAINDER(a, b) of Oracle: a less the multiple of b that is nearest, of two an even one."""
    value, divisor = call_of(place).arguments
    if not {rewriter.types.family(each) for each in (value, divisor)} <= {Family.INTEGER}:
        raise CannotDraft("the remainder of numbers that may have a fraction")
    a, b = rewriter.node(value), rewriter.node(divisor)
    rest = f"ABS(MOD({a}, {b}))" if rewriter.target.engine in _MYSQL else f"ABS(({a}) % ({b}))"
    exact = f"({a}) * 1.0 / ({b})"
    zero = "" if rewriter.target.engine in _MYSQL else ", 0"
    nearest = f"CASE WHEN {rest} * 2 = ABS({b}) THEN 2 * ROUND({exact} / 2{zero}) ELSE ROUND({exact}{zero}) END"
    return f"({a} - ({b}) * {nearest})"


@fixer("not_true")
def fix_not_true(place: Found, rewriter: Rewriter) -> str:
    """LNNVL(condition): true where a condition is false or unknown."""
    call = call_of(place)
    if call.parts[-1] != "LNNVL":
        raise CannotDraft(f"{call.parts[-1].lower()}, for numbers that are none")
    condition = rewriter.node(call.arguments[0])
    if rewriter.target.engine in _MYSQL:
        return f"(({condition}) IS NOT TRUE)"
    return f"CASE WHEN {condition} THEN 0 ELSE 1 END = 1"


@fixer("bits_counted")
def fix_bits_counted(place: Found, rewriter: Rewriter) -> str:
    """BITAND(a, b) of Oracle and BIT_COUNT(n) of MySQL, for SQL Server, which counts bits since version 2022."""
    call = call_of(place)
    values = [rewriter.node(each) for each in call.arguments]
    if call.parts[-1] == "BITAND":
        return f"({' & '.join(f'({value})' for value in values)})"
    if call.parts[-1] != "BIT_COUNT" or rewriter.target.version < _DISTINCT_SINCE:
        raise CannotDraft(f"{call.parts[-1].lower()}, which the target does not have")
    return f"BIT_COUNT({values[0]})"


@fixer("whole_division")
def fix_whole_division(place: Found, rewriter: Rewriter) -> str:
    """Products and quotients of whole numbers, step by step from the left, each quotient without its fraction."""
    node = place.node
    if not isinstance(node, Operation) or not set(node.operators) <= {"*", "/"}:
        raise CannotDraft("whole numbers that are divided among other signs")
    behind = node.operands[node.operators.index("/") + 2 :]  # what the construct does not look at
    if any(rewriter.types.family(each) is not Family.INTEGER for each in behind):
        raise CannotDraft("quotients of whole numbers and others in a row")
    return whole_quotient(node, rewriter)


@fixer("end_of_later_month")
def fix_end_of_later_month(place: Found, rewriter: Rewriter) -> str:
    """EOMONTH(date, months) of SQL Server, for Oracle."""
    date, *months = call_of(place).arguments
    moved = moment_operand(date, rewriter)
    if months:
        moved = f"ADD_MONTHS({moved}, {rewriter.node(months[0])})"
    return f"TRUNC(LAST_DAY({moved}))"


def _mode(rewriter: Rewriter) -> str:
    """Return the mode of a pattern: without case, as SQL Server usually compares; else the target's collation counts."""
    return "(?is)" if rewriter.catalog.engine == "sqlserver" else "(?s)"
