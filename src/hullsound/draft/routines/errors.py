"""Errors that routines raise and handle: their texts, and the conditions that languages share."""

import itertools
import re
from typing import Final

from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.sql.lexer import STRING
from hullsound.sql.literals import string_content
from hullsound.sql.tree import Raise

HANDLED: Final = {
    "NO_DATA_FOUND": "NOT FOUND", "DUP_VAL_ON_INDEX": "1062", "OTHERS": "SQLEXCEPTION", "TOO_MANY_ROWS": "1172",
}  # fmt: skip
"""Exceptions of PL/SQL and the conditions of MySQL's handlers (Error Reference: 1062 duplicate key, 1172 several rows)."""
_MARK: Final = re.compile(r"%(?!%)")


def raised_message(node: Raise, rewriter: Rewriter, variables: dict[str, str]) -> str:
    """Return the expression of an error's text. Raises CannotDraft where it has none of its own."""
    words = rewriter.words[node.first : node.last]
    head = words[0] if words else ""
    if head == "THROW" and len(words) > 1:
        return _between_commas(node, 1, rewriter)
    if head == "RAISERROR" and "(" in words:
        return _formatted(node, rewriter)
    if head == "SIGNAL" and "MESSAGE_TEXT" in words:
        at = node.first + words.index("MESSAGE_TEXT") + 2
        end = next((i for i in range(at, node.last) if rewriter.words[i] == ","), node.last)
        return rewriter.text_elsewhere(at, end).strip()
    if head == "RAISE" and "EXCEPTION" in words[:3]:
        return _of_postgresql(node, rewriter)
    raise CannotDraft("an error that is raised again, or by its name")


def _commas(first: int, last: int, rewriter: Rewriter) -> list[int]:
    """Return the tokens of commas that stand in no brackets."""
    depth, found = 0, []
    for at in range(first, last):
        depth += (rewriter.words[at] == "(") - (rewriter.words[at] == ")")
        if rewriter.words[at] == "," and depth == 0:
            found.append(at)
    return found


def _between_commas(node: Raise, place: int, rewriter: Rewriter) -> str:
    cuts = [node.first, *_commas(node.first, node.last, rewriter), node.last]
    if len(cuts) < place + 2:
        raise CannotDraft("an error without a text")
    return rewriter.text_elsewhere(cuts[place] + 1, cuts[place + 1]).strip()


def _formatted(node: Raise, rewriter: Rewriter) -> str:
    """Take the text of RAISERROR; one with places for values is left to a person."""
    opening = next(at for at in range(node.first, node.last) if rewriter.words[at] == "(")
    cuts = [opening, *_commas(opening + 1, node.last - 1, rewriter)]
    if len(cuts) < 2:
        raise CannotDraft("an error without a text")
    text = rewriter.text_elsewhere(cuts[0] + 1, cuts[1]).strip()
    if text.isdigit() or (len(cuts) > 3 and "%" in text):
        raise CannotDraft("a text of the server's, or with places for values")
    return text


def _of_postgresql(node: Raise, rewriter: Rewriter) -> str:
    """Put the values of RAISE EXCEPTION into its text by CONCAT."""
    at = next((i for i in range(node.first, node.last) if rewriter.tokens.kinds[i] == STRING), -1)
    if at < 0:
        raise CannotDraft("an error without a text")
    using = next((i for i in range(at, node.last) if rewriter.words[i] == "USING"), node.last)
    cuts = [*_commas(at, using, rewriter), using]
    values = [rewriter.text_elsewhere(a + 1, b).strip() for a, b in itertools.pairwise(cuts)]
    text = string_content(rewriter.tokens.source(at, at + 1), "postgresql")
    pieces = _MARK.split(text)
    if len(pieces) != len(values) + 1:
        raise CannotDraft("an error whose text and values do not fit")
    if not values:
        return rewriter.names.text(text.replace("%%", "%"))
    parts = [rewriter.names.text(pieces[0].replace("%%", "%"))]
    for value, piece in zip(values, pieces[1:], strict=True):
        parts += [value, rewriter.names.text(piece.replace("%%", "%"))]
    parts = [part for part in parts if part != literal("")]
    return " || ".join(parts) if rewriter.target.engine == "oracle" else f"CONCAT({', '.join(parts)})"
