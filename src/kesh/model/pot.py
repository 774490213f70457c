"""A pot: outline from above, wall profile, sizes, holes, material and state."""

from datetime import date as Date
from itertools import pairwise
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from kesh.model.base import Key, LengthMm, Record, SignedMm, Text

OutlineKind = Literal["rectangle", "oval", "round", "polygon", "lobed", "free"]
ProfileKind = Literal["straight", "tube", "bowed", "lip", "table", "slab"]
PotState = Literal["shelf", "in_use", "wish", "design", "ordered"]
NonNegativeMm = Annotated[float, Field(ge=0, le=5000)]
Point = tuple[SignedMm, SignedMm]
LEAST_DRAIN_MM = 8.0


class Outline(Record):
    """The rim seen from above; length and width stand on the pot."""

    kind: OutlineKind = "rectangle"
    corner_mm: NonNegativeMm = 0.0
    exponent: Annotated[float, Field(ge=1, le=20)] = 2.0
    sides: Annotated[int, Field(ge=3, le=16)] = 6
    lobes: Annotated[int, Field(ge=2, le=12)] = 4
    lobe_depth: Annotated[float, Field(ge=0, le=0.45)] = 0.12
    lobe_style: Literal["cusp", "smooth"] = "cusp"
    points_mm: tuple[Point, ...] = ()

    @model_validator(mode="after")
    def _free_has_points(self) -> Self:
        if self.kind == "free" and len(self.points_mm) < 3:
            raise ValueError("a free outline needs at least three points (points_mm)")
        if len(self.points_mm) > 2000:
            raise ValueError("a free outline may have at most 2000 points (points_mm)")
        return self


class Profile(Record):
    """How the outer wall runs from floor to rim, as docs/methods.md says under "volume to any height"."""

    kind: ProfileKind = "straight"
    base_inset_mm: Annotated[float, Field(ge=-1000, le=1000)] = 0.0
    belly_mm: Annotated[float, Field(ge=-500, le=500)] = 0.0
    lip_height_share: Annotated[float, Field(gt=0, lt=1)] = 0.8
    lip_offset_mm: Annotated[float, Field(ge=-500, le=500)] = 0.0
    table: tuple[tuple[Annotated[float, Field(ge=0, le=1)], SignedMm], ...] = ()

    @model_validator(mode="after")
    def _table_rises(self) -> Self:
        if self.kind == "table":
            heights = [u for u, _ in self.table]
            if len(heights) < 2 or any(b <= a for a, b in pairwise(heights)):
                raise ValueError("a profile table needs two or more rows [u, inset_mm] with rising u")
        return self


class Band(Record):
    """A raised band round the outside: a belt, or at the rim a lip.

    `at_share` is the height of its middle as a share of the body; a band that would stick out above or below is pushed
    back onto the wall, so 1 is a lip at the rim. Round is half an ellipse, flat a step with chamfered edges.
    """

    form: Literal["round", "flat"] = "round"
    at_share: Annotated[float, Field(ge=0, le=1)] = 0.6
    tall_mm: Annotated[float, Field(gt=0, le=200)] = 5.0
    proud_mm: Annotated[float, Field(gt=0, le=60)] = 2.0


class Hole(Record):
    """A round hole through the floor; x to the viewer's right, y to the back, from the pot's centre.

    `use` says what it is for. Where nobody said it the width decides: from 8 mm on it drains, a narrower one serves wires.
    """

    x_mm: SignedMm = 0.0
    y_mm: SignedMm = 0.0
    diameter_mm: Annotated[float, Field(gt=0, le=500)]
    use: Literal["drain", "tie"] | None = None

    @property
    def drains(self) -> bool:
        """Whether water is meant to leave by it."""
        return self.diameter_mm >= LEAST_DRAIN_MM if self.use is None else self.use == "drain"


class Reservation(Record):
    """A pot kept for one tree, and for which season ("spring 2027"); nobody else gets it."""

    tree: Key
    season: Text = ""


class Pot(Record):
    """One pot. Length and width are outer sizes at the rim, height is outer with feet. `made_for` is a tree."""

    id: Key
    name: Key
    outline: Outline = Outline()
    profile: Profile = Profile()
    length_mm: LengthMm
    width_mm: LengthMm
    height_mm: LengthMm
    wall_mm: Annotated[float, Field(gt=0, le=500)] = 8.0
    floor_mm: Annotated[float, Field(gt=0, le=500)] = 9.0
    feet_mm: NonNegativeMm = 0.0
    feet_style: Literal["block", "cloud", "ring", "columns", "none"] = "block"
    foot_count: Annotated[int, Field(ge=0, le=12)] | None = None
    foot_area_mm2: Annotated[float, Field(ge=0, le=1e6)] | None = None
    material: Key = "stoneware_unglazed"
    finish: Literal["unglazed", "muted_glaze", "bright_glaze", "painted", "as_made"] = "unglazed"
    colour: Annotated[str, Field(pattern=r"^#[0-9A-Fa-f]{6}$")] = "#7B5A48"
    price: Annotated[float, Field(ge=0, le=1e7)] | None = None
    state: PotState = "shelf"
    holes: tuple[Hole, ...] = ()
    holes_known: bool = True
    bands: Annotated[tuple[Band, ...], Field(max_length=8)] = ()
    measured_volume_l: Annotated[float, Field(gt=0, le=5000)] | None = None
    measured_mass_kg: Annotated[float, Field(gt=0, le=5000)] | None = None
    acquired: Date | None = None
    made_for: Key | None = None
    reserved: Reservation | None = None
    defects: Text = ""
    source: Text = ""
    notes: Text = ""

    @model_validator(mode="after")
    def _has_an_inside(self) -> Self:
        body = self.height_mm - self.feet_mm
        if body <= 0:
            raise ValueError(f"feet_mm {self.feet_mm:g} leave no body in height_mm {self.height_mm:g}")
        if self.profile.kind != "slab":
            if self.floor_mm >= body:
                raise ValueError(f"floor_mm {self.floor_mm:g} must be less than the body height {body:g}")
            if 2 * self.wall_mm >= min(self.length_mm, self.width_mm):
                raise ValueError(f"wall_mm {self.wall_mm:g}: the walls meet and leave no inside")
        if any(band.tall_mm > body for band in self.bands):
            raise ValueError(f"tall_mm: a band is taller than the body of {body:g} mm (bands)")
        if self.outline.kind == "rectangle" and self.outline.corner_mm > min(self.length_mm, self.width_mm) / 2:
            raise ValueError(f"corner_mm {self.outline.corner_mm:g} is more than half the smaller side")
        if self.outline.kind == "round" and abs(self.length_mm - self.width_mm) > 0.01 * self.length_mm:
            raise ValueError("a round pot has one diameter: length_mm and width_mm differ; use an oval")
        return self

    @property
    def body_height_mm(self) -> float:
        """From the underside of the floor to the rim."""
        return self.height_mm - self.feet_mm

    @property
    def inner_depth_mm(self) -> float:
        """From the inner floor to the rim; a slab has none."""
        return 0.0 if self.profile.kind == "slab" else self.body_height_mm - self.floor_mm

    @property
    def drain_holes(self) -> tuple[Hole, ...]:
        """Holes by which water leaves."""
        return tuple(hole for hole in self.holes if hole.drains)

    @property
    def tie_holes(self) -> tuple[Hole, ...]:
        """Holes that only serve wires."""
        return tuple(hole for hole in self.holes if not hole.drains)
