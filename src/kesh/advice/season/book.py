"""The season's book of a whole collection on a day: its facts, and every task, worked out from events and answers."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from kesh.advice.season.asking import CLOSED, after, closer_looks, state_on
from kesh.advice.season.facts import Facts
from kesh.advice.season.tasks import worked_out
from kesh.base.once import once
from kesh.model import Task
from kesh.science.season.days import later

# which entries of the log close a task of a kind, by whatever door they came in
CLOSED_BY: Mapping[str, frozenset[str]] = {
    "repot": frozenset({"repotted"}),
    "root_stage": frozenset({"repotted", "root_work"}),
    "leave_interim": frozenset({"repotted"}),
    "prune": frozenset({"pruned"}),
    "wire": frozenset({"wired"}),
    "bend": frozenset({"wired"}),
    "defoliate": frozenset({"defoliated"}),
}
# a job may be done some days before its window, and some after it; of what comes every season only the near one is meant
EARLY_DAYS, LATE_DAYS = 45, 90


@dataclass(frozen=True)
class Book(Facts):
    """Facts and tasks of a collection on a day."""

    @once
    def tasks(self) -> tuple[Task, ...]:
        """Every task as its answers leave it, open and closed, by its days."""
        found: dict[str, Task] = {}
        pending = [(t, self.answers.get(t.id, ())) for t in worked_out(self)]
        worked = {t.id for t, _ in pending}
        # a task of the user's own, or one that came in with a list, stands by itself: its state is its first answer
        pending += [(t, self.said.get(t.id, ())) for t in self.written.values() if t.id not in worked]
        for task, answers in pending:
            found[task.id] = self._closed_by_log(after(task, answers))
            for look in closer_looks(task, answers):
                found.setdefault(look.id, after(look, self.answers.get(look.id, ())))
        if (self.u.heat, self.u.wind_in) != ("C", "m/s"):
            found = {key: self._in_units(task) for key, task in found.items()}
        return tuple(
            sorted(found.values(), key=lambda t: (t.from_ or date.max, t.to or date.max, t.tree, t.kind, t.id))
        )

    def _in_units(self, task: Task) -> Task:
        """A task with temperatures and winds in the reader's units; one of the user's own words stays as it was written."""
        if task.id in self.written:
            return task
        told = {name: self.u.told(getattr(task, name)) for name in ("text", "why", "sign")}
        return task.model_copy(update=told)

    def _closed_by_log(self, task: Task) -> Task:
        """A job that is in the log is done; steps after a repotting end with the next one."""
        if task.state in CLOSED:
            return task
        if task.event is not None and (ended := self.ended_by(task.tree, task.event)) is not None:
            return task.model_copy(update={"state": "skipped", "asked": ended, "note": "It was repotted again."})
        kinds, begins = CLOSED_BY.get(task.kind, frozenset()), task.from_ or task.day
        if not kinds or begins is None:
            return task
        first, last = later(begins, -EARLY_DAYS if task.kind == "repot" else 0), later(task.to or begins, LATE_DAYS)
        done = [e.date for e in self.c.events_of(task.tree) if e.kind in kinds and first <= e.date and (task.kind == "repot" or e.date <= last)]  # fmt: skip
        return task.model_copy(update={"state": "done", "asked": min(done)}) if done else task

    def state(self, task: Task) -> str:
        """What a task is today."""
        return state_on(task, self.today)

    def open_tasks(self, first: date | None = None, last: date | None = None) -> tuple[Task, ...]:
        """Tasks that are not closed and lie, at least in part, within days; those that wait for a sign only without days."""
        return tuple(t for t in self.tasks if t.state not in CLOSED and _within(t, first, last))

    @once
    def tasks_of(self) -> Mapping[str, tuple[Task, ...]]:
        """All tasks by tree."""
        found: dict[str, list[Task]] = {}
        for task in self.tasks:
            found.setdefault(task.tree, []).append(task)
        return {tree: tuple(rows) for tree, rows in found.items()}

    def asked(self, tree: str | None = None) -> tuple[Task, ...]:
        """Open tasks whose day has come: has the sign come?"""
        rows = self.tasks if tree is None else self.tasks_of.get(tree, ())
        return tuple(t for t in rows if self.state(t) == "asked")


# where a task comes from, by the beginning of its key
SOURCES = (
    ("own-", "own"), ("repot-", "window"), ("feed-", "feeding"), ("look_closer-", "answer"), ("interim-", "planting"), ("tie-", "planting"),
    ("holding-", "planting"), ("stage-", "planting"), ("tube-", "planting"), ("order-", "order"), ("new-", "arrival"), ("in-", "weather"),
    ("out-", "weather"), ("rain-", "weather"), ("heat-", "weather"), ("frost-", "weather"),
)  # fmt: skip


def source_of(task: Task) -> str:
    """Where a task comes from: window, repotting, feeding, planting, order, arrival, weather, answer, own or list."""
    if task.id.startswith("look_closer-"):
        return "answer"
    if task.event is not None:
        return "repotting"
    return next((source for begins, source in SOURCES if task.id.startswith(begins)), "list")


def _within(task: Task, first: date | None, last: date | None) -> bool:
    if task.from_ is None and task.to is None and task.day is None:
        return first is None and last is None
    begins, ends = task.day or task.from_ or task.to, task.to or task.day or task.from_
    assert begins is not None
    assert ends is not None
    return (last is None or begins <= last) and (first is None or ends >= first)
