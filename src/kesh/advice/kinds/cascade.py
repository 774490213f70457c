"""Cascades: air under the tail, tipping towards it, the counterweight, the stand."""

from kesh.advice.case import Case
from kesh.advice.design.limit import Limit, Sizes
from kesh.advice.figures import Figures
from kesh.advice.kinds.kind import FieldRow, Grip, Kind
from kesh.advice.kinds.kinds import KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialPlan, care, finding
from kesh.advice.planting.steps.step import PLAIN, WorkStep, before, behind
from kesh.advice.planting.steps.step import care as caution
from kesh.base.errors import FieldError
from kesh.figure.overlay import Area, Overlay, Shape, Size, Stroke, box
from kesh.model import Planting
from kesh.science.special.cascade import (
    ASKED_DEG,
    CLEAR_MM,
    clear_air_mm,
    counterweight_kg,
    stand_for_mm,
    tip_with_tail,
)

# a tail is so much of the tree, and its middle lies so far out of its reach and so far down its drop [J]
TAIL_SHARE, TAIL_OUT, TAIL_DOWN = 0.45, 0.5, 0.45
STONE_KG_L = 2.6


def make(s: Setting) -> SpecialPlan:
    """The plan of a hanging tree."""
    a, u, pot = s.a, s.u, s.a.pot
    m, brief = a.case.tree.measure, a.case.brief
    found, figures = [], []
    drop, seat = m.drop_mm, s.planting.raise_mm
    side = -1 if a.case.tree.flow == "left" else 1
    reach = (m.canopy_left_mm if side < 0 else m.canopy_right_mm) or 0.0
    stand = brief.stand_mm
    air = None
    if drop is None:
        found.append(
            finding(
                "tail_air",
                "unknown",
                "How far the tail hangs below the soil is not known.",
                "Measure from the soil line down to the lowest tip: step 1.",
            )
        )
    else:
        air = clear_air_mm(pot.height_mm, stand, seat, drop)
        asked = stand_for_mm(pot.height_mm, seat, drop)
        status = "fits" if air >= CLEAR_MM else "no" if air < 0 else "watch"
        text = (
            f"{u.mm(air)} of air under the tail; {u.mm(CLEAR_MM)} asked."
            if air >= 0
            else f"The tail reaches {u.mm(-air)} below the bench."
        )
        found.append(
            finding(
                "tail_air",
                status,
                text,
                ""
                if status == "fits"
                else f"A stand of {u.mm(asked)} under it, or a pot {u.mm(CLEAR_MM - air)} taller.",
                air,
                "mm",
                CLEAR_MM,
            )
        )
        figures += [Figure("Air under the tail", u.mm(air), status), Figure("Stand", u.mm(stand) if stand else "none")]
        if asked > 0 and stand < asked:
            figures.append(Figure("Stand asked", u.mm(asked)))
    f, tree = a.figures, s.tree_kg
    stood = f.stand
    weight = s.planting.counterweight_kg or 0.0
    tip = None
    if stood is None or tree is None or drop is None:
        found.append(
            finding(
                "tail_tips",
                "unknown",
                "How it tips towards the tail is not known.",
                "Mix, pot and the tree's measures settle it: steps 1 and 5.",
            )
        )
    else:
        total = float(stood.mass_dry_kg[0]) - weight
        tail = TAIL_SHARE * tree
        rest = total - tail
        edge = 0.46 * (pot.length_mm - 2 * pot.profile.base_inset_mm)
        out = max(reach * TAIL_OUT + side * s.planting.offset_x_mm - edge, -edge)
        high = max(s.soil_mm - TAIL_DOWN * drop, 0.0)
        cog = float(stood.cog_height_mm[0])
        tip = tip_with_tail(rest, cog, edge, tail, out, high, weight, pot.feet_mm + pot.floor_mm + 10)
        status = "fits" if tip.tip_deg >= ASKED_DEG else "watch" if tip.tip_deg >= 0.6 * ASKED_DEG else "no"
        remedy = ""
        if status != "fits":
            try:
                need = counterweight_kg(rest, cog, edge, tail, out, high, pot.feet_mm + pot.floor_mm + 10)
                remedy = (
                    f"{u.kg(need)} of stone on the floor, {u.litres(need / STONE_KG_L)} less soil; or a wider foot."
                )
                figures.append(Figure("Counterweight", u.kg(need), tip="the mass at the floor that gives 20 degrees"))
            except FieldError:
                remedy = "No weight at the floor makes so narrow a foot stand: take a wider pot, or tie the pot to the bench."
        found.append(
            finding(
                "tail_tips",
                status,
                f"It tips towards the tail at {tip.tip_deg:.0f}°; {ASKED_DEG:.0f}° asked.",
                remedy,
                tip.tip_deg,
                "deg",
                ASKED_DEG,
            )
        )
        figures.append(Figure("Tips towards the tail", f"{tip.tip_deg:.0f}°", status))
    if weight:
        figures.append(Figure("Stone on the floor", f"{u.kg(weight)}, {u.litres(weight / STONE_KG_L)}"))
    title = (
        "How far it hangs is not known"
        if air is None
        else f"{u.mm(air)} of air under the tail"
        if air >= 0
        else f"The tail lies {u.mm(-air)} below the bench"
    )
    if tip is not None:
        title += f"; it tips at {tip.tip_deg:.0f}°"
    after = (
        care(
            "look",
            30,
            60,
            "Turn it a quarter each fortnight; look whether the tail has settled lower.",
            "The tail keeps its height.",
        ),
    )
    return SpecialPlan("cascade", title, tuple(figures), tuple(found), (), (), Overlay(_front(s, drop, stand, side, reach, weight), box=_box(s, drop, stand, side * reach)), Overlay(), after)  # fmt: skip


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    u, weight = s.u, s.planting.counterweight_kg
    found = [
        WorkStep("stand", "stand", "On its stand, the tail towards the light", lines=("Tie pot and stand to the bench: a gust takes a cascade by its tail.",), cautions=caution("tall_tips"), drawing="carry", minutes=5.0)
    ]  # fmt: skip
    if weight:
        found.append(WorkStep("weight", "weight", f"{u.kg(weight)} of stone on the floor, on the side away from the tail", u.kg(weight).partition(" ")[0], f"{u.kg(weight).partition(' ')[2]}, clear of the holes", ("Flat stones, so that no hollow is left under them.",), minutes=5.0))  # fmt: skip
    return tuple(found)


