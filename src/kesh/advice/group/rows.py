"""The eight parts of a layout check as rows: what each looks at, its value on its own scale, the band that is asked, and its mark."""

from dataclasses import dataclass

import numpy as np

from kesh.advice.group.plan import PARTS_WORDS, GroupPlan
from kesh.base.units import Units
from kesh.science.group.layout import FLAT, GAPS_BAND, PARTS, SPACING_BAND, VOID_BAND, flatness
from kesh.science.group.mend import LayoutCheck
from kesh.science.group.stand import PAIR_APART, PAIR_HEIGHT, PAIR_THICK


@dataclass(frozen=True)
class PartRow:
    """One part: `value` and the `bands` that are asked on a scale from `low` to `high`; `words` say it in the sheet's units."""

    key: str
    label: str
    words: str
    mark: float
    value: float
    low: float
    high: float
    bands: tuple[tuple[float, float], ...]


def part_rows(plan: GroupPlan, check: LayoutCheck, u: Units) -> tuple[PartRow, ...]:
    """All parts in the method's order."""
    n = len(plan.rows)
    nearest = check.nearest_mm
    spread = float(nearest.std() / nearest.mean()) if nearest.mean() > 0 else 0.0
    flat = float((flatness(plan.x, plan.y) < FLAT).mean())
    gaps = np.diff(np.sort(plan.x))
    gap_spread = float(gaps.std() / gaps.mean()) if gaps.mean() > 1e-9 else 0.0
    hidden = len(check.hidden)
    order = [len(g) for g in check.groups]
    radius = check.void_mm[2] / float(np.sqrt(plan.tray.area_mm2 / np.pi))
    miss = sum(o[2] for o in check.overlaps_mm) + sum(o[1] for o in check.outside_mm)
    depth = 1 - 2 * check.parts["depth"]
    sizes = sorted(order, reverse=True)
    told = {
        "spacing": (f"{u.figure(float(nearest.min()))} to {u.mm(float(nearest.max()))}", spread, 0.0, SPACING_BAND[3], ((SPACING_BAND[1], SPACING_BAND[2]),)),
        "collinear": (f"{len(check.in_line)} in line, {flat:.0%} of all threes", flat, 0.0, 0.4, ((0.0, 0.10),)),
        "front": (f"{hidden} pair{'' if hidden == 1 else 's'} overlap" if hidden else "gaps from the front", gap_spread, 0.0, GAPS_BAND[3], ((GAPS_BAND[1], GAPS_BAND[2]),)),
        "main": (f"at {check.main_share:.0%}, a third asked", check.main_share, 0.0, 1.0, ((0.28, 0.39), (0.61, 0.72))),
        "depth": ("thick in front" if depth < -0.2 else "thick at the back" if depth > 0.2 else "thick and thin mixed", depth, -1.0, 1.0, ((-1.0, -0.5),)),
        "groups": (" and ".join(str(v) for v in sizes[:4]) + (" …" if len(sizes) > 4 else ""), float(len(order)), 0.0, 6.0, ((1.6, 3.4),)),
        "void": (f"Ø {u.mm(2 * check.void_mm[2])}", radius, 0.0, VOID_BAND[3], ((VOID_BAND[1], VOID_BAND[2]),)),
        "fit": (f"short by {u.mm(miss)}" if miss > 0.05 else "all roots have room", miss / float(plan.disc.sum()) if n else 0.0, 0.0, 0.5, ((0.0, 0.02),)),
    }  # fmt: skip
    return tuple(
        PartRow(key, PARTS_WORDS[key], words, check.parts[key], min(max(value, low), high), low, high, bands)
        for key in PARTS
        for words, value, low, high, bands in (told[key],)
    )


def pair_rows(plan: GroupPlan, u: Units) -> tuple[PartRow, ...]:
    """The checks of two trunks: heights, thickness, distance, and what front and back show; empty for any other number."""
    p = plan.pair
    if p is None:
        return ()

    def marked(value: float, band: tuple[float, float]) -> float:
        return 1.0 if band[0] <= value <= band[1] else 0.4

    rows = []
    if p.height_ratio is not None:
        rows.append(
            PartRow(
                "height",
                "Height",
                f"{p.height_ratio:.0%} of the taller",
                marked(p.height_ratio, PAIR_HEIGHT),
                p.height_ratio,
                0.3,
                1.0,
                (PAIR_HEIGHT,),
            )
        )
    rows.append(
        PartRow(
            "thick",
            "Thickness",
            f"{p.thick_ratio:.0%} of the thicker",
            marked(p.thick_ratio, PAIR_THICK),
            p.thick_ratio,
            0.2,
            1.0,
            (PAIR_THICK,),
        )
    )
    rows.append(
        PartRow(
            "apart",
            "Distance",
            f"{u.mm(p.apart_mm)}, a gap of {u.mm(p.gap_mm)}",
            marked(p.apart_share, PAIR_APART),
            min(p.apart_share, 3.0),
            0.0,
            3.0,
            (PAIR_APART,),
        )
    )
    for key, label, hidden in (("front", "From the front", p.hidden_front), ("back", "From the back", p.hidden_back)):
        rows.append(
            PartRow(
                key,
                label,
                "one hides the other" if hidden else "both are seen",
                0.4 if hidden else 1.0,
                0.0 if hidden else 1.0,
                0.0,
                1.0,
                ((0.9, 1.0),),
            )
        )
    rows.append(
        PartRow(
            "depth",
            "Depth",
            "the smaller stands behind" if p.smaller_behind else "the smaller stands in front",
            1.0 if p.smaller_behind else 0.6,
            1.0 if p.smaller_behind else 0.0,
            0.0,
            1.0,
            ((0.9, 1.0),),
        )
    )
    return tuple(rows)


def title_words(plan: GroupPlan, u: Units) -> str:
    """The result in a line: what is worst, by name."""
    n, check = len(plan.rows), plan.check
    if not plan.tree.group:
        return "No tree of this group is entered yet"
    if n == 2 and plan.pair is not None:
        ratio = (
            f", the smaller {plan.pair.height_ratio:.0%} of the taller" if plan.pair.height_ratio is not None else ""
        )
        return f"Two trunks, {u.mm(plan.pair.apart_mm)} apart{ratio}"
    if check is None:
        return f"{n} of {len(plan.tree.group)} trees stand in the tray"
    if check is not None and check.parts[check.worst] >= 0.98:
        return f"{COUNTS[n] if n < len(COUNTS) else n} trees, {check.score:.0f} of 100"
    who = COUNTS[n] if n < len(COUNTS) else str(n)
    if check.outside_mm and check.worst == "fit":
        return f"{who} trees: {plan.rows[check.outside_mm[0][0]].id} has no room to the wall"
    if check.in_line and check.worst == "collinear":
        a, b, c = check.in_line[0].ids
        return f"{who} trees: {a}, {b} and {c} stand in one line"
    return f"{who} trees: {WORST_WORDS[check.worst]}"


COUNTS = ("No", "One", "Two", "Three", "Four", "Five", "Six", "Seven", "Eight", "Nine", "Ten", "Eleven", "Twelve", "Thirteen", "Fourteen", "Fifteen")  # fmt: skip
WORST_WORDS = {
    "spacing": "spacing is weakest", "collinear": "too many in line", "front": "the front is weakest", "main": "the main tree wants a third",
    "depth": "thick trunks want to come forward", "groups": "grouping is weakest", "void": "open ground is weakest", "fit": "roots overlap",
}  # fmt: skip
