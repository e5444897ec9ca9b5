"""Rows of JSON documents and of texts that are cut: JSON_TABLE of the standard, OPENJSON and STRING_SPLIT of SQL Server.

What is read is told apart from how a target writes it. Sources: SQL/JSON of SQL:2016, "JSON table"; MySQL 8.4 Reference Manual,
"JSON Table Functions"; MariaDB Server documentation, "JSON_TABLE"; Oracle Database 19c, "SQL Language Reference", JSON_TABLE;
Transact-SQL reference, "OPENJSON", "STRING_SPLIT"; PostgreSQL 18, "JSON_TABLE".
"""

import re
from dataclasses import dataclass
from functools import partial
from typing import Final

from hullsound.catalog.model import DataType
from hullsound.draft.edits.brackets import closing_of
from hullsound.draft.edits.commas import between_commas
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.types import choose_type, parse_type
from hullsound.sql.lexer import STRING
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Call, Join, Node, Select, TableFunction

READ: Final = frozenset(("OPENJSON", "STRING_SPLIT", "JSON_TABLE"))
_RANK: Final = 2
_PATH: Final = re.compile(r"\$(\.\w+|\.\"[^\"\\']+\"|\[\d+\]|\[\*\])*")
_SEPARATORS: Final = re.compile(r"[^\w\"\\\x00-\x1f\x7f]")
"""Characters that no escape of JSON holds."""
_NULL_ON: Final = {("NULL", "ON", "EMPTY"), ("NULL", "ON", "ERROR")}
_MYSQL: Final = ("mysql", "mariadb")
_TABLE_SINCE: Final = {"mariadb": 1006, "postgresql": 17}


@dataclass(frozen=True)
class Column:
    """A column of the rows: its stored name, type in the source, and the path to its value from the row."""

    name: str
    kind: str = ""
    path: str = ""
    is_part: bool = False
    """Whether it is a part of the document as JSON."""
    is_place: bool = False
    """Whether it counts the rows."""


@dataclass(frozen=True)
class Rows:
    """What is read: the document, the path to the rows, and the columns."""

    document: Node
    path: str
    columns: tuple[Column, ...]


def add_document_rows(rewriter: Rewriter) -> None:
    """Write the functions in FROM that read documents and texts as rows, and the joins with them."""
    for source in rewriter.subject.all(TableFunction):
        call = source.call
        if isinstance(call, Call) and len(call.parts) == 1 and call.parts[0] in READ and not _is_same(call, rewriter):
            render = partial(_split if call.parts[0] == "STRING_SPLIT" else _rows, source, call)
            rewriter.add(Point(source.first, source.last, render, rank=_RANK))
            _add_join(source, rewriter)


def _is_same(call: Call, rewriter: Rewriter) -> bool:
    """Whether the target reads the same function, with the same types."""
    return call.parts[0] != "JSON_TABLE" and rewriter.target.engine == "sqlserver"


# --- joins ---


def _add_join(source: TableFunction, rewriter: Rewriter) -> None:
    """Write APPLY where the target wants it, and a join where it has no APPLY."""
    target = rewriter.target.engine
    join = next((each for each in rewriter.subject.all(Join) if each.right is source), None)
    if join is None:
        before = _before(source, rewriter)
        if before is not None and target == "sqlserver":
            rewriter.put_over(before.last, source.first, " CROSS APPLY ")
        return
    is_outer = join.kind.startswith(("OUTER", "LEFT"))
    applies = join.kind.endswith("APPLY")
    if target == "sqlserver":
        rewriter.put_over(join.left.last, source.first, " OUTER APPLY " if is_outer else " CROSS APPLY ")
        if join.condition is not None:
            if rewriter.subject.source(join.condition).upper().replace(" ", "") not in ("TRUE", "1=1"):
                raise CannotDraft("a join with the rows of a document by a condition")
            rewriter.put_over(source.last, join.last, "")
    elif applies and target != "oracle":
        rewriter.put_over(join.left.last, source.first, " LEFT JOIN " if is_outer else " CROSS JOIN ")
        if is_outer:
            rewriter.insert_behind(join, " ON TRUE")


def _before(source: TableFunction, rewriter: Rewriter) -> Node | None:
    """Return what stands before it in a list of FROM."""
    for select in rewriter.subject.all(Select):
        if source in select.sources and select.sources.index(source):
            return select.sources[select.sources.index(source) - 1]
    return None


