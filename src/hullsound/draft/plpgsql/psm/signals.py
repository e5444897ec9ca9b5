"""Errors that code raises and asks about: SIGNAL, RESIGNAL and GET DIAGNOSTICS."""

import re
from typing import TYPE_CHECKING, Final

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft
from hullsound.draft.edits.variables import ROW_COUNT
from hullsound.draft.plpgsql.results import TAKEN_STATUS
from hullsound.draft.plpgsql.shared import raised
from hullsound.sql.tree import OtherStatement, Raise

from .conditions import NOT_FOUND, condition_of

if TYPE_CHECKING:
    from .statements import PsmCode

_ITEMS: Final = {"MESSAGE_TEXT": "MESSAGE_TEXT", "RETURNED_SQLSTATE": "RETURNED_SQLSTATE", "TABLE_NAME": "TABLE_NAME",
                 "COLUMN_NAME": "COLUMN_NAME", "CONSTRAINT_NAME": "CONSTRAINT_NAME"}  # fmt: skip

_NUMBERS: Final = {
    "23505": 1062, "23503": 1452, "23502": 1048, "23514": 3819, "22012": 1365, "22001": 1406, "22003": 1264, "42P01": 1146,
    "40P01": 1213, "55P03": 1205, "P0002": 1329, "45000": 1644,
}  # fmt: skip
"""SQLSTATEs of PostgreSQL and the error numbers that MySQL gives for the like (8.4 Error Reference)."""
_NUMBER: Final = "CASE SQLSTATE " + " ".join(f"WHEN '{s}' THEN {n}" for s, n in _NUMBERS.items()) + " ELSE 1105 END"


def get_diagnostics(code: "PsmCode", node: OtherStatement) -> str:
    """Write GET DIAGNOSTICS of the row count, or of the error that a handler has caught. Raises CannotDraft for others."""
    words = code.words
    pairs = [(i - 1, words[i + 1]) for i in range(node.first, node.last) if words[i] == "="]
    pairs = [(at, item) for at, item in pairs if item not in ("CONDITION",)]
    if any(item == "ROW_COUNT" for _, item in pairs):
        return "; ".join(f"{_word(code, at)} := {ROW_COUNT}" for at, _ in pairs)
    if [item for _, item in pairs] == ["DB2_RETURN_STATUS"]:
        return f"{_word(code, pairs[0][0])} := {TAKEN_STATUS}"
    if code.in_handler(node) is None or any(item not in (*_ITEMS, "MYSQL_ERRNO") for _, item in pairs):
        raise CannotDraft("GET DIAGNOSTICS of something without a like")
    known = [f"{_word(code, at)} = {_ITEMS[item]}" for at, item in pairs if item in _ITEMS]
    pieces = [f"GET STACKED DIAGNOSTICS {', '.join(known)}"] if known else []
    pieces += [f"{_word(code, at)} := {_NUMBER}" for at, item in pairs if item == "MYSQL_ERRNO"]
    return "; ".join(pieces)


def _word(code: "PsmCode", at: int) -> str:
    word = code.words[at]
    return code.session.name(word) if word.startswith("@") else code.rewriter.names.write(word)


def raise_statement(code: "PsmCode", node: Raise) -> str:
    """Write SIGNAL or RESIGNAL as RAISE."""
    words = code.words
    inside = range(node.first, node.last)
    state = next((words[i + 1] for i in inside if words[i] in ("SQLSTATE", "VALUE") and words[i + 1][:1] in "'\""), "")
    state = state.strip("'\"")
    if node.name and not state:
        known = code.named.get(node.name[0])
        if known is None:
            raise CannotDraft(f"the condition {node.name[0].lower()}")
        state = known
    message = _message(code, node)
    if words[node.first] == "RESIGNAL" and not state and not message:
        return "RAISE"
    condition = condition_of(state, code.named) if state.isdigit() and len(state) == 4 else ""
    if state.startswith("01"):
        return f"RAISE WARNING '%', {message or literal(state)}"
    if state == "02000":
        return f"RAISE EXCEPTION '%', {message or literal('no data')} USING ERRCODE = '{NOT_FOUND}'"
    if condition:
        return f"RAISE EXCEPTION '%', {message or literal(condition)} USING ERRCODE = {literal(condition)}"
    if not re.fullmatch(r"[0-9A-Z]{5}", state):
        state = "45000"
    return raised(message or literal(f"unhandled user-defined exception {state}"), state)


def _message(code: "PsmCode", node: Raise) -> str:
    """Return the expression of the message: behind SET MESSAGE_TEXT =, or in brackets as Db2 has it."""
    words = code.words
    for at in range(node.first, node.last - 1):
        if words[at] == "MESSAGE_TEXT":
            first, depth, end = at + 2, 0, at + 2
            while end < node.last and not (words[end] == "," and depth == 0):
                depth += (words[end] == "(") - (words[end] == ")")
                end += 1
            return _text_between(code, first, end)
    if words[node.last - 1] == ")":
        opening = next(i for i in range(node.first, node.last) if words[i] == "(")
        return code.rewriter.text(opening + 1, node.last - 1)
    return ""


def _text_between(code: "PsmCode", first: int, last: int) -> str:
    if last == first + 1 and code.words[first].startswith("@"):
        return code.session.name(code.words[first])
    return code.rewriter.text(first, last)
