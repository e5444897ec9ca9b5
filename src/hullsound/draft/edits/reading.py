"""Reads the text of an object again, as drafting wants it."""

from functools import lru_cache

from hullsound.catalog.model import Object
from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script

from .comments import plain_comments


@lru_cache(maxsize=4)
def read_object(text: str, engine: str, modes: str = "") -> ReadStatement | None:
    """Read the text of one object again, with plain comments; None if nothing stands in it.

    `modes` are the settings under which it was made, parted by blanks. The last few are kept: an object may be drafted in part
    after the whole of it could not.
    """
    dialect = load_dialect(engine, frozenset(modes.split()))
    return next(read_script(plain_comments(text, engine), dialect).statements(), None)


def read_again(item: Object, engine: str) -> ReadStatement | None:
    """Read the text of an object again, under the settings with which it was made; None if nothing stands in it."""
    return read_object(item.text, engine, item.details.get("modes", ""))
