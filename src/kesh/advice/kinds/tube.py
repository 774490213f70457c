"""Exposed roots: tube against roots, the cage of wire, and the soil lowered year by year."""

import numpy as np

from kesh.advice.case import Case
from kesh.advice.design.limit import WALL_MM, Limit, Sizes
from kesh.advice.figures import Figures
from kesh.advice.kinds.kind import FieldRow, Grip, Kind
from kesh.advice.kinds.kinds import DISPLAY, KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialCut, SpecialPlan, Stage, care, finding, months, nothing_yet
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.planting.steps.step import care as caution
from kesh.base.errors import FieldError
from kesh.figure.overlay import Area, Note, Overlay, Shape, Size, Stroke, box
from kesh.model import Planting, Tube
from kesh.science.special.tube import LESS_MM, Cage, cage, floor_end, least_inside_mm, lowerings, tube_length_mm

STOCK_MM = (1.0, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0)
MOST_STAGES = 5


def make(s: Setting) -> SpecialPlan:
    """The plan of a root tube."""
    tube, u, pot = s.planting.tube, s.u, s.a.pot
    if tube is None:
        return nothing_yet(
            "exposed_root",
            "No tube yet",
            "tube",
            "Nothing of the tube is entered yet.",
            "Enter how wide the bundle of roots is and how long it hangs.",
        )
    found = []
    inside = tube.inside_mm or pot.length_mm - 2 * pot.wall_mm
    length = tube.length_mm or pot.inner_depth_mm
    if length < 1.0:
        return nothing_yet(
            "exposed_root",
            "No tube yet",
            "tube",
            "This pot has no depth, and no length of a tube is entered.",
            "Enter the length of the tube, or take a pipe.",
        )
    figures = [Figure("Tube inside", u.mm(inside)), Figure("Tube length", u.mm(length))]
    bundle = max(tube.top_mm or 0.0, tube.foot_mm or 0.0) or None
    made: Cage | None = None
    if bundle is None:
        found.append(
            finding(
                "tube_inside",
                "unknown",
                "How wide the bundle of roots is is not known.",
                "Measure it at the top and at the foot, as it will be tied.",
            )
        )
    else:
        asked = least_inside_mm(bundle)
        status = "fits" if inside >= asked else "no"
        found.append(
            finding(
                "tube_inside",
                status,
                f"The tube is {u.mm(inside)} inside; a bundle of {u.mm(bundle)} asks {u.mm(asked)}.",
                "" if status == "fits" else "Take a wider pipe.",
                inside,
                "mm",
                asked,
            )
        )
    if tube.root_length_mm is None:
        found.append(
            finding(
                "tube_length",
                "unknown",
                "How long the roots hang after the cage is not known.",
                "Measure from the trunk's foot to where most of them end.",
            )
        )
    else:
        try:
            asked = tube_length_mm(tube.root_length_mm)
            status = "fits" if length <= asked + 0.5 else "watch"
            found.append(
                finding(
                    "tube_length",
                    status,
                    f"The tube is {u.mm(length)} long; roots of {u.mm(tube.root_length_mm)} ask {u.mm(asked)}, 30 mm go into the pot below.",
                    "" if status == "fits" else f"Cut it to {u.mm(asked)}.",
                    length,
                    "mm",
                    None,
                    asked,
                )
            )
        except FieldError as err:
            found.append(
                finding("tube_length", "no", f"{err.reason.capitalize()}.", "Let them grow on in a deep pot first.")
            )
    cuts = []
    if tube.top_mm is not None and tube.foot_mm is not None:
        made = cage(tube.top_mm, tube.foot_mm, length, tube.root_mm or 4.0, tube.pitch_mm, tube.turns)
        gauge = tube.wire_mm or next((g for g in STOCK_MM if g >= made.gauge_mm - 1e-9), STOCK_MM[-1])
        status = "fits" if gauge >= made.gauge_mm - 1e-9 else "watch"
        found.append(
            finding(
                "tube_gauge",
                status,
                f"Wire of {gauge:g} mm; {made.gauge_mm:.1f} mm asked, an eighth of the bundle.",
                "" if status == "fits" else "Take a thicker wire, or two side by side.",
                gauge,
                "mm",
                made.gauge_mm,
            )
        )
        radius = (min(tube.top_mm, tube.foot_mm)) / 2
        status = "fits" if radius >= made.bend_mm else "watch"
        found.append(
            finding(
                "tube_bend",
                status,
                f"Roots of {u.mm(tube.root_mm or 4.0)} bend round {u.mm(radius)}; {u.mm(made.bend_mm)} asked, six times their thickness.",
                "" if status == "fits" else "Lead the thickest ones straight down, wind the thin ones.",
                radius,
                "mm",
                made.bend_mm,
            )
        )
        cuts.append(
            SpecialCut(
                "cage",
                "helix",
                made.wire_mm,
                (),
                gauge,
                "aluminium",
                note=f"{made.turns} turns, {u.mm(made.pitch_mm)} apart, {u.mm(tube.top_mm)} above and {u.mm(tube.foot_mm)} below across; 50 mm at each end",
            )
        )
        figures += [Figure("Cage", f"{made.turns} turns, {u.mm(made.wire_mm)}")]
    start = tube.from_ or s.day
    steps_down = lowerings(start, tube.lower_mm_year, length)
    figures += [Figure("Lowered", f"{u.mm(tube.lower_mm_year)} a year, {len(steps_down)} years")]
    end = floor_end(s.day, tube.floor)
    if end is not None and (tube.floor == "tape" or end < steps_down[-1].day):
        found.append(
            finding(
                "tube_floor",
                "watch",
                f"A floor of {tube.floor} is to be looked at by {months(end)}: it has to last to {months(steps_down[-1].day)}.",
                "Renew it before it gives way, or take mesh on two bars.",
            )
        )
    title = f"Bare in {len(steps_down)} years, {u.mm(tube.lower_mm_year)} each"
    shown = (
        steps_down
        if len(steps_down) <= MOST_STAGES
        else tuple(steps_down[round(k * (len(steps_down) - 1) / (MOST_STAGES - 1))] for k in range(MOST_STAGES))
    )
    stages = tuple(
        Stage(
            f"{u.mm(one.bare_mm)} bare",
            one.day,
            f"{months(one.day)}, roots on top firm",
            f"{u.mm(one.left_mm)} left in the tube",
            Overlay(_front(s, inside, length, one.bare_mm, made, dims=False)),
        )
        for one in shown
    )
    after = (
        care(
            "look_closer",
            330,
            400,
            "Look at the tube's floor and at the upper roots before the soil is lowered.",
            "Roots on top are firm and brown.",
            "An improvised floor is looked at within a year.",
        ),
    )
    return SpecialPlan("exposed_root", title, tuple(figures), tuple(found), tuple(cuts), stages, Overlay(_front(s, inside, length, 0.0, made, dims=True)), Overlay(), after)  # fmt: skip


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    tube, u = s.planting.tube or Tube(), s.u
    start = tube.from_ or s.day
    length = tube.length_mm or s.a.pot.inner_depth_mm
    floor = {
        "tape": "Close the foot with tape; look at it within a year.",
        "mesh": "Mesh on two bars across the foot.",
        "board": "A board with holes under the foot.",
        "none": "Open below: it stands on the soil of a pot.",
    }[tube.floor]
    return (
        WorkStep("floor", "floor", "Make the tube's floor", lines=(floor,), minutes=6.0),
        WorkStep("cage", "cage", "Wind the cage", "" if tube.wire_mm is None else f"{tube.wire_mm:g}", "mm wire" if tube.wire_mm is not None else "", ("From the foot up, wide enough for a finger between wire and roots.",), cautions=caution("wire_ends"), minutes=20.0),
        WorkStep("lift", "lift", "Take the tree out of its pot", lines=("Whole, with all its long roots.",), drawing="lift", minutes=5.0),
        WorkStep("wash", "wash", "Wash the roots bare", lines=("A soft jet, lukewarm; long roots stay long.",), drawing="comb", clock="start", minutes=15.0),
        WorkStep("tap", "tap", "Shorten what runs straight down and leads all others", lines=("Side roots that are to be seen stay whole.",), minutes=5.0),
        WorkStep("bind", "bind", "Lay the roots into the cage and bind them", lines=("No root bent sharper than six times its thickness; soft ties, off in a year.",), minutes=15.0),
        WorkStep("set", "set", f"Slip the tube over, {u.mm(length)} long, and stand it up", u.figure(length), f"{u.length} long", ("Root base level with the upper edge.",), cautions=caution("tall_tips"), minutes=8.0),
        WorkStep("fill", "fill", "Fill in layers, each watered down", lines=("Fine, sandy mix runs between the roots; tap the tube.",), drawing="fill", clock="end", minutes=15.0),
        WorkStep("guys", "guys", "Three guys to the bench", lines=("They stay until the foot has rooted.", f"Lower the soil by {u.mm(tube.lower_mm_year)} a year, first in {months(start)}: roots firm and as brown as bark decide."), minutes=8.0),
    )  # fmt: skip


