"""What calls of supplied routines do to objects: comments, next values and names that no definition holds."""

import re
from collections.abc import Callable
from typing import Final, NamedTuple

from hullsound.sql.lexer import NUMBER, STRING, WORD
from hullsound.sql.literals import string_content
from hullsound.sql.script import ReadStatement
from hullsound.sql.tree import Parts


class CallEffect(NamedTuple):
    """A change, in the words of `Change`: `name` with its schema, where the call gives one."""

    kind: str
    of: str
    name: Parts
    names: tuple[str, ...] = ()
    text: str = ""
    new: Parts = ()


_PARTS: Final = re.compile(r'"((?:[^"]|"")*)"|\[((?:[^\]]|\]\])*)\]|([^.\s"\[\]]+)')
_LEVELS: Final = ("SCHEMA", "USER")


def effects_of_call(read: ReadStatement, engine: str) -> list[CallEffect]:
    """Return what a statement such as EXEC sp_rename, DBCC CHECKIDENT or SELECT setval(...) does to objects."""
    words = read.tokens.words
    for at in range(read.first, min(read.last, read.first + 8)):
        reader = _READERS.get(words[at])
        if reader is not None:
            return reader(read, at + 1, engine)
    return []


def _parts(text: str) -> Parts:
    """Split a name that a text holds, such as dbo.[Order lines], as the catalogue keeps it."""
    return tuple((m[1] or m[2] or m[3] or "").upper() for m in _PARTS.finditer(text))


def _arguments(read: ReadStatement, at: int, engine: str) -> tuple[list[str], dict[str, str]]:
    """Return the text and number arguments of a call, those without a name in order and those with one by it."""
    tokens = read.tokens
    plain: list[str] = []
    named: dict[str, str] = {}
    for i in range(at, read.last):
        if tokens.kinds[i] == STRING:
            value = string_content(tokens.source(i, i + 1), engine)
        elif tokens.kinds[i] == NUMBER or (
            tokens.kinds[i] == WORD and tokens.words[i] in ("NULL", "DEFAULT", "TRUE", "FALSE")
        ):
            value = tokens.words[i]
        else:
            continue
        if tokens.words[i - 1] == "=" and tokens.words[i - 2].startswith("@"):
            named[tokens.words[i - 2]] = value
        else:
            plain.append(value)
    return plain, named


def _extended_property(read: ReadStatement, at: int, engine: str) -> list[CallEffect]:
    """Read sp_addextendedproperty 'MS_Description', text, level type, level name, ..."""
    plain, named = _arguments(read, at, engine)
    keys = ["@NAME", "@VALUE", "@LEVEL0TYPE", "@LEVEL0NAME", "@LEVEL1TYPE", "@LEVEL1NAME", "@LEVEL2TYPE", "@LEVEL2NAME"]
    given = {**dict(zip(keys, plain, strict=False)), **named}
    levels = [(given.get(f"@LEVEL{n}TYPE", "").upper(), given.get(f"@LEVEL{n}NAME", "")) for n in range(3)]
    if (
        given.get("@NAME", "").upper() != "MS_DESCRIPTION"
        or levels[0][0] not in _LEVELS
        or levels[1][0] not in ("TABLE", "VIEW")
    ):
        return []
    if levels[2][0] not in ("", "NULL", "COLUMN"):
        return []
    names = (levels[2][1].upper(),) if levels[2][0] == "COLUMN" else ()
    return [
        CallEffect("comment", "table", (levels[0][1].upper(), levels[1][1].upper()), names, given.get("@VALUE", ""))
    ]


def _rename(read: ReadStatement, at: int, engine: str) -> list[CallEffect]:
    """Read sp_rename 'old', 'new' [, 'COLUMN' | 'INDEX' | 'OBJECT']."""
    plain, named = _arguments(read, at, engine)
    given = {**dict(zip(("@OBJNAME", "@NEWNAME", "@OBJTYPE"), plain, strict=False)), **named}
    old, new = _parts(given.get("@OBJNAME", "")), (given.get("@NEWNAME", "").upper(),)
    kind = given.get("@OBJTYPE", "OBJECT").lower()
    if not old or not new[0]:
        return []
    if kind in ("column", "index"):
        return [CallEffect("rename", kind, old[:-1], old[-1:], new=new)] if len(old) > 1 else []
    return [CallEffect("rename", "object", old, new=new)]


def _reseed(read: ReadStatement, at: int, engine: str) -> list[CallEffect]:
    """Read DBCC CHECKIDENT ('table', RESEED, last)."""
    plain, _ = _arguments(read, at, engine)
    if len(plain) < 2 or not plain[1].isdigit() or "RESEED" not in read.tokens.words[at : read.last]:
        return []
    return [CallEffect("restart", "column", _parts(plain[0]), new=(str(int(plain[1]) + 1),))]


def _set_value(read: ReadStatement, at: int, engine: str) -> list[CallEffect]:
    """Read setval('sequence', last [, is called]) of PostgreSQL and MariaDB."""
    plain, _ = _arguments(read, at, engine)
    if len(plain) < 2 or not plain[1].isdigit() or "SELECT" in read.tokens.words[at : read.last]:
        return []
    is_called = plain[2].upper() not in ("FALSE", "0") if len(plain) > 2 else True
    return [CallEffect("restart", "sequence", _parts(plain[0]), new=(str(int(plain[1]) + is_called),))]


_READERS: Final[dict[str, Callable[[ReadStatement, int, str], list[CallEffect]]]] = {
    "SP_ADDEXTENDEDPROPERTY": _extended_property,
    "SP_UPDATEEXTENDEDPROPERTY": _extended_property,
    "SP_RENAME": _rename,
    "CHECKIDENT": _reseed,
    "SETVAL": _set_value,
}
