"""What a hull file keeps of its last judgement, so that commands that only show need not judge and draft again."""

import hashlib
from collections.abc import Iterator
from contextlib import suppress
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Final

import msgspec

from hullsound.catalog.hullfile import object_types
from hullsound.catalog.judgements import judging_state, put_kept, read_kept, read_look
from hullsound.errors import SourceError
from hullsound.knowledge.targets import parse_target
from hullsound.project import Project
from hullsound.report.document import Document
from hullsound.report.look import Look, find_object, look_at_all
from hullsound.settings import Settings

from .common import REPORTING, Progress, no_progress, tool_fingerprint

if TYPE_CHECKING:
    from .assess import Case

_MOST_KEPT: Final = 20_000_000
"""Characters of source up to which the looks at all objects are kept."""


def document_of(
    path: Path, target: str, project: Project | None = None, progress: Progress = no_progress, *, jobs: int = 1
) -> Document:
    """Return the assessment document of a hull file, from the file where it holds it. Raises as `assess_hull` does."""
    name = str(parse_target(target))
    kept = read_kept(path, name, _mark(path, name, project))
    if kept is not None:
        return msgspec.json.decode(kept, type=Document)
    from .assess import assess_hull

    case = assess_hull(path, target, project, jobs=jobs, progress=progress)
    keep(case, with_looks=False)
    return case.document


def look_of(
    path: Path, target: str, project: Project | None, name: str, progress: Progress = no_progress, *, jobs: int = 1
) -> Look:
    """Return one object with its source and draft. Raises UsageError for a name that is not clear, else as `assess_hull`."""
    item = find_object(object_types(path), name)
    chosen = str(parse_target(target))
    if read_kept(path, chosen, _mark(path, chosen, project)) is not None:
        content = read_look(path, chosen, item)
        if content is not None:
            return msgspec.json.decode(content, type=Look)
    from .assess import assess_hull

    case = assess_hull(path, target, project, jobs=jobs, progress=progress)
    keep(case)
    return next(look for look in _looks(case) if look.id == item)


def keep(case: "Case", *, with_looks: bool = True) -> None:
    """Keep the document of a case in its hull file, and what is to be seen of its objects unless that is very much."""
    if case.path is None:
        return
    name = str(case.assessment.target)
    size = sum(len(item.text) for item in case.catalog.objects.values())
    looks = _looks(case) if with_looks and size <= _MOST_KEPT else iter(())
    packed = ((look.id, msgspec.json.encode(look)) for look in looks)
    with suppress(SourceError):  # a hull file that may only be read is judged anew each time
        mark = _mark(case.path, name, case.assessment.project)
        put_kept(case.path, name, mark, msgspec.json.encode(case.document), packed)


def _looks(case: "Case") -> Iterator[Look]:
    return look_at_all(case.catalog, case.assessment, case.drafts.drafts)


def _mark(path: Path, target: str, project: Project | None) -> str:
    """Return what tells whether a judgement still holds: survey, evidence, tool, decisions, and the day they hold on."""
    decided = project or Project()
    decisions = msgspec.structs.replace(
        decided, seen_types=(), target="", settings=Settings(effort=decided.settings.effort)
    )
    day = date.today().isoformat() if decisions.accept else ""
    parts = (
        judging_state(path, target),
        tool_fingerprint(REPORTING).encode(),
        msgspec.json.encode(decisions),
        day.encode(),
    )
    return hashlib.sha256(b"\0".join(parts)).hexdigest()
