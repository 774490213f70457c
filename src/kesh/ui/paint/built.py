"""The parts of what is made as a picture that turns: boards, staves, pipe, or pieces of a print that are taken apart by hand."""

from dataclasses import dataclass, field
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QImage, QPainter

from kesh.advice.routes.job import Job
from kesh.figure.eye import view_matrix
from kesh.figure.zbuffer import Body, Floats, Picture, picture
from kesh.geometry.pieces.joints import sum_odd
from kesh.ui.paint.marks import words
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import Theme

if TYPE_CHECKING:
    from trimesh import Trimesh

# two tints of a piece's colour: those set down first, and those that come down between them
FIRST, SECOND = 1.0, 0.80
APART_SHARE, LIFT_SHARE = 0.16, 0.42
SNAP_MM = 5.0


def _rgb(colour: str, times: float = 1.0) -> Floats:
    return np.array([int(colour[i : i + 2], 16) for i in (1, 3, 5)], float) * times


def body_of(solid: "Trimesh", rgb: Floats) -> Body:
    """A mesh as triangles with normals."""
    return Body(np.asarray(solid.triangles, np.float64), np.asarray(solid.face_normals, np.float64), rgb)


@dataclass(eq=False)
class Built:
    """Bodies with their names, how far each was moved, and what was painted last."""

    bodies: list[Body]
    names: list[str]
    loose: bool
    shifts: list[Floats] = field(default_factory=list)
    homes: list[Floats] = field(default_factory=list)
    last: Picture | None = None
    middle: tuple[float, float] = (0.0, 0.0)
    scale: float = 1.0

    def __post_init__(self) -> None:
        self.shifts = [np.zeros(3) for _ in self.bodies]
        corners = np.array([[b.triangles.min(axis=(0, 1)), b.triangles.max(axis=(0, 1))] for b in self.bodies])
        self.low, self.high = corners[:, 0].min(axis=0), corners[:, 1].max(axis=0)
        self.centres = corners.mean(axis=1)
        if not self.homes:
            self.homes = [np.zeros(3) for _ in self.bodies]

    @property
    def apart(self) -> bool:
        """Whether any part stands off its place."""
        return any(np.abs(s).max() > 0.01 for s in self.shifts)

    def toggle(self) -> None:
        """All apart, or all together again."""
        self.shifts = [np.zeros(3) for _ in self.shifts] if self.apart else [h.copy() for h in self.homes]

    def at(self, spot: QPointF) -> int | None:
        """The part under a place of the view."""
        if self.last is None:
            return None
        high, wide = self.last.body.shape
        x, y = int(spot.x()), int(spot.y())
        found = int(self.last.body[y, x]) if 0 <= x < wide and 0 <= y < high else -1
        return found if found >= 0 else None

    def drag(self, number: int, start: Floats, dx: float, dy: float, yaw: float) -> None:
        """A part follows the hand: sideways along the view, up out of its place; near its place it goes in again."""
        a = np.radians(yaw)
        right = np.array([np.cos(a), -np.sin(a), 0.0])
        moved = start + right * dx / self.scale + np.array([0.0, 0.0, -dy / self.scale])
        moved[2] = max(float(moved[2]), 0.0)
        self.shifts[number] = np.zeros(3) if np.linalg.norm(moved) < SNAP_MM else moved

    def image(self, t: Theme, wide: float, high: float, view_deg: tuple[float, float]) -> QImage:
        """All parts as a picture of its own, for paper."""
        image = QImage(round(wide), round(high), QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(0)
        painter = QPainter(image)
        self.paint(
            painter, t, QRectF(0, 20, wide, high - 60), *view_deg, 1.0, hurry=False, letter_px=max(19, round(high / 22))
        )
        painter.end()
        return image

    def paint(
        self,
        painter: QPainter,
        t: Theme,
        room: QRectF,
        yaw: float,
        pitch: float,
        fine: float,
        *,
        hurry: bool,
        letter_px: int = 19,
    ) -> None:
        """All parts fitted into a box of the view, each with its name where that is a number."""
        view = view_matrix(yaw, pitch)
        box = np.array(
            [
                [x, y, z]
                for x in (self.low[0], self.high[0])
                for y in (self.low[1], self.high[1])
                for z in (self.low[2], self.high[2])
            ]
        )
        if self.loose:
            # room to take parts apart, always the same, so that nothing jumps
            box = np.concatenate([box + h for h in self.homes])
        seen = box @ view.T
        wide, tall = float(np.ptp(seen[:, 0])), float(np.ptp(seen[:, 2]))
        self.scale = max(0.02, min(room.width() / max(wide, 1.0), room.height() / max(tall, 1.0)))
        x0, z1 = float(seen[:, 0].min()), float(seen[:, 2].max())
        self.middle = (
            room.left() + (room.width() - wide * self.scale) / 2 - x0 * self.scale,
            room.top() + (room.height() - tall * self.scale) / 2 + z1 * self.scale,
        )
        w, h = round(room.right() + room.left()), round(room.bottom() + 40)
        ratio = 1.0 if hurry else fine
        self.last = picture(
            self.bodies, self.shifts, view, self.scale * ratio, (self.middle[0] * ratio, self.middle[1] * ratio), round(w * ratio), round(h * ratio),
            1 if hurry else 2, 0.86 if t.is_dark else 1.0,
        )  # fmt: skip
        high, across = self.last.rgba.shape[:2]
        image = QImage(self.last.rgba.tobytes(), across, high, 4 * across, QImage.Format.Format_RGBA8888_Premultiplied)
        image.setDevicePixelRatio(ratio)
        painter.drawImage(QPointF(0, 0), image)
        if ratio != 1.0:
            step = round(ratio)
            self.last = Picture(self.last.rgba, self.last.body[::step, ::step])
        for name, centre, shift in zip(self.names, self.centres, self.shifts, strict=True):
            if name.isdigit():
                spot = view @ (
                    np.array([centre[0], centre[1], self.high[2] if self.loose else centre[2]]) * [1, 1, 0.5] + shift
                )
                at = QPointF(self.middle[0] + spot[0] * self.scale, self.middle[1] - spot[2] * self.scale)
                words(
                    painter,
                    t,
                    name,
                    at.x(),
                    at.y() + letter_px / 3,
                    font=fonts.book(letter_px, bold=True),
                    align="center",
                    ground="sheet",
                )


def built_of(job: Job | None) -> Built | None:
    """What a job makes as bodies; None for a potter's or a drill's job, or for one that is not there."""
    if job is None:
        return None
    if job.assembly is not None and len(job.assembly) > 1:
        made = job.assembly
        low, high = made.whole.bounds
        middle, size = (low + high) / 2, high - low
        bodies, names, homes = [], [], []
        for piece in made.pieces:
            odd = sum_odd(piece.cell)
            bodies.append(body_of(piece.solid, _rgb(job.pot.colour, SECOND if odd else FIRST)))
            names.append(str(piece.number))
            out = (piece.solid.bounds.mean(axis=0) - middle) * [2 * APART_SHARE, 2 * APART_SHARE, 0.0]
            homes.append(out + np.array([0.0, 0.0, LIFT_SHARE * size[2] * (piece.tier * 2 + odd)]))
        made_apart = Built(bodies, names, True, homes=homes)
        # a piece in its place shows nothing of how it holds
        made_apart.toggle()
        return made_apart
    if job.assembly is not None:
        # printed whole: the thinner wall of a plastic, not the clay's
        return Built([body_of(job.assembly.whole, _rgb(job.pot.colour))], ["whole"], False)
    if not job.built:
        return None
    return Built([body_of(p.solid, _rgb(p.colour)) for p in job.built], [p.name for p in job.built], False)
