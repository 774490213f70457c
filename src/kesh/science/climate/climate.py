"""Reference evapotranspiration after FAO-56 (Allen, Pereira, Raes and Smith 1998; docs/methods.md, "days between waterings")."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.model.site import Site

PEAK_FACTOR = 1.25


def saturation_pressure_kpa(temperature_c: Floats | float) -> Floats:
    """Saturation vapour pressure, kPa."""
    t = np.asarray(temperature_c, dtype=float)
    return np.asarray(0.6108 * np.exp(17.27 * t / (t + 237.3)))


def extraterrestrial_mj(latitude_deg: float, day: Floats | float) -> tuple[Floats, Floats]:
    """(Ra in MJ/m2/day, possible sunshine in h) for days of the year."""
    lat, j = np.radians(latitude_deg), np.asarray(day, dtype=float)
    dr = 1 + 0.033 * np.cos(2 * np.pi * j / 365)
    dec = 0.409 * np.sin(2 * np.pi * j / 365 - 1.39)
    ws = np.arccos(np.clip(-np.tan(lat) * np.tan(dec), -1, 1))
    ra = 37.586 * dr * (ws * np.sin(lat) * np.sin(dec) + np.cos(lat) * np.cos(dec) * np.sin(ws))
    return np.asarray(np.maximum(ra, 0.0)), np.asarray(24 * ws / np.pi)


def et0_mm_day(
    *,
    latitude_deg: float,
    elevation_m: float,
    day: float,
    tmax_c: float,
    tmin_c: float,
    vapour_kpa: float | None = None,
    wind_m_s: float = 2.0,
    sun_h: float | None = None,
    radiation_mj: float | None = None,
    soil_heat_mj: float = 0.0,
) -> float:
    """Reference evapotranspiration, mm/day. Missing vapour pressure reads e(Tmin), missing sun 0.16 sqrt(TD) Ra.

    Raises FieldError for Tmax below Tmin, a latitude beyond the poles, too much vapour or negative wind.
    """
    if tmax_c < tmin_c:
        raise FieldError("tmax_c", f"{tmax_c:g} is below tmin_c {tmin_c:g}")
    if abs(latitude_deg) > 90:
        raise FieldError("latitude_deg", f"{latitude_deg:g} is outside -90..90")
    if wind_m_s < 0:
        raise FieldError("wind_m_s", f"{wind_m_s:g} is negative")
    ea = float(saturation_pressure_kpa(tmin_c)) if vapour_kpa is None else vapour_kpa
    if ea > float(saturation_pressure_kpa(tmax_c)) + 1e-9:
        raise FieldError("rh_pct", "more vapour than air at Tmax can hold")
    found = et0_many(
        latitude_deg, elevation_m, np.asarray(day, float), np.asarray(tmax_c, float), np.asarray(tmin_c, float),
        np.asarray(ea), np.asarray(wind_m_s, float), None if sun_h is None else np.asarray(sun_h, float),
        radiation_mj=radiation_mj, soil_heat_mj=soil_heat_mj,
    )  # fmt: skip
    return float(found)


def et0_many(
    latitude_deg: float, elevation_m: float, day: Floats, tmax_c: Floats, tmin_c: Floats, vapour_kpa: Floats, wind_m_s: Floats,
    sun_h: Floats | None, *, radiation_mj: float | None = None, soil_heat_mj: float = 0.0,
) -> Floats:  # fmt: skip
    """The same for arrays of days and weather that are known to be sound, mm/day; sun missing reads 0.16 sqrt(TD) Ra."""
    t = (tmax_c + tmin_c) / 2
    es = (saturation_pressure_kpa(tmax_c) + saturation_pressure_kpa(tmin_c)) / 2
    slope = 4098 * saturation_pressure_kpa(t) / (t + 237.3) ** 2
    g = 0.665e-3 * 101.3 * ((293 - 0.0065 * elevation_m) / 293) ** 5.26
    ra, daylight = extraterrestrial_mj(latitude_deg, day)
    if radiation_mj is not None:
        rs = np.full_like(t, radiation_mj)
    elif sun_h is not None:
        share = np.minimum(
            np.divide(sun_h, daylight, out=np.zeros(np.broadcast(sun_h, daylight).shape), where=daylight > 0), 1.0
        )
        rs = np.where(daylight > 0, (0.25 + 0.5 * share) * ra, 0.0)
    else:
        rs = 0.16 * np.sqrt(tmax_c - tmin_c) * ra
    clear = (0.75 + 2e-5 * elevation_m) * ra
    ratio = np.minimum(np.divide(rs, clear, out=np.full(np.broadcast(rs, clear).shape, 0.5), where=clear > 0), 1.0)
    black = 4.903e-9 * ((tmax_c + 273.16) ** 4 + (tmin_c + 273.16) ** 4) / 2
    rn = 0.77 * rs - black * (0.34 - 0.14 * np.sqrt(vapour_kpa)) * (1.35 * ratio - 0.35)
    top = 0.408 * slope * (rn - soil_heat_mj) + g * 900 / (t + 273) * wind_m_s * (es - vapour_kpa)
    return np.asarray(np.maximum(0.0, top / (slope + g * (1 + 0.34 * wind_m_s))))


@dataclass(frozen=True)
class MonthEt:
    """One month: ET0, mean temperature and the day of its centre."""

    month: int
    day: int
    et0_mm_day: float
    mean_c: float


@lru_cache(maxsize=64)
def monthly_et0(site: Site) -> tuple[MonthEt, ...]:
    """ET0 by month from the site's normals. Raises FieldError when latitude or normals are missing."""
    if site.latitude_deg is None or not site.months:
        raise FieldError("site.months", "latitude and twelve monthly normals are needed for water use")
    means = [(m.tmin_c + m.tmax_c) / 2 for m in site.months]
    found = []
    for i, month in enumerate(site.months):
        day = int(30.4 * (i + 1) - 15)
        vapour = None
        if month.rh_pct is not None:
            both = float(saturation_pressure_kpa(month.tmin_c) + saturation_pressure_kpa(month.tmax_c))
            vapour = month.rh_pct / 100 * both / 2
        et0 = et0_mm_day(
            latitude_deg=site.latitude_deg,
            elevation_m=site.elevation_m,
            day=day,
            tmax_c=month.tmax_c,
            tmin_c=month.tmin_c,
            vapour_kpa=vapour,
            wind_m_s=2.0 if month.wind_m_s is None else month.wind_m_s,
            sun_h=month.sun_h_day,
            soil_heat_mj=0.14 * (means[i] - means[i - 1]),
        )
        found.append(MonthEt(i + 1, day, et0, means[i]))
    return tuple(found)


def peak_month(site: Site) -> MonthEt:
    """The warmest month; ties go to the higher ET0."""
    return max(monthly_et0(site), key=lambda m: (m.mean_c, m.et0_mm_day))
