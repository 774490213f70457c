"""Photographs with known truth, rendered in two unrelated ways, cut out and measured."""

from dataclasses import replace
from functools import lru_cache

import numpy as np
import pytest

from kesh.base.errors import FieldError
from kesh.base.progress import Progress, StoppedError
from kesh.demo.lanternfield import demo_collection
from kesh.demo.photographs.tree import Sample, Shot, mapped, render
from kesh.figure.tree_figure import figure_of
from kesh.photo.foot import find_foot
from kesh.photo.measure import PhotoMeasures, measure
from kesh.photo.scale import from_card, from_known
from kesh.photo.silhouette import cut_out, cut_tree
from kesh.photo.strokes import Stroke, painted
from kesh.photo.view import Hints
from kesh.reference.tables import tables
from tests.kept import kept, kept_cut
from tests.photo.other_camera import Picture, picture

DEMO = demo_collection()
SPECIES = tables((), ()).species
PLAIN = [
    ("old-ferryman", "wall"),
    ("tollgate", "dark_wall"),
    ("grey-heron", "wall"),
    ("wicket", "dark_wall"),
    ("rope-ladder", "wall"),
]
BUSY = [("mossback", "hedge"), ("cartographer", "boards"), ("paper-lantern", "hedge"), ("seven-neighbours", "shelf")]


@kept
def sample(tree: str, ground: str, keystone: float = 0.0) -> Sample:
    one = DEMO.trees[tree]
    planting = DEMO.planting_of(tree)
    assert planting is not None
    foot = (0.5, 0.5) if tree == "rope-ladder" else (0.5, 0.8)
    shot = Shot(size_px=(1200, 1500), px_mm=1.6, ground=ground, seed=len(tree), keystone=keystone, foot=foot)  # type: ignore[arg-type]
    return render(one, SPECIES.get(one.species or ""), DEMO.pots[planting.pot], shot)


@lru_cache(maxsize=4)
def mask_of(tree: str, ground: str, keystone: float = 0.0) -> np.ndarray:
    s = sample(tree, ground, keystone)
    hints = Hints(s.soil_px, None, s.card_px)
    return kept_cut(s.image, hints, lambda: cut_tree(s.image, hints)).mask  # type: ignore[no-any-return]


def overlap(one: np.ndarray, other: np.ndarray) -> float:
    return float((one & other).sum() / (one | other).sum())


def measured(tree: str, ground: str, keystone: float = 0.0, *, card: bool = True) -> PhotoMeasures:
    s = sample(tree, ground, keystone)
    scale = (
        from_card(s.card_px, *s.card_mm, s.soil_px) if card else from_known(*s.pot_px[0], *s.pot_px[1], pot_mm(tree))
    )
    return measure(s.image, mask_of(tree, ground, keystone), scale, s.soil_px)


def pot_mm(tree: str) -> float:
    planting = DEMO.planting_of(tree)
    assert planting is not None
    return DEMO.pots[planting.pot].length_mm


def truth(s: Sample) -> dict[str, float]:
    """What the true mask says, back in the trunk's mm."""
    ys, xs = np.nonzero(s.mask)
    mm = mapped(np.linalg.inv(s.to_px), np.column_stack([xs + 0.5, ys + 0.5]))
    top = mm[:, 1].max()
    return {
        "height_mm": top, "reach_left_mm": -mm[:, 0].min(), "reach_right_mm": mm[:, 0].max(),
        "apex_offset_mm": mm[mm[:, 1] > top - 1.0][:, 0].mean(),
    }  # fmt: skip


@pytest.mark.parametrize(("tree", "ground"), PLAIN)
def test_a_plain_background_needs_no_strokes(tree: str, ground: str) -> None:
    s, found = sample(tree, ground), mask_of(tree, ground)
    assert overlap(found > 0, s.mask > 0) > 0.9
    assert overlap(found == 255, s.mask == 255) > 0.75
    assert overlap(found == 128, s.mask == 128) > 0.85


@pytest.mark.parametrize(("tree", "ground"), BUSY)
def test_a_busy_background_is_mostly_seen_through(tree: str, ground: str) -> None:
    assert overlap(mask_of(tree, ground) > 0, sample(tree, ground).mask > 0) > 0.8


