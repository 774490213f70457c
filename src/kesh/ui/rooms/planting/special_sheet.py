"""The sheet of a special planting: the front with the pot cut open, from above, what is cut, and its stages; everything is pulled in the drawing."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRect, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen, QPixmap

from kesh.advice.kinds.kind import Grip
from kesh.advice.kinds.plan import Setting, SpecialPlan
from kesh.base.errors import KeshError
from kesh.desk.special import grips, pulled
from kesh.figure.overlay import Overlay
from kesh.model import Planting
from kesh.ui.hand.hands import arrow, over, put, walked
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import handle, ruler, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.special_painter import bounds_mm, draw_above, draw_cuts, draw_open
from kesh.ui.session import Session
from kesh.ui.theme import fonts

NEAR_PX = 10.0
# the plan is drawn at a plain part of the front's scale
PARTS = (1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0)
MOST_CUTS = 5


class SpecialSheet(SheetView):
    """`grip_chosen` tells what is in hand."""

    grip_chosen = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.setting: Setting | None = None
        self.kind, self.sentence = "plain", ""
        self.plan: SpecialPlan | None = None
        self.in_hand = ""
        self.hurry = False
        self._hover = ""
        self._drag: tuple[str, Setting] | None = None
        self._strip: QPixmap | None = None
        self.setAccessibleName("The special planting from the front with its pot cut open, to scale")

    def show_special(
        self, setting: Setting | None, kind: str, plan: SpecialPlan | None, sentence: str = "", *, hurry: bool = False
    ) -> None:
        """Another plan, or a sentence where there is none."""
        self.setting, self.kind, self.plan, self.sentence, self.hurry = setting, kind, plan, sentence, hurry
        self.setAccessibleDescription(plan.title if plan is not None else sentence)
        if self._drag is None:
            self.refit()
        self.update()

    # --- where things lie

    def _split_x(self) -> float:
        return round(self.width() * 0.62)

    def _stage_px(self) -> float:
        return (
            fonts.scaled(168)
            if self.plan is not None and self.plan.stages and self.height() > fonts.scaled(480)
            else 0.0
        )

    def _cut_px(self) -> float:
        n = len(self.plan.cuts) if self.plan is not None else 0
        return fonts.scaled(26 + 22 * min(n, MOST_CUTS)) if n and self.height() > fonts.scaled(420) else 0.0

    def _strip_box(self) -> QRect:
        return QRect(0, round(self.height() - self._stage_px()), self.width(), round(self._stage_px()))

    def _body_px(self) -> float:
        return self.height() - self._stage_px() - self._cut_px()

    def fit(self) -> None:
        """The front as large as its part of the sheet lets it."""
        self._fitted = True
        if self.setting is None or self.plan is None:
            return
        left, low, right, top = bounds_mm(self.setting, self.plan.front)
        box = QRectF(
            fonts.scaled(54),
            fonts.scaled(28),
            self._split_x() - fonts.scaled(54) - fonts.scaled(64),
            self._body_px() - fonts.scaled(28) - fonts.scaled(34),
        )
        self.px_mm = max(0.05, min(box.width() / max(right - left, 1), box.height() / max(top - low, 1), 3.0))
        k = self.px_mm
        x = box.left() - left * k + (box.width() - (right - left) * k) / 2
        self.origin = QPointF(x, box.bottom() + low * k)
        self.scaled.emit(self.px_mm)
        self.update()

    def front_plane(self) -> Plane:
        """The front: the pot's middle on the bench."""
        return Plane(self.origin, self.px_mm)

    def above_plane(self) -> Plane:
        """From above, at a plain part of the front's scale."""
        assert self.setting is not None
        pot = self.setting.a.pot
        left = self._split_x() + fonts.scaled(20)
        box = QRectF(
            left,
            fonts.scaled(34),
            self.width() - left - fonts.scaled(24),
            min(self._body_px() * 0.5, fonts.scaled(230)),
        )
        room = min(box.width() / pot.length_mm, box.height() / pot.width_mm)
        part = next((s for s in PARTS if self.px_mm / s <= room), self.px_mm / room)
        return Plane(QPointF(box.center().x(), box.top() + pot.width_mm / 2 * self.px_mm / part + 4), self.px_mm / part)

    # --- paint

    def paint(self, painter: QPainter) -> None:
        s, plan = self.setting, self.plan
        if s is None or plan is None:
            self.empty(painter, self.sentence or "Reckoning…")
            return
        t, u = self.session.theme, self.session.units
        front = self.front_plane()
        italic = fonts.book(13, italic=True)
        words(painter, t, "From the front, pot cut", fonts.scaled(16), fonts.scaled(18), "quiet", font=italic)
        *_, top = bounds_mm(s, plan.front)
        if self.show_dimensions:
            ruler(painter, t, fonts.scaled(40), front.origin.y(), front.px_mm, top, unit=self.session.units.length)
        painter.save()
        painter.setClipRect(QRectF(0, 0, self._split_x(), self._body_px()))
        draw_open(
            painter,
            t,
            s,
            plan.front,
            self.gallery,
            front,
            marks=self.show_dimensions,
            right_px=self._split_x() - 6,
            hurry=self.hurry,
        )
        painter.restore()
        above = self.above_plane()
        part = front.px_mm / above.px_mm
        told = "From above, the same scale" if abs(part - 1) < 0.01 else f"From above, 1 : {part:g} of the front"
        words(painter, t, told, self._split_x() + fonts.scaled(16), fonts.scaled(18), "quiet", font=italic)
        painter.setPen(QPen(t.color("rule"), 1))
        painter.drawLine(QLineF(self._split_x(), 10, self._split_x(), self._body_px() - 8))
        draw_above(painter, t, s, plan.above, above)
        self._figures(painter, plan, above.px(0, -s.a.pot.width_mm / 2).y() + fonts.scaled(44))
        if self._cut_px():
            y = self._body_px()
            painter.setPen(QPen(t.color("rule"), 1))
            painter.drawLine(QLineF(16, y, self.width() - 16, y))
            words(painter, t, "Cut list", fonts.scaled(16), y + fonts.scaled(17), font=fonts.section())
            draw_cuts(
                painter,
                t,
                plan,
                QRectF(
                    fonts.scaled(16),
                    y + fonts.scaled(20),
                    self.width() - fonts.scaled(32),
                    self._cut_px() - fonts.scaled(24),
                ),
                u,
            )
        if self._strip is not None and self.hurry:
            # the stages wait until the hand lets go
            painter.drawPixmap(self._strip_box().topLeft(), self._strip)
        elif self._stage_px():
            self._stages(painter, s, plan)
        for grip in self.shown() if not self.hurry else ():
            handle(painter, t, self.at(grip), focus=grip.key == self.in_hand, hover=grip.key == self._hover)

    def _figures(self, p: QPainter, plan: SpecialPlan, y: float) -> None:
        """The figures of the plan beside the drawing."""
        t, left, right = self.session.theme, self._split_x() + fonts.scaled(16), self.width() - fonts.scaled(18)
        words(p, t, "Figures", left, y, font=fonts.section())
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(left, y + 6, right, y + 6))
        for figure in plan.figures:
            y += fonts.scaled(21)
            if y > self._body_px() - fonts.scaled(8):
                return
            role = {"no": "oxide", "watch": "ochre"}.get(figure.status, "ink")
            wide = words(p, t, figure.label, left, y + 4, "quiet", font=fonts.text(13))
            text = self.session.units.told(figure.text)
            told = fonts.elided(fonts.text(13, bold=True), text, right - left - wide - 10)
            words(p, t, told, right, y + 4, role, font=fonts.text(13, bold=True), align="right")

    def _stages(self, p: QPainter, s: Setting, plan: SpecialPlan) -> None:
        """The stages as small drawings at one scale, each with what decides."""
        t = self.session.theme
        top = self.height() - self._stage_px()
        p.setPen(QPen(t.color("rule"), 1))
        p.drawLine(QLineF(16, top, self.width() - 16, top))
        words(p, t, "Stages", fonts.scaled(16), top + fonts.scaled(17), font=fonts.section())
        words(
            p,
            t,
            "the sign decides; the dates are only expected",
            self.width() - fonts.scaled(16),
            top + fonts.scaled(17),
            "quiet",
            font=fonts.text(12),
            align="right",
        )
        stages = plan.stages[:5]
        wide = (self.width() - fonts.scaled(32)) / max(len(stages), 3)
        ground = self.height() - fonts.scaled(40)
        whole = Overlay(tuple(shape for one in stages for shape in one.front.shapes))
        left, low, right, high = bounds_mm(s, whole)
        k = min(
            (ground - top - fonts.scaled(26)) / max(high - low, 1), (wide - fonts.scaled(16)) / max(right - left, 1)
        )
        for n, stage in enumerate(stages):
            x0 = fonts.scaled(16) + n * wide
            middle = x0 + wide / 2 - (left + right) / 2 * k
            if n:
                p.setPen(QPen(t.color("rule"), 1))
                p.drawLine(QLineF(x0, top + fonts.scaled(26), x0, self.height() - 8))
            draw_open(
                p,
                t,
                s,
                stage.front,
                self.gallery,
                Plane(QPointF(middle, ground + low * k), k),
                marks=False,
                hurry=self.hurry,
            )
            words(p, t, f"{n + 1}  {stage.title}", x0 + 6, ground + fonts.scaled(17), font=fonts.text(13, bold=True))
            words(
                p,
                t,
                fonts.elided(fonts.text(12), stage.sign, wide - 12),
                x0 + 6,
                ground + fonts.scaled(33),
                "quiet",
                font=fonts.text(12),
            )

    # --- hands

    def grips(self) -> list[Grip]:
        """What can be taken in hand."""
        return grips(self.setting, self.kind) if self.setting is not None and self.plan is not None else []

    def shown(self) -> list[Grip]:
        """Those that are drawn and clicked: of a root over a rock all its points once it is in hand, of the outline's corners likewise."""
        hand = self.in_hand.split(":")
        found, seen = [], set()
        for g in self.grips():
            parts = g.key.split(":")
            group = ":".join(parts[:3]) if parts[1:2] == ["root"] else "rock:edge" if parts[1:2] == ["edge"] else ""
            if not group:
                found.append(g)
                continue
            mine = hand[1:2] == parts[1:2] and (parts[1] == "edge" or hand[2:3] == parts[2:3])
            # of the others one point each, where it can be taken
            if mine or group not in seen:
                found.append(g)
            seen.add(group)
        return found

    def at(self, grip: Grip) -> QPointF:
        """Where a grip lies, px."""
        plane = self.front_plane() if grip.side == "front" else self.above_plane()
        return plane.px(grip.x_mm, grip.y_mm)

    def grip_at(self, point: QPointF) -> Grip | None:
        """The grip under a point."""
        near = [
            (float(np.hypot(*(self.at(g).x() - point.x(), self.at(g).y() - point.y()))), n, g)
            for n, g in enumerate(self.shown())
        ]
        close = [row for row in near if row[0] <= NEAR_PX]
        return min(close)[2] if close else None

    def take(self, key: str) -> None:
        """Take something in hand."""
        self.in_hand = key
        self.grip_chosen.emit(key)
        self._tell()
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton or self.setting is None:
            super().mousePressEvent(event)
            return
        grip = self.grip_at(event.position())
        if grip is None:
            super().mousePressEvent(event)
            return
        self.setFocus()
        self.take(grip.key)
        self._strip = self.grab(self._strip_box()) if self._stage_px() else None
        self._drag = (grip.key, self.setting)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._drag is not None:
            self._try(lambda: self._pulled(event.position()), final=False)
            return
        super().mouseMoveEvent(event)
        grip = self.grip_at(event.position())
        key, label = (grip.key, grip.label) if grip is not None else ("", "")
        self._hover = over(self, self._hover, key, label)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if self._drag is None or event is None:
            return
        try:
            planting = self._pulled(event.position())
        except KeshError as err:
            self._drag = None
            self.session.drop_draft()
            self.session.said.emit("no", str(err))
            return
        start, self._drag = self._drag[1], None
        if planting == start.planting:
            self.session.drop_draft()
            return
        self._try(lambda: planting, final=True)
        self.refit()

    def _pulled(self, point: QPointF) -> Planting:
        assert self._drag is not None
        key, setting = self._drag
        grip = next(g for g in grips(setting, self.kind) if g.key == key)
        plane = self.front_plane() if grip.side == "front" else self.above_plane()
        return pulled(setting, key, *plane.mm(point))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self.setting is None:
            super().keyPressEvent(event)
            return
        found = self.grips()
        moved, taken = arrow(event), walked(event, [g.key for g in found], self.in_hand)
        if event.key() == Qt.Key.Key_Escape and self._drag is not None:
            self._drag = None
            self.session.drop_draft()
        elif taken is not None:
            self.take(taken)
        elif moved is not None and found:
            grip = next((g for g in found if g.key == self.in_hand), found[0])
            self.in_hand = grip.key
            setting, (dx, dy) = self.setting, moved
            self._try(lambda: pulled(setting, grip.key, grip.x_mm + dx, grip.y_mm + dy), final=True)
        else:
            super().keyPressEvent(event)

    def _try(self, make: Callable[[], Planting], *, final: bool) -> None:
        if put(self, "planting", make, f"{self._label() or 'Planting'} moved", final=final):
            self._tell()

    def _label(self) -> str:
        return next((g.label for g in self.grips() if g.key == self.in_hand), "")

    def _tell(self) -> None:
        label = self._label()
        self.session.hand = label
        self.pointed.emit(f"{label}. Arrows move it, Ctrl tenfold, Shift a tenth; G takes the next" if label else "")
