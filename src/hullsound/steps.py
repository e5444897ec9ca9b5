"""The steps of an assessment as functions: survey, assess, draft, trial. The command line is a thin shell over them."""

from collections.abc import Callable
from datetime import UTC, datetime
from pathlib import Path

from . import __version__
from .catalog.hullfile import write_hull
from .catalog.model import Catalog, Sighting
from .catalog.references import resolve_uses
from .errors import SourceError
from .knowledge.load import parse_target
from .report.document import Document, make_document
from .assess.judge import assess as judge
from .assess.model import Assessment, Evidence
from .sight.see import EngineNames, load_seer, to_sighting
from .sight.values import needs_hold
from .sql.dialect import load_dialect
from .sql.positions import Positions
from .survey.files import ScriptFile, find_scripts, read_script_file
from .survey.scripts import ScriptSurvey, SurveyedStatement

Progress = Callable[[str, int, int], None]
"""Called with what is worked on, how many are done, and how many there are."""


def no_progress(what: str, done: int, total: int) -> None:
    """Report nothing."""


def survey_scripts(
    source: Path, engine: str, version: str = "", *, name: str = "", progress: Progress = no_progress
) -> Catalog:
    """Read a folder or file of scripts into a catalogue with sightings.

    Raises SourceError if there is nothing to read, UsageError for an engine that cannot be read.
    """
    load_dialect(engine)
    files = [read_script_file(path, source) for path in find_scripts(source)]
    catalog = survey_texts(files, engine, version, name=name or source.resolve().name, progress=progress)
    catalog.surveyed_at = datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")
    return catalog


def survey_texts(
    files: list[ScriptFile], engine: str, version: str = "", *, name: str = "", progress: Progress = no_progress
) -> Catalog:
    """Read script texts into a catalogue with sightings, resolved references and unresolved names."""
    catalog = Catalog(engine, version, name)
    seer = load_seer(engine)
    sightings: list[Sighting] = []

    def look(statement: SurveyedStatement) -> None:
        read, owner, file = statement.read, statement.owner, statement.file
        try:
            hits = seer.see(read, statement.scope)
        except Exception as error:  # a crashed detector must show as a finding, never as silence
            line = statement.positions.line(read.start)
            sightings.append(Sighting("survey.crashed-detector", owner, file, line, 1, line, 1, "", repr(error)[:200]))
            return
        sightings.extend(to_sighting(hit, read, owner, file, statement.positions) for hit in hits)

    done = 0

    def count(file: str) -> None:
        nonlocal done
        progress(file, done, len(files))
        done += 1

    by_name = {file.name: file for file in files}
    run = ScriptSurvey(catalog, load_dialect(engine), by_name, look, lambda d, f, p: None, count)
    run.run()
    progress("references", len(files), len(files))
    _resolve(catalog, run, sightings)
    return catalog


def _resolve(catalog: Catalog, run: ScriptSurvey, sightings: list[Sighting]) -> None:
    """Settle what only the whole catalogue can tell: column types, names, missing files."""
    catalog.sightings = [s for s in sightings if not s.needs or needs_hold(s.needs, catalog)]
    for use in resolve_uses(catalog, run.uses, EngineNames(catalog.engine)):
        owner = catalog.objects.get(use.owner)
        file = owner.file if owner else ""
        catalog.sightings.append(
            Sighting("survey.unresolved", use.owner, file, use.line, 1, use.line, 1, ".".join(use.parts).lower(),
                     f"{use.kind} {'.'.join(use.parts).lower()}")
        )  # fmt: skip
    for file, line, called in run.missing:
        catalog.sightings.append(Sighting("survey.missing-script", "database", file, line, 1, line, 1, called, called))
    catalog.sightings.sort(key=lambda s: (s.file, s.line, s.column, s.construct))


def assess_catalog(catalog: Catalog, target: str, evidence: Evidence | None = None) -> Assessment:
    """Judge a catalogue against a target such as postgresql:18. Raises UsageError for an unknown target."""
    return judge(catalog, parse_target(target), evidence)


def document_of(catalog: Catalog, assessment: Assessment) -> Document:
    """Return the assessment document of a judged catalogue."""
    return make_document(catalog, assessment, __version__)


def save_hull(path: Path, catalog: Catalog) -> None:
    """Write the hull file. Raises SourceError if that is not possible; an old file is then as it was."""
    if path.is_dir():
        raise SourceError("a folder, not a file", where=str(path), hint="Give a file name such as harbour.hull.")
    write_hull(path, catalog, __version__)


__all__ = ["Positions", "assess_catalog", "document_of", "no_progress", "save_hull", "survey_scripts", "survey_texts"]
