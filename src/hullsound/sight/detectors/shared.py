"""Predicates that several engines share: whole statements, and clauses that any of them may lack."""

from collections.abc import Iterable, Sequence

from hullsound.analyze.subject import Subject
from hullsound.sight.detector import Found, detector, found
from hullsound.sql.tree import (
    Call,
    Cast,
    CommentOn,
    CommonTable,
    Comparison,
    ConstraintDefinition,
    CreateIndex,
    CreateRoutine,
    CreateSequence,
    CreateSynonym,
    CreateTable,
    CreateTrigger,
    CreateView,
    CursorDeclaration,
    Delete,
    Execute,
    ExecuteImmediate,
    Fetch,
    Handler,
    Insert,
    Join,
    Loop,
    Merge,
    Name,
    NamedArgument,
    Node,
    Operation,
    Parameter,
    Paren,
    PlainStatement,
    Prepare,
    Query,
    QueryStatement,
    Raise,
    Row,
    Select,
    SelectItem,
    Statement,
    Subquery,
    TableRef,
    TypedLiteral,
    TypeName,
    Update,
)

from .conditions import conjuncts


def _head(node: Statement, words: int = 4) -> Found:
    """Return the first words of a statement: they stand for the whole of it."""
    return Found(node, node.first, min(node.first + words, node.last))


@detector("sequence-object", CreateSequence)
def see_sequence(node: CreateSequence, subject: Subject) -> Iterable[Found]:
    yield _head(node, 3)


@detector("any-synonym", CreateSynonym)
def see_synonym(node: CreateSynonym, subject: Subject) -> Iterable[Found]:
    yield _head(node)


@detector("any-trigger", CreateTrigger)
def see_trigger(node: CreateTrigger, subject: Subject) -> Iterable[Found]:
    yield _head(node, 3)


@detector("instead-of-trigger", CreateTrigger)
def see_instead_of_trigger(node: CreateTrigger, subject: Subject) -> Iterable[Found]:
    if node.timing.lower().startswith("instead"):
        yield _head(node, 3)


@detector("materialized-view", CreateView)
def see_materialized_view(node: CreateView, subject: Subject) -> Iterable[Found]:
    if node.materialized:
        yield _head(node)


@detector("any-merge", Merge)
def see_merge(node: Merge, subject: Subject) -> Iterable[Found]:
    yield _head(node, 3)


@detector("comment-on", CommentOn)
def see_comment(node: CommentOn, subject: Subject) -> Iterable[Found]:
    yield _head(node, 3)


@detector("full-join", Join, texts=("FULL",))
def see_full_join(node: Join, subject: Subject) -> Iterable[Found]:
    if "full" in node.kind.lower():
        at = next((i for i in range(node.left.last, node.right.first) if subject.words[i] == "FULL"), node.first)
        yield Found(node, at, at + 1)


@detector("except-intersect", Query, texts=("EXCEPT", "INTERSECT"))
def see_except(node: Query, subject: Subject) -> Iterable[Found]:
    for operator, at in node.operators:
        if operator.startswith(("EXCEPT", "INTERSECT")):
            yield Found(node, at, at + 1)


@detector("returning", Insert, Update, Delete, texts=("RETURNING",))
def see_returning(node: Insert | Update | Delete, subject: Subject) -> Iterable[Found]:
    if node.returning:
        at = next((i for i in range(node.first, node.last) if subject.words[i] == "RETURNING"), node.first)
        yield Found(node, at, node.last)


@detector("colon-cast", Cast, texts=("::",))
def see_colon_cast(node: Cast, subject: Subject) -> Iterable[Found]:
    if subject.words[node.first] != "CAST" or subject.words[node.type.first - 1] in ("::", ":"):
        yield found(node)


@detector("interval-text", TypedLiteral, texts=("INTERVAL",))
def see_interval_text(node: TypedLiteral, subject: Subject) -> Iterable[Found]:
    if node.form.upper().startswith("INTERVAL"):
        yield found(node)


