"""What own cases teach: a default that moves as they come in (docs/methods.md, "what the log teaches")."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

# so many cases a default counts for: settling, waste, minutes of a step, trial fits
PRIOR_CASES = 3.0


@dataclass(frozen=True)
class Learned:
    """The value in use, the default it started from, and how many own cases stand behind it."""

    value: float
    prior: float
    n: int

    def words(self) -> str:
        """Where the value comes from."""
        if not self.n:
            return "a default, no own case yet"
        return f"{self.n} own case{'' if self.n == 1 else 's'} and the default of {self.prior:.0%}"


def learned(prior: float, cases: Sequence[float], prior_cases: float = PRIOR_CASES) -> Learned:
    """(k0 m0 + n x)/(k0 + n) for a prior m0 worth k0 cases and n own cases with mean x."""
    n = len(cases)
    mean = float(np.mean(cases)) if n else 0.0
    return Learned((prior_cases * prior + n * mean) / (prior_cases + n), prior, n)
