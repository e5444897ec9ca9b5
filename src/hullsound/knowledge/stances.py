"""What a target says to each construct of a source engine.

The first of these that speaks decides: the target's file on the source engine, its file on one of the engine's families,
"as it is" for the target's own engine and its kin, the target's answer to the construct's topic, and "as it is" for what most
engines take. Hostings and target
files can only be laid over that.
"""

import re
from collections.abc import Iterator, Mapping
from functools import cache
from typing import Final

import msgspec

from hullsound.catalog.catalog import Catalog
from hullsound.knowledge.engine_model import Target, version_number
from hullsound.knowledge.model import SAME, Construct, Stance, StanceRow, Way

from .compiled import ROOT
from .load import load_constructs, load_engine
from .rows import Faults, read_rows, toml_files
from .targets import check_stance, load_own_rows, load_target

_ORDER: Final = tuple(Way)
_MINUTES: Final = {
    Way.SAME: (0.0, 0.0, 0.0), Way.LATER: (1.0, 4.0, 15.0), Way.DRAFT: (0.0, 1.0, 3.0), Way.CONFIRM: (2.0, 8.0, 30.0),
    Way.REWRITE: (10.0, 30.0, 90.0), Way.NONE: (60.0, 180.0, 480.0),
}  # fmt: skip
"""Low, likely and high minutes for topics that say none: judgement, not measurement."""


@cache
def load_stances(source: str, target: Target, source_version: int = 0) -> dict[str, Stance]:
    """Return the stance of a target on each construct of a source engine, for its version and hosting.

    Between versions of one engine, what the source's version knows already is the same there; 0 is a version not known.

    Raises KnowledgeError for rows that are wrong or speak of a construct that does not exist.
    """
    faults = Faults()
    constructs = load_constructs(source)
    given = _rows_on(source, target, constructs, faults)
    topics = load_topics(target.engine)
    withheld = _withheld(target, faults)
    is_kin = source == target.engine or source in load_target(target.engine).kin
    stances: dict[str, Stance] = {}
    # The wider construct comes first: its stance stands where the target does not tell a part of it apart.
    for construct in sorted(constructs.values(), key=lambda each: bool(each.wider)):
        silence = SAME if construct.common else None
        row = given.get(construct.id) or (SAME if is_kin else topics.get(construct.topic) or silence)
        if row is None and construct.wider in stances:
            stances[construct.id] = msgspec.structs.replace(stances[construct.wider], construct=construct.id)
            continue
        if row is not None and row.template and len(construct.match.names("function")) > 1 and not construct.synonyms:
            faults.add(
                construct.file, construct.id, f"{target.engine} has one template for functions that are no synonyms"
            )
        over = _over(construct, withheld)
        stance = _at(construct.id, row, target.version) if row is not None else None
        if stance is not None and source == target.engine and not _differs(stance, source_version, target.version):
            stance = _at(construct.id, SAME, target.version)
        if over is not None:
            harder = _at(construct.id, over, target.version)
            # A hosting takes things away; it never makes them easier.
            if stance is None or _ORDER.index(harder.way) >= _ORDER.index(stance.way):
                stance = harder
        if stance is not None:
            stances[construct.id] = stance
    if target.file:
        own = load_own_rows(target.file)
        for construct in constructs.values():
            wider = constructs.get(construct.wider, construct)
            keys = (construct.id, construct.topic, wider.id, wider.topic)
            row = next(filter(None, (own.stances.get(key) or own.topics.get(key) for key in keys)), None)
            if row is not None:
                stances[construct.id] = _at(construct.id, row, target.version)
    faults.raise_any()
    if is_kin:
        return {key: _as_edited(stance) for key, stance in stances.items()}
    return {key: _as_promised(stance) for key, stance in stances.items()} if _promises(source, target) else stances


def stances_for(catalog: Catalog, target: Target) -> dict[str, Stance]:
    """Return the stance of a target on each construct of a catalogue's engine, in the version that was surveyed."""
    return load_stances(catalog.engine, target, version_number(catalog.engine, catalog.version))


def _differs(stance: Stance, source_version: int, target_version: int) -> bool:
    """Whether a stance tells of something that changed between two versions of an engine."""
    if source_version == target_version:
        return False
    # What the target takes no more is told even where the source cannot have it: its code or its version says otherwise.
    knows = source_version >= stance.changed and stance.way not in (Way.REWRITE, Way.NONE)
    return not stance.changed or (stance.changed <= target_version and not knows)


