"""Another front: what counts from it turns with it, and everything stands where it stood."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from kesh.desk.front import turned_azimuth, turned_edits, turned_place, turned_planting, turned_tree
from kesh.model import Collection, Companion, Graft, GroupTree, HillMound, MapRoot, Pocket, RootMass, Sector, Tree, Way
from tests.builders import planting, tree

ANGLES = st.floats(0, 359.9)


def full() -> Tree:
    return tree(
        marker_deg=30,
        root_map=(MapRoot(id="r", azimuth_deg=90, diameter_mm=9, reach_mm=80, course=((-10.0, 0.0), (-60.0, 20.0)), moved_to_deg=100),),
        root_masses=(
            RootMass(
                length_mm=200, width_mm=150, depth_mm=60, offset_x_mm=10, offset_y_mm=-4, pockets=(Pocket(kind="clay", from_deg=10, to_deg=70),),
                untouched=(Sector(from_deg=350, to_deg=20),),
            ),
        ),
        group=(GroupTree(id="1", x_mm=0, y_mm=-100, diameter_mm=20, azimuth_deg=15), GroupTree(id="2", diameter_mm=9)),
        hill=(HillMound(x_mm=50, y_mm=0, reach_x_mm=90, reach_y_mm=60),), way=Way(points_mm=((0, -100), (0, 100))),
    )  # fmt: skip


@given(st.floats(-400, 400), st.floats(-400, 400), ANGLES)
def test_a_place_turned_and_back_stands_where_it_stood(x: float, y: float, by: float) -> None:
    there = turned_place(*turned_place(x, y, by), -by)
    assert there == pytest.approx((x, y), abs=0.3)
    assert np.hypot(*turned_place(x, y, by)) == pytest.approx(np.hypot(x, y), abs=0.2)


@given(ANGLES)
def test_what_stood_at_the_new_front_stands_in_front(by: float) -> None:
    a = np.radians(by)
    assert turned_azimuth(by, by) % 360 == pytest.approx(0, abs=0.01)
    x, y = turned_place(float(-100 * np.sin(a)), float(-100 * np.cos(a)), by)
    assert (x, y) == pytest.approx((0, -100), abs=0.1)


def test_a_quarter_turn_turns_everything_that_counts_from_the_front() -> None:
    one = turned_tree(full(), 90)
    root, mass = one.root_map[0], one.roots
    assert mass is not None
    # what lay on the left lies in front now
    assert (root.azimuth_deg, root.moved_to_deg) == (0, 10)
    assert root.course == ((0.0, -10.0), (-20.0, -60.0))
    assert (mass.pockets[0].from_deg, mass.pockets[0].to_deg) == (280, 340)
    assert (mass.untouched[0].from_deg, mass.untouched[0].to_deg) == (260, 290)
    assert (mass.offset_x_mm, mass.offset_y_mm) == (4, 10)
    assert (mass.length_mm, mass.width_mm) == (150, 200)
    assert (one.group[0].x_mm, one.group[0].y_mm, one.group[0].azimuth_deg) == (100, 0, 285)
    assert one.group[1].x_mm is None
    assert (one.hill[0].x_mm, one.hill[0].y_mm, one.hill[0].reach_x_mm) == (0, 50, 60)
    assert one.way is not None
    assert one.way.points_mm == ((100, 0), (-100, 0))
    assert one.marker_deg == 300
    assert one.measure == full().measure


@given(ANGLES)
def test_there_and_back_is_the_tree_that_was(by: float) -> None:
    back = turned_tree(turned_tree(full(), by), (360 - by) % 360)
    assert back.marker_deg == pytest.approx(30, abs=0.01)
    assert back.root_map[0].azimuth_deg == pytest.approx(90, abs=0.01)
    assert back.roots is not None
    assert back.roots.untouched[0].span_deg == pytest.approx(30, abs=0.01)
    assert back.group[0].y_mm == pytest.approx(-100, abs=0.3)


def test_plantings_turn_too_and_those_that_ended_stay_as_they_were_told() -> None:
    one = planting(companion=Companion(from_deg=10, to_deg=70), graft=Graft(azimuth_deg=45))
    turned = turned_planting(one, 20)
    assert turned.companion is not None
    assert turned.graft is not None
    assert (turned.companion.from_deg, turned.companion.to_deg, turned.graft.azimuth_deg) == (350, 50, 25)
    c = Collection(
        trees={"maple": full()}, plantings=(one, planting(id="old", graft=Graft(azimuth_deg=45), ended="2025-01-01"))
    )
    assert [key for _, key, _ in turned_edits(c, "maple", 20)] == ["maple", one.id]
    assert turned_edits(c, "maple", 360) == []
    assert turned_edits(replace(c, plantings=()), "maple", 5)[0][0] == "tree"


@pytest.mark.parametrize("keep", [["a", "list"], {"a": 1}, 3.5])
def test_a_reason_of_another_kind_is_a_fault_of_the_record_and_no_exception(keep: object) -> None:
    with pytest.raises(ValidationError):
        MapRoot.model_validate({"id": "r", "azimuth_deg": 1, "diameter_mm": 9, "reach_mm": 80, "keep": keep})
