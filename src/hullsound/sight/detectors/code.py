"""Predicates over PL/SQL: packages, routines, triggers, cursors, errors and transactions."""

from collections import Counter
from collections.abc import Iterable

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, detector, found
from hullsound.sql.tree import (
    AnonymousBlock,
    Assign,
    Bind,
    Block,
    Call,
    CreatePackage,
    CreateTrigger,
    CursorDeclaration,
    ExecuteImmediate,
    Fetch,
    Forall,
    Grant,
    If,
    Jump,
    Literal,
    Name,
    Node,
    OpenCursor,
    Operation,
    PlainStatement,
    Pragma,
    Query,
    QueryStatement,
    Routine,
    Select,
    Statement,
    TypeDeclaration,
    Variable,
)


@detector("package", CreatePackage)
def see_package(node: CreatePackage, subject: Subject) -> Iterable[Found]:
    if subject.words[node.is_at - 1] and "TYPE" not in subject.words[node.first : node.is_at]:
        yield Found(node, node.first, node.is_at)


@detector("package-state", CreatePackage)
def see_package_state(node: CreatePackage, subject: Subject) -> Iterable[Found]:
    for item in node.declarations:
        is_variable = isinstance(item, Variable) and not item.constant
        if is_variable or (isinstance(item, CursorDeclaration) and item.query is not None):
            yield found(item)


@detector("package-constant", CreatePackage)
def see_package_constant(node: CreatePackage, subject: Subject) -> Iterable[Found]:
    for item in node.declarations:
        if isinstance(item, Variable) and item.constant:
            yield found(item, item.name.lower())


@detector("package-type", CreatePackage)
def see_package_type(node: CreatePackage, subject: Subject) -> Iterable[Found]:
    for item in node.declarations:
        if isinstance(item, TypeDeclaration) and item.form != "ref cursor":
            yield found(item, item.form)


@detector("package-initialization", CreatePackage)
def see_initialization(node: CreatePackage, subject: Subject) -> Iterable[Found]:
    if node.initialization is not None:
        at = node.initialization.begin_at
        yield Found(node.initialization, at, at + 1)


@detector("overloaded-routine", CreatePackage)
def see_overloaded(node: CreatePackage, subject: Subject) -> Iterable[Found]:
    routines = [item for item in node.declarations if isinstance(item, Routine)]
    bodies = [r for r in routines if r.block is not None] if node.is_body else routines
    counts = Counter(r.name[-1] for r in bodies)
    for routine in bodies:
        if counts[routine.name[-1]] > 1:
            yield Found(routine, *routine.name_span)


@detector("autonomous-transaction", Pragma)
def see_autonomous(node: Pragma, subject: Subject) -> Iterable[Found]:
    if node.name == "AUTONOMOUS_TRANSACTION":
        yield found(node)


@detector("bulk-collect", Select, Fetch, ExecuteImmediate, texts=("BULK",))
def see_bulk_collect(node: Select | Fetch | ExecuteImmediate, subject: Subject) -> Iterable[Found]:
    if node.bulk:
        words = subject.words
        at = next((i for i in range(node.first, node.last) if words[i] == "BULK"), node.first)
        yield Found(node, at, at + 2)


@detector("forall", Forall)
def see_forall(node: Forall, subject: Subject) -> Iterable[Found]:
    yield found(node)


@detector("associative-array", TypeDeclaration)
def see_associative_array(node: TypeDeclaration, subject: Subject) -> Iterable[Found]:
    if node.form == "associative":
        yield found(node)


def _is_local(node: Node, subject: Subject) -> bool:
    """Whether a declaration belongs to a routine or block rather than to a package."""
    return not (isinstance(subject.tree, CreatePackage) and node in subject.tree.declarations)


@detector("local-collection", TypeDeclaration)
def see_local_collection(node: TypeDeclaration, subject: Subject) -> Iterable[Found]:
    if node.form in ("table", "varray") and _is_local(node, subject):
        yield found(node)


