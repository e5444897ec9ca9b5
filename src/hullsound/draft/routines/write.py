"""Writes a simple routine of the catalogue in the procedural language of a target."""

from collections.abc import Sequence
from typing import Final

from hullsound.analyze.records import declared_type
from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import (
    Block,
    Call,
    CallStatement,
    CreateRoutine,
    CreateTrigger,
    CursorDeclaration,
    Delete,
    Handler,
    Insert,
    Loop,
    Name,
    Node,
    Parameter,
    Query,
    Routine,
    Select,
    SelectItem,
    TypeName,
    Unread,
    Update,
    Variable,
)

from .cursors import Cursors
from .errors import HANDLED
from .plsql import PlsqlSpeech
from .psm import MariadbSpeech, PsmSpeech
from .speech import Declared, Speech, Unit
from .triggers import add_rows, check_trigger, events_of, fires, statements_of, trigger_name
from .tsql import TsqlSpeech
from .walk import Walk

_SPEECHES: Final[dict[str, type[Speech]]] = {
    "mysql": PsmSpeech, "mariadb": MariadbSpeech, "sqlserver": TsqlSpeech, "oracle": PlsqlSpeech,
}  # fmt: skip
_UNSIZED: Final = {"mysql": "longtext", "mariadb": "longtext", "sqlserver": "nvarchar(4000)", "oracle": "varchar2"}
"""Type of a text without a length, by target."""


def write_routine(item: Object, rewriter: Rewriter) -> str:
    """Return the statement that creates a routine on the target. Raises CannotDraft for what is not simple."""
    tree = rewriter.subject.tree
    if isinstance(tree, CreateTrigger):
        return _write_trigger(item, tree, rewriter)
    speech_kind = _SPEECHES.get(rewriter.target.engine)
    block = tree.routine.block if isinstance(tree, CreateRoutine) else None
    if speech_kind is None or not isinstance(tree, CreateRoutine) or block is None:
        raise CannotDraft("code of a kind that is drafted for PostgreSQL alone")
    routine, speech = tree.routine, speech_kind(rewriter.names)
    if rewriter.subject.all(Unread) or routine.form not in ("function", "procedure"):
        raise CannotDraft("a routine of a kind that is not drafted")
    variables = _variables(routine, speech, rewriter)
    returns = _type(routine.returns, rewriter) if routine.returns is not None else ""
    if (routine.form == "function") != bool(returns):
        raise CannotDraft("a routine that gives out rows")
    name = rewriter.names.qualified(item.schema, item.name)
    parameters = [
        Declared(variables[p.name], _type(p.type, rewriter), p.mode, rewriter.node(p.default) if p.default else "")
        for p in routine.parameters
    ]
    unit = Unit(routine.form, name, parameters, returns)
    cursors = Cursors(rewriter, speech, unit)
    walk = Walk(rewriter, speech, unit, variables, cursors)
    _add_names(variables, rewriter)
    cursors.prepare()
    rewriter.edits()  # sorts the points
    _refuse_unknown(variables, cursors, rewriter)
    _declare(block, unit, walk)
    _handle(block.handlers, unit, walk)
    body = walk.body(_innermost(block).body)
    if rewriter.skipped:
        raise CannotDraft(rewriter.skipped[0].reason)
    return speech.unit(unit, body)


def _write_trigger(item: Object, tree: CreateTrigger, rewriter: Rewriter) -> str:
    """Return the statements that create a row trigger on the target. Raises CannotDraft for what is not simple."""
    speech_kind = _SPEECHES.get(rewriter.target.engine)
    if speech_kind is None or tree.block is None or rewriter.subject.all(Unread):
        raise CannotDraft("a trigger of a kind that is not drafted")
    check_trigger(tree, rewriter)
    speech = speech_kind(rewriter.names)
    written = []
    for number, events in enumerate(events_of(tree, speech)):
        if number:  # the points of one kind of change are not those of another
            assert rewriter.another is not None
            rewriter = rewriter.another(rewriter.subject.read)
        variables = _declared_names(rewriter.subject.all(Variable), speech, rewriter)
        unit = Unit("trigger", trigger_name(item, events, tree, rewriter), [], "", fires=fires(tree, events, rewriter))
        cursors = Cursors(rewriter, speech, unit)
        walk = Walk(rewriter, speech, unit, variables, cursors)
        add_rows(tree, events, speech, rewriter)
        _add_names(variables, rewriter)
        cursors.prepare()
        rewriter.edits()
        _refuse_unknown(variables, cursors, rewriter)
        block = tree.block
        if isinstance(block, Block):
            _declare(block, unit, walk)
            _handle(block.handlers, unit, walk)
        body = walk.body(statements_of(_innermost(block) if isinstance(block, Block) else block))
        if tree.condition is not None:
            body = speech.branch([(walk.condition(tree.condition), body)], [])
        if rewriter.skipped:
            raise CannotDraft(rewriter.skipped[0].reason)
        written.append(speech.unit(unit, body))
    return "\n\n".join(written)


def _innermost(block: Block) -> Block:
    """Return the block that holds the statements: the one inside, where a body is nothing but a block."""
    inner = block.body[0] if len(block.body) == 1 else None
    is_bare = isinstance(inner, Block) and not inner.handlers and not inner.declarations
    return inner if is_bare and isinstance(inner, Block) else block


