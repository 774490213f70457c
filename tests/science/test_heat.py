"""The lit wall: a second way of computing (cells and steps), closed forms, and what must always hold."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.linalg import solve_banded

from kesh.geometry.outline import Floats
from kesh.model.site import Month, Site
from kesh.science.climate.cold import GRAINS, WATER, SoilBody, surface_w_m2k
from kesh.science.climate.heat import (
    LIT,
    NOON_W_M2,
    WARM_K,
    SunWall,
    _over_days,
    clock_h,
    day_light_h,
    heat_year,
    lit_kelvin,
    sunshine,
    wall_day,
)
from kesh.science.climate.weather import many_years


def sunny_day_c(
    wall: SunWall, tmin_c: float, tmax_c: float, wind_m_s: float, latitude_deg: float, day: float
) -> tuple[Floats, Floats]:
    """(15 mm behind the lit wall, mean) over a sunny day among such days, degrees C (TIMES,)."""
    answer = wall_day(wall, wind_m_s, *day_light_h(latitude_deg, day))
    low, high, lit = np.asarray(tmin_c), np.asarray(tmax_c), lit_kelvin(wall, wind_m_s)
    return _over_days(low, high, answer.air_behind, lit * answer.sun_behind), _over_days(
        low, high, answer.air_mean, lit * answer.sun_mean
    )


def body(width_m: float = 0.22, wall_m: float = 0.008, water: float = 0.35) -> SoilBody:
    return SoilBody(0.32, width_m, 0.08, 0.0056, 0.07, 0.09, 0.07, 0.70, water, wall_m, 1.3)


def by_cells(wall: SunWall, low: float, high: float, wind: float, rise: float, set_: float) -> tuple[float, float]:
    """(highest behind the wall, highest mean) by sixty cells and implicit steps of two minutes, after twelve days alike."""
    b, n, step = wall.body, 60, 120.0
    dx = b.width_m / n
    k, c = 0.12 + 0.85 * b.water / b.porosity, (1 - b.porosity) * GRAINS + b.water * WATER
    out = surface_w_m2k(wind, WARM_K)
    u = 1 / (1 / out + b.wall_m / b.wall_w_mk)
    edge, link = 1 / (1 / u + dx / (2 * k)), k / dx
    band = np.zeros((3, n))
    band[0, 1:] = band[2, :-1] = -step * link / (c * dx)
    band[1] = 1 + step * 2 * link / (c * dx)
    band[1, [0, -1]] = 1 + step * (link + edge) / (c * dx)
    t = np.full(n, (low + high) / 2)
    last = []
    for i in range(round(12 * 86400 / step)):
        hour = ((i + 1) * step / 3600) % 24
        air = (low + high) / 2 + (high - low) / 2 * np.cos(2 * np.pi * (hour - 15) / 24)
        sun = np.sin(np.pi * (hour - rise) / (set_ - rise)) if rise < hour < set_ else 0.0
        right = t.copy()
        right[0] += step * edge / (c * dx) * (air + wall.absorptance * wall.lit * NOON_W_M2 * sun / out)
        right[-1] += step * edge / (c * dx) * air
        t = solve_banded((1, 1), band, right)
        if i * step >= 11 * 86400:
            last.append((np.interp(0.015, (np.arange(n) + 0.5) * dx, t), t.mean()))
    return float(max(x for x, _ in last)), float(max(m for _, m in last))


@pytest.mark.parametrize(("width", "absorptance", "wind"), [(0.22, 0.85, 1.0), (0.45, 0.4, 3.0), (0.09, 0.92, 0.5)])
def test_cells_and_steps_come_to_the_same(width: float, absorptance: float, wind: float) -> None:
    wall = SunWall(body(width), absorptance)
    rise, set_ = day_light_h(48.0, 196)
    behind, mean = sunny_day_c(wall, 14.0, 26.0, wind, 48.0, 196)
    slow, slow_mean = by_cells(wall, 14.0, 26.0, wind, rise, set_)
    assert behind.max() == pytest.approx(slow, abs=0.25)
    assert mean.max() == pytest.approx(slow_mean, abs=0.25)


def test_a_thin_wet_slab_without_sun_follows_the_air_and_a_thick_one_does_not() -> None:
    thin, _ = sunny_day_c(SunWall(body(0.01, 0.001), 0.9, lit=0.0), 10.0, 30.0, 3.0, 48.0, 196)
    assert np.ptp(thin) == pytest.approx(20.0, rel=0.12)
    thick, _ = sunny_day_c(SunWall(body(1.5), 0.9, lit=0.0), 10.0, 30.0, 3.0, 48.0, 196)
    assert np.ptp(thick) < 0.75 * np.ptp(thin)
    assert thick.mean() == pytest.approx(20.0, abs=1e-6)


def test_polar_night_has_no_sun_and_midsummer_has_it_all_day() -> None:
    assert not sunshine(*day_light_h(80.0, 355)).any()
    rise, set_ = day_light_h(80.0, 172)
    assert (rise, set_) == (0.0, 24.0)
    assert sunshine(6.0, 18.0)[clock_h() == 12.0] == pytest.approx(1.0)


@given(st.floats(0.1, 0.9), st.floats(0.02, 0.09), st.floats(0.2, 6.0))
def test_a_lighter_wall_a_board_and_more_wind_never_make_it_hotter(take: float, more: float, wind: float) -> None:
    def top(absorptance: float, lit: float = LIT, blows: float = wind) -> float:
        return float(sunny_day_c(SunWall(body(), absorptance, lit), 15.0, 27.0, blows, 45.0, 196)[0].max())

    assert top(take) < top(take + more)
    assert top(take, LIT / 6) < top(take)
    assert top(take, blows=wind + 1) < top(take)


def test_the_years_have_more_heat_behind_a_dark_wall_and_none_where_it_is_cold() -> None:
    warm = Site(latitude_deg=44, months=(Month(tmin_c=17, tmax_c=29, rain_mm=30, sun_h_day=9),) * 12)
    weather = many_years(warm, 20)
    dark, light = (heat_year(SunWall(body(), a), weather, 44.0) for a in (0.9, 0.3))
    assert dark.hours_35 > light.hours_35
    assert dark.hours_35 >= dark.hours_40
    assert dark.by_month_35.sum() == pytest.approx(dark.hours_35)
    assert dark.peak_c > light.peak_c
    cold = Site(latitude_deg=70, months=(Month(tmin_c=-20, tmax_c=-10, rain_mm=10),) * 12)
    assert heat_year(SunWall(body(), 0.9), many_years(cold, 10), 70.0).hours_35 == 0
