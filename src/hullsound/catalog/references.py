"""Which object uses which: names gathered per statement, resolved when the whole catalogue is known."""

import sys
from collections.abc import Iterable
from typing import Final, NamedTuple

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType, Reference
from hullsound.sql.positions import Positions
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Block,
    Call,
    CommonTable,
    ConstraintDefinition,
    CreateIndex,
    CreateSynonym,
    CreateTable,
    CreateTrigger,
    CursorDeclaration,
    DerivedTable,
    ExceptionDeclaration,
    Execute,
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

_LOCAL_MARKS: Final = ("@", "#")
"""Openings of the names of table variables and temporary tables."""
_SEQUENCE_WORDS: Final = frozenset(("NEXTVAL", "CURRVAL"))
_NAMING: Final[tuple[tuple[type[Node], str], ...]] = (
    (CommonTable, "name"), (DerivedTable, "alias"), (TableFunction, "alias")
)  # fmt: skip
"""Nodes that name a table for their statement alone, and where its name stands."""
_IN_SCHEMA: Final = ("table", "sequence")
"""Kinds of uses whose qualifier is a schema and nothing else."""
_SEVERAL: Final = 2
_UNTYPED: Final[tuple[type[Node], ...]] = (CursorDeclaration, ExceptionDeclaration, TypeDeclaration)


class Use(NamedTuple):
    """A name that one object's text uses, before it is resolved; `line` is where it first stands."""

    owner: str
    kind: str
    parts: Parts
    line: int


class Scope:
    """What names mean inside one statement: declared names, table aliases and common tables."""

    __slots__ = ("_read", "_unlike", "aliases", "declared", "locals", "tables")

    def __init__(self, read: ReadStatement) -> None:
        self._read = read
        self._unlike: dict[str, list[Variable | Parameter]] = {}
        """Declarations of the names that are declared with more than one type."""
        self.declared: dict[str, TypeName | None] = {}
        """Variables, parameters, cursors, local types and routines, with a type where they have one."""
        self.aliases: dict[str, Parts] = {}
        """Table alias or name -> table; () where two tables share the alias."""
        kinds = read.by_kind
        self.tables = read.all(TableRef)
        self.locals: set[str] = set()
        """Names of common tables, of derived tables, and of temporary tables that a routine makes."""
        for kind, attribute in _NAMING:
            if kind in kinds:
                self.locals.update(getattr(node, attribute) for node in kinds[kind])
        tree = read.tree
        # One made by SELECT ... INTO stands among the tables read.
        self.locals.update(node.name[-1] for node in read.all(CreateTable) if node is not tree)
        if isinstance(tree, CreateTrigger):
            self.locals.update(tree.referencing)
        for table in self.tables:
            alias = table.alias or table.parts[-1]
            known = self.aliases.get(alias)
            self.aliases[alias] = table.parts if known is None or known == table.parts else ()
        typed: list[Variable | Parameter] = [*read.all(Parameter), *read.all(Variable)]
        for node in typed:
            if node.name in self.declared and not _is_same(self.declared[node.name], node.type):
                self._unlike[node.name] = []
            self.declared[node.name] = node.type
        for node in typed if self._unlike else ():
            if node.name in self._unlike:
                self._unlike[node.name].append(node)
        for named in _UNTYPED:
            if named in kinds:
                self.declared.update((node.name, None) for node in kinds[named])  # type: ignore[attr-defined]
        for routine in read.all(Routine):
            self.declared[routine.name[-1]] = routine.returns
        for loop in read.all(Loop):
            if loop.variable:
                self.declared[loop.variable] = None

    def type_at(self, name: str, node: Node) -> TypeName | None:
        """Return the type of a declared name where `node` uses it; None if it has none, or if it is not certain which is meant.

        Routines of one package, and blocks, may give one name different types: what stands nearest around the use counts.
        """
        if name not in self._unlike:
            return self.declared.get(name)
        kinds: dict[Node, TypeName | None] = {each: each.type for each in self._unlike[name]}
        kinds |= {loop: None for loop in self._read.all(Loop) if loop.variable == name}
        nearest: dict[int, TypeName | None] = {}
        places = [*self._read.all(Routine), *self._read.all(Block)]
        for declaration, kind in kinds.items():
            around = [each for each in places if _holds(each, declaration)]
            place = declaration if isinstance(declaration, Loop) else min(around, key=_length, default=None)
            if place is None or _holds(place, node):
                length = _length(place) if place is not None else sys.maxsize
                nearest[length] = kind if length not in nearest else None
        return nearest[min(nearest)] if nearest else None


def _is_same(one: TypeName | None, other: TypeName | None) -> bool:
    if one is None or other is None:
        return one is other
    return all(getattr(one, part) == getattr(other, part) for part in ("name", "arguments", "reference", "borrowed"))


def _holds(outer: Node, inner: Node) -> bool:
    return outer.first <= inner.first and inner.last <= outer.last


def _length(node: Node) -> int:
    return node.last - node.first


