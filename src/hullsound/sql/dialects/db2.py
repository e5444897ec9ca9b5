"""SQL and SQL PL of Db2 for Linux, UNIX and Windows, 10.5 to 12.1, and its command line processor (Db2 documentation)."""

from typing import Final

from hullsound.sql.dialect import Client, Dialect, Grammar, NameCase, quoted
from hullsound.sql.levels import ADD, COMPARE, MULTIPLY, POWER

from .common import ALIASES_STOP, CHARACTER_TYPES, LINE_COMMENT, NESTED_COMMENT, NUMBER, RESERVED, WORD

_DURATIONS: Final = frozenset(
    """YEAR YEARS MONTH MONTHS DAY DAYS HOUR HOURS MINUTE MINUTES SECOND SECONDS MICROSECOND MICROSECONDS""".split()
)

DIALECT: Final = Dialect(
    engine="db2",
    title="Db2",
    client=Client.DB2,
    grammar=Grammar.DB2,
    name_case=NameCase.UPPER,
    literals=(quoted("'", prefix="(?:N|X|G|BX|GX|UX|U&)?"), quoted('"', is_name=True)),
    token_patterns=(
        WORD,
        NUMBER,
        r":[^\W\d][\w$#]*",
        r":=|\|\||<>|!=|\^=|¬=|<=|>=|=>|->|\.\.|!>|!<|¬>|¬<|\*\*",
    ),
    reserved=RESERVED | frozenset(("CURSOR", "DECLARE", "END", "FETCH", "IF", "BEGIN", "RETURN", "ELSEIF", "LEAVE",
                                   "ITERATE", "SIGNAL", "RESIGNAL", "UNTIL", "WHILE", "LOOP")) - {"SOME", "CHECK", "ASC", "DESC"},
    aliases_stop=ALIASES_STOP | frozenset(
        """OPTIMIZE QUERYNO SKIP READ WAIT CONCAT DO UR CS RS RR DATA INCLUDING EXCLUDING DEFINITION SELECTIVITY END LOOP
        PERIOD AND BUSINESS_TIME""".split()
    ) | _DURATIONS,
    comments=(LINE_COMMENT, NESTED_COMMENT),
    operators={
        **dict.fromkeys(("^=", "¬=", "!>", "!<", "¬>", "¬<", "OVERLAPS"), COMPARE),
        "CONCAT": ADD,
        "MOD": MULTIPLY,
        "%": MULTIPLY,
        "**": POWER,
        **dict.fromkeys(_DURATIONS, POWER),
    },
    matching=frozenset(("LIKE",)),
    durations=_DURATIONS,
    multiword_types=CHARACTER_TYPES,
    type_endings=frozenset(),
)  # fmt: skip
