"""What the names of a statement mean: tables of the catalogue, their columns, and tables that the code makes for itself."""

from functools import cached_property
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Object
from hullsound.sql.tree import CreateTrigger, Name, Parts

from .local_tables import local_columns
from .subject import Subject
from .titles import worked_out
from .views import TypesWithin, columns_of

_CHANGED_ROWS: Final = frozenset(("NEW", "OLD", "INSERTED", "DELETED"))
"""What triggers call the rows that a statement has changed."""


class Columns:
    """Finds the tables and columns that the names of one statement mean."""

    def __init__(self, subject: Subject, catalog: Catalog, owner: str, types_within: TypesWithin) -> None:
        self.subject = subject
        self.catalog = catalog
        self.owner = owner
        """Id of the object that the statement belongs to; '' for none."""
        self.fired_by: Object | None = None
        """The table whose changed rows NEW and OLD are, where it is not known by the owner."""
        self._types_within = types_within
        self._tables: dict[Parts, Object | None] = {}
        self._by_alias: dict[str, list[Object]] = {}

    @cached_property
    def default_schema(self) -> str:
        """The schema that unqualified names of the object mean; a statement of no object means the first one."""
        owner = self.catalog.objects.get(self.owner)
        return owner.default_schema or owner.schema if owner else self.catalog.first_schema()

    def table(self, parts: Parts) -> Object | None:
        """Find the table or view that a name in the statement means, through synonyms."""
        if parts not in self._tables:
            self._tables[parts] = self.catalog.table(parts, self.default_schema)
        return self._tables[parts]

    def tables(self, alias: str = "") -> list[Object]:
        """Return the tables of the catalogue that the statement names, or those that one alias stands for."""
        known = self._by_alias.get(alias)
        if known is None:
            known = self._by_alias[alias] = self._find_tables(alias)
        return known

    def _find_tables(self, alias: str) -> list[Object]:
        found: list[Object] = []
        for reference in self.subject.scope.tables:
            if not alias or alias in (reference.alias, reference.parts[-1]):
                table = self._changed_table(reference.parts[-1]) or self.table(reference.parts)
                if table is not None and table not in found:
                    found.append(table)
        changed = self._changed_table(alias)
        return found if changed is None else [changed]

    def _changed_table(self, name: str) -> Object | None:
        """Return the table of the trigger that the statement belongs to, where a name stands for its changed rows."""
        tree = self.subject.tree
        if name not in _CHANGED_ROWS and not (isinstance(tree, CreateTrigger) and name in tree.referencing):
            return None
        trigger = self.catalog.objects.get(self.owner)
        return self.catalog.objects.get(trigger.table) if trigger is not None and trigger.table else self.fired_by

    def column(self, node: Name) -> Column | None:
        """Return the column that a name means: of the table its alias names, or of any table of the statement that has it."""
        parts = node.parts
        if worked_out(node, self.subject) is not None:
            return None
        for table in self.tables(parts[-2] if len(parts) > 1 else ""):
            for column in columns_of(table, self.catalog, self._types_within):
                if column.name == parts[-1]:
                    return column
        local = self._local_column(node)
        if local is not None:
            return local
        if len(parts) == 1 or parts[-2] in self.subject.scope.locals:
            types = {str(each.type): each for each in self.catalog.columns_named(parts[-1])}
            if len(types) == 1:
                return next(iter(types.values()))
        return None

    def _local_column(self, node: Name) -> Column | None:
        """Return the column of a table that the code makes for itself."""
        made = local_columns(self.subject)
        alias = node.parts[-2] if len(node.parts) > 1 else ""
        for reference in self.subject.scope.tables if made else ():
            if not alias or alias in (reference.alias, reference.parts[-1]):
                for column in made.get(reference.parts[-1], ()):
                    if column.name == node.parts[-1]:
                        return column
        return None
