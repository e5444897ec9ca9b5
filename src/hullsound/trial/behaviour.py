"""Whether drafts behave as the source: the same calls and queries on both engines, on a few made-up rows."""

import datetime
import decimal
import json
import re
import tomllib
import uuid
from collections.abc import Mapping, Sequence
from contextlib import suppress
from pathlib import Path
from typing import Any, Final, Protocol

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, Parameter
from hullsound.errors import UsageError

Row = dict[str, Any]
"""Values by column."""
Rows = dict[str, list[Row]]
"""Rows by table."""


class BehaviourCase(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One call of a routine or one query, and the tables whose rows are compared behind it."""

    name: str
    routine: str = ""
    """Id of a function or procedure, or the end of it."""
    arguments: tuple[Any, ...] = ()
    """Values of the parameters in their order; those that only give something back are left out."""
    query: str = ""
    """A query or a change in the source's SQL."""
    object: str = ""
    """Id of the view or trigger that the query tells of, where it tells of one."""
    rows: Rows = {}
    """Rows for this case, by table, beside those of the file."""
    watch: tuple[str, ...] = ()
    """Tables whose rows are compared behind the call."""


class CaseFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A file of cases: rows that all of them find, and the cases."""

    case: tuple[BehaviourCase, ...]
    rows: Rows = {}


USER: Final = "the user of the run"
"""What stands for the name of the session's user, which differs from engine to engine."""


class Observed(msgspec.Struct):
    """What one engine did: values given back, result sets, rows of watched tables, or the fact that it failed."""

    values: list[Any] = []
    results: list[list[tuple[Any, ...]]] = []
    tables: dict[str, list[tuple[Any, ...]]] = {}
    failed: bool = False
    error: str = ""


class CaseResult(msgspec.Struct, frozen=True):
    """What both engines did with one case."""

    name: str
    object: str
    """Id of the routine, view or trigger; '' for a query of its own."""
    is_equal: bool
    difference: str
    """Where they differ, for people; '' where they agree."""
    both_failed: bool = False
    """Whether both engines answered with an error."""


class Side(Protocol):
    """One engine that holds the schema, its rows and its code."""

    def observe(self, case: BehaviourCase, item: Object | None, rows: Rows) -> Observed:
        """Run one case on fresh rows and tell what happened. Never raises for what the engine says of the case."""
        ...


class Source(Side, Protocol):
    """The source's own engine, which also says which made-up rows its tables take."""

    refused: dict[str, str]
    """What the engine said of objects that it did not make, by id."""

    def takes(self, table: str, row: Row) -> bool:
        """Insert a row beside those that are there; return whether the engine takes it."""
        ...

    def empty(self) -> None:
        """Take all rows away."""
        ...


class Target(Side, Protocol):
    """The engine that holds the drafts."""

    def refusal(self, table: str, row: Row) -> str:
        """Return what the engine says against a row by itself; '' where it takes it."""
        ...


def read_cases(path: Path) -> CaseFile:
    """Read a file of cases. Raises UsageError where it is wrong."""
    try:
        cases = msgspec.convert(tomllib.loads(path.read_text(encoding="utf-8")), CaseFile)
    except (OSError, UnicodeDecodeError, tomllib.TOMLDecodeError, msgspec.ValidationError) as error:
        raise UsageError(
            f"cannot read the cases: {error}", where=str(path), hint="The manual shows a file of cases."
        ) from error
    for case in cases.case:
        if bool(case.routine) == bool(case.query):
            raise UsageError(f"the case {case.name!r} needs either a routine or a query", where=str(path))
    return cases


def compare_cases(catalog: Catalog, cases: CaseFile, source: Side, target: Side) -> list[CaseResult]:
    """Run every case on both sides and compare. Raises UsageError for a routine that is not in the catalogue."""
    results = []
    for case in cases.case:
        item = find_routine(catalog, case.routine) if case.routine else None
        rows = {table: [*cases.rows.get(table, []), *case.rows.get(table, [])] for table in {**cases.rows, **case.rows}}
        before, after = source.observe(case, item, rows), target.observe(case, item, rows)
        difference = find_difference(before, after, _counted(catalog))
        both = before.failed and after.failed
        results.append(
            CaseResult(case.name, item.id if item is not None else case.object, not difference, difference, both)
        )
    return results


def find_routine(catalog: Catalog, name: str) -> Object:
    """Return the routine that a case names, with or without the types of its parameters.

    Raises UsageError for none or several.
    """
    wanted = name.lower()
    routines = [item for item in catalog.objects.values() if item.routines]
    found = [item for item in routines if item.id in (name, wanted)] or [
        item
        for item in routines
        if any(each.endswith(f".{wanted}") for each in (item.id.lower(), item.id.lower().partition("(")[0]))
    ]
    if len(found) != 1:
        raise UsageError(f"{'no' if not found else 'more than one'} routine is named {name}", where="cases")
    return found[0]


def unnamed(row: Sequence[Any], user: str) -> tuple[Any, ...]:
    """Return a row without the name of the session's user."""
    return tuple(USER if value == user else value for value in row)


def _counted(catalog: Catalog) -> dict[str, set[int]]:
    """Return the places of the columns that count by themselves, by table."""
    return {
        item.name.lower(): {place for place, column in enumerate(item.columns) if column.identity}
        for item in catalog.objects.values()
        if item.columns
    }


def find_difference(before: Observed, after: Observed, counted: Mapping[str, set[int]] | None = None) -> str:
    """Return where two observations differ; '' where they agree.

    Rows that are equal but for the numbers of `counted` columns agree: the order of what is inserted decides on these.
    """
    if before.failed != after.failed:
        one = f"failed with {before.error}" if before.failed else "succeeded"
        other = f"failed with {after.error}" if after.failed else "succeeded"
        return f"the source {one}, the target {other}"
    if before.failed:
        return ""
    if plain(before.values) != plain(after.values):
        return f"the source gives {_told(before.values)}, the target {_told(after.values)}"
    if len(before.results) != len(after.results):
        return f"the source gives {len(before.results)} results, the target {len(after.results)}"
    for rows, others in zip(before.results, after.results, strict=True):
        if plain(rows) != plain(others):
            return f"the source gives the rows {_told(rows[:3])}, the target {_told(others[:3])}"
    for table, found in before.tables.items():
        others = after.tables.get(table, [])
        hidden = (counted or {}).get(table, set())
        if plain(found) != plain(others) and plain(_without(found, hidden)) != plain(_without(others, hidden)):
            return f"the rows of {table} differ: {_first_apart(found, after.tables.get(table, []))}"
    return ""


def _without(rows: list[tuple[Any, ...]], hidden: set[int]) -> list[tuple[Any, ...]]:
    return [tuple(value for place, value in enumerate(row) if place not in hidden) for row in rows]


def _first_apart(one: list[tuple[Any, ...]], other: list[tuple[Any, ...]]) -> str:
    left, right = plain(one), plain(other)
    apart = [row for row in left if row not in right][:1], [row for row in right if row not in left][:1]
    return f"{_told(apart[0]) or 'nothing'} in the source, {_told(apart[1]) or 'nothing'} on the target"


def _told(values: Sequence[Any]) -> str:
    """Write values for people: rows in brackets, numbers without needless zeros."""
    return ", ".join(f"({_told(each)})" if isinstance(each, tuple) else _one(each) for each in values)


def _one(value: Any) -> str:
    if value is None:
        return "NULL"
    if isinstance(value, decimal.Decimal):
        text = format(value, "f")
        return text.rstrip("0").rstrip(".") if "." in text else text
    return repr(value) if isinstance(value, str) else str(value)


def plain(value: Any) -> Any:
    """Return a value in the form in which engines can be compared.

    Numbers go by size, moments and bytes as text, JSON by its content, a date of zeros as NULL, and rows are sorted.
    """
    if isinstance(value, bool):
        return decimal.Decimal(int(value))
    if isinstance(value, int | float | decimal.Decimal):
        return (
            decimal.Decimal(str(value)).normalize().quantize(_DIGITS)
            if _is_small(value)
            else decimal.Decimal(str(value))
        )
    if isinstance(value, datetime.datetime):
        value = value.astimezone(datetime.UTC).replace(tzinfo=None) if value.tzinfo else value
        if abs(value - datetime.datetime.now(datetime.UTC).replace(tzinfo=None)) < _A_DAY:
            return "the time of the run"
        text = value.isoformat(sep=" ")
        return text.removesuffix(" 00:00:00")
    if isinstance(value, datetime.date):
        return value.isoformat()
    if isinstance(value, datetime.timedelta):
        return str(value)
    if isinstance(value, datetime.time):
        return str(datetime.timedelta(hours=value.hour, minutes=value.minute, seconds=value.second))
    if isinstance(value, uuid.UUID):
        return str(value)
    if isinstance(value, bytes | bytearray | memoryview):
        return bytes(value).hex()
    if isinstance(value, list):
        return sorted((plain(each) for each in value), key=repr) if value and isinstance(value[0], tuple) else [
            plain(each) for each in value
        ]  # fmt: skip
    if isinstance(value, tuple):
        return tuple(plain(each) for each in value)
    if isinstance(value, dict):
        return {key: plain(each) for key, each in sorted(value.items())}
    if isinstance(value, str):
        return _plain_text(value)
    return value


def _plain_text(value: str) -> Any:
    if value.startswith("0000-00-00"):
        return None
    if value[:1] in ("{", "[") and value[-1:] in ("}", "]"):
        with suppress(ValueError, RecursionError):
            found = json.loads(value)
            # A list of values is in an order, unlike the rows of a result.
            return plain(found) if isinstance(found, dict) else [plain(each) for each in found]
    return _MIDNIGHT.sub("", value)


_MIDNIGHT: Final = re.compile(r"(?<=^\d{4}-\d\d-\d\d) 00:00:00$")
_A_DAY: Final = datetime.timedelta(days=1)
_DIGITS: Final = decimal.Decimal("0.00001")


def _is_small(value: Any) -> bool:
    return abs(decimal.Decimal(str(value))) < decimal.Decimal(10) ** 18


def given_arguments(parameters: Sequence[Parameter], arguments: Sequence[Any]) -> list[tuple[Parameter, Any]]:
    """Pair parameters with values: those that only give something back get None, those left to a default are left out."""
    values = list(arguments)
    pairs: list[tuple[Parameter, Any]] = []
    for each in parameters:
        if each.mode == "out":
            pairs.append((each, None))
        elif values:
            pairs.append((each, values.pop(0)))
        elif not each.has_default:
            pairs.append((each, None))
    return pairs
