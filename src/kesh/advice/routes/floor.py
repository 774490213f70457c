"""The floor of a pot as water sees it: the way to the next hole, the fall that takes it there, and the feet under it."""

import numpy as np

from kesh.advice.routes.job import Check
from kesh.geometry.holes import draining, floor_ring
from kesh.model import Pot

# custom of the craft: two in a hundred toward the holes, and no thinner than this at them [J]
FALL_SHARE, LEAST_FLOOR_SHARE = 0.02, 0.6
FAR_MM, FAR_SHARE, FLAT_MM = 40.0, 0.32, 2.0


def dead_corner_mm(pot: Pot) -> float:
    """The longest way from a spot of the floor to the next drain hole's rim: water on a flat floor stays there."""
    drains = draining(pot)
    if not drains:
        return float("inf")
    ring = np.asarray(floor_ring(pot).exterior.coords)
    away = np.min([np.hypot(ring[:, 0] - h.x_mm, ring[:, 1] - h.y_mm) - h.diameter_mm / 2 for h in drains], axis=0)
    return float(away.max())


def drains_everywhere(pot: Pot) -> bool:
    """Whether no corner is farther from a drain hole than the rule's own layout leaves it."""
    return dead_corner_mm(pot) <= FAR_MM + FAR_SHARE * max(pot.length_mm, pot.width_mm)


def fall_mm(pot: Pot) -> float:
    """How far the floor should fall from its farthest corner to the holes, mm; 0 without a drain hole.

    Two in a hundred, but never so much that less than three fifths of the floor is left at the holes.
    """
    far = dead_corner_mm(pot)
    return 0.0 if not np.isfinite(far) else float(min(FALL_SHARE * far, (1 - LEAST_FLOOR_SHARE) * pot.floor_mm))


def fall_words(pot: Pot) -> str:
    """The fall as it is told to who makes the floor."""
    fall, far = fall_mm(pot), dead_corner_mm(pot)
    if not fall:
        return "no drain hole to fall to"
    return f"{fall:.1f} mm over {far:.0f} mm, from the corners to the holes; {pot.floor_mm - fall:.1f} mm stay at the holes"


def floor_checks(pot: Pot) -> tuple[Check, ...]:
    """Whether every corner drains, and whether the holes are open below."""
    found = []
    far = dead_corner_mm(pot)
    if not np.isfinite(far):
        found.append(Check("drain_corner", "no", "There is no drain hole: water stays in the pot."))
    else:
        text = f"The corner farthest from a drain hole is {far:.0f} mm away"
        stays = ": water stays there on a flat floor; slope it or add a hole."
        near = drains_everywhere(pot)
        found.append(Check("drain_corner", "fits" if near else "watch", text + ("." if near else stays)))
    if pot.feet_mm < FLAT_MM:
        found.append(
            Check(
                "base_flat",
                "watch",
                "The base lies flat: holes alone drain nothing. Set it on feet or battens of 5 mm.",
            )
        )
    return tuple(found)
