"""Place Season with hands and keys: spans, a task dragged to another day, answers, this week, the plan of pots, files."""

import csv
from datetime import date, timedelta
from pathlib import Path

import icalendar
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtTest import QTest

from kesh.desk.season import Span, matching, moved_to, span_of
from kesh.model import Collection, Event, Task
from kesh.ui.paint.season_painter import mark_box
from kesh.ui.rooms.season.chart import SeasonChart
from kesh.ui.rooms.season.face import SeasonFace
from kesh.ui.rooms.season.pots_sheet import PotsSheet
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers

DAY = date(2026, 3, 10)
REPOT = "repot-mossback-2026"


def at_season(window: MainWindow, view: str = "year") -> SeasonFace:
    window.session.today = DAY
    window.go("season")
    window.show_view(view)
    face = window.face("season")
    assert isinstance(face, SeasonFace)
    return face


def kept(window: MainWindow, key: str) -> Task | None:
    """A task as the book has it, from what was said of it."""
    return next((t for t in window.session.book().tasks if t.id == key), None)


def spot(chart: SeasonChart, tree: str, task: str) -> QPointF:
    n = chart.trees.index(tree)
    mark = next(m for m in chart.row(tree).marks if m.task == task)
    return mark_box(mark, chart.plot(), chart.head_px + n * chart.row_px, chart.row_px / 58).center()


def pull(chart: SeasonChart, start: QPointF, dx: float, *, drop: bool = True) -> None:
    view = chart.viewport()
    assert view is not None
    a = start.toPoint()
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=a)
    for n in range(1, 5):
        QTest.mouseMove(view, a + QPoint(round(dx * n / 4), 0))
    if drop:
        QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=a + QPoint(round(dx), 0))


def test_every_view_opens_and_says_what_is_in_sight(window: MainWindow) -> None:
    face = at_season(window)
    assert "window" in face.title()
    for view, days in (("year", 365), ("quarter", 92), ("weeks", 44)):
        face.desk.views[view].click()
        assert face.desk.chart.span.days == days
        assert face.desk.chart.span.first <= DAY <= face.desk.chart.span.last
    assert face.desk.chart.span.first.weekday() == 0
    assert len(face.desk.chart.trees) == len(window.session.collection.trees)


def test_a_job_is_dragged_to_another_day_and_undone(window: MainWindow) -> None:
    face = at_season(window, "weeks")
    chart = face.desk.chart
    before = chart.jobs[REPOT].day
    a_week = 7 * chart.plot().width / chart.span.days
    pull(chart, spot(chart, "mossback", REPOT), a_week)
    task = kept(window, REPOT)
    assert task is not None
    assert task.day == before + timedelta(days=7)
    assert chart.task == REPOT
    assert "you give 8" in face.beside.in_hand.moving.text()
    window.do("undo")
    assert kept(window, REPOT) is not None
    assert chart.jobs[REPOT].day == before


def test_while_it_is_dragged_the_panel_says_what_changes_and_nothing_is_written(window: MainWindow) -> None:
    face = at_season(window, "quarter")
    chart = face.desk.chart
    tasks = window.session.collection.tasks
    pull(chart, spot(chart, "mossback", REPOT), 60 * chart.plot().width / chart.span.days, drop=False)
    assert "after its window" in face.beside.in_hand.moving.text()
    assert window.session.collection.tasks == tasks


def test_keys_walk_rows_tasks_weeks_and_days(window: MainWindow) -> None:
    face = at_season(window, "weeks")
    chart = face.desk.chart
    first = chart.span.first
    QTest.keyClick(chart, Qt.Key.Key_Right)
    assert chart.span.first == first + timedelta(days=7)
    QTest.keyClick(chart, Qt.Key.Key_Home)
    assert chart.span.first == first
    chart.tree = "mossback"
    QTest.keyClick(chart, Qt.Key.Key_G)
    assert chart.task == REPOT
    day = chart.jobs[REPOT].day
    QTest.keyClick(chart, Qt.Key.Key_Right)
    assert chart.jobs[REPOT].day == day + timedelta(days=1)
    QTest.keyClick(chart, Qt.Key.Key_Left, Qt.KeyboardModifier.ControlModifier)
    assert chart.jobs[REPOT].day == day - timedelta(days=6)
    QTest.keyClick(chart, Qt.Key.Key_Escape)
    assert chart.task == ""
    QTest.keyClick(chart, Qt.Key.Key_Down)
    assert chart.tree == "evening-bell"
    QTest.keyClick(chart, Qt.Key.Key_Return)
    assert window.room == "log"
    assert window.session.tree_id == "evening-bell"


