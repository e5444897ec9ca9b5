"""Forms of queries and changes that a target refuses although our readers take them; each rule says what it found, '' if nothing.

Sources: Oracle Database 19c and 23ai, "SQL Language Reference", SELECT; Transact-SQL reference of SQL Server 2022, "SELECT";
MySQL 8.4 Reference Manual, "SELECT", "VALUES", "WITH"; MariaDB Server documentation, "Non-Recursive Common Table Expressions".
"""

from collections.abc import Iterator
from typing import Final

from hullsound.draft.statements.join_words import has_condition
from hullsound.draft.statements.named_windows import SINCE as WINDOW_CLAUSE_SINCE
from hullsound.draft.statements.table_aliases import as_before_alias
from hullsound.knowledge.engine_model import Target
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Call,
    Clause,
    CursorDeclaration,
    Delete,
    DerivedTable,
    Insert,
    Join,
    Name,
    Node,
    Query,
    Row,
    Select,
    Star,
    Subquery,
    TableFunction,
    TableRef,
    Update,
)

_SET_OPERATORS_SINCE: Final = 21
_ROWS_SINCE: Final = 23
_COLUMNS_SINCE: Final = {"oracle": 23, "mariadb": 9999}
_GROUP_BY_ALIAS_SINCE: Final = {"oracle": 23, "sqlserver": 9999}


def alias_behind_as(read: ReadStatement, target: Target) -> str:
    tables = [table for kind in (TableRef, DerivedTable, TableFunction) for table in read.all(kind)]
    is_found = any(as_before_alias(table, read.tokens) >= 0 for table in tables)
    return "AS before the alias of a table" if is_found else ""


def changed_alias(read: ReadStatement, target: Target) -> str:
    tables = [*(each.table for each in read.all(Update)), *(each.table for each in read.all(Delete))]
    is_found = any(isinstance(table, TableRef) and table.alias for table in tables)
    return "an alias of the table that is changed, outside of FROM" if is_found else ""


def row_assigned(read: ReadStatement, target: Target) -> str:
    pairs = [pair for update in read.all(Update) for pair in update.assignments]
    is_found = any(isinstance(column, Row) and (target.engine != "oracle" or not isinstance(value, Subquery))
                   for column, value in pairs)  # fmt: skip
    return "several columns that are set at once" if is_found else ""


def several_changed(read: ReadStatement, target: Target) -> str:
    is_found = any(clause.name == "change-several-tables" for clause in read.all(Clause))
    return "a change of several tables" if is_found else ""


def star_beside(read: ReadStatement, target: Target) -> str:
    blocks = [select for select in read.all(Select) if len(select.items) > 1]
    stars = [item.value for select in blocks for item in select.items if isinstance(item.value, Star)]
    return "* beside other columns, without the name of a table" if any(not star.parts for star in stars) else ""


def set_operator(read: ReadStatement, target: Target) -> str:
    names = {name for query in read.all(Query) for name, _ in query.operators}
    if target.engine == "oracle" and target.version >= _SET_OPERATORS_SINCE:
        return ""
    unknown = names & {"EXCEPT ALL", "INTERSECT ALL", "MINUS ALL"}
    unknown |= names & ({"EXCEPT"} if target.engine == "oracle" else {"MINUS"})
    return f"the set operator {min(unknown)}" if unknown else ""


def ordered_part(read: ReadStatement, target: Target) -> str:
    for query in read.all(Query):
        parts = [block.query for block in query.blocks if isinstance(block, Subquery)] if query.operators else []
        if any(part.order for part in parts):
            return "ORDER BY in one part of a set operation"
    return ""


def columns_behind_alias(read: ReadStatement, target: Target) -> str:
    is_found = any(read.tokens.words[table.last - 1] == ")" and table.alias for table in read.all(DerivedTable))
    return (
        "names of columns behind the alias of a subquery"
        if is_found and target.version < _COLUMNS_SINCE[target.engine]
        else ""
    )


def named_row(read: ReadStatement, target: Target) -> str:
    return "ROW before values" if any(call.parts == ("ROW",) for call in read.all(Call)) else ""


def values_query(read: ReadStatement, target: Target) -> str:
    is_found = any(clause.name == "values-query" for clause in read.all(Clause))
    return "VALUES in the place of a query" if is_found and target.version < _ROWS_SINCE else ""


def joined_without_condition(read: ReadStatement, target: Target) -> str:
    words = read.tokens.words
    for join in read.all(Join):
        between = words[join.left.last : join.right.first]
        is_bound = has_condition(join, words)
        if between in (["JOIN"], ["INNER", "JOIN"]) and not is_bound:
            return "a JOIN without a condition"
        if between == ["CROSS", "JOIN"] and is_bound:
            return "CROSS JOIN with a condition"
    return ""


