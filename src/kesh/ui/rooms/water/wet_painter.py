"""Pots cut through with their mix: grains, how full the pores between them are at each height, the wet zone's line."""

from functools import lru_cache

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QBrush, QColor, QLinearGradient, QPainter, QPainterPath, QPen, QPixmap, QTransform

from kesh.desk.watering import Bowl
from kesh.geometry.outline import Floats
from kesh.model import Mix, Part, Pot
from kesh.science.water.substrate import RESIDUAL, Blend
from kesh.ui.paint.grains import draw_patch
from kesh.ui.paint.layers import Keep, plainly
from kesh.ui.paint.pot_painter import figure_for
from kesh.ui.paint.section_painter import draw_clay
from kesh.ui.paint.tree_painter import closed_path
from kesh.ui.theme.tokens import Theme, mixed

# a tile of grains, mm, and how many px a mm has in it
TILE_MM, TILE_PX = 60.0, 3.0
WET_ALPHA = 0.72
# colours in the height of a pot
STOPS = 24


@lru_cache(maxsize=48)
def _tile(parts: tuple[tuple[str, float], ...], grain_mm: float, ground: str) -> QPixmap:
    """A patch of the mix at its own grain size; patches meet well enough."""
    mix = Mix(id="tile", name="tile", parts=tuple(Part(substrate=k, parts=v) for k, v in parts))
    side = int(TILE_MM * TILE_PX)
    made = QPixmap(side, side)
    made.fill(QColor(ground))
    painter = QPainter(made)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    draw_patch(painter, mix, float(side), max(grain_mm, 1.6) * TILE_PX * 0.5)
    painter.end()
    return made


def mix_brush(mix: Mix | None, blend: Blend | None, theme: Theme) -> QBrush:
    """The mix as a brush in mm; plain ground where nothing is known of it."""
    ground = mixed(theme.color("soil"), theme.color("sheet"), 0.55)
    if mix is None or blend is None:
        return QBrush(ground)
    total = sum(p.parts or 0.0 for p in mix.parts)
    if total <= 0:
        return QBrush(ground)
    # by sixteenths: while a slider moves, most frames find their patch painted
    parts = tuple((p.substrate, float(round(16 * (p.parts or 0.0) / total))) for p in mix.parts)
    if not any(share for _, share in parts):
        parts = tuple((p.substrate, p.parts or 0.0) for p in mix.parts)
    brush = QBrush(_tile(parts, round(min(blend.mean_size_mm, 12.0) * 2) / 2, ground.name()))
    brush.setTransform(QTransform.fromScale(1 / TILE_PX, 1 / TILE_PX))
    return brush


def fullness(blend: Blend, water: Floats) -> Floats:
    """How full the pores between grains are, 0..1, where the mix holds so much water."""
    return np.asarray(np.clip(((water - blend.phi_int) / max(blend.phi_e, 1e-9) - RESIDUAL) / (1 - RESIDUAL), 0, 1))


def soil_path(bowl: Bowl) -> QPainterPath:
    """Mix and mound in section, mm, y down, from the pot's foot."""
    return _soil(bowl.pot, round(bowl.soil_mm, 2), round(bowl.f.case.mound_mm, 2))


