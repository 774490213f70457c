"""What the cut-out knows, laid over its photograph: the loop, what is in doubt, the trunk's edges, another date."""

from PyQt6.QtCore import QRectF
from PyQt6.QtGui import QPainter, QPolygonF

from kesh.base.errors import KeshError
from kesh.desk.loop import loop_words, told_places
from kesh.model import TreePhoto
from kesh.photo.darkroom import Darkroom, Print
from kesh.photo.dates import laid_over, outline_mm
from kesh.photo.measure import PhotoMeasures
from kesh.ui.paint.marks import flag
from kesh.ui.paint.photo_painter import At, PhotoPainter
from kesh.ui.session import Session


class PhotoOverlay:
    """Paints in px of the window; `at` brings px of the picture there."""

    def __init__(self, session: Session, darkroom: Darkroom, painter: PhotoPainter) -> None:
        self._session, self._darkroom, self._painter = session, darkroom, painter

    def draw_cut(self, painter: QPainter, photo: TreePhoto, p: Print, box: QRectF, at: At, *, edges: bool) -> None:
        """The loop, what is in doubt, and the trunk's edges."""
        cut, k = self._darkroom.cut_of(photo), p.factor
        loop = list(photo.loop)
        if not loop and cut is not None and cut.loop is not None:
            loop = [(float(x) * k, float(y) * k) for x, y in cut.loop]
        if cut is not None:
            self._painter.draw_doubt(painter, photo, cut, box)
            # what is measured for them waits until a drag ends
            held = self._session.collection.photo_of(self._session.tree_id, photo.id) or photo
            for place in told_places(cut, self._darkroom.places(held)):
                spot = at(place.middle[0] * k, place.middle[1] * k)
                flag(painter, self._session.theme, place.letter, spot.x(), spot.y(), "ochre")
            if cut.edges is not None and edges:
                left, right = (
                    [at(float(e[side]) * k, float(e[0]) * k) for e in cut.edges[::3]] for side in (1, 2)
                )  # fmt: skip
                self._painter.draw_edges(painter, left, right)
        if loop:
            self._painter.draw_loop(painter, [at(*s) for s in loop], loop_words(cut, photo), box, own=bool(photo.loop))

    def others(self, photo_id: str) -> tuple[TreePhoto, ...]:
        """Other photographs of the tree in hand that are cut out and can be laid over one."""
        every = self._session.collection.photos_of(self._session.tree_id)
        return tuple(p for p in every if p.id != photo_id and self._darkroom.is_cut(p))

    def draw_other(
        self, painter: QPainter, photo: TreePhoto, other_id: str, found: PhotoMeasures, factor: float, box: QRectF, at: At
    ) -> None:  # fmt: skip
        """The outline of another date, when one is laid over and can be measured."""
        other = next((p for p in self.others(photo.id) if p.id == other_id), None)
        mask = None if other is None else self._darkroom.mask(other)
        try:
            theirs = None if other is None else self._darkroom.figures(other)
        except KeshError:
            # its marks cannot be, which is told where it is in hand
            return
        if other is None or mask is None or theirs is None:
            return
        rings = [
            QPolygonF([at(float(x) * factor, float(y) * factor) for x, y in ring])
            for ring in laid_over(outline_mm(mask, theirs), found)
        ]
        when = other.taken.strftime("%-d %B %Y") if other.taken else other.name or "another photograph"
        self._painter.draw_other_date(painter, rings, when, box)
