"""The sheet of step Planting with its hands: trunk, wires, tilt, turn and mound are pulled, or moved with the arrows."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from kesh.desk.planting import pulled, shifted
from kesh.model import Planting
from kesh.ui.hand.hands import arrow, over, put, walked
from kesh.ui.hand.turning import tilt_at, tilt_spot, turn_at, turn_spot
from kesh.ui.paint.gallery import Gallery
from kesh.ui.rooms.planting.drawing import PlantingDrawing, Spot
from kesh.ui.session import Session

NEAR_PX = 10.0


class PlantingSheet(PlantingDrawing):
    """Ends of wires come before the trunk; with nothing else in hand the arrows move the tree."""

    wire_chosen = pyqtSignal(str)
    swap = pyqtSignal()

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self._drag: tuple[Spot, QPointF, Planting] | None = None

    @property
    def pulling(self) -> bool:
        """Whether something is under the hand."""
        return self._drag is not None

    def spots(self) -> list[Spot]:
        """Everything that can be taken in hand, in the order G walks it."""
        plan, planting = self.plan, self.planting
        if plan is None or planting is None:
            return []
        plane, front = self.plan_plane(), self.front_plane()
        trunk = plane.px(planting.offset_x_mm, planting.offset_y_mm)
        foot = front.px(planting.offset_x_mm, plan.a.pot.height_mm + planting.raise_mm)
        found = [Spot("trunk", "Trunk", trunk, plane.px_mm), Spot("front", "Trunk from the front", foot, front.px_mm)]
        thick = plan.a.case.tree.measure.trunk_at_soil_mm or plan.a.case.tree.measure.trunk_diameter_mm or 40.0
        found.append(
            Spot("turn", "Turn", turn_spot(trunk, thick * plane.px_mm, planting.turn_deg), plane.px_mm, ring=True)
        )
        found.append(
            Spot("tilt", "Tilt", tilt_spot(foot, max(front.px_mm, 0.9), planting.tilt_deg), front.px_mm, ring=True)
        )
        side = 0.32 * plan.a.pot.length_mm
        rim = plan.a.pot.height_mm
        found.append(
            Spot("mound", "Mound", front.px(side, rim - plan.a.case.headspace_mm + planting.mound_mm), front.px_mm)
        )
        if self.state == "ties" and plan.ties is not None:
            for wire in plan.ties.wires:
                found += [
                    Spot(f"hole:{wire.id}:{n}", f"Wire {wire.id}, hole", plane.px(*h), plane.px_mm)
                    for n, h in enumerate(wire.holes)
                ]
                found += [
                    Spot(f"over:{wire.id}:{n}", f"Wire {wire.id}, over the roots", plane.px(o[0], o[1]), plane.px_mm)
                    for n, o in enumerate(wire.over)
                ]
            found += [
                Spot(f"stone:{n}", f"Stone {n + 1}", plane.px(s.x_mm, s.y_mm), plane.px_mm)
                for n, s in enumerate(plan.ties.stones)
            ]
        return found

    def spot_at(self, point: QPointF) -> Spot | None:
        """What lies under a point: ends of wires before the trunk."""
        plan, planting = self.plan, self.planting
        if plan is None or planting is None:
            return None
        spots = self.spots()
        near = [(s.at - point, s) for s in spots if s.key not in ("trunk", "front")]
        close = [(float(np.hypot(d.x(), d.y())), s) for d, s in near if np.hypot(d.x(), d.y()) <= NEAR_PX]
        if close:
            return min(close, key=lambda pair: pair[0])[1]
        away = spots[0].at - point
        if np.hypot(away.x(), away.y()) <= max(
            0.5 * (plan.a.case.tree.measure.trunk_diameter_mm or 40.0) * self.px_mm, 14.0
        ):
            return spots[0]
        front = self.front_plane()
        x, y = front.mm(point)
        low = plan.a.pot.height_mm + planting.raise_mm
        tall = plan.a.case.tree.measure.height_mm or 300.0
        thick = (plan.a.case.tree.measure.trunk_diameter_mm or 40.0) / 2 + 6 / front.px_mm
        if abs(x - planting.offset_x_mm) <= thick and low - 8 / front.px_mm <= y <= low + 0.3 * tall:
            return spots[1]
        return None

    def _moved(self, spot: Spot, start: Planting, point: QPointF, from_point: QPointF) -> Planting:
        """The planting when a spot is pulled from one point to another. Raises KeshError."""
        plan = self.plan
        assert plan is not None
        d = point - from_point
        dx, dy = d.x() / spot.px_mm, -d.y() / spot.px_mm
        if spot.key == "tilt":
            front = self.front_plane()
            foot = front.px(start.offset_x_mm, plan.a.pot.height_mm + start.raise_mm)
            return shifted(start, "tilt", round(tilt_at(foot, point)) - start.tilt_deg, 0.0)
        if spot.key == "turn":
            centre = self.plan_plane().px(start.offset_x_mm, start.offset_y_mm)
            return shifted(start, "turn", round(turn_at(centre, point)) - start.turn_deg, 0.0)
        if spot.key.split(":")[0] in ("hole", "over", "stone"):
            x, y = self.plan_plane().mm(point)
            return pulled(start, plan.ties, plan.a, spot.key, x, y)
        return shifted(start, spot.key, dx, dy)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        spot = self.spot_at(event.position())
        if spot is None:
            super().mousePressEvent(event)
            return
        self.setFocus()
        self.take(spot.key)
        if self.planting is not None:
            self._drag = (spot, event.position(), self.planting)

    def take(self, key: str) -> None:
        """Take something in hand."""
        self.in_hand = key
        self.wire_chosen.emit(self.wire)
        self._tell()
        self.update()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._drag is not None:
            spot, start, planting = self._drag
            self._try(lambda: self._moved(spot, planting, event.position(), start), final=False)
            return
        super().mouseMoveEvent(event)
        if event is None:
            return
        near = self.spot_at(event.position())
        key, label = (near.key, near.label) if near is not None else ("", "")
        self._hover = over(self, self._hover, key, label)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if self._drag is None or event is None:
            return
        spot, start, planting = self._drag
        self._drag = None
        moved = event.position() - start
        if abs(moved.x()) + abs(moved.y()) < 1:
            self.session.drop_draft()
            return
        self._try(lambda: self._moved(spot, planting, event.position(), start), final=True)
        self.refit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self.planting is None or self.plan is None:
            super().keyPressEvent(event)
            return
        key, mods = event.key(), event.modifiers()
        moved, taken = arrow(event), walked(event, [s.key for s in self.spots()], self.in_hand)
        if key == Qt.Key.Key_Escape and self._drag is not None:
            self._drag = None
            self.session.drop_draft()
        elif taken is not None:
            self.take(taken)
        elif key == Qt.Key.Key_W:
            self.swap.emit()
        elif moved is not None:
            self.nudge(*moved)
        elif key == Qt.Key.Key_T:
            back = bool(mods & Qt.KeyboardModifier.ShiftModifier)
            planting = self.planting
            self._try(lambda: shifted(planting, "tilt", -1.0 if back else 1.0, 0.0), final=True)
        elif key == Qt.Key.Key_R:
            back = bool(mods & Qt.KeyboardModifier.ShiftModifier)
            planting = self.planting
            self._try(lambda: shifted(planting, "turn", -5.0 if back else 5.0, 0.0), final=True)
        elif key == Qt.Key.Key_M:
            back = bool(mods & Qt.KeyboardModifier.ShiftModifier)
            planting = self.planting
            self._try(lambda: shifted(planting, "mound", 0.0, -2.0 if back else 2.0), final=True)
        else:
            super().keyPressEvent(event)

    def nudge(self, dx_mm: float, dy_mm: float) -> None:
        """What is in hand by so much: mm, or degrees for tilt and turn."""
        planting, plan = self.planting, self.plan
        if planting is None or plan is None:
            return
        spots = {s.key: s for s in self.spots()}
        if self.in_hand not in spots:
            self.in_hand = "trunk"
        spot = spots[self.in_hand]
        if spot.key.split(":")[0] in ("hole", "over", "stone"):
            x, y = self.plan_plane().mm(spot.at)
            far = 40.0 if spot.key.startswith("hole") else 1.0
            self._try(
                lambda: pulled(planting, plan.ties, plan.a, spot.key, x + far * dx_mm, y + far * dy_mm), final=True
            )
        else:
            self._try(lambda: shifted(planting, spot.key, dx_mm, dy_mm), final=True)

    def _try(self, make: Callable[[], Planting], *, final: bool) -> None:
        if put(self, "planting", make, self._label(), final=final):
            self._tell()

    def _label(self) -> str:
        return next((s.label for s in self.spots() if s.key == self.in_hand), "Planting") + " moved"

    def _tell(self) -> None:
        p, u = self.planting, self.session.units
        if p is None:
            return
        told = {
            "trunk": f"Trunk {u.mm(p.offset_x_mm)} along, {u.mm(p.offset_y_mm)} back", "front": f"Trunk {u.mm(p.offset_x_mm)} along, {u.mm(p.raise_mm)} over the rim",
            "tilt": f"Tilt {p.tilt_deg:g}°", "turn": f"Turn {p.turn_deg:g}°", "mound": f"Mound {u.mm(p.mound_mm)}",
        }.get(self.in_hand, next((s.label for s in self.spots() if s.key == self.in_hand), ""))  # fmt: skip
        self.session.hand = told
        self.pointed.emit(f"{told}. Arrows move it, Ctrl tenfold, Shift a tenth; G takes the next")
