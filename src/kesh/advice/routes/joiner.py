"""For a joiner: a training box of boards round the inside that the design asks for."""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from kesh.advice.routes.bodies import box_parts
from kesh.advice.routes.cuts import cut_tables
from kesh.advice.routes.job import Check, Item, Job, WorkStep, size_words, warned
from kesh.advice.routes.route import Ask, Judge, Route, beginning, named
from kesh.advice.routes.tub import tub_job
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import FieldError
from kesh.figure.drawing import Dim, Drawing, Line, Words, lettered, moved
from kesh.figure.drawing import Item as Mark
from kesh.model import Pot
from kesh.reference.tables import material
from kesh.science.making.boards import KERF_MM, BoxPlan, Joint, Stock, box_plan, from_boards, nested

JOINTS: dict[Joint, str] = {
    "butt_long": "butt, long sides cover", "butt_short": "butt, short sides cover", "pinwheel": "each covers the next",
    "mitre": "mitred", "lapped": "lapped corners",
}  # fmt: skip


@dataclass(frozen=True)
class BoxWishes:
    """Boards as they come from the yard and how the corners meet."""

    board_mm: float = 20.0
    board_width_mm: float = 95.0
    stock_mm: float = 2400.0
    joint: Joint = "butt_long"
    overhang_mm: float = 0.0
    floor_inside: bool = False
    wood: str = "timber_larch"
    tub: bool = False
    staves: int = 12


def inside_of(pot: Pot) -> tuple[float, float, float]:
    """Inside length, width and height of a box that takes the same root mass."""
    return pot.length_mm - 2 * pot.wall_mm, pot.width_mm - 2 * pot.wall_mm, pot.inner_depth_mm


def box_job(pot: Pot, wishes: BoxWishes | None = None) -> Job:
    """The joiner's sheet, of a box or a tub. Raises FieldError for sizes that leave nothing to saw or stock that is too short."""
    w = wishes or BoxWishes()
    if w.tub:
        return tub_job(pot, w.staves, w.board_mm, w.board_width_mm, w.stock_mm, w.wood)
    length, width, height = inside_of(pot)
    plan = box_plan(
        length,
        width,
        height,
        w.board_mm,
        w.board_width_mm,
        w.joint,
        overhang_mm=w.overhang_mm,
        floor_inside=w.floor_inside,
    )
    boards = nested(from_boards(plan.pieces, w.board_width_mm), w.stock_mm)
    wood = material(w.wood)
    volume_l = sum(p.length_mm * p.width_mm * p.count for p in plan.pieces) * w.board_mm / 1e6
    over = 2 * w.board_mm
    facts = [
        ("Inside", size_words(length, width, height)),
        ("Outside, about", size_words(length + over, width + over, height + w.board_mm + 1.5 * w.board_mm)),
        ("Corners", JOINTS[w.joint]),
        ("Courses", f"{plan.courses} of {w.board_width_mm:g} mm boards"),
        (
            "Floor",
            f"{plan.slats} slats{', one of them ripped' if len(set(plan.slat_mm)) > 1 else ''}, gaps of {plan.gap_mm:.0f} mm"
            + (", mesh below the soil" if plan.mesh else ""),
        ),
        ("Soil to the rim", f"{length * width * height / 1e6:.1f} l"),
        ("Mass of the box", f"{volume_l * wood.density_g_cm3:.1f} kg"),
    ]
    bill = [
        Item(f"board {w.board_mm:g} × {bw:g} mm, {wood.name.lower()}", len(stocks), "pieces", f"{w.stock_mm:g} mm long")
        for bw, stocks in boards.items()
    ]
    bill.append(
        Item(
            f"stainless screws {max(3.5, w.board_mm / 5):.1f} × {plan.screw_mm:.0f} mm",
            plan.screws,
            "pieces",
            "drill before you drive",
        )
    )
    if plan.mesh:
        bill.append(Item("plastic mesh, 5 mm", plan.mesh_size_mm[0] * plan.mesh_size_mm[1] / 1e6, "m2"))
    steps = [
        WorkStep("Saw to length by the list, longest first; mark each piece."),
        WorkStep(
            "Rip the top course to its width."
            if any("ripped" in p.name for p in plan.pieces)
            else "Plane the upper edge smooth."
        ),
        WorkStep("Screw the sides course by course, joints out of line; drill first so that ends do not split."),
        WorkStep(f"Screw the slats below with gaps of {plan.gap_mm:.0f} mm, then the foot battens across them."),
        WorkStep("Screw the hand grips under the top course of the short sides; break all edges."),
        WorkStep("Oil the outside if you like; nothing inside, and no old treated wood.", 72, "to dry"),
    ]
    return Job(
        "box", f"{pot.name}: timber training box", pot, tuple(facts), tuple(bill), tuple(steps),
        warned("saw_timber", "old_timber"), _checks(w, plan), (box_drawing(pot, w, plan),),
        tables=cut_tables(plan.pieces, boards), views=box_views(pot, w, plan),
        built=box_parts(inside_of(pot), plan, w.board_mm, w.board_width_mm, w.joint, w.overhang_mm, w.floor_inside),
    )  # fmt: skip


