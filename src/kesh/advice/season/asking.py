"""What a task is on a day, and what answers make of it. A task is worked out anew each time; only what was said of it is kept."""

import hashlib
from collections.abc import Iterable
from datetime import date
from typing import Literal

from kesh.model import Answer, Task
from kesh.science.season.days import later

Sign = Literal["yes", "not_yet", "worse"]
ANSWERS: tuple[tuple[Sign, str], ...] = (("yes", "Yes"), ("not_yet", "Not yet"), ("worse", "Worse"))
MOST_TIMES, LOOK_DAYS = 2, 7
CLOSED = frozenset({"done", "skipped"})
# of what was said on one day: what moves a task before what ends it
_FIRST = ("moved", "not_yet", "worse", "left_out", "yes")
MOST_KEY = 200


def state_on(task: Task, day: date) -> str:
    """waiting, running, asked, extended, done or skipped. A task is asked from its last day on."""
    if task.state in CLOSED:
        return task.state
    if task.from_ is None or day < task.from_:
        return "waiting"
    if task.to is not None and day >= task.to:
        return "asked"
    return "extended" if task.times else "running"


def answer_to(task: Task, said: str, day: date, **more: object) -> Answer:
    """An answer as a record. The same said of the same task on the same day is the same answer. Raises FieldError."""
    return Answer.made(id=_key(task.id, said, day), task=task.id, tree=task.tree, day=day, said=said, **more)


def _key(task: str, said: str, day: date) -> str:
    # a task is laid for one day: the last move stands
    end = f"/{said}" if said == "moved" else f"/{said}/{day:%Y%m%d}"
    if len(task) + len(end) <= MOST_KEY:
        return task + end
    return f"{hashlib.sha256(task.encode()).hexdigest()[:40]}{end}"


def told(answers: Iterable[Answer]) -> tuple[Answer, ...]:
    """Answers in the order in which they were said, whatever order they came in."""
    return tuple(sorted(answers, key=lambda a: (a.day, _FIRST.index(a.said), a.id)))


def first_length_days(task: Task) -> int:
    """How long a step is meant to take before any answer."""
    return 0 if task.from_ is None or task.to is None else (task.to - task.from_).days


def after(task: Task, answers: Iterable[Answer]) -> Task:
    """A task as its answers leave it.

    Yes ends it. Not yet adds half the first interval from the day it is said, twice at most; then somebody has to look
    closer. Worse opens that look at once and leaves the step running.
    """
    half = max((first_length_days(task) + 1) // 2, 1)
    state, asked, day, times, to, note, minutes = (
        task.state,
        task.asked,
        task.day,
        task.times,
        task.to,
        task.note,
        task.minutes,
    )
    for a in told(answers):
        if state in CLOSED:
            break
        if a.said == "moved":
            day = a.to
            continue
        asked, note = a.day, a.note or note
        base = max(to or a.day, a.day)
        if a.said == "yes":
            state, minutes = "done", a.minutes if a.minutes is not None else minutes
        elif a.said == "left_out":
            state = "skipped"
        elif a.said == "worse":
            state, to = "extended", max(base, later(a.day, LOOK_DAYS))
        elif times >= MOST_TIMES:
            state, to = "extended", later(a.day, LOOK_DAYS)
        else:
            state, times, to = "extended", times + 1, later(base, half)
    return task.model_copy(
        update={"state": state, "asked": asked, "day": day, "times": times, "to": to, "note": note, "minutes": minutes}
    )


def closer_looks(task: Task, answers: Iterable[Answer]) -> tuple[Task, ...]:
    """What follows from answers: a closer look for what got worse, and for a sign that did not come in twice the time."""
    found, times = [], task.times
    for a in told(answers):
        if a.said in ("yes", "left_out"):
            break
        late = a.said == "not_yet" and times >= MOST_TIMES
        times += a.said == "not_yet"
        if a.said != "worse" and not late:
            continue
        found.append(Task.made(
            id=f"look_closer-{task.id}-{a.day:%Y%m%d}"[:MOST_KEY], tree=task.tree, kind="look_closer", to=later(a.day, LOOK_DAYS), sign=task.sign,
            event=task.event, school=task.school, **{"from": a.day},
            why=f"{task.kind.replace('_', ' ')}: " + ("it got worse." if a.said == "worse" else "the sign did not come in twice the time."),
            text="Lift the pot and smell it, look at a drain hole and at tips and buds; move it out of sun and wind until you know.",
        ))  # fmt: skip
    return tuple(found)


def occurrence_of(task: Task) -> str | None:
    """The key that a feed or a turn of the weather has today, of a task as older files wrote it down; None for all others."""
    word = task.id.split("-")[0]
    if word not in OLD_KEYS or not task.id.startswith(f"{word}-{task.tree}-") or task.kind != OLD_KEYS[word]:
        return None
    end = task.id.removeprefix(f"{word}-{task.tree}-")
    if not end.isdigit() or len(end) < 4:
        return None
    return f"{task.id}-1" if word == "feed" else f"{word}-{task.tree}-1"


# what repeats had one key for a season or for each day of the forecast
OLD_KEYS = {
    "feed": "feed", "in": "bring_in", "out": "bring_out", "rain": "shelter_rain", "heat": "shade_heat", "frost": "frost_cover",
}  # fmt: skip


def as_answers(task: Task) -> tuple[Answer, ...]:
    """What a task that was written down whole, as older files hold them, says as answers to the one that is worked out."""
    day = task.asked or task.to or task.from_ or date(1970, 1, 1)
    found = []
    if task.day is not None:
        found.append(answer_to(task, "moved", day, to=task.day))
    found += [
        Answer.made(id=f"{n}/{_key(task.id, 'not_yet', day)}"[:MOST_KEY], task=task.id, tree=task.tree, day=day, said="not_yet", note=task.note)
        for n in range(task.times)
    ]  # fmt: skip
    if task.state in CLOSED:
        said = "yes" if task.state == "done" else "left_out"
        found.append(answer_to(task, said, day, note=task.note, minutes=task.minutes))
    return tuple(found)
