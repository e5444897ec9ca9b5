"""FOR JSON of SQL Server: rows as objects by json_build_object, all of them as one text."""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.sql.tree import Clause, Query, Select, Star

from .xml import columns_of_table, title_of

_ROOT: Final = re.compile(r"\bROOT\b(?:\s*\(\s*N?'([^']*)'\s*\))?", re.IGNORECASE)


def prepare_json(rewriter: Rewriter, construct: str) -> None:
    """Add a point for each query that gives its rows as JSON."""
    clauses = {clause.last: clause for clause in rewriter.subject.all(Clause) if clause.name == "for-json"}
    for query in rewriter.subject.all(Query):
        clause = clauses.get(query.last)
        if clause is not None:
            rewriter.add(Point(query.first, query.last, partial(_query, query, clause), construct, rank=1))


def _query(query: Query, clause: Clause, rewriter: Rewriter) -> str:
    """Write the query so that it gives one row with the JSON of all rows."""
    block = query.blocks[0] if len(query.blocks) == 1 else None
    if not isinstance(block, Select) or query.common or rewriter.words[block.first + 1] == "DISTINCT":
        raise CannotDraft("FOR JSON of distinct or united rows")
    source = rewriter.tokens.source(clause.first, clause.last)
    words = set(re.findall(r"\w+", re.sub(r"'[^']*'", "", source).upper()))
    if "AUTO" in words and len(block.sources) != 1:
        raise CannotDraft("FOR JSON AUTO of several tables, whose objects nest")
    pairs = ", ".join(f"{literal(title)}, {value}" for title, value in _pairs(block, rewriter))
    row = f"json_build_object({pairs})"
    if "INCLUDE_NULL_VALUES" not in words:
        row = f"json_strip_nulls({row})"
    tail = rewriter.text(block.from_at, block.last) if block.from_at >= 0 else ""
    order = f" ORDER BY {rewriter.nodes(query.order)}" if query.order else ""
    top = next((c for c in rewriter.subject.all(Clause) if c.name == "top" and c.first == block.first + 1), None)
    limit = f" LIMIT {rewriter.text_elsewhere(top.first + 1, top.last)}" if top is not None else ""
    rows = f"SELECT {row} AS hs_row\n{tail}{order}{limit}"
    text = "string_agg(CAST(hs_row AS text), ',')" if "WITHOUT_ARRAY_WRAPPER" in words else "json_agg(hs_row)"
    root = _ROOT.search(source)
    if root is not None:
        # Without rows there is no text at all, and no root around it.
        text = f"CASE WHEN COUNT(*) > 0 THEN json_build_object({literal(root[1] or 'root')}, {text}) END"
    return f"SELECT CAST({text} AS text)\nFROM ({rows}) AS hs_rows"


def _pairs(block: Select, rewriter: Rewriter) -> list[tuple[str, str]]:
    found = []
    for item in block.items:
        if isinstance(item.value, Star):
            found += [(title, _written(value, kind)) for title, value, kind in columns_of_table(block, rewriter)]
            continue
        title = title_of(item, rewriter)
        if not title or "." in title:
            raise CannotDraft("FOR JSON with a column that nests or has no name")
        found.append((title, _written(rewriter.node(item.value), rewriter.types.family(item.value))))
    return found


def _written(text: str, kind: Family) -> str:
    """Write bytes as SQL Server has them in JSON."""
    return f"encode({text}, 'base64')" if kind is Family.BYTES else text
