"""Section and plan with the root map in them: what is there, what goes, what lies in the mass, and the room all round."""

from functools import partial

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen, QPixmap, QPolygonF

from kesh.advice.assess import Assessment
from kesh.advice.report_roots import tilt_of
from kesh.advice.root_work import plan_for, pockets_for
from kesh.geometry.outline import Floats, outline_points
from kesh.model import MapRoot, Pocket, RootMass
from kesh.photo.darkroom import Darkroom
from kesh.science.root_fit import ring_radius
from kesh.science.root_lines import along_mm, root_line, trunk_at_soil_mm, turned_line, until_mm
from kesh.science.root_plan import RootPlan
from kesh.science.side_room import side_room_mm, toward
from kesh.ui.rooms.roots.lens import draw_lens
from kesh.ui.rooms.roots.parts import draw_grips_of, draw_in_section, draw_parts, name_parts, section_box
from kesh.ui.rooms.roots.steps import STRIP_PX, draw_steps
from kesh.ui.rooms.roots.tilting import draw_tilted, round_handle, tilt_spot, turn_spot
from kesh.ui.session import Session
from kesh.ui.sheet.gallery import Gallery
from kesh.ui.sheet.marks import handle, words
from kesh.ui.sheet.root_painter import band, draw_number, draw_root, drawn_line
from kesh.ui.sheet.roots_sheet import RootsSheet
from kesh.ui.state.bench import Grip, Stand, planting_grips
from kesh.ui.state.root_keeping import PlanView, plan_views
from kesh.ui.state.root_parts import Part, record_of
from kesh.ui.theme import fonts

EIGHTHS = 45
Point = tuple[float, float]


