"""The Tree step's sheet: the tree in its pot from the front, with grips for what can be dragged."""

from PyQt6.QtCore import QLineF, QPointF, QRectF
from PyQt6.QtGui import QPainter, QPen

from kesh.desk.bench import Grip, Stand
from kesh.figure.grove import sitter
from kesh.model.tree import HANGING
from kesh.ui.hand.grips import GripSheet
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import dash_dot, dimension, extension, ruler, words
from kesh.ui.paint.scene import draw_planted
from kesh.ui.session import Session
from kesh.ui.theme import fonts


class TreeSheet(GripSheet):
    """Front view with grips."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.setAccessibleName("Drawing of the tree in its pot, to scale")
        self.show_thirds = True

    def extent_mm(self) -> QRectF:
        stand = self.stand
        if stand is None:
            return super().extent_mm()
        left, right = stand.reach()
        return QRectF(left, stand.low_mm, right - left, stand.top_mm - stand.low_mm)

    def grips(self) -> list[Grip]:
        return self.stand.grips() if self.stand else []

    def margins(self) -> tuple[int, int, int, int]:
        return 92, 66, 92, 38 + fonts.scaled(54)

    def paint(self, painter: QPainter) -> None:
        stand = self.stand
        if stand is None:
            self.empty(painter, "No tree yet. Add one with Ctrl+N.")
        elif stand.tree.measure.height_mm is None and stand.pot is None:
            self.empty(painter, "Nothing measured yet. Start with height and trunk; the rest can wait.")
        else:
            self._front(painter, stand)

    def _front(self, painter: QPainter, stand: Stand) -> None:
        t, u = self.session.theme, self.session.units
        foot = self.px(0, 0)
        box = self.extent_mm()
        left, right = self.px(box.left(), 0).x() - 30, self.px(box.right(), 0).x() + 30
        floor = self.px(0, -stand.stand_mm).y()
        self.ground(painter, left, right, floor)
        ruler(
            painter,
            t,
            38,
            floor,
            self.px_mm,
            min(box.bottom() + stand.stand_mm + 30, (floor - 20) / self.px_mm),
            unit=self.session.units.length,
        )
        if stand.pot is not None and self.show_thirds:
            self._thirds(painter, stand)
        species = self.session.case().species if stand.tree.species else None
        draw_planted(
            painter,
            self.gallery,
            t,
            stand.tree,
            species,
            stand.pot,
            stand.planting,
            foot,
            self.px_mm,
            stand_mm=stand.stand_mm,
            hurry=self.session.dragging,
        )
        if self.show_eye:
            y = self.px(0, 0.5 * stand.top_mm).y()
            painter.setPen(dash_dot(t.color("indigo")))
            painter.drawLine(QLineF(left, y, right, y))
            words(painter, t, f"eye level {u.figure(0.5 * stand.top_mm)}", right, y - 5, "indigo", align="right")
        if self.show_dimensions:
            self._dimensions(painter, stand)
        self.draw_grips(painter)
        self._assumed(painter, stand, species)

    def _thirds(self, painter: QPainter, stand: Stand) -> None:
        pot, t = stand.pot, self.session.theme
        assert pot is not None
        for share, pen in ((1 / 3, "rule"), (0.5, "rule"), (2 / 3, "rule")):
            x = -pot.length_mm / 2 + share * pot.length_mm
            a, b = self.px(x, pot.height_mm + 4), self.px(x, -10)
            line = QPen(t.color(pen), 1)
            line.setDashPattern([2, 3])
            painter.setPen(line if share != 0.5 else dash_dot(t.color(pen)))
            painter.drawLine(QLineF(a.x(), a.y() - 26, b.x(), b.y()))

    def _dimensions(self, painter: QPainter, stand: Stand) -> None:
        t, u, m = self.session.theme, self.session.units, stand.tree.measure
        x, base = stand.trunk_x_mm, stand.root_top_mm
        top = self.px(0, stand.top_mm).y() - 24
        if m.canopy_left_mm is not None and m.canopy_right_mm is not None and m.height_mm is not None:
            left, middle, right = (
                self.px(x - m.canopy_left_mm, 0).x(),
                self.px(x, 0).x(),
                self.px(x + m.canopy_right_mm, 0).x(),
            )
            dimension(painter, t, QPointF(left, top), QPointF(middle, top), f"{u.figure(m.canopy_left_mm)} left")
            dimension(painter, t, QPointF(middle, top), QPointF(right, top), f"{u.figure(m.canopy_right_mm)} right")
            for at in (left, right):
                extension(painter, t, QPointF(at, top + 5), QPointF(at, self.px(0, base + 0.46 * m.height_mm).y()))
        side = self.px(stand.reach()[1], 0).x() + 34
        if m.height_mm is not None:
            a, b = QPointF(side, self.px(0, base).y()), QPointF(side, self.px(0, base + m.height_mm).y())
            extension(
                painter, t, self.px(x + (m.apex_offset_mm or 0) + 8, base + m.height_mm), QPointF(side + 5, b.y())
            )
            dimension(painter, t, a, b, u.figure(m.height_mm))
        if m.crown_base_mm is not None and stand.tree.style not in HANGING:
            near = self.px(stand.reach()[0], 0).x() - 16
            a, b = QPointF(near, self.px(0, base).y()), QPointF(near, self.px(0, base + m.crown_base_mm).y())
            dimension(painter, t, a, b, u.figure(m.crown_base_mm), "quiet", bold=False)
        if m.trunk_diameter_mm is not None:
            # on the part that is seen: a trunk planted deep has its flare under the soil
            soil = (
                0.0 if stand.pot is None else stand.pot.height_mm + (stand.planting.mound_mm if stand.planting else 0.0)
            )
            up = max(base + 0.10 * (m.height_mm or 400), soil + 14.0)
            a = self.px(x + m.trunk_diameter_mm / 2, up)
            knee = QPointF(a.x() + 34, a.y() - 10)
            painter.setPen(QPen(t.color("edge"), 0.8))
            painter.drawLine(QLineF(a.x() + 6, a.y() - 1, knee.x(), knee.y()))
            wide = words(
                painter,
                t,
                u.figure(m.trunk_diameter_mm),
                knee.x() + 4,
                knee.y() + 4,
                "moss",
                font=fonts.text(13, bold=True),
                ground="sheet",
            )
            words(painter, t, "above the flare", knee.x() + 8 + wide, knee.y() + 4, "quiet", ground="sheet")
        if stand.pot is not None:
            self._pot_dimensions(painter, stand)

    def _pot_dimensions(self, painter: QPainter, stand: Stand) -> None:
        t, u, pot = self.session.theme, self.session.units, stand.pot
        assert pot is not None
        a = self.session.assessment()
        length = a.finding("length_band") if a else None
        depth = a.finding("depth_band") if a else None
        floor = self.px(0, -stand.stand_mm).y()
        below = floor + 26
        left, right = self.px(-pot.length_mm / 2, 0).x(), self.px(pot.length_mm / 2, 0).x()
        for at in (left, right):
            extension(painter, t, QPointF(at, floor + 6), QPointF(at, below + 5))
        role = "oxide" if length and length.status in ("no", "watch") else "ink"
        dimension(
            painter,
            t,
            QPointF(left, below),
            QPointF(right, below),
            f"{u.figure(pot.length_mm)} × {u.figure(pot.width_mm)}",
            role,
        )
        hanging = stand.tree.style in HANGING
        # the figure stands in the line: half its width and a little air keep it off the wall
        half, away = pot.length_mm / 2, fonts.scaled(18)
        beside = self.px(half, 0).x() + away if hanging else self.px(-half, 0).x() - away
        role = "oxide" if depth and depth.status in ("no", "watch") else "ink"
        dimension(
            painter,
            t,
            QPointF(beside, self.px(0, 0).y()),
            QPointF(beside, self.px(0, pot.height_mm).y()),
            u.figure(pot.height_mm),
            role,
        )
        words(
            painter,
            t,
            pot.name,
            self.px(0, 0).x(),
            below + 8 + fonts.scaled(18),
            "quiet",
            font=fonts.book(14, italic=True),
            align="center",
        )
        if stand.planting is not None:
            share = 0.5 + stand.trunk_x_mm / pot.length_mm
            words(
                painter,
                t,
                f"trunk at {share:.0%} of the length, from the left",
                self.px(0, 0).x(),
                below + 8 + fonts.scaled(36),
                "quiet",
                align="center",
            )

    def _assumed(self, painter: QPainter, stand: Stand, species: object) -> None:
        found = sitter(stand.tree, species)  # type: ignore[arg-type]
        if found is None:
            words(
                painter,
                self.session.theme,
                "Height is not measured: the tree cannot be drawn yet."
                if stand.tree.measure.height_mm is None
                else f"{self.session.units.mm(stand.tree.measure.height_mm)} tall cannot be drawn; is the unit right?",
                self.width() / 2,
                self.height() / 2,
                "quiet",
                align="center",
            )
        elif found.assumed:
            names = ", ".join(name.removesuffix("_mm").replace("_", " ") for name in found.assumed)
            words(
                painter,
                self.session.theme,
                f"assumed in the drawing: {names}",
                self.width() - 14,
                self.height() - 10,
                "quiet",
                align="right",
            )