# --- reading ---


def _read(source: TableFunction, call: Call, rewriter: Rewriter) -> Rows:
    if not call.arguments:
        raise CannotDraft("rows of a document that is not named")
    path = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else "$"
    if path is None:
        raise CannotDraft("rows of a document by a path that is no constant")
    words = rewriter.words
    if call.parts == ("OPENJSON",):
        if words[call.last : call.last + 2] != ["WITH", "("]:
            raise CannotDraft("OPENJSON without the types of its columns")
        spans = between_commas(call.last + 2, closing_of(rewriter, call.last + 1), words)
        columns = [_column_of_open_json(*span, rewriter) for span in spans]
        path = f"{_plain(path)}[*]"
    else:
        at = next((i for i in range(call.arguments[-1].last, call.closing) if words[i] == "COLUMNS"), -1)
        rest = words[call.arguments[-1].last : max(at, 0)]
        if at < 0 or words[at + 1] != "(" or rest or words[closing_of(rewriter, at + 1) + 1 : call.closing]:
            raise CannotDraft("JSON_TABLE with more than a path and columns")
        columns = [_column(*span, rewriter) for span in between_commas(at + 2, closing_of(rewriter, at + 1), words)]
    return Rows(call.arguments[0], _plain(path), tuple(columns))


def _plain(path: str) -> str:
    """Return a path without its mode. Raises CannotDraft for more than names and places."""
    path = path.removeprefix("lax ").strip()
    if not _PATH.fullmatch(path):
        raise CannotDraft("rows of a document by a path of more than names and places")
    return path


def _text(at: int, rewriter: Rewriter) -> str:
    if rewriter.tokens.kinds[at] != STRING:
        raise CannotDraft("rows of a document by a path that is no constant")
    return string_content(rewriter.tokens.source(at, at + 1), rewriter.catalog.engine)


def _name(at: int, rewriter: Rewriter) -> tuple[str, str]:
    """Return the name of a column as it is stored and as it is spelled."""
    spelled = rewriter.tokens.source(at, at + 1).strip('[]"`')
    is_quoted = rewriter.tokens.source(at, at + 1)[:1] == '"' and rewriter.catalog.engine == "oracle"
    return (spelled if is_quoted else spelled.upper()), spelled


def _column_of_open_json(first: int, last: int, rewriter: Rewriter) -> Column:
    """Read name type 'path' AS JSON."""
    name, spelled = _name(first, rewriter)
    is_part = rewriter.words[last - 2 : last] == ["AS", "JSON"]
    end = last - 2 * is_part
    path = f'$."{spelled}"' if not spelled.isalnum() else f"$.{spelled}"
    if rewriter.tokens.kinds[end - 1] == STRING:
        path = _text(end - 1, rewriter)
        end -= 1
    return Column(name, rewriter.tokens.source(first + 1, end), _plain(path), is_part)


def _column(first: int, last: int, rewriter: Rewriter) -> Column:
    """Read name type PATH 'path' or name FOR ORDINALITY."""
    words = rewriter.words
    name, _ = _name(first, rewriter)
    if words[first + 1 : last] == ["FOR", "ORDINALITY"]:
        return Column(name, is_place=True)
    at = next((i for i in range(first, last) if words[i] == "PATH"), -1)
    inside = set(words[first:last])
    if at < 0 or inside & {"NESTED", "EXISTS", "WRAPPER"}:
        raise CannotDraft("JSON_TABLE with a column of another kind than a value by its path")
    behind = words[at + 2 : last]
    while behind[:3] and tuple(behind[:3]) in _NULL_ON:
        behind = behind[3:]
    if behind:
        raise CannotDraft("JSON_TABLE with a value for what is missing or wrong")
    is_part = words[at - 2 : at] == ["FORMAT", "JSON"] or words[first + 1 : at] in (["JSON"], ["JSONB"])
    kind = rewriter.tokens.source(first + 1, at - 2 if words[at - 2 : at] == ["FORMAT", "JSON"] else at)
    return Column(name, kind, _plain(_text(at + 1, rewriter)), is_part)


# --- writing ---


