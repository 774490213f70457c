"""Tubes, cascades, layers, cuttings, tubs, desert plants, shared pots, guides and slabs by closed forms."""

import math
from datetime import date

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import quad

from kesh.base.errors import FieldError
from kesh.science.special.cascade import clear_air_mm, counterweight_kg, stand_for_mm, tip_with_tail
from kesh.science.special.shared import (
    aerial_guide,
    graft_release,
    in_sector,
    mound_l,
    ring_l,
    sector_share,
    sector_width_deg,
)
from kesh.science.special.tub import (
    dry_gap_days,
    kill_c,
    mulch_years,
    next_tub,
    soil_line_over_mm,
    stake_mm,
    taper_share,
    wait_days,
)
from kesh.science.special.tube import (
    cage,
    floor_end,
    helix_mm,
    least_inside_mm,
    lowerings,
    tube_length_mm,
    turn_diameters_mm,
)
from kesh.science.special.young import (
    callus_until,
    cut_below_mm,
    first_pot,
    grip_mm,
    leaf_share,
    no_combing_until,
    success,
    watch_list,
)


@given(st.floats(30, 120), st.floats(0.6, 1.0), st.floats(10, 60), st.integers(3, 20))
def test_a_helix_is_the_length_of_the_curve_itself(top: float, taper: float, pitch: float, turns: int) -> None:
    foot = taper * top

    def piece(turn: float) -> float:
        d = top + (foot - top) * turn / turns
        return math.hypot(math.pi * d, pitch)

    curve, _ = quad(piece, 0, turns)
    assert helix_mm(top, foot, pitch, turns) == pytest.approx(curve + 100, abs=1.0)


def test_a_cage_by_rule() -> None:
    found = cage(48, 32, 300, 4)
    assert found.pitch_mm == pytest.approx(32)
    assert found.turns == 10
    assert found.gauge_mm == pytest.approx(6)
    assert found.bend_mm == pytest.approx(24)
    assert turn_diameters_mm(48, 32, 2) == [44, 36]
    assert cage(48, 32, 300, 4, pitch_mm=60, turns=4).wire_mm == pytest.approx(helix_mm(48, 32, 60, 4))
    assert least_inside_mm(48) == 78
    assert tube_length_mm(330) == 300
    for call in (
        lambda: cage(0, 32, 300, 4),
        lambda: helix_mm(40, 40, 0, 3),
        lambda: turn_diameters_mm(40, 40, 0),
        lambda: tube_length_mm(30),
    ):
        with pytest.raises(FieldError):
            call()


def test_the_soil_is_lowered_year_by_year_until_all_is_bare() -> None:
    found = lowerings(date(2024, 2, 29), 40, 110)
    assert [(one.day, one.bare_mm, one.left_mm) for one in found] == [
        (date(2024, 2, 29), 40, 70), (date(2025, 2, 28), 80, 30), (date(2026, 2, 28), 110, 0),
    ]  # fmt: skip
    assert len(lowerings(date(2026, 4, 1), 40, 300)) == math.ceil(300 / 40)
    assert floor_end(date(2026, 3, 1), "tape") == date(2027, 3, 1)
    assert floor_end(date(2024, 2, 29), "tape") == date(2025, 2, 28)
    assert floor_end(date(2026, 3, 1), "none") is None
    with pytest.raises(FieldError):
        lowerings(date(2026, 3, 1), 0, 100)


def test_air_under_a_tail_and_the_stand_for_it() -> None:
    assert clear_air_mm(180, 0, -6, 205) == -31
    assert stand_for_mm(180, -6, 205) == 61
    assert clear_air_mm(180, 61, -6, 205) == 30
    assert stand_for_mm(300, 0, 205) == 0


@given(st.floats(1, 20), st.floats(60, 250), st.floats(40, 150), st.floats(0, 4), st.floats(0, 300), st.floats(20, 300))
def test_the_counterweight_gives_just_twenty_degrees(
    m: float, cog: float, edge: float, tail: float, out: float, high: float
) -> None:
    weight = counterweight_kg(m, cog, edge, tail, out, high, 12.0)
    tip = tip_with_tail(m, cog, edge, tail, out, high, weight, 12.0)
    if weight > 0:
        assert tip.tip_deg == pytest.approx(20.0, abs=1e-6)
    else:
        assert tip.tip_deg >= 20.0 - 1e-9
    assert tip.mass_kg == pytest.approx(m + tail + weight)


def test_a_foot_too_narrow_is_said() -> None:
    with pytest.raises(FieldError, match="narrow"):
        counterweight_kg(5, 200, 10, 1, 100, 100, 60)


def test_a_layer() -> None:
    assert [leaf_share(c) for c in ("few", "some", "full")] == [0.3, 0.5, 0.8]
    assert cut_below_mm(60) == 50
    pot = first_pot(120, 50)
    assert (pot.across_mm, pot.depth_mm) == (180, 60)
    assert no_combing_until(date(2026, 6, 1)) == date(2027, 6, 1)
    with pytest.raises(FieldError):
        leaf_share("many")
    with pytest.raises(FieldError):
        first_pot(0, 50)


