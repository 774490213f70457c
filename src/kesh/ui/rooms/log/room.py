"""Step Log: the life of the tree, what follows, what was learnt, the years ahead."""

from kesh.base.words import counted
from kesh.ui.rooms.room import Command, Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    if s.tree is None:
        return "", False
    book = s.book()
    asked = len(book.asked(s.tree_id))
    n = len(s.collection.events_of(s.tree_id))
    return (f"{counted(asked, 'sign')} asked" if asked else counted(n, "entry")), n > 0


LOG = Room(
    "log", "step", "Log", "What happened, what follows, what was learnt", "kesh.ui.rooms.log.face:LogFace",
    views=(("life", "Life"), ("year", "This year"), ("ahead", "Years ahead"), ("over", "Then and now"), ("list", "List")),
    note=_note,
    commands=(
        Command("write_down", "Write the entry down", "Ctrl+Alt+W", "Steps", "write_down", also="log diary journal record note"),
        Command("log_list", "Write the log of all trees as a list", "Ctrl+Alt+E", "File", "write_events", also="csv export events history"),
    ),
    also="history life timeline aftercare strain growth planned done learnt propagation experiment species corrected photographs journal diary pot plan years ahead",
)  # fmt: skip
