"""Texts that the source reads as moments, such as 'Jan 15 1998 3:15PM' and '15.01.1998', in the one form that all targets read.

Transact-SQL, Db2, MySQL and PostgreSQL each read forms that others refuse, or read as another day (see `sql.moments`).
"""

import re
from collections.abc import Callable, Iterator
from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.draft.masks.constants import constant_text, known_moment, moment_of_constant
from hullsound.sql.literals import is_no_day, string_content
from hullsound.sql.moments import moment_of_number, parse_moment
from hullsound.sql.tree import Literal, Node, TypedLiteral

from .beside import (
    bare,
    constants_beside,
    constants_cast,
    constants_chosen,
    constants_passed,
    numbers_beside,
    numbers_cast,
    numbers_passed,
)

_READ_EVERYWHERE: Final = {
    Family.DATE: re.compile(r"\d{4}-\d\d-\d\d|\d{8}"),
    Family.TIMESTAMP: re.compile(r"\d{4}-\d\d-\d\d(?:[ T]\d\d:\d\d(?::\d\d(?:\.\d{1,9})?)?)?|\d{8}"),
    Family.TIME: re.compile(r"\d\d:\d\d(?::\d\d(?:\.\d{1,9})?)?"),
}
_ZONED: Final = re.compile(r".*\d:\d\d(?::\d\d(?:\.\d+)?)? ?(?:[+-]\d\d(?::?\d\d)?|Z|UTC)", re.IGNORECASE)
_SOURCES: Final = frozenset(("sqlserver", "ase", "mysql", "mariadb", "db2", "teradata", "postgresql", "sqlite"))
_TSQL: Final = frozenset(("sqlserver", "ase"))
_MYSQL: Final = frozenset(("mysql", "mariadb"))
_KIN: Final = (_TSQL, _MYSQL)
"""Engines that read the same forms."""
_TYPED: Final = {"DATE": Family.DATE, "TIMESTAMP": Family.TIMESTAMP}
_WHOLE: Final = {
    Family.DATE: re.compile(r"\d{4}-\d\d-\d\d"),
    Family.TIMESTAMP: re.compile(r"\d{4}-\d\d-\d\d \d\d:\d\d:\d\d(?:\.\d{1,12})?"),
}
_WITH_ZONES: Final = ("oracle", "teradata")
"""Engines in which TIMESTAMP '...' has a zone where its text has one."""
_DIGITS: Final = re.compile(r"\d+(?:\.\d+)?")
_ORDERING: Final = frozenset(("DATEFORMAT", "LANGUAGE"))
_LONE_TEXT: Final = re.compile(r"N?'(?:[^']|'')*'")
_FAMILIES: Final = MOMENTS | {Family.TIME}
_AS_MOMENT: Final = {
    "postgresql": "TIMESTAMP '{}'", "sqlserver": "CAST('{}' AS datetime2)", "mysql": "'{}'", "mariadb": "'{}'",
}  # fmt: skip


def add_moment_constants(rewriter: Rewriter) -> None:
    """Write texts that stand for moments in a form that the target reads, and refuse those in a form of no known kind."""
    source, target = rewriter.catalog.engine, rewriter.target.engine
    if not _differ(source, target):
        return
    _add_typed_constants(rewriter)
    if source in _TSQL | _MYSQL:
        _add_numbers(rewriter)
    found = list(constants_beside(_FAMILIES, rewriter))
    if target in _MYSQL:
        _add_typed(constants_chosen(MOMENTS, rewriter), rewriter)
        if source in _TSQL:
            _add_typed(constants_passed(MOMENTS, rewriter), rewriter)
    found += constants_passed(_FAMILIES, rewriter)
    if target != "oracle":  # whose casts read a text by the session's format
        found += constants_cast(_FAMILIES, rewriter)
    for family, node in found:
        content = string_content(rewriter.subject.source(bare(node)), source)
        if target in _MYSQL and family is not Family.DATE and _ZONED.fullmatch(content):
            rewriter.add(Point(node.first, node.last, _refuse_zone, rank=9))
        elif not _is_read(content, family, source, target):
            _add(node, content, partial(_written, content, family, source, target), rewriter)


def add_zoned_constants(rewriter: Rewriter) -> None:
    """Keep the zone of TIMESTAMP '...', which PostgreSQL leaves out unless its name says that there is one."""
    if rewriter.catalog.engine not in _WITH_ZONES:
        return
    for node in rewriter.subject.all(TypedLiteral):
        content = string_content(rewriter.tokens.source(node.last - 1, node.last), rewriter.catalog.engine)
        if node.form.upper() == "TIMESTAMP" and _ZONED.fullmatch(content):
            if rewriter.target.engine == "postgresql":
                rewriter.replace(node.first, node.first + 1, "TIMESTAMP WITH TIME ZONE")
            elif rewriter.target.engine in _MYSQL:
                rewriter.add(Point(node.first, node.last, _refuse_zone, rank=9))


def _refuse_zone(_: Rewriter) -> str:
    raise CannotDraft("a moment with its zone, which the target's types do not keep")


