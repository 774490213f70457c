"""The year of a tree in its pots: what a case asks of the bucket, the usual year, the years that could have been, what would help."""

from dataclasses import dataclass, replace
from datetime import date, timedelta
from functools import lru_cache

import numpy as np

from kesh.advice.case import Case
from kesh.advice.figures import GROWS_C, IN_LEAF, Figures, figures_for
from kesh.advice.rules.water import wades
from kesh.advice.water.cold import (
    COVER,
    PotCold,
    at_risk,
    nights_by_month,
    nights_known,
    other_places,
    pot_cold,
    pot_covered,
)
from kesh.advice.water.heat import EXPOSURE, PotHeat, pot_heat, pot_hot, pot_hot_helped
from kesh.base.errors import FieldError
from kesh.base.progress import Progress
from kesh.geometry.volume import inner_area_mm2
from kesh.model import Keeping, Pot, Site
from kesh.science.climate.heat import HotWeek
from kesh.science.climate.weather import (
    DEFAULT_SEED,
    DEFAULT_YEARS,
    Weather,
    many_years,
    month_of_day,
    usual_year,
    with_indoors,
)
from kesh.science.climate.year import Habit, ManyYears, PotWater, UsualYear, ensemble, leaf_by_day, pot_water, usual
from kesh.science.season.windows import YEAR
from kesh.science.stand.stability import crown_area_m2
from kesh.science.water.drying import surface_store_mm

# what helps: grains so much finer or coarser, moss, litres that a bed of wet sand gives [J]
FINER, COARSER, MOSS, SAND_L = 0.7, (1.1, 1.2, 1.35, 1.5, 1.8), 0.8, 3.0
# share of years with a day in distress from which a keeper who looks once a day is asked to look twice
HURTS = 0.05
# days on end at rest on which the lowest third may lack air [J]
DRY_IN_TIME_DAYS = 20.0


@dataclass(frozen=True)
class Help:
    """One thing that may be done, and the years with it: in distress at home and while away, days too wet on end at rest, days it lasts."""

    key: str
    words: str
    distress_years: int
    away_years: int
    rest_wet_days: float
    gap_days: float


@dataclass(frozen=True, kw_only=True)
class PotYears:
    """One pot: what many years bring it, its frost and its heat."""

    many: ManyYears
    cold: PotCold | None = None
    # the same pot heeled in for the winter, where the bench has nights at risk
    covered: PotCold | None = None
    places: tuple[PotCold, ...] = ()
    hot: HotWeek | None = None
    # what makes its wall less hot, and the hottest week with it
    coolers: tuple[tuple[str, HotWeek], ...] = ()
    helps: tuple[Help, ...] = ()
    # on which days of the year the tree does not grow
    rest: np.ndarray | None = None
    # the same years looked at twice a day, where once a day hurts it
    oftener: ManyYears | None = None
    # a swamp tree: its roots are never short of air
    wades: bool = False


@dataclass(frozen=True, kw_only=True)
class PotYear(PotYears):
    """The same with what the pot holds and loses, and its usual year, for the charts."""

    water: PotWater
    usual: UsualYear
    heat: PotHeat | None = None
    # millimetres of rain and nights of frost by month, in a year of these
    rain_mm: tuple[float, ...] = ()
    frost_nights: tuple[float, ...] = ()


@dataclass(frozen=True)
class YearAsked:
    """How the keeper looks after it: habit, rain or roof, days away, how many years and which."""

    habit: Habit = "asked"
    roofed: bool = False
    away: tuple[date, date] | None = None
    years: int = DEFAULT_YEARS
    seed: int = DEFAULT_SEED
    # where it stands, empty as the site has it; what a bed of sand would give; whether what helps is reckoned too
    place: str = ""
    reserve_l: float = 0.0
    helps: bool = False

    def away_days(self) -> np.ndarray | None:
        """The days of a year without a keeper (365,), None without any."""
        if self.away is None:
            return None
        first, last = self.away
        found = np.zeros(YEAR, bool)
        for n in range(min((last - first).days + 1, YEAR)):
            found[day_of_year(first + timedelta(days=n))] = True
        return found


