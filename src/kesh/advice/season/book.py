"""The season's book of a whole collection on a day: its facts, and every task, written down or worked out."""

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date

from kesh.advice.season.asking import CLOSED, state_on
from kesh.advice.season.facts import Facts
from kesh.advice.season.tasks import worked_out
from kesh.model import Task
from kesh.once import once


@dataclass(frozen=True)
class Book(Facts):
    """Facts and tasks of a collection on a day."""

    @once
    def tasks(self) -> tuple[Task, ...]:
        """Every task, written down or worked out; what is written wins over what would be worked out under its id."""
        written = {t.id: t for t in self.c.tasks if t.tree in self.c.trees}
        found = dict(written)
        for task in worked_out(self):
            found.setdefault(task.id, task)
        return tuple(
            sorted(found.values(), key=lambda t: (t.from_ or date.max, t.to or date.max, t.tree, t.kind, t.id))
        )

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


def _within(task: Task, first: date | None, last: date | None) -> bool:
    if task.from_ is None and task.to is None and task.day is None:
        return first is None and last is None
    begins, ends = task.day or task.from_ or task.to, task.to or task.day or task.from_
    assert begins is not None
    assert ends is not None
    return (last is None or begins <= last) and (first is None or ends >= first)
