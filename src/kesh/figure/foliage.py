"""Leaf masses and the tufts on them."""

from collections.abc import Sequence
from dataclasses import dataclass, fields, replace

import numpy as np

from kesh.figure.habit import LimbPlan, Sitter
from kesh.figure.line import Chance, smooth_line, wavy
from kesh.figure.wood import Wood
from kesh.geometry.outline import Floats

RING = 48


@dataclass(frozen=True)
class Mass:
    """A pad or part of a crown: its outline (k, 2), depth z, and the limb that carries it."""

    ring: Floats
    z: float
    limb: int
    airy: bool
    size: float
    group: int = 0

    def moved(self, shift: Floats) -> "Mass":
        """Shifted by (x, y, z)."""
        return replace(self, ring=self.ring + shift[:2], z=self.z + float(shift[2]))


@dataclass(frozen=True)
class Tufts:
    """Leaf tufts as arrays (n,): place, direction, size, light 0..1, mass number and inked overhang."""

    x: Floats
    y: Floats
    z: Floats
    angle: Floats
    size: Floats
    lit: Floats
    mass: np.ndarray
    over_x: Floats
    over_y: Floats
    chance: Floats

    def moved(self, x: float, y: float, first: int) -> "Tufts":
        """Shifted in the picture; their masses are counted from `first`."""
        return replace(self, x=self.x + x, y=self.y + y, mass=self.mass + first)


def joined(parts: Sequence[Tufts]) -> Tufts:
    """Several lots of tufts as one."""
    return Tufts(*(np.concatenate([getattr(p, f.name) for p in parts]) for f in fields(Tufts)))


def limb_line(foot: Floats, plan: LimbPlan, height: float, thick: float, chance: Chance, *, rising: bool) -> Floats:
    """A limb's line (n, 3): inside the trunk at first, out and a little down or up, then level."""
    t = np.array([0.0, 0.18, 0.45, 0.75, 1.0])
    reach = plan.reach * plan.side
    lift = plan.rise * height
    bow = np.array([0, 0.30, 0.55, 0.80, 1.0]) if rising else np.array([0, 0.55, 0.55, 0.75, 1.0])
    sway = np.array([0.0, chance.uniform(-1, 1), chance.uniform(-1, 1), chance.uniform(-1, 1), 0.0]) * 0.010 * height
    hump = np.array([0, 0.012, 0.004, -0.008, 0]) * height if not rising else np.zeros(5)
    x = foot[0] + reach * t - 0.25 * thick * plan.side * (1 - t)
    y = foot[1] + lift * bow + sway + hump
    z = foot[2] + plan.depth * t
    return smooth_line(np.column_stack([x, y, z]), 26)


def _blob(x: float, y: float, long: float, high: float, flat: float, chance: Chance, rough: float) -> Floats:
    """A lobed outline with a flatter underside."""
    s = np.linspace(0, 2 * np.pi, RING, endpoint=False)
    r = 1 + wavy(RING, chance, ((3, 0.06 * rough), (5, 0.07 * rough), (8, 0.06 * rough), (13, 0.04 * rough)))
    up = np.where(np.sin(s) < 0, flat, 1.0)
    return np.column_stack([x + long * r * np.cos(s), y + high * r * np.sin(s) * up])


def pad_masses(s: Sitter, trunk: "Wood", limbs: list["Wood"], plans: list[LimbPlan]) -> list[Mass]:
    """Pads along the outer half of every limb, biggest below; the apex from three small ones."""
    masses = []
    airy = s.foliage in ("larch", "spray")
    for i, (limb, plan) in enumerate(zip(limbs, plans, strict=True)):
        chance = Chance(s.seed, "pad", i)
        spread = np.linspace(1.0, 0.38, plan.lobes)
        for j, t in enumerate(spread):
            p = limb.line[min(int(t * (len(limb.line) - 1)), len(limb.line) - 1)]
            size = (1.0 - 0.10 * (j % 2)) * chance.uniform(0.84, 1.1)
            long = plan.lobe_long * 0.76 * size
            x = p[0] - plan.side * 0.45 * long * (1 if j == 0 else 0)
            y = p[1] + plan.lobe_high * (0.28 + 0.42 * (j % 2) + chance.uniform(-0.1, 0.16))
            ring = _blob(x, y, long, 1.34 * plan.lobe_high * size * (1.0 if j % 2 == 0 else 1.15), 0.42, chance, 1.0)
            masses.append(Mass(ring, float(p[2] + chance.uniform(-6, 6)), limb.limb, airy, long))
    if not s.hanging:
        tip = trunk.line[-1]
        chance = Chance(s.seed, "apex")
        big = 0.085 * s.height
        for dx, dy, k in ((-0.55, -0.50, 0.85), (0.6, -0.42, 0.8), (0.0, 0.1, 0.95)):
            ring = _blob(tip[0] + dx * big, tip[1] + dy * big - 0.3 * big, big * k, 0.62 * big * k, 0.5, chance, 1.0)
            masses.append(Mass(ring, float(tip[2] + 4 + dy), -1, airy, big * k))
    else:
        for at in (0.25, 0.33):
            p = trunk.line[int(at * len(trunk.line))]
            chance = Chance(s.seed, "turn", int(at * 100))
            big = 0.12 * (0.55 * s.height + 0.35 * s.drop)
            ring = _blob(p[0], p[1] + 0.7 * big, big, 0.55 * big, 0.45, chance, 1.0)
            masses.append(Mass(ring, float(p[2] - 4), -1, airy, big))
    return masses


