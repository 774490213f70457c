"""Marks on the sheet in px: dimensions, rulers, status signs, bands, flags. The painter is in widget coordinates."""

from math import ceil

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPainterPath, QPen, QPolygonF

from kesh.ui.paint.tree_painter import draw_lines
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE, Theme

# lines over a photograph keep these two tones in either theme: the picture below them does not change with it
ON_PICTURE = {"ink_on_picture": QColor(26, 24, 20, 170), "paper_on_picture": QColor(250, 247, 236)}


def status_mark(painter: QPainter, theme: Theme, status: str, x: float, y: float, size: float = 11) -> None:
    """Full disc, half disc, barred ring or dotted ring with its centre at (x, y)."""
    color = theme.color(STATUS_ROLE[status])
    r = size / 2
    box = QRectF(x - r, y - r, size, size)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(color, 1.4))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    if status == "fits":
        painter.setBrush(color)
        painter.drawEllipse(box)
    elif status == "watch":
        painter.drawEllipse(box)
        painter.setBrush(color)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawPie(box, 90 * 16, 180 * 16)
    elif status == "no":
        painter.setPen(QPen(color, 1.7))
        painter.drawEllipse(box)
        painter.drawLine(QLineF(x - r * 0.62, y + r * 0.62, x + r * 0.62, y - r * 0.62))
    else:
        pen = QPen(color, 1.5)
        pen.setDashPattern([1.0, 1.6])
        painter.setPen(pen)
        painter.drawEllipse(box)
    painter.restore()


def words(
    painter: QPainter, theme: Theme, text: str, x: float, y: float, role: str = "ink", *, font: object = None,
    align: str = "left", ground: str | None = None,
) -> float:  # fmt: skip
    """One line of text with its baseline at y; returns its width. `ground` lays the paper's colour behind it."""
    painter.setFont(font or fonts.text(12))  # type: ignore[arg-type]
    width = fonts.width(painter.font(), text)
    left = x - (width if align == "right" else width / 2 if align == "center" else 0)
    if ground:
        metrics = QFontMetricsF(painter.font())
        painter.fillRect(
            QRectF(left - 3, y - metrics.ascent() + 1, width + 6, metrics.height() - 2), theme.color(ground)
        )
    painter.setPen(theme.color(role))
    painter.drawText(QPointF(left, y), text)
    return width


def dimension(
    painter: QPainter, theme: Theme, a: QPointF, b: QPointF, text: str, role: str = "ink", *, bold: bool = True, side: float = -1
) -> None:  # fmt: skip
    """A dimension line from a to b with oblique ends and its figure in a gap.

    A line too short for a gap has it beside: above or at the left, with `side` 1 below or at the right.
    """
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QPen(theme.color(role), 0.8))
    level = abs(a.y() - b.y()) < abs(a.x() - b.x())
    font = fonts.text(13, bold=bold)
    metrics = QFontMetricsF(font)
    wide, high = metrics.horizontalAdvance(text) + 8, metrics.height()
    middle = QPointF((a.x() + b.x()) / 2, (a.y() + b.y()) / 2)
    room = abs(b.x() - a.x()) if level else abs(b.y() - a.y())
    fits = room > (wide + 16 if level else high + 14)
    if fits and level:
        painter.drawLine(QLineF(a, QPointF(middle.x() - wide / 2, a.y())))
        painter.drawLine(QLineF(QPointF(middle.x() + wide / 2, a.y()), b))
    elif fits:
        painter.drawLine(QLineF(a, QPointF(a.x(), middle.y() + (high / 2 if a.y() > b.y() else -high / 2))))
        painter.drawLine(QLineF(QPointF(a.x(), middle.y() - (high / 2 if a.y() > b.y() else -high / 2)), b))
    else:
        painter.drawLine(QLineF(a, b))
    for p in (a, b):
        painter.setPen(QPen(theme.color(role), 1.3))
        painter.drawLine(QLineF(p.x() - 3.5, p.y() + 3.5, p.x() + 3.5, p.y() - 3.5))
    if level:
        words(
            painter,
            theme,
            text,
            middle.x(),
            middle.y() + (metrics.ascent() / 2 - 1.5 if fits else metrics.ascent() + 2 if side > 0 else -6),
            role,
            font=font,
            align="center",
        )
    elif fits:
        words(
            painter, theme, text, middle.x(), middle.y() + metrics.ascent() / 2 - 1.5, role, font=font, align="center"
        )
    else:
        words(
            painter,
            theme,
            text,
            a.x() + 6 * (1 if side > 0 else -1),
            middle.y() + 4,
            role,
            font=font,
            align="left" if side > 0 else "right",
        )
    painter.restore()