def _variables(routine: Routine, speech: Speech, rewriter: Rewriter) -> dict[str, str]:
    return _declared_names([*routine.parameters, *rewriter.subject.all(Variable)], speech, rewriter)


def _declared_names(declared: Sequence[Parameter | Variable], speech: Speech, rewriter: Rewriter) -> dict[str, str]:
    """Return how each parameter and variable is called on the target; one that is called like a column gets a prefix."""
    names = {each.name for each in declared}
    if len(names) != len({(each.name, each.first) for each in declared}):
        raise CannotDraft("several variables of one name")
    names |= {loop.variable for loop in rewriter.subject.all(Loop) if loop.form == "range"}
    found = {}
    for name in names:
        bare = name.lstrip("@")
        clashes = not name.startswith("@") and bool(rewriter.catalog.columns_named(name))
        if clashes and rewriter.catalog.engine in ("oracle", "postgresql"):
            raise CannotDraft(f"the variable {name.lower()}, which is called like a column")
        if (clashes or name.startswith("@")) and rewriter.target.engine != "sqlserver":
            sign = "p" if any(p.name == name for p in declared if isinstance(p, Parameter)) else "v"
            bare = f"{sign}_{rewriter.names.folded(bare)}"
        found[name] = speech.variable(bare)
    return found


def _add_names(variables: dict[str, str], rewriter: Rewriter) -> None:
    """Write each variable by its name on the target where it is one, and functions of the source with their schema."""
    columns: set[Node] = set()
    for insert in rewriter.subject.all(Insert):
        columns |= set(insert.columns)
    for update in rewriter.subject.all(Update):
        columns |= {target for target, _ in update.assignments}
        if any(isinstance(target, Name) and target.parts[0].startswith("@") for target in columns):
            raise CannotDraft("an UPDATE that also sets a variable")
    for select in rewriter.subject.all(Select):
        aliases = {item.alias for item in select.items if isinstance(item, SelectItem) and item.alias}
        if aliases & set(variables):
            raise CannotDraft("a column of a query that is called like a variable")
    for name in rewriter.subject.all(Name):
        if len(name.parts) == 1 and name.parts[0] in variables and name not in columns:
            rewriter.put(name, variables[name.parts[0]])
    if rewriter.target.engine == "sqlserver":
        for call in rewriter.subject.all(Call):
            items = rewriter.catalog.with_name(call.parts[-1]) if len(call.parts) == 1 else []
            own = [each for each in items if each.routines]
            if own:
                rewriter.replace(
                    call.first, call.first + 1, rewriter.names.qualified(own[0].schema or "DBO", own[0].name)
                )


def _refuse_unknown(variables: dict[str, str], cursors: Cursors, rewriter: Rewriter) -> None:
    """Refuse a name outside of queries that is no variable and that nothing translates, such as FOUND."""
    subject = rewriter.subject
    in_tables = [node for kind in (Query, Insert, Update, Delete) for node in subject.all(kind)]
    called = {node.call for node in subject.all(CallStatement)}
    for name in subject.all(Name):
        is_known = name.parts[0] in variables or name.parts[0] in cursors.declared
        if len(name.parts) > 1 or is_known or name in called or rewriter.changes(name):
            continue
        if not any(node.first <= name.first and name.last <= node.last for node in in_tables):
            raise CannotDraft(f"the name {name.parts[0].lower()}, which is no variable of the routine")


def _type(node: TypeName, rewriter: Rewriter) -> str:
    """Return the target's type. Raises CannotDraft where it has none."""
    source = declared_type(node, rewriter.columns)
    if node.borrowed == "ROWTYPE" or source is None:
        raise CannotDraft("a type taken from a row")
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is None or not choice.text:
        raise CannotDraft(f"no type for {source}")
    text = choice.text
    if text.split("(")[0] in ("varchar", "nvarchar", "varchar2") and "(" not in text:
        return _UNSIZED[rewriter.target.engine]
    return text


def _declare(block: Block, unit: Unit, walk: Walk) -> None:
    """Declare the variables; those that the source declares among its statements get their values there."""
    rewriter = walk.rewriter
    heads = {node.first for node in block.declarations if isinstance(node, Variable)}
    if any(
        not isinstance(node, Variable | CursorDeclaration) and node is not walk.cursors.handler
        for node in block.declarations
    ):
        raise CannotDraft("handlers, types or routines that are declared in a routine")
    for variable in rewriter.subject.all(Variable):
        default = walk.value(variable.default) if variable.default is not None and variable.first in heads else ""
        unit.variables.append(Declared(walk.variables[variable.name], _type(variable.type, rewriter), "", default))
    for loop in rewriter.subject.all(Loop):
        if loop.form == "range" and not any(v.name == loop.variable for v in rewriter.subject.all(Variable)):
            counted = Declared(walk.variables[loop.variable], walk.speech.integer)
            if counted not in unit.variables:
                unit.variables.append(counted)


def _handle(handlers: list[Handler], unit: Unit, walk: Walk) -> None:
    """Write the handlers of the outermost block, which end the routine in both languages."""
    if handlers and (walk.source != "oracle" or walk.target not in ("mysql", "mariadb")):
        raise CannotDraft("handlers of errors")
    for handler in handlers:
        conditions = [HANDLED.get(name[-1], "") for name in handler.exceptions]
        if not all(conditions):
            raise CannotDraft(f"the exception {handler.exceptions[conditions.index('')][-1].lower()}")
        unit.handlers.append((", ".join(conditions), walk.body(handler.body)))
