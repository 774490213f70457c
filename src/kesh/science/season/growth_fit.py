"""How fast this tree grew: a straight line through the logarithms of its dated measures (docs/methods.md, "growth seen")."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError

CONFIDENCE = 0.80
# relative error of one measure by how it was taken; a caliper or scale of its own is the surest
ERROR = {"device": 0.01, "hand": 0.02, "photo": 0.03}
# a measure this share below the one before was cut back: what grew before says nothing of what grows now
CUT_BACK = 0.12
PRIOR_CASES = 5.0


@dataclass(frozen=True)
class Growth:
    """ln y = a + b t with t in years from the last measure; `n` measures since the last cut.

    `rate` is b, shrunk towards the usual rate by few cases. What comes is told from the last measure on, `last`; the line
    through all of them is `at_last` there. A band needs three measures or more.
    """

    last: float
    at_last: float
    rate: float
    seen_rate: float
    n: int
    _error: float
    _mean_t: float
    _spread_t: float
    _weight: float

    def at(self, years: float) -> float:
        """The size so many years after the last measure."""
        return float(self.last * np.exp(self.rate * years))

    def band(self, years: float) -> tuple[float, float] | None:
        """Where the size will lie in eight of ten such trees; None where fewer than three measures speak."""
        if self.n < 3:
            return None
        away = (years - self._mean_t) ** 2 / self._spread_t
        error = self._error * np.sqrt(1 / self._weight + 1.0 + away)
        from scipy.special import stdtrit

        half = float(stdtrit(self.n - 2, 0.5 + CONFIDENCE / 2)) * error
        return self.at(years) * float(np.exp(-half)), self.at(years) * float(np.exp(half))

    def reaches(self, size: float) -> float | None:
        """Years after the last measure at which a size is reached; None where it never is."""
        if size <= self.last:
            return 0.0
        return float(np.log(size / self.last) / self.rate) if self.rate > 1e-6 else None


def since_cut(sizes: Sequence[float]) -> int:
    """The number of the first measure that belongs to the growth of now."""
    first = 0
    for n in range(1, len(sizes)):
        if sizes[n] < sizes[n - 1] * (1 - CUT_BACK):
            first = n
    return first


def growth_seen(
    years: Sequence[float], sizes: Sequence[float], how: Sequence[str], usual_rate: float = 0.0
) -> Growth | None:
    """The growth of dated sizes, oldest first; None with fewer than two of different days. Raises FieldError.

    Weights are one over the square of each measure's error. The rate in use is (5 usual + (n - 1) seen)/(5 + n - 1).
    """
    if any(size <= 0 for size in sizes):
        raise FieldError("size", "a size must be above nought")
    first = since_cut(sizes)
    t, y = np.asarray(years[first:], float), np.log(np.asarray(sizes[first:], float))
    if len(t) < 2 or np.ptp(t) < 1e-3:
        return None
    t = t - t[-1]
    w = np.array([1 / ERROR.get(h, ERROR["hand"]) ** 2 for h in how[first:]])
    w = w / w.mean()
    middle, mean = float((w * t).sum() / w.sum()), float((w * y).sum() / w.sum())
    wide = float((w * (t - middle) ** 2).sum())
    rate = float((w * (t - middle) * (y - mean)).sum() / wide)
    left = y - (mean + rate * (t - middle))
    n = len(t)
    error = float(np.sqrt((w * left**2).sum() / (n - 2))) if n > 2 else 0.0
    cases = n - 1
    used = (PRIOR_CASES * usual_rate + cases * rate) / (PRIOR_CASES + cases)
    return Growth(
        float(sizes[-1]), float(np.exp(mean - rate * middle)), used, rate, n, error, middle, wide, float(w.sum())
    )
