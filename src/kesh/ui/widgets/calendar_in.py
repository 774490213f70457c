"""A small calendar behind a field for a day: Alt+Down or a click on its sign opens it, a click on a day writes that day."""

from PyQt6.QtCore import QDate, QLineF, QObject, QRectF, Qt
from PyQt6.QtGui import QAction, QColor, QIcon, QKeySequence, QPainter, QPen, QPixmap, QTextCharFormat
from PyQt6.QtWidgets import QCalendarWidget, QLineEdit, QMenu, QToolButton, QWidgetAction

from kesh.base.days import day_of
from kesh.base.errors import KeshError
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

FIRST_DAYS = {"monday": Qt.DayOfWeek.Monday, "sunday": Qt.DayOfWeek.Sunday, "saturday": Qt.DayOfWeek.Saturday}


def calendar_sign(colour: QColor) -> QIcon:
    """A leaf of a calendar, drawn."""
    picture = QPixmap(32, 32)
    picture.fill(Qt.GlobalColor.transparent)
    p = QPainter(picture)
    p.setPen(QPen(colour, 2.2))
    p.drawRect(QRectF(5, 7, 22, 19))
    for line in (QLineF(5, 13, 27, 13), QLineF(11, 4, 11, 9), QLineF(21, 4, 21, 9)):
        p.drawLine(line)
    for x in (10, 16, 22):
        for y in (17, 22):
            p.drawPoint(x, y)
    p.end()
    return QIcon(picture)


def dress(calendar: QCalendarWidget, t: Theme) -> None:
    """In the colours and letters of the window; weekends are days as others are."""
    plain = QTextCharFormat()
    plain.setForeground(t.color("ink"))
    for day in (Qt.DayOfWeek.Saturday, Qt.DayOfWeek.Sunday):
        calendar.setWeekdayTextFormat(day, plain)
    head = QTextCharFormat()
    head.setForeground(t.color("quiet"))
    head.setBackground(t.color("panel"))
    calendar.setHeaderTextFormat(head)
    calendar.setStyleSheet(
        f"QWidget#qt_calendar_navigationbar {{ background: {t.panel}; }}"
        f"QToolButton {{ color: {t.ink}; background: {t.panel}; border: none; padding: 4px 8px; }}"
        f"QToolButton:hover {{ background: {t.list}; }}"
        "QToolButton::menu-indicator { image: none; }"
        f"QCalendarWidget QAbstractItemView {{ background: {t.field}; color: {t.ink}; selection-background-color: {t.moss};"
        f" selection-color: {t.field}; alternate-background-color: {t.panel}; outline: none; }}"
    )
    for name, way in (("qt_calendar_prevmonth", True), ("qt_calendar_nextmonth", False)):
        turn = calendar.findChild(QToolButton, name)
        if turn is not None:
            turn.setIcon(QIcon())
            turn.setText("◀" if way else "▶")
    calendar.setMinimumSize(fonts.scaled(280), fonts.scaled(230))


class CalendarIn(QObject):
    """Gives a field its calendar, and lives as long as it; what is written is finished as if it had been typed."""

    def __init__(self, field: QLineEdit, session: Session) -> None:
        super().__init__(field)
        self._field, self._session = field, session
        self.action = QAction(calendar_sign(session.theme.color("quiet")), "", field)
        self.action.setShortcut(QKeySequence("Alt+Down"))
        self.action.setShortcutContext(Qt.ShortcutContext.WidgetShortcut)
        self.action.setToolTip("Choose the day in a calendar (Alt+Down)")
        self.action.triggered.connect(self.open)
        field.addAction(self.action, QLineEdit.ActionPosition.TrailingPosition)
        session.look_changed.connect(self._recolour)

    def _recolour(self) -> None:
        self.action.setIcon(calendar_sign(self._session.theme.color("quiet")))

    def open(self) -> QCalendarWidget:
        """The calendar on the day that stands in the field, today where none does."""
        s, field = self._session, self._field
        try:
            day = day_of(field.text(), s.today) if field.text().strip() else s.today
        except KeshError:
            day = s.today
        menu = QMenu(field)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        calendar = QCalendarWidget(menu)
        calendar.setAccessibleName("Calendar")
        calendar.setFirstDayOfWeek(FIRST_DAYS.get(s.week_begins, Qt.DayOfWeek.Monday))
        calendar.setVerticalHeaderFormat(QCalendarWidget.VerticalHeaderFormat.NoVerticalHeader)
        calendar.setHorizontalHeaderFormat(QCalendarWidget.HorizontalHeaderFormat.SingleLetterDayNames)
        dress(calendar, s.theme)
        calendar.setSelectedDate(QDate(day.year, day.month, day.day))
        held = QWidgetAction(menu)
        held.setDefaultWidget(calendar)
        menu.addAction(held)

        def take(chosen: QDate) -> None:
            menu.close()
            field.setText(chosen.toString("yyyy-MM-dd"))
            field.setModified(True)
            field.editingFinished.emit()

        calendar.clicked.connect(take)
        calendar.activated.connect(take)
        menu.popup(field.mapToGlobal(field.rect().bottomLeft()))
        calendar.setFocus()
        return calendar
