"""A tree's readings read: how much water each found, what it says of the pot's speed, and when to look next."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np

from kesh.advice.figures import Figures
from kesh.advice.water.heat import EXPOSURE
from kesh.advice.water.watering import HourlyUse, usual_weather
from kesh.advice.water.year import YearAsked, place_of, pot_water_of
from kesh.base.errors import FieldError
from kesh.base.units import MASSES
from kesh.model import Reading, Site
from kesh.science.climate.weather import Weather
from kesh.science.climate.year import PotWater
from kesh.science.water.readings import STICK_SHARE, PotFactor, observed, pot_factor

LONGEST_DAYS = 60


@dataclass(frozen=True)
class Read:
    """A reading: share of the store it found, and the factor it speaks for where it tells one."""

    reading: Reading
    share: float
    factor: float | None


@dataclass(frozen=True)
class Readings:
    """All of a tree's readings, the pot's own factor, and the next hour at which it asks for water."""

    read: tuple[Read, ...]
    factor: PotFactor
    next_look: datetime | None
    left_now: float | None


def share_left(reading: Reading, f: Figures, i: int = 0) -> float:
    """Share of the available store that a reading found, 0..1. Raises FieldError for what cannot be read."""
    if isinstance(reading.value, str):
        return STICK_SHARE[reading.value]
    water, stand = f.water, f.stand
    if water is None:
        raise FieldError("mix", "a reading needs to know the mix")
    available, held, soil = float(water.available_l[i]), float(water.held_l[i]), float(water.soil_l[i])
    if reading.kind == "probe":
        # volume share of water, by what the mix holds drained
        share = reading.value / 100 if reading.unit == "%" else reading.value
        return float(np.clip((share * soil - (held - available)) / max(available, 1e-9), 0, 1))
    if stand is None:
        raise FieldError("mass", "a weight needs the tree's measures, so that the wet mass is known")
    kg = reading.value * MASSES[reading.unit or "kg"]
    return float(np.clip(1 - (float(stand.mass_wet_kg[i]) - kg) / max(available, 1e-9), 0, 1))


def used_between_l(f: Figures, pot: PotWater, weather: Weather, full_at: datetime, at: datetime) -> float:
    """Litres that tree and surface should have used between two hours, without rain."""
    hourly, used = HourlyUse(f, pot, weather), 0.0
    hours = min(round((at - full_at).total_seconds() / 3600), LONGEST_DAYS * 24)
    for n in range(hours):
        when = full_at + timedelta(hours=n)
        used += hourly.used_l(when.timetuple().tm_yday - 1, when.hour)
    return used


def read_all(f: Figures, readings: Sequence[Reading], asked: YearAsked, now: datetime, i: int = 0) -> Readings:
    """Readings of one tree in its pot. One that cannot be read is left out. Raises FieldError that names what the pot lacks."""
    weather = usual_weather(f)
    pot = pot_water_of(f, i, exposure=EXPOSURE[place_of(f, asked)])
    found = []
    for one in readings:
        try:
            share = share_left(one, f, i)
        except FieldError:
            continue
        says = None
        if one.full_at is not None:
            says = observed(share, used_between_l(f, pot, weather, one.full_at, one.at), pot.available_l)
        found.append(Read(one, share, says))
    factor = pot_factor([r.factor for r in found if r.factor is not None])
    return Readings(tuple(found), factor, *_next_look(f, pot, weather, found, factor.factor, now))


def _next_look(
    f: Figures, pot: PotWater, weather: Weather, found: Sequence[Read], factor: float, now: datetime
) -> tuple[datetime | None, float | None]:
    """(first hour from now on at which it asks, share of the store left now), from the latest reading on; forecasts rain in."""
    latest = max(found, key=lambda r: r.reading.at, default=None)
    if latest is None or latest.reading.at > now or now - latest.reading.at > timedelta(days=LONGEST_DAYS):
        return None, None
    store, when, left = (
        latest.share * pot.available_l,
        latest.reading.at.replace(minute=0, second=0, microsecond=0),
        None,
    )
    rain = forecast_rain(f.case.site)
    hourly = HourlyUse(f, pot, weather)
    hourly.spent_mm = pot.rew_mm if latest.share < 0.8 else 0.0
    low = (1 - pot.mad) * pot.available_l
    for _ in range(2 * LONGEST_DAYS * 24):
        if when >= now and left is None:
            left = store / pot.available_l
        if when >= now and store <= low:
            return when, left
        store -= factor * hourly.used_l(when.timetuple().tm_yday - 1, when.hour)
        store = min(max(store, 0.0) + rain.get(when.date(), 0.0) / 24 * pot.mouth_area_m2, pot.available_l)
        when += timedelta(hours=1)
    return None, left


def forecast_rain(site: Site | None) -> dict[date, float]:
    """Rain told for days to come, mm."""
    return {d.date: d.rain_mm or 0.0 for d in site.daily if d.forecast} if site is not None else {}
