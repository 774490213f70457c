"""What a special planting asks of a pot that is designed for it: sizes to search round, and limits of its own."""

import numpy as np

from kesh.advice.case import Case
from kesh.advice.design.limit import WALL_MM, Limit, Sizes
from kesh.advice.figures import Figures
from kesh.advice.group.plan import placed_trees
from kesh.advice.kinds.kinds import kind_of
from kesh.advice.kinds.registry import kinds
from kesh.base.errors import FieldError
from kesh.geometry.columns import by_outline
from kesh.geometry.outline import Floats, stretched_rings
from kesh.model import Collection, Planting, Pot
from kesh.science.group.stand import discs_of
from kesh.science.group.tray import tray_of

RING = 64


def planting_for(collection: Collection, tree_id: str) -> Planting | None:
    """The present planting where its kind bears on the pot that is designed; None for a plain one: that is planted anew."""
    present, tree, brief = (
        collection.planting_of(tree_id),
        collection.trees.get(tree_id),
        collection.briefs.get(tree_id),
    )
    if present is None or tree is None or present.kind in (None, "plain"):
        return None
    mix = brief.mix if brief is not None and brief.mix else present.mix
    seat = present.raise_mm if kinds()[present.kind].keeps_seat else 0.0
    return present.changed(offset_x_mm=0.0, offset_y_mm=0.0, raise_mm=seat, mix=mix, plan=(), plan_made=None)


def group_discs(case: Case) -> tuple[Floats, Floats]:
    """(places (n, 2) of a group's trees about the middle of what their roots cover, radii (n,)); empty without a group."""
    rows = placed_trees(case.tree)
    if len(rows) < 2:
        return np.zeros((0, 2)), np.zeros(0)
    spots = np.array([(g.x_mm or 0.0, g.y_mm or 0.0) for g in rows])
    r = discs_of(np.array([g.diameter_mm or 0.0 for g in rows]))
    low, high = (spots - r[:, None]).min(axis=0), (spots + r[:, None]).max(axis=0)
    return spots - (low + high) / 2, r


def special_sizes(case: Case) -> Sizes:
    """Round which sizes to search for what is special about a planting."""
    p = case.planting
    spots, r = group_discs(case)
    if len(spots):
        half = float((np.abs(spots[:, 0]) + r).max())
        return Sizes((2 * half + 2 * WALL_MM, 2.5 * half))
    return Sizes() if p is None else kinds()[kind_of(p, case.tree)].sizes(case, p)


def special_limits(f: Figures) -> tuple[Limit, ...]:
    """Limits that hold for what is special, over N candidates."""
    p, lack = f.case.planting, _group_lack(f)
    group = () if lack is None else (Limit("group_fit", "what the group's roots lack to the wall", "mm", lack, 0.0, 0.0, True, False),)  # fmt: skip
    return group if p is None else (*group, *kinds()[kind_of(p, f.case.tree)].limits(f, p))


def _group_lack(f: Figures) -> Floats | None:
    """How far the worst root disc of a given group reaches over the inner wall, (N,); None without a group."""
    spots, r = group_discs(f.case)
    if not len(spots):
        return None
    pots = f.pots
    lack = np.zeros(len(pots))
    if len(pots) == 1:
        return _lack_in(pots.pots[0], spots, r)
    for outline, rows in by_outline(pots, np.arange(len(pots))).items():
        rings = stretched_rings(
            outline, pots.length[rows] - 2 * pots.wall[rows], pots.width[rows] - 2 * pots.wall[rows], RING
        )
        along = np.roll(rings, -1, axis=1) - rings
        length2 = np.maximum((along**2).sum(axis=2), 1e-9)
        worst = np.full(len(rings), -np.inf)
        for spot, radius in zip(spots, r, strict=True):
            to = spot - rings
            t = np.clip((to * along).sum(axis=2) / length2, 0, 1)
            away = np.sqrt(((to - t[..., None] * along) ** 2).sum(axis=2)).min(axis=1)
            # the angles under which the edges are seen add up to a whole turn inside, to none outside
            angle = np.arctan2(
                (to[:, :, 0] * np.roll(to, -1, axis=1)[:, :, 1] - to[:, :, 1] * np.roll(to, -1, axis=1)[:, :, 0]),
                (to * np.roll(to, -1, axis=1)).sum(axis=2),
            ).sum(axis=1)
            inside = np.abs(angle) > np.pi
            worst = np.maximum(worst, radius - np.where(inside, away, -away))
        lack[rows] = worst
    return lack


def _lack_in(pot: Pot, spots: Floats, r: Floats) -> Floats:
    """The same in one pot, by its true inside."""
    try:
        inside = tray_of(pot).inside_mm(spots[:, 0], spots[:, 1])
    except FieldError:
        return np.array([np.inf])
    return np.array([float((r - inside).max())])
