"""Units, money, theme and text size: how things are written, never what they are."""

from PyQt6.QtWidgets import QApplication

from kesh.ui.rooms.room import Command, Context
from kesh.ui.settings import MONEY
from kesh.ui.theme import fonts
from kesh.ui.theme.tokens import DARK, LIGHT


def _turn(c: Context, key: str, options: tuple[str, ...]) -> None:
    """The next unit of a kind."""
    now = str(c.settings.get(key))
    c.settings.put(key, options[(options.index(now) + 1) % len(options)])
    c.session.set_units(c.settings.units())


def _money(c: Context) -> None:
    """The next currency; sums are kept as they are, nothing is converted."""
    now = str(c.settings.get("money"))
    c.settings.put("money", MONEY[(MONEY.index(now) + 1) % len(MONEY)])
    c.session.set_money(str(c.settings.get("money")))
    c.say("fits", f"Money in {c.session.money}; sums are not converted")


def _theme(c: Context) -> None:
    """Light to dark and back."""
    now = LIGHT if c.session.theme.is_dark else DARK
    c.settings.put("theme", now.name)
    c.session.set_theme(now)


def _text_size(c: Context, by: int) -> None:
    """Larger or smaller text."""
    percent = max(80, min(200, int(c.settings.get("text_percent")) + by))
    c.settings.put("text_percent", percent)
    fonts.set_scale(percent)
    app = QApplication.instance()
    if isinstance(app, QApplication):
        app.setFont(fonts.text(14))
    c.session.look_changed.emit()
    c.say("fits", f"Text at {percent} %")


LOOK = (
    Command("units", "Lengths: mm, cm, inch", "Ctrl+U", "Look", lambda c: _turn(c, "length", ("mm", "cm", "inch"))),
    Command("volumes", "Volumes: litres, quarts", "Ctrl+Shift+U", "Look", lambda c: _turn(c, "volume", ("l", "quart"))),
    Command("masses", "Masses: kg, lb", "Ctrl+Shift+M", "Look", lambda c: _turn(c, "mass", ("kg", "lb"))),
    Command("money", "Money: £, €, $, ¥, Fr, kr", "Ctrl+Shift+P", "Look", _money),
    Command("theme", "Light or dark", "Ctrl+T", "Look", _theme),
    Command("larger", "Larger text", "Ctrl++", "Look", lambda c: _text_size(c, 10), ("Ctrl+=",)),
    Command("smaller", "Smaller text", "Ctrl+-", "Look", lambda c: _text_size(c, -10)),
)
