"""A pot without enough holes: where to drill, how near the edge, with what; and what else would make it fit (C5)."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.assess import Assessment, assess
from kesh.advice.case import Case
from kesh.advice.routes.drill_places import LEAST_DRAIN_MM, edge_mm, edge_needed_mm, wanted_holes
from kesh.advice.routes.floor import floor_checks
from kesh.advice.routes.job import Check, Item, Job, WorkStep, warned
from kesh.advice.routes.route import Judge, Route
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import FieldError
from kesh.base.words import counted
from kesh.figure.drawing import Circle, Dim, Drawing, Line, Words
from kesh.figure.drawing import Item as Mark
from kesh.figure.pot_drawing import hole_rows, holes, letters
from kesh.geometry.feet import base_ring, foot_plans, over_foot
from kesh.geometry.holes import draining, floor_ring, misplaced, on_floor
from kesh.model import Hole, Pot
from kesh.reference.tables import material
from kesh.science.stand.hardware import tie_pairs

# how a body is drilled: bit, cooling, minutes for each mm of floor, caution; what none of the words meets is ceramic
WAYS = {
    "ceramic": ("diamond core", "always wet: a sponge or a ring of putty filled with water", 0.9, "drill_pot"),
    "plastic": ("step drill at low speed", "no cooling, short bursts: it melts; a board behind", 0.15, "drill_plastic"),
    "timber": ("flat or Forstner bit", "dry, a board behind", 0.15, "drill_timber"),
    "metal": ("step drill for metal", "a drop of cutting oil", 0.4, "drill_metal"),
    "laminate": ("hard-metal bit", "damp, slow, a board behind", 0.3, "drill_laminate"),
}  # fmt: skip
BODIES = {
    "print": "plastic", "poly": "plastic", "pvc": "plastic", "abs": "plastic", "fabric": "plastic", "timber": "timber", "steel": "metal",
    "aluminium": "metal", "copper": "metal", "iron": "metal", "fibreglass": "laminate", "mica": "laminate",
}  # fmt: skip


def body_of(pot: Pot) -> str:
    """How the pot's body is drilled: a key of `WAYS`."""
    return next((v for k, v in BODIES.items() if k in pot.material), "ceramic")


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
        kind = body_of(pot)
        minutes = sum(WAYS[kind][2] * pot.floor_mm + 3 for _ in missing)
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
    """Holes by purpose and size: '3 drain holes of Ø 18 mm and 4 tie holes of Ø 5 mm'."""
    parts = []
    for name, own in (("drain", [h for h in found if h.drains]), ("tie", [h for h in found if not h.drains])):
        for size in sorted({h.diameter_mm for h in own}, reverse=True):
            count = sum(h.diameter_mm == size for h in own)
            parts.append(f"{counted(count, f'{name} hole')} of Ø {size:g} mm")
    return " and ".join(parts)


def drill_job(pot: Pot, new: tuple[Hole, ...] | None = None) -> Job:
    """The drill plan. `new` are holes set by hand, else those the rule still misses.

    Where there is nothing to drill the job has figures only: no bill, no steps, no template. Raises FieldError for a slab,
    or for a hole off the floor.
    """
    if pot.profile.kind == "slab":
        raise FieldError("profile", "a slab drains over its edge; there is no floor to drill")
    new = wanted_holes(pot) if new is None else new
    kind = body_of(pot)
    bit, cooling, slow, caution = WAYS[kind]
    sizes = sorted({h.diameter_mm for h in new})
    after = pot.changed(holes=(*pot.holes, *new), holes_known=True)
    share = sum(h.diameter_mm**2 for h in draining(after)) * np.pi / 4 / max(float(floor_ring(pot).area), 1.0)
    facts = [
        ("Pot", f"{pot.name}, {material(pot.material).name.lower()}, floor {pot.floor_mm:g} mm"),
        ("To drill", _counted(new) if new else _nothing(pot)),
        ("Holes then" if new else "Holes", f"{share:.1%} of the floor; 2 to 3 % is custom"),
        *([("Bit", f"{bit}, {', '.join(f'{s:g}' for s in sizes)} mm"), ("Cooling", cooling),
           ("Time", f"about {sum(slow * pot.floor_mm + 3 for _ in new):.0f} min")] if new else []),
        ("Tie pairs", str(len(tie_pairs(after.tie_holes)))),
    ]  # fmt: skip
    if not new:
        return Job("drill", f"{pot.name}: drill plan", after, tuple(facts), (), (), (), _checks(pot, after, new))
    bill = [Item(f"{bit} Ø {s:g} mm", 1, "pieces") for s in sizes]
    bill += {
        "ceramic": [Item("wet sand in a tray", 1, "pieces", "holds the floor from below")],
        "metal": [Item("cutting oil", 1, "pieces"), Item("round file", 1, "pieces")],
    }.get(kind, [Item("board to drill into", 1, "pieces", "so that the rim does not tear")])
    bill.append(Item("tape", 1, "pieces", "keeps the bit from wandering"))
    shown = template(pot, new)
    stands, lies = (hole_rows(pot.changed(holes=h)) for h in (new, _from_below(new)))
    holes_then = tuple((name, above, below) for (name, above), (_, below) in zip(stands, lies, strict=True))
    return Job(
        "drill", f"{pot.name}: drill plan", after, tuple(facts), tuple(bill), _steps(kind),
        warned(caution, *(["power_wet"] if kind in ("ceramic", "laminate") else [])), _checks(pot, after, new), (shown,), shown,
        tables=(("Holes to drill", ("Hole", "As the pot stands, from above", "On the template, from below"), holes_then),),
    )  # fmt: skip


