"""Pockets and sides left alone on the drawing: from above as patches with edges to pull, in section as boxes."""

from collections.abc import Callable, Sequence
from datetime import date

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPen, QPolygonF

from kesh.desk.root_parts import Part, PartGrip, depths_of, grips_of, holds, middle_of, parts_of, record_of, ring_of
from kesh.geometry.outline import Floats
from kesh.model import Pocket, RootMass, Sector
from kesh.science.roots.pockets import LIVE, WORDS, PocketStep
from kesh.ui.paint.marks import handle, words
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

GRAB_PX = 9.0
ToPx = Callable[[Floats], list[QPointF]]
# fill and line by what lies there, and how it is hatched: degrees and px apart
LOOKS = {
    "clay": ("ochre_fill", "ochre", 15.0, 8.0), "field_soil": ("bark", "bark_dark", 75.0, 6.0), "sand": ("soil", "edge", 60.0, 9.0),
    "rot": ("edge", "ink", 30.0, 6.0),
}  # fmt: skip


def draw_parts(
    painter: QPainter, theme: Theme, roots: RootMass, to_px: ToPx, hand: Part | None, waits: Sequence[Sector] = ()
) -> None:  # fmt: skip
    """All parts from above, the one in hand stands out; sides that wait for the next repotting are hatched wide."""
    for sector in waits:
        _patch(painter, theme, _outline(roots, sector, to_px), "moss_fill", "moss", 40.0, 12.0, in_hand=False)
    for part in parts_of(roots):
        one = record_of(roots, part)
        if one is None:
            continue
        path = _outline(roots, one, to_px)
        if isinstance(one, Sector):
            _patch(painter, theme, path, "moss_fill", "moss", 40.0, 7.0, in_hand=part == hand)
        else:
            _patch(painter, theme, path, *LOOKS[one.kind], in_hand=part == hand)


def _outline(roots: RootMass, one: Pocket | Sector, to_px: ToPx) -> QPainterPath:
    path = QPainterPath()
    path.addPolygon(QPolygonF(to_px(ring_of(roots, one))))
    path.closeSubpath()
    return path


def name_parts(
    painter: QPainter, theme: Theme, roots: RootMass, to_px: ToPx, steps: tuple[PocketStep, ...], today: date,
    waits: Sequence[Sector] = (),
) -> None:  # fmt: skip
    """What lies in each part, over the roots."""
    for sector in waits:
        at = to_px(np.array([middle_of(roots, sector)]))[0]
        words(
            painter, theme, sector.why, at.x(), at.y() + 4, "moss", font=fonts.text(12), align="center", ground="sheet"
        )
    for part in parts_of(roots):
        one = record_of(roots, part)
        if one is None:
            continue
        at = to_px(np.array([middle_of(roots, one)]))[0]
        if isinstance(one, Sector):
            text, role = one.why or "left alone", "moss"
        else:
            step = steps[part.nth] if part.nth < len(steps) else None
            later = step is not None and step.year > 0
            when = "" if step is None else f", {today.year + round(step.year)}" if later else ", out now"
            text, role = f"{WORDS[one.kind]}{when}", "ochre" if later else "oxide" if not LIVE[one.kind] else "ink"
        words(painter, theme, text, at.x(), at.y() + 4, role, font=fonts.text(12, bold=True), align="center", ground="sheet")  # fmt: skip


def _patch(
    painter: QPainter,
    theme: Theme,
    path: QPainterPath,
    fill: str,
    line: str,
    angle: float,
    gap: float,
    *,
    in_hand: bool,
) -> None:
    tint = QColor(theme.color(fill))
    tint.setAlpha(105 if fill != "moss_fill" else 60)
    painter.fillPath(path, tint)
    hatch(painter, path, theme.color(line), 1.0, angle_deg=angle, gap_px=gap)
    painter.setPen(QPen(theme.color("moss" if in_hand else line), 2.0 if in_hand else 1.2))
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)


def draw_in_section(
    painter: QPainter, theme: Theme, roots: RootMass, box_of: Callable[[Pocket], tuple[QRectF, bool]], hand: Part | None
) -> None:
    """Pockets in section: a box with its hatching where the section cuts them, a dashed one before or behind it."""
    for n, pocket in enumerate(roots.pockets):
        box, cut = box_of(pocket)
        path = QPainterPath()
        path.addRoundedRect(box, 6, 6)
        fill, line, angle, gap = LOOKS[pocket.kind]
        if cut:
            _patch(painter, theme, path, fill, line, angle, gap, in_hand=hand == Part("pocket", n))
        else:
            pen = QPen(theme.color("moss" if hand == Part("pocket", n) else line), 1.2, Qt.PenStyle.DashLine)
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)


def section_box(
    roots: RootMass, pocket: Pocket, turned: Callable[[Floats], Floats]
) -> tuple[float, float, float, float, bool]:
    """(left, right, upper depth, lower depth, whether the section through the trunk cuts it), mm from the trunk."""
    ring = turned(ring_of(roots, pocket))
    top, bottom = depths_of(roots, pocket)
    front, back = float(ring[:, 1].min()), float(ring[:, 1].max())
    return float(ring[:, 0].min()), float(ring[:, 0].max()), top, bottom, front < -1 and back > 1


def part_at(roots: RootMass, point: tuple[float, float]) -> Part | None:
    """The part from above under a place; the last drawn first."""
    for part in reversed(parts_of(roots)):
        one = record_of(roots, part)
        if one is not None and holds(roots, one, point):
            return part
    return None


def grip_at(roots: RootMass, part: Part, to_px: ToPx, point: QPointF) -> PartGrip | None:
    """The handle of a part under a point."""
    for grip in grips_of(roots, part):
        if QLineF(to_px(np.array([[grip.x_mm, grip.y_mm]]))[0], point).length() <= GRAB_PX + 2:
            return grip
    return None


def draw_grips_of(painter: QPainter, theme: Theme, roots: RootMass, part: Part, to_px: ToPx) -> None:
    """The handles of the part in hand."""
    for grip in grips_of(roots, part):
        handle(painter, theme, to_px(np.array([[grip.x_mm, grip.y_mm]]))[0], focus=False, hover=True)
