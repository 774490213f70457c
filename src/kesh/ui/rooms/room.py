"""What a room is: one row with its words and makers, a face that shows it, and the few things it gets from the house."""

from collections.abc import Callable
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path
from typing import Any, Literal, Protocol

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtGui import QPainterPath
from PyQt6.QtWidgets import QLineEdit, QWidget

from kesh.advice.assess import Assessment, Finding
from kesh.photo.darkroom import Darkroom
from kesh.store.collection_file import CollectionFile
from kesh.ui.asker import Asker
from kesh.ui.cutter import Cutter
from kesh.ui.hand.view import SheetView
from kesh.ui.paint.gallery import Gallery
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.settings import Settings
from kesh.ui.widgets.finding_list import FindingList
from kesh.ui.widgets.why_panel import Remedy

BY_GRIPS = "G takes a grip   arrows move it   V next view   Z fits the sheet"
PLAIN_KEYS = "F1 key card   Ctrl+K commands   Z fits the sheet"


class Desk(Protocol):
    """What a command may ask of the window as a whole."""

    def next_view(self) -> None: ...
    def walk_findings(self, by: int) -> None: ...
    def find_here(self) -> None: ...
    def open_commands(self) -> None: ...
    def open_keys(self) -> None: ...
    def take_file(self, file: CollectionFile) -> None: ...
    def in_sight(self) -> QWidget: ...
    def in_question(self) -> Assessment | None: ...
    def device(self) -> Any: ...
    def parent_widget(self) -> QWidget: ...
    def close(self) -> bool: ...


@dataclass(frozen=True)
class Context:
    """What every room gets. `go` opens a room, `do` carries out a command; nobody reaches into another room's widgets."""

    session: Session
    settings: Settings
    runner: Runner
    gallery: Gallery
    darkroom: Darkroom
    cutter: Cutter
    asker: Asker
    desk: Desk
    go: Callable[..., None]
    do: Callable[[str], None]

    def say(self, status: str, text: str) -> None:
        """A sentence on the status line."""
        self.session.said.emit(status, text)

    @property
    def folder(self) -> Path:
        """Where files are asked for first: the folder of the settings, else beside the collection."""
        chosen = Path(str(self.settings.get("folder")))
        return chosen if chosen.is_absolute() and chosen.is_dir() else self.session.path.parent


@dataclass(frozen=True)
class Command:
    """What can be done from anywhere, as a row: its words, keys and group; `does` is a function, or a method of the room's face."""

    key: str
    text: str
    shortcut: str
    group: str
    does: str | Callable[[Context], object]
    more: tuple[str, ...] = ()
    # words growers have for what is found there, for the search alone
    also: str = ""


class Face(QObject):
    """A room as it is shown: its sheet, its panel, its views and what they say. Made when it is first gone to."""

    # title, scale or notes have to be read again
    turned = pyqtSignal()
    # what is under the pointer or in hand, for the status line
    pointed = pyqtSignal(str)
    # a finding that stands outside a list of findings is asked why
    asked = pyqtSignal(object)

    search: QLineEdit | None = None
    findings: FindingList | None = None
    sheet: QWidget
    panel: QWidget

    def __init__(self, room: "Room", context: Context) -> None:
        super().__init__()
        self.room, self.context, self.session = room, context, context.session
        self.view = room.views[0][0] if room.views else ""

    def title(self) -> str:
        """The result in a line, over the sheet of a step."""
        return ""

    def drawing(self) -> SheetView | None:
        """The drawing in sight, or None where a list is."""
        return self.sheet if isinstance(self.sheet, SheetView) else None

    def px_mm(self) -> float:
        """The scale that the status line shows; 0 where there is none."""
        drawing = self.drawing()
        return drawing.px_mm if drawing is not None else 0.0

    def views(self) -> tuple[tuple[str, str], ...]:
        """The views there are to choose from."""
        return self.room.views

    def keys(self) -> str:
        """What the keys do here, for the status line."""
        return PLAIN_KEYS

    def assessment(self) -> Assessment | None:
        """What the findings in sight speak of."""
        return self.session.assessment()

    def finding(self, code: str, text: str = "") -> Finding | None:
        """A finding in sight by its code; of many with one code that with this text before the first."""
        lists = [found for found in self.panel.findChildren(FindingList) if found.isVisibleTo(self.panel)]
        shown = [f for found in lists for f in found.findings if f.code == code]
        a = self.assessment()
        shown += [f for f in (a.findings if a is not None else ()) if f.code == code]
        return next((f for f in shown if f.text == text), shown[0] if shown else None)

    def remedy(self, finding: Finding) -> Remedy | None:
        """What can be done about a finding from here: its words and the deed."""
        return None

    def worst(self) -> tuple[str, int]:
        """(gravest status, how many findings do not fit) of what is in sight, for the handle of the folded panel."""
        a = self.assessment() if self.session.tree is not None else None
        return (a.verdict, sum(1 for f in a.findings if f.status != "fits")) if a is not None else ("unknown", 0)

    def show_view(self, key: str) -> None:
        """Another view of the room."""
        self.view = key
        self.turned.emit()

    def refresh(self) -> None:
        """Follow the session."""

    def drafted(self) -> None:
        """While something is dragged only what follows the hand is drawn again."""
        self.refresh()

    def refit(self) -> None:
        """Theme, units or text size changed."""

    def entered(self) -> None:
        """The room is in sight now."""

    def arrive(self, **what: Any) -> None:
        """Somebody came with something in hand."""

    def tree_changed(self) -> None:
        """Another tree is in hand."""

    def file_changed(self) -> None:
        """Another collection is open: whatever was kept of the one before goes."""


@dataclass(frozen=True)
class Room:
    """One row of the house. `load` names the face as module:class; `note` is a step's latest result and whether it is done."""

    key: str
    kind: Literal["step", "place"]
    words: str
    tip: str
    load: str
    views: tuple[tuple[str, str], ...] = ()
    sign: Callable[[QPainterPath, float, float], None] | None = None
    note: Callable[[Session], tuple[str, bool]] | None = None
    # a step that is not for every tree: whether it is for the one in hand
    shown: Callable[[Session], bool] | None = None
    commands: tuple[Command, ...] = ()
    also: str = ""
    sheet_keys: tuple[tuple[str, str], ...] = ()

    def preload(self) -> None:
        """Read the room's code before anybody goes there."""
        import_module(self.load.split(":")[0])

    def face(self, context: Context) -> Face:
        """The room's face, imported now and not before."""
        module, name = self.load.split(":")
        made: Face = getattr(import_module(module), name)(self, context)
        return made
