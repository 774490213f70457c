"""Fruit trees in tubs, and plants of dry lands."""

import numpy as np

from kesh.advice.special.plan import Figure, Placed, Setting, SpecialCut, SpecialPlan, Stage, care, finding
from kesh.advice.steps.step import WorkStep
from kesh.advice.steps.step import care as caution
from kesh.figure.overlay import Area, Note, Overlay, Shape, Size, Stroke, box
from kesh.science.days import later
from kesh.science.season import day_words
from kesh.science.special.tub import (
    ROOT_COVER_MM,
    STEP_MM,
    TAPER_MOST,
    dry_gap_days,
    kill_c,
    mulch_years,
    next_tub,
    soil_line_over_mm,
    stake_mm,
    taper_share,
)

SHOWN_YEARS = 4


def fruit_tub(s: Setting) -> SpecialPlan:
    """The plan of a fruit tree in a tub."""
    row, u, pot, roots = s.planting.tub, s.u, s.a.pot, s.a.case.roots
    if row is None:
        return SpecialPlan(
            "fruit_tub",
            "Nothing of the tub yet",
            findings=(
                finding(
                    "tub", "unknown", "Nothing of the tub is entered yet.", "Enter the stem up to the first branch."
                ),
            ),
        )
    found, figures, cuts = [], [], []
    if roots is None:
        found.append(
            finding(
                "tub_next",
                "unknown",
                "The root mass is not known; the next size is not told.",
                "Measure length and width of the root mass: step 1.",
            )
        )
    else:
        present = float(s.a.figures.fill_l[0])
        nxt = next_tub(roots.length_mm, roots.width_mm, None)
        inner = pot.length_mm - 2 * pot.wall_mm
        low, high = nxt.length_mm
        status = "fits" if low <= inner <= high else "watch"
        text = f"{u.mm(inner)} inside; root mass and {STEP_MM[0]:.0f} to {STEP_MM[1]:.0f} mm all round ask {u.band(low, high)}."
        remedy = (
            ""
            if status == "fits"
            else "Too large it stays wet where no roots are: go by steps."
            if inner > high
            else "A size larger gives it a year or two."
        )
        found.append(finding("tub_next", status, text, remedy, inner, "mm", low, high))
        figures += [
            Figure("Next tub inside", u.band(low, high)),
            Figure(
                "Next volume",
                f"{u.litres(1.5 * present)} to {u.litres(2 * present)}",
                tip="one and a half to two times this one",
            ),
        ]
    bulge = float(s.a.figures.undercut[0][0])
    status = "fits" if bulge <= 0.5 else "no"
    found.append(
        finding(
            "tub_mouth",
            status,
            "The mouth is as wide as the belly: it lifts out."
            if status == "fits"
            else f"The belly is {u.mm(2 * bulge)} wider than the mouth: the roots grow into it and cannot be lifted out.",
            "" if status == "fits" else "Take one whose mouth is the widest place.",
            bulge,
            "mm",
            None,
            0.0,
        )
    )
    taper = taper_share(pot.profile.base_inset_mm, pot.body_height_mm)
    status = "fits" if taper <= TAPER_MOST else "watch"
    found.append(
        finding(
            "tub_taper",
            status,
            f"Its side draws in by {taper:.2f} of its height; up to {TAPER_MOST:g} stands in gusts.",
            "" if status == "fits" else "Weight at the floor, or a straighter tub.",
            taper,
            "",
            None,
            TAPER_MOST,
        )
    )
    tips = s.a.finding("tipping")
    if tips is not None:
        found.append(
            finding(
                "tub_gusts",
                tips.status,
                tips.text,
                tips.remedy,
                tips.value,
                tips.unit,
                tips.low,
                tips.high,
                tips.source,
            )
        )
    if row.stem_mm is None:
        found.append(
            finding(
                "tub_stake",
                "unknown",
                "How high the stem is up to the first branch is not known.",
                "Measure it from the soil.",
            )
        )
    elif row.staked:
        low, high = stake_mm(row.stem_mm)
        have = row.stake_mm
        status = "watch" if have is None else "fits" if low - 1 <= have <= high + 1 else "watch"
        text = (
            f"The stake ends {u.band(low, high)} over the soil, a third to half of the stem."
            if have is None
            else f"The stake ends {u.mm(have)} over the soil; {u.band(low, high)} asked, a third to half of the stem."
        )
        found.append(
            finding(
                "tub_stake",
                "fits" if have is None else status,
                text,
                "" if status == "fits" or have is None else "Low, so that the stem learns to bear itself.",
                have,
                "mm",
                low,
                high,
            )
        )
        top = have if have is not None else (low + high) / 2
        total = top + max(pot.inner_depth_mm - s.a.case.headspace_mm, 0.0)
        cuts.append(
            SpecialCut(
                "stake",
                "round stake",
                total,
                (),
                20.0,
                "timber",
                1,
                "driven before the soil, to the windward side; a loose figure of eight holds the stem",
            )
        )
        figures.append(Figure("Stake", u.mm(total)))
    budget = pot.inner_depth_mm * 0.15
    years = mulch_years(budget + s.a.case.headspace_mm, s.a.case.headspace_mm, row.mulch_mm_year)
    if years is not None:
        status = "fits" if years >= 3 else "watch"
        found.append(
            finding(
                "tub_mulch",
                status,
                f"{u.mm(row.mulch_mm_year)} of mulch a year: {years:.0f} years until soil is taken off again.",
                "" if status == "fits" else "Leave more room under the rim.",
                years,
                "years",
                3.0,
            )
        )
        figures.append(Figure("Mulch", f"{years:.0f} years of {u.mm(row.mulch_mm_year)}"))
    stand = s.a.figures.stand
    if stand is not None:
        wet = float(stand.mass_wet_kg[0])
        alone = float(stand.one_person_kg[0])
        status = "watch" if wet > alone else "fits"
        found.append(
            finding(
                "tub_load",
                status,
                f"{u.kg(wet)} wet; one person lifts {u.kg(alone)} here.",
                "Two people, or a trolley; let it drain first. The usual limits of the place you work in come first."
                if status == "watch"
                else "",
                wet,
                "kg",
                None,
                alone,
            )
        )
        figures.append(Figure("Wet", u.kg(wet), status))
    graft = s.a.case.tree.measure.graft_height_mm
    if graft is not None:
        over = graft
        status = "fits" if over >= 15 + s.planting.dressing_mm else "no"
        found.append(
            finding(
                "tub_graft",
                status,
                f"The graft stands {u.mm(over)} over the soil; 15 mm over the mulch asked.",
                "" if status == "fits" else "Plant it higher: a buried graft roots on its own.",
                over,
                "mm",
                15 + s.planting.dressing_mm,
            )
        )
    steps: tuple[Placed, ...] = (
        Placed("coarse", WorkStep("tub_stake", "stake", "Set the stake before the soil", "" if not cuts else u.figure(cuts[0].total_mm), f"{u.length} long" if cuts else "", ("On the windward side, through the floor's mix to the floor.",), minutes=5.0)),
        Placed("set", WorkStep("tub_graft", "graft", "Graft over the soil, mulch clear of the stem", "15", "mm over the mulch at least", ("The soil line is the old one.",), minutes=3.0)),
        Placed("fill", WorkStep("tub_mulch", "mulch", f"{u.mm(row.mulch_mm_year)} of mulch", u.figure(row.mulch_mm_year), f"{u.length} every year", ("A hand's breadth free round the stem.",), minutes=5.0)),
    )  # fmt: skip
    if not row.staked:
        steps = steps[1:]
    stages = tuple(
        Stage(
            f"Year {n + 1}",
            s.day.replace(year=s.day.year + n, day=min(s.day.day, 28)),
            "after flowering",
            "mulch renewed" if n else "potted on",
            Overlay(_tub_front(s, n, dims=False)),
        )
        for n in range(SHOWN_YEARS)
    )
    after = (
        care("feed", 45, 120, "Feed while fruit swells, little and often.", "Fruit colours."),
        care(
            "check_ties",
            60,
            120,
            "Look whether the stake's tie is loose: a finger goes through.",
            "A finger goes through.",
        ),
    )
    return SpecialPlan("fruit_tub", "The next tub, its stake and its load", tuple(figures), tuple(found), steps, tuple(cuts), stages, Overlay(_tub_front(s, 0, dims=True)), Overlay(), after)  # fmt: skip


