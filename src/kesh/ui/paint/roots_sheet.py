"""The root mass in its pot, in section and from above: what stays, what comes off, and what stays wet."""

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QKeyEvent, QLinearGradient, QPainter, QPolygonF

from kesh.advice.assess import Assessment
from kesh.advice.roots.this_year import this_year
from kesh.base.units import Units
from kesh.desk.bench import Grip, Stand, root_grips
from kesh.desk.photo import ring_place
from kesh.desk.planting import planned_for
from kesh.model import Pot, Tree
from kesh.photo.above import Underlay
from kesh.photo.darkroom import Darkroom
from kesh.science.water.drainage import tilted
from kesh.ui.hand.grips import GripSheet
from kesh.ui.paint.gallery import Gallery, view_of
from kesh.ui.paint.layers import Layers
from kesh.ui.paint.marks import dimension, front_marker, words
from kesh.ui.paint.plan_painter import draw_plan
from kesh.ui.paint.plan_underlay import PlanUnderlay
from kesh.ui.paint.pot_painter import fade_up
from kesh.ui.paint.scene import pixel_ratio
from kesh.ui.paint.section_painter import draw_section
from kesh.ui.session import Session
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import mixed

TILTS = (0, 6, 12, 20)
# so much of the trunk is shown over its roots
STUB_MM = 62


