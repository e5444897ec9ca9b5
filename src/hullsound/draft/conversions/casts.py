"""Casts and texts of values for targets other than PostgreSQL: what the target casts alike, and what must not be promised.

Sources: Oracle Database 19c, "SQL Language Reference", CAST and "Datetime/Interval Arithmetic"; Transact-SQL reference, "CAST and
CONVERT"; MySQL 8.4 Reference Manual, "Cast Functions and Operators"; PostgreSQL 18, "Type Casts".
"""

from functools import partial
from typing import Final

import msgspec

from hullsound.analyze.signatures import signature_of
from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.catalog.definitions import cast_type, data_type
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.pieces import NumberForm
from hullsound.draft.masks.writing import decimal_form, text_of_moment, whole_text, write_number
from hullsound.knowledge.types import choose_type, logical_type
from hullsound.sql.literals import is_no_day
from hullsound.sql.moments import parse_moment
from hullsound.sql.tree import Call, Cast, Literal, Name, Node, Operation

from .assigned import cut_digits, fits
from .decimal_digits import is_money
from .truth import is_truth

_CUTTING: Final = frozenset(("sqlserver", "ase", "db2", "sqlite", "teradata"))
"""Engines whose casts to whole numbers cut digits off; the others round."""
_STRICT: Final = ("oracle", "sqlserver")
_TSQL: Final = ("sqlserver", "ase")
_SIZED: Final = frozenset(("CHAR", "NCHAR", "VARCHAR", "NVARCHAR", "BINARY", "VARBINARY"))
_DEFAULT_SIZE: Final = "30"
"""Length of a type without one in CAST and CONVERT: Transact-SQL reference, "char and varchar"."""
_DIGITS: Final = 10
"""Of an INT; SQL Server writes a star for a number that does not fit."""
_MYSQL: Final = ("mysql", "mariadb")
_MIDNIGHT: Final = "00:00:00"
_MYSQL_CASTS: Final = (("varchar", "CHAR"), ("char", "CHAR"), ("longtext", "CHAR"), ("bigint", "SIGNED"), ("int", "SIGNED"),
                       ("smallint", "SIGNED"), ("tinyint", "SIGNED"), ("decimal", "DECIMAL"), ("datetime", "DATETIME"),
                       ("timestamp", "DATETIME"), ("double", "DOUBLE"), ("float", "DOUBLE"), ("date", "DATE"),
                       ("time", "TIME"), ("json", "JSON"), ("varbinary", "BINARY"))  # fmt: skip
"""Types that a cast takes in MySQL (8.4 Reference Manual, "Cast Functions")."""


