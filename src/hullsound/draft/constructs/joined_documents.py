"""FOR XML PATH('') of SQL Server, which joins the texts of rows, for MySQL, MariaDB and Oracle.

Source: Transact-SQL reference, "FOR XML": elements without a name stand behind one another; &, < and > become entities, unless
TYPE is said.
TYPE.
"""

import re
from functools import partial
from typing import Final

from hullsound.draft.conversions.casts import check_texts, text_operand
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.mysql import joined, quoted
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Clause, Member, Node, Operation, Paren, Query, Select, Subquery

from . import fixer

_MYSQL: Final = ("mysql", "mariadb")
_PATH: Final = re.compile(r"FOR XML PATH\s*\(\s*N?''\s*\)(\s*,\s*TYPE)?", re.IGNORECASE)


def add_joined_documents(rewriter: Rewriter) -> None:
    """Write the queries whose rows are joined, with STUFF around them that takes the first separator off."""
    if rewriter.catalog.engine != "sqlserver" or rewriter.target.engine not in ("oracle", *_MYSQL):
        return
    for call in rewriter.subject.all(Call):
        inner = (
            _query_of(call.arguments[0], rewriter) if call.parts == ("STUFF",) and len(call.arguments) == 4 else None
        )
        if inner is not None:
            rewriter.wrap(call, partial(_without_first, call, inner), rank=9)
    for node in (*rewriter.subject.all(Member), *rewriter.subject.all(Subquery)):
        inner = _query_of(node, rewriter)
        if inner is not None:
            rewriter.wrap(node, partial(_whole, inner), rank=9)


def _query_of(node: Node, rewriter: Rewriter) -> Query | None:
    """Return the query behind a subquery, or behind .value() of one, whose rows are joined; None for another value."""
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Member):
        if node.parts != ("VALUE",):
            return None
        node = node.owner
    query = node.query if isinstance(node, Subquery) else None
    if not isinstance(query, Query):
        return None
    clause = next((c for c in rewriter.subject.all(Clause) if c.name == "for-xml" and c.last == query.last), None)
    source = rewriter.tokens.source(clause.first, clause.last) if clause is not None else ""
    return query if _PATH.fullmatch(" ".join(source.split())) else None


def _without_first(call: Call, query: Query, rewriter: Rewriter) -> str:
    """STUFF(query, 1, length of the separator, '')."""
    start, length, new = (rewriter.subject.source(each) for each in call.arguments[1:])
    value = _block(query, rewriter).items[0].value
    parts = value.operands if isinstance(value, Operation) and set(value.operators) == {"+"} else []
    separator = text_value(parts[0], rewriter) if parts else None
    if not separator or (start, length, new.lstrip("Nn")) != ("1", str(len(separator)), "''"):
        raise CannotDraft("rows joined with something else than a separator in front of each")
    return _written(query, parts[1:], separator, rewriter)


def _whole(query: Query, rewriter: Rewriter) -> str:
    return _written(query, [_block(query, rewriter).items[0].value], "", rewriter)


def _block(query: Query, rewriter: Rewriter) -> Select:
    block = query.blocks[0] if len(query.blocks) == 1 else None
    if not isinstance(block, Select) or len(block.items) != 1 or block.items[0].alias or block.from_at < 0:
        raise CannotDraft("rows joined of several columns, or of a column with a name")
    is_cut = any(clause.name == "top" and clause.first == block.first + 1 for clause in rewriter.subject.all(Clause))
    if block.group or block.having is not None or query.common or is_cut:
        raise CannotDraft("rows joined that are grouped or limited")
    return block


def _written(query: Query, values: list[Node], separator: str, rewriter: Rewriter) -> str:
    block = _block(query, rewriter)
    distinct = "DISTINCT " if rewriter.words[block.first + 1] == "DISTINCT" else ""
    order = f"ORDER BY {rewriter.nodes(query.order)}" if query.order else ""
    rows = rewriter.text(block.from_at, block.last).strip()
    if rewriter.target.engine == "oracle":
        check_texts(values, rewriter)
        text = " || ".join(text_operand(each, rewriter) for each in values)
        behind = f" WITHIN GROUP ({order})" if order else ""
        return f"(SELECT LISTAGG({distinct}{text}, {rewriter.names.text(separator)}){behind} {rows})"
    text = joined([rewriter.node(each) for each in values])
    return f"(SELECT GROUP_CONCAT({distinct}{text}{' ' if order else ''}{order} SEPARATOR {quoted(separator)}) {rows})"


@fixer("joined_document")
def fix_joined_document(place: Found, rewriter: Rewriter) -> str:
    """FOR XML of a query that is no text of joined rows."""
    raise CannotDraft("rows as XML")
