"""Step Log with hands and keys: the life, entries written and put right, aftercare asked, the years ahead, then and now, lists."""

from datetime import date, timedelta
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from kesh.advice.season.life import Life
from kesh.base.errors import FieldError
from kesh.desk.log import read_day, read_figures, read_share
from kesh.model import Event
from kesh.ui.rooms.log.face import LogFace
from kesh.ui.rooms.log.list_sheet import figure_words
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers

DAY = date(2026, 3, 10)


def at_log(window: MainWindow, tree: str = "tollgate", view: str = "life") -> LogFace:
    window.session.today = DAY
    window.session.choose_tree(tree)
    window.go("log")
    window.show_view(view)
    face = window.face("log")
    assert isinstance(face, LogFace)
    return face


def life_of(face: LogFace) -> Life:
    life = face.life()
    assert life is not None
    return life


def write(window: MainWindow, face: LogFace, kind: str, **fields: str) -> None:
    box = face.beside.box
    box.kind.show_key(kind)
    box.kind.chosen.emit(kind)
    for name, text in fields.items():
        getattr(box, name).setText(text)
    QTest.mouseClick(face.beside.write, Qt.MouseButton.LeftButton)


def test_the_life_shows_pots_works_and_growth_to_one_scale(window: MainWindow) -> None:
    face = at_log(window)
    life = life_of(face)
    assert [s.pot.id for s in life.stands] == ["short-square", "terracotta-tub", "mesh-crate", "gate-tray", "gate-oval"]
    assert life.stands[0].tree.measure.height_mm == pytest.approx(165)
    assert face.life_sheet.px_mm > 0.05
    assert "% full" in face.title()
    for tree in window.session.collection.trees:
        at_log(window, tree)
        window.grab()


def test_keys_and_clicks_walk_the_entries(window: MainWindow) -> None:
    face = at_log(window)
    sheet, events = face.life_sheet, life_of(face).events
    QTest.keyClick(sheet, Qt.Key.Key_End)
    assert face.event_id == events[-1].id
    QTest.keyClick(sheet, Qt.Key.Key_Left)
    assert face.event_id == events[-2].id
    event = next(e for e in events if e.kind == "repotted" and e.date.year == 2021)
    x, y = sheet.x_of(event.date), sheet._picture_px() + 40
    QTest.mouseClick(sheet, Qt.MouseButton.LeftButton, pos=sheet.rect().topLeft().__class__(round(x), round(y)))
    assert face.event_id == event.id
    assert face.beside.entry.isVisible()
    assert "44 %" in face.beside.entry.told.text()


def test_an_entry_is_written_with_its_figure_and_undone(window: MainWindow) -> None:
    face = at_log(window)
    before = len(life_of(face).events)
    write(window, face, "pruned", text="Second leaves", figure="20 %", minutes="45", cost="3.5", day="1 Mar 2026")
    event = next(e for e in life_of(face).events if e.text == "Second leaves")
    assert (event.kind, event.date, dict(event.figures), event.minutes, event.cost) == (
        "pruned",
        date(2026, 3, 1),
        {"foliage_share": 0.2},
        45,
        3.5,
    )
    assert len(life_of(face).events) == before + 1
    assert face.beside.strain.ledger is not None
    assert any(load.words == "cut" and load.day == date(2026, 3, 1) for load in face.beside.strain.ledger.loads)
    window.do("undo")
    assert len(life_of(face).events) == before


def test_a_count_needs_its_whole_and_a_rough_one_stays_rough(window: MainWindow) -> None:
    face = at_log(window)
    write(window, face, "propagated", text="Cuttings", figure="15")
    assert "no whole" in window.status.message
    write(window, face, "propagated", text="Cuttings", figure="about 15 or 20 of 24")
    event = next(e for e in life_of(face).events if e.text == "Cuttings")
    assert dict(event.figures) == {"of": 24.0, "rooted_low": 15.0, "rooted_high": 20.0}
    assert "15 to 20 of 24" in figure_words(event)


