"""Bowed pictures: the closed form and its inverse, bows read off a card, and figures that come right again."""

from pathlib import Path

import cv2
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image as Pictures

from kesh.base.errors import FieldError
from kesh.demo.lanternfield import demo_collection
from kesh.demo.photographs.tree import Sample, Shot, render
from kesh.desk.lens import lens_words, with_bow
from kesh.model import TreePhoto
from kesh.model.photo import BrushStroke, ColourSpot, TrunkGrip
from kesh.photo.classes import Image
from kesh.photo.lens import LEAST_BOW, MOST_BOW, bent, bent_back, bow_by_card, straight, straightened
from kesh.photo.read import read_photo
from kesh.photo.session import Marks, Measured, measure_photo
from kesh.reference.tables import tables

SIZE = (1500, 1800)
BOWS = st.floats(LEAST_BOW, MOST_BOW)


def before_wall(key: str = "cartographer", **how: object) -> Sample:
    held = demo_collection()
    planting = held.planting_of(key)
    assert planting is not None
    tree = held.trees[key]
    shot = Shot(**{"ground": "dark_wall", "seed": 5, "foot": (0.58, 0.75), **how})
    return render(tree, tables((), ()).species.get(tree.species or ""), held.pots[planting.pot], shot)


def bowed(image: Image, k: float) -> tuple[Image, float]:
    """The picture through a lens of another model: a point at r comes to r (1 + k r^2). Half diagonals."""
    high, wide = image.shape[:2]
    y, x = np.mgrid[0:high, 0:wide].astype(np.float64)
    half = np.hypot(wide, high) / 2
    u, v = (x + 0.5 - wide / 2) / half, (y + 0.5 - high / 2) / half
    seen = np.hypot(u, v)
    r = seen.copy()
    for _ in range(30):
        r = seen / (1 + k * r**2)
    ratio = np.where(seen > 0, r / np.maximum(seen, 1e-9), 1.0)
    to = [(c * ratio * half + m / 2 - 0.5).astype(np.float32) for c, m in ((u, wide), (v, high))]
    return np.asarray(cv2.remap(image, to[0], to[1], cv2.INTER_CUBIC, borderMode=cv2.BORDER_REPLICATE), np.uint8), k


def through(points: np.ndarray, k: float, size: tuple[int, int]) -> np.ndarray:
    """Where points come to in `bowed`."""
    middle, half = np.array(size) / 2, np.hypot(*size) / 2
    off = (points - middle) / half
    return middle + off * half * (1 + k * (off**2).sum(axis=1, keepdims=True))


@given(BOWS, st.floats(0, 1500), st.floats(0, 1800))
def test_straight_and_bent_undo_each_other(bow: float, x: float, y: float) -> None:
    p = np.array([[x, y]])
    assert np.allclose(bent(straight(p, bow, SIZE), bow, SIZE), p, atol=1e-6)
    assert np.allclose(straight(bent(p, bow, SIZE), bow, SIZE), p, atol=1e-6)


@given(BOWS)
def test_corners_stay_and_points_keep_their_side_of_the_middle(bow: float) -> None:
    corners = np.array([[0, 0], [1500, 0], [1500, 1800], [0, 1800.0]])
    assert np.allclose(straight(corners, bow, SIZE), corners)
    ring = np.array([[750 + 400 * np.cos(t), 900 + 400 * np.sin(t)] for t in np.linspace(0, 6, 9)])
    out = straight(ring, bow, SIZE) - [750, 900]
    # along the same ray, all equally far
    at = ring - [750, 900]
    assert np.allclose(out[:, 0] * at[:, 1] - out[:, 1] * at[:, 0], 0, atol=1e-4)
    assert np.allclose(np.linalg.norm(out, axis=1), np.linalg.norm(out[0]))


@pytest.mark.parametrize("k", [-0.08, -0.05, 0.05])
def test_a_card_shows_the_bow_of_a_lens_of_another_model(k: float) -> None:
    s = before_wall()
    image, _ = bowed(s.image, k)
    size = (image.shape[1], image.shape[0])
    marked = through(s.card_px, k, size) + np.random.default_rng(3).normal(0, 0.8, (4, 2))
    found = bow_by_card(image, marked)
    assert found is not None
    assert found.seen
    assert 0 < found.edge_px < 3
    # all lengths along the trunk come out alike again, which is what the card cannot see by itself
    line = through(np.column_stack([np.full(9, 0.58 * size[0]), np.linspace(300, 1500, 9)]), k, size)
    before, after = np.diff(line[:, 1]), np.diff(straight(line, found.value, size)[:, 1])
    assert np.ptp(after) / after.mean() < 0.45 * np.ptp(before) / before.mean()


@pytest.mark.parametrize("seed", range(6))
def test_no_bow_is_seen_where_there_is_none(seed: int) -> None:
    s = before_wall(("cartographer", "tollgate", "evening-bell")[seed % 3], seed=seed + 40, keystone=0.05 * (seed % 2),
                    ground=("dark_wall", "hedge", "boards", "wall")[seed % 4])  # fmt: skip
    marked = s.card_px + np.random.default_rng(seed).normal(0, 1.2, (4, 2))
    found = bow_by_card(s.image, marked)
    assert found is None or not found.seen
    assert found is None or abs(found.value) < 3.5 * found.plus_minus


def test_a_card_too_small_or_of_no_edges_tells_nothing() -> None:
    plain = np.full((600, 800, 3), 127, np.uint8)
    assert bow_by_card(plain, np.array([[100, 100], [300, 100], [300, 250], [100, 250.0]])) is None
    assert bow_by_card(plain, np.array([[100, 100], [120, 100], [120, 115], [100, 115.0]])) is None


