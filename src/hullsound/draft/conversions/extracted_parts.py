"""EXTRACT of parts that source and target cut, count or take from another zone.

Sources: Oracle Database 19c, "SQL Language Reference", EXTRACT (datetime), which takes parts of a moment with its zone from UTC and
seconds with their fraction; PostgreSQL 18, "Date/Time Functions and Operators"; MySQL 8.4 Reference Manual, "Date and Time
Functions", whose seconds are whole and whose weeks are numbered from Sundays; Db2 11.5 and Teradata 17.20, EXTRACT.
"""

from functools import partial
from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.edits.rewrite import CannotDraft, Point, Rewriter
from hullsound.knowledge.types import logical_type
from hullsound.sql.tree import Call, Name, Node

_MYSQL: Final = ("mysql", "mariadb")
_ZONED: Final = ("timestamp-zone", "timestamp-local")
_CLOCKS_WITH_ZONE: Final = ("SYSTIMESTAMP", "CURRENT_TIMESTAMP")
_SHORT_FIELDS: Final = frozenset(("YEAR", "QUARTER", "MONTH", "DAY", "HOUR", "MINUTE"))
_ON_MYSQL: Final = {
    "SECOND": "(SECOND({0}) + MICROSECOND({0}) * 0.000001)",
    "MILLISECONDS": "(SECOND({0}) * 1000 + MICROSECOND({0}) * 0.001)",
    "MICROSECONDS": "(SECOND({0}) * 1000000 + MICROSECOND({0}))",
}
_ON_POSTGRESQL: Final = {
    "SECOND": "CAST(trunc(EXTRACT(SECOND FROM {0})) AS integer)",
    "MICROSECOND": "(CAST(EXTRACT(MICROSECONDS FROM {0}) AS integer) % 1000000)",
}
"""Parts of MySQL, whose seconds have no fraction and whose microseconds are the fraction alone."""
_IN_UTC: Final = {"postgresql": "({0} AT TIME ZONE 'UTC')", "sqlserver": "SWITCHOFFSET({0}, '+00:00')"}
_RANK: Final = 3


def add_extracted_parts(rewriter: Rewriter) -> None:
    """Add what makes EXTRACT give what the source gives."""
    for call in rewriter.subject.all(Call):
        if call.parts == ("EXTRACT",) and call.arguments and rewriter.words[call.opening + 2] == "FROM":
            _add_part(call, rewriter.words[call.opening + 1].strip("'").upper(), call.arguments[-1], rewriter)


def _add_part(call: Call, field: str, value: Node, rewriter: Rewriter) -> None:
    source, target = rewriter.catalog.engine, rewriter.target.engine
    if field.startswith("TIMEZONE"):
        return _refuse(call, f"the part {field.lower()} of a moment", rewriter)
    zone = _zone(value, rewriter)
    form = _IN_UTC.get(target, "") if source == "oracle" else ""
    if zone == "timestamp-zone" and form:
        rewriter.wrap(value, lambda r: form.format(r.node(value)), rank=_RANK)
    elif zone == "timestamp-zone":
        _refuse(call, "a part of a moment with its zone", rewriter)
    elif zone and target != "postgresql":
        rewriter.rendered.append(("convert.session-zone", call.first))
    if target in _MYSQL and source not in _MYSQL:
        _add_on_mysql(call, field, value, rewriter)
    elif source in _MYSQL and target == "postgresql":
        _add_on_postgresql(call, field, value, rewriter)


def _zone(value: Node, rewriter: Rewriter) -> str:
    """Return the kind of a moment that has a zone of its own, or is shown in that of the session; '' for others."""
    if isinstance(value, Name) and rewriter.catalog.engine == "oracle" and value.parts[-1] in _CLOCKS_WITH_ZONE:
        return "timestamp-zone"
    kind = rewriter.types.source_type(value)
    logical = logical_type(rewriter.catalog.engine, kind) if kind is not None else None
    return logical.kind if logical is not None and logical.kind in _ZONED else ""


def _add_on_mysql(call: Call, field: str, value: Node, rewriter: Rewriter) -> None:
    family = rewriter.types.family(value)
    if field in _ON_MYSQL:
        if family not in (*MOMENTS, Family.TIME):
            _refuse(call, "a part of something that is no moment", rewriter)
        elif field != "SECOND" or not _has_whole_seconds(value, rewriter):
            rewriter.add(Point(call.first, call.last, partial(_as_form, _ON_MYSQL[field], value), rank=_RANK))
    elif field not in _SHORT_FIELDS and field != "EPOCH" and rewriter.catalog.engine != "postgresql":
        _refuse(call, f"the part {field.lower()} of a moment", rewriter)


def _has_whole_seconds(value: Node, rewriter: Rewriter) -> bool:
    kind = rewriter.types.source_type(value)
    if rewriter.types.family(value) is Family.DATE:
        return True
    return kind is not None and kind.arguments[:1] == ("0",)


def _add_on_postgresql(call: Call, field: str, value: Node, rewriter: Rewriter) -> None:
    if field in _ON_POSTGRESQL:
        rewriter.add(Point(call.first, call.last, partial(_as_form, _ON_POSTGRESQL[field], value), rank=_RANK))
    elif field == "WEEK" or field.endswith("_MICROSECOND"):
        _refuse(call, f"the part {field.lower()} of a moment", rewriter)


def _as_form(form: str, value: Node, rewriter: Rewriter) -> str:
    return form.format(rewriter.node(value))


def _refuse(call: Call, reason: str, rewriter: Rewriter) -> None:
    rewriter.add(Point(call.first, call.last, partial(_cannot, reason), rank=9))


def _cannot(reason: str, _rewriter: Rewriter) -> str:
    raise CannotDraft(reason)
