"""Survey scripts: texts into catalogues with sightings and resolved references."""

from collections.abc import Iterator, Sequence
from operator import attrgetter
from pathlib import Path
from typing import Final

from hullsound.catalog.build import DATABASE, SERVER
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.choose import keep_chosen
from hullsound.catalog.hullfile import read_parts
from hullsound.catalog.kinds import is_plumbing
from hullsound.catalog.leading_out import unresolved_names
from hullsound.catalog.model import Sighting
from hullsound.catalog.part_file import PartFile
from hullsound.catalog.parts import Part, pack_part, pack_uses, part_key, unpack_part, unpack_uses
from hullsound.catalog.past import forget_past, last_uses, past_statements
from hullsound.catalog.references import Use, default_schema_alias, resolve_uses
from hullsound.catalog.replay_parts import Event
from hullsound.catalog.settle import forget_steps, merge, settle
from hullsound.errors import UsageError
from hullsound.knowledge.load import load_engine
from hullsound.sight.dynamic import Dynamic, read_dynamic
from hullsound.sight.see import load_engine_names, load_seer, to_sighting
from hullsound.sight.values import needs_hold
from hullsound.sql.dialect import ENGINES, load_dialect
from hullsound.survey.choice import Choice
from hullsound.survey.files import ScriptFile, read_all
from hullsound.survey.guess import guess_engine, other_engine
from hullsound.survey.order import ScriptOrder, order_scripts
from hullsound.survey.scripts import ScriptSurvey, SurveyedStatement, called_files, file_groups, pack_groups
from hullsound.timing import step
from hullsound.workers import Workers

from .common import Progress, no_collection, no_progress, now, tool_fingerprint

_AT_RUN_TIME: Final = "in SQL built at run time"
"""What is noted of a construct in the text of dynamic SQL."""
_WORTH_A_PROCESS: Final = 400_000
"""Characters of source below which starting processes costs more than it saves."""


def survey_scripts(
    source: Path, engine: str = "", version: str = "", *, name: str = "", encoding: str = "", jobs: int = 1,
    previous: Path | None = None, choice: Choice | None = None, progress: Progress = no_progress,
) -> Catalog:  # fmt: skip
    """Read a folder or file of scripts into a catalogue with sightings; see `survey_source`."""
    if engine:
        load_dialect(engine)
    files, errors = read_all(source, encoding)
    reasons: tuple[str, ...] = ()
    doubt = _doubt(files, engine) if engine else ""
    if not engine:
        engine, reasons = guessed(files)
    name = name or source.resolve().stem
    choice = choice or Choice()
    fingerprint = "" if errors else fingerprint_of(files, engine, version, name, repr(choice))
    order = order_scripts(files, called_files(files))
    groups, count = file_groups(order.files), len(order.files)
    files, order.files = [], []  # so that texts go as soon as they are read
    catalog = Catalog(engine, version, name)
    catalog.file_ranks = order.ranks
    _survey_groups(groups, count, catalog, is_whole=True, jobs=jobs, previous=previous, progress=progress)
    keep_chosen(catalog, choice.takes)
    _add_order(catalog, order)
    if doubt:
        catalog.doubt = doubt
        catalog.sightings.append(Sighting("survey.engine-doubted", "database", "", 0, 0, 0, 0, "", doubt))
    catalog.guessed_by, catalog.fingerprint = reasons, fingerprint
    for error in errors:
        place = (error.where, 1, 1, 1, 1)
        catalog.sightings.append(Sighting("survey.unread-file", "database", *place, error.where, error.what))
    catalog.surveyed_at = now()
    return catalog


@step("guess the engine")
def _doubt(files: list[ScriptFile], engine: str) -> str:
    """Return why scripts are doubted to be of the engine that was named; '' where nothing speaks against it."""
    guess = other_engine(files, engine)
    if guess is None:
        return ""
    return f"read as {engine}, but {', '.join(guess.reasons)} look like {guess.engine}"


def _add_order(catalog: Catalog, order: ScriptOrder) -> None:
    """Say in which order the files were taken, and which were passed over."""
    if order.is_found:
        last = max(order.ranks.values())
        names = [name for name, rank in order.ranks.items() if rank == last]
        detail = f"{len(order.ranks)} files by the versions, numbers or dates in their names; last {names[-1]}"
        catalog.sightings.append(Sighting("survey.order-found", "database", names[-1], 1, 1, 1, 1, "", detail))
    for name, reason in order.left_out.items():
        catalog.sightings.append(Sighting("survey.script-left-out", "database", name, 1, 1, 1, 1, name, reason))


@step("guess the engine")
def guessed(files: list[ScriptFile]) -> tuple[str, tuple[str, ...]]:
    """Return the engine that scripts look like, with the reasons. Raises UsageError where that is not clear."""
    guess = guess_engine(files)
    if guess.engine:
        return guess.engine, guess.reasons
    looks = f"; they look like {' or '.join(guess.others)} among others" if guess.others else ""
    raise UsageError(
        f"cannot tell the engine from the scripts{looks}", where="--from", hint=f"Name it: --from {'|'.join(ENGINES)}"
    )


