"""The work at the bench without a window: which step, how long the roots lie bare, and what each key changes."""

from dataclasses import dataclass
from datetime import datetime
from itertools import pairwise

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.rehearsal import stops
from kesh.advice.planting.steps.step import WorkStep
from kesh.base.errors import FieldError
from kesh.model import Planting, Work
from kesh.model.work import DoneStep
from kesh.science.roots.clock import Prompts, prompts
from kesh.science.season.season import year_at

STOP, READY = "stops", "ready"


def begin(plan: PlantingPlan, planting: Planting, planned: tuple[tuple[str, float], ...], now: datetime) -> Work:
    """Work on one tree, nothing done yet."""
    return Work(id=plan.a.case.tree.id, pot=plan.a.pot.id, planting=planting.id, begun=now, planned=planned)


def pages(plan: PlantingPlan) -> tuple[WorkStep, ...]:
    """What is shown one after another: what stops the work where something does, what must lie ready, then every step."""
    found: list[WorkStep] = []
    held = stops(plan.a)
    if held:
        lines = tuple(f"{f.text} {f.remedy}".strip() for f in held)
        found.append(WorkStep(STOP, "stop", "Read this before you lift", str(len(held)), "said no", lines, "lift"))
    short = [r for r in plan.ready if r.status != "fits"]
    counted = [r for r in plan.ready if r.need is not None]
    title = (
        f"{len(short)} things are missing"
        if len(short) > 1
        else "One thing is missing"
        if short
        else "All that must lie ready"
    )
    lines = tuple(r.short_words for r in short) or tuple(f"{r.words}: {r.need_words}" for r in counted)
    tools = ", ".join(r.words.lower() for r in plan.ready if r.need is None)
    found.append(
        WorkStep(
            READY,
            "ready",
            title,
            str(len(short)) if short else "",
            "to get first" if short else "",
            (*lines, tools[:1].upper() + tools[1:] + "."),
            "soil",
        )
    )
    return (*found, *plan.steps)


def at_page(work: Work, shown: tuple[WorkStep, ...]) -> int:
    """Which page is open: the first that is not done; their number when all are."""
    done = {d.step for d in work.done}
    return next((n for n, s in enumerate(shown) if s.key not in done), len(shown))


# --- the clock


def _since(start: datetime | None, now: datetime) -> float:
    """Seconds since a moment; a clock that was set back counts nothing rather than less."""
    return 0.0 if start is None else max((now - start).total_seconds(), 0.0)


# a longer gap between two keys is a rest: the night between two days at one tree is no work [J]
REST_MIN = 180.0


def worked_minutes(work: Work, now: datetime) -> float:
    """Minutes with hands on it, from the first key to now; rests, and a clock that was set back, count nothing."""
    stamps = sorted([work.begun, *(d.at for d in work.done), now])
    gaps = [(b - a).total_seconds() / 60 for a, b in pairwise(stamps)]
    return sum(g for g in gaps if 0 <= g <= REST_MIN)


def bare_seconds(work: Work, now: datetime) -> float:
    """How long the roots have lain bare in all."""
    return work.bare_before_s + _since(work.bare_since, now)


def dry_seconds(work: Work, now: datetime) -> float:
    """How long since they were last wet: misted, or out of the water."""
    if work.bare_since is None:
        return work.dry_before_s if not work.in_water else 0.0
    wet = work.misted_at if work.misted_at is not None and work.misted_at > work.bare_since else work.bare_since
    return (work.dry_before_s if wet == work.bare_since else 0.0) + _since(wet, now)


def running(work: Work) -> bool:
    """Whether roots lie bare now, or rest in water."""
    return work.bare_since is not None or work.in_water


@dataclass(frozen=True)
class Clock:
    """What the clock tells: minutes bare in all, minutes since wet, when to mist and to cover, and what to do now."""

    bare_min: float
    dry_min: float
    prompts: Prompts
    in_water: bool
    runs: bool

    @property
    def due(self) -> str:
        """mist, cover or nothing."""
        if not self.runs or self.in_water or self.prompts.mist_min is None:
            return ""
        if self.prompts.cover_min is not None and self.dry_min >= self.prompts.cover_min:
            return "cover"
        return "mist" if self.dry_min >= self.prompts.mist_min else ""


def clock(work: Work, plan: PlantingPlan, now: datetime) -> Clock:
    """The clock now, by species and heat."""
    year = year_at(plan.a.case.site, *plan.a.case.own.housed)
    air = None if year is None else year.mean_on(plan.a.case.day)
    told = prompts(plan.a.case.species, air, warm=work.warm, windy=work.windy)
    return Clock(bare_seconds(work, now) / 60, dry_seconds(work, now) / 60, told, work.in_water, running(work))


# --- keys


def step_done(work: Work, step: WorkStep, now: datetime, note: str = "") -> Work:
    """A step is done: the clock starts or ends with it. Raises FieldError."""
    fields: dict[str, object] = {"done": (*work.done, DoneStep(step=step.key, at=now, note=note))}
    if step.clock == "start" and not running(work):
        fields |= {"bare_since": now, "misted_at": None, "dry_before_s": 0.0, "in_water": False}
    elif step.clock == "end":
        fields |= {"bare_before_s": bare_seconds(work, now), "bare_since": None, "in_water": False, "dry_before_s": 0.0}
    return work.changed(**fields)


def step_back(work: Work, shown: tuple[WorkStep, ...], now: datetime) -> Work:
    """The last step that was done is open again, and the clock as it was before it. Raises FieldError."""
    if not work.done:
        raise FieldError("work", "this is the first step")
    last = work.done[-1].step
    fields: dict[str, object] = {"done": work.done[:-1]}
    step = next((s for s in shown if s.key == last), None)
    if step is not None and step.clock == "start":
        fields |= {"bare_since": None, "bare_before_s": 0.0, "dry_before_s": 0.0, "misted_at": None, "in_water": False}
    elif step is not None and step.clock == "end":
        fields |= {"bare_since": now}
    return work.changed(**fields)


def misted(work: Work, now: datetime) -> Work:
    """Roots were misted: the prompt counts anew. Raises FieldError."""
    if work.bare_since is None:
        raise FieldError("mist", "the roots are not bare now")
    return work.changed(misted_at=now, dry_before_s=0.0)


def in_or_out_of_water(work: Work, now: datetime) -> Work:
    """Roots rest in water, and the clock with them; once more and they are out again, wet. Raises FieldError."""
    if work.in_water:
        return work.changed(in_water=False, bare_since=now, misted_at=now, dry_before_s=0.0)
    if work.bare_since is None:
        raise FieldError("water", "the roots are not bare now")
    return work.changed(in_water=True, bare_before_s=bare_seconds(work, now), bare_since=None, dry_before_s=0.0)


def noted(work: Work, text: str) -> Work:
    """A note that was typed. Raises FieldError."""
    told = text.strip()
    return work if not told else work.changed(notes=(*work.notes, told))


def ticked(work: Work, key: str) -> Work:
    """A finish test, or what was read, ticked or not. Raises FieldError."""
    tests = tuple(t for t in work.tests if t != key) if key in work.tests else (*work.tests, key)
    return work.changed(tests=tests)


def read(work: Work, step: WorkStep) -> bool:
    """Whether the cautions of a step were read and taken on."""
    return not (step.cautions or step.key == STOP) or f"read-{step.key}" in work.ready


def taken_on(work: Work, step: WorkStep) -> Work:
    """The cautions of a step are read; that stands in the record. Raises FieldError."""
    return work.changed(ready=(*work.ready, f"read-{step.key}"))
