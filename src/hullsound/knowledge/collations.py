"""Collations of MySQL and MariaDB that compare texts as a source does which tells case apart."""

from typing import Final

_BY_TARGET: Final = {"mysql": "utf8mb4_0900_bin", "mariadb": "utf8mb4_nopad_bin"}
"""Collations that count blanks at the end of a text (MySQL 8.0.17 Release Notes; MariaDB Server documentation, "Character Sets and
Collations", since 10.2)."""
_WITHOUT_BLANKS: Final = "utf8mb4_bin"
_COUNTING: Final = frozenset(("oracle", "postgresql", "sqlite"))
_PADDING: Final = frozenset(("db2", "ase"))
"""Engines that take no notice of blanks at the end when they compare."""


def exact_collation(source: str, target: str) -> str:
    """Return the collation by which the target tells texts apart as the source does by default; '' where it needs none."""
    if target not in _BY_TARGET:
        return ""
    if source in _COUNTING:
        return _BY_TARGET[target]
    return _WITHOUT_BLANKS if source in _PADDING else ""


def code_collation(target: str) -> str:
    """Return the collation of MySQL or MariaDB that compares texts by the codes of their characters, blanks included."""
    return _BY_TARGET[target]
