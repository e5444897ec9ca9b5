"""Headers and ends of routines, packages, triggers and blocks."""

from functools import partial

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.plpgsql.shared import add_partial_points, dollar_quote, trigger_function
from hullsound.draft.plpgsql.stubs import stub_text
from hullsound.sql.tree import (
    AnonymousBlock,
    Block,
    CompoundBody,
    CreatePackage,
    CreateRoutine,
    CreateTrigger,
    CursorDeclaration,
    ExceptionDeclaration,
    Name,
    Pragma,
    Return,
    Routine,
    TableRef,
    TypeDeclaration,
    Variable,
)

from .compound import add_compound_trigger
from .nested import Beside
from .state import State, accessors, start_head
from .statements import add_code_points, hoisted_declarations
from .types import record_definition, write_type


def add_unit_points(rewriter: Rewriter, item: Object) -> None:
    """Add the points that turn a whole unit of PL/SQL into statements of PostgreSQL."""
    beside = Beside(rewriter)
    beside.add(item.schema)
    add_code_points(rewriter)
    tree = rewriter.subject.tree
    if rewriter.is_partial:
        for block in rewriter.subject.all(Block):
            add_partial_points([block], rewriter)
    match tree:
        case CreateRoutine():
            if rewriter.is_partial and _is_marked(tree.routine, rewriter):
                raise CannotDraft("a routine of which no part makes sense by itself")
            _add_routine(tree.routine, tree.first, item.schema, beside, rewriter)
        case CreatePackage():
            _add_package(tree, beside, rewriter)
        case CreateTrigger():
            _add_trigger(tree, item, rewriter)
        case AnonymousBlock():
            _add_anonymous(tree, rewriter)
        case _:
            raise CannotDraft("code of a kind that is not drafted")


def header(routine: Routine, schema: str, rewriter: Rewriter) -> str:
    """Return CREATE ... AS and the opening quote of a routine."""
    name = rewriter.names.qualified(schema, routine.name[-1])
    parameters = rewriter.text(*routine.parameters_span) if routine.parameters_span else "()"
    text = f"CREATE OR REPLACE {routine.form.upper()} {name}{parameters}"
    if routine.returns is not None:
        text += f"\nRETURNS {rewriter.node(routine.returns)}"
    text += "\nLANGUAGE plpgsql"
    if "DETERMINISTIC" in routine.options and not _uses_state(routine, rewriter):
        text += " STABLE" if _reads_the_world(routine, rewriter) else " IMMUTABLE"
    return text


def _uses_state(routine: Routine, rewriter: Rewriter) -> bool:
    """Whether a routine reads or writes variables of packages, so that it is neither immutable nor stable."""
    state = State(rewriter)
    names = (n for n in rewriter.subject.all(Name) if routine.first <= n.first < routine.last)
    return any(state.place_of(name) is not None for name in names)


def _reads_the_world(routine: Routine, rewriter: Rewriter) -> bool:
    """Whether a routine reads tables or a clock, so that the same arguments need not give the same result for ever."""
    inside = range(routine.first, routine.last)
    clocks = ("SYSDATE", "SYSTIMESTAMP", "CURRENT_DATE", "CURRENT_TIMESTAMP", "LOCALTIMESTAMP", "USER")
    return any(node.first in inside for node in rewriter.subject.all(TableRef)) or any(
        name.first in inside and name.parts[-1] in clocks for name in rewriter.subject.all(Name)
    )


def _quote(rewriter: Rewriter) -> str:
    return dollar_quote(rewriter.subject.read.text)


def _opening(rewriter: Rewriter, block: Block, unit: Routine | CreateTrigger | AnonymousBlock) -> str:
    """Return DECLARE with what must be hoisted, where the unit declares anything."""
    hoisted = "".join(f"  {line}\n" for line in hoisted_declarations(rewriter, unit))
    if not block.declarations and not hoisted:
        return ""
    return f"DECLARE\n{hoisted}"


def _routine_head(routine: Routine, schema: str, beside: Beside, rewriter: Rewriter) -> str:
    assert routine.block is not None
    opening = _label(routine, routine.block, rewriter) + _opening(rewriter, routine.block, routine)
    return f"{beside.text_before(routine)}{header(routine, schema, rewriter)}\nAS {_quote(rewriter)}\n{opening}".rstrip(
        "\n"
    )


def _label(routine: Routine, block: Block, rewriter: Rewriter) -> str:
    """Return the label by which statements name variables of the routine's own block; '' where none does.

    In PL/pgSQL the name of a function stands for its parameters alone (PostgreSQL 18, "Structure of PL/pgSQL").
    """
    declared = {each.name for each in block.declarations if isinstance(each, Variable)}
    own = routine.name[-1:]
    if any(
        name.parts[-2:-1] == own and name.parts[-1] in declared
        for name in rewriter.subject.read.inside(Name, routine.first, routine.last)
    ):
        return f"<<{rewriter.names.write(own[0])}>>\n"
    return ""


