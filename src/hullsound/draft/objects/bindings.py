"""Rules and defaults that the T-SQL family keeps by name and binds to columns: a CHECK or DEFAULT of each column here."""

import re
from collections.abc import Iterator
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object
from hullsound.draft.code import draft_expression
from hullsound.draft.edits.comments import remark
from hullsound.draft.edits.names import Names
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.knowledge.engine_model import Target

_BINDING: Final = re.compile(r"(?i)\bsp_bind(?:rule|efault)\s+N?[\"']([^\"']+)[\"']\s*,\s*N?[\"']([^\"']+)[\"']")
_VALUE: Final = re.compile(r"(?is)^\s*CREATE\s+(?:RULE|DEFAULT)\s+\S+\s+AS\s+(.+?)\s*;?\s*$")
_VARIABLE: Final = re.compile(r"@\w+")


def bound_statements(item: Object, catalog: Catalog, target: Target, names: Names, *, is_rule: bool) -> str:
    """Return the statements that give bound columns what a rule or default says. Raises CannotDraft."""
    value = _VALUE.match(item.text)
    if value is None:
        raise CannotDraft("a rule or default whose text could not be read")
    lines = []
    for table, column in _bound(item, catalog):
        name = names.qualified(table.schema, table.name)
        if is_rule:
            text = draft_expression(_VARIABLE.sub(column.lower(), value[1]), table, catalog, target, is_condition=True)
            constraint = names.write(f"{item.name}_{column}")
            lines.append(f"ALTER TABLE {name} ADD CONSTRAINT {constraint} CHECK ({text}) NOT VALID;")
        else:
            text = draft_expression(value[1], table, catalog, target)
            lines.append(f"ALTER TABLE {name} ALTER COLUMN {names.write(column)} SET DEFAULT {text};")
    return "\n".join(lines) or remark(f"{item.name} is bound to no column.")


def _bound(item: Object, catalog: Catalog) -> Iterator[tuple[Object, str]]:
    """Yield table and column of each binding. Raises CannotDraft for one to a type, or to a table that is not there."""
    for sighting in catalog.sightings:
        match = _BINDING.search(sighting.excerpt) if "sp_bind" in sighting.excerpt.lower() else None
        if match is None or _parts(match[1])[-1] != item.name.upper():
            continue
        parts = _parts(match[2])
        table = catalog.table(parts[:-1], item.default_schema) if len(parts) > 1 else None
        if table is None or all(column.name != parts[-1] for column in table.columns):
            raise CannotDraft(f"it is bound to {match[2].lower()}, which is no column of the source")
        yield table, parts[-1]


def _parts(name: str) -> tuple[str, ...]:
    return tuple(part.strip('[]" ').upper() for part in name.split("."))
