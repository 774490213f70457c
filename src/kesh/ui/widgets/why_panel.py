"""Why a finding says what it says, and the artist's way to decide otherwise."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QLabel, QLineEdit, QWidget

from kesh.advice.assess import Assessment
from kesh.advice.why import why
from kesh.model import Override
from kesh.ui.session import Session
from kesh.ui.widgets.common import Panel, SectionHead, button, quiet, title


class WhyPanel(Panel):
    """One finding in full. Escape or the foot button leads back."""

    closed = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(session)
        self.code = ""
        self._made: list[QWidget] = []
        self.reason = QLineEdit()
        self.reason.setPlaceholderText("Why keep it all the same?")
        self.reason.setAccessibleName("Reason for deciding otherwise")
        self.reason.returnPressed.connect(self.override)
        self.keep = button("Keep it, with this reason", self.override)
        self.take_back = button("Take my decision back", self.judge_again, link=True)
        self.foot.setSpacing(6)
        self.foot.addWidget(self.reason)
        self.foot.addWidget(self.keep)
        self.foot.addWidget(self.take_back)
        self.foot.addWidget(button("Back to the findings", self.closed.emit, main=True, tip="Esc"))

    def show_finding(self, assessment: Assessment, code: str) -> bool:
        """Show one finding; False when it is not there."""
        found = why(assessment, code, self.session.units)
        if found is None:
            return False
        self.code = code
        for old in self._made:
            self.column.removeWidget(old)
            old.hide()
            old.deleteLater()
        self._made = [title(found.title), self._text(found.text)]
        self._made += [SectionHead(self.session, "Rule", found.source), self._text(found.rule)]
        if found.inputs:
            self._made.append(SectionHead(self.session, "Rests on"))
            self._made += [self._pair(name, value) for name, value in found.inputs]
        self._made += [SectionHead(self.session, "How sure", found.evidence), self._text(found.sure.capitalize() + ".")]
        if found.schools:
            self._made.append(SectionHead(self.session, "Schools"))
            self._made += [self._pair(name, value) for name, value in found.schools]
        if found.other:
            self._made += [SectionHead(self.session, "Others say"), self._text(found.other)]
        if found.override:
            self._made += [SectionHead(self.session, "Kept by the artist"), self._text(found.override)]
        self._made.append(quiet("Starting points; your tree and climate decide."))
        for widget in self._made:
            self.column.addWidget(widget)
        self.reason.setVisible(found.can_override)
        self.keep.setVisible(found.can_override)
        self.take_back.setVisible(bool(found.override))
        return True

    def _text(self, text: str) -> QLabel:
        label = QLabel(text)
        label.setWordWrap(True)
        return label

    def _pair(self, name: str, value: str) -> QLabel:
        label = QLabel(f"<span style='color:{self.session.theme.quiet}'>{name}:</span> {value}")
        label.setWordWrap(True)
        return label

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
