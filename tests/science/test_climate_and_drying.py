"""Evapotranspiration against the published worked examples; drying against plain bisection."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import brentq

from kesh.base.errors import FieldError
from kesh.geometry.columns import columns
from kesh.model import Site
from kesh.reference.tables import tables
from kesh.science.climate.climate import (
    et0_mm_day,
    extraterrestrial_mj,
    monthly_et0,
    peak_month,
    saturation_pressure_kpa,
)
from kesh.science.water.drainage import drained
from kesh.science.water.drying import crown_coefficient, leaf_share, water_use
from tests.builders import MONTHS, SITE, pot
from tests.science.test_drainage import FINE, OPEN

MAPLE, PINE = tables().species["trident_maple"], tables().species["japanese_white_pine"]


def test_bangkok_in_april() -> None:
    day = int(30.4 * 4 - 15)
    found = et0_mm_day(
        latitude_deg=13 + 44 / 60,
        elevation_m=2,
        day=day,
        tmax_c=34.8,
        tmin_c=25.6,
        vapour_kpa=2.85,
        wind_m_s=2,
        sun_h=8.5,
        soil_heat_mj=0.14,
    )
    assert found == pytest.approx(5.72, abs=0.01)
    assert float(extraterrestrial_mj(13 + 44 / 60, 105)[0]) == pytest.approx(38.06, abs=0.02)


def test_uccle_on_the_sixth_of_july() -> None:
    vapour = (float(saturation_pressure_kpa(12.3)) * 0.84 + float(saturation_pressure_kpa(21.5)) * 0.63) / 2
    found = et0_mm_day(
        latitude_deg=50.8,
        elevation_m=100,
        day=187,
        tmax_c=21.5,
        tmin_c=12.3,
        vapour_kpa=vapour,
        # 10 km/h measured at 10 m, brought to 2 m (FAO-56, equation 47)
        wind_m_s=10 / 3.6 * 4.87 / np.log(67.8 * 10 - 5.42),
        sun_h=9.25,
    )
    assert found == pytest.approx(3.88, abs=0.02)


def test_lyon_in_july_from_temperatures_only() -> None:
    found = et0_mm_day(
        latitude_deg=45 + 43 / 60, elevation_m=200, day=int(30.4 * 7 - 15), tmax_c=26.6, tmin_c=14.8, wind_m_s=2
    )
    assert found == pytest.approx(4.56, abs=0.02)


def test_polar_night_gives_a_number() -> None:
    found = et0_mm_day(latitude_deg=80, elevation_m=0, day=355, tmax_c=-20, tmin_c=-30, sun_h=0)
    assert found >= 0
    assert np.isfinite(found)


@pytest.mark.parametrize(
    ("change", "field"),
    [({"tmax_c": 5}, "tmax_c"), ({"latitude_deg": 91}, "latitude_deg"), ({"wind_m_s": -1}, "wind_m_s"), ({"vapour_kpa": 9}, "rh_pct")],
)  # fmt: skip
def test_impossible_weather_is_refused(change: dict, field: str) -> None:
    base = {"latitude_deg": 48, "elevation_m": 100, "day": 190, "tmax_c": 25, "tmin_c": 12}
    with pytest.raises(FieldError) as err:
        et0_mm_day(**(base | change))
    assert err.value.field == field


@given(st.floats(-60, 60), st.floats(-5, 25), st.floats(0, 15), st.floats(0, 8), st.integers(1, 365))
def test_et0_is_never_negative(latitude: float, low: float, swing: float, wind: float, day: int) -> None:
    assert (
        et0_mm_day(latitude_deg=latitude, elevation_m=300, day=day, tmax_c=low + swing, tmin_c=low, wind_m_s=wind) >= 0
    )


def test_the_peak_is_the_warmest_month_on_either_half_of_the_globe() -> None:
    assert peak_month(SITE).month == 7
    south = Site(latitude_deg=-48, months=MONTHS[6:] + MONTHS[:6])
    assert peak_month(south).month == 1
    assert len(monthly_et0(SITE)) == 12
    with pytest.raises(FieldError, match="normals"):
        monthly_et0(Site(latitude_deg=10))


def test_leaves_come_and_go() -> None:
    assert leaf_share(MAPLE, 200, 20, 48) == 1
    assert leaf_share(MAPLE, 110, 10, 48) == pytest.approx(0.5)
    assert leaf_share(MAPLE, 15, 0, 48) == 0.05
    assert leaf_share(MAPLE, 15, 20, -48) == 1
    assert leaf_share(PINE, 15, 3, 48) == pytest.approx(0.3)
    assert leaf_share(PINE, 15, -5, 48) == 0.2
    assert leaf_share(tables().species["japanese_larch"], 15, 0, 48) == 0.05


def test_the_rows_own_coefficient_wins() -> None:
    assert crown_coefficient(MAPLE) == MAPLE.kc
    bare = MAPLE.model_copy(update={"kc": None, "leaf_area_index": 4.0})
    assert crown_coefficient(bare) == pytest.approx(1.08)


def by_bisection(mix, depth: float, crown: float, et0: float, depletion: float) -> tuple[float, float]:  # type: ignore[no-untyped-def]
    """(demand, days) straight from the method's lines for the box of 400 x 300 mm."""
    cols = columns([pot(profile={"kind": "tube"}, height_mm=depth + 16)])
    w = drained(cols, mix, np.array([depth]))
    area = 384 * 284 / 1e6
    tree = et0 * MAPLE.kc * crown
    cover = min(1.0, crown / area)
    e0 = et0 * 1.05 * (1 - cover * (1 - np.exp(-0.5 * MAPLE.leaf_area_index)))
    dry = mix.phi_int - mix.phi_int_use + 0.08 * mix.phi_e
    tew = max(6.0, (float(w.held_l[0] / w.soil_l[0]) - 0.5 * dry) * min(50.0, depth))
    rew = min(5.0, tew / 2)

    def used(t: float) -> float:
        t1 = rew / e0
        surface = e0 * t if t <= t1 else tew - (tew - rew) * np.exp(-e0 * (t - t1) / (tew - rew))
        return tree * t + area * surface

    wanted = depletion * float(w.available_l[0])
    return tree + area * e0, brentq(lambda t: used(t) - wanted, 0, 400)


@given(st.floats(20, 150), st.floats(0.02, 0.6), st.floats(0.5, 8), st.sampled_from([OPEN, FINE]))
def test_days_between_waterings_agree_with_bisection(depth: float, crown: float, et0: float, mix) -> None:  # type: ignore[no-untyped-def]
    p = columns([pot(profile={"kind": "tube"}, height_mm=depth + 16)])
    w = drained(p, mix, np.array([depth]))
    found = water_use(MAPLE, crown, et0, 1.0, w, mix, np.array([depth]), np.array([384 * 284 / 1e6]), 0.4)
    demand, days = by_bisection(mix, depth, crown, et0, 0.4)
    assert float(found.demand_l_day[0]) == pytest.approx(demand)
    assert float(found.days_between[0]) == pytest.approx(days, rel=2e-3)


def test_without_any_use_it_never_dries() -> None:
    p = columns([pot(profile={"kind": "tube"})])
    w = drained(p, OPEN, np.array([84.0]))
    found = water_use(MAPLE, 0.2, 0.0, 1.0, w, OPEN, np.array([84.0]), np.array([0.1]), 0.4)
    assert np.isinf(found.days_between[0])
