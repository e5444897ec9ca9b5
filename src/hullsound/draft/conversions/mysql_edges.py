"""What functions and operators of Oracle and SQL Server give at the edges, where those of MySQL and MariaDB give something else.

Sources: MySQL 8.4 Reference Manual, "String Functions and Operators", "Bit Functions and Operators", "Arithmetic Operators";
MariaDB 10.11, the pages of the same functions; Oracle SQL Language Reference and Transact-SQL reference, "Functions".
"""

import re
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Cast, Comparison, Literal, Node, Operation

from .mysql_from_postgresql import add_for_postgresql
from .mysql_from_sqlite import add_for_sqlite

_TSQL: Final = frozenset(("sqlserver", "ase"))
_ON_BITS: Final = frozenset(("&", "|", "^", "~"))
_EXACT: Final = "DECIMAL(65,30)"
_CASE: Final = "(?-i)"
"""What tells a regular expression to mind case, whatever the collation says."""


def add_mysql_edges(rewriter: Rewriter) -> None:
    """Add the points of calls and operators whose values differ."""
    engine = rewriter.catalog.engine
    for comparison in rewriter.subject.all(Comparison):
        if comparison.operator == "LIKE" and engine in (*_TSQL, "oracle", "db2", "teradata", "sqlite"):
            _add_escape(comparison, rewriter)
    if engine == "oracle":
        _add_for_oracle(rewriter)
    elif engine in _TSQL:
        _add_for_tsql(rewriter)
    elif engine == "sqlite":
        add_for_sqlite(rewriter)
    else:
        if engine == "postgresql":
            add_for_postgresql(rewriter)
        _add_for_others(rewriter)


def _is_whole_constant(node: Node, rewriter: Rewriter) -> bool:
    """Whether a whole number above 0 is written there."""
    text = rewriter.subject.source(node)
    return text.isdigit() and int(text) > 0


def _whole(node: Node, rewriter: Rewriter) -> str:
    """Write a count without its fraction, which both sources cut off and MySQL rounds."""
    text = rewriter.node(node)
    return f"TRUNCATE({text}, 0)" if rewriter.types.family(node) is Family.NUMBER else text


def _add_escape(comparison: Comparison, rewriter: Rewriter) -> None:
    """Double the backslashes of a pattern, where they would escape the sign behind them."""
    pattern = comparison.operands[1]
    plain = text_value(pattern, rewriter)
    if comparison.last > pattern.last or (plain is not None and "\\" not in plain):
        return
    if plain is not None:
        doubled = plain.replace("\\", "\\" * 4).replace("'", "''")
        rewriter.wrap(pattern, lambda _: f"'{doubled}'", rank=9)
    else:
        rewriter.wrap(pattern, lambda r: f"REPLACE({r.node(pattern)}, '\\\\', '\\\\\\\\')", rank=9)


# --- Oracle ---


def _add_for_oracle(rewriter: Rewriter) -> None:
    for call in rewriter.subject.all(Call):
        form = _OF_ORACLE.get((call.parts[-1], len(call.arguments))) if len(call.parts) == 1 else None
        if form is not None:
            rewriter.wrap(call, partial(form, call), rank=2)
    for node in rewriter.subject.all(Operation):
        if "/" in node.operators and all(rewriter.types.family(each) in NUMBERS for each in node.operands):
            first = node.operands[0]
            if not _is_float(first, rewriter):
                rewriter.wrap(first, lambda r, first=first: f"CAST({r.node(first)} AS {_EXACT})", rank=4)  # type: ignore[misc]


def _is_float(node: Node, rewriter: Rewriter) -> bool:
    kind = rewriter.types.source_type(node)
    logical = logical_type(rewriter.catalog.engine, kind) if kind is not None else None
    return logical is not None and logical.kind == "float"


def _from_one(call: Call, rewriter: Rewriter) -> str:
    """SUBSTR from place 0 is SUBSTR from place 1."""
    text, start, *length = call.arguments
    place = _whole(start, rewriter)
    if not _is_whole_constant(start, rewriter) and not place.lstrip("-").isdigit():
        place = f"IF({place} = 0, 1, {place})"
    elif place == "0":
        place = "1"
    tail = f", {_whole(length[0], rewriter)}" if length else ""
    return f"SUBSTR({rewriter.node(text)}, {place}{tail})"


def _sized(call: Call, rewriter: Rewriter) -> str:
    text, size, *fill = call.arguments
    return f"{call.parts[0]}({', '.join([rewriter.node(text), _whole(size, rewriter), *map(rewriter.node, fill)])})"