def add_casts(rewriter: Rewriter) -> None:
    """Write casts with the target's types; refuse joined texts and differences of moments that would give another value."""
    for cast in rewriter.subject.all(Cast):
        rewriter.add(Point(cast.type.first, cast.type.last, partial(_cast_type, cast)))
        if rewriter.catalog.engine in _MYSQL and rewriter.words[cast.first] == "CONVERT":
            rewriter.add(Point(cast.first, cast.last, partial(_as_cast, cast)))
        if _cuts_otherwise(cast, rewriter):
            value = cast.value
            point = Point(value.first, value.last, partial(_cut_as_source, value), "convert.rounding", rank=4)
            rewriter.add(point)
        if rewriter.catalog.engine == "db2" and rewriter.target.engine != "db2":
            _add_cut_scale(cast, rewriter)
        if rewriter.types.family(cast.value) in MOMENTS and rewriter.types.family(cast) in NUMBERS:
            rewriter.add(Point(cast.first, cast.last, partial(_refuse, "a moment as a number"), rank=9))
        if _reads_number(cast, rewriter):
            rewriter.rendered.append(("convert.unlike-types", cast.first))
        is_text = rewriter.catalog.engine in _TSQL and rewriter.types.family(cast) is Family.TEXT
        if is_text and is_bytes(cast.value, rewriter) and not digits_prefix(cast, rewriter):
            reason = "bytes as a text, in the code page of the source"
            rewriter.add(Point(cast.first, cast.last, partial(_refuse, reason), rank=9))
        if is_text and rewriter.target.engine in _MYSQL and is_money(cast.value, rewriter):
            rewriter.wrap(cast.value, partial(_two_digits, cast.value), rank=5)
        if is_text and rewriter.types.family(cast.value) in MOMENTS and rewriter.words[cast.first] == "CAST":
            rewriter.add(Point(cast.first, cast.last, partial(text_of_moment, cast, ""), "convert.moment", rank=3))
        if rewriter.target.engine != "sqlserver" and _fills_with_star(cast, rewriter):
            rewriter.wrap(cast, partial(_or_star, cast), rank=8)
        is_plain = rewriter.words[cast.first] != "CONVERT"  # which writes the text itself
        if is_plain and rewriter.types.family(cast) is Family.TEXT and _decimal_text_form(cast.value, rewriter):
            rewriter.wrap(cast.value, partial(_decimal_text, cast.value), rank=5)
        if rewriter.target.engine in _MYSQL and _fixed_length(cast):
            rewriter.wrap(cast, partial(_filled, cast), rank=9)
        if cast_in_words(cast, rewriter):
            rewriter.add(Point(cast.first, cast.last, partial(cast_in_words, cast)))
    for node in rewriter.subject.all(Operation):
        if node.operators in (["+"], ["-"]) and len(node.operands) == 2 and not rewriter.rewrites(node):
            _check_difference(node, rewriter)
    for call in rewriter.subject.all(Call):
        reason = next(filter(None, (text_cannot_be(each, rewriter) for each in _read_as_texts(call, rewriter))), "")
        if reason:
            rewriter.add(Point(call.first, call.last, partial(_refuse, reason), rank=9))


def _decimal_text_form(value: Node, rewriter: Rewriter) -> NumberForm | None:
    """Return the form of a decimal as text where Oracle would write it without its idle zeros."""
    is_asked = rewriter.target.engine == "oracle" and rewriter.catalog.engine != "oracle"
    return decimal_form(value, rewriter) if is_asked else None


def _decimal_text(value: Node, rewriter: Rewriter) -> str:
    form = _decimal_text_form(value, rewriter)
    assert form is not None
    return write_number(value, form, rewriter)


def text_operand(value: Node, rewriter: Rewriter) -> str:
    """Write what stands among texts that are joined, as the source writes it there."""
    return _decimal_text(value, rewriter) if _decimal_text_form(value, rewriter) else rewriter.node(value)


def _fills_with_star(cast: Cast, rewriter: Rewriter) -> bool:
    """Whether a whole number is cast to a text that may be too short for it, which the T-SQL family then makes a star."""
    size = cast.type.arguments[0] if cast.type.arguments else ""
    is_short = cast.type.name in ("VARCHAR", "CHAR") and size.isdigit() and int(size) < _DIGITS
    is_whole = rewriter.types.family(cast.value) is Family.INTEGER and rewriter.types.family(cast) is Family.TEXT
    return rewriter.catalog.engine in _TSQL and is_short and is_whole and not isinstance(cast.value, Literal)


def _or_star(cast: Cast, rewriter: Rewriter) -> str:
    size, text = int(cast.type.arguments[0]), whole_text(cast.value, rewriter)
    length = f"{'CHAR_LENGTH' if rewriter.target.engine in _MYSQL else 'LENGTH'}({text})"
    star = f"RPAD('*', {size}, ' ')" if cast.type.name == "CHAR" else "'*'"
    filled = f"RPAD({text}, {size}, ' ')" if cast.type.name == "CHAR" else text
    return f"CASE WHEN {length} > {size} THEN {star} ELSE {filled} END"


def _reads_number(cast: Cast, rewriter: Rewriter) -> bool:
    """Whether a text becomes the number that it begins with, where the target refuses a text that is none."""
    is_loose = rewriter.catalog.engine in (*_MYSQL, "sqlite") and rewriter.target.engine in _STRICT
    is_text = rewriter.types.family(cast.value) is Family.TEXT and not isinstance(cast.value, Literal)
    return is_loose and is_text and rewriter.types.family(cast) in NUMBERS


