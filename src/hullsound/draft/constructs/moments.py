"""Fixers for SQL Server, Oracle, MySQL and MariaDB as targets: parts of moments, seconds since 1970, the clock in UTC.

Sources: Transact-SQL reference, "DATEPART" and "DATEDIFF_BIG" (both of SQL Server 2016 to 2025); Oracle Database 19c, "SQL Language
Reference" (EXTRACT of datetimes, SYS_EXTRACT_UTC); PostgreSQL 18, "Date/Time Functions and Operators" (EXTRACT).
"""

from typing import Final

from hullsound.analyze.types import MOMENTS, Family
from hullsound.draft.conversions.ages import is_age, part_of_age
from hullsound.draft.conversions.seconds_between import seconds_of
from hullsound.draft.edits.rewrite import CannotDraft, Rewriter
from hullsound.draft.edits.text import text_value
from hullsound.draft.masks.constants import moment_of_constant
from hullsound.sight.detector import Found
from hullsound.sql.tree import Call, Cast, Comparison, Name, Node, Operation, Paren, Select

from . import call_of, fixer
from .dates import unit_of

_MYSQL: Final = ("mysql", "mariadb")
_CLOCKS: Final = frozenset(
    ("SYSTIMESTAMP", "CURRENT_TIMESTAMP", "NOW", "CLOCK_TIMESTAMP", "STATEMENT_TIMESTAMP", "TRANSACTION_TIMESTAMP")
)
"""Clocks whose moment carries its zone, in Oracle and PostgreSQL."""
_PARTED: Final = frozenset(("EXTRACT", "DATE_PART", "DATE_TRUNC", "TO_CHAR"))
"""Functions that take a moment apart."""
_PARTS: Final = {
    "YEAR": "DATEPART(year, {0})", "QUARTER": "DATEPART(quarter, {0})", "MONTH": "DATEPART(month, {0})",
    "DAY": "DATEPART(day, {0})", "HOUR": "DATEPART(hour, {0})", "MINUTE": "DATEPART(minute, {0})",
}  # fmt: skip
"""Parts that every engine counts alike, as SQL Server takes them."""
_SECONDS: Final = "(DATEPART(second, {0}) + DATEPART(microsecond, {0}) / 1000000.0)"
_PARTS_OF_POSTGRESQL: Final = {
    "DOY": "DATEPART(dayofyear, {0})", "WEEK": "DATEPART(iso_week, {0})",
    "DOW": "((DATEPART(weekday, {0}) + @@DATEFIRST - 1) % 7)",
    "ISODOW": "((DATEPART(weekday, {0}) + @@DATEFIRST - 2) % 7 + 1)",
    "EPOCH": "(CAST(DATEDIFF_BIG(microsecond, '1970-01-01', {0}) AS decimal(26, 6)) / 1000000)",
}  # fmt: skip
_DAY_PARTS: Final = ("YEAR", "MONTH", "DAY")
_CLOCK_PARTS: Final = ("HOUR", "MINUTE", "SECOND")
_PARTS_FOR_ORACLE: Final = {
    "DOY": "TO_NUMBER(TO_CHAR({0}, 'DDD'))", "WEEK": "TO_NUMBER(TO_CHAR({0}, 'IW'))",
    "DOW": "MOD(TRUNC({0}) - TRUNC({0}, 'IW') + 1, 7)", "ISODOW": "(TRUNC({0}) - TRUNC({0}, 'IW') + 1)",
    "ISOYEAR": "TO_NUMBER(TO_CHAR({0}, 'IYYY'))",
}  # fmt: skip
"""Weeks begin on Monday for the mask IW, whatever the session's territory."""
_SUNDAY: Final = {"sqlserver": "((DATEPART(weekday, {0}) + @@DATEFIRST - 1) % 7 + 1)",
                  "oracle": "(MOD(TRUNC({0}) - TRUNC({0}, 'IW') + 1, 7) + 1)"}  # fmt: skip
"""The day of the week, of which Sunday is 1."""
_MONDAY: Final = {"sqlserver": "((DATEPART(weekday, {0}) + @@DATEFIRST - 2) % 7)",
                  "oracle": "(TRUNC({0}) - TRUNC({0}, 'IW'))"}  # fmt: skip
