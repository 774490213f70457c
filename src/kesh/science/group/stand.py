"""How a group stands and grows: root room, grading by thickness and height, growth until roots meet, survivors, clump and pair."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise
from typing import Literal

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.outline import Floats
from kesh.science.group.hill import Mound, rise_mm
from kesh.science.group.layout import ROOT_DISC_LEAST_MM, ROOT_DISC_PER_TRUNK, Trunks
from kesh.science.group.sight import hidden_pairs
from kesh.science.group.tray import Tray
from kesh.science.season.growth import GROWN_FACTOR, KEPT_SHARE, TRUNK_RATE, logistic

# starting points of judgement
DISC_SHARE = 0.55
HEIGHT_FALL = 0.25
GRADE = (0.75, 0.95)
ODD_BELOW = 11
PLUG_OVER_MESH_MM = 20.0
PAIR_HEIGHT = (0.60, 0.85)
PAIR_THICK = (0.45, 0.85)
PAIR_APART = (0.5, 2.0)
LOOK_AHEAD_YEARS = 30


def root_room_l(
    x: Floats, y: Floats, disc_mm: Floats, tray: Tray, depth_mm: float, mounds: Sequence[Mound] = ()
) -> Floats:
    """Soil that lies nearest to each tree, litres (n,): every spot of the tray goes to the tree whose root disc is nearest."""
    x0, x1, _, _ = tray.box
    gx, gy, _ = tray.grid((x1 - x0) / 250)
    away = np.sqrt((gx[:, None] - x) ** 2 + (gy[:, None] - y) ** 2) - disc_mm
    owner = away.argmin(axis=1)
    soil = depth_mm + rise_mm(mounds, gx, gy)
    return np.asarray(np.bincount(owner, weights=soil, minlength=len(x)) * tray.area_mm2 / max(len(gx), 1) / 1e6)


def advised_count(disc_mm: Floats, tray: Tray) -> int:
    """How many trees of this size the tray bears: its area x 0.55 by the mean root disc; odd below eleven by custom."""
    many = int(DISC_SHARE * tray.area_mm2 / float(np.mean(np.pi * disc_mm**2)))
    return many - 1 if many < ODD_BELOW and many % 2 == 0 and many > 0 else many


def disc_share(disc_mm: Floats, tray: Tray) -> float:
    """Area of all root discs by the tray's."""
    return float(np.sum(np.pi * disc_mm**2) / tray.area_mm2)


def expected_heights_mm(trunks: Trunks, y: Floats, tray: Tray) -> Floats:
    """What the depth picture asks of each height: h_main (1 - 0.25 (y - y_front) / depth), y_front the foremost tree, depth the tray's inside."""
    _, _, y0, y1 = tray.box
    return np.asarray(trunks.height_mm[trunks.main] * (1 - HEIGHT_FALL * (y - y.min()) / (y1 - y0)))


def grading(diameter_mm: Floats) -> list[tuple[int, float]]:
    """(row, its thickness by the next thicker one) from the second thickest on; between 0.75 and 0.95 reads as graded."""
    order = np.argsort(-diameter_mm, kind="stable")
    return [(int(b), float(diameter_mm[b] / diameter_mm[a])) for a, b in pairwise(order)]


def trunk_in(diameter_mm: Floats, stage: str, years: float) -> Floats:
    """Thickness after some years, cut back as the stage is, (n,)."""
    kept, factor = KEPT_SHARE[stage], GROWN_FACTOR[stage]
    return np.array([float(d) + kept * (logistic(float(d), factor, TRUNK_RATE, years) - float(d)) for d in diameter_mm])


def discs_of(diameter_mm: Floats) -> Floats:
    """Root disc radii of thicknesses, mm."""
    return np.asarray(np.maximum(ROOT_DISC_LEAST_MM, ROOT_DISC_PER_TRUNK * diameter_mm))


