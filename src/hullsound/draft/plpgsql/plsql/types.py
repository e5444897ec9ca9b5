"""Types in PL/pgSQL code, and the records and collections that code declares."""

from dataclasses import dataclass
from functools import cache
from typing import Final

from hullsound.analyze.records import Declared, declaration_of, declared_here, declared_type
from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.plpgsql.shared import table_name, unsized_text
from hullsound.knowledge.types import choose_type, parse_type
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import read_script
from hullsound.sql.tree import (
    Call,
    CreatePackage,
    CursorDeclaration,
    Fetch,
    Node,
    Parameter,
    Routine,
    Select,
    TypeDeclaration,
    TypeName,
    Variable,
)

_SUPPLIED: Final = {
    "ODCIVARCHAR2LIST": ("VARCHAR2(4000)", False), "ODCINUMBERLIST": ("NUMBER", False), "ODCIDATELIST": ("DATE", False),
    "DBMS_DEBUG_VC2COLL": ("VARCHAR2(1000)", False), "KU$_VCNT": ("VARCHAR2(4000)", False),
    "VARCHAR2_TABLE": ("VARCHAR2(4000)", True), "VARCHAR2A": ("VARCHAR2(32767)", True), "VARCHAR2S": ("VARCHAR2(256)", True),
    "NUMBER_TABLE": ("NUMBER", True), "DATE_TABLE": ("DATE", True),
}  # fmt: skip
"""Collections that Oracle 19 supplies in SYS and DBMS_SQL: the type of their elements, and whether they are associative."""


def unsized_types(nodes: list[Node]) -> set[TypeName]:
    """Return the types of parameters and results, which carry no length or precision."""
    found: set[TypeName] = set()
    for node in nodes:
        if isinstance(node, Parameter):
            found.add(node.type)
        elif isinstance(node, Routine) and node.returns is not None:
            found.add(node.returns)
    return found


def write_type(node: TypeName, rewriter: Rewriter, *, unsized: bool) -> str:
    """Return the target's text for a type in code. Raises CannotDraft if it has none."""
    if node.borrowed:
        return _borrowed(node, rewriter, unsized=unsized)
    source = data_type(node)
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is not None:
        if not choice.text:
            raise CannotDraft(f"no type for {source}")
        return unsized_text(choice.text) if unsized else choice.text
    collection = collection_of(node, rewriter)
    if collection is not None:
        return collection.kind
    declared = declaration_of(node, rewriter.columns)
    if declared is not None:
        return _declared_text(declared, rewriter)
    if _is_cursor_type(node.reference, rewriter):
        return "refcursor"
    item = rewriter.catalog.resolve(node.reference, _schema(rewriter))
    if item is None or item.details.get("form") != "object":
        raise CannotDraft(f"no type for {source}")
    return rewriter.names.qualified(item.schema, item.name)


# --- types that code declares ---


@dataclass(frozen=True)
class Collection:
    """A type whose values are lists: an array, or jsonb where the keys are texts or leave gaps."""

    element: str
    is_map: bool
    has_text_keys: bool
    is_associative: bool
    has_fields: bool
    """Whether its elements are rows or records."""

    @property
    def kind(self) -> str:
        return "jsonb" if self.is_map else f"{self.element}[]"


def beginning(node: TypeName, rewriter: Rewriter) -> str:
    """Return the value of a record variable that says none itself; '' where NULL will do. Raises CannotDraft."""
    declared = declaration_of(node, rewriter.columns) if not node.borrowed else None
    if declared is None or not declared.defaults:
        return ""
    if not all(declared.defaults):
        raise CannotDraft("a record whose fields begin with values that are no constants")
    return f"ROW({', '.join(declared.defaults)})::{record_name(declared, rewriter)}"


@cache
def _package_variables(text: str, engine: str) -> dict[str, Variable]:
    """Return the variables that the specification of a package declares, by their names."""
    read = next(read_script(text, load_dialect(engine)).statements(), None)
    tree = read.tree if read is not None else None
    nodes = tree.declarations if isinstance(tree, CreatePackage) else []
    return {node.name: node for node in nodes if isinstance(node, Variable)}


