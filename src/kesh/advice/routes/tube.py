"""From pipe or rolled sheet: lengths, the floor and its life, guy holes, edges made safe."""

from dataclasses import dataclass
from datetime import date

import numpy as np

from kesh.advice.routes.bodies import pipe_parts
from kesh.advice.routes.job import Check, Item, Job, WorkStep, size_words, warned
from kesh.advice.routes.route import Ask, Judge, Route, named
from kesh.advice.routes.wishes import MakerWishes
from kesh.base.errors import FieldError
from kesh.figure.drawing import Circle, Dim, Drawing, Line, Words, lettered, moved
from kesh.figure.drawing import Item as Mark
from kesh.model import Pot
from kesh.reference.tables import material, materials
from kesh.science.making.tubes import FLOOR_LIFE_YEARS, pipes_needed, tube_pot

LEAST_RING_MM, SLEEVE_MM = 90.0, 60.0
GUY_MM, GUY_BELOW_RIM_MM, GUYS = 6.0, 20.0, 4
WIDE_FLOOR_MM = 250.0
# what a pipe looks like as it is bought
PIPE_LOOK, PLAIN_LOOK = {"pvc_pipe": "#A7A9A4", "abs_pipe": "#4A4B4D", "copper_sheet": "#B07A4E"}, "#9DA3A6"
METALS = ("galvanised", "stainless", "aluminium", "weathering", "copper", "cast_iron")


@dataclass(frozen=True)
class TubeWishes:
    """Pipe as bought, what closes it below, how many pots."""

    pipe: str = "pvc_pipe"
    wall_mm: float = 4.0
    floor: str = "galvanised mesh"
    count: int = 1
    pipe_mm: float = 2000.0
    kerf_mm: float = 3.0
    rings: int = 1


