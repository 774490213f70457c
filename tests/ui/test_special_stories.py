"""Every kind of special planting from an empty card to a printed sheet, by hand; and what its hands change, one by one."""

from dataclasses import dataclass, field
from datetime import date
from pathlib import Path

import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QCheckBox, QWidget

from kesh.advice.kinds.registry import kinds
from kesh.desk.first import STYLES
from kesh.model import PLANTING_KINDS, Planting
from kesh.ui.commands.files import new_collection
from kesh.ui.rooms.planting.face import PlantingFace
from kesh.ui.rooms.planting.special_form import PlainEdit
from kesh.ui.widgets.common import Choice
from kesh.ui.widgets.fields import MeasureEdit
from kesh.ui.window import MainWindow
from tests.ui.conftest import Answers, Opener, drag


@dataclass(frozen=True)
class Story:
    """A tree, its pot, the kind, what is entered in its form, which grip is pulled by how much, and what the sheet must say."""

    kind: str
    species: str
    style: str
    height: str
    trunk: str
    pot: tuple[str, str, str]
    fields: dict[str, str | bool]
    grip: str
    by: tuple[float, float]
    reads: str
    says: tuple[str, ...]
    measures: dict[str, float] = field(default_factory=dict)


STORIES = (
    Story("rock", "trident", "informal_upright", "22 cm", "27", ("360", "250", "60"), {"depth_mm": "140", "sunk_mm": "25", "held": "wires"}, "rock:loop:0", (0, -12), "rock.loops.0.z_mm", ("On a rock", "Bind the roots", "Covered")),
    Story("exposed_root", "privet", "informal_upright", "19 cm", "16", ("100", "100", "300"), {"top_mm": "46", "foot_mm": "34", "root_length_mm": "310", "root_mm": "3", "from_": "2026-04-01"}, "tube:lower", (0, 12), "tube.lower_mm_year", ("Root tube", "cage", "Lower")),
    Story("cascade", "cotoneaster", "informal_upright", "24 cm", "40", ("190", "190", "240"), {"counterweight_kg": "1.5"}, "trunk", (8, 0), "offset_x_mm", ("Cascade", "On its stand")),
    Story("layer", "japanese maple", "informal_upright", "31 cm", "34", ("200", "200", "90"), {"root_class": "few", "spread_mm": "100", "depth_mm": "45", "severed": "2026-06-20"}, "layer:cut", (0, 8), "layer.cut_mm", ("Layer", "leaf", "First comb")),
    Story("fruit_tub", "medlar", "informal_upright", "110 cm", "42", ("470", "470", "420"), {"stem_mm": "480", "mulch_mm_year": "15"}, "tub:stake", (0, -10), "tub.stake_mm", ("Fruit tub", "stake", "mulch")),
    Story("desert", "desert rose", "informal_upright", "26 cm", "96", ("220", "220", "90"), {"highest_root_mm": "0", "soil_mm": "3", "dry_days": "8", "crown_roofed": True}, "desert:soil", (0, -6), "desert.soil_mm", ("Desert plant", "Dry until", "highest root")),
    Story("cutting", "willow", "formal_upright", "33 cm", "52", ("190", "190", "180"), {"grip_mm": "110", "support": "stones", "planted": "9", "alive": "7", "set_on": "2026-03-08"}, "cutting:deep", (0, 9), "cutting.grip_mm", ("Cutting", "7 of 9", "callus")),
    Story("companion", "hawthorn", "slanting", "40 cm", "47", ("360", "260", "60"), {"name": "rowan seedling", "species": "rowan", "from_deg": "230", "to_deg": "290", "height_mm": "118", "trunk_mm": "4"}, "companion:from", (0, 20), "companion.from_deg", ("Two in one pot", "Rowan seedling", "Parted")),
    Story("slab", "japanese larch", "raft", "33 cm", "22", ("480", "250", "40"), {"mound_mm": "40", "ring": "moss", "ring_wide_mm": "18"}, "slab:mound", (0, -9), "slab.mound_mm", ("Slab or raft", "ring", "mound")),
    Story("aerial", "tamarisk", "windswept", "40 cm", "50", ("330", "230", "80"), {"from_mm": "90", "length_mm": "60", "guide": "split_tube"}, "aerial:from", (0, -10), "aerial.from_mm", ("Aerial root", "guide", "Straightened")),
    Story("graft", "trident", "informal_upright", "47 cm", "64", ("330", "240", "80"), {"azimuth_deg": "64", "half_deg": "26", "set_on": "2026-02-20"}, "graft:join", (0, -8), "graft.height_mm", ("Approach graft", "left alone", "Cut free")),
)  # fmt: skip


