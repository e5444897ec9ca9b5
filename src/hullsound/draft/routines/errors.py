"""Errors that routines raise and handle: their texts, and the conditions that languages share."""

import itertools
import re
from collections.abc import Mapping
from typing import Final

from hullsound.draft.edits.commas import outer_commas
from hullsound.draft.edits.names import literal
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.statements.named_conditions import named_conditions
from hullsound.sql.lexer import STRING
from hullsound.sql.literals import string_content
from hullsound.sql.tree import (
    Block,
    Call,
    CallStatement,
    CaseStatement,
    Comparison,
    ConditionHandler,
    Delete,
    ExceptionDeclaration,
    Execute,
    ExecuteImmediate,
    Handler,
    Insert,
    Literal,
    Merge,
    Name,
    Node,
    Operation,
    Pragma,
    Raise,
    Return,
    TryCatch,
    Update,
)

from .speech import Caught, OwnError, Speech

_OF_PLSQL: Final = {
    "NO_DATA_FOUND": Caught.NO_ROW, "TOO_MANY_ROWS": Caught.SEVERAL_ROWS, "DUP_VAL_ON_INDEX": Caught.DUPLICATE,
    "OTHERS": Caught.ANY, "ZERO_DIVIDE": Caught.DIVISION,
}  # fmt: skip
"""Exceptions of PL/SQL that other languages know too (PL/SQL Language Reference, "Predefined Exceptions")."""
_NUMBERS_OF_ORACLE: Final = {
    "-1": Caught.DUPLICATE, "-00001": Caught.DUPLICATE, "100": Caught.NO_ROW, "-1403": Caught.NO_ROW,
    "-1422": Caught.SEVERAL_ROWS, "-1476": Caught.DIVISION,
}  # fmt: skip
"""Numbers of errors that other languages know too (Oracle Database 19c, "Database Error Messages")."""
_OF_PLPGSQL: Final = {
    "UNIQUE_VIOLATION": Caught.DUPLICATE, "OTHERS": Caught.ANY, "NO_DATA_FOUND": Caught.NO_ROW,
    "TOO_MANY_ROWS": Caught.SEVERAL_ROWS, "DIVISION_BY_ZERO": Caught.DIVISION,
    "INTEGRITY_CONSTRAINT_VIOLATION": Caught.CONSTRAINT,
}  # fmt: skip
"""Conditions of PL/pgSQL that other languages know too (PostgreSQL 18, "PostgreSQL Error Codes")."""
_OF_MYSQL: Final = {
    "NOT FOUND": Caught.NO_ROW, "02000": Caught.NO_ROW, "1329": Caught.NO_ROW, "1172": Caught.SEVERAL_ROWS,
    "1062": Caught.DUPLICATE, "SQLEXCEPTION": Caught.ANY, "23000": Caught.CONSTRAINT,
}  # fmt: skip
"""Conditions of MySQL's handlers (Error Message Reference: 1062 duplicate key, 1172 several rows, 1329 no rows)."""
_OF_DB2: Final = {"23505": Caught.DUPLICATE, "22012": Caught.DIVISION}
"""Conditions of Db2's handlers beside those of the standard (Db2 11.5, "SQLSTATE messages": 23505 duplicate key)."""
CHANGING: Final = (Insert, Update, Delete, Merge, Execute, ExecuteImmediate, CallStatement)
"""Statements whose errors handlers catch; queries into variables aside."""
_BEFORE_VALUES: Final = 3
"""Arguments of RAISERROR before the values: text, severity, state."""
_PLACE: Final = re.compile(r"%[sdi]")
_ODD_PLACE: Final = re.compile(r"%[-+ #0-9.*a-zA-Z]")
_STATE: Final = re.compile(r"(?!0[012])[0-9A-Z]{5}")
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
    if head == "SIGNAL" and words[-1] == ")" and "(" in words and words[1] == "SQLSTATE":
        return rewriter.text_elsewhere(node.first + words.index("(") + 1, node.last - 1).strip()
    if head == "RAISE" and "EXCEPTION" in words[:3]:
        return _of_postgresql(node, rewriter)
    raise CannotDraft("an error that is raised again, or by its name")


