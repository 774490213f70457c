"""Units, themes, text sizes, commands and keys; every screen paints in every look."""

from itertools import pairwise

import numpy as np
import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFontDatabase, QFontMetricsF, QImage, QKeySequence, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLabel, QVBoxLayout, QWidget

from kesh.base import paths
from kesh.demo import opening
from kesh.ui import app
from kesh.ui.commands import COMMANDS, GROUPS, ROOM_OF, SHEET_KEYS
from kesh.ui.paint.gallery import view_of
from kesh.ui.paint.small_tree import BELOW_PX, drawn_part
from kesh.ui.rooms import steps_for
from kesh.ui.settings import SETTINGS, Settings
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import DARK, LIGHT, ROLES, THEMES, Theme
from kesh.ui.widgets.palette import CommandBox, KeyCard
from kesh.ui.window import MainWindow
from tests.ui.conftest import Opener
from tests.ui.rooms import STEP_KEYS


def luminance(color: QColor) -> float:
    parts = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in color.getRgbF()[:3]]  # type: ignore[operator]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(a: QColor, b: QColor) -> float:
    high, low = sorted((luminance(a), luminance(b)), reverse=True)
    return (high + 0.05) / (low + 0.05)


@pytest.mark.parametrize("theme", [LIGHT, DARK], ids=lambda t: t.name)
def test_text_is_readable_on_every_surface(theme: Theme) -> None:
    for text in ("ink", "quiet", "moss", "ochre", "oxide", "indigo"):
        for ground in ("desk", "list", "panel", "sheet", "field"):
            assert contrast(theme.color(text), theme.color(ground)) >= 4.5, (text, ground)
    for tone in ("moss", "ochre", "oxide", "indigo"):
        assert contrast(theme.color(tone), theme.color(f"{tone}_tint")) >= 4.5, tone


@pytest.mark.parametrize("theme", list(THEMES.values()), ids=lambda t: t.name)
def test_every_role_is_a_colour(theme: Theme) -> None:
    for role in ROLES:
        assert QColor(getattr(theme, role)).isValid(), role


def test_the_shipped_fonts_are_in_use(window: MainWindow) -> None:
    assert {fonts.TEXT, fonts.BOOK} <= set(QFontDatabase.families())
    assert window.font().family() == fonts.TEXT
    assert fonts.text(4).pixelSize() >= 11


# a window is dressed once; at every screen it is drawn out to each size
SIZES = ((1024, 640), (1280, 800), (1920, 1080))


def in_every_size(window: MainWindow, where: str, *, drawn: bool = True) -> None:
    for size in SIZES:
        window.resize(*size)
        check_sheet(window, window.session.theme.name, size, where, drawn=drawn)


@pytest.mark.parametrize("theme", ["light", "dark"])
def test_every_screen_paints_in_every_look(window: MainWindow, theme: str) -> None:
    window.session.set_theme(THEMES[theme])
    shown = {room.key for room in steps_for(window.session)}
    assert set(STEP_KEYS) - shown == {"group"}, "Old Ferryman is one tree"
    drawn = [(window.session.tree_id, step) for step in STEP_KEYS if step in shown]
    for tree, step in [*drawn, ("seven-neighbours", "group")]:
        window.session.choose_tree(tree)
        window.go(step)
        for view in window.head.views or {"": None}:
            window.show_view(view)
            in_every_size(window, f"{step} {view}")
    for place in ("shelf", "workshop", "reference"):
        window.go(place)
        in_every_size(window, place, drawn=place == "workshop")


def check_sheet(window: MainWindow, theme: str, size: tuple[int, int], where: str, *, drawn: bool = True) -> None:
    """The ground and the ink are this theme's, nothing of the other theme stands anywhere, and a drawing fills its share."""
    picture = window.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    assert (picture.width(), picture.height()) == size
    bits = picture.constBits()
    assert bits is not None
    pixels = np.frombuffer(bits.asstring(picture.sizeInBytes()), np.uint32).reshape(size[1], -1) & 0xFFFFFF

    def share(role: str, name: str, part: np.ndarray) -> float:
        return float((part == (THEMES[name].color(role).rgb() & 0xFFFFFF)).mean())

    other = "dark" if theme == "light" else "light"
    for role in ("sheet", "panel", "list", "desk"):
        assert share(role, other, pixels) < 0.01, (where, role)
    # letters are drawn with soft edges: only the middles of strokes have the ink's own colour
    assert share("ink", theme, pixels) > 0.0005, where
    if drawn:
        middle = pixels[90 : size[1] - 40, 300 : size[0] - 400]
        assert 0.05 < share("sheet", theme, middle) < 0.98, where


