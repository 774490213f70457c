"""Makers' sheets on paper: pages, words that can be found, a template whose bar is 100 mm, nothing left half written."""

from datetime import date
from itertools import pairwise
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QSize
from PyQt6.QtPdf import QPdfDocument

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.routes.drill import drill_job
from kesh.advice.routes.job import Job
from kesh.advice.routes.routes import job, routes
from kesh.base.errors import KeshError
from kesh.demo.lanternfield import demo_collection
from kesh.figure.drawing import Circle, Dim, Drawing, Line, Words, lettered, moved
from kesh.geometry.feet import with_feet
from kesh.model import Hole
from kesh.ui.paper.makers import OVERLAP_MM, PAGE_MM, _steps, column_widths, print_makers_sheet
from kesh.ui.theme import fonts

DEMO = demo_collection()
TRAY = with_feet(DEMO.pots["ferry-tray"])
TODAY = date(2026, 3, 10)


def read(path: Path) -> QPdfDocument:
    document = QPdfDocument(None)
    assert document.load(str(path)) == QPdfDocument.Error.None_
    return document


def words(document: QPdfDocument) -> str:
    return " ".join(document.getAllText(i).text() for i in range(document.pageCount()))


def printed(made: Job, tmp_path: Path, *, tree: str = "") -> QPdfDocument:
    path = tmp_path / f"{made.route}.pdf"
    print_makers_sheet(made, path, TODAY, assess(case_for(DEMO, tree), made.pot) if tree else None)
    assert not list(tmp_path.glob("*.part"))
    return read(path)


@pytest.mark.parametrize("route", list(routes()))
def test_every_sheet_tells_its_figures_steps_and_cautions(qapp: object, tmp_path: Path, route: str) -> None:
    made = job(route, with_feet(DEMO.pots["uncut-oval"]) if route == "drill" else TRAY)
    document = printed(made, tmp_path)
    text = " ".join(words(document).split())
    assert made.title in text
    for name, value in made.facts[:4]:
        assert name in text
        assert value.split(",")[0] in text
    for step in made.steps:
        assert step.text.split()[0] in text
    for caution in made.cautions:
        assert caution.hazard[:18] in text
    assert "Local rules and qualified people" in text
    for table_name, _, rows in made.tables:
        if rows:
            assert table_name in text
    assert document.pageCount() >= 1 + bool(made.drawings)


def test_the_tree_stands_on_the_potter_s_sheet(qapp: object, tmp_path: Path) -> None:
    document = printed(job("potter", TRAY), tmp_path, tree="old-ferryman")
    assert "Old Ferryman in it, 1 : " in words(document)
    bare = printed(job("potter", TRAY), tmp_path)
    assert "Old Ferryman" not in words(bare)


def dark_runs(document: QPdfDocument, page: int, px_mm: float) -> float:
    """The longest dark level run in the lowest strip of a page, mm."""
    image = document.render(page, QSize(round(PAGE_MM[0] * px_mm), round(PAGE_MM[1] * px_mm)))
    longest = 0.0
    for y in range(round((PAGE_MM[1] - 24) * px_mm), image.height()):
        row = [image.pixelColor(x, y) for x in range(image.width())]
        dark = np.array([c.alpha() > 120 and c.lightness() < 120 for c in row])
        edges = np.flatnonzero(np.diff(np.concatenate([[0], dark.astype(int), [0]])))
        if len(edges):
            longest = max(longest, float((edges[1::2] - edges[::2]).max()) / px_mm)
    return longest


def test_a_template_s_bar_is_a_hundred_millimetres(qapp: object, tmp_path: Path) -> None:
    made = drill_job(with_feet(DEMO.pots["uncut-oval"]))
    document = printed(made, tmp_path)
    last = document.pageCount() - 1
    assert "print at 100 %" in document.getAllText(last).text()
    assert document.pagePointSize(last).width() == pytest.approx(PAGE_MM[0] / 25.4 * 72, abs=0.6)
    assert dark_runs(document, last, 6.0) == pytest.approx(100, abs=0.6)


