"""The task in hand, wherever it is: its days, what moving it changes, what was seen, and what is done with it."""

from datetime import date
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from kesh.advice.season.asking import ANSWERS
from kesh.advice.season.book import Book
from kesh.advice.season.kinds import kind_of
from kesh.advice.season.weekends import Job, moved_words
from kesh.model import Task
from kesh.science.season.days import later
from kesh.science.season.season import day_words
from kesh.ui.session import Session
from kesh.ui.widgets.common import SectionHead, button, quiet


class TaskBox(QWidget):
    """The task in hand: its days, what moving it changes, and what can be said of it."""

    answered = pyqtSignal(str, str)
    finished = pyqtSignal(str)
    left_out = pyqtSignal(str, str)
    laid = pyqtSignal(str, object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.task: Task | None = None
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self.head = SectionHead(session, "In hand")
        self.words, self.told, self.moving = quiet(""), quiet(""), quiet("")
        self.words.setProperty("quiet", False)
        for made in (self.head, self.words, self.told, self.moving):
            column.addWidget(made)
        self.days = QWidget()
        line = QHBoxLayout(self.days)
        line.setContentsMargins(0, 2, 0, 0)
        line.setSpacing(6)
        self.earlier = button("A week earlier", lambda: self._shift(-7))
        self.later = button("A week later", lambda: self._shift(7))
        line.addWidget(self.earlier)
        line.addWidget(self.later)
        column.addWidget(self.days)
        self.asks = QWidget()
        line = QHBoxLayout(self.asks)
        line.setContentsMargins(0, 2, 0, 0)
        line.setSpacing(6)
        self.answers: dict[str, QPushButton] = {}
        for key, text in ANSWERS:
            made_ = self.answers[key] = button(text, partial(self._say, key))
            line.addWidget(made_)
        column.addWidget(self.asks)
        self.ends = QWidget()
        line = QHBoxLayout(self.ends)
        line.setContentsMargins(0, 2, 0, 2)
        line.setSpacing(6)
        self.done = button("It is done", self._finish)
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("leave it out, because …")
        self.reason.setAccessibleName("Leave it out, because")
        self.reason.returnPressed.connect(self._skip)
        line.addWidget(self.done)
        line.addWidget(self.reason, 1)
        column.addWidget(self.ends)
        self.show_task(None, None, None)

    def show_task(self, book: Book | None, task: Task | None, job: Job | None) -> None:
        """Show a task; none hides the box."""
        other = task is None or self.task is None or task.id != self.task.id
        self.task = task
        self.setVisible(task is not None)
        if book is None or task is None:
            return
        kind, name = kind_of(task.kind), book.c.trees[task.tree].name
        self.head.set_text(name)
        self.head.set_note(
            {"asked": "has the sign come?", "extended": "extended"}.get(book.state(task), book.state(task))
        )
        self.words.setText(
            f"{kind.words}. {task.text}" if task.text and task.text.rstrip(".") != kind.words else f"{kind.words}."
        )
        days = f"{day_words(task.from_)} to {day_words(task.to)}" if task.from_ and task.to else "no day until its sign"
        laid = f", laid for {job.day:%a} {day_words(job.day)}" if job is not None else ""
        why = f"\nWhy: {task.why.rstrip('.')}." if task.why else ""
        school = "" if task.school == "common" else f" ({task.school})"
        self.told.setText(
            f"{days}{laid}{school}"
            + (f"\n{'Look for' if kind.sort == 'work' else 'Ends when'}: {task.sign}" if task.sign else "")
            + why
        )
        self.days.setVisible(job is not None)
        work = kind.sort == "work"
        self.asks.setVisible(not work and task.from_ is not None and task.from_ <= book.today)
        self.ends.setVisible(True)
        # a sign that has come ends a step of care; a job is done
        self.done.setVisible(self.asks.isHidden())
        self.show_move(book, job.day if job is not None else None)
        if other:
            self.reason.clear()

    def show_move(self, book: Book, day: date | None) -> None:
        """What the day means, while it is moved."""
        if self.task is None or day is None:
            self.moving.setText("")
            return
        moved = moved_words(book, self.task, day)
        self._day = day
        self.moving.setText(f"{day:%A} {day_words(day)}: {moved.words}.")

    def _shift(self, days: int) -> None:
        if self.task is not None and hasattr(self, "_day"):
            self.laid.emit(self.task.id, later(self._day, days))

    def _finish(self) -> None:
        if self.task is not None:
            self.finished.emit(self.task.id)

    def _say(self, key: str) -> None:
        if self.task is not None:
            self.answered.emit(self.task.id, key)

    def _skip(self) -> None:
        reason = self.reason.text().strip()
        if self.task is None:
            return
        if not reason:
            self._session.said.emit("no", "Say in a few words why it is left out; the log keeps them.")
            return
        self.left_out.emit(self.task.id, reason)
