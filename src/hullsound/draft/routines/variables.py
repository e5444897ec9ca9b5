"""The variables of a routine: what they are called on the target, and which names of its statements mean them."""

from collections.abc import Collection, Sequence
from typing import Final

from hullsound.analyze.transactions import rollback_guard
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.queries import assigns
from hullsound.draft.statements.session_settings import is_idle_setting
from hullsound.sql.tree import (
    Assign,
    Bind,
    Call,
    CallStatement,
    CreateRoutine,
    Delete,
    Execute,
    ExecuteImmediate,
    Fetch,
    If,
    Insert,
    Loop,
    Merge,
    Name,
    NamedArgument,
    Node,
    Operation,
    Parameter,
    Query,
    Return,
    Select,
    SelectItem,
    TableRef,
    Update,
    Variable,
)

from .cursor_results import is_cursor_type
from .errors import caught_fact
from .row_variables import holds_row
from .speech import Speech
from .temporary import is_table_variable

_COLUMN_FIRST: Final = ("oracle", "postgresql")
"""Sources where a name in SQL that a column bears means the column (Oracle), or is refused as it runs (PostgreSQL)."""
_IN_TABLES: Final[tuple[type[Node], ...]] = (Query, Select, Insert, Update, Delete, Merge)


def declared_names(declared: Sequence[Parameter | Variable], speech: Speech, rewriter: Rewriter) -> dict[str, str]:
    """Return how each parameter and variable is called on the target; one that is called like a column gets a prefix."""
    declared = [each for each in declared if not is_table_variable(each) and not holds_row(each, rewriter)]
    cursors = {each.name for each in declared if is_cursor_type(each.type, rewriter)}
    names = {each.name for each in declared}
    if len(names) != len({(each.name, each.first) for each in declared}):
        raise CannotDraft("several variables of one name")
    counters = {loop.variable for loop in rewriter.subject.all(Loop) if loop.form == "range"}
    for name in counters:
        _refuse_shared_counter(name, is_declared=name in names, rewriter=rewriter)
    names |= counters
    found = {}
    for name in names:
        if name in cursors:
            continue
        bare = name.lstrip("@")
        if name.startswith("$"):  # a parameter that its place alone tells
            bare = f"p_{name[1:]}"
            if bare.upper() in names or rewriter.catalog.columns_named(bare.upper()):
                raise CannotDraft("a parameter without a name, for which one would have to be found")
        clashes = not name.startswith("@") and bool(rewriter.catalog.columns_named(name))
        if (clashes or name.startswith("@")) and rewriter.target.engine != "sqlserver":
            sign = "p" if any(p.name == name for p in declared if isinstance(p, Parameter)) else "v"
            bare = f"{sign}_{rewriter.names.folded(bare)}"
        found[name] = speech.variable(bare)
    return found


def _refuse_shared_counter(name: str, *, is_declared: bool, rewriter: Rewriter) -> None:
    """Refuse a loop's counter that the loop changes, and one called like a variable that is used outside of the loop.

    In the source the counter is a variable of the loop alone (PostgreSQL 18, "FOR (Integer Variant)"; Oracle Database 19c,
    "PL/SQL Language Reference", "FOR LOOP Statement"); in the draft it is one of the routine.
    """
    subject = rewriter.subject
    loops = [each for each in subject.all(Loop) if each.form == "range" and each.variable == name]
    outside = [
        each
        for each in subject.all(Name)
        if each.parts[0] == name and not any(o.first <= each.first < o.last for o in loops)
    ]
    if any(o.first < each.first < o.last for o in loops for each in loops):
        raise CannotDraft(f"loops inside of each other that both count by {name.lower()}")
    if is_declared and outside:
        raise CannotDraft(
            f"the counter {name.lower()}, which is called like a variable that is used outside of its loop"
        )
    if any(isinstance(each.target, Name) and each.target.parts == (name,) for each in subject.all(Assign)):
        raise CannotDraft(f"the counter {name.lower()}, which the loop changes")


def assigned_names(rewriter: Rewriter) -> set[str]:
    """Return the names that a routine gives values to, by assignments, queries, fetches and calls."""
    subject = rewriter.subject
    targets: list[Node] = [each.target for each in subject.all(Assign)]
    for select in subject.all(Select):
        targets += select.into
        targets += [
            each.value.operands[0] for each in select.items if isinstance(each.value, Operation) and assigns(each)
        ]
    for filling in (*subject.all(Fetch), *subject.all(ExecuteImmediate)):
        targets += filling.into  # type: ignore[attr-defined]
    for call in (
        *subject.all(Execute),
        *(each.call for each in subject.all(CallStatement) if isinstance(each.call, Call)),
    ):
        arguments = call.arguments  # type: ignore[attr-defined]
        targets += [each.value if isinstance(each, NamedArgument) else each for each in arguments]
    return {each.parts[0] for each in targets if isinstance(each, Name)}


