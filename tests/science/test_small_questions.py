"""Bands, growth, season, hardware, visual mass and placement."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from kesh.base.errors import FieldError
from kesh.geometry.columns import columns
from kesh.model import Hole
from kesh.model.tree import STYLES
from kesh.reference.schools import school, schools
from kesh.reference.tables import traditions
from kesh.science.looks.proportion import bands
from kesh.science.looks.visual_mass import Region, darkness_of, tree_weight
from kesh.science.season.growth import grown, logistic
from kesh.science.stand.hardware import clip_length_mm, hardware, plan_holes, tie_gauge_mm, tie_length_mm, tie_pairs
from kesh.science.stand.placement import stand_at_mm
from kesh.science.stand.stability import tree_body
from tests.builders import measure, pot, tree

CLASSICAL = school("classical")


def test_classical_bands_are_factor_times_measure() -> None:
    row = traditions()["informal_upright", "classical"]
    found = bands(tree(), CLASSICAL, "refine")
    assert (found.depth.low, found.depth.high) == pytest.approx((70 * row.depth_factor_low, 70 * row.depth_factor_high))
    assert (found.length.low, found.length.high) == pytest.approx(
        (500 * row.length_factor_low, 500 * row.length_factor_high)
    )
    assert found.length.inputs[0] == ("the larger of height and spread", 500)


def test_another_place_on_the_trunk_changes_the_depth_alone() -> None:
    above, soil = bands(tree(), CLASSICAL, "refine"), bands(tree(), CLASSICAL, "refine", "soil")
    assert soil.depth.low == pytest.approx(above.depth.low * 95 / 70)
    assert soil.length.low == above.length.low


def test_a_missing_measure_gives_no_band_and_says_what_to_measure() -> None:
    found = bands(tree(m={"trunk_diameter_mm": None}), CLASSICAL, "refine")
    assert found.depth.low is None
    assert "Measure the trunk above the flare" in found.depth.missing
    assert found.length.low is not None
    assert found.volume.low is None


@pytest.mark.parametrize("style", STYLES)
@pytest.mark.parametrize("key", list(schools()))
@pytest.mark.parametrize("purpose", ["grow_on", "train_roots", "refine", "show", "hold"])
def test_every_style_school_and_purpose_has_ordered_bands(style: str, key: str, purpose: str) -> None:
    t = tree(style=style, m={"drop_mm": 200, "canopy_left_mm": 300})
    for band in bands(t, school(key), purpose).all():
        if band.low is not None and band.high is not None:
            assert 0 < band.low < band.high, (band.name, band.low, band.high)
    assert bands(t, school(key), purpose).tradition.style == style


def test_a_cascade_rests_on_its_fall() -> None:
    found = bands(tree(style="cascade", m={"drop_mm": 300}), CLASSICAL, "refine")
    basis = traditions()["cascade", "classical"].length_basis
    assert found.length.inputs[0][1] == {"fall": 800, "spread": 420, "height": 500, "larger": 500}[basis]


@given(st.floats(1, 500), st.floats(1.01, 4), st.floats(0.05, 0.5), st.floats(0, 30))
def test_logistic_growth_stays_between_start_and_end(start: float, factor: float, rate: float, years: float) -> None:
    value = logistic(start, factor, rate, years)
    assert start - 1e-9 <= value <= factor * start + 1e-9
    assert logistic(start, factor, rate, years + 1) >= value - 1e-9


def test_growth_keeps_what_is_missing_missing_and_does_nothing_today() -> None:
    m = measure(canopy_front_mm=None)
    assert grown(m, "refining", 0) == m
    later = grown(m, "developing", 5)
    assert later.canopy_front_mm is None
    assert later.height_mm > m.height_mm


def test_clip_and_tie_lengths_by_hand() -> None:
    assert clip_length_mm(20, 10) == pytest.approx(2 * np.pi * 12 + 20 + 2 * (10 + 1.5 + 12))
    short = 120 + 20 + 2 * ((200 - 120) / 2 + 80) + 200
    assert tie_length_mm(120, 10, 200, 70, 10) == np.ceil((short * 1.05 + 120) / 10) * 10
    far = 300 + 20 + 2 * np.hypot(50, 80) + 200
    assert tie_length_mm(300, 10, 200, 70, 10) == np.ceil((far * 1.05 + 120) / 10) * 10
    with pytest.raises(FieldError):
        tie_length_mm(0, 10, 200, 70, 10)


def test_ties_pair_left_with_right() -> None:
    holes = tuple(Hole(x_mm=x, y_mm=y, diameter_mm=5) for y in (-60, 60) for x in (-100, 100))
    assert {frozenset((a.x_mm, b.x_mm)) for a, b in tie_pairs(holes)} == {frozenset((-100, 100))}
    assert all(a.y_mm == b.y_mm for a, b in tie_pairs(holes))


def test_a_stronger_gust_never_takes_a_thinner_wire() -> None:
    b = tree_body(tree(m={"mass_kg": 4.0}))
    sizes = [tie_gauge_mm(b, 220, 2, gust) or 9.0 for gust in (0, 6, 12, 20, 30)]
    assert sizes == sorted(sizes)
    assert tie_gauge_mm(b, 220, 0, 10) is None


@pytest.mark.parametrize("size", [(160, 120), (300, 220), (420, 300), (640, 420)])
def test_holes_by_rule_reach_the_drain_area_and_keep_their_distance(size: tuple[int, int]) -> None:
    p = pot(length_mm=size[0], width_mm=size[1], outline={"kind": "oval"})
    plan = plan_holes(columns([p]))
    assert plan.drains
    for hole in plan.drains:
        reach = np.hypot(hole.x_mm / (size[0] / 2 - 8), hole.y_mm / (size[1] / 2 - 8))
        assert reach < 1
        assert 8 <= hole.diameter_mm <= 40
    if len(plan.drains) > 1:
        a, b = plan.drains[:2]
        assert np.hypot(a.x_mm - b.x_mm, a.y_mm - b.y_mm) >= a.diameter_mm + max(10, 0.8 * a.diameter_mm) - 1e-6
    assert plan.reached_share > 0.7


def test_the_cut_list_uses_the_pots_own_holes() -> None:
    holes = (Hole(diameter_mm=24), *(Hole(x_mm=x, y_mm=y, diameter_mm=5) for x in (-80, 80) for y in (-50, 50)))
    found = hardware(columns([pot(holes=holes)]), tree_body(tree()), (260, 200), 70, 12, 10, 3.0)
    assert found.screens_mm == (48,)
    assert len(found.clip_wire_mm) == 1
    assert len(found.tie_wire_mm) == 2
    assert not found.planned_ties
    assert found.mesh_opening_mm == 1.5


def test_darkness_runs_from_white_to_black() -> None:
    assert darkness_of("#ffffff") == pytest.approx(0, abs=1e-4)
    assert darkness_of("#000000") == pytest.approx(1)
    assert 0.4 < darkness_of("#777777") < 0.6


def test_visual_weight_and_centre() -> None:
    leaf, wood = Region("dense", 100, 20, 0.8, 0.5), Region("wood", 50, -10, 1.0, 1.0)
    total, x = tree_weight((leaf, wood))
    assert total == pytest.approx(100 * 0.8 * 0.75 + 50)
    assert x == pytest.approx((60 * 20 - 50 * 10) / 110)
    with pytest.raises(FieldError, match="undefined"):
        tree_weight(())


def test_the_trunk_leaves_room_on_the_side_it_moves_to() -> None:
    row = traditions()["informal_upright", "classical"]
    right, left = stand_at_mm(row, "right", 400, 300), stand_at_mm(row, "left", 400, 300)
    assert right[0] < 0 < left[0]
    assert right[0] == -left[0]
    assert right[1] == left[1] > 0
    assert stand_at_mm(row, "none", 400, 300)[0] == 0