def measured(tmp_path: Path, k: float) -> tuple[Sample, Measured]:
    s = before_wall(px_mm=1.7, foot=(0.60, 0.76))
    image, _ = bowed(s.image, k)
    size = (image.shape[1], image.shape[0])
    path = tmp_path / "bowed.png"
    cv2.imwrite(str(path), image)
    at = through(np.array([s.soil_px]), k, size)[0]
    card = (*through(s.card_px, k, size).ravel(), *s.card_mm)
    return s, measure_photo(path, Marks(card=tuple(float(v) for v in card), soil=(float(at[0]), float(at[1]))))


def test_figures_of_a_wide_lens_come_right_and_the_mask_lies_on_the_picture_as_taken(tmp_path: Path) -> None:
    k = -0.09
    s, m = measured(tmp_path, k)
    assert m.bow < -0.03
    assert any("straightened" in note for note in m.found.notes)
    tall = m.found.figures["height_mm"]
    assert isinstance(tall.value, float)
    rows = np.flatnonzero((s.mask > 0).any(axis=1))
    true_mm = (s.soil_px[1] - rows[0]) / 1.7
    # left in, the bow falsifies the height by more than its plus or minus
    assert tall.value == pytest.approx(true_mm, rel=0.02)
    assert abs(tall.value - true_mm) <= (tall.plus_minus or 0)
    truth = bowed(np.dstack([s.mask] * 3), k)[0][..., 0] > 100
    cut = m.mask > 0
    assert cut.shape == truth.shape
    assert np.count_nonzero(cut & truth) / np.count_nonzero(cut | truth) > 0.9
    assert m.soil == pytest.approx(through(np.array([s.soil_px]), k, SIZE)[0], abs=2)


def test_classes_go_there_and_back() -> None:
    mask = np.zeros((300, 400), np.uint8)
    cv2.circle(mask, (150, 170), 60, 255, -1)
    again = bent_back(np.asarray(straightened(mask, -0.2), np.uint8), -0.2)
    assert np.count_nonzero((again > 127) != (mask > 127)) < 0.05 * np.count_nonzero(mask)
    assert straightened(mask, 0.0) is mask


@given(BOWS)
def test_every_mark_goes_along_and_comes_back(bow: float) -> None:
    photo = TreePhoto(
        id="a", tree="t", picture="p", soil=(700, 1500), apex=(720, 300), marker=(5, 9), known=((100, 90), (900, 80)),
        card=((10, 1200), (300, 1200), (300, 1400), (10, 1400)), loop=((100, 100), (1200, 200), (600, 1600)),
        trunk=(TrunkGrip(side="left", at=(650, 1300)),), colours=(ColourSpot(part="bark", at=(700, 1400)),),
        strokes=(BrushStroke(kind="leaf", points=((500, 500), (560, 520)), radius=9),),
    )  # fmt: skip
    there = with_bow(photo, bow, SIZE)
    assert there.bow == bow
    back = with_bow(there, 0.0, SIZE)
    for name in ("known", "card", "loop"):
        assert np.allclose(getattr(back, name), getattr(photo, name), atol=0.15)
    for name in ("soil", "apex", "marker"):
        assert getattr(back, name) == pytest.approx(getattr(photo, name), abs=0.15)
    assert back.strokes[0].points[1] == pytest.approx((560, 520), abs=0.15)
    assert back.trunk[0].at == pytest.approx((650, 1300), abs=0.15)
    assert back.colours[0].at == pytest.approx((700, 1400), abs=0.15)
    assert lens_words(there, None)[1] == ("Leave it as it was taken" if bow else "")


def test_a_bow_that_no_lens_has_is_refused() -> None:
    with pytest.raises(FieldError):
        with_bow(TreePhoto(id="a", tree="t", picture="p"), -0.9, SIZE)


@pytest.mark.parametrize(("focal", "told"), [(14, True), (26, False), (0, False)])
def test_a_very_wide_lens_is_told_of(tmp_path: Path, focal: int, told: bool) -> None:
    picture = Pictures.fromarray(np.full((80, 90, 3), 90, np.uint8))
    exif = picture.getexif()
    exif.get_ifd(0x8769)[0xA405] = focal
    path = tmp_path / "wide.jpg"
    picture.save(path, exif=exif)
    notes = read_photo(path).notes
    assert any("wide lens" in note for note in notes) == told
    words, does = lens_words(TreePhoto(id="a", tree="t", picture="p"), None, notes)
    assert words.startswith("Taken with a very wide lens (14 mm)") == told
    assert does == ""


@pytest.mark.parametrize("far", [float("nan"), float("inf"), 1e12, -4000.0])
def test_a_card_that_lies_nowhere_tells_nothing_and_is_one_sentence(tmp_path: Path, far: float) -> None:
    plain = np.full((600, 800, 3), 127, np.uint8)
    corners = np.array([[100.0, 100], [far, 100], [far, 250], [100, 250]])
    assert bow_by_card(plain, corners) is None
    path = tmp_path / "p.png"
    cv2.imwrite(str(path), plain)
    if not np.isfinite(far):
        with pytest.raises(FieldError, match="must be numbers"):
            measure_photo(path, Marks(card=(*corners.ravel().tolist(), 148.0, 105.0), soil=(400.0, 500.0)))


@given(BOWS, st.floats(-40_000, 40_000), st.floats(-40_000, 40_000))
def test_what_lies_far_outside_stays_on_its_side(bow: float, x: float, y: float) -> None:
    at = np.array([[x, y]]) - np.array(SIZE) / 2
    out = straight(np.array([[x, y]]), bow, SIZE) - np.array(SIZE) / 2
    assert np.isfinite(out).all()
    assert (out * at).sum() >= 0
