"""How long a tree still passes the door and stays within the height it may be shown at."""

from dataclasses import dataclass

from kesh.advice.case import Case
from kesh.model import Pot
from kesh.model.units import Units
from kesh.science.caps import HORIZON_YEARS, trend, year_reached, years_by_trend
from kesh.science.growth import grown


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
    """The limits of the brief that growth runs into; empty while the height is not measured."""
    height = case.tree.measure.height_mm
    if height is None:
        return ()
    below = (pot.height_mm if pot else 0.0) + case.seat.raise_mm
    found = []
    seen = trend(case.tree.measures, "height_mm")
    for words, limit, fixed in (
        ("The doorway", case.brief.limits.doorway_mm, below),
        ("The height allowed with its stand", case.brief.limits.show_height_mm, below + case.brief.stand_mm),
    ):
        if limit is None:
            continue

        def whole(years: float, fixed: float = fixed) -> float:
            return fixed + (grown(case.tree.measure, case.tree.stage, years).height_mm or 0.0)

        record = None
        if seen is not None:
            record = tuple(years_by_trend(limit, fixed, height, rate) for rate in (seen.high, seen.low))
        found.append(Cap(words, limit, year_reached(limit, whole), record))  # type: ignore[arg-type]
    return tuple(found)
