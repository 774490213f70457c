"""Layers cut free, and trunks without roots."""

from kesh.advice.kinds.plan import (
    Figure,
    Placed,
    Setting,
    SpecialCut,
    SpecialPlan,
    Stage,
    care,
    finding,
    months,
    nothing_yet,
)
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.planting.steps.step import care as caution
from kesh.figure.overlay import Area, Note, Overlay, Shape, Size, Stroke, box, oval
from kesh.model import Cutting, Layer
from kesh.science.season.days import later
from kesh.science.season.season import day_words
from kesh.science.special.young import (
    AIR_ASKED,
    CALLUS_DAYS,
    UNDER_ROOTS_MM,
    callus_until,
    cut_below_mm,
    first_pot,
    grip_mm,
    leaf_share,
    no_combing_until,
    success,
    watch_list,
)

CLASS_WORDS = {"few": "few and short", "some": "some, half the way round", "full": "full, all round"}


def cut_at_mm(row: Layer) -> float:
    """Where a layer is cut, over the old soil: as entered, or the highest place that is asked."""
    return row.cut_mm if row.cut_mm is not None else cut_below_mm(row.roots_at_mm)


def stands_deep_mm(s: Setting, row: Cutting) -> float:
    """How deep a cutting stands: as entered, or down to the floor."""
    return row.grip_mm if row.grip_mm is not None else s.a.pot.inner_depth_mm - s.a.case.headspace_mm


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
    steps = (
        Placed("mix", WorkStep("layer_leaf", "leaf", f"Take {1 - share:.0%} of the leaf off", f"{share:.0%}", "of the leaf stays", ("Longest shoots first; whole leaves, not halves.",), minutes=15.0)),
        Placed("lift", WorkStep("layer_cut", "cut", "Cut it free under the new roots", u.figure(row.roots_at_mm - cut), f"{u.length} under them", ("Support the top; saw level, do not touch the roots. The moss stays on.",), cautions=caution("root_saw"), minutes=10.0)),
        Placed("tie", WorkStep("layer_guy", "guys", "Three guys from the rim to the trunk", lines=("The new roots hold nothing yet; guys until next spring.",), cautions=caution("wire_ends"), minutes=8.0)),
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
    return SpecialPlan("layer", f"Keep {share:.0%} of the leaf, cut {u.mm(row.roots_at_mm - cut)} under the roots", tuple(figures), tuple(found), steps, (), stages, Overlay(_layer_front(s, share, cut, dims=True)), Overlay(_layer_above(s)), after)  # fmt: skip


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


def cutting(s: Setting) -> SpecialPlan:
    """The plan of trunks without roots."""
    row, u = s.planting.cutting, s.u
    m = s.a.case.tree.measure
    if row is None:
        return nothing_yet(
            "cutting",
            "Nothing of the cutting yet",
            "cutting",
            "Nothing of the cutting is entered yet.",
            "Say how it is held and since when it stands.",
        )
    found, figures = [], []
    height, trunk = m.height_mm, m.trunk_at_soil_mm or m.trunk_diameter_mm
    deep = stands_deep_mm(s, row)
    asked = None
    if height is None or trunk is None:
        found.append(
            finding(
                "grip", "unknown", "Height or thickness is not known; its grip is not judged.", "Measure both: step 1."
            )
        )
    else:
        asked = grip_mm(height, trunk)
        if deep >= asked - 0.5:
            status, remedy = "fits", ""
        elif row.support != "depth":
            status, remedy = "watch", f"Depth alone does not hold it: {row.support} do, and stay until it has rooted."
        else:
            status, remedy = "no", "Stand it deeper, or hold it with stones or rods."
        found.append(
            finding(
                "grip",
                status,
                f"It stands {u.mm(deep)} deep; {u.mm(asked)} asked for a grip, a quarter of its height or two trunks.",
                remedy,
                deep,
                "mm",
                asked,
            )
        )
        figures += [Figure("Deep", u.mm(deep), status), Figure("Asked for a grip", u.mm(asked))]
    start = row.set_on or s.day
    ready, usual = callus_until(start, row.callus_days)
    found.append(
        finding(
            "callus",
            "fits" if usual else "watch",
            f"The cut dries {row.callus_days:.0f} days, until {day_words(ready)}; {CALLUS_DAYS[0]:.0f} to {CALLUS_DAYS[1]:.0f} are usual.",
            "" if usual else "Shorter it rots, longer it shrinks.",
            row.callus_days,
            "days",
            *CALLUS_DAYS,
        )
    )
    days = watch_list(start)
    due = [d for d in days if d <= s.today]
    count = row.rooted if row.rooted is not None else row.alive
    word = "rooted" if row.rooted is not None else "alive"
    if count is None:
        found.append(
            finding(
                "cutting_count",
                "unknown",
                f"How many of {row.planted} live is not written down.",
                f"Look on {day_words(days[0])}: tug gently, look for buds."
                if not due
                else "Look now and write the count down.",
            )
        )
    elif not 0 <= count <= row.planted or row.planted < 1:
        found.append(
            finding("cutting_count", "no", f"{count} of {row.planted} is no count.", "Correct one of the two.")
        )
    else:
        got = success(count, row.planted)
        found.append(
            finding(
                "cutting_count",
                "fits" if count else "watch",
                f"{count} of {row.planted} {word}: {got.low:.0%} to {got.high:.0%} of the next, by this count.",
                "",
                count / row.planted,
                "",
            )
        )
        figures.append(Figure(f"{word.capitalize()}", f"{count} of {row.planted}"))
    figures += [Figure("Callus until", day_words(ready)), Figure("Look on", ", ".join(day_words(d) for d in days))]
    lines = ["No tie at the trunk: it would ring it before it has roots."]
    lines += (["Paste on the upper cuts."] if row.paste else []) + (
        ["Rooting hormone on the lower cut, by its label."] if row.hormone else []
    )
    steps = [
        Placed("lift", WorkStep("callus", "dry", f"Let the cut dry for {row.callus_days:.0f} days", f"{row.callus_days:.0f}", "days in shade, dry", tuple(lines[1:]) or ("In shade, standing, dry.",), cautions=caution(*(("sealant",) if row.paste else ())), minutes=5.0)),
        Placed("set", WorkStep("grip", "grip", f"Stand it {u.mm(deep)} deep", u.figure(deep), f"{u.length} deep" + (f", {u.mm(asked)} asked" if asked is not None else ""), (lines[0], {"depth": "Firm the mix round it in rounds.", "stones": "Three stones on the mix against the trunk.", "rods": "Two rods across, lashed to the rim."}[row.support]), minutes=8.0)),
        Placed("test", WorkStep("watch", "look", f"Look on {', '.join(day_words(d) for d in days)}", f"{row.planted}", "set", ("Count those that live: n of N is kept in the log.",), minutes=3.0)),
    ]  # fmt: skip
    stages = (
        Stage("Dry", start, f"{row.callus_days:.0f} days, cut corky", "no water", Overlay(_cutting_front(s, deep, 0, dims=False))),
        *(Stage(f"{n} days", day, ("buds swell", "shoots, a gentle tug holds", "roots at the holes")[k], "count them", Overlay(_cutting_front(s, deep, k + 1, dims=False))) for k, (n, day) in enumerate(zip((14, 28, 56), days, strict=True))),
    )  # fmt: skip
    after = tuple(
        care(
            "rot_check" if n == 14 else "growth_sign" if n == 28 else "look_closer",
            n,
            n + 7,
            f"Day {n}: look at the foot for rot, at buds for life; count them.",
            "Shoots grow on their own.",
        )
        for n in (14, 28, 56)
    )
    cuts = (
        (SpecialCut("rods", "bamboo rods", s.a.pot.width_mm + 20, (), 6.0, "bamboo", 2),)
        if row.support == "rods"
        else ()
    )
    title = (
        f"{u.mm(deep)} deep, {u.mm(asked)} asked; {count if count is not None else '?'} of {row.planted} live"
        if asked is not None
        else "Its grip is not known yet"
    )
    return SpecialPlan("cutting", title, tuple(figures), tuple(found), tuple(steps), cuts, stages, Overlay(_cutting_front(s, deep, 0, dims=True, asked=asked)), Overlay(), after)  # fmt: skip


def _cutting_front(s: Setting, deep: float, age: int, *, dims: bool, asked: float | None = None) -> tuple[Shape, ...]:
    x, _ = s.foot
    thick = s.a.case.tree.measure.trunk_at_soil_mm or s.a.case.tree.measure.trunk_diameter_mm or 30.0
    soil = s.soil_mm
    low = max(soil - deep, s.floor_mm)
    shapes: list[Shape] = [Area(box(x - thick / 2, low, x + thick / 2, soil), "wood")]
    shapes.append(Stroke(((x - thick / 2, low), (x + thick / 2, low)), "paste", 3.0))
    for k in range(3 * age):
        u = (k % 5 - 2) / 2
        length = 12.0 + 9.0 * age
        shapes.append(
            Stroke(
                (
                    (x + u * thick / 2, low + 4),
                    (x + u * (thick / 2 + length), low + 2 - 4 * (k % 3)),
                    (x + 1.3 * u * (thick / 2 + length), low - 3),
                ),
                "root",
                1.6,
            )
        )
    row = s.planting.cutting
    if row is not None and row.support == "stones":
        for dx in (-1.0, 1.0):
            shapes.append(Area(oval(x + dx * (thick / 2 + 18), soil + 6, 18, 11), "rock"))
    if row is not None and row.support == "rods":
        for z in (soil + 4,):
            shapes.append(Stroke(((x - s.a.pot.length_mm / 2, z), (x + s.a.pot.length_mm / 2, z)), "wood", 6.0))
    if dims:
        shapes.append(Size((x - thick / 2, low), (x - thick / 2, soil), s.u.figure(soil - low), -20.0, level=False))
        if asked is not None:
            line = soil - asked
            shapes.append(Stroke(((x - thick * 1.4, line), (x + thick * 1.4, line)), "cut", dashed=True))
            shapes.append(Note((x + thick * 1.4 + 6, line - 3), f"asked {s.u.mm(asked)}"))
    return tuple(shapes)
