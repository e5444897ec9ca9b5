"""Findings by object: sightings judged by a target's stances, and what follows from the catalogue itself."""

import re
from datetime import date
from typing import Final

import msgspec

from hullsound.catalog.build import DATABASE, SERVER
from hullsound.catalog.model import CODE_TYPES, Column, Object, ObjectType, Sighting
from hullsound.knowledge.engine_model import Target
from hullsound.knowledge.load import load_constructs, load_engine, load_general
from hullsound.knowledge.model import Construct, Stance, Way
from hullsound.knowledge.stances import stances_for
from hullsound.knowledge.targets import target_functions
from hullsound.knowledge.types import TypeChoice, choose_column_type, value_class
from hullsound.project import AcceptEntry, Project, override_stem

from .answers import Answers
from .basis import Basis
from .hours import Minutes
from .limits import iter_excesses, iter_loose_references
from .model import Acceptance, Evidence, Finding
from .naming import iter_name_faults
from .pair import Pair

_OF_OTHERS: Final = ("assess.relation-missing", "assess.package-missing", "assess.table-change", "assess.table-storage")
"""Remarks on what the source engine alone is known to have."""
_RULED_OUT_MINUTES: Final = (0.0, 0.0, 1.0)
"""Effort of what the values rule out: a look at the evidence."""
_LOOSE: Final = frozenset(("sqlserver", "mysql", "mariadb"))
"""Engines whose default collations ignore case; the default sort order of ASE tells it apart."""
_EXACT_SOURCES: Final = frozenset(("oracle", "postgresql", "db2", "sqlite", "ase"))
_EXACT_TARGETS: Final = frozenset(("postgresql", "oracle"))
_EXACT: Final = re.compile(r"(?i)\bCOLLATE\W+\w+(?:_BIN2?|_CS(?:_\w+)?)\b")
_WITH_RIGHTS: Final = (ObjectType.PROCEDURE, ObjectType.FUNCTION, ObjectType.PACKAGE_BODY)
_COMPARING: Final = CODE_TYPES | {ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.QUERY, ObjectType.CHANGE}
"""Objects with queries, in which texts may be compared."""