def raised_state(node: Raise, rewriter: Rewriter) -> str:
    """Return the SQLSTATE that SIGNAL gives an error, itself or by a name; '' for none, or for one that tells of no error."""
    words = rewriter.words[node.first : node.last]
    if words[0] != "SIGNAL":
        return ""
    quoted = next((word.strip("'") for word in words[1:4] if word.startswith("'")), "")
    state = named_conditions(rewriter).get(node.name[-1], "") if node.name else quoted
    return state if _STATE.fullmatch(state) else ""


def told_message(node: Raise, rewriter: Rewriter) -> str:
    """Return the expression of what RAISE NOTICE tells. Raises CannotDraft where it has no text of its own."""
    return _of_postgresql(node, rewriter)


def _between_commas(node: Raise, place: int, rewriter: Rewriter) -> str:
    cuts = [node.first, *outer_commas(node.first, node.last, rewriter.words), node.last]
    if len(cuts) < place + 2:
        raise CannotDraft("an error without a text")
    return rewriter.text_elsewhere(cuts[place] + 1, cuts[place + 1]).strip()


def _formatted(node: Raise, rewriter: Rewriter) -> str:
    """Take the text of RAISERROR; one with places for values is left to a person."""
    opening = next(at for at in range(node.first, node.last) if rewriter.words[at] == "(")
    cuts = [opening, *outer_commas(opening + 1, node.last - 1, rewriter.words)]
    if len(cuts) < 2:
        raise CannotDraft("an error without a text")
    text = rewriter.text_elsewhere(cuts[0] + 1, cuts[1]).strip()
    if text.isdigit():
        raise CannotDraft("a text of the server's")
    if len(cuts) <= _BEFORE_VALUES or "%" not in text:
        return text
    if cuts[1] != cuts[0] + 2 or rewriter.tokens.kinds[cuts[0] + 1] != STRING:
        raise CannotDraft("a text with places for values that is no constant")
    ends = [*cuts[_BEFORE_VALUES + 1 :], node.last - 1]
    values = [rewriter.text_elsewhere(a + 1, b).strip() for a, b in zip(cuts[_BEFORE_VALUES:], ends, strict=True)]
    return _joined(_PLACE.split(string_content(text, "sqlserver")), values, rewriter)


def _of_postgresql(node: Raise, rewriter: Rewriter) -> str:
    """Put the values of RAISE EXCEPTION into its text by CONCAT."""
    at = next((i for i in range(node.first, node.last) if rewriter.tokens.kinds[i] == STRING), -1)
    if at < 0:
        raise CannotDraft("an error without a text")
    using = next((i for i in range(at, node.last) if rewriter.words[i] == "USING"), node.last)
    cuts = [*outer_commas(at, using, rewriter.words), using]
    values = [rewriter.text_elsewhere(a + 1, b).strip() for a, b in itertools.pairwise(cuts)]
    text = string_content(rewriter.tokens.source(at, at + 1), "postgresql")
    return _joined(_MARK.split(text), values, rewriter)


def _joined(pieces: list[str], values: list[str], rewriter: Rewriter) -> str:
    """Join the pieces of a text and the values between them. Raises CannotDraft where their numbers do not fit."""
    if len(pieces) != len(values) + 1:
        raise CannotDraft("an error whose text and values do not fit")
    if any(_ODD_PLACE.search(piece) for piece in pieces):
        raise CannotDraft("an error whose text writes values by a format")
    if not values:
        text = "".join(pieces)
        return rewriter.names.text(text.replace("%%", "%"))
    parts = [rewriter.names.text(pieces[0].replace("%%", "%"))]
    for value, piece in zip(values, pieces[1:], strict=True):
        parts += [value, rewriter.names.text(piece.replace("%%", "%"))]
    parts = [part for part in parts if part != literal("")]
    return " || ".join(parts) if rewriter.target.engine == "oracle" else f"CONCAT({', '.join(parts)})"


