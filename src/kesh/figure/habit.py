"""How each style stands: the line of the trunk, and where limbs leave it. Shares of the tree's height."""

from dataclasses import dataclass

import numpy as np

from kesh.figure.line import Chance
from kesh.geometry.outline import Floats
from kesh.model.tree import Measure, Tree
from kesh.reference.tables import Species

TRUNK_STATION = 0.10


@dataclass(frozen=True)
class Sitter:
    """The measures a drawing rests on, mm; `assumed` names those filled in by the style."""

    style: str
    flow: int
    height: float
    trunk: float
    base: float
    left: float
    right: float
    crown_base: float
    apex: float
    drop: float
    foliage: str
    bark: str
    seed: int
    assumed: tuple[str, ...]
    # how the trunk meets the soil: fluted as of swamp trees, swollen as of those that store water, else a plain flare
    foot: str = ""
    # the trees of a group: (x, how far behind the foremost, rise of the ground, sitter), mm, the farthest first
    stems: tuple[tuple[float, float, float, "Sitter"], ...] = ()

    @property
    def hanging(self) -> bool:
        """Whether the tip hangs below the soil line."""
        return self.style in ("cascade", "semi_cascade")

    @property
    def pads(self) -> bool:
        """Whether the leaves lie in separate pads rather than in one crown."""
        return self.foliage in ("needle", "larch", "spray", "small") and self.style != "broom"


STYLE_APEX = {"slanting": 0.24, "windswept": 0.36, "literati": 0.12, "informal_upright": 0.03}


# no tree in a pot is smaller or taller; a slip of the unit is
LEAST_MM, MOST_MM, FAR = 10.0, 20_000.0, 8.0
# how wide the foot is beside the trunk where nobody has measured it [J]
USUAL_FLARE = {"": 1.5, "fluted": 2.1, "swollen": 1.7}


def alone(tree: Tree, species: Species | None) -> Sitter | None:
    """Measures with the style's defaults in place of missing ones; None when not even the height is known, or when it is none.

    Trees of a group are not looked at.

    What is far out of all proportion is drawn as far as a drawing goes; the figures are not touched.
    """
    m: Measure = tree.measure
    h = m.height_mm
    if h is None or not LEAST_MM <= h <= MOST_MM:
        return None
    assumed = []

    def given(value: float | None, name: str, default: float) -> float:
        if value is None:
            assumed.append(name)
            return default
        return value

    style = tree.style
    foot = species.foot if species else ""
    hanging = style in ("cascade", "semi_cascade")
    flow = {"left": -1, "right": 1, "none": 1}[tree.flow]
    trunk = given(
        m.trunk_diameter_mm or m.trunk_at_soil_mm or m.trunk_mid_mm,
        "trunk_diameter_mm",
        h / (18 if style == "literati" else 6),
    )
    scale = h if not hanging else max(h, 0.6 * (m.drop_mm or h))
    crown_low = {"literati": 0.62, "broom": 0.33, "windswept": 0.35}.get(style, 0.30)
    near, far = (0.28, 0.52) if style in ("windswept", "slanting") or hanging else (0.38, 0.38)
    left = given(m.canopy_left_mm, "canopy_left_mm", scale * (near if flow > 0 else far))
    right = given(m.canopy_right_mm, "canopy_right_mm", scale * (far if flow > 0 else near))
    drop = 0.0
    if hanging:
        drop = given(m.drop_mm, "drop_mm", h * (1.2 if style == "cascade" else 0.25))
    return Sitter(
        style=style,
        flow=flow,
        height=h,
        trunk=min(max(trunk, 0.004 * h), 0.5 * h),
        base=min(
            max(
                given(m.flare_width_mm, "flare_width_mm", USUAL_FLARE[foot] * trunk),
                1.02 * min(max(trunk, 0.004 * h), 0.5 * h),
            ),
            3 * h,
        ),
        left=min(max(left, 0.02 * h), FAR * h),
        right=min(max(right, 0.02 * h), FAR * h),
        crown_base=float(np.clip(given(m.crown_base_mm, "crown_base_mm", crown_low * h), 0.05 * h, 0.85 * h)),
        apex=float(
            np.clip(given(m.apex_offset_mm, "apex_offset_mm", STYLE_APEX.get(style, 0.0) * h * flow), -1.2 * h, 1.2 * h)
        ),
        drop=min(drop, FAR * h),
        foliage=(species.foliage if species and species.foliage else "oval"),
        bark=(species.bark if species and species.bark else "smooth"),
        seed=tree.seed,
        assumed=tuple(assumed),
        foot=foot,
    )