def day_of_year(day: date) -> int:
    """The number of a day in a year of 365, 0 for the first of January; the 29 February is taken with the 28th."""
    return date(2023, day.month, 28 if (day.month, day.day) == (2, 29) else day.day).timetuple().tm_yday - 1


def asked_of(keeping: Keeping, *, helps: bool = False) -> YearAsked:
    """What a keeper asks of the year."""
    away = (keeping.away_from, keeping.away_to) if keeping.away_from and keeping.away_to else None
    return YearAsked(keeping.habit, keeping.roofed, away, place=keeping.place, reserve_l=keeping.reserve_l, helps=helps)


def place_of(f: Figures, asked: YearAsked) -> str:
    """Where it stands to sun and wind."""
    return asked.place or (f.case.site.wall if f.case.site is not None else "none")


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
    if water is None or not f.plantable[i] or not f.drains[i]:
        raise FieldError(
            "pot", f"{f.pots.pots[i].name} holds no drained mix: it has no inside, no depth or no drain hole"
        )
    short_l = 0.0 if f.air_short_l is None else float(f.air_short_l[i])
    layer = case.layer[1] if case.layer else 0.0
    mouth = inner_area_mm2(f.pots, f.pots.inner_depth[:, None])[:, 0]
    return pot_water(
        case.species, area, float(f.soil_surface_mm2[i]) / 1e6, float(mouth[i]) / 1e6, float(water.available_l[i]),
        case.care.management_depletion, float(surface_store_mm(water, case.blend, f.soil_depth_mm - layer)[i]),
        short_l, exposure=exposure, mulch=mulch,
        air=(float(water.soil_l[i]), float(water.air_upper_half[i]), float(water.air_bottom_third[i]), case.air_need or 0.0),
    )  # fmt: skip


def weather_of(f: Figures, asked: YearAsked) -> tuple[Weather, Weather]:
    """(the usual year, the years that could have been) of the site. Raises FieldError without a climate."""
    site = f.case.site
    if site is None:
        raise FieldError("site.months", "the year in a pot needs a climate; enter it at the site")
    below = f.case.brief.keeping.indoors_below_c
    return _housed(site, below, asked.years, asked.seed)


@lru_cache(maxsize=16)
def _housed(site: Site, below_c: float | None, years: int, seed: int) -> tuple[Weather, Weather]:
    return with_indoors(usual_year(site), below_c), with_indoors(many_years(site, years, seed), below_c)


def pot_years(f: Figures, which: tuple[int, ...], asked: YearAsked) -> tuple[PotYear, ...]:
    """The year in several pots, all in the same weather. Raises FieldError that names what is not known."""
    exposure = EXPOSURE[place_of(f, asked)]
    pots = [replace(pot_water_of(f, i, exposure=exposure), reserve_l=asked.reserve_l) for i in which]
    plain = weather_of(f, asked)[0]
    species, latitude = f.case.species, f.case.site.latitude_deg if f.case.site else 0.0
    assert species is not None
    leaf = leaf_by_day(species, plain.mean_c, latitude or 0.0)
    many = _many(f, pots, asked)
    twice = _oftener(f, pots, many, asked)
    rest = rest_days(f, plain)
    return tuple(
        PotYear(
            water=pot,
            usual=usual(pot, plain, leaf, roofed=asked.roofed),
            many=found,
            rest=rest,
            oftener=more,
            wades=wades(f),
        )
        for pot, found, more in zip(pots, many, twice, strict=True)
    )


def _many(f: Figures, pots: list[PotWater], asked: YearAsked, habit: Habit | None = None) -> list[ManyYears]:
    """The bucket of pots of one case through the years."""
    plain, years = weather_of(f, asked)
    assert f.case.species is not None
    latitude = (f.case.site.latitude_deg if f.case.site else 0.0) or 0.0
    return ensemble(
        pots, years, leaf_by_day(f.case.species, years.mean_c, latitude), habit=habit or asked.habit, roofed=asked.roofed,
        away=asked.away_days(), rest=rest_days(f, plain),
    )  # fmt: skip


