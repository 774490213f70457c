"""How a planting is laid on the sheet: from above, from the front, the holding rose, cut list and soil; where each lies and at what scale."""

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QPainter

from kesh.advice.planting.placing import custom_of
from kesh.advice.planting.plan import PlantingPlan
from kesh.desk.lineup import size_words
from kesh.model import Planting
from kesh.photo.cutout import CutOut
from kesh.ui.hand.turning import round_handle
from kesh.ui.hand.view import TRUE_PX_MM, SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.labels import Labels
from kesh.ui.paint.layers import Layers
from kesh.ui.paint.marks import handle, words
from kesh.ui.paint.plane import Plane
from kesh.ui.paint.planting_plan_painter import (
    base_of,
    draw_custom,
    draw_flow,
    draw_ground,
    draw_holes,
    draw_mass,
    draw_room,
    draw_sizes,
    draw_trunk,
)
from kesh.ui.paint.wires_painter import draw_wires
from kesh.ui.rooms.planting.feet import Foot, draw_place_foot, draw_ties_foot
from kesh.ui.rooms.planting.front_drawing import draw_beam, draw_front
from kesh.ui.session import Session
from kesh.ui.theme import fonts

SCALES = (1.0, 1.25, 1.5, 2.0, 2.5, 3.0, 4.0, 5.0, 6.0, 8.0, 10.0, 12.0)
# how far the eye is from the screen, mm [J]
EYE_MM = 600.0


def seen_from_m(px_mm: float) -> float:
    """From how far off the tree itself looks as large as it is drawn at this scale."""
    return EYE_MM * TRUE_PX_MM / px_mm / 1000


@dataclass(frozen=True)
class Spot:
    """Something that is taken in hand: its key, its words and where it lies, px; `px_mm` of the view it lies in."""

    key: str
    label: str
    at: QPointF
    px_mm: float
    ring: bool = False


