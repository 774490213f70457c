"""The repotting step by step, in the order of the grower's school: what to do, one figure that decides, and the caution that belongs to it."""

from collections.abc import Callable, Sequence

from kesh.advice.assess import Assessment
from kesh.advice.kinds.plan import Placed
from kesh.advice.planting.cut_list import CutList
from kesh.advice.planting.soil_batch import Batch
from kesh.advice.planting.steps import before, potting, roots
from kesh.advice.planting.steps.step import Tools, WorkStep, tied
from kesh.advice.planting.tie_plan import TiePlan
from kesh.base.units import Units

Make = Callable[[Tools], WorkStep | None]


def order_of_work(
    a: Assessment, ties: TiePlan | None, batch: Batch | None, cuts: CutList | None, u: Units
) -> tuple[WorkStep, ...]:
    """All steps that this planting needs, in order; those without anything to do are left out."""
    t = Tools(a, ties, batch, cuts, u)
    late = a.case.brief.planting_views.order == "fill_first" and tied(t)
    holding: tuple[Make, ...] = (
        (potting.tie_loose, potting.fill, potting.tighten) if late else (potting.tie, potting.fill)
    )
    order: tuple[Make, ...] = (
        before.wires, before.mix, before.lift, roots.comb, roots.roots, roots.bottom, roots.try_it, potting.coarse, potting.heap,
        potting.feed_under, potting.set_it, *holding, potting.dress, potting.water, potting.test, potting.carry,
    )  # fmt: skip
    return tuple(step for make in order if (step := make(t)) is not None)


def with_special(steps: Sequence[WorkStep], placed: Sequence[Placed]) -> tuple[WorkStep, ...]:
    """The order with the steps of a special planting: each after the one it names, else after the nearest before it in the usual order.

    A cutting has no tie at its trunk, a slab no heap of its own: a step of the kind stands in for the usual one by the same word.
    """
    found = list(steps)
    usual = (
        "wires",
        "mix",
        "lift",
        "comb",
        "roots",
        "saw",
        "try",
        "coarse",
        "heap",
        "feed",
        "set",
        "tie",
        "fill",
        "tighten",
        "dress",
        "water",
        "test",
        "carry",
    )
    for one in placed:
        keys = [s.key for s in found]
        at = -1
        if one.after in keys:
            at = keys.index(one.after)
        elif one.after in usual:
            before = usual[: usual.index(one.after) + 1]
            at = max((keys.index(k) for k in before if k in keys), default=-1)
        found.insert(at + 1, one.step)
    return tuple(found)
