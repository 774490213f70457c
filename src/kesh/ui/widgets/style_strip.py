"""Small drawings to choose from: nine styles of trees, outlines of pots. By click, or by arrows."""

from collections.abc import Sequence

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QSizePolicy, QWidget

from kesh.figure.pot_figure import plan_rings
from kesh.model import Measure, Outline, Pot, Tree
from kesh.ui.paint.gallery import Gallery, view_of
from kesh.ui.paint.paths import path_of
from kesh.ui.session import Session
from kesh.ui.theme import fonts


class Strip(QWidget):
    """Cells side by side, one of them chosen; the drawing of a cell is for who knows what it shows."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session, cells: Sequence[tuple[str, str]], name: str, height_px: int) -> None:
        super().__init__()
        self._session, self._cells, self._high = session, tuple(cells), height_px
        self.now = cells[0][0]
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName(name)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def sizeHint(self) -> QSize:
        return QSize(len(self._cells) * 60, fonts.scaled(self._high))

    def show_key(self, key: str) -> None:
        """Mark a cell without announcing it."""
        self.now = key
        self.setAccessibleDescription(dict(self._cells)[key])
        self.update()

    def box(self, index: int) -> QRectF:
        """Where a cell lies."""
        wide = self.width() / len(self._cells)
        return QRectF(index * wide, 0, wide, self.height())

    def _take(self, index: int) -> None:
        key = self._cells[max(0, min(len(self._cells) - 1, index))][0]
        self.show_key(key)
        self.chosen.emit(key)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.setFocus()
            self._take(int(event.position().x() / max(self.width(), 1) * len(self._cells)))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        if event is not None and Qt.Key(event.key()) in steps:
            at = [k for k, _ in self._cells].index(self.now)
            self._take(at + steps[Qt.Key(event.key())])
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        line = self.height() - fonts.scaled(20)
        for i, (key, words) in enumerate(self._cells):
            box = self.box(i).adjusted(2, 1, -2, -1)
            if key == self.now:
                frame = QRectF(box.left(), box.top(), box.width(), line - box.top() + 2)
                painter.fillRect(frame, t.color("moss_tint"))
                painter.setPen(QPen(t.color("moss"), 2))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawRect(frame)
            painter.save()
            self.draw(painter, key, QPointF(box.center().x(), line), box)
            painter.restore()
            painter.setFont(fonts.text(13, bold=key == self.now))
            painter.setPen(t.color("moss" if key == self.now else "quiet"))
            painter.drawText(
                QRectF(box.left() - 6, line + 3, box.width() + 12, fonts.scaled(18)),
                Qt.AlignmentFlag.AlignHCenter,
                words,
            )
        painter.setPen(QPen(t.color("edge"), 1))
        painter.drawLine(QLineF(0, line, self.width(), line))
        if self.hasFocus():
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(1, 1, self.width() - 2, self.height() - 2))

    def draw(self, painter: QPainter, key: str, foot: QPointF, box: QRectF) -> None:
        """The drawing of a cell, standing on its line."""


class StyleStrip(Strip):
    """The styles, each as a small tree in a small pot."""

    def __init__(self, session: Session, gallery: Gallery, styles: Sequence[tuple[str, str]]) -> None:
        super().__init__(session, styles, "Style", 112)
        self._gallery = gallery
        gallery.ready.connect(self.update)

    def draw(self, painter: QPainter, key: str, foot: QPointF, box: QRectF) -> None:
        t, hanging = self._session.theme, key in ("cascade", "semi_cascade")
        high = box.height() - fonts.scaled(24)
        k = high / (760.0 if key == "cascade" else 560.0)
        pot_high = {"cascade": 330.0, "semi_cascade": 200.0}.get(key, 70.0) * k
        pot_wide = {"cascade": 150.0, "semi_cascade": 170.0, "forest": 330.0, "broom": 260.0}.get(key, 220.0) * k
        m = Measure(height_mm=420 if not hanging else 300, trunk_diameter_mm=30 if key in ("literati", "forest") else 55,
                    drop_mm={"cascade": 300.0, "semi_cascade": 120.0}.get(key))  # fmt: skip
        tree = Tree(id=key, name=key, style=key, flow="right", measures=(m,), seed=23)
        painter.setPen(QPen(t.color("ink"), 0.8))
        painter.setBrush(t.color("oxide_tint"))
        painter.drawRect(QRectF(foot.x() - pot_wide / 2, foot.y() - pot_high, pot_wide, pot_high))
        view = view_of(tree, None, t, max(k, 0.05), self.devicePixelRatioF())
        if view is not None:
            self._gallery.draw(painter, view, QPointF(foot.x(), foot.y() - pot_high + 2))


class OutlineStrip(Strip):
    """Outlines from above."""

    def __init__(self, session: Session, outlines: Sequence[tuple[str, str, Outline]]) -> None:
        super().__init__(session, [(key, words) for key, words, _ in outlines], "Outline from above", 92)
        self._outlines = {key: outline for key, _, outline in outlines}

    def draw(self, painter: QPainter, key: str, foot: QPointF, box: QRectF) -> None:
        t, outline = self._session.theme, self._outlines[key]
        equal = key in ("square", "round")
        pot = Pot(
            id=key, name=key, outline=outline, length_mm=240, width_mm=240 if equal else 208 if key == "hexagon" else 170, height_mm=80, wall_mm=12,
        )  # fmt: skip
        k = min((box.width() - 14) / 250, (box.height() - fonts.scaled(34)) / 245)
        painter.translate(QPointF(foot.x(), foot.y() - (box.height() - fonts.scaled(20)) / 2))
        painter.scale(k, k)
        outer, inner = (path_of(ring) for ring in plan_rings(pot))
        painter.fillPath(outer.subtracted(inner), t.color("oxide_tint"))
        painter.setPen(QPen(t.color("ink"), 1.1 / k))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(outer)
        painter.drawPath(inner)