def trunk_controls(s: Sitter, chance: Chance) -> Floats:
    """Control points (k, 3) of the trunk's centre line, mm, from the soil to the tip."""
    h, f = s.height, s.flow

    def jitter() -> float:
        return chance.uniform(-0.012, 0.012)

    if s.style in ("formal_upright", "broom", "clump"):
        y = np.linspace(0, 1, 6)
        x = np.array([0, *(chance.uniform(-0.006, 0.006) for _ in range(4)), 0.0])
        return np.column_stack([x * h, y * h, np.zeros(6)])
    if s.style == "cascade":
        reach = (s.right if f > 0 else s.left) / h
        down = s.drop / h
        pts = [
            (0, 0),
            (-0.16, 0.24),
            (0.02, 0.50),
            (0.10, 0.66),
            (0.34, 0.62),
            (0.52 * reach, 0.26),
            (0.64 * reach, -0.10 * down),
        ]
        for i, (a, b) in enumerate([(0.50, 0.34), (0.74, 0.55), (0.60, 0.76), (0.74, 0.97)]):
            pts.append((a * reach + jitter(), -b * down + 0.02 * (i % 2)))
        table = np.array(pts)
        return np.column_stack([f * table[:, 0] * h, table[:, 1] * h, np.linspace(0, 0.25, len(pts)) * h])
    if s.style == "semi_cascade":
        reach = (s.right if f > 0 else s.left) / h
        down = s.drop / h
        table = np.array(
            [
                (0, 0),
                (-0.05, 0.28),
                (0.12, 0.52),
                (0.38, 0.48),
                (0.58 * reach, 0.22),
                (0.74 * reach, 0.06),
                (0.92 * reach, -0.9 * down),
            ]
        )
        return np.column_stack([f * table[:, 0] * h, table[:, 1] * h, np.linspace(0, 0.15, len(table)) * h])
    lean = s.apex / h
    if s.style == "slanting":
        table = np.array(
            [(0, 0), (0.30 * lean + 0.02 * f, 0.20), (0.72 * lean + 0.03 * f, 0.45), (0.86 * lean, 0.72), (lean, 1.0)]
        )
    elif s.style == "windswept":
        table = np.array([(0, 0), (0.20 * lean, 0.22), (0.46 * lean, 0.48), (0.66 * lean, 0.70), (lean, 1.0)])
    elif s.style == "literati":
        table = np.array(
            [
                (0, 0),
                (-0.05 * f, 0.18),
                (0.07 * f, 0.38),
                (-0.01 * f + 0.4 * lean, 0.58),
                (0.09 * f + 0.7 * lean, 0.74),
                (lean, 1.0),
            ]
        )
    else:
        swing = (0.090 + chance.uniform(0, 0.02)) * (1 - 1.3 * s.trunk / h)
        table = np.array(
            [
                (0, 0), (swing * 0.75 * f, 0.15), (-swing * 0.15 * f, 0.36), (-swing * 0.42 * f + 0.3 * lean, 0.52),
                (swing * 0.22 * f + 0.6 * lean, 0.70), (-swing * 0.05 * f + 0.85 * lean, 0.86), (lean, 1.0),
            ]
        )  # fmt: skip
    if s.foot:
        # a heavy foot stands upright on the soil before the trunk begins to move
        straight = table * (0.5, 1.0) + (0.5 * lean, 0.0) * table[:, 1:] ** 2
        table = np.vstack([straight[:1], [(0.15 * straight[1, 0], 0.07)], straight[1:]])
    table[1:-1, 0] += np.array([jitter() for _ in range(len(table) - 2)])
    depth = 0.35 * (table[:, 0] - np.interp(table[:, 1], [0, 1], [0, lean]))
    return np.column_stack([table * h, depth * h])


@dataclass(frozen=True)
class LimbPlan:
    """Where a limb leaves the trunk (share s of its arc), its side, reach in mm, rise, depth and number of lobes."""

    at: float
    side: int
    reach: float
    rise: float
    depth: float
    lobes: int
    lobe_long: float
    lobe_high: float


