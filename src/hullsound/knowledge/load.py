"""Loads and checks the knowledge files; every fault is reported at once, with its file and key."""

import tomllib
from collections.abc import Iterator
from functools import cache
from importlib.resources import files
from importlib.resources.abc import Traversable
from typing import TypeVar

import msgspec

from hullsound.errors import KnowledgeError, UsageError

from .model import (
    Construct,
    ConstructId,
    ConstructRow,
    EngineRow,
    FunctionRow,
    GeneralRow,
    Match,
    SourceTypeRow,
    Stance,
    StanceRow,
    Target,
    TargetRow,
    TargetTypeRow,
)

_Row = TypeVar("_Row")
_ROOT = files(__package__)


class Faults:
    """Faults met while loading, raised together."""

    def __init__(self) -> None:
        self.lines: list[str] = []

    def add(self, file: str, key: str, fault: str) -> None:
        self.lines.append(f"{file}: [{key}]: {fault}" if key else f"{file}: {fault}")

    def raise_any(self) -> None:
        if self.lines:
            raise KnowledgeError("\n".join(self.lines), hint="Mend the knowledge files named above.")


def read_rows(file: Traversable, row: type[_Row], faults: Faults) -> dict[str, _Row]:
    """Read a TOML file of tables as rows of one shape, adding what is wrong to `faults`."""
    name = file.name
    try:
        document = tomllib.loads(file.read_text(encoding="utf-8"))
    except (tomllib.TOMLDecodeError, UnicodeDecodeError) as error:
        faults.add(name, "", str(error))
        return {}
    rows: dict[str, _Row] = {}
    for key, value in document.items():
        try:
            rows[key] = msgspec.convert(value, row)
        except msgspec.ValidationError as error:
            faults.add(name, key, str(error))
    return rows


def _toml_files(*path: str) -> Iterator[Traversable]:
    folder = _ROOT.joinpath(*path)
    if folder.is_dir():
        yield from sorted((f for f in folder.iterdir() if f.name.endswith(".toml")), key=lambda f: f.name)


@cache
def load_constructs(engine: str) -> dict[str, Construct]:
    """Return all constructs of a source engine by id. Raises KnowledgeError naming every fault."""
    faults = Faults()
    constructs: dict[str, Construct] = {}
    for file in _toml_files("constructs", engine):
        for key, row in read_rows(file, ConstructRow, faults).items():
            _check_construct(file.name, key, row, faults)
            _put(constructs, engine, key, row.title, row.meaning, row.match, row.example, row.unlike, file.name, faults)
    source = _ROOT.joinpath("functions", f"{engine}.toml")
    if source.is_file():
        for key, function in read_rows(source, FunctionRow, faults).items():
            kind = "Supplied package" if function.package else "Function"
            match = Match(package=function.name) if function.package else Match(function=function.name)
            _put(
                constructs, engine, key, f"{kind} {function.name}", function.meaning, match, function.example, "",
                source.name, faults,
            )  # fmt: skip
    faults.raise_any()
    return constructs


def _put(
    constructs: dict[str, Construct], engine: str, key: str, title: str, meaning: str, match: Match, example: str,
    unlike: str, file: str, faults: Faults,
) -> None:  # fmt: skip
    if f"{engine}.{key}" in constructs:
        faults.add(file, key, f"also defined in {constructs[f'{engine}.{key}'].file}")
    constructs[f"{engine}.{key}"] = Construct(f"{engine}.{key}", title, meaning, match, example, unlike, file)


def _check_construct(file: str, key: str, row: ConstructRow, faults: Faults) -> None:
    given = [name for name in row.match.__struct_fields__ if getattr(row.match, name)]
    if len(given) != 1:
        faults.add(file, key, f"match needs exactly one key, has {given or 'none'}")
    if key != key.lower() or " " in key or "_" in key:
        faults.add(file, key, "a construct's name is kebab-case")
    if not row.example.strip():
        faults.add(file, key, "example is empty")


@cache
def load_general() -> dict[ConstructId, GeneralRow]:
    """Return what Hull Sound itself has to say of unread text, unresolved names, drafts and trials, by id."""
    faults = Faults()
    rows = read_rows(_ROOT.joinpath("general.toml"), GeneralRow, faults)
    faults.raise_any()
    return rows


