"""Drafts of constraints and indexes, written from the catalogue."""

from collections.abc import Iterable
from functools import cached_property
from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, Constraint, Index, Object, ObjectType, shown
from hullsound.draft.code import draft_expression
from hullsound.draft.edits.comments import remark
from hullsound.draft.edits.names import names_of
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.types import logical_type

from .indexes import special_index

_NULL_MUST_FIT: Final = ("mysql", "mariadb", "sqlserver")
"""Targets that refuse SET NULL for a column that is NOT NULL (errors 1830 and 1761)."""
_UNSORTED: Final = frozenset(("xml", "spatial"))
"""Kinds without an order, over which a plain index is not possible."""
_ONE_NULL: Final = frozenset(("sqlserver", "ase", "db2"))
"""Engines whose unique keys take one NULL only."""
_NO_FILTER: Final = frozenset(("mysql", "mariadb", "oracle"))
_NO_INCLUDE: Final = frozenset(("mysql", "mariadb", "oracle"))
_KEYS: Final = ("primary key", "unique")
_SHARED_NAMES: Final = {
    "postgresql": _KEYS,
    "mysql": ("foreign key", "check"),
    "mariadb": ("foreign key",),
    "sqlserver": (*_KEYS, "foreign key", "check"),
    "oracle": (*_KEYS, "foreign key", "check"),
}
"""Constraints whose names one schema may have once only."""
_RELATIONS: Final = (ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.SEQUENCE)
"""Objects whose names indexes, and with them keys, share on PostgreSQL, Oracle and SQL Server."""
_MANY_NULLS: Final = frozenset(("mysql", "mariadb", "oracle"))
"""Targets whose unique keys take any number of NULLs, and cannot be told otherwise."""


