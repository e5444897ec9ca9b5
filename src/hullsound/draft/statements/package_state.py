"""Variables of a package of Oracle as variables of the session of MySQL and MariaDB, which no rollback undoes either.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "Package State"; MySQL 8.4 Reference Manual, "User-Defined Variables".
"""

from typing import Final, NamedTuple

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import CreatePackage, Fetch, Literal, Name, Node, Parameter, Select, Variable

TARGETS: Final = ("mysql", "mariadb")
_KEPT: Final = frozenset(
    (
        "PLS_INTEGER",
        "BINARY_INTEGER",
        "INTEGER",
        "INT",
        "SIMPLE_INTEGER",
        "NATURAL",
        "POSITIVE",
        "VARCHAR2",
        "VARCHAR",
        "BOOLEAN",
    )
)
"""Types whose values a variable of the session keeps; NUMBER as well, where it rounds nothing."""


class StateVariable(NamedTuple):
    """A variable of a package: what it is called there and here, and the value that it begins with."""

    name: str
    written: str
    initial: str


def package_state(
    item: Object, trees: list[tuple[CreatePackage, Rewriter]], constants: set[str]
) -> list[StateVariable]:
    """Return the variables of a package. Raises CannotDraft for one whose type or first value is not kept as it is."""
    found = []
    for tree, rewriter in trees:
        for node in tree.declarations:
            if not isinstance(node, Variable) or node.name in constants:
                continue
            is_number = node.type.name == "NUMBER" and not node.type.arguments
            if node.constant or not (is_number or node.type.name in _KEPT):
                raise CannotDraft(
                    f"the variable {node.name.lower()} of a package, whose type the session does not keep"
                )
            written = f"@hs_{item.name.lower()}_{node.name.lower()}"
            found.append(StateVariable(node.name, written, _initial(node, rewriter)))
    return found


def _initial(node: Variable, rewriter: Rewriter) -> str:
    if node.default is None:
        return "NULL"
    if not isinstance(node.default, Literal):
        raise CannotDraft(f"the variable {node.name.lower()} of a package, which does not begin with a constant")
    text = text_value(node.default, rewriter)
    return rewriter.names.text(text) if text is not None else rewriter.subject.source(node.default)


def used_state(state: list[StateVariable], item: Object, rewriter: Rewriter) -> list[StateVariable]:
    """Return the variables of the package that a routine uses, and write those that it names with the package.

    Raises CannotDraft for a FETCH into one of them, which takes variables of the routine alone.
    """
    declared = {each.name for each in rewriter.subject.all(Variable)}
    declared |= {each.name for each in rewriter.subject.all(Parameter)}
    by_name = {each.name: each for each in state if each.name not in declared}
    used = {}
    for name in rewriter.subject.all(Name):
        is_own = len(name.parts) == 1 or name.parts[:-1] == (item.name,)
        if is_own and name.parts[-1] in by_name and not (len(name.parts) == 1 and _is_column(name, rewriter)):
            used[name.parts[-1]] = by_name[name.parts[-1]]
            if len(name.parts) > 1:
                rewriter.put(name, by_name[name.parts[-1]].written)
    fetched: list[Node] = [into for fetch in rewriter.subject.all(Fetch) for into in fetch.into]
    if any(isinstance(each, Name) and each.parts[-1] in used for each in fetched):
        raise CannotDraft("a FETCH into a variable of a package")
    return list(used.values())


def _is_column(name: Name, rewriter: Rewriter) -> bool:
    """Whether a bare name within a query means a column there, which goes before a variable."""
    return rewriter.subject.read.innermost(Select, name) is not None and rewriter.columns.column(name) is not None