def types(widget: QWidget, text: str) -> None:
    if isinstance(widget, MeasureEdit | PlainEdit):
        widget.setFocus()
        widget.selectAll()
    QTest.keyClicks(widget, text)
    QTest.keyClick(widget, Qt.Key.Key_Return)


def enter(field_: QWidget, value: str | bool) -> None:
    """By hand, as each field asks for it."""
    if isinstance(field_, QCheckBox):
        if field_.isChecked() != bool(value):
            QTest.mouseClick(field_, Qt.MouseButton.LeftButton, pos=QPoint(8, field_.height() // 2))
    elif isinstance(field_, Choice):
        field_.show_key(str(value))
        field_.activated.emit(field_.currentIndex())
    else:
        types(field_, str(value))


def begun(open_window: Opener, story: Story) -> tuple[MainWindow, PlantingFace]:
    """From an empty collection: a tree by its card, a pot by its sizes, held under it, and step Planting."""
    window = open_window(new_collection("My trees"))
    card = window.face("tree").first
    for widget, text in ((card.name, "By the gate"), (card.species, story.species)):
        types(widget, text)
    index = [k for k, _ in STYLES].index(story.style) if story.style in dict(STYLES) else 0
    QTest.mouseClick(card.styles, Qt.MouseButton.LeftButton, pos=card.styles.box(index).center().toPoint())
    types(card.height_edit, story.height)
    types(card.trunk_edit, story.trunk)
    if window.session.tree is None:
        QTest.mouseClick(card.main, Qt.MouseButton.LeftButton)
    window.go("shelf")
    pot = window.face("shelf").first
    for edit, text in zip((pot.length, pot.width_, pot.height_), story.pot, strict=True):
        types(edit, text)
    key = next(iter(window.session.collection.pots))
    window.session.hold_under(key)
    window.go("planting")
    face = window.face("planting")
    assert isinstance(face, PlantingFace)
    window.show_view("special")
    return window, face


def planting(face: PlantingFace) -> Planting:
    found = face.planting()
    assert found is not None
    return found


def value(p: Planting, path: str) -> object:
    found: object = p
    for part in path.split("."):
        found = found[int(part)] if part.isdigit() else getattr(found, part)  # type: ignore[index]
    return found


@pytest.mark.parametrize("story", STORIES, ids=lambda s: s.kind)
def test_from_an_empty_card_to_a_printed_sheet(
    open_window: Opener, answers: Answers, tmp_path: Path, story: Story
) -> None:
    window, face = begun(open_window, story)
    panel, sheet = face.special_beside, face.special_sheet
    enter(panel.choice, story.kind)
    assert planting(face).kind == story.kind
    assert story.says[0] in dict(face.views())["special"]
    assert panel.note.text().startswith(str(panel.note.text())[:10])
    for name, text in story.fields.items():
        enter(panel.form.fields[name], text)
    # a grip is pulled in the drawing; the same is undone in one step
    before = planting(face)
    grip = next(g for g in sheet.grips() if g.key == story.grip)
    sheet.take(grip.key)
    drag(sheet, sheet.at(grip), story.by)
    assert value(planting(face), story.reads) != value(before, story.reads)
    window.do("undo")
    assert planting(face) == before
    QTest.keyClick(sheet, Qt.Key.Key_G)
    QTest.keyClick(sheet, Qt.Key.Key_Up)
    window.grab()
    window.show_view("work")
    window.grab()
    answers.path, answers.kind = tmp_path / "sheet.pdf", "A4 (*.pdf)"
    window.show_view("special")
    QTest.mouseClick(panel.main, Qt.MouseButton.LeftButton)
    document = QPdfDocument(None)
    document.load(str(tmp_path / "sheet.pdf"))
    told = " ".join(document.getAllText(n).text() for n in range(document.pageCount())).replace("\n", " ")
    for words in story.says:
        assert words.lower() in told.lower(), words
    assert len(face.plan().steps) > 4  # type: ignore[union-attr]


def test_every_kind_has_its_story() -> None:
    with_plan = {key for key, kind in kinds().items() if kind.make is not None}
    assert {s.kind for s in STORIES} == with_plan
    assert with_plan | {"plain", "group", "pair"} == set(kinds()) == set(PLANTING_KINDS)


def at_kind(window: MainWindow, tree: str) -> PlantingFace:
    window.session.choose_tree(tree)
    window.go("planting")
    window.show_view("special")
    found = window.face("planting")
    assert isinstance(found, PlantingFace)
    return found


@pytest.mark.parametrize(
    ("tree", "words"),
    [
        ("saddlestone", "reach the soil"), ("stilt-house", "Bare in 7 years"), ("rope-ladder", "air under the tail"), ("new-leaf", "Keep 50%"), ("cellar-door", "next tub"),
        ("dry-well", "Dry until"), ("walking-stick", "6 of 9"), ("wicket", "Rowan seedling"), ("driftline", "of mound"), ("tidewater", "to the soil"), ("tollgate", "left alone"),
    ],
)  # fmt: skip
def test_the_demo_shows_each_kind(window: MainWindow, tree: str, words: str) -> None:
    face = at_kind(window, tree)
    assert words in face.title()
    assert face.special_sheet.accessibleDescription() == face.title()
    assert face.special_sheet.grips()
    window.grab()


def test_a_plain_planting_offers_the_kinds(window: MainWindow) -> None:
    face = at_kind(window, "mossback")
    assert dict(face.views())["special"] == "Kind"
    assert "nothing is changed" in face.title()
    assert face.special_beside.form.isHidden()
    window.grab()
    enter(face.special_beside.choice, "graft")
    assert planting(face).graft is not None
    # back to plain: nothing that was entered is lost
    enter(face.special_beside.choice, "plain")
    assert planting(face).kind == "plain"
    assert planting(face).graft is not None


def test_roots_and_bindings_are_added_measured_and_taken_away(window: MainWindow) -> None:
    face = at_kind(window, "saddlestone")
    panel = face.special_beside
    QTest.mouseClick(panel.links["root"], Qt.MouseButton.LeftButton)
    rock = planting(face).rock
    assert rock is not None
    assert rock.roots[-1].id == "7"
    assert "Length of root 7 is not known" in " ".join(r.finding.text for r in panel.findings.rows)
    types(panel.lengths["7"], "17 cm")
    assert planting(face).rock.roots[-1].length_mm == 170  # type: ignore[union-attr]
    QTest.mouseClick(panel.links["loop"], Qt.MouseButton.LeftButton)
    assert len(planting(face).rock.loops) == 4  # type: ignore[union-attr]
    for grip, left in (("rock:loop:3", 3), ("rock:root:6:1", 6)):
        face.special_sheet.take(grip)
        QTest.mouseClick(panel.links["off"], Qt.MouseButton.LeftButton)
        rock = planting(face).rock
        assert rock is not None
        assert len(rock.loops if "loop" in grip else rock.roots) == left
    drag(
        face.special_sheet,
        face.special_sheet.at(next(g for g in face.special_sheet.grips() if g.key == "rock:sunk")),
        (0, 14),
    )
    sunk = planting(face)
    assert sunk.rock is not None
    assert sunk.rock.sunk_mm > 24
    # the tree came down with it
    assert sunk.raise_mm < 92


def test_a_second_card_is_made_of_the_first(window: MainWindow) -> None:
    face = at_kind(window, "wicket")
    QTest.mouseClick(face.special_beside.links["card"], Qt.MouseButton.LeftButton)
    made = next(t for t in window.session.collection.trees.values() if t.name == "rowan seedling")
    assert (made.name, made.species, made.measure.height_mm, made.measure.trunk_diameter_mm) == (
        "rowan seedling",
        "rowan",
        118,
        4,
    )
    first = window.session.collection.trees["wicket"]
    assert made.roots is not None
    assert first.roots is not None
    assert made.roots.length_mm < first.roots.length_mm
    assert "Wicket" in made.origin
    window.do("undo")
    assert made.id not in window.session.collection.trees


def test_the_graft_s_side_goes_into_the_root_plan(window: MainWindow) -> None:
    face = at_kind(window, "tollgate")
    told = [r.finding.code for r in face.special_beside.findings.rows]
    assert "graft_untouched" in told
    QTest.mouseClick(face.special_beside.links["guard"], Qt.MouseButton.LeftButton)
    roots = window.session.tree.roots  # type: ignore[union-attr]
    assert roots is not None
    assert [(s.from_deg, s.to_deg) for s in roots.untouched] == [(38, 90)]
    assert "graft_untouched" not in [r.finding.code for r in face.special_beside.findings.rows]


def test_things_on_a_slab_are_set_moved_and_taken_away(window: MainWindow) -> None:
    face = at_kind(window, "driftline")
    panel, sheet = face.special_beside, face.special_sheet
    QTest.mouseClick(panel.links["thing"], Qt.MouseButton.LeftButton)
    slab = planting(face).slab
    assert slab is not None
    assert len(slab.things) == 4
    grip = next(g for g in sheet.grips() if g.key == "slab:thing:3")
    drag(sheet, sheet.at(grip), (-30, 10))
    moved = planting(face).slab
    assert moved is not None
    assert moved.things[3].x_mm < slab.things[3].x_mm
    sheet.take("slab:thing:3")
    QTest.mouseClick(panel.links["off"], Qt.MouseButton.LeftButton)
    assert len(planting(face).slab.things) == 3  # type: ignore[union-attr]


def test_what_cannot_be_read_is_said_and_stays(window: MainWindow) -> None:
    said: list[str] = []
    window.session.said.connect(lambda status, text: said.append(f"{status} {text}"))
    face = at_kind(window, "walking-stick")
    form = face.special_beside.form.fields
    before = planting(face)
    for name, text, told in (
        ("set_on", "soon", "no day"),
        ("planted", "many", "no count"),
        ("callus_days", "nan", "no number"),
        ("planted", "-3", "planted"),
    ):
        types(form[name], text)
        assert told in said[-1], said[-1]
        assert planting(face) == before
    types(form["rooted"], "12")
    assert any("no count" in r.finding.text for r in face.special_beside.findings.rows)
    window.grab()


def test_it_is_potted_with_its_own_care_and_dates(window: MainWindow) -> None:
    window.session.choose_tree("new-leaf")
    window.session.today = date(2026, 6, 20)
    window.go("planting")
    window.do("potted")
    tasks = [t for t in window.session.collection.tasks if t.tree == "new-leaf" and t.event is not None]
    own = next(t for t in tasks if t.kind == "no_pruning")
    assert "full year" in own.text
    assert sum(t.kind == "no_pruning" for t in tasks) == 1


def test_dragging_draws_without_asking_for_new_pictures(window: MainWindow) -> None:
    face = at_kind(window, "stilt-house")
    sheet = face.special_sheet
    grip = sheet.grips()[0]
    drag(sheet, sheet.at(grip), (0, 10), drop=False)
    assert sheet.hurry
    assert planting(face).tube.lower_mm_year > 40  # type: ignore[union-attr]
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert planting(face).tube.lower_mm_year == 40  # type: ignore[union-attr]
    assert sheet.grip_at(QPointF(2, 2)) is None
