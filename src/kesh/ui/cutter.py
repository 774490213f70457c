"""Cutting a tree out of its photograph: long work that several rooms wait for."""

from PyQt6.QtCore import QObject, pyqtSignal

from kesh.base.errors import FieldError, KeshError
from kesh.model import TreePhoto
from kesh.photo.darkroom import Darkroom
from kesh.ui.runner import Runner
from kesh.ui.session import Session


class Cutter(QObject):
    """Starts a cut-out when it is due, and tells when it is there."""

    done = pyqtSignal()

    def __init__(self, session: Session, runner: Runner, darkroom: Darkroom) -> None:
        super().__init__()
        self._session, self._runner, self._darkroom = session, runner, darkroom

    def cut_when_due(self, photo: TreePhoto | None, *, asked: bool = False) -> None:
        """Cut the tree out when the marks are set and it was not cut for them yet.

        Raises KeshError when it was asked for and cannot be done; otherwise that is said on the status line.
        """
        if photo is None or photo.soil is None or photo.view == "above":
            if asked and photo is not None and photo.view == "above":
                raise FieldError("view", "a tree is cut out of a photograph from the side; this one is from above")
            if asked and photo is None:
                raise FieldError("photo", "there is no photograph of this tree; add one with Ctrl+Shift+F")
            if asked:
                raise FieldError("soil", "mark the middle of the trunk's foot on the soil line first")
            return
        room = self._darkroom
        if room.is_cut(photo) or not (asked or room.is_due(photo)):
            return
        try:
            room.print_of(photo)
        except KeshError as err:
            self._session.said.emit("no", str(err))
            return
        self._runner.start_long(
            "cut",
            "Cutting the tree out",
            lambda progress: room.cut(photo, progress, self._runner.apart),
            lambda _: self._cut(photo),
        )

    def _cut(self, photo: TreePhoto) -> None:
        self.done.emit()
        found = self._darkroom.cut_of(photo)
        if found is not None and found.doubtful:
            self._session.said.emit(
                "watch", f"{found.doubt:.0%} of the tree is in doubt, hatched; beside it stands what settles it"
            )
            return
        self._session.said.emit("fits", "Cut out; where it is wrong, paint with the brush (B)")
