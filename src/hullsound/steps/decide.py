"""What a person decides while looking through an assessment: a finding may stay, the work on an object is done."""

import math
from pathlib import Path

from hullsound.catalog.hullfile import object_types
from hullsound.catalog.judgements import Actual, put_actuals
from hullsound.decisions import add_accept
from hullsound.errors import UsageError
from hullsound.project import FILE_NAME, AcceptEntry


def accept_finding(folder: Path, entry: AcceptEntry) -> Path:
    """Write into the project file of a folder that findings may stay; return the file. Raises as `add_accept` does."""
    path = folder / FILE_NAME
    add_accept(path, entry)
    return path


def mark_done(hull: Path, object_id: str, hours: float) -> None:
    """Record in a hull file that the work on an object is done and how many hours it took.

    Raises UsageError for an object that the file does not hold and for hours that are no number from 0 to 10,000, SourceError for
    a file that cannot be read or written.
    """
    if object_id not in object_types(hull):
        raise UsageError(f"no object is named {object_id!r}", where=str(hull))
    if not math.isfinite(hours) or not 0 <= hours <= 10_000:
        raise UsageError("hours are a number from 0 to 10,000")
    put_actuals(hull, [Actual(object_id, hours, True)])
