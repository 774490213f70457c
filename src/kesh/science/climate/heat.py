"""How hot the root zone becomes behind a wall in the sun (docs/methods.md, "heat behind the lit wall").

A slab of wet mix between two walls, one lit, days that repeat: each harmonic of air and sun has its own solution of the heat
equation (Carslaw and Jaeger 1959, periodic surface temperature), so no steps and no cells. One dimension: 2 K at best.
"""

from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.science.climate.climate import extraterrestrial_mj
from kesh.science.climate.cold import GRAINS, WATER, SoilBody, surface_w_m2k
from kesh.science.climate.weather import MONTH_DAYS, Weather, month_of_day

# W/m2 on a clear noon, share of it that meets an upright wall, K of the surface's own radiation
NOON_W_M2, LIT, WARM_K = 900.0, 0.6, 298.15
BEHIND_MM, TIMES, HARMONICS = 15.0, 96, 40
SLOWS_C, HARMS_C, KILLS_C = 35.0, 40.0, 46.0
# layers of the root zone between the lit wall and the other; hours over 46 degrees after which roots are dead
CELLS, KILLS_AFTER_H = 60, 2.0
# what the shaded floor gives to the air against the open top [J]
BELOW_SHARE = 0.5
# of the possible sun, from which a day is sunny
SUNNY_SHARE = 0.5


@dataclass(frozen=True)
class SunWall:
    """A pot in the sun: its root zone, what its wall takes in of the light, and how much light meets it."""

    body: SoilBody
    absorptance: float
    lit: float = LIT

    def __post_init__(self) -> None:
        if not 0 <= self.absorptance <= 1:
            raise FieldError("absorptance", f"{self.absorptance:g} is outside 0..1")

    @property
    def thick_m(self) -> float:
        """Through the pot in the sun's direction: from front to back."""
        return self.body.width_m


@dataclass(frozen=True)
class WallDay:
    """Answers over a day (TIMES,): kelvin behind the lit wall and in the mean for one kelvin of lit wall, and of air's swing."""

    sun_behind: Floats
    sun_mean: Floats
    air_behind: Floats
    air_mean: Floats


def clock_h() -> Floats:
    """Hours of the day at which the answers stand."""
    return np.arange(TIMES) * 24 / TIMES


def sunshine(rise_h: float, set_h: float) -> Floats:
    """Share of the noon sun over the day: half a sine between rise and set."""
    t = clock_h()
    if set_h <= rise_h:
        return np.zeros(TIMES)
    return np.where((t > rise_h) & (t < set_h), np.sin(np.pi * (t - rise_h) / (set_h - rise_h)), 0.0)


def day_light_h(latitude_deg: float, day: float) -> tuple[float, float]:
    """(rise, set) in hours of solar time."""
    hours = float(extraterrestrial_mj(latitude_deg, day)[1])
    return 12 - hours / 2, 12 + hours / 2