def is_bytes(value: Node, rewriter: Rewriter) -> bool:
    """Whether a value is of bytes, such as 0x41."""
    return rewriter.types.family(value) is Family.BYTES or rewriter.subject.source(value)[:2].lower() == "0x"


def digits_prefix(cast: Cast, rewriter: Rewriter) -> str:
    """Return what stands before the digits of bytes that a style writes as a text for PostgreSQL; '' where none does.

    Source: Transact-SQL reference, "CAST and CONVERT", binary styles: 1 is the text 0x and the digits.
    """
    words, style = rewriter.words, cast.value.last
    is_hex = rewriter.target.engine == "postgresql" and words[style : style + 3] == [",", "1", ")"]
    return "0x" if is_hex and cast.type.name == "VARCHAR" else ""


def _two_digits(value: Node, rewriter: Rewriter) -> str:
    return f"ROUND({rewriter.node(value)}, 2)"


def _fixed_length(cast: Cast) -> int:
    """Return the length beyond 1 of a cast to a text of fixed length, whose blanks MySQL drops; 0 for another cast."""
    length = cast.type.arguments[0] if cast.type.name in ("CHAR", "NCHAR", "CHARACTER") and cast.type.arguments else ""
    return int(length) if length.isdecimal() and int(length) > 1 else 0


def _filled(cast: Cast, rewriter: Rewriter) -> str:
    return f"RPAD({rewriter.node(cast)}, {_fixed_length(cast)}, ' ')"


def _read_as_texts(call: Call, rewriter: Rewriter) -> list[Node]:
    """Return the arguments of a call that the source reads as texts, whatever they are."""
    if call.parts in (("CONCAT",), ("CONCAT_WS",)):
        return [] if rewriter.rewrites(call) else call.arguments
    signature = signature_of(call, rewriter.catalog.engine)
    wanted = (signature.takes or signature.expects) if signature is not None else ()
    return [each for each, kind in zip(call.arguments, wanted, strict=False) if kind == "text"]


def _add_cut_scale(cast: Cast, rewriter: Rewriter) -> None:
    """Cut digits off a number that is cast to a decimal of fewer, as Db2 does."""
    kind = data_type(cast.type)
    if (
        len(kind.arguments) > 1
        and rewriter.types.family(cast.value) is Family.NUMBER
        and not fits(cast.value, kind, rewriter)
    ):
        rewriter.wrap(cast.value, partial(cut_digits, cast.value, kind.arguments[1]), rank=4)


