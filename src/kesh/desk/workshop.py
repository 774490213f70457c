"""The Workshop without a window: which designs there are, their grips in section and plan, and what a grip changes."""

from collections.abc import Sequence
from typing import Any

import numpy as np

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import Case
from kesh.advice.design.aims import at_centre
from kesh.advice.design.search import Design
from kesh.advice.design.space import with_planned_holes
from kesh.advice.routes.floor import dead_corner_mm, drains_everywhere
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.bands import band_grips, with_size
from kesh.desk.bench import Grip
from kesh.desk.shelf import Fact, overall_fact
from kesh.figure.pot_drawing import letters, wall_curves
from kesh.geometry.columns import columns
from kesh.geometry.feet import with_feet
from kesh.geometry.outline import outline_points
from kesh.geometry.overall import differs
from kesh.geometry.solid import check_shape
from kesh.geometry.volume import body
from kesh.model import Collection, Hole, Outline, Pot, Profile

# friendlier families map onto the numbers of the profile: kind, base inset, belly, lip height, lip offset (shares of the body height)
FAMILIES: dict[str, tuple[str, float, float, float, float]] = {
    "straight": ("straight", 0.0, 0.0, 0.8, 0.0),
    "tapered": ("straight", 0.22, 0.0, 0.8, 0.0),
    "bowed": ("bowed", 0.20, 0.10, 0.8, 0.0),
    "drum": ("bowed", 0.06, 0.14, 0.8, 0.0),
    "flared": ("lip", 0.20, 0.0, 0.86, 0.08),
    "in-curved": ("lip", 0.05, 0.0, 0.80, -0.08),
    "cascade": ("straight", 0.10, 0.0, 0.8, 0.0),
    "tube": ("tube", 0.0, 0.0, 0.8, 0.0),
    "slab": ("slab", 0.0, 0.0, 0.8, 0.0),
}
FREE_POINTS, MOST_POINTS = 14, 40
LEAST_COLUMN_MM = 35.0
LEAST_LONG_MM, MOST_LONG_MM, LEAST_DEEP_MM, MOST_DEEP_MM = 80.0, 2000.0, 8.0, 800.0
NEW_SIZES = {"cascade": (180.0, 180.0, 240.0), "tube": (160.0, 160.0, 200.0), "slab": (420.0, 260.0, 22.0)}


def designs(collection: Collection, needle: str = "", *, drill: bool = False) -> list[Pot]:
    """Designs and orders by name; for the drill all pots that stand about."""
    states = ("shelf", "in_use", "wish") if drill else ("design", "ordered")
    found = [
        p
        for p in collection.pots.values()
        if (p.state in states and p.profile.kind != "slab") or (not drill and p.state in states)
    ]
    words = needle.lower().split()

    def text(pot: Pot) -> str:
        tree = collection.trees.get(pot.made_for or "")
        return f"{pot.name} {tree.name if tree else ''}".lower()

    return [p for p in found if all(w in text(p) for w in words)]


def new_design(key: str, tree: str | None, case: Case | None) -> Pot:
    """A first design: the middle of what the school asks for this tree, or a plain tray."""
    length, width, depth = 320.0, 230.0, 60.0
    if case is not None:
        b = case.bands
        if b.length.low and b.length.high:
            length = round((b.length.low + b.length.high) / 2)
            width = round(0.74 * length)
        if b.depth.low and b.depth.high:
            depth = round((b.depth.low + b.depth.high) / 2)
    # a slip of the unit in the tree's measures still gives a pot that can be drawn, and then dragged right
    length, depth = min(max(length, LEAST_LONG_MM), MOST_LONG_MM), min(max(depth, LEAST_DEEP_MM), MOST_DEEP_MM)
    width = min(max(width, 0.74 * LEAST_LONG_MM), length)
    pot = Pot.made(
        id=key, name="New pot", outline=Outline(kind="rectangle", corner_mm=round(0.08 * width)), length_mm=length, width_mm=width,
        profile=Profile(base_inset_mm=round(min(0.16 * depth, 0.1 * width))), wall_mm=min(8.0, round(0.1 * width, 1)), floor_mm=9, feet_mm=10, feet_style="cloud",
        height_mm=depth + 19, state="design", made_for=tree,
    )  # fmt: skip
    return with_feet(with_planned_holes(pot))


def opened(design: Design, key: str, tree: str) -> Pot:
    """A design of the solver as a pot of the collection."""
    return design.pot.changed(id=key, made_for=tree, state="design")


def judged(case: Case | None, pot: Pot, units: Units) -> Assessment | None:
    """Findings of the tree in the design; None without a tree."""
    return None if case is None else assess(at_centre(case), pot, units)


