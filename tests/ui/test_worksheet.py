"""The work sheet on paper, read back by another program: its words, its pages, its drawings measured at their scale."""

import json
from datetime import date
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QSize
from PyQt6.QtGui import QColor, QImage, QPainter
from PyQt6.QtPdf import QPdfDocument

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.errors import FieldError
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.formats.bundle import bundle_of
from kesh.line import main as cli
from kesh.model import Planting
from kesh.ui.paper.worksheet import worksheet_pdf, write_worksheet
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers

DEMO = demo_collection()
DPI = 300


def plan(units: Units | None = None, **fields: object) -> PlantingPlan:
    planting = Planting(id="p", tree="old-ferryman", pot="riverstone-oval", mix="house-pine", planned=True,
                        **({"offset_x_mm": -38, "offset_y_mm": 12, "raise_mm": 12, "mound_mm": 20, "headspace_mm": 8} | fields))  # type: ignore[arg-type]  # fmt: skip
    case = case_for(DEMO, "old-ferryman", pot_id="riverstone-oval", on=date(2026, 3, 10), planting=planting)
    u = units or Units()
    return PlantingPlan(assess(case, DEMO.pots["riverstone-oval"], u), u)


def opened(path: Path) -> QPdfDocument:
    document = QPdfDocument(None)
    document.load(str(path))
    assert document.status() == QPdfDocument.Status.Ready
    return document


def page_px(document: QPdfDocument, page: int) -> np.ndarray:
    """A page at 300 dpi on white, (h, w, 3) as RGB."""
    size = document.pagePointSize(page)
    wide, high = round(size.width() / 72 * DPI), round(size.height() / 72 * DPI)
    image = QImage(wide, high, QImage.Format.Format_RGB888)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.drawImage(0, 0, document.render(page, QSize(wide, high)))
    painter.end()
    bits = image.constBits()
    assert bits is not None
    rows = np.frombuffer(bits.asarray(image.sizeInBytes()), np.uint8).reshape(high, image.bytesPerLine())
    return rows[:, : 3 * wide].reshape(high, wide, 3).astype(int)


def longest_runs(dark: np.ndarray) -> np.ndarray:
    """The longest run of dark pixels of each row."""
    found = []
    for row in dark:
        edges = np.flatnonzero(np.diff(np.concatenate([[0], row.astype(int), [0]])))
        found.append(int((edges[1::2] - edges[::2]).max(initial=0)))
    return np.array(found)


@pytest.fixture
def sheet(qapp, tmp_path: Path) -> QPdfDocument:  # type: ignore[no-untyped-def]
    path = tmp_path / "w.pdf"
    write_worksheet(plan(), path, date(2026, 3, 10))
    return opened(path)


def test_somebody_who_knows_nothing_finds_every_step_figure_and_caution(sheet: QPdfDocument) -> None:
    text = " ".join(sheet.getAllText(n).text().replace("\n", " ").replace("\r", " ") for n in range(sheet.pageCount()))
    made = plan()
    for step in made.steps:
        assert step.title in text, step.key
        for line in step.lines:
            assert line.split(".")[0][:40] in text, line
        for caution in step.cautions:
            assert caution.hazard[:30] in text
    assert made.ties is not None
    for wire in made.ties.wires:
        assert f"{wire.length_mm:.0f} mm" in text
    assert made.batch is not None
    for line in made.batch.lines:
        assert line.name in text
        assert f"{line.scoops:.1f} scoops" in text
    for word in ("Cut list", "Soil", "At hand", "The work", "Afterwards", "Done otherwise", "Take care", "page 1"):
        assert word in text


def test_a_screen_of_61_mm_measures_61_mm_on_paper(sheet: QPdfDocument) -> None:
    cuts = plan().cuts
    assert cuts is not None
    side = cuts.screens[0].length_mm
    page = page_px(sheet, 1)
    runs = longest_runs((page.sum(axis=2) < 300)[: page.shape[0] // 2])
    wanted = side / 25.4 * DPI
    assert np.any(np.abs(runs - wanted) < 0.01 * wanted + 4), (wanted, sorted(set(runs.tolist()))[-5:])


def test_the_pot_from_above_measures_its_length_at_the_scale_that_is_written(sheet: QPdfDocument) -> None:
    text = sheet.getAllText(0).text()
    scale = float(text.split("From above, front at the foot, scale 1 : ")[1].split()[0])
    page = page_px(sheet, 0)
    left = page[:, : round(0.6 * page.shape[1])]
    tint = np.abs(left - np.array([0xF0, 0xD9, 0xCC])).max(axis=2) <= 3
    columns = np.flatnonzero(tint.sum(axis=0) > 2)
    wide = (columns.max() - columns.min() + 1) / DPI * 25.4 * scale
    assert wide == pytest.approx(385, rel=0.012)


def test_a3_is_larger_and_other_papers_are_refused(qapp, tmp_path: Path) -> None:  # type: ignore[no-untyped-def]
    path = tmp_path / "w.pdf"
    write_worksheet(plan(), path, date(2026, 3, 10), "A3")
    size = opened(path).pagePointSize(0)
    assert (size.width(), size.height()) == pytest.approx((842, 1191), abs=2)
    with pytest.raises(FieldError):
        worksheet_pdf(plan(), date(2026, 3, 10), "A7")


@pytest.mark.parametrize("tree", list(DEMO.trees))
def test_every_tree_of_the_bench_has_its_sheet(qapp, tree: str) -> None:  # type: ignore[no-untyped-def]
    standing = DEMO.planting_of(tree)
    assert standing is not None
    u = Units(length="inch")
    a = assess(case_for(DEMO, tree, pot_id=standing.pot, on=date(2026, 3, 10)), DEMO.pots[standing.pot], u)
    assert worksheet_pdf(PlantingPlan(a, u), date(2026, 3, 10))[:4] == b"%PDF"


def test_the_command_writes_it_and_mistakes_are_one_line(
    qapp, tmp_path: Path, capsys: pytest.CaptureFixture[str]
) -> None:  # type: ignore[no-untyped-def]
    bundle = tmp_path / "b.json"
    bundle.write_text(json.dumps(bundle_of(DEMO)))
    out = tmp_path / "w.pdf"
    words = [
        "worksheet",
        str(bundle),
        "--tree",
        "tollgate",
        "--pot",
        "gate-oval",
        "--out",
        str(out),
        "--date",
        "2026-03-10",
    ]
    assert cli.main(words) == 0
    assert "Tollgate into Gate oval" in opened(out).getAllText(0).text().replace("\n", " ")
    for wrong in (
        ["--tree", "nobody"], ["--pot", "none"], ["--out", str(tmp_path / "w.txt")], ["--out", str(tmp_path / "no" / "such" / "w.pdf")],
    ):  # fmt: skip
        assert cli.main([*words, *wrong]) == 2
        told = capsys.readouterr().err
        assert told.startswith("kesh: ")
        assert told.count("\n") == 1


def test_from_the_window_it_goes_where_it_is_asked_to(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    window.session.choose_tree("tollgate")
    window.go("planting")
    answers.path, answers.kind = tmp_path / "sheet", "A3 (*.pdf)"
    window.do("work_sheet")
    assert opened(tmp_path / "sheet.pdf").pagePointSize(0).width() == pytest.approx(842, abs=2)
