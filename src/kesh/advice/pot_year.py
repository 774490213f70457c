"""The year of a tree in its pots: what a case asks of the bucket, the usual year and the years that could have been."""

from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from kesh.advice.case import Case
from kesh.advice.figures import Figures, figures_for
from kesh.advice.pot_cold import PotCold, pot_cold
from kesh.errors import FieldError
from kesh.geometry.volume import inner_area_mm2
from kesh.model import Pot
from kesh.science.drying import surface_store_mm
from kesh.science.season_windows import YEAR
from kesh.science.stability import crown_area_m2
from kesh.science.weather import DEFAULT_SEED, DEFAULT_YEARS, Weather, many_years, usual_year
from kesh.science.year import Habit, ManyYears, PotWater, UsualYear, ensemble, leaf_by_day, pot_water, usual


@dataclass(frozen=True)
class PotYear:
    """One pot: what it holds and loses, its usual year, and what many years bring it."""

    water: PotWater
    usual: UsualYear
    many: ManyYears
    cold: PotCold | None = None


@dataclass(frozen=True)
class YearAsked:
    """How the keeper looks after it: habit, rain or roof, days away, how many years and which."""

    habit: Habit = "asked"
    roofed: bool = False
    away: tuple[date, date] | None = None
    years: int = DEFAULT_YEARS
    seed: int = DEFAULT_SEED

    def away_days(self) -> np.ndarray | None:
        """The days of a year without a keeper (365,), None without any."""
        if self.away is None:
            return None
        first, last = self.away
        found = np.zeros(YEAR, bool)
        start = first.timetuple().tm_yday - 1
        found[(start + np.arange(min((last - first).days + 1, YEAR))) % YEAR] = True
        return found


def pot_water_of(f: Figures, i: int = 0, *, exposure: float = 1.0, mulch: float = 1.0) -> PotWater:
    """What the year needs of the tree in a pot. Raises FieldError that names what is not known."""
    case, water = f.case, f.water
    if case.species is None:
        raise FieldError("species", "the year in a pot needs the species; name it in step 1")
    area = crown_area_m2(case.tree.measure)
    if area is None:
        raise FieldError("canopy", "the year in a pot needs the reaches of the crown; measure them in step 1")
    if case.blend is None:
        raise FieldError("mix", "the year in a pot needs a mix; choose one in step 2")
    if water is None or not f.plantable[i] or not f.has_drain[i]:
        raise FieldError(
            "pot", f"{f.pots.pots[i].name} holds no drained mix: it has no inside, no depth or no drain hole"
        )
    need = case.air_need or 0.0
    short = max(0.0, need - float(water.air_mean[i]), need / 2 - float(water.air_bottom_third[i]))
    layer = case.layer[1] if case.layer else 0.0
    mouth = inner_area_mm2(f.pots, f.pots.inner_depth[:, None])[:, 0]
    return pot_water(
        case.species, area, float(f.soil_surface_mm2[i]) / 1e6, float(mouth[i]) / 1e6, float(water.available_l[i]),
        case.care.management_depletion, float(surface_store_mm(water, case.blend, f.soil_depth_mm - layer)[i]),
        float(water.soil_l[i]) * short, exposure=exposure, mulch=mulch,
    )  # fmt: skip


def weather_of(f: Figures, asked: YearAsked) -> tuple[Weather, Weather]:
    """(the usual year, the years that could have been) of the site. Raises FieldError without a climate."""
    site = f.case.site
    if site is None:
        raise FieldError("site.months", "the year in a pot needs a climate; enter it at the site")
    return usual_year(site), many_years(site, asked.years, asked.seed)


def pot_years(f: Figures, which: tuple[int, ...], asked: YearAsked) -> tuple[PotYear, ...]:
    """The year in several pots, all in the same weather. Raises FieldError that names what is not known."""
    pots = [pot_water_of(f, i) for i in which]
    plain, years = weather_of(f, asked)
    species, latitude = f.case.species, f.case.site.latitude_deg if f.case.site else 0.0
    assert species is not None
    leaf = leaf_by_day(species, plain.mean_c, latitude or 0.0)
    many = ensemble(
        pots,
        years,
        leaf_by_day(species, years.mean_c, latitude or 0.0),
        habit=asked.habit,
        roofed=asked.roofed,
        away=asked.away_days(),
    )
    return tuple(
        PotYear(pot, usual(pot, plain, leaf, roofed=asked.roofed), found) for pot, found in zip(pots, many, strict=True)
    )


def years_of(stands: tuple[tuple[Case, Pot], ...], asked: YearAsked) -> tuple[PotYear | str, ...]:
    """The year of each tree in its pot, all in the same weather; a sentence for a pot for which it cannot be told."""
    found: list[PotYear | str] = []
    for case, pot in stands:
        try:
            f = figures_for(case, [pot])
            year = pot_years(f, (0,), asked)[0]
        except FieldError as err:
            found.append(err.reason)
            continue
        try:
            found.append(replace(year, cold=pot_cold(f, weather_of(f, asked)[1])))
        except FieldError:
            # what is not known of the wall leaves the frost open, not the year
            found.append(year)
    return tuple(found)
