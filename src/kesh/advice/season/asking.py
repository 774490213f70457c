"""What a task is on a day, and what an answer to "has the sign come?" makes of it."""

from datetime import date
from typing import Literal

from kesh.model import Task
from kesh.science.days import later

Answer = Literal["yes", "not_yet", "worse"]
ANSWERS: tuple[tuple[Answer, str], ...] = (("yes", "Yes"), ("not_yet", "Not yet"), ("worse", "Worse"))
MOST_TIMES, LOOK_DAYS = 2, 7
CLOSED = frozenset({"done", "skipped"})


def state_on(task: Task, day: date) -> str:
    """waiting, running, asked, extended, done or skipped. A task is asked from its last day on."""
    if task.state in CLOSED:
        return task.state
    if task.from_ is None or day < task.from_:
        return "waiting"
    if task.to is not None and day >= task.to:
        return "asked"
    return "extended" if task.times else "running"


def first_length_days(task: Task) -> int:
    """How long a step was meant to take before it was extended; one extended to look closer is taken as it stands."""
    if task.from_ is None or task.to is None:
        return 0
    return round((task.to - task.from_).days / (1 + min(task.times, MOST_TIMES) / 2))


def answered(task: Task, answer: Answer, day: date) -> tuple[Task, Task | None]:
    """(the task after an answer, a task that follows from it). Raises FieldError.

    Yes ends it. Not yet adds half the first interval from the day it is answered, twice at most; then somebody has to look
    closer. Worse opens the look at once and leaves the step running.
    """
    if answer == "yes":
        return task.changed(state="done", asked=day), None
    closer = Task.made(
        id=f"look_closer-{task.id}-{day:%Y%m%d}"[:200], tree=task.tree, kind="look_closer", **{"from": day}, to=later(day, LOOK_DAYS),
        sign=task.sign, event=task.event, school=task.school,
        why=f"{task.kind.replace('_', ' ')}: " + ("it got worse." if answer == "worse" else "the sign did not come in twice the time."),
        text="Lift the pot and smell it, look at a drain hole and at tips and buds; move it out of sun and wind until you know.",
    )  # fmt: skip
    more = max((first_length_days(task) + 1) // 2, 1)
    base = max(task.to or day, day)
    if answer == "worse":
        return task.changed(state="extended", asked=day, to=max(base, later(day, LOOK_DAYS))), closer
    if task.times >= MOST_TIMES:
        return task.changed(state="extended", asked=day, to=later(day, LOOK_DAYS)), closer
    return task.changed(state="extended", asked=day, times=task.times + 1, to=later(base, more)), None


def skipped(task: Task, reason: str, day: date) -> Task:
    """Left out, with the words why. Raises FieldError."""
    return task.changed(state="skipped", asked=day, note=reason)
