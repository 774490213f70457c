"""A second, plainer way to make a picture of a tree with known truth: circles and strips in px, nothing from Kesh."""

from dataclasses import dataclass

import numpy as np
from PIL import Image, ImageDraw, ImageFilter


@dataclass(frozen=True)
class Picture:
    """RGB rows, true classes, and truth in px: foot, top, left, right, trunk width at heights above the foot."""

    rgb: np.ndarray
    mask: np.ndarray
    foot: tuple[float, float]
    top: float
    left: float
    right: float
    lean_px: float
    base_px: float
    tip_px: float
    stem_px: float

    def trunk_px(self, height_px: float) -> float:
        """Width across the trunk at a height."""
        share = height_px / self.stem_px
        across = np.cos(np.arctan2(self.lean_px, self.stem_px))
        return float((self.base_px + (self.tip_px - self.base_px) * share) * across)


def picture(seed: int, *, busy: bool = False, size: tuple[int, int] = (900, 1100), autumn: bool = False) -> Picture:
    """A leaning tapered trunk with a round crown of leaf discs, in a pot on a table."""
    chance = np.random.default_rng(seed)
    wide, high = size
    foot = (wide * 0.5 + chance.uniform(-30, 30), high * 0.78)
    stem, base, tip = high * 0.34, chance.uniform(48, 80), chance.uniform(24, 34)
    lean = chance.uniform(-60, 60)
    ground = _ground(chance, size, busy)
    draw, classes = ImageDraw.Draw(ground), Image.new("L", size, 0)
    mark = ImageDraw.Draw(classes)
    table = int(high * 0.86)
    draw.rectangle([0, table, wide, high], fill=(120, 96, 70))
    pot = [foot[0] - 150, foot[1], foot[0] + 150, table + 12]
    bark = (104, 84, 66)
    for k in range(int(stem) + 60):
        share = k / stem
        half = (base + (tip - base) * min(share, 1.15)) / 2
        x, y = foot[0] + lean * share, foot[1] - k
        shade = [int(c * (0.9 + 0.1 * np.sin(k / 9))) for c in bark]
        draw.line([x - half, y, x + half, y], fill=tuple(shade))
        draw.line([x + 0.3 * half, y, x + half, y], fill=tuple(int(c * 0.7) for c in shade))
        mark.line([x - half, y, x + half, y], fill=255)
    middle = np.array([foot[0] + lean, foot[1] - stem - 110])
    leaf = np.array([196, 92, 42]) if autumn else np.array([70, 128, 52])
    for _ in range(1500):
        turn, far = chance.uniform(0, 2 * np.pi), np.sqrt(chance.uniform(0, 1))
        x, y = middle + np.array([220 * far * np.cos(turn), 150 * far * np.sin(turn)])
        r = chance.uniform(6, 13)
        tone = tuple(int(c) for c in np.clip(leaf * chance.uniform(0.6, 1.25), 0, 255))
        draw.ellipse([x - r, y - r * 0.7, x + r, y + r * 0.7], fill=tone)
        mark.ellipse([x - r, y - r * 0.7, x + r, y + r * 0.7], fill=128)
    draw.rectangle(pot, fill=(88, 70, 96))
    mark.rectangle([0, foot[1], wide, high], fill=0)
    rgb = np.asarray(ground.filter(ImageFilter.GaussianBlur(0.8)), float) + chance.normal(0, 3, (high, wide, 3))
    mask = np.asarray(classes)
    ys, xs = np.nonzero(mask)
    return Picture(
        np.clip(rgb, 0, 255).astype(np.uint8), mask, foot, float(ys.min()), float(xs.min()), float(xs.max() + 1), lean,
        base, tip, stem,
    )  # fmt: skip


def _ground(chance: np.random.Generator, size: tuple[int, int], busy: bool) -> Image.Image:
    wide, high = size
    if not busy:
        rows = np.linspace(1.04, 0.94, high)[:, None, None]
        return Image.fromarray(
            np.clip(np.array([222.0, 214, 200]) * rows * np.ones((high, wide, 1)), 0, 255).astype(np.uint8)
        )
    made = Image.new("RGB", size, (132, 126, 120))
    draw = ImageDraw.Draw(made)
    for y in range(0, high, 46):
        for x in range(-80 + (y // 46 % 2) * 55, wide, 110):
            tone = chance.uniform(0.8, 1.15)
            draw.rectangle([x, y, x + 104, y + 40], fill=tuple(int(c * tone) for c in (168, 150, 138)))
    return made.filter(ImageFilter.GaussianBlur(2.5))
