"""Rows of knowledge about engines, targets and their types."""

import re
from typing import Final, Literal

import msgspec

from hullsound.knowledge.model import Way


class SignatureRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What functions of the same form give and take."""

    names: str
    gives: str = ""
    """Kind of the logical type of the value: where `argument` is given as well, of a value whose argument's type is not known."""
    argument: int = -1
    """Place of the argument whose type the value has, from 0; -1 for none."""
    bare: bool = False
    """Whether it is called without brackets."""
    choices: bool = False
    """Whether the value may also be that of any argument behind it."""
    keeps_whole: bool = False
    """Whether the value is a whole number where the first argument is one."""
    takes: tuple[str, ...] = ()
    """Families that the arguments must be of, several of them parted by |, in order; '' for any."""
    expects: tuple[str, ...] = ()
    """Families that the arguments are of in code that leaves conversions to nobody, where `takes` does not say so."""


class EngineRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a source engine itself provides, so that no catalogue has to explain it."""

    title: str
    default_schema: str
    """Schema that unqualified names mean before the source says otherwise."""
    schemas: tuple[str, ...]
    prefixes: tuple[str, ...]
    relations: tuple[str, ...]
    package_prefixes: tuple[str, ...] = ()
    """Beginnings of the names of packages that it supplies."""
    families: tuple[str, ...] = ()
    """Folders of constructs and functions that it shares with other engines."""
    common: tuple[str, ...] = ("queries",)
    """Files of constructs/common whose constructs it takes: what most engines take and some targets refuse."""
    types: str = ""
    """Names of data types, upper case; | stands for a blank inside a name."""
    later_words: str = ""
    """Words that later versions of the engine reserve."""
    null_on_null: str = ""
    """Functions of one row that give NULL where any of their arguments is NULL."""
    functions: str = ""
    routine_rights: str = ""
    """With whose rights routines run that say nothing: owner or caller; '' where there are none."""
    value_words: str = ""
    """Words that are values without brackets and no columns, of engines that are targets."""
    operators: str = ""
    """Operators and predicates by their words, of engines that are targets; | stands for a blank."""
    usual_types: dict[str, str] = {}
    """The type that columns of a family mostly have, by family."""

    @property
    def type_names(self) -> frozenset[str]:
        return frozenset(name.replace("|", " ") for name in self.types.split())

    @property
    def later_word_names(self) -> frozenset[str]:
        return frozenset(self.later_words.split())

    @property
    def null_on_null_names(self) -> frozenset[str]:
        return frozenset(self.null_on_null.split())

    @property
    def value_word_names(self) -> frozenset[str]:
        return frozenset(self.value_words.split())

    @property
    def operator_names(self) -> frozenset[str]:
        return frozenset(name.replace("|", " ") if name.strip("|") else name for name in self.operators.split())

    @property
    def function_names(self) -> frozenset[str]:
        return frozenset(self.functions.split())


class SourceTypeRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A type of a source engine: its logical kind, and which arguments say what."""

    logical: str
    length: int = -1
    """Index of the argument that is the length; -1 for none."""
    default_length: int = 0
    precision: int = -1
    """Index of the argument that is the precision; -1 for none."""
    default_precision: int = -1
    """Precision where none is written; -1 for one that the target chooses."""
    bits: int = 0
    note: str = ""
    """What is odd about the type, for people."""


class TargetTypeRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """How a target writes a logical kind; placeholders are {length}, {precision} and {scale}."""

    render: str
    plain: str = ""
    """Text where the arguments are missing."""
    limit: int = 0
    """Greatest length; 0 for none that matters."""
    digits: int = 0
    """Greatest precision of a time, up to which nothing is lost; 0 where precision is no matter."""
    always: bool = False
    """Whether `loses` holds for every precision."""
    loses: str = ""
    """What is lost or changes, for people; '' for nothing."""
    way: Way | None = None
    """How a column of the type crosses, where the loss deserves a finding; none where it does not."""
    minutes: tuple[float, float, float] = (1.0, 3.0, 10.0)


class HostingRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    meaning: str


