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


def version_text(version: int) -> str:
    """Write a version as people do; those with a point are kept as a hundred times the part before it: 804 is 8.4."""
    return f"{version // 100}.{version % 100}" if 100 <= version < 2000 else str(version)
