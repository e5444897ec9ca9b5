"""GOTO: a jump ahead leaves a block that ends at the label, a jump back repeats a loop that begins there."""

from collections.abc import Callable
from functools import partial

from hullsound.analyze.branches import branches_of
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.statements.goto_spans import Span, nest, places_of
from hullsound.sql.tree import Jump, Label, Loop, Node


class Jumps:
    """Finds out what each GOTO of a body becomes."""

    def __init__(self, rewriter: Rewriter, end_of: Callable[[Node], int]) -> None:
        """`end_of` gives the place behind a statement, its semicolon included."""
        self.rewriter = rewriter
        self._end_of = end_of
        self.gotos = [jump for jump in rewriter.subject.all(Jump) if jump.form == "goto"]
        self.texts: dict[Node, str] = {}
        self.label_texts: dict[Node, str] = {}
        self._blocks: list[tuple[Node, Node]] = []
        """First and last statements of blocks that no span may cross."""

    def keep_out(self, statements: list[Node], first: int, last: int) -> None:
        """Let no span begin inside of a block of the statements [first, last] and end behind it."""
        self._blocks.append((statements[first], statements[last]))

    def add(self, statements: list[Node]) -> None:
        """Add the points around the statements of one list that its labels ask for."""
        spans: list[Span] = []
        for place, each in enumerate(statements):
            if isinstance(each, Label):
                spans += self._spans(place, each, statements)
        for first, last in self._blocks:
            if first in statements:
                begin, end = statements.index(first), statements.index(last)
                spans.append(Span(begin, end, "", is_loop=True))
        nest(spans)
        spans = [span for span in spans if span.label]
        for span in sorted(spans, key=lambda span: (span.first, -span.last)):
            label = self.rewriter.names.write(span.label)
            if span.is_loop:
                self._check_loop(statements[span.first].first, statements[span.last].last)
                end = self._end_of(statements[span.last])
                text = f" EXIT {label}; END LOOP;"
                point = Point(end, end, partial(_put, text), behind=statements[span.last].first - 1)
                self.rewriter.add(point)
            else:
                self.rewriter.insert(statements[span.first].first, f"<<{label}>> BEGIN ")

    def _check_loop(self, first: int, last: int) -> None:
        """Check that nothing inside of a loop of ours leaves or repeats the loop around it by no name."""
        loops = [loop for loop in self.rewriter.subject.all(Loop) if first <= loop.first and loop.last <= last]
        for jump in self.rewriter.subject.all(Jump):
            inside = first <= jump.first < last and jump.form != "goto" and not jump.label
            if inside and not any(loop.first <= jump.first < loop.last for loop in loops):
                raise CannotDraft("GOTO back over a statement that leaves a loop")

    def _spans(self, place: int, label: Label, statements: list[Node]) -> list[Span]:
        ahead, back = places_of(label, place, statements, self.gotos)
        spans, texts = [], []
        if ahead:
            name = f"{label.name}_AHEAD"
            spans.append(Span(min(at for at, _ in ahead), place, name, is_loop=False))
            self.texts |= {goto: f"EXIT {self.rewriter.names.write(name)}" for _, goto in ahead}
            texts.append(f"END {self.rewriter.names.write(name)}")
        if back:
            name = f"{label.name}_AGAIN"
            spans.append(Span(place, max(at for at, _ in back), name, is_loop=True))
            self.texts |= {goto: f"CONTINUE {self.rewriter.names.write(name)}" for _, goto in back}
            texts.append(f"<<{self.rewriter.names.write(name)}>> LOOP")
        self.label_texts[label] = "; ".join(texts)
        return spans


def _put(text: str, rewriter: object) -> str:
    return text


def all_labels(statements: list[Node]) -> list[Label]:
    """Return the labels of a body, those in inner lists among them."""
    found = [each for each in statements if isinstance(each, Label)]
    for each in statements:
        for branch in branches_of(each):
            found += all_labels(branch)
    return found
