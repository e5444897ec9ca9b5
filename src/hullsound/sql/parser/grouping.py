"""Reads GROUP BY: expressions, ROLLUP, CUBE and GROUPING SETS."""

from hullsound.sql.parser.sources import SourceParser
from hullsound.sql.tree import Node


class GroupingParser(SourceParser):
    """Parser of the items that rows are grouped by."""

    def group_items(self) -> list[Node]:
        items: list[Node] = []
        while True:
            first = self.pos
            if self.words[first] in ("ALL", "DISTINCT") and not items:
                self.pos += 1
                self.clause("group-by-all", first)
            if self.accept("GROUPING", "SETS"):
                items += self._grouping_sets()
                self.clause("grouping-sets", first)
            elif self.words[first] in ("ROLLUP", "CUBE") and self.words[first + 1] == "(":
                items.append(self.expression())
                self.clause(self.words[first].lower(), first)
            else:
                items.append(self.expression())
                self.accept_any(("ASC", "DESC"))
            if not self.accept(","):
                if self.words[self.pos] == "WITH" and self.words[self.pos + 1] in ("ROLLUP", "CUBE", "TOTALS"):
                    self.pos += 2
                    self.clause(f"with-{self.words[self.pos - 1].lower()}", self.pos - 2)
                return items

    def _grouping_sets(self) -> list[Node]:
        """Read ((a, b), (a), (), ROLLUP (c), GROUPING SETS ...) and return the expressions in it."""
        items: list[Node] = []
        self.expect("(")
        while True:
            if self.accept("GROUPING", "SETS"):
                items += self._grouping_sets()
            elif self.words[self.pos] == "(" and self.words[self.pos + 1] == ")":
                self.pos += 2
            else:
                items.append(self.expression())
            if not self.accept(","):
                self.expect(")")
                return items
