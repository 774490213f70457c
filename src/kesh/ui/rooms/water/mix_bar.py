"""A mix as a bar of its grains with the share of each, one row for each material, and mixes tried as points on a curve."""

from collections.abc import Callable

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QMouseEvent, QPainter, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QLineEdit, QSlider, QWidget

from kesh.advice.rules.water import FOOT_FITS_H, FOOT_WATCH_H
from kesh.base.errors import KeshError
from kesh.desk.mixes import Tried, family, grades, plain_name
from kesh.model import Mix, Part
from kesh.ui.paint.grains import draw_grains, grain_colour
from kesh.ui.paint.marks import status_mark, words
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice

STEPS, MOST = 4, 6.0


class MixBar(QWidget):
    """Lengths are shares by loose volume."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.mix: Mix | None = None
        self.setFixedHeight(fonts.scaled(50))

    def show_mix(self, mix: Mix | None) -> None:
        """Show another mix."""
        self.mix = mix
        self.setAccessibleName("The mix as its grains")
        self.setAccessibleDescription(
            "" if mix is None else " : ".join("?" if p.parts is None else f"{p.parts:g}" for p in mix.parts)
        )
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t = QPainter(self), self._session.theme
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        whole = QRectF(0.5, 0.5, self.width() - 1.0, fonts.scaled(30))
        if self.mix is None or not self.mix.parts:
            painter.setPen(QPen(t.color("edge"), 1))
            painter.drawRect(whole)
            return
        total = sum(p.parts or 0.0 for p in self.mix.parts)
        untold = sum(p.parts is None for p in self.mix.parts)
        x = whole.left()
        for p in self.mix.parts:
            share = (p.parts or 0.0) / total if total and not untold else 1 / len(self.mix.parts)
            if share <= 0:
                continue
            box = QRectF(x, whole.top(), share * whole.width(), whole.height())
            painter.save()
            painter.setClipRect(box)
            painter.fillRect(box, t.color("soil", 0.5))
            if p.parts is not None:
                draw_grains(
                    painter,
                    Mix(id=p.substrate, name="x", parts=(Part(substrate=p.substrate, parts=1.0),)),
                    box.adjusted(-6, -6, 6, 6),
                    4.6,
                )
            painter.restore()
            painter.setPen(QPen(t.color("ink"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(box)
            told = "?" if p.parts is None else f"{share:.0%}" if not untold else f"{p.parts:g}"
            if box.width() > fonts.scaled(24):
                words(painter, t, told, x + 2, whole.bottom() + fonts.scaled(15), "quiet", font=fonts.text(12))
            x += box.width()


class MixRow(QWidget):
    """One material: its grain, name, slider, figure and grade. `written` tells the part as it should be, None to take it away."""

    written = pyqtSignal(object, bool)

    def __init__(self, session: Session, part: Part) -> None:
        super().__init__()
        self._session, self.part = session, part
        rows = session.tables.substrates
        row = rows.get(part.substrate)
        name = plain_name(row) if row else part.substrate
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 1, 0, 1)
        line.setSpacing(4)
        line.addSpacing(fonts.scaled(16))
        self.name = QLabel(name)
        self.name.setToolTip(row.name if row else "not in the table")
        self.name.setFixedWidth(fonts.scaled(62))
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, int(MOST * STEPS))
        self.slider.setAccessibleName(f"Parts of {name}")
        self.slider.valueChanged.connect(lambda v: self._slid(v, self.slider.isSliderDown()))
        self.slider.sliderReleased.connect(lambda: self._slid(self.slider.value(), False))
        self.figure = QLineEdit()
        self.figure.setFixedWidth(fonts.scaled(34))
        self.figure.setAlignment(Qt.AlignmentFlag.AlignRight)
        self.figure.setAccessibleName(f"Parts of {name}, typed")
        self.figure.editingFinished.connect(self._typed)
        sizes = grades(part.substrate, rows)
        self.grade = Choice(sizes if row else {part.substrate: "?"}, f"Grade of {name}")
        self.grade.setMinimumContentsLength(4)
        self.grade.setFixedWidth(fonts.scaled(84))
        self.grade.chosen.connect(
            lambda key: self.written.emit(self.part.changed(substrate=key, size_low_mm=None, size_high_mm=None), False)
        )
        line.addWidget(self.name)
        line.addWidget(self.slider, 1)
        line.addWidget(self.figure)
        line.addWidget(self.grade)
        self.show_part(part)

    def show_part(self, part: Part) -> None:
        """Show another figure of the same material."""
        self.part = part
        self.slider.blockSignals(True)
        self.slider.setValue(round((part.parts or 0.0) * STEPS))
        self.slider.blockSignals(False)
        if not self.figure.hasFocus():
            self.figure.setText("?" if part.parts is None else f"{part.parts:g}")
        self.grade.show_key(part.substrate)
        if part.size_low_mm is not None and part.size_high_mm is not None:
            self.grade.setToolTip(f"sieved to {part.size_low_mm:g}–{part.size_high_mm:g} mm")

    def belongs(self, part: Part) -> bool:
        """Whether the row shows this material."""
        return family(part.substrate) == family(self.part.substrate)

    def _slid(self, value: int, live: bool) -> None:
        self.written.emit(self.part.changed(parts=value / STEPS), live)

    def _typed(self) -> None:
        text = self.figure.text().strip().replace(",", ".")
        try:
            parts = None if text == "?" else float(text or 0)
            changed = self.part.changed(parts=parts)
        except (KeshError, ValueError):
            self._session.said.emit(
                "no", f"'{text}' is no figure from 0 to 1000; write one, or a ? for what is not known"
            )
            self.show_part(self.part)
            return
        if changed != self.part:
            self.written.emit(changed, False)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(QPen(self._session.theme.color("ink"), 1))
        painter.setBrush(grain_colour(self.part.substrate))
        painter.drawEllipse(QPointF(fonts.scaled(7), self.height() / 2), 5.5, 4.6)


class MixCurve(QWidget):
    """Mixes tried in this pot: hours of a wet foot to the right, days it lasts upwards. A click takes one."""

    def __init__(self, session: Session, take: Callable[[Tried], None]) -> None:
        super().__init__()
        self._session, self._take = session, take
        self.tried: tuple[Tried, ...] = ()
        self.at = -1
        self.setFixedHeight(fonts.scaled(150))
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAccessibleName("Mixes tried in this pot: hours of a wet foot against days it lasts")

    def show_tried(self, tried: tuple[Tried, ...]) -> None:
        """Show others."""
        self.tried, self.at = tried, -1
        self.setAccessibleDescription("; ".join(f"{x.words}: {x.foot_h:.0f} h, {x.days:.1f} days" for x in tried[:12]))
        self.update()

    def _box(self) -> QRectF:
        return QRectF(fonts.scaled(30), 6, self.width() - fonts.scaled(40), self.height() - fonts.scaled(40))

    def spot(self, one: Tried) -> QPointF:
        """Where a mix lies."""
        box = self._box()
        days = max((x.days for x in self.tried), default=1.0)
        hours = min(one.foot_h, 2 * FOOT_WATCH_H) / (2 * FOOT_WATCH_H)
        return QPointF(box.left() + hours**0.5 * box.width(), box.bottom() - one.days / max(days, 1e-6) * box.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter, t, box = QPainter(self), self._session.theme, self._box()
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for limit, role in ((FOOT_FITS_H, "moss"), (FOOT_WATCH_H, "ochre")):
            x = box.left() + (limit / (2 * FOOT_WATCH_H)) ** 0.5 * box.width()
            painter.setPen(QPen(t.color(role), 1, Qt.PenStyle.DotLine))
            painter.drawLine(QLineF(x, box.top(), x, box.bottom()))
            words(
                painter,
                t,
                f"{limit:.0f} h",
                x,
                box.bottom() + fonts.scaled(14),
                role,
                font=fonts.text(11),
                align="center",
            )
        painter.setPen(QPen(t.color("ink"), 1))
        painter.drawLine(QLineF(box.left(), box.bottom(), box.right(), box.bottom()))
        painter.drawLine(QLineF(box.left(), box.top(), box.left(), box.bottom()))
        words(
            painter,
            t,
            "wet foot →",
            box.right(),
            box.bottom() + fonts.scaled(14),
            "quiet",
            font=fonts.text(11),
            align="right",
        )
        most = max((x.days for x in self.tried), default=0.0)
        if most:
            words(
                painter, t, f"{most:.1f} d", box.left() - 3, box.top() + 9, "quiet", font=fonts.text(11), align="right"
            )
        for one in self.tried:
            status = "fits" if one.foot_h <= FOOT_FITS_H else "watch" if one.foot_h <= FOOT_WATCH_H else "no"
            at = self.spot(one)
            status_mark(painter, t, status, at.x(), at.y(), 11 if one.now else 8)
            if one.now:
                painter.setPen(QPen(t.color("indigo"), 1.8))
                painter.setBrush(Qt.BrushStyle.NoBrush)
                painter.drawEllipse(at, 9, 9)
        shown = self.tried[self.at] if 0 <= self.at < len(self.tried) else next((x for x in self.tried if x.now), None)
        if shown is not None:
            told = f"{shown.words}: {shown.foot_h:.0f} h, {shown.days:.1f} days"
            painter.setPen(t.color("ink"))
            painter.setFont(fonts.text(12))
            metrics = painter.fontMetrics()
            painter.drawText(
                QPointF(0, self.height() - 5), metrics.elidedText(told, Qt.TextElideMode.ElideMiddle, self.width())
            )
        if self.hasFocus():
            painter.setPen(QPen(t.color("indigo"), 1.5))
            painter.drawRect(self.rect().adjusted(0, 0, -1, -1))

    def _near(self, at: QPointF) -> int:
        away = [(self.spot(x) - at).manhattanLength() for x in self.tried]
        best = min(range(len(away)), key=away.__getitem__, default=-1)
        return best if best >= 0 and away[best] < 18 else -1

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None:
            self.at = self._near(event.position())
            self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and (near := self._near(event.position())) >= 0:
            self._take(self.tried[near])

    def keyPressEvent(self, event) -> None:  # type: ignore[no-untyped-def]
        if event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Right) and self.tried:
            self.at = (self.at + (1 if event.key() == Qt.Key.Key_Right else -1)) % len(self.tried)
            self.update()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Space) and 0 <= self.at < len(self.tried):
            self._take(self.tried[self.at])
        else:
            super().keyPressEvent(event)
