"""Calls of procedures: arguments by place and by name, what they give back, and their status."""

from typing import TYPE_CHECKING

from hullsound.catalog.model import Object, ObjectType
from hullsound.catalog.model import Parameter as ParameterFacts
from hullsound.draft.conversions.arguments import parameter_type
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.edits.variables import ROW, prefixed
from hullsound.draft.plpgsql.results import STATUS, TAKEN_STATUS, called_procedure, result_name, shape_of
from hullsound.draft.plpgsql.shared import GoBetween, go_between, unsized_text
from hullsound.draft.statements.queries import assigns
from hullsound.sql.tree import Execute, Name, NamedArgument, Node, PlainStatement, SelectItem

from .rows import rows_argument

if TYPE_CHECKING:
    from .statements import TsqlCode


def call_statement(code: "TsqlCode", node: Execute) -> str:
    """Write EXEC of a procedure as CALL, whose results are passed on, and EXEC of a text as EXECUTE."""
    if node.text is not None:
        return _dynamic_statement(code, node)
    place = code.results.places.get(node, 0)
    item = called_procedure(node, code.rewriter)
    count = shape_of(item, code.rewriter.catalog).results if item is not None else 0
    if count and (not place or code.kind != "procedure"):
        raise CannotDraft("a result set that nothing takes")
    return call_with_results(code, node, [result_name(place + i) for i in range(count)])


def _dynamic_statement(code: "TsqlCode", node: Execute) -> str:
    text, using = dynamic_text(code, node)
    site = code.sites[node]
    if site.gives_rows:
        place = code.results.places.get(node)
        if place is None or code.kind != "procedure":
            raise CannotDraft("a result set that nothing takes")
        return f"OPEN {result_name(place)} FOR EXECUTE {text}{using}"
    if site.outputs:
        targets = [site.argument(name) for name in site.outputs]
        if not all(isinstance(target, Name) for target in targets):
            raise CannotDraft("a value of a text that goes nowhere")
        into = ", ".join(code.rewriter.node(target) for target in targets if target is not None)
        return f"EXECUTE {text} INTO {into}{using}"
    return f"EXECUTE {text}{using}" + code.counted()


def dynamic_text(code: "TsqlCode", node: Execute) -> tuple[str, str]:
    """Return the expression of a text that is run, and USING with its inputs. Raises CannotDraft if it has no counterpart."""
    site = code.sites.get(node)
    if site is None or node.text is None or site.problem:
        raise CannotDraft(site.problem if site is not None else "a statement built at run time")
    values = []
    for name in site.inputs:
        value = site.argument(name)
        values.append(code.rewriter.node(value) if value is not None else "NULL")
    return code.rewriter.node(node.text), f" USING {', '.join(values)}" if values else ""


def call_with_results(code: "TsqlCode", node: Execute, cursors: list[str]) -> str:
    """Write CALL of a procedure of the source; `cursors` take its results."""
    item = called_procedure(node, code.rewriter)
    if item is None or item.type is not ObjectType.PROCEDURE or not item.routines:
        raise CannotDraft(f"the procedure {'.'.join(node.routine).lower()} is not in the source")
    shape = shape_of(item, code.rewriter.catalog)
    status = code.words[node.first + 1] if code.words[node.first + 2] == "=" else ""
    status = code.variables.write(status) if status.startswith("@") else ""
    between: list[GoBetween] = []
    arguments = _arguments(code, node, item.routines[0].parameters, item, between)
    arguments += [f"{result_name(number)} => {cursor}" for number, cursor in enumerate(cursors, start=1)]
    text = f"CALL {code.rewriter.names.qualified(item.schema, item.name)}("
    if shape.has_status:
        arguments.append(f"{STATUS} => {status or TAKEN_STATUS}")
    text += ", ".join(arguments) + ")"
    text = "".join(each.before for each in between) + text + "".join(each.behind for each in between)
    return f"{text}; {status} := 0" if status and not shape.has_status else text


def _arguments(
    code: "TsqlCode", node: Execute, parameters: list[ParameterFacts], item: Object, between: list[GoBetween]
) -> list[str]:
    given: dict[str, str] = {}
    arguments: list[str] = []
    leaves_out = False
    for place, argument in enumerate(node.arguments):
        named = isinstance(argument, NamedArgument) or leaves_out
        name = (
            argument.name
            if isinstance(argument, NamedArgument)
            else parameters[place].name
            if place < len(parameters)
            else ""
        )
        value = argument.value if isinstance(argument, NamedArgument) else argument
        if isinstance(value, PlainStatement):
            leaves_out = True  # DEFAULT: what follows must be named
            continue
        parameter = next((p for p in parameters if p.name == name), None)
        if parameter is None:
            raise CannotDraft(f"the parameter {name.lower()} is not known")
        is_variable = isinstance(value, Name) and value.parts[0].startswith("@")
        if parameter.mode != "in" and not is_variable:
            raise CannotDraft("a value handed to an OUTPUT parameter")
        rows = rows_argument(value, code)
        if rows.startswith("ARRAY("):
            between.append(_rows_between(parameter, rows, item, value, code))
            given[name] = between[-1].name
            arguments.append(f"{_parameter_name(code, name)} => {given[name]}" if named else given[name])
            continue
        text = rows or code.rewriter.node(value)
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


def _rows_between(parameter: ParameterFacts, rows: str, item: Object, value: Node, code: "TsqlCode") -> GoBetween:
    """Return the variable for rows of a table variable: CALL takes no query as an argument."""
    kind = code.rewriter.names.qualified(*(part.strip("[]").upper() for part in parameter.type.split(".")))
    return GoBetween(f"hs_rows_{value.first}", f"{kind}[]", rows, is_given_back=False)


def _parameter_name(code: "TsqlCode", name: str) -> str:
    return code.rewriter.names.write(prefixed("P", name))


def _ignored(code: "TsqlCode", kind: str, item: Object) -> str:
    text = unsized_text(parameter_type(kind, item, code.rewriter.catalog, code.rewriter.target))
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
        for place, argument in enumerate(node.arguments):
            value = argument.value if isinstance(argument, NamedArgument) else argument
            rows = rows_argument(value, code)
            name = argument.name if isinstance(argument, NamedArgument) else ""
            for at, parameter in enumerate(item.routines[0].parameters):
                if rows.startswith("ARRAY(") and (parameter.name == name if name else at == place):
                    code.hoist(_rows_between(parameter, rows, item, value, code).declaration)
        names = {a.name for a in node.arguments if isinstance(a, NamedArgument)}
        positional = sum(not isinstance(a, NamedArgument) for a in node.arguments)
        for place, parameter in enumerate(item.routines[0].parameters):
            if parameter.mode != "in" and parameter.name not in names and place >= positional:
                kind = unsized_text(parameter_type(parameter.type, item, code.rewriter.catalog, code.rewriter.target))
                code.hoist(f"{_ignored(code, parameter.type, item)} {kind};")
        try:
            if shape_of(item, code.rewriter.catalog).has_status:
                code.hoist(f"{TAKEN_STATUS} integer;")
        except CannotDraft:
            continue
    if any(assigns(item) for item in code.rewriter.subject.all(SelectItem)):
        code.hoist(f"{ROW} record;")
