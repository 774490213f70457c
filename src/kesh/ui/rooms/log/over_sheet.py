"""Two photographs of one tree at one scale, the older laid over the newer about the trunk's foot: what has changed."""

from collections.abc import Callable

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from kesh.advice.season.life import Life
from kesh.model import TreePhoto
from kesh.photo.cutout import CutOut
from kesh.science.season.season import day_words
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery, view_of
from kesh.ui.paint.marks import ruler, words
from kesh.ui.paint.scene import draw_cutout, pixel_ratio
from kesh.ui.session import Session
from kesh.ui.theme import fonts

STEP = 0.1


class OverSheet(SheetView):
    """`cut_of` gives a photograph's cut-out at its scale, or None. Space swaps the two, Left and Right fade, Up and Down take others."""

    def __init__(self, session: Session, gallery: Gallery, cut_of: Callable[[TreePhoto], CutOut | None]) -> None:
        super().__init__(session, gallery)
        self._cut_of = cut_of
        self.photos: tuple[TreePhoto, ...] = ()
        self.base_at, self.over_at = 1, 0
        self.share = 0.5
        self._cuts: dict[str, CutOut | None] = {}
        self.busy = False
        self.life: Life | None = None
        self.setAccessibleName("Two photographs at one scale")

    def show_photos(self, photos: tuple[TreePhoto, ...], life: Life | None) -> None:
        """A tree's photographs from the side, the oldest first; those without a scale are named and left out."""
        ordered = tuple(sorted(photos, key=lambda p: (p.taken is None, p.taken, p.id)))
        if [p.id for p in ordered] != [p.id for p in self.photos]:
            self._cuts.clear()
            self.base_at, self.over_at = len(ordered) - 1, 0
        self.photos, self.life = ordered, life
        self.refit()
        self.update()

    def _cut(self, n: int) -> CutOut | None:
        if not 0 <= n < len(self.photos):
            return None
        photo = self.photos[n]
        # what is not cut out yet may be soon
        if self._cuts.get(photo.id) is None:
            self._cuts[photo.id] = self._cut_of(photo)
        return self._cuts[photo.id]

    def wanted(self) -> TreePhoto | None:
        """The first of the two that is not cut out yet."""
        for n in (self.base_at, self.over_at):
            if len(self.photos) > 1 and self._cut(n) is None:
                return self.photos[n]
        return None

    def fit(self) -> None:
        """The taller of the two fits."""
        self._fitted = True
        found = [c for c in (self._cut(self.base_at), self._cut(self.over_at)) if c is not None]
        if found:
            tall = max(_tall_mm(c) for c in found)
            wide = max(c.box_mm[2] for c in found)
            self.px_mm = max(min((self.height() - 110) / max(tall, 1), (self.width() - 160) / max(wide, 1), 2.0), 0.05)
        self.scaled.emit(self.px_mm)
        self.update()

    def paint(self, painter: QPainter) -> None:
        p, t = painter, self.session.theme
        lower, upper = self._cut(self.base_at), self._cut(self.over_at)
        if len(self.photos) < 2 or lower is None or upper is None:
            self._by_measures(p, self._why(lower, upper))
            return
        ground, foot = self.height() - 56.0, self.width() / 2
        ruler(p, t, 48, ground, self.px_mm, max(_tall_mm(lower), _tall_mm(upper)), unit=self.session.units.length)
        self.ground(p, 54, self.width() - 18, ground)
        draw_cutout(p, lower, QPointF(foot, ground), self.px_mm)
        p.save()
        p.setOpacity(self.share)
        draw_cutout(p, upper, QPointF(foot, ground), self.px_mm)
        p.restore()
        p.setPen(QPen(t.color("edge"), 1, Qt.PenStyle.DashLine))
        for cut, role, at in ((lower, "ink", self.base_at), (upper, "indigo", self.over_at)):
            y = ground - _tall_mm(cut) * self.px_mm
            p.setPen(QPen(t.color(role), 1, Qt.PenStyle.DashLine))
            p.drawLine(QLineF(foot - 90, y, foot + 90, y))
            words(
                p,
                t,
                f"{self._name(at)}: {self.session.units.mm(_tall_mm(cut))}",
                foot + 96,
                y + 4,
                role,
                font=fonts.text(13),
                ground="sheet",
            )
        words(
            p,
            t,
            f"Below {self._name(self.base_at)}, over it {self._name(self.over_at)} at {self.share:.0%}",
            14,
            20,
            "quiet",
            font=fonts.book(14, italic=True),
        )
        self._track(p)

    def _by_measures(self, p: QPainter, told: str) -> None:
        """Without two photographs: the tree as drawn from its first and its last measures."""
        t, rows = self.session.theme, self.life.measures if self.life is not None else ()
        sized = [(day, m) for day, m in rows if m.height_mm is not None]
        if self.life is None or len(sized) < 2:
            self.empty(p, told)
            return
        (then, _), (now, last) = sized[0], sized[-1]
        high = last.height_mm or 300.0
        self.px_mm = max(
            min((self.height() - 130) / max(high, 1), (self.width() - 160) / max(last.spread_mm or high, 1), 2.0), 0.05
        )
        ground, foot = self.height() - 76.0, self.width() / 2
        ruler(p, t, 48, ground, self.px_mm, high, unit=self.session.units.length)
        self.ground(p, 54, self.width() - 18, ground)
        species = self.life.book.species(self.life.tree)
        for day, opacity in ((now, 1.0), (then, max(self.share, 0.05))):
            tree, _ = self.life.as_large_as(day)
            view = view_of(tree, species, t, self.px_mm, pixel_ratio(p))
            if view is not None:
                p.save()
                p.setOpacity(opacity if day == then else 0.55)
                self.gallery.draw(p, view, QPointF(foot, ground))
                p.restore()
        words(
            p,
            t,
            f"As drawn: {day_words(then)} {then.year} over {day_words(now)} {now.year}",
            14,
            20,
            "quiet",
            font=fonts.book(14, italic=True),
        )
        words(p, t, told, self.width() / 2, self.height() - 46, "quiet", font=fonts.text(13), align="center")
        self._track(p)

    def _track(self, p: QPainter) -> None:
        track, t = QRectF(self.width() / 2 - 120, self.height() - 22, 240, 6), self.session.theme
        p.setPen(QPen(t.color("edge"), 1))
        p.setBrush(t.color("field"))
        p.drawRect(track)
        p.fillRect(
            QRectF(track.left(), track.top(), track.width() * self.share, track.height()), t.color("indigo_fill")
        )

    def _name(self, n: int) -> str:
        taken = self.photos[n].taken
        return f"{day_words(taken)} {taken.year}" if taken is not None else f"photograph {n + 1}"

    def _why(self, lower: CutOut | None, upper: CutOut | None) -> str:
        if len(self.photos) < 2:
            return (
                "Two photographs from the side are laid over each other here. Add a second one in step 1, some year on."
            )
        if self.busy:
            return "Cutting the trees out of their photographs …"
        bad = [self._name(n) for n, cut in ((self.base_at, lower), (self.over_at, upper)) if cut is None]
        return f"Without a scale and a cut-out nothing can be laid over: {' and '.join(bad)}. Give it a known length in step 1."

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        self.mouseMoveEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if (
            event is not None
            and event.buttons() & Qt.MouseButton.LeftButton
            and event.position().y() > self.height() - 50
        ):
            self.share = min(max((event.position().x() - self.width() / 2 + 120) / 240, 0.0), 1.0)
            self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        key, n = event.key(), len(self.photos)
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.share = round(min(max(self.share + (STEP if key == Qt.Key.Key_Right else -STEP), 0.0), 1.0), 2)
        elif key == Qt.Key.Key_Space:
            self.base_at, self.over_at = self.over_at, self.base_at
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and n > 2:
            self.over_at = (self.over_at + (1 if key == Qt.Key.Key_Down else -1)) % n
            if self.over_at == self.base_at:
                self.over_at = (self.over_at + 1) % n
            self.refit()
        else:
            super().keyPressEvent(event)
            return
        self.update()


def _tall_mm(cut: CutOut) -> float:
    """From the foot to the top of the picture's tree."""
    return max(-cut.box_mm[1], 1.0)
