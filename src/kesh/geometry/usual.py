"""Wall, floor and feet of a pot of which only the outer sizes are known: usual ones, never measured ones."""

from typing import NamedTuple

NOTE = "usual ones, not measured"


class UsualBody(NamedTuple):
    """Millimetres."""

    wall_mm: float
    floor_mm: float
    feet_mm: float


def usual_body(length_mm: float, width_mm: float, height_mm: float) -> UsualBody:
    """A forty-fifth of the length for the wall, a little more for the floor, feet of eight or a sixth of a low pot [J]."""
    usual = max(4.0, min(12.0, round(length_mm / 45)))
    wall = min(usual, 0.2 * min(length_mm, width_mm))
    return UsualBody(round(wall, 1), round(min(usual + 1, 0.3 * height_mm), 1), round(min(8.0, 0.15 * height_mm), 1))
