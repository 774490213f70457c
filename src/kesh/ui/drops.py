"""Files dropped on the window: a collection opens, a list or a bundle comes in, a photograph goes to the tree in hand, anything else is told what could."""

from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QEvent, QMimeData, QObject, QTimer
from PyQt6.QtGui import QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import QWidget

from kesh.base.errors import FieldError
from kesh.base.writing import shown
from kesh.ui.commands.files import bring_in, file_for
from kesh.ui.photos_in import ENDINGS, photo_file
from kesh.ui.rooms.room import Context

BROUGHT = (".json", ".csv", ".txt", ".tsv")


def local_files(data: QMimeData | None) -> list[Path]:
    """The files of this computer that are dragged."""
    urls = data.urls() if data is not None else []
    return [Path(url.toLocalFile()) for url in urls if url.isLocalFile()]


def take_dropped(c: Context, files: list[Path]) -> None:
    """A dropped file. Raises KeshError for several at once, and for one that nothing can be made of."""
    if len(files) > 1:
        raise FieldError("file", f"{len(files)} files at once; drop them one by one, each is looked over by itself")
    path, kind = files[0], files[0].suffix.lower()
    if kind == ".kesh":
        c.desk.take_file(file_for(path))
    elif kind in BROUGHT:
        bring_in(c, path)
    elif kind in ENDINGS:
        photo_file(c, path, "side", lambda photo: c.go("tree", view="photo", photo=photo.id))
    else:
        raise FieldError(
            "file", f"{shown(path)} is no collection (.kesh), no bundle (.json), no list (.csv) and no photograph"
        )


class Drops(QObject):
    """Listens on a window; `do` carries a piece of work out and tells its mistakes."""

    def __init__(self, window: QWidget, context: Context, do: Callable[[Callable[[], None]], None]) -> None:
        super().__init__(window)
        self._context, self._do = context, do
        window.setAcceptDrops(True)
        window.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Files are welcome; the drop is answered first, the work begins after."""
        if isinstance(event, QDropEvent) and event.type() in (
            QEvent.Type.DragEnter,
            QEvent.Type.DragMove,
            QEvent.Type.Drop,
        ):
            files = local_files(event.mimeData())
            if not files:
                return False
            event.acceptProposedAction()
            if event.type() == QEvent.Type.Drop and not isinstance(event, QDragEnterEvent):
                QTimer.singleShot(0, lambda: self._do(lambda: take_dropped(self._context, files)))
            return True
        return super().eventFilter(watched, event)
