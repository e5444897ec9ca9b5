"""Sightings against stances: findings, and the outcome of each object."""

from datetime import date
from typing import Final

import msgspec

from hullsound.catalog.build import DATABASE, SERVER
from hullsound.catalog.model import CODE_TYPES, Catalog, Column, Object, ObjectType, Sighting
from hullsound.knowledge.load import load_constructs, load_general
from hullsound.knowledge.model import Stance, Target, Way
from hullsound.knowledge.stances import load_stances
from hullsound.knowledge.targets import target_functions
from hullsound.knowledge.types import TypeChoice, choose_column_type, is_same_type
from hullsound.project import AcceptEntry, Project

from .effort import estimate_objects, estimate_total
from .graph import Dependencies
from .improvements import iter_improvements
from .model import Acceptance, Assessment, Evidence, Finding, Judged, Minutes, Outcome
from .naming import iter_name_faults
from .pair import Pair
from .priority import rank_objects

_OUTCOME_OF: Final = {
    Way.SAME: Outcome.AS_IS,
    Way.DRAFT: Outcome.DRAFTED,
    Way.CONFIRM: Outcome.CONFIRM,
    Way.REWRITE: Outcome.REWRITE,
    Way.NONE: Outcome.BLOCKED,
}
_ORDER: Final = {outcome: place for place, outcome in enumerate(Outcome)}
_NO_STAND_IN: Final = frozenset((ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.TYPE, ObjectType.SYNONYM,
                                 ObjectType.OTHER))  # fmt: skip
"""Types for which no stand-in can be created while they wait for a person."""
_CREATED_WITH: Final = frozenset((ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.INDEX, ObjectType.CONSTRAINT,
                                  ObjectType.TRIGGER, ObjectType.SYNONYM, ObjectType.GRANT, ObjectType.QUERY,
                                  ObjectType.CHANGE, ObjectType.TABLE))  # fmt: skip
"""Types whose creation fails unless what they use exists."""


def assess(
    catalog: Catalog,
    target: Target,
    evidence: Evidence | None = None,
    project: Project | None = None,
    dependencies: Dependencies | None = None,
) -> Assessment:
    """Judge a catalogue against a target. Raises KnowledgeError if the target's knowledge is wrong.

    `dependencies` are those of the catalogue, where they have been worked out before.
    """
    evidence = evidence or Evidence()
    project = project or Project()
    dependencies = dependencies or Dependencies(catalog)
    findings = _Findings(catalog, target, project)
    findings.add_sightings()
    findings.add_survey()
    findings.add_objects()
    findings.add_evidence(evidence)
    findings.add_improvements()
    findings.accept(project)
    judged = {item.id: Judged(item, _outcome(item, findings), findings.of(item.id))
              for item in catalog.objects.values()}  # fmt: skip
    _add_waiting(judged, dependencies, findings)
    objects = list(judged.values())
    estimate_objects(objects)
    for each in objects:
        each.dependents = dependencies.dependents(each.object.id)
    p50, p80 = estimate_total(objects, findings.general())
    return Assessment(target, rank_objects(objects), findings.general(), p50, p80, evidence, project)


