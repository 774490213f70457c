"""For a printer: solid pieces within the bed, filament and hours, whether it bears a wet pot, finish in coats."""

import math
from dataclasses import dataclass, field, replace
from itertools import groupby

from kesh.advice.assess import Assessment
from kesh.advice.routes.beside import drip_tray
from kesh.advice.routes.floor import floor_checks
from kesh.advice.routes.job import Check, Item, Job, WorkStep, size_words, warned
from kesh.advice.routes.route import Ask, Judge, Route, beginning, named
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import FieldError
from kesh.figure.pieces_drawing import beds_drawing, pieces_drawing
from kesh.figure.pot_drawing import pot_drawing
from kesh.geometry.columns import columns
from kesh.geometry.overall import differs, overall_mm
from kesh.geometry.pieces.joints import sum_odd
from kesh.geometry.pieces.split import Assembly, split
from kesh.geometry.pieces.together import together
from kesh.geometry.relief import CHAMFER_SHARE, band_words, span_mm
from kesh.geometry.solid import solid
from kesh.geometry.volume import body
from kesh.model import Pot
from kesh.reference.tables import material
from kesh.science.making.printing import PrintSetting, estimate
from kesh.science.making.strength import floor_bearing, kind_of, rim_bearing, usual_wall

BED_MM, CLEARANCE_MM = (220.0, 220.0, 250.0), 0.25
GRIP_MM = 90.0
# a half round this proud still prints in air: its level part is a few lines wide
ROUND_FREE_MM = 2.5
GLUE_ML_M2, PRIMER_ML_M2, PAINT_ML_M2 = 250.0, 120.0, 100.0


@dataclass(frozen=True)
class PrintWishes:
    """Bed, gap in the joints, how it is printed, and whether a drip tray for it is printed too."""

    bed_mm: tuple[float, float, float] = BED_MM
    clearance_mm: float = CLEARANCE_MM
    setting: PrintSetting = field(default_factory=PrintSetting)
    tray: bool = False
    plastic: str = "print_petg"


def for_print(pot: Pot, plastic: str = "print_petg") -> Pot:
    """The same inside in plastic: walls and floor as this plastic wants them, outside sizes kept."""
    wall = max(float(usual_wall(plastic, pot.length_mm)), 2.4)
    return pot.changed(
        material=plastic,
        wall_mm=round(wall, 1),
        floor_mm=round(1.2 * wall, 1),
        finish="painted",
        foot_count=pot.foot_count,
    )


def bearings(pot: Pot, a: Assessment | None) -> tuple[Check, ...]:
    """Floor and gripped rim under the wet soil and tree; unknown without the tree's mass."""
    row = material(pot.material)
    strength = row.flexural_strength_mpa or row.tensile_strength_mpa
    if strength is None or a is None or a.figures.stand is None:
        return (
            Check(
                "print_lift",
                "unknown",
                "Wall and floor are not checked for lifting: tree, mix or strength is not known.",
            ),
        )
    kind = kind_of(pot.material)
    load = float(a.figures.stand.mass_wet_kg[0])
    span = min(pot.length_mm, pot.width_mm) - 2 * pot.wall_mm
    area = float(body(columns([pot])).floor_area_mm2[0])
    found = []
    for name, thick, one in (
        ("floor", pot.floor_mm, floor_bearing(load, area, span, pot.floor_mm, strength, kind)),
        ("wall", pot.wall_mm, rim_bearing(load, GRIP_MM, pot.wall_mm, pot.body_height_mm, strength, kind)),
    ):
        text = f"The {name} of {thick:g} mm takes {one.stress_mpa:.1f} MPa when {load:.1f} kg is lifted; {one.allowed_mpa:.1f} is allowed"
        found.append(
            Check(
                "print_lift",
                "fits" if one.holds else "no",
                f"{text}." if one.holds else f"{text}. {one.needed_mm:.1f} mm would do; or carry it from below.",
            )
        )
    if row.max_service_c is not None and row.max_service_c < 65:
        found.append(
            Check(
                "print_heat",
                "watch",
                f"{row.name} softens near {row.max_service_c:g} °C: a dark wall in full sun reaches that.",
            )
        )
    return tuple(found)


def _overhangs(pot: Pot) -> tuple[Check, ...]:
    """Bands whose underside runs out over air more steeply than a printer lays it without support."""
    return tuple(
        Check(
            "print_overhang",
            "watch",
            f"{name}, {words}: its underside overhangs; print it with a support, or make it less proud.",
        )
        for band, (name, words) in zip(sorted(pot.bands, key=lambda b: span_mm(pot, b)), band_words(pot), strict=True)
        if band.proud_mm > (ROUND_FREE_MM if band.form == "round" else band.tall_mm * CHAMFER_SHARE)
    )