def test_a_rootless_cutting() -> None:
    assert grip_mm(400, 60) == 120
    assert grip_mm(600, 60) == 150
    assert watch_list(date(2026, 6, 1)) == (date(2026, 6, 15), date(2026, 6, 29), date(2026, 7, 27))
    assert callus_until(date(2026, 6, 1), 10) == (date(2026, 6, 11), True)
    assert not callus_until(date(2026, 6, 1), 20)[1]
    with pytest.raises(FieldError):
        grip_mm(0, 60)


@given(st.integers(1, 400), st.data())
def test_n_of_n_lies_in_its_band(of: int, data: st.DataObject) -> None:
    n = data.draw(st.integers(0, of))
    found = success(n, of)
    assert 0 <= found.low <= n / of + 1e-12
    assert n / of - 1e-12 <= found.high <= 1
    with pytest.raises(FieldError):
        success(of + 1, of)


def test_a_tub_stake_and_mulch() -> None:
    found = next_tub(300, 260, 12.0)
    assert found.length_mm == (400, 460)
    assert found.width_mm == (360, 420)
    assert found.volume_l == (18, 24)
    assert next_tub(300, 260, None).volume_l is None
    assert taper_share(60, 400) == 0.15
    assert stake_mm(900) == (300, 450)
    assert mulch_years(70, 10, 15) == 4
    assert mulch_years(70, 10, 0) is None
    for call in (lambda: next_tub(0, 1, None), lambda: taper_share(1, 0), lambda: stake_mm(0)):
        with pytest.raises(FieldError):
            call()


def test_a_desert_plant_waits() -> None:
    assert wait_days(1) == (7, 14)
    assert dry_gap_days(1.0, 0.05, 1) == pytest.approx((25, 32))
    assert dry_gap_days(1.0, 0.0, 1) is None
    assert kill_c(2.0, wet=True) == 6.0
    assert kill_c(2.0, wet=False) == 2.0
    assert soil_line_over_mm(12, 4) == 8


def test_sectors_go_clockwise_through_the_front() -> None:
    assert sector_width_deg(330, 30) == 60
    assert sector_width_deg(90, 90) == 360
    assert in_sector(np.array([340.0, 0, 29, 31, 200]), 330, 30).tolist() == [True, True, True, False, False]


def test_the_share_of_a_round_mass_is_its_angle_by_its_ring() -> None:
    s = np.linspace(0, 2 * np.pi, 180, endpoint=False)
    ring = 100 * np.column_stack([np.cos(s), np.sin(s)])
    found = sector_share(ring, 60, 0, 90, 1.0)
    assert found.mass == pytest.approx(0.25, abs=0.004)
    assert found.volume_l == pytest.approx(0.25 * math.pi * 1e4 * 60 / 1e6, rel=0.02)
    # the outer half of the reach holds three quarters of the area
    assert sector_share(ring, 60, 0, 180, 0.5).mass == pytest.approx(0.375, abs=0.006)
    near, far = (sector_share(ring, 60, 0, 180, 0.5, kind).feeders for kind in ("near_trunk", "outside_bottom"))
    assert near < 0.375 < far
    with pytest.raises(FieldError):
        sector_share(ring, 60, 0, 90, 1.5)


def test_guides_and_releases() -> None:
    assert aerial_guide(120, 0, None).length_mm == 150
    assert aerial_guide(120, 50, 40).length_mm == pytest.approx(160)
    assert aerial_guide(120, 50, 40).to_grow_mm == pytest.approx(120)
    assert aerial_guide(120, 0, 500).to_grow_mm == 0
    assert graft_release(date(2026, 3, 1)) == date(2027, 3, 1)
    with pytest.raises(FieldError):
        aerial_guide(0, 0, None)


@given(st.floats(30, 300), st.floats(30, 300), st.floats(1, 60), st.floats(1, 60))
def test_a_ring_round_an_oval_is_the_area_between_it_and_its_parallel(a: float, b: float, w: float, h: float) -> None:
    import shapely

    s = np.linspace(0, 2 * np.pi, 720, endpoint=False)
    oval = shapely.Polygon(np.column_stack([a * np.cos(s), b * np.sin(s)]))
    area = oval.buffer(w, quad_segs=64).area - oval.area
    assert ring_l(a, b, w, h) == pytest.approx(area * h / 1e6, rel=0.005)
    assert mound_l(a, b, h) == pytest.approx(math.pi * a * b * h / 2 / 1e6)


def test_a_ring_of_nothing_is_refused() -> None:
    with pytest.raises(FieldError):
        ring_l(0, 10, 5, 5)
    with pytest.raises(FieldError):
        mound_l(10, 10, -1)
