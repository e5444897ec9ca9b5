"""Compare: one source against several targets, and one assessment with another."""

from collections.abc import Sequence
from pathlib import Path
from typing import NamedTuple

import msgspec

from hullsound.assess.basis import Basis
from hullsound.catalog.hullfile import read_hull
from hullsound.catalog.judgements import read_assessments
from hullsound.errors import UsageError
from hullsound.knowledge.targets import parse_target
from hullsound.project import Project
from hullsound.report.changes import Changes, find_changes
from hullsound.report.compare import Comparison, compare
from hullsound.report.document import Document
from hullsound.workers import Workers

from .assess import judge_hull
from .common import no_collection


def compare_hull(path: Path, targets: Sequence[str], project: Project | None = None, *, jobs: int = 1) -> Comparison:
    """Judge a hull file against several targets. Raises SourceError for the file, UsageError for a target."""
    chosen = [parse_target(target) for target in targets]
    with no_collection():
        catalog = read_hull(path)
        basis, workers = Basis(catalog), Workers(jobs)
        assessments = [judge_hull(path, catalog, target, project, basis, workers=workers)[0] for target in chosen]
        return compare(catalog, assessments)


def find_hull_changes(before: Path, after: Path | None = None, target: str = "") -> Changes:
    """Compare the last assessments of two hull files, or the last two of one, for one target.

    Raises UsageError where an assessment is missing.
    """
    wanted = str(parse_target(target)) if target else ""
    if after is None:
        documents = _documents(before, wanted)
        if not wanted and documents:
            documents = [d for d in documents if d.target == documents[-1].target]
        if len(documents) < 2:
            raise _missing(before, wanted, "two assessments")
        return _changes(documents[-2], documents[-1])
    later = _documents(after, wanted)
    if not later:
        raise _missing(after, wanted, "an assessment")
    earlier = _documents(before, wanted or later[-1].target)
    if not earlier:
        raise _missing(before, wanted or later[-1].target, "an assessment")
    return _changes(earlier[-1], later[-1])


class _Kept(NamedTuple):
    """An assessment that a hull file keeps."""

    target: str
    made_at: str
    document: Document


def _changes(before: _Kept, after: _Kept) -> Changes:
    return find_changes(before.document, after.document, before.made_at, after.made_at)


def _documents(path: Path, target: str) -> list[_Kept]:
    return [
        _Kept(name, made_at, msgspec.json.decode(text, type=Document))
        for name, made_at, text in read_assessments(path, target)
    ]


def _missing(path: Path, target: str, what: str) -> UsageError:
    wanted = f" against {target}" if target else ""
    return UsageError(
        f"the hull file does not hold {what}{wanted}", where=str(path), hint="Run hullsound assess first."
    )
