"""Beside the log: write down, the entry in hand, aftercare that asks, strain, what is to be said."""

from PyQt6.QtCore import pyqtSignal

from kesh.advice.season.book import Book
from kesh.advice.season.life import Life
from kesh.advice.season.life_findings import life_findings
from kesh.base.errors import KeshError
from kesh.base.words import counted
from kesh.model import Event, Task
from kesh.ui.rooms.log.list_sheet import figure_words
from kesh.ui.rooms.log.strain_bar import StrainBar
from kesh.ui.rooms.log.views_box import SeasonViewsBox
from kesh.ui.rooms.log.write_box import EntryBox, WriteBox
from kesh.ui.session import Session
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, title
from kesh.ui.widgets.finding_list import FindingList
from kesh.ui.widgets.task_box import TaskBox


class LogPanel(Panel):
    """Reads a life; writes entries."""

    asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.head = title("Write down")
        self.entry, self.box = EntryBox(session), WriteBox(session)
        self.care_head, self.care_note, self.task = SectionHead(session, "Aftercare"), quiet(""), TaskBox(session)
        self.next = button("Next that asks", lambda: self.asked.emit(""), link=True)
        self.strain_head, self.strain = SectionHead(session, "Strain"), StrainBar(session)
        self.findings, self.views = FindingList(session), SeasonViewsBox(session)
        for made in (
            self.head, self.box, self.entry, self.care_head, self.care_note, self.task, self.next, self.strain_head, self.strain, self.findings, self.views,
        ):  # fmt: skip
            self.column.addWidget(made)
        self.write = button("Write it down", self._write, main=True, tip="Ctrl+Alt+W")
        self.foot.addWidget(self.write)

    def show_life(self, book: Book, life: Life | None, event: Event | None, task: Task | None) -> None:
        """Show a tree's log with what is in hand."""
        has = life is not None
        for part in (
            self.box,
            self.care_head,
            self.care_note,
            self.strain_head,
            self.strain,
            self.findings,
            self.views,
        ):
            part.setVisible(has)
        self.write.setEnabled(has)
        self.entry.show_event(event, figure_words(event) if event is not None else "")
        if life is None:
            self.head.setText("No tree yet")
            self.task.show_task(None, None, None)
            self.next.hide()
            return
        self.box.refresh()
        tree = life.tree.id
        asked = book.asked(tree)
        care = [
            t
            for t in book.tasks_of.get(tree, ())
            if book.state(t) in ("running", "extended", "asked") and t.event is not None
        ]
        self.care_head.set_note(f"{len(asked)} asked" if asked else counted(len(care), "step"))
        self.care_note.setText(
            ""
            if care or asked
            else "Nothing runs. After a repotting the steps stand here, and ask on their day whether the sign has come."
        )
        self.care_note.setVisible(not care and not asked)
        self.task.show_task(book if task is not None else None, task, None)
        self.next.setVisible(len(asked) > 1 or (len(care) > 1 and task is not None))
        ledger = book.ledger(tree)
        self.strain.show_ledger(ledger)
        self.strain_head.set_note(
            f"{100 * ledger.total:.0f} of {100 * ledger.limit:.0f}" + (", at least" if ledger.unknown else "")
        )
        self.findings.show_findings(life_findings(life))
        self.views.show_brief(book.brief(tree))
        self.views.show_planting(book.now.get(tree))

    def _write(self) -> None:
        try:
            label, changes = self.box.changes()
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if self.session.edit(label, changes):
            self.box.clear()
            self.session.said.emit("fits", f"Written down: {label}; Ctrl+Z takes it back")
