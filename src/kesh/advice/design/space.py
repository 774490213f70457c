"""What is searched: outlines, profiles and sizes round what the school asks for, as columns and as pots."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from kesh.advice.case import Case
from kesh.advice.design.special import special_sizes
from kesh.base.errors import FieldError
from kesh.geometry.columns import PotColumns, columns, sized
from kesh.geometry.feet import off_feet, with_feet
from kesh.geometry.outline import Floats
from kesh.model import Hole, Outline, Pot, Profile
from kesh.reference.tables import material
from kesh.science.making.strength import FLOOR_BY_WALL, usual_wall
from kesh.science.stand.hardware import DRAIN_SHARE, floor_box_mm, plan_holes

# length, width/length, depth, taper share, feet share, corner share or lip share
FREE = 6
KINDS = (
    "rectangle",
    "oval",
    "round",
    "hexagon",
    "octagon",
    "lobed",
    "rectangle flared",
    "oval flared",
    "oval bowed",
    "round bowed",
)
# hexagons, octagons and lobed pots are seldom asked for and cost more to try
SELDOM = {"hexagon": 0.06, "octagon": 0.05, "lobed": 0.05}
SIDES = {"hexagon": 6, "octagon": 8}
# width by length where the outline says it, and how much of its box the others fill
AS_WIDE = {"round": 1.0, "hexagon": float(np.sqrt(3) / 2), "octagon": 1.0}
FILLS = {"rectangle": 1.0, "hexagon": 0.75, "octagon": 0.83, "lobed": 0.72}
FEET_MM = (6.0, 16.0)


@dataclass(frozen=True)
class Wishes:
    """What the maker fixes: material, finish, colour, the inside of kiln or bed (None: no limit), people who lift."""

    material: str = "stoneware_unglazed"
    finish: str = "unglazed"
    colour: str = "#7B5A48"
    room_mm: tuple[float, float, float] | None = None
    people: int = 2
    shrinkage: float = 0.0


@dataclass(frozen=True, eq=False)
class Candidates:
    """Rows of the search: which kind, six free numbers 0..1 each, and the columns that come of them."""

    kind: NDArray[np.intp]
    free: Floats
    pots: PotColumns


@dataclass(frozen=True)
class Space:
    """Ranges in mm for one case."""

    case: Case
    wishes: Wishes
    length: tuple[float, float]
    depth: tuple[float, float]
    templates: tuple[Pot, ...]

    @classmethod
    def of(cls, case: Case, wishes: Wishes) -> "Space":
        """Raises FieldError naming the measure without which no size can be asked for."""
        material(wishes.material)
        long, deep, roots = case.bands.length, case.bands.depth, case.roots
        lengths = [v for v in (long.low, long.high) if v] + (
            [0.9 * roots.length_mm, 1.25 * roots.length_mm] if roots else []
        )
        depths = [v for v in (deep.low, deep.high) if v] + (
            [0.6 * roots.depth_mm, 1.3 * roots.depth_mm] if roots else []
        )
        own = special_sizes(case)
        # what is special about the planting comes before the custom of display
        lengths, depths = list(own.lengths) or lengths, list(own.depths) or depths
        if not lengths or not depths:
            missing = long.missing if not lengths else deep.missing
            raise FieldError("measure", f"no size can be asked for: {missing[0].lower()}{missing[1:]}")
        made = []
        for kind in KINDS:
            shape = kind.split()[0]
            flared, bowed = kind.endswith("flared"), kind.endswith("bowed")
            outline = Outline(kind="polygon", sides=SIDES[shape]) if shape in SIDES else Outline(kind=shape)
            made.append(
                Pot(
                    id=f"design {kind}", name=kind, outline=outline, length_mm=300,
                    width_mm=300 if shape in AS_WIDE else 200, height_mm=90, material=wishes.material,
                    finish=wishes.finish, colour=wishes.colour, state="design", feet_style="cloud",
                    profile=Profile(kind="lip", lip_height_share=0.86) if flared else Profile(kind="bowed") if bowed else Profile(),
                )
            )  # fmt: skip
        return cls(
            case,
            wishes,
            (0.75 * min(lengths), 1.25 * max(lengths)),
            (0.7 * min(depths), 1.4 * max(depths)),
            tuple(made),
        )

    def sizes(self, kind: NDArray[np.intp], free: Floats) -> dict[str, Floats]:
        """Sizes in mm from the free numbers, (N,) each."""
        u = free
        length = self.length[0] + u[:, 0] * (self.length[1] - self.length[0])
        fixed = np.array([AS_WIDE.get(k.split()[0], 0.0) for k in KINDS])[kind]
        width = np.where(fixed > 0, length * fixed, length * (0.55 + 0.40 * u[:, 1]))
        depth = self.depth[0] + u[:, 2] * (self.depth[1] - self.depth[0])
        wall = np.round(usual_wall(self.wishes.material, length), 1)
        floor = np.round(FLOOR_BY_WALL * wall, 1)
        feet = FEET_MM[0] + u[:, 4] * (FEET_MM[1] - FEET_MM[0])
        height = depth + floor + feet
        flared = np.array([k.endswith("flared") for k in KINDS])[kind]
        inset = np.minimum(u[:, 3] * 0.35 * depth, 0.12 * np.minimum(length, width))
        # a lip that breaks farther in than the foot would hold the ball back
        lip = np.where(flared, np.minimum(0.25 * inset + u[:, 5] * 0.5 * wall, inset), 0.0)
        bowed = np.array([k.endswith("bowed") for k in KINDS])[kind]
        # a quarter of the inset at most: beyond, the wall would turn back inward and hold the ball
        belly = np.where(bowed, (0.3 + 0.7 * u[:, 5]) * inset / 4, 0.0)
        box = np.array([k.startswith("rectangle") for k in KINDS])[kind]
        corner = np.where(box, (0.04 + 0.26 * u[:, 5]) * width, 0.0)
        return {
            "length": length, "width": width, "height": height, "wall": wall, "floor": floor, "feet": feet,
            "base_inset": inset, "lip_offset": lip, "belly": belly, "corner": corner,
        }  # fmt: skip

    def columns(self, kind: NDArray[np.intp], free: Floats) -> Candidates:
        """Candidates from kinds (N,) and free numbers (N, 6)."""
        s = self.sizes(kind, free)
        q = s["base_inset"] + s["wall"]
        floor_area = np.maximum(s["length"] - 2 * q, 1) * np.maximum(s["width"] - 2 * q, 1)
        floor_area *= np.array([FILLS.get(k.split()[0], np.pi / 4) for k in KINDS])[kind]
        return Candidates(kind, free, sized(self.templates, kind, **s, hole_area=DRAIN_SHARE * floor_area))

    def pot(self, kind: int, free: Floats, key: str) -> Pot:
        """One candidate as a pot that can be made: whole mm, holes by the rule, feet known. Raises FieldError."""
        s = {k: float(v[0]) for k, v in self.sizes(np.array([kind]), free[None, :]).items()}
        template = self.templates[kind]
        length = float(round(s["length"]))
        shape = KINDS[kind].split()[0]
        # a regular polygon keeps its tenths, else it would be a stretched one
        width = float(round(s["width"], 1 if shape in SIDES else 0))
        inset = float(round(s["base_inset"]))
        lip = min(float(round(s["lip_offset"] * 2)) / 2, inset)
        belly = min(float(round(s["belly"] * 10)) / 10, inset / 4)
        profile = template.profile.changed(base_inset_mm=inset, lip_offset_mm=lip, belly_mm=belly)
        outline = template.outline.changed(corner_mm=float(round(min(s["corner"], min(length, width) / 2))))
        name = f"{shape.capitalize()} {length:.0f}" + ("" if shape in AS_WIDE else f" × {width:.0f}")
        made = template.changed(
            id=key, name=name, outline=outline, profile=profile, length_mm=length, width_mm=width,
            feet_mm=float(round(s["feet"])), wall_mm=s["wall"], floor_mm=s["floor"],
            height_mm=float(round(s["height"] - s["feet"] - s["floor"]) + round(s["feet"]) + s["floor"]),
        )  # fmt: skip
        return with_feet(with_planned_holes(made))


def kinds_of(share: Floats) -> NDArray[np.intp]:
    """The kind of each candidate from an even number 0..1, (N,)."""
    usual = (1 - sum(SELDOM.values())) / (len(KINDS) - len(SELDOM))
    edges = np.cumsum([SELDOM.get(kind, usual) for kind in KINDS])
    return np.minimum(np.searchsorted(edges, share, side="right"), len(KINDS) - 1)


def with_planned_holes(pot: Pot) -> Pot:
    """The pot with drain and tie holes by the rule, in whole mm."""
    plan = plan_holes(columns([pot]))
    drains = plan.drains or (_one_hole(pot),)
    wires = tuple(
        h
        for h in plan.wires
        if all(np.hypot(h.x_mm - d.x_mm, h.y_mm - d.y_mm) > d.diameter_mm / 2 + 12 for d in drains)
    )
    holes = tuple(h.changed(x_mm=round(h.x_mm, 1), y_mm=round(h.y_mm, 1)) for h in (*drains, *wires))
    return pot.changed(holes=off_feet(pot, holes), holes_known=True)


def _one_hole(pot: Pot) -> Hole:
    """On a floor too small for the rule's edge distance: one hole in the middle, as wide as leaves 8 mm all round."""
    room = min(floor_box_mm(columns([pot]))) - 16
    if room < 8:
        raise FieldError(
            "floor", f"a floor {room + 16:.0f} mm wide has no room for a drain hole; take in less at the foot"
        )
    return Hole(x_mm=0.0, y_mm=0.0, diameter_mm=float(min(np.floor(room), 30)))
