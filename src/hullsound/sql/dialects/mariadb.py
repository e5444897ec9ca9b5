"""SQL of MariaDB, 10.6 to 11, in its own mode and in its Oracle mode (MariaDB Knowledge Base)."""

from dataclasses import replace
from typing import Final

from hullsound.sql.dialect import Dialect, Grammar
from hullsound.sql.levels import MULTIPLY

from . import mysql

DIALECT: Final = replace(
    mysql.DIALECT,
    engine="mariadb",
    title="MariaDB",
    reserved=mysql.DIALECT.reserved | frozenset(("RETURNING", "EXCEPT", "INTERSECT")),
)


def in_modes(modes: frozenset[str]) -> Dialect:
    """Return the dialect under the sql_mode settings that change how text is read."""
    dialect = mysql.in_modes(modes, DIALECT)
    if "ORACLE" not in modes:
        return dialect
    return replace(
        dialect,
        grammar=Grammar.MARIADB_ORACLE,
        token_patterns=(
            r":[^\W\d]\w*|:\d+", r"\(\s*\+\s*\)", r"=>|\.\.|\*\*", *dialect.token_patterns,
        ),
        bind_openers=":",
        operators={**dialect.operators, "MOD": MULTIPLY},
        reserved=(dialect.reserved | frozenset(("BEGIN", "END", "ELSIF", "MINUS"))) - {"SQL"},
        aliases_stop=dialect.aliases_stop | frozenset(("LOOP", "MINUS", "ELSIF", "BULK", "RETURN")),
    )  # fmt: skip
