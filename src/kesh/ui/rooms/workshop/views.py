"""Section and plan of a design with grips, and the base of both."""

from typing import Any

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt
from PyQt6.QtGui import QMouseEvent, QPainter, QPen

from kesh.base.errors import KeshError
from kesh.desk.bench import Grip
from kesh.desk.workshop import plan_grips, profile_grips, with_hole, with_point, with_value
from kesh.figure.pot_drawing import wall_curves
from kesh.figure.pot_figure import plan_rings, pot_figure
from kesh.geometry.feet import base_ring, foot_plans
from kesh.geometry.outline import outline_points
from kesh.geometry.relief import over_bands_mm
from kesh.model import Hole, Pot
from kesh.science.roots.fit import ball_ring, roots_fault
from kesh.store.collection_file import Change
from kesh.ui.hand.grips import GripSheet
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import dimension, words
from kesh.ui.paint.paths import path_of
from kesh.ui.paint.pot_painter import hatch
from kesh.ui.paint.section_painter import ball_section
from kesh.ui.paint.tree_painter import polygon
from kesh.ui.session import Session
from kesh.ui.theme import fonts

# grips that go with the hand in both directions
FREE_BOTH_WAYS = ("hole:", "point:")


class DesignSheet(GripSheet):
    """A view of the design in hand; its grips change the pot."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.pot_id = ""
        # holes that are to be drilled
        self.proposed: tuple[Hole, ...] = ()
        self.setMinimumSize(200, 150)

    @property
    def pot(self) -> Pot | None:
        """The design as shown."""
        return self.session.collection.pots.get(self.pot_id)

    @property
    def written(self) -> Pot | None:
        """The design as last written, while another one is being dragged."""
        return self.session.file.collection.pots.get(self.pot_id)

    @property
    def subject(self) -> Any:
        return self.written

    def changes(self, subject: Any, key: str, value: float) -> list[Change]:
        return [("pot", subject.id, with_value(subject, key, value))]

    def show_pot(self, pot_id: str) -> None:
        """Another design."""
        if pot_id != self.pot_id:
            self.pot_id, self.in_hand = pot_id, None
            self.fit()
        self.update()

    def head(self, painter: QPainter, title: str, note: str) -> None:
        """The view's name over its drawing."""
        t = self.session.theme
        painter.setFont(fonts.section())
        painter.setPen(t.color("ink"))
        painter.drawText(QPointF(16, 24), title)
        wide = painter.fontMetrics().horizontalAdvance(title)
        words(painter, t, note, 16 + wide + 10, 23, "quiet", font=fonts.text(13))


