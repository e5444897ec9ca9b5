"""Headers and ends of routines and triggers of SQL/PSM."""

from functools import partial

from hullsound.catalog.model import Object
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.plpgsql.parameters import cast_in_defaults, cast_where_read
from hullsound.draft.plpgsql.reentry import WITHOUT_REENTRY, entered, fires_itself, left, setting_of
from hullsound.draft.plpgsql.results import Shape, result_name
from hullsound.draft.plpgsql.shared import (
    dollar_quote,
    shares_line,
    trigger_function,
    write_type,
)
from hullsound.sql.tree import (
    AnonymousBlock,
    Block,
    Call,
    ColumnDefinition,
    CreateRoutine,
    CreateTrigger,
    Delete,
    Execute,
    Insert,
    Name,
    Node,
    Parameter,
    Paren,
    Query,
    Return,
    Routine,
    Subquery,
    TableRef,
    Update,
    Variable,
)

from .raising import add_raising_queries
from .statements import PsmCode

_MODES = {"in": "", "out": "OUT ", "in out": "INOUT "}


def add_psm_unit(rewriter: Rewriter, item: Object) -> None:
    """Add the points that turn a routine or trigger into statements of PostgreSQL."""
    tree = rewriter.subject.tree
    if isinstance(tree, CreateRoutine):
        _add_routine(tree.routine, tree.first, item, rewriter)
    elif isinstance(tree, CreateTrigger):
        _add_trigger(tree, item, rewriter)
    else:
        _add_anonymous(rewriter)


def _body(block: Node | None, rewriter: Rewriter) -> list[Node]:
    """Return the statements of a body: one block, or one statement that stands for it."""
    if not isinstance(block, Block):
        return [block] if block is not None else []
    return [block] if rewriter.words[block.begin_at] == "BEGIN" else block.body


def _add_routine(routine: Routine, first: int, item: Object, rewriter: Rewriter) -> None:
    if routine.block is None:
        raise CannotDraft("a routine without a body")
    if routine.returns is not None and routine.returns.name == "TABLE":
        _add_table_function(routine, first, item, rewriter)
        return
    body = _body(routine.block, rewriter)
    code = PsmCode(rewriter, body, "RETURN" if routine.form == "procedure" else "RETURN NULL")
    code.parameters = routine.parameters
    if code.outermost is not None:
        declared = [each for each in rewriter.subject.all(Variable) if each in code.outermost.declarations]
        cast_in_defaults(routine.parameters, code.outermost.first, declared, rewriter)
    code.add()
    rewriter.add(Point(first, routine.is_at, partial(_head, routine, item, code)))
    _wrap(body, routine.is_at, routine.last, code, rewriter)


def _add_table_function(routine: Routine, first: int, item: Object, rewriter: Rewriter) -> None:
    """Write a function that returns the rows of one query in SQL, which gives them the types that are declared."""
    returned = routine.block.body[0] if isinstance(routine.block, Block) and routine.block.body else routine.block
    query = _returned_query(returned, rewriter)
    if query is None or rewriter.words[returned.first if returned is not None else 0 : query.first] != ["RETURN"]:
        raise CannotDraft("a function whose rows more than one query makes")
    named = {name for name, kind in rewriter.subject.scope.declared.items() if kind is not None}
    if any(rewriter.catalog.columns_named(name) for name in named):
        raise CannotDraft("a parameter that is called like a column")
    PsmCode(rewriter, [], "RETURN").add()
    cast_where_read(routine.parameters, query, rewriter)
    rewriter.add(Point(first, query.first, partial(_table_head, routine, item)))
    rewriter.add(Point(query.last, max(routine.last, query.last), partial(_table_end), behind=0, is_last=True))


def _returned_query(node: Node | None, rewriter: Rewriter) -> Query | None:
    """Return the query that RETURN gives out."""
    value = node.value if isinstance(node, Return) else None
    while isinstance(value, Paren | Subquery):
        value = value.inner if isinstance(value, Paren) else value.query
    return value if isinstance(value, Query) else None


def _table_head(routine: Routine, item: Object, rewriter: Rewriter) -> str:
    assert routine.returns is not None
    inside = range(routine.returns.first, routine.returns.last)
    columns = [c for c in rewriter.subject.all(ColumnDefinition) if c.first in inside and c.type is not None]
    listed = ", ".join(
        f"{rewriter.names.write(c.name)} {write_type(c.type, rewriter, unsized=True)}" for c in columns if c.type
    )
    parameters = ", ".join(_parameter(each, rewriter) for each in routine.parameters)
    name = rewriter.names.qualified(item.schema, item.name)
    return (
        f"CREATE OR REPLACE FUNCTION {name}({parameters})\nRETURNS TABLE ({listed})\nLANGUAGE sql STABLE\n"
        f"AS {dollar_quote(rewriter.subject.read.text)}\n"
    )


