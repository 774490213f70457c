"""The three signs of an answer: a leaf for life, a soil scoop for work, a pot from the front for looks.

Full it fits, half it asks for an eye, struck it does not do, dotted nobody knows: the shape tells, not the colour.
"""

from functools import lru_cache

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from kesh.advice.answers import Answers
from kesh.ui.theme.tokens import STATUS_ROLE, Theme

QUESTION_WORDS = {"lives": "It lives", "work": "Work", "looks": "Looks"}


@lru_cache(maxsize=8)
def _shape(question: str) -> QPainterPath:
    """The outline in a square from -1 to 1."""
    path = QPainterPath()
    if question == "lives":
        path.moveTo(-0.82, 0.82)
        path.cubicTo(-1.0, -0.35, -0.25, -0.95, 0.92, -0.92)
        path.cubicTo(0.98, 0.25, 0.35, 0.98, -0.82, 0.82)
        path.closeSubpath()
    elif question == "work":
        path.addRoundedRect(QRectF(-0.17, -1.0, 0.34, 0.55), 0.12, 0.12)
        blade = QPainterPath()
        blade.moveTo(-0.62, -0.46)
        blade.lineTo(0.62, -0.46)
        blade.cubicTo(0.66, 0.2, 0.42, 0.72, 0.0, 1.0)
        blade.cubicTo(-0.42, 0.72, -0.66, 0.2, -0.62, -0.46)
        blade.closeSubpath()
        path = path.united(blade)
    else:
        path.moveTo(-1.0, -0.62)
        path.lineTo(1.0, -0.62)
        path.lineTo(0.94, -0.3)
        path.lineTo(0.82, -0.3)
        path.lineTo(0.64, 0.5)
        path.lineTo(0.64, 0.72)
        path.lineTo(0.36, 0.72)
        path.lineTo(0.36, 0.5)
        path.lineTo(-0.36, 0.5)
        path.lineTo(-0.36, 0.72)
        path.lineTo(-0.64, 0.72)
        path.lineTo(-0.64, 0.5)
        path.lineTo(-0.82, -0.3)
        path.lineTo(-0.94, -0.3)
        path.closeSubpath()
    return path


def answer_mark(
    painter: QPainter, theme: Theme, question: str, status: str, x: float, y: float, size: float = 14
) -> None:
    """One sign with its centre at (x, y), `size` px across."""
    color, path, r = theme.color(STATUS_ROLE[status]), _shape(question), size / 2
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.translate(x, y)
    painter.scale(r, r)
    pen = QPen(color, 1.3 / r)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if status == "unknown":
        pen.setDashPattern([1.0, 1.6])
    painter.setPen(pen)
    painter.setBrush(color if status == "fits" else Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
    if status == "watch":
        half = QPainterPath()
        half.addRect(QRectF(-1.2, -1.2, 1.2, 2.4))
        painter.fillPath(path.intersected(half), color)
    elif status == "no":
        painter.setPen(QPen(color, 1.7 / r))
        painter.drawLine(QLineF(QPointF(-1.05, 1.0), QPointF(1.05, -1.0)))
    painter.restore()


def answer_marks(painter: QPainter, theme: Theme, answers: Answers, x: float, y: float, size: float = 14) -> float:
    """The three side by side from x on, their centres at y; returns the width used."""
    step = 1.75 * size
    for n, (question, answer) in enumerate(answers.each()):
        answer_mark(painter, theme, question, answer.status, x + size / 2 + n * step, y, size)
    return 2 * step + size
