"""ROWNUM among the columns of a query, for targets where the order of a query in FROM holds for nobody.

Source: Oracle Database 19c, "SQL Language Reference", "ROWNUM Pseudocolumn".
"""

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import DerivedTable, Name, OrderItem, Query, Select, Star, TableRef

from . import fixer


@fixer("rownum_by_order")
def fix_rownum_by_order(place: Found, rewriter: Rewriter) -> str:
    """Number the rows in the order of the query that they come from, or in any order where that has none."""
    block = rewriter.subject.read.innermost(Select, place.node)
    source = block.sources[0] if block is not None and len(block.sources) == 1 else None
    inner = source.query if isinstance(source, DerivedTable) else None
    keys = [_key(item, inner, rewriter) for item in inner.order] if inner is not None else []
    any_order = "ORDER BY (SELECT NULL)" if rewriter.target.engine == "sqlserver" else ""
    order = f"ORDER BY {', '.join(keys)}" if keys else any_order
    return f"ROW_NUMBER() OVER ({order})"


def _key(item: OrderItem, inner: Query, rewriter: Rewriter) -> str:
    """Write a key of the inner order as a column of its result. Raises CannotDraft for one that is not shown."""
    shown = _shown(inner, rewriter)
    if not isinstance(item.value, Name) or item.value.parts[-1] not in shown:
        raise CannotDraft("ROWNUM in an order by something that the query does not show")
    text = rewriter.names.write(item.value.parts[-1])
    direction = " DESC" if item.descending else ""
    if rewriter.types.is_never_null(item.value):
        return f"{text}{direction}"
    is_first = item.nulls.upper() == "FIRST" if item.nulls else item.descending
    nulls = f"CASE WHEN {text} IS NULL THEN {int(not is_first)} ELSE {int(is_first)} END"
    return f"{nulls}, {text}{direction}"


def _shown(inner: Query, rewriter: Rewriter) -> set[str]:
    """Return the names of the columns that a query shows as they are."""
    block = inner.blocks[0] if len(inner.blocks) == 1 else None
    if not isinstance(block, Select):
        return set()
    found = {item.title for item in block.items if item.title}
    source = block.sources[0] if len(block.sources) == 1 else None
    if any(isinstance(item.value, Star) for item in block.items) and isinstance(source, TableRef):
        table = rewriter.table(source.parts)
        found |= {column.name for column in table.columns} if table is not None else set()
    return found
