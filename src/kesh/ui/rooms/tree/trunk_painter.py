"""The trunk over its photograph: its line, the reader with the edges it found, marked heights, and its width as a profile."""

from collections.abc import Callable, Sequence

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from kesh.base.units import Units
from kesh.desk.heights import STATION_WORDS, MarkedHeight
from kesh.photo.measure import PhotoMeasures
from kesh.ui.paint.marks import dash_dot, words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

Place = Callable[[float, float], QPointF]
PROFILE_PX = 196


def draw_trunk(painter: QPainter, theme: Theme, found: PhotoMeasures, place: Place, reader_mm: float) -> None:
    """The trunk's line and the reader's cross with both edges. `place` brings mm from the foot to px."""
    line = found.profile.line_mm
    step = max(1, len(line) // 60)
    painter.setPen(dash_dot(theme.color("indigo")))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if len(line) > 1:
        painter.drawPolyline(QPolygonF([place(x, h) for x, h in line[::step]]))
    cross = found.profile.at(reader_mm)
    if cross is None:
        return
    left, right = place(cross.left_mm, reader_mm), place(cross.right_mm, reader_mm)
    painter.setPen(QPen(theme.color("sheet"), 4.5))
    painter.drawLine(QLineF(left, right))
    painter.setPen(QPen(theme.color("indigo"), 2))
    painter.drawLine(QLineF(left, right))
    for end in (left, right):
        painter.drawLine(QLineF(end.x(), end.y() - 7, end.x(), end.y() + 7))


def draw_heights(
    painter: QPainter, theme: Theme, u: Units, heights: Sequence[MarkedHeight], place: Place, left: float
) -> None:
    """Each marked height as a line across the trunk, its name and figure at the picture's left."""
    last = float("inf")
    for one in heights:
        at = place(0.0, one.height_mm)
        y = min(at.y() + 4, last - 18)
        last = y
        pen = QPen(theme.color("oxide"), 1.4)
        pen.setDashPattern([5, 3])
        painter.setPen(pen)
        painter.drawLine(QLineF(at.x() - 34, at.y(), at.x() + 34, at.y()))
        text = f"{one.words} {u.figure(one.height_mm)}"
        wide = words(painter, theme, text, left + 8, y, "oxide", ground="sheet")
        painter.setPen(QPen(theme.color("oxide"), 0.8))
        painter.drawPolyline(
            QPolygonF([QPointF(left + wide + 14, y - 4), QPointF(at.x() - 60, y - 4), QPointF(at.x() - 34, at.y())])
        )


def draw_profile(
    painter: QPainter,
    theme: Theme,
    u: Units,
    found: PhotoMeasures,
    place: Place,
    box: QRectF,
    reader_mm: float,
    used: str,
) -> None:
    """The trunk drawn straight beside the picture, each height level with its own; stations and the reader named."""
    heights, widths = found.profile.heights_mm, found.profile.widths_mm
    if not len(heights):
        return
    step = max(1, len(heights) // 160)
    h, w = heights[::step], widths[::step]
    room = 74.0
    each = room / max(float(np.percentile(widths, 99)), 1.0)
    axis = box.left() + room / 2 + 4
    ys = np.array([place(0.0, float(one)).y() for one in h])
    half = np.minimum(w * each / 2, room * 0.56)
    # rows that leaves hide are left open
    for part in np.split(np.arange(len(h)), np.flatnonzero(np.diff(h) > 4 * np.median(np.diff(heights)) * step) + 1):
        if len(part) < 2:
            continue
        there = [QPointF(axis - half[i], ys[i]) for i in part]
        back = [QPointF(axis + half[i], ys[i]) for i in part[::-1]]
        painter.setPen(QPen(theme.color("bark_dark"), 1))
        painter.setBrush(theme.color("bark", 0.55))
        painter.drawPolygon(QPolygonF(there + back))
    top = min(float(ys.min()), place(0.0, reader_mm).y()) - 22
    words(painter, theme, "Trunk, straightened", box.left(), top, "quiet", font=fonts.book(14, italic=True))
    label_x, last = axis + room / 2 + 10, float("inf")
    for name, height in found.trunk_at_mm.items():
        reading = found.trunk[name]
        if height is None or not isinstance(reading.value, float):
            continue
        y = place(0.0, height).y()
        strong = name == used
        painter.setPen(QPen(theme.color("moss" if strong else "edge"), 2 if strong else 1))
        painter.drawLine(QLineF(axis - reading.value * each / 2, y, axis + reading.value * each / 2, y))
        text_y = min(y + 4, last - 30)
        last = text_y
        role = "moss" if strong else "ink"
        figure = f"{u.figure(reading.value)} ± {u.figure(reading.plus_minus or 0)}"
        painter.setPen(QPen(theme.color("edge"), 0.8))
        painter.drawLine(QLineF(axis + reading.value * each / 2, y, label_x - 3, text_y - 4))
        words(painter, theme, figure, label_x, text_y, role, font=fonts.text(13, bold=True))
        words(painter, theme, STATION_WORDS[name], label_x, text_y + 13, role, font=fonts.text(11))
    cross = found.profile.at(reader_mm)
    y = place(0.0, reader_mm).y()
    painter.setPen(dash_dot(theme.color("indigo")))
    painter.drawLine(QLineF(box.left() - 8, y, box.right(), y))
    text = "hidden" if cross is None else "in doubt"
    if cross is not None and isinstance(cross.width.value, float):
        text = f"{u.mm(cross.width.value)} ± {u.figure(cross.width.plus_minus or 0)}"
    # at the picture's edge, where no station's figure can stand
    bold = fonts.text(14, bold=True)
    words(painter, theme, text, box.left() - 20, y - 5, "indigo", font=bold, align="right", ground="sheet")
