"""What a construct is and what targets say to it."""

from difflib import get_close_matches

import msgspec

from hullsound.errors import UsageError
from hullsound.knowledge.engine_model import Target, version_text
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.knowledge.model import Stance
from hullsound.knowledge.stances import load_stances
from hullsound.knowledge.targets import all_targets, load_target, parse_target, takes
from hullsound.sql.dialect import ENGINES


class Entry(msgspec.Struct, frozen=True):
    id: str
    title: str


class StanceEntry(msgspec.Struct, frozen=True):
    target: str
    way: str
    severity: str
    minutes: tuple[float, float, float]
    remedy: str
    becomes: str
    """Text of the target, where the stance gives one."""


class ConstructPage(msgspec.Struct, frozen=True):
    id: str
    title: str
    meaning: str
    example: str
    topic: str
    """What it is about in any engine, as target files may answer it; '' for a remark of Hull Sound's own."""
    stances: list[StanceEntry]


def list_constructs() -> list[Entry]:
    """Return all constructs of all engines, and Hull Sound's own remarks, by id."""
    entries = [Entry(key, row.title) for key, row in load_general().items()]
    entries += [Entry(c.id, c.title) for engine in ENGINES for c in load_constructs(engine).values()]
    return sorted(entries, key=lambda entry: entry.id)


def explain_construct(name: str, target: str = "") -> ConstructPage:
    """Return what is known of a construct, for one target or all. Raises UsageError if there is no such construct."""
    wanted = name.lower()
    general = load_general().get(wanted)
    if general is not None:
        stance = StanceEntry(
            "every target", general.way.value, general.way.severity.value, general.minutes, general.remedy, ""
        )
        return ConstructPage(wanted, general.title, general.meaning, "", "", [stance])
    engine = wanted.partition(".")[0]
    construct = load_constructs(engine).get(wanted) if engine in ENGINES else None
    if construct is None:
        close = get_close_matches(wanted, [entry.id for entry in list_constructs()], n=5, cutoff=0.4)
        raise UsageError(
            f"no construct {name!r}", hint=f"Meant: {', '.join(close)}?" if close else "List all: hullsound explain"
        )
    return ConstructPage(
        construct.id,
        construct.title,
        construct.meaning,
        construct.example,
        construct.topic,
        _stances(construct.id, target),
    )


def _stances(construct: str, target: str) -> list[StanceEntry]:
    """Return the stances of a target, or of all; targets that say the same are one entry."""
    groups: dict[tuple[str, Stance], list[Target]] = {}
    source = construct.partition(".")[0]
    for each in [parse_target(target)] if target else all_targets():
        stance = load_stances(source, each).get(construct) if takes(each.engine, source) else None
        if stance is not None:
            groups.setdefault((each.engine, stance), []).append(each)
    return [
        StanceEntry(_span(group), s.way.value, s.way.severity.value, s.minutes, s.remedy, s.becomes)
        for (_, s), group in groups.items()
    ]


def _span(targets: list[Target]) -> str:
    """Name a group of targets: versions as a range, and the hosting where not all hostings say the same."""
    engine = targets[0].engine
    hostings = list(dict.fromkeys(t.hosting for t in targets))
    versions = sorted({t.version for t in targets})
    span = "-".join(dict.fromkeys((version_text(versions[0]), version_text(versions[-1]))))
    if len(hostings) == len(load_target(engine).hostings):
        return f"{engine}:{span}"
    return ", ".join(f"{engine}:{span}" + ("" if hosting == "own" else f"@{hosting}") for hosting in hostings)
