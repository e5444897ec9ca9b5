"""GOTO of PL/SQL, whose labels stand among the statements of any list."""

from collections.abc import Iterator

from hullsound.analyze.branches import branches_of
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.plpgsql.jumps import Jumps
from hullsound.sql.tree import Block, CaseStatement, If, Label, Loop, Node


def add_gotos(rewriter: Rewriter) -> None:
    """Add the points of every GOTO and of the labels that they lead to. Raises CannotDraft for one into a block."""
    words = rewriter.words
    jumps = Jumps(rewriter, lambda node: node.last + 1 if words[node.last] == ";" else node.last)
    wanted = {goto.label for goto in jumps.gotos}
    for statements in _lists(rewriter) if wanted else ():
        labels = [each for each in statements if isinstance(each, Label) and each.name in wanted]
        if not labels:
            continue
        jumps.add(statements)
        for label in labels:
            text = jumps.label_texts[label]
            if text:
                rewriter.replace(label.first, label.last, text if text.endswith("LOOP") else f"{text};")
    for goto in jumps.gotos:
        text = jumps.texts.get(goto, "")
        if text:
            rewriter.replace(goto.first, goto.last, text)
        else:
            rewriter.add(Point(goto.first, goto.last, _refuse))


def _lists(rewriter: Rewriter) -> Iterator[list[Node]]:
    """Yield every list of statements of a unit."""
    subject = rewriter.subject
    for block in subject.all(Block):
        yield block.body
        yield from (handler.body for handler in block.handlers)
    nested: list[If | Loop | CaseStatement] = [*subject.all(If), *subject.all(Loop), *subject.all(CaseStatement)]
    for node in nested:
        yield from branches_of(node)


def _refuse(rewriter: Rewriter) -> str:
    raise CannotDraft("GOTO to a label that is not there")
