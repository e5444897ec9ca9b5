"""POWER, which some engines give in the type of what is raised: whole, or with so many digits behind the point.

Sources: Transact-SQL reference, "POWER" (the type of the first argument); Db2 11.5 SQL Reference, "POWER" (whole of whole);
PostgreSQL 18, "Mathematical Functions" (power of numeric or of double precision).
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import POWERS_OF_FIRST_TYPE, Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Node

from .decimal_digits import digits_of
from .rounding import may_be_float

_AS_WHOLE: Final = {
    "postgresql": "CAST({0} AS bigint)", "oracle": "TRUNC({0})",
    "mysql": "CAST(TRUNCATE({0}, 0) AS SIGNED)", "mariadb": "CAST(TRUNCATE({0}, 0) AS SIGNED)",
}  # fmt: skip


def add_powers(rewriter: Rewriter) -> None:
    """Keep the type of powers where the target gives another one."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    if source == "oracle" and target == "postgresql":
        _add_exact_powers(rewriter)
    if source not in (*POWERS_OF_FIRST_TYPE, "db2") or target not in _AS_WHOLE:
        return
    for call in rewriter.subject.all(Call):
        if call.parts != ("POWER",) or len(call.arguments) != 2:
            continue
        digits = digits_of(call.arguments[0], rewriter) if source in POWERS_OF_FIRST_TYPE else None
        if rewriter.types.family(call) is Family.INTEGER:
            rewriter.wrap(call, partial(_whole, call), rank=2)
        elif digits is not None and digits.scale > 0:
            rewriter.wrap(call, partial(_rounded, call, digits.scale), rank=2)


def _add_exact_powers(rewriter: Rewriter) -> None:
    """Raise whole numbers as decimals, as Oracle does: the power of two integers is a float in PostgreSQL."""
    for call in rewriter.subject.all(Call):
        if call.parts == ("POWER",) and len(call.arguments) == 2:
            value = call.arguments[0]
            if rewriter.types.family(value) is Family.INTEGER:
                rewriter.wrap(value, partial(_decimal, value), rank=7)


def _decimal(value: Node, rewriter: Rewriter) -> str:
    return f"CAST({rewriter.node(value)} AS numeric)"


def _whole(call: Call, rewriter: Rewriter) -> str:
    return _AS_WHOLE[rewriter.target.engine].format(rewriter.node(call))


def _rounded(call: Call, scale: int, rewriter: Rewriter) -> str:
    text = rewriter.node(call)
    if rewriter.target.engine == "postgresql" and may_be_float(call, rewriter):
        text = f"CAST({text} AS numeric)"
    return f"ROUND({text}, {scale})"