class PlantingDrawing(SheetView):
    """Two views of one drawing: how it is tied and cut, and where it is placed."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.plan: PlantingPlan | None = None
        self.planting: Planting | None = None
        self.state, self.sentence = "ties", ""
        self.real: Callable[[], CutOut | None] = lambda: None
        self.layers = Layers(self)
        self.in_hand = "trunk"
        self._hover = ""
        self._rest: PlantingPlan | None = None
        self.show_eye = True
        self.setAccessibleName("The planting from above and from the front, to scale")

    def show_plan(self, plan: PlantingPlan | None, planting: Planting | None, sentence: str = "") -> None:
        """Another plan, or a sentence where there is none."""
        self.plan, self.planting, self.sentence = plan, planting, sentence
        told = sentence
        if plan is not None and planting is not None:
            held, u = plan.ties, plan.u
            force = "" if held is None or held.hold is None else f"; held with {held.hold.weakest_n:.0f} N at the apex"
            told = f"Trunk {u.mm(planting.offset_x_mm)} along, {u.mm(planting.offset_y_mm)} back{force}"
        self.setAccessibleDescription(told)
        if not self.pulling:
            self.refit()
        self.update()

    @property
    def pulling(self) -> bool:
        """Whether something is under the hand; the scale stays then."""
        return False

    @property
    def wire(self) -> str:
        """The wire in hand, by its id."""
        parts = self.in_hand.split(":")
        return parts[1] if parts[0] in ("hole", "over") else ""

    # --- where things lie

    def _whole(self) -> bool:
        """Whether there is room for all of the foot: the drawing keeps at least half the height."""
        return self.height() >= fonts.scaled(560)

    def _foot_px(self) -> float:
        """How much of the sheet's foot is kept for cut list or lever."""
        if self._whole():
            return fonts.scaled(214 if self.state == "ties" else 190)
        return fonts.scaled(120) if self.height() >= fonts.scaled(400) else 0.0

    def _rose_px(self) -> float:
        return fonts.scaled(132) if self.state == "ties" and self._whole() else fonts.scaled(24)

    def _split_x(self) -> float:
        return round(self.width() * 0.585)

    def fit(self) -> None:
        """The pot from above as large as its part of the sheet lets it."""
        self._fitted = True
        plan = self.plan
        if plan is None:
            return
        pot = plan.a.pot
        left, top = fonts.scaled(52), fonts.scaled(62)
        box = QRectF(
            left,
            top,
            self._split_x() - left - fonts.scaled(46),
            self.height() - self._foot_px() - self._rose_px() - top - fonts.scaled(34),
        )
        self.px_mm = max(0.05, min(box.width() / pot.length_mm, box.height() / pot.width_mm, 3.0))
        self.origin = box.center()
        self.scaled.emit(self.px_mm)
        self.update()

    def plan_plane(self) -> Plane:
        """The plan on the sheet: the pot's middle is the origin, the front below."""
        return Plane(self.origin, self.px_mm)

    def front_plane(self) -> Plane:
        """The front on the sheet: the pot's middle on the bench is the origin. Its scale is a plain part of the plan's."""
        assert self.plan is not None
        assert self.planting is not None
        tree, pot = self.plan.a.case.tree, self.plan.a.pot
        m = tree.measure
        box = self._front_box()
        tall = pot.height_mm + self.planting.raise_mm + (m.height_mm or 300.0)
        drop = max((m.drop_mm or 0.0) - pot.height_mm, 0.0)
        left = max(pot.length_mm / 2, (m.canopy_left_mm or 150.0) - self.planting.offset_x_mm)
        right = max(pot.length_mm / 2, (m.canopy_right_mm or 150.0) + self.planting.offset_x_mm)
        room = min(box.width() / max(left + right, 1.0), box.height() / max(tall + drop, 1.0))
        part = next((s for s in SCALES if self.px_mm / s <= room), self.px_mm / room)
        k = self.px_mm / part
        x = box.left() + left * k + (box.width() - (left + right) * k) / 2
        return Plane(QPointF(x, box.bottom() - drop * k), k)

    def _front_box(self) -> QRectF:
        left = self._split_x() + fonts.scaled(40)
        top = fonts.scaled(34)
        below = fonts.scaled(44) + (fonts.scaled(120) if self.state == "ties" and self._whole() else fonts.scaled(8))
        return QRectF(left, top, self.width() - left - fonts.scaled(22), self.height() - self._foot_px() - top - below)

    # --- paint

    def paint(self, painter: QPainter) -> None:
        plan, planting = self.plan, self.planting
        if plan is None or planting is None:
            self.empty(painter, self.sentence or "Reckoning…")
            return
        t, u, pot = self.session.theme, self.session.units, plan.a.pot
        plane, base = self.plan_plane(), base_of(plan)
        painter.save()
        painter.setClipRect(
            QRectF(0, 0, self._split_x() + fonts.scaled(10), self.height() - self._foot_px() - self._rose_px())
        )
        half = QPointF(pot.length_mm, pot.width_mm) * (plane.px_mm / 2) + QPointF(6, 6)
        around = QRectF(plane.origin - half, plane.origin + half)
        draw_ground(painter, plan, t, plane, lambda p, name, key, paint: self.layers(p, name, key, paint, around))
        draw_mass(painter, plan, t, plane, base)
        if self.state == "ties":
            key = (
                pot,
                plan.cuts is not None and plan.cuts.screens,
                t.name,
                plane.px_mm,
                plane.origin.x(),
                plane.origin.y(),
            )
            self.layers(painter, "holes", key, lambda p: draw_holes(p, plan, t, plane, screens=True), around)
        at = (planting.offset_x_mm, planting.offset_y_mm)
        draw_trunk(painter, plan, t, plane, at, held=self.in_hand == "trunk" and self.hasFocus())
        labels = Labels(painter, t) if self.state == "place" else None
        if labels is not None:
            draw_custom(painter, plan, t, plane, custom_of(plan.a), labels)
            draw_room(painter, plan, t, plane, base, plan.room_mm, labels)
        if self.state == "ties":
            painter.setRenderHint(QPainter.RenderHint.Antialiasing, not plan.a.case.hurry)
            draw_wires(painter, plan, t, plane, base, self.wire or self.in_hand.replace("stone:", "stone"))
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self.show_dimensions:
            draw_sizes(painter, plan, t, plane, planting, labels)
        draw_flow(painter, plan, t, plane)
        painter.restore()
        italic = fonts.book(13, italic=True)
        words(
            painter,
            t,
            f"{pot.name} {size_words(pot, u)} from above",
            fonts.scaled(16),
            fonts.scaled(18),
            "quiet",
            font=italic,
        )
        self._front(painter, plan, planting)
        foot = Foot(self.width(), self.height(), self._foot_px(), self._rose_px(), self._split_x(), self.px_mm)
        if self.state == "ties":
            draw_ties_foot(painter, plan, planting, t, foot, self.layers, self.wire, self._at_rest(plan))
        else:
            draw_place_foot(painter, plan, planting, t, foot, self.layers, self._at_rest(plan).lever, self.gallery)
        for spot in self.spots() if not self.pulling else ():
            if spot.ring:
                round_handle(painter, t, spot.at, hover=spot.key in (self._hover, self.in_hand))
            elif spot.key not in ("trunk", "front"):
                handle(painter, t, spot.at, focus=spot.key == self.in_hand, hover=spot.key == self._hover)

    def _front(self, painter: QPainter, plan: PlantingPlan, planting: Planting) -> None:
        t, plane = self.session.theme, self.front_plane()
        box = self._front_box()
        draw_front(
            painter,
            plan,
            planting,
            self.gallery,
            t,
            plane,
            real=self.real(),
            eye=self.show_eye,
            left_px=box.left() - fonts.scaled(6),
        )
        part = self.px_mm / plane.px_mm
        told = (
            "From the front, the same scale"
            if abs(part - 1) < 0.01
            else f"From the front, scale 1 : {part:g} of the plan"
        )
        italic = fonts.book(13, italic=True)
        far = f"From the front, 1 : {part:g}, as seen from {seen_from_m(plane.px_mm):.1f} m"
        room = self.width() - self._split_x() - fonts.scaled(24)
        if self.state == "place" and fonts.width(italic, far) <= room:
            told = far
        words(painter, t, told, self._split_x() + fonts.scaled(16), fonts.scaled(18), "quiet", font=italic)
        draw_beam(
            painter, plan, t, plane, plane.origin.y() + fonts.scaled(14) + max(0.0, box.bottom() - plane.origin.y())
        )

    def _at_rest(self, plan: PlantingPlan) -> PlantingPlan:
        """The plan as it was before the hand took hold: what hangs on the pot and not on the place is read from it."""
        if not plan.a.case.hurry:
            self._rest = plan
        same = (
            self._rest is not None
            and self._rest.a.pot.id == plan.a.pot.id
            and self._rest.a.case.tree.id == plan.a.case.tree.id
        )
        return self._rest if same and self._rest is not None else plan

    def spots(self) -> list[Spot]:
        """What can be taken in hand; the hands know."""
        return []
