"""What lies on a photograph: the picture, the cut-out's veil, marks, the brush, outlines of later years."""

from collections.abc import Callable, Mapping

import cv2
import numpy as np
from numpy.typing import NDArray
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from kesh.advice.case import Case
from kesh.base.errors import KeshError
from kesh.model import TreePhoto
from kesh.photo.classes import FOLIAGE, WOOD, Mask
from kesh.photo.darkroom import Darkroom, Print
from kesh.photo.ghost import Floats, grown_outline, outline_px
from kesh.photo.measure import PhotoMeasures
from kesh.photo.tree_cut import TreeCut
from kesh.science.season.growth import FILL_IN_YEARS, grown
from kesh.ui.paint.marks import ON_PICTURE, dash_dot, front_marker, handle, words
from kesh.ui.session import Session
from kesh.ui.theme import fonts

ROLE = {"leaf": "moss", "wood": "ochre", "ground": "oxide", "loop": "indigo"}
# hatching of what is in doubt: how far its lines lie apart, as a share of the picture's longer side
HATCH_SHARE = 0.006
At = Callable[[float, float], QPointF]


def _patches(part: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Without rims a pixel or two wide, which lie between any two cut-outs and are no doubt."""
    return np.asarray(cv2.morphologyEx(part.astype(np.uint8), cv2.MORPH_OPEN, np.ones((4, 4), np.uint8)), bool)


class PhotoPainter:
    """Paints in px of the window; `at` brings px of the picture there. Keeps the last few pictures and veils."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._pictures: dict[tuple[object, ...], QPixmap] = {}
        self._outlines: tuple[object, list[Floats]] = (None, [])

    def print_of(self, darkroom: Darkroom, photo: TreePhoto | None) -> Print | None:
        """The picture at working size; None without a photograph, and with a sentence where its picture can't be had."""
        if photo is None:
            return None
        try:
            return darkroom.print_of(photo)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return None

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
        """Scale, soil line, apex, and a handle on each mark; from above the line from trunk to front marker."""
        t, u = self._session.theme, self._session.units
        soil = spots["soil"]
        if photo.view == "above":
            self._draw_arm(painter, soil, spots["marker"])
        else:
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
        if photo.view == "side":
            words(painter, t, "soil line", box.right() - 6, soil.y() - 6, "indigo", align="right", ground="sheet")
        if "apex" in spots:
            words(painter, t, "apex", spots["apex"].x() + 12, spots["apex"].y() - 4, "indigo", ground="sheet")
        for key, spot in spots.items():
            if key.startswith("colour "):
                words(painter, t, key.removeprefix("colour "), spot.x() + 12, spot.y() + 4, "oxide", ground="sheet")
            handle(painter, t, spot, focus=key == in_hand, hover=False)

    def _draw_arm(self, painter: QPainter, trunk: QPointF, marker: QPointF) -> None:
        """From the trunk's middle to the front marker."""
        t = self._session.theme
        for role, width in (("ink_on_picture", 3.4), ("paper_on_picture", 1.8)):
            painter.setPen(QPen(ON_PICTURE[role], width))
            painter.drawLine(QLineF(trunk, marker))
        words(painter, t, "trunk", trunk.x() + 12, trunk.y() - 6, "indigo", ground="sheet")
        front_marker(painter, t, marker, 22)
        words(painter, t, "front marker", marker.x() + 18, marker.y() + 4, "oxide", ground="sheet")

    def draw_loop(self, painter: QPainter, spots: list[QPointF], text: str, box: QRectF, *, own: bool) -> None:
        """The loop round the tree, light under dark so that it is seen on any ground, with a word on whose it is."""
        if len(spots) < 3:
            return
        t = self._session.theme
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for role, width, dash in (("ink_on_picture", 3.4, None), ("paper_on_picture", 2.0, [6, 4] if own else [2, 4])):
            pen = QPen(ON_PICTURE[role], width)
            if dash is not None:
                pen.setDashPattern(dash)
            painter.setPen(pen)
            painter.drawPolygon(QPolygonF(spots))
        words(painter, t, text, box.left() + 10, box.top() + 20, "ink", font=fonts.text(12), ground="sheet")

    def draw_other_date(self, painter: QPainter, rings: list[QPolygonF], text: str, box: QRectF) -> None:
        """The tree's outline as another photograph shows it, at this one's scale and on its foot."""
        t = self._session.theme
        pen = QPen(t.color("oxide"), 1.8)
        pen.setDashPattern([7, 3])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for ring in rings:
            painter.drawPolygon(ring)
        y = box.bottom() - 12
        painter.drawLine(QLineF(box.left() + 10, y - 4, box.left() + 34, y - 4))
        words(painter, t, text, box.left() + 42, y, "oxide", font=fonts.text(13, bold=True), ground="sheet")

    def draw_doubt(self, painter: QPainter, photo: TreePhoto, cut: TreeCut, box: QRectF) -> None:
        """What is in doubt, hatched."""
        key = ("doubt", photo.picture, photo.bow, photo.soil, photo.apex, photo.loop, photo.strokes, photo.trunk,
               self._session.theme.name)  # fmt: skip
        if key not in self._pictures:
            part = _patches(cut.differing())
            high, wide = part.shape
            y, x = np.mgrid[0:high, 0:wide]
            apart = max(5, round(HATCH_SHARE * 2 * max(high, wide)))
            line = (x + y) % apart < max(2, apart // 3)
            tone = self._session.theme.color("ochre_fill")
            dark = self._session.theme.color("ochre")
            rows = np.zeros((high, wide, 4), np.uint8)
            rows[part] = (tone.blue(), tone.green(), tone.red(), 120)
            rows[part & line] = (dark.blue(), dark.green(), dark.red(), 245)
            image = QImage(rows.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32)
            self._remember(key, QPixmap.fromImage(image))
        hatch = self._pictures[key]
        painter.drawPixmap(box, hatch, QRectF(hatch.rect()))

    def draw_edges(self, painter: QPainter, left: list[QPointF], right: list[QPointF]) -> None:
        """The trunk's two edges."""
        for role, width in (("ink_on_picture", 2.6), ("paper_on_picture", 1.2)):
            painter.setPen(QPen(ON_PICTURE[role], width))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for side in (left, right):
                painter.drawPolyline(QPolygonF(side))

    def draw_brush(
        self, painter: QPainter, tool: str, stroke: list[tuple[float, float]], pointer: QPointF | None, across: float, at: At
    ) -> None:  # fmt: skip
        """The stroke so far and the brush round the pointer."""
        color = QColor(self._session.theme.color(ROLE[tool]))
        if tool == "loop":
            self.draw_loop(
                painter, [at(*s) for s in stroke], "let go to close the loop", QRectF(at(0, 0), at(0, 0)), own=True
            )
            return
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
        key = (photo.picture, photo.bow, photo.strokes, photo.soil)
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
        key = ("picture", photo.picture, photo.bow)
        if key not in self._pictures:
            high, wide = p.image.shape[:2]
            image = QImage(p.image.tobytes(), wide, high, 3 * wide, QImage.Format.Format_BGR888)
            self._remember(key, QPixmap.fromImage(image))
        return self._pictures[key]

    def _veil(self, photo: TreePhoto, mask: Mask) -> QPixmap:
        """The ground paled, leaves and wood edged in their own colour."""
        t = self._session.theme
        key = ("veil", photo.picture, photo.bow, photo.soil, photo.apex, photo.card, photo.how, photo.strokes,
               photo.loop, photo.trunk, t.name)  # fmt: skip
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
