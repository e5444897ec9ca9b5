"""Loads what is known of target engines, and reads which target is meant."""

import tomllib
from functools import cache
from pathlib import Path
from typing import Any, Final

import msgspec

from hullsound.errors import KnowledgeError, UsageError
from hullsound.knowledge.engine_model import Target, TargetRow, TargetTypeRow, version_text
from hullsound.knowledge.model import CallRow, StanceRow
from hullsound.sql.dialect import ENGINES

from .compiled import ROOT
from .load import load_constructs, load_engine
from .rows import Faults, convert_rows, read_rows


class TargetFile(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """A target of a user's own: what is different from a shipped one."""

    name: str
    extends: str
    """The shipped target: engine[:version][@hosting]."""
    stances: dict[str, Any] = {}
    """By construct id."""
    topics: dict[str, Any] = {}
    """By topic."""
    types: dict[str, Any] = {}
    """By logical type."""


class OwnRows(msgspec.Struct, frozen=True):
    """The checked rows of a target file."""

    stances: dict[str, StanceRow]
    topics: dict[str, StanceRow]
    types: dict[str, TargetTypeRow]


@cache
def load_target(engine: str) -> TargetRow:
    """Return what is known of a target engine. Raises UsageError if there is no such target."""
    if engine not in target_engines():
        raise UsageError(
            f"unknown target {engine!r}",
            where="--to",
            hint=f"Targets: {', '.join(target_engines())}; e.g. postgresql:18",
        )
    faults = Faults()
    rows = read_rows(ROOT.joinpath("targets", engine, "target.toml"), TargetRow, faults)
    faults.raise_any()
    return rows[engine]


@cache
def target_engines() -> tuple[str, ...]:
    return tuple(sorted(f.name for f in ROOT.joinpath("targets").iterdir() if f.joinpath("target.toml").is_file()))


def takes(target: str, source: str) -> bool:
    """Whether a target engine is known for a source engine."""
    known = load_target(target).sources
    return not known or source in known


def check_source(target: Target, source: str) -> None:
    """Raise UsageError for a target that is not known for a source engine."""
    if not takes(target.engine, source):
        raise UsageError(
            f"{target.engine} is a target for {' and '.join(load_target(target.engine).sources)} alone, not for {source}",
            where="--to",
            hint=f"Targets for {source}: {', '.join(each for each in target_engines() if takes(each, source))}.",
        )


def all_targets() -> list[Target]:
    """Return every shipped target, one for each version and hosting."""
    return [
        Target(engine, version, hosting)
        for engine in target_engines()
        for hosting in load_target(engine).hostings
        for version in load_target(engine).versions
    ]


def parse_target(text: str) -> Target:
    """Read engine[:version][@hosting], or the path of a target file that ends in .toml.

    Raises UsageError naming what is known where a part is not, and KnowledgeError for faults of a target file.
    """
    if text.strip().lower().endswith(".toml"):
        return _own_target(text.strip())
    head, _, hosting = text.strip().partition("@")
    engine, _, version = head.partition(":")
    row = load_target(engine.lower())
    number = row.default
    if version:
        known = {version_text(each).removesuffix(".0"): each for each in row.versions}
        if version.removesuffix(".0") not in known:
            hint = f"Versions known: {', '.join(map(version_text, row.versions))}."
            raise UsageError(f"unknown version {version!r} of {engine}", where="--to", hint=hint)
        number = known[version.removesuffix(".0")]
    if hosting and hosting not in row.hostings:
        raise UsageError(
            f"unknown hosting {hosting!r} of {engine}", where="--to", hint=f"Hostings known: {', '.join(row.hostings)}."
        )
    return Target(engine.lower(), number, hosting or "own")


def _own_target(path: str) -> Target:
    file = _read_target_file(path)
    if file.extends.strip().lower().endswith(".toml"):
        raise UsageError(f"{path}: extends another target file", hint="Extend a shipped target, such as postgresql:18.")
    base = parse_target(file.extends)
    load_own_rows(path)
    return msgspec.structs.replace(base, file=path, name=file.name)


def _read_target_file(path: str) -> TargetFile:
    try:
        file = msgspec.convert(tomllib.loads(Path(path).read_text(encoding="utf-8")), TargetFile)
    except (OSError, UnicodeDecodeError) as error:
        raise UsageError(f"cannot read the target file {path}: {error}", where="--target-file") from error
    except (tomllib.TOMLDecodeError, msgspec.ValidationError) as error:
        raise KnowledgeError(
            f"{path}: {error}", hint="A target file needs name and extends; see the manual."
        ) from error
    if not file.name.strip():
        raise KnowledgeError(f"{path}: name is empty", hint="Give the target a name for reports.")
    return file


@cache
def load_own_rows(path: str) -> OwnRows:
    """Return the rows of a target file. Raises KnowledgeError naming every fault with its key."""
    file = _read_target_file(path)
    faults = Faults()
    own = OwnRows(
        convert_rows(path, file.stances, StanceRow, faults),
        convert_rows(path, file.topics, StanceRow, faults),
        convert_rows(path, file.types, TargetTypeRow, faults),
    )
    for key, row in (own.stances | own.topics).items():
        check_stance(path, key, row, faults)
    for key in own.stances:
        engine = key.partition(".")[0]
        if engine not in ENGINES or key not in load_constructs(engine):
            faults.add(path, key, "no such construct")
    for key in own.topics.keys() - (_all_topics() if own.topics else set()):
        faults.add(path, key, "no such topic")
    for key in own.types.keys() - load_target_types(Target(parse_target(file.extends).engine, 0)).keys():
        faults.add(path, key, "no such logical type")
    faults.raise_any()
    return own


def _all_topics() -> set[str]:
    return {construct.topic for engine in ENGINES for construct in load_constructs(engine).values()}


def check_stance(file: str, key: str, row: StanceRow, faults: Faults) -> None:
    """Add what is wrong with a stance to `faults`."""
    if row.way is not row.way.SAME and not (row.remedy or row.template):
        faults.add(file, key, "remedy is missing")
    low, likely, high = row.minutes
    if not low <= likely <= high:
        faults.add(file, key, "minutes must be low <= likely <= high")
    if row.template and row.fixer:
        faults.add(file, key, "template and fixer exclude each other")


@cache
def load_target_types(target: Target) -> dict[str, TargetTypeRow]:
    """Return how a target writes each logical kind."""
    faults = Faults()
    rows: dict[str, TargetTypeRow] = {}
    for engine in (load_target(target.engine).like, target.engine):
        file = ROOT.joinpath("targets", engine, "types.toml")
        if engine and file.is_file():
            rows |= read_rows(file, TargetTypeRow, faults)
    faults.raise_any()
    return rows | load_own_rows(target.file).types if target.file else rows


@cache
def target_functions(engine: str) -> frozenset[str]:
    """Return the names of the functions that a target has, those that constructs of the engine speak of included.

    What its later versions took out is none of them.
    """
    constructs = [each for each in load_constructs(engine).values() if each.file != _HISTORY and not each.common]
    return load_engine(engine).function_names | {n for each in constructs for n in each.match.names("function")}


@cache
def load_call_rows(engine: str) -> dict[str, CallRow]:
    """Return what a target asks of calls, by the name of the function. Raises KnowledgeError for rows that are wrong."""
    faults = Faults()
    rows: dict[str, CallRow] = {}
    for name in (load_target(engine).like, engine):
        file = ROOT.joinpath("targets", name, "calls.toml")
        if name and file.is_file():
            for key, row in read_rows(file, CallRow, faults).items():
                rows |= dict.fromkeys(key.split(), row)
    faults.raise_any()
    return rows


_HISTORY: Final = "history.toml"
"""File of a folder of constructs with what later versions of the engine took out."""
_GRAMMAR: Final = frozenset(
    ("ROLLUP", "CUBE", "EXISTS", "ANY", "ALL", "SOME", "BEGIN", "END", "VALUES", "ROW", "INTERVAL")
)
"""Words that stand before brackets like functions, and are none."""


@cache
def functions_everywhere() -> frozenset[str]:
    """Return the names of functions that every target has that takes any source, so that calls of them say nothing."""
    general = (engine for engine in target_engines() if not load_target(engine).sources)
    return frozenset.intersection(*map(target_functions, general)) | _GRAMMAR