def meet_in_years(x: Floats, y: Floats, diameter_mm: Floats, stage: str) -> tuple[float | None, tuple[int, int] | None]:
    """(years until the first two root discs meet, which two); (None, None) when none do within thirty years."""
    pairs = list(combinations(range(len(x)), 2))
    apart = np.array([np.hypot(x[a] - x[b], y[a] - y[b]) for a, b in pairs])

    def lack(years: float) -> Floats:
        r = discs_of(trunk_in(diameter_mm, stage, years))
        return np.asarray(np.array([r[a] + r[b] for a, b in pairs]) - apart)

    if np.any(lack(0.0) >= 0):
        return 0.0, pairs[int(lack(0.0).argmax())]
    if not np.any(lack(LOOK_AHEAD_YEARS) >= 0):
        return None, None
    low, high = 0.0, float(LOOK_AHEAD_YEARS)
    for _ in range(40):
        middle = (low + high) / 2
        low, high = (low, middle) if np.any(lack(middle) >= 0) else (middle, high)
    return high, pairs[int(lack(high).argmax())]


def future_main(diameter_mm: Floats, room_l: Floats, stage: str, years: float) -> int:
    """Which tree is thickest after some years when each grows with its root room: rate x (V / mean V)^0.516, half to twice."""
    pace = np.clip((room_l / max(float(room_l.mean()), 1e-9)) ** 0.516, 0.5, 2.0)
    then = [float(trunk_in(diameter_mm[k : k + 1], stage, years * float(pace[k]))[0]) for k in range(len(diameter_mm))]
    return int(np.argmax(then))


def plug_room_mm(soil_mm: float, rise_mm_: float, plug_mm: float) -> float:
    """Mix between a plug's foot and the mesh, mm; 20 are asked, else roots grow into the mesh."""
    return soil_mm + rise_mm_ - plug_mm


def clump_trunk_mm(diameter_mm: Floats, rule: Literal["dominant", "all"]) -> float:
    """A clump measured as one trunk: the thickest, or the root of the sum of squares. Raises FieldError without a trunk."""
    if not len(diameter_mm):
        raise FieldError("group", "no trunk has a thickness")
    return float(np.max(diameter_mm)) if rule == "dominant" else float(np.sqrt(np.sum(diameter_mm**2)))


@dataclass(frozen=True)
class Pair:
    """Two trunks: the smaller by the larger in height and thickness, the gap between them, and what hides from front and back."""

    height_ratio: float | None
    thick_ratio: float
    apart_mm: float
    gap_mm: float
    apart_share: float
    smaller_behind: bool
    hidden_front: bool
    hidden_back: bool


def pair(x: Floats, y: Floats, diameter_mm: Floats, height_mm: Floats) -> Pair:
    """How two trunks stand to each other. Raises FieldError for any other number of trunks."""
    if len(x) != 2:
        raise FieldError("group", f"{len(x)} trunks; a pair is two")
    big = 0 if (diameter_mm[0], height_mm[0]) >= (diameter_mm[1], height_mm[1]) else 1
    small = 1 - big
    known = not np.isnan(height_mm).any()
    apart = float(np.hypot(x[0] - x[1], y[0] - y[1]))
    return Pair(
        float(height_mm[small] / height_mm[big]) if known else None, float(diameter_mm[small] / diameter_mm[big]),
        apart, apart - float(diameter_mm.sum()) / 2, apart / float(diameter_mm[big]), bool(y[small] > y[big]),
        bool(hidden_pairs(x, y, diameter_mm, 0.0)), bool(hidden_pairs(x, y, diameter_mm, 180.0)),
    )  # fmt: skip


def survivors(alive: Sequence[bool]) -> tuple[int, int]:
    """(living, set): n of N."""
    return sum(alive), len(alive)


@dataclass(frozen=True)
class Chance:
    """Expected survivors of `count` with a band from what was counted so far (Jeffreys): low, middle, high share."""

    low: float
    middle: float
    high: float


def survival_chance(living: int, of: int) -> Chance:
    """The share that lives by what was counted: nine in ten of the Jeffreys band. Raises FieldError for counts that are none."""
    if not 0 <= living <= of:
        raise FieldError("alive", f"{living} of {of} is no count of survivors")
    a, b = living + 0.5, of - living + 0.5
    from scipy.special import betaincinv

    low, mid, high = (float(betaincinv(a, b, q)) for q in (0.05, 0.5, 0.95))
    return Chance(low, mid, high)
