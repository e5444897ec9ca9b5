"""Fixers for parts of texts and places in them, for SQL Server and Oracle, and for MySQL and MariaDB where they lack the form.

Sources: Transact-SQL reference, "String Functions"; Oracle Database 19c SQL Language Reference, "Character Functions"; MySQL 8.4
Reference Manual, "String Functions and Operators"; PostgreSQL 18, "String Functions and Operators".
"""

import re
from typing import Final, NamedTuple

from hullsound.analyze.types import NUMBERS
from hullsound.draft.conversions.casts import check_texts, text_operand
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Comparison, Literal, Node, Operation, Paren

from . import call_of, fixer

_MYSQL: Final = ("mysql", "mariadb")
_LOSING: Final = ("sqlserver", "ase", "teradata")
"""Sources in which a part from a place below 1 loses as many signs as lie before the text."""
_TO_THE_END: Final = "2147483647"
_COUNTS: Final = frozenset(("INSTR", "LENGTH", "LOCATE", "CHAR_LENGTH", "STRPOS", "POSITION", "CHARACTER_LENGTH"))
"""Functions that give a number from 0 on."""
_MOST_NESTED: Final = 3
_SIGNS_SINCE: Final = 2022
"""Version of SQL Server whose LTRIM and RTRIM take signs."""


class Part(NamedTuple):
    """A part of a text, as a call names it."""

    text: Node
    start: str
    """As the target writes it."""
    length: str
    """Empty up to the end."""
    is_counted: bool
    """Whether the part begins at the first character or behind it for certain."""


def _is_counted(start: Node, rewriter: Rewriter) -> bool:
    """Whether a place is above 0 for certain: a constant, or a place that was found and more."""
    if isinstance(start, Paren):
        return _is_counted(start.inner, rewriter)
    if isinstance(start, Literal):
        return rewriter.subject.source(start).lstrip("0").isdigit()
    if not isinstance(start, Operation) or set(start.operators) != {"+"}:
        return False
    others = [each for each in start.operands if not _is_counted(each, rewriter)]
    return len(others) < len(start.operands) and all(
        isinstance(each, Call) and each.parts[-1] in _COUNTS for each in others
    )


def read_part(call: Call, rewriter: Rewriter) -> Part:
    """Read SUBSTR, SUBSTRING and MID, with commas or with FROM and FOR. Raises CannotDraft for a pattern in their place."""
    words = rewriter.words
    text, *more = call.arguments
    if more:
        length = rewriter.node(more[1]) if len(more) > 1 else ""
        if rewriter.types.family(more[0]) not in NUMBERS:
            raise CannotDraft("a part of a text from a place that is no number")
        return Part(text, rewriter.node(more[0]), length, _is_counted(more[0], rewriter))
    if words[text.last] != "FROM":
        raise CannotDraft("a part of a text in a form that is not known")
    end = next((at for at in range(text.last, call.closing) if words[at] == "FOR"), call.closing)
    start = rewriter.text(text.last + 1, end).strip()
    if not start.isdigit() or not int(start):
        raise CannotDraft("a part of a text from a place that is no constant number")
    return Part(
        text, start, rewriter.text(end + 1, call.closing).strip() if end < call.closing else "", is_counted=True
    )


@fixer("end_or_rest")
def fix_end_or_rest(place: Found, rewriter: Rewriter) -> str:
    """LEFT and RIGHT of PostgreSQL, which leave off so many characters at the other end where the number is below 0.

    A number that is no constant stays as it is: the stances of SQL Server and Oracle say what to look at.
    """
    call = call_of(place)
    text, count = rewriter.node(call.arguments[0]), rewriter.node(call.arguments[1])
    is_left, is_oracle = call.parts[-1] == "LEFT", rewriter.target.engine == "oracle"
    below = re.fullmatch(r"-\s*(\d+)", count)
    if below is not None and is_left:
        if is_oracle:
            return f"SUBSTR({text}, 1, LENGTH({text}) - {below[1]})"
        length = f"LEN({text} + 'x') - 1"
        return f"LEFT({text}, CASE WHEN {length} > {below[1]} THEN {length} - {below[1]} ELSE 0 END)"
    if below is not None:
        start = int(below[1]) + 1
        return f"SUBSTR({text}, {start})" if is_oracle else f"SUBSTRING({text}, {start}, {_TO_THE_END})"
    if not is_oracle:
        return f"{call.parts[-1]}({text}, {count})"
    return f"SUBSTR({text}, 1, {count})" if is_left else f"SUBSTR({text}, -LEAST(LENGTH({text}), {count}))"


