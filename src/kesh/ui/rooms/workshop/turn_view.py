"""The design as a shaded body that turns under the hand, or the tree standing in it at true scale. Painted, no OpenGL."""

from math import hypot

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, QRectF, Qt, QTimer
from PyQt6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPen, QPolygonF, QRadialGradient

from kesh.base.errors import KeshError
from kesh.desk.pot_words import FINISHES
from kesh.figure.eye import view_matrix
from kesh.figure.pot_figure import plan_rings
from kesh.figure.pot_mesh import FEET, FLOOR, HOLE, INSIDE, OUTSIDE, RIM, UNDER, pot_mesh, seen
from kesh.figure.raster import filled, shades
from kesh.model import Pot, Tree
from kesh.reference.tables import tables
from kesh.science.looks.colour_names import colour_words
from kesh.ui.paint.built import Built
from kesh.ui.paint.gallery import Gallery
from kesh.ui.paint.marks import words
from kesh.ui.paint.scene import draw_planted
from kesh.ui.rooms.workshop.views import DesignSheet
from kesh.ui.session import Session
from kesh.ui.theme.tokens import mixed

TURN_DEG_PX, STEP_DEG, STILL_MS = 0.5, 5.0, 140
# fewer faces while it moves; edges are smoothed by painting this many times as large
TURN_ANGLES, DRAG_ANGLES, OVER = 60, 36, 2
GLAZED = ("muted_glaze", "bright_glaze", "painted")
CLAY = "#7B5A48"
# how much of the view the tree in it takes
CORNER_SHARE = 0.30


def _behind(rim: np.ndarray, ring: np.ndarray) -> bool:
    """Whether most of a ring on the floor is hidden by the wall on the near side; both as the eye has them."""
    near = rim[rim[:, 1] < np.median(rim[:, 1])]
    near = near[np.argsort(near[:, 0])]
    return bool((ring[:, 2] < np.interp(ring[:, 0], near[:, 0], near[:, 2])).mean() > 0.5)