def _nothing(pot: Pot) -> str:
    """Why there is nothing to drill: enough holes, or no place for one."""
    if draining(pot):
        return "nothing: the holes it has are enough"
    least = Hole(diameter_mm=LEAST_DRAIN_MM)
    return f"nothing: no hole fits; this floor leaves no place {edge_needed_mm(pot, least):.0f} mm from wall, feet and other holes"


def _steps(kind: str) -> tuple[WorkStep, ...]:
    ceramic = kind == "ceramic"
    return (
        WorkStep("Print the template at 100 %, measure its 100 mm bar, join the sheets at their marks; cut out where the feet stand."),
        WorkStep("Roll the pot over sideways, so that its front still looks at you; tape the template on its underside, front to front."),
        WorkStep(
            "Begin at a slant to cut a crescent, then upright; light hand, low speed, bit wet." if ceramic
            else "Mark the middles with a light punch, begin small, and drill with a board behind."
        ),
        WorkStep("Stop half way and finish from the other side: most cracks come at break-through." if ceramic
                 else "Ease off as the bit comes through: that is where rims tear."),
        WorkStep("Smooth the rims, rinse, tap the pot: a dull sound is a crack." if ceramic else "Smooth both rims; pour water in and see that all of it leaves."),
    )  # fmt: skip


def _from_below(found: tuple[Hole, ...]) -> tuple[Hole, ...]:
    """Holes as they lie on the underside: left and right change places."""
    return tuple(hole.changed(x_mm=-hole.x_mm) for hole in found)


def _checks(pot: Pot, after: Pot, new: tuple[Hole, ...]) -> tuple[Check, ...]:
    found = []
    for k, hole in enumerate(new):
        away, need = edge_mm(pot, hole), edge_needed_mm(pot, hole)
        if away < 0:
            raise FieldError("holes", f"hole {letters(k)} runs into the wall; move it {need - away:.0f} mm inward")
        status = "fits" if away >= need - 0.05 else "watch"
        more = "" if status == "fits" else f"; {need:.0f} mm is safer in this body"
        found.append(Check("drill_rim", status, f"Hole {letters(k)}: {away:.0f} mm from its rim to the wall{more}."))
        if over_foot(pot, hole):
            found.append(
                Check("drill_foot", "watch", f"Hole {letters(k)} lies over a foot: it would be shut from below.")
            )
    for hole in misplaced(pot):
        found.append(
            Check(
                "drill_lost",
                "watch",
                f"The hole of {hole.diameter_mm:g} mm entered at {hole.x_mm:g}, {hole.y_mm:g} does not lie on the floor; it is left out. Correct it on the Shelf.",
            )
        )
    found += floor_checks(after)
    return tuple(found)


def template(pot: Pot, new: tuple[Hole, ...]) -> Drawing:
    """The underside with the holes to drill, true to size, as it lies on the pot turned over: left and right swapped."""
    mirror = np.array([-1.0, 1.0])
    ring = base_ring(pot) * mirror
    floor = np.asarray(floor_ring(pot).exterior.coords)[:-1] * mirror
    items: list[Mark] = [Line(ring, "cut", closed=True), Line(floor, "inside", closed=True)]
    items += [Line(np.asarray(p.exterior.coords)[:-1] * mirror, "hidden", closed=True) for p in foot_plans(pot)]
    items += holes(pot.changed(holes=_from_below(new)))
    # a hole somebody entered beside the floor is none: it would only make the sheet larger
    items += [Circle(h.x_mm, h.y_mm, h.diameter_mm / 2, "marks") for h in _from_below(on_floor(pot, pot.holes))]
    x0, y0, x1, y1 = ring[:, 0].min(), ring[:, 1].min(), ring[:, 0].max(), ring[:, 1].max()
    # all words stand inside the outline: a millimetre beyond it would cost a row of sheets
    items += [Line(np.array([[x0, 0], [x1, 0]]), "centre"), Line(np.array([[0, y0], [0, y1]]), "centre"),
              Line(np.array([[-6, y0 + 9], [0, y0 + 2], [6, y0 + 9]]), "outline"),
              Words("FRONT of the pot", 0, y0 + 11, 4, "center"), Words("back", 0, y1 - 8, 3.5, "center"),
              Words("for the underside, seen from below", 0, y1 - 15, 3.5, "center"),
              Words("pot's right", x0 + 12, 3, 3.5), Words("pot's left", x1 - 12, 3, 3.5, "right"),
              Dim(-50, y0 + 22, 50, y0 + 22, 4, suffix=" mm when printed true")]  # fmt: skip
    return Drawing(
        f"{pot.name}, drill template 1:1 from below",
        tuple(items),
        ("Print at 100 %.", "Taped on the underside, front to front."),
    )


def _make(pot: Pot, judge: Judge, w: MakerWishes) -> Job:
    return drill_job(pot)


ROUTE = Route("drill", 4, "Drill and adapt", "For the drill", "Write template and drill plan", "Drill plan", _make)
