"""How long a tree still passes the door, fits car and bench, and stays within the height it may be shown at."""

from dataclasses import dataclass

from kesh.advice.case import Case
from kesh.base.units import Units
from kesh.model import Pot
from kesh.science.looks.caps import HORIZON_YEARS, trend, year_reached, years_by_trend
from kesh.science.season.growth import grown


@dataclass(frozen=True)
class Cap:
    """A limit, when it is reached at the usual rate, and between which years by the tree's own record (None: never)."""

    words: str
    limit_mm: float
    years: float | None
    record: tuple[float | None, float | None] | None

    def sentence(self, u: Units) -> str:
        """What it means."""
        named = f"{self.words} of {u.mm(self.limit_mm)}"
        if self.years == 0:
            return f"{named}: it is over that now."
        usual = (
            f"not reached in {HORIZON_YEARS:g} years"
            if self.years is None
            else f"reached in about {self.years:.0f} years"
        )
        if self.record is None:
            return f"{named}: {usual} at the usual rate."
        early, late = (f"{y:.0f}" if y is not None else "never" for y in self.record)
        return (
            f"{named}: {usual} at the usual rate; by its own record {early if early == late else f'{early} to {late}'}."
        )


def caps(case: Case, pot: Pot | None) -> tuple[Cap, ...]:
    """The limits of the brief that growth runs into; those whose measure is missing are left out."""
    limits, below = case.brief.limits, (pot.height_mm if pot else 0.0) + case.seat.raise_mm
    asked = (
        ("The doorway", limits.doorway_mm, below, "height_mm"),
        ("The car", limits.car_height_mm, below, "height_mm"),
        ("The height allowed with its stand", limits.show_height_mm, below + case.brief.stand_mm, "height_mm"),
        ("The bench, by the tree's spread,", limits.bench_length_mm, 0.0, "spread_mm"),
    )
    return tuple(
        _cap(case, words, limit, fixed, field)
        for words, limit, fixed, field in asked
        if limit is not None and getattr(case.tree.measure, field) is not None
    )


def _cap(case: Case, words: str, limit: float, fixed: float, field: str) -> Cap:
    seen, value = trend(case.tree.measures, field), float(getattr(case.tree.measure, field))

    def whole(years: float) -> float:
        return fixed + float(getattr(grown(case.tree.measure, case.tree.stage, years), field) or 0.0)

    record = None
    if seen is not None:
        early, late = (years_by_trend(limit, fixed, value, rate) for rate in (seen.high, seen.low))
        record = (early, late)
    return Cap(words, limit, year_reached(limit, whole), record)
