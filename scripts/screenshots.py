"""Renders docs/screenshots/ from the demo collection: one current picture of each main view.

Run with `.venv/bin/python scripts/screenshots.py [NAME ...]`.
"""

import os
import sys
import tempfile
from datetime import date, datetime, timedelta
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtTest import QTest

from kesh.advice.planting.meant import planting_in
from kesh.base import paths
from kesh.demo.opening import open_demo
from kesh.store.collection_file import CollectionFile
from kesh.ui import app
from kesh.ui.commands.files import new_collection
from kesh.ui.settings import Settings
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import THEMES
from kesh.ui.window import MainWindow

OUT = Path(__file__).parents[1] / "docs" / "screenshots"
TODAY = date(2026, 3, 10)

# name: tree, step or place, view, theme
VIEWS = {
    "first": ("", "tree", "", "light"),
    "tree": ("old-ferryman", "tree", "front", "light"),
    "photo": ("tollgate", "tree", "photo", "light"),
    "root-map": ("mossback", "roots", "", "light"),
    "water": ("old-ferryman", "water", "year", "light"),
    "planting": ("old-ferryman", "planting", "ties", "light"),
    "rock": ("saddlestone", "planting", "special", "light"),
    "group": ("seven-neighbours", "group", "now", "light"),
    "at-bench": ("old-ferryman", "planting", "ties", "light"),
    "brief": ("old-ferryman", "brief", "", "dark"),
    "line-up": ("old-ferryman", "line-up", "columns", "light"),
    "shelf": ("old-ferryman", "shelf", "", "light"),
    "workshop": ("old-ferryman", "workshop", "", "light"),
    "log": ("tollgate", "log", "life", "light"),
    "season": ("mossback", "season", "year", "light"),
    "season-plan": ("mossback", "season", "pots", "light"),
    "reference": ("old-ferryman", "reference", "", "light"),
}


def window(theme: str, *, empty: bool = False) -> MainWindow:
    """The demo collection, or one that nothing stands in yet, on a fixed day."""
    own = Path(tempfile.mkdtemp()) / "own.kesh"
    file = CollectionFile.create(own, new_collection("My trees")) if empty else open_demo()
    made = app.build(file, Settings())
    made.session.today = TODAY
    made.session.set_theme(THEMES[theme])
    made.resize(1280, 800)
    made.show()
    return made


PLANNED = ("planting", "at-bench")
# one tree for each kind of special planting
KINDS = (
    "saddlestone",
    "stilt-house",
    "rope-ladder",
    "new-leaf",
    "cellar-door",
    "dry-well",
    "walking-stick",
    "wicket",
    "driftline",
    "tidewater",
    "tollgate",
    "twice-told",
)
TILE = (460, 472)


def plan_it(made: MainWindow) -> None:
    """Old Ferryman is to stand in the Riverstone oval."""
    s = made.session
    pot = s.collection.pots["riverstone-oval"]
    planting = planting_in(s.collection, s.tree_id, pot).changed(
        offset_x_mm=-38, offset_y_mm=12, raise_mm=12, mound_mm=20, headspace_mm=8, tilt_deg=4
    )
    s.edit("Planned", [("planting", planting.id, planting)])


def at_the_bench(made: MainWindow) -> None:
    """Seven minutes after lifting, with the roots that are cut in sight."""
    face = made.face("planting")
    now = datetime(2026, 3, 10, 9, 0)
    face.at_bench()
    bench = face.bench
    assert bench is not None
    bench.now = lambda: now
    for _ in range(40):
        step = bench.step()
        if step is None or step.key == "roots":
            break
        QTest.keyClick(bench, Qt.Key.Key_Space)
    now += timedelta(minutes=7)
    QTest.keyClick(bench, Qt.Key.Key_Space)


def picture(name: str) -> None:
    """One view as PNG."""
    tree, step, view, theme = VIEWS[name]
    made = window(theme, empty=not tree)
    if tree:
        made.session.choose_tree(tree)
    if name in PLANNED:
        plan_it(made)
    made.go(step)
    if view:
        made.show_view(view)
    if name == "first":
        card = made.face("tree").first
        card.name.setText("By the gate")
        card.species.setText("hornb")
        card.species.textEdited.emit("hornb")
    if name == "root-map":
        made.face("roots").map.take("r7")
    if name.startswith("workshop"):
        made.do("solve")
    if name == "at-bench":
        at_the_bench(made)
    for _ in range(4):
        made.settle()
    made.grab().save(str(OUT / f"{name}.png"))
    made.close()


def kinds() -> None:
    """The sheets of all kinds side by side, each with its result over it; the pair from step Group."""
    made = window("light")
    wide, high = TILE
    whole = QImage(3 * wide, -(-len(KINDS) // 3) * high, QImage.Format.Format_RGB32)
    whole.fill(made.session.theme.color("sheet"))
    painter = QPainter(whole)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    for n, tree in enumerate(KINDS):
        made.session.choose_tree(tree)
        made.go("group" if tree == "twice-told" else "planting")
        if tree != "twice-told":
            made.show_view("special")
        for _ in range(4):
            made.settle()
        shot = made.middle.grab().toImage().scaledToWidth(wide - 12, Qt.TransformationMode.SmoothTransformation)
        x, y = n % 3 * wide + 6, n // 3 * high
        painter.setPen(made.session.theme.color("ink"))
        painter.setFont(fonts.book(15))
        name = made.session.collection.trees[tree].name
        painter.drawText(x + 8, y + 20, fonts.elided(painter.font(), f"{name}: {made.here.title()}", wide - 24))
        painter.drawImage(x, y + 26, shot)
    painter.end()
    whole.save(str(OUT / "kinds.png"))
    made.close()


def page_picture(target: Path, name: str) -> None:
    """The first page of a PDF as PNG."""
    document = QPdfDocument(None)
    document.load(str(target))
    page = document.render(0, QSize(905, 1280))
    paper = QImage(page.size(), QImage.Format.Format_RGB32)
    paper.fill(Qt.GlobalColor.white)
    painter = QPainter(paper)
    painter.drawImage(0, 0, page)
    painter.end()
    paper.save(str(OUT / f"{name}.png"))


def work_sheet() -> None:
    """The first page of the work sheet as PNG."""
    from kesh.ui.paper.worksheet import write_worksheet

    made = window("light")
    made.session.choose_tree("old-ferryman")
    plan_it(made)
    made.go("planting")
    plan = made.face("planting").plan()
    assert plan is not None
    target = paths.data_dir() / "work-sheet.pdf"
    write_worksheet(plan, target, TODAY)
    made.close()
    page_picture(target, "work-sheet")


def main() -> None:
    """All pictures, or those named."""
    paths.set_home(Path(tempfile.mkdtemp()))
    keep = app.application(without_display=True)
    OUT.mkdir(parents=True, exist_ok=True)
    papers = {"work-sheet": work_sheet, "kinds": kinds}
    for name in sys.argv[1:] or [*VIEWS, *papers]:
        papers[name]() if name in papers else picture(name)
        print(f"{name}.png")
    keep.quit()


if __name__ == "__main__":
    main()
