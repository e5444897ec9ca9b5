"""FOR XML of SQL Server: rows as elements, and the trick that joins texts, both by string_agg.

The text of the elements is put together without PostgreSQL's functions for XML, which a server built without libxml lacks.
"""

import re
from functools import partial
from typing import Final, NamedTuple

from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.statements.queries import limit_of_top
from hullsound.sql.tree import Clause, Member, Name, Node, Query, Select, SelectItem, Star, Subquery, TableRef

from .texts import as_text

_FORM: Final = re.compile(r"FOR XML (RAW|PATH)(?:\s*\(\s*N?'([^']*)'\s*\))?", re.IGNORECASE)
_ROOT: Final = re.compile(r"\bROOT\b(?:\s*\(\s*N?'([^']*)'\s*\))?", re.IGNORECASE)


def prepare_xml(rewriter: Rewriter, construct: str) -> None:
    """Add a point for each query that gives its rows as XML."""
    joined = set()
    for member in rewriter.subject.all(Member):
        query = member.owner.query if isinstance(member.owner, Subquery) else None
        clause = _clause_of(query, rewriter) if isinstance(query, Query) else None
        if clause is not None and member.parts == ("VALUE",) and _is_whole_value(member, rewriter):
            assert isinstance(query, Query)
            joined.add(query)
            rewriter.add(Point(member.first, member.last, partial(_joined_value, query, clause), construct))
    for query in rewriter.subject.all(Query):
        clause = _clause_of(query, rewriter)
        if clause is not None and query not in joined:
            rewriter.add(Point(query.first, query.last, partial(_query, query, clause), construct, rank=1))


def _clause_of(query: Query, rewriter: Rewriter) -> Clause | None:
    return next((c for c in rewriter.subject.all(Clause) if c.name == "for-xml" and c.last == query.last), None)


def _is_whole_value(member: Member, rewriter: Rewriter) -> bool:
    """Whether .value() takes all the text: '.', './text()[1]' or 'text()[1]'."""
    path = rewriter.subject.source(member.arguments[0]) if member.arguments else ""
    return path.lstrip("Nn").strip("'") in (".", "./text()[1]", "(./text())[1]", "text()[1]", "(.)[1]", ".[1]")


def _joined_value(query: Query, clause: Clause, rewriter: Rewriter) -> str:
    return f"({_query(query, clause, rewriter)})"


def _query(query: Query, clause: Clause, rewriter: Rewriter) -> str:
    """Write the query so that it gives one row with the XML or the joined text of all rows."""
    block = query.blocks[0] if len(query.blocks) == 1 else None
    source = rewriter.tokens.source(clause.first, clause.last)
    form = _FORM.match(" ".join(source.split()))
    if not isinstance(block, Select) or form is None or query.common or block.group or block.having is not None:
        raise CannotDraft("FOR XML in a form with no counterpart")
    top = next((c for c in rewriter.subject.all(Clause) if c.name == "top" and c.first == block.first + 1), None)
    behind = source[form.end() :].upper() if len(source.split()) else ""
    unknown = [word for word in re.findall(r"\b[A-Z]+\b", re.sub(r"'[^']*'", "", behind)) if word not in _KNOWN]
    if unknown:
        raise CannotDraft(f"FOR XML with {unknown[0]}")
    order = f" ORDER BY {rewriter.nodes(query.order)}" if query.order else ""
    rest = rewriter.text(block.from_at, block.last) if block.from_at >= 0 else ""
    name = form[2]
    if form[1].upper() == "PATH" and name == "" and _ROOT.search(source) is None and top is None:
        return f"SELECT {_joined(block, order, rewriter)}\n{rest}"
    if block.items and rewriter.words[block.first + 1] == "DISTINCT":
        raise CannotDraft("FOR XML of distinct rows")
    is_path = form[1].upper() == "PATH"
    root = _ROOT.search(source)
    shape = _Shape(is_path, "ELEMENTS" in behind, "XSINIL" in behind, root is None)
    element = _element(block, shape, name if name is not None else "row", rewriter)
    if top is None:
        text, rest = f"string_agg({element}, ''{order})", f"\n{rest}"
    else:
        rows = f"SELECT {element} AS hs_element\n{rest}{order}{limit_of_top(top, rewriter)}"
        text, rest = "string_agg(hs_element, '')", f"\nFROM ({rows}) AS hs_rows"
    if root is not None:
        tag = _tag(root[1] or "root")
        text = f"'<{tag}{_NAMESPACE if shape.shows_null else ''}>' || {text} || '</{tag}>'"
    if "TYPE" in re.findall(r"\w+", behind):
        text = f"CAST({text} AS xml)"
    return f"SELECT {text}{rest}"


_KNOWN: Final = frozenset(("TYPE", "ELEMENTS", "ROOT", "BINARY", "BASE", "XSINIL", "ABSENT"))
_NAMESPACE: Final = ' xmlns:xsi="http://www.w3.org/2001/XMLSchema-instance"'


def _joined(block: Select, order: str, rewriter: Rewriter) -> str:
    """FOR XML PATH('') of one column without a name joins its texts."""
    if len(block.items) != 1 or block.items[0].alias:
        raise CannotDraft("FOR XML PATH('') of more than one text")
    value = block.items[0].value
    distinct = "DISTINCT " if rewriter.words[block.first + 1] == "DISTINCT" else ""
    text = as_text(value, rewriter)
    if distinct and order:
        order = f" ORDER BY {text}"
    return f"string_agg({distinct}{text}, ''{order})"