def specified_variable(package: str, name: str, rewriter: Rewriter) -> Variable | None:
    """Return the declaration of a variable in the specification of a package; None if it is not there."""
    for item in rewriter.catalog.with_name(package):
        if item.type is ObjectType.PACKAGE:
            found = _package_variables(item.text, rewriter.catalog.engine).get(name)
            if found is not None:
                return found
    return None


def _declared_text(declared: Declared, rewriter: Rewriter) -> str:
    if declared.node.form == "ref cursor":
        return "refcursor"
    if declared.node.form == "record":
        return record_name(declared, rewriter)
    if declared.node.form == "subtype" and declared.node.element is not None:
        return element_text(declared.node.element, rewriter)
    raise CannotDraft(f"the type {declared.node.name.lower()}")


def record_name(declared: Declared, rewriter: Rewriter) -> str:
    """Return the composite type that stands for a record type: in the package's schema, or named after the unit."""
    tree = rewriter.subject.tree
    if declared.owner:
        return rewriter.names.qualified(declared.owner, declared.node.name)
    if isinstance(tree, CreatePackage):
        routines = [r for r in rewriter.subject.all(Routine) if r.block is not None and _holds(r, declared.node)]
        inner = f"{routines[0].name[-1]}_" if routines else ""
        return rewriter.names.qualified(tree.name[-1], f"{inner}{declared.node.name}")
    owner = rewriter.catalog.objects.get(rewriter.owner)
    if owner is None or owner.type is ObjectType.BLOCK:
        raise CannotDraft("a record type of a block without a name")
    return rewriter.names.qualified(owner.schema, f"{owner.name}_{declared.node.name}")


def _holds(outer: Node, inner: Node) -> bool:
    return outer.first <= inner.first and inner.last <= outer.last


def record_definition(node: TypeDeclaration, rewriter: Rewriter) -> str:
    """Write the composite type of a record type. What its fields hold from the beginning, its variables say (`beginning`)."""
    declared = declared_here(node, "", rewriter.tokens)
    fields = ", ".join(f"{rewriter.names.write(name)} {element_text(kind, rewriter)}" for name, kind in node.fields)
    return f"CREATE TYPE {record_name(declared, rewriter)} AS ({fields});"


def element_text(node: TypeName, rewriter: Rewriter) -> str:
    """Return the type of an element or field, where types taken from columns must be written out."""
    if not node.borrowed:
        return write_type(node, rewriter, unsized=False)
    if node.borrowed == "ROWTYPE":
        text = _borrowed(node, rewriter, unsized=True)
        if text == "record":
            raise CannotDraft("elements that are rows of a cursor")
        return text
    source = declared_type(node, rewriter.columns)
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target) if source is not None else None
    if choice is None or not choice.text:
        raise CannotDraft(f"the type of {'.'.join(node.reference).lower()}, which is not in the survey")
    return choice.text


def collection_of(node: TypeName, rewriter: Rewriter) -> Collection | None:
    """Return the collection that a type is: declared in code, in a package or in the schema. Raises CannotDraft."""
    declared = declaration_of(node, rewriter.columns)
    if declared is not None:
        if declared.node.element is None or declared.node.form not in ("table", "varray", "associative"):
            return None
        element = declared.node.element
        inner = declaration_of(element, rewriter.columns) if not element.borrowed else None
        if inner is None and declared.owner and not element.borrowed and len(element.reference) < 2:
            inner = declaration_of(
                TypeName(0, 0, element.name, (), "", (declared.owner, element.name)), rewriter.columns
            )
        has_fields = element.borrowed == "ROWTYPE" or (inner is not None and inner.node.form == "record")
        text = record_name(inner, rewriter) if inner is not None and inner.node.form == "record" else ""
        associative = declared.node.form == "associative"
        by_text = declared.index.startswith(("VARCHAR", "STRING", "CHAR", "LONG"))
        is_map = by_text or (associative and declared.node.name in sparse_types(rewriter))
        return Collection(text or element_text(element, rewriter), is_map, by_text, associative, has_fields)
    supplied = _SUPPLIED.get(node.reference[-1] if node.reference else node.name)
    if supplied:
        element_name, associative = supplied
        choice = choose_type(rewriter.catalog.engine, parse_type(element_name), rewriter.target)
        if choice is not None and choice.text:
            return Collection(choice.text, False, False, associative, has_fields=False)
    item = _schema_collection(node, rewriter)
    if item is None:
        return None
    element_type = parse_type(item.details["element"])
    choice = choose_type(rewriter.catalog.engine, element_type, rewriter.target)
    row = rewriter.catalog.resolve((element_type.name,), item.default_schema) if choice is None else None
    if choice is not None and choice.text:
        return Collection(choice.text, False, False, False, has_fields=False)
    if row is not None and row.details.get("form") == "object":
        return Collection(rewriter.names.qualified(row.schema, row.name), False, False, False, has_fields=True)
    raise CannotDraft(f"the collection {item.name.lower()}")


