"""Photographs of invented trees with known truth: grown figures before a wall or a garden, lens, light and noise."""

from dataclasses import dataclass
from typing import Literal

import cv2
import numpy as np
from numpy.typing import NDArray

from kesh.figure.foliage import Tufts
from kesh.figure.line import Chance
from kesh.figure.pot_figure import pot_figure
from kesh.figure.tree_figure import TreeFigure, figure_of
from kesh.figure.wood import Wood
from kesh.geometry.outline import Floats
from kesh.model import Pot, Tree
from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Image
from kesh.reference.tables import USUAL_BARK, USUAL_LEAF, Species

SHIFT = 4  # fractional bits of the drawn coordinates


@dataclass(frozen=True)
class Shot:
    """How the picture is taken: size in px, px per mm at the trunk, what stands behind, light, lens and noise."""

    size_px: tuple[int, int] = (1500, 1800)
    px_mm: float = 2.0
    ground: Literal["wall", "dark_wall", "hedge", "boards", "shelf"] = "wall"
    seed: int = 1
    card_mm: tuple[float, float] = (148.0, 105.0)
    card_turn_deg: float = 4.0
    keystone: float = 0.0
    light: float = 1.0
    warmth: float = 0.0
    vignette: float = 0.12
    blur_px: float = 0.8
    noise: float = 3.5
    foot: tuple[float, float] = (0.5, 0.80)


@dataclass(frozen=True)
class Sample:
    """A picture (BGR), its true classes (0, 128 foliage, 255 wood), and marks in px. `to_px` maps trunk mm (y up)."""

    image: Image
    mask: Image
    to_px: Floats
    card_px: Floats
    card_mm: tuple[float, float]
    soil_px: tuple[float, float]
    apex_px: tuple[float, float]
    pot_px: tuple[tuple[float, float], tuple[float, float]]

    def px(self, points_mm: Floats) -> Floats:
        """Points (n, 2) of the trunk's plane in px."""
        return mapped(self.to_px, points_mm)


def mapped(matrix: Floats, points: Floats) -> Floats:
    """Points (n, 2) through a homography (3, 3)."""
    p = np.column_stack([points, np.ones(len(points))]) @ matrix.T
    return np.asarray(p[:, :2] / p[:, 2:])


def render(tree: Tree, species: Species | None, pot: Pot, shot: Shot, *, raise_mm: float = -4.0) -> Sample:
    """Photograph a tree in a pot. Raises ValueError for a tree that cannot be drawn from its measures."""
    figure = figure_of(tree, species)
    if figure is None:
        raise ValueError("height, trunk or reach are missing")
    wide, high = shot.size_px
    matrix = _camera(shot)
    canvas = _Canvas(_backdrop(shot), matrix)
    low = -(pot.height_mm + raise_mm)
    canvas.bench(low, shot)
    colours = _Colours.of(species)
    chance = Chance(shot.seed, "photograph")
    _contact(canvas, pot, low)
    hanging = figure.sitter.hanging
    if not hanging:
        _paint_tree(canvas, figure, colours, chance)
    canvas.pot(pot, low)
    if hanging:
        _paint_tree(canvas, figure, colours, chance)
    side = 1.0 if hanging and figure.bounds[0] < -0.6 * pot.length_mm else -1.0
    card = _card(canvas, shot, pot, low, side)
    image, mask = canvas.image, canvas.mask
    image = developed(image, shot)
    top = _top_of(mask, shot)
    half = pot.length_mm / 2
    ends = mapped(matrix, np.array([[-half, low + pot.height_mm - 2], [half, low + pot.height_mm - 2]]))
    soil = mapped(matrix, np.array([[0.0, 0.0]]))[0]
    if mask.shape != (high, wide):
        raise ValueError("the picture has lost its size")
    return Sample(
        image, mask, matrix, card, shot.card_mm, (float(soil[0]), float(soil[1])), top,
        ((float(ends[0, 0]), float(ends[0, 1])), (float(ends[1, 0]), float(ends[1, 1]))),
    )  # fmt: skip


def _camera(shot: Shot) -> Floats:
    """Trunk mm (y up) to px; keystone tilts the camera so that the picture narrows upward."""
    k = shot.px_mm
    x0, y0 = shot.size_px[0] * shot.foot[0], shot.size_px[1] * shot.foot[1]
    return np.array([[k, x0 * shot.keystone * 1e-3, x0], [0, -k + y0 * shot.keystone * 1e-3, y0],
                     [0, shot.keystone * 1e-3, 1.0]])  # fmt: skip