class Findings:
    """Gathers findings by object."""

    def __init__(self, basis: Basis, target: Target, project: Project) -> None:
        catalog = basis.catalog
        self.basis = basis
        self.catalog = catalog
        self.target = target
        self.project = project
        self.pair = Pair(catalog.engine, target)
        self.functions = target_functions(target.engine)
        self.constructs = load_constructs(catalog.engine)
        self.stances = stances_for(catalog, target)
        self.own = load_general()
        self.answers = Answers(catalog, target)
        self.by_object: dict[str, list[Finding]] = {}

    def of(self, object_id: str) -> list[Finding]:
        return self.by_object.setdefault(object_id, [])

    def general(self) -> list[Finding]:
        return [finding for key in (SERVER, DATABASE) for finding in self.by_object.get(key, [])]

    def add_sightings(self) -> None:
        """Judge every sighting, construct by construct: what one target says is the same for all its places."""
        for key, sightings in self.basis.sightings.items():
            stance = self.stances.get(key)
            if stance is not None:
                if stance.way is not Way.SAME:
                    self._add(self.constructs[key], stance, sightings)
            elif key in self.own:
                self._add_remarks(key, sightings)
            else:
                for sighting in sightings:
                    self._add_own("assess.not-judged", sighting, self.constructs[key].title)

    def _add(self, construct: Construct, stance: Stance, sightings: list[Sighting]) -> None:
        by_object, hard = self.by_object, stance.way
        plain = f"{construct.title}. {construct.meaning}"
        told_once = [s for s in sightings if self._is_told_once(s, construct, stance)]
        if stance.once and told_once:
            places = f"{len(told_once)} place{'' if len(told_once) == 1 else 's'}"
            self.of(DATABASE).append(
                Finding(
                    construct.id, hard.severity, hard, DATABASE, told_once[0].file, told_once[0].line, told_once[0].column,
                    told_once[0].end_line, told_once[0].end_column, told_once[0].excerpt,
                    f"{construct.title}: {places}. {construct.meaning}", stance.remedy, stance.minutes,
                )
            )  # fmt: skip
        lowered = {id(s) for s in told_once}
        for s in sightings:
            way = Way.DRAFT if id(s) in lowered else hard
            severity = way.severity
            message = f"{construct.title} ({s.detail}). {construct.meaning}" if s.detail else plain
            finding = Finding(
                construct.id, severity, way, s.object, s.file, s.line, s.column, s.end_line, s.end_column, s.excerpt,
                message, stance.remedy, stance.minutes,
            )  # fmt: skip
            known = by_object.get(s.object)
            if known is None:
                by_object[s.object] = [finding]
            else:
                known.append(finding)

    def _is_told_once(self, sighting: Sighting, construct: Construct, stance: Stance) -> bool:
        """Whether a sighting is only a note: of what is said once for all, or of what sets the scene for a script."""
        item = self.catalog.objects.get(sighting.object)
        if item is None:
            return construct.plumbing and not self.pair.is_kin and stance.way is not Way.NONE
        return (
            stance.once and stance.way in (Way.CONFIRM, Way.LATER) and stance.is_written and item.type not in CODE_TYPES
        )

    def add_answers(self) -> None:
        """Add what the values say: of findings that ask whether something happens, and of their own."""
        for object_id, answers in self.answers.by_object.items():
            item = self.catalog.objects[object_id]
            findings = self.of(object_id)
            findings[:] = [self._settled(finding, item) for finding in findings]
            for answer in answers if not self.pair.is_kin else ():
                measure, row = answer.measure, answer.row
                column = next((each for each in item.columns if each.name == measure.column), None)
                place = column.line if column is not None else item.line
                if answer.happens and not row.is_quiet:
                    detail = f"{measure.column.lower()}, {answer.say()}"
                    self.add_for_object(f"data.{measure.question}", item, detail, place)
                elif row.if_none and answer.is_ruled_out:
                    detail = f"{measure.column.lower()}, {row.if_none} ({answer.say()})"
                    self.add_for_object("data.smaller-type", item, detail, place)

    def _settled(self, finding: Finding, item: Object) -> Finding:
        """Return a finding with what the values say of it: one that cannot happen here becomes a note."""
        construct = self.constructs.get(finding.construct)
        answers = self.answers.of_topic(item, construct.topic, finding.line) if construct is not None else []
        if not answers:
            return finding
        telling = next((answer for answer in answers if answer.happens), answers[0])
        message = f"{finding.message} {telling.settle()}"
        is_out = all(answer.is_ruled_out for answer in answers) and finding.way in (Way.CONFIRM, Way.REWRITE)
        if not is_out or item.type is not ObjectType.TABLE:
            return msgspec.structs.replace(finding, message=message)
        way = Way.DRAFT
        return msgspec.structs.replace(
            finding, message=message, way=way, severity=way.severity, effort_minutes=_RULED_OUT_MINUTES
        )

    def _add_remarks(self, key: str, sightings: list[Sighting]) -> None:
        if key in _OF_OTHERS and self.pair.is_kin:
            return
        for sighting in sightings:
            if key != "assess.function-missing" or sighting.detail not in self.functions:
                self._add_own(key, sighting, sighting.detail)

    def _add_own(
        self, key: str, place: Sighting, detail: str, way: Way | None = None, minutes: Minutes | None = None
    ) -> None:
        row = self.own[key]
        chosen = way or row.way
        tail = f": {detail}" if detail else ""
        self.of(place.object).append(
            Finding(
                key, row.severity or chosen.severity, chosen, place.object, place.file, place.line, place.column, place.end_line,
                place.end_column, place.excerpt, f"{row.title}{tail}. {row.meaning}", row.remedy, minutes or row.minutes,
            )
        )  # fmt: skip

    def add_comparing(self) -> None:
        """Say once that texts compare with or without case where the target's do otherwise, if code or keys may compare them."""
        source, target = self.catalog.engine, self.target.engine
        is_loosened = source in _EXACT_SOURCES and target in _LOOSE
        is_tightened = source in _LOOSE and target in _EXACT_TARGETS and self.project.drafts.case in ("lower", "keep")
        if (self.pair.is_kin and source != "ase") or not (is_loosened or is_tightened):
            return
        texts = [
            column
            for item in self.catalog.objects.values()
            if item.type is ObjectType.TABLE and not (is_tightened and _EXACT.search(item.text))
            for column in item.columns
            if value_class(source, column.type.name) == "text"
        ]
        objects = self.catalog.objects.values()
        has_keys = is_loosened and any(o.constraint is not None and o.constraint.form == "unique" for o in objects)
        if texts and (has_keys or any(item.type in _COMPARING for item in objects)):
            key = "assess.text-ignores-case" if is_tightened else "assess.text-tells-case"
            place = Sighting(key, DATABASE, "", 0, 0, 0, 0, "")
            self._add_own(key, place, f"{len(texts)} column{'' if len(texts) == 1 else 's'}")

    def add_rights(self) -> None:
        """Say once that routines run with other rights than in the source, where nothing is said of them."""
        before, after = (load_engine(each).routine_rights for each in (self.catalog.engine, self.target.engine))
        routines = [item for item in self.catalog.objects.values() if item.type in _WITH_RIGHTS]
        if routines and before != after and before and after and not self.pair.is_kin:
            key = f"assess.rights-of-{after}"
            place = Sighting(key, DATABASE, "", 0, 0, 0, 0, "")
            self._add_own(key, place, f"{len(routines)} routine{'' if len(routines) == 1 else 's'}")

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
            try:
                self._add_object(item)
            except Exception as error:  # an object's fault is a finding on that object, never the end
                self.add_for_object("survey.crashed-detector", item, repr(error)[:200])
        for fault in iter_name_faults(self.catalog, self.basis.names, self.target, is_kin=self.pair.is_kin):
            self.add_for_object(fault.key, self.catalog.objects[fault.object], fault.detail, fault.line)
        is_own = self.catalog.engine == self.target.engine
        loose = iter_loose_references(self.catalog, self.target) if is_own else ()
        for excess in loose if self.pair.is_kin else iter_excesses(self.catalog, self.target, self.project):
            self.add_for_object(excess.key, self.catalog.objects[excess.object], excess.detail, excess.line, excess.way)

    def _add_object(self, item: Object) -> None:
        if not self.pair.is_kin and item.type not in self.pair.expected and not self._is_hard(item.id):
            self.add_for_object("draft.no-writer", item, item.type)
        if "not created" in item.details:
            self.add_for_object("survey.not-created", item, item.name.lower())
        if "defined before" in item.details:
            self.add_for_object("survey.defined-twice", item, f"also at {item.details['defined before']}")
        if "defined again" in item.details:
            self.add_for_object("survey.defined-again", item, f"also at {item.details['defined again']}")
        if item.columns:
            self._add_columns(item)

    def choose(self, item: Object, column: Column) -> TypeChoice | None:
        """Return what a column's type becomes on this target."""
        return choose_column_type(
            self.catalog.engine, self.target, self.project, item.schema, item.name, column.name, column.type
        )

    def _is_hard(self, object_id: str) -> bool:
        return any(finding.way in (Way.REWRITE, Way.NONE) for finding in self.of(object_id))

    def _add_columns(self, item: Object) -> None:
        told = self._types_told(item.id)
        for column in item.columns:
            if not (column.type.name or column.generated or "query" in item.details or self.pair.is_kin):
                self.add_for_object("assess.no-type", item, f"{column.name.lower()} is given none")
            if self.pair.is_kin:
                continue
            choice = self.choose(item, column)
            if choice is None or column.type.name in told:
                continue
            if not choice.text:
                self.add_for_object("assess.no-type", item, f"{column.name.lower()} {column.type}", column.line)
            elif choice.way is not None or (choice.loses and self.answers.of_kind(item, column) is not None):
                self._add_changed_type(item, column, choice)
            elif self._is_seen_type(item, column):
                detail = f"{column.name.lower()} {choice.source} becomes {choice.text}"
                self.add_for_object("data.type-from-data", item, detail, column.line)

    def _add_changed_type(self, item: Object, column: Column, choice: TypeChoice) -> None:
        """Say what a type loses, unless the values say that there is nothing to lose."""
        detail = f"{column.name.lower()} {choice.source} becomes {choice.text}: {choice.loses}"
        way, minutes = choice.way, choice.minutes
        answer = self.answers.of_kind(item, column)
        if answer is not None:
            detail += f". {answer.settle().removesuffix('.')}"
            if answer.is_ruled_out:
                way, minutes = Way.DRAFT, _RULED_OUT_MINUTES
        if way is not None:
            self.add_for_object("assess.type-changed", item, detail, column.line, way=way, minutes=minutes)

    def _is_seen_type(self, item: Object, column: Column) -> bool:
        place = (str(column.type), item.schema, item.name, column.name)
        project = self.project
        return (
            bool(project.seen_types)
            and not any(rule.fits(*place) for rule in project.types)
            and bool(project.type_for(*place))
        )

    def _types_told(self, object_id: str) -> set[str]:
        """Return the types of which constructs of their own tell in an object."""
        found = {finding.construct for finding in self.of(object_id)}
        return {name for key in found if key in self.constructs for name in self.constructs[key].match.names("type")}

    def add_for_object(
        self, key: str, item: Object, detail: str, line: int = 0, way: Way | None = None, minutes: Minutes | None = None
    ) -> None:
        at = line or item.line
        self._add_own(key, Sighting(key, item.id, item.file, at, 1, at, 1, ""), detail, way, minutes)

    def add_improvements(self) -> None:
        """Add what would make the result better than a plain copy."""
        for idea in self.basis.improvements:
            item = self.catalog.objects[idea.object]
            self.add_for_object(idea.key, item, idea.detail, idea.line)
        if not self.pair.has_drafts:
            place = Sighting("draft.none-for-pair", DATABASE, "", 0, 0, 0, 0, "")
            self._add_own("draft.none-for-pair", place, f"{self.catalog.engine} to {self.target.engine}")

    def add_own_texts(self) -> None:
        """Say which objects a person has written, and which of the texts belong to no object."""
        stems = {override_stem(item): item for item in self.catalog.objects}
        for name, _ in self.project.overrides:
            item = self.catalog.objects.get(stems.get(override_stem(name), ""))
            if item is not None:
                self.add_for_object("draft.own-text", item, f"{name}.sql")
                acceptance = Acceptance("a person wrote this object", "overrides", "")
                findings = self.of(item.id)
                findings[:] = [
                    f
                    if f.construct in ("draft.own-text", "trial.refused")
                    else msgspec.structs.replace(f, accepted=acceptance)
                    for f in findings
                ]
            else:
                place = Sighting("draft.own-text-unused", DATABASE, "", 0, 0, 0, 0, "")
                self._add_own("draft.own-text-unused", place, f"{name}.sql")

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
        for object_id, line, construct, detail in evidence.converted:
            item = self.catalog.objects.get(object_id)
            if item is None or construct not in self.own:
                continue
            # A line of which a construct of the source tells already needs no note of what becomes of its types.
            is_told = any(finding.line == line and finding.way is not Way.SAME for finding in self.of(object_id))
            if not is_told or self.own[construct].way is not Way.DRAFT:
                self.add_for_object(construct, item, detail, line)
        apart = [
            (object_id, 0, f"{case.name}: {case.difference}")
            for object_id, cases in evidence.cases.items()
            for case in cases
            if not case.is_equal
        ]
        for key, entries in (
            ("draft.skipped", evidence.skipped),
            ("trial.refused", evidence.refused),
            ("trial.apart", apart),
        ):
            for object_id, line, reason in entries:
                item = self.catalog.objects.get(object_id)
                if item is not None:
                    self.add_for_object(key, item, reason, line)
