"""Slabs, rafts and landscape trays: a mound without walls, its ring of moss or mud, the things that stand on it."""

from math import atan, degrees

from kesh.advice.kinds.kind import FieldRow, Grip, Kind
from kesh.advice.kinds.kinds import KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialCut, SpecialPlan, Stage, care, finding, months, nothing_yet
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.planting.steps.step import care as caution
from kesh.figure.overlay import Area, Note, Overlay, Shape, Size, Stroke, oval
from kesh.model import Planting, Slab
from kesh.science.roots.heap import DRY_SLOPE_DEG, WET_SLOPE_DEG
from kesh.science.season.days import later
from kesh.science.special.rock import ellipse_perimeter_mm
from kesh.science.special.shared import EDGE_MM, mound_l, ring_l

MUD_KG_L, MIX_WET_KG_L = 1.7, 1.1


def make(s: Setting) -> SpecialPlan:
    """The plan of a slab or raft."""
    row, u, pot = s.planting.slab, s.u, s.a.pot
    if row is None:
        return nothing_yet(
            "slab",
            "Nothing of the mound yet",
            "slab",
            "Nothing of the mound is entered yet.",
            "Enter how high it rises and what holds it.",
        )
    a = row.reach_x_mm or max(pot.length_mm / 2 - EDGE_MM - row.ring_wide_mm, 20.0)
    b = row.reach_y_mm or max(pot.width_mm / 2 - EDGE_MM - row.ring_wide_mm, 20.0)
    soil = mound_l(a, b, row.mound_mm)
    ring = ring_l(a, b, row.ring_wide_mm, row.ring_high_mm) if row.ring != "none" else 0.0
    around = float(ellipse_perimeter_mm(a + row.ring_wide_mm / 2, b + row.ring_wide_mm / 2))
    free = max(row.mound_mm - (row.ring_high_mm if row.ring != "none" else 0.0), 0.0)
    slope = degrees(atan(2 * row.mound_mm / min(a, b)))
    held = row.ring != "none" and row.ring_high_mm >= 0.35 * row.mound_mm
    limit = WET_SLOPE_DEG if held else DRY_SLOPE_DEG
    status = "fits" if slope <= limit else "watch" if slope <= WET_SLOPE_DEG else "no"
    found = [
        finding("slab_slope", status, f"Its side rises by {slope:.0f}°; {'with its ring wetted fines stand' if held else 'dry grains stand'} up to {limit:.0f}°.", "" if status == "fits" else "A lower mound, a higher ring, or a wet mix with fines and moss at once.", slope, "deg", None, limit),
    ]  # fmt: skip
    over = max(a + row.ring_wide_mm - pot.length_mm / 2, b + row.ring_wide_mm - pot.width_mm / 2)
    found.append(
        finding(
            "slab_edge",
            "fits" if over <= 0 else "no",
            "The ring lies on the slab." if over <= 0 else f"The ring reaches {u.mm(over)} over the edge.",
            "" if over <= 0 else "Draw the mound in.",
            over,
            "mm",
            None,
            0.0,
        )
    )
    roots = s.a.case.roots
    if roots is not None:
        room = min(a - roots.length_mm / 2, b - roots.width_mm / 2)
        found.append(
            finding(
                "slab_roots",
                "fits" if room >= 0 else "watch",
                f"The root mass of {u.mm(roots.length_mm)} × {u.mm(roots.width_mm)} {'lies within' if room >= 0 else 'reaches out of'} the mound.",
                "" if room >= 0 else "Widen the mound, or take roots back.",
                room,
                "mm",
                0.0,
            )
        )
    mass = soil * MIX_WET_KG_L + ring * MUD_KG_L
    figures = [
        Figure("Mound", u.litres(soil)), Figure("Ring", "none" if row.ring == "none" else f"{u.litres(ring)} of {'clay mud' if row.ring == 'clay_mud' else 'moss'}, {u.mm(around)} round"),
        Figure("Wet, without the slab", u.kg(mass)), Figure("Over the ring", u.mm(free)),
    ]  # fmt: skip
    stand = s.a.figures.stand
    if stand is not None:
        figures.append(Figure("With the slab", u.kg(float(stand.mass_wet_kg[0]))))
    lost = [t for t in row.things if t.put_back]
    if lost:
        found.append(
            finding(
                "slab_things",
                "fits",
                f"{len(lost)} thing{'' if len(lost) == 1 else 's'} come off before the work and back after: {', '.join(t.name or t.kind for t in lost)}.",
            )
        )
    cuts = (
        (
            SpecialCut(
                "ring",
                "moss, in strips" if row.ring == "moss" else "clay mud, rolled",
                around,
                (),
                row.ring_wide_mm,
                "",
                1,
                f"{u.mm(row.ring_wide_mm)} wide, {u.mm(row.ring_high_mm)} high, {u.litres(ring)}",
            ),
        )
        if row.ring != "none"
        else ()
    )
    after = [
        care("remoss", 7, 60, "Wet the ring every day; patch what has dried or washed out.", "The moss grows."),
        care(
            "look_closer",
            300,
            380,
            "Look whether roots hold the mound: then the mud may go.",
            "Roots show at the ring.",
        ),
    ]
    if lost:
        after.append(
            care(
                "put_back",
                30,
                60,
                f"Put back: {', '.join(t.name or t.kind for t in lost)}.",
                "They stand in their places.",
            )
        )
    stages = (
        Stage("Ring and mound", s.day, months(s.day), f"{u.litres(soil)}", Overlay(_front(s, a, row.ring_high_mm, dims=False))),
        Stage("Moss closes", later(s.day, 90), "green all over", "misted", Overlay(_front(s, a, row.ring_high_mm, dims=False, green=True))),
        Stage("Roots hold", later(s.day, 365), "roots at the ring", "mud may go", Overlay(_front(s, a, 0.0, dims=False, green=True))),
    )  # fmt: skip
    return SpecialPlan("slab", f"{u.litres(soil)} of mound, {u.litres(ring)} of ring, {u.kg(mass)} wet", tuple(figures), tuple(found), cuts, stages, Overlay(_front(s, a, row.ring_high_mm, dims=True)), Overlay(_above(s, a, b)), tuple(after))  # fmt: skip


