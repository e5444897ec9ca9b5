"""What queries and changes need on MySQL, MariaDB, SQL Server and Oracle: limits, joined texts, the order of NULL, casts."""

from functools import partial
from typing import Final

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.conversions.affinity import add_affinity
from hullsound.draft.conversions.ase_values import add_ase_values
from hullsound.draft.conversions.assigned import add_assigned_values
from hullsound.draft.conversions.binary_floats import tell_binary_floats
from hullsound.draft.conversions.case import add_case_points
from hullsound.draft.conversions.case_groups import add_case_groups
from hullsound.draft.conversions.casts import add_casts, check_texts, text_operand
from hullsound.draft.conversions.conditions import add_conditions
from hullsound.draft.conversions.constant_numbers import add_constant_numbers
from hullsound.draft.conversions.db2_values import add_db2_values
from hullsound.draft.conversions.decimal_digits import add_decimal_digits
from hullsound.draft.conversions.dividing import add_fractions, add_whole_quotients
from hullsound.draft.conversions.domains import add_domains
from hullsound.draft.conversions.empty_tests import add_empty_tests
from hullsound.draft.conversions.empty_texts import add_empty_texts
from hullsound.draft.conversions.even_digits import add_even_digits
from hullsound.draft.conversions.extracted_parts import add_extracted_parts
from hullsound.draft.conversions.inserted_values import add_inserted_values
from hullsound.draft.conversions.kept_values import add_kept_values
from hullsound.draft.conversions.loose_numbers import add_places
from hullsound.draft.conversions.loose_rows import add_loose_rows
from hullsound.draft.conversions.members import add_members
from hullsound.draft.conversions.mysql_edges import add_mysql_edges
from hullsound.draft.conversions.null_results import add_null_results
from hullsound.draft.conversions.padded_constants import add_padded_constants
from hullsound.draft.conversions.plain_numbers import add_plain_numbers
from hullsound.draft.conversions.powers import add_powers
from hullsound.draft.conversions.rounding import may_be_float
from hullsound.draft.conversions.strict_values import add_strict_values, refuse_session_dates
from hullsound.draft.conversions.sums import sum_with_texts
from hullsound.draft.conversions.united import add_united_values
from hullsound.draft.conversions.whole_remainders import add_whole_remainders
from hullsound.draft.conversions.whole_values import add_whole_values
from hullsound.draft.edits.commas import outer_commas
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import add_lexical_points
from hullsound.sql.tree import (
    Bind,
    Call,
    Clause,
    CreateRoutine,
    Insert,
    Join,
    Name,
    Node,
    Operation,
    PlainStatement,
    Query,
    QueryStatement,
    Select,
    TableRef,
)

from .assigned_rows import add_assigned_rows
from .class_patterns import add_class_patterns
from .common_columns import add_common_columns
from .document_rows import add_document_rows
from .filtered import add_filtered_aggregates
from .first_rows import add_first_rows
from .full_joins import add_full_joins
from .group_windows import add_group_windows
from .grouping import complete_groups
from .grouping_sets import add_grouping_sets
from .identity_rows import add_identity_rows
from .inlined_functions import add_inlined_functions
from .join_words import add_join_words
from .joined_changes import add_joined_changes
from .lateral import add_lateral, add_lateral_lists
from .limits import add_change_limits, add_limit
from .loose_queries import refuse_loose_queries
from .merges_elsewhere import add_merges
from .mysql import add_mysql_points, add_names_of_derived
from .named_windows import add_named_windows
from .null_orders import add_null_orders
from .number_rows import add_number_rows
from .own_calls import add_own_calls
from .queried_changes import add_queried_changes
from .queries import add_clause, add_item, add_modifiers, add_rollup
from .recursion import add_recursion
from .repeated_aliases import add_group_aliases, add_having
from .row_locks import add_row_locks
from .rownum_changes import add_rownum_changes
from .rows_compared import add_compared_rows
from .split_merges import add_split_merges
from .table_aliases import leave_out_as
from .titles import add_titles
from .upserts_elsewhere import add_upserts
from .values_lists import add_values_lists
from .values_tables import add_values_in_common_tables, add_values_tables
from .whole_rows import add_whole_rows

_BY_ITSELF: Final = ("ROWVERSION", "TIMESTAMP")
"""Types of SQL Server whose values the engine gives."""
_REPLACING_NULL: Final = frozenset(("COALESCE", "ISNULL", "IFNULL", "NVL"))
_FROM_LESS: Final = 23
"""First version of Oracle in which a query needs no FROM."""
_EXCEPT_SINCE: Final = 21
"""First version of Oracle that reads EXCEPT, which is MINUS before."""


