"""The place's own days, as written down or taken from a file, laid out as whole years.

A 29 February is left out, the last of two rows for one day counts, and what is missing is the usual day: all of it is told.
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.model.site import Day, Month, Site
from kesh.science.season.windows import YEAR

# a year counts when so many of its days are there; a month's normal needs so many
LEAST_DAYS, LEAST_OF_MONTH = 300, 20
NAMES = ("tmin_c", "tmax_c", "rain_mm", "wind_m_s", "sun_h", "rh_pct")
Parts = tuple[Floats, Floats, Floats, Floats, Floats | None, Floats]


@dataclass(frozen=True)
class OwnYears:
    """Whole years of days (Y, 365) by name, nan where there is none; what was left out or doubled."""

    days: dict[str, Floats]
    names: tuple[int, ...]
    missing: int
    doubled: int
    short: tuple[int, ...]

    @property
    def years(self) -> int:
        """How many."""
        return len(self.names)

    def arrays(self, usual: Parts) -> Parts:
        """The years with the usual day where one is missing: tmin, tmax, rain, wind, sun, humidity."""
        found = []
        for name, plain in zip(NAMES, usual, strict=True):
            own = self.days[name]
            if plain is None:
                # sun that nobody wrote down anywhere stays unknown
                found.append(None if np.isnan(own).any() else own)
            else:
                found.append(np.where(np.isnan(own), plain, own))
        low, high, rain, wind, sun, rh = found
        assert low is not None and high is not None and rain is not None and wind is not None and rh is not None  # noqa: PT018
        # a day with only one of the two written down must not turn over
        return np.minimum(low, high), np.maximum(low, high), rain, wind, sun, rh

    def words(self) -> str:
        """What was made of the days, in a sentence; empty without any."""
        if not self.years and not self.short:
            return ""
        told = f"{self.years} whole year{'' if self.years == 1 else 's'} of your own weather"
        if self.years:
            told += f", {self.names[0]} to {self.names[-1]}" if self.years > 1 else f", {self.names[0]}"
        if self.missing:
            told += f"; {self.missing} day{'' if self.missing == 1 else 's'} missing, taken as usual"
        if self.doubled:
            told += f"; {self.doubled} doubled, the last counts"
        if self.short:
            told += f"; {', '.join(map(str, self.short[:4]))}{' …' if len(self.short) > 4 else ''} too short to count"
        if 0 < self.years < 10:
            told += ". Chances from so few years are rough"
        return told


@lru_cache(maxsize=16)
def own_years(site: Site) -> OwnYears:
    """The whole years among a place's own days; forecasts do not count."""
    rows: dict[tuple[int, int], Day] = {}
    doubled = 0
    for day in site.daily:
        if day.forecast or (day.date.month, day.date.day) == (2, 29):
            continue
        leap = day.date.year % 4 == 0 and (day.date.year % 100 != 0 or day.date.year % 400 == 0)
        of_year = day.date.timetuple().tm_yday - 1 - int(leap and day.date.month > 2)
        doubled += (day.date.year, of_year) in rows
        rows[day.date.year, of_year] = day
    counted: dict[int, int] = {}
    for year, _ in rows:
        counted[year] = counted.get(year, 0) + 1
    whole = tuple(sorted(y for y, n in counted.items() if n >= LEAST_DAYS))
    place = {year: i for i, year in enumerate(whole)}
    days = {name: np.full((len(whole), YEAR), np.nan) for name in NAMES}
    for (year, of_year), day in rows.items():
        if year in place:
            for name in NAMES:
                value = getattr(day, name)
                if value is not None:
                    days[name][place[year], of_year] = value
    short = tuple(sorted(y for y in counted if y not in place))
    return OwnYears(days, whole, sum(YEAR - counted[y] for y in whole), doubled, short)


def normals_of(days: tuple[Day, ...]) -> tuple[Month, ...]:
    """Twelve monthly normals of daily rows. Raises FieldError naming the months with too few days."""
    by_month: dict[int, list[Day]] = {m: [] for m in range(1, 13)}
    for day in {d.date: d for d in days if not d.forecast}.values():
        by_month[day.date.month].append(day)
    thin = [str(m) for m, found in by_month.items() if len(found) < LEAST_OF_MONTH]
    if thin:
        raise FieldError(
            "site.daily", f"months {', '.join(thin)} have fewer than {LEAST_OF_MONTH} days; normals need them all"
        )

    def mean(found: list[Day], name: str) -> float | None:
        known = [getattr(d, name) for d in found if getattr(d, name) is not None]
        return float(np.mean(known)) if len(known) >= LEAST_OF_MONTH else None

    lengths = (31, 28.25, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
    return tuple(
        Month(
            tmin_c=round(mean(found, "tmin_c") or 0.0, 2), tmax_c=round(mean(found, "tmax_c") or 0.0, 2),
            rain_mm=None if (r := mean(found, "rain_mm")) is None else round(r * length, 1),
            wind_m_s=mean(found, "wind_m_s"), rh_pct=mean(found, "rh_pct"), sun_h_day=mean(found, "sun_h"),
        )
        for found, length in zip(by_month.values(), lengths, strict=True)
    )  # fmt: skip