def _oftener(f: Figures, pots: list[PotWater], many: list[ManyYears], asked: YearAsked) -> list[ManyYears | None]:
    """The same pots looked at twice a day, for those that once a day hurts: twice is usual for bonsai in summer."""
    if asked.habit != "daily":
        return [None] * len(pots)
    hurt = [i for i, one in enumerate(many) if one.home_distress.mean() > HURTS]
    again = _many(f, [pots[i] for i in hurt], asked, "twice") if hurt else []
    by = dict(zip(hurt, again, strict=True))
    return [by.get(i) for i in range(len(pots))]


def shelf_years(f: Figures, asked: YearAsked) -> tuple[PotYears | str, ...]:
    """What the years say of every pot of a case, all in the same weather; a sentence for one of which it cannot be told."""
    found: list[PotYears | str] = ["" for _ in range(len(f.pots))]
    ready: list[tuple[int, PotWater]] = []
    exposure = EXPOSURE[place_of(f, asked)]
    for i in range(len(f.pots)):
        try:
            if f.faulty[i]:
                raise FieldError("record", "its record cannot be reckoned")
            ready.append((i, replace(pot_water_of(f, i, exposure=exposure), reserve_l=asked.reserve_l)))
        except FieldError as err:
            found[i] = err.reason
    if not ready:
        return tuple(found)
    try:
        plain, weather = weather_of(f, asked)
    except FieldError as err:
        for i, _ in ready:
            found[i] = err.reason
        return tuple(found)
    pots = [water for _, water in ready]
    many = _many(f, pots, asked)
    twice, rest, place = _oftener(f, pots, many, asked), rest_days(f, plain), place_of(f, asked)
    nights_known([(f, i) for i, _ in ready])
    nights_known([(f, i) for i, _ in ready if at_risk(f, weather, i)], place=COVER)
    for (i, _), one, more in zip(ready, many, twice, strict=True):
        cold, hot, covered = None, None, None
        try:
            cold = pot_cold(f, weather, i)
            covered = pot_covered(f, weather, cold, i)
            hot = pot_hot(f, plain, place, i)
        except FieldError:
            pass
        found[i] = PotYears(many=one, cold=cold, covered=covered, hot=hot, rest=rest, oftener=more, wades=wades(f))
    return tuple(found)


def rest_days(f: Figures, plain: Weather) -> np.ndarray:
    """On which days of the usual year the tree does not grow (365,)."""
    site, species = f.case.site, f.case.species
    if site is None or species is None:
        return np.zeros(YEAR, bool)
    leaf = leaf_by_day(species, plain.mean_c, site.latitude_deg or 0.0)[0]
    return np.asarray((plain.mean_c[0] < GROWS_C) | (leaf < IN_LEAF))


def what_helps(f: Figures, asked: YearAsked, i: int = 0) -> tuple[Help, ...]:
    """The same pot with one thing changed, each through the same years. Raises FieldError for what is not known."""
    case, exposure = f.case, EXPOSURE[place_of(f, asked)]
    plain, years = weather_of(f, asked)
    assert case.species is not None
    leaf = leaf_by_day(case.species, years.mean_c, (case.site.latitude_deg if case.site else 0.0) or 0.0)
    now = replace(pot_water_of(f, i, exposure=exposure), reserve_l=asked.reserve_l)
    sand = asked.reserve_l or SAND_L
    half = min(exposure, EXPOSURE["half"])
    rows: dict[str, tuple[str, PotWater]] = {"as_is": ("As it stands", now)}
    for factor in (FINER, *COARSER):
        try:
            other = figures_for(with_grains(case, factor), [f.pots.pots[i]])
            water = replace(pot_water_of(other, exposure=exposure), reserve_l=asked.reserve_l)
        except FieldError:
            # a layer or a grain that cannot be made so: this one is not on offer
            continue
        rows["finer" if factor < 1 else f"coarser {factor:g}"] = (_grains_words(factor), water)
    rows["moss"] = (
        "Moss on the soil",
        replace(pot_water_of(f, i, exposure=exposure, mulch=MOSS), reserve_l=asked.reserve_l),
    )
    if half < exposure:
        rows["half"] = ("Half shade", replace(now, exposure=half))
    rows["sand"] = (f"Wet sand, {sand:g} l", replace(now, reserve_l=sand))
    rows["both"] = ("Sand, half shade", replace(now, reserve_l=sand, exposure=half))
    if not asked.roofed:
        rows["roof"] = ("Under a roof", replace(now, roofed=True))
    shared = {"roofed": asked.roofed, "away": asked.away_days(), "rest": rest_days(f, plain)}
    many = ensemble([pot for _, pot in rows.values()], years, leaf, habit=asked.habit, **shared)  # type: ignore[arg-type]
    found = [_help(key, words, one) for (key, (words, _)), one in zip(rows.items(), many, strict=True)]
    oftener: dict[str, Habit] = {"alternate": "daily", "daily": "twice"}
    if asked.habit in oftener:
        one = ensemble([now], years, leaf, habit=oftener[asked.habit], **shared)[0]  # type: ignore[arg-type]
        found.append(_help("oftener", "Looked at oftener", one))
    return _least_coarse(found)


