"""The work step by step: the keys of the kind in their order, each as the kind has it or as is usual; what has nothing to do is left out."""

from collections.abc import Callable, Mapping, Sequence

from kesh.advice.assess import Assessment
from kesh.advice.planting.cut_list import CutList
from kesh.advice.planting.soil_batch import Batch
from kesh.advice.planting.steps import before, potting, roots
from kesh.advice.planting.steps.step import PLAIN, Tools, WorkStep, behind, tied
from kesh.advice.planting.tie_plan import TiePlan
from kesh.base.units import Units

Make = Callable[[Tools], WorkStep | None]
USUAL: Mapping[str, Make] = {
    "screens": before.screens, "wires": before.wires, "mix": before.mix, "lift": before.lift, "surface": roots.surface, "comb": roots.comb,
    "roots": roots.roots, "saw": roots.saw, "try": roots.try_it, "coarse": potting.coarse, "heap": potting.heap, "set": potting.set_it,
    "tie": potting.tie, "fill": potting.fill, "dress": potting.dress, "test": potting.test, "water": potting.water, "carry": potting.carry,
    "branches": potting.branches,
}  # fmt: skip


def order_of_work(
    a: Assessment, ties: TiePlan | None, batch: Batch | None, cuts: CutList | None, u: Units,
    order: Sequence[str] = PLAIN, own: Sequence[WorkStep] = (),
) -> tuple[WorkStep, ...]:  # fmt: skip
    """All steps that this planting needs, in the order of its kind. `own` are the kind's, which stand in for the usual by their keys."""
    t = Tools(a, ties, batch, cuts, u)
    makes = dict(USUAL)
    if a.case.brief.planting_views.order == "fill_first" and tied(t):
        # soil first: tied loosely before it, tightened after
        makes |= {"tie": potting.tie_loose, "tighten": potting.tighten}
    mine = {step.key: step for step in own}
    found = []
    # a branch is pulled against what stands firm: after the tree is held and its soil is in
    firm = next((key for key in ("tighten", "fill") if key in order), order[-1])
    for key in behind(tuple(order), firm, "branches"):
        step = mine[key] if key in mine else makes[key](t) if key in makes else None
        if step is not None:
            found.append(step)
    return tuple(found)
