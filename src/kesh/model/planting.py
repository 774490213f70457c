"""A tree standing in a pot from a date on."""

from datetime import date as Date
from typing import Annotated

from pydantic import Field

from kesh.model.base import Key, Record, SignedMm, Text
from kesh.model.root_map import PlanStep

Depth = Annotated[float, Field(ge=0, le=2000)]


class Planting(Record):
    """Offset is the trunk's centre from the pot's centre: x to the viewer's right, y to the back.

    raise_mm is the top of the root mass above (+) or below (-) the rim. base_layer_mm is all soil under the
    root mass, a drainage layer included. None means the default of the method. `plan` is the root plan that was kept
    for the next repotting and those after it.
    """

    id: Key
    tree: Key
    pot: Key
    mix: Key | None = None
    date: Date | None = None
    offset_x_mm: SignedMm = 0.0
    offset_y_mm: SignedMm = 0.0
    turn_deg: Annotated[float, Field(ge=-360, le=360)] = 0.0
    tilt_deg: Annotated[float, Field(ge=-60, le=60)] = 0.0
    raise_mm: SignedMm = 0.0
    mound_mm: Depth = 0.0
    headspace_mm: Depth | None = None
    base_layer_mm: Depth | None = None
    clearance_mm: Depth | None = None
    plan: Annotated[tuple[PlanStep, ...], Field(max_length=30)] = ()
    plan_made: Date | None = None
    ended: Date | None = None
    notes: Text = ""
