"""Step Group: several trees in one tray, from above and from the front."""

from kesh.advice.group.plan import is_group
from kesh.base.words import counted
from kesh.ui.rooms.room import Command, Room
from kesh.ui.session import Session


def _note(s: Session) -> tuple[str, bool]:
    if s.tree is None or not s.tree.group:
        return "not yet", False
    placed = sum(g.placed for g in s.tree.group)
    spare = sum(g.alive and not g.placed for g in s.tree.group)
    return f"{counted(placed, 'trunk')}" + (f", {spare} spare" if spare else ""), placed >= 2


def _shown(s: Session) -> bool:
    return s.tree is not None and is_group(s.tree)


GROUP = Room(
    "group", "step", "Group", "Several trees in one tray: layout check, sight lines, ground, root room", "kesh.ui.rooms.group.face:GroupFace",
    note=_note, shown=_shown,
    commands=(
        Command("lay_out", "Lay the group out anew", "Ctrl+Alt+A", "Steps", "lay_out", also="forest optimiser layout proposals plan trees"),
        Command("group_tree", "Add a tree to the group", "Ctrl+Alt+U", "Steps", "add_tree", also="forest spare trunk"),
        Command("group_mound", "Add a mound to the ground", "Ctrl+Alt+H", "Steps", "add_mound", also="forest hill landscape"),
        Command("group_photo", "Read the group's trunks from a photograph", "Ctrl+Alt+F", "Steps", "read_photo", also="forest measure picture trunks"),
        Command("group_stem", "Take over the trunk drawn in the photograph", "Ctrl+Alt+S", "Steps", "take_stem", also="forest measure picture trunk"),
    ),
    sheet_keys=(("G P Del B", "group: next trunk, pin it, put it beside; path"), ),
    also="forest clump twin trunk raft trees in one tray layout check sight line hill path spare",
)  # fmt: skip
