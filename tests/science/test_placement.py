"""Where the trunk stands by custom, and how near to it the roots let it stand."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.advice.case import case_for
from kesh.advice.place import MORE_SHARE, place_mm
from kesh.demo.lanternfield import demo_collection
from kesh.geometry.columns import columns
from kesh.reference.tables import traditions
from kesh.science.placement import stand_at_mm
from kesh.science.root_fit import Seat, fit

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


@pytest.mark.parametrize("tree", DEMO.trees)
def test_the_trial_place_lies_toward_the_custom_and_costs_no_roots(tree: str) -> None:
    case = case_for(DEMO, tree)
    for pot in DEMO.pots.values():
        x, y = place_mm(case, pot)
        want_x, want_y = stand_at_mm(case.bands.tradition, case.tree.flow, pot.length_mm, pot.width_mm)
        assert abs(x) <= abs(want_x) + 0.05
        assert abs(y) <= abs(want_y) + 0.05
        assert x * want_x >= 0
        if case.tree.roots is None or pot.profile.kind == "slab":
            assert (x, y) == (want_x, want_y)
            continue
        base = case.seat

        def cut(ax: float, ay: float, base: Seat = base, pot=pot) -> float:  # type: ignore[no-untyped-def]
            seat = Seat(ax, ay, base.turn_deg, base.raise_mm, base.floor_layer_mm, base.clearance_mm)
            return float(fit(case.tree.roots, columns((pot,)), seat).removed_feeder_share[0])

        assert cut(x, y) <= cut(0.0, 0.0) + MORE_SHARE + 1e-3