def _backdrop(shot: Shot) -> NDArray[np.float32]:
    wide, high = shot.size_px
    chance = Chance(shot.seed, "backdrop")
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    if shot.ground in ("wall", "dark_wall"):
        base = np.array([196, 202, 206] if shot.ground == "wall" else [62, 58, 60], np.float32)
        fall = 1 + 0.10 * (0.5 - x / wide) + 0.07 * (0.4 - y / high)
        return np.asarray(base * fall[:, :, None], np.float32)
    image = np.empty((high, wide, 3), np.float32)
    if shot.ground == "hedge":
        image[:] = (58, 74, 66)
        for _ in range(2600):
            a, b = chance.uniform(0, wide), chance.uniform(0, high)
            tone = chance.uniform(0.45, 1.5)
            colour = tuple(float(c) * tone for c in (62, 92, 78))
            cv2.ellipse(image, (int(a), int(b)), (int(chance.uniform(8, 34)), int(chance.uniform(5, 18))),
                        chance.uniform(0, 180), 0, 360, colour, -1, cv2.LINE_AA)  # fmt: skip
        return np.asarray(cv2.GaussianBlur(image, (0, 0), 9), np.float32)
    if shot.ground == "boards":
        left = 0
        while left < wide:
            step = int(chance.uniform(70, 150))
            tone = chance.uniform(0.75, 1.15)
            image[:, left : left + step] = np.array([104, 128, 150]) * tone
            cv2.line(image, (left, 0), (left, high), (40, 48, 56), 4)
            left += step
        grain = np.asarray(chance.many(high * (wide // 8)).reshape(high, wide // 8), np.float32)
        streaks = cv2.GaussianBlur(cv2.resize(grain, (wide, high)), (0, 0), sigmaX=1.5, sigmaY=30)
        return np.asarray(image * (0.8 + 0.4 * np.asarray(streaks)[:, :, None]), np.float32)
    image[:] = (150, 158, 160)
    for _ in range(46):
        a, b = int(chance.uniform(0, wide)), int(chance.uniform(0, high))
        size = (int(chance.uniform(40, 240)), int(chance.uniform(30, 190)))
        colour = tuple(float(chance.uniform(40, 220)) for _ in range(3))
        cv2.rectangle(image, (a, b), (a + size[0], b + size[1]), colour, -1)
    return np.asarray(cv2.GaussianBlur(image, (0, 0), 5), np.float32)


class _Canvas:
    """Picture and true classes, painted together in trunk mm."""

    def __init__(self, image: NDArray[np.float32], matrix: Floats) -> None:
        self.image = np.clip(image, 0, 255).astype(np.uint8)
        self.mask: Image = np.zeros(image.shape[:2], np.uint8)
        self.matrix = matrix

    def _fixed(self, points_mm: Floats) -> NDArray[np.int32]:
        return np.asarray(np.round(mapped(self.matrix, points_mm) * 2**SHIFT), np.int32)

    def fill(self, ring_mm: Floats, colour: Floats, kind: int | None) -> None:
        """Fill a ring; `kind` None leaves the classes alone."""
        self.fill_each(ring_mm[None], colour[None], kind)

    def fill_each(self, rings_mm: Floats, colours: Floats, kind: int | None) -> None:
        """Fill rings (n, points, 2), each in its colour (n, 3), one after another."""
        points = self._fixed(rings_mm.reshape(-1, 2)).reshape(rings_mm.shape)
        for ring, tone in zip(points, np.clip(colours, 0, 255).tolist(), strict=True):
            cv2.fillPoly(self.image, [ring], tone, cv2.LINE_AA, SHIFT)
            if kind is not None:
                cv2.fillPoly(self.mask, [ring], kind, cv2.LINE_8, SHIFT)

    def bench(self, low_mm: float, shot: Shot) -> None:
        """A table from the pot's foot forward."""
        y = int(mapped(self.matrix, np.array([[0.0, low_mm + 14]]))[0, 1])
        tone = np.array([92, 116, 140]) * (0.75 if shot.ground == "dark_wall" else 1.0)
        rows = np.linspace(1.0, 0.8, max(self.image.shape[0] - y, 1))[:, None, None]
        chance = Chance(shot.seed, "bench")
        streak = 1 + 0.06 * (chance.many(max(self.image.shape[0] - y, 1)) - 0.5)[:, None, None]
        self.image[y:] = np.clip(tone * rows * streak, 0, 255)
        self.mask[y:] = 0

    def pot(self, pot: Pot, low_mm: float) -> None:
        """The pot before the trunk's foot, shaded as if lit from the left, soil and moss at its rim."""
        figure = pot_figure(pot)
        clay = np.array([int(pot.colour[i : i + 2], 16) for i in (5, 3, 1)], float)
        for ring in figure.feet:
            self.fill(ring + np.array([0, low_mm]), clay * 0.5, BACKGROUND)
        ring = figure.elevation + np.array([0.0, low_mm])
        self.fill(ring, clay, BACKGROUND)
        points = self._fixed(ring)
        inside = np.zeros(self.mask.shape, np.uint8)
        cv2.fillPoly(inside, [points], 255, cv2.LINE_AA, SHIFT)
        left, right = points[:, 0].min() / 2**SHIFT, points[:, 0].max() / 2**SHIFT
        x = np.clip((np.arange(self.mask.shape[1]) - left) / max(right - left, 1), 0, 1)
        light = 1.22 - 0.62 * x**1.5 - 0.25 * np.exp(-x * 14)
        # only where the pot is: most of the picture stays as it is
        x0, y0, wide, high = cv2.boundingRect(inside)
        part = (slice(y0, y0 + high), slice(x0, x0 + wide))
        before, share = self.image[part].copy(), (inside[part] / 255.0)[:, :, None]
        lit = before * (1 - share) + before * light[None, part[1], None] * share
        self.image[part] = np.clip(lit, 0, 255).astype(np.uint8)


@dataclass(frozen=True)
class _Colours:
    bark: Floats
    leaf: Floats

    @classmethod
    def of(cls, species: Species | None) -> "_Colours":
        bark = (species.bark_colour_hex if species else None) or USUAL_BARK
        leaf = (species.leaf_colour_hex if species else None) or USUAL_LEAF
        bgr = [np.array([int(text[i : i + 2], 16) for i in (5, 3, 1)], float) for text in (bark, leaf)]
        return cls(bgr[0], bgr[1])


def _contact(canvas: _Canvas, pot: Pot, low_mm: float) -> None:
    """A soft shadow on the table."""
    t = np.linspace(0, 2 * np.pi, 60)
    half = pot.length_mm / 2
    ring = np.column_stack([0.12 * half + 1.15 * half * np.cos(t), low_mm - 4 + 13 * np.sin(t)])
    layer = canvas.image.copy()
    cv2.fillPoly(layer, [canvas._fixed(ring)], (40, 46, 52), cv2.LINE_AA, SHIFT)
    canvas.image = np.asarray(
        cv2.addWeighted(cv2.GaussianBlur(layer, (0, 0), 5), 0.55, canvas.image, 0.45, 0), np.uint8
    )


def _paint_tree(canvas: _Canvas, figure: TreeFigure, colours: _Colours, chance: Chance) -> None:
    """Back to front: limbs, masses with their leaves, trunk last of what lies in its depth."""
    tufts = figure.tufts
    order: list[tuple[float, Wood | int]] = [(w.depth, w) for w in figure.wood]
    order += [(m.z, i) for i, m in enumerate(figure.masses)]
    for _, part in sorted(order, key=lambda d: d[0]):
        if isinstance(part, Wood):
            _paint_wood(canvas, part, colours.bark, chance)
            continue
        mass = figure.masses[part]
        middle = mass.ring.mean(axis=0)
        canvas.fill(middle + (mass.ring - middle) * 0.88, colours.leaf * 0.42, FOLIAGE)
        _paint_leaves(canvas, tufts, np.flatnonzero(tufts.mass == part), colours.leaf, chance)


def _paint_leaves(canvas: _Canvas, tufts: Tufts, which: NDArray[np.intp], colour: Floats, chance: Chance) -> None:
    """Two leaves for every tuft, one after another as they lie."""
    tuft = np.repeat(which, 2)
    # seven numbers a leaf: turn, long, broad, across, up, tone, cast
    roll = chance.many(7 * len(tuft)).reshape(-1, 7)
    size, angle = tufts.size[tuft], tufts.angle[tuft] + (1.8 * roll[:, 0] - 0.9)
    long, broad = size * (0.45 + 0.30 * roll[:, 1]), size * (0.22 + 0.18 * roll[:, 2])
    at = np.column_stack([tufts.x[tuft], tufts.y[tuft]]) + size[:, None] * (0.6 * roll[:, 3:5] - 0.3)
    tone = (0.55 + 0.75 * tufts.lit[tuft]) * (0.85 + 0.30 * roll[:, 5])
    t = np.linspace(0, 2 * np.pi, 9)[:-1]
    along, across = long[:, None] * np.cos(t), broad[:, None] * np.sin(t)
    turn = angle[:, None]
    rings = at[:, None, :] + np.stack(
        [along * np.cos(turn) - across * np.sin(turn), along * np.sin(turn) + across * np.cos(turn)], axis=-1
    )
    canvas.fill_each(rings, colour * tone[:, None] + (12 * roll[:, 6:] - 6), FOLIAGE)


def _paint_wood(canvas: _Canvas, wood: Wood, bark: Floats, chance: Chance) -> None:
    ring = wood.ring
    if wood.kind == "root":
        ring = np.column_stack([ring[:, 0], np.maximum(ring[:, 1], -1.5)])
    canvas.fill(ring, bark * 0.86, WOOD)
    line, radius = wood.line, wood.radius
    normal = np.column_stack([-np.gradient(line[:, 1]), np.gradient(line[:, 0])])
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-9)[:, None]
    for side, tone in ((0.55, 0.62), (-0.1, 0.98), (-0.55, 1.18)):
        # lit from the left: strips along the wood, the right one darkest
        flip = np.where(normal[:, :1] > 0, 1.0, -1.0)
        middle = line[:, :2] + normal * flip * (side * radius)[:, None]
        band = np.vstack([middle + normal * 0.33 * radius[:, None], (middle - normal * 0.33 * radius[:, None])[::-1]])
        band[:, 1] = np.maximum(band[:, 1], -1.5) if wood.kind != "limb" else band[:, 1]
        canvas.fill(band, bark * tone, WOOD)
    for k in range(2, len(line) - 2, 3):
        if radius[k] > 4:
            across = chance.uniform(-0.8, 0.8) * radius[k]
            at = line[k, :2] + normal[k] * across
            crack = np.array([[0, 0], [1.1, 3.4], [0.5, 7], [-0.8, 3.0]]) * min(1.0, radius[k] / 18)
            if at[1] > 1:
                canvas.fill(at + crack, bark * chance.uniform(0.5, 0.8), WOOD)


def _card(canvas: _Canvas, shot: Shot, pot: Pot, low_mm: float, side: float) -> Floats:
    """A white card with a dark frame, standing beside the pot in the trunk's plane; its corners in px."""
    wide, high = shot.card_mm
    turn = np.radians(shot.card_turn_deg)
    spin = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]])
    # upper left first, then round with the clock
    corners = np.array([[0, high], [wide, high], [wide, 0], [0, 0]], float) @ spin.T
    left = pot.length_mm / 2 + 30 if side > 0 else -(pot.length_mm / 2 + wide + 30)
    place = corners + np.array([left, low_mm + 3 - corners[:, 1].min()])
    canvas.fill(place, np.array([236.0, 238.0, 240.0]), BACKGROUND)
    middle = place.mean(axis=0)
    for scale, tone in ((0.90, 60.0), (0.84, 238.0)):
        canvas.fill(middle + (place - middle) * scale, np.full(3, tone), BACKGROUND)
    return mapped(canvas.matrix, place)


def developed(image: Image, shot: Shot) -> Image:
    """Light, colour cast, vignette, softness and noise."""
    high, wide = image.shape[:2]
    y, x = np.mgrid[0:high, 0:wide].astype(np.float32)
    away = ((x / wide - 0.5) ** 2 + (y / high - 0.5) ** 2) * 2
    out = np.asarray(image, np.float32) * shot.light * (1 - shot.vignette * away)[:, :, None]
    out *= np.array([1 - 0.12 * shot.warmth, 1.0, 1 + 0.12 * shot.warmth], np.float32)
    if shot.blur_px > 0:
        out = np.asarray(cv2.GaussianBlur(out, (0, 0), shot.blur_px), np.float32)
    spread = np.random.default_rng(shot.seed).normal(0, shot.noise, out.shape)
    return np.asarray(np.clip(out + spread, 0, 255), np.uint8)


def _top_of(mask: Image, shot: Shot) -> tuple[float, float]:
    """The highest point of the tree, px."""
    rows = np.flatnonzero((mask > 0).any(axis=1))
    y = int(rows[0])
    return float(np.flatnonzero(mask[y] > 0).mean()), float(y)
