"""Variables of the session (@name) that one routine alone uses: local variables take their place."""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.statements.session_values import is_kept, is_shared, session_family, session_names
from hullsound.sql.tree import Assign, Name

_TYPES: Final = {
    Family.TEXT: "text", Family.INTEGER: "bigint", Family.NUMBER: "numeric", Family.DATE: "date", Family.TIMESTAMP: "timestamp",
    Family.TIME: "time",
}  # fmt: skip


class SessionVariables:
    """The @variables of a unit that no other object of the catalogue touches, with the types of what they hold."""

    def __init__(self, rewriter: Rewriter) -> None:
        self.rewriter = rewriter
        self.types = {
            name: _TYPES.get(session_family(name, rewriter), "text")
            for name in session_names(rewriter)
            if not is_shared(name, rewriter)
        }

    def declarations(self) -> list[str]:
        return [f"{self._local(name)} {kind};" for name, kind in self.types.items()]

    def name(self, name: str) -> str:
        """Return the local variable that takes the place of an @variable. Raises CannotDraft for one that is shared."""
        if name.startswith("@@"):
            raise CannotDraft("a setting of the server")
        if name not in self.types:
            raise CannotDraft(f"the session's value {name.lower()}, which other objects use too")
        if is_kept(name, self.rewriter):
            raise CannotDraft(f"the session's value {name.lower()}, which may be left from an earlier call")
        return self._local(name)

    def add_points(self) -> None:
        """Write the variables where their values are asked for; what assigns them does so itself."""
        subject = self.rewriter.subject
        assigned = {id(assign.target) for assign in subject.all(Assign)}
        for name in subject.all(Name):
            if name.parts[0].startswith("@") and id(name) not in assigned:
                self.rewriter.add(Point(name.first, name.last, partial(self._render, name.parts[0])))

    def _render(self, name: str, rewriter: Rewriter) -> str:
        return self.name(name)

    def _local(self, name: str) -> str:
        return self.rewriter.names.write(f"HS_{name.lstrip('@')}")
