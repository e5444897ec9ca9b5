"""What distinguishes one engine's SQL text from another's, as plain tables; no logic lives in a dialect."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from enum import Enum
from functools import cache
from importlib import import_module
from types import MappingProxyType

from hullsound.errors import UsageError


class Client(Enum):
    """The command-line client whose directives stand between the statements of a script."""

    SQLPLUS = "SQL*Plus"
    BATCH = "batches ended by GO"
    MYSQL = "the mysql client"
    PSQL = "psql"
    DB2 = "the Db2 command line processor"
    BTEQ = "BTEQ"
    SQLITE = "the sqlite3 shell"


class Grammar(Enum):
    """The procedural grammar of an engine."""

    PLSQL = "oracle"
    TSQL = "tsql"
    MYSQL = "mysql"
    MARIADB_ORACLE = "mariadb_oracle"
    POSTGRESQL = "postgresql"
    DB2 = "db2"
    TERADATA = "teradata"
    SQLITE = "sqlite"


class NameCase(Enum):
    """What an engine makes of names."""

    UPPER = "unquoted names become upper case"
    LOWER = "unquoted names become lower case"
    INSENSITIVE = "case never matters"


@dataclass(frozen=True)
class Literal:
    """A form of literal or quoted name, as regular expressions against upper-cased text.

    Each part has no capturing group. One that never closes runs to the end of the text and is no literal.
    """

    opening: str
    body: str
    closing: str
    is_name: bool = False
    """Whether it quotes a name rather than a text."""


def quoted(quote: str, *, prefix: str = "", backslash: bool = False, is_name: bool = False) -> Literal:
    """Return the form of text between `quote`s, where a doubled one stands for itself."""
    if backslash:
        body = rf"[^{quote}\\]*(?:(?:\\[\s\S]|{quote}{quote})[^{quote}\\]*)*"
    else:
        body = f"[^{quote}]*(?:{quote}{quote}[^{quote}]*)*"
    return Literal(prefix + quote, body, quote, is_name)


@dataclass(frozen=True)
class Dialect:
    """The lexical and grammatical tables of one engine's SQL."""

    engine: str
    """Name used by `--from`."""
    title: str
    """Name in reports."""
    client: Client
    grammar: Grammar
    name_case: NameCase
    literals: tuple[Literal, ...]
    """Forms of literals and quoted names, tried in order."""
    token_patterns: tuple[str, ...]
    """Regular expressions without capturing groups, matched in order, behind the literals, against upper-cased text."""
    reserved: frozenset[str]
    """Words that can never be an unquoted identifier; the parser stops names at them."""
    aliases_stop: frozenset[str]
    """Words that may be identifiers elsewhere but never start an alias after an expression or a table."""
    comments: tuple[str, ...] = (r"--[^\n\r]*", r"/\*[^*]*\*+(?:[^/*][^*]*\*+)*/")
    """Regular expressions of closed comments, and of marks that only the client heeds."""
    comment_openers: tuple[str, ...] = ("--", "/*")
    word_openers: str = ""
    """Characters other than letters that open a word when more of it follows."""
    digit_names: bool = False
    """Whether a name may begin with digits, as long as a letter is in it."""
    bind_openers: str = ":"
    """Characters that open a host variable when a name or number follows."""
    operators: Mapping[str, int] = field(default_factory=lambda: MappingProxyType({}))
    """Operators beside the standard ones -> level."""
    open_operators: str = ""
    """Characters that make up further operators, where users may define them."""
    matching: frozenset[str] = frozenset(("LIKE",))
    """Operators that match a pattern and may be followed by ESCAPE."""
    durations: frozenset[str] = frozenset()
    """Words that make a number in front of them a span of time."""
    type_endings: frozenset[str] = frozenset()
    """Words that belong to a data type behind its name and arguments."""
    multiword_types: Mapping[str, tuple[tuple[str, ...], ...]] = field(default_factory=lambda: MappingProxyType({}))
    """First word of a type name -> the longer forms it may open, longest first."""
    directives: Mapping[str, tuple[str, ...]] = field(default_factory=lambda: MappingProxyType({}))
    """Client directives: word -> next words for which the line is a SQL statement after all."""
    links: bool = False
    """Whether @ behind a name opens a database link."""
    modes: frozenset[str] = frozenset()
    """Settings of the session that change how text is read, such as ANSI_QUOTES."""
    columns_take_no_null: bool = False
    """Whether a column takes no NULL unless it says so."""
    adjacent_strings: bool = False
    """Whether text literals that stand side by side are one."""


ENGINES = ("oracle", "sqlserver", "ase", "mysql", "mariadb", "postgresql", "db2", "teradata", "sqlite")
"""Engines whose scripts can be read."""


@cache
def load_dialect(engine: str, modes: frozenset[str] = frozenset()) -> Dialect:
    """Return the dialect of `engine` under settings of the session that it knows; others are passed over.

    Raises UsageError for an engine that cannot be read.
    """
    if engine not in ENGINES:
        raise UsageError(
            f"cannot read the SQL of {engine!r}",
            where="--from",
            hint=f"Engines that can be read: {', '.join(ENGINES)}.",
        )
    module = import_module(f".dialects.{engine}", __package__)
    dialect = module.in_modes(modes) if modes and hasattr(module, "in_modes") else module.DIALECT
    assert isinstance(dialect, Dialect)
    return dialect
