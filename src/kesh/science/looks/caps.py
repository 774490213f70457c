"""When a growing tree reaches a limit: by the usual rates, and by its own dated measures with their range."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from kesh.model.tree import Measure

HORIZON_YEARS = 30.0
LEAST_SPAN_YEARS = 1.5
LEAST_COUNT = 3


@dataclass(frozen=True)
class Trend:
    """Growth of a figure a year as a share of it, with a range of one standard error either way, from dated measures."""

    rate: float
    low: float
    high: float
    count: int


def trend(measures: Sequence[Measure], field: str) -> Trend | None:
    """Least squares of the logarithm over time; None for fewer than three dated figures over a year and a half."""
    dated = [
        (m.taken.toordinal() / 365.25, float(getattr(m, field)))
        for m in measures
        if m.taken is not None and getattr(m, field)
    ]
    if len({when for when, _ in dated}) < LEAST_COUNT or dated[-1][0] - dated[0][0] < LEAST_SPAN_YEARS:
        return None
    when = np.array([d[0] for d in dated]) - dated[0][0]
    log = np.log([d[1] for d in dated])
    middle = when - when.mean()
    rate = float(np.sum(middle * (log - log.mean())) / np.sum(middle**2))
    rest = log - log.mean() - rate * middle
    error = float(np.sqrt(np.sum(rest**2) / max(len(dated) - 2, 1) / np.sum(middle**2)))
    return Trend(rate, rate - error, rate + error, len(dated))


def year_reached(limit: float, at: Callable[[float], float], most: float = HORIZON_YEARS) -> float | None:
    """Years until a growing figure passes a limit, to a tenth; 0 when it has, None when it will not within `most`."""
    if at(0.0) >= limit:
        return 0.0
    if at(most) < limit:
        return None
    low, high = 0.0, most
    while high - low > 0.05:
        middle = (low + high) / 2
        low, high = (middle, high) if at(middle) < limit else (low, middle)
    return round(high, 1)


def years_by_trend(limit: float, fixed: float, value: float, rate: float) -> float | None:
    """Years until fixed + value e^(rate t) reaches a limit; 0 when it has, None when it does not grow toward it."""
    if fixed + value >= limit:
        return 0.0
    if rate <= 1e-6:
        return None
    years = float(np.log((limit - fixed) / value) / rate)
    return round(years, 1) if years <= HORIZON_YEARS else None
