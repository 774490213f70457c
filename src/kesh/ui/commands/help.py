"""Every command, the key card, licences, the end."""

from PyQt6.QtWidgets import QApplication, QToolTip

from kesh.reference.explaining import meanings
from kesh.ui.rooms.room import Command, Context
from kesh.ui.widgets.about import AboutCard


def _about(c: Context) -> None:
    parent = c.desk.parent_widget()
    AboutCard(parent, c.session.theme).open_over(parent)


def _keys(c: Context) -> None:
    """What the words of the row in hand mean; where they are plain or were just told, the key card."""
    row = QApplication.focusWidget()
    told = "" if row is None else meanings(f"{row.accessibleName()} {row.accessibleDescription()}")
    if row is None or not told or (QToolTip.isVisible() and QToolTip.text() == told):
        c.desk.open_keys()
        return
    QToolTip.showText(row.mapToGlobal(row.rect().bottomLeft()), told, row)
    c.say("fits", f"{told.splitlines()[0]} F1 again: the key card")


HELP = (
    Command("commands", "Every command", "Ctrl+K", "Help", lambda c: c.desk.open_commands()),
    Command("keys", "Explain the row, or key card", "F1", "Help", _keys),
    Command("about", "Kesh and its licences", "Shift+F1", "Help", _about),
)
