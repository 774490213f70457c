"""A task of the user's own: what it is, between which days, in which words, and what ends it."""

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from kesh.advice.season.kinds import BY_HAND, TASK_KINDS
from kesh.base.errors import KeshError
from kesh.desk.log import read_day
from kesh.model import Task
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice


class OwnTaskBox(QWidget):
    """Hidden for tasks that follow from records; each field is written when it is left."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.task: Task | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 0)
        column.setSpacing(3)
        self.kind = Choice({key: TASK_KINDS[key].words for key in BY_HAND}, "What is to be done")
        self.kind.chosen.connect(lambda key: self._write(kind=key))
        self.first, self.last, self.text, self.sign = QLineEdit(), QLineEdit(), QLineEdit(), QLineEdit()
        days = QHBoxLayout()
        days.setSpacing(6)
        for field, name in ((self.first, "From"), (self.last, "To")):
            field.setAccessibleName(name)
            field.setPlaceholderText(name.lower())
            field.setMinimumWidth(fonts.scaled(90))
            field.editingFinished.connect(self._days)
            days.addWidget(field)
        for field, name in ((self.text, "In a few words"), (self.sign, "It ends when …")):
            field.setAccessibleName(name)
            field.setPlaceholderText(name)
        self.text.editingFinished.connect(lambda: self._write(text=self.text.text().strip()))
        self.sign.editingFinished.connect(lambda: self._write(sign=self.sign.text().strip()))
        column.addWidget(self.kind)
        column.addLayout(days)
        column.addWidget(self.text)
        column.addWidget(self.sign)
        self.hide()

    def show_task(self, task: Task | None) -> None:
        """Show a task; only the user's own can be changed here."""
        own = task is not None and task.id.startswith("own-")
        self.task = task if own else None
        self.setVisible(own)
        if task is None or not own:
            return
        self.kind.show_key(task.kind)
        for field, told in ((self.first, task.from_), (self.last, task.to)):
            if not field.hasFocus():
                field.setText(told.isoformat() if told is not None else "")
        for words, text in ((self.text, task.text), (self.sign, task.sign)):
            if not words.hasFocus():
                words.setText(text)

    def _days(self) -> None:
        if self.task is None:
            return
        try:
            first, last = (read_day(f.text(), self._session.today, ahead=True) for f in (self.first, self.last))
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        if last < first:
            self._session.said.emit("no", "It would end before it begins; the days are kept as they were")
            return
        self._write(**{"from_": first, "to": last})

    def _write(self, **fields: object) -> None:
        # as it was written, without what was said of it since
        task = next((t for t in self._session.collection.tasks if self.task is not None and t.id == self.task.id), None)
        if task is None or all(getattr(task, k) == v for k, v in fields.items()):
            return
        try:
            after = task.changed(**fields)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        self._session.edit("Task changed", [("task", task.id, after)])
