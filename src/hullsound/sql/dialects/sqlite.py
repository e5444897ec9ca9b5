"""SQL of SQLite, 3.31 to 3.50, and the dot commands of its shell (sqlite.org/lang.html)."""

from typing import Final

from hullsound.sql.dialect import Client, Dialect, Grammar, NameCase, quoted
from hullsound.sql.levels import COMPARE, MULTIPLY, OTHER, SUFFIX

from .common import ALIASES_STOP, NUMBER, RESERVED
from .sqlserver import BRACKETS

DIALECT: Final = Dialect(
    engine="sqlite",
    title="SQLite",
    client=Client.SQLITE,
    grammar=Grammar.SQLITE,
    name_case=NameCase.INSENSITIVE,
    literals=(quoted("'", prefix="X?"), quoted('"', is_name=True), quoted("`", is_name=True), BRACKETS),
    token_patterns=(
        r"[^\W\d][\w$]*",
        rf"0X[0-9A-F]+|{NUMBER}",
        r"\?\d*|[:@$][^\W\d]\w*(?:::\w+)*",
        r"\|\||<>|!=|==|<=|>=|<<|>>|->>|->",
    ),
    reserved=RESERVED - {"ANY", "SOME", "DESC", "ASC", "CROSS", "INNER", "NATURAL", "BY"} | frozenset(
        """ADD ALTER AUTOINCREMENT COLLATE COMMIT DEFAULT DEFERRABLE ESCAPE INDEX ISNULL LIMIT NOTNULL
        TRANSACTION RETURNING""".split()
    ),
    aliases_stop=ALIASES_STOP | frozenset(
        """INDEXED ISNULL NOTNULL GLOB MATCH REGEXP END COLLATE AND OR DO""".split()
    ) - frozenset(("MINUS", "QUALIFY", "PIVOT", "UNPIVOT", "FETCH", "TABLESAMPLE")),
    bind_openers="?:@$",
    operators={
        **dict.fromkeys(("==", "GLOB", "MATCH", "REGEXP", "ISNULL", "NOTNULL"), COMPARE),
        **dict.fromkeys(("&", "|", "<<", ">>"), OTHER),
        "%": MULTIPLY,
        **dict.fromkeys(("->", "->>"), SUFFIX),
    },
    matching=frozenset(("LIKE", "GLOB", "MATCH", "REGEXP")),
)  # fmt: skip