class RootsSheet(GripSheet):
    """Section and plan at one scale, of the present pot or of the one in hand in the line-up."""

    def __init__(self, session: Session, gallery: Gallery, darkroom: Darkroom) -> None:
        super().__init__(session, gallery)
        self.below, self.layers = PlanUnderlay(session, darkroom), Layers(self)
        self.pot_id: str | None = None
        self.tilt_deg = 0
        self.setAccessibleName("Root mass in its pot, in section and from above, to scale")

    @property
    def assessment(self) -> Assessment | None:
        """Findings of the pot that is cut through."""
        s = self.session
        if self.pot_id is None:
            return s.planned()
        pot = s.collection.pots.get(self.pot_id)
        return s.meant(pot) if pot is not None and s.tree is not None else None

    @property
    def stand(self) -> Stand | None:
        """The tree in the pot that is cut through."""
        if self.pot_id is None:
            return super().stand
        s, pot = self.session, self.session.collection.pots.get(self.pot_id)
        plan = planned_for(s.collection, s.tree_id, self.pot_id)
        if plan is not None and pot is not None and s.tree is not None:
            return Stand(s.tree, pot, plan)
        state = s.lineup_state()
        column = next((c for c in state.columns if c.pot.id == self.pot_id), None) if state else None
        return Stand(column.assessment.case.tree, column.pot, column.planting) if column else super().stand

    @property
    def _section_y_mm(self) -> float:
        pot = self.stand.pot if self.stand else None
        return pot.width_mm + 70 if pot else 0.0

    @property
    def _plan_y_mm(self) -> float:
        pot = self.stand.pot if self.stand else None
        return pot.width_mm / 2 + 8 if pot else 0.0

    def grips(self) -> list[Grip]:
        stand = self.stand
        if stand is None or stand.pot is None:
            return []
        return root_grips(stand, self._section_y_mm, self._plan_y_mm)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is not None and event.key() == Qt.Key.Key_T and not event.modifiers():
            self.tilt_deg = TILTS[(TILTS.index(self.tilt_deg) + 1) % len(TILTS)]
            self.pointed.emit(self.tilt_words())
            self.update()
        elif event is not None and event.key() == Qt.Key.Key_U and not event.modifiers():
            tree = self.session.tree
            self.below.on = not self.below.on
            told = "" if tree is None else self.below.words(tree)
            self.pointed.emit(told or "No photograph from above yet; add one, and say so beside it")
            self.update()
        else:
            super().keyPressEvent(event)

    def tilt_words(self) -> str:
        """What standing the pot on a slope after watering lets go."""
        a, u = self.assessment, self.session.units
        if a is None or a.figures.water is None or a.case.blend is None or not a.pot.drain_holes:
            return "Tilting is not computed: a mix and a pot with drain holes are needed"
        if self.tilt_deg == 0:
            return "Flat. T tilts the pot to the front after watering"
        found = tilted(a.figures.pots, a.case.blend, float(a.figures.soil_depth_mm[0]), float(self.tilt_deg))
        if found.drained_l < 0.005:
            return f"Tilted {self.tilt_deg}° to the front it lets nothing more go: {found.below_drain_share:.0%} lies below the holes"
        return f"Tilted {self.tilt_deg}° to the front it lets {u.litres(found.drained_l)} more go, {found.drained_l / found.held_flat_l:.0%} of its water"

    def extent_mm(self) -> QRectF:
        stand = self.stand
        if stand is None:
            return super().extent_mm()
        pot = stand.pot
        wide = max(pot.length_mm if pot else 300, stand.tree.roots.length_mm if stand.tree.roots else 0) + 40
        deep = (pot.width_mm if pot else 200) + (pot.height_mm if pot else 80) + 120
        return QRectF(-wide / 2, 0, wide, deep)

    def margins(self) -> tuple[int, int, int, int]:
        return 84, 56, 84, 58

    def paint(self, painter: QPainter) -> None:
        stand = self.stand
        if stand is None:
            self.empty(painter, "No tree yet. Start with its height and trunk; the rest can wait.")
        else:
            self._roots(painter, stand)

    def _roots(self, painter: QPainter, stand: Stand) -> None:
        t, u = self.session.theme, self.session.units
        a = self.assessment
        if a is None or stand.pot is None:
            self.empty(
                painter,
                "The tree stands in no pot yet. Choose one in the line-up to see its roots in section.",
                action=("Hold pots under it", "step_lineup"),
            )
            return
        pot, f = a.pot, a.figures
        bench = self.px(0, self._section_y_mm)
        self.ground(
            painter,
            bench.x() - (pot.length_mm / 2 + 24) * self.px_mm,
            bench.x() + (pot.length_mm / 2 + 24) * self.px_mm,
            bench.y(),
        )
        self._trunk_stub(painter, stand, bench)
        self._drawn(
            painter, bench, a, partial(draw_section, done_mm=self.done_mm, hand=self.pulled_root, keep=self.layers)
        )
        self.over_section(painter, stand, bench, a)
        words(
            painter,
            t,
            "Section through the middle, seen from the front",
            84,
            40,
            "quiet",
            font=fonts.book(14, italic=True),
        )
        left, right = bench.x() - pot.length_mm / 2 * self.px_mm, bench.x() + pot.length_mm / 2 * self.px_mm
        dimension(
            painter, t, QPointF(left, bench.y() + 18), QPointF(right, bench.y() + 18), f"pot {u.figure(pot.length_mm)}"
        )
        if f.roots is not None and stand.tree.roots is not None:
            self._cuts(painter, stand, bench, left, right)
        else:
            words(
                painter,
                t,
                "Root mass not measured. Lift the tree, or probe along the wall.",
                bench.x(),
                bench.y() - (pot.height_mm + 30) * self.px_mm,
                "quiet",
                align="center",
                ground="sheet",
            )
        if f.water is not None and f.plantable[0]:
            wet = float(f.water.wet_height_mm[0])
            floor = (pot.feet_mm + pot.floor_mm + (a.case.layer[1] if a.case.layer else 0.0)) * self.px_mm
            y = bench.y() - floor
            dimension(
                painter,
                t,
                QPointF(left - 16, y),
                QPointF(left - 16, y - wet * self.px_mm),
                u.figure(wet),
                "indigo",
                side=-1,
            )
        words(
            painter,
            t,
            self.tilt_words(),
            84,
            self.height() - 16,
            "indigo" if self.tilt_deg else "quiet",
            font=fonts.text(13),
        )
        centre = self.px(0, self._plan_y_mm)
        found = self.below.of(stand.tree) if self.below.on else None
        below = None if found is None else self._below(found, a)
        self._drawn(
            painter,
            centre,
            a,
            partial(
                draw_plan,
                below=below,
                below_key=(id(found), a.seat.turn_deg),
                done=self.done_mm is not None,
                keep=self.layers,
            ),
        )
        self._plan_words(painter, stand.tree, centre.y() - (pot.width_mm / 2 + 10) * self.px_mm - 6)
        self._marker(painter, stand, centre, pot)
        self.over_plan(painter, stand, centre, a)
        self.draw_grips(painter)

    @property
    def done_mm(self) -> float | None:
        """How deep the mass is once the cuts that are shown as made are made; None while none is."""
        return None

    @property
    def pulled_root(self) -> str:
        """The root of the map that is pulled, empty for none."""
        return ""

    def bottom_words(self, a: Assessment, off_mm: float) -> str:
        """How much comes off the bottom."""
        return f"{self.session.units.mm(off_mm)} off the bottom" if off_mm > 0.5 else "nothing off the bottom"

    def over_section(self, painter: QPainter, stand: Stand, bench: QPointF, a: Assessment) -> None:
        """What is drawn over the section."""

    def over_plan(self, painter: QPainter, stand: Stand, centre: QPointF, a: Assessment) -> None:
        """What is written round the plan."""
        if a.figures.roots is not None:
            self._side_figures(painter, centre, a.pot.length_mm, a.pot.width_mm)

    def _below(self, found: Underlay, a: Assessment) -> Callable[[QPainter], None]:
        """Paints the photograph about the trunk, no farther than the plan's own part of the sheet."""
        seat, half_deep, half = a.seat, a.pot.width_mm / 2 + 6, self.extent_mm().width() / 2

        def paint(painter: QPainter) -> None:
            painter.setClipRect(QRectF(-half - seat.x_mm, -half_deep + seat.y_mm, 2 * half, 2 * half_deep))
            self.below.draw(painter, found, seat.turn_deg)

        return paint

    def _plan_words(self, painter: QPainter, tree: Tree, y: float) -> None:
        t = self.session.theme
        wide = words(painter, t, "From above, front at the foot", 84, y, "quiet", font=fonts.book(14, italic=True))
        told = self.below.words(tree)
        if told and 84 + wide + 26 < self.width() / 2:
            words(painter, t, told, self.width() - 84, y, "indigo", font=fonts.text(13), align="right", ground="sheet")

    def _marker(self, painter: QPainter, stand: Stand, centre: QPointF, pot: Pot) -> None:
        """The front marker between trunk and wall, named."""
        at = stand.tree.marker_deg
        if at is None:
            return
        # azimuths run with the clock, a tree is turned in its pot against it
        x, y = ring_place(at - (stand.planting.turn_deg if stand.planting else 0.0))
        half = 0.5 * 0.72 * min(pot.width_mm, pot.length_mm)
        trunk = self.px(stand.trunk_x_mm, 0).x() - self.px(0, 0).x()
        foot = centre + QPointF(trunk + x * half * self.px_mm, -y * half * self.px_mm)
        front_marker(painter, self.session.theme, foot, 17)
        words(painter, self.session.theme, "marker", foot.x() + 13, foot.y() - 3, "oxide", ground="sheet")

    def _drawn(self, painter: QPainter, at: QPointF, a: Assessment, draw: Callable[..., None]) -> None:
        """Section or plan, in mm around a point of the sheet."""
        painter.save()
        painter.translate(at)
        painter.scale(self.px_mm, self.px_mm)
        draw(painter, a, self.session.theme, self.px_mm)
        painter.restore()

    def _trunk_stub(self, painter: QPainter, stand: Stand, bench: QPointF) -> None:
        """The foot of the tree's own trunk, fading out upward; a plain one while the tree cannot be drawn."""
        t, k, tree = self.session.theme, self.px_mm, stand.tree
        x, y = bench.x() + stand.trunk_x_mm * k, bench.y() - (stand.root_top_mm - 3) * k
        high = min(STUB_MM * k, y - 56)
        species = self.session.tables.species.get(tree.species or "")
        view = view_of(tree, species, t, k, pixel_ratio(painter))
        if view is None or high < 8:
            self._plain_stub(painter, stand, QPointF(x, y), high)
            return
        box = QRectF(x - 160 * k, y - high, 320 * k, high + 1)
        tilt = stand.planting.tilt_deg if stand.planting else 0.0
        painter.save()
        painter.setClipRect(box)
        painter.save()
        painter.translate(x, y)
        painter.rotate(tilt)
        self.gallery.draw(painter, view, QPointF(0, 0), hurry=self.session.dragging)
        painter.restore()
        sheet = t.color("sheet")
        veil = QLinearGradient(box.topLeft(), QPointF(box.left(), y - 0.45 * high))
        clear = QColor(sheet)
        clear.setAlpha(0)
        veil.setColorAt(0, sheet)
        veil.setColorAt(1, clear)
        painter.fillRect(box, veil)
        painter.restore()

    def _plain_stub(self, painter: QPainter, stand: Stand, foot: QPointF, high: float) -> None:
        t, m, k = self.session.theme, stand.tree.measure, self.px_mm
        trunk, flare, x, y = m.trunk_diameter_mm or 40.0, m.flare_width_mm or 60.0, foot.x(), foot.y()
        ring = QPolygonF(
            [QPointF(x - flare / 2 * k, y), QPointF(x - trunk * 0.55 * k, y - high * 0.45), QPointF(x - trunk * 0.48 * k, y - high),
             QPointF(x + trunk * 0.48 * k, y - high), QPointF(x + trunk * 0.55 * k, y - high * 0.45), QPointF(x + flare / 2 * k, y)]
        )  # fmt: skip
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(fade_up(mixed(t.color("bark"), t.color("bark_dark"), 0.25), y, y - high))
        painter.drawPolygon(ring)

    def _cuts(self, painter: QPainter, stand: Stand, bench: QPointF, left: float, right: float) -> None:
        t, u, a = self.session.theme, self.session.units, self.assessment
        assert a is not None
        fit, roots = a.figures.roots, stand.tree.roots
        assert fit is not None
        assert roots is not None
        top = bench.y() - stand.root_top_mm * self.px_mm
        off, kept = float(fit.off_bottom_mm[0]), float(fit.kept_depth_mm[0])
        side = right + 34
        dimension(
            painter,
            t,
            QPointF(side, top + kept * self.px_mm),
            QPointF(side, top),
            f"{u.figure(kept)} kept",
            "ink",
            side=1,
        )
        share, limit = float(fit.removed_feeder_share[0]), a.case.limit_share
        role = "oxide" if limit is not None and share > limit else "ink"
        words(
            painter,
            t,
            self.bottom_words(a, off),
            self.width() - 84,
            40,
            "oxide" if off > 0.5 else "ink",
            font=fonts.text(14, bold=True),
            align="right",
        )
        told = f"{share:.0%} of the feeder roots" + (f", {limit:.0%} at most" if limit is not None else "")
        words(painter, t, told, self.width() - 84, 40 + fonts.scaled(18), role, font=fonts.text(13), align="right")
        off = off if self.done_mm is None else max(self.done_mm - kept, 0.0)
        if off > 0.5:
            low = top + (kept + off) * self.px_mm
            dimension(
                painter,
                t,
                QPointF(side, low),
                QPointF(side, top + kept * self.px_mm),
                f"{u.figure(off)} off",
                "oxide",
                side=1,
            )

    def _side_figures(self, painter: QPainter, centre: QPointF, length: float, width: float) -> None:
        t, u, a = self.session.theme, self.session.units, self.assessment
        assert a is not None
        fit = a.figures.roots
        assert fit is not None
        half_l, half_w = length / 2 * self.px_mm + 12, width / 2 * self.px_mm
        spots = {
            "left": (fit.off_left_mm, QPointF(centre.x() - half_l, centre.y()), "right"),
            "right": (fit.off_right_mm, QPointF(centre.x() + half_l, centre.y()), "left"),
            "back": (fit.off_back_mm, QPointF(centre.x(), centre.y() - half_w - 3), "center"),
            "front": (fit.off_front_mm, QPointF(centre.x(), centre.y() + half_w + 15), "center"),
        }
        for name, (value, at, align) in spots.items():
            mm = float(value[0])
            text = f"{u.figure(mm)} off {name}" if mm > 0.5 else f"{name} clear"
            words(
                painter,
                t,
                text,
                at.x(),
                at.y() + 4,
                "oxide" if mm > 5 else "quiet",
                font=fonts.text(13, bold=mm > 5),
                align=align,
                ground="sheet",
            )


def seat_words(a: Assessment, u: Units) -> str:
    """Whether the tree comes to sit where it should, in a few words; of several repottings what the next one takes."""
    fit = a.figures.roots
    if fit is None:
        return "roots not known yet"
    off, spare = float(fit.off_bottom_mm[0]), float(fit.spare_depth_mm[0])
    year = this_year(a.figures)
    if off > 0.5 and year is not None and year.repottings > 1 and not year.nothing:
        return f"lower by {u.figure(year.bottom_mm)} of {u.mm(off)}"
    if off > 0.5:
        return f"lower by {u.mm(off)}"
    return f"raise by {u.mm(spare)}" if spare > 0.5 else "it sits right"
