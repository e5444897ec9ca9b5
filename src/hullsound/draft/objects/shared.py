"""What several targets beside PostgreSQL write alike: rights, synonyms, types of a user's own."""

from collections.abc import Callable

from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.names import Names, literal
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.knowledge.types import parse_type

from .postgresql import ObjectWriter


def create_schema(engine: str, schema: str, names: Names) -> str:
    """Write the statement that makes a schema where it is missing; for MySQL and MariaDB it is a database.

    SQL Server asks that CREATE SCHEMA begins a batch, which EXEC makes of a text.
    """
    name = names.write(schema)
    if engine == "sqlserver":
        return f"IF SCHEMA_ID(N{literal(names.folded(schema))}) IS NULL EXEC(N{literal(f'CREATE SCHEMA {name}')});"
    return f"CREATE {'SCHEMA' if engine == 'postgresql' else 'DATABASE'} IF NOT EXISTS {name};"


def underlying_type(writer: ObjectWriter, item: Object) -> str:
    """Write the type behind an alias. Raises CannotDraft for a type with attributes."""
    if item.details.get("form") != "alias":
        raise CannotDraft(f"the type {item.name.lower()}")
    return writer.type(parse_type(item.details["element"]))


def without_type(item: Object) -> str:
    """Say that nothing is created for an alias type. Raises CannotDraft for another type."""
    if item.details.get("form") != "alias":
        raise CannotDraft("a type of one's own")
    return "-- Nothing to create: each column has the type behind this one."


def table_grant(writer: ObjectWriter, item: Object, write: Callable[[Object], str]) -> str:
    """Write rights on tables and views; those on code wait for the code."""
    target = writer.catalog.resolve(tuple(item.details["target"].split("\t")), item.default_schema)
    if target is None or target.type not in (ObjectType.TABLE, ObjectType.VIEW):
        raise CannotDraft("a right on something that is not drafted here")
    if "PUBLIC" in item.details["entries"]:
        raise CannotDraft("a right for everybody")
    return write(item)


def synonym_of(writer: ObjectWriter, item: Object) -> str:
    target = writer.catalog.table(tuple(item.details["target"].split("\t")), item.default_schema)
    if target is None or item.details["link"]:
        raise CannotDraft("its object is not in the source")
    return f"CREATE SYNONYM {writer.name(item)} FOR {writer.name(target)};"
