"""SQLCODE and SQLSTATE, by which code of Db2 and Teradata asks how its last statement ended.

Source: Db2 11.5 SQL Reference, "SQL-procedure-statement" (SQLCODE and SQLSTATE variables) and "SQLSTATE values"; Teradata SQL
Stored Procedures, "Status Variables".
"""

from typing import TYPE_CHECKING, Final

from hullsound.sql.tree import Delete, Fetch, Insert, Merge, Name, Node, QueryStatement, Update, Variable

from .conditions import NOT_FOUND, conditions_of

if TYPE_CHECKING:
    from hullsound.sql.tree import ConditionHandler

    from .blocks import PsmBlocks

_ENGINES: Final = ("db2", "teradata")
_VARIABLES: Final = {"SQLCODE": "hs_sqlcode", "SQLSTATE": "hs_sqlstate"}
_DECLARATIONS: Final = {"SQLCODE": "hs_sqlcode integer := 0;", "SQLSTATE": "hs_sqlstate char(5) := '00000';"}
_NO_ROW: Final = {"db2": 100, "teradata": 7632}
"""The number that says that there was no row."""
_NUMBERS: Final = {"23505": -803, "23503": -530, "23502": -407, "23514": -545, "22012": -801, "22001": -433, "22003": -413,
                   "42P01": -204, "40P01": -911, "55P03": -911}  # fmt: skip
"""SQLSTATEs of PostgreSQL and the numbers that Db2 gives for the like; others become -438, as an error of the code's own."""

_COMPLETING: Final = (Insert, Update, Delete, Merge, Fetch, QueryStatement)


class Completion:
    """Keeps how the last statement ended in variables, where a unit asks for it."""

    def __init__(self, code: "PsmBlocks") -> None:
        self.code = code
        rewriter = code.rewriter
        self.engine = rewriter.catalog.engine
        names = {name.parts[0] for name in rewriter.subject.all(Name) if len(name.parts) == 1}
        self.asked = [word for word in _VARIABLES if word in names] if self.engine in _ENGINES else []
        for word in self.asked:
            code.hoisted.add(_DECLARATIONS[word])

    def replaces(self, variable: Variable) -> bool:
        """Whether a variable of the source is one that the engine fills."""
        return self.engine in _ENGINES and variable.name in _VARIABLES

    def add_points(self, guarded: set[Node]) -> None:
        """Name the variables, and set them behind each statement that reads or changes rows.

        `guarded` are the statements with a block of their own, in which that is done.
        """
        rewriter = self.code.rewriter
        for name in rewriter.subject.all(Name) if self.asked else ():
            if len(name.parts) == 1 and name.parts[0] in self.asked:
                rewriter.replace(name.first, name.last, _VARIABLES[name.parts[0]])
        for kind in _COMPLETING if self.asked else ():
            for node in rewriter.subject.all(kind):
                if node not in guarded:
                    rewriter.insert(node.last, self.behind(node), behind=node.first - 1)

    def behind(self, node: Node) -> str:
        """Return what stands behind a statement, its semicolon before it; '' where nothing asks for it."""
        is_completing = isinstance(node, _COMPLETING) and node not in self.code.results
        return f"; {self._set()}" if self.asked and is_completing else ""

    def _set(self) -> str:
        texts = {
            "SQLCODE": f"hs_sqlcode := CASE WHEN FOUND THEN 0 ELSE {_NO_ROW.get(self.engine, 100)} END",
            "SQLSTATE": "hs_sqlstate := CASE WHEN FOUND THEN '00000' ELSE '02000' END",
        }
        return "; ".join(texts[word] for word in self.asked)

    def caught(self, handler: "ConditionHandler") -> str:
        """Return what keeps the error that a handler takes; NOT FOUND is kept behind its statement."""
        if not self.asked or conditions_of(handler, self.code.named) == [NOT_FOUND]:
            return ""
        numbers = " ".join(f"WHEN '{state}' THEN {number}" for state, number in _NUMBERS.items())
        texts = {
            "SQLCODE": f"hs_sqlcode := CASE SQLSTATE WHEN 'P0002' THEN {_NO_ROW[self.engine]} {numbers} ELSE -438 END; ",
            "SQLSTATE": "hs_sqlstate := CASE SQLSTATE WHEN 'P0002' THEN '02000' ELSE SQLSTATE END; ",
        }
        return "".join(texts[word] for word in self.asked)
