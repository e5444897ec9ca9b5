"""What functions and operators of SQL Server give at the edges, where those of MySQL and MariaDB give something else.

Sources: Transact-SQL reference, "Functions" and "Expressions"; MySQL 8.4 Reference Manual and MariaDB 10.11, "String Functions",
"Bit Functions and Operators", "Date and Time Functions".
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, NUMBERS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.tree import Call, Cast, Literal, Node, Operation

from .kept_lengths import cut_length
from .mysql_common import is_whole_constant, part, replaced_or_null, whole
from .shown_scales import add_shown_scales

_ON_BITS: Final = frozenset(("&", "|", "^", "~"))


def add_for_tsql(rewriter: Rewriter) -> None:
    """Add the points of calls, bits, dates and casts."""
    add_shown_scales(rewriter)
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


def _place(call: Call, rewriter: Rewriter) -> str:
    """CHARINDEX: an empty part is nowhere, and a start below 1 is the first sign."""
    part, text, *start = call.arguments
    sought, given = rewriter.node(part), rewriter.node(text)
    tail = ""
    if start:
        tail = f", {whole(start[0], rewriter)}"
        tail = tail if is_whole_constant(start[0], rewriter) else f", GREATEST({tail[2:]}, 1)"
    found = f"LOCATE({sought}, {given}{tail})"
    return found if text_value(part, rewriter) else f"IF(CHAR_LENGTH({sought}) = 0, 0 * CHAR_LENGTH({given}), {found})"


def _put(call: Call, rewriter: Rewriter) -> str:
    """STUFF: NULL for a start outside of the text or a length below 0; NULL as the new text is nothing."""
    text, start, length, new = call.arguments
    given, first, count = rewriter.node(text), whole(start, rewriter), whole(length, rewriter)
    put = rewriter.node(new) if rewriter.types.is_never_null(new) else f"COALESCE({rewriter.node(new)}, '')"
    test = f"{first} BETWEEN 1 AND CHAR_LENGTH({given})"
    if not (is_whole_constant(length, rewriter) or rewriter.subject.source(length) == "0"):
        test += f" AND {count} >= 0"
    return f"(CASE WHEN {test} THEN INSERT({given}, {first}, {count}, {put}) END)"


def _repeated(call: Call, rewriter: Rewriter) -> str:
    count = call.arguments[-1]
    text = "' '" if call.parts == ("SPACE",) else rewriter.node(call.arguments[0])
    number = whole(count, rewriter)
    if not (is_whole_constant(count, rewriter) or rewriter.subject.source(count) == "0"):
        number = f"IF({number} < 0, NULL, {number})"
    return f"REPEAT({text}, {number})"


def _character(call: Call, rewriter: Rewriter) -> str:
    code = rewriter.node(call.arguments[0])
    if is_whole_constant(call.arguments[0], rewriter) and int(code) < 128:
        return f"CHAR({code} USING utf8mb4)"
    return f"(CASE WHEN {code} BETWEEN 1 AND 255 THEN CHAR({code} USING latin1) END)"


def _first_non_null(call: Call, rewriter: Rewriter) -> str:
    value, other = call.arguments
    given = rewriter.node(other)
    if rewriter.types.family(value) is Family.INTEGER and rewriter.types.family(other) is Family.NUMBER:
        given = f"TRUNCATE({given}, 0)"
    size = cut_length(value, other, rewriter)
    if size:
        given = f"LEFT({given}, {size})"
    return f"COALESCE({rewriter.node(value)}, {given})"


def _end_of_month(call: Call, rewriter: Rewriter) -> str:
    date, months = call.arguments
    return f"LAST_DAY({rewriter.node(date)} + INTERVAL ({whole(months, rewriter)}) MONTH)"


def _rounded(call: Call, rewriter: Rewriter) -> str:
    """ROUND(number, digits, 1) cuts."""
    value, digits, way = call.arguments
    if not rewriter.subject.source(way).isdigit():
        raise CannotDraft("ROUND or a cut, as the run decides")
    name = "ROUND" if int(rewriter.subject.source(way)) == 0 else "TRUNCATE"
    return f"{name}({rewriter.nodes([value, digits])})"


_OF_TSQL: Final = {
    ("SUBSTRING", 3): part, ("CHARINDEX", 2): _place, ("CHARINDEX", 3): _place, ("STUFF", 4): _put, ("REPLICATE", 2): _repeated,
    ("SPACE", 1): _repeated, ("CHAR", 1): _character, ("REPLACE", 3): replaced_or_null, ("ISNULL", 2): _first_non_null,
    ("ROUND", 3): _rounded, ("EOMONTH", 2): _end_of_month,
}  # fmt: skip
"""What writes a call anew, by its name and number of arguments."""
