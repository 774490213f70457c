"""The trees of a group, the ground they stand on and the way through them."""

from typing import Annotated, ClassVar

from pydantic import Field, field_validator

from kesh.model.base import Key, LengthMm, OptionalLengthMm, Record, SignedMm, Text
from kesh.model.root_map import Azimuth, turned_into_range

Rise = Annotated[float, Field(ge=0, le=2000)]


class GroupTree(Record):
    """One tree of a group, from the middle of the tray: x to the viewer's right, y to the back.

    Without x and y it is a spare that waits beside the tray. `azimuth_deg` is where it leans to, clockwise from the front.
    A `fixed` one keeps its place when the group is laid out anew; `plug_mm` is how deep its young root plug is.
    """

    other_words: ClassVar[dict[str, str]] = {"trunk_mm": "diameter_mm"}

    id: Key
    x_mm: SignedMm | None = None
    y_mm: SignedMm | None = None
    diameter_mm: Annotated[float, Field(gt=0, le=1000)] | None = None
    height_mm: OptionalLengthMm = None
    lean_deg: Annotated[float, Field(ge=-80, le=80)] = 0.0
    azimuth_deg: Azimuth = 0.0
    fixed: bool = False
    alive: bool = True
    plug_mm: OptionalLengthMm = None
    note: Text = ""

    _round = field_validator("azimuth_deg", mode="before")(turned_into_range)

    @property
    def placed(self) -> bool:
        """Whether it stands in the tray and lives."""
        return self.alive and self.x_mm is not None and self.y_mm is not None


class HillMound(Record):
    """One mound of the ground, from the middle of the tray; it rises as a paraboloid to its height, out to its reach."""

    x_mm: SignedMm = 0.0
    y_mm: SignedMm = 0.0
    height_mm: Rise = 10.0
    reach_x_mm: LengthMm = 100.0
    reach_y_mm: LengthMm = 80.0


class Way(Record):
    """A way that is kept free: its middle line from the front to the back, and its width."""

    points_mm: Annotated[tuple[tuple[SignedMm, SignedMm], ...], Field(min_length=2, max_length=40)]
    width_mm: Annotated[float, Field(gt=0, le=1000)] = 30.0
