"""What Kesh promises of step Roots: a root that is pulled keeps up with the hand, and a full map is solved at once."""

from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np

from kesh.demo.pictures import create_demo
from kesh.model import MapRoot
from kesh.science.roots.plan import Bounds, root_plan

Bench = Callable[..., Any]


def drag_frames(
    benchmark: Bench, tmp_path: Path, start_of: Callable[[Any], Any], by: Callable[[int], tuple[int, int]]
) -> None:
    """Time the frames of a drag on the drawing of step Roots: the mouse moves, plan, figures and drawing follow."""
    from PyQt6.QtCore import Qt
    from PyQt6.QtTest import QTest
    from PyQt6.QtWidgets import QApplication

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
    start = start_of(sheet)
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=start)
    step = iter(range(10**6))

    def frame() -> None:
        x, y = by(next(step))
        QTest.mouseMove(sheet, start.__class__(start.x() + x, start.y() + y))
        QApplication.processEvents()

    for _ in range(5):
        frame()
    benchmark.pedantic(frame, rounds=80)  # type: ignore[attr-defined]
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=start)
    window.close()


def test_a_drag_frame_of_a_root(benchmark: Bench, tmp_path: Path) -> None:
    """Promised: 16 ms at the median on a calm machine, plan and figures included."""
    from kesh.science.roots.lines import root_line

    def start(sheet: Any) -> Any:
        sheet.take("r7")
        return sheet.to_px(sheet.stand, root_line(sheet.root(), 92.0)[-1:])[0].toPoint()

    drag_frames(benchmark, tmp_path, start, lambda k: (-(k % 40), round(12 * np.sin(k / 7))))


def test_a_drag_frame_of_the_saw_line(benchmark: Bench, tmp_path: Path) -> None:
    """Promised: 16 ms at the median on a calm machine. The mix under the roots is pulled, and the saw line with it."""

    def start(sheet: Any) -> Any:
        grip = next(g for g in sheet.grips() if g.key == "base_layer_mm")
        return sheet.px(grip.x, grip.y).toPoint()

    drag_frames(benchmark, tmp_path, start, lambda k: (0, -(k % 20)))


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
