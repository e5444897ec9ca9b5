"""Types that code of PL/SQL declares, the fields of its records, and the types that declarations borrow from columns."""

from dataclasses import dataclass
from functools import cache
from typing import Final

from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import DataType, ObjectType
from hullsound.sql.dialect import load_dialect
from hullsound.sql.lexer import Tokens
from hullsound.sql.script import read_script
from hullsound.sql.tree import CreatePackage, Parameter, TypeDeclaration, TypeName, Variable

from .columns import Columns

_PACKAGES: Final = (ObjectType.PACKAGE, ObjectType.PACKAGE_BODY)


@dataclass(frozen=True)
class Declared:
    """A type that a unit or a package declares."""

    node: TypeDeclaration
    owner: str
    """Stored name of the package, '' for a unit's own."""
    index: str
    """Word of the type by which an associative array is indexed."""
    defaults: tuple[str, ...] = ()
    """What the fields of a record hold from the beginning, in their order: constants, and NULL; () where none says so."""


def declared_type(declared: TypeName, columns: Columns) -> DataType | None:
    """Return the type of a declaration, through TYPE OF a column or of another variable."""
    if not declared.borrowed:
        return data_type(declared)
    if len(declared.reference) < 2:
        return _of_variable(declared, columns) if declared.borrowed == "TYPE" else None
    table = columns.table(declared.reference[:-1])
    found = [c.type for c in table.columns if c.name == declared.reference[-1]] if table is not None else []
    return found[0] if found else None


def _of_variable(declared: TypeName, columns: Columns) -> DataType | None:
    """Return the type of the variable or parameter that a declaration names; one before it, so that none names itself."""
    known: list[Variable | Parameter] = [*columns.subject.all(Variable), *columns.subject.all(Parameter)]
    for each in known:
        if (each.name,) == declared.reference and each.first < declared.first and each.type is not declared:
            return declared_type(each.type, columns)
    return None


def declaration_of(node: TypeName, columns: Columns) -> Declared | None:
    """Return the declaration that a type names: of the unit itself, of its package, or of the package before the dot."""
    for declared in columns.subject.all(TypeDeclaration):
        if len(node.reference) < 2 and declared.name == node.name:
            return declared_here(declared, "", columns.subject.tokens)
    tree, owner = columns.subject.tree, columns.catalog.objects.get(columns.owner)
    own = tree.name[-1] if isinstance(tree, CreatePackage) else ""
    if owner is not None and owner.type in _PACKAGES:
        own = owner.name
    package = node.reference[-2] if len(node.reference) > 1 else own
    name = node.reference[-1] if node.reference else node.name
    for item in columns.catalog.with_name(package) if package else ():
        if item.type is ObjectType.PACKAGE or (item.type is ObjectType.PACKAGE_BODY and package == own):
            for found in _package_types(item.text, columns.catalog.engine):
                if found.node.name == name:
                    return Declared(found.node, item.name, found.index, found.defaults)
    return None


def declared_here(node: TypeDeclaration, owner: str, tokens: Tokens) -> Declared:
    words = tokens.words
    index = ""
    for at in range(node.first, node.last - 1):
        if words[at : at + 2] == ["INDEX", "BY"]:
            index = words[at + 2]
    return Declared(node, owner, index, _field_defaults(node, tokens) if node.form == "record" else ())


def _field_defaults(node: TypeDeclaration, tokens: Tokens) -> tuple[str, ...]:
    """Return what each field of a record holds from the beginning: NULL, a constant, or '' for what is none."""
    words, found, depth, begun = tokens.words, [], 0, -1
    for at in range(node.first, node.last):
        depth -= words[at] == ")"
        if (words[at] == "," and depth == 1) or (words[at] == ")" and depth == 0):
            text = tokens.source(begun, at) if begun >= 0 else "NULL"
            found.append(text if begun < 0 or at - begun == 1 else "")
            begun = -1
        elif words[at] in (":=", "DEFAULT") and depth == 1:
            begun = at + 1
        depth += words[at] == "("
    return tuple(found) if any(text != "NULL" for text in found) else ()


@cache
def _package_types(text: str, engine: str) -> tuple[Declared, ...]:
    """Return the types that the specification of a package declares."""
    read = next(read_script(text, load_dialect(engine)).statements(), None)
    if read is None or not isinstance(read.tree, CreatePackage):
        return ()
    return tuple(declared_here(n, "", read.tokens) for n in read.tree.declarations if isinstance(n, TypeDeclaration))


def field_type(kind: TypeName, field: str, columns: Columns) -> DataType | None:
    """Return the source's type of a field of a record, or of the elements of a list of records or rows; None if unknown."""
    declared = declaration_of(kind, columns) if not kind.borrowed else None
    if declared is not None and declared.node.element is not None:
        element = declared.node.element
        if declared.owner and not element.borrowed and len(element.reference) < 2:
            element = TypeName(0, 0, element.name, (), "", (declared.owner, element.name))
        return field_type(element, field, columns) if field else data_type(element)
    if declared is not None:
        return next((declared_type(each, columns) for name, each in declared.node.fields if name == field), None)
    if kind.borrowed == "ROWTYPE":
        table = columns.catalog.table(kind.reference, columns.default_schema)
        return next((c.type for c in table.columns if c.name == field), None) if table is not None else None
    return None