class _Findings:
    """Gathers findings by object."""

    def __init__(self, catalog: Catalog, target: Target, project: Project) -> None:
        self.catalog = catalog
        self.target = target
        self.project = project
        self.pair = Pair(catalog.engine, target)
        self.functions = target_functions(target.engine)
        self.constructs = load_constructs(catalog.engine)
        self.stances = load_stances(catalog.engine, target)
        self.own = load_general()
        self.by_object: dict[str, list[Finding]] = {}

    def of(self, object_id: str) -> list[Finding]:
        return self.by_object.setdefault(object_id, [])

    def general(self) -> list[Finding]:
        return [finding for key in (SERVER, DATABASE) for finding in self.by_object.get(key, [])]

    def add_sightings(self) -> None:
        seen: set[tuple[str, str, int, int]] = set()
        for sighting in self.catalog.sightings:
            key = (sighting.construct, sighting.object, sighting.line, sighting.column)
            if key in seen:
                continue
            seen.add(key)
            if sighting.construct == "assess.function-missing" and sighting.detail in self.functions:
                continue
            own = self.own.get(sighting.construct)
            if own is not None:
                self._add_own(sighting.construct, sighting, sighting.detail)
                continue
            stance = self.stances.get(sighting.construct)
            if stance is None:
                self._add_own("assess.not-judged", sighting, self.constructs[sighting.construct].title)
            elif stance.way is not Way.SAME:
                self._add(sighting, stance)

    def _add(self, sighting: Sighting, stance: Stance) -> None:
        construct = self.constructs[sighting.construct]
        detail = f" ({sighting.detail})" if sighting.detail else ""
        self.of(sighting.object).append(
            Finding(
                sighting.construct, stance.way.severity, stance.way, sighting.object, sighting.file, sighting.line,
                sighting.column, sighting.end_line, sighting.end_column, sighting.excerpt,
                f"{construct.title}{detail}. {construct.meaning}", stance.remedy, stance.minutes,
            )
        )  # fmt: skip

    def _add_own(
        self, key: str, place: Sighting, detail: str, way: Way | None = None, minutes: Minutes | None = None
    ) -> None:
        row = self.own[key]
        chosen = way or row.way
        tail = f": {detail}" if detail else ""
        self.of(place.object).append(
            Finding(
                key, chosen.severity, chosen, place.object, place.file, place.line, place.column, place.end_line,
                place.end_column, place.excerpt, f"{row.title}{tail}. {row.meaning}", row.remedy, minutes or row.minutes,
            )
        )  # fmt: skip

    def add_survey(self) -> None:
        for span in self.catalog.unread:
            place = Sighting(
                "survey.unread",
                span.object,
                span.file,
                span.line,
                span.column,
                span.end_line,
                span.end_column,
                span.excerpt,
            )
            self._add_own("survey.unread", place, span.reason)

    def add_objects(self) -> None:
        """Add what follows from an object itself: no writer, no type, no definition, a name that cannot stay."""
        for item in self.catalog.objects.values():
            if not self.pair.is_kin and item.type not in self.pair.expected and not self._is_hard(item.id):
                self.add_for_object("draft.no-writer", item, item.type)
            if "not created" in item.details:
                self.add_for_object("survey.not-created", item, item.name.lower())
            if "defined before" in item.details:
                self.add_for_object("survey.defined-twice", item, f"also at {item.details['defined before']}")
            if item.columns:
                self._add_columns(item)
        for fault in iter_name_faults(self.catalog, self.target, is_kin=self.pair.is_kin):
            self.add_for_object(fault.key, self.catalog.objects[fault.object], fault.detail)

    def choose(self, item: Object, column: Column) -> TypeChoice | None:
        """Return what a column's type becomes on this target."""
        return choose_column_type(
            self.catalog.engine, self.target, self.project, item.schema, item.name, column.name, column.type
        )

    def _is_hard(self, object_id: str) -> bool:
        return any(finding.way in (Way.REWRITE, Way.NONE) for finding in self.of(object_id))

    def _add_columns(self, item: Object) -> None:
        for column in item.columns:
            if not (column.type.name or column.generated or "query" in item.details or self.pair.is_kin):
                self.add_for_object("assess.no-type", item, f"{column.name.lower()} is given none")
            if self.pair.is_kin:
                continue
            choice = self.choose(item, column)
            if choice is None or self._has_type_finding(item.id, column.type.name):
                continue
            if not choice.text:
                self.add_for_object("assess.no-type", item, f"{column.name.lower()} {column.type}", column.line)
            elif choice.way is not None:
                detail = f"{column.name.lower()} {choice.source} becomes {choice.text}: {choice.loses}"
                self.add_for_object(
                    "assess.type-changed", item, detail, column.line, way=choice.way, minutes=choice.minutes
                )

    def _has_type_finding(self, object_id: str, type_name: str) -> bool:
        return any(
            type_name in self.constructs[finding.construct].match.names("type")
            for finding in self.of(object_id)
            if finding.construct in self.constructs
        )

    def add_for_object(
        self, key: str, item: Object, detail: str, line: int = 0, way: Way | None = None, minutes: Minutes | None = None
    ) -> None:
        at = line or item.line
        self._add_own(key, Sighting(key, item.id, item.file, at, 1, at, 1, ""), detail, way, minutes)

    def add_improvements(self) -> None:
        """Add what would make the result better than a plain copy."""
        for idea in iter_improvements(self.catalog):
            item = self.catalog.objects[idea.object]
            self.add_for_object(idea.key, item, idea.detail, idea.line)
        if not self.pair.has_drafts and not self.pair.is_kin:
            place = Sighting("draft.none-for-pair", DATABASE, "", 0, 0, 0, 0, "")
            self._add_own("draft.none-for-pair", place, f"{self.catalog.engine} to {self.target.engine}")

    def accept(self, project: Project) -> None:
        """Mark findings that the project accepts, and say which entries accept nothing or no longer hold."""
        today = date.today()
        for number, entry in enumerate(project.accept, start=1):
            place = Sighting("assess.accepts-nothing", DATABASE, project.file, 0, 0, 0, 0, "")
            if entry.until is not None and entry.until < today:
                self._add_own(
                    "assess.acceptance-ended", place, f"[[accept]] {number}: {entry.construct}, {entry.until}"
                )
            elif not self._mark(entry):
                self._add_own(
                    "assess.accepts-nothing", place, f"[[accept]] {number}: {entry.construct}, {entry.object}"
                )

    def _mark(self, entry: AcceptEntry) -> bool:
        acceptance = Acceptance(entry.reason, entry.owner, entry.until.isoformat() if entry.until else "")
        is_used = False
        for object_id, findings in self.by_object.items():
            for place, finding in enumerate(findings):
                if entry.fits(finding.construct, object_id):
                    findings[place] = msgspec.structs.replace(finding, accepted=acceptance)
                    is_used = True
        return is_used

    def add_evidence(self, evidence: Evidence) -> None:
        for key, entries in (("draft.skipped", evidence.skipped), ("trial.refused", evidence.refused)):
            for object_id, line, reason in entries:
                item = self.catalog.objects.get(object_id)
                if item is not None:
                    self.add_for_object(key, item, reason, line)