def bare_values(read: ReadStatement, target: Target) -> str:
    """SQL Server has VALUES in INSERT, and as a table in FROM."""
    tables = {table.query.first for table in read.all(DerivedTable)}
    clauses = (clause for clause in read.all(Clause) if clause.name == "values-query")
    is_found = any(clause.first not in tables for clause in clauses)
    return "VALUES in the place of a query" if is_found else ""


def lateral_by_table(read: ReadStatement, target: Target) -> str:
    words = read.tokens.words
    is_found = any(words[table.first] == "TABLE" for table in read.all(DerivedTable))
    return "TABLE before a query" if is_found else ""


def named_window(read: ReadStatement, target: Target) -> str:
    words = read.tokens.words
    is_found = any(words[at] == "WINDOW" and words[at + 2] == "AS" for at in range(read.first, read.last - 2))
    return "the WINDOW clause" if is_found and target.version < WINDOW_CLAUSE_SINCE[target.engine] else ""


def values_without_row(read: ReadStatement, target: Target) -> str:
    clauses = [clause for clause in read.all(Clause) if clause.name == "values-query"]
    is_found = any(read.tokens.words[each.first : each.first + 2] == ["VALUES", "("] for each in clauses)
    return "VALUES in the place of a query, without ROW" if is_found else ""


def common_table_before_change(read: ReadStatement, target: Target) -> str:
    kinds = (Insert,) if target.engine == "mysql" else (Insert, Update, Delete)
    is_found = read.tokens.words[read.first] == "WITH" and any(read.all(kind) for kind in kinds)
    return "WITH before a change" if is_found else ""


def inner_common_table(read: ReadStatement, target: Target) -> str:
    queries = read.all(Query)
    inner = (query for query in queries if query.common)
    is_found = any(any(o.first < i.first and i.last <= o.last for o in queries) for i in inner)
    return "WITH inside of a query" if is_found else ""


def lateral(read: ReadStatement, target: Target) -> str:
    return "LATERAL" if any(table.lateral for table in read.all(DerivedTable)) else ""


def first_rows(read: ReadStatement, target: Target) -> str:
    words = read.tokens.words
    for at in range(read.first + 1, read.last - 2):
        if words[at] == "FETCH" and words[at + 1] in ("FIRST", "NEXT") and words[at + 2].isdigit():
            is_behind_offset = words[at - 1] in ("ROW", "ROWS") and target.engine == "sqlserver"
            with_ties = "TIES" in words[at : at + 6]
            if with_ties and (target.engine != "mariadb" or "ORDER" not in words):
                return "FETCH ... WITH TIES"
            if target.engine != "mariadb" and not is_behind_offset:
                return "FETCH FIRST"
    return ""


def nameless_subquery(read: ReadStatement, target: Target) -> str:
    is_found = any(not table.alias for table in read.all(DerivedTable))
    return "a subquery in FROM without a name" if is_found else ""


def no_select(read: ReadStatement, target: Target) -> str:
    for select in read.all(Select):
        if read.tokens.words[select.first] == "TABLE" and target.engine != "mysql":
            return "TABLE in the place of a query"
        if not select.items and read.tokens.words[select.first] == "SELECT":
            return "a query without columns"
    return ""


_ODD_PAIRS: Final = frozenset(
    (
        ("BETWEEN", "SYMMETRIC"), ("SELECT", "DISTINCTROW"), ("UNION", "DISTINCT"), ("EXCEPT", "DISTINCT"),
        ("INTERSECT", "DISTINCT"),
    )
)  # fmt: skip
"""Words that follow others in one dialect alone."""


def odd_word(read: ReadStatement, target: Target) -> str:
    words = read.tokens.words
    for at in range(read.first + 1, read.last):
        pair = (words[at - 1], words[at])
        if pair in _ODD_PAIRS and (words[at] == "SYMMETRIC" or target.engine not in ("mysql", "mariadb")):
            return f"the word {words[at]}"
    tables = [table for table in read.all(TableRef) if table.last > table.first + 1]
    return "ONLY before a table" if any(words[table.first] == "ONLY" for table in tables) else ""


def distinct_row(read: ReadStatement, target: Target) -> str:
    for call in read.all(Call):
        is_distinct = call.parts == ("COUNT",) and read.tokens.words[call.opening + 1] == "DISTINCT"
        is_list = len(call.arguments) > 1 and target.engine not in ("mysql", "mariadb")
        if is_distinct and (is_list or any(isinstance(each, Row) for each in call.arguments)):
            return "COUNT(DISTINCT ...) of several values"
    return ""


def having_without_groups(read: ReadStatement, target: Target) -> str:
    for select in read.all(Select):
        if (
            select.having is not None
            and not select.group
            and any(isinstance(each.value, Name) for each in select.items)
        ):
            return "HAVING without GROUP BY, over single rows"
    return ""


