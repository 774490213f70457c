"""A pot without enough holes: where to drill, how near the edge, with what; and what else would make it fit (C5)."""

from dataclasses import dataclass

import numpy as np
import shapely

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import Case
from kesh.advice.making.floor import floor_checks
from kesh.advice.making.job import Check, Item, Job, WorkStep, warned
from kesh.errors import FieldError
from kesh.figure.drawing import Circle, Dim, Drawing, Line, Words
from kesh.figure.drawing import Item as Mark
from kesh.figure.pot_drawing import hole_table, holes
from kesh.geometry.columns import columns
from kesh.geometry.feet import BETWEEN_MM, apart_mm, base_ring, foot_plans, off_feet, over_foot
from kesh.geometry.holes import floor_ring
from kesh.model import Hole, Pot
from kesh.reference.tables import material
from kesh.science.hardware import plan_holes, tie_pairs

# distance from a hole's rim to the wall inside, by wall thicknesses, and at least; brittle bodies want more [J]
EDGE_WALLS = {"porcelain": 2.0, "earthenware": 2.0, "terracotta": 2.0, "raku": 2.5, "stone_": 2.5, "concrete": 2.0}
LEAST_EDGE_MM = 12.0
BITS = {
    "print": ("step drill at low speed", "no cooling, short bursts: it melts"), "poly": ("step drill", "no cooling, a board behind"),
    "pvc": ("step drill", "no cooling, a board behind"), "timber": ("flat or Forstner bit", "a board behind, none"),
    "steel": ("step drill or hole saw for metal", "cutting oil"), "aluminium": ("step drill", "a drop of spirit"),
}  # fmt: skip
CERAMIC_BIT = ("diamond core", "always wet: a sponge or a ring of putty filled with water")
MINUTES_PER_MM = {"ceramic": 0.9, "other": 0.15}


def edge_needed_mm(pot: Pot, hole: Hole) -> float:
    """How far the rim of a hole stays from the wall inside."""
    walls = next((v for k, v in EDGE_WALLS.items() if pot.material.startswith(k)), 1.5)
    return (
        max(LEAST_EDGE_MM, 0.75 * hole.diameter_mm, walls * pot.wall_mm)
        if hole.drains
        else max(8.0, walls * pot.wall_mm)
    )


def edge_mm(pot: Pot, hole: Hole) -> float:
    """How far the rim of a hole is from the wall inside; negative when it runs into it."""
    floor, centre = floor_ring(pot), shapely.Point(hole.x_mm, hole.y_mm)
    away, radius = float(floor.exterior.distance(centre)), hole.diameter_mm / 2
    return (away if floor.contains(centre) else -away) - radius


def wanted_holes(pot: Pot) -> tuple[Hole, ...]:
    """Holes of the rule that the pot does not have yet; tie holes make way for what is there."""
    plan = plan_holes(columns([pot]))
    kept: list[Hole] = list(pot.holes)
    found: list[Hole] = []
    short = sum(h.diameter_mm**2 for h in plan.drains) - sum(h.diameter_mm**2 for h in pot.drain_holes)
    for hole in plan.drains:
        if short <= 0.1 * hole.diameter_mm**2:
            break
        if all(apart_mm(hole, o) >= BETWEEN_MM for o in kept):
            found.append(hole.changed(x_mm=round(hole.x_mm, 1), y_mm=round(hole.y_mm, 1)))
            kept.append(hole)
            short -= hole.diameter_mm**2
    if len(pot.tie_holes) < 2:
        for hole in plan.wires:
            if all(apart_mm(hole, o) >= 12 for o in kept):
                found.append(hole.changed(x_mm=round(hole.x_mm, 1), y_mm=round(hole.y_mm, 1)))
                kept.append(hole)
    return off_feet(pot, tuple(found), pot.holes)


@dataclass(frozen=True)
class Fix:
    """One thing that would make a pot fit: what, minutes, the risk, and the pot after it."""

    what: str
    minutes: float
    risk: str
    pot: Pot


