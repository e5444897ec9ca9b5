"""Is every word of a script part of a statement, a directive for the client, or an end of one?"""

from typing import Final

from .statements import Script

_ENDS: Final = frozenset((";", "/", "GO", "", "//", "$$", ";;", "@", "!", "."))
"""Words that end statements, and belong to none."""
_OPENERS: Final = frozenset(
    "CREATE ALTER DROP INSERT UPDATE DELETE MERGE SELECT GRANT REVOKE EXEC EXECUTE CALL COMMENT".split()
)
"""Words that begin a statement which must not be lost."""


def unaccounted(script: Script) -> list[tuple[int, int]]:
    """Return the stretches of a script, as offsets, that hold the opening of a statement and belong to nothing."""
    tokens = script.tokens
    covered = sorted((item.start, item.end) for item in script.items)
    lost: list[tuple[int, int]] = []
    place = 0
    reached = 0
    for at, word in enumerate(tokens.words):
        start = tokens.starts[at]
        while place < len(covered) and covered[place][0] <= start:
            reached = max(reached, covered[place][1])
            place += 1
        if start < reached or word in _ENDS or word not in _OPENERS:
            continue
        lost.append((start, tokens.ends[at]))
    return lost
