"""The sheet of step Group with its hands: plan under the front at one scale, trunks and ground dragged, spares set into the plan."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPen

from kesh.advice.groups.plan import GroupPlan, with_row, with_spot
from kesh.errors import KeshError
from kesh.model import Tree
from kesh.reference.tables import Species
from kesh.ui.rooms.group.check_drawing import check_height_px, draw_check
from kesh.ui.rooms.group.front_drawing import draw_front, draw_front_sizes, draw_hidden, stems
from kesh.ui.rooms.group.plan_drawing import draw_plan
from kesh.ui.rooms.group.spares_drawing import draw_spares, spare_at
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.sheet.marks import dimension, extension, handle, words
from kesh.ui.sheet.plane import Plane
from kesh.ui.sheet.view import SheetView
from kesh.ui.state.group import contour_at, ground_pulled, ground_spots, open_spot, raised
from kesh.ui.state.lineup import size_words
from kesh.ui.theme import fonts

NEAR_PX = 11.0


@dataclass(frozen=True)
class Held:
    """What is under the hand: its key, where the hand took it and the tree as it was."""

    key: str
    start: QPointF
    tree: Tree


class GroupSheet(SheetView):
    """Left the front over the plan, trunk over trunk; right the view from aside, the layout check and the spares."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.plan: GroupPlan | None = None
        self.sentence = ""
        self.species: Species | None = None
        self.state, self.aside = "now", -30.0
        self.in_hand = ""
        self.hurry = False
        self._hover = ""
        self._drag: Held | None = None
        self.setAccessibleName("The group from the front and from above, to one scale")

    # --- what is shown

    def show_plan(
        self, plan: GroupPlan | None, species: Species | None, sentence: str = "", *, hurry: bool = False
    ) -> None:
        """Another plan, or a sentence where there is none."""
        self.plan, self.species, self.sentence, self.hurry = plan, species, sentence, hurry
        check = plan.check if plan is not None else None
        told = sentence if check is None else f"Layout check {check.score:.0f} of 100, weakest: {check.worst}"
        self.setAccessibleDescription(told)
        if self._drag is None:
            self.refit()
        self.update()

    @property
    def editable(self) -> bool:
        """Proposals and the mended plan are looked at, not changed."""
        return self.state in ("now", "ground")

    # --- where things lie

    def _split_x(self) -> float:
        return round(self.width() * 0.635)

    def _sizes(self) -> tuple[float, float, float, float, float]:
        """(left, right, height over the bench, half width of the plan, half depth) in mm of what must be in sight."""
        plan = self.plan
        assert plan is not None
        pot = plan.pot
        found = stems(plan, self.species, 0.0)
        half = pot.length_mm / 2
        left = max([half, *(s.sitter.left - s.x for s in found)])
        right = max([half, *(s.sitter.right + s.x for s in found)])
        tall = (
            max([s.sitter.height for s in found], default=200.0)
            + pot.height_mm
            + max((m.height_mm for m in plan.mounds), default=0.0)
        )
        return left, right, tall, half, pot.width_mm / 2

    def fit(self) -> None:
        """Front and plan as large as the left part of the sheet lets both."""
        self._fitted = True
        if self.plan is None:
            return
        left, right, tall, _, deep = self._sizes()
        wide = self._split_x() - fonts.scaled(46) - fonts.scaled(38)
        high = self.height() - fonts.scaled(24) - fonts.scaled(54) - fonts.scaled(50)
        self.px_mm = max(0.05, min(wide / (left + right), high / (tall + 2 * deep), 3.0))
        k = self.px_mm
        x = fonts.scaled(46) + left * k + (wide - (left + right) * k) / 2
        spare = max(high - (tall + 2 * deep) * k, 0.0)
        ground = fonts.scaled(24) + tall * k + spare * 0.3
        self.origin = QPointF(x, ground)
        self.scaled.emit(self.px_mm)
        self.update()

    def front_plane(self) -> Plane:
        """The front: the tray's middle on the bench."""
        return Plane(self.origin, self.px_mm)

    def plan_plane(self) -> Plane:
        """The plan straight below the front, at the same scale."""
        assert self.plan is not None
        return Plane(self.origin + QPointF(0, fonts.scaled(58) + self.plan.pot.width_mm / 2 * self.px_mm), self.px_mm)

    def _column(self) -> QRectF:
        left = self._split_x() + fonts.scaled(12)
        return QRectF(left, fonts.scaled(6), self.width() - left - fonts.scaled(16), self.height() - fonts.scaled(12))

    def _check_box(self) -> QRectF:
        box = self._column()
        low = self._spare_box().top() - fonts.scaled(8)
        return QRectF(box.left(), low - check_height_px(), box.width(), check_height_px())

    def _spare_box(self) -> QRectF:
        box = self._column()
        high = fonts.scaled(92) if self.plan is not None and self.plan.spares else fonts.scaled(4)
        return QRectF(box.left(), box.bottom() - high, box.width(), high)

    def _aside_box(self) -> QRectF:
        box, low = self._column(), self._check_box().top()
        return QRectF(
            box.left(), box.top() + fonts.scaled(18), box.width(), max(low - box.top() - fonts.scaled(44), 20.0)
        )

    # --- paint

    def paint(self, painter: QPainter) -> None:
        plan = self.plan
        if plan is None:
            self.empty(painter, self.sentence or "Reckoning…")
            return
        if not plan.tree.group:
            told = "No tree of this group is entered yet. Add them one by one, or read them from a photograph."
            self.empty(painter, told, action=("Add a tree", "group_tree"))
            return
        t, u = self.session.theme, self.session.units
        front, above = self.front_plane(), self.plan_plane()
        italic = fonts.book(13, italic=True)
        words(painter, t, "From the front", fonts.scaled(16), fonts.scaled(18), "quiet", font=italic)
        self._plumbs(painter, plan, front, above)
        draw_front(painter, plan, self.species, self.gallery, t, front, hurry=self.hurry)
        draw_hidden(painter, plan, t, front, 0.0)
        if self.show_dimensions:
            draw_front_sizes(painter, plan, self.species, t, front, fonts.scaled(36), u)
        draw_plan(painter, plan, t, above, held=self.in_hand, hover=self._hover, ground=self.state == "ground")
        told = f"{plan.pot.name} {size_words(plan.pot, u)} from above, the same scale"
        words(
            painter,
            t,
            told,
            fonts.scaled(16),
            above.px(0, plan.pot.width_mm / 2).y() - fonts.scaled(12),
            "quiet",
            font=italic,
        )
        if self.show_dimensions:
            self._tray_size(painter, above)
        if self.state == "ground":
            for spot in ground_spots(plan.tree):
                handle(
                    painter,
                    t,
                    above.px(spot.x_mm, spot.y_mm),
                    focus=spot.key == self.in_hand,
                    hover=spot.key == self._hover,
                )
        self._aside(painter, plan)
        painter.setPen(QPen(t.color("rule"), 1))
        x = self._split_x()
        painter.drawLine(QLineF(x, 10, x, self.height() - 12))
        draw_check(painter, plan, t, self._check_box(), u)
        if plan.spares:
            draw_spares(painter, plan, self.species, self.gallery, t, self._spare_box(), u, self.in_hand)
        if self._drag is not None and self._drag.key.startswith("spare:"):
            self._ghost(painter)

    def _plumbs(self, p: QPainter, plan: GroupPlan, front: Plane, above: Plane) -> None:
        """The trunk in hand is led from the plan up to the front."""
        n = next((i for i, g in enumerate(plan.rows) if g.id == self.in_hand), None)
        if n is None:
            return
        p.setPen(QPen(self.session.theme.color("indigo", 0.7), 0.9, Qt.PenStyle.DashLine))
        p.drawLine(QLineF(front.px(plan.x[n], 0), above.px(plan.x[n], plan.y[n])))

    def _tray_size(self, p: QPainter, above: Plane) -> None:
        t, u, plan = self.session.theme, self.session.units, self.plan
        assert plan is not None
        half, deep = plan.pot.length_mm / 2, plan.pot.width_mm / 2
        a, b = above.px(half, -deep) + QPointF(16, 0), above.px(half, deep) + QPointF(16, 0)
        for y in (-deep, deep):
            extension(p, t, above.px(half * 0.2 if abs(y) == deep else half, y), above.px(half, y) + QPointF(20, 0))
        dimension(p, t, a, b, u.figure(plan.pot.width_mm), bold=False)

    def _aside(self, p: QPainter, plan: GroupPlan) -> None:
        """The view from thirty degrees aside, smaller, on its own ground line."""
        t, box = self.session.theme, self._aside_box()
        side = "left" if self.aside < 0 else "right"
        words(p, t, f"From 30° {side}", box.left(), fonts.scaled(18), "quiet", font=fonts.book(13, italic=True))
        words(p, t, "A other side", box.right(), fonts.scaled(18), "quiet", font=fonts.text(12), align="right")
        found = stems(plan, self.species, self.aside)
        half = plan.pot.length_mm / 2
        left = max([half, *(s.sitter.left - s.x for s in found)])
        right = max([half, *(s.sitter.right + s.x for s in found)])
        tall = max([s.sitter.height for s in found], default=200.0) + plan.pot.height_mm
        k = min(box.width() / (left + right), box.height() / tall, self.px_mm)
        if k < 0.06:
            return
        plane = Plane(QPointF(box.left() + left * k + (box.width() - (left + right) * k) / 2, box.bottom()), k)
        draw_front(p, plan, self.species, self.gallery, t, plane, from_deg=self.aside, hurry=self.hurry, names=k > 0.2)
        draw_hidden(p, plan, t, plane, self.aside)

    def _ghost(self, p: QPainter) -> None:
        assert self._drag is not None
        assert self.plan is not None
        row = next((g for g in self.plan.spares if f"spare:{g.id}" == self._drag.key), None)
        if row is None:
            return
        t, at = self.session.theme, self.mapFromGlobal(self.cursor().pos())
        r = max((row.diameter_mm or 20.0) / 2 * self.px_mm, 4.0)
        p.setPen(QPen(t.color("indigo"), 1.5))
        p.setBrush(t.color("indigo_tint"))
        p.drawEllipse(QPointF(at), r, r)

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
        if key != self._hover:
            self._hover = key
            self.setCursor(Qt.CursorShape.SizeAllCursor if key else Qt.CursorShape.ArrowCursor)
            if key:
                self.pointed.emit(f"{self._label(key)}: drag it, or press it and use the arrows")
            self.update()

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
        size = (
            0.1
            if mods & Qt.KeyboardModifier.ShiftModifier
            else 10.0
            if mods & Qt.KeyboardModifier.ControlModifier
            else 1.0
        )
        arrows = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        if key == Qt.Key.Key_Escape and self._drag is not None:
            self._drag = None
            self.session.drop_draft()
        elif key in (Qt.Key.Key_G, Qt.Key.Key_H) and self.spots():
            keys = self.spots()
            at = keys.index(self.in_hand) if self.in_hand in keys else -1
            self.take(keys[(at + (1 if key == Qt.Key.Key_G else -1)) % len(keys)])
        elif key == Qt.Key.Key_A and not mods:
            self.aside = -self.aside
            self.update()
        elif key in arrows and self.in_hand and self.editable:
            dx, dy = arrows[Qt.Key(key)]
            self.nudge(dx * size, dy * size)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.in_hand.startswith("spare:"):
            self.place_spare()
        elif key == Qt.Key.Key_P and self._row() is not None:
            self.pin()
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace) and self._row() is not None:
            self.put_beside()
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown) and self.in_hand.startswith("mound:"):
            n, by = int(self.in_hand.split(":")[1]), 1.0 if key == Qt.Key.Key_PageUp else -1.0
            tree = self.plan.tree
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
        try:
            moved = make()
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if final:
            self.session.edit(label or f"{self._label(self.in_hand)} moved", [("tree", moved.id, moved)])
        else:
            self.session.draft([("tree", moved.id, moved)])
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
        self.pointed.emit(f"{self.session.hand}. Arrows move it, Ctrl tenfold, Shift a tenth; G takes the next")
