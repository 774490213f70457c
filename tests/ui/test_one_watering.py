"""Step Water, one watering: the mix is changed by hand, tilt and mound follow, a mix is kept, and nothing of it is lost."""

from datetime import date
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtTest import QTest

from kesh.base.errors import CollectionFileError
from kesh.desk.mixes import changed_words, next_version, parts_words, typed
from kesh.devices.protocol import Taken
from kesh.model import Day, Site
from kesh.ui.rooms.water.face import WaterFace
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers


@pytest.fixture
def face(window: MainWindow) -> WaterFace:
    window.session.choose_tree("mossback")
    window.go("water")
    window.settle()
    found = window.face("water")
    assert isinstance(found, WaterFace)
    return found


def wet(face: WaterFace) -> float:
    assert face.one.watering is not None
    return face.one.watering.first.wet_share


def test_the_pot_in_hand_is_cut_through_and_its_words_are_its_figures(window: MainWindow, face: WaterFace) -> None:
    w = face.one.watering
    assert w is not None
    assert w.first.pot.id == "broom-oval"
    assert f"{w.first.wet_mm:.0f} mm stay wet" in window.head.title.text()
    rows = {what: figure for what, figure, _, _ in face.mixing.stats.rows}
    assert w.first.f.water is not None
    assert rows["Air once drained"] == f"{float(w.first.f.water.air_mean[0]):.0%}"
    assert face.one.depths is not None
    assert "reckoned by depth" in face.mixing.detail.text() or "at once" in face.mixing.detail.text()
    assert face.mixing.curve.tried
    assert sum(t.now for t in face.mixing.curve.tried) == 1
    face.one.grab()


def test_a_slider_changes_the_mix_at_once_and_nothing_is_written(window: MainWindow, face: WaterFace) -> None:
    before, mix = wet(face), face.kept_mix()
    assert mix is not None
    row = face.mixing.rows[0]
    row.slider.setValue(row.slider.value() + 12)
    assert face.draft is not None
    assert face.draft.parts[0].parts != mix.parts[0].parts
    assert wet(face) != before
    assert window.session.collection.mixes[mix.id] == mix
    # another tree takes the trial away
    window.session.choose_tree("tollgate")
    window.settle()
    assert face.draft is None


def test_grades_and_typed_parts(window: MainWindow, face: WaterFace) -> None:
    before = wet(face)
    grade = face.mixing.rows[0].grade
    keys = [str(grade.itemData(i)) for i in range(grade.count())]
    assert len(keys) >= 2
    grade.chosen.emit(keys[0])
    assert wet(face) > before
    field = face.mixing.text
    field.setText("3:2:1")
    field.editingFinished.emit()
    assert face.draft is not None
    assert parts_words(face.draft) == field.text() == "3 : 2 : 1"
    # words without a number stay a note
    field.setText("a bit more pumice")
    field.editingFinished.emit()
    assert "a bit more pumice" in face.draft.notes
    assert "note" in window.status.message
    field.setText("1:2")
    field.editingFinished.emit()
    assert "one for each" in window.status.message


def test_a_share_nobody_knows_blocks_the_figures_and_says_so(face: WaterFace) -> None:
    figure = face.mixing.rows[0].figure
    figure.setText("?")
    figure.editingFinished.emit()
    assert face.one.watering is not None
    assert face.one.watering.first.f.case.blend is None
    assert "is not told" in face.one.watering.first.why
    face.one.grab()
    face.mixing.grab()


