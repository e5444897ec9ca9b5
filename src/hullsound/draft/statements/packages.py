"""Packages of Oracle where the target has none: each routine stands by itself, as package_routine; constants by their values."""

from functools import lru_cache
from typing import Final, NamedTuple

from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.reading import read_object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import (
    CreatePackage,
    CreateRoutine,
    Literal,
    Routine,
    TypeDeclaration,
    Variable,
)

from .package_state import TARGETS as STATE_TARGETS
from .package_state import StateVariable, package_state

NOTHING: Final = "-- Nothing to create: each routine of the package stands by itself, as package_routine."
WITHOUT_PACKAGES: Final = ("mysql", "mariadb", "sqlserver")
"""Targets for which each routine of a package is drafted by itself."""
_PACKAGES: Final = (ObjectType.PACKAGE, ObjectType.PACKAGE_BODY)
_SPREAD_TYPES: Final = frozenset(("record", "ref cursor"))
"""Types of which nothing is left: records become a variable for each field, cursors the rows of a call."""
_WHOLE: Final = ("PLS_INTEGER", "BINARY_INTEGER", "INTEGER", "INT", "SIMPLE_INTEGER", "NATURAL", "POSITIVE")
_TEXTS: Final = ("VARCHAR2", "VARCHAR", "NVARCHAR2")


class Member(NamedTuple):
    """A routine of a package."""

    package: Object
    routine: Routine


@lru_cache(maxsize=32)
def _tree(text: str) -> CreatePackage | None:
    read = read_object(text, "oracle")
    return read.tree if read is not None and isinstance(read.tree, CreatePackage) else None


def routines_of(tree: CreatePackage) -> dict[str, Routine]:
    """Return the routines of a package body by name. Raises CannotDraft where several have one name."""
    found: dict[str, Routine] = {}
    for node in tree.declarations:
        if isinstance(node, Routine) and node.block is not None:
            if node.name[-1] in found:
                raise CannotDraft("routines of a package that share a name")
            found[node.name[-1]] = node
    return found


def member_of(parts: tuple[str, ...], rewriter: Rewriter) -> Member | None:
    """Return the routine of a package that a name means: of another by its name, of the own one without it."""
    owner = rewriter.catalog.objects.get(rewriter.owner)
    if len(parts) == 1:
        body = owner if owner is not None and owner.type is ObjectType.PACKAGE_BODY else None
    else:
        named = [each for each in rewriter.catalog.with_name(parts[-2]) if each.type is ObjectType.PACKAGE_BODY]
        schema = parts[-3] if len(parts) > 2 else rewriter.default_schema
        body = next((each for each in named if each.schema == schema), named[0] if len(named) == 1 else None)
    tree = _tree(body.text) if body is not None else None
    routine = routines_of(tree).get(parts[-1]) if tree is not None else None
    return Member(body, routine) if body is not None and routine is not None else None


def package_of(parts: tuple[str, ...], rewriter: Rewriter) -> Object | None:
    """Return the package whose member a name may be: the own one without a qualifier."""
    if len(parts) == 1:
        owner = rewriter.catalog.objects.get(rewriter.owner)
        return owner if owner is not None and owner.type is ObjectType.PACKAGE_BODY else None
    named = [each for each in rewriter.catalog.with_name(parts[-2]) if each.type in _PACKAGES]
    schema = parts[-3] if len(parts) > 2 else rewriter.default_schema
    return next((each for each in named if each.schema == schema), named[0] if named else None)


def member_name(member: Member, rewriter: Rewriter) -> str:
    """Write the name under which a routine of a package stands on the target."""
    schema = member.package.schema or ("DBO" if rewriter.target.engine == "sqlserver" else "")
    return rewriter.names.qualified(schema, f"{member.package.name}_{member.routine.name[-1]}")


