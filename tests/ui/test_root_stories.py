"""Five days at the bench, replayed by hand: circling roots, a graft seedling, a deep firm mass, clay, a desert plant."""

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from kesh.science.roots.side_room import toward
from kesh.ui.rooms.roots.face import RootsFace
from kesh.ui.window import MainWindow
from tests.ui.root_hands import at_roots


def draw(face: RootsFace, points: np.ndarray) -> str:
    """A root drawn over the plan with the mouse; its key."""
    stand = face.map.stand
    assert stand is not None
    spots = [p.toPoint() for p in face.map.to_px(stand, points)]
    QTest.mousePress(face.map, Qt.MouseButton.LeftButton, pos=spots[0])
    for spot in spots[1:]:
        QTest.mouseMove(face.map, spot)
    QTest.mouseRelease(face.map, Qt.MouseButton.LeftButton, pos=spots[-1])
    return face.map.root_id


def outward(azimuth: float, mm: float) -> np.ndarray:
    return toward(azimuth) * np.linspace(0, mm, 10)[:, None]


def around(start: float, end: float, radius: float) -> np.ndarray:
    turn = toward(np.linspace(start, end, 26)) * radius
    return np.vstack([[0.0, 0.0], turn])


def does(face: RootsFace, key: str) -> str:
    return next(r.does for r in face.beside.list.rows if r.key == key)


def why(face: RootsFace, key: str) -> str:
    return next(r.why for r in face.beside.list.rows if r.key == key)


def enter(field: object, text: str) -> None:
    field.setFocus()  # type: ignore[attr-defined]
    field.selectAll()  # type: ignore[attr-defined]
    QTest.keyClicks(field, text)
    QTest.keyClick(field, Qt.Key.Key_Return)


def test_heavy_circling_roots_are_cut_beyond_small_ones_over_two_repottings(window: MainWindow) -> None:
    face = at_roots(window, "mossback")
    window.session.change_brief("Best season", season="best")
    window.session.change_tree("No map yet", root_map=())
    trunk = 92.0
    even = [draw(face, outward(a, 0.42 * trunk + 50)) for a in (20, 95, 170, 245, 320)]
    one, two = draw(face, around(40, 150, 0.72 * trunk)), draw(face, around(190, 300, 0.72 * trunk))
    assert [r.what for r in face.beside.list.rows][-1].endswith("circles the trunk")
    for key in (one, two):
        face.map.take(key)
        enter(face.beside.card.thick, "26 mm")
        enter(face.beside.card.side, "22 mm")
    assert all(does(face, key) == "stays" for key in even)
    plan = face.map.plan()
    assert plan is not None
    steps = [plan.step(one), plan.step(two)]
    assert all(s is not None and s.action == "shorten" and s.at_mm == 22 for s in steps)
    years = sorted(s.year for s in steps if s is not None)
    assert years[0] == 0
    assert years[1] > 0
    assert all(share <= (face.beside.bar._limit or 0) + 1e-9 for share in plan.shares)
    assert any("cut at 22 mm now" in r.does for r in face.beside.list.rows)
    # the views follow: after the first only one is short
    assert [k for k, _ in face.views()] == ["now", "after1", "after2"]
    face.beside.main.click()
    kept = window.session.planting
    assert kept is not None
    assert sorted(s.year for s in kept.plan if s.action == "shorten") == years


def test_a_graft_seedling_is_not_touched_whatever_its_roots(window: MainWindow) -> None:
    face = at_roots(window, "mossback")
    assert does(face, "r3").startswith("cut")
    face.map.take("r3")
    face.beside.card.alone.click()
    assert does(face, "r3") == "stays"
    assert "left alone" in why(face, "r3")
    # a heavier fault on the same side changes nothing, one on the other side is mended
    face.beside.card.kind.chosen.emit("tap")
    assert does(face, "r3") == "stays"
    face.map.take("r7")
    face.beside.card.kind.chosen.emit("tap")
    assert does(face, "r7").startswith(("cut", "off"))
    # a tree turned in its pot takes its seedling along
    face.beside.tilting.turn.setText("40")
    face.beside.tilting.turn.editingFinished.emit()
    assert does(face, "r3") == "stays"


