"""Assess: catalogues and hull files into cases judged against a target."""

from dataclasses import dataclass
from functools import cached_property
from pathlib import Path

import msgspec

from hullsound import __version__
from hullsound.assess.judge import assess as judge
from hullsound.assess.model import Assessment, Evidence
from hullsound.catalog.hullfile import add_assessment, read_evidence, read_hull
from hullsound.catalog.model import Catalog
from hullsound.knowledge.targets import parse_target
from hullsound.project import Project
from hullsound.report.document import Document, make_document

from .common import no_collection, now


@dataclass
class Case:
    """A surveyed source with its judgement against one target; `path` is its hull file, if it has one."""

    catalog: Catalog
    assessment: Assessment
    path: Path | None = None

    @cached_property
    def document(self) -> Document:
        return make_document(self.catalog, self.assessment, __version__)


def assess_catalog(
    catalog: Catalog, target: str, evidence: Evidence | None = None, project: Project | None = None
) -> Case:
    """Judge a catalogue against a target such as postgresql:18. Raises UsageError for an unknown target."""
    with no_collection():
        return Case(catalog, judge(catalog, parse_target(target), evidence, project))


def assess_hull(path: Path, target: str, project: Project | None = None, *, keep: bool = False) -> Case:
    """Judge a hull file, with what earlier drafts and trials found; `keep` stores the document in the file.

    Raises SourceError if the file cannot be used, UsageError for an unknown target.
    """
    chosen = parse_target(target)
    with no_collection():
        catalog = read_hull(path)
        case = Case(catalog, judge(catalog, chosen, evidence_of(path, str(chosen)), project), path)
    if keep:
        add_assessment(path, str(chosen), now(), msgspec.json.encode(case.document))
    return case


def evidence_of(path: Path, target: str) -> Evidence:
    """Return what earlier drafts and trials of a hull file found for a target."""
    skipped, tried = read_evidence(path, target)
    return Evidence(
        skipped=skipped,
        refused=[(item, line, message) for _, item, accepted, message, line in tried if not accepted],
        accepted={item for _, item, accepted, _, _ in tried if accepted},
        engine=tried[0][0] if tried else "",
    )
