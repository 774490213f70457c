"""Step Planting: a frame of the trunk's drag with ties, rose and balance; the plan at rest; the work sheet."""

from datetime import date
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from benchmarks.test_speed import Bench
from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.advice.planting.plan import PlantingPlan
from kesh.base.units import Units
from kesh.demo.lanternfield import demo_collection
from kesh.demo.opening import open_demo
from kesh.ui import app
from kesh.ui.paper.worksheet import worksheet_pdf
from kesh.ui.settings import Settings

DEMO = demo_collection()


def plan() -> PlantingPlan:
    case = case_for(DEMO, "tollgate", pot_id="gate-oval", on=date(2026, 3, 10))
    return PlantingPlan(assess(case, DEMO.pots["gate-oval"]), Units())


@pytest.mark.parametrize("view", ["ties", "place"])
def test_a_drag_frame_of_the_trunk(benchmark: Bench, tmp_path: Path, view: str) -> None:
    app.application(without_display=True)
    window = app.build(open_demo(), Settings(), at_once=True)
    window.session.today = date(2026, 3, 10)
    window.resize(1280, 800)
    window.show()
    window.session.choose_tree("old-ferryman")
    window.go("planting")
    window.show_view(view)
    window.settle()
    sheet = window.face("planting").drawing_sheet
    start = next(s.at for s in sheet.spots() if s.key == "trunk").toPoint()
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=start)
    at = [0]

    def frame() -> None:
        at[0] += 1
        QTest.mouseMove(sheet, start + QPoint(at[0] % 30 + 3, at[0] % 17))
        QApplication.processEvents()

    for _ in range(10):
        frame()
    benchmark.pedantic(frame, rounds=60, iterations=1)
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=start)
    window.close()


def test_a_plan_at_rest(benchmark: Bench) -> None:
    def whole() -> None:
        made = plan()
        assert made.findings
        assert made.steps

    benchmark(whole)


def test_the_work_sheet(benchmark: Bench) -> None:
    app.application(without_display=True)
    made = plan()
    assert benchmark.pedantic(lambda: worksheet_pdf(made, date(2026, 3, 10)), rounds=3, iterations=1)