def _promises(source: str, target: Target) -> bool:
    """Whether a target's drafts are written from a source engine of another family."""
    return source in load_target(target.engine).draft_sources


def _as_edited(stance: Stance) -> Stance:
    """Leave the edits that nothing makes to a person; what is to be confirmed keeps its text between kin."""
    if stance.way is Way.DRAFT and not stance.is_rendered and stance.fixer != "keep":
        return msgspec.structs.replace(stance, way=Way.REWRITE)
    return stance


def _as_promised(stance: Stance) -> Stance:
    """Leave what nothing writes to a person: no claim without a draft."""
    if stance.way in (Way.DRAFT, Way.CONFIRM) and not stance.is_written:
        return msgspec.structs.replace(stance, way=Way.REWRITE)
    return stance


def _rows_on(source: str, target: Target, constructs: Mapping[str, Construct], faults: Faults) -> dict[str, StanceRow]:
    """Return the rows of the target's files on a source engine and its families, by construct id."""
    rows: dict[str, StanceRow] = {}
    like = load_target(target.engine).like
    folders = (like, target.engine) if like and source not in (like, target.engine) else (target.engine,)
    for name in (*reversed(load_engine(source).families), source):
        for file in (each for folder in folders for each in toml_files("targets", folder)):
            if file.name == f"from-{name}.toml" or file.name.startswith(f"from-{name}-"):
                for key, row in read_rows(file, StanceRow, faults).items():
                    if f"{source}.{key}" not in constructs:
                        faults.add(file.name, key, f"no construct {source}.{key}")
                    check_stance(file.name, key, row, faults)
                    rows[f"{source}.{key}"] = row
    return rows


@cache
def load_topics(engine: str) -> dict[str, StanceRow]:
    """Return what a target says to topics, whatever the source. Raises KnowledgeError for rows that are wrong."""
    faults = Faults()
    rows: dict[str, StanceRow] = {}
    for name in (load_target(engine).like, engine):
        for file in toml_files("targets", name) if name else ():
            if file.name.startswith("topics"):
                for key, row in read_rows(file, StanceRow, faults).items():
                    check_stance(file.name, key, row, faults)
                    if row.minutes == (0, 0, 0):
                        row = msgspec.structs.replace(row, minutes=_MINUTES[row.way])
                    rows |= dict.fromkeys(key.split(), row)
    faults.raise_any()
    return rows


def _withheld(target: Target, faults: Faults) -> dict[str, StanceRow]:
    """Return what the target's hosting withholds, by construct id or topic."""
    if target.hosting == "own":
        return {}
    rows: dict[str, StanceRow] = {}
    for engine in _with_likeness(target.engine):
        file = ROOT.joinpath("targets", engine, f"{target.hosting}.toml")
        if file.is_file():
            for key, row in read_rows(file, StanceRow, faults).items():
                check_stance(file.name, key, row, faults)
                rows |= dict.fromkeys(key.split(), row)
    return rows


def _with_likeness(engine: str) -> Iterator[str]:
    if load_target(engine).like:
        yield load_target(engine).like
    yield engine


def _over(construct: Construct, withheld: Mapping[str, StanceRow]) -> StanceRow | None:
    keys = (construct.id, construct.topic, construct.wider)
    return next((withheld[key] for key in keys if key and key in withheld), None)


def _shown(template: str) -> str:
    """Write a template for people: letters for its arguments."""
    return re.sub(r"\{(\d+)\}", lambda match: "abcdefghij"[int(match[1])], template)


def _at(construct: str, row: StanceRow, version: int) -> Stance:
    remedy = row.remedy or (f"Becomes {_shown(row.template)}." if row.template else "")
    stance = Stance(
        construct, row.way, remedy, row.minutes, row.template, row.fixer, row.becomes, row.once, row.changed
    )
    for change in row.at:
        if change.since <= version <= change.until:
            values = {
                name: getattr(change, name) for name in change.__struct_fields__ if name not in ("since", "until")
            }
            stance = msgspec.structs.replace(stance, **{k: v for k, v in values.items() if v is not None})
    return stance
