"""Where drain and wire holes usually lie when only their count is known: placed by custom, never measured."""

from kesh.model import Hole

# width across of a drain hole and of a wire hole [J]
DRAIN_MM, SMALL_DRAIN_MM, TIE_MM = 20.0, 14.0, 4.0
SMALL_POT_MM = 180.0


def usual_holes(
    drain: int,
    ties: int,
    length_mm: float,
    width_mm: float,
    across_mm: float | None = None,
    tie_mm: float | None = None,
) -> tuple[Hole, ...]:
    """Drain holes in one row along the pot, in two from five on; wire holes in a ring further out, mirrored about the middle."""
    across = across_mm or (SMALL_DRAIN_MM if min(length_mm, width_mm) < SMALL_POT_MM and drain > 1 else DRAIN_MM)
    across = min(across, 0.4 * min(length_mm, width_mm))
    rows = 1 if drain <= 4 else 2
    found = []
    for n in range(drain):
        row, at = n % rows, n // rows
        many = (drain - row + rows - 1) // rows
        x = 0.0 if many == 1 else length_mm * 0.28 * (2 * at / (many - 1) - 1)
        y = 0.0 if rows == 1 else width_mm * 0.2 * (2 * row - 1)
        found.append(Hole(x_mm=round(x, 1), y_mm=round(y, 1), diameter_mm=round(across, 1), use="drain"))
    for n in range(ties):
        side = 1 if n % 2 else -1
        pair, pairs = n // 2, (ties + 1) // 2
        x = 0.0 if pairs == 1 else length_mm * 0.3 * (2 * pair / (pairs - 1) - 1)
        # beside the drain holes, never in them
        away = width_mm * (0.26 if rows == 1 else 0.33)
        found.append(Hole(x_mm=round(x, 1), y_mm=round(side * away, 1), diameter_mm=tie_mm or TIE_MM, use="tie"))
    return tuple(found)
