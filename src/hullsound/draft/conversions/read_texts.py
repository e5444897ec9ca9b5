"""Texts that functions of the source read as numbers or moments: no draft is sure of how each of them is read."""

from hullsound.analyze.signatures import signature_of
from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Rewriter
from hullsound.sql.tree import Call, Node, Operation

_CONSTRUCT = "convert.unlike-types"


def add_read_texts(rewriter: Rewriter) -> None:
    """Note each text, no constant, that stands where the source's function expects another type, or counts an interval."""
    for call in rewriter.subject.all(Call):
        signature = signature_of(call, rewriter.catalog.engine)
        for argument, families in zip(call.arguments, signature.expects if signature else (), strict=False):
            if families and "text" not in families.split("|"):
                _note(argument, rewriter)
    for operation in rewriter.subject.all(Operation):
        if operation.operators == ["INTERVAL"]:
            _note(operation.operands[0], rewriter)


def _note(value: Node, rewriter: Rewriter) -> None:
    if rewriter.types.family(value) is Family.TEXT and not rewriter.types.is_constant_value(value):
        rewriter.rendered.append((_CONSTRUCT, value.first))
