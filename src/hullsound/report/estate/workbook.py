"""An estate as a workbook: summary, members, blockers, clones, clusters, waves and failures."""

from hullsound.estate.document import Estate
from hullsound.report.workbook import Sheet, workbook

from .rows import MEMBER_COLUMNS, failure_rows, member_rows


def estate_workbook(estate: Estate) -> bytes:
    """Return the workbook."""
    totals = estate.totals
    summary: list[tuple[object, ...]] = [
        ("target", estate.targets[0]), ("members", totals.members), ("judged", totals.judged), ("failed", totals.failed),
        ("clones of others", totals.clones), ("blocked", totals.blocked), ("objects", totals.objects), ("lines", totals.lines),
        ("bytes", totals.bytes), ("hours, P50", totals.p50), ("hours, P80", totals.p80),
    ]  # fmt: skip
    sheets: list[Sheet] = [
        ("Summary", ("what", "value"), summary),
        ("Members", MEMBER_COLUMNS, member_rows(estate)),
        ("Blockers", ("construct", "what", "places", "members", "which"),
         [(b.construct, b.title, b.places, len(b.members), ", ".join(b.members)) for b in estate.blockers]),
        ("Clones", ("stands for them", "clone"), [(group[0], name) for group in estate.clones for name in group[1:]]),
        ("Clusters", ("cluster", "member"),
         [(number, name) for number, group in enumerate(estate.clusters, start=1) for name in group]),
        ("Waves", ("wave", "member", "blocked"),
         [(w.number, name, "yes" if name in w.blocked else "") for w in estate.waves for name in w.members]),
        ("Servers", ("server", "severity", "construct", "what it is", "what to do"),
         [(server, f.severity, f.construct, f.message, f.remedy) for server, those in estate.servers.items() for f in those]),
        ("Failures", ("member", "owner", "source", "reason"), failure_rows(estate)),
    ]  # fmt: skip
    return workbook(sheets)