def extension(painter: QPainter, theme: Theme, a: QPointF, b: QPointF, role: str = "edge") -> None:
    """A thin line that leads from the object to its dimension."""
    painter.setPen(QPen(theme.color(role), 0.6))
    painter.drawLine(QLineF(a, b))


# by the unit that is read: (mm of the smallest, the middle and the long tick, what a label counts in mm)
TICKS: dict[str, tuple[float, float, float, float]] = {
    "mm": (10.0, 50.0, 100.0, 1.0), "cm": (10.0, 50.0, 100.0, 10.0), "inch": (12.7, 25.4, 101.6, 25.4),
}  # fmt: skip
BARS: dict[str, tuple[float, tuple[float, ...], str]] = {
    "mm": (1.0, (20, 50, 100, 200, 500, 1000), "mm"), "cm": (10.0, (2, 5, 10, 20, 50, 100), "cm"), "inch": (25.4, (1, 2, 4, 8, 20, 40), "in"),
}  # fmt: skip


def ruler(
    painter: QPainter, theme: Theme, x: float, zero_y: float, px_mm: float, top_mm: float, *, unit: str = "mm"
) -> None:
    """An upright ruler on the left edge, in the unit that is read: every 100 mm, 10 cm or 4 inches has its figure."""
    small, middle, long, one = TICKS[unit]
    step = small if px_mm * small >= 3.2 else middle
    painter.save()
    painter.setPen(QPen(theme.color("edge"), 0.8))
    lines = []
    for n in range(int(top_mm / step) + 1):
        mm = n * step
        wide = (
            9
            if abs(mm / long - round(mm / long)) < 1e-6
            else 6
            if abs(mm / middle - round(mm / middle)) < 1e-6
            else 3.5
        )
        lines.append(QLineF(x, zero_y - mm * px_mm, x + wide, zero_y - mm * px_mm))
    draw_lines(painter, lines)
    # figures that would touch are left out
    every = max(1, ceil(QFontMetricsF(fonts.text(11)).height() / max(long * px_mm, 1e-9)))
    for n in range(every, int(top_mm / long) + 1, every):
        told = f"{n * long / one:.0f}"
        words(painter, theme, told, x - 4, zero_y - n * long * px_mm + 4, "quiet", font=fonts.text(11), align="right")
    painter.restore()


def scale_bar(painter: QPainter, theme: Theme, x: float, y: float, px_mm: float, unit: str = "mm") -> float:
    """A bar of a round length in the unit that is read; returns where it ends."""
    one, lengths, word = BARS[unit]
    length = next((n for n in lengths if n * one * px_mm >= 44), lengths[-1])
    piece = length * one * px_mm / 4
    painter.setPen(QPen(theme.color("ink"), 0.8))
    for i in range(4):
        painter.fillRect(QRectF(x + i * piece, y - 2.5, piece, 5), theme.color("ink" if i % 2 == 0 else "sheet"))
    painter.drawRect(QRectF(x, y - 2.5, 4 * piece, 5))
    told = words(painter, theme, f"{length:g} {word}", x + 4 * piece + 8, y + 4, "ink", font=fonts.text(13))
    return x + 4 * piece + 8 + told