def assembled(pot: Pot, wishes: PrintWishes, what: str = "the pot") -> tuple[Assembly, tuple[Check, ...]]:
    """The pieces of a pot, put together once by boolean operations before anything is written.

    Raises FieldError for a bed that cannot be, or for pieces that do not go together.
    """
    made = split(pot, solid(pot), wishes.bed_mm, wishes.clearance_mm)
    if len(made) == 1:
        return made, ()
    seen = together(made)
    if not seen.good:
        raise FieldError("bed", f"{what} does not go together: {seen.words}; take another bed size or gap")
    checks = [
        Check(
            "print_together",
            "fits",
            f"Put together: no two pieces run into each other, the gaps of the joints are {seen.missing_share:.2%} of {what}, "
            "and each piece comes down from above in its turn.",
        )
    ]
    if made.plain:
        pairs = ", ".join(f"{a} and {b}" for a, b in made.plain[:6]) + (" and others" if len(made.plain) > 6 else "")
        checks.append(
            Check(
                "print_butted",
                "watch",
                f"Only butted and glued, for want of room for a joint: {pairs}. Tape them while the glue sets.",
            )
        )
    return made, tuple(checks)


def _joint_words(made: Assembly) -> str:
    """How many joints of which kind, and what they keep clear."""
    kinds = [joint.kind for joint, _, _ in made.joints]
    told = [
        f"{kinds.count(kind)} {name}"
        for kind, name in (("tongue", "tongues in the floor"), ("lap", "half laps in the wall"))
        if kind in kinds
    ]
    return f"{', '.join(told)}; {made.gap_mm:g} mm of gap, {made.land_mm:.1f} mm clear of walls, holes, feet and each other"


def _goes_to(made: Assembly, number: int) -> str:
    """The pieces with which one is joined."""
    mates = sorted({b if a == number else a for _, a, b in made.joints if number in (a, b)})
    return ", ".join(map(str, mates)) or "–"


def _order(made: Assembly) -> str:
    """The order in which the pieces are set down: those that need none of their fellows first, tier by tier."""
    runs = groupby(made.pieces, key=lambda piece: (piece.tier, sum_odd(piece.cell)))
    return "; then ".join(", ".join(str(piece.number) for piece in run) for _, run in runs)


