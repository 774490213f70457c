"""What the maker in hand makes, as a drawing to scale: boards, pipe, or pieces on the bed."""

from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QPainter

from kesh.figure.drawing import Drawing
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import words
from kesh.ui.paint.plane import Plane
from kesh.ui.rooms.workshop.drawing_painter import draw_drawing
from kesh.ui.rooms.workshop.views import DesignSheet
from kesh.ui.session import Session
from kesh.ui.theme import fonts


class MadeView(DesignSheet):
    """One drawing of the job in hand; the wheel with Ctrl zooms, Z fits."""

    def __init__(self, session: Session, gallery: Gallery, name: str) -> None:
        super().__init__(session, gallery)
        self.drawing: Drawing | None = None
        self.note = ""
        self.setAccessibleName(name)

    def show_drawing(self, drawing: Drawing | None, note: str = "") -> None:
        """Another drawing, or none while it is reckoned or cannot be made."""
        changed = drawing is not self.drawing
        self.drawing, self.note = drawing, note
        if changed:
            self.refit()
        self.update()

    def extent_mm(self) -> QRectF:
        if self.drawing is None:
            return super().extent_mm()
        left, bottom, right, top = self.drawing.drawn()
        return QRectF(left, bottom, right - left, top - bottom)

    def margins(self) -> tuple[int, int, int, int]:
        return 96, 74, 84, 70

    def paint(self, painter: QPainter) -> None:
        s = self.session
        self.head(painter, self.drawing.title if self.drawing else "Not so", "")
        if self.drawing is None:
            painter.setFont(fonts.text(14))
            painter.setPen(s.theme.color("oxide"))
            box = QRectF(16, 44, self.width() - 32, self.height() - 60)
            painter.drawText(box, int(Qt.TextFlag.TextWordWrap), self.note)
            return
        for k, note in enumerate(reversed(self.drawing.notes)):
            words(painter, s.theme, note, 16, self.height() - 10 - 17 * k, "quiet", font=fonts.text(13))
        draw_drawing(painter, s.theme, self.drawing, Plane(self.origin, self.px_mm), s.units)
