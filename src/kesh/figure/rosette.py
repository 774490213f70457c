"""Heads of long leaves: yuccas, dragon trees and ponytails (straps), cycads and palms (fronds). No twigs, a bare stem below."""

from dataclasses import replace

import numpy as np

from kesh.figure.foliage import RING, Mass, Tufts
from kesh.figure.habit import Sitter
from kesh.figure.line import Chance, smooth_line
from kesh.figure.wood import Wood
from kesh.geometry.outline import Floats

ROSETTES = frozenset({"strap", "frond"})
# a crown wider than this share of the height carries more than one head
MANY_HEADS = 0.75
LEAVES = {"strap": 52, "frond": 22}


def rosettes(s: Sitter, trunk: Wood) -> tuple[list[Wood], Wood, list[Mass]]:
    """(short arms, the stem up to its head, heads): one head as wide as the crown, or three on a wide strap-leaved tree."""
    half, tall = (s.left + s.right) / 2, max(s.height - s.crown_base, 0.25 * s.height)
    many = s.foliage == "strap" and 2 * half > MANY_HEADS * s.height and s.height > 1.2 * half
    share = 0.60 if many else 1.0
    wide, high = share * half, min(0.66 * tall, share * half)
    chance = Chance(s.seed, "heads")
    stem = _cut(trunk, s.height - high)
    tip = stem.line[-1]
    middle = np.array([tip[0] if many else tip[0] / 2 + (s.right - s.left) / 4, tip[1]])
    masses = [Mass(_head(middle, wide, high, chance), float(tip[2]), -1, True, wide)]
    arms: list[Wood] = []
    if many:
        at = int(0.66 * (len(stem.line) - 1))
        start, thick = stem.line[at], float(stem.radius[at])
        for n, side in enumerate((-1.0, 1.0)):
            reach = (s.left if side < 0 else s.right) - wide
            end = np.array([side * max(reach, 0.35 * half), start[1] + 0.62 * (tip[1] - start[1]), 6.0 * side])
            bow = (start + end) / 2 + np.array([0.10 * side * half, -0.03 * s.height, 0.0])
            line = smooth_line(np.vstack([start, bow, end]), 20)
            arms.append(Wood("limb", line, np.linspace(0.62, 0.46, len(line)) * thick, n))
            masses.append(Mass(_head(end[:2], 0.9 * wide, 0.9 * high, chance), float(end[2]), n, True, 0.9 * wide))
    return arms, stem, masses


def _cut(trunk: Wood, top_mm: float) -> Wood:
    """The stem up to where its head begins."""
    rows = np.flatnonzero(trunk.line[:, 1] <= top_mm)
    last = max(int(rows[-1]) if len(rows) else 0, 2)
    return replace(trunk, line=trunk.line[: last + 1], radius=trunk.radius[: last + 1])


def _head(centre: Floats, wide: float, high: float, chance: Chance) -> Floats:
    """The outline of a head: round above, flatter below where old leaves hang."""
    turn = np.linspace(0, 2 * np.pi, RING, endpoint=False)
    flat = np.where(np.sin(turn) < 0, 0.80, 1.0)
    r = 1 + chance.many(RING, -0.03, 0.0)
    return np.column_stack([centre[0] + wide * r * np.cos(turn), centre[1] + high * r * np.sin(turn) * flat])


def leaves(s: Sitter, masses: list[Mass]) -> Tufts:
    """Long leaves from the middle of every head: young ones stand, old ones hang."""
    parts = []
    for i, mass in enumerate(masses):
        chance, count = Chance(s.seed, "straps", i), LEAVES[s.foliage]
        middle = mass.ring.mean(axis=0)
        wide, high = np.ptp(mass.ring, axis=0) / 2
        angle = np.linspace(-0.28 * np.pi, 1.28 * np.pi, count) + chance.many(count, -0.06, 0.06)
        size = np.hypot(wide * np.cos(angle), high * np.sin(angle)) * chance.many(count, 0.84, 1.0)
        lit = np.clip(0.42 + 0.42 * np.sin(angle) - 0.14 * np.cos(angle) + chance.many(count, -0.08, 0.08), 0, 1)
        z = mass.z + chance.many(count, -0.4, 0.4) * mass.size
        parts.append(np.column_stack([np.tile(middle, (count, 1)), z, angle, size, lit, np.full(count, float(i)), chance.many(count)]))  # fmt: skip
    table = np.vstack(parts) if parts else np.zeros((0, 8))
    return Tufts(
        x=table[:, 0], y=table[:, 1], z=table[:, 2], angle=table[:, 3], size=table[:, 4], lit=table[:, 5],
        mass=table[:, 6].astype(int), over_x=0.6 * table[:, 4], over_y=0.6 * table[:, 4], chance=table[:, 7],
    )  # fmt: skip
