"""Which engine wrote a source? A guess by its look, with reasons that people can check."""

import re
from collections.abc import Iterable
from itertools import islice
from typing import Final, NamedTuple

from .files import ScriptFile

_SAMPLE: Final = 200_000
"""Characters looked at of a file."""
_SAMPLE_OF_ALL: Final = 500_000
"""Characters looked at of all files together, the beginning of each."""
_LEAST: Final = 2_000
"""Characters looked at of each file, however many there are."""
_MOST_IN_FILE: Final = 5
_MOST_IN_ALL: Final = 8
"""How often a sign counts."""
_DOUBTED: Final = 16.0
"""Weight from which an engine that was not named is worth a word."""
_DOUBT_RATIO: Final = 3.0
"""How many times more that engine must weigh than the one that was named."""
_CLEAR: Final = 1.5
"""How many times more the best engine must weigh than the next."""


class Sign(NamedTuple):
    """A piece of text that one engine's scripts have: how much it weighs, and how to say so.

    Every match holds one of the `words`, in any case: texts without them are not searched.
    """

    engine: str
    weight: float
    pattern: str
    reason: str
    words: str


_SIGNS: Final = (
    Sign("oracle", 4, r"\bVARCHAR2\s*\(", "VARCHAR2", "varchar2"),
    Sign("oracle", 4, r"^\s*/\s*$", "lines with / alone", "/"),
    Sign("oracle", 4, r"\bCREATE\s+(?:OR\s+REPLACE\s+)?(?:EDITIONABLE\s+)?PACKAGE\b", "packages", "package"),
    Sign("oracle", 3, r"\b(?:SYSDATE|NVL2?|DBMS_\w+|UTL_\w+|ROWNUM)\b",
         "SYSDATE, NVL and supplied packages", "sysdate nvl dbms_ utl_ rownum"),
    Sign("oracle", 2, r"\bFROM\s+DUAL\b", "FROM DUAL", "dual"),
    Sign("sqlserver", 5, r"^\s*GO\s*$", "batches ended by GO", "go"),
    Sign("sqlserver", 4, r"\[dbo\]|\bdbo\.", "the schema dbo", "dbo"),
    Sign("sqlserver", 3, r"\bNVARCHAR\b|\bDATETIME2\b|\bUNIQUEIDENTIFIER\b|\bIDENTITY\s*\(",
         "its data types", "nvarchar datetime2 uniqueidentifier identity"),
    Sign("sqlserver", 3, r"\bDECLARE\s+@\w+", "variables that begin with @", "declare"),
    Sign("sqlserver", 3, r"\bBEGIN\s+TRY\b|\bOUTER\s+APPLY\b|\bTHROW\b|\bNVARCHAR\s*\(\s*MAX\s*\)",
         "TRY, APPLY, MAX types", "try apply throw nvarchar"),
    Sign("ase", 6, r"\block\s+(?:datarows|datapages|allpages)\b", "lock schemes of tables", "datarows datapages allpages"),
    Sign("ase", 5, r"^\s*go\s*$(?s:.){0,4000}\bat\s+isolation\b|\bholdlock\b(?!\s*\))|\bnoholdlock\b",
         "isolation words of ASE", "isolation holdlock"),
    Sign("ase", 5, r"\b(?:univarchar|unichar|bigdatetime|unitext)\b", "its data types", "univarchar unichar bigdatetime unitext"),
    Sign("ase", 4, r"\bsp_(?:bindrule|bindefault|addtype|primarykey|foreignkey|dboption|procxmode)\b",
         "its system procedures", "sp_"),
    Sign("ase", 4, r"\w\.\w+\s*(?:=\*|\*=)\s*\w+\.\w", "outer joins written *=", "=* *="),
    Sign("mysql", 5, r"\bENGINE\s*=\s*\w+", "storage engines", "engine"),
    Sign("mysql", 4, r"`\w+`", "names in backticks", "`"),
    Sign("mysql", 4, r"\bAUTO_INCREMENT\b", "AUTO_INCREMENT", "auto_increment"),
    Sign("mysql", 4, r"^\s*DELIMITER\s+\S+", "DELIMITER", "delimiter"),
    Sign("mysql", 3, r"/\*!\d{5}", "version comments", "/*!"),
    Sign("mysql", 4, r"\bINSERT\s+IGNORE\b|\bINT(?:EGER)?(?:\(\d+\))?\s+UNSIGNED\b",
         "UNSIGNED and INSERT IGNORE", "ignore unsigned"),
    Sign("mariadb", 9, r"/\*M!|-MariaDB|\bWITH\s+SYSTEM\s+VERSIONING\b|\bsql_mode\s*=\s*'?ORACLE",
         "marks of MariaDB", "/*m! -mariadb versioning sql_mode"),
    Sign("postgresql", 5, r"\$\w*\$", "dollar quotes", "$"),
    Sign("postgresql", 5, r"\bLANGUAGE\s+'?plpgsql", "PL/pgSQL", "language"),
    Sign("postgresql", 4, r"\bFROM\s+stdin;|^SELECT pg_catalog\.|\bSET\s+search_path\b",
         "a PostgreSQL dump", "stdin pg_catalog search_path"),
    Sign("postgresql", 3, r"::\w+|\b(?:BIGSERIAL|SERIAL|TIMESTAMPTZ|JSONB|BYTEA)\b",
         "casts with :: and its data types", ":: serial timestamptz jsonb bytea"),
    Sign("db2", 5, r"\bORGANIZE\s+BY\b|\bFOR\s+BIT\s+DATA\b|\bSYSIBM\.|\bSYSCAT\.|\bDATA\s+CAPTURE\b",
         "words of Db2", "organize bit sysibm. syscat. capture"),
    Sign("db2", 4, r"^\s*CONNECT\s+TO\s+\w+|--#SET\s+TERMINATOR|\bMODE\s+DB2SQL\b|\bDYNAMIC\s+RESULT\s+SETS\b",
         "its command line", "connect --#set db2sql dynamic"),
    Sign("db2", 3, r"\bCURRENT\s+(?:DATE|TIMESTAMP|SCHEMA)\b|\bWITH\s+UR\b|\bVALUES\s+NEXT",
         "special registers and isolation", "current ur values"),
    Sign("teradata", 6, r"\b(?:MULTISET|CREATE\s+SET)\s+(?:VOLATILE\s+)?TABLE\b|\bVOLATILE\s+TABLE\b",
         "SET and MULTISET tables", "multiset volatile set"),
    Sign("teradata", 5, r"\bPRIMARY\s+INDEX\b|\bCOLLECT\s+STAT", "primary indexes and statistics", "primary collect"),
    Sign("teradata", 4, r"\bQUALIFY\b|^\s*\.(?:LOGON|IF|QUIT|EXPORT)\b|\bNO\s+FALLBACK\b|^\s*SEL\s",
         "QUALIFY and dot commands", "qualify .logon .if .quit .export fallback sel"),
    Sign("sqlite", 6, r"\bAUTOINCREMENT\b|\bWITHOUT\s+ROWID\b|^\s*PRAGMA\s+\w+",
         "AUTOINCREMENT and PRAGMA", "autoincrement rowid pragma"),
    Sign("sqlite", 4, r"\bsqlite_\w+|\bstrftime\s*\(|\bdatetime\s*\(\s*'now'", "its functions", "sqlite_ strftime datetime"),
)  # fmt: skip


