"""Photographs in hand: read once, cut out once for their marks, mended by strokes, measured. What the window asks."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from kesh.base.errors import FieldError, KeshError
from kesh.base.progress import Progress
from kesh.model.photo import TreePhoto
from kesh.photo.classes import BACKGROUND, FOLIAGE, WOOD, Image, Mask
from kesh.photo.kept import Kept

if TYPE_CHECKING:
    # the arithmetic of pictures is loaded with the first picture: a window without one opens sooner
    from kesh.photo.above import Underlay
    from kesh.photo.cutout import CutOut
    from kesh.photo.lens import Bow
    from kesh.photo.measure import PhotoMeasures
    from kesh.photo.places import Place
    from kesh.photo.scale import Scale
    from kesh.photo.tones import Tone
    from kesh.photo.tree_cut import TreeCut

# somebody who does a work elsewhere
Doer = Callable[[Callable[..., "TreeCut"], Progress | None], "TreeCut"]

KEEP = 12
# a colour is read within this share of the picture's longer side about its mark
SPOT_SHARE = 0.008
KIND = {"ground": BACKGROUND, "leaf": FOLIAGE, "wood": WOOD}


@dataclass(frozen=True)
class Print:
    """A picture at working size (BGR), px of the original for one of its own, and what was done when it was read."""

    image: Image
    factor: float
    size: tuple[int, int]
    notes: tuple[str, ...]


class Darkroom:
    """Keeps the last few prints, cut-outs and figures. Cutting out is long work; the rest is quick."""

    def __init__(self, fetch: Callable[[str], bytes]) -> None:
        self._fetch = fetch
        self._prints: Kept[tuple[str, float], Print] = Kept(KEEP)
        self._places: Kept[tuple[object, ...], tuple[Place, ...]] = Kept(KEEP)
        self._bows: Kept[tuple[object, ...], Bow | None] = Kept(KEEP)
        self._cut: Kept[tuple[object, ...], TreeCut] = Kept(KEEP)
        self._mended: Kept[tuple[object, ...], TreeCut] = Kept(KEEP)
        self._figures: Kept[tuple[object, ...], PhotoMeasures] = Kept(KEEP)
        self._failed: set[tuple[object, ...]] = set()
        self._lifted: Kept[tuple[object, ...], CutOut] = Kept(KEEP)
        self._laid: Kept[tuple[object, ...], Underlay] = Kept(KEEP)

    def print_of(self, photo: TreePhoto) -> Print:
        """The picture at working size, without its bow. Raises KeshError when it is missing or no picture."""
        from kesh.photo.lens import straightened

        made = self._prints.get((photo.picture, photo.bow))
        if made is not None:
            return made
        if photo.bow:
            taken = self.print_of(photo.changed(bow=0.0))
            made = replace(taken, image=straightened(taken.image, photo.bow))
            return self._prints.keep((photo.picture, photo.bow), made)
        return self.develop(photo.picture, self._fetch(photo.picture), photo.name or "the picture")

    def is_read(self, photo: TreePhoto) -> bool:
        """Whether the picture is at hand."""
        return (photo.picture, photo.bow) in self._prints

    def read(self, photos: Sequence[TreePhoto]) -> frozenset[str]:
        """Read some pictures; the keys of those that cannot be read, which is told where they are shown."""
        failed = set()
        for photo in photos:
            try:
                self.print_of(photo)
            except KeshError:
                failed.add(photo.picture)
        return frozenset(failed)

    def bow_of(self, photo: TreePhoto) -> Bow | None:
        """The bow of the picture as it was taken, by the card's edges; None without a card, or one too small.

        Raises KeshError when the picture is missing or no picture.
        """
        from kesh.photo.lens import bent, bow_by_card

        if photo.how != "card" or photo.card is None:
            return None
        key = (photo.picture, photo.card, photo.bow)
        if key not in self._bows:
            p = self.print_of(photo.changed(bow=0.0))
            high, wide = p.image.shape[:2]
            corners = bent(np.array(photo.card, float) / p.factor, photo.bow, (wide, high))
            self._bows.keep(key, bow_by_card(p.image, corners))
        return self._bows.get(key)

    def develop(self, picture: str, body: bytes, name: str) -> Print:
        """Read a picture's file and keep it at working size under its key. Raises PhotoError."""
        from kesh.photo.read import decode_photo
        from kesh.photo.session import at_working_size

        read = decode_photo(body, name)
        wide, high = read.size
        image, scale = at_working_size(read.image)
        return self._prints.keep((picture, 0.0), Print(image, 1 / scale, (wide, high), read.notes))

    def is_cut(self, photo: TreePhoto) -> bool:
        """Whether the automatic cut-out for these marks is ready."""
        return _marks(photo) in self._cut

    def is_due(self, photo: TreePhoto) -> bool:
        """Whether a cut-out is wanted: marked, not cut yet, and not tried in vain with these marks."""
        key = _marks(photo)
        marked = photo.view == "side" and photo.soil is not None
        return marked and key not in self._cut and key not in self._failed

    @staticmethod
    def cutter() -> Callable[..., TreeCut]:
        """What cuts a tree out; loaded with the first picture."""
        from kesh.photo.silhouette import cut_tree

        return cut_tree

    def cut(self, photo: TreePhoto, progress: Progress | None = None, by: Doer | None = None) -> None:
        """Make the automatic cut-out. Long work, done by `by` if somebody else is to do it. Raises KeshError."""
        from kesh.photo.view import Hints

        key = _marks(photo)
        if key in self._cut:
            return
        if photo.view == "above":
            raise FieldError("view", "a tree is cut out of a photograph from the side; this one is from above")
        if photo.soil is None:
            raise FieldError("soil", "mark the middle of the trunk's foot on the soil line first")
        p = self.print_of(photo)
        at = (photo.soil[0] / p.factor, photo.soil[1] / p.factor)
        apex = None if photo.apex is None else (photo.apex[0] / p.factor, photo.apex[1] / p.factor)
        try:
            loop = np.array(photo.loop, float) / p.factor if len(photo.loop) > 2 else None
            work = partial(self.cutter(), p.image, Hints(at, apex, _card(photo, p), loop))
            self._cut.keep(key, work(progress) if by is None else by(work, progress))
        except FieldError:
            self._failed.add(key)
            raise

    def cut_of(self, photo: TreePhoto) -> TreeCut | None:
        """The cut-out as a hand has mended it, at working size; None until it was cut."""
        from kesh.photo.by_hand import with_edges, with_strokes
        from kesh.photo.strokes import Stroke

        base = self._cut.get(_marks(photo))
        if base is None:
            return None
        key = (_marks(photo), photo.strokes, photo.trunk)
        ready = self._mended.get(key)
        if ready is not None:
            return ready
        p = self.print_of(photo)
        before = self._mended.get((_marks(photo), photo.strokes[:-1], ())) if photo.strokes else None
        found, left = (before, photo.strokes[-1:]) if before is not None else (base, photo.strokes)
        strokes = [
            Stroke(KIND[one.kind], tuple((x / p.factor, y / p.factor) for x, y in one.points), one.radius / p.factor,
                   one.follow)
            for one in left
        ]  # fmt: skip
        found = self._mended.keep((_marks(photo), photo.strokes, ()), with_strokes(found, strokes, p.image))
        grips = [(str(g.side), (g.at[0] / p.factor, g.at[1] / p.factor)) for g in photo.trunk]
        return self._mended.keep(key, with_edges(found, grips))

    def mask(self, photo: TreePhoto) -> Mask | None:
        """The classes of the cut-out as mended, at working size; None until it was cut."""
        found = self.cut_of(photo)
        return None if found is None else found.mask

    def scale(self, photo: TreePhoto) -> Scale:
        """px at working size to mm. Raises FieldError when no scale is set."""
        from kesh.photo.scale import from_card, from_known

        p = self.print_of(photo)
        soil = photo.soil or (p.size[0] / 2, p.size[1] * 0.8)
        at = (soil[0] / p.factor, soil[1] / p.factor)
        card = _card(photo, p)
        if photo.how == "card":
            if card is None:
                raise FieldError("scale", "mark the card's four corners, in turn from the upper left")
            bow = self.bow_of(photo)
            # a bow that is seen and left in makes every length less sure, one that was taken out by what it is sure to
            less = 0.0 if bow is None else bow.plus_minus if photo.bow else abs(bow.value) if bow.seen else 0.0
            return from_card(card, *photo.card_mm, at).less_sure(less)
        if photo.known is None:
            raise FieldError("scale", "mark two points whose distance is known")
        (x1, y1), (x2, y2) = photo.known
        return from_known(x1 / p.factor, y1 / p.factor, x2 / p.factor, y2 / p.factor, photo.known_mm,
                          "the pot's width" if photo.how == "pot" else "two points")  # fmt: skip

    def figures(self, photo: TreePhoto) -> PhotoMeasures | None:
        """What the photograph measures; None until it was cut. Raises FieldError for marks that cannot be."""
        from kesh.photo.doubt import measured_with_doubt

        cut = self.cut_of(photo)
        if cut is None or photo.soil is None:
            return None
        key = _mended(photo)
        ready = self._figures.get(key)
        if ready is not None:
            return ready
        p = self.print_of(photo)
        soil = (photo.soil[0] / p.factor, photo.soil[1] / p.factor)
        apex = None if photo.apex is None else (photo.apex[0] / p.factor, photo.apex[1] / p.factor)
        return self._figures.keep(key, measured_with_doubt(p.image, cut, self.scale(photo), soil, apex))

    def places(self, photo: TreePhoto) -> tuple[Place, ...]:
        """The places where the cut-out is most in doubt; none until it was cut. Px at working size."""
        from kesh.photo.places import places

        cut, key = self.cut_of(photo), _mended(photo)
        if cut is None or photo.soil is None:
            return ()
        ready = self._places.get(key)
        if ready is not None:
            return ready
        p = self.print_of(photo)
        try:
            scale = self.scale(photo)
        except FieldError:
            scale = None
        soil = (photo.soil[0] / p.factor, photo.soil[1] / p.factor)
        apex = None if photo.apex is None else (photo.apex[0] / p.factor, photo.apex[1] / p.factor)
        return self._places.keep(key, places(p.image, cut, scale, soil, apex))

    def spots(self, photo: TreePhoto) -> dict[str, Tone]:
        """The colour at each place that was marked for one, by part of the tree. Raises KeshError without a picture."""
        if not photo.colours:
            return {}
        from kesh.photo.tones import tone_at

        p = self.print_of(photo)
        found = {}
        for one in photo.colours:
            tone = tone_at(p.image, one.at[0] / p.factor, one.at[1] / p.factor, SPOT_SHARE * max(p.image.shape))
            if tone is not None:
                found[str(one.part)] = tone
        return found

    def colours_of(self, photos: Sequence[TreePhoto]) -> dict[str, str]:
        """Bark and leaf off the front photograph, where it is cut out already; marked places of any photograph win."""
        try:
            found = self.figures(photos[0]) if photos and self.is_cut(photos[0]) else None
        except KeshError:
            # marks that cannot be are told of beside the photograph
            found = None
        tones = {} if found is None else {"bark": found.bark, "leaf": found.leaf}
        seen = {part: tone[0].colour for part, tone in tones.items() if tone}
        for photo in reversed(photos):
            try:
                seen |= {part: tone.colour for part, tone in self.spots(photo).items()}
            except KeshError:
                # a picture that cannot be read is told of where it is shown
                continue
        return seen

    def underlay(self, photo: TreePhoto, marker_deg: float | None) -> Underlay:
        """A photograph from above as it lies under the root plan, its marker at `marker_deg` (0 when not known).

        Raises KeshError, with what is still to be marked.
        """
        from kesh.photo.above import underlay

        if photo.soil is None or photo.marker is None:
            what = "the trunk's middle" if photo.soil is None else "the front marker"
            raise FieldError("above", f"mark {what}; then it lies under the root plan")
        key = (photo.picture, photo.bow, photo.soil, photo.marker, *_scaled(photo), marker_deg)
        ready = self._laid.get(key)
        if ready is not None:
            return ready
        p = self.print_of(photo)
        trunk, marker = ((x / p.factor, y / p.factor) for x, y in (photo.soil, photo.marker))
        return self._laid.keep(key, underlay(p.image, self.scale(photo), trunk, marker, marker_deg or 0.0))

    def forget(self) -> None:
        """Another collection is open: keep nothing of the one before."""
        for kept in (self._prints, self._cut, self._mended, self._figures, self._lifted, self._laid, self._bows,
                     self._places):  # fmt: skip
            kept.clear()
        self._failed.clear()

    def cutout(self, photo: TreePhoto) -> CutOut | None:
        """The tree lifted out, None until it was cut or while no scale is set."""
        from kesh.photo.cutout import lift

        mask = self.mask(photo)
        if mask is None or photo.soil is None or not (mask > 0).any():
            return None
        key = _mended(photo)
        ready = self._lifted.get(key)
        if ready is not None:
            return ready
        p = self.print_of(photo)
        soil = (photo.soil[0] / p.factor, photo.soil[1] / p.factor)
        try:
            scale = self.scale(photo)
        except FieldError:
            return None
        return self._lifted.keep(key, lift(p.image, mask, scale, soil))


def _mended(photo: TreePhoto) -> tuple[object, ...]:
    """What figures hang on: the marks, what a hand has mended, and the scale."""
    return _marks(photo), photo.strokes, photo.trunk, _scaled(photo)


def _scaled(photo: TreePhoto) -> tuple[object, ...]:
    return photo.how, photo.known, photo.known_mm, photo.card, photo.card_mm


def _marks(photo: TreePhoto) -> tuple[object, ...]:
    card = photo.card if photo.how == "card" else None
    return photo.picture, photo.bow, photo.soil, photo.apex, card, photo.loop


def _card(photo: TreePhoto, p: Print) -> np.ndarray | None:
    return None if photo.card is None or photo.how != "card" else np.array(photo.card, float) / p.factor
