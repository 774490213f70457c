"""Step Group without a window: what a hand on plan, hill, way or table changes, and the words of a lean."""

import re
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kesh.advice.group.plan import GroupPlan, with_row, with_spot
from kesh.base.errors import FieldError
from kesh.model import Collection, GroupTree, HillMound, Pot, Tree, Way
from kesh.photo.stems import StemFound
from kesh.science.group.anneal import Layout

SIDES = {"left": 90.0, "right": 270.0, "front": 0.0, "back": 180.0}
VIEWS = (("now", "Now"), ("move", "Move"), ("ground", "Ground"))
PHOTO_VIEW = ("photo", "Photograph")
MOST_TREES = 60
CONTOUR_MM = 5.0


def tray_for(c: Collection, tree: Tree) -> Pot | None:
    """The tray that is looked at: the chosen one of the line-up, else the present one, else the first of the line-up."""
    lineup, present = c.lineups.get(tree.id), c.planting_of(tree.id)
    keys = [lineup.chosen if lineup else None, present.pot if present else None, *(lineup.pots if lineup else ())]
    return next((c.pots[k] for k in keys if k is not None and k in c.pots), None)


def headspace_of(c: Collection, tree: Tree, pot: Pot) -> float:
    """What stays free under the rim."""
    planting = c.planting_of(tree.id, pot.id)
    return 6.0 if planting is None or planting.headspace_mm is None else planting.headspace_mm


def lean_words(row: GroupTree) -> str:
    """3° left, 8° back right, upright."""
    if abs(row.lean_deg) < 0.5:
        return "upright"
    turn = (row.azimuth_deg + (180 if row.lean_deg < 0 else 0)) % 360
    near = round(turn / 45) % 8
    side = ("front", "front left", "left", "back left", "back", "back right", "right", "front right")[near]
    return f"{abs(row.lean_deg):g}° {side}"


def parse_lean(text: str) -> tuple[float, float]:
    """(lean, azimuth) of '3 left', '8° back right', '-5' (left) or 'upright'. Raises FieldError."""
    plain = text.strip().lower().replace("°", " ").replace(",", ".").replace("\N{MINUS SIGN}", "-")
    if plain in ("", "0", "upright", "none"):
        return 0.0, 0.0
    found = re.fullmatch(r"(-?\d+(?:\.\d+)?)\s*((?:front|back|left|right|\s)*)", plain)
    if found is None:
        raise FieldError("lean", f"'{text}' is no lean; write it as 5 left, 8 back right or upright")
    size, sides = float(found[1]), found[2].split()
    if not sides:
        return abs(size), SIDES["right"] if size > 0 else SIDES["left"]
    x = sum({"left": -1, "right": 1}.get(s, 0) for s in sides)
    y = sum({"front": -1, "back": 1}.get(s, 0) for s in sides)
    return size, float(np.degrees(np.arctan2(-x, -y))) % 360


def next_id(tree: Tree) -> str:
    """The next free name: numbers for those that stand."""
    taken = {g.id for g in tree.group}
    return next(str(n) for n in range(1, len(taken) + 2) if str(n) not in taken)


def with_new(tree: Tree) -> tuple[Tree, str]:
    """The tree with one more in its group, a spare as thick as the thinnest; and its name. Raises FieldError."""
    if len(tree.group) >= MOST_TREES:
        raise FieldError("group", f"{MOST_TREES} trees are the most")
    key = next_id(tree)
    thin = min(
        (g.diameter_mm for g in tree.group if g.diameter_mm is not None), default=tree.measure.trunk_diameter_mm or 20.0
    )
    tall = min((g.height_mm for g in tree.group if g.height_mm is not None), default=tree.measure.height_mm or 300.0)
    return tree.changed(group=(*tree.group, GroupTree(id=key, diameter_mm=thin, height_mm=tall))), key