def survey_texts(
    files: list[ScriptFile],
    engine: str,
    version: str = "",
    *,
    name: str = "",
    is_whole: bool = True,
    jobs: int = 1,
    previous: Path | None = None,
    progress: Progress = no_progress,
) -> Catalog:
    """Read script texts into a catalogue with sightings and resolved references, in `jobs` processes.

    With `is_whole`, a name that leads nowhere is a sighting; a probe of single statements leaves names open.
    The result does not depend on `jobs`, nor on what is taken from `previous`.
    """
    catalog = Catalog(engine, version, name)
    return _survey_groups(
        file_groups(files), len(files), catalog, is_whole=is_whole, jobs=jobs, previous=previous, progress=progress
    )


def _survey_groups(
    groups: list[list[ScriptFile]], count: int, catalog: Catalog, *, is_whole: bool, jobs: int, previous: Path | None,
    progress: Progress,
) -> Catalog:  # fmt: skip
    """Read groups of `count` files into a catalogue; `groups` is empty afterwards."""
    uses: list[bytes] = []
    missing: list[tuple[str, int, str]] = []
    done = 0
    with no_collection():
        with step("read statements"):
            for part in _gather(catalog, groups, jobs, previous):
                merge(catalog, part)
                uses.append(part.uses)
                missing += part.missing
                done += len(part.files)
                progress(part.files[-1].path if part.files else "", done, count)
        progress("references", count, count)
        _resolve(catalog, uses, missing, is_whole=is_whole)
    return catalog


def _gather(catalog: Catalog, groups: list[list[ScriptFile]], jobs: int, previous: Path | None) -> Iterator[Part]:
    """Return the parts of all groups in order, from the last hull file where nothing has changed, else read anew."""
    fingerprint = tool_fingerprint()
    keys = [part_key(fingerprint, catalog.engine, [(file.name, file.digest) for file in group]) for group in groups]
    kept = read_parts(previous, keys) if previous is not None else {}
    beside = PartFile(previous) if previous is not None else None
    if beside is not None:
        kept |= beside.read(key for key in keys if key not in kept)
    fresh = [group for key, group in zip(keys, groups, strict=True) if key not in kept]
    packs = iter(_read_packs(pack_groups(fresh), catalog.engine, jobs, is_kept=previous is not None))
    waiting: list[bytes | Part] = []
    for key in keys:
        part: bytes | Part | None = kept.get(key)
        if part is None:
            if not waiting:
                waiting = list(next(packs))
            part = waiting.pop(0)
            if beside is not None and isinstance(part, bytes):
                beside.add(key, part)
        if isinstance(part, Part):
            yield part
            continue
        if previous is not None:
            catalog.parts[key] = part
        yield unpack_part(part)
    if beside is not None:
        beside.finish()
    groups.clear()
    del packs, fresh  # with them go the texts, before names are resolved


def _read_packs(
    packs: list[list[list[ScriptFile]]], engine: str, jobs: int, *, is_kept: bool
) -> Iterator[Sequence[bytes | Part]]:
    """Read packs of groups in order, in several processes where that pays and is safe; packed where it is kept or sent."""
    sizes = [sum(len(file.text) for group in pack for file in group) for pack in packs]
    workers = Workers(jobs)
    is_packed = is_kept or workers.are_used(sizes, _WORTH_A_PROCESS)
    load_seer(engine)  # before the fork, so that no worker loads it again

    def read(place: int) -> Sequence[bytes | Part]:
        with no_collection():
            parts = [read_group(group, engine) for group in packs[place]]
            return [pack_part(part) for part in parts] if is_packed else parts

    yield from workers.map(read, sizes, _WORTH_A_PROCESS, names=lambda place: _called(packs[place]))


def _called(pack: list[list[ScriptFile]]) -> str:
    first, more = pack[0][0].name, sum(map(len, pack)) - 1
    return f"{first} and {more} more" if more else first


def read_group(files: list[ScriptFile], engine: str) -> Part:
    """Read files that call each other."""
    catalog = Catalog(engine)
    looker = _Looker(engine)
    run = ScriptSurvey(
        catalog,
        load_dialect(engine),
        {file.name: file for file in files},
        looker.look,
        load_engine(engine).default_schema,
    )
    run.run()
    made = sorted([*catalog.earlier, *catalog.objects.values()], key=attrgetter("step"))
    sightings = [*catalog.sightings, *looker.sightings]
    uses = pack_uses([*run.uses, *looker.uses])
    return Part(made, catalog.unread, catalog.files, sightings, catalog.changes, uses, run.missing, catalog.step)