def rule_holes(pot: Pot) -> bool:
    """Whether the holes are those of the rule, so that they follow the size."""
    try:
        return pot.holes == with_planned_holes(pot).holes
    except FieldError:
        return False


def settled(pot: Pot, *, holes_follow: bool) -> Pot:
    """A changed pot with its feet reckoned anew and its holes by the rule when they follow. Raises FieldError."""
    made = with_planned_holes(pot) if holes_follow and pot.profile.kind != "slab" else pot
    check_shape(made)
    return with_feet(made)


def with_value(pot: Pot, key: str, value: float) -> Pot:
    """The pot with one size changed by hand, whole again. Raises FieldError with a sentence when it cannot be."""
    value, follow = round(value, 1), rule_holes(pot)
    if key == "length_mm":
        sizes = {"length_mm": value, "width_mm": value} if pot.outline.kind == "round" else {"length_mm": value}
        return settled(_cornered(pot, sizes), holes_follow=follow)
    if key == "width_mm":
        sizes = {"width_mm": value, "length_mm": value} if pot.outline.kind == "round" else {"width_mm": value}
        return settled(_cornered(pot, sizes), holes_follow=follow)
    if key in ("base_inset_mm", "belly_mm", "lip_offset_mm"):
        return settled(pot.changed(profile=pot.profile.changed(**{key: value})), holes_follow=follow)
    if key == "lip_at_mm":
        share = min(max((value - pot.feet_mm) / pot.body_height_mm, 0.05), 0.97)
        return settled(pot.changed(profile=pot.profile.changed(lip_height_share=round(share, 3))), holes_follow=follow)
    if key == "corner_mm":
        return settled(pot.changed(outline=pot.outline.changed(corner_mm=max(value, 0.0))), holes_follow=follow)
    if key == "feet_mm":
        # the body keeps its height: feet lift the pot
        feet = max(value, 0.0)
        return settled(pot.changed(feet_mm=feet, height_mm=round(pot.body_height_mm + feet, 1)), holes_follow=follow)
    if ":" in key:
        return settled(with_size(pot, key, value), holes_follow=follow)
    if (key == "wall_mm" and value <= 0) or (key == "floor_mm" and value <= 0):
        raise FieldError(key, f"{value:g} mm is no {key.removesuffix('_mm')}; a pot needs clay there")
    return settled(pot.changed(**{key: value}), holes_follow=follow)


def _cornered(pot: Pot, sizes: dict[str, float]) -> Pot:
    """Other sizes; a corner that would not fit any more gives way."""
    most = min(sizes.get("length_mm", pot.length_mm), sizes.get("width_mm", pot.width_mm)) / 2
    outline = pot.outline
    if outline.kind == "rectangle" and outline.corner_mm > most > 0:
        outline = outline.changed(corner_mm=round(most, 1))
    return pot.changed(outline=outline, **sizes)


def with_family(pot: Pot, family: str) -> Pot:
    """The pot with a wall of a family. Raises FieldError."""
    kind, inset, belly, lip_at, lip = FAMILIES[family]
    h = pot.body_height_mm
    profile = Profile(
        kind=kind,
        base_inset_mm=round(inset * h, 1),
        belly_mm=round(belly * h, 1),
        lip_height_share=lip_at,
        lip_offset_mm=round(lip * h, 1),
    )
    sizes: dict[str, Any] = {}
    if family in NEW_SIZES and (family != "tube"):
        length, width, high = NEW_SIZES[family]
        if family == "slab" or pot.height_mm < 0.8 * min(pot.length_mm, pot.width_mm):
            sizes = {"length_mm": length, "width_mm": width, "height_mm": high}
            if family == "slab":
                sizes |= {"feet_mm": 0.0, "feet_style": "none", "floor_mm": min(pot.floor_mm, high - 1)}
            outline = pot.outline
            sizes["outline"] = (
                outline.changed(corner_mm=min(outline.corner_mm, width / 4)) if outline.kind == "rectangle" else outline
            )
    if family == "slab":
        return pot.changed(profile=profile, holes=(), **sizes)
    return settled(pot.changed(profile=profile, **sizes), holes_follow=rule_holes(pot))


def family_of(pot: Pot) -> str:
    """The nearest family's name."""
    p, h = pot.profile, max(pot.body_height_mm, 1.0)
    if p.kind in ("tube", "slab"):
        return p.kind
    if p.kind == "lip":
        return "flared" if p.lip_offset_mm >= 0 else "in-curved"
    if p.kind == "bowed":
        return "drum" if p.base_inset_mm < 0.12 * h else "bowed"
    if h > 1.2 * pot.length_mm:
        return "cascade"
    return "tapered" if p.base_inset_mm > 0.04 * h else "straight"


