"""What PL/SQL declares inside a routine and PostgreSQL needs beside it: record types, and routines of its own."""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.tree import (
    Call,
    CreatePackage,
    CursorDeclaration,
    Name,
    Node,
    Routine,
    TypeDeclaration,
    Variable,
)

from .types import record_definition


class Beside:
    """The declarations of a unit that are created before the routine that holds them."""

    def __init__(self, rewriter: Rewriter) -> None:
        self.rewriter = rewriter
        self.is_rendering: Routine | None = None
        """The routine inside another one that is being written beside it."""
        routines = [r for r in rewriter.subject.all(Routine) if r.block is not None]
        self.inner = {r: outer for r in routines if (outer := _around(r, routines)) is not None}

    def add(self, schema: str) -> None:
        """Add the points that take routines out of their places, and name them where they are called."""
        rewriter = self.rewriter
        for routine, outer in self.inner.items():
            rewriter.wrap(
                Node(routine.first, routine.last + 1),
                lambda r, routine=routine: self._in_place(routine, r),  # type: ignore[misc]
                rank=_AROUND,
            )
            name = self.name_of(routine, outer, schema)
            uses: list[Call | Name] = [*rewriter.subject.all(Call), *rewriter.subject.all(Name)]
            for call in uses:
                inside = outer.first <= call.first < outer.last
                if inside and call.parts == routine.name and call.first != routine.name_span[0]:
                    text = name if isinstance(call, Call) else f"{name}()"
                    rewriter.replace(call.first, call.first + 1, text)

    def name_of(self, routine: Routine, outer: Routine, schema: str) -> str:
        tree = self.rewriter.subject.tree
        owner = tree.name[-1] if isinstance(tree, CreatePackage) else schema
        return self.rewriter.names.qualified(owner, f"{outer.name[-1]}_{routine.name[-1]}")

    def _in_place(self, routine: Routine, rewriter: Rewriter) -> str:
        return rewriter.text(routine.first, routine.last + 1) if self.is_rendering is routine else ""

    def text_before(self, routine: Routine) -> str:
        """Return what is created before a routine. Raises CannotDraft for a routine that uses the variables around it."""
        pieces = []
        for declared in self.rewriter.subject.all(TypeDeclaration):
            holders = [r for r in [routine, *self.inner] if r.first <= declared.first < r.last]
            if declared.form == "record" and holders[-1:] == [routine]:
                pieces.append(record_definition(declared, self.rewriter))
        for inner, outer in self.inner.items():
            if outer is not routine:
                continue
            self._check(inner, outer)
            self.is_rendering = inner
            pieces.append(self.rewriter.text_elsewhere(inner.first, inner.last + 1).strip())
            self.is_rendering = None
        return "".join(f"{piece}\n\n" for piece in pieces)

    def _check(self, inner: Routine, outer: Routine) -> None:
        subject = self.rewriter.subject
        nodes: list[Variable | CursorDeclaration] = [*subject.all(Variable), *subject.all(CursorDeclaration)]
        own = {n.name for n in nodes if inner.first <= n.first < inner.last} | {p.name for p in inner.parameters}
        around = {
            n.name for n in nodes if outer.first <= n.first < outer.last and not inner.first <= n.first < inner.last
        }
        around |= {p.name for p in outer.parameters}
        uses: list[Name | Call] = [*subject.all(Name), *subject.all(Call)]
        for name in uses:
            if inner.first <= name.first < inner.last and name.parts[0] in around - own:
                raise CannotDraft("a routine inside another one that uses the variables of that one")


_AROUND: Final = 9


def _around(routine: Routine, routines: list[Routine]) -> Routine | None:
    outer = [r for r in routines if r is not routine and r.first < routine.first and routine.last <= r.last]
    return min(outer, key=lambda r: r.last - r.first, default=None)
