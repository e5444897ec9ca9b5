"""Fixers for digests of texts: HASHBYTES, MD5, SHA1, SHA2 and STANDARD_HASH, as bytes or as hexadecimal digits.

Sources: Transact-SQL reference, "HASHBYTES"; MySQL 8.4 Reference Manual, "Encryption and Compression Functions"; Oracle Database
19c, "STANDARD_HASH"; PostgreSQL 18, "String Functions".
"""

from typing import Final

from hullsound.analyze.types import Family
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Literal, Node

from . import call_of, fixer

_MYSQL: Final = ("mysql", "mariadb")
_KINDS: Final = {"MD5": "MD5", "SHA": "SHA1", "SHA1": "SHA1", "SHA2_256": "SHA256", "SHA256": "SHA256", "SHA2_512": "SHA512",
                 "SHA512": "SHA512", "SHA384": "SHA384"}  # fmt: skip
_NATIONAL: Final = frozenset(("NCHAR", "NVARCHAR", "NTEXT", "NVARCHAR2", "SYSNAME"))
_UTF8: Final = "Latin1_General_100_BIN2_UTF8"
"""A collation of SQL Server (since version 2019) whose texts are bytes of UTF-8."""
_UTF8_SINCE: Final = 2019


def _read(call: Call, rewriter: Rewriter) -> tuple[str, Node, bool]:
    """Return the kind of a digest, its text, and whether it is written as digits."""
    name = call.parts[-1]
    if name == "HASHBYTES":
        kind, text, is_digits = text_value(call.arguments[0], rewriter), call.arguments[1], False
    elif name == "STANDARD_HASH":
        kind = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else "SHA1"
        text, is_digits = call.arguments[0], False
    elif name == "SHA2":
        kind, text, is_digits = f"SHA{rewriter.subject.source(call.arguments[1])}", call.arguments[0], True
    else:
        kind, text, is_digits = name, call.arguments[0], True
    known = _KINDS.get((kind or "").upper())
    if known is None or rewriter.types.family(text) is not Family.TEXT:
        raise CannotDraft("a digest of a kind that is not known, or of something that is no text")
    source = rewriter.types.source_type(text)
    is_national = source is not None and source.name in _NATIONAL
    is_national = is_national or (isinstance(text, Literal) and rewriter.subject.source(text)[:1] in ("N", "n"))
    if is_national and rewriter.catalog.engine == "sqlserver":
        raise CannotDraft("a digest of a national text, which is one of its two-byte characters")
    return known, text, is_digits


@fixer("digest")
def fix_digest(place: Found, rewriter: Rewriter) -> str:
    """A digest of a text, in small letters where it is written as digits."""
    kind, node, is_digits = _read(call_of(place), rewriter)
    text, engine = rewriter.node(node), rewriter.target.engine
    if engine in _MYSQL:
        digits = f"{kind}({text})" if kind in ("MD5", "SHA1") else f"SHA2({text}, {kind[3:]})"
        return digits if is_digits else f"UNHEX({digits})"
    if engine == "oracle":
        return f"LOWER(RAWTOHEX(STANDARD_HASH({text}, '{kind}')))" if is_digits else f"STANDARD_HASH({text}, '{kind}')"
    if rewriter.target.version < _UTF8_SINCE or kind == "SHA384":
        raise CannotDraft("a digest of bytes of UTF-8, before version 2019, or of a kind that the target lacks")
    names = {"SHA256": "SHA2_256", "SHA512": "SHA2_512"}
    bytes_ = f"HASHBYTES('{names.get(kind, kind)}', CAST({text} COLLATE {_UTF8} AS varchar(max)))"
    return f"LOWER(CONVERT(varchar(128), {bytes_}, 2))" if is_digits else bytes_
