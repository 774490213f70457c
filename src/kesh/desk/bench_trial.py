"""A figure typed at the bench: a trial fit that changes the plan on the spot, or the soil that was really used."""

import re
from datetime import date, datetime

from kesh.advice.planting.plan import PlantingPlan
from kesh.advice.planting.trial import TrialFit, trial_fit, with_depth
from kesh.base.errors import FieldError
from kesh.model import Event, Planting, Work
from kesh.model.work import DoneStep
from kesh.store.collection_file import Change

TRY, SAW, COMB, FILL = "try", "saw", "comb", "fill"
# how `used_note` writes it; a note that somebody typed is left alone
USED = re.compile(r"used (\d+(?:\.\d+)?(?:e[+-]?\d+)?) l")


def tried(
    work: Work, plan: PlantingPlan, planting: Planting, stands_mm: float, today: date, now: datetime
) -> tuple[list[Change], TrialFit]:
    """The changes of one trial: the log's entry, the root mass it told, and what is open again.

    Too high: the bottom is cut again by as much. Too low: so much more mix lies under the roots. Raises FieldError.
    """
    found = trial_fit(plan.a, stands_mm)
    tree = plan.a.case.tree
    n = len(work.trials) + 1
    event = Event(
        id=f"trial-{tree.id}-{now:%Y%m%dT%H%M%S}-{n}", tree=tree.id, date=today, kind="trial_fit", pot=plan.a.pot.id,
        text=found.words(plan.u), figures=found.figures(),
    )  # fmt: skip
    changes: list[Change] = [("event", event.id, event)]
    done = work.done
    if found.seated:
        done = (*done, DoneStep(step=TRY, at=now))
    elif found.lower_by_mm > 0:
        changes.append(("tree", tree.id, with_depth(tree, found.depth_mm, today)))
        # what was taken off below is done again: by saw where the plan has one, else by comb
        again = SAW if any(step.key == SAW for step in plan.steps) else COMB
        done = tuple(d for d in done if d.step not in (TRY, again))
    else:
        under = plan.a.seat.base_mm - found.lower_by_mm
        changes.append(("planting", planting.id, planting.changed(base_layer_mm=round(under, 1))))
        done = (*done, DoneStep(step=TRY, at=now))
    changes.append(("work", work.id, work.changed(done=done, trials=(*work.trials, stands_mm))))
    return changes, found


def used_litres(work: Work) -> float | None:
    """What was written down as used when it was filled; None where nobody said."""
    for step in reversed(work.done):
        told = USED.fullmatch(step.note)
        if step.step == FILL and told is not None:
            return float(told[1])
    return None


def used_note(litres: float) -> str:
    """How the soil that was used is kept with the step. Raises FieldError for what no pot takes."""
    if not 0 < litres <= 2000:
        raise FieldError("litres", f"{litres:g} l went into no pot; type what was taken in all")
    return f"used {litres:g} l"