def with_outline(pot: Pot, kind: str) -> Pot:
    """The pot with another outline at the same size; a round one takes the length."""
    if kind == "free":
        return freed(pot)
    fields: dict[str, Any] = {"kind": kind, "points_mm": ()}
    corner = round(0.08 * min(pot.length_mm, pot.width_mm)) if kind == "rectangle" else 0.0
    outline = pot.outline.changed(**fields, corner_mm=corner)
    width = pot.length_mm if kind == "round" else pot.width_mm
    if kind != "round" and pot.outline.kind == "round":
        width = round(0.75 * pot.length_mm)
    return pot.changed(outline=outline, width_mm=width)


def with_count(pot: Pot, count: int) -> Pot:
    """The pot with so many sides or lobes. Raises FieldError for a number that cannot be."""
    name = "sides" if pot.outline.kind == "polygon" else "lobes"
    return settled(pot.changed(outline=pot.outline.changed(**{name: count})), holes_follow=rule_holes(pot))


def with_feet_style(pot: Pot, style: str) -> Pot:
    """The pot on other feet; none brings the body down to the bench."""
    body = pot.body_height_mm
    feet = 0.0 if style == "none" else pot.feet_mm or 8.0
    if style == "columns":
        feet = max(feet, LEAST_COLUMN_MM)
    return settled(
        pot.changed(feet_style=style, feet_mm=feet, height_mm=round(body + feet, 1), foot_count=None),
        holes_follow=False,
    )


def with_hole(pot: Pot, number: int, x: float, y: float) -> Pot:
    """A hole dragged elsewhere. Raises FieldError when it leaves the floor or meets another."""
    holes = list(pot.holes)
    holes[number] = holes[number].changed(x_mm=round(x, 1), y_mm=round(y, 1))
    made = pot.changed(holes=tuple(holes))
    check_shape(made)
    return made


def with_point(pot: Pot, number: int, x: float, y: float) -> Pot:
    """A corner of a free outline dragged elsewhere; length and width follow. Raises FieldError when lines would cross."""
    points = np.array(pot.outline.points_mm, float)
    points[number] = (x, y)
    low, high = points.min(axis=0), points.max(axis=0)
    points -= (low + high) / 2
    size = np.round(high - low, 1)
    outline = pot.outline.changed(points_mm=tuple((round(float(a), 1), round(float(b), 1)) for a, b in points))
    made = pot.changed(outline=outline, length_mm=float(size[0]), width_mm=float(size[1]))
    return settled(made, holes_follow=rule_holes(pot))


def freed(pot: Pot) -> Pot:
    """The pot with its outline as a dozen points that can be dragged one by one."""
    ring = outline_points(pot.outline, pot.length_mm, pot.width_mm, 0.0, 240)
    at = np.linspace(0, len(ring), FREE_POINTS, endpoint=False).astype(int)
    points = ring[at]
    points = points - (points.min(axis=0) + points.max(axis=0)) / 2
    outline = Outline(kind="free", points_mm=tuple((round(float(x), 1), round(float(y), 1)) for x, y in points))
    size = np.ptp(points, axis=0)
    made = pot.changed(outline=outline, length_mm=round(float(size[0]), 1), width_mm=round(float(size[1]), 1))
    return settled(made, holes_follow=True)


def with_one_more_hole(pot: Pot, diameter: float) -> Pot:
    """One more hole at the first free place. Raises FieldError when there is none."""
    for y in (0.0, 40.0, -40.0, 70.0, -70.0):
        for x in (0.0, 50.0, -50.0, 90.0, -90.0, 130.0, -130.0):
            made = pot.changed(holes=(*pot.holes, Hole(x_mm=x, y_mm=y, diameter_mm=diameter)), holes_known=True)
            try:
                check_shape(made)
            except FieldError:
                continue
            return made
    raise FieldError("holes", f"no room for one more hole of {diameter:g} mm on this floor")


