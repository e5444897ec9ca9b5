"""Which object uses which: names gathered per statement, resolved when the whole catalogue is known."""

from collections.abc import Iterable
from typing import Final, NamedTuple

from hullsound.sql.positions import Positions
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Call,
    CommonTable,
    ConstraintDefinition,
    CreateSynonym,
    CursorDeclaration,
    DerivedTable,
    ExceptionDeclaration,
    Grant,
    Loop,
    Name,
    Node,
    Parameter,
    Parts,
    Routine,
    TableFunction,
    TableRef,
    TypeDeclaration,
    TypeName,
    Variable,
)

from .model import Catalog, Object, ObjectType, Reference

_SEQUENCE_WORDS: Final = frozenset(("NEXTVAL", "CURRVAL"))


class Use(NamedTuple):
    """A name that one object's text uses, before it is resolved; `line` is where it first stands."""

    owner: str
    kind: str
    parts: Parts
    line: int


class Scope:
    """What names mean inside one statement: declared names, table aliases and common tables."""

    __slots__ = ("aliases", "declared", "locals", "tables")

    def __init__(self, nodes: Iterable[Node]) -> None:
        self.declared: dict[str, TypeName | None] = {}
        """Variables, parameters, cursors, local types and routines, with their type where they have one."""
        self.aliases: dict[str, Parts] = {}
        """Table alias or name -> table; () where two tables share the alias."""
        self.tables: list[TableRef] = []
        self.locals: set[str] = set()
        """Names of common tables and of derived tables."""
        for node in nodes:
            reader = _SCOPE_READERS.get(node.__class__)
            if reader is not None:
                reader(self, node)

    def _table(self, node: Node) -> None:
        assert isinstance(node, TableRef)
        self.tables.append(node)
        alias = node.alias or node.parts[-1]
        known = self.aliases.get(alias)
        self.aliases[alias] = node.parts if known is None or known == node.parts else ()

    def _typed(self, node: Node) -> None:
        assert isinstance(node, Variable | Parameter)
        self.declared[node.name] = node.type

    def _named(self, node: Node) -> None:
        assert isinstance(node, CursorDeclaration | ExceptionDeclaration | TypeDeclaration)
        self.declared[node.name] = None

    def _routine(self, node: Node) -> None:
        assert isinstance(node, Routine)
        self.declared[node.name[-1]] = node.returns

    def _loop(self, node: Node) -> None:
        assert isinstance(node, Loop)
        if node.variable:
            self.declared[node.variable] = None

    def _local(self, node: Node) -> None:
        assert isinstance(node, CommonTable)
        self.locals.add(node.name)

    def _derived(self, node: Node) -> None:
        assert isinstance(node, DerivedTable | TableFunction)
        if node.alias:
            self.locals.add(node.alias)


_SCOPE_READERS: Final = {
    TableRef: Scope._table,
    Variable: Scope._typed,
    Parameter: Scope._typed,
    CursorDeclaration: Scope._named,
    ExceptionDeclaration: Scope._named,
    TypeDeclaration: Scope._named,
    Routine: Scope._routine,
    Loop: Scope._loop,
    CommonTable: Scope._local,
    DerivedTable: Scope._derived,
    TableFunction: Scope._derived,
}