def test_trees_are_found_by_pot_mix_and_due_work(window: MainWindow) -> None:
    face = at_season(window)
    book = face.book
    assert matching(book, "wren") == []
    assert matching(book, "kanuma") == [] or "evening-bell" in matching(book, "kanuma")
    assert set(matching(book, "old peat")) == {"wicket", "rope-ladder"}
    assert matching(book, "pinch") == ["grey-heron"]
    face.desk.search.setText("gate oval")
    assert face.desk.chart.trees == ["tollgate"]
    face.desk.search.setText("nothing of this kind")
    assert face.desk.chart.trees == []


def repotted(window: MainWindow, tree: str, day: date, share: float = 0.3) -> None:
    event = Event(id="rr", tree=tree, date=day, kind="repotted", figures=(("removed_feeder_share", share),))
    window.session.edit("Repotted", [("event", event.id, event)])


def test_a_sign_is_asked_and_each_answer_does_what_it_says(window: MainWindow) -> None:
    face = at_season(window)
    repotted(window, "evening-bell", DAY - timedelta(days=40))
    key = "wind_shelter-rr"
    box = face.beside.in_hand
    face._take(key)
    assert box.head._note == "has the sign come?"
    QTest.mouseClick(box.answers["not_yet"], Qt.MouseButton.LeftButton)
    task = kept(window, key)
    assert task is not None
    assert (task.state, task.times) == ("extended", 1)
    assert task.to is not None
    assert task.to > DAY
    assert any(e.kind == "aftercare" and "not yet" in e.text for e in window.session.collection.events)
    QTest.mouseClick(box.answers["worse"], Qt.MouseButton.LeftButton)
    assert any(t.kind == "look_closer" for t in face.book.tasks)
    face._take(key)
    QTest.mouseClick(box.answers["yes"], Qt.MouseButton.LeftButton)
    task = kept(window, key)
    assert task is not None
    assert task.state == "done"
    for _ in range(3):
        window.do("undo")
    task = kept(window, key)
    assert task is not None
    assert (task.times, task.state) == (0, "running")
    assert not window.session.collection.answers


def test_a_task_of_ones_own_without_minutes_stands_in_this_week(window: MainWindow) -> None:
    own = Task.made(
        id="own-look", tree="tollgate", kind="look", to=DAY + timedelta(days=1), text="Buds?", **{"from": DAY}
    )
    window.session.edit("x", [("task", own.id, own)])
    face = at_season(window)
    assert "own-look" in {t.id for t, _, _ in face.desk.week.lines}


def test_this_week_is_ticked_and_a_repotting_goes_to_where_it_is_written_down(window: MainWindow) -> None:
    s = window.session
    own = Task.made(
        id="own-wire",
        tree="tollgate",
        kind="wire",
        to=DAY + timedelta(days=3),
        day=DAY,
        text="Left arm",
        **{"from": DAY},
    )
    s.edit("x", [("task", own.id, own)])
    face = at_season(window)
    week = face.desk.week
    at = next(n for n, (t, _, _) in enumerate(week.lines) if t.id == "own-wire")
    QTest.mouseClick(week, Qt.MouseButton.LeftButton, pos=week.tick_box(at).center().toPoint())
    task = kept(window, "own-wire")
    assert task is not None
    assert task.state == "done"
    assert any(e.kind == "wired" and e.text == "Left arm" for e in s.collection.events_of("tollgate"))
    week.ticked.emit(REPOT)
    assert (window.room, s.tree_id) == ("planting", "mossback")


def test_it_is_left_out_only_with_a_reason(window: MainWindow) -> None:
    face = at_season(window)
    face._take(REPOT)
    box = face.beside.in_hand
    QTest.keyClick(box.reason, Qt.Key.Key_Return)
    task = kept(window, REPOT)
    assert task is not None
    assert task.state != "skipped"
    QTest.keyClicks(box.reason, "too weak this year")
    QTest.keyClick(box.reason, Qt.Key.Key_Return)
    task = kept(window, REPOT)
    assert task is not None
    assert (task.state, task.note) == ("skipped", "too weak this year")


def test_a_crowded_weekend_says_who_can_wait_and_a_click_moves_it(window: MainWindow) -> None:
    s = window.session
    face = at_season(window)
    habits = face.book.habits.changed(weekend_hours=3)
    s.edit("Fewer hours", [("habits", "habits", habits)])
    crowded = [x for x in face.said if x.code.startswith("crowded/") and x.move_to is not None]
    if not crowded:
        # laid by Kesh itself the weekends hold; two jobs on one day by hand do not
        for tree in ("mossback", "tollgate", "honeyjar"):
            task = next(t for t in face.book.tasks if t.tree == tree and t.kind == "repot")
            s.edit("x", moved_to(task, date(2026, 3, 14), DAY))
        crowded = [x for x in face.said if x.code.startswith("crowded/") and x.move_to is not None]
    said = crowded[0]
    assert "can wait until" in said.text
    assert window.ask(said.code)
    window.why.mend.click()
    assert said.task is not None
    task = kept(window, said.task)
    assert task is not None
    assert task.day == said.move_to


