"""Into the pot: layer, heap, set, tie, fill, water, test, carry."""

from kesh.advice.assess import Assessment
from kesh.advice.planting.branches import guy_words
from kesh.advice.planting.soil_batch import LAYER, WASTE
from kesh.advice.planting.steps.roots import at_home, goes_in
from kesh.advice.planting.steps.step import FINISH_TESTS, Tools, WorkStep, care, over_rim, tied
from kesh.advice.report.roots import tilt_of
from kesh.advice.roots.work import work
from kesh.advice.rules.handling import lift_alone_kg
from kesh.base.units import Units
from kesh.base.words import counted


def coarse(t: Tools) -> WorkStep | None:
    """The drainage layer."""
    layer, batch = t.a.case.layer, t.batch
    mix = t.a.case.mix
    if layer is None or batch is None or mix is None or mix.drainage_layer is None:
        return None
    row = t.a.case.tables.substrate(mix.drainage_layer.substrate)
    return WorkStep(
        "coarse", "coarse", f"{t.u.mm(layer[1])} of coarse {row.name.split(',')[0].split(' (')[0].lower()}", t.u.figure(layer[1]), f"{t.u.length}, {t.u.litres(batch.places_l.get(LAYER, 0.0))}",
        ("Level it and water it once, so that the grains lie.",), "coarse", minutes=2.0,
    )  # fmt: skip


def heap(t: Tools) -> WorkStep | None:
    """The cone it is pressed into."""
    batch, u = t.batch, t.u
    if batch is None or batch.heap_mm <= 0:
        return None
    base = t.a.seat.base_mm
    return WorkStep(
        "heap", "heap", f"Heap a mound {u.mm(batch.heap_mm)} high", u.figure(batch.heap_mm), f"{u.length} high, under the hollow of the roots",
        (f"Spread {u.mm(base)} over the floor first. Its top under the trunk: {_place_words(t.a, u)}.",
         "Turn the tree into it: it is pressed down until nothing is hollow."), "heap", minutes=3.0,
    )  # fmt: skip


def _place_words(a: Assessment, u: Units) -> str:
    x, y = a.seat.x_mm, a.seat.y_mm
    told = []
    if abs(x) >= 0.5:
        told.append(f"{u.mm(abs(x))} {'right' if x > 0 else 'left'}")
    if abs(y) >= 0.5:
        told.append(f"{u.mm(abs(y))} {'behind' if y > 0 else 'before'}")
    if not told:
        return "in the middle"
    return (
        f"{told[0]} of the middle, {told[1]} it"
        if len(told) == 2 and abs(x) >= 0.5
        else f"{told[0]} {'of ' if abs(x) >= 0.5 else ''}the middle"
    )


def set_it(t: Tools) -> WorkStep:
    """Where it stands, turned and tilted."""
    a, u, p = t.a, t.u, t.a.case.planting
    if not goes_in(t) and at_home(t):
        return WorkStep(
            "set", "set", "Set it back as high as it stood", lines=("Fresh mix where old soil came out; the trunk where it stood.",), drawing="set", minutes=6.0,
        )  # fmt: skip
    if not goes_in(t):
        return WorkStep(
            "set", "set", "Set it back into its own pot, or one as large", lines=("Fresh mix where old soil came out; the trunk where it stood.", f"{a.pot.name} waits until it has been worked once more."), drawing="set", minutes=6.0,
        )  # fmt: skip
    lines = []
    half = a.pot.length_mm / 2
    lines.append(
        f"Trunk {u.mm(half + a.seat.x_mm)} from the left rim, {u.mm(half - a.seat.x_mm)} from the right, {u.mm(a.pot.width_mm / 2 + a.seat.y_mm)} from the front."
    )
    if p is not None and p.turn_deg % 360:
        lines.append(
            f"Turned {abs(p.turn_deg):.0f}° {'against the clock' if p.turn_deg > 0 else 'with the clock'}, seen from above."
        )
    if p is not None and p.tilt_deg:
        wedge = tilt_of(a)
        told = (
            ""
            if wedge.wedge_l is None or wedge.lift_mm is None
            else f", {u.litres(wedge.wedge_l)}, {u.mm(wedge.lift_mm)} high on the far side"
        )
        lines.append(
            f"Tilted {abs(p.tilt_deg):.0f}° to the {'right' if p.tilt_deg > 0 else 'left'}: fill the wedge{told}, before it is tied."
        )
    lines.append(
        "Turn it to and fro with pressure until it stands; look from the front at eye level, with the line level and the plumb at the foot."
    )
    return WorkStep(
        "set",
        "set",
        f"Set it {_place_words(a, u)}",
        over_rim(t)[0],
        f"{over_rim(t)[1]}, the top of the roots",
        tuple(lines),
        "set",
        minutes=6.0,
    )


