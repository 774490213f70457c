"""The tree lifted out: at true scale, with its foot in place, and no ground shining at its rim."""

import numpy as np
import pytest

from kesh.photo.cutout import CutOut, lift
from kesh.photo.scale import from_card, from_known
from tests.photo.test_measuring import sample


def test_a_plain_shape_keeps_its_size_and_foot() -> None:
    image = np.full((300, 200, 3), 240, np.uint8)
    image[100:250, 80:120] = (40, 60, 80)
    mask = np.zeros((300, 200), np.uint8)
    mask[100:250, 80:120] = 255
    found = lift(image, mask, from_known(0, 0, 100, 0, 50), (100, 250))
    left, top, wide, high = found.box_mm
    rows, cols = np.nonzero(found.bgra[..., 3] > 128)
    assert np.ptp(rows) + 1 == pytest.approx(150, abs=2)
    assert np.ptp(cols) + 1 == pytest.approx(40, abs=2)
    assert found.foot[1] - rows.max() == pytest.approx(1, abs=1.5)
    assert (left + wide, top + high) == pytest.approx(
        ((found.bgra.shape[1] - found.foot[0]) / 2, (found.bgra.shape[0] - found.foot[1]) / 2)
    )


def test_no_halo_of_the_wall_at_the_rim() -> None:
    image = np.full((300, 200, 3), 250, np.uint8)
    image[100:250, 80:120] = (30, 40, 50)
    image[99] = image[250] = 140
    mask = np.zeros((300, 200), np.uint8)
    mask[99:251, 79:121] = 128
    found = lift(image, mask, from_known(0, 0, 100, 0, 50), (100, 250))
    seen = found.bgra[..., 3] > 100
    assert found.bgra[..., :3][seen].max() < 120


def test_perspective_is_levelled_before_it_stands_in_a_pot() -> None:
    s = sample("mossback", "wall", 0.12)
    straight = sample("mossback", "wall")
    found = lift(s.image, s.mask, from_card(s.card_px, *s.card_mm, s.soil_px), s.soil_px)
    plain = lift(
        straight.image, straight.mask, from_known(*straight.pot_px[0], *straight.pot_px[1], 312), straight.soil_px
    )
    for one, other in zip(extent_mm(found), extent_mm(plain), strict=True):
        assert one == pytest.approx(other, rel=0.01, abs=1.5)


def extent_mm(found: CutOut) -> tuple[float, float, float, float]:
    """Left, right, top and bottom of what is seen, mm from the foot."""
    rows, cols = np.nonzero(found.bgra[..., 3] > 128)
    x, y = (cols - found.foot[0]) / found.px_mm, (rows - found.foot[1]) / found.px_mm
    return float(x.min()), float(x.max()), float(y.min()), float(y.max())