def test_every_tree_paints_in_both_themes(window: MainWindow) -> None:
    for name in ("light", "dark"):
        window.session.set_theme(THEMES[name])
        for key in window.session.collection.trees:
            window.session.choose_tree(key)
            window.grab()
            tree, case = window.session.tree, window.session.case()
            view = view_of(tree, case.species, window.session.theme, window.face("tree").front.px_mm, 1.0)  # type: ignore[arg-type]
            assert view is not None
            picture = window.gallery.picture(view)
            assert picture is not None
            assert picture[0].width() > 40


def test_units_turn_and_stay(window: MainWindow) -> None:
    window.do("units")
    assert window.face("tree").measures.fields["height_mm"].text() == "56.0 cm"
    window.do("units")
    assert window.face("tree").measures.fields["height_mm"].text() == "22.05 in"
    assert "in" in window.head.title.text()
    window.do("volumes")
    window.do("masses")
    assert Settings().units() == window.session.units
    window.do("units")
    assert window.face("tree").measures.fields["height_mm"].text() == "560 mm"


def test_the_theme_turns_and_stays(window: MainWindow) -> None:
    window.do("theme")
    assert window.session.theme is DARK
    assert Settings().get("theme") == "dark"
    window.do("theme")
    assert window.session.theme is LIGHT


def test_text_grows_to_twice_and_shrinks(window: MainWindow) -> None:
    for _ in range(11):
        window.do("larger")
    assert Settings().get("text_percent") == 200
    assert fonts.text(14).pixelSize() == 28
    for step in STEP_KEYS:
        window.go(step)
        window.grab()
    window.go("tree")
    for _ in range(13):
        window.do("smaller")
    assert Settings().get("text_percent") == 80


def test_each_action_has_a_row_a_deed_and_its_own_key(window: MainWindow) -> None:
    for key, row in COMMANDS.items():
        assert callable(row.does) or callable(getattr(window.face(ROOM_OF[key]), row.does)), key
        assert row.group in GROUPS
    # a step's digit counts what the tree in hand has: it belongs to the place in the row, not to the step
    steps = {f"step_{key.replace('-', '')}" for key in STEP_KEYS}
    assert {key for key, row in COMMANDS.items() if not row.shortcut} == steps
    keys = [QKeySequence(k).toString() for row in COMMANDS.values() for k in (row.shortcut, *row.more) if k]
    assert all(keys)
    assert len(keys) == len(set(keys))


def test_keys_reach_places_and_steps(window: MainWindow) -> None:
    window.activateWindow()
    window.setFocus()
    for key, step in ((Qt.Key.Key_2, "brief"), (Qt.Key.Key_3, "line-up"), (Qt.Key.Key_1, "tree")):
        QTest.keyClick(window, key)
        assert window.step == step
    QTest.keyClick(window, Qt.Key.Key_2, Qt.KeyboardModifier.ControlModifier)
    assert window.room == "shelf"


def test_commands_are_found_by_a_few_letters(window: MainWindow) -> None:
    done: list[str] = []
    box = CommandBox(window, window.session.theme, tuple(COMMANDS.values()), done.append)
    box.open_over(window)
    assert len(box.rows) == len(COMMANDS) - 1
    assert box.list.topLevelItemCount() == len(box.rows) + len({c.group for c in COMMANDS.values()}), (
        "each group has its head"
    )
    QTest.keyClicks(box.line, "light dark")
    assert len(box.rows) == 1
    assert box.rows[0].text(1) == "Ctrl+T", "keys stand in a column of their own"
    QTest.keyClick(box.line, Qt.Key.Key_Return)
    assert done == ["theme"]


def test_the_key_card_names_every_command(window: MainWindow) -> None:

    card = KeyCard(window, window.session.theme, tuple(COMMANDS.values()), SHEET_KEYS)
    texts = {label.text() for label in card.findChildren(QLabel)}
    assert {row.text for row in COMMANDS.values() if row.shortcut} <= texts
    assert {keys for keys, _ in SHEET_KEYS} <= texts
    assert f"1 to {len(STEP_KEYS)}" in texts
    card.close()
    window.do("about")
    window.do("keys")


