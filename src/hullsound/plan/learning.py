"""What finished work teaches about the work that is left: team, constructs and spread, by Bayesian regression on log ratios."""

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, Final, NamedTuple

import numpy as np

from hullsound.assess.hours import DRAWS, Total, spread_of
from hullsound.ranges import SEED, mean
from hullsound.settings import EffortRules

if TYPE_CHECKING:
    from numpy.typing import NDArray

    Draws = NDArray[np.float64]

_PRIOR_WEIGHT: Final = 8.0
"""How many finished objects the assumed spread counts for, beside those that were finished."""
_CHUNK: Final = 256
"""Objects whose draws are made at once: 256 x 4,000 numbers are 8 MB."""


class Finished(NamedTuple):
    """One finished object: mean minutes by what they belong to, and what it took."""

    object: str
    minutes: Mapping[str, float]
    hours: float


class Lesson(NamedTuple):
    """What the actuals say of one construct, or of the team where `group` is ''."""

    group: str
    objects: int
    """Finished objects that hold it."""
    factor: float
    """What it takes against the estimate, in the middle: 1 where the estimate was right."""


class Learned:
    """The estimate of work, with what is finished taken into account.

    The log ratio of an object is that of the team, plus those of its constructs by their share of its minutes, plus its own
    deviation: y = Xb + e. The spreads of all three are the assumed ones times one unknown scale s, with e ~ N(0, s² spread²),
    and the prior of s² is inverse gamma, so that the posterior has a closed form (normal-inverse-gamma; Gelman et al., Bayesian
    Data Analysis, 3rd ed., chapter 14.8). Constructs shrink towards the estimate by how seldom they were finished, and where
    what happened is wider than assumed, s widens all that is left.
    """

    def __init__(self, total: Total, finished: Sequence[Finished], rules: EffortRules) -> None:
        self.rules = rules
        self.total = total
        self.finished = finished
        self.groups = sorted({group for each in finished for group in each.minutes})
        self._team = spread_of(rules.team)
        self._spreads = {key: spread_of((low, likely, high)) for key, (low, likely, high) in total.groups.items()}
        self._fit()

    def _fit(self) -> None:
        """Set mean and covariance of the effects (team first, then `groups`), and shape and scale of s²."""
        spreads = np.array([self._team, *(self._spreads.get(group, 0.0) for group in self.groups)])
        prior_mean = np.array([np.log(mean(self.rules.team)) - self._team**2 / 2, *(-(spreads[1:] ** 2) / 2)])
        rows = np.array([self._row(each.minutes) for each in self.finished]).reshape(-1, len(spreads))
        ratios = np.array([np.log(each.hours * 60 / sum(each.minutes.values())) for each in self.finished])
        own = self.rules.spread
        # In units of s: b = prior_mean + spreads * z, so that effects with no spread need no special case.
        design = rows * spreads / own
        residual = (ratios - rows @ prior_mean + own**2 / 2) / own
        precision = np.eye(len(spreads)) + design.T @ design
        self._covariance = np.linalg.inv(precision)
        self._z = self._covariance @ (design.T @ residual)
        count = len(self.finished)
        left = float(residual @ residual - self._z @ precision @ self._z) if count else 0.0
        self._shape = (_PRIOR_WEIGHT + count) / 2
        self._scale = (_PRIOR_WEIGHT + max(left, 0.0)) / 2
        self._prior_mean, self._effect_spreads = prior_mean, spreads

    def _row(self, minutes: Mapping[str, float]) -> list[float]:
        whole = sum(minutes.values())
        return [1.0, *(minutes.get(group, 0.0) / whole for group in self.groups)]

    @property
    def spread_factor(self) -> float:
        """How much wider (above 1) or narrower what happened was than assumed."""
        return float(np.sqrt(self._scale / self._shape))

    def lessons(self) -> list[Lesson]:
        """Return what was learned of the team and of each construct that was met, the most wrong estimate first."""
        effects = self._effect_spreads * self._z
        team = Lesson("", len(self.finished), float(np.exp(self._prior_mean[0] + effects[0])))
        constructs = [
            Lesson(group, sum(group in each.minutes for each in self.finished), float(np.exp(effects[place + 1])))
            for place, group in enumerate(self.groups)
        ]
        return [team, *sorted(constructs, key=lambda each: (-abs(np.log(each.factor)), each.group))]

    def expected(self, minutes: Mapping[str, float]) -> float:
        """Return the hours of one object in the middle: what shares of the whole are measured by."""
        if not self.finished:
            return sum(minutes.values()) * mean(self.rules.team) / 60
        effects = self._prior_mean + self._effect_spreads * self._z
        factors = dict(zip(self.groups, np.exp(effects[1:] + self._effect_spreads[1:] ** 2 / 2), strict=True))
        team = np.exp(effects[0] + self._team**2 / 2)
        return float(team * sum(value * factors.get(group, 1.0) for group, value in minutes.items())) / 60

    def draw(self, buckets: Sequence[Sequence[Mapping[str, float]]], draws: int = DRAWS) -> "Draws":
        """Return draws of the hours of each bucket of objects, each given by its mean minutes: shape (buckets, draws)."""
        rng = np.random.default_rng(SEED)
        if not self.finished:
            return self._prior_draws(buckets)
        scale = np.sqrt(self._scale / rng.gamma(self._shape, size=draws))
        root = np.linalg.cholesky(self._covariance)
        z = self._z[:, None] + scale * (root @ rng.standard_normal((len(self._z), draws)))
        effects = self._prior_mean[:, None] + self._effect_spreads[:, None] * z
        team, known = effects[0], dict(zip(self.groups, effects[1:], strict=True))
        factors: dict[str, Any] = {}
        for group in sorted({group for bucket in buckets for minutes in bucket for group in minutes}):
            spread = self._spreads.get(group, 0.0)
            effect = known[group] if group in known else spread * scale * rng.standard_normal(draws) - spread**2 / 2
            factors[group] = np.exp(team + effect)
        return np.array([self._bucket(bucket, factors, scale, rng, draws) for bucket in buckets]).reshape(-1, draws)

    def _bucket(
        self,
        bucket: Sequence[Mapping[str, float]],
        factors: Mapping[str, "Draws"],
        scale: "Draws",
        rng: np.random.Generator,
        draws: int,
    ) -> "Draws":
        hours = np.zeros(draws)
        own = self.rules.spread
        for start in range(0, len(bucket), _CHUNK):
            chunk = bucket[start : start + _CHUNK]
            used = sorted({group for minutes in chunk for group in minutes})
            weights = np.array([[minutes.get(group, 0.0) for group in used] for minutes in chunk]).reshape(
                -1, len(used)
            )
            matrix = np.array([factors[group] for group in used]).reshape(len(used), draws)
            noise = np.exp(own * scale * rng.standard_normal((len(chunk), draws)) - own**2 / 2)
            hours += ((weights @ matrix) * noise).sum(axis=0) / 60
        return hours

    def _prior_draws(self, buckets: Sequence[Sequence[Mapping[str, float]]]) -> "Draws":
        """Return draws that add up to those of the assessment, as long as nothing is finished."""
        factors = self.total.factors()
        keys = list(factors)
        place = {key: number for number, key in enumerate(keys)}
        weights = np.zeros((len(buckets), len(keys)))
        for row, bucket in zip(weights, buckets, strict=True):
            for minutes in bucket:
                for group, value in minutes.items():
                    row[place[group]] += value
        matrix = np.array([factors[key] for key in keys]).reshape(len(keys), DRAWS)
        return np.asarray(weights @ matrix / 60)
