"""Transact-SQL of ASE, 15.7 to 16 (Adaptive Server reference manuals), as its isql client takes it."""

from dataclasses import replace
from typing import Final

from hullsound.sql.dialect import Dialect, quoted

from . import sqlserver
from .common import CHARACTER_TYPES

_TYPES: Final = {**CHARACTER_TYPES, "UNSIGNED": (("INT",), ("INTEGER",), ("SMALLINT",), ("BIGINT",), ("TINYINT",))}

DIALECT: Final = replace(
    sqlserver.DIALECT,
    literals=(quoted("'", prefix="(?:N|U&)?"), quoted('"'), sqlserver.BRACKETS),
    multiword_types=_TYPES,
    engine="ase",
    columns_take_no_null=True,
    title="ASE",
    reserved=(sqlserver.TSQL_RESERVED | frozenset(("PREPARE", "READPAST", "REPLACE", "STRIPE", "AT")))
    - {"FULL", "PIVOT", "UNPIVOT"},
    aliases_stop=sqlserver.TSQL_ALIASES_STOP | frozenset(("PLAN", "READ", "NOHOLDLOCK", "SHARED", "COMPUTE", "PREFETCH")),
    directives=dict.fromkeys((":R", "!!"), ()),
)  # fmt: skip


def in_modes(modes: frozenset[str]) -> Dialect:
    """Return the dialect as SET QUOTED_IDENTIFIER ON and ANSINULL ON make it; ASE starts with both off."""
    modes &= {"QUOTED_IDENTIFIER", "ANSI_NULLS"}
    if "QUOTED_IDENTIFIER" not in modes:
        return replace(DIALECT, modes=modes)
    return replace(DIALECT, modes=modes, literals=sqlserver.DIALECT.literals)
