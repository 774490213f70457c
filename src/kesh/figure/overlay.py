"""What a special planting adds to a drawing, as plain shapes in mm: areas, strokes, sizes and words; x right, y up (or back in a plan)."""

from dataclasses import dataclass, field
from typing import Literal

import numpy as np

# what an area or a stroke is made of; the painter knows how each looks
Stuff = Literal[
    "rock",
    "moss",
    "mud",
    "soil",
    "mulch",
    "tube",
    "mesh",
    "wire",
    "wood",
    "root",
    "ghost",
    "sector",
    "air",
    "weight",
    "figure",
    "plant",
    "cut",
    "paste",
    "water",
]
Layer = Literal["behind", "before"]
Point = tuple[float, float]


@dataclass(frozen=True)
class Area:
    """A closed ring of points; `behind` the tree and pot or before them."""

    points: tuple[Point, ...]
    stuff: Stuff
    layer: Layer = "before"


@dataclass(frozen=True)
class Stroke:
    """An open line; `width_mm` as thick as it is, 0 as a hair line; dashed where it is not there yet."""

    points: tuple[Point, ...]
    stuff: Stuff
    width_mm: float = 0.0
    dashed: bool = False
    layer: Layer = "before"


@dataclass(frozen=True)
class Size:
    """A dimension from a to b with its figure, level or upright, `away` px beside what it measures (+ up or right)."""

    a: Point
    b: Point
    text: str
    away_px: float = 16.0
    level: bool = True
    status: str = "fits"


@dataclass(frozen=True)
class Note:
    """Words at a place, with a letter flag where they belong to a finding."""

    at: Point
    text: str
    status: str = ""
    align: Literal["left", "center", "right"] = "left"
    flag: str = ""
    to: Point | None = None


Shape = Area | Stroke | Size | Note


@dataclass(frozen=True)
class Overlay:
    """All that is laid over one view."""

    shapes: tuple[Shape, ...] = ()
    # what must be in sight besides tree and pot: left, bottom, right, top, mm
    box: tuple[float, float, float, float] | None = field(default=None)

    def bounds(self) -> tuple[float, float, float, float] | None:
        """The box of all areas and strokes, or the one that was given."""
        if self.box is not None:
            return self.box
        points = [p for s in self.shapes if isinstance(s, Area | Stroke) for p in s.points]
        if not points:
            return None
        xs, ys = [p[0] for p in points], [p[1] for p in points]
        return min(xs), min(ys), max(xs), max(ys)


def oval(x: float, y: float, a: float, b: float, count: int = 48) -> tuple[Point, ...]:
    """An ellipse as a ring."""
    s = np.linspace(0, 2 * np.pi, count, endpoint=False)
    return tuple((float(x + a * np.cos(v)), float(y + b * np.sin(v))) for v in s)


def box(x0: float, y0: float, x1: float, y1: float) -> tuple[Point, ...]:
    """A rectangle as a ring."""
    return (x0, y0), (x1, y0), (x1, y1), (x0, y1)


def wedge(x: float, y: float, from_deg: float, to_deg: float, reach: float) -> tuple[Point, ...]:
    """A sector of a plan between two azimuths, clockwise from the front."""
    wide = (to_deg - from_deg) % 360 or 360.0
    angles = np.radians(from_deg + np.linspace(0, wide, max(int(wide / 4), 2) + 1))
    arc = tuple((float(x - reach * np.sin(v)), float(y - reach * np.cos(v))) for v in angles)
    return ((x, y), *arc)
