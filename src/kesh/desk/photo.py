"""The photo view without a window: which figure belongs to which measure, what differs, and what a mark changes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.desk.front import turned_edits
from kesh.model import BrushStroke, Collection, ColourSpot, Measure, Record, Tree, TreePhoto
from kesh.science.roots.side_room import toward

if TYPE_CHECKING:
    # only spoken of here: the arithmetic of pictures is loaded with the first picture
    from kesh.photo.measure import PhotoMeasures
    from kesh.photo.trunk import Reading

# measure field: (name of the reading, or (trunk, station)), words
FIGURES: dict[str, tuple[str, str, str]] = {
    "height_mm": ("height_mm", "", "Height"),
    "trunk_diameter_mm": ("trunk", "above_flare", "Trunk above flare"),
    "trunk_at_soil_mm": ("trunk", "soil", "Trunk at soil"),
    "trunk_mid_mm": ("trunk", "mid_trunk", "Trunk at middle"),
    "flare_width_mm": ("flare_mm", "", "Root flare"),
    "canopy_left_mm": ("reach_left_mm", "", "Reach left"),
    "canopy_right_mm": ("reach_right_mm", "", "Reach right"),
    "crown_base_mm": ("crown_base_mm", "", "Crown base"),
    "apex_offset_mm": ("apex_offset_mm", "", "Apex off foot"),
    "drop_mm": ("drop_mm", "", "Drop below soil"),
    "canopy_opacity": ("canopy_opacity", "", "Canopy opacity"),
}
TOOLS = {"marks": "Marks", "loop": "Loop", "leaf": "Leaves", "wood": "Wood", "ground": "Background"}
SEEN = {"side": "from the side", "above": "from above"}
HOW = {"points": "two points", "pot": "the pot's width", "card": "a card's corners"}


@dataclass(frozen=True)
class FigureRow:
    """One figure: by the photograph with its plus or minus, by tape, and whether the two agree."""

    field: str
    words: str
    photo: float | None
    plus_minus: float | None
    tape: float | None
    why: str

    @property
    def status(self) -> str:
        """fits when tape and photograph agree within the plus or minus, watch when not, unknown when one is missing."""
        if self.photo is None or self.tape is None:
            return "unknown"
        rounding = 0.005 if self.field == "canopy_opacity" else 0.5
        return "fits" if abs(self.photo - self.tape) <= (self.plus_minus or 0) + rounding else "watch"

    def texts(self, u: Units) -> tuple[str, str, str]:
        """Photograph, tape and difference as written."""

        def write(value: float) -> str:
            return f"{value:.2f}" if self.field == "canopy_opacity" else u.figure(value)

        photo = self.why or "not seen" if self.photo is None else f"{write(self.photo)} ± {write(self.plus_minus or 0)}"
        tape = "……" if self.tape is None else write(self.tape)
        apart = "" if self.photo is None or self.tape is None else f"{write(self.photo - self.tape)}"
        return photo, tape, apart.replace("-", "−") if apart.startswith("-") or not apart else f"+{apart}"


def reading_of(found: PhotoMeasures, field: str) -> Reading | None:
    """The photograph's reading for a field of a measure."""
    name, station, _ = FIGURES[field]
    return found.trunk.get(station) if name == "trunk" else found.figures.get(name)


def rows(found: PhotoMeasures, tape: Measure) -> tuple[FigureRow, ...]:
    """All figures of a photograph beside the measures in force."""
    made = []
    for field, (_, _, words) in FIGURES.items():
        reading = reading_of(found, field)
        held = getattr(tape, field)
        if reading is None and held is None:
            continue
        value = reading.value if reading is not None and isinstance(reading.value, int | float) else None
        made.append(
            FigureRow(
                field, words, value, reading.plus_minus if reading else None, held, reading.why if reading else ""
            )
        )
    return tuple(made)


def taken_over(tree: Tree, found: PhotoMeasures, fields: tuple[str, ...], day: date) -> Tree:
    """The tree with the chosen figures of a photograph as a set of measures of its day; all others are as they were then.

    A set that was measured later stays the one in use. Raises FieldError for a figure the photograph does not show.
    """
    values: dict[str, float] = {}
    for field in fields:
        reading = reading_of(found, field)
        if reading is None or not isinstance(reading.value, int | float):
            raise FieldError(FIGURES[field][2].lower(), "the photograph does not show it; measure it by tape")
        value = float(reading.value)
        values[field] = value if field in ("apex_offset_mm", "crown_base_mm") else max(value, 0.0)
    later_ = [m for m in tree.measures if m.taken is not None and m.taken > day]
    earlier = tuple(m for m in tree.measures if m not in later_)
    # what nothing was known of then has the first figures there are
    now = earlier[-1] if earlier else tree.measures[0]
    fresh = now.with_figures(taken=day, how="photo", **values)
    kept = earlier[:-1] if earlier and now.how == "photo" and now.taken == day else earlier
    return tree.changed(measures=(*kept, fresh, *later_))


def shown_fields(found: PhotoMeasures) -> tuple[str, ...]:
    """Fields that the photograph shows."""
    readings = {field: reading_of(found, field) for field in FIGURES}
    return tuple(f for f, r in readings.items() if r is not None and isinstance(r.value, int | float))


@dataclass(frozen=True)
class Mark:
    """Something in the picture to take in hand: its key, words and place in px of the picture.

    `proposed` marks nobody has set yet: a click on one that lies right takes it as it is.
    """

    key: str
    words: str
    x: float
    y: float
    proposed: bool = False


