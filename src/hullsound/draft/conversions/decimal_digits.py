"""Digits that SQL Server and Db2 give to quotients and averages of decimals and of money, and cut off behind.

Sources: Transact-SQL reference, "Precision, scale, and length", "Constants" and "AVG"; Db2 11.5 SQL Reference, "Decimal arithmetic
in SQL"; PostgreSQL 18, "Mathematical Functions" (a numeric quotient has at least 16 significant digits); MySQL 8.4 Reference
Manual, "Arithmetic Operators".
"""

from functools import partial
from typing import Final, NamedTuple

from hullsound.analyze.signatures import choices_of, is_null, signature_of
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Case, Cast, Literal, Name, Node, Operation, Paren

from .assigned import cut_text

_MOST: Final = 38
_LEAST_SCALE: Final = 6
_INTEGRAL: Final = 32
_SIGNIFICANT: Final = 16
_GROUP: Final = 4
"""Digits that PostgreSQL computes at least, and digits that it keeps together."""
_WHOLE: Final = {"BIT": 1, "TINYINT": 3, "SMALLINT": 5, "INT": 10, "INTEGER": 10, "BIGINT": 19}
_MOST_OF_DB2: Final = 31
_AS_DECIMAL: Final = {10: 11}
"""Digits that Db2 gives an INTEGER as a decimal, by those of the whole number."""
_USUAL: Final = {"db2": 5}
"""Digits of a DECIMAL without a precision, where they are not 18."""
_MONEY: Final = {"MONEY": 19, "SMALLMONEY": 10}
_OF_FIRST: Final = frozenset((("MAX",), ("MIN",), ("ABS",), ("ISNULL",), ("NULLIF",), ("ROUND",), ("SIGN",)))
_WHOLE_PART: Final = frozenset((("FLOOR",), ("CEILING",), ("CEIL",)))
_MYSQL: Final = ("mysql", "mariadb")


class Digits(NamedTuple):
    """An exact number of SQL Server or Db2: its kind (int, decimal, money), all digits, and those behind the point."""

    kind: str
    precision: int
    scale: int

    @property
    def integral(self) -> int:
        return self.precision - self.scale


def add_decimal_digits(rewriter: Rewriter) -> None:
    """Cut quotients and averages of exact numbers after the digits that the source gives them."""
    for node in rewriter.subject.all(Operation):
        if gives_known_digits(node, rewriter):
            rewriter.wrap(node, partial(_quotient, node), rank=2)
    for call in rewriter.subject.all(Call):
        digits = digits_of(call, rewriter) if call.parts == ("AVG",) and len(call.arguments) == 1 else None
        if digits is not None and digits.kind != "int":
            is_long = rewriter.target.engine == "postgresql" and digits.scale > _SIGNIFICANT - _GROUP
            if rewriter.target.engine in _MYSQL or is_long:
                rewriter.wrap(call.arguments[0], partial(_widened, call.arguments[0], digits.scale), rank=4)
            rewriter.wrap(call, partial(_average, call, digits.scale), rank=4)


def gives_known_digits(node: Operation, rewriter: Rewriter) -> bool:
    """Whether an operation is a quotient of exact numbers, of which the source tells how many digits it has."""
    return "/" in node.operators and set(node.operators) <= {"*", "/"} and bool(_steps(node, rewriter))


def _average(call: Call, scale: int, rewriter: Rewriter) -> str:
    return cut_text(rewriter.node(call), str(scale), rewriter.target.engine)


def _widened(value: Node, scale: int, rewriter: Rewriter) -> str:
    if rewriter.target.engine == "postgresql":
        return f"CAST({rewriter.node(value)} AS numeric({_MOST + scale}, {scale + _GROUP}))"
    return f"CAST({rewriter.node(value)} AS DECIMAL(65, {scale}))"


