"""Paint for a grown tree: ink line over layered wash. It decides nothing about shape."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from PyQt6.QtCore import QByteArray, QDataStream, QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QImage, QPainter, QPainterPath, QPen, QPolygonF
from shapely.geometry.base import BaseGeometry

from kesh.figure.foliage import Mass
from kesh.figure.line import Chance, normals
from kesh.figure.tree_figure import TreeFigure
from kesh.figure.wood import Wood
from kesh.geometry.outline import Floats
from kesh.ui.theme.tokens import Theme, mixed

MARGIN_MM = 12.0


@dataclass(frozen=True)
class Paint:
    """Colours of one tree under one theme."""

    bark: QColor
    bark_dark: QColor
    tones: tuple[QColor, ...]
    ink: QColor
    ground: QColor
    bloom: QColor | None
    bloom_share: float = 0.13
    on_dark: bool = False


def paint_for(
    theme: Theme, bark_hex: str, leaf_hex: str, bloom_hex: str | None = None, *, fruit: bool = False
) -> Paint:
    """Tones from the species' colours and the theme's leaf and bark."""
    leaf, ground = QColor(leaf_hex), theme.color("sheet")
    mid = mixed(leaf, theme.color("leaf_mid"), 0.42)
    dark = mixed(mixed(leaf, QColor("#1E2614"), 0.62), theme.color("leaf_dark"), 0.40)
    light = mixed(mixed(leaf, QColor("#E6E3A8"), 0.52), theme.color("leaf_light"), 0.35)
    tones: tuple[QColor, ...] = (dark, mixed(dark, mid, 0.55), mid, mixed(mid, light, 0.55), light)
    if theme.is_dark:
        tones = tuple(mixed(t, QColor("#000000"), 0.16) for t in tones)
    bark = mixed(mixed(QColor(bark_hex), theme.color("bark"), 0.45), ground, 0.18)
    ink = mixed(theme.color("ink"), theme.color("bark_dark"), 0.4) if not theme.is_dark else QColor("#0E0C0A")
    return Paint(
        bark,
        theme.color("bark_dark"),
        tones,
        ink,
        ground,
        QColor(bloom_hex) if bloom_hex else None,
        0.05 if fruit else 0.11,
        theme.is_dark,
    )


def polygon(points: Floats) -> QPolygonF:
    """Points (n, 2) as a polygon, y up turned into y down."""
    made = QPolygonF()
    made.fill(QPointF(), len(points))
    if len(points):
        # written straight into the polygon's own memory: thousands of points a frame are too many for one object each
        memory: Any = made.data().asarray(16 * len(points))
        held = np.frombuffer(memory, np.float64)
        held[0::2], held[1::2] = points[:, 0], -points[:, 1]
    return made


def closed_path(points: Floats) -> QPainterPath:
    """Points (n, 2) as a closed path, y up turned into y down."""
    path = QPainterPath()
    path.addPolygon(polygon(points))
    path.closeSubpath()
    return path


ELEMENT = np.dtype([("kind", ">i4"), ("x", ">f8"), ("y", ">f8")])


def closed_paths(points: Floats) -> QPainterPath:
    """Many shapes of as many points each (n, k, 2) as one path, y up turned into y down."""
    # read from a stream as Qt itself writes a path: thousands of leaves are too many for a call each
    n, k = points.shape[:2]
    rows = np.zeros((n, k + 1), ELEMENT)
    rows["kind"][:, 1:] = 1
    rows["x"][:, :k], rows["y"][:, :k] = points[..., 0], -points[..., 1]
    rows["x"][:, k], rows["y"][:, k] = points[:, 0, 0], -points[:, 0, 1]
    ends = np.array([n * (k + 1) - k - 1, 1], ">i4")
    path = QPainterPath()
    if n:
        # PyQt's own stubs leave the path out
        stream: Any = QDataStream(QByteArray(np.array([rows.size], ">i4").tobytes() + rows.tobytes() + ends.tobytes()))
        stream >> path
    return path


def _faded(color: QColor, paint: Paint, z: float, height: float) -> QColor:
    share = 0.42 * float(np.clip(-z / (0.22 * height), 0, 1))
    return mixed(color, paint.ground, share) if share > 0.01 else color


def _wood(painter: QPainter, piece: Wood, paint: Paint, height: float, px_mm: float, bark: str, seed: int) -> None:
    outline = polygon(piece.ring)
    fade = piece.depth if piece.kind == "limb" else 0.0
    base, dark, ink = (_faded(c, paint, fade, height) for c in (paint.bark, paint.bark_dark, paint.ink))
    thin = float(np.sort(piece.radius)[len(piece.radius) // 2]) * px_mm < 1.0
    line = QColor(ink)
    if piece.kind == "root":
        line.setAlphaF(0.45)
    pen = QPen(line, 0.8 / px_mm)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    if not thin and piece.kind != "root":
        painter.save()
        painter.translate(0.75 / px_mm, 0.6 / px_mm)
        painter.setPen(pen)
        painter.setBrush(ink)
        painter.drawPolygon(outline)
        painter.restore()
    painter.setPen(Qt.PenStyle.NoPen if thin else pen)
    painter.setBrush(dark if thin and not paint.on_dark else base)
    painter.drawPolygon(outline)
    if thin:
        return
    clip = QPainterPath()
    clip.addPolygon(outline)
    clip.closeSubpath()
    painter.save()
    painter.setClipPath(clip)
    side = normals(piece.line) * piece.radius[:, None]
    # the shaded flank lies to the right of an upright line, below a level one
    tangent = np.gradient(piece.line[:, :2], axis=0)
    toward = np.where(side[:, 0] * 0.75 - side[:, 1] * 0.65 > 0, 1.0, -1.0)
    toward = np.where(np.abs(tangent[:, 1]) > np.abs(tangent[:, 0]) * 4, np.sign(side[:, 0]), toward)
    side = side * np.convolve(np.pad(toward, 6, mode="edge"), np.ones(13) / 13, mode="valid")[:, None]
    chance = Chance(seed, "shade", piece.limb + 7)
    painter.setPen(Qt.PenStyle.NoPen)
    for u, alpha in ((-0.42, 0.09), (0.0, 0.13), (0.32, 0.17), (0.62, 0.24)):
        wave = u + 0.10 * np.sin(np.linspace(0, 9, len(side)) + chance.uniform(0, 6))
        inner = piece.line[:, :2] + side * wave[:, None]
        outer = piece.line[:, :2] + side * 1.25
        color = QColor(dark)
        color.setAlphaF(alpha)
        painter.setBrush(color)
        painter.drawPolygon(polygon(np.vstack([inner, outer[::-1]])))
    if piece.kind == "trunk" and px_mm > 0.25:
        _bark(painter, piece, side, dark, px_mm, bark, chance)
    painter.restore()


def _bark(painter: QPainter, piece: Wood, side: Floats, dark: QColor, px_mm: float, bark: str, chance: Chance) -> None:
    length = float(np.sum(np.linalg.norm(np.diff(piece.line[:, :2], axis=0), axis=1)))
    area = 2 * float(np.mean(piece.radius)) * length
    each, long, wide = {
        "plates": (46, 0.030, 1.0), "fibres": (60, 0.075, 0.9), "furrows": (60, 0.050, 1.0), "cork": (70, 0.040, 1.5),
    }.get(bark, (300, 0.06, 0.8))  # fmt: skip
    count = int(min(1100, area / each * (0.35 if px_mm < 0.6 else 0.8 if px_mm < 1.2 else 1.0)))
    at, across = chance.many(count, 0.0, 0.97), chance.many(count, -0.95, 0.95)
    reach, bend, roll = chance.many(count, 0.5, 1.2) * long, chance.many(count, -0.14, 0.14), chance.many(count)
    n = len(piece.line) - 1
    groups: list[QPainterPath] = [QPainterPath() for _ in range(3)]
    for i in range(count):
        t = np.linspace(at[i], min(at[i] + reach[i], 0.985), 4)
        idx = np.minimum((t * n).astype(int), n)
        u = across[i] + bend[i] * np.array([0, 0.6, 1.0, 0.5])
        p = piece.line[idx, :2] + side[idx] * u[:, None]
        shade = (0.35 + 0.65 * (across[i] + 1) / 2) * (0.6 + 0.4 * roll[i])
        path = groups[min(2, int(shade * 3))]
        path.moveTo(p[0, 0], -p[0, 1])
        for x, y in p[1:].tolist():
            path.lineTo(x, -y)
        if bark in ("plates", "cork") and roll[i] < 0.5:
            cross = piece.line[idx[-1], :2] + side[idx[-1]] * np.clip(u[-1] + 0.26, -0.95, 0.95)
            path.lineTo(cross[0], -cross[1])
    painter.setBrush(Qt.BrushStyle.NoBrush)
    for path, alpha in zip(groups, (0.16, 0.34, 0.55), strict=True):
        if path.isEmpty():
            # on paper a stroke of nothing would close a path that never began
            continue
        color = QColor(dark)
        color.setAlphaF(alpha)
        painter.setPen(QPen(color, wide * (0.55 + 0.35 * min(px_mm, 1.5)) / px_mm))
        painter.drawPath(path)


def _mass_wash(painter: QPainter, mass: Mass, paint: Paint, height: float, px_mm: float, flat: bool) -> None:
    dark, mid = (_faded(c, paint, mass.z, height) for c in (paint.tones[0], paint.tones[2]))
    ring = polygon(mass.ring)
    box = ring.boundingRect()
    painter.setPen(Qt.PenStyle.NoPen)
    wash = QColor(mixed(dark, mid, 0.30))
    wash.setAlphaF(0.55 if mass.airy else 0.90)
    painter.setBrush(wash)
    painter.drawPolygon(ring)
    clip = QPainterPath()
    clip.addPolygon(ring)
    painter.save()
    painter.setClipPath(clip)
    top = QColor(_faded(paint.tones[3], paint, mass.z, height) if flat else mid)
    top.setAlphaF(0.50 if mass.airy else 0.72)
    painter.setBrush(top)
    painter.drawEllipse(
        QRectF(box.x() - 0.12 * box.width(), box.y() - 0.25 * box.height(), box.width() * 1.05, box.height() * 0.98)
    )
    low = QColor(dark)
    low.setAlphaF(0.30)
    painter.setBrush(low)
    painter.drawEllipse(
        QRectF(box.x() + 0.05 * box.width(), box.y() + 0.62 * box.height(), box.width() * 1.1, box.height() * 0.7)
    )
    painter.restore()


def _strokes(
    figure: TreeFigure, rows: np.ndarray, count: int, spread: float, low: float, high: float, flat: float = 1.0
) -> Floats:
    """Stroke ends (n * count, 4) of fans of needles."""
    t = figure.tufts
    fan = np.linspace(-spread, spread, count)[None, :]
    wobble = np.modf(t.chance[rows, None] * 97.13 * (1 + np.arange(count))[None, :])[0]
    angle = t.angle[rows, None] + fan + (wobble - 0.5) * 0.25
    length = t.size[rows, None] * (low + (high - low) * wobble)
    x, y = np.repeat(t.x[rows], count), np.repeat(t.y[rows], count)
    dx, dy = (length * np.cos(angle)).ravel(), (length * np.sin(angle)).ravel() * flat
    return np.column_stack([x, y, x + dx, y + dy])


LEAF_SHAPE = {
    "oval": ((0, 0), (0.32, 0.30), (0.70, 0.26), (1.0, 0), (0.70, -0.26), (0.32, -0.30)),
    "small": ((0, 0), (0.35, 0.34), (0.85, 0.22), (1.0, 0), (0.85, -0.22), (0.35, -0.34)),
    "narrow": ((0, 0), (0.4, 0.13), (1.1, 0), (0.4, -0.13)),
    "palm": ((0, 0), (0.18, 0.40), (0.46, 0.16), (1.0, 0), (0.46, -0.16), (0.18, -0.40)),
    "fan": ((0, 0), (0.55, 0.48), (0.85, 0.30), (0.70, 0.02), (0.85, -0.30), (0.55, -0.48)),
}  # fmt: skip


def _leaf_path(figure: TreeFigure, rows: np.ndarray, shape: str, grow: float) -> QPainterPath:
    t = figure.tufts
    form = np.array(LEAF_SHAPE[shape])
    path = QPainterPath()
    for turn, step in ((0.0, 0.0), (2.1, 0.30)):
        angle = t.angle[rows] + turn
        c, s = np.cos(angle)[:, None], np.sin(angle)[:, None]
        size = t.size[rows, None] * grow
        x = (
            t.x[rows, None]
            + step * size * c
            + size * (form[None, :, 0] * c - form[None, :, 1] * s) * 0.8
            - 0.35 * size * c
        )
        y = t.y[rows, None] + step * size * s + size * (form[None, :, 0] * s + form[None, :, 1] * c) * 0.62
        path.addPath(closed_paths(np.stack([x, y], axis=-1)))
    path.setFillRule(Qt.FillRule.WindingFill)
    return path


PINNAE, STEPS = 26, 11


def _long_leaves(
    painter: QPainter, figure: TreeFigure, rows: np.ndarray, color: QColor, paint: Paint, px_mm: float
) -> None:
    """Straps that arch and hang at their tips; fronds are the same line with leaflets on both sides."""
    t = figure.tufts
    frond = figure.sitter.foliage == "frond"
    painter.setBrush(color)
    for i in rows.tolist():
        c, s, long = float(np.cos(t.angle[i])), float(np.sin(t.angle[i])), float(t.size[i])
        # a leaf rises along its angle and sinks by how far it reaches out
        x, y = (
            t.x[i] + long * np.array([0, 0.5, 1.0]) * c,
            t.y[i] + long * (np.array([0, 0.55, 1.0]) * s - np.array([0, 0.0, 0.30]) * abs(c)),
        )
        share = np.linspace(0, 1, (PINNAE if frond else STEPS) + 1)
        bx = (1 - share) ** 2 * x[0] + 2 * share * (1 - share) * x[1] + share**2 * x[2]
        by = (1 - share) ** 2 * y[0] + 2 * share * (1 - share) * y[1] + share**2 * y[2]
        across = np.array([-(by[-1] - by[0]), bx[-1] - bx[0]]) / max(
            float(np.hypot(bx[-1] - bx[0], by[-1] - by[0])), 1e-6
        )
        if frond:
            painter.setPen(QPen(color, max(0.9, 0.9 * px_mm) / px_mm))
            painter.drawPolyline(QPolygonF([QPointF(a, -b) for a, b in zip(bx.tolist(), by.tolist(), strict=True)]))
            for k in range(4, PINNAE + 1):
                leaf = 0.17 * long * np.sin(np.pi * share[k] ** 0.8)
                for side in (-1.0, 1.0):
                    tip = (
                        bx[k] + side * across[0] * leaf + 0.10 * long * c,
                        by[k] + side * across[1] * leaf + 0.04 * long * s,
                    )
                    painter.drawLine(QLineF(bx[k], -by[k], float(tip[0]), -float(tip[1])))
            continue
        wide = 0.030 * long * np.sin(np.pi * np.clip(0.16 + 0.84 * share, 0, 1)) ** 0.7
        left = np.column_stack([bx + across[0] * wide, by + across[1] * wide])
        right = np.column_stack([bx - across[0] * wide, by - across[1] * wide])[::-1]
        edge = mixed(color, paint.ink, 0.25)
        painter.setPen(QPen(edge, 0.45 / px_mm) if px_mm > 0.5 else Qt.PenStyle.NoPen)
        painter.drawPolygon(QPolygonF([QPointF(a, -b) for a, b in np.vstack([left, right]).tolist()]))


def _tufts(painter: QPainter, figure: TreeFigure, index: int, mass: Mass, paint: Paint, px_mm: float) -> None:
    t, s = figure.tufts, figure.sitter
    rows = np.flatnonzero(t.mass == index)
    if px_mm < 0.3:
        rows = rows[:: 2 if s.foliage in ("needle", "larch") else 3]
    if not len(rows):
        return
    grow = 1.25 if px_mm < 0.3 else 1.0
    level = np.clip((t.lit[rows] * 5.4 - 0.3).astype(int), 0, 4)
    for tone in range(5):
        chosen = rows[level == tone]
        if not len(chosen):
            continue
        color = _faded(paint.tones[tone], paint, mass.z, s.height)
        if s.foliage in ("strap", "frond"):
            _long_leaves(painter, figure, chosen, color, paint, px_mm)
        elif s.foliage in ("needle", "larch", "spray", "pinnate"):
            fan = {
                "needle": (8, 0.62, 0.5, 1.0, 0.85),
                "larch": (9, 3.0, 0.5, 1.0, 0.62),
                "spray": (6, 0.5, 0.6, 1.25, 0.8),
                "pinnate": (9, 1.5, 0.4, 0.9, 0.7),
            }[s.foliage]
            ends = _strokes(figure, chosen, fan[0], fan[1], fan[2] * grow, fan[3] * grow, fan[4])
            pen = QPen(color, max(0.7, 0.75 * px_mm + 0.35) / px_mm)
            pen.setCapStyle(Qt.PenCapStyle.RoundCap)
            painter.setPen(pen)
            draw_lines(painter, (QLineF(a, -b, c, -d) for a, b, c, d in ends.tolist()))
        else:
            shape = s.foliage if s.foliage in LEAF_SHAPE else "oval"
            # an edge one can see through would go to paper as a shape of its own for every leaf
            edge = mixed(color, paint.ink, 0.22)
            painter.setPen(QPen(edge, 0.45 / px_mm) if px_mm > 0.5 else Qt.PenStyle.NoPen)
            painter.setBrush(color)
            painter.drawPath(_leaf_path(figure, chosen, shape, grow))
    if paint.bloom is not None and px_mm > 0.2:
        spots = rows[(t.lit[rows] > 0.42) & (t.chance[rows] < paint.bloom_share)]
        painter.setPen(QPen(mixed(paint.bloom, paint.ink, 0.35), 0.5 / px_mm))
        painter.setBrush(paint.bloom)
        r = max(1.4 / px_mm, 0.0105 * s.height)
        for i in spots.tolist():
            painter.drawEllipse(QPointF(t.x[i], -t.y[i]), r, r * 0.92)


def draw_tree(painter: QPainter, figure: TreeFigure, paint: Paint, px_mm: float) -> None:
    """Draw a tree with the painter at the trunk's foot, in mm, y down. px_mm chooses the detail."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    depth = {piece.group: piece.depth for piece in figure.wood if piece.kind == "trunk"}
    for group in sorted(depth, key=lambda g: depth[g]):
        _draw_group(painter, figure, group, depth[group], paint, px_mm)


