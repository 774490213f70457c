"""Daily weather of a place: the usual day by its monthly normals, and many years that could have been.

The generator is of the kind of Richardson (1981): a chain of wet and dry days, temperatures that hold on to yesterday's.
Its shape is judgement [J]; its means are the normals (docs/methods.md, "years that could have been").
"""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.model.site import Month, Site
from kesh.science.climate.climate import et0_many, saturation_pressure_kpa
from kesh.science.climate.own_weather import own_years
from kesh.science.season.windows import YEAR, daily, indoor_days, room_c

MONTH_DAYS = np.array([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])
# what a month that says nothing of it is taken to have: wind m/s, humidity %
USUAL_WIND, USUAL_RH = 2.0, 70.0
HOLDS, SD_K = 0.70, 3.5
WET_DAY_MM, WET_SHARE, HOLDS_WET = 6.0, (0.02, 0.85), 0.35
SUN_DRY, SUN_WET, RH_POINTS, WIND_SD = 1.25, 0.45, 8.0, 0.4
DEFAULT_YEARS, DEFAULT_SEED = 60, 1
# the light that glass lets in, as a share of what a tree uses outdoors, and the air that moves in a room [J]
GLASS_LIGHT, ROOM_WIND = 0.6, 0.3


@dataclass(frozen=True)
class Weather:
    """Days of years (Y, 365): degrees C, mm, m/s, hours of sun, %, and reference evapotranspiration mm/day."""

    tmin_c: Floats
    tmax_c: Floats
    rain_mm: Floats
    wind_m_s: Floats
    sun_h: Floats | None
    rh_pct: Floats
    et0_mm: Floats

    @property
    def mean_c(self) -> Floats:
        """Day means."""
        return (self.tmin_c + self.tmax_c) / 2

    @property
    def years(self) -> int:
        """How many years."""
        return int(self.et0_mm.shape[0])


def month_of_day() -> np.ndarray:
    """The month, 0 to 11, of each of 365 days."""
    return np.repeat(np.arange(12), MONTH_DAYS)


def _usual(site: Site) -> tuple[Floats, Floats, Floats, Floats, Floats | None, Floats]:
    months = site.months

    def normal(name: str, usual: float) -> Floats:
        return daily([usual if getattr(m, name) is None else getattr(m, name) for m in months])

    rain = daily([(m.rain_mm or 0.0) / n for m, n in zip(months, MONTH_DAYS, strict=True)])
    sun = None if any(m.sun_h_day is None for m in months) else normal("sun_h_day", 0.0)
    return (
        normal("tmin_c", 0.0),
        normal("tmax_c", 0.0),
        rain,
        normal("wind_m_s", USUAL_WIND),
        sun,
        normal("rh_pct", USUAL_RH),
    )


def _checked(site: Site) -> Site:
    if site.latitude_deg is None or not site.months:
        raise FieldError("site.months", "latitude and twelve monthly normals are needed for the year in a pot")
    return site


def _weather(site: Site, parts: tuple[Floats, Floats, Floats, Floats, Floats | None, Floats]) -> Weather:
    low, high, rain, wind, sun, rh = (None if p is None else np.atleast_2d(p) for p in parts)
    assert low is not None
    assert high is not None
    assert rain is not None
    assert wind is not None
    assert rh is not None
    both = (saturation_pressure_kpa(high) + saturation_pressure_kpa(low)) / 2
    vapour = np.minimum(rh / 100 * both, saturation_pressure_kpa(high))
    day = np.arange(1.0, YEAR + 1)
    et0 = et0_many(float(site.latitude_deg or 0.0), site.elevation_m, day, high, low, vapour, wind, sun)
    return Weather(low, high, rain, wind, sun, rh, et0)


@lru_cache(maxsize=32)
def usual_year(site: Site) -> Weather:
    """One year of daily normals. Raises FieldError without latitude or normals."""
    return _weather(_checked(site), _usual(site))


