"""Shapes of a special planting on the screen and on paper: what rock, moss, mud, wire and the rest look like."""

from collections.abc import Iterable

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPainterPath, QPen, QPolygonF

from kesh.figure.line import Chance
from kesh.figure.overlay import Area, Layer, Note, Overlay, Point, Shape, Size, Stroke
from kesh.ui.paint.marks import dimension, extension, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paint.tree_painter import draw_lines
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import STATUS_ROLE, Theme, mixed

GREY_LIGHT, GREY_MID, GREY_DARK = QColor("#D8D3C8"), QColor("#A9A399"), QColor("#6F6A62")
MUD = QColor("#7A6247")


def draw_overlay(p: QPainter, t: Theme, overlay: Overlay, plane: Plane, layer: Layer) -> None:
    """Areas and strokes of one layer, in their order."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    for n, shape in enumerate(overlay.shapes):
        if isinstance(shape, Area) and shape.layer == layer:
            _area(p, t, shape, plane, n)
        elif isinstance(shape, Stroke) and shape.layer == layer:
            _stroke(p, t, shape, plane)
    p.restore()


def draw_marks(p: QPainter, t: Theme, shapes: Iterable[Shape], plane: Plane, *, right_px: float = 1e9) -> None:
    """Sizes and words, over everything else; words keep left of `right_px`."""
    p.save()
    p.setRenderHint(QPainter.RenderHint.Antialiasing)
    for shape in shapes:
        if isinstance(shape, Size):
            _size(p, t, shape, plane)
        elif isinstance(shape, Note):
            _note(p, t, shape, plane, right_px)
    p.restore()


def _path(points: tuple[Point, ...], plane: Plane, *, closed: bool) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(QPolygonF([plane.px(*q) for q in points]))
    if closed:
        path.closeSubpath()
    return path


def _area(p: QPainter, t: Theme, area: Area, plane: Plane, seed: int) -> None:
    path = _path(area.points, plane, closed=True)
    box = path.boundingRect()
    p.setPen(Qt.PenStyle.NoPen)
    stuff = area.stuff
    if stuff in ("rock", "weight"):
        _rock(p, t, path, box, seed)
        return
    if stuff == "air":
        p.fillPath(path, t.color("sheet"))
        return
    if stuff == "moss":
        p.fillPath(path, mixed(t.color("moss_fill"), t.color("leaf_mid"), 0.35))
        _tufts(p, t, path, box, seed)
        outline = QPen(t.color("leaf_dark"), 0.9)
    elif stuff in ("mud", "soil", "mulch"):
        base = MUD if stuff == "mud" else t.color("soil")
        p.fillPath(path, mixed(base, t.color("sheet"), {"mud": 0.25, "soil": 0.62, "mulch": 0.4}[stuff]))
        _dots(p, path, box, mixed(base, t.color("ink"), 0.25), seed, 26 if stuff == "soil" else 15)
        outline = QPen(t.color("bark_dark", 0.8), 0.9)
    elif stuff == "tube":
        p.fillPath(path, mixed(t.color("edge"), t.color("sheet"), 0.55))
        outline = QPen(t.color("ink"), 1.1)
    elif stuff == "wood":
        shade = QLinearGradient(box.left(), 0, box.right(), 0)
        shade.setColorAt(0, mixed(t.color("bark"), t.color("sheet"), 0.35))
        shade.setColorAt(1, t.color("bark"))
        p.fillPath(path, shade)
        outline = QPen(t.color("ink"), 1.0)
    elif stuff == "root":
        p.fillPath(path, t.color("bark", 0.22))
        outline = QPen(t.color("bark_dark", 0.8), 1.0, Qt.PenStyle.DashLine)
    elif stuff == "sector":
        p.fillPath(path, t.color("ochre_fill", 0.30))
        hatch(p, path, t.color("ochre"), 1.0, gap_px=6)
        outline = QPen(t.color("ochre"), 1.4)
    elif stuff == "plant":
        p.fillPath(path, t.color("leaf_mid"))
        outline = QPen(t.color("leaf_dark"), 0.7)
    elif stuff == "water":
        p.fillPath(path, t.color("indigo_fill", 0.38))
        outline = QPen(Qt.PenStyle.NoPen)
    elif stuff == "figure":
        p.fillPath(path, mixed(t.color("oxide_fill"), t.color("sheet"), 0.2))
        outline = QPen(t.color("oxide"), 1.0)
    elif stuff == "paste":
        p.fillPath(path, t.color("ochre_fill"))
        outline = QPen(t.color("ochre"), 1.0)
    else:
        p.fillPath(path, t.color("edge", 0.18))
        outline = QPen(t.color("edge"), 1.0, Qt.PenStyle.DashLine)
    p.setPen(outline)
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)


def _rock(p: QPainter, t: Theme, path: QPainterPath, box: QRectF, seed: int) -> None:
    """Stone lit from the upper left: a wash, a few broken faces, some cracks."""
    shade = QLinearGradient(box.topLeft(), box.bottomRight())
    ground = t.color("sheet")
    dim = 0.12 if not t.is_dark else 0.0
    shade.setColorAt(0.0, mixed(GREY_LIGHT, ground, dim))
    shade.setColorAt(0.55, mixed(GREY_MID, ground, dim))
    shade.setColorAt(1.0, mixed(GREY_DARK, ground, dim))
    p.fillPath(path, shade)
    p.save()
    p.setClipPath(path, Qt.ClipOperation.IntersectClip)
    chance = Chance(seed + 3, "rock")
    count = int(np.clip(box.width() * box.height() / 900, 4, 46))
    x, y = chance.many(count, box.left(), box.right()), chance.many(count, box.top(), box.bottom())
    long, turn, tone = chance.many(count, 0.08, 0.24), chance.many(count, -0.9, 0.5), chance.many(count)
    for k in range(count):
        r = float(long[k]) * max(box.width(), 20.0)
        face = QPolygonF(
            [
                QPointF(x[k] + r * np.cos(turn[k] + a), y[k] + 0.62 * r * np.sin(turn[k] + a))
                for a in (0.2, 1.4, 2.7, 3.9, 5.2)
            ]
        )
        p.setPen(QPen(QColor(60, 56, 50, 60), 0.7))
        p.setBrush(QColor(255, 252, 244, 34) if tone[k] > 0.5 else QColor(50, 46, 42, 30))
        p.drawPolygon(face)
    p.restore()
    p.setPen(QPen(t.color("ink"), 1.3))
    p.setBrush(Qt.BrushStyle.NoBrush)
    p.drawPath(path)


def _dots(p: QPainter, path: QPainterPath, box: QRectF, color: QColor, seed: int, every: float) -> None:
    count = int(min(box.width() * box.height() / (every * every) * 2.2, 1200))
    if count < 1:
        return
    chance = Chance(seed + 11, "dots")
    x, y, r = (
        chance.many(count, box.left(), box.right()),
        chance.many(count, box.top(), box.bottom()),
        chance.many(count, 0.7, 1.7),
    )
    p.save()
    p.setClipPath(path, Qt.ClipOperation.IntersectClip)
    p.setPen(Qt.PenStyle.NoPen)
    p.setBrush(color)
    for a, b, c in zip(x.tolist(), y.tolist(), r.tolist(), strict=True):
        p.drawEllipse(QPointF(a, b), c, 0.8 * c)
    p.restore()


def _tufts(p: QPainter, t: Theme, path: QPainterPath, box: QRectF, seed: int) -> None:
    count = int(min(box.width() * box.height() / 16, 1600))
    if count < 1:
        return
    chance = Chance(seed + 5, "tufts")
    x, y = chance.many(count, box.left(), box.right()), chance.many(count, box.top(), box.bottom())
    lean, tall, tone = chance.many(count, -1.6, 1.6), chance.many(count, 2.0, 4.6), chance.many(count)
    p.save()
    p.setClipPath(path, Qt.ClipOperation.IntersectClip)
    for k, role in enumerate(("leaf_dark", "leaf_mid", "leaf_light")):
        rows = np.flatnonzero(np.floor(tone * 3) == k)
        p.setPen(QPen(t.color(role), 1.0))
        draw_lines(p, [QLineF(x[i], y[i], x[i] + lean[i], y[i] - tall[i]) for i in rows.tolist()])
    p.restore()


def _stroke(p: QPainter, t: Theme, stroke: Stroke, plane: Plane) -> None:
    path = _path(stroke.points, plane, closed=False)
    wide = stroke.width_mm * plane.px_mm
    role = {"wire": "indigo", "wood": "bark", "root": "bark", "moss": "leaf_mid", "cut": "oxide", "tube": "edge", "ghost": "edge", "paste": "ochre", "water": "indigo", "plant": "leaf_mid", "mulch": "bark_dark"}.get(stroke.stuff, "ink")  # fmt: skip
    p.setBrush(Qt.BrushStyle.NoBrush)
    cap, join = Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin
    if stroke.stuff in ("root", "wood", "moss", "tube") and wide > 2.2 and not stroke.dashed:
        outer = t.color("ink", 0.85) if stroke.stuff != "moss" else t.color("leaf_dark")
        p.setPen(QPen(outer, wide + 1.6, Qt.PenStyle.SolidLine, cap, join))
        p.drawPath(path)
        inner = mixed(t.color(role), t.color("sheet"), 0.28 if stroke.stuff != "moss" else 0.0)
        p.setPen(QPen(inner, wide, Qt.PenStyle.SolidLine, cap, join))
        p.drawPath(path)
        if stroke.stuff != "moss":
            p.save()
            p.translate(-0.18 * wide, -0.1 * wide)
            p.setPen(QPen(mixed(t.color(role), t.color("sheet"), 0.62), 0.3 * wide, Qt.PenStyle.SolidLine, cap, join))
            p.drawPath(path)
            p.restore()
        return
    pen = QPen(t.color(role), max(wide, 1.2 if stroke.stuff != "wire" else 1.5), Qt.PenStyle.SolidLine, cap, join)
    if stroke.dashed:
        pen.setDashPattern([4, 3])
        pen.setWidthF(1.2)
    p.setPen(pen)
    p.drawPath(path)


def _size(p: QPainter, t: Theme, size: Size, plane: Plane) -> None:
    a, b = plane.px(*size.a), plane.px(*size.b)
    shift = QPointF(0, -size.away_px) if size.level else QPointF(size.away_px, 0)
    role = "ink" if size.status == "fits" else STATUS_ROLE.get(size.status, "ink")
    for q in (a, b):
        extension(p, t, q, q + shift)
    side = 1 if size.away_px > 0 else -1
    dimension(p, t, a + shift, b + shift, size.text, role, side=0 if size.level else side)


def _note(p: QPainter, t: Theme, note: Note, plane: Plane, right_px: float) -> None:
    at = plane.px(*note.at)
    if note.align == "left" and not note.flag:
        over = at.x() + fonts.width(fonts.text(12, bold=note.to is not None), note.text) - right_px
        if over > 0:
            at -= QPointF(over, 0)
    role = STATUS_ROLE.get(note.status, "ink")
    if note.flag == "round":
        r = fonts.scaled(8)
        p.setPen(QPen(t.color(role), 1.4))
        p.setBrush(t.color("sheet"))
        p.drawEllipse(at, r, r)
        words(p, t, note.text, at.x(), at.y() + 4.5, role, font=fonts.text(12, bold=True), align="center")
        return
    if note.to is not None:
        p.setPen(QPen(t.color("indigo", 0.8), 0.9))
        end = plane.px(*note.to)
        p.drawLine(QLineF(end, at + QPointF(-3 if at.x() > end.x() else 3, -4)))
    words(
        p,
        t,
        note.text,
        at.x(),
        at.y(),
        role,
        font=fonts.text(12, bold=note.to is not None),
        align=note.align,
        ground="sheet" if note.to is None else None,
    )