def _table_end(rewriter: Rewriter) -> str:
    return f"\n{dollar_quote(rewriter.subject.read.text)};"


def _add_anonymous(rewriter: Rewriter) -> None:
    """Put a statement of a script that only code can hold, such as CALL, into a DO block."""
    tree = rewriter.subject.tree
    block = tree.block if isinstance(tree, AnonymousBlock) else None
    calls = [each for each in rewriter.subject.all(Execute) if each.first == tree.first]
    body: list[Node] = [block] if block is not None else [*calls]
    if not body:
        raise CannotDraft("a statement that is not drafted")
    code = PsmCode(rewriter, body, "RETURN")
    if code.result_count:
        raise CannotDraft("a result set given out by a script")
    code.add()
    rewriter.insert(tree.first, f"DO {dollar_quote(rewriter.subject.read.text)}\n")
    _wrap(body, tree.first, tree.last, code, rewriter)


def _wrap(body: list[Node], first: int, last: int, code: PsmCode, rewriter: Rewriter) -> None:
    """End the body; one that is a single statement gets a block around it."""
    quote = dollar_quote(rewriter.subject.read.text)
    end = last + 1 if rewriter.words[last] == ";" else last
    if code.outermost is not None:
        tail = f";\n{quote};"
    else:
        rewriter.insert(first, f"{code.hoisted.section()}BEGIN\n{code.opening()}  ")
        result = f"  {code.result_line}\n" if code.result_line else ""
        tail = f";\n{result}END;\n{quote};"
    if end > last:
        rewriter.replace(last, end, tail)
    else:
        rewriter.add(Point(last, last, lambda r: tail, behind=0, is_last=True))


def _head(routine: Routine, item: Object, code: PsmCode, rewriter: Rewriter) -> str:
    name = rewriter.names.qualified(item.schema, item.name)
    parameters = [_parameter(each, rewriter) for each in routine.parameters]
    parameters += Shape(code.result_count, code.has_status).parameters()
    text = f"CREATE OR REPLACE {routine.form.upper()} {name}({', '.join(parameters)})"
    if routine.returns is not None:
        text += f"\nRETURNS {write_type(routine.returns, rewriter, unsized=True)}"
    text += "\nLANGUAGE plpgsql"
    says_so = routine.form == "function" and "DETERMINISTIC" in routine.options and "NOT" not in routine.options
    if says_so and _depends_on_arguments_alone(rewriter):
        text += " IMMUTABLE"
    text += f"\nAS {dollar_quote(rewriter.subject.read.text)}\n{variable_conflict(rewriter)}"
    return text if shares_line(routine.is_at, rewriter) else text.rstrip("\n")


def _parameter(node: Parameter, rewriter: Rewriter) -> str:
    text = f"{_MODES[node.mode]}{rewriter.names.parameter(node.name)} {write_type(node.type, rewriter, unsized=True)}"
    return f"{text} DEFAULT {rewriter.node(node.default)}" if node.default is not None else text


def variable_conflict(rewriter: Rewriter) -> str:
    """Say that a variable goes before a column of its name, as in the source, where there is such a column."""
    declared = rewriter.subject.scope.declared
    clash = any(kind is not None and rewriter.catalog.columns_named(name) for name, kind in declared.items())
    return "#variable_conflict use_variable\n" if clash else ""


def _depends_on_arguments_alone(rewriter: Rewriter) -> bool:
    """Whether a body reads no table, no clock and calls nothing of the catalogue, so that it may be IMMUTABLE."""
    subject = rewriter.subject
    if any(subject.all(kind) for kind in (TableRef, Insert, Update, Delete)):
        return False
    clocks = {"NOW", "CURDATE", "CURRENT_DATE", "CURRENT_TIMESTAMP", "SYSDATE", "RAND", "UUID", "CURTIME", "USER"}
    used = {c.parts[-1] for c in subject.all(Call)} | {n.parts[-1] for n in subject.all(Name)}
    own = any(rewriter.catalog.with_name(call.parts[-1]) for call in subject.all(Call))
    return not used & clocks and not own


# --- triggers ---


