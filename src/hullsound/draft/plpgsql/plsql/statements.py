"""Points for the statements and declarations of PL/SQL code."""

from functools import partial
from string import ascii_uppercase, digits
from typing import Final
from zlib import crc32

from hullsound.catalog.definitions import exception_numbers
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.draft.plpgsql.fetches import KEPT, keeping, kept_targets
from hullsound.sql.tree import (
    Bind,
    Block,
    Call,
    CallStatement,
    CreatePackage,
    CreateTrigger,
    CursorDeclaration,
    Delete,
    ExceptionDeclaration,
    Fetch,
    Handler,
    Insert,
    Loop,
    Merge,
    Name,
    NamedArgument,
    Node,
    OpenCursor,
    Parameter,
    PlainStatement,
    Pragma,
    QueryStatement,
    Raise,
    Routine,
    Select,
    TypeDeclaration,
    TypeName,
    Update,
    Variable,
)

from .collections import Collections
from .gotos import add_gotos
from .row_counts import add_row_counts, asking_routines
from .state import State
from .tables import add_table_points
from .types import beginning, unsized_types, write_type

CONDITIONS: Final = {
    "NO_DATA_FOUND": "no_data_found", "TOO_MANY_ROWS": "too_many_rows", "DUP_VAL_ON_INDEX": "unique_violation",
    "ZERO_DIVIDE": "division_by_zero", "INVALID_NUMBER": "invalid_text_representation", "VALUE_ERROR": "data_exception",
    "CURSOR_ALREADY_OPEN": "duplicate_cursor", "INVALID_CURSOR": "invalid_cursor_name",
    "LOGIN_DENIED": "invalid_authorization_specification", "OTHERS": "OTHERS", "CASE_NOT_FOUND": "case_not_found",
    "PROGRAM_ERROR": "internal_error", "STORAGE_ERROR": "out_of_memory", "TIMEOUT_ON_RESOURCE": "lock_not_available",
    "ROWTYPE_MISMATCH": "datatype_mismatch",
}  # fmt: skip
"""Predefined exceptions and the condition names of PostgreSQL (appendix "Error Codes") that mean the same."""
ERROR_NUMBERS: Final = {
    "-1": "unique_violation", "-54": "lock_not_available", "-60": "deadlock_detected", "-1400": "not_null_violation",
    "-1403": "no_data_found", "-1407": "not_null_violation", "-1422": "too_many_rows", "-1438": "numeric_value_out_of_range",
    "-1476": "division_by_zero", "-1722": "invalid_text_representation", "-2290": "check_violation",
    "-2291": "foreign_key_violation", "-2292": "foreign_key_violation", "-12899": "string_data_right_truncation",
    "-942": "undefined_table", "-6502": "data_exception", "-30006": "lock_not_available",
}  # fmt: skip
"""Error numbers of Oracle that code names by EXCEPTION_INIT, and the conditions that mean the same."""
_DIGITS: Final = digits + ascii_uppercase
_EVENTS: Final = {"INSERTING": "INSERT", "UPDATING": "UPDATE", "DELETING": "DELETE"}


