"""All columns beside others: Oracle takes no * there without the name of a table.

Source: Oracle Database 19c, "SQL Language Reference", select_list.
"""

from collections.abc import Iterator

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import DerivedTable, Join, Node, Select, Star, TableRef


def add_whole_rows(rewriter: Rewriter) -> None:
    """Write * beside other columns as the rows of each table; joins that merge columns are left as they are."""
    for block in rewriter.subject.all(Select):
        for item in block.items if len(block.items) > 1 else ():
            if isinstance(item.value, Star) and not item.value.parts:
                names = [name for source in block.sources for name in _names(source, rewriter)]
                if names and all(names):
                    rewriter.put(item.value, ", ".join(f"{rewriter.names.write(name)}.*" for name in names))


def _names(source: Node, rewriter: Rewriter) -> Iterator[str]:
    """Yield the name of each table of a source, '' where there is none or columns are merged."""
    if isinstance(source, Join):
        if source.kind.startswith("NATURAL") or "USING" in rewriter.words[source.right.last : source.last]:
            yield ""
        yield from _names(source.left, rewriter)
        yield from _names(source.right, rewriter)
    elif isinstance(source, TableRef):
        yield source.alias or source.parts[-1]
    else:
        yield source.alias if isinstance(source, DerivedTable) else ""
