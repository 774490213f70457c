"""Every command, the key card, licences, the end."""

from kesh.ui.rooms.room import Command, Context
from kesh.ui.widgets.about import AboutCard


def _about(c: Context) -> None:
    parent = c.desk.parent_widget()
    AboutCard(parent, c.session.theme).open_over(parent)


HELP = (
    Command("commands", "Every command", "Ctrl+K", "Help", lambda c: c.desk.open_commands()),
    Command("keys", "Key card", "F1", "Help", lambda c: c.desk.open_keys()),
    Command("about", "Kesh and its licences", "Shift+F1", "Help", _about),
)
