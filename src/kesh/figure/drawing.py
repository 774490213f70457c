"""A drawing in mm that any paper can take: lines, circles, words and dimensions on named layers; y up."""

from collections.abc import Iterable
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
# layer: what it holds
LAYERS = (
    "outline",
    "inside",
    "section",
    "hidden",
    "holes",
    "tie_holes",
    "centre",
    "dimensions",
    "text",
    "cut",
    "marks",
)


@dataclass(frozen=True, eq=False)
class Line:
    """A run of straight pieces (n, 2); a closed one may be hatched as cut material."""

    points: Floats
    layer: str = "outline"
    closed: bool = False
    hatched: bool = False


@dataclass(frozen=True)
class Circle:
    """A circle."""

    x: float
    y: float
    radius: float
    layer: str = "holes"


@dataclass(frozen=True)
class Words:
    """One line of text, `size` the height of its capitals in mm on the drawing."""

    text: str
    x: float
    y: float
    size: float = 3.0
    align: str = "left"
    layer: str = "text"


@dataclass(frozen=True)
class Dim:
    """A dimension from a to b, level or upright; the line stands `away` mm off (+ up or right). `value_mm` is what it says."""

    ax: float
    ay: float
    bx: float
    by: float
    away: float
    level: bool = True
    prefix: str = ""
    suffix: str = ""
    size: float = 3.0
    # an upright one with its figure written level beside it, on the outer side, where it is longer than what it measures;
    # `lift_mm` raises that figure over what it measures, clear of a hatched floor
    beside: bool = False
    lift_mm: float = 0.0

    @property
    def value_mm(self) -> float:
        """The measured length."""
        return abs(self.bx - self.ax) if self.level else abs(self.by - self.ay)

    @property
    def outward(self) -> int:
        """1 where it stands right of or above what it measures, else -1."""
        return -1 if self.away < 0 else 1

    @property
    def tick(self) -> float:
        """Half of the oblique stroke at each end, across and up."""
        return 0.4 * self.size

    @property
    def ends(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where the dimension line begins and ends."""
        if self.level:
            y = (max if self.away > 0 else min)(self.ay, self.by) + self.away
            return (self.ax, y), (self.bx, y)
        x = (max if self.away > 0 else min)(self.ax, self.bx) + self.away
        return (x, self.ay), (x, self.by)

    def box(self) -> tuple[float, float, float, float]:
        """(left, bottom, right, top) of all of it: extension lines, strokes at the ends, the figure over its middle."""
        (x0, y0), (x1, y1) = self.ends
        half, high = 0.31 * self.size * len(self.text), self.tick + 1.3 * self.size
        xs, ys = [self.ax, self.bx, x0, x1], [self.ay, self.by, y0, y1]
        mx, my = (x0 + x1) / 2, (y0 + y1) / 2
        figure = (mx - half, my, mx + half, my + high) if self.level else (mx - high, my - half, mx, my + half)
        if self.beside and not self.level:
            out, low = (self.tick + 2 * half) * self.outward, my + self.lift_mm
            figure = (min(mx, mx + out), low - self.size, max(mx, mx + out), low + self.size)
        t = self.tick
        return (
            min(*xs, x0 - t, x1 - t, figure[0]), min(*ys, y0 - t, y1 - t, figure[1]),
            max(*xs, x0 + t, x1 + t, figure[2]), max(*ys, y0 + t, y1 + t, figure[3]),
        )  # fmt: skip

    @property
    def text(self) -> str:
        """As it is written."""
        return f"{self.prefix}{self.value_mm:.1f}".removesuffix(".0") + self.suffix


Item = Line | Circle | Words | Dim


@dataclass(frozen=True, eq=False)
class Drawing:
    """A titled sheet of items in mm."""

    title: str
    items: tuple[Item, ...]
    notes: tuple[str, ...] = field(default=())

    def drawn(self) -> tuple[float, float, float, float]:
        """(left, bottom, right, top) of lines and circles alone; a square of 100 where there are none."""
        xs, ys = [], []
        for item in self.items:
            if isinstance(item, Line):
                xs += [float(item.points[:, 0].min()), float(item.points[:, 0].max())]
                ys += [float(item.points[:, 1].min()), float(item.points[:, 1].max())]
            elif isinstance(item, Circle):
                xs += [item.x - item.radius, item.x + item.radius]
                ys += [item.y - item.radius, item.y + item.radius]
        return (min(xs), min(ys), max(xs), max(ys)) if xs else (0.0, 0.0, 100.0, 100.0)

    def bounds(self) -> tuple[float, float, float, float]:
        """(left, bottom, right, top) with room for dimensions and words."""
        x0, y0, x1, y1 = self.drawn()
        xs, ys = [x0, x1], [y0, y1]
        for item in self.items:
            if isinstance(item, Words):
                wide = 0.62 * item.size * len(item.text)
                left = item.x - (wide if item.align == "right" else wide / 2 if item.align == "center" else 0)
                xs += [left, left + wide]
                ys += [item.y - 0.4 * item.size, item.y + 1.2 * item.size]
            elif isinstance(item, Dim):
                left, low, right, top = item.box()
                xs += [left, right]
                ys += [low, top]
        return min(xs), min(ys), max(xs), max(ys)

    def scaled(self, factor: float) -> "Drawing":
        """All lengths by a factor, as for wet clay; words keep their size, dimensions say the new figure."""
        return replace(self, items=tuple(_scaled(i, factor) for i in self.items))


def _scaled(item: Item, k: float) -> Item:
    if isinstance(item, Line):
        return replace(item, points=item.points * k)
    if isinstance(item, Circle):
        return replace(item, x=item.x * k, y=item.y * k, radius=item.radius * k)
    if isinstance(item, Words):
        return replace(item, x=item.x * k, y=item.y * k)
    return replace(item, ax=item.ax * k, ay=item.ay * k, bx=item.bx * k, by=item.by * k)


def lettered(length_mm: float) -> float:
    """By how much words and dimension lines of a drawing so long are enlarged, so that they read on an A4 sheet."""
    return max(1.0, length_mm / 190.0)


def moved(items: Iterable[Item], dx: float, dy: float) -> tuple[Item, ...]:
    """Items elsewhere."""
    made: list[Item] = []
    for item in items:
        if isinstance(item, Line):
            made.append(replace(item, points=item.points + np.array([dx, dy])))
        elif isinstance(item, Dim):
            made.append(replace(item, ax=item.ax + dx, ay=item.ay + dy, bx=item.bx + dx, by=item.by + dy))
        else:
            made.append(replace(item, x=item.x + dx, y=item.y + dy))
    return tuple(made)
