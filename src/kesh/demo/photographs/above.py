"""Photographs of root masses from above with known truth: combed roots on a bench, a card beside them, a front marker."""

from dataclasses import dataclass

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.demo.photographs.tree import SHIFT, Shot, developed, mapped
from kesh.figure.line import Chance
from kesh.geometry.outline import Floats
from kesh.model import RootMass, Tree
from kesh.photo.classes import Image
from kesh.science.roots.fit import ball_ring
from kesh.science.roots.lines import root_line, trunk_at_soil_mm

ROOT = np.array([96.0, 138.0, 176.0])
CARD_GAP_MM = 26.0
MARKER_OUT_MM = 14.0


@dataclass(frozen=True)
class AboveSample:
    """A picture (BGR) and its marks in px. `to_px` maps the plan's mm (right of the trunk, behind it) into it."""

    image: Image
    to_px: Floats
    trunk_px: tuple[float, float]
    marker_px: tuple[float, float]
    card_px: Floats
    card_mm: tuple[float, float]


def render_above(tree: Tree, roots: RootMass, shot: Shot, *, turn_deg: float = 0.0) -> AboveSample:
    """Photograph a root mass from above, the camera turned so far about the trunk. The marker stands at its azimuth."""
    canvas = _Plan(shot, turn_deg)
    chance = Chance(shot.seed, "roots from above")
    ring = ball_ring(roots, 0.0, 360)
    ragged = ring * (1 + 0.035 * _wander(chance, len(ring)))[:, None]
    canvas.shadow(ragged * 1.03 + np.array([5.0, -6.0]))
    canvas.fill(ragged, np.array([44.0, 58.0, 72.0]))
    inside = ragged.mean(axis=0)
    for _ in range(3600):
        along = chance.uniform(0, 1) ** 0.5
        at = inside + (ragged[int(chance.uniform(0, len(ragged)))] - inside) * along * 0.97
        canvas.line(
            _root(chance, at, inside, chance.uniform(8, 34)),
            ROOT * chance.uniform(0.42, 1.12),
            0.5 + 0.9 * chance.uniform(0, 1),
        )
    trunk = trunk_at_soil_mm(tree)
    for root in tree.root_map:
        _structural(canvas, chance, root_line(root, trunk), root.diameter_mm, dead=root.kind == "dead")
    _trunk(canvas, chance, trunk)
    a = np.radians(tree.marker_deg or 0.0)
    way = np.array([-np.sin(a), -np.cos(a)])
    reach = float((ring @ way).max())
    foot = way * (reach - MARKER_OUT_MM)
    canvas.line(np.array([foot, foot + np.array([7.0, 13.0])]), np.array([40.0, 44.0, 196.0]), 5.0)
    canvas.dot(foot + np.array([7.0, 13.0]), np.array([52.0, 58.0, 224.0]), 4.6)
    wide, high = shot.card_mm
    left, low = float(ring[:, 0].max()) + CARD_GAP_MM, float(ring[:, 1].min())
    card = np.array([[left, low + high], [left + wide, low + high], [left + wide, low], [left, low]])
    canvas.shadow(card + np.array([2.0, -3.0]))
    middle = card.mean(axis=0)
    for size, tone in ((1.0, 238.0), (0.90, 60.0), (0.84, 240.0)):
        canvas.fill(middle + (card - middle) * size, np.full(3, tone))
    trunk_px, marker_px = canvas.px(np.array([[0.0, 0.0], foot]))
    return AboveSample(
        developed(canvas.image, shot), canvas.matrix, (float(trunk_px[0]), float(trunk_px[1])),
        (float(marker_px[0]), float(marker_px[1])), canvas.px(card), shot.card_mm,
    )  # fmt: skip