def test_narrow_windows_fold_the_list_and_the_panel(open_window: Opener) -> None:
    window = open_window(size=(1040, 660))
    assert window.trees.width() == 76
    assert not window.side.isVisible()
    assert window.handle.isVisible()
    assert window.handle.height() == window.centralWidget().height()
    QTest.mouseClick(window.handle, Qt.MouseButton.LeftButton, pos=window.handle.rect().center())
    assert window.side.isVisible()
    window.resize(1280, 800)
    assert window.trees.width() == 220
    assert window.side.width() == 300
    window.resize(1700, 900)
    assert window.side.width() == 360


def test_the_folded_panel_tells_of_the_pot_that_is_looked_at(open_window: Opener) -> None:
    window = open_window(size=(1040, 660))
    assert "2 findings" in window.handle.toolTip()
    window.go("line-up")
    for pot in [c.pot.id for c in window.session.lineup_state().columns]:
        window.face("line-up").columns.picked.emit(pot)
        column = window.face("line-up").hand.in_hand()
        told = int("".join(filter(str.isdigit, window.handle.toolTip())))
        assert column.pot.id == pot
        assert told == sum(f.status != "fits" for f in column.assessment.findings)


def test_names_for_assistive_tools(window: MainWindow) -> None:
    from PyQt6.QtWidgets import QComboBox, QLineEdit, QListView

    for kind in (QLineEdit, QComboBox, QListView):
        for widget in window.findChildren(kind):
            if not isinstance(widget.parent(), QComboBox) and widget.objectName() != "qt_spinbox_lineedit":
                assert (
                    widget.accessibleName()
                    or isinstance(widget.parentWidget(), QComboBox)
                    or widget.window() is not window
                ), widget


def test_settings_have_good_defaults_and_survive_damage() -> None:
    for row in SETTINGS.values():
        assert row.read(row.default) == row.default
    paths.settings_file().parent.mkdir(parents=True)
    paths.settings_file().write_text("{broken")
    assert Settings().get("theme") == "light"
    paths.settings_file().write_text('{"theme": "pink", "text_percent": 900, "length": "cm", "unheard": 1}')
    found = Settings()
    assert (found.get("theme"), found.get("text_percent"), found.get("length")) == ("light", 100, "cm")


def test_the_demo_is_fresh_each_time_and_keeps_what_was_tried() -> None:
    first = app.open_demo()
    first.edit("tried", [("tree", "old-ferryman", None)])
    worked_in = first.path
    first.close()
    untouched = []
    for _ in range(7):
        file = app.open_demo()
        untouched.append(file.path)
        assert "old-ferryman" in file.collection.trees
        file.close()
    assert worked_in.exists()
    assert sum(p.exists() for p in untouched) <= opening.KEEP_DEMOS + 1


def test_the_last_collection_opens_again() -> None:
    settings = Settings()
    own = app.open_last(settings)
    assert own.path == paths.own_collection()
    own.close()
    settings.put("last_file", str(own.path))
    app.open_last(Settings()).close()
    settings.put("last_file", "/nowhere/gone.kesh")
    again = app.open_last(Settings())
    assert again.path == paths.own_collection()
    again.close()


def test_money_turns_without_converting(window: MainWindow) -> None:
    window.go("brief")
    window.do("money")
    assert window.session.money == "€"
    assert window.session.brief.limits.budget == 260
    window.face("brief").wishes.refresh()

    assert window.face("brief").wishes.budget_row.findChild(QLabel).text() == "Budget, €"
    assert Settings().get("money") == "€"


def test_a_last_collection_that_broke_does_not_keep_kesh_shut(capsys: pytest.CaptureFixture[str]) -> None:
    broken = paths.data_dir() / "broken.kesh"
    broken.parent.mkdir(parents=True)
    broken.write_text("no")
    settings = Settings()
    settings.put("last_file", str(broken))
    own = app.open_last(settings)
    assert own.path == paths.own_collection()
    assert "broken.kesh" in capsys.readouterr().err
    own.close()


def overlapping(parent: QWidget) -> list[str]:
    """Parts of a panel's column that lie over each other or are lower than they ask for."""
    found = []
    for holder in (parent, *parent.findChildren(QWidget)):
        if not isinstance(holder.layout(), QVBoxLayout) or not holder.isVisible():
            continue
        layout = holder.layout()
        parts = [layout.itemAt(k).widget() for k in range(layout.count())]  # type: ignore[union-attr]
        shown = [p for p in parts if p is not None and p.isVisible()]
        for one, below in pairwise(shown):
            if one.geometry().bottom() >= below.geometry().top():
                found.append(f"{one.accessibleName() or one.metaObject().className()} over the next")  # type: ignore[union-attr]
        found += [type(p).__name__ for p in shown if p.height() < p.minimumSizeHint().height()]
    return found


