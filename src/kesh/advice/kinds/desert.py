"""Plants that store water: dry cuts, the first water, soil below the lowest root, a roofed crown, a dry winter."""

import numpy as np

from kesh.advice.kinds.kind import FieldRow, Grip, Kind
from kesh.advice.kinds.kinds import KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialPlan, Stage, care, finding, nothing_yet
from kesh.advice.planting.steps.step import WorkStep, sap
from kesh.advice.planting.steps.step import care as caution
from kesh.advice.roots.this_year import this_year
from kesh.advice.season.aftercare import dry_days
from kesh.figure.overlay import Area, Note, Overlay, Shape, Stroke, box
from kesh.model import Desert, Planting
from kesh.science.season.days import later
from kesh.science.season.season import day_words
from kesh.science.special.tub import ROOT_COVER_MM, dry_gap_days, kill_c, soil_line_over_mm

SHOWN_YEARS = 4


def desert(s: Setting) -> SpecialPlan:
    """The plan of a plant that stores water."""
    row, u, case = s.planting.desert, s.u, s.a.case
    if row is None:
        return nothing_yet(
            "desert",
            "Nothing of the dry plan yet",
            "desert",
            "Nothing of the dry plan is entered yet.",
            "Say how high its highest root stands and how it winters.",
        )
    found, figures = [], []
    soil = row.soil_mm if row.soil_mm is not None else 0.0
    over = soil_line_over_mm(soil, row.highest_root_mm)
    status = "fits" if over <= ROOT_COVER_MM + 1e-9 else "no"
    found.append(
        finding(
            "desert_soil",
            status,
            f"The soil stands {u.mm(over)} over the highest root; {u.mm(ROOT_COVER_MM)} at most."
            if over > 0
            else "The soil stands below the highest root.",
            "" if status == "fits" else "Take soil off, or plant it higher: a buried neck rots.",
            over,
            "mm",
            None,
            ROOT_COVER_MM,
        )
    )
    dry_until = later(s.day, round(row.dry_days))
    found.append(
        finding(
            "desert_dry",
            "fits" if 4 <= row.dry_days <= 21 else "watch",
            f"Dry until {day_words(dry_until)}, {row.dry_days:.0f} days: cuts seal first.",
            "" if 4 <= row.dry_days <= 21 else "Four days at least, three weeks at most.",
            row.dry_days,
            "days",
            4.0,
            21.0,
        )
    )
    figures.append(Figure("First water", day_words(dry_until)))
    dry, need = s.a.figures.water, case.species.water_need if case.species is not None else None
    use = s.a.figures.use
    if dry is None or use is None or need is None:
        found.append(
            finding(
                "desert_gap",
                "unknown",
                "How long its store lasts is not known.",
                "Mix, species and crown settle it: steps 1 and 5.",
            )
        )
    else:
        gap = dry_gap_days(float(dry.available_l[0]), float(np.ravel(use.demand_l_day)[0]), int(need))
        if gap is not None:
            found.append(
                finding(
                    "desert_gap",
                    "fits",
                    f"In summer growth every {gap[0]:.0f} to {gap[1]:.0f} days: nine tenths of the store used, then the wait. A stick comes out dry first.",
                    "",
                    gap[0],
                    "days",
                    *gap,
                )
            )
            figures.append(Figure("Waterings in growth", f"every {gap[0]:.0f} to {gap[1]:.0f} days"))
    found.append(
        finding(
            "desert_crown",
            "fits" if row.crown_roofed else "watch",
            "The crown is kept from rain."
            if row.crown_roofed
            else "Rain falls on its crown: water stands in the neck and rots it.",
            "" if row.crown_roofed else "Under a roof or glass from autumn on, and in long rain.",
        )
    )
    bears = None if case.species is None else case.species.root_hardy_c
    if bears is None:
        found.append(
            finding(
                "desert_frost",
                "unknown",
                "What its roots bear is not known.",
                "Name the species, or enter its root hardiness.",
            )
        )
    else:
        wet, dry_c = kill_c(bears, wet=True), kill_c(bears, wet=False)
        status = "no" if row.winter == "out" and bears > -8 else "fits"
        found.append(
            finding(
                "desert_frost",
                status,
                f"Roots bear {dry_c:.0f} °C dry and only {wet:.0f} °C wet.",
                "Bring it in before nights of that, and keep it dry." if status == "no" else "Cold only when dry.",
                wet,
                "°C",
                wet,
            )
        )
        figures.append(Figure("Bears", f"{dry_c:.0f} °C dry, {wet:.0f} °C wet"))
    year = s.day.year
    stages = (
        Stage("Dry", s.day, f"{row.dry_days:.0f} days, cuts corky", "no water", Overlay(_desert_front(s, 0, dims=False))),
        Stage("First water", dry_until, "once, thoroughly", "then wait", Overlay(_desert_front(s, 1, dims=False))),
        Stage("Growth", later(s.day, 60), "leaves open", "by the stick", Overlay(_desert_front(s, 1, dims=False))),
        Stage("Winter dry", later(s.day, 210), {"dry_warm": "warm and dry", "dry_cool": "cool and dry", "out": "outside"}[row.winter], f"{year} to {year + 1}", Overlay(_desert_front(s, 0, dims=False))),
    )  # fmt: skip
    after = (
        care("first_watering", round(row.dry_days), round(row.dry_days) + 3, "Once, thoroughly; then not before a stick comes out dry.", "Cuts are corky."),
        care("shelter_rain", 0, 60, "Crown and neck out of rain.", "The neck is firm."),
    )  # fmt: skip
    return SpecialPlan("desert", f"Dry until {day_words(dry_until)}, then when all is used", tuple(figures), tuple(found), (), stages, Overlay(_desert_front(s, 0, dims=True)), Overlay(), after)  # fmt: skip


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    u, year = s.u, this_year(s.a.figures)
    # where nobody has said how long, it is as long as the season's first watering waits
    row = s.planting.desert or Desert(dry_days=dry_days(s.a.case.species, 0.0 if year is None else year.share))
    first = later(s.day, round(row.dry_days))
    litres = u.litres(float(s.a.figures.fresh_soil_l[0]))
    cuts = year is not None and not year.nothing and year.share > 0.02
    found = [
        WorkStep("dry", "dry", "Let it dry in its old pot first", lines=("No water for a week or two: dry soil rakes off, dry roots break less.",), minutes=1.0),
        WorkStep("mix", "mix", f"Mix {litres}, bone dry", lines=("Lean and open: the first watering comes later.",), drawing="soil", minutes=5.0),
        WorkStep("set", "set", f"Set it on the mix, soil at most {u.mm(ROOT_COVER_MM)} over the highest root", u.figure(ROOT_COVER_MM), f"{u.length} at most", ("Not deeper than it stood: the neck rots under soil.",), "set", minutes=6.0),
        WorkStep("fill", "fill", "Fill with dry mix, grit at the neck", lines=("Tap the pot, no wet stick; grains run in by themselves.",), drawing="fill", clock="end", minutes=6.0),
        WorkStep("carry", "place", "To a warm, dry, bright place", lines=("Out of rain and strong sun until it has drunk.",), drawing="carry", minutes=3.0),
        WorkStep("water", "water", f"First water on {day_words(first)}", f"{row.dry_days:.0f}", "days dry", ("Once, thoroughly, when the cuts are corky; then not before a stick comes out dry.",), "water", minutes=3.0),
    ]  # fmt: skip
    if cuts:
        found.append(
            WorkStep(
                "callus",
                "seal",
                f"Let cut roots dry for {row.dry_days:.0f} days",
                f"{row.dry_days:.0f}",
                "days",
                ("Bare, in shade; or planted at once into bone-dry mix and left dry as long.",),
                cautions=caution(*sap(s.a)),
                minutes=2.0,
            )
        )
    if s.a.case.brief.root_views.amount != "nothing" and year is not None and year.share > 0.02:
        found.append(
            WorkStep(
                "roots",
                "roots",
                f"Take {year.share:.0%} of the roots off",
                lines=("Thin and dead ones; thick storage roots stay whole.",),
                drawing="comb",
                cautions=caution(*sap(s.a)),
                minutes=8.0,
            )
        )
    m = s.a.case.tree.measure
    if m.height_mm is not None and m.height_mm > 3 * s.a.pot.height_mm:
        found.append(
            WorkStep(
                "props",
                "hold",
                "Prop it with stones or two rods until roots hold",
                lines=("Nothing tied round a fleshy trunk.",),
                minutes=4.0,
            )
        )
    return tuple(found)


