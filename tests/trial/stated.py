"""Reads what a script of routines states about them in comments: made-up rows, and what each call gives, leaves or refuses.

-- row TABLE: {column: value}           a row that is there before each case
-- gives NAME(arguments): value         what a function returns
-- gives NAME(arguments): [values] [[row, ...], ...]      what OUT parameters hold, and the result sets
-- leaves NAME(arguments); QUERY: [row, ...]              what a query finds behind the call
-- fails NAME(arguments): text          a part of the message of its error
-- asks QUERY: [row, ...]               what a query finds
"""

import ast
import re
from dataclasses import dataclass
from typing import Any, Final

from hullsound.trial.behaviour import plain

from .office import Office, Rows

_CALL: Final = re.compile(r"(?P<name>\w+)\((?P<arguments>.*?)\)(?:; (?P<query>.*))?")
_STATED: Final = re.compile(r"-- (row|gives|leaves|fails|asks) (.+?): (.+)")


@dataclass(frozen=True)
class Stated:
    """One case of a script; `values` and `results` are what a call gives, `rows` what a query finds."""

    kind: str
    name: str
    arguments: tuple[Any, ...] = ()
    query: str = ""
    values: Any = None
    results: tuple[Any, ...] = ()
    rows: tuple[Any, ...] = ()
    message: str = ""

    def __str__(self) -> str:
        return f"{self.name}{self.arguments}" if self.name else self.query


def read_stated(text: str) -> tuple[Rows, list[Stated]]:
    """Return the rows and the cases that the comments of a script state. Raises ValueError for a comment in another form."""
    rows: Rows = {}
    cases = []
    for line in text.splitlines():
        stated = _STATED.fullmatch(line.strip())
        if stated is None:
            continue
        kind, head, rest = stated.groups()
        if kind == "row":
            rows.setdefault(head, []).append(ast.literal_eval(rest))
        else:
            cases.append(_case(kind, head, rest))
    return rows, cases


def _case(kind: str, head: str, rest: str) -> Stated:
    if kind == "asks":
        return Stated(kind, "", query=head, rows=tuple(ast.literal_eval(rest)))
    call = _CALL.fullmatch(head)
    if call is None:
        raise ValueError(f"no call: {head}")
    arguments = ast.literal_eval(f"({call['arguments']},)") if call["arguments"].strip() else ()
    if kind == "fails":
        return Stated(kind, call["name"], arguments, message=rest)
    if kind == "leaves":
        return Stated(kind, call["name"], arguments, call["query"], rows=tuple(ast.literal_eval(rest)))
    values, _, results = rest.partition("] [")
    if not results:
        return Stated(kind, call["name"], arguments, values=ast.literal_eval(rest))
    return Stated(
        kind,
        call["name"],
        arguments,
        values=ast.literal_eval(f"{values}]"),
        results=tuple(ast.literal_eval(f"[{results}")),
    )


def differs(case: Stated, office: Office) -> str:
    """Run a case on the drafts; return in words what is other than stated, '' if nothing is."""
    if case.kind == "asks":
        with office.side.connection.transaction(force_rollback=True):
            office.side.fill(office.rows)
            return _apart(office.side.ask(case.query), case.rows)
    seen = office.call(case.name, case.arguments, case.query)
    if case.kind == "fails":
        return "" if seen.failed and case.message in seen.error else f"gave {seen.error or seen.values}"
    if seen.failed:
        return seen.error
    if case.kind == "leaves":
        return _apart(seen.tables["found"], case.rows)
    values = case.values if isinstance(case.values, list) else [case.values]
    given = [value for value in seen.values if value is not None or not seen.results][: len(values)]
    return _apart(given, values) or _apart(seen.results, case.results)


def _apart(given: Any, wanted: Any) -> str:
    one, other = [_plain(each) for each in given], [_plain(each) for each in wanted]
    return "" if one == other else f"{one} instead of {other}"


def _plain(value: Any) -> Any:
    """Return a value so that numbers written as text and numbers are alike, and blanks behind fixed text do not count."""
    if isinstance(value, list | tuple):
        return tuple(_plain(each) for each in value)
    made = plain(value)
    text = str(made).rstrip().removesuffix(" 00:00:00")
    return str(plain(float(text))) if re.fullmatch(r"-?\d+(\.\d+)?", text) else text