def fixes(a: Assessment) -> tuple[Fix, ...]:
    """What would make this pot fit better, in the order of the work."""
    pot, found = a.pot, []
    missing = wanted_holes(pot) if pot.holes_known and pot.profile.kind != "slab" else ()
    if missing:
        kind = "other" if _bit(pot)[0] != CERAMIC_BIT[0] else "ceramic"
        minutes = sum(MINUTES_PER_MM[kind] * pot.floor_mm + 3 for _ in missing)
        risk = "may crack at break-through" if kind == "ceramic" else "small"
        names = _counted(missing)
        found.append(Fix(f"Drill {names}", minutes, risk, pot.changed(holes=(*pot.holes, *missing), holes_known=True)))
    if pot.feet_mm < 2 and pot.profile.kind != "slab":
        after = pot.changed(
            height_mm=pot.height_mm + 8, feet_mm=8.0, feet_style="block", foot_count=4, foot_area_mm2=600.0
        )
        found.append(
            Fix("Set four feet of 8 mm under it, bedded in frost-proof mortar", 30, "small; let it set a week", after)
        )
    colour = a.finding("finish")
    if colour is not None and colour.status == "watch" and pot.finish in ("bright_glaze", "painted"):
        found.append(
            Fix(
                "Rub the glaze matt or repaint it quietly",
                60,
                "cannot be undone on glaze",
                pot.changed(finish="muted_glaze"),
            )
        )
    if pot.defects:
        found.append(Fix(f"Mend: {pot.defects.rstrip('.')}", 45, "a mended crack may open in frost", pot))
    if pot.price is None and pot.state == "shelf":
        found.append(Fix("Wash it out, scrub lime off with weak vinegar, rinse", 10, "none", pot))
    return tuple(found)


def fitted(case: Case, pot: Pot, chosen: tuple[Fix, ...]) -> tuple[Pot, Assessment]:
    """The pot after some fixes, and what it is worth then."""
    changes: dict[str, object] = {}
    for fix in chosen:
        changes |= {n: getattr(fix.pot, n) for n in type(pot).model_fields if getattr(fix.pot, n) != getattr(pot, n)}
    after = pot.changed(**changes) if changes else pot
    return after, assess(case, after)


def _counted(found: tuple[Hole, ...]) -> str:
    drains = [h for h in found if h.drains]
    wires = [h for h in found if not h.drains]
    parts = (
        [f"{len(drains)} drain hole{'s' if len(drains) > 1 else ''} of Ø {drains[0].diameter_mm:g} mm"]
        if drains
        else []
    )
    parts += [f"{len(wires)} tie hole{'s' if len(wires) > 1 else ''} of Ø {wires[0].diameter_mm:g} mm"] if wires else []
    return " and ".join(parts)


def _bit(pot: Pot) -> tuple[str, str]:
    return next((v for k, v in BITS.items() if k in pot.material), CERAMIC_BIT)


