"""Values that routines of the catalogue are handed, and that they hand back."""

from collections.abc import Iterator

from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import DataType, Object, Parameter
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.names import Parts
from hullsound.sql.tree import Call, Execute, NamedArgument, Node, Return, Routine


def handed_values(rewriter: Rewriter) -> Iterator[tuple[Object, Parameter, Node]]:
    """Yield each value for a parameter that only takes one in, with the routine and the parameter."""
    for call in rewriter.subject.all(Call):
        yield from _handed(call.parts, call.arguments, rewriter)
    for execute in rewriter.subject.all(Execute):
        if execute.routine:
            yield from _handed(execute.routine, execute.arguments, rewriter)


def _handed(parts: Parts, arguments: list[Node], rewriter: Rewriter) -> Iterator[tuple[Object, Parameter, Node]]:
    item = rewriter.catalog.resolve(parts, rewriter.default_schema)
    routine = next((r for r in item.routines if r.name == parts[-1]), None) if item is not None else None
    if routine is None or item is None:
        return
    by_name = {parameter.name: parameter for parameter in routine.parameters}
    for place, argument in enumerate(arguments):
        parameter = by_name.get(argument.name) if isinstance(argument, NamedArgument) else None
        if not isinstance(argument, NamedArgument) and place < len(routine.parameters):
            parameter = routine.parameters[place]
        if parameter is not None and parameter.mode == "in":
            yield item, parameter, argument.value if isinstance(argument, NamedArgument) else argument


def returned_values(rewriter: Rewriter) -> Iterator[tuple[DataType, Node]]:
    """Yield each value that a function gives, with the type that the function has."""
    routines = [each for each in rewriter.subject.all(Routine) if each.returns is not None]
    for returned in rewriter.subject.all(Return):
        around = [each for each in routines if each.first <= returned.first and returned.last <= each.last]
        own = max(around, key=lambda each: each.first, default=None)
        if returned.value is not None and own is not None and own.returns is not None:
            yield data_type(own.returns), returned.value
