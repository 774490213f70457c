"""Paint for pots: fired clay or glaze in elevation, cut clay in section, soil, moss and shadow."""

from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QImage, QLinearGradient, QPainter, QPainterPath, QPen

from kesh.figure.line import Chance
from kesh.figure.pot_figure import PotFigure, pot_figure
from kesh.figure.stand_figure import stand_figure
from kesh.geometry.relief import band_spans
from kesh.model.pot import Pot
from kesh.ui.paint.tree_painter import draw_lines, polygon
from kesh.ui.theme.tokens import Theme, mixed

LAMP = np.array([-0.5, 0.6, 0.62])
FROM_LEFT = -1.0
HATCH_PX = 5.0
SMALL_PX_MM = 0.1
MANY_POTS = 256
_LATEST: dict[tuple[object, ...], QImage] = {}


@lru_cache(maxsize=512)
def figure_for(pot: Pot) -> PotFigure:
    """The drawn pot, kept."""
    return pot_figure(pot)


def _shade(
    pot: Pot, figure: PotFigure, side: float, columns: int = 160, rows: int = 64
) -> tuple[np.ndarray, np.ndarray]:
    """(light, highlight) over the elevation's bounding box, row 0 at the rim; finer rows where bands must be seen."""
    rows = rows * 3 if pot.bands else rows
    y, half = figure.half_width_u
    top, low = figure.rim_mm, pot.feet_mm
    heights = np.linspace(top, low, rows)
    width = np.interp(heights, y, half)
    slope = np.gradient(width, heights)
    x = np.linspace(-1, 1, columns)[None, :] * figure.bounds[1]
    u = np.clip(x / width[:, None], -1, 1)
    if pot.outline.kind in ("rectangle", "free"):
        corner = max(pot.outline.corner_mm, 2.0)
        edge = np.clip((np.abs(x) - (width[:, None] - corner)) / corner, 0, 1)
        nx = np.sign(x) * edge
    elif pot.outline.kind == "polygon":
        facet = np.cos(np.pi / pot.outline.sides)
        nx = np.where(np.abs(u) < facet * 0.58, 0.0, np.sign(u) * 0.80)
    elif pot.outline.kind == "lobed":
        nx = np.clip(u + 0.35 * np.sin(u * pot.outline.lobes * 1.4), -1, 1)
    else:
        nx = u
    nz = np.sqrt(np.maximum(0.0, 1 - nx**2))
    ny = np.broadcast_to(-slope[:, None] * 0.9, nx.shape)
    n = np.stack([nx, ny, nz])
    n = n / np.linalg.norm(n, axis=0)
    lamp = LAMP * np.array([-side, 1.0, 1.0])
    lamp = lamp / np.linalg.norm(lamp)
    light = 0.60 + 0.66 * np.maximum(0, np.tensordot(lamp, n, axes=(0, 0)))
    if pot.outline.kind in ("rectangle", "free"):
        light = light * (0.97 + 0.08 * side * x / figure.bounds[1])
    for low_mm, _, band in band_spans(pot):
        # a band shades the wall under it, the more the farther it stands out
        under = pot.feet_mm + low_mm - heights
        light = light * (1 - 0.45 * np.exp(-np.maximum(under, 0) / (1.6 * band.proud_mm)) * (under > 0))[:, None]
    below = top - heights
    lip = max(1.5, pot.profile.lip_offset_mm * -1 if pot.profile.kind == "lip" else 2.0)
    light = light * (1 - 0.30 * np.exp(-np.maximum(below - 5, 0) / (3 * lip)) * (below > 5))[:, None]
    light = light * (1 - 0.32 * np.exp(-(heights - low) / 7.0))[:, None]
    steps = np.round(light * 9) / 9
    light = light * 0.72 + steps * 0.28
    half_way = lamp + np.array([0, 0, 1])
    half_way /= np.linalg.norm(half_way)
    shine = np.maximum(0, np.tensordot(half_way, n, axes=(0, 0)))
    return light, 0.55 * shine**60 + 0.15 * shine**12