def _trimmed(call: Call, rewriter: Rewriter) -> str:
    """LTRIM and RTRIM of a set of signs."""
    letters = text_value(call.arguments[1], rewriter)
    text = rewriter.node(call.arguments[0])
    if not letters:
        raise CannotDraft(f"{call.parts[0]} of signs that are not constants")
    side = "LEADING" if call.parts[0] == "LTRIM" else "TRAILING"
    if len(letters) == 1:
        return f"TRIM({side} {rewriter.node(call.arguments[1])} FROM {text})"
    signs = re.sub(r"([\\\]^-])", r"\\\\\1", letters).replace("'", "''")
    pattern = f"{_CASE}^[{signs}]+" if side == "LEADING" else f"{_CASE}[{signs}]+$"
    return f"REGEXP_REPLACE({text}, '{pattern}', '')"


def _joined(call: Call, rewriter: Rewriter) -> str:
    return f"CONCAT_WS('', {rewriter.nodes(call.arguments)})"


def _bits_of_both(call: Call, rewriter: Rewriter) -> str:
    return f"CAST({' & '.join(f'({rewriter.node(each)})' for each in call.arguments)} AS SIGNED)"


def _remainder(call: Call, rewriter: Rewriter) -> str:
    """MOD by zero is the first number."""
    value, divisor = call.arguments
    text = f"MOD({rewriter.nodes(call.arguments)})"
    if isinstance(divisor, Literal) and rewriter.subject.source(divisor).strip("0."):
        return text
    return f"(CASE WHEN {rewriter.node(divisor)} = 0 THEN {rewriter.node(value)} ELSE {text} END)"


def _character_or_null(call: Call, rewriter: Rewriter) -> str:
    """CHAR passes over NULL, and gives an empty text."""
    code = rewriter.node(call.arguments[0])
    text = f"CHAR({code} USING utf8mb4)"
    return text if isinstance(call.arguments[0], Literal) else f"(CASE WHEN {code} IS NOT NULL THEN {text} END)"


_ONE_SIGN: Final = re.compile(r"\[\^?(?:\[:\w+:\]|[^\]\[])+\]|\w")
"""Patterns that fit one sign at a time."""


def _counted(call: Call, rewriter: Rewriter) -> str:
    """REGEXP_COUNT of a pattern that fits one sign: how much shorter the text is without them."""
    text, pattern = rewriter.node(call.arguments[0]), text_value(call.arguments[1], rewriter)
    if pattern is None or not _ONE_SIGN.fullmatch(pattern):
        raise CannotDraft("a count of what fits a pattern of several signs")
    quoted = (_CASE + pattern).replace("\\", "\\\\").replace("'", "''")
    return f"(CHAR_LENGTH({text}) - CHAR_LENGTH(REGEXP_REPLACE({text}, '{quoted}', '')))"


def _nth_fit(call: Call, rewriter: Rewriter) -> str:
    """REGEXP_SUBSTR from a place on, or of a later fit, which MySQL has and MariaDB has not."""
    if rewriter.target.engine != "mysql" or len(call.arguments) > 4:
        raise CannotDraft(f"{call.parts[0]} with {len(call.arguments)} arguments")
    text, pattern, *counts = call.arguments
    return f"REGEXP_SUBSTR({', '.join([*map(rewriter.node, (text, pattern)), *(_whole(each, rewriter) for each in counts)])})"


_OF_ORACLE: Final = {
    ("SUBSTR", 2): _from_one, ("SUBSTR", 3): _from_one, ("LPAD", 2): _sized, ("LPAD", 3): _sized, ("RPAD", 2): _sized,
    ("RPAD", 3): _sized, ("LTRIM", 2): _trimmed, ("RTRIM", 2): _trimmed, ("CONCAT", 2): _joined, ("BITAND", 2): _bits_of_both,
    ("MOD", 2): _remainder, ("CHR", 1): _character_or_null,
    ("REGEXP_COUNT", 2): _counted, **{("REGEXP_SUBSTR", count): _nth_fit for count in (3, 4, 5, 6)},
}  # fmt: skip
"""What writes a call anew, by its name and number of arguments."""


# --- Db2 and Teradata ---


def _add_for_others(rewriter: Rewriter) -> None:
    engine = rewriter.catalog.engine
    for call in rewriter.subject.all(Call):
        form = _OF_OTHERS.get((engine, call.parts[-1], len(call.arguments))) if len(call.parts) == 1 else None
        if form is not None:
            rewriter.wrap(call, partial(form, call), rank=2)
        elif call.parts == ("SUBSTRING",) and len(call.arguments) == 1 and engine in _FROM_ONE:
            rewriter.wrap(call, partial(_part_by_words, call), rank=2)
    for cast in rewriter.subject.all(Cast):
        if rewriter.words[cast.first : cast.last].count("FORMAT"):
            rewriter.add(Point(cast.first, cast.last, _refused_format, rank=2))
        kinds = {rewriter.types.family(cast.value), rewriter.types.family(cast)}
        scale = cast.type.arguments[1] if len(cast.type.arguments) == 2 else ""
        if engine == "db2" and scale and kinds == {Family.NUMBER}:
            rewriter.wrap(cast.value, lambda r, value=cast.value, n=scale: f"TRUNCATE({r.node(value)}, {n})", rank=4)  # type: ignore[misc]


