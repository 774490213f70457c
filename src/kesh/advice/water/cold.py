"""The night that kills the outer roots of a tree in a pot, how often its place has one, and what other places would do."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from kesh.advice.figures import Figures
from kesh.base.errors import FieldError
from kesh.geometry.outline import outline_points
from kesh.geometry.volume import inner_area_mm2
from kesh.reference.tables import material
from kesh.science.climate.cold import (
    NEVER_C,
    SPELL_H,
    SWING_K,
    ColdRun,
    SoilBody,
    Stand,
    cold_run,
    critical_night_c,
    critical_nights_c,
    nights_at_risk,
    spell,
)
from kesh.science.climate.weather import Weather, month_of_day

USUAL_WIND_M_S = 2.0
# plan so much above the night that kills, and for new tips [J]
PLAN_K, TIPS_K = 3.0, 4.0
# the night is sought to a fifth of a kelvin
PAST_K = 0.2
# how much milder the ground is than the mean of the coldest month [J]
GROUND_MILDER_K = 1.0


@dataclass(frozen=True)
class Place:
    """Where a pot stands in winter: its base open to the air or not, what it sees of the sky, how much milder, what lies about it."""

    words: str
    on_bench: bool = True
    sky: str = "clear"
    milder_k: float = 0.0
    about_m2k_w: float = 0.0


# 60 mm of mulch at 0.10 W/mK [J]
PLACES = {
    "bench": Place("on the bench"),
    "ground": Place("set on the ground", on_bench=False),
    "wall": Place("under a wall", sky="half"),
    "mulch": Place("heeled in, mulched", on_bench=False, about_m2k_w=0.06 / 0.10),
    "frame": Place("in a cold frame", sky="none", milder_k=4.0),
}


@dataclass(frozen=True)
class PotCold:
    """What the roots bear, the night that brings the outer ones to it, and such nights a year, with their first and last day."""

    limit_c: float
    night_c: float
    nights_a_year: float
    place: str = "bench"
    # days of the year, from nought, of the first and last such night in a winter, over all years
    first: int | None = None
    last: int | None = None
    by_month: tuple[float, ...] = ()
    # the usual night of the coldest weeks
    usual_c: float = 0.0

    @property
    def never(self) -> bool:
        """Whether no night does it."""
        return self.night_c <= NEVER_C


def soil_body_of(f: Figures, i: int = 0) -> SoilBody:
    """The root zone of a pot as heat sees it, at container capacity on a bench. Raises FieldError for what is not known."""
    pot, water, mix = f.pots.pots[i], f.water, f.case.blend
    if water is None or mix is None or not f.plantable[i]:
        raise FieldError("mix", "how cold the roots become needs a mix in a pot that takes one")
    depth = float(f.soil_depth_mm[i])
    rim = outline_points(pot.outline, pot.length_mm, pot.width_mm, pot.wall_mm, 120)
    around = float(np.hypot(*(np.roll(rim, -1, axis=0) - rim).T).sum())
    floor = float(inner_area_mm2(f.pots, np.zeros((len(f.pots), 1)))[i, 0])
    volume = float(water.soil_l[i])
    return SoilBody(
        (pot.length_mm - 2 * pot.wall_mm) / 1000, (pot.width_mm - 2 * pot.wall_mm) / 1000, depth / 1000, volume / 1000,
        float(f.soil_surface_mm2[i]) / 1e6, around * depth / 1e6, floor / 1e6, mix.phi_t,
        min(float(water.held_l[i]) / max(volume, 1e-9), mix.phi_t), pot.wall_mm / 1000,
        material(pot.material).thermal_conductivity_w_mk,
    )  # fmt: skip


def placed(body: SoilBody, place: Place, ground_c: float) -> SoilBody:
    """A root zone where it stands in winter."""
    return replace(body, on_bench=place.on_bench, about_m2k_w=place.about_m2k_w, ground_c=ground_c)


def root_limit_c(f: Figures) -> float:
    """What the roots bear. Raises FieldError where the species is not known."""
    case = f.case
    if case.species is None:
        raise FieldError("species", "how cold the roots bear needs the species; name it in step 1")
    row = case.species.root_hardy_c
    return float(case.care.root_kill_c if row is None else row)


def ground_c_of(f: Figures) -> float:
    """The ground below the frost in the coldest month: a little milder than the month's mean."""
    months = f.case.site.months if f.case.site is not None else ()
    return min((m.tmin_c + m.tmax_c) / 2 for m in months) + GROUND_MILDER_K if months else GROUND_MILDER_K


