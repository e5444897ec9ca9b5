"""What class of value an expression has: text, number, date, timestamp, interval; or the column that decides."""

from collections.abc import Iterable
from typing import Final, NamedTuple

from hullsound.analyze.signatures import choices_of, signature_of
from hullsound.analyze.subject import Subject
from hullsound.analyze.titles import worked_out
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Column, ObjectType
from hullsound.knowledge.load import load_signatures
from hullsound.knowledge.types import class_of_kind, logical_type, value_class
from hullsound.sql.tree import (
    Bind,
    Call,
    Case,
    Cast,
    CreateTrigger,
    Literal,
    Loop,
    Name,
    Node,
    Operation,
    OuterMark,
    Paren,
    Query,
    Select,
    Subquery,
    TypedLiteral,
    TypeName,
)

from .detector import Need

_RELATIONS: Final = frozenset((ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.SEQUENCE))


class Value(NamedTuple):
    """Either a known class, or the column (table or '', name) whose type decides; both empty where nothing is known."""

    kind: str = ""
    column: tuple[str, str] | None = None
    is_cut: bool = False
    """Whether the column's value is cut to whole days, which makes a date of a timestamp."""


UNKNOWN: Final = Value()


def value_of(node: Node, subject: Subject) -> Value:
    """Work out the class of an expression as far as the statement alone tells it."""
    match node:
        case Literal():
            return Value({"number": "number", "string": "text"}.get(node.form, ""))
        case TypedLiteral():
            return Value({"DATE": "date", "TIMESTAMP": "timestamp"}.get(node.form, "interval"))
        case Paren():
            return value_of(node.inner, subject)
        case OuterMark():
            return value_of(node.name, subject)
        case Bind():
            return _bind_value(node, subject)
        case Name():
            return _name_value(node, subject)
        case Cast():
            return Value(value_class(subject.engine, node.type.name))
        case Case():
            return value_of(node.branches[0][1], subject) if node.branches else UNKNOWN
        case Call():
            return _call_value(node, subject)
        case Operation():
            return _operation_value(node, subject)
        case Subquery() if not node.form:
            value = only_value(node.query)
            return value_of(value, subject) if value is not None else UNKNOWN
    return UNKNOWN


def only_value(query: Query) -> Node | None:
    """Return the value of a query of one block and one item; None for another."""
    block = query.blocks[0] if len(query.blocks) == 1 else None
    return block.items[0].value if isinstance(block, Select) and len(block.items) == 1 else None


def _name_value(node: Name, subject: Subject) -> Value:
    parts = node.parts
    if len(parts) == 1:
        name = parts[0]
        if name in subject.scope.declared:
            if any(loop.form == "range" and loop.variable == name for loop in subject.all(Loop)):
                return Value("number")
            return declared_value(subject.scope.type_at(name, node), subject.engine)
        built_in = load_signatures(subject.engine).get(name)
        if built_in is not None and built_in.bare:
            return _built_in_value(built_in.gives)
        given = worked_out(node, subject)
        if given is not None:
            return value_of(given, subject)
        tables = subject.scope.tables
        return Value(column=(tables[0].parts[-1] if len(tables) == 1 else "", name))
    if parts[-1] in ("NEXTVAL", "CURRVAL"):
        return Value("number")
    given = worked_out(node, subject)
    if given is not None:
        return value_of(given, subject)
    table = subject.scope.aliases.get(parts[-2])
    if parts[-2] in subject.scope.declared:
        return Value(column=("", parts[-1]))
    return Value(column=(table[-1] if table else "", parts[-1]))


def declared_value(kind: TypeName | None, engine: str) -> Value:
    """Return the value class of a variable's type; a borrowed type is decided by its column."""
    if kind is None:
        return UNKNOWN
    if kind.borrowed == "TYPE" and len(kind.reference) > 1:
        return Value(column=(kind.reference[-2], kind.reference[-1]))
    return Value(value_class(engine, kind.name) or ("interval" if kind.name.startswith("INTERVAL") else ""))


def _bind_value(node: Bind, subject: Subject) -> Value:
    if len(node.parts) != 2:
        return UNKNOWN
    table = subject.tree.table[-1] if isinstance(subject.tree, CreateTrigger) and subject.tree.table else ""
    return Value(column=(table, node.parts[1]))


def _call_value(node: Call, subject: Subject) -> Value:
    choices = choices_of(node, subject.engine)
    if choices:
        value = value_of(choices[0], subject)
        if value != UNKNOWN:
            return _cut(node, value) if node.parts[-1] in ("TRUNC", "ROUND") else value
    signature = signature_of(node, subject.engine)
    if signature is not None and signature.gives:
        return _built_in_value(signature.gives)
    return declared_value(subject.scope.declared.get(node.parts[-1]), subject.engine)


def _built_in_value(kind: str) -> Value:
    return Value("interval" if kind == "interval" else class_of_kind(kind))


def _cut(call: Call, value: Value) -> Value:
    """Return what TRUNC and ROUND make of a value."""
    has_mask = len(call.arguments) > 1 and isinstance(call.arguments[1], Literal) and call.arguments[1].form == "string"
    if has_mask or value.kind == "timestamp":
        return Value("date")
    return value._replace(is_cut=True) if value.column else value


def _operation_value(node: Operation, subject: Subject) -> Value:
    operators = node.operators
    if "||" in operators:
        return Value("text")
    if operators[0] in ("*", "/", "**", "MOD"):
        return Value("number")
    if operators[0] not in ("+", "-"):
        return UNKNOWN
    if len(node.operands) == 1:
        return value_of(node.operands[0], subject)
    running = value_of(node.operands[0], subject)
    for operator, operand in zip(operators, node.operands[1:], strict=True):
        running = combine(running, operator, value_of(operand, subject))
    return running


