"""Rows that code of Transact-SQL hands around: table types, table-valued parameters, and INSERT from a procedure."""

from functools import partial
from typing import TYPE_CHECKING

from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.changes import local_table
from hullsound.draft.plpgsql.results import called_procedure, shape_of
from hullsound.draft.rewrite import CannotDraft, Point, Rewriter
from hullsound.knowledge.types import choose_type
from hullsound.sql.lexer import STRING
from hullsound.sql.literals import string_content
from hullsound.sql.tree import (
    ColumnDefinition,
    CreateTable,
    Execute,
    Insert,
    Name,
    Node,
    OtherStatement,
    Parameter,
    TableRef,
    TypeName,
    Variable,
)

from .names import prefixed

if TYPE_CHECKING:
    from .statements import TsqlCode


def row_type(kind: TypeName, rewriter: Rewriter) -> Object | None:
    """Return the table type of the catalogue that a type names; None for any other type."""
    if kind.borrowed or not kind.reference:
        return None
    schema = rewriter.default_schema
    for item in rewriter.catalog.with_name(kind.reference[-1]):
        is_table = item.type is ObjectType.TYPE and item.details.get("form") == "table" and bool(item.columns)
        if is_table and (len(kind.reference) == 1 or item.schema in (kind.reference[-2], schema)):
            return item
    return None


def row_type_name(item: Object, rewriter: Rewriter) -> str:
    return rewriter.names.qualified(item.schema, item.name)


def table_of_type(name: str, item: Object, code: "TsqlCode") -> str:
    """Make the temporary table that stands for a variable of a table type."""
    table = code.rewriter.names.write(local_table(name))
    made = f"CREATE TEMP TABLE {table} OF {row_type_name(item, code.rewriter)} ON COMMIT DROP"
    return f"DROP TABLE IF EXISTS pg_temp.{table};\n{made}"


def add_row_parameters(code: "TsqlCode") -> None:
    """Read a table-valued parameter as the rows of an array."""
    rewriter = code.rewriter
    for parameter in rewriter.subject.all(Parameter):
        if row_type(parameter.type, rewriter) is None:
            continue
        for table in rewriter.subject.all(TableRef):
            if table.parts == (parameter.name,):
                name = rewriter.names.write(prefixed("P", parameter.name))
                alias = "" if table.alias else f" AS {rewriter.names.write(local_table(table.parts[-1]))}"
                text = f"unnest({name}){alias}"
                rewriter.add(Point(table.first, table.first + 1, partial(_put, text)))


def _put(text: str, rewriter: Rewriter) -> str:
    return text


def rows_argument(value: Node, code: "TsqlCode") -> str:
    """Return the array that a table variable or parameter is handed over as; '' for any other argument."""
    if not isinstance(value, Name) or not value.parts[0].startswith("@"):
        return ""
    rewriter = code.rewriter
    for parameter in rewriter.subject.all(Parameter):
        if parameter.name == value.parts[0] and row_type(parameter.type, rewriter) is not None:
            return code.variables.write(parameter.name)
    for variable in rewriter.subject.all(Variable):
        item = row_type(variable.type, rewriter) if variable.name == value.parts[0] else None
        if item is not None:
            table, kind = rewriter.names.write(local_table(variable.name)), row_type_name(item, rewriter)
            return f"ARRAY(SELECT t::{kind} FROM {table} AS t)"
    return ""


# --- INSERT ... EXEC ---


def _filling(node: Node, rewriter: Rewriter) -> Execute | None:
    """Return the call whose rows an INSERT stores."""
    if not isinstance(node, Insert) or node.table is None:
        return None
    start = node.columns[-1].last + 1 if node.columns else node.table.last
    if rewriter.words[start] not in ("EXEC", "EXECUTE"):
        return None
    return next((e for e in rewriter.subject.all(Execute) if e.first == start), None)


def prepare_filling(code: "TsqlCode") -> None:
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
    from hullsound.draft.plpgsql.shared import write_type

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
    from .calls import call_with_results, dynamic_text

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


def restarted_identity(code: "TsqlCode", node: OtherStatement) -> str:
    """Write DBCC CHECKIDENT (table, RESEED, n): the next number is n + 1. Raises CannotDraft for any other check."""
    words = code.words[node.first : node.last]
    if words[1:2] != ["CHECKIDENT"] or "RESEED" not in words:
        raise CannotDraft("a check of the server")
    texts = [at for at in range(node.first, node.last) if code.rewriter.tokens.kinds[at] == STRING]
    number = next((word for word in words[words.index("RESEED") :] if word.isdigit()), "")
    parts = string_content(code.rewriter.tokens.source(texts[0], texts[0] + 1), "sqlserver") if texts else ""
    names = tuple(part.strip('[]"').upper() for part in parts.split("."))
    table = code.rewriter.table(names) if parts else None
    column = next((c.name for c in table.columns if c.identity), "") if table is not None else ""
    if table is None or not column or not number:
        raise CannotDraft("a counter whose table or number is not known")
    write = code.rewriter.names
    name = write.qualified(table.schema, table.name)
    return f"ALTER TABLE {name} ALTER COLUMN {write.write(column)} RESTART WITH {int(number) + 1}"
