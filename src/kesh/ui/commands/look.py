"""Units, money, theme and text size: how things are written, never what they are; each by its key, all on one page."""

from collections.abc import Callable, Mapping

from PyQt6.QtWidgets import QApplication

from kesh.ui.rooms.room import Command, Context
from kesh.ui.settings import SETTINGS
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import THEMES
from kesh.ui.widgets.settings_sheet import SettingsSheet


def _units(c: Context) -> None:
    c.session.set_units(c.settings.units())


def _money(c: Context) -> None:
    c.session.set_money(str(c.settings.get("money")))
    c.say("fits", f"Money in {c.session.money}; sums are not converted")


def _week(c: Context) -> None:
    c.session.week_begins = str(c.settings.get("week"))


def _theme(c: Context) -> None:
    c.session.set_theme(THEMES[str(c.settings.get("theme"))])


def _text_size(c: Context) -> None:
    percent = int(c.settings.get("text_percent"))
    fonts.set_scale(percent)
    app = QApplication.instance()
    if isinstance(app, QApplication):
        app.setFont(fonts.text(14))
    c.session.look_changed.emit()
    c.say("fits", f"Text at {percent} %")


# what follows when a setting is another; the others are read when they are asked for
FOLLOWS: Mapping[str, Callable[[Context], None]] = {
    "length": _units, "volume": _units, "mass": _units, "heat": _units, "wind": _units, "money": _money, "week": _week, "theme": _theme,
    "text_percent": _text_size,
}  # fmt: skip


def put(c: Context, key: str, value: object) -> None:
    """A setting in force: kept, and shown at once."""
    c.settings.put(key, value)
    follow = FOLLOWS.get(key)
    if follow is not None:
        follow(c)


def _turn(c: Context, key: str) -> None:
    """The next option of a setting."""
    options = SETTINGS[key].options
    put(c, key, options[(options.index(str(c.settings.get(key))) + 1) % len(options)])


def _size(c: Context, by: int) -> None:
    put(c, "text_percent", max(80, min(200, int(c.settings.get("text_percent")) + by)))


def _page(c: Context) -> None:
    """The settings page over the window."""
    parent = c.desk.parent_widget()
    SettingsSheet(parent, c, put).open_over(parent)


LOOK = (
    Command("settings", "Settings: units, look, who judges", "Ctrl+,", "Look", _page),
    Command("units", "Lengths: mm, cm, inch", "Ctrl+U", "Look", lambda c: _turn(c, "length")),
    Command("volumes", "Volumes: litres, quarts, gallons", "Ctrl+Shift+U", "Look", lambda c: _turn(c, "volume")),
    Command("masses", "Masses: kg, lb", "Ctrl+Shift+M", "Look", lambda c: _turn(c, "mass")),
    Command("money", "Money: £, €, $, ¥, Fr, kr", "Ctrl+Shift+P", "Look", lambda c: _turn(c, "money")),
    Command("theme", "Light or dark", "Ctrl+T", "Look", lambda c: _turn(c, "theme")),
    Command("larger", "Larger text", "Ctrl++", "Look", lambda c: _size(c, 10), ("Ctrl+=",)),
    Command("smaller", "Smaller text", "Ctrl+-", "Look", lambda c: _size(c, -10)),
)
