"""A plan as an iCalendar file (RFC 5545): waves, decisions, and the day on which all is finished."""

import hashlib
from datetime import UTC, date, datetime, time, timedelta
from typing import TYPE_CHECKING, Final

from hullsound import __version__
from hullsound.plan.document import Plan, wave_name

if TYPE_CHECKING:
    from icalendar import Event

_DAY: Final = timedelta(days=1)


def plan_calendar(plan: Plan) -> bytes:
    """Return the calendar. Events have the same identifiers on every run, so that a new plan replaces an older one."""
    from icalendar import Calendar

    calendar = Calendar()
    calendar.add("prodid", f"-//Hull Sound//{__version__}//EN")
    calendar.add("version", "2.0")
    name = ", ".join(plan.sources)
    for wave in plan.waves:
        what = f"{name}: {wave_name(wave.number)}, {len(wave.objects)} objects"
        waits = f"Waits for: {', '.join(wave.waits_for)}." if wave.waits_for else "Waits for nothing."
        text = (
            f"{wave.hours.p50:.0f} h (P50), {wave.hours.p80:.0f} h (P80). "
            f"Finished by {wave.ends_p80} in four of five cases. {waits}"
        )
        calendar.add_component(_event(plan, f"wave-{wave.number}", what, text, wave.begins, wave.ends_p50))
    for decision in plan.decisions:
        what = f"{name}: decide on {decision.title}"
        text = f"{decision.remedy} Objects: {', '.join(decision.objects)}. Needed by {wave_name(decision.wave)}."
        calendar.add_component(_event(plan, f"decision-{decision.construct}", what, text, decision.due, decision.due))
    for kind, day in (("P50", plan.ends_p50), ("P80", plan.ends_p80)):
        calendar.add_component(_event(plan, f"finish-{kind}", f"{name}: finished ({kind})", "", day, day))
    return bytes(calendar.to_ical())


def _event(plan: Plan, key: str, what: str, text: str, first: date, last: date) -> "Event":
    from icalendar import Event

    event = Event()
    identity = hashlib.sha256("\0".join((*plan.sources, plan.target, key)).encode()).hexdigest()[:24]
    event.add("uid", f"{identity}@hull-sound")
    event.add("summary", what)
    if text:
        event.add("description", text)
    event.add("dtstart", first)
    event.add("dtend", last + _DAY)
    event.add("dtstamp", datetime.combine(plan.begins, time(), UTC))
    event.add("transp", "TRANSPARENT")
    return event
