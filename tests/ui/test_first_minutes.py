"""From an empty collection to a ranked pot by hand, counted; and what stands in the places where nothing is yet."""

import pytest
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from kesh.advice.assess import assess
from kesh.advice.case import case_for
from kesh.desk.bench import with_roots
from kesh.desk.first import STYLES, FirstPot, FirstTree
from kesh.model import Collection
from kesh.reference.find import species_like
from kesh.reference.starters import FIRST_CLIMATE, climates, regions, starter_mixes
from kesh.reference.tables import tables
from kesh.ui.commands.files import new_collection
from kesh.ui.widgets.climate_grid import ClimateGrid, Hemisphere
from kesh.ui.widgets.fields import MeasureEdit
from kesh.ui.window import MainWindow
from tests.builders import pot, tree
from tests.ui.conftest import Opener
from tests.ui.hand import Hand


@pytest.fixture
def empty(open_window: Opener) -> MainWindow:
    return open_window(new_collection("My trees"))


def test_from_nothing_to_a_ranked_pot_in_twenty_entries(empty: MainWindow) -> None:
    hand, tree = Hand(), empty.face("tree")
    card = tree.first
    hand.types(card.name, "By the gate")
    hand.types(card.species, "hornb")
    index = [k for k, _ in STYLES].index("broom")
    hand.clicks(card.styles, card.styles.box(index).center())
    hand.types(card.height_edit, "48 cm")
    hand.types(card.trunk_edit, "55")
    if empty.session.tree is None:
        hand.clicks(tree.first.main)
    stood = empty.session.tree
    assert stood is not None
    assert (stood.name, stood.style, stood.measure.height_mm) == ("By the gate", "broom", 480)
    assert stood.measure.trunk_diameter_mm == 55
    assert "hornbeam" in empty.session.tables.species[str(stood.species)].common_name.lower()
    hand.clicks(empty.rail.tabs["shelf"])
    pot = empty.face("shelf").first
    for sizes in (("340", "260", "70"), ("42 cm", "30 cm", "9 cm")):
        if empty.session.collection.pots:
            empty.do("new_pot")
            hand.entries += 1
        for field, text in zip((pot.length, pot.width_, pot.height_), sizes, strict=True):
            hand.types(field, text)
    assert len(empty.session.collection.pots) == 2
    empty.go("line-up")
    hand.entries += 1
    empty.show_view("shelf")
    hand.entries += 1
    state = empty.session.lineup_state()
    assert state is not None
    ranking = state.ranking
    assert len(ranking) == 2
    assert ranking.entry(0).score >= ranking.entry(1).score
    assert hand.entries <= 20, hand.entries
    a = empty.session.assessment(next(iter(empty.session.collection.pots)))
    assert a is not None
    # the starters answer what would otherwise be asked: air and water are reckoned from the first minute
    assert a.finding("wet_foot").status != "unknown"


def test_nothing_is_written_before_it_stands(empty: MainWindow) -> None:
    card = empty.face("tree").first
    QTest.keyClicks(card.name, "Nobody")
    QTest.keyClick(card.height_edit, Qt.Key.Key_4)
    assert not empty.face("tree").first.main.isEnabled()
    assert empty.session.collection.trees == {}
    empty.do("undo")
    assert "Nothing to undo" in empty.status.message


def test_the_ghost_is_dragged_to_its_size(empty: MainWindow) -> None:
    ghost = empty.face("tree").first.ghost
    before = ghost.first.ghost().measure.height_mm
    at = ghost.grips()["height_mm"]
    QTest.mousePress(ghost, Qt.MouseButton.LeftButton, pos=at.toPoint())
    QTest.mouseMove(ghost, (at + QPointF(0, 40)).toPoint())
    QTest.mouseRelease(ghost, Qt.MouseButton.LeftButton, pos=(at + QPointF(0, 40)).toPoint())
    said = empty.face("tree").first.first.height_mm
    assert said is not None
    assert before is not None
    assert said < before
    assert empty.face("tree").first.height_edit.mm == said


def test_a_pot_is_dragged_to_its_sizes_and_weighed(empty: MainWindow) -> None:
    empty.go("shelf")
    card = empty.face("shelf").first
    for key in ("length_mm", "height_mm", "width_mm"):
        at = card.ghost.grips()[key]
        QTest.mousePress(card.ghost, Qt.MouseButton.LeftButton, pos=at.toPoint())
        QTest.mouseMove(card.ghost, (at + QPointF(12, 12)).toPoint())
        QTest.mouseRelease(card.ghost, Qt.MouseButton.LeftButton, pos=at.toPoint())
    assert card.first.missing == ()
    card.water.entered.emit(2.0)
    empty.face("shelf").first.main.click()
    pot = next(iter(empty.session.collection.pots.values()))
    assert pot.measured_volume_l == pytest.approx(2.0, abs=0.02)
    assert not pot.holes_known
    assert empty.face("shelf").sheet.currentWidget() is empty.face("shelf").pots


