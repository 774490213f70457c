"""Findings under the three answers they belong to, the gravest answer first; those that fit fold behind a count."""

from PyQt6.QtCore import QLineF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from kesh.advice.answers import answers_of, question_of
from kesh.advice.assess import Finding
from kesh.base.status import gravest_first, gravity
from kesh.ui.paint.answer_marks import QUESTION_WORDS, answer_mark
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import FindingRow, SectionHead, button

GROUPS = QUESTION_WORDS | {"record": "As entered"}


class AnswerHead(QWidget):
    """The sign of an answer, its name on a hairline, and how many of its findings want an eye."""

    def __init__(self, session: Session, question: str) -> None:
        super().__init__()
        self._session, self.question = session, question
        self.status, self._note = "fits", ""
        self.refit()

    def refit(self) -> None:
        """Follow the text size."""
        self.setFixedHeight(fonts.scaled(28))

    def show_answer(self, status: str, note: str) -> None:
        """Another answer."""
        self.refit()
        if (status, note) != (self.status, self._note):
            self.status, self._note = status, note
            self.update()
        self.setAccessibleName(f"{GROUPS[self.question]}: {status}, {note}")

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        base, left = self.height() - 9, 0.0
        if self.question != "record":
            size = fonts.scaled(15)
            answer_mark(painter, t, self.question, self.status, size / 2 + 1, base - fonts.scaled(5), size)
            left = size + fonts.scaled(9)
        painter.setFont(fonts.book(16, bold=True))
        painter.setPen(t.color("ink"))
        painter.drawText(int(left), base, GROUPS[self.question])
        painter.setFont(fonts.text(13))
        painter.setPen(t.color("quiet"))
        side = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom
        painter.drawText(QRectF(0, 0, self.width(), base + 4), side, self._note)
        painter.setPen(QPen(t.color("edge"), 1))
        painter.drawLine(QLineF(0, self.height() - 3.5, self.width(), self.height() - 3.5))


class FindingList(QWidget):
    """Findings grouped under their answers; one head alone where all belong to one."""

    asked = pyqtSignal(object)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(2)
        self.head = SectionHead(session, "Findings")
        self.heads = {question: AnswerHead(session, question) for question in GROUPS}
        self.rows: list[FindingRow] = []
        self._all = False
        self._shown: tuple[tuple[Finding, ...], str, bool] | None = None
        self._more = button("", self._toggle, link=True)
        self._column.addWidget(self.head)
        for head in self.heads.values():
            self._column.addWidget(head)
            head.hide()
        self._column.addWidget(self._more)

    def show_findings(self, findings: tuple[Finding, ...]) -> None:
        """Show findings; nothing is rebuilt when they are the same."""
        key = (findings, f"{self._session.theme.name}/{fonts.scaled(100)}", self._all)
        if key == self._shown:
            return
        self._shown = key
        groups = self._grouped(findings)
        listed = [f for _, rows in groups for f in rows if self._all or f.status != "fits"]
        self._fill(listed)
        self._order(groups)
        grave = sum(f.status != "fits" for f in findings)
        fits = len(findings) - grave
        self.head.set_note(f"{grave} of {len(findings)}" if grave else f"all {len(findings)} fit")
        self._more.setText(f"Hide the {fits} that fit" if self._all else f"Show the {fits} that fit")
        self._more.setVisible(fits > 0)

    @staticmethod
    def _grouped(findings: tuple[Finding, ...]) -> list[tuple[str, tuple[Finding, ...]]]:
        """(question, its findings), the gravest group first; what was entered comes last."""
        by: dict[str, list[Finding]] = {}
        for f in findings:
            by.setdefault(question_of(f.code), []).append(f)
        found = [(question, gravest_first(by[question])) for question in GROUPS if question in by]
        return sorted(found, key=lambda one: (one[0] == "record", min(gravity(f.status) for f in one[1])))

    def _fill(self, listed: list[Finding]) -> None:
        """As many rows as there are findings, each with its own."""
        for row, finding in zip(self.rows, listed, strict=False):
            row.show_finding(finding)
            row.refit()
        for old in self.rows[len(listed) :]:
            self._column.removeWidget(old)
            old.hide()
            old.deleteLater()
        self.rows = self.rows[: len(listed)]
        for finding in listed[len(self.rows) :]:
            made = FindingRow(self._session, finding)
            made.asked.connect(self.asked)
            self.rows.append(made)

    def _order(self, groups: list[tuple[str, tuple[Finding, ...]]]) -> None:
        """Heads and rows one under the other."""
        for head in self.heads.values():
            self._column.removeWidget(head)
            head.hide()
        rows, at = iter(self.rows), 1
        answers = dict(answers_of((f.code, f.status) for _, found in groups for f in found).each())
        for question, found in groups:
            shown = [f for f in found if self._all or f.status != "fits"]
            if len(groups) > 1:
                head, grave = self.heads[question], sum(f.status != "fits" for f in found)
                status = answers[question].status if question in answers else "fits"
                head.show_answer(status, f"{grave} of {len(found)} to see to" if grave else f"all {len(found)} fit")
                self._column.insertWidget(at, head)
                head.show()
                at += 1
            for _ in shown:
                row = next(rows)
                self._column.removeWidget(row)
                self._column.insertWidget(at, row)
                row.show()
                at += 1

    @property
    def findings(self) -> tuple[Finding, ...]:
        """What is shown, those that fold included."""
        return self._shown[0] if self._shown is not None else ()

    def _toggle(self) -> None:
        self._all = not self._all
        if self._shown is not None:
            self.show_findings(self._shown[0])
