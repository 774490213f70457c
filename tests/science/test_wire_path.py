"""A tie wire along its way: closed forms over a box, and pieces that add up to what is cut."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.science.stand.hardware import tie_length_mm
from kesh.science.stand.wire_path import STEP_MM, wire_way

BOX = np.array([[-60.0, -40.0], [60.0, -40.0], [60.0, 40.0], [-60.0, 40.0]])
mm = st.floats(-150, 150)


@pytest.mark.parametrize("half", [90.0, 60.0, 30.0, 5.0])
def test_over_a_box_it_is_the_two_hole_formula(half: float) -> None:
    over = ((-60.0, 0.0, 75.0), (60.0, 0.0, 75.0))
    found = wire_way(((-half, 0.0), (half, 0.0)), over, 9.0, BOX).cut_mm
    assert found == tie_length_mm(2 * half, 9.0, 120.0, 60.0, 15.0)


def test_by_hand_without_roots_over_the_holes() -> None:
    """3-4-5: legs of 50, 60 over the top, 120 under, twice a floor of 10."""
    way = wire_way(((-60.0, 0.0), (60.0, 0.0)), ((-30.0, 0.0, 40.0), (30.0, 0.0, 40.0)), 10.0)
    raw = 120 + 2 * 10 + 2 * 50 + 60
    assert way.cut_mm == np.ceil((raw * 1.05 + 120) / 10) * 10
    kinds = {}
    for piece in way.pieces:
        kinds[piece.kind] = kinds.get(piece.kind, 0.0) + piece.mm
    assert kinds["under"] == pytest.approx(120)
    assert kinds["leg"] == pytest.approx(100)
    assert kinds["over"] == pytest.approx(60)
    assert kinds["floor"] == pytest.approx(20)
    assert kinds["end"] >= 120


@given(
    st.tuples(mm, mm),
    st.tuples(mm, mm),
    st.lists(st.tuples(mm, mm, st.floats(1, 150)), min_size=1, max_size=5),
    st.floats(3, 20),
)
def test_pieces_add_up_to_the_cut_and_ends_can_be_twisted(one, other, over, floor) -> None:  # type: ignore[no-untyped-def]
    way = wire_way((one, other), over, floor, BOX)
    assert sum(p.mm for p in way.pieces) == pytest.approx(way.cut_mm)
    assert way.cut_mm % STEP_MM == pytest.approx(0, abs=1e-6)
    assert way.pieces[0].kind == way.pieces[-1].kind == "end"
    assert way.pieces[0].mm >= 60 - 1e-6


@given(st.tuples(mm, mm), st.tuples(mm, mm), st.lists(st.tuples(mm, mm, st.floats(1, 150)), min_size=2, max_size=5))
def test_one_place_more_on_its_way_never_makes_it_shorter(one, other, over) -> None:  # type: ignore[no-untyped-def]
    fewer = [over[0], over[-1]]
    assert wire_way((one, other), over, 9.0).cut_mm >= wire_way((one, other), fewer, 9.0).cut_mm - 1e-6


def test_a_guy_goes_up_from_the_rim_and_comes_back() -> None:
    way = wire_way(((200.0, 0.0),), ((50.0, 0.0, 260.0),), 8.0, None, 60.0)
    leg = np.hypot(150, 200)
    assert way.cut_mm == np.ceil(((2 * leg + 16) * 1.05 + 120) / 10) * 10