def test_habits_are_typed_and_wrong_ones_are_sentences(window: MainWindow) -> None:
    face = at_season(window)
    box = face.beside.habits
    box.unfold()
    box.fields["weekend_hours"].setText("12")
    box.fields["weekend_hours"].editingFinished.emit()
    assert face.book.habits.weekend_hours == 12
    box.away.setText("2026-05-01..2026-05-10+, 2026-08-01..2026-08-14")
    box.away.editingFinished.emit()
    assert [a.keeper for a in face.book.habits.away] == [True, False]
    for wrong in ("2026-05-10..2026-05-01", "soon"):
        box.away.setText(wrong)
        box.away.editingFinished.emit()
        assert len(face.book.habits.away) == 2
        assert window.status.message


def test_an_own_task_is_added_and_changed(window: MainWindow) -> None:
    face = at_season(window)
    face.desk.chart.tree = "wicket"
    window.do("new_task")
    box = face.beside.own
    assert box.task is not None
    key = box.task.id
    box.kind.chosen.emit("prune")
    box.last.setText("20 Jun 2026")
    box.last.editingFinished.emit()
    box.text.setText("Second flush")
    box.text.editingFinished.emit()
    task = kept(window, key)
    assert task is not None
    assert (task.tree, task.kind, task.to, task.text) == ("wicket", "prune", date(2026, 6, 20), "Second flush")
    box.first.setText("1 Jul 2026")
    box.first.editingFinished.emit()
    assert "before it begins" in window.status.message


def test_the_round_goes_from_tree_to_tree(window: MainWindow) -> None:
    face = at_season(window)
    box = face.beside.round
    QTest.mouseClick(box.begin, Qt.MouseButton.LeftButton)
    first = box.tree
    box.checks[1].setChecked(False)
    box.note.setText("scale on the tail")
    QTest.mouseClick(box.next, Qt.MouseButton.LeftButton)
    event = window.session.collection.events_of(first)[-1]
    assert (event.kind, event.text) == ("round", "pests; scale on the tail")
    assert box.tree != first
    every = len(window.session.collection.trees)
    for _ in range(every - 1):
        box.looked()
    assert box.tree == ""
    assert sum(e.kind == "round" for e in window.session.collection.events) == every


def test_who_gets_which_pot_is_accepted_move_by_move_and_undone(window: MainWindow) -> None:
    face = at_season(window, "pots")
    sheet, panel = face.plan_sheet, face.plan_panel
    assert isinstance(sheet, PotsSheet)
    assert sheet.plan is not None
    before = len(sheet.rows)
    assert before > 2
    QTest.keyClick(sheet, Qt.Key.Key_Down)
    move = next(r.move for r in sheet.rows if r.move.tree == panel.tree)
    QTest.mouseClick(panel.take, Qt.MouseButton.LeftButton)
    lineup = window.session.collection.lineups[move.tree]
    assert lineup.chosen == move.to_pot
    kept_for = window.session.collection.pots[move.to_pot].reserved
    assert kept_for is not None
    assert kept_for.tree == move.tree
    assert any(t.tree == move.tree and t.kind == "repot" and t.pot == move.to_pot for t in window.session.book().tasks)
    assert next(r for r in sheet.rows if r.move.tree == move.tree).accepted
    window.do("undo")
    assert window.session.collection.pots[move.to_pot].reserved is None


def test_a_move_that_is_struck_out_is_not_planned_again_until_it_is_allowed(window: MainWindow) -> None:
    face = at_season(window, "pots")
    sheet = face.plan_sheet
    move = sheet.rows[0].move
    sheet.tree = move.tree
    QTest.keyClick(sheet, Qt.Key.Key_Delete)
    assert (move.tree, move.to_pot) not in {(r.move.tree, r.move.to_pot) for r in sheet.rows}
    row = next(r for r in window.session.collection.rejections if (r.tree, r.pot) == (move.tree, move.to_pot))
    face.plan_panel._allow(row)
    assert (move.tree, move.to_pot) in {(r.move.tree, r.move.to_pot) for r in sheet.rows}


