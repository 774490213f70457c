"""Makers' sheets as their readers need them: sound paths, tables kept together, words clear of figures, colours named."""

import re
import zlib
from datetime import date

import pytest
from PyQt6.QtCore import QBuffer, QByteArray, QIODevice, QSize
from PyQt6.QtGui import QImage
from PyQt6.QtPdf import QPdfDocument

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.routes.job import Job
from kesh.advice.routes.joiner import BoxWishes
from kesh.advice.routes.routes import job
from kesh.advice.routes.wishes import MakerWishes
from kesh.demo.lanternfield import demo_collection
from kesh.figure.drawing import Dim, Words
from kesh.figure.pot_drawing import pot_drawing
from kesh.geometry.feet import with_feet
from kesh.model import Hole, Pot
from kesh.ui.paper.makers import job_pdf

DEMO = demo_collection()
POTS = {k: with_feet(p) for k, p in DEMO.pots.items()}
TODAY = date(2026, 3, 10)
PAINTS, MOVES = {b"f", b"S", b"B", b"n", b"s", b"b", b"f*", b"B*", b"b*"}, {b"m", b"re"}


def contents(pdf: bytes) -> list[bytes]:
    """The page contents of a PDF: streams that are words and figures, not pictures or fonts."""
    found = []
    for start in re.finditer(rb"stream\r?\n", pdf):
        raw = pdf[start.end() : pdf.find(b"endstream", start.end())]
        try:
            raw = zlib.decompress(raw)
        except zlib.error:
            continue
        head = raw[:4000]
        if head and sum(32 <= c < 127 or c in (9, 10, 13) for c in head) > 0.97 * len(head):
            found.append(raw)
    return found


def paths_without_a_start(pdf: bytes) -> int:
    """How often a path is drawn on or closed that never began."""
    wrong = 0
    for stream in contents(pdf):
        begun = False
        for word in stream.split():
            if word in MOVES:
                begun = True
            elif word in (b"l", b"c", b"v", b"y", b"h"):
                wrong += not begun
            elif word in PAINTS:
                begun = False
    return wrong


def sheet(made: Job, tree: str = "") -> bytes:
    return job_pdf(made, TODAY, assess(case_for(DEMO, tree), made.pot) if tree else None)


def pages(pdf: bytes) -> tuple[QPdfDocument, list[str]]:
    buffer = QBuffer()
    buffer.setData(QByteArray(pdf))
    buffer.open(QIODevice.OpenModeFlag.ReadOnly)
    document = QPdfDocument(None)
    document.load(buffer)
    document.setParent(None)
    texts = [document.getAllText(i).text() for i in range(document.pageCount())]
    document.setProperty("held", buffer)
    return document, texts


def test_the_reader_of_paths_sees_a_path_without_a_start() -> None:
    bad = b"x stream\n" + zlib.compress(b"q 0 0 m 1 1 l h f h f Q " * 40) + b"endstream"
    assert paths_without_a_start(bad) == 40


@pytest.mark.parametrize("tree", ["evening-bell", "rope-ladder", "seven-neighbours", "old-ferryman"])
def test_no_path_on_a_sheet_is_closed_before_it_began(qapp: object, tree: str) -> None:
    assert paths_without_a_start(sheet(job("potter", POTS["ferry-tray"], case_for(DEMO, tree)), tree)) == 0


@pytest.mark.parametrize("route", ["print", "box", "tube", "drill"])
def test_other_makers_sheets_are_sound_too(qapp: object, route: str) -> None:
    made = job(route, POTS["uncut-oval"] if route == "drill" else POTS["ferry-tray"])
    assert paths_without_a_start(sheet(made)) == 0


