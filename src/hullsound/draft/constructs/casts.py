"""Casts in words of their own for targets other than PostgreSQL: types as functions (Db2), CAST of MySQL, conditions as numbers.

Sources: Db2 11.5 SQL reference, "Built-in scalar functions" (DECIMAL cuts off digits, INTEGER cuts off the fraction); MySQL 8.4
Reference Manual, "Cast Functions and Operators" and "Comparison Functions and Operators".
"""

from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.conversions.conditions import predicate_as_number
from hullsound.draft.conversions.db2_values import AS_TEXT
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.masks.letters import by_letters, moment_as_number
from hullsound.sight.detector import Found
from hullsound.sql.tree import Cast, Node

from . import call_of, fixer
from .db2 import digits_of, form_of_moment, width_as_char

_MYSQL: Final = ("mysql", "mariadb")
_WHOLE: Final = {"INT": "int", "INTEGER": "int", "BIGINT": "bigint", "SMALLINT": "smallint"}
_FLOATS: Final = ("DOUBLE", "FLOAT", "REAL")
_DEFAULT_DECIMAL: Final = ("15", "0")
_WIDEST: Final = {
    "mysql": "DECIMAL(65,20)",
    "mariadb": "DECIMAL(65,20)",
    "sqlserver": "decimal(38, 10)",
    "oracle": "number",
}
"""Type in which a number of a text is read before its digits are cut."""


@fixer("type_as_function")
def fix_type_as_function(place: Found, rewriter: Rewriter) -> str:
    """INTEGER(value), DECIMAL(value, precision, scale), VARCHAR(value) and their like."""
    call = call_of(place)
    name, value = call.parts[-1], call.arguments[0]
    sizes = [rewriter.subject.source(each) for each in call.arguments[1:]]
    family, text = rewriter.types.family(value), rewriter.node(value)
    if name in ("CHAR", "VARCHAR") and len(sizes) == 1 and not sizes[0].isdigit():
        return form_of_moment(value, sizes[0].upper(), rewriter)
    if name in ("CHAR", "VARCHAR") and family is Family.TIMESTAMP and not sizes:
        return by_letters(value, AS_TEXT, rewriter)
    if name in (*_WHOLE, "DECIMAL", "DEC") and family in (*MOMENTS, Family.TIME) and not sizes:
        return moment_as_number(value, has_fraction=name not in _WHOLE, rewriter=rewriter)
    if not all(size.isdigit() for size in sizes) or family not in (*NUMBERS, Family.TEXT):
        raise CannotDraft(f"{name} as a function of a value of another kind")
    engine = rewriter.target.engine
    number = f"CAST({text} AS {_WIDEST[engine]})" if family is Family.TEXT else text
    if name in _WHOLE and not sizes:
        return _whole(number, _WHOLE[name], engine)
    if name in ("DECIMAL", "DEC"):
        precision, scale = (*sizes, *_DEFAULT_DECIMAL[len(sizes) :])[:2]
        kind = "number" if engine == "oracle" else "decimal"
        return f"CAST({_cut(number, scale, engine)} AS {kind}({precision},{scale}))"
    if name in _FLOATS and not sizes:
        if name == "REAL":
            kinds = {"sqlserver": "real", "oracle": "BINARY_FLOAT", "mysql": "FLOAT"}
        else:
            kinds = {"sqlserver": "float", "oracle": "BINARY_DOUBLE"}
        return f"CAST({text} AS {kinds.get(engine, 'FLOAT' if name == 'REAL' else 'DOUBLE')})"
    if name == "VARCHAR" and family in (Family.TEXT, Family.INTEGER):
        return _text(text, family, sizes[0] if sizes else "", engine)
    if name in ("VARCHAR", "CHAR", "DIGITS") and not sizes and family in NUMBERS:
        return _number_as_text(name, value, rewriter)
    raise CannotDraft(f"{name} as a function")


