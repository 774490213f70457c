"""The year in a pot: closed forms, balance, what must always hold, and weather that keeps its normals."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.model import Site
from kesh.model.site import Month
from kesh.reference.tables import tables
from kesh.science.climate.climate import et0_mm_day
from kesh.science.climate.weather import MONTH_DAYS, Weather, many_years, month_of_day, usual_year
from kesh.science.climate.year import PotWater, ensemble, leaf_by_day, longest_gaps, usual
from kesh.science.season.windows import YEAR
from tests.kept import examples

MONTHS = ((-3, 2, 48), (-2, 4, 44), (0, 9, 52), (4, 14, 58), (8, 19, 82), (11, 22, 90), (13, 24, 86), (12, 24, 80), (9, 19, 62), (5, 13, 56), (1, 7, 58), (-2, 3, 54))  # fmt: skip
SITE = Site(
    latitude_deg=48, elevation_m=420,
    months=tuple(Month(tmin_c=a, tmax_c=b, rain_mm=r, wind_m_s=2.0, rh_pct=70, sun_h_day=5) for a, b, r in MONTHS),
)  # fmt: skip
POT = PotWater(
    available_l=1.2, mad=0.4, crown_area_m2=0.14, crown_coefficient=1.0, soil_area_m2=0.06, mouth_area_m2=0.065, ke=0.5, tew_mm=12.0,
    rew_mm=5.0, exposure=1.0, wet_until_l=0.3,
)  # fmt: skip
FULL = np.ones((1, YEAR))


def constant(et0: float, rain: float = 0.0, years: int = 1) -> Weather:
    flat = np.ones((years, YEAR))
    return Weather(10 * flat, 20 * flat, rain * flat, 2 * flat, None, 70 * flat, et0 * flat)


def test_a_tree_alone_in_an_even_climate_is_watered_by_the_clock() -> None:
    pot = replace(POT, ke=0.0)
    found = usual(pot, constant(3.0), FULL)
    # litres a day, and days until two fifths of the store are used
    daily = 3.0 * 0.14
    assert found.transpiration_l == pytest.approx(daily * YEAR)
    # two parts a day of 0.21 l; the third part takes it below three fifths, so it is watered after each third
    assert found.waterings.sum() == YEAR * 2 // 3
    assert found.irrigation_l == pytest.approx(daily * YEAR - (1.2 - found.store_l[-1]), abs=1e-9)
    assert found.evaporation_l == 0
    assert abs(found.balance_error_l) < 1e-9


def test_rain_enough_needs_no_keeper_and_the_rest_drains() -> None:
    found = usual(POT, constant(2.0, rain=12.0), FULL)
    assert found.waterings.sum() == 0
    assert found.drainage_l == pytest.approx(found.rain_l - found.transpiration_l - found.evaporation_l, abs=1.2)
    assert abs(found.balance_error_l) < 1e-9


def test_a_bare_surface_dries_in_two_stages() -> None:
    """Without a tree the surface loses no more than it can hold, and what is ready goes first, at the full rate."""
    pot = replace(POT, crown_area_m2=0.0, crown_coefficient=0.0, ke=1.0, mad=0.9)
    found = usual(pot, constant(4.0), FULL)
    assert found.evaporation_l == pytest.approx(12.0 * 0.06, rel=0.02)
    assert 1.2 - found.store_l[0] == pytest.approx(4.0 * 0.06)


@settings(max_examples=examples(25), deadline=None)
@given(st.floats(0.05, 6), st.floats(0.02, 0.4), st.floats(0.01, 0.2), st.floats(0.2, 1.3), st.booleans())
def test_the_balance_closes_and_rain_never_asks_for_more(
    cap: float, crown: float, soil: float, fx: float, roofed: bool
) -> None:
    pot = replace(POT, available_l=cap, crown_area_m2=crown, soil_area_m2=soil, mouth_area_m2=soil, exposure=fx)
    plain = usual_year(SITE)
    leaf = leaf_by_day(tables().species["trident_maple"], plain.mean_c, 48)
    found = usual(pot, plain, leaf, roofed=roofed)
    assert abs(found.balance_error_l) < 1e-6
    dry = usual(pot, plain, leaf, roofed=True)
    assert found.waterings.sum() <= dry.waterings.sum()
    shade = usual(replace(pot, exposure=0.6 * fx), plain, leaf, roofed=roofed)
    assert shade.transpiration_l + shade.evaporation_l <= found.transpiration_l + found.evaporation_l + 1e-9
    years = many_years(SITE, 6, 3)
    many = ensemble([pot], years, leaf_by_day(tables().species["trident_maple"], years.mean_c, 48), roofed=roofed)[0]
    assert many.balance_error_l < 1e-6
    assert np.all(many.dry_hours <= 8760)
    assert np.all(many.wet_hours <= 8760)


def test_one_year_of_usual_days_is_the_usual_year() -> None:
    """The ensemble on the usual year's weather, with as many parts a day, against the single bucket."""
    plain = usual_year(SITE)
    leaf = leaf_by_day(tables().species["trident_maple"], plain.mean_c, 48)
    one, many = usual(POT, plain, leaf), ensemble([POT], plain, leaf)[0]
    assert many.irrigation_l[0] == pytest.approx(one.irrigation_l, rel=0.03)
    assert many.waterings[0] == pytest.approx(one.waterings.sum(), rel=0.08)