def _grains_words(factor: float) -> str:
    return f"Grains {abs(factor - 1):.0%} {'coarser' if factor > 1 else 'finer'}"


def _least_coarse(helps: list[Help]) -> tuple[Help, ...]:
    """Of the coarser mixes the first that dries in time, or the coarsest that was tried."""
    coarse = [h for h in helps if h.key.startswith("coarser")]
    if not coarse:
        return tuple(helps)
    taken = next((h for h in coarse if h.rest_wet_days <= DRY_IN_TIME_DAYS), coarse[-1])
    rest = [h for h in helps if h not in coarse]
    return (*rest[:2], replace(taken, key="coarser"), *rest[2:])


def _help(key: str, words: str, many: ManyYears) -> Help:
    gaps = np.median(many.gap_days, axis=0)
    return Help(
        key, words, int(many.home_distress.sum()), int(many.away_distress.sum()), float(np.median(many.rest_wet_days)), float(gaps.min())
    )  # fmt: skip


def with_grains(case: Case, factor: float) -> Case:
    """The case with every grain of its mix so much coarser; a layer below stays."""
    mix = case.mix
    if mix is None:
        return case
    keys = {part.substrate for part in mix.parts}
    rows = {
        key: row.model_copy(update={"size_low_mm": row.size_low_mm * factor, "size_high_mm": row.size_high_mm * factor})
        if key in keys
        else row
        for key, row in case.tables.substrates.items()
    }
    return replace(case, tables=replace(case.tables, substrates=rows))


def years_of(
    stands: tuple[tuple[Case, Pot], ...], asked: YearAsked, progress: Progress | None = None
) -> tuple[PotYear | str, ...]:
    """The year of each tree in its pot, all in the same weather; a sentence for a pot for which it cannot be told."""
    found: list[PotYear | str] = []
    for n, (case, pot) in enumerate(stands):
        try:
            f = figures_for(case, [pot])
            year = pot_years(f, (0,), asked)[0]
        except FieldError as err:
            found.append(err.reason)
            continue
        found.append(
            _with_degrees(f, year, asked, helps=asked.helps and (n == 0 or asked.away is not None), first=n == 0)
        )
        if progress is not None:
            progress.at((n + 1) / len(stands), f"{pot.name}")
    return tuple(found)


def _with_degrees(f: Figures, year: PotYear, asked: YearAsked, *, helps: bool, first: bool) -> PotYear:
    """The year with frost and heat; what is not known of the wall leaves them open, not the year."""
    weather, month = weather_of(f, asked)[1], month_of_day()
    rain = weather.rain_mm.mean(axis=0)
    year = replace(
        year,
        rain_mm=tuple(float(rain[month == m].sum()) for m in range(12)),
        frost_nights=nights_by_month(weather, 0.0),
    )
    try:
        cold = pot_cold(f, weather)
        year = replace(
            year,
            cold=cold,
            covered=pot_covered(f, weather, cold),
            places=other_places(f, weather, cold) if helps and first and not cold.never else (),
        )
        place, plain = place_of(f, asked), weather_of(f, asked)[0]
        year = replace(year, heat=pot_heat(f, weather, place, helps=helps and first), hot=pot_hot(f, plain, place))
        if helps and first:
            year = replace(year, coolers=pot_hot_helped(f, plain, place))
    except FieldError:
        pass
    return replace(year, helps=what_helps(f, asked)) if helps else year
