"""Renders docs/screenshots/ from the demo collection: one current picture of each main view.

Run with `.venv/bin/python scripts/screenshots.py [NAME ...]`.
"""

import os
import sys
import tempfile
from datetime import date
from pathlib import Path

os.environ["QT_QPA_PLATFORM"] = "offscreen"

from PyQt6.QtCore import QSize, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPdf import QPdfDocument

from kesh import paths
from kesh.demo.opening import open_demo
from kesh.store.collection_file import CollectionFile
from kesh.ui import app
from kesh.ui.commands.files import new_collection
from kesh.ui.settings import Settings
from kesh.ui.theme.tokens import THEMES
from kesh.ui.window import MainWindow

OUT = Path(__file__).parents[1] / "docs" / "screenshots"
TODAY = date(2026, 3, 10)

# name: tree, step or place, view, theme
VIEWS = {
    "first": ("", "tree", "", "light"),
    "tree": ("old-ferryman", "tree", "front", "light"),
    "photo": ("tollgate", "tree", "photo", "light"),
    "mock-up": ("old-ferryman", "line-up", "columns", "light"),
    "roots": ("mossback", "tree", "roots", "light"),
    "root-map": ("mossback", "roots", "", "light"),
    "root-plan": ("old-ferryman", "roots", "", "light"),
    "watering": ("old-ferryman", "water", "drained", "light"),
    "water": ("old-ferryman", "water", "year", "light"),
    "brief": ("old-ferryman", "brief", "", "light"),
    "line-up": ("old-ferryman", "line-up", "columns", "light"),
    "line-up-dark": ("evening-bell", "line-up", "columns", "dark"),
    "whole-shelf": ("tollgate", "line-up", "shelf", "light"),
    "shelf": ("old-ferryman", "shelf", "", "light"),
    "workshop": ("old-ferryman", "workshop", "", "light"),
    "drill": ("old-ferryman", "workshop", "", "light"),
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


def picture(name: str) -> None:
    """One view as PNG."""
    tree, step, view, theme = VIEWS[name]
    made = window(theme, empty=not tree)
    if tree:
        made.session.choose_tree(tree)
    if name == "root-plan":
        # into a shallower pot: two repottings for the pot, one more for the roots
        s = made.session
        s.hold_under("riverstone-oval")
        s.edit("Chosen", [("lineup", s.tree_id, s.lineup().changed(chosen="riverstone-oval"))])
    app.go_to(made, step)
    if view:
        made.show_view(view)
    if name == "first":
        card = made.face("tree").first
        card.name.setText("By the gate")
        card.species.setText("hornb")
        card.species.textEdited.emit("hornb")
    if name == "root-map":
        made.face("roots").map.take("r7")
    if name == "mock-up":
        made.face("line-up").hand.real.setChecked(True)
    if name == "workshop":
        made.do("solve")
    if name == "drill":
        made.face("workshop").show_route("drill")
        made.face("workshop").desk.list.choose("uncut-oval")
    for _ in range(4):
        made.settle()
    made.grab().save(str(OUT / f"{name}.png"))
    made.close()


def potter() -> None:
    """The first page of the potter's sheet as PNG."""
    from kesh.ui.making_pdf import print_job

    made = window("light")
    made.go("workshop")
    made.face("workshop").desk.list.choose("ferry-tray")
    made.settle()
    panel = made.face("workshop").makers
    assert panel.job is not None
    target = paths.data_dir() / "potter.pdf"
    print_job(panel.job, target, TODAY, made.session.design_assessment(panel.job.pot))
    made.close()
    page_picture(target, "potter")


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


def sheet() -> None:
    """The printed sheet as PNG."""
    from kesh.ui.printing import sheet_pdf

    made = window("light")
    made.session.hold_under("riverstone-oval")
    target = paths.data_dir() / "sheet.pdf"
    pot = made.session.collection.pots["riverstone-oval"]
    target.write_bytes(sheet_pdf(made.session.tried(pot), made.session.units, TODAY, "£"))
    made.close()
    page_picture(target, "sheet")


def main() -> None:
    """All pictures, or those named."""
    paths.set_home(Path(tempfile.mkdtemp()))
    keep = app.application(without_display=True)
    OUT.mkdir(parents=True, exist_ok=True)
    papers = {"sheet": sheet, "potter": potter}
    for name in sys.argv[1:] or [*VIEWS, *papers]:
        papers[name]() if name in papers else picture(name)
        print(f"{name}.png")
    keep.quit()


if __name__ == "__main__":
    main()
