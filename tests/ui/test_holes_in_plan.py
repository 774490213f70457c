"""Holes by hand in the plan of a pot: clicked, for a wire with Shift, dragged, taken away; never off the floor."""

from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from kesh.ui.rooms.shelf.face import ShelfFace
from kesh.ui.window import MainWindow
from tests.ui.conftest import drag


def test_holes_are_clicked_dragged_and_taken_away(window: MainWindow) -> None:
    s = window.session
    pot = next(p for p in s.collection.pots.values() if p.outline.kind == "oval")
    s.edit("No holes", [("pot", pot.id, pot.changed(holes=(), holes_known=False))])
    window.go("shelf", pot=pot.id)
    face = window.face("shelf")
    assert isinstance(face, ShelfFace)
    drawing = face.card.drawing

    def now() -> tuple[tuple[float, float, bool], ...]:
        return tuple((h.x_mm, h.y_mm, h.drains) for h in s.collection.pots[pot.id].holes)

    def click(x: float, y: float, shift: bool = False) -> None:
        held = Qt.KeyboardModifier.ShiftModifier if shift else Qt.KeyboardModifier.NoModifier
        QTest.mouseClick(drawing, Qt.MouseButton.LeftButton, held, drawing.at(x, y).toPoint())

    click(0.25 * pot.length_mm, 0)
    click(0, 0.2 * pot.width_mm, shift=True)
    (drain, wire) = now()
    assert drain[2]
    assert not wire[2]
    assert abs(drain[0] - 0.25 * pot.length_mm) < 4
    assert s.collection.pots[pot.id].holes_known
    start, end = drawing.at(drain[0], drain[1]), drawing.at(-0.25 * pot.length_mm, 0)
    drag(drawing, start, (end.x() - start.x(), end.y() - start.y()))
    assert abs(now()[0][0] + 0.25 * pot.length_mm) < 4
    click(0.48 * pot.length_mm, 0.45 * pot.width_mm)
    assert len(now()) == 2
    assert "off the floor" in window.status.message
    click(now()[0][0], now()[0][1])
    assert len(now()) == 1
    window.do("undo")
    assert len(now()) == 2
