"""Functions of one query whose rows are read: the query in the place of each call, for targets whose functions return no rows.

Sources: Transact-SQL reference, CREATE FUNCTION, "Inline table-valued function"; Db2 for LUW 11.5, CREATE FUNCTION (SQL table): a
view with parameters, which take the values that are given as their own types hold them.
"""

from collections.abc import Sequence
from contextlib import closing
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.catalog.definitions import data_type
from hullsound.catalog.model import DataType, Object, ObjectType
from hullsound.draft.edits.reading import read_again
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import (
    Call,
    CreateRoutine,
    DerivedTable,
    Literal,
    Name,
    Node,
    Parameter,
    Query,
    QueryStatement,
    Return,
    Routine,
    Select,
    Star,
    Subquery,
    TableFunction,
    TableRef,
)

WITHOUT_ROWS: Final = frozenset(("mysql", "mariadb", "oracle"))
"""Targets for which the calls of such functions become their queries."""
_SYNONYMS: Final = {"INT": "INTEGER", "DEC": "DECIMAL", "NUMERIC": "DECIMAL", "CHARACTER": "CHAR"}
_WHOLE: Final = ("BIT", "TINYINT", "SMALLINT", "INT", "BIGINT")
"""Whole numbers of SQL Server, from narrow to wide."""
_SHORTEST: Final = 2**15
"""Numbers below it fit into each of them but the narrowest two."""


def inline_query(tree: Node | None, words: Sequence[str]) -> Query | None:
    """Return the query that a function of one query is, whose rows are read; None for another routine."""
    block = tree.routine.block if isinstance(tree, CreateRoutine) else None
    if not isinstance(tree, CreateRoutine) or block is None or len(block.body) != 1:
        return None
    query = block.body[0]
    if isinstance(query, Return) and words[query.first : query.first + 2] == ["RETURN", "QUERY"] and not block.handlers:
        value = query.value  # of PL/pgSQL
        if not isinstance(value, QueryStatement) or block.declarations:
            return None
        return value.query if _gives_rows_of(tree.routine, value.query, words) else None
    if isinstance(query, Return) and isinstance(query.value, Query) and words[query.first - 1] != "BEGIN":  # of Db2
        named, select = _named_columns(tree.routine, words), query.value.blocks[0]
        is_plain = len(query.value.blocks) == 1 and not query.value.common
        if not named or not is_plain or not isinstance(select, Select) or len(select.items) != len(named):
            return None
        return None if any(isinstance(item.value, Star) for item in select.items) else query.value
    if "LANGUAGE SQL" in tree.routine.options:  # of PostgreSQL
        if not isinstance(query, QueryStatement) or not _gives_rows_of(tree.routine, query.query, words):
            return None
        return query.query
    if not isinstance(query, Query):
        return None
    inner = query.blocks[0] if len(query.blocks) == 1 and not query.common else None
    return inner.query if isinstance(inner, Subquery) else query


def _gives_rows_of(routine: Routine, query: Query, words: Sequence[str]) -> bool:
    """Whether a function of PostgreSQL gives the rows of its query, with the names that the query gives them."""
    block, returned = query.blocks[0], routine.returns
    if returned is None or len(query.blocks) > 1 or not isinstance(block, Select) or query.common:
        return False
    if words[returned.first] == "SETOF":
        return len(block.items) == 1 and isinstance(block.items[0].value, Star)
    is_written = not any(isinstance(item.value, Star) for item in block.items)
    return is_written and len(_named_columns(routine, words)) == len(block.items)


def _named_columns(routine: Routine, words: Sequence[str]) -> list[tuple[str, DataType]]:
    """Return the columns that RETURNS TABLE (name type, ...) names, with their types."""
    returned = routine.returns
    if returned is None or returned.name != "TABLE" or words[returned.first : returned.first + 2] != ["TABLE", "("]:
        return []
    inside = [*words[returned.first + 2 : returned.last - 1], ","]
    depth, start, named = 0, 0, []
    for at, word in enumerate(inside):
        if depth == 0 and word == ",":
            kind = inside[start + 1 : at]
            bracket = kind.index("(") if "(" in kind else len(kind)
            arguments = tuple(each for each in kind[bracket + 1 : -1] if each != ",")
            named.append((inside[start], DataType(" ".join(kind[:bracket]), arguments)))
            start = at + 1
        depth += (word == "(") - (word == ")")
    return named


def _add_titles(query: Query, read: ReadStatement, inner: Rewriter) -> None:
    """Give the columns of a function's query the names under which its source returns them.

    Raises CannotDraft for a column of Db2 that the function returns as another type than the query has.
    """
    block = query.blocks[0]
    if not isinstance(read.tree, CreateRoutine) or not isinstance(block, Select):
        return
    columns = _named_columns(read.tree.routine, read.tokens.words)
    for (name, declared), item in zip(columns, block.items, strict=False):
        kind = inner.types.source_type(item.value)
        if inner.catalog.engine == "db2" and (kind is None or not _holds(declared, kind)):
            raise CannotDraft("a function whose columns convert what its query gives")
        if item.title != name:
            alias = f" AS {inner.names.write(name)}"
            if item.alias:
                inner.put_over(item.value.last, item.last, alias)
            else:
                inner.insert_behind(item, alias)


def add_inlined_functions(rewriter: Rewriter) -> None:
    """Write the query of each function whose rows are read; one that is no single query is for a person."""
    if rewriter.catalog.engine not in ("sqlserver", "ase", "postgresql", "db2"):
        return
    if rewriter.target.engine not in WITHOUT_ROWS:
        _qualify_calls(rewriter)
        return
    for source in rewriter.subject.all(TableFunction):
        if isinstance(source.call, Call):
            item = rewriter.catalog.resolve(source.call.parts, rewriter.default_schema)
            if item is not None and item.type is ObjectType.FUNCTION:
                rewriter.add(Point(source.first, source.last, partial(_written, source, source.call, item), rank=4))