def winter_wind_m_s(f: Figures) -> float:
    """The usual wind of the coldest month."""
    months = f.case.site.months if f.case.site is not None else ()
    coldest = min(months, key=lambda m: m.tmin_c, default=None)
    return USUAL_WIND_M_S if coldest is None or coldest.wind_m_s is None else float(coldest.wind_m_s)


def pot_cold(f: Figures, weather: Weather, i: int = 0, *, place: str | None = None) -> PotCold:
    """The night that kills and how often it comes in these years. Raises FieldError for what is not known."""
    site = f.case.site
    key = place or (site.winter_place if site is not None else "bench")
    where = PLACES[key]
    body, limit, wind, sky = _stand(f, i, key)
    night = critical_night_c(body, limit, wind_m_s=wind, sky=sky)
    night = night if night <= NEVER_C else night - where.milder_k
    south = site is not None and (site.latitude_deg or 0.0) < 0
    # the winter in one piece: from midsummer to midsummer
    turn = 0 if south else 181
    days = np.flatnonzero((np.roll(weather.tmin_c, -turn, axis=1) <= night).any(axis=0))
    first, last = ((int(days[0]) + turn) % 365, (int(days[-1]) + turn) % 365) if len(days) else (None, None)
    return PotCold(
        limit,
        night,
        nights_at_risk(night, weather.tmin_c),
        key,
        first,
        last,
        nights_by_month(weather, night),
        _usual_night_c(weather),
    )


def _usual_night_c(weather: Weather) -> float:
    """The usual night of the coldest two weeks, over these years."""
    usual = weather.tmin_c.mean(axis=0)
    return float(np.convolve(np.r_[usual[-7:], usual, usual[:7]], np.ones(15) / 15, "valid").min())


def nights_by_month(weather: Weather, limit_c: float) -> tuple[float, ...]:
    """Nights as cold as that, by month, in a year of these."""
    cold, month = (weather.tmin_c <= limit_c).mean(axis=0), month_of_day()
    return tuple(float(cold[month == m].sum()) for m in range(12))


def _stand(f: Figures, i: int, place: str) -> Stand:
    """A root zone in a place, as its critical night is asked for."""
    where = PLACES[place]
    return placed(soil_body_of(f, i), where, ground_c_of(f)), root_limit_c(f), winter_wind_m_s(f), where.sky


# how a tree that does not bear the bench is usually wintered, and nights a year from which that is asked
COVER, SOME_NIGHTS = "mulch", 0.2


def at_risk(f: Figures, weather: Weather, i: int = 0) -> bool:
    """Whether the bench, where it stands, has nights that kill its outer roots."""
    try:
        return pot_cold(f, weather, i).nights_a_year > SOME_NIGHTS
    except FieldError:
        return False


def pot_covered(f: Figures, weather: Weather, cold: PotCold, i: int = 0) -> PotCold | None:
    """The same pot heeled in and mulched; None where the bench has no nights at risk, or it stands so already."""
    if cold.nights_a_year <= SOME_NIGHTS or cold.place == COVER:
        return None
    return pot_cold(f, weather, i, place=COVER)


def nights_known(each: Sequence[tuple[Figures, int]], place: str | None = None) -> None:
    """Find the critical nights of many pots together, which takes a fraction of what they take one by one; each then knows its own."""
    stands = []
    for f, i in each:
        try:
            stands.append(_stand(f, i, place or (f.case.site.winter_place if f.case.site is not None else "bench")))
        except FieldError:
            continue
    critical_nights_c(stands)


def other_places(f: Figures, weather: Weather, now: PotCold, i: int = 0) -> tuple[PotCold, ...]:
    """The same pot in every other place, the fewest nights at risk first."""
    keys = [key for key in PLACES if key != now.place]
    # all places at once; each is then found by itself
    critical_nights_c([_stand(f, i, key) for key in keys])
    found = [pot_cold(f, weather, i, place=key) for key in keys]
    return tuple(sorted(found, key=lambda one: one.nights_a_year))


def killing_spell(f: Figures, cold: PotCold, i: int = 0) -> ColdRun:
    """The root zone through the three days that just kill its outer roots. Raises FieldError where no night does."""
    if cold.never:
        raise FieldError("night_at_risk_c", "no night kills its outer roots")
    where = PLACES[cold.place]
    # a little colder than the night that was found, so that the limit is passed and not only touched
    night = cold.night_c + where.milder_k - PAST_K
    start = max(night + SWING_K / 2, 0.0)
    body, wind = placed(soil_body_of(f, i), where, ground_c_of(f)), winter_wind_m_s(f)
    return cold_run(body, spell(night), SPELL_H, start, wind_m_s=wind, sky=where.sky)
