"""Holes by a hand in the plan: a click makes one or takes one away, a drag moves it."""

import numpy as np

from kesh.base.errors import FieldError
from kesh.geometry.holes import on_floor
from kesh.model import Hole, Pot

USUAL_MM, WIRE_MM, REACH_MM = 20.0, 5.0, 8.0


def hole_near(pot: Pot, x_mm: float, y_mm: float) -> int | None:
    """Which hole lies at a place, or near it; None for none."""
    if not pot.holes:
        return None
    away = [float(np.hypot(h.x_mm - x_mm, h.y_mm - y_mm)) - h.diameter_mm / 2 for h in pot.holes]
    nearest = int(np.argmin(away))
    return nearest if away[nearest] <= REACH_MM else None


def clicked(pot: Pot, x_mm: float, y_mm: float, *, wire: bool = False) -> tuple[Hole, ...]:
    """The holes after a click: the one there goes, else one comes, as wide as the others of its sort. Raises FieldError off the floor."""
    near = hole_near(pot, x_mm, y_mm)
    if near is not None:
        return (*pot.holes[:near], *pot.holes[near + 1 :])
    like = [h.diameter_mm for h in pot.holes if h.drains is not wire]
    wide = like[-1] if like else WIRE_MM if wire else min(USUAL_MM, 0.25 * min(pot.length_mm, pot.width_mm))
    made = Hole.made(
        x_mm=round(x_mm, 1), y_mm=round(y_mm, 1), diameter_mm=round(wide, 1), use="tie" if wire else "drain"
    )
    return (*pot.holes, _on_the_floor(pot, made))


def moved(pot: Pot, number: int, x_mm: float, y_mm: float) -> tuple[Hole, ...]:
    """The holes with one of them elsewhere. Raises FieldError off the floor."""
    hole = pot.holes[number].changed(x_mm=round(x_mm, 1), y_mm=round(y_mm, 1))
    return (*pot.holes[:number], _on_the_floor(pot, hole), *pot.holes[number + 1 :])


def _on_the_floor(pot: Pot, hole: Hole) -> Hole:
    """The hole, where it goes through the floor with its whole rim; one beside it would count for nothing."""
    if not on_floor(pot, (hole,)):
        raise FieldError("hole", "that is off the floor inside; take it where the whole hole goes through the floor")
    return hole
