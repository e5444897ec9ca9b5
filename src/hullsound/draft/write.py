"""Drafts a whole catalogue: one text per object, in creation order, and stand-ins for what a person must write."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Final

from hullsound.assess.model import PROMISED, Assessment, Outcome
from hullsound.assess.pair import Pair
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object, ObjectType
from hullsound.draft.constructs.kin import database_options
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.objects.kin import ROWS_PASSED_OVER, KinDrafter
from hullsound.draft.objects.order import creation_order
from hullsound.draft.objects.postgresql import writers
from hullsound.draft.objects.runs import joined_rows
from hullsound.draft.objects.stub import stub_routine
from hullsound.draft.objects.writers import writer_for
from hullsound.sql.dialect import load_dialect
from hullsound.sql.edit import Edit
from hullsound.sql.script import read_script
from hullsound.sql.tree import Clause

from .assumptions import told_by_types
from .code import draft_code, draft_statement

_TOLD_EVERY: Final = 25
"""How many objects are drafted between two words on progress."""
_UNCHANGED: Final = frozenset(("draft.heading", "draft.name"))
"""What is written anew in every draft: how the object is headed, and how names are spelled."""
_COMMENTED: Final = frozenset((ObjectType.TABLE, ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW))
_STATEMENT_END: Final = frozenset((ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW, ObjectType.QUERY, ObjectType.CHANGE))


@dataclass(slots=True)
class Draft:
    """The target text of one object."""

    object: Object
    outcome: Outcome
    stage: str
    text: str
    """'' where not even a stand-in can be written."""
    is_finished: bool
    """False for a stand-in that only lets others be created."""
    edits: list[Edit] = field(default_factory=list)
    skipped: list[tuple[str, int, str]] = field(default_factory=list)
    """(construct, source line, reason)"""
    written: list[tuple[str, int]] = field(default_factory=list)
    """Every construct in whose name something was written, with the line of its first place."""
    open_types: str = ""
    """What decides the text and was not surveyed: types of columns."""
    is_own: bool = False
    """Whether a person wrote the text."""

    @property
    def is_in_table(self) -> bool:
        """Whether its text stands in that of its table, as between kin."""
        return self.is_finished and bool(self.object.table) and not self.text

    @property
    def is_promised(self) -> bool:
        return self.outcome in PROMISED

    def conversions(self) -> list[tuple[str, int, str]]:
        """Return (construct, line, detail) of conversions, or that the text is spelled otherwise where it was to cross as it is."""
        found = [(construct, line, "") for construct, line in self.written if construct.startswith("convert.")]
        if self.open_types:
            found.append(("draft.needs-table", self.object.line, self.open_types))
        if found or self.outcome is not Outcome.AS_IS:
            return found
        changed = [line for construct, line in self.written if construct not in _UNCHANGED]
        return [("draft.respelled", min(changed), "")] if changed else []


@dataclass(slots=True)
class DraftSet:
    """All drafts of a catalogue for one target, in creation order."""

    drafts: list[Draft]
    schemas: list[str]
    ignores_case: bool = False
    """Whether columns use a collation without case, which comes before them."""
    database_options: str = ""
    """What CREATE DATABASE says of character set and collation, where a schema is a database."""

    def skipped(self) -> list[tuple[str, int, str]]:
        """Return what was promised but could not be drafted: (object, line, reason)."""
        return [(d.object.id, line, reason) for d in self.drafts if d.is_promised for _, line, reason in d.skipped]

    def converted(self) -> list[tuple[str, int, str, str]]:
        """Return what finished drafts changed beside what constructs ask for: (object, line, construct, detail)."""
        finished = [d for d in self.drafts if d.is_promised and d.is_finished]
        return [(d.object.id, line, construct, detail) for d in finished for construct, line, detail in d.conversions()]


def draft_all(
    catalog: Catalog, assessment: Assessment, progress: Callable[[str, int, int], None] | None = None,
    attempts: frozenset[str] = frozenset(),
) -> DraftSet:  # fmt: skip
    """Draft every object of a catalogue for the target of an assessment. Never raises for a single object.

    `progress` is called now and then with the object, how many are done, and how many there are. `attempts` are drafted
    as if they were promised, so that what else speaks against them is known.
    """
    outcomes = {each.object.id: each.outcome for each in assessment.objects}
    outcomes.update(dict.fromkeys(attempts, Outcome.CONFIRM))
    pair = Pair(catalog.engine, assessment.target)
    if not pair.has_drafts:
        return DraftSet(
            [Draft(item, outcomes[item.id], stage, "", False) for item, stage in creation_order(catalog)], []
        )
    drafter = _Drafter(catalog, assessment)
    order = creation_order(catalog)
    drafts: list[Draft] = []
    for item, stage in order:
        if progress is not None and len(drafts) % _TOLD_EVERY == 0:
            progress(item.id, len(drafts), len(order))
        drafts.append(drafter.draft(item, outcomes[item.id], stage))
    # Oracle's PUBLIC is nobody's schema, and PostgreSQL has one of that name.
    is_there = (
        "PUBLIC"
        if "oracle" in (catalog.engine, assessment.target.engine) or assessment.target.engine == "postgresql"
        else ""
    )
    schemas = sorted({item.schema for item in catalog.objects.values() if item.schema and item.schema != is_there})
    ignores_case = assessment.project.drafts.case in ("compared", "ignore") and assessment.target.engine == "postgresql"
    return DraftSet(drafts, schemas, ignores_case, database_options(catalog, assessment.target))


def with_outcomes(made: DraftSet, catalog: Catalog, assessment: Assessment) -> DraftSet:
    """Return drafts under the outcomes of a later judgement: what is no longer promised gets a stand-in."""
    outcomes = {each.object.id: each.outcome for each in assessment.objects}
    drafter: _Drafter | None = None
    for place, draft in enumerate(made.drafts):
        was_promised, draft.outcome = draft.is_promised, outcomes[draft.object.id]
        if was_promised != draft.is_promised:
            drafter = drafter or _Drafter(catalog, assessment)
            made.drafts[place] = drafter.draft(draft.object, draft.outcome, draft.stage)
    return made


class _Drafter:
    def __init__(self, catalog: Catalog, assessment: Assessment) -> None:
        self.catalog = catalog
        self.target = assessment.target
        self.project = assessment.project
        self.writer = writer_for(catalog, assessment.target, assessment.project)
        self.writers = writers(self.writer)
        pair = Pair(catalog.engine, assessment.target)
        self.kin = KinDrafter(catalog, assessment.target) if pair.is_kin else None

    def draft(self, item: Object, outcome: Outcome, stage: str = "") -> Draft:
        draft = Draft(item, outcome, stage, "", False)
        own = self.project.own_text(item.id)
        if own:
            draft.text, draft.is_finished, draft.is_own = own.strip(), True, True
            return draft
        try:
            self._write(draft)
        except CannotDraft as reason:
            draft.skipped.append(("", item.line, str(reason)))
            draft.text = ""
        except RecursionError:
            draft.skipped.append(("", item.line, "nested too deeply"))
            draft.text = ""
        except Exception as error:
            # A form that a writer did not foresee costs one draft, said aloud, and not the run.
            draft.skipped.append(("", item.line, f"a form that was not foreseen ({type(error).__name__}: {error})"))
            draft.text = ""
        if not draft.is_promised or draft.skipped or not (draft.text or draft.is_in_table):
            self._stand_in(draft)
        return draft

    def _write(self, draft: Draft) -> None:
        item = draft.object
        if not draft.is_promised:
            return
        if self.kin is not None:
            code = self.kin.draft(item)
            draft.text, draft.edits, draft.is_finished = code.text, code.edits, True
            comments = self.writer.comments(item) if item.type in _COMMENTED else ""
            if comments and draft.text:
                draft.text = f"{draft.text.rstrip().rstrip(';')};{comments}"
            return
        write = self.writers.get(item.type)
        if write is not None:
            draft.text = write(item)
        elif item.type is ObjectType.DATA:
            draft.text = self._data(draft)
        else:
            code = draft_code(item, self.catalog, self.target)
            draft.edits, draft.skipped, draft.written = code.edits, code.skipped, code.written
            if code.unseen and not code.skipped:
                draft.open_types = told_by_types(code, self.catalog, item, self.target)
            draft.text = code.text + (";" if item.type in _STATEMENT_END else "")
            if item.type is ObjectType.TRIGGER:
                draft.text += self.writer.trigger_state(item)
            if item.type in (ObjectType.VIEW, ObjectType.MATERIALIZED_VIEW):
                draft.text += self.writer.comments(item)
        draft.is_finished = True

    def _data(self, draft: Draft) -> str:
        """Draft each INSERT of a run of data."""
        pieces = []
        reads = read_script(draft.object.text, load_dialect(self.catalog.engine)).statements()
        for read in joined_rows(reads):
            if any(clause.name == "rows-passed-over" for clause in read.all(Clause)):
                pieces.append(ROWS_PASSED_OVER)
                continue
            pieces.append(draft_statement(read, draft.object, self.catalog, self.target) + ";")
        return "\n".join(pieces)

    def _stand_in(self, draft: Draft) -> None:
        """Write what lets other objects be created while this one waits for a person."""
        item = draft.object
        draft.is_finished = False
        draft.edits = []
        try:
            if item.type is ObjectType.TABLE and item.columns:
                draft.text = self.writer.stand_in_table(item)
                if self.kin is not None:
                    draft.text = self.kin.stand_in(draft.text, self.writer.name(item), item)
            elif self.kin is not None or self.target.engine != "postgresql":
                draft.text = ""
            elif item.type in (ObjectType.FUNCTION, ObjectType.PROCEDURE):
                draft.text = self._partly(item) or stub_routine(item, self.catalog, self.target)
            elif item.type is ObjectType.PACKAGE_BODY:
                draft.text = self._partly(item)
            elif item.type is ObjectType.PACKAGE:
                draft.text = self._partly(item) or f"CREATE SCHEMA IF NOT EXISTS {self.writer.names.write(item.name)};"
            else:
                draft.text = ""
        except Exception:
            draft.text = ""

    def _partly(self, item: Object) -> str:
        """Draft what can be drafted of a routine: the rest becomes errors. Returns '' where that leads nowhere."""
        try:
            code = draft_code(item, self.catalog, self.target, is_partial=True)
        except Exception:
            return ""
        return "" if code.skipped else code.text
