"""Parts of a drawing that are painted once and laid over again while nothing of theirs has changed."""

from collections.abc import Callable

from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPixmap
from PyQt6.QtWidgets import QWidget

Paint = Callable[[QPainter], None]
# paints a part by its name; `key` holds all that its look depends on, besides scale and place
Keep = Callable[[QPainter, str, object, Paint], None]


def plainly(painter: QPainter, name: str, key: object, paint: Paint) -> None:
    """Paint a part anew each time: on paper, and under a lens."""
    paint(painter)


class Layers:
    """Pixmaps of a widget's parts, in the widget's own size."""

    def __init__(self, widget: QWidget) -> None:
        self._widget = widget
        self._kept: dict[str, tuple[object, QPixmap | None]] = {}
        self.off = False

    def __call__(self, painter: QPainter, name: str, key: object, paint: Paint, box: QRectF | None = None) -> None:
        """Paint a part, or lay over what was painted for the same key at the same place and scale.

        Only what is asked for a second time is kept: what changes in every frame of a drag is painted straight. `box`,
        in px of the widget, is all the part covers: a smaller picture is laid over faster.
        """
        if self.off:
            paint(painter)
            return
        t, ratio = painter.transform(), self._widget.devicePixelRatioF()
        whole = (
            key,
            t.m11(),
            t.m12(),
            t.m21(),
            t.m22(),
            t.dx(),
            t.dy(),
            self._widget.width(),
            self._widget.height(),
            ratio,
        )
        held = self._kept.get(name)
        if held is None or held[0] != whole:
            self._kept[name] = (whole, None)
            paint(painter)
            return
        kept = held[1]
        if kept is None:
            under = QPixmap((self._widget.size() if box is None else box.toAlignedRect().size()) * ratio)
            under.setDevicePixelRatio(ratio)
            under.fill(Qt.GlobalColor.transparent)
            inner = QPainter(under)
            inner.setRenderHints(painter.renderHints())
            if box is not None:
                inner.translate(-QPointF(box.toAlignedRect().topLeft()))
            inner.setTransform(t, True)
            paint(inner)
            inner.end()
            kept = under
            self._kept[name] = (whole, kept)
        painter.save()
        painter.resetTransform()
        painter.drawPixmap(QPoint() if box is None else box.toAlignedRect().topLeft(), kept)
        painter.restore()
