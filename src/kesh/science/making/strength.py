"""Whether floor and wall bear a wet pot that is lifted. Slender checks with wide margins; judgement, not a warrant."""

from dataclasses import dataclass

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
