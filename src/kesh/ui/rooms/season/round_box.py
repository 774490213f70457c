"""The weekly round: tree by tree, is the far side of the pot wet, pests, leaf colour, light; a word where something is wrong."""

from datetime import timedelta
from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QLineEdit, QPushButton, QVBoxLayout, QWidget

from kesh.advice.season.book import Book
from kesh.base.errors import KeshError
from kesh.desk.log import written
from kesh.ui.session import Session
from kesh.ui.widgets.common import SectionHead, button, quiet

CHECKS = (
    ("far side wet", "the far side is dry"),
    ("no pests", "pests"),
    ("leaf colour right", "leaf colour is off"),
    ("light enough", "too little or too much light"),
)
WEEK = timedelta(days=7)


def looked_at(book: Book) -> list[str]:
    """Trees looked at within the last week."""
    since = book.today - WEEK
    return [
        t for t in book.c.trees if any(e.kind == "round" and since < e.date <= book.today for e in book.c.events_of(t))
    ]


class RoundBox(QWidget):
    """One line until somebody begins; then one tree after the other."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.tree = ""
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(3)
        self.head, self.told = SectionHead(session, "Round"), quiet("")
        column.addWidget(self.head)
        column.addWidget(self.told)
        self.checks: list[QPushButton] = []
        self.rows = QWidget()
        grid = QVBoxLayout(self.rows)
        grid.setContentsMargins(0, 0, 0, 0)
        grid.setSpacing(3)
        for n in range(0, len(CHECKS), 2):
            line = QHBoxLayout()
            line.setSpacing(4)
            for good, _ in CHECKS[n : n + 2]:
                made = QPushButton(good)
                made.setCheckable(True)
                made.setChecked(True)
                self.checks.append(made)
                line.addWidget(made, 1)
            grid.addLayout(line)
        self.note = QLineEdit()
        self.note.setPlaceholderText("a word, where something is wrong")
        self.note.setAccessibleName("A word on this tree")
        self.note.returnPressed.connect(self.looked)
        grid.addWidget(self.note)
        line = QHBoxLayout()
        self.next = button("Looked at: next tree", self.looked)
        line.addWidget(self.next)
        line.addWidget(button("Stop here", self.stop, link=True))
        line.addStretch(1)
        grid.addLayout(line)
        column.addWidget(self.rows)
        self.begin = button("Begin the round", self._begin, link=True)
        column.addWidget(self.begin)
        for made, (good, bad) in zip(self.checks, CHECKS, strict=True):
            made.toggled.connect(partial(self._name, made, good, bad))
        self.rows.hide()

    @staticmethod
    def _name(made: QPushButton, good: str, bad: str, on: bool) -> None:
        made.setText(good if on else bad)

    def show_book(self, book: Book) -> None:
        """How far this week's round is."""
        done, of = len(looked_at(book)), len(book.c.trees)
        self.setVisible(of > 0)
        self.head.set_note(f"{done} of {of} within a week")
        if self.tree and self.tree not in book.c.trees:
            self.stop()
        name = book.c.trees[self.tree].name if self.tree else ""
        bad = [
            e
            for t in book.c.trees
            for e in book.c.events_of(t)[-3:]
            if e.kind == "round" and e.text and (book.today - e.date) < WEEK
        ]
        worst = f"Last word: {book.c.trees[bad[-1].tree].name}, {bad[-1].text}" if bad else ""
        self.told.setText(name if name else worst)
        self.told.setVisible(bool(name or worst))
        self.begin.setVisible(not self.tree and done < of)

    def _begin(self) -> None:
        self._go_on()

    def _go_on(self) -> None:
        book = self._session.book()
        seen = set(looked_at(book))
        self.tree = next((t for t in book.c.trees if t not in seen), "")
        self.rows.setVisible(bool(self.tree))
        for made in self.checks:
            made.setChecked(True)
        self.note.clear()
        self.show_book(book)
        if not self.tree:
            self._session.said.emit("fits", "The round is done: every tree was looked at this week")

    def looked(self) -> None:
        """Write the tree in hand down and go on."""
        if not self.tree:
            return
        bad = [b for made, (_, b) in zip(self.checks, CHECKS, strict=True) if not made.isChecked()]
        text = "; ".join([*bad, *([self.note.text().strip()] if self.note.text().strip() else [])])
        s = self._session
        try:
            changes = written(s.collection, self.tree, "round", s.today, text)
        except KeshError as err:
            s.said.emit("no", str(err))
            return
        if s.edit("Looked at on the round", changes):
            self._go_on()

    def stop(self) -> None:
        """Leave it for now; what was written stays."""
        self.tree = ""
        self.rows.hide()
        self.show_book(self._session.book())