def _quotient(node: Operation, rewriter: Rewriter) -> str:
    text, engine = rewriter.node(node.operands[0]), rewriter.target.engine
    steps = zip(node.operators, node.operands[1:], _steps(node, rewriter), strict=True)
    for operator, operand, (left, result) in steps:
        if operator == "/":
            if engine in _MYSQL:
                text = f"CAST({text} AS DECIMAL(65, {result.scale}))"
            elif engine == "postgresql" and _SIGNIFICANT - (result.integral - 1) // _GROUP * _GROUP <= result.scale:
                scale = result.scale + _GROUP
                text = f"CAST({text} AS numeric({left.integral + scale}, {scale}))"
            text = cut_text(f"{text} / {rewriter.node(operand)}", str(result.scale), engine)
        else:
            text = f"{text} * {rewriter.node(operand)}"
    return text


def _steps(node: Operation, rewriter: Rewriter) -> list[tuple[Digits, Digits]]:
    """Return what stands at the left of each operator and what comes out; [] where a number is unknown or a quotient whole."""
    digits = [digits_of(each, rewriter) for each in node.operands]
    left, steps = digits[0], []
    for operator, right in zip(node.operators, digits[1:], strict=False):
        result = _result(operator, left, right, rewriter.catalog.engine)
        if left is None or result is None or (operator == "/" and result.kind == "int"):
            return []
        steps.append((left, result))
        left = result
    return steps if len(steps) == len(node.operands) - 1 else []


def is_money(node: Node, rewriter: Rewriter) -> bool:
    """Whether SQL Server gives a value as money, which it writes as a text with two digits behind the point."""
    digits = digits_of(node, rewriter) if rewriter.catalog.engine in ("sqlserver", "ase") else None
    return digits is not None and digits.kind == "money"


def digits_of(node: Node, rewriter: Rewriter) -> Digits | None:
    match node:
        case Paren():
            return digits_of(node.inner, rewriter)
        case Literal() if node.form == "number":
            digits = _of_constant(rewriter.subject.source(node))
            is_large = digits is not None and digits.kind == "int" and rewriter.catalog.engine == "db2"
            return Digits("int", 10, 0) if is_large else digits
        case Name() | Cast():
            return _of_type(node, rewriter)
        case Call() if len(node.parts) == 1:
            return _of_call(node, rewriter)
        case Case():
            return _of_choice(node, rewriter)
        case Operation() if len(node.operands) == 1 and node.operators == ["-"]:
            return digits_of(node.operands[0], rewriter)
        case Operation() if len(node.operands) == len(node.operators) + 1:
            result = digits_of(node.operands[0], rewriter)
            for operator, operand in zip(node.operators, node.operands[1:], strict=True):
                result = _result(operator, result, digits_of(operand, rewriter), rewriter.catalog.engine)
            return result
    return None


def _of_constant(text: str) -> Digits | None:
    """A constant has the digits that it is written with; a zero before the point is none."""
    whole, point, rest = text.partition(".")
    if not (whole + rest).isdigit():
        return None
    precision = max(len(whole.lstrip("0")) + len(rest), 1)
    return Digits("decimal" if point else "int", precision, len(rest))


def _of_type(node: Node, rewriter: Rewriter) -> Digits | None:
    source = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    if source is None or logical is None:
        return None
    if source.name in _WHOLE:
        return Digits("int", _WHOLE[source.name], 0)
    if source.name in _MONEY:
        return Digits("money", _MONEY[source.name], 4)
    if logical.kind in ("decimal", "decimal-whole"):
        numbers = [int(each) for each in source.arguments if each.isdigit()]
        usual = _USUAL.get(rewriter.catalog.engine, 18)
        return Digits("decimal", numbers[0] if numbers else usual, numbers[1] if len(numbers) > 1 else 0)
    return None


