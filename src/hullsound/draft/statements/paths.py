"""Paths in a tree (hierarchyid of SQL Server) as arrays of numbers, which sort in the same order: a parent before its children.

Source: Transact-SQL reference, "hierarchyid data type method reference".
"""

from collections.abc import Callable, Iterator
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.conversions.row_values import inserted_literals, inserted_types
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.variables import Variables
from hullsound.sql.tree import Assign, Call, Cast, Insert, Literal, Member, Name, Node, Operation, Update, Variable

_TYPE: Final = "HIERARCHYID"
_ROOT: Final = "CAST('{}' AS numeric[])"
_METHODS: Final = frozenset(
    ("GETLEVEL", "GETANCESTOR", "ISDESCENDANTOF", "TOSTRING", "GETREPARENTEDVALUE", "GETDESCENDANT", "GETROOT", "PARSE")
)


def add_path_points(rewriter: Rewriter) -> None:
    """Add the points of methods of paths, and of texts that stand for paths."""
    subject = rewriter.subject
    for call in subject.all(Call):
        if len(call.parts) > 1 and call.parts[-1] in _METHODS:
            rewriter.add(Point(call.first, call.last, partial(_called, call), rank=2))
    for member in subject.all(Member):
        if len(member.parts) == 1 and member.parts[0] in _METHODS:
            rewriter.add(Point(member.first, member.last, partial(_member, member), rank=2))
    for text in _texts(rewriter):
        rewriter.add(Point(text.first, text.last, partial(_parsed, text), rank=2))
    for cast in subject.all(Cast):
        if cast.type.name == _TYPE:
            rewriter.add(Point(cast.first, cast.last, partial(_parsed, cast.value), rank=2))
        elif _is_path(cast.value, rewriter) and rewriter.types.family(cast) is Family.TEXT:
            rewriter.add(Point(cast.first, cast.last, partial(_cast_to_text, cast), rank=2))


def _cast_to_text(cast: Cast, rewriter: Rewriter) -> str:
    return _as_text(rewriter.node(cast.value))


def _texts(rewriter: Rewriter) -> Iterator[Node]:
    """Yield the constants that stand where a path is asked for."""
    subject = rewriter.subject
    pairs: list[tuple[Node, Node]] = []
    for node in subject.all(Operation):
        if len(node.operands) == 2:
            pairs += [(node.operands[0], node.operands[1]), (node.operands[1], node.operands[0])]
    for update in subject.all(Update):
        pairs += update.assignments
    pairs += [(each.target, each.value) for each in subject.all(Assign)]
    for place, value in pairs:
        if isinstance(value, Literal) and value.form == "string" and _is_path(place, rewriter):
            yield value
    for variable in subject.all(Variable):
        if variable.type.name == _TYPE and isinstance(variable.default, Literal):
            yield variable.default
    for insert in subject.all(Insert):
        places = {place for place, kind in enumerate(inserted_types(insert, rewriter)) if kind.name == _TYPE}
        for _, literal in inserted_literals(insert, places, rewriter):
            if literal.form == "string":
                yield literal


def _is_path(node: Node, rewriter: Rewriter) -> bool:
    kind = rewriter.types.source_type(node) if isinstance(node, Name) else None
    return kind is not None and kind.name == _TYPE


def _parsed(node: Node, rewriter: Rewriter) -> str:
    """Write a text such as /1/2/ as a path."""
    if isinstance(node, Literal) and node.form == "null":
        return "CAST(NULL AS numeric[])"
    return f"CAST(string_to_array(trim(BOTH '/' FROM {rewriter.node(node)}), '/') AS numeric[])"


def _as_text(path: str) -> str:
    return f"('/' || array_to_string({path}, '/') || CASE WHEN cardinality({path}) > 0 THEN '/' ELSE '' END)"


def _called(call: Call, rewriter: Rewriter) -> str:
    """Write a method of a column, a variable or of the type itself."""
    if call.parts[:-1] == (_TYPE,):
        if call.parts[-1] == "GETROOT":
            return _ROOT
        return _method(call.parts[-1], "", call.arguments, rewriter)
    is_variable = len(call.parts) == 2 and call.parts[0].startswith("@")
    owner = Variables(rewriter).write(call.parts[0]) if is_variable else rewriter.text(call.first, call.opening - 2)
    return _method(call.parts[-1], owner, call.arguments, rewriter)


def _member(member: Member, rewriter: Rewriter) -> str:
    return _method(member.parts[0], f"({rewriter.node(member.owner)})", member.arguments, rewriter)


def _method(name: str, path: str, arguments: list[Node], rewriter: Rewriter) -> str:
    values = [rewriter.node(each) for each in arguments]
    writers: dict[str, Callable[..., str]] = {
        "GETLEVEL": lambda: f"cardinality({path})",
        "TOSTRING": lambda: _as_text(path),
        "PARSE": lambda value: f"CAST(string_to_array(trim(BOTH '/' FROM {value}), '/') AS numeric[])",
        "GETANCESTOR": lambda n: (
            f"(CASE WHEN cardinality({path}) >= {n} THEN ({path})[1:cardinality({path}) - {n}] END)"
        ),
        "ISDESCENDANTOF": lambda other: f"(({path})[1:cardinality({other})] = {other})",
        "GETREPARENTEDVALUE": lambda old, new: f"({new} || ({path})[cardinality({old}) + 1:])",
        "GETDESCENDANT": partial(_descendant, path),
    }
    try:
        return writers[name](*values)
    except (KeyError, TypeError) as error:
        raise CannotDraft(f"the method {name.lower()} of a path, in this form") from error


def _descendant(path: str, one: str, other: str) -> str:
    """Write a new child behind `one` and before `other`, either of which may be NULL."""
    if one.upper() == "NULL" and other.upper() == "NULL":
        return f"({path} || CAST(1 AS numeric))"
    first, second = (f"({each})[cardinality({each})]" for each in (one, other))
    if other.upper() == "NULL":
        return f"({path} || coalesce(floor({first}) + 1, 1))"
    if one.upper() == "NULL":
        return f"({path} || coalesce(ceil({second}) - 1, 1))"
    between = f"trim_scale(({first} + {second}) / 2)"
    return f"({path} || coalesce({between}, floor({first}) + 1, ceil({second}) - 1, 1))"
