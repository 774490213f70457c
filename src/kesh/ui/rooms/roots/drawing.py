"""Section and plan with the root map in them: what is there, what goes, what lies in the mass, and the room all round."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import QPainter, QPen, QPolygonF

from kesh.advice.assess import Assessment
from kesh.advice.report.roots import tilt_of
from kesh.advice.roots.views import sides_in_turn
from kesh.advice.roots.work import plan_for, pockets_for
from kesh.desk.bench import Grip, Stand, planting_grips
from kesh.desk.root_keeping import PlanView, plan_views
from kesh.desk.root_parts import Part, parts_of, record_of
from kesh.geometry.outline import Floats, outline_points
from kesh.model import MapRoot, Pocket, RootMass, Tree
from kesh.photo.darkroom import Darkroom
from kesh.science.roots.fit import ring_radius
from kesh.science.roots.lines import along_mm, root_line, trunk_at_soil_mm, turned_line, until_mm
from kesh.science.roots.plan import RootPlan
from kesh.science.roots.side_room import side_room_mm, toward
from kesh.ui.hand.turning import draw_tilted, round_handle, tilt_spot, turn_spot
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import handle, words
from kesh.ui.paint.root_painter import band, draw_number, draw_root, drawn_line
from kesh.ui.paint.roots_sheet import RootsSheet
from kesh.ui.paint.tree_painter import polygon
from kesh.ui.rooms.roots.lens import draw_lens
from kesh.ui.rooms.roots.parts import draw_grips_of, draw_in_section, draw_parts, name_parts, section_box
from kesh.ui.rooms.roots.steps import STRIP_PX, draw_steps
from kesh.ui.session import Session
from kesh.ui.theme import fonts

EIGHTHS = 45
Point = tuple[float, float]


@dataclass(frozen=True)
class DrawnRoot:
    """A root as one view shows it: its number, what is still to be done, where, whether later, and how far it reaches."""

    root: MapRoot
    number: int
    action: str = "keep"
    at_mm: float | None = None
    later: bool = False
    until_mm: float | None = None


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
        # the room all round of the last pot and mass
        self._room: tuple[object, Floats | None] = (None, None)
        self.setAccessibleName("Root map from above and in section; a stroke from the trunk outward makes a root")

    # where things lie -------------------------------------------------------------------------------------------

    def plan(self) -> RootPlan | None:
        """The plan of the map in the pot that is cut through."""
        a = self.assessment
        return None if a is None else plan_for(a.figures)

    def mass(self) -> RootMass | None:
        """The root mass; None before it was seen, and where it cannot be reckoned."""
        a = self.assessment
        return None if a is None else a.case.roots

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

    def to_polygon(self, stand: Stand, line: Floats) -> QPolygonF:
        """Points of the tree, mm from the trunk's middle, as a polygon on the sheet."""
        x0, y0 = self._trunk_at(stand)
        origin = self.px(x0, self._plan_y_mm + y0)
        spots = turned_line(line, self._turn(stand)) * self.px_mm
        return polygon(spots + np.array([origin.x(), -origin.y()]))

    def from_px(self, stand: Stand, point: QPointF) -> Point:
        x0, y0 = self._trunk_at(stand)
        x, y = self.mm(point)
        there = turned_line(np.array([[x - x0, y - self._plan_y_mm - y0]]), -self._turn(stand))[0]
        return float(there[0]), float(there[1])

    # paint ------------------------------------------------------------------------------------------------------

    def paint(self, painter: QPainter) -> None:
        super().paint(painter)
        if self.lens and self.pointer is not None and not self.layers.off:
            # under the lens nothing is kept: it is painted larger
            self.layers.off = True
            draw_lens(painter, self.session.theme, self.pointer, super().paint)
            self.layers.off = False

    def over_plan(self, painter: QPainter, stand: Stand, centre: QPointF, a: Assessment) -> None:
        tree, t = stand.tree, self.session.theme
        plan, trunk, roots = plan_for(a.figures), trunk_at_soil_mm(tree), a.case.roots
        to_px = partial(self.to_px, stand)
        turns = sides_in_turn(a.case.brief.root_views)
        waits = turns[0] if turns and not self.after else ()
        if roots is not None and (parts_of(roots) or waits):
            place = (roots, waits, self.part, self._place(stand), t.name)
            self.layers(painter, "parts", place, lambda p: draw_parts(p, t, roots, to_px, self.part, waits))
        drawn = self._drawn_roots(tree, plan)
        over = self.below.on and self.below.of(tree) is not None
        # what is under the hand is painted in every frame, the others only when they change
        hand = self.pulled_root
        still = tuple(d for d in drawn if d.root.id != hand)

        def paint(p: QPainter, some: Sequence[DrawnRoot]) -> None:
            for one in some:
                self._root(p, stand, one, trunk, over=over)

        self.layers(
            painter, "roots", (still, self.root_id, over, self._place(stand), t.name), lambda p: paint(p, still)
        )
        paint(painter, [d for d in drawn if d.root.id == hand])
        self._room_ring(painter, stand, a)
        self._strip(painter, a)
        if roots is not None:
            name_parts(painter, t, roots, to_px, pockets_for(a.figures), self.session.today, waits)
        key = (still, self.root_id, self._place(stand), t.name)
        self.layers(painter, "numbers", key, lambda p: self._numbers(p, stand, still, trunk))
        self._numbers(painter, stand, [d for d in drawn if d.root.id == hand], trunk)
        if self.stroke:
            painter.setPen(QPen(t.color("moss"), max(3.0, 0.12 * trunk * self.px_mm), cap=Qt.PenCapStyle.RoundCap))
            painter.drawPolyline(QPolygonF(self.stroke))
        if not tree.root_map:
            words(painter, t, "Draw from the trunk outward: one drag is a root", centre.x(), centre.y() - trunk * self.px_mm - 6,
                  "moss", font=fonts.text(13, bold=True), align="center", ground="sheet")  # fmt: skip

    def _numbers(self, painter: QPainter, stand: Stand, some: Sequence[DrawnRoot], trunk: float) -> None:
        for one in some:
            at = self.to_px(stand, self._line(one, trunk)[-1:])[0]
            mine = one.root.id == self.root_id
            role = "moss" if mine else "oxide" if one.action in ("remove", "shorten") else "ink"
            draw_number(painter, self.session.theme, str(one.number), at, role, in_hand=mine)

    def _place(self, stand: Stand) -> tuple[float, ...]:
        """Where the trunk stands in the plan and how it is turned."""
        return (*self._trunk_at(stand), self._turn(stand), self._plan_y_mm)

    def _drawn_roots(self, tree: Tree, plan: RootPlan | None) -> list[DrawnRoot]:
        """The roots that are there in this view, each with what is still to be done to it."""
        years = [v.year for v in self.step_views()[1:]][: self.after]
        found = []
        for n, root in enumerate(tree.root_map):
            step = plan.step(root.id) if plan is not None else None
            if step is None or step.action == "keep":
                found.append(DrawnRoot(root, n + 1))
            elif step.year not in years:
                found.append(DrawnRoot(root, n + 1, step.action, step.at_mm, step.year > 0))
            elif step.action == "shorten":
                found.append(DrawnRoot(root, n + 1, until_mm=step.at_mm))
            elif step.action == "move":
                found.append(DrawnRoot(root.changed(azimuth_deg=root.moved_to_deg or 0.0, course=()), n + 1))
        return found

    def _line(self, one: DrawnRoot, trunk: float) -> Floats:
        """How a root is drawn, cut back where it is."""
        line = drawn_line(root_line(one.root, trunk), trunk, one.number - 1)
        # places along a root count from the bark, not from within the trunk
        return line if one.until_mm is None else until_mm(line, float(along_mm(line)[1]) + one.until_mm)

    def _root(self, painter: QPainter, stand: Stand, one: DrawnRoot, trunk: float, *, over: bool) -> None:
        root, line = one.root, self._line(one, trunk)
        far = along_mm(line)
        stays, cut = None, None
        if one.action == "shorten" and one.at_mm is not None:
            part = until_mm(line, float(far[1]) + one.at_mm)
            stays = self.to_polygon(stand, band(part, root.diameter_mm, far[-1]))
            cut = self._tick(stand, part, root.diameter_mm)
        elif one.action == "remove":
            cut = self._tick(stand, line[:3], root.diameter_mm)
        ring = self.to_polygon(stand, band(line, root.diameter_mm, far[-1]))
        goes = one.action in ("remove", "shorten")
        draw_root(
            painter, self.session.theme, root, ring, stays, cut, goes=goes, later=one.later, in_hand=root.id == self.root_id,
            over_picture=over,
        )  # fmt: skip

    def _strip(self, painter: QPainter, a: Assessment) -> None:
        """The repottings in a row at the foot, where there are several."""
        views = self.step_views()
        if len(views) > 2:
            tall = fonts.scaled(STRIP_PX)
            box = QRectF(40, self.height() - tall - fonts.scaled(34), self.width() - 60, tall)
            draw_steps(painter, self.session.theme, a, views[:4], box, self.session.units)

    def _tick(self, stand: Stand, part: Floats, diameter_mm: float) -> QLineF:
        """The line of a cut across the end of a part."""
        way = part[-1] - part[-2]
        normal = np.array([-way[1], way[0]]) / max(float(np.hypot(*way)), 1e-9) * (0.5 * diameter_mm + 4)
        one, two = self.to_px(stand, np.array([part[-1] - normal, part[-1] + normal]))
        return QLineF(one, two)

    def margins(self) -> tuple[int, int, int, int]:
        left, top, right, bottom = super().margins()
        return left, top, right, bottom + (fonts.scaled(STRIP_PX) if len(self.step_views()) > 2 else 0)

    def step_views(self) -> tuple[PlanView, ...]:
        """The repottings of the plan as they are drawn."""
        a = self.assessment
        return () if a is None else plan_views(a, plan_for(a.figures), self.session.today)

    def over_section(self, painter: QPainter, stand: Stand, bench: QPointF, a: Assessment) -> None:
        """Pockets, and what a tilt brings."""
        roots, planting = a.case.roots, stand.planting
        if roots is None:
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

    @property
    def pulled_root(self) -> str:
        return self.root_id if self.session.dragging else ""

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
        roots = self.mass()
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
        hurry = self.session.dragging
        key = (self.every_deg, hurry, roots, a.pot, seat)
        if self._room[0] != key:
            self._room = key, side_room_mm(roots, f.pots, a.seat, f.roots, azimuths, coarse=hurry)
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
        super().draw_grips(painter)
        root, stand = self.root(), self.stand
        if root is not None and stand is not None:
            end = self.to_px(stand, root_line(root, trunk_at_soil_mm(stand.tree))[-1:])[0]
            handle(painter, self.session.theme, end, focus=True, hover=False)
        roots = self.mass()
        if self.part is not None and stand is not None and roots is not None:
            draw_grips_of(painter, self.session.theme, roots, self.part, partial(self.to_px, stand))
        self._turning_grips(painter)
