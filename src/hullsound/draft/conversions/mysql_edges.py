"""What functions and operators give at the edges, where those of MySQL and MariaDB give something else: the ways by source.

Source: MySQL 8.4 Reference Manual, "String Comparison Functions and Operators".
"""

from collections.abc import Callable
from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Comparison

from .mysql_from_oracle import add_for_oracle
from .mysql_from_postgresql import add_for_postgresql
from .mysql_from_sqlite import add_for_sqlite
from .mysql_from_standard import add_for_standard
from .mysql_from_tsql import add_for_tsql

_BY_SOURCE: Final[dict[str, tuple[Callable[[Rewriter], None], ...]]] = {
    "oracle": (add_for_oracle,), "sqlserver": (add_for_tsql,), "ase": (add_for_tsql,), "sqlite": (add_for_sqlite,),
    "postgresql": (add_for_postgresql, add_for_standard), "db2": (add_for_standard,), "teradata": (add_for_standard,),
}  # fmt: skip
_NO_ESCAPE: Final = frozenset(_BY_SOURCE) - {"postgresql"}
"""Engines in which a backslash in a pattern stands for itself."""


def add_mysql_edges(rewriter: Rewriter) -> None:
    """Add the points of calls and operators whose values differ."""
    engine = rewriter.catalog.engine
    for comparison in rewriter.subject.all(Comparison):
        if comparison.operator == "LIKE" and engine in _NO_ESCAPE:
            _add_escape(comparison, rewriter)
    for add in _BY_SOURCE.get(engine, ()):
        add(rewriter)


def _add_escape(comparison: Comparison, rewriter: Rewriter) -> None:
    """Double the backslashes of a pattern, where they would escape the sign behind them."""
    pattern = comparison.operands[1]
    plain = text_value(pattern, rewriter)
    if comparison.last > pattern.last or (plain is not None and "\\" not in plain):
        return
    if plain is not None:
        doubled = plain.replace("\\", "\\" * 4).replace("'", "''")
        rewriter.wrap(pattern, lambda _: f"'{doubled}'", rank=9)
    else:
        rewriter.wrap(pattern, lambda r: f"REPLACE({r.node(pattern)}, '\\\\', '\\\\\\\\')", rank=9)
