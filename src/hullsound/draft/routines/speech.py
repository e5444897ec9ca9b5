"""What procedural languages have in common, and what each must say for itself."""

from abc import ABC, abstractmethod
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from enum import StrEnum
from typing import Final, NamedTuple

from hullsound.draft.edits.names import Names
from hullsound.draft.edits.rewrite import CannotDraft

Lines = list[str]
MESSAGE: Final = "hs_message"
"""Variable for the text of an error, which some languages take from nothing else."""


CODE_ENDS: Final = {"oracle": "\n/\n", "sqlserver": "\nGO\n"}
"""What ends a statement that holds code, in a script for the engine's own client."""


def several(statements: Sequence[str], engine: str) -> str:
    """Put the statements of one draft behind one another, as the target's own client takes them."""
    return (CODE_ENDS.get(engine, "\n") + "\n").join(statements)


def indented(lines: Sequence[str]) -> Lines:
    return [f"  {line}" if line else line for line in lines]


class Caught(StrEnum):
    """What handlers of errors tell apart in every language."""

    NO_ROW = "no row"
    SEVERAL_ROWS = "several rows"
    DUPLICATE = "duplicate key"
    CONSTRAINT = "constraint"
    """A key, a reference, a check or NOT NULL that a row does not meet."""
    DIVISION = "division by zero"
    ANY = "any error"


class OwnError(NamedTuple):
    """An error that a routine declares, with its number among those of the routine, from 1."""

    name: str
    number: int


Handlers = list[tuple[list[Caught | OwnError], Lines]]


@dataclass(frozen=True)
class Declared:
    """A parameter or variable as the target has it."""

    name: str
    """With the sign that the target puts before variables."""
    kind: str
    mode: str = ""
    """in, out or in out; '' for a variable."""
    default: str = ""


@dataclass(frozen=True)
class FiringTable:
    """The table of a trigger; columns are written as the target writes them."""

    name: str
    kinds: Mapping[str, str]
    """The target's type of each column that has one."""
    key: tuple[str, ...]
    """Columns of the primary key; empty where there is none."""
    free: frozenset[str]
    """Columns that a new row need not give: those that take NULL or have a default."""


class LoopAround(NamedTuple):
    """A loop that statements stand in."""

    source_label: str
    label: str
    has_end: bool
    """Whether it counts after each round, also one that is cut short."""


@dataclass
class Unit:
    """A routine whose statements are written."""

    form: str
    name: str
    parameters: list[Declared]
    returns: str
    variables: list[Declared] = field(default_factory=list)
    reads: bool = False
    """Whether it reads tables."""
    changes: bool = False
    """Whether it changes rows or calls what may do so."""
    cursors: list[tuple[str, str]] = field(default_factory=list)
    """Names of cursors and their queries."""
    handlers: Handlers = field(default_factory=list)
    """Errors that end the routine, and what is done then."""
    fires: str = ""
    """When a trigger fires, on which table and for what."""
    rows: Mapping[str, str] = field(default_factory=dict)
    """NEW and OLD by what the source of a trigger calls them."""
    table: FiringTable | None = None
    """The table of a trigger."""
    guard: str = ""
    """Condition under which a trigger does anything, where the target cannot say it in the head."""
    status: str = ""
    """Parameter that gives back the status of a procedure; '' where it returns none."""
    before: list[str] = field(default_factory=list)
    """Statements that create what the routine needs beside it."""
    rights: str = ""
    """What is said of the rights with which it runs."""
    notes: list[str] = field(default_factory=list)
    """Constructs that tell what the text does otherwise than the source."""


