"""One watering drawn: up to three pots cut through at one scale, floors level, and below them what the water does."""

from functools import partial

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen

from kesh.advice.water.watering import DAYS, Depths
from kesh.desk.watering import MOST_TILT, Bowl, Watering, at_words
from kesh.geometry.outline import Floats
from kesh.model import Tree
from kesh.science.water.drainage import BREAKTHROUGH_BAND, wet_over_mm
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.layers import Layers
from kesh.ui.paint.marks import dimension, extension, handle, words
from kesh.ui.paint.pot_painter import figure_for
from kesh.ui.paint.stub_painter import draw_stub
from kesh.ui.rooms.water.drying_painter import DASHES, days_shown, draw_depths, draw_drying
from kesh.ui.rooms.water.wet_painter import draw_bowl, draw_tilted_line, wet_line
from kesh.ui.session import Session
from kesh.ui.theme import fonts

LEFT_PX, GAP_PX, HALF = 64, 26, 0.44
# room for two lines below a pot, and for their words beside those of the next
FOOT_PX, WORDS_PX = 46, 132
# hours of the state buttons
STATES = (("drained", "Drained", 0), ("day", "After 1 day", 24), ("three", "3 days", 72))
STUB_MM = 70.0


class WateringSheet(SheetView):
    """The pot in hand whole, others cut off in the middle; the mound is pulled at its crest."""

    tilted = pyqtSignal(float)
    mounded = pyqtSignal(float, bool)
    # the pot in hand so much deeper, for trial
    deepened = pyqtSignal(float)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.watering: Watering | None = None
        self.depths: Depths | None = None
        self.sentence, self.hour, self.state = "", 0, "drained"
        self.why = ""
        self.layers = Layers(self)
        self._crest: QPointF | None = None
        self._pulled: tuple[float, float] | None = None
        self._rim: QPointF | None = None
        self._deeper: tuple[float, float] | None = None
        self.deeper_mm = 0.0
        self.setAccessibleName("One watering: pots cut through with what stays wet in them, and how they dry")

    def show_watering(self, watering: Watering | None, depths: Depths | None, sentence: str = "") -> None:
        """Show another mix, tilt or tree; or a sentence where there is nothing to show."""
        self.watering, self.depths, self.sentence = watering, depths, sentence
        if watering is not None:
            told = "; ".join(f"{b.pot.name}: {b.wet_share:.0%} of its soil stays wet" for b in watering.bowls)
            self.setAccessibleDescription(told)
        else:
            self.setAccessibleDescription(sentence)
        if self._deeper is None:
            self.refit()
        self.update()

    def show_state(self, key: str) -> None:
        """Drained, after a day, after three."""
        self.state = key
        self.hour = next(h for k, _, h in STATES if k == key)
        self.update()

    # --- where things lie

    def _split(self) -> float:
        """Where the drawing ends and the charts begin: as high as the pots are wide enough to need."""
        if self.watering is None:
            return self.height() * 0.47
        tall = max(b.pot.height_mm for b in self.watering.bowls) + STUB_MM
        return round(min(self.height() * 0.47, tall * self._wide_scale() + fonts.scaled(140)))

    def _wide_scale(self) -> float:
        """The scale at which all pots lie beside one another."""
        wide = self._widths_mm()
        room = self.width() - fonts.scaled(LEFT_PX) - 24 - GAP_PX * (len(wide) - 1)
        return min(room / max(sum(wide), 1.0), 3.0)

    def _widths_mm(self) -> list[float]:
        assert self.watering is not None
        whole, *others = [b.pot.length_mm for b in self.watering.bowls]
        return [whole, *(HALF * o for o in others)]

    def fit(self) -> None:
        """Everything in sight at one scale."""
        self._fitted = True
        if self.watering is None:
            return
        tall = max(b.pot.height_mm for b in self.watering.bowls) + STUB_MM * 0.6
        self.px_mm = max(0.05, min(self._wide_scale(), (self._split() - fonts.scaled(FOOT_PX) - 30) / max(tall, 1.0)))
        self.scaled.emit(self.px_mm)
        self.update()

    def _foot_y(self) -> float:
        return self._split() - fonts.scaled(FOOT_PX)

    def _floor_y(self) -> float:
        """The level on which every floor lies."""
        assert self.watering is not None
        lowest = max(figure_for(b.pot).floor_mm for b in self.watering.bowls)
        return self._foot_y() - lowest * self.px_mm

    def _lefts(self) -> list[float]:
        x, found = float(fonts.scaled(LEFT_PX)), []
        for wide in self._widths_mm():
            found.append(x)
            x += max(wide * self.px_mm, fonts.scaled(WORDS_PX)) + GAP_PX
        return found

    def _foot(self, n: int, bowl: Bowl) -> QPointF:
        left = self._lefts()[n]
        return QPointF(
            left + bowl.pot.length_mm / 2 * self.px_mm, self._floor_y() + figure_for(bowl.pot).floor_mm * self.px_mm
        )

    # --- paint

    def paint(self, painter: QPainter) -> None:
        w, tree = self.watering, self.session.tree
        if w is None or tree is None:
            self.empty(painter, self.sentence or "Reckoning…")
            return
        for n, bowl in enumerate(w.bowls):
            self._bowl(painter, w, n, bowl, tree)
        self._level(painter, w)
        split, left = self._split(), fonts.scaled(LEFT_PX)
        t = self.session.theme
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawLine(QLineF(16, split, self.width() - 16, split))
        wide = self.width() - left - 24
        top, bottom = split + fonts.scaled(34), self.height() - fonts.scaled(40)
        drying = QRectF(left, top, wide * 0.66, bottom - top)
        depth = QRectF(drying.right() + fonts.scaled(56), top, wide - drying.width() - fonts.scaled(56), bottom - top)
        heads = (split, depth.left(), t.name, fonts.scaled(100))
        self.layers(painter, "heads", heads, lambda p: self._heads(p, split, depth.left()))
        draw_drying(painter, w, t, drying, self.hour, self.layers)
        draw_depths(painter, w, self.depths, t, depth, self.session.units, self.why)

    def _heads(self, painter: QPainter, split: float, right: float) -> None:
        """What the two charts are."""
        t, y, plain = self.session.theme, split + fonts.scaled(22), fonts.text(13)
        words(painter, t, "Drying", 16, y, font=fonts.section())
        words(painter, t, "water in the mix, share of its volume", 16 + fonts.scaled(64), y, "quiet", font=plain)
        words(painter, t, "By depth", right, y, font=fonts.section())
        words(painter, t, "hours after", right + fonts.scaled(74), y, "quiet", font=plain)

    def _bowl(self, painter: QPainter, w: Watering, n: int, bowl: Bowl, tree: Tree) -> None:
        t, foot = self.session.theme, self._foot(n, bowl)
        figure = figure_for(bowl.pot)
        painter.save()
        if n:
            cut = self._lefts()[n] + HALF * bowl.pot.length_mm * self.px_mm
            path = QPainterPath(QPointF(self._lefts()[n] - 12, 0))
            path.lineTo(cut, 0)
            for k in range(13):
                path.lineTo(cut + (3 if k % 2 else -3), self._split() * k / 12)
            path.lineTo(self._lefts()[n] - 12, self._split())
            path.closeSubpath()
            painter.setClipPath(path)
        painter.setPen(QPen(t.color("ink"), 1.4))
        painter.drawLine(QLineF(self._lefts()[n] - 8, foot.y(), self._lefts()[n] + (bowl.pot.length_mm if n == 0 else HALF * bowl.pot.length_mm) * self.px_mm + (8 if n == 0 else 0), foot.y()))  # fmt: skip
        painter.translate(foot)
        painter.scale(self.px_mm, self.px_mm)
        crest = figure.floor_mm + bowl.soil_mm + bowl.f.case.mound_mm
        if n == 0:
            x = float(bowl.f.seat.x_mm)
            tall = min(STUB_MM * 1.3, (self._floor_y() - 24) / self.px_mm - bowl.soil_mm - bowl.f.case.mound_mm)
            key = (tree.measures, round(x, 1), round(crest, 2), round(tall, 1), t.name)
            stub = partial(
                draw_stub, tree=tree, x_mm=x, soil_mm=crest - 2, tall_mm=max(tall, 20.0), theme=t, px_mm=self.px_mm
            )
            self.layers(painter, "trunk", key, stub)
        draw_bowl(painter, bowl, t, self.px_mm, water=self._water(n), keep=self.layers, name=str(n))
        if n == 0 and w.tilt is not None:
            draw_tilted_line(painter, bowl, w.tilt_deg, w.drain_mm, t, self.px_mm)
        painter.restore()
        self._words(painter, w, n, bowl, foot)
        if n == 0:
            high = bowl.pot.height_mm * self.px_mm
            self._rim = QPointF(foot.x() + 0.5 * bowl.pot.length_mm * self.px_mm + 9, foot.y() - high)
            handle(painter, t, self._rim, focus=self._deeper is not None, hover=False)
        if n == 0 and bowl.f.case.planting is not None:
            self._crest = QPointF(foot.x() + 0.30 * bowl.pot.length_mm * self.px_mm, foot.y() - crest * self.px_mm)
            handle(painter, t, self._crest, focus=self._pulled is not None, hover=False)

    def _water(self, n: int) -> tuple[Floats, Floats] | None:
        """(heights, water shares) of the pot in hand at the hour shown; None for just drained."""
        if n or self.depths is None or self.state == "drained":
            return None
        k = int(abs(self.depths.drying.hours - self.hour).argmin())
        return self.depths.z_mm, self.depths.drying.water[k]

    def _words(self, painter: QPainter, w: Watering, n: int, bowl: Bowl, foot: QPointF) -> None:
        t, u, left = self.session.theme, self.session.units, self._lefts()[n]
        role = "indigo" if n == 0 else "ink"
        told = f"{bowl.wet_share:.0%} stays wet" if bowl.plantable else "takes no mix"
        if n == 0 and self.deeper_mm:
            told += f", {u.mm(abs(self.deeper_mm))} {'deeper' if self.deeper_mm > 0 else 'shallower'} for trial"
        y = foot.y() + fonts.scaled(18)
        words(painter, t, bowl.pot.name, left, y, role, font=fonts.text(13, bold=n == 0))
        wide = bowl.pot.length_mm * self.px_mm if n == 0 else HALF * bowl.pot.length_mm * self.px_mm
        if n == 0 and wide > fonts.scaled(2 * WORDS_PX - 60):
            words(
                painter, t, f"{u.mm(bowl.soil_mm)} of mix", left + wide, y, "quiet", font=fonts.text(12), align="right"
            )
        used = words(painter, t, told, left, y + fonts.scaled(17), role, font=fonts.text(13, bold=True))
        if n and w.bowls[n].curve is not None:
            # how its line is drawn below
            pen = QPen(t.color("ink"), 1.3)
            pen.setDashPattern(list(DASHES[min(n, 2)]))
            painter.setPen(pen)
            at = y + fonts.scaled(13)
            painter.drawLine(QLineF(left + used + 8, at, left + used + 40, at))

    def _level(self, painter: QPainter, w: Watering) -> None:
        """The wet zone's top is one level for one mix: it runs through all pots."""
        t, first, u = self.session.theme, w.first, self.session.units
        if not first.plantable or self.state != "drained":
            return
        if first.f.case.layer is not None:
            self._layer_band(painter, first)
        if first.wet_mm < 0.5:
            return
        floor = self._floor_y()
        base = figure_for(first.pot).floor_mm
        y = floor - (wet_line(first) - base) * self.px_mm
        painter.setPen(QPen(t.color("indigo"), 1.3))
        painter.drawLine(QLineF(fonts.scaled(LEFT_PX) - 14, y, self.width() - 20, y))
        x = fonts.scaled(LEFT_PX) - 22
        layer = first.f.case.layer
        low = floor - (layer[1] if layer else 0.0) * self.px_mm
        extension(painter, t, QPointF(x - 4, low), QPointF(x + 16, low))
        extension(painter, t, QPointF(x - 4, y), QPointF(x + 16, y))
        dimension(painter, t, QPointF(x, low), QPointF(x, y), u.figure(min(first.wet_mm, first.soil_mm)), "indigo")

    def _layer_band(self, painter: QPainter, first: Bowl) -> None:
        """How sure the lift over a layer is: between two lines, beside the mix without it."""
        t, layer = self.session.theme, first.f.case.layer
        blend = first.f.case.blend
        if layer is None or blend is None:
            return
        floor = self._floor_y()
        right = fonts.scaled(LEFT_PX) + first.pot.length_mm * self.px_mm
        for kappa, role in (*((k, "indigo") for k in BREAKTHROUGH_BAND), (None, "quiet")):
            top = wet_over_mm(blend, None) if kappa is None else layer[1] + wet_over_mm(blend, layer, kappa)
            y = floor - top * self.px_mm
            pen = QPen(t.color(role), 1)
            pen.setDashPattern([2, 3] if kappa else [6, 3])
            painter.setPen(pen)
            painter.drawLine(QLineF(right - 90, y, right + 6, y))
            if kappa is None:
                words(painter, t, "no layer", right - 96, y + 4, font=fonts.text(11), align="right", ground="sheet")

    # --- hands

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._crest is not None and self.watering is not None:
            near = (event.position() - self._crest).manhattanLength() < 16
            if near and event.button() == Qt.MouseButton.LeftButton:
                self._pulled = (event.position().y(), self.watering.first.f.case.mound_mm)
                return
        if event is not None and self._rim is not None:
            near = (event.position() - self._rim).manhattanLength() < 16
            if near and event.button() == Qt.MouseButton.LeftButton:
                self._deeper = (event.position().y(), self.deeper_mm)
                return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._deeper is not None:
            from_y, was = self._deeper
            self.deepened.emit(float(round(was + (from_y - event.position().y()) / self.px_mm)))
            return
        if event is not None and self._pulled is not None:
            self.mounded.emit(self._mound_at(event), False)
            return
        if event is not None and self.watering is not None and event.position().y() > self._split():
            self._point(event.position().x())
            return
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if self._deeper is not None:
            self._deeper = None
            self.refit()
            self.update()
            return
        if event is not None and self._pulled is not None:
            mound = self._mound_at(event)
            self._pulled = None
            self.mounded.emit(mound, True)
            return
        super().mouseReleaseEvent(event)

    def _mound_at(self, event: QMouseEvent) -> float:
        assert self._pulled is not None
        from_y, was = self._pulled
        return float(round(max(0.0, min(80.0, was + (from_y - event.position().y()) / self.px_mm))))

    def _point(self, x: float) -> None:
        left = fonts.scaled(LEFT_PX)
        wide = (self.width() - left - 24) * 0.66
        if self.watering is not None and left <= x <= left + wide:
            self.walk_to(round((x - left) / wide * days_shown(self.watering) * 24))

    def walk_to(self, hour: int) -> None:
        """Look at another hour after the watering."""
        self.hour = max(0, min(DAYS * 24, hour))
        if self.watering is not None:
            self.pointed.emit(at_words(self.watering, self.hour))
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self.watering is None:
            return
        key, shift = Qt.Key(event.key()), bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self.walk_to(self.hour + (1 if key == Qt.Key.Key_Right else -1) * (24 if shift else 3))
        elif key == Qt.Key.Key_T:
            self.tilted.emit(float(max(0, min(MOST_TILT, self.watering.tilt_deg + (-1 if shift else 1)))))
        elif key in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight):
            self.deepened.emit(self.deeper_mm + (1 if key == Qt.Key.Key_BracketRight else -1) * (10 if shift else 1))
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and self.watering.first.f.case.planting is not None:
            mound = self.watering.first.f.case.mound_mm + (1 if key == Qt.Key.Key_Up else -1) * (10 if shift else 1)
            self.mounded.emit(max(0.0, min(80.0, mound)), True)
        else:
            super().keyPressEvent(event)