def test_a_wide_template_goes_over_several_sheets(qapp: object, tmp_path: Path) -> None:
    wide = with_feet(DEMO.pots["long-meadow"].changed(holes=()))
    document = printed(drill_job(wide, (Hole(x_mm=-200, y_mm=0, diameter_mm=20),)), tmp_path)
    text = words(document)
    assert all(f"sheet {name} of" in text for name in ("A1", "A2", "B1", "B2"))


@pytest.mark.parametrize(("low", "high", "room"), [(0.0, 100.0, 186.0), (-50.0, 400.0, 186.0), (-320.0, 320.0, 261.0)])
def test_sheets_cover_everything_and_overlap(low: float, high: float, room: float) -> None:
    starts = list(_steps(low, high, room))
    assert starts[0] == low
    assert starts[-1] + room >= high - 0.5
    assert all(b - a == pytest.approx(room - OVERLAP_MM) for a, b in pairwise(starts))
    assert len(starts) == 1 or starts[-2] + room < high


def test_a_place_that_cannot_be_written_is_said(qapp: object, tmp_path: Path) -> None:
    with pytest.raises(KeshError, match="choose another folder"):
        print_makers_sheet(job("tube", TRAY), tmp_path / "nowhere" / "x.pdf", TODAY)


# drawings -----------------------------------------------------------------------------------------------------------

ITEMS = (
    Line(np.array([[0.0, 0], [40, 10]])), Circle(10, 20, 4), Words("four", 5, 30, 3.0, "right"),
    Dim(0, 0, 40, 10, 8), Dim(0, 0, 40, 10, -8, level=False, prefix="h "),
)  # fmt: skip


def test_bounds_hold_everything_and_move_along() -> None:
    left, bottom, right, top = Drawing("x", ITEMS).bounds()
    assert left < -8
    assert bottom <= 0
    assert right >= 40
    assert top >= 33
    there = Drawing("x", moved(ITEMS, 100, -50)).bounds()
    assert there == pytest.approx((left + 100, bottom - 50, right + 100, top - 50))


def test_scaling_changes_lengths_and_what_dimensions_say_but_not_the_letters() -> None:
    large = Drawing("x", ITEMS).scaled(1.25)
    line, circle, text, level, upright = large.items
    assert isinstance(line, Line)
    assert isinstance(circle, Circle)
    assert isinstance(text, Words)
    assert isinstance(level, Dim)
    assert isinstance(upright, Dim)
    assert line.points[1].tolist() == [50, 12.5]
    assert circle.radius == 5
    assert (text.x, text.size) == (6.25, 3.0)
    assert level.text == "50"
    assert upright.text == "h 12.5"
    assert (level.away, level.size) == (8, 3.0)


def test_letters_grow_with_the_drawing_and_never_shrink() -> None:
    sizes = [lettered(x) for x in (10, 190, 400, 900)]
    assert sizes == sorted(sizes)
    assert sizes[0] == 1


def test_paper_does_not_follow_the_text_size_of_the_screen(qapp: object, tmp_path: Path) -> None:
    made = job("tube", TRAY)
    plain = words(printed(made, tmp_path)).split()
    fonts.set_scale(200)
    try:
        large = printed(made, tmp_path)
        assert words(large).split() == plain
        assert fonts.text(14).pixelSize() == 28
    finally:
        fonts.set_scale(100)
    assert large.pageCount() == 2


def test_a_table_s_columns_hold_their_cells_and_stay_on_the_paper(qapp) -> None:  # type: ignore[no-untyped-def]
    del qapp
    lines = (("Hole", "Fired", "Wet"), ("A", "drain Ø 38   95.0 left, 0.0 back", "drain Ø 42.9   107.3 left, 0.0 back"))
    widths = column_widths(lines, 180.0)
    assert sum(widths) <= 180.0
    assert widths[0] < widths[1] < widths[2]
    long = (("Board", "Cuts", "Left"), ("95 mm, no 1", ", ".join(["312"] * 60), "11 mm"))
    tight = column_widths(long, 180.0)
    assert sum(tight) == pytest.approx(180.0)
    assert tight[1] > tight[0] > 10
