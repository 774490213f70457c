"""The Brief step and the grounds of a finding."""

import pytest

from kesh.desk.brief import FINDING_OF, band_rows, band_words, later, shape_advice
from kesh.model import Purpose
from kesh.ui.window import MainWindow


@pytest.fixture
def brief(window: MainWindow) -> MainWindow:
    window.go("brief")
    return window


def test_the_title_is_what_the_tree_asks_for(brief: MainWindow) -> None:
    assert brief.head.title.text() == "Asked for: 62–94 mm deep, 336–420 long"
    assert brief.face("brief").wishes.head.text() == "Refine, over 5 years"


def test_a_purpose_changes_the_bands_and_is_undone(brief: MainWindow) -> None:
    brief.face("brief").wishes.purposes[Purpose.GROW_ON].click()
    assert brief.session.brief.purpose == Purpose.GROW_ON
    assert brief.head.title.text() != "Asked for: 62–94 mm deep, 336–420 long"
    brief.do("undo")
    assert brief.head.title.text() == "Asked for: 62–94 mm deep, 336–420 long"


def test_horizon_station_season_mix_and_limits(brief: MainWindow) -> None:
    panel, session = brief.face("brief").wishes, brief.session
    panel.horizon.setValue(9)
    assert session.brief.horizon_years == 9
    panel.station.chosen.emit("soil")
    assert session.case().bands.depth.inputs[0] == ("trunk at soil", 117)
    panel.season.chosen.emit("wrong")
    assert session.lineup_case().season == "wrong"
    panel.season.chosen.emit("")
    assert session.brief.season is None
    panel.mix.chosen.emit("old-peat")
    assert session.lineup_case().mix.id == "old-peat"  # type: ignore[union-attr]
    panel.bench.entered.emit(300.0)
    assert session.assessment().finding("bench_length").status == "no"  # type: ignore[union-attr]
    panel.bench.entered.emit(None)
    assert session.assessment().finding("bench_length") is None  # type: ignore[union-attr]
    panel.lift.setText("heavy")
    panel.lift.editingFinished.emit()
    assert "no number" in brief.status.message
    panel.lift.setText("7,5")
    panel.lift.editingFinished.emit()
    assert session.brief.limits.lift_kg == 7.5


def test_bands_of_every_school_stand_beside_the_present_pot(brief: MainWindow) -> None:
    session = brief.session
    rows = band_rows(session.case(), session.assessment())
    assert [r.name for r in rows] == ["depth", "length", "width", "volume", "visual_mass"]
    for row in rows:
        assert len(row.schools) == 4
        assert sum(s.judges for s in row.schools) == 1
        low, high = row.span
        assert low <= row.judge.low < row.judge.high <= high  # type: ignore[operator]
    depth = rows[0]
    assert depth.present == 107
    assert depth.inside is False
    assert band_words(depth.judge, session.units) == "62–94 mm"


def test_the_brief_marks_a_measure_as_its_finding_does(brief: MainWindow) -> None:
    session, seen = brief.session, set()
    # the records are asked, not the window
    session.blockSignals(True)
    for tree in session.collection.trees:
        session.choose_tree(tree)
        told = {f.code: f.status for f in session.assessment().findings}
        for row in band_rows(session.case(), session.assessment()):
            code = FINDING_OF.get(row.name)
            if code in told and row.judge.low is not None:
                assert row.status == told[code], (tree, row.name)
                seen.add(row.status)
            elif row.inside is not None:
                assert row.status == ("fits" if row.inside else "watch")
    session.blockSignals(False)
    assert {"fits", "watch", "no"} <= seen


def test_growth_and_shape_advice(brief: MainWindow) -> None:
    times = later(brief.session.case())
    assert [t[0] for t in times] == ["now", "filled in", "in 5 years"]
    assert times[0][1] <= times[1][1] <= times[2][1]
    finish = next(a for a in shape_advice(brief.session.case(), brief.session.pot) if a.head == "Finish")
    assert finish.asked == "unglazed"


def test_a_finding_tells_its_grounds_and_can_be_kept_with_a_reason(brief: MainWindow) -> None:
    panel = brief.face("brief").wishes
    row = next(r for r in panel.findings.rows if r.finding.code == "depth_band")
    row.asked.emit(row.finding)
    assert brief.asking
    brief.why.override()
    assert "Write the reason" in brief.status.message
    brief.why.reason.setText("Roots first, looks later.")
    brief.why.override()
    kept = [o for o in brief.session.collection.overrides if o.tree == "old-ferryman"]
    assert kept[0].reason == "Roots first, looks later."
    assert "Roots first" in brief.session.assessment().finding("depth_band").text  # type: ignore[union-attr]
    assert brief.asking
    brief.why.judge_again()
    assert not [o for o in brief.session.collection.overrides if o.tree == "old-ferryman"]
    brief.why.closed.emit()
    assert brief.side.currentWidget() is panel


def test_comma_and_stop_walk_the_findings(window: MainWindow) -> None:
    window.activateWindow()
    rows = window.face("tree").measures.findings.rows
    window.ask(rows[0].finding.code)
    window.do("finding_after")
    assert window.why.code == rows[1 % len(rows)].finding.code
    window.do("finding_before")
    assert window.why.code == rows[0].finding.code


def test_findings_that_fit_fold_behind_a_count(window: MainWindow) -> None:
    listed = window.face("tree").measures.findings
    few = len(listed.rows)
    listed._toggle()
    assert len(listed.rows) > few
    assert any(r.finding.status == "fits" for r in listed.rows)
    listed._toggle()
    assert len(listed.rows) == few


def test_every_finding_of_every_tree_opens(window: MainWindow) -> None:
    for key in window.session.collection.trees:
        window.session.choose_tree(key)
        a = window.session.assessment()
        assert a is not None
        for finding in a.findings:
            assert window.ask(finding.code), (key, finding.code)
    assert not window.ask("no such finding")