def profile_grips(pot: Pot) -> list[Grip]:
    """Grips of the half section: x from the pot's axis out, y up from the bench."""
    outer, inner = wall_curves(pot, pot.length_mm / 2)
    half, p = pot.length_mm / 2, pot.profile
    found = [
        Grip("height_mm", "Height with feet", half, pot.height_mm, "y", pot.height_mm),
        Grip(
            "length_mm",
            "Length at the rim",
            half + 0.01,
            pot.height_mm - 0.12 * pot.body_height_mm,
            "x2",
            pot.length_mm,
        ),
    ]
    if p.kind != "tube" and p.kind != "slab":
        found.append(
            Grip("base_inset_mm", "Foot stands in by", float(outer[0, 0]), pot.feet_mm, "x", p.base_inset_mm, -1.0)
        )
    if p.kind == "bowed":
        middle = len(outer) // 2
        found.append(Grip("belly_mm", "Belly", float(outer[middle, 0]), float(outer[middle, 1]), "x", p.belly_mm))
    if p.kind == "lip":
        y = pot.feet_mm + p.lip_height_share * pot.body_height_mm
        x = half - p.lip_offset_mm
        found += [Grip("lip_offset_mm", "Lip out", x, y, "x", p.lip_offset_mm, -1.0),
                  Grip("lip_at_mm", "Height where the lip breaks", x - pot.wall_mm, y, "y", y)]  # fmt: skip
    found += band_grips(pot)
    if p.kind != "slab":
        found += [
            Grip("wall_mm", "Wall", float(inner[-1, 0]), pot.height_mm, "x", pot.wall_mm, -1.0),
            Grip("floor_mm", "Floor", 0.55 * float(inner[0, 0]), pot.feet_mm + pot.floor_mm, "y", pot.floor_mm),
        ]
    found.append(
        Grip("feet_mm", "Feet", 0.72 * float(outer[0, 0]), pot.feet_mm if pot.feet_mm else 0.0, "y", pot.feet_mm)
    )
    return found


def plan_grips(pot: Pot) -> list[Grip]:
    """Grips of the plan, front below: sizes, corner, and every hole."""
    half_l, half_w = pot.length_mm / 2, pot.width_mm / 2
    found = [Grip("length_mm", "Length at the rim", half_l, 0.0, "x2", pot.length_mm)]
    if pot.outline.kind != "round":
        found.append(Grip("width_mm", "Width at the rim", 0.0, half_w, "y2", pot.width_mm))
    if pot.outline.kind == "rectangle":
        found.append(
            Grip("corner_mm", "Corner radius", half_l - pot.outline.corner_mm, half_w, "x", pot.outline.corner_mm, -1.0)
        )
    if pot.outline.kind == "free" and len(pot.outline.points_mm) <= MOST_POINTS:
        return [
            *(
                Grip(f"point:{k}", f"Corner {k + 1} of the outline", x, y, "x", x)
                for k, (x, y) in enumerate(pot.outline.points_mm)
            ),
            *_hole_grips(pot),
        ]
    return [*found, *_hole_grips(pot)]


def _hole_grips(pot: Pot) -> list[Grip]:
    found = []
    for k, hole in enumerate(pot.holes):
        name = "Drain hole" if hole.drains else "Tie hole"
        found.append(Grip(f"hole:{k}", f"{name} {letters(k)}", hole.x_mm, hole.y_mm, "x", hole.x_mm))
    return found


def live_facts(pot: Pot, u: Units) -> tuple[Fact, ...]:
    """What the potter asks first: inside, soil, mass, drainage."""
    b = body(columns([pot]))
    two = differs(pot)
    outside = f"{u.figure(pot.length_mm)} × {u.figure(pot.width_mm)} × {u.mm(pot.height_mm)}"
    facts = [Fact("At the rim" if two else "Outside", outside), *overall_fact(pot, u)]
    if pot.profile.kind != "slab":
        inner = f"{u.figure(pot.length_mm - 2 * pot.wall_mm)} × {u.figure(pot.width_mm - 2 * pot.wall_mm)} × {u.mm(pot.inner_depth_mm)}"
        share = float(b.hole_area_cm2[0]) * 100 / max(float(b.floor_area_mm2[0]), 1.0)
        far = dead_corner_mm(pot)
        facts += [Fact("Inside", inner), Fact("To the rim", u.litres(float(b.inner_volume_l[0]))),
                  Fact("Holes", f"{share:.1%} of the floor", "fits" if share >= 0.02 else "watch"),
                  Fact("Farthest corner", "no drain" if far == float("inf") else u.mm(far), "fits" if drains_everywhere(pot) else "watch")]  # fmt: skip
    facts.append(Fact("Empty", u.kg(float(b.mass_kg[0]))))
    return tuple(facts)


def chart_span(values: Sequence[tuple[float, float]]) -> tuple[float, float, float]:
    """(right, low, high) of the trade-off chart round what is shown; its left is 0."""
    if not values:
        return 1.0, -0.2, 0.6
    xs, ys = [v[0] for v in values], [v[1] for v in values]
    return max(1.0, max(xs) * 1.08), min(-0.15, min(ys) - 0.05), max(0.3, max(ys) + 0.08)