def test_a_sign_moves_the_curve_and_buds_move_the_window(window: MainWindow) -> None:
    face = at_log(window, "paper-lantern")
    book = window.session.book()
    due, first = book.dues["paper-lantern"].by_fill, book.windows["paper-lantern"].season.first
    box = face.beside.box
    box.sight.show_key("6")
    write(window, face, "seen", text="One white mat")
    book = window.session.book()
    assert book.dues["paper-lantern"].by_fill != due
    assert book.dues["paper-lantern"].fill == pytest.approx(0.45) or book.dues["paper-lantern"].fill is not None
    box.sight.show_key("1")
    write(window, face, "seen", text="Buds", day="28 Feb 2026")
    moved = window.session.book().windows["paper-lantern"].season
    assert moved.first == date(2026, 2, 28)
    assert moved.first != first
    assert "by the buds you saw" in moved.why


def test_water_that_stands_wants_its_seconds(window: MainWindow) -> None:
    face = at_log(window)
    box = face.beside.box
    box.sight.show_key("5")
    write(window, face, "seen", sight_value="a while")
    assert "seconds" in window.status.message
    box.sight.show_key("5")
    write(window, face, "seen", sight_value="90")
    tree = window.session.tree
    assert tree is not None
    assert (tree.signs[-1].sign, tree.signs[-1].value) == ("drains_slowly", "90")


def test_an_entry_put_right_keeps_what_it_said(window: MainWindow) -> None:
    face = at_log(window, view="list")
    event = next(e for e in life_of(face).events if e.kind == "repotted" and e.date.year == 2021)
    face._pick(event.id)
    entry = face.beside.entry
    entry.figure.setText("40 %")
    entry.text.setText("Into the Gate tray, roots washed.")
    entry._put_right()
    after = next(e for e in life_of(face).events if e.id == event.id)
    assert dict(after.figures)["removed_feeder_share"] == pytest.approx(0.40)
    assert {x.field for x in after.corrections} == {"text", "figures"}
    assert "removed_feeder_share 0.44" in next(x.was for x in after.corrections if x.field == "figures")
    assert "Into the Gate tray." in entry.before.text()
    entry.day.setText("not a day")
    entry._put_right()
    assert "no day" in window.status.message
    window.do("undo")
    assert next(e for e in life_of(face).events if e.id == event.id) == event


def test_entries_are_found_and_deleted_and_come_back(window: MainWindow) -> None:
    face = at_log(window, view="list")
    sheet = face.list_sheet
    sheet.search.setText("wired")
    assert len(sheet.rows.rows) == 3
    QTest.keyClick(sheet.rows, Qt.Key.Key_Down)
    key = face.event_id
    assert key == sheet.rows.rows[0].id
    face.beside.entry._delete()
    assert len(sheet.rows.rows) == 2
    window.do("undo")
    assert len(sheet.rows.rows) == 3


def test_a_corrected_species_keeps_the_old_one_and_all_rules_follow(window: MainWindow) -> None:
    face = at_log(window)
    s = window.session
    before = s.book().windows["tollgate"].season.window
    s.change_tree("Species corrected", species="satsuki_azalea")
    tree = s.tree
    assert tree is not None
    assert [(x.field, x.was) for x in tree.corrections] == [("species", "trident_maple")]
    assert s.book().windows["tollgate"].season.window == "after_flowering"
    assert before == "bud_swell"
    assert any("species" in e.text.lower() for e in face.list_events())
    window.do("undo")
    assert s.tree is not None
    assert s.tree.corrections == ()


