"""The Workshop shows what the maker in hand makes: pieces on the bed and apart, boards, staves, pipe, holes to come."""

import numpy as np
import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest

from kesh.ui.paint.built import Built
from kesh.ui.rooms.workshop.made_view import MadeView
from kesh.ui.rooms.workshop.turn_view import TurnView
from kesh.ui.window import MainWindow


def turn(window: MainWindow) -> TurnView:
    return window.face("workshop").desk.turn


def built(window: MainWindow) -> Built:
    found = turn(window).built
    assert found is not None
    return found


def shown(window: MainWindow) -> tuple[object, object]:
    return tuple(corner.currentWidget() for corner in window.face("workshop").desk.corners)  # type: ignore[return-value]


def spot_of(window: MainWindow, number: int) -> QPointF:
    """The middle of what is seen of one part."""
    window.settle()
    turn(window).grab()
    last = built(window).last
    assert last is not None
    rows, columns = np.nonzero(last.body == number)
    assert len(rows) > 30, "the part can be seen"
    # a place well inside it
    k = int(np.argmin((rows - np.median(rows)) ** 2 + (columns - np.median(columns)) ** 2))
    return QPointF(float(columns[k]), float(rows[k]))


def test_each_maker_shows_what_it_makes_and_the_potter_the_design(workshop: MainWindow) -> None:
    face = workshop.face("workshop")
    for route, name in (("print", "How they go together"), ("box", "Boards"), ("tube", "Pipe")):
        face.show_route(route)
        assert all(isinstance(view, MadeView) for view in shown(workshop))
        assert turn(workshop).made == name
        titles = [view.drawing.title for view in shown(workshop) if isinstance(view, MadeView) and view.drawing]
        assert len(titles) == 2
    assert titles == ["The pipe from the front", "Unrolled, guy holes placed"]
    names = set(built(workshop).names)
    assert {"pipe", "floor", "guy"} <= names
    face.show_route("potter")
    assert shown(workshop) == (face.desk.profile, face.desk.plan)
    assert turn(workshop).built is None


def test_boards_are_those_of_the_cut_list(workshop: MainWindow) -> None:
    face = workshop.face("workshop")
    face.show_route("box")
    job = face.makers.job
    assert job is not None
    counts = {row[0].split(",")[0]: 0 for row in job.tables[0][2]}
    for row in job.tables[0][2]:
        counts[row[0].split(",")[0]] += int(row[3])
    seen = built(workshop).names
    for name, count in counts.items():
        assert seen.count(name) == count
    face.makers.makers.asked["box", "shape"].chosen.emit("tub of staves")
    assert built(workshop).names.count("stave") == 12
    assert built(workshop).names.count("hoop") == 2


def test_a_piece_is_dragged_apart_and_goes_in_again(workshop: MainWindow) -> None:
    workshop.face("workshop").show_route("print")
    view, one = turn(workshop), built(workshop)
    assert one.apart, "shown taken apart: in its place a piece tells nothing"
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_J)
    assert not one.apart
    yaw = view.yaw
    start = spot_of(workshop, 0)
    told: list[str] = []
    view.pointed.connect(told.append)
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start.toPoint())
    QTest.mouseMove(view, (start + QPointF(-20, -30)).toPoint())
    assert one.apart
    assert np.linalg.norm(one.shifts[0]) > 5
    assert one.shifts[0][2] > 0, "up out of its place"
    assert all(not s.any() for s in one.shifts[1:])
    assert told
    assert told[-1].startswith("Piece 1: ")
    assert told[-1].endswith("apart")
    QTest.mouseMove(view, (start + QPointF(1, 0)).toPoint())
    assert not one.apart, "near its place it goes in"
    assert told[-1].endswith("in its place")
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=start.toPoint())
    assert view.yaw == yaw
    # beside the pieces the hand turns the view
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=QPointF(12, view.height() - 30).toPoint())
    QTest.mouseMove(view, QPointF(72, view.height() - 30).toPoint())
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=QPointF(72, view.height() - 30).toPoint())
    assert view.yaw != yaw


def test_a_piece_never_goes_down_through_the_bench(workshop: MainWindow) -> None:
    workshop.face("workshop").show_route("print")
    one = built(workshop)
    one.scale = 0.5
    one.drag(0, np.zeros(3), 0.0, 80.0, 0.0)
    assert one.shifts[0][2] == 0.0
    one.drag(0, np.zeros(3), 40.0, -60.0, 0.0)
    assert one.shifts[0] == pytest.approx([80.0, 0.0, 120.0])


def test_a_bed_that_cannot_be_is_told_where_the_pieces_would_lie(workshop: MainWindow) -> None:
    face = workshop.face("workshop")
    face.show_route("print")
    face.makers.makers.asked["print", "bed_mm"][2].entered.emit(9.0)
    assert face.makers.job is None
    assert turn(workshop).built is None
    first, second = shown(workshop)
    assert isinstance(first, MadeView)
    assert "leaves no room to print" in first.note
    assert second is face.desk.plan
    face.makers.makers.asked["print", "bed_mm"][2].entered.emit(250.0)
    assert turn(workshop).built is not None


def test_holes_to_come_stand_in_every_view_of_the_drill(workshop: MainWindow) -> None:
    face = workshop.face("workshop")
    face.show_route("drill")
    face.desk.list.choose("uncut-oval")
    desk = face.desk
    assert len(desk.plan.proposed) == len(desk.profile.proposed) == len(desk.turn.proposed) == 4
    with_rings = desk.turn.grab().toImage()
    desk.turn.proposed = ()
    assert desk.turn.grab().toImage() != with_rings
    face.desk.list.choose("ferry-tray")
    assert desk.turn.proposed == ()


@pytest.mark.parametrize("route", ["print", "box", "tube", "drill"])
def test_every_view_paints_in_the_dark_and_in_inches(workshop: MainWindow, route: str) -> None:
    face = workshop.face("workshop")
    face.show_route(route)
    light = face.desk.grab().toImage()
    workshop.do("theme")
    workshop.do("units")
    workshop.do("units")
    assert face.desk.grab().toImage() != light
    assert workshop.session.theme.is_dark
    assert workshop.session.units.length == "inch"


def test_a_pot_that_fits_is_shown_whole_on_its_bed(workshop: MainWindow) -> None:
    face = workshop.face("workshop")
    face.show_route("print")
    for k in (0, 1):
        face.makers.makers.asked["print", "bed_mm"][k].entered.emit(500.0)
    one = built(workshop)
    assert one.names == ["whole"]
    assert not one.loose
    assert turn(workshop).made == "Printed whole"
    titles = [view.drawing.title for view in shown(workshop) if isinstance(view, MadeView) and view.drawing]
    assert titles == ["On the bed", "How it lies"]
    # one body: the hand turns it, nothing comes apart
    yaw = turn(workshop).yaw
    spot = spot_of(workshop, 0).toPoint()
    QTest.mousePress(turn(workshop), Qt.MouseButton.LeftButton, pos=spot)
    QTest.mouseMove(turn(workshop), spot + QPointF(30, 0).toPoint())
    QTest.mouseRelease(turn(workshop), Qt.MouseButton.LeftButton, pos=spot)
    assert turn(workshop).yaw != yaw
    QTest.keyClick(turn(workshop), Qt.Key.Key_J)
    assert not one.apart