def constants_of(package: Object, rewriter: Rewriter) -> dict[str, str]:
    """Return the constants of a package, of its specification and its body, with their values."""
    found: dict[str, str] = {}
    for each in rewriter.catalog.with_name(package.name):
        if each.schema == package.schema and each.type in _PACKAGES:
            read = read_object(each.text, "oracle")
            declared = read.tree.declarations if read is not None and isinstance(read.tree, CreatePackage) else []
            for node in declared:
                if read is not None and isinstance(node, Variable):
                    text = read.tokens.source(node.default.first, node.default.last) if node.default is not None else ""
                    if _is_plain(node, text):
                        found[node.name] = text
    return found


def is_own_state(parts: tuple[str, ...], package: Object, rewriter: Rewriter) -> bool:
    """Whether a name means a variable of the package that the code belongs to, which the target keeps for the session."""
    owner = rewriter.catalog.objects.get(rewriter.owner)
    if (
        rewriter.target.engine not in STATE_TARGETS
        or owner is None
        or (owner.schema, owner.name) != (package.schema, package.name)
    ):
        return False
    trees = [_tree(each.text) for each in rewriter.catalog.with_name(package.name) if each.type in _PACKAGES]
    declared = [node for tree in trees if tree is not None for node in tree.declarations]
    return any(isinstance(node, Variable) and node.name == parts[-1] for node in declared)


def _is_plain(node: Variable, text: str) -> bool:
    """Whether a constant's value is the one that is written: nothing rounds, pads or converts it."""
    if not node.constant or not isinstance(node.default, Literal):
        return False
    if node.type.name in _WHOLE or (node.type.name == "NUMBER" and not node.type.arguments):
        return node.default.form == "number" and (text.isdigit() or node.type.name == "NUMBER")
    return node.type.name in _TEXTS and node.default.form == "string" and text.startswith("'") and text != "''"


def state_of(item: Object, tree: CreatePackage, rewriter: Rewriter) -> list[StateVariable]:
    """Return the variables of a package, of its specification and its body, where the target keeps them for the session."""
    if rewriter.target.engine not in STATE_TARGETS:
        return []
    trees = [(tree, rewriter)]
    for each in rewriter.catalog.with_name(item.name):
        read = (
            read_object(each.text, "oracle") if each.type is ObjectType.PACKAGE and each.schema == item.schema else None
        )
        if read is not None and isinstance(read.tree, CreatePackage) and rewriter.another is not None:
            trees.append((read.tree, rewriter.another(read)))
    return package_state(item, trees, set(constants_of(item, rewriter)))


def separate(item: Object, tree: CreatePackage, rewriter: Rewriter) -> list[tuple[str, CreateRoutine, Rewriter]]:
    """Return each routine of a package body as a statement of its own: name on the target, tree, and rewriter.

    Raises CannotDraft for a package that declares types, cursors or exceptions, or variables that the target cannot keep.
    """
    if rewriter.target.engine not in WITHOUT_PACKAGES:
        raise CannotDraft("a package")
    if tree.initialization is not None:
        raise CannotDraft("a package that does something when it is first used")
    routines, constants = routines_of(tree), constants_of(item, rewriter)
    for node in tree.declarations:
        is_written_where_used = isinstance(node, TypeDeclaration) and node.form in _SPREAD_TYPES
        is_constant = isinstance(node, Variable) and node.name in constants
        is_kept = isinstance(node, Variable) and rewriter.target.engine in STATE_TARGETS
        if not (isinstance(node, Routine) or is_constant or is_written_where_used or is_kept):
            raise CannotDraft("a package with variables, lists, cursors or exceptions of its own")
    found = []
    for routine in routines.values():
        if rewriter.catalog.named(item.schema, f"{item.name}_{routine.name[-1]}"):
            raise CannotDraft("a routine of a package whose name on the target something else bears")
        text = f"CREATE OR REPLACE {rewriter.subject.source(routine)}"
        read = read_object(text if text.rstrip().endswith(";") else f"{text};", "oracle")
        if read is None or not isinstance(read.tree, CreateRoutine) or read.unread():
            raise CannotDraft(f"the routine {routine.name[-1].lower()}, which could not be read by itself")
        assert rewriter.another is not None
        name = member_name(Member(item, routine), rewriter)
        found.append((name, read.tree, rewriter.another(read)))
    return found
