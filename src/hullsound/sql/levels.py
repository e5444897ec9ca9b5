"""How tightly operators bind, from the loosest to the tightest."""

from typing import Final

ASSIGN: Final = 1
OR: Final = 2
AND: Final = 3
NOT: Final = 4
COMPARE: Final = 5
OTHER: Final = 6
"""Operators that an engine or its users define."""
BITS_AND: Final = 7
SHIFT: Final = 8
ADD: Final = 9
MULTIPLY: Final = 10
POWER: Final = 11
PREFIX: Final = 12
SUFFIX: Final = 13

ON_BITS: Final = frozenset(("&", "|", "^", "#", "<<", ">>"))
"""Operators on bits, which engines bind in different orders."""

STANDARD: Final[dict[str, int]] = {
    "OR": OR,
    "AND": AND,
    **dict.fromkeys(("=", "<>", "!=", "<", ">", "<=", ">="), COMPARE),
    **dict.fromkeys(("IS", "LIKE", "BETWEEN", "IN", "NOT"), COMPARE),
    **dict.fromkeys(("+", "-", "||"), ADD),
    **dict.fromkeys(("*", "/"), MULTIPLY),
    "AT": POWER,
    "COLLATE": POWER,
}
"""Operators of all engines; a dialect adds its own."""
