"""Heat through a root zone against series solutions, energy kept, and what must always hold of frost."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from kesh.base.errors import FieldError
from kesh.science.climate.cold import (
    _NIGHTS,
    NEVER_C,
    SoilBody,
    _Shells,
    cold_run,
    critical_night_c,
    critical_nights_c,
    nights_at_risk,
    spell,
    surface_w_m2k,
)

TRAY = SoilBody(0.36, 0.26, 0.06, 0.0056, 0.094, 0.074, 0.094, 0.70, 0.42, 0.008, 1.4)
DEEP = SoilBody(0.30, 0.30, 0.20, 0.018, 0.09, 0.24, 0.09, 0.70, 0.42, 0.010, 1.4)


def test_a_slab_cools_as_the_series_says() -> None:
    """Carslaw and Jaeger: a slab with a surface resistance, without frost; the sum over eigenvalues."""
    # so wide that only top and bottom count, without a wall that matters and without a sky
    slab = SoilBody(8.0, 8.0, 0.10, 6.4, 64.0, 1e-6, 64.0, 0.6, 0.3, 1e-6, 200.0)
    assert slab.shape == pytest.approx(0, abs=1e-6)
    run = cold_run(slab, lambda _: 5.0, 12, 20.0, wind_m_s=2.0, sky="none")
    shells = _Shells(slab, 2.0, "none")
    a, h, k, alpha = 0.05, shells.u, shells.k_u, shells.k_u / shells.c_u
    biot = h * a / k
    roots = [brentq(lambda z: z * np.tan(z) - biot, n * np.pi + 1e-9, n * np.pi + np.pi / 2 - 1e-9) for n in range(12)]
    for hour in (1, 3, 8):
        series = sum(
            2 * np.sin(z) ** 2 / (z * (z + np.sin(z) * np.cos(z))) * np.exp(-(z**2) * alpha * hour * 3600 / a**2)
            for z in roots
        )
        found = run.mean_c[hour * 12]
        assert found == pytest.approx(5 + 15 * series, abs=0.08)


def test_heat_content_and_temperature_are_the_same_thing_read_two_ways() -> None:
    shells = _Shells(TRAY, 1.0, "clear")
    for t in (-20.0, -3.0, -0.4, -0.1, 0.0, 0.5, 15.0):
        assert float(shells.temperature(np.array([shells.heat(t)]))[0]) == pytest.approx(t, abs=1e-9)


def test_freezing_takes_the_heat_of_melting() -> None:
    """The energy that leaves through the surface is what the shells have lost."""
    shells, hours = _Shells(TRAY, 1.0, "none"), 20
    run = cold_run(TRAY, lambda _: -8.0, hours, 1.0, sky="none")
    assert run.mean_c[-1] < -0.5
    # by the mean of each quarter of an hour, the flow out of the last shell
    fine = cold_run(TRAY, lambda _: -8.0, hours, 1.0, sky="none")
    assert np.allclose(fine.mean_c, run.mean_c)
    slow = SoilBody(**(TRAY.__dict__ | {"water": 0.02}))
    dry = cold_run(slow, lambda _: -8.0, hours, 1.0, sky="none")
    wet_h, dry_h = run.hours_until(-2.0), dry.hours_until(-2.0)
    assert wet_h is not None
    assert dry_h is not None
    # a wet tray holds out by its ice: about the heat of melting over what the surface draws
    latent = 0.42 * 334e6 * TRAY.volume_m3
    draws = shells.u * TRAY.exposed_m2 * 7.8
    assert wet_h - dry_h == pytest.approx(latent / draws / 3600, rel=0.35)


def test_a_shallow_pot_freezes_through_in_a_night_and_a_deep_one_holds_out() -> None:
    def through(body: SoilBody) -> float:
        run = cold_run(body, lambda _: -5.0, 60, 1.0)
        below = np.flatnonzero(run.mean_c <= -1.0)
        return float(run.hours[below[0]]) if len(below) else 99.0

    assert 8 < through(TRAY) < 40
    assert through(DEEP) > through(TRAY)
    assert through(SoilBody(**(TRAY.__dict__ | {"on_bench": False}))) > through(TRAY)


@settings(max_examples=3, deadline=None)
@given(st.floats(-12, -2), st.floats(0.3, 5))
def test_the_critical_night_kills_and_a_milder_one_does_not(limit: float, wind: float) -> None:
    night = critical_night_c(TRAY, limit, wind_m_s=wind)
    assert night > NEVER_C
    colder, milder = (
        cold_run(TRAY, spell(night + d), 72, max(night + d + 3, 0.0), wind_m_s=wind).outer_c.min() for d in (-0.3, 0.3)
    )
    assert colder <= limit < milder + 0.05
    # hardier roots bear a colder night, and a still night is milder than a windy one
    assert critical_night_c(TRAY, limit - 2, wind_m_s=wind) < night


def test_bodies_that_march_together_end_as_if_each_marched_alone() -> None:
    stands = [
        (TRAY, -6.0, 1.0, "clear"),
        (DEEP, -9.0, 2.0, "none"),
        (SoilBody(**(TRAY.__dict__ | {"on_bench": False})), -4.0, 0.4, "half"),
    ]
    # one that nothing kills stands among them
    stands.insert(1, (DEEP, -90.0, 1.0, "clear"))
    _NIGHTS.clear()
    together = critical_nights_c(stands)
    _NIGHTS.clear()
    alone = [critical_nights_c((stand,))[0] for stand in stands]
    assert together == pytest.approx(alone, abs=1e-9)
    assert together[1] == NEVER_C
    assert len(set(together)) == 4


def test_nights_are_counted_by_the_year_and_colder_places_have_more() -> None:
    years = np.tile(np.linspace(-20, 20, 365), (3, 1))
    assert nights_at_risk(-10.0, years) == pytest.approx(92, abs=1)
    assert nights_at_risk(-10.0, years - 3) >= nights_at_risk(-10.0, years)
    assert surface_w_m2k(1.0) == pytest.approx(2.8 + 3.0 + 4 * 0.92 * 5.67e-8 * 273.15**3)


def test_what_cannot_be_is_refused_by_name() -> None:
    with pytest.raises(FieldError, match="more than the pores hold"):
        SoilBody(**(TRAY.__dict__ | {"water": 0.9}))
    with pytest.raises(FieldError, match="wall_m"):
        SoilBody(**(TRAY.__dict__ | {"wall_m": 0.0}))
