"""Roots of a map from above: their thickness and course, what stays, what goes, and where the cut lies."""

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from kesh.geometry.outline import Floats
from kesh.model import MapRoot
from kesh.ui.paint.marks import words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme, mixed

# a root thins to this share of its thickness at its end
TIP = 0.28


def drawn_line(line: Floats, trunk_mm: float, seed: int) -> Floats:
    """A root's line as it is drawn: begun within the trunk, and where it runs straight a little winding."""
    way = line[0] / max(float(np.hypot(*line[0])), 1e-9)
    t = np.linspace(0, 1, len(line))
    step = np.gradient(line, axis=0)
    normal = np.column_stack([-step[:, 1], step[:, 0]]) / np.maximum(np.hypot(*step.T), 1e-9)[:, None]
    length = float(np.hypot(*np.diff(line, axis=0).T).sum())
    wave = 0.022 * length * np.sin(2 * np.pi * (t * (1.1 + seed % 5 * 0.16)) + seed) * t * (1 - 0.4 * t)
    return np.vstack([way * min(0.31 * trunk_mm, float(np.hypot(*line[0])) - 1), line + normal * wave[:, None]])


def band(line: Floats, diameter_mm: float, whole_mm: float, flare: float = 0.55) -> Floats:
    """The outline (n, 2) of a root along a line that began with this thickness and would run so far; wider at the bark."""
    step = np.gradient(line, axis=0)
    length = np.maximum(np.hypot(*step.T), 1e-9)
    normal = np.column_stack([-step[:, 1], step[:, 0]]) / length[:, None]
    far = np.append(0.0, np.cumsum(np.hypot(*np.diff(line, axis=0).T)))
    thin = 1 - (1 - TIP) * np.clip(far / max(whole_mm, 1e-9), 0, 1)
    half = diameter_mm / 2 * (thin + flare * np.exp(-far / max(0.9 * diameter_mm, 1e-9)))
    return np.vstack([line + normal * half[:, None], (line - normal * half[:, None])[::-1]])


def draw_root(
    painter: QPainter, theme: Theme, root: MapRoot, whole: QPolygonF, stays: QPolygonF | None, cut: QLineF | None, *,
    goes: bool, later: bool, in_hand: bool, over_picture: bool,
) -> None:  # fmt: skip
    """One root, in px: all of it, the part that stays where only a part does, and the line of the cut."""
    bark = mixed(theme.color("bark"), theme.color("bark_dark"), 0.3)
    dead = mixed(theme.color("edge"), theme.color("sheet"), 0.35)
    tint = QColor(theme.color("oxide_fill" if not later else "ochre_fill"))
    tint.setAlpha(225 if not over_picture else 190)
    edge = (
        theme.color("moss")
        if in_hand
        else theme.color("oxide")
        if goes
        else theme.color("bark_dark" if not theme.is_dark else "ink")
    )
    painter.setPen(QPen(edge, 2.0 if in_hand else 1.0, Qt.PenStyle.SolidLine))
    painter.setBrush(tint if goes else dead if root.kind == "dead" else bark)
    painter.drawPolygon(whole)
    if stays is not None:
        painter.setBrush(bark)
        painter.drawPolygon(stays)
    if cut is not None:
        painter.setPen(QPen(theme.color("oxide" if not later else "ochre"), 2.4))
        painter.drawLine(cut)


def draw_number(painter: QPainter, theme: Theme, text: str, at: QPointF, role: str, *, in_hand: bool) -> None:
    """A root's number at its end."""
    font = fonts.text(12, bold=True)
    painter.setFont(font)
    painter.setPen(QPen(theme.color(role), 1.6 if in_hand else 1.0))
    painter.setBrush(theme.color("sheet"))
    r = fonts.scaled(9)
    painter.drawEllipse(at, r, r)
    words(painter, theme, text, at.x(), at.y() + fonts.scaled(4), role, font=font, align="center")
