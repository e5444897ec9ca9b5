"""Masks of numbers read into their form: letters (Oracle, PostgreSQL), patterns of .NET (SQL Server).

Sources: Oracle Database 19c SQL Language Reference, "Number Format Models"; PostgreSQL 18, "Data Type Formatting Functions"; .NET,
"Standard numeric format strings" and "Custom numeric format strings".
"""

import re
from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Name, Node

from .pieces import NumberForm

_MASK: Final = re.compile(r"(FM)?([09,G]*[09])(?:([.D])([09]*))?", re.IGNORECASE)
_STANDARD: Final = re.compile(r"([NnFfDd])(\d{0,2})")
_CUSTOM: Final = re.compile(r"(#,##)?#?(0+)(?:\.(0*)(#*))?")
_MOST_DECIMALS: Final = 20


def read_number_mask(mask: str, engine: str) -> NumberForm:
    """Read a mask such as FM9,990.00. Raises CannotDraft for one with signs, currencies, or groups of other sizes than three."""
    match = _MASK.fullmatch(mask)
    whole = match[2].upper().replace("G", ",") if match is not None else ""
    parts = whole.split(",")
    if match is None or any(len(each) != 3 for each in parts[1:]) or not parts[0]:
        raise CannotDraft(f"the mask {mask[:30]}")
    digits = whole.replace(",", "")
    least = len(digits) - digits.find("0") if "0" in digits else 0
    behind = match[4] or ""
    if least == 0 and behind and match[1]:
        raise CannotDraft("a number that may be written without any digit")
    shape = re.sub("[09]", "#", whole + (f".{behind}" if match[3] else ""))
    width = len(shape) + 1
    return NumberForm(
        places=len(digits), least=least or (0 if behind else 1), decimals=len(behind),
        kept=behind.rfind("0") + 1 if match[1] else len(behind), groups="," in whole, width=0 if match[1] else width,
        overflow="#" * width if engine != "postgresql" else shape if match[1] else f" {shape}",
        keeps_point=bool(match[3]),
    )  # fmt: skip


def read_number_pattern(pattern: str) -> NumberForm:
    """Read a pattern of FORMAT, such as N2 or #,##0.00. Raises CannotDraft for currencies, percents and what else is not known."""
    standard = _STANDARD.fullmatch(pattern)
    if standard is not None:
        letter = standard[1].upper()
        count = int(standard[2] or (0 if letter == "D" else 2))
        decimals = 0 if letter == "D" else count
        if count > _MOST_DECIMALS:
            raise CannotDraft(f"the pattern {pattern[:30]} for a number")
        return NumberForm(0, max(count, 1) if letter == "D" else 1, decimals, decimals, groups=letter == "N")
    custom = _CUSTOM.fullmatch(pattern)
    if custom is None:
        raise CannotDraft(f"the pattern {pattern[:30]} for a number")
    kept = len(custom[3] or "")
    return NumberForm(0, len(custom[2]), kept + len(custom[4] or ""), kept, groups=bool(custom[1]))


def fits(value: Node, digits: int, rewriter: Rewriter) -> bool:
    """Whether a number has no more digits before the point than a mask, as its column's type or its constant says."""
    if not isinstance(value, Name):
        whole = rewriter.subject.source(value).lstrip("- ").partition(".")[0]
        return whole.isdigit() and len(whole) < digits  # rounding may add one
    kind = rewriter.types.source_type(value)
    logical = logical_type(rewriter.catalog.engine, kind) if kind is not None else None
    return logical is not None and 0 < logical.precision - max(logical.scale, 0) <= digits
