"""A person's hand, whose entries are counted."""

from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QWidget


class Hand:
    """Types and clicks, and counts what a person would call an entry: a field filled, a drawing or a button pressed."""

    def __init__(self) -> None:
        self.entries = 0

    def types(self, field: QWidget, text: str) -> None:
        self.entries += 1
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)

    def clicks(self, widget: QWidget, at: QPointF | None = None) -> None:
        self.entries += 1
        point = QPoint() if at is None else at.toPoint()
        QTest.mouseClick(widget, Qt.MouseButton.LeftButton, pos=point)