def waste_share(boards: dict[float, tuple[Stock, ...]], stock_mm: float) -> float:
    """Share of the bought length that is left over or sawdust."""
    bought = sum(len(s) for s in boards.values()) * stock_mm
    used = sum(length for stocks in boards.values() for one in stocks for _, length in one.cuts)
    return 1 - used / bought if bought else 0.0


def _checks(w: BoxWishes, plan: BoxPlan) -> tuple[Check, ...]:
    boards = nested(from_boards(plan.pieces, w.board_width_mm), w.stock_mm)
    waste = waste_share(boards, w.stock_mm)
    found = [
        Check(
            "board_waste",
            "fits" if waste < 0.35 else "watch",
            f"{waste:.0%} of the bought boards is left over, kerf of {KERF_MM:g} mm counted.",
        )
    ]
    if plan.gap_mm > 20:
        found.append(
            Check(
                "slat_gap",
                "watch",
                f"Gaps of {plan.gap_mm:.0f} mm between slats: narrower boards or one slat more would carry better.",
            )
        )
    return tuple(found)


def box_views(pot: Pot, w: BoxWishes, plan: BoxPlan) -> tuple[Drawing, Drawing]:
    """The box from the front and from above, each on its own."""
    front, top, _, _ = _faces(pot, w, plan)
    return Drawing("From the front", tuple(front)), Drawing("From above, slats below", tuple(top))


def box_drawing(pot: Pot, w: BoxWishes, plan: BoxPlan) -> Drawing:
    """Front and plan of the box with its boards."""
    front, top, (long, edge, high), k = _faces(pot, w, plan)
    off = 8 * k
    items = (
        *front,
        *moved(top, 0, -edge - 16 * k - off),
        Words("From the front", -long / 2, high + off + 6 * k, 4 * k),
        Words("From above, slats below", -long / 2, -7 * k, 4 * k),
    )
    return Drawing(f"{pot.name}, training box", items)