"""The day of the week, of which Monday is 0."""
_FIELDS: Final = {
    "sqlserver": {
        "HOUR": "DATEPART(hour, {0})", "MINUTE": "DATEPART(minute, {0})", "SECOND": "DATEPART(second, {0})",
        "MICROSECOND": "DATEPART(microsecond, {0})",
        "QUARTER": "DATEPART(quarter, {0})", "DAYOFYEAR": "DATEPART(dayofyear, {0})", "WEEK_ISO": "DATEPART(iso_week, {0})",
    },
    "oracle": {
        "HOUR": "TO_NUMBER(TO_CHAR({0}, 'HH24'))", "MINUTE": "TO_NUMBER(TO_CHAR({0}, 'MI'))",
        "SECOND": "TO_NUMBER(TO_CHAR({0}, 'SS'))", "QUARTER": "TO_NUMBER(TO_CHAR({0}, 'Q'))",
        "DAYOFYEAR": "TO_NUMBER(TO_CHAR({0}, 'DDD'))", "WEEK_ISO": "TO_NUMBER(TO_CHAR({0}, 'IW'))",
    },
}  # fmt: skip
for _engine, _fields in _FIELDS.items():
    _fields |= {
        "DAYOFWEEK": _SUNDAY[_engine],
        "DAYOFWEEK_ISO": f"({_MONDAY[_engine]} + 1)",
        "WEEKDAY": _MONDAY[_engine],
    }
_CUTS: Final = {
    "sqlserver": {
        "year": "CAST(DATEFROMPARTS(YEAR({0}), 1, 1) AS datetime2(6))",
        "quarter": "CAST(DATEFROMPARTS(YEAR({0}), (MONTH({0}) - 1) / 3 * 3 + 1, 1) AS datetime2(6))",
        "month": "CAST(DATEFROMPARTS(YEAR({0}), MONTH({0}), 1) AS datetime2(6))",
        "week": "CAST(DATEADD(day, -((DATEPART(weekday, {0}) + @@DATEFIRST - 2) % 7), CAST({0} AS date)) AS datetime2(6))",
        "day": "CAST(CAST({0} AS date) AS datetime2(6))",
        "hour": "DATEADD(hour, DATEPART(hour, {0}), CAST(CAST({0} AS date) AS datetime2(6)))",
        "minute": "DATEADD(minute, DATEPART(hour, {0}) * 60 + DATEPART(minute, {0}), CAST(CAST({0} AS date) AS datetime2(6)))",
    },
    "oracle": {unit: f"CAST(TRUNC({{0}}, '{mask}') AS TIMESTAMP)" for unit, mask in (
        ("year", "YYYY"), ("quarter", "Q"), ("month", "MM"), ("week", "IW"), ("day", "DD"), ("hour", "HH24"), ("minute", "MI"))},
}  # fmt: skip
"""A moment cut to a unit, as a timestamp; weeks begin on Monday."""
_UTC_CLOCK_OF_ORACLE: Final = (
    "(ROUND((TRUNC(SYS_EXTRACT_UTC(SYSTIMESTAMP), 'MI') - DATE '1970-01-01') * 86400) + "
    "EXTRACT(SECOND FROM SYSTIMESTAMP))"
)
"""Seconds since 1970 with their fraction; TRUNC makes a date of the minute, so that minus counts days."""


@fixer("part_extracted")
def fix_part_extracted(place: Found, rewriter: Rewriter) -> str:
    """EXTRACT(part FROM moment), for SQL Server."""
    call = call_of(place)
    field = rewriter.words[call.opening + 1].strip("'").upper()
    value = call.arguments[-1]
    source = rewriter.catalog.engine
    if is_age(value):
        return part_of_age(field, value, rewriter)
    if field == "EPOCH" and source == "postgresql" and not is_clock(value):
        return seconds_of(call, rewriter)
    if rewriter.types.family(value) not in (*MOMENTS, Family.TIME) and not is_clock(value):
        raise CannotDraft("a part of something that is no moment")
    text = rewriter.node(value)
    if field in _PARTS:
        return _PARTS[field].format(text)
    if field == "SECOND":
        is_whole = source in _MYSQL or rewriter.types.family(value) is Family.DATE
        return f"DATEPART(second, {text})" if is_whole else _SECONDS.format(text)
    if source == "postgresql" and field in _PARTS_OF_POSTGRESQL:
        return _PARTS_OF_POSTGRESQL[field].format(text)
    raise CannotDraft(f"the part {field.lower()} of a moment")