class _Shape(NamedTuple):
    is_path: bool
    as_elements: bool
    shows_null: bool
    """Whether an element stands for NULL too (XSINIL)."""
    is_outermost: bool
    """Whether each row is an element of its own, without a root."""


def _element(block: Select, shape: _Shape, name: str, rewriter: Rewriter) -> str:
    """Write one row: attributes for RAW, elements for PATH and ELEMENTS; a column named @x is an attribute of PATH.

    What is NULL is left out, unless XSINIL asks for it: concat passes over it.
    """
    is_path = shape.is_path
    attributes, elements = [], []
    for title, value in _items(block, rewriter):
        if title.startswith("@") and is_path:
            attributes.append(f"' {_tag(title[1:])}=\"' || {value} || '\"'")
        elif "/" in title or not title:
            raise CannotDraft("FOR XML with a column that makes a path or has no name")
        elif is_path or shape.as_elements:
            text = f"'<{_tag(title)}>' || {value} || '</{_tag(title)}>'"
            elements.append(f"coalesce({text}, '<{title} xsi:nil=\"true\"/>')" if shape.shows_null else text)
        else:
            attributes.append(f"' {_tag(title)}=\"' || {value} || '\"'")
    if not name:
        if attributes:
            raise CannotDraft("FOR XML PATH('') with attributes")
        return f"concat({', '.join(elements)})"
    tag = _tag(name)
    if not elements:
        return f"concat({', '.join([literal('<' + tag), *attributes, literal('/>')])})"
    opening = f"<{tag}{_NAMESPACE if shape.shows_null and shape.is_outermost else ''}"
    head = [literal(opening), *attributes, literal(">")] if attributes else [literal(f"{opening}>")]
    return f"concat({', '.join([*head, *elements, literal(f'</{tag}>')])})"


def _items(block: Select, rewriter: Rewriter) -> list[tuple[str, str]]:
    """Return title and value of each column; * stands for the columns of the one table."""
    found = []
    for item in block.items:
        value = item.value
        if isinstance(value, Star):
            found += _all_columns(block, rewriter)
            continue
        found.append((title_of(item, rewriter), _value(value, rewriter)))
    return found


def _all_columns(block: Select, rewriter: Rewriter) -> list[tuple[str, str]]:
    return [(title, written(text, kind)) for title, text, kind in columns_of_table(block, rewriter)]


def columns_of_table(block: Select, rewriter: Rewriter) -> list[tuple[str, str, Family]]:
    """Return title, value and kind of each column of a query's only table. Raises CannotDraft for other sources."""
    source = block.sources[0] if len(block.sources) == 1 else None
    if not isinstance(source, TableRef):
        raise CannotDraft("all columns of several tables, each by its name")
    owner = rewriter.catalog.objects.get(rewriter.owner)
    parts = source.parts
    if parts[-1] in ("INSERTED", "DELETED") and owner is not None and owner.table:
        table = rewriter.catalog.objects.get(owner.table)
    else:
        table = rewriter.table(parts)
    if table is None:
        raise CannotDraft("the columns of a table that is not known, each by its name")
    alias = rewriter.names.write(source.alias or source.parts[-1])
    titles = spelled(table.text)
    return [
        (
            titles.get(column.name, column.name.lower()),
            f"{alias}.{rewriter.names.write(column.name)}",
            rewriter.types.family_of(column.type),
        )
        for column in table.columns
    ]


def spelled(text: str) -> dict[str, str]:
    """Return the words of a table's text as they are spelled, by their upper-case form: XML and JSON tell case apart."""
    return {word.upper(): word for word in reversed(re.findall(r"\w+", text))}


def title_of(item: SelectItem, rewriter: Rewriter) -> str:
    """Return the name of a column as it is spelled, '' if it has none."""
    if item.alias:
        for at in (item.last - 1, item.first):
            word = rewriter.tokens.source(at, at + 1)
            plain = word[1:-1] if word[:1] in "'[\"" else word
            if plain.upper() == item.alias.upper():
                return plain
        return item.alias.lower()
    if isinstance(item.value, Name):
        word = rewriter.tokens.source(item.value.last - 1, item.value.last)
        return word[1:-1] if word[:1] in '["' else word
    return ""


def _value(node: Node, rewriter: Rewriter) -> str:
    """Write a value as the text that stands in XML."""
    return written(rewriter.node(node), rewriter.types.family(node))


def written(text: str, kind: Family) -> str:
    """Write a value of a kind as XML does: 1 and 0 for bits, moments by ISO 8601, signs of markup masked."""
    if kind in NUMBERS or kind is Family.DATE:
        return f"CAST({text} AS text)"
    if kind is Family.BOOLEAN:
        return f"CAST(CAST({text} AS integer) AS text)"
    if kind in (Family.TIMESTAMP, Family.TIME):
        return f"(to_jsonb({text}) #>> '{{}}')"
    if kind is Family.UUID:
        return f"upper(CAST({text} AS text))"
    masked = text if kind is Family.TEXT else f"CAST({text} AS text)"
    for sign, name in (("&", "amp"), ("<", "lt"), (">", "gt"), ('"', "quot")):
        masked = f"replace({masked}, '{sign}', '&{name};')"
    return masked


def _tag(name: str) -> str:
    if not re.fullmatch(r"[A-Za-z_][\w.-]*", name):
        raise CannotDraft(f"FOR XML with the name {literal(name)}")
    return name
