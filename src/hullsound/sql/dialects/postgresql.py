"""SQL and PL/pgSQL of PostgreSQL, 11 to 18, and its psql client (PostgreSQL documentation)."""

from typing import Final

from hullsound.sql.dialect import Client, Dialect, Grammar, NameCase, quoted
from hullsound.sql.levels import COMPARE, MULTIPLY, OTHER, POWER, SUFFIX

from .common import ALIASES_STOP, CHARACTER_TYPES, LINE_COMMENT, NESTED_COMMENT, NUMBER

DIALECT: Final = Dialect(
    engine="postgresql",
    title="PostgreSQL",
    client=Client.PSQL,
    grammar=Grammar.POSTGRESQL,
    name_case=NameCase.LOWER,
    literals=(
        quoted("'", prefix="E", backslash=True),
        quoted("'", prefix="(?:N|B|X|U&)?"),
        quoted('"', prefix="(?:U&)?", is_name=True),
    ),
    token_patterns=(
        r"[^\W\d][\w$]*",
        r"\$\d+",
        rf"0X[0-9A-F_]+|0O[0-7_]+|0B[01_]+|\d+(?:_\d+)+|{NUMBER}",
        r"(?<![\w\]):]):[^\W\d]\w*",  # a variable of psql
        r"::|:=|=>(?![=<>~!@#%^&|`?*])|\.\.|:'[^']*'|:\"[^\"]*\"|<<(?=[^\W\d]\w*\s*>>)",
        r"(?:[+*<>=~!@#%^&|`?]|-(?!-)|/(?!\*))+(?<![^~!@#%^&|`?][+])(?<![^~!@#%^&|`?][-])"
        r"|[-+*<>=~!@#%^&|`?]|/(?!\*)",
    ),
    reserved=frozenset(
        """ALL ANALYSE ANALYZE AND ANY ARRAY AS ASC ASYMMETRIC AUTHORIZATION BINARY BOTH CASE CAST CHECK COLLATE COLUMN
        CONCURRENTLY CONSTRAINT CREATE CROSS CURRENT_CATALOG CURRENT_DATE CURRENT_ROLE CURRENT_SCHEMA CURRENT_TIME
        CURRENT_TIMESTAMP CURRENT_USER DEFAULT DEFERRABLE DESC DISTINCT DO ELSE END EXCEPT FALSE FETCH FOR FOREIGN FREEZE FROM
        FULL GRANT GROUP HAVING ILIKE IN INITIALLY INNER INTERSECT INTO IS ISNULL JOIN LATERAL LEADING LEFT LIKE LIMIT
        LOCALTIME LOCALTIMESTAMP NATURAL NOT NOTNULL NULL OFFSET ON ONLY OR ORDER OUTER OVERLAPS PLACING PRIMARY REFERENCES
        RETURNING RIGHT SELECT SESSION_USER SIMILAR SOME SYMMETRIC TABLE TABLESAMPLE THEN TO TRAILING TRUE UNION UNIQUE USER
        USING VARIADIC VERBOSE WHEN WHERE WINDOW WITH""".split()
    ),
    aliases_stop=ALIASES_STOP | frozenset(
        """VALUES DELETE INSERT UPDATE BETWEEN DEFAULT
        ISNULL NOTNULL ILIKE SIMILAR OVERLAPS COLLATE IS IN LIKE BETWEEN LOOP INTO OVER
        FILTER WITHIN DAY MONTH YEAR HOUR
        MINUTE SECOND TO OVERRIDING PRECISION VARYING""".split()
    ) - frozenset(("MINUS", "QUALIFY", "PIVOT", "UNPIVOT")),
    comments=(LINE_COMMENT, NESTED_COMMENT),
    bind_openers=":$",
    operators={
        **dict.fromkeys(("ILIKE", "SIMILAR", "ISNULL", "NOTNULL", "OVERLAPS"), COMPARE),
        "%": MULTIPLY,
        "^": POWER,
        "OPERATOR": OTHER,
        **dict.fromkeys(("::", "["), SUFFIX),
    },
    open_operators="+-*/<>=~!@#%^&|`?",
    matching=frozenset(("LIKE", "ILIKE", "SIMILAR")),
    multiword_types={**CHARACTER_TYPES, "BIT": (("VARYING",),)},
    adjacent_strings=True,
)  # fmt: skip
