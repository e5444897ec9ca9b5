"""Writes a simple routine of the catalogue in the procedural language of a target."""

from typing import Final, NamedTuple

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.inlined_functions import WITHOUT_ROWS, inline_query, query_text
from hullsound.draft.statements.package_state import StateVariable, used_state
from hullsound.draft.statements.packages import NOTHING, separate, state_of
from hullsound.knowledge.targets import target_functions
from hullsound.sql.tree import (
    Call,
    CallStatement,
    Clause,
    CreatePackage,
    CreateRoutine,
    CreateTrigger,
    Execute,
    Name,
    Query,
    Routine,
    Unread,
    Variable,
)

from .calls import STATUS, returns_nothing, returns_status
from .cursor_results import NOTE, CursorResults
from .cursors import Cursors
from .declarations import declare, handle
from .parameters import keep_parameters
from .plsql import PlsqlSpeech
from .psm import MariadbSpeech, PsmSpeech
from .rights import caller_rights
from .session_variables import session_variables
from .speech import Declared, Lines, Speech, Unit, several
from .trigger_units import write_trigger
from .triggers import innermost, is_trigger_function
from .tsql import TsqlSpeech
from .types import type_text
from .variables import declared_names
from .walk import Walk

_SPEECHES: Final[dict[str, type[Speech]]] = {
    "mysql": PsmSpeech, "mariadb": MariadbSpeech, "sqlserver": TsqlSpeech, "oracle": PlsqlSpeech,
}  # fmt: skip
_NATIVE_FIRST: Final = frozenset(("mysql", "mariadb"))
"""Targets where a native function goes before one that is stored (MySQL 8.4, "Function Name Parsing and Resolution")."""
_OF_ROWS: Final = frozenset(("returns-setof", "returns-table", "return-query", "return-next"))
"""Clauses of functions of PostgreSQL that return rows."""
_IN_QUERIES: Final = "-- Nothing to create: each query that reads this function holds its query."
_IN_TRIGGERS: Final = "-- Nothing to create: each trigger that calls this function holds what it does."


def write_routine(item: Object, rewriter: Rewriter) -> str:
    """Return the statement that creates a routine on the target. Raises CannotDraft for what is not simple."""
    tree = rewriter.subject.tree
    if rewriter.subject.all(Unread):
        raise CannotDraft("a routine that could not be read in full")
    if isinstance(tree, CreateTrigger):
        return write_trigger(item, tree, rewriter)
    if isinstance(tree, CreatePackage) and rewriter.catalog.engine == "oracle":
        return _write_package(item, tree, rewriter)
    if not isinstance(tree, CreateRoutine):
        raise CannotDraft("code of a kind that is drafted for PostgreSQL alone")
    if is_trigger_function(tree):
        rewriter.take(tree)
        return _IN_TRIGGERS
    query = inline_query(tree, rewriter.words)
    if query is not None and rewriter.target.engine in WITHOUT_ROWS:
        query_text(query, {}, rewriter.subject.read, rewriter)
        rewriter.rendered.append(("convert.function-to-query", tree.first))
        rewriter.take(tree)
        return _IN_QUERIES
    if query is not None and rewriter.catalog.engine in ("postgresql", "db2") and rewriter.target.engine == "sqlserver":
        return _write_inline(rewriter.names.qualified(item.schema, item.name), tree.routine, query, rewriter)
    if any(clause.name in _OF_ROWS for clause in rewriter.subject.all(Clause)):
        raise CannotDraft("a function that returns rows and is more than one query")
    return _write_one(rewriter.names.qualified(item.schema, item.name), tree, rewriter, caller_rights(item, rewriter))


def _write_inline(name: str, routine: Routine, query: Query, rewriter: Rewriter) -> str:
    """Return the statement that creates a function of one query, whose rows are read, on SQL Server."""
    speech = TsqlSpeech(rewriter.names)
    variables = declared_names(routine.parameters, speech, rewriter)
    if any(rewriter.catalog.columns_named(each.name) for each in routine.parameters):
        raise CannotDraft("a function whose parameter is called like a column")
    parameters = ", ".join(f"{variables[each.name]} {type_text(each.type, rewriter)}" for each in routine.parameters)
    text = query_text(query, variables, rewriter.subject.read, rewriter)
    return f"CREATE FUNCTION {name}({parameters})\nRETURNS TABLE\nAS\nRETURN (\n  {text}\n);"


def _write_package(item: Object, tree: CreatePackage, rewriter: Rewriter) -> str:
    """Return the statements that create the routines of a package body; a specification creates nothing."""
    if not tree.is_body:
        rewriter.take(tree)  # what it declares is written where its body is
        return NOTHING
    written, rights, state = [], caller_rights(item, rewriter), state_of(item, tree, rewriter)
    for name, routine, inner in separate(item, tree, rewriter):
        used = used_state(state, item, inner)
        ready = StateVariable("", f"@hs_{item.name.lower()}_ready", "1")
        begun = [f"SET {each.written} = {each.initial};" for each in (ready, *state)]
        names = {each.name: each.written for each in used}
        names |= {f"{item.name}.{each.name}": each.written for each in used}
        kept = KeptState(names, f"{ready.written} IS NULL", begun)
        written.append(_write_one(name, routine, inner, rights, kept if used else None))
        lost = inner.left_out()
        if lost is not None:
            raise CannotDraft(f"a part that would be left out: {inner.tokens.source(lost.first, lost.last)[:60]}")
        rewriter.rendered += [(construct, tree.first) for construct, _ in inner.rendered]
    rewriter.take(tree)  # each routine was written by a rewriter of its own
    return several(written, rewriter.target.engine) or NOTHING


