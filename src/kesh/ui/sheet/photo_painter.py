"""What lies on a photograph: the picture, the cut-out's veil, marks, the brush, outlines of later years."""

from collections.abc import Callable, Mapping

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from kesh.advice.case import Case
from kesh.model import TreePhoto
from kesh.photo.classes import FOLIAGE, WOOD, Mask
from kesh.photo.darkroom import Print
from kesh.photo.ghost import Floats, grown_outline, outline_px
from kesh.photo.measure import PhotoMeasures
from kesh.science.growth import FILL_IN_YEARS, grown
from kesh.ui.session import Session
from kesh.ui.sheet.marks import dash_dot, handle, words
from kesh.ui.theme import fonts

ROLE = {"leaf": "moss", "wood": "ochre", "ground": "oxide"}
At = Callable[[float, float], QPointF]


class PhotoPainter:
    """Paints in px of the window; `at` brings px of the picture there. Keeps the last few pictures and veils."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._pictures: dict[tuple[object, ...], QPixmap] = {}
        self._outlines: tuple[object, list[Floats]] = (None, [])

    def draw_picture(self, painter: QPainter, photo: TreePhoto, p: Print, mask: Mask | None, box: QRectF) -> None:
        """The picture in its frame, the cut-out laid over it unless there is none."""
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        picture = self._picture(photo, p)
        painter.drawPixmap(box, picture, QRectF(picture.rect()))
        if mask is not None:
            veil = self._veil(photo, mask)
            painter.drawPixmap(box, veil, QRectF(veil.rect()))
        painter.setPen(QPen(self._session.theme.color("edge"), 1))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(box)

    def draw_marks(
        self, painter: QPainter, photo: TreePhoto, spots: Mapping[str, QPointF], box: QRectF, in_hand: str | None
    ) -> None:
        """Scale, soil line, apex, and a handle on each mark."""
        t, u = self._session.theme, self._session.units
        soil = spots["soil"]
        painter.setPen(dash_dot(t.color("indigo")))
        painter.drawLine(QLineF(box.left(), soil.y(), box.right(), soil.y()))
        painter.setPen(QPen(t.color("oxide"), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        ring = [spots[k] for k in spots if k.startswith(("card", "known"))]
        if photo.how == "card":
            painter.drawPolygon(QPolygonF(ring))
            label = f"{u.figure(photo.card_mm[0])} × {u.mm(photo.card_mm[1])}"
        else:
            painter.drawLine(QLineF(ring[0], ring[1]))
            label = u.mm(photo.known_mm)
        x, y = sum(s.x() for s in ring) / len(ring), min(s.y() for s in ring) - 10
        if photo.how != "card":
            y += 28
        bold = fonts.text(13, bold=True)
        words(painter, t, label, x, y, "oxide", font=bold, align="center", ground="sheet")
        words(painter, t, "soil line", box.right() - 6, soil.y() - 6, "indigo", align="right", ground="sheet")
        if "apex" in spots:
            words(painter, t, "apex", spots["apex"].x() + 12, spots["apex"].y() - 4, "indigo", ground="sheet")
        for key, spot in spots.items():
            if key.startswith("colour "):
                words(painter, t, key.removeprefix("colour "), spot.x() + 12, spot.y() + 4, "oxide", ground="sheet")
            handle(painter, t, spot, focus=key == in_hand, hover=False)

    def draw_brush(
        self, painter: QPainter, tool: str, stroke: list[tuple[float, float]], pointer: QPointF | None, across: float, at: At
    ) -> None:  # fmt: skip
        """The stroke so far and the brush round the pointer."""
        color = QColor(self._session.theme.color(ROLE[tool]))
        if stroke:
            path = QPainterPath(at(*stroke[0]))
            for spot in stroke[1:]:
                path.lineTo(at(*spot))
            color.setAlphaF(0.45)
            pen = QPen(color, across, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap, Qt.PenJoinStyle.RoundJoin)
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path) if len(stroke) > 1 else painter.drawPoint(at(*stroke[0]))
        if pointer is not None:
            color.setAlphaF(1.0)
            painter.setPen(QPen(color, 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(pointer, across / 2, across / 2)

    def draw_later(
        self, painter: QPainter, photo: TreePhoto, mask: Mask, found: PhotoMeasures, case: Case, factor: float, at: At
    ) -> None:
        """Leaves and trunk filled in and at the horizon, dashed, with a key in the corner."""
        key = (photo.picture, photo.strokes, photo.soil)
        if self._outlines[0] != key:
            self._outlines = key, outline_px(mask)
        t, now, horizon = self._session.theme, case.tree.measure, case.brief.horizon_years
        bold = fonts.text(13, bold=True)
        corner = at(0.0, 0.0)
        for years, role, name in ((FILL_IN_YEARS, "ochre", "filled in"), (horizon, "moss", f"in {horizon:g} years")):
            rings = grown_outline(self._outlines[1], found, now, grown(now, case.tree.stage, years))
            pen = QPen(t.color(role), 1.8)
            pen.setDashPattern([5, 3])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for ring in rings:
                painter.drawPolygon(QPolygonF([at(x, y) for x, y in ring * factor]))
            y = corner.y() + 20 + 18 * (years > FILL_IN_YEARS)
            painter.drawLine(QLineF(corner.x() + 10, y - 4, corner.x() + 34, y - 4))
            words(painter, t, name, corner.x() + 42, y, role, font=bold, ground="sheet")

    def _picture(self, photo: TreePhoto, p: Print) -> QPixmap:
        key = ("picture", photo.picture)
        if key not in self._pictures:
            high, wide = p.image.shape[:2]
            image = QImage(p.image.tobytes(), wide, high, 3 * wide, QImage.Format.Format_BGR888)
            self._remember(key, QPixmap.fromImage(image))
        return self._pictures[key]

    def _veil(self, photo: TreePhoto, mask: Mask) -> QPixmap:
        """The ground paled, leaves and wood edged in their own colour."""
        t = self._session.theme
        key = ("veil", photo.picture, photo.soil, photo.apex, photo.card, photo.how, photo.strokes, t.name)
        if key not in self._pictures:
            rows = np.zeros((*mask.shape, 4), np.uint8)
            sheet, leaf, wood = t.color("sheet"), t.color("moss_fill"), t.color("ochre_fill")
            rows[mask == 0] = (sheet.blue(), sheet.green(), sheet.red(), 150)
            for kind, tone in ((FOLIAGE, leaf), (WOOD, wood)):
                part = mask == kind
                inner = part.copy()
                for shift in (1, 2):
                    for axis in (0, 1):
                        inner &= np.roll(part, shift, axis) & np.roll(part, -shift, axis)
                rows[part & ~inner] = (tone.blue(), tone.green(), tone.red(), 235)
                rows[inner] = (tone.blue(), tone.green(), tone.red(), 40)
            high, wide = mask.shape
            image = QImage(rows.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32)
            self._remember(key, QPixmap.fromImage(image))
        return self._pictures[key]

    def _remember(self, key: tuple[object, ...], made: QPixmap) -> None:
        while len(self._pictures) > 7:
            del self._pictures[next(iter(self._pictures))]
        self._pictures[key] = made