def _add_numbers(rewriter: Rewriter) -> None:
    """Write the moments that numbers stand for in T-SQL and MySQL, and refuse numbers that are no constants."""
    found = list(numbers_beside(MOMENTS, rewriter))
    if rewriter.target.engine != "postgresql":  # where casts count the days
        found += numbers_cast(MOMENTS, rewriter)
        # Functions of T-SQL have fixers that count the days.
        found += numbers_passed(MOMENTS, rewriter) if rewriter.catalog.engine in _MYSQL else ()
    for family, node in found:
        rank = 0 if isinstance(bare(node), Literal) else 9  # a refusal, whatever else is written for a name
        rewriter.add(Point(node.first, node.last, partial(_moment_of_number, node, family), rank=rank))


def _moment_of_number(node: Node, family: Family, rewriter: Rewriter) -> str:
    engine, target = rewriter.catalog.engine, rewriter.target.engine
    constant = bare(node)
    is_plain = isinstance(constant, Literal) and _DIGITS.fullmatch(rewriter.subject.source(constant)) is not None
    moment = moment_of_number(rewriter.subject.source(constant), engine) if is_plain else None
    if moment is None:
        raise CannotDraft("a number where a moment is asked for")
    text = constant_text(moment, family, engine)
    if target == "oracle":
        return f"TIMESTAMP '{text}'" if " " in text else f"DATE '{text}'"
    if target in _MYSQL:
        return f"{family.value.upper()} {_whole(text, family, engine, rewriter)}"
    return f"'{text}'"


def _add_typed(found: Iterator[tuple[Family, Node]], rewriter: Rewriter) -> None:
    """Write texts as typed constants: of a text that only looks like a moment, MySQL makes texts again."""
    source = rewriter.catalog.engine
    for family, node in found:
        content = string_content(rewriter.subject.source(bare(node)), source)
        if not _ZONED.fullmatch(content):
            _add(node, content, partial(_typed, content, family, source), rewriter)


def _typed(content: str, family: Family, source: str, rewriter: Rewriter) -> str:
    return f"{family.value.upper()} {_whole(content, family, source, rewriter)}"


def _add(node: Node, content: str, render: Callable[[Rewriter], str], rewriter: Rewriter) -> None:
    moment = parse_moment(content, rewriter.catalog.engine)
    is_open = moment is not None and moment.by_session
    if is_open and not _ORDERING.isdisjoint(rewriter.words[rewriter.subject.read.first : rewriter.subject.read.last]):
        render = _refuse_order
    rewriter.add(Point(node.first, node.last, render, "convert.session-date" if is_open else ""))


def _refuse_order(_: Rewriter) -> str:
    raise CannotDraft("a date as a text, in an order that SET DATEFORMAT or LANGUAGE says")


def _add_typed_constants(rewriter: Rewriter) -> None:
    """Write DATE '...' and TIMESTAMP '...' in full, where the source leaves parts out or reads other forms."""
    source = rewriter.catalog.engine
    for node in rewriter.subject.all(TypedLiteral):
        family = _TYPED.get(node.form.upper())
        content = string_content(rewriter.tokens.source(node.last - 1, node.last), source)
        if family is not None and not _WHOLE[family].fullmatch(content) and not _ZONED.fullmatch(content):
            rewriter.add(Point(node.last - 1, node.last, partial(_whole, content, family, source)))


def _whole(content: str, family: Family, source: str, _rewriter: Rewriter) -> str:
    moment = known_moment(content, source)
    if not moment.day:
        raise CannotDraft("a time of day as a moment without a day")
    return f"'{moment.day}'" if family is Family.DATE else f"'{moment.day} {moment.time or '00:00:00'}'"


def written_default(constant: str, family: Family, source: str, target: str) -> str:
    """Return the constant text that a column of a family has by default as the target reads it; '' where it stays.

    Raises CannotDraft for a text in a form that is not known.
    """
    if family not in _FAMILIES or not _differ(source, target) or not _LONE_TEXT.fullmatch(constant):
        return ""
    content = string_content(constant, source)
    return "" if _is_read(content, family, source, target) else _written(content, family, source, target)


def _differ(source: str, target: str) -> bool:
    """Whether the target may read texts as other moments than the source; moments of SQLite stay texts elsewhere than in Oracle."""
    if source == target or source not in _SOURCES or (source == "sqlite" and target != "oracle"):
        return False
    return not any({source, target} <= kin for kin in _KIN)


def _is_read(content: str, family: Family, source: str, target: str) -> bool:
    """Whether a text needs no change: it has a form of all targets, or others care for its offset, or for MySQL's days of zeros."""
    if target == "oracle":
        return family is Family.TIME
    has_offset = _ZONED.fullmatch(content) is not None and family is not Family.DATE
    if has_offset or is_no_day(content):
        return has_offset or source in _MYSQL
    return _READ_EVERYWHERE[family].fullmatch(content) is not None


def _written(content: str, family: Family, source: str, target: str, _rewriter: Rewriter | None = None) -> str:
    if target == "oracle":
        return moment_of_constant(content, family, source)
    moment = known_moment(content, source)
    if family is Family.TIME:
        return f"'{moment.time or '00:00:00'}'"
    text = constant_text(moment, family, source)
    is_later = family is Family.DATE and " " in text
    return _AS_MOMENT[target].format(text) if is_later else f"'{text}'"
