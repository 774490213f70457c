"""Attacks that take longer than a check: Kesh is killed while it writes, records are mutated, a random hand works in the window.

    .venv/bin/python scripts/endurance.py kills 1000
    .venv/bin/python scripts/endurance.py mutations 100000
    .venv/bin/python scripts/endurance.py hands 60          (minutes)

Each ends with one line of figures and exit 1 when something was found. A seed may follow the number.
"""

import copy
import faulthandler
import json
import math
import os
import random
import signal
import sys
import tempfile
import time
import traceback
from collections.abc import Callable
from datetime import date
from pathlib import Path
from typing import Any

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
DAY = date(2026, 3, 10)
Found = dict[str, int]


# kills ---------------------------------------------------------------------------------------------------------------


def kills(count: int, seed: int) -> Found:
    """A child edits in a burst and says each step that was acknowledged; it is killed at any moment. Nothing said may be lost."""
    from kesh.demo.lanternfield import demo_collection
    from kesh.store.body import beside
    from kesh.store.collection_file import CollectionFile

    chance, lost, torn = random.Random(seed), 0, 0
    demo = demo_collection()
    pot = demo.pots["gate-oval"]
    with tempfile.TemporaryDirectory() as folder:
        whole = Path(folder) / "whole.kesh"
        CollectionFile.create(whole, demo).close()
        path = Path(folder) / "burst.kesh"
        for number in range(count):
            path.write_bytes(whole.read_bytes())
            read, write = os.pipe()
            child = os.fork()
            if child == 0:
                os.close(read)
                file = CollectionFile.open(path, backup=False)
                for step in range(1, 10_000):
                    file.edit(f"step {step}", [("pot", pot.id, pot.changed(height_mm=100.0 + step % 900))])
                    os.write(write, f"{step}\n".encode())
                os._exit(0)
            os.close(write)
            said = b""
            if number % 4:
                # once it writes; else also while it opens
                said = os.read(read, 1)
            time.sleep(chance.uniform(0, 0.06))
            os.kill(child, signal.SIGKILL)
            os.waitpid(child, 0)
            while part := os.read(read, 65536):
                said += part
            os.close(read)
            lines = [one for one in said.decode().split("\n")[:-1] if one]
            last = int(lines[-1]) if lines else 0
            torn += any(one.exists() for one in beside(path))
            file = CollectionFile.open(path, backup=False)
            height = file.collection.pots[pot.id].height_mm
            may = {pot.height_mm if last == 0 else 100.0 + last % 900, 100.0 + (last + 1) % 900}
            if height not in may or file.read_only or file.problems or len(file.collection.trees) != len(demo.trees):
                lost += 1
                print("lost", number, height, last, file.read_only, file.problems[:1])
            file.close()
            for one in (path, *beside(path)):
                one.unlink(missing_ok=True)
    return {"kills": count, "with a journal left": torn, "lost": lost}


# mutations -----------------------------------------------------------------------------------------------------------

ODD: tuple[Any, ...] = (
    None, True, False, 0, -1, 1, 1e308, -1e308, 1e-308, 0.5, 10**30, float("nan"), float("inf"), "", " ", "x", "0", "-5", "1e999", "\x00", "\x1b[2J",
    "\u202e", "á" * 300, "x" * 5000, [], [[]], [None], [0, 1], {}, {"id": "x"}, {"x": {"y": [1]}}, "2026-02-30", "9999-12-31", "0001-01-01", "2026-03-10T25:00",
    [1, "two", None], [[1, 2], [3]], [[0, 0], [0, 0], [0, 0]], "old-ferryman", "nobody", "#12345", "#GGGGGG",
)  # fmt: skip