def add_for_others(rewriter: Rewriter) -> None:
    """Add what the source's own values ask for, then what the target asks for, then what holds for every pair."""
    add_inserted_values(rewriter)
    with rewriter.asked_by("convert.unlike-types"):
        add_kept_values(rewriter)
    with rewriter.asked_by("convert.constant"):
        add_constant_numbers(rewriter)
    _add_by_source(rewriter)
    _add_by_target(rewriter)
    with rewriter.asked_by("convert.padded-text"):
        add_padded_constants(rewriter)
    with rewriter.asked_by("convert.truth-value"):
        add_conditions(rewriter)
    with rewriter.asked_by("draft.query"):
        add_empty_tests(rewriter)
    add_join_words(rewriter)
    refuse_loose_queries(rewriter)
    add_values_tables(rewriter)
    add_values_in_common_tables(rewriter)
    add_values_lists(rewriter)
    with rewriter.asked_by("draft.query"):
        add_document_rows(rewriter)
        add_number_rows(rewriter)
    add_recursion(rewriter)
    with rewriter.asked_by("draft.change"):
        add_queried_changes(rewriter)
    add_joined_changes(rewriter)
    with rewriter.asked_by("draft.change"):
        add_assigned_rows(rewriter)
    add_merges(rewriter)
    with rewriter.asked_by("draft.change"):
        add_rownum_changes(rewriter)
        add_upserts(rewriter)
        add_identity_rows(rewriter)
    if rewriter.target.engine in ("mysql", "mariadb"):
        add_split_merges(rewriter)
    add_own_calls(rewriter)
    with rewriter.asked_by("convert.moment"):
        add_extracted_parts(rewriter)
    with rewriter.asked_by("convert.division"):
        add_whole_quotients(rewriter)
        add_powers(rewriter)
        add_fractions(rewriter)
    with rewriter.asked_by("draft.query"):
        add_group_windows(rewriter)
    _add_query_parts(rewriter)
    add_filtered_aggregates(rewriter)
    add_class_patterns(rewriter)
    _add_joined_texts(rewriter)
    add_null_orders(rewriter)
    add_casts(rewriter)
    with rewriter.asked_by("convert.unlike-types"):
        add_united_values(rewriter)
    with rewriter.asked_by("convert.rounding"):
        add_assigned_values(rewriter)
    if rewriter.catalog.engine == "teradata":
        with rewriter.asked_by("convert.even-digit"):
            add_even_digits(rewriter)
    for insert in rewriter.subject.all(Insert):
        _add_insert(insert, rewriter)


def _add_by_source(rewriter: Rewriter) -> None:
    engine = rewriter.catalog.engine
    if engine == "ase":
        with rewriter.asked_by("convert.ase-text"):
            add_ase_values(rewriter)
    if engine == "sqlite":
        add_whole_values(rewriter)
        with rewriter.asked_by("convert.unlike-types"):
            add_affinity(rewriter)
        with rewriter.asked_by("convert.edge-value"):
            add_loose_rows(rewriter)
            add_places(rewriter)
            add_whole_remainders(rewriter)
    if engine in ("mysql", "mariadb", "sqlite") and rewriter.target.engine not in ("mysql", "mariadb"):
        with rewriter.asked_by("convert.edge-value"):
            add_domains(rewriter)
    if engine in ("mysql", "mariadb") and rewriter.target.engine not in ("mysql", "mariadb"):
        _refuse_session_values(rewriter)
        with rewriter.asked_by("convert.member-place"):
            add_members(rewriter)
    add_lexical_points(rewriter)
    with rewriter.asked_by("convert.null"):
        add_null_results(rewriter)
    if engine == "oracle":
        with rewriter.asked_by("convert.empty-text"):
            add_empty_texts(rewriter)
        with rewriter.asked_by("convert.number-as-text"):
            add_plain_numbers(rewriter)
        refuse_session_dates(rewriter)
    if engine == "db2":
        add_db2_values(rewriter)
    if engine == "db2" and rewriter.target.engine in ("oracle", "sqlserver"):
        _add_dummies(rewriter)
    if engine in ("sqlserver", "ase") or (engine == "db2" and rewriter.target.engine != "sqlserver"):
        with rewriter.asked_by("convert.division"):
            add_decimal_digits(rewriter)


