"""What the years say of a tree in a pot: dry summers, wet winters, nights at risk, the hot wall; each with what would help, reckoned anew.

They belong to the answer whether it lives there, kept as it is kept (docs/methods.md, "three answers and one verdict").
"""

from collections.abc import Sequence
from datetime import date, timedelta

import numpy as np

from kesh.advice.assess import Finding
from kesh.advice.checks import Checks
from kesh.advice.figures import Figures
from kesh.advice.finding import Result, Rule, Words
from kesh.advice.water.cold import PLACES, PLAN_K, TIPS_K, PotCold
from kesh.advice.water.heat import EXPOSURE
from kesh.advice.water.year import DRY_IN_TIME_DAYS, HURTS, Help, PotYears, YearAsked
from kesh.base.status import STATUS
from kesh.base.units import Units
from kesh.science.climate.heat import KILLS_C, HotWeek
from kesh.science.season.season import MONTHS, day_words

# share of years with a day in distress: borne, harmful [J]
BORNE, HARMS = HURTS, 0.20
# looked at once a day: the share of years with distress that is left at twice a day, from which it is the pot and not the habit
TWICE_HARMS = 0.50
# a full pot that lasts half a day is watered twice in the hottest weeks: that is how small pots are kept
HALF_DAY = 0.5
# what lasts a quarter of a day can still be kept, by drip or a tray; what lasts less is the wrong pot
LEAST_LASTS = 0.25
# days on end at rest on which the lowest third lacks air: to be watched; on which even the upper half does: no [J]
WET_FITS_DAYS, DROWNS_DAYS = DRY_IN_TIME_DAYS, 10.0
# nights a year that kill outer roots: borne by a hardy tree, by one whose roots die at a light frost. More are to be watched, for
# there is a usual way to winter such a tree; no is where the usual night of the coldest weeks kills it where it stands [J]
NIGHTS_FIT, NIGHTS_FIT_TENDER, HARDY_C = 0.5, 0.2, -6.0
# how much colder than what it bears the usual night may be for a tree that is heeled in anyway
NEARLY_K = 3.0
# share of the root volume that comes over 40 degrees in the hottest usual week: fits, watch; over 46 for two hours: no [J]
HOT_FITS, HOT_WATCH, KILLED_MOST = 0.08, 0.25, 0.10
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


def summer_status(found: PotYears) -> str:
    """How the years bear it: what twice a day would mend is a thing to watch for a keeper who looks once."""
    status = graded(float(found.many.home_distress.mean()), BORNE, HARMS)
    twice = found.oftener
    if status == "fits" or twice is None:
        return status
    left, lasts = float(twice.home_distress.mean()), float(np.median(found.many.gap_days, axis=0).min())
    if left <= BORNE + 1e-9 and lasts >= HALF_DAY:
        return "fits"
    return "watch" if left <= TWICE_HARMS + 1e-9 or lasts >= LEAST_LASTS else status


def winter_status(found: PotYears) -> str:
    """How its roots breathe at rest."""
    if found.wades or found.rest is None or not found.rest.any():
        return "fits"
    if float(np.median(found.many.rest_drowned_days)) > DROWNS_DAYS + 1e-9:
        return "no"
    return "watch" if float(np.median(found.many.rest_wet_days)) > WET_FITS_DAYS + 1e-9 else "fits"


def nights_borne(cold: PotCold) -> float:
    """Nights a year at risk that its roots bear."""
    return NIGHTS_FIT if cold.limit_c <= HARDY_C else NIGHTS_FIT_TENDER


def night_status(found: PotYears) -> str:
    """How its nights bear it: a hardy tree that is heeled in through the frosts, as is usual, is at ease."""
    cold = found.cold
    if cold is None:
        return "unknown"
    if cold.nights_a_year <= nights_borne(cold) + 1e-9:
        return "fits"
    if not cold.never and cold.usual_c <= cold.night_c:
        # a native of cold places is heeled in there every winter: not the pot is wrong
        return "watch" if usually_covered(found) and cold.usual_c > cold.night_c - NEARLY_K else "no"
    return "fits" if usually_covered(found) else "watch"


def usually_covered(found: PotYears) -> bool:
    """Whether the usual winter cover is enough for a tree that is at home outdoors."""
    cold, covered = found.cold, found.covered
    return (
        cold is not None and covered is not None and cold.limit_c <= HARDY_C
        and covered.nights_a_year <= nights_borne(covered) + 1e-9
    )  # fmt: skip


def hot_status(hot: HotWeek | None) -> str:
    """How its roots bear the sun on the wall."""
    if hot is None:
        return "unknown"
    return "no" if hot.share_46 > KILLED_MOST else graded(hot.share_40, HOT_FITS, HOT_WATCH)


