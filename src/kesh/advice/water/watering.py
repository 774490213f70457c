"""What happens after one watering: how the water in the mix falls, when it asks again, and how water lies by depth over hours."""

from dataclasses import dataclass
from datetime import date

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.water.heat import EXPOSURE
from kesh.advice.water.year import YearAsked, place_of, pot_water_of
from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.geometry.volume import inner_area_mm2
from kesh.science.climate.weather import Weather, usual_year
from kesh.science.climate.year import PotWater, leaf_by_day
from kesh.science.season.windows import YEAR
from kesh.science.water.richards import Column, Drying, MixHydraulics, Weathering, dry

DAYS, START_H = 10, 8
PROFILE_H = (0.02, 1.0, 3.0, 6.0, 12.0, 24.0, 48.0, 72.0)
# the day's use between sunrise and sunset, about
RISE_H, SET_H = 6.0, 20.0


@dataclass(frozen=True)
class DryingCurve:
    """One pot after a watering at eight in the morning: water as a share of the mix by the hour, and the two lines it crosses."""

    share: Floats
    watered_h: tuple[int, ...]
    drained_share: float
    wet_line: float
    dry_line: float
    wet_h: float
    asks_h: float


def use_of_hour(hour: float) -> float:
    """Share of a day's use in an hour of it: half a sine by day, nothing by night."""
    t = hour % 24
    if not RISE_H < t < SET_H:
        return 0.0
    return float(np.sin(np.pi * (t - RISE_H) / (SET_H - RISE_H)) * np.pi / 2 / (SET_H - RISE_H))


# share of a day's use in each of its hours
BY_HOUR = tuple(use_of_hour(h + 0.5) for h in range(24))


class HourlyUse:
    """What a tree in a pot and its soil surface use hour by hour in the usual year; the surface dries in two stages."""

    def __init__(self, f: Figures, pot: PotWater, weather: Weather) -> None:
        case = f.case
        assert case.species is not None
        latitude = (case.site.latitude_deg if case.site else 0.0) or 0.0
        et0 = weather.et0_mm[0] * pot.exposure
        leaf = leaf_by_day(case.species, weather.mean_c, latitude)[0]
        # plain numbers: an hour is asked for a few hundred times in every frame of a drag
        self.tree_l: list[float] = (et0 * leaf * pot.crown_coefficient * pot.crown_area_m2).tolist()
        self.bare_mm: list[float] = (et0 * pot.ke).tolist()
        self.pot, self.late = pot, max(pot.tew_mm - pot.rew_mm, 1e-9)
        self.spent_mm = 0.0

    def filled(self) -> None:
        """The surface is wet again."""
        self.spent_mm = 0.0

    def used_l(self, of_year: int, hour: int) -> float:
        """Litres used in an hour of a day of the year, both from nought; the surface has lost so much more then."""
        part, pot = BY_HOUR[hour % 24], self.pot
        if part == 0.0:
            return 0.0
        bare = self.bare_mm[of_year % YEAR] * part
        if self.spent_mm >= pot.rew_mm:
            bare *= max(0.0, (pot.tew_mm - self.spent_mm) / self.late)
        self.spent_mm += bare
        return self.tree_l[of_year % YEAR] * part + bare * pot.soil_area_m2


def usual_weather(f: Figures) -> Weather:
    """The usual year of the site. Raises FieldError without a climate."""
    if f.case.site is None:
        raise FieldError("site.months", "how it dries needs a climate; enter it at the site")
    return usual_year(f.case.site)