def _add_by_target(rewriter: Rewriter) -> None:
    engine, version = rewriter.target.engine, rewriter.target.version
    add_row_locks(rewriter)
    if engine in ("mysql", "mariadb"):
        add_mysql_points(rewriter)
        with rewriter.asked_by("draft.query"):
            add_grouping_sets(rewriter)
            add_full_joins(rewriter)
        with rewriter.asked_by("convert.edge-value"):
            add_mysql_edges(rewriter)
    if engine in ("oracle", "sqlserver"):
        add_named_windows(rewriter)
    if engine == "sqlserver":
        add_common_columns(rewriter)
        add_compared_rows(rewriter)
        tell_binary_floats(rewriter)
        add_names_of_derived(rewriter)
        for call in rewriter.subject.all(Call):
            if call.parts == ("ROUND",) and len(call.arguments) == 1 and not may_be_float(call, rewriter):
                rewriter.insert(call.closing, ", 0")
    if engine in ("oracle", "sqlserver"):
        add_strict_values(rewriter)
        with rewriter.asked_by("convert.grouping"):
            complete_groups(rewriter)
    if engine != "oracle":
        return
    with rewriter.asked_by("convert.case"):
        add_case_points(rewriter)
        add_case_groups(rewriter)
    leave_out_as(rewriter)
    add_whole_rows(rewriter)
    if version < _EXCEPT_SINCE:
        for at in (at for query in rewriter.subject.all(Query) for name, at in query.operators if name == "EXCEPT"):
            rewriter.replace(at, at + 1, "MINUS")
    if version < _FROM_LESS:
        _add_dual(rewriter)


def _add_query_parts(rewriter: Rewriter) -> None:
    subject = rewriter.subject
    with rewriter.asked_by("draft.spelling"):
        add_titles(rewriter)
    for clause in subject.all(Clause):
        add_clause(clause, rewriter)
    for select in subject.all(Select):
        add_modifiers(select, rewriter)
        if not select.items and rewriter.words[select.first] == "SELECT":  # SELECT FROM t, which tells of rows alone
            rewriter.insert(select.first + 1, "1 ")
        for item in select.items:
            add_item(item, rewriter)
        if rewriter.target.engine in ("oracle", "sqlserver"):
            add_rollup(select, rewriter)
        if rewriter.target.engine not in ("mysql", "mariadb"):
            add_having(select, rewriter)
    if rewriter.target.engine not in ("mysql", "mariadb"):
        add_group_aliases(rewriter)
    for query in subject.all(Query):
        add_limit(query, rewriter)
    add_change_limits(rewriter)
    if rewriter.catalog.engine == "postgresql":
        add_first_rows(rewriter)
    add_inlined_functions(rewriter)
    for join in subject.all(Join):
        add_lateral(join, rewriter)
    add_lateral_lists(rewriter)


def _add_joined_texts(rewriter: Rewriter) -> None:
    for node in rewriter.subject.all(Operation):
        if _may_join_null(node, rewriter) and not _null_tested(node, rewriter):
            rewriter.rendered.append(("convert.null-joined", node.first))
        if _joins_by_bars(node, rewriter) or (_joins_texts(node, rewriter) and rewriter.target.engine != "sqlserver"):
            kinds = [rewriter.types.family(operand) for operand in node.operands]
            if "+" in node.operators and not NUMBERS.isdisjoint(kinds):
                rewriter.add(Point(node.first, node.last, partial(sum_with_texts, node), "convert.unlike-types"))
                continue
            rewriter.add(Point(node.first, node.last, partial(_concatenated, node)))


def _add_insert(insert: Insert, rewriter: Rewriter) -> None:
    if rewriter.catalog.engine in ("sqlserver", "ase"):
        _add_columns(insert, rewriter)
    words, table = rewriter.words, insert.table
    if table is None:
        return
    if words[table.first - 1] != "INTO" and words[insert.first] in ("INSERT", "INS"):
        rewriter.insert(table.first, "INTO ")
    is_short = rewriter.catalog.engine == "teradata" and insert.query is None and not insert.columns
    if is_short and words[table.last] == "(":  # INSERT t (1, 'a'), which may leave the last columns out
        known = rewriter.table(table.parts)
        given = 1 + len(outer_commas(table.last + 1, insert.last - 1, words))
        names = [rewriter.names.write(each.name) for each in known.columns[:given]] if known is not None else []
        is_less = known is not None and given < len(known.columns)
        rewriter.insert(table.last, f"({', '.join(names)}) VALUES " if is_less else "VALUES ")


def _add_columns(insert: Insert, rewriter: Rewriter) -> None:
    """Name the columns of an INSERT that names none, where the table fills some by itself: T-SQL counts the others alone."""
    table = rewriter.table(insert.table.parts) if insert.table is not None else None
    words = rewriter.words[insert.first : insert.last]
    if table is None or insert.table is None or insert.columns or "DEFAULT" in words[:6]:
        return
    own = [each for each in table.columns if each.identity or each.generated or each.type.name in _BY_ITSELF]
    if own:
        named = ", ".join(rewriter.names.write(each.name) for each in table.columns if each not in own)
        rewriter.insert_behind(insert.table, f" ({named})")


