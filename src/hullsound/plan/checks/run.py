"""Runs checks on both sides, read-only, and says where they differ; what was run is kept, so that a run can go on."""

import hashlib
import json
import time
from collections import Counter
from collections.abc import Callable, Iterable, Sequence
from decimal import Decimal, InvalidOperation
from enum import StrEnum
from pathlib import Path
from typing import Any, Final

import msgspec

from hullsound.errors import SourceError
from hullsound.survey.live.session import QueryRefusedError, Session

from .model import Check, CheckSet, Expected, Level, Rule, Sample

RUN_SCHEMA: Final = "hullsound.checks-run/1"
_ROWS_TOLD: Final = 5
"""Rows of a sample that a difference names."""
_ORDER: Final = tuple(Level)


class Verdict(StrEnum):
    EQUAL = "equal"
    DIFFERENT = "different"
    FAILED = "failed"
    """A side refused the query: nothing is known."""


class Difference(msgspec.Struct, frozen=True):
    """One field that is not the same on both sides."""

    measure: str
    column: str
    source: str | None
    target: str | None


class CheckResult(msgspec.Struct, frozen=True):
    id: str
    level: str
    """quick, standard, full or sample."""
    table: str
    verdict: Verdict
    differences: list[Difference]
    said: str
    """What a side said to a query that it refused; '' else."""
    seconds: float


class CheckRun(msgspec.Struct, frozen=True):
    """What a run of checks found."""

    schema: str
    source: str
    target: str
    level: str
    results: list[CheckResult]
    expected: list[Expected]
    left_out: list[Expected]
    seconds: float

    @property
    def is_equal(self) -> bool:
        return all(result.verdict is Verdict.EQUAL for result in self.results)

    def counts(self) -> dict[str, int]:
        """Return how many checks have which verdict."""
        found = Counter(result.verdict.value for result in self.results)
        return {verdict.value: found[verdict.value] for verdict in Verdict}


class Kept:
    """The file of results: one JSON object for each line, appended as soon as it is known."""

    def __init__(self, path: Path | None, *, is_resumed: bool) -> None:
        self.path = path
        self.known: dict[str, CheckResult] = {}
        if path is None:
            return
        if is_resumed and path.is_file():
            for line in path.read_text(encoding="utf-8").splitlines():
                try:
                    entry = json.loads(line)
                    self.known[entry["key"]] = msgspec.convert(entry["result"], CheckResult)
                except (ValueError, KeyError, msgspec.ValidationError):
                    continue  # a line that was cut off when the run was stopped is run again
        else:
            path.unlink(missing_ok=True)

    def add(self, key: str, result: CheckResult) -> None:
        if self.path is None:
            return
        line = json.dumps({"key": key, "result": msgspec.to_builtins(result)}) + "\n"
        try:
            with self.path.open("a", encoding="utf-8") as stream:
                stream.write(line)
        except OSError as error:
            raise SourceError(f"cannot keep the results: {error.strerror}", where=str(self.path)) from error


def run_checks(
    checks: CheckSet,
    source: Session,
    target: Session,
    level: Level,
    *,
    samples: bool = True,
    kept: Path | None = None,
    is_resumed: bool = False,
    seconds: float = 3600.0,
    progress: Callable[[str, int, int], None] = lambda *_: None,
) -> CheckRun:
    """Run all checks up to a level, and samples. A query may take `seconds`.

    Raises SourceError where a side is lost; what was found until then is in the file `kept`.
    """
    begin = time.monotonic()
    for session, setup in ((source, checks.source_setup), (target, checks.target_setup)):
        session.limit(seconds)
        if setup:
            session.set_up(setup)
    wanted: list[Check | Sample] = [c for c in checks.checks if _ORDER.index(c.level) <= _ORDER.index(level)]
    wanted += checks.samples if samples else []
    store = Kept(kept, is_resumed=is_resumed)
    results = []
    for done, check in enumerate(wanted):
        progress(check.id, done, len(wanted))
        key = hashlib.sha256("\0".join((check.id, check.source, check.target)).encode()).hexdigest()
        result = store.known.get(key)
        if result is None:
            result = _run(check, source, target)
            store.add(key, result)
        results.append(result)
    return CheckRun(
        RUN_SCHEMA, source.address.text, target.address.text, level.value, results, checks.expected, checks.left_out,
        round(time.monotonic() - begin, 2),
    )  # fmt: skip


