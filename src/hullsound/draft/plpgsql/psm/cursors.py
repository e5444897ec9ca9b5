"""Cursors of compound code: those that give their rows to the caller, and FETCH."""

from typing import TYPE_CHECKING

from hullsound.draft.plpgsql.fetches import KEPT, keeping, kept_targets
from hullsound.draft.plpgsql.results import result_name, returned_cursor
from hullsound.sql.tree import Fetch, Name, OpenCursor

from .prepared import open_prepared

if TYPE_CHECKING:
    from .statements import PsmCode


def open_returned(code: "PsmCode", node: OpenCursor) -> str:
    """Open a cursor WITH RETURN as a result of the procedure."""
    declared = returned_cursor(node, code.rewriter.subject.read)
    assert declared is not None
    result = result_name(code.results[node])
    if declared.query is None:
        return open_prepared(code, node, declared, result)
    return f"OPEN {result} FOR {code.rewriter.elsewhere(declared.query)}"


def fetch_row(code: "PsmCode", node: Fetch) -> str:
    """Write FETCH; variables whose values still count where there is no row keep them."""
    into = ", ".join(code.target(each) if isinstance(each, Name) else code.rewriter.node(each) for each in node.into)
    text = f"FETCH {code.rewriter.node(node.cursor)} INTO {into}"
    kept = [code.target(each) for each in kept_targets(node, code.rewriter, code.missing.leads_to(node))]
    return keeping(text, kept) if kept else text


def declare_kept(code: "PsmCode") -> None:
    """Declare the record of values before a FETCH where one is needed."""
    fetches = code.rewriter.subject.all(Fetch)
    if any(kept_targets(each, code.rewriter, code.missing.leads_to(each)) for each in fetches):
        code.hoisted.add(f"{KEPT} record;")
