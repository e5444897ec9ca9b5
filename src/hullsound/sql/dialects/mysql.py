"""SQL of MySQL, 5.7 to 9, and of its command-line client (MySQL Reference Manual)."""

from dataclasses import replace
from typing import Final

from hullsound.sql.dialect import Client, Dialect, Grammar, Literal, NameCase, quoted
from hullsound.sql.levels import ADD, AND, ASSIGN, BITS_AND, COMPARE, MULTIPLY, OR, OTHER, POWER, SHIFT, SUFFIX

from .common import ALIASES_STOP, CHARACTER_TYPES, NUMBER, RESERVED

_MARKS: Final = (
    r"--(?:[ \t\f\v][^\n\r]*|(?=[\r\n])|\Z)",
    r"#[^\n\r]*",
    r"/\*(?!M?!)[^*]*\*+(?:[^/*][^*]*\*+)*/",
    r"/\*M?!\d*",  # what stands in a version comment is code
    r"\*/(?!\*)",
    r"\\\r?\n",  # the client drops a backslash at the end of a line
)
_OPERATORS: Final = {
    ":=": ASSIGN,
    **dict.fromkeys(("||", "XOR"), OR),
    "&&": AND,
    **dict.fromkeys(("<=>", "REGEXP", "RLIKE", "SOUNDS", "MEMBER"), COMPARE),
    "|": OTHER,
    "&": BITS_AND,
    **dict.fromkeys(("<<", ">>"), SHIFT),
    **dict.fromkeys(("DIV", "MOD", "%"), MULTIPLY),
    "^": POWER,
    **dict.fromkeys(("->", "->>"), SUFFIX),
}
_RESERVED: Final = RESERVED - {"ALL"} | frozenset(
    """ADD ALL ALTER ANALYZE CALL CHANGE COLLATE COLUMN CONDITION CONTINUE CONVERT DATABASE DECLARE DELAYED DESCRIBE
    DETERMINISTIC DISTINCTROW DIV EACH ELSEIF ENCLOSED ESCAPED EXIT EXPLAIN FETCH FORCE FULLTEXT GENERATED HIGH_PRIORITY
    IF IGNORE INDEX INFILE INOUT ITERATE KEY KEYS KILL LEADING LEAVE LIMIT LINEAR LINES LOAD LOCK LOOP LOW_PRIORITY MATCH MOD
    MODIFIES OPTIMIZE OPTION OPTIONALLY OUT OUTER OUTFILE PARTITION PROCEDURE PURGE RANGE READ READS REGEXP RELEASE RENAME
    REPEAT REPLACE REQUIRE RESTRICT RETURN REVOKE RLIKE SEPARATOR SHOW SPATIAL SPECIFIC SQL SQLEXCEPTION
    SQLSTATE SQLWARNING SSL STARTING STORED STRAIGHT_JOIN TERMINATED TRAILING TRIGGER UNDO UNLOCK UNSIGNED USE VARYING
    VIRTUAL WHILE WRITE XOR ZEROFILL BOTH LEFT RIGHT DEFAULT OVER WINDOW RECURSIVE INTERVAL""".split()
)
_CHARSETS: Final = (
    "ARMSCII8|ASCII|BIG5|BINARY|CP1250|CP1251|CP1256|CP1257|CP850|CP852|CP866|CP932|DEC8|EUCJPMS|EUCKR|GB18030|GB2312|GBK|GEOSTD8|"
    "GREEK|HEBREW|HP8|KEYBCS2|KOI8R|KOI8U|LATIN1|LATIN2|LATIN5|LATIN7|MACCE|MACROMAN|SJIS|SWE7|TIS620|UCS2|UJIS|UTF16|UTF16LE|"
    "UTF32|UTF8|UTF8MB3|UTF8MB4"
)
"""Character sets that may be told before a text, with or without blanks between them."""
_PLAIN_STRING: Final = rf"(?:N|X|B|_(?:{_CHARSETS})\s+[XB]?|_[A-Z0-9_]+)?"
_BACKTICKS: Final = quoted("`", is_name=True)
_DOUBLE: Final = Literal('"', r'[^"\\]*(?:(?:\\[\s\S]|"")[^"\\]*)*', '"')

DIALECT: Final = Dialect(
    engine="mysql",
    title="MySQL",
    client=Client.MYSQL,
    grammar=Grammar.MYSQL,
    name_case=NameCase.INSENSITIVE,
    literals=(quoted("'", prefix=_PLAIN_STRING, backslash=True), _DOUBLE, _BACKTICKS),
    token_patterns=(
        r"(?:[^\W\d]|\$)[\w$]*",
        r"(?!0X[0-9A-F]+\b|0B[01]+\b|\d+E[+-]?\d+\b)\d+[^\W\d][\w$]*",
        r"(?<=[\w`])\.(?=\d+[^\W\dE])",
        r"@@?(?:[\w$.]+|`[^`]*`|'[^']*'|\"[^\"]*\")?",
        rf"0X[0-9A-F]+|0B[01]+|{NUMBER}",
        r":=|\.\.|<=>|<>|!=|<=|>=|\|\||&&|<<|>>|->>|->",
    ),
    reserved=_RESERVED,
    aliases_stop=ALIASES_STOP | frozenset(
        """BEFORE LOCK PROCEDURE INTO PARTITION USE FORCE IGNORE STRAIGHT_JOIN DIV MOD XOR REGEXP RLIKE DUPLICATE END
        ROWS""".split()
    ),
    comments=_MARKS,
    comment_openers=("--", "/*", "#", "\\"),
    digit_names=True,
    word_openers="@$",
    bind_openers="",
    operators=_OPERATORS,
    matching=frozenset(("LIKE", "REGEXP", "RLIKE")),
    multiword_types={**CHARACTER_TYPES, "LONG": (("VARCHAR",), ("VARBINARY",), ("CHAR", "VARYING")),
                     "SIGNED": (("INTEGER",), ("INT",)), "UNSIGNED": (("INTEGER",), ("INT",))},
    type_endings=frozenset(("UNSIGNED", "SIGNED", "ZEROFILL", "BINARY", "BYTE", "ASCII", "UNICODE")),
    adjacent_strings=True,
)  # fmt: skip

_ANSI_MODES: Final = frozenset(("ANSI_QUOTES", "ANSI", "ORACLE", "DB2", "MSSQL", "MAXDB", "POSTGRESQL"))
_MODES: Final = _ANSI_MODES | {"NO_BACKSLASH_ESCAPES", "PIPES_AS_CONCAT"}


def in_modes(modes: frozenset[str], base: Dialect = DIALECT) -> Dialect:
    """Return the dialect under the sql_mode settings that change how text is read."""
    modes &= _MODES
    backslash = "NO_BACKSLASH_ESCAPES" not in modes
    is_ansi = bool(modes & _ANSI_MODES)
    double = quoted('"', is_name=True) if is_ansi else quoted('"', backslash=backslash)
    operators = dict(base.operators)
    if is_ansi or "PIPES_AS_CONCAT" in modes:
        operators["||"] = ADD
    return replace(
        base,
        modes=modes,
        literals=(quoted("'", prefix=_PLAIN_STRING, backslash=backslash), double, _BACKTICKS),
        operators=operators,
    )
