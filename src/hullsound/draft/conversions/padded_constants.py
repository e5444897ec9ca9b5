"""Constants with blanks at their end, beside which the source's comparisons take no notice of blanks.

Sources: Db2 11.5 SQL Reference, "Assignments and comparisons"; Transact-SQL reference, "LEN" and ANSI_PADDING; MariaDB Server
documentation, "Character Sets and Collations" (PAD SPACE). Collations of MySQL 8, texts of PostgreSQL and VARCHAR2 of Oracle count
them.
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Literal

from .case import ignores_case
from .implicit import compared

_PADDING: Final = frozenset(("db2", "mariadb", "ase", "sqlserver", "teradata"))
_COUNTING: Final = frozenset(("postgresql", "oracle", "mysql"))
"""Targets that count blanks at the end of a text."""
_RANK: Final = 5


def add_padded_constants(rewriter: Rewriter) -> None:
    """Take the blanks off the end of constants that are compared with something else."""
    if rewriter.catalog.engine not in _PADDING or rewriter.target.engine not in _COUNTING or ignores_case(rewriter):
        return
    for place, value in compared(rewriter):
        if isinstance(value, Literal) and value.form == "string" and not isinstance(place, Literal):
            text = text_value(value, rewriter)
            # What consists of blanks alone would become the empty text, which the targets tell from a blank.
            if text is not None and text.endswith(" ") and text.strip():
                rewriter.wrap(value, partial(_stripped, text), rank=_RANK)


def _stripped(text: str, rewriter: Rewriter) -> str:
    return rewriter.names.text(text.rstrip(" "))