def _refused_format(rewriter: Rewriter) -> str:
    raise CannotDraft("a cast by a format")


_FROM_ONE: Final = frozenset(("teradata", "db2", "postgresql"))
"""Engines that count places before the first sign as standard SQL does."""


def _part_by_words(call: Call, rewriter: Rewriter) -> str:
    """SUBSTRING(text FROM place FOR length)."""
    read = rewriter.subject.read
    parts = [node for node in read.inside(Node, call.opening + 1, call.closing) if read.parent(node) is call]
    if len(parts) == 3:
        return _part_of(parts[0], parts[1], parts[2], rewriter)
    if len(parts) != 2 or rewriter.types.family(parts[1]) is Family.TEXT:
        raise CannotDraft("SUBSTRING by a pattern")
    return _rest_of(parts[0], parts[1], rewriter)


def _rest(call: Call, rewriter: Rewriter) -> str:
    text, start = call.arguments
    return _rest_of(text, start, rewriter)


def _rest_of(text: Node, start: Node, rewriter: Rewriter) -> str:
    """A text from a place on; from one below 1 it is the whole."""
    place = rewriter.node(start)
    return f"SUBSTR({rewriter.node(text)}, {place if _is_whole_constant(start, rewriter) else f'GREATEST({place}, 1)'})"


# --- SQL Server ---


def _add_for_tsql(rewriter: Rewriter) -> None:
    for call in rewriter.subject.all(Call):
        form = _OF_TSQL.get((call.parts[-1], len(call.arguments))) if len(call.parts) == 1 else None
        if form is not None:
            rewriter.wrap(call, partial(form, call), rank=2)
    for node in rewriter.subject.all(Operation):
        if set(node.operators) <= _ON_BITS:
            rewriter.wrap(node, lambda r, node=node: f"CAST({r.node(node)} AS SIGNED)", rank=4)  # type: ignore[misc]
        elif len(node.operands) == 2 and node.operators[0] in ("+", "-"):
            kinds = [rewriter.types.family(each) for each in node.operands]
            if kinds[0] in MOMENTS and kinds[1] in NUMBERS:
                rewriter.add(Point(node.first, node.last, partial(_moved, node), rank=3))
    for cast in rewriter.subject.all(Cast):
        kinds = [rewriter.types.family(cast.value), rewriter.types.family(cast)]
        if kinds == [Family.TEXT, Family.INTEGER] and not isinstance(cast.value, Literal):  # an empty text counts as 0
            rewriter.wrap(cast.value, partial(_zero_if_blank, cast.value), rank=4)
        elif rewriter.words[cast.first] == "CONVERT" and kinds == [Family.NUMBER, Family.INTEGER]:
            rewriter.wrap(cast.value, lambda r, value=cast.value: f"TRUNCATE({r.node(value)}, 0)", rank=4)  # type: ignore[misc]


def _zero_if_blank(node: Node, rewriter: Rewriter) -> str:
    text = rewriter.node(node)
    return f"IF(TRIM({text}) = '', 0, {text})"


def _moved(node: Operation, rewriter: Rewriter) -> str:
    """A date and a number of days, which may have a fraction."""
    date, number = (rewriter.node(each) for each in node.operands)
    sign = "-" if node.operators == ["-"] else ""
    if rewriter.types.family(node.operands[1]) is Family.INTEGER:
        return f"TIMESTAMPADD(DAY, {sign}({number}), {date})"
    return f"TIMESTAMPADD(MICROSECOND, {sign}CAST(ROUND(({number}) * 86400000000, 0) AS SIGNED), {date})"


def _part(call: Call, rewriter: Rewriter) -> str:
    text, start, length = call.arguments
    return _part_of(text, start, length, rewriter)


def _part_of(text: Node, start: Node, length: Node, rewriter: Rewriter) -> str:
    """A part from a place below 1 loses as many signs as lie before the text."""
    given, size = rewriter.node(text), _whole(length, rewriter)
    if _is_whole_constant(start, rewriter):
        return f"SUBSTRING({given}, {rewriter.node(start)}, {size})"
    place = _whole(start, rewriter)
    return f"SUBSTRING({given}, GREATEST({place}, 1), GREATEST({size} + LEAST({place}, 1) - 1, 0))"