def test_aftercare_runs_asks_and_is_answered_here(window: MainWindow) -> None:
    face = at_log(window, "evening-bell", "year")
    event = Event(
        id="rr",
        tree="evening-bell",
        date=DAY - timedelta(days=40),
        kind="repotted",
        figures=(("removed_feeder_share", 0.2),),
    )
    window.session.edit("x", [("event", "rr", event)])
    sheet, box = face.year_sheet, face.beside.task
    kinds = [t.kind for t in sheet.tasks]
    assert {"shade", "wind_shelter", "no_fertiliser", "first_feed"} <= set(kinds)
    asked = [t for t in sheet.tasks if window.session.book().state(t) == "asked"]
    assert asked
    assert "asked" in face.title()
    steps = len([t for t in window.session.book().tasks if t.event == "rr"])
    QTest.keyClick(sheet, Qt.Key.Key_Down)
    face._take(asked[0].id)
    QTest.mouseClick(box.answers["yes"], Qt.MouseButton.LeftButton)
    assert any(t.id == asked[0].id and t.state == "done" for t in window.session.book().tasks)
    # the other steps go on
    assert len([t for t in window.session.book().tasks if t.event == "rr"]) == steps
    window.do("undo")
    assert not any(t.id == asked[0].id for t in window.session.collection.tasks)


def test_views_of_growers_change_what_follows(window: MainWindow) -> None:
    face = at_log(window, "evening-bell", "year")
    event = Event(
        id="rr", tree="evening-bell", date=date(2026, 3, 1), kind="repotted", figures=(("removed_feeder_share", 0.5),)
    )
    window.session.edit("x", [("event", "rr", event)])
    box = face.beside.views

    def shade() -> timedelta:
        task = next(t for t in window.session.book().tasks if t.tree == "evening-bell" and t.kind == "shade")
        assert task.to is not None
        assert task.from_ is not None
        return task.to - task.from_

    long = shade()
    box.choices["shade"].chosen.emit("week")
    assert shade() < long
    box.choices["top"].chosen.emit("same_day")
    assert window.session.book().ledger("evening-bell").same_day
    box.choices["due"].chosen.emit("years")
    assert window.session.brief.season_views.due == "years"
    box.shelter.chosen.emit("indoors")
    assert window.session.brief.keeping.shelter == "indoors"
    box.until.setText("30 Sep 2026")
    box.until.editingFinished.emit()
    assert any(t.kind == "leave_interim" and t.tree == "evening-bell" for t in window.session.book().tasks)
    for key in range(box.question.count()):
        box.question.setCurrentIndex(key)
        box._tell()
        assert box.told.text().startswith("Some: ")


def test_the_years_ahead_are_one_run_of_pots(window: MainWindow) -> None:
    face = at_log(window, view="ahead")
    plan = face.ahead_sheet.plan
    assert plan is not None
    assert len(plan.years) == 6
    assert plan.path.total == pytest.approx(plan.path.misfit + plan.path.moving + plan.path.price)
    move = plan.next_move
    assert face.title() == (f"Next: {move[1].name} in {move[0]}" if move is not None else "It stays in its pot")
    window.grab()
    # nothing to weigh is a sentence
    s = window.session
    s.edit("x", [("pot", key, None) for key in s.collection.pots])
    assert face.ahead_sheet.plan is None
    assert "no pot" in face.ahead_sheet.told


def test_then_and_now_wants_two_photographs_with_a_scale(window: MainWindow) -> None:
    face = at_log(window, view="over")
    sheet = face.over_sheet
    window.grab()
    assert len(sheet.photos) == 1
    photo = sheet.photos[0]
    older = photo.changed(id="older", taken=date(2021, 9, 1), front=False, angle_deg=10)
    window.session.edit("x", [("photo", "older", older)])
    assert [p.id for p in sheet.photos] == ["older", photo.id]
    sheet.grab()
    assert sheet._cut(0) is not None
    share = sheet.share
    QTest.keyClick(sheet, Qt.Key.Key_Right)
    assert sheet.share == pytest.approx(share + 0.1)
    QTest.keyClick(sheet, Qt.Key.Key_Space)
    assert (sheet.base_at, sheet.over_at) == (0, 1)


