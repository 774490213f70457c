"""Hands on the root map: a stroke from the trunk is a root; roots, pockets, sides, tilt and turn are pulled."""

from collections.abc import Callable
from functools import partial
from typing import Any

import numpy as np
from PyQt6.QtCore import QLineF, QPointF, Qt
from PyQt6.QtGui import QKeyEvent, QMouseEvent

from kesh.base.errors import KeshError
from kesh.desk.bench import Stand
from kesh.desk.lineup import with_offset
from kesh.desk.root_map import pulled, stroked_root, with_root, without_root
from kesh.desk.root_parts import PartKind, depth_pulled, part_pulled, part_turned, with_new, without_part
from kesh.model import Planting, Tree
from kesh.photo.darkroom import Darkroom
from kesh.science.roots.lines import azimuth_of, root_line, trunk_at_soil_mm
from kesh.store.collection_file import Change
from kesh.ui.hand.turning import tilt_at, turn_at
from kesh.ui.paint.gallery import Gallery
from kesh.ui.rooms.roots.drawing import EIGHTHS, RootDrawing
from kesh.ui.rooms.roots.parts import grip_at, part_at
from kesh.ui.session import Session

GRAB_PX, TRUNK_TIMES, MOST_TILT_DEG = 9.0, 0.55, 60.0
# what a hand does while it pulls: the step's name, and the records for a point of the sheet
Pull = tuple[str, Callable[[QPointF], list[Change]]]