def printer_job(pot: Pot, a: Assessment | None = None, wishes: PrintWishes | None = None) -> Job:
    """The printer's sheet with its solids. Raises FieldError for a shape, bed or setting that cannot be."""
    w = wishes or PrintWishes()
    if not pot.material.startswith("print"):
        raise FieldError("material", f"{pot.material.replace('_', ' ')} is not printed; choose a print plastic")
    whole = solid(pot)
    made, checked = assembled(pot, w)
    pieces = made.pieces
    density = material(pot.material).density_g_cm3
    joints = len(pieces) > 1
    printed = [(p.name, p.solid) for p in pieces] if joints else [("whole", whole)]
    mates = [_goes_to(made, p.number) for p in pieces]
    tray = for_print(drip_tray(pot, "tray"), pot.material) if w.tray else None
    if tray is not None:
        under, more = assembled(tray, w, "the drip tray")
        checked += more
        printed += [("tray" if len(under) == 1 else f"tray-{p.name}", p.solid) for p in under.pieces]
        mates += [_goes_to(under, p.number) for p in under.pieces]
    found = [estimate(s.volume / 1e6, s.area / 1e6, float(s.extents[2]), density, w.setting) for _, s in printed]
    mass, hours = sum(e.mass_kg for e in found), sum(e.hours for e in found)
    metres = sum(e.filament_m for e in found)
    area = float(whole.area) / 1e6
    facts = [
        ("At the rim", size_words(pot.length_mm, pot.width_mm, pot.height_mm)),
        *([("Over all", size_words(*overall_mm(pot)))] if differs(pot) else []),
        ("Bed", size_words(*w.bed_mm)),
        ("Pieces", f"{len(pieces)}" if joints else "1, whole"),
        *([("Joints", _joint_words(made)), ("Set down in turn", _order(made))] if joints else []),
        *([("Drip tray", size_words(tray.length_mm, tray.width_mm, tray.height_mm))] if tray is not None else []),
        ("Plastic", f"{mass:.2f} kg, {metres:.0f} m of 1.75 mm"),
        ("Printing", f"about {hours:.0f} h at layers of {w.setting.layer_mm:g} mm"),
        ("Wall, floor", f"{pot.wall_mm:g}, {pot.floor_mm:g} mm"),
        ("Soil to the rim", f"{float(body(columns([pot])).inner_volume_l[0]):.1f} l"),
    ]
    bill = [Item(f"filament, {material(pot.material).name}", mass * 1.1, "kg", "a tenth more for skirts and failures")]
    if joints:
        bill.append(Item("two-part glue for this plastic", GLUE_ML_M2 * pot.wall_mm / 1000 * len(pieces) * 0.6, "ml"))
    bill += [Item("filler primer", math.ceil(area * PRIMER_ML_M2 * 2), "ml", "outside, two coats"),
             Item("matt paint", math.ceil(area * PAINT_ML_M2 * 2), "ml", "outside and lip, two coats; inside stays bare"),
             Item("sanding sheets 120, 240, 400", 6, "pieces", "used wet")]  # fmt: skip
    steps = [
        WorkStep("Print two neighbouring pieces first and try how they go together." if joints else "Print it standing, without supports inside."),
        *([WorkStep("Print the pieces by number, rim upward."), WorkStep("Coat the inside faces of the joints last: paint does not glue."),
           WorkStep("Dry-fit all pieces on a flat board by number, each straight down from above; then glue in the same order and draw a strap round.", 24, "to set")] if joints else []),
        WorkStep("Sand outside wet: 120, 240.", 2, "to dry"), WorkStep("Filler primer, first coat.", 2, "to dry"),
        WorkStep("Sand wet: 400. Second coat of primer.", 4, "to dry"), WorkStep("Paint, first coat thin.", 4, "to dry"), WorkStep("Paint, second coat.", 24, "to dry"),
        WorkStep("Leave it in an airy place out of the sun.", 168, "until the paint has cured"),
        WorkStep("Fill it with water once and lift it from below before a tree goes in."),
    ]  # fmt: skip
    rows = tuple(
        (
            name.replace("piece-", "").lstrip("0"),
            size_words(*(float(v) for v in one.extents)),
            f"{e.mass_kg * 1000:.0f} g",
            f"{e.hours:.1f} h",
            str(e.layers),
            mate,
        )
        for (name, one), e, mate in zip(printed, found, mates, strict=True)
    )
    named = [("whole", whole), *printed] if joints else printed
    # the same two drawings stand in the window and on the sheet
    on_bed, lie = (
        beds_drawing(printed, w.bed_mm, "On the bed"),
        pieces_drawing(made, "How they lie" if joints else "How it lies"),
    )
    of_pieces = (
        (replace(lie, title=f"{pot.name}, pieces"), replace(on_bed, title=f"{pot.name}, on the bed")) if joints else ()
    )
    of_tray = (pot_drawing(tray, f"{pot.name}, tray"),) if tray is not None else ()
    floor = floor_checks(pot) if pot.profile.kind != "slab" else ()
    return Job(
        "print", f"{pot.name}: for a printer", pot, tuple(facts), tuple(bill), tuple(steps), warned("print_fumes", "print_sanding", "sealant"),
        (*checked, *bearings(pot, a), *_overhangs(pot), *floor), (*of_pieces, pot_drawing(pot, f"{pot.name}, printed"), *of_tray),
        solids=tuple(named), tables=(("Pieces", ("No", "Size", "Plastic", "Time", "Layers", "Joined to"), rows),), assembly=made, views=(on_bed, lie),
    )  # fmt: skip


def _make(pot: Pot, judge: Judge, w: MakerWishes) -> Job:
    own = w.of(PrintWishes)
    printed = pot if pot.material.startswith("print") else for_print(pot, own.plastic)
    return printer_job(printed, judge(printed), own)


def _check(w: PrintWishes, given: frozenset[str]) -> None:
    if not 0 < w.setting.layer_mm <= 5:
        raise FieldError("--layer", f"{w.setting.layer_mm:g} mm is no layer; write one such as 0.3")


ROUTE = Route(
    "print", 1, "Print", "For a printer", "Write the printer's files", "Printer", _make, PrintWishes,
    asks=(
        Ask("plastic", "choice", "Plastic", "--plastic", "a print plastic of the materials table (print_petg)", choices=named("print_petg", "print_asa", "print_pla"), known=beginning("print_")),
        Ask("bed_mm", "three_mm", "Bed", "--bed", "printer bed, mm (220,220,250)", "X,Y,Z"),
        Ask("clearance_mm", "fine_mm", "Gap in the joints", "--gap", "gap in the joints (0.25)", "MM"),
        Ask("setting.layer_mm", "fine_mm", "Layer height", "--layer", "height of a layer (0.3)", "MM"),
        Ask("tray", "yes", "Drip tray", "--tray", "print a drip tray too", choices=lambda: {"no": "none", "yes": "printed too"}),
    ),
    check=_check, built="How they go together",
)  # fmt: skip
