"""Step Line-up: pots held under the tree, and the whole shelf in order."""

from kesh.base.words import counted
from kesh.ui.rooms.room import Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    lineup = s.collection.lineups.get(s.tree_id)
    chosen = s.collection.pots.get(lineup.chosen) if lineup and lineup.chosen else None
    if s.tree is None:
        return "", False
    words = chosen.name if chosen else f"{counted(len(lineup.pots), 'pot')} laid out" if lineup else "not yet"
    return words, chosen is not None


LINEUP = Room(
    "line-up", "step", "Line-up", "Pots under the tree at one scale", "kesh.ui.rooms.lineup.face:LineupFace",
    views=(("columns", "Side by side"), ("overlay", "Lay over"), ("roots", "Roots"), ("shelf", "Whole shelf")),
    note=_note,
    sheet_keys=(
        ("Space", "line-up: swap with the last choice"),
        ("L", "line-up: lay the pots over one another"),
    ),
    also="pot choice compare fit ranking perched water wet zone drainage air stability tipping frost wind weight root pruning cuts visual mass",
)  # fmt: skip
