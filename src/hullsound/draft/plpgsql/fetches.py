"""FETCH that finds no row any more: variables keep their values in the source, and become NULL in PL/pgSQL.

Source: PostgreSQL manual, "Cursors" (FETCH: "If there is no suitable row, the target is set to NULL(s)").
"""

from typing import Final

from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import (
    Assign,
    Block,
    ConditionHandler,
    Fetch,
    If,
    Jump,
    Loop,
    Name,
    Node,
    Parameter,
    Return,
    Routine,
    Select,
)

KEPT: Final = "hs_before"
"""Record of the values that variables had before a FETCH."""


def kept_targets(fetch: Fetch, rewriter: Rewriter, leads_to: int = -1) -> list[Name]:
    """Return the variables whose values before a FETCH are read where it found no row, or given to the caller.

    `leads_to` is the token where code goes on then, if it does not behind the FETCH.
    """
    if fetch.bulk:
        return []
    targets = [each for each in fetch.into if isinstance(each, Name) and len(each.parts) == 1]
    given = {p.name for p in rewriter.subject.all(Parameter) if p.mode.lower() != "in"}
    read = _read_behind(fetch, rewriter, leads_to) if targets else set()
    return [each for each in targets if each.parts[0] in given or each.parts[0] in read]


def keeping(fetch: str, targets: list[str]) -> str:
    """Write a FETCH, as drafted, that leaves these variables as they are where there is no row."""
    back = " ".join(f"{name} := {KEPT}.f{place};" for place, name in enumerate(targets, start=1))
    return f"{KEPT} := ROW({', '.join(targets)}); {fetch}; IF NOT FOUND THEN {back} END IF"


def _read_behind(fetch: Fetch, rewriter: Rewriter, leads_to: int) -> set[str]:
    """Return the names that are read where a FETCH may have found no row: behind it, until its loop is left, and behind that."""
    subject = rewriter.subject
    routines = [r for r in subject.all(Routine) if r.first <= fetch.first < r.last]
    last = min((r.last for r in routines), default=subject.read.last)
    tested, left = (fetch.last, leads_to) if leads_to >= 0 else _tested_and_left(fetch, rewriter)
    written: set[Node] = {assign.target for assign in subject.all(Assign)}
    written |= {name for each in subject.all(Fetch) for name in each.into}
    written |= {name for each in subject.all(Select) for name in each.into}
    spans = [range(fetch.last, tested), range(left, last)]
    spans += [range(each.first, each.last) for each in subject.all(ConditionHandler)]
    return {n.parts[0] for n in subject.all(Name) if n not in written and any(n.first in span for span in spans)}


def _tested_and_left(fetch: Fetch, rewriter: Rewriter) -> tuple[int, int]:
    """Return where the test for a missing row ends behind a FETCH, and where code goes on which a missing row leads to."""
    loops = rewriter.subject.all(Loop)
    around = min(
        (loop for loop in loops if loop.first <= fetch.first < loop.last), key=lambda each: each.last, default=None
    )
    if around is not None:
        guard = _guard(fetch, rewriter)
        return (guard.last if guard is not None else around.last), around.last
    opened = {f.cursor.parts for f in rewriter.subject.all(Fetch) if isinstance(f.cursor, Name) and f is not fetch}
    own = fetch.cursor.parts if isinstance(fetch.cursor, Name) else ()
    behind = [loop for loop in loops if loop.first > fetch.first] if own in opened else []
    first = min(behind, key=lambda each: each.first, default=None)
    return (first.loop_at, first.last) if first is not None else (fetch.last, fetch.last)


def _guard(fetch: Fetch, rewriter: Rewriter) -> Node | None:
    """Return the statement right behind a FETCH which leaves the loop or the routine."""
    subject, behind = rewriter.subject, fetch.last + (rewriter.words[fetch.last] == ";")
    leaving = next((each for each in subject.all(Jump) if each.first == behind), None)
    if leaving is not None:
        return leaving
    test = next((each for each in subject.all(If) if each.first == behind), None)
    body = test.branches[0][1] if test is not None else []
    body = body[0].body if len(body) == 1 and isinstance(body[0], Block) else body
    return test if body and isinstance(body[-1], Jump | Return) else None
