"""Drafts a whole catalogue: one text per object, in creation order, and stand-ins for what a person must write."""

from collections.abc import Callable, Sequence
from typing import Final, NamedTuple

from hullsound.assess.model import Assessment, Outcome
from hullsound.assess.pair import Pair
from hullsound.catalog.catalog import Catalog
from hullsound.catalog.model import Object
from hullsound.draft.constructs.kin import database_options
from hullsound.draft.objects.order import creation_order
from hullsound.sql.edit import Edit
from hullsound.timing import step
from hullsound.workers import Workers

from .drafter import Drafter
from .model import Draft, DraftSet

_TOLD_EVERY: Final = 25
"""How many objects are drafted between two words on progress."""
WORTH: Final = 150_000
"""Characters of source below which starting processes for drafts costs more than it saves."""
_ALONE: Final = Workers()


class _Written(NamedTuple):
    """What one process tells another of a draft: all but the object, which both have."""

    text: str
    is_finished: bool
    edits: list[Edit]
    skipped: list[tuple[str, int, str]]
    written: list[tuple[str, int]]
    open_types: str
    is_own: bool


def draft_all(
    catalog: Catalog, assessment: Assessment, progress: Callable[[str, int, int], None] | None = None,
    workers: Workers = _ALONE,
) -> DraftSet:  # fmt: skip
    """Draft every object of a catalogue for the target of an assessment, with stand-ins. Never raises for a single object.

    `progress` is called now and then with the object, how many are done, and how many there are.
    """
    made = draft_promised(catalog, assessment, progress, workers=workers)
    add_stand_ins(made, catalog, assessment, workers)
    return made


@step("draft")
def draft_promised(
    catalog: Catalog, assessment: Assessment, progress: Callable[[str, int, int], None] | None = None,
    attempts: frozenset[str] = frozenset(), workers: Workers = _ALONE,
) -> DraftSet:  # fmt: skip
    """Draft every object as `draft_all` does, without the stand-ins that only others need in order to be created.

    `attempts` are drafted as if they were promised, so that what else speaks against them is known.
    """
    outcomes = {each.object.id: each.outcome for each in assessment.objects}
    outcomes.update(dict.fromkeys(attempts, Outcome.CONFIRM))
    order = creation_order(catalog)
    if not Pair(catalog.engine, assessment.target).has_drafts:
        return DraftSet([Draft(item, outcomes[item.id], stage, "", False) for item, stage in order], [])
    drafter = Drafter(catalog, assessment)

    def write(place: int) -> _Written:
        item, stage = order[place]
        draft = drafter.draft(item, outcomes[item.id], stage)
        return _Written(
            draft.text, draft.is_finished, draft.edits, draft.skipped, draft.written, draft.open_types, draft.is_own
        )

    drafts: list[Draft] = []
    for (item, stage), written in zip(
        order, workers.map(write, sizes_of(order), WORTH, names=lambda place: order[place][0].id), strict=True
    ):
        if progress is not None and len(drafts) % _TOLD_EVERY == 0:
            progress(item.id, len(drafts), len(order))
        drafts.append(Draft(item, outcomes[item.id], stage, *written))
    # Oracle's PUBLIC is nobody's schema, and PostgreSQL has one of that name.
    is_there = (
        "PUBLIC"
        if "oracle" in (catalog.engine, assessment.target.engine) or assessment.target.engine == "postgresql"
        else ""
    )
    schemas = sorted({item.schema for item in catalog.objects.values() if item.schema and item.schema != is_there})
    ignores_case = assessment.project.drafts.case in ("compared", "ignore") and assessment.target.engine == "postgresql"
    return DraftSet(drafts, schemas, ignores_case, database_options(catalog, assessment.target))


def sizes_of(order: Sequence[tuple[Object, str]]) -> list[int]:
    """Return the characters of each object's source, from which follows what drafting it costs."""
    return [len(item.text) for item, _ in order]


@step("write stand-ins")
def add_stand_ins(made: DraftSet, catalog: Catalog, assessment: Assessment, workers: Workers = _ALONE) -> None:
    """Write stand-ins for all that a person must write; those of tables stand there already."""
    if made.has_stand_ins or not Pair(catalog.engine, assessment.target).has_drafts:
        return
    drafter = Drafter(catalog, assessment)
    waiting = [draft for draft in made.drafts if not (draft.is_finished or draft.text)]
    texts = workers.map(
        lambda place: drafter.stand_in(waiting[place].object),
        [len(draft.object.text) for draft in waiting],
        WORTH,
        names=lambda place: waiting[place].object.id,
    )
    for draft, text in zip(waiting, texts, strict=True):
        draft.text = text
    made.has_stand_ins = True


def with_outcomes(made: DraftSet, catalog: Catalog, assessment: Assessment) -> DraftSet:
    """Return drafts under the outcomes of a later judgement: what is no longer promised is taken back."""
    outcomes = {each.object.id: each.outcome for each in assessment.objects}
    drafter: Drafter | None = None
    for place, draft in enumerate(made.drafts):
        was_promised, draft.outcome = draft.is_promised, outcomes[draft.object.id]
        if was_promised != draft.is_promised:
            drafter = drafter or Drafter(catalog, assessment)
            made.drafts[place] = drafter.draft(draft.object, draft.outcome, draft.stage)
            made.has_stand_ins = False
    return made