def drying_curve(f: Figures, day: date, asked: YearAsked, i: int = 0, *, drained_off_l: float = 0.0) -> DryingCurve:
    """A pot over ten days without rain, watered whenever it asks. Raises FieldError that names what is not known.

    `drained_off_l` was let out by a tilt after the watering.
    """
    weather = usual_weather(f)
    pot = pot_water_of(f, i, exposure=EXPOSURE[place_of(f, asked)])
    water = f.water
    assert water is not None
    soil, held = float(water.soil_l[i]), float(water.held_l[i])
    first = day.timetuple().tm_yday - 1
    asks = pot.mad * pot.available_l
    hourly = HourlyUse(f, pot, weather)
    used, shares, watered = drained_off_l, [], []
    wet_h = asks_h = np.inf
    for hour in range(DAYS * 24 + 1):
        if used >= asks and hour:
            watered.append(hour)
            asks_h = min(asks_h, hour)
            used = drained_off_l
            hourly.filled()
        shares.append((held - used) / soil)
        if used >= pot.wet_until_l and not watered:
            wet_h = min(wet_h, hour)
        used += hourly.used_l(first + (START_H + hour) // 24, START_H + hour)
    return DryingCurve(
        np.array(shares), tuple(watered), held / soil, (held - pot.wet_until_l) / soil, (held - asks) / soil, float(wet_h), float(asks_h)
    )  # fmt: skip


def column_of(f: Figures, i: int = 0, cells: int = 48) -> Column:
    """A pot's soil as a body of cells, the drainage layer left out. Raises FieldError where it holds none."""
    if not f.plantable[i] or f.water is None:
        raise FieldError("mix", "water by depth needs a mix in a pot that takes one")
    layer = f.case.layer[1] if f.case.layer else 0.0
    depth = float(f.soil_depth_mm[i]) - layer
    edges = layer + np.linspace(0, depth, cells + 1)
    middles = (edges[1:] + edges[:-1]) / 2
    one = f.pots.only(np.arange(len(f.pots)) == i) if len(f.pots) > 1 else f.pots
    faces, areas = (inner_area_mm2(one, z[None, :])[0] for z in (edges, middles))
    return Column(depth, np.maximum(areas, 1.0), np.maximum(faces, 1.0))


@dataclass(frozen=True)
class Depths:
    """Water by depth over hours, air in the lowest third and in all, and when both are as the roots want them."""

    drying: Drying
    z_mm: Floats
    air_third: Floats
    air_mean: Floats
    air_after_h: float | None


def water_by_depth(f: Figures, day: date, asked: YearAsked, i: int = 0) -> Depths:
    """Richards' equation for three days after a soaking. Raises FieldError that names what is not known."""
    if f.case.layer is not None:
        raise FieldError(
            "layer", "Over a coarse layer the models disagree: the band beside the pot speaks, not this chart."
        )
    mix, weather = f.case.blend, usual_weather(f)
    pot = pot_water_of(f, i, exposure=EXPOSURE[place_of(f, asked)])
    assert mix is not None
    first = day.timetuple().tm_yday - 1

    hourly = HourlyUse(f, pot, weather)

    def uptake(hour: float) -> float:
        return hourly.tree_l[(first + int(START_H + hour) // 24) % YEAR] * use_of_hour(START_H + hour)

    def air(hour: float) -> float:
        bare = hourly.bare_mm[(first + int(START_H + hour) // 24) % YEAR]
        return bare * use_of_hour(START_H + hour) * pot.soil_area_m2

    column = column_of(f, i)
    found = dry(MixHydraulics(mix), column, PROFILE_H, Weathering(uptake, air))
    volume, third = column.volumes_l, column.z_mm <= column.depth_mm / 3
    free = mix.phi_t - found.water
    low = (free[:, third] @ volume[third]) / volume[third].sum()
    mean = (free @ volume) / volume.sum()
    need = f.case.air_need
    after = None
    if need is not None:
        there = np.flatnonzero((low >= need / 2) & (mean >= need))
        if len(there):
            k = int(there[0])
            after = float(found.hours[k])
            if k:
                # between two of the hours that were looked at, by the one that comes last
                parts = [
                    (goal - was) / max(now - was, 1e-12)
                    for was, now, goal in ((low[k - 1], low[k], need / 2), (mean[k - 1], mean[k], need))
                    if was < goal
                ]
                after = float(found.hours[k - 1] + max(parts) * (found.hours[k] - found.hours[k - 1]))
    return Depths(found, column.z_mm, low, mean, after)


def check_words(f: Figures, i: int = 0) -> str:
    """What to look at before watering, and how deep: a check, not a timetable."""
    depth = float(f.soil_depth_mm[i])
    wet = 0.0 if f.water is None or not f.plantable[i] else float(f.water.wet_height_mm[i])
    if depth < 45:
        return (
            f"Shallow: lift one end of the pot, or press a finger on the soil. With {depth:.0f} mm of mix the surface tells what lies below; "
            "grains that have gone pale ask for water."
        )
    stick = round(min(depth * 0.6, depth - wet if depth - wet > 15 else depth * 0.5) / 5) * 5
    return (
        f"Push a stick {stick:.0f} mm in and wait a few minutes: wet wood, wait; damp, look again tonight; dry, water now. "
        "The surface dries first and says little of the depth."
    )


def grain_size_words(f: Figures, i: int = 0) -> str:
    """Which grains are usual in a pot so deep for a tree so tall; a custom [J], the roots decide."""
    depth, height = float(f.soil_depth_mm[i]), f.case.tree.measure.height_mm or 0.0
    low, high = (
        (1, 3)
        if depth < 35 or 0 < height < 150
        else (2, 5)
        if depth < 70 and height < 450
        else (3, 6)
        if depth < 130
        else (4, 9)
    )
    return f"In {depth:.0f} mm of mix grains of {low}–{high} mm are usual; coarser below and finer on top by some, one size throughout by others."