@lru_cache(maxsize=32)
def _soil(pot: Pot, soil_mm: float, mound: float) -> QPainterPath:
    figure = figure_for(pot)
    top = figure.floor_mm + soil_mm
    inside, half = closed_path(figure.inside), pot.length_mm
    box = QPainterPath()
    box.addRect(QRectF(-half, -top, 2 * half, top))
    soil = inside.intersected(box)
    if mound > 0:
        right = figure.inside[: len(figure.inside) // 2]
        reach = float(np.interp(top, right[:, 1], right[:, 0]))
        hill = QPainterPath(QPointF(-reach, -top))
        for x in np.linspace(-reach, reach, 41):
            hill.lineTo(QPointF(float(x), -top - mound * (1 - (float(x) / reach) ** 2)))
        hill.closeSubpath()
        soil = soil.united(hill).simplified()
    return soil


def draw_bowl(
    painter: QPainter, bowl: Bowl, theme: Theme, px_mm: float, *, water: tuple[Floats, Floats] | None = None, keep: Keep = plainly, name: str = ""
) -> None:  # fmt: skip
    """One pot; the painter at its foot, mm, y down. `water`: (heights over the mix's floor, water share) instead of the drained state."""
    case, figure = bowl.f.case, figure_for(bowl.pot)
    blend, layer = case.blend, case.layer
    painter.save()
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    if bowl.pot.profile.kind != "slab":
        soil = soil_path(bowl)
        painter.fillPath(soil, mix_brush(case.mix, blend, theme))
        floor = figure.floor_mm + (layer[1] if layer else 0.0)
        if layer is not None:
            _layer(painter, soil, bowl, theme, floor)
        if blend is not None and bowl.plantable:
            painter.fillPath(soil, _water_brush(bowl, blend, theme, floor, water))
        painter.setPen(QPen(mixed(theme.color("soil"), theme.color("ink"), 0.3), 0.8 / px_mm))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(soil)
    keep(painter, f"clay {name}", (bowl.pot, theme.name), lambda p: draw_clay(p, bowl.pot, theme, px_mm))
    painter.restore()


def _layer(painter: QPainter, soil: QPainterPath, bowl: Bowl, theme: Theme, floor: float) -> None:
    """The coarse layer below the mix."""
    mix = bowl.f.case.mix
    assert mix is not None
    box = QPainterPath()
    box.addRect(QRectF(-bowl.pot.length_mm, -floor, 2 * bowl.pot.length_mm, floor))
    layer = bowl.f.case.layer
    if mix.drainage_layer is not None and layer is not None:
        coarse = Mix(id="layer", name="layer", parts=(Part(substrate=mix.drainage_layer.substrate, parts=1.0),))
        inside = soil.intersected(box)
        painter.fillPath(inside, mix_brush(coarse, layer[0], theme))
        painter.fillPath(inside, theme.color("ink", 0.16))
        line = QPen(theme.color("ink"), 0.9)
        line.setCosmetic(True)
        painter.setPen(line)
        half = bowl.pot.length_mm / 2
        painter.save()
        painter.setClipPath(soil, Qt.ClipOperation.IntersectClip)
        painter.drawLine(QLineF(-half, -floor, half, -floor))
        painter.restore()


def _water_brush(bowl: Bowl, blend: Blend, theme: Theme, floor: float, water: tuple[Floats, Floats] | None) -> QBrush:
    """Blue as deep as the pores between grains are full, height by height; the painter's y grows downwards."""
    mound = bowl.f.case.mound_mm
    top = figure_for(bowl.pot).floor_mm + bowl.soil_mm + mound
    rise = float(bowl.f.water.layer_suction_mm[0]) if bowl.f.water is not None and bowl.f.case.layer else 0.0
    gradient = QLinearGradient(0, -floor, 0, -top)
    tall = max(top - floor, 1e-6)
    heights = np.linspace(0, tall, STOPS)
    full = (
        fullness(blend, np.interp(heights, water[0], water[1]))
        if water is not None
        else blend.saturation_effective(heights + rise)
    )
    blue = QColor(theme.color("indigo_fill"))
    for h, s in zip(heights, full, strict=True):
        blue.setAlphaF(WET_ALPHA * float(s))
        gradient.setColorAt(min(max(float(h) / tall, 0.0), 1.0), blue)
    return QBrush(gradient)


def wet_line(bowl: Bowl) -> float:
    """Height of the wet zone's top over the bench, mm."""
    layer = bowl.f.case.layer
    return figure_for(bowl.pot).floor_mm + (layer[1] if layer else 0.0) + min(bowl.wet_mm, bowl.soil_mm)


def draw_tilted_line(
    painter: QPainter, bowl: Bowl, tilt_deg: float, drain_mm: float, theme: Theme, px_mm: float
) -> None:
    """Where the wet zone would end in the pot tilted to the right, drawn in the pot as it lies: a sloping line."""
    blend = bowl.f.case.blend
    if blend is None:
        return
    tau, half = np.radians(tilt_deg), bowl.pot.length_mm / 2
    floor = figure_for(bowl.pot).floor_mm
    # z cos - x sin = drain level + wet zone
    level = drain_mm + blend.wet_zone_mm
    painter.save()
    painter.setClipPath(soil_path(bowl))
    for color, wide in (("sheet", 3.4), ("indigo", 1.6)):
        pen = QPen(theme.color(color), wide / px_mm)
        if color == "indigo":
            pen.setDashPattern([5, 3])
        painter.setPen(pen)
        ends = [(x, floor + (level + x * np.sin(tau)) / np.cos(tau)) for x in (-half, half)]
        painter.drawLine(QLineF(ends[0][0], -ends[0][1], ends[1][0], -ends[1][1]))
    painter.restore()