@lru_cache(maxsize=256)
def pot_image(pot: Pot, theme: Theme, side: float = FROM_LEFT) -> QImage:
    """The body's surface in its bounding box, shaded once at a modest size and scaled when drawn.

    `side` is where the light comes from, -1 left .. +1 right.
    """
    figure = figure_for(pot)
    light, shine = _shade(pot, figure, side)
    rows, columns = light.shape
    chance = Chance(sum(pot.id.encode()), "grain")
    base = np.array(QColor(pot.colour).getRgbF()[:3])
    glazed = pot.finish in ("muted_glaze", "bright_glaze")
    rgb = np.repeat(base[None, None, :], rows, axis=0).repeat(columns, axis=1)
    grain = chance.many(rows * columns // 2).reshape(rows, columns // 2).repeat(2, axis=1) - 0.5
    cloud = np.zeros((rows, columns))
    for k in (1, 2, 3):
        slant = np.linspace(0, k * 6, columns)[None, :] + np.linspace(0, k * 2.2, rows)[:, None]
        cloud += np.sin(slant + chance.uniform(0, 6)) / 3
    if glazed:
        foot = np.linspace(1, 0, rows)[:, None]
        wave = 0.07 + 0.02 * np.sin(np.linspace(0, 17, columns) + chance.uniform(0, 6))[None, :]
        pool = np.exp(-np.maximum(foot - wave, 0) / 0.10)
        rgb = rgb * (1 - 0.28 * pool[:, :, None])
        clay = np.array([0.45, 0.34, 0.27])
        bare = (foot < wave)[:, :, None]
        thin = np.exp(-(1 - foot) / 0.018)[:, :, None] * 0.6
        rgb = np.where(bare, clay, rgb * (1 - thin) + clay * thin)
        rgb = rgb * (1 + 0.035 * cloud[:, :, None])
        shine = shine * (0.95 if pot.finish == "bright_glaze" else 0.40) * ~bare[:, :, 0]
    else:
        rgb = rgb * (1 + 0.10 * grain[:, :, None] + 0.045 * cloud[:, :, None])
        shine = shine * 0.10
    rgb = rgb * light[:, :, None] * (0.82 if theme.is_dark else 0.98)
    rgb = np.clip(rgb + shine[:, :, None], 0, 1)
    data = np.empty((rows, columns, 4), dtype=np.uint8)
    data[:, :, :3] = (rgb[:, :, ::-1] * 255).astype(np.uint8)
    data[:, :, 3] = 255
    return QImage(data.tobytes(), columns, rows, columns * 4, QImage.Format.Format_RGB32).copy()


def _plain_wash(pot: Pot, theme: Theme, left: float, right: float) -> QBrush:
    """Light from the left in three tones, enough for a picture of a few pixels."""
    base = mixed(QColor(pot.colour), QColor("#000000"), 0.16 if theme.is_dark else 0.0)
    wash = QLinearGradient(QPointF(left, 0), QPointF(right, 0))
    wash.setColorAt(0.0, mixed(base, QColor("#FFFFFF"), 0.10))
    wash.setColorAt(0.35, base)
    wash.setColorAt(1.0, mixed(base, QColor("#000000"), 0.34))
    return QBrush(wash)


def draw_pot(
    painter: QPainter,
    pot: Pot,
    theme: Theme,
    px_mm: float,
    *,
    shadow: bool = True,
    hurry: bool = False,
    side: float = FROM_LEFT,
) -> None:
    """A pot in elevation, the painter at the middle of its foot on the bench, in mm, y down.

    In a hurry, while the pot is dragged, its surface is stretched from the shape it was painted in last.
    """
    figure = figure_for(pot)
    made = pot.state != "design"
    painter.save()
    painter.setRenderHints(QPainter.RenderHint.Antialiasing | QPainter.RenderHint.SmoothPixmapTransform)
    if shadow and px_mm > 0.1:
        contact_shadow(painter, figure, theme)
    ink = theme.color("ink") if not theme.is_dark else QColor("#0D0B09")
    edge = theme.color("ink") if theme.is_dark else ink
    line = QPen(edge if not made else mixed(edge, QColor(pot.colour), 0.25), 1.05 / px_mm)
    if not made:
        line.setDashPattern([4, 3])
        painter.setOpacity(0.55)
    clay = mixed(QColor(pot.colour), QColor("#000000"), 0.42 if not theme.is_dark else 0.55)
    for ring in figure.feet:
        painter.setPen(line)
        painter.setBrush(clay)
        painter.drawPolygon(polygon(ring))
    outline = QPainterPath()
    outline.addPolygon(polygon(figure.elevation))
    outline.closeSubpath()
    left, right, _, top = figure.bounds
    painter.save()
    painter.setClipPath(outline)
    if px_mm < SMALL_PX_MM:
        painter.fillPath(outline, _plain_wash(pot, theme, left, right))
    else:
        kept = (pot.id, pot.colour, pot.finish, theme.name, side)
        image = _LATEST.get(kept) if hurry else None
        if image is None:
            image = _LATEST[kept] = pot_image(pot, theme, side)
            if len(_LATEST) > MANY_POTS:
                del _LATEST[next(iter(_LATEST))]
        painter.drawImage(QRectF(left, -top, right - left, top - pot.feet_mm), image)
    painter.restore()
    painter.setOpacity(1.0)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(line)
    painter.drawPath(outline)
    if px_mm > 0.15 and pot.profile.kind != "slab":
        _lip_lines(painter, pot, figure, theme, px_mm)
    painter.restore()


def draw_stand(painter: QPainter, pot: Pot, theme: Theme, px_mm: float, height_mm: float) -> None:
    """The wooden stand below the pot's feet; the painter at the pot's foot, in mm, y down."""
    figure = stand_figure(pot, height_mm)
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    wood, dark = theme.color("bark"), theme.color("bark_dark")
    painter.setPen(QPen(dark, 0.9 / px_mm))
    if figure.rail is not None:
        painter.setBrush(mixed(wood, dark, 0.65))
        painter.drawPolygon(polygon(figure.rail))
    for leg in figure.legs:
        painter.setBrush(mixed(wood, dark, 0.35))
        painter.drawPolygon(polygon(leg))
    painter.setBrush(mixed(wood, dark, 0.15))
    painter.drawPolygon(polygon(figure.board))
    painter.restore()


def _lip_lines(painter: QPainter, pot: Pot, figure: PotFigure, theme: Theme, px_mm: float) -> None:
    y, half = figure.half_width_u
    thin = QColor(mixed(QColor(pot.colour), QColor("#000000"), 0.55))
    thin.setAlphaF(0.8)
    painter.setPen(QPen(thin, 0.65 / px_mm))
    for span in band_spans(pot):
        for edge in span[:2]:
            at = pot.feet_mm + edge
            w = float(np.interp(at, y, half))
            painter.drawLine(QLineF(-w, -at, w, -at))
    drop = pot.body_height_mm * (1 - pot.profile.lip_height_share) if pot.profile.kind == "lip" else 5.0
    has_lip = any(high > pot.body_height_mm - 0.5 for _, high, _ in band_spans(pot))
    for down in () if has_lip else (min(drop, 0.3 * pot.body_height_mm),):
        at = figure.rim_mm - down
        w = float(np.interp(at, y, half))
        painter.drawLine(QLineF(-w, -at, w, -at))
    bright = QColor(mixed(QColor(pot.colour), QColor("#FFFFFF"), 0.45))
    bright.setAlphaF(0.55)
    painter.setPen(QPen(bright, 0.7 / px_mm))
    top = figure.rim_mm - 1.2
    w = float(np.interp(top, y, half))
    painter.drawLine(QLineF(-w + 2, -top, w * 0.4, -top))


def contact_shadow(painter: QPainter, figure: PotFigure, theme: Theme) -> None:
    """A tight dark line under the foot and faint ellipses running to the right."""
    half = float(figure.half_width_u[1][0])
    painter.setPen(Qt.PenStyle.NoPen)
    dark = QColor("#000000") if theme.is_dark else theme.color("ink")
    for i in (0, 2, 5):
        reach = half * (1.0 + 0.025 * i)
        color = QColor(dark)
        color.setAlphaF((0.17 if theme.is_dark else 0.095) - 0.011 * i)
        painter.setBrush(color)
        painter.drawEllipse(
            QRectF(-reach + 0.012 * i * half, -2.2 - 0.5 * i, 2 * reach + 0.05 * i * half, 4.4 + 1.0 * i)
        )


def draw_soil_line(
    painter: QPainter,
    pot: Pot,
    theme: Theme,
    px_mm: float,
    *,
    mound_mm: float,
    seed: int,
    foot_mm: float,
    trunk_x_mm: float,
) -> None:
    """Mound and moss over the rim, in front of the trunk's foot. The painter stands at the pot's foot."""
    slab = pot.profile.kind == "slab"
    top = figure_for(pot).rim_mm
    half = 0.62 * pot.length_mm / 2 if slab else pot.length_mm / 2 - pot.wall_mm
    x, height, blades = _moss(seed, half, max(mound_mm, 14.0 if slab else 3.0))
    painter.save()
    painter.setPen(Qt.PenStyle.NoPen)
    painter.setBrush(mixed(theme.color("soil"), theme.color("sheet"), 0.12))
    clip = QPainterPath()
    clip.addRect(QRectF(-pot.length_mm, -top - 200, 2 * pot.length_mm, 200 + (3 if slab else 0)))
    painter.setClipPath(clip)
    painter.translate(0, -top)
    painter.drawPolygon(polygon(np.vstack([np.column_stack([x, height]), [[half, -3.0], [-half, -3.0]]])))
    if px_mm > 0.2:
        for share, lines in zip((0.75, 0.4, 0.0), blades, strict=True):
            tone = mixed(theme.color("leaf_mid"), theme.color("leaf_dark"), share)
            painter.setPen(QPen(tone, max(0.8, 0.9 * px_mm) / px_mm))
            draw_lines(painter, lines)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(theme.color("bark_dark", 0.22))
        level = float(np.interp(trunk_x_mm, x, height))
        painter.drawEllipse(QRectF(trunk_x_mm - foot_mm * 0.55, -level - 1.4, foot_mm * 1.35, 3.2))
    painter.restore()


@lru_cache(maxsize=64)
def _moss(seed: int, half: float, crest: float) -> tuple[np.ndarray, np.ndarray, tuple[list[QLineF], ...]]:
    """Soil over the rim as (x, height above the rim), and blades of moss in three tones; kept while nothing changes."""
    chance = Chance(seed, "moss")
    u = np.linspace(-1, 1, 90)
    noise = np.convolve(chance.many(96, -1, 1), np.ones(7) / 7, mode="valid") * 1.4
    height = -1 + crest * (1 - np.abs(u) ** 2.3) + noise
    count = int(half * 2 / 1.5)
    x = chance.many(count, -half, half)
    patch = np.sin(x / half * 7 + chance.uniform(0, 6)) + 0.6 * np.sin(x / half * 17 + chance.uniform(0, 6)) + 0.4
    y = np.interp(x, u * half, height)
    tall, lean = chance.many(count, 1.2, 4.4), chance.many(count, -1.4, 1.4)
    tone = np.where(patch > -0.15, np.floor(chance.many(count) * 3), -1)
    ends = np.column_stack([x, 1.5 - y, x + lean, -y - tall])
    return u * half, height, tuple([QLineF(*row) for row in ends[tone == k].tolist()] for k in range(3))


def hatch(
    painter: QPainter,
    path: QPainterPath,
    color: QColor,
    px_mm: float,
    *,
    angle_deg: float = 45.0,
    gap_px: float = HATCH_PX,
) -> None:
    """Parallel lines inside a path, anchored to the page so that neighbouring cuts line up."""
    box = path.boundingRect()
    gap = gap_px / px_mm
    painter.save()
    painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
    painter.setPen(QPen(color, 0.7 / px_mm))
    slope = np.tan(np.radians(angle_deg))
    run = box.height() / abs(slope)
    first = np.floor((box.left() - run) / gap) * gap
    lines = []
    for x in np.arange(first, box.right() + run, gap):
        if slope > 0:
            lines.append(QLineF(x, box.bottom(), x + run, box.top()))
        else:
            lines.append(QLineF(x, box.top(), x + run, box.bottom()))
    draw_lines(painter, lines)
    painter.restore()


def fade_up(color: QColor, low: float, high: float) -> QBrush:
    """A vertical fade from a colour to nothing, for trunks that leave a section view."""
    gradient = QLinearGradient(QPointF(0, low), QPointF(0, high))
    gradient.setColorAt(0, color)
    clear = QColor(color)
    clear.setAlphaF(0)
    gradient.setColorAt(1, clear)
    return QBrush(gradient)
