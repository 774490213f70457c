"""Two charts below the pots: how the water falls over ten days, and how it lies by depth in the hours after the watering."""

from collections.abc import Sequence
from typing import Any

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from kesh.advice.rules.water import FOOT_FITS_H
from kesh.advice.water.watering import DAYS, START_H, Depths, DryingCurve
from kesh.base.units import Units
from kesh.desk.watering import Watering
from kesh.geometry.outline import Floats
from kesh.ui.paint.layers import Keep
from kesh.ui.paint.marks import words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paint.tree_painter import polygon
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

DASHES: tuple[Sequence[float], ...] = ((), (8.0, 4.0), (2.0, 3.0))
QUICK_DAYS = 4
SHOWN_H = (1.0, 6.0, 24.0, 72.0)


def first_part(curve: DryingCurve, hours: int) -> int:
    """Another pot is followed until it asks: whole, three of them would be a tangle."""
    return min(hours, curve.watered_h[0] if curve.watered_h else hours)


def days_shown(w: Watering) -> int:
    """Ten days, four where the pot in hand asks for water within a day and a half."""
    curve = w.first.curve
    return QUICK_DAYS if curve is not None and curve.asks_h <= 36 else DAYS


def draw_drying(painter: QPainter, w: Watering, theme: Theme, box: QRectF, hour: int, keep: Keep) -> None:
    """Water as a share of the mix by the hour; too wet above, due below; the pot in hand bold."""
    first = w.first.curve
    known = [(n, b) for n, b in enumerate(w.bowls) if b.curve is not None]
    if first is None or not known:
        painter.setPen(theme.color("quiet"))
        painter.setFont(fonts.text(13))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), w.first.why)
        return
    t = theme
    days = days_shown(w)
    hours = days * 24 + 1
    lowest = min(float(b.curve.share.min()) for _, b in known if b.curve)
    highest = max(float(b.curve.share.max()) for _, b in known if b.curve)
    span = max(highest - lowest, 0.02)
    low, high = max(0.0, min(lowest, first.dry_line) - 0.35 * span), highest + 0.16 * span

    def x(h: Any) -> Any:
        return box.left() + h / (days * 24) * box.width()

    def y(share: Any) -> Any:
        return box.bottom() - (share - low) / (high - low) * box.height()

    keep(painter, "days", (t.name, fonts.scaled(100), days, box.getRect()), lambda p: _days(p, t, box, days))
    step = 0.05 if span < 0.2 else 0.1
    for share in np.arange(np.ceil(low / step) * step, high, step):
        painter.setPen(QPen(t.color("rule", 0.7), 1))
        painter.drawLine(QLineF(box.left(), y(share), box.right(), y(share)))
        words(painter, t, f"{share:.0%}", box.left() - 7, y(share) + 4, "quiet", font=fonts.text(12), align="right")
    _bands(
        painter,
        t,
        keep,
        box,
        y(first.wet_line) if first.wet_line < first.drained_share - 1e-6 else None,
        y(first.dry_line),
    )
    for n, bowl in reversed(known):
        assert bowl.curve is not None
        _curve(
            painter,
            t,
            bowl.curve.share[: hours if n == 0 else first_part(bowl.curve, hours)],
            x,
            y,
            "indigo" if n == 0 else "ink",
            2.6 if n == 0 else 1.3,
            DASHES[min(n, 2)],
        )
        for h in [h for h in bowl.curve.watered_h[:1] if h < hours]:
            _drop(painter, t, QPointF(x(h), box.bottom() - 7), full=n == 0)
    if w.tilted is not None:
        part = max(first_part(w.tilted, min(hours, 72)), 2)
        _curve(painter, t, w.tilted.share[:part], x, y, "indigo", 1.4, (3.0, 2.0))
        spot = QPointF(x(part - 1) + 6, y(float(w.tilted.share[part - 1])) - 4)
        words(
            painter, t, f"tilted {w.tilt_deg:.0f}°", spot.x(), spot.y(), "indigo", font=fonts.text(12), ground="sheet"
        )
    if np.isfinite(first.wet_h) and first.wet_h > 0:
        told = f"{first.wet_h:.0f} h with too little air; {FOOT_FITS_H:.0f} h are usual"
        painter.setPen(QPen(t.color("indigo"), 1))
        level = box.top() + fonts.scaled(14)
        until = min(x(first.wet_h), box.right())
        painter.drawLine(QLineF(x(0), level, until, level))
        for end in (x(0), until):
            painter.drawLine(QLineF(end, level - 4, end, level + 4))
        words(painter, t, told, x(first.wet_h) + 8, level + 4, "indigo", font=fonts.text(13, bold=True), ground="sheet")
    shown = min(hour, days * 24)
    spot = QPointF(x(shown), y(float(first.share[shown])))
    painter.setPen(QPen(t.color("indigo"), 1.6))
    painter.setBrush(t.color("sheet"))
    painter.drawEllipse(spot, 4.5, 4.5)