def _of_call(node: Call, rewriter: Rewriter) -> Digits | None:
    inner = digits_of(node.arguments[0], rewriter) if node.arguments else None
    is_db2 = rewriter.catalog.engine == "db2"
    if is_db2 and node.parts in (("SUM",), ("AVG",)) and inner is not None and inner.kind == "decimal":
        return Digits("decimal", _MOST_OF_DB2, inner.scale if node.parts == ("SUM",) else _MOST_OF_DB2 - inner.integral)
    if node.parts == ("SUM",) and inner is not None:
        return inner._replace(precision=_MOST if inner.kind == "decimal" else max(inner.precision, 10))
    if node.parts == ("AVG",) and inner is not None:
        return Digits("decimal", _MOST, max(inner.scale, _LEAST_SCALE)) if inner.kind == "decimal" else inner
    if node.parts in _OF_FIRST:
        return inner
    if node.parts in _WHOLE_PART and inner is not None:
        return inner if inner.kind != "decimal" else Digits("decimal", max(inner.integral, 1), 0)
    signature = signature_of(node, rewriter.catalog.engine)
    if signature is not None and signature.choices:
        return _of_choice(node, rewriter)
    return Digits("int", 10, 0) if signature is not None and signature.gives == "integer" else None


def _of_choice(node: Call | Case, rewriter: Rewriter) -> Digits | None:
    """Return the type that holds every value of a choice: as many digits on each side of the point as the one that has most."""
    values = [each for each in choices_of(node, rewriter.catalog.engine) if not is_null(each)]
    known = [each for each in (digits_of(value, rewriter) for value in values) if each is not None]
    if not known or len(known) < len(values):
        return None
    kinds = {each.kind for each in known}
    if "decimal" not in kinds:
        return Digits("money", 19, 4) if "money" in kinds else Digits("int", max(each.precision for each in known), 0)
    known = [each._replace(precision=max(each.precision, 10)) if each.kind == "int" else each for each in known]
    integral, scale = max(each.integral for each in known), max(each.scale for each in known)
    return Digits("decimal", min(integral + scale, _MOST), max(min(scale, _MOST - integral), 0))


def _of_db2(operator: str, left: Digits, right: Digits) -> Digits:
    """Return what an operator makes of two exact numbers of Db2: SQL Reference, "Decimal arithmetic in SQL"."""
    if left.kind == right.kind == "int":
        return Digits("int", max(left.precision, right.precision), 0)
    left, right = (each._replace(precision=_AS_DECIMAL.get(each.precision, each.precision)) if each.kind == "int" else each
                   for each in (left, right))  # fmt: skip
    if operator == "/":
        return Digits("decimal", _MOST_OF_DB2, max(_MOST_OF_DB2 - left.integral - right.scale, 0))
    if operator == "*":
        scale, precision = left.scale + right.scale, left.precision + right.precision
    else:
        scale = max(left.scale, right.scale)
        precision = scale + max(left.integral, right.integral) + 1
    return Digits("decimal", min(precision, _MOST_OF_DB2), min(scale, _MOST_OF_DB2))


def _result(operator: str, left: Digits | None, right: Digits | None, engine: str) -> Digits | None:
    """Return what an operator makes of two exact numbers."""
    if left is None or right is None or operator not in ("+", "-", "*", "/"):
        return None
    if engine == "db2":
        return _of_db2(operator, left, right)
    kinds = {left.kind, right.kind}
    if "decimal" not in kinds:
        return Digits("money", 19, 4) if "money" in kinds else Digits("int", max(left.precision, right.precision), 0)
    if operator == "/":
        scale = max(_LEAST_SCALE, left.scale + right.precision + 1)
        precision = left.integral + right.scale + scale
    elif operator == "*":
        scale, precision = left.scale + right.scale, left.precision + right.precision + 1
    else:
        scale = max(left.scale, right.scale)
        precision = scale + max(left.integral, right.integral) + 1
    if precision <= _MOST:
        return Digits("decimal", precision, scale)
    integral = precision - scale
    return Digits("decimal", _MOST, min(scale, _MOST - integral if integral < _INTEGRAL else _LEAST_SCALE))
