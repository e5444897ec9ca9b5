"""The shapes of knowledge: constructs, stances, types and targets."""

from enum import StrEnum
from typing import Final, Literal

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
    LATER = "later"
    """Works there as it is, and is better changed after the move: deprecated, or kept for compatibility."""
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
            case Way.SAME | Way.LATER | Way.DRAFT:
                return Severity.NOTE


Names = str | tuple[str, ...]
"""One name, or several that make the same construct seen; * at the end stands for any ending."""


class Match(msgspec.Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What makes a construct seen; exactly one key is given."""

    function: Names = ""
    """Built-in functions, called with or without parentheses."""
    package: Names = ""
    """Supplied packages: any use of PACKAGE.member."""
    procedure: Names = ""
    """Supplied procedures, called as a statement of their own."""
    type: Names = ""
    """Data types."""
    clause: Names = ""
    """Clauses that the parser records."""
    word: Names = ""
    """Unquoted names standing alone: pseudo-columns and variables of the engine."""
    operator: Names = ""
    """Operators of expressions and conditions."""
    statement: Names = ""
    """The words that a statement begins with."""
    relation: Names = ""
    """Tables or views in FROM."""
    words: Names = ""
    """Words that follow each other outside literals; A|B is either, * is any one token."""
    detector: str = ""
    """Name of a predicate in sight/, where a row cannot say it."""
    where: str = ""
    """Name of a condition in sight/ that narrows what the other key makes seen."""

    def names(self, key: str) -> tuple[str, ...]:
        """Return what a key holds as a tuple of names."""
        value: Names = getattr(self, key)
        return (value,) if isinstance(value, str) and value else tuple(value)

    @property
    def given(self) -> list[str]:
        """The keys that hold something, but for the condition."""
        return [key for key in self.__struct_fields__ if key != "where" and getattr(self, key)]


class ConstructRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A construct as its file writes it."""

    title: str
    meaning: str
    match: Match
    example: str
    unlike: str = msgspec.field(name="not", default="")
    """A look-alike that must stay unseen."""
    topic: str = ""
    """What it is about in any engine, where targets answer for all sources alike."""
    common: bool = False
    """Whether most engines take it: a target that says nothing to it takes it as well."""
    plumbing: bool = False
    """Whether it only sets the scene for a script: outside of objects it is a note at most."""
    synonyms: bool = False
    """Whether its functions mean the same, so that one template serves them all."""


class FunctionRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A function or supplied package as its file writes it; the match follows from its name."""

    name: str
    meaning: str
    example: str
    package: bool = False
    topic: str = ""


class NarrowerRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A part of a construct that some target has less to say to, such as calls whose arguments are constants."""

    narrows: str
    """The construct that is seen where the condition does not hold, and whose stance stands where a target tells none apart."""
    where: str
    """Name of a condition in sight/."""
    example: str
    topic: str = ""
    meaning: str = ""
    """What is meant here, where it is another thing than the wider construct says."""


class Construct(msgspec.Struct, frozen=True):
    """Something a source uses that a target may lack."""

    id: ConstructId
    title: str
    meaning: str
    match: Match
    example: str
    unlike: str
    file: str
    topic: str = ""
    common: bool = False
    """Whether most engines take it: a target that says nothing to it takes it as well."""
    plumbing: bool = False
    """Whether it only sets the scene for a script: outside of objects it is a note at most."""
    wider: ConstructId = ""
    """The construct of which it is a part."""
    synonyms: bool = False
    """Whether its functions mean the same, so that one template serves them all."""


class CallRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a target asks of calls of a function."""

    arguments: tuple[int, int] = (0, 9999)
    """Fewest and most."""
    since: int = 0
    """First version that has it; 9999 for a name that is none to write."""
    needs: Literal["", "over", "order"] = ""
    """The clause behind it: OVER, or one with ORDER BY in it."""


class StanceChange(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What is different for versions from `since` to `until`, both included."""

    since: int = 0
    until: int = 9999
    changed: int | None = None
    """See StanceRow."""
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
    once: bool = False
    """Whether it is said once for the database, and of each table, view and query in a note."""
    changed: int = 0
    """Between versions of one engine: the first version in which it holds, so that newer sources know it already."""
    at: tuple[StanceChange, ...] = ()


WRITTEN_ELSEWHERE: Final = frozenset(("keep", "structure"))
"""Words in place of a fixer: the text stays as it is, or what writes the whole object or statement takes care of it."""


class Stance(msgspec.Struct, frozen=True):
    """What one target, at one version and hosting, says to one construct."""

    construct: ConstructId
    way: Way
    remedy: str
    minutes: tuple[float, float, float]
    template: str
    fixer: str
    becomes: str
    once: bool = False
    changed: int = 0

    @property
    def is_written(self) -> bool:
        """Whether something writes what the construct becomes."""
        return bool(self.template or self.fixer)

    @property
    def is_rendered(self) -> bool:
        """Whether the place itself is written anew, by a template or by a fixer of its own."""
        return bool(self.template or (self.fixer and self.fixer not in WRITTEN_ELSEWHERE))


SAME: Final = StanceRow(Way.SAME)
"""What a target says to its own engine's constructs unless its files say otherwise."""


class GeneralRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A finding of Hull Sound's own, the same for every target."""

    title: str
    meaning: str
    way: Way
    remedy: str
    minutes: tuple[float, float, float] = (0.0, 0.0, 0.0)
    severity: Severity | None = None
    """Where it is another than that of the way, since it is said of the survey and not of the code."""


class QuestionExample(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A value that the answer must count, and one that it must not, in a column of this type; or the number it must give."""

    type: str
    yes: str
    no: str | None = None
    value: int | None = None


class QuestionRow(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """What a profile asks the values of a column, by engine, and what the answer settles."""

    title: str
    meaning: str
    remedy: str
    way: Way
    """How the column crosses where the answer is yes."""
    of: tuple[str, ...]
    """Logical kinds of columns that are asked; `text` stands for all kinds of text, `plain-text` for those of variable length."""
    minutes: tuple[float, float, float] = (0.0, 0.0, 0.0)
    bits: int = 0
    is_unique: bool = False
    """Whether only columns are asked that are a unique key by themselves."""
    is_counting: bool = False
    """Whether only identity columns are asked."""
    targets: tuple[str, ...] = ()
    topics: tuple[str, ...] = ()
    kinds: tuple[str, ...] = ()
    above: dict[str, int] = {}
    """By target: beyond which greatest number the answer is yes."""
    alike: tuple[tuple[str, ...], ...] = ()
    """Groups of engines between which the answer means nothing."""
    becomes: dict[str, str] = {}
    """By target: the type of a column where the answer is yes."""
    is_quiet: bool = False
    """Whether a yes is no finding of its own."""
    asks: str = ""
    """What is asked for, where the title says what a yes would mean."""
    if_none: str = ""
    """What to say where not one of all rows says yes."""
    counts: dict[str, str] = {}
    greatest: dict[str, str] = {}
    different: dict[str, str] = {}
    repeats: dict[str, str] = {}
    example: QuestionExample | None = None

    def matters(self, source: str, target: str) -> bool:
        """Whether the answer means anything on the way from one engine to another."""
        if any(source in group and target in group for group in self.alike):
            return False
        return not self.targets or target in self.targets

    def sql(self, engine: str) -> str:
        """Return the aggregate that answers it on an engine, with {c} for the column; '' where it is not asked there."""
        engine = "mysql" if engine == "mariadb" else engine
        if engine in self.counts:
            return f"SUM(CASE WHEN {self.counts[engine]} THEN 1 ELSE 0 END)"
        if engine in self.greatest:
            return f"MAX({self.greatest[engine]})"
        return f"COUNT(DISTINCT {self.different[engine]})" if engine in self.different else self.repeats.get(engine, "")

    @property
    def is_count(self) -> bool:
        """Whether the answer says how many rows, rather than a number out of them."""
        return bool(self.counts or self.repeats or not self.of)
