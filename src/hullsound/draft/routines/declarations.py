"""Declares what a routine works with: its variables with their types, and the handlers of errors."""

from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.sql.tree import Block, CursorDeclaration, ExceptionDeclaration, Loop, PlainStatement, Variable

from .errors import going_on, handlers_of, is_exit_handler, is_going_on, is_numbered_error
from .row_variables import holds_row, is_record_type
from .speech import Caught, Declared, Unit
from .temporary import is_table_variable
from .types import type_text
from .walk import Walk


def declare(block: Block, unit: Unit, walk: Walk) -> None:
    """Declare the variables; those that the source declares among its statements get their values there."""
    rewriter = walk.rewriter
    heads = {node.first for node in block.declarations if isinstance(node, Variable)}
    if any(
        not isinstance(node, Variable | CursorDeclaration | ExceptionDeclaration)
        and not is_exit_handler(node)
        and not is_going_on(node)
        and not is_numbered_error(node)
        and not (isinstance(node, PlainStatement) and node.words == "declare condition")
        and not is_record_type(node)
        for node in block.declarations
    ):
        raise CannotDraft("handlers, types or routines that are declared in a routine")
    for variable in rewriter.subject.all(Variable):
        if is_table_variable(variable) or holds_row(variable, rewriter) or variable.name in walk.results.names:
            continue
        if variable.name in walk.cursors.opened or walk.completion.replaces(variable):
            continue
        default = walk.value(variable.default) if variable.default is not None and variable.first in heads else ""
        unit.variables.append(Declared(walk.variables[variable.name], type_text(variable.type, rewriter), "", default))
    unit.variables += walk.row_variables.declare()
    for loop in rewriter.subject.all(Loop):
        if loop.form == "range" and not any(v.name == loop.variable for v in rewriter.subject.all(Variable)):
            counted = Declared(walk.variables[loop.variable], walk.speech.integer)
            if counted not in unit.variables:
                unit.variables.append(counted)


def handle(block: Block, unit: Unit, walk: Walk) -> None:
    """Write the handlers of the outermost block, which end the routine.

    A function of SQL Server catches nothing: there the handler of a missing row stands behind the queries.
    """
    handlers = handlers_of(block, walk.rewriter, walk.own_errors)
    walk.going_on = going_on(block, walk.rewriter)
    if walk.going_on and walk.target == "sqlserver" and unit.form == "function":
        raise CannotDraft("a function that catches errors, which is not allowed there")
    if walk.target == "sqlserver" and unit.form == "function" and handlers:
        if [kinds for kinds, _ in handlers] != [[Caught.NO_ROW]]:
            raise CannotDraft("a function that catches errors, which is not allowed there")
        walk.missing = walk.body(handlers[0][1])
        return
    unit.handlers += [(kinds, walk.body(body)) for kinds, body in handlers]