def _tub_front(s: Setting, years: int, *, dims: bool) -> tuple[Shape, ...]:
    row = s.planting.tub
    assert row is not None
    x, soil, pot = s.planting.offset_x_mm, s.soil_mm, s.a.pot
    shapes: list[Shape] = []
    side = -1 if s.a.case.tree.flow == "right" else 1
    if row.staked and row.stem_mm is not None:
        low, high = stake_mm(row.stem_mm)
        top = soil + (row.stake_mm if row.stake_mm is not None else (low + high) / 2)
        at = x + side * max(0.9 * (s.a.case.tree.measure.flare_width_mm or 60.0), 38.0)
        shapes.append(Stroke(((at, s.floor_mm), (at, top)), "wood", 14.0, layer="behind"))
        tie = top - 22
        shapes.append(
            Stroke(((at, tie), ((at + x) / 2, tie + 7), (x, tie), ((at + x) / 2, tie - 7), (at, tie)), "wire", 3.0)
        )
        if dims:
            shapes.append(Size((at, soil), (at, top), s.u.figure(top - soil), 18.0 * side, level=False))
            for v in (low, high):
                shapes.append(Stroke(((at - 16, soil + v), (at + 16, soil + v)), "cut", dashed=True))
    inner = pot.length_mm / 2 - pot.wall_mm
    mulch = row.mulch_mm_year * years
    if mulch or dims:
        high = max(mulch, row.mulch_mm_year if dims else 0.0)
        shapes.append(Area(box(x - inner, soil, x + inner, soil + high), "mulch", "behind"))
    if dims and s.a.case.roots is not None:
        roots = s.a.case.roots
        nxt = next_tub(roots.length_mm, roots.width_mm, None).length_mm
        for v in nxt:
            shapes.append(
                Stroke(((-v / 2, 0), (-v / 2, pot.height_mm), (v / 2, pot.height_mm), (v / 2, 0)), "ghost", dashed=True)
            )
        shapes.append(
            Size(
                (-nxt[1] / 2, -6), (nxt[1] / 2, -6), f"next {s.u.figure(nxt[0])} to {s.u.figure(nxt[1])} inside", -25.0
            )
        )
    return tuple(shapes)


