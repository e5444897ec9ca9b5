"""Titles of columns that a query leaves without one, where the target asks for them.

SQL Server asks for a title of every column of a view, derived table or common table (errors 4511 and 8155), Oracle of every
column of a view (ORA-00998). MySQL and SQLite take the text of the expression for one, PostgreSQL the name of the function, of
which a view may hold one alone: views keep the titles of the source.
"""

import re
from functools import partial
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import (
    Call,
    Case,
    Cast,
    CommonTable,
    CreateView,
    DerivedTable,
    Name,
    Node,
    Query,
    Select,
    SelectItem,
    Star,
    Subquery,
)

_PLAIN: Final = re.compile(r"\w+")
_ASKED: Final = frozenset(("oracle", "sqlserver"))
"""Targets that take no column of a view without a title."""
_EVERYWHERE: Final = frozenset(("sqlserver",))
_RANK: Final = 12


def add_titles(rewriter: Rewriter) -> None:
    """Give the columns without a title the one that the source gives them."""
    tree, words = rewriter.subject.tree, rewriter.words
    queries: list[Node] = []
    if isinstance(tree, CreateView) and not tree.columns:
        queries.append(tree.query)
    if rewriter.target.engine in _EVERYWHERE:
        derived = rewriter.subject.all(DerivedTable)
        queries += [each.query for each in derived if words[each.last - 1] != ")" or not each.alias]
        queries += [each.query for each in rewriter.subject.all(CommonTable) if not each.columns]
    for query in queries:
        block = query.blocks[0] if isinstance(query, Query) and query.blocks else None
        for item in block.items if isinstance(block, Select) else ():
            if not item.alias and not isinstance(item.value, Name | Star):
                rewriter.wrap(item, partial(_titled, item), rank=_RANK)


def _titled(item: SelectItem, rewriter: Rewriter) -> str:
    """Write a column with its title. Raises CannotDraft for a longer name than the target takes, if it asks for one."""
    title = _title(item.value, rewriter)
    if len(title.encode()) > rewriter.names.limit:
        if rewriter.target.engine in _ASKED:
            raise CannotDraft("a column without a title, whose text is longer than a name may be")
        return rewriter.node(item)
    is_plain = _PLAIN.fullmatch(title) is not None and title.upper() != "CASE"
    written = rewriter.names.write(title) if is_plain else rewriter.names.quote(title)
    return f"{rewriter.node(item)} AS {written}"


def _title(value: Node, rewriter: Rewriter) -> str:
    """Return what the source calls a column of this value: its text, or the function's name in PostgreSQL."""
    if rewriter.catalog.engine == "postgresql":
        return _name_of(value) or "?column?"
    name = " ".join(rewriter.subject.source(value).split())
    return name.upper() if rewriter.catalog.engine == "oracle" else name


def _name_of(value: Node) -> str:
    """Return what PostgreSQL calls a column of this value; '' for what it calls ?column? (its FigureColname)."""
    match value:
        case Name():
            return value.parts[-1]
        case Call():
            return value.parts[-1]
        case Cast():
            return _name_of(value.value) or value.type.name.upper()
        case Case():
            return (_name_of(value.otherwise) if value.otherwise is not None else "") or "CASE"
        case Subquery() if not value.form:
            block = value.query.blocks[0] if value.query.blocks else None
            items = block.items if isinstance(block, Select) else []
            return (items[0].alias or _name_of(items[0].value)) if items else ""
        case Subquery():
            return value.form.upper() if value.form.upper() in ("EXISTS", "ARRAY") else ""
    return ""
