"""Decimals that Teradata rounds to the even digit where they lie in the middle between two, and other engines away from zero.

Sources: Teradata Database, "SQL Data Types and Literals", "Rounding" (RoundHalfwayMagUp is FALSE unless it is set); Oracle
Database 19c, ROUND_TIES_TO_EVEN; PostgreSQL 18, MySQL 8.4 and Transact-SQL reference, "Mathematical Functions".
"""

from collections.abc import Iterator
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import DataType
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import Cast, Node

from .assigned import cut_text, fits, kept_in_parameters, kept_in_variables
from .handed_values import returned_values
from .rounding import may_be_float
from .row_values import kept_in_columns

_RANK: Final = 6
_EXACT: Final = {"postgresql": "numeric", "sqlserver": "decimal(28, 10)"}
"""Types of targets whose % takes no floats."""
_LONGEST: Final = 400
"""Characters of a number that may be written twice."""


def add_even_digits(rewriter: Rewriter) -> None:
    """Round numbers that become decimals of fewer digits as the source does."""
    for kind, value in _kept(rewriter):
        has_scale = len(kind.arguments) > 1 and kind.arguments[1].isdigit()
        if has_scale and rewriter.types.family(value) is Family.NUMBER and not fits(value, kind, rewriter):
            rewriter.wrap(value, partial(even_text, value, kind.arguments[1]), rank=_RANK)


def _kept(rewriter: Rewriter) -> Iterator[tuple[DataType, Node]]:
    yield from returned_values(rewriter)
    yield from kept_in_variables(rewriter)
    yield from kept_in_parameters(rewriter)
    yield from kept_in_columns(rewriter)
    for cast in rewriter.subject.all(Cast):
        yield data_type(cast.type), cast.value


def even_text(value: Node, digits: str, rewriter: Rewriter) -> str:
    """Write a number with so many digits behind the point, the last one even where it lies in the middle between two."""
    text, engine = rewriter.node(value), rewriter.target.engine
    if engine == "oracle":
        return f"ROUND_TIES_TO_EVEN({text}, {digits})"
    if len(text) > _LONGEST:
        raise CannotDraft("a long number that is rounded to an even digit")
    if engine in _EXACT and may_be_float(value, rewriter):
        text = f"CAST({text} AS {_EXACT[engine]})"
    scaled = f"({text}) * {10 ** int(digits)}" if int(digits) else f"({text})"
    rest = f"MOD({scaled}, 2)" if engine in ("mysql", "mariadb") else f"({scaled}) % 2"
    return f"CASE WHEN ABS({rest}) = 0.5 THEN {cut_text(text, digits, engine)} ELSE ROUND({text}, {digits}) END"