def test_a_larger_pot_of_the_same_mix_bears_a_longer_gap() -> None:
    years = many_years(SITE, 20, 2)
    leaf = leaf_by_day(tables().species["trident_maple"], years.mean_c, 48)
    large = replace(POT, available_l=2 * POT.available_l)
    small_gap, large_gap = longest_gaps([POT, large], years, leaf)
    assert np.all(large_gap >= small_gap)
    assert np.median(small_gap[:, 6]) < np.median(small_gap[:, 0])
    # two fifths of 1.2 l at 3 mm a day on 0.14 m2
    even = longest_gaps([replace(POT, ke=0.0)], constant(3.0), FULL)[0]
    assert np.allclose(even, 0.4 * 1.2 / (3.0 * 0.14))


def test_a_keeper_who_looks_seldom_lets_it_dry_and_one_who_is_away_loses_it() -> None:
    years = many_years(SITE, 30, 4)
    leaf = leaf_by_day(tables().species["trident_maple"], years.mean_c, 48)
    dry = {
        h: ensemble([POT], years, leaf, habit=h)[0].dry_hours.mean() for h in ("asked", "twice", "daily", "alternate")
    }  # type: ignore[arg-type]
    assert dry["asked"] <= dry["twice"] <= dry["daily"] <= dry["alternate"]
    away = np.zeros(YEAR, bool)
    away[190:211] = True
    gone = ensemble([POT], years, leaf, roofed=True, away=away)[0]
    here = ensemble([POT], years, leaf, roofed=True)[0]
    assert gone.away_distress.mean() > 0.9
    assert not here.away_distress.any()


def test_pots_compared_stand_in_the_same_weather_and_do_not_touch_each_other() -> None:
    years = many_years(SITE, 12, 5)
    leaf = leaf_by_day(tables().species["trident_maple"], years.mean_c, 48)
    other = replace(POT, available_l=0.2, soil_area_m2=0.02)
    together, alone = ensemble([POT, other], years, leaf), ensemble([POT], years, leaf)[0]
    assert np.array_equal(together[0].waterings, alone.waterings)
    assert np.array_equal(together[0].dry_hours, alone.dry_hours)


def test_weather_keeps_its_normals_and_its_seed() -> None:
    years, plain, month = many_years(SITE, 200, 7), usual_year(SITE), month_of_day()
    assert many_years(SITE, 200, 7) is years or np.array_equal(many_years(SITE, 200, 7).rain_mm, years.rain_mm)
    assert not np.array_equal(many_years(SITE, 200, 8).rain_mm, years.rain_mm)
    for m in range(12):
        assert years.rain_mm[:, month == m].sum(axis=1).mean() == pytest.approx(MONTHS[m][2], rel=1e-6)
        assert abs(years.mean_c[:, month == m].mean() - plain.mean_c[:, month == m].mean()) < 0.3
    assert plain.rain_mm.sum() == pytest.approx(sum(m[2] for m in MONTHS), rel=0.01)
    assert plain.et0_mm[0, 195] == pytest.approx(
        et0_mm_day(latitude_deg=48, elevation_m=420, day=196, tmax_c=float(plain.tmax_c[0, 195]), tmin_c=float(plain.tmin_c[0, 195]),
                   vapour_kpa=vapour(plain, 195), wind_m_s=2.0, sun_h=5.0), abs=1e-9,
    )  # fmt: skip
    assert int(MONTH_DAYS.sum()) == YEAR


def vapour(plain: Weather, d: int) -> float:
    def e(t: float) -> float:
        return 0.6108 * float(np.exp(17.27 * t / (t + 237.3)))

    return 0.7 * (e(float(plain.tmax_c[0, d])) + e(float(plain.tmin_c[0, d]))) / 2


def test_a_dry_place_a_polar_one_and_one_without_normals() -> None:
    desert = SITE.changed(months=tuple(m.changed(rain_mm=0.0) for m in SITE.months))
    assert many_years(desert, 5, 1).rain_mm.sum() == 0
    assert usual_year(desert).rain_mm.sum() == 0
    night = usual_year(SITE.changed(latitude_deg=80.0))
    assert np.isfinite(night.et0_mm).all()
    assert night.et0_mm.min() >= 0
    assert np.isfinite(many_years(SITE.changed(latitude_deg=-66.0), 3, 1).et0_mm).all()
    silent = SITE.changed(months=tuple(Month(tmin_c=a, tmax_c=b) for a, b, _ in MONTHS))
    assert usual_year(silent).rain_mm.sum() == 0
    with pytest.raises(FieldError, match="monthly normals"):
        usual_year(Site(latitude_deg=48))
