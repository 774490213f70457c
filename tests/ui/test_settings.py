"""Settings that last, damaged settings, and every screen at every text size."""

import json

import pytest
from PyQt6.QtWidgets import QAbstractButton, QLabel

from kesh.base.errors import FieldError
from kesh.ui.settings import SETTINGS, Settings, settings_file
from kesh.ui.theme import fonts
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