@detector("change-in-common-table", Query, texts=("WITH",))
def see_change_in_common_table(node: Query, subject: Subject) -> Iterable[Found]:
    for common in node.common:
        if isinstance(common.query, Insert | Update | Delete):
            yield Found(common, common.query.first, common.query.first + 1)


@detector("result-set", QueryStatement)
def see_result_set(node: QueryStatement, subject: Subject) -> Iterable[Found]:
    tree = subject.tree
    is_code = isinstance(tree, CreateTrigger) or (isinstance(tree, CreateRoutine) and tree.routine.form != "function")
    if is_code and isinstance(node.query.blocks[0], Select) and not _keeps_rows(node.query.blocks[0], subject):
        yield Found(node, node.first, min(node.first + 1, node.last))


def _keeps_rows(select: Select, subject: Subject) -> bool:
    """Whether a query stores its rows or values instead of sending them."""
    if select.into or select.into_span:
        return True
    behind = range(select.first, select.from_at if select.from_at > 0 else select.last)
    if any(subject.words[i] == "INTO" for i in behind):
        return True
    return any(subject.words[item.first].startswith("@") and subject.words[item.first + 1] in ("=", "+=")
               for item in select.items)  # fmt: skip


@detector("any-cursor", CursorDeclaration)
def see_cursor(node: CursorDeclaration, subject: Subject) -> Iterable[Found]:
    yield Found(node, node.first, min(node.first + 4, node.last))


@detector("prepare", Prepare, ExecuteImmediate, Execute)
def see_prepare(node: Prepare | ExecuteImmediate | Execute, subject: Subject) -> Iterable[Found]:
    if not isinstance(node, Execute) or (node.text is not None and not node.routine):
        yield found(node)


@detector("psm-commit", PlainStatement)
def see_psm_commit(node: PlainStatement, subject: Subject) -> Iterable[Found]:
    if node.words.split(" ")[0] in ("commit", "rollback", "start") and isinstance(
        subject.tree, CreateRoutine | CreateTrigger
    ):
        yield found(node)


@detector("signal", Raise, texts=("SIGNAL",))
def see_signal(node: Raise, subject: Subject) -> Iterable[Found]:
    if subject.words[node.first] in ("SIGNAL", "RESIGNAL"):
        yield found(node)


@detector("expression-index", CreateIndex)
def see_expression_index(node: CreateIndex, subject: Subject) -> Iterable[Found]:
    for key in node.keys:
        if not isinstance(key.value, Name):
            yield found(key)
            return


@detector("any-foreign-key", ConstraintDefinition)
def see_foreign_key(node: ConstraintDefinition, subject: Subject) -> Iterable[Found]:
    if node.references:
        yield found(node)


@detector("second-unique-key", CreateTable, CreateIndex)
def see_second_unique_key(node: CreateTable | CreateIndex, subject: Subject) -> Iterable[Found]:
    if isinstance(node, CreateIndex):
        if node.unique:
            yield _head(node, 3)
        return
    constraints = [*node.constraints, *(c for column in node.columns for c in column.constraints)]
    for constraint in constraints:
        if constraint.form == "unique":
            yield found(constraint)


@detector("change-through-query", Update, Delete, texts=("WITH",))
def see_change_through_query(node: Update | Delete, subject: Subject) -> Iterable[Found]:
    common = {table.name for table in subject.all(CommonTable)}
    if isinstance(node.table, TableRef) and node.table.parts[-1] in common:
        yield found(node.table)


def titles_of(select: Select, subject: Subject) -> dict[str, SelectItem]:
    """Return the items of a select list by their titles, also those that (NAMED title) behind a value gives."""
    titles: dict[str, SelectItem] = {}
    for item in select.items:
        words = subject.words
        named = next((i for i in range(item.value.first, item.last) if words[i : i + 2] == ["(", "NAMED"]), -1)
        title = item.alias or (words[named + 2] if named >= 0 else "")
        if title:
            titles[title] = item
    return titles


