"""Variables of the session (@name) of MySQL and MariaDB that one routine alone uses: local variables can take their place.

Source: MySQL 8.4 Reference Manual, "User-Defined Variables": they keep their value until the session ends.
"""

import re

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.knowledge.types import parse_type
from hullsound.sql.tree import Assign, Execute, Name, Node, OtherStatement, PlainStatement, Select


def session_names(rewriter: Rewriter) -> list[str]:
    """Return the session's variables that a statement names, in alphabetical order."""
    read = rewriter.subject.read
    words = rewriter.words[read.first : read.last]
    return sorted({word for word in words if re.fullmatch(r"@\w+", word)})


def is_shared(name: str, rewriter: Rewriter) -> bool:
    """Whether other objects of the catalogue use a variable of the session as well."""
    return bool(rewriter.catalog.session_users(name) - {rewriter.owner})


def is_kept(name: str, rewriter: Rewriter) -> bool:
    """Whether a value may be left from an earlier call: the variable is read before it is first set, and not for itself alone."""
    subject = rewriter.subject
    start = next(at for at in range(subject.read.first, subject.read.last) if rewriter.words[at] == name)
    others: list[PlainStatement | OtherStatement] = [*subject.all(PlainStatement), *subject.all(OtherStatement)]
    if any(each.first <= start < each.last and each.words.startswith("get ") for each in others):
        return False
    places = [each for each in subject.all(Name) if each.parts == (name,)]
    first = min(places, key=lambda each: each.first, default=None)
    own = [each for each in subject.all(Assign) if isinstance(each.target, Name) and each.target.parts == (name,)]
    if all(any(each.first <= place.first < each.last for each in own) for place in places):
        return False  # SET @n = @n + 1, which nothing else asks for
    for assign in own:
        if assign.target is first:
            return any(assign.value.first <= each.first < assign.value.last for each in places)
    given = [target for select in subject.all(Select) for target in select.into]
    given += [argument for call in subject.all(Execute) for argument in call.arguments]
    return first is not None and not any(each is first for each in given)


def session_family(name: str, rewriter: Rewriter) -> Family:
    """Return the family that all values given to a variable of the session have in common; TEXT where they differ."""
    subject = rewriter.subject
    values: list[Node] = [
        a.value for a in subject.all(Assign) if isinstance(a.target, Name) and a.target.parts[0] == name
    ]
    for select in subject.all(Select):
        pairs = zip(select.into, select.items, strict=False)
        values += [item.value for target, item in pairs if isinstance(target, Name) and target.parts[0] == name]
    families = {rewriter.types.family(value) for value in values} | _given_by_calls(name, rewriter)
    found = {Family.INTEGER if each is Family.BOOLEAN else each for each in families if each}
    if found == {Family.INTEGER, Family.NUMBER}:
        return Family.NUMBER
    return found.pop() if len(found) == 1 else Family.TEXT


def _given_by_calls(name: str, rewriter: Rewriter) -> set[Family]:
    """Return the families of the parameters through which procedures give a variable its value."""
    families = set()
    for call in rewriter.subject.all(Execute):
        item = rewriter.catalog.resolve(call.routine, rewriter.default_schema) if call.routine else None
        parameters = item.routines[0].parameters if item is not None and item.routines else []
        for argument, parameter in zip(call.arguments, parameters, strict=False):
            if isinstance(argument, Name) and argument.parts[0] == name and parameter.mode != "in":
                families.add(rewriter.types.family_of(parse_type(parameter.type)))
    return families
