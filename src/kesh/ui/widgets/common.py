"""Small parts of panels: titles, section heads, measure fields, findings."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QEvent, QLineF, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QKeyEvent, QPainter, QPaintEvent, QPen, QTextDocument
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from kesh.advice.answers import question_of
from kesh.advice.assess import Finding
from kesh.reference.explaining import meanings
from kesh.ui.paint.marks import status_mark
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE, STATUS_WORD


class Title(QLabel):
    """A panel's or sheet's title in the book face."""

    def __init__(self, text: str, px: float) -> None:
        super().__init__(text)
        self._px = px
        self.setWordWrap(True)
        self.refit()

    def refit(self) -> None:
        """Follow the text size."""
        self.setFont(fonts.book(self._px))
        self.setStyleSheet(f'font-family: "{fonts.BOOK}"; font-size: {fonts.scaled(self._px)}px;')


class WholeTitle(Title):
    """A title in one line that is shown whole: smaller where it must be, then in two lines."""

    LEAST_PX = 15.0

    def px_for(self, width: float) -> tuple[float, bool]:
        """(size of its letters, whether it takes two lines) in so much room."""
        for px in np.arange(self._px, self.LEAST_PX - 0.1, -1.0):
            if QFontMetricsF(fonts.book(float(px))).horizontalAdvance(self.text()) <= width:
                return float(px), False
        return self.LEAST_PX, True

    def minimumSizeHint(self) -> QSize:
        return QSize(0, super().minimumSizeHint().height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        px, two = self.px_for(self.width())
        painter.setFont(fonts.book(px))
        painter.setPen(self.palette().windowText().color())
        if not two:
            painter.drawText(self.rect(), Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, self.text())
            return
        # both lines lie as close as they can, in the height one line has at its full size
        metrics, words, first = QFontMetricsF(fonts.book(px)), self.text().split(), ""
        while words and metrics.horizontalAdvance(f"{first} {words[0]}".strip()) <= self.width():
            first = f"{first} {words.pop(0)}".strip()
        rest = metrics.elidedText(" ".join(words), Qt.TextElideMode.ElideRight, self.width())
        middle, high = self.height() / 2, metrics.ascent() + metrics.descent() * 0.4
        painter.drawText(QPointF(0, middle - 2), first)
        painter.drawText(QPointF(0, middle - 2 + high), rest)


def title(text: str, px: float = 18) -> Title:
    """A panel's or sheet's title in the book face."""
    return Title(text, px)


def quiet(text: str) -> QLabel:
    """A secondary line."""
    label = QLabel(text)
    label.setProperty("quiet", True)
    label.setWordWrap(True)
    return label


def button(
    text: str, clicked: Callable[[], object], *, main: bool = False, link: bool = False, tip: str = ""
) -> QPushButton:
    """A plain button, the main action, or a link."""
    made = QPushButton(text)
    made.setProperty("main", main)
    made.setProperty("link", link)
    made.setToolTip(tip)
    if link:
        made.setCursor(Qt.CursorShape.PointingHandCursor)
    made.clicked.connect(lambda: clicked())
    return made


class SectionHead(QWidget):
    """Small capitals on a hairline, with a note at the right."""

    def __init__(self, session: Session, text: str, note: str = "") -> None:
        super().__init__()
        self._session, self._text, self._note = session, text, note
        self.refit()
        self.setAccessibleName(text)
        self.setToolTip(meanings(text))

    def refit(self) -> None:
        """Follow the text size."""
        self.setFixedHeight(fonts.scaled(30))

    def set_text(self, text: str) -> None:
        """Another head."""
        if text != self._text:
            self._text = text
            self.setAccessibleName(text)
            self.setToolTip(meanings(text))
            self.update()

    def set_note(self, note: str) -> None:
        """Another note."""
        if note != self._note:
            self._note = note
            self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t = self._session.theme
        base = self.height() - 9
        painter.setFont(fonts.section())
        painter.setPen(t.color("ink"))
        room = self.width() - QFontMetricsF(fonts.text(13)).horizontalAdvance(self._note) - 10
        painter.drawText(
            0, base, QFontMetricsF(fonts.section()).elidedText(self._text, Qt.TextElideMode.ElideRight, room)
        )
        painter.setFont(fonts.text(13))
        painter.setPen(t.color("quiet"))
        painter.drawText(
            QRectF(0, 0, self.width(), base + 4), Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignBottom, self._note
        )
        painter.setPen(QPen(t.color("edge"), 1))
        painter.drawLine(QLineF(0, self.height() - 3.5, self.width(), self.height() - 3.5))


def with_meanings(tip: str, text: str) -> str:
    """A tip with what the words of the trade in a text mean under it."""
    told = meanings(text)
    return f"{tip}\n{told}" if tip and told else tip or told


def row(label: str, *fields: QWidget, tip: str = "") -> QWidget:
    """A label at the left and its fields at the right."""
    made = QWidget()
    line = QHBoxLayout(made)
    line.setContentsMargins(0, 1, 0, 1)
    line.setSpacing(8)
    text = QLabel(label)
    text.setToolTip(with_meanings(tip, label))
    text.setWordWrap(True)
    text.setMinimumWidth(0)
    line.addWidget(text, 1)
    for field in fields:
        line.addWidget(field)
        if not field.accessibleName():
            field.setAccessibleName(label)
    return made


class Choice(QComboBox):
    """A choice by key. The wheel scrolls the panel, not the choice."""

    chosen = pyqtSignal(str)

    def __init__(self, options: dict[str, str], name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setMaxVisibleItems(18)
        self.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        self.setMinimumContentsLength(10)
        for key, text in options.items():
            self.addItem(text, key)
        self.activated.connect(lambda: self.chosen.emit(str(self.currentData())))

    def show_key(self, key: str) -> None:
        """Show a key without announcing it."""
        at = self.findData(key)
        self.setCurrentIndex(at)

    def wheelEvent(self, event: object) -> None:
        event.ignore()  # type: ignore[attr-defined]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self.palette().text().color(), 1.3))
        x, y = self.width() - 13, self.height() / 2 - 2
        painter.drawLine(QLineF(x - 4, y, x, y + 4))
        painter.drawLine(QLineF(x, y + 4, x + 4, y))


# what is off the school is a matter of taste: it never reads as a refusal
LOOKS_WORD = {"watch": "Off", "no": "Far off"}


def _word(f: Finding) -> str:
    """The word before a finding."""
    return LOOKS_WORD.get(f.status, STATUS_WORD[f.status]) if question_of(f.code) == "looks" else STATUS_WORD[f.status]


class FindingRow(QWidget):
    """One finding: mark, word, sentence, remedy. Enter or a click asks why."""

    asked = pyqtSignal(object)

    def __init__(self, session: Session, finding: Finding) -> None:
        super().__init__()
        self._session = session
        self._laid: tuple[tuple[int, str, int], QTextDocument, int] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        policy = QSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Fixed)
        policy.setHeightForWidth(True)
        self.setSizePolicy(policy)
        self.finding = finding
        self._name()

    def show_finding(self, finding: Finding) -> None:
        """Another finding in the same row; nothing is laid out again when it says the same."""
        if finding == self.finding:
            return
        same = (finding.text, finding.remedy, finding.status) == (
            self.finding.text,
            self.finding.remedy,
            self.finding.status,
        )
        self.finding = finding
        if not same:
            self._laid = None
            self._name()
            self.update()

    def refit(self) -> None:
        """As high as the text is at this width and text size."""
        self.setFixedHeight(self.heightForWidth(max(self.width(), 60)))

    def _name(self) -> None:
        f = self.finding
        self.setAccessibleName(f"{_word(f)}. {f.text} {f.remedy}")
        self.setToolTip(f"Source: {f.source}. Click for the rule, what it rests on and where that is changed.")

    def event(self, event: QEvent | None) -> bool:
        """What the words of a sentence mean is looked up when the pointer rests on it."""
        if event is not None and event.type() == QEvent.Type.ToolTip:
            self._name()
            self.setToolTip(with_meanings(self.toolTip(), f"{self.finding.text} {self.finding.remedy}"))
        return super().event(event)

    def _document(self, width: int) -> QTextDocument:
        """The laid out text, made once for a width, a theme and a text size."""
        key = (width, self._session.theme.name, fonts.scaled(100))
        if self._laid is None or self._laid[0] != key:
            made = self._lay_out(width)
            self._laid = (key, made, int(made.size().height()) + 10)
        return self._laid[1]

    def _lay_out(self, width: int) -> QTextDocument:
        t, f = self._session.theme, self.finding
        document = QTextDocument()
        document.setDefaultFont(fonts.text(14))
        document.setDocumentMargin(0)
        color = getattr(t, STATUS_ROLE[f.status])
        text = f.text.replace("<", "&lt;")
        remedy = (
            f"<div style='color:{t.quiet};font-size:{fonts.scaled(13)}px'>{f.remedy.replace('<', '&lt;')}</div>"
            if f.remedy
            else ""
        )
        document.setHtml(f"<div style='color:{t.ink}'><b style='color:{color}'>{_word(f)}.</b> {text}</div>{remedy}")
        document.setTextWidth(max(width - 26, 60))
        return document

    def sizeHint(self) -> QSize:
        return QSize(240, self.heightForWidth(max(self.width(), 240)))

    def heightForWidth(self, width: int) -> int:
        self._document(width)
        return self._laid[2] if self._laid else 0

    def hasHeightForWidth(self) -> bool:
        return True

    def resizeEvent(self, event: object) -> None:
        self.setFixedHeight(self.heightForWidth(self.width()))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t = self._session.theme
        middle = 4 + QFontMetricsF(fonts.text(14)).height() / 2
        status_mark(painter, t, self.finding.status, 9, middle)
        painter.translate(24, 4)
        self._document(self.width()).drawContents(painter)
        painter.translate(-24, -4)
        if self.hasFocus():
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))

    def mousePressEvent(self, event: object) -> None:
        self.setFocus()
        self.asked.emit(self.finding)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.asked.emit(self.finding)
        else:
            super().keyPressEvent(event)


class Sheet(QDialog):
    """A dialog with fields. Enter finishes a field and never closes the sheet; a button that has the focus takes it itself."""

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            event.accept()
        else:
            super().keyPressEvent(event)


class Panel(QWidget):
    """The right panel: a column that scrolls, and one main action that stays in sight."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self.setObjectName("panel")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        outer.setSpacing(0)
        self._area = QScrollArea()
        self._area.setWidgetResizable(True)
        self._area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self._area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        # a layout that is itself aligned gets no more height than its text would want at another width, and its parts
        # run into each other: the column is kept at the top by what stretches below it instead
        frame = QVBoxLayout(inside)
        frame.setContentsMargins(16, 14, 14, 8)
        self.column = QVBoxLayout()
        self.column.setSpacing(2)
        frame.addLayout(self.column)
        frame.addStretch(1)
        self._area.setWidget(inside)
        outer.addWidget(self._area, 1)
        self.foot = QVBoxLayout()
        self.foot.setContentsMargins(16, 6, 14, 10)
        outer.addLayout(self.foot)

    def gap(self, px: int = 8) -> None:
        """Room between sections."""
        self.column.addSpacing(px)