class KeptState(NamedTuple):
    """The variables of a package that a routine uses, and how they come to their first values."""

    names: dict[str, str]
    missing: str
    """The condition under which the session has not used the package yet."""
    begun: Lines


def _write_one(name: str, tree: CreateRoutine, rewriter: Rewriter, rights: str, state: KeptState | None = None) -> str:
    """Return the statement that creates one routine under a name that is written already."""
    speech_kind, block = _SPEECHES.get(rewriter.target.engine), tree.routine.block
    if speech_kind is None or block is None:
        raise CannotDraft("code of a kind that is drafted for PostgreSQL alone")
    routine, speech = tree.routine, speech_kind(rewriter.names)
    if routine.form not in ("function", "procedure"):
        raise CannotDraft("a routine of a kind that is not drafted")
    engine = rewriter.target.engine
    if routine.form == "function" and engine in _NATIVE_FIRST and routine.name[-1] in target_functions(engine):
        raise CannotDraft("a function that is called like one of the target's own, which every call would mean")
    if engine in _NATIVE_FIRST and _calls_itself(tree, rewriter):
        raise CannotDraft(
            "a routine that calls itself, which the target allows no function, and no procedure without a setting"
        )
    results = CursorResults(rewriter, speech, routine)
    is_void = returns_nothing(routine)
    if is_void:
        rewriter.rendered.append(("convert.function-to-procedure", tree.first))
    form = "procedure" if results.is_returned or is_void else routine.form
    variables = declared_names([*routine.parameters, *rewriter.subject.all(Variable)], speech, rewriter)
    of_session = session_variables(speech, rewriter)
    variables |= {name: each.name for name, each in of_session.items()} | (state.names if state is not None else {})
    returns = type_text(routine.returns, rewriter) if routine.returns is not None and form == "function" else ""
    if (form == "function") != bool(returns):
        raise CannotDraft("a routine that gives out rows")
    if any(p.name not in variables and p.name not in results.names for p in routine.parameters):
        raise CannotDraft("a parameter that is a record")
    parameters = [
        Declared(variables[p.name], type_text(p.type, rewriter), p.mode, rewriter.node(p.default) if p.default else "")
        for p in routine.parameters
        if p.name not in results.names
    ]
    unit = Unit(form, name, parameters, returns, rights=rights)
    opening = keep_parameters(routine.parameters, unit, variables, rewriter) if speech.keeps_parameters else []
    if results.names:
        unit.notes.append(NOTE)
    if returns_status(rewriter.subject.read, rewriter.catalog.engine):
        unit.status = speech.variable(STATUS)
        unit.parameters.append(Declared(unit.status, speech.integer, "out"))
    if isinstance(speech, TsqlSpeech):
        speech.is_function = form == "function"
    unit.variables += of_session.values()
    cursors = Cursors(rewriter, speech, unit)
    unit.reads = bool(rewriter.subject.all(Query))
    walk = Walk(rewriter, speech, unit, variables, cursors, results)
    walk.prepare()
    declare(block, unit, walk)
    handle(block, unit, walk)
    statements = innermost(block).body
    if walk.source == "postgresql" and "LANGUAGE SQL" in routine.options and form == "function":
        body = [*walk.body(statements[:-1]), *walk.answer(statements[-1], returns)]
    else:
        body = walk.body(statements)
    if _is_strict(routine.options) and parameters:
        unknown = " OR ".join(f"{each.name} IS NULL" for each in parameters)
        body = [*speech.branch([(unknown, speech.give_back("NULL"))], []), *body]
    if rewriter.skipped:
        raise CannotDraft(rewriter.skipped[0].reason)
    if state is not None:
        body = [*speech.branch([(state.missing, state.begun)], []), *body]
    if unit.status:
        body = [*speech.assign(unit.status, "0"), *body]
    text = speech.unit(unit, [*opening, *body])
    rewriter.rendered += [(note, tree.first) for note in unit.notes]
    return "\n".join([*unit.before, text])


def _calls_itself(tree: CreateRoutine, rewriter: Rewriter) -> bool:
    """Whether a routine calls itself (MySQL 8.4, "Stored Routines and MySQL Privileges"; errors 1424 and 1456)."""
    called = [each.parts for each in rewriter.subject.all(Call)]
    called += [each.routine for each in rewriter.subject.all(Execute)]
    called += [each.call.parts for each in rewriter.subject.all(CallStatement) if isinstance(each.call, Name)]
    own = tree.routine.name
    return any(parts and parts[-1] == own[-1] and parts[:-1] in ((), own[:-1]) for parts in called)


def _is_strict(options: list[str]) -> bool:
    """Whether a function of PostgreSQL is not run where an argument is NULL: STRICT, or RETURNS NULL ON NULL INPUT."""
    return "STRICT" in options or {"RETURNS", "INPUT"} <= set(options)
