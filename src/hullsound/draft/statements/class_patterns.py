"""LIKE with classes of characters of the T-SQL family, which Oracle tests by a regular expression.

Sources: Transact-SQL reference, "LIKE"; Oracle Database 19c, "REGEXP_LIKE Condition".
"""

from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import pattern_as_regex, text_value
from hullsound.sql.tree import Comparison

_TSQL: Final = ("sqlserver", "ase")


def add_class_patterns(rewriter: Rewriter) -> None:
    """Write patterns with classes; the usual collations of the source do not tell case apart."""
    if rewriter.catalog.engine not in _TSQL or rewriter.target.engine != "oracle":
        return
    for test in rewriter.subject.all(Comparison):
        pattern = text_value(test.operands[1], rewriter) if test.operator == "LIKE" else None
        if pattern is not None and "[" in pattern and test.last == test.operands[1].last:
            rewriter.wrap(test, partial(_fitting, test, pattern), rank=4)


def _fitting(test: Comparison, pattern: str, rewriter: Rewriter) -> str:
    expression = f"^{pattern_as_regex(pattern)}$".removeprefix("^.*").removesuffix(".*$")
    negated = "NOT " if test.negated else ""
    return f"{negated}REGEXP_LIKE({rewriter.node(test.operands[0])}, {rewriter.names.text(expression)}, 'in')"