def text_cannot_be(value: Node, rewriter: Rewriter) -> str:
    """Return why a value's text on Oracle or SQL Server would be another one than the source's; '' where it is the same."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    family = rewriter.types.family(value)
    if target not in _STRICT or family in (Family.UNKNOWN, Family.TEXT, Family.INTEGER):
        return ""
    if family is Family.NUMBER and source == "oracle":  # it goes without zeros there, of which plain_numbers takes care
        return ""
    if family is Family.NUMBER and not (target == "sqlserver" and _is_exact(value, rewriter)):
        return "a number with digits behind the point as a text, which each engine writes in its own form"
    is_iso = family is Family.DATE and target == "sqlserver" and source != "oracle"
    if family in MOMENTS and not is_iso:
        return "a date cast to a text, which each engine writes in its own form"
    return "" if is_iso or family is Family.NUMBER else f"a value of the kind {family} as a text"


def check_texts(values: list[Node], rewriter: Rewriter) -> None:
    """Raise CannotDraft for a value among texts that are joined whose text would be another one, as `text_operand` writes it."""
    own = [each for each in values if not _decimal_text_form(each, rewriter)]
    reason = next(filter(None, (text_cannot_be(each, rewriter) for each in own)), "")
    if reason:
        raise CannotDraft(reason)


def _is_exact(value: Node, rewriter: Rewriter) -> bool:
    source = rewriter.types.source_type(value)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    is_constant = isinstance(value, Literal) and "E" not in rewriter.subject.source(value).upper()
    return is_constant or (logical is not None and logical.kind in ("decimal", "decimal-whole"))


def _has_zone(node: Node, rewriter: Rewriter) -> bool:
    source = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, source) if source is not None else None
    return logical is not None and logical.kind in ("timestamp-zone", "timestamp-local")


def _check_cast(cast: Cast, rewriter: Rewriter) -> None:
    """Raise CannotDraft for a cast that keeps its words and gives another value."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    value, kind = rewriter.types.family(cast.value), rewriter.types.family(cast)
    if source == "teradata" and "FORMAT" in rewriter.words[cast.first : cast.last]:
        raise CannotDraft("a cast by a format")
    if source == "oracle" and kind in MOMENTS and value is Family.TEXT:
        raise CannotDraft("a moment of a text in the session's format")
    if (
        kind is Family.BOOLEAN
        and value is not Family.BOOLEAN
        and (target != "sqlserver" or value is not Family.INTEGER)
    ):
        raise CannotDraft("a truth value of a value of another kind")
    if target not in _STRICT:
        return
    if kind is Family.TEXT:
        if not (source in _TSQL and value in MOMENTS):  # which a point of its own writes
            check_texts([cast.value], rewriter)
        size = cast.type.arguments[0] if cast.type.arguments else ""
        is_short = value in NUMBERS and size.isdigit() and int(size) < _DIGITS
        if is_short and not _fills_with_star(cast, rewriter) and not (source == "oracle" and target == "sqlserver"):
            raise CannotDraft("a number as a text that may be too short for it")
    logical = logical_type(source, data_type(cast.type))
    if logical is not None and logical.kind == "decimal-free" and target == "sqlserver":
        raise CannotDraft(f"a cast to {cast.type.name} without digits, which would become a float")
    if value in MOMENTS and kind in MOMENTS and _has_zone(cast, rewriter) != _has_zone(cast.value, rewriter):
        raise CannotDraft("a moment that gets or loses its time zone")
    if kind is Family.BYTES and value is Family.TEXT:
        raise CannotDraft("a text as bytes, which each engine encodes or reads in its own way")
    is_read = not isinstance(cast.value, Name) and rewriter.rewrites(cast.value)
    if kind in NUMBERS and value is Family.TEXT and source == "sqlite" and not is_read:
        raise CannotDraft("a number of a text, of which the digits in front count")
    if target == "oracle" and kind in (Family.TIME, Family.UUID):
        raise CannotDraft(f"a value as {cast.type.name.lower()}")
    if target == "oracle" and kind in MOMENTS and value not in MOMENTS:
        raise CannotDraft("a moment of a text, which Oracle reads in the session's format, or of another kind of value")


def cast_in_words(cast: Cast, rewriter: Rewriter) -> str:
    """Return what stands for a cast that the target does otherwise: moments of Oracle, truth values; '' for another cast."""
    if rewriter.target.engine == "oracle":
        moment = _moment_of_oracle(cast, rewriter)
        if moment:
            return moment
    value, kind = rewriter.types.family(cast.value), rewriter.types.family(cast)
    if kind is Family.TEXT and rewriter.catalog.engine == "postgresql" and not cast.type.arguments:
        return _text_of_postgresql(cast.value, value, rewriter)
    if kind is Family.BOOLEAN and value in NUMBERS and rewriter.target.engine in ("oracle", *_MYSQL):
        text = rewriter.node(cast.value)
        return f"CASE WHEN {text} = 0 THEN 0 WHEN {text} <> 0 THEN 1 END"
    return ""


def _text_of_postgresql(value: Node, family: Family, rewriter: Rewriter) -> str:
    """Return a truth value as true or false, and for Oracle a whole number or a date as its text; '' for other values."""
    engine = rewriter.target.engine
    text = rewriter.node(value)
    if isinstance(value, Literal) and value.form in ("true", "false"):
        return f"'{value.form}'"
    if family is Family.BOOLEAN:
        test = text if is_truth(value) or engine in _MYSQL else f"{text} <> 0"
        return f"CASE WHEN {test} THEN 'true' WHEN NOT ({test}) THEN 'false' END"
    if engine == "oracle" and family in (Family.INTEGER, Family.DATE):
        return f"TO_CHAR({text}, 'YYYY-MM-DD')" if family is Family.DATE else f"TO_CHAR({text})"
    return ""