def _days(painter: QPainter, t: Theme, box: QRectF, days: int) -> None:
    """Nights as stripes, from eight in the evening to six in the morning, and the axis of days."""
    each = box.width() / days
    for day in range(days + 1):
        a, b = (box.left() + (day * 24 + h - START_H) / 24 * each for h in (20, 30))
        a, b = max(a, box.left()), min(b, box.right())
        if a < b:
            painter.fillRect(QRectF(a, box.top(), b - a, box.height()), t.color("panel", 0.75))
    painter.setPen(QPen(t.color("ink"), 1.2))
    painter.drawLine(QLineF(box.left(), box.bottom(), box.right(), box.bottom()))
    foot, small = box.bottom() + fonts.scaled(16), fonts.text(12)
    for day in range(days + 1):
        x = box.left() + day * each
        painter.drawLine(QLineF(x, box.bottom(), x, box.bottom() + 4))
        words(painter, t, f"{day}", x, foot, "quiet", font=small, align="center")
    told = "days after watering, no rain"
    words(painter, t, told, box.right(), foot + fonts.scaled(16), "quiet", font=small, align="right")


def _bands(painter: QPainter, t: Theme, keep: Keep, box: QRectF, wet_y: float | None, dry_y: float) -> None:
    """Too little air above one line, water due below the other."""
    rows = [(QRectF(box.left(), dry_y, box.width(), box.bottom() - dry_y), "ochre", "water is due")]
    if wet_y is not None:
        rows.append((QRectF(box.left(), box.top(), box.width(), wet_y - box.top()), "indigo", "too little air"))
    for area, role, told in rows:
        if area.height() <= 0:
            continue
        path = QPainterPath()
        path.addRect(area)
        painter.fillPath(path, t.color(f"{role}_tint", 0.55))
        place = (role, t.name, round(area.top()), round(area.bottom()), round(area.width()))
        color = t.color(f"{role}_fill", 0.55)
        keep(painter, told, place, lambda p, path=path, color=color: hatch(p, path, color, 1.0, angle_deg=40, gap_px=9))  # type: ignore[misc]
        line = area.top() if role == "ochre" else area.bottom()
        painter.setPen(QPen(t.color(role), 1.2))
        painter.drawLine(QLineF(area.left(), line, area.right(), line))
        at = line + fonts.scaled(15) if role == "ochre" else line - 5
        right = box.right() - 8
        words(painter, t, told, right, at, role, font=fonts.text(12, bold=True), align="right", ground="sheet")


def _curve(painter: QPainter, t: Theme, share: Floats, x, y, role: str, wide: float, dashes: Sequence[float]) -> None:  # type: ignore[no-untyped-def]
    pen = QPen(t.color(role), wide)
    if dashes:
        pen.setDashPattern(list(dashes))
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPolyline(polygon(np.column_stack([x(np.arange(len(share))), -y(share)])))


