"""A stand under the pot and the artist's weights: set in the brief, drawn, counted and taken back."""

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from kesh.figure.stand_figure import stand_figure
from kesh.model import MassWeights
from kesh.ui.window import MainWindow
from tests.builders import pot


@pytest.mark.parametrize("height", [6.0, 20.0, 30.0, 90.0, 600.0])
def test_a_stand_reaches_from_the_pot_to_the_bench(height: float) -> None:
    figure = stand_figure(pot(), height)
    parts = [figure.board, *figure.legs]
    assert max(part[:, 1].max() for part in parts) == 0
    assert min(part[:, 1].min() for part in parts) == -height
    assert figure.board[:, 0].max() > pot().length_mm / 2
    assert len(figure.legs) == (0 if height <= 20 else 2)


def brief(window: MainWindow):  # type: ignore[no-untyped-def]
    window.go("brief")
    return window.face("brief").wishes


def test_a_stand_raises_the_tree_on_the_sheet_and_counts_toward_the_height_allowed(window: MainWindow) -> None:
    panel, sheet = brief(window), window.face("tree").front
    before = sheet.extent_mm()
    for field, text in ((panel.stand, "80"), (panel.show_height, "70 cm")):
        field.setFocus()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
    assert sheet.extent_mm().top() == before.top() - 80
    finding = window.session.assessment().finding("show_height")  # type: ignore[union-attr]
    total = 560 + window.session.pot.height_mm + 80 + window.session.planting.raise_mm  # type: ignore[union-attr]
    assert finding is not None
    assert finding.value == total
    assert finding.status == "no"
    assert f"{total - 700:g} mm lower" in finding.remedy
    window.go("line-up")
    assert all(s.stand_mm == 80 and s.low_mm <= -80 for s in window.face("line-up").columns._stands())
    window.grab()
    window.do("undo")
    window.do("undo")
    assert sheet.extent_mm() == before


def test_a_slider_tries_while_held_and_writes_when_let_go(window: MainWindow) -> None:
    panel = brief(window)
    slider = panel.weights["pot"].slider
    ratio = float(window.session.assessment().figures.visual_ratio[0])  # type: ignore[union-attr,index]
    slider.setSliderDown(True)
    slider.setValue(50)
    assert window.session.dragging
    assert float(window.session.assessment().figures.visual_ratio[0]) == pytest.approx(ratio / 2)  # type: ignore[union-attr,index]
    assert window.session.file.collection.briefs["old-ferryman"].weights == MassWeights()
    slider.setSliderDown(False)
    assert window.session.brief.weights.pot == 0.5
    assert panel.usual.isVisible()
    panel.usual.click()
    assert window.session.brief.weights == MassWeights()
    assert panel.weights["pot"].figure.text() == "1.00"
    window.do("undo")
    assert window.session.brief.weights.pot == 0.5


def test_keys_move_a_weight(window: MainWindow) -> None:
    panel = brief(window)
    slider = panel.weights["dense"].slider
    slider.setFocus()
    QTest.keyClick(slider, Qt.Key.Key_Left)
    assert window.session.brief.weights.dense == 0.84
    assert panel.weights["dense"].figure.text() == "0.84"
