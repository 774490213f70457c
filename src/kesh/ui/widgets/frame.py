"""The frame round the sheet: rail with places, path of steps, head, status line; all read the table of rooms."""

from collections.abc import Callable

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QFontMetricsF, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QSizePolicy,
    QVBoxLayout,
    QWidget,
)

from kesh.base.words import plain_field
from kesh.ui.paint.marks import scale_bar, status_mark
from kesh.ui.rooms import PLACES, STEPS, signs
from kesh.ui.rooms.room import Room
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import WholeTitle


class RailTab(QAbstractButton):
    """One place on the rail; the open one runs into the list."""

    def __init__(
        self, session: Session, text: str, tip: str, sign: Callable[[QPainterPath, float, float], None], *, opens: bool
    ) -> None:
        super().__init__()
        self._session, self._sign = session, sign
        self.setText(text)
        self.setToolTip(tip)
        self.setAccessibleName(text)
        self.setCheckable(opens)
        self.setFixedHeight(fonts.scaled(68))
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(64, fonts.scaled(68))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t, open_ = self._session.theme, self.isChecked()
        if open_:
            painter.fillRect(self.rect(), t.color("list"))
            painter.fillRect(QRectF(0, 0, 3, self.height()), t.color("moss"))
        painter.setPen(QPen(t.color("ink" if open_ else "quiet"), 1.4))
        path = QPainterPath()
        self._sign(path, self.width() / 2, self.height() / 2 - fonts.scaled(10))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path)
        painter.setFont(fonts.text(13, bold=open_))
        painter.setPen(t.color("ink" if open_ else "quiet"))
        painter.drawText(
            QRectF(0, self.height() - fonts.scaled(26), self.width(), fonts.scaled(20)),
            Qt.AlignmentFlag.AlignCenter,
            self.text(),
        )
        if self.hasFocus():
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawRect(self.rect().adjusted(2, 2, -2, -2))


class Rail(QWidget):
    """The places, top to bottom, and the commands at the foot."""

    opened = pyqtSignal(str)
    commands = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("rail")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.refit()
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 12, 0, 8)
        column.setSpacing(2)
        name = QLabel("Kesh")
        name.setAlignment(Qt.AlignmentFlag.AlignCenter)
        name.setStyleSheet(f'font-family: "{fonts.BOOK}"; font-size: {fonts.scaled(18)}px; font-style: italic;')
        column.addWidget(name)
        column.addSpacing(8)
        self.tabs: dict[str, RailTab] = {}
        rows: list[tuple[str, str, str, Callable[[QPainterPath, float, float], None]]] = [
            ("bench", "Bench", "One tree at a time", signs.bench)
        ]
        rows += [(room.key, room.words, room.tip, room.sign or signs.more) for room in PLACES]
        for n, (place, text, tip, sign) in enumerate(rows, 1):
            tab = RailTab(session, text, f"{tip} (Ctrl+{n})", sign, opens=True)
            tab.clicked.connect(lambda _=False, p=place: self.opened.emit(p))
            self.tabs[place] = tab
            column.addWidget(tab)
        column.addStretch(1)
        more = RailTab(session, "Commands", "Every command (Ctrl+K)", signs.more, opens=False)
        more.clicked.connect(lambda: self.commands.emit())
        column.addWidget(more)

    def refit(self) -> None:
        """As wide as the text size asks for."""
        self.setFixedWidth(fonts.scaled(64))
        for tab in self.findChildren(RailTab):
            tab.setFixedHeight(fonts.scaled(68))

    def show_place(self, place: str) -> None:
        """Mark the open place."""
        for key, tab in self.tabs.items():
            tab.setChecked(key == place)