def _front(s: Setting, a: float, ring_high: float, *, dims: bool, green: bool = False) -> tuple[Shape, ...]:
    row = s.planting.slab
    assert row is not None
    top, x = s.a.pot.height_mm, 0.0
    dome = tuple((x + a * (k / 20 - 1), top + row.mound_mm * (1 - (k / 20 - 1) ** 2)) for k in range(41))
    shapes: list[Shape] = [Area((*dome, (x + a, top), (x - a, top)), "moss" if green else "soil")]
    if row.ring != "none" and ring_high > 0:
        for side in (-1, 1):
            x0 = x + side * a
            x1 = x0 + side * row.ring_wide_mm
            inside = x0 - side * 0.5 * row.ring_wide_mm
            shapes.append(
                Area(
                    (
                        (x1, top),
                        (x1 - side * 3, top + 0.8 * ring_high),
                        ((x0 + x1) / 2, top + ring_high),
                        (inside, top + ring_high * 0.9),
                        (inside, top),
                    ),
                    "mud" if row.ring == "clay_mud" else "moss",
                )
            )
    for t in row.things:
        z = top + row.mound_mm * max(1 - (t.x_mm / a) ** 2, 0.0)
        high = t.size_mm
        if t.kind == "stone":
            shapes.append(
                Area(
                    (
                        (t.x_mm - 0.5 * high, z - 3),
                        (t.x_mm + 0.5 * high, z - 3),
                        (t.x_mm + 0.35 * high, z + 0.5 * high),
                        (t.x_mm - 0.1 * high, z + 0.75 * high),
                        (t.x_mm - 0.42 * high, z + 0.35 * high),
                    ),
                    "rock",
                )
            )
        elif t.kind == "figure":
            shapes.append(
                Area(
                    (
                        (t.x_mm - 0.16 * high, z),
                        (t.x_mm + 0.16 * high, z),
                        (t.x_mm + 0.10 * high, z + 0.7 * high),
                        (t.x_mm, z + high),
                        (t.x_mm - 0.10 * high, z + 0.7 * high),
                    ),
                    "figure",
                )
            )
        else:
            for k in range(5):
                shapes.append(Stroke(((t.x_mm, z - 2), (t.x_mm + (k - 2) * 0.18 * high, z + 0.7 * high)), "plant", 2.0))
    if dims:
        shapes.append(
            Size(
                (x - a, top),
                (x - a, top + row.mound_mm),
                s.u.figure(row.mound_mm),
                -26.0 - row.ring_wide_mm * 0.4,
                level=False,
            )
        )
        shapes.append(
            Size(
                (x - a - row.ring_wide_mm, 0),
                (x + a + row.ring_wide_mm, 0),
                s.u.figure(2 * (a + row.ring_wide_mm)),
                -18.0,
            )
        )
    return tuple(shapes)


