"""Variables of the session (@name) that one routine alone uses: local variables take their place."""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.plpgsql.results import called_procedure
from hullsound.knowledge.types import parse_type
from hullsound.sql.tree import Assign, Execute, Name, Select

_TYPES: Final = {
    Family.TEXT: "text", Family.INTEGER: "bigint", Family.NUMBER: "numeric", Family.DATE: "date", Family.TIMESTAMP: "timestamp",
    Family.BOOLEAN: "bigint", Family.TIME: "time",
}  # fmt: skip


class SessionVariables:
    """The @variables of a unit that no other object of the catalogue touches, with the types of what they hold."""

    def __init__(self, rewriter: Rewriter) -> None:
        self.rewriter = rewriter
        subject = rewriter.subject
        words = rewriter.words[subject.read.first : subject.read.last]
        names = {word for word in words if word[:1] == "@" and re.fullmatch(r"@\w+", word)}
        users = rewriter.catalog.session_users
        self.types = {name: self._type(name) for name in sorted(names) if not users(name) - {rewriter.owner}}

    def declarations(self) -> list[str]:
        return [f"{self._local(name)} {kind};" for name, kind in self.types.items()]

    def name(self, name: str) -> str:
        """Return the local variable that takes the place of an @variable. Raises CannotDraft for one that is shared."""
        if name.startswith("@@"):
            raise CannotDraft("a setting of the server")
        if name not in self.types:
            raise CannotDraft(f"the session's value {name.lower()}, which other objects use too")
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

    def _type(self, name: str) -> str:
        """Return the type that all values given to a variable have in common; text where they differ or are not known."""
        subject = self.rewriter.subject
        values = [a.value for a in subject.all(Assign) if isinstance(a.target, Name) and a.target.parts[0] == name]
        for select in subject.all(Select):
            pairs = zip(select.into, select.items, strict=False)
            values += [item.value for target, item in pairs if isinstance(target, Name) and target.parts[0] == name]
        kinds = {self.rewriter.types.family(value) for value in values} | self._given_by_calls(name)
        found = {_TYPES[kind] for kind in kinds if kind in _TYPES}
        if found == {"bigint", "numeric"}:
            return "numeric"
        return found.pop() if len(found) == 1 else "text"

    def _given_by_calls(self, name: str) -> set[Family]:
        """Return the families of the parameters through which procedures give a variable its value."""
        kinds = set()
        for call in self.rewriter.subject.all(Execute):
            item = called_procedure(call, self.rewriter)
            parameters = item.routines[0].parameters if item is not None and item.routines else []
            for argument, parameter in zip(call.arguments, parameters, strict=False):
                if isinstance(argument, Name) and argument.parts[0] == name and parameter.mode != "in":
                    kinds.add(self.rewriter.types.family_of(parse_type(parameter.type)))
        return kinds
