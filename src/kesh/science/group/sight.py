"""What hides what: sight lines over the tray from the front and from 30 degrees on either side (docs/methods.md, "groups")."""

from dataclasses import dataclass
from itertools import combinations

import numpy as np

from kesh.geometry.outline import Floats

FROM_DEG = (0.0, -30.0, 30.0)
HIDDEN_SHARE = 0.5


@dataclass(frozen=True)
class Hidden:
    """Two trunks of which the nearer hides more than half of the other's thickness, seen from `from_deg` (+ to the viewer's right)."""

    near: int
    far: int
    from_deg: float
    overlap_mm: float


def seen_from(x: Floats, y: Floats, from_deg: float) -> tuple[Floats, Floats]:
    """(across the picture to the right, away from the viewer), mm, for a viewer who stands `from_deg` round to the right of the front."""
    a = np.radians(from_deg)
    return np.asarray(x * np.cos(a) + y * np.sin(a)), np.asarray(-x * np.sin(a) + y * np.cos(a))


def hidden_pairs(x: Floats, y: Floats, diameter_mm: Floats, from_deg: float = 0.0) -> tuple[Hidden, ...]:
    """Pairs of which the nearer trunk hides more than half the thickness of the farther one."""
    across, away = seen_from(x, y, from_deg)
    found = []
    for a, b in combinations(range(len(x)), 2):
        near, far = (a, b) if away[a] <= away[b] else (b, a)
        low = max(across[a] - diameter_mm[a] / 2, across[b] - diameter_mm[b] / 2)
        high = min(across[a] + diameter_mm[a] / 2, across[b] + diameter_mm[b] / 2)
        if high - low > HIDDEN_SHARE * diameter_mm[far]:
            found.append(Hidden(near, far, from_deg, float(high - low)))
    return tuple(found)


def free_turns(x: Floats, y: Floats, diameter_mm: Floats, from_deg: float, most_deg: float = 15.0) -> float | None:
    """The smallest turn (deg), of the tray with the clock as seen from above, after which no pair hides another; None when none within reach does."""
    for step in np.arange(0.0, most_deg + 0.5, 1.0):
        for sign in (1.0, -1.0):
            if not hidden_pairs(x, y, diameter_mm, from_deg + sign * step):
                return float(sign * step)
    return None
