"""The root map without a window: how roots run, a root from a stroke, hands on one root, and the plan in words."""

from collections.abc import Sequence
from datetime import date

import numpy as np

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.figure.line import Chance
from kesh.geometry.outline import Floats
from kesh.model import MapRoot, Sector, Tree
from kesh.reference.tables import Species
from kesh.science.roots.fit import ball_radius
from kesh.science.roots.lines import along_mm, azimuth_of, root_line, trunk_at_soil_mm, turned_line
from kesh.science.roots.plan import RootPlan, decision_fault
from kesh.science.roots.side_room import Tilted, toward

KIND_WORDS = {
    "radial": "radial", "crossing": "crosses another", "circling": "circles the trunk", "rising": "rises", "tap": "taproot",
    "under": "under the trunk", "dead": "dead",
}  # fmt: skip
DECIDED_WORDS = {
    "": "as the plan says", "shorten": "cut at its side root", "remove": "off at the trunk", "move": "moved by hand",
}  # fmt: skip
# a stroke that turns so far about the trunk circles it; one that begins within so many trunk widths belongs to it
CIRCLES_DEG, BEGINS_WITHIN = 55.0, 0.75
MOST_ROOTS, POINTS = 30, 40
# so wide a part about a root is left alone by one click
ALONE_DEG = 45.0
USUAL_ROOTS = 8
USUAL_BY_STYLE = {
    "broom": 11,
    "formal_upright": 9,
    "literati": 5,
    "cascade": 6,
    "semi_cascade": 6,
    "windswept": 7,
    "slanting": 7,
}
LEANING = ("slanting", "windswept", "cascade", "semi_cascade")


def stroked_root(tree: Tree, points: Sequence[tuple[float, float]]) -> Tree:
    """The tree with one more root, drawn from the trunk outward in mm from the trunk's middle.

    Azimuth and reach are the stroke's, the kind is guessed from its shape, the thickness is that of the roots there.
    Raises FieldError for a stroke that is none, or when the map is full.
    """
    line = np.array(points, float).reshape(-1, 2)
    trunk = trunk_at_soil_mm(tree)
    if len(tree.root_map) >= MOST_ROOTS:
        raise FieldError("root_map", f"{MOST_ROOTS} roots are as many as a map holds; take away one that counts little")
    away = np.hypot(*line.T)
    if away.min() > BEGINS_WITHIN * trunk:
        raise FieldError("root_map", "a root is drawn from the trunk outward; begin the stroke on the trunk")
    line = line[int(np.argmin(away)) :]
    outside = line[np.hypot(*line.T) > 0.40 * trunk]
    if len(outside) < 2 or along_mm(outside)[-1] < 8:
        raise FieldError("root_map", "that stroke ends on the trunk; draw it out to where the root ends")
    far = along_mm(outside)
    course = np.column_stack([np.interp(np.linspace(0, far[-1], POINTS), far, outside[:, k]) for k in (0, 1)])
    known = [r.diameter_mm for r in tree.root_map]
    key = next(f"r{n}" for n in range(1, 99) if f"r{n}" not in {r.id for r in tree.root_map})
    root = MapRoot.made(
        id=key, azimuth_deg=round(azimuth_of(course[0]), 1) % 360, reach_mm=round(float(far[-1]), 1),
        diameter_mm=round(float(np.median(known)) if known else max(0.12 * trunk, 3.0), 1),
        kind=_guessed(course, tree, trunk), course=tuple((round(float(x), 1), round(float(y), 1)) for x, y in course),
    )  # fmt: skip
    return tree.changed(root_map=(*tree.root_map, root))


def _guessed(course: Floats, tree: Tree, trunk_mm: float) -> str:
    """Circling when it turns about the trunk, crossing when it runs over another, else radial."""
    angles = np.unwrap(np.radians([azimuth_of(p) for p in course]))
    near = np.hypot(*course.T) < 1.6 * trunk_mm
    if near.any() and np.degrees(np.ptp(angles[near])) > CIRCLES_DEG:
        return "circling"
    import shapely

    own = shapely.LineString(course)
    return (
        "crossing" if any(own.crosses(shapely.LineString(root_line(r, trunk_mm))) for r in tree.root_map) else "radial"
    )


