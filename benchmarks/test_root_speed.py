"""What Kesh promises of step Roots: a root that is pulled keeps up with the hand, and a full map is solved at once."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from kesh.demo.pictures import create_demo
from kesh.model import MapRoot
from kesh.science.root_plan import Bounds, root_plan

Bench = Callable[..., Any]


def test_a_drag_frame_of_a_root(benchmark: Bench, tmp_path: Path) -> None:
    """Promised: 16 ms at the median on a calm machine, plan and figures included."""
    from PyQt6.QtCore import Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

    from kesh.science.root_lines import root_line
    from kesh.ui import app
    from kesh.ui.settings import Settings

    app.application(without_display=True)
    window = app.build(create_demo(tmp_path / "d.kesh"), Settings(), at_once=True)
    window.resize(1280, 800)
    window.show()
    window.session.choose_tree("mossback")
    window.go("roots")
    window.settle()
    sheet = window.face("roots").map
    sheet.take("r7")
    root, stand = sheet.root(), sheet.stand
    assert root is not None
    assert stand is not None
    start = sheet.to_px(stand, root_line(root, 92.0)[-1:])[0].toPoint()
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=start)
    step = iter(range(10**6))

    def frame() -> None:
        k = next(step)
        spot = start.__class__(start.x() - k % 40, start.y() + round(12 * np.sin(k / 7)))
        QTest.mouseMove(sheet, spot)
        QApplication.processEvents()

    for _ in range(5):
        frame()
    benchmark.pedantic(frame, rounds=80)  # type: ignore[attr-defined]
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=start)
    window.close()


def test_a_map_of_thirty_faults(benchmark: Bench) -> None:
    """The most a map holds, each root with a fault and a side root, over all its repottings."""
    chance = np.random.default_rng(4)
    roots = tuple(
        MapRoot(id=f"r{n}", azimuth_deg=12.0 * n, diameter_mm=float(chance.uniform(4, 24)), reach_mm=150, kind="circling",
                side_root_at_mm=float(chance.uniform(20, 120)))
        for n in range(30)
    )  # fmt: skip
    limits = iter(np.linspace(0.2, 0.3, 400))
    benchmark.pedantic(lambda: root_plan(roots, Bounds(float(next(limits)))), rounds=10)  # type: ignore[attr-defined]