def _drop_package(routine: Routine, rewriter: Rewriter) -> None:
    """Leave the package out of names of what the routine itself declares: package.routine.variable."""
    tree, inside = rewriter.subject.tree, rewriter.subject.read.inside
    if not isinstance(tree, CreatePackage):
        return
    declared = {each.name for each in inside(Variable, routine.first, routine.last)}
    declared |= {each.name for each in routine.parameters}
    for name in inside(Name, routine.first, routine.last):
        if name.parts[:-1] == (tree.name[-1], routine.name[-1]) and name.parts[-1] in declared:
            rewriter.replace(name.first, name.first + 2, "")


def _add_routine(routine: Routine, first: int, schema: str, beside: Beside, rewriter: Rewriter) -> None:
    block = routine.block
    if block is None:
        raise CannotDraft("a routine without a body")
    if routine.form == "function" and any(parameter.mode != "in" for parameter in routine.parameters):
        raise CannotDraft("a function with OUT parameters")
    rewriter.add(Point(first, routine.is_at + 1, partial(_routine_head, routine, schema, beside)))
    _drop_package(routine, rewriter)
    last = routine.last + 1 if rewriter.words[routine.last] == ";" else routine.last
    rewriter.replace(block.end_at, last, f"END;\n{_quote(rewriter)};")
    for inner, outer in beside.inner.items():
        if outer is routine:
            inner.name = (f"{routine.name[-1]}_{inner.name[-1]}",)
            _add_routine(inner, inner.first, schema, beside, rewriter)


def _add_package(tree: CreatePackage, beside: Beside, rewriter: Rewriter) -> None:
    """A package becomes a schema of its name; its body, the routines in that schema."""
    name = tree.name[-1]
    schema = rewriter.names.write(name)
    rewriter.replace(tree.first, tree.is_at + 1, f"CREATE SCHEMA IF NOT EXISTS {schema};")
    for item in tree.declarations:
        if isinstance(item, Routine):
            if item.block is not None:
                _add_member(item, name, beside, rewriter)
            else:
                rewriter.replace(item.first, item.last + 1, "")
        elif isinstance(item, Variable) and item.constant:
            rewriter.add(Point(item.first, item.last + 1, partial(_constant, item, name), "oracle.package-constant"))
        elif isinstance(item, Variable):
            rewriter.add(Point(item.first, item.last + 1, partial(accessors, item, name), "oracle.package-state"))
        elif isinstance(item, TypeDeclaration) and item.form == "record":
            rewriter.add(Point(item.first, item.last + 1, partial(record_definition, item), "oracle.package-type"))
        elif isinstance(item, CursorDeclaration):
            rewriter.replace(item.first, item.last + 1, "")  # each routine that opens it declares it
        elif isinstance(item, ExceptionDeclaration | Pragma | TypeDeclaration):
            continue
        else:
            raise CannotDraft("a declaration that is no routine")
    start = tree.declarations[-1].last + 1 if tree.declarations else tree.is_at + 1
    last = tree.last + 1 if rewriter.words[tree.last] == ";" else tree.last
    block = tree.initialization
    if block is None:
        rewriter.replace(start, last, "")
    elif isinstance(block, Block):
        rewriter.add(Point(block.begin_at, block.begin_at + 1, partial(_start, block, name)))
        rewriter.replace(block.end_at, last, f"END;\n{_quote(rewriter)};")


def _start(block: Block, package: str, rewriter: Rewriter) -> str:
    hoisted = "".join(f"  {line}\n" for line in hoisted_declarations(rewriter, block))
    return start_head(package, f"DECLARE\n{hoisted}" if hoisted else "", rewriter)


def _add_member(routine: Routine, package: str, beside: Beside, rewriter: Rewriter) -> None:
    """Add the points of a routine of a package; one that cannot be drafted raises an error where the body is partial."""
    if not rewriter.is_partial:
        _add_routine(routine, routine.first, package, beside, rewriter)
        return
    try:
        _add_routine(routine, routine.first, package, beside, rewriter)
    except CannotDraft as cannot:
        reason: str | None = str(cannot)
    else:
        reason = None
    rewriter.add(Point(routine.first, routine.last + 1, partial(_member_or_stub, routine, package, reason), rank=10))


def _is_marked(routine: Routine, rewriter: Rewriter) -> bool:
    """Whether a pragma that only a person can write, such as a transaction of its own, stands in a routine."""
    return any(
        routine.first <= pragma.first <= each.token < pragma.last <= routine.last
        for pragma in rewriter.subject.all(Pragma)
        for each in rewriter.unconverted
    )


def _member_or_stub(routine: Routine, package: str, reason: str | None, rewriter: Rewriter) -> str:
    known = len(rewriter.skipped)
    if reason is None and not _is_marked(routine, rewriter):
        text = rewriter.text(routine.first, routine.last + 1)
        if len(rewriter.skipped) == known:
            return text
    del rewriter.skipped[known:]
    source = rewriter.tokens.source(routine.first, routine.last)
    name = rewriter.names.qualified(package, routine.name[-1])
    return stub_text(routine, name, source, f"not converted: {package}.{routine.name[-1]}".lower(), [], rewriter)


