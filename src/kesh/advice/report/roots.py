"""The parts of the report on the root plan and on how the tree is placed."""

from typing import Any

from kesh.advice.assess import Assessment
from kesh.advice.roots.work import plan_for, pockets_for
from kesh.science.roots.pockets import PocketStep
from kesh.science.roots.side_room import Tilted, side_room_mm, tilted_tree

# a tree is tilted to the viewer's right, below nought to the left
TILTED_TO_DEG = 270.0


def plan_part(a: Assessment) -> dict[str, Any]:
    """The plan of the root map, blank where there is none."""
    plan = plan_for(a.figures)
    told = {"pockets": [_pocket(p) for p in pockets_for(a.figures)]}
    names = ("gap_before_deg", "gap_after_deg", "unevenness_before", "unevenness_after")
    if plan is None:
        return {"plan": [], "plan_share": None, "plan_points": None} | dict.fromkeys(names) | told
    rows = [
        {"root": s.root, "action": s.action, "at_mm": s.at_mm, "year": s.year, "share": s.share, "why": s.why}
        for s in plan.steps
    ]
    return (
        {"plan": rows, "plan_share": plan.share, "plan_points": plan.points}
        | {n: getattr(plan, n) for n in names}
        | told
    )


def _pocket(step: PocketStep) -> dict[str, Any]:
    """One pocket of the root mass: litres, feeders that its roots carry, what counts, and when it is taken out."""
    return {
        "kind": step.pocket.kind, "volume_l": step.part.volume_l, "feeder_share": step.part.feeder_share,
        "counted": step.counted, "year": step.year, "why": step.why,
    }  # fmt: skip


def tilt_of(a: Assessment) -> Tilted:
    """What the planting's tilt does to the tree."""
    planting = a.case.planting
    degrees, turn = (planting.tilt_deg, planting.turn_deg) if planting else (0.0, 0.0)
    return tilted_tree(a.case.tree.measure.height_mm, a.case.roots, degrees, TILTED_TO_DEG, turn)


def placement_part(a: Assessment) -> dict[str, Any]:
    """Balance, room all round every ten degrees, and what a tilt brings; None where unknown."""
    f, roots = a.figures, a.case.roots
    room = None
    if roots is not None and f.roots is not None:
        room = side_room_mm(roots, f.pots, f.seat, f.roots)
    tilt = tilt_of(a)
    return {
        "balance": None if f.balance is None else float(f.balance[0]),
        "room_mm": [] if room is None else [float(v) for v in room],
        "room_min_mm": None if room is None else float(room.min()),
        "wedge_l": tilt.wedge_l,
        "apex_shift_mm": tilt.apex_shift_mm,
        "apex_drop_mm": tilt.apex_drop_mm,
    }
