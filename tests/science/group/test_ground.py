"""Hills by closed forms, root room that adds up, growth, survivors, sight lines, pairs."""

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.science.group.hill import Mound, hill_volume_l, rise_mm, stands, steepest_deg
from kesh.science.group.sight import free_turns, hidden_pairs, seen_from
from kesh.science.group.stand import (
    advised_count,
    clump_trunk_mm,
    discs_of,
    expected_heights_mm,
    future_main,
    grading,
    meet_in_years,
    pair,
    plug_room_mm,
    root_room_l,
    survival_chance,
    survivors,
    trunk_in,
)
from tests.kept import examples
from tests.science.group.test_layout import OVAL, SHAPES, trunks


@settings(max_examples=examples(30), deadline=None)
@given(st.floats(40, 150), st.floats(40, 120), st.floats(2, 60), st.floats(-80, 80), st.floats(-30, 30))
def test_a_mound_within_the_tray_has_the_volume_of_its_paraboloid(
    a: float, b: float, h: float, x: float, y: float
) -> None:
    inside = OVAL.inside_mm(np.array([x]), np.array([y]))[0] > max(a, b)
    mound = Mound(x, y, h, a, b)
    assert mound.volume_l == pytest.approx(math.pi * a * b * h / 2 / 1e6)
    found = hill_volume_l([mound], OVAL)
    assert found == pytest.approx(mound.volume_l, rel=0.005) if inside else found <= mound.volume_l * 1.005


def test_mounds_add_up_and_the_steepest_slope_is_at_the_foot() -> None:
    one, two = Mound(-60, 0, 30, 90, 90), Mound(40, 0, 20, 90, 90)
    assert hill_volume_l([one, two], OVAL) == pytest.approx(one.volume_l + two.volume_l, rel=0.005)
    assert float(rise_mm([one, two], -60.0, 0.0)) == pytest.approx(30.0)
    assert float(rise_mm([one, two], -10.0, 0.0)) == pytest.approx(
        30 * (1 - (50 / 90) ** 2) + 20 * (1 - (50 / 90) ** 2)
    )
    assert steepest_deg([one], OVAL) == pytest.approx(math.degrees(math.atan(60 / 90)), abs=0.5)
    assert one.steepest_deg == pytest.approx(math.degrees(math.atan(60 / 90)))
    assert hill_volume_l([], OVAL) == steepest_deg([], OVAL) == 0.0
    assert [stands(v) for v in (30, 40, 55)] == ["fits", "watch", "no"]


def test_a_mound_without_reach_or_below_nought_is_refused() -> None:
    with pytest.raises(FieldError, match="reach"):
        Mound(0, 0, 10, 0, 50)
    with pytest.raises(FieldError, match="rises"):
        Mound(0, 0, -1, 50, 50)


@pytest.mark.parametrize("shape", SHAPES)
def test_the_room_of_all_trees_is_the_soil_of_the_tray(shape: str) -> None:
    tray, x, y = SHAPES[shape], np.array([-100.0, 20, 110]), np.array([-20.0, 60, -40])
    room = root_room_l(x, y, np.array([40.0, 30, 20]), tray, 40.0)
    assert room.sum() == pytest.approx(tray.area_mm2 * 40 / 1e6)
    hill = [Mound(-100, -20, 20, 60, 60)]
    raised = root_room_l(x, y, np.array([40.0, 30, 20]), tray, 40.0, hill)
    assert raised.sum() - room.sum() == pytest.approx(hill_volume_l(hill, tray), rel=0.02)
    assert raised[0] > room[0]
    # the larger disc takes the larger share of two that stand alike
    two = root_room_l(np.array([-80.0, 80]), np.zeros(2), np.array([60.0, 20]), OVAL, 40.0)
    assert two[0] > two[1]


def test_counts_and_grades() -> None:
    assert discs_of(np.array([8.0, 12, 40])) == pytest.approx([18, 18, 60])
    # 0.55 of the oval by the mean disc, and odd below eleven
    many = advised_count(np.array([40.0, 40]), OVAL)
    assert many == int(0.55 * OVAL.area_mm2 / (math.pi * 1600))
    few = advised_count(np.array([58.0, 58]), OVAL)
    assert few % 2 == 1
    assert [(r, round(s, 3)) for r, s in grading(np.array([20.0, 40, 30]))] == [(2, 0.75), (0, 0.667)]