def tube_job(pot: Pot, wishes: TubeWishes | None = None, year: int | None = None) -> Job:
    """The sheet for pots of pipe as wide and as deep as the design, made in a year, this one where none is given.

    Raises FieldError for sizes that cannot be.
    """
    w = wishes or TubeWishes()
    if w.floor not in FLOOR_LIFE_YEARS:
        raise FieldError("floor", f"'{w.floor}' is no floor Kesh knows; choose {', '.join(FLOOR_LIFE_YEARS)}")
    if w.count < 1:
        raise FieldError("count", "make one pot or more")
    if w.rings < 1:
        raise FieldError("rings", "a pot is one ring or more")
    outside = min(pot.length_mm, pot.width_mm)
    mesh = w.floor.endswith("mesh")
    floor_mm = 2.0 if mesh else 8.0
    height = pot.inner_depth_mm + floor_mm
    tube = tube_pot(outside, w.wall_mm, height, floor_mm)
    ring = height / w.rings
    if ring < LEAST_RING_MM and w.rings > 1:
        raise FieldError("rings", f"rings of {ring:.0f} mm leave no room for their sleeves; take fewer")
    cuts = [ring] * (w.count * w.rings) + [SLEEVE_MM] * (w.count * (w.rings - 1))
    pipes = pipes_needed(cuts, w.pipe_mm, w.kerf_mm)
    life = FLOOR_LIFE_YEARS[w.floor]
    metal = w.pipe.startswith(METALS)
    row = material(w.pipe)
    facts = [
        ("Pipe", f"{row.name}, Ø {outside:.0f} × {w.wall_mm:g} mm"),
        ("Length of each", f"{height:.0f} mm" if w.rings == 1 else f"{w.rings} rings of {ring:.0f} mm, stacked"),
        *(
            [("Sleeves", f"{w.rings - 1} a pot, {SLEEVE_MM:.0f} mm of the same pipe, slit and pressed in")]
            if w.rings > 1
            else []
        ),
        ("Inside", size_words(tube.inside_mm, pot.inner_depth_mm).replace(" × ", " across × ")),
        ("Soil to the rim", f"{tube.volume_l:.1f} l"),
        ("Floor", f"{w.floor}, Ø {tube.disc_mm:.0f} mm"),
        ("Floor to be renewed", f"about {(year or date.today().year) + round(life)}, after {life:g} years [judgement]"),
        ("From a rolled sheet", f"{tube.sheet_mm:.0f} mm long before it is rolled, {height:.0f} mm wide, and the seam"),
        ("Guy holes", f"{GUYS} of Ø {GUY_MM:g} mm, {GUY_BELOW_RIM_MM:g} mm below the rim"),
    ]
    mass = np.pi * (outside - w.wall_mm) * w.wall_mm * height * row.density_g_cm3 / 1e6
    bill = [
        Item(f"pipe {row.name}, Ø {outside:.0f} mm", pipes, "pieces", f"{w.pipe_mm:g} mm long, for {len(cuts)} cuts"),
        Item(
            w.floor,
            w.count,
            "pieces",
            f"Ø {tube.disc_mm + (30 if mesh else 0):.0f} mm" + (", edge folded up 15 mm" if mesh else ""),
        ),
        Item(
            "stainless screws or rivets 4 mm",
            w.count * max(4, int(np.ceil(np.pi * tube.inside_mm / 80))),
            "pieces",
            "hold the floor",
        ),
        Item("edge strip for the rim", w.count * np.pi * outside / 1000, "m", "hose slit along, or folded metal"),
    ]
    steps = [
        WorkStep("Mark the length round the pipe with a strip of paper; saw cold, square to the axis."),
        WorkStep("File or fold both edges until a finger runs along them without harm; set the edge strip on the rim."),
        WorkStep(f"Drill {GUYS} guy holes below the rim, and the floor's fixing holes."),
        WorkStep(
            "Fold the mesh up at its edge and fix it from inside."
            if mesh
            else "Drill drain holes of 10 mm into the disc, a hand's width apart, and fix it from the side."
        ),
        WorkStep("Coat bare metal where wet soil touches it.", 24, "to dry")
        if metal
        else WorkStep("Paint the outside against sunlight, light in colour.", 24, "to dry"),
        *(
            [
                WorkStep(
                    f"Slit each sleeve, take {np.pi * 2 * w.wall_mm:.0f} mm out of its girth, press it half into the lower ring, "
                    "set the next ring over it, three screws through the lower ring: the upper one lifts off."
                )
            ]
            if w.rings > 1
            else []
        ),
        WorkStep("Stand it on battens: a mesh floor on the flat bench drains nothing."),
    ]
    checks = [Check("pipe_weight", "fits", f"One pot weighs {mass:.1f} kg without soil.")]
    if tube.inside_mm > WIDE_FLOOR_MM and mesh:
        checks.append(
            Check(
                "pipe_mesh",
                "watch",
                f"Mesh over {tube.inside_mm:.0f} mm sags under wet soil: lay two bars across below it.",
            )
        )
    if pot.inner_depth_mm > 2.5 * outside:
        checks.append(
            Check(
                "pipe_tall",
                "watch",
                "Taller than two and a half times its width: guy it, or sink it into a wider base.",
            )
        )
    if abs(pot.length_mm - pot.width_mm) > 2:
        checks.append(
            Check(
                "pipe_round",
                "watch",
                f"The design is not round: a pipe of its smaller side, {outside:.0f} mm, is reckoned.",
            )
        )
    keys = ["metal_edge"] if metal else ["plastic_pipe"]
    return Job(
        "tube", f"{pot.name}: from pipe", pot, tuple(facts), tuple(bill), tuple(steps), warned(*keys, "tall_tips"), tuple(checks),
        (tube_drawing(pot, w, height, outside),), views=tube_views(w, height, outside),
        built=pipe_parts(outside, w.wall_mm, height, w.rings, floor_mm, mesh, GUYS, GUY_MM, GUY_BELOW_RIM_MM, PIPE_LOOK.get(w.pipe, PLAIN_LOOK)),
    )  # fmt: skip


