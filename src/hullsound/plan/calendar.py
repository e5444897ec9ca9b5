"""Working time into dates: when each wave is finished, with how much certainty."""

from collections.abc import Sequence
from datetime import date, timedelta
from typing import TYPE_CHECKING, Final, NamedTuple

import numpy as np

from hullsound.ranges import percentiles
from hullsound.settings import PlanRules

if TYPE_CHECKING:
    from numpy.typing import NDArray

WORKDAYS: Final = 5
"""Working days of a week, Monday to Friday."""


class Calendar:
    """Counts working days from the first day of the plan on, without weekends and days on which nobody works."""

    def __init__(self, start: date, rules: PlanRules) -> None:
        self.rules = rules
        self._free = np.array(rules.free_days, dtype="datetime64[D]")
        self.start = self.day(0.0, start)

    def day(self, days: float, start: date | None = None) -> date:
        """Return the date on which so many working days have gone: 0 is the first, as is half a day."""
        whole = max(int(np.ceil(round(days, 6))) - 1, 0)
        found = np.busday_offset(np.datetime64(start or self.start), whole, roll="forward", holidays=self._free)
        return date.fromisoformat(str(found))

    def next_day(self, after: date) -> date:
        """Return the first working day behind a date."""
        return self.day(0.0, after + timedelta(days=1))

    def weeks_before(self, day: date, weeks: float) -> date:
        """Return the day so many weeks before another, but not before the plan begins."""
        return max(day - timedelta(days=round(weeks * 7)), self.start)

    @property
    def hours_a_day(self) -> float:
        """Hours of one person on one working day."""
        return self.rules.hours / WORKDAYS


class Finish(NamedTuple):
    """When something is finished: in half of all cases, and in four of five."""

    p50: date
    p80: date


def finishes(hours: "NDArray[np.float64]", largest: Sequence[float], calendar: Calendar) -> list[Finish]:
    """Return when each wave is finished, from draws of its hours: shape (waves, draws).

    People go on to the next wave as soon as they are free, and share the hours; but a wave takes no less than its `largest`
    object, in hours, takes one person. So more people, or more hours a week, never make any wave later.
    """
    done = np.cumsum(hours, axis=0) / calendar.rules.team
    alone = np.maximum.accumulate(np.array(largest)) if len(largest) else np.zeros(0)
    days = np.maximum(done, alone[:, None]) / calendar.hours_a_day
    found = []
    for row in days:
        p50, p80 = percentiles(row)
        found.append(Finish(calendar.day(p50), calendar.day(p80)))
    return found
