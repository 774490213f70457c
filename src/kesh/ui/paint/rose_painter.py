"""The holding rose: from every side what holds at the apex, what a gust asks with its margin, and what holds untied."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen, QPolygonF

from kesh.advice.planting.tie_plan import TiePlan
from kesh.geometry.outline import Floats
from kesh.science.roots.side_room import directions_deg, toward
from kesh.science.stand.tie_hold import FITS_MARGIN, Hold
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paint.tree_painter import draw_lines, polygon
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme


def asked_n(held: Hold, margin: float = 1.0) -> Floats:
    """What a gust from each side asks at the apex, so many times over (36,)."""
    assert held.margin is not None
    return np.asarray(margin * held.rose_n / np.maximum(held.margin, 1e-9))


def untied_n(held: Hold) -> Floats:
    """What holds without ties (36,)."""
    assert held.margin is not None
    assert held.margin_untied is not None
    return np.asarray(held.rose_n * held.margin_untied / np.maximum(held.margin, 1e-9))


def draw_rose(p: QPainter, t: Theme, plan: TiePlan, centre: QPointF, radius: float, *, hurry: bool = False) -> None:
    """By where the wind comes from, the front below; the weakest side is hatched with its figure."""
    held = plan.hold
    if held is None or held.margin is None or held.margin_untied is None:
        words(p, t, "not reckoned yet", centre.x(), centre.y(), "quiet", font=fonts.text(12), align="center")
        return
    asked, loose = asked_n(held, FITS_MARGIN), np.maximum(untied_n(held), 0.0)
    top = float(max(held.rose_n.max(), asked.max())) * 1.05
    way = toward(directions_deg())

    def ring(values: Floats) -> QPolygonF:
        far = np.clip(values / top, 0, 1.2) * radius
        return polygon(way * far[:, None] + np.array([centre.x(), -centre.y()]))

    p.setPen(QPen(t.color("rule"), 0.8))
    p.setBrush(Qt.BrushStyle.NoBrush)
    for share in (0.5, 1.0):
        p.drawEllipse(centre, radius * share, radius * share)
    p.drawLine(QLineF(centre - QPointF(radius, 0), centre + QPointF(radius, 0)))
    p.drawLine(QLineF(centre - QPointF(0, radius), centre + QPointF(0, radius)))
    p.setPen(QPen(t.color("moss"), 1.8))
    p.setBrush(t.color("moss_tint"))
    p.drawPolygon(ring(held.rose_n))
    at = int(np.argmin(held.margin))
    good = plan.status == "fits"
    _weak(p, t, held, centre, radius, top, at, good=good, hatched=not hurry)
    p.setBrush(Qt.BrushStyle.NoBrush)
    dashed = QPen(t.color("ink"), 1.2)
    dashed.setDashPattern([4, 3])
    p.setPen(dashed)
    p.drawPolygon(ring(asked))
    p.setPen(QPen(t.color("indigo"), 1.2))
    p.drawPolygon(ring(asked_n(held)))
    dotted = QPen(t.color("oxide"), 1.3)
    dotted.setDashPattern([1, 2.5])
    p.setPen(dotted)
    p.drawPolygon(ring(loose))
    p.setBrush(t.color("ink"))
    p.setPen(Qt.PenStyle.NoPen)
    p.drawEllipse(centre, 2.0, 2.0)
    told = f"weakest {held.weakest_n:.0f} N"
    words(
        p,
        t,
        told,
        centre.x(),
        centre.y() + radius + fonts.scaled(16),
        "ink" if good else "oxide",
        font=fonts.text(13, bold=True),
        align="center",
    )


def _weak(
    p: QPainter, t: Theme, held: Hold, centre: QPointF, radius: float, top: float, at: int, *, good: bool, hatched: bool
) -> None:
    """The weakest side as a hatched wedge."""
    span = np.radians(directions_deg()[at] + np.linspace(-18, 18, 9))
    far = float(held.rose_n[at]) / top * radius
    path = QPainterPath(centre)
    for s in span.tolist():
        path.lineTo(centre + QPointF(-far * float(np.sin(s)), far * float(np.cos(s))))
    path.closeSubpath()
    role = "moss" if good else "oxide"
    p.fillPath(path, t.color(f"{role}_fill", 0.35))
    if hatched:
        hatch(p, path, t.color(role), 1.0, angle_deg=60, gap_px=5)
    p.setPen(QPen(t.color(role), 1.2))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)


LEGEND = (
    ("wire", "wire over the roots"), ("under", "the same wire under roots and floor"), ("hole", "up through a hole"),
    ("screen", "screen over a drain hole"), ("mass", "root mass kept"), ("sector", "side left alone"), ("asked", "asked at the apex: a gust 1.5 times"),
    ("gale", "the gust of the site"), ("loose", "holds untied"),
)  # fmt: skip


def legend_rows(*, sector: bool) -> tuple[tuple[str, str], ...]:
    """What is explained: a side left alone only where there is one."""
    return tuple(row for row in LEGEND if row[0] != "sector" or sector)


def draw_legend(p: QPainter, t: Theme, x: float, y: float, rows: tuple[tuple[str, str], ...], step: float) -> None:
    """Samples of the lines with their words."""
    for n, (kind, told) in enumerate(rows):
        mid = y + n * step
        _sample(p, t, kind, x, mid)
        words(p, t, told, x + fonts.scaled(44), mid + 4, "quiet", font=fonts.text(12))


def _sample(p: QPainter, t: Theme, kind: str, x: float, y: float) -> None:
    wide = fonts.scaled(32)
    line = QLineF(x, y, x + wide, y)
    role, weight, dashes = {
        "wire": ("indigo", 2.2, None), "under": ("indigo", 1.3, [4.0, 4.0]), "mass": ("bark_dark" if not t.is_dark else "ink", 1.1, [8.0, 4.0]),
        "asked": ("ink", 1.2, [4.0, 3.0]), "gale": ("indigo", 1.2, None), "loose": ("oxide", 1.3, [1.0, 2.5]),
    }.get(kind, ("ink", 1.0, None))  # fmt: skip
    if kind in ("hole", "screen", "sector"):
        box = QRectF(x + wide / 2 - 4, y - 4, 8, 8) if kind == "hole" else QRectF(x + wide / 2 - 10, y - 5, 20, 10)
        p.setPen(QPen(t.color("indigo" if kind == "hole" else "moss" if kind == "sector" else "ink"), 1.2))
        p.setBrush(Qt.BrushStyle.NoBrush)
        p.drawRect(box)
        if kind == "screen":
            p.setPen(QPen(t.color("ink", 0.5), 0.6))
            draw_lines(
                p, [QLineF(box.left() + k * 4, box.top(), box.left() + k * 4, box.bottom()) for k in range(1, 5)]
            )
            p.drawLine(QLineF(box.left(), y, box.right(), y))
        if kind == "sector":
            path = QPainterPath()
            path.addRect(box)
            hatch(p, path, t.color("moss"), 1.0, angle_deg=45, gap_px=5)
        return
    pen = QPen(t.color(role), weight)
    if dashes:
        pen.setDashPattern(dashes)
    p.setPen(pen)
    p.drawLine(line)
