"""Names on the target: folded and quoted by one rule."""

import re
from collections.abc import Callable
from functools import cache, lru_cache
from typing import Final

from hullsound.knowledge.targets import load_target

_PLAIN: Final = re.compile(r"[a-z_][a-z0-9_$]*")
DUMMY_TABLE: Final = "DUAL"
"""The table of one row, which is a word of the grammar where it is reserved: in quotes it would be another."""


_PLAIN_UPPER: Final = re.compile(r"[a-z][a-z0-9_$#]*")
"""Names that an engine which folds to upper case reads as they stand; it takes no underscore at the beginning."""
_QUOTES: Final = {"mysql": "``", "mariadb": "``", "sqlserver": "[]"}
_TYPE_WORDS: Final = frozenset(
    """BETWEEN BIGINT BIT BOOLEAN CHAR CHARACTER COALESCE DEC DECIMAL EXISTS EXTRACT FLOAT GREATEST GROUPING INOUT INT INTEGER
    INTERVAL LEAST NATIONAL NCHAR NONE NORMALIZE NULLIF NUMERIC OUT OVERLAY POSITION PRECISION REAL ROW SETOF SMALLINT SUBSTRING
    TIME TIMESTAMP TREAT TRIM VALUES VARCHAR""".split()
)
"""Key words that may name a column but neither a function nor a type (PostgreSQL, appendix "SQL Key Words")."""


def _is_verbatim(name: str) -> bool:
    """Whether a name is kept in quotes: one of capitals, in a source that folds to lower case (`Core.identifier`)."""
    return len(name) > 2 and name[0] == name[-1] == '"'


def stored_name(name: str) -> str:
    """Return a name of the catalogue as an engine that folds to lower case stores it."""
    if _is_verbatim(name):
        return name[1:-1]
    return name.lower() if name == name.upper() else name


class Names:
    """Writes stored names of the source for one target.

    The rule: a name that the source folded is folded as the target folds, others stay as they are; it is quoted where
    the target would otherwise not read it as this name.
    """

    def __init__(self, engine: str) -> None:
        row = load_target(engine)
        self.reserved = frozenset(row.reserved)
        self.limit = row.identifier_bytes
        self._quotes = _QUOTES.get(engine, '""')
        self._plain = _PLAIN_UPPER if row.fold == "upper" else _PLAIN
        self._has_backslashes = engine in ("mysql", "mariadb")
        self.write: Callable[[str], str] = lru_cache(maxsize=20_000)(self._write)
        """Returns a stored name as it stands in a statement of the target, quoted where needed."""

    def text(self, text: str) -> str:
        """Write a text constant."""
        return literal(text.replace("\\", "\\\\") if self._has_backslashes else text)

    def folded(self, name: str) -> str:
        """Return a stored name as the target stores it."""
        return stored_name(name)

    def _write(self, name: str) -> str:
        folded = self.folded(name)
        if _is_verbatim(name):
            return self.quote(folded)
        if self._plain.fullmatch(folded) and folded.upper() not in self.reserved:
            return folded
        return self.quote(folded)

    def parameter(self, name: str) -> str:
        """Return a stored name as that of a variable or parameter, where words of types and functions must be quoted too."""
        text = self.write(name)
        return self.quote(self.folded(name)) if text.upper() in _TYPE_WORDS else text

    def quote(self, name: str) -> str:
        opening, closing = self._quotes[0], self._quotes[1]
        return opening + name.replace(closing, closing * 2).replace("\0", "") + closing

    def qualified(self, *parts: str) -> str:
        return ".".join(self.write(part) for part in parts if part)


@cache
def names_of(engine: str) -> Names:
    return Names(engine)


_ACCOUNT: Final = re.compile(r"""(['"`]?)(.+?)\1(?:@.*)?""")


def literal(text: str) -> str:
    """Write a text as a string constant of standard SQL."""
    return "'" + text.replace("'", "''").replace("\0", "") + "'"


def role_name(grantee: str, engine: str) -> str:
    """Return a user or role as the source stores it; of an account of MySQL, whose name holds a host, the user alone."""
    match = _ACCOUNT.fullmatch(grantee) if engine in ("mysql", "mariadb") else None
    return match[2] if match is not None else grantee
