"""Where the trunk stands by custom, and how near to it the roots let it stand."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.case import case_for
from kesh.advice.planting.place import MORE_SHARE, place_mm
from kesh.demo.lanternfield import demo_collection
from kesh.geometry.columns import PotColumns, columns
from kesh.model import Tree
from kesh.reference.tables import traditions
from kesh.science.roots.fit import Seat, fit
from kesh.science.stand.placement import (
    Custom,
    balance_at,
    best_place,
    custom_range,
    stand_at_mm,
    wished_balance,
    years_of_dressing,
)

DEMO = demo_collection()
ROWS = list(traditions().values())


@given(st.sampled_from(ROWS), st.integers(150, 900), st.integers(100, 600))
def test_the_place_mirrors_with_the_flow_and_stays_in_the_custom(row, length: int, width: int) -> None:  # type: ignore[no-untyped-def]
    right, left = (stand_at_mm(row, flow, length, width) for flow in ("right", "left"))
    assert right[0] == -left[0]
    assert right[1] == left[1]
    assert stand_at_mm(row, "none", length, width) == (0.0, right[1])
    assert row.stand_along_low - 1e-3 <= right[0] / length + 0.5 <= row.stand_along_high + 1e-3
    assert row.stand_depth_low - 1e-3 <= right[1] / width + 0.5 <= row.stand_depth_high + 1e-3


def leads_left(tree: Tree) -> bool:
    """As entered, else to the heavier side of the crown."""
    m = tree.measure
    return tree.flow == "left" or (tree.flow == "none" and (m.canopy_left_mm or 0) > (m.canopy_right_mm or 0))


@pytest.mark.parametrize("tree", DEMO.trees)
def test_the_trial_place_lies_toward_the_custom_and_costs_no_roots(tree: str) -> None:
    case = case_for(DEMO, tree)
    for pot in DEMO.pots.values():
        x, y = place_mm(case, pot)
        row, square = case.bands.tradition, abs(pot.length_mm - pot.width_mm) < 0.08 * pot.length_mm
        left, right = (stand_at_mm(row, flow, pot.length_mm, pot.width_mm) for flow in ("left", "right"))
        want_x, want_y = (0.0, right[1]) if square else left if leads_left(case.tree) else right
        assert abs(x) <= abs(want_x) + 0.05
        assert abs(y) <= abs(want_y) + 0.05
        assert x * want_x >= 0
        if case.tree.roots is None or pot.profile.kind == "slab":
            assert (x, y) == (want_x, want_y)
            continue
        cols = columns((pot,))
        base = replace(case.seat, floor_layer_mm=case.base_mm(cols.inner_depth))

        def cut(ax: float, ay: float, base: Seat = base, cols: PotColumns = cols) -> float:
            return float(fit(case.roots, cols, replace(base, offset_x_mm=ax, offset_y_mm=ay)).removed_feeder_share[0])

        assert cut(x, y) <= cut(0.0, 0.0) + MORE_SHARE + 1e-3


@given(st.sampled_from(ROWS), st.integers(150, 900), st.integers(100, 600))
def test_the_range_mirrors_with_the_flow_and_holds_its_middle(row, length: int, width: int) -> None:  # type: ignore[no-untyped-def]
    right, left, still = (custom_range(row, flow, length, width) for flow in ("right", "left", "none"))
    assert (right.x_low, right.x_high) == (-left.x_high, -left.x_low)
    assert still.x_low == -still.x_high
    x, y = stand_at_mm(row, "right", length, width)
    assert right.holds(x, y)


def test_the_best_place_is_nearest_the_wish_where_there_is_room() -> None:
    custom = Custom(-50.0, -20.0, 0.0, 10.0)
    x = np.linspace(-100, 100, 201)
    b = balance_at(x, 30.0, 400.0)
    # b = (x + 30)/200: wished -0.10 to -0.30 is x from -50 to -90; the range ends at -50
    assert best_place(x, b, None, custom, (-0.30, -0.10), 15.0) == -50.0
    room = np.where(x < -40, 5.0, 25.0)
    assert best_place(x, b, room, custom, (-0.30, -0.10), 15.0) == -40.0
    assert best_place(x, b, np.full(201, 5.0), custom, (-0.30, -0.10), 15.0) is None


def test_classical_weight_lies_against_the_flow_freer_schools_bear_more() -> None:
    assert wished_balance("classical", "right") == (-0.30, -0.10)
    assert wished_balance("classical", "left") == (0.10, 0.30)
    assert wished_balance("naturalist", "right")[0] < -0.30
    assert wished_balance("penjing", "none") == (-0.10, 0.10)


def test_years_of_dressing_by_the_height_budget() -> None:
    assert years_of_dressing(30, 6, 4) == 6
    assert years_of_dressing(5, 6, 4) == 0
    assert years_of_dressing(30, 6, 0) is None
