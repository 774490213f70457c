"""Ties that hold: closed forms of a symmetrical pair, and what more wire, thicker wire and wider bases must do."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.science.roots.side_room import directions_deg
from kesh.science.stand.stability import G
from kesh.science.stand.tie_hold import Leg, Standing, hold, moments_nm, rod_diameter_mm, stone_leg, widest_gap_deg

BOX = np.array([[-100.0, -60.0], [100.0, -60.0], [100.0, 60.0], [-100.0, 60.0]])


def standing(mass: float = 6.0, middle: tuple[float, float] = (0.0, 0.0)) -> Standing:
    return Standing(BOX, 15.0, mass, middle, 520.0)


def from_side(values: np.ndarray, deg: float) -> float:
    return float(values[int(np.argmin(np.abs(directions_deg() - deg)))])


def test_its_own_weight_holds_it_by_half_its_width() -> None:
    bare = moments_nm(standing(), ())
    assert from_side(bare, 0) == pytest.approx(6 * G * 0.060)
    assert from_side(bare, 90) == pytest.approx(6 * G * 0.100)
    # the middle to the back: a push from the front has less to lift
    back = moments_nm(standing(middle=(0.0, 20.0)), ())
    assert from_side(back, 0) == pytest.approx(6 * G * 0.040)
    assert from_side(back, 180) == pytest.approx(6 * G * 0.080)


def test_a_symmetrical_pair_straight_down() -> None:
    """Upright legs at both ends: about one edge the near one has no arm and the far one the whole width."""
    legs = [Leg((x, 0.0, 80.0), (x, 0.0), 2.0) for x in (-100.0, 100.0)]
    pull = 0.5 * 34 * np.pi * 4 / 4
    assert legs[0].pull_n == pytest.approx(pull)
    found = moments_nm(standing(), legs)
    assert from_side(found, 90) == pytest.approx(6 * G * 0.1 + pull * 0.2)
    assert from_side(found, 270) == pytest.approx(6 * G * 0.1 + pull * 0.2)
    # across, both lie on the middle line
    assert from_side(found, 0) == pytest.approx(6 * G * 0.06 + 2 * pull * 0.06)


def test_a_leg_that_runs_aside_by_hand() -> None:
    leg = Leg((0.0, 40.0, 90.0), (0.0, 120.0), 3.0, "copper")
    long = np.hypot(80.0, 90.0)
    # a push from the back, towards the front: e = (0, -1), pivot 60
    down, aside = 90 / long * (60 + 40), (80 / long) * (90 - 15)
    assert from_side(moments_nm(standing(), [leg]), 180) == pytest.approx(
        6 * G * 0.06 + leg.pull_n * (down + aside) / 1000
    )
    # from the front it pulls the wrong way aside, and only what is left of it counts, never less than nothing
    down, aside = 90 / long * (60 - 40), (-80 / long) * (90 - 15)
    assert down + aside < 0
    assert from_side(moments_nm(standing(), [leg]), 0) == pytest.approx(6 * G * 0.06)


def test_gaps_between_pulls_and_the_verdict() -> None:
    def leg(deg: float) -> Leg:
        a = np.radians(deg)
        return Leg((40 * np.cos(a), 40 * np.sin(a), 80.0), (90 * np.cos(a), 90 * np.sin(a)), 2.5)

    assert widest_gap_deg([leg(0), leg(120), leg(240)]) == pytest.approx(120)
    assert widest_gap_deg([leg(0), leg(180)]) == 360
    assert widest_gap_deg([leg(0), leg(60), leg(120)]) == pytest.approx(240)
    calm = np.full(36, 0.5)
    assert hold(standing(), [leg(0), leg(120), leg(240)], calm).status == "fits"
    # strong enough, but nothing pulls to one side
    assert hold(standing(), [leg(0), leg(60), leg(120)], calm).status == "watch"
    assert hold(standing(), [], np.full(36, 50.0)).status == "no"
    assert hold(standing(), []).status == "unknown"


@given(
    st.lists(
        st.tuples(st.floats(-90, 90), st.floats(-50, 50), st.floats(40, 150), st.floats(-120, 120), st.floats(-80, 80)),
        min_size=1,
        max_size=5,
    ),
    st.floats(1, 4),
)
def test_more_or_thicker_wires_never_hold_less(
    spots: list[tuple[float, float, float, float, float]], gauge: float
) -> None:
    legs = [Leg((x, y, z), (a, b), gauge) for x, y, z, a, b in spots]
    thick = [Leg(leg.hold_mm, leg.hole_mm, gauge * 1.3) for leg in legs]
    some, more, strong = (moments_nm(standing(), part) for part in (legs[:-1], legs, thick))
    assert np.all(more >= some - 1e-12)
    assert np.all(strong >= more - 1e-12)
    found = hold(standing(), legs, np.full(36, 2.0))
    assert found.margin is not None
    assert found.margin_untied is not None
    assert np.all(found.margin >= found.margin_untied - 1e-12)
    assert found.rose_n == pytest.approx(found.moment_nm / 0.52)
    assert from_side(found.margin, found.weakest_deg) == pytest.approx(found.margin.min())


def test_what_cannot_be_is_refused_by_name() -> None:
    with pytest.raises(FieldError, match="metal"):
        Leg((0, 0, 50), (0, 0), 2.0, "gold")
    with pytest.raises(FieldError, match="gauge"):
        Leg((0, 0, 50), (0, 0), 0.0)
    with pytest.raises(FieldError, match="over"):
        Leg((0, 0, 0), (0, 0), 2.0)
    with pytest.raises(FieldError, match="base"):
        Standing(BOX[:2], 10, 5, (0, 0), 400)
    with pytest.raises(FieldError, match="mass"):
        Standing(BOX, 10, 0, (0, 0), 400)


def test_a_stone_holds_like_a_leg_straight_down_with_its_friction() -> None:
    stone = stone_leg(0.0, 40.0, 75.0, 2.0)
    assert stone.pull_n == pytest.approx(0.6 * 2 * G)
    found = moments_nm(standing(), [stone])
    # from the back: pivot at the front edge, 60 before the middle
    assert from_side(found, 180) == pytest.approx(6 * G * 0.06 + 0.6 * 2 * G * 0.1)


def test_an_anchor_on_the_rim_pulls_flatter_than_one_at_the_floor() -> None:
    low = Leg((0.0, 0.0, 200.0), (0.0, 150.0), 2.0)
    high = Leg((0.0, 0.0, 200.0), (0.0, 150.0), 2.0, hole_z_mm=80.0)
    assert high.length_mm == pytest.approx(np.hypot(150, 120))
    down, aside = 120 / np.hypot(150, 120) * 60, 150 / np.hypot(150, 120) * (200 - 15)
    assert from_side(moments_nm(standing(), [high]), 180) == pytest.approx(
        6 * G * 0.06 + high.pull_n * (down + aside) / 1000
    )
    assert low.length_mm > high.length_mm


def test_a_rod_bends_by_the_cube_root() -> None:
    d = rod_diameter_mm(50.0, 15.0)
    assert 32 * 50 * 15 / (np.pi * d**3) == pytest.approx(80)
    assert rod_diameter_mm(400.0, 15.0) == pytest.approx(2 * d)
    assert rod_diameter_mm(50.0, 0.0) == 0