def caught_fact(call: Call, speech: Speech, rewriter: Rewriter) -> str:
    """Write what code of SQL Server asks of the error that it has caught; line and severity are not known elsewhere.

    Raises CannotDraft outside of CATCH, where a procedure asks for the error of its caller, and where a number is compared.
    """
    asked = call.parts[0].removeprefix("ERROR_")
    handlers = [each.handler for each in rewriter.subject.all(TryCatch) if each.handler]
    if not any(body[0].first <= call.first < body[-1].last for body in handlers):
        raise CannotDraft("a procedure that asks for the error of its caller")
    if asked == "NUMBER":
        around = [
            *rewriter.subject.all(Operation),
            *rewriter.subject.all(Comparison),
            *rewriter.subject.all(CaseStatement),
        ]
        if any(each.first <= call.first < each.last for each in around) or not speech.caught_number:
            raise CannotDraft("the number of an error that code compares")
        known = " ".join(f"WHEN {theirs} THEN {ours}" for theirs, ours in speech.error_numbers.items())
        return f"CASE {speech.caught_number} {known} ELSE 50000 END"
    fact = {"MESSAGE": speech.caught_text, "SEVERITY": "16", "STATE": "1", "LINE": "0",
            "PROCEDURE": literal(rewriter.owner.rpartition(".")[2])}.get(asked, "")  # fmt: skip
    if not fact:
        raise CannotDraft(f"the {asked.lower()} of an error")
    return fact


def own_errors(rewriter: Rewriter) -> dict[str, OwnError | Caught]:
    """Return the exceptions that a routine of PL/SQL declares, or what their numbers mean in every language.

    Raises CannotDraft for one with another number of Oracle's, or that is raised under such a number.
    """
    names = dict.fromkeys(each.name for each in rewriter.subject.all(ExceptionDeclaration))
    numbered: dict[str, Caught] = {}
    for pragma in rewriter.subject.all(Pragma):
        if pragma.name == "EXCEPTION_INIT":
            name, kind = _initialized(pragma, rewriter)
            if kind is None or any(each.name == (name,) for each in rewriter.subject.all(Raise)):
                raise CannotDraft("an exception with a number of Oracle's own")
            numbered[name] = kind
    return {name: numbered.get(name) or OwnError(name, number) for number, name in enumerate(names, start=1)}


def is_numbered_error(node: Node) -> bool:
    """Whether a declaration gives an exception a number of Oracle's."""
    return isinstance(node, Pragma) and node.name == "EXCEPTION_INIT"


def _initialized(pragma: Pragma, rewriter: Rewriter) -> tuple[str, Caught | None]:
    """Return the exception that a pragma names, and what its number means."""
    name, number = pragma.arguments[:2] if len(pragma.arguments) > 1 else (None, None)
    text = rewriter.subject.source(number).replace(" ", "") if number is not None else ""
    return (name.parts[-1] if isinstance(name, Name) else ""), _NUMBERS_OF_ORACLE.get(text)


def raised_kind(name: str, own: Mapping[str, OwnError | Caught]) -> Caught | OwnError:
    """Return the error that RAISE names. Raises CannotDraft for one of the source alone."""
    kind = own.get(name) or _OF_PLSQL.get(name)
    if kind is None or kind in (Caught.ANY, Caught.DUPLICATE):
        raise CannotDraft(f"the exception {name.lower()}")
    return kind


