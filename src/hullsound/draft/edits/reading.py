"""Reads the text of an object again, as drafting wants it."""

from functools import lru_cache

from hullsound.sql.dialect import load_dialect
from hullsound.sql.script import ReadStatement, read_script

from .comments import plain_comments


@lru_cache(maxsize=4)
def read_object(text: str, engine: str) -> ReadStatement | None:
    """Read the text of one object again, with plain comments; None if nothing stands in it.

    The last few are kept: an object may be drafted in part after the whole of it could not.
    """
    return next(read_script(plain_comments(text, engine), load_dialect(engine)).statements(), None)
