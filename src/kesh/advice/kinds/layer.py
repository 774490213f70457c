"""A layer that is cut free."""

import numpy as np

from kesh.advice.case import Case
from kesh.advice.design.limit import WALL_MM, Limit, Sizes
from kesh.advice.figures import Figures
from kesh.advice.kinds.kind import FieldRow, Grip, Kind
from kesh.advice.kinds.kinds import DISPLAY, KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialPlan, Stage, care, finding, months, nothing_yet
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.planting.steps.step import care as caution
from kesh.figure.overlay import Area, Note, Overlay, Shape, Size, Stroke, box, oval
from kesh.model import Layer, Planting
from kesh.science.season.days import later
from kesh.science.special.young import (
    AIR_ASKED,
    UNDER_ROOTS_MM,
    FirstPot,
    cut_below_mm,
    first_pot,
    leaf_share,
    no_combing_until,
)

CLASS_WORDS = {"few": "few and short", "some": "some, half the way round", "full": "full, all round"}


def cut_at_mm(row: Layer) -> float:
    """Where a layer is cut, over the old soil: as entered, or the highest place that is asked."""
    return row.cut_mm if row.cut_mm is not None else cut_below_mm(row.roots_at_mm)


def layer(s: Setting) -> SpecialPlan:
    """The plan of a layer."""
    row, u, pot = s.planting.layer, s.u, s.a.pot
    if row is None:
        return nothing_yet(
            "layer",
            "Nothing of the layer yet",
            "layer",
            "Nothing of the layer is entered yet.",
            "Say how its roots are: few, some or full.",
        )
    share = leaf_share(row.root_class)
    cut = cut_at_mm(row)
    found, figures = (
        [],
        [
            Figure("Leaf kept", f"{share:.0%}", tip=f"roots are {CLASS_WORDS[row.root_class]}"),
            Figure("Cut", f"{u.mm(row.roots_at_mm - cut)} under the roots"),
        ],
    )
    status = "fits" if row.roots_at_mm - cut >= UNDER_ROOTS_MM - 1e-9 else "watch"
    found.append(
        finding(
            "layer_cut",
            status,
            f"The cut runs {u.mm(row.roots_at_mm - cut)} under the new roots; {u.mm(UNDER_ROOTS_MM)} asked.",
            "" if status == "fits" else "Cut lower: the stub is shortened in a year.",
            row.roots_at_mm - cut,
            "mm",
            UNDER_ROOTS_MM,
        )
    )
    found.append(
        finding(
            "layer_leaf",
            "watch" if share < 0.8 else "fits",
            f"Roots are {CLASS_WORDS[row.root_class]}: keep {share:.0%} of the leaf.",
            f"Take {1 - share:.0%} of the leaf off before it is cut, longest shoots first." if share < 1 else "",
            share,
            "",
            share,
            share,
        )
    )
    if row.spread_mm is None or row.depth_mm is None:
        found.append(
            finding(
                "layer_pot",
                "unknown",
                "Spread and depth of the new roots are not known.",
                "Measure the moss ball's roots when it is opened; a clear wrap shows them.",
            )
        )
    else:
        asked = first_pot(row.spread_mm, row.depth_mm)
        inner, deep = min(pot.length_mm, pot.width_mm) - 2 * pot.wall_mm, pot.inner_depth_mm - s.a.case.headspace_mm
        status = "fits" if inner >= asked.across_mm and deep >= asked.depth_mm else "no"
        found.append(
            finding(
                "layer_pot",
                status,
                f"First pot {u.mm(inner)} inside and {u.mm(deep)} of soil; {u.mm(asked.across_mm)} and {u.mm(asked.depth_mm)} asked.",
                "" if status == "fits" else "Take a larger pot for the first year.",
                inner,
                "mm",
                asked.across_mm,
            )
        )
        figures += [Figure("First pot inside", u.mm(asked.across_mm)), Figure("Soil", u.mm(asked.depth_mm))]
    air = s.a.figures.water
    if air is not None:
        value = float(air.air_mean[0])
        status = "fits" if value >= AIR_ASKED else "watch"
        found.append(
            finding(
                "layer_air",
                status,
                f"Just drained the mix holds {value:.0%} air; {AIR_ASKED:.0%} asked for new roots.",
                "" if status == "fits" else "Take a looser mix: more coarse grains.",
                value,
                "",
                AIR_ASKED,
            )
        )
    severed = row.severed or s.day
    until = no_combing_until(severed)
    found.append(
        finding(
            "layer_combing",
            "fits" if s.today >= until else "watch",
            f"No combing before {months(until)}: new roots break.",
            "Slip it into a larger pot as it is, if it must be.",
        )
    )
    stages = (
        Stage("Cut free", severed, f"{months(severed)}, roots through the moss", f"{share:.0%} of the leaf", Overlay(_layer_front(s, share, cut, dims=False))),
        Stage("Shade, still", later(severed, 21), "leaves firm at noon", "tied, unmoved", Overlay(_layer_front(s, share, cut, dims=False))),
        Stage("First comb", until, "a full season grown", "the moss comes out", Overlay(_layer_front(s, 1.0, cut, dims=False))),
    )  # fmt: skip
    after = (
        care(
            "no_pruning",
            0,
            330,
            "No cut and no combing before a full year has passed.",
            "A full season has grown.",
            "New roots break at the touch.",
        ),
        care("shade", 0, 21, "Shade and still air.", "Leaves stay firm at noon."),
    )
    return SpecialPlan("layer", f"Keep {share:.0%} of the leaf, cut {u.mm(row.roots_at_mm - cut)} under the roots", tuple(figures), tuple(found), (), stages, Overlay(_layer_front(s, share, cut, dims=True)), Overlay(_layer_above(s)), after)  # fmt: skip


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    row, u = s.planting.layer or Layer(), s.u
    cut = cut_at_mm(row)
    m = s.a.case.tree.measure
    stays = f"The lower half keeps {u.mm(max(cut, 0.0))} of trunk." if cut > 0 else "The stump stays in its old pot."
    below = "Branches and buds below the cut stay on it and feed it; without any it seldom sprouts."
    found = [
        WorkStep("check", "check", "Look whether it has rooted", lines=("Roots show through the moss all round, the first ones brown at their base, the tips white.", "Too few: close it again and wait for the next weeks of growth."), drawing="lift", minutes=3.0),
        WorkStep("cut", "cut", "Cut it free under the new roots", u.figure(row.roots_at_mm - cut), f"{u.length} under them", ("Hold the top; saw level, do not touch the roots.", "Take leaf off in the share of the roots: the longest shoots first."), cautions=caution("root_saw"), minutes=10.0),
        WorkStep("unwrap", "unwrap", "Take film and ties off, leave the moss", lines=("The moss stays among the roots for a year: they break at the touch.",), clock="start", minutes=4.0),
        WorkStep("set", "set", "Set it on a low bed, roots spread as they grew", lines=(f"Roots {u.mm(10)} to {u.mm(20)} under the soil.",), drawing="set", minutes=6.0),
        WorkStep("guys", "guys", "Three guys from the rim to the trunk", lines=("The new roots hold nothing yet; pads under the wire, off next spring.",), cautions=caution("wire_ends"), drawing="tie", minutes=8.0),
        WorkStep("fill", "fill", "Let the mix run in, no stick", lines=("Tap the pot; a stick would break the roots.",), drawing="fill", clock="end", minutes=6.0),
        WorkStep("mother", "mother", "What becomes of the lower half", lines=(stays, below, "Seal the cut, water less: it has little leaf now. It may be grown on as a tree of its own, or layered again."), minutes=4.0),
    ]  # fmt: skip
    return tuple(found) if m is not None else ()


