"""The root mass as a shape."""

from datetime import date as Date
from typing import Annotated, Literal

from pydantic import Field

from kesh.model.base import LengthMm, Record, SignedMm
from kesh.model.pot import Outline
from kesh.model.root_map import Pocket, Sector

Feeders = Literal["near_trunk", "even", "outside_bottom"]
Health = Literal["strong", "normal", "weak", "sick"]


class RootMass(Record):
    """Outline from above, depth, taper and where the feeders are. The offset is its centre from the trunk.

    `estimated` until it was seen; `assumed` are the sizes that nobody gave, taken in proportion to one that was.
    """

    seen: Date | None = None
    outline: Outline = Outline(kind="oval")
    length_mm: LengthMm
    width_mm: LengthMm
    depth_mm: LengthMm
    taper: Annotated[float, Field(ge=0, lt=1)] = 0.0
    offset_x_mm: SignedMm = 0.0
    offset_y_mm: SignedMm = 0.0
    feeders: Feeders = "even"
    health: Health = "normal"
    estimated: bool = False
    assumed: Annotated[tuple[Literal["length_mm", "width_mm", "depth_mm"], ...], Field(max_length=3)] = ()
    pockets: Annotated[tuple[Pocket, ...], Field(max_length=40)] = ()
    untouched: Annotated[tuple[Sector, ...], Field(max_length=24)] = ()