def combine(left: Value, operator: str, right: Value) -> Value:
    """Return the class of left + right or left - right."""
    if left.kind == "date" and right.kind == "date":
        return Value("number")
    if left.kind == "timestamp" and right.kind == "number":
        return Value("date")
    if left.kind in ("date", "timestamp", "interval"):
        return Value("number") if left.kind == "date" and right.column and operator == "-" else left
    if right.kind in ("date", "timestamp"):
        return Value("number") if operator == "-" else right
    if left.column and right.column:
        return Value("number") if operator == "-" else left
    return left if left != UNKNOWN else right


def _columns(catalog: Catalog, table: str, column: str) -> list[Column]:
    """Return the columns that a table's or, without one, any object's column of this name may be."""
    if table:
        found = [each for item in catalog.tables_named(table) for each in item.columns if each.name == column]
        if found:
            return found[:1]
    return catalog.columns_named(column)


def column_class(catalog: Catalog, table: str, column: str) -> str:
    """Return the value class of a column by the catalogue; '' if unknown or if same-named columns differ."""
    classes = {value_class(catalog.engine, each.type.name) for each in _columns(catalog, table, column)}
    return classes.pop() if len(classes) == 1 else ""


def known_value(value: Value, catalog: Catalog) -> Value:
    """Return a value with the class that the catalogue gives where a column decides it."""
    if value.kind or value.column is None:
        return value
    kind = column_class(catalog, *value.column)
    return Value("date" if value.is_cut and kind == "timestamp" else kind)


def column_kind(catalog: Catalog, table: str, column: str) -> str:
    """Return the logical kind of a column, such as integer or decimal; '' if unknown or if same-named columns differ."""
    logical = [logical_type(catalog.engine, each.type) for each in _columns(catalog, table, column)]
    kinds = {each.kind for each in logical if each is not None}
    return kinds.pop() if len(kinds) == 1 else ""


def needs_hold(needs: Iterable[Need], catalog: Catalog) -> bool:
    """Whether what a sighting needs of columns is so in this catalogue."""
    alternatives: list[bool] = []
    for table, column, wanted in needs:
        if wanted in ("relation", "no relation"):
            if _is_relation(catalog, column) != (wanted == "relation"):
                return False
        elif wanted == "no package":
            if any(item.type is ObjectType.PACKAGE for item in catalog.with_name(column)):
                return False
        elif wanted == "unknown exception":
            if _is_package_exception(catalog, column):
                return False
        elif wanted == "nullable?":
            alternatives.append(_is_nullable(catalog, table, column))
        elif wanted.startswith("beside key?:"):
            alternatives.append(not _is_settled(catalog, table, column, wanted.partition(":")[2].split(",")))
        elif wanted == "nullable":
            columns = _columns(catalog, table, column)
            if not columns or not all(each.nullable for each in columns):
                return False
        elif wanted.startswith("kind:"):
            if column_kind(catalog, table, column) != wanted.removeprefix("kind:"):
                return False
        elif wanted.startswith("other kind:"):
            if column_kind(catalog, table, column) == wanted.partition(":")[2]:
                return False
        elif wanted == "padded":
            if not _is_padded(catalog, table, column):
                return False
        elif wanted == "integer?":
            if column_kind(catalog, table, column) not in ("integer", "decimal-whole", "unsigned", "serial"):
                return False
        elif wanted == "fraction":
            if column_kind(catalog, table, column) != "decimal":
                return False
        elif wanted == "date or timestamp":
            if column_class(catalog, table, column) not in ("date", "timestamp"):
                return False
        elif wanted.endswith("?"):
            if column_class(catalog, table, column) not in (wanted[:-1], ""):
                return False
        elif column_class(catalog, table, column) != wanted:
            return False
    return any(alternatives) if alternatives else True


def _is_settled(catalog: Catalog, table: str, column: str, grouped: list[str]) -> bool:
    """Whether a column belongs to a table whose whole primary key is among the columns that are grouped by."""
    tables = catalog.tables_named(table) if table else []
    return any(
        item.constraint is not None
        and item.constraint.form == "primary key"
        and set(item.constraint.columns) <= set(grouped)
        for each in tables
        if any(column == known.name for known in each.columns)
        for item in catalog.belonging(each.id)
    )


def _is_padded(catalog: Catalog, table: str, column: str) -> bool:
    """Whether a column is a text of a fixed length beyond one."""
    logical = [logical_type(catalog.engine, each.type) for each in _columns(catalog, table, column)]
    return bool(logical) and all(each is not None and each.kind == "fixed-text" and each.length > 1 for each in logical)


def _is_relation(catalog: Catalog, name: str) -> bool:
    """Whether a dotted name is a table, view or sequence of the catalogue, in any schema where it names none."""
    schema, _, last = name.rpartition(".")
    return any(item.type in _RELATIONS and (not schema or item.schema == schema) for item in catalog.with_name(last))


def _is_package_exception(catalog: Catalog, name: str) -> bool:
    """Whether a dotted name is an exception that a package of the catalogue declares."""
    *_, package, exception = name.split(".")
    return any(
        entry.partition("=")[0] == exception
        for item in catalog.with_name(package)
        if item.type is ObjectType.PACKAGE
        for entry in item.details.get("exceptions", "").split()
    )


def _is_nullable(catalog: Catalog, table: str, column: str) -> bool:
    for item in catalog.tables_named(table):
        for each in item.columns:
            if each.name == column:
                return each.nullable
    return True
