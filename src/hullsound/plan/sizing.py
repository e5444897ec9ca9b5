"""Which size of server carries the load, and what it costs a month."""

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Final

import msgspec
import numpy as np

from hullsound.errors import UsageError
from hullsound.settings import Assumption, Settings, SizeRules, assumptions

from .document import Hours
from .load import Load
from .prices import Price, PriceList

if TYPE_CHECKING:
    import pandas as pd

SCHEMA_NAME: Final = "hullsound.size/1"
_WEEK: Final = 7 * 24.0 - 1.0
"""Hours of a week; from the first of its samples to the last it is a little less."""
_LONGEST_STEP: Final = 15 * 60.0
"""Seconds between samples, above which short peaks are missed."""
_FLAT: Final = 0.05
"""Spread of the load, as a share of its mean, below which no peak was seen."""
_GAP: Final = 0.1
"""Share of the time without samples, above which it is told."""


class Need(msgspec.Struct, frozen=True):
    """What one dimension of load asks for."""

    dimension: str
    measured: float
    """At the percentile; for storage the most."""
    needed: float
    """With growth and headroom."""


class Use(msgspec.Struct, frozen=True):
    dimension: str
    share: float
    """Of the size, at the percentile and with growth, without headroom."""


class Cost(msgspec.Struct, frozen=True):
    """What a month costs, in the currency of the price list."""

    compute: float
    standby: float
    storage: float
    backup: float
    licence: float
    total: float
    licensed_cores: float
    """Cores to be licensed in all."""
    owned_cores: float
    """Of these, cores that owned licences cover."""


class SizeChoice(msgspec.Struct, frozen=True):
    size: str
    fits: bool
    lacks: list[str]
    """Dimensions in which it is too small."""
    cost: Cost


class BreakEven(msgspec.Struct, frozen=True):
    """When the move has paid for itself, against staying."""

    stay_month: float
    move_cost_p50: float
    move_cost_p80: float
    months_p50: float | None
    """None: never, since the target costs as much or more."""
    months_p80: float | None


class SizeReport(msgspec.Struct, frozen=True):
    """The size of the target, with its cost."""

    schema: str
    currency: str
    samples: int
    hours: float
    """Hours from the first sample to the last."""
    confidence: str
    """normal or low."""
    why: list[str]
    """Why the confidence is low, and remarks on the samples."""
    needs: list[Need]
    choices: list[SizeChoice]
    """All sizes, those that fit first, by cost."""
    chosen: str
    """The cheapest size that fits; '' where none does."""
    binding: str
    """The dimension that the chosen size is fullest in."""
    uses: list[Use]
    smaller: str
    """The next smaller size: the largest of those that do not fit; '' for none."""
    smaller_hours_month: float
    """Hours a month in which it would have been too small."""
    break_even: BreakEven | None
    assumptions: list[Assumption]


def choose_size(
    load: Load,
    prices: PriceList,
    settings: Settings,
    *,
    owned_cores: float = 0.0,
    stay_month: float | None = None,
    effort: Hours | None = None,
    hour_cost: float = 0.0,
) -> SizeReport:
    """Choose the cheapest size that carries the load, with its cost.

    `owned_cores` are cores that licences are there for; `stay_month` is what a month costs today, and `effort` with `hour_cost`
    what the move costs once. Raises UsageError for a price list without a size that tells what the load asks for.
    """
    rules = settings.size
    needs = needs_of(load, rules)
    by_name = {need.dimension: need for need in needs}
    choices = [_choice(price, by_name, rules, owned_cores) for price in prices.sizes]
    choices.sort(key=lambda each: (not each.fits, each.cost.total, each.size))
    price_of = {price.size: price for price in prices.sizes}
    chosen = choices[0] if choices and choices[0].fits else None
    uses = _uses(price_of[chosen.size], by_name, rules) if chosen else []
    smaller = _next_smaller(choices, chosen, price_of)
    why = _doubts(load)
    return SizeReport(
        schema=SCHEMA_NAME,
        currency=prices.currency,
        samples=len(load.frame),
        hours=round(load.hours, 2),
        confidence="low" if why else "normal",
        why=[*why, *load.remarks],
        needs=needs,
        choices=choices,
        chosen=chosen.size if chosen else "",
        binding=uses[0].dimension if uses else "",
        uses=uses,
        smaller=smaller.size if smaller else "",
        smaller_hours_month=_short_hours(load, price_of[smaller.size], rules) if smaller else 0.0,
        break_even=_break_even(chosen, stay_month, effort, hour_cost),
        assumptions=assumptions(settings, "size"),
    )


# --- what the load asks for ---


def needs_of(load: Load, rules: SizeRules) -> list[Need]:
    """Return what each dimension asks for: the percentile, grown for the years, with room to spare."""
    growth = (1 + rules.growth) ** rules.years
    found = []
    for dimension, values in demands_of(load.frame).items():
        known = values[~np.isnan(values)]
        if not len(known):
            continue
        is_storage = dimension == "storage gb"
        measured = float(known.max() if is_storage else np.percentile(known, rules.percentile))
        spare = rules.storage_headroom if is_storage else rules.headroom
        found.append(Need(dimension, round(measured, 4), round(measured * growth / (1 - spare), 4)))
    return found


def demands_of(frame: "pd.DataFrame") -> dict[str, "np.ndarray[tuple[int], np.dtype[np.float64]]"]:
    """Return the load in the dimensions in which sizes are limited: reads and writes count together."""
    columns = {name: frame[name].to_numpy(dtype=float) for name in frame}
    found = {}
    for dimension, parts in _PARTS.items():
        known = [columns[name] for name in parts if name in columns]
        if known:
            stacked = np.vstack(known)
            total = np.nansum(stacked, axis=0)
            total[np.isnan(stacked).all(axis=0)] = np.nan
            found[dimension] = total
    return found