def limb_plans(s: Sitter, trunk: Floats, chance: Chance) -> list[LimbPlan]:
    """Limbs from the crown base up: side, side, back, with shrinking gaps; the lowest reach to the measures."""
    h = s.height
    if s.hanging:
        return _hanging_plans(s, trunk, chance)
    flat = {"needle": 0.052, "larch": 0.040, "spray": 0.050, "small": 0.058}.get(s.foliage, 0.075)
    count = {"literati": 6, "windswept": 9}.get(s.style, 13 if s.pads else 12)
    low = s.crown_base / h
    start = low + (0.045 if s.pads else 0.10)
    plans = []
    gap, y, sequence = 1.0, 0.0, []
    for _ in range(count):
        sequence.append(y)
        y += gap
        gap *= 0.90
    heights = start + np.array(sequence) / max(sequence[-1], 1e-9) * (0.93 - start)
    first = -s.flow if s.style in ("informal_upright",) else s.flow
    pattern = [first, -first, 0, first, -first, first, 0, -first, first, -first, 0, first, -first]
    for i, y in enumerate(heights):
        u = float(np.clip((y - low) / (1 - low), 0, 1))
        side = pattern[i % len(pattern)]
        if s.style == "windswept":
            side = s.flow
        if u > 0.9:
            side = s.flow if i % 2 else -s.flow
        envelope = (1 - u) ** 0.78 if s.pads else float(np.sqrt(max(0.04, 1 - (1.15 * u - 0.18) ** 2)))
        stem = float(np.interp(y * h, trunk[:, 1], trunk[:, 0]))
        room = (s.right - stem) if side >= 0 else (s.left + stem)
        reach = max(room, 0.10 * (s.left + s.right)) * envelope * (1.0 if i < 2 else chance.uniform(0.74, 1.0))
        if side == 0:
            reach = 0.34 * (s.left + s.right) * envelope * chance.uniform(-1, 1) * 0.5
        at = (
            float(np.interp(y * h, trunk[:, 1], np.linspace(0, 1, len(trunk))))
            if np.all(np.diff(trunk[:, 1]) > 0)
            else float(y)
        )
        size = 0.45 + 0.55 * envelope
        long = (0.17 if s.pads else 0.15) * size * chance.uniform(0.88, 1.12)
        plans.append(
            LimbPlan(
                at=min(at, 0.97),
                side=side if side else (1 if reach >= 0 else -1),
                reach=abs(reach),
                rise={"needle": 0.02, "larch": -0.02, "spray": -0.03}.get(s.foliage, 0.07)
                + 0.05 * u
                + chance.uniform(-0.01, 0.01),
                depth=(-0.22 if side == 0 else chance.uniform(-0.06, 0.10)) * h,
                lobes=3 if s.style == "literati" or u > 0.75 else 4,
                lobe_long=long * h,
                lobe_high=flat * (0.72 + 0.35 * envelope) * h * chance.uniform(0.9, 1.12),
            )
        )
    return plans


def _hanging_plans(s: Sitter, trunk: Floats, chance: Chance) -> list[LimbPlan]:
    scale = 0.55 * s.height + 0.35 * s.drop
    spots = [0.15, 0.20, 0.25, 0.30, 0.35, 0.42, 0.50, 0.57, 0.64, 0.71, 0.78, 0.84, 0.90, 0.95, 0.985]
    if s.style == "semi_cascade":
        spots = [0.20, 0.27, 0.34, 0.41, 0.48, 0.56, 0.64, 0.72, 0.80, 0.87, 0.93, 0.98]
    plans = []
    for i, at in enumerate(spots):
        crown = at < 0.40
        side = (-s.flow if i % 2 == 0 else s.flow) if crown else (s.flow if i % 2 else -s.flow)
        reach = scale * ((0.34 if i < 3 else 0.26) if crown else 0.24 - 0.14 * (at - 0.4)) * chance.uniform(0.8, 1.1)
        rise = (0.16 + 0.05 * i if crown else chance.uniform(-0.03, 0.05)) * scale / s.height
        size = 0.30 if crown else 0.27 - 0.12 * (at - 0.4)
        high = 0.080 if s.foliage in ("pinnate", "oval", "palm") else 0.066
        plans.append(
            LimbPlan(
                at,
                side,
                reach,
                rise,
                chance.uniform(-0.12, 0.16) * scale,
                3,
                size * scale,
                high * scale * chance.uniform(0.9, 1.15),
            )
        )
    return plans
