"""Wood as a figure: trunk, limbs and twigs, each a line with its thickness."""

from dataclasses import dataclass

import numpy as np

from kesh.figure.line import strip
from kesh.geometry.outline import Floats


@dataclass(frozen=True)
class Wood:
    """A piece of wood: a line (n, 3) with radii (n,). kind is trunk, limb, twig or root."""

    kind: str
    line: Floats
    radius: Floats
    limb: int = -1
    group: int = 0

    @property
    def ring(self) -> Floats:
        """The closed outline; a foot in the soil is cut level."""
        ring = strip(self.line, self.radius)
        if self.kind in ("trunk", "root"):
            foot = len(self.line) // 6
            low = np.r_[0:foot, len(ring) - foot : len(ring)] if self.kind == "trunk" else slice(None)
            ring[low, 1] = np.maximum(ring[low, 1], -1.5)
        return ring

    @property
    def depth(self) -> float:
        """Mean z, + toward the viewer."""
        return float(self.line[:, 2].mean())