def test_a_deep_firm_mass_goes_into_a_shallow_pot_in_more_than_one_repotting(window: MainWindow) -> None:
    face = at_roots(window, "mossback")
    now = window.session.tree.roots  # type: ignore[union-attr]
    assert now is not None
    before = face.map.plan()
    assert before is not None
    # lifted it is far deeper than was thought: the grip below the section is pulled down
    grip = next(g for g in face.map.grips() if g.key == "root_depth")
    spot = face.map.px(grip.x, grip.y).toPoint()
    QTest.mousePress(face.map, Qt.MouseButton.LeftButton, pos=spot)
    for step in (20, 45, 60):
        QTest.mouseMove(face.map, spot + QPoint(0, step))
    QTest.mouseRelease(face.map, Qt.MouseButton.LeftButton, pos=spot + QPoint(0, 60))
    deep = window.session.tree.roots  # type: ignore[union-attr]
    assert deep is not None
    assert deep.depth_mm > now.depth_mm + 25
    a = face.map.assessment
    assert a is not None
    off = float(a.figures.roots.off_bottom_mm[0])  # type: ignore[union-attr]
    assert off == pytest.approx(deep.depth_mm - 36, abs=2)
    plan = face.map.plan()
    assert plan is not None
    # the pot takes the budget of several repottings; in none of them more than the tree bears
    assert len(plan.shares) > 1
    assert all(share <= (face.beside.bar._limit or 0) + 1e-9 for share in plan.shares)
    assert plan.points <= before.points
    assert f"lower by 30 of {off:.0f} mm" in window.head.title.text()
    window.do("undo")
    assert window.session.tree.roots == now  # type: ignore[union-attr]


def test_a_mass_with_clay_in_its_heart_is_opened_over_two_repottings(window: MainWindow) -> None:
    face = at_roots(window, "mossback")
    window.session.change_brief("Best season", season="best")
    a = face.map.assessment
    assert a is not None
    before = face.beside.bar._limit or 0
    # a small pocket by the trunk, noted with a key where the rake met it
    stand = face.map.stand
    assert stand is not None
    met = face.map.to_px(stand, toward(130.0)[None] * 70)[0].toPoint()
    QTest.mouseMove(face.map, met)
    QTest.keyClick(face.map, Qt.Key.Key_P)
    row = face.beside.parts.list.rows[0]
    assert row.does.startswith("clay, ")
    assert row.why.startswith("out now")
    minutes = face.beside.brings.text()
    # it turns out to lie all round the trunk and as deep as the mass: more than the rest of this budget
    mass = window.session.tree.roots  # type: ignore[union-attr]
    assert mass is not None
    whole = mass.pockets[0].changed(from_deg=0.0, to_deg=360.0, from_share=0.0, to_share=0.42)
    tree = window.session.tree
    assert tree is not None
    window.session.edit(
        "Clay all round",
        [("tree", tree.id, tree.changed(root_masses=(*tree.root_masses[:-1], mass.changed(pockets=(whole,)))))],
    )
    face.map.take_part(face.map.part)
    enter(face.beside.parts.top, "0")
    enter(face.beside.parts.bottom, "36 mm")
    row = face.beside.parts.list.rows[0]
    assert f"out in {window.session.today.year + 2}" in row.why
    # the cuts of this repotting stay as they were: the clay waits its turn
    assert face.beside.bar._limit == before
    face.beside.main.click()
    notes = [e.text for e in window.session.collection.events if e.tree == "mossback" and e.kind == "note"]
    assert any(f"Clay left for {window.session.today.year + 2}" in text for text in notes)
    # rot in the same place is taken out at once and counts for nothing
    face.beside.parts.kind.chosen.emit("rot")
    assert face.beside.parts.list.rows[0].why == "out now, counts for nothing"
    assert face.beside.brings.text() != minutes


def test_a_desert_plant_has_its_root_base_cut_off_whole(window: MainWindow) -> None:
    face = at_roots(window, "mossback")
    s = window.session
    s.change_tree("Another plant", species="jade", root_map=())
    s.change_brief("Best season", season="best")
    # the mix under the roots is pulled up until hardly anything of the base is left
    grip = next(g for g in face.map.grips() if g.key == "base_layer_mm")
    spot = face.map.px(grip.x, grip.y).toPoint()
    by = round(27 * face.map.px_mm)
    QTest.mousePress(face.map, Qt.MouseButton.LeftButton, pos=spot)
    for step in (by // 3, by):
        QTest.mouseMove(face.map, spot - QPoint(0, step))
    QTest.mouseRelease(face.map, Qt.MouseButton.LeftButton, pos=spot - QPoint(0, by))
    a = face.map.assessment
    assert a is not None
    assert a.figures.roots is not None
    taken = float(a.figures.roots.removed_feeder_share[0])
    assert taken > 0.6
    usual = a.finding("root_removal")
    assert usual is not None
    assert usual.status != "fits"
    assert "repottings" in usual.text + usual.remedy
    # of a plant that roots like a cutting all of it may go at once, with one flat cut
    face.beside.views.choices["amount"].chosen.emit("all")
    a = face.map.assessment
    assert a is not None
    now = a.finding("root_removal")
    assert now is not None
    assert now.status == "fits"
    assert (face.beside.bar._limit or 0) >= taken
    assert "The saw goes through" in face.beside.views.told.text()
    assert "saw" in face.beside.brings.text()
    assert a.finding("flat_saw") is None or a.finding("flat_saw").status == "fits"  # type: ignore[union-attr]
    # a pine does not: its own limit stays and the panel says so
    s.change_tree("A pine", species="japanese_white_pine")
    assert "does not usually bear" in face.beside.views.told.text()
