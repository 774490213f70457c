"""One thing a designed pot must obey, with its value, its limit, and where it is at ease."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesh.geometry.outline import Floats


@dataclass(frozen=True, eq=False)
class Limit:
    """One hard limit over N candidates: `most` when the value must not pass it, else it must reach it.

    `ease` is where the rules are at ease; `grows` marks those that count as horticulture in the trade-off.
    """

    code: str
    words: str
    unit: str
    value: Floats
    limit: Floats | float
    ease: Floats | float
    most: bool
    grows: bool

    @property
    def over(self) -> Floats:
        """By how much it is broken, in its unit, (N,); 0 where it is obeyed."""
        gap = self.value - self.limit if self.most else self.limit - self.value
        return np.where(np.isnan(gap), 0.0, np.maximum(gap, 0.0))

    @property
    def obeyed(self) -> NDArray[np.bool_]:
        """Where it is obeyed, (N,)."""
        return np.asarray(self.over <= 1e-6)

    @property
    def margin(self) -> Floats:
        """Share by which the value lies on the good side of its ease, -1..1, (N,)."""
        ease = np.maximum(np.asarray(self.ease, float), 1e-9)
        share = 1 - self.value / ease if self.most else self.value / ease - 1
        return np.where(np.isnan(share), 0.0, np.clip(share, -1, 1))


@dataclass(frozen=True)
class Sizes:
    """Outer lengths and inner depths, mm, round which pots are searched; empty where the kind asks for none."""

    lengths: tuple[float, ...] = ()
    depths: tuple[float, ...] = ()


# a wall before there is a pot: what is added to an inside to search round an outside, mm
WALL_MM = 9.0
