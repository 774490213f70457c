"""What Kesh promises of groups: nine trees laid out under 4 s, twenty-five under 12, and a trunk that keeps up with the hand."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from kesh.demo.pictures import create_demo
from kesh.geometry.outline import outline_points
from kesh.model import Outline
from kesh.science.group.anneal import lay_out
from kesh.science.group.layout import Trunks
from kesh.science.group.tray import Tray

Bench = Callable[..., Any]


@pytest.mark.parametrize("n", [9, 25])
def test_a_group_is_laid_out(benchmark: Bench, n: int) -> None:
    chance = np.random.default_rng(n)
    tray = Tray(outline_points(Outline(kind="oval"), 900, 560, 12, 120))
    trunks = Trunks(
        tuple(str(k) for k in range(n)), chance.uniform(10, 34, n), np.full(n, 400.0), np.zeros(n, dtype=bool)
    )
    benchmark.pedantic(lay_out, (trunks, tray, np.zeros(n), np.zeros(n)), rounds=1)  # type: ignore[attr-defined]


@pytest.mark.parametrize(
    ("tree", "room", "view"),
    [
        ("seven-neighbours", "group", "now"),
        ("saddlestone", "planting", "special"),
        ("stilt-house", "planting", "special"),
    ],
)
def test_a_drag_frame(benchmark: Bench, tmp_path: Path, tree: str, room: str, view: str) -> None:
    from PyQt6.QtCore import QPointF, Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

    from kesh.ui import app
    from kesh.ui.settings import Settings

    app.application(without_display=True)
    window = app.build(create_demo(tmp_path / "d.kesh"), Settings(), at_once=True)
    window.resize(1280, 800)
    window.show()
    window.session.choose_tree(tree)
    window.go(room)
    window.show_view(view)
    window.settle()
    face = window.face(room)
    sheet = face.drawing_sheet if room == "group" else face.special_sheet
    if room == "group":
        plan = face.plan()
        start = sheet.plan_plane().px(plan.x[0], plan.y[0])
    else:
        start = sheet.at(sheet.shown()[0])
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=start.toPoint())
    step = iter(range(10**6))

    def frame() -> None:
        k = next(step) % 20
        QTest.mouseMove(sheet, (start + QPointF(k, -k)).toPoint())
        QApplication.processEvents()

    benchmark(frame)
    window.close()
