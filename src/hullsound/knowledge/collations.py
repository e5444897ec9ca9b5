"""The collation of MySQL and MariaDB that compares texts as sources do which tell case apart."""

from typing import Final

EXACT: Final = "utf8mb4_bin"
"""The collation by code. Casts within views and JSON have it, and those that count blanks at the end as well, such as
utf8mb4_nopad_bin and utf8mb4_0900_bin, cannot be compared with it ("Illegal mix of collations")."""
_TARGETS: Final = frozenset(("mysql", "mariadb"))
_TELLING_CASE: Final = frozenset(("oracle", "postgresql", "db2", "sqlite", "ase"))
"""Engines whose texts tell case apart unless something else is said."""


def exact_collation(source: str, target: str) -> str:
    """Return the collation by which the target tells texts apart as the source does by default; '' where it needs none.

    It takes no notice of blanks at the end, as Db2 and ASE do; Oracle, PostgreSQL and SQLite count them.
    """
    return EXACT if target in _TARGETS and source in _TELLING_CASE else ""
