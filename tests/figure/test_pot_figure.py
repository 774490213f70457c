"""Drawn pots agree with the pots that are computed."""

import numpy as np
import pytest

from kesh.figure.pot_figure import pot_figure
from kesh.geometry.columns import columns
from kesh.geometry.outline import ring_area_mm2
from kesh.geometry.profile import inset_mm
from kesh.model import Collection
from tests.builders import pot


def test_every_demo_pot_is_as_long_and_high_as_it_measures(demo: Collection) -> None:
    for p in demo.pots.values():
        f = pot_figure(p)
        left, right, bottom, top = f.bounds
        widest = p.length_mm - 2 * float(min(0, inset_mm(columns([p]), np.linspace(0, 1, 200)[None, :]).min()))
        assert right - left == pytest.approx(widest, abs=0.2), p.id
        assert top == p.height_mm
        assert bottom == 0


def test_section_and_elevation_have_one_width() -> None:
    p = pot(profile={"kind": "bowed", "base_inset_mm": 20, "belly_mm": 5}, feet_mm=8)
    f = pot_figure(p)
    y, half = f.half_width_u
    inside = f.inside
    for level in (30.0, 60.0, 90.0):
        wide = np.interp(level, y, half)
        right = inside[inside[:, 0] > 0]
        order = np.argsort(right[:, 1])
        assert wide - np.interp(level, right[order, 1], right[order, 0]) == pytest.approx(8, abs=0.1)


def test_cut_clay_is_wall_and_floor_without_the_holes() -> None:
    p = pot(profile={"kind": "tube"})
    clay = sum(abs(ring_area_mm2(ring)) for ring in pot_figure(p).clay)
    assert clay == pytest.approx(400 * 10 + 2 * 8 * 90 - 2 * 24 * 10, rel=1e-6)


def test_a_slab_is_all_clay() -> None:
    f = pot_figure(pot(profile={"kind": "slab"}, height_mm=30, holes=()))
    assert len(f.clay) == 1
    assert f.floor_mm == f.rim_mm == 30


@pytest.mark.parametrize("style", ["block", "cloud", "ring", "none"])
def test_feet_stand_under_the_body(style: str) -> None:
    p = pot(feet_mm=10, feet_style=style, profile={"kind": "straight", "base_inset_mm": 20})
    feet = pot_figure(p).feet
    assert (len(feet) == 0) is (style == "none")
    for ring in feet:
        assert ring[:, 1].min() == pytest.approx(0)
        assert ring[:, 1].max() <= 10 + 1e-9
        assert np.abs(ring[:, 0]).max() <= 180
