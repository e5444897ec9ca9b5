"""IS JSON, as each target writes it.

Sources: Oracle Database 19c, SQL Language Reference, "IS JSON Condition" (lax, and single values from version 21 on); PostgreSQL
18, "JSON Functions and Operators"; MySQL 8.4 Reference Manual, "JSON_VALID"; Transact-SQL reference of SQL Server 2022, "ISJSON".
"""

from typing import Final

from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sight.detector import Found
from hullsound.sql.tree import Comparison

from . import fixer

_KINDS: Final = ("OBJECT", "ARRAY", "SCALAR", "VALUE")
_KINDS_SINCE: Final = {"sqlserver": 2022, "oracle": 21}


@fixer("json_test")
def fix_json_test(place: Found, rewriter: Rewriter) -> str:
    test, engine, version = place.node, rewriter.target.engine, rewriter.target.version
    assert isinstance(test, Comparison)
    words = rewriter.words[test.operands[0].last : test.last]
    kind = next((word for word in words if word in _KINDS), "")
    unique = " WITH UNIQUE KEYS" if "WITH" in words else ""
    value, negation = rewriter.node(test.operands[0]), "NOT " if test.negated else ""
    if engine in _KINDS_SINCE and kind and version < _KINDS_SINCE[engine]:
        raise CannotDraft("a test for a kind of JSON")
    if engine in ("postgresql", "oracle"):
        strict = " STRICT" if engine == "oracle" else ""
        return f"{value} IS {negation}JSON{f' {kind}' if kind else ''}{strict}{unique}"
    if unique:
        raise CannotDraft("a test for repeated keys of JSON")
    if engine == "sqlserver":
        asked = kind or ("VALUE" if rewriter.catalog.engine == "postgresql" else "")
        if asked and version < _KINDS_SINCE[engine]:
            raise CannotDraft("a test for JSON that may be a single value")
        return f"ISJSON({value}{f', {asked}' if asked else ''}) = {0 if test.negated else 1}"
    if kind not in ("", "VALUE"):
        raise CannotDraft("a test for a kind of JSON")
    return f"{negation}JSON_VALID({value})"