def _number_as_text(name: str, value: Node, rewriter: Rewriter) -> str:
    """VARCHAR, CHAR, which fills up with blanks, and DIGITS, which leaves sign and point away, of a number."""
    engine, text = rewriter.target.engine, rewriter.node(value)
    precision, scale = digits_of(value, rewriter)
    if name == "DIGITS":
        whole = f"ABS({text})" + (f" * {10**scale}" if scale else "")
        if engine == "sqlserver":
            return f"RIGHT(REPLICATE('0', {precision}) + CAST(CAST({whole} AS decimal({precision})) AS varchar(40)), {precision})"
        kept = f"TO_CHAR({whole})" if engine == "oracle" else f"CAST(CAST({whole} AS DECIMAL({precision})) AS CHAR)"
        return f"LPAD({kept}, {precision}, '0')"
    if engine == "oracle" and scale:
        written = f"TO_CHAR({text}, 'FM{'9' * (precision - scale - 1)}0.{'0' * scale}')"
    elif engine == "sqlserver":
        written = f"CAST({text} AS varchar(40))"
    else:
        written = f"TO_CHAR({text})" if engine == "oracle" else f"CAST({text} AS CHAR)"
    if name == "VARCHAR":
        return written
    width = width_as_char(value, rewriter)
    return f"CAST({written} AS char({width}))" if engine == "sqlserver" else f"RPAD({written}, {width}, ' ')"


@fixer("plain_text")
def fix_plain_text(place: Found, rewriter: Rewriter) -> str:
    """TO_CHAR(value) without a mask."""
    (value,) = call_of(place).arguments
    family, text = rewriter.types.family(value), rewriter.node(value)
    if family not in (Family.TEXT, Family.INTEGER):
        raise CannotDraft("a value as text without a mask, whose form the source chooses")
    if rewriter.target.engine == "postgresql":
        return text if family is Family.TEXT else f"CAST({text} AS text)"
    return _text(text, family, "", rewriter.target.engine)


def _cut(number: str, scale: str, engine: str) -> str:
    """Cut the digits behind the point to so many."""
    if engine in _MYSQL:
        return f"TRUNCATE({number}, {scale})"
    return f"ROUND({number}, {scale}, 1)" if engine == "sqlserver" else f"TRUNC({number}, {scale})"


def _whole(number: str, kind: str, engine: str) -> str:
    if engine in _MYSQL:
        return f"CAST(TRUNCATE({number}, 0) AS SIGNED)"
    return f"CAST({number} AS {kind})" if engine == "sqlserver" else f"TRUNC({number})"


def _text(text: str, family: Family, size: str, engine: str) -> str:
    if family is Family.INTEGER:
        casts = {"sqlserver": f"CAST({text} AS nvarchar(20))", "oracle": f"TO_CHAR({text})"}
        text = casts.get(engine, f"CAST({text} AS CHAR)")
    if not size:
        return text
    return f"SUBSTR({text}, 1, {size})" if engine == "oracle" else f"LEFT({text}, {size})"


@fixer("cast_of_mysql")
def fix_cast_of_mysql(place: Found, rewriter: Rewriter) -> str:
    """CAST(value AS SIGNED), CHAR and their like of MySQL."""
    node: Node = place.node
    if not isinstance(node, Cast):
        raise CannotDraft("a cast in a form that is not known")
    name, value = node.type.name, node.value
    family, text = rewriter.types.family(value), rewriter.node(value)
    is_tsql = rewriter.target.engine == "sqlserver"
    if name in ("SIGNED", "UNSIGNED"):
        whole = "bigint" if is_tsql else "number(19)"
        if name == "UNSIGNED":
            whole = "decimal(20)" if is_tsql else "number(20)"
        if family not in NUMBERS:
            raise CannotDraft("a whole number of a text, of which the digits in front count")
        return f"CAST({text} AS {whole})"
    if name in ("CHAR", "NCHAR") and family in (Family.TEXT, Family.INTEGER):
        size = node.type.arguments[0] if node.type.arguments else ""
        if is_tsql:
            return f"CAST({text} AS nvarchar({size or 'max'}))"
        if family is Family.TEXT and size:
            return f"SUBSTR({text}, 1, {size})"
        return text if family is Family.TEXT else f"TO_CHAR({text})"
    if name == "DATETIME" and family in MOMENTS:
        return f"CAST({text} AS {'datetime2(0)' if is_tsql else 'TIMESTAMP(0)'})"
    raise CannotDraft(f"a cast to {name.lower()}")


@fixer("predicate_as_number")
def fix_predicate_as_number(place: Found, rewriter: Rewriter) -> str:
    """A condition that is shown, kept or sorted by: 1, 0 or NULL."""
    return predicate_as_number(place.node, rewriter)
