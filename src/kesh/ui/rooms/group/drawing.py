"""How a group is laid on the sheet: plan under the front at one scale, the view from aside, layout check and spares."""

from dataclasses import dataclass

from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QPainter, QPen

from kesh.advice.group.plan import GroupPlan
from kesh.desk.group import ground_spots
from kesh.desk.lineup import size_words
from kesh.model import Tree
from kesh.reference.tables import Species
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.group_plan_painter import draw_plan
from kesh.ui.paint.marks import dimension, extension, handle, words
from kesh.ui.paint.plane import Plane
from kesh.ui.rooms.group.check_drawing import check_height_px, draw_check
from kesh.ui.rooms.group.group_front_painter import draw_front, draw_front_sizes, draw_hidden, stems
from kesh.ui.rooms.group.spares_drawing import draw_spares
from kesh.ui.session import Session
from kesh.ui.theme import fonts


@dataclass(frozen=True)
class Held:
    """What is under the hand: its key, where the hand took it and the tree as it was."""

    key: str
    start: QPointF
    tree: Tree


class GroupDrawing(SheetView):
    """Left the front over the plan, trunk over trunk; right the view from aside, the layout check and the spares."""

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
        # a pair is looked at from its other front
        aside = 180.0 if plan.pair is not None and self.aside < 0 else self.aside
        told = "From the back" if aside == 180.0 else f"From 30° {'left' if aside < 0 else 'right'}"
        words(p, t, told, box.left(), fonts.scaled(18), "quiet", font=fonts.book(13, italic=True))
        words(p, t, "A other side", box.right(), fonts.scaled(18), "quiet", font=fonts.text(12), align="right")
        found = stems(plan, self.species, aside)
        half = plan.pot.length_mm / 2
        left = max([half, *(s.sitter.left - s.x for s in found)])
        right = max([half, *(s.sitter.right + s.x for s in found)])
        tall = max([s.sitter.height for s in found], default=200.0) + plan.pot.height_mm
        k = min(box.width() / (left + right), box.height() / tall, self.px_mm)
        if k < 0.06:
            return
        plane = Plane(QPointF(box.left() + left * k + (box.width() - (left + right) * k) / 2, box.bottom()), k)
        draw_front(p, plan, self.species, self.gallery, t, plane, from_deg=aside, hurry=self.hurry, names=k > 0.2)
        draw_hidden(p, plan, t, plane, aside)

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
