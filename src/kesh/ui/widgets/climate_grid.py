"""Typical climates, each drawn as twelve bars of rain with the warm and the cold line; one click takes one."""

from PyQt6.QtCore import QLineF, QPointF, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygonF
from PyQt6.QtWidgets import QSizePolicy, QWidget

from kesh.model import Site
from kesh.reference.starters import Climate, chosen, climate_of, climates, facing, regions, southern
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice

COLUMNS, LOW_C, HIGH_C, MOST_MM = 3, -18.0, 38.0, 260.0


SIDES = {"north": "in the north", "south": "in the south"}


class Hemisphere(Choice):
    """On which side of the equator the bench stands; a typical year is turned with it."""

    def __init__(self, session: Session) -> None:
        super().__init__(SIDES, "Side of the equator")
        self._session = session
        self.chosen.connect(self._turn)

    def show_site(self, site: Site | None) -> None:
        """Show the side a site lies on."""
        self.show_key("south" if southern(site) else "north")

    def _turn(self, side: str) -> None:
        site = self._session.collection.site
        if site is None:
            return
        after = facing(site, side == "south")
        if after != site:
            self._session.edit("Side of the equator", [("site", "site", after)])


def draw_year(painter: QPainter, session: Session, site: Site, box: QRectF) -> None:
    """Twelve months in a box: rain as bars, mean warmest and coldest as lines, the frost line dotted."""
    t = session.theme
    if not site.months:
        return
    wide = box.width() / 12

    def y(celsius: float) -> float:
        return box.bottom() - (celsius - LOW_C) / (HIGH_C - LOW_C) * box.height()

    for i, m in enumerate(site.months):
        high = min((m.rain_mm or 0.0) / MOST_MM, 1.0) * box.height() * 0.9
        bar = QRectF(box.left() + i * wide + 1, box.bottom() - high, wide - 2, high)
        painter.fillRect(bar, t.color("indigo_tint"))
        painter.setPen(QPen(t.color("indigo_fill"), 0.8))
        painter.drawRect(bar)
    frost = QPen(t.color("edge"), 1)
    frost.setDashPattern([1, 3])
    painter.setPen(frost)
    painter.drawLine(QLineF(box.left(), y(0), box.right(), y(0)))
    for role, style, values in (
        ("ochre", Qt.PenStyle.SolidLine, [m.tmax_c for m in site.months]),
        ("indigo", Qt.PenStyle.DashLine, [m.tmin_c for m in site.months]),
    ):
        painter.setPen(QPen(t.color(role), 1.5, style))
        points = [QPointF(box.left() + (i + 0.5) * wide, y(v)) for i, v in enumerate(values)]
        painter.drawPolyline(QPolygonF(points))


class ClimateGrid(QWidget):
    """Three in a row; the chosen one framed."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.shown = regions()[""]
        self.now, self.south = "", False
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Climate")
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)

    def sizeHint(self) -> QSize:
        return QSize(260, self._row_high * self._rows)

    @property
    def _rows(self) -> int:
        return max(1, -(-len(self.shown) // COLUMNS))

    @property
    def _words_high(self) -> int:
        # a part of a region is told in more words than a climate of no place
        regions_shown = {c.region for c in self.shown}
        return fonts.scaled(78 if len(regions_shown) > 1 else 46 if regions_shown != {""} else 32)

    def words_of(self, climate: Climate) -> str:
        """What stands under a drawing: with its region where several are shown."""
        alone = len({c.region for c in self.shown}) == 1
        return climate.words if alone else f"{climate.region}: {climate.words}"

    @property
    def _row_high(self) -> int:
        return fonts.scaled(64) + self._words_high

    def show_climates(self, several: tuple[Climate, ...]) -> None:
        """Others to choose from."""
        self.shown = several
        self.setMinimumHeight(self.sizeHint().height())
        self.updateGeometry()
        self.update()

    def show_site(self, site: Site | None) -> None:
        """Mark the climate a site has."""
        self.now = climate_of(site)
        self.south = southern(site)
        self.setAccessibleDescription(climates()[self.now].words if self.now else "a climate of one's own")
        self.updateGeometry()
        self.update()

    def box(self, index: int) -> QRectF:
        """Where a climate lies."""
        wide, high = self.width() / COLUMNS, self.height() / self._rows
        return QRectF((index % COLUMNS) * wide, (index // COLUMNS) * high, wide, high)

    def _take(self, index: int) -> None:
        if not self.shown:
            return
        one = self.shown[max(0, min(len(self.shown) - 1, index))]
        self.now = one.key
        self.update()
        self.chosen.emit(one.key)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.setFocus()
            hit = next((i for i in range(len(self.shown)) if self.box(i).contains(event.position())), None)
            if hit is not None:
                self._take(hit)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Up: -COLUMNS, Qt.Key.Key_Down: COLUMNS}
        if event is not None and Qt.Key(event.key()) in steps:
            keys = [c.key for c in self.shown]
            self._take((keys.index(self.now) if self.now in keys else 0) + steps[Qt.Key(event.key())])
            return
        super().keyPressEvent(event)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        words_high = self._words_high
        for i, climate in enumerate(self.shown):
            box = self.box(i).adjusted(2, 2, -4, -2)
            frame = QRectF(box.left(), box.top(), box.width(), box.height() - words_high)
            on = climate.key == self.now
            painter.fillRect(frame, t.color("moss_tint" if on else "field"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(t.color("moss" if on else "rule"), 2 if on else 1))
            painter.drawRect(frame)
            draw_year(painter, self._session, chosen(climate.key, self.south), frame.adjusted(4, 4, -4, -3))
            painter.setFont(fonts.text(12, bold=on))
            painter.setPen(t.color("moss" if on else "ink"))
            painter.drawText(
                QRectF(box.left(), frame.bottom() + 2, box.width() + 3, words_high),
                Qt.AlignmentFlag.AlignLeft | Qt.TextFlag.TextWordWrap, self.words_of(climate),
            )  # fmt: skip
        if self.hasFocus():
            painter.setPen(QPen(t.color("indigo"), 2))
            painter.drawRect(self.rect().adjusted(0, 0, -2, -2))
