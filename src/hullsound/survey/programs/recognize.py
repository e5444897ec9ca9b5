"""Tells SQL from sentences, paths and style sheets that begin with the same words."""

import re
from typing import Final

_START: Final = re.compile(
    r"(?ix)\A\s*(?:(?:--[^\n]*\n|/\*.*?\*/)\s*)*"
    r"(?P<word>SELECT|INSERT|UPDATE|DELETE|MERGE|REPLACE|WITH|CREATE|ALTER|DROP|TRUNCATE|CALL|EXEC(?:UTE)?|BEGIN|DECLARE|\{\s*\??\s*=?\s*call"
    r"|LOCK|GRANT|REVOKE)\b",
    re.DOTALL,
)
_FORMS: Final[dict[str, re.Pattern[str]]] = {
    word: re.compile(pattern, re.IGNORECASE | re.DOTALL)
    for word, pattern in {
        "SELECT": r"\bSELECT\b.+?\bFROM\s+\S",
        "INSERT": r"\bINSERT\s+(?:\w+\s+)?INTO\s+\S",
        "UPDATE": r"\bUPDATE\s+(?:ONLY\s+)?[^\s:]+(?:\s+(?:AS\s+)?\w+)?\s+SET\s+(?:[^=]+=|\?|%s|[#$]\{)",
        "DELETE": r"\bDELETE\s+(?:FROM\s+(?:ONLY\s+)?[\w.\"`\[\]?%@#${}]+(?:\s+(?:AS\s+)?(?!where\b|using\b)\w+)?"
        r"|(?!from\b)[\w.\"`\[\]?%@#${}*]+(?:\s*,\s*[\w.\"`\[\]?%@#${}*]+)*(?!\s*(?:\?|%s)))"
        r"\s*(?:\Z|;|\?|%s|\b(?:WHERE|USING|FROM|RETURNING|INNER|JOIN|LEFT|ORDER|LIMIT|OUTPUT|WITH)\b)",
        "MERGE": r"\bMERGE\s+INTO\s+\S",
        "REPLACE": r"\bREPLACE\s+INTO\s+\S",
        "WITH": r"\bWITH\s+(?:RECURSIVE\s+)?[\w\"`\[\]]+\s*(?:\([^()]*\)\s*)?AS\s*(?:MATERIALIZED\s*)?\(",
        "CREATE": r"\bCREATE\s+(?:OR\s+REPLACE\s+)?(?:GLOBAL\s+|TEMP(?:ORARY)?\s+|UNIQUE\s+|MATERIALIZED\s+)*(?:TABLE|VIEW|INDEX|"
        r"SEQUENCE|PROCEDURE|FUNCTION|TRIGGER|SCHEMA|PACKAGE|TYPE)\s+(?:IF\s+NOT\s+EXISTS\s+)?[\w\"`\[?]+[\s(.]*[\w(\"`]",
        "ALTER": r"\bALTER\s+(?:TABLE|SESSION|SEQUENCE|INDEX|VIEW)\s+\S",
        "DROP": r"\bDROP\s+(?:TABLE|VIEW|INDEX|SEQUENCE|PROCEDURE|FUNCTION|TRIGGER|SCHEMA)\s+(?:IF\s+EXISTS\s+)?[\w\"`\[?]+",
        "TRUNCATE": r"\bTRUNCATE\s+(?:TABLE\s+)?[\w\"`\[?]+",
        "CALL": r"\bCALL\s+[\w.\"`\[]+\s*\(",
        "EXEC": r"\bEXEC(?:UTE)?\s+[\w.\"\[]+",
        "BEGIN": r"\bBEGIN\b.*;.*\bEND\b",
        "DECLARE": r"\bDECLARE\b.*;",
        "LOCK": r"\bLOCK\s+TABLE\s+\S",
        "GRANT": r"\bGRANT\s+\w+.*\bTO\s+\S",
        "REVOKE": r"\bREVOKE\s+\w+.*\bFROM\s+\S",
    }.items()
}
_SIGNS: Final = re.compile(r"[=*()?_@$%;]|:\w")
"""What sentences rarely hold, and SQL in small letters rarely lacks."""
_SENTENCE: Final = re.compile(r"[A-Z][a-z]+\s")
_OBJECT_QUERY: Final = re.compile(
    r"(?is)\A\s*SELECT\s+(?:DISTINCT\s+)?(?:(\w+)\s+FROM\s+[A-Z]\w*\s+(?:AS\s+)?\1\b|(?-i:new)\s+[\w.]+\s*\(|OBJECT\s*\()"
)
"""Queries for objects in the own language of a mapper: they select the alias itself, or make objects."""


def is_sql(text: str) -> bool:
    """Whether a text of a program is SQL.

    Key words in capitals are taken at their word. Those in small letters need a sign that sentences lack; a first word with one
    capital begins a sentence.
    """
    start = _START.match(text)
    if start is None:
        return False
    written = start["word"]
    word = written.upper()
    if word.startswith("{"):
        return True
    form = _FORMS["EXEC" if word.startswith("EXEC") else word]
    if not form.search(text) or _OBJECT_QUERY.match(text):
        return False
    if written.isupper():
        return not _is_sentence_in_capitals(text)
    if _SENTENCE.match(text.lstrip()):
        return bool(re.search(r"=|\w\(|\bvalues\s*\(", text, re.IGNORECASE)) and written.lower() != "with"
    return bool(_SIGNS.search(text))


def _is_sentence_in_capitals(text: str) -> bool:
    """Whether a text with its first word in capitals goes on as a sentence: TRUNCATE and others say too little by themselves."""
    return bool(re.match(r"\s*(?:TRUNCATE|EXEC|DELETE)\s+[a-z]+\s+[a-z]+\s+[a-z]+\b", text))
