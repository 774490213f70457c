"""When a tree is due to be repotted: by how full its pot is, by the years its species is given, and when in the season."""

from dataclasses import dataclass
from datetime import date

from kesh.advice.season.standing import Standing, fill_signs
from kesh.model import Brief, Tree
from kesh.reference.tables import Species
from kesh.science.roots.filling import BOUND
from kesh.science.season.days import later
from kesh.science.season.season import MONTHS, Season

TRAINING = frozenset({"collected", "growing_on", "developing"})
# the next window comes a year later: what is due before it is done in this one, early and healthy
YEAR_DAYS = 365
EDGE_SHARE, MOST_TOLD = 0.02, 0.95
# share of the least years of a species before which no reckoning asks for root work again [J]
SOONEST_SHARE = 0.6


@dataclass(frozen=True)
class Due:
    """`by_fill` when roots fill the pot, `by_years` first and last day by the species' interval; `day` the one that is trusted.

    `now` whether the coming window is the one to take; None where neither is known, and `unknown` says what is missing.
    """

    tree: str
    last: date | None
    fill: float | None
    by_fill: date | None
    by_years: tuple[date, date] | None
    day: date | None
    now: bool | None
    why: str
    unknown: str = ""


def after_years(day: date, years: float) -> date:
    """So many years later; the 29 February becomes the 28th where there is none."""
    whole, part = int(years), years - int(years)
    if day.year + whole > date.max.year:
        return date.max
    try:
        moved = day.replace(year=day.year + whole)
    except ValueError:
        moved = day.replace(year=day.year + whole, day=28)
    return later(moved, round(part * 365.25))


def interval_years(tree: Tree, species: Species | None) -> tuple[float, float] | None:
    """Least and most years between repottings of this tree at its stage; None where the species row is silent."""
    if species is None:
        return None
    low, high = (
        (species.repot_years_training_low, species.repot_years_training_high)
        if tree.stage in TRAINING
        else (species.repot_years_refined_low, species.repot_years_refined_high)
    )
    return None if low is None else (low, high if high is not None else low)


def due_of(
    tree: Tree, brief: Brief, species: Species | None, standing: Standing | None, season: Season | None, today: date
) -> Due:
    """When one tree is due. Both ways are told; the one the user trusts sets the day, the other where it is silent."""
    last = standing.last if standing is not None else None
    years = interval_years(tree, species)
    by_years = None if last is None or years is None else (after_years(last, years[0]), after_years(last, years[1]))
    curve = standing.filling if standing is not None else None
    by_fill = curve.reaches(BOUND) if curve is not None else None
    # a pot that is reckoned full is not asked again a year later: that takes a sign somebody saw
    soonest = None
    if last is not None and years is not None and not _seen_full(tree, last):
        soonest = after_years(last, SOONEST_SHARE * years[0])
    if by_fill is not None and soonest is not None:
        by_fill = max(by_fill, soonest)
    fill = curve.at(today) if curve is not None else None
    middle = None if by_years is None else by_years[0] + (by_years[1] - by_years[0]) // 2
    first, second = (by_fill, middle) if brief.season_views.due == "fill" else (middle, by_fill)
    day = first if first is not None else second
    missing = _missing(tree, species, standing, last, years)
    if day is None:
        return Due(tree.id, last, fill, by_fill, by_years, None, None, "", missing)
    begins = today if season is None or season.first is None else later(season.first, YEAR_DAYS)
    # nothing is asked for in a window that lies before what its last root work allows
    rests = soonest is not None and season is not None and season.last is not None and soonest > season.last
    now = day < begins and not rests
    return Due(
        tree.id, last, fill, by_fill, by_years, day, now, _why(day, by_fill, by_years, fill, first is None), missing
    )


def _seen_full(tree: Tree, last: date) -> bool:
    """Whether a sign of a full pot was seen since the last root work."""
    return any(day > last for day, _ in fill_signs(tree))


def _why(day: date, by_fill: date | None, by_years: tuple[date, date] | None, fill: float | None, other: bool) -> str:
    told = []
    if by_fill is not None and fill is not None:
        if fill >= BOUND - EDGE_SHARE:
            # the curve only creeps towards the whole: nearer than this it says nothing more
            shown = f"{fill:.0%}" if fill < MOST_TOLD else f"over {MOST_TOLD:.0%}"
            told.append(f"roots fill {shown}; {BOUND:.0%} is full")
        else:
            told.append(f"roots fill {fill:.0%} now, {BOUND:.0%} in {MONTHS[by_fill.month - 1]} {by_fill.year}")
    if by_years is not None:
        span = (
            f"{by_years[0].year}"
            if by_years[0].year == by_years[1].year
            else f"{by_years[0].year} to {by_years[1].year}"
        )
        told.append(f"by years {span}")
    return "; ".join(told)


def _missing(
    tree: Tree, species: Species | None, standing: Standing | None, last: date | None, years: tuple[float, float] | None
) -> str:
    """What would settle it."""
    if standing is None:
        return "it stands in no pot"
    if species is None:
        return "name its species"
    if last is None:
        return "write down when it was last repotted"
    if standing.filling is None and years is None:
        return "measure its crown"
    return standing.assumed