def test_roots_meet_when_their_grown_discs_do() -> None:
    x, y, d = np.array([0.0, 110.0]), np.zeros(2), np.array([30.0, 30])
    years, who = meet_in_years(x, y, d, "growing_on")
    assert who == (0, 1)
    assert years is not None
    assert discs_of(trunk_in(d, "growing_on", years)).sum() == pytest.approx(110.0, abs=1e-3)
    assert meet_in_years(np.array([0.0, 50]), y, d, "growing_on") == (0.0, (0, 1))
    assert meet_in_years(np.array([0.0, 900]), y, d, "refining") == (None, None)


def test_the_tree_with_more_room_becomes_the_main_one() -> None:
    assert future_main(np.array([30.0, 29.5]), np.array([0.2, 2.0]), "growing_on", 10.0) == 1
    assert future_main(np.array([30.0, 29.5]), np.array([1.0, 1.0]), "growing_on", 10.0) == 0


def test_heights_fall_to_the_back_from_the_foremost_tree() -> None:
    _, _, y0, y1 = OVAL.box
    t = trunks([30.0, 20, 15], [600.0, 500, 400])
    y = np.array([-100.0, 0.0, 120.0])
    asked = expected_heights_mm(t, y, OVAL)
    assert asked[0] == pytest.approx(600)
    assert asked[2] == pytest.approx(600 * (1 - 0.25 * 220 / (y1 - y0)))


@given(st.lists(st.floats(2, 200), min_size=1, max_size=9))
def test_a_clump_as_one_trunk_lies_between_the_thickest_and_the_sum(d: list[float]) -> None:
    one, all_ = clump_trunk_mm(np.array(d), "dominant"), clump_trunk_mm(np.array(d), "all")
    assert one == max(d)
    assert one - 1e-9 <= all_ <= sum(d) + 1e-9
    assert all_**2 == pytest.approx(sum(v * v for v in d))


def test_a_pair_from_front_and_back() -> None:
    p = pair(np.array([0.0, 60.0]), np.array([0.0, 30.0]), np.array([50.0, 32.0]), np.array([500.0, 360.0]))
    assert p.height_ratio == pytest.approx(0.72)
    assert p.thick_ratio == pytest.approx(0.64)
    assert p.apart_mm == pytest.approx(math.hypot(60, 30))
    assert p.gap_mm == pytest.approx(math.hypot(60, 30) - 41)
    assert p.smaller_behind
    assert not p.hidden_front
    hidden = pair(np.array([0.0, 4.0]), np.array([0.0, 60.0]), np.array([50.0, 32.0]), np.array([500.0, float("nan")]))
    assert hidden.hidden_front
    assert hidden.height_ratio is None
    # the thin one covers 32 of the thick one's 50
    assert hidden.hidden_back
    with pytest.raises(FieldError, match="pair"):
        pair(np.zeros(3), np.zeros(3), np.ones(3), np.ones(3))


def test_n_of_n_and_what_it_promises() -> None:
    assert survivors([True, False, True, True]) == (3, 4)
    chance = survival_chance(3, 4)
    assert chance.low < 0.75 < chance.high
    assert survival_chance(40, 40).low > survival_chance(4, 4).low
    with pytest.raises(FieldError, match="count"):
        survival_chance(5, 4)


def test_sight_lines_from_three_sides() -> None:
    x, y, d = np.array([0.0, 0.0, 150.0]), np.array([-60.0, 60.0, 0.0]), np.array([40.0, 20.0, 20.0])
    front = hidden_pairs(x, y, d)
    assert [(one.near, one.far) for one in front] == [(0, 1)]
    assert front[0].overlap_mm == pytest.approx(20.0)
    assert hidden_pairs(x, y, d, 30.0) == ()
    across, away = seen_from(np.array([0.0]), np.array([10.0]), 90.0)
    assert (float(across[0]), float(away[0])) == (pytest.approx(10.0), pytest.approx(0.0, abs=1e-9))
    turn = free_turns(x, y, d, 0.0)
    assert turn is not None
    assert hidden_pairs(x, y, d, turn) == ()


def test_what_stands_under_a_plug() -> None:
    assert plug_room_mm(40.0, 12.0, 45.0) == pytest.approx(7.0)
