"""What is written when a root plan is kept, and how its work is told: no window here."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from kesh.advice.assess import Assessment
from kesh.advice.report.roots import tilt_of
from kesh.advice.roots.this_year import this_year
from kesh.advice.roots.work import pockets_for, pot_stages, tools, work
from kesh.base.units import Units
from kesh.base.words import comma_and, counted
from kesh.desk.root_map import tilt_words
from kesh.model import Event, PlanStep, Planting, Tree
from kesh.science.roots.plan import RootPlan, repotting_years
from kesh.science.roots.pockets import WORDS
from kesh.science.roots.time import Effort, minutes_words
from kesh.science.season.before_lift import BeforeLift
from kesh.science.season.season import year_at
from kesh.store.collection_file import Change


def kept_plan(planting: Planting, a: Assessment, plan: RootPlan, today: date, u: Units) -> list[Change]:
    """The planting with the plan beside it, and the log's notes: what goes when, what is left for next time, what to bend."""
    steps = tuple(
        PlanStep(root=s.root, action=s.action, at_mm=s.at_mm, year=s.year, share=s.share, why=s.why) for s in plan.steps
    )
    changes: list[Change] = [("planting", planting.id, planting.changed(plan=steps, plan_made=today))]
    tree, pot = a.case.tree.id, a.pot.id
    now = [s for s in plan.steps if s.action != "keep" and s.year == 0]
    told = [f"Root plan for {a.pot.name}: {counted(len(now), 'root')} now, {plan.share:.0%} of the feeders."]
    for year in sorted({s.year for s in plan.steps if s.action != "keep" and s.year > 0}):
        left = sum(s.year == year and s.action != "keep" for s in plan.steps)
        told.append(f"{counted(left, 'root')} in {today.year + round(year)}.")
    told += [
        f"{WORDS[p.pocket.kind].capitalize()} left for {today.year + round(p.year)}."
        for p in pockets_for(a.figures)
        if p.year > 0
    ]
    note = Event(
        id=f"root-plan-{tree}-{today}", tree=tree, date=today, kind="note", pot=pot, text=" ".join(told),
        figures=(("plan_share", round(plan.share, 4)), ("roots_now", float(len(now)))),
    )  # fmt: skip
    changes.append(("event", note.id, note))
    if planting.tilt_deg:
        bend = Event(
            id=f"to-bend-{tree}-{today}", tree=tree, date=today, kind="note", pot=pot,
            text=tilt_words(tilt_of(a), planting.tilt_deg, u), figures=(("tilt_deg", planting.tilt_deg),),
        )  # fmt: skip
        changes.append(("event", bend.id, bend))
    return changes


def put_off(tree: Tree, lift: BeforeLift, today: date) -> Event:
    """The log's note that root work waits for the next season, with what was seen."""
    seen = " ".join(t.text for t in lift.told if t.verdict == lift.verdict)
    return Event(
        id=f"put-off-{tree.id}-{today}",
        tree=tree.id,
        date=today,
        kind="note",
        text=f"Root work waits for the next season. {seen}".strip(),
    )


def work_words(a: Assessment, today: date) -> str:
    """How long the first repotting takes, what should lie at hand, and a word of warning on a hot day."""
    told = work(a.figures)
    if told is None:
        return ""
    year = year_at(a.case.site, *a.case.own.housed)
    hot = told.long_on_a_hot_day(None if year is None else year.mean_on(today))
    return (
        f"About {minutes_words(told.total)}, {minutes_words(told.bare)} of them with bare roots: {step_minutes(told)}."
        + (" Usually a hot day: work in the shade, early, and keep the roots wet." if hot else "")
        + f" At hand: {comma_and(tools(a.figures))}."
    )


def step_minutes(told: Effort) -> str:
    """The steps of the work with their minutes, those that take none left out."""
    steps = (
        ("lift", told.lift),
        ("comb", told.comb),
        ("wash", told.wash),
        ("saw", told.saw),
        ("cut roots", told.roots),
        ("plant", told.plant),
    )
    return ", ".join(f"{name} {max(1, round(minutes))}" for name, minutes in steps if minutes > 0.2)


def bottom_steps_mm(off_mm: float, shares: Sequence[float]) -> tuple[float, ...]:
    """How much comes off the bottom in each repotting: in proportion to what each takes of the feeders."""
    total = sum(shares)
    return tuple(off_mm * s / total for s in shares) if total > 0 else (off_mm,)


@dataclass(frozen=True)
class PlanView:
    """One repotting of the plan as it is drawn: when, how deep the mass is after it, what came off, roots cut, share."""

    year: float
    when: str
    depth_mm: float
    off_mm: float
    roots: int
    share: float


def plan_views(a: Assessment, plan: RootPlan | None, today: date) -> tuple[PlanView, ...]:
    """What is there now, then each repotting of the plan; empty while the root mass is not known."""
    fit, roots = a.figures.roots, a.case.roots
    if fit is None or roots is None:
        return ()
    taken = [s.removed_feeder_share for s in pot_stages(a.figures)]
    off = bottom_steps_mm(float(fit.off_bottom_mm[0]), taken)
    now = this_year(a.figures)
    if now is not None and len(off) > 1:
        # the first takes what the plan of this year says, those after it share the rest
        rest = bottom_steps_mm(float(fit.off_bottom_mm[0]) - now.bottom_mm, taken[1:])
        off = (now.bottom_mm, *rest)
    interval = a.case.care.interval_years
    found, depth = [PlanView(-1.0, "Now", roots.depth_mm, 0.0, 0, 0.0)], roots.depth_mm
    years = {round(k * interval, 3) for k in range(len(taken))} | (
        set(repotting_years(plan)) if plan is not None else set()
    )
    for year in sorted(years):
        nth = round(year / interval)
        mm = off[nth] if nth < len(off) else 0.0
        depth -= mm
        share = (
            plan.shares[nth] if plan is not None and nth < len(plan.shares) else taken[nth] if nth < len(taken) else 0.0
        )
        cut = sum(s.year == year and s.action != "keep" for s in plan.steps) if plan is not None else 0
        found.append(
            PlanView(year, "After it" if year == 0 else f"In {today.year + round(year)}", depth, mm, cut, share)
        )
    return tuple(found)