def add_code_points(rewriter: Rewriter) -> None:
    """Add every point that procedural code needs beside those of its constructs."""
    subject = rewriter.subject
    State(rewriter).add()
    Collections.of(rewriter).add()
    for fetch in rewriter.subject.all(Fetch):
        kept = kept_targets(fetch, rewriter)
        if kept:
            rewriter.add(Point(fetch.first, fetch.last, partial(_keeping, fetch, kept), rank=1))
    add_table_points(rewriter)
    _add_savepoints(rewriter)
    add_gotos(rewriter)
    unsized = unsized_types(subject.read.nodes)
    for kind in subject.all(TypeName):
        rewriter.add(Point(kind.first, kind.last, partial(_type, kind, kind in unsized)))
    for parameter in subject.all(Parameter):
        rewriter.add(Point(parameter.first, parameter.last, partial(_parameter, parameter)))
    for variable in subject.all(Variable):
        in_package = isinstance(subject.tree, CreatePackage) and variable in subject.tree.declarations
        if variable.default is None and not in_package:
            rewriter.wrap(variable, partial(_begun, variable), rank=1)
    for select in subject.all(Select):
        if select.into_span is not None and not select.bulk:
            rewriter.insert(select.into_span[0] + 1, "STRICT ")
    for loop in subject.all(Loop):
        _add_loop(loop, rewriter)
    for cursor in subject.all(CursorDeclaration):
        if cursor.query is not None:
            rewriter.add(Point(cursor.first, cursor.query.first, partial(_cursor_head, cursor)))
            if any(each.default is not None for each in cursor.parameters):
                _add_given(cursor, rewriter)
    for statement in subject.all(CallStatement):
        rewriter.add(Point(statement.first, statement.last, partial(_call_statement, statement), rank=1))
    for bind in subject.all(Bind):
        rewriter.add(Point(bind.first, bind.last, partial(_bind, bind)))
    _add_names(rewriter)
    _add_exceptions(rewriter)
    add_row_counts(rewriter)
    for node in (*subject.all(Pragma), *subject.all(ExceptionDeclaration)):
        rewriter.replace(node.first, node.last + 1, "")
    for declared in subject.all(TypeDeclaration):
        in_package = isinstance(subject.tree, CreatePackage) and declared in subject.tree.declarations
        if declared.form == "ref cursor" or (declared.form == "record" and not in_package):
            rewriter.replace(declared.first, declared.last + 1, "")
    for block in subject.all(Block):
        _add_block(block, rewriter)


def hoisted_declarations(rewriter: Rewriter, routine: Node) -> list[str]:
    """Return declarations that PL/pgSQL needs and PL/SQL makes by itself: records of query loops, the row count."""
    declared = rewriter.subject.scope.declared
    read = rewriter.subject.read
    lines: list[str] = []
    for loop in read.inside(Loop, routine.first, routine.last):
        if loop.form == "query" and declared.get(loop.variable) is None:
            line = f"{rewriter.names.write(loop.variable)} record;"
            if line not in lines:
                lines.append(line)
    lines += _package_cursors(rewriter, routine)
    lines += State(rewriter).hoisted(routine.first, routine.last)
    holder = routine if isinstance(routine, Routine) else None
    lines += Collections.of(rewriter).hoisted(routine.first, routine.last)
    fetches = read.inside(Fetch, routine.first, routine.last)
    if any(kept_targets(each, rewriter) for each in fetches):
        lines.append(f"{KEPT} record;")
    if holder in asking_routines(rewriter):
        lines.append(f"{ROW_COUNT} bigint := 0;")
    return lines


def _package_cursors(rewriter: Rewriter, routine: Node) -> list[str]:
    """Return the declarations of those cursors of a package that a routine opens. Raises CannotDraft for shared ones."""
    tree = rewriter.subject.tree
    cursors = [each for each in rewriter.subject.all(CursorDeclaration) if each.query is not None]
    if not isinstance(tree, CreatePackage) or not cursors:
        return []
    read, first, last = rewriter.subject.read, routine.first, routine.last
    opened = {_name_of(each.cursor) for each in read.inside(OpenCursor, first, last)}
    for loop in read.inside(Loop, first, last):
        if loop.form in ("query", "cursor"):
            opened |= {_name_of(bound) for bound in loop.bounds}
    fetched = {_name_of(each.cursor) for each in read.inside(Fetch, first, last)}
    lines = []
    for cursor in cursors:
        if cursor in tree.declarations:
            if cursor.name in fetched - opened:
                raise CannotDraft("a cursor of the package that another routine opens")
            if cursor.name in opened:
                lines.append(f"{rewriter.text_elsewhere(cursor.first, cursor.last)};")
    return lines


def _name_of(node: Node) -> str:
    return node.parts[-1] if isinstance(node, Name | Call) else ""


