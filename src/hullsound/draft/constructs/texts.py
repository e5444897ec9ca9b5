"""Fixers for text: joining, finding, taking apart, and numbers written as text."""

from hullsound.analyze.signatures import is_null
from hullsound.analyze.types import NUMBERS, Family
from hullsound.draft.conversions.case import has_exact_collation, ignores_case
from hullsound.draft.conversions.sums import sum_of_texts
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import pattern_as_regex, text_value
from hullsound.draft.statements.change_parts import local_table
from hullsound.sight.detector import Found
from hullsound.sql.literals import has_letters
from hullsound.sql.tree import Call, Comparison, Node, Operation, OrderItem

from . import call_of, fixer
from .restricted import AVERAGED, fix_decimal_average


def as_text(node: Node, rewriter: Rewriter) -> str:
    """Render a value as text, with a cast where it may be something else."""
    text = rewriter.node(node)
    return text if rewriter.types.family(node) is Family.TEXT else f"CAST({text} AS text)"


@fixer("text_plus_text")
def fix_text_plus_text(place: Found, rewriter: Rewriter) -> str:
    node = place.node
    assert isinstance(node, Operation)
    return sum_of_texts(node, rewriter)


@fixer("concat_null_is_null")
def fix_concat_null_is_null(place: Found, rewriter: Rewriter) -> str:
    """Join with ||, which gives NULL where one part is, as the source's CONCAT does."""
    return f"({' || '.join(as_text(each, rewriter) for each in call_of(place).arguments)})"