def test_a_round_pot_needs_no_width() -> None:
    assert FirstPot(outline="round", length_mm=200, height_mm=80).missing == ()
    made = FirstPot(outline="round", length_mm=200, height_mm=80).pot("p")
    assert made.width_mm == made.length_mm == 200
    assert FirstPot(outline="oval", length_mm=200, height_mm=80).missing == ("its width",)


@pytest.mark.parametrize(("words", "found"), [("hornb", "hornbeam"), ("pinus", "pine"), ("ACER", "maple")])
def test_a_species_is_found_by_any_part_of_any_name(words: str, found: str) -> None:
    hits = species_like(words, tables({}, {}).species)
    assert hits
    assert any(found in hit.name.lower() for hit in hits)


def test_every_place_invites_where_nothing_is_yet(empty: MainWindow) -> None:
    empty.go("workshop")
    face = empty.face("workshop")
    assert face.panel.currentWidget() is face.words
    face.desk.empty.ways[0].click()
    assert len(empty.session.collection.pots) == 1
    assert face.panel.currentWidget() is face.makers
    empty.do("undo")
    assert face.panel.currentWidget() is face.words
    for room in ("brief", "line-up"):
        empty.go(room)
        sheet = empty.face(room).drawing()
        empty.grab()
        assert sheet is not None
        assert empty.session.tree is None


def test_climate_and_mixes_are_there_and_are_changed(empty: MainWindow) -> None:
    collection = empty.session.collection
    assert collection.mixes == starter_mixes()
    assert collection.site is not None
    empty.go("reference", topic="climate")
    page = empty.face("reference").tables.site
    other = next(k for k in climates() if climates()[k].site != collection.site)
    page.climate.grid.chosen.emit(other)
    site, typical = empty.session.collection.site, climates()[other].site
    assert site is not None
    assert (site.months, site.latitude_deg, site.elevation_m) == (
        typical.months,
        typical.latitude_deg,
        typical.elevation_m,
    )
    item = page.table.item(0, 0)
    assert item is not None
    item.setText("−11,5")
    assert empty.session.collection.site.months[0].tmin_c == -11.5  # type: ignore[union-attr]
    empty.go("reference", topic="mixes")
    mixes = empty.face("reference").tables.mixes
    mixes.add()
    assert len(empty.session.collection.mixes) == len(starter_mixes()) + 1
    empty.do("undo")
    assert empty.session.collection.mixes == starter_mixes()


def test_all_climates_are_whole_and_plausible() -> None:
    assert len(regions()[""]) == 9
    for climate in climates().values():
        assert len(climate.site.months) == 12, climate.key
        for month in climate.site.months:
            assert month.tmin_c < month.tmax_c, climate.key
            assert month.rain_mm is not None
            assert 0 <= month.rain_mm < 900, climate.key


@pytest.mark.parametrize("kg", [1e-9, 0.00004, 5e5])
@pytest.mark.parametrize("mm", [0.001, 0.4, 3e8])
def test_what_cannot_be_is_said_and_the_card_still_paints(empty: MainWindow, mm: float, kg: float) -> None:
    card = empty.face("tree").first
    for field in (card.height_edit, card.trunk_edit):
        field.entered.emit(mm)
    empty.grab()
    empty.go("shelf")
    pot = empty.face("shelf").first
    pot.water.entered.emit(kg)
    for key in ("rectangle", "round", "hexagon", "lobed"):
        pot.outlines.chosen.emit(key)
        for size in (pot.length, pot.width_, pot.height_):
            size.entered.emit(mm)
        empty.grab()
        pot.put()
        assert all(p.length_mm > 0 for p in empty.session.collection.pots.values())
        empty.grab()
        empty.do("undo")
        empty.do("new_pot")


def test_a_first_tree_says_what_is_missing() -> None:
    first = FirstTree(name="A")
    assert first.missing
    assert FirstTree(name="A", height_mm=400, trunk_mm=40).missing == ()


def test_fields_that_cannot_matter_yet_are_folded(empty: MainWindow) -> None:
    card = empty.face("tree").first
    card.name.setText("Young")
    card.height_edit.entered.emit(300.0)
    card.trunk_edit.entered.emit(30.0)
    card.main.click()
    panel = empty.face("tree").measures
    assert panel.fields["height_mm"].isVisible()
    assert not panel.fields["drop_mm"].isVisible()
    assert not panel.root_fields["depth"].isVisible()
    panel.more.way.click()
    assert panel.fields["drop_mm"].isVisible()
    panel.root_rows.way.click()
    panel.root_fields["depth"].entered.emit(60.0)
    assert empty.session.tree.roots is not None  # type: ignore[union-attr]
    empty.do("undo")
    assert panel.root_fields["depth"].isVisible()


def test_what_is_known_is_never_folded(window: MainWindow) -> None:
    panel = window.face("tree").measures
    assert panel.fields["crown_base_mm"].isVisible()
    assert not panel.more.way.isVisible()