def _faces(pot: Pot, w: BoxWishes, plan: BoxPlan) -> tuple[list[Mark], list[Mark], tuple[float, float, float], float]:
    """(front, plan, length of the long boards with the plan's edge and the height, enlargement of words)."""
    length, width, height = inside_of(pot)
    t, k = w.board_mm, lettered(length + width)
    off, size = 8 * k, 3.0 * k
    long = next(p.length_mm for p in plan.pieces if p.name.startswith("long side"))
    short = next(p.length_mm for p in plan.pieces if p.name.startswith("short side"))
    base, foot = 1.5 * t + t, 1.5 * t
    front: list[Mark] = []
    y = base
    for n in range(plan.courses):
        high = min(w.board_width_mm, height - n * w.board_width_mm)
        front.append(_rect(-long / 2, y, long / 2, y + high))
        y += high
    outside = length + 2 * t
    front += [_rect(-outside / 2, foot, outside / 2, base, "section"), _rect(-outside / 2, 0, outside / 2, foot, "hidden"),
              Dim(-long / 2, y, long / 2, y, off, size=size), Dim(long / 2, 0, long / 2, y, off, level=False, size=size),
              Dim(-long / 2, base, -long / 2, y, -off, level=False, suffix=" inside", size=size)]  # fmt: skip
    top: list[Mark] = [_rect(-length / 2, -width / 2, length / 2, width / 2, "inside")]
    covers = w.joint in ("butt_long", "mitre", "lapped")
    for side in (-1, 1):
        y0 = side * (width / 2 + t / 2)
        top.append(_rect(-long / 2, y0 - t / 2, long / 2, y0 + t / 2))
        x0 = side * (length / 2 + t / 2)
        half = width / 2 if covers else short / 2
        top.append(_rect(x0 - t / 2, -half, x0 + t / 2, half))
    along = length if w.floor_inside else outside
    reach = width / 2 if w.floor_inside else width / 2 + t
    x = -along / 2
    for wide in plan.slat_mm:
        top.append(_rect(x, -reach, x + wide, reach, "hidden"))
        x += wide + plan.gap_mm
    edge = width / 2 + t
    top += [Dim(-length / 2, edge, length / 2, edge, off, suffix=" inside", size=size), Dim(long / 2, -width / 2, long / 2, width / 2, off, level=False, suffix=" inside", size=size),
            Words("front", 0, -edge - 2 * size, size, "center")]  # fmt: skip
    return front, top, (long, edge, y), k


def _rect(x0: float, y0: float, x1: float, y1: float, layer: str = "outline") -> Line:
    return Line(np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]), layer, closed=True, hatched=layer == "section")


TUB = "tub of staves"


def _make(pot: Pot, judge: Judge, w: MakerWishes) -> Job:
    return box_job(pot, w.of(BoxWishes))


def _check(w: BoxWishes, given: frozenset[str]) -> None:
    if "staves" in given and not w.tub:
        raise FieldError("--staves", "a box has none; add --tub or leave it out")
    if w.tub and "joint" in given:
        raise FieldError("--corners", "a tub of staves has none; leave --tub or --corners out")


def _shape(w: BoxWishes, key: Any) -> BoxWishes:
    """Corners of a box, or a tub: one row of the Workshop tells both."""
    return replace(w, tub=True) if key == TUB else replace(w, tub=False, joint=key)


def _shapes() -> dict[str, str]:
    return {str(key): words for key, words in JOINTS.items()} | {TUB: TUB}


ROUTE = Route(
    "box", 2, "Timber box", "Timber box", "Write the cut list", "Boards", _make, BoxWishes,
    asks=(
        Ask("wood", "choice", "Wood", "--wood", "a timber of the materials table (timber_larch)", choices=named("timber_larch", "timber_cedar", "timber_oak", "timber_pine"), known=beginning("timber_")),
        Ask("shape", "choice", "Corners", choices=_shapes, read=lambda w: TUB if w.tub else w.joint, put=_shape),
        Ask("joint", "choice", option="--corners", says="how corners meet (butt_long)", known=lambda: JOINTS),
        Ask("tub", "yes", option="--tub", says="a tub of staves instead of a box"),
        Ask("staves", "whole", "Staves", "--staves", "of how many staves (12)", "N", only=lambda w: w.tub),
        Ask("board_mm", "mm", "Board thickness", "--board", "thickness of the boards (20)", "MM"),
        Ask("board_width_mm", "mm", "Board width", "--board-width", "their width (95)", "MM"),
        Ask("stock_mm", "mm", "Stock length", "--stock", "their length as bought (2400)", "MM"),
    ),
    check=_check, built="Boards", as_made="As it is screwed",
)  # fmt: skip