def _layer_front(s: Setting, share: float, cut: float, *, dims: bool) -> tuple[Shape, ...]:
    row = s.planting.layer
    assert row is not None
    x, foot = s.foot
    spread, deep = row.spread_mm or 0.4 * s.a.pot.length_mm, row.depth_mm or 0.5 * s.a.pot.inner_depth_mm
    m = s.a.case.tree.measure
    thick = m.trunk_diameter_mm or 30.0
    shapes: list[Shape] = []
    for k in range(9):
        u = (k - 4) / 4
        end = (x + u * spread / 2, foot - deep * (0.55 + 0.45 * (1 - abs(u))))
        shapes.append(
            Stroke(((x + u * thick / 2, foot), (x + 0.6 * u * spread / 2, foot - 0.25 * deep), end), "root", 2.2)
        )
    low = foot - (row.roots_at_mm - cut)
    shapes.append(Area(box(x - thick / 2, low, x + thick / 2, foot), "wood"))
    shapes.append(Stroke(((x - thick, low), (x + thick, low)), "cut", 1.4))
    if dims:
        shapes.append(Size((x + thick, low), (x + thick, foot), s.u.figure(row.roots_at_mm - cut), 14.0, level=False))
        shapes.append(Size((x - spread / 2, foot - deep), (x + spread / 2, foot - deep), s.u.figure(spread), -16.0))
        top = foot + (m.height_mm or 300.0)
        base = foot + (m.crown_base_mm or 0.3 * (m.height_mm or 300.0))
        reach = max(m.canopy_left_mm or 100.0, m.canopy_right_mm or 100.0) + 14
        shapes.append(Area(box(x + reach, base, x + reach + 12, top), "ghost"))
        shapes.append(Area(box(x + reach, base, x + reach + 12, base + share * (top - base)), "plant"))
        shapes.append(Note((x + reach + 16, base + share * (top - base) - 4), f"{share:.0%} of the leaf"))
    return tuple(shapes)


