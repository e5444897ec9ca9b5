"""FETCH that finds no row any more: variables keep their values in the source, and become NULL in PL/pgSQL.

Source: PostgreSQL manual, "Cursors" (FETCH: "If there is no suitable row, the target is set to NULL(s)").
"""

from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Assign, Fetch, Loop, Name, Node, Parameter, Routine, Select

KEPT: Final = "hs_before"
"""Record of the values that variables had before a FETCH."""


def kept_targets(fetch: Fetch, rewriter: Rewriter) -> list[Name]:
    """Return the variables whose values before a FETCH are read behind the loop that it stands in, or given to the caller."""
    if fetch.bulk:
        return []
    targets = [each for each in fetch.into if isinstance(each, Name) and len(each.parts) == 1]
    given = {p.name for p in rewriter.subject.all(Parameter) if p.mode.lower() != "in"}
    read = _read_behind(fetch, rewriter) if targets else set()
    return [each for each in targets if each.parts[0] in given or each.parts[0] in read]


def keeping(fetch: str, targets: list[str]) -> str:
    """Write a FETCH, as drafted, that leaves these variables as they are where there is no row."""
    back = " ".join(f"{name} := {KEPT}.f{place};" for place, name in enumerate(targets, start=1))
    return f"{KEPT} := ROW({', '.join(targets)}); {fetch}; IF NOT FOUND THEN {back} END IF"


def _read_behind(fetch: Fetch, rewriter: Rewriter) -> set[str]:
    subject = rewriter.subject
    routines = [r for r in subject.all(Routine) if r.first <= fetch.first < r.last]
    last = min((r.last for r in routines), default=subject.read.last)
    start = _end_of_loop(fetch, rewriter)
    written: set[Node] = {assign.target for assign in subject.all(Assign)}
    written |= {name for each in subject.all(Fetch) for name in each.into}
    written |= {name for each in subject.all(Select) for name in each.into}
    return {n.parts[0] for n in subject.all(Name) if start <= n.first < last and n not in written}


def _end_of_loop(fetch: Fetch, rewriter: Rewriter) -> int:
    """Return where the loop over a cursor ends: around the FETCH, or behind the first one that stands before it."""
    loops = rewriter.subject.all(Loop)
    around = [loop.last for loop in loops if loop.first <= fetch.first < loop.last]
    if around:
        return min(around)
    opened = {f.cursor.parts for f in rewriter.subject.all(Fetch) if isinstance(f.cursor, Name) and f is not fetch}
    own = fetch.cursor.parts if isinstance(fetch.cursor, Name) else ()
    behind = [loop.last for loop in loops if loop.first > fetch.first] if own in opened else []
    return min(behind, default=fetch.last)
