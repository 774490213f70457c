"""What the years say of a tree in a pot: dry summers, wet winters, nights at risk, the hot wall; each with what would help, reckoned anew.

These are findings on how and where it is kept, not on the pot alone: they stand beside its verdict and do not change it.
"""

from collections.abc import Sequence
from datetime import date, timedelta

import numpy as np

from kesh.advice.assess import Finding
from kesh.advice.water.cold import PLACES, PLAN_K, TIPS_K
from kesh.advice.water.heat import EXPOSURE
from kesh.advice.water.year import DRY_IN_TIME_DAYS, Help, PotYear, YearAsked
from kesh.science.climate.heat import KILLS_C
from kesh.science.season.season import MONTHS, day_words

# share of years with a day in distress: borne, harmful; days too wet on end at rest in a middling year; nights a year that
# kill outer roots; hours a year over 40 degrees behind the wall [J]
BORNE, HARMS = 0.05, 0.20
WET_FITS_DAYS, WET_WATCH_DAYS = DRY_IN_TIME_DAYS, 10.0
NIGHTS_FIT, NIGHTS_WATCH = 0.2, 2.0
HOT_FITS_H, HOT_WATCH_H = 5.0, 50.0
HABIT_WORDS = {
    "asked": "whenever it asks",
    "twice": "twice a day",
    "daily": "once a day",
    "alternate": "every other day",
}
PLACE_WORDS = {
    "none": "on the open bench",
    "shade": "in the shade house",
    "half": "in half shade",
    "wall": "before a wall",
}
YEAR_CODES = ("dry_summer", "wet_winter", "night_at_risk", "hot_wall")


def graded(value: float, fits: float, watch: float) -> str:
    """fits up to one limit, watch up to another, no beyond."""
    return "fits" if value <= fits + 1e-9 else "watch" if value <= watch + 1e-9 else "no"


def year_findings(found: PotYear, asked: YearAsked, place: str) -> tuple[Finding, ...]:
    """The four findings, those that cannot be told as unknown."""
    return (_dry(found, asked, place), _wet(found, asked), _cold(found), _hot(found))


def _dry(found: PotYear, asked: YearAsked, place: str) -> Finding:
    many = found.many
    years, hurt = len(many.home_distress), int(many.home_distress.sum())
    share = hurt / max(years, 1)
    status = graded(share, BORNE, HARMS)
    gaps = np.median(many.gap_days, axis=0)
    month = int(gaps.argmin())
    limit = int(BORNE * years)
    text = (
        f"Looked at {HABIT_WORDS[asked.habit]}, it is in distress in {hurt} of {years} years; {limit} is the limit. "
        f"Full it lasts {gaps[month]:.1f} days in {MONTHS[month]}."
    )
    remedy = ""
    if status != "fits":
        better = [h for h in found.helps if h.distress_years < hurt and h.key in ("half", "finer", "moss", "oftener")]
        remedy = (
            _of_years(better, "distress_years") or "Look at it oftener, move it out of the wind, or take a larger pot."
        )
    return Finding(
        "dry_summer", status, share, "share", None, BORNE, text, remedy, "the years", "water",
        "bears the summer" if status == "fits" else f"dry in {hurt} of {years} years",
    )  # fmt: skip


def _of_years(helps: Sequence[Help], name: str, most: int = 3) -> str:
    """What helps with the years that are left: 'Half shade: 3 years. Finer grains: 7.'"""
    best = sorted(helps, key=lambda h: getattr(h, name))[:most]
    return " ".join(f"{h.words}: {getattr(h, name):.0f}{' years' if n == 0 else ''}." for n, h in enumerate(best))


def _wet(found: PotYear, asked: YearAsked) -> Finding:
    if found.rest is None or not found.rest.any():
        return Finding(
            "wet_winter", "fits", 0.0, "days", None, WET_FITS_DAYS, "It grows the whole year here: no winter in which it stays wet.", "",
            "the years", "water", "no winter rest",
        )  # fmt: skip
    days = float(np.median(found.many.rest_wet_days))
    status = graded(days, WET_FITS_DAYS, WET_WATCH_DAYS)
    text = f"At rest it stands too wet for {days:.0f} days on end in a middling year; {WET_FITS_DAYS:.0f} are usual, {WET_WATCH_DAYS:.0f} the limit."
    remedy = ""
    if status != "fits":
        better = [h for h in found.helps if h.rest_wet_days < days - 0.5 and h.key in ("roof", "coarser")]
        rows = sorted(better, key=lambda h: h.rest_wet_days)
        remedy = (
            " ".join(f"{h.words}: {h.rest_wet_days:.0f} days{_price(h, found)}." for h in rows)
            or "A roof in the wet months, coarser grains, or a tilt after rain."
        )
    return Finding(
        "wet_winter", status, days, "days", None, WET_FITS_DAYS, text, remedy, "the years", "water",
        "bears the winter" if status == "fits" else f"wet {days:.0f} days on end",
    )  # fmt: skip