def add_names(variables: dict[str, str], speech: Speech, rewriter: Rewriter) -> None:
    """Write each variable by its name on the target where it is one."""
    columns: set[Node] = set()
    for insert in rewriter.subject.all(Insert):
        columns |= set(insert.columns)
    for merge in rewriter.subject.all(Merge):
        columns |= set(merge.columns) | {target for target, _ in merge.assignments}
    for update in rewriter.subject.all(Update):
        columns |= {target for target, _ in update.assignments}
        if any(isinstance(target, Name) and target.parts[0].startswith("@") for target in columns):
            raise CannotDraft("an UPDATE that also sets a variable")
    for select in rewriter.subject.all(Select):
        aliases = {item.alias for item in select.items if isinstance(item, SelectItem) and item.alias}
        if aliases & set(variables):
            raise CannotDraft("a column of a query that is called like a variable")
    for name in rewriter.subject.all(Name):
        if len(name.parts) == 1 and name.parts[0] in variables and name not in columns:
            _refuse_column(name, rewriter)
            rewriter.put(name, variables[name.parts[0]])
    for bind in rewriter.subject.all(Bind) if rewriter.catalog.engine == "teradata" else ():
        if len(bind.parts) == 1 and bind.parts[0] in variables:
            rewriter.put(bind, variables[bind.parts[0]])
    for call in rewriter.subject.all(Call):
        if rewriter.catalog.engine == "sqlserver" and len(call.parts) == 1 and call.parts[0].startswith("ERROR_"):
            rewriter.put(call, caught_fact(call, speech, rewriter))
    for name in rewriter.subject.all(Name):
        if name.parts == ("SQLERRM",) and rewriter.catalog.engine in ("oracle", "postgresql"):
            rewriter.put(name, speech.caught_text)


def refuse_unknown(variables: dict[str, str], others: Sequence[Collection[str]], rewriter: Rewriter) -> None:
    """Refuse a name outside of queries that is no variable and that nothing translates, such as FOUND.

    `others` are the names of what else the routine declares.
    """
    subject = rewriter.subject
    in_tables = [node for kind in _IN_TABLES for node in subject.all(kind)]
    called = {node.call for node in subject.all(CallStatement)}
    guards = {rollback_guard(node) for node in subject.all(If)}
    returns = [node for node in subject.all(Return) if isinstance(subject.tree, CreateRoutine)]
    for name in subject.all(Name):
        if name.parts[0] in ("NEW", "OLD") and any(each.first <= name.first < each.last for each in returns):
            continue  # the row that a function gives its trigger
        is_known = any(name.parts[0] in known for known in (variables, *others))
        is_known = is_known or name in called or name in guards or is_idle_setting(name, rewriter)
        if len(name.parts) > 1 or is_known or rewriter.changes(name):
            continue
        if not any(node.first <= name.first and name.last <= node.last for node in in_tables):
            raise CannotDraft(f"the name {name.parts[0].lower()}, which is no variable of the routine")


def _refuse_column(name: Name, rewriter: Rewriter) -> None:
    """Refuse a variable's name where it could mean a column of a table that is read there."""
    if rewriter.catalog.engine not in _COLUMN_FIRST or not rewriter.catalog.columns_named(name.parts[0]):
        return
    subject = rewriter.subject
    if any(name in select.into for select in subject.all(Select)):
        return
    around = [
        each for kind in _IN_TABLES for each in subject.all(kind) if each.first <= name.first and name.last <= each.last
    ]
    if not around:
        return
    whole = max(around, key=lambda each: each.last - each.first)
    filled = {each.table for each in subject.all(Insert)}  # whose columns its values cannot name
    for reference in subject.all(TableRef):
        if whole.first <= reference.first < whole.last and reference not in filled and reference.parts != ("DUAL",):
            table = rewriter.table(reference.parts)
            if table is None or any(column.name == name.parts[0] for column in table.columns):
                raise CannotDraft(
                    f"the variable {name.parts[0].lower()}, which is called like a column that is read there"
                )