def drill_job(pot: Pot, new: tuple[Hole, ...] | None = None) -> Job:
    """The drill plan. `new` are holes set by hand, else those the rule still misses.

    Raises FieldError for a slab, or for a hole off the floor.
    """
    if pot.profile.kind == "slab":
        raise FieldError("profile", "a slab drains over its edge; there is no floor to drill")
    new = wanted_holes(pot) if new is None else new
    bit, cooling = _bit(pot)
    ceramic = bit == CERAMIC_BIT[0]
    sizes = sorted({h.diameter_mm for h in new})
    after = pot.changed(holes=(*pot.holes, *new), holes_known=True)
    share = sum(h.diameter_mm**2 for h in after.drain_holes) * np.pi / 4 / max(float(floor_ring(pot).area), 1.0)
    minutes = sum((MINUTES_PER_MM["ceramic" if ceramic else "other"] * pot.floor_mm + 3) for _ in new)
    facts = [
        ("Pot", f"{pot.name}, {material(pot.material).name.lower()}, floor {pot.floor_mm:g} mm"),
        ("To drill", _counted(new) if new else "nothing: the holes it has are enough"),
        ("Holes then", f"{share:.1%} of the floor; 2 to 3 % is custom"),
        ("Bit", f"{bit}, {', '.join(f'{s:g}' for s in sizes) or '–'} mm"),
        ("Cooling", cooling), ("Time", f"about {minutes:.0f} min"),
        ("Tie pairs", str(len(tie_pairs(after.tie_holes)))),
    ]  # fmt: skip
    bill = [Item(f"{bit} Ø {s:g} mm", 1, "pieces") for s in sizes]
    if ceramic and new:
        bill += [
            Item("wet sand in a tray", 1, "pieces", "holds the floor from below"),
            Item("tape", 1, "pieces", "keeps the bit from wandering"),
        ]
    steps = [
        WorkStep("Print the template at 100 %, measure its 100 mm bar, join the sheets at their marks."),
        WorkStep("Turn the pot over on wet sand or a folded cloth; tape the template on, front to front."),
        WorkStep(
            "Begin at a slant to cut a crescent, then upright; light hand, low speed, bit wet."
            if ceramic
            else "Centre-punch lightly and drill with a board behind."
        ),
        WorkStep("Stop half way and finish from the other side: most cracks come at break-through."),
        WorkStep("Smooth the rims, rinse, tap the pot: a dull sound is a crack."),
    ]
    return Job(
        "drill", f"{pot.name}: drill plan", after, tuple(facts), tuple(bill), tuple(steps) if new else (),
        warned("drill_pot", *(["power_wet"] if ceramic else [])) if new else (), _checks(pot, after, new),
        (template(pot, new),), template(pot, new),
        tables=(("Holes to drill", ("Hole", "Place from the middle"), tuple((r[0], r[3:]) for r in hole_table(pot.changed(holes=new)))),),
    )  # fmt: skip


def _checks(pot: Pot, after: Pot, new: tuple[Hole, ...]) -> tuple[Check, ...]:
    found = []
    for k, hole in enumerate(new):
        away, need = edge_mm(pot, hole), edge_needed_mm(pot, hole)
        if away < 0:
            raise FieldError("holes", f"hole {chr(65 + k)} runs into the wall; move it {need - away:.0f} mm inward")
        status = "fits" if away >= need - 0.05 else "watch"
        more = "" if status == "fits" else f"; {need:.0f} mm is safer in this body"
        found.append(Check(status, f"Hole {chr(65 + k)}: {away:.0f} mm from its rim to the wall{more}."))
        if over_foot(pot, hole):
            found.append(Check("watch", f"Hole {chr(65 + k)} lies over a foot: it would be shut from below."))
    found += floor_checks(after)
    return tuple(found)


def template(pot: Pot, new: tuple[Hole, ...]) -> Drawing:
    """The underside's outline with the holes to drill, true to size, front marked, seen from inside."""
    ring = base_ring(pot)
    floor = np.asarray(floor_ring(pot).exterior.coords)[:-1]
    items: list[Mark] = [Line(ring, "cut", closed=True), Line(floor, "inside", closed=True)]
    items += [Line(np.asarray(p.exterior.coords)[:-1], "hidden", closed=True) for p in foot_plans(pot)]
    items += holes(pot.changed(holes=new))
    items += [Circle(h.x_mm, h.y_mm, h.diameter_mm / 2, "marks") for h in pot.holes]
    x0, y0, x1, y1 = ring[:, 0].min(), ring[:, 1].min(), ring[:, 0].max(), ring[:, 1].max()
    items += [Line(np.array([[x0, 0], [x1, 0]]), "centre"), Line(np.array([[0, y0], [0, y1]]), "centre"),
              Words("front, seen from inside", 0, y0 + 6, 3.5, "center"),
              Dim(-50, y0 - 12, 50, y0 - 12, -6, suffix=" mm when printed true")]  # fmt: skip
    return Drawing(f"{pot.name}, drill template 1:1", tuple(items), ("Print at 100 %.",))