def _wire_names(t: Tools) -> str:
    plan = t.ties
    if plan is None:
        return ""
    sizes = sorted({(w.gauge_mm, w.metal) for w in plan.wires})
    return ", ".join(f"{gauge:g} mm {metal}" for gauge, metal in sizes)


def tie(t: Tools) -> WorkStep | None:
    """Ties or stones."""
    plan, u = t.ties, t.u
    if plan is None or plan.anchors == "none" or not (plan.wires or plan.stones):
        return None
    if plan.anchors == "stones":
        n = len(plan.stones)
        kg = sum(s.mass_kg for s in plan.stones)
        return (
            WorkStep(
                "tie",
                "stones",
                f"Lay {counted(n, 'stone')} on the roots",
                u.kg(kg).partition(" ")[0],
                f"{u.kg(kg).partition(' ')[2]} in all",
                ("They stay until it has rooted.",),
                "tie",
                minutes=4.0,
            )
            if n
            else None
        )
    held = plan.hold
    lines = [
        "Tighten in rounds, a little at each wire; annealed wire breaks when it is pulled too far in one place.",
        "Soft pads where a wire crosses living bark.",
    ]
    hidden = [w for w in plan.wires if w.behind]
    if hidden:
        names = {r.id: n + 1 for n, r in enumerate(t.a.case.tree.root_map)}
        lines.append(
            "; ".join(f"wire {w.id} behind root {names.get(w.behind or '', '?')}" for w in hidden).capitalize() + "."
        )
    figure = "" if held is None else f"{held.weakest_n:.0f}"
    words = "N at the apex is held from every side" if figure else ""
    return WorkStep(
        "tie", "tie", f"Tie it with {counted(len(plan.wires), 'wire')}", figure, words, (f"{_wire_names(t)}.", *lines), "tie", cautions=care("wire_ends"), minutes=4.0 * len(plan.wires),
    )  # fmt: skip


def tie_loose(t: Tools) -> WorkStep | None:
    """Loosely, where the soil comes first."""
    step = tie(t)
    if step is None or t.ties is None or not t.ties.wires:
        return step
    return WorkStep(
        "tie",
        "loose",
        f"Tie it loosely, {counted(len(t.ties.wires), 'wire')}",
        lines=("It must not fall; it may still be pressed down.",),
        drawing="tie",
        minutes=4.0,
        cautions=step.cautions,
    )


def tighten(t: Tools) -> WorkStep | None:
    """Tightened last."""
    step = tie(t)
    return (
        None
        if step is None
        else WorkStep(
            "tighten",
            "tighten",
            "Tighten the ties in rounds",
            step.figure,
            step.figure_words,
            step.lines,
            "tie",
            minutes=4.0,
            cautions=step.cautions,
        )
    )


