"""For a joiner: a tub of bevelled staves held by two hoops, for a design that is not a rectangle."""

from dataclasses import dataclass

import numpy as np
import shapely

from kesh.advice.routes.bodies import BATTEN_AT, HOOPS_AT, tub_parts
from kesh.advice.routes.cuts import cut_tables
from kesh.advice.routes.job import Check, Item, Job, WorkStep, warned
from kesh.base.errors import FieldError
from kesh.figure.drawing import Dim, Drawing, Line, Words, lettered, moved
from kesh.figure.drawing import Item as Mark
from kesh.geometry.outline import Floats
from kesh.model import Pot
from kesh.reference.tables import material
from kesh.science.making.boards import SLAT_GAP_MM, Piece, from_boards, nested
from kesh.science.making.tubes import Staves, staves

HOOP_OVERLAP_MM, HOOPS, BATTEN_MM = 40.0, 2, 45.0


@dataclass(frozen=True)
class TubPlan:
    """A regular tub: staves and floor slats to saw, the outer polygon from above (n, 2), hoop length, mm."""

    inside_mm: float
    height_mm: float
    sides: int
    stave: Staves
    pieces: tuple[Piece, ...]
    slats: int
    outer: Floats
    hoop_mm: float
    floor: tuple[tuple[float, float, float, float], ...]

    @property
    def batten(self) -> Piece:
        """A foot batten as it is listed."""
        return next(p for p in self.pieces if p.name == "foot batten")

    @property
    def volume_l(self) -> float:
        """Soil to the rim."""
        return self.sides * self.stave.inner_mm * self.inside_mm / 4 * self.height_mm / 1e6


def _ring(across_flats: float, sides: int) -> Floats:
    """A regular polygon with a flat side to the front."""
    turn = np.arange(sides) * 2 * np.pi / sides - np.pi / 2 + np.pi / sides
    radius = across_flats / 2 / np.cos(np.pi / sides)
    return np.column_stack([radius * np.cos(turn), radius * np.sin(turn)])