def _layer_above(s: Setting) -> tuple[Shape, ...]:
    row = s.planting.layer
    assert row is not None
    spread = row.spread_mm or 0.4 * s.a.pot.length_mm
    x, y = s.planting.offset_x_mm, s.planting.offset_y_mm
    asked = first_pot(spread, row.depth_mm or 40.0).across_mm / 2
    return Area(oval(x, y, spread / 2, spread / 2), "root"), Stroke(
        (*oval(x, y, asked, asked), oval(x, y, asked, asked)[0]), "cut", dashed=True
    )


def _grips(s: Setting) -> list[Grip]:
    row, (x, foot) = s.planting.layer, s.foot
    if row is None:
        return []
    return [Grip("layer:cut", "Cut under the roots", "front", x, foot - (row.roots_at_mm - cut_at_mm(row)))]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p, foot = s.planting, s.foot[1]
    assert p.layer is not None
    cut = min(p.layer.roots_at_mm - (foot - y_mm), p.layer.roots_at_mm)
    return p.changed(layer=p.layer.changed(cut_mm=round(cut, 1)))


def _first_pot(p: Planting) -> FirstPot | None:
    """What its first pot should be; None while its roots are not measured."""
    row = p.layer
    known = row is not None and row.spread_mm is not None and row.depth_mm is not None
    return first_pot(row.spread_mm, row.depth_mm) if known else None  # type: ignore[union-attr, arg-type]


def _sizes(case: Case, p: Planting) -> Sizes:
    pot = _first_pot(p)
    if pot is None:
        return Sizes()
    return Sizes((pot.across_mm + 2 * WALL_MM, 1.4 * pot.across_mm), (pot.depth_mm + 6.0, 1.4 * pot.depth_mm))


def _limits(f: Figures, p: Planting) -> tuple[Limit, ...]:
    pot = _first_pot(p)
    if pot is None:
        return ()
    inner = np.minimum(f.pots.length, f.pots.width) - 2 * f.pots.wall
    return (
        Limit("layer_pot", "inside of the first pot", "mm", inner, pot.across_mm, pot.across_mm, False, False),
        Limit("layer_depth", "soil of the first pot", "mm", f.soil_depth_mm, pot.depth_mm, pot.depth_mm, False, False),
    )


ORDER = ("check", "cut", "unwrap", "set", "guys", "fill", "water", "carry", "mother")
KIND = Kind(
    KindRow("layer", 6, "Layer", "A layer is cut free: its leaf is matched to its new roots, its first pot to their spread, and nothing is combed for a year.", field="layer", off=DISPLAY, why_off="a first pot is for roots"),
    fields=(
        FieldRow("root_class", "New roots", "choice", options=(("few", "few and short"), ("some", "some, half round"), ("full", "full, all round"))),
        FieldRow("roots_at_mm", "Roots above cut", "mm", "Where they come out, over the cut's place as zero", blank=False), FieldRow("cut_mm", "Cut at", "mm", "By rule 10 mm under the roots"),
        FieldRow("spread_mm", "Root spread", "mm"), FieldRow("depth_mm", "Root depth", "mm"), FieldRow("ringed", "Ringed", "date"), FieldRow("severed", "Cut free", "date"),
    ),
    make=layer,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Layer(),
    grips=_grips,
    pull=_pull,
    sizes=_sizes,
    limits=_limits,
)  # fmt: skip
