"""Exposed roots: tube, cage of wire and the yearly lowering of the soil (docs/methods.md, "exposed roots")."""

from dataclasses import dataclass
from datetime import date
from math import ceil, hypot, pi

from kesh.base.errors import FieldError

# starting points of judgement
ROOM_MM, LESS_MM, ENDS_MM = 15.0, 30.0, 50.0
GAUGE_SHARE, BEND_TIMES = 1 / 8, 6.0
PITCH_TIMES = 0.8
FLOOR_LIFE_YEARS = {"tape": 1.0, "mesh": 4.0, "board": 4.0, "none": None}


def turn_diameters_mm(top_mm: float, foot_mm: float, turns: int) -> list[float]:
    """Diameter of each turn, falling or rising linearly: that in the middle of the turn."""
    if turns < 1:
        raise FieldError("turns", f"{turns} turns are no cage")
    return [top_mm + (foot_mm - top_mm) * (k + 0.5) / turns for k in range(turns)]


def helix_mm(top_mm: float, foot_mm: float, pitch_mm: float, turns: int) -> float:
    """Wire of a cage: SUM over turns sqrt((pi D_k)^2 + p^2) + 2 x 50 mm. Raises FieldError for a size that is none."""
    if not min(top_mm, foot_mm, pitch_mm) > 0:
        raise FieldError("pitch_mm", "diameters and pitch of a cage are above 0")
    return sum(hypot(pi * d, pitch_mm) for d in turn_diameters_mm(top_mm, foot_mm, turns)) + 2 * ENDS_MM


@dataclass(frozen=True)
class Cage:
    """A cage: diameters, pitch, turns, wire in all, least gauge and bend radius."""

    top_mm: float
    foot_mm: float
    pitch_mm: float
    turns: int
    wire_mm: float
    gauge_mm: float
    bend_mm: float


def cage(
    top_mm: float, foot_mm: float, length_mm: float, root_mm: float, pitch_mm: float | None = None, turns: int | None = None
) -> Cage:  # fmt: skip
    """A cage along a length; pitch by rule 0.8 x the mean diameter, turns as many as fill the length. Raises FieldError."""
    if not min(top_mm, foot_mm, length_mm, root_mm) > 0:
        raise FieldError("tube", "bundle, length and root thickness are above 0")
    pitch = pitch_mm if pitch_mm is not None else PITCH_TIMES * (top_mm + foot_mm) / 2
    many = turns if turns is not None else max(ceil(length_mm / pitch - 1e-9), 1)
    return Cage(
        top_mm,
        foot_mm,
        pitch,
        many,
        helix_mm(top_mm, foot_mm, pitch, many),
        max(top_mm, foot_mm) * GAUGE_SHARE,
        BEND_TIMES * root_mm,
    )


def least_inside_mm(bundle_mm: float) -> float:
    """Least inside diameter of the tube: the bundle and 15 mm all round."""
    return bundle_mm + 2 * ROOM_MM


def tube_length_mm(root_length_mm: float) -> float:
    """Length of the tube: the roots as they hang after the cage, less 30 mm."""
    if not root_length_mm > LESS_MM:
        raise FieldError("root_length_mm", f"roots of {root_length_mm:g} mm are too short for a tube")
    return root_length_mm - LESS_MM


@dataclass(frozen=True)
class Lowering:
    """One lowering of the soil: the day, how much is bare then, how much is left in the tube, mm."""

    day: date
    bare_mm: float
    left_mm: float


def lowerings(first: date, lower_mm_year: float, length_mm: float) -> tuple[Lowering, ...]:
    """Every lowering, a year apart from the first day on, until the tube is bare; the last takes what is left.

    Raises FieldError for a yearly step that is none.
    """
    if not lower_mm_year > 0:
        raise FieldError("lower_mm_year", "the yearly step is above 0")
    found, bare, n = [], 0.0, 0
    while bare < length_mm - 1e-9 and n < 60:
        bare = min(bare + lower_mm_year, length_mm)
        # 29 February becomes the 28th in other years
        try:
            day = first.replace(year=first.year + n)
        except ValueError:
            day = first.replace(year=first.year + n, day=28)
        found.append(Lowering(day, bare, length_mm - bare))
        n += 1
    return tuple(found)


def floor_end(since: date, kind: str) -> date | None:
    """The day by which the floor has lived; None where there is none."""
    years = FLOOR_LIFE_YEARS.get(kind)
    if years is None:
        return None
    try:
        return since.replace(year=since.year + round(years))
    except ValueError:
        return since.replace(year=since.year + round(years), day=28)
