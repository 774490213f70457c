"""What Kesh promises about photographs: reading and cutting out 24 megapixels, a brush and a reader that keep up."""

from collections.abc import Callable
from functools import lru_cache
from pathlib import Path
from typing import Any

import cv2
import numpy as np
import pytest

from kesh.demo.lanternfield import demo_collection
from kesh.demo.photographs.tree import Shot, render
from kesh.demo.pictures import create_demo
from kesh.model import TreePhoto
from kesh.photo.darkroom import Darkroom
from kesh.photo.garden.propose import about
from kesh.photo.view import Hints, View
from kesh.reference.tables import tables

Bench = Callable[..., Any]


@lru_cache
def _large() -> tuple[bytes, tuple[float, float], tuple[tuple[float, float], ...]]:
    """A JPEG of 4000 x 6000 px before a hedge, its trunk's foot, and a loop round the tree."""
    demo = demo_collection()
    tree = demo.trees["mossback"]
    planting = demo.planting_of(tree.id)
    assert planting is not None
    shot = Shot(size_px=(4000, 6000), px_mm=6.0, ground="hedge", seed=3, foot=(0.5, 0.75))
    made = render(tree, tables((), ()).species.get(tree.species or ""), demo.pots[planting.pot], shot)
    loop = about(made.mask > 0, View.of(made.image, Hints(made.soil_px), 1.0))
    assert loop is not None
    return cv2.imencode(".jpg", made.image)[1].tobytes(), made.soil_px, tuple((float(x), float(y)) for x, y in loop)


@pytest.mark.parametrize("looped", [True, False], ids=["with a loop", "without"])
def test_24_megapixels_from_file_to_figures(benchmark: Bench, looped: bool) -> None:
    """Promised: opened, cut out and measured in under 6 s with a loop."""
    body, soil, loop = _large()

    def whole() -> None:
        room = Darkroom(lambda _: body)
        photo = TreePhoto(id="a", tree="t", picture="p", soil=soil, known=((1000, 4600), (3000, 4600)), known_mm=333,
                          loop=loop if looped else ())  # fmt: skip
        room.develop("p", body, "large.jpg")
        room.cut(photo)
        assert room.figures(photo) is not None
        room.places(photo)

    benchmark.pedantic(whole, rounds=3)  # type: ignore[attr-defined]


def test_a_frame_of_a_brush_stroke(benchmark: Bench, tmp_path: Path) -> None:
    """Promised: 60 frames a second, 16 ms, while the stroke is drawn."""
    from PyQt6.QtCore import QPoint, Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

    from kesh.ui import app
    from kesh.ui.settings import Settings

    app.application(without_display=True)
    window = app.build(create_demo(tmp_path / "d.kesh"), Settings(), at_once=True)
    window.resize(1280, 800)
    window.show()
    window.session.choose_tree("old-ferryman")
    window.show_view("photo")
    window.settle()
    sheet = window.face("tree").photo
    sheet.use_tool("leaf")
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=QPoint(200, 200))
    step = iter(range(10**6))

    def frame() -> None:
        k = next(step)
        QTest.mouseMove(sheet, QPoint(200 + k % 120, 200 + round(40 * np.sin(k / 9))))
        QApplication.processEvents()

    for _ in range(5):
        frame()
    benchmark.pedantic(frame, rounds=120)  # type: ignore[attr-defined]
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=QPoint(260, 200))
    window.close()


def test_a_finished_stroke(benchmark: Bench) -> None:
    """From letting go to the mended cut-out with its figures, colours beside it following."""
    body, soil, loop = _large()
    room = Darkroom(lambda _: body)
    known = ((1000.0, 4600.0), (3000.0, 4600.0))
    photo = TreePhoto(id="a", tree="t", picture="p", soil=soil, known=known, known_mm=333, loop=loop)
    room.cut(photo)
    from kesh.desk.photo import stroked

    step = iter(range(10**6))

    def stroke() -> None:
        x = 1500.0 + 20 * next(step)
        changed = stroked(photo, "leaf", [(x, 2500.0), (x + 300, 2600.0)], 60.0, follow=True)
        room.mask(changed)
        room.figures(changed)
        room.places(changed)

    benchmark.pedantic(stroke, rounds=5)  # type: ignore[attr-defined]