class TargetLimits(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """How much of something a target takes; 0 for no limit, or none that a definition can meet."""

    columns: int = 0
    """Columns of a table."""
    key_columns: int = 0
    """Columns of a key or index."""
    key_bytes: int = 0
    """Bytes of a key or index, at the greatest lengths of its columns."""
    key_way: Way = Way.REWRITE
    """confirm where only values beyond the limit are refused."""
    row_bytes: int = 0
    """Bytes of a row that its columns of fixed length need at least."""
    character_bytes: int = 1
    """Most bytes of a character in the texts that drafts make."""
    text_bytes: int = 0
    """Bytes of a text that is no large object, whatever its length in characters says."""
    parameters: int = 0
    """Parameters of a routine."""


class TargetRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A target engine: its versions, hostings and limits."""

    title: str
    versions: tuple[int, ...]
    default: int
    hostings: dict[str, HostingRow]
    identifier_bytes: int
    reserved: tuple[str, ...]
    """Words that must be quoted when they name a column or table."""
    fold: Literal["lower", "upper", "keep"]
    drafts: tuple[str, ...] = ()
    """Types of objects that can be drafted for this target."""
    draft_sources: tuple[str, ...] = ()
    """Source engines from which objects are drafted for this target."""
    sources: tuple[str, ...] = ()
    """Source engines that the target is known for; empty for all."""
    kin: tuple[str, ...] = ()
    """Engines whose constructs cross as they are unless a stance says otherwise; the engine itself is always one."""
    like: str = ""
    """Target whose topics and types hold here too unless given anew."""
    max_name: Literal["bytes", "characters"] = "bytes"
    """Unit of `identifier_bytes`."""
    limits: TargetLimits = TargetLimits()
    one_null_in_unique: bool = False
    """Whether a unique key takes a row of NULLs once only."""
    null_in_part_of_unique: bool = False
    """Whether a unique key of several columns compares rows in which one of them is NULL."""
    unique_parents_since: int = 0
    """Version since which references to what is no key are refused where the engine took them before; 0 for none."""
    cascades_once: bool = False
    """Whether a change may reach a table by one chain of cascading references only."""
    generated_of_generated: bool = True
    """Whether a generated column may read another one."""


class NewerRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What an engine has since one of its versions."""

    functions: str = ""
    """Names of functions; NAME/2 stands for a call with two arguments."""
    types: str = ""
    names: str = ""
    """Names without brackets, such as clocks."""
    phrases: tuple[str, ...] = ()
    """Words, as the reader cuts them, that stand one behind the other."""


class Newer(msgspec.Struct, frozen=True):
    """What an engine has since versions that are told, each with the first one."""

    calls: dict[tuple[str, int], int]
    """By name and number of arguments, -1 for any."""
    types: dict[str, int]
    names: dict[str, int]
    phrases: dict[str, list[tuple[tuple[str, ...], int]]]
    """By the first word."""


class Target(msgspec.Struct, frozen=True):
    """A target as chosen: engine, version and hosting, and the file of a user's own that extends it."""

    engine: str
    version: int
    hosting: str = "own"
    file: str = ""
    """Path of a target file; '' for none."""
    name: str = ""
    """The target file's name for it."""
    case: str = "lower"
    """How drafts compare texts that the source compares without case, as in the project's rules for drafts."""

    def __str__(self) -> str:
        if self.name:
            return self.name
        hosting = "" if self.hosting == "own" else f"@{self.hosting}"
        return f"{self.engine}:{version_text(self.version)}{hosting}"


_SQLSERVER_RELEASES: Final = {9: 2005, 10: 2008, 11: 2012, 12: 2014, 13: 2016, 14: 2017, 15: 2019, 16: 2022, 17: 2025}
"""By the first number that the server tells: SQL Server, "Determine the version, edition, and update level"."""


def version_number(engine: str, text: str) -> int:
    """Read a version as a source or its server tells it, in the numbers of targets; 0 if it is not known.

    "8.4.2" of MySQL is 804, "16.3" of PostgreSQL 16, "15.0.2000.5" of SQL Server 2019, "19c" of Oracle 19.
    """
    found = re.search(r"(\d+)(?:\.(\d+))?", text)
    if found is None:
        return 0
    major, minor = int(found[1]), int(found[2] or 0)
    if engine in ("mysql", "mariadb"):
        return major * 100 + minor
    return _SQLSERVER_RELEASES.get(major, major) if engine == "sqlserver" else major


def version_text(version: int) -> str:
    """Write a version as people do; those with a point are kept as a hundred times the part before it: 804 is 8.4."""
    return f"{version // 100}.{version % 100}" if 100 <= version < 2000 else str(version)
