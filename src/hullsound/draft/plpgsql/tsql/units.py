"""Headers and ends of routines of Transact-SQL."""

from collections.abc import Callable
from functools import partial

from hullsound.catalog.model import Object
from hullsound.draft.conversions.values import target_type
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.variables import prefixed
from hullsound.draft.plpgsql.parameters import cast_where_read, keep_sizes
from hullsound.draft.plpgsql.results import Shape, routine_shape
from hullsound.draft.plpgsql.shared import (
    dollar_quote,
    shares_line,
    temporary_table,
    unsized_text,
    write_type,
)
from hullsound.draft.statements.change_parts import local_table
from hullsound.sql.tree import (
    AnonymousBlock,
    Block,
    ColumnDefinition,
    ConstraintDefinition,
    CreateRoutine,
    CreateTrigger,
    Execute,
    Name,
    Node,
    Operation,
    Parameter,
    Paren,
    Query,
    Routine,
    Select,
    Subquery,
)

from .definition_triggers import add_definition_trigger
from .filling import prepare_executes
from .output import prepare_output
from .rows import row_type, row_type_name
from .statements import TsqlCode, outer_statements
from .triggers import add_trigger

_CONFLICT = "#variable_conflict use_column\n"


def add_tsql_unit(rewriter: Rewriter, item: Object) -> None:
    """Add the points that turn a routine, trigger or batch into statements of PostgreSQL."""
    tree = rewriter.subject.tree
    if isinstance(tree, CreateRoutine):
        _add_routine(tree.routine, tree.first, item, rewriter)
    elif isinstance(tree, CreateTrigger) and tree.level in ("database", "server"):
        add_definition_trigger(tree, item, rewriter)
    elif isinstance(tree, CreateTrigger):
        add_trigger(tree, item, rewriter)
    elif isinstance(tree, AnonymousBlock):
        _add_batch(tree.block, tree, rewriter)
    else:
        _add_batch(None, tree, rewriter)


def _add_batch(block: Block | None, tree: Node, rewriter: Rewriter) -> None:
    """Put statements of a script that only code can hold into a DO block."""
    calls = [each for each in rewriter.subject.all(Execute) if each.first == tree.first]
    body: list[Node] = block.body if block is not None else [*calls[-1:]] or [tree]
    code = TsqlCode(rewriter, body, "", "batch")
    prepare_executes(code)
    prepare_output(code)
    code.add()
    quote = dollar_quote(rewriter.subject.read.text)
    rewriter.insert(tree.first, f"DO {quote}\n")
    rewriter.add(Point(tree.first, tree.first, lambda r: f"{code.declare()}BEGIN\n"))
    end = code.end_of(body[-1]) if body else tree.last
    rewriter.add(Point(end, end, lambda r: f"\nEND;\n{quote};", behind=0, is_last=True))


def _add_routine(routine: Routine, first: int, item: Object, rewriter: Rewriter) -> None:
    block = routine.block
    if block is None:
        raise CannotDraft("a routine without a body")
    is_table = routine.returns is not None and routine.returns.name == "TABLE"
    if is_table and len(block.body) == 1 and not isinstance(block.body[0], Block):
        query = _inline_query(block.body[0])
        if query is not None:
            _add_inline(routine, query, first, item, rewriter)
            return
    statements, around = outer_statements(block, rewriter.words)
    code = TsqlCode(rewriter, statements, item.name.lower(), routine.form)
    if routine.form == "procedure":
        code.has_status = routine_shape(rewriter.subject.read, rewriter.catalog, rewriter.default_schema).has_status
    if is_table:
        code.returned_table = rewriter.names.write(local_table(_returned(routine, rewriter).name))
    prepare_executes(code)
    prepare_output(code)
    code.add()
    start = around.begin_at + 1 if around is not None else block.first
    rewriter.add(Point(first, start, partial(_head, routine, item, code, is_table, start)))
    _close(routine, block, around, code, rewriter)


def _close(routine: Routine, block: Block, around: Block | None, code: TsqlCode, rewriter: Rewriter) -> None:
    quote = dollar_quote(rewriter.subject.read.text)
    tail = f"END;\n{quote};"
    end = routine.last + 1 if rewriter.words[routine.last] == ";" else routine.last
    if around is not None:
        rewriter.replace(around.end_at, max(end, around.last), tail)
    else:
        last = max(end, code.end_of(block.body[-1]) if block.body else end)
        rewriter.add(Point(last, last, lambda r: f"\n{tail}", behind=0, is_last=True))