class Guess(NamedTuple):
    """The engine that a source most likely comes from; '' where that is not clear."""

    engine: str
    reasons: tuple[str, ...]
    others: tuple[str, ...]
    """Engines that come near."""


def guess_engine(files: Iterable[ScriptFile]) -> Guess:
    """Guess the engine of scripts by the signs in their texts."""
    weights, reasons = _weigh(files)
    ranked = sorted(weights, key=lambda engine: -weights[engine])
    if not ranked:
        return Guess("", (), ())
    best = ranked[0]
    near = tuple(
        engine for engine in ranked[1:] if weights[engine] * _CLEAR > weights[best] and not are_kin(engine, best)
    )
    return Guess("" if near else best, tuple(reasons[best]), near)


def other_engine(files: Iterable[ScriptFile], engine: str) -> Guess | None:
    """Return the engine that scripts look like, where it is clearly another one than was named."""
    weights, reasons = _weigh(files)
    best = max(weights, key=lambda name: weights[name], default="")
    is_clear = weights.get(best, 0.0) >= _DOUBTED and weights[best] > _DOUBT_RATIO * weights.get(engine, 0.0)
    if not is_clear or best == engine or are_kin(best, engine):
        return None
    return Guess(best, tuple(reasons[best]), ())


def _weigh(files: Iterable[ScriptFile]) -> tuple[dict[str, float], dict[str, list[str]]]:
    """Weigh the signs of every engine; a sign counts more the more often it occurs, up to a point."""
    whole = [file.text for file in files]
    share = max(_LEAST, min(_SAMPLE, _SAMPLE_OF_ALL // max(1, len(whole))))
    texts = [(text, text.lower()) for text in (text[:share] for text in whole)]
    weights: dict[str, float] = {}
    reasons: dict[str, list[str]] = {}
    for sign in _SIGNS:
        pattern = re.compile(sign.pattern, re.MULTILINE | re.IGNORECASE)
        words = sign.words.split()
        hits = 0
        for text, lowered in texts:
            if not any(word in lowered for word in words):
                continue
            hits += sum(1 for _ in islice(pattern.finditer(text), _MOST_IN_FILE))
            if hits >= _MOST_IN_ALL:
                break
        if hits:
            weights[sign.engine] = weights.get(sign.engine, 0.0) + sign.weight * min(hits, _MOST_IN_ALL)
            reasons.setdefault(sign.engine, []).append(sign.reason)
    if "ase" in weights and weights["ase"] > weights.get("sqlserver", 0.0) / 2:
        # Once ASE itself has spoken clearly, all that speaks for the family speaks for it too.
        weights["ase"] += weights.get("sqlserver", 0.0)
    if "mariadb" in weights:
        weights["mariadb"] += weights.get("mysql", 0.0)
    return weights, reasons


def are_kin(engine: str, best: str) -> bool:
    """Whether two engines look alike only because they are relatives."""
    return {engine, best} in ({"sqlserver", "ase"}, {"mysql", "mariadb"})