def _above(s: Setting, a: float, b: float) -> tuple[Shape, ...]:
    row = s.planting.slab
    assert row is not None
    shapes: list[Shape] = []
    if row.ring != "none":
        shapes.append(
            Area(oval(0, 0, a + row.ring_wide_mm, b + row.ring_wide_mm), "mud" if row.ring == "clay_mud" else "moss")
        )
    shapes.append(Area(oval(0, 0, a, b), "soil"))
    for level in (0.33, 0.66):
        k = (1 - level) ** 0.5
        shapes.append(Stroke((*oval(0, 0, a * k, b * k), oval(0, 0, a * k, b * k)[0]), "moss"))
    for t in row.things:
        shapes.append(
            Area(
                oval(t.x_mm, t.y_mm, 0.45 * t.size_mm, 0.35 * t.size_mm),
                "rock" if t.kind == "stone" else "figure" if t.kind == "figure" else "plant",
            )
        )
        shapes.append(Note((t.x_mm + 0.5 * t.size_mm + 4, t.y_mm - 3), t.name or t.kind))
    return tuple(shapes)


def _grips(s: Setting) -> list[Grip]:
    row = s.planting.slab
    if row is None:
        return []
    things = [Grip(f"slab:thing:{n}", t.name or t.kind, "above", t.x_mm, t.y_mm) for n, t in enumerate(row.things)]
    return [Grip("slab:mound", "Top of the mound", "front", 0.0, s.a.pot.height_mm + row.mound_mm), *things]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p = s.planting
    assert p.slab is not None
    if what == "mound":
        return p.changed(slab=p.slab.changed(mound_mm=round(max(y_mm - s.a.pot.height_mm, 0.0), 1)))
    n = int(rest[0])
    thing = p.slab.things[n].changed(x_mm=round(x_mm, 1), y_mm=round(y_mm, 1))
    return p.changed(slab=p.slab.changed(things=(*p.slab.things[:n], thing, *p.slab.things[n + 1 :])))


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    row, u = s.planting.slab or Slab(), s.u
    off = [
        f"{t.name or t.kind}: {u.mm(abs(t.x_mm))} {'right' if t.x_mm >= 0 else 'left'}, {u.mm(abs(t.y_mm))} {'back' if t.y_mm >= 0 else 'front'}"
        for t in row.things[:6]
    ]
    back = [t for t in row.things if t.put_back]
    ring = (
        "Clay mud kneaded with moss, pressed onto the wetted slab."
        if row.ring == "clay_mud"
        else "Moss strips, green side out."
        if row.ring == "moss"
        else "No ring: the mound holds itself by its slope."
    )
    found = [
        WorkStep("ring", "ring", "Lay the ring" if row.ring != "none" else "No ring: mark the mound's edge", lines=(ring,), cautions=caution("slab_weight"), minutes=25.0 if row.ring != "none" else 3.0),
        WorkStep("base", "base", "Spread a bed of wetted mix", lines=("Wet mix stands; dry grains slide.",), drawing="coarse", minutes=6.0),
        WorkStep("set", "set", "Set the tree on the bed, its roots spread flat", lines=("Comb what hangs below first; tie it over the slab's wires.",), drawing="set", clock="start", minutes=15.0),
        WorkStep("fill", "fill", f"Heap the mound to {u.mm(row.mound_mm)}", u.figure(row.mound_mm), f"{u.length} high", ("Press it on in rounds, from the ring inwards.",), "fill", "end", minutes=15.0),
        WorkStep("moss", "moss", "Cover it with moss, edge to edge", lines=("Pieces that touch; the first weeks it holds the mound.", *((f"Back in their places: {', '.join(t.name or t.kind for t in back)}.",) if back else ())), minutes=15.0),
        WorkStep("water", "water", "Mist it until it is wet through", lines=("A fine rose only: a stream washes the mound away.",), drawing="water", minutes=8.0),
    ]  # fmt: skip
    if off:
        found.append(
            WorkStep(
                "things",
                "things",
                f"Take {len(row.things)} thing{'' if len(row.things) == 1 else 's'} off, photograph where they stood",
                f"{len(row.things)}",
                "put back at the end",
                tuple(off),
                minutes=5.0,
            )
        )
    return tuple(found)


ORDER = ("things", "ring", "base", "set", "fill", "moss", "water", "carry")
KIND = Kind(
    KindRow("slab", 11, "Slab or raft", "No walls: a mound held by a ring of moss or clay mud, and the things that stand on it.", field="slab", styles=("raft", "landscape_tray"), off=("depth_band", "root_depth", "soil_line", "root_removal"), why_off="there is no wall to be deep or to cut roots for: the mound is judged"),
    fields=(
        FieldRow("mound_mm", "Mound", "mm", blank=False), FieldRow("ring", "Ring", "choice", options=(("clay_mud", "clay mud"), ("moss", "moss"), ("none", "none"))),
        FieldRow("ring_wide_mm", "Ring wide", "mm", blank=False), FieldRow("ring_high_mm", "Ring high", "mm", blank=False),
        FieldRow("reach_x_mm", "Half length", "mm", "Of the mound; as far as the slab lets it"), FieldRow("reach_y_mm", "Half width", "mm"),
    ),
    make=make,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Slab(),
    grips=_grips,
    pull=_pull,
    links=("thing", "off"),
)  # fmt: skip
