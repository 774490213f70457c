"""Trunks without roots."""

from kesh.advice.kinds.kind import FieldRow, Grip, Kind
from kesh.advice.kinds.kinds import DISPLAY, KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialCut, SpecialPlan, Stage, care, finding, nothing_yet
from kesh.advice.planting.steps.step import WorkStep, sap
from kesh.advice.planting.steps.step import care as caution
from kesh.figure.overlay import Area, Note, Overlay, Shape, Size, Stroke, box, oval
from kesh.model import Cutting, Planting
from kesh.science.season.season import day_words
from kesh.science.special.young import CALLUS_DAYS, callus_until, grip_mm, success, watch_list


def stands_deep_mm(s: Setting, row: Cutting) -> float:
    """How deep a cutting stands: as entered, or down to the floor."""
    return row.grip_mm if row.grip_mm is not None else s.a.pot.inner_depth_mm - s.a.case.headspace_mm


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
    return SpecialPlan("cutting", title, tuple(figures), tuple(found), cuts, stages, Overlay(_cutting_front(s, deep, 0, dims=True, asked=asked)), Overlay(), after)  # fmt: skip


def _stores(s: Setting) -> bool:
    """Whether it holds water itself and rots when it is wet."""
    return s.a.case.species is not None and s.a.case.species.stores_water


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    row, u = s.planting.cutting or Cutting(), s.u
    deep, stores = stands_deep_mm(s, row), _stores(s)
    start = row.set_on or s.day
    ready, _ = callus_until(start, row.callus_days)
    on_cuts = (
        *(("Paste on the upper cuts.",) if row.paste else ()),
        *(("Rooting hormone on the lower cut, by its label.",) if row.hormone else ()),
    )
    hold = {
        "depth": "Firm the mix round it in rounds.",
        "stones": "Three stones on the mix against the trunk.",
        "rods": "Two rods across, lashed to the rim.",
    }[row.support]
    found = [
        WorkStep("cut", "cut", "Cut it clean, just under a bud or a branch", lines=("A sharp blade, one stroke; a ragged edge trimmed smooth.", *on_cuts), cautions=caution(*sap(s.a), *(("sealant",) if row.paste else ())), minutes=5.0),
        WorkStep("callus", "dry", f"Let the cut dry for {row.callus_days:.0f} days, until {day_words(ready)}", f"{row.callus_days:.0f}", "days in shade, dry", ("Standing, in shade, out of rain: wet cuts rot.",), minutes=1.0),
        WorkStep("set", "set", f"Stand it {u.mm(deep)} deep", u.figure(deep), f"{u.length} deep", ("Nothing round the trunk: it would ring it before it has roots.", hold), minutes=8.0),
    ]  # fmt: skip
    if row.support != "depth":
        found.append(
            WorkStep(
                "props",
                "hold",
                "Prop it until it has rooted",
                lines=(hold, "It must not move when it is touched."),
                minutes=4.0,
            )
        )
    found += [
        WorkStep("fill", "fill", "Fill round it in rounds", lines=("Firm with the fingers, no stick near the cut.",), drawing="fill", minutes=5.0),
        WorkStep("water", "water", "Dry for a week, then once" if stores else "Mist it; keep the mix just moist", lines=(("No water before the cut is sealed; then once, and again when a stick comes out dry.",) if stores else ("Under a hood or a bag, in bright shade; never standing in water.",)), drawing="water", minutes=3.0),
        WorkStep("carry", "place", "To a warm, bright place out of the sun", lines=(f"Look on {', '.join(day_words(d) for d in watch_list(start))}: count those that live.",), drawing="carry", minutes=2.0),
    ]  # fmt: skip
    return (*found, _dry_mix(s))


def _dry_mix(s: Setting) -> WorkStep:
    """The mix as it is taken for a plant without roots."""
    litres = s.u.litres(float(s.a.figures.fresh_soil_l[0]))
    how = "bone dry" if _stores(s) else "just moist"
    return WorkStep(
        "mix", "mix", f"Mix {litres}, {how}", lines=("Open and clean, without feed.",), drawing="soil", minutes=5.0
    )


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


def _grips(s: Setting) -> list[Grip]:
    row = s.planting.cutting
    if row is None:
        return []
    return [Grip("cutting:deep", "How deep it stands", "front", s.foot[0], s.soil_mm - stands_deep_mm(s, row))]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p = s.planting
    assert p.cutting is not None
    return p.changed(cutting=p.cutting.changed(grip_mm=round(max(s.soil_mm - y_mm, 1.0), 1)))


ORDER = ("cut", "callus", "mix", "set", "props", "fill", "water", "carry")
KIND = Kind(
    KindRow("cutting", 9, "Cutting", "It has no roots: depth, stones or rods hold it, the cut dries first, and the watch list tells n of N.", field="cutting", off=(*DISPLAY, "root_depth", "root_removal", "root_sides", "lift_out"), why_off="a cutting's pot is for its grip"),
    fields=(
        FieldRow("grip_mm", "Stands deep", "mm", "The pot's own depth without it"), FieldRow("support", "Held by", "choice", options=(("depth", "its depth"), ("stones", "stones"), ("rods", "rods"))),
        FieldRow("set_on", "Set on", "date"), FieldRow("callus_days", "Dry days", "number", "Before it is set or watered", blank=False),
        FieldRow("paste", "Paste above", "flag"), FieldRow("hormone", "Hormone below", "flag"),
        FieldRow("planted", "Set", "count", blank=False), FieldRow("alive", "Alive", "count"), FieldRow("rooted", "Rooted", "count"),
    ),
    make=cutting,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Cutting(),
    grips=_grips,
    pull=_pull,
)  # fmt: skip