@detector("alias-reuse", Select)
def see_alias_reuse(node: Select, subject: Subject) -> Iterable[Found]:
    """A name of the select list in WHERE, HAVING or another item, where no table of the statement can have given it."""
    titles = {title: item for title, item in titles_of(node, subject).items() if not _is_own_name(item)}
    places: list[tuple[Node, Node | None]] = [(condition, None) for condition in conjuncts(node.where)]
    places += [(node.having, None)] if node.having is not None else []
    places += [(item.value, item) for item in node.items]
    for place, own in places if titles else ():
        for name in subject.all(Name):
            inside = place.first <= name.first < place.last and len(name.parts) == 1
            if inside and titles.get(name.parts[0], own) is not own:
                yield found(name)


def _is_own_name(item: SelectItem) -> bool:
    return isinstance(item.value, Name) and item.value.parts[-1] == item.alias


@detector("scalar-max", Call, names=("MAX", "MIN"))
def see_scalar_max(node: Call, subject: Subject) -> Iterable[Found]:
    if len(node.arguments) > 1:
        yield found(node)


@detector("neighbour-default", Call, names=("LAG", "LEAD"))
def see_neighbour_default(node: Call, subject: Subject) -> Iterable[Found]:
    if len(node.arguments) > 2:
        yield found(node)


@detector("labeled-duration", Statement, texts=(" DAY", " MONTH", " YEAR", " HOUR", " MINUTE", " SECOND"))
def see_labeled_duration(node: Statement, subject: Subject) -> Iterable[Found]:
    words = subject.words
    units = (
        "DAY",
        "DAYS",
        "MONTH",
        "MONTHS",
        "YEAR",
        "YEARS",
        "HOUR",
        "HOURS",
        "MINUTE",
        "MINUTES",
        "SECOND",
        "SECONDS",
    )
    for at in range(subject.read.first + 2, subject.read.last):
        if words[at] in units:
            start = _start_of_operand(words, at - 1, subject.read.first)
            if words[start - 1] in ("+", "-"):
                yield Found(node, start - 1, at + 1)


def _start_of_operand(words: Sequence[str], last: int, first: int) -> int:
    """Return where the operand begins that ends with a token: a word, or a bracket with the function before it."""
    if words[last] != ")":
        return last
    depth, at = 1, last
    while depth and at > first:
        at -= 1
        depth += (words[at] == ")") - (words[at] == "(")
    return at - 1 if words[at - 1].isidentifier() else at


@detector("macro", Statement, texts=("MACRO",))
def see_macro(node: Statement, subject: Subject) -> Iterable[Found]:
    if subject.words[node.first] in ("CREATE", "REPLACE") and subject.words[node.first + 1] == "MACRO":
        yield _head(node, 3)


@detector("short-word", Statement)
def see_short_word(node: Statement, subject: Subject) -> Iterable[Found]:
    if subject.words[node.first] in ("SEL", "INS", "UPD", "DEL"):
        yield Found(node, node.first, node.first + 1)


@detector("exec-procedure-text", Execute, Prepare, ExecuteImmediate)
def see_sysexecsql(node: Execute | Prepare | ExecuteImmediate, subject: Subject) -> Iterable[Found]:
    if not isinstance(node, Execute) or node.routine[-1:] == ("SYSEXECSQL",):
        yield found(node)


@detector("plain-extension", Statement, texts=("EXTENSION",))
def see_extension(node: Statement, subject: Subject) -> Iterable[Found]:
    """An extension that an operator may lack: those that ship with the engine are told by another construct."""
    words = subject.words
    if words[node.first] == "CREATE" and words[node.first + 1] == "EXTENSION":
        at = node.first + (5 if words[node.first + 2] == "IF" else 2)
        if words[at].strip('"') not in _COMMON_EXTENSIONS:
            yield Found(node, node.first, at + 1)


_COMMON_EXTENSIONS = frozenset(
    """PGCRYPTO CITEXT HSTORE LTREE PG_TRGM UNACCENT FUZZYSTRMATCH TABLEFUNC BTREE_GIN BTREE_GIST INTARRAY CUBE EARTHDISTANCE
    ISN PG_STAT_STATEMENTS PLPGSQL""".split()
)


