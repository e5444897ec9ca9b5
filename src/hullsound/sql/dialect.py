"""What distinguishes one engine's SQL text from another's, as plain tables; no logic lives in a dialect."""

from dataclasses import dataclass, field
from enum import Enum
from functools import cache
from importlib import import_module

from hullsound.errors import UsageError


class Client(Enum):
    """The command-line client whose directives stand between the statements of a script."""

    SQLPLUS = "SQL*Plus"


@dataclass(frozen=True)
class Dialect:
    """The lexical and grammatical tables of one engine's SQL."""

    engine: str
    """Name used by `--from`."""
    title: str
    """Name in reports."""
    client: Client
    token_patterns: tuple[str, ...]
    """Regular expressions without capturing groups, matched in order against upper-cased text."""
    reserved: frozenset[str]
    """Words that can never be an unquoted identifier; the parser stops names at them."""
    aliases_stop: frozenset[str]
    """Words that may be identifiers elsewhere but never start an alias after an expression or a table."""
    multiword_types: dict[str, tuple[tuple[str, ...], ...]] = field(default_factory=dict)
    """First word of a type name -> the longer forms it may open, longest first."""
    directives: dict[str, tuple[str, ...]] = field(default_factory=dict)
    """Client directives: word -> next words for which the line is a SQL statement after all."""


ENGINES = ("oracle",)


@cache
def load_dialect(engine: str) -> Dialect:
    """Return the dialect of `engine`. Raises UsageError for an engine that cannot be read yet."""
    if engine not in ENGINES:
        raise UsageError(
            f"cannot read the SQL of {engine!r}",
            where="--from",
            hint=f"Engines that can be read: {', '.join(ENGINES)}.",
        )
    dialect = import_module(f".dialects.{engine}", __package__).DIALECT
    assert isinstance(dialect, Dialect)
    return dialect
