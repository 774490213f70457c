"""The root plan of a case in a pot: what of the map goes, within what the pot leaves of the budget."""

from kesh.advice.figures import Figures
from kesh.advice.rules_roots import ORDINARY_DEPTH, combed_l, saw_allowed
from kesh.science.root_fit import Stage, stages
from kesh.science.root_plan import Bounds, RootPlan, root_plan
from kesh.science.root_time import Effort, effort

# a root thicker than this is not cut with shears
SHEARS_MM = 10.0


def pot_stages(f: Figures, i: int = 0) -> tuple[Stage, ...]:
    """The repottings in which a pot takes its feeders; empty when nothing comes off, or nothing is known or may."""
    limit = f.case.limit_share
    if f.roots is None or limit is None:
        return ()
    return stages(float(f.roots.removed_feeder_share[i]), limit, f.case.care.interval_years)


def plan_limit(f: Figures) -> float | None:
    """What one repotting may take; of a tree whose root mass nobody has seen yet as of one in usual health."""
    return f.case.limit_share if f.case.roots is not None else f.case.limit_in("normal")


def bounds_for(f: Figures, i: int = 0) -> Bounds | None:
    """What the plan of a pot is held to; None while species or season are not known."""
    limit, roots = plan_limit(f), f.case.roots
    if limit is None:
        return None
    taken = tuple(s.removed_feeder_share for s in pot_stages(f, i))
    weights = tuple(sorted(f.case.school.root_points.items()))
    return Bounds(
        limit, taken or (0.0,), f.case.care.interval_years, roots.feeders if roots else "even",
        roots.untouched if roots else (), weights,
    )  # fmt: skip


def plan_for(f: Figures, i: int = 0) -> RootPlan | None:
    """The plan of the tree's root map in a pot; None without a map, or while its bounds are not known."""
    bounds = bounds_for(f, i)
    if bounds is None or not f.case.tree.root_map:
        return None
    return root_plan(f.case.tree.root_map, bounds)


def work(f: Figures, i: int = 0) -> Effort | None:
    """How long the first repotting takes, step by step; None while the root mass is not known."""
    if f.roots is None:
        return None
    plan = plan_for(f, i)
    cuts = sum(s.action != "keep" and s.year == 0 for s in plan.steps) if plan is not None else 0
    return effort(f.roots.ball_volume_l, combed_l(f, i), 0.0, cuts, conifer=f.case.conifer)


def tools(f: Figures, i: int = 0) -> tuple[str, ...]:
    """What should lie at hand before the tree is lifted, by what comes off in the first repotting."""
    plan = plan_for(f, i)
    by_id = {r.id: r for r in f.case.tree.root_map}
    cut = [by_id[s.root] for s in plan.steps if s.action != "keep" and s.year == 0] if plan is not None else []
    found = ["hook or chopstick"]
    if f.roots is not None and float(f.roots.removed_volume_share[i]) > 0:
        found.append("root shears")
    if any(r.diameter_mm > SHEARS_MM for r in cut):
        found.append("fine saw or cutter")
    elif cut and "root shears" not in found:
        found.append("root shears")
    roots = f.case.roots
    if f.roots is not None and roots is not None and float(f.roots.off_bottom_mm[i]) > ORDINARY_DEPTH * roots.depth_mm:
        found.append("saw" if saw_allowed(f) else "hose")
    return (*found, "water to mist", "a wet cloth")