@fixer("part_of_text")
def fix_part_of_text(place: Found, rewriter: Rewriter) -> str:
    """SUBSTR, SUBSTRING and MID, for SQL Server and Oracle, whose stances say what is counted otherwise below 1.

    Raises CannotDraft for a place that may be below 1 where the source counts it in a way of its own.
    """
    part = read_part(call_of(place), rewriter)
    text = rewriter.node(part.text)
    if not part.is_counted and part.length and rewriter.catalog.engine in _LOSING:
        if rewriter.target.engine == "sqlserver":
            return f"SUBSTRING({text}, {part.start}, {part.length})"
        rest = str(int(part.length) - 1) if part.length.isdigit() else f"{part.length} - 1"
        length = f"LEAST({part.start}, 1)" + (f" + {rest}" if rest != "0" else "")
        return f"SUBSTR({text}, GREATEST({part.start}, 1), {length})"
    back = part.start.removeprefix("-").strip()
    if (
        not part.is_counted
        and part.start.startswith("-")
        and back.isdigit()
        and rewriter.catalog.engine != "postgresql"
    ):
        return _from_end(text, int(back), part.length, rewriter)
    if part.start == "0" and rewriter.catalog.engine == "oracle":  # which counts it as 1
        part = part._replace(start="1", is_counted=True)
    if not part.is_counted:
        if rewriter.catalog.engine in ("postgresql", "oracle") or not part.length:
            raise CannotDraft("a part of a text from a place that may be below 1")
        name = "SUBSTR" if rewriter.target.engine == "oracle" else "SUBSTRING"
        return f"{name}({text}, {part.start}, {part.length})"
    if rewriter.target.engine == "oracle":
        return f"SUBSTR({text}, {part.start}{f', {part.length}' if part.length else ''})"
    if part.length and not part.length.isdigit():
        if rewriter.catalog.engine == "postgresql":  # a negative length is an error in both
            return f"SUBSTRING({text}, {part.start}, {part.length})"
        least = f"CASE WHEN {part.length} > 0 THEN {part.length} ELSE 0 END"
        return f"SUBSTRING({text}, {part.start}, {least})"
    return f"SUBSTRING({text}, {part.start}, {part.length or _TO_THE_END})"


def _from_end(text: str, count: int, length: str, rewriter: Rewriter) -> str:
    """A part from a place counted from the end; of a shorter text NULL in Oracle, and nothing in MySQL."""
    if rewriter.target.engine == "oracle":
        return f"SUBSTR({text}, -{count}{f', {length}' if length else ''})"
    if length and not length.isdigit():
        raise CannotDraft("a part of a text from its end, of a length that is no constant")
    tail = f"LEFT(RIGHT({text}, {count}), {length})" if length else f"RIGHT({text}, {count})"
    otherwise = "" if rewriter.catalog.engine == "oracle" else " ELSE ''"
    return f"CASE WHEN LEN({text} + 'x') > {count} THEN {tail}{otherwise} END"