def _head(routine: Routine, item: Object, code: TsqlCode, is_table: bool, start: int, rewriter: Rewriter) -> str:
    text = f"CREATE OR REPLACE {routine.form.upper()} {rewriter.names.qualified(item.schema, item.name)}"
    extra = Shape(code.result_count, code.has_status).parameters() if routine.form == "procedure" else []
    text += f"({', '.join([*_parameters(routine, rewriter), *extra])})"
    sized = [each for each in routine.parameters if row_type(each.type, rewriter) is None]
    opening = ""
    if is_table:
        columns, constraints = _table_columns(routine, rewriter)
        listed = ", ".join(
            f"{rewriter.names.parameter(c.name)} {write_type(c.type, rewriter)}" for c in columns if c.type is not None
        )
        text += f"\nRETURNS TABLE ({listed})"
        body = temporary_table(_returned(routine, rewriter).name, columns, constraints, rewriter)
        opening = f"  DROP TABLE IF EXISTS pg_temp.{code.returned_table};\n  CREATE TEMP TABLE {body} ON COMMIT DROP;\n"
    elif routine.returns is not None:
        text += f"\nRETURNS {write_type(routine.returns, rewriter, unsized=True)}"
    text += f"\nLANGUAGE plpgsql\nAS {dollar_quote(rewriter.subject.read.text)}\n"
    opening = keep_sizes(sized, start, _called(rewriter), rewriter) + opening
    text += f"{_CONFLICT if is_table else ''}{code.declare()}BEGIN\n{opening}"
    return text if shares_line(start, rewriter) else text.rstrip("\n")


def _called(rewriter: Rewriter) -> Callable[[str], str]:
    return lambda name: rewriter.names.write(prefixed("P", name))


def _parameters(routine: Routine, rewriter: Rewriter) -> list[str]:
    """Write the parameters; behind one with a default each gets one, as PostgreSQL asks for."""
    parameters = []
    called = _called(rewriter)
    has_default = False
    for each in routine.parameters:
        rows = row_type(each.type, rewriter)
        if rows is not None:
            kind = f"{row_type_name(rows, rewriter)}[]"
        elif rewriter.words[each.last - 1] == "READONLY":
            raise CannotDraft("a table as a parameter")
        else:
            kind = write_type(each.type, rewriter, unsized=True)
        name = called(each.name)
        text = f"{'INOUT ' if each.mode == 'in out' else ''}{name} {kind}"
        if each.default is not None:
            text += f" DEFAULT {rewriter.node(each.default)}"
            has_default = True
        elif has_default:
            text += " DEFAULT NULL"
        parameters.append(text)
    return parameters


def _returned(routine: Routine, rewriter: Rewriter) -> Parameter:
    """Return the table variable that a function gives back."""
    for parameter in rewriter.subject.all(Parameter):
        if parameter.mode == "out" and parameter.type is routine.returns:
            return parameter
    raise CannotDraft("a table that it returns and that is not read in full")


def _table_columns(routine: Routine, rewriter: Rewriter) -> tuple[list[ColumnDefinition], list[ConstraintDefinition]]:
    returned = _returned(routine, rewriter)
    inside = range(returned.first, returned.last)
    columns = [c for c in rewriter.subject.all(ColumnDefinition) if c.first in inside]
    own = [c for column in columns for c in column.constraints]
    return columns, [c for c in rewriter.subject.all(ConstraintDefinition) if c.first in inside and c not in own]


# --- functions that are one query ---


def _inline_query(node: Node) -> Query | None:
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Subquery):
        return _inline_query(node.query)
    if not isinstance(node, Query):
        return None
    inner = node.blocks[0] if len(node.blocks) == 1 else None
    return _inline_query(inner) if isinstance(inner, Subquery | Paren) else node


def _add_inline(routine: Routine, query: Query, first: int, item: Object, rewriter: Rewriter) -> None:
    code = TsqlCode(rewriter, [], item.name.lower(), "function")
    code.add()
    cast_where_read([each for each in routine.parameters if row_type(each.type, rewriter) is None], query, rewriter)
    rewriter.add(Point(first, query.first, partial(_inline_head, routine, query, item)))
    end = routine.last + 1 if rewriter.words[routine.last] == ";" else routine.last
    tail = f"\n{dollar_quote(rewriter.subject.read.text)};"
    if end > query.last:
        rewriter.replace(query.last, end, tail)
    else:
        rewriter.add(Point(end, end, lambda r: tail, behind=0, is_last=True))


def _inline_head(routine: Routine, query: Query, item: Object, rewriter: Rewriter) -> str:
    columns = ", ".join(f"{rewriter.names.parameter(name)} {kind}" for name, kind in result_columns(query, rewriter))
    name = rewriter.names.qualified(item.schema, item.name)
    return (
        f"CREATE OR REPLACE FUNCTION {name}({', '.join(_parameters(routine, rewriter))})\nRETURNS TABLE ({columns})\n"
        f"LANGUAGE sql STABLE\nAS {dollar_quote(rewriter.subject.read.text)}\n"
    )


def result_columns(query: Query, rewriter: Rewriter) -> list[tuple[str, str]]:
    """Return name and type of each column of a query's result. Raises CannotDraft where one is not known."""
    block = query.blocks[0] if query.blocks else None
    if not isinstance(block, Select):
        raise CannotDraft("the columns of the result are not known")
    columns = []
    for item in block.items:
        value, alias = item.value, item.alias
        if isinstance(value, Operation) and value.operators[:1] == ["="] and len(value.operands) == 2:
            titled = value.operands[0]  # alias = value
            alias, value = (titled.parts[-1] if isinstance(titled, Name) else ""), value.operands[1]
        name = alias or (value.parts[-1] if isinstance(value, Name) else "")
        kind = unsized_text(target_type(value, rewriter))
        if not name or not kind or name == "*":
            raise CannotDraft("the type of a column of the result is not known")
        columns.append((name, kind))
    return columns
