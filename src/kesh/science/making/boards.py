"""A training box of boards: courses, corner joints, slats, and pieces nested into stock lengths."""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from kesh.base.errors import FieldError

Joint = Literal["butt_long", "butt_short", "pinwheel", "mitre", "lapped"]
KERF_MM, MESH_GAP_MM, WIDE_GAP_MM, SLAT_GAP_MM, LEAST_SLAT_MM = 3.0, 12.0, 20.0, 6.0, 30.0
SCREW_PITCH_MM = 60.0


@dataclass(frozen=True)
class Piece:
    """Boards of one kind to cut: length and width across the grain, how many."""

    name: str
    length_mm: float
    width_mm: float
    count: int


@dataclass(frozen=True)
class BoxPlan:
    """The cut list of a box, its slats in turn, their gap, whether mesh goes below the soil, screws."""

    pieces: tuple[Piece, ...]
    courses: int
    slats: int
    slat_mm: tuple[float, ...]
    gap_mm: float
    mesh: bool
    mesh_size_mm: tuple[float, float]
    screws: int
    screw_mm: float


def side_lengths(length: float, width: float, board: float, joint: Joint, overhang: float = 0.0) -> tuple[float, float]:
    """Lengths of the long and the short boards for inside length and width, mm."""
    t, o = board, overhang
    return {
        "butt_long": (length + 2 * t + 2 * o, width),
        "butt_short": (length, width + 2 * t + 2 * o),
        "pinwheel": (length + t, width + t),
        "mitre": (length + 2 * t, width + 2 * t),
        "lapped": (length + 2 * t + 2 * o, width + 2 * t + 2 * o),
    }[joint]


def floor_slats(along_mm: float, board_width_mm: float) -> tuple[tuple[float, ...], float]:
    """(width of each slat in turn, the gap between them), mm, over a floor so long.

    As many whole boards as fit with a gap of 6 mm, spread evenly. Where that leaves more than 20 mm between them one more
    slat is ripped for the middle, or all are ripped alike where it would be a lath.
    """
    whole = max(1, int(np.floor((along_mm + SLAT_GAP_MM) / (board_width_mm + SLAT_GAP_MM))))
    width = min(board_width_mm, along_mm)
    left = along_mm - whole * width
    gap = left / (whole - 1) if whole > 1 else 0.0
    if (gap if whole > 1 else left) <= WIDE_GAP_MM:
        return (width,) * whole, gap
    one = left - whole * SLAT_GAP_MM
    if one >= LEAST_SLAT_MM:
        middle = (whole + 1) // 2
        return (*(width,) * middle, one, *(width,) * (whole - middle)), SLAT_GAP_MM
    return ((along_mm - whole * SLAT_GAP_MM) / (whole + 1),) * (whole + 1), SLAT_GAP_MM


def box_plan(
    length_mm: float, width_mm: float, height_mm: float, board_mm: float, board_width_mm: float,
    joint: Joint = "butt_long", *, overhang_mm: float = 0.0, floor_inside: bool = False,
) -> BoxPlan:  # fmt: skip
    """The box for an inside length, width and height. Raises FieldError for sizes that leave nothing to saw."""
    for name, value in (
        ("length", length_mm), ("width", width_mm), ("height", height_mm), ("board", board_mm), ("board width", board_width_mm),
    ):  # fmt: skip
        if not value > 0:
            raise FieldError(name, f"{value:g} mm leaves nothing to saw")
    courses = int(np.ceil(height_mm / board_width_mm - 1e-9))
    top = height_mm - (courses - 1) * board_width_mm
    long, short = side_lengths(length_mm, width_mm, board_mm, joint, overhang_mm)
    pieces = []
    if courses > 1:
        pieces += [Piece("long side", long, board_width_mm, 2 * (courses - 1)),
                   Piece("short side", short, board_width_mm, 2 * (courses - 1))]  # fmt: skip
    rip = "" if abs(top - board_width_mm) < 0.05 else ", top course ripped"
    pieces += [Piece(f"long side{rip}", long, top, 2), Piece(f"short side{rip}", short, top, 2)]
    along, across = (length_mm, width_mm) if floor_inside else (length_mm + 2 * board_mm, width_mm + 2 * board_mm)
    widths, gap = floor_slats(along, board_width_mm)
    slats = len(widths)
    for wide in sorted(set(widths), reverse=True):
        ripped = "" if abs(wide - board_width_mm) < 0.05 else ", ripped"
        pieces.append(Piece(f"floor slat{ripped}", across, round(wide, 1), widths.count(wide)))
    foot = max(30.0, 1.5 * board_mm)
    pieces.append(Piece("foot batten", along, foot, 2))
    grip = min(120.0, 0.6 * width_mm)
    pieces.append(Piece("hand grip", grip, foot, 2))
    per_corner = max(2, int(np.ceil(board_width_mm / SCREW_PITCH_MM)))
    screws = 4 * courses * per_corner + 4 * slats + 2 * 2
    return BoxPlan(
        tuple(pieces), courses, slats, widths, gap, gap > MESH_GAP_MM, (length_mm, width_mm), screws, 2.5 * board_mm
    )


@dataclass(frozen=True)
class Stock:
    """One board from the yard: what is cut from it in turn, and what is left, mm."""

    cuts: tuple[tuple[str, float], ...]
    left_mm: float


def from_boards(pieces: tuple[Piece, ...], board_width_mm: float) -> tuple[Piece, ...]:
    """Pieces as they are sawn to length out of whole boards; narrower ones are ripped afterwards.

    Raises FieldError for a piece wider than the boards.
    """
    for one in pieces:
        if one.width_mm > board_width_mm + 1e-9:
            raise FieldError(
                "board", f"the {one.name} is {one.width_mm:.0f} mm wide and the boards {board_width_mm:g} mm"
            )
    return tuple(replace(one, width_mm=board_width_mm) for one in pieces)


def nested(pieces: tuple[Piece, ...], stock_mm: float, kerf_mm: float = KERF_MM) -> dict[float, tuple[Stock, ...]]:
    """Pieces laid into stock lengths by board width, longest first into the first board they fit; one kerf a piece.

    Raises FieldError for a piece longer than the stock.
    """
    found: dict[float, tuple[Stock, ...]] = {}
    for width in sorted({p.width_mm for p in pieces}, reverse=True):
        cuts = sorted(
            ((p.name, p.length_mm) for p in pieces if p.width_mm == width for _ in range(p.count)),
            key=lambda c: (-c[1], c[0]),
        )
        boards: list[list[tuple[str, float]]] = []
        room: list[float] = []
        for name, length in cuts:
            if length > stock_mm:
                raise FieldError(
                    "stock", f"the {name} of {length:.0f} mm is longer than the stock of {stock_mm:.0f} mm"
                )
            at = next((i for i, left in enumerate(room) if left >= length - 1e-9), None)
            if at is None:
                boards.append([])
                room.append(stock_mm)
                at = len(boards) - 1
            boards[at].append((name, length))
            room[at] -= length + kerf_mm
        found[width] = tuple(Stock(tuple(b), max(left, 0.0)) for b, left in zip(boards, room, strict=True))
    return found
