"""Members of an estate as rows."""

from typing import Final

from hullsound.estate.document import Estate

MEMBER_COLUMNS: Final = (
    "member", "owner", "group", "end of support", "engine", "version", "objects", "lines", "tables", "bytes", "ready objects",
    "ready lines", "blockers", "warnings", "hours P50", "hours P80", "hosting", "clone of", "wave", "source",
)  # fmt: skip


def member_rows(estate: Estate) -> list[tuple[object, ...]]:
    """Return a row for each member that was judged, in the order of the document."""
    return [
        (m.name, m.owner, m.group, m.end_of_support or "", m.engine, m.version, m.objects, m.lines, m.tables, m.bytes,
         m.result.objects_ready, m.result.lines_ready, sum(m.result.blockers.values()), m.result.warnings, m.result.p50,
         m.result.p80, m.result.hosting, m.clone_of, m.wave, m.source)
        for m in estate.members
    ]  # fmt: skip


def failure_rows(estate: Estate) -> list[tuple[object, ...]]:
    return [(each.name, each.owner, each.source, each.reason) for each in estate.failures]
