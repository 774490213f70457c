"""How roots run from above: lines from the bark outward, in mm right of the trunk's middle and behind it."""

import numpy as np

from kesh.geometry.outline import Floats
from kesh.model import MapRoot, Tree
from kesh.science.roots.side_room import toward

# bark begins at this share of the trunk's thickness at the soil
BARK = 0.42
USUAL_TRUNK_MM = 60.0


def trunk_at_soil_mm(tree: Tree) -> float:
    """The trunk's thickness where roots begin: at the soil, else above the flare, else a usual one."""
    m = tree.measure
    return m.trunk_at_soil_mm or m.trunk_diameter_mm or USUAL_TRUNK_MM


def azimuth_of(point: Floats) -> float:
    """Degrees clockwise from the front of a point right of the trunk and behind it."""
    return float(np.degrees(np.arctan2(-point[0], -point[1])) % 360)


def root_line(root: MapRoot, trunk_mm: float) -> Floats:
    """How a root runs from above, mm right of the trunk's middle and behind it (n, 2), from the bark outward."""
    if len(root.course) > 1:
        return np.array(root.course, float)
    steps = np.linspace(BARK * trunk_mm, BARK * trunk_mm + root.reach_mm, 24)
    if root.kind == "circling":
        # along the trunk, at a little more than its radius
        r = 0.72 * trunk_mm
        angles = root.azimuth_deg + np.degrees(np.maximum(steps - steps[0], 0) / r)
        return np.asarray(toward(angles) * np.minimum(steps, r + 0.06 * (steps - steps[0]))[:, None])
    return np.asarray(toward(root.azimuth_deg) * steps[:, None])


def turned_line(line: Floats, turn_deg: float) -> Floats:
    """A line of the tree as it lies in the pot."""
    a = np.radians(turn_deg)
    return np.asarray(line @ np.array([[np.cos(a), np.sin(a)], [-np.sin(a), np.cos(a)]]))


def along_mm(line: Floats) -> Floats:
    """How far along a line each of its points lies (n,)."""
    return np.append(0.0, np.cumsum(np.hypot(*np.diff(line, axis=0).T)))


def until_mm(line: Floats, at_mm: float) -> Floats:
    """The part of a line up to a place along it."""
    far = along_mm(line)
    at = np.array([np.interp(at_mm, far, line[:, k]) for k in (0, 1)])
    return np.vstack([line[far < at_mm], at])
