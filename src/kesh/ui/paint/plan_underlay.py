"""The photograph of the roots from above, laid under the root plan at its scale, turned with the tree."""

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QImage, QPainter, QPixmap

from kesh.base.errors import KeshError
from kesh.model import Tree
from kesh.photo.above import Underlay
from kesh.photo.darkroom import Darkroom
from kesh.ui.session import Session


class PlanUnderlay:
    """Fetches the latest photograph from above and paints it in mm about the trunk."""

    def __init__(self, session: Session, darkroom: Darkroom) -> None:
        self._session, self._darkroom = session, darkroom
        self.on = True
        self._kept: tuple[object, QPixmap] = (None, QPixmap())

    def of(self, tree: Tree) -> Underlay | None:
        """What lies under the plan of a tree; None without a photograph from above, or while it lacks marks."""
        photo = self._session.collection.above_of(tree.id)
        try:
            return None if photo is None else self._darkroom.underlay(photo, tree.marker_deg)
        except KeshError:
            # what is missing is said where the photograph is in hand
            return None

    def words(self, tree: Tree) -> str:
        """One line on what lies there, or could."""
        photo, found = self._session.collection.above_of(tree.id), self.of(tree)
        if photo is None:
            return ""
        if found is None:
            return "The photograph from above still lacks a mark: see Photograph"
        when = f", {photo.taken:%-d %b %Y}" if photo.taken else ""
        return f"Photograph{when}; U takes it away" if self.on else "U lays the photograph under it"

    def draw(self, painter: QPainter, found: Underlay, turn_deg: float) -> None:
        """The painter stands at the trunk, in mm, y down."""
        if self._kept[0] is not found:
            high, wide = found.bgra.shape[:2]
            image = QImage(found.bgra.tobytes(), wide, high, 4 * wide, QImage.Format.Format_ARGB32)
            self._kept = found, QPixmap.fromImage(image)
        pixmap = self._kept[1]
        painter.save()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.rotate(-turn_deg)
        painter.drawPixmap(QRectF(*found.box_mm), pixmap, QRectF(pixmap.rect()))
        painter.restore()
