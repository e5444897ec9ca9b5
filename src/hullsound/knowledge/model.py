"""The shapes of knowledge: constructs, stances, types and targets."""

from enum import StrEnum
from typing import Literal

import msgspec

ConstructId = str
"""engine.kebab-case-name"""


class Severity(StrEnum):
    BLOCKER = "blocker"
    WARNING = "warning"
    NOTE = "note"


class Way(StrEnum):
    """How a construct crosses to a target, from easiest to hardest."""

    SAME = "same"
    DRAFT = "draft"
    CONFIRM = "confirm"
    REWRITE = "rewrite"
    NONE = "none"

    @property
    def severity(self) -> Severity:
        match self:
            case Way.NONE:
                return Severity.BLOCKER
            case Way.CONFIRM | Way.REWRITE:
                return Severity.WARNING
            case Way.SAME | Way.DRAFT:
                return Severity.NOTE


class Match(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What makes a construct seen; exactly one key is given."""

    function: str = ""
    """Name of a built-in function, called with or without parentheses."""
    package: str = ""
    """Name of a supplied package: any use of PACKAGE.member."""
    type: str = ""
    """Name of a data type."""
    clause: str = ""
    """Name of a clause that the parser records."""
    word: str = ""
    """An unquoted name standing alone: a pseudo-column."""
    statement: str = ""
    """The words of a statement."""
    relation: str = ""
    """Name, or beginning of a name up to *, of a table or view in FROM."""
    detector: str = ""
    """Name of a predicate in sight/, where a row cannot say it."""


class ConstructRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A construct as its file writes it."""

    title: str
    meaning: str
    match: Match
    example: str
    unlike: str = msgspec.field(name="not", default="")
    """A look-alike that must stay unseen."""


class FunctionRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A function or supplied package as its file writes it; the match follows from its name."""

    name: str
    meaning: str
    example: str
    package: bool = False


class Construct(msgspec.Struct, frozen=True):
    """Something a source uses that a target may lack."""

    id: ConstructId
    title: str
    meaning: str
    match: Match
    example: str
    unlike: str
    file: str


class StanceChange(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What is different for versions from `since` to `until`, both included."""

    since: int = 0
    until: int = 9999
    way: Way | None = None
    minutes: tuple[float, float, float] | None = None
    remedy: str | None = None
    template: str | None = None
    fixer: str | None = None
    becomes: str | None = None


class StanceRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A stance as its file writes it."""

    way: Way
    remedy: str = ""
    minutes: tuple[float, float, float] = (0.0, 0.0, 0.0)
    template: str = ""
    fixer: str = ""
    becomes: str = ""
    at: tuple[StanceChange, ...] = ()


class Stance(msgspec.Struct, frozen=True):
    """What one target, at one version and hosting, says to one construct."""

    construct: ConstructId
    way: Way
    remedy: str
    minutes: tuple[float, float, float]
    template: str
    fixer: str
    becomes: str


class GeneralRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A finding of Hull Sound's own, the same for every target."""

    title: str
    meaning: str
    way: Way
    remedy: str
    minutes: tuple[float, float, float] = (0.0, 0.0, 0.0)


class EngineRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a source engine itself provides, so that no catalogue has to explain it."""

    title: str
    default_schema: str
    """Schema that unqualified names mean before the source says otherwise."""
    schemas: tuple[str, ...]
    prefixes: tuple[str, ...]
    relations: tuple[str, ...]
    types: str
    """Names of data types, upper case; | stands for a blank inside a name."""
    functions: str

    @property
    def type_names(self) -> frozenset[str]:
        return frozenset(name.replace("|", " ") for name in self.types.split())

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
    loses: str = ""
    """What is lost or changes, for people; '' for nothing."""


class HostingRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    meaning: str


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
    drafts: tuple[str, ...]
    """Types of objects that can be drafted for this target."""


class Target(msgspec.Struct, frozen=True):
    """A target as chosen: engine, version and hosting."""

    engine: str
    version: int
    hosting: str = "own"

    def __str__(self) -> str:
        hosting = "" if self.hosting == "own" else f"@{self.hosting}"
        return f"{self.engine}:{self.version}{hosting}"
