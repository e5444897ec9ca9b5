"""Errors of Transact-SQL: how they are raised, and what a CATCH block may ask of them."""

import re
from collections.abc import Callable
from functools import cache
from typing import Final

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.sql.lexer import STRING
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Call, Literal, Node, PlainStatement, Raise, TryCatch

_STATES: Final = {
    "23505": 2627, "23503": 547, "23514": 547, "23502": 515, "22012": 8134, "22003": 8115, "22001": 2628, "40P01": 1205,
    "55P03": 1222, "22P02": 245, "42P01": 208,
}  # fmt: skip
"""SQLSTATEs and the error numbers (SQL Server, "Database engine events and errors") that mean the same."""
_NUMBERED_PLACE: Final = re.compile(r"%(\d+)!")
_PLACE: Final = re.compile(r"%(?:[-+0 #]*\d*(?:I64)?[dioxXus])|%%|%")
_ADDED_MESSAGE: Final = re.compile(
    r"(?is)\bsp_addmessage\s+(?:@msgnum\s*=\s*)?(\d+)\s*,.*?(?:@msgtext\s*=\s*|,\s*)N?'((?:[^']|'')*)'"
)


def raise_statement(node: Raise, rewriter: Rewriter) -> str:
    """Write THROW or RAISERROR as RAISE. Raises CannotDraft for a message that is kept in the server."""
    word = rewriter.words[node.first]
    arguments = _arguments(node, rewriter)
    if word == "THROW":
        if not arguments:
            return "RAISE"
        number, message = arguments[0], arguments[1]
        state = (
            literal(_state(rewriter.subject.source(number)))
            if isinstance(number, Literal)
            else _made_state(number, rewriter)
        )
        return f"RAISE EXCEPTION '%', {rewriter.node(message)} USING ERRCODE = {state}"
    if rewriter.words[node.first + 1] != "(":
        return _old_form(node, rewriter)
    if len(arguments) < 3:
        raise CannotDraft("RAISERROR with a message that the server keeps")
    message, severity = arguments[0], rewriter.subject.source(arguments[1])
    text = text_value(message, rewriter)
    kept = rewriter.subject.source(message) if isinstance(message, Literal) and text is None else ""
    if kept:
        text = _kept_message(kept, rewriter)
        if text is None:
            raise CannotDraft("RAISERROR with a message that the server keeps, and no script tells")
    level = "NOTICE" if severity.isdigit() and int(severity) <= 10 else "EXCEPTION"
    state = "" if level == "NOTICE" else f" USING ERRCODE = '{_state(kept)}'"
    if text is None:
        return f"RAISE {level} '%', {rewriter.node(message)}{state}"
    values = [rewriter.node(each) for each in arguments[3:]]
    pattern, count = _pattern(text)
    if count != len(values):
        raise CannotDraft("a message whose places and values do not agree")
    return f"RAISE {level} {literal(pattern)}{''.join(f', {value}' for value in values)}{state}"


def _old_form(node: Raise, rewriter: Rewriter) -> str:
    """Write RAISERROR number 'text', which has no severity, and values only for the numbered places of its text."""
    place = node.first + (3 if rewriter.words[node.first + 2] == "," else 2)
    text = text_value_at(place, rewriter)
    if text is None or (node.last > place + 1 and rewriter.words[place + 1] != ","):
        raise CannotDraft("RAISERROR in its old form, with a text that is made as it runs")
    values = [value for value in _arguments(node, rewriter) if value.first > place]
    state = _state(rewriter.words[node.first + 1])
    return f"RAISE EXCEPTION {_filled(text, values, rewriter)} USING ERRCODE = '{state}'"


def write_print(node: PlainStatement, rewriter: Rewriter) -> str:
    """Write PRINT, whose text may have numbered places for values."""
    assert node.value is not None
    text = text_value_at(node.first + 1, rewriter)
    values = [value for value in _arguments(node, rewriter) if value.first > node.value.last]
    if text is None or not values or node.value.last == node.last:
        return f"RAISE NOTICE '%', {rewriter.node(node.value)}"
    return f"RAISE NOTICE {_filled(text, values, rewriter)}"


def _filled(text: str, values: list[Node], rewriter: Rewriter) -> str:
    """Write a text with the values of its places %1!, %2!, in the order in which it names them (ASE reference, "raiserror")."""
    named = [int(number) - 1 for number in _NUMBERED_PLACE.findall(text)]
    if any(not 0 <= place < len(values) for place in named):
        raise CannotDraft("a message whose places and values do not agree")
    if not named:
        return f"'%', {literal(text)}"
    pattern = "%".join(part.replace("%", "%%") for part in _NUMBERED_PLACE.split(text)[::2])
    return ", ".join([literal(pattern), *(rewriter.node(values[place]) for place in named)])