def with_read(tree: Tree, key: str, found: StemFound) -> tuple[Tree, str]:
    """A trunk that was read from a photograph: into the tree named, or as one more; and its name. Raises FieldError."""
    if not any(g.id == key for g in tree.group):
        tree, key = with_new(tree)
    lean = round(found.lean_deg, 1)
    note = f"from a photograph, {found.x_mm:+.0f} mm beside the tray's middle there"
    made = with_row(
        tree, key, height_mm=float(found.height.value or 0.0), diameter_mm=float(found.thickness.value or 0.0), lean_deg=abs(lean),
        azimuth_deg=SIDES["right"] if lean > 0 else SIDES["left"], note=note,
    )  # fmt: skip
    return made, key


def without(tree: Tree, key: str) -> Tree:
    """The tree without one of its group. Raises FieldError."""
    with_spot(tree, key, None, None)
    return tree.changed(group=tuple(g for g in tree.group if g.id != key))


def renamed(tree: Tree, key: str, name: str) -> Tree:
    """One of the group under another name. Raises FieldError."""
    name = name.strip()
    if name == key:
        return tree
    if any(g.id == name for g in tree.group):
        raise FieldError("group", f"there is a tree {name} already")
    return with_row(tree, key, id=name)


def taken_layout(tree: Tree, ids: Sequence[str], layout: Layout) -> Tree:
    """A proposal taken over. Raises FieldError."""
    found = tree
    for key, x, y in zip(ids, layout.x_mm, layout.y_mm, strict=True):
        found = with_spot(found, key, float(x), float(y))
    return found


def open_spot(plan: GroupPlan) -> tuple[float, float]:
    """The middle of the largest open ground: where a spare is set by the keyboard."""
    x, y, _ = (0.0, 0.0, 0.0) if not len(plan.rows) else _void(plan)
    return x, y


def _void(plan: GroupPlan) -> tuple[float, float, float]:
    radius, row = plan.ground.largest(plan.x, plan.y, plan.disc)
    return float(plan.ground.x_mm[row]), float(plan.ground.y_mm[row]), float(radius)


# --- ground and way ------------------------------------------------------------------------------------------------------


@dataclass(frozen=True)
class GroundSpot:
    """A handle of the ground: mound:n:middle|right|back|top, way:n or way:width, and where it lies in the plan, mm."""

    key: str
    label: str
    x_mm: float
    y_mm: float


def ground_spots(tree: Tree) -> list[GroundSpot]:
    """Everything of hill and way that is pulled in the plan."""
    found = []
    for n, m in enumerate(tree.hill):
        name = f"Mound {n + 1}"
        found += [
            GroundSpot(f"mound:{n}:middle", name, m.x_mm, m.y_mm),
            GroundSpot(f"mound:{n}:right", f"{name}, reach to the side", m.x_mm + m.reach_x_mm, m.y_mm),
            GroundSpot(f"mound:{n}:back", f"{name}, reach to the back", m.x_mm, m.y_mm + m.reach_y_mm),
        ]
    if tree.way is not None:
        found += [GroundSpot(f"way:{n}", f"Path, point {n + 1}", x, y) for n, (x, y) in enumerate(tree.way.points_mm)]
        x, y = tree.way.points_mm[0]
        found.append(GroundSpot("way:width", "Width of the path", x + tree.way.width_mm / 2, y))
    return found


