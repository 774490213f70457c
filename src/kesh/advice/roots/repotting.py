"""What a repotting leaves behind: the root mass after its cuts, as planned, to be corrected by whoever saw it."""

from datetime import date

import numpy as np

from kesh.advice.assess import Assessment
from kesh.advice.roots.this_year import SIDES, ThisYear, this_year
from kesh.geometry.outline import rim_area_mm2, ring_area_mm2
from kesh.model import Outline, RootMass
from kesh.science.roots.fit import kept_ring

# a cut outline that fills its box within this share of the old kind's is still of that kind
SAME_KIND = 0.02
SIMPLER_MM = 0.5
LEAST_MM = 1.0


def roots_after(a: Assessment, today: date) -> RootMass | None:
    """The root mass once everything the plan asks for came off; None while it is not known, or nothing would be left.

    What the side cuts leave is drawn anew only where it is no longer of its kind: an oval cut back on one side is no oval.
    """
    roots, fit = a.case.roots, a.figures.roots
    if roots is None or fit is None:
        return None
    year = this_year(a.figures)
    if year is not None and (year.nothing or not year.goes_in or year.repottings > 1):
        return _after_a_part(roots, year, today)
    kept = float(fit.kept_depth_mm[0])
    if kept < LEAST_MM or float(fit.removed_volume_share[0]) >= 1:
        return None
    fields: dict[str, object] = {
        "seen": today,
        "depth_mm": round(kept, 1),
        "taper": round(roots.taper * kept / roots.depth_mm, 4),
        "estimated": roots.estimated,
    }
    sides = (fit.off_left_mm, fit.off_right_mm, fit.off_front_mm, fit.off_back_mm)
    ring = kept_ring(roots, a.figures.pots, a.seat, float(fit.allowed_offset_mm[0]))
    turn = np.radians(-a.seat.turn_deg)
    ring = ring @ np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]]).T
    whole = rim_area_mm2(roots.outline, roots.length_mm, roots.width_mm)
    area = abs(ring_area_mm2(ring))
    if max(float(s[0]) for s in sides) < 0.5 and area > (1 - SAME_KIND) * whole:
        return roots.changed(**fields)
    low, high = ring.min(axis=0), ring.max(axis=0)
    length, width = (float(v) for v in high - low)
    if min(length, width) < LEAST_MM:
        return None
    fields |= {
        "length_mm": round(length, 1),
        "width_mm": round(width, 1),
        "offset_x_mm": round(float(low[0] + high[0]) / 2, 1),
        "offset_y_mm": round(float(low[1] + high[1]) / 2, 1),
        "outline": _outline(roots.outline, ring - (low + high) / 2, length, width, area),
    }
    return roots.changed(**fields)


def _after_a_part(roots: RootMass, year: ThisYear, today: date) -> RootMass | None:
    """The root mass after the first of several repottings, or after none was cut: less by what came off each side."""
    left, right, front, back = year.sides_mm
    length, width = roots.length_mm - left - right, roots.width_mm - front - back
    depth = roots.depth_mm - year.bottom_mm
    if min(length, width, depth) < LEAST_MM:
        return None
    return roots.changed(
        seen=today, depth_mm=round(depth, 1), taper=round(roots.taper * depth / roots.depth_mm, 4), length_mm=round(length, 1),
        width_mm=round(width, 1), offset_x_mm=round(roots.offset_x_mm + (left - right) / 2, 1),
        offset_y_mm=round(roots.offset_y_mm + (front - back) / 2, 1),
    )  # fmt: skip


def _outline(before: Outline, ring: np.ndarray, length: float, width: float, area: float) -> Outline:
    kind = before.changed(kind="oval") if before.kind == "round" and abs(length - width) > 0.01 * length else before
    if kind.kind != "free" and abs(rim_area_mm2(kind, length, width) / area - 1) <= SAME_KIND:
        return kind
    import shapely

    points = np.asarray(shapely.Polygon(ring).simplify(SIMPLER_MM).exterior.coords)[:-1]
    return Outline(kind="free", points_mm=tuple((round(float(x), 1), round(float(y), 1)) for x, y in points))


def cut_words(a: Assessment) -> str:
    """What was planned to come off, in a few words for the log."""
    year = this_year(a.figures)
    if year is None:
        return "The roots were not known."
    parts = [("bottom", year.bottom_mm), *zip(SIDES, year.sides_mm, strict=True)]
    said = [f"{mm:.0f} mm {where}" for where, mm in parts if mm >= 0.5]
    share = f"{year.share:.0%} of the feeders" + (
        f", the first of {year.repottings} repottings" if year.repottings > 1 else ""
    )
    return f"Off: {', '.join(said)}; {share}, as planned." if said else "Nothing was cut."