@fixer("place_found")
def fix_place_found(place: Found, rewriter: Rewriter) -> str:
    """INSTR with a place to begin and an occurrence, LOCATE, CHARINDEX and POSITION with their places; occurrences may overlap."""
    call = call_of(place)
    values = call.arguments
    if call.parts[-1] == "POSITION" and len(values) == 1 and isinstance(values[0], Comparison):
        part, text = values[0].operands
        return _found(rewriter.node(part), rewriter.node(text), "1", rewriter)
    first, second, *more = values
    if call.parts[-1] == "POSITION" and len(more) == 1 and rewriter.subject.source(more[0]).upper() == "CODEUNITS32":
        more = []
    part, text = (first, second) if call.parts[-1] in ("LOCATE", "CHARINDEX", "POSITION") else (second, first)
    needle, given = rewriter.node(part), rewriter.node(text)
    start = rewriter.subject.source(more[0]).replace(" ", "") if more else "1"
    count = rewriter.subject.source(more[1]) if len(more) > 1 else "1"
    if not count.isdigit() or not 0 < int(count) <= _MOST_NESTED:
        raise CannotDraft("an occurrence that is no constant, or beyond the third")
    if start == "-1" and count == "1":
        return _last_place(needle, given, rewriter)
    if not start.isdigit() or not int(start):
        if rewriter.target.engine == "oracle" or not more or not _is_counted(more[0], rewriter):
            raise CannotDraft("a place to begin that may be below 1")
        start = rewriter.node(more[0])
    found = _found(needle, given, start, rewriter)
    for nth in range(2, int(count) + 1):
        later = _found(needle, given, f"{found} + 1", rewriter)
        found = (
            f"CASE WHEN {found} = 0 THEN 0 ELSE {later} END"
            if nth < int(count) or int(start if start.isdigit() else 2) > 1
            else later
        )
        found = f"({found})" if found.startswith("CASE") else found
    return found


def _found(needle: str, given: str, start: str, rewriter: Rewriter) -> str:
    if rewriter.target.engine == "oracle":
        return f"INSTR({given}, {needle}{'' if start == '1' else f', {start}'})"
    name = "LOCATE" if rewriter.target.engine in _MYSQL else "CHARINDEX"
    return f"{name}({needle}, {given}{'' if start == '1' else f', {start}'})"


def _last_place(needle: str, given: str, rewriter: Rewriter) -> str:
    backward = _found(f"REVERSE({needle})", f"REVERSE({given})", "1", rewriter)
    lengths = [f"CHAR_LENGTH({each})" for each in (given, needle)]
    if rewriter.target.engine == "sqlserver":
        lengths = [f"(LEN({each} + 'x') - 1)" for each in (given, needle)]
    return f"(CASE WHEN {backward} = 0 THEN 0 ELSE {lengths[0]} - {backward} - {lengths[1]} + 2 END)"


# --- parts between separators ---


def _separator(node: Node, rewriter: Rewriter) -> str:
    """Return a constant separator that does not overlap itself, as the target writes it."""
    known = text_value(node, rewriter)
    if not known or any(known.startswith(known[at:]) for at in range(1, len(known))):
        raise CannotDraft("a separator that is not a constant, or that may overlap itself")
    return known


@fixer("part_by_separators")
def fix_part_by_separators(place: Found, rewriter: Rewriter) -> str:
    """SUBSTRING_INDEX(text, separator, n) of MySQL: what stands before the nth separator, or behind it counted from the end."""
    value, sign, number = call_of(place).arguments
    separator, text = _separator(sign, rewriter), rewriter.node(value)
    count = rewriter.subject.source(number).replace(" ", "")
    if not count.lstrip("-").isdigit() or not 0 < abs(int(count)) <= _MOST_NESTED:
        raise CannotDraft("a number of separators that is no constant, or beyond three")
    times = abs(int(count))
    more = rewriter.names.text(separator * times)
    if rewriter.target.engine == "oracle":
        one = rewriter.names.text(separator)
        if int(count) > 0:
            return f"SUBSTR({text}, 1, INSTR({text} || {more}, {one}, 1, {times}) - 1)"
        behind = f"{more} || {text}"
        return f"SUBSTR({behind}, INSTR({behind}, {one}, -1, {times}) + {len(separator)})"
    given, sought = (text, separator) if int(count) > 0 else (f"REVERSE({text})", separator[::-1])
    one = rewriter.names.text(sought)
    whole = f"{given} + {rewriter.names.text(sought * times)}"
    at = f"CHARINDEX({one}, {whole})"
    for _ in range(times - 1):
        at = f"CHARINDEX({one}, {whole}, {at} + {len(separator)})"
    head = f"LEFT({given}, {at} - 1)"
    return head if int(count) > 0 else f"REVERSE({head})"


