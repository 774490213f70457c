"""Places in doubt and the strokes that settle them: closed forms on plain shapes."""

from dataclasses import replace

import numpy as np
import pytest

from kesh.base.units import Units
from kesh.desk.loop import place_words, settle_words, settled, told_places
from kesh.model import TreePhoto
from kesh.photo.by_hand import with_strokes
from kesh.photo.classes import FOLIAGE, WOOD
from kesh.photo.places import Place, left_in_doubt, places
from kesh.photo.scale import from_known
from kesh.photo.strokes import Stroke
from kesh.photo.tree_cut import TreeCut, share_differing

HIGH, WIDE = 600, 500
FOOT = (250.0, 560.0)
IMAGE = np.full((HIGH, WIDE, 3), 190, np.uint8)
SCALE = from_known(0, 0, 200, 0, 200.0)


def undecided() -> TreeCut:
    """A crown from 150 to 350 px; a branch out to 90 px left is seen by three of four trials, one speck by one."""
    mask = np.zeros((HIGH, WIDE), np.uint8)
    mask[300:560, 238:262] = WOOD
    mask[100:300, 150:350] = FOLIAGE
    others = np.repeat(mask[None, ::2, ::2], 4, axis=0).copy()
    others[:3, 90:112, 45:75] = FOLIAGE
    others[0, 20:26, 200:206] = FOLIAGE
    return TreeCut(mask, others, share_differing(mask, others), np.zeros((3, 2)), False)


def test_the_branch_is_the_place_and_says_what_the_reach_reads_either_way() -> None:
    cut = undecided()
    (place,) = places(IMAGE, cut, SCALE, FOOT)
    assert place.letter == "a"
    assert not place.is_tree
    assert place.kind == FOLIAGE
    assert place.share == pytest.approx(22 * 30 * 4 / np.count_nonzero(cut.mask), rel=0.05)
    assert place.figure == "reach_left_mm"
    assert place.if_tree == pytest.approx(160, abs=3)
    assert place.if_not == pytest.approx(100, abs=3)
    # the stroke runs along the branch, inside it
    assert (place.stroke[:, 0] > 88).all()
    assert (place.stroke[:, 0] < 152).all()
    assert np.abs(place.stroke[:, 1] - 202).max() < 6
    assert np.ptp(place.stroke[:, 0]) > 40
    assert left_in_doubt(cut, (place,)) < 0.1 * cut.doubt


def test_without_a_scale_no_figure_is_told_and_without_trials_no_place() -> None:
    cut = undecided()
    (place,) = places(IMAGE, cut, None, FOOT)
    assert place.figure == ""
    assert places(IMAGE, replace(cut, others=cut.others[:0]), SCALE, FOOT) == ()


@pytest.mark.parametrize("tree", [True, False])
def test_the_stroke_it_offers_settles_it_either_way(tree: bool) -> None:
    cut = undecided()
    (place,) = places(IMAGE, cut, SCALE, FOOT)
    kind = place.kind if tree else 0
    after = with_strokes(cut, [Stroke(kind, tuple(map(tuple, place.stroke.tolist())), place.radius, True)], IMAGE)
    branch = after.mask[184:220, 94:146] > 0
    assert branch.mean() > 0.97 if tree else branch.mean() < 0.03
    assert after.doubt < 0.2 * cut.doubt
    assert places(IMAGE, after, SCALE, FOOT) == ()
    # far from the stroke nothing has changed
    assert (after.mask[:, 260:] == cut.mask[:, 260:]).all()


def test_a_stroke_that_only_bears_out_what_is_there_settles_it_too() -> None:
    cut = undecided()
    mask = cut.mask.copy()
    mask[180:224, 90:150] = FOLIAGE
    cut = TreeCut(mask, cut.others, 0.2, cut.loop, False)
    after = with_strokes(cut, [Stroke(FOLIAGE, ((100.0, 202.0), (140.0, 202.0)), 10)], IMAGE)
    assert (after.mask == mask).all()
    assert after.doubt < 0.1 * cut.doubt


def test_a_stroke_only_some_trials_agree_with_takes_their_outline_not_its_own() -> None:
    cut = undecided()
    # a thin stroke along a broad branch
    after = with_strokes(cut, [Stroke(FOLIAGE, ((96.0, 202.0), (146.0, 202.0)), 5)], IMAGE)
    found = after.mask > 0
    assert found[184:220, 94:146].mean() > 0.97
    assert not found[150:176, 60:146].any()


def test_no_trial_agrees_and_the_brush_alone_counts() -> None:
    cut = undecided()
    after = with_strokes(cut, [Stroke(FOLIAGE, ((420.0, 400.0), (450.0, 400.0)), 6)], IMAGE)
    changed = (after.mask != cut.mask).sum()
    assert 0 < changed < 1000
    assert after.mask[400, 430] == FOLIAGE


def test_words_say_where_and_what_and_when_the_loop_comes_first() -> None:
    cut = undecided()
    told = places(IMAGE, cut, SCALE, FOOT)
    where, what = place_words(told[0], (-130.0, 358.0), Units())
    assert where == "130 mm left, 358 mm up"
    assert what.startswith("Reach left 160 if tree, 100 mm if not")
    area = replace(told[0], figure="silhouette_area_cm2", if_tree=100.0, if_not=95.0)
    assert place_words(area, None, Units()) == ("in the picture", "changes the area by 5%")
    assert "no length" in place_words(replace(told[0], figure=""), (30.0, -4.0), Units())[1]
    assert told_places(cut, told) == told
    assert told_places(replace(cut, proposed=True, doubt=0.5), told) == ()
    assert told_places(None, told) == ()
    assert told_places(cut, (replace(told[0], figure=""),)) == ()
    assert settle_words(cut, told)[0] == "One stroke settles it"
    assert settle_words(replace(cut, doubt=0.9), told)[0] == "Most in doubt"


def test_the_stroke_goes_into_the_record_at_the_size_of_the_picture() -> None:
    place: Place = places(IMAGE, undecided(), SCALE, FOOT)[0]
    photo = TreePhoto(id="a", tree="t", picture="p")
    leaf, ground = (settled(photo, place, 2.5, tree=tree).strokes[0] for tree in (True, False))
    assert (leaf.kind, ground.kind) == ("leaf", "ground")
    assert leaf.radius == pytest.approx(place.radius * 2.5, abs=0.06)
    assert np.allclose(leaf.points, place.stroke * 2.5, atol=0.06)
    assert settled(photo, replace(place, kind=WOOD), 1.0, tree=True).strokes[0].kind == "wood"


@pytest.mark.parametrize("aspect", [0.5, 1.0, 4 / 3])
def test_a_crop_shows_the_whole_stroke_and_stays_in_the_picture(aspect: float) -> None:
    place = places(IMAGE, undecided(), SCALE, FOOT)[0]
    x, y, wide, high = place.box((WIDE, HIGH), aspect)
    assert x >= 0
    assert y >= 0
    assert x + wide <= WIDE
    assert y + high <= HIGH
    assert wide / high == pytest.approx(aspect, rel=0.05)
    assert (place.stroke >= [x, y]).all()
    assert (place.stroke <= [x + wide, y + high]).all()