def _qualify_calls(rewriter: Rewriter) -> None:
    """Name the schema of functions whose rows are read, as SQL Server finds them there."""
    if rewriter.target.engine != "sqlserver" or rewriter.catalog.engine not in ("postgresql", "db2"):
        return
    for source in rewriter.subject.all(TableFunction):
        call = source.call
        item = rewriter.catalog.resolve(call.parts, rewriter.default_schema) if isinstance(call, Call) else None
        if item is None or item.type is not ObjectType.FUNCTION or not isinstance(call, Call):
            continue
        if len(call.parts) == 1:
            rewriter.replace(call.first, call.first + 1, rewriter.names.qualified(item.schema or "dbo", item.name))
        if rewriter.catalog.engine == "db2":  # TABLE(f(1))
            rewriter.replace(source.first, call.first, "")
            rewriter.replace(call.last, call.last + 1, "")


def _written(source: TableFunction, call: Call, item: Object, rewriter: Rewriter) -> str:
    read = read_again(item, rewriter.catalog.engine)
    query = inline_query(read.tree, read.tokens.words) if read is not None else None
    if read is None or query is None or not isinstance(read.tree, CreateRoutine) or rewriter.another is None:
        raise CannotDraft("a function of several statements whose rows are read")
    parameters = read.tree.routine.parameters
    if len(parameters) != len(call.arguments):
        raise CannotDraft("a function that is called with other values than it takes")
    if any(rewriter.catalog.columns_named(each.name) for each in parameters if not each.name.startswith(("@", "$"))):
        raise CannotDraft("a function whose parameter is called like a column")
    values = {each.name: _given(each, value, rewriter) for each, value in zip(parameters, call.arguments, strict=True)}
    _refuse_capture(call, read, rewriter)
    with closing(rewriter.another(read)) as inner:
        text = query_text(query, values, read, inner)
    name = rewriter.names.write(source.alias or item.name)
    return f"({text}) {name}"


def _refuse_capture(call: Call, read: ReadStatement, rewriter: Rewriter) -> None:
    """Refuse a column as a value that would mean another one inside of the function's query."""
    own = {name for table in read.all(TableRef) for name in (table.alias, table.parts[-1])}
    own |= {table.alias for table in read.all(DerivedTable)}
    for name in rewriter.subject.read.inside(Name, call.opening, call.closing):
        if not name.parts[0].startswith("@") and (len(name.parts) == 1 or name.parts[0] in own):
            raise CannotDraft("a function that is called with a column whose name its query uses")


def query_text(query: Query, values: dict[str, str], read: ReadStatement, inner: Rewriter) -> str:
    """Return a function's query with values in the places of its parameters. Raises CannotDraft for what cannot be written."""
    if inner.unconverted:
        raise CannotDraft(inner.unconverted[0].reason)
    for name in read.inside(Name, query.first, query.last):
        if name.parts[0] in values:
            inner.put(name, values[name.parts[0]])
    _add_titles(query, read, inner)
    text = inner.node(query).strip()
    if inner.skipped:
        raise CannotDraft(inner.skipped[0].reason)
    return text


def _given(parameter: Parameter, value: Node, rewriter: Rewriter) -> str:
    """Write the value of a parameter. Raises CannotDraft where the parameter's type may hold another one."""
    text, kind, taken = rewriter.node(value), rewriter.types.source_type(value), data_type(parameter.type)
    if rewriter.catalog.engine == "postgresql":
        families = (rewriter.types.family(value), rewriter.types.family_of(taken))
        is_alike = families[0] is families[1] or families == (Family.INTEGER, Family.NUMBER)
        if not is_alike or not isinstance(value, Literal | Name):
            raise CannotDraft("a function whose parameter converts the value that it is given")
        return text
    is_constant = isinstance(value, Literal) and _takes(taken, value, rewriter)
    if not is_constant and not (kind is not None and _holds(taken, kind)):
        raise CannotDraft("a function whose parameter converts the value that it is given")
    return text if value.last == value.first + 1 or isinstance(value, Name | Call) else f"({text})"


def _takes(parameter: DataType, value: Literal, rewriter: Rewriter) -> bool:
    """Whether a parameter takes a constant as it is."""
    text = rewriter.tokens.source(value.first, value.last)
    if value.form == "null":
        return True
    if value.form == "number":
        return parameter.name in _WHOLE[1:] and text.isdigit() and int(text) < _SHORTEST
    size = parameter.arguments[0] if parameter.arguments else "1"
    is_text = parameter.name in ("VARCHAR", "NVARCHAR") and value.form == "string"
    return is_text and (size == "MAX" or (size.isdigit() and len(text) <= int(size)))


def _holds(parameter: DataType, value: DataType) -> bool:
    """Whether a parameter keeps every value of a type as it is."""
    parameter, value = (DataType(_SYNONYMS.get(each.name, each.name), each.arguments) for each in (parameter, value))
    if parameter.name in _WHOLE and value.name in _WHOLE:
        return _WHOLE.index(value.name) <= _WHOLE.index(parameter.name)
    sizes = (parameter.arguments, value.arguments)
    if parameter.name != value.name or sizes[0] == sizes[1]:
        return parameter.name == value.name
    is_longer = len(sizes[0]) == len(sizes[1]) == 1 and all(size[0].isdigit() for size in sizes)
    return sizes[0] == ("MAX",) or (is_longer and int(sizes[0][0]) >= int(sizes[1][0]))