def find_uses(read: ReadStatement, scope: Scope, owner: str, positions: Positions) -> list[Use]:
    """Gather the tables, columns, routines, sequences and types that a statement names."""
    first_at: dict[tuple[str, Parts], int] = {}
    declared, aliases, local_names = scope.declared, scope.aliases, scope.locals
    seen = first_at.setdefault
    for node in read.nodes:
        kind = node.__class__
        if kind is Name:
            parts: Parts = node.parts  # type: ignore[attr-defined]
            if len(parts) == 1:
                if parts[0] not in declared:
                    seen(("name", parts), node.first)
            elif parts[-1] in _SEQUENCE_WORDS:
                seen(("sequence", parts[:-1]), node.first)
            elif len(parts) == 2 and aliases.get(parts[0]):
                seen(("column", (*aliases[parts[0]], parts[1])), node.first)
            elif parts[0] not in declared and parts[0] not in local_names and parts[0] not in aliases:
                seen(("member", parts), node.first)
        elif kind is Call:
            parts = node.parts  # type: ignore[attr-defined]
            if parts[0] not in declared and not node.link:  # type: ignore[attr-defined]
                seen(("routine", parts), node.first)
        elif kind is TableRef:
            parts = node.parts  # type: ignore[attr-defined]
            if parts[-1] not in local_names and not node.link:  # type: ignore[attr-defined]
                seen(("table", parts), node.first)
        elif kind is ConstraintDefinition:
            if node.references:  # type: ignore[attr-defined]
                seen(("table", node.references), node.first)  # type: ignore[attr-defined]
        elif kind is Grant:
            if node.object:  # type: ignore[attr-defined]
                seen(("object", node.object), node.first)  # type: ignore[attr-defined]
        elif kind is CreateSynonym:
            if not node.link:  # type: ignore[attr-defined]
                seen(("object", node.target), node.first)  # type: ignore[attr-defined]
        elif kind is TypeName:
            reference: Parts = node.reference  # type: ignore[attr-defined]
            if reference and reference[0] not in declared:
                seen(("borrowed" if node.borrowed else "type", reference), node.first)  # type: ignore[attr-defined]
    starts = read.tokens.starts
    return [Use(owner, kind, parts, positions.line(starts[at])) for (kind, parts), at in first_at.items()]


def resolve_uses(catalog: Catalog, uses: list[Use], known: "KnownNames") -> list[Use]:
    """Turn names into references of the catalogue; return those that lead nowhere."""
    unresolved: list[Use] = []
    found: dict[Reference, None] = {}
    columns: dict[str, dict[str, str]] = {}
    """Object -> column name -> table, over all tables that the object reads."""
    for use in uses:
        if use.kind == "table":
            owner = catalog.objects.get(use.owner)
            target = catalog.table(use.parts, owner.default_schema if owner else "")
            if target is not None:
                known_columns = columns.setdefault(use.owner, {})
                for column in target.columns:
                    known_columns.setdefault(column.name, target.id)
    for use in uses:
        table = columns.get(use.owner, {}).get(use.parts[0]) if use.kind == "name" else None
        if table is not None:
            found[Reference(use.owner, "column", f"{table}:{use.parts[0]}", table, use.line)] = None
            continue
        owner = catalog.objects.get(use.owner)
        reference = _resolve(catalog, use, owner.default_schema if owner else "")
        if reference is not None:
            found[reference] = None
        elif not known.knows(use) and not _is_declared(catalog, use):
            unresolved.append(use)
    catalog.references += found
    return unresolved


def _is_declared(catalog: Catalog, use: Use) -> bool:
    """Whether a package body uses what its own specification declares."""
    owner = catalog.objects.get(use.owner)
    if owner is None or owner.type is not ObjectType.PACKAGE_BODY:
        return False
    packages = (item for item in catalog.named(owner.schema, owner.name) if item.type is ObjectType.PACKAGE)
    return any(use.parts[0] in package.details.get("declares", "").split(" ") for package in packages)


class KnownNames:
    """What the source engine itself provides; the knowledge layer fills it in."""

    def knows(self, use: Use) -> bool:
        """Whether the name is none that a catalogue must explain."""
        raise NotImplementedError


def _resolve(catalog: Catalog, use: Use, schema: str) -> Reference | None:
    kind, parts = use.kind, use.parts
    if kind == "name":
        target = catalog.resolve(parts, schema)
        return _to(use, "routine", target) if target and target.type is ObjectType.FUNCTION else None
    if kind == "column":
        target = catalog.table(parts[:-1], schema)
        if target is None:
            return None
        return Reference(use.owner, "column", f"{target.id}:{parts[-1]}", target.id, use.line)
    if kind == "table" or kind == "borrowed":
        target = catalog.table(parts, schema) or (catalog.table(parts[:-1], schema) if len(parts) > 1 else None)
        return _to(use, "table" if kind == "table" else "type", target)
    if kind == "member":
        target = catalog.resolve(parts[:-1], schema) or catalog.resolve(parts, schema)
        return _to(use, "table" if target is not None and target.columns else "routine", target)
    return _to(use, kind, catalog.resolve(parts, schema))


def _to(use: Use, kind: str, target: Object | None) -> Reference | None:
    return None if target is None else Reference(use.owner, kind, ".".join(use.parts), target.id, use.line)
