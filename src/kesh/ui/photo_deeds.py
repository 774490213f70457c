"""Commands that belong to photographs: adding one, cutting the tree out."""

from pathlib import Path
from typing import TYPE_CHECKING

from kesh.errors import FieldError, KeshError
from kesh.model import TreePhoto
from kesh.photo.read import PhotoError
from kesh.progress import Progress
from kesh.store.collection_file import picture_key
from kesh.ui.asker import Asker
from kesh.ui.widgets.frame import Step

if TYPE_CHECKING:
    from kesh.ui.window import MainWindow

PICTURES = "Photographs (*.png *.jpg *.jpeg *.webp *.tif *.tiff)"


def fresh_id(taken: object, stem: str) -> str:
    """A new id that is not taken yet."""
    keys = set(taken)  # type: ignore[call-overload]
    number = len(keys) + 1
    while f"{stem}-{number}" in keys:
        number += 1
    return f"{stem}-{number}"


class PhotoDeeds:
    """Carries out what is asked of photographs in one window."""

    def __init__(self, window: "MainWindow", asker: Asker) -> None:
        self._w, self._ask = window, asker

    def add(self) -> None:
        """A photograph of the tree in hand: read, its trunk's foot looked for, kept in the collection, cut out."""
        w = self._w
        s = w.session
        if s.tree is None:
            raise FieldError("tree", "there is no tree to photograph; add one with Ctrl+N")
        path = self._ask.open_file(w, "Add a photograph", s.path.parent, PICTURES)
        if path is None:
            return
        from kesh.photo.foot import find_foot

        def read(progress: Progress) -> tuple[bytes, tuple[float, float] | None]:
            try:
                body = path.read_bytes()
            except OSError as err:
                raise PhotoError(f"{path.name} cannot be read: {err.strerror or err}") from err
            made = w.darkroom.develop(picture_key(body), body, path.name)
            progress.at(0.6)
            try:
                x, y = find_foot(made.image)
            except KeshError:
                return body, None
            return body, (round(x * made.factor, 1), round(y * made.factor, 1))

        tree = s.tree_id
        w.runner.start_long("photo", f"Reading {path.name}", read, lambda found: self._take(tree, path, *found))

    def _take(self, tree: str, path: Path, body: bytes, soil: tuple[float, float] | None) -> None:
        w, s = self._w, self._w.session
        photos = s.collection.photos_of(tree)
        key = fresh_id(s.collection.photos, f"{tree}-photo")
        pot = s.collection.pots.get(p.pot) if (p := s.collection.planting_of(tree)) else None
        photo = TreePhoto(
            id=key, tree=tree, picture=s.file.put_picture(body), name=path.name, taken=s.today, front=not photos,
            angle_deg=(max((q.angle_deg for q in photos), default=-90.0) + 90.0) % 360,
            known_mm=pot.length_mm if pot else 100.0, how="pot" if pot else "points",
            soil=soil,
        )  # fmt: skip
        if not s.edit(f"Photograph {path.name} added", [("photo", key, photo)]):
            return
        w.show_step(Step.TREE)
        w.sheet.show_view("photo")
        w.show_photo(key)
        if soil is None:
            s.said.emit("watch", "Drag the soil mark onto the middle of the trunk's foot, then cut the tree out")

    def stand_in_pots(self, on: bool) -> None:
        """Show the real tree in the pots of the line-up, cut out first where it was not yet."""
        w = self._w
        w.sheet.lineup.from_photo = on
        w.sheet.lineup.update()
        if on:
            w.sheet.photo.choose("")
            self.cut_when_due()

    def colours_seen(self) -> dict[str, str]:
        """Bark and leaf off the front photograph, where it is cut out already; marked places of any photograph win."""
        w = self._w
        photos = w.session.collection.photos_of(w.session.tree_id)
        try:
            found = w.darkroom.figures(photos[0]) if photos and w.darkroom.is_cut(photos[0]) else None
        except KeshError:
            # marks that cannot be are told of beside the photograph
            found = None
        tones = {} if found is None else {"bark": found.bark, "leaf": found.leaf}
        seen = {part: tone[0].colour for part, tone in tones.items() if tone}
        for photo in reversed(photos):
            try:
                seen |= {part: tone.colour for part, tone in w.darkroom.spots(photo).items()}
            except KeshError:
                # a picture that cannot be read is told of where it is shown
                continue
        return seen

    def cut_when_due(self, *, asked: bool = False) -> None:
        """Cut the tree out of the photograph in hand when its marks are set and it was not cut for them yet.

        Raises KeshError when it was asked for and cannot be done; otherwise that is said on the status line.
        """
        w = self._w
        photo = w.sheet.photo.photo
        if photo is None or photo.soil is None:
            if asked and photo is None:
                raise FieldError("photo", "there is no photograph of this tree; add one with Ctrl+Shift+F")
            if asked:
                raise FieldError("soil", "mark the middle of the trunk's foot on the soil line first")
            return
        if w.darkroom.is_cut(photo) or not (asked or w.darkroom.is_due(photo)):
            return
        try:
            w.darkroom.print_of(photo)
        except KeshError as err:
            w.session.said.emit("no", str(err))
            return
        w.runner.start_long(
            "cut", "Cutting the tree out", lambda progress: w.darkroom.cut(photo, progress), lambda _: self._cut_done()
        )

    def _cut_done(self) -> None:
        w = self._w
        w.panel.photo.refresh()
        w.sheet.photo.refit()
        w.sheet.photo.update()
        w.sheet.lineup.update()
        w.sheet.refresh_title()
        w.session.said.emit("fits", "Cut out; where it is wrong, paint with the brush (B)")