def find_uses(read: ReadStatement, scope: Scope, owner: str, positions: Positions) -> list[Use]:
    """Gather the tables, columns, routines, sequences and types that a statement names."""
    first_at: dict[tuple[str, Parts], int] = {}
    declared, aliases, local_names = scope.declared, scope.aliases, scope.locals

    def note(kind: str, parts: Parts, node: Node) -> None:
        at = first_at.setdefault((kind, parts), node.first)
        if node.first < at:
            first_at[kind, parts] = node.first

    for name in read.all(Name):
        parts = name.parts
        if len(parts) == 1:
            if parts[0] not in declared:
                note("name", parts, name)
        elif parts[-1] in _SEQUENCE_WORDS:
            note("sequence", parts[:-1], name)
        elif len(parts) == 2 and aliases.get(parts[0]):
            note("column", (*aliases[parts[0]], parts[1]), name)
        elif parts[0] not in declared and parts[0] not in local_names and parts[0] not in aliases:
            note("member", parts, name)
    for call in read.all(Call):
        if call.parts[0] not in declared and not call.link and not _is_method(call.parts, aliases):
            note("routine", call.parts, call)
    for execute in read.all(Execute):
        if execute.routine and execute.routine[-1][:1] != "@":
            note("routine", execute.routine, execute)
    for table in scope.tables:
        last = table.parts[-1]
        is_local = last in local_names or last in declared or table.link or last[:1] in _LOCAL_MARKS
        # What stands for a table may be the alias of another in the same statement.
        if not is_local and (len(table.parts) > 1 or aliases.get(last, table.parts) == table.parts):
            note("table", table.parts, table)
    for index in read.all(CreateIndex):
        if index.table and index.table[-1][:1] not in _LOCAL_MARKS and index.table[-1] not in local_names:
            note("table", index.table, index)
    for constraint in read.all(ConstraintDefinition):
        if constraint.references:
            note("table", constraint.references, constraint)
    for grant in read.all(Grant):
        if grant.object:
            note("object", grant.object, grant)
    for synonym in read.all(CreateSynonym):
        if not synonym.link:
            note("object", synonym.target, synonym)
    for kind in read.all(TypeName):
        if kind.reference and kind.reference[0] not in declared:
            note("borrowed" if kind.borrowed else "type", kind.reference, kind)
    starts = read.tokens.starts
    return [Use(owner, use, parts, positions.line(starts[at])) for (use, parts), at in first_at.items()]


def _is_method(parts: Parts, aliases: dict[str, Parts]) -> bool:
    """Whether a call is a method of a column or variable: alias.column.method(...), @variable.method(...)."""
    return len(parts) > 1 and (parts[0][:1] == "@" or (len(parts) > 2 and parts[0] in aliases) or parts[0] in aliases)


def resolve_uses(catalog: Catalog, uses: list[Use], known: "KnownNames") -> list[Use]:
    """Turn names into references of the catalogue; return those that lead nowhere."""
    unresolved: list[Use] = []
    found: dict[Reference, None] = {}
    schemas = catalog.schemas()
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
        if use.owner in catalog.objects:  # one text for each id, however often it is used
            use = use._replace(owner=catalog.objects[use.owner].id)
        table = columns.get(use.owner, {}).get(use.parts[0]) if use.kind == "name" else None
        if table is not None:
            found[Reference(use.owner, "column", f"{table}:{use.parts[0]}", table, use.line)] = None
            continue
        owner = catalog.objects.get(use.owner)
        schema = owner.default_schema if owner else _only_schema(catalog, use.parts[-1])
        reference = _resolve(catalog, use, schema)
        if reference is not None:
            found[reference] = None
        elif use.kind == "object" and len(use.parts) == 1 and use.parts[0] in schemas:
            continue  # a privilege on all that a schema holds
        elif not known.knows(use) and not _is_declared(catalog, use) and not _is_column_method(catalog, use):
            unresolved.append(use)
    catalog.references += found
    return unresolved


def default_schema_alias(catalog: Catalog, unresolved: Iterable[Use]) -> str:
    """Return what scripts call the schema in which they make objects without naming it; '' where nothing says so.

    A login can have a default schema or database that the scripts never create. One qualifier means it where no other leads
    nowhere, where each of its several names is that of an object made without a schema, and where no object's text uses such
    names both with it and without.
    """
    names: dict[str, set[str]] = {}
    owners: set[str] = set()
    for use in unresolved:
        if use.kind in _IN_SCHEMA and len(use.parts) == 2 and use.parts[0] not in catalog.schemas():
            owner = catalog.objects.get(use.owner)
            if owner is None or catalog.resolve(use.parts[1:], owner.default_schema) is None:
                return ""
            names.setdefault(use.parts[0], set()).add(use.parts[1])
            owners.add(owner.id)
    if len(names) != 1 or len(next(iter(names.values()))) < _SEVERAL:
        return ""
    mixes = any(each.object in owners and each.kind in _IN_SCHEMA for each in catalog.references)
    return "" if mixes else next(iter(names))


def _only_schema(catalog: Catalog, name: str) -> str:
    """Return where a name that no object's text holds is found, whatever the schema."""
    return next((item.schema for item in catalog.with_name(name)), "")


def _is_column_method(catalog: Catalog, use: Use) -> bool:
    """Whether a call names a column and a method of its type: position.distance(...)."""
    return use.kind == "routine" and len(use.parts) > 1 and bool(catalog.columns_named(use.parts[-2]))


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