def test_keys_tilt_the_pot_and_walk_the_hours(window: MainWindow, face: WaterFace) -> None:
    face.one.setFocus()
    for _ in range(5):
        QTest.keyClick(face.one, Qt.Key.Key_T)
    assert face.tilt_deg == 5
    assert face.one.watering is not None
    tilt = face.one.watering.tilt
    assert tilt is not None
    assert tilt.drained_l > 0
    assert "run out" in face.mixing.tilt_told.text() or "runs out" in face.mixing.tilt_told.text()
    assert face.mixing.tilt.value() == 5
    QTest.keyClick(face.one, Qt.Key.Key_T, Qt.KeyboardModifier.ShiftModifier)
    assert face.tilt_deg == 4
    QTest.keyClick(face.one, Qt.Key.Key_Right)
    assert face.one.hour == 3
    QTest.keyClick(face.one, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert face.one.hour == 27
    face.one.grab()


def test_the_mound_is_pulled_and_written_when_let_go(window: MainWindow, face: WaterFace) -> None:
    face.one.grab()
    crest = face.one._crest
    assert crest is not None
    planting = window.session.planting
    assert planting is not None
    start, end = crest.toPoint(), (crest - QPointF(0, 12 * face.one.px_mm)).toPoint()
    QTest.mousePress(face.one, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(face.one, end)
    assert window.session.planting == planting
    QTest.mouseRelease(face.one, Qt.MouseButton.LeftButton, pos=end)
    now = window.session.planting
    assert now is not None
    assert now.mound_mm == pytest.approx(planting.mound_mm + 12, abs=1.5)
    window.do("undo")
    assert window.session.planting == planting


def test_a_mix_that_others_use_is_kept_as_one_s_own_and_its_past_stays(window: MainWindow, face: WaterFace) -> None:
    s, mix = window.session, face.kept_mix()
    assert mix is not None
    row = face.mixing.rows[1]
    row.slider.setValue(row.slider.value() + 4)
    QTest.mouseClick(face.mixing.main, Qt.MouseButton.LeftButton, pos=QPoint(10, 10))
    kept = s.collection.mixes.get(s.brief.mix or "")
    assert kept is not None
    assert kept.id != mix.id
    assert "Mossback" in kept.name
    assert s.collection.mixes[mix.id] == mix
    assert kept.versions[-1].parts == mix.parts
    assert "→" in kept.versions[-1].note
    assert kept.versions[-1].until == s.today
    # changed again, the same recipe grows by a version
    row = face.mixing.rows[1]
    row.slider.setValue(row.slider.value() - 4)
    face.keep()
    again = s.collection.mixes[kept.id]
    assert len(again.versions) == 2
    window.do("undo")
    window.do("undo")
    assert s.collection.mixes[mix.id] == mix
    assert kept.id not in s.collection.mixes


def test_a_layer_shows_both_sides(face: WaterFace) -> None:
    assert face.mixing.mix is not None
    layer = face.mixing.layer
    key = next(str(layer.itemData(i)) for i in range(layer.count()) if "lava_6_12" in str(layer.itemData(i)))
    layer.show_key(key)
    layer.chosen.emit(key)
    assert face.draft is not None
    assert face.draft.drainage_layer is not None
    told = face.mixing.layer_told.text()
    assert "without it at" in told
    assert "others never" in told
    face.one.grab()


def test_views_by_hour_and_the_year_share_the_tried_mix(window: MainWindow, face: WaterFace) -> None:
    window.show_view("three")
    assert face.one.hour == 72
    assert window.head.title.text().startswith("After 3 days: ")
    face.one.grab()
    row = face.mixing.rows[0]
    row.grade.chosen.emit(str(row.grade.itemData(0)))
    window.show_view("year")
    window.settle()
    assert face.sheets.currentWidget() is face.year
    assert face.year.charts
    assert len(face.beside.findings._shown[0]) == 4  # type: ignore[index]
    # a finding on how it is kept is asked for its grounds; it is no verdict that could be overruled
    assert window.ask("wet_winter")
    assert not window.why.keep.isVisibleTo(window.why)
    window.back()
    window.show_view("drained")
    assert face.sheets.currentWidget() is face.one
    assert not window.ask("wet_winter")


def test_readings_are_written_down_and_move_the_pot_s_factor(window: MainWindow, face: WaterFace) -> None:
    window.show_view("year")
    window.settle()
    box, s = face.beside.readings, window.session
    assert "No reading yet" in box.told.text()
    box.at.setText("2026-03-08 12:00")
    box.full.setText("2026-03-01 08:00")
    box.stick.show_key("dry")
    box.write_down()
    assert [r.value for r in s.collection.readings_of("mossback")] == ["dry"]
    assert "faster" in box.told.text()
    assert box.bar.readings is not None
    assert box.bar.readings.factor.count == 1
    box.at.setText("some day")
    box.write_down()
    assert "write it as 2026-07-10 08:00" in window.status.message
    box.probed(Taken("moisture", 0.31, 0.03, box.now()))
    assert box.value.text() == "31"
    assert str(box.kind.currentData()) == "probe"
    box.bench.way.click()
    assert "Mossback" in box.looks.text()
    window.do("undo")
    assert not s.collection.readings
    face.beside.grab()


def test_what_is_written_of_one_tree_is_not_carried_to_another(window: MainWindow, face: WaterFace) -> None:
    window.show_view("year")
    window.settle()
    box = face.beside.readings
    # when it was last full is known to the grower alone
    assert box.full.text() == ""
    box.full.setText("2026-03-01 08:00")
    box.value.setText("31")
    ticks = face.mixing.old.ticks
    ticks["disease"].setChecked(True)
    assert face.mixing.old.told.text().startswith("None of it")
    window.session.choose_tree("tollgate")
    window.settle()
    assert not any(t.isChecked() for t in ticks.values())
    assert face.mixing.old.told.text().startswith("Sound")
    assert (box.full.text(), box.value.text()) == ("", "")
    assert box.at.text().startswith("2026-")


def test_a_layer_that_cannot_be_is_a_sentence(window: MainWindow, face: WaterFace) -> None:
    panel = face.mixing
    key = str(panel.layer.itemData(1))
    panel.layer.show_key(key)
    panel.layer.chosen.emit(key)
    assert face.draft is not None
    assert face.draft.drainage_layer is not None
    for text in ("-5", "nan", "1e9", "a hand"):
        window.session.said.emit("fits", "")
        panel.layer_mm.setText(text)
        panel.layer_mm.editingFinished.emit()
        assert text.split("e")[0] in window.status.message
        assert face.draft.drainage_layer.thickness_mm == 12.0


def _full_disk(*_: object) -> None:
    raise CollectionFileError("the collection cannot be written: No space left on device")


def test_a_full_disk_leaves_the_trial_in_hand(
    window: MainWindow, face: WaterFace, monkeypatch: pytest.MonkeyPatch
) -> None:
    row = face.mixing.rows[0]
    row.slider.setValue(row.slider.value() + 12)
    draft = face.draft
    assert draft is not None
    with monkeypatch.context() as m:
        m.setattr(window.session.file, "edit", _full_disk)
        face.keep()
        assert "No space left" in window.status.message
        assert face.draft == draft
        # a day from the weather station is not said to be read where it was not
        window.go("reference")
        window.face("reference").tables.site.day(Day(date=date(2026, 3, 1), tmin_c=1, tmax_c=5))  # type: ignore[attr-defined]
        assert "No space left" in window.status.message
    window.go("water")
    face.keep()
    assert face.draft is None
    assert window.session.brief.mix in window.session.collection.mixes


def test_a_recipe_that_went_while_it_was_tried_can_still_be_kept(window: MainWindow, face: WaterFace) -> None:
    s = window.session
    fresh = next(iter(s.collection.mixes.values())).changed(id="for-a-while", name="For a while")
    assert s.edit("Mix added", [("mix", fresh.id, fresh)])
    face.mixing.recipe.emit(fresh.id)
    assert s.edit("Mix deleted", [("mix", fresh.id, None)])
    window.settle()
    face.keep()
    assert s.collection.mixes["for-a-while"].parts == fresh.parts
    assert s.brief.mix == "for-a-while"


def test_a_tree_taken_out_of_its_pot_has_no_year_findings(window: MainWindow, face: WaterFace) -> None:
    window.show_view("year")
    window.settle()
    assert face.assessment() is not None
    s = window.session
    gone = [("planting", p.id, None) for p in s.collection.plantings if p.tree == s.tree_id]
    assert s.edit("Taken out", [*gone, *(("lineup", k, None) for k in [s.tree_id] if k in s.collection.lineups)])
    window.settle()
    assert "stands in no pot yet" in face.year.sentence
    assert face.assessment() is None


def test_weather_from_a_file_joins_the_site(window: MainWindow, answers: Answers, tmp_path: Path) -> None:
    path = tmp_path / "weather.csv"
    rows = "".join(
        f"{date.fromordinal(date(2023, 1, 1).toordinal() + n)},{5 + n % 7},{14 + n % 9},{n % 4}\n" for n in range(365)
    )
    path.write_text("date,tmin_c,tmax_c,rain_mm\n" + rows + "2024-13-01,1,2,3\n")
    window.go("reference")
    face = window.face("reference")
    face.open("climate")  # type: ignore[attr-defined]
    page = face.tables.site  # type: ignore[attr-defined]
    answers.path = path
    page.wanted.emit(False)
    window.settle()
    site = window.session.collection.site
    assert isinstance(site, Site)
    assert len(site.daily) == 365
    assert "is no day" in window.status.message
    assert "1 whole year of your own weather, 2023" in page.note.text()
    # a typical climate leaves the days where they are
    page.climate.grid.chosen.emit("hot_dry_summers")
    assert len(window.session.collection.site.daily) == 365  # type: ignore[union-attr]
    page.winter.chosen.emit("frame")
    assert window.session.collection.site.winter_place == "frame"  # type: ignore[union-attr]
    page.forget.click()
    assert window.session.collection.site.daily == ()  # type: ignore[union-attr]
    window.do("undo")
    assert len(window.session.collection.site.daily) == 365  # type: ignore[union-attr]
    path.write_text("nothing,here\n1,2\n")
    page.wanted.emit(True)
    window.settle()
    assert "the head must name" in window.status.message


def test_recipes_in_words(window: MainWindow, face: WaterFace) -> None:
    mix, rows = face.kept_mix(), window.session.tables.substrates
    assert mix is not None
    more = typed(":".join(["2"] * len(mix.parts)), mix, date(2026, 3, 10))
    assert changed_words(mix.parts, mix.parts, rows) == "nothing"
    assert "→ 2" in changed_words(mix.parts, more.parts, rows)
    assert "any more" in changed_words(mix.parts, mix.parts[1:], rows)
    assert next_version(mix, mix.changed(notes="x"), date(2026, 3, 10), rows).versions == mix.versions


def test_the_line_up_tells_the_years_of_its_pots(window: MainWindow) -> None:
    window.session.choose_tree("old-ferryman")
    window.go("line-up")
    window.settle()
    face = window.face("line-up")
    years = face.columns.years  # type: ignore[attr-defined]
    assert len(years) == 4
    lines = {x.words: x for x in face.hand.table.lines}  # type: ignore[attr-defined]
    assert "Nights at risk a year" in lines
    face.columns.grab()  # type: ignore[attr-defined]
    window.show_view("shelf")
    window.settle()
    assert len(face.ranked.row.years) > 20  # type: ignore[attr-defined]
    face.ranked.grab()  # type: ignore[attr-defined]


def test_both_sides_of_a_question_are_reckoned_for_this_pot(face: WaterFace) -> None:
    box = face.mixing.views
    box.folded.way.click()
    said = {}
    for i in range(box.choice.count()):
        key = str(box.choice.itemData(i))
        box.choice.show_key(key)
        box.choice.chosen.emit(key)
        said[key] = box.told.text()
    assert set(said) == {"drainage_layer", "fines", "mound", "old_soil", "voids", "moist_soil"}
    assert "Without: lowest third" in said["drainage_layer"]
    assert "% sieved compost: lowest third" in said["fines"]
    assert "Mounded 15 mm" in said["mound"]
    assert "more to lift" in said["moist_soil"]
    face.mixing.old.ticks["clay"].setChecked(True)
    assert "None of it" in face.mixing.old.told.text()


def test_an_earlier_version_is_tried_again(face: WaterFace) -> None:
    mix = face.kept_mix()
    assert mix is not None
    row = face.mixing.rows[0]
    row.slider.setValue(row.slider.value() + 8)
    face.keep()
    assert face.draft is None
    face.mixing._last()
    assert face.draft is not None
    assert face.draft.parts == mix.parts


def test_a_material_of_one_s_own_is_copied_sieved_and_used(window: MainWindow, face: WaterFace) -> None:
    window.go("reference")
    place = window.face("reference")
    place.open("substrates")  # type: ignore[attr-defined]
    window.settle()
    place.entry._made[-1].click()  # type: ignore[attr-defined]
    rows = window.session.collection.substrate_rows
    own = rows[-1]
    assert own["key"].startswith("own_")
    assert window.session.tables.substrates[own["key"]].name.startswith("My ")
    window.go("water")
    window.settle()
    face.mixing.more.chosen.emit(own["key"])
    assert face.draft is not None
    assert face.draft.parts[-1].substrate == own["key"]
    assert face.one.watering is not None
    assert face.one.watering.first.plantable


def test_the_pot_is_tried_deeper_by_its_rim_and_no_pot_changes(window: MainWindow, face: WaterFace) -> None:
    face.one.grab()
    rim, share, pots = face.one._rim, wet(face), dict(window.session.collection.pots)
    assert rim is not None
    start, end = rim.toPoint(), (rim - QPointF(0, 40 * face.one.px_mm)).toPoint()
    QTest.mousePress(face.one, Qt.MouseButton.LeftButton, pos=start)
    QTest.mouseMove(face.one, end)
    QTest.mouseRelease(face.one, Qt.MouseButton.LeftButton, pos=end)
    assert face.one.deeper_mm == pytest.approx(40, abs=2)
    # one height of wet zone, more soil over it
    assert wet(face) < share
    assert dict(window.session.collection.pots) == pots
    face.one.setFocus()
    QTest.keyClick(face.one, Qt.Key.Key_BracketLeft, Qt.KeyboardModifier.ShiftModifier)
    assert face.one.deeper_mm == pytest.approx(30, abs=2)
    face.one.deepened.emit(-900.0)
    assert face.one.watering is not None
    assert face.one.watering.first.pot.inner_depth_mm >= 17
    face.one.grab()
    window.session.choose_tree("tollgate")
    assert face.one.deeper_mm == 0