def _front(
    s: Setting, inside: float, length: float, bare: float, made: Cage | None, *, dims: bool
) -> tuple[Shape, ...]:
    """The tube cut open, its cage, the bundle of roots, the soil that is left, the marks of the years."""
    x, top = s.planting.offset_x_mm, s.a.pot.height_mm
    low = max(top - length, s.floor_mm if s.a.pot.profile.kind != "slab" else top - length)
    wall = max(s.a.pot.wall_mm, 3.0)
    half = inside / 2
    shapes: list[Shape] = []
    soil = top - bare
    if bare > 0:
        shapes.append(Area(box(x - half, soil, x + half, top + 1), "air", "behind"))
    shapes.append(Area(box(x - half, low, x + half, max(soil, low)), "soil", "behind"))
    # of the bundle, wider above
    top_w, foot_w = (made.top_mm, made.foot_mm) if made is not None else (0.5 * inside, 0.4 * inside)
    for k in range(7):
        u = (k - 3) / 3
        line = tuple(
            (
                x + u * (top_w + (foot_w - top_w) * t) / 2 * (1 - 0.12 * ((k * 5 + round(9 * t)) % 3)),
                top - t * (top - low) + 6 * (1 - t),
            )
            for t in (0, 0.2, 0.45, 0.7, 1.0)
        )
        shapes.append(Stroke(line, "root", 4.5 if k % 2 else 3.2))
    if made is not None:
        import numpy as np

        turns = np.linspace(0, made.turns, made.turns * 16 + 1)
        pitch = (top - low) / made.turns
        curve = tuple(
            (
                x + (made.top_mm + (made.foot_mm - made.top_mm) * t / made.turns) / 2 * float(np.sin(2 * np.pi * t)),
                top - float(t) * pitch,
            )
            for t in turns
        )
        shapes.append(Stroke(curve, "wire", 2.0))
    if soil < top - 1:
        shapes.append(Stroke(((x - half, soil), (x + half, soil)), "cut"))
    standing = min(soil, top)
    for side in (-1, 1):
        x0, x1 = x + side * half, x + side * (half + wall)
        shapes.append(Area(box(min(x0, x1), low, max(x0, x1), standing if not dims else top), "tube"))
    if dims:
        tube = s.planting.tube
        step = tube.lower_mm_year if tube is not None else 40.0
        n = 1
        while n * step < length - 1 and n < 12:
            y = top - n * step
            shapes.append(Stroke(((x - half - wall - 8, y), (x + half + wall + 8, y)), "cut", dashed=True))
            shapes.append(Note((x + half + wall + 12, y - 3), f"year {n}"))
            n += 1
        shapes.append(Size((x - half, 0), (x + half, 0), s.u.figure(inside), -14.0))
        shapes.append(Size((x - half - wall, low), (x - half - wall, top), s.u.figure(length), -26.0, level=False))
    return tuple(shapes)


