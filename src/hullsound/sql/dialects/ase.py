"""Transact-SQL of ASE, 15.7 to 16 (Adaptive Server reference manuals), as its isql client takes it."""

from dataclasses import replace
from typing import Final

from . import sqlserver

DIALECT: Final = replace(
    sqlserver.DIALECT,
    engine="ase",
    title="ASE",
    reserved=(sqlserver.TSQL_RESERVED | frozenset(("PREPARE", "READPAST", "REPLACE", "STRIPE", "AT"))) - {"FULL", "PIVOT", "UNPIVOT"},
    aliases_stop=sqlserver.TSQL_ALIASES_STOP | frozenset(("PLAN", "READ", "NOHOLDLOCK", "SHARED", "COMPUTE", "PREFETCH")),
    directives=dict.fromkeys((":R", "!!"), ()),
)  # fmt: skip
