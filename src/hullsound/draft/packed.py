"""Drafts as bytes for the hull file, so that later commands need not write them again; and back."""

import zlib
from collections.abc import Iterable, Iterator
from typing import Final, NamedTuple

import msgspec

from hullsound.assess.model import Outcome
from hullsound.catalog.catalog import Catalog
from hullsound.sql.edit import Edit
from hullsound.timing import step

from .model import Draft, DraftSet

_TOGETHER: Final = 200
"""How many drafts are compressed together."""


class _Set(NamedTuple):
    schemas: list[str]
    ignores_case: bool
    database_options: str
    has_stand_ins: bool


class _Packed(NamedTuple):
    """A draft without its object, which the survey holds."""

    object: str
    outcome: Outcome
    stage: str
    text: str
    is_finished: bool
    edits: list[tuple[int, int, str, str]]
    skipped: list[tuple[str, int, str]]
    written: list[tuple[str, int]]
    open_types: str
    is_own: bool


def pack_drafts(made: DraftSet) -> Iterator[bytes]:
    """Yield a set of drafts in pieces: first what holds of all, then so many drafts at a time."""
    yield _pack(_Set(made.schemas, made.ignores_case, made.database_options, made.has_stand_ins))
    for first in range(0, len(made.drafts), _TOGETHER):
        yield _pack([_packed(draft) for draft in made.drafts[first : first + _TOGETHER]])


@step("read the hull file")
def unpack_drafts(pieces: Iterable[bytes], catalog: Catalog) -> DraftSet | None:
    """Return the drafts that `pack_drafts` wrote of the objects of this catalogue; None where they are of others, or damaged."""
    rest = iter(pieces)
    head = next(rest, None)
    if head is None:
        return None
    decoder = msgspec.msgpack.Decoder(list[_Packed])
    try:
        of_all = msgspec.msgpack.decode(zlib.decompress(head), type=_Set)
        packed = [each for piece in rest for each in decoder.decode(zlib.decompress(piece))]
    except (msgspec.MsgspecError, zlib.error):
        return None
    if {each.object for each in packed} != catalog.objects.keys():
        return None
    return DraftSet([_draft(each, catalog) for each in packed], *of_all)


def _pack(value: object) -> bytes:
    return zlib.compress(msgspec.msgpack.encode(value), 1)


def _packed(draft: Draft) -> _Packed:
    edits = [(edit.start, edit.end, edit.new, edit.construct) for edit in draft.edits]
    return _Packed(
        draft.object.id, draft.outcome, draft.stage, draft.text, draft.is_finished, edits, draft.skipped, draft.written,
        draft.open_types, draft.is_own,
    )  # fmt: skip


def _draft(packed: _Packed, catalog: Catalog) -> Draft:
    edits = [Edit(*each) for each in packed.edits]
    return Draft(
        catalog.objects[packed.object], packed.outcome, packed.stage, packed.text, packed.is_finished, edits, packed.skipped,
        packed.written, packed.open_types, packed.is_own,
    )  # fmt: skip
