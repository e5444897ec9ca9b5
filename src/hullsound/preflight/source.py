"""Checks of a source: can all of its catalogue be read, and only read?"""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Final

from hullsound.errors import SourceError
from hullsound.survey.catalogues.model import Capture, Query, load_queries
from hullsound.survey.catalogues.rights import hidden_parts
from hullsound.survey.live.model import Address
from hullsound.survey.live.read import ask_rights
from hullsound.survey.live.session import Opened, QueryRefusedError, Session

from .model import Check, Checks, Result
from .reach import reach

SIDE: Final = "source"
_LOCAL: Final = frozenset(("", "localhost", "127.0.0.1", "::1"))


@dataclass
class Seen:
    """What the checks learned of the source that those of the target need."""

    capture: Capture = field(default_factory=lambda: Capture(""))


def check_source(address: Address, opened: Callable[[Address], Opened], seen: Seen) -> Checks:
    """Yield the checks of a source, in the order in which one needs the other; `seen` is filled on the way."""
    for check in reach(SIDE, address):
        yield check
        if check.result is Result.BAD:
            return
    try:
        with opened(address) as session:
            yield Check(
                SIDE,
                "login",
                Result.GOOD,
                f"as {address.user or 'the default user'} into {session.name or address.name or session.engine}",
            )
            yield Check(SIDE, "version", Result.GOOD, f"{session.engine} {session.version}".rstrip())
            seen.capture = Capture(session.engine, session.version, session.name)
            yield from _check_session(session, address)
            yield from _check_rights(session, address, seen.capture)
    except SourceError as error:
        yield Check(SIDE, "login", Result.BAD, error.what, error.hint)


def _check_session(session: Session, address: Address) -> Checks:
    asked = load_queries(session.engine, session.version, "preflight")
    if "encrypted" in asked:
        value = _answer(session, asked["encrypted"])
        if value:
            yield Check(SIDE, "encryption", Result.GOOD, str(value))
        elif address.host in _LOCAL:
            yield Check(SIDE, "encryption", Result.GOOD, "none, and none is needed on this machine")
        else:
            yield Check(
                SIDE,
                "encryption",
                Result.LOOK,
                "none: the password and all texts cross the network in the clear",
                "Ask for TLS.",
            )
    if "read_only" in asked:
        is_safe = _answer(session, asked["read_only"]) == "on"
        yield Check(
            SIDE,
            "read only",
            Result.GOOD if is_safe else Result.LOOK,
            "the session can change nothing" if is_safe else "the session could change something",
        )
    elif session.engine == "sqlserver":
        do = "Use a user with no rights to change."
        yield Check(
            SIDE, "read only", Result.LOOK, "the engine has no read-only session; nothing but SELECT is sent", do
        )


def _check_rights(session: Session, address: Address, capture: Capture) -> Checks:
    """Put every query of a survey, and say which part is refused and which statement gives the right to it."""
    queries = load_queries(session.engine, session.version)
    for query in queries.values():
        try:
            capture.found[query.name] = session.ask(query.text)
        except QueryRefusedError as error:
            capture.refused[query.name] = error.said
            yield Check(
                SIDE, f"right to read {_words(query.name)}", Result.BAD, error.said, _grant(query, session, address)
            )
    good = len(queries) - len(capture.refused)
    known = set(capture.refused)
    session.more(capture.found, capture.refused)
    for name in sorted(set(capture.refused) - known):
        right = next((query.right for query in queries.values() if query.right), "")
        do = _grant(Query(name, "", right), session, address)
        yield Check(SIDE, f"right to read {name}", Result.BAD, capture.refused[name], do)
    ask_rights(session, capture)
    hidden = list(hidden_parts(capture))
    for part in hidden:
        do = _grant(Query(part.what, "", part.right), session, address)
        yield Check(SIDE, f"right to see {part.what}", Result.BAD, "only what this user has a right to is shown", do)
    tail = f", {len(hidden)} shown in part" if hidden else ""
    is_whole = good == len(queries) and not hidden
    yield Check(
        SIDE,
        "rights",
        Result.GOOD if is_whole else Result.LOOK,
        f"{good} of {len(queries)} parts of the catalogue{tail}",
    )
    for query in load_queries(session.engine, session.version, "preflight").values():
        if query.right:
            yield from _check_hidden(session, query, address)


def _check_hidden(session: Session, query: Query, address: Address) -> Checks:
    """Check what an engine leaves out in silence where a right is missing."""
    do = _grant(query, session, address)
    try:
        count = int(session.ask(query.text)[0][0] or 0)
    except QueryRefusedError as error:
        yield Check(SIDE, _words(query.name), Result.BAD, error.said, do)
        return
    if query.name == "all_schemas":
        yield Check(SIDE, "schemas", Result.GOOD, f"{count} of your own")
    elif query.name == "unreadable_tables":
        result = Result.LOOK if count else Result.GOOD
        yield Check(
            SIDE,
            "values",
            result,
            f"{count} tables whose values may not be read, for --profile" if count else "all tables may be read",
            do if count else "",
        )
    else:
        result = Result.BAD if count else Result.GOOD
        yield Check(
            SIDE,
            "texts",
            result,
            f"{count} routines and views without their text" if count else "every text is shown",
            do if count else "",
        )


def _answer(session: Session, query: Query) -> object:
    try:
        rows = session.ask(query.text)
    except QueryRefusedError:
        return None
    return rows[0][0] if rows else None


def _words(name: str) -> str:
    return name.replace("_", " ")


def _grant(query: Query, session: Session, address: Address) -> str:
    user = address.user or "the user"
    return query.right.replace("{user}", user).replace("{database}", session.name)