@pytest.mark.parametrize("tree", ["old-ferryman", "evening-bell", "paper-lantern"])
def test_no_part_of_a_panel_lies_over_another_when_its_contents_change(window: MainWindow, tree: str) -> None:
    """Colour lines, findings and hidden rows change their heights as pots and trees come and go."""
    inside = window.face("line-up").hand.column.parentWidget()
    assert inside is not None
    window.go("line-up")
    for _ in range(2):
        for one in (tree, "tollgate"):
            window.session.choose_tree(one)
            for column in window.face("line-up").columns.state.columns if window.face("line-up").columns.state else ():
                window.face("line-up").columns.choose(column.pot.id)
                window.face("line-up").hand.show_pot(column.pot.id)
                window.settle()
                assert overlapping(inside) == []


def test_the_workshop_s_panel_makes_room_for_rows_that_appear(window: MainWindow) -> None:
    window.go("workshop")
    panel = window.face("workshop").makers
    inside = panel.column.parentWidget()
    assert inside is not None
    for form in ("round", "none", "flat"):
        panel.shape.bands["belt"].chosen.emit(form)
        for route in ("potter", "box", "tube", "print"):
            window.face("workshop").show_route(route)
            window.settle()
            assert overlapping(inside) == []


def test_no_words_of_the_key_card_are_cut(window: MainWindow) -> None:
    card = KeyCard(window, window.session.theme, tuple(COMMANDS.values()), SHEET_KEYS)
    card.open_over(window)
    labels = [label for label in card.findChildren(QLabel) if label.wordWrap() and label.text()]
    assert len(labels) > 40
    for label in labels:
        assert label.height() >= label.heightForWidth(label.width()), label.text()
    assert card.height() < 720
    card.close()


def test_a_tree_too_tall_for_its_row_is_drawn_smaller_and_says_so(window: MainWindow) -> None:
    c = window.session.collection
    room = fonts.scaled(72) - BELOW_PX
    parts = {key: drawn_part(tree, c.pots[c.planting_of(key).pot], room) for key, tree in c.trees.items()}  # type: ignore[union-attr]
    assert parts["cellar-door"] == 2, "1180 mm and its tub of 420 mm at 0.072 px a millimetre are 115 px"
    assert {n for key, n in parts.items() if key != "cellar-door"} == {1}
    assert window.trees._count.text() == "21 trees, one scale, ½ where marked"
    assert drawn_part(c.trees["cellar-door"], None, room) == 2
    assert drawn_part(c.trees["old-ferryman"], None, 0.0) > 1, "no room at all still gives a number"


@pytest.mark.parametrize("tree", ["tollgate", "old-ferryman", "seven-neighbours", "rope-ladder"])
def test_no_title_of_a_step_is_cut(window: MainWindow, tree: str) -> None:
    s = window.session
    s.choose_tree(tree)
    for room in steps_for(s):
        window.go(room.key)
        for view, _ in window.here.views():
            if (room.key, view) in (("line-up", "shelf"), ("water", "year"), ("log", "ahead")):
                continue
            window.show_view(view)
            QApplication.processEvents()
            head = window.head.title
            px, two = head.px_for(head.width())
            wide = QFontMetricsF(fonts.book(px)).horizontalAdvance(head.text())
            assert wide <= head.width() * (1.85 if two else 1), (room.key, view, head.text())


def test_rulers_and_the_scale_bar_speak_the_unit_that_is_read(window: MainWindow) -> None:
    from kesh.ui.paint import marks

    told: list[str] = []
    patch = pytest.MonkeyPatch()
    whole = marks.words
    patch.setattr(marks, "words", lambda p, t, text, *a, **k: (told.append(text), whole(p, t, text, *a, **k))[1])
    image = QImage(400, 1200, QImage.Format.Format_ARGB32)
    painter = QPainter(image)
    for unit, first in (("mm", "100"), ("cm", "10"), ("inch", "4")):
        told.clear()
        marks.ruler(painter, window.session.theme, 40, 1100, 2.0, 450, unit=unit)
        assert told[0] == first
        assert [float(x) for x in told] == pytest.approx([float(first) * n for n in range(1, len(told) + 1)])
        end = marks.scale_bar(painter, window.session.theme, 10, 1150, 2.0, unit)
        assert told[-1].endswith({"mm": "mm", "cm": "cm", "inch": "in"}[unit])
        assert end > 50
    painter.end()
    patch.undo()
