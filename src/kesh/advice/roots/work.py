"""The root plan of a case in a pot: what of the map goes, within what the pot leaves of the budget."""

from dataclasses import dataclass
from datetime import date

from kesh.advice.figures import Figures
from kesh.advice.roots.this_year import this_year
from kesh.advice.rules.roots import COMBED_MM, ORDINARY_DEPTH, SAWN, comb_minutes, saw_allowed
from kesh.geometry.outline import ring_area_mm2
from kesh.model import MapRoot, PlanStep
from kesh.science.roots.fit import Stage, ball_ring, stages
from kesh.science.roots.plan import Bounds, RootPlan, RootStep, root_plan
from kesh.science.roots.pockets import PocketStep, part_of, pocket_plan
from kesh.science.roots.time import Effort, effort

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
    limit = plan_limit(f)
    if limit is None:
        return None
    return f.case.bounds(tuple(s.removed_feeder_share for s in pot_stages(f, i)) or (0.0,), limit)


def plan_for(f: Figures, i: int = 0) -> RootPlan | None:
    """The plan of the tree's root map in a pot; None without a map, or while its bounds are not known."""
    # asked many times a frame while something is dragged: kept with the figures it rests on
    kept: dict[int, RootPlan | None] = f.__dict__.setdefault("_root_plans", {})
    if i not in kept:
        kept[i] = _plan_for(f, i)
    return kept[i]


def _plan_for(f: Figures, i: int) -> RootPlan | None:
    bounds = bounds_for(f, i)
    if bounds is None or not f.case.tree.root_map:
        return None
    return root_plan(f.case.tree.root_map, bounds)


def sawn(f: Figures, i: int = 0) -> tuple[float, float]:
    """What a flat saw cut takes off the bottom: (cm2 of the cut, litres below it); nought where it is combed."""
    roots, fit = f.case.roots, f.roots
    if roots is None or fit is None or f.case.brief.root_views.amount not in SAWN or not saw_allowed(f):
        return 0.0, 0.0
    now = this_year(f, i)
    kept = roots.depth_mm - (now.bottom_mm if now is not None else 0.0)
    if roots.depth_mm - kept <= COMBED_MM or kept <= 0:
        return 0.0, 0.0
    base = abs(ring_area_mm2(ball_ring(roots))) / 100 * (1 - roots.taper * kept / roots.depth_mm) ** 2
    return base, part_of(roots, 0.0, 360.0, (0.0, 1.0), (kept, roots.depth_mm)).volume_l


def cuts_now(f: Figures, i: int = 0) -> tuple[MapRoot, ...]:
    """The roots of the map that are cut in the first repotting."""
    plan = plan_for(f, i)
    if plan is None or f.case.brief.root_views.amount == "nothing":
        return ()
    now = {s.root for s in plan.steps if s.action in ("shorten", "remove") and s.year == 0}
    return tuple(r for r in f.case.tree.root_map if r.id in now)


def work(f: Figures, i: int = 0) -> Effort | None:
    """How long the first repotting takes, step by step; None while the root mass is not known."""
    if f.roots is None:
        return None
    views = f.case.brief.root_views
    cut_cm2 = sawn(f, i)[0]
    washed = float(f.roots.kept_volume_l[i]) if views.old_soil == "wash" else 0.0
    return effort(
        f.roots.ball_volume_l, comb_minutes(f, i), cut_cm2, len(cuts_now(f, i)), seal=views.seal, washed_l=washed
    )


def pockets_for(f: Figures, i: int = 0) -> tuple[PocketStep, ...]:
    """What is done with the pockets of the root mass, and when; empty without any or while the limit is not known."""
    roots, limit = f.case.roots, plan_limit(f)
    if roots is None or f.roots is None or limit is None or not roots.pockets:
        return ()
    plan, bounds = plan_for(f, i), bounds_for(f, i)
    taken = plan.shares if plan is not None else bounds.pot_shares if bounds is not None else (0.0,)
    return pocket_plan(roots, taken, limit, f.case.care.interval_years, float(f.roots.kept_depth_mm[i]))


def foliage_with_it(f: Figures, i: int = 0) -> float | None:
    """The share of the foliage that is taken on the same day to balance the feeders, by that view; None by the other."""
    bounds = bounds_for(f, i)
    if f.case.brief.root_views.top_work != "same_day" or bounds is None:
        return None
    plan = plan_for(f, i)
    return plan.share if plan is not None else bounds.pot_share(0)


def tools(f: Figures, i: int = 0) -> tuple[str, ...]:
    """What should lie at hand before the tree is lifted, by what comes off in the first repotting."""
    cut, views = cuts_now(f, i), f.case.brief.root_views
    if f.case.species is not None and f.case.species.stores_water:
        # dry roots are wanted: nothing to wet them with
        return "hook or chopstick", "root shears", "dry cloth"
    if views.amount == "nothing":
        return "hook or chopstick", "water to mist", "a wet cloth"
    found = ["rake and hook" if views.tool == "rake" else "hook or chopstick"]
    if cut or (f.roots is not None and float(f.roots.removed_volume_share[i]) > 0):
        found.append("root shears")
    if any(r.diameter_mm > SHEARS_MM for r in cut):
        found.append("fine saw or cutter")
    if sawn(f, i)[0] > 0:
        found.append("saw")
    roots = f.case.roots
    deep = (
        f.roots is not None and roots is not None and float(f.roots.off_bottom_mm[i]) > ORDINARY_DEPTH * roots.depth_mm
    )
    if views.old_soil == "wash" or (deep and not saw_allowed(f)):
        found.append("hose")
    elif deep and "saw" not in found:
        found.append("saw")
    if views.seal and cut:
        found.append("cut paste")
    return (*found, "water to mist", "a wet cloth")


@dataclass(frozen=True)
class StandingPlan:
    """The plan that was kept with the planting: its steps, its day, and whether today's reckoning still says the same."""

    steps: tuple[PlanStep, ...]
    made: date | None
    same: bool


def standing_plan(f: Figures, i: int = 0) -> StandingPlan | None:
    """The kept plan of the planting that is judged; None where nobody has kept one."""
    planting = f.case.planting
    if planting is None or not planting.plan:
        return None
    plan = plan_for(f, i)
    now = {} if plan is None else {s.root: (s.action, s.at_mm, s.year) for s in plan.steps}
    same = now == {s.root: (s.action, s.at_mm, s.year) for s in planting.plan}
    return StandingPlan(planting.plan, planting.plan_made, same)


def steps_now(f: Figures, i: int = 0) -> tuple[PlanStep | RootStep, ...]:
    """What is done to roots at the next repotting: by the plan that was kept, else by today's reckoning."""
    kept, plan = standing_plan(f, i), plan_for(f, i)
    known = {r.id for r in f.case.tree.root_map}
    steps: tuple[PlanStep | RootStep, ...] = kept.steps if kept is not None else plan.steps if plan is not None else ()
    return tuple(s for s in steps if s.action != "keep" and s.year == 0 and s.root in known)