class RootMapSheet(RootDrawing):
    """The drawing with hands."""

    def __init__(self, session: Session, gallery: Gallery, darkroom: Darkroom) -> None:
        super().__init__(session, gallery, darkroom)
        self._pull: Pull | None = None

    # what is pulled ---------------------------------------------------------------------------------------------

    def _root_at(self, stand: Stand, point: QPointF) -> str:
        """The root under a point, empty for none."""
        best, found = GRAB_PX, ""
        for root in stand.tree.root_map:
            spots = self.to_px(stand, root_line(root, trunk_at_soil_mm(stand.tree)))
            near = min(QLineF(p, point).length() for p in spots) - root.diameter_mm * self.px_mm / 2
            if near < best:
                best, found = near, root.id
        return found

    def _pull_at(self, stand: Stand, point: QPointF) -> Pull | None:
        """What a press at a point takes in hand to pull; None for nothing."""
        tree, planting, roots = stand.tree, stand.planting, self.mass()
        for name, at in self.turning_spots().items():
            if planting is not None and QLineF(at, point).length() <= GRAB_PX:
                return f"Tree {name}ed", partial(self._spun, stand, planting, name)
        root = self.root()
        if root is not None:
            end = self.to_px(stand, root_line(root, trunk_at_soil_mm(tree))[-1:])[0]
            if QLineF(end, point).length() <= GRAB_PX + 2:
                return "Root pulled", lambda at: [("tree", tree.id, pulled(tree, root.id, self.from_px(stand, at)))]
        if self.part is not None and roots is not None:
            grip = grip_at(roots, self.part, partial(self.to_px, stand), point)
            if grip is not None:
                return "Edge pulled", lambda at: [("tree", tree.id, part_pulled(tree, grip, self.from_px(stand, at)))]
        return None

    def _spun(self, stand: Stand, planting: Planting, name: str, at: QPointF) -> list[Change]:
        """The planting tilted or turned by a handle pulled to a point."""
        if name == "tilt":
            value = float(np.clip(round(tilt_at(self.foot_px(stand), at) * 2) / 2, -MOST_TILT_DEG, MOST_TILT_DEG))
        else:
            value = float(round(turn_at(self.trunk_px(stand), at)))
        return [("planting", planting.id, planting.changed(**{f"{name}_deg": value}))]

    def changes(self, subject: Any, key: str, value: float) -> list[Change]:
        if key in ("part_top", "part_bottom") and self.part is not None:
            tree: Tree = subject.tree
            return [("tree", tree.id, depth_pulled(tree, self.part, "top" if key == "part_top" else "bottom", value))]
        if key in ("offset_x_mm", "offset_y_mm") and self.pot_id is not None:
            # in a pot that is only tried the trunk is moved in the line-up
            found = with_offset(self.session.lineup(), self.pot_id, **{key.removeprefix("offset_"): value})
            return [("lineup", found.id, found)]
        return super().changes(subject, key, value)

    # hands ------------------------------------------------------------------------------------------------------

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        stand = self.stand
        if event is None or stand is None or stand.pot is None or event.button() != Qt.MouseButton.LeftButton:
            super().mousePressEvent(event)
            return
        point = event.position()
        self._pull = self._pull_at(stand, point)
        if self._pull is not None:
            self.setFocus()
            return
        at, tree = self.from_px(stand, point), stand.tree
        on_grip = self._grip_at(point) is not None
        if not self.after and np.hypot(*at) <= TRUNK_TIMES * trunk_at_soil_mm(tree):
            self.setFocus()
            self.stroke = [point]
            return
        key = self._root_at(stand, point)
        mass = self.mass()
        part = part_at(mass, at) if mass is not None else None
        if not on_grip and (key or part is not None):
            self.setFocus()
            self.in_hand = None
            if key:
                self.take(key)
            else:
                self.take_part(part)
            return
        super().mousePressEvent(event)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None:
            return
        self.pointer = event.position()
        if self.stroke:
            self.stroke.append(event.position())
            self.update()
        elif self._pull is not None:
            self._pulled(event.position(), final=False)
        else:
            super().mouseMoveEvent(event)
            near = next(
                (n for n, at in self.turning_spots().items() if QLineF(at, self.pointer).length() <= GRAB_PX), ""
            )
            if near and near != self.spin_hover:
                self.pointed.emit(f"Pull it round to {near} the tree; the figures follow")
            if near != self.spin_hover or self.lens:
                self.spin_hover = near
                self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        stand = self.stand
        if self.stroke and stand is not None:
            points, self.stroke = [self.from_px(stand, p) for p in self.stroke], []
            self._write("Root drawn", lambda: stroked_root(stand.tree, points), newest=True)
        elif self._pull is not None and event is not None:
            self._pulled(event.position(), final=True)
            self._pull = None
        else:
            super().mouseReleaseEvent(event)
        self.update()

    def _pulled(self, at: QPointF, *, final: bool) -> None:
        assert self._pull is not None
        label, make = self._pull
        try:
            changes = make(at)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        if final:
            self.session.edit(label, changes)
        else:
            self.session.draft(changes)

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

    def add_part(self, kind: PartKind) -> None:
        """A new pocket or side left alone where the pointer is, or at the back."""
        stand = self.stand
        if stand is None:
            return
        at = np.array(self.from_px(stand, self.pointer)) if self.pointer is not None else np.zeros(2)
        azimuth = azimuth_of(at) if 1 < np.hypot(*at) < 2000 else 180.0
        try:
            tree, part = with_new(stand.tree, kind, azimuth)
        except KeshError as err:
            self.session.said.emit("no", str(err))
            return
        label = "Pocket noted" if kind == "pocket" else "Side of the roots left alone"
        if self.session.edit(label, [("tree", tree.id, tree)]):
            self.take_part(part)

    # keys -------------------------------------------------------------------------------------------------------

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        tree = self.session.tree
        if event is None or tree is None:
            return
        key = event.key()
        size = 10.0 if event.modifiers() & Qt.KeyboardModifier.ControlModifier else 1.0
        keys = [r.id for r in tree.root_map]
        plain: dict[Qt.Key, Callable[[], None]] = {
            Qt.Key.Key_P: partial(self.add_part, "pocket"), Qt.Key.Key_S: partial(self.add_part, "sector"),
            Qt.Key.Key_L: self._flip_lens, Qt.Key.Key_N: self._flip_ring,
        }  # fmt: skip
        if key == Qt.Key.Key_R and keys:
            at = keys.index(self.root_id) if self.root_id in keys else -1
            self.in_hand = None
            self.take(keys[(at + 1) % len(keys)])
        elif Qt.Key(key) in plain and not event.modifiers():
            plain[Qt.Key(key)]()
        elif self.in_hand or not (self._root_key(tree, key, size) or self._part_key(tree, key, size)):
            super().keyPressEvent(event)

    def _root_key(self, tree: Tree, key: int, size: float) -> bool:
        """A key for the root in hand; whether it was one."""
        root = self.root()
        if root is None:
            return False
        if key == Qt.Key.Key_Escape:
            self._nothing_in_hand()
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
            return False
        return True

    def _part_key(self, tree: Tree, key: int, size: float) -> bool:
        """A key for the pocket or side in hand; whether it was one."""
        part = self.part
        if part is None:
            return False
        if key == Qt.Key.Key_Escape:
            self._nothing_in_hand()
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._write("Turned", lambda: part_turned(tree, part, size if key == Qt.Key.Key_Left else -size))
        elif key == Qt.Key.Key_Delete:
            self.take_part(None)
            self._write("Taken off the map", lambda: without_part(tree, part))
        else:
            return False
        return True

    def _nothing_in_hand(self) -> None:
        self._pull, self.stroke = None, []
        self.session.drop_draft()
        self.take("")

    def _flip_lens(self) -> None:
        self.lens = not self.lens
        self.pointed.emit("The lens follows the pointer; L puts it away" if self.lens else "")
        self.update()

    def _flip_ring(self) -> None:
        self.every_deg = 10 if self.every_deg == EIGHTHS else EIGHTHS
        self.pointed.emit(f"Room for fresh mix every {self.every_deg}°")
        self.update()