def _box(s: Setting, drop: float | None, stand: float, tail_mm: float) -> tuple[float, float, float, float] | None:
    low = min(-stand, s.a.pot.height_mm + s.planting.raise_mm - (drop or 0.0))
    half = s.a.pot.length_mm / 2
    # the tail's sizes stand beside it
    tip = s.planting.offset_x_mm + tail_mm * 1.25
    return (min(-half, tip), low, max(half, tip), s.a.pot.height_mm)


def _front(s: Setting, drop: float | None, stand: float, side: int, reach: float, weight: float) -> tuple[Shape, ...]:
    """The stand under the pot, the air under the tail, the stone at the floor, the line it tips about."""
    pot = s.a.pot
    half = pot.length_mm / 2
    shapes: list[Shape] = []
    if stand:
        shapes.append(Area(box(-half - 10, -8, half + 10, 0), "wood"))
        for x in (-half + 4, half - 14):
            shapes.append(Area(box(x, -stand, x + 10, -8), "wood"))
    shapes.append(Stroke(((-half - 60, -stand), (half + reach, -stand)), "cut"))
    if drop is not None:
        low = pot.height_mm + s.planting.raise_mm - drop
        x = side * reach * 0.8 + s.planting.offset_x_mm
        shapes.append(
            Size(
                (x, min(low, -stand)),
                (x, max(low, -stand)),
                s.u.figure(abs(low + stand)),
                14.0 * side,
                level=False,
                status="fits" if low + stand >= CLEAR_MM else "no",
            )
        )
        shapes.append(
            Size(
                (x + side * 30, low),
                (x + side * 30, pot.height_mm + s.planting.raise_mm),
                s.u.figure(drop),
                14.0 * side,
                level=False,
            )
        )
    if weight:
        litres = weight / STONE_KG_L
        wide = 0.5 * (pot.length_mm - 2 * pot.profile.base_inset_mm)
        high = min(litres * 1e6 / max(wide * 0.6 * pot.width_mm, 1.0), 0.5 * pot.height_mm)
        x0 = -side * wide
        shapes.append(Area(box(min(x0, 0), s.floor_mm, max(x0, 0), s.floor_mm + high), "weight"))
    edge = side * 0.46 * (pot.length_mm - 2 * pot.profile.base_inset_mm)
    shapes.append(Stroke(((edge, 0), (edge, 18)), "cut", 2.0))
    return tuple(shapes)


def _grips(s: Setting) -> list[Grip]:
    return [Grip("trunk", "Trunk", "front", *s.foot)]


def _sizes(case: Case, p: Planting) -> Sizes:
    drop = case.tree.measure.drop_mm
    if drop is None:
        return Sizes()
    tall = max(drop + CLEAR_MM - case.brief.stand_mm - p.raise_mm, 40.0)
    return Sizes((), (tall - 20.0, 1.25 * tall))


def _limits(f: Figures, p: Planting) -> tuple[Limit, ...]:
    drop = f.case.tree.measure.drop_mm
    if drop is None:
        return ()
    air = f.pots.body_height + f.pots.feet + f.case.brief.stand_mm + p.raise_mm - drop
    return (Limit("tail_air", "air under the tail", "mm", air, CLEAR_MM, CLEAR_MM, False, False),)


ORDER = behind(before(PLAIN, "set", "weight"), "test", "stand")
KIND = Kind(
    KindRow("cascade", 5, "Cascade", "It hangs below the rim: air under the tail, tipping and counterweight decide, and the stand counts.", styles=("cascade", "semi_cascade"), off=("depth_band", "visual_mass"), why_off="depth follows the tail and the stand"),
    fields=(
        FieldRow("counterweight_kg", "Stone on the floor, kg", "number", "Laid clear of the holes"),
    ),
    make=make,
    order=ORDER,
    steps=_steps,
    grips=_grips,
    sizes=_sizes,
    limits=_limits,
    keeps_seat=True,
)  # fmt: skip
