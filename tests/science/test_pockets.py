"""Litres and feeders of parts of the root mass by closed forms, and when a pocket is taken out."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from pydantic import ValidationError

from kesh.model import Outline, Pocket, RootMass, Sector
from kesh.science.roots.pockets import COMES_OFF, depths_mm, part_of, pocket_part, pocket_plan, sector_part

ROUND = RootMass(outline=Outline(kind="round"), length_mm=200, width_mm=200, depth_mm=80)


def test_a_quarter_to_half_the_reach_and_half_the_depth() -> None:
    pocket = Pocket(kind="clay", from_deg=45, to_deg=135, to_share=0.5, depth_to_mm=40)
    part = pocket_part(ROUND, pocket)
    assert part.volume_l == pytest.approx(np.pi * 50**2 / 4 * 40 / 1e6, rel=1e-3)
    assert part.share == pytest.approx(0.25 * 0.25 * 0.5, rel=1e-3)
    assert part.feeder_share == pytest.approx(part.share, rel=1e-6)
    near = pocket_part(ROUND.changed(feeders="near_trunk"), pocket)
    assert near.feeder_share == pytest.approx(0.25 * 0.4375 * 0.625, rel=1e-3)
    assert near.volume_l == pytest.approx(part.volume_l)
    # one without a depth reaches through the whole mass, one over the front is the same as one elsewhere
    through = pocket_part(ROUND, Pocket(kind="sand", from_deg=315, to_deg=45, to_share=0.5))
    assert through.share == pytest.approx(0.25 * 0.25, rel=1e-3)


def test_a_pocket_without_a_lower_end_reaches_to_the_bottom() -> None:
    open_below = Pocket(kind="sand", depth_from_mm=50)
    assert depths_mm(ROUND, open_below) == (50, 80)
    assert pocket_part(ROUND, open_below).share == pytest.approx(30 / 80)
    assert depths_mm(ROUND, Pocket(kind="sand", depth_from_mm=10, depth_to_mm=400)) == (10, 80)
    over_the_front = Pocket(kind="clay", from_deg=350, to_deg=30)
    assert (over_the_front.span_deg, over_the_front.middle_deg) == (40, 10)


def test_a_sector_needs_both_its_ends() -> None:
    with pytest.raises(ValidationError):
        Sector.model_validate({"why": "no angles"})


def test_a_sector_of_an_oval_by_the_area_of_an_ellipse() -> None:
    oval = ROUND.changed(outline=Outline(kind="oval"), length_mm=300.0, width_mm=180.0)
    left = sector_part(oval, Sector(from_deg=45, to_deg=135))
    # the sector of an ellipse between two rays: half a b times the angle between their eccentric angles
    eccentric = np.arctan2(150 * np.sin(np.pi / 4), 90 * np.cos(np.pi / 4))
    assert left.share == pytest.approx(eccentric / np.pi, rel=2e-3)
    assert sector_part(oval, Sector(from_deg=0, to_deg=360)).share == pytest.approx(1.0)


@given(
    st.integers(0, 359), st.integers(1, 180), st.integers(1, 9), st.integers(0, 60), st.sampled_from(["near_trunk", "even", "outside_bottom"]),
    st.floats(0, 0.6),
)  # fmt: skip
def test_parts_add_up(start: int, span: int, tenths: int, depth: int, feeders: str, taper: float) -> None:
    roots = ROUND.changed(feeders=feeders, taper=taper, offset_x_mm=20.0)
    cut = tenths / 10
    parts = [
        part_of(roots, a, s, rho, d)
        for a, s in ((start, span), ((start + span) % 360, 360 - span))
        for rho in ((0, cut), (cut, 1))
        for d in ((0, depth), (depth, 80))
    ]
    for name in ("share", "feeder_share"):
        assert sum(getattr(p, name) for p in parts) == pytest.approx(1.0, abs=2e-3)


def held(*pockets: Pocket) -> RootMass:
    return ROUND.changed(pockets=pockets)


def test_rot_goes_at_once_and_live_pockets_as_the_budget_bears() -> None:
    rot = Pocket(kind="rot", from_deg=0, to_deg=90, to_share=0.5)
    clay = Pocket(kind="clay", from_deg=90, to_deg=180, to_share=0.8)
    sand = Pocket(kind="sand", from_deg=180, to_deg=270, to_share=0.5)
    low = Pocket(kind="field_soil", depth_from_mm=66, depth_to_mm=80)
    found = pocket_plan(held(rot, clay, sand, low), (0.20,), 0.30, 2.0, 60.0)
    assert [p.counted for p in found] == pytest.approx([0, 0.16, 0.0625, 0], abs=1e-4)
    assert [p.year for p in found] == [0, 2, 0, 0]
    assert found[3].why == COMES_OFF
    assert "left for next time" in found[1].why
    # rot counts for nothing even where nothing may be cut; the others wait
    sick = pocket_plan(held(rot, clay), (0.0,), 0.0, 2.0, 80.0)
    assert (sick[0].year, sick[0].counted) == (0, 0)
    assert sick[1].counted == 0
    assert "more than one repotting bears" in sick[1].why