def _grips(s: Setting) -> list[Grip]:
    tube = s.planting.tube
    if tube is None:
        return []
    return [Grip("tube:lower", "Soil after the first year", "front", s.foot[0], s.a.pot.height_mm - tube.lower_mm_year)]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p, pot = s.planting, s.a.pot
    assert p.tube is not None
    return p.changed(tube=p.tube.changed(lower_mm_year=round(max(pot.height_mm - y_mm, 1.0), 1)))


def _bundle_mm(p: Planting) -> float:
    """Across the tied roots where they are thickest; nought while that is not known."""
    return 0.0 if p.tube is None else max(p.tube.top_mm or 0.0, p.tube.foot_mm or 0.0)


def _sizes(case: Case, p: Planting) -> Sizes:
    if p.tube is None:
        return Sizes()
    bundle, hangs = _bundle_mm(p), p.tube.root_length_mm
    wide = (least_inside_mm(bundle) + 2 * WALL_MM,) if bundle else ()
    long = (hangs - LESS_MM,) if hangs is not None and hangs > LESS_MM else ()
    return Sizes(tuple(k * v for v in wide for k in (1.0, 1.35)), tuple(k * v for v in long for k in (0.9, 1.05)))


def _limits(f: Figures, p: Planting) -> tuple[Limit, ...]:
    found: list[Limit] = []
    bundle = _bundle_mm(p)
    if bundle:
        inner, asked = np.minimum(f.pots.length, f.pots.width) - 2 * f.pots.wall, least_inside_mm(bundle)
        found.append(Limit("tube_inside", "inside of the tube", "mm", inner, asked, asked, False, False))
    if p.tube is not None and p.tube.root_length_mm is not None:
        most = max(p.tube.root_length_mm - LESS_MM, 1.0)
        found.append(Limit("tube_length", "length of the tube", "mm", f.pots.inner_depth, most, most, True, False))
    return tuple(found)