def crown_masses(s: Sitter, trunk: "Wood") -> list[Mass]:
    """One crown of many overlapping clouds inside the envelope of the measures, with holes for the sky."""
    chance = Chance(s.seed, "crown")
    low, high = s.crown_base, s.height
    tall = high - low
    half = (s.left + s.right) / 2
    base = 0.45 * half + 0.30 * tall
    count = 54 if s.style == "broom" else 46
    squash = 0.56 if s.foliage in ("palm", "oval", "narrow", "pinnate") and s.style != "broom" else 0.78
    masses: list[Mass] = []
    placed: list[tuple[float, float]] = []
    cone = s.style == "formal_upright"
    for _ in range(1400):
        if len(masses) >= count:
            break
        u, v = chance.uniform(-1, 1), chance.uniform(0, 1)
        if cone:
            waist = (1 - v) ** 0.62 * min(1.0, 0.62 + 2.6 * v)
        elif s.style == "broom":
            waist = np.sqrt(max(0.0, 1 - (1.22 * v - 0.34) ** 2 / 0.80))
        else:
            waist = np.sqrt(max(0.0, 1 - (1.18 * v - 0.26) ** 2 / 0.88))
        if abs(u) > waist:
            continue
        stem = float(np.interp(low + v * tall, trunk.line[:, 1], trunk.line[:, 0]))
        x = stem + u * 0.84 * ((s.right - stem) if u > 0 else (s.left + stem))
        y = low + (0.07 + 0.86 * v) * tall
        shell = max(abs(u) / max(waist, 0.05), 2 * v - 1)
        if chance.uniform() > 0.34 + 0.66 * shell**2:
            continue
        least = 0.15 if cone else 0.17
        if any(((x - p) / half) ** 2 + ((y - q) / tall * 1.35) ** 2 < least * least for p, q in placed):
            continue
        placed.append((x, y))
        long = base * chance.uniform(0.22, 0.34) * (1.08 - 0.30 * v)
        z = chance.uniform(-0.22, 0.26) * s.height * (1 - 0.4 * abs(u))
        masses.append(Mass(_blob(x, y, long, long * squash, 0.62, chance, 1.25), float(z), -1, False, long))
    tip = trunk.line[-1]
    for dx, dy, k in ((-0.5, -0.35, 0.9), (0.5, -0.3, 0.85), (0.0, 0.0, 0.9)):
        big = 0.24 * base * k
        masses.append(
            Mass(
                _blob(tip[0] + dx * big, tip[1] + (dy - 0.4) * big, big, big * 0.7, 0.6, chance, 1.2),
                6.0,
                -1,
                False,
                big,
            )
        )
    return masses


def crown_limbs(s: Sitter, trunk: "Wood", masses: list[Mass]) -> list[tuple[Floats, float, float]]:
    """(line, thickness, z) of limbs that rise from the trunk into the crown's clouds, lowest first."""
    chance = Chance(s.seed, "crown limbs")
    centres = sorted(((m.ring.mean(axis=0), m.z) for m in masses[:-3]), key=lambda c: float(c[0][1]))
    found = []
    heights = trunk.line[:, 1]
    fork = s.crown_base * (0.92 if s.style == "broom" else 0.80)
    for (x, y), z in centres[:: 2 if len(centres) > 30 else 1]:
        stem = float(np.interp(y, heights, trunk.line[:, 0]))
        start = max(fork, y - (0.55 if s.style == "broom" else 0.42) * abs(x - stem) - 0.06 * s.height)
        if s.style == "broom":
            start = fork + 0.30 * (start - fork)
        start = min(start, y - 0.01 * s.height, 0.93 * heights[-1])
        i = int(np.argmin(np.abs(heights - start)))
        foot = trunk.line[i]
        t = np.array([0.0, 0.3, 0.65, 1.0])
        bow = np.array([0.0, 0.40, 0.74, 1.0]) if s.style == "broom" else np.array([0.0, 0.20, 0.62, 1.0])
        sway = np.array([0, chance.uniform(-1, 1), chance.uniform(-1, 1), 0]) * 0.008 * s.height
        line = smooth_line(
            np.column_stack([foot[0] + (x - foot[0]) * t + sway, foot[1] + (y - foot[1]) * bow, z * t]), 22
        )
        reach = float(np.hypot(x - foot[0], y - foot[1]))
        thick = float(trunk.radius[i]) * (0.34 + 0.25 * min(1.0, reach / (0.5 * s.height)))
        found.append((line, thick, z))
    return found


