"""How tightly operators bind, from the loosest to the tightest."""

from typing import Final

ASSIGN: Final = 1
OR: Final = 2
AND: Final = 3
NOT: Final = 4
COMPARE: Final = 5
OTHER: Final = 6
"""Operators that an engine or its users define."""
ADD: Final = 7
MULTIPLY: Final = 8
POWER: Final = 9
PREFIX: Final = 10
SUFFIX: Final = 11

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
