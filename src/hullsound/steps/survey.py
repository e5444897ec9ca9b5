"""Survey: sources into catalogues with sightings, and catalogues into hull files."""

import multiprocessing
import threading
from collections.abc import Iterator
from concurrent.futures import ProcessPoolExecutor
from itertools import repeat
from pathlib import Path
from typing import Final, NamedTuple

from hullsound import __version__
from hullsound.catalog.hullfile import write_hull
from hullsound.catalog.model import Catalog, Sighting
from hullsound.catalog.references import Use, resolve_uses
from hullsound.catalog.settle import merge, settle
from hullsound.errors import SourceError
from hullsound.sight.see import EngineNames, load_seer, to_sighting
from hullsound.sight.values import needs_hold
from hullsound.sql.dialect import load_dialect
from hullsound.survey.files import ScriptFile, read_all
from hullsound.survey.scripts import ScriptSurvey, SurveyedStatement, file_groups

from .common import Progress, no_collection, no_progress, now

_WORTH_A_PROCESS: Final = 400_000
"""Characters of source below which starting processes costs more than it saves."""


def survey_scripts(
    source: Path, engine: str, version: str = "", *, name: str = "", jobs: int = 1, progress: Progress = no_progress
) -> Catalog:
    """Read a folder or file of scripts into a catalogue with sightings.

    Raises SourceError if there is nothing to read, UsageError for an engine that cannot be read.
    """
    load_dialect(engine)
    files, errors = read_all(source)
    catalog = survey_texts(files, engine, version, name=name or source.resolve().stem, jobs=jobs, progress=progress)
    for error in errors:
        place = (error.where, 1, 1, 1, 1)
        catalog.sightings.append(Sighting("survey.unread-file", "database", *place, error.where, error.what))
    catalog.surveyed_at = now()
    return catalog


def survey_texts(
    files: list[ScriptFile],
    engine: str,
    version: str = "",
    *,
    name: str = "",
    is_whole: bool = True,
    jobs: int = 1,
    progress: Progress = no_progress,
) -> Catalog:
    """Read script texts into a catalogue with sightings and resolved references, in `jobs` processes.

    With `is_whole`, a name that leads nowhere is a sighting; a probe of single statements leaves names open.
    The result does not depend on `jobs`.
    """
    catalog = Catalog(engine, version, name)
    uses: list[Use] = []
    missing: list[tuple[str, int, str]] = []
    done = 0
    with no_collection():
        for part in _read_parts(file_groups(files), engine, jobs):
            merge(catalog, part.catalog)
            uses += part.uses
            missing += part.missing
            done += len(part.catalog.files)
            progress(part.catalog.files[-1].path if part.catalog.files else "", done, len(files))
        progress("references", len(files), len(files))
        _resolve(catalog, uses, missing, is_whole=is_whole)
    return catalog


class _Part(NamedTuple):
    """What one group of files holds."""

    catalog: Catalog
    uses: list[Use]
    missing: list[tuple[str, int, str]]


def _read_parts(groups: list[list[ScriptFile]], engine: str, jobs: int) -> Iterator[_Part]:
    """Read groups of files in order, in several processes where that pays and is safe."""
    size = sum(len(file.text) for group in groups for file in group)
    single = jobs < 2 or len(groups) < 2 or size < _WORTH_A_PROCESS or threading.active_count() > 1
    if single or "fork" not in multiprocessing.get_all_start_methods():
        for group in groups:
            yield _read_part(group, engine)
        return
    load_seer(engine)  # before the fork, so that no worker loads it again
    context = multiprocessing.get_context("fork")
    with ProcessPoolExecutor(jobs, mp_context=context) as pool:
        yield from pool.map(_read_part, groups, repeat(engine), chunksize=1)


def _read_part(files: list[ScriptFile], engine: str) -> _Part:
    with no_collection():
        catalog = Catalog(engine)
        looker = _Looker(engine)
        run = ScriptSurvey(catalog, load_dialect(engine), {file.name: file for file in files}, looker.look)
        run.run()
        catalog.sightings = looker.sightings
        return _Part(catalog, run.uses, run.missing)


class _Looker:
    """Looks for constructs in each statement while its tree is at hand."""

    def __init__(self, engine: str) -> None:
        self.seer = load_seer(engine)
        self.sightings: list[Sighting] = []

    def look(self, statement: SurveyedStatement) -> None:
        read, owner, file, positions = statement.read, statement.owner, statement.file, statement.positions
        try:
            hits = self.seer.see(read, statement.scope)
        except Exception as error:  # a crashed detector must show as a finding, never as silence
            line = positions.line(read.start)
            place = ("survey.crashed-detector", owner, file, line, 1, line, 1, "", repr(error)[:200])
            self.sightings.append(Sighting(*place))
            return
        self.sightings.extend(to_sighting(hit, read, owner, file, positions) for hit in hits)


def _resolve(catalog: Catalog, uses: list[Use], missing: list[tuple[str, int, str]], *, is_whole: bool) -> None:
    """Settle what only the whole catalogue can tell: column types, names, missing files."""
    settle(catalog)
    kept = [s for s in catalog.sightings if not s.needs or needs_hold(s.needs, catalog)]
    unresolved = resolve_uses(catalog, uses, EngineNames(catalog.engine))
    for use in unresolved if is_whole else ():
        owner = catalog.objects.get(use.owner)
        name = ".".join(use.parts).lower()
        place = (use.owner, owner.file if owner else "", use.line, 1, use.line, 1)
        kept.append(Sighting("survey.unresolved", *place, name, f"{use.kind} {name}"))
    for file, line, called in missing:
        kept.append(Sighting("survey.missing-script", "database", file, line, 1, line, 1, called, called))
    catalog.sightings = sorted(kept, key=lambda s: (s.file, s.line, s.column, s.construct))


def save_hull(path: Path, catalog: Catalog) -> None:
    """Write the hull file. Raises SourceError if that is not possible; an old file is then as it was."""
    if path.is_dir():
        raise SourceError("a folder, not a file", where=str(path), hint="Give a file name such as harbour.hull.")
    if not path.parent.is_dir():
        raise SourceError("the folder does not exist", where=str(path.parent), hint="Make it first.")
    write_hull(path, catalog, __version__)