def _drop(painter: QPainter, t: Theme, at: QPointF, *, full: bool) -> None:
    """A drop: here the pot asks for water."""
    path = QPainterPath(QPointF(at.x(), at.y() - 8))
    path.cubicTo(QPointF(at.x() + 6, at.y() - 1), QPointF(at.x() + 4, at.y() + 5), QPointF(at.x(), at.y() + 5))
    path.cubicTo(QPointF(at.x() - 4, at.y() + 5), QPointF(at.x() - 6, at.y() - 1), QPointF(at.x(), at.y() - 8))
    painter.setPen(QPen(t.color("indigo"), 1.2))
    painter.setBrush(t.color("indigo") if full else t.color("sheet"))
    painter.drawPath(path)


def draw_depths(
    painter: QPainter, w: Watering, depths: Depths | None, theme: Theme, box: QRectF, u: Units, why: str
) -> None:
    """Water by height over the floor at some hours; the lowest third with what it may hold at most."""
    t, blend = theme, w.first.f.case.blend
    painter.setPen(QPen(t.color("ink"), 1.2))
    painter.drawLine(QLineF(box.left(), box.bottom(), box.right(), box.bottom()))
    painter.drawLine(QLineF(box.left(), box.top(), box.left(), box.bottom()))
    if depths is None or blend is None:
        text = w.first.why or why or "Reckoning water by depth…"
        painter.setPen(t.color("quiet"))
        painter.setFont(fonts.text(12))
        painter.drawText(box.adjusted(8, 8, -4, -8), int(Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap), text)
        return
    tall, most = float(depths.z_mm[-1] + depths.z_mm[0]), blend.phi_t

    def x(share: Any) -> Any:
        return box.left() + share / most * box.width()

    def y(z: Any) -> Any:
        return box.bottom() - z / tall * box.height()

    for z in (0.0, tall):
        words(
            painter,
            t,
            u.figure(z) if z else u.mm(0),
            box.left() - 5,
            y(z) + 4,
            "quiet",
            font=fonts.text(11),
            align="right",
        )
    need = w.first.f.case.air_need
    if need is not None:
        third = QRectF(x(most - need / 2), y(tall / 3), box.right() - x(most - need / 2), box.bottom() - y(tall / 3))
        path = QPainterPath()
        path.addRect(third)
        painter.fillPath(path, t.color("indigo_tint", 0.6))
        hatch(painter, path, t.color("indigo_fill", 0.6), 1.0, angle_deg=40, gap_px=7)
    painter.setPen(QPen(t.color("rule"), 1))
    painter.drawLine(QLineF(box.left(), y(tall / 3), box.right(), y(tall / 3)))
    words(painter, t, "lowest third", box.left() + 5, y(tall / 3) - 4, "quiet", font=fonts.text(11))
    for hour in SHOWN_H:
        k = int(np.flatnonzero(depths.drying.hours >= hour)[0])
        share = depths.drying.water[k]
        bold = hour in (1.0, 24.0)
        painter.setPen(QPen(t.color("indigo" if bold else "ink"), 2.0 if bold else 1.1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(polygon(np.column_stack([x(share), -y(depths.z_mm)])))
        # named at the surface, where the lines lie farthest apart
        at = {1.0: 0.90, 6.0: 0.78, 24.0: 0.66, 72.0: 0.54}[hour]
        row = int(at * (len(depths.z_mm) - 1))
        words(painter, t, f"{hour:.0f} h", x(float(share[row])) + 4, y(float(depths.z_mm[row])) + 4, "indigo" if bold else "ink",
              font=fonts.text(11, bold=bold), ground="sheet")  # fmt: skip
    for share in (0.2, 0.4, 0.6):
        if share < most:
            painter.setPen(QPen(t.color("ink"), 1))
            painter.drawLine(QLineF(x(share), box.bottom(), x(share), box.bottom() + 4))
            words(
                painter,
                t,
                f"{share:.0%}",
                x(share),
                box.bottom() + fonts.scaled(16),
                "quiet",
                font=fonts.text(12),
                align="center",
            )