@fixer("nth_part")
def fix_nth_part(place: Found, rewriter: Rewriter) -> str:
    """SPLIT_PART(text, separator, n) of PostgreSQL; beyond the last part there is nothing."""
    value, sign, number = call_of(place).arguments
    text, separator = rewriter.node(value), rewriter.names.text(_separator(sign, rewriter))
    count = rewriter.node(number)
    if not count.isdigit() or not int(count):
        raise CannotDraft("a part of a text whose number is no constant above 0")
    if rewriter.target.engine not in _MYSQL:
        return _between_separators(text, _separator(sign, rewriter), int(count), rewriter)
    head = f"SUBSTRING_INDEX({text}, {separator}, {count})"
    if count == "1":
        return head
    length = len(_separator(sign, rewriter))
    parts = f"(CHAR_LENGTH({text}) - CHAR_LENGTH(REPLACE({text}, {separator}, ''))) DIV {length}"
    return f"IF({parts} < {int(count) - 1}, LEFT({text}, 0), SUBSTRING_INDEX({head}, {separator}, -1))"


def _between_separators(text: str, separator: str, number: int, rewriter: Rewriter) -> str:
    """Write the nth part of a text, for SQL Server and Oracle: so many separators are put behind it that one always ends it."""
    if number > _MOST_NESTED:
        raise CannotDraft("a part of a text beyond the third")
    one, size = rewriter.names.text(separator), len(separator)
    if rewriter.target.engine == "oracle":
        whole = f"({text} || {rewriter.names.text(separator * number)})"
        ends = [f"INSTR({whole}, {one}, 1, {place})" for place in (number - 1, number)]
        start = f"{ends[0]} + {size}" if number > 1 else "1"
        part = f"SUBSTR({whole}, {start}, {ends[1]} - {f'{ends[0]} - {size}' if number > 1 else '1'})"
        return f"CASE WHEN {text} IS NOT NULL THEN {part} END"
    if any(sign.isalpha() for sign in separator):
        raise CannotDraft("a separator of letters, which are sought without regard to case")
    whole = f"({text} + {rewriter.names.text(separator * number)})"
    ends = [f"CHARINDEX({one}, {whole})"]
    for _ in range(number - 1):
        ends.append(f"CHARINDEX({one}, {whole}, {ends[-1]} + {size})")
    if number == 1:
        return f"LEFT({whole}, {ends[0]} - 1)"
    return f"SUBSTRING({whole}, {ends[-2]} + {size}, {ends[-1]} - {ends[-2]} - {size})"


@fixer("part_of_dotted_name")
def fix_part_of_dotted_name(place: Found, rewriter: Rewriter) -> str:
    """PARSENAME(text, n) of SQL Server, of texts without brackets: the nth part from the end, of four at most."""
    value, number = call_of(place).arguments
    count = rewriter.node(number)
    if not count.isdigit() or not 0 < int(count) <= 4:
        raise CannotDraft("a part of a name whose number is no constant from 1 to 4")
    text = rewriter.node(value)
    if rewriter.target.engine in _MYSQL:
        dots = f"CHAR_LENGTH({text}) - CHAR_LENGTH(REPLACE({text}, '.', ''))"
        part = f"SUBSTRING_INDEX(SUBSTRING_INDEX({text}, '.', -{count}), '.', 1)"
        return f"(CASE WHEN {dots} BETWEEN {int(count) - 1} AND 3 THEN NULLIF({part}, '') END)"
    dots = f"NVL(LENGTH({text}), 0) - NVL(LENGTH(REPLACE({text}, '.')), 0)"
    part = f"REGEXP_SUBSTR({text}, '([^.]*)([.][^.]*){{{int(count) - 1}}}$', 1, 1, NULL, 1)"
    return f"(CASE WHEN {dots} BETWEEN {int(count) - 1} AND 3 THEN {part} END)"


# --- texts within texts ---