def _add_trigger(tree: CreateTrigger, item: Object, rewriter: Rewriter) -> None:
    if tree.level not in ("row", "statement") or tree.block is None:
        raise CannotDraft("a trigger that is not on a table")
    if tree.level == "statement" and tree.timing.lower() == "instead of":
        raise CannotDraft("a trigger that takes the place of a whole statement on a view")
    body = _body(tree.block, rewriter)
    result, table = _result(tree), rewriter.catalog.objects.get(item.table)
    is_alone = rewriter.catalog.engine in WITHOUT_REENTRY and table is not None and tree.level == "row"
    if is_alone and table is not None and body and fires_itself(tree, item, table, rewriter):
        given = result.removesuffix(";").removeprefix("RETURN ")
        inside = body[0].body if isinstance(body[0], Block) else body
        rewriter.insert(inside[0].first, entered(setting_of(item), given).lstrip())
        result = f"{left(setting_of(item))}{result}"
    if rewriter.catalog.engine == "sqlite":
        add_raising_queries(tree, rewriter)
    code = PsmCode(rewriter, body, result.removesuffix(";"), result)
    if code.result_count:
        raise CannotDraft(f"a trigger that gives out {result_name(1)}")
    code.add()
    _add_records(tree, rewriter)
    _drop_brackets(tree.block, rewriter)
    start = tree.block.first
    while rewriter.words[start - 1] == ":":
        start -= 2
    rewriter.add(Point(tree.first, start, partial(_trigger_head, item, start)))
    _wrap_trigger(tree, item, body, start, code, rewriter)


def _drop_brackets(block: Node, rewriter: Rewriter) -> None:
    """Take away the brackets that Teradata has around the statements of a trigger."""
    words = rewriter.words
    if words[block.first] != "(":
        return
    close = next(at for at in range(block.last - 1, block.first, -1) if words[at] == ")")
    rewriter.replace(block.first, block.first + 1, "")
    rewriter.replace(close - 1 if words[close - 1] == ";" else close, block.last, "")


def _result(tree: CreateTrigger) -> str:
    if tree.level == "row" and tree.timing != "after":
        return "RETURN OLD;" if tree.events == ["delete"] else "RETURN NEW;"
    return "RETURN NULL;"


def _add_records(tree: CreateTrigger, rewriter: Rewriter) -> None:
    """Write the names that REFERENCING gives as NEW and OLD."""
    if tree.level != "row":
        return
    for name in rewriter.subject.all(Name):
        record = tree.referencing.get(name.parts[0], "")
        if record in ("NEW", "OLD") and len(name.parts) == 2 and name.parts[0] != record:
            rewriter.replace(name.first, name.first + 1, record)


def _trigger_head(item: Object, start: int, rewriter: Rewriter) -> str:
    function = rewriter.names.qualified(item.schema, trigger_function(item.name))
    text = (
        f"CREATE OR REPLACE FUNCTION {function}()\nRETURNS trigger\nLANGUAGE plpgsql\n"
        f"AS {dollar_quote(rewriter.subject.read.text)}\n"
    )
    return text if shares_line(start, rewriter) else text.rstrip("\n")


def _wrap_trigger(
    tree: CreateTrigger, item: Object, body: list[Node], start: int, code: PsmCode, rewriter: Rewriter
) -> None:
    names = rewriter.names
    quote = dollar_quote(rewriter.subject.read.text)
    last = tree.last + 1 if rewriter.words[tree.last] == ";" else tree.last
    function = names.qualified(item.schema, trigger_function(item.name))
    table = rewriter.catalog.objects.get(item.table)
    where = names.qualified(table.schema, table.name) if table is not None else names.qualified(*tree.table)
    of = f" OF {', '.join(map(names.write, tree.update_columns))}" if tree.update_columns else ""
    events = " OR ".join(event.upper() + (of if event == "update" else "") for event in tree.events)

    def tail(rewriter: Rewriter) -> str:
        end = "" if code.outermost is not None else f";\n  {code.result_line}\nEND"
        text = f"{end};\n{quote};\n\nCREATE TRIGGER {names.write(item.name)}\n{tree.timing.upper()} {events} ON {where}"
        if tree.level == "statement":
            text += _transition_tables(tree, rewriter)
        text += f"\nFOR EACH {tree.level.upper()}"
        if tree.condition is not None:
            text += f"\nWHEN ({rewriter.elsewhere(tree.condition)})"
        return f"{text}\nEXECUTE FUNCTION {function}();"

    if code.outermost is None:
        rewriter.insert(start, f"{code.hoisted.section()}BEGIN\n  ")
    end = tree.block.last if tree.block is not None else tree.last
    if last > end:
        rewriter.add(Point(end, last, tail))
    else:
        rewriter.add(Point(last, last, tail, behind=0, is_last=True))


def _transition_tables(tree: CreateTrigger, rewriter: Rewriter) -> str:
    records = {alias: record.replace("_", " ").removesuffix(" TABLE") for alias, record in tree.referencing.items()}
    parts = [f"{record} TABLE AS {rewriter.names.write(alias)}" for alias, record in records.items()
             if record in ("NEW", "OLD")]  # fmt: skip
    return f"\nREFERENCING {' '.join(parts)}" if parts else ""
