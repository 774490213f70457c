"""n of N and means of few cases, with how far they may be off (docs/methods.md, "what the log teaches")."""

from collections.abc import Sequence
from dataclasses import dataclass
from statistics import NormalDist

import numpy as np

from kesh.base.errors import FieldError

CONFIDENCE = 0.80
LEAST_FOR_SPREAD = 4


@dataclass(frozen=True)
class Count:
    """So many of so many, a range where somebody was not sure, and the interval of the true share."""

    low: int
    high: int
    of: int
    share_low: float
    share_high: float

    def words(self) -> str:
        """Never a share without its whole: "9 of 12 (58 to 87 % is likely)"."""
        n = f"{self.low}" if self.low == self.high else f"{self.low} to {self.high}"
        return f"{n} of {self.of} ({100 * self.share_low:.0f} to {100 * self.share_high:.0f} % is likely)"


def wilson(n: float, of: float, confidence: float = CONFIDENCE) -> tuple[float, float]:
    """Interval of a share from n of N (Wilson 1927). Raises FieldError where the whole is missing or smaller than its part."""
    if of <= 0:
        raise FieldError("of", "a share needs its whole: how many were there in all?")
    if not 0 <= n <= of:
        raise FieldError("n", f"{n:g} of {of:g} cannot be")
    z = NormalDist().inv_cdf(0.5 + confidence / 2)
    share, z2 = n / of, z * z
    middle = (share + z2 / (2 * of)) / (1 + z2 / of)
    half = z / (1 + z2 / of) * np.sqrt(share * (1 - share) / of + z2 / (4 * of * of))
    return float(max(middle - half, 0.0)), float(min(middle + half, 1.0))


def count(low: int, high: int, of: int) -> Count:
    """A count with its interval; a count that was only guessed as a range has the interval of both ends. Raises FieldError."""
    return Count(low, high, of, wilson(low, of)[0], wilson(high, of)[1])


def spread(cases: Sequence[float], confidence: float = CONFIDENCE) -> tuple[float, float] | None:
    """Where the mean of the cases lies by Student's t; None with fewer than four, which tell nothing of their spread."""
    n = len(cases)
    if n < LEAST_FOR_SPREAD:
        return None
    from scipy.special import stdtrit

    mean, error = float(np.mean(cases)), float(np.std(cases, ddof=1) / np.sqrt(n))
    half = float(stdtrit(n - 1, 0.5 + confidence / 2)) * error
    return mean - half, mean + half
