"""Photographs come in: from a file, from the clipboard, dropped; read away from the window, then one record of their tree."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice
from PyQt6.QtGui import QGuiApplication

from kesh.base.errors import FieldError, KeshError
from kesh.base.progress import Progress
from kesh.base.writing import reason, shown
from kesh.desk.ids import fresh_id
from kesh.model import TreePhoto
from kesh.photo.error import PhotoError
from kesh.store.collection_file import picture_key
from kesh.ui.rooms.room import Context

PICTURES = "Photographs (*.png *.jpg *.jpeg *.webp *.tif *.tiff)"
ENDINGS = (".png", ".jpg", ".jpeg", ".webp", ".tif", ".tiff", ".heic", ".heif")
CLIPBOARD = "from the clipboard"
Done = Callable[[TreePhoto], None]


def ask_photo(c: Context, view: str, done: Done) -> None:
    """A photograph of the tree in hand from a file that is asked for. Raises FieldError without a tree."""
    _tree_of(c)
    path = c.asker.open_file(c.desk.parent_widget(), "Add a photograph", c.folder, PICTURES)
    if path is not None:
        photo_file(c, path, view, done)


def photo_file(c: Context, path: Path, view: str, done: Done) -> None:
    """A photograph of the tree in hand from a file. Raises FieldError without a tree."""

    def body() -> bytes:
        try:
            return path.read_bytes()
        except (OSError, ValueError) as err:
            raise PhotoError(f"{shown(path)} cannot be read: {reason(err)}") from err

    _read_in(c, shown(path), body, view, done)


def photo_pasted(c: Context, view: str, done: Done) -> None:
    """The picture on the clipboard. Raises FieldError where there is none, or no tree."""
    pasted = copied_picture()
    _read_in(c, CLIPBOARD, lambda: pasted, view, done)


def copied_picture() -> bytes:
    """The picture on the clipboard as a file's body. Raises FieldError where there is none."""
    board = QGuiApplication.clipboard()
    image = board.image() if board is not None else None
    if image is None or image.isNull():
        raise FieldError("photo", "the clipboard holds no picture; copy one, or take it from a file")
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())


def _tree_of(c: Context) -> str:
    if c.session.tree is None:
        raise FieldError("tree", "there is no tree to photograph; add one with Ctrl+N")
    return c.session.tree_id


def _read_in(c: Context, name: str, load: Callable[[], bytes], view: str, done: Done) -> None:
    tree = _tree_of(c)

    def read(progress: Progress) -> tuple[bytes, tuple[float, float] | None]:
        from kesh.photo.foot import find_foot

        body = load()
        made = c.darkroom.develop(picture_key(body), body, name)
        progress.at(0.6)
        if view == "above":
            return body, None
        try:
            x, y = find_foot(made.image)
        except KeshError:
            return body, None
        return body, (round(x * made.factor, 1), round(y * made.factor, 1))

    c.runner.start_long("photo", f"Reading {name}", read, partial(_keep, c, tree, name, view, done))


def _keep(
    c: Context, tree: str, name: str, view: str, done: Done, found: tuple[bytes, tuple[float, float] | None]
) -> None:
    s, (body, soil) = c.session, found
    if tree not in s.collection.trees:
        c.say("watch", f"{name} was not kept: its tree is no longer here")
        return
    sides = s.collection.sides_of(tree)
    key = fresh_id(s.collection.photos, f"{tree}-photo")
    pot = s.collection.pots.get(p.pot) if (p := s.collection.planting_of(tree)) else None
    photo = TreePhoto(
        id=key, tree=tree, picture=s.file.put_picture(body), name="" if name == CLIPBOARD else name, taken=s.today, view=view,
        front=view == "side" and not sides,
        angle_deg=(max((q.angle_deg for q in sides), default=-90.0) + 90.0) % 360,
        known_mm=pot.length_mm if pot else 100.0, how="pot" if pot and view == "side" else "points",
        soil=soil,
    )  # fmt: skip
    if s.edit(f"Photograph {name} added", [("photo", key, photo)]) and tree == s.tree_id:
        done(photo)