def _schema_collection(node: TypeName, rewriter: Rewriter) -> Object | None:
    item = rewriter.catalog.resolve(node.reference, _schema(rewriter)) if node.reference else None
    wanted = item is not None and item.type is ObjectType.TYPE and item.details.get("form") in ("table", "varray")
    return item if wanted and item is not None and item.details.get("element") else None


def sparse_types(rewriter: Rewriter) -> set[str]:
    """Return the types of associative arrays whose code looks for gaps, or walks from key to key."""
    memory: dict[str, set[str]] = rewriter.subject.memory  # type: ignore[assignment]
    if "sparse types" not in memory:
        memory["sparse types"] = _find_sparse(rewriter)
    return memory["sparse types"]


_GAPS = frozenset(("NEXT", "PRIOR", "EXISTS"))


def _find_sparse(rewriter: Rewriter) -> set[str]:
    kinds: dict[str, set[str]] = {}
    declared: list[Variable | Parameter] = [*rewriter.subject.all(Variable), *rewriter.subject.all(Parameter)]
    for node in declared:
        kinds.setdefault(node.name, set()).add(node.type.reference[-1] if node.type.reference else node.type.name)
    asked = {c.parts[0] for c in rewriter.subject.all(Call) if len(c.parts) == 2 and c.parts[1] in _GAPS}
    asked |= {c.parts[0] for c in rewriter.subject.all(Call) if c.parts[1:] == ("DELETE",) and c.arguments}
    filled: set[str] = set()
    targets = [into for s in rewriter.subject.all(Select) if s.bulk for into in s.into]
    targets += [into for f in rewriter.subject.all(Fetch) if f.bulk for into in f.into]
    for target in targets:
        filled |= set(getattr(target, "parts", ()))
    return {kind for name in asked - filled for kind in kinds.get(name, ())}


def _is_cursor_type(parts: tuple[str, ...], rewriter: Rewriter) -> bool:
    """Whether a name is a REF CURSOR type of a package: its own, or one named with its package."""
    tree = rewriter.subject.tree
    package = parts[-2] if len(parts) > 1 else tree.name[-1] if isinstance(tree, CreatePackage) else ""
    return any(
        parts[-1] in item.details.get("cursor types", "").split() for item in rewriter.catalog.with_name(package)
    )


def _borrowed(node: TypeName, rewriter: Rewriter, *, unsized: bool) -> str:
    """Write name%TYPE; a row type of a cursor is a record, that of a table in a parameter the table's own name."""
    reference = node.reference
    cursors = {cursor.name for cursor in rewriter.subject.all(CursorDeclaration)}
    if node.borrowed == "ROWTYPE" and reference[-1] in cursors:
        return "record"
    if len(reference) == 1 and node.borrowed == "TYPE":
        return f"{rewriter.names.write(reference[0])}%TYPE"
    table = reference[:-1] if node.borrowed == "TYPE" else reference
    name = table_name(table, rewriter)
    if node.borrowed == "ROWTYPE":
        return name if unsized else f"{name}%ROWTYPE"
    return f"{name}.{rewriter.names.write(reference[-1])}%TYPE"


def _schema(rewriter: Rewriter) -> str:
    owner = rewriter.catalog.objects.get(rewriter.owner)
    return owner.default_schema if owner else ""
