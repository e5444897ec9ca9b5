"""Checks of a target: is it the engine that was judged, empty, willing and large enough?"""

import re
from typing import Any, Final

from hullsound.errors import SourceError
from hullsound.knowledge.collations import EXACT, exact_collation
from hullsound.knowledge.engine_model import Target
from hullsound.survey.catalogues.model import Capture, Rows, load_queries
from hullsound.survey.live.model import Address
from hullsound.survey.live.open import open_session
from hullsound.survey.live.session import QueryRefusedError, Session

from .model import Check, Checks, Result
from .reach import reach

SIDE: Final = "target"
_WIDE: Final = frozenset(("UTF8", "utf8mb4"))
"""Encodings that hold every character."""
_EXTENSIONS: Final = ("citext", "hstore", "ltree", "pgcrypto", "postgis", "uuid-ossp", "vector")
"""Extensions of PostgreSQL that drafts or remedies may ask for."""
_MIB: Final = 2**20
_ABSENT: Final = re.compile(r"(?i)database .* does not exist|unknown database")


def check_target(address: Address, target: Target, source: Capture) -> Checks:
    """Yield the checks of a target; `source` is what the source told, for comparison."""
    for check in reach(SIDE, address):
        yield check
        if check.result is Result.BAD:
            return
    try:
        with open_session(address) as session:
            yield Check(
                SIDE,
                "login",
                Result.GOOD,
                f"as {address.user or 'the default user'} into {session.name or address.name}",
            )
            yield _version(session, target)
            yield from _Target(session, address, source).checks()
    except SourceError as error:
        is_absent = _ABSENT.search(error.what) is not None
        do = create_database_text(address, source) if is_absent else error.hint
        yield Check(SIDE, "database" if is_absent else "login", Result.BAD, error.what, do)


def create_database_text(address: Address, source: Capture) -> str:
    """Write the statement that makes the target's database, with an encoding for all of Unicode and a stated collation."""
    name = address.database
    if address.engine in ("mysql", "mariadb"):
        theirs = next((value for key in _COLLATIONS if (value := source.settings().get(key))), "").lower()
        keeps_case = theirs.endswith(("_cs", "_bin", "_as_cs"))
        exact = exact_collation(source.engine, address.engine)
        collation = exact or (EXACT if keeps_case else "utf8mb4_unicode_ci")
        quoted = "`" + name.replace("`", "``") + "`"
        return f"CREATE DATABASE {quoted} CHARACTER SET utf8mb4 COLLATE {collation}"
    quoted = '"' + name.replace('"', '""') + '"'
    if address.engine == "postgresql":
        return f"CREATE DATABASE {quoted} TEMPLATE template0 ENCODING 'UTF8' LOCALE 'C.UTF-8'"
    return f"CREATE DATABASE {quoted}"


def _version(session: Session, target: Target) -> Check:
    found = f"{session.engine} {session.version}".rstrip()
    if session.engine != target.engine:
        return Check(
            SIDE,
            "version",
            Result.BAD,
            f"{found}, where {target} was asked for",
            "Name the engine that is there with --to.",
        )
    major = session.version.split(".")[0]
    if major.isdigit() and int(major) != target.version and session.engine == "postgresql":
        result = Result.BAD if int(major) < target.version else Result.LOOK
        return Check(
            SIDE, "version", result, f"{found}, where {target} was asked for", f"Judge for {session.engine}:{major}."
        )
    return Check(SIDE, "version", Result.GOOD, found)


class _Target:
    def __init__(self, session: Session, address: Address, source: Capture) -> None:
        self.session = session
        self.address = address
        self.source = source
        self.queries = load_queries(session.engine, session.version, "target")

    def checks(self) -> Checks:
        steps = {
            "objects": self._empty, "encoding": self._encoding, "may_create": self._may_create,
            "extensions": self._extensions, "used_bytes": self._room,
        }  # fmt: skip
        for name, step in steps.items():
            if name not in self.queries:
                continue
            try:
                rows = self.session.ask(self.queries[name].text)
            except QueryRefusedError as error:
                yield Check(SIDE, name.replace("_", " "), Result.UNKNOWN, error.said)
                continue
            yield from step(rows)

    def _empty(self, rows: Rows) -> Checks:
        count = int(rows[0][0])
        found = "empty" if not count else f"{count} objects are there already"
        do = "Use an empty database, or look for names that are taken." if count else ""
        yield Check(SIDE, "empty", Result.LOOK if count else Result.GOOD, found, do)

    def _encoding(self, rows: Rows) -> Checks:
        encoding, collation = rows[0]
        is_wide = encoding in _WIDE
        do = "" if is_wide else "Create the database with an encoding for all of Unicode."
        yield Check(
            SIDE, "encoding", Result.GOOD if is_wide else Result.BAD, f"{encoding}{self._theirs(_ENCODINGS)}", do
        )
        theirs = self._theirs(_COLLATIONS)
        ignores = "_ci" in theirs.lower()
        do = (
            "The source ignores case in comparisons and this does not: see the findings on collations."
            if ignores
            else ""
        )
        yield Check(SIDE, "collation", Result.LOOK if ignores else Result.GOOD, f"{collation}{theirs}", do)

    def _theirs(self, names: tuple[str, ...]) -> str:
        settings = self.source.settings()
        value = next((settings[name] for name in names if settings.get(name)), "")
        return f" (source: {value})" if value else ""

    def _may_create(self, rows: Rows) -> Checks:
        may = bool(rows[0][0])
        right = self.queries["may_create"].right.replace("{user}", self.address.user or "the user")
        do = "" if may else right.replace("{database}", self.session.name)
        yield Check(SIDE, "right to create", Result.GOOD if may else Result.BAD, "yes" if may else "no", do)

    def _extensions(self, rows: Rows) -> Checks:
        there = {row[0] for row in rows}
        missing = [name for name in _EXTENSIONS if name not in there]
        found = ", ".join(name for name in _EXTENSIONS if name in there) or "none of those that drafts may ask for"
        do = f"Not there, if a finding asks for them: {', '.join(missing)}." if missing else ""
        yield Check(SIDE, "extensions", Result.GOOD if not missing else Result.LOOK, found, do)

    def _room(self, rows: Rows) -> Checks:
        needed = sum(size.bytes for size in self.source.sizes())
        used = f"{_mib(rows[0][0])} in use"
        tail = f"; the source holds {_mib(needed)} with its indexes" if needed else ""
        do = (
            f"Ask whoever runs it for about {_mib(needed * 2)}: tables, indexes, and as much again while loading."
            if needed
            else ""
        )
        yield Check(SIDE, "room", Result.UNKNOWN, f"{used}; how much is free cannot be seen from here{tail}", do)


_ENCODINGS: Final = ("character_set_database", "encoding", "NLS_CHARACTERSET")
_COLLATIONS: Final = ("collation_database", "collation", "NLS_SORT")


def _mib(size: Any) -> str:
    return f"{int(size) / _MIB:,.1f} MiB"