def ground_pulled(tree: Tree, key: str, x_mm: float, y_mm: float) -> Tree:
    """The tree after a handle of its ground was pulled to a place. Raises FieldError."""
    kind, which, *rest = key.split(":")
    if kind == "contour":
        return with_mound(tree, int(which), _through(tree.hill[int(which)], float(rest[0]), x_mm, y_mm))
    if kind == "way":
        way = tree.way
        if way is None:
            raise FieldError("way", "there is no way")
        if which == "width":
            return tree.changed(way=way.changed(width_mm=round(max(2 * abs(x_mm - way.points_mm[0][0]), 4.0), 1)))
        n = int(which)
        points = (*way.points_mm[:n], (round(x_mm, 1), round(y_mm, 1)), *way.points_mm[n + 1 :])
        return tree.changed(way=way.changed(points_mm=points))
    n = int(which)
    mound = tree.hill[n]
    changed = {
        "middle": lambda: mound.changed(x_mm=round(x_mm, 1), y_mm=round(y_mm, 1)),
        "right": lambda: mound.changed(reach_x_mm=round(max(abs(x_mm - mound.x_mm), 10.0), 1)),
        "back": lambda: mound.changed(reach_y_mm=round(max(abs(y_mm - mound.y_mm), 10.0), 1)),
    }[rest[0]]()
    return with_mound(tree, n, changed)


def contour_at(tree: Tree, x_mm: float, y_mm: float, near_mm: float) -> str:
    """The contour of a mound within reach of a spot: contour:n:height; empty where none is."""
    found = []
    for n, m in enumerate(tree.hill):
        rho = float(np.hypot((x_mm - m.x_mm) / m.reach_x_mm, (y_mm - m.y_mm) / m.reach_y_mm))
        slim = min(m.reach_x_mm, m.reach_y_mm)
        for level in np.arange(0.0, m.height_mm, CONTOUR_MM):
            off = abs(rho - float(np.sqrt(1 - level / m.height_mm))) * slim
            if off <= near_mm:
                found.append((off, f"contour:{n}:{level:g}"))
    return min(found)[1] if found else ""


def _through(mound: HillMound, level_mm: float, x_mm: float, y_mm: float) -> HillMound:
    """The mound as wide as its contour at a height wants to run through a spot. Raises FieldError."""
    rho = float(np.hypot((x_mm - mound.x_mm) / mound.reach_x_mm, (y_mm - mound.y_mm) / mound.reach_y_mm))
    wide = rho / float(np.sqrt(max(1 - level_mm / max(mound.height_mm, 1e-9), 1e-3)))
    least = 10.0 / min(mound.reach_x_mm, mound.reach_y_mm)
    k = max(wide, least)
    return mound.changed(reach_x_mm=round(mound.reach_x_mm * k, 1), reach_y_mm=round(mound.reach_y_mm * k, 1))


def with_mound(tree: Tree, n: int, mound: HillMound | None) -> Tree:
    """One mound changed, or taken away."""
    return tree.changed(hill=(*tree.hill[:n], *(() if mound is None else (mound,)), *tree.hill[n + 1 :]))


def raised(tree: Tree, n: int, by_mm: float) -> Tree:
    """One mound higher or lower. Raises FieldError."""
    mound = tree.hill[n]
    return with_mound(tree, n, mound.changed(height_mm=round(max(mound.height_mm + by_mm, 0.0), 1)))


def with_new_mound(tree: Tree, pot: Pot) -> Tree:
    """One more mound, a tenth of the tray's length high at most, where none is yet. Raises FieldError."""
    side = -0.18 if len(tree.hill) % 2 == 0 else 0.2
    made = HillMound(
        x_mm=round(side * pot.length_mm),
        y_mm=0.0,
        height_mm=12.0,
        reach_x_mm=round(0.25 * pot.length_mm),
        reach_y_mm=round(0.3 * pot.width_mm),
    )
    return tree.changed(hill=(*tree.hill, made))


def with_new_way(tree: Tree, pot: Pot) -> Tree:
    """A way from the front to the back through a third of the tray, wider in front so that it looks longer."""
    half = pot.width_mm / 2
    points = (
        (0.03 * pot.length_mm, -half),
        (0.05 * pot.length_mm, -0.3 * half),
        (0.1 * pot.length_mm, 0.35 * half),
        (0.08 * pot.length_mm, half),
    )
    return tree.changed(
        way=Way(points_mm=tuple((round(x, 1), round(y, 1)) for x, y in points), width_mm=round(0.06 * pot.length_mm))
    )