ORDER = ("floor", "cage", "lift", "wash", "tap", "bind", "set", "fill", "guys", "water", "carry")
KIND = Kind(
    KindRow("exposed_root", 4, "Root tube", "Its roots grow down a tube in a cage of wire; the soil is lowered year by year until they are bare.", field="tube", styles=("exposed_root",), off=DISPLAY, why_off="a tube is made for its roots, not for show"),
    fields=(
        FieldRow("inside_mm", "Inside", "mm", "Of the tube; the pot's own without it"), FieldRow("length_mm", "Length", "mm", "Of the tube; the pot's depth without it"),
        FieldRow("top_mm", "Bundle above", "mm", "Across the tied roots at the trunk"), FieldRow("foot_mm", "Bundle below", "mm", "Across at their foot"),
        FieldRow("root_mm", "Thickest root", "mm"), FieldRow("root_length_mm", "Roots hang", "mm", "After the cage is wound"),
        FieldRow("pitch_mm", "Pitch", "mm", "From turn to turn; by rule without it"), FieldRow("turns", "Turns", "count", "By rule without them"),
        FieldRow("wire_mm", "Wire", "mm", "By rule without it"), FieldRow("lower_mm_year", "Lowered a year", "mm", blank=False),
        FieldRow("from_", "First lowering", "date"), FieldRow("floor", "Floor", "choice", options=(("mesh", "mesh on bars"), ("board", "board with holes"), ("tape", "layers of tape"), ("none", "none"))),
    ),
    make=make,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Tube(),
    grips=_grips,
    pull=_pull,
    sizes=_sizes,
    limits=_limits,
)  # fmt: skip
