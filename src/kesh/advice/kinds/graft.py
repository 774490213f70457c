"""Approach grafts: a sector of roots is left alone."""

import numpy as np

from kesh.advice.kinds.kind import FieldRow, Grip, Kind, azimuth_deg, ray
from kesh.advice.kinds.kinds import KindRow
from kesh.advice.kinds.plan import Figure, Setting, SpecialPlan, Stage, care, finding, months, nothing_yet
from kesh.advice.kinds.sector import sector_above
from kesh.advice.planting.findings import side_words
from kesh.advice.planting.steps.step import PLAIN, WorkStep, behind
from kesh.advice.planting.steps.step import care as caution
from kesh.figure.overlay import Area, Overlay, Shape, Size, Stroke, oval
from kesh.model import Graft, Planting
from kesh.science.season.days import later
from kesh.science.special.shared import graft_release, in_sector


def graft_sector(row: Graft) -> tuple[float, float]:
    """First and last azimuth of the roots that are left alone, degrees."""
    return (row.azimuth_deg - row.half_deg) % 360, (row.azimuth_deg + row.half_deg) % 360


def graft(s: Setting) -> SpecialPlan:
    """The plan of an approach graft."""
    row, u = s.planting.graft, s.u
    if row is None:
        return nothing_yet(
            "graft",
            "No graft yet",
            "graft_plan",
            "Nothing of the graft is entered yet.",
            "Say which side it is set on, and when.",
        )
    low, high = graft_sector(row)
    start = row.set_on or s.day
    free = graft_release(start)
    found = []
    ripe = s.today >= free and row.grows_alone
    if ripe:
        found.append(
            finding("graft_fused", "fits", "A season has passed and the scion grows on its own: it may be cut free.")
        )
    else:
        why = "the scion does not grow on its own yet" if s.today >= free else f"not before {months(free)}"
        found.append(
            finding(
                "graft_fused",
                "watch",
                f"It is not cut free: {why}.",
                "The sign decides: its buds open before the seedling's own would, and it thickens above the join.",
            )
        )
    touched = [r.id for r in s.a.case.tree.root_map if bool(in_sector(r.azimuth_deg, low, high)) and not r.keep]
    if touched:
        found.append(
            finding(
                "graft_sector",
                "watch",
                f"Root {', '.join(touched)} lies in the sector that is left alone.",
                "Mark it kept in the root map: then no plan cuts it.",
            )
        )
    else:
        found.append(
            finding(
                "graft_sector", "fits", f"{2 * row.half_deg:.0f}° towards {side_words(row.azimuth_deg)} are left alone."
            )
        )
    untouched = s.a.case.roots.untouched if s.a.case.roots is not None else ()
    covered = any(bool(in_sector(row.azimuth_deg, t.from_deg, t.to_deg)) for t in untouched)
    if s.a.case.roots is not None and not covered and not ripe:
        found.append(
            finding(
                "graft_untouched",
                "watch",
                "The root plan does not know the sector yet.",
                "Take it into the root mass as a side that is left alone: the link below does it.",
            )
        )
    after = (
        care(
            "separate_graft",
            365,
            430,
            "Cut the graft free, in two cuts a month apart, if it grows on its own.",
            "The scion thickens above the join and its buds open by themselves.",
        ),
    )
    figures = (
        Figure("Sector", f"{2 * row.half_deg:.0f}° to {side_words(row.azimuth_deg)}"),
        Figure("Join", f"{u.mm(row.height_mm)} over the soil"),
        Figure("Free", f"from {months(free)}, by its sign"),
    )
    stages = (
        Stage("Set", start, months(start), "tied, sealed", Overlay(_graft_front(s, fused=False))),
        Stage("Growing together", later(start, 180), "it thickens", "sector untouched", Overlay(_graft_front(s, fused=False))),
        Stage("Cut free", free, "grows on its own", "in two cuts", Overlay(_graft_front(s, fused=True))),
    )  # fmt: skip
    title = (
        "Grown together: it may be cut free"
        if ripe
        else f"{2 * row.half_deg:.0f}° left alone until it has grown together"
    )
    return SpecialPlan("graft", title, figures, tuple(found), (), stages, Overlay(_graft_front(s, fused=ripe)), Overlay(sector_above(s, low, high, "left alone", 1.0)), after)  # fmt: skip


def _graft_side(row: Graft) -> float:
    """How far to the right the scion comes from, by the trunk's half; one from the front or the back is shown a little aside."""
    return -float(np.sin(np.radians(row.azimuth_deg))) or 0.4


