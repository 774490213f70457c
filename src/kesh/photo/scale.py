"""From pixels to millimetres in the plane of the trunk: two points, a pot's width, or the corners of a card."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from kesh.base.errors import FieldError

Points = NDArray[np.float64]
CLICK_PX = 1.2


@dataclass(frozen=True)
class Scale:
    """px_mm at the trunk, its relative plus or minus, and the homography px -> level px (identity for two points).

    Level px are as large as px at the trunk, but of a picture taken straight on.
    """

    px_mm: float
    relative: float
    level: Points
    how: str

    @property
    def straight(self) -> bool:
        """Whether the picture is used as it is."""
        return bool(np.allclose(self.level, np.eye(3)))

    def less_sure(self, relative: float) -> "Scale":
        """The same scale with another independent relative plus or minus beside its own."""
        return replace(self, relative=float(np.hypot(self.relative, relative)))

    def at_size(self, factor: float) -> "Scale":
        """The scale of the same picture made so much larger."""
        size = np.diag([factor, factor, 1.0])
        return replace(self, px_mm=self.px_mm * factor, level=size @ self.level @ np.linalg.inv(size))

    def levelled(self, points_px: Points) -> Points:
        """Points (n, 2) of the picture in level px."""
        p = np.column_stack([points_px, np.ones(len(points_px))]) @ self.level.T
        return np.asarray(p[:, :2] / p[:, 2:])


def from_known(x1: float, y1: float, x2: float, y2: float, length_mm: float, how: str = "two points") -> Scale:
    """Scale from two points of known distance in the trunk's plane. Raises FieldError for points too close."""
    if not np.isfinite([x1, y1, x2, y2, length_mm]).all():
        raise FieldError("known", "coordinates and length must be numbers")
    if length_mm <= 0 or length_mm > 20_000:
        raise FieldError("known", f"a length of {length_mm:g} mm cannot be; write the distance in mm")
    length_px = float(np.hypot(x2 - x1, y2 - y1))
    if length_px < 20:
        raise FieldError("known", f"the two points lie {length_px:.0f} px apart; take two that are farther apart")
    return Scale(length_px / length_mm, CLICK_PX * float(np.sqrt(2)) / length_px, np.eye(3), how)


def from_card(corners_px: Points, width_mm: float, height_mm: float, at_px: tuple[float, float]) -> Scale:
    """Scale and perspective from the corners of a card in the trunk's plane, in turn from the upper left.

    `at_px` is the trunk's foot, where the level picture keeps its size and upright. Perspective that the corners do not
    prove, because a shift of about a pixel each would explain it as well, is left out.
    Raises FieldError for corners that form no card.
    """
    corners = np.asarray(corners_px, float).reshape(4, 2)
    if not (np.isfinite(corners).all() and np.isfinite([width_mm, height_mm]).all()):
        raise FieldError("card", "corners and sizes must be numbers")
    if min(width_mm, height_mm) <= 0 or max(width_mm, height_mm) > 5000:
        raise FieldError("card", "width and height of the card are written in mm, both above nought")
    sides = np.roll(corners, -1, axis=0) - corners
    turns = sides[:, 0] * np.roll(sides[:, 1], -1) - sides[:, 1] * np.roll(sides[:, 0], -1)
    if np.min(np.linalg.norm(sides, axis=1)) < 8 or not (np.all(turns > 0) or np.all(turns < 0)):
        raise FieldError("card", "the corners form no card; mark them in turn, beginning at the upper left")
    card = np.array([[0, 0], [width_mm, 0], [width_mm, height_mm], [0, height_mm]], float)
    flat, similar_px = _similar(card, corners)
    around = float(np.linalg.norm(sides, axis=1).sum())
    if similar_px < 1.0:
        return Scale(flat, 2 * CLICK_PX / around * 2, np.eye(3), "card, seen straight on")
    import cv2

    to_card = cv2.getPerspectiveTransform(corners.astype(np.float32), card.astype(np.float32)).astype(float)
    return _levelled(to_card, at_px, around)


def _similar(card: Points, corners: Points) -> tuple[float, float]:
    """(px per mm, worst miss in px) of the best turn, shift and size that brings the card to its corners."""
    a, b = card - card.mean(axis=0), corners - corners.mean(axis=0)
    u, s, vt = np.linalg.svd(a.T @ b)
    size = float(s.sum() / (a**2).sum()) if np.linalg.det(u @ vt) > 0 else float((s[0] - s[1]) / (a**2).sum())
    turn = u @ np.diag([1.0, float(np.sign(np.linalg.det(u @ vt)))]) @ vt
    return size, float(np.linalg.norm(a @ turn * size - b, axis=1).max())


def _levelled(to_card: Points, at_px: tuple[float, float], around_px: float) -> Scale:
    """A homography to level px that keeps the foot in place, up pointing up there, and the size across the foot."""

    def mm(x: float, y: float) -> Points:
        p = to_card @ np.array([x, y, 1.0])
        return np.asarray(p[:2] / p[2])

    x, y = at_px
    foot = mm(x, y)
    up = mm(x, y - 4.0) - foot
    across = mm(x + 4.0, y) - mm(x - 4.0, y)
    px_mm = 8.0 / float(np.linalg.norm(across))
    turn = np.arctan2(up[0], -up[1])
    spin = np.array([[np.cos(turn), np.sin(turn)], [-np.sin(turn), np.cos(turn)]])
    move = np.eye(3)
    move[:2, :2] = px_mm * spin
    move[:2, 2] = np.array([x, y]) - px_mm * spin @ foot
    return Scale(px_mm, 4 * CLICK_PX / around_px, move @ to_card, "card with perspective")


def depth_error(off_plane_mm: float, camera_mm: float) -> float:
    """By what share lengths come out wrong when the reference stands `off_plane_mm` before (+) or behind the trunk.

    A reference nearer to the camera looks larger, so the tree is read too small: -off / camera. Pinhole camera.
    Raises FieldError when the reference would stand behind the camera.
    """
    if camera_mm <= 0 or off_plane_mm >= camera_mm:
        raise FieldError("camera", "the camera stands farther away than the reference; write its distance to the trunk")
    return -off_plane_mm / camera_mm