class StepTab(QAbstractButton):
    """A step of the shoot: a leaf where it is done, a ring at the present one, a bud otherwise."""

    def __init__(self, session: Session, room: Room, number: int) -> None:
        super().__init__()
        self._session, self.step, self._number, self._tip, self._of = session, room.key, number, room.tip, 7
        self.note = ""
        self.done = False
        self.setCheckable(True)
        self.setText(room.words)
        self.setAccessibleName(f"Step {number}: {self.text()}")
        self.setToolTip(f"{room.tip} (key {number})")

    def show_number(self, number: int, of: int) -> None:
        """Its place among the steps of the tree in hand."""
        if (number, of) != (self._number, self._of):
            self._number, self._of = number, of
            self.updateGeometry()
        self.setAccessibleName(f"Step {number}: {self.text()}")
        self.setToolTip(f"{self._tip} (key {number})")

    def sizeHint(self) -> QSize:
        # eight steps stand where seven do
        return QSize(fonts.scaled(132 if self._of <= 7 else 115), fonts.scaled(68))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t, here = self._session.theme, self.isChecked()
        y = 19.5
        painter.setPen(QPen(t.color("moss" if self.done else "rule"), 2.4 if self.done else 1.2))
        painter.drawLine(QLineF(8, y, self.width() + 8, y))
        if here:
            painter.setPen(QPen(t.color("moss"), 2.2))
            painter.setBrush(t.color("panel"))
            painter.drawEllipse(QPointF(8, y), 5.2, 5.2)
        elif self.done:
            leaf = QPainterPath(QPointF(7, y))
            leaf.cubicTo(7, y - 10, 14, y - 13, 24, y - 13)
            leaf.cubicTo(22, y - 4, 16, y, 7, y)
            painter.setPen(QPen(t.color("moss"), 1))
            painter.setBrush(t.color("moss_fill"))
            painter.drawPath(leaf)
        else:
            painter.setPen(QPen(t.color("edge"), 1.2))
            painter.setBrush(t.color("panel"))
            painter.drawEllipse(QPointF(8, y), 3, 3)
        font = fonts.book(16, bold=here)
        painter.setFont(font)
        painter.setPen(t.color("ink" if here else "quiet"))
        painter.drawText(QPointF(2, 30 + fonts.scaled(16)), self.text())
        wide = QFontMetricsF(font).horizontalAdvance(self.text())
        painter.setFont(fonts.text(12))
        painter.setPen(t.color("quiet"))
        painter.drawText(QPointF(wide + 8, 30 + fonts.scaled(16)), str(self._number))
        note = QFontMetricsF(fonts.text(12)).elidedText(self.note, Qt.TextElideMode.ElideRight, self.width() - 10)
        painter.drawText(QPointF(2, 30 + fonts.scaled(31)), note)
        if here:
            painter.fillRect(QRectF(2, self.height() - 3, self.width() - 22, 3), t.color("moss"))
        if self.hasFocus():
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -2, -2))


class StepPath(QWidget):
    """The steps from left to right."""

    opened = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("steps")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(68)
        line = QHBoxLayout(self)
        line.setContentsMargins(16, 0, 16, 0)
        line.setSpacing(0)
        self.tabs: dict[str, StepTab] = {}
        for number, room in enumerate(STEPS, 1):
            tab = StepTab(session, room, number)
            tab.clicked.connect(lambda _=False, key=room.key: self.opened.emit(key))
            tab.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)
            self.tabs[room.key] = tab
            line.addWidget(tab)
        line.addStretch(1)

    def show_step(self, step: str, notes: dict[str, tuple[str, bool]], shown: tuple[str, ...]) -> None:
        """Mark the present step and show each step's latest result; steps that are not for this tree are hidden, the others numbered."""
        for key, tab in self.tabs.items():
            tab.setVisible(key in shown)
            if key in shown:
                tab.show_number(shown.index(key) + 1, len(shown))
            tab.setChecked(key == step)
            tab.note, tab.done = notes.get(key, ("", False))
            tab.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), self._session.theme.color("panel"))
        painter.setPen(QPen(self._session.theme.color("rule"), 1))
        painter.drawLine(QLineF(0, self.height() - 0.5, self.width(), self.height() - 0.5))


class StepHead(QWidget):
    """Over the sheet of a step: its result as a title, and its views as buttons."""

    opened = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.setObjectName("sheet")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        line = QHBoxLayout(self)
        line.setContentsMargins(16, 10, 14, 0)
        line.setSpacing(12)
        self.title = WholeTitle("", 21)
        self.title.setWordWrap(False)
        self.title.setSizePolicy(QSizePolicy.Policy.Ignored, QSizePolicy.Policy.Fixed)
        line.addWidget(self.title, 1)
        self._buttons = QHBoxLayout()
        self._buttons.setSpacing(0)
        line.addLayout(self._buttons)
        self.views: dict[str, QPushButton] = {}
        self._shown: tuple[tuple[str, str], ...] = ()

    def show_views(self, views: tuple[tuple[str, str], ...], now: str) -> None:
        """The views of a room."""
        if views != self._shown:
            for old in self.views.values():
                self._buttons.removeWidget(old)
                old.hide()
                old.deleteLater()
            self._shown, self.views = views, {}
            group = QButtonGroup(self)
            for key, text in views:
                made = QPushButton(text)
                made.setCheckable(True)
                made.clicked.connect(lambda _=False, k=key: self.opened.emit(k))
                group.addButton(made)
                self.views[key] = made
                self._buttons.addWidget(made)
        self.show_title(self.title.text(), now)

    def show_title(self, text: str, view: str) -> None:
        """Titles state the result."""
        self.title.setText(text)
        self.title.setToolTip(text)
        if view in self.views:
            self.views[view].setChecked(True)