def join_at(s: Setting, row: Graft) -> tuple[float, float]:
    """Where scion and trunk are joined in the front view, mm; its height is told over the soil."""
    thick = (s.a.case.tree.measure.trunk_diameter_mm or 30.0) / 2
    return s.planting.offset_x_mm + _graft_side(row) * thick * 0.9, s.soil_mm + row.height_mm


def _steps(s: Setting) -> tuple[WorkStep, ...]:
    row = s.planting.graft or Graft()
    return (
        WorkStep("guard", "guard", f"Keep off {side_words(row.azimuth_deg)}", f"{2 * row.half_deg:.0f}", "degrees are not touched", ("The seedling's soil stays on; wrap it in a wet cloth while you work.",), minutes=3.0),
        WorkStep("look", "look", "Look at the join", lines=("Loosen its tie before it cuts in; nothing pulls at the scion.",), cautions=caution("wire_ends"), minutes=3.0),
    )  # fmt: skip


def _graft_front(s: Setting, *, fused: bool) -> tuple[Shape, ...]:
    row = s.planting.graft
    assert row is not None
    x, soil = s.planting.offset_x_mm, s.soil_mm
    side = _graft_side(row)
    thick = (s.a.case.tree.measure.trunk_diameter_mm or 30.0) / 2
    out = x + side * (thick + 30)
    join = join_at(s, row)
    shapes: list[Shape] = []
    if not fused:
        shapes.append(
            Stroke(((out, soil - 12), (out + side * 4, soil + 0.5 * row.height_mm), join), "wood", row.scion_mm)
        )
    tip = (join[0] + side * 34, join[1] + 0.8 * row.height_mm + 26)
    shapes.append(Stroke((join, (join[0] + side * 16, join[1] + 20), tip), "wood", row.scion_mm))
    for k in range(4):
        t = 0.4 + 0.2 * k
        shapes.append(
            Area(
                oval(
                    join[0] + (tip[0] - join[0]) * t + (5 if k % 2 else -5),
                    join[1] + (tip[1] - join[1]) * t + 3,
                    7,
                    4,
                    16,
                ),
                "plant",
            )
        )
    shapes.append(Area(oval(*join, row.scion_mm + 3, row.scion_mm + 5, 20), "paste"))
    shapes.append(
        Size(
            (join[0] + side * 40, soil),
            (join[0] + side * 40, join[1]),
            s.u.figure(row.height_mm),
            16.0 * (1 if side > 0 else -1),
            level=False,
        )
    )
    return tuple(shapes)


def _grips(s: Setting) -> list[Grip]:
    row = s.planting.graft
    if row is None:
        return []
    return [
        ray(s, "graft:at", "Side of the graft", row.azimuth_deg),
        ray(s, "graft:edge", "Edge of the sector", graft_sector(row)[1]),
        Grip("graft:join", "Join", "front", *join_at(s, row)),
    ]


def _pull(s: Setting, what: str, rest: list[str], x_mm: float, y_mm: float) -> Planting:
    p = s.planting
    assert p.graft is not None
    if what == "join":
        return p.changed(graft=p.graft.changed(height_mm=round(max(y_mm - s.soil_mm, 1.0), 1)))
    azimuth = azimuth_deg(s, x_mm, y_mm)
    if what == "at":
        return p.changed(graft=p.graft.changed(azimuth_deg=azimuth))
    half = abs((azimuth - p.graft.azimuth_deg + 180) % 360 - 180)
    return p.changed(graft=p.graft.changed(half_deg=round(max(half, 2.0), 1)))


ORDER = ("guard", *behind(PLAIN, "test", "look"))
KIND = Kind(
    KindRow("graft", 13, "Approach graft", "A sector of roots is left alone until the graft has grown together.", field="graft"),
    fields=(
        FieldRow("azimuth_deg", "Stands at", "deg", "Clockwise from the front, seen from above", blank=False), FieldRow("half_deg", "Half sector", "deg", blank=False),
        FieldRow("height_mm", "Join over soil", "mm", blank=False), FieldRow("scion_mm", "Scion thick", "mm", blank=False), FieldRow("set_on", "Set on", "date"),
        FieldRow("grows_alone", "Grows on its own", "flag"),
    ),
    make=graft,
    order=ORDER,
    steps=_steps,
    start=lambda tree, pot: Graft(),
    grips=_grips,
    pull=_pull,
    links=("guard",),
)  # fmt: skip
