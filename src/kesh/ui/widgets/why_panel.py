"""Why a finding says what it says, where what it rests on is changed, and the artist's way to decide otherwise."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from kesh.advice.assess import Assessment, Finding
from kesh.advice.lacks import lacking
from kesh.advice.why import Why, why
from kesh.model import Override
from kesh.ui.session import Session
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, title
from kesh.ui.widgets.lack_rows import LackRows

# what a click on a finding's remedy does, and its words
Remedy = tuple[str, Callable[[], None]]


class WhyPanel(Panel):
    """One finding in full. Escape or the foot button leads back."""

    closed = pyqtSignal()
    wanted = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.finding: Finding | None = None
        self.lacks: LackRows | None = None
        self._made: list[QWidget] = []
        self._remedy: Callable[[], None] | None = None
        self.mend = button("", self._mend, link=True)
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("Why keep it all the same?")
        self.reason.setAccessibleName("Reason for deciding otherwise")
        self.reason.returnPressed.connect(self.override)
        self.keep = button("Keep it, with this reason", self.override)
        self.take_back = button("Take my decision back", self.judge_again, link=True)
        self.foot.setSpacing(6)
        for made in (self.mend, self.reason, self.keep, self.take_back):
            self.foot.addWidget(made)
        self.foot.addWidget(button("Back to the findings", self.closed.emit, main=True, tip="Esc"))

    @property
    def code(self) -> str:
        """The code of the finding in sight; empty before the first."""
        return self.finding.code if self.finding is not None else ""

    def show_finding(
        self, assessment: Assessment | None, finding: Finding, rooms: dict[str, str], remedy: Remedy | None = None
    ) -> None:
        """Show one finding. `rooms` are the words of the rooms that can be gone to."""
        found = why(assessment, finding, self.session.units)
        assert found is not None
        self.finding = finding
        for old in self._made:
            self.column.removeWidget(old)
            old.hide()
            old.deleteLater()
        self._made = self._parts(found, rooms)
        lacks = lacking(assessment, finding.code, finding.status)
        self.lacks = (
            LackRows(self.session, lacks, assessment.pot if assessment is not None else None) if lacks else None
        )
        if self.lacks is not None:
            # what would settle it stands under the sentence that wants it
            self._made[2:2] = [SectionHead(self.session, "Tell it here"), self.lacks]
        for widget in self._made:
            self.column.addWidget(widget)
        self._remedy = remedy[1] if remedy is not None else None
        self.mend.setText(remedy[0] if remedy is not None else "")
        self.mend.setVisible(remedy is not None)
        self.reason.setVisible(found.can_override)
        self.keep.setVisible(found.can_override)
        self.take_back.setVisible(bool(found.override))

    def _parts(self, found: Why, rooms: dict[str, str]) -> list[QWidget]:
        made: list[QWidget] = [title(found.title), self._text(found.text)]
        made += [SectionHead(self.session, "Rule", found.source), self._text(found.rule)]
        places = [(words, room) for words, room in found.changed if room in rooms]
        if found.inputs or places:
            made.append(SectionHead(self.session, "Rests on"))
        made += [self._pair(name, value) for name, value in found.inputs]
        for words, room in places:
            made.append(button(f"{words}: {rooms[room]}", partial(self.wanted.emit, room), link=True))
        made += [SectionHead(self.session, "How sure", found.evidence), self._text(found.sure.capitalize() + ".")]
        if found.schools:
            made.append(SectionHead(self.session, "Schools"))
            made += [self._pair(name, value) for name, value in found.schools]
        if found.other:
            made += [SectionHead(self.session, "Others say"), self._text(found.other)]
        if found.override:
            made += [SectionHead(self.session, "Kept by the artist"), self._text(found.override)]
        return [*made, quiet("Starting points; your tree and climate decide.")]

    def _text(self, text: str) -> QLabel:
        label = QLabel(text)
        label.setWordWrap(True)
        return label

    def _pair(self, name: str, value: str) -> QLabel:
        label = QLabel(f"<span style='color:{self.session.theme.quiet}'>{name}:</span> {value.replace('<', '&lt;')}")
        label.setWordWrap(True)
        return label

    def _mend(self) -> None:
        do = self._remedy
        self.closed.emit()
        if do is not None:
            do()

    def override(self) -> None:
        """Decide otherwise; the reason is kept and shown wherever the finding is shown."""
        reason, tree = self.reason.text().strip(), self.session.tree_id
        if not reason:
            self.session.said.emit("watch", "Write the reason first; it stays with the tree")
            self.reason.setFocus()
            return
        record = Override(id=f"{tree}/{self.code}", tree=tree, code=self.code, reason=reason, date=self.session.today)
        self.reason.clear()
        self.session.edit(f"Kept against {self.code.replace('_', ' ')}", [("override", record.id, record)])

    def judge_again(self) -> None:
        """Take the decision back."""
        key = f"{self.session.tree_id}/{self.code}"
        self.session.edit("Decision taken back", [("override", key, None)])