_PARTS: Final = {
    "cores": ("cpu cores",),
    "memory gb": ("memory gb",),
    "iops": ("read iops", "write iops"),
    "mb/s": ("read mb/s", "write mb/s", "log mb/s"),
    "connections": ("connections",),
    "storage gb": ("storage gb",),
}
"""Columns of the load by the dimension of a size that they are measured against."""


def capacity_of(price: Price, dimension: str) -> float | None:
    """Return how much of a dimension a size holds; None for no limit."""
    return {
        "cores": price.cores,
        "memory gb": price.memory_gb,
        "iops": price.iops,
        "mb/s": price.mb_s,
        "connections": price.connections,
        "storage gb": price.storage_gb,
    }[dimension]


# --- sizes and costs ---


def _choice(price: Price, needs: dict[str, Need], rules: SizeRules, owned_cores: float) -> SizeChoice:
    lacks = []
    for dimension, need in needs.items():
        capacity = capacity_of(price, dimension)
        if capacity is not None and need.needed > capacity:
            lacks.append(dimension)
    return SizeChoice(price.size, not lacks, lacks, cost_of(price, needs, rules, owned_cores))


def cost_of(price: Price, needs: dict[str, Need], rules: SizeRules, owned_cores: float) -> Cost:
    """Return what a size costs a month. Storage and licences are needed on standby servers as well."""
    servers = 1 + rules.standby
    storage = needs.get("storage gb")
    held = storage.needed if storage else 0.0
    used = storage.measured if storage else 0.0
    compute = price.hour * rules.hours_month
    licensed = max(price.cores * price.licence_cores_per_core, price.licence_least_cores) * servers
    covered = min(owned_cores, licensed) if price.licence_core_month else 0.0
    parts = {
        "compute": compute,
        "standby": compute * rules.standby,
        "storage": held * price.storage_gb_month * servers,
        "backup": used * rules.backup_share * price.backup_gb_month,
        "licence": (licensed - covered) * price.licence_core_month,
    }
    rounded = {name: round(value, 2) for name, value in parts.items()}
    return Cost(
        **rounded,
        total=round(sum(rounded.values()), 2),
        licensed_cores=licensed if price.licence_core_month else 0.0,
        owned_cores=covered,
    )


def _uses(price: Price, needs: dict[str, Need], rules: SizeRules) -> list[Use]:
    growth = (1 + rules.growth) ** rules.years
    found = []
    for dimension, need in needs.items():
        capacity = capacity_of(price, dimension)
        if capacity:
            found.append(Use(dimension, round(need.measured * growth / capacity, 4)))
    return sorted(found, key=lambda use: (-use.share, use.dimension))


def _next_smaller(
    choices: Sequence[SizeChoice], chosen: SizeChoice | None, price_of: Mapping[str, Price]
) -> SizeChoice | None:
    """Return the largest of the sizes that do not fit and cost less than the chosen one, the cheaper of equals."""
    if chosen is None:
        return None

    def place(each: SizeChoice) -> tuple[float, float, float, str]:
        price = price_of[each.size]
        return -price.cores, -price.memory_gb, each.cost.total, each.size

    below = [each for each in choices if not each.fits and each.cost.total <= chosen.cost.total]
    return min(below, key=place, default=None)


def _short_hours(load: Load, price: Price, rules: SizeRules) -> float:
    """Return the hours a month in which a size would have been too small for the load as it was, grown."""
    growth = (1 + rules.growth) ** rules.years
    short = np.zeros(len(load.frame), dtype=bool)
    for dimension, values in demands_of(load.frame).items():
        capacity = capacity_of(price, dimension)
        if capacity is not None:
            with np.errstate(invalid="ignore"):
                short |= values * growth > capacity
    return round(float(short.mean()) * rules.hours_month, 1)


def _break_even(
    chosen: SizeChoice | None, stay: float | None, effort: Hours | None, hour_cost: float
) -> BreakEven | None:
    if chosen is None or stay is None or effort is None:
        return None
    if hour_cost <= 0:
        raise UsageError("no cost of an hour of work", where="--hour-cost", hint="Give it with --stay and a hull file.")
    saved = stay - chosen.cost.total
    costs = effort.p50 * hour_cost, effort.p80 * hour_cost
    months = [round(cost / saved, 1) if saved > 0 else None for cost in costs]
    return BreakEven(stay, round(costs[0], 2), round(costs[1], 2), months[0], months[1])


# --- how far the samples can be trusted ---


def _doubts(load: Load) -> list[str]:
    """Return why the samples tell little, if they do."""
    found = []
    if load.hours < _WEEK:
        found.append(f"{load.hours:.0f} hours were sampled: less than a week misses the days of heavy load")
    if load.step_seconds > _LONGEST_STEP:
        found.append(f"one sample in {load.step_seconds / 60:.0f} minutes misses short peaks")
    expected = load.hours * 3600 / load.step_seconds + 1
    if len(load.frame) < expected * (1 - _GAP):
        found.append(f"{1 - len(load.frame) / expected:.0%} of the time has no sample")
    demands = demands_of(load.frame)
    busy = demands.get("cores", demands.get("iops"))
    if busy is not None:
        known = busy[~np.isnan(busy)]
        if len(known) and float(known.std()) < _FLAT * float(known.mean()):
            found.append("the load is flat: no peak was seen")
    missing = [name for name in ("cores", "memory gb", "iops", "storage gb") if name not in demands]
    if missing:
        found.append(f"nothing tells {', '.join(missing)}: any size counts as large enough there")
    return found