def test_of_a_root_mass_only_the_length_is_known_and_the_rest_says_so() -> None:
    bare = tree().changed(root_masses=())
    one = with_roots(bare, length_mm=300.0)
    assert one.roots is not None
    assert (one.roots.length_mm, one.roots.width_mm, one.roots.depth_mm) == (300, 240, 90)
    assert one.roots.assumed == ("width_mm", "depth_mm")
    assert one.roots.estimated
    two = with_roots(one, width_mm=250.0)
    assert two.roots is not None
    assert (two.roots.assumed, two.roots.estimated) == (("depth_mm",), True)
    # another word about it is no size
    fed = with_roots(two, feeders="near_trunk")
    assert fed.roots is not None
    assert fed.roots.assumed == ("depth_mm",)
    three = with_roots(fed, depth_mm=70.0)
    assert three.roots is not None
    assert (three.roots.assumed, three.roots.estimated) == ((), False)
    case = case_for(Collection(trees={"maple": one}, pots={"tray": pot()}), "maple")
    told = next(f.text for f in assess(case, pot()).findings if f.code == "root_depth")
    assert "Width and depth of the root mass are assumed" in told


def test_a_clicked_field_is_written_over_and_a_good_entry_ends_the_complaint(window: MainWindow) -> None:
    window.go("tree")
    QApplication.processEvents()
    edit = next(e for e in window.here.panel.findChildren(MeasureEdit) if e.isVisible() and e.isEnabled())
    window.setFocus()
    edit.show_mm(160)
    QTest.mouseClick(edit, Qt.MouseButton.LeftButton)
    QApplication.processEvents()
    assert edit.selectedText() == edit.text()
    QTest.keyClicks(edit, "nonsense")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert "nonsense" in window.status.message
    edit.selectAll()
    QTest.keyClicks(edit, "170")
    QTest.keyClick(edit, Qt.Key.Key_Return)
    assert "nonsense" not in window.status.message
    assert edit.mm == 170
    # the keypad's arrow with Ctrl moves ten, as the other arrows do
    both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.KeypadModifier
    QTest.keyClick(edit, Qt.Key.Key_Up, both)
    assert edit.mm == 180


def test_a_group_of_spares_alone_is_refused_in_a_sentence(window: MainWindow) -> None:
    s = window.session
    s.choose_tree("seven-neighbours")
    tree_ = s.tree
    assert tree_ is not None
    s.change_tree("All spares", group=tuple(g.changed(x_mm=None, y_mm=None) for g in tree_.group))
    window.go("group")
    window.face("group").beside.anew.emit()  # type: ignore[attr-defined]
    assert "three trees" in window.status.message


def test_a_grower_in_the_south_takes_a_typical_year_turned(empty: MainWindow) -> None:
    window = empty
    window.go("reference", topic="climate")
    page = window.face("reference").tables.site
    grid, side = page.climate.grid, page.side
    assert isinstance(grid, ClimateGrid)
    assert isinstance(side, Hemisphere)
    grid.chosen.emit("cool_wet_summers")
    side.chosen.emit("south")
    site = window.session.collection.site
    assert site is not None
    assert site.latitude_deg == -48
    assert max(range(12), key=lambda m: site.months[m].tmax_c) in (0, 1)
    assert grid.now == "cool_wet_summers"
    grid.chosen.emit("hot_dry_summers")
    after = window.session.collection.site
    assert after is not None
    assert after.latitude_deg is not None
    assert after.latitude_deg < 0
    window.do("undo")
    window.do("undo")
    back = window.session.collection.site
    assert back is not None
    assert back.latitude_deg == 48
    assert side.currentData() == "north"


def test_a_climate_is_found_by_region_or_zone_and_not_knowing_is_an_answer(empty: MainWindow) -> None:
    choice = empty.face("tree").beside_first.choice  # type: ignore[attr-defined]
    grid, s = choice.grid, empty.session
    choice.region.setCurrentIndex(choice.region.findData("Southern Africa"))
    choice.region.activated.emit(choice.region.currentIndex())
    assert [c.region for c in grid.shown] == ["Southern Africa"] * 3
    QTest.mouseClick(grid, Qt.MouseButton.LeftButton, pos=grid.box(0).center().toPoint())
    site = s.collection.site
    assert site is not None
    assert site.latitude_deg is not None
    assert site.latitude_deg < 0
    assert empty.face("tree").beside_first.side.currentData() == "south"  # type: ignore[attr-defined]
    assert grid.shown[0].words in site.name
    choice.zone.setCurrentIndex(choice.zone.findData("8"))
    choice.zone.activated.emit(choice.zone.currentIndex())
    assert {c.zone for c in grid.shown} == {8}
    assert len({c.region for c in grid.shown}) > 3
    choice.unknown.click()
    assert "Assumed until you know better" in choice.told.text()
    assert s.collection.site is not None
    assert s.collection.site.months == climates()[FIRST_CLIMATE].site.months or s.collection.site.latitude_deg < 0  # type: ignore[operator]
    empty.do("undo")
    assert s.collection.site == site