class TurnView(DesignSheet):
    """Drag to turn; arrows turn by five degrees; T shows the tree in it."""

    def __init__(self, session: Session, gallery: Gallery) -> None:
        super().__init__(session, gallery)
        self.yaw, self.pitch = -27.0, 27.0
        self.with_tree = False
        self._hurry = False
        self._still = QTimer(self)
        self._still.setSingleShot(True)
        self._still.timeout.connect(self._calm)
        self._grab: tuple[QPointF, float, float] | None = None
        self._held: tuple[int, QPointF, np.ndarray] | None = None
        self.built: Built | None = None
        self._frame = QPointF(0, 0), 1.0
        self.made = ""
        self.setAccessibleName("The design shaded; drag to turn it")
        self.setCursor(Qt.CursorShape.OpenHandCursor)

    def margins(self) -> tuple[int, int, int, int]:
        return 20, 40, 20, 44

    def paint(self, painter: QPainter) -> None:
        pot = self.pot
        if self.with_tree:
            self.head(painter, "View", "the tree in it, to scale; T turns back to the pot")
            self._tree(painter, pot, QRectF(20, 40, self.width() - 40, self.height() - 74))
            return
        side = "left" if self.yaw < 0 else "right"
        tree = "; T the tree in it" if self._sitter(pot) is not None and self.built is not None else ""
        way = f"from {abs(self.yaw):.0f}° {side}, {self.pitch:.0f}° above; drag to turn{tree}"
        if self.built is not None:
            self.head(painter, self.made, "drag a piece; J all" if self.built.loose else way)
            box = QRectF(24, 44, self.width() - 48, self.height() - 84)
            self.built.paint(
                painter, self.session.theme, box, self.yaw, self.pitch, self.devicePixelRatioF(), hurry=self._hurry
            )
            return
        self.head(painter, "View", way)
        if pot is None:
            return
        if self.proposed:
            pot = pot.changed(holes=(*pot.holes, *self.proposed))
        try:
            self.draw_body(painter, pot)
        except KeshError as err:
            words(painter, self.session.theme, str(err), 16, 60, "oxide")
            return
        t = self.session.theme
        self._to_come(painter, pot)
        corner = self.corner()
        if corner is not None:
            self._tree(painter, pot, corner.adjusted(0, 0, 0, -18))
            note = "T larger" if corner.width() > 90 else "T"
            words(painter, t, note, corner.center().x(), corner.bottom() - 2, "quiet", align="center")
        told = f"{FINISHES.get(pot.finish, pot.finish)}, {colour_words(pot.colour)}".capitalize()
        words(painter, t, told, 16, self.height() - 26)
        if pot.finish in GLAZED:
            words(painter, t, "bare clay on the foot and inside", 16, self.height() - 10, "quiet")

    def show_built(self, built: Built | None, made: str = "") -> None:
        """The parts of what the maker makes, or the pot itself."""
        self.built, self.made, self._held = built, made, None
        self.update()

    def draw_body(self, painter: QPainter, pot: Pot) -> None:
        """The shaded body fitted into the view. Raises KeshError for a shape that cannot be."""
        hurry = self._hurry or self.session.dragging
        if self.session.dragging:
            mesh = pot_mesh(pot, DRAG_ANGLES, soles=False)
        else:
            mesh = pot_mesh(pot, TURN_ANGLES) if hurry else pot_mesh(pot)
        across = hypot(pot.length_mm, pot.width_mm)
        corner = self.corner()
        room_w, room_h = self.width() - 48.0 - (corner.width() if corner is not None else 0.0), self.height() - 96.0
        pitch = np.radians(abs(self.pitch))
        tall = across * np.sin(pitch) + pot.height_mm * np.cos(pitch)
        scale = max(0.05, min(room_w / across, room_h / tall))
        view = seen(mesh, self.yaw, self.pitch, scale)
        lift = pot.height_mm / 2 * float(np.cos(pitch)) * scale
        middle = QPointF(24 + room_w / 2, 42 + room_h / 2 + lift)
        self._frame = middle, scale
        self._shadow(painter, pot, middle, scale)
        glazed = pot.finish in GLAZED
        clay = QColor(CLAY if glazed else pot.colour)
        base = {OUTSIDE: QColor(pot.colour), RIM: QColor(pot.colour), FEET: clay.darker(118), UNDER: clay.darker(130),
                INSIDE: mixed(clay, QColor("#000000"), 0.10), FLOOR: mixed(clay, QColor("#000000"), 0.22),
                HOLE: mixed(clay, QColor("#000000"), 0.72)}  # fmt: skip
        gloss = {"bright_glaze": 0.55, "muted_glaze": 0.25, "painted": 0.12}.get(pot.finish, 0.05)
        rgb = np.array([[base[k].red(), base[k].green(), base[k].blue()] for k in range(7)], float)
        colours = shades(view, rgb, gloss, 0.86 if self.session.theme.is_dark else 1.0)
        # as fine as the screen; while a grip is dragged one step coarser keeps the hand's pace
        fine = self.devicePixelRatioF()
        wide, high = round(self.width() * fine), round(self.height() * fine)
        points = (view.points + np.array([middle.x(), middle.y()])) * fine
        body = filled(points, colours, wide, high, 1 if self.session.dragging else OVER)
        image = QImage(body.tobytes(), wide, high, 4 * wide, QImage.Format.Format_RGBA8888_Premultiplied)
        image.setDevicePixelRatio(fine)
        painter.drawImage(QPointF(0, 0), image)

    def _to_come(self, painter: QPainter, pot: Pot) -> None:
        """A ring of ink round every hole that is to be drilled, on the floor as it is seen from here."""
        if not self.proposed:
            return
        middle, scale = self._frame
        view = view_matrix(self.yaw, self.pitch)
        pen = QPen(self.session.theme.color("oxide"), 1.6)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        turn = np.linspace(0, 2 * np.pi, 40)
        mouth = plan_rings(pot)[1]
        rim = np.column_stack([mouth, np.full(len(mouth), pot.height_mm)]) @ view.T
        for hole in self.proposed:
            ring = np.column_stack([
                hole.x_mm + (hole.diameter_mm / 2 + 3) * np.cos(turn), hole.y_mm + (hole.diameter_mm / 2 + 3) * np.sin(turn),
                np.full(40, pot.feet_mm + pot.floor_mm),
            ]) @ view.T  # fmt: skip
            # behind the near wall it is drawn dashed, as what is hidden always is
            pen.setStyle(Qt.PenStyle.DashLine if _behind(rim, ring) else Qt.PenStyle.SolidLine)
            painter.setPen(pen)
            painter.drawPolyline(
                QPolygonF([QPointF(middle.x() + x * scale, middle.y() - z * scale) for x, _, z in ring])
            )
        words(
            painter, self.session.theme, f"{len(self.proposed)} holes to come, ringed", 16, self.height() - 44, "oxide"
        )

    def _shadow(self, painter: QPainter, pot: Pot, middle: QPointF, scale: float) -> None:
        if self.pitch < 2:
            return
        wide = 0.62 * max(pot.length_mm, pot.width_mm) * scale
        high = wide * float(np.sin(np.radians(self.pitch))) * 0.8
        painter.save()
        painter.translate(middle + QPointF(0.06 * wide, 0.10 * high))
        painter.scale(1.0, max(high / wide, 0.05))
        fade = QRadialGradient(QPointF(0, 0), wide)
        ink = QColor("#000000")
        ink.setAlphaF(0.30)
        fade.setColorAt(0.55, ink)
        ink.setAlphaF(0.0)
        fade.setColorAt(1.0, ink)
        painter.setBrush(fade)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.drawEllipse(QPointF(0, 0), wide, wide)
        painter.restore()

    def _sitter(self, pot: Pot | None) -> Tree | None:
        """The tree the design is for, or the one on the bench."""
        trees = self.session.collection.trees
        return trees.get((pot.made_for if pot else None) or self.session.tree_id) if pot is not None else None

    def corner(self) -> QRectF | None:
        """Where the tree stands in the design, small, beside the turned pot; a click there makes it large."""
        tree = self._sitter(self.pot)
        if tree is None or tree.measure.height_mm is None or self.built is not None or self.with_tree:
            return None
        wide = CORNER_SHARE * self.width()
        return QRectF(self.width() - wide - 10, 40, wide, self.height() - 56)

    def _tree(self, painter: QPainter, pot: Pot | None, box: QRectF) -> None:
        s, tree = self.session, self._sitter(pot)
        if tree is None or pot is None:
            words(painter, s.theme, "No tree is named for this design.", 16, 60, "quiet")
            return
        m = tree.measure
        drop = max((m.drop_mm or 0.0) - pot.height_mm, 0.0)
        tall = (m.height_mm or 300.0) + pot.height_mm + drop
        left, right = (max(pot.length_mm / 2, side or 100.0) for side in (m.canopy_left_mm, m.canopy_right_mm))
        scale = min(box.width() / (left + right), box.height() / tall)
        foot = QPointF(box.center().x() - (right - left) / 2 * scale, box.bottom() - drop * scale)
        painter.setPen(QPen(s.theme.color("ink"), 1.4))
        painter.drawLine(QLineF(box.left(), foot.y(), box.right(), foot.y()))
        painter.save()
        painter.setClipRect(QRectF(box.left() - 8, 30, box.width() + 16, self.height() - 30))
        species = tables(s.collection.species_rows, s.collection.substrate_rows).species.get(tree.species or "")
        draw_planted(painter, self.gallery, s.theme, tree, species, pot, None, foot, scale, hurry=s.dragging)
        painter.restore()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and event.button() == Qt.MouseButton.LeftButton:
            self.setFocus()
            corner = self.corner()
            if corner is not None and corner.contains(event.position()):
                self.with_tree = True
                self.update()
                return
            under = (
                self.built.at(event.position())
                if self.built is not None and self.built.loose and not self.with_tree
                else None
            )
            if self.built is not None and under is not None:
                self._held = under, event.position(), self.built.shifts[under].copy()
                return
            self._grab = (event.position(), self.yaw, self.pitch)
            self.setCursor(Qt.CursorShape.ClosedHandCursor)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is not None and self._held is not None and self.built is not None:
            number, start_at, was = self._held
            delta = event.position() - start_at
            self.built.drag(number, was, delta.x(), delta.y(), self.yaw)
            self._hurry = True
            self._still.start(STILL_MS)
            away = float(np.linalg.norm(self.built.shifts[number]))
            name = self.built.names[number]
            self.pointed.emit(
                f"Piece {name}: {self.session.units.mm(away)} apart" if away else f"Piece {name}: in its place"
            )
            self.update()
            return
        if event is not None and self._grab is not None:
            start, yaw, pitch = self._grab
            delta = event.position() - start
            self.turn_to(yaw + delta.x() * TURN_DEG_PX, pitch + delta.y() * TURN_DEG_PX)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._grab = self._held = None
        self.setCursor(Qt.CursorShape.OpenHandCursor)

    def turn_to(self, yaw: float, pitch: float) -> None:
        """Look from another direction."""
        self.yaw = (yaw + 180) % 360 - 180
        self.pitch = min(max(pitch, -70.0), 89.0)
        self._hurry = True
        self._still.start(STILL_MS)
        self.update()

    def _calm(self) -> None:
        """Once it stands still it is painted with smooth edges."""
        self._hurry = False
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        if event is None:
            return
        turns = {Qt.Key.Key_Left: (-1, 0), Qt.Key.Key_Right: (1, 0), Qt.Key.Key_Up: (0, 1), Qt.Key.Key_Down: (0, -1)}
        if event.key() in turns:
            dx, dy = turns[Qt.Key(event.key())]
            self.turn_to(self.yaw + dx * STEP_DEG, self.pitch + dy * STEP_DEG)
        elif event.key() == Qt.Key.Key_J and self.built is not None and self.built.loose:
            self.built.toggle()
            self.update()
        elif event.key() == Qt.Key.Key_T:
            self.with_tree = not self.with_tree
            self.update()
        else:
            super().keyPressEvent(event)
