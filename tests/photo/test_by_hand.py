"""What a hand puts right, and two dates of one tree over each other: closed forms on plain shapes."""

from dataclasses import replace

import numpy as np
import pytest

from kesh.photo.by_hand import changed, with_edges, with_strokes
from kesh.photo.dates import laid_over, outline_mm
from kesh.photo.measure import measure
from kesh.photo.scale import from_known
from kesh.photo.strokes import Stroke
from kesh.photo.tree_cut import TreeCut
from kesh.photo.trunk import Reading, apart, in_doubt

HIGH, WIDE = 400, 300


def cut_with_doubt() -> TreeCut:
    """A trunk and a crown; in half of the other cut-outs a patch beside the crown is tree too."""
    mask = np.zeros((HIGH, WIDE), np.uint8)
    mask[200:380, 140:160] = 255
    mask[80:200, 90:210] = 128
    others = np.repeat(mask[None, ::2, ::2], 4, axis=0).copy()
    others[:2, 50:90, 105:130] = 128
    y = np.arange(378.0, 240, -3)
    edges = np.column_stack([y, np.full(len(y), 140.0), np.full(len(y), 160.0), np.ones(len(y))])
    return TreeCut(mask, others, 0.22, None, False, edges)


def test_a_stroke_settles_the_doubt_where_it_is_made() -> None:
    cut = cut_with_doubt()
    image = np.full((HIGH, WIDE, 3), 200, np.uint8)
    before = cut.differing().sum()
    stroke = Stroke(128, ((225.0, 105.0), (225.0, 175.0)), 18)
    after = with_strokes(cut, [stroke], image)
    assert after.differing().sum() < before * 0.7
    assert after.doubt < cut.doubt
    assert with_strokes(cut, [], image).doubt == cut.doubt
    assert (cut.mask[100:180, 212:240] == 0).all()
    assert changed(replace(cut, others=cut.others[:0]), after.mask).mask is after.mask


def test_a_dragged_edge_moves_its_neighbours_and_nothing_far_away() -> None:
    cut = cut_with_doubt()
    assert cut.edges is not None
    wider = with_edges(cut, [("right", (172.0, 330.0))])
    assert wider.edges is not None
    at = int(np.argmin(np.abs(wider.edges[:, 0] - 330)))
    assert wider.edges[at, 2] == pytest.approx(172, abs=0.6)
    assert np.allclose(wider.edges[:, 1], 140)
    assert wider.edges[-1, 2] == pytest.approx(160, abs=0.1)
    assert wider.mask[330, 168] == 255
    assert wider.mask[250, 168] == 0
    narrower = with_edges(cut, [("left", (147.0, 330.0))])
    assert narrower.mask[330, 143] == 0
    assert narrower.mask[330, 150] == 255
    assert with_edges(cut, []) is cut
    assert with_edges(replace(cut, edges=None), [("left", (1.0, 2.0))]).edges is None


def test_figures_apart_and_what_is_said_of_them() -> None:
    assert apart(100.0, [100.0, 100.0], 2, 100.0) == (0.0, 0.0)
    share, spread = apart(100.0, [106.0, 92.0], 2, 100.0)
    assert share == pytest.approx(np.sqrt((36 + 64) / 2) / 100)
    assert spread == pytest.approx(2 * np.sqrt(50))
    assert apart(100.0, [100.0, 100.0], 4, 100.0)[0] == pytest.approx(0.5)
    assert apart(100.0, [], 4, 100.0)[0] == 1.0
    said = in_doubt(Reading(100.0, 2.0, "mm"), 0.31, "draw round it")
    assert said.value is None
    assert said.plus_minus is None
    assert said.as_dict()["doubt"] == 0.31
    assert "31%" in said.why
    assert said.why.endswith("draw round it")


def test_a_smaller_photograph_of_the_same_tree_lies_on_the_larger_one() -> None:
    mask = cut_with_doubt().mask
    image = np.full((HIGH, WIDE, 3), 120, np.uint8)
    large = measure(image, mask, from_known(0, 0, 200, 0, 100), (150.0, 380.0))
    half = np.ascontiguousarray(mask[::2, ::2])
    small = measure(image[::2, ::2].copy(), half, from_known(0, 0, 100, 0, 100), (75.0, 190.0))
    (ring, *_), (own, *_) = laid_over(outline_mm(half, small), large), laid_over(outline_mm(mask, large), large)
    assert np.allclose(ring.min(axis=0), own.min(axis=0), atol=2.5)
    assert np.allclose(ring.max(axis=0), own.max(axis=0), atol=2.5)
    assert np.allclose(own.min(axis=0), [90, 80], atol=1.5)
