"""The life of a tree along time: in the pot of its time to one scale, what was done, how it grew, how full its pots were, what was learnt."""

from datetime import date, timedelta

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF

from kesh.advice.season.lessons import Pair, last_planned, pairs
from kesh.advice.season.life import Life, Stand
from kesh.model import Event
from kesh.science.season.season import day_words
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import dimension, ruler, words
from kesh.ui.paint.scene import draw_planted
from kesh.ui.rooms.log.curves import Curves
from kesh.ui.rooms.log.lanes import FIRST_TALLER, LANES, draw_lanes, labels_px
from kesh.ui.rooms.log.pairs_table import ROW_PX as TABLE_ROW_PX
from kesh.ui.rooms.log.pairs_table import draw_pairs
from kesh.ui.session import Session
from kesh.ui.theme import fonts

RIGHT_PX, LANE_PX, AXIS_PX = 18, 21, 20
MOST_PAIRS, LOW_PX = 5, 560
MOST_STANDS = 6


class LifeSheet(SheetView):
    """`picked` is sent with an event of the log. Arrows walk the entries."""

    picked = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.life: Life | None = None
        self.event_id = ""
        self.setAccessibleName("The life of the tree")

    def show_life(self, life: Life | None, event: str) -> None:
        """Show a life with an entry in hand."""
        self.life, self.event_id = life, event
        if life is not None:
            self.setAccessibleDescription(f"{len(life.stands)} pots, {len(life.events)} entries")
        self.refit()
        self.update()

    # --- where things lie

    @property
    def stands(self) -> tuple[Stand, ...]:
        """The last few pots of its life."""
        return self.life.stands[-MOST_STANDS:] if self.life is not None else ()

    def _pairs(self) -> tuple[Pair, ...]:
        event = last_planned(self.life.events) if self.life is not None else None
        if event is None or self.life is None or self.height() < LOW_PX:
            return ()
        return pairs(self.life.book.c, event)[:MOST_PAIRS]

    def _table_px(self) -> float:
        found = self._pairs()
        return 0.0 if not found else fonts.scaled(42) + len(found) * fonts.scaled(TABLE_ROW_PX)

    def _picture_px(self) -> float:
        """Height of the pictures: at least two fifths of the sheet."""
        fixed = (
            self._table_px()
            + fonts.scaled(AXIS_PX)
            + (len(LANES) - 1 + FIRST_TALLER) * fonts.scaled(LANE_PX)
            + self._curves_px()
            + 40
        )
        return max(self.height() - fixed, self.height() * 0.30)

    def _curves_px(self) -> float:
        return fonts.scaled(170) if self.height() >= LOW_PX else fonts.scaled(110)

    def fit(self) -> None:
        """One scale for all pictures, so that they stand side by side."""
        self._fitted = True
        rows = self.stands
        if rows:
            gap = 30.0
            wide = sum(_wide_mm(s) for s in rows) + gap * (len(rows) - 1)
            tall = max(_tall_mm(s) for s in rows)
            room_w = max(self.width() - labels_px() - 60, 80)
            room_h = max(self._picture_px() - fonts.scaled(62), 40)
            self.px_mm = max(min(room_w / max(wide, 1), room_h / max(tall, 1), 1.2), 0.02)
        self.scaled.emit(self.px_mm)
        self.update()

    def x_of(self, day: date) -> float:
        """A day along the sheet."""
        assert self.life is not None
        first, last = self.life.span
        return labels_px() + (self.width() - labels_px() - RIGHT_PX) * (day - first).days / max((last - first).days, 1)

    # --- painting

    def paint(self, painter: QPainter) -> None:
        if self.life is None:
            self.empty(painter, "No tree yet. Add one in step 1.", action=("Add a tree", "new_tree"))
            return
        p = painter
        if not self.stands and not self.life.events and not self.life.measures:
            self.empty(
                p, "Nothing is written down yet. The first entry may be its last repotting: about when, into which pot."
            )
            return
        ground = self._picture_px() - fonts.scaled(44)
        self._pictures(p, ground)
        top = self._picture_px()
        self._axis(p, top)
        top += fonts.scaled(AXIS_PX)
        bottom = top + (len(LANES) - 1 + FIRST_TALLER) * fonts.scaled(LANE_PX)
        self._future(p, top, bottom + self._curves_px())
        draw_lanes(
            p,
            self.session.theme,
            self.life,
            self.x_of,
            QRectF(0, top, self.width(), bottom - top),
            self.event_id,
            self.session.units,
        )
        wide = float(self.width() - RIGHT_PX)
        Curves(self.session, self.life, self.x_of, labels_px(), wide).draw(p, bottom, bottom + self._curves_px())
        self._today(p, self._picture_px(), bottom + self._curves_px())
        draw_pairs(p, self.session.theme, self.life, self._pairs(), bottom + self._curves_px() + 6, float(self.width()))

    def _pictures(self, p: QPainter, ground: float) -> None:
        t, rows = self.session.theme, self.stands
        words(
            p,
            t,
            "In the pot of its time, one scale" if rows else "No pot is written down",
            14,
            20,
            "quiet",
            font=fonts.book(14, italic=True),
        )
        if not rows:
            return
        tall = max(_tall_mm(s) for s in rows)
        ruler(p, t, 48, ground, self.px_mm, tall, unit=self.session.units.length)
        self.ground(p, 54, self.width() - RIGHT_PX, ground)
        wide = [_wide_mm(s) * self.px_mm for s in rows]
        room = self.width() - labels_px() - RIGHT_PX - sum(wide)
        x, gap = labels_px() + 10.0, max(room / max(len(rows), 1), 6.0)
        assert self.life is not None
        for n, s in enumerate(rows):
            middle = x + _left_mm(s) * self.px_mm
            species = self.life.book.species(s.tree)
            p.save()
            if s.last is not None:
                p.setOpacity(0.92)
            draw_planted(p, self.gallery, t, s.tree, species, s.pot, s.planting, QPointF(middle, ground), self.px_mm)
            p.restore()
            half = s.pot.length_mm * self.px_mm / 2
            if self.show_dimensions:
                dimension(
                    p,
                    t,
                    QPointF(middle - half, ground + 13),
                    QPointF(middle + half, ground + 13),
                    self.session.units.figure(s.pot.length_mm),
                )
            now = s.last is None
            words(p, t, s.pot.name, middle, ground + fonts.scaled(29), font=fonts.text(13, bold=now), align="center")
            told = f"{day_words(s.first)} {s.first.year}" if now else f"{s.first.year}"
            told += "" if s.measured else ", size assumed"
            words(p, t, told, middle, ground + fonts.scaled(42), "quiet", font=fonts.text(12), align="center")
            x += wide[n] + gap

    def _axis(self, p: QPainter, top: float) -> None:
        assert self.life is not None
        t, (first, last) = self.session.theme, self.life.span
        p.setPen(QPen(t.color("ink"), 1.2))
        p.drawLine(QLineF(labels_px(), top + 1, self.width() - RIGHT_PX, top + 1))
        years = last.year - first.year + 1
        step = next((k for k in (1, 2, 5, 10, 20) if years / k * fonts.scaled(34) < self.width() - labels_px()), 50)
        for year in range(first.year, last.year + 1):
            x = self.x_of(date(year, 1, 1))
            p.setPen(QPen(t.color("edge"), 0.8))
            p.drawLine(QLineF(x, top + 1, x, top + (6 if year % step else 9)))
            if (year - first.year) % step == 0 and x + 30 < self.width():
                words(
                    p,
                    t,
                    str(year),
                    x + 3,
                    top + fonts.scaled(15),
                    font=fonts.text(12, bold=year == self.session.today.year),
                )
        p.setBrush(t.color("moss"))
        p.setPen(Qt.PenStyle.NoPen)
        for s in self.life.stands:
            x = self.x_of(s.first)
            p.drawPolygon(QPolygonF([QPointF(x - 4, top), QPointF(x + 4, top), QPointF(x, top - 6)]))

    def _future(self, p: QPainter, top: float, bottom: float) -> None:
        x = self.x_of(self.session.today)
        p.fillRect(
            QRectF(x, top, self.width() - RIGHT_PX - x, bottom - top), self.session.theme.color("moss_tint", 0.35)
        )

    def _today(self, p: QPainter, top: float, bottom: float) -> None:
        x, t = self.x_of(self.session.today), self.session.theme
        p.setPen(QPen(t.color("ink"), 1.4))
        p.drawLine(QLineF(x, top, x, bottom))

    # --- hands

    def _walk(self) -> list[Event]:
        return list(self.life.events) if self.life is not None else []

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if (
            event is not None
            and event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Home, Qt.Key.Key_End)
            and self._walk()
        ):
            keys = [e.id for e in self._walk()]
            at = keys.index(self.event_id) if self.event_id in keys else len(keys) - (event.key() == Qt.Key.Key_Right)
            by = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
            at = (
                len(keys) - 1
                if event.key() in (Qt.Key.Key_Home, Qt.Key.Key_End)
                else min(max(at + by, 0), len(keys) - 1)
            )
            self.picked.emit(keys[at])
            return
        super().keyPressEvent(event)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        super().mousePressEvent(event)
        if event is None or self.life is None or event.button() != Qt.MouseButton.LeftButton:
            return
        near = min(self._walk(), key=lambda e: abs(self.x_of(e.date) - event.position().x()), default=None)
        top = self._picture_px()
        if near is not None and abs(self.x_of(near.date) - event.position().x()) < 14 and event.position().y() > top:
            self.picked.emit(near.id)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self.life is None:
            return
        first, last = self.life.span
        share = (event.position().x() - labels_px()) / max(self.width() - labels_px() - RIGHT_PX, 1)
        if 0 <= share <= 1:
            day = first + timedelta(days=int(share * (last - first).days))
            self.pointed.emit(f"Pointer {day_words(day)} {day.year}")


def _left_mm(s: Stand) -> float:
    """From the left edge of the picture to the pot's middle."""
    m = s.tree.measure
    return max((m.canopy_left_mm or 0.0) - s.planting.offset_x_mm, s.pot.length_mm / 2, 40.0)


def _wide_mm(s: Stand) -> float:
    m = s.tree.measure
    return _left_mm(s) + max((m.canopy_right_mm or 0.0) + s.planting.offset_x_mm, s.pot.length_mm / 2, 40.0)


def _tall_mm(s: Stand) -> float:
    return s.pot.height_mm + (s.tree.measure.height_mm or 300.0)
