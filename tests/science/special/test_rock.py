"""Rock, ways, bindings, bridges and mass by closed forms."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.science.special.rock import (
    depth_at_mm,
    ellipse_perimeter_mm,
    girth_mm,
    half_widths_mm,
    loop_mm,
    mass_kg,
    moss_pieces,
    pin_wire_mm,
    reach,
    rock_stand,
    room_to_wall_mm,
    volume_l,
    wants_tie,
    way_mm,
)

BLOCK = ((-50.0, 0.0), (50.0, 0.0), (50.0, 120.0), (-50.0, 120.0))
CONE = ((-80.0, 0.0), (80.0, 0.0), (0.0, 150.0))


def test_a_way_is_the_sum_of_its_pieces() -> None:
    assert way_mm([(0, 100), (30, 60), (30, 0)]) == pytest.approx(110)
    with pytest.raises(FieldError, match="two ends"):
        way_mm([(0, 0)])


@pytest.mark.parametrize(
    ("length", "short", "pins"),
    [(200.0, 0.0, 0), (150.0, 0.0, 0), (149.0, 1.0, 1), (110.0, 40.0, 1), (70.0, 80.0, 2), (65.0, 85.0, 3)],
)
def test_forty_millimetres_reach_into_the_soil_and_a_pin_holds_every_forty_of_moss(
    length: float, short: float, pins: int
) -> None:
    found = reach([(0, 100), (30, 60), (30, 0)], length)
    assert found.asked_mm == pytest.approx(150)
    assert found.short_mm == pytest.approx(short)
    assert found.pins == pins
    assert found.covered is (short == 0)


def test_a_pin_and_a_root_without_length() -> None:
    assert pin_wire_mm() == pytest.approx(80 + 2 * math.pi)
    with pytest.raises(FieldError, match="length"):
        reach([(0, 0), (0, 10)], 0.0)


@given(st.floats(1, 400), st.floats(1, 400))
def test_the_perimeter_of_an_ellipse_is_that_of_the_complete_integral(a: float, b: float) -> None:
    from scipy.special import ellipe

    big, small = max(a, b), min(a, b)
    assert ellipse_perimeter_mm(a, b) == pytest.approx(4 * big * ellipe(1 - (small / big) ** 2), rel=1e-5)


def test_widths_depths_girths_and_loops() -> None:
    assert half_widths_mm(BLOCK, 60) == (-50.0, 50.0)
    assert depth_at_mm(BLOCK, 80, 60) == pytest.approx(80)
    assert girth_mm(BLOCK, 100, 60) == pytest.approx(math.pi * 100, abs=0.01)
    assert loop_mm(BLOCK, 100, 60, 3) == pytest.approx(3 * math.pi * 100 + 60, abs=0.1)
    # half way up the cone it is half as wide and half as deep
    assert half_widths_mm(CONE, 75) == pytest.approx((-40, 40))
    assert depth_at_mm(CONE, 100, 75) == pytest.approx(50, rel=0.02)
    assert math.isnan(girth_mm(CONE, 100, 200))
    with pytest.raises(FieldError, match="misses the rock"):
        loop_mm(CONE, 100, 200, 3)


def test_volume_and_mass_of_a_drum_and_a_cone() -> None:
    assert volume_l(BLOCK, 80) == pytest.approx(math.pi / 4 * 100 * 80 * 120 / 1e6, rel=1e-6)
    assert volume_l(CONE, 100) == pytest.approx(math.pi / 4 * 160 * 100 * 150 / 3 / 1e6, rel=1e-4)
    assert mass_kg(BLOCK, 80, 2.6) == pytest.approx(2.6 * volume_l(BLOCK, 80))
    with pytest.raises(FieldError, match="encloses nothing"):
        volume_l(((0, 0), (1, 0), (2, 0)), 50)


def test_a_light_rock_is_tied_and_a_sunk_one_tips_later() -> None:
    assert wants_tie(2.9, 1.0)
    assert not wants_tie(3.0, 1.0)
    free = rock_stand(BLOCK, 100, 2.6, 0.7, 120, 0.0)
    assert free.mass_kg == pytest.approx(2.6 * volume_l(BLOCK, 100) + 0.7)
    assert free.tip_deg == pytest.approx(math.degrees(math.atan2(50, free.centre_mm)), abs=0.01)
    assert rock_stand(BLOCK, 100, 2.6, 0.7, 120, 24.0).tip_deg > free.tip_deg
    assert (
        rock_stand(BLOCK, 100, 2.6, 0.7, 120, 24.0, "pin").tip_deg
        > rock_stand(BLOCK, 100, 2.6, 0.7, 120, 24.0, "wires").tip_deg
    )


def test_moss_covers_the_side_of_a_drum() -> None:
    side = math.pi * 100 * 120
    assert moss_pieces(BLOCK, 100, 0.5, 119.5) == math.ceil(1.1 * side * (119 / 120) / 3000)
    assert moss_pieces(BLOCK, 100, 500, 600) == 0


def test_room_to_the_wall() -> None:
    ring = np.array([[-150.0, -100], [150, -100], [150, 100], [-150, 100]])
    assert room_to_wall_mm(BLOCK, 80, 0, 0, 20, ring) == pytest.approx(60, abs=0.1)
    assert room_to_wall_mm(BLOCK, 80, 60, 0, 20, ring) == pytest.approx(40, abs=0.1)
    assert room_to_wall_mm(BLOCK, 80, 120, 0, 20, ring) < 0
