"""Comments inside drafts: PostgreSQL nests /* */, and most engines do not."""

import re
from collections.abc import Sequence
from typing import Final

from hullsound.sql.dialect import load_dialect
from hullsound.sql.edit import Edit
from hullsound.sql.lexer import lex

_NESTING: Final = frozenset(("postgresql", "sqlserver", "ase", "db2"))
"""Engines that nest comments as PostgreSQL does, so that theirs may stay."""
_COMMENT: Final = re.compile(r"--[^\n]*|#[^\n]*|/\*.*?\*/", re.DOTALL)
_OPENING: Final = re.compile(r"(?<=.)/\*", re.DOTALL)


def plain_comments(text: str, engine: str) -> str:
    """Return the text with every /* inside a comment as (*, so that each comment ends where it does in the source.

    No offset changes.
    """
    pieces = list(text)
    for at in _openings(text, engine):
        pieces[at] = "("
    return "".join(pieces)


def with_plain_comments(text: str, engine: str, edits: Sequence[Edit]) -> list[Edit]:
    """Add edits for openings of comments inside comments, where the text stays outside of all `edits`."""
    added = [
        Edit(at, at + 1, "(")
        for at in _openings(text, engine)
        if not any(edit.start <= at < edit.end for edit in edits)
    ]
    return sorted((*edits, *added), key=lambda edit: (edit.start, edit.end))


def _openings(text: str, engine: str) -> list[int]:
    """Return where /* stands inside a comment."""
    if text.count("/*") < 2 or engine in _NESTING:
        return []
    tokens = lex(text, load_dialect(engine))
    found = []
    edges = zip((0, *tokens.ends), (*tokens.starts, len(text)), strict=True)
    for start, end in edges:
        for comment in _COMMENT.finditer(text, start, end) if "/*" in text[start:end] else ():
            if comment[0].startswith("/*"):
                found += [comment.start() + match.start() for match in _OPENING.finditer(comment[0])]
    return found


def remark(text: str) -> str:
    """Return a text as a comment of one line."""
    return f"-- {' '.join(text.split())}"