@fixer("text_overlaid")
def fix_text_overlaid(place: Found, rewriter: Rewriter) -> str:
    """OVERLAY(text, new, place, length) of Db2, also with PLACING, FROM and FOR."""
    call = call_of(place)
    words = rewriter.words
    if len(call.arguments) > 1:
        if len(call.arguments) != 4:
            raise CannotDraft("OVERLAY without a length, or counted in other units than characters")
        text, new, start, length = (rewriter.node(each) for each in call.arguments)
    else:
        places = [at for at in range(call.opening, call.closing) if words[at] in ("PLACING", "FROM", "FOR")]
        if [words[at] for at in places] != ["PLACING", "FROM", "FOR"]:
            raise CannotDraft("OVERLAY without a length")
        ends = [*places, call.closing]
        text = rewriter.node(call.arguments[0])
        new, start, length = (rewriter.text(ends[at] + 1, ends[at + 1]).strip() for at in range(3))
    if rewriter.target.engine in _MYSQL:
        return f"INSERT({text}, {start}, {length}, {new})"
    if rewriter.target.engine == "sqlserver":
        return f"STUFF({text}, {start}, {length}, {new})"
    if rewriter.target.engine == "oracle":
        return f"(SUBSTR({text}, 1, {start} - 1) || {new} || SUBSTR({text}, {start} + {length}))"
    return f"overlay({text} placing {new} from {start} for {length})"


# --- signs ---


_SIDES: Final = {
    "LEADING": "LEADING",
    "L": "LEADING",
    "TRAILING": "TRAILING",
    "T": "TRAILING",
    "BOTH": "BOTH",
    "B": "BOTH",
}
_SIDED_SINCE: Final = 2022
"""Version of SQL Server whose TRIM takes a side."""


@fixer("stripped_sign")
def fix_stripped_sign(place: Found, rewriter: Rewriter) -> str:
    """STRIP(text, side, character) of Db2."""
    text, side, *sign = call_of(place).arguments
    name = _SIDES.get(rewriter.subject.source(side).upper())
    if name is None or len(sign) > 1:
        raise CannotDraft("STRIP at a side that is not known")
    if rewriter.target.engine == "postgresql":
        function = {"LEADING": "ltrim", "TRAILING": "rtrim", "BOTH": "btrim"}[name]
        return f"{function}({rewriter.nodes([text, *sign])})"
    if rewriter.target.engine == "sqlserver" and name != "BOTH" and rewriter.target.version < _SIDED_SINCE:
        raise CannotDraft("a sign taken off at one side, before version 2022")
    taken = rewriter.node(sign[0]) if sign else "' '"
    words = taken if rewriter.target.engine == "sqlserver" and name == "BOTH" else f"{name} {taken}"
    return f"TRIM({words} FROM {rewriter.node(text)})"


@fixer("signs_translated")
def fix_signs_translated(place: Found, rewriter: Rewriter) -> str:
    """TRANSLATE(text, from, to): signs without a like go. Db2 has the new signs first, and fills them up with blanks.

    MySQL and MariaDB get a REPLACE for each sign, SQL Server one for each that goes.

    Raises CannotDraft where signs would be replaced twice.
    """
    text, *signs = call_of(place).arguments
    if rewriter.catalog.engine == "db2" and not signs:
        return f"UPPER({rewriter.node(text)})"
    taken, given, *fill = (text_value(each, rewriter) for each in signs)
    if rewriter.catalog.engine == "db2" and taken is not None and given is not None:
        if fill and (fill[0] is None or len(fill[0]) != 1):
            raise CannotDraft("TRANSLATE by a character that is no constant")
        taken, given = given, taken.ljust(len(given), (fill[0] if fill else None) or " ")[: len(given)]
    if taken is None or given is None or (rewriter.catalog.engine == "oracle" and not given):
        raise CannotDraft("TRANSLATE by characters that are no constants, or to none")
    pairs: dict[str, str] = {}
    for at, sign in enumerate(taken):
        pairs.setdefault(sign, given[at : at + 1])
    value = rewriter.node(text)
    if rewriter.target.engine == "oracle":
        return f"TRANSLATE({value}, {rewriter.names.text(taken)}, {rewriter.names.text(given)})"
    if rewriter.target.engine == "sqlserver" and len(taken) == len(given) == len(pairs):
        if call_of(place).parts == ("TRANSLATE",) and rewriter.catalog.engine != "db2":
            return rewriter.text(place.first, place.last)
        return f"TRANSLATE({value}, {rewriter.names.text(taken)}, {rewriter.names.text(given)})"
    if rewriter.target.engine == "sqlserver":
        for sign in (each for each, new in pairs.items() if not new):
            value = f"REPLACE({value}, {rewriter.names.text(sign)}, '')"
        kept = [(sign, new) for sign, new in pairs.items() if new]
        sides = ("".join(side) for side in zip(*kept, strict=True))
        return f"TRANSLATE({value}, {', '.join(map(rewriter.names.text, sides))})" if kept else value
    for sign, new in _ordered(pairs):
        value = f"REPLACE({value}, {rewriter.names.text(sign)}, {rewriter.names.text(new)})"
    return value