def _desert_front(s: Setting, water: int, *, dims: bool) -> tuple[Shape, ...]:
    row = s.planting.desert
    assert row is not None
    x, foot = s.foot
    soil = foot + (row.soil_mm or 0.0)
    half = s.a.pot.length_mm / 2
    shapes: list[Shape] = []
    if row.crown_roofed:
        m = s.a.case.tree.measure
        top = foot + (m.height_mm or 300.0) + 26
        reach = max(m.canopy_left_mm or 100.0, m.canopy_right_mm or 100.0) + 20
        shapes.append(Stroke(((x - reach, top - 12), (x, top + 12), (x + reach, top - 12)), "tube", 4.0))
        for k in range(7):
            dx = (k - 3) / 3 * reach
            shapes.append(Stroke(((x + dx, top + 30), (x + dx - 4, top + 16)), "water"))
    if water:
        shapes.append(
            Area(
                box(
                    -half + s.a.pot.wall_mm,
                    s.floor_mm,
                    half - s.a.pot.wall_mm,
                    s.floor_mm + 0.5 * s.a.pot.inner_depth_mm,
                ),
                "water",
                "behind",
            )
        )
    if dims:
        root = foot + row.highest_root_mm
        most = root + ROOT_COVER_MM
        wide = 0.7 * half
        shapes.append(Stroke(((x - wide, most), (x + wide, most)), "cut", dashed=True))
        shapes.append(Note((x + wide + 8, most - 3), "soil here at most"))
        shapes.append(Stroke(((x - wide, soil), (x + wide, soil)), "mulch", 2.0))
    return tuple(shapes)