@cache
def load_engine(engine: str) -> EngineRow:
    """Return what a source engine itself provides. Raises KnowledgeError if its file is wrong or missing."""
    file = _ROOT.joinpath("engines", f"{engine}.toml")
    try:
        return msgspec.convert(tomllib.loads(file.read_text(encoding="utf-8")), EngineRow)
    except (OSError, tomllib.TOMLDecodeError, msgspec.ValidationError) as error:
        raise KnowledgeError(f"engines/{engine}.toml: {error}", hint="Mend the knowledge file named above.") from error


@cache
def load_source_types(engine: str) -> dict[str, SourceTypeRow]:
    """Return the data types of a source engine by upper-case name."""
    file = _ROOT.joinpath("types", f"{engine}.toml")
    if not file.is_file():
        return {}
    faults = Faults()
    rows = read_rows(file, SourceTypeRow, faults)
    faults.raise_any()
    return rows


@cache
def load_target_types(engine: str) -> dict[str, TargetTypeRow]:
    """Return how a target writes each logical kind."""
    faults = Faults()
    rows = read_rows(_ROOT.joinpath("targets", engine, "types.toml"), TargetTypeRow, faults)
    faults.raise_any()
    return rows


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
    rows = read_rows(_ROOT.joinpath("targets", engine, "target.toml"), TargetRow, faults)
    faults.raise_any()
    return rows[engine]


@cache
def target_engines() -> tuple[str, ...]:
    return tuple(sorted(f.name for f in _ROOT.joinpath("targets").iterdir() if f.joinpath("target.toml").is_file()))


def parse_target(text: str) -> Target:
    """Read engine[:version][@hosting]. Raises UsageError naming what is known where a part is not."""
    head, _, hosting = text.strip().partition("@")
    engine, _, version = head.partition(":")
    row = load_target(engine.lower())
    number = row.default
    if version:
        if not version.isdigit() or int(version) not in row.versions:
            known = ", ".join(map(str, row.versions))
            raise UsageError(f"unknown version {version!r} of {engine}", where="--to", hint=f"Versions known: {known}.")
        number = int(version)
    if hosting and hosting not in row.hostings:
        raise UsageError(
            f"unknown hosting {hosting!r} of {engine}", where="--to", hint=f"Hostings known: {', '.join(row.hostings)}."
        )
    return Target(engine.lower(), number, hosting or "own")


@cache
def load_stances(source: str, target: Target) -> dict[str, Stance]:
    """Return the stance of a target on each construct of a source engine, for its version and hosting.

    Raises KnowledgeError for rows that are wrong or speak of a construct that does not exist.
    """
    faults = Faults()
    constructs = load_constructs(source)
    rows: dict[str, tuple[str, StanceRow]] = {}
    for file in _toml_files("targets", target.engine):
        if file.name.startswith(f"from-{source}"):
            for key, row in read_rows(file, StanceRow, faults).items():
                if f"{source}.{key}" not in constructs:
                    faults.add(file.name, key, f"no construct {source}.{key}")
                elif key in rows:
                    faults.add(file.name, key, f"also given in {rows[key][0]}")
                else:
                    _check_stance(file.name, key, row, faults)
                    rows[key] = (file.name, row)
    if target.hosting != "own":
        withheld = _ROOT.joinpath("targets", target.engine, f"{target.hosting}.toml")
        for key, row in read_rows(withheld, StanceRow, faults).items():
            engine, _, name = key.partition(".")
            if engine == source:
                if key not in constructs:
                    faults.add(withheld.name, key, f"no construct {key}")
                rows[name] = (withheld.name, row)
    faults.raise_any()
    return {f"{source}.{key}": _at(f"{source}.{key}", row, target.version) for key, (_, row) in rows.items()}


def _check_stance(file: str, key: str, row: StanceRow, faults: Faults) -> None:
    if row.way is not row.way.SAME and not row.remedy:
        faults.add(file, key, "remedy is missing")
    low, likely, high = row.minutes
    if not low <= likely <= high:
        faults.add(file, key, "minutes must be low <= likely <= high")
    if row.template and row.fixer:
        faults.add(file, key, "template and fixer exclude each other")


def _at(construct: str, row: StanceRow, version: int) -> Stance:
    stance = Stance(construct, row.way, row.remedy, row.minutes, row.template, row.fixer, row.becomes)
    for change in row.at:
        if change.since <= version <= change.until:
            values = {
                name: getattr(change, name) for name in change.__struct_fields__ if name not in ("since", "until")
            }
            stance = msgspec.structs.replace(stance, **{k: v for k, v in values.items() if v is not None})
    return stance
