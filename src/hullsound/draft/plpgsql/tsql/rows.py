"""Rows that code of Transact-SQL hands around: table types, table-valued parameters, and INSERT from a procedure."""

from functools import partial
from typing import TYPE_CHECKING

from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.variables import prefixed
from hullsound.draft.statements.change_parts import local_table
from hullsound.sql.lexer import STRING
from hullsound.sql.literals import string_content
from hullsound.sql.tree import (
    Name,
    Node,
    OtherStatement,
    Parameter,
    TableRef,
    TypeName,
    Variable,
)

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
