"""The year of many pots in a few words each, for cards and lists: how often in the driest month, years that hurt, nights at risk."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.answer_words import often_words
from kesh.advice.case import Case
from kesh.advice.figures import figures_for
from kesh.advice.rules.year import night_status, summer_status
from kesh.advice.water.year import PotYears, YearAsked, shelf_years
from kesh.base.progress import Progress
from kesh.base.words import counted
from kesh.model import Pot
from kesh.science.season.season import MONTHS

# pots that go through the years together
TOGETHER = 12


@dataclass(frozen=True)
class PotShort:
    """One pot: the driest month, days it lasts then, years in distress of so many, nights a year at risk (None where not known)."""

    month: int
    gap_days: float
    distress_years: int
    years: int
    nights: float | None

    summer: str = "fits"
    winter: str = "unknown"

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


def short_of(found: PotYears) -> PotShort:
    """The year of a pot in a few words."""
    gaps = np.median(found.many.gap_days, axis=0)
    month = int(gaps.argmin())
    nights = None if found.cold is None else found.cold.nights_a_year
    return PotShort(
        month, float(gaps[month]), int(found.many.home_distress.sum()), len(found.many.home_distress), nights,
        summer_status(found), night_status(found),
    )  # fmt: skip


def pots_years(
    case: Case, pots: tuple[Pot, ...], asked: YearAsked, progress: Progress | None = None
) -> dict[str, PotYears | str]:
    """What the years say of many pots under a tree, by pot id; a sentence for one of which it cannot be told. All in the same weather."""
    found: dict[str, PotYears | str] = {}
    for start in range(0, len(pots), TOGETHER):
        part = pots[start : start + TOGETHER]
        found |= dict(zip((pot.id for pot in part), shelf_years(figures_for(case, part), asked), strict=True))
        if progress is not None:
            progress.at((start + len(part)) / len(pots), f"{start + len(part)} of {counted(len(pots), 'pot')}")
    return found
