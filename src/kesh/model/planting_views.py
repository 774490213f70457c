"""Where growers disagree on planting, and how this one goes about it."""

from typing import Literal

from kesh.model.base import Record


class PlantingViews(Record):
    """One side of each topic; none of them is Kesh's own.

    `tie`: always, only where the figures ask for it, or never. `wire_mm`: the thinnest that is used, 2 for all or 3 for
    heavy trees. `place`: as the school stands a tree, in the middle while it is trained, or only a little off it.
    `mound`: as planted, or level with headspace. `order`: tied hard and then filled, or filled and tightened last.
    `watering`: soaked from above, from below in a tub, or little at first. `feed`: at potting, or weeks later.
    """

    tie: Literal["always", "asked", "never"] = "always"
    wire: Literal["two", "three"] = "two"
    place: Literal["school", "centre", "slight"] = "school"
    mound: Literal["mound", "level"] = "mound"
    order: Literal["tie_first", "fill_first"] = "tie_first"
    watering: Literal["soak", "tub", "little"] = "soak"
    feed: Literal["later", "under", "mixed", "over"] = "later"
