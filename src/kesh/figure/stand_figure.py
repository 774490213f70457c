"""The stand under a shown pot: a board on two legs, or a board alone, as plain mm polygons below the bench line."""

from dataclasses import dataclass

import numpy as np

from kesh.geometry.outline import Floats
from kesh.model.pot import Pot

BOARD_MM = 14.0
OVERHANG_MM = 22.0
LEAST_LEG_MM = 10.0


@dataclass(frozen=True)
class StandFigure:
    """Board, legs and the rail between them; y is down to -height_mm, the pot's foot is at 0."""

    board: Floats
    legs: tuple[Floats, ...]
    rail: Floats | None


def stand_figure(pot: Pot, height_mm: float) -> StandFigure:
    """A stand of a height for a pot. It carries the feet, so it is as wide as the pot's base and a little more."""
    half = max(pot.length_mm / 2 - max(pot.profile.base_inset_mm, 0.0), pot.length_mm * 0.25) + OVERHANG_MM
    board = min(BOARD_MM, height_mm)
    if height_mm - board < LEAST_LEG_MM:
        board = height_mm
    top = _box(-half, half, -board, 0.0)
    if board == height_mm:
        return StandFigure(top, (), None)
    leg = max(10.0, 0.07 * half)
    legs = []
    for side in (-1.0, 1.0):
        outer = side * (half - 0.4 * leg)
        legs.append(
            np.array(
                [[outer, -board], [outer + side * 0.25 * leg, -height_mm], [outer - side * 0.9 * leg, -height_mm],
                 [outer - side * leg, -board]]
            )
        )  # fmt: skip
    rail = _box(-half + 1.4 * leg, half - 1.4 * leg, -board - 0.22 * (height_mm - board), -board)
    return StandFigure(top, tuple(legs), rail)


def _box(left: float, right: float, low: float, high: float) -> Floats:
    return np.array([[left, low], [right, low], [right, high], [left, high]])
