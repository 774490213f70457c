"""How much a tree has on its shoulders: what was done to it, each work fading with growth (docs/methods.md, "strain"). All figures [J]."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from kesh.base.errors import FieldError
from kesh.science.season.days import later
from kesh.science.season.windows import PLAIN, YEAR, Year

HALF_LIFE_GROWING_DAYS, HALF_LIFE_RESTING_DAYS, GROWS_ABOVE_C = 60.0, 240.0, 10.0
LIMITS: Mapping[str, float] = {"strong": 0.5, "normal": 0.4, "weak": 0.25, "sick": 0.0}
# what a work costs where nobody wrote down its own figure
WIRED_MAIN, WIRED_TWIGS, MOVED, DEFOLIATED, AILING, FOLIAGE_HALF = 0.15, 0.05, 0.10, 0.30, 0.30, 0.5
# the longest wait that is looked for, days
FARTHEST_DAYS = 3 * YEAR
# months in which a northern tree grows, where no climate is entered
GROWING_MONTHS = range(4, 11)


@dataclass(frozen=True)
class Load:
    """One work: its day, what it cost then as a share of what a tree bears, and its words."""

    day: date
    share: float
    words: str = ""
    kind: str = ""


class Grows:
    """How many growing days lie between two dates, by the usual means of a place, or by months where none are known."""

    def __init__(self, year: Year | None, latitude_deg: float | None = None) -> None:
        if year is None:
            days = [date(PLAIN, 1, 1) + timedelta(days=n) for n in range(YEAR)]
            south = (latitude_deg or 0) < 0
            grows = np.array([((d.month + 5) % 12 + 1 if south else d.month) in GROWING_MONTHS for d in days])
        else:
            grows = np.roll(np.array(year.mean_c), year.coldest) > GROWS_ABOVE_C
        self._grows = grows
        self._before = np.r_[0, np.cumsum(grows)]

    def growing(self, day: date) -> bool:
        """Whether a day counts as growth."""
        return bool(self._grows[min(day.timetuple().tm_yday, YEAR) - 1])

    def days(self, first: date, last: date) -> float:
        """Growing days from one date to a later one."""
        return float(self._since(last) - self._since(first))

    def _since(self, day: date) -> int:
        at = min(day.timetuple().tm_yday, YEAR) - 1
        return int(day.year * self._before[-1] + self._before[at])


def left_of(load: Load, day: date, grows: Grows) -> float:
    """What is left of a work on a later day; nothing of one that is still to come."""
    if day < load.day:
        return 0.0
    all_days = (day - load.day).days
    growing = min(grows.days(load.day, day), all_days)
    lives = growing / HALF_LIFE_GROWING_DAYS + (all_days - growing) / HALF_LIFE_RESTING_DAYS
    return float(load.share * 0.5**lives)


def strain_on(loads: Iterable[Load], day: date, grows: Grows, *, same_day: bool = False) -> float:
    """All that is left on a day. `same_day`: of works of one day the largest counts, not the sum."""
    by_day: dict[date, list[float]] = {}
    for load in loads:
        by_day.setdefault(load.day, []).append(left_of(load, day, grows))
    return float(sum(max(rows) if same_day else sum(rows) for rows in by_day.values()))


def limit_of(health: str) -> float:
    """What a tree of such health bears at one time. Raises FieldError."""
    if health not in LIMITS:
        raise FieldError("health", f"'{health}' is not one of {', '.join(LIMITS)}")
    return LIMITS[health]


def fits_on(
    loads: Sequence[Load], share: float, first: date, limit: float, grows: Grows, *, same_day: bool = False
) -> date | None:
    """The first day from one on which a work of such a share stays within the limit; None where none within three years does."""
    if share > limit:
        return None
    for n in range(FARTHEST_DAYS):
        day = later(first, n)
        if strain_on([*loads, Load(day, share)], day, grows, same_day=same_day) <= limit + 1e-9:
            return day
    return None