def group_by_alias(read: ReadStatement, target: Target) -> str:
    if target.version >= _GROUP_BY_ALIAS_SINCE[target.engine]:
        return ""
    for select in read.all(Select):
        made = {item.alias for item in select.items if item.alias and not _is_column(item.value, item.alias)}
        if any(isinstance(group, Name) and len(group.parts) == 1 and group.parts[0] in made for group in select.group):
            return "GROUP BY an alias"
    return ""


def _is_column(value: Node, name: str) -> bool:
    return isinstance(value, Name) and value.parts[-1] == name


def order_beside_distinct(read: ReadStatement, target: Target) -> str:
    """ORDER BY something that SELECT DISTINCT does not give: ORA-01791; SQL Server, error 145; MySQL, error 3065."""
    for query in read.all(Query):
        block = query.blocks[0] if len(query.blocks) == 1 else None
        if not isinstance(block, Select) or read.tokens.words[block.first + 1] != "DISTINCT":
            continue
        given = {_text_of(item.value, read) for item in block.items} | {item.alias for item in block.items}
        is_all = any(isinstance(item.value, Star) for item in block.items)
        sorts = (key for each in query.order for key in _sorted_by(each.value, read, target))
        if not is_all and any(key not in given and not key.isdigit() for key in sorts):
            return "ORDER BY what SELECT DISTINCT does not give"
    return ""


def _sorted_by(value: Node, read: ReadStatement, target: Target) -> Iterator[str]:
    """Yield what must be given for a key: MySQL asks for the columns in it alone."""
    if target.engine == "mysql":
        yield from (name.parts[-1] for name in read.all(Name) if value.first <= name.first and name.last <= value.last)
    else:
        yield _text_of(value, read)


def _text_of(value: Node, read: ReadStatement) -> str:
    return value.parts[-1] if isinstance(value, Name) else read.tokens.source(value.first, value.last).upper()


def limit(read: ReadStatement, target: Target) -> str:
    names = {clause.name for clause in read.all(Clause)}
    return "LIMIT" if "limit" in names else ""


def for_update(read: ReadStatement, target: Target) -> str:
    names = {clause.name for clause in read.all(Clause)}
    # A cursor may say so, a query may not.
    return "FOR UPDATE" if "for-update" in names and not read.all(CursorDeclaration) else ""


def tables_in_brackets(read: ReadStatement, target: Target) -> str:
    words = read.tokens.words
    is_found = any(table.last < len(words) and words[table.first - 1 : table.first] == ["("] and words[table.last] in (")", ",")
                   for select in read.all(Select) if select.from_at >= 0
                   for table in read.all(TableRef) if select.from_at < table.first < select.last)  # fmt: skip
    return "tables in brackets without a join" if is_found else ""


def qualified_join_column(read: ReadStatement, target: Target) -> str:
    """Oracle: ORA-25154 and ORA-25155."""
    words, common = read.tokens.words, set[str]()
    for join in read.all(Join):
        at = join.right.last
        if words[at : at + 1] == ["USING"]:
            common |= {words[index] for index in range(at + 2, join.last)}
        elif join.kind.startswith("NATURAL"):
            common |= {name.parts[-1] for name in read.all(Name)}
    is_found = any(len(name.parts) > 1 and name.parts[-1] in common for name in read.all(Name))
    is_joined = common or any(join.kind.startswith("NATURAL") for join in read.all(Join))
    is_found = is_found or bool(is_joined and any(star.parts for star in read.all(Star)))
    return "a column of USING or NATURAL JOIN with the name of its table" if is_found else ""


_OF_BOTH: Final = (
    set_operator, ordered_part, named_window, no_select, odd_word, distinct_row, having_without_groups, group_by_alias, limit,
    tables_in_brackets, row_assigned, several_changed, order_beside_distinct, joined_without_condition, named_row,
    lateral_by_table,
)  # fmt: skip
OF_ORACLE: Final = (*_OF_BOTH, alias_behind_as, star_beside, columns_behind_alias, values_query, qualified_join_column)
OF_SQLSERVER: Final = (
    inner_common_table,
    *_OF_BOTH,
    changed_alias,
    for_update,
    lateral,
    first_rows,
    nameless_subquery,
    bare_values,
)
OF_MYSQL: Final = (
    no_select,
    odd_word,
    distinct_row,
    row_assigned,
    values_without_row,
    common_table_before_change,
    first_rows,
    nameless_subquery,
    order_beside_distinct,
)
OF_MARIADB: Final = (
    no_select, odd_word, distinct_row, row_assigned, columns_behind_alias, common_table_before_change, lateral, first_rows,
    nameless_subquery,
)  # fmt: skip
