"""Section and plan with the root map in it: a stroke from the trunk makes a root, a root is taken in hand and pulled."""

from collections.abc import Callable

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPainterPath, QPen, QPixmap, QPolygonF

from kesh.advice.assess import Assessment
from kesh.advice.root_work import plan_for
from kesh.errors import KeshError
from kesh.geometry.outline import Floats
from kesh.model import MapRoot, Tree
from kesh.photo.darkroom import Darkroom
from kesh.science.root_fit import ball_radius
from kesh.science.root_lines import along_mm, root_line, trunk_at_soil_mm, turned_line, until_mm
from kesh.science.root_plan import RootPlan, repotting_years
from kesh.science.side_room import side_room_mm, toward
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.sheet.marks import handle, words
from kesh.ui.sheet.pot_painter import hatch
from kesh.ui.sheet.root_painter import band, draw_number, draw_root, drawn_line
from kesh.ui.sheet.roots_sheet import RootsSheet
from kesh.ui.state.bench import Stand
from kesh.ui.state.root_map import pulled, stroked_root, with_root, without_root
from kesh.ui.theme import fonts

GRAB_PX, TRUNK_TIMES, EIGHTHS = 9.0, 0.55, 45
Point = tuple[float, float]


class RootMapSheet(RootsSheet):
    """The roots sheet with its map; `chosen` tells which root is in hand."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery, darkroom: Darkroom) -> None:
        super().__init__(session, gallery, darkroom)
        self.root_id = ""
        # how many repottings of the plan are taken as done; 0 shows what is there and what goes
        self.after = 0
        self._stroke: list[QPointF] = []
        # what does not change while a root is pulled, painted once; and the room all round of the last pot and mass
        self._still: QPixmap | None = None
        self._bare = False
        self._room: tuple[object, Floats | None] = (None, None)
        self._pull: tuple[str, Tree] | None = None
        self.setAccessibleName("Root map from above and in section; a stroke from the trunk outward makes a root")

    # where things lie -------------------------------------------------------------------------------------------

    def plan(self) -> RootPlan | None:
        """The plan of the map in the pot that is cut through."""
        a = self.assessment
        return None if a is None else plan_for(a.figures)

    def root(self) -> MapRoot | None:
        """The root in hand."""
        tree = self.session.tree
        return None if tree is None else next((r for r in tree.root_map if r.id == self.root_id), None)

    def take(self, key: str) -> None:
        """Take a root in hand."""
        self.root_id = key
        root = self.root()
        if root is not None:
            n = [r.id for r in self.session.tree.root_map].index(key) + 1  # type: ignore[union-attr]
            self.pointed.emit(
                f"Root {n}: left and right turn it, up and down its reach; Ctrl tenfold; K keeps it, Delete takes it away"
            )
        self.chosen.emit(key)
        self.update()

    def _trunk_at(self, stand: Stand) -> Point:
        return stand.trunk_x_mm, stand.planting.offset_y_mm if stand.planting else 0.0

    def _turn(self, stand: Stand) -> float:
        return stand.planting.turn_deg if stand.planting else 0.0

    def _to_px(self, stand: Stand, line: Floats) -> list[QPointF]:
        """Points of the tree, mm from the trunk's middle, on the sheet."""
        x0, y0 = self._trunk_at(stand)
        origin, along = self.px(x0, self._plan_y_mm + y0), self.px_mm
        return [origin + QPointF(x * along, -y * along) for x, y in turned_line(line, self._turn(stand)).tolist()]

    def _from_px(self, stand: Stand, point: QPointF) -> Point:
        x0, y0 = self._trunk_at(stand)
        x, y = self.mm(point)
        there = turned_line(np.array([[x - x0, y - self._plan_y_mm - y0]]), -self._turn(stand))[0]
        return float(there[0]), float(there[1])

    # paint ------------------------------------------------------------------------------------------------------

    def paint(self, painter: QPainter) -> None:
        stand, a = self.stand, self.assessment
        if self._still is None or stand is None or a is None:
            super().paint(painter)
            return
        painter.drawPixmap(0, 0, self._still)
        self.over_plan(painter, stand, self.px(0, self._plan_y_mm), a)
        self.draw_grips(painter)

    def _hold_still(self) -> None:
        """Paint all but the map once; it stays while a root is pulled."""
        ratio = self.devicePixelRatioF()
        below = QPixmap(self.size() * ratio)
        below.setDevicePixelRatio(ratio)
        below.fill(self.session.theme.color("sheet"))
        inner = QPainter(below)
        inner.setRenderHint(QPainter.RenderHint.Antialiasing)
        self._bare = True
        super().paint(inner)
        self._bare = False
        inner.end()
        self._still = below

    def over_plan(self, painter: QPainter, stand: Stand, centre: QPointF, a: Assessment) -> None:
        if self._bare:
            return
        tree, t = stand.tree, self.session.theme
        plan, trunk = plan_for(a.figures), trunk_at_soil_mm(tree)
        over = self.below.on and self.below.of(tree) is not None
        ends = []
        self._sectors(painter, stand, a)
        years = repotting_years(plan) if plan is not None else ()
        for n, root in enumerate(tree.root_map):
            line = drawn_line(root_line(root, trunk), trunk, n)
            # places along a root count from the bark, not from within the trunk
            bark = float(along_mm(line)[1])
            whole = along_mm(line)[-1]
            step = plan.step(root.id) if plan is not None else None
            done = step is not None and step.action != "keep" and step.year in years[: self.after]
            if done and step is not None:
                if step.action == "remove":
                    continue
                line, step = until_mm(line, bark + (step.at_mm or 0.0)), None
            stays, cut = None, None
            if step is not None and step.action == "shorten" and step.at_mm is not None:
                part = until_mm(line, bark + step.at_mm)
                stays = QPolygonF(self._to_px(stand, band(part, root.diameter_mm, whole)))
                cut = self._tick(stand, part, root.diameter_mm)
            elif step is not None and step.action == "remove":
                cut = self._tick(stand, line[:3], root.diameter_mm)
            ring = QPolygonF(self._to_px(stand, band(line, root.diameter_mm, whole)))
            draw_root(painter, t, root, ring, stays, cut, step, in_hand=root.id == self.root_id, over_picture=over)
            ends.append((str(n + 1), self._to_px(stand, line[-1:])[0], root, step))
        self._room_ring(painter, stand, a)
        for text, at, root, step in ends:
            role = "oxide" if step is not None and step.action in ("remove", "shorten") else "ink"
            draw_number(
                painter, t, text, at, "moss" if root.id == self.root_id else role, in_hand=root.id == self.root_id
            )
        if self._stroke:
            painter.setPen(QPen(t.color("moss"), max(3.0, 0.12 * trunk * self.px_mm), cap=Qt.PenCapStyle.RoundCap))
            painter.drawPolyline(QPolygonF(self._stroke))
        if not tree.root_map:
            words(painter, t, "Draw from the trunk outward: one drag is a root", centre.x(), centre.y() - trunk * self.px_mm - 6,
                  "moss", font=fonts.text(13, bold=True), align="center", ground="sheet")  # fmt: skip

    def _sectors(self, painter: QPainter, stand: Stand, a: Assessment) -> None:
        """Parts of the root mass that are left alone, hatched to its rim."""
        roots, t = a.case.roots, self.session.theme
        if roots is None or not roots.untouched:
            return
        for sector in roots.untouched:
            azimuths = sector.from_deg + np.linspace(0, sector.span_deg, 24)
            way = toward(azimuths)
            far = ball_radius(roots, 0.0, 1.0, np.arctan2(way[:, 1], way[:, 0]))
            ring = np.vstack([[0, 0], way * far[:, None]])
            path = QPainterPath()
            path.addPolygon(QPolygonF(self._to_px(stand, ring)))
            path.closeSubpath()
            tint = QColor(t.color("moss_fill"))
            tint.setAlpha(60)
            painter.fillPath(path, tint)
            hatch(painter, path, t.color("moss"), 1.0, angle_deg=40, gap_px=7)
            painter.setPen(QPen(t.color("moss"), 1.2))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
            middle = self._to_px(stand, (way[4] * far[4] * 0.80)[None])[0]
            words(painter, t, sector.why or "left alone", middle.x(), middle.y() + 4, "moss", font=fonts.text(12, bold=True),
                  align="center", ground="sheet")  # fmt: skip

    def _tick(self, stand: Stand, part: Floats, diameter_mm: float) -> QLineF:
        """The line of a cut across the end of a part."""
        way = part[-1] - part[-2]
        normal = np.array([-way[1], way[0]]) / max(float(np.hypot(*way)), 1e-9) * (0.5 * diameter_mm + 4)
        one, two = self._to_px(stand, np.array([part[-1] - normal, part[-1] + normal]))
        return QLineF(one, two)

    def _room_ring(self, painter: QPainter, stand: Stand, a: Assessment) -> None:
        """Room for fresh mix every 45 degrees, outside the rim."""
        roots, f, t, u = a.case.roots, a.figures, self.session.theme, self.session.units
        if roots is None or f.roots is None:
            return
        azimuths = np.arange(0.0, 360.0, EIGHTHS)
        seat = a.seat
        key = (roots, a.pot, seat.x_mm, seat.y_mm, seat.turn_deg, seat.raise_mm, seat.floor_layer_mm, seat.clearance_mm)
        if self._room[0] != key:
            self._room = key, side_room_mm(roots, f.pots, a.seat, f.roots, azimuths)
        room = self._room[1]
        if room is None:
            return
        half = np.array([a.pot.length_mm, a.pot.width_mm]) / 2
        for azimuth, mm in zip(azimuths, room, strict=True):
            way = toward(float(azimuth))
            at = way * (1 / np.hypot(*(way / half))) + way * (13 / self.px_mm)
            spot = self.px(float(at[0]), self._plan_y_mm + float(at[1]))
            tight = bool(mm < a.seat.clearance_mm - 0.5)
            words(painter, t, u.figure(float(mm)), spot.x(), spot.y() + 4, "ochre" if tight else "quiet",
                  font=fonts.text(12, bold=tight), align="center", ground="sheet")  # fmt: skip

    def draw_grips(self, painter: QPainter) -> None:
        if self._bare:
            return
        super().draw_grips(painter)
        root, stand = self.root(), self.stand
        if root is not None and stand is not None:
            end = self._to_px(stand, root_line(root, trunk_at_soil_mm(stand.tree))[-1:])[0]
            handle(painter, self.session.theme, end, focus=True, hover=False)

    # hands ------------------------------------------------------------------------------------------------------

    def _root_at(self, stand: Stand, point: QPointF) -> str:
        """The root under a point, empty for none."""
        best, found = GRAB_PX, ""
        for root in stand.tree.root_map:
            spots = self._to_px(stand, root_line(root, trunk_at_soil_mm(stand.tree)))
            near = min(QLineF(p, point).length() for p in spots) - root.diameter_mm * self.px_mm / 2
            if near < best:
                best, found = near, root.id
        return found

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        stand = self.stand
        if event is None or stand is None or stand.pot is None or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        at = self._from_px(stand, event.position())
        root = self.root()
        if root is not None:
            end = self._to_px(stand, root_line(root, trunk_at_soil_mm(stand.tree))[-1:])[0]
            if QLineF(end, event.position()).length() <= GRAB_PX + 2:
                self.setFocus()
                self._pull = (root.id, stand.tree)
                self._hold_still()
                return
        if np.hypot(*at) <= TRUNK_TIMES * trunk_at_soil_mm(stand.tree):
            self.setFocus()
            self._stroke = [event.position()]
            return
        key = self._root_at(stand, event.position())
        if key and self._grip_at(event.position()) is None:
            self.setFocus()
            self.in_hand = None
            self.take(key)
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        stand = self.stand
        if event is not None and self._stroke:
            self._stroke.append(event.position())
            self.update()
        elif event is not None and self._pull is not None and stand is not None:
            self._pulled(self._from_px(stand, event.position()), final=False)
        else:
            super().mouseMoveEvent(event)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        stand = self.stand
        if self._stroke and stand is not None:
            points, self._stroke = [self._from_px(stand, p) for p in self._stroke], []
            self._write("Root drawn", lambda: stroked_root(stand.tree, points), newest=True)
        elif self._pull is not None and stand is not None and event is not None:
            self._pulled(self._from_px(stand, event.position()), final=True)
            self._pull = self._still = None
        else:
            super().mouseReleaseEvent(event)
        self.update()

    def _pulled(self, at: Point, *, final: bool) -> None:
        assert self._pull is not None
        key, tree = self._pull
        try:
            changed = pulled(tree, key, at)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if final:
            self.session.edit("Root pulled", [("tree", tree.id, changed)])
        else:
            self.session.draft([("tree", tree.id, changed)])

    def _write(self, label: str, make: Callable[[], Tree], *, newest: bool = False) -> None:
        """Write a changed tree, or say why not."""
        try:
            changed = make()
        except KeshError as err:
            self.session.said.emit("no", str(err))
            self.update()
            return
        if self.session.edit(label, [("tree", changed.id, changed)]) and newest:
            self.take(changed.root_map[-1].id)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        tree, root = self.session.tree, self.root()
        if event is None or tree is None:
            return
        key, tenfold = event.key(), event.modifiers() & Qt.KeyboardModifier.ControlModifier
        size = 10.0 if tenfold else 1.0
        keys = [r.id for r in tree.root_map]
        if key == Qt.Key.Key_R and keys:
            at = keys.index(self.root_id) if self.root_id in keys else -1
            self.in_hand = None
            self.take(keys[(at + 1) % len(keys)])
        elif root is None or self.in_hand:
            super().keyPressEvent(event)
        elif key == Qt.Key.Key_Escape:
            self._pull = self._still = None
            self._stroke = []
            self.session.drop_draft()
            self.take("")
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            by = size if key == Qt.Key.Key_Left else -size
            self._write(
                "Root turned", lambda: with_root(tree, root.id, azimuth_deg=(root.azimuth_deg + by) % 360, course=())
            )
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            by = size if key == Qt.Key.Key_Up else -size
            self._write(
                "Root's reach", lambda: with_root(tree, root.id, reach_mm=max(root.reach_mm + by, 1.0), course=())
            )
        elif key == Qt.Key.Key_K:
            self._write("Root kept" if not root.keep else "Root may go",
                        lambda: with_root(tree, root.id, keep="" if root.keep else "the artist wants it"))  # fmt: skip
        elif key == Qt.Key.Key_Delete:
            self.root_id = ""
            self._write("Root taken off the map", lambda: without_root(tree, root.id))
            self.chosen.emit("")
        else:
            super().keyPressEvent(event)