def band_bar(
    painter: QPainter, theme: Theme, box: QRectF, low: float | None, high: float | None, value: float | None,
    span: tuple[float, float], *, hatched: bool = False, strong: bool = True,
) -> None:  # fmt: skip
    """The allowed band as a block between two strokes, the value as a plumb mark: ink inside, oxide outside."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    middle = box.center().y()
    painter.setPen(QPen(theme.color("rule"), 1))
    painter.drawLine(QLineF(box.left(), middle, box.right(), middle))

    def at(v: float) -> float:
        return box.left() + box.width() * min(max((v - span[0]) / max(span[1] - span[0], 1e-9), 0.0), 1.0)

    inside = True
    if low is not None and high is not None:
        block = QRectF(at(low), middle - 4, max(at(high) - at(low), 2), 8)
        painter.setPen(QPen(theme.color("moss" if strong else "edge"), 1))
        painter.setBrush(theme.color("moss_fill" if strong else "panel"))
        painter.drawRect(block)
        if hatched:
            path = QPainterPath()
            path.addRect(block)
            from kesh.ui.paint.pot_painter import hatch

            hatch(painter, path, theme.color("edge"), 1.0, gap_px=4)
        inside = value is None or low <= value <= high
    if value is not None:
        color = theme.color("ink" if inside else "oxide")
        x = at(value)
        painter.setPen(QPen(color, 1.3))
        painter.drawLine(QLineF(x, middle - 8, x, middle + 7))
        painter.setBrush(color)
        tip = QPainterPath()
        tip.moveTo(x - 4, middle - 11)
        tip.lineTo(x + 4, middle - 11)
        tip.lineTo(x, middle - 5)
        tip.closeSubpath()
        painter.fillPath(tip, color)
    painter.restore()


def flag(painter: QPainter, theme: Theme, letter: str, x: float, y: float, role: str = "ink") -> None:
    """A square letter flag with its centre at (x, y); ties a finding to its place."""
    painter.save()
    box = QRectF(x - 8, y - 8, 16, 16)
    painter.setPen(QPen(theme.color(role), 1))
    painter.setBrush(theme.color("sheet"))
    painter.drawRect(box)
    font = fonts.book(12, italic=True)
    painter.setFont(font)
    painter.drawText(box.adjusted(0, -1, 0, 0), Qt.AlignmentFlag.AlignCenter, letter)
    painter.restore()


def handle(painter: QPainter, theme: Theme, point: QPointF, *, focus: bool, hover: bool) -> None:
    """A square handle; the one in hand is filled and ringed."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    r = 4.0
    painter.setPen(QPen(theme.color("moss" if focus or hover else "edge"), 1.2))
    painter.setBrush(theme.color("moss" if focus else "field"))
    painter.drawRect(QRectF(point.x() - r, point.y() - r, 2 * r, 2 * r))
    if focus:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(QPen(theme.color("indigo"), 2))
        painter.drawRect(QRectF(point.x() - r - 3.5, point.y() - r - 3.5, 2 * r + 7, 2 * r + 7))
    painter.restore()


def dash_dot(color: QColor, width: float = 1.0) -> QPen:
    """Axis and eye level."""
    pen = QPen(color, width)
    pen.setDashPattern([8, 3, 1.5, 3])
    return pen


def front_marker(painter: QPainter, theme: Theme, foot: QPointF, size: float) -> None:
    """The front marker in the soil, seen a little from above: a stick with its pennant."""
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    top = foot - QPointF(0, size)
    painter.setPen(QPen(theme.color("oxide"), 1.6))
    painter.drawLine(QLineF(foot, top))
    painter.setBrush(theme.color("oxide"))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawEllipse(foot, 2.4, 2.4)
    painter.drawPolygon(QPolygonF([top, top + QPointF(size * 0.6, size * 0.22), top + QPointF(0, size * 0.45)]))
    painter.restore()
