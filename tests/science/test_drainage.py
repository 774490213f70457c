"""Water after draining against the closed form, the published check values and properties."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.special import hyp2f1

from kesh.base.errors import FieldError
from kesh.geometry.columns import columns
from kesh.model import Hole
from kesh.science.water.drainage import drained, tilted, wet_over_mm
from kesh.science.water.substrate import RESIDUAL, blend
from tests.builders import pot
from tests.science.test_substrate import AKADAMA, BARK, LAVA, PEAT, PERLITE, PUMICE, grain

OPEN, FINE = blend([(AKADAMA, 2), (PUMICE, 1), (LAVA, 1)]), blend([(BARK, 1), (PERLITE, 1), (PEAT, 1)])
GRAVEL = blend([(grain("gravel", 8, 16, 0.43, 0, 1.50, 0), 1)])
# inside 300 x 200 mm with vertical walls
BOX = pot(length_mm=316, width_mm=216, height_mm=210, profile={"kind": "tube"})


def run(mix, depth, **more):  # type: ignore[no-untyped-def]
    return drained(columns([BOX]), mix, np.array([float(depth)]), **more)


def test_published_open_mix() -> None:
    found = run(OPEN, 80)
    assert float(found.held_l[0]) == pytest.approx(1.9205, abs=2e-4)
    assert float(found.air_mean[0]) == pytest.approx(0.3083, abs=1e-4)
    assert float(found.air_bottom_third[0]) == pytest.approx(0.1343, abs=1e-4)
    assert float(found.wet_height_mm[0]) == pytest.approx(11.66, abs=5e-3)
    assert float(found.wet_share[0]) == pytest.approx(0.1458, abs=1e-4)
    assert float(found.available_l[0]) == pytest.approx(1.138, abs=5e-4)
    shallow = run(OPEN, 40)
    assert float(shallow.air_mean[0]) == pytest.approx(0.2137, abs=1e-4)
    assert float(shallow.wet_share[0]) == pytest.approx(0.2915, abs=1e-4)


def test_published_fine_mix_with_and_without_gravel() -> None:
    bare = run(FINE, 120)
    assert float(bare.held_l[0]) == pytest.approx(4.6697, abs=3e-4)
    assert float(bare.air_mean[0]) == pytest.approx(0.0859, abs=1e-4)
    assert float(bare.wet_height_mm[0]) == pytest.approx(50.33, abs=5e-3)
    assert float(bare.wet_share[0]) == pytest.approx(0.4194, abs=1e-4)
    layered = run(FINE, 120, layer=(GRAVEL, 30.0))
    assert 30 + float(layered.wet_height_mm[0]) == pytest.approx(70.8, abs=0.05)
    assert float(layered.wet_share[0]) == pytest.approx(0.454, abs=6e-4)


@given(st.floats(5, 200), st.floats(0, 60), st.sampled_from([OPEN, FINE]))
def test_vertical_walls_follow_the_closed_form(depth: float, bed: float, mix) -> None:  # type: ignore[no-untyped-def]
    def under(x: float) -> float:
        return float(x * hyp2f1(mix.m, 1 / mix.n, 1 + 1 / mix.n, -(x**mix.n)))

    area, h = 300 * 200, mix.rise_mm
    pores = mix.phi_e * (1 - RESIDUAL) * h * (under((depth + bed) / h) - under(bed / h))
    expected = area / 1e6 * ((mix.phi_e * RESIDUAL + mix.phi_int) * depth + pores)
    assert float(run(mix, depth, bed_suction_mm=bed).held_l[0]) == pytest.approx(expected, rel=2e-4)


@given(st.floats(30, 120), st.floats(1, 60), st.floats(0, 25), st.sampled_from([OPEN, FINE]))
def test_a_deeper_pot_of_one_mix_never_has_a_larger_wet_share(height: float, more: float, taper: float, mix) -> None:  # type: ignore[no-untyped-def]
    shares = []
    for h in (height, height + more):
        p = pot(height_mm=h, profile={"kind": "straight", "base_inset_mm": taper})
        shares.append(float(drained(columns([p]), mix, np.array([p.inner_depth_mm - 6])).wet_share[0]))
    assert shares[1] <= shares[0] + 1e-9


@given(st.floats(0, 40), st.floats(1, 30))
def test_more_taper_never_has_a_larger_wet_share(base: float, more: float) -> None:
    shares = []
    for b in (base, base + more):
        p = pot(profile={"kind": "straight", "base_inset_mm": b})
        shares.append(float(drained(columns([p]), OPEN, np.array([84.0])).wet_share[0]))
    assert shares[1] <= shares[0] + 1e-9


def test_the_wet_zone_has_one_height_for_one_mix() -> None:
    assert len({round(float(run(OPEN, d).wet_height_mm[0]), 9) for d in (30, 60, 120)}) == 1


def test_air_and_water_fill_the_pores() -> None:
    found = run(FINE, 90)
    assert float(found.held_l[0] / found.soil_l[0] + found.air_mean[0]) == pytest.approx(FINE.phi_t)


def test_a_mound_adds_its_soil_and_dries_the_mean() -> None:
    flat, mound = run(OPEN, 60), run(OPEN, 60, mound_mm=30.0)
    assert float(mound.soil_l[0] - flat.soil_l[0]) == pytest.approx(300 * 200 * 30 / 2 / 1e6, rel=1e-9)
    assert mound.air_mean[0] > flat.air_mean[0]
    assert mound.air_bottom_third[0] == pytest.approx(float(flat.air_bottom_third[0]))
    assert mound.wet_share[0] < flat.wet_share[0]


def test_a_wet_zone_that_reaches_into_the_mound_is_counted_there() -> None:
    found = run(FINE, 40, mound_mm=40.0)
    over = FINE.wet_zone_mm - 40
    wet = 300 * 200 * (40 + over - over**2 / 80) / 1e6
    assert float(found.wet_share[0]) == pytest.approx(wet / float(found.soil_l[0]), rel=1e-6)


def test_a_layer_holds_its_own_water_apart() -> None:
    found = run(FINE, 120, layer=(GRAVEL, 30.0))
    assert float(found.layer_l[0]) == pytest.approx(300 * 200 * 30 / 1e6)
    assert float(found.soil_l[0]) == pytest.approx(300 * 200 * 90 / 1e6)
    assert 0 < float(found.layer_held_l[0]) < float(found.layer_l[0])


def test_the_band_of_breakthrough_brackets_the_default() -> None:
    low, mid, high = (float(run(FINE, 120, layer=(GRAVEL, 30.0), breakthrough=k).wet_share[0]) for k in (3.0, 1.5, 1.0))
    assert low <= mid <= high


def test_the_wet_zone_over_a_layer_is_what_the_pot_drains_to() -> None:
    assert wet_over_mm(FINE, None) == FINE.wet_zone_mm
    # a thin layer lifts by its own thickness, a thick one by no more than its grains break through
    assert wet_over_mm(FINE, (GRAVEL, 2.0)) == pytest.approx(FINE.wet_zone_mm - 2.0)
    assert wet_over_mm(FINE, (GRAVEL, 500.0)) == pytest.approx(max(0.0, FINE.wet_zone_mm - 1.5 * GRAVEL.rise_mm))
    assert wet_over_mm(FINE, (GRAVEL, 30.0), 3.0) <= wet_over_mm(FINE, (GRAVEL, 30.0), 1.0)
    assert wet_over_mm(FINE, None, bed_suction_mm=1e4) == 0.0


@pytest.mark.parametrize(("depth", "more"), [(0, {}), (-5, {}), (201, {}), (30, {"layer": (GRAVEL, 30.0)})])
def test_impossible_depths_are_refused(depth: float, more: dict) -> None:
    with pytest.raises(FieldError):
        run(OPEN, depth, **more)


def test_one_kernel_serves_many_pots() -> None:
    pots = [pot(id=f"p{i}", height_mm=60 + 3 * i, outline={"kind": "oval"}) for i in range(20)]
    cols = columns(pots)
    together = drained(cols, OPEN, cols.inner_depth - 6)
    for i, p in enumerate(pots):
        alone = drained(columns([p]), OPEN, np.array([p.inner_depth_mm - 6]))
        assert float(together.held_l[i]) == pytest.approx(float(alone.held_l[0]), rel=1e-6)
        assert float(together.air_bottom_third[i]) == pytest.approx(float(alone.air_bottom_third[0]), abs=1e-5)


def test_tilting_drains_through_a_low_hole_and_pools_over_a_high_one() -> None:
    low = pot(holes=(Hole(y_mm=-120, diameter_mm=24),), profile={"kind": "tube"})
    high = pot(holes=(Hole(y_mm=120, diameter_mm=24),), profile={"kind": "tube"})
    good, bad = (tilted(columns([p]), OPEN, 80.0, 15.0) for p in (low, high))
    assert good.drained_l > 0
    assert good.below_drain_share < 0.02
    assert bad.below_drain_share > 0.2
    assert bad.drained_l == 0


def test_no_tilt_changes_nothing() -> None:
    found = tilted(columns([pot(profile={"kind": "tube"})]), OPEN, 80.0, 0.0)
    assert found.drained_l == pytest.approx(0, abs=1e-9)
    assert found.held_flat_l == pytest.approx(
        float(drained(columns([pot(profile={"kind": "tube"})]), OPEN, np.array([80.0])).held_l[0]), rel=4e-3
    )


@given(st.floats(0, 44), st.floats(0, 360))
def test_tilting_never_adds_water(tilt: float, direction: float) -> None:
    found = tilted(columns([pot(outline={"kind": "oval"})]), OPEN, 80.0, tilt, direction)
    assert 0 <= found.drained_l <= found.held_flat_l
    assert found.water_left_l == pytest.approx(min(found.held_flat_l, found.held_tilted_l))


def test_tilts_that_cannot_be_are_refused() -> None:
    with pytest.raises(FieldError, match="45"):
        tilted(columns([pot()]), OPEN, 80.0, 46.0)
    with pytest.raises(FieldError, match="no drainage"):
        tilted(columns([pot(holes=())]), OPEN, 80.0, 10.0)