def with_root(tree: Tree, key: str, **fields: object) -> Tree:
    """The tree with one root changed. Raises FieldError."""
    return tree.changed(root_map=tuple(r.changed(**fields) if r.id == key else r for r in tree.root_map))


def with_decision(tree: Tree, key: str, decided: str) -> Tree:
    """The tree with what the artist decides for a root. Raises FieldError where it cannot be done."""
    root = next(r for r in tree.root_map if r.id == key)
    to = root.azimuth_deg if decided == "move" and root.moved_to_deg is None else root.moved_to_deg
    changed = root.changed(
        decided=decided, moved_to_deg=to if decided == "move" else None, decided_why=root.decided_why if decided else ""
    )
    fault = decision_fault(changed, tree.roots.untouched if tree.roots is not None else ())
    if fault:
        raise FieldError("decided", f"that cannot be done: {fault}")
    return with_root(tree, key, **{n: getattr(changed, n) for n in ("decided", "moved_to_deg", "decided_why")})


def without_root(tree: Tree, key: str) -> Tree:
    """The tree without a root."""
    return tree.changed(root_map=tuple(r for r in tree.root_map if r.id != key))


def pulled(tree: Tree, key: str, point: tuple[float, float]) -> Tree:
    """The tree with a root's end pulled to a place, mm from the trunk's middle: it turns and grows, its course with it."""
    root = next(r for r in tree.root_map if r.id == key)
    trunk, end = trunk_at_soil_mm(tree), np.array(point, float)
    if root.kind == "circling" or len(root.course) > 1:
        line = root_line(root, trunk)
        tip = line[-1]
        factor = max(float(np.hypot(*end)), 0.5 * trunk) / max(float(np.hypot(*tip)), 1.0)
        turn = np.radians(azimuth_of(tip) - azimuth_of(end))
        moved = turned_line(line, float(np.degrees(turn))) * factor
        reach = float(along_mm(moved)[-1])
        course = tuple((round(float(x), 1), round(float(y), 1)) for x, y in moved) if len(root.course) > 1 else ()
        return with_root(
            tree, key, azimuth_deg=round(azimuth_of(moved[0]), 1) % 360, reach_mm=round(reach, 1), course=course
        )
    reach = max(float(np.hypot(*end)) - 0.42 * trunk, 5.0)
    return with_root(tree, key, azimuth_deg=round(azimuth_of(end), 1) % 360, reach_mm=round(reach, 1))


def side_left_alone(tree: Tree, key: str) -> Tree:
    """The tree with the part of its root mass about a root left alone, or, where it is already, free again.

    Raises FieldError while the root mass is not known.
    """
    if tree.roots is None:
        raise FieldError("roots", "the root mass is not known yet; enter its length, width and depth first")
    root = next(r for r in tree.root_map if r.id == key)
    held = tuple(s for s in tree.roots.untouched if s.holds(root.azimuth_deg))
    others = tuple(s for s in tree.roots.untouched if s not in held)
    new = Sector(from_deg=(root.azimuth_deg - ALONE_DEG / 2) % 360, to_deg=(root.azimuth_deg + ALONE_DEG / 2) % 360)
    mass = tree.roots.changed(untouched=others if held else (*others, new))
    return tree.changed(root_masses=(*tree.root_masses[:-1], mass))