def year_findings(found: PotYears, asked: YearAsked) -> tuple[Finding, ...]:
    """The four findings, those that cannot be told as unknown."""
    return (_dry(found, asked), _wet(found), _cold(found), _hot(found))


def _untold(code: str, why: str) -> Finding:
    what = {"dry_summer": "How it bears a dry summer", "wet_winter": "How it bears a wet winter", "night_at_risk": "How cold its roots become", "hot_wall": "How hot its wall becomes"}[code]  # fmt: skip
    return Finding(code, "unknown", None, "", None, None, f"{what} is not known.", f"{why[:1].upper()}{why[1:]}.", "the years", "water", "the year is not known")  # fmt: skip


def year_checks(years: Sequence[PotYears | str], asked: YearAsked) -> Checks:
    """What the years say of N pots as rows of the rule table, so that verdict, cards and report read them like all others."""
    told = [year_findings(one, asked) if isinstance(one, PotYears) else tuple(_untold(c, one) for c in YEAR_CODES) for one in years]  # fmt: skip
    return tuple((_year_rule(k, told), _year_result(k, told)) for k in range(len(YEAR_CODES)))


def _year_result(k: int, told: list[tuple[Finding, ...]]) -> Result:
    def column(name: str) -> np.ndarray:
        return np.array([np.nan if getattr(row[k], name) is None else getattr(row[k], name) for row in told], float)

    status = np.array([STATUS.index(row[k].status) for row in told], dtype=np.int8)
    return Result(column("value"), column("low"), column("high"), status, np.array([1.0, 0.5, 0.0, 0.5])[status])


def _year_rule(k: int, told: list[tuple[Finding, ...]]) -> Rule:
    def words(f: Figures, r: Result, i: int, u: Units) -> Words:
        one = told[i][k]
        return Words(one.text, one.remedy, one.short, one.short if one.status in ("watch", "no") else "")

    one = told[0][k] if told else _untold(YEAR_CODES[k], "")
    return Rule(YEAR_CODES[k], one.part, one.unit, one.source, lambda f: None, words, weight=0.0)


def _dry(found: PotYears, asked: YearAsked) -> Finding:
    many = found.many
    years, hurt = len(many.home_distress), int(many.home_distress.sum())
    share = hurt / max(years, 1)
    status = summer_status(found)
    gaps = np.median(many.gap_days, axis=0)
    month = int(gaps.argmin())
    limit = int(BORNE * years)
    often = f"Full it lasts {gaps[month]:.1f} days in {MONTHS[month]}."
    text = f"Looked at {HABIT_WORDS[asked.habit]}, it is in distress in {hurt} of {years} years; {limit} is the limit. {often}"
    remedy, short = "", "bears the summer" if status == "fits" else f"dry in {hurt} of {years} years"
    twice = found.oftener
    if status != "no" and twice is not None:
        left = int(twice.home_distress.sum())
        calm = "Twice a day" if left <= limit else "Twice a day and some shade"
        text = f"{calm} in {MONTHS[month]}: usual for a pot of this size here. Looked at once a day it suffers in {hurt} of {years} years, twice in {left}."
        short = f"twice a day in {MONTHS[month]}, as usual" if status == "fits" else f"twice a day in {MONTHS[month]}"
    if status != "fits":
        better = [h for h in found.helps if h.distress_years < hurt and h.key in ("half", "finer", "moss", "oftener")]
        remedy = (
            _of_years(better, "distress_years") or "Look at it oftener, move it out of the wind, or take a larger pot."
        )
    return Finding("dry_summer", status, share, "share", None, BORNE, text, remedy, "the years", "water", short)


def _of_years(helps: Sequence[Help], name: str, most: int = 3) -> str:
    """What helps with the years that are left: 'Half shade: 3 years. Finer grains: 7.'"""
    best = sorted(helps, key=lambda h: getattr(h, name))[:most]
    return " ".join(f"{h.words}: {getattr(h, name):.0f}{' years' if n == 0 else ''}." for n, h in enumerate(best))


