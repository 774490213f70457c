"""Where the trunk stands in the pot by a school's custom: thirds, or only slightly off the middle."""

from kesh.reference.tables import Tradition


def stand_at_mm(row: Tradition, flow: str, length_mm: float, width_mm: float) -> tuple[float, float]:
    """(x, y) of the trunk from the pot's centre, mm, in the middle of the custom's range.

    The table counts along the length from the end the tree leads away from; a tree without a flow stands in the
    middle of the length. y grows to the back.
    """
    along = (row.stand_along_low + row.stand_along_high) / 2 - 0.5
    back = (row.stand_depth_low + row.stand_depth_high) / 2 - 0.5
    side = {"right": 1.0, "left": -1.0, "none": 0.0}[flow]
    return round(along * length_mm * side, 1), round(back * width_mm, 1)