class RootDrawing(RootsSheet):
    """The roots sheet with its map drawn; `chosen` tells which root is in hand."""

    chosen = pyqtSignal(str)

    def __init__(self, session: Session, gallery: Gallery, darkroom: Darkroom) -> None:
        super().__init__(session, gallery, darkroom)
        self.root_id = ""
        # the pocket or side left alone that is in hand
        self.part: Part | None = None
        self.every_deg = EIGHTHS
        self.spin_hover = ""
        # how many repottings of the plan are taken as done; 0 shows what is there and what goes
        self.after = 0
        self.stroke: list[QPointF] = []
        # the lens follows the pointer
        self.lens = False
        self.pointer: QPointF | None = None
        self._magnified = False
        # what does not change while a root is pulled, painted once; and the room all round of the last pot and mass
        self._still: QPixmap | None = None
        self._bare = False
        self._room: tuple[object, Floats | None] = (None, None)
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
        self.root_id, self.part = key, None
        root = self.root()
        if root is not None:
            n = [r.id for r in self.session.tree.root_map].index(key) + 1  # type: ignore[union-attr]
            self.pointed.emit(
                f"Root {n}: left and right turn it, up and down its reach; Ctrl tenfold; K keeps it, Delete takes it away"
            )
        self.chosen.emit(key)
        self.update()

    def take_part(self, part: Part | None) -> None:
        """Take a pocket or a side left alone in hand."""
        self.root_id, self.part = "", part
        if part is not None:
            self.pointed.emit("Pull its edges; left and right turn it; Delete takes it away")
        self.chosen.emit("")
        self.update()

    def _trunk_at(self, stand: Stand) -> Point:
        return stand.trunk_x_mm, stand.planting.offset_y_mm if stand.planting else 0.0

    def _turn(self, stand: Stand) -> float:
        return stand.planting.turn_deg if stand.planting else 0.0

    def to_px(self, stand: Stand, line: Floats) -> list[QPointF]:
        """Points of the tree, mm from the trunk's middle, on the sheet."""
        x0, y0 = self._trunk_at(stand)
        origin, along = self.px(x0, self._plan_y_mm + y0), self.px_mm
        return [origin + QPointF(x * along, -y * along) for x, y in turned_line(line, self._turn(stand)).tolist()]

    def from_px(self, stand: Stand, point: QPointF) -> Point:
        x0, y0 = self._trunk_at(stand)
        x, y = self.mm(point)
        there = turned_line(np.array([[x - x0, y - self._plan_y_mm - y0]]), -self._turn(stand))[0]
        return float(there[0]), float(there[1])

    # paint ------------------------------------------------------------------------------------------------------

    def paint(self, painter: QPainter) -> None:
        stand, a = self.stand, self.assessment
        if self._still is None or stand is None or a is None:
            super().paint(painter)
        else:
            painter.drawPixmap(0, 0, self._still)
            self.over_plan(painter, stand, self.px(0, self._plan_y_mm), a)
            self.draw_grips(painter)
        if self.lens and self.pointer is not None and not self._magnified and not self._bare:
            self._magnified = True
            draw_lens(painter, self.session.theme, self.pointer, self.paint)
            self._magnified = False

    def let_go(self) -> None:
        """Paint all of it again."""
        self._still = None

    def hold_still(self) -> None:
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
        roots, steps = a.case.roots, pockets_for(a.figures)
        to_px = partial(self.to_px, stand)
        if roots is not None:
            draw_parts(painter, t, roots, to_px, self.part)
        years = [v.year for v in self.step_views()[1:]]
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
                stays = QPolygonF(self.to_px(stand, band(part, root.diameter_mm, whole)))
                cut = self._tick(stand, part, root.diameter_mm)
            elif step is not None and step.action == "remove":
                cut = self._tick(stand, line[:3], root.diameter_mm)
            ring = QPolygonF(self.to_px(stand, band(line, root.diameter_mm, whole)))
            draw_root(painter, t, root, ring, stays, cut, step, in_hand=root.id == self.root_id, over_picture=over)
            ends.append((str(n + 1), self.to_px(stand, line[-1:])[0], root, step))
        self._room_ring(painter, stand, a)
        self._strip(painter, a)
        if roots is not None:
            name_parts(painter, t, roots, to_px, steps, self.session.today)
        for text, at, root, step in ends:
            role = "oxide" if step is not None and step.action in ("remove", "shorten") else "ink"
            draw_number(
                painter, t, text, at, "moss" if root.id == self.root_id else role, in_hand=root.id == self.root_id
            )
        if self.stroke:
            painter.setPen(QPen(t.color("moss"), max(3.0, 0.12 * trunk * self.px_mm), cap=Qt.PenCapStyle.RoundCap))
            painter.drawPolyline(QPolygonF(self.stroke))
        if not tree.root_map:
            words(painter, t, "Draw from the trunk outward: one drag is a root", centre.x(), centre.y() - trunk * self.px_mm - 6,
                  "moss", font=fonts.text(13, bold=True), align="center", ground="sheet")  # fmt: skip

    def _strip(self, painter: QPainter, a: Assessment) -> None:
        """The repottings in a row at the foot, where there are several."""
        views = self.step_views()
        if len(views) > 2:
            box = QRectF(40, self.height() - STRIP_PX - 34, self.width() - 60, STRIP_PX)
            draw_steps(painter, self.session.theme, a, views[:4], box, self.session.units)

    def _tick(self, stand: Stand, part: Floats, diameter_mm: float) -> QLineF:
        """The line of a cut across the end of a part."""
        way = part[-1] - part[-2]
        normal = np.array([-way[1], way[0]]) / max(float(np.hypot(*way)), 1e-9) * (0.5 * diameter_mm + 4)
        one, two = self.to_px(stand, np.array([part[-1] - normal, part[-1] + normal]))
        return QLineF(one, two)

    def margins(self) -> tuple[int, int, int, int]:
        left, top, right, bottom = super().margins()
        return left, top, right, bottom + (STRIP_PX if len(self.step_views()) > 2 else 0)

    def step_views(self) -> tuple[PlanView, ...]:
        """The repottings of the plan as they are drawn."""
        a = self.assessment
        return () if a is None else plan_views(a, plan_for(a.figures), self.session.today)

    def over_section(self, painter: QPainter, stand: Stand, bench: QPointF, a: Assessment) -> None:
        """Pockets, and what a tilt brings."""
        roots, planting = stand.tree.roots, stand.planting
        if roots is None or a.case.roots is None:
            return
        draw_in_section(painter, self.session.theme, roots, partial(self._box_of, stand, roots, bench), self.part)
        tilt = planting.tilt_deg if planting is not None and self.pot_id is None else 0.0
        if tilt:
            wedge = tilt_of(a).wedge_l
            told = "" if wedge is None else f"wedge {self.session.units.litres(wedge)}"
            draw_tilted(
                painter, self.session.theme, roots, (bench, self.px_mm), stand.trunk_x_mm, stand.root_top_mm, tilt, told
            )

    def _box_of(self, stand: Stand, roots: RootMass, bench: QPointF, pocket: Pocket) -> tuple[QRectF, bool]:
        """A pocket in section, px, and whether the section cuts it."""
        k = self.px_mm
        left, right, top, bottom, cut = section_box(roots, pocket, lambda line: turned_line(line, self._turn(stand)))
        x, y = bench.x() + stand.trunk_x_mm * k, bench.y() - stand.root_top_mm * k
        return QRectF(x + left * k, y + top * k, (right - left) * k, (bottom - top) * k), cut

    @property
    def done_mm(self) -> float | None:
        views = self.step_views()
        return views[min(self.after, len(views) - 1)].depth_mm if self.after and views else None

    def bottom_words(self, a: Assessment, off_mm: float) -> str:
        u, each = self.session.units, [v for v in self.step_views() if v.off_mm > 0.5]
        told = super().bottom_words(a, off_mm)
        if len(each) < 2:
            return told
        parts = [f"{u.figure(v.off_mm)} {'now' if v.year == 0 else v.when[0].lower() + v.when[1:]}" for v in each]
        return f"{told}: {', '.join(parts[:3])}"

    def grips(self) -> list[Grip]:
        """Those of the mass, of the planting it stands in, and of the pocket in hand."""
        found, stand = super().grips(), self.stand
        roots = stand.tree.roots if stand is not None else None
        if stand is None or stand.pot is None or roots is None or self.after:
            return [] if self.after else found
        if stand.planting is not None:
            half, (x, y) = 0.5 * trunk_at_soil_mm(stand.tree) + 7, self._trunk_at(stand)
            found += [
                Grip("offset_x_mm", "Trunk, left and right", x + half, self._plan_y_mm + y, "x", x),
                Grip("offset_y_mm", "Trunk, front and back", x, self._plan_y_mm + y + half, "y", y),
            ]
        if self.pot_id is None and stand.planting is not None and self.assessment is not None:
            found += planting_grips(stand, self.assessment.seat, self._section_y_mm)
        one = record_of(roots, self.part) if self.part is not None else None
        if isinstance(one, Pocket):
            left, right, top, bottom, _ = section_box(roots, one, lambda line: turned_line(line, self._turn(stand)))
            x, y = stand.trunk_x_mm + (left + right) / 2, self._section_y_mm + stand.root_top_mm
            found += [
                Grip("part_top", "Pocket from this depth", x, y - top, "y", top, -1),
                Grip("part_bottom", "Pocket to this depth", x, y - bottom, "y", bottom, -1),
            ]
        return found

    def turning_spots(self) -> dict[str, QPointF]:
        """Where the round handles lie, for the planting the tree stands in."""
        stand = self.stand
        if stand is None or stand.pot is None or stand.planting is None or self.pot_id is not None or self.after:
            return {}
        return {
            "tilt": tilt_spot(self.foot_px(stand), self.px_mm, stand.planting.tilt_deg),
            "turn": turn_spot(self.trunk_px(stand), trunk_at_soil_mm(stand.tree) * self.px_mm, stand.planting.turn_deg),
        }

    def foot_px(self, stand: Stand) -> QPointF:
        """The trunk's foot at the top of the roots, in section."""
        return self.px(stand.trunk_x_mm, self._section_y_mm + stand.root_top_mm)

    def trunk_px(self, stand: Stand) -> QPointF:
        """The trunk's middle from above."""
        x, y = self._trunk_at(stand)
        return self.px(x, self._plan_y_mm + y)

    def _turning_grips(self, painter: QPainter) -> None:
        for name, at in self.turning_spots().items():
            round_handle(painter, self.session.theme, at, hover=name == self.spin_hover)

    def _room_ring(self, painter: QPainter, stand: Stand, a: Assessment) -> None:
        """Room for fresh mix every 45 degrees, outside the rim."""
        roots, f, t, u = a.case.roots, a.figures, self.session.theme, self.session.units
        if roots is None or f.roots is None:
            return
        azimuths = np.arange(0.0, 360.0, self.every_deg)
        seat = a.seat
        key = (
            self.every_deg,
            roots,
            a.pot,
            seat.x_mm,
            seat.y_mm,
            seat.turn_deg,
            seat.raise_mm,
            seat.floor_layer_mm,
            seat.clearance_mm,
        )
        if self._room[0] != key:
            self._room = key, side_room_mm(roots, f.pots, a.seat, f.roots, azimuths)
        room = self._room[1]
        if room is None:
            return
        trunk = np.array([seat.x_mm, seat.y_mm])
        ways = toward(azimuths)
        rim = outline_points(a.pot.outline, a.pot.length_mm, a.pot.width_mm, 0.0, 240) - trunk
        far = ring_radius(rim, np.arctan2(ways[:, 1], ways[:, 0])) + 13 / self.px_mm
        for way, reach, mm in zip(ways, far, room, strict=True):
            at = trunk + way * reach
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
            end = self.to_px(stand, root_line(root, trunk_at_soil_mm(stand.tree))[-1:])[0]
            handle(painter, self.session.theme, end, focus=True, hover=False)
        roots = stand.tree.roots if stand is not None else None
        if self.part is not None and stand is not None and roots is not None:
            draw_grips_of(painter, self.session.theme, roots, self.part, partial(self.to_px, stand))
        self._turning_grips(painter)
