"""What a hand does with a task, in whichever room it lies: answered, done, left out, laid for a day. Each is one step that undo takes back."""

from collections.abc import Callable
from datetime import date

from kesh.advice.season.asking import ANSWERS
from kesh.advice.season.season_findings import task_by_id
from kesh.base.errors import KeshError
from kesh.desk.season import done, left_out, moved_to, with_answer
from kesh.model import Task
from kesh.store.collection_file import Change
from kesh.ui.rooms.room import Context
from kesh.ui.widgets.task_box import TaskBox


class TaskHands:
    """Joined to a room's task box. `laid` is called with a task that was laid for another day."""

    def __init__(self, context: Context, box: TaskBox, laid: Callable[[str], object] | None = None) -> None:
        self._context, self._session, self._laid = context, context.session, laid
        box.answered.connect(self.answer)
        box.finished.connect(self.finish)
        box.left_out.connect(self.leave_out)
        box.laid.connect(self.lay)

    def task(self, key: str) -> Task | None:
        """A task of the season's book."""
        return task_by_id(self._session.book(), key)

    def _edit(self, task: Task, what: str, make: Callable[[], list[Change]]) -> bool:
        name = self._session.collection.trees[task.tree].name
        try:
            changes = make()
        except KeshError as err:
            self._context.say("no", str(err))
            return False
        return self._session.edit(f"{name}: {what}", changes)

    def lay(self, key: str, day: date) -> None:
        """Lay a job for a day."""
        task = self.task(key)
        if (
            task is not None
            and self._edit(task, f"laid for {day:%-d %b}", lambda: moved_to(task, day, self._session.today))
            and self._laid
        ):
            self._laid(key)

    def finish(self, key: str) -> None:
        """A job is done; a repotting is written down where it is planned, with its figures, pots and aftercare."""
        task, s = self.task(key), self._session
        if task is None:
            return
        if task.kind == "repot":
            s.choose_tree(task.tree)
            self._context.go("planting")
            self._context.say("unknown", "It is written down here, with what was planned: Ctrl+Alt+L, or at the bench")
        elif self._edit(task, "done", lambda: done(s.collection, task, s.today)):
            self._context.say(
                "fits", f"{s.collection.trees[task.tree].name}: done, and in its log; Ctrl+Z brings it back"
            )

    def answer(self, key: str, answer: str) -> None:
        """What was seen of the sign that is asked."""
        task, said = self.task(key), next((k for k, _ in ANSWERS if k == answer), None)
        if task is not None and said is not None:
            s = self._session
            self._edit(task, said.replace("_", " "), lambda: with_answer(s.collection, task, said, s.today))

    def leave_out(self, key: str, reason: str) -> None:
        """Skipped, with the words why."""
        task = self.task(key)
        if task is not None:
            self._edit(task, "left out", lambda: left_out(task, reason, self._session.today))