@pytest.mark.parametrize(("tree", "ground"), PLAIN + BUSY)
def test_height_and_reaches_are_within_two_per_cent(tree: str, ground: str) -> None:
    found, true = measured(tree, ground), truth(sample(tree, ground))
    for name in ("height_mm", "reach_left_mm", "reach_right_mm"):
        value = found.figures[name].value
        assert isinstance(value, float)
        assert value == pytest.approx(true[name], rel=0.02, abs=1.5), name


def test_plus_or_minus_holds_the_truth_in_nine_of_ten() -> None:
    held = []
    for tree, ground in PLAIN + BUSY:
        for card in (True, False):
            found, true = measured(tree, ground, card=card), truth(sample(tree, ground))
            for name, value in true.items():
                one = found.figures[name]
                assert isinstance(one.value, float)
                assert one.plus_minus is not None
                assert one.plus_minus < max(0.04 * abs(one.value), 14)
                held.append(abs(one.value - value) <= one.plus_minus)
    assert np.mean(held) >= 0.9


@pytest.mark.parametrize("tree", ["old-ferryman", "grey-heron", "wicket", "mossback"])
def test_trunk_width_is_within_four_per_cent_or_a_millimetre_and_a_half(tree: str) -> None:
    found = measured(tree, "wall")
    one = DEMO.trees[tree]
    figure = figure_of(one, SPECIES.get(one.species or ""))
    assert figure is not None
    trunk = next(w for w in figure.wood if w.kind == "trunk")
    at = int(np.argmin(np.abs(trunk.line[:60, 1] - found.trunk_at_mm["above_flare"])))
    value = found.trunk["above_flare"].value
    assert value == pytest.approx(2 * trunk.radius[at], rel=0.04, abs=1.5)


@pytest.mark.parametrize("tree", ["mossback", "paper-lantern"])
def test_a_card_takes_the_camera_s_tilt_out(tree: str) -> None:
    s = sample(tree, "wall", 0.12)
    true = truth(s)
    value = measured(tree, "wall", 0.12).figures["height_mm"].value
    assert value == pytest.approx(true["height_mm"], rel=0.015)
    flat = measured(tree, "wall", 0.12, card=False).figures["height_mm"].value
    assert isinstance(flat, float)
    assert abs(flat - true["height_mm"]) > 2 * abs(float(value) - true["height_mm"])  # type: ignore[arg-type]


def test_a_pot_s_foot_is_found_without_a_mark() -> None:
    for tree in ("old-ferryman", "mossback", "paper-lantern"):
        s = sample(tree, "wall")
        x, y = find_foot(s.image, s.card_px)
        assert x == pytest.approx(s.soil_px[0], abs=8)
        assert y == pytest.approx(s.soil_px[1], abs=14)
    with pytest.raises(FieldError, match="--soil"):
        find_foot(sample("mossback", "hedge").image)


@kept
def other(seed: int, busy: bool, autumn: bool = False) -> tuple[Picture, np.ndarray, np.ndarray]:
    made = picture(seed, busy=busy, autumn=autumn)
    image = np.ascontiguousarray(made.rgb[:, :, ::-1])
    return made, image, cut_out(image, Hints(made.foot))


@pytest.mark.parametrize("seed", [1, 2, 3])
@pytest.mark.parametrize("busy", [False, True])
def test_pictures_made_another_way(seed: int, busy: bool) -> None:
    made, image, mask = other(seed, busy)
    assert overlap(mask > 0, made.mask > 0) > (0.8 if busy else 0.9)
    found = measure(image, mask, from_known(100, 50, 500, 50, 200), made.foot)
    k = 2.0
    true = {
        "height_mm": (made.foot[1] - made.top) / k,
        "reach_left_mm": (made.foot[0] - made.left) / k,
        "reach_right_mm": (made.right - made.foot[0]) / k,
    }
    for name, value in true.items():
        assert found.figures[name].value == pytest.approx(value, rel=0.02, abs=1.5), name
    width = made.trunk_px(found.trunk_at_mm["above_flare"] * k) / k
    assert found.trunk["above_flare"].value == pytest.approx(width, rel=0.04, abs=1.5)
    assert found.figures["lean_deg"].value == pytest.approx(np.degrees(np.arctan2(made.lean_px, made.stem_px)), abs=2)


