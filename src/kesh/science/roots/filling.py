"""How roots fill the fresh mix (docs/methods.md, "roots fill the pot"): logistic, faster where much leaf feeds little soil. Rates [J]."""

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np

from kesh.science.season.days import later

HOLDS, BOUND, LEAF_M2_L = 0.6, 0.85, 0.06
# how full the soil is when a sign is seen [J]; a lifted rim and a ball that lifts out whole mean at least so much
SIGN_FILLS: Mapping[str, float] = {
    "lifted": 0.85, "roots_at_holes": 0.75, "drains_slowly": 0.80, "lifts_whole": 0.85, "loose_at_wall": 0.45,
}  # fmt: skip
AT_LEAST = frozenset({"lifted", "lifts_whole"})
SLOW_SECONDS, DAYS_YEAR, PRIOR_RATES, LEAST_RATE = 20.0, 365.25, 3.0, 0.05


def first_filling(kept_l: float, before: float, soil_l: float) -> float:
    """The share that is filled right after a repotting: what was kept times how full it was, of the whole, 0.05 to 0.84."""
    return float(np.clip(kept_l * before / max(soil_l, 1e-9), 0.05, 0.84))


def filling_rate(class_rate: float, leaf_m2: float, soil_l: float) -> float:
    """A year's rate: the class's, times the root of leaf area by soil against 0.06 m2 a litre, half to twice."""
    return float(class_rate * np.clip(np.sqrt(leaf_m2 / max(soil_l, 1e-9) / LEAF_M2_L), 0.5, 2.0))


def years_until(share: float, first: float, rate: float) -> float:
    """Years until so much is filled: ln[share (1 - f0) / (f0 (1 - share))] / r; nought where it is already."""
    if first >= share:
        return 0.0
    return float(np.log(share * (1 - first) / (first * (1 - share))) / rate)


@dataclass(frozen=True)
class Filling:
    """How full of roots a pot is along time: the last known share and its day, the rate in use, how many signs moved it."""

    day: date
    share: float
    rate: float
    signs: int = 0

    def at(self, day: date) -> float:
        """The share on a day; before the last known one it is that of the same curve run backwards."""
        years = (day - self.day).days / DAYS_YEAR
        if not 0.0 < self.share < 1.0:
            return float(self.share)
        logit = math.log(self.share / (1.0 - self.share))
        # by the hyperbolic tangent: it runs over at neither end
        return 0.5 * (1.0 + math.tanh((logit + self.rate * years) / 2))

    def reaches(self, share: float = BOUND) -> date | None:
        """The day on which so much is filled; None where that lies beyond a lifetime."""
        years = years_until(share, self.share, self.rate)
        return None if years > 200 else later(self.day, round(years * DAYS_YEAR))


def filling(first_day: date, first: float, rate: float, signs: Sequence[tuple[date, str]] = ()) -> Filling:
    """The curve from a repotting on: each sign seen since resets the share at its date, and moves the rate.

    The rate in use is (3 usual + rates seen)/(3 + how many); a rate seen is never below a twentieth of the usual one.
    """
    now, seen = Filling(first_day, first, rate), []
    for day, sign in sorted(signs):
        if sign not in SIGN_FILLS or day <= now.day:
            continue
        share = max(SIGN_FILLS[sign], now.at(day)) if sign in AT_LEAST else SIGN_FILLS[sign]
        share = float(np.clip(share, 0.05, 0.99))
        years = (day - now.day).days / DAYS_YEAR
        found = float(np.log(share * (1 - now.share) / (now.share * (1 - share)))) / years
        seen.append(max(found, LEAST_RATE * rate))
        now = Filling(day, share, (PRIOR_RATES * rate + sum(seen)) / (PRIOR_RATES + len(seen)), len(seen))
    return now
