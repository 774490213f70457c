"""Step Water: the year is reckoned beside the window, follows how the tree is kept, and says what it cannot tell."""

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from kesh.advice.water.cold import PotCold
from kesh.advice.water.year import YearAsked, asked_of, years_of
from kesh.base.units import Units
from kesh.desk.water import advice_words, chart_of, cold_rows, days_words, figures_of, title_words
from kesh.model import Keeping
from kesh.ui.rooms.water.face import WaterFace
from kesh.ui.window import MainWindow


@pytest.fixture
def face(window: MainWindow) -> WaterFace:
    window.session.choose_tree("old-ferryman")
    window.go("water")
    found = window.face("water")
    assert isinstance(found, WaterFace)
    window.show_view("year")
    window.settle()
    return found


def test_step_five_shows_the_year_of_the_pot_and_of_others(window: MainWindow) -> None:
    window.session.choose_tree("old-ferryman")
    QTest.keyClick(window, Qt.Key.Key_5)
    window.settle()
    assert window.room == "water"
    window.show_view("year")
    window.settle()
    face = window.face("water")
    assert face.year.charts[0].pot.id == "training-box"
    assert len(face.year.charts) == 3
    assert "full it lasts" in window.head.title.text()
    assert "hurt" in face.year.accessibleDescription()
    first = face.year.charts[0]
    # low, middle and high years in their order, shortest in the warm months
    assert np.all(np.diff(first.gap_days, axis=0) >= 0)
    assert 5 <= first.driest <= 8


def test_how_it_is_kept_changes_the_years_and_can_be_undone(window: MainWindow, face: WaterFace) -> None:
    before = face.year.charts[0]
    face.beside.overhead.chosen.emit("roof")
    window.settle()
    roofed = face.year.charts[0]
    assert roofed.waterings.sum() > before.waterings.sum()
    assert window.session.brief.keeping.roofed
    face.beside.habit.chosen.emit("alternate")
    window.settle()
    assert face.year.charts[0].dry_hours.sum() > roofed.dry_hours.sum()
    window.do("undo")
    window.do("undo")
    window.settle()
    assert np.array_equal(face.year.charts[0].waterings, before.waterings)


def test_days_away_are_typed_checked_and_told(window: MainWindow, face: WaterFace) -> None:
    for field, text in ((face.beside.away_from, "2026-07-01"), (face.beside.away_to, "2026-07-24")):
        field.setText(text)
        field.editingFinished.emit()
    window.settle()
    assert "Alone for 24 days it suffers" in face.beside.advice.text()
    assert face.year.charts[0].away_years > 0
    face.beside.away_to.setText("2026-06-01")
    face.beside.away_to.editingFinished.emit()
    assert "before" in window.status.message
    face.beside.away_to.setText("soon")
    face.beside.away_to.editingFinished.emit()
    assert "write it as 2026-07-10" in window.status.message
    assert window.session.brief.keeping == Keeping(
        away_from=window.session.brief.keeping.away_from, away_to=window.session.brief.keeping.away_to
    )


def test_what_cannot_be_told_is_a_sentence(window: MainWindow, face: WaterFace) -> None:
    window.session.change_tree("Species taken away", species=None)
    window.settle()
    assert face.year.charts == ()
    assert "needs the species" in face.year.sentence
    assert "needs the species" in face.beside.note.text()
    face.year.grab()
    window.session.choose_tree("tidewater")
    window.settle()
    assert face.year.charts
    site = window.session.collection.site
    assert site is not None
    window.session.edit("No climate", [("site", site.id, site.changed(months=()))])
    window.settle()
    assert face.year.charts == ()
    assert "needed" in face.year.sentence or "needs" in face.year.sentence


def test_the_same_is_not_reckoned_twice(window: MainWindow, face: WaterFace, monkeypatch: pytest.MonkeyPatch) -> None:
    asked = []
    monkeypatch.setattr(face.context.runner, "start", lambda topic, work, done: asked.append(topic))
    face.refresh()
    assert asked == []
    window.session.change_brief("Roof", keeping=Keeping(roofed=True))
    assert asked == ["year in a pot"]


def test_the_year_in_words(window: MainWindow, face: WaterFace) -> None:
    s = window.session
    assert s.pot is not None
    found = years_of(((s.case(s.pot.id), s.pot),), YearAsked(years=10))[0]
    assert not isinstance(found, str)
    chart = chart_of(s.pot, found)
    assert chart.years == 10
    assert title_words(chart).split(":")[0] in ("Jun", "Jul", "Aug")
    rows = dict(figures_of(found, chart, Units()))
    assert rows["Waterings in a middling year"] == f"{np.median(found.many.waterings):.0f}"
    told = advice_words(chart, Keeping(), ())
    assert "once a day" in told
    assert days_words(0.84) == "0.8 days"
    assert days_words(23.4) == "23 days"
    assert days_words(60) == "weeks"
    assert asked_of(Keeping()).away is None
    assert found.cold is not None
    assert rows["Roots hardy to"] == f"−{-found.cold.limit_c:.0f} °C"
    hard = PotCold(-7.0, -5.2, 4.4)
    assert dict(cold_rows(hard))["Such nights where it winters"] == "4.4 a year"
    assert dict(cold_rows(PotCold(-60.0, -60.0, 0.0)))["A night that kills outer roots"] == "none"


def test_another_tree_never_shows_the_year_of_the_one_before(
    window: MainWindow, face: WaterFace, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(face.context.runner, "start", lambda topic, work, done: None)
    window.session.choose_tree("mossback")
    assert face.year.charts == ()
    assert face.title() == "The year in this pot"
    assert face.beside.advice.text() == ""
