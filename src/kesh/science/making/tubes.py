"""Pots from pipe, from sheet rolled round, and from staves."""

from dataclasses import dataclass

import numpy as np

from kesh.base.errors import FieldError

# years a floor bears wet soil out of doors, judgement [J]
FLOOR_LIFE_YEARS = {
    "galvanised mesh": 5.0, "stainless mesh": 20.0, "plastic mesh": 4.0, "plastic disc": 10.0, "plywood disc": 3.0,
}  # fmt: skip


@dataclass(frozen=True)
class TubePot:
    """A pot of pipe: inside, litres, the disc for its floor, and the sheet that would roll into it, mm."""

    inside_mm: float
    volume_l: float
    disc_mm: float
    sheet_mm: float


def tube_pot(outside_mm: float, wall_mm: float, height_mm: float, floor_mm: float) -> TubePot:
    """Raises FieldError when walls meet or the floor fills the pipe."""
    inside = outside_mm - 2 * wall_mm
    if inside <= 0:
        raise FieldError("wall_mm", f"a wall of {wall_mm:g} mm fills a pipe of {outside_mm:g} mm")
    if floor_mm >= height_mm:
        raise FieldError("floor_mm", f"a floor of {floor_mm:g} mm fills a pot {height_mm:g} mm high")
    volume = np.pi * inside**2 / 4 * (height_mm - floor_mm) / 1e6
    return TubePot(inside, float(volume), inside, float(np.pi * (outside_mm - wall_mm)))


@dataclass(frozen=True)
class Staves:
    """A tub of staves: bevel of each edge, widths of the inner and the outer face."""

    bevel_deg: float
    inner_mm: float
    outer_mm: float


def staves(inside_flats_mm: float, board_mm: float, sides: int) -> Staves:
    """Staves for a tub measured across its inner flats. Raises FieldError for fewer than three sides."""
    if sides < 3:
        raise FieldError("sides", f"a tub has three staves or more, not {sides}")
    half = np.tan(np.pi / sides)
    return Staves(180 / sides, float(inside_flats_mm * half), float((inside_flats_mm + 2 * board_mm) * half))


def pipes_needed(cuts_mm: list[float], pipe_mm: float, kerf_mm: float) -> int:
    """Pipes to buy, longest cut first into the first that still has room. Raises FieldError for a cut that is too long."""
    room: list[float] = []
    for cut in sorted(cuts_mm, reverse=True):
        if cut > pipe_mm:
            raise FieldError("pipe", f"{cut:.0f} mm do not come out of {pipe_mm:.0f} mm of pipe; buy longer pipe")
        at = next((k for k, left in enumerate(room) if left >= cut - 1e-9), None)
        if at is None:
            room.append(pipe_mm)
            at = len(room) - 1
        room[at] -= cut + kerf_mm
    return len(room)