@fixer("part_of_standard")
def fix_part_of_standard(place: Found, rewriter: Rewriter) -> str:
    """EXTRACT(part FROM moment), for Oracle, whose dates give years, months and days alone."""
    call = call_of(place)
    field = rewriter.words[call.opening + 1].strip("'").upper()
    value, source = call.arguments[-1], rewriter.catalog.engine
    if is_age(value):
        return part_of_age(field, value, rewriter)
    family = rewriter.types.family(value)
    if field == "EPOCH" and is_clock(value):
        return _UTC_CLOCK_OF_ORACLE
    if field == "EPOCH" and source == "postgresql" and family is not Family.DATE:
        return seconds_of(call, rewriter)
    if family not in MOMENTS and not is_clock(value) and field not in _DAY_PARTS:
        raise CannotDraft("a part of something that may be no moment")
    text = rewriter.node(value)
    if field in _DAY_PARTS:
        return f"EXTRACT({field} FROM {text})"
    if field in _CLOCK_PARTS:
        moment = f"CAST({text} AS TIMESTAMP)" if family is Family.DATE else text
        part = f"EXTRACT({field} FROM {moment})"
        return f"FLOOR({part})" if field == "SECOND" and source in _MYSQL else part
    if field == "QUARTER":
        return f"TO_NUMBER(TO_CHAR({text}, 'Q'))"
    if source == "postgresql" and field in _PARTS_FOR_ORACLE:
        return _PARTS_FOR_ORACLE[field].format(text)
    if source == "postgresql" and field == "EPOCH" and family is Family.DATE:
        return f"ROUND(({text} - DATE '1970-01-01') * 86400)"
    raise CannotDraft(f"the part {field.lower()} of a moment")


@fixer("field_of_moment")
def fix_field_of_moment(place: Found, rewriter: Rewriter) -> str:
    """HOUR(moment), DAYOFWEEK(moment) and their like, for SQL Server and Oracle, whatever the session's settings."""
    call = call_of(place)
    name, value = call.parts[-1], call.arguments[0]
    family, engine = rewriter.types.family(value), rewriter.target.engine
    text = rewriter.node(value)
    if engine == "oracle" and family is Family.TIME:
        raise CannotDraft(f"{name.lower()} of a time of day, for which the target has no type")
    template = _FIELDS[engine].get(name)
    is_known = family in MOMENTS or (family is Family.TIME and name in _CLOCK_PARTS)
    if template is None or len(call.arguments) > 1 or not is_known:
        raise CannotDraft(f"{name.lower()} of a value of another kind, or counted in a way of its own")
    return template.format(text)


@fixer("as_timestamp")
def fix_as_timestamp(place: Found, rewriter: Rewriter) -> str:
    """TIMESTAMP(value) of Db2: of a date, a timestamp or a constant text."""
    (value,) = call_of(place).arguments
    kind = "timestamp" if rewriter.target.engine == "oracle" else "datetime2(6)"
    if rewriter.types.family(value) in MOMENTS:
        return f"CAST({rewriter.node(value)} AS {kind})"
    if rewriter.target.engine == "oracle":
        return f"CAST({moment_of_constant(text_value(value, rewriter) or '', Family.TIMESTAMP, rewriter.catalog.engine)} AS {kind})"
    return f"CAST({rewriter.node(value)} AS {kind})"


@fixer("day_of_moment")
def fix_day_of_moment(place: Found, rewriter: Rewriter) -> str:
    """DATE(value): the day of a moment, or the date that a constant text stands for."""
    (value,) = call_of(place).arguments
    family, engine = rewriter.types.family(value), rewriter.target.engine
    if engine == "oracle" and family is Family.TEXT:
        moment = moment_of_constant(text_value(value, rewriter) or "", Family.DATE, rewriter.catalog.engine)
        return f"TRUNC({moment})" if moment.startswith("TIMESTAMP") else moment
    if family not in MOMENTS and (engine == "oracle" or family is not Family.TEXT):
        raise CannotDraft("the day of something that is no moment")
    return f"TRUNC({rewriter.node(value)})" if engine == "oracle" else f"CAST({rewriter.node(value)} AS date)"


_TO_SECOND: Final = {
    "postgresql": "CAST(date_trunc('second', {0}) AS time)", "sqlserver": "CAST(CONVERT(char(8), {0}, 108) AS time(0))",
    "mysql": "TIME(DATE_FORMAT({0}, '%H:%i:%s'))", "mariadb": "TIME(DATE_FORMAT({0}, '%H:%i:%s'))",
    "oracle": "TO_CHAR({0}, 'HH24:MI:SS')",
}  # fmt: skip
"""The time of day of a moment without a fraction, which TIME of Db2 has not (SQL Reference 11.5, "TIME")."""