def _outcome(item: Object, findings: _Findings) -> Outcome:
    """Return the worst that the findings say, and at least what the object's kind asks for.

    What has to change is for a person where nothing is drafted from this engine for this target.
    """
    pair = findings.pair
    worst = max(
        (_OUTCOME_OF[finding.way] for finding in findings.of(item.id)), key=_ORDER.__getitem__, default=Outcome.AS_IS
    )
    least = Outcome.AS_IS
    if not pair.is_kin:
        if item.type in CODE_TYPES or item.type is ObjectType.SYNONYM:
            least = Outcome.DRAFTED
        for column in item.columns if worst is Outcome.AS_IS else ():
            choice = findings.choose(item, column)
            if choice is not None and not is_same_type(choice.text, choice.source):
                least = Outcome.DRAFTED
    outcome = max(worst, least, key=_ORDER.__getitem__)
    if outcome in (Outcome.DRAFTED, Outcome.CONFIRM) and not pair.has_drafts:
        return Outcome.REWRITE
    return outcome


def _add_waiting(judged: dict[str, Judged], dependencies: Dependencies, findings: _Findings) -> None:
    """Mark what cannot be created because something it reads is not there yet."""
    missing = [each.object.id for each in judged.values()
               if each.outcome in (Outcome.REWRITE, Outcome.BLOCKED) and each.object.type in _NO_STAND_IN]  # fmt: skip
    while missing:
        culprit = missing.pop()
        for user in dependencies.users(culprit):
            each = judged.get(user)
            if each is None or each.outcome in (Outcome.REWRITE, Outcome.BLOCKED):
                continue
            # Code compiles without what it calls, but not without the types of its variables.
            if each.object.type not in _CREATED_WITH and judged[culprit].object.type is not ObjectType.TYPE:
                continue
            findings.add_for_object("assess.waits-for", each.object, culprit)
            each.outcome = Outcome.REWRITE
            if each.object.type in _NO_STAND_IN:
                missing.append(user)