class KeyWriter:
    """Writes what belongs to tables for PostgreSQL; every method raises CannotDraft where it has no text."""

    def __init__(self, catalog: Catalog, target: Target) -> None:
        self.catalog = catalog
        self.target = target
        self.names = names_of(target.engine)
        self._columns: dict[str, dict[str, Column]] = {}
        """Columns of each table by name."""

    def name(self, item: Object) -> str:
        return self.names.qualified(item.schema, item.name)

    # --- constraints ---

    def constraint(self, item: Object) -> str:
        constraint = item.constraint
        assert constraint is not None
        table = self.catalog.objects[item.table]
        missing = set(constraint.columns) - self._columns_of(table).keys()
        if table.columns and constraint.form != "check" and missing:
            raise CannotDraft(f"a key over what is no column: {', '.join(sorted(missing)).lower()}")
        columns = ", ".join(map(self.names.write, constraint.columns))
        name = self._key_names.get(item.id, constraint.name)
        head = f"ALTER TABLE {self.name(table)} ADD CONSTRAINT {self.names.write(name)}"
        match constraint.form:
            case "primary key":
                text = f"{head} PRIMARY KEY ({columns})"
            case "unique":
                text = f"{head} UNIQUE{self._nulls(constraint, table)} ({columns})"
            case "check":
                condition = draft_expression(constraint.expression, table, self.catalog, self.target, is_condition=True)
                text = f"{head} CHECK ({condition})"
            case _:
                text = f"{head} {self._foreign_key(item, columns)}"
        if constraint.ignores_duplicates:
            text += self.ignore_duplicates()
        text += self.constraint_tail(item)
        if constraint.disabled or (constraint.not_enforced and not self.can_inform(constraint)):
            state = "Disabled" if constraint.disabled else "Not enforced"
            return f"-- {state} in the source, so left out here:\n-- " + text.replace("\n", "\n-- ") + ";"
        return text + (" NOT ENFORCED;" if constraint.not_enforced else ";")

    @cached_property
    def _key_names(self) -> dict[str, str]:
        """Names of constraints and indexes whose own name the target needs for something else, by their ids."""
        forms = _SHARED_NAMES.get(self.target.engine, ())
        relations = _RELATIONS if self.target.engine not in ("mysql", "mariadb") else ()
        taken = {(o.schema, o.name) for o in self.catalog.objects.values() if o.type in relations}
        names: dict[str, str] = {}
        for item in self.catalog.objects.values():
            if item.constraint is None or item.constraint.form not in forms:
                continue
            name = item.constraint.name
            table = self.catalog.objects.get(item.table)
            while (item.schema, name) in taken:
                name = names[item.id] = f"{table.name if table is not None else 'KEY'}_{name}"
            taken.add((item.schema, name))
        for item in self.catalog.objects.values() if self.target.engine == "postgresql" else ():
            if (
                item.type is ObjectType.INDEX
                and (item.schema, item.name) in taken
                and not self._made_by_constraint(item)
            ):
                table = self.catalog.objects.get(item.table)
                names[item.id] = f"{table.name if table is not None else 'INDEX'}_{item.name}"
        return names

    def can_inform(self, constraint: Constraint) -> bool:
        """Whether the target keeps a constraint that it does not enforce: PostgreSQL 18 checks and foreign keys."""
        is_kind = constraint.form in ("check", "foreign key")
        return self.target.engine == "postgresql" and self.target.version >= 18 and is_kind

    def ignore_duplicates(self) -> str:
        """Write that rows which meet a key are left out without an error; elsewhere than on SQL Server they raise one."""
        return ""

    def _nulls(self, constraint: Constraint, table: Object) -> str:
        """Say that a unique constraint takes one NULL only."""
        is_single = constraint.nulls_not_distinct or self._takes_one_null(table, constraint.columns)
        return self.nulls_not_distinct(is_said=constraint.nulls_not_distinct) if is_single else ""

    def _takes_one_null(self, table: Object, columns: Iterable[str]) -> bool:
        """Whether NULLs meet each other in a unique key of the source."""
        known = self._columns_of(table)
        return self.catalog.engine in _ONE_NULL and any(name in known and known[name].nullable for name in columns)

    def _columns_of(self, table: Object) -> dict[str, Column]:
        known = self._columns.get(table.id)
        if known is None:
            known = self._columns[table.id] = {column.name: column for column in table.columns}
        return known

    def nulls_not_distinct(self, *, is_said: bool) -> str:
        """Return the words by which NULLs meet each other; `is_said` where the source says so itself."""
        if self.target.engine == "postgresql" and self.target.version >= 15:
            return " NULLS NOT DISTINCT"
        if is_said and self.target.engine in (*_MANY_NULLS, "postgresql"):
            raise CannotDraft("a unique key that takes one NULL only (NULLS NOT DISTINCT)")
        return ""

    def constraint_tail(self, item: Object) -> str:
        """Return when a constraint is checked, and whether rows that are there already are."""
        constraint = item.constraint
        assert constraint is not None
        text = ""
        # PostgreSQL checks conditions at once.
        if constraint.deferrable and not (self.target.engine == "postgresql" and constraint.form == "check"):
            text += " DEFERRABLE" + (" INITIALLY DEFERRED" if constraint.deferrable == "initially deferred" else "")
        is_checked_later = constraint.not_validated and not constraint.not_enforced
        if is_checked_later and constraint.form in ("check", "foreign key"):
            text += " NOT VALID"
        return text

    def _foreign_key(self, item: Object, columns: str) -> str:
        constraint = item.constraint
        assert constraint is not None
        parent = self.catalog.table(constraint.references, item.default_schema)
        if parent is None:
            raise CannotDraft(f"the referenced table {'.'.join(constraint.references).lower()} is not in the source")
        keys = self.catalog.keys_of(parent)
        meant = constraint.reference_columns or next(iter(keys), [])
        if parent.columns and sorted(meant) not in [sorted(key) for key in keys]:
            raise CannotDraft(f"the columns that it refers to are no key of {shown(parent.name)}")
        parts = f" ({', '.join(map(self.names.write, meant))})" if meant else ""
        text = f"FOREIGN KEY ({columns}) REFERENCES {self.name(parent)}{parts}"
        if "set null" in (constraint.on_delete, constraint.on_update) and self.target.engine in _NULL_MUST_FIT:
            table = self.catalog.objects[item.table]
            constraints = [each.constraint for each in self.catalog.belonging(table.id) if each.constraint is not None]
            keyed = {column for each in constraints if each.form == "primary key" for column in each.columns}
            if any(
                each.name in constraint.columns and (not each.nullable or each.name in keyed) for each in table.columns
            ):
                raise CannotDraft("SET NULL for a column that takes no NULL")
        for event, action in (("DELETE", constraint.on_delete), ("UPDATE", constraint.on_update)):
            text += self.referential_action(event, action) if action else ""
        return text

    def referential_action(self, event: str, action: str) -> str:
        """Write what becomes of rows whose parent goes or gets another key."""
        return f" ON {event} {action.upper()}"

    # --- indexes ---

    def index(self, item: Object) -> str:
        table, index = self.catalog.objects.get(item.table), item.index
        if table is None and item.table.replace(".table.", ".view.") in self.catalog.objects:
            return remark(f"{item.name}: the view works its rows out anew each time, and has no index.")
        if table is None:
            raise CannotDraft("its table is not in the source")
        if index is None:
            raise CannotDraft("an index whose statement could not be read")
        if table.details.get("temporary") == "preserve rows":
            raise CannotDraft("an index of a table that each session makes for itself")
        if self._made_by_constraint(item):
            return f"-- The constraint {comment_text(item.name)} makes this index by itself."
        if index.disabled:
            return f"-- The index {comment_text(item.name)} is disabled in the source, so left out here."
        if self.target.engine == "postgresql":
            plain = [name.upper() for name in index.columns()]
            name = self.names.write(item.name.rsplit(".", 1)[-1])
            special = special_index(item, self.name(table), name, [key for key in plain if key], self.names)
            if special is not None:
                return special
        keys = [self._key(key.text, table) + (" DESC" if key.descending else "") for key in index.keys]
        tail, further = self._index_tail(index, table)
        unique = "UNIQUE " if index.unique else ""
        columns = ", ".join([*keys, *further])
        return f"CREATE {unique}INDEX {self.index_name(item)} ON {self.name(table)} ({columns}){tail};"

    def _index_tail(self, index: Index, table: Object) -> tuple[str, list[str]]:
        """Return what stands behind the keys of an index, and columns that are carried as further keys."""
        included = [self.names.write(name) for name in index.include]
        further: list[str] = []
        tail = ""
        if included and self.target.engine not in _NO_INCLUDE:
            tail += f" INCLUDE ({', '.join(included)})"
        elif not index.unique:  # in a unique key they would let more rows in
            further = included
        if index.unique:
            keys = [name.upper() for name in index.columns()]
            is_single = self._takes_one_null(table, keys) and "exclude-null-keys" not in index.clauses
            if index.nulls_not_distinct or is_single:
                tail += self.nulls_not_distinct(is_said=index.nulls_not_distinct)
        if index.where:
            if self.target.engine in _NO_FILTER:
                raise CannotDraft("an index over some of the rows")
            condition = draft_expression(index.where, table, self.catalog, self.target, is_condition=True)
            tail += f" WHERE {condition}"
        return tail + (self.ignore_duplicates() if index.ignores_duplicates else ""), further

    def index_name(self, item: Object) -> str:
        """Return the name of an index, which stands without its schema: it always lies in that of its table."""
        return self.names.write(self._key_names.get(item.id, self.own_index_name(item)))

    def own_index_name(self, item: Object) -> str:
        """Return the name of an index, with its table where the source tells indexes apart by it."""
        return item.name.replace(".", "_") if item.index is not None else item.name

    def _made_by_constraint(self, item: Object) -> bool:
        """Whether a key of the same table has the index's name: exports write such indexes out."""
        return any(
            other.constraint is not None
            and other.table == item.table
            and other.constraint.form in ("primary key", "unique")
            for other in self.catalog.with_name(item.name)
        )

    def _key(self, source: str, table: Object) -> str:
        bare = source.strip().strip('"`[]')
        columns = self._columns_of(table)
        column = columns.get(bare) or columns.get(bare.upper())
        if column is not None:
            logical = logical_type(self.catalog.engine, column.type)
            if logical is not None and logical.kind in _UNSORTED:
                raise CannotDraft(f"an index over the column {shown(column.name)}, whose values have no order")
            return self.names.write(column.name)
        return self.key_expression(draft_expression(source, table, self.catalog, self.target, immutable=True))

    def key_expression(self, text: str) -> str:
        """Write an expression that is a key of an index."""
        return f"({text})"

    # --- triggers ---

    def trigger_state(self, item: Object) -> str:
        """Return the statement that switches a trigger off, as it is in the source; '' for one that is on."""
        if not item.details.get("disabled"):
            return ""
        table = self.catalog.objects.get(item.table)
        name = self.names.write(item.name.rsplit(".", 1)[-1])
        if table is None:
            raise CannotDraft("a disabled trigger whose table is not in the source")
        match self.target.engine:
            case "postgresql":
                return f"\nALTER TABLE {self.name(table)} DISABLE TRIGGER {name};"
            case "sqlserver":
                return f"\nDISABLE TRIGGER {name} ON {self.name(table)};"
            case "oracle":
                return f"\nALTER TRIGGER {self.name(item)} DISABLE;"
            case _:
                raise CannotDraft("a trigger that is disabled: the target has no such state")


def comment_text(text: str) -> str:
    """Return a text fit for a comment of one line."""
    return " ".join(text.lower().split())
