"""Low, likely and high: the form in which every assumption about a quantity is stated, and draws from it."""

from typing import TYPE_CHECKING, Any, Final

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

Range = tuple[float, float, float]
"""Low, likely and high: the corners of a triangular distribution."""
SEED: Final = 20_240_131


def check_range(name: str, value: Range) -> None:
    """Raise ValueError unless 0 <= low <= likely <= high."""
    low, likely, high = value
    if not 0 <= low <= likely <= high:
        raise ValueError(f"{name} must be [low, likely, high] with 0 <= low <= likely <= high, not {list(value)}")


def mean(value: Range) -> float:
    """Return the mean of the triangular distribution."""
    return sum(value) / 3


def variance(value: Range) -> float:
    """Return the variance of the triangular distribution: (a² + b² + c² - ab - ac - bc) / 18."""
    a, b, c = value
    return (a * a + b * b + c * c - a * b - a * c - b * c) / 18


def draw(value: Range, rng: "np.random.Generator", count: int) -> "NDArray[np.float64]":
    """Return `count` draws from the triangular distribution; a range without width gives its one value."""
    import numpy as np

    low, likely, high = value
    return np.full(count, likely) if high <= low else rng.triangular(low, likely, high, size=count)


def percentiles(values: Any) -> tuple[float, float]:
    """Return what suffices in 50 and in 80 of 100 cases."""
    import numpy as np

    p50, p80 = np.percentile(values, [50, 80])
    return float(p50), float(p80)
