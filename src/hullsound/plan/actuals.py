"""What work really took: read from a table, checked against the objects, and laid beside the estimate."""

from collections.abc import Iterable, Mapping, Sequence
from pathlib import Path
from typing import Final

import msgspec

from hullsound.catalog.judgements import Actual
from hullsound.errors import SourceError
from hullsound.ranges import percentiles
from hullsound.settings import Settings
from hullsound.tables import LINE, Column, amount, flag, read_table, table_error, text

from .document import Hours
from .learning import Learned
from .make import finished_of
from .work import PlanSource, gather_work

ACTUAL_COLUMNS: Final = (
    Column("object", text, is_required=True, also=("id", "name")),
    Column("hours", amount, is_required=True, also=("h", "actual", "actual hours")),
    Column("done", flag, also=("finished", "complete")),
)
_OFF_BY: Final = 1.5
"""From this factor on, up or down, a construct is told as misjudged."""


class Misjudged(msgspec.Struct, frozen=True):
    """A construct that took much more or less than estimated."""

    construct: str
    objects: int
    """Finished objects that hold it."""
    factor: float
    """What it takes against the estimate."""


class ActualsReport(msgspec.Struct, frozen=True):
    """The estimate before and after what was finished."""

    finished: int
    """Finished objects."""
    spent: float
    """Hours that were recorded, on finished objects and others."""
    estimated: float
    """Mean hours that the finished objects were estimated at."""
    took: float
    """Hours that the finished objects took."""
    team_factor: float
    """How long this team takes against the minutes of the knowledge."""
    spread_factor: float
    """How much wider (above 1) what happened was than assumed."""
    remaining_before: Hours
    """Hours of what is left, by the estimate alone."""
    remaining_after: Hours
    """Hours of what is left, by what was learned."""
    misjudged: list[Misjudged]


def read_hours(path: Path, known: Mapping[str, str]) -> list[Actual]:
    """Read a table of hours. `known` holds the ids of all objects; a name that means one object alone is enough.

    Raises SourceError for the file, for objects that do not exist, and for one that is named twice.
    """
    rows = read_table(path, ACTUAL_COLUMNS, "the table of hours")
    by_name: dict[str, list[str]] = {}
    for item in known:
        by_name.setdefault(item.lower(), []).append(item)
        by_name.setdefault(item.rpartition(".")[2].lower(), []).append(item)
    found: dict[str, Actual] = {}
    faults = []
    for row in rows:
        matches = list(dict.fromkeys(by_name.get(row["object"].lower(), [])))
        exact = [item for item in matches if item.lower() == row["object"].lower()]
        matches = exact or matches
        where = f"line {row[LINE]}, column object: {row['object']!r}"
        if len(matches) != 1:
            faults.append(
                f"{where} {'is no object of the hull file' if not matches else 'is not clear: ' + ' or '.join(matches)}"
            )
        elif matches[0] in found:
            faults.append(f"{where} is named twice")
        else:
            found[matches[0]] = Actual(matches[0], row["hours"], row.get("done") is not False)
    if faults:
        raise table_error(path, faults, "Nothing was recorded. hullsound findings lists the objects.")
    if not found:
        raise SourceError(
            "holds no hours", where=str(path), hint="Each line names an object, its hours, and whether it is done."
        )
    return list(found.values())


def report_actuals(sources: Sequence[PlanSource], actuals: Iterable[Actual], settings: Settings) -> ActualsReport:
    """Lay the recorded hours beside the estimate, and say what they change."""
    recorded = list(actuals)
    done = {row.object for row in recorded if row.done}
    work = gather_work(sources, settings.effort, done)
    finished = finished_of(work, recorded)
    left = [[minutes for unit in work.units.values() for minutes in unit.parts.values()]]
    before = Learned(work.total, [], settings.effort)
    after = Learned(work.total, finished, settings.effort)
    lessons = after.lessons()
    names = {each.object for each in finished}
    return ActualsReport(
        finished=len(done),
        spent=round(sum(row.hours for row in recorded), 2),
        estimated=round(sum(before.expected(work.minutes[item]) for item in names), 2),
        took=round(sum(each.hours for each in finished), 2),
        team_factor=round(lessons[0].factor, 3),
        spread_factor=round(after.spread_factor if finished else 1.0, 3),
        remaining_before=_hours(before, left),
        remaining_after=_hours(after, left),
        misjudged=[
            Misjudged(each.group, each.objects, round(each.factor, 2))
            for each in lessons[1:]
            if not 1 / _OFF_BY <= each.factor <= _OFF_BY
        ],
    )


def _hours(learned: Learned, left: list[list[Mapping[str, float]]]) -> Hours:
    p50, p80 = percentiles(learned.draw(left)[0])
    return Hours(round(p50, 1), round(p80, 1))