def _draw_group(painter: QPainter, figure: TreeFigure, group: int, depth: float, paint: Paint, px_mm: float) -> None:
    """One trunk with what belongs to it, back to front."""
    s = figure.sitter
    own = [i for i, m in enumerate(figure.masses) if m.group == group]
    behind = [i for i in own if figure.masses[i].z - min(depth, 0.0) < -0.05 * s.height]
    front = [i for i in own if i not in set(behind)]
    limbs = [piece for piece in figure.wood if piece.kind == "limb" and piece.group == group]
    back_limbs = {figure.masses[i].limb for i in behind} - {figure.masses[i].limb for i in front}

    def wood(pieces: list[Wood]) -> None:
        for piece in pieces:
            _wood(painter, piece, paint, s.height, px_mm, s.bark, s.seed)

    def mass(i: int) -> None:
        long = s.foliage in ("strap", "frond")
        if not long:
            _mass_wash(painter, figure.masses[i], paint, s.height, px_mm, px_mm < 0.13)
        if px_mm >= 0.13 or long:
            _tufts(painter, figure, i, figure.masses[i], paint, px_mm)

    wood([p for p in limbs if p.limb in back_limbs])
    for i in behind:
        mass(i)
    wood([p for p in limbs if p.limb not in back_limbs])
    roots = [p for p in figure.wood if p.kind == "root" and p.group == group]
    wood([p for p in roots if p.depth <= 0])
    wood([p for p in figure.wood if p.kind == "trunk" and p.group == group])
    wood([p for p in roots if p.depth > 0])
    for i in front:
        mass(i)


