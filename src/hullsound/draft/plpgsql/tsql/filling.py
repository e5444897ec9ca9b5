"""INSERT from a procedure: the rows that the procedure gives out are walked over and stored."""

from typing import TYPE_CHECKING

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.plpgsql.results import called_procedure, shape_of
from hullsound.draft.plpgsql.shared import write_type
from hullsound.draft.statements.change_parts import local_table
from hullsound.knowledge.types import choose_type
from hullsound.sql.tree import ColumnDefinition, CreateTable, Execute, Insert, Node, Variable

from .calls import call_with_results, dynamic_text, prepare_calls
from .rows import row_type

if TYPE_CHECKING:
    from .statements import TsqlCode


def _filling(node: Node, rewriter: Rewriter) -> Execute | None:
    """Return the call whose rows an INSERT stores."""
    if not isinstance(node, Insert) or node.table is None:
        return None
    start = node.columns[-1].last + 1 if node.columns else node.table.last
    if rewriter.words[start] not in ("EXEC", "EXECUTE"):
        return None
    return next((e for e in rewriter.subject.all(Execute) if e.first == start), None)


def prepare_executes(code: "TsqlCode") -> None:
    """Declare what calls, and rows that procedures give out, need, before the head is written."""
    _prepare_filling(code)
    prepare_calls(code)


def _prepare_filling(code: "TsqlCode") -> None:
    """Declare the cursor and the variables through which rows of a procedure are stored."""
    for insert in code.rewriter.subject.all(Insert):
        call = _filling(insert, code.rewriter)
        if call is not None and call.text is None:
            for line in _variables(insert, code).values():
                code.hoist(line)
            code.hoist(f"{_cursor(insert)} refcursor;")


def _cursor(insert: Insert) -> str:
    return f"hs_rows_{insert.first}"


def _variables(insert: Insert, code: "TsqlCode") -> dict[str, str]:
    """Return the variables for the values of one row, and their declarations, by the columns that they go to."""
    kinds = _column_types(insert, code)
    names = [column.parts[-1] for column in insert.columns] or list(kinds)
    missing = [name for name in names if name not in kinds]
    if missing or not names:
        raise CannotDraft("rows of a procedure that go to columns whose types are not known")
    variables = [f"hs_value_{insert.first}_{place}" for place in range(1, len(names) + 1)]
    return {v: f"{v} {kinds[name]};" for v, name in zip(variables, names, strict=True)}


def _column_types(insert: Insert, code: "TsqlCode") -> dict[str, str]:
    """Return the columns of the table that an INSERT fills, but for those that count by themselves, and their types."""
    assert insert.table is not None
    rewriter, name = code.rewriter, insert.table.parts[-1]
    around: list[CreateTable | Variable] = [c for c in rewriter.subject.all(CreateTable) if c.name[-1] == name]
    around += [v for v in rewriter.subject.all(Variable) if v.name == name]
    if around:
        made = around[0]
        item = row_type(made.type, rewriter) if isinstance(made, Variable) else None
        if item is None:
            columns = [c for c in rewriter.subject.all(ColumnDefinition) if made.first <= c.first < made.last]
            return {c.name: write_type(c.type, rewriter) for c in columns if c.type is not None and not c.identity}
    else:
        item = rewriter.table(insert.table.parts)
    found = {}
    for column in item.columns if item is not None else []:
        choice = choose_type(rewriter.catalog.engine, column.type, rewriter.target)
        if choice is not None and not column.identity and not column.generated:
            found[column.name] = choice.text
    return found


def insert_from_procedure(code: "TsqlCode", node: Node) -> str:
    """Write INSERT ... EXEC as a walk over the rows that the procedure gives out; '' for any other change."""
    call = _filling(node, code.rewriter)
    if call is None:
        return ""
    assert isinstance(node, Insert)
    assert node.table is not None
    names = code.rewriter.names
    target = names.qualified(*node.table.parts[-2:-1], local_table(node.table.parts[-1]))
    listed = f" ({', '.join(names.write(c.parts[-1]) for c in node.columns)})" if node.columns else ""
    if call.text is not None:
        text, using = dynamic_text(code, call)
        return (
            f"EXECUTE 'INSERT INTO {target.replace(chr(39), chr(39) * 2)}{listed} ' || {text}{using}" + code.counted()
        )
    item = called_procedure(call, code.rewriter)
    if item is None or shape_of(item, code.rewriter.catalog).results != 1:
        raise CannotDraft("INSERT from a procedure that does not give out one result")
    cursor = _cursor(node)
    variables = ", ".join(_variables(node, code))
    columns = listed or f" ({', '.join(map(names.write, _column_types(node, code)))})"
    called = call_with_results(code, call, [cursor])
    return (
        f"{cursor} := NULL;\n{called};\nLOOP\n  FETCH {cursor} INTO {variables};\n  EXIT WHEN NOT FOUND;\n"
        f"  INSERT INTO {target}{columns} VALUES ({variables});\nEND LOOP;\nCLOSE {cursor}"
    )
