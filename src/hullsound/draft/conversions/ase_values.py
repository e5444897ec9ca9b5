"""Values of ASE that other engines give otherwise: empty texts, NULL among joined texts.

Sources: ASE 16 Reference Manual, "Building Blocks", Expressions: an empty text is a single blank, wherever it stands; NULL among
joined texts counts as nothing, and the whole is NULL where all of them are.
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.load import load_engine
from hullsound.sql.lexer import STRING
from hullsound.sql.tree import Call, Name, Node, Operation, Paren

_EMPTY: Final = ("''", '""')
_NULL_IS_EMPTY: Final = ("oracle",)
"""Targets that join texts as ASE does."""
_RANK: Final = 9


def add_ase_values(rewriter: Rewriter) -> None:
    """Write empty texts as a blank, and let NULL count as nothing where texts are joined."""
    tokens = rewriter.tokens
    for at in range(rewriter.subject.read.first, rewriter.subject.read.last):
        if tokens.kinds[at] == STRING and tokens.source(at, at + 1) in _EMPTY:
            rewriter.replace(at, at + 1, "' '")
    if rewriter.target.engine in _NULL_IS_EMPTY:
        return
    for node in rewriter.subject.all(Operation):
        if set(node.operators) == {"+"} and any(rewriter.types.family(each) is Family.TEXT for each in node.operands):
            _add_joined(node, rewriter)


def _add_joined(node: Operation, rewriter: Rewriter) -> None:
    unsure = [each for each in node.operands if not _is_never_null(each, rewriter)]
    if len(unsure) == len(node.operands):
        rewriter.wrap(node, partial(_unless_all_null, node), rank=_RANK)
        return
    for operand in unsure:
        rewriter.wrap(operand, partial(_or_nothing, operand), rank=_RANK)


def _is_never_null(node: Node, rewriter: Rewriter) -> bool:
    while isinstance(node, Paren):
        node = node.inner
    if isinstance(node, Operation) and set(node.operators) == {"+"}:
        return any(_is_never_null(each, rewriter) for each in node.operands)
    if isinstance(node, Call) and node.parts[-1] in load_engine("ase").null_on_null_names:
        return all(_is_never_null(each, rewriter) for each in node.arguments)
    return rewriter.types.is_never_null(node)


def _or_nothing(operand: Node, rewriter: Rewriter) -> str:
    return f"COALESCE({rewriter.node(operand)}, '')"


def _unless_all_null(node: Operation, rewriter: Rewriter) -> str:
    """Say that the whole is NULL where all texts are. Raises CannotDraft where that would write long values twice."""
    if not all(isinstance(each, Name) for each in node.operands):
        raise CannotDraft("joined texts that may all be NULL")
    parts = [rewriter.node(each) for each in node.operands]
    tests = " AND ".join(f"{part} IS NULL" for part in parts)
    joined = {"mysql": "CONCAT_WS('', ", "mariadb": "CONCAT_WS('', "}.get(rewriter.target.engine, "CONCAT(")
    return f"(CASE WHEN {tests} THEN NULL ELSE {joined}{', '.join(parts)}) END)"
