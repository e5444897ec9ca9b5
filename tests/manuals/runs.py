"""What a manual states, laid out as source code: the arguments once as columns, once as parameters, once as literals."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal, InvalidOperation
from typing import Any, Final

from tests.manuals.model import Manual, Stated, Value

LITERALS: Final = 24
"""How many rows of arguments at most are tried as literals; the rest differ little."""


@dataclass(frozen=True, slots=True)
class Dialect:
    """How an engine's code is written down."""

    engine: str
    columns: dict[str, str]
    """The type of a column, by kind of value."""
    parameters: dict[str, str]
    moment: str
    """The literal of a moment, with `{}` for its text."""
    day: str
    dual: str
    """What a query without a table ends in."""
    routine: str
    """With `{name} {parameters} {result} {expression}`."""
    parameter: str
    """With `{name} {type}`."""
    mark: str = ""
    """What a parameter's name begins with."""
    end: str = ";\n"
    """What a statement ends in."""


@dataclass(frozen=True, slots=True)
class Case:
    """One object of the source, and what it gives for each row of arguments."""

    object: str
    """Its id in the catalogue."""
    stated: Stated
    rows: list[tuple[tuple[Value, ...], Value]]
    slot: str
    """`column`, `parameter` or `literal`."""
    number: int
    """That of the expression, which its rows in the table bear."""


def literal(value: Value, dialect: Dialect) -> str:
    """Write a value as the source's own literal."""
    if value is None:
        return "NULL"
    if isinstance(value, datetime):
        return dialect.moment.format(value.isoformat(sep=" "))
    if isinstance(value, date):
        return dialect.day.format(value.isoformat())
    return (
        "'" + value.replace("'", "''") + "'"
        if isinstance(value, str)
        else format(value, "f" if isinstance(value, Decimal) else "d")
    )


def columns(kinds: tuple[str, ...]) -> list[str]:
    """Return the column that holds each argument: the first of its kind, the second ..."""
    return [f"{kind}_{kinds[: at + 1].count(kind)}" for at, kind in enumerate(kinds)]


def table(dialect: Dialect) -> str:
    body = ", ".join(f"{kind}_{n} {type}" for kind, type in dialect.columns.items() for n in (1, 2, 3))
    return f"CREATE TABLE t (f {dialect.columns['whole']}, k {dialect.columns['whole']}, {body}){dialect.end}"


def laid_out(manual: Manual, dialect: Dialect) -> tuple[str, list[Case]]:
    """Return the source's script and the cases in it."""
    script, cases = [table(dialect)], []
    for number, stated in enumerate(manual.stated):
        rows = list(stated.rows())
        names = columns(stated.kinds)
        text = stated.expression.format(*names)
        script.append(f"CREATE VIEW c_{number} AS SELECT k, {text} AS r FROM t WHERE f = {number}{dialect.end}")
        cases.append(Case(f"view.c_{number}", stated, rows, "column", number))
        parameters = [
            dialect.parameter.format(name=f"{dialect.mark}p_{name}", type=dialect.parameters[kind])
            for name, kind in zip(names, stated.kinds, strict=True)
        ]
        script.append(
            dialect.routine.format(
                name=f"p_{number}",
                parameters=", ".join(parameters),
                result=dialect.parameters[stated.result],
                expression=stated.expression.format(*(f"{dialect.mark}p_{name}" for name in names)),
            )
        )
        cases.append(Case(f"function.p_{number}", stated, rows, "parameter", number))
        if not stated.has_literals:
            continue
        step = -(-len(rows) // LITERALS)
        for k, row in list(enumerate(rows))[::step]:
            text = stated.expression.format(*(literal(value, dialect) for value in row[0]))
            script.append(f"CREATE VIEW l_{number}_{k} AS SELECT {text} AS r{dialect.dual}{dialect.end}")
            cases.append(Case(f"view.l_{number}_{k}", stated, [row], "literal", number))
    return "".join(script), cases


def inserts(manual: Manual, quoted: Callable[[Value], str]) -> Iterator[str]:
    """Yield the statements that fill the table on the target."""
    for number, stated in enumerate(manual.stated):
        names = ", ".join(columns(stated.kinds))
        values = (f"({number}, {k}, {', '.join(map(quoted, row))})" for k, (row, _) in enumerate(stated.rows()))
        yield f"INSERT INTO t (f, k, {names}) VALUES {', '.join(values)}"


def is_given(given: Any, stated: Value) -> bool:
    """Whether a value of the target is the stated one: numbers by their value, moments by theirs, texts by each letter."""
    if given is None or stated is None:
        return given is None and stated is None
    if isinstance(stated, str):
        return str(given) == stated
    if isinstance(stated, (datetime, date)):
        text = str(given).removesuffix(" 00:00:00").removesuffix(".000000").removesuffix(" 00:00:00")
        return text == str(stated).removesuffix(" 00:00:00")
    try:
        return abs(Decimal(str(int(given) if isinstance(given, bool) else given)) - stated) < Decimal("0.000001")
    except InvalidOperation:
        return False
