"""A pot from its photograph, without a window: the frame, the scale, the outline, and the record they make."""

from dataclasses import dataclass, replace
from datetime import date

import numpy as np

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.first import EQUAL_SIDES, OUTLINES
from kesh.geometry.usual import NOTE, usual_body
from kesh.model import Outline, Pot, Profile
from kesh.photo.classes import Image
from kesh.photo.pot_shot import SCALES, Figure, PotMeasured, PotSeen, pot_frame, pot_measured, pot_seen

# how deep from front to back a pot of an outline usually is, as a share of its length, and how far that may be off [J]
USUAL_DEPTH: dict[str, tuple[float, float]] = {
    "rectangle": (0.74, 0.10),
    "oval": (0.76, 0.09),
    "hexagon": (0.87, 0.05),
    "lobed": (0.78, 0.10),
}
FRAME_SHARE, LEAST_LINE_PX, MOST_FEET_DOUBT_MM = 0.08, 12.0, 3.5
# a height that is less sure than this share of it is no height [J]
MOST_DOUBT = 0.2
Spot = tuple[float, float]


def _taped(mm: float) -> Figure:
    """A length that was typed: as sure as a tape is, and never surer than a millimetre."""
    return Figure(mm, max(1.0, mm * SCALES["width"][2]))


@dataclass(frozen=True)
class PotPhoto:
    """What was said of a photograph so far: where the pot is, what is known in it, from which outline it is."""

    image: Image
    name: str = ""
    frame: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)
    known: str = "width"
    known_mm: float | None = None
    line: tuple[Spot, Spot] = ((0.0, 0.0), (0.0, 0.0))
    outline: str = "oval"
    width_mm: float | None = None
    height_mm: float | None = None
    seen: PotSeen | None = None
    fault: str = ""

    @staticmethod
    def of(image: Image) -> "PotPhoto":
        """A photograph that was just opened: a frame round what stands out of it, where something does."""
        high, wide = image.shape[:2]
        line = ((0.3 * wide, 0.93 * high), (0.7 * wide, 0.93 * high))
        found = pot_frame(image)
        if found is not None:
            return PotPhoto(image, frame=found, line=line).looked()
        frame = (FRAME_SHARE * wide, FRAME_SHARE * high, (1 - FRAME_SHARE) * wide, (1 - FRAME_SHARE) * high)
        return PotPhoto(
            image, frame=frame, line=line, fault="Nothing stands out by itself: drag a frame round the pot."
        )

    def looked(self) -> "PotPhoto":
        """The pot looked for inside the frame; a fault says why none was found."""
        from kesh.photo.error import PhotoError

        try:
            return replace(self, seen=pot_seen(self.image, self.frame), fault="")
        except PhotoError as err:
            return replace(self, seen=None, fault=str(err))

    def framed(self, one: Spot, other: Spot) -> "PotPhoto":
        """Another frame, and the pot in it."""
        return replace(self, frame=(min(one[0], other[0]), min(one[1], other[1]), max(one[0], other[0]), max(one[1], other[1]))).looked()  # fmt: skip

    def told_by(self, known: str) -> "PotPhoto":
        """Another thing of known size; its usual length stands until it is typed, but the pot's own width has none."""
        return replace(self, known=known, known_mm=None if known in ("width", "line") else SCALES[known][1])

    @property
    def scale(self) -> tuple[float, float] | None:
        """(px of a millimetre, its error as a share); None until something of known size is there."""
        if self.known_mm is None or self.known_mm <= 0:
            return None
        own = SCALES[self.known][2]
        if self.known == "width":
            if self.seen is None:
                return None
            rim = self.seen.rim
            # where the rim ends in the picture is not surer than it was found
            return rim.value / self.known_mm, float(np.hypot(own, rim.doubt / rim.value))
        px = float(np.hypot(self.line[1][0] - self.line[0][0], self.line[1][1] - self.line[0][1]))
        if px < LEAST_LINE_PX:
            return None
        return px / self.known_mm, float(np.hypot(own, 2.0 / px))

    @property
    def measured(self) -> PotMeasured | None:
        """The figures in mm; None until pot and scale are there. The own width has the error of the tape alone."""
        if self.seen is None or self.scale is None:
            return None
        found = pot_measured(self.seen, *self.scale)
        if self.known == "width" and self.known_mm is not None:
            found = replace(found, length=_taped(self.known_mm))
        return found

    @property
    def height(self) -> Figure | None:
        """With feet: typed, or measured; None where a line across it leaves open how high it is."""
        found = self.measured
        if self.height_mm is not None:
            return _taped(self.height_mm)
        return None if found is None or found.height.doubt > MOST_DOUBT * found.height.value else found.height

    @property
    def depth(self) -> Figure | None:
        """From front to back: typed, or by the outline; that of a square or a round pot is its length."""
        found = self.measured
        if found is None:
            return None
        if self.width_mm is not None:
            return _taped(self.width_mm)
        if self.outline in EQUAL_SIDES:
            return found.length
        share, off = USUAL_DEPTH[self.outline]
        return Figure(share * found.length.value, float(np.hypot(off * found.length.value, share * found.length.doubt)))

    @property
    def feet_seen(self) -> bool:
        """Whether the picture tells feet from the ground: its cuts agree to a few millimetres."""
        found = self.measured
        return found is not None and found.feet.doubt <= max(MOST_FEET_DOUBT_MM, 0.5 * found.feet.value)

    def rows(self, u: Units) -> list[tuple[str, str]]:
        """Each figure in words with its plus and minus."""
        found, depth = self.measured, self.depth
        if found is None or depth is None:
            return []

        def told(one: Figure) -> str:
            return f"{u.figure(one.value)} ± {u.mm(max(one.doubt, 0.5))}"

        wall = {"bowed": "bowed", "lip": "with a lip", "straight": "straight"}[found.profile]
        taper = f"{told(found.inset)} narrower at the foot, each side" if found.inset.value >= 1 else "upright"
        feet = told(found.feet) if found.feet.value >= 1 else "none seen"
        if not self.feet_seen:
            feet = "not told from the ground: usual ones are taken"
        deep = told(depth) + (
            "" if self.width_mm is not None or self.outline in EQUAL_SIDES else ", usual for the outline"
        )
        return [
            ("Length at the rim", told(found.length)), ("Front to back", deep), ("Height with feet", told(self.height) if self.height is not None else self._between(found, u)),
            ("Wall", f"{wall}, {taper}"), ("Feet", feet), ("Colour", found.colour),
        ]  # fmt: skip

    @staticmethod
    def _between(found: PotMeasured, u: Units) -> str:
        low, high = (found.height.value + sign * found.height.doubt for sign in (-1, 1))
        return (
            f"not told, {u.band(max(low, 0.0), high)}: a line crosses it {u.mm(found.opening_mm)} down, its rim seen from above or a lip. "
            "Photograph it level, or type it"
        )

    def pot(self, key: str, today: date, u: Units) -> Pot:
        """The pot; what a photograph cannot tell stays unknown or usual, and its notes say so. Raises FieldError."""
        found, depth = self.measured, self.depth
        if found is None or depth is None:
            raise FieldError(
                "photograph", self.fault or "type what is known in it: the pot's width, or mark a card or coin"
            )
        if self.height is None:
            raise FieldError(
                "height", "how high it is the picture leaves open; photograph it level with its rim, or type its height"
            )
        length, width, height = round(found.length.value), round(depth.value), round(self.height.value)
        outline = next((o for k, _, o in OUTLINES if k == self.outline), Outline())
        usual = usual_body(length, width, height)
        feet = usual.feet_mm if not self.feet_seen else round(found.feet.value, 1) if found.feet.value >= 1 else 0.0
        inset = round(min(found.inset.value, 0.3 * min(length, width)), 1)
        profile = Profile(
            kind="bowed" if found.profile == "bowed" else "straight",
            base_inset_mm=inset,
            belly_mm=found.bulge_mm if found.profile == "bowed" else 0.0,
        )
        lip = " A lip was seen; it is not drawn yet." if found.profile == "lip" else ""
        said = "; ".join(f"{words.lower()} {told}" for words, told in self.rows(u)[:3])
        base = Pot(id=key, name=key, length_mm=300, width_mm=300, height_mm=100, holes_known=False)
        return base.changed(
            name=self.name.strip() or f"Pot of {today:%-d %b %Y}", outline=outline.changed(corner_mm=min(outline.corner_mm, min(length, width) / 2)),
            length_mm=length, width_mm=length if self.outline in EQUAL_SIDES else width, height_mm=height, wall_mm=usual.wall_mm, floor_mm=usual.floor_mm,
            feet_mm=min(feet, 0.4 * height), profile=profile, colour=found.colour,
            notes=f"From a photograph of {today:%-d %b %Y}: {said}.{lip} Wall and floor are {NOTE}.",
        )  # fmt: skip