def draw_trunk_alone(painter: QPainter, figure: TreeFigure, paint: Paint, px_mm: float) -> None:
    """Trunks and surface roots without limbs and leaves; the painter at the foot, in mm, y down."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    s = figure.sitter
    roots = [p for p in figure.wood if p.kind == "root"]
    trunks = [p for p in figure.wood if p.kind == "trunk"]
    for piece in (*(p for p in roots if p.depth <= 0), *trunks, *(p for p in roots if p.depth > 0)):
        _wood(painter, piece, paint, s.height, px_mm, s.bark, s.seed)


def tree_image(figure: TreeFigure, paint: Paint, px_mm: float, ratio: float = 1.0) -> tuple[QImage, QPointF]:
    """(picture, offset): where the picture's corner lies from the trunk's foot, in px at the wanted scale."""
    left, right, bottom, top = figure.bounds
    left, right, bottom, top = left - MARGIN_MM, right + MARGIN_MM, bottom - MARGIN_MM, top + MARGIN_MM
    width, height = (
        max(1, int(np.ceil((right - left) * px_mm * ratio))),
        max(1, int(np.ceil((top - bottom) * px_mm * ratio))),
    )
    image = QImage(width, height, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.scale(px_mm * ratio, px_mm * ratio)
    painter.translate(-left, top)
    draw_tree(painter, figure, paint, px_mm)
    painter.end()
    image.setDevicePixelRatio(ratio)
    return image, QPointF(left * px_mm, -top * px_mm)


def silhouette_path(shape: BaseGeometry) -> QPainterPath:
    """The outline of a tree's leaves and wood as one path in mm, y down."""
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.OddEvenFill)
    for part in shapely.get_parts(shape):
        for ring in (part.exterior, *part.interiors):
            path.addPolygon(polygon(np.asarray(ring.coords)))
            path.closeSubpath()
    return path


def draw_lines(painter: QPainter, lines: Iterable[QLineF]) -> None:
    """Draw lines in one call; PyQt's own stubs leave the list out."""
    painter.drawLines(list(lines))  # type: ignore[call-overload]


def solid(color: QColor) -> QBrush:
    """A plain brush."""
    return QBrush(color)