class DrawerHandle(QAbstractButton):
    """Opens the folded panel; shows the worst mark and the number of findings."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._status, self._count, self._open = "unknown", 0, False
        self.setFixedWidth(30)
        self.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Expanding)  # a bare button asks for no height
        self.setAccessibleName("Open the panel")
        self.hide()

    def show_count(self, status: str, count: int, *, open_: bool) -> None:
        """Another state."""
        self._status, self._count, self._open = status, count, open_
        self.setToolTip("Close the panel" if open_ else f"Open the panel: {count} findings to look at")
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t, middle = self._session.theme, self.width() / 2
        painter.fillRect(self.rect(), t.color("panel"))
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawLine(QLineF(0.5, 0, 0.5, self.height()))
        y = self.height() / 2 - 24
        status_mark(painter, t, self._status, middle, y, 13)
        painter.setFont(fonts.text(14, bold=True))
        painter.setPen(t.color("ink"))
        painter.drawText(QRectF(0, y + 10, self.width(), 20), Qt.AlignmentFlag.AlignCenter, str(self._count))
        painter.drawText(QRectF(0, y + 34, self.width(), 20), Qt.AlignmentFlag.AlignCenter, "›" if self._open else "‹")
        if self.hasFocus():
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawRect(self.rect().adjusted(1, 1, -1, -1))


class StatusLine(QWidget):
    """Scale bar, what is in hand, messages, how far long work is, and what the keys do now."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.halt = QPushButton("Stop", self)
        self.halt.setProperty("link", True)
        self.halt.setToolTip("Stop the work; nothing of it is kept (Esc)")
        self.halt.hide()
        self.share: float | None = None
        self._session = session
        self.setObjectName("status")
        self.setFixedHeight(26)
        self.px_mm = 0.0
        self.hand = ""
        self.keys = ""
        self._message: tuple[str, str] = ("", "")
        self.setAccessibleName("Status")

    def say(self, status: str, text: str) -> None:
        """Show a message until the next action."""
        told = plain_field(text)
        self._message = (status, told)
        self.setAccessibleDescription(told)
        self.setToolTip(told)
        self.update()

    def show_busy(self, words: str, share: float) -> None:
        """Long work is under way."""
        self.share = share
        self.halt.show()
        self.halt.setFixedSize(self.halt.sizeHint().width(), self.height() - 2)
        self._message = ("unknown", f"{words} … {share:.0%}")
        self.setAccessibleDescription(self._message[1])
        self.update()

    def show_idle(self) -> None:
        """The work ended; how far it was is no message any more, what it brought may be one."""
        if self.share is not None:
            self.say("", "")
        self.share = None
        self.halt.hide()
        self.update()

    @property
    def message(self) -> str:
        """What is said now."""
        return self._message[1]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        t = self._session.theme
        painter.fillRect(self.rect(), t.color("panel"))
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawLine(QLineF(0, 0.5, self.width(), 0.5))
        y = self.height() / 2
        x = 14.0
        if self.px_mm > 0:
            x = scale_bar(painter, t, x, y, self.px_mm, self._session.units.length) + 22
        font = fonts.text(13)
        metrics = QFontMetricsF(font)
        painter.setFont(font)
        keys = metrics.horizontalAdvance(self.keys) if self.width() > 620 else 0
        room = self.width() - x - keys - 40
        status, text = self._message
        if self.share is not None:
            track = QRectF(x, y - 4, fonts.scaled(120), 8)
            painter.setPen(QPen(t.color("edge"), 1))
            painter.drawRect(track)
            painter.fillRect(track.adjusted(1, 1, -(track.width() - 1) * (1 - self.share), 0), t.color("moss_fill"))
            x = track.right() + 8
            self.halt.move(int(x), 1)
            x += self.halt.width() + 8
            room = self.width() - x - keys - 40
        if text:
            status_mark(painter, t, status, x + 6, y, 10)
            x, room = x + 18, room - 18
        painter.setPen(t.color("ink" if text else "quiet"))
        if metrics.horizontalAdvance(text or self.hand) > room:
            # what is said goes before what the keys do
            keys, room = 0, self.width() - x - 14
        shown = metrics.elidedText(text or self.hand, Qt.TextElideMode.ElideRight, max(room, 40))
        painter.drawText(QPointF(x, y + 4.5), shown)
        if keys and x + metrics.horizontalAdvance(shown) + 20 < self.width() - keys - 14:
            painter.setPen(t.color("quiet"))
            painter.drawText(QPointF(self.width() - keys - 14, y + 4.5), self.keys)
