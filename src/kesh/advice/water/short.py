"""The year of many pots in a few words each, for cards and lists: how often in the driest month, years that hurt, nights at risk."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.case import Case
from kesh.advice.figures import figures_for
from kesh.advice.rules.year import BORNE, HARMS, NIGHTS_FIT, NIGHTS_WATCH, graded
from kesh.advice.water.cold import nights_known, pot_cold
from kesh.advice.water.heat import EXPOSURE
from kesh.advice.water.year import YearAsked, place_of, pot_water_of, rest_days, weather_of
from kesh.base.errors import FieldError
from kesh.base.progress import Progress
from kesh.model import Pot
from kesh.science.climate.year import ensemble, leaf_by_day
from kesh.science.season.season import MONTHS

# pots that go through the years together
TOGETHER = 8


@dataclass(frozen=True)
class PotShort:
    """One pot: the driest month, days it lasts then, years in distress of so many, nights a year at risk (None where not known)."""

    month: int
    gap_days: float
    distress_years: int
    years: int
    nights: float | None

    @property
    def summer(self) -> str:
        """How the years bear it."""
        return graded(self.distress_years / max(self.years, 1), BORNE, HARMS)

    @property
    def winter(self) -> str:
        """How its nights bear it."""
        return "unknown" if self.nights is None else graded(self.nights, NIGHTS_FIT, NIGHTS_WATCH)

    @property
    def often(self) -> str:
        """'Jul: twice a day'."""
        return f"{MONTHS[self.month]}: {often_words(self.gap_days)}"

    @property
    def hurt(self) -> str:
        """'hurt in 12 of 60 years'."""
        return f"hurt in {self.distress_years} of {self.years} years" if self.distress_years else "no year hurts it"

    @property
    def frost(self) -> str:
        """'frost: 3 nights a year'."""
        if self.nights is None:
            return "frost not known"
        return (
            f"frost: {self.nights:.0f} night{'' if round(self.nights) == 1 else 's'} a year"
            if self.nights >= 0.5
            else "frost: hardly a night"
        )


def often_words(days: float) -> str:
    """How often a pot asks that lasts so long."""
    if days < 0.42:
        return f"{1 / days:.0f} times a day"
    if days < 0.75:
        return "twice a day"
    if days < 1.4:
        return "every day"
    return f"every {days:.0f} days" if days < 45 else "hardly ever"


def pots_short(
    stands: tuple[tuple[Case, Pot], ...], asked: YearAsked, progress: Progress | None = None
) -> dict[str, PotShort | str]:
    """By pot id; a sentence for a pot for which it cannot be told. All in the same weather."""
    found: dict[str, PotShort | str] = {}
    ready = []
    for case, pot in stands:
        try:
            f = figures_for(case, [pot])
            ready.append((f, pot, pot_water_of(f, exposure=EXPOSURE[place_of(f, asked)])))
        except FieldError as err:
            found[pot.id] = err.reason
    for start in range(0, len(ready), TOGETHER):
        part = ready[start : start + TOGETHER]
        try:
            plain, weather = weather_of(part[0][0], asked)
        except FieldError as err:
            found |= {pot.id: err.reason for _, pot, _ in part}
            continue
        f0 = part[0][0]
        assert f0.case.species is not None
        latitude = (f0.case.site.latitude_deg if f0.case.site else 0.0) or 0.0
        many = ensemble(
            [water for _, _, water in part], weather, leaf_by_day(f0.case.species, weather.mean_c, latitude),
            habit=asked.habit, roofed=asked.roofed, away=asked.away_days(), rest=rest_days(f0, plain),
        )  # fmt: skip
        nights_known([f for f, _, _ in part])
        for (f, pot, _), year in zip(part, many, strict=True):
            gaps = np.median(year.gap_days, axis=0)
            try:
                nights = pot_cold(f, weather).nights_a_year
            except FieldError:
                nights = None
            month = int(gaps.argmin())
            hurt = int(year.home_distress.sum())
            found[pot.id] = PotShort(month, float(gaps[month]), hurt, len(year.home_distress), nights)
        if progress is not None:
            progress.at((start + len(part)) / len(ready), f"{start + len(part)} of {len(ready)} pots")
    return found
