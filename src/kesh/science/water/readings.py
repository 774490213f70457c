"""What readings say of how fast a pot dries: its own factor, with what was thought before (docs/methods.md, "readings").

The log of the factor is normal: 0 with 0.35 before any reading, each reading a figure with 0.30; joined by precision.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError

PRIOR_SD, READING_SD = 0.35, 0.30
# share of the store that a word of the stick stands for [J]
STICK_SHARE = {"dry": 0.10, "hardly": 0.35, "moist": 0.70, "wet": 1.00}
# nothing can be told of the speed from a pot that has used almost nothing, or that ran empty
LEAST_USED, MOST_USED = 0.04, 0.97
Z80 = 1.2816


@dataclass(frozen=True)
class PotFactor:
    """Multiplies the use of water: middle, the band of eight in ten, and from how many readings."""

    factor: float
    low: float
    high: float
    count: int

    @property
    def words(self) -> str:
        """In a sentence."""
        if not self.count:
            return "No reading yet: use as computed, from two thirds to one and a half times that."
        side = "faster" if self.factor >= 1 else "slower"
        ratio = self.factor if self.factor >= 1 else 1 / self.factor
        many = "reading" if self.count == 1 else "readings"
        if ratio < 1.05:
            return f"This pot dries as computed; {self.count} {many}, 8 of 10 from {self.low:.1f} to {self.high:.1f}."
        return f"This pot dries {ratio:.1f} × {side} than computed; {self.count} {many}, 8 of 10 from {self.low:.1f} to {self.high:.1f}."


def observed(share_left: float, used_l: float, available_l: float) -> float | None:
    """The factor that one reading speaks for; None where it says nothing of the speed.

    share_left: of the available store, as read; used_l: what should have been used since the pot was full.
    Raises FieldError for a share outside 0..1 or a store of nothing.
    """
    if not 0 <= share_left <= 1:
        raise FieldError("value", f"{share_left:g} is outside 0..1")
    if available_l <= 0:
        raise FieldError("available_l", "the pot holds no water for the tree")
    used = 1 - share_left
    if used_l <= LEAST_USED * available_l or not LEAST_USED <= used <= MOST_USED:
        return None
    return used * available_l / used_l


def pot_factor(factors: Sequence[float]) -> PotFactor:
    """The pot's own factor from what each reading speaks for. Raises FieldError for one that is not above nought."""
    logs = np.array(factors, float)
    if np.any(logs <= 0):
        raise FieldError("value", "a factor must be above nought")
    precision = 1 / PRIOR_SD**2 + len(logs) / READING_SD**2
    middle = float(np.log(logs).sum() / READING_SD**2 / precision) if len(logs) else 0.0
    spread = Z80 / np.sqrt(precision)
    return PotFactor(float(np.exp(middle)), float(np.exp(middle - spread)), float(np.exp(middle + spread)), len(logs))
