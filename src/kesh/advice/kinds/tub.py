"""Fruit trees in tubs: the next tub, the stake, mulch and load."""

import numpy as np

from kesh.advice.case import Case
from kesh.advice.design.limit import WALL_MM, Limit, Sizes
from kesh.advice.figures import Figures
from kesh.advice.kinds.kind import FieldRow, Grip, Kind
from kesh.advice.kinds.kinds import DISPLAY, KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialCut, SpecialPlan, Stage, care, finding, nothing_yet
from kesh.advice.planting.steps.step import WorkStep
from kesh.advice.roots.this_year import this_year
from kesh.figure.overlay import Area, Overlay, Shape, Size, Stroke, box
from kesh.model import Planting, Tub
from kesh.science.special.tub import TAPER_MOST, mulch_years, next_tub, stake_mm, step_span, taper_share

SHOWN_YEARS = 4


def fruit_tub(s: Setting) -> SpecialPlan:
    """The plan of a fruit tree in a tub."""
    row, u, pot, roots = s.planting.tub, s.u, s.a.pot, s.a.case.roots
    if row is None:
        return nothing_yet(
            "fruit_tub",
            "Nothing of the tub yet",
            "tub",
            "Nothing of the tub is entered yet.",
            "Enter the stem up to the first branch.",
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
        nxt = next_tub(roots.length_mm, roots.width_mm, None, row.step_mm)
        least, most = step_span(row.step_mm)
        inner = pot.length_mm - 2 * pot.wall_mm
        low, high = nxt.length_mm
        status = "fits" if low <= inner <= high else "watch"
        text = f"{u.mm(inner)} inside; root mass and {u.band(least, most)} all round ask {u.band(low, high)}."
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
    return SpecialPlan("fruit_tub", "The next tub, its stake and its load", tuple(figures), tuple(found), tuple(cuts), stages, Overlay(_tub_front(s, 0, dims=True)), Overlay(), after)  # fmt: skip


def stake_end(s: Setting) -> tuple[float, float] | None:
    """The stake's upper end in the front view, mm; half way between the heights asked where nobody set it. None without a stake."""
    row = s.planting.tub
    if row is None or not row.staked or row.stem_mm is None:
        return None
    top = row.stake_mm if row.stake_mm is not None else sum(stake_mm(row.stem_mm)) / 2
    side = -1 if s.a.case.tree.flow == "right" else 1
    beside = max(0.9 * (s.a.case.tree.measure.flare_width_mm or 60.0), 38.0)
    return s.planting.offset_x_mm + side * beside, s.soil_mm + top


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    row, u = s.planting.tub or Tub(), s.u
    base = u.mm(s.a.seat.base_mm)
    year = this_year(s.a.figures)
    found = [
        WorkStep("try", "try", f"Try it on {base} of mix", lines=("The old soil line comes to lie as it was, the graft well over it.",), drawing="try", minutes=4.0),
        WorkStep("set", "set", "Set it in the middle, the soil line where it was", "15", "mm of graft over the mulch at least", ("Crown upright, branches clear of the wall behind it.",), "set", minutes=6.0),
        WorkStep("fill", "fill", "Fill in layers and press each down with the fist", u.figure(s.a.case.headspace_mm), f"{u.length} below the rim is where the soil ends", ("Room for mulch and for water stays under the rim.",), "fill", "end", minutes=12.0),
        WorkStep("mulch", "mulch", f"{u.mm(row.mulch_mm_year)} of mulch", u.figure(row.mulch_mm_year), f"{u.length} every year", ("A hand's breadth free round the stem.",), minutes=5.0),
        WorkStep("water", "water", "Water it in, twice", lines=("A full can each time: large tubs close their hollows only with the second.",), drawing="water", minutes=6.0),
    ]  # fmt: skip
    if row.staked:
        found.append(
            WorkStep(
                "stake",
                "stake",
                "Set the stake before the soil",
                lines=("On the windward side, down to the floor; the tie a loose eight, padded.",),
                minutes=5.0,
            )
        )
    if year is not None and not year.nothing:
        found.append(
            WorkStep(
                "roots",
                "roots",
                "Loosen circling roots all round",
                lines=("Tease them out with a hook and cut what runs round the wall; the rest stays.",),
                drawing="comb",
                clock="start",
                minutes=10.0,
            )
        )
    return tuple(found)


def _tub_front(s: Setting, years: int, *, dims: bool) -> tuple[Shape, ...]:
    row = s.planting.tub
    assert row is not None
    x, soil, pot = s.planting.offset_x_mm, s.soil_mm, s.a.pot
    shapes: list[Shape] = []
    stake = stake_end(s)
    if stake is not None and row.stem_mm is not None:
        (at, top), (low, high) = stake, stake_mm(row.stem_mm)
        side = 1 if at > x else -1
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


def _grips(s: Setting) -> list[Grip]:
    stake = stake_end(s)
    return [] if stake is None else [Grip("tub:stake", "End of the stake", "front", *stake)]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p = s.planting
    assert p.tub is not None
    return p.changed(tub=p.tub.changed(stake_mm=round(max(y_mm - s.soil_mm, 1.0), 1)))


def _sizes(case: Case, p: Planting) -> Sizes:
    if case.roots is None:
        return Sizes()
    low, high = next_tub(case.roots.length_mm, case.roots.width_mm, None).length_mm
    depths = (case.roots.depth_mm + 30.0, 1.3 * case.roots.depth_mm + 60.0)
    return Sizes((low + 2 * WALL_MM, high + 2 * WALL_MM), depths)


def _limits(f: Figures, p: Planting) -> tuple[Limit, ...]:
    taper = f.pots.base_inset / np.maximum(f.pots.body_height, 1.0)
    found = [Limit("tub_taper", "taper of the tub", "", taper, TAPER_MOST, TAPER_MOST, True, False)]
    if f.case.roots is not None:
        low, high = next_tub(f.case.roots.length_mm, f.case.roots.width_mm, None).length_mm
        across = f.pots.length - 2 * f.pots.wall
        found += [
            Limit("tub_next", "inside of the next tub", "mm", across, low, low, False, False),
            Limit("tub_next_most", "inside of the next tub", "mm", across, high, high, True, False),
        ]
    return tuple(found)


ORDER = ("mix", "lift", "try", "roots", "stake", "set", "fill", "mulch", "water", "carry")
KIND = Kind(
    KindRow("fruit_tub", 7, "Fruit tub", "A fruit tree in a tub: potted on by steps, staked, safe in gusts, with room for mulch; two people carry it.", field="tub", styles=("container_fruit_tree",), off=DISPLAY, why_off="a tub is for crop and load"),
    fields=(
        FieldRow("stem_mm", "Stem", "mm", "From the soil to the first branch"), FieldRow("stake_mm", "Stake ends", "mm", "Over the soil; by rule without it"),
        FieldRow("staked", "Staked", "flag"), FieldRow("mulch_mm_year", "Mulch a year", "mm", blank=False),
        FieldRow("step_mm", "Step all round", "mm", "From the root mass to the next tub's wall, within 15 mm", blank=False),
    ),
    make=fruit_tub,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Tub(),
    grips=_grips,
    pull=_pull,
    sizes=_sizes,
    limits=_limits,
)  # fmt: skip
