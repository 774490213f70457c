"""Starting Kesh: fonts, settings, the collection, the window; or one picture without a display."""

import contextlib
import os
import sys
import tempfile
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication

from kesh.advice.assess import Assessment
from kesh.advice.case import case_for, season_planned
from kesh.advice.rank import rank
from kesh.base import paths
from kesh.base.errors import FieldError, KeshError
from kesh.base.units import Units
from kesh.base.words import a_few
from kesh.base.writing import check_file
from kesh.demo.opening import open_demo
from kesh.model import Collection, Pot
from kesh.science.looks.colour import lab_of
from kesh.store.backups import last_good_copy
from kesh.store.collection_file import CollectionFile
from kesh.ui.asker import Asker
from kesh.ui.commands.files import GOOD_COPY_KEYS, file_for, new_collection
from kesh.ui.qt_words import hush
from kesh.ui.rooms import ROOMS, STEPS, known
from kesh.ui.runner import Runner
from kesh.ui.session import Session
from kesh.ui.settings import Settings
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import THEMES
from kesh.ui.window import MainWindow

if TYPE_CHECKING:
    from kesh.advice.planting.plan import PlantingPlan
    from kesh.advice.routes.job import Job

_app: QApplication | None = None


def has_display() -> bool:
    """Whether a window can be shown at all."""
    return sys.platform != "linux" or bool(os.environ.get("DISPLAY") or os.environ.get("WAYLAND_DISPLAY"))


SWITCH_S = 0.0003
PRELOADED_POTS = 400


def application(*, without_display: bool = False) -> QApplication:
    """The one Qt application with Kesh's fonts."""
    if without_display and not os.environ.get("QT_QPA_PLATFORM"):
        os.environ["QT_QPA_PLATFORM"] = "offscreen"
    global _app
    existing = QApplication.instance()
    # before Qt begins: what it says while it looks for a display is not the user's either
    hush()
    app = existing if isinstance(existing, QApplication) else QApplication(["kesh"])
    if app is _app:
        # dressing it again would dress every open window anew
        return app
    _app = app  # PyQt ends the application when nobody holds it
    app.setApplicationName("Kesh")
    app.setStyle("Fusion")
    fonts.load()
    app.setFont(fonts.text(14))
    # the window asks for the interpreter anew at each of a thousand callbacks of Qt: with the usual 5 ms for whoever
    # computes behind it, a change of theme would hold it for a second
    sys.setswitchinterval(SWITCH_S)
    return app


def open_last(settings: Settings) -> CollectionFile:
    """The collection worked in last, or the user's own new one."""
    named = str(settings.get("last_file"))
    own = paths.own_collection()
    others = [own.with_name(f"{own.stem} {n}{own.suffix}") for n in range(2, MOST_OWN)]
    broken: tuple[Path, str] | None = None
    for path in (*([Path(named)] if named else []), own, *others):
        if not path.exists():
            continue
        try:
            return _instead(CollectionFile.open(path), broken)
        except KeshError as err:
            # a file that broke must not keep Kesh shut
            print(f"kesh: {err}", file=sys.stderr)
            broken = broken or (path, str(err))
    own.parent.mkdir(parents=True, exist_ok=True)
    free = next(path for path in (own, *others) if not path.exists())
    return _instead(CollectionFile.create(free, new_collection(free.stem)), broken)


MOST_OWN = 1000


def _instead(file: CollectionFile, broken: tuple[Path, str] | None) -> CollectionFile:
    """A file that is opened in the place of a broken one says so, and knows it: its last good copy can be taken."""
    if broken is not None:
        path, why = broken
        file.instead_of = path
        copy = last_good_copy(path)
        offer = f"; {copy.name} is its last good copy: {GOOD_COPY_KEYS}" if copy is not None else ""
        file.problems.insert(0, f"{why}. This is {file.path.name}{offer}")
    return file


def build(
    file: CollectionFile, settings: Settings, *, at_once: bool = False, asker: Asker | None = None, room: str = STEPS[0].key
) -> MainWindow:  # fmt: skip
    """A window on a collection, with one room open."""
    session = Session(file)
    session.units = settings.units()
    session.money, session.week_begins = str(settings.get("money")), str(settings.get("week"))
    session.theme = THEMES[str(settings.get("theme"))]
    fonts.set_scale(int(settings.get("text_percent")))
    window = MainWindow(session, settings, Runner(at_once=at_once), asker or Asker(), room)
    if not at_once:
        pots, tree = session.shelf, session.tree_id
        collection, today = session.collection, session.today
        window.runner.start_later("rooms", lambda: _preload(collection, tree, pots, today), lambda _: None)
    return window


def _preload(collection: Collection, tree: str, pots: tuple[Pot, ...], today: date) -> None:
    """Behind the window that is open already: the code of the other rooms, and what the pots of the shelf measure."""
    for room in ROOMS:
        room.preload()
    # the library behind it is the slowest of all to come
    lab_of("#000000")
    if tree in collection.trees and len(pots) <= PRELOADED_POTS:
        with contextlib.suppress(KeshError):
            rank(case_for(collection, tree, today=today), pots)


