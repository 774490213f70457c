"""Place Workshop: where pots are designed and handed to their makers."""

from kesh.ui.rooms import signs
from kesh.ui.rooms.room import Command, Room

WORKSHOP = Room(
    "workshop", "place", "Workshop", "Design and make a pot", "kesh.ui.rooms.workshop.face:WorkshopFace", sign=signs.workshop,
    commands=(
        Command("solve", "Ask the solver for pots for this tree", "F5", "Workshop", "solve"),
        Command("draw_pot", "Draw a new pot", "Ctrl+D", "Workshop", "draw_new"),
        Command("make_files", "Write the files of the maker in hand", "Ctrl+Shift+W", "Workshop", "write"),
        Command("import_mesh", "Bring in a pot as a mesh (STL, OBJ, 3MF, GLB)", "Ctrl+Shift+I", "Workshop", "bring_mesh"),
    ),
    sheet_keys=(
        ("T", "workshop, view: the tree in the pot"),
        ("J", "workshop, view: pieces apart, or together"),
        ("Enter", "workshop, solver: open the design in hand"),
    ),
    also="design make potter kiln shrinkage print mesh timber box drill holes feet",
)  # fmt: skip
