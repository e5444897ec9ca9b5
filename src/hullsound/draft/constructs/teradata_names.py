"""Names of a select list that Teradata lets other expressions use, and QUALIFY."""

from functools import partial
from typing import Final

from hullsound.catalog.model import ObjectType
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sight.detector import Found
from hullsound.sight.detectors.shared import titles_of
from hullsound.sql.tree import (
    Clause,
    Name,
    Query,
    Select,
    SelectItem,
    Star,
)

from . import fixer

_KEPT: Final = "hs_kept"
_WITHOUT_TRUTH: Final = ("sqlserver", "oracle")
"""Targets whose columns hold no truth values."""


@fixer("alias_written_out")
def fix_alias_written_out(place: Found, rewriter: Rewriter) -> str:
    """Write what a name of the select list stands for; a column of that name goes before it."""
    name = place.node
    assert isinstance(name, Name)
    around = [s for s in rewriter.subject.all(Select) if s.first <= name.first and name.last <= s.last]
    block = max(around, key=lambda select: select.first)
    if any(column.name == name.parts[0] for table in rewriter.columns.tables() for column in table.columns):
        return rewriter.names.write(name.parts[0])
    item = titles_of(block, rewriter.subject).get(name.parts[0])
    if item is None or any(i is not item and i.alias == name.parts[0] for i in block.items):
        raise CannotDraft("a name of the select list that is not the only one")
    return _written_out(item, rewriter)


def _written_out(item: SelectItem, rewriter: Rewriter) -> str:
    """Render the value of an item, without the phrase that gives it a title."""
    words, value = rewriter.words, item.value
    end = next((i for i in range(value.first, value.last) if words[i : i + 2] == ["(", "NAMED"]), value.last)
    return f"({rewriter.text_elsewhere(value.first, end).rstrip()})"


@fixer("qualified_rows")
def fix_qualified_rows(place: Found, rewriter: Rewriter) -> str:
    """Close the query inside, in which a column says whether a row is kept."""
    engine = rewriter.target.engine
    kept = f"{_KEPT} = 1" if engine in _WITHOUT_TRUTH else _KEPT
    return f"){'' if engine == 'oracle' else ' AS'} hs_rows\nWHERE {kept}"


def add_qualify(rewriter: Rewriter) -> None:
    for clause in rewriter.subject.all(Clause):
        if clause.name != "qualify":
            continue
        around = [s for s in rewriter.subject.all(Select) if s.first <= clause.first and clause.last <= s.last]
        block = max(around, key=lambda select: select.first)
        rewriter.insert(block.items[0].first, f"{_names_of(block, clause, rewriter)}\nFROM (SELECT ")
        _add_names_behind(block, clause, rewriter)
        last = block.items[-1]
        rewriter.add(Point(last.last, last.last, partial(_kept, clause), behind=last.first))


def _add_names_behind(block: Select, clause: Clause, rewriter: Rewriter) -> None:
    """Write names of the select list in the condition out as the values that they stand for."""
    aliases = titles_of(block, rewriter.subject)
    inside = [n for n in rewriter.subject.all(Name) if clause.first < n.first and n.last <= clause.last]
    columns = {column.name for table in rewriter.columns.tables() for column in table.columns}
    for name in inside:
        item = aliases.get(name.parts[0]) if len(name.parts) == 1 and name.parts[0] not in columns else None
        if item is not None:
            rewriter.add(Point(name.first, name.last, partial(_written_out, item), rank=5))


def _kept(clause: Clause, rewriter: Rewriter) -> str:
    """Write the condition as a column."""
    condition = rewriter.text(clause.first + 1, clause.last)
    if rewriter.target.engine in _WITHOUT_TRUTH:
        return f", CASE WHEN {condition} THEN 1 ELSE 0 END AS {_KEPT}"
    return f", ({condition}) AS {_KEPT}"


def _names_of(block: Select, clause: Clause, rewriter: Rewriter) -> str:
    """Return the names of a block's columns. Raises CannotDraft where the rows cannot be taken from a query inside."""
    words = rewriter.words
    if words[block.first + 1] in ("DISTINCT", "TOP") or block.into:
        raise CannotDraft("QUALIFY with DISTINCT, TOP or INTO")
    names: list[str] = []
    titled = {item: title for title, item in titles_of(block, rewriter.subject).items()}
    for item in block.items:
        if isinstance(item.value, Star):
            names += _columns_of(item.value, rewriter)
        elif item in titled:
            names.append(titled[item])
        elif isinstance(item.value, Name):
            names.append(item.value.parts[-1])
        else:
            raise CannotDraft("QUALIFY over a column without a name")
    queries = [q for q in rewriter.subject.all(Query) if block in q.blocks]
    for order in (order for query in queries for order in query.order):
        is_named = isinstance(order.value, Name) and len(order.value.parts) == 1 and order.value.parts[0] in names
        if not is_named and not rewriter.subject.source(order.value).isdigit():
            raise CannotDraft("QUALIFY with an order by what is not in the select list")
    if len(set(names)) < len(names):
        raise CannotDraft("QUALIFY over columns of one name")
    return ", ".join(map(rewriter.names.write, names))


def _columns_of(star: Star, rewriter: Rewriter) -> list[str]:
    words = rewriter.words[star.first : star.last]
    tables = rewriter.columns.tables(words[-3] if len(words) > 2 else "")
    if len(tables) != 1 or tables[0].type is not ObjectType.TABLE:
        raise CannotDraft("QUALIFY over all columns of what is no single table")
    return [column.name for column in tables[0].columns]
