"""Whether floor and wall bear a wet pot that is lifted. Slender checks with wide margins; judgement, not a warrant."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

G = 9.81
# brittle clay, layered prints and knotty wood are held to a small share of the test bar's strength [J]
SHARE = {"clay": 0.15, "print": 0.20, "timber": 0.15, "plain": 0.30}
LIFT_SHOCK = 1.5


@dataclass(frozen=True)
class Bearing:
    """Bending stress under load and what is allowed, MPa, and the thickness that would do, mm."""

    stress_mpa: float
    allowed_mpa: float
    needed_mm: float

    @property
    def holds(self) -> bool:
        """Whether the part is thick enough."""
        return self.stress_mpa <= self.allowed_mpa


def kind_of(material: str) -> str:
    """Which share of its strength a material's key is held to."""
    if material.startswith("print"):
        return "print"
    if material.startswith("timber"):
        return "timber"
    clay = (
        "stoneware",
        "porcelain",
        "earthenware",
        "terracotta",
        "raku",
        "concrete",
        "lightweight",
        "fibre_cement",
        "stone",
    )
    return "clay" if material.startswith(clay) else "plain"


def floor_bearing(
    load_kg: float, area_mm2: float, span_mm: float, floor_mm: float, strength_mpa: float, kind: str
) -> Bearing:
    """The floor as a strip held at both edges under an even load: sigma = 3/4 q span^2 / t^2, with a jolt on top."""
    q = LIFT_SHOCK * load_kg * G / area_mm2
    stress = 0.75 * q * span_mm**2 / floor_mm**2
    allowed = SHARE[kind] * strength_mpa
    return Bearing(stress, allowed, (0.75 * q * span_mm**2 / allowed) ** 0.5)


def rim_bearing(
    load_kg: float, grip_mm: float, wall_mm: float, depth_mm: float, strength_mpa: float, kind: str
) -> Bearing:
    """The wall gripped under the rim at two ends: half the load on a hand's width, levered by the wall's depth / 4."""
    force = LIFT_SHOCK * load_kg * G / 2
    arm = depth_mm / 4
    stress = 6 * force * arm / (grip_mm * wall_mm**2)
    allowed = SHARE[kind] * strength_mpa
    return Bearing(stress, allowed, (6 * force * arm / (grip_mm * allowed)) ** 0.5)


# wall in mm: a fixed part and one by length [J] (docs/methods.md, "floor and wall under a wet pot")
WALLS = {
    "stoneware": (4.0, 0.012), "earthenware": (5.0, 0.016), "terracotta": (5.0, 0.016), "raku": (5.0, 0.016),
    "porcelain": (3.0, 0.008), "concrete": (12.0, 0.02), "lightweight": (12.0, 0.02), "timber": (15.0, 0.01),
}  # fmt: skip
PLASTIC_WALL = (1.6, 0.003)
FLOOR_BY_WALL = 1.1
# a print carries wet soil between layers; thinner than this it gapes at the seams [J]
PRINT_WALL = (2.4, 0.006)


def usual_wall(material: str, length_mm: Floats | float) -> Floats:
    """Usual wall thickness, mm, for a material's key and the pot's length; the floor takes 1.1 of it."""
    kind = next((k for k in WALLS if material.startswith(k)), "")
    fixed, share = WALLS[kind] if kind else PRINT_WALL if material.startswith("print") else PLASTIC_WALL
    return np.asarray(fixed + share * np.asarray(length_mm, float))