def _grips(s: Setting) -> list[Grip]:
    row, (x, foot) = s.planting.desert, s.foot
    if row is None:
        return []
    return [Grip("desert:soil", "Soil line", "front", x + 0.25 * s.a.pot.length_mm, foot + (row.soil_mm or 0.0))]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p = s.planting
    assert p.desert is not None
    return p.changed(desert=p.desert.changed(soil_mm=round(y_mm - s.foot[1], 1)))


ORDER = ("dry", "mix", "lift", "surface", "roots", "callus", "set", "props", "fill", "dress", "carry", "water")
KIND = Kind(
    KindRow("desert", 8, "Desert plant", "It stores water: planted dry, watered when all is used and some days more, crown out of rain, never deeper than its highest root.", field="desert"),
    fields=(
        FieldRow("highest_root_mm", "Highest root", "mm", "Over the old soil line; below it with a minus", blank=False), FieldRow("soil_mm", "Soil now", "mm", "Over the old soil line"),
        FieldRow("dry_days", "Dry days", "number", "After the roots were cut", blank=False), FieldRow("crown_roofed", "Crown out of rain", "flag"),
        FieldRow("winter", "Winter", "choice", options=(("dry_warm", "warm and dry"), ("dry_cool", "cool and dry"), ("out", "outside"))),
    ),
    make=desert,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Desert(),
    grips=_grips,
    pull=_pull,
)  # fmt: skip
