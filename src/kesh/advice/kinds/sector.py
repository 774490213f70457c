"""A sector of the root mass from above: what is told apart, or left alone."""

import numpy as np

from kesh.advice.kinds.plan import Setting
from kesh.figure.overlay import Area, Note, Shape, Stroke, wedge
from kesh.geometry.outline import Floats, outline_points
from kesh.model import RootMass
from kesh.science.special.shared import sector_width_deg


def roots_ring(roots: RootMass) -> Floats:
    """The root mass from above about the trunk, (k, 2)."""
    return np.asarray(
        outline_points(roots.outline, roots.length_mm, roots.width_mm)
        + np.array([roots.offset_x_mm, roots.offset_y_mm])
    )


def sector_above(s: Setting, from_deg: float, to_deg: float, name: str, reach_share: float) -> tuple[Shape, ...]:
    """The root mass from above with a sector in it and its name."""
    roots = s.a.case.roots
    x, y = s.planting.offset_x_mm, s.planting.offset_y_mm
    reach = 0.5 * (max(roots.length_mm, roots.width_mm) if roots is not None else 0.8 * s.a.pot.length_mm)
    shapes: list[Shape] = []
    if roots is not None:
        ring = roots_ring(roots)
        shapes.append(Area(tuple((float(a) + x, float(b) + y) for a, b in ring), "root", "behind"))
    shapes.append(Area(wedge(x, y, from_deg, to_deg, reach), "sector"))
    if reach_share < 1:
        shapes.append(Stroke(wedge(x, y, from_deg, to_deg, reach * (1 - reach_share))[1:], "cut", dashed=True))
    middle = np.radians((from_deg + sector_width_deg(from_deg, to_deg) / 2) % 360)
    shapes.append(
        Note((x - 0.66 * reach * float(np.sin(middle)), y - 0.66 * reach * float(np.cos(middle))), name, align="center")
    )
    return tuple(shapes)