def wall_day(wall: SunWall, wind_m_s: float, rise_h: float, set_h: float) -> WallDay:
    """How the slab answers sun and air that repeat every day."""
    b = wall.body
    carries = 0.12 + 0.85 * b.water / max(b.porosity, 1e-9)
    holds = (1 - b.porosity) * GRAINS + b.water * WATER
    u = 1 / (1 / surface_w_m2k(wind_m_s, WARM_K) + b.wall_m / b.wall_w_mk)
    deep, thick = min(BEHIND_MM / 1000, wall.thick_m / 2), wall.thick_m
    # air: coldest at three, warmest at fifteen hours; its mean is taken out
    swing = np.cos(2 * np.pi * (clock_h() - 15) / 24)
    parts = [np.fft.rfft(x)[: HARMONICS + 1] for x in (sunshine(rise_h, set_h), swing)]
    n = np.arange(1, HARMONICS + 1)
    q = np.sqrt(1j * n * 2 * np.pi / 86400 * holds / carries)
    # T = a exp(-q x) + b exp(-q (X - x)); k T'(0) = u (T(0) - lit), -k T'(X) = u (T(X) - other)
    far, give = np.exp(-q * thick), carries * q
    plus, less = u + give, (u - give) * far

    def solved(lit: float, other: float) -> tuple[Floats, Floats]:
        det = plus**2 - less**2
        first, second = (u * (lit * plus - other * less) / det, u * (other * plus - lit * less) / det)
        behind = first * np.exp(-q * deep) + second * np.exp(-q * (thick - deep))
        return behind, (first + second) * (1 - far) / (q * thick)

    def over_day(part: np.ndarray, steady: float, answers: Floats) -> Floats:
        whole = np.zeros(TIMES // 2 + 1, complex)
        whole[0], whole[1 : HARMONICS + 1] = part[0] * steady, part[1:] * answers
        return np.fft.irfft(whole, TIMES)

    sun, air = solved(1.0, 0.0), solved(1.0, 1.0)
    # in the mean of a day heat goes straight through
    steady = (1 / u + (thick - deep) / carries) / (2 / u + thick / carries)
    return WallDay(
        over_day(parts[0], steady, sun[0]), over_day(parts[0], 0.5, sun[1]),
        over_day(parts[1], 1.0, air[0]), over_day(parts[1], 1.0, air[1]),
    )  # fmt: skip


def _field(wall: SunWall, wind_m_s: float, rise_h: float, set_h: float, depths_m: Floats) -> tuple[Floats, Floats]:
    """Kelvin at depths (D, TIMES) for one kelvin of lit wall, and of air's swing; as `wall_day`, all through the slab."""
    b = wall.body
    carries = 0.12 + 0.85 * b.water / max(b.porosity, 1e-9)
    holds = (1 - b.porosity) * GRAINS + b.water * WATER
    u = 1 / (1 / surface_w_m2k(wind_m_s, WARM_K) + b.wall_m / b.wall_w_mk)
    n, thick = np.arange(HARMONICS + 1), wall.thick_m
    # top and bottom give heat to the air too: a low pot keeps little of what its lit wall takes in
    loss = (1 + BELOW_SHARE) * surface_w_m2k(wind_m_s, WARM_K) / max(b.depth_m, 1e-3)
    store = 1j * n * 2 * np.pi / 86400 * holds
    q = np.sqrt((store + loss) / carries)
    follows = loss / (loss + store)
    far, give, x = np.exp(-q * thick), carries * q, depths_m[:, None]
    plus, less = u + give, (u - give) * far
    swing = np.cos(2 * np.pi * (clock_h() - 15) / 24)
    found = []
    det = plus**2 - less**2
    for light, by_air in ((sunshine(rise_h, set_h), False), (swing, True)):
        part = np.fft.rfft(light)[: HARMONICS + 1]
        # of the air what top and bottom follow at once, the rest and all of the sun comes through the walls
        own = follows if by_air else 0.0
        lit, other = (1 - follows, 1 - follows) if by_air else (1.0, 0.0)
        first, second = u * (lit * plus - other * less) / det, u * (other * plus - lit * less) / det
        answers = own + first * np.exp(-q * x) + second * np.exp(-q * (thick - x))
        whole = np.zeros((len(depths_m), TIMES // 2 + 1), complex)
        whole[:, : HARMONICS + 1] = part * answers
        found.append(np.fft.irfft(whole, TIMES, axis=1))
    return found[0], found[1]


@dataclass(frozen=True)
class HotWeek:
    """The hottest usual week: share of the root volume that comes over 40 degrees, and over 46 for two hours; its hottest roots."""

    share_40: float
    share_46: float
    peak_c: float
    month: int


def hot_week(wall: SunWall, usual: Weather, latitude_deg: float) -> HotWeek:
    """How much of the root volume the sun heats too far on the days of the hottest usual week, all of them sunny.

    The field of heat through the slab from the lit wall to the other, a day that repeats (docs/methods.md, "heat at the wall").
    """
    mean = usual.tmax_c[0]
    week = np.convolve(np.r_[mean[-3:], mean, mean[:3]], np.ones(7) / 7, "valid")
    day = int(week.argmax())
    rows = (np.arange(day - 3, day + 4)) % len(mean)
    wind = float(usual.wind_m_s[0, rows].mean())
    low, high = float(usual.tmin_c[0, rows].mean()), float(usual.tmax_c[0, rows].mean())
    depths = (np.arange(CELLS) + 0.5) / CELLS * wall.thick_m
    sun, air = _field(wall, wind, *day_light_h(latitude_deg, float(day + 1)), depths)
    celsius = (low + high) / 2 + (high - low) / 2 * air + lit_kelvin(wall, wind) * sun
    killed = (celsius > KILLS_C).sum(axis=1) * 24 / TIMES >= KILLS_AFTER_H
    return HotWeek(
        float((celsius > HARMS_C).any(axis=1).mean()), float(killed.mean()), float(celsius.max()), int(month_of_day()[day])
    )  # fmt: skip


def lit_kelvin(wall: SunWall, wind_m_s: float) -> float:
    """By how much the noon sun lifts the lit wall's surroundings."""
    return wall.absorptance * wall.lit * NOON_W_M2 / surface_w_m2k(wind_m_s, WARM_K)


def _over_days(tmin_c: Floats, tmax_c: Floats, by_air: Floats, by_sun: Floats) -> Floats:
    """Degrees C over each of some sunny days (..., TIMES)."""
    mean, swing = (tmax_c + tmin_c) / 2, (tmax_c - tmin_c) / 2
    return np.asarray(mean[..., None] + swing[..., None] * by_air + by_sun)


@dataclass(frozen=True)
class HeatYear:
    """Hours a year over 35 and 40 degrees behind the lit wall, by month over 35 (12,), and the peak of the hottest sunny day in a middling year."""

    hours_35: float
    hours_40: float
    by_month_35: Floats
    by_month_40: Floats
    peak_c: float


def sunny_days(weather: Weather, latitude_deg: float) -> np.ndarray:
    """Days with half of the possible sun, or without rain where sun is not known (Y, 365)."""
    day = np.arange(1.0, weather.et0_mm.shape[1] + 1)
    possible = extraterrestrial_mj(latitude_deg, day)[1]
    if weather.sun_h is None:
        return np.asarray((weather.rain_mm <= 0) & (possible > 0))
    return np.asarray((weather.sun_h >= SUNNY_SHARE * possible) & (possible > 0))


def heat_year(wall: SunWall, weather: Weather, latitude_deg: float) -> HeatYear:
    """The lit wall through many years: only sunny days count."""
    month, sunny = month_of_day(), sunny_days(weather, latitude_deg)
    over = {SLOWS_C: np.zeros(12), HARMS_C: np.zeros(12)}
    peak = np.full(weather.years, -np.inf)
    for m, middle in enumerate(np.cumsum(MONTH_DAYS) - MONTH_DAYS // 2):
        rows = month == m
        wind = float(weather.wind_m_s[:, rows].mean())
        answer = wall_day(wall, wind, *day_light_h(latitude_deg, float(middle)))
        behind = _over_days(
            weather.tmin_c[:, rows],
            weather.tmax_c[:, rows],
            answer.air_behind,
            lit_kelvin(wall, wind) * answer.sun_behind,
        )
        behind = np.where(sunny[:, rows, None], behind, -np.inf)
        for limit, hours in over.items():
            hours[m] = float((behind > limit).sum()) * 24 / TIMES / weather.years
        peak = np.maximum(peak, behind.max(axis=(1, 2)))
    known = peak[np.isfinite(peak)]
    top = float(np.median(known)) if len(known) else float(weather.tmax_c.max())
    return HeatYear(float(over[SLOWS_C].sum()), float(over[HARMS_C].sum()), over[SLOWS_C], over[HARMS_C], top)
