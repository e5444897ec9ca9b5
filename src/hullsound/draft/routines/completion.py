"""SQLCODE and SQLSTATE, by which code of Db2 and Teradata asks whether its last statement has met a row.

Sources: Db2 11.5, SQL Reference, "compound SQL (compiled)" (SQLSTATE and SQLCODE variables); Teradata SQL Stored Procedures,
"Status Variables".
"""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import ConditionHandler, Name, Variable

from .errors import is_no_row
from .speech import Declared, Lines, Speech, Unit

_ENGINES: Final = ("db2", "teradata")
_NO_ROW: Final = {"db2": "100", "teradata": "7632"}
_VARIABLES: Final = {"SQLCODE": "hs_sqlcode", "SQLSTATE": "hs_sqlstate"}


class Completion:
    """The variables of one routine that tell how the last statement ended."""

    def __init__(self, rewriter: Rewriter, speech: Speech, unit: Unit) -> None:
        self.rewriter, self.speech, self.unit = rewriter, speech, unit
        self.engine = rewriter.catalog.engine
        names = {each.parts[0] for each in rewriter.subject.all(Name) if len(each.parts) == 1}
        self.asked = [each for each in _VARIABLES if each in names] if self.engine in _ENGINES else []

    def replaces(self, variable: Variable) -> bool:
        """Whether a variable of the source is one that the engine fills."""
        return self.engine in _ENGINES and variable.name in _VARIABLES

    def prepare(self) -> None:
        """Declare the variables and write them where they are asked for. Raises CannotDraft in a handler of errors."""
        if not self.asked:
            return
        handlers = [
            each for each in self.rewriter.subject.all(ConditionHandler)
            if not all(is_no_row(condition, {}) for condition in each.conditions)
        ]  # fmt: skip
        for name in self.rewriter.subject.all(Name):
            if name.parts[0] in self.asked and len(name.parts) == 1:
                if any(each.first <= name.first < each.last for each in handlers):
                    raise CannotDraft(f"{name.parts[0]} in a handler of errors")
                self.rewriter.put(name, self.speech.variable(_VARIABLES[name.parts[0]]))
        for each in self.asked:
            kind, first = (self.speech.integer, "0") if each == "SQLCODE" else ("char(5)", "'00000'")
            self.unit.variables.append(Declared(self.speech.variable(_VARIABLES[each]), kind, default=first))

    def met(self) -> Lines:
        """Keep that the last statement ended well."""
        return self._set("0", "'00000'")

    def missed(self) -> Lines:
        """Keep that the last statement has met no row."""
        return self._set(_NO_ROW.get(self.engine, ""), "'02000'")

    def _set(self, code: str, state: str) -> Lines:
        texts = {"SQLCODE": code, "SQLSTATE": state}
        return [
            line
            for each in self.asked
            for line in self.speech.assign(self.speech.variable(_VARIABLES[each]), texts[each])
        ]
