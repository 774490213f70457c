"""A tie wire along its way: each piece of it between two bends, and what it is cut to (docs/methods.md, "screens, clips and ties")."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
import shapely

from kesh.geometry.outline import Floats

# slack of the way, and what each end needs to be twisted [J]
SLACK, TWIST_MM, STEP_MM = 1.05, 60.0, 10.0
Spot = tuple[float, float]
Hold = tuple[float, float, float]


@dataclass(frozen=True)
class Piece:
    """One piece between two bends: twisted end, up or down, over the roots, or under the floor."""

    kind: str
    mm: float


@dataclass(frozen=True)
class WireWay:
    """The pieces of one wire from end to end, and its cut length in full steps of 10 mm."""

    pieces: tuple[Piece, ...]
    cut_mm: float


def _leg_mm(hole: Spot, spot: Hold, hole_z_mm: float, base: shapely.Polygon | None) -> float:
    """Out of a hole that lies under the roots it runs along the floor until below where it takes hold, then up."""
    away, rise = float(np.hypot(hole[0] - spot[0], hole[1] - spot[1])), abs(spot[2] - hole_z_mm)
    covered = base is not None and bool(shapely.contains_xy(base, *hole))
    return away + rise if covered else float(np.hypot(away, rise))


def wire_way(
    holes: Sequence[Spot], over: Sequence[Hold], floor_mm: float, base_mm: Floats | None = None, hole_z_mm: float = 0.0
) -> WireWay:
    """The way of a wire: up out of its first hole, over every place it lies on, down the last, and back under the floor.

    Its ends meet over the roots, halfway along. A wire with one hole goes up and comes back through it. All in mm, z over the inner floor; `base_mm` is the outline of the roots, `hole_z_mm` how high the holes lie (a rim's).
    """
    base = shapely.Polygon(base_mm) if base_mm is not None and len(base_mm) > 2 else None
    up = _leg_mm(holes[0], over[0], hole_z_mm, base)
    above = float(np.linalg.norm(np.diff(np.array(over, float), axis=0), axis=1).sum())
    down = _leg_mm(holes[-1], over[-1], hole_z_mm, base)
    under = float(np.hypot(holes[0][0] - holes[-1][0], holes[0][1] - holes[-1][1]))
    raw = under + 2 * floor_mm + up + above + down
    cut = _cut(raw)
    # slack and rounding lie in the ends, where they are wanted
    end = (cut - raw) / 2
    rows = [
        ("end", end), ("over", above / 2), ("leg", up), ("floor", floor_mm), ("under", under), ("floor", floor_mm),
        ("leg", down), ("over", above / 2), ("end", end),
    ]  # fmt: skip
    return WireWay(tuple(Piece(kind, mm) for kind, mm in rows if mm > 0), cut)


def _cut(raw_mm: float) -> float:
    return float(np.ceil((raw_mm * SLACK + 2 * TWIST_MM) / STEP_MM - 1e-9) * STEP_MM)