@detector("copy-server", Statement, texts=("COPY",))
def see_copy(node: Statement, subject: Subject) -> Iterable[Found]:
    words = subject.words
    if words[node.first] != "COPY":
        return
    for at in range(node.first, subject.read.last):
        is_text = words[at] in ("FROM", "TO") and words[min(at + 1, subject.read.last - 1)].startswith("'")
        if is_text or (words[at] == "PROGRAM"):
            yield Found(node, node.first, at + 2)
            return


@detector("plpgsql-code", CreateRoutine)
def see_plpgsql(node: CreateRoutine, subject: Subject) -> Iterable[Found]:
    if any("PLPGSQL" in option.upper() for option in node.routine.options):
        yield _head(node, 3)


def listed_array(node: Operation) -> Row | None:
    """Return the values of an array that a test names one by one: x = ANY (ARRAY[...]) or x <> ALL (ARRAY[...])."""
    if len(node.operands) != 2 or node.operators[0] not in ("= ANY", "= SOME", "<> ALL", "!= ALL"):
        return None
    inner = node.operands[1]
    while isinstance(inner, Paren | Cast):
        inner = inner.inner if isinstance(inner, Paren) else inner.value
    return inner if isinstance(inner, Row) else None


@detector("array-test", Operation, texts=("ARRAY",))
def see_array_test(node: Operation, subject: Subject) -> Iterable[Found]:
    row = listed_array(node)
    if row is not None and subject.words[row.first] == "ARRAY":
        yield found(node)


@detector("array-use", CreateTable, Select, texts=("[",))
def see_array(node: CreateTable | Select, subject: Subject) -> Iterable[Found]:
    words = subject.words
    tests = [test for test in subject.all(Operation) if listed_array(test) is not None]
    for at in range(node.first + 1, node.last):
        if any(test.first <= at < test.last for test in tests):
            continue
        if words[at] == "[" and (words[at - 1] == "ARRAY" or subject.tokens.kinds[at - 1] == 1 or words[at - 1] == ")"):
            yield Found(node, at - 1, at + 1)
            return


@detector("exception-handler", Handler)
def see_exception_handler(node: Handler, subject: Subject) -> Iterable[Found]:
    yield Found(node, node.first, min(node.first + 2, node.last))


@detector("plsql-code", CreateRoutine)
def see_plsql(node: CreateRoutine, subject: Subject) -> Iterable[Found]:
    yield _head(node, 3)


@detector("borrowed-type", TypeName, texts=("%",))
def see_borrowed_type(node: TypeName, subject: Subject) -> Iterable[Found]:
    if node.borrowed:
        yield found(node)


@detector("query-loop", Loop)
def see_query_loop(node: Loop, subject: Subject) -> Iterable[Found]:
    if any(isinstance(bound, Query | Subquery) for bound in node.bounds):
        yield Found(node, node.first, node.loop_at)


def inserts_row_by_row(node: Loop, subject: Subject) -> bool:
    """Whether a loop over rows does nothing to tables but insert them one by one: one statement could do it."""

    def inside(kind: type[Node]) -> list[Node]:
        return [each for each in subject.all(kind) if node.first < each.first < node.last]

    inserts = inside(Insert)
    walks_rows = bool(inside(Fetch)) or any(isinstance(bound, Query | Subquery) for bound in node.bounds)
    is_plain = len(inserts) == 1 and isinstance(inserts[0], Insert) and inserts[0].query is None
    return walks_rows and is_plain and not any(inside(kind) for kind in (Update, Delete, Merge, Execute))


@detector("named-argument", NamedArgument, texts=("=>",))
def see_named_argument(node: NamedArgument, subject: Subject) -> Iterable[Found]:
    yield found(node)


@detector("parameter-default", Parameter)
def see_parameter_default(node: Parameter, subject: Subject) -> Iterable[Found]:
    if node.default is not None:
        yield found(node)


@detector("json-test", Comparison)
def see_json_test(node: Comparison, subject: Subject) -> Iterable[Found]:
    if node.operator == "IS JSON":
        yield found(node)
