"""How pieces lie on printer beds: rows of their boxes, the deepest first, turned where that fits better."""

from dataclasses import dataclass

from kesh.base.errors import FieldError

BETWEEN_MM = 6.0


@dataclass(frozen=True)
class Laid:
    """One piece on a bed: its number in the list, which bed, its lower left corner, its size there, and whether it was turned."""

    index: int
    bed: int
    x_mm: float
    y_mm: float
    length_mm: float
    width_mm: float
    turned: bool


def lay(sizes_mm: list[tuple[float, float]], bed_mm: tuple[float, float]) -> tuple[Laid, ...]:
    """Every piece on a bed, in rows from the front; a new bed when one is full. Raises FieldError for one that is too large."""
    order = sorted(range(len(sizes_mm)), key=lambda k: (-max(sizes_mm[k]), k))
    rows: list[list[float]] = []
    found: list[Laid] = []
    beds = 0
    for k in order:
        length, width = sizes_mm[k]
        ways = [(length, width, False), (width, length, True)]
        ways = [w for w in ways if w[0] <= bed_mm[0] + 1e-9 and w[1] <= bed_mm[1] + 1e-9]
        if not ways:
            raise FieldError(
                "bed",
                f"a piece of {length:.0f} × {width:.0f} mm does not lie on a bed of {bed_mm[0]:g} × {bed_mm[1]:g} mm",
            )
        # a row: bed, its front edge, its depth, how far it is filled
        spot = next(
            ((row, w) for row in rows for w in ways if row[3] + w[0] <= bed_mm[0] + 1e-9 and w[1] <= row[2] + 1e-9),
            None,
        )
        if spot is None:
            way = min(ways, key=lambda w: w[1])
            last = [r for r in rows if r[0] == beds - 1]
            front = max((r[1] + r[2] + BETWEEN_MM for r in last), default=0.0)
            if not last or front + way[1] > bed_mm[1] + 1e-9:
                beds, front = beds + 1, 0.0
            rows.append([beds - 1, front, way[1], 0.0])
            spot = rows[-1], way
        row, (wide, deep, turned) = spot
        found.append(Laid(k, int(row[0]), row[3], row[1], wide, deep, turned))
        row[3] += wide + BETWEEN_MM
    return tuple(sorted(found, key=lambda one: one.index))