def _add_savepoints(rewriter: Rewriter) -> None:
    """A block with a handler is a savepoint by itself: a savepoint right before it, or at its beginning, goes.

    ROLLBACK TO goes from its handler; elsewhere it has no counterpart.
    """
    subject, words = rewriter.subject, rewriter.words
    points = {words[n.first + 1]: n for n in subject.all(PlainStatement) if n.words == "savepoint"}
    for node in subject.all(PlainStatement):
        if node.words == "rollback" and words[node.last + 1] == "RAISE":
            rewriter.take(node)
            rewriter.add(Point(node.first, node.last, lambda r: "NULL", rank=3))  # the error undoes it anyway
        if node.words != "rollback to":
            continue
        point = points.get(words[node.last - 1])
        blocks = [b for b in subject.all(Block) if any(h.first <= node.first < h.last for h in b.handlers)]
        block = min(blocks, key=lambda b: b.last - b.first, default=None)
        behind = point.last + 1 if point is not None else -1
        if point is None or block is None or behind not in (block.first, block.begin_at, block.body[0].last + 1):
            rewriter.add(Point(node.first, node.last, _refuse_savepoint, rank=3))
            continue
        rewriter.add(Point(node.first, node.last, lambda r: "NULL", rank=3))
        rewriter.add(Point(point.first, point.last, lambda r: "NULL", rank=3))
    for node in points.values():
        rewriter.add(Point(node.first, node.last, lambda r: "NULL", rank=3))


def _refuse_savepoint(rewriter: Rewriter) -> str:
    raise CannotDraft("ROLLBACK TO a savepoint that is not the beginning of a block")


def _begun(variable: Variable, rewriter: Rewriter) -> str:
    """Give a record the values that its type says its fields begin with."""
    value = beginning(variable.type, rewriter)
    return rewriter.node(variable) + (f" := {value}" if value else "")


def _type(node: TypeName, unsized: bool, rewriter: Rewriter) -> str:
    return write_type(node, rewriter, unsized=unsized)


def _parameter(node: Parameter, rewriter: Rewriter) -> str:
    """Write mode, name, type and default in PostgreSQL's order; cursor parameters have no mode."""
    mode = {"in": "", "out": "OUT ", "in out": "INOUT "}[node.mode]
    kind = rewriter.node(node.type)
    if node.mode != "in" and kind == "text" and node.type.name in ("VARCHAR2", "VARCHAR", "NVARCHAR2"):
        kind = "varchar"  # variables that take the value are varchar(n), and CALL wants the very type
    name = rewriter.names.write(node.name)
    if rewriter.subject.read.innermost(CursorDeclaration, node) is not None:
        return f"{name} {kind}"
    if node.default is not None:
        return f"{mode}{name} {kind} DEFAULT {rewriter.node(node.default)}"
    if _follows_default(node, rewriter):
        # Behind a parameter with a default each one must have one.
        return f"{'INOUT ' if mode else ''}{name} {kind} DEFAULT NULL"
    return f"{mode}{name} {kind}"


def _follows_default(node: Parameter, rewriter: Rewriter) -> bool:
    """Whether a parameter of the same list before this one has a default."""
    routine = rewriter.subject.read.innermost(Routine, node)
    if routine is None or node not in routine.parameters:
        return False
    return any(p.default is not None for p in routine.parameters[: routine.parameters.index(node)])


def _add_loop(loop: Loop, rewriter: Rewriter) -> None:
    if loop.form == "range" and loop.reverse:
        low, high = loop.bounds
        rewriter.add(Point(low.first, high.last, lambda r: f"{r.node(high)}..{r.node(low)}"))


def _add_given(cursor: CursorDeclaration, rewriter: Rewriter) -> None:
    """Give a cursor whatever it is opened without: its parameters have no defaults in PL/pgSQL."""
    opened: list[Node] = [each.cursor for each in rewriter.subject.all(OpenCursor)]
    opened += [each.bounds[0] for each in rewriter.subject.all(Loop) if each.form == "cursor" and each.bounds]
    for node in opened:
        if _name_of(node) != cursor.name:
            continue
        arguments = node.arguments if isinstance(node, Call) else []
        if any(isinstance(each, NamedArgument) for each in arguments):
            rewriter.add(Point(node.first, node.last, _refuse_named, rank=3))
            continue
        missing = [each.default for each in cursor.parameters[len(arguments) :] if each.default is not None]
        if missing and arguments:
            rewriter.add(
                Point(arguments[-1].last, arguments[-1].last, partial(_further, missing), behind=arguments[-1].first)
            )
        elif missing:
            rewriter.add(Point(node.first, node.last, partial(_given_all, cursor, missing), rank=3))


def _further(values: list[Node], rewriter: Rewriter) -> str:
    return "".join(f", {rewriter.elsewhere(each)}" for each in values)