def marks(photo: TreePhoto, size: tuple[int, int]) -> tuple[Mark, ...]:
    """Every mark, those nobody has set yet where one would look for them first."""
    wide, high = size
    found = []
    if photo.how == "card":
        corners = photo.card or tuple(
            (wide * x, high * y) for x, y in ((0.05, 0.75), (0.2, 0.75), (0.2, 0.85), (0.05, 0.85))
        )
        names = ("upper left", "upper right", "lower right", "lower left")
        found = [Mark(f"card{i}", f"Card, {names[i]}", *corner) for i, corner in enumerate(corners)]
    else:
        ends = photo.known or ((wide * 0.3, high * 0.83), (wide * 0.7, high * 0.83))
        found = [
            Mark(f"known{i}", f"Scale, {side} end", *end)
            for i, (side, end) in enumerate(zip(("left", "right"), ends, strict=True))
        ]
    if photo.view == "above":
        found.append(
            Mark(
                "soil",
                "Middle of the trunk, from above",
                *(photo.soil or (wide * 0.5, high * 0.5)),
                proposed=photo.soil is None,
            )
        )
        return (*found, Mark("marker", "Front marker in the soil", *(photo.marker or (wide * 0.5, high * 0.78))))
    found.append(
        Mark(
            "soil",
            "Foot of the trunk on the soil line",
            *(photo.soil or (wide * 0.5, high * 0.8)),
            proposed=photo.soil is None,
        )
    )
    if photo.apex is not None:
        found.append(Mark("apex", "Apex", *photo.apex))
    found += [Mark(f"colour {one.part}", f"Colour, {one.part}", *one.at) for one in photo.colours]
    return tuple(found)


def moved(photo: TreePhoto, key: str, spot: tuple[float, float], size: tuple[int, int]) -> TreePhoto:
    """The photograph with a mark elsewhere. Raises FieldError."""
    at = (round(min(max(spot[0], 0), size[0]), 1), round(min(max(spot[1], 0), size[1]), 1))
    held = {m.key: (m.x, m.y) for m in marks(photo, size)}
    if key.startswith("card"):
        corners = [held[f"card{i}"] for i in range(4)]
        corners[int(key[4:])] = at
        return photo.changed(card=tuple(corners))
    if key.startswith("known"):
        ends = [held["known0"], held["known1"]]
        ends[int(key[5:])] = at
        return photo.changed(known=tuple(ends))
    if key.startswith("colour "):
        return with_colour(photo, key.removeprefix("colour "), at)
    return photo.changed(**{key: at})


def seen_from(photo: TreePhoto, view: str) -> TreePhoto:
    """The photograph as one from the side or from above; what was marked stays, but from above there is no front."""
    return photo.changed(view=view, front=photo.front and view == "side")


def lies_words(photo: TreePhoto, tree: Tree) -> tuple[str, str]:
    """(status, sentence) on where a photograph from above lies, or what it lacks for it."""
    lacks = [
        words
        for there, words in ((photo.soil, "the middle of the trunk"), (photo.marker, "the front marker in the soil"))
        if there is None
    ]
    if (photo.card if photo.how == "card" else photo.known) is None:
        lacks.insert(0, "the scale")
    if lacks:
        return "watch", f"To lie under the root plan it wants {' and '.join(lacks)}: drag the marks there."
    if tree.marker_deg is None:
        return "fits", "It lies under the root plan, turned so that the marker stands at the front."
    return "fits", f"It lies under the root plan, turned so that the marker stands at {tree.marker_deg:g}°."


def with_colour(photo: TreePhoto, part: str, at: tuple[float, float]) -> TreePhoto:
    """The photograph with a part's colour taken at a place; each part once."""
    spot = ColourSpot(part=part, at=at)
    if any(one.part == part for one in photo.colours):
        return photo.changed(colours=tuple(spot if one.part == part else one for one in photo.colours))
    return photo.changed(colours=(*photo.colours, spot))


def without_colour(photo: TreePhoto, part: str) -> TreePhoto:
    """The photograph without a part's colour."""
    return photo.changed(colours=tuple(one for one in photo.colours if one.part != part))


def stroked(
    photo: TreePhoto, kind: str, points: list[tuple[float, float]], radius: float, *, follow: bool
) -> TreePhoto:
    """The photograph with one more stroke. Raises FieldError for a stroke that is too long to keep."""
    step = max(1, len(points) // 400)
    kept = tuple((round(x, 1), round(y, 1)) for x, y in points[::step])
    stroke = BrushStroke(kind=kind, points=kept, radius=round(radius, 1), follow=follow)
    return photo.changed(strokes=(*photo.strokes, stroke))


def front_edits(collection: Collection, photo: TreePhoto, *, on: bool) -> list[tuple[str, str, Record]]:
    """The edits that make a photograph the front (or no front), every angle counted from it again.

    The marker stays where it stands in the soil; without one it is taken to stand at the front that was. All that
    counts from the front turns with it; figures seen from the old front stay and are to be taken again.
    """
    if not on:
        return [("photo", photo.id, photo.changed(front=False))]
    turned = photo.angle_deg
    edits: list[tuple[str, str, Record]] = []
    for one in collection.photos_of(photo.tree):
        changed = one.changed(front=one.id == photo.id, angle_deg=(one.angle_deg - turned) % 360)
        if changed != one:
            edits.append(("photo", one.id, changed))
    edits += turned_edits(collection, photo.tree, turned)
    return edits


def ring_place(angle_deg: float) -> tuple[float, float]:
    """Where a camera stands on the ring seen from above, front at the foot: (x, y) on the unit circle, y up."""
    x, y = toward(angle_deg)
    return float(x), float(y)