@pytest.mark.parametrize("count", [4, 9, 15, 21, 30])
def test_no_row_of_a_table_stands_alone_on_the_next_page(qapp: object, count: int) -> None:
    tray = POTS["barge"]
    holes = tuple(Hole(x_mm=-170 + 34 * (k % 10), y_mm=-70 + 60 * (k // 10), diameter_mm=12) for k in range(count))
    made = job("potter", tray.changed(holes=holes))
    _, texts = pages(sheet(made))
    at = [k for k, text in enumerate(texts) if "Place from the middle" in text]
    assert at
    told = [len(re.findall(r"drain Ø 12 ", text)) for text in texts]
    on_tables = [n for n in told[: at[-1] + 2] if n]
    assert 1 not in on_tables, told
    if count <= 15:
        assert len([k for k in at if told[k]]) == 1, "a table that fits one page is not torn"


def test_colour_is_named_in_words_and_clear_of_its_swatch(qapp: object) -> None:
    made = job("potter", POTS["honey-lobed"])
    told = dict(made.facts)["Finish, colour"]
    assert re.search(r"[a-z]+ \(#[0-9A-F]{6}\)$", told)
    assert not re.search(r", #", told)
    document, texts = pages(sheet(made))
    assert told.split(" (")[0].split(", ")[0] in texts[0]
    picture = document.render(0, QSize(1240, 1754))
    want = made.pot.colour.lower()
    rows = [
        (x, y)
        for y in range(200, 900, 4)
        for x in range(560, 640, 4)
        if QImage.pixelColor(picture, x, y).name() == want
    ]
    assert len(rows) > 20, "the swatch is there, and nothing is written over it"


@pytest.mark.parametrize("route", ["box", "tube", "print"])
def test_what_is_made_stands_on_the_sheet_as_a_picture(qapp: object, route: str) -> None:
    pdf = sheet(job(route, POTS["ferry-tray"]))
    assert b"/Subtype /Image" in pdf
    _, texts = pages(pdf)
    words = {"box": "As it is screwed", "tube": "Pipe, floor and guys", "print": "how the pieces go together"}[route]
    assert any(words in text for text in texts)


def test_a_tub_is_shown_as_a_tub(qapp: object) -> None:
    made = job("box", POTS["celandine-round"], None, MakerWishes(own={"box": BoxWishes(tub=True)}))
    assert {"stave", "hoop", "floor slat", "foot batten"} == {p.name for p in made.built}
    assert [d.title for d in made.views] == ["From the front", "From above"]
    assert not [i for d in made.views for i in d.items if isinstance(i, Words)]


def overlapping(pot: Pot) -> list[tuple[str, str]]:
    """Figures of the sections whose boxes lie over each other on the drawing."""
    found = []
    dims = [i for i in pot_drawing(pot, "x").items if isinstance(i, Dim)]
    for k, one in enumerate(dims):
        for other in dims[:k]:
            a, b = _figure(one), _figure(other)
            if min(a[2], b[2]) - max(a[0], b[0]) > 0.5 and min(a[3], b[3]) - max(a[1], b[1]) > 0.5:
                found.append((one.text, other.text))
    return found


def _figure(d: Dim) -> tuple[float, float, float, float]:
    """Where the words of a dimension stand, as SVG and PDF write them."""
    (x0, y0), (x1, y1) = d.ends
    mx, my = (x0 + x1) / 2, (y0 + y1) / 2
    wide = 0.52 * d.size * len(d.text)
    if d.level:
        return mx - wide / 2, my + d.tick, mx + wide / 2, my + d.tick + d.size
    if d.beside:
        out = 1 if d.away > 0 else -1
        a, b = mx + out * 1.6 * d.tick, mx + out * (1.6 * d.tick + wide)
        low = my - d.size / 2
        return min(a, b), low, max(a, b), low + d.size
    return mx - d.tick - d.size, my - wide / 2, mx - d.tick, my + wide / 2


@pytest.mark.parametrize(
    "key", ["long-meadow", "neighbours-tray", "slip-tray", "barge", "ferry-tray", "celandine-round", "rope-tower"]
)
def test_no_figure_of_a_section_lies_over_another(key: str) -> None:
    assert overlapping(POTS[key]) == []