def _given_all(cursor: CursorDeclaration, values: list[Node], rewriter: Rewriter) -> str:
    return f"{rewriter.names.write(cursor.name)}({', '.join(map(rewriter.elsewhere, values))})"


def _refuse_named(rewriter: Rewriter) -> str:
    raise CannotDraft("a cursor with defaults whose values are given by name")


def _cursor_head(cursor: CursorDeclaration, rewriter: Rewriter) -> str:
    parameters = f" ({rewriter.nodes(cursor.parameters)})" if cursor.parameters else ""
    opening = "(" if rewriter.words[cursor.is_at + 1] == "(" else ""
    return f"{rewriter.names.write(cursor.name)} CURSOR{parameters} FOR {opening}"


def _call_statement(statement: CallStatement, rewriter: Rewriter) -> str:
    """Write CALL before a procedure; fixers that make a statement of their own stay as they are."""
    node = statement.call
    text = rewriter.node(node)
    if text == "NULL" or text.startswith(("RAISE ", "PERFORM ")):
        return text
    if isinstance(node, Name):
        return f"CALL {text.removesuffix('()')}()"
    if isinstance(node, Call):
        return f"CALL {text}"
    raise CannotDraft("a statement that is a method of a collection or an object")


def _bind(node: Bind, rewriter: Rewriter) -> str:
    tree = rewriter.subject.tree
    if isinstance(tree, QueryStatement | Insert | Update | Delete | Merge):
        return rewriter.tokens.source(node.first, node.last)  # the program that sends the statement binds it
    if not isinstance(tree, CreateTrigger):
        raise CannotDraft(f"host variable :{node.parts[0].lower()}")
    record = tree.referencing.get(node.parts[0], node.parts[0])
    if record not in ("NEW", "OLD"):
        raise CannotDraft(f"host variable :{node.parts[0].lower()}")
    return ".".join([record, *(rewriter.names.write(part) for part in node.parts[1:])])


def _add_names(rewriter: Rewriter) -> None:
    """Give parameterless functions their parentheses, package members their schema, trigger events their test."""
    subject = rewriter.subject
    in_trigger = isinstance(subject.tree, CreateTrigger)
    own = own_package(rewriter)
    members = {r.name[-1] for r in subject.all(Routine)} if own else set()
    constants = _constants_of(own, rewriter) if own else set()
    columns = {
        c.name for t in subject.scope.tables for o in rewriter.catalog.tables_named(t.parts[-1]) for c in o.columns
    }
    for name in subject.all(Name):
        parts = name.parts
        if in_trigger and len(parts) == 1 and parts[0] in _EVENTS:
            rewriter.replace(name.first, name.last, f"(TG_OP = '{_EVENTS[parts[0]]}')")
        elif len(parts) == 1 and parts[0] in constants:
            rewriter.replace(name.first, name.last, f"{rewriter.names.qualified(own, parts[0])}()")
        elif parts[0] in subject.scope.declared and not (len(parts) == 1 and parts[0] in members):
            continue
        elif len(parts) == 1 and parts[0] in members:
            rewriter.replace(name.first, name.last, f"{rewriter.names.qualified(own, parts[0])}()")
        elif parts[-1] not in columns and parts[0] not in subject.scope.aliases:
            target = _routine_named(parts, rewriter)
            if target:
                rewriter.replace(name.first, name.last, f"{target}()")
    for call in subject.all(Call):
        if len(call.parts) == 1 and call.parts[0] in members and own:
            rewriter.replace(call.first, call.first + 1, rewriter.names.qualified(own, call.parts[0]))
        elif len(call.parts) == 3:
            target = _routine_named(call.parts, rewriter)
            if target:
                rewriter.replace(call.first, call.opening, target)


def _constants_of(package: str, rewriter: Rewriter) -> set[str]:
    """Return the constants that a package's specification and body declare."""
    kinds = (ObjectType.PACKAGE, ObjectType.PACKAGE_BODY)
    items = (item for item in rewriter.catalog.with_name(package) if item.type in kinds)
    return {name for item in items for name in item.details.get("constants", "").split()}


def own_package(rewriter: Rewriter) -> str:
    """Return the stored name of the package that the statement makes, or ''."""
    tree = rewriter.subject.tree
    return tree.name[-1] if isinstance(tree, CreatePackage) else ""


