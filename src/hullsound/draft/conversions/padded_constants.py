"""Constants with blanks at their end, beside which the source's comparisons take no notice of blanks.

Sources: Db2 11.5 SQL Reference, "Assignments and comparisons"; Transact-SQL reference, "LEN" and ANSI_PADDING; MariaDB Server
documentation, "Character Sets and Collations" (PAD SPACE). Collations of MySQL 8, texts of PostgreSQL and VARCHAR2 of Oracle count
them.
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Literal, Node, Operation

from .case import ignores_case
from .implicit import compared
from .padding import is_fixed_text

_PADDING: Final = frozenset(("db2", "mariadb", "ase", "sqlserver", "teradata"))
_COUNTING: Final = frozenset(("postgresql", "oracle", "mysql"))
"""Targets that count blanks at the end of a text."""
_SOURCES_COUNTING: Final = frozenset(("oracle", "postgresql", "sqlite"))
_NOT_COUNTING: Final = frozenset(("mysql", "mariadb"))
"""Sources that count blanks at the end of a text, and targets that do not by the collation that drafts give them."""
_RANK: Final = 5


def add_padded_constants(rewriter: Rewriter) -> None:
    """Take the blanks off the end of constants that are compared with something else, or refuse them where they count."""
    if rewriter.catalog.engine in _SOURCES_COUNTING and rewriter.target.engine in _NOT_COUNTING:
        for place, value in compared(rewriter):
            if _ends_with_blank(value, rewriter) and not is_fixed_text(place, rewriter):
                rewriter.wrap(value, _refuse, rank=_RANK)
    if rewriter.catalog.engine not in _PADDING or rewriter.target.engine not in _COUNTING or ignores_case(rewriter):
        return
    for place, value in compared(rewriter):
        if isinstance(value, Literal) and value.form == "string" and not isinstance(place, Literal):
            text = text_value(value, rewriter)
            # What consists of blanks alone would become the empty text, which the targets tell from a blank.
            if text is not None and text.endswith(" ") and text.strip():
                rewriter.wrap(value, partial(_stripped, text), rank=_RANK)


def _ends_with_blank(node: Node, rewriter: Rewriter) -> bool:
    """Whether a text is a constant, or ends with one, that has a blank at its end."""
    if isinstance(node, Operation) and set(node.operators) == {"||"}:
        return _ends_with_blank(node.operands[-1], rewriter)
    text = text_value(node, rewriter)
    return text is not None and text.endswith(" ")


def _refuse(_rewriter: Rewriter) -> str:
    raise CannotDraft("a constant with blanks at its end, of which comparisons of the target take no notice")


def _stripped(text: str, rewriter: Rewriter) -> str:
    return rewriter.names.text(text.rstrip(" "))