@fixer("time_to_second")
def fix_time_to_second(place: Found, rewriter: Rewriter) -> str:
    """TIME(value) of Db2: of a moment, or of what is a time already."""
    (value,) = call_of(place).arguments
    family, engine = rewriter.types.family(value), rewriter.target.engine
    if family is Family.TIMESTAMP:
        return _TO_SECOND[engine].format(rewriter.node(value))
    if engine == "oracle" or family not in (Family.TIME, Family.TEXT):
        raise CannotDraft("the time of day of something that is no moment")
    return f"CAST({rewriter.node(value)} AS time)"


@fixer("moment_cut")
def fix_moment_cut(place: Found, rewriter: Rewriter) -> str:
    """DATE_TRUNC(unit, moment) of PostgreSQL, which gives a timestamp."""
    unit_node, value = call_of(place).arguments
    unit, engine = (text_value(unit_node, rewriter) or "").lower(), rewriter.target.engine
    if rewriter.catalog.engine == "sqlserver":
        unit = unit_of(unit_node, rewriter)
    check_cut(call_of(place), value, rewriter)
    template = _CUTS[engine].get(unit)
    if template is None:
        raise CannotDraft(f"a moment cut to the {unit or 'unit that is no constant'}")
    return template.format(rewriter.node(value))


@fixer("seconds_since_1970_now")
def fix_seconds_since_1970_now(place: Found, rewriter: Rewriter) -> str:
    """UNIX_TIMESTAMP() of MySQL and MariaDB: whole seconds."""
    return seconds_now(rewriter.target.engine)


def seconds_now(engine: str) -> str:
    """Write the whole seconds since 1970 in UTC, as a target other than PostgreSQL tells them."""
    if engine == "sqlserver":
        return "DATEDIFF_BIG(second, '1970-01-01', SYSUTCDATETIME())"
    return f"FLOOR({_UTC_CLOCK_OF_ORACLE})" if engine == "oracle" else "UNIX_TIMESTAMP()"


@fixer("moment_in_utc")
def fix_moment_in_utc(place: Found, rewriter: Rewriter) -> str:
    """SYS_EXTRACT_UTC(moment with a zone) of Oracle."""
    (value,) = call_of(place).arguments
    if is_clock(value):
        return "SYSUTCDATETIME()" if rewriter.target.engine == "sqlserver" else "UTC_TIMESTAMP(6)"
    if rewriter.target.engine != "sqlserver":
        raise CannotDraft("a moment with a zone of its own")
    return f"CAST(SWITCHOFFSET({rewriter.node(value)}, '+00:00') AS datetime2)"


def check_cut(call: Call, value: Node, rewriter: Rewriter) -> None:
    """Check what DATE_TRUNC cuts: what PostgreSQL cuts to a moment with the session's zone loses it, which is told where it shows.

    Raises CannotDraft where the target keeps moments in zones of their own, and for values that may be no moments.
    """
    source, family = rewriter.types.source_type(value), rewriter.types.family(value)
    if family not in MOMENTS and not is_clock(value):
        raise CannotDraft("a part of something that may be no moment")
    if rewriter.catalog.engine != "postgresql":
        return
    has_zone = is_clock(value) or (source is not None and ("ZONE" in source.name or "TZ" in source.name))
    if has_zone and rewriter.target.engine == "sqlserver":
        raise CannotDraft("a part of a moment with a time zone")
    if (
        family is Family.TIMESTAMP
        and source is None
        and not is_clock(value)
        and not isinstance(value, Call | Operation)
    ):
        raise CannotDraft("a part of a moment that may have a time zone")
    if (has_zone or family is Family.DATE) and is_shown(call, rewriter):
        rewriter.rendered.append(("convert.zone-of-midnight", call.first))


def is_shown(node: Node, rewriter: Rewriter) -> bool:
    """Whether it can be seen of which type a moment is: not where it is compared, cast, moved or taken apart."""
    around = rewriter.subject.read.parent(node)
    while isinstance(around, Paren):
        around = rewriter.subject.read.parent(around)
    if isinstance(around, Select):
        return not any(each.first <= node.first < each.last for each in around.group)
    is_taken_apart = isinstance(around, Call) and around.parts[-1] in _PARTED
    return not isinstance(around, Cast | Comparison | Operation) and not is_taken_apart


def is_clock(node: Node) -> bool:
    """Whether an expression is a clock that carries its zone."""
    return isinstance(node, Name | Call) and len(node.parts) == 1 and node.parts[0] in _CLOCKS