def _routine_named(parts: tuple[str, ...], rewriter: Rewriter) -> str:
    """Return how the target names a routine or package member, or '' if the name is neither."""
    owner = rewriter.catalog.objects.get(rewriter.owner)
    item = rewriter.catalog.resolve(parts, owner.default_schema if owner else "")
    if item is None:
        return ""
    if item.type in (ObjectType.FUNCTION, ObjectType.PROCEDURE) and parts[-1] == item.name:
        return rewriter.names.qualified(item.schema, item.name)
    if item.type in (ObjectType.PACKAGE, ObjectType.PACKAGE_BODY) and len(parts) > 1 and parts[-2] == item.name:
        return rewriter.names.qualified(item.name, parts[-1])
    return ""


# --- errors ---


def _add_exceptions(rewriter: Rewriter) -> None:
    own = own_conditions(rewriter)
    words = rewriter.words
    for handler in rewriter.subject.all(Handler):
        then = words.index("THEN", handler.first)
        conditions = [_condition(name, own, rewriter) for name in handler.exceptions]
        if all(conditions):
            text = " OR ".join(dict.fromkeys(conditions))
            rewriter.replace(handler.first + 1, then, text)
    for node in rewriter.subject.all(Raise):
        if node.name:
            rewriter.add(Point(node.first, node.last, partial(_raise, node, own)))


def own_conditions(rewriter: Rewriter) -> dict[str, str]:
    """Return the condition for each exception declared in the statement, or in the specification of its package."""
    subject = rewriter.subject
    conditions: dict[str, str] = {}
    package = own_package(rewriter)
    if package:
        for item in rewriter.catalog.with_name(package):
            if item.type is ObjectType.PACKAGE:
                conditions |= _package_conditions(item)
    nodes = [*subject.all(ExceptionDeclaration), *subject.all(Pragma)]
    for name, number in exception_numbers(rewriter.tokens, nodes).items():
        conditions.setdefault(name, _condition_of_number(number, f"{package or rewriter.owner}.{name}"))
    return conditions


def _package_conditions(package: Object) -> dict[str, str]:
    entries = (entry.partition("=") for entry in package.details.get("exceptions", "").split())
    return {name: _condition_of_number(number, f"{package.name}.{name}") for name, _, number in entries}


def _condition_of_number(number: str, name: str) -> str:
    """Return the condition for an error number; an exception without one gets an SQLSTATE made of its name."""
    if number in ERROR_NUMBERS:
        return ERROR_NUMBERS[number]
    if number.startswith("-20") and len(number) == 6:
        return f"SQLSTATE 'HS{number[3:]}'"
    code = crc32(name.encode()) % 36**3
    return "SQLSTATE 'HX" + "".join(_DIGITS[code // 36**power % 36] for power in (2, 1, 0)) + "'"


def _condition(parts: tuple[str, ...], own: dict[str, str], rewriter: Rewriter) -> str:
    """Return the condition that a name of an exception means, or ''."""
    if len(parts) == 1:
        return own.get(parts[0]) or CONDITIONS.get(parts[0], "")
    for item in rewriter.catalog.with_name(parts[-2]):
        if item.type is ObjectType.PACKAGE:
            return _package_conditions(item).get(parts[-1], "")
    return ""


def _raise(node: Raise, own: dict[str, str], rewriter: Rewriter) -> str:
    condition = _condition(node.name, own, rewriter)
    if not condition:
        raise CannotDraft(f"the exception {node.name[-1].lower()} is declared elsewhere")
    if condition.startswith("SQLSTATE"):
        return f"RAISE EXCEPTION '{node.name[-1].lower()}' USING ERRCODE = {condition.removeprefix('SQLSTATE ')}"
    return f"RAISE {condition}"


def _keeping(fetch: Fetch, kept: list[Name], rewriter: Rewriter) -> str:
    return keeping(rewriter.text(fetch.first, fetch.last), [rewriter.node(each) for each in kept])


def _add_block(block: Block, rewriter: Rewriter) -> None:
    """Take the name off END: PL/pgSQL allows it for labelled blocks only."""
    if block.last > block.end_at + 1:
        rewriter.replace(block.end_at, block.last, "END")