@detector("local-record", TypeDeclaration)
def see_local_record(node: TypeDeclaration, subject: Subject) -> Iterable[Found]:
    if node.form == "record" and _is_local(node, subject):
        yield found(node)


@detector("local-subtype", TypeDeclaration)
def see_local_subtype(node: TypeDeclaration, subject: Subject) -> Iterable[Found]:
    if node.form == "subtype" and _is_local(node, subject):
        yield found(node)


@detector("nested-routine", Block)
def see_nested_routine(node: Block, subject: Subject) -> Iterable[Found]:
    for item in node.declarations:
        if isinstance(item, Routine):
            yield Found(item, item.first, item.name_span[1])


@detector("goto", Jump)
def see_goto(node: Jump, subject: Subject) -> Iterable[Found]:
    if node.form == "goto":
        yield found(node)


def _dynamic_form(node: ExecuteImmediate | OpenCursor, subject: Subject) -> str:
    """Say what kind of dynamic SQL stands here: constant, built, with binds whose text is built elsewhere, or returning."""
    text = node.text if isinstance(node, ExecuteImmediate) else node.query
    words = subject.words[node.first : node.last]
    if isinstance(node, ExecuteImmediate) and (
        "RETURNING" in words or "RETURN" in words or (node.using and "OUT" in words)
    ):
        return "returning"
    pieces = text.operands if isinstance(text, Operation) else [text]
    if node.using and not any(isinstance(piece, Literal) for piece in pieces):
        return "binds"
    return "constant" if isinstance(text, Literal) else "built"


@detector("dynamic-sql", ExecuteImmediate)
def see_dynamic_sql(node: ExecuteImmediate, subject: Subject) -> Iterable[Found]:
    if _dynamic_form(node, subject) == "built":
        yield found(node)


@detector("constant-dynamic-sql", ExecuteImmediate)
def see_constant_dynamic_sql(node: ExecuteImmediate, subject: Subject) -> Iterable[Found]:
    if _dynamic_form(node, subject) == "constant":
        yield found(node)


@detector("dynamic-sql-returning", ExecuteImmediate)
def see_dynamic_sql_returning(node: ExecuteImmediate, subject: Subject) -> Iterable[Found]:
    if _dynamic_form(node, subject) == "returning":
        yield found(node)


@detector("dynamic-sql-binds", ExecuteImmediate, OpenCursor)
def see_dynamic_sql_binds(node: ExecuteImmediate | OpenCursor, subject: Subject) -> Iterable[Found]:
    is_text = isinstance(node, ExecuteImmediate) or (node.query is not None and not isinstance(node.query, Query))
    if is_text and _dynamic_form(node, subject) == "binds":
        yield found(node)


@detector("open-for-dynamic", OpenCursor)
def see_open_for_dynamic(node: OpenCursor, subject: Subject) -> Iterable[Found]:
    if node.query is not None and not isinstance(node.query, Query) and _dynamic_form(node, subject) != "binds":
        yield found(node)


def _holder(node: Node, subject: Subject) -> Routine | None:
    """Return the innermost routine around a node."""
    around = [r for r in subject.all(Routine) if r.first <= node.first < r.last and r.block is not None]
    return min(around, key=lambda r: r.last - r.first) if around else None


def _may_commit(node: PlainStatement, subject: Subject) -> bool:
    """Whether a commit stands in a procedure or block, outside any block with handlers."""
    holder = _holder(node, subject)
    if holder is None and not isinstance(subject.tree, AnonymousBlock):
        return False
    if holder is not None and holder.form != "procedure":
        return False
    return not any(
        block.handlers and block.first <= node.first < block.last and (holder is None or block.first >= holder.first)
        for block in subject.all(Block)
    )


@detector("commit-in-procedure", PlainStatement)
def see_commit(node: PlainStatement, subject: Subject) -> Iterable[Found]:
    if node.words in ("commit", "rollback") and _may_commit(node, subject):
        yield found(node)


@detector("commit-elsewhere", PlainStatement)
def see_commit_elsewhere(node: PlainStatement, subject: Subject) -> Iterable[Found]:
    if node.words in ("commit", "rollback") and not _may_commit(node, subject):
        yield found(node)