class ProfileView(DesignSheet):
    """The right half of the section, with the version before it dashed and the tree's roots."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.setAccessibleName("Half of the section, to scale; grips change the wall")

    def extent_mm(self) -> QRectF:
        pot = self.pot
        return QRectF(0, 0, pot.length_mm / 2, pot.height_mm) if pot else super().extent_mm()

    def margins(self) -> tuple[int, int, int, int]:
        return 40, 66, 60, 54

    def grips(self) -> list[Grip]:
        return profile_grips(self.pot) if self.pot else []

    def paint(self, painter: QPainter) -> None:
        pot, t, u = self.pot, self.session.theme, self.session.units
        self.head(painter, "Profile", "half of the section; drag a square")
        if pot is None:
            return
        bench = self.px(0, 0)
        painter.save()
        painter.setClipRect(QRectF(bench.x(), 34, self.width(), self.height()))
        painter.translate(bench)
        painter.scale(self.px_mm, self.px_mm)
        self._soil(painter, pot)
        for ring in pot_figure(pot).clay:
            path = path_of(ring)
            painter.fillPath(path, t.color("oxide_tint"))
            hatch(painter, path, t.color("oxide"), self.px_mm, gap_px=5)
            painter.setPen(QPen(t.color("ink"), 1.3 / self.px_mm))
            painter.drawPath(path)
        self._feet(painter, pot)
        self._to_come(painter, pot)
        self._before(painter, pot)
        painter.restore()
        painter.setPen(QPen(t.color("ink"), 1.4))
        painter.drawLine(QLineF(bench.x() - 10, bench.y(), self.px(pot.length_mm / 2, 0).x() + 14, bench.y()))
        pen = QPen(t.color("quiet"), 1)
        pen.setDashPattern([8, 3, 2, 3])
        painter.setPen(pen)
        painter.drawLine(QLineF(bench.x(), bench.y() + 8, bench.x(), self.px(0, pot.height_mm).y() - 22))
        rim = self.px(pot.length_mm / 2, pot.height_mm)
        dimension(
            painter,
            t,
            QPointF(rim.x() + 24, bench.y()),
            QPointF(rim.x() + 24, rim.y()),
            u.figure(pot.height_mm),
            side=1,
        )
        dimension(
            painter,
            t,
            QPointF(bench.x(), bench.y() + 26),
            QPointF(rim.x(), bench.y() + 26),
            f"half length {u.figure(pot.length_mm / 2)}",
        )
        if pot.profile.kind != "slab":
            _, inner = wall_curves(pot, pot.length_mm / 2)
            mouth = self.px(float(inner[-1, 0]), pot.height_mm)
            dimension(
                painter,
                t,
                QPointF(bench.x(), rim.y() - 14),
                QPointF(mouth.x(), rim.y() - 14),
                f"inside {u.figure(float(inner[-1, 0]))}",
                bold=False,
            )
            floor = self.px(0, pot.feet_mm + pot.floor_mm)
            dimension(
                painter,
                t,
                QPointF(bench.x() - 18, floor.y()),
                QPointF(bench.x() - 18, rim.y()),
                u.figure(pot.inner_depth_mm),
                side=-1,
            )
        self._named(painter, pot)
        self.draw_grips(painter)

    def _soil(self, painter: QPainter, pot: Pot) -> None:
        t = self.session.theme
        figure = pot_figure(pot)
        if not len(figure.inside):
            return
        painter.fillPath(path_of(figure.inside), t.color("list"))
        tree = self.session.collection.trees.get(pot.made_for or self.session.tree_id)
        if tree is None or tree.roots is None or roots_fault(tree.roots):
            return
        pen = QPen(t.color("bark_dark") if not t.is_dark else t.color("ink"), 1.1 / self.px_mm)
        pen.setDashPattern([9, 4])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path_of(ball_section(tree.roots, 0.0, pot.height_mm)))

    def _feet(self, painter: QPainter, pot: Pot) -> None:
        t = self.session.theme
        for plan in foot_plans(pot):
            x0, _, x1, _ = plan.bounds
            if x1 <= 0:
                continue
            box = QRectF(max(x0, 0), -pot.feet_mm, x1 - max(x0, 0), pot.feet_mm)
            painter.fillRect(box, t.color("oxide_tint"))
            painter.setPen(QPen(t.color("edge"), 1 / self.px_mm))
            painter.drawRect(box)

    def _to_come(self, painter: QPainter, pot: Pot) -> None:
        """Holes to be drilled, as far as they reach into this half: where the bit goes through the floor."""
        if not self.proposed or pot.profile.kind == "slab":
            return
        pen = QPen(self.session.theme.color("oxide"), 1.4 / self.px_mm)
        pen.setDashPattern([3, 2])
        painter.setPen(pen)
        low, top = pot.feet_mm - 4, pot.feet_mm + pot.floor_mm + 4
        for hole in self.proposed:
            for x in (hole.x_mm - hole.diameter_mm / 2, hole.x_mm + hole.diameter_mm / 2):
                if x > 0:
                    painter.drawLine(QLineF(x, -low, x, -top))

    def _before(self, painter: QPainter, pot: Pot) -> None:
        was = self.written
        if was is None or was == pot:
            return
        pen = QPen(self.session.theme.color("quiet"), 1.0 / self.px_mm)
        pen.setDashPattern([4, 3])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(polygon(pot_figure(was).elevation))

    def _named(self, painter: QPainter, pot: Pot) -> None:
        t, u = self.session.theme, self.session.units
        if pot.profile.kind == "slab":
            return
        at = self.px(0.30 * pot.length_mm / 2, pot.feet_mm + pot.floor_mm / 2)
        words(painter, t, f"floor {u.figure(pot.floor_mm)}", at.x(), at.y() - 14, ground="sheet", align="center")
        outer, _ = wall_curves(pot, pot.length_mm / 2)
        k = int(len(outer) * 0.62)
        wall = self.px(float(outer[k, 0]) - pot.wall_mm, float(outer[k, 1]))
        words(painter, t, f"wall {u.figure(pot.wall_mm)}", wall.x() - 8, wall.y() + 4, ground="sheet", align="right")


class PlanView(DesignSheet):
    """From above with the front at the foot: rim, inside, foot, holes, the tree's roots and trunk."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.setAccessibleName("Plan, to scale; grips change sizes and holes")

    def extent_mm(self) -> QRectF:
        pot = self.pot
        return (
            QRectF(-pot.length_mm / 2, -pot.width_mm / 2, pot.length_mm, pot.width_mm) if pot else super().extent_mm()
        )

    def margins(self) -> tuple[int, int, int, int]:
        return 34, 46, 56, 50

    def grips(self) -> list[Grip]:
        return plan_grips(self.pot) if self.pot else []

    def changes(self, subject: Any, key: str, value: float) -> list[Change]:
        if key.startswith(FREE_BOTH_WAYS):
            place = self._place(subject, key)
            return [("pot", subject.id, self._put(subject, key, value, place[1]))]
        return super().changes(subject, key, value)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._drag is not None and self._drag[0].key.startswith(FREE_BOTH_WAYS):
            self._both_ways(event.position(), final=False)
            return
        super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._drag is not None and self._drag[0].key.startswith(FREE_BOTH_WAYS):
            self._both_ways(event.position(), final=True)
            self._drag = None
            return
        super().mouseReleaseEvent(event)

    @staticmethod
    def _place(pot: Pot, key: str) -> tuple[float, float]:
        number = int(key.split(":")[1])
        if key.startswith("hole:"):
            return pot.holes[number].x_mm, pot.holes[number].y_mm
        return pot.outline.points_mm[number]

    @staticmethod
    def _put(pot: Pot, key: str, x: float, y: float) -> Pot:
        number = int(key.split(":")[1])
        return with_hole(pot, number, x, y) if key.startswith("hole:") else with_point(pot, number, x, y)

    def _both_ways(self, at: QPointF, *, final: bool) -> None:
        """A hole, or a corner of a free outline, goes with the hand in both directions."""
        assert self._drag is not None
        grip, start, pot = self._drag
        x, y = self._place(pot, grip.key)
        dx, dy = (at.x() - start.x()) / self.px_mm, -(at.y() - start.y()) / self.px_mm
        if final and abs(dx) + abs(dy) < 0.3:
            self.session.drop_draft()
            return
        try:
            made = self._put(pot, grip.key, x + dx, y + dy)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            if final:
                self.session.drop_draft()
            return
        (right, back), u = self._place(made, grip.key), self.session.units
        self.pointed.emit(f"{grip.label}: {u.figure(right)} right, {u.mm(back)} back of the middle")
        change: list[Change] = [("pot", pot.id, made)]
        self.session.edit(f"{grip.label} moved", change) if final else self.session.draft(change)

    def paint(self, painter: QPainter) -> None:
        pot, t, u = self.pot, self.session.theme, self.session.units
        self.head(painter, "Plan", "front at the foot")
        if pot is None:
            return
        centre = self.px(0, 0)
        painter.save()
        painter.translate(centre)
        painter.scale(self.px_mm, self.px_mm)
        outer, inner = plan_rings(pot)
        rim, hollow = path_of(outer), path_of(inner)
        painter.fillPath(rim.subtracted(hollow) if pot.profile.kind != "slab" else rim, t.color("oxide_tint"))
        if pot.profile.kind != "slab":
            painter.fillPath(hollow, t.color("list"))
        thin = 1.0 / self.px_mm
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for path in (rim, hollow):
            painter.setPen(QPen(t.color("ink"), 1.3 * thin))
            painter.drawPath(path)
        over = over_bands_mm(pot)
        if over > 0.05:
            painter.setPen(QPen(t.color("ink"), 0.7 * thin))
            painter.drawPath(path_of(outline_points(pot.outline, pot.length_mm, pot.width_mm, -over)))
        pen = QPen(t.color("edge"), thin)
        pen.setDashPattern([5, 4])
        painter.setPen(pen)
        painter.drawPath(path_of(base_ring(pot)))
        for plan in foot_plans(pot):
            painter.drawPath(path_of(np.asarray(plan.exterior.coords)[:-1]))
        self._roots(painter, pot, thin)
        wanted = QPen(t.color("oxide"), 1.4 * thin)
        wanted.setDashPattern([3, 2])
        painter.setPen(wanted)
        for hole in self.proposed:
            painter.drawEllipse(QPointF(hole.x_mm, -hole.y_mm), hole.diameter_mm / 2, hole.diameter_mm / 2)
        for hole in pot.holes:
            painter.setPen(QPen(t.color("ink" if hole.drains else "indigo"), 1.2 * thin))
            painter.setBrush(t.color("sheet"))
            painter.drawEllipse(QPointF(hole.x_mm, -hole.y_mm), hole.diameter_mm / 2, hole.diameter_mm / 2)
        painter.restore()
        left, right = self.px(-pot.length_mm / 2, 0).x(), self.px(pot.length_mm / 2, 0).x()
        top, low = self.px(0, pot.width_mm / 2).y(), self.px(0, -pot.width_mm / 2).y()
        dimension(painter, t, QPointF(left, low + 22), QPointF(right, low + 22), u.figure(pot.length_mm))
        dimension(painter, t, QPointF(right + 24, low), QPointF(right + 24, top), u.figure(pot.width_mm), side=1)
        if pot.outline.kind == "rectangle" and pot.outline.corner_mm > 0:
            words(painter, t, f"corner {u.figure(pot.outline.corner_mm)}", right, top - 7, "quiet", align="right")
        self.draw_grips(painter)

    def _roots(self, painter: QPainter, pot: Pot, thin: float) -> None:
        t = self.session.theme
        tree = self.session.collection.trees.get(pot.made_for or self.session.tree_id)
        if tree is None or tree.roots is None or roots_fault(tree.roots):
            return
        pen = QPen(t.color("bark_dark") if not t.is_dark else t.color("ink"), 1.1 * thin)
        pen.setDashPattern([9, 4])
        painter.setPen(pen)
        painter.drawPolygon(polygon(ball_ring(tree.roots, 0.0)))
        trunk = tree.measure.trunk_diameter_mm or 40.0
        painter.setPen(QPen(t.color("ink"), thin))
        painter.setBrush(t.color("bark", 0.45))
        painter.drawEllipse(QPointF(0, 0), trunk / 2, trunk / 2)
        painter.setBrush(Qt.BrushStyle.NoBrush)