def test_the_calendar_file_is_written_and_read_by_another_program(
    window: MainWindow, answers: Answers, tmp_path: Path
) -> None:
    at_season(window)
    answers.path = tmp_path / "bench"
    window.do("calendar_file")
    found = icalendar.Calendar.from_ical((tmp_path / "bench.ics").read_bytes())
    assert len(found.walk("VEVENT")) > 20
    answers.path = tmp_path / "no" / "such" / "bench.ics"
    window.do("calendar_file")
    assert window.status.message
    assert not (tmp_path / "no").exists()


@pytest.mark.parametrize("command", ["print_week", "print_month"])
def test_the_week_and_the_month_on_paper(window: MainWindow, answers: Answers, tmp_path: Path, command: str) -> None:
    at_season(window)
    answers.path = tmp_path / "week.pdf"
    window.do(command)
    document = QPdfDocument(None)
    assert document.load(str(tmp_path / "week.pdf")) == QPdfDocument.Error.None_
    assert document.pageCount() >= 1
    text = document.getAllText(0).text()
    assert "Mossback" in text
    assert "Repot" in text or "repot" in text


def test_a_list_of_tasks_is_written(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    at_season(window)
    answers.path = tmp_path / "tasks.csv"
    window.do("tasks_list")
    assert "Mossback" in (tmp_path / "tasks.csv").read_text(encoding="utf-8")


def test_an_empty_collection_and_one_without_climate_open(window: MainWindow) -> None:
    s = window.session
    at_season(window)
    s.edit("No climate", [("site", "site", None)])
    window.settle()
    assert s.book().windows["mossback"].season.why.startswith("by the usual months")
    for tree in list(s.collection.trees):
        s.edit("x", [("tree", tree, None)])
    face = at_season(window)
    assert "No tree" in face.title()
    window.show_view("pots")
    window.grab()


def test_spans_stay_within_the_calendar() -> None:
    assert span_of("year", date(2028, 2, 29)).first == date(2028, 1, 1)
    far = Span(date(9999, 11, 1), 30)
    assert far.moved(400) == far
    assert Span(date(2026, 12, 20), 30).months()[-1] == (date(2027, 1, 1), "Jan 2027")


def test_a_pot_comes_free_by_a_chain_and_the_plan_draws_it(window: MainWindow) -> None:
    """Two trees stand in each other's best pot: the chain is told, and taking the second takes the first with it."""
    s = window.session
    c: Collection = s.collection
    held = {t: p for t in c.trees if (p := c.planting_of(t)) is not None}
    # everything on the shelf is somebody else's, so that only freed pots are left
    gone = [("pot", p.id, p.changed(state="wish")) for p in c.pots.values() if p.state == "shelf"]
    s.edit("An empty shelf", gone)
    face = at_season(window, "pots")
    plan = face.plan_panel.plan
    assert plan is not None
    for move in plan.moves:
        assert move.frees is None or move.to_pot == held[move.frees].pot
        chain = plan.chain_of(move.tree)
        assert chain[-1].tree == move.tree
    window.grab()


def test_the_order_list_says_what_is_missing_and_for_whom(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    face = at_season(window)
    answers.path = tmp_path / "orders.csv"
    window.do("order_list")
    with (tmp_path / "orders.csv").open(encoding="utf-8", newline="") as file:
        rows = list(csv.DictReader(file))
    wire = next(r for r in rows if r["key"] == "wire-aluminium-2")
    assert float(wire["missing"]) == pytest.approx(float(wire["need"]) - float(wire["have"]), abs=0.1)
    assert "Mossback" in wire["trees"]
    assert face.stock is not None
    assert len(rows) == len(face.stock)
    short = next(x for x in face.said if x.code.startswith("short/"))
    (tmp_path / "orders.csv").unlink()
    assert window.ask(short.code)
    window.why.mend.click()
    assert (tmp_path / "orders.csv").exists()


def test_windows_of_ones_own_are_typed_in_the_reference_and_move_the_season(window: MainWindow) -> None:
    face = at_season(window)
    before = face.book.windows["mossback"].season.first
    assert before is not None
    window.go("reference")
    box = window.face("reference").tables.site.windows  # type: ignore[attr-defined]
    box.unfold()

    def put(low: str, high: str) -> None:
        box.fields["bud_swell", "low"].setText(low)
        box.fields["bud_swell", "high"].setText(high)
        box.fields["bud_swell", "high"].editingFinished.emit()

    put("45", "95")
    after = window.session.book().windows["mossback"].season.first
    assert after is not None
    assert after > before
    for low, high in (("soon", "95"), ("95", "45")):
        put(low, high)
        assert window.status.message
        assert window.session.book().windows["mossback"].season.first == after
    put("", "")
    assert window.session.book().windows["mossback"].season.first == before
    site = window.session.collection.site
    assert site is not None
    assert site.windows == ()