def _places(node: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    found = [path] if path else []
    rows = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    for key, value in rows:
        found += _places(value, (*path, key))
    return found


def mutated(row: Any, places: list[tuple[Any, ...]], chance: random.Random) -> Any:
    """A record with one place changed, gone, doubled or moved."""
    made = copy.deepcopy(row)
    *above, last = chance.choice(places)
    holder = made
    for key in above:
        holder = holder[key]
    how = chance.random()
    if how < 0.12 and isinstance(holder, dict):
        del holder[last]
    elif how < 0.2 and isinstance(holder, list):
        holder.append(copy.deepcopy(holder[last]))
    elif how < 0.26 and isinstance(holder, dict):
        holder[f"{last}x"] = holder.pop(last)
    elif how < 0.4 and isinstance(holder[last], int | float) and not isinstance(holder[last], bool):
        holder[last] = holder[last] * chance.choice((-1, 0, 1e-9, 1e3, 1e9))
    else:
        holder[last] = copy.deepcopy(chance.choice(ODD))
    return made


def mutations(count: int, seed: int) -> Found:
    """Each is brought in as a bundle with all others whole; one in ten that comes in is judged, drawn as a plan and put in the season."""
    from kesh.advice.assess import assess
    from kesh.advice.case import case_for
    from kesh.advice.rank import rank
    from kesh.advice.report.whole import report
    from kesh.advice.season.book import Book
    from kesh.base.errors import KeshError
    from kesh.demo.lanternfield import demo_collection
    from kesh.formats.bundle.read import bring
    from kesh.formats.bundle.write import bundle_of
    from kesh.store.collection_file import CollectionFile

    chance = random.Random(seed)
    whole = json.loads(json.dumps(bundle_of(demo_collection())))
    kinds = [key for key, rows in whole.items() if isinstance(rows, list) and rows and isinstance(rows[0], dict)]
    kept = {
        key: whole[key]
        for key in ("format", "version", "site", "mixes", "species_rows", "substrate_rows")
        if key in whole
    }
    seen: set[str] = set()
    wrong = judged = 0
    with tempfile.TemporaryDirectory() as folder:
        for number in range(count):
            if number % 10_000 == 0:
                print(f"{number} mutations, {wrong} wrong", flush=True)
            kind = chance.choice([*kinds, "trees", "pots", "plantings", "site"])
            tree = chance.choice(whole["trees"])
            stands = [p for p in whole["plantings"] if p["tree"] == tree["id"]]
            pots = [p for p in whole["pots"] if p["id"] in {s["pot"] for s in stands}]
            document = kept | {"trees": [tree], "plantings": stands, "pots": pots}
            document["briefs"] = [b for b in whole.get("briefs", []) if b.get("id", b.get("tree")) == tree["id"]]
            if kind == "site":
                document["site"] = mutated(whole["site"], _places(whole["site"]), chance)
            else:
                own = document.get(kind) or whole[kind]
                at = chance.randrange(len(own))
                row = mutated(own[at], _places(own[at]), chance)
                document[kind] = [*own[:at], row, *own[at + 1 :]] if kind in document else [row]
            try:
                brought = bring(document).collection
                if number % 10 or tree["id"] not in brought.trees:
                    continue
                judged += 1
                for key, pot in brought.pots.items():
                    case = case_for(brought, tree["id"], pot_id=key, on=DAY)
                    report(assess(case, pot))
                rank(case_for(brought, tree["id"], today=DAY), tuple(brought.pots.values())).entries()
                _ = Book(brought, DAY).tasks
                if number % 1000 == 0:
                    path = Path(folder) / f"{number}.kesh"
                    CollectionFile.create(path, brought).close()
                    again = CollectionFile.open(path, backup=False)
                    assert again.collection.trees == brought.trees
                    again.close()
                    path.unlink()
            except KeshError:
                continue
            except Exception:
                told = traceback.format_exc()
                key = told.strip().splitlines()[-3] + told.strip().splitlines()[-1]
                wrong += 1
                if key not in seen:
                    seen.add(key)
                    print(f"mutation {number} of {kind}:\n{told}", flush=True)
    return {"mutations": count, "judged": judged, "exceptions": wrong}


# hands ---------------------------------------------------------------------------------------------------------------


def hands(minutes: int, seed: int) -> Found:
    """A random hand in the window on the demo: trees, rooms, views, clicks, drags, wheels, keys, commands, undo."""
    from PyQt6.QtCore import QPoint, QPointF, Qt
    from PyQt6.QtGui import QWheelEvent
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication, QDialog, QWidget

    from kesh.base import paths
    from kesh.demo.opening import open_demo
    from kesh.ui import app
    from kesh.ui.asker import Asker
    from kesh.ui.commands import COMMANDS
    from kesh.ui.rooms import ROOMS, steps_for
    from kesh.ui.settings import Settings

    paths.set_home(Path(tempfile.mkdtemp()) / "kesh")
    chance, wrong, done = random.Random(seed), 0, 0
    seen: set[str] = set()

    class Shy(Asker):
        """Answers no question, so that nothing outside the collection is touched."""

        def open_file(self, parent: QWidget, title: str, folder: Path, kinds: str) -> Path | None:
            return None

        def save_as(self, parent: QWidget, title: str, suggested: Path, kinds: str) -> tuple[Path | None, str]:
            return None, ""

        def folder(self, parent: QWidget, title: str, start: Path) -> Path | None:
            return None

        def choose(self, parent: QWidget, title: str, question: str, options: list[str]) -> str | None:
            return chance.choice([*options, None]) if options else None

        def agree(self, dialog: QDialog) -> bool:
            return chance.random() < 0.5

    def caught(kind: Any, value: BaseException, trace: Any) -> None:
        nonlocal wrong
        told = "".join(traceback.format_exception(kind, value, trace))
        key = told.strip().splitlines()[-3] + told.strip().splitlines()[-1]
        wrong += 1
        if key not in seen:
            seen.add(key)
            print(f"after {done} deeds:\n{told}", flush=True)

    sys.excepthook = caught
    faulthandler.enable()
    application = app.application(without_display=True)
    window = app.build(open_demo(), Settings(), asker=Shy())
    window.session.today = DAY
    window.resize(1280, 800)
    window.show()
    keys = [getattr(Qt.Key, f"Key_{one}") for one in "ABDGHJKLMNOPRSTUVWXYZ0123456789"]
    keys += [Qt.Key.Key_Left, Qt.Key.Key_Right, Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_Return, Qt.Key.Key_Escape, Qt.Key.Key_Tab,
             Qt.Key.Key_Delete, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown, Qt.Key.Key_Home, Qt.Key.Key_Space]  # fmt: skip
    mods = [Qt.KeyboardModifier.NoModifier] * 5 + [
        Qt.KeyboardModifier.ControlModifier,
        Qt.KeyboardModifier.ShiftModifier,
    ]
    # what ends the window or leaves the collection is no deed of this hand
    commands = [key for key in COMMANDS if key not in ("quit", "open", "new", "demo", "good_copy")]

    def point(widget: QWidget) -> QPoint:
        return QPoint(chance.randrange(max(widget.width(), 1)), chance.randrange(max(widget.height(), 1)))

    def widget() -> QWidget:
        at = point(window)
        return window.childAt(at) or window

    def go() -> None:
        window.go(
            chance.choice(
                [*[room.key for room in steps_for(window.session)], *[r.key for r in ROOMS if r.kind != "step"]]
            )
        )

    def tree() -> None:
        window.session.choose_tree(chance.choice(list(window.session.collection.trees) or [""]))

    def view() -> None:
        views = window.here.views()
        if views:
            window.show_view(chance.choice(views)[0])

    def click() -> None:
        one = widget()
        QTest.mouseClick(
            one, chance.choice([Qt.MouseButton.LeftButton] * 5 + [Qt.MouseButton.RightButton]), pos=point(one)
        )

    def drag() -> None:
        one = widget()
        start = point(one)
        QTest.mousePress(one, Qt.MouseButton.LeftButton, pos=start)
        for _ in range(chance.randrange(1, 6)):
            start += QPoint(chance.randrange(-60, 60), chance.randrange(-60, 60))
            QTest.mouseMove(one, start)
        if chance.random() < 0.1:
            QTest.keyClick(one, Qt.Key.Key_Escape)
        QTest.mouseRelease(one, Qt.MouseButton.LeftButton, pos=start)

    def key() -> None:
        QTest.keyClick(QApplication.focusWidget() or window, chance.choice(keys), chance.choice(mods))

    def typed() -> None:
        one = QApplication.focusWidget()
        if one is not None:
            QTest.keyClicks(one, chance.choice(["12", "-3", "0", "1e9", "abc", "2026-03-10", "340 mm", "13 in", " "]))
            QTest.keyClick(one, Qt.Key.Key_Return)

    def wheel() -> None:
        one = widget()
        at = QPointF(point(one))
        turn = QPoint(0, chance.choice((-120, 120, 600, -600)))
        event = QWheelEvent(
            at,
            QPointF(one.mapToGlobal(at.toPoint())),
            turn,
            turn,
            Qt.MouseButton.NoButton,
            chance.choice(mods),
            Qt.ScrollPhase.NoScrollPhase,
            False,
        )
        QApplication.sendEvent(one, event)

    def command() -> None:
        window.do(chance.choice(commands))

    def undo() -> None:
        window.do(chance.choice(("undo", "redo")))

    def size() -> None:
        window.resize(chance.randrange(1024, 1700), chance.randrange(640, 1000))

    deeds: list[Callable[[], None]] = [
        go,
        tree,
        view,
        *[click] * 8,
        *[drag] * 5,
        *[key] * 8,
        *[typed] * 3,
        wheel,
        wheel,
        command,
        undo,
        undo,
        size,
    ]
    last = Path(tempfile.gettempdir()) / "kesh-last-deed"
    until = time.monotonic() + 60 * minutes
    while time.monotonic() < until:
        deed = chance.choice(deeds)
        done += 1
        # what came last is known where the window itself goes down
        last.write_text(f"{done} {deed.__name__} {window.room} {window.here.view} {window.session.tree_id}\n")
        # a window that does not come back within two minutes tells where it is
        faulthandler.dump_traceback_later(120)
        try:
            deed()
            application.processEvents()
            popup = QApplication.activePopupWidget() or QApplication.activeModalWidget()
            if popup is not None:
                popup.close()
        except Exception as err:
            caught(type(err), err, err.__traceback__)
        faulthandler.cancel_dump_traceback_later()
        if not window.isVisible():
            window.show()
        if done % 2000 == 0:
            print(
                f"{done} deeds, {wrong} exceptions, {math.ceil((until - time.monotonic()) / 60)} minutes left",
                flush=True,
            )
    window.close()
    return {"minutes": minutes, "deeds": done, "exceptions": wrong}


def main() -> int:
    """One attack by its name."""
    what, number = sys.argv[1], int(sys.argv[2])
    seed = int(sys.argv[3]) if len(sys.argv) > 3 else 1
    found = {"kills": kills, "mutations": mutations, "hands": hands}[what](number, seed)
    print(", ".join(f"{value} {name}" if name == what else f"{name}: {value}" for name, value in found.items()))
    return int(bool(found.get("lost", 0) or found.get("exceptions", 0)))


if __name__ == "__main__":
    sys.exit(main())
