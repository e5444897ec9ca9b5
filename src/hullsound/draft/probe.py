"""Drafts of single statements that are no object of the catalogue."""

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.knowledge.engine_model import Target

from .code import draft_code


def draft_text(text: str, catalog: Catalog, target: Target) -> str:
    """Draft one query of the source for the target. Raises CannotDraft where that cannot be done."""
    schema = catalog.first_schema()
    item = Object("query", ObjectType.QUERY, schema, "QUERY", "", 1, text, 1, default_schema=schema)
    return draft_code(item, catalog, target).text
