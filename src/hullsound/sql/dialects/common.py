"""Words and patterns that the dialects of several engines share."""

from typing import Final

WORD: Final = r"[^\W\d][\w$#]*"
NUMBER: Final = r"(?:\d+(?:\.(?!\.)\d*)?|\.\d+)(?:E[+-]?\d+)?"
NESTED_COMMENT: Final = (
    r"/\*[^*/]*(?:(?:\*(?!/)|/(?!\*)|"
    r"/\*[^*/]*(?:(?:\*(?!/)|/(?!\*)|/\*[^*/]*(?:(?:\*(?!/)|/(?!\*))[^*/]*)*\*/)[^*/]*)*\*/"
    r")[^*/]*)*\*/"
)
"""A block comment that may hold others, three deep."""
LINE_COMMENT: Final = r"--[^\n\r]*"

RESERVED: Final = frozenset(
    """ALL AND ANY AS ASC BETWEEN BY CASE CHECK CREATE DELETE DESC DISTINCT DROP ELSE EXCEPT EXISTS FOR FOREIGN FROM GRANT
    GROUP HAVING IN INSERT INTERSECT INTO IS JOIN LIKE NOT NULL ON OR ORDER PRIMARY REFERENCES SELECT SET SOME TABLE THEN
    TO UNION UNIQUE UPDATE VALUES WHEN WHERE WITH CONSTRAINT CROSS INNER NATURAL USING""".split()
)
"""Reserved by standard SQL and by every engine here."""
ALIASES_STOP: Final = frozenset(
    """ALL CROSS EXCEPT FETCH FOR FULL INNER INTERSECT JOIN LEFT LIMIT MINUS NATURAL OFFSET OUTER QUALIFY RETURNING RIGHT
    TABLESAMPLE UNION USING WHERE WINDOW ON SET GROUP HAVING ORDER WITH WHEN PIVOT UNPIVOT""".split()
)
"""Words that go on with a query where an alias could stand."""
CHARACTER_TYPES: Final = {
    "DOUBLE": (("PRECISION",),),
    "CHARACTER": (("VARYING",), ("LARGE", "OBJECT")),
    "CHAR": (("VARYING",), ("LARGE", "OBJECT")),
    "NCHAR": (("VARYING",), ("LARGE", "OBJECT")),
    "NATIONAL": (
        ("CHARACTER", "VARYING"), ("CHAR", "VARYING"), ("CHARACTER",), ("CHAR",), ("VARCHAR",), ("TEXT",),
    ),
    "BINARY": (("VARYING",), ("LARGE", "OBJECT")),
    "LONG": (("VARCHAR",), ("VARGRAPHIC",), ("VARBINARY",), ("RAW",), ("CHAR",)),
}  # fmt: skip
"""First word of a type name of several words -> what may follow."""
