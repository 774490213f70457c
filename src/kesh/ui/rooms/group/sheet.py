"""The sheet of step Group with its hands: trunks and ground are dragged, or moved with the arrows, spares set into the plan."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from kesh.advice.group.plan import with_row, with_spot
from kesh.desk.group import contour_at, ground_pulled, ground_spots, open_spot, raised
from kesh.model import Tree
from kesh.ui.hand.hands import arrow, over, put, step_of, walked
from kesh.ui.rooms.group.drawing import GroupDrawing, Held
from kesh.ui.rooms.group.spares_drawing import spare_at

NEAR_PX = 11.0


class GroupSheet(GroupDrawing):
    """Trunks are taken in the plan or by their foot in the front; in the view of the ground its handles and contours."""

    chosen = pyqtSignal(str)

    # --- hands

    def spots(self) -> list[str]:
        """Everything G walks: trunks and spares, or the handles of the ground."""
        plan = self.plan
        if plan is None:
            return []
        if self.state == "ground":
            return [s.key for s in ground_spots(plan.tree)]
        return [g.id for g in plan.rows] + [f"spare:{g.id}" for g in plan.spares]

    def spot_at(self, point: QPointF) -> str:
        """What lies under a point; empty where nothing does."""
        plan = self.plan
        if plan is None or not self.editable:
            return ""
        above = self.plan_plane()
        if self.state == "ground":
            near = [(above.px(s.x_mm, s.y_mm) - point, s.key) for s in ground_spots(plan.tree)]
            close = [(float(np.hypot(d.x(), d.y())), key) for d, key in near if np.hypot(d.x(), d.y()) <= NEAR_PX]
            return min(close)[1] if close else contour_at(plan.tree, *above.mm(point), 6.0 / above.px_mm)
        for n, row in enumerate(plan.rows):
            d = above.px(plan.x[n], plan.y[n]) - point
            if np.hypot(d.x(), d.y()) <= max(float(plan.d[n]) / 2 * above.px_mm, NEAR_PX - 2):
                return row.id
        front = self.front_plane()
        x, y = front.mm(point)
        rim = plan.pot.height_mm
        for n in np.argsort(plan.y):
            tall = plan.h[n] if not np.isnan(plan.h[n]) else 200.0
            if abs(x - plan.x[n]) <= max(plan.d[n] / 2, 4 / front.px_mm) and rim <= y <= rim + 0.35 * tall:
                return plan.rows[int(n)].id
        spare = spare_at(plan, self._spare_box(), point)
        return f"spare:{spare}" if spare else ""

    def take(self, key: str) -> None:
        """Take something in hand."""
        self.in_hand = key
        self.chosen.emit(key.removeprefix("spare:") if ":" not in key or key.startswith("spare:") else "")
        self._tell()
        self.update()

    def _moved(self, held: Held, point: QPointF) -> Tree:
        """The tree when what is held is pulled to a point. Raises KeshError."""
        above = self.plan_plane()
        if self.state == "ground":
            return ground_pulled(held.tree, held.key, *above.mm(point))
        if held.key.startswith("spare:"):
            return with_spot(held.tree, held.key.removeprefix("spare:"), *above.mm(point))
        row = next(g for g in held.tree.group if g.id == held.key)
        d = (point - held.start) / above.px_mm
        # by its foot in the front it moves along only
        in_front = held.start.y() < self.front_plane().origin.y()
        return with_spot(
            held.tree, held.key, (row.x_mm or 0.0) + d.x(), (row.y_mm or 0.0) - (0.0 if in_front else d.y())
        )

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is None or event.button() != Qt.MouseButton.LeftButton or self.plan is None:
            super().mousePressEvent(event)
            return
        key = self.spot_at(event.position())
        if not key:
            super().mousePressEvent(event)
            return
        self.setFocus()
        self.take(key)
        self._drag = Held(key, event.position(), self.plan.tree)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        if self._drag is not None:
            held = self._drag
            if held.key.startswith("spare:"):
                self.update()
                return
            self._try(lambda: self._moved(held, event.position()), final=False)
            return
        super().mouseMoveEvent(event)
        key = self.spot_at(event.position())
        self._hover = over(self, self._hover, key, self._label(key))

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        super().mouseReleaseEvent(event)
        if self._drag is None or event is None:
            return
        held, self._drag = self._drag, None
        moved = event.position() - held.start
        if abs(moved.x()) + abs(moved.y()) < 1:
            self.session.drop_draft()
            return
        if held.key.startswith("spare:") and event.position().x() > self._split_x():
            self.session.said.emit("unknown", "Let a spare go over the plan to set it there")
            self.update()
            return
        outside = not held.key.startswith("spare:") and self.state == "now" and event.position().x() > self._split_x()
        if outside:
            self._try(
                lambda: with_spot(held.tree, held.key, None, None), final=True, label=f"{held.key} put beside the tray"
            )
        else:
            self._try(lambda: self._moved(held, event.position()), final=True)
        if held.key.startswith("spare:"):
            self.take(held.key.removeprefix("spare:"))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None or self.plan is None:
            super().keyPressEvent(event)
            return
        key, mods = event.key(), event.modifiers()
        moved, taken = arrow(event), walked(event, self.spots(), self.in_hand)
        if key == Qt.Key.Key_Escape and self._drag is not None:
            self._drag = None
            self.session.drop_draft()
        elif taken is not None:
            self.take(taken)
        elif key == Qt.Key.Key_A and not mods:
            self.aside = -self.aside
            self.update()
        elif moved is not None and self.in_hand and self.editable:
            self.nudge(*moved)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.in_hand.startswith("spare:"):
            self.place_spare()
        elif key == Qt.Key.Key_P and self._row() is not None:
            self.pin()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self._row() is not None:
            self.put_beside()
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown) and self.in_hand.startswith("mound:"):
            n, by = int(self.in_hand.split(":")[1]), 1.0 if key == Qt.Key.Key_PageUp else -1.0
            tree, size = self.plan.tree, step_of(event)
            self._try(
                lambda: raised(tree, n, by * size),
                final=True,
                label=f"Mound {n + 1} higher" if by > 0 else f"Mound {n + 1} lower",
            )
        else:
            super().keyPressEvent(event)

    def _row(self) -> str | None:
        """The trunk in hand that stands in the tray."""
        return (
            self.in_hand
            if self.plan is not None and any(g.id == self.in_hand for g in self.plan.rows) and self.state == "now"
            else None
        )

    def nudge(self, dx_mm: float, dy_mm: float) -> None:
        """What is in hand by so many mm."""
        plan = self.plan
        if plan is None or self.in_hand.startswith("spare:"):
            return
        tree = plan.tree
        if self.state == "ground":
            spot = next((s for s in ground_spots(tree) if s.key == self.in_hand), None)
            if spot is not None:
                self._try(lambda: ground_pulled(tree, spot.key, spot.x_mm + dx_mm, spot.y_mm + dy_mm), final=True)
            return
        row = next((g for g in plan.rows if g.id == self.in_hand), None)
        if row is not None:
            self._try(lambda: with_spot(tree, row.id, (row.x_mm or 0.0) + dx_mm, (row.y_mm or 0.0) + dy_mm), final=True)

    def pin(self) -> None:
        """The trunk in hand keeps its place when the group is laid out anew, or no longer."""
        key, plan = self._row(), self.plan
        if key is None or plan is None:
            return
        row, tree = next(g for g in plan.rows if g.id == key), plan.tree
        self._try(
            lambda: with_row(tree, key, fixed=not row.fixed),
            final=True,
            label=f"{key} {'let go' if row.fixed else 'pinned'}",
        )

    def put_beside(self) -> None:
        """The trunk in hand becomes a spare."""
        key, plan = self._row(), self.plan
        if key is not None and plan is not None:
            tree = plan.tree
            self._try(lambda: with_spot(tree, key, None, None), final=True, label=f"{key} put beside the tray")
            self.take(f"spare:{key}")

    def place_spare(self) -> None:
        """The spare in hand goes where most ground is open."""
        plan = self.plan
        if plan is None or not self.in_hand.startswith("spare:"):
            return
        key, tree = self.in_hand.removeprefix("spare:"), plan.tree
        x, y = open_spot(plan)
        self._try(lambda: with_spot(tree, key, x, y), final=True, label=f"{key} set into the tray")
        self.take(key)

    def _try(self, make: Callable[[], Tree], *, final: bool, label: str = "") -> None:
        if put(self, "tree", make, label or f"{self._label(self.in_hand)} moved", final=final):
            self._tell()

    def _label(self, key: str) -> str:
        plan = self.plan
        if key.startswith("spare:"):
            return f"Spare {key.removeprefix('spare:')}"
        if key.startswith("contour:"):
            return f"Contour at {key.split(':')[2]} mm of mound {int(key.split(':')[1]) + 1}"
        if ":" in key and plan is not None:
            return next((s.label for s in ground_spots(plan.tree) if s.key == key), "Ground")
        return f"Trunk {key}"

    def _tell(self) -> None:
        tree, u = self.session.tree, self.session.units
        row = next((g for g in tree.group if g.id == self.in_hand), None) if tree is not None else None
        if row is not None and row.x_mm is not None and row.y_mm is not None:
            self.session.hand = f"Trunk {row.id}: {u.mm(row.x_mm)} right, {u.mm(row.y_mm)} back"
        else:
            self.session.hand = self._label(self.in_hand) if self.in_hand else ""
        how = (
            "Enter sets it where most ground is open"
            if self.in_hand.startswith("spare:")
            else "Arrows move it, Ctrl tenfold, Shift a tenth"
        )
        self.pointed.emit(f"{self.session.hand}. {how}; G takes the next")
