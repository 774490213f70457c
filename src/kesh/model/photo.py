"""A photograph of a tree: where it was taken from, what was marked in it, how its cut-out was mended."""

from datetime import date as Date
from typing import Annotated, Literal, get_args

from pydantic import Field

from kesh.model.base import Key, LengthMm, Record, Text

Px = Annotated[float, Field(ge=-100_000, le=100_000)]
Spot = tuple[Px, Px]
ColourPart = Literal["flower or fruit", "autumn", "bark", "leaf"]
COLOUR_PARTS: tuple[str, ...] = get_args(ColourPart)


class BrushStroke(Record):
    """One stroke over the automatic cut-out, in px of the picture."""

    kind: Literal["ground", "leaf", "wood"]
    points: Annotated[tuple[Spot, ...], Field(min_length=1, max_length=5000)]
    radius: Annotated[float, Field(gt=0, le=5000)]
    follow: bool = False


class ColourSpot(Record):
    """A place in the picture whose colour is that of a part of the tree."""

    part: ColourPart
    at: Spot


class TrunkGrip(Record):
    """The trunk's edge on one side where a hand has put it, in px of the picture: a measure by hand."""

    side: Literal["left", "right"]
    at: Spot


class TreePhoto(Record):
    """`picture` names the stored file. The angle is where the camera stood, clockwise from the front seen from above.

    The loop was drawn round crown and trunk; what lies outside it is background. The scale is two points (known) with
    their distance, or a card's corners from the upper left with its sizes. Seen from above, `soil` is the trunk's
    middle and `marker` the marker in the soil. `bow` is what was taken out of the picture because its lens bows straight
    lines (below nought: outward); all places are px of the picture without it.
    """

    id: Key
    tree: Key
    picture: Key
    name: Text = ""
    taken: Date | None = None
    view: Literal["side", "above"] = "side"
    angle_deg: Annotated[float, Field(ge=0, lt=360)] = 0.0
    front: bool = False
    roots: Text = ""
    branches: Text = ""
    how: Literal["points", "pot", "card"] = "points"
    known: tuple[Spot, Spot] | None = None
    known_mm: LengthMm = 100.0
    card: tuple[Spot, Spot, Spot, Spot] | None = None
    card_mm: tuple[LengthMm, LengthMm] = (148.0, 105.0)
    bow: Annotated[float, Field(ge=-0.35, le=0.25)] = 0.0
    soil: Spot | None = None
    apex: Spot | None = None
    marker: Spot | None = None
    loop: Annotated[tuple[Spot, ...], Field(max_length=2000)] = ()
    trunk: Annotated[tuple[TrunkGrip, ...], Field(max_length=200)] = ()
    strokes: tuple[BrushStroke, ...] = ()
    colours: Annotated[tuple[ColourSpot, ...], Field(max_length=12)] = ()
