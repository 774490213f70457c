"""A window on the demo collection whose background work runs at once and whose questions are answered by the test."""

import functools
import hashlib
import shutil
from collections.abc import Callable, Iterator
from datetime import date
from pathlib import Path

import pytest
from cachetools import LRUCache
from PyQt6.QtCore import QCoreApplication, QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QDialog, QWidget
from pytestqt.qtbot import QtBot

from kesh.advice.design import search
from kesh.base.progress import Progress
from kesh.demo.pictures import create_demo
from kesh.model import Collection
from kesh.photo.classes import Image
from kesh.photo.silhouette import cut_tree
from kesh.photo.tree_cut import TreeCut
from kesh.photo.view import Hints
from kesh.store.collection_file import CollectionFile
from kesh.ui import app
from kesh.ui.asker import Asker
from kesh.ui.paint import gallery
from kesh.ui.rooms.lineup.face import LineupFace
from kesh.ui.runner import Runner
from kesh.ui.settings import Settings
from kesh.ui.theme import fonts
from kesh.ui.widgets import tree_list
from kesh.ui.window import MainWindow
from tests.kept import by_key, kept_cut


class Answers(Asker):
    """Answers with what the test has laid ready."""

    def __init__(self) -> None:
        self.path: Path | None = None
        self.kind = ""
        self.word: str | None = None
        self.yes = True
        self.asked: list[str] = []
        self.dialog: QDialog | None = None

    def open_file(self, parent: QWidget, title: str, folder: Path, kinds: str) -> Path | None:
        return self.path

    def save_as(self, parent: QWidget, title: str, suggested: Path, kinds: str) -> tuple[Path | None, str]:
        return self.path, self.kind

    def folder(self, parent: QWidget, title: str, start: Path) -> Path | None:
        return self.path

    def choose(self, parent: QWidget, title: str, question: str, options: list[str]) -> str | None:
        self.asked.append(question)
        return self.word

    def agree(self, dialog: QDialog) -> bool:
        self.dialog = dialog
        return self.yes


@pytest.fixture(scope="session", autouse=True)
def cut_once() -> Iterator[None]:
    """The same picture with the same marks is cut out once for all windows: the cut-out itself is tested elsewhere."""
    # a cut-out is as large as its picture: the last few are held, the rest stand on the disk
    made: LRUCache[object, TreeCut] = LRUCache(8)

    def cut(image: Image, hints: Hints, progress: Progress | None = None) -> TreeCut:
        card = None if hints.not_tree is None else hints.not_tree.tobytes()
        loop = None if hints.loop is None else hints.loop.tobytes()
        key = (hash(image.tobytes()), hints.soil, hints.apex, card, loop)
        if key not in made:
            made[key] = kept_cut(image, hints, lambda: cut_tree(image, hints, progress))
        return made[key]

    def painted(self: gallery.Gallery, view: gallery.TreeView) -> tuple[QImage, QPointF]:
        work = functools.partial(gallery._packed, view)
        if view not in pictures:
            pictures[view] = by_key("tree", repr(view), lambda: self._elsewhere(work), PAINTERS)
        return gallery._unpacked(pictures[view])

    patch = pytest.MonkeyPatch()
    patch.setattr("kesh.photo.darkroom.Darkroom.cutter", staticmethod(lambda: cut))
    # a tree's picture at one size and theme is painted once for all windows: painting itself is tested elsewhere
    pictures: LRUCache[gallery.TreeView, gallery.Packed] = LRUCache(80)
    patch.setattr(gallery.Gallery, "_painted", painted)
    yield
    patch.undo()


# what is reckoned in another process for minutes of a grower's day; tests of their own look at each
YEARS = ("pots_years", "years_of", "_depths_of", "tried", "sensitivity")
# whatever years and drawn trees hang on
RECKONERS = ("src/kesh/advice", "src/kesh/science", "src/kesh/geometry", "src/kesh/reference", "src/kesh/model")
PAINTERS = ("src/kesh/figure", "src/kesh/ui/paint", "src/kesh/ui/theme", "src/kesh/model")


