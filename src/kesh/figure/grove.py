"""A group drawn from its very plan: each tree with its own height, thickness and lean, where it stands (docs/methods.md, "groups").

A tree of a group is a sitter of its own that does not know where it stands, so that one that is moved need not be grown again.
"""

from dataclasses import dataclass, replace

import numpy as np

from kesh.figure.habit import LEAST_MM, Sitter, alone
from kesh.model.group import GroupTree
from kesh.model.tree import Tree
from kesh.reference.tables import Species
from kesh.science.group.hill import mounds_of, rise_mm

# shares of a tree's own height: how far its crown reaches in a group, and where it begins [J]
REACH, INNER_REACH = 0.27, 0.17
# without a measure of its own a tree of a group is so many times as tall as it is thick [J]
TALL_BY_THICK = 15.0


@dataclass(frozen=True)
class Stem:
    """One tree of a group as it is drawn: its place from the tray's middle, mm, how far behind the foremost, and its figure."""

    id: str
    x: float
    y: float
    behind: float
    sitter: Sitter


def height_of(row: GroupTree) -> float | None:
    """Its height, or what its thickness makes likely; None when neither is known."""
    if row.height_mm is not None:
        return row.height_mm
    return None if row.diameter_mm is None else TALL_BY_THICK * row.diameter_mm


def lean_across(row: GroupTree, from_deg: float = 0.0) -> float:
    """How far its tip stands to the right of its foot by its height, seen from `from_deg` round to the right of the front."""
    turn = np.radians(row.azimuth_deg)
    right, back = -np.sin(turn), -np.cos(turn)
    a = np.radians(from_deg)
    return float(np.tan(np.radians(row.lean_deg)) * (right * np.cos(a) + back * np.sin(a)))


def stem_sitter(whole: Sitter, row: GroupTree, number: int, crowd: float = 1.0, from_deg: float = 0.0) -> Sitter | None:
    """One tree of a group as a sitter: the group's species and foliage, its own measures. None without a size."""
    tall = height_of(row)
    if tall is None or tall < LEAST_MM:
        return None
    thick = row.diameter_mm if row.diameter_mm is not None else tall / TALL_BY_THICK
    thick = min(max(thick, 0.004 * tall), 0.5 * tall)
    reach = (REACH + (INNER_REACH - REACH) * crowd) * tall
    base = 0.30 + 0.10 * ((number * 37) % 10) / 10
    return replace(
        whole, style="formal_upright", flow=1 if number % 2 else -1, height=tall, trunk=thick, base=1.32 * thick, left=reach, right=reach,
        crown_base=base * tall, apex=round(lean_across(row, from_deg) * tall, 1), drop=0.0, seed=whole.seed * 31 + 7 * number + 1, assumed=(), stems=(),
    )  # fmt: skip


def standing(tree: Tree) -> tuple[GroupTree, ...]:
    """The trees of a group that stand and can be drawn."""
    return tuple(g for g in tree.group if g.placed and height_of(g) is not None)


def _out_to_the_edge(whole: Sitter, own: Sitter, x: float, first: bool, last: bool) -> Sitter:
    """The outermost crowns reach as far as the group was measured to, as long as that is a reach for a tree of their height."""
    low, high = 0.16 * own.height, 0.5 * own.height
    left = min(max(whole.left + x, low), high) if first else own.left
    right = min(max(whole.right - x, low), high) if last else own.right
    return replace(own, left=round(left, 1), right=round(right, 1))


def stems_of(whole: Sitter, tree: Tree, from_deg: float = 0.0) -> tuple[Stem, ...]:
    """Every tree that stands, the farthest first, seen from `from_deg`; x and y are those of that view."""
    rows = standing(tree)
    if not rows:
        return ()
    a = np.radians(from_deg)
    x, y = np.array([g.x_mm or 0.0 for g in rows]), np.array([g.y_mm or 0.0 for g in rows])
    across, away = x * np.cos(a) + y * np.sin(a), -x * np.sin(a) + y * np.cos(a)
    spread = max(float(np.ptp(x)), 1.0)
    found = []
    for n, row in enumerate(rows):
        number = next(i for i, g in enumerate(tree.group) if g.id == row.id)
        # in the middle of the group crowns have less room than at its edges; in steps, so that a small move grows nothing anew
        crowd = round(1 - min(abs(float(x[n]) - float(x.mean())) / (0.5 * spread), 1.0), 0) if len(rows) > 3 else 0.0
        made = stem_sitter(whole, row, number, crowd, from_deg)
        if made is not None and not from_deg:
            made = _out_to_the_edge(whole, made, float(x[n]), n == int(x.argmin()), n == int(x.argmax()))
        if made is not None:
            found.append(Stem(row.id, float(across[n]), float(away[n]), float(away[n] - away.min()), made))
    return tuple(sorted(found, key=lambda s: -s.y))


def ground_at(tree: Tree, x: float, y: float) -> float:
    """How high the ground is over the level at a spot of the tray, mm."""
    return float(rise_mm(mounds_of(tree.hill), x, y))


def whole_of(tree: Tree, species: Species | None) -> Sitter | None:
    """The group's own measures; where nobody took them, those of its tallest tree serve."""
    found = alone(tree, species)
    if found is not None or not standing(tree):
        return found
    tall = max(height_of(g) or 0.0 for g in standing(tree))
    thick = max((g.diameter_mm or 0.0 for g in standing(tree)), default=0.0) or None
    measured = tree.measure.changed(height_mm=tall, trunk_diameter_mm=tree.measure.trunk_diameter_mm or thick)
    return alone(tree.changed(measures=(measured,)), species)


def sitter(tree: Tree, species: Species | None) -> Sitter | None:
    """What is drawn of a tree: its measures, or the trees of its group as they stand; None when nothing is known."""
    whole = whole_of(tree, species)
    if whole is None or not standing(tree):
        return whole
    stems = stems_of(whole, tree)
    rows = {g.id: g for g in tree.group}
    placed = tuple(
        (
            round(s.x, 1),
            round(s.behind, 1),
            round(ground_at(tree, rows[s.id].x_mm or 0.0, rows[s.id].y_mm or 0.0), 1),
            s.sitter,
        )
        for s in stems
    )
    left = max((s.sitter.left - s.x for s in stems), default=whole.left)
    right = max((s.sitter.right + s.x for s in stems), default=whole.right)
    return replace(
        whole, stems=placed, height=max(s.sitter.height for s in stems), left=max(left, 1.0), right=max(right, 1.0),
    )  # fmt: skip