def fill(t: Tools) -> WorkStep | None:
    """The soil; the clock ends."""
    batch, a, u = t.batch, t.a, t.u
    if batch is None:
        return None
    mound = f" Mound {u.mm(a.case.mound_mm)} at the trunk." if a.case.mound_mm else ""
    if a.case.brief.planting_views.mound == "level":
        mound = ""
    effort = work(a.figures)
    return WorkStep(
        "fill", "fill", "Fill, and work it in", u.figure(a.case.headspace_mm), f"{u.length} below the rim is where the soil ends",
        (f"Work it in with a stick, straight down and small circles, until nothing sinks any more.{mound}",
         f"Keep {u.litres(batch.second_l)} back: soil sinks by {batch.settling.value:.0%}, {WASTE:.0%} is spilled."), "fill", "end",
        None if effort is None else effort.plant,
    )  # fmt: skip


def branches(t: Tools) -> WorkStep | None:
    """Branches bent now, each with its guy."""
    guys = t.a.case.planting.branch_guys if t.a.case.planting is not None else ()
    if not guys:
        return None
    return WorkStep(
        "branches", "branches", f"Pull {counted(len(guys), 'branch')} into place",
        lines=(*(guy_words(g, t.u) for g in guys), "A little at a time, at the base first; stop when it creaks. The guy bears on the pot only once roots or ties hold the tree."),
        drawing="tie", cautions=care("wire_ends"), minutes=5.0 * len(guys),
    )  # fmt: skip


def dress(t: Tools) -> WorkStep | None:
    """Dressing, moss, feed on the soil."""
    p, views = t.a.case.planting, t.a.case.brief.planting_views
    dressing = p.dressing_mm if p is not None else 0.0
    lines = []
    if dressing:
        lines.append(f"{t.u.mm(dressing)} of dressing or moss, in pieces that touch.")
    if views.feed == "over":
        lines.append("Feed cakes on the soil, away from the trunk.")
    if not lines:
        return None
    return WorkStep(
        "dress",
        "dress",
        "Dress the soil",
        t.u.figure(dressing) if dressing else "",
        t.u.length if dressing else "",
        tuple(lines),
        "fill",
        minutes=6.0,
    )


WATER_LINES = {
    "soak": ("Water until it runs clear", "From above with a fine rose, more than once; dust that stays blocks the pores. Let it drain, then tip it once."),
    "tub": ("Soak it from below", "In a tub, water up to a finger under the rim, until the surface darkens; then let it drain. Fines are not washed out that way: rinse them before."),
    "little": ("Water a little", "For plants that rot: dry for some days until cuts have sealed, then one thorough watering."),
}  # fmt: skip


def water(t: Tools) -> WorkStep:
    """The first watering by its view."""
    title, line = WATER_LINES[t.a.case.brief.planting_views.watering]
    return WorkStep("water", "water", title, lines=(line,), drawing="water", minutes=6.0)


def test(t: Tools) -> WorkStep:
    """What is tested before it is put down."""
    keys = tuple(k for k in FINISH_TESTS if k not in ("trimmed", "moves") or tied(t))
    return WorkStep(
        "test",
        "test",
        "Test it before you put it down",
        lines=tuple(FINISH_TESTS[k] for k in keys),
        drawing="test",
        minutes=3.0,
        checks=keys,
    )


def carry(t: Tools) -> WorkStep:
    """To its place."""
    stand, u = t.a.figures.stand, t.u
    keys, lines = [], ["Out of sun and wind; ties at the bench where it may be knocked."]
    figure = words = ""
    if stand is not None:
        wet = float(stand.mass_wet_kg[0])
        figure, _, unit = u.kg(wet).partition(" ")
        words = f"{unit}, wet"
        if wet > float(lift_alone_kg(t.a.figures)[0]):
            keys.append("heavy_lift")
            lines.insert(
                0,
                "Two people carry it. Alone: let it drain first, slide it on a board over rollers, lift one end at a time onto battens.",
            )
    tips = t.a.finding("tipping")
    if tips is not None and tips.status in ("watch", "no"):
        keys.append("tall_tips")
    return WorkStep(
        "carry",
        "place",
        "Carry it to its place",
        figure,
        words,
        tuple(lines),
        "carry",
        minutes=3.0,
        cautions=care(*keys),
    )