def tub_plan(inside_mm: float, height_mm: float, board_mm: float, board_width_mm: float, sides: int) -> TubPlan:
    """The tub for a width across its inner flats. Raises FieldError for sizes that cannot be sawn."""
    for name, value in (("width", inside_mm), ("height", height_mm), ("board", board_mm)):
        if not value > 0:
            raise FieldError(name, f"{value:g} mm leaves nothing to saw")
    one = staves(inside_mm, board_mm, sides)
    if one.outer_mm > board_width_mm + 1e-9:
        raise FieldError(
            "staves",
            f"a stave of {one.outer_mm:.0f} mm does not come out of a board of {board_width_mm:g} mm; take more",
        )
    outer = _ring(inside_mm + 2 * board_mm, sides)
    plan = shapely.Polygon(outer)
    pieces = [Piece("stave, both edges bevelled", height_mm, round(one.outer_mm, 1), sides)]
    x0, y0, x1, y1 = plan.bounds
    count = max(1, int((y1 - y0 + SLAT_GAP_MM) // (board_width_mm + SLAT_GAP_MM)))
    pitch = (y1 - y0 - board_width_mm) / (count - 1) if count > 1 else 0.0
    floor = []
    for k in range(count):
        low = y0 + k * pitch
        band = plan.intersection(shapely.box(x0 - 1, low, x1 + 1, low + board_width_mm))
        a, _, b, _ = band.bounds
        floor.append((float(a), low, float(b), low + board_width_mm))
        pieces.append(Piece("floor slat, cut to the tub", round(b - a, 1), board_width_mm, 1))
    pieces.append(Piece("foot batten", round(0.86 * (x1 - x0), 1), BATTEN_MM, 2))
    return TubPlan(
        inside_mm,
        height_mm,
        sides,
        one,
        tuple(pieces),
        count,
        outer,
        float(plan.length) + HOOP_OVERLAP_MM,
        tuple(floor),
    )


def tub_job(pot: Pot, sides: int, board_mm: float, board_width_mm: float, stock_mm: float, wood: str) -> Job:
    """The joiner's sheet for a tub; a polygon keeps its own number of sides.

    Raises FieldError for sizes that cannot be sawn or stock that is too short.
    """
    sides = pot.outline.sides if pot.outline.kind == "polygon" else sides
    inside = min(pot.length_mm, pot.width_mm) - 2 * pot.wall_mm
    plan = tub_plan(inside, pot.inner_depth_mm, board_mm, board_width_mm, sides)
    boards = nested(from_boards(plan.pieces, board_width_mm), stock_mm)
    row = material(wood)
    solid_l = sum(p.length_mm * p.width_mm * p.count for p in plan.pieces) * board_mm / 1e6
    facts = [
        ("Inside, across flats", f"{inside:.0f} × {plan.height_mm:.0f} mm deep"),
        ("Staves", f"{sides}, outer face {plan.stave.outer_mm:.1f}, inner {plan.stave.inner_mm:.1f} mm"),
        ("Saw tilted to", f"{plan.stave.bevel_deg:.2f}° from square, both edges"),
        ("Hoops", f"{HOOPS}, each {plan.hoop_mm:.0f} mm with the overlap"),
        ("Floor", f"{plan.slats} slats below the staves"),
        ("Soil to the rim", f"{plan.volume_l:.1f} l"),
        ("Mass of the tub", f"{solid_l * row.density_g_cm3:.1f} kg"),
    ]
    bill = [
        Item(f"board {board_mm:g} × {width:g} mm, {row.name.lower()}", len(stocks), "pieces", f"{stock_mm:g} mm long")
        for width, stocks in boards.items()
    ]
    bill += [
        Item("galvanised band 20 × 1 mm", HOOPS * plan.hoop_mm / 1000, "m"),
        Item("bolt M6 with nut and washer", HOOPS, "pieces", "draws each hoop tight"),
        Item("stainless screws for slats and battens", 2 * plan.slats + 4 + sides, "pieces", "drill before you drive"),
    ]  # fmt: skip
    steps = [
        WorkStep(
            "Rip the staves to their outer width with the saw tilted; try three of them together before you saw the rest."
        ),
        WorkStep("Stand all staves on a flat board inside a loop of strap; draw it until every joint is shut."),
        WorkStep(
            "Bend the band round, drill, bolt it: one hoop a fifth of the height below the rim, one a fifth above the floor."
        ),
        WorkStep("Screw the slats below into every stave they cross, then the foot battens across them."),
        WorkStep("Soak it with water for a day: the staves swell and the hoops are drawn once more.", 24, "to swell"),
        WorkStep("Oil the outside if you like; nothing inside, and no old treated wood.", 72, "to dry"),
    ]
    checks = [
        Check(
            "stave_gap",
            "fits",
            f"{sides} staves of {plan.stave.outer_mm:.0f} mm close the round without a gap at {plan.stave.bevel_deg:.2f}°.",
        )
    ]
    if abs(pot.length_mm - pot.width_mm) > 2:
        checks.append(
            Check(
                "tub_round",
                "watch",
                f"The design is {pot.length_mm:.0f} × {pot.width_mm:.0f} mm: a tub of its smaller side is reckoned.",
            )
        )
    return Job(
        "box", f"{pot.name}: tub of staves", pot, tuple(facts), tuple(bill), tuple(steps), warned("saw_timber", "metal_edge", "old_timber"),
        tuple(checks), (tub_drawing(pot, plan, board_mm),),
        tables=cut_tables(plan.pieces, boards), views=tub_views(plan, board_mm),
        built=tub_parts(plan.outer, _ring(plan.inside_mm, plan.sides), plan.height_mm, board_mm, plan.floor, plan.batten),
    )  # fmt: skip


def tub_views(plan: TubPlan, board_mm: float) -> tuple[Drawing, Drawing]:
    """The tub from the front and from above, each on its own."""
    top, _, front, _ = _faces(plan, board_mm)
    drawn = [tuple(m for m in marks if not isinstance(m, Words)) for marks in (front, top)]
    return Drawing("From the front", drawn[0]), Drawing("From above", drawn[1])


def tub_drawing(pot: Pot, plan: TubPlan, board_mm: float) -> Drawing:
    """From above with every joint, one stave's end at its bevel, and the front with its hoops."""
    top, end, front, off = _faces(plan, board_mm)
    half, edge = float(plan.outer[:, 0].max()), float(plan.outer[:, 1].max())
    below = -edge - 6 * off - board_mm
    return Drawing(
        f"{pot.name}, tub",
        (*top, *moved(end, 0, below), *moved(front, 2 * half + 5 * off, -edge)),
        (f"{plan.sides} staves; saw tilted {plan.stave.bevel_deg:.2f} degrees from square.",),
    )


def _faces(plan: TubPlan, board_mm: float) -> tuple[list[Mark], list[Mark], list[Mark], float]:
    """(from above, one stave's end, from the front, how far dimension lines stand off)."""
    inner = _ring(plan.inside_mm, plan.sides)
    half = float(plan.outer[:, 0].max())
    k = lettered(4 * half)
    off, size = 8 * k, 3.0 * k
    edge = float(plan.outer[:, 1].max())
    top: list[Mark] = [Line(plan.outer, "outline", closed=True), Line(inner, "inside", closed=True)]
    top += [Line(np.array([a, b]), "outline") for a, b in zip(inner, plan.outer, strict=True)]
    flat = plan.inside_mm / 2
    top += [
        *(Line(np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]]), "hidden", closed=True) for x0, y0, x1, y1 in plan.floor),
        Dim(half, -flat, half, flat, off, level=False, suffix=" inside", size=size),
        Words("From above", -half, edge + 4 * k, 4 * k),
    ]  # fmt: skip
    wide, thin = plan.stave.outer_mm / 2, plan.stave.inner_mm / 2
    end: list[Mark] = [
        Line(np.array([[-wide, 0], [wide, 0], [thin, board_mm], [-thin, board_mm]]), "section", closed=True, hatched=True),
        Dim(-wide, 0, wide, 0, -off, size=size), Dim(-thin, board_mm, thin, board_mm, off, size=size),
        Words(f"One stave's end, edges at {plan.stave.bevel_deg:.2f}°", -wide, board_mm + 2 * off, 4 * k),
    ]  # fmt: skip
    high, base = plan.height_mm, 2.5 * board_mm
    front: list[Mark] = [
        Line(np.array([[-half, base], [half, base], [half, base + high], [-half, base + high]]), "outline", closed=True),
        *(Line(np.array([[-half, base + high * at], [half, base + high * at]]), "hidden") for at in HOOPS_AT),
        *(Line(np.array([[x, base], [x, base + high]]), "hidden") for x in sorted(set(np.round(plan.outer[plan.outer[:, 1] < 0][:, 0], 2).tolist()))),
        Line(np.array([[-half, 1.5 * board_mm], [half, 1.5 * board_mm], [half, base], [-half, base]]), "section", closed=True, hatched=True),
        *(Line(np.array([[x, 0], [x + BATTEN_MM, 0], [x + BATTEN_MM, 1.5 * board_mm], [x, 1.5 * board_mm]]), "outline", closed=True)
          for x in (-BATTEN_AT * half, BATTEN_AT * half - BATTEN_MM)),
        *(Dim(-half, base, -half, base + high * at, -off * n, level=False, prefix="hoop ", size=size) for n, at in enumerate(HOOPS_AT, start=1)),
        Dim(half, base, half, base + high, off, level=False, size=size),
        Dim(-half, 0, half, 0, -off, size=size),
        Words("From the front", -half, base + high + 4 * k, 4 * k),
    ]  # fmt: skip
    return top, end, front, off