def tube_views(w: TubeWishes, height: float, outside: float) -> tuple[Drawing, Drawing]:
    """The pipe from the front, and the sheet it could be rolled from, each on its own."""
    front, sheet, _ = _faces(w, height, outside)
    return Drawing("The pipe from the front", tuple(front)), Drawing(
        "Unrolled, guy holes placed", tuple(m for m in sheet if not isinstance(m, Words))
    )


def tube_drawing(pot: Pot, w: TubeWishes, height: float, outside: float) -> Drawing:
    """The pipe from the front and the sheet it could be rolled from, guy holes placed."""
    front, sheet, off = _faces(w, height, outside)
    return Drawing(f"{pot.name}, pipe", (*front, *moved(sheet, outside / 2 + 4 * off, 0)))


def _faces(w: TubeWishes, height: float, outside: float) -> tuple[list[Mark], list[Mark], float]:
    """(front, unrolled sheet, how far dimension lines stand off)."""
    half, long = outside / 2, np.pi * (outside - w.wall_mm)
    k = lettered(outside + long)
    off, size = 8 * k, 3.0 * k
    front: list[Mark] = [
        Line(np.array([[-half, 0], [half, 0], [half, height], [-half, height]]), "outline", closed=True),
        *(Line(np.array([[-half, height * n / w.rings], [half, height * n / w.rings]]), "outline") for n in range(1, w.rings)),
        *(Dim(-half, height * n / w.rings, -half, height * (n + 1) / w.rings, -2 * off, level=False, size=size)
          for n in range(w.rings if w.rings > 1 else 0)),
        Line(np.array([[-half + w.wall_mm, 0], [-half + w.wall_mm, height]]), "hidden"),
        Line(np.array([[half - w.wall_mm, 0], [half - w.wall_mm, height]]), "hidden"),
        Circle(0.0, height - GUY_BELOW_RIM_MM, GUY_MM / 2, "tie_holes"),
        Dim(-half, height, half, height, off, prefix="Ø ", size=size), Dim(half, 0, half, height, off, level=False, size=size),
        Dim(-half, height - GUY_BELOW_RIM_MM, -half, height, -off, level=False, size=size),
    ]  # fmt: skip
    sheet: list[Mark] = [
        Line(np.array([[0, 0], [long, 0], [long, height], [0, height]]), "outline", closed=True),
        *(Circle(long * (k + 0.5) / GUYS, height - GUY_BELOW_RIM_MM, GUY_MM / 2, "tie_holes") for k in range(GUYS)),
        Dim(0, 0, long, 0, -2 * off, size=size), Dim(0, 0, long / GUYS / 2, 0, -off, size=size), Words("Unrolled", 0, height + 3 * k, 4 * k),
    ]  # fmt: skip
    return front, sheet, off


def _make(pot: Pot, judge: Judge, w: MakerWishes) -> Job:
    return tube_job(pot, w.of(TubeWishes))


ROUTE = Route(
    "tube", 3, "Tube", "From pipe", "Write the pipe sheet", "Pipe", _make, TubeWishes,
    asks=(
        Ask("pipe", "choice", "Pipe", "--pipe", "a pipe of the materials table (pvc_pipe)", choices=named("pvc_pipe", "abs_pipe", "galvanised_steel", "stainless_steel", "aluminium"), known=materials),
        Ask("wall_mm", "fine_mm", "Its wall", "--pipe-wall", "its wall (4)", "MM"),
        Ask("floor", "choice", "Floor", "--pipe-floor", "what closes it below (galvanised mesh)", choices=lambda: {key: key for key in FLOOR_LIFE_YEARS}),
        Ask("pipe_mm", "mm", option="--pipe-length", says="its length as bought (2000)", mark="MM"),
        Ask("count", "whole", "How many", "--count", "how many pots (1)", "N"),
        Ask("rings", "whole", "Stacked rings", "--rings", "stacked rings in each (1)", "N"),
    ),
    built="Pipe", as_made="Pipe, floor and guys",
)  # fmt: skip
