"""Where the trunk stands in the pot by a school's custom, and how the weight then balances (docs/methods.md, "where the trunk stands")."""

from dataclasses import dataclass

import numpy as np

from kesh.geometry.outline import Floats
from kesh.reference.tables import Tradition

SIDE = {"right": 1.0, "left": -1.0, "none": 0.0}
# the balance that is wished for, to the side the tree does not lead to, as a share of half the length [J]
CLASSICAL_WISH, FREE_WISH, STILL_WISH = (0.10, 0.30), (0.0, 0.50), (-0.10, 0.10)
GRAFT_OVER_MM, TOP_ROOTS_UNDER_MM, DESERT_UNDER_MM = 15.0, 5.0, 5.0


@dataclass(frozen=True)
class Custom:
    """The school's range for the trunk, mm from the pot's middle: x to the right, y to the back."""

    x_low: float
    x_high: float
    y_low: float
    y_high: float

    def holds(self, x_mm: float, y_mm: float) -> bool:
        """Whether a place lies in it."""
        return self.x_low - 0.5 <= x_mm <= self.x_high + 0.5 and self.y_low - 0.5 <= y_mm <= self.y_high + 0.5


def custom_range(row: Tradition, flow: str, length_mm: float, width_mm: float) -> Custom:
    """The custom's range in one pot. A tree without a flow may stand to either side as far as the custom lets it."""
    low, high = (row.stand_along_low - 0.5) * length_mm, (row.stand_along_high - 0.5) * length_mm
    side = SIDE[flow]
    if side == 0:
        far = min(abs(low), abs(high))
        x = (-far, far)
    else:
        x = (min(low * side, high * side), max(low * side, high * side))
    return Custom(x[0], x[1], (row.stand_depth_low - 0.5) * width_mm, (row.stand_depth_high - 0.5) * width_mm)


def wished_balance(school: str, flow: str) -> tuple[float, float]:
    """The range of balance a school wishes, + to the right: the weight on the side away from the flow."""
    if flow == "none":
        return STILL_WISH
    low, high = CLASSICAL_WISH if school == "classical" else FREE_WISH
    side = SIDE[flow]
    return min(-low * side, -high * side), max(-low * side, -high * side)


def balance_at(x_mm: Floats | float, centroid_mm: float, length_mm: float) -> Floats:
    """(centroid of the tree's weight + trunk - pot's middle)/(half length), for one or many places of the trunk."""
    return np.asarray((np.asarray(x_mm, float) + centroid_mm) / (length_mm / 2))


@dataclass(frozen=True)
class Lever:
    """Balance as the trunk is moved along the pot: places, balance and least side room at each, the custom, the wish, the best place."""

    x_mm: Floats
    balance: Floats
    room_mm: Floats | None
    custom: Custom
    wish: tuple[float, float]
    clearance_mm: float
    best_mm: float | None

    def room_limits(self) -> tuple[float, float] | None:
        """Between which places the side room holds; None where it holds nowhere or is not known."""
        if self.room_mm is None:
            return None
        good = self.x_mm[self.room_mm >= self.clearance_mm - 0.5]
        return (float(good.min()), float(good.max())) if len(good) else None


def best_place(
    x_mm: Floats, balance: Floats, room_mm: Floats | None, custom: Custom, wish: tuple[float, float], clearance_mm: float
) -> float | None:  # fmt: skip
    """The place in the custom's range whose balance is nearest the wish and that has the side room; None where none has.

    Of places that are as near the one nearest the custom's middle is taken.
    """
    inside = (x_mm >= custom.x_low - 1e-6) & (x_mm <= custom.x_high + 1e-6)
    good = inside if room_mm is None else inside & (room_mm >= clearance_mm - 0.5)
    if not good.any():
        return None
    miss = np.maximum(np.maximum(wish[0] - balance, balance - wish[1]), 0.0)
    off = np.abs(x_mm - (custom.x_low + custom.x_high) / 2)
    at = np.lexsort((off, np.round(miss, 6), ~good))[0]
    return float(x_mm[at])


def years_of_dressing(rim_over_soil_mm: float, headspace_mm: float, mm_year: float) -> float | None:
    """(rim - soil now - headspace)/(mm a year): how long a yearly top dressing has room; None without one."""
    if mm_year <= 0:
        return None
    return max(rim_over_soil_mm - headspace_mm, 0.0) / mm_year


def stand_at_mm(row: Tradition, flow: str, length_mm: float, width_mm: float) -> tuple[float, float]:
    """(x, y) of the trunk from the pot's centre, mm, in the middle of the custom's range.

    The table counts along the length from the end the tree leads away from; a tree without a flow stands in the
    middle of the length. y grows to the back.
    """
    along = (row.stand_along_low + row.stand_along_high) / 2 - 0.5
    back = (row.stand_depth_low + row.stand_depth_high) / 2 - 0.5
    side = SIDE[flow]
    return round(along * length_mm * side, 1), round(back * width_mm, 1)