def _place(call: Call, rewriter: Rewriter) -> str:
    """CHARINDEX: an empty part is nowhere, and a start below 1 is the first sign."""
    part, text, *start = call.arguments
    sought, given = rewriter.node(part), rewriter.node(text)
    tail = ""
    if start:
        tail = f", {_whole(start[0], rewriter)}"
        tail = tail if _is_whole_constant(start[0], rewriter) else f", GREATEST({tail[2:]}, 1)"
    found = f"LOCATE({sought}, {given}{tail})"
    return found if text_value(part, rewriter) else f"IF(CHAR_LENGTH({sought}) = 0, 0 * CHAR_LENGTH({given}), {found})"


def _put(call: Call, rewriter: Rewriter) -> str:
    """STUFF: NULL for a start outside of the text or a length below 0; NULL as the new text is nothing."""
    text, start, length, new = call.arguments
    given, first, count = rewriter.node(text), _whole(start, rewriter), _whole(length, rewriter)
    put = rewriter.node(new) if rewriter.types.is_never_null(new) else f"COALESCE({rewriter.node(new)}, '')"
    test = f"{first} BETWEEN 1 AND CHAR_LENGTH({given})"
    if not (_is_whole_constant(length, rewriter) or rewriter.subject.source(length) == "0"):
        test += f" AND {count} >= 0"
    return f"(CASE WHEN {test} THEN INSERT({given}, {first}, {count}, {put}) END)"


def _repeated(call: Call, rewriter: Rewriter) -> str:
    count = call.arguments[-1]
    text = "' '" if call.parts == ("SPACE",) else rewriter.node(call.arguments[0])
    number = _whole(count, rewriter)
    if not (_is_whole_constant(count, rewriter) or rewriter.subject.source(count) == "0"):
        number = f"IF({number} < 0, NULL, {number})"
    return f"REPEAT({text}, {number})"


def _character(call: Call, rewriter: Rewriter) -> str:
    code = rewriter.node(call.arguments[0])
    if _is_whole_constant(call.arguments[0], rewriter) and int(code) < 128:
        return f"CHAR({code} USING utf8mb4)"
    return f"(CASE WHEN {code} BETWEEN 1 AND 255 THEN CHAR({code} USING latin1) END)"


def _replaced(call: Call, rewriter: Rewriter) -> str:
    """REPLACE by NULL is NULL, in MariaDB only where something is replaced."""
    new = call.arguments[2]
    text = f"REPLACE({rewriter.nodes(call.arguments)})"
    return text if rewriter.types.is_never_null(new) else f"IF({rewriter.node(new)} IS NULL, NULL, {text})"


def _first_non_null(call: Call, rewriter: Rewriter) -> str:
    value, other = call.arguments
    given = rewriter.node(other)
    if rewriter.types.family(value) is Family.INTEGER and rewriter.types.family(other) is Family.NUMBER:
        given = f"TRUNCATE({given}, 0)"
    return f"COALESCE({rewriter.node(value)}, {given})"


def _end_of_month(call: Call, rewriter: Rewriter) -> str:
    date, months = call.arguments
    return f"LAST_DAY({rewriter.node(date)} + INTERVAL ({_whole(months, rewriter)}) MONTH)"


def _rounded(call: Call, rewriter: Rewriter) -> str:
    """ROUND(number, digits, 1) cuts."""
    value, digits, way = call.arguments
    if not rewriter.subject.source(way).isdigit():
        raise CannotDraft("ROUND or a cut, as the run decides")
    name = "ROUND" if int(rewriter.subject.source(way)) == 0 else "TRUNCATE"
    return f"{name}({rewriter.nodes([value, digits])})"


_OF_TSQL: Final = {
    ("SUBSTRING", 3): _part, ("CHARINDEX", 2): _place, ("CHARINDEX", 3): _place, ("STUFF", 4): _put, ("REPLICATE", 2): _repeated,
    ("SPACE", 1): _repeated, ("CHAR", 1): _character, ("REPLACE", 3): _replaced, ("ISNULL", 2): _first_non_null,
    ("ROUND", 3): _rounded, ("EOMONTH", 2): _end_of_month,
}  # fmt: skip
"""What writes a call anew, by its name and number of arguments."""

_OF_OTHERS: Final = {
    ("teradata", "SUBSTR", 2): _rest, ("teradata", "SUBSTR", 3): _part, ("teradata", "OREPLACE", 3): _replaced,
    ("db2", "REPLACE", 3): _replaced, ("postgresql", "SUBSTR", 2): _rest, ("postgresql", "SUBSTR", 3): _part,
    ("postgresql", "SUBSTRING", 3): _part,
}  # fmt: skip
"""What writes a call of Db2 or Teradata anew, by engine, name and number of arguments."""