class _Looker:
    """Looks for constructs in each statement while its tree is at hand, and into the SQL that it builds as text."""

    def __init__(self, engine: str) -> None:
        self.seer = load_seer(engine)
        self.sightings: list[Sighting] = []
        self.uses: list[Use] = []

    def look(self, statement: SurveyedStatement) -> None:
        read, owner, file, positions = statement.read, statement.owner, statement.file, statement.positions
        try:
            hits = list(self.seer.see(read, statement.scope))
            found = read_dynamic(read, self.seer.engine)
        except Exception as error:  # a crashed detector must show as a finding, never as silence
            line = positions.line(read.start)
            place = ("survey.crashed-detector", owner, file, line, 1, line, 1, "", repr(error)[:200])
            self.sightings.append(Sighting(*place))
            return
        self.sightings.extend(to_sighting(hit, read, owner, file, positions) for hit in hits)
        is_told = hits or statement.has_effect or read.unread() or owner not in (DATABASE, SERVER)
        if not is_told and not is_plumbing(read.tree):
            (line, column), (end_line, end_column) = positions.at(read.start), positions.at(read.end)
            text = " ".join(read.text[:160].split())
            word = read.tokens.words[read.first].lower()
            span = (line, column, end_line, end_column)
            self.sightings.append(Sighting("survey.kept-nowhere", owner, file, *span, text, word))
        for dynamic in found:
            self._look_inside(dynamic, statement)

    def _look_inside(self, dynamic: Dynamic, statement: SurveyedStatement) -> None:
        """Note what dynamic SQL names and uses, at the place that runs it; what cannot be read is said, with the reason."""
        owner, file, positions = statement.owner, statement.file, statement.positions
        start, end = positions.at(dynamic.start), positions.at(dynamic.end)
        place = (owner, file, *start, *end, dynamic.text[:160] or dynamic.reason)
        if dynamic.reason:
            construct = "survey.dynamic-partly-read" if dynamic.reads else "survey.dynamic-unread"
            self.sightings.append(Sighting(construct, *place, dynamic.reason))
        for read in dynamic.reads:
            scope = dynamic.scope(read, statement.scope)
            self.uses += [use._replace(line=start[0]) for use in dynamic.uses(read, scope, owner)]
            for hit in self.seer.see(read, scope):
                needs = hit.found.needs
                self.sightings.append(Sighting(hit.construct, *place, _AT_RUN_TIME, needs))


@step("resolve names")
def _resolve(catalog: Catalog, uses: list[bytes], missing: list[tuple[str, int, str]], *, is_whole: bool) -> None:
    """Settle what only the whole catalogue can tell: column types, names, missing files."""
    replay = settle(catalog)
    past: dict[str, Event] = {}
    for packed in uses if replay.gone else ():
        past.update(past_statements(catalog, replay.gone, unpack_uses(packed)))
    forget_past(catalog, past)
    kept = [s for s in catalog.sightings if not s.needs or needs_hold(s.needs, catalog)]
    known = load_engine_names(catalog.engine)
    unresolved: list[Use] = []
    for packed in uses:  # one part at a time, so that the names of all are never in memory at once
        unresolved += resolve_uses(catalog, last_uses(catalog, replay, unpack_uses(packed)), known)
    if alias := default_schema_alias(catalog, unresolved):
        catalog.default_schema_alias = alias
        unresolved = resolve_uses(catalog, unresolved, known)
        kept.append(Sighting("survey.default-schema-alias", "database", "", 0, 0, 0, 0, "", alias.lower()))
    forget_steps(catalog)
    if is_whole:
        kept += unresolved_names(catalog, unresolved)
    for file, line, called in missing:
        kept.append(Sighting("survey.missing-script", "database", file, line, 1, line, 1, called, called))
    for field in ("construct", "column", "line", "file"):  # stable, and without a tuple of keys for each of very many
        kept.sort(key=attrgetter(field))
    catalog.sightings = list(_each_once(kept))


def _each_once(sightings: list[Sighting]) -> Iterator[Sighting]:
    """Yield sightings in order of their places, but one that two ways of looking found at one place only once.

    In SQL built at run time several places share the place that runs it, so these are all kept.
    """
    last: Sighting | None = None
    for each in sightings:
        if (
            last is None
            or each.detail == _AT_RUN_TIME
            or (
                each.line,
                each.column,
                each.end_line,
                each.end_column,
                each.construct,
                each.object,
                each.file,
                each.detail,
            )
            != (
                last.line,
                last.column,
                last.end_line,
                last.end_column,
                last.construct,
                last.object,
                last.file,
                last.detail,
            )
        ):
            yield each
        last = each


def fingerprint_of(files: list[ScriptFile], *facts: str) -> str:
    """Return what a survey of these files would be made of and with."""
    return part_key(tool_fingerprint(), repr(facts), [(file.name, file.digest) for file in files])