@detector("savepoint", PlainStatement)
def see_savepoint(node: PlainStatement, subject: Subject) -> Iterable[Found]:
    if node.words in ("savepoint", "rollback to"):
        yield found(node)


@detector("lock-table", PlainStatement)
def see_lock_table(node: PlainStatement, subject: Subject) -> Iterable[Found]:
    if node.words == "lock table":
        yield found(node)


@detector("set-transaction", PlainStatement)
def see_set_transaction(node: PlainStatement, subject: Subject) -> Iterable[Found]:
    if node.words.startswith("set "):
        yield found(node)


@detector("function-with-out-parameter", Routine)
def see_out_parameter(node: Routine, subject: Subject) -> Iterable[Found]:
    if node.form == "function":
        for parameter in node.parameters:
            if parameter.mode != "in":
                yield found(parameter)


@detector("default-before-required", Routine)
def see_default_before_required(node: Routine, subject: Subject) -> Iterable[Found]:
    seen_default = False
    for parameter in node.parameters:
        if parameter.default is not None:
            seen_default = True
        elif seen_default:
            yield found(parameter)
            return


@detector("directory-grant", Grant)
def see_directory_grant(node: Grant, subject: Subject) -> Iterable[Found]:
    words = subject.words[node.first : node.last]
    if node.object and "DIRECTORY" in words and words[words.index("ON") + 1] == "DIRECTORY":
        yield found(node)


@detector("system-privilege", Grant)
def see_system_privilege(node: Grant, subject: Subject) -> Iterable[Found]:
    if not node.object:
        yield found(node)


@detector("host-variable", Bind)
def see_host_variable(node: Bind, subject: Subject) -> Iterable[Found]:
    if isinstance(subject.tree, AnonymousBlock):
        yield found(node)


@detector("system-trigger", CreateTrigger)
def see_system_trigger(node: CreateTrigger, subject: Subject) -> Iterable[Found]:
    if node.level in ("schema", "database") or node.events[0] not in ("insert", "update", "delete"):
        yield Found(node, node.first, node.body_at)


@detector("disabled-trigger", CreateTrigger)
def see_disabled_trigger(node: CreateTrigger, subject: Subject) -> Iterable[Found]:
    if node.disabled:
        yield Found(node, node.first, node.body_at)


@detector("updating-column", Call, names=("UPDATING",))
def see_updating_column(node: Call, subject: Subject) -> Iterable[Found]:
    if node.parts == ("UPDATING",) and isinstance(subject.tree, CreateTrigger):
        yield found(node)


@detector("key-filling-trigger", CreateTrigger)
def see_key_filling(node: CreateTrigger, subject: Subject) -> Iterable[Found]:
    if node.timing != "before" or node.level != "row" or node.events != ["insert"] or not isinstance(node.block, Block):
        return
    body = node.block.body
    if len(body) == 1 and isinstance(body[0], If) and len(body[0].branches) == 1 and not body[0].otherwise:
        body = body[0].branches[0][1]
    if len(body) == 1 and _takes_next_value(body[0]):
        yield found(body[0])


def _takes_next_value(node: Node) -> bool:
    value: Node | None = None
    if isinstance(node, Assign):
        value = node.value
    elif isinstance(node, QueryStatement) and isinstance(node.query.blocks[0], Select):
        block = node.query.blocks[0]
        value = block.items[0].value if len(block.items) == 1 and block.into else None
    return isinstance(value, Name) and value.parts[-1] == "NEXTVAL"


@detector("conditional-compilation", Name, Statement, texts=("$",))
def see_conditional_compilation(node: Node, subject: Subject) -> Iterable[Found]:
    if isinstance(node, Name):
        if node.parts[0].startswith("$$"):
            yield found(node)
        return
    words = subject.words
    for at in range(subject.read.first, subject.read.last):
        if words[at][:1] == "$" and words[at][1:] in ("IF", "ERROR"):
            yield Found(node, at, at + 1)