def _moment_of_oracle(cast: Cast, rewriter: Rewriter) -> str:
    """Return a constant as a moment, and a date whose time of day is cut off; dates of Oracle keep one."""
    value, kind = rewriter.types.family(cast.value), rewriter.types.family(cast)
    if rewriter.catalog.engine == "oracle" or _has_zone(cast, rewriter) or _has_zone(cast.value, rewriter):
        return ""
    content = text_value(cast.value, rewriter) if kind in MOMENTS else None
    moment = parse_moment(content, rewriter.catalog.engine) if content is not None else None
    if moment is not None and moment.day and not is_no_day(content or ""):
        return f"DATE '{moment.day}'" if kind is Family.DATE else f"TIMESTAMP '{moment.day} {moment.time or _MIDNIGHT}'"
    is_cut = kind is Family.DATE and value is Family.TIMESTAMP
    return f"TRUNC({rewriter.node(cast.value)})" if is_cut else ""


def _check_difference(node: Operation, rewriter: Rewriter) -> None:
    """Refuse one moment less another where the target has no such difference, or another one."""
    families = [rewriter.types.family(each) for each in node.operands]
    are_days = rewriter.catalog.engine == "teradata" and families == [Family.DATE, Family.DATE]
    is_alike = rewriter.target.engine == "oracle" and (rewriter.catalog.engine == "postgresql" or are_days)
    if node.operators == ["-"] and all(family in MOMENTS for family in families) and not is_alike:
        rewriter.add(Point(node.first, node.last, partial(_refuse, "one moment less another")))
    kinds = [rewriter.types.source_type(each) for each in node.operands]
    if rewriter.target.engine != "oracle" and any(
        kind is not None and kind.name.startswith("INTERVAL") for kind in kinds
    ):
        rewriter.add(Point(node.first, node.last, partial(_refuse, "a moment moved by a span that a column holds")))


def _refuse(reason: str, rewriter: Rewriter) -> str:
    raise CannotDraft(reason)


def _cuts_otherwise(cast: Cast, rewriter: Rewriter) -> bool:
    """Whether a number is cast to a whole one, which one engine cuts and the other rounds."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    kinds = rewriter.types.family(cast.value), rewriter.types.family(cast)
    differs = target in _STRICT and (source in _CUTTING) != (target in _CUTTING)
    return differs and kinds == (Family.NUMBER, Family.INTEGER)


def _cut_as_source(value: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(value)
    return f"ROUND({text}, 0)" if rewriter.target.engine == "sqlserver" else f"TRUNC({text})"


def _as_cast(cast: Cast, rewriter: Rewriter) -> str:
    """CONVERT(value, type) of MySQL, whose arguments come in the other order than elsewhere."""
    return f"CAST({rewriter.node(cast.value)} AS {rewriter.node(cast.type)})"


def _cast_type(cast: Cast, rewriter: Rewriter) -> str:
    _check_cast(cast, rewriter)
    source = cast_type(cast.type, rewriter.catalog.engine)
    if rewriter.catalog.engine in _TSQL and source.name in _SIZED and not source.arguments:
        source = msgspec.structs.replace(source, arguments=(_DEFAULT_SIZE,))
    choice = choose_type(rewriter.catalog.engine, source, rewriter.target)
    if choice is None or not choice.text:
        raise CannotDraft(f"no type for {source}")
    if rewriter.target.engine not in _MYSQL:
        return choice.text
    for name, written in _MYSQL_CASTS:
        if choice.text == name or choice.text.startswith((f"{name}(", f"{name} ")):
            sized = written in ("CHAR", "DECIMAL", "DATETIME", "TIME") and "(" in choice.text
            return written + (choice.text[choice.text.index("(") : choice.text.index(")") + 1] if sized else "")
    raise CannotDraft(f"no cast to {choice.text}")
