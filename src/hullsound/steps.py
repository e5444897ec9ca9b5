"""The steps of an assessment as functions: survey, assess, draft, trial. The command line is a thin shell over them."""

import gc
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime
from pathlib import Path
from typing import TYPE_CHECKING

import msgspec

from . import __version__
from .assess.judge import assess as judge
from .assess.model import Assessment, Evidence
from .catalog.hullfile import add_assessment, put_skipped, put_trial, read_evidence, read_hull, write_hull
from .catalog.model import Catalog, Sighting
from .catalog.references import resolve_uses
from .errors import SourceError
from .knowledge.load import parse_target
from .report.document import Document, make_document
from .sight.see import EngineNames, load_seer, to_sighting
from .sight.values import needs_hold
from .sql.dialect import load_dialect
from .survey.files import ScriptFile, find_scripts, read_script_file
from .survey.scripts import ScriptSurvey, SurveyedStatement

if TYPE_CHECKING:
    from .draft.write import DraftSet
    from .trial.run import Trial

Progress = Callable[[str, int, int], None]
"""Called with what is worked on, how many are done, and how many there are."""


def no_progress(what: str, done: int, total: int) -> None:
    """Report nothing."""


def now() -> str:
    return datetime.now(UTC).strftime("%Y-%m-%dT%H:%M:%SZ")


@contextmanager
def _no_collection() -> Iterator[None]:
    """Hold the cyclic garbage collector back: trees have no cycles, and walking them again and again costs a third."""
    enabled = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if enabled:
            gc.enable()


# --- survey ---


def survey_scripts(
    source: Path, engine: str, version: str = "", *, name: str = "", progress: Progress = no_progress
) -> Catalog:
    """Read a folder or file of scripts into a catalogue with sightings.

    Raises SourceError if there is nothing to read, UsageError for an engine that cannot be read.
    """
    load_dialect(engine)
    files = [read_script_file(path, source) for path in find_scripts(source)]
    catalog = survey_texts(files, engine, version, name=name or source.resolve().stem, progress=progress)
    catalog.surveyed_at = now()
    return catalog


def survey_texts(
    files: list[ScriptFile],
    engine: str,
    version: str = "",
    *,
    name: str = "",
    is_whole: bool = True,
    progress: Progress = no_progress,
) -> Catalog:
    """Read script texts into a catalogue with sightings and resolved references.

    With `is_whole`, a name that leads nowhere is a sighting; a probe of single statements leaves names open.
    """
    catalog = Catalog(engine, version, name)
    looker = _Looker(engine)
    done = 0

    def count(file: str) -> None:
        nonlocal done
        progress(file, done, len(files))
        done += 1

    by_name = {file.name: file for file in files}
    run = ScriptSurvey(catalog, load_dialect(engine), by_name, looker.look, count)
    with _no_collection():
        run.run()
        progress("references", len(files), len(files))
        _resolve(catalog, run, looker.sightings, is_whole=is_whole)
    return catalog


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


def _resolve(catalog: Catalog, run: ScriptSurvey, sightings: list[Sighting], *, is_whole: bool) -> None:
    """Settle what only the whole catalogue can tell: column types, names, missing files."""
    kept = [s for s in sightings if not s.needs or needs_hold(s.needs, catalog)]
    unresolved = resolve_uses(catalog, run.uses, EngineNames(catalog.engine))
    for use in unresolved if is_whole else ():
        owner = catalog.objects.get(use.owner)
        name = ".".join(use.parts).lower()
        place = (use.owner, owner.file if owner else "", use.line, 1, use.line, 1)
        kept.append(Sighting("survey.unresolved", *place, name, f"{use.kind} {name}"))
    for file, line, called in run.missing:
        kept.append(Sighting("survey.missing-script", "database", file, line, 1, line, 1, called, called))
    catalog.sightings = sorted(kept, key=lambda s: (s.file, s.line, s.column, s.construct))


def save_hull(path: Path, catalog: Catalog) -> None:
    """Write the hull file. Raises SourceError if that is not possible; an old file is then as it was."""
    if path.is_dir():
        raise SourceError("a folder, not a file", where=str(path), hint="Give a file name such as harbour.hull.")
    if not path.parent.is_dir():
        raise SourceError("the folder does not exist", where=str(path.parent), hint="Make it first.")
    write_hull(path, catalog, __version__)


# --- assess ---


@dataclass(slots=True)
class Case:
    """A surveyed source with its judgement against one target; `path` is its hull file, if it has one."""

    catalog: Catalog
    assessment: Assessment
    path: Path | None = None

    @property
    def document(self) -> Document:
        return make_document(self.catalog, self.assessment, __version__)


def assess_catalog(catalog: Catalog, target: str, evidence: Evidence | None = None) -> Case:
    """Judge a catalogue against a target such as postgresql:18. Raises UsageError for an unknown target."""
    with _no_collection():
        return Case(catalog, judge(catalog, parse_target(target), evidence))


def assess_hull(path: Path, target: str, *, keep: bool = False) -> Case:
    """Judge a hull file, with what earlier drafts and trials found; `keep` stores the document in the file.

    Raises SourceError if the file cannot be used, UsageError for an unknown target.
    """
    chosen = parse_target(target)
    with _no_collection():
        catalog = read_hull(path)
        case = Case(catalog, judge(catalog, chosen, _evidence(path, str(chosen))), path)
    if keep:
        add_assessment(path, str(chosen), now(), msgspec.json.encode(case.document))
    return case


def _evidence(path: Path, target: str) -> Evidence:
    skipped, tried = read_evidence(path, target)
    return Evidence(
        skipped=skipped,
        refused=[(item, line, message) for _, item, accepted, message, line in tried if not accepted],
        accepted={item for _, item, accepted, _, _ in tried if accepted},
        engine=tried[0][0] if tried else "",
    )


# --- draft and trial ---


def draft_case(case: Case) -> "DraftSet":
    """Draft every object of a case; what was promised and could not be drafted goes into its hull file."""
    from .draft.write import draft_all

    drafts = draft_all(case.catalog, case.assessment)
    if case.path is not None:
        known = {entry[0] for entry in case.assessment.evidence.skipped}
        kept = [entry for entry in case.assessment.evidence.skipped if entry[0] in case.catalog.objects]
        fresh = [entry for entry in drafts.skipped() if entry[0] not in known]
        put_skipped(case.path, str(case.assessment.target), [*kept, *fresh])
    return drafts


def try_case(case: Case, drafts: "DraftSet", url: str = "", progress: Progress = no_progress) -> "Trial":
    """Run the drafts of a case on a real engine; results go into its hull file. Raises TargetError."""
    from .trial.run import run_trial

    target = str(case.assessment.target)
    trial = run_trial(case.catalog, drafts, target, url, progress)
    if case.path is not None:
        before = {entry[0]: entry for entry in case.assessment.evidence.refused}
        rows = [(r.id, r.accepted, r.message, r.line, r.milliseconds) for r in trial.results if r.promised]
        again = [(i, False, message, line, 0.0) for i, line, message in before.values() if i not in {r[0] for r in rows}]
        put_trial(case.path, target, trial.engine, [*rows, *again])
    return trial


__all__ = [
    "Case",
    "assess_catalog",
    "assess_hull",
    "draft_case",
    "no_progress",
    "save_hull",
    "survey_scripts",
    "survey_texts",
    "try_case",
]