def _run(check: Check | Sample, source: Session, target: Session) -> CheckResult:
    begin = time.monotonic()
    level = check.level.value if isinstance(check, Check) else "sample"
    differences: list[Difference] = []
    said = ""
    try:
        theirs = _asked("the target", target, check.target)
        mine = _asked("the source", source, check.source) if check.source else []
        if isinstance(check, Sample):
            differences = list(_compare_rows(mine, theirs))
        elif check.rule is Rule.BEYOND:
            differences = list(_compare_sequence(check, theirs))
        else:
            differences = list(_compare_fields(check, mine, theirs))
    except _RefusedError as error:
        said = str(error)
    verdict = Verdict.FAILED if said else Verdict.DIFFERENT if differences else Verdict.EQUAL
    return CheckResult(check.id, level, check.table, verdict, differences, said, round(time.monotonic() - begin, 3))


class _RefusedError(Exception):
    """A side refused a query; says which."""


def _asked(side: str, session: Session, query: str) -> Sequence[tuple[Any, ...]]:
    try:
        return session.ask(query)
    except QueryRefusedError as error:
        raise _RefusedError(f"{side} says: {error.said}") from None


def _compare_fields(
    check: Check, mine: Sequence[tuple[Any, ...]], theirs: Sequence[tuple[Any, ...]]
) -> Iterable[Difference]:
    for field, one, other in zip(check.fields, mine[0], theirs[0], strict=True):
        if not is_same(one, other):
            yield Difference(field.measure, field.column, _shown(one), _shown(other))


def _compare_sequence(check: Check, theirs: Sequence[tuple[Any, ...]]) -> Iterable[Difference]:
    following, highest = theirs[0]
    if following is None or Decimal(str(following)) <= Decimal(str(highest)):
        yield Difference("next number", check.fields[0].column, f"beyond {highest}", _shown(following))


def _compare_rows(mine: Sequence[tuple[Any, ...]], theirs: Sequence[tuple[Any, ...]]) -> Iterable[Difference]:
    """Compare rows by their keys; rows of one key as often as they occur."""
    source, target = Counter((str(k), str(d)) for k, d in mine), Counter((str(k), str(d)) for k, d in theirs)
    missing, extra = source - target, target - source
    changed = {key for key, _ in missing} & {key for key, _ in extra}
    for key in sorted({key for key, _ in missing} | {key for key, _ in extra})[:_ROWS_TOLD]:
        readable = _readable(key)
        if key in changed:
            yield Difference("row", readable, "as it was", "changed")
        elif any(each == key for each, _ in missing):
            yield Difference("row", readable, "there", "missing")
        else:
            yield Difference("row", readable, "not there", "there")


def _readable(key: str) -> str:
    """Return a key without the lengths that mark its parts: `3:abc2:xy` is abc, xy."""
    parts = []
    rest = key
    while rest:
        if rest.startswith("~"):
            parts.append("NULL")
            rest = rest[1:]
            continue
        length, colon, tail = rest.partition(":")
        if not colon or not length.isdigit():
            return key
        parts.append(tail[: int(length)])
        rest = tail[int(length) :]
    return ", ".join(parts)


def is_same(one: Any, other: Any) -> bool:
    """Whether two results say the same: as text, or as numbers where both are."""
    if one is None or other is None:
        return one is None and other is None
    if str(one) == str(other):
        return True
    try:
        return Decimal(str(one)) == Decimal(str(other))
    except InvalidOperation:
        return False


def _shown(value: Any) -> str | None:
    return None if value is None else str(value)
