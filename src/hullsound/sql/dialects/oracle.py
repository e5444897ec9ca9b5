"""Oracle SQL, PL/SQL and SQL*Plus, 11.2 to 23ai (Oracle Database SQL Language Reference; SQL*Plus User's Guide)."""

from string import punctuation
from typing import Final

from hullsound.sql.dialect import Client, Dialect, Grammar, Literal, NameCase, quoted
from hullsound.sql.levels import ADD, COMPARE, MULTIPLY, POWER

_PAIRS: Final = {"[": "]", "{": "}", "(": ")", "<": ">"}
_WORD: Final = r"[^\W\d][\w$#]*(?:&{1,2}\w+\.?[\w$#]*)*"
_SUBSTITUTION: Final = r"&{1,2}\w+\.?[\w$#]*(?:&{1,2}\w+\.?[\w$#]*)*"


def _alternative_quotes() -> Literal:
    """Q'[...]' with any punctuation as delimiter; an unfinished one runs to the end of the text."""
    closed = (rf"\{c}[\s\S]*?\{_PAIRS.get(c, c)}(?=')" for c in punctuation if c != "'")
    return Literal("N?Q'", rf"(?:{'|'.join(closed)}|[\s\S]*)", "'")


DIALECT: Final = Dialect(
    engine="oracle",
    title="Oracle",
    client=Client.SQLPLUS,
    grammar=Grammar.PLSQL,
    name_case=NameCase.UPPER,
    literals=(_alternative_quotes(), quoted("'", prefix="N?"), quoted('"', is_name=True)),
    links=True,
    word_openers="&",
    matching=frozenset(("LIKE", "LIKEC", "LIKE2", "LIKE4")),
    operators={
        **dict.fromkeys(("^=", "~="), COMPARE),
        **dict.fromkeys(("LIKEC", "LIKE2", "LIKE4", "MEMBER", "SUBMULTISET", "MULTISET"), COMPARE),
        "MOD": MULTIPLY,
        **dict.fromkeys(("**", "DAY", "YEAR"), POWER),
        "||": ADD,
    },
    token_patterns=(
        _WORD,
        r"(?:\d+(?:\.(?!\.)\d*)?|\.\d+)(?:E[+-]?\d+)?(?:[FD]\b)?",
        r":[^\W\d][\w$#]*|:\d+",
        r"\(\s*\+\s*\)",
        r":=|\|\||<>|!=|\^=|~=|<=|>=|=>|\.\.|\*\*|<<|>>",
        _SUBSTITUTION,
        r"\$\$\w+|\$(?:IF|THEN|ELSIF|ELSE|END|ERROR)\b",
    ),
    reserved=frozenset(
        """ALTER AND ANY AS BETWEEN BY CHECK CONNECT CREATE DELETE DESC DISTINCT DROP ELSE EXISTS FOR FROM
        GRANT GROUP HAVING IN INSERT INTERSECT INTO IS LIKE MINUS NOT NULL OF ON OPTION OR ORDER PRIOR REVOKE
        SELECT SET START TABLE THEN TO UNION UNIQUE UPDATE VALUES WHERE WITH CASE WHEN BEGIN END IF""".split()
    ),
    aliases_stop=frozenset(
        """ALL BULK CROSS EXCEPT FETCH FULL INNER JOIN LEFT LOG LOOP MODEL NATURAL OFFSET OUTER PARTITION PIVOT QUALIFY
        RETURN RETURNING RIGHT SAMPLE UNPIVOT USING VERSIONS WINDOW LIMIT SUBPARTITION MATCH_RECOGNIZE ELSIF""".split()
    ),
    multiword_types={
        "DOUBLE": (("PRECISION",),),
        "LONG": (("RAW",), ("VARCHAR",)),
        "CHARACTER": (("VARYING",),),
        "CHAR": (("VARYING",),),
        "NCHAR": (("VARYING",),),
        "NATIONAL": (("CHARACTER", "VARYING"), ("CHAR", "VARYING"), ("CHARACTER",), ("CHAR",)),
    },
    directives={
        "@": (),
        "ACCEPT": (),
        "APPEND": (),
        "ARCHIVE": (),
        "BREAK": (),
        "BTITLE": (),
        "CLEAR": (),
        "COLUMN": (),
        "COL": (),
        "COMPUTE": (),
        "CONNECT": (),
        "CONN": (),
        "COPY": (),
        "DEFINE": (),
        "DEF": (),
        "DESCRIBE": (),
        "DESC": (),
        "DISCONNECT": (),
        "EXECUTE": (),
        "EXEC": (),
        "EXIT": (),
        "HOST": (),
        "PAUSE": (),
        "PRINT": (),
        "PROMPT": (),
        "QUIT": (),
        "REM": (),
        "REMARK": (),
        "REPFOOTER": (),
        "REPHEADER": (),
        "RUN": (),
        "SHOW": (),
        "SHO": (),
        "SHUTDOWN": (),
        "SPOOL": (),
        "SPO": (),
        "START": (),
        "STARTUP": (),
        "TIMING": (),
        "TTITLE": (),
        "UNDEFINE": (),
        "UNDEF": (),
        "VARIABLE": (),
        "VAR": (),
        "WHENEVER": (),
        "!": (),
        "$": (),
        "SET": ("TRANSACTION", "ROLE", "CONSTRAINT", "CONSTRAINTS"),
    },
)