@lru_cache(maxsize=16)
def many_years(site: Site, years: int = DEFAULT_YEARS, seed: int = DEFAULT_SEED) -> Weather:
    """Years that could have been; the same seed gives the same. Raises FieldError without latitude or normals.

    Whole years of the place's own days, where there are some, take their stead: then number and seed do not matter.
    """
    own = own_years(site)
    if own.years:
        return _weather(_checked(site), own.arrays(_usual(site)))
    low, high, _, wind, sun, rh = _usual(_checked(site))
    chance, month = np.random.default_rng(seed), month_of_day()
    wet, amount = _rain(site.months, years, chance)
    shift = np.zeros((years, YEAR))
    fresh = chance.normal(0.0, SD_K, (years, YEAR))
    now = fresh[:, 0]
    for d in range(YEAR):
        now = fresh[:, d] if d == 0 else HOLDS * now + np.sqrt(1 - HOLDS**2) * fresh[:, d]
        shift[:, d] = now
    p = _wet_share(site.months)[month]
    light = np.where(wet, SUN_WET, SUN_DRY) / (p * SUN_WET + (1 - p) * SUN_DRY)
    # wetter on wet days and dryer on dry ones, the month's mean kept
    damp = np.where(wet, RH_POINTS, -RH_POINTS * p / (1 - p))
    gust = np.exp(chance.normal(-(WIND_SD**2) / 2, WIND_SD, (years, YEAR)))
    return _weather(
        site,
        (low + shift, high + shift, np.where(wet, amount, 0.0), wind * gust, None if sun is None else sun * light,
         np.clip(rh + damp, 5, 100)),
    )  # fmt: skip


def _wet_share(months: tuple[Month, ...]) -> Floats:
    """The share of days on which it rains, by month."""
    rain = np.array([m.rain_mm or 0.0 for m in months])
    share = np.clip(rain / (MONTH_DAYS * WET_DAY_MM), *WET_SHARE)
    return np.where(rain > 0, share, 0.0)


def _rain(months: tuple[Month, ...], years: int, chance: np.random.Generator) -> tuple[np.ndarray, Floats]:
    """(which days are wet, mm on wet days), both (Y, 365)."""
    share, month = _wet_share(months), month_of_day()
    rain = np.array([m.rain_mm or 0.0 for m in months])
    mean = np.divide(rain, MONTH_DAYS * share, out=np.zeros(12), where=share > 0)
    draws, amount = chance.random((years, YEAR)), chance.exponential(1.0, (years, YEAR)) * mean[month]
    wet = np.zeros((years, YEAR), bool)
    before = draws[:, 0] < share[month[-1]]
    for d in range(YEAR):
        p = share[month[d]]
        before = (
            draws[:, d] < np.where(before, p + HOLDS_WET * (1 - p), p * (1 - HOLDS_WET))
            if p > 0
            else np.zeros(years, bool)
        )
        wet[:, d] = before
    amount = np.where(wet, amount, 0.0)
    # scaled so that over all years each month has its normal
    found = np.array([amount[:, month == m].sum() for m in range(12)]) / years
    scale = np.divide(rain, found, out=np.ones(12), where=found > 0)
    return wet, amount * scale[month]


def with_indoors(weather: Weather, below_c: float | None) -> Weather:
    """The weather as a tree has it that stands indoors while nights are colder than a temperature."""
    if below_c is None:
        return weather
    inside = indoor_days(weather.tmin_c, below_c)
    room = room_c(weather.mean_c)
    return Weather(
        np.where(inside, room, weather.tmin_c),
        np.where(inside, room, weather.tmax_c),
        np.where(inside, 0.0, weather.rain_mm),
        np.where(inside, ROOM_WIND, weather.wind_m_s),
        None if weather.sun_h is None else np.where(inside, 0.0, weather.sun_h),
        weather.rh_pct,
        np.where(inside, GLASS_LIGHT * weather.et0_mm, weather.et0_mm),
    )