@fixer("group_concat")
def fix_group_concat(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    words = rewriter.words
    # A row in which one part is NULL is passed over, as string_agg does with NULL.
    value = " || ".join(as_text(each, rewriter) for each in call.arguments)
    at = call.arguments[-1].last
    order, separator = "", "','"
    if words[at] == "ORDER":
        stop = next((i for i in range(at, call.closing) if words[i] in ("SEPARATOR", "LIMIT")), call.closing)
        order = _order(call, at, stop, value, rewriter)
        at = stop
    if words[at] == "SEPARATOR":
        separator = rewriter.text(at + 1, at + 2)
        at += 2
    if at != call.closing:
        raise CannotDraft("GROUP_CONCAT with LIMIT")
    if (
        call.quantifier == "DISTINCT"
        and len(call.arguments) == 1
        and rewriter.types.family(call.arguments[0]) is not Family.TEXT
    ):
        # Numbers and moments keep their own order in an array.
        return f"array_to_string(array_agg(DISTINCT {rewriter.node(call.arguments[0])}{order}), {separator})"
    quantifier = "DISTINCT " if call.quantifier == "DISTINCT" else ""
    return f"string_agg({quantifier}{value}, {separator}{order})"


def _order(call: Call, first: int, last: int, value: str, rewriter: Rewriter) -> str:
    if call.quantifier != "DISTINCT":
        return f" {rewriter.text(first, last)}"
    items = [item for item in rewriter.subject.all(OrderItem) if first <= item.first < last]
    if len(items) != 1 or rewriter.subject.source(items[0].value) != rewriter.subject.source(call.arguments[0]):
        raise CannotDraft("DISTINCT values in an order of other values")
    is_text = rewriter.types.family(call.arguments[0]) is Family.TEXT
    key = value if is_text else rewriter.node(call.arguments[0])
    return f" ORDER BY {key}{' DESC' if items[0].descending else ''}"


@fixer("position_needle_first")
def fix_position_needle_first(place: Found, rewriter: Rewriter) -> str:
    needle, text, *start = (rewriter.node(each) for each in call_of(place).arguments)
    if not start:
        return f"strpos({text}, {needle})"
    rest = f"strpos(substr({text}, {start[0]}), {needle})"
    return f"(CASE {rest} WHEN 0 THEN 0 ELSE {rest} + {start[0]} - 1 END)"


@fixer("place_in_list")
def fix_place_in_list(place: Found, rewriter: Rewriter) -> str:
    value, *rest = call_of(place).arguments
    return f"COALESCE(array_position(ARRAY[{rewriter.nodes(rest)}], {rewriter.node(value)}), 0)"


@fixer("substring_index")
def fix_substring_index(place: Found, rewriter: Rewriter) -> str:
    text, separator, count = call_of(place).arguments
    number = rewriter.subject.source(count)
    if number == "1":
        return f"split_part({rewriter.node(text)}, {rewriter.node(separator)}, 1)"
    if number.replace(" ", "") == "-1":
        return f"reverse(split_part(reverse({rewriter.node(text)}), reverse({rewriter.node(separator)}), 1))"
    parts = f"string_to_array({rewriter.node(text)}, {rewriter.node(separator)})"
    if number.isdigit():
        return f"array_to_string(({parts})[1:{number}], {rewriter.node(separator)})"
    raise CannotDraft("a number of parts that is not a constant")


@fixer("choose_by_number")
def fix_choose_by_number(place: Found, rewriter: Rewriter) -> str:
    number, *values = call_of(place).arguments
    if is_null(number):
        return "NULL"
    branches = " ".join(f"WHEN {at} THEN {rewriter.node(value)}" for at, value in enumerate(values, start=1))
    return f"CASE {rewriter.node(number)} {branches} END"


@fixer("position_of_pattern")
def fix_position_of_pattern(place: Found, rewriter: Rewriter) -> str:
    """Find a constant pattern as a regular expression; % at its ends says that it may stand anywhere."""
    if rewriter.target.version < 15:
        raise CannotDraft("the place of a pattern, which regexp_instr finds since version 15")
    pattern, text = call_of(place).arguments
    constant = text_value(pattern, rewriter)
    if constant is None:
        raise CannotDraft("a pattern that is not a constant")
    start, end = constant.startswith("%"), constant.endswith("%") and len(constant) > 1
    inner = pattern_as_regex(constant[start : len(constant) - end])
    regex = f"{'' if start else '^'}{inner}{'' if end else '$'}"
    flag = ", 1, 1, 0, 'i'" if ignores_case(rewriter) and has_letters(constant) else ""
    return f"regexp_instr({rewriter.node(text)}, {literal(regex)}{flag})"


@fixer("schema_name")
def fix_schema_name(place: Found, rewriter: Rewriter) -> str:
    if call_of(place).arguments:
        raise CannotDraft("the name of a schema by its number")
    return "CAST(current_schema AS text)"


@fixer("object_lookup")
def fix_object_lookup(place: Found, rewriter: Rewriter) -> str:
    """Look up a table or view by name; a temporary table is looked for among those of the session."""
    call = call_of(place)
    name = text_value(call.arguments[0], rewriter) if call.arguments else None
    kind = text_value(call.arguments[1], rewriter) if len(call.arguments) > 1 else "U"
    if name is None or (kind or "").strip().upper() not in ("U", "V"):
        raise CannotDraft("the number of an object that is no table or view, or is named at run time")
    parts = [part.strip('[]"').upper() for part in name.split(".")]
    if parts[-1].startswith("#"):
        return f"to_regclass({literal(rewriter.names.qualified('PG_TEMP', local_table(parts[-1])))})"
    return f"to_regclass({literal(rewriter.names.qualified(*parts[-2:]))})"


@fixer("split_text")
def fix_split_text(place: Found, rewriter: Rewriter) -> str:
    return f"string_to_table({rewriter.nodes(call_of(place).arguments[:2])})"


@fixer("number_with_commas")
def fix_number_with_commas(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    digits = rewriter.subject.source(call.arguments[1])
    language = text_value(call.arguments[2], rewriter) if len(call.arguments) > 2 else "en_US"
    if not digits.isdigit() or not (language or "").startswith("en"):
        raise CannotDraft("digits that are not a constant")
    fraction = "." + "0" * int(digits) if int(digits) else ""
    number = f"CAST({rewriter.node(call.arguments[0])} AS numeric)"
    return f"to_char(round({number}, {digits}), 'FM999,999,999,999,999,999,999,990{fraction}')"


@fixer("number_as_padded_text")
def fix_number_as_padded_text(place: Found, rewriter: Rewriter) -> str:
    values = [rewriter.node(each) for each in call_of(place).arguments]
    digits = values[2] if len(values) > 2 else "0"
    width = values[1] if len(values) > 1 else "10"
    return f"lpad(CAST(round(CAST({values[0]} AS numeric), {digits}) AS text), {width})"


@fixer("hex_text")
def fix_hex_text(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    value, kind = rewriter.node(call.arguments[0]), rewriter.types.family(call.arguments[0])
    if call.parts[-1] == "UNHEX":
        return f"decode({value}, 'hex')"
    if kind not in (Family.TEXT, Family.BYTES) and rewriter.catalog.engine == "db2":
        raise CannotDraft("the bytes that hold a number")
    if kind in NUMBERS:
        return f"upper(to_hex(CAST({value} AS bigint)))"
    bytes_ = value if kind is Family.BYTES else f"convert_to({value}, 'UTF8')"
    text = f"upper(encode({bytes_}, 'hex'))"
    # SQLite Documentation, "Built-In Scalar SQL Functions": NULL is read as a BLOB, an empty one.
    return f"COALESCE({text}, '')" if rewriter.catalog.engine == "sqlite" else text


@fixer("hash_text")
def fix_hash_text(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    bits = rewriter.subject.source(call.arguments[1]) if len(call.arguments) > 1 else ""
    if call.parts[-1] != "SHA2" or bits not in ("224", "256", "384", "512"):
        raise CannotDraft("SHA-1, which needs pgcrypto")
    return f"encode(sha{bits}(convert_to({rewriter.node(call.arguments[0])}, 'UTF8')), 'hex')"


@fixer("hash_of_kind")
def fix_hash_of_kind(place: Found, rewriter: Rewriter) -> str:
    name, value = call_of(place).arguments
    kind = (text_value(name, rewriter) or "").upper()
    sizes = {"SHA2_256": "sha256", "SHA2_512": "sha512"}
    data = rewriter.node(value)
    if rewriter.types.family(value) is not Family.BYTES:
        data = f"convert_to({data}, 'UTF8')"
    if kind == "MD5":
        return f"decode(md5({data}), 'hex')"
    if kind not in sizes:
        raise CannotDraft("a hash that needs pgcrypto")
    return f"{sizes[kind]}({data})"


@fixer("regex_operator")
def fix_regex_operator(place: Found, rewriter: Rewriter) -> str:
    """Match by ~*, as the source's usual collations do not tell case apart, or by ~ where that of the text does."""
    node = place.node
    assert isinstance(node, Comparison)
    operator = f"{'!' if node.negated else ''}~{'' if has_exact_collation(node.operands[0], rewriter) else '*'}"
    return f"{rewriter.node(node.operands[0])} {operator} {rewriter.node(node.operands[1])}"


@fixer("like_ignores_case")
def fix_like_ignores_case(place: Found, rewriter: Rewriter) -> str:
    node = place.node
    assert isinstance(node, Comparison)
    tail = rewriter.text(node.operands[1].last, node.last)
    word = "NOT ILIKE" if node.negated else "ILIKE"
    return f"{rewriter.node(node.operands[0])} {word} {rewriter.node(node.operands[1])}{' ' + tail if tail else ''}"


# --- casts and conversions ---


# --- numbers and the rest ---


@fixer("log_natural")
def fix_log_natural(place: Found, rewriter: Rewriter) -> str:
    values = [rewriter.node(each) for each in call_of(place).arguments]
    if len(values) == 1:
        return f"ln({values[0]})"
    base, number = values if rewriter.catalog.engine in ("mysql", "mariadb") else reversed(values)
    return f"log(CAST({base} AS numeric), CAST({number} AS numeric))"


@fixer("random")
def fix_random(place: Found, rewriter: Rewriter) -> str:
    if call_of(place).arguments:
        raise CannotDraft("random numbers from a seed")
    return "random()"


@fixer("count_wide")
def fix_count_wide(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    return f"COUNT({rewriter.text(call.opening + 1, call.closing)}){_tail(call, rewriter)}"


@fixer("aggregate_alias")
def fix_aggregate_alias(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    name = {"AVE": "AVG", "AVERAGE": "AVG", "MAXIMUM": "MAX", "MINIMUM": "MIN"}[call.parts[-1]]
    if name == "AVG" and rewriter.target.engine in AVERAGED:
        return fix_decimal_average(place, rewriter)
    return f"{name}({rewriter.text(call.opening + 1, call.closing)}){_tail(call, rewriter)}"


@fixer("approximate_count")
def fix_approximate_count(place: Found, rewriter: Rewriter) -> str:
    call = call_of(place)
    return f"COUNT(DISTINCT {rewriter.nodes(call.arguments)}){_tail(call, rewriter)}"


@fixer("grouping_level")
def fix_grouping_level(place: Found, rewriter: Rewriter) -> str:
    return f"GROUPING({rewriter.nodes(call_of(place).arguments)})"


@fixer("any_value")
def fix_any_value(place: Found, rewriter: Rewriter) -> str:
    name = "any_value" if rewriter.target.version >= 16 else "min"
    return f"{name}({rewriter.nodes(call_of(place).arguments)})"


def _tail(call: Call, rewriter: Rewriter) -> str:
    tail = rewriter.text(call.closing + 1, call.last)
    return f" {tail}" if tail else ""


@fixer("database_name")
def fix_database_name(place: Found, rewriter: Rewriter) -> str:
    if isinstance(place.node, Call) and place.node.arguments:
        raise CannotDraft("the name of another database")
    return "current_schema()" if rewriter.catalog.databases_are_schemas else "current_database()"


@fixer("user_name")
def fix_user_name(place: Found, rewriter: Rewriter) -> str:
    if isinstance(place.node, Call) and place.node.arguments:
        raise CannotDraft("the name of another user")
    return "session_user" if rewriter.words[place.first] == "SESSION_USER" else "current_user"


@fixer("login_name")
def fix_login_name(place: Found, rewriter: Rewriter) -> str:
    if isinstance(place.node, Call) and place.node.arguments:
        raise CannotDraft("the name of another login")
    return "session_user"


@fixer("named_lock")
def fix_named_lock(place: Found, rewriter: Rewriter) -> str:
    """Take an advisory lock by the hash of its name; it is tried once instead of waited for."""
    call = call_of(place)
    functions = {"GET_LOCK": "pg_try_advisory_lock", "RELEASE_LOCK": "pg_advisory_unlock"}
    if call.parts[-1] not in functions:
        raise CannotDraft("a test of a lock")
    return f"CAST({functions[call.parts[-1]]}(hashtext({rewriter.node(call.arguments[0])})) AS integer)"
