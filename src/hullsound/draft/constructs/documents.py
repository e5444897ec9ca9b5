"""Documents as rows and values in SQL Server: OPENJSON, and the methods of xml, as PostgreSQL reads them."""

from functools import partial
from typing import Final, NoReturn

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.edits.variables import Variables
from hullsound.knowledge.types import choose_type, parse_type
from hullsound.sight.detectors.names import XML_METHODS
from hullsound.sql.lexer import STRING
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Call, Cast, Member, TableFunction

from .json_paths import json_keys

_KINDS: Final = (
    "CASE jsonb_typeof({0}) WHEN 'null' THEN 0 WHEN 'string' THEN 1 WHEN 'number' THEN 2 WHEN 'boolean' THEN 3 "
    "WHEN 'array' THEN 4 ELSE 5 END"
)
"""Numbers of the kinds of values (OPENJSON, Transact-SQL)."""


def add_document_points(rewriter: Rewriter) -> None:
    """Add the points of OPENJSON and of the methods of xml."""
    for source in rewriter.subject.all(TableFunction):
        if isinstance(source.call, Call) and source.call.parts == ("OPENJSON",):
            rewriter.add(Point(source.first, source.last, partial(_open_json, source, source.call), rank=2))
        elif isinstance(source.call, Call) and source.call.parts in (("STRING_SPLIT",), ("GENERATE_SERIES",)):
            rewriter.add(Point(source.first, source.last, partial(_titled, source, source.call), rank=2))
    for member in rewriter.subject.all(Member):
        if isinstance(member.owner, Cast):
            rewriter.add(Point(member.first, member.last, _refuse_member, rank=9))
    for call in rewriter.subject.all(Call):
        if len(call.parts) > 1 and call.parts[-1] in XML_METHODS and call.arguments:
            rewriter.add(Point(call.first, call.last, partial(_xml_method, call), rank=2))


def _refuse_member(_: Rewriter) -> NoReturn:
    raise CannotDraft("a method of a value")


def _titled(source: TableFunction, call: Call, rewriter: Rewriter) -> str:
    """Write a function with the names of its columns, which it has not by itself in FROM."""
    write = rewriter.names.write
    numbered = call.parts == ("STRING_SPLIT",) and [rewriter.subject.source(each) for each in call.arguments[2:]] == [
        "1"
    ]
    columns = f"{write('VALUE')}, {write('ORDINAL')}" if numbered else write("VALUE")
    text = rewriter.text(call.first, call.last)
    return f"{text}{' WITH ORDINALITY' if numbered else ''} AS {write(source.alias or 'HS_ROWS')}({columns})"


def _open_json(source: TableFunction, call: Call, rewriter: Rewriter) -> str:
    document = f"CAST({rewriter.node(call.arguments[0])} AS jsonb)"
    path = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else "$"
    if path is None:
        raise CannotDraft("OPENJSON with a path that is not a constant")
    alias = rewriter.names.write(source.alias or "HS_JSON")
    words = rewriter.words
    if words[call.last] != "WITH":
        part = document if path == "$" else f"{document} #> {json_keys(call.arguments[1], rewriter)}"
        return f"{_pairs(part)} AS {alias}"
    at, columns = call.last + 2, []
    while at < source.last and words[at - 1] != ")":
        end = _end_of_column(at, source.last, words)
        columns.append(_column(at, end, rewriter))
        at = end + 1
    mode = "" if path.startswith(("lax", "strict")) else "lax "
    rows = f"jsonb_path_query({document}, {literal(f'{mode}{path}[*]')}) AS hs_row(v)"
    return f"(SELECT {', '.join(columns)} FROM {rows}) AS {alias}"


def _end_of_column(at: int, last: int, words: list[str]) -> int:
    depth = 0
    while at < last and (depth or words[at] not in (",", ")")):
        depth += (words[at] == "(") - (words[at] == ")")
        at += 1
    return at


