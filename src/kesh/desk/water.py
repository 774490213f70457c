"""Step Water without a window: what is asked of the year, what its chart shows, and what it says in words."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesh.advice.rules.year import HABIT_WORDS, celsius, summer_status, winter_status
from kesh.advice.water.cold import PotCold
from kesh.advice.water.year import Help, PotYear
from kesh.base.units import Units
from kesh.geometry.outline import Floats
from kesh.model import Keeping, Pot
from kesh.science.climate.weather import MONTH_DAYS
from kesh.science.climate.year import LONGEST_GAP
from kesh.science.season.season import MONTHS

HABITS = HABIT_WORDS
OVERHEAD = {"rain": "in the rain", "roof": "under a roof"}


@dataclass(frozen=True)
class YearChart:
    """One pot by month, each in one year of ten, in a middling one and in nine of ten (3, 12): days it lasts, hours a day dry and too wet, waterings."""

    pot: Pot
    gap_days: Floats
    dry_hours: Floats
    wet_hours: Floats
    waterings: Floats
    busiest_week: int
    waterings_year: float
    rest_wet_days: float
    distress_years: int
    away_years: int
    years: int
    driest: int
    rain_mm: tuple[float, ...] = ()
    frost_nights: tuple[float, ...] = ()
    risk_nights: tuple[float, ...] = ()
    hot_hours: tuple[float, ...] = ()
    harm_hours: tuple[float, ...] = ()
    cold: PotCold | None = None
    helps: tuple[Help, ...] = ()

    # how the years bear it in summer, and how its roots breathe at rest
    status: str = "fits"
    winter: str = "fits"


def chart_of(pot: Pot, found: PotYear) -> YearChart:
    """What the chart shows of a year."""
    many = found.many

    def bands(values: Floats) -> Floats:
        return np.percentile(values, (10, 50, 90), axis=0)

    gaps = bands(many.gap_days)
    return YearChart(
        pot, gaps, bands(many.dry_by_month / MONTH_DAYS), bands(many.wet_by_month / MONTH_DAYS), bands(many.waterings_by_month), found.usual.busiest_week, float(np.median(many.waterings)), float(np.median(many.rest_wet_days)),
        int(many.home_distress.sum()), int(many.away_distress.sum()), len(many.distress), int(gaps[1].argmin()),
        found.rain_mm, found.frost_nights, found.cold.by_month if found.cold is not None else (),
        () if found.heat is None else tuple(float(v) for v in found.heat.year.by_month_35),
        () if found.heat is None else tuple(float(v) for v in found.heat.year.by_month_40), found.cold, found.helps, summer_status(found), winter_status(found),
    )  # fmt: skip


def days_words(days: float) -> str:
    """Days a pot lasts, as people say them."""
    if days >= LONGEST_GAP:
        return "weeks"
    if days < 10:
        return f"{days:.1f} days"
    return f"{days:.0f} days"


def away_words(keeping: Keeping) -> str:
    """The days without a keeper; empty without any."""
    a, b = keeping.away_from, keeping.away_to
    if a is None or b is None:
        return ""
    return f"{a.day} {MONTHS[a.month - 1]} to {b.day} {MONTHS[b.month - 1]}"


def title_words(chart: YearChart) -> str:
    """The year of the pot in hand in a line: how long it lasts, and what hurts it."""
    lasts = f"{MONTHS[chart.driest]}: full it lasts {days_words(float(chart.gap_days[1][chart.driest]))}"
    if chart.winter != "fits" and (chart.status == "fits" or chart.winter == "no"):
        return f"{lasts}; winter: {chart.rest_wet_days:.0f} days wet"
    return f"{lasts}; " + (
        f"hurt in {chart.distress_years} of {chart.years}" if chart.distress_years else "no year hurts it"
    )


def figures_of(found: PotYear, chart: YearChart, u: Units) -> tuple[tuple[str, str], ...]:
    """(what, figure) of the pot in hand."""
    use, many = found.usual, found.many
    low, middle, high = np.percentile(many.waterings, (10, 50, 90))
    return (
        ("Waterings in a middling year", f"{middle:.0f}"),
        ("In eight of ten years", f"{low:.0f} to {high:.0f}"),
        ("Most in one month", f"{chart.waterings[1].max():.0f}, {MONTHS[int(chart.waterings[1].argmax())]}"),
        ("Busiest week, usual year", f"{use.busiest_week}"),
        ("Water given in a year", u.litres(float(np.median(many.irrigation_l)))),
        ("Drunk by the tree", u.litres(use.transpiration_l)),
        ("Lost from the soil", u.litres(use.evaporation_l)),
        ("Drained", u.litres(float(np.median(many.drainage_l)))),
        ("Too wet on end, middling year", f"{np.median(many.longest_wet_days):.0f} days"),
        ("Holds for the tree", u.litres(found.water.available_l)),
        *((name, u.told(told)) for name, told in cold_rows(found.cold)),
    )


def cold_rows(cold: PotCold | None) -> tuple[tuple[str, str], ...]:
    """What its roots bear, the night that kills the outer ones where it winters, and how often it comes."""
    if cold is None:
        return ()
    rows = [("Roots hardy to", celsius(cold.limit_c))]
    if cold.never:
        return (*rows, ("A night that kills outer roots", "none"))
    rows.append(("A night that kills outer roots", celsius(cold.night_c)))
    return (*rows, ("Such nights where it winters", f"{cold.nights_a_year:.1f} a year"))


def advice_words(chart: YearChart, keeping: Keeping, others: Sequence[YearChart]) -> str:
    """What the years say and what else stands here that would bear them better."""
    share = chart.distress_years / max(chart.years, 1)
    habit = HABITS[keeping.habit]
    if chart.status == "fits":
        told = f"Looked at {habit} it bears {1 - share:.0%} of years."
    else:
        told = f"Looked at {habit} it is in distress in {chart.distress_years} of {chart.years} years."
        better = [o for o in others if o.distress_years < chart.distress_years]
        if better:
            best = min(better, key=lambda o: o.distress_years)
            told += f" {best.pot.name}: {best.distress_years}."
    if keeping.away_from and keeping.away_to:
        days = (keeping.away_to - keeping.away_from).days + 1
        told += f" Alone for {days} days it suffers in {chart.away_years} of {chart.years} years."
    return told