def _wet(found: PotYears) -> Finding:
    def made(status: str, days: float, text: str, remedy: str, short: str) -> Finding:
        return Finding(
            "wet_winter", status, days, "days", None, WET_FITS_DAYS, text, remedy, "the years", "water", short
        )

    if found.rest is None or not found.rest.any():
        return made("fits", 0.0, "It grows the whole year here: no winter in which it stays wet.", "", "no winter rest")
    low, upper = (float(np.median(d)) for d in (found.many.rest_wet_days, found.many.rest_drowned_days))
    if found.wades:
        return made("fits", low, "It is at home in wet ground: no winter is too wet for it.", "", "bears a wet winter")
    status = winter_status(found)
    if status == "fits":
        text = (
            "At rest its roots have the air they need so cold, in a middling year."
            if low < 1
            else f"At rest the lowest third is short of air for {low:.0f} days on end in a middling year; up to {WET_FITS_DAYS:.0f} are usual."
        )
        return made(status, low, text, "", "bears the winter")
    better = [h for h in found.helps if h.rest_wet_days < low - 0.5 and h.key in ("roof", "coarser")]
    rows = sorted(better, key=lambda h: h.rest_wet_days)
    remedy = (
        " ".join(f"{h.words}: {h.rest_wet_days:.0f} days{_price(h, found)}." for h in rows)
        or "Tilt it after rain, cover it in the wet months, or take coarser grains."
    )
    if status == "no":
        text = f"At rest even the upper half of the mix is short of air for {upper:.0f} days on end in a middling year; {DROWNS_DAYS:.0f} is the limit."
        return made(status, upper, text, remedy, f"drowns for {upper:.0f} days on end")
    text = f"At rest the lowest third is short of air for {low:.0f} days on end in a middling year; up to {WET_FITS_DAYS:.0f} are usual. The upper half breathes."
    return made(status, low, text, remedy, f"foot wet {low:.0f} days on end")


def _price(one: Help, found: PotYears) -> str:
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


def _cold(found: PotYears) -> Finding:
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
    status = night_status(found)
    text = f"A night of {celsius(cold.night_c)} kills its outer roots {where}; {nights:.1f} such nights a year"
    if cold.first is not None and cold.last is not None and nights >= 0.05:
        text += f", {_day(cold.first)} to {_day(cold.last)}"
    remedy = ""
    if status == "fits" and nights > nights_borne(cold):
        from_c = celsius(cold.night_c + PLAN_K)
        text = f"On the bench {nights:.0f} nights a year would kill outer roots: heel it in and mulch it, or a cold frame, from {from_c} on, as is usual for it here"
    if status != "fits":
        better = [p for p in found.places if p.nights_a_year < nights]
        told = " ".join(
            f"{PLACES[p.place].words[:1].upper()}{PLACES[p.place].words[1:]}: {p.nights_a_year:.1f}{' nights' if n == 0 else ''}."
            for n, p in enumerate(better[:3])
        )
        remedy = f"{told} Do it from {celsius(cold.night_c + PLAN_K)} on, with new root tips from {celsius(cold.night_c + TIPS_K)}.".strip()
    return Finding(
        "night_at_risk", status, nights, "nights", None, nights_borne(cold), f"{text}.", remedy, "frost model", "handling",
        ("winter cover, as usual" if nights > nights_borne(cold) else "bears the frost") if status == "fits" else f"{nights:.0f} nights a year at risk" if nights >= 1 else "a night at risk",
    )  # fmt: skip


def _hot(found: PotYears) -> Finding:
    hot = found.hot
    if hot is None:
        return _not_reckoned("hot_wall", "share", HOT_FITS, "How hot its wall becomes", "heat")
    status, when = hot_status(hot), MONTHS[hot.month]
    if hot.share_40 <= 0:
        text = f"In the hottest usual week, in {when}, its hottest roots come to {hot.peak_c:.0f} °C: none over 40 °C."
    else:
        text = f"In the hottest usual week, in {when}, {hot.share_40:.0%} of its roots behind the lit wall come over 40 °C; {HOT_FITS:.0%} is usual, {HOT_WATCH:.0%} the limit."
    if hot.share_46 > KILLED_MOST:
        text += f" {hot.share_46:.0%} are over {KILLS_C:.0f} °C for hours: those die."
    remedy = ""
    if status != "fits":
        remedy = (
            " ".join(f"{words[:1].upper()}{words[1:]}: {one.share_40:.0%}." for words, one in found.coolers[:3])
            or "Shade the wall at noon."
        )
    return Finding(
        "hot_wall", status, hot.share_40, "share", None, HOT_FITS, text, remedy, "heat model", "handling",
        "wall stays cool" if status == "fits" else f"{hot.share_40:.0%} of its roots over 40 °C",
    )  # fmt: skip


def celsius(degrees: float) -> str:
    """Whole degrees with a true minus."""
    return f"{degrees:.0f} °C".replace("-", "−")


def place_sentence(place: str) -> str:
    """Where it stands and how much more or less it uses there."""
    return f"{PLACE_WORDS[place]}, use × {EXPOSURE[place]:g}"