def _add_dummies(rewriter: Rewriter) -> None:
    """Write DUAL for the table of one row of Db2, or leave FROM out; beside other tables, it is for a person."""
    for select in rewriter.subject.all(Select):
        dummies = [table for table in select.sources if isinstance(table, TableRef) and table.parts[-1] == "SYSDUMMY1"]
        if not dummies or rewriter.catalog.tables_named("SYSDUMMY1"):
            continue
        table = dummies[0]
        if rewriter.target.engine == "oracle":
            rewriter.replace(table.first, table.first + 2 * len(table.parts) - 1, "DUAL")
        elif len(select.sources) == 1:
            rewriter.replace(select.from_at, table.last, "")
        else:
            rewriter.add(Point(table.first, table.last, _refuse_dummy))


def _refuse_session_values(rewriter: Rewriter) -> None:
    """Refuse variables of the session that no routine writes as its own."""
    for name in rewriter.subject.all(Name):
        if name.parts[0].startswith("@") and not name.parts[0].startswith("@@"):
            rewriter.add(Point(name.first, name.last, _refuse_session_value))


def _refuse_session_value(_: Rewriter) -> str:
    raise CannotDraft("a value of the session, outside of a routine of its own")


def _refuse_dummy(_: Rewriter) -> str:
    raise CannotDraft("the table of one row beside others")


def _add_dual(rewriter: Rewriter) -> None:
    """Write FROM DUAL where a query reads no table, and stays a query."""
    values = _written_as_values(rewriter)
    for select in rewriter.subject.all(Select):
        if select not in values and select.from_at < 0 and not select.sources and select.items:
            last = max(select.items[-1].last, select.into_span[1] if select.into_span else 0)
            rewriter.add(Point(last, last, lambda _: " FROM DUAL", behind=select.first))


def _written_as_values(rewriter: Rewriter) -> set[Node | None]:
    """Return the queries of PL/pgSQL and SQL functions that code writes as values: of PERFORM, and the last one of a body."""
    found: set[Node | None] = {each.value for each in rewriter.subject.all(PlainStatement) if each.words == "perform"}
    tree = rewriter.subject.tree
    block = tree.routine.block if isinstance(tree, CreateRoutine) and "LANGUAGE SQL" in tree.routine.options else None
    last = block.body[-1] if block is not None and block.body else None
    return found | set(last.query.blocks) if isinstance(last, QueryStatement) else found


def _joins_by_bars(node: Operation, rewriter: Rewriter) -> bool:
    """Whether || stands where the target reads it otherwise, or writes values otherwise as texts."""
    return "||" in node.operators and rewriter.target.engine in ("mysql", "mariadb", "sqlserver", "oracle")


def _joins_texts(node: Operation, rewriter: Rewriter) -> bool:
    """Whether + joins texts, as it does in the T-SQL family."""
    if rewriter.catalog.engine not in ("sqlserver", "ase") or set(node.operators) != {"+"}:
        return False
    return any(rewriter.types.family(operand) is Family.TEXT for operand in node.operands)


def _may_join_null(node: Operation, rewriter: Rewriter) -> bool:
    """Whether texts are joined of which one may be NULL, where the target counts NULL as an empty text."""
    if rewriter.target.engine != "oracle" or rewriter.catalog.engine == "oracle":
        return False
    joins = set(node.operators) == {"||"} or _joins_texts(node, rewriter)
    return joins and not all(rewriter.types.is_never_null(operand) for operand in node.operands)


def _null_tested(node: Operation, rewriter: Rewriter) -> list[Node]:
    """Return the names that make joined texts NULL, where a function right around these replaces NULL; [] where others may too."""
    around = rewriter.subject.read.parent(node)
    if not isinstance(around, Call) or around.parts[-1] not in _REPLACING_NULL or around.arguments[-1] is node:
        return []
    found = [each for each in node.operands if not rewriter.types.is_never_null(each)]
    return found if all(isinstance(each, Name | Bind) for each in found) else []


def _concatenated(node: Operation, rewriter: Rewriter) -> str:
    if set(node.operators) - {"||", "+"}:
        raise CannotDraft("|| among other operators")
    check_texts(node.operands, rewriter)
    if rewriter.target.engine == "oracle":
        joined = " || ".join(text_operand(each, rewriter) for each in node.operands)
        tested = _null_tested(node, rewriter) if _may_join_null(node, rewriter) else []
        tests = " AND ".join(f"{rewriter.node(each)} IS NOT NULL" for each in tested)
        return f"CASE WHEN {tests} THEN {joined} END" if tests else joined
    if rewriter.catalog.engine == "oracle":
        # NULL counts as an empty text there.
        head = "CONCAT(" if rewriter.target.engine == "sqlserver" else "CONCAT_WS('', "
        return f"{head}{rewriter.nodes(node.operands)})"
    if rewriter.target.engine == "sqlserver":
        return " + ".join(f"CAST({rewriter.node(each)} AS nvarchar(max))" for each in node.operands)
    return f"CONCAT({rewriter.nodes(node.operands)})"
