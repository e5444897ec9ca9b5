"""What estimates assume, key by key: each may be set in hullsound.toml, and each says what it means."""

from collections.abc import Iterator
from datetime import date
from typing import Annotated, Any, Final

import msgspec
from msgspec import Meta

from hullsound.ranges import Range, check_range


class _Rules(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """One table of hullsound.toml. A wrong value raises ValueError, which msgspec tells with its place."""

    def __post_init__(self) -> None:
        for field in msgspec.structs.fields(type(self)):
            value = getattr(self, field.name)
            if isinstance(value, tuple) and len(value) == 3 and isinstance(value[0], (int, float)):
                check_range(field.name, value)
            elif isinstance(value, dict):
                for key, entry in value.items():
                    if isinstance(entry, tuple):
                        check_range(f"{field.name}.{key}", entry)


_Positive = Meta(gt=0)
_Share = Meta(ge=0, le=1)


class EffortRules(_Rules, frozen=True):
    """[effort]: what work takes."""

    team: Annotated[Range, Meta(description="how long the team takes, as a factor on all minutes")] = (0.7, 1.0, 1.7)
    repeat: Annotated[
        float, _Share, Meta(description="each further place of a construct in one object, as a share of the one before")
    ] = 0.5
    spread: Annotated[
        float,
        _Positive,
        Meta(description="spread of single objects about what their constructs say (log scale); for actuals"),
    ] = 0.4
    review: Annotated[dict[str, Range], Meta(description="minutes to read and test one line, by outcome")] = {}
    minutes: Annotated[dict[str, Range], Meta(description="minutes for one place, by construct")] = {}


class PlanRules(_Rules, frozen=True):
    """[plan]: who works when."""

    team: Annotated[int, Meta(ge=1, le=1000), Meta(description="people who work on the move")] = 2
    hours: Annotated[float, Meta(gt=0, le=168), Meta(description="hours a week that each of them has for it")] = 25.0
    wave_weeks: Annotated[float, Meta(gt=0, le=520), Meta(description="weeks of one wave")] = 4.0
    start: Annotated[date | None, Meta(description="first day of work")] = None
    free_days: Annotated[tuple[date, ...], Meta(description="days on which nobody works, beside weekends")] = ()
    decision_weeks: Annotated[
        float, Meta(ge=0), Meta(description="weeks before its wave by which a blocker must be decided")
    ] = 2.0
    pilot_share: Annotated[
        float, _Share, Meta(description="share of the constructs without a blocker that the pilot should meet")
    ] = 0.5
    pilot_weeks: Annotated[float, _Positive, Meta(description="weeks that the pilot may take")] = 2.0
    weights: Annotated[
        dict[str, Annotated[float, Meta(ge=0)]],
        Meta(description="how much it hurts to cut an edge between waves, by kind"),
    ] = {}


class WindowRules(_Rules, frozen=True):
    """[window]: how fast data moves."""

    def __post_init__(self) -> None:
        _Rules.__post_init__(self)
        for field in msgspec.structs.fields(type(self)):
            value = getattr(self, field.name)
            if isinstance(value, tuple) and not value[0] > 0:
                raise ValueError(f"{field.name} must be greater than 0")

    streams: Annotated[
        int, Meta(ge=1, le=1024), Meta(description="tables or parts of tables that are copied at once")
    ] = 4
    mbit: Annotated[float, _Positive, Meta(description="bandwidth of the network between both sides, in Mbit/s")] = (
        1000.0
    )
    hours: Annotated[float, _Positive, Meta(description="length of the window, in hours")] = 8.0
    network_share: Annotated[Range, Meta(description="share of the bandwidth that the copy gets")] = (0.5, 0.7, 0.9)
    read_mb_s: Annotated[Range, Meta(description="MB/s that one stream reads from the source")] = (20.0, 50.0, 120.0)
    write_mb_s: Annotated[Range, Meta(description="MB/s that one stream writes into the target")] = (8.0, 20.0, 50.0)
    write_limit: Annotated[
        Range, Meta(description="MB/s that the target writes in all, however many streams")
    ] = (40.0, 100.0, 250.0)  # fmt: skip
    rows_s: Annotated[Range, Meta(description="rows a second that one stream would write if they had no width")] = (
        60_000.0,
        150_000.0,
        500_000.0,
    )
    table_seconds: Annotated[Range, Meta(description="seconds that each table or part costs beside its rows")] = (
        0.2,
        1.0,
        3.0,
    )
    index_mb_s: Annotated[Range, Meta(description="MB/s of table that one index build goes through")] = (
        15.0,
        40.0,
        100.0,
    )
    index_share: Annotated[
        float, Meta(ge=0), Meta(description="size of an index as a share of its table, where it is not known")
    ] = 0.15
    validate_rows_s: Annotated[Range, Meta(description="rows a second that a foreign key or check is validated at")] = (
        300_000.0,
        1_000_000.0,
        3_000_000.0,
    )
    check_mb_s: Annotated[Range, Meta(description="MB/s that checks read on each side")] = (20.0, 60.0, 150.0)
    stop_minutes: Annotated[Range, Meta(description="minutes to stop the programs and drain the source")] = (
        5.0,
        10.0,
        20.0,
    )
    switch_minutes: Annotated[Range, Meta(description="minutes to point the programs to the target and start them")] = (
        10.0,
        20.0,
        45.0,
    )
    apply_mb_h: Annotated[Range, Meta(description="MB of changes an hour that the target can apply")] = (
        4_000.0,
        12_000.0,
        30_000.0,
    )
    lag_minutes: Annotated[Range, Meta(description="minutes of changes still to apply when the programs stop")] = (
        0.5,
        2.0,
        5.0,
    )
    part_mb: Annotated[float, _Positive, Meta(description="size from which a table is split by key range, in MB")] = (
        2_000.0
    )
    row_bytes: Annotated[
        float, _Positive, Meta(description="bytes of a row, where neither size nor types tell")
    ] = 120.0  # fmt: skip


class SizeRules(_Rules, frozen=True):
    """[size]: what the target must hold."""

    percentile: Annotated[
        float, Meta(ge=50, le=100), Meta(description="percentile of the load that a size must carry")
    ] = 95.0  # fmt: skip
    headroom: Annotated[
        float, Meta(ge=0, lt=1), Meta(description="share of a size that stays free at that percentile")
    ] = 0.25  # fmt: skip
    growth: Annotated[float, Meta(gt=-1), Meta(description="growth of the load a year")] = 0.15
    years: Annotated[float, Meta(ge=0), Meta(description="years that the size must suffice for")] = 2.0
    storage_headroom: Annotated[float, Meta(ge=0, lt=1), Meta(description="share of the storage that stays free")] = 0.2
    backup_share: Annotated[
        float, Meta(ge=0), Meta(description="size of all backups as a share of the storage used")
    ] = 1.5  # fmt: skip
    standby: Annotated[int, Meta(ge=0), Meta(description="further servers of the same size")] = 1
    hours_month: Annotated[float, _Positive, Meta(description="hours a month that servers run")] = 730.0


class CheckRules(_Rules, frozen=True):
    """[checks]: how both sides are compared."""

    decimals: Annotated[
        int, Meta(ge=0, le=15), Meta(description="decimals to which floating-point numbers must agree")
    ] = 6  # fmt: skip
    sample_rows: Annotated[int, Meta(ge=1), Meta(description="rows of a table that a sample compares one by one")] = 200


class EstateRules(_Rules, frozen=True):
    """[estate]: what many databases have in common."""

    clone_share: Annotated[
        float, _Share, Meta(description="what a clone costs, as a share of the member that stands for it")
    ] = 0.15  # fmt: skip


SECTIONS: Final[dict[str, type[_Rules]]] = {
    "effort": EffortRules,
    "plan": PlanRules,
    "window": WindowRules,
    "size": SizeRules,
    "checks": CheckRules,
    "estate": EstateRules,
}


class Settings(msgspec.Struct, frozen=True):
    """All tables of assumptions, and which keys of them the user set."""

    effort: EffortRules = EffortRules()
    plan: PlanRules = PlanRules()
    window: WindowRules = WindowRules()
    size: SizeRules = SizeRules()
    checks: CheckRules = CheckRules()
    estate: EstateRules = EstateRules()
    given: frozenset[str] = frozenset()
    """Keys such as `window.mbit` that hullsound.toml or an option sets."""

    def with_given(self, section: str, **values: Any) -> "Settings":
        """Return settings in which options of a command count; an option that is None leaves what was there.

        Raises ValueError for a value that does not fit, naming the key.
        """
        told = {key: value for key, value in values.items() if value is not None}
        if not told:
            return self
        before = msgspec.to_builtins(getattr(self, section), builtin_types=(date,))
        try:
            rules = msgspec.convert(before | told, SECTIONS[section])
        except msgspec.ValidationError as error:
            raise ValueError(str(error)) from error
        given = self.given | {f"{section}.{key}" for key in told}
        return msgspec.structs.replace(self, **{section: rules, "given": given})


class Assumption(msgspec.Struct, frozen=True):
    """One number that an estimate rests on, and where it comes from."""

    key: str
    """Its key in hullsound.toml."""
    value: str
    origin: str
    """measured, given or assumed."""
    meaning: str


def every_key(section: str) -> list[Assumption]:
    """Return all keys of one section with what is assumed where nothing is set."""
    rules = SECTIONS[section]()
    return [
        Assumption(f"{section}.{name}", _shown(getattr(rules, name)), "assumed", _description(kind))
        for name, kind in _kinds(rules).items()
    ]


def assumptions(settings: Settings, section: str, measured: dict[str, Any] | None = None) -> list[Assumption]:
    """Return what the estimates of one section rest on. `measured` holds values by key that took the place of settings."""
    return list(_assumptions(settings, section, measured or {}))


def _assumptions(settings: Settings, section: str, measured: dict[str, Any]) -> Iterator[Assumption]:
    rules = getattr(settings, section)
    for name, kind in _kinds(rules).items():
        key = f"{section}.{name}"
        value = measured.get(name, getattr(rules, name))
        if value is None or value in ({}, ()):
            continue
        origin = "measured" if name in measured else "given" if key in settings.given else "assumed"
        yield Assumption(key, _shown(value), origin, _description(kind))


def _kinds(rules: _Rules) -> dict[str, Any]:
    """Return the fields of a table with their types, which carry what they mean."""
    return {field.name: field.type for field in msgspec.inspect.type_info(type(rules)).fields}  # type: ignore[attr-defined]


def _description(kind: Any) -> str:
    extra = getattr(kind, "extra_json_schema", None) or {}
    return str(extra.get("description", ""))


def _shown(value: Any) -> str:
    if value is None or value in ({}, ()):
        return ""
    if isinstance(value, tuple) and len(value) == 3 and isinstance(value[0], (int, float)):
        low, likely, high = value
        return f"{_plain(low)} to {_plain(high)}, likely {_plain(likely)}"
    if isinstance(value, dict):
        return "; ".join(f"{key} {_shown(entry)}" for key, entry in value.items())
    if isinstance(value, tuple):
        return ", ".join(map(str, value))
    return _plain(value) if isinstance(value, float) else str(value)


def _plain(value: float) -> str:
    """Write a number with three digits that count, and without an exponent."""
    return f"{value:,.0f}" if value >= 1_000 else f"{value:.3g}"