def test_the_log_of_all_trees_as_a_list_and_back(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    at_log(window)
    answers.path = tmp_path / "log.csv"
    window.do("log_list")
    s = window.session
    events = s.collection.events
    s.edit("x", [("event", e.id, None) for e in events])
    window.do("import")
    assert {e.id for e in s.collection.events} == {e.id for e in events}
    window.do("import")
    assert len(s.collection.events) == len(events)
    assert "Nothing new" in window.status.message


def test_days_shares_and_counts_are_read_as_people_write_them() -> None:
    assert read_day("", DAY) == DAY
    assert read_day("17 March", DAY) == date(2026, 3, 17)
    assert read_day("3. Apr 2025", DAY) == date(2025, 4, 3)
    assert [read_share(t) for t in ("20 %", "20", "0.2", "0,2")] == [0.2, 0.2, 0.2, 0.2]
    assert read_figures("experiment", "5 of 6") == (("of", 6.0), ("alive", 5.0))
    assert read_figures("wired", "twigs") == (("twigs", 1.0),)
    assert read_figures("seen", "anything") == ()
    for wrong in ("31 Feb 2026", "Tuesday", "2026-13-01"):
        with pytest.raises(FieldError):
            read_day(wrong, DAY)
    for wrong in ("a lot", "120 %", "-3"):
        with pytest.raises(FieldError):
            read_share(wrong)
    for wrong in ("7 of 6", "5 of 0", "9"):
        with pytest.raises(FieldError):
            read_figures("experiment", wrong)


def test_without_a_tree_it_says_what_to_do(window: MainWindow) -> None:
    s = window.session
    at_log(window)
    s.edit("x", [("tree", key, None) for key in s.collection.trees])
    window.go("log")
    for view in ("life", "year", "ahead", "over", "list"):
        window.show_view(view)
        window.grab()
    assert window.face("log").title()
    assert not window.face("log").beside.write.isEnabled()  # type: ignore[attr-defined]


def mend(window: MainWindow, code: str) -> None:
    """Ask a finding and take its remedy."""
    assert window.ask(code)
    window.why.mend.click()


def test_a_finding_leads_to_where_it_is_mended(window: MainWindow) -> None:
    face = at_log(window)
    mend(window, "as_planned")
    assert face.event_id
    assert dict(next(e for e in life_of(face).events if e.id == face.event_id).planned)
    mend(window, "full")
    assert window.room == "season"
    assert window.face("season").desk.chart.task == "repot-tollgate-2026"  # type: ignore[attr-defined]
    at_log(window, "grey-heron")
    window.ask("growth")
    window.why.wanted.emit("tree")
    assert window.room == "tree"
    bare = Event(id="bare", tree="grey-heron", date=DAY - timedelta(days=30), kind="repotted")
    window.session.edit("x", [("event", "bare", bare)])
    at_log(window, "grey-heron")
    assert "at least" in face.beside.strain_head._note
    mend(window, "strain_unknown")
    assert face.event_id == "bare"


def test_a_tree_that_comes_in_for_the_cold_is_told_by_a_temperature(window: MainWindow) -> None:
    field = at_log(window, "evening-bell", "year").beside.views.indoors

    def typed(text: str) -> float | None:
        field.setFocus()
        field.clear()
        QTest.keyClicks(field, text)
        QTest.keyClick(field, Qt.Key.Key_Return)
        return window.session.brief.keeping.indoors_below_c

    assert typed("8,5 °C") == 8.5
    assert typed("-3") == -3.0
    for wrong in ("warm", "99", "nan", "1e9"):
        assert typed(wrong) == -3.0, wrong
        assert "is no temperature from −20 °C to 25 °C" in window.status.message
    assert typed("") is None
    window.do("undo")
    assert window.session.brief.keeping.indoors_below_c == -3.0
