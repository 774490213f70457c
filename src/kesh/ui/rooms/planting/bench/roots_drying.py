"""A root along the line of minutes: wet and white-tipped ahead, drying brown behind."""

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPainterPath, QPen

from kesh.figure.line import Chance
from kesh.ui.theme.tokens import Theme, mixed


def draw_drying_root(p: QPainter, t: Theme, box: QRectF, share: float, s: float) -> None:
    """`share` of its length has dried: shrunken and brown up to there, plump with a film of water beyond."""
    at = box.left() + share * box.width()
    middle = box.center().y()
    x = np.linspace(box.left(), box.right(), 80)
    wave = middle + 0.10 * box.height() * np.sin((x - box.left()) / box.width() * 7)
    chance = Chance(11, "drying")
    sides = []
    for k in range(13):
        where = box.left() + (k + 0.5) / 13 * box.width()
        up = -1 if k % 2 else 1
        sides.append((where, up, float(chance.many(1, 0.24, 0.42)[0])))
    for dry in (True, False):
        p.save()
        p.setClipRect(
            QRectF(box.left(), box.top(), at - box.left(), box.height())
            if dry
            else QRectF(at, box.top(), box.right() - at, box.height())
        )
        main = QPainterPath(QPointF(float(x[0]), float(wave[0])))
        for u, v in zip(x[1:].tolist(), wave[1:].tolist(), strict=True):
            main.lineTo(u, v)
        wide = (7 if dry else 15) * s
        bark = t.color("ochre") if dry else mixed(t.color("bark"), t.color("sheet"), 0.25)
        if not dry:
            _stroke(p, main, t.color("indigo_tint"), wide + 12 * s)
        _stroke(p, main, bark, wide)
        for where, up, long in sides:
            y = float(np.interp(where, x, wave))
            side = QPainterPath(QPointF(where, y))
            tip = QPointF(
                where + 0.11 * box.width() * (0.6 if dry else 1.0),
                y + up * long * box.height() * (0.75 if dry else 1.0),
            )
            side.quadTo(QPointF(where + 0.03 * box.width(), y + up * 0.7 * long * box.height()), tip)
            if not dry:
                _stroke(p, side, t.color("indigo_tint"), 13 * s)
            _stroke(p, side, bark, (2.2 if dry else 5.5) * s)
            if not dry:
                p.setPen(QPen(t.color("sheet"), 4.5 * s, cap=Qt.PenCapStyle.RoundCap))
                p.drawPoint(tip)
        p.restore()


def _stroke(p: QPainter, path: QPainterPath, color: object, wide: float) -> None:
    p.setPen(QPen(color, wide, cap=Qt.PenCapStyle.RoundCap, join=Qt.PenJoinStyle.RoundJoin))  # type: ignore[call-overload]
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)
