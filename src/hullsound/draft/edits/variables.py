"""Names of variables in drafts: those that drafts add, and those of Transact-SQL."""

from typing import Final

from hullsound.sql.tree import Parameter

from .rewrite import Rewriter

ROW_COUNT: Final = "hs_row_count"
"""Variable for the number of rows that the last statement changed."""
ROW: Final = "hs_row"
"""Variable for one row of a query whose values go into variables."""
FETCH_STATUS: Final = "hs_fetch_status"
"""Variable that takes the place of @@FETCH_STATUS."""


class Variables:
    """Writes @names: p_name for parameters, v_name for variables, so that none is taken for a column."""

    def __init__(self, rewriter: Rewriter) -> None:
        self.names = rewriter.names
        self.parameters = {each.name for each in rewriter.subject.all(Parameter)}

    def write(self, name: str) -> str:
        """Return the target's name for an @name."""
        return self.names.write(prefixed("P" if name in self.parameters else "V", name))


def prefixed(prefix: str, name: str) -> str:
    """Return the stored name of a variable: a prefix that it has already is not given twice."""
    plain = name.lstrip("@")
    return plain if plain.startswith(f"{prefix}_") else f"{prefix}_{plain}"