def desert(s: Setting) -> SpecialPlan:
    """The plan of a plant that stores water."""
    row, u, case = s.planting.desert, s.u, s.a.case
    if row is None:
        return SpecialPlan(
            "desert",
            "Nothing of the dry plan yet",
            findings=(
                finding(
                    "desert",
                    "unknown",
                    "Nothing of the dry plan is entered yet.",
                    "Say how high its highest root stands and how it winters.",
                ),
            ),
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
            "" if 4 <= row.dry_days <= 21 else "Four days at least, three weeks at most [J].",
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
                    f"In summer growth every {gap[0]:.0f} to {gap[1]:.0f} days: nine tenths of the store used, then the wait [J]. A stick comes out dry first.",
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
    steps = (
        Placed("lift", WorkStep("desert_dry_soil", "dry", "Let it dry before it is lifted", lines=("Dry soil rakes off; dry roots break less.",), minutes=2.0)),
        Placed("roots", WorkStep("desert_seal", "seal", f"Cuts dry for {row.dry_days:.0f} days before water", f"{row.dry_days:.0f}", "days dry", ("Bare, in shade, or planted into bone-dry mix. Milky sap: keep it off skin and eyes.",), cautions=caution("latex_sap"), minutes=5.0)),
        Placed("set", WorkStep("desert_line", "line", f"Soil at most {u.mm(ROOT_COVER_MM)} over the highest root", u.figure(ROOT_COVER_MM), f"{u.length} at most", ("Coarse grit at the neck.",), minutes=4.0)),
    )  # fmt: skip
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
    return SpecialPlan("desert", f"Dry until {day_words(dry_until)}, then when all is used", tuple(figures), tuple(found), steps, (), stages, Overlay(_desert_front(s, 0, dims=True)), Overlay(), after)  # fmt: skip


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
