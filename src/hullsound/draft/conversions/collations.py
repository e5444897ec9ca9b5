"""Collations: exact comparison by "C", comparison without case by lower(), and columns that ignore case altogether."""

import re
from functools import lru_cache, partial
from typing import Final

from hullsound.catalog.model import Column, Object
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.knowledge.engine_model import Target
from hullsound.sql.tree import Comparison, Operation

_EXACT: Final = re.compile(r"_(BIN2?|CS|CS_AS|AS_CS)(_|$)|^BINARY$|_CS_")
_COLLATE: Final = re.compile(r"(?i)\b(COLLATE|CASESPECIFIC|CS)\b")
_TABLE_PIECES: Final = re.compile(
    r"'(?:[^'\\]|\\.|'')*'|`[^`]*`|\"[^\"]*\"|[()]|\bCOLLATE\s*=?\s*['\"]?(\w+)", re.IGNORECASE
)
_WITHIN: Final = r"(?:[^,()]|\([^()]*\))*?"
"""What stands in the definition of one column."""
_LOOSE: Final = re.compile(r"_CI(_|$)|^NOCASE$")
IGNORING_CASE: Final = "hs_ignoring_case"
"""Collation of PostgreSQL, made by prepare.sql, whose texts are equal but for case."""
_LOOSE_BY_DEFAULT: Final = frozenset(("sqlserver", "ase", "mysql", "mariadb"))
_TEXTS: Final = ("varchar", "char", "text")
_SINCE: Final = 18
"""First version in which LIKE and searches take a collation that is not deterministic (release notes of PostgreSQL 18)."""
_COMPARED: Final = frozenset(("=", "<>", "!=", "<", ">", "<=", ">=", "LIKE", "IN"))


def loose_collation(table: Object, column: Column, kind: str, engine: str, target: Target, *, is_searched: bool) -> str:
    """Return COLLATE for a column of a source that ignores case by default; '' where its own collation tells otherwise.

    `kind` is PostgreSQL's type of the column. Raises CannotDraft for versions where LIKE and searches do not take it,
    if `is_searched`.
    """
    if engine not in _LOOSE_BY_DEFAULT or not kind.startswith(_TEXTS):
        return ""
    if is_exact(table, column.name):
        return ""
    if is_searched and target.version < _SINCE:
        raise CannotDraft("text that ignores case, which LIKE takes since version 18")
    return f' COLLATE public."{IGNORING_CASE}"'


def is_exact(table: Object, column: str) -> bool:
    """Whether a column has a collation that tells case apart, its own or that of its table."""
    return bool(table.text) and _has_exact(table.text, column)


@lru_cache(maxsize=4096)
def _has_exact(text: str, column: str) -> bool:
    if not _COLLATE.search(text):
        return False
    own = re.search(
        rf"(?i)[`\[\"]?\b{re.escape(column)}\b[`\]\"]?\s{_WITHIN}(?:\bCOLLATE\s+([\w]+)|(\bNOT\s+)?\b(CASESPECIFIC|CS)\b)",
        text,
    )
    if own is not None:
        return _EXACT.search(own[1].upper()) is not None if own[1] else own[2] is None
    has_own_set = re.search(rf"(?i)[`]?\b{re.escape(column)}\b[`]?\s{_WITHIN}\b(CHARACTER\s+SET|CHARSET)\b", text)
    return has_own_set is None and _EXACT.search(_of_table(text)) is not None


def _of_table(text: str) -> str:
    """Return the collation that a table of MySQL gives columns without one of their own; '' where it names none."""
    depth = 0
    for piece in _TABLE_PIECES.finditer(text):
        depth += (piece[0] == "(") - (piece[0] == ")")
        if piece[1] and depth == 0:
            return piece[1].upper()
    return ""


def collation_statement() -> str:
    """Return the statement that makes the collation without case (PostgreSQL manual, "Nondeterministic Collations")."""
    return (
        f'CREATE COLLATION IF NOT EXISTS public."{IGNORING_CASE}" '
        "(provider = icu, locale = 'und-u-ks-level2', deterministic = false);\n"
    )


def add_collation_points(rewriter: Rewriter) -> None:
    """Add the points of COLLATE in expressions. Names of collations are the source's own; their endings tell the rule."""
    for node in rewriter.subject.all(Operation):
        if node.operators != ["COLLATE"]:
            continue
        name = rewriter.words[node.last - 1].strip("'\"`[]").upper()
        exact = bool(_EXACT.search(name))
        rewriter.add(Point(node.first, node.last, partial(_collated, node, exact)))
        if _LOOSE.search(name):
            _lower_around(node, rewriter)


def _collated(node: Operation, exact: bool, rewriter: Rewriter) -> str:
    return rewriter.node(node.operands[0]) + (' COLLATE "C"' if exact else "")


def _lower_around(node: Operation, rewriter: Rewriter) -> None:
    """Put both sides of the comparison that a collation without case stands in into lower()."""
    around: list[Operation | Comparison] = [
        *(o for o in rewriter.subject.all(Operation) if set(o.operators) & _COMPARED),
        *(c for c in rewriter.subject.all(Comparison) if c.operator in _COMPARED),
    ]
    for comparison in around:
        if node in comparison.operands:
            for operand in comparison.operands:
                rewriter.wrap(operand, lambda r, operand=operand: f"lower({r.node(operand)})", rank=6)  # type: ignore[misc]
