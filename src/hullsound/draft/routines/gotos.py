"""GOTO of T-SQL: as it is on Oracle; elsewhere a jump ahead leaves a block that ends at the label, one back repeats a loop.

Sources: Oracle Database 19c, "PL/SQL Language Reference", "GOTO Statement"; MySQL 8.4 Reference Manual, "LEAVE Statement" and
"DECLARE ... HANDLER Statement" (no label around a handler is known in it).
"""

from collections.abc import Sequence

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.goto_spans import Span, nest, places_of
from hullsound.sql.tree import Jump, Label, Node, TryCatch

from .speech import Lines, Speech


class Gotos:
    """The jumps of one routine to labels before statements."""

    def __init__(self, rewriter: Rewriter, speech: Speech) -> None:
        self.rewriter, self.speech = rewriter, speech
        self.jumps = [jump for jump in rewriter.subject.all(Jump) if jump.form == "goto"]
        self.labels = {label.name: label for label in rewriter.subject.all(Label)}

    def jump(self, node: Jump) -> Lines:
        """Write one jump. Raises CannotDraft for a label that stands nowhere, and for a jump out of a handler of MySQL."""
        label = self.labels.get(node.label)
        if label is None:
            raise CannotDraft("GOTO to a label that stands nowhere")
        if self.speech.has_goto:
            return [f"GOTO {self._name(label)};"]
        handlers = [each.handler for each in self.rewriter.subject.all(TryCatch) if each.handler]
        if any(each[0].first <= node.first < each[-1].last for each in handlers):
            raise CannotDraft("GOTO out of a handler")
        return (
            self.speech.leave(self._ahead(label)) if node.first < label.first else self.speech.go_on(self._again(label))
        )

    def joined(self, statements: Sequence[Node], pieces: Sequence[Lines]) -> Lines:
        """Join the lines of each statement of a list, with what its labels ask for.

        Raises CannotDraft for a jump into the list from outside.
        """
        labels = [
            (place, each) for place, each in enumerate(statements) if isinstance(each, Label) and self._is_met(each)
        ]
        if not labels:
            return [line for piece in pieces for line in piece]
        spans: list[Span] = []
        for place, label in labels:
            ahead, back = places_of(label, place, statements, self.jumps)
            if ahead:
                spans.append(Span(min(at for at, _ in ahead), place, self._ahead(label), is_loop=False))
            if back:
                spans.append(Span(place, max(at for at, _ in back), self._again(label), is_loop=True))
        if self.speech.has_goto:
            named = {place: [f"<<{self._name(label)}>>"] for place, label in labels}
            lines = [line for place, piece in enumerate(pieces) for line in (*named.get(place, []), *piece)]
            return [*lines, *self.speech.nothing()] if not any(pieces[labels[-1][0] + 1 :]) else lines
        nest(spans)
        parts = [list(piece) for piece in pieces]
        for span in sorted(spans, key=lambda each: each.last - each.first):
            inside = [line for part in parts[span.first : span.last + 1] for line in part]
            held = self.speech.labelled(span.label, inside, is_loop=span.is_loop)
            parts[span.first : span.last + 1] = [held, *([] for _ in range(span.last - span.first))]
        return [line for part in parts for line in part]

    def _is_met(self, label: Label) -> bool:
        return any(jump.label == label.name for jump in self.jumps)

    def _name(self, label: Label) -> str:
        return self.rewriter.names.write(label.name)

    def _ahead(self, label: Label) -> str:
        return self.rewriter.names.write(f"{label.name}_AHEAD")

    def _again(self, label: Label) -> str:
        return self.rewriter.names.write(f"{label.name}_AGAIN")
