"""Calls of procedures: arguments by place and by name, what they give back, and their status."""

from typing import TYPE_CHECKING

from hullsound.catalog.model import Object, ObjectType
from hullsound.catalog.model import Parameter as ParameterFacts
from hullsound.draft.arguments import parameter_type
from hullsound.draft.plpgsql.shared import (
    ROW,
    STATUS,
    GoBetween,
    called_procedure,
    go_between,
    shape_of,
    unsized_text,
)
from hullsound.draft.queries import assigns
from hullsound.draft.rewrite import CannotDraft
from hullsound.sql.tree import Execute, Name, NamedArgument, PlainStatement, SelectItem

from .names import prefixed

if TYPE_CHECKING:
    from .statements import TsqlCode


def call_statement(code: "TsqlCode", node: Execute) -> str:
    """Write EXEC of a procedure as CALL. Raises CannotDraft for text built at run time and for results to be passed on."""
    if not node.routine or node.text is not None:
        raise CannotDraft("a statement built at run time")
    item = called_procedure(node, code.rewriter)
    if item is None or item.type is not ObjectType.PROCEDURE or not item.routines:
        raise CannotDraft(f"the procedure {'.'.join(node.routine).lower()} is not in the source")
    shape = shape_of(item, code.rewriter.catalog)
    if shape.results:
        raise CannotDraft(f"the results that {item.name.lower()} gives out would have to be passed on")
    status = code.words[node.first + 1] if code.words[node.first + 2] == "=" else ""
    status = code.variables.write(status) if status.startswith("@") else ""
    between: list[GoBetween] = []
    arguments = _arguments(code, node, item.routines[0].parameters, item, between)
    text = f"CALL {code.rewriter.names.qualified(item.schema, item.name)}("
    if shape.has_status:
        arguments.append(f"{STATUS} => {status or 'hs_status'}")
    text += ", ".join(arguments) + ")"
    text = "".join(each.before for each in between) + text + "".join(each.behind for each in between)
    return f"{text}; {status} := 0" if status and not shape.has_status else text


def _arguments(
    code: "TsqlCode", node: Execute, parameters: list[ParameterFacts], item: Object, between: list[GoBetween]
) -> list[str]:
    given: dict[str, str] = {}
    arguments: list[str] = []
    for place, argument in enumerate(node.arguments):
        named = isinstance(argument, NamedArgument)
        name = (
            argument.name
            if isinstance(argument, NamedArgument)
            else parameters[place].name
            if place < len(parameters)
            else ""
        )
        value = argument.value if isinstance(argument, NamedArgument) else argument
        if isinstance(value, PlainStatement):
            raise CannotDraft("DEFAULT as an argument")
        parameter = next((p for p in parameters if p.name == name), None)
        if parameter is None:
            raise CannotDraft(f"the parameter {name.lower()} is not known")
        is_variable = isinstance(value, Name) and value.parts[0].startswith("@")
        if parameter.mode != "in" and not is_variable:
            raise CannotDraft("a value handed to an OUTPUT parameter")
        text = code.rewriter.node(value)
        passing = go_between(parameter, value, text, item, code.rewriter) if parameter.mode != "in" else None
        if passing is not None:
            between.append(passing)
            text = passing.name
        given[name] = text
        arguments.append(f"{_parameter_name(code, name)} => {text}" if named else text)
    for parameter in parameters:
        if parameter.mode != "in" and parameter.name not in given:
            # PL/pgSQL wants a variable for every parameter that gives something back.
            arguments.append(f"{_parameter_name(code, parameter.name)} => {_ignored(code, parameter.type, item)}")
    return arguments


def _parameter_name(code: "TsqlCode", name: str) -> str:
    return code.rewriter.names.write(prefixed("P", name))


def _ignored(code: "TsqlCode", kind: str, item: Object) -> str:
    text = unsized_text(parameter_type(kind, item, code.rewriter))
    return f"hs_ignored_{text.replace(' ', '_')}"


def _declare_passing(code: "TsqlCode", node: Execute, item: Object) -> None:
    """Declare the variables that stand between arguments and OUTPUT parameters of another type."""
    parameters = item.routines[0].parameters
    for place, argument in enumerate(node.arguments):
        value = argument.value if isinstance(argument, NamedArgument) else argument
        name = argument.name if isinstance(argument, NamedArgument) else ""
        found = [p for i, p in enumerate(parameters) if (p.name == name if name else i == place) and p.mode != "in"]
        if found and isinstance(value, Name) and value.parts[0].startswith("@"):
            passing = go_between(found[0], value, code.variables.write(value.parts[0]), item, code.rewriter)
            if passing is not None:
                code.hoist(passing.declaration)


def prepare_calls(code: "TsqlCode") -> None:
    """Declare what calls and loops need, before the head is written."""
    for node in code.rewriter.subject.all(Execute):
        item = called_procedure(node, code.rewriter)
        if item is None or not item.routines or item.type is not ObjectType.PROCEDURE:
            continue
        _declare_passing(code, node, item)
        names = {a.name for a in node.arguments if isinstance(a, NamedArgument)}
        positional = sum(not isinstance(a, NamedArgument) for a in node.arguments)
        for place, parameter in enumerate(item.routines[0].parameters):
            if parameter.mode != "in" and parameter.name not in names and place >= positional:
                kind = unsized_text(parameter_type(parameter.type, item, code.rewriter))
                code.hoist(f"{_ignored(code, parameter.type, item)} {kind};")
        try:
            if shape_of(item, code.rewriter.catalog).has_status:
                code.hoist("hs_status integer;")
        except CannotDraft:
            continue
    if any(assigns(item) for item in code.rewriter.subject.all(SelectItem)):
        code.hoist(f"{ROW} record;")