def _constant(item: Variable, package: str, rewriter: Rewriter) -> str:
    """Write a constant as a function that gives its value."""
    if item.default is None:
        raise CannotDraft("a constant without a value")
    name = rewriter.names.qualified(package, item.name)
    kind = write_type(item.type, rewriter, unsized=True)
    value = f"CAST({rewriter.node(item.default)} AS {kind})"
    return (
        f"CREATE OR REPLACE FUNCTION {name}()\n  RETURNS {kind} LANGUAGE sql IMMUTABLE "
        f"AS {_quote(rewriter)} SELECT {value} {_quote(rewriter)};"
    )


def _trigger_head(tree: CreateTrigger, item: Object, rewriter: Rewriter) -> str:
    assert isinstance(tree.block, Block)
    function = rewriter.names.qualified(item.schema, trigger_function(item.name))
    return (
        f"CREATE OR REPLACE FUNCTION {function}()\nRETURNS trigger\nLANGUAGE plpgsql\n"
        f"AS {_quote(rewriter)}\n{_opening(rewriter, tree.block, tree).rstrip()}"
    )


def _add_trigger(tree: CreateTrigger, item: Object, rewriter: Rewriter) -> None:
    block = tree.block
    _add_records(tree, rewriter)
    if isinstance(block, CompoundBody):
        add_compound_trigger(tree, block, item, rewriter)
        return
    if not isinstance(block, Block) or tree.level not in ("row", "statement"):
        raise CannotDraft("a trigger that is no block on a table")
    body = block.declarations[0].first if block.declarations else block.begin_at
    rewriter.add(Point(tree.first, body, partial(_trigger_head, tree, item)))
    if tree.level == "row" and tree.timing != "after":
        result = (
            "IF TG_OP = 'DELETE' THEN RETURN OLD; END IF; RETURN NEW;" if "delete" in tree.events else "RETURN NEW;"
        )
    else:
        result = "RETURN NULL;"
    if block.exception_at >= 0:
        rewriter.insert(block.exception_at, f"  {result}\n")
    for handler in block.handlers[:-1]:
        rewriter.insert(handler.last, f"  {result}\n")
    for each in rewriter.subject.all(Return):
        rewriter.replace(each.first, each.last, result.removesuffix(";"))
    last = tree.last + 1 if rewriter.words[tree.last] == ";" else tree.last
    rewriter.add(Point(block.end_at, last, partial(_trigger_tail, tree, item, result)))


def _add_records(tree: CreateTrigger, rewriter: Rewriter) -> None:
    """Write NEW and OLD for the names that the condition has for them by REFERENCING."""
    if tree.condition is None:
        return
    for name in rewriter.subject.all(Name):
        record = tree.referencing.get(name.parts[0], name.parts[0])
        if tree.condition.first <= name.first < tree.condition.last and record != name.parts[0]:
            rewriter.replace(name.first, name.first + 1, record)


def _trigger_tail(tree: CreateTrigger, item: Object, result: str, rewriter: Rewriter) -> str:
    """End the body with its result, which also ends the last handler, and create the trigger."""
    names = rewriter.names
    function = names.qualified(item.schema, trigger_function(item.name))
    table = names.qualified(*(tree.table if len(tree.table) > 1 else (item.schema, tree.table[-1])))
    events = []
    for event in tree.events:
        of = (
            f" OF {', '.join(map(names.write, tree.update_columns))}"
            if event == "update" and tree.update_columns
            else ""
        )
        events.append(event.upper() + of)
    text = f"  {result}\nEND;\n{_quote(rewriter)};\n\nCREATE TRIGGER {names.write(item.name)}\n"
    text += f"{tree.timing.upper()} {' OR '.join(events)} ON {table}\nFOR EACH {tree.level.upper()}"
    if tree.condition is not None:
        text += f"\nWHEN ({_when(tree, rewriter)})"
    text += f"\nEXECUTE FUNCTION {function}();"
    if tree.disabled:
        text += f"\nALTER TABLE {table} DISABLE TRIGGER {names.write(item.name)};"
    return text


def _when(tree: CreateTrigger, rewriter: Rewriter) -> str:
    assert tree.condition is not None
    return rewriter.elsewhere(tree.condition)


def _add_anonymous(tree: AnonymousBlock, rewriter: Rewriter) -> None:
    block = tree.block
    start = block.declarations[0].first if block.declarations else block.begin_at

    def head(rewriter: Rewriter) -> str:
        return f"DO {_quote(rewriter)}\n{_opening(rewriter, block, tree)}".rstrip()

    rewriter.add(Point(tree.first, start, head))
    last = tree.last + 1 if rewriter.words[tree.last] == ";" else tree.last
    rewriter.replace(block.end_at, last, f"END;\n{_quote(rewriter)};")
