"""Settings that last, damaged settings, and every screen at every text size."""

import json
from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QAbstractButton, QLabel, QPushButton

from kesh.base.errors import FieldError
from kesh.ui.settings import SETTINGS, Settings, settings_file
from kesh.ui.theme import fonts
from kesh.ui.widgets.common import Choice
from kesh.ui.widgets.settings_sheet import SettingsSheet
from kesh.ui.window import MainWindow
from tests.ui.conftest import Opener
from tests.ui.rooms import STEP_KEYS


def test_a_setting_lasts_until_the_next_start() -> None:
    Settings().put("length", "inch")
    Settings().put("text_percent", 140)
    again = Settings()
    assert again.get("length") == "inch"
    assert again.get("text_percent") == 140
    assert again.units().length == "inch"
    assert again.get("volume") == SETTINGS["volume"].default


@pytest.mark.parametrize(
    "text",
    [
        "",
        "{",
        "[]",
        "7",
        '{"length": "furlong"}',
        '{"text_percent": NaN}',
        '{"text_percent": true}',
        '{"other": 1}',
        "\x00",
    ],
)
def test_damaged_settings_read_as_defaults_and_can_be_written_again(text: str) -> None:
    settings_file().parent.mkdir(parents=True, exist_ok=True)
    settings_file().write_text(text, encoding="utf-8")
    found = Settings()
    assert {key: found.get(key) for key in SETTINGS} == {key: row.default for key, row in SETTINGS.items()}
    found.put("theme", "dark")
    assert json.loads(settings_file().read_text(encoding="utf-8"))["theme"] == "dark"


@pytest.mark.parametrize(
    ("key", "value"), [("length", "mile"), ("text_percent", 500), ("text_percent", "big"), ("theme", 3)]
)
def test_a_setting_that_is_not_allowed_is_refused(key: str, value: object) -> None:
    with pytest.raises(FieldError):
        Settings().put(key, value)
    assert Settings().get(key) == SETTINGS[key].default


def cut_labels(window: MainWindow) -> list[str]:
    """Labels and buttons in sight that are lower than their words."""
    found = []
    for widget in (*window.findChildren(QLabel), *window.findChildren(QAbstractButton)):
        if widget.isVisible() and widget.text() and not isinstance(widget, QLabel) and widget.sizeHint().height() > 0:
            if widget.height() < widget.sizeHint().height() - 3:
                found.append(widget.text())
        elif isinstance(widget, QLabel) and widget.isVisible() and widget.text():
            need = widget.heightForWidth(widget.width()) if widget.wordWrap() else widget.sizeHint().height()
            if widget.height() < need - 3:
                found.append(widget.text())
    return found


@pytest.mark.usefixtures("no_years")
@pytest.mark.parametrize("percent", [100, 130, 200])
def test_no_words_are_cut_at_any_text_size(open_window: Opener, percent: int) -> None:
    Settings().put("text_percent", percent)
    window = open_window()
    assert fonts.scaled(100) == percent
    for step in STEP_KEYS:
        window.go(step)
        window.settle()
        assert cut_labels(window) == [], step
    for place in ("shelf", "workshop", "reference"):
        window.go(place)
        window.settle()
        assert cut_labels(window) == [], place


def page(window: MainWindow) -> SettingsSheet:
    window.do("settings")
    return window.findChildren(SettingsSheet)[-1]


def take(choice: Choice, key: str) -> None:
    choice.setCurrentIndex(choice.findData(key))
    choice.activated.emit(choice.currentIndex())


def test_every_setting_of_the_page_is_in_force_at_once_and_kept(window: MainWindow) -> None:
    sheet = page(window)
    rows = [row for row in SETTINGS.values() if row.group and row.options]
    assert set(sheet.choices) == {row.key for row in rows} | {"text_percent"}
    for row in rows:
        if row.key != "theme":
            take(sheet.choices[row.key], row.options[-1])
            assert Settings().get(row.key) == row.options[-1]
    s = window.session
    assert (s.units.length, s.units.volume, s.units.heat, s.units.wind_in) == ("inch", "gallon", "F", "mph")
    assert s.money == "kr"
    take(sheet.choices["theme"], "dark")
    assert s.theme.is_dark
    assert page(window).choices["theme"].currentData() == "dark"


def test_degrees_and_miles_stand_wherever_they_are_told(window: MainWindow) -> None:
    sheet = page(window)
    take(sheet.choices["heat"], "F")
    take(sheet.choices["wind"], "mph")
    s = window.session
    for tree in s.collection.trees:
        s.choose_tree(tree)
        a = s.assessment()
        assert a is not None
        words = " ".join(f"{f.text} {f.remedy} {f.short}" for f in a.findings)
        assert "°C" not in words
        assert "m/s" not in words
    told = " ".join(f"{t.text} {t.why} {t.sign}" for t in s.book().tasks)
    assert "°C" not in told
    window.go("reference", topic="climate")
    site = window.face("reference").tables.site
    head = site.table.horizontalHeaderItem(0)
    assert head is not None
    assert head.text().endswith("°F")
    item = site.table.item(0, 0)
    assert item is not None
    item.setText("14")
    assert s.collection.site is not None
    assert s.collection.site.months[0].tmin_c == pytest.approx(-10.0)
    item = site.table.item(0, 0)
    assert item is not None
    assert item.text() == "14"


def test_a_new_tree_is_judged_by_the_school_of_the_settings(window: MainWindow) -> None:
    take(page(window).choices["school"], "naturalist")
    window.do("new_tree")
    first = window.face("tree").first
    first.name.setText("Larch by the wall")
    for field, text in ((first.height_edit, "400"), (first.trunk_edit, "45")):
        field.setText(text)
        field.returnPressed.emit()
    first.put()
    assert window.session.brief.school == "naturalist"


def test_files_go_where_the_settings_say(window: MainWindow, tmp_path: Path) -> None:
    context = window.context
    assert context.folder == window.session.path.parent
    window.settings.put("folder", str(tmp_path))
    assert context.folder == tmp_path
    window.settings.put("folder", str(tmp_path / "gone"))
    assert context.folder == window.session.path.parent


def test_cards_and_rows_tell_winds_in_the_units_of_the_findings(window: MainWindow) -> None:
    take(page(window).choices["wind"], "mph")
    s = window.session
    seen = 0
    for tree in s.collection.trees:
        s.choose_tree(tree)
        state = s.lineup_state()
        if state is None:
            continue
        for place in range(len(state.ranking)):
            row = state.ranking.entry(place)
            words = " ".join((row.reason, row.smallest_fix, *row.misses, *row.told))
            assert "m/s" not in words
            seen += "mph" in words
    assert seen


def test_enter_in_a_choice_presses_no_button_of_the_page(window: MainWindow) -> None:
    sheet = page(window)
    pressed: list[bool] = []
    for one in sheet.findChildren(QPushButton):
        one.clicked.connect(lambda _=False: pressed.append(True))
    for choice in sheet.choices.values():
        QTest.keyClick(choice, Qt.Key.Key_Return)
    assert sheet.isVisible()
    assert not pressed
