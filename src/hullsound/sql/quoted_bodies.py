"""Bodies of PostgreSQL's routines in quotes, as older scripts write them: put between dollars, so that they are read as code.

Source: PostgreSQL 18, "CREATE FUNCTION" and "Dollar-Quoted String Constants".
"""

import re
from typing import Final

_BODY: Final = re.compile(r"\bAS\s*('(?:[^']|'')*')", re.IGNORECASE)
_HEAD: Final = re.compile(r"\bCREATE\s+(?:OR\s+REPLACE\s+)?(?:FUNCTION|PROCEDURE)\b[^;]*$", re.IGNORECASE)
_LANGUAGE: Final = re.compile(r"\bLANGUAGE\s+['\"]?(?:sql|plpgsql)\b", re.IGNORECASE)
_LONGEST_HEAD: Final = 20_000
"""Characters of a head that are looked back at."""


def with_dollar_quotes(text: str) -> str:
    """Return a script in which quoted bodies of SQL and PL/pgSQL stand between dollars; lines stay where they are."""
    pieces, at = [], 0
    for match in _BODY.finditer(text):
        if match.start() < at or "\\" in match[1] or not _is_code(text, match):
            continue
        body = match[1][1:-1].replace("''", "'")
        mark = next(mark for mark in ("$$", "$body$", "$hs_body$") if mark not in body)
        pieces += [text[at : match.start(1)], mark, body, mark]
        at = match.end()
    return "".join([*pieces, text[at:]]) if pieces else text


def _is_code(text: str, match: re.Match[str]) -> bool:
    """Whether a quoted text is the body of a routine in a language that is read."""
    head = _HEAD.search(text, max(0, match.start() - _LONGEST_HEAD), match.start())
    if head is None:
        return False
    behind = text.find(";", match.end())
    tail = text[match.end() : behind if behind >= 0 else len(text)]
    return bool(_LANGUAGE.search(head[0]) or _LANGUAGE.search(tail))