def test_autumn_leaves_are_leaves_too() -> None:
    made, _, mask = other(4, False, True)
    assert overlap(mask > 0, made.mask > 0) > 0.9
    assert overlap(mask == 255, made.mask == 255) > 0.7


@pytest.mark.parametrize(
    ("tree", "ground"),
    [
        ("cartographer", "boards"),
        ("mossback", "hedge"),
        ("old-ferryman", "hedge"),
        ("seven-neighbours", "shelf"),
        ("tollgate", "boards"),
        ("grey-heron", "shelf"),
    ],
)
def test_three_strokes_mend_a_busy_cut_out_and_following_colours_never_spoil_it(tree: str, ground: str) -> None:
    s = sample(tree, ground)
    plain = followed = mask_of(tree, ground)
    before = overlap(plain > 0, s.mask > 0)
    for _ in range(3):
        plain, followed = (
            painted(m, replace(stroke_over(((m > 0) != (s.mask > 0)).astype(np.uint8), s.mask), follow=f), s.image)
            for m, f in ((plain, False), (followed, True))
        )
    after = overlap(followed > 0, s.mask > 0)
    assert after >= 0.95
    assert after > before
    assert after > overlap(plain > 0, s.mask > 0) - 0.02


def stroke_over(wrong: np.ndarray, true: np.ndarray) -> Stroke:
    """A stroke of a careful hand along the largest patch that is wrong."""
    import cv2

    inner = cv2.erode(wrong, np.ones((5, 5), np.uint8))
    _, labels, stats, _ = cv2.connectedComponentsWithStats(inner)
    best = int(np.argmax(stats[1:, cv2.CC_STAT_AREA])) + 1
    ys, xs = np.nonzero(labels == best)
    kind = int(np.median(true[ys, xs]))
    radius = max(3.0, float(cv2.distanceTransform((labels == best).astype(np.uint8), cv2.DIST_L2, 3).max()) * 0.9)
    along = np.argsort(xs if np.ptp(xs) > np.ptp(ys) else ys)
    groups = np.array_split(along, 9)
    points = tuple((float(xs[g].mean()), float(ys[g].mean())) for g in groups if len(g))
    return Stroke(kind, points, radius, follow=False)


def test_a_stroke_paints_its_own_pixels_and_like_colours_follow_when_asked() -> None:
    image = np.full((120, 160, 3), 230, np.uint8)
    image[30:90, 40:120] = (40, 120, 60)
    mask = np.zeros((120, 160), np.uint8)
    plain = painted(mask, Stroke(128, ((60, 60), (80, 60)), 4), image)
    assert plain[60, 70] == 128
    assert plain[40, 70] == 0
    grown = painted(mask, Stroke(128, ((60, 60), (100, 60)), 12, follow=True), image)
    assert grown[35, 80] == 128
    assert grown[20, 80] == 0
    assert not mask.any()
    cleared = painted(grown, Stroke(0, ((60, 60), (100, 60)), 12, follow=True), image)
    assert cleared[35, 80] == 0


def test_work_can_be_stopped_and_says_how_far_it_is() -> None:
    s = sample("old-ferryman", "wall")
    told: list[float] = []
    cut_out(s.image, Hints(s.soil_px), Progress(lambda share, _: told.append(share)))
    assert told[-1] == 1.0
    stopped = Progress()
    stopped.stop()
    with pytest.raises(StoppedError):
        cut_out(s.image, Hints(s.soil_px), stopped)


def test_marks_that_cannot_be_are_refused() -> None:
    s = sample("old-ferryman", "wall")
    with pytest.raises(FieldError, match="outside the picture"):
        cut_out(s.image, Hints((9000, 10)))
    scale = from_known(0, 0, 100, 0, 50)
    with pytest.raises(FieldError, match="apex lies below"):
        measure(s.image, mask_of("old-ferryman", "wall"), scale, s.soil_px, (s.soil_px[0], s.soil_px[1] + 5))
    with pytest.raises(FieldError, match="no tree is marked"):
        measure(s.image, np.zeros(s.mask.shape, np.uint8), scale, s.soil_px)


def test_nothing_is_said_where_leaves_hide_the_trunk() -> None:
    found = measured("tollgate", "dark_wall")
    assert found.trunk["mid_trunk"].value is None
    assert "hide" in found.trunk["mid_trunk"].why
    assert found.profile.at(5000) is None
