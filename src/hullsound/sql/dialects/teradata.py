"""SQL and stored procedures of Teradata, 16.20 to 20, and BTEQ (Teradata SQL Data Definition and Manipulation Language)."""

from typing import Final

from hullsound.sql.dialect import Client, Dialect, Grammar, Literal, NameCase, quoted
from hullsound.sql.levels import COMPARE, MULTIPLY, POWER, SUFFIX

from .common import ALIASES_STOP, CHARACTER_TYPES, NUMBER, RESERVED, WORD

_COMPARISONS: Final = ("EQ", "NE", "LT", "LE", "GT", "GE")

DIALECT: Final = Dialect(
    engine="teradata",
    title="Teradata",
    client=Client.BTEQ,
    grammar=Grammar.TERADATA,
    name_case=NameCase.INSENSITIVE,
    literals=(
        Literal("'", "[^']*(?:''[^']*)*", r"'(?:X(?:[CBFV]+)?(?:I\d?)?\b|B\b)?"),
        quoted("'", prefix="(?:_[A-Z]+|U&)"),
        quoted('"', is_name=True),
    ),
    token_patterns=(
        r"(?i:NOT=)",
        WORD,
        NUMBER,
        r":[^\W\d][\w$#]*|\?[^\W\d]\w*",
        r":=|\|\||<>|\^=|~=|!=|<=|>=|=>|\*\*",
    ),
    reserved=RESERVED | frozenset(
        """SEL INS UPD DEL QUALIFY SAMPLE LOCKING END IF ELSEIF RETURN CALL DECLARE FETCH LEAVE ITERATE SIGNAL RESIGNAL UNTIL
        WHILE LOOP TOP MINUS NAMED FORMAT TITLE""".split()
    ) | frozenset(_COMPARISONS),
    aliases_stop=ALIASES_STOP | frozenset(
        """SAMPLE EXPAND NORMALIZE END DO LOOP UNTIL RANDOMIZED DATA NO PRIMARY MINUS AND ELSE""".split()
    ),
    operators={
        **dict.fromkeys((*_COMPARISONS, "^=", "~=", "NOT="), COMPARE),
        **dict.fromkeys(
            ("OVERLAPS", "CONTAINS", "PRECEDES", "SUCCEEDS", "MEETS", "EQUALS", "P_INTERSECT", "P_NORMALIZE", "LDIFF", "RDIFF"),
            COMPARE,
        ),
        "MOD": MULTIPLY,
        "(": SUFFIX,
        "**": POWER,
        **dict.fromkeys(("DAY", "YEAR", "MONTH", "HOUR", "MINUTE"), POWER),
    },
    multiword_types=CHARACTER_TYPES,
)  # fmt: skip
