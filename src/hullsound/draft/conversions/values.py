"""The target's types of expressions."""

from typing import Final

from hullsound.analyze.subject import Subject
from hullsound.analyze.types import Family
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object
from hullsound.catalog.references import Scope
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.draft.edits.text import quote_name
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.types import choose_type
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import Call, Literal, Name, Node, Paren, SelectItem

from .decimal_digits import digits_of


def target_type(node: Node, rewriter: Rewriter) -> str:
    """Return the target's type text for an expression; '' where it is not known well enough to be written down."""
    if isinstance(node, Paren):
        return target_type(node.inner, rewriter)
    if isinstance(node, Call) and node.parts[-1] in ("MAX", "MIN", "COALESCE", "IFNULL", "ISNULL") and node.arguments:
        return target_type(node.arguments[0], rewriter)
    column = rewriter.columns.column(node) if isinstance(node, Name) else None
    if column is not None and column.generated and not column.type.name:
        tables = [t for t in rewriter.columns.tables() if column in t.columns]
        return expression_type(column.generated, tables[0], rewriter.catalog, rewriter.target) if tables else ""
    source = rewriter.types.source_type(node)
    if source is not None:
        choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
        return choice.text if choice is not None else ""
    if isinstance(node, Call) and node.parts[-1] in ("COUNT", "COUNT_BIG", "ROW_NUMBER", "RANK", "DENSE_RANK"):
        return "bigint"
    kind = rewriter.types.family(node)
    if rewriter.target.engine in ("mysql", "mariadb"):
        return _of_mysql(node, kind, rewriter)
    if isinstance(node, Literal) and kind is Family.NUMBER:
        return "integer" if rewriter.subject.source(node).isdigit() else "numeric"
    return _PLAIN_TYPES.get(kind, "")


def _of_mysql(node: Node, kind: Family, rewriter: Rewriter) -> str:
    """Return a type of MySQL, whose numbers have no digits behind the point unless a type says so; '' where it is not known."""
    if kind is not Family.NUMBER:
        return _MYSQL_TYPES.get(kind, "")
    digits = digits_of(node, rewriter) if rewriter.catalog.engine in ("sqlserver", "ase", "db2") else None
    return f"decimal({digits.precision},{digits.scale})" if digits is not None else ""


_PLAIN_TYPES: Final = {
    Family.TEXT: "text", Family.INTEGER: "bigint", Family.NUMBER: "numeric", Family.DATE: "date", Family.TIMESTAMP: "timestamp",
    Family.TIME: "time", Family.BOOLEAN: "boolean", Family.JSON: "jsonb", Family.UUID: "uuid", Family.BYTES: "bytea",
}  # fmt: skip
_MYSQL_TYPES: Final = {
    Family.TEXT: "longtext", Family.INTEGER: "bigint", Family.DATE: "date", Family.TIMESTAMP: "datetime(6)",
    Family.TIME: "time(6)", Family.BOOLEAN: "tinyint(1)", Family.JSON: "json", Family.UUID: "char(36)", Family.BYTES: "longblob",
}  # fmt: skip


def expression_type(text: str, table: Object, catalog: Catalog, target: Target) -> str:
    """Return the target's type of an expression over the columns of a table; '' if it is not known."""
    engine = catalog.engine
    names = ".".join(quote_name(name, engine) for name in (table.schema, table.name) if name)
    read = next(read_script(f"SELECT {text}\nFROM {names}", load_dialect(engine)).statements(), None)
    items = read.all(SelectItem) if read is not None else []
    if read is None or not items:
        return ""
    return target_type(items[-1].value, Rewriter(Subject(read, Scope(read), engine), catalog, target, table.id))