LEAF = {
    "needle": 0.034,
    "larch": 0.022,
    "spray": 0.030,
    "small": 0.014,
    "oval": 0.020,
    "narrow": 0.024,
    "palm": 0.022,
    "fan": 0.019,
    "pinnate": 0.030,
}
DENSITY = {
    "needle": 1.5,
    "larch": 1.5,
    "spray": 1.3,
    "small": 3.2,
    "oval": 2.3,
    "narrow": 2.0,
    "palm": 2.2,
    "fan": 2.5,
    "pinnate": 1.5,
}


def scatter(s: Sitter, masses: list[Mass]) -> Tufts:
    """Tufts over all masses: mostly on the shell, lit from above left."""
    parts: list[Floats] = []
    scale = s.height if not s.hanging else 0.55 * s.height + 0.35 * s.drop
    leaf = float(
        np.clip(LEAF.get(s.foliage, 0.02) * scale, 4.0, 34.0 if s.foliage in ("needle", "spray", "pinnate") else 15.0)
    )
    for i, mass in enumerate(masses):
        chance = Chance(s.seed, "tufts", i)
        low, high = mass.ring.min(axis=0), mass.ring.max(axis=0)
        centre = (low + high) / 2
        area = np.prod(high - low) * 0.7
        count = int(np.clip(DENSITY.get(s.foliage, 2.0) * area / leaf**2, 14, 150))
        turn, out = chance.many(count, 0, 2 * np.pi), chance.many(count) ** 0.55
        # the ring holds RING directions; a tuft stands at a share of the way out to it
        edge = mass.ring[np.minimum((turn / (2 * np.pi) * RING).astype(int), RING - 1)]
        spot = centre + (edge - centre) * (out * 0.97)[:, None]
        height = (spot[:, 1] - low[1]) / max(high[1] - low[1], 1e-6)
        across = (spot[:, 0] - low[0]) / max(high[0] - low[0], 1e-6)
        lit = np.clip(0.74 * height + 0.26 * (1 - across) + chance.many(count, -0.10, 0.10), 0, 1)
        away = np.arctan2((edge - centre)[:, 1], (edge - centre)[:, 0])
        if s.foliage == "needle":
            angle = np.pi / 2 + 0.55 * np.sin(away - np.pi / 2) * -1 + chance.many(count, -0.3, 0.3)
            angle = np.where(
                spot[:, 0] > centre[0], np.pi / 2 - 0.6 * np.abs(np.cos(away)), np.pi / 2 + 0.6 * np.abs(np.cos(away))
            ) + chance.many(count, -0.25, 0.25)
        elif s.foliage in ("spray", "pinnate"):
            angle = np.where(np.cos(away) >= 0, -0.35, np.pi + 0.35) + chance.many(count, -0.5, 0.5)
        else:
            angle = chance.many(count, 0, 2 * np.pi)
        size = leaf * chance.many(count, 0.8, 1.15)
        z = mass.z + chance.many(count, -0.3, 0.3) * mass.size
        parts.append(np.column_stack([spot, z, angle, size, lit, np.full(count, float(i)), chance.many(count)]))
    table = np.vstack(parts) if parts else np.zeros((0, 8))
    reach = {"needle": 0.85, "larch": 0.55, "spray": 0.9, "pinnate": 0.9}.get(s.foliage, 0.62)
    return Tufts(
        x=table[:, 0], y=table[:, 1], z=table[:, 2], angle=table[:, 3], size=table[:, 4], lit=table[:, 5],
        mass=table[:, 6].astype(int), over_x=reach * table[:, 4], over_y=reach * table[:, 4], chance=table[:, 7],
    )  # fmt: skip