def _column(first: int, last: int, rewriter: Rewriter) -> str:
    """Write one column of WITH (name type 'path' AS JSON)."""
    tokens, words = rewriter.tokens, rewriter.words
    name = tokens.source(first, first + 1).strip('[]"')
    as_json = words[last - 2 : last] == ["AS", "JSON"]
    end = last - 2 if as_json else last
    path = ""
    if tokens.kinds[end - 1] == STRING:
        path = string_content(tokens.source(end - 1, end), "sqlserver")
        end -= 1
    keys = (path or f"$.{name}").removeprefix("lax ").removeprefix("strict ")
    parts = [part.strip('"') for part in keys.removeprefix("$").strip(".").split(".") if part]
    if not keys.startswith("$") or any(set(part) & set("[]{},\\'\"") for part in parts):
        raise CannotDraft("OPENJSON with a path that is not a row of names")
    place = literal("{" + ",".join(parts) + "}")
    title = rewriter.names.write(name.upper())
    if as_json:
        return f"CAST(v #> {place} AS text) AS {title}"
    kind = choose_type("sqlserver", parse_type(tokens.source(first + 1, end)), rewriter.target)
    if kind is None or not kind.text:
        raise CannotDraft(f"no type for {tokens.source(first + 1, end)}")
    return f"CAST(v #>> {place} AS {kind.text}) AS {title}"


def _pairs(document: str) -> str:
    """Return key, value and type of each member of an array or object."""
    array = f"jsonb_array_elements(CASE jsonb_typeof({document}) WHEN 'array' THEN {document} ELSE '[]' END)"
    fields = f"jsonb_each(CASE jsonb_typeof({document}) WHEN 'object' THEN {document} ELSE '{{}}' END)"
    return (
        f"(SELECT CAST(o - 1 AS text) AS key, e #>> '{{}}' AS value, {_KINDS.format('e')} AS type "
        f"FROM {array} WITH ORDINALITY AS a(e, o)\n"
        f"UNION ALL SELECT k, e #>> '{{}}', {_KINDS.format('e')} FROM {fields} AS b(k, e))"
    )


def _xml_method(call: Call, rewriter: Rewriter) -> str:
    """Write .value(), .exist(), .query() and .nodes() by XMLTABLE and xpath, which know XPath 1.0."""
    path = text_value(call.arguments[0], rewriter)
    if path is None or any(word in path for word in ("sql:", "declare ", "for $", " return ", "<", "{")):
        raise CannotDraft("an XQuery, or a path that is not a constant")
    owner = rewriter.text(call.first, call.first + 2 * (len(call.parts) - 1) - 1)
    if call.parts[0].startswith("@"):
        owner = Variables(rewriter).write(call.parts[0])
    is_inner = path.lstrip("(").startswith("/")
    match call.parts[-1]:
        case "NODES":
            if not is_inner:
                raise CannotDraft(".nodes() of a path that begins at a node")
            return f"unnest(xpath({literal(path)}, {owner}))"
        case "EXIST":
            return f"CASE WHEN xmlexists({literal(_whole(path))} PASSING ({owner})) THEN 1 ELSE 0 END"
        case "QUERY":
            return f"(SELECT xmlagg(x) FROM unnest(xpath({literal(_whole(path))}, {owner})) AS x)"
        case "VALUE":
            return _xml_value(call, path, owner, is_inner, rewriter)
    raise CannotDraft(f".{call.parts[-1].lower()}() of xml")


def _xml_value(call: Call, path: str, owner: str, is_inner: bool, rewriter: Rewriter) -> str:
    source = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else None
    kind = choose_type("sqlserver", parse_type(source), rewriter.target) if source else None
    if kind is None or not kind.text:
        raise CannotDraft(".value() without a known type")
    row = "/" if is_inner else "/*"
    return f"(SELECT v FROM XMLTABLE({literal(row)} PASSING ({owner}) COLUMNS v {kind.text} PATH {literal(path)}))"


def _whole(path: str) -> str:
    """Return a path from the document: one that begins at a node begins at the root of what the node holds."""
    return path if path.lstrip("(").startswith("/") else f"/*/{path}".replace("/./", "/")
