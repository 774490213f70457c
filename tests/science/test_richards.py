"""Water moving in the mix: an analytical solution, the static profile it must come to, and a balance that closes."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.optimize import brentq

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.reference.tables import tables
from kesh.science.water.richards import Column, MixHydraulics, Weathering, dry
from kesh.science.water.substrate import Blend, blend

ROWS = tables()


def mix(**parts: float) -> Blend:
    return blend([(ROWS.substrate(key), share) for key, share in parts.items()])


OPEN = mix(akadama_hard_3_6=2, hard_pumice_3_6=1, lava_3_6=1)


class Gardner:
    """A soil whose conductivity falls off as an exponential: then Richards' equation is linear and has a solution in closed form."""

    alpha, ks, low, full = 0.01, 10.0, 0.06, 0.40

    def at(self, psi: Floats) -> tuple[Floats, Floats, Floats, Floats]:
        share = np.exp(self.alpha * np.minimum(psi, 0))
        return (
            self.low + (self.full - self.low) * share,
            self.alpha * (self.full - self.low) * share,
            self.ks * share,
            self.alpha * self.ks * share,
        )


def srivastava_yeh(z: Floats, hours: float, depth: float, before: float, after: float) -> Floats:
    """Heads over a water table when the flow into the top changes (Srivastava and Yeh 1991, homogeneous soil)."""
    s = Gardner()
    zs, top, t = s.alpha * z, s.alpha * depth, s.alpha * s.ks * hours / (s.full - s.low)
    a, b = before / s.ks, after / s.ks
    roots = [
        brentq(
            lambda x: np.sin(x * top) + 2 * x * np.cos(x * top),
            (n - 0.5) * np.pi / top + 1e-9,
            (n + 0.5) * np.pi / top - 1e-9,
        )
        for n in range(1, 120)
    ]
    terms = sum(np.sin(x * zs) * np.sin(x * top) * np.exp(-(x**2) * t) / (1 + top / 2 + 2 * x**2 * top) for x in roots)
    k = b - (b - 1) * np.exp(-zs) - 4 * (b - a) * np.exp((top - zs) / 2) * np.exp(-t / 4) * terms
    return np.log(k) / s.alpha


def test_infiltration_over_a_water_table_as_in_closed_form() -> None:
    depth, before, after = 1000.0, 1.0, 9.0
    column = Column.straight(depth, cells=200)
    start = srivastava_yeh(column.z_mm, 0.0, depth, before, before)
    rain = after * 1e4 / 1e6
    found = dry(Gardner(), column, [1.0, 5.0, 20.0, 100.0], Weathering(rain_l_h=lambda _: rain), start_psi=start, table=True, longest_h=0.05)  # fmt: skip
    for hour, psi in zip(found.hours, found.psi, strict=True):
        exact = srivastava_yeh(column.z_mm, float(hour), depth, before, after)
        assert np.abs(psi - exact).max() < 3.0, hour
    assert found.error_share < 1e-4


def test_without_use_it_drains_to_the_static_profile() -> None:
    column = Column.straight(80.0)
    found = dry(MixHydraulics(OPEN), column, [0.1, 1, 24, 24 * 20], longest_h=6.0)
    assert found.converged
    static = OPEN.water_drained(column.z_mm)
    # the last films go on draining for weeks: nearly all of it is gone after a day
    assert np.abs(found.water[-1] - static).max() < 0.02
    assert float(found.water[2].mean()) == pytest.approx(float(static.mean()), abs=0.02)
    assert np.all(np.diff(found.drained_l) >= -1e-12)
    lost = (found.water[0] - found.water[-1]) @ column.volumes_l
    assert lost == pytest.approx(found.drained_l[-1] - found.drained_l[0], rel=1e-4)


@settings(max_examples=12, deadline=None)
@given(st.floats(25, 200), st.floats(0.0, 0.02), st.floats(0.0, 0.01), st.floats(0.5, 1.4))
def test_the_balance_closes_in_pots_of_any_taper(depth: float, drinks: float, airs: float, taper: float) -> None:
    edges = np.linspace(taper, 1.0, 49) * 4e4
    column = Column(depth, (edges[1:] + edges[:-1]) / 2, edges)
    works = Weathering(uptake_l_h=lambda _: drinks, evaporation_l_h=lambda _: airs)
    found = dry(MixHydraulics(OPEN), column, [1, 6, 24, 72], works)
    assert found.error_share < 1e-4
    assert np.all(found.water >= 0)
    assert np.all(found.water <= OPEN.phi_t + 1e-9)
    # the floor is never dryer than the top while nothing is drunk
    if drinks == airs == 0:
        assert np.all(np.diff(found.water, axis=1) <= 1e-9)


def test_a_thirsty_tree_dries_the_pot_and_then_gets_no_more() -> None:
    column = Column.straight(60.0, 4e4)
    found = dry(
        MixHydraulics(OPEN), column, [24, 24 * 10, 24 * 60], Weathering(uptake_l_h=lambda _: 0.03), longest_h=2.0
    )
    assert found.used_l[0] == pytest.approx(0.03 * 24, rel=0.15)
    assert found.used_l[1] <= found.used_l[2] < 0.03 * 24 * 10
    assert found.error_share < 1e-4


def test_what_cannot_be_is_refused_by_name() -> None:
    with pytest.raises(FieldError, match="depth_mm"):
        Column.straight(0.0)
    with pytest.raises(FieldError, match="hours"):
        dry(MixHydraulics(OPEN), Column.straight(50.0), [3, 2])
    with pytest.raises(FieldError, match="areas_mm2"):
        Column(50.0, np.ones(4), np.ones(4))