def caught_by(
    handler: Handler | ConditionHandler, source: str, own: Mapping[str, OwnError | Caught], named: Mapping[str, str]
) -> list[Caught | OwnError]:
    """Return what a handler catches. Raises CannotDraft for an error that is known by a name or number of the source alone."""
    kinds: list[Caught | OwnError | None]
    if isinstance(handler, ConditionHandler):
        known = _OF_MYSQL | _OF_DB2 if source in ("db2", "teradata") else _OF_MYSQL
        kinds = [known.get(named.get(each, each)) for each in handler.conditions]
        names = [each.lower() for each in handler.conditions]
    else:
        known = _OF_PLPGSQL if source == "postgresql" else _OF_PLSQL
        kinds = [own.get(name[-1]) or known.get(name[-1]) for name in handler.exceptions]
        names = [name[-1].lower() for name in handler.exceptions]
    if None in kinds:
        raise CannotDraft(f"the exception {names[kinds.index(None)]}")
    found = [kind for kind in kinds if kind is not None]
    # OTHERS of PL/SQL stands for a missing row too; SQLEXCEPTION of MySQL does not.
    return [*found, Caught.NO_ROW] if source == "oracle" and Caught.ANY in found else found


def is_exit_handler(node: Node) -> bool:
    """Whether a declaration is a handler that ends its block."""
    return isinstance(node, ConditionHandler) and node.action == "exit"


def is_going_on(node: Node) -> bool:
    """Whether a declaration is a handler behind which the statements go on."""
    return isinstance(node, ConditionHandler) and node.action == "continue"


def catches_no_row(handler: ConditionHandler, named: Mapping[str, str]) -> bool:
    """Whether a handler answers where a statement finds no row."""
    return any(is_no_row(each, named) for each in handler.conditions)


def is_no_row(condition: str, named: Mapping[str, str]) -> bool:
    """Whether a condition of a handler, itself or by its name, is that of a missing row."""
    return _OF_MYSQL.get(named.get(condition, condition)) is Caught.NO_ROW


def going_on(block: Block, rewriter: Rewriter) -> list[tuple[list[Caught | OwnError], list[Node]]]:
    """Return the errors that handlers of a block catch behind which its statements go on, and their statements."""
    found, named = [], named_conditions(rewriter)
    for each in block.declarations:
        if is_going_on(each) and isinstance(each, ConditionHandler):
            inner = each.body.body if isinstance(each.body, Block) else [each.body]
            caught = caught_by(each, rewriter.catalog.engine, {}, named)
            kinds: list[Caught | OwnError] = [kind for kind in caught if kind is not Caught.NO_ROW]
            found += [(kinds, inner)] if kinds else []
    return found


def handlers_of(
    block: Block, rewriter: Rewriter, own: Mapping[str, OwnError | Caught]
) -> list[tuple[list[Caught | OwnError], list[Node]]]:
    """Return what the handlers of a block catch, and their statements.

    Raises CannotDraft for a block of PL/pgSQL that an error would undo.
    """
    source, named = rewriter.catalog.engine, named_conditions(rewriter)
    if source == "postgresql" and block.handlers:
        _refuse_undone(block, rewriter)
    found = [(caught_by(each, source, own, named), each.body) for each in block.handlers]
    for each in block.declarations:
        if isinstance(each, ConditionHandler) and each.action == "exit":
            inner = each.body.body if isinstance(each.body, Block) else [each.body]
            found.append((caught_by(each, source, own, named), inner))
    return found


def _refuse_undone(block: Block, rewriter: Rewriter) -> None:
    """Refuse a block with changes that stand before an error: PL/pgSQL undoes them, and other languages keep them.

    Source: PostgreSQL 18, "PL/pgSQL", "Trapping Errors". A lone change at the end undoes itself everywhere.
    """
    body = [
        each for each in block.body if not (isinstance(each, Return) and isinstance(each.value, Name | Literal | None))
    ]
    last = body[-1] if body else None
    for kind in CHANGING:
        for each in rewriter.subject.all(kind):
            if each is not last and any(node.first <= each.first < node.last for node in block.body):
                raise CannotDraft("a block whose changes an error undoes")