def run(
    file: Path | None,
    *,
    demo: bool,
    mine: bool = False,
    picture: Path | None,
    step: str,
    theme: str | None,
    size: tuple[int, int],
) -> int:
    """Open the window, or render it to a picture and end."""
    if (
        picture is None
        and not has_display()
        and os.environ.get("QT_QPA_PLATFORM") not in ("offscreen", "minimal", "vnc")
    ):
        raise FieldError(
            "display",
            "there is none here; run Kesh in a desktop session, or use --picture out.png, kesh report or kesh rank",
        )
    application(without_display=picture is not None)
    settings = Settings()
    _room_there(step)
    if picture is not None:
        # the picture takes some seconds: a place that cannot be written is told before
        check_file(picture)
    with contextlib.ExitStack() as stack:
        if picture is not None and file is not None:
            # a picture leaves nothing behind: it is taken of a copy
            folder = Path(stack.enter_context(tempfile.TemporaryDirectory(prefix="kesh-")))
            opened = copy_of(file, folder)
        else:
            opened = file_for(file) if file is not None else open_demo() if demo and not mine else open_last(settings)
        return _shown(build(opened, settings, room=step), settings, file, demo, picture, theme, size)


def copy_of(file: Path, folder: Path) -> CollectionFile:
    """A collection file or bundle as a copy in another folder. Raises KeshError."""
    from kesh.formats.bundle import bring_bundle
    from kesh.store.reading import read_collection, read_pictures

    target = folder / f"{file.stem}.kesh"
    if file.suffix.lower() == ".json":
        brought = bring_bundle(file)
        return CollectionFile.create(target, brought.collection, brought.pictures)
    return CollectionFile.create(target, read_collection(file), read_pictures(file))


def _shown(
    window: MainWindow, settings: Settings, file: Path | None, demo: bool, picture: Path | None, theme: str | None,
    size: tuple[int, int],
) -> int:  # fmt: skip
    opened = window.session.file
    if theme is not None:
        window.session.set_theme(THEMES[theme])
    if file is not None and not demo and picture is None:
        settings.put("last_file", str(opened.path))
    window.resize(*size)
    if picture is not None:
        return _picture(window, picture)
    window.show()
    QTimer.singleShot(0, window.say_state)
    _quit_on_crash(window)
    return application().exec()


def _room_there(room: str) -> None:
    if not known(room):
        raise FieldError("--step", f"there is no room '{room}'; open one of {', '.join(one.key for one in ROOMS)}")


def _picture(window: MainWindow, target: Path) -> int:
    window.show()
    window.settle()
    from kesh.ui.paper.drawings_out import write_picture

    grabbed = window.grab().toImage()
    window.close()
    write_picture(target, grabbed)
    print(f"{target}: {grabbed.width()} x {grabbed.height()}")
    return 0


def _quit_on_crash(window: MainWindow) -> None:
    """A bug is told on the status line and on the terminal; every edit stands on the disk already."""
    before = sys.excepthook

    def told(kind: Any, error: Any, trace: Any) -> None:
        before(kind, error, trace)
        window.status.say(
            "no", f"Something went wrong inside Kesh ({kind.__name__}); nothing is lost. Details stand on the terminal"
        )

    sys.excepthook = told


def print_sheet(collection: Collection, tree: str, pot: str | None, out: Path, day: date | None = None) -> None:
    """The A4 sheet of a tree in a pot, without a window. Raises KeshError for unknown ids."""
    from kesh.advice.assess import assess
    from kesh.advice.case import case_for
    from kesh.ui.paper.printing import print_assessment

    application(without_display=True)
    present = collection.planting_of(tree)
    lineup = collection.lineups.get(tree)
    key = pot or (lineup.chosen if lineup else None) or (present.pot if present else None)
    if tree not in collection.trees:
        raise FieldError("--tree", f"no tree '{tree}'; known are {a_few(collection.trees)}")
    if key is None or key not in collection.pots:
        raise FieldError(
            "--pot", f"no pot '{key}' for this tree; name one of {', '.join(list(collection.pots)[:8]) or 'none'}"
        )
    # a day that is asked about is judged by itself, else the sheet tells the plan
    season = None if day is not None else season_planned(collection, tree)
    a = assess(case_for(collection, tree, pot_id=key, on=day or date.today(), season=season), collection.pots[key])
    print_assessment(a, out, Units(), day or date.today(), "")


def print_worksheet(plan: "PlantingPlan", out: Path, today: date, size: str = "A4") -> None:
    """The work sheet of a planting, without a window. Raises KeshError when the place cannot be written."""
    from kesh.ui.paper.worksheet import write_worksheet

    application(without_display=True)
    write_worksheet(plan, out, today, size)


def making_pdf(job: "Job", today: date, a: Assessment | None = None) -> bytes:
    """A maker's sheet as PDF, without a window. Raises KeshError when it cannot be painted."""
    from kesh.ui.paper.makers import job_pdf

    application(without_display=True)
    return job_pdf(job, today, a)