def _ordered(pairs: dict[str, str]) -> list[tuple[str, str]]:
    """Order replacements so that none of them replaces what another has put there."""
    left = {sign: new for sign, new in pairs.items() if sign != new}
    ordered = []
    while left:
        free = [sign for sign in left if left[sign] not in left]
        if not free:
            raise CannotDraft("TRANSLATE that exchanges characters for each other")
        ordered += [(sign, left.pop(sign)) for sign in free]
    return ordered


@fixer("trimmed_of_signs")
def fix_trimmed_of_signs(place: Found, rewriter: Rewriter) -> str:
    """BTRIM(text, signs) of PostgreSQL: none of the signs is left at either end."""
    text, *signs = call_of(place).arguments
    known = text_value(signs[0], rewriter) if signs else " "
    value = rewriter.node(text)
    if not known:
        raise CannotDraft("signs to take off that are no constant")
    written = rewriter.names.text(known)
    if rewriter.target.engine == "oracle":
        return f"RTRIM(LTRIM({value}, {written}), {written})"
    if len(known) > 1:
        if rewriter.target.version < _SIGNS_SINCE:
            raise CannotDraft("several signs to take off a text, before version 2022")
        return f"RTRIM(LTRIM({value}, {written}), {written})"
    return f"TRIM({written} FROM {value})"


# --- texts made longer ---


@fixer("filled_with_blanks")
def fix_filled_with_blanks(place: Found, rewriter: Rewriter) -> str:
    """LPAD and RPAD, which fill with blanks unless they are told otherwise; MySQL asks for what to fill with."""
    call = call_of(place)
    filling = "" if len(call.arguments) > 2 else ", ' '"
    return f"{call.parts[-1]}({rewriter.nodes(call.arguments)}{filling})"


@fixer("text_repeated")
def fix_text_repeated(place: Found, rewriter: Rewriter) -> str:
    """REPEAT and REPLICATE, for Oracle, to which an empty text is NULL."""
    text, count = call_of(place).arguments
    value, times = rewriter.node(text), rewriter.node(count)
    repeated = f"RPAD({value}, LENGTH({value}) * {times}, {value})"
    if times.isdigit():
        return repeated if int(times) else "NULL"
    return f"(CASE WHEN {times} > 0 THEN RPAD({value}, LENGTH({value}) * ({times}), {value}) END)"


@fixer("joined_with_separator")
def fix_joined_with_separator(place: Found, rewriter: Rewriter) -> str:
    """CONCAT_WS(separator, a, b ...), for Oracle: each value has the separator in front, and the first one goes."""
    sign, *values = call_of(place).arguments
    separator = text_value(sign, rewriter)
    if separator is None:
        raise CannotDraft("values joined by a separator that is no constant")
    check_texts(values, rewriter)
    if not separator:
        return f"({' || '.join(text_operand(each, rewriter) for each in values)})"
    written = rewriter.names.text(separator)
    form = "CASE WHEN {0} IS NOT NULL THEN {1} || {0} END" if rewriter.is_code else "NVL2({0}, {1} || {0}, NULL)"
    parts = [form.format(text_operand(each, rewriter), written) for each in values]
    return f"SUBSTR({' || '.join(parts)}, {len(separator) + 1})"
