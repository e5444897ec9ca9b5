"""Sightings against stances: findings, and the outcome of each object."""

from typing import Final

from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import CODE_TYPES, Object, ObjectType
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.model import Way
from hullsound.knowledge.targets import check_source
from hullsound.knowledge.types import is_same_type
from hullsound.project import Project
from hullsound.timing import step

from .answers import with_seen_types
from .basis import Basis
from .effort import estimate_objects
from .findings import Findings
from .model import Assessment, Evidence, Judged, Outcome
from .priority import rank_objects
from .waiting import add_waiting

_OUTCOME_OF: Final = {
    Way.SAME: Outcome.AS_IS,
    Way.LATER: Outcome.AS_IS,
    Way.DRAFT: Outcome.DRAFTED,
    Way.CONFIRM: Outcome.CONFIRM,
    Way.REWRITE: Outcome.REWRITE,
    Way.NONE: Outcome.BLOCKED,
}
_ORDER: Final = {outcome: place for place, outcome in enumerate(Outcome)}


@step("judge")
def assess(
    catalog: Catalog,
    target: Target,
    evidence: Evidence | None = None,
    project: Project | None = None,
    basis: Basis | None = None,
) -> Assessment:
    """Judge a catalogue against a target.

    Raises UsageError for a target that is not known for the source, KnowledgeError if the target's knowledge is wrong.

    `basis` is the catalogue's own, where it has been worked out before.
    """
    check_source(target, catalog.engine)
    evidence = evidence or Evidence()
    project = with_seen_types(catalog, target, project or Project())
    basis = basis or Basis(catalog)
    findings = Findings(basis, target, project)
    findings.add_sightings()
    findings.add_survey()
    findings.add_comparing()
    findings.add_rights()
    findings.add_objects()
    findings.add_answers()
    findings.add_evidence(evidence)
    findings.add_improvements()
    findings.add_own_texts()
    findings.accept(project)
    judged = {item.id: Judged(item, _outcome(item, findings), findings.of(item.id))
              for item in catalog.objects.values()}  # fmt: skip
    add_waiting(judged, basis.dependencies, findings)
    objects = list(judged.values())
    total = estimate_objects(objects, findings.general(), project.settings.effort)
    for each in objects:
        each.dependents = basis.dependents[each.object.id]
    return Assessment(target, rank_objects(objects), findings.general(), total, evidence, project)


def _outcome(item: Object, findings: Findings) -> Outcome:
    """Return the worst that the findings say, and at least what the object's kind asks for.

    What has to change is for a person where nothing is drafted from this engine for this target.
    """
    pair = findings.pair
    ways = {finding.way for finding in findings.of(item.id)}
    worst = max((_OUTCOME_OF[way] for way in ways), key=_ORDER.__getitem__, default=Outcome.AS_IS)
    least = Outcome.AS_IS
    if not pair.is_kin:
        if item.type in CODE_TYPES or item.type is ObjectType.SYNONYM:
            least = Outcome.DRAFTED
        for column in item.columns if worst is Outcome.AS_IS else ():
            choice = findings.choose(item, column)
            if choice is not None and not is_same_type(choice.text, choice.source):
                least = Outcome.DRAFTED
    outcome = max(worst, least, key=_ORDER.__getitem__)
    if findings.project.own_text(item.id):
        # A person has written it: what is left is to confirm that it does the same.
        failed = any(finding.construct in ("trial.refused", "trial.apart") for finding in findings.of(item.id))
        return Outcome.REWRITE if failed else Outcome.CONFIRM
    is_for_a_person = outcome in (Outcome.DRAFTED, Outcome.CONFIRM) and not pair.has_drafts
    return Outcome.REWRITE if is_for_a_person else outcome