@pytest.fixture(scope="session", autouse=True)
def years_once() -> Iterator[None]:
    """The same years of the same tree in the same pots are reckoned once for all windows that do all at once."""
    made: dict[str, object] = {}
    whole = Runner.apart

    def apart(
        self: Runner, work: Callable[..., object], progress: Progress | None = None, *, wait: bool = True
    ) -> object:
        name = getattr(getattr(work, "func", None), "__name__", "")
        if name not in YEARS or not self._at_once:
            return whole(self, work, progress, wait=wait)
        # told in words: what is equal is pickled otherwise where two records share a part
        key = hashlib.sha256(repr((name, work)).encode()).hexdigest()
        if key not in made:
            made[key] = by_key("years", key, lambda: whole(self, work, progress, wait=wait), RECKONERS)
        return made[key]

    patch = pytest.MonkeyPatch()
    patch.setattr(Runner, "apart", apart)
    yield
    patch.undo()


@pytest.fixture(scope="session", autouse=True)
def verdicts_once() -> Iterator[None]:
    """The mark beside each tree of the list, of the same records on the same day, is found once for all windows."""
    made: dict[object, str] = {}

    def worst(c: Collection, tree: str, pot: str, today: date) -> str:
        key = (tree, str(tree_list._rests_on(c, c.trees[tree], pot, today)))
        if key not in made:
            made[key] = whole(c, tree, pot, today)
        return made[key]

    whole = tree_list.worst_of
    patch = pytest.MonkeyPatch()
    patch.setattr(tree_list, "worst_of", worst)
    yield
    patch.undo()


@pytest.fixture(scope="session")
def qapp():  # type: ignore[no-untyped-def]
    return app.application(without_display=True)


@pytest.fixture
def answers() -> Answers:
    return Answers()


Opener = Callable[..., MainWindow]


@pytest.fixture(scope="session")
def demo_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The demo collection's file, written once; every window opens a copy of its own."""
    path = tmp_path_factory.mktemp("demo") / "demo.kesh"
    create_demo(path).close()
    return path


@pytest.fixture
def open_window(qtbot: QtBot, tmp_path: Path, answers: Answers, demo_file: Path) -> Iterator[Opener]:
    """Opens a window on a collection."""
    made: list[MainWindow] = []

    def build(collection: Collection | None = None, size: tuple[int, int] = (1280, 800)) -> MainWindow:
        path = tmp_path / f"bench{len(made)}.kesh"
        if collection is None:
            shutil.copyfile(demo_file, path)
        file = (
            CollectionFile.open(path, backup=False) if collection is None else CollectionFile.create(path, collection)
        )
        window = app.build(file, Settings(), at_once=True, asker=answers)
        window.session.today = date(2026, 3, 10)
        qtbot.addWidget(window)
        window.resize(*size)
        window.show()
        made.append(window)
        return window

    yield build
    for window in made:
        window.close()
    made.clear()
    # no event loop runs between two tests: what asked to be deleted later would stay, and be dressed and fitted with every window
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    fonts.set_scale(100)


@pytest.fixture
def no_years(monkeypatch: pytest.MonkeyPatch) -> None:
    """The line-up reckons no years of its pots: what the test looks at does not hang on them."""
    monkeypatch.setattr(LineupFace, "_reckon_years", lambda self: None)


@pytest.fixture
def window(open_window: Opener) -> MainWindow:
    """The demo collection in a window."""
    return open_window()


def press(widget: QWidget, at: QPointF) -> None:
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=at.toPoint())


def drag(widget: QWidget, start: QPointF, by: tuple[float, float], *, steps: int = 4, drop: bool = True) -> None:
    """Press, move in steps, and let go."""
    QTest.mousePress(widget, Qt.MouseButton.LeftButton, pos=start.toPoint())
    for k in range(1, steps + 1):
        QTest.mouseMove(widget, start.toPoint() + QPoint(round(by[0] * k / steps), round(by[1] * k / steps)))
    if drop:
        QTest.mouseRelease(widget, Qt.MouseButton.LeftButton, pos=start.toPoint() + QPoint(round(by[0]), round(by[1])))


@pytest.fixture
def workshop(window: MainWindow, monkeypatch: pytest.MonkeyPatch) -> MainWindow:
    """Ferry tray on the Workshop's table; the solver tries fewer pots."""
    whole = search.solve
    monkeypatch.setattr(
        "kesh.advice.design.search.solve", lambda case, wishes, progress: whole(case, wishes, progress, count=6000)
    )
    window.go("workshop")
    window.face("workshop").desk.list.choose("ferry-tray")
    return window