def usual_map(tree: Tree, species: Species | None = None) -> Tree:
    """The tree with a map that is only assumed, by what is usual for its species, style and origin.

    Evenly spread roots to three quarters of the mass; a leaning or hanging tree has its stronger ones on the far side, one
    from a nursery pot often a root that circles. Raises FieldError while the root mass is not known.
    """
    if tree.roots is None:
        raise FieldError("roots", "the root mass is not known yet; enter its length, width and depth first")
    chance, trunk = Chance(tree.seed, "root map"), trunk_at_soil_mm(tree)
    count = USUAL_BY_STYLE.get(tree.style, USUAL_ROOTS)
    if species is not None and species.stores_water:
        count = max(count - 2, 4)
    # a tree that moves to the right stands on its left roots
    anchor = {"right": 90.0, "left": 270.0}.get(tree.flow) if tree.style in LEANING else None
    nursery = "nursery" in tree.origin.lower()
    made = []
    for n in range(count):
        azimuth = round((360 / count * n + chance.uniform(-0.3, 0.3) * 360 / count + 22) % 360, 1)
        way = toward(azimuth)
        far = float(ball_radius(tree.roots, 0.0, 1.0, np.array([np.arctan2(way[1], way[0])]))[0])
        strong = 1.0 if anchor is None else 1 + 0.45 * float(np.cos(np.radians(azimuth - anchor)))
        made.append(
            MapRoot.made(
                id=f"r{n + 1}", azimuth_deg=azimuth, diameter_mm=round(trunk * chance.uniform(0.09, 0.15) * strong, 1),
                reach_mm=round(max(0.75 * far - 0.42 * trunk, 20.0), 1), note="assumed",
                kind="circling" if nursery and n == count // 2 else "radial",
            )
        )  # fmt: skip
    return tree.changed(root_map=tuple(made))


def step_words(plan: RootPlan, root: MapRoot, today: date, u: Units) -> tuple[str, str]:
    """(what is done to a root and when, why)."""
    step = plan.step(root.id)
    if step is None or step.action == "keep":
        return "stays", step.why if step else ""
    when = "now" if step.year == 0 else f"in {today.year + round(step.year)}"
    what = {"shorten": f"cut at {u.mm(step.at_mm or 0.0)}", "move": "moved by hand"}.get(step.action, "off")
    share = "no feeders" if step.share <= 0 else f"{step.share:.0%}"
    return f"{what} {when}, {share}", step.why.split(";")[0]


def plan_words(plan: RootPlan, plate_mm: float | None = None, u: Units | None = None) -> str:
    """What the plan brings: faults mended now, the largest gap, how evenly the roots pull, and the plate that is left."""
    before, after = plan.gap_before_deg, plan.gap_after_deg
    gap = (
        f"Largest gap {before:.0f}°"
        if round(before) == round(after)
        else f"Largest gap {before:.0f}°, then {after:.0f}°"
    )
    told = f"{gap}. Pull to one side {plan.unevenness_before:.0%}, then {plan.unevenness_after:.0%}."
    if plan.points > 0:
        told = f"Faults mended now: {plan.points:.1f} points. {told}"
    return f"{told} Plate {u.mm(plate_mm)} thick." if plate_mm is not None and u is not None else told


def degrees_of(text: str, name: str, most: float) -> float:
    """An angle as people write it: 12, -3.5, 7,5 or 10°. Raises FieldError."""
    try:
        value = float(text.strip().rstrip("°").strip().replace("−", "-").replace(",", ".") or 0)
    except ValueError as err:
        raise FieldError(name, f"'{text}' is no number; write degrees, such as 8") from err
    if not abs(value) <= most:
        raise FieldError(name, f"{value:g}° is outside −{most:g}° to {most:g}°")
    return value


def tilt_words(found: Tilted, tilt_deg: float, u: Units) -> str:
    """What a tilt of the tree brings, in a few sentences."""
    if tilt_deg == 0:
        return "Upright as it stands. A tilt moves the apex and lifts one side of the roots."
    to, other = ("right", "left") if tilt_deg > 0 else ("left", "right")
    told = []
    if found.apex_shift_mm is not None and found.apex_drop_mm is not None:
        told.append(f"The apex moves {u.mm(found.apex_shift_mm)} to the {to} and sinks {u.mm(found.apex_drop_mm)}.")
    if found.wedge_l is not None and found.lift_mm is not None:
        told.append(
            f"A wedge of {u.litres(found.wedge_l)} under the {other} side, {u.mm(found.lift_mm)} at its edge, or as much off the {to}"
            + (f": {found.cut_share:.0%} of the feeders." if found.cut_share is not None else ".")
        )
    told.append(f"Pads that were level lean by {abs(tilt_deg):g}°: branches to bend later.")
    return " ".join(told)