class _Plan:
    """A bench of boards from above, painted in the plan's mm."""

    def __init__(self, shot: Shot, turn_deg: float) -> None:
        wide, high = shot.size_px
        chance = Chance(shot.seed, "bench from above")
        a, k = np.radians(turn_deg), shot.px_mm
        turn = np.array([[np.cos(a), -np.sin(a), 0], [np.sin(a), np.cos(a), 0], [0, 0, 1.0]])
        lean = shot.keystone * 1e-3
        x0, y0 = wide * shot.foot[0], high * shot.foot[1]
        self.matrix: Floats = np.array([[k, x0 * lean, x0], [0, -k + y0 * lean, y0], [0, lean, 1.0]]) @ turn
        image = np.empty((high, wide, 3), np.float32)
        top = 0
        while top < high:
            step = int(chance.uniform(190, 260))
            image[top : top + step] = np.array([96, 112, 122]) * chance.uniform(0.8, 1.1)
            cv2.line(image, (0, top), (wide, top), (36, 42, 48), 5)
            top += step
        grain = np.asarray(chance.many(high * (wide // 8)).reshape(high, wide // 8), np.float32)
        streaks = cv2.GaussianBlur(cv2.resize(grain, (wide, high)), (0, 0), sigmaX=40, sigmaY=1.3)
        self.image: Image = np.clip(image * (0.72 + 0.56 * np.asarray(streaks)[:, :, None]), 0, 255).astype(np.uint8)

    def px(self, points_mm: Floats) -> Floats:
        return mapped(self.matrix, points_mm)

    def _fixed(self, points_mm: Floats) -> NDArray[np.int32]:
        return np.asarray(np.round(self.px(points_mm) * 2**SHIFT), np.int32)

    def fill(self, ring_mm: Floats, colour: Floats) -> None:
        cv2.fillPoly(self.image, [self._fixed(ring_mm)], np.clip(colour, 0, 255).tolist(), cv2.LINE_AA, SHIFT)

    def line(self, line_mm: Floats, colour: Floats, wide_mm: float) -> None:
        across = max(1, round(wide_mm * float(np.hypot(*self.matrix[:2, 0]))))
        tone = np.clip(colour, 0, 255).tolist()
        cv2.polylines(self.image, [self._fixed(line_mm)], False, tone, across, cv2.LINE_AA, SHIFT)

    def dot(self, at_mm: Floats, colour: Floats, radius_mm: float) -> None:
        t = np.linspace(0, 2 * np.pi, 24)
        self.fill(at_mm + radius_mm * np.column_stack([np.cos(t), np.sin(t)]), colour)

    def shadow(self, ring_mm: Floats) -> None:
        layer = self.image.copy()
        cv2.fillPoly(layer, [self._fixed(ring_mm)], (22, 26, 30), cv2.LINE_AA, SHIFT)
        soft = cv2.GaussianBlur(layer, (0, 0), 7)
        self.image = np.asarray(cv2.addWeighted(soft, 0.6, self.image, 0.4, 0), np.uint8)


def _wander(chance: Chance, count: int) -> Floats:
    """A closed wandering of unit size: several waves of other lengths."""
    t = np.linspace(0, 2 * np.pi, count, endpoint=False)
    waves = [np.sin(n * t + chance.uniform(0, 6.3)) / n**0.4 for n in (3, 5, 8, 13, 21, 34, 55, 89)]
    return np.asarray(sum(waves) / 2.2)


def _root(chance: Chance, at: Floats, middle: Floats, long_mm: float) -> Floats:
    """A fine root that runs outward and wanders."""
    way = float(np.arctan2(*(at - middle)[::-1])) + chance.uniform(-0.7, 0.7)
    steps = [at]
    for _ in range(5):
        way += chance.uniform(-0.5, 0.5)
        steps.append(steps[-1] + long_mm / 5 * np.array([np.cos(way), np.sin(way)]))
    return np.array(steps)


def _structural(canvas: _Plan, chance: Chance, line: Floats, diameter_mm: float, *, dead: bool) -> None:
    """A thick root along its line, tapering, lit from the left, a little more winding than it is drawn in a plan."""
    t = np.linspace(0, 1, len(line))
    way = np.gradient(line, axis=0)
    normal = np.column_stack([-way[:, 1], way[:, 0]]) / np.maximum(np.hypot(*way.T), 1e-9)[:, None]
    line = line + normal * (chance.uniform(-5, 5) * np.sin(np.pi * t * chance.uniform(0.8, 1.6)))[:, None]
    thick = diameter_mm * (0.25 + 0.75 * (1 - t) ** 0.9 + 0.5 * np.exp(-t * 8))
    tone = ROOT * chance.uniform(0.66, 0.86) if not dead else np.array([112.0, 122.0, 128.0])
    for shift, size, light in (((1.2, -1.6), 1.12, 0.30), ((0, 0), 1.0, 0.82), ((-0.16, 0.16), 0.52, 1.14)):
        for k in range(len(line) - 1):
            off = np.array(shift) * (1 if size > 1 else thick[k])
            canvas.line(line[k : k + 2] + off, tone * light, float(thick[k]) * size)


def _trunk(canvas: _Plan, chance: Chance, trunk_mm: float) -> None:
    """The trunk cut down to its flare, as if looked at along it."""
    t = np.linspace(0, 2 * np.pi, 120, endpoint=False)
    lobes = 1 + 0.07 * _wander(chance, 120)
    ring = np.column_stack([np.cos(t), np.sin(t)]) * lobes[:, None] * trunk_mm / 2
    for step in np.linspace(1.0, 0.0, 24):
        # a cone that narrows upward, lit from the upper left; bark lies on it in plates
        middle = np.array([-0.05, 0.06]) * trunk_mm * (1 - step)
        canvas.fill(ring * (0.30 + 0.58 * step) + middle, ROOT * (0.46 + 0.26 * (1 - step) ** 0.7))
    for _ in range(420):
        a, r = chance.uniform(0, 2 * np.pi), chance.uniform(0.12, 0.46) * trunk_mm
        out = np.array([np.cos(a), np.sin(a)])
        lit = 0.62 + 0.34 * float(out @ np.array([-0.7, 0.7]))
        canvas.line(
            np.array([out * r * 0.9, out * r]), ROOT * lit * chance.uniform(0.55, 1.25), chance.uniform(0.6, 2.2)
        )
    for size, tone in ((0.25, 0.44), (0.225, 0.7)):
        canvas.fill(ring * size + np.array([-0.05, 0.06]) * trunk_mm, ROOT * tone)