class Speech(ABC):
    """Writes the statements of one procedural language."""

    def __init__(self, names: Names) -> None:
        self.names = names

    @abstractmethod
    def variable(self, name: str) -> str:
        """Return how a variable of a name without signs is written."""

    @abstractmethod
    def unit(self, unit: Unit, body: Lines) -> str:
        """Write the whole statement that creates a routine."""

    @abstractmethod
    def assign(self, target: str, value: str) -> Lines: ...

    def fail_as(self, kind: Caught) -> Lines:
        """Raise the error that a query raises in the source which meets no row, or several."""
        raise CannotDraft(f"the error {kind}, raised by its name")

    def fail_own(self, error: OwnError) -> Lines:
        """Raise an error that the routine declares."""
        raise CannotDraft(f"the exception {error.name.lower()}")

    last_number = ""
    """What gives the number of the row that was inserted last."""

    def insert_numbered(self, insert: str, column: str, target: str) -> Lines:
        """Insert a row and keep the number that a column of it was given."""
        return [f"{insert};", *self.assign(target, self.last_number)]

    @abstractmethod
    def branch(self, branches: list[tuple[str, Lines]], otherwise: Lines) -> Lines: ...

    @abstractmethod
    def repeat_while(self, condition: str, body: Lines, label: str, end: Lines | None = None) -> Lines:
        """Write a loop; `end` runs after each round, also one that `end_round` has cut short."""

    @abstractmethod
    def end_round(self, label: str) -> Lines:
        """Go to the end of a round of a loop, whichever loops stand between."""

    @abstractmethod
    def leave(self, label: str) -> Lines: ...

    @abstractmethod
    def go_on(self, label: str) -> Lines:
        """Begin the loop anew."""

    def leave_outer(self, label: str) -> Lines:
        """Leave a loop around the innermost one."""
        return self.leave(label)

    def go_on_outer(self, label: str) -> Lines:
        """Begin a loop around the innermost one anew."""
        return self.go_on(label)

    @abstractmethod
    def give_back(self, value: str) -> Lines:
        """Return from a function with a value, or from a procedure where `value` is ''."""

    @abstractmethod
    def fill(self, targets: list[str], values: list[str], rest: str) -> Lines:
        """Put the values of a query's row into variables; `rest` is all from FROM on."""

    def fill_strictly(self, targets: list[str], values: list[str], rest: str) -> Lines:
        """Do the same where a query that meets no row is an error, or wakes a handler."""
        return self.fill(targets, values, rest)

    def fill_if_met(self, targets: list[str], values: list[str], rest: str) -> Lines:
        """Do the same, with no error and no handler for a query that meets no row, which leaves the variables."""
        return self.fill(targets, values, rest)

    def fill_or(self, targets: list[str], values: list[str], rest: str, missed: Lines) -> Lines:
        """Do the same, and something else where a query meets no row."""
        return [*self.fill(targets, values, rest), *self.rows_met(missed, [])]

    @abstractmethod
    def fail(self, message: str, state: str = "") -> Lines:
        """Raise an error of one's own, with an SQLSTATE where the language has them; '' for that of errors without one."""

    @abstractmethod
    def fail_again(self) -> Lines:
        """Raise the error that a handler has caught."""

    @abstractmethod
    def protect(self, body: Lines, handlers: Handlers) -> Lines:
        """Write statements whose errors are caught, after which those behind them go on."""

    rows_changed = ""
    """How many rows the statement before has changed; '' where no expression gives it."""
    found = ""
    """The variable that counts them for FOUND of PL/pgSQL, which a fetch sets as well; '' where nothing asks for it."""
    rows_note = ""
    """Construct that tells how far `rows_changed` is from the rows that a statement has found; '' where it is the same."""
    caught_text = ""
    """The text of the error that a handler has caught; '' where no expression gives it."""
    caught_number = ""
    """The number of the error that a handler has caught; '' where no expression gives it."""
    error_numbers: Mapping[int, int] = {}
    """Numbers of SQL Server by those of the target, for errors that both know."""

    def rows_met(self, missing: Lines, several: Lines) -> Lines:
        """Write what happens where the query right before has met no row, or several; [] where the target does so itself."""
        return []

    keeps_parameters = False
    """Whether a parameter that gives nothing back cannot be assigned to."""
    calls_with_values = False
    """Whether a call takes constants and variables only, so that every other value goes into a variable first."""

    @abstractmethod
    def call(self, name: str, arguments: list[tuple[str, bool]]) -> Lines:
        """Call a procedure; each argument comes with whether it gives something back."""

    @abstractmethod
    def result(self, query: str) -> Lines:
        """Give out the rows of a query."""

    @abstractmethod
    def open_cursor(self, cursor: str, query: str) -> Lines: ...

    @abstractmethod
    def fetch(self, cursor: str, targets: list[str], met: Lines, missed: Lines) -> Lines:
        """Fetch the next row into variables, and do one thing where there is one, another where there is none."""

    def fetch_or_fail(self, cursor: str, targets: list[str]) -> Lines:
        """Fetch the next row into variables, and raise an error where there is none."""
        return self.fetch(cursor, targets, [], self.fail_as(Caught.NO_ROW))

    @abstractmethod
    def close_cursor(self, cursor: str) -> Lines: ...

    integer = "bigint"
    """Type of a whole number."""
    has_row_loops = True
    """Whether there are loops over the rows of a query."""

    def assign_query(self, target: str, value: str) -> Lines:
        """Assign a value that holds a query."""
        return self.assign(target, value)

    def over_rows(self, variable: str, query: str, body: Lines, label: str) -> Lines:
        """Run statements for each row of a query."""
        raise CannotDraft("a loop over a query")

    has_goto = False
    """Whether a label before any statement can be jumped to."""

    def labelled(self, label: str, body: Lines, *, is_loop: bool) -> Lines:
        """Write a block that `leave` leaves, or a loop that `go_on` repeats and that ends by itself."""
        raise CannotDraft("GOTO")

    one_event_per_trigger = False
    """Whether a trigger answers to one kind of change alone."""
    fires_for_columns = False
    """Whether the head of a trigger can name columns of which an UPDATE must set one."""
    guard_note = ""
    """Construct that tells how far `updates` is from such a head; '' where it is the same."""

    fires_for_statements = False
    """Whether a trigger can fire once for a statement."""

    def fires(self, timing: str, events: list[str], columns: list[str], table: str, by_row: bool = True) -> str:
        """Write when a trigger fires, and on which table: for each row, or once for a statement."""
        return f"{timing.upper()} {' OR '.join(events).upper()} ON {table} FOR EACH ROW"

    def updates(self, column: str) -> str:
        """Write whether the UPDATE that fires a trigger sets a column."""
        raise CannotDraft("a test of what an UPDATE sets")

    def row_column(self, row: str, column: str) -> str:
        """Return how a column of the row before (OLD) or after (NEW) the change is written in a trigger."""
        return f"{row}.{column}"

    always = "1 = 1"
    """A condition that holds."""

    def truth(self, condition: str) -> str:
        """Return a condition as the value that stands for a truth value."""
        return f"CASE WHEN {condition} THEN 1 ELSE 0 END"

    def nothing(self) -> Lines:
        return []

    def say(self, text: str) -> Lines:
        """Tell the client something; left out where nobody would hear it."""
        return [f"-- Left out, as there is nobody to tell it to: {' '.join(text.split())}"]

    def wait(self, seconds: str) -> Lines:
        """Let a number of seconds pass."""
        raise CannotDraft("waiting for a while")

    def truncate(self, table: str) -> Lines:
        return [f"TRUNCATE TABLE {table};"]

    def begin_transaction(self) -> Lines:
        raise CannotDraft("a transaction that the routine begins")

    def end_transaction(self, word: str) -> Lines:
        return [f"{word};"]


def is_cut_short(body: Lines, jump: Lines) -> bool:
    """Whether statements hold a jump to the end of a round."""
    return any(line.strip() in jump for line in body)


def lone(lines: Lines, nothing: Lines) -> Lines:
    """Return statements, or the one that does nothing where there are only comments."""
    return lines if any(not line.lstrip().startswith("--") for line in lines) else [*lines, *nothing]
