"""The signs of the places, as lines about a middle, some 26 px wide."""

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainterPath


def bench(path: QPainterPath, x: float, y: float) -> None:
    """A tree in its tray."""
    path.addEllipse(QRectF(x - 9, y - 13, 18, 9))
    path.moveTo(x, y - 4)
    path.cubicTo(x + 3, y - 1, x - 4, y + 1, x, y + 4)
    path.addRect(QRectF(x - 10, y + 4, 20, 5))
    path.moveTo(x - 13, y + 12)
    path.lineTo(x + 13, y + 12)


def shelf(path: QPainterPath, x: float, y: float) -> None:
    """Two boards with pots."""
    for row in (-9, 4):
        path.moveTo(x - 13, y + row + 8)
        path.lineTo(x + 13, y + row + 8)
        for dx in (-8, 4):
            path.moveTo(x + dx - 4, y + row)
            path.lineTo(x + dx - 2.5, y + row + 7)
            path.lineTo(x + dx + 4.5, y + row + 7)
            path.lineTo(x + dx + 6, y + row)
            path.closeSubpath()


def workshop(path: QPainterPath, x: float, y: float) -> None:
    """A wall's line with its grips."""
    path.moveTo(x - 12, y - 11)
    path.lineTo(x - 12, y + 10)
    path.lineTo(x + 4, y + 10)
    path.cubicTo(x + 7, y + 2, x + 8, y - 4, x + 12, y - 9)
    for dx, dy in ((4, 10), (8, -1), (12, -9)):
        path.addRect(QRectF(x + dx - 2.5, y + dy - 2.5, 5, 5))


def reference(path: QPainterPath, x: float, y: float) -> None:
    """A book with a leaf."""
    path.addRect(QRectF(x - 9, y - 12, 18, 24))
    path.moveTo(x, y + 7)
    path.cubicTo(x - 8, y + 1, x - 5, y - 6, x, y - 9)
    path.cubicTo(x + 5, y - 6, x + 8, y + 1, x, y + 7)
    path.moveTo(x, y + 9)
    path.lineTo(x, y - 5)


def season(path: QPainterPath, x: float, y: float) -> None:
    """Three bars along time."""
    for row, a, b in ((-8, -12, -2), (0, -5, 6), (8, 1, 12)):
        path.moveTo(x + a, y + row)
        path.lineTo(x + b, y + row)
        path.moveTo(x + (a + b) / 2, y + row - 4)
        path.lineTo(x + (a + b) / 2, y + row + 4)


def more(path: QPainterPath, x: float, y: float) -> None:
    """Three lines: a list of all that can be done."""
    for i, w in enumerate((20, 13, 17)):
        path.moveTo(x - 10, y - 6 + i * 6)
        path.lineTo(x - 10 + w, y - 6 + i * 6)
