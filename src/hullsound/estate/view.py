"""Puts the results of all members together into one view of the estate."""

from collections import defaultdict
from collections.abc import Mapping, Sequence
from datetime import date

from hullsound.assess.hours import Total
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.settings import Settings, assumptions
from hullsound.survey.live.model import is_address, parse_address

from .clones import find_clones
from .document import SCHEMA_NAME, Estate, EstateWave, Failure, MemberRow, SharedBlocker, Totals
from .links import find_clusters
from .model import Member, MemberResult, ServerFinding

Results = Sequence[tuple[Member, MemberResult]]


def make_estate(results: Results, targets: Sequence[str], settings: Settings) -> Estate:
    """Put members together; the first target is the one that hours and waves are told for."""
    judged = [(member, result) for member, result in results if result.is_judged and targets[0] in result.targets]
    clones = find_clones([(result.name, result.code_marks) for _, result in judged])
    clone_of = {name: group[0] for group in clones for name in group[1:]}
    clusters = find_clusters([result for _, result in judged])
    total, own = _total(judged, targets[0], clone_of, settings)
    p50, p80 = total.percentiles()
    whole = total.mean_minutes() or 1.0
    hours = {name: minutes / whole * p50 for name, minutes in own.items()}
    waves = _waves(judged, targets[0], hours, clusters, clone_of, settings)
    wave_of = {name: wave.number for wave in waves for name in wave.members}
    rows = [_row(member, result, targets, clone_of, wave_of) for member, result in judged]
    rows.sort(key=lambda row: (bool(row.result.blockers), -row.result.objects_ready, row.name))
    failures = [
        Failure(member.name, shown_source(member.source), member.owner, result.reason or "not judged for this target")
        for member, result in results
        if not (result.is_judged and targets[0] in result.targets)
    ]
    return Estate(
        schema=SCHEMA_NAME,
        targets=list(targets),
        totals=Totals(
            members=len(results),
            judged=len(judged),
            failed=len(failures),
            clones=len(clone_of),
            objects=sum(result.objects for _, result in judged),
            lines=sum(result.lines for _, result in judged),
            bytes=sum(result.bytes for _, result in judged),
            blocked=sum(bool(result.targets[targets[0]].blockers) for _, result in judged),
            p50=p50,
            p80=p80,
        ),
        members=rows,
        failures=failures,
        blockers=_blockers(judged, targets[0], clone_of),
        clones=clones,
        clusters=clusters,
        servers=_servers(judged),
        waves=waves,
        assumptions=[*assumptions(settings, "estate"), *assumptions(settings, "effort")],
    )


def shown_source(source: str) -> str:
    """Return a source for people: an address without its password."""
    return parse_address(source).text if is_address(source) else source


def _total(
    judged: Results, target: str, clone_of: Mapping[str, str], settings: Settings
) -> tuple[Total, dict[str, float]]:
    """Return the minutes of the estate by what they belong to, and the mean minutes of each member."""
    total = Total(settings.effort)
    own: dict[str, float] = {}
    for _, result in judged:
        share = settings.estate.clone_share if result.name in clone_of else 1.0
        minutes = result.targets[target].minutes
        for key, each in minutes.items():
            total.add(key, each, share)
        own[result.name] = sum(sum(each) for each in minutes.values()) / 3 * share
    return total, own


def _row(
    member: Member,
    result: MemberResult,
    targets: Sequence[str],
    clone_of: Mapping[str, str],
    wave_of: Mapping[str, int],
) -> MemberRow:
    return MemberRow(
        result.name, shown_source(member.source), member.owner, member.group, member.end_of_support, result.engine, result.version,
        result.objects, result.lines, result.unread_lines, result.tables, result.bytes, result.targets[targets[0]],
        {target: result.targets[target] for target in targets[1:] if target in result.targets},
        clone_of.get(result.name, ""), wave_of.get(result.name, 0),
    )  # fmt: skip


def _blockers(judged: Results, target: str, clone_of: Mapping[str, str]) -> list[SharedBlocker]:
    members: dict[str, set[str]] = defaultdict(set)
    places: dict[str, int] = defaultdict(int)
    titles = {key: row.title for key, row in load_general().items()}
    for engine in {result.engine for _, result in judged}:
        titles |= {key: row.title for key, row in load_constructs(engine).items()}
    for _, result in judged:
        for construct, count in result.targets[target].blockers.items():
            members[construct].add(clone_of.get(result.name, result.name))
            places[construct] += 0 if result.name in clone_of else count
    found = [SharedBlocker(key, titles.get(key, key), places[key], sorted(names)) for key, names in members.items()]
    return sorted(found, key=lambda each: (-len(each.members), -each.places, each.construct))


def _servers(judged: Results) -> dict[str, list[ServerFinding]]:
    found: dict[str, dict[tuple[str, str], ServerFinding]] = defaultdict(dict)
    for _, result in judged:
        if result.server:
            for finding in result.server_findings:
                found[result.server].setdefault((finding.construct, finding.message), finding)
    return {server: list(each.values()) for server, each in sorted(found.items())}


def _waves(
    judged: Results,
    target: str,
    hours: Mapping[str, float],
    clusters: Sequence[Sequence[str]],
    clone_of: Mapping[str, str],
    settings: Settings,
) -> list[EstateWave]:
    """Fill waves with clusters and single members: the pilot is the smallest that nothing blocks, blocked ones come last.

    Among the others, the nearest end of support goes first, and then the least work. Clones follow the member that stands for
    them, and clusters stay whole, so that a wave may be longer than planned.
    """
    blocked = {result.name for _, result in judged if result.targets[target].blockers}
    together = {name: tuple(cluster) for cluster in clusters for name in cluster}
    groups: dict[tuple[str, ...], None] = {}
    for _, result in judged:
        groups.setdefault(together.get(result.name, (result.name,)))
    size = {group: sum(hours[name] for name in group) for group in groups}

    support: dict[str, date] = {}  # of a member that stands for clones, the nearest of all of them
    for member, result in judged:
        stands = clone_of.get(result.name, result.name)
        support[stands] = min(support.get(stands, date.max), member.end_of_support or date.max)

    def place(group: tuple[str, ...]) -> tuple[bool, date, float, bool, tuple[str, ...]]:
        is_clone = len(group) == 1 and group[0] in clone_of
        stands = clone_of[group[0]] if is_clone else group[0]
        leader = together.get(stands, (stands,))
        nearest = min(support[clone_of.get(name, name)] for name in leader)
        return bool(blocked.intersection(group)), nearest, size.get(leader, size[group]), is_clone, group

    ordered = sorted(groups, key=lambda group: (place(group)[0], size[group], group))
    pilot = next((group for group in ordered if not blocked.intersection(group)), None)
    rest = sorted((group for group in groups if group != pilot), key=place)
    room = settings.plan.team * settings.plan.hours * settings.plan.wave_weeks
    filled: list[list[str]] = [list(pilot)] if pilot else []
    current: list[str] = []
    used = 0.0
    for group in rest:
        if current and used + size[group] > room:
            filled.append(current)
            current, used = [], 0.0
        current += group
        used += size[group]
    filled += [current] if current else []
    return [
        EstateWave(number, sorted(names), round(sum(hours[n] for n in names), 2), sorted(blocked.intersection(names)))
        for number, names in enumerate(filled, start=1)
    ]
