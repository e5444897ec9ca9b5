"""Texts that the source reads as truth values beside them, such as b = 'true' and active = 't', as constants that the target reads.

Sources: Transact-SQL reference, "bit": the texts TRUE and FALSE become 1 and 0; PostgreSQL 18, "Boolean Type".
"""

from functools import partial
from itertools import chain
from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Literal

from .beside import bare, constants_beside, constants_cast, constants_chosen

_TSQL: Final = {"true": True, "false": False, "1": True, "0": False}
_POSTGRESQL: Final = {
    **dict.fromkeys(("t", "tr", "tru", "true", "y", "ye", "yes", "on", "1"), True),
    **dict.fromkeys(("f", "fa", "fal", "fals", "false", "n", "no", "of", "off", "0"), False),
}
_READ: Final = {"sqlserver": _TSQL, "ase": _TSQL, "postgresql": _POSTGRESQL}
_FAMILIES: Final = frozenset((Family.BOOLEAN,))
_RANK: Final = 6


def add_truth_constants(rewriter: Rewriter) -> None:
    """Write such texts as 1 and 0 for targets whose truth values are numbers."""
    known = _READ.get(rewriter.catalog.engine)
    if known is None or rewriter.target.engine == "postgresql":
        return
    found = chain(
        constants_beside(_FAMILIES, rewriter),
        constants_chosen(_FAMILIES, rewriter),
        constants_cast(_FAMILIES, rewriter),
    )
    for _, node in found:
        constant = bare(node)
        text = text_value(constant, rewriter) if isinstance(constant, Literal) else None
        holds = known.get(text.strip().lower()) if text is not None else None
        if holds is not None:
            rewriter.add(Point(constant.first, constant.last, partial(_written, str(int(holds))), rank=_RANK))


def _written(text: str, rewriter: Rewriter) -> str:
    return text