def _rows(source: TableFunction, call: Call, rewriter: Rewriter) -> str:
    rows = _read(source, call, rewriter)
    rewriter.take(source)
    document = rewriter.node(rows.document)
    alias = rewriter.names.write(source.alias or "HS_JSON")
    target, version = rewriter.target.engine, rewriter.target.version
    if version < _TABLE_SINCE.get(target, 0):
        raise CannotDraft("JSON_TABLE, which this version has not")
    if target == "sqlserver":
        listed = ", ".join(_in_open_json(each, rewriter) for each in rows.columns)
        path = rows.path.removesuffix("[*]")
        if "[*]" in path or path == rows.path:
            raise CannotDraft("rows of a document that are no elements of one array")
        given = f"{document}, {literal(path)}" if path != "$" else document
        return f"OPENJSON({given}) WITH ({listed}) AS {alias}"
    if target == "postgresql":
        document = f"CAST({document} AS jsonb)"
    listed = ", ".join(_in_table(each, rewriter) for each in rows.columns)
    between = "" if target == "oracle" else " AS"
    return f"JSON_TABLE({document}, {literal(rows.path)} COLUMNS ({listed})){between} {alias}"


def _type(column: Column, rewriter: Rewriter) -> str:
    source = parse_type(column.kind) if column.kind else DataType("VARCHAR2")
    if rewriter.catalog.engine == "oracle" and source.name == "VARCHAR2" and not source.arguments:
        source = parse_type("VARCHAR2(4000)")
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is None or not choice.text:
        raise CannotDraft(f"no type for {column.kind}")
    if choice.text == "numeric" and rewriter.target.engine == "sqlserver":
        raise CannotDraft("a number without digits among the columns of a document")
    return choice.text


def _in_table(column: Column, rewriter: Rewriter) -> str:
    name, target = rewriter.names.write(column.name), rewriter.target.engine
    if column.is_place:
        return f"{name} FOR ORDINALITY"
    if column.is_part:
        kind = {"oracle": "varchar2(4000) FORMAT JSON", "postgresql": "jsonb"}.get(target, "JSON")
        return f"{name} {kind} PATH {literal(column.path)}"
    return f"{name} {_type(column, rewriter)} PATH {literal(column.path)}"


def _in_open_json(column: Column, rewriter: Rewriter) -> str:
    name = rewriter.names.write(column.name)
    if column.is_place:
        raise CannotDraft("the place of a row in a document")
    if column.is_part:
        return f"{name} nvarchar(max) {literal(column.path)} AS JSON"
    return f"{name} {_type(column, rewriter)} {literal(column.path)}"


# --- texts that are cut ---


def _split(source: TableFunction, call: Call, rewriter: Rewriter) -> str:
    """Write STRING_SPLIT over the text as an array of JSON. Raises CannotDraft for a separator that JSON may write otherwise."""
    text, separator, *more = call.arguments
    sign = text_value(separator, rewriter)
    if sign is None or not _SEPARATORS.fullmatch(sign):
        raise CannotDraft("STRING_SPLIT by a separator that is no constant sign")
    if rewriter.target.version < _TABLE_SINCE.get(rewriter.target.engine, 0):
        raise CannotDraft("JSON_TABLE, which this version has not")
    rewriter.take(source)
    alias = rewriter.names.write(source.alias or "HS_PARTS")
    value, ordinal = rewriter.names.write("VALUE"), rewriter.names.write("ORDINAL")
    counted = f", {ordinal} FOR ORDINALITY" if [rewriter.subject.source(each) for each in more] == ["1"] else ""
    written, quoted = rewriter.node(text), literal(sign)
    between = literal('","')
    if rewriter.target.engine in _MYSQL:
        document = f"CONCAT('[', REPLACE(JSON_QUOTE({written}), {quoted}, {between}), ']')"
        return f"JSON_TABLE({document}, '$[*]' COLUMNS ({value} LONGTEXT PATH '$'{counted})) AS {alias}"
    escaped = f"REPLACE(REPLACE({written}, '\\', '\\\\'), '\"', '\\\"')"
    document = f"'[\"' || REPLACE({escaped}, {quoted}, {between}) || '\"]'"
    given = f"CASE WHEN {written} IS NOT NULL THEN {document} END"
    return f"JSON_TABLE({given}, '$[*]' COLUMNS ({value} varchar2(4000) PATH '$'{counted})) {alias}"