def _price(one: Help, found: PotYear) -> str:
    """What helps in winter and hurts in summer says so."""
    years = len(found.many.home_distress)
    hurt = one.distress_years - int(found.many.home_distress.sum())
    return f", but {hurt} more dry summers in {years}" if hurt > BORNE * years else ""


def _day(of_year: int) -> str:
    return day_words(date(2023, 1, 1) + timedelta(days=of_year))


def _not_reckoned(code: str, unit: str, limit: float, what: str, model: str) -> Finding:
    return Finding(
        code, "unknown", None, unit, None, limit, f"{what} is not known.",
        "Name the pot's material on the Shelf.", f"{model} model", "handling", f"{model} not reckoned",
    )  # fmt: skip


def _cold(found: PotYear) -> Finding:
    cold = found.cold
    if cold is None:
        return _not_reckoned("night_at_risk", "nights", NIGHTS_FIT, "How cold its roots become", "frost")
    where = PLACES[cold.place].words
    if cold.never:
        return Finding(
            "night_at_risk", "fits", 0.0, "nights", None, NIGHTS_FIT, f"No night kills its outer roots {where}.", "",
            "frost model", "handling", "no night kills roots",
        )  # fmt: skip
    nights = cold.nights_a_year
    status = graded(nights, NIGHTS_FIT, NIGHTS_WATCH)
    text = f"A night of {celsius(cold.night_c)} kills its outer roots {where}; {nights:.1f} such nights a year"
    if cold.first is not None and cold.last is not None and nights >= 0.05:
        text += f", {_day(cold.first)} to {_day(cold.last)}"
    remedy = ""
    if status != "fits":
        better = [p for p in found.places if p.nights_a_year < nights]
        told = " ".join(
            f"{PLACES[p.place].words[:1].upper()}{PLACES[p.place].words[1:]}: {p.nights_a_year:.1f}{' nights' if n == 0 else ''}."
            for n, p in enumerate(better[:3])
        )
        remedy = f"{told} Do it from {celsius(cold.night_c + PLAN_K)} on, with new root tips from {celsius(cold.night_c + TIPS_K)}.".strip()
    return Finding(
        "night_at_risk", status, nights, "nights", None, NIGHTS_FIT, f"{text}.", remedy, "frost model", "handling",
        "bears the frost" if status == "fits" else f"{nights:.0f} nights a year at risk" if nights >= 1 else "a night at risk",
    )  # fmt: skip


def _hot(found: PotYear) -> Finding:
    heat = found.heat
    if heat is None:
        return _not_reckoned("hot_wall", "h", HOT_FITS_H, "How hot its wall becomes", "heat")
    hours, year = heat.year.hours_40, heat.year
    status = graded(hours, HOT_FITS_H, HOT_WATCH_H)
    text = (
        f"15 mm behind the lit wall it is over 40 °C for {hours:.0f} h a year and over 35 °C for {year.hours_35:.0f} h; "
        f"{year.peak_c:.0f} °C on the hottest day of a middling year."
    )
    if year.peak_c >= KILLS_C:
        text += f" Over {KILLS_C:.0f} °C roots die within hours."
    remedy = ""
    if status != "fits":
        remedy = (
            " ".join(f"{c.words[:1].upper()}{c.words[1:]}: {c.hours_40:.0f} h." for c in heat.helps[:3])
            or "Shade the wall at noon."
        )
    return Finding(
        "hot_wall", status, hours, "h", None, HOT_FITS_H, text, remedy, "heat model", "handling",
        "wall stays cool" if status == "fits" else f"{hours:.0f} h over 40 °C",
    )  # fmt: skip


def celsius(degrees: float) -> str:
    """Whole degrees with a true minus."""
    return f"{degrees:.0f} °C".replace("-", "−")


def place_sentence(place: str) -> str:
    """Where it stands and how much more or less it uses there."""
    return f"{PLACE_WORDS[place]}, use × {EXPOSURE[place]:g}"
