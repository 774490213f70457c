"""What a special planting asks of a pot that is designed for it: sizes to search round, and limits of its own."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.case import Case
from kesh.advice.design.limit import Limit
from kesh.advice.figures import Figures
from kesh.advice.group.plan import placed_trees
from kesh.advice.kinds.kinds import kind_of
from kesh.advice.kinds.rock import ASKED_ROOM_MM
from kesh.base.errors import FieldError
from kesh.geometry.columns import by_outline
from kesh.geometry.outline import Floats, stretched_rings
from kesh.model import Collection, Planting, Pot
from kesh.science.group.stand import discs_of
from kesh.science.group.tray import tray_of
from kesh.science.special.cascade import CLEAR_MM
from kesh.science.special.rock import depth_at_mm, half_widths_mm
from kesh.science.special.tub import TAPER_MOST, next_tub
from kesh.science.special.tube import LESS_MM, least_inside_mm
from kesh.science.special.young import first_pot

RING = 64
WALL_MM = 9.0


@dataclass(frozen=True)
class Sizes:
    """Outer lengths and inner depths, mm, round which pots are searched; empty where the kind asks for none."""

    lengths: tuple[float, ...] = ()
    depths: tuple[float, ...] = ()


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
    seat = present.raise_mm if present.kind in ("rock", "cascade") else 0.0
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
    p, m = case.planting, case.tree.measure
    spots, r = group_discs(case)
    if len(spots):
        half = float((np.abs(spots[:, 0]) + r).max())
        return Sizes((2 * half + 2 * WALL_MM, 2.5 * half))
    kind = kind_of(p, case.tree) if p is not None else ""
    if p is None:
        return Sizes()
    if kind == "exposed_root" and p.tube is not None:
        bundle = max(p.tube.top_mm or 0.0, p.tube.foot_mm or 0.0)
        wide = (least_inside_mm(bundle) + 2 * WALL_MM,) if bundle else ()
        hangs = (
            (p.tube.root_length_mm - LESS_MM,)
            if p.tube.root_length_mm is not None and p.tube.root_length_mm > LESS_MM
            else ()
        )
        return Sizes(tuple(k * v for v in wide for k in (1.0, 1.35)), tuple(k * v for v in hangs for k in (0.9, 1.05)))
    if kind == "rock" and p.rock is not None:
        broad = max(x for x, _ in p.rock.points_mm) - min(x for x, _ in p.rock.points_mm)
        return Sizes(
            (broad + 2 * (ASKED_ROOM_MM + WALL_MM), 2.0 * broad), (p.rock.sunk_mm + 20.0, 2.0 * p.rock.sunk_mm + 40.0)
        )
    if kind == "cascade" and m.drop_mm is not None:
        tall = max(m.drop_mm + CLEAR_MM - case.brief.stand_mm - p.raise_mm, 40.0)
        return Sizes((), (tall - 20.0, 1.25 * tall))
    if kind == "fruit_tub" and case.roots is not None:
        low, high = next_tub(case.roots.length_mm, case.roots.width_mm, None).length_mm
        return Sizes(
            (low + 2 * WALL_MM, high + 2 * WALL_MM), (case.roots.depth_mm + 30.0, 1.3 * case.roots.depth_mm + 60.0)
        )
    if kind == "layer" and p.layer is not None and p.layer.spread_mm is not None and p.layer.depth_mm is not None:
        pot = first_pot(p.layer.spread_mm, p.layer.depth_mm)
        return Sizes((pot.across_mm + 2 * WALL_MM, 1.4 * pot.across_mm), (pot.depth_mm + 6.0, 1.4 * pot.depth_mm))
    return Sizes()


def special_limits(f: Figures) -> tuple[Limit, ...]:
    """Limits that hold for what is special, over N candidates."""
    case, pots = f.case, f.pots
    p, m = case.planting, case.tree.measure
    found: list[Limit] = []
    lack = _group_lack(f)
    if lack is not None:
        found.append(Limit("group_fit", "what the group's roots lack to the wall", "mm", lack, 0.0, 0.0, True, False))
    if p is None:
        return tuple(found)
    kind = kind_of(p, case.tree)
    inner = np.minimum(pots.length, pots.width) - 2 * pots.wall
    if kind == "rock" and p.rock is not None:
        left, right = (float(v) for v in half_widths_mm(p.rock.points_mm, p.rock.sunk_mm))
        thick = float(depth_at_mm(p.rock.points_mm, p.rock.depth_mm, p.rock.sunk_mm))
        for code, words, inside, rock_mm in (
            ("rock_length", "room beside the rock", pots.length, right - left), ("rock_width", "room before and behind the rock", pots.width, thick),
        ):  # fmt: skip
            found.append(
                Limit(
                    code,
                    words,
                    "mm",
                    (inside - 2 * pots.wall - rock_mm) / 2,
                    ASKED_ROOM_MM,
                    ASKED_ROOM_MM,
                    False,
                    False,
                )
            )
    if kind == "exposed_root" and p.tube is not None:
        bundle = max(p.tube.top_mm or 0.0, p.tube.foot_mm or 0.0)
        if bundle:
            asked = least_inside_mm(bundle)
            found.append(Limit("tube_inside", "inside of the tube", "mm", inner, asked, asked, False, False))
        if p.tube.root_length_mm is not None:
            most = max(p.tube.root_length_mm - LESS_MM, 1.0)
            found.append(Limit("tube_length", "length of the tube", "mm", pots.inner_depth, most, most, True, False))
    if kind == "cascade" and m.drop_mm is not None:
        air = pots.body_height + pots.feet + case.brief.stand_mm + p.raise_mm - m.drop_mm
        found.append(Limit("tail_air", "air under the tail", "mm", air, CLEAR_MM, CLEAR_MM, False, False))
    if kind == "fruit_tub":
        taper = pots.base_inset / np.maximum(pots.body_height, 1.0)
        found.append(Limit("tub_taper", "taper of the tub", "", taper, TAPER_MOST, TAPER_MOST, True, False))
        if case.roots is not None:
            low, high = next_tub(case.roots.length_mm, case.roots.width_mm, None).length_mm
            across = pots.length - 2 * pots.wall
            found += [
                Limit("tub_next", "inside of the next tub", "mm", across, low, low, False, False),
                Limit("tub_next_most", "inside of the next tub", "mm", across, high, high, True, False),
            ]
    if kind == "layer" and p.layer is not None and p.layer.spread_mm is not None and p.layer.depth_mm is not None:
        pot = first_pot(p.layer.spread_mm, p.layer.depth_mm)
        found += [
            Limit("layer_pot", "inside of the first pot", "mm", inner, pot.across_mm, pot.across_mm, False, False),
            Limit("layer_depth", "soil of the first pot", "mm", f.soil_depth_mm, pot.depth_mm, pot.depth_mm, False, False),
        ]  # fmt: skip
    return tuple(found)


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