def text_value_at(place: int, rewriter: Rewriter) -> str | None:
    """Return the text that a token writes; None where it is no text."""
    tokens = rewriter.subject.read.tokens
    source = tokens.source(place, place + 1)
    return string_content(source, rewriter.catalog.engine) if tokens.kinds[place] == STRING else None


def _kept_message(number: str, rewriter: Rewriter) -> str | None:
    """Return the message that a script of the source gave the server for a number (sp_addmessage); None for none."""
    for sighting in rewriter.catalog.sightings:
        call = _ADDED_MESSAGE.search(sighting.excerpt) if "addmessage" in sighting.excerpt.lower() else None
        if call is not None and call[1] == number:
            return call[2].replace("''", "'")
    return None


def _arguments(node: Node, rewriter: Rewriter) -> list[Node]:
    """Return the outermost expressions of RAISERROR (a, b, c) or THROW a, b, c."""
    found: list[Node] = []
    for each in rewriter.subject.read.inside(Node, node.first + 1, node.last):
        opens = rewriter.words[each.first - 1] in ("(", ",", "THROW")
        if opens and (not found or each.first >= found[-1].last):
            found.append(each)
    return found


def _pattern(text: str) -> tuple[str, int]:
    """Turn the places of a message (%s, %d) into those of RAISE (%); return how many there are."""
    count = 0

    def place(match: re.Match[str]) -> str:
        nonlocal count
        if match[0] in ("%%", "%"):
            return "%%"
        count += 1
        return "%"

    return _PLACE.sub(place, text), count


def _state(number: str) -> str:
    """Return the SQLSTATE for a user's error number: H and the last four digits of 50000 to 59999."""
    return f"H{number[-4:]}" if number.isdigit() and len(number) == 5 and number.startswith("5") else "H0000"


def _made_state(number: Node, rewriter: Rewriter) -> str:
    return f"'H' || right(CAST({rewriter.node(number)} AS text), 4)"


@cache
def error_number() -> str:
    """Write the number that SQL Server gives the error being handled."""
    known = " ".join(f"WHEN '{state}' THEN {number}" for state, number in _STATES.items())
    own = "SQLSTATE LIKE 'H____' THEN 50000 + right(SQLSTATE, 4)::integer"
    return f"(CASE WHEN {own} ELSE CASE SQLSTATE {known} ELSE 50000 END END)"


def caught(call: Call, unit: str, rewriter: Rewriter) -> str:
    """Write what code asks of an error: a CATCH block of its own, code that is called from one of a setting it leaves."""
    inside = any(
        each.handler and each.handler[0].first <= call.first < each.last for each in rewriter.subject.all(TryCatch)
    )
    asked = call.parts[-1].removeprefix("ERROR_").lower()
    if not inside:
        setting = f"NULLIF(current_setting('{_SETTING}{asked}', true), '')"
        return f"CAST({setting} AS integer)" if asked in _NUMBERS else setting
    return literal(unit) if asked == "procedure" else _ASKED[asked]()


_SETTING: Final = "hull.error_"
_NUMBERS: Final = frozenset(("number", "severity", "state", "line"))
_ASKED: Final[dict[str, Callable[[], str]]] = {
    "message": lambda: "SQLERRM", "number": error_number, "severity": lambda: "16", "state": lambda: "1",
    "line": lambda: "0",
}  # fmt: skip
"""What ERROR_...() becomes inside of CATCH; PL/pgSQL knows neither the line nor a severity."""


def kept_for_called(unit: str) -> str:
    """Write the statements by which a CATCH block leaves its error to the procedures that it calls."""
    values = {"message": "SQLERRM", "number": f"CAST({error_number()} AS text)", "severity": "'16'", "state": "'1'",
              "line": "'0'", "procedure": literal(unit)}  # fmt: skip
    return "".join(f"PERFORM set_config('{_SETTING}{name}', {value}, true);\n" for name, value in values.items())


def asks_for_error(text: str) -> bool:
    """Whether the text of a procedure asks for an error with ERROR_...()."""
    return bool(_ASKING.search(text))


_ASKING: Final = re.compile(r"\bERROR_(?:MESSAGE|NUMBER|SEVERITY|STATE|LINE|PROCEDURE)\s*\(", re.IGNORECASE)
